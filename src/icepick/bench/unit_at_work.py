"""The unit of a case as it runs: what every place of it shows at a minute, in what mode it is and what was repaired of it.

The machine model gives where each mode comes to rest; pipes, coils and air go there as what settles does, each at its own
rate.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import exp

import numpy as np

from icepick.bench.acts import HOOK_UP_LOSS
from icepick.bench.case import Case, Trouble
from icepick.bench.controls import read, way_it_runs
from icepick.core.document.codes import Mode
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Site
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.expected import unknown_of
from icepick.core.machine.faults import machine_fault, possible
from icepick.core.machine.parameters import of
from icepick.core.machine.sizing import UnsizedError, size
from icepick.core.machine.stations import Place, shown
from icepick.core.machine.steady import settle
from icepick.core.machine.unknowns import CHARGE
from icepick.core.machine.variation import AT_REST, Variation, batch
from icepick.core.properties import sensors
from icepick.core.properties.moist_air import humidity_ratio, wet_bulb
from icepick.core.properties.quantities import from_si
from icepick.core.properties.states import states

Shown = dict[Place, float]
"""Place → SI value; pressures absolute."""

_LINES, _BLOWN, _PRESSURES = 2.2, 1.5, 0.8
"""How pipes and coils, air and water, and pressures follow a change of mode [min]: about all of it is there after ten.
[common practice; our own choice]"""
_TYPICAL = 0.5
"""A unit lies so many of its spreads from its nameplate, as one standard deviation. [our own choice]"""
CIRCUITS = 4
"""Of a coil, that can be clamped one by one."""
_TRAPPED = 0.4
"""Of what noncondensables add to the head, so much stands over saturation in a unit at rest. [our own choice]"""


class NoRestError(ValueError):
    """The machine does not come to rest as it is."""


@dataclass(frozen=True, slots=True)
class Phase:
    """A spell from a minute on: what was called for, which faults were repaired by then, and to how many ports gauges had
    been hooked up."""

    since: float
    commanded: Mode
    repaired: frozenset[Fault] = frozenset()
    ports: int = 0


def left_of(case: Case, repaired: frozenset[Fault]) -> list[Trouble]:
    """What is still wrong."""
    return [one for one in case.troubles if one.fault not in repaired]


def shown_at(case: Case, phases: Sequence[Phase], minute: float) -> Shown:
    """What every place shows at a minute.

    Parameters
    ----------
    case : Case
        The unit, the weather and what is wrong.
    phases : sequence of Phase
        The spells so far, the first one first; it began before the minute 0.
    minute : float
        Of the visit.

    Returns
    -------
    dict
        Place → SI value.

    Raises
    ------
    NoRestError
        The machine does not come to rest in one of the spells.
    """
    key = case.model_dump_json()
    now = dict(_aims(key, "off", frozenset()))
    for n, phase in enumerate(phases):
        until = min(phases[n + 1].since if n + 1 < len(phases) else minute, minute)
        if until >= phase.since:
            runs = way_it_runs(case, left_of(case, phase.repaired), phase.commanded) is not None
            aims = _aims(key, phase.commanded, phase.repaired, phase.ports)
            now = _gone_on(now, aims, until - phase.since, 0.0 if runs else of("lag_rest") / 60)
    return now


def _gone_on(start: Shown, aims: Shown, minutes: float, slowest: float) -> Shown:
    found = {}
    for place, aim in aims.items():
        lag = _lag(place)
        left = exp(-minutes / max(lag, slowest)) if lag else 0.0
        found[place] = aim + (start.get(place, aim) - aim) * left
    return found


def _lag(place: Place) -> float:
    group = station(place[0]).group
    if place[1] == "pressure" and group is Group.TAP:
        return _PRESSURES
    if group in (Group.LINE, Group.CIRCUIT) or place == ("coil_sensor", "temperature"):
        return _LINES
    leaves = place[1] == "temperature" and ("out" in place[0] or "supply" in place[0])
    return _BLOWN if leaves else 0.0


def comes_to_rest(case: Case) -> bool:
    """Whether the unit of a case can be played in both modes, as it is, and with any of its faults repaired."""
    truth = case.truth
    parts = [frozenset(one for n, one in enumerate(truth) if by >> n & 1) for by in range(2 ** len(truth))]
    try:
        for repaired in parts:
            for mode in ("heating", "cooling"):
                _aims(case.model_dump_json(), mode, repaired)
    except (NoRestError, UnsizedError):
        return False
    return True


@lru_cache(maxsize=256)
def _aims(written: str, commanded: Mode, repaired: frozenset[Fault], ports: int = 0) -> Shown:
    case = Case.model_validate_json(written)
    troubles = left_of(case, repaired)
    runs = way_it_runs(case, troubles, commanded)
    found = _stopped(case) if runs is None else _running(case, troubles, runs, ports)
    _refuse_what_no_unit_survives(found)
    if runs is None:
        trapped = _TRAPPED * sum(_air_in_it(one) for one in troubles)
        found = {
            place: value + (trapped if place[1] == "pressure" else 0.0) for place, value in found.items()
        }
    around = _around(case)
    found.update(around)
    found.update(read(case, troubles, commanded, runs=runs is not None))
    coil = found["outdoor_coil", "temperature"]
    off = sum(_SENSOR_OFF[one.cause] for one in troubles if one.fault == "defrost_sensor_off")
    if case.unit.source == "air":
        found["coil_sensor", "temperature"] = coil
        found["coil_sensor", "resistance"] = _resistance(coil + off)
        found["ambient_sensor", "temperature"] = around["outdoor_air_in", "temperature"]
        found["ambient_sensor", "resistance"] = _resistance(around["outdoor_air_in", "temperature"])
    return found


def _air_in_it(one: Trouble) -> float:
    """What noncondensables add to the head [Pa]."""
    fault = machine_fault(one.fault)
    return 0.0 if fault is None else float(np.ravel(fault.effect(one.severity).air_pressure)[0])


_SAFELY = 3.0
"""So far inside what may be entered [°F, psi] a unit still runs; beyond it a safety has stopped it."""


def _refuse_what_no_unit_survives(found: Shown) -> None:
    for (code, quantity), value in found.items():
        if quantity in ("temperature", "pressure"):
            known = station(code).quantities[quantity]
            shown_as = from_si(value, known.unit, known.kind)
            if not known.low + _SAFELY <= shown_as <= known.high - _SAFELY:
                raise NoRestError("a safety switch stops it")


_SENSOR_OFF = {"too_warm": 6.5, "too_cold": -6.5}
"""How far a sensor that reads wrong is off [K]. [our own choice]"""


def _resistance(temperature: float) -> float:
    known = sensors.DEFAULT_TABLE
    return sensors.resistance(min(max(temperature, known[0][0]), known[-1][0]))


def _around(case: Case) -> Shown:
    """What enters the coils."""
    unit, pressure = case.unit, Site(name=case.site).atmosphere
    outdoor, indoor = case.outdoor.si, case.indoor.si
    found: Shown = {
        ("outdoor_air_in" if unit.source == "air" else "source_water_in", "temperature"): outdoor,
        ("return_air" if unit.load == "air" else "load_water_in", "temperature"): indoor,
    }
    for side, code, humid in (
        ("source", "outdoor_air_in", case.humidity),
        ("load", "return_air", case.indoor_humidity),
    ):
        if getattr(unit, side) == "air":
            temperature = found[code, "temperature"]
            ratio = humidity_ratio(temperature, pressure, relative_humidity=humid)
            found[code, "relative_humidity"] = humid
            found[code, "wet_bulb"] = wet_bulb(temperature, ratio, pressure)
    return found


def _conditions(case: Case) -> Conditions:
    pressure = Site(name=case.site).atmosphere

    def ratio(medium: str, temperature: float, humid: float) -> float:
        return humidity_ratio(temperature, pressure, relative_humidity=humid) if medium == "air" else 0.0

    outdoor, indoor = case.outdoor.si, case.indoor.si
    return Conditions(
        outdoor,
        indoor,
        ratio(case.unit.source, outdoor, case.humidity),
        ratio(case.unit.load, indoor, case.indoor_humidity),
        case.speed,
        pressure,
    )


def _running(case: Case, troubles: list[Trouble], mode: FlowMode, ports: int = 0) -> Shown:
    machine, here = size(case.unit), _conditions(case)
    lost = Variation(charge=1 - ports * HOOK_UP_LOSS / 100)
    knobs = batch([_machine(case, troubles, mode).and_also(lost)])
    steady = settle(machine, mode, here, knobs, 1)
    if not steady.sound[0]:
        raise NoRestError("the machine does not come to rest")
    rows = shown(machine, mode, steady.cycle, here, knobs)
    found = {place: float(np.ravel(row)[0]) for place, row in rows.items() if ":" not in place[0]}
    if machine.indoor.medium == "air":
        found["supply_air_after_heat", "temperature"] = found["supply_air", "temperature"]
        found["supply_fan", "power"] = machine.indoor.fan_power
    for side in ("indoor", "outdoor"):
        bend = found[f"{side}_coil", "temperature"]
        even = float(np.ravel(rows.get((f"{side}_circuit:N", "temperature"), np.array([bend])))[0])
        starved = rows.get((f"{side}_circuit:starved", "temperature"))
        for n in range(1, CIRCUITS + 1):
            found[f"{side}_circuit:{n}", "temperature"] = even
        if starved is not None:
            which = 1 + case.individual % (CIRCUITS - 1)
            found[f"{side}_circuit:{which}", "temperature"] = float(np.ravel(starved)[0])
    return found


def _machine(case: Case, troubles: list[Trouble], mode: FlowMode) -> Variation:
    found = AT_REST
    for unknown in sorted(unknown_of(case.unit, mode), key=lambda one: one.name != CHARGE):
        # Each mode's metering device is a part of its own.
        own = f"{unknown.name} {mode}" if unknown.name in ("opening", "superheat_shift") else unknown.name
        found = found.and_also(unknown.at(random.Random(f"{case.individual} {own}").gauss(0, _TYPICAL)))
    for one in troubles:
        fault = machine_fault(one.fault)
        acts = fault is not None and not fault.backwards and one.where in (None, mode)
        if fault is not None and acts and possible(fault, case.unit, mode):
            found = found.and_also(fault.effect(one.severity))
    return found


def _stopped(case: Case) -> Shown:
    """Everything at the temperature around it; pressures as saturation in the coldest place has them."""
    machine = size(case.unit)
    outdoor, indoor = case.outdoor.si, case.indoor.si
    even = float(states(machine.refrigerant).saturation_pressure(np.array(min(outdoor, indoor)), "bubble"))
    found: Shown = {}
    for code, quantity in shown_places(case):
        if quantity == "pressure":
            found[code, quantity] = even
        elif quantity == "temperature":
            found[code, quantity] = indoor if station(code).place.value == "indoors" else outdoor
        else:
            found[code, quantity] = 0.0
    return found


@lru_cache(maxsize=64)
def _places(written: str) -> tuple[Place, ...]:
    case = Case.model_validate_json(written)
    return tuple({**_running(case, [], "heating"), **_running(case, [], "cooling")})


def shown_places(case: Case) -> tuple[Place, ...]:
    """Every place the machine of a case gives a value of."""
    return _places(case.model_copy(update={"troubles": []}).model_dump_json())

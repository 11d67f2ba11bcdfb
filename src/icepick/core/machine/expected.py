"""What the sound machine of a unit would show in a run's conditions: value and spread, for every station and figure."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext, remembered, turned_afar
from icepick.core.circuit.learned import Learned
from icepick.core.document.examination import Corner
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.cycle import Cycle
from icepick.core.machine.figures import figures
from icepick.core.machine.metering import ORIFICES
from icepick.core.machine.parts import Machine
from icepick.core.machine.sensitivity import DEVIATIONS, moved
from icepick.core.machine.sized_unit import SizedUnit, called, of_conditions, of_unknown, sized
from icepick.core.machine.sizing import UnsizedError, rating
from icepick.core.machine.stations import Place, shown
from icepick.core.machine.steady import settle
from icepick.core.machine.surroundings import Surroundings, beyond, surroundings
from icepick.core.machine.unknowns import Unknown, charged, unknowns
from icepick.core.machine.variation import AT_REST

Array = NDArray[np.float64]

COVERAGE = 2.0
"""Half-widths are so many standard deviations, as those of readings."""


@dataclass(frozen=True, slots=True)
class Value:
    """A value and the half-width around it [SI]."""

    value: float
    spread: float


@dataclass(frozen=True, slots=True)
class Expected:
    """What a sound machine shows. Empty where nothing can be said; ``why_not`` says what stands in the way.

    ``unread`` names the conditions nobody read; they were taken as usual and widen every spread. ``slopes`` is how a standard
    deviation of each of ``unknowns`` moves a place, ``plain`` what it would show with all of them as usual.
    """

    stations: Mapping[Place, Value]
    figures: Mapping[str, Value]
    corners: tuple[tuple[Corner, float, float], ...] = ()
    """Of the cycle: absolute pressure [Pa] and enthalpy [J/kg]."""
    unread: tuple[str, ...] = ()
    why_not: str = ""
    unknowns: tuple[str, ...] = ()
    slopes: Mapping[Place, Array] = field(default_factory=dict)
    plain: Mapping[Place, float] = field(default_factory=dict)


@remembered
def expected(context: RunContext) -> Expected:
    """What the sound machine would show in this run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Expected
        In the mode the circuit runs in.
    """
    mode = context.running
    if mode is None:
        return Expected({}, {}, why_not="The compressor is off.")
    if context.defrosting:
        return Expected({}, {}, why_not="A defrost does not settle.")
    if turned_afar(context):
        return Expected({}, {}, why_not="It may run the other way than it is called for: that comes first.")
    outside = beyond(context, mode)
    if outside:
        return Expected({}, {}, why_not=outside)
    try:
        of_unit = sized(context.unit)
    except UnsizedError as error:
        return Expected({}, {}, why_not=f"This unit can't be sized: {error}")
    return _predicted(of_unit, mode, surroundings(context, mode), context.learned)


def predicted(unit: Unit, mode: FlowMode, around: Surroundings) -> Expected:
    """What the sound machine of a unit would show in any surroundings.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : FlowMode
        The way its refrigerant runs.
    around : Surroundings
        What it works in, and how well that is known.

    Returns
    -------
    Expected
        Remembered: asked again, it is there at once.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    """
    return _predicted(sized(unit), mode, around, None)


@lru_cache(maxsize=512)
def _predicted(asked: SizedUnit, mode: FlowMode, around: Surroundings, learned: Learned | None) -> Expected:
    machine, here = asked.machine, around.conditions()
    steady = settle(machine, mode, here, AT_REST, 1)
    if not steady.sound[0]:
        why = "The conditions of this run lie outside what the machine model is made for."
        return Expected({}, {}, unread=around.unread, why_not=why)
    names = [name for name in _MOVES if getattr(around, name).spread > 0]
    nudges = [of_conditions(around, name) for name in names]
    of_unit = _unknown_of(asked, mode)
    nudges += [of_unknown(here, one) for one in of_unit]
    known = _NOTHING if learned is None else learned
    asked_of = (*names, *(called(machine, mode, one.name) for one in of_unit))
    spread = known.of(asked_of)
    cycle, places, knobs = moved(machine, mode, steady, here, nudges)
    found = shown(machine, mode, cycle, places, knobs)
    judged = figures(machine, mode, cycle, places, found)
    orifice = machine.meters[mode].kind in ORIFICES
    floors = {**_FLOOR_OF_FIGURE, **(_OF_AN_ORIFICE if orifice else {})}
    return Expected(
        {place: _value(place[1], row, *spread) for place, row in found.items()},
        {name: _value(floors.get(name, "temperature"), row, *spread) for name, row in judged.items()},
        _corners(machine, mode, cycle),
        around.unread,
        unknowns=asked_of,
        slopes={place: _slopes(row) for place, row in found.items()},
        plain={place: float(row[0]) for place, row in found.items()},
    )


def unknown_of(unit: Unit, mode: FlowMode) -> tuple[Unknown, ...]:
    """What is unknown of a unit in a mode, charged as it is charged: by subcooling, or with a fixed orifice by superheat.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : FlowMode
        The way its refrigerant runs.

    Returns
    -------
    tuple of Unknown
        In a fixed order.
    """
    return _unknown_of(sized(unit), mode)


@lru_cache(maxsize=256)
def _unknown_of(asked: SizedUnit, mode: FlowMode) -> tuple[Unknown, ...]:
    machine, orifice = asked.machine, asked.machine.meters[mode].kind in ORIFICES
    found = unknowns(asked.unit, orifice, mode)
    by = "superheat" if machine.meters["cooling"].kind in ORIFICES else "subcooling"
    at = rating(asked.unit, "cooling")
    steady = settle(machine, "cooling", at, AT_REST, 1)
    if not steady.sound[0]:
        return found
    nudges = [of_unknown(at, one) for one in found]
    cycle, places, knobs = moved(machine, "cooling", steady, at, nudges)
    row = figures(machine, "cooling", cycle, places, shown(machine, "cooling", cycle, places, knobs))[by]
    return charged(found, dict(zip((one.name for one in found), row[1:] - row[0], strict=True)))


@lru_cache(maxsize=256)
def _at_rating(asked: SizedUnit, mode: FlowMode) -> Mapping[str, float]:
    machine, at = asked.machine, rating(asked.unit, mode)
    cycle = settle(machine, mode, at, AT_REST, 1).cycle
    found = figures(machine, mode, cycle, at, shown(machine, mode, cycle, at, AT_REST))
    return {name: float(row[0]) for name, row in found.items()}


def at_rating(unit: Unit, mode: FlowMode) -> Mapping[str, float]:
    """The sound machine's figures at its rating point.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : FlowMode
        Cooling or heating.

    Returns
    -------
    mapping of str to float
        By name [SI].

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    """
    return _at_rating(sized(unit), mode)


def _corners(machine: Machine, mode: FlowMode, cycle: Cycle) -> tuple[tuple[Corner, float, float], ...]:
    out, fed = cycle.points[0], cycle.points[-1]
    before = cycle.points[[step.part for step in machine.loops[mode]].index("meter")]
    corners: tuple[tuple[Corner, Array, Array], ...] = (
        ("compressor_in", cycle.suction_pressure, cycle.suction),
        ("compressor_out", cycle.discharge_pressure, cycle.compressed.enthalpy),
        ("condenser_out", out.pressure, out.enthalpy),
        ("meter_in", before.pressure, before.enthalpy),
        ("meter_out", fed.pressure, before.enthalpy),
        ("evaporator_out", cycle.evaporating, cycle.evaporated.enthalpy),
    )
    return tuple((name, float(pressure[0]), float(enthalpy[0])) for name, pressure, enthalpy in corners)


_NOTHING = Learned((), np.zeros(0), np.zeros((0, 0)))
_MOVES = ("outdoor", "indoor", "outdoor_humidity", "indoor_humidity", "speed")
_FLOOR_OF_FIGURE = {
    "valve_suction_rise": "small",
    "valve_discharge_drop": "small",
    "valve_body_heat": "body",
    "compression_ratio": "pressure",
    "flash_fraction": "share",
    "compressor_power": "power",
    "evaporator_heat_refrigerant": "power",
    "condenser_heat_refrigerant": "power",
    "active_drop_share": "share",
    "air_heat_sensible": "power",
    "air_heat_total": "power",
    "water_capacity": "power",
}
_OF_AN_ORIFICE = {"superheat": "fed", "total_superheat": "fed"}
"""One that floods answers to nothing until something stops it flooding: its own slopes say too little there."""
FLOORS = {
    "fed": (2.2, 0.0),
    "temperature": (0.8, 0.0),
    "pressure": (0.0, 0.02),
    "share": (0.01, 0.0),
    "small": (0.3, 0.0),
    "body": (300.0, 0.0),
}
"""How well the model itself can do, as one standard deviation: so much [K, J/kg, or share], and so much of the value. [our
own choice]"""
OTHER_FLOOR = (0.0, 0.04)
KNOWN_BY_A_FACTOR = ("small", "body")
"""Heat that passes through a body: more or less of it, and never the other way."""


def _slopes(row: Array) -> Array:
    return np.asarray((row[1:] - row[0]) / DEVIATIONS)


def _value(kind: str, row: Array, mean: Array, covariance: Array) -> Value:
    slopes = _slopes(row)
    value = float(row[0] + slopes @ mean)
    absolute, share = FLOORS.get(kind, OTHER_FLOOR)
    floor = max(absolute, share * abs(value))
    spread = COVERAGE * float(np.sqrt(slopes @ covariance @ slopes + floor * floor))
    if kind in KNOWN_BY_A_FACTOR:
        spread = min(spread, abs(value) + COVERAGE * floor)
    return Value(value, spread)

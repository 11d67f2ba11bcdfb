"""What a unit should do in any weather: what a technician reads over the outdoor temperature, sound and with a fault."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.examination import Fault
from icepick.core.document.machine import ChartAsked, ChartFault, ChartPanel, ChartPoint, WeatherChart
from icepick.core.document.roles import FlowMode
from icepick.core.document.several import one_circuit
from icepick.core.document.visit import Unit
from icepick.core.document.wording import display, say
from icepick.core.machine.conditions import merged
from icepick.core.machine.expected import Expected, Value, predicted
from icepick.core.machine.faults import FAULTS, MachineFault, possible
from icepick.core.machine.figures import figures
from icepick.core.machine.parameters import of
from icepick.core.machine.sizing import UnsizedError, rating, size
from icepick.core.machine.stations import shown
from icepick.core.machine.steady import settle
from icepick.core.machine.surroundings import Known, Surroundings, out_of_range
from icepick.core.machine.variation import batch
from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE, humidity_ratio
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, to_si

Array = NDArray[np.float64]
Spot = tuple[str, str]
Sought = str | Spot
"""A figure by its name, or a station and a quantity."""

RANGES = {
    ("air", "heating"): (-10, 62),
    ("air", "cooling"): (65, 118),
    ("water", "heating"): (30, 70),
    ("water", "cooling"): (50, 95),
}
"""Outdoor air or source water [°F] over which a chart goes."""
STEP = {"field": 4, "metric": 2}
"""From one point to the next, in degrees of the units asked for."""


class ChartError(ValueError):
    """A chart was asked for that means nothing; ``field`` says what of it, the message why."""

    def __init__(self, field: str, why: str) -> None:
        super().__init__(why)
        self.field = field


def weather_chart(asked: ChartAsked, units: UnitSystem = "field") -> WeatherChart:
    """The chart of a unit; of the first circuit where it has several.

    Parameters
    ----------
    asked : ChartAsked
        The unit, its mode, and with what.
    units : {"field", "metric"}
        Units of what comes out.

    Returns
    -------
    WeatherChart
        With ``sized`` false, and why, where the unit can't be sized.

    Raises
    ------
    ChartError
        The unit can't have this fault in this mode, or not so much of it; the model knows no such air or water indoors.
    """
    unit, mode = one_circuit(asked.unit), asked.mode
    _check_indoors(asked, units)
    can_have = [one for one in FAULTS if possible(one, unit, mode) and not one.backwards]
    fault, amount = _chosen(asked, can_have)
    try:
        size(unit)
    except UnsizedError as error:
        return WeatherChart(label=unit.label, mode=mode, sized=False, field=error.field, why=error.why)
    outdoors = _outdoors(unit, mode, units)
    arounds = [
        _around(asked, to_si(value, DISPLAY_UNITS[units][Kind.TEMPERATURE], Kind.TEMPERATURE))
        for value in outdoors
    ]
    sound = [predicted(unit, mode, around) for around in arounds]
    sick = _with_fault(unit, mode, arounds, fault, amount) if fault else {}
    return WeatherChart(
        label=unit.label,
        mode=mode,
        sized=True,
        over="outdoor air" if unit.source == "air" else "entering source water",
        outdoor_unit=DISPLAY_UNITS[units][Kind.TEMPERATURE],
        given=_given(arounds[0], unit, units),
        panels=[
            _panel(name, title, kind, sought, outdoors, sound, sick.get(sought), units)
            for name, title, kind, sought in _sought(unit, mode)
        ],
        faults=[
            ChartFault(fault=one.fault, unit=one.unit, words=one.words, usual=one.amounts[1], most=one.most)
            for one in can_have
        ],
        fault=fault.fault if fault else None,
        severity=amount if fault else None,
    )


def _chosen(asked: ChartAsked, can_have: Sequence[MachineFault]) -> tuple[MachineFault | None, float]:
    if asked.fault is None or asked.fault == "none":
        return None, 0.0
    fault = next((one for one in can_have if one.fault == asked.fault), None)
    if fault is None:
        raise ChartError(
            "fault", f"This unit shows no {_title(asked.fault)} in {asked.mode} that the machine model knows."
        )
    amount = fault.amounts[1] if asked.severity is None else asked.severity
    if amount > fault.most:
        most = f"{amount:g} {fault.unit} is more than the machine model knows: {fault.most:g} at most."
        raise ChartError("severity", most)
    return fault, amount


def _check_indoors(asked: ChartAsked, units: UnitSystem) -> None:
    place = "return_air" if asked.unit.load == "air" else "load_water_in"
    if asked.indoor is not None and (why := out_of_range(place, asked.mode, asked.indoor.si, units)):
        raise ChartError("indoor", why)


def _title(fault: Fault) -> str:
    return fault.replace("_", " ")


def _outdoors(unit: Unit, mode: FlowMode, units: UnitSystem) -> list[float]:
    """Whole degrees over the range, in the units asked for."""
    low, high = (
        display(to_si(edge, "degF", Kind.TEMPERATURE), Kind.TEMPERATURE, units)[0]
        for edge in RANGES[unit.source, mode]
    )
    step = STEP[units]
    first, last = int(np.ceil(low / step)) * step, int(np.floor(high / step)) * step
    return [float(value) for value in range(first, last + 1, step)]


def _around(asked: ChartAsked, outdoor: float) -> Surroundings:
    unit, at = asked.unit, rating(asked.unit, asked.mode)
    indoor = asked.indoor.si if asked.indoor else float(at.indoor)
    damp = 0.0
    if unit.load == "air":
        full = humidity_ratio(float(at.indoor), SEA_LEVEL_PRESSURE, relative_humidity=1.0)
        damp = asked.indoor_humidity / 100 if asked.indoor_humidity else float(at.indoor_ratio) / full

    def known(value: float) -> Known:
        return Known(value, 0.0, True)

    return Surroundings(
        known(outdoor),
        known(indoor),
        known(of(f"usual_outdoor_air_in_humidity_{asked.mode}")),
        known(damp),
        known((asked.speed or 100) / 100),
        SEA_LEVEL_PRESSURE,
        unit.source == "air",
        unit.load == "air",
    )


def _given(around: Surroundings, unit: Unit, units: UnitSystem) -> str:
    indoor = say(around.indoor.value, Kind.TEMPERATURE, units)
    words = f"return air at {indoor}" if unit.load == "air" else f"entering load water at {indoor}"
    if unit.load == "air":
        words += f", {100 * around.indoor_humidity.value:.0f} % relative humidity"
    return f"{words}; compressor at {100 * around.speed.value:.0f} %; sea level"


def _sought(unit: Unit, mode: FlowMode) -> list[tuple[str, str, Kind, Sought]]:
    by_air = unit.load == "air"
    leaving = ("supply_air", "supply air") if by_air else ("load_water_out", "leaving load water")
    indoors = "condenser_heat_refrigerant" if mode == "heating" else "evaporator_heat_refrigerant"
    return [
        ("suction", "suction pressure", Kind.PRESSURE, ("common_suction_tap", "pressure")),
        ("head", "head pressure", Kind.PRESSURE, ("discharge_tap", "pressure")),
        ("superheat", "superheat", Kind.TEMPERATURE_DIFFERENCE, "superheat"),
        ("subcooling", "subcooling", Kind.TEMPERATURE_DIFFERENCE, "subcooling"),
        ("leaving", leaving[1], Kind.TEMPERATURE, (leaving[0], "temperature")),
        ("capacity", f"capacity, {mode}", Kind.POWER, "air_heat_total" if by_air else indoors),
    ]


def _with_fault(
    unit: Unit, mode: FlowMode, arounds: Sequence[Surroundings], fault: MachineFault, amount: float
) -> dict[Sought, list[float | None]]:
    machine, count = size(unit), len(arounds)
    places, knobs = merged([one.conditions() for one in arounds]), batch([fault.effect(amount)] * count)
    found = settle(machine, mode, places, knobs, count)
    seen = shown(machine, mode, found.cycle, places, knobs)
    rows: dict[Sought, Array] = dict(seen.items())
    rows.update(figures(machine, mode, found.cycle, places, seen).items())
    return {
        name: [float(value) if ok else None for value, ok in zip(row, found.sound, strict=True)]
        for name, row in rows.items()
    }


def _panel(
    name: str,
    title: str,
    kind: Kind,
    sought: Sought,
    outdoors: Sequence[float],
    sound: Sequence[Expected],
    sick: Sequence[float | None] | None,
    units: UnitSystem,
) -> ChartPanel:
    def number(value: float | None) -> float | None:
        return None if value is None else round(display(value, kind, units)[0], 1)

    points = []
    for k, (outdoor, expected) in enumerate(zip(outdoors, sound, strict=True)):
        value = _value(expected, sought)
        low, high = (value.value - value.spread, value.value + value.spread) if value else (None, None)
        points.append(
            ChartPoint(
                outdoor=outdoor,
                value=number(value.value if value else None),
                low=number(low),
                high=number(high),
                with_fault=number(sick[k]) if sick else None,
            )
        )
    return ChartPanel(name=name, title=title, unit=DISPLAY_UNITS[units][kind], points=points)


def _value(expected: Expected, sought: Sought) -> Value | None:
    return expected.figures.get(sought) if isinstance(sought, str) else expected.stations.get(sought)

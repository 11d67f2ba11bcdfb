"""What is expected, as the examination says it: in the units asked for, for the places this unit has."""

from __future__ import annotations

from dataclasses import dataclass, field
from math import hypot
from typing import Literal, cast

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.codes import QuantityName
from icepick.core.document.examination import Expected as ExpectedReading
from icepick.core.document.examination import ExpectedCorner, ExpectedFigure, PlainQuantity
from icepick.core.document.stations import station
from icepick.core.document.wording import display, listing
from icepick.core.machine.expected import Expected, Value, expected
from icepick.core.machine.figures import KINDS
from icepick.core.properties.quantities import ABSOLUTE_PRESSURE, Kind, from_si


@dataclass(frozen=True, slots=True)
class Told:
    """Station → what it should show; indicator → what it should be; what that rests on, or why there is nothing."""

    stations: dict[str, ExpectedReading] = field(default_factory=dict)
    figures: dict[str, ExpectedFigure] = field(default_factory=dict)
    basis: str = ""
    corners: list[ExpectedCorner] = field(default_factory=list)
    departure: str | None = None


def told(context: RunContext) -> Told:
    """What is expected of a run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Told
        In the units asked for.
    """
    found = expected(context)
    sized = context.unit.nominal_capacity is not None
    known = {*stations_of_unit(context.unit), *_circuits(context)}
    readings = {
        code: _reading(context, code, quantity, value)
        for code, quantity, value in _places(context, found)
        if code in known and (sized or quantity not in ("power", "flow"))
    }
    if not sized and context.unit.compressor.rated_current is None:
        readings.pop("compressor", None)
    figures = {
        name: _figure(context, value, KINDS[name])
        for name, value in found.figures.items()
        if name in KINDS and (sized or KINDS[name] not in (Kind.POWER, Kind.ELECTRICAL_POWER))
    }
    basis = found.why_not or _basis(context, found)
    return Told(readings, figures, basis, _corners(context, found), _furthest(context, found, readings))


def _circuits(context: RunContext) -> list[str]:
    codes = (current.reading.station for current in context.readings.all())
    return list(dict.fromkeys(code for code in codes if "_circuit:" in code))


def _places(context: RunContext, found: Expected) -> list[tuple[str, str, Value]]:
    """One quantity for a place: of the compressor its current."""
    places = []
    for (code, quantity), value in found.stations.items():
        if code.endswith(":N"):
            side = code.removesuffix("N")
            places += [(own, quantity, value) for own in _circuits(context) if own.startswith(side)]
        elif (code, quantity) != ("compressor", "power"):
            places.append((code, quantity, value))
    return places


def _reading(context: RunContext, code: str, quantity: str, value: Value) -> ExpectedReading:
    found = _figure(context, value, station(code).quantities[quantity].kind)
    return ExpectedReading(
        quantity=cast(QuantityName, quantity),
        value=found.value,
        low=found.low,
        high=found.high,
        unit=found.unit,
        departs=_side(_off(context, code, quantity, value)),
    )


def _off(context: RunContext, code: str, quantity: str, value: Value) -> float:
    """How far a reading lies from what is expected, over both their bands; 0 where there is none that may carry a
    judgement."""
    read = context.trusted.value(code, quantity)
    if read is None:
        return 0.0
    return float((read.nominal_value - value.value) / hypot(value.spread, read.std_dev))


def _side(off: float) -> Literal["above", "below"] | None:
    if abs(off) <= 1:
        return None
    return "above" if off > 0 else "below"


def _furthest(context: RunContext, found: Expected, told_of: dict[str, ExpectedReading]) -> str | None:
    offs = {
        code: abs(_off(context, code, what, v))
        for code, what, v in _places(context, found)
        if code in told_of
    }
    code = max(offs, key=lambda one: offs[one], default=None)
    return code if code is not None and offs[code] > 1 else None


def _corners(context: RunContext, found: Expected) -> list[ExpectedCorner]:
    absolute = ABSOLUTE_PRESSURE[context.units]
    corners = []
    for name, pressure, enthalpy in found.corners:
        number, unit = display(enthalpy, Kind.SPECIFIC_ENTHALPY, context.units)
        corners.append(
            ExpectedCorner(
                corner=name,
                pressure=PlainQuantity(
                    value=round(from_si(pressure, absolute, Kind.PRESSURE), 2), unit=absolute
                ),
                enthalpy=PlainQuantity(value=number, unit=unit),
            )
        )
    return corners


def _figure(context: RunContext, value: Value, kind: Kind) -> ExpectedFigure:
    (middle, unit), (low, _), (high, _) = (
        display(number, kind, context.units, context.atmosphere)
        for number in (value.value, value.value - value.spread, value.value + value.spread)
    )
    return ExpectedFigure(value=middle, low=low, high=high, unit=unit)


def _basis(context: RunContext, found: Expected) -> str:
    unit = context.unit
    names = {
        "outdoor": "outdoor air" if unit.source == "air" else "entering source water",
        "indoor": "return air" if unit.load == "air" else "entering load water",
        "indoor_humidity": "wet bulb of the return air",
        "speed": "compressor speed" if unit.compressor.kind == "inverter" else "compressor stage",
    }
    wet = context.running == "cooling" and unit.load == "air"
    missing = [
        name for code, name in names.items() if code in found.unread and (code != "indoor_humidity" or wet)
    ]
    if not missing:
        return "Worked out for this unit in the conditions read."
    return f"Worked out for this unit; taken as usual, and so less sure: {listing(missing)}."

"""The staircase: temperature along the path, leg by leg, and what each leg should do. [the-trade.md 2]"""

from __future__ import annotations

from collections.abc import Iterator
from math import hypot
from typing import Literal

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.flooding import Stop
from icepick.core.circuit.graph import Circuit
from icepick.core.circuit.saturation import side
from icepick.core.document.examination import Device, Leg, Level, Measured, Status
from icepick.core.document.wording import device, display, display_band, display_spread, say
from icepick.core.document.words import PARTS
from icepick.core.properties.quantities import Kind

Should = Literal["fall", "hold", "rise"]


def legs(context: RunContext, circuit: Circuit, judged: list[Device]) -> list[Leg]:
    """Each step of the path, in flow order; metering devices and drier as their own checks have ``judged`` them.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.
    judged : list of Device
        Metering devices and drier, as their checks have them.

    Returns
    -------
    list of Leg
        In flow order.
    """
    by_ends = {(device.start, device.end): device for device in judged if device.status != "needs_readings"}
    return [
        _as_judged(
            _leg(context, here, there, _should(circuit, here, there)),
            by_ends.get((here.station, there.station)),
        )
        for here, there in circuit.legs
    ]


def _as_judged(leg: Leg, device: Device | None) -> Leg:
    if device is None or leg.change is None:
        return leg
    return leg.model_copy(update={"status": device.status, "explain": device.explain})


def _should(circuit: Circuit, here: Stop, there: Stop) -> Should:
    """Condensers and the active metering device let the temperature fall, an evaporator's second half lets it rise;
    everything else only passes the refrigerant on. [physics]"""
    if here.through == circuit.active_part or here.role != there.role:
        return "fall"
    if circuit.condenser in (here.station, there.station):
        return "fall"
    if here.station == circuit.evaporator:
        return "rise"
    return "hold"


def _leg(context: RunContext, here: Stop, there: Stop, should: Should) -> Leg:
    before, after = context.temperature(here.station), context.temperature(there.station)
    if before is None or after is None:
        return Leg(
            start=here.station,
            end=there.station,
            should=should,
            status="needs_readings",
            change=None,
            explain=f"Should {should}.",
        )
    change, band = after.nominal_value - before.nominal_value, hypot(before.std_dev, after.std_dev)
    number, unit = display(change, Kind.TEMPERATURE_DIFFERENCE, context.units)
    amount = say(abs(change), Kind.TEMPERATURE_DIFFERENCE, context.units)
    part = device(context.unit, here.through) if here.through.endswith("_meter") else PARTS[here.through]
    does = "rises" if change > 0 else "falls"
    return Leg(
        start=here.station,
        end=there.station,
        should=should,
        status=_judged(context, here, there, _status(context, change, band, should)),
        change=Measured(
            value=number,
            unit=unit,
            uncertainty=display_spread(band, Kind.TEMPERATURE_DIFFERENCE, context.units),
        ),
        explain=f"Through the {part} it should {should}; it {does} by {amount}.",
    )


def _status(context: RunContext, step: float, band: float, should: Should) -> Status:
    """How far a leg strays from what it should do, against the few degrees any pipe may change."""
    limit = context.practice.si("line_change")
    strays = {"hold": abs(step), "fall": step, "rise": -step}[should]
    if abs(strays - limit) <= band:
        return "watch"
    return "pass" if strays < limit else "fail"


def _judged(context: RunContext, here: Stop, there: Stop, status: Status) -> Status:
    """A leg fails only on readings that may carry a judgement."""
    if status != "fail":
        return status
    firm = all(context.trusted.temperature(stop.station) is not None for stop in (here, there))
    return status if firm else "watch"


def levels(context: RunContext, circuit: Circuit) -> list[Level]:
    """The level lines that were read: saturation on both sides, air and water going in.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.

    Returns
    -------
    list of Level
        Only those that were read.
    """
    return list(_levels(context, circuit))


def _levels(context: RunContext, circuit: Circuit) -> Iterator[Level]:
    high = side(context, circuit, "high", frozenset())
    low = side(context, circuit, "low", frozenset())
    if high is not None:
        yield _level(context, "condensing", high.tap, high.bubble)
    if low is not None:
        yield _level(context, "evaporating", low.tap, low.dew)
    for name, code in (
        ("outdoor_air", "outdoor_air_in"),
        ("indoor_air", "return_air"),
        ("source_water", "source_water_in"),
        ("load_water", "load_water_in"),
    ):
        if (value := context.temperature(code)) is not None:
            yield _level(context, name, code, value)


def _level(context: RunContext, name: str, code: str, value: UFloat) -> Level:
    number, unit = display(value.nominal_value, Kind.TEMPERATURE, context.units)
    band = display_band(value, Kind.TEMPERATURE, context.units)
    return Level.model_validate(
        {"name": name, "station": code, "value": number, "unit": unit, "uncertainty": band}
    )

"""Pipes hotter than any pipe of a circuit can be, and pressures typed where a temperature belongs."""

from __future__ import annotations

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import build_circuit
from icepick.core.circuit.readings import CurrentReading
from icepick.core.document.examination import Doubt
from icepick.core.document.stations import Group, station
from icepick.core.document.wording import names, say
from icepick.core.properties.quantities import Kind, from_si, to_si
from icepick.core.properties.refrigerants import OutsideRangeError, highest, saturation_temperature


def hotter_than_any_pipe(context: RunContext) -> list[Doubt]:
    """A pipe that holds liquid above the temperature at which there is none, or any pipe hotter than a compressor gets.

    Where two or more of them would be the pressures of this refrigerant, they are taken for pressures typed as temperatures.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        One doubt, or none.
    """
    pipes = [
        current
        for current in context.readings.all()
        if current.reading.quantity == "temperature"
        and station(current.reading.station).group in (Group.LINE, Group.CIRCUIT)
    ]
    hot = [current for current in pipes if _too_hot(context, current)]
    if not hot:
        return []
    typed = _pressures(context, pipes, hot)
    if typed:
        said = ", ".join(f"{_as_typed(one):.0f}" for one in typed)
        sides = "the two pressures" if len(typed) > len(hot) else "the head pressure"
        words = (
            f"Hotter than any pipe; read as psig they are {sides} of a circuit with "
            f"{context.unit.refrigerant}: {said}. Gauges typed into pipes? Take them back, and enter them at the ports."
        )
        codes = [one.reading.station for one in typed]
        return [Doubt(stations=codes, code="pressure_as_temperature", explain=words)]
    codes = [one.reading.station for one in hot]
    words = (
        f"Hotter than this pipe can be while the unit runs: above "
        f"{say(min(_most(context, code) for code in codes), Kind.TEMPERATURE, context.units)}. "
        f"A slip of the hand, or a clamp that is off? Read again: {names(context.unit, codes, 4)}."
    )
    return [Doubt(stations=codes, code="hotter_than_any_pipe", explain=words)]


def _kelvin(current: CurrentReading) -> float:
    return float(current.value.nominal_value)


def _as_typed(current: CurrentReading) -> float:
    """The number [°F], which may have been meant as psig."""
    return from_si(_kelvin(current), "degF", Kind.TEMPERATURE)


def _most(context: RunContext, code: str) -> float:
    """The hottest that a station can be [K]."""
    wet = {
        stop.station
        for stop in build_circuit(context.unit, "cooling").path
        if stop.state in ("subcooled_liquid", "mixture")
    }
    hottest = context.practice.si("hottest_pipe")
    return min(highest(context.unit.refrigerant), hottest) if code in wet else hottest


def _too_hot(context: RunContext, current: CurrentReading) -> bool:
    over = _kelvin(current) - _most(context, current.reading.station)
    return over > float(current.value.std_dev) + context.practice.si("doubt_margin")


def _pressures(
    context: RunContext, pipes: list[CurrentReading], hot: list[CurrentReading]
) -> list[CurrentReading]:
    """The readings that are the pressures of two sides, as psig; none where that does not explain every one too hot."""
    apart = 1 + context.practice.si("gauges_alike")
    high = [_as_typed(one) for one in hot]
    if len(hot) < 2 or max(high) > min(high) * apart or not _condenses(context, max(high)):
        return []
    others = [one for one in pipes if one not in hot]
    low = [_as_typed(one) for one in others]
    # The other pair is one side too, or nothing but the hot ones is a pressure.
    if low and min(low) > 0 and max(low) <= min(low) * apart and max(low) * apart < min(high):
        return [*hot, *others]
    return hot


def _condenses(context: RunContext, gauge: float) -> bool:
    """Whether a gauge pressure [psig] condenses where a condenser may."""
    pressure = to_si(gauge, "psi", Kind.PRESSURE, context.atmosphere)
    try:
        at = float(saturation_temperature(context.unit.refrigerant, pressure, "dew"))
    except OutsideRangeError:
        return False
    return at > context.practice.si("lowest_condensing")

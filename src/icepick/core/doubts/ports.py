"""Suction read at the wrong port in heating. [physics; the-trade.md 2]"""

from __future__ import annotations

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import Circuit
from icepick.core.circuit.saturation import at_pressure
from icepick.core.document.examination import Doubt
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind
from icepick.core.properties.refrigerants import OutsideRangeError


def low_side_at_high_port(context: RunContext, circuit: Circuit) -> list[Doubt]:
    """In heating the vapor line carries hot gas, and the common suction port alone is low side.

    Doubted: a vapor-port pressure too low to condense in the room, and a "suction" pressure too high to
    boil against the outdoor side.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.

    Returns
    -------
    list of Doubt
        One doubt for each tap.
    """
    if circuit.mode != "heating":
        return []
    return [*_suction_at_the_vapor_port(context, circuit), *_head_as_suction(context, circuit)]


def _dew(context: RunContext, tap: str) -> float | None:
    current = context.readings.get(tap, "pressure")
    if current is None:
        return None
    try:
        return float(at_pressure(context, current.value, "dew").nominal_value)
    except OutsideRangeError:
        return None


def _read(context: RunContext, codes: list[str]) -> list[float]:
    return [float(t.nominal_value) for code in codes if (t := context.temperature(code)) is not None]


def _suction_at_the_vapor_port(context: RunContext, circuit: Circuit) -> list[Doubt]:
    dew = _dew(context, "vapor_service_tap")
    if dew is None:
        return []
    warm = _read(context, ["indoor_coil", "return_air", "load_water_in", *circuit.liquid])
    floor = max(warm) if warm else context.practice.si("lowest_condensing")
    if dew >= floor - context.practice.si("doubt_margin"):
        return []
    said = say(dew, Kind.TEMPERATURE, context.units)
    return [
        Doubt(
            stations=["vapor_service_tap"],
            code="low_side_at_high_port",
            explain=f"In heating the vapor line port is on the high side, yet this pressure condenses at {said}, "
            "colder than what it should heat. It is a suction pressure: take it at the common suction port.",
        )
    ]


def _head_as_suction(context: RunContext, circuit: Circuit) -> list[Doubt]:
    dew = _dew(context, "common_suction_tap")
    if dew is None or dew <= context.practice.si("lowest_condensing"):
        return []
    medium = "outdoor_air_in" if context.unit.source == "air" else "source_water_in"
    cold = _read(context, [medium, circuit.evaporator, circuit.return_port, "common_suction"])
    if not cold or dew <= min(cold) + context.practice.si("doubt_margin"):
        return []
    said = say(dew, Kind.TEMPERATURE, context.units)
    return [
        Doubt(
            stations=["common_suction_tap"],
            code="low_side_at_high_port",
            explain=f"At this pressure the refrigerant boils at {said}, warmer than the pipe it comes from. "
            "The gauge was most likely on the vapor line port, which is high side in heating.",
        )
    ]

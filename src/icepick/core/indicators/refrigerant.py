"""Saturation, superheat and subcooling of a running circuit. [trade.md section 5]

By gauge where the side has one; otherwise from the coil's bend, with its wider band.
"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core import formulas
from icepick.core.context import RunContext, remembered
from icepick.core.indicators.valve import running_circuit
from icepick.core.propagation import propagate
from icepick.core.refrigerants import OutsideRangeError
from icepick.core.saturation import SideState, state_of


@remembered
def low_side(context: RunContext) -> SideState | None:
    """The low side of the circuit as it runs."""
    circuit = running_circuit(context)
    return state_of(context, circuit, "low") if circuit else None


@remembered
def high_side(context: RunContext) -> SideState | None:
    """The high side of the circuit as it runs."""
    circuit = running_circuit(context)
    return state_of(context, circuit, "high") if circuit else None


def evaporating_temperature(context: RunContext) -> UFloat | None:
    """Dew temperature at suction pressure [K]."""
    low = low_side(context)
    return low.dew if low else None


def condensing_temperature(context: RunContext) -> UFloat | None:
    """Bubble temperature at the high side's pressure [K]."""
    high = high_side(context)
    return high.bubble if high else None


def first_read(context: RunContext, stations: list[str]) -> str | None:
    """The first of the stations whose temperature was read and is not doubted."""
    return next(
        (s for s in stations if context.temperature(s) is not None and s not in context.doubted), None
    )


def leaving_evaporator(context: RunContext) -> list[str]:
    """Stations between the evaporator and the valve, in flow order."""
    circuit = running_circuit(context)
    if circuit is None:
        return []
    order = [stop.station for stop in circuit.path]
    after = order[order.index(circuit.evaporator) + 1 :]
    return after[: after.index(circuit.return_port) + 1]


def liquid_stations(context: RunContext) -> list[str]:
    """Stations between the condenser and the working meter, in flow order."""
    circuit = running_circuit(context)
    return [s.station for s in circuit.path if s.state == "subcooled_liquid"] if circuit else []


@remembered
def superheat(context: RunContext) -> UFloat | None:
    """Gas leaving the evaporator over dew [K]. [physics]"""
    low, station = low_side(context), first_read(context, leaving_evaporator(context))
    value = context.temperature(station) if station else None
    return value - low.dew if low is not None and value is not None else None


@remembered
def total_superheat(context: RunContext) -> UFloat | None:
    """Gas entering the compressor over dew [K]. [physics]"""
    low, station = low_side(context), first_read(context, ["compressor_inlet", "common_suction"])
    value = context.temperature(station) if station else None
    return value - low.dew if low is not None and value is not None else None


@remembered
def subcooling(context: RunContext) -> UFloat | None:
    """Bubble over the liquid line [K], taken at the liquid service valve where that carries liquid. [physics]"""
    high, liquid = high_side(context), liquid_stations(context)
    at_tap = [s for s in liquid if s == "liquid_line_outdoor"]
    station = first_read(context, [*at_tap, *liquid])
    value = context.temperature(station) if station else None
    return high.bubble - value if high is not None and value is not None else None


@remembered
def pressure_before_flash(context: RunContext) -> UFloat | None:
    """Pressure [Pa] the liquid can still lose on its way to the meter without a change of temperature. [physics]"""
    high, liquid = high_side(context), liquid_stations(context)
    station = first_read(context, liquid)
    value = context.temperature(station) if station else None
    if high is None or value is None:
        return None
    refrigerant = context.unit.refrigerant
    try:
        return propagate(lambda p, t: formulas.pressure_before_flash(refrigerant, p, t), high.pressure, value)
    except OutsideRangeError:
        return None


@remembered
def flash_fraction(context: RunContext) -> UFloat | None:
    """Share of the liquid that flashes at the working meter, enthalpy unchanged. [physics]"""
    low, liquid = low_side(context), liquid_stations(context)
    station = first_read(context, liquid[::-1])
    value = context.temperature(station) if station else None
    if low is None or value is None:
        return None
    refrigerant = context.unit.refrigerant
    try:
        return propagate(lambda t, dew: formulas.flash_fraction(refrigerant, t, dew), value, low.dew)
    except OutsideRangeError:
        return None

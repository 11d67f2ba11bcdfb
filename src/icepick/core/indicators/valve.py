"""Four pipe temperatures at the reversing valve, turned into three figures. [trade.md section 3]"""

from __future__ import annotations

from typing import Literal

from uncertainties import UFloat, ufloat

from icepick.core.circuit import Circuit, FlowMode, build_circuit
from icepick.core.context import RunContext, remembered
from icepick.core.examination import ApparentMode
from icepick.core.propagation import propagate
from icepick.core.refrigerants import (
    OutsideRangeError,
    phase_enthalpy,
    saturated_enthalpy,
)
from icepick.core.saturation import SideState, around, state_of

VALVE_PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
"""The four pipes at the valve, in walking order."""


@remembered
def spread(context: RunContext) -> UFloat | None:
    """Hottest minus coldest of the four pipes [K]; None unless all four are read."""
    values = [context.temperature(pipe) for pipe in VALVE_PIPES]
    present = [value for value in values if value is not None]
    if len(present) < len(VALVE_PIPES):
        return None
    present.sort(key=lambda value: value.nominal_value)
    return present[-1] - present[0]


@remembered
def equalized(context: RunContext) -> bool:
    """Whether all four pipes read alike, by instruments good enough to say so."""
    apart, limit = spread(context), context.practice.si("equalized_spread")
    return apart is not None and apart.nominal_value <= limit + 1e-9 and apart.std_dev <= limit


@remembered
def position_index(context: RunContext) -> UFloat | None:
    """Where the slide stands, from the four pipes.

    s = (T outdoor port − T indoor port) / (T discharge − T common suction): near +1 fully in cooling,
    near −1 fully in heating, near 0 neither. [physics]

    Returns
    -------
    UFloat or None
        Dimensionless; None while a pipe is unread, where the pipes are equalized, or where discharge
        is not clearly hotter than common suction (the quotient then means nothing).
    """
    discharge, indoor, outdoor, common = (context.temperature(pipe) for pipe in VALVE_PIPES)
    if discharge is None or indoor is None or outdoor is None or common is None or equalized(context):
        return None
    across = discharge - common
    if across.nominal_value <= across.std_dev:
        return None
    return (outdoor - indoor) / across


@remembered
def apparent_mode(context: RunContext) -> ApparentMode:
    """What the circuit is doing, whatever was commanded.

    ``neither`` for a slide in the middle or an equalized circuit; ``unknown`` while pipes are unread
    or the uncertainty reaches over the threshold. Where not all four pipes at the valve are read, a vapor line
    clearly hotter or colder than the room tells.
    """
    if context.commanded is None:
        return "unknown"
    if equalized(context):
        return "neither"
    index = position_index(context)
    if index is None:
        return "unknown" if spread(context) is not None else _by_vapor_line(context)
    limit = context.practice.si("valve_position")
    if abs(abs(index.nominal_value) - limit) <= index.std_dev:
        return "unknown"
    if abs(index.nominal_value) < limit:
        return "neither"
    return "cooling" if index.nominal_value > 0 else "heating"


VAPOR_LINE = ("vapor_line_outdoor", "vapor_line_indoor")
"""The pipe that carries suction gas in cooling and hot gas in heating, at both ends."""


def _by_vapor_line(context: RunContext) -> ApparentMode:
    room = context.temperature("return_air")
    if room is None or "return_air" in context.doubted:
        room = ufloat(context.practice.si("room_temperature"), context.practice.si("uncertainty_estimate"))
    over = [
        temperature - room
        for pipe in VAPOR_LINE
        if (temperature := context.temperature(pipe)) is not None and pipe not in context.doubted
    ]
    hot, cold = (context.practice.si(f"vapor_line_{word}") for word in ("hot", "cold"))
    if over and all(one.nominal_value - one.std_dev > hot for one in over):
        return "heating"
    if over and all(one.nominal_value + one.std_dev < -cold for one in over):
        return "cooling"
    return "unknown"


@remembered
def running_circuit(context: RunContext) -> Circuit | None:
    """The circuit as it really runs; as commanded while that is not known."""
    apparent = apparent_mode(context)
    if context.circuit is None or apparent not in ("heating", "cooling") or apparent == context.commanded:
        return context.circuit
    return build_circuit(context.unit, "heating" if apparent == "heating" else "cooling")


def running_mode(context: RunContext) -> FlowMode | None:
    """The mode the circuit really runs in; the commanded one while that is not known; None with the compressor off."""
    circuit = running_circuit(context)
    return circuit.mode if circuit else None


def ports(context: RunContext) -> tuple[str, str] | None:
    """(hot port, return port) as the circuit really runs; as commanded while that is not known."""
    circuit = running_circuit(context)
    return (circuit.hot_port, circuit.return_port) if circuit else None


@remembered
def suction_rise(context: RunContext) -> UFloat | None:
    """Common suction minus the port that brings suction gas back [K]."""
    pair = ports(context)
    common, back = context.temperature("common_suction"), context.temperature(pair[1]) if pair else None
    return None if common is None or back is None else common - back


@remembered
def discharge_drop(context: RunContext) -> UFloat | None:
    """Discharge line minus the port that carries hot gas away [K]."""
    pair = ports(context)
    discharge, hot = context.temperature("discharge_line"), context.temperature(pair[0]) if pair else None
    return None if discharge is None or hot is None else discharge - hot


ReturnState = Literal["dry", "wet", "unknown"]


@remembered
def return_state(context: RunContext) -> ReturnState:
    """Whether the gas that comes back to the valve is superheated.

    Where the low side's saturation is not known, a thermostatic or electric valve is taken to keep it dry, and
    a fixed orifice is not. [physics; trade.md section 3]
    """
    circuit, pair = running_circuit(context), ports(context)
    back = context.temperature(pair[1]) if pair else None
    if circuit is None or back is None:
        return "unknown"
    low = state_of(context, circuit, "low")
    if low is not None:
        over = back - low.dew
        limit = context.practice.si("dry_return")
        if over.nominal_value - over.std_dev > limit:
            return "dry"
        if over.nominal_value + over.std_dev < limit or low.source == "gauge":
            return "wet"
    meter = context.unit.indoor_meter if circuit.active_meter == "indoor" else context.unit.outdoor_meter
    return "unknown" if meter.kind in ("piston", "capillary") else "dry"


@remembered
def bypass_fraction(context: RunContext) -> UFloat | None:
    """Share of the compressor's flow that goes from discharge to suction inside the valve.

    f = (h_common − h_return − q_body) / (h_discharge − h_return), the body's own conduction taken off as a rise of
    ``valve_body_rise``. Pressures by gauge, else from the coils' bends, else from what is usual at these conditions;
    with a wet return the liquid it may carry widens the band. [physics: enthalpy balance]

    Returns
    -------
    UFloat or None
        A share; None while a pipe is unread or no saturation can be told.
    """
    circuit, pair = running_circuit(context), ports(context)
    if circuit is None or pair is None or equalized(context):
        return None
    common, back = context.temperature("common_suction"), context.temperature(pair[1])
    discharge = context.temperature("discharge_line")
    if common is None or back is None or discharge is None:
        return None
    low = state_of(context, circuit, "low") or _usual_low(context, circuit, back)
    high = state_of(context, circuit, "high", guess=True) or around(
        context, ufloat(context.practice.si("usual_condensing"), context.practice.si("guess_uncertainty"))
    )
    if low is None or high is None:
        return None
    rise = ufloat(context.practice.si("valve_body_rise"), context.practice.si("valve_body_band"))
    try:
        h_common = _gas(context, common, low)
        h_return = _gas(context, back, low)
        h_discharge = _gas(context, discharge, high)
        heat = _heat_capacity(context, common, low)
    except OutsideRangeError:
        return None
    if return_state(context) != "dry":
        h_return -= _wetness(context, low)
        if (common - low.dew).nominal_value < context.practice.si("dry_return"):
            h_common -= _wetness(context, low)
    across = h_discharge - h_return
    if across.nominal_value <= 0:
        return None
    return (h_common - h_return - heat * rise) / across


def _gas(context: RunContext, temperature: UFloat, state: SideState) -> UFloat:
    """Enthalpy [J/kg] of gas at a side's pressure, at dew where it reads no warmer."""
    refrigerant = context.unit.refrigerant
    return propagate(lambda t, p: phase_enthalpy(refrigerant, t, p, "dew"), temperature, state.pressure)


def _heat_capacity(context: RunContext, temperature: UFloat, state: SideState) -> float:
    """Heat capacity [J/(kg K)] of gas at a side's pressure, from the next kelvin."""
    at = max(float(temperature.nominal_value), float(state.dew.nominal_value))
    pressure = float(state.pressure.nominal_value)
    now, then = (phase_enthalpy(context.unit.refrigerant, t, pressure, "dew") for t in (at, at + 1))
    return then - now


def _wetness(context: RunContext, low: SideState) -> UFloat:
    """What the liquid in a wet return may take off its enthalpy [J/kg]: half the most, give or take as much."""
    pressure = float(low.pressure.nominal_value)
    latent = float(saturated_enthalpy(context.unit.refrigerant, pressure, "dew")) - float(
        saturated_enthalpy(context.unit.refrigerant, pressure, "bubble")
    )
    half = context.practice.si("wet_return_share") * latent / 2
    return ufloat(half, half)


def _usual_low(context: RunContext, circuit: Circuit, back: UFloat) -> SideState | None:
    """The low side by the entering air and the usual split, never warmer than the gas that comes back."""
    guess = state_of(context, circuit, "low", guess=True)
    if guess is not None and guess.dew.nominal_value <= back.nominal_value:
        return guess
    return around(
        context, back - ufloat(context.practice.si("dry_return"), context.practice.si("guess_uncertainty"))
    )

"""Four pipe temperatures at the reversing valve, turned into figures. [the-trade.md 3]"""

from __future__ import annotations

from typing import Literal

from uncertainties import UFloat, ufloat

from icepick.core.circuit import direction
from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.saturation import SideState, around, at, state_of
from icepick.core.indicators.metering import is_orifice
from icepick.core.machine.expected import expected
from icepick.core.properties.propagation import propagate
from icepick.core.properties.refrigerants import OutsideRangeError, phase_enthalpy, saturated_enthalpy


@remembered
def equalized(context: RunContext) -> bool:
    """Whether all four pipes at the valve read alike.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False also while a pipe is unread.
    """
    return direction.equalized(context.readings, context.practice)


@remembered
def position_index(context: RunContext) -> UFloat | None:
    """Where the slide stands: +1 fully in cooling, −1 fully in heating; see :func:`direction.position_index`.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Ratio, −1 to +1; None while a reading it needs is missing.
    """
    if context.circuit is None:
        return None
    return direction.position_index(context.readings, context.practice)


@remembered
def suction_rise(context: RunContext) -> UFloat | None:
    """Common suction minus the port that brings suction gas back [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    if context.circuit is None:
        return None
    common = context.temperature("common_suction")
    back = context.temperature(context.circuit.return_port)
    return None if common is None or back is None else common - back


@remembered
def discharge_drop(context: RunContext) -> UFloat | None:
    """Discharge line minus the port that carries hot gas away [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    if context.circuit is None:
        return None
    discharge = context.temperature("discharge_line")
    hot = context.temperature(context.circuit.hot_port)
    return None if discharge is None or hot is None else discharge - hot


@remembered
def wetness(context: RunContext) -> float | None:
    """How open it is whether liquid comes back to the valve: 0 where the gas is clearly superheated, 1 where it is not.

    Where the low side's saturation is not known, a TXV or EEV is taken to keep it dry, and a fixed orifice is not; by a
    coil's bend the device has the benefit of its band. None while the returning pipe is unread. [physics; the-trade.md 3]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    float or None
        0 dry to 1 wet; None while the returning pipe is unread.
    """
    circuit = context.circuit
    back = context.temperature(circuit.return_port) if circuit else None
    if circuit is None or back is None:
        return None
    low = state_of(context, circuit, "low")
    if low is None:
        return 1.0 if is_orifice(context) else 0.0
    over = back - low.dew
    known = float(over.nominal_value)
    if low.source != "gauge":
        known += -float(over.std_dev) if is_orifice(context) else float(over.std_dev)
    return _wetness_at(context, known)


def _wetness_at(context: RunContext, superheat: float) -> float:
    dry = context.practice.si("dry_return")
    return min(max((dry - superheat) / dry, 0.0), 1.0)


ReturnState = Literal["dry", "wet", "unknown"]
_HARDLY = 1 / 3


@remembered
def return_state(context: RunContext) -> ReturnState:
    """Whether the gas that comes back to the valve is superheated.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    ReturnState
        ``dry``, ``wet`` or ``unknown``.
    """
    open_to = wetness(context)
    if open_to is None:
        return "unknown"
    return "dry" if open_to <= _HARDLY + 1e-9 else "wet" if open_to >= 1 else "unknown"


@remembered
def bypass_fraction(context: RunContext) -> UFloat | None:
    """Share of the compressor's flow that goes from discharge to suction inside the valve.

    f = (h_common − h_return − q_body) / (h_discharge − h_return), q_body being what this unit's valve, sound, conducts.
    Pressures by gauge, else from the coils' bends, else as this unit should show them.
    What liquid the returning gas may carry only widens the band: no share is made of it. [physics: enthalpy balance]

    Returns
    -------
    UFloat or None
        A share; None while a pipe is unread, no saturation can be told, or the band is too wide for the share to mean
        anything (see ``bypass_band_most``).

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Share [0…1]; None while a reading it needs is missing.
    """
    circuit = context.circuit
    open_to = wetness(context)
    if circuit is None or open_to is None or equalized(context):
        return None
    common, back = context.temperature("common_suction"), context.temperature(circuit.return_port)
    discharge = context.temperature("discharge_line")
    if common is None or back is None or discharge is None:
        return None
    low = state_of(context, circuit, "low") or _usual_low(context, back)
    high = state_of(context, circuit, "high") or _as_expected(context, "discharge_tap")
    body = expected(context).figures.get("valve_body_heat")
    if low is None or high is None or body is None:
        return None
    try:
        h_common = _gas(context, common, low)
        h_return = _gas(context, back, low)
        h_discharge = _gas(context, discharge, high)
    except OutsideRangeError:
        return None
    across = h_discharge - h_return
    if across.nominal_value <= 0:
        return None
    liquid = ufloat(0, _most_liquid(context, low))
    conducted = ufloat(body.value, body.spread)
    share = (h_common - h_return - conducted + open_to * liquid) / across
    return share if share.std_dev <= context.practice.si("bypass_band_most") else None


def _gas(context: RunContext, temperature: UFloat, state: SideState) -> UFloat:
    """Enthalpy [J/kg] of gas at a side's pressure, at dew where it reads no warmer."""
    refrigerant = context.unit.refrigerant
    return propagate(lambda t, p: phase_enthalpy(refrigerant, t, p, "dew"), temperature, state.pressure)


def _most_liquid(context: RunContext, low: SideState) -> float:
    """What the liquid in a wet return may take off its enthalpy at most [J/kg]."""
    pressure = float(low.pressure.nominal_value)
    latent = float(saturated_enthalpy(context.unit.refrigerant, pressure, "dew")) - float(
        saturated_enthalpy(context.unit.refrigerant, pressure, "bubble")
    )
    return context.practice.si("wet_return_share") * latent


def _as_expected(context: RunContext, tap: str) -> SideState | None:
    """A side as this unit, sound, should show it."""
    pressure = expected(context).stations.get((tap, "pressure"))
    return at(context, ufloat(pressure.value, pressure.spread), "usual") if pressure is not None else None


def _usual_low(context: RunContext, back: UFloat) -> SideState | None:
    """The low side as expected, never warmer than the gas that comes back."""
    guess = _as_expected(context, "common_suction_tap")
    if guess is None or guess.dew.nominal_value <= back.nominal_value:
        return guess
    return around(
        context, back - ufloat(context.practice.si("dry_return"), context.practice.si("guess_uncertainty"))
    )

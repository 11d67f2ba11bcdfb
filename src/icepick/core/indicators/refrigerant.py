"""Saturation, superheat and subcooling of a running circuit. [the-trade.md 5]

By gauge where the side has one; otherwise from the coil's bend, with its wider band.
"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.readings import first_read
from icepick.core.circuit.saturation import SideState, liquid_state, state_of
from icepick.core.properties import formulas
from icepick.core.properties.propagation import propagate
from icepick.core.properties.refrigerants import OutsideRangeError

AT_COMPRESSOR = ("compressor_inlet", "common_suction")
"""Where suction gas enters the compressor, the better place first."""


def low_side(context: RunContext) -> SideState | None:
    """The low side at its suction end.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    SideState or None
        None where nothing tells it.
    """
    return state_of(context, context.circuit, "low") if context.circuit else None


def high_side(context: RunContext) -> SideState | None:
    """The high side at the compressor: head.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    SideState or None
        None where nothing tells it.
    """
    return state_of(context, context.circuit, "high") if context.circuit else None


def liquid_side(context: RunContext) -> SideState | None:
    """The high side at its liquid end.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    SideState or None
        None where nothing tells it.
    """
    return liquid_state(context, context.circuit) if context.circuit else None


def evaporating_temperature(context: RunContext) -> UFloat | None:
    """Dew temperature at suction pressure [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    low = low_side(context)
    return low.dew if low else None


def condensing_temperature(context: RunContext) -> UFloat | None:
    """Bubble temperature at the high side's pressure [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    high = high_side(context)
    return high.bubble if high else None


def liquid_stations(context: RunContext) -> tuple[str, ...]:
    """Stations between the condenser and the active metering device, the liquid service valve first where it carries
    liquid.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    tuple of str
        Codes, the surest first.
    """
    liquid = context.circuit.liquid if context.circuit else ()
    return ("liquid_line_outdoor", *liquid) if "liquid_line_outdoor" in liquid else liquid


def _first(context: RunContext, stations: tuple[str, ...]) -> UFloat | None:
    station = first_read(context.readings, stations)
    return context.temperature(station) if station else None


@remembered
def superheat(context: RunContext) -> UFloat | None:
    """Gas leaving the evaporator over dew [K]. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    low = low_side(context)
    value = _first(context, context.circuit.leaving_evaporator) if context.circuit else None
    return value - low.dew if low is not None and value is not None else None


@remembered
def charging_superheat(context: RunContext) -> UFloat | None:
    """What a fixed orifice's charging chart asks for in cooling [K]: (3 · return wet bulb − 80 − outdoor air) / 2 in °F.

    The rule of thumb behind the charts on most outdoor units. [common practice; from memory]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None outside cooling by air, where a chart shows none, or while a reading it needs is missing.
    """
    wet, outdoor = context.value("return_air", "wet_bulb"), context.temperature("outdoor_air_in")
    if context.running != "cooling" or context.unit.source != "air" or wet is None or outdoor is None:
        return None
    # In °F: (3 w − 80 − d) / 2; both offsets of 459.67 taken together, and 1 K = 1.8 °F.
    due = (3 * (wet * 1.8 - 459.67) - 80 - (outdoor * 1.8 - 459.67)) / 2 / 1.8
    return due if due.nominal_value > 0 else None


@remembered
def total_superheat(context: RunContext) -> UFloat | None:
    """Gas entering the compressor over dew [K]. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    low, value = low_side(context), _first(context, AT_COMPRESSOR)
    return value - low.dew if low is not None and value is not None else None


@remembered
def subcooling(context: RunContext) -> UFloat | None:
    """Bubble at the liquid's pressure over the liquid line [K]. [physics]

    Both are taken at the liquid service valve where they were read there and that pipe carries liquid.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    high, value = liquid_side(context), _first(context, liquid_stations(context))
    return high.bubble - value if high is not None and value is not None else None


@remembered
def lost_before_liquid_port(context: RunContext) -> UFloat | None:
    """Pressure [Pa] between head and the liquid line port, where that carries liquid and both were read. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [Pa]; None while a reading it needs is missing.
    """
    circuit = context.circuit
    if circuit is None or not circuit.is_on("liquid_service_tap", "high"):
        return None
    heads = [tap for tap in circuit.taps_on("high") if tap != "liquid_service_tap"]
    head = next((v for tap in heads if (v := context.value(tap, "pressure")) is not None), None)
    liquid = context.value("liquid_service_tap", "pressure")
    return None if head is None or liquid is None else head - liquid


@remembered
def pressure_before_flash(context: RunContext) -> UFloat | None:
    """Pressure [Pa] the liquid can still lose on its way to the metering device without a change of temperature.
    [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [Pa]; None while a reading it needs is missing.
    """
    high, value = liquid_side(context), _first(context, liquid_stations(context))
    if high is None or value is None:
        return None
    refrigerant = context.unit.refrigerant
    try:
        return propagate(lambda p, t: formulas.pressure_before_flash(refrigerant, p, t), high.pressure, value)
    except OutsideRangeError:
        return None


@remembered
def flash_fraction(context: RunContext) -> UFloat | None:
    """Share of the liquid that flashes at the active metering device, enthalpy unchanged. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Share [0…1]; None while a reading it needs is missing.
    """
    low = low_side(context)
    value = _first(context, context.circuit.liquid[::-1]) if context.circuit else None
    if low is None or value is None:
        return None
    refrigerant = context.unit.refrigerant
    try:
        return propagate(lambda t, dew: formulas.flash_fraction(refrigerant, t, dew), value, low.dew)
    except OutsideRangeError:
        return None

"""Temperature drops at metering devices and drier, in the direction of flow. [the-trade.md 4]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.document.roles import Part
from icepick.core.document.visit import Meter


def active_device(context: RunContext) -> Meter | None:
    """The description of the active metering device.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Meter or None
        None while no circuit runs.
    """
    if context.circuit is None:
        return None
    unit = context.unit
    return unit.indoor_meter if context.circuit.active_meter == "indoor" else unit.outdoor_meter


def is_orifice(context: RunContext) -> bool:
    """Whether a fixed orifice meters now: a piston or a cap tube.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False while no circuit runs.
    """
    device = active_device(context)
    return device is not None and device.kind in ("piston", "capillary")


@remembered
def drop(context: RunContext, part: Part | None) -> UFloat | None:
    """Temperature lost through a part [K]; None where the circuit has no such part, or an end is unread.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    part : Part or None
        A metering device or the drier; None where the circuit has none in question.

    Returns
    -------
    UFloat or None
        [K]; None where it has no ends, or one is unread.
    """
    pair = context.circuit.ends(part) if context.circuit and part else None
    if pair is None:
        return None
    before, after = (context.temperature(station) for station in pair)
    return None if before is None or after is None else before - after


def active_meter_drop(context: RunContext) -> UFloat | None:
    """Liquid before the active metering device minus what leaves it [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    return drop(context, context.circuit.active_part) if context.circuit else None


def bypassed_meter_drop(context: RunContext) -> UFloat | None:
    """Temperature lost through the bypassed metering device [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    return drop(context, context.circuit.bypassed_part) if context.circuit else None


def drier_drop(context: RunContext) -> UFloat | None:
    """Temperature lost through the filter drier [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        [K]; None while a reading it needs is missing.
    """
    return drop(context, "drier")

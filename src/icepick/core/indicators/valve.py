"""Four pipe temperatures at the reversing valve, turned into three figures. [trade.md section 3]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.context import RunContext
from icepick.core.examination import ApparentMode

VALVE_PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
"""The four pipes at the valve, in walking order."""


def spread(context: RunContext) -> UFloat | None:
    """Hottest minus coldest of the four pipes [K]; None unless all four are read."""
    values = [context.temperature(pipe) for pipe in VALVE_PIPES]
    present = [value for value in values if value is not None]
    if len(present) < len(VALVE_PIPES):
        return None
    present.sort(key=lambda value: value.nominal_value)
    return present[-1] - present[0]


def equalized(context: RunContext) -> bool:
    """Whether all four pipes read alike, by instruments good enough to say so."""
    apart, limit = spread(context), context.practice.si("equalized_spread")
    return apart is not None and apart.nominal_value <= limit + 1e-9 and apart.std_dev <= limit


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


def apparent_mode(context: RunContext) -> ApparentMode:
    """What the circuit is doing, whatever was commanded.

    ``neither`` for a slide in the middle or an equalized circuit; ``unknown`` while pipes are unread
    or the uncertainty reaches over the threshold.
    """
    if equalized(context):
        return "neither"
    index = position_index(context)
    if index is None:
        return "unknown"
    limit = context.practice.si("valve_position")
    if abs(abs(index.nominal_value) - limit) <= index.std_dev:
        return "unknown"
    if abs(index.nominal_value) < limit:
        return "neither"
    return "cooling" if index.nominal_value > 0 else "heating"


def ports(context: RunContext) -> tuple[str, str] | None:
    """(hot port, return port) as the circuit really runs; as commanded while that is not known."""
    if context.circuit is None:
        return None
    hot, back = context.circuit.hot_port, context.circuit.return_port
    apparent = apparent_mode(context)
    if apparent in ("heating", "cooling") and apparent != context.commanded:
        return back, hot
    return hot, back


def suction_rise(context: RunContext) -> UFloat | None:
    """Common suction minus the port that brings suction gas back [K]."""
    pair = ports(context)
    common, back = context.temperature("common_suction"), context.temperature(pair[1]) if pair else None
    return None if common is None or back is None else common - back


def discharge_drop(context: RunContext) -> UFloat | None:
    """Discharge line minus the port that carries hot gas away [K]."""
    pair = ports(context)
    discharge, hot = context.temperature("discharge_line"), context.temperature(pair[0]) if pair else None
    return None if discharge is None or hot is None else discharge - hot

"""Did the reversing valve shift, and all the way? [trade.md section 3]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, held_back, needs_readings, status_below
from icepick.core.context import RunContext
from icepick.core.examination import ApparentMode, Status
from icepick.core.indicators import valve
from icepick.core.quantities import Kind
from icepick.core.stations import station
from icepick.core.wording import say

_OTHER = {"cooling": "heating", "heating": "cooling"}

_OTHER_WAY_ROUND = (
    "{one} and {other} lie {amount} apart: the slide may stand the other way. Read all four pipes."
)
_NEAR_LIMIT = (
    "{amount} give or take {band} reaches over the limit: measure both pipes again, close to the valve."
)
_NO_SIDE = "This difference says nothing while the slide stands on neither side."


def _position(context: RunContext) -> Outcome | None:
    if context.commanded is None:
        return None
    missing = context.readings.missing(*valve.VALVE_PIPES)
    if missing:
        return needs_readings(missing)
    index = valve.position_index(context)
    towards = 1 if context.commanded == "cooling" else -1
    threshold = context.practice.si("valve_position")
    status, explain = _stands(valve.apparent_mode(context), context.commanded, index)
    outcome = Outcome(
        status,
        explain,
        index,
        margin=towards * index.nominal_value - threshold if index is not None else None,
        limit=towards * threshold,
    )
    return held_back(context, valve.VALVE_PIPES, outcome)


def _stands(apparent: ApparentMode, commanded: str, index: UFloat | None) -> tuple[Status, str]:
    if apparent == commanded:
        return "pass", f"Hot and cold stand as they should in {commanded}."
    if apparent == _OTHER[commanded]:
        return (
            "fail",
            f"Commanded {commanded}, but hot gas goes the {apparent} way: the slide is on the other side.",
        )
    if apparent == "neither" and index is None:
        return "fail", "All four pipes are nearly alike: the slide stands midway, or nothing is pumped."
    if apparent == "neither":
        return "fail", "Neither end port stands out hot or cold: the slide stands midway."
    if index is None:
        return (
            "watch",
            "The discharge line is not clearly hotter than common suction: "
            "the compressor is not pumping, or two clamps are swapped.",
        )
    return "watch", "The pipes are too close together to tell which way the slide stands."


def _suction_rise(context: RunContext) -> Outcome | None:
    pair = valve.ports(context)
    if pair is None:
        return None
    return _difference(
        context,
        valve.suction_rise(context),
        "valve_suction_rise",
        ("common_suction", pair[1]),
        high="Suction gas comes out of the valve {amount} warmer than it went in: discharge gas is "
        "getting past the slide.",
        good="Suction gas leaves the valve as it came: {amount} of rise.",
        reverse="Common suction reads {amount} colder than the {other} that feeds it: check both clamps.",
    )


def _discharge_drop(context: RunContext) -> Outcome | None:
    pair = valve.ports(context)
    if pair is None:
        return None
    return _difference(
        context,
        valve.discharge_drop(context),
        "valve_discharge_drop",
        ("discharge_line", pair[0]),
        high="Hot gas loses {amount} on its way through the valve: the slide is not fully over, or "
        "its seal is worn.",
        good="Hot gas leaves the valve as it came: {amount} of drop.",
        reverse="The {other} reads {amount} hotter than the discharge line feeding it: check both clamps.",
    )


def _difference(
    context: RunContext,
    value: UFloat | None,
    limit_name: str,
    pair: tuple[str, str],
    *,
    high: str,
    good: str,
    reverse: str,
) -> Outcome:
    """Judge one of the two differences at the valve.

    The sentences may name ``amount``, ``band``, ``one`` and ``other`` (the pipes of the pair).
    """
    if value is None:
        return needs_readings(context.readings.missing(*pair))
    limit = context.practice.si(limit_name)
    amount = say(abs(value.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
    band = say(value.std_dev, Kind.TEMPERATURE_DIFFERENCE, context.units)
    status, apparent = status_below(value, limit), valve.apparent_mode(context)
    words = high if status == "fail" else good
    if value.nominal_value + value.std_dev < -limit:
        status, words = "watch", _OTHER_WAY_ROUND if apparent == "unknown" else reverse
    elif status == "fail" and apparent == "unknown":
        status, words = "watch", _OTHER_WAY_ROUND
    elif status == "watch":
        words = _NEAR_LIMIT
    elif status == "pass" and apparent == "neither":
        status, words = "watch", _NO_SIDE
    explain = words.format(amount=amount, band=band, one=station(pair[0]).title, other=station(pair[1]).title)
    outcome = Outcome(status, explain[0].upper() + explain[1:], value, limit - value.nominal_value)
    return held_back(context, pair, outcome)


POSITION = CheckRule("valve.position", "slide position", Kind.RATIO, "valve_position", _position)
SUCTION_RISE = CheckRule(
    "valve.suction_rise",
    "suction rise",
    Kind.TEMPERATURE_DIFFERENCE,
    "valve_suction_rise",
    _suction_rise,
)
DISCHARGE_DROP = CheckRule(
    "valve.discharge_drop",
    "discharge drop",
    Kind.TEMPERATURE_DIFFERENCE,
    "valve_discharge_drop",
    _discharge_drop,
)

"""Absolute limits: what can hurt a machine now, whatever else is wrong with it. [the-trade.md 5]"""

from __future__ import annotations

from icepick.core.checks.departure import may_show
from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.document.wording import say
from icepick.core.indicators.compressor import current_share
from icepick.core.machine.expected import expected
from icepick.core.properties.quantities import Kind

_FREEZING = 273.15


def _discharge_limit(context: RunContext) -> Outcome | None:
    value = context.temperature("discharge_line")
    if context.commanded is None or value is None:
        return None
    most = context.practice.si("discharge_most")
    margin = most - float(value.nominal_value)
    said = say(float(value.nominal_value), Kind.TEMPERATURE, context.units)
    if margin > value.std_dev:
        return Outcome("pass", f"{said}.", value, margin)
    words = f"{said} on the pipe, and hotter inside: oil breaks down."
    if margin >= -value.std_dev:
        return Outcome("watch", f"{said}: near the limit, and hotter inside the pipe.", value, margin)
    sound = may_show(context, expected(context).stations.get(("discharge_line", "temperature")))
    if sound is not None and value.nominal_value <= sound:
        words += " This unit runs so hot in these conditions, sound: ask the manufacturer whether it may."
        return Outcome("watch", words, value, margin)
    return Outcome(
        "fail", f"{words} Stop it and find out why: ratio, suction superheat, charge.", value, margin
    )


def _current_limit(context: RunContext) -> Outcome | None:
    share = current_share(context)
    if context.commanded is None or share is None:
        return None
    over = share - 1
    most = context.practice.si("current_over")
    margin = most - float(over.nominal_value)
    said = f"{say(float(share.nominal_value), Kind.SHARE, context.units)} of the rated load current"
    if margin > over.std_dev:
        return Outcome("pass", f"{said}.", over, margin)
    if margin >= -over.std_dev:
        return Outcome("watch", f"{said}: near the limit.", over, margin)
    return Outcome(
        "fail",
        f"{said}. Stop it and find out why: head pressure, voltage, capacitor, bearings.",
        over,
        margin,
    )


def _freezing(context: RunContext) -> Outcome | None:
    """Water leaving the coil that evaporates: plain water near freezing, a mix by its own limit."""
    if context.circuit is None:
        return None
    side = "source" if context.circuit.evaporator == "outdoor_coil" else "load"
    if (context.unit.source if side == "source" else context.unit.load) != "water":
        return None
    value = context.temperature(f"{side}_water_out")
    if value is None:
        return None
    least = context.practice.si("water_freezing")
    margin = float(value.nominal_value) - least
    said = f"Water leaves at {say(float(value.nominal_value), Kind.TEMPERATURE, context.units)}"
    if margin > value.std_dev:
        return Outcome("pass", f"{said}.", value, margin)
    factor = context.value(f"{side}_water", "fluid_factor")
    if factor is not None and factor.nominal_value < context.practice.si("antifreeze_factor"):
        return Outcome(
            "pass", f"{said}: hold it to the freezing point of this antifreeze mix.", value, margin
        )
    if value.nominal_value - value.std_dev > _FREEZING:
        return Outcome(
            "watch",
            f"{said}: near freezing inside the coil, unless the loop holds antifreeze. Check the mix and the flow.",
            value,
            margin,
        )
    return Outcome(
        "fail",
        f"{said}: plain water freezes in the coil and bursts it. Stop it, or verify the antifreeze mix; then the flow.",
        value,
        margin,
    )


DANGER: tuple[CheckRule, ...] = (
    CheckRule(
        "danger.discharge_temperature",
        "discharge line limit",
        Kind.TEMPERATURE,
        "discharge_most",
        _discharge_limit,
    ),
    CheckRule("danger.current", "current over nameplate", Kind.SHARE, "current_over", _current_limit),
    CheckRule("danger.freezing", "leaving water", Kind.TEMPERATURE, "water_freezing", _freezing),
)
"""What comes before everything else on the ticket, in the order in which it can break something."""

"""Whether there is any liquid left to pump. [the-trade.md 3 and 5]"""

from __future__ import annotations

from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.saturation import gas_alone
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind


def _liquid_left(context: RunContext) -> Outcome | None:
    under = gas_alone(context)
    if under is None:
        return None
    amount = say(float(under.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
    words = (
        f"The high side stands {amount} below saturation at the coldest air or water around: no liquid is left, and so "
        "little gas moves no slide. Find the leak and weigh in the charge before the valve or the compressor is judged."
    )
    margin = context.practice.si("standing_difference") - float(under.nominal_value)
    return Outcome("fail", words, under, margin)


LIQUID_LEFT = CheckRule(
    "charge.liquid_left",
    "liquid left in the circuit",
    Kind.TEMPERATURE_DIFFERENCE,
    "standing_difference",
    _liquid_left,
)

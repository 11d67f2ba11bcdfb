"""Heat by the water side: four readings, before any gauge on the refrigerant. [trade.md section 5]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, needs_readings
from icepick.core.context import RunContext
from icepick.core.document import Power
from icepick.core.indicators import exchange
from icepick.core.indicators.valve import running_mode
from icepick.core.quantities import Kind
from icepick.core.wording import say

_PORTS = ("source_water_in", "source_water_out")


def _asked(context: RunContext) -> bool:
    return context.unit.source == "water" and any(
        context.value(port, quantity) is not None
        for port in _PORTS
        for quantity in ("temperature", "pressure")
    )


def _missing(context: RunContext) -> list[str]:
    missing = context.readings.missing(*_PORTS)
    if exchange.water_flow(context, "source") is None:
        rows = context.unit.design.water_flow_table if context.unit.design else None
        unread = [port for port in _PORTS if context.value(port, "pressure") is None]
        missing += [port for port in unread if port not in missing] if rows and unread else ["source_water"]
    return missing


def _against(context: RunContext, heat: UFloat, stated: Power, word: str) -> Outcome:
    share = heat / stated.si
    short = context.practice.si("water_shortfall")
    far = context.practice.si("water_excess")
    amount = say(float(heat.nominal_value), Kind.POWER, context.units)
    said = f"{amount} {word}, of {say(stated.si, Kind.POWER, context.units)} by the maker"
    number, band = float(share.nominal_value), float(share.std_dev)
    margin = number - (1 - short)
    if "desuperheater_off" not in context.observed:
        said += "; be sure that the desuperheater is off"
    if abs(margin) <= band:
        return Outcome(
            "watch",
            f"{said}: near the limit. Read flow and both temperatures again.",
            share,
            margin,
            limit=1 - short,
        )
    if margin < 0:
        return Outcome(
            "fail", f"{said}: it does not work properly. {_why(context)}", share, margin, limit=1 - short
        )
    if number - band > 1 + far:
        return Outcome(
            "watch",
            f"{said}: more than the machine can do. Doubt the flow and the thermometer first.",
            share,
            margin,
            limit=1 - short,
        )
    return Outcome("pass", f"{said}.", share, margin, limit=1 - short)


def _why(context: RunContext) -> str:
    """Low flow shows in the water's own difference, a fouled coil in how far the refrigerant stands from it."""
    before, after = (context.temperature(port) for port in _PORTS)
    assert before is not None
    assert after is not None
    difference = before - after if before.nominal_value > after.nominal_value else after - before
    wide = context.practice.si("water_difference")
    amount = say(float(difference.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
    if difference.nominal_value > wide:
        return f"The water changes by {amount}, more than usual: look at the flow first."
    return f"The water changes by {amount} only: look at coil and refrigerant; gauges are worth their hook-up now."


def _side(context: RunContext, mode: str, word: str) -> Outcome | None:
    if running_mode(context) != mode or not _asked(context):
        return None
    design = context.unit.design
    stated = (
        (design.heat_of_extraction if mode == "heating" else design.heat_of_rejection) if design else None
    )
    heat = exchange.water_heat(context, "source")
    if heat is None:
        return needs_readings(_missing(context))
    taken = heat if mode == "heating" else -heat
    if taken.nominal_value + taken.std_dev < 0:
        return Outcome(
            "watch",
            "The water changes the wrong way for this mode: are inlet and outlet exchanged?",
            taken * 0,
        )
    if stated is None:
        amount = say(float(taken.nominal_value), Kind.POWER, context.units)
        return Outcome(
            "watch", f"{amount} {word}. The maker's figure is not in the unit's data: nothing to hold it to."
        )
    return _against(context, taken, stated, word)


EXTRACTION = CheckRule(
    "water.extraction",
    "heat of extraction",
    Kind.SHARE,
    "water_shortfall",
    lambda c: _side(c, "heating", "taken from the water"),
)
REJECTION = CheckRule(
    "water.rejection",
    "heat of rejection",
    Kind.SHARE,
    "water_shortfall",
    lambda c: _side(c, "cooling", "given to the water"),
)

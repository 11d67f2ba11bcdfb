"""Heat by the water side: four readings, before any gauge on the refrigerant. [the-trade.md 5]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.departure import should_show, with_band
from icepick.core.checks.rule import CheckRule, Outcome, needs_readings
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import at_full_load, load_noted
from icepick.core.document.roles import FlowMode
from icepick.core.document.wording import say
from icepick.core.indicators import exchange
from icepick.core.machine.expected import Value, at_rating
from icepick.core.machine.sizing import rating
from icepick.core.properties.quantities import Kind

TEN_DEGREES = 10 / 1.8
"""Ten degrees Fahrenheit [K]: what the trade's rules count changes by."""
PORTS = ("source_water_in", "source_water_out")


def _asked(context: RunContext) -> bool:
    return context.unit.source == "water" and any(
        context.value(port, quantity) is not None
        for port in PORTS
        for quantity in ("temperature", "pressure")
    )


def _missing(context: RunContext) -> list[str]:
    missing = context.readings.missing(*PORTS)
    if exchange.water_flow(context, "source") is None:
        rows = context.unit.design.water_flow_table if context.unit.design else None
        unread = [port for port in PORTS if context.value(port, "pressure") is None]
        missing += [port for port in unread if port not in missing] if rows and unread else ["source_water"]
    return missing


def stated_heat(context: RunContext, mode: FlowMode) -> float | None:
    """The manufacturer's heat of extraction or rejection [W], at rated water and flow.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    mode : FlowMode
        The mode the circuit runs in.

    Returns
    -------
    float or None
        [W]; None where it states none.
    """
    design = context.unit.design
    stated = design and (design.heat_of_extraction if mode == "heating" else design.heat_of_rejection)
    return stated.si if stated else None


def expected_heat(context: RunContext, mode: FlowMode) -> Value | None:
    """Heat that the source water should carry here [W], with its band.

    Where the manufacturer states what it carries at its rating, the machine model says how much of that is left with this
    water, and the farther from the rating, the less is known; else the model alone, of a unit whose capacity is known.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    mode : FlowMode
        The mode the circuit runs in.

    Returns
    -------
    Value or None
        [W]; None where there is nothing to hold it to, or the water is unread.
    """
    stated, entering = stated_heat(context, mode), context.temperature("source_water_in")
    should = should_show(context, "water_capacity")
    if should is None or entering is None or not (at_full_load(context) or load_noted(context)):
        return None
    if stated is None:
        return should if context.unit.nominal_capacity is not None else None
    share = should.value / at_rating(context.unit, mode)["water_capacity"]
    tens = abs(float(entering.nominal_value) - float(rating(context.unit, mode).outdoor)) / TEN_DEGREES
    return Value(stated * share, stated * share * tens * context.practice.si("rating_water_band"))


def _against(context: RunContext, heat: UFloat, should: Value, mode: FlowMode) -> Outcome:
    share = heat / should.value
    short, far = (
        context.practice.si(f"water_{way}") + should.spread / should.value for way in ("shortfall", "excess")
    )
    stated, amount = stated_heat(context, mode), say(float(heat.nominal_value), Kind.POWER, context.units)
    said = f"{amount} {'extracted from' if mode == 'heating' else 'rejected to'} the water; this unit should move "
    said += f"{with_band(should, Kind.POWER, context.units)} here"
    if stated is not None:
        said += f" ({say(stated, Kind.POWER, context.units)} rated)"
    number, band = float(share.nominal_value), float(share.std_dev)
    margin = number - (1 - short)
    if "desuperheater_off" not in context.observed:
        said += "; be sure that the desuperheater is off"
    if number - band > 1 + far:
        return Outcome(
            "watch",
            f"{said}: more than the machine can do. Doubt the flow and the thermometer first.",
            share,
            margin,
            limit=1 - short,
        )
    if margin > band:
        return Outcome("pass", f"{said}.", share, margin, limit=1 - short)
    if abs(margin) <= band:
        return Outcome(
            "watch",
            f"{said}: near the limit. Read flow and both temperatures again.",
            share,
            margin,
            limit=1 - short,
        )
    return Outcome("fail", f"{said}: it falls short. {_why(context)}", share, margin, limit=1 - short)


def _why(context: RunContext) -> str:
    """Low flow shows in the water's own difference, a fouled coil in how far the refrigerant stands from it."""
    before, after = (context.temperature(port) for port in PORTS)
    assert before is not None
    assert after is not None
    difference = before - after if before.nominal_value > after.nominal_value else after - before
    wide = context.practice.si("water_difference" if context.running == "heating" else "water_rise")
    amount = say(float(difference.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
    if difference.nominal_value > wide:
        return f"The water changes by {amount}, more than normal: look at the flow first."
    return (
        f"The water changes by only {amount}: look at coil and refrigerant; gauges are worth hooking up now."
    )


def _side(context: RunContext, mode: FlowMode) -> Outcome | None:
    if context.running != mode or not _asked(context):
        return None
    heat = exchange.water_heat(context, "source")
    if heat is None:
        return needs_readings(_missing(context), context)
    taken = heat if mode == "heating" else -heat
    if taken.nominal_value + taken.std_dev < 0:
        return Outcome(
            "watch",
            "The water changes the wrong way for this mode: are inlet and outlet exchanged?",
            taken * 0,
        )
    should = expected_heat(context, mode)
    if should is None:
        amount = say(float(taken.nominal_value), Kind.POWER, context.units)
        word = "extracted from" if mode == "heating" else "rejected to"
        why = "Neither nominal capacity nor the manufacturer's figure is in the unit's data"
        if not (at_full_load(context) or load_noted(context)):
            why = "The stage or speed of the compressor is not known"
        return Outcome("watch", f"{amount} {word} the water. {why}: nothing to hold it to.")
    return _against(context, taken, should, mode)


EXTRACTION = CheckRule(
    "water.extraction",
    "heat of extraction",
    Kind.SHARE,
    "water_shortfall",
    lambda c: _side(c, "heating"),
)
REJECTION = CheckRule(
    "water.rejection",
    "heat of rejection",
    Kind.SHARE,
    "water_shortfall",
    lambda c: _side(c, "cooling"),
)

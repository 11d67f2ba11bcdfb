"""Heat by the water side: four readings, before any gauge on the refrigerant. [the-trade.md 5]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, needs_readings
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.usual import TEN_DEGREES, at_full_load, extraction_share, load_noted
from icepick.core.document.roles import FlowMode
from icepick.core.document.wording import say
from icepick.core.indicators import exchange
from icepick.core.properties.quantities import Kind

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


def expected_heat(context: RunContext, mode: FlowMode) -> tuple[float, float] | None:
    """What of the stated heat is expected at the water that enters [W], and the share by which the limit widens.

    Less is taken from colder water, and the farther from the rating point, the less is known. [physics; the rating
    point is taken from ISO 13256-1]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    mode : FlowMode
        The mode the circuit runs in.

    Returns
    -------
    (float, float) or None
        Heat [W] and share [0…1]; None where nothing is stated or the water is unread.
    """
    stated, entering = stated_heat(context, mode), context.temperature("source_water_in")
    if stated is None or entering is None:
        return None
    word = "extraction" if mode == "heating" else "rejection"
    tens = (float(entering.nominal_value) - context.practice.si(f"{word}_rating_water")) / TEN_DEGREES
    share = extraction_share(context) if mode == "heating" else 1.0
    return share * stated, abs(tens) * context.practice.si("rating_water_band")


def _against(context: RunContext, heat: UFloat, expected: tuple[float, float], mode: FlowMode) -> Outcome:
    share = heat / expected[0]
    short, far = (context.practice.si(f"water_{way}") + expected[1] for way in ("shortfall", "excess"))
    stated = stated_heat(context, mode)
    assert stated is not None
    amounts = [
        say(watts, Kind.POWER, context.units) for watts in (float(heat.nominal_value), expected[0], stated)
    ]
    word = "extracted from" if mode == "heating" else "rejected to"
    said = f"{amounts[0]} {word} the water"
    said += f"; about {amounts[1]} is expected with this water ({amounts[2]} rated)"
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
    wide = context.practice.si("water_difference")
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
    expected = expected_heat(context, mode)
    if expected is None or not at_full_load(context):
        amount = say(float(taken.nominal_value), Kind.POWER, context.units)
        word = "extracted from" if mode == "heating" else "rejected to"
        load = "at part load" if load_noted(context) else "not known to be"
        why = (
            "The manufacturer's figure is not in the unit's data"
            if expected is None
            else f"The manufacturer's figure is for full load, and this run is {load}"
        )
        return Outcome("watch", f"{amount} {word} the water. {why}: nothing to hold it to.")
    return _against(context, taken, expected, mode)


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

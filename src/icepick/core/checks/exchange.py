"""Do both coils move the heat they should? [the-trade.md 5 and 6]"""

from __future__ import annotations

from dataclasses import replace

from uncertainties import UFloat, ufloat

from icepick.core.checks.departure import judge_departure, least_here, most_here, should_show, with_band
from icepick.core.checks.rule import CheckRule, Outcome, magnitude, status_below
from icepick.core.checks.superheat import judge_subcooling
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import at_full_load
from icepick.core.document.wording import say
from icepick.core.indicators import balance, exchange, refrigerant
from icepick.core.indicators.metering import is_orifice
from icepick.core.machine.parameters import of
from icepick.core.properties.quantities import Kind

_DELTA = Kind.TEMPERATURE_DIFFERENCE


def _words(context: RunContext, value: UFloat | float) -> str:
    number = value if isinstance(value, float) else float(value.nominal_value)
    return say(number, _DELTA, context.units)


def _total_superheat(context: RunContext) -> Outcome | None:
    value = refrigerant.total_superheat(context)
    if context.circuit is None or value is None:
        return None
    amount, limits = _words(context, value), context.practice.si
    least = least_here(context, "total_superheat", "total_superheat_least")
    most = most_here(context, "total_superheat", "total_superheat_most")
    number, band = float(value.nominal_value), float(value.std_dev)
    margin = min(number - least, most - number)
    if number < limits("total_superheat_least") and number >= least - band:
        words = f"{amount} at the compressor, as this unit shows in these conditions, sound"
        if is_orifice(context) and context.running == "heating":
            return Outcome("pass", f"{words}: normal for a fixed orifice in heating.", value)
        return Outcome("watch", f"{words}: but some liquid may reach it.", value, margin)
    if abs(margin) <= band:
        return Outcome("watch", f"{amount} at the compressor: near the limit.", value, margin)
    if margin > 0:
        return Outcome("pass", f"{amount} at the compressor.", value, margin)
    if number < least and is_orifice(context) and context.running == "heating":
        words = f"{amount} at the compressor: liquid reaches it, as a fixed orifice in heating lets it."
        return Outcome("watch", words, value, margin)
    if number < least:
        return Outcome("fail", f"{amount} at the compressor: floodback, liquid reaches it.", value, margin)
    return Outcome("fail", f"{amount} at the compressor: hot suction gas overheats it.", value, margin)


def _departure(
    context: RunContext, value: UFloat | None, figure: str, tolerance: str, high: str, low: str
) -> Outcome | None:
    should = should_show(context, figure)
    if value is None or should is None:
        return None
    tolerated = context.practice.si(tolerance)
    return judge_departure(
        context, value, should, tolerated, _DELTA, what=_CALLED[figure], above=high, below=low
    )


_CALLED = {
    "evaporator_split": "Evaporator split",
    "condenser_split": "Condenser split",
    "air_difference": "Air split",
}


def _evaporator_split(context: RunContext) -> Outcome | None:
    return _departure(
        context,
        exchange.evaporator_split(context),
        "evaporator_split",
        "split_deviation",
        "a starved evaporator, or too little air or water over it",
        "the evaporator is overfed, or little is pumped",
    )


def _condenser_split(context: RunContext) -> Outcome | None:
    return _departure(
        context,
        exchange.condenser_split(context),
        "condenser_split",
        "split_deviation",
        "too little air or water over the condenser, dirt, overcharge, or noncondensables",
        "little is pumped, or the charge is low",
    )


def _air_difference(context: RunContext) -> Outcome | None:
    """Never more than ``watch``: air is seldom mixed well where it is read."""
    returned, supplied = context.temperature("return_air"), context.temperature("supply_air")
    if returned is None or supplied is None:
        return None
    found = _departure(
        context,
        returned - supplied if context.running == "cooling" else supplied - returned,
        "air_difference",
        "air_split_band",
        "too little air is the usual reason",
        "little heat, or much air, is moved",
    )
    return replace(found, status="watch") if found and found.status == "fail" else found


def _airflow(context: RunContext) -> Outcome | None:
    """A measured airflow against 400 cfm a ton, or the manufacturer's; at full load alone: a slowed blower is no fault there.

    A wet coil and a long duct move less than a dry one: what is a little short is no finding.
    """
    flow, design, nominal = exchange.airflow(context), context.unit.design, context.unit.nominal_capacity
    if flow is None or flow.source not in ("measured", "heater") or not at_full_load(context):
        return None
    if context.unit.heads or context.run.circuit is not None or context.defrosting:
        return None
    stated = design.indoor_airflow if design is not None else None
    if stated is None and nominal is None:
        return None
    due = stated.si if stated is not None else of("indoor_airflow") * nominal.si  # type: ignore[union-attr]
    short, most = 1 - flow.value / due, context.practice.si("airflow_short")
    said, belongs = (
        say(value, Kind.AIR_FLOW, context.units) for value in (float(flow.value.nominal_value), due)
    )
    words = f"{said} where {belongs} belong"
    status = status_below(short, most)
    more = {
        "fail": f"{words}: filter, coil, blower speed, duct.",
        "watch": f"{words}: on the low side, measure it again.",
    }
    return Outcome(
        status, more.get(status, f"{words}."), short, most - float(short.nominal_value), limit=most
    )


_FLOW_WORDS = {
    "measured": "airflow as read",
    "heater": "airflow by the backup heater",
    "maker": "airflow as the manufacturer states",
}


def _capacity(context: RunContext) -> Outcome | None:
    """Like held to like: sensible heat to sensible heat, total to total. With an airflow that is only assumed it would be
    the air's difference once more."""
    value, flow = exchange.air_capacity(context), exchange.airflow(context)
    total = context.running == "heating" or exchange.is_total(context)
    should = should_show(context, "air_heat_total" if total else "air_heat_sensible")
    if (
        value is None
        or should is None
        or flow is None
        or flow.source == "assumed"
        or context.unit.nominal_capacity is None
        or should.value <= 0
    ):
        return None
    sort = "heat" if context.running == "heating" else "total" if total else "sensible"
    found, short = value / ufloat(should.value, should.spread), context.practice.si("capacity_shortfall")
    margin = float(found.nominal_value) - (1 - short)
    said = (
        f"{say(float(value.nominal_value), Kind.POWER, context.units)} {sort}; this unit should move "
        f"{with_band(should, Kind.POWER, context.units)} here, {_FLOW_WORDS[flow.source]}"
    )
    if abs(margin) <= found.std_dev:
        return Outcome(
            "watch", f"{said}: near the limit. Measure the airflow.", found, margin, limit=1 - short
        )
    if margin < 0:
        return Outcome("fail", f"{said}: it falls short.", found, margin, limit=1 - short)
    most = 1 + context.practice.si("capacity_excess")
    if found.nominal_value - found.std_dev > most:
        words = f"{said}: more than it can. Measure the airflow and the air again."
        return Outcome("watch", words, found, most - float(found.nominal_value), limit=most)
    return Outcome("pass", f"{said}.", found, margin, limit=1 - short)


def _frost_margin(context: RunContext) -> Outcome | None:
    value, circuit = exchange.frost_margin(context), context.circuit
    if value is None or circuit is None:
        return None
    amount = _words(context, magnitude(value))
    if value.nominal_value > value.std_dev:
        return Outcome(
            "pass",
            f"The coil is {amount} warmer than the frost point: it stays clear.",
            value,
            float(value.nominal_value),
        )
    split, usual = exchange.evaporator_split(context), should_show(context, "evaporator_split")
    if split is not None and usual is not None:
        far = usual.value + max(usual.spread, context.practice.si("split_deviation"))
        if split.nominal_value - split.std_dev > far:
            return Outcome(
                "watch",
                f"Frost forms, {amount} below its point, on a coil far colder than normal: find out why.",
                value,
            )
    return Outcome(
        "pass",
        f"Frost forms, {amount} below its point: normal in this weather, and for the defrost to clear.",
        value,
    )


def _noncondensables(context: RunContext) -> Outcome | None:
    circuit, high = context.circuit, refrigerant.high_side(context)
    bend = context.temperature(circuit.condenser) if circuit else None
    if high is None or high.source != "gauge" or bend is None:
        return None
    over = (high.bubble + high.dew) / 2 - bend
    limit = context.practice.si("bend_offset")
    status, amount = status_below(over, limit), _words(context, over)
    words = {
        "pass": f"Bend and gauge agree within {_words(context, magnitude(over))}.",
        "watch": f"The gauge claims {amount} more than the condenser's bend shows: near the limit.",
        "fail": f"The gauge claims {amount} more than the condenser's bend shows: noncondensables add their pressure. "
        "Standing pressure with the unit off, all at one temperature, settles it.",
    }[status]
    return Outcome(status, words, over, limit - over.nominal_value)


_TERMS: dict[balance.Term, str] = {"rejected": "rejected", "taken_up": "taken up", "work": "put in as work"}


def _balance(context: RunContext) -> Outcome | None:
    found = balance.balance(context)
    if found is None:
        return None
    share, limit = found.share, context.practice.si("balance_tolerance")
    status, amount = (
        status_below(magnitude(share), limit),
        say(abs(share.nominal_value), Kind.SHARE, context.units),
    )
    terms: dict[balance.Term, UFloat] = {
        "rejected": found.rejected,
        "taken_up": found.taken_up,
        "work": found.work,
    }
    said = ", ".join(
        f"{say(float(value.nominal_value), Kind.POWER, context.units)} {_TERMS[term]}"
        f"{' (by the cycle)' if term == found.by_cycle else ''}"
        for term, value in terms.items()
    )
    over = "too much is rejected" if share.nominal_value > 0 else "too little is rejected"
    words = {
        "pass": f"{said}: it adds up within {amount}.",
        "watch": f"{said}: {amount} does not add up, which is within its band.",
        "fail": f"{said}: {over}, by {amount}. Doubt a flow or a thermometer before the machine.",
    }[status]
    return Outcome(status, words, share, limit - abs(share.nominal_value))


BALANCE = CheckRule(
    "exchange.balance", "heat balance", Kind.SHARE, "balance_tolerance", _balance, while_flowing=True
)
SUBCOOLING = CheckRule(
    "exchange.subcooling", "subcooling", _DELTA, "subcooling_tolerance", judge_subcooling, while_flowing=True
)
TOTAL_SUPERHEAT = CheckRule(
    "exchange.total_superheat",
    "superheat at the compressor",
    _DELTA,
    "total_superheat_most",
    _total_superheat,
    while_flowing=True,
)
EVAPORATOR_SPLIT = CheckRule(
    "exchange.evaporator_split",
    "evaporator TD",
    _DELTA,
    "split_deviation",
    _evaporator_split,
    while_flowing=True,
)
CONDENSER_SPLIT = CheckRule(
    "exchange.condenser_split",
    "condenser split",
    _DELTA,
    "split_deviation",
    _condenser_split,
    while_flowing=True,
)
AIR_DIFFERENCE = CheckRule(
    "exchange.air_difference", "temperature split (ΔT)", _DELTA, "air_split_band", _air_difference
)
AIRFLOW = CheckRule("exchange.airflow", "indoor airflow", Kind.SHARE, "airflow_short", _airflow)
CAPACITY = CheckRule(
    "exchange.capacity", "capacity by air", Kind.SHARE, "capacity_shortfall", _capacity, while_flowing=True
)
FROST_MARGIN = CheckRule(
    "exchange.frost_margin", "frost margin", _DELTA, "split_deviation", _frost_margin, while_flowing=True
)
NONCONDENSABLES = CheckRule(
    "exchange.noncondensables",
    "gauge against bend",
    _DELTA,
    "bend_offset",
    _noncondensables,
    while_flowing=True,
)

EXCHANGE: tuple[CheckRule, ...] = (
    TOTAL_SUPERHEAT,
    SUBCOOLING,
    EVAPORATOR_SPLIT,
    CONDENSER_SPLIT,
    AIRFLOW,
    AIR_DIFFERENCE,
    CAPACITY,
    BALANCE,
    FROST_MARGIN,
    NONCONDENSABLES,
)
"""The checks of this module, in the order in which a technician works."""

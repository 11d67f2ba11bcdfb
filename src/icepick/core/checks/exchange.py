"""Do both coils move the heat they should? [the-trade.md 5 and 6]"""

from __future__ import annotations

from uncertainties import UFloat, nominal_value, ufloat

from icepick.core.checks.rule import CheckRule, Outcome, magnitude, status_below
from icepick.core.checks.superheat import judge_subcooling
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.usual import air_difference, air_per_watt, capacity_share, holds, usual_split
from icepick.core.document.roles import Role
from icepick.core.document.wording import say
from icepick.core.indicators import balance, exchange, refrigerant
from icepick.core.indicators.metering import is_orifice
from icepick.core.properties import formulas
from icepick.core.properties.quantities import Kind

_DELTA = Kind.TEMPERATURE_DIFFERENCE


def _words(context: RunContext, value: UFloat | float) -> str:
    number = value if isinstance(value, float) else float(value.nominal_value)
    return say(number, _DELTA, context.units)


def _total_superheat(context: RunContext) -> Outcome | None:
    value = refrigerant.total_superheat(context)
    if context.circuit is None or value is None:
        return None
    amount, most = _words(context, value), context.practice.si("total_superheat_most")
    least = context.practice.si("total_superheat_least")
    if is_orifice(context) and context.running == "heating" and value.nominal_value < most:
        return Outcome(
            "pass", f"{amount} at the compressor, which is normal for a fixed orifice in heating.", value
        )
    margin = min(value.nominal_value - least, most - value.nominal_value)
    if abs(margin) <= value.std_dev:
        return Outcome("watch", f"{amount} at the compressor: near the limit.", value, margin)
    if margin > 0:
        return Outcome("pass", f"{amount} at the compressor.", value, margin)
    if value.nominal_value < least:
        return Outcome("fail", f"{amount} at the compressor: floodback, liquid reaches it.", value, margin)
    return Outcome("fail", f"{amount} at the compressor: hot suction gas overheats it.", value, margin)


def _split(context: RunContext, value: UFloat | None, role: Role, high: str, low: str) -> Outcome | None:
    """Beyond the usual deviation a split is ``watch``; beyond twice that it fails."""
    circuit = context.circuit
    if circuit is None or value is None or not holds(context):
        return None
    usual, far = usual_split(context, circuit, role), context.practice.si("split_deviation")
    off = value - usual
    said = f"{_words(context, value)}, normal is about {_words(context, usual)}"
    margin = far - abs(off.nominal_value)
    if margin + value.std_dev >= 0:
        return Outcome("pass", f"{said}.", value, margin, limit=usual)
    words = f"{said}: {high if off.nominal_value > 0 else low}."
    beyond = abs(off.nominal_value) - off.std_dev > 2 * far
    return Outcome("fail" if beyond else "watch", words, value, margin, limit=usual)


def _evaporator_split(context: RunContext) -> Outcome | None:
    return _split(
        context,
        exchange.evaporator_split(context),
        "low",
        "a starved evaporator, or too little air or water over it",
        "the evaporator is overfed, or little is pumped",
    )


def _condenser_split(context: RunContext) -> Outcome | None:
    return _split(
        context,
        exchange.condenser_split(context),
        "high",
        "too little air or water over the condenser, dirt, overcharge, or noncondensables",
        "little is pumped, or the charge is low",
    )


def _air_difference(context: RunContext) -> Outcome | None:
    expected = air_difference(context)
    returned, supplied = context.temperature("return_air"), context.temperature("supply_air")
    if context.unit.load != "air" or expected is None or returned is None or supplied is None:
        return None
    value = returned - supplied if context.running == "cooling" else supplied - returned
    usual, band = expected
    margin = band - abs(value.nominal_value - usual)
    said = f"{_words(context, value)}, about {_words(context, usual)} is normal at these conditions"
    if margin + value.std_dev >= 0:
        return Outcome("pass", f"{said}.", value, margin, limit=usual)
    why = (
        "too little air is the usual reason"
        if value.nominal_value > usual
        else "little heat, or much air, is moved"
    )
    return Outcome("watch", f"{said}: {why}.", value, margin, limit=usual)


def _sensible_share(context: RunContext) -> UFloat:
    """Sensible heat as a share of the total in cooling: by the return air's wet bulb, else the usual one."""
    share, expected = capacity_share(context), air_difference(context)
    returned = context.temperature("return_air")
    if (
        context.value("return_air", "wet_bulb") is None
        or share is None
        or expected is None
        or returned is None
    ):
        return ufloat(context.practice.si("sensible_share"), context.practice.si("sensible_share_band"))
    sensible = formulas.sensible_heat(1.0, expected[0], context.atmosphere, float(returned.nominal_value))
    found = sensible * air_per_watt(context) / share
    return ufloat(min(found, 1.0), context.practice.si("sensible_share_band") / 2)


_FLOW_WORDS = {
    "measured": "airflow as read",
    "heater": "airflow by the backup heater",
    "maker": "airflow as the manufacturer states",
}


def _capacity(context: RunContext) -> Outcome | None:
    """Like held to like: sensible heat to sensible heat, total to total. With an airflow that is only assumed it would be
    the air's difference once more."""
    value, share = exchange.air_capacity(context), capacity_share(context)
    flow, nominal = exchange.airflow(context), context.unit.nominal_capacity
    if value is None or share is None or flow is None or nominal is None or flow.source == "assumed":
        return None
    expected: UFloat | float
    expected, sort = nominal.si * share, "total"
    if context.running == "heating":
        sort = "heat"
    elif not exchange.is_total(context):
        expected, sort = expected * _sensible_share(context), "sensible"
    found, short = value / expected, context.practice.si("capacity_shortfall")
    margin = float(found.nominal_value) - (1 - short)
    said = (
        f"{say(float(value.nominal_value), Kind.POWER, context.units)} {sort}, of about "
        f"{say(nominal_value(expected), Kind.POWER, context.units)} at these conditions, {_FLOW_WORDS[flow.source]}"
    )
    if abs(margin) <= found.std_dev:
        return Outcome(
            "watch", f"{said}: near the limit. Measure the airflow.", found, margin, limit=1 - short
        )
    if margin < 0:
        return Outcome("fail", f"{said}: it falls short.", found, margin, limit=1 - short)
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
    split = exchange.evaporator_split(context)
    if split is not None and holds(context):
        usual = usual_split(context, circuit, "low") + context.practice.si("split_deviation")
        if split.nominal_value - split.std_dev > usual:
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
    "condensing over ambient",
    _DELTA,
    "split_deviation",
    _condenser_split,
    while_flowing=True,
)
AIR_DIFFERENCE = CheckRule(
    "exchange.air_difference", "temperature split (ΔT)", _DELTA, "air_split_band", _air_difference
)
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
    AIR_DIFFERENCE,
    CAPACITY,
    BALANCE,
    FROST_MARGIN,
    NONCONDENSABLES,
)
"""The checks of this module, in the order in which a technician works."""

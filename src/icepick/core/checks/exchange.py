"""Do both coils move the heat they should? [trade.md sections 5 and 6]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, held_to_target, magnitude, status_below
from icepick.core.checks.superheat import against_target, makers_target
from icepick.core.circuit import Role
from icepick.core.context import RunContext
from icepick.core.indicators import balance, compressor, exchange, refrigerant
from icepick.core.indicators.metering import working_meter
from icepick.core.indicators.valve import running_circuit, running_mode
from icepick.core.quantities import Kind
from icepick.core.saturation import usual_split
from icepick.core.wording import say

_DELTA = Kind.TEMPERATURE_DIFFERENCE


def _words(context: RunContext, value: UFloat | float) -> str:
    number = value if isinstance(value, float) else float(value.nominal_value)
    return say(number, _DELTA, context.units)


def _superheat(context: RunContext) -> Outcome | None:
    return against_target(
        context, "part of the evaporator only warms gas", "liquid leaves the evaporator unboiled"
    )


def _subcooling(context: RunContext) -> Outcome | None:
    circuit, value, target = running_circuit(context), refrigerant.subcooling(context), makers_target(context)
    if circuit is None or value is None:
        return None
    stated = target.subcooling.si if target is not None and target.subcooling is not None else None
    if circuit.mode == "heating" and stated is None:
        return Outcome(
            "pass",
            f"{_words(context, value)}, and no verdict on the charge: how much sits in the accumulator is unknown in "
            "heating. Enter the maker's heating chart, weigh the charge in, or judge it in cooling.",
        )
    aim = stated if stated is not None else context.practice.si("subcooling_target")
    return held_to_target(
        context,
        value,
        aim,
        context.practice.si("subcooling_tolerance"),
        above="liquid backs up in the condenser, or another gas lifts the gauge",
        below="too little liquid is left in the condenser",
    )


def _total_superheat(context: RunContext) -> Outcome | None:
    circuit, value, meter = (
        running_circuit(context),
        refrigerant.total_superheat(context),
        working_meter(context),
    )
    if circuit is None or value is None or meter is None:
        return None
    amount, most = _words(context, value), context.practice.si("total_superheat_most")
    least = context.practice.si("dry_return")
    if meter.kind in ("piston", "capillary") and circuit.mode == "heating" and value.nominal_value < most:
        return Outcome(
            "pass", f"{amount} at the compressor; little is usual for a fixed orifice in heating.", value
        )
    margin = min(value.nominal_value - least, most - value.nominal_value)
    if abs(margin) <= value.std_dev:
        return Outcome("watch", f"{amount} at the compressor: near the edge.", value, margin)
    if margin > 0:
        return Outcome("pass", f"{amount} at the compressor.", value, margin)
    why = (
        "liquid may reach the compressor"
        if value.nominal_value < least
        else "hot suction gas cooks the compressor"
    )
    return Outcome("fail", f"{amount} at the compressor: {why}.", value, margin)


def _split(context: RunContext, value: UFloat | None, role: Role, high: str, low: str) -> Outcome | None:
    """Beyond the usual deviation a split is ``watch``; beyond twice that it fails."""
    circuit = running_circuit(context)
    if circuit is None or value is None or context.run.mode == "defrost":
        return None
    usual, far = usual_split(context, circuit, role), context.practice.si("split_deviation")
    off = value - usual
    said = f"{_words(context, value)}, usual are {_words(context, usual)}"
    margin = far - abs(off.nominal_value)
    if margin + value.std_dev >= 0:
        return Outcome("pass", f"{said}.", value, margin, limit=usual)
    words = f"{said}: {high if off.nominal_value > 0 else low}."
    status = "fail" if abs(off.nominal_value) - off.std_dev > 2 * far else "watch"
    return Outcome("fail" if status == "fail" else "watch", words, value, margin, limit=usual)


def _evaporator_split(context: RunContext) -> Outcome | None:
    return _split(
        context,
        exchange.evaporator_split(context),
        "low",
        "the evaporator starves, or meets too little air or water",
        "the evaporator meets more than it is fed with, or gas goes round",
    )


def _condenser_split(context: RunContext) -> Outcome | None:
    return _split(
        context,
        exchange.condenser_split(context),
        "high",
        "the condenser meets too little air or water, is dirty, overfull, or holds another gas",
        "little is pumped, or little is left in the circuit",
    )


def _air_difference(context: RunContext) -> Outcome | None:
    mode = running_mode(context)
    if context.unit.load != "air" or mode is None or context.run.mode == "defrost":
        return None
    returned, supplied = context.temperature("return_air"), context.temperature("supply_air")
    if returned is None or supplied is None or {"return_air", "supply_air"} & context.doubted:
        return None
    value = returned - supplied if mode == "cooling" else supplied - returned
    usual = context.practice.si(f"air_difference_{mode}")
    band = context.practice.si("air_difference_band")
    margin = band - abs(value.nominal_value - usual)
    said = f"{_words(context, value)} between return and supply; about {_words(context, usual)} is usual"
    if margin + value.std_dev >= 0:
        return Outcome("pass", f"{said}.", value, margin, limit=usual)
    why = "look at the airflow" if value.nominal_value > usual else "little heat is moved"
    return Outcome("watch", f"{said}: {why}.", value, margin, limit=usual)


def expected_capacity(context: RunContext) -> float | None:
    """What the unit should move at these conditions [W], from its nominal cooling capacity.

    In heating on air the capacity falls with the outdoor temperature, as the two AHRI 210/240 ratings (47 and 17 °F)
    usually lie. [published test points, from memory; common practice]
    """
    nominal, mode = context.unit.nominal_capacity, running_mode(context)
    if nominal is None or mode is None:
        return None
    if mode == "cooling" or context.unit.source != "air":
        return nominal.si
    outdoor = context.temperature("outdoor_air_in")
    if outdoor is None:
        return None
    warm, cold = (context.practice.si(f"heating_rating_{name}") for name in ("warm", "cold"))
    at_cold = context.practice.si("capacity_when_cold")
    share = at_cold + (1 - at_cold) * (float(outdoor.nominal_value) - cold) / (warm - cold)
    return nominal.si * max(share, context.practice.si("capacity_least"))


_FLOW_WORDS = {
    "measured": "airflow as read",
    "heater": "airflow by the backup heater",
    "maker": "airflow as the maker states",
    "assumed": "airflow assumed by the ton",
}


def _capacity(context: RunContext) -> Outcome | None:
    value, expected, flow = (
        exchange.air_capacity(context),
        expected_capacity(context),
        exchange.airflow(context),
    )
    if value is None or expected is None or flow is None:
        return None
    share, short = value / expected, context.practice.si("capacity_shortfall")
    margin = float(share.nominal_value) - (1 - short)
    amount = say(float(value.nominal_value), Kind.POWER, context.units)
    said = f"{amount} of about {say(expected, Kind.POWER, context.units)} at these conditions, {_FLOW_WORDS[flow.source]}"
    if abs(margin) <= share.std_dev:
        return Outcome(
            "watch", f"{said}: near the limit. Measure the airflow.", share, margin, limit=1 - short
        )
    if margin < 0:
        return Outcome("fail", f"{said}: it falls short.", share, margin, limit=1 - short)
    return Outcome("pass", f"{said}.", share, margin, limit=1 - short)


def _frost_margin(context: RunContext) -> Outcome | None:
    value = exchange.frost_margin(context)
    if value is None:
        return None
    amount = _words(context, magnitude(value))
    if value.nominal_value > value.std_dev:
        return Outcome(
            "pass",
            f"The coil stays {amount} over the point of frost: it should be clear.",
            value,
            float(value.nominal_value),
        )
    split, circuit = exchange.evaporator_split(context), running_circuit(context)
    if split is not None and circuit is not None:
        usual = usual_split(context, circuit, "low") + context.practice.si("split_deviation")
        if split.nominal_value - split.std_dev > usual:
            return Outcome(
                "watch",
                f"Frost grows, {amount} under its point, on a coil far colder than usual: find out why.",
                value,
            )
    return Outcome(
        "pass", f"Frost grows, {amount} under its point: usual now, and for the defrost to clear.", value
    )


def _noncondensables(context: RunContext) -> Outcome | None:
    circuit, high = running_circuit(context), refrigerant.high_side(context)
    if circuit is None or high is None or high.source != "gauge" or circuit.condenser in context.doubted:
        return None
    bend = context.temperature(circuit.condenser)
    if bend is None:
        return None
    over = (high.bubble + high.dew) / 2 - bend
    limit = context.practice.si("bend_offset")
    status, amount = status_below(over, limit), _words(context, over)
    words = {
        "pass": f"Bend and gauge agree within {_words(context, magnitude(over))}.",
        "watch": f"The gauge claims {amount} more than the condenser's bend shows: near the limit.",
        "fail": f"The gauge claims {amount} more than the condenser's bend shows: air or another gas adds its pressure. "
        "Standing pressure with the unit off, all at one temperature, settles it.",
    }[status]
    return Outcome(status, words, over, limit - over.nominal_value)


def _compression_ratio(context: RunContext) -> Outcome | None:
    ratio, called = compressor.compression_ratio(context), compressor.ratio_called_for(context)
    if ratio is None or called is None or context.run.mode == "defrost":
        return None
    most = called * (1 + context.practice.si("ratio_excess"))
    status, margin = status_below(ratio, most), most - ratio.nominal_value
    said = f"These temperatures call for about {say(called, Kind.RATIO, context.units)}"
    if status == "pass":
        return Outcome(status, f"{said}.", ratio, margin, limit=most)
    return Outcome(
        status,
        f"{said}: the coils make the compressor lift further than that. Look at airflow, water flow and fouling.",
        ratio,
        margin,
        limit=most,
    )


_TERMS: dict[balance.Term, str] = {"rejected": "given off", "taken_up": "taken up", "work": "put in as work"}


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
    over = "too much is given off" if share.nominal_value > 0 else "too little is given off"
    words = {
        "pass": f"{said}: it adds up within {amount}.",
        "watch": f"{said}: {amount} does not add up, which is within its band.",
        "fail": f"{said}: {over}, by {amount}. Doubt a flow or a thermometer before the machine.",
    }[status]
    return Outcome(status, words, share, limit - abs(share.nominal_value))


SUPERHEAT = CheckRule(
    "exchange.superheat", "superheat at the evaporator", _DELTA, "superheat_tolerance", _superheat
)
COMPRESSION_RATIO = CheckRule(
    "exchange.compression_ratio", "compression ratio", Kind.RATIO, "ratio_excess", _compression_ratio
)
BALANCE = CheckRule("exchange.balance", "heat balance", Kind.SHARE, "balance_tolerance", _balance)
SUBCOOLING = CheckRule("exchange.subcooling", "subcooling", _DELTA, "subcooling_tolerance", _subcooling)
TOTAL_SUPERHEAT = CheckRule(
    "exchange.total_superheat",
    "superheat at the compressor",
    _DELTA,
    "total_superheat_most",
    _total_superheat,
)
EVAPORATOR_SPLIT = CheckRule(
    "exchange.evaporator_split", "evaporator split", _DELTA, "split_deviation", _evaporator_split
)
CONDENSER_SPLIT = CheckRule(
    "exchange.condenser_split", "condenser split", _DELTA, "split_deviation", _condenser_split
)
AIR_DIFFERENCE = CheckRule(
    "exchange.air_difference", "air difference", _DELTA, "air_difference_band", _air_difference
)
CAPACITY = CheckRule("exchange.capacity", "capacity by air", Kind.SHARE, "capacity_shortfall", _capacity)
FROST_MARGIN = CheckRule("exchange.frost_margin", "frost margin", _DELTA, "split_deviation", _frost_margin)
NONCONDENSABLES = CheckRule(
    "exchange.noncondensables", "gauge against bend", _DELTA, "bend_offset", _noncondensables
)

EXCHANGE: tuple[CheckRule, ...] = (
    SUPERHEAT,
    TOTAL_SUPERHEAT,
    SUBCOOLING,
    EVAPORATOR_SPLIT,
    CONDENSER_SPLIT,
    AIR_DIFFERENCE,
    CAPACITY,
    BALANCE,
    COMPRESSION_RATIO,
    FROST_MARGIN,
    NONCONDENSABLES,
)
"""The checks of this module, in the order in which a technician works."""

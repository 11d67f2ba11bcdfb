"""Which meter meters, is the other one wide open, and where does the pressure go? [trade.md section 4]"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from statistics import median

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, held_back, magnitude, needs_readings, status_below
from icepick.core.checks.superheat import against_target
from icepick.core.circuit import Circuit, Part
from icepick.core.context import RunContext
from icepick.core.examination import Check, Device
from icepick.core.indicators import metering, refrigerant
from icepick.core.indicators.valve import running_circuit
from icepick.core.quantities import Kind
from icepick.core.refrigerants import OutsideRangeError, saturation_pressure
from icepick.core.stations import station
from icepick.core.wording import display, display_band, say, titles

_DELTA = Kind.TEMPERATURE_DIFFERENCE


def _words(context: RunContext, value: UFloat | float) -> str:
    number = value if isinstance(value, float) else float(value.nominal_value)
    return say(abs(number), _DELTA, context.units)


def _any_read(context: RunContext, *codes: str) -> bool:
    return any(context.temperature(code) is not None for code in codes)


def _active_drop(context: RunContext) -> Outcome | None:
    part = metering.active_part(context)
    pair = metering.ends(context, part) if part else None
    if pair is None or not _any_read(context, *pair):
        return None
    value = metering.active_meter_drop(context)
    if value is None:
        return needs_readings(context.readings.missing(*pair))
    low, before = refrigerant.low_side(context), context.temperature(pair[0])
    assert before is not None
    share = context.practice.si("active_drop_share")
    if low is None:
        outcome = _drop_alone(context, value)
    else:
        full = before - low.dew
        outcome = _drop_share(context, value, full, share)
    return held_back(context, pair, outcome)


_HARDLY = (
    "The working meter shows hardly any drop: its own check leaks, it stands wide open, or the pressure was lost "
    "before it."
)


def _drop_alone(context: RunContext, value: UFloat) -> Outcome:
    """Without the low side's saturation a drop is only held to being one."""
    if value.nominal_value - value.std_dev > context.practice.si("line_change"):
        return Outcome(
            "pass", f"{_words(context, value)} of drop: it meters. Read the low side to hold it to all of it."
        )
    return Outcome("watch", f"Only {_words(context, value)} of drop. {_HARDLY}")


def _drop_share(context: RunContext, value: UFloat, full: UFloat, share: float) -> Outcome:
    if full.nominal_value <= context.practice.si("line_change"):
        return Outcome("fail", f"Liquid comes to the meter as cold as it should leave it. {_HARDLY}")
    part = value / full
    amount = f"{_words(context, value)} of the {_words(context, full)} down to the evaporating temperature"
    if abs(part.nominal_value - share) <= part.std_dev:
        return Outcome("watch", f"It drops {amount}: near the limit.", part, part.nominal_value - share)
    if part.nominal_value < share:
        return Outcome("fail", f"It drops only {amount}. {_HARDLY}", part, part.nominal_value - share)
    return Outcome("pass", f"It drops {amount}.", part, part.nominal_value - share)


def _small_drop(
    context: RunContext,
    part: Part | None,
    limit_name: str,
    *,
    passes: str,
    fails: Callable[[tuple[str, str]], str],
) -> Outcome | None:
    """A part that should pass liquid on unchanged, held to a limit; the sentences start with the amount lost."""
    pair = metering.ends(context, part) if part else None
    if part is None or pair is None or not _any_read(context, *pair):
        return None
    value = metering.drop(context, part)
    if value is None:
        return needs_readings(context.readings.missing(*pair))
    limit = context.practice.si(limit_name)
    status, amount = status_below(value, limit), _words(context, value)
    if status == "watch":
        words = f"{amount}, near the limit: read both sides again."
    else:
        words = f"{amount} {passes}{_unfelt(context)}" if status == "pass" else f"{amount} {fails(pair)}"
    return held_back(context, pair, Outcome(status, words, value, limit - value.nominal_value))


def _bypass_drop(context: RunContext) -> Outcome | None:
    return _small_drop(
        context,
        metering.idle_part(context),
        "bypass_drop",
        passes="across the idle meter: liquid goes round it freely.",
        fails=lambda pair: (
            "lost in the idle meter: its check is stuck shut and liquid is forced through it backwards."
        ),
    )


def _unfelt(context: RunContext) -> str:
    """How much pressure the liquid could lose unseen, where that is known and worth saying."""
    spare = refrigerant.pressure_before_flash(context)
    if spare is None or spare.nominal_value <= context.practice.si("unfelt_loss"):
        return ""
    amount = say(float(spare.nominal_value), Kind.PRESSURE_DIFFERENCE, context.units)
    return f" This line could be losing {amount} and still feel the same: head against the liquid tap would tell."


def _drier_drop(context: RunContext) -> Outcome | None:
    return _small_drop(
        context,
        "drier",
        "drier_drop",
        passes="across the drier.",
        fails=lambda pair: (
            f"lost across the drier: it restricts, and liquid flashes in it.{_lost(context, pair)}"
        ),
    )


def _lost(context: RunContext, pair: tuple[str, str]) -> str:
    """The pressure that a colder outlet gives away: from what came in to saturation at what leaves."""
    high, after = refrigerant.high_side(context), context.temperature(pair[1])
    if high is None or after is None:
        return ""
    try:
        left = float(saturation_pressure(context.unit.refrigerant, float(after.nominal_value), "bubble"))
    except OutsideRangeError:
        return ""
    lost = float(high.pressure.nominal_value) - left
    if lost <= 0:
        return ""
    return f" About {say(lost, Kind.PRESSURE_DIFFERENCE, context.units)} are gone by its outlet."


def _pressure_split(context: RunContext) -> Outcome | None:
    low, high = refrigerant.low_side(context), refrigerant.high_side(context)
    if running_circuit(context) is None or low is None or high is None:
        return None
    apart, limit = high.bubble - low.dew, context.practice.si("pressure_split")
    margin = apart.nominal_value - limit
    amount = _words(context, apart)
    if abs(margin) <= apart.std_dev:
        return Outcome(
            "watch", f"Condensing and evaporating lie {amount} apart: hardly two sides.", apart, margin
        )
    if margin < 0:
        return Outcome(
            "fail",
            f"Only {amount} between condensing and evaporating: nothing meters, or nothing is pumped.",
            apart,
            margin,
        )
    return Outcome(
        "pass", f"{amount} between condensing and evaporating: a high side and a low side.", apart, margin
    )


def _superheat_control(context: RunContext) -> Outcome | None:
    return against_target(context, "the evaporator starves", "the evaporator floods")


def _liquid_at_meter(context: RunContext) -> Outcome | None:
    high, part = refrigerant.high_side(context), metering.active_part(context)
    pair = metering.ends(context, part) if part else None
    if high is None or pair is None:
        return None
    before = context.temperature(pair[0])
    if before is None:
        return None
    under, limit = high.bubble - before, context.practice.si("liquid_at_meter")
    margin, amount = under.nominal_value - limit, say(float(under.nominal_value), _DELTA, context.units)
    if abs(margin) <= under.std_dev:
        outcome = Outcome(
            "watch",
            f"{amount} under condensing at the meter: hardly subcooled, flash gas may starve it.",
            under,
            margin,
        )
    elif margin < 0:
        outcome = Outcome(
            "fail",
            f"{amount} under condensing at the meter: flash gas comes with the liquid and starves it.",
            under,
            margin,
        )
    else:
        outcome = Outcome("pass", f"Liquid arrives {amount} under condensing.", under, margin)
    return held_back(context, pair[:1], outcome)


def _line_loss(context: RunContext) -> Outcome | None:
    """The long runs: the liquid line between its ends, the vapor line between its own."""
    circuit = running_circuit(context)
    if circuit is None:
        return None
    worst: tuple[float, UFloat, tuple[str, str]] | None = None
    for here, there in zip(circuit.path, circuit.path[1:], strict=False):
        if here.through != "pipe" or station(here.station).place == station(there.station).place:
            continue
        if {here.station, there.station} & {circuit.condenser, circuit.evaporator}:
            continue
        one, other = context.temperature(here.station), context.temperature(there.station)
        if one is None or other is None:
            continue
        change = magnitude(one - other)
        if worst is None or change.nominal_value > worst[0]:
            worst = change.nominal_value, change, (here.station, there.station)
    if worst is None:
        return None
    _, change, pair = worst
    limit = context.practice.si("line_change")
    status, amount = status_below(change, limit), _words(context, change)
    words = f"{amount} between {titles(pair)}"
    words += (
        ": a line only passes it on."
        if status == "pass"
        else ": look for bare insulation, a kink, or a restriction."
    )
    return held_back(context, pair, Outcome(status, words, change, limit - change.nominal_value))


def _circuits(context: RunContext) -> Outcome | None:
    circuit = running_circuit(context)
    if circuit is None:
        return None
    side = circuit.evaporator.removesuffix("_coil")
    read = {
        c.reading.station: float(c.value.nominal_value)
        for c in context.readings.all()
        if c.reading.station.startswith(f"{side}_circuit:")
    }
    if not read:
        return None
    if len(read) < 3:
        return needs_readings(
            [f"{side}_circuit:{n}" for n in range(1, 4) if f"{side}_circuit:{n}" not in read]
        )
    middle, limit = median(read.values()), context.practice.si("circuit_spread")
    code, warmest = max(read.items(), key=lambda item: item[1])
    over = warmest - middle
    amount = say(over, _DELTA, context.units)
    if over > limit:
        return Outcome(
            "fail",
            f"{station(code).short} stands {amount} over the others: it gets too little refrigerant.",
            over,
            limit - over,
        )
    return Outcome("pass", f"The circuits lie within {amount} of one another.", over, limit - over)


def _bulb(context: RunContext) -> Outcome | None:
    meter = metering.working_meter(context)
    if meter is None or meter.kind not in ("txv", "eev"):
        return None
    if "bulb_loose" in context.observed:
        return Outcome("fail", "The bulb was found loose: strap and insulate it before the valve is judged.")
    moved = _wander(context)
    if moved is None:
        return None
    amount = say(moved, _DELTA, context.units)
    limit = context.practice.si("superheat_wander")
    if moved > limit:
        return Outcome(
            "watch",
            f"Superheat moved by {amount} between two readings: look at the bulb's contact.",
            moved,
            limit - moved,
        )
    return Outcome("pass", f"Superheat held within {amount} between two readings.", moved, limit - moved)


def _wander(context: RunContext) -> float | None:
    """How far the gas leaving the evaporator moved between its last two readings, both settled [K]."""
    code = refrigerant.first_read(context, refrigerant.leaving_evaporator(context))
    now, before = (context.readings.get(code), context.readings.before(code)) if code else (None, None)
    if now is None or before is None or now.early or before.early:
        return None
    return abs(float(now.value.nominal_value - before.value.nominal_value))


def _head_to_liquid(context: RunContext) -> Outcome | None:
    circuit = running_circuit(context)
    if circuit is None:
        return None
    roles = {tap.tap: tap.role for tap in circuit.taps}
    head_taps = ["discharge_tap", *(["vapor_service_tap"] if circuit.mode == "heating" else [])]
    head = next(
        (v for tap in head_taps if tap in roles and (v := context.value(tap, "pressure")) is not None), None
    )
    liquid = context.value("liquid_service_tap", "pressure")
    if head is None or liquid is None or roles.get("liquid_service_tap") != "high":
        return None
    lost, limit = head - liquid, context.practice.si("head_to_liquid")
    amount = say(float(lost.nominal_value), Kind.PRESSURE_DIFFERENCE, context.units)
    status = status_below(lost, limit)
    words = f"{amount} between head and the liquid tap"
    if status == "pass":
        words += ": as coil and pipes lose."
    elif status == "fail":
        words += f": lost in {_between(context, circuit)}."
    else:
        words += ": near the limit."
    return Outcome(status, words, lost, limit - lost.nominal_value)


def _between(context: RunContext, circuit: Circuit) -> str:
    """What lies between the condenser and the liquid tap."""
    order = [stop.station for stop in circuit.path]
    span = circuit.path[order.index(circuit.condenser) : order.index("liquid_line_outdoor")]
    parts = [s.through for s in span if s.through in ("indoor_meter", "outdoor_meter", "drier")]
    names = {"drier": "the drier"}
    return " or ".join(names.get(p, "the idle meter's check") for p in dict.fromkeys(parts)) or "the line"


def devices(context: RunContext, checks: Mapping[str, Check]) -> list[Device]:
    """Meters and drier in flow order: what each should do, and what it does by the run's ``checks``."""
    circuit = running_circuit(context)
    if circuit is None:
        return []
    found = []
    for here, there in zip(circuit.path, circuit.path[1:], strict=False):
        if here.through not in ("indoor_meter", "outdoor_meter", "drier"):
            continue
        role = "drier" if here.through == "drier" else _role(context, here.through)
        check = checks.get(_CHECK_OF.get(role, ""))
        value = metering.drop(context, here.through)
        number, unit = (
            display(float(value.nominal_value), _DELTA, context.units) if value is not None else (None, None)
        )
        found.append(
            Device.model_validate(
                {
                    "part": here.through,
                    "start": here.station,
                    "end": there.station,
                    "role": role,
                    "drop": None
                    if value is None
                    else {
                        "value": number,
                        "unit": unit,
                        "uncertainty": display_band(value, _DELTA, context.units),
                    },
                    "expected": _expected(context, role),
                    "status": check.status if check else "needs_readings",
                    "explain": check.explain if check else "",
                }
            )
        )
    return found


_CHECK_OF = {
    "working": "metering.active_drop",
    "idle": "metering.bypass_drop",
    "drier": "metering.drier_drop",
}


def _role(context: RunContext, part: str) -> str:
    if part == metering.active_part(context):
        return "working"
    return "idle" if part == metering.idle_part(context) else "in line"


def _expected(context: RunContext, role: str) -> str:
    if role in ("idle", "drier"):
        return f"under {say(context.practice.si('bypass_drop' if role == 'idle' else 'drier_drop'), _DELTA, context.units)}"
    if role == "in line":
        return "some: it has no way round"
    low = refrigerant.low_side(context)
    return (
        f"down to {say(float(low.dew.nominal_value), Kind.TEMPERATURE, context.units)}"
        if low
        else "down to evaporating"
    )


ACTIVE_DROP = CheckRule(
    "metering.active_drop", "working meter's drop", Kind.SHARE, "active_drop_share", _active_drop
)
BYPASS_DROP = CheckRule("metering.bypass_drop", "idle meter's drop", _DELTA, "bypass_drop", _bypass_drop)
PRESSURE_SPLIT = CheckRule("metering.pressure_split", "two sides", _DELTA, "pressure_split", _pressure_split)
SUPERHEAT_CONTROL = CheckRule(
    "metering.superheat_control", "superheat held", _DELTA, "superheat_tolerance", _superheat_control
)
DRIER_DROP = CheckRule("metering.drier_drop", "drier's drop", _DELTA, "drier_drop", _drier_drop)
HEAD_TO_LIQUID = CheckRule(
    "metering.head_to_liquid",
    "head to liquid tap",
    Kind.PRESSURE_DIFFERENCE,
    "head_to_liquid",
    _head_to_liquid,
)
LIQUID_AT_METER = CheckRule(
    "metering.liquid_at_meter", "liquid at the meter", _DELTA, "liquid_at_meter", _liquid_at_meter
)
LINE_LOSS = CheckRule("metering.line_loss", "change along a line", _DELTA, "line_change", _line_loss)
CIRCUITS = CheckRule("metering.circuits", "coil circuits", _DELTA, "circuit_spread", _circuits)
BULB = CheckRule("metering.bulb", "bulb", _DELTA, "superheat_wander", _bulb)

METERING: tuple[CheckRule, ...] = (
    ACTIVE_DROP,
    BYPASS_DROP,
    PRESSURE_SPLIT,
    SUPERHEAT_CONTROL,
    DRIER_DROP,
    HEAD_TO_LIQUID,
    LIQUID_AT_METER,
    LINE_LOSS,
    CIRCUITS,
    BULB,
)
"""The checks of this module, in the order in which a technician works."""

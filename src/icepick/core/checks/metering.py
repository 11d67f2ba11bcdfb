"""Which device meters, is the other one wide open, and where does the pressure go? [the-trade.md 4]"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from statistics import median

from uncertainties import UFloat

from icepick.core.checks.departure import least_here, most_here
from icepick.core.checks.rule import CheckRule, Outcome, magnitude, needs_readings, status_below
from icepick.core.checks.superheat import judge_superheat
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import Circuit
from icepick.core.circuit.readings import first_read
from icepick.core.document.examination import Check, Device
from icepick.core.document.roles import Part
from icepick.core.document.stations import station
from icepick.core.document.wording import device, display, display_band, listing, names, say
from icepick.core.indicators import metering, refrigerant
from icepick.core.properties.quantities import Kind
from icepick.core.properties.refrigerants import OutsideRangeError, saturation_pressure

_DELTA = Kind.TEMPERATURE_DIFFERENCE


def _words(context: RunContext, value: UFloat | float) -> str:
    number = value if isinstance(value, float) else float(value.nominal_value)
    return say(abs(number), _DELTA, context.units)


def _pair(context: RunContext, part: Part | None) -> tuple[str, str] | None:
    """The stations before and after a part, where at least one of them was read."""
    pair = context.circuit.ends(part) if context.circuit and part else None
    return pair if pair and first_read(context.readings, pair) else None


def _active_drop(context: RunContext) -> Outcome | None:
    circuit = context.circuit
    pair = _pair(context, circuit.active_part) if circuit else None
    if pair is None:
        return None
    value = metering.active_meter_drop(context)
    if value is None:
        return needs_readings(context.readings.missing(*pair), context)
    low, before = refrigerant.low_side(context), context.temperature(pair[0])
    assert before is not None
    if low is None:
        return _drop_alone(context, value)
    share = least_here(context, "active_drop_share", "active_drop_share")
    return _drop_share(context, value, before - low.dew, share)


_HARDLY = (
    "The active metering device shows hardly any drop: its own check valve leaks, it is wide open, or the pressure was "
    "lost before it."
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
        return Outcome(
            "fail", f"Liquid comes to the metering device as cold as it should leave it. {_HARDLY}"
        )
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
    pair = _pair(context, part)
    if pair is None:
        return None
    value = metering.drop(context, part)
    if value is None:
        return needs_readings(context.readings.missing(*pair), context)
    limit = context.practice.si(limit_name)
    status, amount = status_below(value, limit), _words(context, value)
    if status == "watch":
        words = f"{amount}, near the limit: read both sides again."
    else:
        words = f"{amount} {passes}{_unfelt(context)}" if status == "pass" else f"{amount} {fails(pair)}"
    return Outcome(status, words, value, limit - value.nominal_value)


def _bypass_drop(context: RunContext) -> Outcome | None:
    return _small_drop(
        context,
        context.circuit.bypassed_part if context.circuit else None,
        "bypass_drop",
        passes="across the bypassed metering device: its check valve is open.",
        fails=lambda pair: (
            "lost in the bypassed metering device: its check valve is stuck closed and liquid is forced through it "
            "backwards."
        ),
    )


def _unfelt(context: RunContext) -> str:
    """How much pressure the liquid could lose unseen, where that is known and worth saying."""
    spare = refrigerant.pressure_before_flash(context)
    if spare is None or spare.nominal_value <= context.practice.si("unfelt_loss"):
        return ""
    amount = say(float(spare.nominal_value), Kind.PRESSURE_DIFFERENCE, context.units)
    return f" This line could lose {amount} and still feel the same: discharge against liquid line port would tell."


def _drier_drop(context: RunContext) -> Outcome | None:
    return _small_drop(
        context,
        "drier",
        "drier_drop",
        passes="across the filter drier.",
        fails=lambda pair: (
            f"lost across the filter drier: it is restricted, and liquid flashes in it.{_lost(context, pair)}"
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
    if context.circuit is None or low is None or high is None:
        return None
    apart = high.bubble - low.dew
    limit = least_here(context, "saturation_apart", "pressure_split")
    margin = apart.nominal_value - limit
    amount = _words(context, apart)
    if abs(margin) <= apart.std_dev:
        return Outcome(
            "watch",
            f"Condensing and evaporating are {amount} apart: hardly a high side and a low side.",
            apart,
            margin,
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


def _liquid_at_meter(context: RunContext) -> Outcome | None:
    circuit, high = context.circuit, refrigerant.liquid_side(context)
    pair = circuit.ends(circuit.active_part) if circuit else None
    before = context.temperature(pair[0]) if pair else None
    if circuit is None or high is None or before is None:
        return None
    under, limit = high.bubble - before, context.practice.si("liquid_at_meter")
    here = least_here(context, "liquid_at_meter", "liquid_at_meter")
    margin, amount = under.nominal_value - here, say(float(under.nominal_value), _DELTA, context.units)
    said = f"Liquid arrives {amount} under saturation"
    if under.nominal_value - limit > under.std_dev:
        return Outcome("pass", f"{said}.", under, margin, limit=here)
    if margin > 0 and here < limit:
        words = f"{said}: this unit, sound, gets little more in these conditions."
        return Outcome("pass", words, under, margin, limit=here)
    if margin >= -under.std_dev:
        words = f"{said}: hardly subcooled, flash gas may starve the metering device."
        return Outcome("watch", words, under, margin, limit=here)
    words = f"{said}: flash gas comes with the liquid and starves the metering device."
    return Outcome("fail", words, under, margin, limit=here)


def _line_loss(context: RunContext) -> Outcome | None:
    """The long runs: the liquid line between its ends, the vapor line between its own."""
    circuit = context.circuit
    changes = [
        (magnitude(one - other), pair)
        for pair in (circuit.long_runs if circuit else ())
        if (one := context.temperature(pair[0])) is not None
        and (other := context.temperature(pair[1])) is not None
    ]
    if not changes:
        return None
    change, pair = max(changes, key=lambda found: found[0].nominal_value)
    limit = most_here(context, "line_change", "line_change")
    status, amount = status_below(change, limit), _words(context, change)
    words = f"{amount} from {names(context.unit, pair[:1])} to {names(context.unit, pair[1:])}"
    words += (
        ", which is normal." if status == "pass" else ": look for bare insulation, a kink, or a restriction."
    )
    return Outcome(status, words, change, limit - change.nominal_value, limit=limit)


def _circuits(context: RunContext) -> Outcome | None:
    circuit = context.circuit
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
        wanted = [f"{side}_circuit:{n}" for n in range(1, 4) if f"{side}_circuit:{n}" not in read]
        return needs_readings(wanted, context)
    middle, limit = median(read.values()), context.practice.si("circuit_spread")
    code, warmest = max(read.items(), key=lambda item: item[1])
    over = warmest - middle
    amount = say(over, _DELTA, context.units)
    if over > limit:
        return Outcome(
            "fail",
            f"{station(code).title.capitalize()} is {amount} warmer than the others: too little refrigerant.",
            over,
            limit - over,
        )
    return Outcome("pass", f"The circuits lie within {amount} of one another.", over, limit - over)


def _bulb(context: RunContext) -> Outcome | None:
    active = metering.active_device(context)
    if active is None or active.kind not in ("txv", "eev"):
        return None
    if "bulb_loose" in context.observed:
        return Outcome("fail", "The bulb was found loose: strap and insulate it before the TXV is judged.")
    moved = _wander(context)
    if moved is None:
        if "bulb_loose" not in context.looked_for:
            return None
        return Outcome("pass", "The bulb was found strapped and insulated.")
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
    leaving = context.circuit.leaving_evaporator if context.circuit else ()
    code = first_read(context.readings, leaving)
    now, before = (context.readings.get(code), context.readings.before(code)) if code else (None, None)
    if now is None or before is None or now.early or before.early:
        return None
    return abs(float(now.value.nominal_value - before.value.nominal_value))


def _head_to_liquid(context: RunContext) -> Outcome | None:
    circuit, lost = context.circuit, refrigerant.lost_before_liquid_port(context)
    if circuit is None or lost is None:
        return None
    limit = context.practice.si("head_to_liquid")
    amount = say(float(lost.nominal_value), Kind.PRESSURE_DIFFERENCE, context.units)
    status = status_below(lost, limit)
    words = f"{amount} between discharge and the liquid line port"
    if status == "pass":
        words += ", which is normal for coil and pipes."
    elif status == "fail":
        words += f": lost in {_before_the_tap(context, circuit)}."
    else:
        words += ": near the limit."
    return Outcome(status, words, lost, limit - lost.nominal_value)


def _before_the_tap(context: RunContext, circuit: Circuit) -> str:
    """What lies between the condenser and the liquid line port."""
    parts = [
        "the filter drier" if part == "drier" else f"the {device(context.unit, part)}'s check valve"
        for part in circuit.before("liquid_service_tap")
    ]
    return listing(parts).replace(" and ", " or ") or "the line or the coil"


def devices(context: RunContext, checks: Mapping[str, Check]) -> list[Device]:
    """Metering devices and drier in flow order: what each should do, and what it does by the run's ``checks``.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    checks : mapping of str to Check
        The checks of the run, by code.

    Returns
    -------
    list of Device
        In flow order.
    """
    circuit = context.circuit
    found = []
    for part, start, end in circuit.devices if circuit else ():
        role = "drier" if part == "drier" else _role(context, part)
        check = checks.get(_CHECK_OF.get(role, ""))
        value = metering.drop(context, part)
        number, unit = (
            display(float(value.nominal_value), _DELTA, context.units) if value is not None else (None, None)
        )
        found.append(
            Device.model_validate(
                {
                    "part": part,
                    "title": "filter drier" if part == "drier" else device(context.unit, part),
                    "start": start,
                    "end": end,
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
    "active": "metering.active_drop",
    "bypassed": "metering.bypass_drop",
    "drier": "metering.drier_drop",
}


def _role(context: RunContext, part: Part) -> str:
    circuit = context.circuit
    if circuit is not None and part == circuit.active_part:
        return "active"
    return "bypassed" if circuit is not None and part == circuit.bypassed_part else "in line"


def _expected(context: RunContext, role: str) -> str:
    if role in ("bypassed", "drier"):
        limit = context.practice.si("bypass_drop" if role == "bypassed" else "drier_drop")
        return f"under {say(limit, _DELTA, context.units)}"
    if role == "in line":
        return "some: it has no bypass"
    low = refrigerant.low_side(context)
    return (
        f"down to {say(float(low.dew.nominal_value), Kind.TEMPERATURE, context.units)}"
        if low
        else "down to evaporating"
    )


ACTIVE_DROP = CheckRule(
    "metering.active_drop",
    "drop across the active device",
    Kind.SHARE,
    "active_drop_share",
    _active_drop,
    while_flowing=True,
)
BYPASS_DROP = CheckRule(
    "metering.bypass_drop",
    "drop across the bypassed device",
    _DELTA,
    "bypass_drop",
    _bypass_drop,
    while_flowing=True,
)
PRESSURE_SPLIT = CheckRule(
    "metering.pressure_split",
    "condensing over evaporating",
    _DELTA,
    "pressure_split",
    _pressure_split,
    while_flowing=True,
)
SUPERHEAT_CONTROL = CheckRule(
    "metering.superheat_control",
    "superheat",
    _DELTA,
    "superheat_tolerance",
    judge_superheat,
    while_flowing=True,
)
DRIER_DROP = CheckRule(
    "metering.drier_drop",
    "drop across the filter drier",
    _DELTA,
    "drier_drop",
    _drier_drop,
    while_flowing=True,
)
HEAD_TO_LIQUID = CheckRule(
    "metering.head_to_liquid",
    "discharge to liquid line port",
    Kind.PRESSURE_DIFFERENCE,
    "head_to_liquid",
    _head_to_liquid,
    while_flowing=True,
)
LIQUID_AT_METER = CheckRule(
    "metering.liquid_at_meter",
    "liquid at the metering device",
    _DELTA,
    "liquid_at_meter",
    _liquid_at_meter,
    while_flowing=True,
)
LINE_LOSS = CheckRule(
    "metering.line_loss", "change along a line", _DELTA, "line_change", _line_loss, while_flowing=True
)
CIRCUITS = CheckRule(
    "metering.circuits", "coil circuits", _DELTA, "circuit_spread", _circuits, while_flowing=True
)
BULB = CheckRule("metering.bulb", "TXV bulb", _DELTA, "superheat_wander", _bulb, while_flowing=True)

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

"""The heads of a unit that has several: what calls is fed, what does not call is not, and none stands in for another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.heads import End, HeadSeen, heads_seen, unit_of_heads
from icepick.core.document.heads import OneLine
from icepick.core.document.wording import listing, name, say
from icepick.core.properties.quantities import Kind

_DEGREES = Kind.TEMPERATURE_DIFFERENCE


def _called(context: RunContext) -> tuple[OneLine, tuple[HeadSeen, ...]] | None:
    """The heads, where the unit runs as it is told and something is known of them."""
    unit, seen = unit_of_heads(context), heads_seen(context)
    if unit is None or not seen or context.apparent not in ("unknown", context.commanded):
        return None
    return unit, seen


def _unnoted(unit: OneLine) -> Outcome | None:
    if unit.calling is not None:
        return None
    return Outcome("needs_readings", "Note which heads call: without that no head's pipes say anything.")


def _calling(context: RunContext) -> Outcome | None:
    found = _called(context)
    if found is None:
        return None
    unit, seen = found
    called = [one for one in seen if one.calls]
    if unit.calling is None or not called:
        return _unnoted(unit)
    judged = [(one, end, share) for one in called for end, share in one.telling.items()]
    unread = [one for one in called if not one.shares]
    if not judged:
        return _needs(unread, "liquid_line_outdoor")
    practice = "head_fed" if context.running == "cooling" else "head_fed_in_heating"
    still, fed = (context.practice.si(name) for name in ("head_still", practice))
    worst, end, share = min(judged, key=lambda one: one[2].nominal_value)
    margin = share.nominal_value - fed
    if share.nominal_value + share.std_dev < still:
        stays = "hardly changed" if end == "air" else _AT_REST
        words = (
            f"{_named(worst)} calls, and {_what(context, worst, end)} is {stays}: nothing runs through it."
        )
        return Outcome("fail", words, share, margin, practice=practice)
    if share.nominal_value - min(share.std_dev, fed / 4) < fed:
        words = f"{_named(worst)} calls and may be fed too little: {_percent(share)} of the way to the refrigerant."
        return Outcome("watch", words, share, margin, practice=practice)
    odd = _unblown(called) or _odd_one(context, called)
    if odd is not None:
        return Outcome("watch", odd, share, margin, practice=practice)
    words = f"{_each(called, unread)} fed{_figures(context, called)}."
    if unread:
        return Outcome("watch", f"{words} Not read yet: {_list(unread)}.", share, margin, practice=practice)
    return Outcome("pass", words, share, margin, practice=practice)


_AT_REST = "at the temperature of the air around it"


def _what(context: RunContext, head: HeadSeen, end: End) -> str:
    """What was read at one end of a head: its liquid line, its coil, its air."""
    if end == "air":
        return "its air"
    return f"its {name(context.unit, head.read_at[end]).removesuffix(f', head {head.number}')}"


def _named(head: HeadSeen) -> str:
    return head.called[0].upper() + head.called[1:]


def _list(heads: Sequence[HeadSeen]) -> str:
    return listing([one.called for one in heads])


def _each(called: Sequence[HeadSeen], unread: Sequence[HeadSeen]) -> str:
    read = [one for one in called if one not in unread]
    if len(read) == 1:
        return f"{_named(read[0])} calls and is"
    if not unread:
        return f"All {len(read)} heads that call are"
    words = _list(read)
    return f"{words[0].upper()}{words[1:]} call and are"


def _percent(share: UFloat) -> str:
    return f"{100 * max(float(share.nominal_value), 0.0):.0f} %"


def _figures(context: RunContext, called: Sequence[HeadSeen]) -> str:
    """Superheat or subcooling and what the air gains or loses, of each head that was read for it."""
    told = [(head, words) for head in called if (words := _figure(context, head))]
    if len(called) == 1:
        return "".join(f": {words}" for _, words in told)
    return f": {'; '.join(f'{head.called} {words}' for head, words in told)}" if told else ""


def _figure(context: RunContext, head: HeadSeen) -> str:
    figures = [
        f"{word} {say(float(value.nominal_value), _DEGREES, context.units)}"
        for word, value in (
            ("superheat", head.superheat),
            ("subcooling", head.subcooling),
            ("air", head.air),
        )
        if value is not None
    ]
    return ", ".join(figures)


def _unblown(called: Sequence[HeadSeen]) -> str | None:
    for head in called:
        if head.unblown:
            return f"{_named(head)} is fed, and its air hardly changes: its fan stands still, or a reading is off."
    return None


def _odd_one(context: RunContext, called: Sequence[HeadSeen]) -> str | None:
    """The head that has less than its share, by what leaves it beside what leaves the others."""
    left = [(one, one.leaving) for one in called if one.leaving is not None]
    if len(left) < 2:
        return None
    cooling = context.running == "cooling"
    limit = context.practice.si("heads_superheat_apart" if cooling else "heads_subcooling_apart")
    ordered = sorted(left, key=lambda one: float(one[1].nominal_value), reverse=cooling)
    (odd, leaves), (_, usual) = ordered[0], ordered[(len(ordered) + 1) // 2]
    apart = leaves - usual if cooling else usual - leaves
    if apart.nominal_value - apart.std_dev <= limit:
        return None
    degrees = say(float(apart.nominal_value), _DEGREES, context.units)
    what = "vapor leaves it" if cooling else "liquid leaves it"
    how = "warmer" if cooling else "colder"
    return f"{_named(odd)} is fed less than the others: {what} {degrees} {how}."


def _idle(context: RunContext) -> Outcome | None:
    found = _called(context)
    if found is None:
        return None
    unit, seen = found
    idle = [one for one in seen if one.calls is False]
    if unit.calling is None or not idle:
        return _unnoted(unit)
    judged = [(one, end, share) for one in idle for end, share in one.shares.items()]
    unread = [one for one in idle if not one.shares]
    if not judged:
        return _needs(unread, "liquid_line_outdoor")
    worst, end, share = max(judged, key=lambda one: one[2].nominal_value)
    cooling = context.running == "cooling"
    practice = "head_still" if cooling else "head_bleeds_most"
    least, most = (context.practice.si(name) for name in (practice, "head_fed"))
    margin = least - share.nominal_value
    where = f"{_what(context, worst, end)} is"
    if share.nominal_value - share.std_dev > (most if cooling else least):
        like = "as cold as that of a head that is fed" if cooling else "as warm as that of a head that calls"
        words = f"{_named(worst)} does not call, and {where} {like}: {_why_fed(context, seen)}."
        return Outcome("fail", words, share, margin, practice=practice)
    if share.nominal_value <= least < share.nominal_value + (share.std_dev if cooling else 0.0):
        words = f"{_named(worst)} does not call, and {where} {_AT_REST}, as far as that is known: read that air too."
        return Outcome("watch", words, share, margin, practice=practice)
    if share.nominal_value > least:
        way = "cold" if cooling else "warm"
        words = f"{_named(worst)} does not call, and {where} {_percent(share)} of the way {way}: its EEV may leak."
        return Outcome("watch", words, share, margin, practice=practice)
    rest = f" Not read yet: {_list(unread)}." if unread else ""
    return Outcome(
        "watch" if unread else "pass",
        f"{_which_rest(context, idle, unread)}{rest}",
        share,
        margin,
        practice=practice,
    )


def _why_fed(context: RunContext, seen: Sequence[HeadSeen]) -> str:
    starved = [one for one in seen if one.calls and _starved(context, one)]
    if starved:
        return f"its EEV leaks, or it is fed in place of {starved[0].called}"
    return "refrigerant gets through its EEV"


def _which_rest(context: RunContext, idle: Sequence[HeadSeen], unread: Sequence[HeadSeen]) -> str:
    """Idle heads as they should be; in heating, which of them bleed."""
    read = [one for one in idle if one not in unread]
    at_rest = f"{'pipes' if len(read) > 1 else 'its pipes'} are at the temperature of the air around them"
    if context.running == "cooling":
        return f"Idle {_list(read)}: {at_rest}, as they should be."
    still = context.practice.si("head_still")
    bleeding = [
        one for one in read if max(float(share.nominal_value) for share in one.shares.values()) >= still
    ]
    shut = [one for one in read if one not in bleeding]
    parts = []
    if bleeding:
        verb, it = ("bleed", "they do") if len(bleeding) > 1 else ("bleeds", "it does")
        parts.append(f"{_list(bleeding)} {verb} a little by design, so that {it} not fill with liquid")
    if shut:
        parts.append(f"{_list(shut)} {'are' if len(shut) > 1 else 'is'} shut")
    return f"Idle {'; '.join(parts)}."


def _crossed(context: RunContext) -> Outcome | None:
    found = _called(context)
    if found is None:
        return None
    unit, seen = found
    called, idle = ([one for one in seen if one.calls is calls] for calls in (True, False))
    if unit.calling is None:
        return _unnoted(unit)
    if not called or not idle:
        return None
    pairs = list(_pairs(context, called, idle))
    if pairs:
        (one, other, share), *_ = pairs
        words = f"{_named(one)} calls and gets nothing, while {other.called}, which does not, is fed: "
        return Outcome("fail", words + _what_is_exchanged(one, other), share)
    judged = [(head, share) for head in called for share in head.shares.values()]
    if not judged:
        return _needs(called, "indoor_coil")
    worst, share = min(judged, key=lambda one: one[1].nominal_value)
    if share.nominal_value < context.practice.si("head_still"):
        others = [one for one in idle if not one.shares]
        if others:
            words = f"{_named(worst)} calls and gets nothing: see whether another head is fed in its place."
            return Outcome(
                "needs_readings", words, needs=[f"liquid_line_outdoor:{one.number}" for one in others]
            )
        return Outcome("pass", f"{_named(worst)} gets nothing, and no other head is fed in its place.", share)
    if share.nominal_value < _least_fed(context):
        return Outcome("watch", f"{_named(worst)} calls and is not clearly fed: let it call alone.", share)
    return Outcome("pass", "What calls is what is fed.", share)


def _pairs(
    context: RunContext, called: Sequence[HeadSeen], idle: Sequence[HeadSeen]
) -> Iterator[tuple[HeadSeen, HeadSeen, UFloat]]:
    """A head that calls and gets nothing, and one that does not and is fed."""
    starved = [one for one in called if _starved(context, one)]
    for one in starved:
        for other in idle:
            most = max(other.shares.values(), key=lambda share: share.nominal_value, default=None)
            if most is not None and most.nominal_value > _fed_though_idle(context):
                yield one, other, most


def _starved(context: RunContext, head: HeadSeen) -> bool:
    still = context.practice.si("head_still")
    return any(share.nominal_value + share.std_dev < still for share in head.telling.values())


def _least_fed(context: RunContext) -> float:
    return context.practice.si("head_fed" if context.running == "cooling" else "head_fed_in_heating")


def _fed_though_idle(context: RunContext) -> float:
    return context.practice.si("head_fed" if context.running == "cooling" else "head_bleeds_most")


def _what_is_exchanged(one: HeadSeen, other: HeadSeen) -> str:
    """Lines where the valve that opens is the right one, wires where it is the other's."""
    ports = [head.shares.get("outdoors") for head in (one, other)]
    rooms = [head.shares.get("indoors", head.shares.get("air")) for head in (one, other)]
    if None in ports or None in rooms:
        return f"their lines or their wires are exchanged. Read both ends of {one.called} and {other.called}."
    (own_port, its_port), (own_room, its_room) = (
        [float(share.nominal_value) for share in end if share is not None] for end in (ports, rooms)
    )
    if own_room > its_room:
        return "their lines or their wires are exchanged. Let one of them call alone and read it again."
    if own_port > its_port:
        return "the right EEV opens and the wrong head is fed, so their lines are exchanged."
    return "the wrong EEV opens, so their wires are exchanged."


def _needs(unread: Sequence[HeadSeen], base: str) -> Outcome:
    return Outcome(
        "needs_readings",
        f"Needs the pipes of {_list(unread)}.",
        needs=[f"{base}:{one.number}" for one in unread],
    )


CALLING = CheckRule("heads.calling", "calling heads", Kind.SHARE, "head_fed", _calling, while_flowing=True)
IDLE = CheckRule("heads.idle", "idle heads", Kind.SHARE, "head_still", _idle, while_flowing=True)
CROSSED = CheckRule("heads.crossed", "crossed heads", Kind.SHARE, "head_fed", _crossed, while_flowing=True)
HEADS = (CALLING, IDLE, CROSSED)

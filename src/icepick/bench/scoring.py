"""What an attempt is worth: right and shown, soon, without needless intrusion, as sure as one may be; and what it cost.

Points are our own choice. How sure one is counts by a proper rule: nobody gains by saying more or less than one thinks
(the quadratic score of G. W. Brier, Monthly Weather Review 78 (1950) 1, shifted so that an even chance earns nothing).
"""

from __future__ import annotations

from collections.abc import Sequence

from icepick.bench.acts import HOOK_UP_LOSS, Hint, LookAt, RepairIt
from icepick.bench.case import Case
from icepick.bench.looks import BY_CODE
from icepick.bench.plan import Plan
from icepick.bench.playing import Done
from icepick.bench.repairs import repair_of
from icepick.bench.saying import BANDS, Saying, band_of, same_place
from icepick.core.document.base import Document
from icepick.core.document.examination import Fault

RIGHT, BAND, ACTION, MINUTES, INTRUSION, SURENESS = 45.0, 10.0, 10.0, 15.0, 5.0, 15.0
"""What each can earn: together one hundred."""
CONDEMNED_OPEN, WASTED_PART, MISSED_CARE, BOUGHT_HINT = 35.0, 25.0, 4.0, 6.0
"""What each costs: a part condemned with a rule-out open costs most, as in life."""
_MOST_MISSED = 12.0
_SHOWN = 0.5
"""A fault so likely by what was read was shown; one that was right and less likely was guessed, and counts half."""
_FREE, _SPENT = (1.5, 5.0), (4.0, 20.0)
"""Minutes, in times an expert's and on top of that: up to the one all of the points, from the other on none."""


class ScoreLine(Document):
    """Points earned or lost by one thing, and why."""

    what: str
    points: float
    of: float
    why: str


class Score(Document):
    """The lines and their sum; ``right`` is whether everything was named and nothing else, ``dollars`` and ``parts`` what was
    spent on what was not at fault, ``refrigerant`` what the hook-ups let go [percent of the charge]."""

    lines: list[ScoreLine]
    total: float
    right: bool
    minutes: float
    dollars: int
    parts: list[str]
    refrigerant: float


def score(
    case: Case,
    done: Sequence[Done],
    said: Saying,
    best: Plan,
    shown: float,
    still_open: Sequence[str],
    *,
    can_be_settled: bool,
) -> Score:
    """Score an attempt.

    Parameters
    ----------
    case : Case
        With the truth.
    done : sequence of Done
        The steps.
    said : Saying
        What was said.
    best : Plan
        An expert's steps.
    shown : float
        How likely the truth is by what was read [0…1]; of two faults, the less likely.
    still_open : sequence of str
        Rule-outs that were open when a part was condemned.
    can_be_settled : bool
        Whether an expert could settle all of them with what is at hand.

    Returns
    -------
    Score
        Line by line.
    """
    hits = [t for t in case.troubles if any(same_place(case, one, t) for one in said.faults)]
    extra = [one for one in said.faults if not any(same_place(case, one, t) for t in case.troubles)]
    right = len(hits) == len(case.troubles) and not extra
    lines = [_right(case, len(hits), len(extra), shown)]
    if right:
        lines += [
            _band(case, said),
            _action(case, {*said.would_do, *_repaired(done)}, can_be_settled),
            _minutes(done, best),
            _intrusion(done, best),
        ]
    lines.append(_sureness(said.confidence, right))
    lines += _costs(case, done, said, still_open)
    wrong = [
        f for f in dict.fromkeys([*said.would_do, *_repaired(done)]) if f not in case.truth and f != "none"
    ]
    return Score(
        lines=lines,
        total=round(sum(line.points for line in lines), 1),
        right=right,
        minutes=_worked(done),
        dollars=sum(repair_of(fault).dollars for fault in wrong),
        parts=[repair_of(fault).part for fault in wrong if repair_of(fault).part],
        refrigerant=round(HOOK_UP_LOSS * gauged(done), 1),
    )


def _right(case: Case, hits: int, extra: int, shown: float) -> ScoreLine:
    there = max(len(case.troubles), 1)
    named = (1.0 if not case.troubles and not extra else hits / there) - 0.5 * extra
    share = max(named, 0.0) * (1.0 if shown >= _SHOWN else 0.5)
    if named <= 0:
        why = "Not what is wrong with it."
    elif shown < _SHOWN:
        why = "Guessed: what you read does not show it, and a guess counts half."
    else:
        why = "Named, and shown by what you read." if named >= 1 else "Not all of it, or more than there is."
    return ScoreLine(what="right", points=round(RIGHT * share, 1), of=RIGHT, why=why)


def _band(case: Case, said: Saying) -> ScoreLine:
    earned, whys = [], []
    for trouble in case.troubles:
        true = band_of(trouble)
        named = next(one.band for one in said.faults if same_place(case, one, trouble))
        if true is None:
            earned.append(1.0)
        else:
            off = abs(BANDS.index(named) - BANDS.index(true)) if named else 2
            earned.append(1.0 - 0.5 * off)
            whys.append(f"It is {true}." if off else f"{true.capitalize()}, as you said.")
    share = sum(earned) / len(earned) if earned else 1.0
    return ScoreLine(
        what="how bad", points=round(BAND * share, 1), of=BAND, why=" ".join(whys) or "It knows no amount."
    )


def _action(case: Case, repaired: set[Fault], can_be_settled: bool) -> ScoreLine:
    should = {fault for fault in case.truth if fault != "none"}
    done = repaired - {"none"}
    if should and not done and not can_be_settled:
        why = "Named, and nothing condemned: what would settle it is not at hand here."
        return ScoreLine(what="what would be done", points=ACTION, of=ACTION, why=why)
    good = done == should
    why = (
        "What you would do repairs it, and nothing else."
        if good
        else "What you would do leaves it, or does more."
    )
    return ScoreLine(what="what would be done", points=ACTION if good else 0.0, of=ACTION, why=why)


def _minutes(done: Sequence[Done], best: Plan) -> ScoreLine:
    spent = _worked(done)
    free, gone = (times * best.minutes + more for times, more in (_FREE, _SPENT))
    share = min(1.0, max(0.0, (gone - spent) / (gone - free)))
    why = f"{spent:.0f} minutes of reading; an expert takes {best.minutes:.0f}."
    return ScoreLine(what="minutes", points=round(MINUTES * share, 1), of=MINUTES, why=why)


def _intrusion(done: Sequence[Done], best: Plan) -> ScoreLine:
    more = max(0, intruded(done) - intruded(best.steps))
    why = (
        "No more hook-ups and panels than it takes."
        if not more
        else f"{more} hook-ups or panels more than it takes."
    )
    return ScoreLine(what="intrusion", points=max(0.0, INTRUSION - 2.0 * more), of=INTRUSION, why=why)


def _sureness(confidence: float, right: bool) -> ScoreLine:
    off = (1.0 - confidence if right else confidence) ** 2
    points = SURENESS * (1 - 4 * off)
    why = f"You were {100 * confidence:.0f} % sure, and {'right' if right else 'wrong'}."
    return ScoreLine(what="how sure", points=round(points, 1), of=SURENESS, why=why)


def _costs(case: Case, done: Sequence[Done], said: Saying, still_open: Sequence[str]) -> list[ScoreLine]:
    lines = []
    if still_open:
        why = "Condemned before this was settled: " + "; ".join(still_open) + "."
        lines.append(ScoreLine(what="condemned too soon", points=-CONDEMNED_OPEN, of=0.0, why=why))
    spent = [*said.would_do, *_repaired(done)]
    parts = [f for f in dict.fromkeys(spent) if f not in case.truth and repair_of(f).part]
    if parts:
        why = "Not at fault: " + ", ".join(repair_of(fault).part for fault in parts) + "."
        lines.append(ScoreLine(what="parts wasted", points=-WASTED_PART * len(parts), of=0.0, why=why))
    missed = sum(len(one.missed) for one in done)
    if missed:
        points = -min(_MOST_MISSED, MISSED_CARE * missed)
        lines.append(ScoreLine(what="cautions missed", points=points, of=0.0, why=f"{missed} times."))
    hints = sum(isinstance(one.step, Hint) for one in done)
    if hints:
        lines.append(ScoreLine(what="hints", points=-BOUGHT_HINT * hints, of=0.0, why=f"{hints} bought."))
    return lines


def _worked(done: Sequence[Done]) -> float:
    """Minutes of the visit, repairs not counted: what it takes is the same whoever found it."""
    repaired = sum(one.ended - one.began for one in done if isinstance(one.step, RepairIt))
    return round((done[-1].ended if done else 0.0) - repaired, 1)


def _repaired(done: Sequence[Done]) -> list[Fault]:
    return [one.step.fault for one in done if isinstance(one.step, RepairIt)]


def gauged(done: Sequence[Done]) -> int:
    """How many ports a gauge was hooked up to."""
    return len({one.reading.station for one in done if one.reading and one.reading.method == "gauge"})


def intruded(done: Sequence[Done]) -> int:
    """Hook-ups of gauges, and panels taken off."""
    opened = {one.step.look for one in done if isinstance(one.step, LookAt) and BY_CODE[one.step.look].opens}
    return gauged(done) + len(opened)

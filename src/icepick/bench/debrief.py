"""After it was said: the truth, what each reading told, beside an expert's way, and the score."""

from __future__ import annotations

from collections.abc import Sequence
from math import log2

from icepick.bench.acts import CARES, RepairIt
from icepick.bench.case import Case, Trouble
from icepick.bench.plan import SURE, Plan, plan
from icepick.bench.playing import Done, visit_of
from icepick.bench.repairs import repair_of
from icepick.bench.saying import Band, SaidFault, Saying, band_of, open_points
from icepick.bench.scoring import Score, score
from icepick.bench.wording import step_found, step_words
from icepick.core.diagnosis.rule_outs import by_hand
from icepick.core.document.base import Document
from icepick.core.document.examination import Fault, RuleOut
from icepick.core.examine import examine, probabilities
from icepick.core.handbook.fault_on_unit import title_on
from icepick.core.handbook.fault_pages import PAGES
from icepick.core.machine.faults import machine_fault
from icepick.core.practice import DEFAULT_PRACTICE
from icepick.core.properties.quantities import UnitSystem


class Truth(Document):
    """What is wrong: ``fault`` leads to its Handbook page."""

    fault: Fault
    title: str
    words: str
    band: Band | None
    apart: str
    repaired: str


class Told(Document):
    """A step and what it told: ``words`` are what was done, ``found`` what came of it; ``told`` says in words what it was
    worth, ``share`` how likely the truth was after it [0…1], ``lead`` what led then."""

    number: int
    began: float
    ended: float
    act: str
    words: str
    found: str
    told: str
    bits: float | None
    share: float
    lead: str
    missed: list[str]


class Debrief(Document):
    """``decidable`` is the minute from which on the apprentice's own readings told the truth, null where they never did."""

    truth: list[Truth]
    own: list[Told]
    best: list[Told]
    decidable: float | None
    best_decided: float | None
    best_minutes: float
    score: Score
    open_points: list[RuleOut]
    said: Saying


def debrief(
    case: Case, done: Sequence[Done], said: Saying, units: UnitSystem, best: Plan | None = None
) -> Debrief:
    """Hold an attempt against the truth and an expert.

    Parameters
    ----------
    case : Case
        With the truth.
    done : sequence of Done
        The steps.
    said : Saying
        What was said.
    units : {"field", "metric"}
        Units of the words.
    best : Plan or None
        An expert's steps, where they are known already.

    Returns
    -------
    Debrief
        With the score.
    """
    expert = best or plan(case)
    own = told(case, done, units)
    still = open_points(case, done, said)
    return Debrief(
        truth=[_truth(case, one) for one in case.troubles] or [_sound(case)],
        own=own,
        best=told(case, expert.steps, units),
        decidable=decidable(own),
        best_decided=expert.decided,
        best_minutes=expert.minutes,
        score=score(
            case,
            done,
            said,
            expert,
            shown(case, done, own),
            [point.text for point in still],
            can_be_settled=not open_points(case, expert.steps, _as_an_expert(case)),
        ),
        open_points=still,
        said=said,
    )


def _as_an_expert(case: Case) -> Saying:
    """The truth said in full, and everything a hand can settle settled."""
    return Saying(
        faults=[SaidFault(fault=t.fault, where=t.where, band=band_of(t)) for t in case.troubles],
        confidence=0.95,
        ruled_out=sorted({text for t in case.troubles for text in by_hand(t.fault)}),
        would_do=[t.fault for t in case.troubles],
    )


def shown(case: Case, done: Sequence[Done], own: Sequence[Told]) -> float:
    """How likely the truth was by all that was read; of two faults, each at its own time, the less likely. That nothing is
    wrong is not shown by not looking: the examination must call it sound."""
    if not own:
        return 0.0
    if not case.troubles and examine(visit_of(case, done, after_only=True)).lead != "sound":
        return 0.0
    if len(case.troubles) < 2:
        return own[-1].share
    return min(
        max((_shares(case, done, n).get(t.fault, 0.0) for n in _ends(done)), default=0.0)
        for t in case.troubles
    )


def _ends(done: Sequence[Done]) -> list[int]:
    """Where something was repaired, and the end: what was known by then."""
    return [*(n for n, one in enumerate(done) if isinstance(one.step, RepairIt)), len(done)]


def decidable(own: Sequence[Told]) -> float | None:
    """The minute from which on the truth led surely, and went on to."""
    found = None
    for one in reversed(own):
        if one.share < SURE:
            break
        found = one.ended
    return found


def told(case: Case, done: Sequence[Done], units: UnitSystem) -> list[Told]:
    """What each step told.

    Parameters
    ----------
    case : Case
        With the truth.
    done : sequence of Done
        The steps.
    units : {"field", "metric"}
        Units of the words.

    Returns
    -------
    list of Told
        One for each step.
    """
    lines: list[Told] = []
    before: dict[Fault, float] = {}
    for n, one in enumerate(done, start=1):
        gave = one.reading is not None or one.observations or one.recording is not None
        repaired = isinstance(one.step, RepairIt)
        after = {} if repaired else _shares(case, done, n) if gave else before
        bits = _entropy(before) - _entropy(after) if gave and after else None
        share, was = _of_truth(case, done[:n], after), _of_truth(case, done[:n], before)
        lead = max(after.items(), key=lambda one: one[1]) if after else None
        lines.append(
            Told(
                number=n,
                began=one.began,
                ended=one.ended,
                act=one.step.act,
                words=step_words(case, one),
                found=step_found(one, units),
                told="" if bits is None else _worth(bits, share - was, share, first=not before),
                bits=None if bits is None else round(bits, 2),
                share=round(share, 3),
                lead="" if lead is None else f"{title_on(case.unit, lead[0], None)}, {100 * lead[1]:.0f} %",
                missed=[CARES[care][1] for care in one.missed],
            )
        )
        before = after
    return lines


def _shares(case: Case, done: Sequence[Done], count: int) -> dict[Fault, float]:
    """How likely each fault was after so many steps; after a repairing only what was read since counts."""
    return probabilities(visit_of(case, done[:count], after_only=True), DEFAULT_PRACTICE)


def _of_truth(case: Case, done: Sequence[Done], shares: dict[Fault, float]) -> float:
    gone = {one.step.fault for one in done if isinstance(one.step, RepairIt)}
    left = [fault for fault in case.truth if fault not in gone] or ["none"]
    return sum(shares.get(fault, 0.0) for fault in left)


_LEADS = 0.5
_UNREAD = 4.0
"""Bits that are open while nothing was read: about sixteen faults alike. [our own choice]"""


def _entropy(shares: dict[Fault, float]) -> float:
    if not shares:
        return _UNREAD
    return -sum(share * log2(share) for share in shares.values() if share > 0)


def _worth(bits: float, towards: float, share: float, *, first: bool) -> str:
    """Bits in words; ``towards`` is what the truth gained, ``share`` what it has now."""
    if first:
        return "A beginning."
    if bits >= 0.7 and towards < 0 and share < _LEADS:
        return "This pointed elsewhere."
    if towards < -0.15:
        return "This led away from it."
    if bits < -0.15:
        return "This opened it up again." if towards <= 0.15 else "This brought the truth into it."
    if bits < 0.05 and abs(towards) < 0.05:
        return "Told nothing new."
    if bits < 0.25:
        return "Told a little."
    if bits < 0.7:
        return "This narrowed it."
    return "This halved it." if bits < 1.5 else "This all but settled it."


def _truth(case: Case, trouble: Trouble) -> Truth:
    known, page = machine_fault(trouble.fault), PAGES[trouble.fault]
    amount = ""
    if known is not None and not known.backwards:
        unit = "%" if known.unit == "percent" else f" {known.unit}"
        amount = f"{trouble.severity:g}{unit} {known.words}"
    return Truth(
        fault=trouble.fault,
        title=title_on(case.unit, trouble.fault, trouble.where),
        words=amount or page.what,
        band=band_of(trouble),
        apart=page.apart,
        repaired=repair_of(trouble.fault).words,
    )


def _sound(case: Case) -> Truth:
    page = PAGES["none"]
    return Truth(
        fault="none", title=page.title, words=page.what, band=None, apart=page.apart, repaired=page.first
    )

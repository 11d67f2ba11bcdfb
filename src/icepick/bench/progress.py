"""How somebody gets on: what is taken for what, how sure against how right, and which lesson is next.

A lesson is chosen by weakness: first one whose fault was missed last time, then the next of the trade's order, of the subject
that goes worst. [our own choice]
"""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime
from itertools import pairwise

from icepick.bench.case import LEVELS, Case, Level
from icepick.bench.lessons import groups, lessons
from icepick.bench.saying import Saying
from icepick.bench.scoring import Score
from icepick.core.document.base import Document
from icepick.core.document.examination import Fault
from icepick.core.handbook.fault_pages import title
from icepick.core.scoring import Share, share

BENCH_MARK = "practice bench: simulated, no customer's"


class Tried(Document):
    """An attempt that was said."""

    attempt: int
    code: str
    level: Level
    at: datetime
    truth: list[Fault]
    said: list[Fault]
    confidence: float
    score: Score


class Mistaken(Document):
    """A truth and what it was taken for, so many times; a truth that was seen is taken for itself."""

    truth: Fault
    truth_title: str
    said: Fault
    said_title: str
    count: int


class Sure(Document):
    """How sure one was, from ``low`` to ``high``, and how often it was right then."""

    low: float
    high: float
    said: float
    right: Share


class OfGroup(Document):
    """A subject: lessons solved at least once, of how many."""

    code: str
    title: str
    solved: int
    of: int


class Progress(Document):
    """``streak`` counts what was right in a row up to now; ``next_lesson`` is null once all are solved, ``why`` says why it
    is next."""

    tried: int
    right: Share
    streak: int
    mean_score: float | None
    mistaken: list[Mistaken]
    sure: list[Sure]
    groups: list[OfGroup]
    next_lesson: str | None
    why: str


def tried(attempt: int, at: datetime, case: Case, said: Saying, score: Score) -> Tried:
    """An attempt in short."""
    return Tried(
        attempt=attempt,
        code=case.code,
        level=case.level,
        at=at,
        truth=case.truth,
        said=[one.fault for one in said.faults] or ["none"],
        confidence=said.confidence,
        score=score,
    )


_EDGES = (0.5, 0.65, 0.8, 0.9, 1.0)


def progress(every: Sequence[Tried]) -> Progress:
    """How somebody gets on.

    Parameters
    ----------
    every : sequence of Tried
        Attempts, the first one first.

    Returns
    -------
    Progress
        Also where nothing was tried yet.
    """
    right = [one.score.right for one in every]
    streak = next((n for n, good in enumerate(reversed(right)) if not good), len(right))
    lesson, why = next_lesson(every)
    return Progress(
        tried=len(every),
        right=share(sum(right), len(right)),
        streak=streak,
        mean_score=round(sum(one.score.total for one in every) / len(every), 1) if every else None,
        mistaken=_mistaken(every),
        sure=_sure(every),
        groups=[_of_group(group.code, group.title, every) for group in groups()],
        next_lesson=lesson,
        why=why,
    )


def _mistaken(every: Sequence[Tried]) -> list[Mistaken]:
    counts: Counter[tuple[Fault, Fault]] = Counter()
    for one in every:
        for fault in one.truth:
            if fault in one.said:
                counts[fault, fault] += 1
            else:
                others = [said for said in one.said if said not in one.truth] or ["none"]
                counts[fault, others[0]] += 1
    return [
        Mistaken(truth=truth, truth_title=title(truth), said=said, said_title=title(said), count=count)
        for (truth, said), count in sorted(counts.items(), key=lambda item: (-item[1], item[0]))
    ]


def _sure(every: Sequence[Tried]) -> list[Sure]:
    found = []
    for low, high in pairwise(_EDGES):
        within = [one for one in every if low <= one.confidence < high]
        if within:
            mean = sum(one.confidence for one in within) / len(within)
            right = share(sum(one.score.right for one in within), len(within))
            found.append(Sure(low=low, high=high, said=round(mean, 3), right=right))
    return found


def _of_group(code: str, title: str, every: Sequence[Tried]) -> OfGroup:
    own = [name for name, lesson in lessons().items() if lesson.group == code]
    return OfGroup(code=code, title=title, solved=len(set(own) & _solved(every)), of=len(own))


def _solved(every: Sequence[Tried]) -> set[str]:
    return {one.code for one in every if one.score.right}


def next_lesson(every: Sequence[Tried]) -> tuple[str | None, str]:
    """The lesson to go on with, and why.

    Parameters
    ----------
    every : sequence of Tried
        Attempts, the first one first.

    Returns
    -------
    tuple
        Its code, None once all are solved; and a sentence.
    """
    solved = _solved(every)
    left = [name for name in lessons() if name not in solved]
    if not left:
        return None, "All lessons are solved: draw cases."
    last: Mapping[str, Tried] = {one.code: one for one in every}
    missed = Counter(fault for one in last.values() if not one.score.right for fault in one.truth)
    # What was missed is met in another lesson first; the same one again comes after.
    for fault, _ in missed.most_common():
        others = [name for name in left if fault in lessons()[name].case.truth and name not in last]
        if others:
            return others[0], f"You missed {title(fault)} lately: here it is in another unit."
    again = [name for name in left if name in last]
    fresh = [name for name in left if name not in last]
    if again and (not fresh or len(again) >= _MOST_OPEN):
        return again[0], "You have seen this one: now the reading that decides it."
    return fresh[0], "The next one in the order of the trade."


_MOST_OPEN = 3
"""So many lessons that went wrong, and one of them comes again before anything new."""


def as_csv(every: Sequence[Tried]) -> str:
    """Every attempt as a row (RFC 4180); each is marked as practice.

    Parameters
    ----------
    every : sequence of Tried
        Attempts, the first one first.

    Returns
    -------
    str
        With a heading.
    """
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(
        ["what", "attempt", "at", "case", "level", "truth", "said", "confidence", "right", "score", "minutes"]
    )
    for one in every:
        writer.writerow(
            [
                BENCH_MARK,
                one.attempt,
                one.at.isoformat(),
                one.code,
                LEVELS[one.level],
                " + ".join(one.truth),
                " + ".join(one.said),
                one.confidence,
                "yes" if one.score.right else "no",
                one.score.total,
                one.score.minutes,
            ]
        )
    return out.getvalue()

"""How often verdicts were right: what was said of visits, beside what it was in the end.

A probability is right where, of all the times it was said, it came so often. Each share comes with the ends between which the
true one lies nineteen times in twenty (Wilson's score interval: E. B. Wilson, J. Am. Stat. Assoc. 22 (1927) 209).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import sqrt

from icepick.core.document.base import Document
from icepick.core.document.examination import Fault

NINETEEN_IN_TWENTY = 1.959964
"""Standard deviations."""
EDGES = (0.0, 0.5, 0.7, 0.85, 0.95, 1.0)
"""Of the bands in which what was said first is looked at."""
AMONG = 3
"""So many of a ranking are read."""


@dataclass(frozen=True, slots=True)
class Scored:
    """A visit of which both are known: the ranking as it was, and the truth."""

    ranking: Mapping[Fault, float]
    truth: Fault

    @property
    def first(self) -> Fault:
        """What was said first."""
        return max(self.ranking, key=lambda fault: self.ranking[fault])

    @property
    def place(self) -> int | None:
        """Where the truth stood in the ranking, from 1; None where it was not in it."""
        own = self.ranking.get(self.truth)
        return None if own is None else 1 + sum(other > own for other in self.ranking.values())


class Share(Document):
    """``count`` of ``of``; ``low`` and ``high`` are the ends of the true share."""

    count: int
    of: int
    low: float
    high: float


class Band(Document):
    """What was said first with a probability from ``low`` to ``high``: ``said`` is the mean of it, ``came`` how often it was
    so."""

    low: float
    high: float
    said: float
    came: Share


class FaultScore(Document):
    """A fault: how often it was ``right`` where it was said first, how often it was ``found`` (said first) where it was so,
    and how many of the visits it should have been by the probabilities (``expected``) beside how many it was."""

    fault: Fault
    right: Share
    found: Share
    expected: float
    was: int


class Score(Document):
    """``first``: the truth was said first; ``among``: it was among the first three; ``expected`` is how often it should have
    been first by what was said."""

    first: Share
    among: Share
    expected: float
    bands: list[Band]
    faults: list[FaultScore]


def share(count: int, of: int) -> Share:
    """So many of so many, with the ends of the true share.

    Parameters
    ----------
    count : int
        How often.
    of : int
        Of how many; 0 says nothing.

    Returns
    -------
    Share
        With Wilson's score interval.
    """
    if not of:
        return Share(count=0, of=0, low=0.0, high=1.0)
    z, part = NINETEEN_IN_TWENTY, count / of
    middle = (part + z * z / (2 * of)) / (1 + z * z / of)
    reach = z / (1 + z * z / of) * sqrt(part * (1 - part) / of + z * z / (4 * of * of))
    return Share(count=count, of=of, low=max(0.0, middle - reach), high=min(1.0, middle + reach))


def score(visits: Sequence[Scored]) -> Score:
    """Hold what was said to what it was.

    Parameters
    ----------
    visits : sequence of Scored
        Visits of which both are known.

    Returns
    -------
    Score
        Bands and faults that were never said and never so are left out.
    """
    return Score(
        first=share(sum(one.place == 1 for one in visits), len(visits)),
        among=share(sum(one.place is not None and one.place <= AMONG for one in visits), len(visits)),
        expected=sum(one.ranking[one.first] for one in visits),
        bands=_bands(visits),
        faults=sorted(_faults(visits), key=lambda one: (-one.was, -one.right.of, one.fault)),
    )


def _bands(visits: Sequence[Scored]) -> list[Band]:
    found = []
    for low, high in pairwise(EDGES):
        within = [
            one
            for one in visits
            if low <= one.ranking[one.first] < high or one.ranking[one.first] == high == 1
        ]
        if within:
            said = sum(one.ranking[one.first] for one in within) / len(within)
            came = share(sum(one.place == 1 for one in within), len(within))
            found.append(Band(low=low, high=high, said=said, came=came))
    return found


def _faults(visits: Sequence[Scored]) -> list[FaultScore]:
    named = {one.first for one in visits} | {one.truth for one in visits}
    found = []
    for fault in named:
        said = [one for one in visits if one.first == fault]
        was = [one for one in visits if one.truth == fault]
        found.append(
            FaultScore(
                fault=fault,
                right=share(sum(one.truth == fault for one in said), len(said)),
                found=share(sum(one.first == fault for one in was), len(was)),
                expected=sum(one.ranking.get(fault, 0.0) for one in visits),
                was=len(was),
            )
        )
    return found

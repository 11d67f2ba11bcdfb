"""Examinations kept while neither the visits nor the practice limits change: an examination depends on nothing else.

Every visit is examined beside those to its unit before it, of which the sound ones teach what the unit is like.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.examination import Examination
from icepick.core.document.visit import Visit
from icepick.core.examine import examine
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.store.visits import StoredVisit

_Changes = tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class Followed:
    """A visit, and those to its unit before it that it may be learned from, oldest first."""

    visit: StoredVisit
    before: Sequence[StoredVisit]


def each_followed(visits: Sequence[StoredVisit]) -> list[Followed]:
    """Every visit of a list that goes from the newest to the oldest, those of its unit in it behind it."""
    of_unit = defaultdict[int, list[StoredVisit]](list)
    found = []
    for visit in reversed(visits):
        before = of_unit[visit.unit_id]
        found.append(Followed(visit, before[-MOST_EARLIER:]))
        before.append(visit)
    return found[::-1]


def examined(one: Followed, practice: Practice, units: UnitSystem) -> Examination:
    """The examination of a visit that is likely to be asked for again: one on a screen, or an earlier one to its unit."""
    return _examined(*_key(one, practice, units))


def examined_once(one: Followed, practice: Practice) -> Examination:
    """The examination of a visit of which no more than its words are wanted; it is not kept."""
    taught = [earlier.document for earlier in one.before]
    return examine(one.visit.document, practice, "field", taught)


@dataclass(frozen=True, slots=True, eq=False)
class _Document:
    """A visit by what is written of it; its recordings, which may hold many samples, by which they are."""

    written: str
    visit: Visit

    def __hash__(self) -> int:
        return hash((self.written, *map(id, self.visit.recordings)))

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, _Document)
            and self.written == other.written
            and [*map(id, self.visit.recordings)] == [*map(id, other.visit.recordings)]
        )


def _document(visit: StoredVisit) -> _Document:
    recordings = visit.document.recordings
    bare = visit.document.model_copy(update={"recordings": []}) if recordings else visit.document
    return _Document(bare.model_dump_json(), visit.document)


def _key(
    one: Followed, practice: Practice, units: UnitSystem
) -> tuple[_Document, tuple[_Document, ...], _Changes, UnitSystem]:
    document, *before = (_document(visit) for visit in (one.visit, *one.before))
    return document, tuple(before), tuple(sorted(practice.changes.items())), units


@lru_cache(maxsize=128)
def _examined(
    document: _Document, before: tuple[_Document, ...], changes: _Changes, units: UnitSystem
) -> Examination:
    taught = [one.visit for one in before]
    return examine(document.visit, Practice(dict(changes)), units, taught)

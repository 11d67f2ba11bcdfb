"""Examinations kept while neither the visit nor the practice limits change: an examination depends on nothing else."""

from __future__ import annotations

from functools import lru_cache

from icepick.core.document.examination import Examination, Status
from icepick.core.document.visit import Visit, parse_visit
from icepick.core.examine import examine
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem

_Changes = tuple[tuple[str, float], ...]


def examined(visit: Visit, practice: Practice, units: UnitSystem) -> Examination:
    """The examination of a visit that is likely to be asked for again, as earlier visits to a unit are."""
    return _examined(*_key(visit, practice, units))


def headline(visit: Visit, practice: Practice, units: UnitSystem) -> tuple[str, Status]:
    """Headline and outcome of a visit, for lists of many."""
    return _headline(*_key(visit, practice, units))


def _key(visit: Visit, practice: Practice, units: UnitSystem) -> tuple[str, _Changes, UnitSystem]:
    return visit.model_dump_json(), tuple(sorted(practice.changes.items())), units


@lru_cache(maxsize=128)
def _examined(document: str, changes: _Changes, units: UnitSystem) -> Examination:
    return _afresh(document, changes, units)


@lru_cache(maxsize=4096)
def _headline(document: str, changes: _Changes, units: UnitSystem) -> tuple[str, Status]:
    examination = _afresh(document, changes, units)
    return examination.headline, examination.outcome


def _afresh(document: str, changes: _Changes, units: UnitSystem) -> Examination:
    return examine(parse_visit(document), Practice(dict(changes)), units)

"""The visits of one unit, each examined beside those before it, as the web does."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.record import UnitRecord, VisitRecord
from icepick.core.document.visit import Visit
from icepick.core.examine import examine
from icepick.core.history import ExaminedVisit, History, history
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.exchange.standing import standing
from icepick.fleet.tables import Row, rows_of


@dataclass(frozen=True, slots=True)
class UnitsVisits:
    """A unit and its visits as their records' JSON: what is sent to whoever examines them."""

    unit: bytes
    visits: tuple[bytes, ...]


@dataclass(frozen=True, slots=True)
class Examined:
    """The rows by table, how many visits were examined, and of which nothing could be said, with why."""

    rows: dict[str, list[Row]]
    visits: int
    left_out: list[str]


def examine_units(
    batch: Sequence[UnitsVisits], changes: dict[str, float], units: UnitSystem = "field"
) -> Examined:
    """Examine the visits of some units.

    Parameters
    ----------
    batch : sequence of UnitsVisits
        Each unit with all its visits.
    changes : dict of str to float
        The shop's own practice limits, each in its own unit.
    units : {"field", "metric"}
        Of the numbers in the tables.

    Returns
    -------
    Examined
        Pure function of its arguments.
    """
    practice, rows = Practice.of_what_stands(changes), defaultdict[str, list[Row]](list)
    count, left_out = 0, list[str]()
    for one in batch:
        unit = parse(UnitRecord, one.unit)
        records = [parse(VisitRecord, text) for text in one.visits]
        records.sort(key=lambda record: datetime.fromisoformat(record.opened_at))
        before, known = list[Visit](), list[ExaminedVisit]()
        for number, record in enumerate(records):
            try:
                visit = standing(record, unit).document
                examination = examine(visit, practice, units, before[-MOST_EARLIER:])
            except (InvalidDocumentError, ValueError) as error:
                left_out.append(f"visit {record.id}: {error}"[:300])
                continue
            count += 1
            opened = datetime.fromisoformat(record.opened_at)
            known = [*known[-MOST_EARLIER:], ExaminedVisit(number, opened, examination)]
            drift: History | None = history(known, number, practice, units) if len(known) > 1 else None
            for table, row in rows_of(record, unit, examination, drift):
                rows[table].append(row)
            before.append(visit)
    return Examined(dict(rows), count, left_out)

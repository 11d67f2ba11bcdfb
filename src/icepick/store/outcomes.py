"""What visits came to: what it was in the end, and what had been said of it."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.outcome import Outcome, Said
from icepick.store.database import now


@dataclass(frozen=True, slots=True)
class ToldOutcome:
    """An outcome, what had been said when it first became known, and when and by whom it was told."""

    visit_id: int
    outcome: Outcome
    said: Said
    recorded_at: str
    by: str | None


def tell(connection: sqlite3.Connection, visit_id: int, outcome: Outcome, said: Said) -> None:
    """Append what a visit came to. Told again, a verdict is still held to what was ``said`` before it was known."""
    before = outcome_of(connection, visit_id)
    if before is not None and before.outcome == outcome:
        return
    if before is not None and before.outcome.fault is not None:
        said = before.said
    connection.execute(
        "INSERT INTO outcomes (visit_id, document, said, recorded_at) VALUES (?, ?, ?, ?)",
        (visit_id, outcome.model_dump_json(), said.model_dump_json(), now()),
    )


def outcome_of(connection: sqlite3.Connection, visit_id: int) -> ToldOutcome | None:
    """The outcome in force of a visit, or None."""
    found = _told(connection, "outcomes.id = (SELECT max(id) FROM outcomes WHERE visit_id = ?)", (visit_id,))
    return found[0] if found else None


def all_outcomes(connection: sqlite3.Connection) -> list[ToldOutcome]:
    """The outcomes in force of all visits that stand, the newest first; what this Icepick can't use is left alone."""
    in_force = """outcomes.id IN (SELECT max(id) FROM outcomes GROUP BY visit_id)
                  AND outcomes.visit_id IN (SELECT id FROM standing_visits)"""
    return _told(connection, in_force, ())


def _told(connection: sqlite3.Connection, where: str, values: tuple[int, ...]) -> list[ToldOutcome]:
    rows = connection.execute(
        f"""SELECT outcomes.*, (SELECT name FROM signed WHERE signed.visit_id = outcomes.visit_id
                                AND what = 'outcome' AND row = outcomes.id) AS by
            FROM outcomes WHERE {where} ORDER BY outcomes.id DESC""",
        values,
    )
    found = []
    for row in rows:
        try:
            outcome, said = parse(Outcome, row["document"]), parse(Said, row["said"])
        except InvalidDocumentError:
            continue
        found.append(ToldOutcome(row["visit_id"], outcome, said, row["recorded_at"], row["by"]))
    return found

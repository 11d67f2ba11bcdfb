"""What is recorded during a run: readings, observations and notes. Appended, never overwritten.

Each entry carries a key made where it was typed, so that one sent twice is kept once; taking an entry back
marks its key as withdrawn.
"""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from uuid import uuid4

from icepick.core.document.visit import Observation, Reading
from icepick.store.database import now


class StaleError(Exception):
    """Somebody else changed it since it was read; nothing was written."""


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing recorded, in the order it was: a reading or an observation."""

    run: str
    entry_key: str
    withdrawn: bool
    recorded_at: str
    reading: Reading | None = None
    observation: Observation | None = None


def add_reading(
    connection: sqlite3.Connection, run_id: int, reading: Reading, entry_key: str | None = None
) -> bool:
    """Append a reading to a run; whether it was new (a key seen before adds nothing)."""
    cursor = connection.execute(
        """INSERT INTO readings (run_id, station, quantity, value, unit, method, at, recorded_at, entry_key)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (entry_key) DO NOTHING""",
        (
            run_id,
            reading.station,
            reading.quantity,
            reading.value,
            reading.unit,
            reading.method,
            reading.at.isoformat() if reading.at else None,
            now(),
            entry_key or uuid4().hex,
        ),
    )
    return cursor.rowcount == 1


def add_observation(
    connection: sqlite3.Connection, run_id: int, observation: Observation, entry_key: str | None = None
) -> bool:
    """Append an observation to a run; whether it was new."""
    value = json.dumps(observation.value) if observation.value is not None else None
    cursor = connection.execute(
        """INSERT INTO observations (run_id, code, value, recorded_at, entry_key)
           VALUES (?, ?, ?, ?, ?) ON CONFLICT (entry_key) DO NOTHING""",
        (run_id, observation.code, value, now(), entry_key or uuid4().hex),
    )
    return cursor.rowcount == 1


def withdraw(connection: sqlite3.Connection, entry_key: str) -> None:
    """Take an entry back; doing so twice is the same as once."""
    connection.execute(
        "INSERT INTO withdrawals (entry_key, recorded_at) VALUES (?, ?) ON CONFLICT DO NOTHING",
        (entry_key, now()),
    )


def set_notes(connection: sqlite3.Connection, run_id: int, text: str, revision: int) -> None:
    """Replace the notes of a run as they stood at ``revision`` (0: none yet); earlier texts are kept.

    Raises
    ------
    StaleError
        The notes have changed since.
    """
    (latest,) = connection.execute(
        "SELECT coalesce(max(id), 0) FROM note_revisions WHERE run_id = ?", (run_id,)
    ).fetchone()
    if latest != revision:
        raise StaleError
    connection.execute(
        "INSERT INTO note_revisions (run_id, text, recorded_at) VALUES (?, ?, ?)", (run_id, text, now())
    )


def entries(connection: sqlite3.Connection, visit_id: int) -> list[Entry]:
    """Everything recorded during a visit, taken back or not, in the order it was recorded."""
    rows = connection.execute(
        """SELECT runs.key AS run, e.*, withdrawals.entry_key IS NOT NULL AS withdrawn FROM (
             SELECT run_id, entry_key, recorded_at, id, station, quantity, value, unit, method, at,
                    NULL AS code, NULL AS observed FROM readings
             UNION ALL
             SELECT run_id, entry_key, recorded_at, id, NULL, NULL, NULL, NULL, NULL, NULL, code, value
             FROM observations
           ) AS e JOIN runs ON runs.id = e.run_id
           LEFT JOIN withdrawals ON withdrawals.entry_key = e.entry_key
           WHERE runs.visit_id = ? ORDER BY e.recorded_at, e.id""",
        (visit_id,),
    )
    return [_entry(row) for row in rows]


def _entry(row: sqlite3.Row) -> Entry:
    head = (row["run"], row["entry_key"], bool(row["withdrawn"]), row["recorded_at"])
    if row["code"] is not None:
        observed = json.loads(row["observed"]) if row["observed"] is not None else None
        return Entry(*head, observation=Observation(code=row["code"], value=observed))
    fields = {name: row[name] for name in ("station", "quantity", "value", "unit", "method", "at")}
    return Entry(*head, reading=Reading.model_validate_json(json.dumps(fields)))

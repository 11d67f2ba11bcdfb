"""What is recorded during a run: readings, observations and notes. Appended, never overwritten.

Each entry carries a key made where it was typed, so that one sent twice is kept once; taking an entry back
marks its key as withdrawn.
"""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal, TypeVar
from uuid import uuid4

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.visit import Observation, Reading
from icepick.store.database import now
from icepick.store.receipts import KeyUsedError

M = TypeVar("M", Reading, Observation)


class StaleError(Exception):
    """Somebody else changed it since it was read; nothing was written."""


@dataclass(frozen=True, slots=True, eq=False)
class Entry:
    """One thing recorded, in the order it was: a reading or an observation. The same object while it stays as it is."""

    run: str
    entry_key: str
    withdrawn: bool
    recorded_at: str
    reading: Reading | None = None
    observation: Observation | None = None


def add_reading(
    connection: sqlite3.Connection, run_id: int, reading: Reading, entry_key: str | None = None
) -> bool:
    """Append a reading to a run; whether it was new: sent again under its key, it adds nothing.

    Raises
    ------
    KeyUsedError
        The key stands for another entry.
    """
    row = {
        "run_id": run_id,
        "station": reading.station,
        "quantity": reading.quantity,
        "value": reading.value,
        "unit": reading.unit,
        "method": reading.method,
        "at": reading.at.isoformat() if reading.at else None,
    }
    return _append(connection, "readings", row, entry_key or uuid4().hex)


def add_observation(
    connection: sqlite3.Connection, run_id: int, observation: Observation, entry_key: str | None = None
) -> bool:
    """Append an observation to a run; answers and errors as for :func:`add_reading`."""
    value = json.dumps(observation.value) if observation.value is not None else None
    row = {"run_id": run_id, "code": observation.code, "value": value}
    return _append(connection, "observations", row, entry_key or uuid4().hex)


def _append(
    connection: sqlite3.Connection,
    table: Literal["readings", "observations"],
    row: dict[str, Any],
    entry_key: str,
) -> bool:
    filled = {**row, "recorded_at": now(), "entry_key": entry_key}
    other = "observations" if table == "readings" else "readings"
    # In one statement: each one more is waited for by all who write.
    added = connection.execute(
        f"""INSERT INTO {table} ({", ".join(filled)}) SELECT {", ".join(f":{name}" for name in filled)}
            WHERE NOT EXISTS (SELECT 1 FROM {other} WHERE entry_key = :entry_key) ON CONFLICT (entry_key) DO NOTHING""",
        filled,
    )
    if added.rowcount:
        return True
    known = connection.execute(f"SELECT * FROM {table} WHERE entry_key = ?", (entry_key,)).fetchone()
    if known is None or any(known[name] != value for name, value in row.items()):
        raise KeyUsedError
    return False


def withdraw(connection: sqlite3.Connection, entry_key: str) -> bool:
    """Take an entry back; whether it stood until now: doing so twice is the same as once."""
    cursor = connection.execute(
        "INSERT INTO withdrawals (entry_key, recorded_at) VALUES (?, ?) ON CONFLICT DO NOTHING",
        (entry_key, now()),
    )
    return cursor.rowcount > 0


def entries_of_run(connection: sqlite3.Connection, run_id: int) -> tuple[int, int]:
    """How many readings and how many observations a run holds, those taken back included."""
    readings, observations = connection.execute(
        """SELECT (SELECT count(*) FROM readings WHERE run_id = :run),
                  (SELECT count(*) FROM observations WHERE run_id = :run)""",
        {"run": run_id},
    ).fetchone()
    return readings, observations


def set_notes(connection: sqlite3.Connection, run_id: int, text: str, revision: int) -> int:
    """Replace the notes of a run as they stood at ``revision`` (0: none yet); earlier texts are kept. Gives the new
    revision.

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
    cursor = connection.execute(
        "INSERT INTO note_revisions (run_id, text, recorded_at) VALUES (?, ?, ?)", (run_id, text, now())
    )
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def entries(connection: sqlite3.Connection, visit_id: int) -> list[Entry]:
    """Everything recorded during a visit, taken back or not, in the order it was recorded."""
    rows = connection.execute(
        """SELECT runs.key, e.entry_key, e.recorded_at, withdrawals.entry_key IS NOT NULL, e.station, e.quantity, e.value,
                  e.unit, e.method, e.at, e.code, e.observed FROM (
             SELECT run_id, entry_key, recorded_at, id, station, quantity, value, unit, method, at,
                    NULL AS code, NULL AS observed
             FROM readings WHERE run_id IN (SELECT id FROM runs WHERE visit_id = :visit)
             UNION ALL
             SELECT run_id, entry_key, recorded_at, id, NULL, NULL, NULL, NULL, NULL, NULL, code, value
             FROM observations WHERE run_id IN (SELECT id FROM runs WHERE visit_id = :visit)
           ) AS e JOIN standing_runs AS runs ON runs.id = e.run_id
           LEFT JOIN withdrawals ON withdrawals.entry_key = e.entry_key
           ORDER BY e.recorded_at, e.id""",
        {"visit": visit_id},
    )
    return [_entry(*row) for row in rows]


# Remembered: but for being taken back, an entry never changes.
@lru_cache(maxsize=10_000)
def _entry(
    run: str,
    entry_key: str,
    recorded_at: str,
    withdrawn: bool,
    station: str | None,
    quantity: str | None,
    value: float | None,
    unit: str | None,
    method: str | None,
    at: str | None,
    code: str | None,
    observed: str | None,
) -> Entry:
    head = (run, entry_key, bool(withdrawn), recorded_at)
    if code is not None:
        seen = {"code": code, "value": json.loads(observed) if observed is not None else None}
        return Entry(*head, observation=_if_known(Observation, json.dumps(seen)))
    said = {
        "station": station,
        "quantity": quantity,
        "value": value,
        "unit": unit,
        "method": method,
        "at": at,
    }
    return Entry(*head, reading=_if_known(Reading, json.dumps(said)))


def _if_known(model: type[M], text: str) -> M | None:
    """None for what an older Icepick took and this one would refuse."""
    try:
        return parse(model, text)
    except InvalidDocumentError:
        return None

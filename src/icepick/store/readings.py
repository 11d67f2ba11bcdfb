"""Readings and observations: appended, never overwritten."""

from __future__ import annotations

import json
import sqlite3
from uuid import uuid4

from icepick.core.visit import Observation, Reading
from icepick.store.database import now


def add_reading(
    connection: sqlite3.Connection, run_id: int, reading: Reading, entry_key: str | None = None
) -> bool:
    """Append a reading to a run.

    Parameters
    ----------
    entry_key : str, optional
        Made where the reading was typed. A key that was seen before adds nothing.

    Returns
    -------
    bool
        Whether the reading was new.
    """
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


def add_observation(connection: sqlite3.Connection, run_id: int, observation: Observation) -> None:
    """Append an observation to a run."""
    value = json.dumps(observation.value) if observation.value is not None else None
    connection.execute(
        "INSERT INTO observations (run_id, code, value, recorded_at) VALUES (?, ?, ?, ?)",
        (run_id, observation.code, value, now()),
    )

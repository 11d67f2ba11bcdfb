"""The shop's own practice limits."""

from __future__ import annotations

import sqlite3

from icepick.core.practice import Practice
from icepick.store.database import now


def practice(connection: sqlite3.Connection) -> Practice:
    """The limits in force; what an older Icepick kept and this one can't use is left alone."""
    return _practice(connection, revision(connection))


def former_practice(connection: sqlite3.Connection) -> Practice:
    """The limits that were in force before the last change."""
    return _practice(connection, revision(connection) - 1)


def _practice(connection: sqlite3.Connection, up_to: int) -> Practice:
    rows = connection.execute(
        """SELECT name, value FROM practice_changes
           WHERE id IN (SELECT max(id) FROM practice_changes WHERE id <= ? GROUP BY name) AND value IS NOT NULL""",
        (up_to,),
    )
    return Practice.of_what_stands({row["name"]: row["value"] for row in rows})


def change(connection: sqlite3.Connection, name: str, value: float | None) -> None:
    """Change a limit (in its own unit), or restore its default with None."""
    connection.execute(
        "INSERT INTO practice_changes (name, value, recorded_at) VALUES (?, ?, ?)", (name, value, now())
    )


def revision(connection: sqlite3.Connection) -> int:
    """A number that grows with every change of a limit."""
    (latest,) = connection.execute("SELECT coalesce(max(id), 0) FROM practice_changes").fetchone()
    return int(latest)

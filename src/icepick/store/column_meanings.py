"""What the columns of files meant when that was last said: a logger heads its columns the same day after day."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable

from icepick.core.recorded_file.meanings import Place
from icepick.store.database import now


def known_meanings(connection: sqlite3.Connection, headings: Iterable[str]) -> dict[str, Place | None]:
    """What each of the headings meant, where that was ever said; None is left out."""
    found: dict[str, Place | None] = {}
    for heading in headings:
        row = _row(connection, heading)
        if row is not None and (row["station"] is not None or row["unit"] is None):
            found[heading] = Place(row["station"], row["quantity"], row["unit"]) if row["station"] else None
    return found


def known_clock_unit(connection: sqlite3.Connection, heading: str) -> str | None:
    """The unit in which a clock of this heading counted."""
    row = _row(connection, heading)
    return row["unit"] if row is not None and row["station"] is None else None


def say_meaning(
    connection: sqlite3.Connection, heading: str, place: Place | None, clock_unit: str | None = None
) -> None:
    """Remember what a heading means. In a transaction."""
    said = (place.station, place.quantity, place.unit) if place else (None, None, clock_unit)
    connection.execute(
        """INSERT INTO column_meanings (heading, station, quantity, unit, said_at) VALUES (?, ?, ?, ?, ?)
           ON CONFLICT (heading) DO UPDATE SET station = excluded.station, quantity = excluded.quantity,
             unit = excluded.unit, said_at = excluded.said_at""",
        (heading, *said, now()),
    )


def _row(connection: sqlite3.Connection, heading: str) -> sqlite3.Row | None:
    found: sqlite3.Row | None = connection.execute(
        "SELECT station, quantity, unit FROM column_meanings WHERE heading = ?", (heading,)
    ).fetchone()
    return found

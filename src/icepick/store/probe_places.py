"""Where each of the shop's probes sat when that was last said: a kit goes on the same pipes day after day."""

from __future__ import annotations

import sqlite3

from icepick.store.database import now


def known_places(connection: sqlite3.Connection) -> dict[tuple[str, str], tuple[str, str]]:
    """Station and quantity by a probe's address and what it measures."""
    found = connection.execute(
        "SELECT address, measures, station, quantity FROM probe_places WHERE station IS NOT NULL"
    )
    return {(one["address"], one["measures"]): (one["station"], one["quantity"]) for one in found}


def say_place(
    connection: sqlite3.Connection, address: str, measures: str, place: tuple[str, str] | None
) -> None:
    """Remember where a probe sits; None is nowhere. In a transaction."""
    connection.execute(
        """INSERT INTO probe_places (address, measures, station, quantity, said_at) VALUES (?, ?, ?, ?, ?)
           ON CONFLICT (address, measures) DO UPDATE SET
             station = excluded.station, quantity = excluded.quantity, said_at = excluded.said_at""",
        (address, measures, *(place or (None, None)), now()),
    )

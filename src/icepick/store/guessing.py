"""Wrong passphrases of the last hour; too many close the door for a while."""

from __future__ import annotations

import sqlite3
from datetime import UTC, datetime, timedelta
from hashlib import sha256

LOCKED_FOR = timedelta(minutes=15)
MOST_OF_A_NAME, MOST_OF_AN_ADDRESS = 5, 20
"""So many wrong passphrases of one name from one address, or of any names from one address, within ``LOCKED_FOR`` close the
door to that address for as long: nobody keeps another from signing in elsewhere."""
MOST_AN_HOUR = 50
"""So many of one name within an hour, wherever from, close the door to everybody of that name (ASVS 2.2.1 allows 100)."""
_HOUR = timedelta(hours=1)


def failed(connection: sqlite3.Connection, name: str, address: str) -> None:
    """Write down that a passphrase was wrong, and let go what is older than an hour."""
    connection.execute("DELETE FROM failures WHERE at < ?", (_ago(_HOUR),))
    connection.execute(
        "INSERT INTO failures (name, address, at) VALUES (?, ?, ?)",
        (_digest(name), address, _ago(timedelta(0))),
    )


def forgive(connection: sqlite3.Connection, name: str) -> None:
    """Forget the wrong passphrases of a name."""
    connection.execute("DELETE FROM failures WHERE name = ?", (_digest(name),))


def locked_for(connection: sqlite3.Connection, name: str, address: str) -> int:
    """Seconds until the door opens to that name from that address; 0 where it stands open."""
    return max(
        _full(connection, "name = :name AND address = :address", name, address, MOST_OF_A_NAME, LOCKED_FOR),
        _full(connection, "address = :address", name, address, MOST_OF_AN_ADDRESS, LOCKED_FOR),
        _full(connection, "name = :name", name, address, MOST_AN_HOUR, _HOUR),
    )


def _full(
    connection: sqlite3.Connection, of: str, name: str, address: str, most: int, within: timedelta
) -> int:
    latest = connection.execute(
        f"SELECT at FROM failures WHERE {of} AND at > :since ORDER BY at DESC LIMIT :most",
        {"name": _digest(name), "address": address, "since": _ago(within), "most": most},
    ).fetchall()
    if len(latest) < most:
        return 0
    opens = datetime.fromisoformat(latest[-1]["at"]) + within
    return max(int((opens - moment()).total_seconds()), 1)


def _digest(name: str) -> str:
    """A passphrase typed where the name belongs is not kept."""
    return sha256(name.casefold().encode()).hexdigest()


def moment() -> datetime:
    """The present moment."""
    return datetime.now(UTC)


def _ago(time: timedelta) -> str:
    return (moment() - time).isoformat(timespec="milliseconds")

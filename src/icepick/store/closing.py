"""When a visit is closed: by a press, or at the end of the day it was opened on; and each time it was opened again."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta

from icepick.store.database import now

DAY_ENDS_AT = time(4)
"""A call may go on past midnight; its day ends at this hour, where the server stands."""


class ClosedError(Exception):
    """The visit is closed; nothing was written."""


@dataclass(frozen=True, slots=True)
class Closing:
    """``closed_at`` is when a visit was closed (ISO 8601), None while it is open; ``reopened`` each time it was opened
    again."""

    closed_at: str | None
    reopened: tuple[str, ...]


def closing(connection: sqlite3.Connection, visit_id: int) -> Closing:
    """Whether a visit is closed. A visit that is not there is open: nothing stands that could be kept from change."""
    rows = connection.execute(
        """SELECT opened_at, closed, recorded_at FROM visits LEFT JOIN closings ON visit_id = visits.id
           WHERE visits.id = ? ORDER BY closings.id""",
        (visit_id,),
    ).fetchall()
    if not rows:
        return Closing(None, ())
    presses = [row for row in rows if row["recorded_at"] is not None]
    reopened = tuple(press["recorded_at"] for press in presses if not press["closed"])
    if presses and presses[-1]["closed"]:
        return Closing(presses[-1]["recorded_at"], reopened)
    over = _end_of_day(datetime.fromisoformat((reopened or (rows[0]["opened_at"],))[-1]))
    return Closing(over.astimezone(UTC).isoformat() if over <= _moment() else None, reopened)


def _end_of_day(at: datetime) -> datetime:
    """The next hour at which a day ends."""
    local = at.astimezone()
    day = local.date() + timedelta(days=local.time() >= DAY_ENDS_AT)
    return datetime.combine(day, DAY_ENDS_AT).astimezone()


def _moment() -> datetime:
    return datetime.fromisoformat(now())


def day_of_work() -> str:
    """A word that changes when a day ends."""
    return str(_end_of_day(_moment()))


def close(connection: sqlite3.Connection, visit_id: int) -> None:
    """Close a visit; doing so twice is the same as once."""
    if closing(connection, visit_id).closed_at is None:
        _press(connection, visit_id, closed=True)


def reopen(connection: sqlite3.Connection, visit_id: int) -> None:
    """Open a closed visit again, until the end of this day; an open one stays as it is."""
    if closing(connection, visit_id).closed_at is not None:
        _press(connection, visit_id, closed=False)


def _press(connection: sqlite3.Connection, visit_id: int, *, closed: bool) -> None:
    connection.execute(
        "INSERT INTO closings (visit_id, closed, recorded_at) VALUES (?, ?, ?)", (visit_id, closed, now())
    )


def refuse_closed(connection: sqlite3.Connection, visit_id: int) -> None:
    """Let nothing be added to a closed visit.

    Raises
    ------
    ClosedError
        The visit is closed.
    """
    if closing(connection, visit_id).closed_at is not None:
        raise ClosedError


def open_visits(connection: sqlite3.Connection) -> set[int]:
    """The numbers of the visits that are open."""
    lately = (_moment() - timedelta(days=2)).astimezone(UTC).isoformat()
    rows = connection.execute(
        """SELECT id FROM standing_visits WHERE opened_at > :lately OR id IN (
             SELECT visit_id FROM closings WHERE NOT closed AND recorded_at > :lately)""",
        {"lately": lately},
    )
    return {row["id"] for row in rows if closing(connection, row["id"]).closed_at is None}

"""Making a thing once, however often it is asked for: each request carries a key made where it was typed."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from typing import Literal

from icepick.store.database import now

Made = Literal["unit", "visit", "run", "readings", "attempt", "case"]


class KeyUsedError(Exception):
    """The key already stands for something else; nothing was written."""


def once(
    connection: sqlite3.Connection, entry_key: str, what: Made, content: str, make: Callable[[], str]
) -> str:
    """Make something, or give what was made under this key before.

    Parameters
    ----------
    connection : sqlite3.Connection
        In a transaction (see :func:`icepick.store.database.writing`).
    entry_key : str
        Made where the request was typed; the same for every time it is sent.
    what, content : str
        What is asked for, and all that was said of it.
    make : callable
        Makes it and gives its name; not called where it was made before.

    Returns
    -------
    str
        The name of what was made.

    Raises
    ------
    KeyUsedError
        The key was used with other content.
    """
    known = connection.execute(
        "SELECT what, content, made FROM receipts WHERE entry_key = ?", (entry_key,)
    ).fetchone()
    if known is not None:
        if (known["what"], known["content"]) != (what, content):
            raise KeyUsedError
        return str(known["made"])
    made = make()
    connection.execute(
        "INSERT INTO receipts (entry_key, what, content, made, recorded_at) VALUES (?, ?, ?, ?, ?)",
        (entry_key, what, content, made, now()),
    )
    return made

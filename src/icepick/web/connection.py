"""One database connection for each thread that answers requests: to open one takes longer than most of what is asked."""

from __future__ import annotations

import sqlite3
from hashlib import blake2b
from pathlib import Path
from secrets import token_hex
from threading import Lock, local

from flask import Flask, current_app

from icepick.store.database import connect, prepare


def install(app: Flask, database: Path) -> None:
    """Bring the file up to date and keep what the application's threads open."""
    prepare(database)
    app.config["ICEPICK_DB"] = database
    app.extensions["icepick.connections"] = local()
    # Writes nothing; whoever else writes moves its data_version on. That counts from when it was opened.
    app.extensions["icepick.watch"] = sqlite3.connect(database, check_same_thread=False), Lock(), token_hex(4)


def connection() -> sqlite3.Connection:
    """The connection of this thread."""
    held = current_app.extensions["icepick.connections"]
    if not hasattr(held, "connection"):
        held.connection = connect(current_app.config["ICEPICK_DB"])
    opened: sqlite3.Connection = held.connection
    return opened


def records_tag(*asked: object) -> str:
    """An entity tag of what was asked of the records: another one once anything is written to them, by whatever
    connection."""
    watch, one_at_a_time, opened = current_app.extensions["icepick.watch"]
    with one_at_a_time:
        (version,) = watch.execute("PRAGMA data_version").fetchone()
    return blake2b(repr((opened, version, *asked)).encode(), digest_size=12).hexdigest()

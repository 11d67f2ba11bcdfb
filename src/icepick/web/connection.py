"""One database connection per request, closed with it."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from threading import Lock

from flask import Flask, current_app, g

from icepick.store.database import connect, prepare


def install(app: Flask, database: Path) -> None:
    """Bring the file up to date and have each request close what it opened."""
    prepare(database)
    app.config["ICEPICK_DB"] = database
    # Writes nothing; whoever else writes moves its data_version on.
    app.extensions["icepick.watch"] = sqlite3.connect(database, check_same_thread=False), Lock()

    @app.teardown_appcontext
    def close(_: BaseException | None) -> None:
        if (connection := g.pop("connection", None)) is not None:
            connection.close()


def connection() -> sqlite3.Connection:
    """The connection of this request."""
    if "connection" not in g:
        g.connection = connect(current_app.config["ICEPICK_DB"])
    opened: sqlite3.Connection = g.connection
    return opened


def stamp() -> int:
    """A number that changes with every write to the records, by whatever connection."""
    watch, one_at_a_time = current_app.extensions["icepick.watch"]
    with one_at_a_time:
        (version,) = watch.execute("PRAGMA data_version").fetchone()
    return int(version)

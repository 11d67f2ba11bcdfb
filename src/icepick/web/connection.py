"""One database connection for each thread that answers requests: to open one takes longer than most of what is asked."""

from __future__ import annotations

import os
import sqlite3
from hashlib import blake2b
from pathlib import Path
from secrets import token_hex
from threading import Lock, local

from flask import Flask, current_app, g

from icepick.store.carrying import make_ready
from icepick.store.database import connect
from icepick.web.problems import problem


class _Watch:
    """A connection that writes nothing: whoever else writes moves its ``data_version`` on. That counts from when it was
    opened."""

    def __init__(self, database: Path) -> None:
        self._database, self._one_at_a_time = database, Lock()
        self._opened: tuple[sqlite3.Connection, str, object] | None = None

    def version(self, file: object) -> tuple[str, int]:
        with self._one_at_a_time:
            if self._opened is None or self._opened[2] != file:
                if self._opened is not None:
                    self._opened[0].close()
                self._opened = sqlite3.connect(self._database, check_same_thread=False), token_hex(4), file
            connection, opened, _ = self._opened
            (version,) = connection.execute("PRAGMA data_version").fetchone()
        return opened, int(version)


def install(app: Flask, database: Path) -> None:
    """Bring the file up to date and keep what the application's threads open."""
    make_ready(database)
    app.config["ICEPICK_DB"] = database
    app.extensions["icepick.connections"] = local()
    app.extensions["icepick.watch"] = _Watch(database)


def connection() -> sqlite3.Connection:
    """The connection of this thread, to the file that stands at the database's place when a request begins: what is written
    to one that was deleted or moved away would be lost."""
    if "connection" not in g:
        g.connection = _to_what_stands_there()
    found: sqlite3.Connection = g.connection
    return found


def _to_what_stands_there() -> sqlite3.Connection:
    held = current_app.extensions["icepick.connections"]
    file = _file()
    if getattr(held, "file", None) != file:
        if hasattr(held, "connection"):
            held.connection.close()
        held.connection, held.file = connect(current_app.config["ICEPICK_DB"]), file
    opened: sqlite3.Connection = held.connection
    return opened


def _file() -> tuple[int, int]:
    try:
        found = os.stat(current_app.config["ICEPICK_DB"])
    except OSError as error:
        reason = "it is gone" if isinstance(error, FileNotFoundError) else error.strerror
        raise problem(
            503,
            f"The file with the records can't be found: {reason}. Put it back or restore a backup with "
            "`icepick restore`; what was typed is kept.",
        ) from None
    return found.st_dev, found.st_ino


def records_tag(*asked: object) -> str:
    """An entity tag of what was asked of the records: another one once anything is written to them, by whatever
    connection."""
    watch: _Watch = current_app.extensions["icepick.watch"]
    return blake2b(repr((*watch.version(_file()), *asked)).encode(), digest_size=12).hexdigest()

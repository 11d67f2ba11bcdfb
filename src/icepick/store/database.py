"""One SQLite file: opening it, bringing it up to date, and writing to it in one piece."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path
from threading import Lock

_one_writer = Lock()


class DatabaseError(RuntimeError):
    """The file cannot be used; the message says why and what to do."""


def connect(path: Path, *, worked_out: bool = False) -> sqlite3.Connection:
    """Open the file for one thread.

    Each commit is forced to disk before it returns (``synchronous=FULL``): a reading that was
    acknowledged survives a killed process and a pulled plug. What is only ``worked_out`` from the
    records, and can be again, need not be (``NORMAL``: the file stays whole, the last lines may go).
    """
    connection = sqlite3.connect(path, isolation_level=None)
    connection.row_factory = sqlite3.Row
    connection.executescript(
        "PRAGMA foreign_keys = ON; PRAGMA busy_timeout = 5000;"
        f"PRAGMA synchronous = {'NORMAL' if worked_out else 'FULL'};"
    )
    return connection


@contextmanager
def writing(connection: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """A transaction that takes the write lock at once and is rolled back on any error."""
    # The threads of this process take turns; SQLite has those who wait look again now and then, and some wait long.
    with _one_writer:
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
        except BaseException:
            connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")


@contextmanager
def at_one_moment(connection: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """Everything read inside is of one moment, whoever writes meanwhile."""
    connection.execute("BEGIN")
    try:
        yield connection
    finally:
        connection.execute("ROLLBACK")


def now() -> str:
    """The present moment as the store writes it (ISO 8601, UTC)."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def prepare(path: Path) -> None:
    """Create the file or bring it up to date, keeping a copy of what was there first.

    Raises
    ------
    DatabaseError
        The file was written by a newer Icepick, is not a database, or can't be written.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with closing(connect(path)) as connection:
            connection.execute("PRAGMA journal_mode = WAL")
            _migrate(connection, path)
    except sqlite3.DatabaseError as error:
        raise DatabaseError(f"{path} can't be used as Icepick's database: {error}") from error
    except OSError as error:
        raise DatabaseError(f"{path} can't be written: {error.strerror or error}") from error


def _migrate(connection: sqlite3.Connection, path: Path) -> None:
    scripts = sorted(
        (
            entry
            for entry in files("icepick.store").joinpath("schema").iterdir()
            if entry.name.endswith(".sql")
        ),
        key=lambda entry: entry.name,
    )
    version: int = connection.execute("PRAGMA user_version").fetchone()[0]
    if version > len(scripts):
        raise DatabaseError(
            f"{path} was written by a newer Icepick (schema {version}, this one knows {len(scripts)}); "
            "update Icepick, or point ICEPICK_DB at another file."
        )
    if 0 < version < len(scripts):
        with closing(sqlite3.connect(path.with_name(f"{path.name}.schema-{version}.bak"))) as copy:
            connection.backup(copy)
    for number, script in enumerate(scripts[version:], start=version + 1):
        connection.executescript(
            f"BEGIN IMMEDIATE;\n{script.read_text('utf-8')}\nPRAGMA user_version = {number};\nCOMMIT;"
        )

"""One SQLite file: opening it, bringing it up to date, and writing to it in one piece."""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from contextvars import ContextVar
from datetime import UTC, datetime
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path
from tempfile import NamedTemporaryFile
from threading import Lock
from time import sleep

_one_writer = Lock()
LONGEST_WAIT_S = 5
"""For others who write."""

acting: ContextVar[int | None] = ContextVar("acting", default=None)
"""The account on whose behalf is written; the audit names it."""


class DatabaseError(RuntimeError):
    """The file cannot be used; the message says why and what to do."""


class DamagedError(DatabaseError):
    """What stands in the file makes no sense any more."""


def connect(path: Path, *, worked_out: bool = False, make: bool = False) -> sqlite3.Connection:
    """Open the file for one thread; one that is not there is an error, unless it is to be made.

    Each commit is forced to disk before it returns (``synchronous=FULL``): a reading that was
    acknowledged survives a killed process and a pulled plug. What is only ``worked_out`` from the
    records, and can be again, need not be (``NORMAL``: the file stays whole, the last lines may go).
    """
    place = f"{path.absolute().as_uri()}?mode={'rwc' if make else 'rw'}"
    connection = sqlite3.connect(place, uri=True, isolation_level=None)
    connection.row_factory = sqlite3.Row
    connection.create_function("acting", 0, acting.get)
    connection.executescript(
        f"PRAGMA foreign_keys = ON; PRAGMA busy_timeout = {LONGEST_WAIT_S * 1000};"
        f"PRAGMA synchronous = {'NORMAL' if worked_out else 'FULL'};"
    )
    return connection


@contextmanager
def writing(connection: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """A transaction that takes the write lock at once and is rolled back on any error."""
    # The threads of this process take turns; SQLite has those who wait look again now and then, and some wait long.
    if not _one_writer.acquire(timeout=LONGEST_WAIT_S):
        # As SQLite says it of another process: who writes much, as an import does, does not use up the threads of the server.
        busy = sqlite3.OperationalError("another thread is writing")
        busy.sqlite_errorname = "SQLITE_BUSY"
        raise busy
    try:
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
        except BaseException:
            connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")
    finally:
        _one_writer.release()


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


APPLICATION_ID = int.from_bytes(b"Icep")
"""Stands in the head of every file of ours, so that no other program's is taken for one."""


def prepare(path: Path) -> None:
    """Create the file or bring it up to date, keeping a copy of what was there first. Two that start at once do it once.

    Raises
    ------
    DatabaseError
        The file was written by a newer Icepick or another program, is not a database, is damaged, or can't be written.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        make_private(path)
        with closing(connect(path, make=True)) as connection:
            refuse_foreign(connection, path)
            _use_wal(connection)
            _migrate(connection, path)
    except sqlite3.DatabaseError as error:
        raise unusable(f"{path} can't be used as Icepick's database", error) from error
    except OSError as error:
        raise DatabaseError(f"{path} can't be written: {error.strerror or error}") from error


def make_private(path: Path) -> None:
    """Make an empty file that only its owner reads, where there is none: what stands in records is nobody else's."""
    with suppress(FileExistsError):
        os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))


_WHY = {
    "SQLITE_FULL": "the disk is full",
    "SQLITE_READONLY": "the file is read-only; its owner and folder have to let Icepick write",
    "SQLITE_CANTOPEN": "it can't be opened; does its folder exist, and may Icepick write there?",
    "SQLITE_BUSY": "another writer holds it locked",
    "SQLITE_LOCKED": "another writer holds it locked",
    "SQLITE_IOERR": "the disk does not take or give what it should",
    "SQLITE_CORRUPT": "it is damaged; restore a backup with `icepick restore`",
    "SQLITE_NOTADB": "it is no database",
}


def why_out_of_reach(error: sqlite3.Error) -> str | None:
    """Why the file can't be read or written, in words; None where the error is another."""
    name = error_name(error) or ""
    return next((words for kind, words in _WHY.items() if name.startswith(kind)), None)


def unusable(what: str, error: sqlite3.Error) -> DatabaseError:
    """The error to raise for one of SQLite's."""
    damaged = (error_name(error) or "").startswith(("SQLITE_CORRUPT", "SQLITE_NOTADB"))
    return (DamagedError if damaged else DatabaseError)(f"{what}: {why_out_of_reach(error) or error}")


def error_name(error: sqlite3.Error) -> str | None:
    """SQLite's own name of an error, *SQLITE_FULL*; None where the error did not come from the file."""
    return getattr(error, "sqlite_errorname", None)


def schema_version(connection: sqlite3.Connection) -> int:
    """How many of the scripts in ``schema/`` a file has been through; 0 for an empty one."""
    return int(connection.execute("PRAGMA user_version").fetchone()[0])


def refuse_foreign(connection: sqlite3.Connection, path: Path) -> None:
    """Refuse a file that is another program's, or a newer Icepick's.

    Raises
    ------
    DatabaseError
        It is.
    """
    (application,) = connection.execute("PRAGMA application_id").fetchone()
    (tables,) = connection.execute("SELECT count(*) FROM sqlite_schema").fetchone()
    version, known = schema_version(connection), len(_scripts())
    # Ours had no mark until 2026-11-27; an empty file is nobody's.
    unmarked = application == 0 and (not tables or (version > 0 and has_table(connection, "unit_revisions")))
    if application != APPLICATION_ID and not unmarked:
        raise DatabaseError(f"{path} is another program's file; point Icepick at one of its own, or at none.")
    if version > known:
        raise DatabaseError(
            f"{path} was written by a newer Icepick (schema {version}, this one knows {known}); "
            "update Icepick, or point ICEPICK_DB at another file."
        )


def has_table(connection: sqlite3.Connection, name: str) -> bool:
    """Whether a file has a table of this name."""
    return connection.execute("SELECT 1 FROM sqlite_schema WHERE name = ?", (name,)).fetchone() is not None


ROOM_NEEDED = 65_536
"""Beside the records, for the write-ahead log of a few entries [bytes]."""


def try_to_write(connection: sqlite3.Connection) -> None:
    """Take the write lock, write what stands there already, and take it back.

    Raises
    ------
    sqlite3.Error
        The file can't be written.
    OSError
        There is no room beside it for what a few readings take.
    """
    connection.execute("BEGIN IMMEDIATE")
    try:
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    finally:
        connection.execute("ROLLBACK")
    # What is rolled back was never written: a full disk shows only where something has to lie on it.
    (place,) = (row[2] for row in connection.execute("PRAGMA database_list") if row[1] == "main")
    with NamedTemporaryFile(dir=Path(place).parent, prefix=".icepick-", suffix=".probe") as probe:
        probe.write(bytes(ROOM_NEEDED))
        probe.flush()
        os.fsync(probe.fileno())


def _use_wal(connection: sqlite3.Connection) -> None:
    for attempt in range(_ATTEMPTS):
        try:
            connection.execute("PRAGMA journal_mode = WAL")
            return
        except sqlite3.OperationalError as error:
            # Who changes the mode at the same time is not waited for by SQLite itself.
            if attempt == _ATTEMPTS - 1 or not (error_name(error) or "").startswith("SQLITE_BUSY"):
                raise
            sleep(0.1)


_ATTEMPTS = 50


def _scripts() -> list[Traversable]:
    folder = files("icepick.store").joinpath("schema")
    return sorted((one for one in folder.iterdir() if one.name.endswith(".sql")), key=lambda one: one.name)


def _migrate(connection: sqlite3.Connection, path: Path) -> None:
    scripts = _scripts()
    version = schema_version(connection)
    if 0 < version < len(scripts):
        kept = path.with_name(f"{path.name}.schema-{version}.bak")
        with closing(sqlite3.connect(kept)) as copy:
            connection.backup(copy)
    with writing(connection):
        for number, script in enumerate(scripts, start=1):
            # Looked at again in the lock: another Icepick may have been quicker.
            if number > schema_version(connection):
                for statement in _statements(script.read_text("utf-8")):
                    connection.execute(statement)
                connection.execute(f"PRAGMA user_version = {number}")
        # Written each time, so that a file that can't be is found out now.
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")


def _statements(script: str) -> Iterator[str]:
    """The statements of a script one by one: run together they would each be a transaction."""
    statement = ""
    for line in script.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
    if statement.strip():
        yield statement

"""Copies of the records: made of a running database, looked through, and put back.

A copy is one file, whole in itself. It is written beside its place and moved there once it was looked through, so that a copy
that stands is a good one.
"""

from __future__ import annotations

import os
import re
import sqlite3
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from icepick.store.database import (
    DatabaseError,
    connect,
    prepare,
    refuse_foreign,
    schema_version,
    why_out_of_reach,
    writing,
)

_NAME = "icepick-%Y-%m-%dT%H%M%SZ.db"
_OURS = re.compile(r"icepick-\d{4}-\d\d-\d\dT\d{6}Z\.db")


@dataclass(frozen=True, slots=True)
class Looked:
    """What a copy holds."""

    schema: int
    units: int
    visits: int
    readings: int


def back_up(records: Path, target: Path) -> Looked:
    """Copy the records to a file that is not there yet, whatever is written meanwhile.

    Raises
    ------
    DatabaseError
        There are no records, the target stands already, or it can't be written.
    """
    if not records.exists():
        raise DatabaseError(f"{records} is not there: no records to copy.")
    if target.exists():
        raise DatabaseError(f"{target} is there already; nothing was written over it.")
    beside = target.with_name(f"{target.name}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        beside.unlink(missing_ok=True)
        with closing(connect(records)) as source, closing(sqlite3.connect(beside)) as copy:
            refuse_foreign(source, records)
            source.backup(copy)
            # One file, that needs no other beside it.
            copy.execute("PRAGMA journal_mode = DELETE")
        found = look_through(beside)
        with beside.open("rb") as written:
            os.fsync(written.fileno())
        beside.rename(target)
    except sqlite3.Error as error:
        raise DatabaseError(f"{target} can't be written: {why_out_of_reach(error) or error}") from error
    except OSError as error:
        raise DatabaseError(f"{target} can't be written: {error.strerror or error}") from error
    finally:
        with suppress(OSError):
            beside.unlink(missing_ok=True)
    return found


def look_through(copy: Path) -> Looked:
    """Read every page of a copy and hold every row to the schema.

    Raises
    ------
    DatabaseError
        It is damaged, not a copy of Icepick's records, or a newer Icepick's.
    """
    if not copy.is_file():
        raise DatabaseError(f"{copy} is not there.")
    try:
        with closing(sqlite3.connect(f"{copy.absolute().as_uri()}?mode=ro", uri=True)) as db:
            refuse_foreign(db, copy)
            version = schema_version(db)
            if not version:
                raise DatabaseError(f"{copy} is empty: it holds no records.")
            wrong = [row[0] for row in db.execute("PRAGMA integrity_check(3)") if row[0] != "ok"]
            wrong += [
                f"{row[0]} row {row[1]} hangs in the air" for row in db.execute("PRAGMA foreign_key_check")
            ][:3]
            if wrong:
                raise DatabaseError(f"{copy} is damaged: {'; '.join(wrong)}")
            counts = [
                db.execute(f"SELECT count(*) FROM {table}").fetchone()[0]
                for table in ("units", "visits", "readings")
            ]
    except sqlite3.Error as error:
        raise DatabaseError(f"{copy} can't be used: {why_out_of_reach(error) or error}") from error
    return Looked(version, *counts)


def restore(copy: Path, records: Path) -> tuple[Looked, Path | None]:
    """Put a copy in the place of the records, also under a server that runs; what stood there is copied beside it first.

    Returns
    -------
    Looked
        What was put back.
    Path or None
        The copy of what stood there.

    Raises
    ------
    DatabaseError
        The copy is no good (the records are left as they are), or the place can't be written.
    """
    found = look_through(copy)
    kept = None
    if records.exists():
        kept = records.with_name(f"{records.name}.before-restore-{datetime.now(UTC):%Y-%m-%dT%H%M%S%fZ}.bak")
        back_up(records, kept)
    prepare(records)
    try:
        with closing(connect(records)) as place:
            (last,) = place.execute("SELECT coalesce(max(revision), 0) FROM visits").fetchone()
            with closing(sqlite3.connect(f"{copy.absolute().as_uri()}?mode=ro", uri=True)) as source:
                source.backup(place)
    except sqlite3.Error as error:
        raise DatabaseError(f"{records} can't be written: {why_out_of_reach(error) or error}") from error
    prepare(records)
    with closing(connect(records)) as place, writing(place):
        # No screen takes a visit of before for the one it shows: every revision is one that was never given out.
        place.execute("UPDATE visits SET revision = revision + ?", (last + 1,))
        place.execute(
            "UPDATE summaries SET revision = revision + ?, as_of = as_of + ? WHERE revision >= 0",
            (last + 1,) * 2,
        )
    return found, kept


def back_up_into(records: Path, folder: Path, keep: int) -> Path:
    """Make a copy named by the moment, and let the oldest ones of a folder go until ``keep`` are left.

    Raises
    ------
    DatabaseError
        The copy can't be made; then none is let go.
    """
    target = folder / datetime.now(UTC).strftime(_NAME)
    back_up(records, target)
    for old in copies_in(folder)[:-keep]:
        old.unlink(missing_ok=True)
    return target


def copies_in(folder: Path) -> list[Path]:
    """The copies that were made into a folder, oldest first; other files there are none of ours."""
    return sorted(one for one in folder.glob("icepick-*.db") if _OURS.fullmatch(one.name))


def made_at(copy: Path) -> datetime:
    """When a copy of :func:`copies_in` was made."""
    return datetime.strptime(copy.name, _NAME).replace(tzinfo=UTC)

"""Copies of the records: made of a running database, looked through, and put back.

A copy is one file, whole in itself: it carries the pictures too, which lie beside the records. It is written beside its place
and moved there once it was looked through, so that a copy that stands is a good one.
"""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from pathlib import Path

from icepick.store.audit import note
from icepick.store.carrying import carried_photo, carries, carry, has_photos, unload
from icepick.store.database import (
    DamagedError,
    DatabaseError,
    connect,
    make_private,
    prepare,
    refuse_foreign,
    schema_version,
    unusable,
    writing,
)
from icepick.store.photo_files import PhotoFiles, digests

_NAME = "icepick-%Y-%m-%dT%H%M%SZ.db"
_OURS = re.compile(r"icepick-\d{4}-\d\d-\d\dT\d{6}Z\.db")


@dataclass(frozen=True, slots=True)
class Looked:
    """What a copy holds; ``lost`` pictures are spoken of and not there."""

    schema: int
    units: int
    visits: int
    readings: int
    photos: int
    lost: int


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
        make_private(beside)
        with closing(connect(records)) as source, closing(sqlite3.connect(beside)) as copy:
            refuse_foreign(source, records)
            source.backup(copy)
            # One file, that needs no other beside it.
            copy.execute("PRAGMA journal_mode = DELETE")
            carry(copy, PhotoFiles.beside(records))
        found = look_through(beside)
        with beside.open("rb") as written:
            os.fsync(written.fileno())
        beside.rename(target)
    except sqlite3.Error as error:
        raise unusable(f"{records} can't be copied to {target}", error) from error
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
                raise DamagedError(f"{copy} is damaged: {'; '.join(wrong)}")
            lost = _lost(db, copy)
            counts = [
                db.execute(f"SELECT count(*) FROM {table}").fetchone()[0]
                for table in ("units", "visits", "readings", "photos")
                if table != "photos" or has_photos(db)
            ]
    except sqlite3.Error as error:
        raise unusable(f"{copy} can't be used", error) from error
    units, visits, readings, *photos = counts
    return Looked(version, units, visits, readings, sum(photos), lost)


def _lost(db: sqlite3.Connection, copy: Path) -> int:
    """How many pictures are gone; one that was changed is damage."""
    if not has_photos(db):
        return 0
    carried = carries(db)
    files, lost = PhotoFiles.beside(copy), 0
    for digest in digests(db):
        content = carried_photo(db, digest) if carried else files.read(digest)
        if content is None:
            lost += 1
        elif sha256(content).hexdigest() != digest:
            raise DamagedError(f"{copy} is damaged: picture {digest[:12]} … is not what it was")
    return lost


def restore(copy: Path, records: Path) -> tuple[Looked, Path | None]:
    """Put a copy in the place of the records, also under a server that runs; what stood there is copied beside it first. What
    is entered between these two is in neither.

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
    kept = _put_aside(records) if records.exists() else None
    prepare(records)
    beside = records.with_name(f"{records.name}.restored")
    try:
        beside.unlink(missing_ok=True)
        make_private(beside)
        shutil.copyfile(copy, beside)
        prepare(beside)
        with closing(connect(beside)) as ready:
            unload(ready, PhotoFiles.beside(records))
        with closing(connect(records)) as place:
            (last,) = place.execute("SELECT coalesce(max(revision), 0) FROM visits").fetchone()
            with closing(connect(beside)) as ready:
                with writing(ready):
                    _number_anew(ready, last + _FAR_AHEAD)
                    # Who had signed in when the copy was made may have been let go since.
                    ready.execute("DELETE FROM sessions")
                    note(ready, "restored", None, copy.name)
                # In one step: who has the file open sees what stood there, or this.
                ready.backup(place)
    except sqlite3.Error as error:
        raise unusable(f"{records} can't be written", error) from error
    except OSError as error:
        raise DatabaseError(f"{beside} can't be written: {error.strerror or error}") from error
    finally:
        for part in beside.parent.glob(f"{beside.name}*"):
            with suppress(OSError):
                part.unlink()
    return found, kept


def _put_aside(records: Path) -> Path:
    """Copy what stands there; where it is damaged, move it away with all that belongs to it."""
    kept = records.with_name(f"{records.name}.before-restore-{datetime.now(UTC):%Y-%m-%dT%H%M%S%fZ}.bak")
    try:
        back_up(records, kept)
    except DamagedError:
        for part in ("-wal", "-shm", ""):
            with suppress(FileNotFoundError):
                records.with_name(records.name + part).rename(kept.with_name(kept.name + part))
    return kept


_FAR_AHEAD = 1_000_000
"""More entries than are written while a copy is put back."""


def _number_anew(connection: sqlite3.Connection, by: int) -> None:
    """Move every revision on: none that a screen may hold stands for what it did."""
    connection.execute("UPDATE visits SET revision = revision + ?", (by,))
    connection.execute(
        "UPDATE summaries SET revision = revision + ?, as_of = as_of + ? WHERE revision >= 0", (by, by)
    )


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

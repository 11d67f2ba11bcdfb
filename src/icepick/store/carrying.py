"""A copy that carries its pictures: put into its file when it is made, and taken out where it becomes the records again."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from icepick.store.database import DatabaseError, connect, has_table, prepare, unusable
from icepick.store.photo_files import PhotoFiles, digests

_TABLE = "carried_photos"


def make_ready(records: Path) -> None:
    """Bring records up to date, and what they carry beside them: the file may be a copy.

    Raises
    ------
    DatabaseError
        As :func:`icepick.store.database.prepare` does.
    """
    prepare(records)
    files = PhotoFiles.beside(records)
    files.sweep()
    try:
        with closing(connect(records)) as db:
            unload(db, files)
    except sqlite3.Error as error:
        raise unusable(f"the photos that {records} carries can't be laid out beside it", error) from error
    except OSError as error:
        raise DatabaseError(
            f"the photos that {records} carries can't be laid out beside it: {error.strerror or error}"
        ) from error


def has_photos(db: sqlite3.Connection) -> bool:
    """Whether a file is of an Icepick that knows photos."""
    return has_table(db, "photos")


def carries(db: sqlite3.Connection) -> bool:
    """Whether a file carries its pictures."""
    return has_table(db, _TABLE)


def carry(copy: sqlite3.Connection, files: PhotoFiles) -> None:
    """Put every picture that a copy speaks of into it; one that is gone is left out."""
    if not has_photos(copy):
        return
    copy.execute(f"CREATE TABLE {_TABLE} (sha256 TEXT PRIMARY KEY, content BLOB NOT NULL) STRICT")
    for digest in list(digests(copy)):
        content = files.read(digest)
        if content is not None:
            copy.execute(f"INSERT INTO {_TABLE} VALUES (?, ?)", (digest, content))
    copy.commit()


def carried_photo(db: sqlite3.Connection, digest: str) -> bytes | None:
    """A picture that a copy carries, or None."""
    row = db.execute(f"SELECT content FROM {_TABLE} WHERE sha256 = ?", (digest,)).fetchone()
    return bytes(row[0]) if row else None


def unload(db: sqlite3.Connection, files: PhotoFiles) -> None:
    """Lay the pictures that a copy carries beside the records that it becomes.

    Raises
    ------
    OSError
        They can't be written.
    """
    if not carries(db):
        return
    for (digest,) in db.execute(f"SELECT sha256 FROM {_TABLE}").fetchall():
        content = carried_photo(db, digest)
        if content is not None:
            files.put(content)
    db.execute(f"DROP TABLE {_TABLE}")
    db.execute("VACUUM")

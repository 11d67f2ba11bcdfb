"""The photos of a visit. Appended, never changed; taken back by their key."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.photo import Photo
from icepick.store.database import now
from icepick.store.receipts import KeyUsedError

_STANDS = "entry_key NOT IN (SELECT entry_key FROM withdrawals)"


@dataclass(frozen=True, slots=True)
class StoredPhoto:
    """A photo that stands, the key under which it was entered, when and by whom."""

    entry_key: str
    photo: Photo
    recorded_at: str
    by: str | None


def add_photo(connection: sqlite3.Connection, visit_id: int, photo: Photo, entry_key: str) -> bool:
    """Append a photo whose picture is kept already; whether it was new: sent again under its key, it adds nothing.

    Raises
    ------
    KeyUsedError
        The key stands for another photo.
    """
    known = connection.execute("SELECT * FROM photos WHERE entry_key = ?", (entry_key,)).fetchone()
    if known is not None:
        if known["visit_id"] != visit_id or _photo(known) != photo:
            raise KeyUsedError
        return False
    connection.execute(
        """INSERT INTO photos (visit_id, about, caption, sha256, width, height, recorded_at, entry_key)
           VALUES (:visit, :about, :caption, :sha256, :width, :height, :now, :key)""",
        {**photo.model_dump(), "visit": visit_id, "now": now(), "key": entry_key},
    )
    return True


def photos_of(connection: sqlite3.Connection, visit_id: int) -> list[StoredPhoto]:
    """The photos of a visit that stand, in their order; what this Icepick can't use is left alone."""
    rows = connection.execute(
        f"""SELECT photos.*, (SELECT name FROM signed WHERE signed.visit_id = photos.visit_id
                              AND what = 'photo' AND row = photos.id) AS by
            FROM photos WHERE visit_id = ? AND {_STANDS} ORDER BY id""",
        (visit_id,),
    )
    return [
        StoredPhoto(row["entry_key"], photo, row["recorded_at"], row["by"])
        for row in rows
        if (photo := _photo(row)) is not None
    ]


def holds_key(connection: sqlite3.Connection, visit_id: int, entry_key: str) -> bool:
    """Whether a photo of the visit was entered under a key."""
    found = connection.execute(
        "SELECT 1 FROM photos WHERE visit_id = ? AND entry_key = ?", (visit_id, entry_key)
    ).fetchone()
    return found is not None


def _photo(row: sqlite3.Row) -> Photo | None:
    try:
        return parse(Photo, json.dumps({name: row[name] for name in Photo.model_fields}))
    except InvalidDocumentError:
        return None

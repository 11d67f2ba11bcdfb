"""Recordings of a visit and the marks set while they ran. Appended, never overwritten; taken back by their key.

A recording that was read once is kept as it is: what asks for a visit again gets the same object, which is told from another
at a glance, however many samples it holds.
"""

from __future__ import annotations

import json
import logging
import sqlite3
from collections import defaultdict
from dataclasses import dataclass
from functools import lru_cache
from typing import Any
from uuid import uuid4

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.recording import Mark, Recording
from icepick.core.document.visit import MOST_RECORDINGS
from icepick.store import samples
from icepick.store.database import now
from icepick.store.receipts import KeyUsedError

_log = logging.getLogger(__name__)
_STANDS = "entry_key NOT IN (SELECT entry_key FROM withdrawals)"


class UnknownRecordingError(KeyError):
    """The visit has no recording of this id."""


@dataclass(frozen=True, slots=True)
class StoredRecording:
    """A recording with its row number and the key under which it was entered; one that still grows comes without samples."""

    row: int
    entry_key: str
    recording: Recording
    grows: bool = False


class FullError(Exception):
    """The visit holds as many recordings as one can."""


def next_key(connection: sqlite3.Connection, visit_id: int) -> str:
    """The id of a visit's next recording: ``recording-1``, ``recording-2`` …

    Raises
    ------
    FullError
        It holds as many as a visit can.
    """
    count, standing = connection.execute(
        f"SELECT count(*), count(*) FILTER (WHERE {_STANDS}) FROM recordings WHERE visit_id = ?", (visit_id,)
    ).fetchone()
    if standing >= MOST_RECORDINGS:
        raise FullError
    return f"recording-{count + 1}"


def entered_under(connection: sqlite3.Connection, visit_id: int, entry_key: str) -> str | None:
    """The id of the recording that was entered under a key before."""
    row = connection.execute(
        "SELECT key FROM recordings WHERE visit_id = ? AND entry_key = ?", (visit_id, entry_key)
    ).fetchone()
    return None if row is None else str(row["key"])


def add_recording(
    connection: sqlite3.Connection, visit_id: int, recording: Recording, entry_key: str | None = None
) -> None:
    """Append a recording; sent again under its key, it adds nothing.

    Raises
    ------
    KeyUsedError
        The key stands for another recording.
    """
    document = recording.model_dump_json()
    key = entry_key or uuid4().hex
    known = connection.execute(
        "SELECT visit_id, document FROM recordings WHERE entry_key = ?", (key,)
    ).fetchone()
    if known is not None:
        if (known["visit_id"], known["document"]) != (visit_id, document):
            raise KeyUsedError
        return
    connection.execute(
        "INSERT INTO recordings (visit_id, key, document, recorded_at, entry_key) VALUES (?, ?, ?, ?, ?)",
        (visit_id, recording.id, document, now(), key),
    )


def add_mark(
    connection: sqlite3.Connection, visit_id: int, recording: str, mark: Mark, entry_key: str
) -> bool:
    """Append a mark to a recording; whether it was new: sent again under its key, it adds nothing.

    Raises
    ------
    UnknownRecordingError
        The visit has no recording of this id.
    KeyUsedError
        The key stands for another mark.
    """
    row = connection.execute(
        "SELECT id FROM recordings WHERE visit_id = ? AND key = ?", (visit_id, recording)
    ).fetchone()
    if row is None:
        raise UnknownRecordingError(recording)
    document = mark.model_dump_json()
    known = connection.execute(
        "SELECT recording_id, document FROM marks WHERE entry_key = ?", (entry_key,)
    ).fetchone()
    if known is not None:
        if (known["recording_id"], known["document"]) != (row["id"], document):
            raise KeyUsedError
        return False
    connection.execute(
        "INSERT INTO marks (recording_id, document, recorded_at, entry_key) VALUES (?, ?, ?, ?)",
        (row["id"], document, now(), entry_key),
    )
    return True


def holds_key(connection: sqlite3.Connection, visit_id: int, entry_key: str) -> bool:
    """Whether a recording of the visit, or a mark on one, was entered under a key."""
    found = connection.execute(
        """SELECT 1 FROM recordings WHERE visit_id = ? AND entry_key = ?
           UNION ALL SELECT 1 FROM marks JOIN recordings ON recordings.id = marks.recording_id
           WHERE recordings.visit_id = ? AND marks.entry_key = ?""",
        (visit_id, entry_key, visit_id, entry_key),
    ).fetchone()
    return found is not None


def recordings_of(
    connection: sqlite3.Connection, where: str, values: tuple[object, ...]
) -> dict[int, list[StoredRecording]]:
    """The recordings of the visits that a WHERE clause over ``visits`` picks, by the visit's number, in their order."""
    rows = connection.execute(
        f"""SELECT recordings.id, recordings.visit_id, recordings.entry_key,
                   EXISTS (SELECT 1 FROM recorded_series WHERE recording_id = recordings.id) AS probed, how FROM recordings
            LEFT JOIN recording_ends ON recording_ends.recording_id = recordings.id
            JOIN visits ON visits.id = recordings.visit_id {where} AND recordings.{_STANDS} ORDER BY recordings.id""",
        values,
    ).fetchall()
    if not rows:
        return {}
    marks: dict[int, list[str]] = defaultdict(list)
    for mark in connection.execute(
        f"""SELECT marks.recording_id, marks.document FROM marks
            JOIN recordings ON recordings.id = marks.recording_id
            JOIN visits ON visits.id = recordings.visit_id {where} AND marks.{_STANDS} ORDER BY marks.id""",
        values,
    ):
        marks[mark["recording_id"]].append(mark["document"])
    found: dict[int, list[StoredRecording]] = defaultdict(list)
    for row in rows:
        (document,) = connection.execute(
            "SELECT document FROM recordings WHERE id = ?", (row["id"],)
        ).fetchone()
        try:
            written = document, tuple(marks[row["id"]])
            recording = _with_marks(*written)
            if row["probed"] and row["how"]:
                recording = _with_samples(
                    *written,
                    row["how"],
                    samples.heads(connection, row["id"]),
                    samples.lines_of(connection, row["id"]),
                )
        except InvalidDocumentError as error:
            # One that can't be read must not hide the others.
            _log.error("recording %s can't be read: %s", row["id"], error)
            continue
        found[row["visit_id"]].append(
            StoredRecording(row["id"], row["entry_key"], recording, bool(row["probed"] and not row["how"]))
        )
    return found


CUT_OFF = "Cut off: the server stopped while it ran."


def whole_document(connection: sqlite3.Connection, row: int, document: str) -> dict[str, Any]:
    """A recording's own document with what the recorder wrote of it; one that still grows, with what there is."""
    plain: dict[str, Any] = json.loads(document)
    series = samples.whole_series(samples.heads(connection, row), samples.lines_of(connection, row))
    if series:
        plain["series"] = [one.model_dump(mode="json") for one in series]
    ended = connection.execute("SELECT how FROM recording_ends WHERE recording_id = ?", (row,)).fetchone()
    if ended is not None and ended["how"] == "cut_off":
        plain["notes"] = _cut_off(plain.get("notes"))
    return plain


def _cut_off(notes: str | None) -> str:
    return f"{notes}\n{CUT_OFF}" if notes else CUT_OFF


@lru_cache(maxsize=16)
def _with_samples(
    document: str,
    marks: tuple[str, ...],
    how: str,
    heads: tuple[samples.SeriesHead, ...],
    lines: tuple[tuple[int, bytes], ...],
) -> Recording:
    recording = _with_marks(document, marks)
    notes = _cut_off(recording.notes) if how == "cut_off" else recording.notes
    return recording.model_copy(update={"series": samples.whole_series(heads, lines), "notes": notes})


@lru_cache(maxsize=64)
def _with_marks(document: str, marks: tuple[str, ...]) -> Recording:
    recording = _read(document)
    added = [parse(Mark, mark) for mark in marks]
    return recording.model_copy(update={"marks": [*recording.marks, *added]}) if added else recording


@lru_cache(maxsize=64)
def _read(document: str) -> Recording:
    return parse(Recording, document)

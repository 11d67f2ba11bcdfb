"""One visit of another book while it is entered: what its record has beyond what stands here is added, and signed by
those who wrote it.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

from icepick.core.document.record import (
    EntryRecord,
    ObservationRecord,
    ReadingRecord,
    RecordingRecord,
    RunRecord,
    Signed,
    VisitRecord,
)


class Writer:
    """Adds rows, and says who wrote them elsewhere."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._connection = connection

    def insert(self, table: str, **row: object) -> int:
        """Add a row; gives its number."""
        cursor = self._connection.execute(_into(table, row), row)
        assert cursor.lastrowid is not None
        return cursor.lastrowid

    def sign(self, signed: Signed | None) -> None:
        """Say who wrote what was just brought in: the audit's last line is about it."""
        self._connection.execute(
            "INSERT INTO hands (audit_id, at, name) SELECT max(id), ?, ? FROM audit",
            (signed.recorded_at, signed.by) if signed else (None, None),
        )

    def _insert_signed(self, table: str, rows: Sequence[dict[str, object]], signed: Sequence[Signed]) -> None:
        """Many rows of a table, of each of which the audit has a line of its own."""
        if not rows:
            return
        (last,) = self._connection.execute("SELECT max(id) FROM audit").fetchone()
        self._connection.executemany(_into(table, rows[0]), rows)
        self._connection.executemany(
            "INSERT INTO hands (audit_id, at, name) VALUES (?, ?, ?)",
            [(last + number, one.recorded_at, one.by) for number, one in enumerate(signed, start=1)],
        )


def _into(table: str, row: Mapping[str, object]) -> str:
    return f"INSERT INTO {table} ({', '.join(row)}) VALUES ({', '.join(f':{name}' for name in row)})"


class VisitEntering(Writer):
    """A visit while what its record has beyond what stands here is added."""

    def __init__(self, connection: sqlite3.Connection, visit_id: int) -> None:
        super().__init__(connection)
        self._visit = visit_id
        known = connection.execute("SELECT key, id FROM runs WHERE visit_id = ?", (visit_id,))
        self._runs: dict[str, int] = {row["key"]: row["id"] for row in known}
        known = connection.execute("SELECT key, id FROM recordings WHERE visit_id = ?", (visit_id,))
        self._recordings: dict[str, int] = {row["key"]: row["id"] for row in known}

    def add(self, record: VisitRecord, ours: VisitRecord | None) -> None:
        runs = {run.id: run for run in ours.runs} if ours else {}
        for run in record.runs:
            self._add_run(run, runs.get(run.id))
        recordings = {one.id: one for one in ours.recordings} if ours else {}
        for recording in record.recordings:
            self._add_recording(recording, recordings.get(recording.id))
        for press in record.closings[len(ours.closings) if ours else 0 :]:
            self.insert(
                "closings", visit_id=self._visit, closed=int(press.closed), recorded_at=press.recorded_at
            )
            self.sign(press)
        for told in record.outcomes[len(ours.outcomes) if ours else 0 :]:
            self.insert(
                "outcomes",
                visit_id=self._visit,
                document=as_text(told.outcome),
                said=as_text(told.said),
                recorded_at=told.recorded_at,
            )
            self.sign(told)

        known = {one.entry_key: one for one in ours.photos} if ours else {}
        for photo in record.photos:
            if photo.entry_key not in known:
                row = {"recorded_at": photo.recorded_at, "entry_key": photo.entry_key}
                self.insert("photos", visit_id=self._visit, **photo.photo.model_dump(), **row)
                self.sign(photo)
            self._take_back(photo, known.get(photo.entry_key))

    def _add_run(self, run: RunRecord, ours: RunRecord | None) -> None:
        if ours is None:
            row = self.insert(
                "runs",
                visit_id=self._visit,
                key=run.id,
                mode=run.mode,
                after_repair=int(run.after_repair),
                circuit=run.circuit,
                heads_calling=None if run.heads_calling is None else as_text(run.heads_calling),
                minutes_running=run.minutes_running,
                started_at=run.started_at,
                compressor_stage=run.compressor_stage,
                compressor_speed=run.compressor_speed,
            )
            self.sign(run.added)
        else:
            row = self._runs[run.id]
        told = run.changes[len(ours.changes) if ours else 0 :]
        for number, change in enumerate(told, start=1):
            # What is in force to the last digit; the audit rounds.
            said = change if number < len(told) else run
            self._connection.execute(
                """UPDATE runs SET minutes_running = ?, started_at = ?, compressor_stage = ?, compressor_speed = ?,
                   heads_calling = ? WHERE id = ?""",
                (
                    said.minutes_running,
                    said.started_at,
                    said.compressor_stage,
                    said.compressor_speed,
                    None if said.heads_calling is None else as_text(said.heads_calling),
                    row,
                ),
            )
            self.sign(change)
        for note in run.notes[len(ours.notes) if ours else 0 :]:
            self.insert("note_revisions", run_id=row, text=note.text, recorded_at=note.recorded_at)
            self.sign(note)
        known = {one.entry_key: one for one in _entries(ours)} if ours else {}
        readings = [one for one in run.readings if one.entry_key not in known]
        self._insert_signed("readings", [_reading(row, one) for one in readings], readings)
        observations = [one for one in run.observations if one.entry_key not in known]
        self._insert_signed("observations", [_observation(row, one) for one in observations], observations)
        for entry in _entries(run):
            self._take_back(entry, known.get(entry.entry_key))
        if run.removed and not (ours and ours.removed):
            self.insert("removed_runs", run_id=row, recorded_at=run.removed.recorded_at)
            self.sign(run.removed)

    def _add_recording(self, coming: RecordingRecord, ours: RecordingRecord | None) -> None:
        if ours is None:
            row = self.insert(
                "recordings",
                visit_id=self._visit,
                key=coming.id,
                document=as_text(coming.recording),
                recorded_at=coming.recorded_at,
                entry_key=coming.entry_key,
            )
            self.sign(coming)
        else:
            row = self._recordings[coming.id]
        self._take_back(coming, ours)
        known = {one.entry_key: one for one in ours.marks} if ours else {}
        for mark in coming.marks:
            if mark.entry_key not in known:
                self.insert(
                    "marks",
                    recording_id=row,
                    document=as_text(mark.mark),
                    recorded_at=mark.recorded_at,
                    entry_key=mark.entry_key,
                )
                self.sign(mark)
            self._take_back(mark, known.get(mark.entry_key))

    def _take_back(self, entry: EntryRecord, ours: EntryRecord | None) -> None:
        if entry.withdrawn is None or (ours and ours.withdrawn):
            return
        key = self._own_key(entry.entry_key) if ours else entry.entry_key
        self.insert("withdrawals", entry_key=key, recorded_at=entry.withdrawn.recorded_at)
        self.sign(entry.withdrawn)

    def _own_key(self, key: str) -> str:
        """As this file calls an entry that stands here: one older than keys by a shorter name."""
        (own,) = self._connection.execute(
            """SELECT coalesce(max(entry_key), :key) FROM observations JOIN runs ON runs.id = run_id
               JOIN visits ON visits.id = visit_id WHERE visit_id = :visit AND uid || '-' || entry_key = :key""",
            {"key": key, "visit": self._visit},
        ).fetchone()
        return str(own)


def _reading(run_row: int, one: ReadingRecord) -> dict[str, object]:
    return {**_head(run_row, one), **one.reading.model_dump()}


def _observation(run_row: int, one: ObservationRecord) -> dict[str, object]:
    seen = one.observation
    value = json.dumps(seen.value) if seen.value is not None else None
    return {**_head(run_row, one), "code": seen.code, "value": value}


def _head(run_row: int, one: EntryRecord) -> dict[str, object]:
    return {"run_id": run_row, "recorded_at": one.recorded_at, "entry_key": one.entry_key}


def _entries(run: RunRecord) -> list[ReadingRecord | ObservationRecord]:
    return [*run.readings, *run.observations]


def as_text(plain: Any) -> str:
    """A document as the book writes it."""
    return json.dumps(plain, ensure_ascii=False, separators=(",", ":"))

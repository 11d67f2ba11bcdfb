"""Records of another book, brought into this one: what is new is added, what stands here is never changed.

A visit that stands here is gone on with where the record goes on from what is written here; where both went on, it stays
as it is. To bring the same in twice is the same as once.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from icepick.core.document.record import (
    Clockwork,
    DescriptionRecord,
    EntryRecord,
    LimitsRecord,
    ObservationRecord,
    ReadingRecord,
    RecordingRecord,
    RunRecord,
    Signed,
    UnitRecord,
    VisitRecord,
)
from icepick.store.leaving import limits_record, unit_record, visit_record

Means = Literal["new", "more", "same", "behind", "parted"]
"""What bringing a record in does: it is ``new`` here; it says ``more`` than what stands here, which is added; it says the
``same``, or is ``behind``, and adds nothing; or both went on (``parted``): a visit or the limits are left as they are here, a
unit goes on as this book describes it and gets the other's descriptions besides."""


class TakenError(ValueError):
    """An entry of the record stands here in another visit; nothing of it can be brought in."""


@dataclass(frozen=True, slots=True)
class UnitComing:
    """A unit that may come in, what that means, and the number it has here, if it is here."""

    record: UnitRecord
    means: Means
    here: int | None


@dataclass(frozen=True, slots=True)
class VisitComing:
    """A visit that may come in, what that means, and the number it has here, if it is here."""

    record: VisitRecord
    means: Means
    here: int | None
    ours: VisitRecord | None = None


class _Writer:
    def __init__(self, connection: sqlite3.Connection) -> None:
        self._connection = connection

    def _insert(self, table: str, **row: object) -> int:
        cursor = self._connection.execute(_into(table, row), row)
        assert cursor.lastrowid is not None
        return cursor.lastrowid

    def _sign(self, signed: Signed | None) -> None:
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


class Entering(_Writer):
    """Records that come in together: each unit before the visits to it."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        super().__init__(connection)
        self._alike: dict[str, list[int]] = {}
        for row in connection.execute(
            """SELECT units.id, sites.document AS site, unit_revisions.document AS unit FROM units
               JOIN sites ON sites.id = site_id JOIN unit_revisions ON unit_revisions.id = (
                 SELECT max(id) FROM unit_revisions WHERE unit_id = units.id) ORDER BY units.id"""
        ):
            said = _canon([json.loads(row["site"]), json.loads(row["unit"])])
            self._alike.setdefault(said, []).append(row["id"])
        self._met = set[int]()

    def unit(self, record: UnitRecord) -> UnitComing:
        """What bringing a unit in means."""
        here = self._named(record) or self._described_alike(record)
        if here is None:
            return UnitComing(record, "new", None)
        self._met.add(here)
        ours = unit_record(self._connection, here).descriptions
        theirs = record.descriptions
        if theirs[: len(ours)] == ours:
            return UnitComing(record, "same" if len(theirs) == len(ours) else "more", here)
        return UnitComing(record, "parted" if _not_among(theirs, ours) else "behind", here)

    def _named(self, record: UnitRecord) -> int | None:
        names = [record.id, *record.also]
        marks = ", ".join("?" * len(names))
        row = self._connection.execute(
            f"""SELECT id FROM units WHERE uid IN ({marks})
                UNION ALL SELECT unit_id FROM unit_aliases WHERE uid IN ({marks}) ORDER BY 1""",
            (*names, *names),
        ).fetchone()
        return int(row[0]) if row else None

    def _described_alike(self, record: UnitRecord) -> int | None:
        """A unit that stood here before, described as this one is and not met yet: of twins each is one."""
        said = _canon([record.site, record.descriptions[-1].unit])
        return next((one for one in self._alike.get(said, ()) if one not in self._met), None)

    def add_unit(self, coming: UnitComing) -> int:
        """Bring a unit in; gives its number here."""
        record, here = coming.record, coming.here
        if here is None:
            here = self._insert(
                "units", site_id=self._site(record), created_at=record.created_at, uid=record.id
            )
            self._describe(here, *record.descriptions)
        else:
            ours = unit_record(self._connection, here).descriptions
            if coming.means == "more":
                self._describe(here, *record.descriptions[len(ours) :])
            elif coming.means == "parted":
                # Ours once more behind theirs: how this book describes it stays in force.
                self._describe(here, *_not_among(record.descriptions, ours), ours[-1])
        (own,) = self._connection.execute("SELECT uid FROM units WHERE id = ?", (here,)).fetchone()
        for name in {record.id, *record.also} - {own}:
            self._connection.execute("INSERT OR IGNORE INTO unit_aliases VALUES (?, ?)", (name, here))
        return here

    def _site(self, record: UnitRecord) -> int:
        name = str(record.site["name"])
        for row in self._connection.execute("SELECT * FROM sites WHERE name = ? ORDER BY id", (name,)):
            if json.loads(row["document"]) == record.site:
                return int(row["id"])
        return self._insert("sites", name=name, document=_json(record.site))

    def _describe(self, unit_id: int, *descriptions: DescriptionRecord) -> None:
        for one in descriptions:
            document = _json(one.unit)
            self._insert("unit_revisions", unit_id=unit_id, document=document, recorded_at=one.recorded_at)
            self._sign(one)

    def visit(self, record: VisitRecord, unit: UnitComing) -> VisitComing:
        """What bringing a visit to a unit in means.

        Raises
        ------
        TakenError
            An entry of it stands here in another visit.
        """
        row = self._connection.execute(
            """SELECT id, id IN (SELECT visit_id FROM removed_visits) AS removed FROM visits WHERE uid = ?""",
            (record.id,),
        ).fetchone()
        if row is None:
            self._refuse_taken(record.entry_keys)
            return VisitComing(record, "new", None)
        known = visit_record(self._connection, row["id"])
        self._refuse_taken([*{*record.entry_keys} - {*known.entry_keys}])
        described_alike = unit.means in ("same", "more")
        ours, theirs = _said(known, described_alike), _said(record, described_alike)
        means: Means
        if theirs == ours:
            means = "same"
        elif _goes_on_from(ours, theirs):
            means = "parted" if row["removed"] else "more"
        else:
            means = "behind" if _goes_on_from(theirs, ours) else "parted"
        return VisitComing(record, means, row["id"], known)

    def _refuse_taken(self, keys: list[str]) -> None:
        asked = json.dumps(keys)
        for table in ("readings", "observations", "recordings", "marks"):
            taken = self._connection.execute(
                f"SELECT entry_key FROM {table} WHERE entry_key IN (SELECT value FROM json_each(?))", (asked,)
            ).fetchone()
            if taken:
                raise TakenError(f"its entry {taken['entry_key']!r} stands here in another visit.")

    def add_visit(self, coming: VisitComing, unit: UnitRecord, unit_id: int) -> None:
        """Bring a visit in; its unit, which has the number ``unit_id`` here, is in already."""
        if coming.means not in ("new", "more"):
            return
        record, visit_id = coming.record, coming.here
        revision = self._revision(unit, record.description, unit_id)
        if visit_id is None:
            visit_id = self._insert(
                "visits",
                unit_revision_id=revision,
                complaint=record.complaint,
                opened_at=record.opened_at,
                uid=record.id,
            )
            self._sign(record.opened)
        else:
            self._connection.execute(
                "UPDATE visits SET unit_revision_id = ? WHERE id = ?", (revision, visit_id)
            )
        _VisitComingIn(self._connection, visit_id).add(record, coming.ours)

    def _revision(self, unit: UnitRecord, description: int, unit_id: int) -> int:
        """The row of a description of the record: at the same place where there, else of the same words."""
        said = unit.descriptions[description].unit
        rows = self._connection.execute(
            "SELECT id, document FROM unit_revisions WHERE unit_id = ? ORDER BY id", (unit_id,)
        ).fetchall()
        alike = [row["id"] for row in rows if json.loads(row["document"]) == said]
        at_its_place = [row["id"] for row in rows[description : description + 1] if row["id"] in alike]
        return int((at_its_place or alike)[0])

    def limits(self, record: LimitsRecord) -> Means:
        """What bringing limits in means: a shop that has limits of its own keeps them."""
        ours = limits_record(self._connection).changes
        if record.changes == ours[: len(record.changes)]:
            return "same" if len(record.changes) == len(ours) else "behind"
        return "new" if not ours else "parted"

    def add_limits(self, record: LimitsRecord) -> None:
        """Bring limits in, where that means ``new``."""
        for one in record.changes:
            self._insert("practice_changes", name=one.name, value=one.value, recorded_at=one.recorded_at)
            self._sign(one)


class _VisitComingIn(_Writer):
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
            self._insert(
                "closings", visit_id=self._visit, closed=int(press.closed), recorded_at=press.recorded_at
            )
            self._sign(press)
        for told in record.outcomes[len(ours.outcomes) if ours else 0 :]:
            self._insert(
                "outcomes",
                visit_id=self._visit,
                document=_json(told.outcome),
                said=_json(told.said),
                recorded_at=told.recorded_at,
            )
            self._sign(told)

    def _add_run(self, run: RunRecord, ours: RunRecord | None) -> None:
        if ours is None:
            row = self._insert(
                "runs",
                visit_id=self._visit,
                key=run.id,
                mode=run.mode,
                after_repair=int(run.after_repair),
                minutes_running=run.minutes_running,
                started_at=run.started_at,
                compressor_stage=run.compressor_stage,
                compressor_speed=run.compressor_speed,
            )
            self._sign(run.added)
        else:
            row = self._runs[run.id]
        told = run.changes[len(ours.changes) if ours else 0 :]
        for number, change in enumerate(told, start=1):
            # What is in force to the last digit; the audit rounds.
            said = change if number < len(told) else run
            self._connection.execute(
                """UPDATE runs SET minutes_running = ?, started_at = ?, compressor_stage = ?, compressor_speed = ?
                   WHERE id = ?""",
                (said.minutes_running, said.started_at, said.compressor_stage, said.compressor_speed, row),
            )
            self._sign(change)
        for note in run.notes[len(ours.notes) if ours else 0 :]:
            self._insert("note_revisions", run_id=row, text=note.text, recorded_at=note.recorded_at)
            self._sign(note)
        known = {one.entry_key: one for one in _entries(ours)} if ours else {}
        readings = [one for one in run.readings if one.entry_key not in known]
        self._insert_signed("readings", [_reading(row, one) for one in readings], readings)
        observations = [one for one in run.observations if one.entry_key not in known]
        self._insert_signed("observations", [_observation(row, one) for one in observations], observations)
        for entry in _entries(run):
            self._take_back(entry, known.get(entry.entry_key))
        if run.removed and not (ours and ours.removed):
            self._insert("removed_runs", run_id=row, recorded_at=run.removed.recorded_at)
            self._sign(run.removed)

    def _add_recording(self, coming: RecordingRecord, ours: RecordingRecord | None) -> None:
        if ours is None:
            row = self._insert(
                "recordings",
                visit_id=self._visit,
                key=coming.id,
                document=_json(coming.recording),
                recorded_at=coming.recorded_at,
                entry_key=coming.entry_key,
            )
            self._sign(coming)
        else:
            row = self._recordings[coming.id]
        self._take_back(coming, ours)
        known = {one.entry_key: one for one in ours.marks} if ours else {}
        for mark in coming.marks:
            if mark.entry_key not in known:
                self._insert(
                    "marks",
                    recording_id=row,
                    document=_json(mark.mark),
                    recorded_at=mark.recorded_at,
                    entry_key=mark.entry_key,
                )
                self._sign(mark)
            self._take_back(mark, known.get(mark.entry_key))

    def _take_back(self, entry: EntryRecord, ours: EntryRecord | None) -> None:
        if entry.withdrawn is None or (ours and ours.withdrawn):
            return
        key = self._own_key(entry.entry_key) if ours else entry.entry_key
        self._insert("withdrawals", entry_key=key, recorded_at=entry.withdrawn.recorded_at)
        self._sign(entry.withdrawn)

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


def _json(plain: Any) -> str:
    return json.dumps(plain, ensure_ascii=False, separators=(",", ":"))


def _canon(plain: Any) -> str:
    return json.dumps(plain, sort_keys=True)


def _not_among(theirs: list[DescriptionRecord], ours: list[DescriptionRecord]) -> list[DescriptionRecord]:
    known = [one.unit for one in ours]
    return [one for one in theirs if one.unit not in known]


_FOLLOWS_FROM_CHANGES = frozenset(Clockwork.model_fields)


def _said(record: VisitRecord, described_alike: bool) -> dict[str, Any]:
    """What a record says, but for what follows from the rest of it."""
    said = record.model_dump(mode="json", exclude={"unit"} if described_alike else {"unit", "description"})
    said["runs"] = [
        {name: value for name, value in run.items() if name not in _FOLLOWS_FROM_CHANGES}
        for run in said["runs"]
    ]
    return said


def _goes_on_from(earlier: Any, later: Any, name: str = "") -> bool:
    """Whether a record says all that an earlier one does, in its order, and more."""
    if isinstance(earlier, dict) and isinstance(later, dict):
        return earlier.keys() == later.keys() and all(
            _goes_on_from(earlier[key], later[key], key) for key in earlier
        )
    if isinstance(earlier, list) and isinstance(later, list):
        pairs = zip(earlier, later, strict=False)
        return len(earlier) <= len(later) and all(_goes_on_from(*pair) for pair in pairs)
    if name == "description":
        return bool(earlier <= later)
    return earlier == later or (earlier is None and name in ("withdrawn", "removed"))

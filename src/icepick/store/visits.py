"""Visits and their runs, kept as rows and read back as visit documents."""

from __future__ import annotations

import json
import logging
import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Any

from icepick.core.document.base import InvalidDocumentError, Problem
from icepick.core.document.codes import Complaint, CompressorStage, Mode
from icepick.core.document.visit import Run, Visit
from icepick.store.database import now
from icepick.store.entries import add_observation, add_reading, set_notes
from icepick.store.reading_back import ReadBack, read_back
from icepick.store.recordings import StoredRecording, add_recording, recordings_of
from icepick.store.units import StoredUnit, add_unit, known_unit

_log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class StoredVisit:
    """A visit as a document; ``set_aside`` names what of its record this Icepick can't use, ``recordings`` has those of the
    document with their rows."""

    id: int
    key: str
    opened_at: str
    unit_id: int
    document: Visit
    set_aside: tuple[Problem, ...] = ()
    recordings: tuple[StoredRecording, ...] = ()


def notes_revision(connection: sqlite3.Connection, visit_id: int) -> dict[str, int]:
    """The revision of each run's notes, by the run's id; 0 where there are none."""
    rows = connection.execute(
        """SELECT runs.key, coalesce(max(note_revisions.id), 0) AS revision
           FROM standing_runs AS runs LEFT JOIN note_revisions ON note_revisions.run_id = runs.id
           WHERE runs.visit_id = ? GROUP BY runs.id""",
        (visit_id,),
    )
    return {row["key"]: row["revision"] for row in rows}


class UnknownRunError(KeyError):
    """The visit has no run of this id."""


class HoldsSomethingError(Exception):
    """What was to be removed holds entries."""


def open_visit(
    connection: sqlite3.Connection,
    unit: StoredUnit,
    complaint: Complaint | None,
    opened_at: str | None = None,
) -> int:
    """Open a visit on a unit as it is described now; gives the visit's number."""
    cursor = connection.execute(
        "INSERT INTO visits (unit_revision_id, complaint, opened_at) VALUES (?, ?, ?)",
        (unit.revision, complaint, opened_at or now()),
    )
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def key_of(connection: sqlite3.Connection, visit_id: int) -> str | None:
    """A visit's own key; None where there is none of this number."""
    row = connection.execute("SELECT uid FROM visits WHERE id = ?", (visit_id,)).fetchone()
    return None if row is None else str(row["uid"])


def visit_of_key(connection: sqlite3.Connection, key: str) -> int | None:
    """The number of a visit by its own key, which no other visit of any book ever has; None where it is not there."""
    row = connection.execute("SELECT id FROM standing_visits WHERE uid = ?", (key,)).fetchone()
    return None if row is None else int(row["id"])


@dataclass(frozen=True, slots=True)
class AddedRun:
    """A run's row number, and its id in the visit."""

    row: int
    key: str


def add_run(
    connection: sqlite3.Connection,
    visit_id: int,
    mode: Mode,
    *,
    key: str | None = None,
    minutes_running: float | None = None,
    started_at: datetime | None = None,
    after_repair: bool = False,
    circuit: str | None = None,
    heads_calling: Sequence[int] | None = None,
) -> AddedRun:
    """Add a run; without a key it is numbered ``run-1``, ``run-2`` …"""
    if key is None:
        (count,) = connection.execute("SELECT count(*) FROM runs WHERE visit_id = ?", (visit_id,)).fetchone()
        key = f"run-{count + 1}"
    cursor = connection.execute(
        """INSERT INTO runs (visit_id, key, mode, minutes_running, started_at, after_repair, circuit, heads_calling)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?)""",
        (
            visit_id,
            key,
            mode,
            minutes_running,
            started_at.isoformat() if started_at else None,
            int(after_repair),
            circuit,
            json.dumps(list(heads_calling)) if heads_calling is not None else None,
        ),
    )
    assert cursor.lastrowid is not None
    return AddedRun(cursor.lastrowid, key)


@dataclass(frozen=True, slots=True)
class ReadOn:
    """On which circuit a run was read, and which heads called in it."""

    circuit: str | None
    heads_calling: list[int] | None


def runs_read_on(connection: sqlite3.Connection, visit_id: int) -> list[ReadOn]:
    """Where each run of a visit was read, removed ones left out."""
    rows = connection.execute(
        "SELECT circuit, heads_calling FROM standing_runs WHERE visit_id = ? ORDER BY id", (visit_id,)
    )
    return [ReadOn(row["circuit"], json.loads(row["heads_calling"] or "null")) for row in rows]


def find_run(connection: sqlite3.Connection, visit_id: int, key: str) -> int:
    """The row number of a run.

    Raises
    ------
    UnknownRunError
        The visit has no run of this id.
    """
    row = connection.execute(
        "SELECT id FROM standing_runs WHERE visit_id = ? AND key = ?", (visit_id, key)
    ).fetchone()
    if row is None:
        raise UnknownRunError(key)
    return int(row["id"])


def set_clock(
    connection: sqlite3.Connection, run_id: int, started_at: datetime | None, minutes_running: float | None
) -> None:
    """Say when a run began, or how long it had been going."""
    connection.execute(
        "UPDATE runs SET started_at = ?, minutes_running = ? WHERE id = ?",
        (started_at.isoformat() if started_at else None, minutes_running, run_id),
    )


def set_compressor(
    connection: sqlite3.Connection, run_id: int, stage: CompressorStage | None, speed: float | None
) -> None:
    """Say at which stage, or at what speed in percent of the rated one, the compressor ran."""
    connection.execute(
        "UPDATE runs SET compressor_stage = ?, compressor_speed = ? WHERE id = ?", (stage, speed, run_id)
    )


def set_heads(connection: sqlite3.Connection, run_id: int, calling: Sequence[int] | None) -> None:
    """Say which heads call in a run; None where nobody knows."""
    connection.execute(
        "UPDATE runs SET heads_calling = ? WHERE id = ?",
        (None if calling is None else json.dumps(list(calling)), run_id),
    )


def add_document(connection: sqlite3.Connection, visit: Visit, opened_at: str | None = None) -> int:
    """Enter a whole visit document; a unit that the book already has, word for word, is used again."""
    unit = known_unit(connection, visit.site, visit.unit) or add_unit(connection, visit.site, visit.unit)
    visit_id = open_visit(connection, unit, visit.complaint, opened_at)
    for run in visit.runs:
        _add_whole_run(connection, visit_id, run)
    for recording in visit.recordings:
        add_recording(connection, visit_id, recording)
    return visit_id


def _add_whole_run(connection: sqlite3.Connection, visit_id: int, run: Run) -> None:
    run_id = add_run(
        connection,
        visit_id,
        run.mode,
        key=run.id,
        minutes_running=run.minutes_running,
        started_at=run.started_at,
        after_repair=run.after_repair,
        circuit=run.circuit,
        heads_calling=run.heads_calling,
    ).row
    set_compressor(connection, run_id, run.compressor_stage, run.compressor_speed)
    if run.notes is not None:
        set_notes(connection, run_id, run.notes, 0)
    for reading in run.readings:
        add_reading(connection, run_id, reading)
    for observation in run.observations:
        add_observation(connection, run_id, observation)


def remove_run(connection: sqlite3.Connection, visit_id: int, run_id: int) -> bool:
    """Take a run that holds nothing out of its visit; with the last one, and no recording, the visit goes too.

    Returns
    -------
    bool
        Whether the visit went.

    Raises
    ------
    HoldsSomethingError
        Something was read, seen or written in the run, and stands.
    """
    (held,) = connection.execute(
        f"""SELECT (SELECT count(*) FROM readings WHERE run_id = :run AND {_STANDS})
                 + (SELECT count(*) FROM observations WHERE run_id = :run AND {_STANDS})
                 + (SELECT coalesce((SELECT trim(text) != '' FROM note_revisions
                                     WHERE run_id = :run ORDER BY id DESC LIMIT 1), 0))""",
        {"run": run_id},
    ).fetchone()
    if held:
        raise HoldsSomethingError
    connection.execute("INSERT INTO removed_runs (run_id, recorded_at) VALUES (?, ?)", (run_id, now()))
    (left,) = connection.execute(
        f"""SELECT (SELECT count(*) FROM standing_runs WHERE visit_id = :visit)
                 + (SELECT count(*) FROM recordings WHERE visit_id = :visit AND {_STANDS})""",
        {"visit": visit_id},
    ).fetchone()
    if not left:
        connection.execute(
            "INSERT INTO removed_visits (visit_id, recorded_at) VALUES (?, ?)", (visit_id, now())
        )
    return not left


def find_visit(connection: sqlite3.Connection, visit_id: int) -> StoredVisit | None:
    """One visit as a document, or None."""
    found = _visits(connection, "WHERE visits.id = ?", (visit_id,))
    return found[0] if found else None


def visits_of_unit(connection: sqlite3.Connection, unit_id: int) -> list[StoredVisit]:
    """Every visit to a unit, newest first, whatever its description was then."""
    of_unit = """WHERE visits.unit_revision_id IN (SELECT id FROM unit_revisions WHERE unit_id = ?)"""
    return _visits(connection, of_unit, (unit_id,))


def visits_before(connection: sqlite3.Connection, visit: StoredVisit, most: int) -> list[StoredVisit]:
    """The last visits to a unit before one of them, oldest first."""
    before = """WHERE visits.id IN (
        SELECT visits.id FROM standing_visits AS visits JOIN unit_revisions ON unit_revisions.id = visits.unit_revision_id
        WHERE unit_revisions.unit_id = ? AND (visits.opened_at, visits.id) < (?, ?)
        ORDER BY visits.opened_at DESC, visits.id DESC LIMIT ?)"""
    return _visits(connection, before, (visit.unit_id, visit.opened_at, visit.id, most))[::-1]


_OF_A_RUN = ("mode", "minutes_running", "started_at", "compressor_stage", "compressor_speed", "notes")
_STANDS = "entry_key NOT IN (SELECT entry_key FROM withdrawals)"


def _visits(connection: sqlite3.Connection, where: str, values: tuple[Any, ...]) -> list[StoredVisit]:
    """A handful of queries whatever the number of visits; one more for each recording."""
    heads = connection.execute(
        f"""SELECT visits.id, visits.uid, visits.complaint, visits.opened_at, units.id AS unit_id, sites.document AS site,
                   unit_revisions.document AS unit
            FROM standing_visits AS visits JOIN unit_revisions ON unit_revisions.id = visits.unit_revision_id
            JOIN units ON units.id = unit_revisions.unit_id JOIN sites ON sites.id = units.site_id
            {where} ORDER BY visits.opened_at DESC, visits.id DESC""",
        values,
    ).fetchall()
    run_rows = connection.execute(
        f"""SELECT runs.*, (
              SELECT text FROM note_revisions WHERE run_id = runs.id ORDER BY id DESC LIMIT 1
            ) AS notes FROM standing_runs AS runs JOIN visits ON visits.id = runs.visit_id {where} ORDER BY runs.id""",
        values,
    ).fetchall()
    readings: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in connection.execute(
        f"""SELECT readings.* FROM readings JOIN runs ON runs.id = readings.run_id
            JOIN visits ON visits.id = runs.visit_id {where} AND {_STANDS}
            ORDER BY readings.id""",
        values,
    ):
        readings[row["run_id"]].append(
            {name: row[name] for name in ("station", "quantity", "value", "unit", "method", "at")}
        )
    observations: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in connection.execute(
        f"""SELECT observations.* FROM observations JOIN runs ON runs.id = observations.run_id
            JOIN visits ON visits.id = runs.visit_id {where} AND {_STANDS}
            ORDER BY observations.id""",
        values,
    ):
        value = json.loads(row["value"]) if row["value"] is not None else None
        observations[row["run_id"]].append({"code": row["code"], "value": value})
    runs: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in run_rows:
        runs[row["visit_id"]].append(
            {
                "id": row["key"],
                **{name: row[name] for name in _OF_A_RUN},
                "after_repair": bool(row["after_repair"]),
                "circuit": row["circuit"],
                "heads_calling": json.loads(row["heads_calling"] or "null"),
                "readings": readings[row["id"]],
                "observations": observations[row["id"]],
            }
        )
    recordings = recordings_of(connection, where, values)
    found = []
    for head in heads:
        try:
            found.append(_stored(head, runs[head["id"]], tuple(recordings.get(head["id"], ()))))
        except InvalidDocumentError as error:
            # One record that can't be read must not hide the others.
            _log.error("visit %s can't be read: %s", head["id"], error)
    return found


def _stored(
    head: sqlite3.Row, runs: list[dict[str, Any]], recordings: tuple[StoredRecording, ...]
) -> StoredVisit:
    found = _read(
        json.dumps(
            {
                "format": "icepick-visit",
                "version": 1,
                "site": json.loads(head["site"]),
                "complaint": head["complaint"],
                "unit": json.loads(head["unit"]),
                "runs": runs,
            }
        )
    )
    document = found.document
    if recordings:
        document = document.model_copy(update={"recordings": [one.recording for one in recordings]})
    return StoredVisit(
        head["id"], head["uid"], head["opened_at"], head["unit_id"], document, found.set_aside, recordings
    )


@lru_cache(maxsize=256)
def _read(text: str) -> ReadBack[Visit]:
    return read_back(Visit, text)

"""A visit document that comes alone, as records: the same document is the same visit, however often it comes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from hashlib import sha256
from itertools import count

from icepick.core.document.record import (
    DescriptionRecord,
    NoteRecord,
    ObservationAsWritten,
    ObservationRecord,
    ReadingAsWritten,
    ReadingRecord,
    RecordingRecord,
    RunRecord,
    UnitRecord,
    VisitRecord,
)
from icepick.core.document.visit import Run, Visit
from icepick.store.database import now


def records_of(visit: Visit, digest: str, connection: sqlite3.Connection) -> tuple[UnitRecord, VisitRecord]:
    """The records of a document whose text has this digest. When it was opened is the first moment it speaks of, else now."""
    known = connection.execute("SELECT opened_at FROM visits WHERE uid = ?", (digest,)).fetchone()
    opened_at = known["opened_at"] if known else (_first_moment(visit) or now())
    site = json.loads(visit.site.model_dump_json())
    described = json.loads(visit.unit.model_dump_json())
    unit = UnitRecord(
        id=sha256(json.dumps([site, described], sort_keys=True).encode()).hexdigest(),
        also=[],
        site=site,
        created_at=opened_at,
        descriptions=[DescriptionRecord(recorded_at=opened_at, by=None, unit=described)],
    )
    keys = (f"{digest[:32]}-{number}" for number in count(1))
    return unit, VisitRecord(
        id=digest,
        unit=unit.id,
        description=0,
        complaint=visit.complaint,
        opened_at=opened_at,
        opened=None,
        runs=[_run(run, opened_at, keys) for run in visit.runs],
        recordings=[
            RecordingRecord(
                recorded_at=opened_at,
                entry_key=next(keys),
                id=one.id,
                recording=json.loads(one.model_dump_json()),
                marks=[],
                by=None,
                withdrawn=None,
            )
            for one in visit.recordings
        ],
        closings=[],
        outcomes=[],
    )


def _run(run: Run, moment: str, keys: Iterator[str]) -> RunRecord:
    return RunRecord(
        id=run.id,
        mode=run.mode,
        after_repair=run.after_repair,
        circuit=run.circuit,
        heads_calling=run.heads_calling,
        minutes_running=run.minutes_running,
        started_at=run.started_at.isoformat() if run.started_at else None,
        compressor_stage=run.compressor_stage,
        compressor_speed=run.compressor_speed,
        added=None,
        changes=[],
        removed=None,
        notes=[NoteRecord(recorded_at=moment, by=None, text=run.notes)] if run.notes is not None else [],
        readings=[
            ReadingRecord(
                recorded_at=one.at.isoformat() if one.at else moment,
                entry_key=next(keys),
                reading=ReadingAsWritten.model_validate_json(one.model_dump_json()),
                by=None,
                withdrawn=None,
            )
            for one in run.readings
        ],
        observations=[
            ObservationRecord(
                recorded_at=moment,
                entry_key=next(keys),
                observation=ObservationAsWritten.model_validate_json(one.model_dump_json()),
                by=None,
                withdrawn=None,
            )
            for one in run.observations
        ],
    )


def _first_moment(visit: Visit) -> str | None:
    moments = [run.started_at for run in visit.runs]
    moments += [one.at for run in visit.runs for one in run.readings]
    moments += [one.started_at for one in visit.recordings]
    known = [moment for moment in moments if moment is not None]
    return min(known).isoformat() if known else None

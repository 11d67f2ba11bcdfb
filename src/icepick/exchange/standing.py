"""A record as the visit document that stands by it: without what was taken back, with the last text of each note."""

from __future__ import annotations

import json

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.record import EntryRecord, RecordingRecord, RunRecord, UnitRecord, VisitRecord
from icepick.core.document.recording import Recording
from icepick.core.document.visit import Visit
from icepick.store.reading_back import ReadBack, read_back


def standing(record: VisitRecord, unit: UnitRecord) -> ReadBack[Visit]:
    """The visit document, and what of the record this Icepick can't use.

    Raises
    ------
    InvalidDocumentError
        What is wrong with it can't be left out.
    """
    bare = {
        "format": "icepick-visit",
        "version": 1,
        "site": unit.site,
        "complaint": record.complaint,
        "unit": unit.descriptions[record.description].unit,
        "runs": [_run(run) for run in record.runs if not run.removed],
    }
    found = read_back(Visit, json.dumps(bare))
    recordings = [known for one in record.recordings if _stands(one) and (known := _recording(one))]
    return ReadBack(found.document.model_copy(update={"recordings": recordings}), found.set_aside)


def _run(run: RunRecord) -> dict[str, object]:
    return {
        "id": run.id,
        "mode": run.mode,
        "after_repair": run.after_repair,
        "circuit": run.circuit,
        "heads_calling": run.heads_calling,
        "minutes_running": run.minutes_running,
        "started_at": run.started_at,
        "compressor_stage": run.compressor_stage,
        "compressor_speed": run.compressor_speed,
        "readings": [one.reading.model_dump() for one in run.readings if _stands(one)],
        "observations": [one.observation.model_dump() for one in run.observations if _stands(one)],
        "notes": run.notes[-1].text if run.notes else None,
    }


def _recording(coming: RecordingRecord) -> Recording | None:
    plain = dict(coming.recording)
    marks = plain.get("marks")
    added = [one.mark for one in coming.marks if _stands(one)]
    plain["marks"] = [*(marks if isinstance(marks, list) else []), *added]
    try:
        return parse(Recording, json.dumps(plain))
    except InvalidDocumentError:
        return None


def _stands(entry: EntryRecord) -> bool:
    return entry.withdrawn is None

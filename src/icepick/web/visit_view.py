"""A visit as the screen needs it."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from functools import lru_cache

from pydantic import AwareDatetime, BaseModel

from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.codes import Mode, RunId, SeriesQuantity
from icepick.core.document.examination import Examination
from icepick.core.document.outcome import Outcome
from icepick.core.document.photo import Photo
from icepick.core.document.recording import Mark
from icepick.core.document.visit import Observation, Reading, Visit
from icepick.core.handbook.fault_on_unit import title_on
from icepick.core.properties.quantities import UnitSystem
from icepick.store import visits as store
from icepick.store.audit import written_by
from icepick.store.closing import closing
from icepick.store.entries import Entry, entries
from icepick.store.outcomes import outcome_of
from icepick.store.photos import photos_of
from icepick.store.practice import practice
from icepick.store.recordings import StoredRecording
from icepick.web.connection import connection
from icepick.web.examined import Followed, examined
from icepick.web.problems import in_words, problem


class EntryView(BaseModel):
    """One thing recorded, taken back or not, ``by`` whom, where somebody had signed in; neither ``reading`` nor
    ``observation`` is there where this Icepick can't use what an older one kept."""

    run: RunId
    entry_key: str
    withdrawn: bool
    recorded_at: AwareDatetime
    by: str | None
    reading: Reading | None
    observation: Observation | None


class OutcomeView(BaseModel):
    """What it was in the end; ``title`` names the fault, ``said`` is the headline there was before it was known."""

    outcome: Outcome
    title: str | None
    said: str
    recorded_at: AwareDatetime
    by: str | None


class PhotoView(BaseModel):
    """A photo that stands, and the key by which it can be taken back."""

    entry_key: str
    photo: Photo
    recorded_at: AwareDatetime
    by: str | None


class EarlierLine(BaseModel):
    """An earlier visit to the same unit."""

    id: int
    opened_at: AwareDatetime


class RecordingLine(BaseModel):
    """A recording without its samples: what it holds, and the key by which it can be taken back."""

    id: str
    entry_key: str
    mode: Mode
    started_at: AwareDatetime
    seconds: float
    series: list[RecordedSeries]
    marks: list[Mark]


class RecordedSeries(BaseModel):
    """A series of a recording, without its samples."""

    station: str
    quantity: SeriesQuantity
    samples: int


class VisitView(BaseModel):
    """A visit as the screen needs it: the document, what is to be said of it, and how it came about.

    The document comes without its recordings, which may hold many samples; ``recordings`` says what they hold.

    ``entries`` are in the order they were recorded; ``notes_revision`` gives, for each run, what a change
    of its notes must name in If-Match; ``set_aside`` says what of the record this Icepick can't use. ``earlier`` are the
    visits to the unit before it that it was examined beside, in the order of ``examination.baseline.visits``. ``closed_at``
    is null while entries are taken; ``reopened`` is when it was opened again. ``key`` is the visit's own: numbers are used
    again once the records were put back, keys never.
    """

    id: int
    key: str
    opened_at: AwareDatetime
    closed_at: AwareDatetime | None
    reopened: list[AwareDatetime]
    unit_id: int
    visit: Visit
    recordings: list[RecordingLine]
    examination: Examination
    entries: list[EntryView]
    notes_revision: dict[str, int]
    set_aside: list[str]
    earlier: list[EarlierLine]
    outcome: OutcomeView | None
    photos: list[PhotoView]


def found_visit(visit_id: int) -> store.StoredVisit:
    """A visit by its number; 404 where there is none."""
    found = store.find_visit(connection(), visit_id)
    if found is None:
        raise problem(404, f"There is no visit {visit_id}.")
    return found


def visit_view(visit_id: int, units: UnitSystem) -> VisitView:
    """A visit with its examination and how it came about."""
    found = found_visit(visit_id)
    before = store.visits_before(connection(), found, MOST_EARLIER)
    closed = closing(connection(), visit_id)
    by = written_by(connection(), visit_id)
    return VisitView.model_validate(
        {
            "id": found.id,
            "key": found.key,
            "opened_at": found.opened_at,
            "closed_at": closed.closed_at,
            "reopened": closed.reopened,
            "unit_id": found.unit_id,
            "visit": found.document.model_copy(update={"recordings": []}),
            "recordings": [_recording_line(one) for one in found.recordings],
            "examination": examined(Followed(found, before), practice(connection()), units),
            "entries": [_entry_view(one, by.get(one.entry_key)) for one in entries(connection(), visit_id)],
            "notes_revision": store.notes_revision(connection(), visit_id),
            "set_aside": [in_words(one) for one in found.set_aside],
            "earlier": [{"id": one.id, "opened_at": one.opened_at} for one in before],
            "outcome": _outcome_view(found),
            "photos": [
                {
                    "entry_key": one.entry_key,
                    "photo": one.photo,
                    "recorded_at": datetime.fromisoformat(one.recorded_at),
                    "by": one.by,
                }
                for one in photos_of(connection(), visit_id)
            ],
        }
    )


def _outcome_view(found: store.StoredVisit) -> OutcomeView | None:
    told = outcome_of(connection(), found.id)
    if told is None:
        return None
    fault = told.outcome.fault
    return OutcomeView(
        outcome=told.outcome,
        title=title_on(found.document.unit, fault, None) if fault else None,
        said=told.said.headline,
        recorded_at=datetime.fromisoformat(told.recorded_at),
        by=told.by,
    )


def examine_with(visit_id: int, run: str, reading: Reading, units: UnitSystem) -> None:
    """Examine a visit as it would be with one reading more; who asks for that examination then has it at once."""
    found = found_visit(visit_id)
    runs = [
        one.model_copy(update={"readings": [*one.readings, reading]}) if one.id == run else one
        for one in found.document.runs
    ]
    with_it = replace(found, document=found.document.model_copy(update={"runs": runs}))
    before = store.visits_before(connection(), found, MOST_EARLIER)
    examined(Followed(with_it, before), practice(connection()), units)


@lru_cache(maxsize=10_000)
def _entry_view(one: Entry, by: str | None) -> EntryView:
    # Checked when it was entered, and there may be hundreds.
    return EntryView.model_construct(
        run=one.run,
        entry_key=one.entry_key,
        withdrawn=one.withdrawn,
        recorded_at=datetime.fromisoformat(one.recorded_at),
        by=by,
        reading=one.reading,
        observation=one.observation,
    )


def _recording_line(one: StoredRecording) -> RecordingLine:
    recording = one.recording
    ends = [series.seconds[-1] for series in recording.series if series.seconds]
    return RecordingLine(
        id=recording.id,
        entry_key=one.entry_key,
        mode=recording.mode,
        started_at=recording.started_at,
        seconds=max([*ends, *(mark.seconds for mark in recording.marks)], default=0.0),
        series=[
            RecordedSeries(station=each.station, quantity=each.quantity, samples=len(each.values))
            for each in recording.series
        ],
        marks=recording.marks,
    )

"""Visits, their runs and readings."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, FiniteFloat, StringConstraints

from icepick.core.document.base import Document
from icepick.core.document.examination import Examination, Status
from icepick.core.document.visit import (
    Complaint,
    CompressorSpeed,
    CompressorStage,
    Mode,
    Observation,
    Reading,
    RunId,
    Text,
    Visit,
)
from icepick.core.examine import examine
from icepick.core.history import ExaminedVisit, History, history
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.store import visits as store
from icepick.store.database import writing
from icepick.store.entries import add_observation, add_reading, entries, set_notes, withdraw
from icepick.store.practice import practice
from icepick.store.units import add_unit, find_unit
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.equipment import NewUnit
from icepick.web.examined import examined, headline
from icepick.web.problems import problem

api = Api("visits")

EntryKey = Annotated[str, StringConstraints(min_length=8, max_length=64)]
Minutes = Annotated[FiniteFloat, Field(ge=0, le=1_000_000)]


class Clock(Document):
    """When a run began, or how long it had been going; both null where nobody knows."""

    started_at: AwareDatetime | None = None
    minutes_running: Minutes | None = None


class NewRun(Clock):
    mode: Mode


class CompressorLoad(Document):
    """At which stage the compressor ran, or at what speed in percent of the rated one; null where nobody knows."""

    compressor_stage: CompressorStage | None = None
    compressor_speed: CompressorSpeed | None = None


class NewVisit(Document):
    """A call on a unit of the book, by number, or on one that is entered with it."""

    unit_id: int | None = None
    new_unit: NewUnit | None = None
    complaint: Complaint | None = None
    run: NewRun


class NewReading(Document):
    """A reading and the run it belongs to; ``entry_key`` is made where it was typed, so that a reading
    sent twice is kept once."""

    run: RunId
    entry_key: EntryKey
    reading: Reading


class NewObservation(Document):
    run: RunId
    entry_key: EntryKey
    observation: Observation


class Withdrawal(Document):
    """Takes back the entry of this key."""

    entry_key: EntryKey


class Notes(Document):
    text: Text


class EntryView(BaseModel):
    """One thing recorded, taken back or not."""

    run: RunId
    entry_key: str
    withdrawn: bool
    recorded_at: AwareDatetime
    reading: Reading | None
    observation: Observation | None


class VisitView(BaseModel):
    """A visit as the screen needs it: the document, what is to be said of it, and how it came about.

    ``entries`` are in the order they were recorded; ``notes_revision`` gives, for each run, what a change
    of its notes must name in If-Match.
    """

    id: int
    opened_at: AwareDatetime
    unit_id: int
    visit: Visit
    examination: Examination
    entries: list[EntryView]
    notes_revision: dict[str, int]


class VisitLine(BaseModel):
    """A visit in one line of the list of calls."""

    id: int
    opened_at: AwareDatetime
    unit_id: int
    site: str
    unit: str
    complaint: Complaint | None
    modes: list[Mode]
    headline: str
    outcome: Status


class VisitList(BaseModel):
    visits: list[VisitLine]


def _found(visit_id: int) -> store.StoredVisit:
    found = store.find_visit(connection(), visit_id)
    if found is None:
        raise problem(404, f"There is no visit {visit_id}.")
    return found


def _view(visit_id: int, units: UnitSystem) -> VisitView:
    found = _found(visit_id)
    return VisitView.model_validate(
        {
            "id": found.id,
            "opened_at": found.opened_at,
            "unit_id": found.unit_id,
            "visit": found.document,
            "examination": examine(found.document, practice(connection()), units),
            "entries": [asdict(entry) for entry in entries(connection(), visit_id)],
            "notes_revision": store.notes_revision(connection(), visit_id),
        }
    )


@api.endpoint("get", "/visits", gives=VisitList, in_units=True)
def list_visits(units: UnitSystem) -> VisitList:
    """Every visit, newest first, with its headline."""
    limits = practice(connection())
    return VisitList(visits=[_line(found, limits, units) for found in store.all_visits(connection())])


def _line(found: store.StoredVisit, limits: Practice, units: UnitSystem) -> VisitLine:
    said, outcome = headline(found.document, limits, units)
    return VisitLine.model_validate(
        {
            "id": found.id,
            "opened_at": found.opened_at,
            "unit_id": found.unit_id,
            "site": found.document.site.name,
            "unit": found.document.unit.label,
            "complaint": found.document.complaint,
            "modes": [run.mode for run in found.document.runs],
            "headline": said,
            "outcome": outcome,
        }
    )


@api.endpoint("post", "/visits", accepts=NewVisit, gives=VisitView, status=201, in_units=True)
def start_visit(body: NewVisit, units: UnitSystem) -> VisitView:
    """Start a call, with its first run."""
    if (body.unit_id is None) == (body.new_unit is None):
        raise problem(422, "Give either unit_id or new_unit.")
    with writing(connection()) as db:
        if body.new_unit:
            unit = add_unit(db, body.new_unit.site, body.new_unit.unit)
        else:
            known = find_unit(db, body.unit_id or 0)
            if known is None:
                raise problem(404, f"There is no unit {body.unit_id}.")
            unit = known
        visit_id = store.open_visit(db, unit, body.complaint)
        _add_run(visit_id, body.run)
    return _view(visit_id, units)


def _add_run(visit_id: int, run: NewRun) -> None:
    store.add_run(
        connection(), visit_id, run.mode, minutes_running=run.minutes_running, started_at=run.started_at
    )


@api.endpoint("get", "/visits/<int:visit_id>", gives=VisitView, in_units=True)
def get_visit(visit_id: int, units: UnitSystem) -> VisitView:
    """One visit and its examination."""
    return _view(visit_id, units)


@api.endpoint("get", "/visits/<int:visit_id>/history", gives=History, in_units=True)
def get_history(visit_id: int, units: UnitSystem) -> History:
    """The visit beside earlier ones of the same unit, at the nearest conditions."""
    found, limits = _found(visit_id), practice(connection())
    visits = [
        ExaminedVisit(
            stored.id, datetime.fromisoformat(stored.opened_at), examined(stored.document, limits, units)
        )
        for stored in store.visits_of_unit(connection(), found.unit_id)
    ]
    return history(visits, visit_id, limits, units)


@api.endpoint("get", "/visits/<int:visit_id>/document", gives=Visit)
def get_document(visit_id: int) -> Visit:
    """The visit document alone, as the command line reads it."""
    return _found(visit_id).document


@api.endpoint(
    "post", "/visits/<int:visit_id>/runs", accepts=NewRun, gives=VisitView, status=201, in_units=True
)
def add_run(visit_id: int, body: NewRun, units: UnitSystem) -> VisitView:
    """Add a run in some mode."""
    _found(visit_id)
    with writing(connection()):
        _add_run(visit_id, body)
    return _view(visit_id, units)


@api.endpoint(
    "patch", "/visits/<int:visit_id>/runs/<run>/clock", accepts=Clock, gives=VisitView, in_units=True
)
def set_clock(visit_id: int, run: str, body: Clock, units: UnitSystem) -> VisitView:
    """Say when a run began."""
    with writing(connection()) as db:
        store.set_clock(db, _run_row(visit_id, run), body.started_at, body.minutes_running)
    return _view(visit_id, units)


@api.endpoint(
    "patch",
    "/visits/<int:visit_id>/runs/<run>/compressor",
    accepts=CompressorLoad,
    gives=VisitView,
    in_units=True,
)
def set_compressor(visit_id: int, run: str, body: CompressorLoad, units: UnitSystem) -> VisitView:
    """Say at which stage or speed the compressor ran."""
    with writing(connection()) as db:
        store.set_compressor(db, _run_row(visit_id, run), body.compressor_stage, body.compressor_speed)
    return _view(visit_id, units)


@api.endpoint(
    "post", "/visits/<int:visit_id>/readings", accepts=NewReading, gives=VisitView, status=201, in_units=True
)
def take_reading(visit_id: int, body: NewReading, units: UnitSystem) -> VisitView:
    """Append a reading; it is on disk before the answer leaves."""
    with writing(connection()) as db:
        add_reading(db, _run_row(visit_id, body.run), body.reading, body.entry_key)
    return _view(visit_id, units)


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/observations",
    accepts=NewObservation,
    gives=VisitView,
    status=201,
    in_units=True,
)
def observe(visit_id: int, body: NewObservation, units: UnitSystem) -> VisitView:
    """Append an observation."""
    with writing(connection()) as db:
        add_observation(db, _run_row(visit_id, body.run), body.observation, body.entry_key)
    return _view(visit_id, units)


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/withdrawals",
    accepts=Withdrawal,
    gives=VisitView,
    status=201,
    in_units=True,
)
def take_back(visit_id: int, body: Withdrawal, units: UnitSystem) -> VisitView:
    """Take an entry back; it stays in the record, marked."""
    if body.entry_key not in {entry.entry_key for entry in entries(connection(), visit_id)}:
        raise problem(404, f"Visit {visit_id} has no such entry.")
    with writing(connection()) as db:
        withdraw(db, body.entry_key)
    return _view(visit_id, units)


@api.endpoint(
    "put",
    "/visits/<int:visit_id>/runs/<run>/notes",
    accepts=Notes,
    gives=VisitView,
    in_units=True,
    if_match=True,
)
def write_notes(visit_id: int, run: str, body: Notes, units: UnitSystem, revision: int) -> VisitView:
    """Replace the notes of a run; what stood there before is kept in the record."""
    with writing(connection()) as db:
        set_notes(db, _run_row(visit_id, run), body.text, revision)
    return _view(visit_id, units)


def _run_row(visit_id: int, run: str) -> int:
    try:
        return store.find_run(connection(), visit_id, run)
    except store.UnknownRunError:
        raise problem(404, f"Visit {visit_id} has no run {run!r}.") from None

"""Visits, their runs and readings."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, FiniteFloat

from icepick.core.document.base import Document, InvalidDocumentError, Problem
from icepick.core.document.codes import (
    CircuitId,
    Complaint,
    CompressorSpeed,
    CompressorStage,
    HeadsCalling,
    Mode,
    RunId,
    Text,
)
from icepick.core.document.visit import MOST_ENTRIES, MOST_RUNS, Observation, Reading, Unit, Visit
from icepick.core.history import ExaminedVisit, History, history
from icepick.core.properties.quantities import UnitSystem
from icepick.store import photos, recordings
from icepick.store import visits as store
from icepick.store.closing import close, day_of_work, refuse_closed, reopen
from icepick.store.database import writing
from icepick.store.entries import (
    add_observation,
    add_reading,
    entries,
    entries_of_run,
    set_notes,
    withdraw,
)
from icepick.store.practice import practice
from icepick.store.receipts import once
from icepick.store.units import add_unit, find_unit
from icepick.web.changes import Changes, changes, look_ahead, look_further_ahead, revision
from icepick.web.connection import connection, records_tag
from icepick.web.contract import LARGEST_ID, Api, EntryKey
from icepick.web.equipment import SiteAndUnit, refuse_unsizable
from icepick.web.examined import each_followed, examined
from icepick.web.problems import problem
from icepick.web.summarizing import summarizer
from icepick.web.visit_list import VisitList, VisitsAsked, visit_list
from icepick.web.visit_view import VisitView, found_visit, visit_view

api = Api("visits")

Minutes = Annotated[FiniteFloat, Field(ge=0, le=1_000_000)]


class Clock(Document):
    """When a run began, or how long it had been going; both null where nobody knows."""

    started_at: AwareDatetime | None = None
    minutes_running: Minutes | None = None


class FirstRun(Clock):
    """``after_repair``: what was found has been mended, and this is how it was left. ``circuit`` and ``heads_calling`` are
    for a unit that has several."""

    mode: Mode
    after_repair: bool = False
    circuit: CircuitId | None = None
    heads_calling: HeadsCalling | None = None


class NewRun(FirstRun):
    entry_key: EntryKey


class CompressorLoad(Document):
    """At which stage the compressor ran, or at what speed in percent of the rated one; null where nobody knows."""

    compressor_stage: CompressorStage | None = None
    compressor_speed: CompressorSpeed | None = None


class Calling(Document):
    """Numbers, from 1, of the heads that call; null where nobody noted them."""

    heads_calling: HeadsCalling | None = None


class NewVisit(Document):
    """A call on a unit of the book, by number, or on one that is entered with it. Like every entry it carries a key made
    where it was typed, so that a call sent twice is started once."""

    entry_key: EntryKey
    unit_id: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None
    new_unit: SiteAndUnit | None = None
    complaint: Complaint | None = None
    run: FirstRun


class NewReading(Document):
    """A reading and the run it belongs to; ``entry_key`` is made where it was typed, so that a reading
    sent twice is kept once."""

    run: RunId
    entry_key: EntryKey
    reading: Reading


class Typed(Document):
    """A reading as it stands in the field, not entered yet."""

    run: RunId
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


class Closedness(Document):
    """Whether a visit is to be closed, or open again; each press stays in the record."""

    closed: bool


class Opened(BaseModel):
    """The number of the visit that was started."""

    id: int


class RunAdded(BaseModel):
    """The id of the run that was added."""

    run: str


class RunRemoved(BaseModel):
    """Whether the visit, which held nothing else, went with the run."""

    with_visit: bool


class RunChanged(BaseModel):
    """The run that was changed."""

    run: str


class NotesKept(BaseModel):
    """The revision of the notes that is now in force."""

    revision: int


class Kept(BaseModel):
    """What was sent is on disk; what it changes of the visit is asked for next."""

    entry_key: str


class Foreseen(BaseModel):
    """Whether the visit was examined with what is being typed."""

    ready: bool


class Closed(BaseModel):
    """Whether the visit is closed now."""

    closed: bool


def _list_tag(asked: VisitsAsked) -> str:
    return records_tag(asked.model_dump_json(), day_of_work(), summarizer().waiting)


@api.endpoint("get", "/visits", gives=VisitList, asks=VisitsAsked, tag=_list_tag)
def list_visits(asked: VisitsAsked) -> VisitList:
    """Visits with their headlines, newest first; a page of those that were asked for."""
    return visit_list(asked)


@api.endpoint("post", "/visits", accepts=NewVisit, gives=Opened, needs="enter", status=201)
def start_visit(body: NewVisit) -> Opened:
    """Start a call, with its first run."""
    if (body.unit_id is None) == (body.new_unit is None):
        raise problem(422, "Give either unit_id or new_unit.")
    if body.new_unit:
        refuse_unsizable(body.new_unit.unit, "/new_unit/unit")
    with writing(connection()) as db:
        content = body.model_dump_json(exclude={"entry_key"})
        return Opened(id=int(once(db, body.entry_key, "visit", content, lambda: str(_open(body)))))


def _open(body: NewVisit) -> int:
    db = connection()
    if body.new_unit:
        unit = add_unit(db, body.new_unit.site, body.new_unit.unit)
    else:
        known = find_unit(db, body.unit_id or 0)
        if known is None:
            raise problem(404, f"There is no unit {body.unit_id}.")
        unit = known
    _refuse_elsewhere(unit.unit, body.run, "/run")
    visit_id = store.open_visit(db, unit, body.complaint)
    _add_run(visit_id, body.run)
    return visit_id


def _add_run(visit_id: int, run: FirstRun) -> str:
    return store.add_run(
        connection(),
        visit_id,
        run.mode,
        minutes_running=run.minutes_running,
        started_at=run.started_at,
        after_repair=run.after_repair,
        circuit=run.circuit,
        heads_calling=run.heads_calling,
    ).key


def _refuse_elsewhere(unit: Unit, run: FirstRun, where: str = "") -> None:
    """On a circuit or with heads that the unit does not have no run is begun."""
    wrong = {
        "circuit": unit.refusal_of_circuit(run.circuit),
        "heads_calling": unit.refusal_of_heads(run.heads_calling),
    }
    problems = [Problem(f"{where}/{name}", words) for name, words in wrong.items() if words]
    if problems:
        raise InvalidDocumentError(problems)


@api.endpoint("get", "/visits/<int:visit_id>", gives=VisitView, in_units=True, tag=revision, computes=True)
def get_visit(visit_id: int, units: UnitSystem) -> VisitView:
    """One visit and its examination."""
    return visit_view(visit_id, units)


def _changes_tag(visit_id: int, units: UnitSystem, since: str | None) -> str:
    return f"{revision(visit_id, units)}-{(since or '')[:40]}"


@api.endpoint(
    "get", "/visits/<int:visit_id>/changes", gives=Changes, in_units=True, since=True, tag=_changes_tag
)
def get_changes(visit_id: int, units: UnitSystem, since: str | None) -> Changes:
    """What changed of a visit since the revision named, as a JSON Patch (RFC 6902); all of it where none is named."""
    return changes(visit_id, units, since)


@api.endpoint("get", "/visits/<int:visit_id>/history", gives=History, in_units=True, computes=True)
def get_history(visit_id: int, units: UnitSystem) -> History:
    """The visit beside earlier ones of the same unit, at the nearest conditions."""
    found, limits = found_visit(visit_id), practice(connection())
    visits = [
        ExaminedVisit(one.visit.id, datetime.fromisoformat(one.visit.opened_at), examined(one, limits, units))
        for one in each_followed(store.visits_of_unit(connection(), found.unit_id))
    ]
    return history(visits, visit_id, limits, units)


@api.endpoint("get", "/visits/<int:visit_id>/document", gives=Visit)
def get_document(visit_id: int) -> Visit:
    """The visit document alone, as the command line reads it."""
    return found_visit(visit_id).document


@api.endpoint(
    "post", "/visits/<int:visit_id>/runs", accepts=NewRun, gives=RunAdded, needs="enter", status=201
)
def add_run(visit_id: int, body: NewRun) -> RunAdded:
    """Add a run in some mode."""
    with writing(connection()) as db:
        found = found_visit(visit_id)
        content = f"{visit_id} {body.model_dump_json(exclude={'entry_key'})}"
        return RunAdded(run=once(db, body.entry_key, "run", content, lambda: _one_more(found, body)))


def _one_more(found: store.StoredVisit, run: FirstRun) -> str:
    refuse_closed(connection(), found.id)
    if len(found.document.runs) >= MOST_RUNS:
        raise problem(409, f"A visit holds {MOST_RUNS:,} runs at most; start another call.")
    _refuse_elsewhere(found.document.unit, run)
    return _add_run(found.id, run)


@api.endpoint("delete", "/visits/<int:visit_id>/runs/<run>", gives=RunRemoved, needs="enter")
def remove_run(visit_id: int, run: str) -> RunRemoved:
    """Remove a run that holds nothing, and with the last one its visit."""
    with writing(connection()) as db:
        refuse_closed(db, visit_id)
        try:
            return RunRemoved(with_visit=store.remove_run(db, visit_id, run_row(visit_id, run)))
        except store.HoldsSomethingError:
            raise problem(
                409, "This run holds readings or notes: only an empty one can be removed."
            ) from None


@api.endpoint(
    "patch", "/visits/<int:visit_id>/runs/<run>/clock", accepts=Clock, gives=RunChanged, needs="enter"
)
def set_clock(visit_id: int, run: str, body: Clock) -> RunChanged:
    """Say when a run began."""
    with writing(connection()) as db:
        refuse_closed(db, visit_id)
        store.set_clock(db, run_row(visit_id, run), body.started_at, body.minutes_running)
    return RunChanged(run=run)


@api.endpoint(
    "patch",
    "/visits/<int:visit_id>/runs/<run>/compressor",
    accepts=CompressorLoad,
    gives=RunChanged,
    needs="enter",
)
def set_compressor(visit_id: int, run: str, body: CompressorLoad) -> RunChanged:
    """Say at which stage or speed the compressor ran."""
    with writing(connection()) as db:
        refuse_closed(db, visit_id)
        store.set_compressor(db, run_row(visit_id, run), body.compressor_stage, body.compressor_speed)
    return RunChanged(run=run)


@api.endpoint(
    "patch", "/visits/<int:visit_id>/runs/<run>/heads", accepts=Calling, gives=RunChanged, needs="enter"
)
def set_heads(visit_id: int, run: str, body: Calling) -> RunChanged:
    """Say which heads call."""
    with writing(connection()) as db:
        refuse_closed(db, visit_id)
        row = run_row(visit_id, run)
        wrong = found_visit(visit_id).document.unit.refusal_of_heads(body.heads_calling)
        if wrong:
            raise InvalidDocumentError([Problem("/heads_calling", wrong)])
        store.set_heads(db, row, body.heads_calling)
    return RunChanged(run=run)


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/readings",
    accepts=NewReading,
    gives=Kept,
    needs="enter",
    status=201,
    then=look_ahead,
)
def take_reading(visit_id: int, body: NewReading) -> Kept:
    """Append a reading; it is on disk before the answer leaves."""
    with writing(connection()) as db:
        row = run_row(visit_id, body.run)
        if add_reading(db, row, body.reading, body.entry_key):
            refuse_closed(db, visit_id)
            _refuse_more_than_fit(row)
    return Kept(entry_key=body.entry_key)


@api.endpoint("post", "/visits/<int:visit_id>/typed", accepts=Typed, gives=Foreseen, needs="enter")
def foresee(visit_id: int, body: Typed) -> Foreseen:
    """Examine the visit as it will be once this reading is entered, so that the findings are there at once. Keeps nothing."""
    return Foreseen(ready=look_further_ahead(visit_id, body.run, body.reading))


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/observations",
    accepts=NewObservation,
    gives=Kept,
    needs="enter",
    status=201,
    then=look_ahead,
)
def observe(visit_id: int, body: NewObservation) -> Kept:
    """Append an observation."""
    with writing(connection()) as db:
        row = run_row(visit_id, body.run)
        if add_observation(db, row, body.observation, body.entry_key):
            refuse_closed(db, visit_id)
            _refuse_more_than_fit(row)
    return Kept(entry_key=body.entry_key)


def _refuse_more_than_fit(run_row: int) -> None:
    if max(entries_of_run(connection(), run_row)) > MOST_ENTRIES:
        raise problem(409, f"A run holds {MOST_ENTRIES:,} entries of a kind at most; add another run.")


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/withdrawals",
    accepts=Withdrawal,
    gives=Kept,
    needs="enter",
    status=201,
    then=look_ahead,
)
def take_back(visit_id: int, body: Withdrawal) -> Kept:
    """Take an entry back; it stays in the record, marked."""
    with writing(connection()) as db:
        known = body.entry_key in {entry.entry_key for entry in entries(db, visit_id)}
        known = known or recordings.holds_key(db, visit_id, body.entry_key)
        if not known and not photos.holds_key(db, visit_id, body.entry_key):
            raise problem(404, f"Visit {visit_id} has no such entry.")
        if withdraw(db, body.entry_key):
            refuse_closed(db, visit_id)
    return Kept(entry_key=body.entry_key)


@api.endpoint("put", "/visits/<int:visit_id>/closing", accepts=Closedness, gives=Closed, needs="close")
def set_closing(visit_id: int, body: Closedness) -> Closed:
    """Close a visit, which then takes no more entries and keeps the unit as it was described; or open it again."""
    with writing(connection()) as db:
        found_visit(visit_id)
        (close if body.closed else reopen)(db, visit_id)
    return Closed(closed=body.closed)


@api.endpoint(
    "put",
    "/visits/<int:visit_id>/runs/<run>/notes",
    accepts=Notes,
    gives=NotesKept,
    needs="enter",
    if_match=True,
)
def write_notes(visit_id: int, run: str, body: Notes, revision: int) -> NotesKept:
    """Replace the notes of a run; what stood there before is kept in the record."""
    with writing(connection()) as db:
        refuse_closed(db, visit_id)
        return NotesKept(revision=set_notes(db, run_row(visit_id, run), body.text, revision))


def enter_together(visit_id: int, run: str, readings: list[Reading], entry_key: str, content: str) -> int:
    """Append readings that one press took, in a transaction, and say how many; sent again under its key, it adds nothing."""
    db, row = connection(), run_row(visit_id, run)

    def enter() -> str:
        refuse_closed(db, visit_id)
        if entries_of_run(db, row)[0] + len(readings) > MOST_ENTRIES:
            raise problem(409, f"A run holds {MOST_ENTRIES:,} readings at most; start another.")
        for reading in readings:
            add_reading(db, row, reading)
        return str(len(readings))

    return int(once(db, entry_key, "readings", content, enter))


def run_row(visit_id: int, run: str) -> int:
    try:
        return store.find_run(connection(), visit_id, run)
    except store.UnknownRunError:
        raise problem(404, f"Visit {visit_id} has no run {run!r}.") from None

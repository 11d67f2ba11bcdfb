"""Recordings of a visit: begun by hand, marked, and given back."""

from __future__ import annotations

from pydantic import AwareDatetime, BaseModel

from icepick.core.document.base import Document, InvalidDocumentError, Problem
from icepick.core.document.codes import CircuitId, Mode, RunId, Text
from icepick.core.document.recording import MOST_MARKS, Mark, Recording
from icepick.core.document.visit import Unit
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, from_si, to_si
from icepick.core.recorded_file.csv_text import write_csv
from icepick.store import recordings as store
from icepick.store.closing import refuse_closed
from icepick.store.database import writing
from icepick.store.visits import StoredVisit
from icepick.web.changes import look_ahead
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.problems import problem
from icepick.web.visit_view import found_visit
from icepick.web.visits import Kept, Minutes

api = Api("recordings")


class NewRecording(Document):
    """A recording that is begun by hand; its marks follow. ``circuit`` is for a unit with several."""

    entry_key: EntryKey
    mode: Mode
    started_at: AwareDatetime
    minutes_running: Minutes | None = None
    circuit: CircuitId | None = None
    notes: Text | None = None


class NewMark(Document):
    recording: RunId
    entry_key: EntryKey
    mark: Mark


class RecordingAdded(BaseModel):
    """The id of the recording that was added."""

    recording: str


class DrawnSeries(BaseModel):
    """A temperature through time, thinned out for a screen, in the units asked for."""

    station: str
    seconds: list[float]
    values: list[float]


class Drawn(BaseModel):
    """What the picture of a recording is drawn from."""

    unit: str
    series: list[DrawnSeries]


class CsvText(BaseModel):
    """A recording as the text of a CSV file."""

    csv: str


def refuse_circuit(unit: Unit, circuit: str | None) -> None:
    """Nothing is recorded on a circuit that the unit does not have; on which of several need not be known."""
    if circuit is not None and (wrong := unit.refusal_of_circuit(circuit)):
        raise InvalidDocumentError([Problem("/circuit", wrong)])


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/recordings",
    accepts=NewRecording,
    gives=RecordingAdded,
    needs="enter",
    status=201,
)
def add_recording(visit_id: int, body: NewRecording) -> RecordingAdded:
    """Add a recording that is begun now and marked by hand."""
    refuse_circuit(found_visit(visit_id).document.unit, body.circuit)
    with writing(connection()) as db:
        known = store.entered_under(db, visit_id, body.entry_key)
        if known is not None:
            return RecordingAdded(recording=known)
        refuse_closed(db, visit_id)
        name = store.next_key(db, visit_id)
        made = Recording(
            id=name,
            mode=body.mode,
            started_at=body.started_at,
            minutes_running=body.minutes_running,
            circuit=body.circuit,
            notes=body.notes,
        )
        store.add_recording(db, visit_id, made, body.entry_key)
    return RecordingAdded(recording=name)


@api.endpoint("get", "/visits/<int:visit_id>/recordings/<recording>", gives=Recording)
def get_recording(visit_id: int, recording: str) -> Recording:
    """One recording with all its samples."""
    return _one(found_visit(visit_id), recording).recording


@api.endpoint("get", "/visits/<int:visit_id>/recordings/<recording>/csv", gives=CsvText)
def get_csv(visit_id: int, recording: str) -> CsvText:
    """One recording as CSV."""
    return CsvText(csv=write_csv(_one(found_visit(visit_id), recording).recording))


MOST_DRAWN = 1200
"""Points of a line on a screen."""


@api.endpoint("get", "/visits/<int:visit_id>/recordings/<recording>/drawn", gives=Drawn, in_units=True)
def get_drawn(visit_id: int, recording: str, units: UnitSystem) -> Drawn:
    """The temperatures of a recording, thinned out for a screen."""
    unit = DISPLAY_UNITS[units][Kind.TEMPERATURE]
    drawn = []
    for series in _one(found_visit(visit_id), recording).recording.series:
        if series.quantity != "temperature" or not series.values:
            continue
        kept_ones = slice(None, None, -(-len(series.values) // MOST_DRAWN))
        values = [
            round(from_si(to_si(value, series.unit, Kind.TEMPERATURE), unit, Kind.TEMPERATURE), 2)
            for value in series.values[kept_ones]
        ]
        drawn.append(DrawnSeries(station=series.station, seconds=series.seconds[kept_ones], values=values))
    return Drawn(unit=unit, series=drawn)


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/marks",
    accepts=NewMark,
    gives=Kept,
    needs="enter",
    status=201,
    then=look_ahead,
)
def set_mark(visit_id: int, body: NewMark) -> Kept:
    """Append a mark to a recording."""
    with writing(connection()) as db:
        one = _one(found_visit(visit_id), body.recording)
        if len(one.recording.marks) >= MOST_MARKS:
            raise problem(409, f"A recording holds {MOST_MARKS:,} marks at most; start another.")
        if store.add_mark(db, visit_id, body.recording, body.mark, body.entry_key):
            refuse_closed(db, visit_id)
    return Kept(entry_key=body.entry_key)


def _one(found: StoredVisit, recording: str) -> store.StoredRecording:
    for one in found.recordings:
        if one.recording.id == recording:
            return one
    raise problem(404, f"Visit {found.id} has no recording {recording!r}.")

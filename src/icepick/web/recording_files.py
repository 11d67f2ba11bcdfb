"""Files of recordings for a visit: sent in parts, shown as they would be understood, given a meaning, entered."""

from __future__ import annotations

from datetime import timedelta, timezone
from typing import Annotated, Literal

import numpy as np
from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from icepick.core.document.base import Document
from icepick.core.document.codes import CircuitId, Mode, StationCode
from icepick.core.document.stations import STATE, STATIONS, SWITCHED, station
from icepick.core.document.visit import Unit
from icepick.core.properties.quantities import UNITS
from icepick.core.recorded_file.making import every_of, refused
from icepick.core.recorded_file.meanings import CLOCK_UNITS, Meanings, Place, place_of, wanting
from icepick.core.recorded_file.table import Table
from icepick.probes.kits import stations_for_probes
from icepick.store.closing import refuse_closed
from icepick.web.arriving_recordings import LARGEST_FILE, RecordedFile, State, arriving
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.door import who
from icepick.web.importing import LARGEST_PART
from icepick.web.problems import problem
from icepick.web.recordings import refuse_circuit
from icepick.web.records import PartAsked
from icepick.web.summarizing import summarizer
from icepick.web.visit_view import found_visit
from icepick.web.visits import Minutes

api = Api("recording files")
_WORD = Annotated[str, StringConstraints(min_length=1, max_length=40)]
ClockUnit = Literal["ms", "s", "min", "h"]


class NewFile(Document):
    """A file of rows for a visit. It follows in parts."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    bytes: Annotated[int, Field(ge=1, le=LARGEST_FILE)]


class ColumnPlace(Document):
    """What a column holds."""

    station: StationCode
    quantity: _WORD
    unit: _WORD


class ColumnSaid(Document):
    """What is said of a column; without a place it is left out."""

    column: Annotated[int, Field(ge=0, le=1000)]
    place: ColumnPlace | None = None


class FileSaid(Document):
    """What is said of a file: of each column somebody spoke of, of its clock, and the minutes by which its times are ahead
    of UTC where it writes none."""

    columns: list[ColumnSaid] = Field(max_length=200)
    clock_unit: ClockUnit | None = None
    started_at: AwareDatetime | None = None
    offset: Annotated[int, Field(ge=-1439, le=1439)] | None = None


class EnterFile(Document):
    """Enter it as a recording. What of it can't be used is left out only where that is said."""

    entry_key: EntryKey
    mode: Mode
    minutes_running: Minutes | None = None
    circuit: CircuitId | None = None
    leave_out: bool = False


class Choice(BaseModel):
    """What a column may hold on this unit."""

    station: str
    quantity: str
    title: str
    units: list[str]


class PlaceView(BaseModel):
    station: str
    quantity: str
    unit: str


class ColumnView(BaseModel):
    """A column and its lowest and highest number as they are written; ``known`` says whence its meaning is: its heading, an
    earlier file, or what was said of this one."""

    heading: str
    examples: list[str]
    samples: int
    lowest: float | None
    highest: float | None
    known: Literal["heading", "remembered", "said"] | None
    place: PlaceView | None


class ClockView(BaseModel):
    """The first column, and what was said of it, ``offset`` in minutes. ``first`` is the first time as it is written,
    ``every`` how far its rows lie apart [s]."""

    heading: str
    counts: bool
    unit: ClockUnit | None
    started_at: AwareDatetime | None
    first: str | None
    has_offset: bool
    offset: int | None
    seconds: float
    every: float | None


class Wanting(BaseModel):
    """What has to be said still, of a column or of the ``clock``."""

    where: str
    message: str


class RefusedView(BaseModel):
    row: int
    column: str
    message: str


class FoundView(BaseModel):
    """What a file holds, as it would be understood; of ``keeps_every`` samples it keeps one."""

    separator: str
    decimal: str
    rows: int
    marks: int
    clock: ClockView
    columns: list[ColumnView]
    wanting: list[Wanting]
    refused_rows: int
    refused_cells: int
    refused: list[RefusedView]
    keeps_every: int
    choices: list[Choice]


class FileView(BaseModel):
    """How far a file has come; ``done`` letters ``of`` all are read."""

    id: str
    name: str
    bytes: int
    received: int
    part: int
    state: State
    done: int
    of: int
    found: FoundView | None
    recording: str | None
    trouble: str | None


class FileForgotten(BaseModel):
    """The file was let go; nothing of it is kept."""

    id: str


@api.endpoint(
    "post", "/visits/<int:visit_id>/files", accepts=NewFile, gives=FileView, needs="enter", status=201
)
def begin_file(visit_id: int, body: NewFile) -> FileView:
    """Begin to bring a file of rows into a visit."""
    found = found_visit(visit_id)
    refuse_closed(connection(), visit_id)
    return _view(arriving().begin(visit_id, body.name, body.bytes), found.document.unit)


@api.endpoint(
    "put",
    "/visits/<int:visit_id>/files/<name>/part",
    takes="application/octet-stream",
    asks=PartAsked,
    gives=FileView,
    needs="enter",
)
def add_file_part(visit_id: int, name: str, content: bytes, asked: PartAsked) -> FileView:
    """Add the next part of the file; with the last one it is read."""
    one, unit = _file(visit_id, name)
    if len(content) > LARGEST_PART:
        raise problem(413, f"A part is {LARGEST_PART:,} bytes at most.")
    if not arriving().add(one, asked.at, content):
        raise problem(409, f"The next part begins at {len(one.content):,}.")
    return _view(one, unit)


@api.endpoint("get", "/visits/<int:visit_id>/files/<name>", gives=FileView, needs="enter")
def get_file(visit_id: int, name: str) -> FileView:
    """How far a file has come, and what it holds."""
    return _view(*_file(visit_id, name))


@api.endpoint(
    "put", "/visits/<int:visit_id>/files/<name>/meaning", accepts=FileSaid, gives=FileView, needs="enter"
)
def say_of_file(visit_id: int, name: str, body: FileSaid) -> FileView:
    """Say what its columns and its clock mean."""
    one, unit = _file(visit_id, name)
    if one.table is None or one.state != "read":
        raise problem(409, "It is not read yet, or not any more.")
    beyond = [said.column for said in body.columns if said.column >= len(one.table.columns)]
    if beyond:
        raise problem(
            422, f"It has {len(one.table.columns)} columns beside its clock; there is none {beyond[0]}."
        )
    places = {said.column: Place(**said.place.model_dump()) if said.place else None for said in body.columns}
    offset = None if body.offset is None else timezone(timedelta(minutes=body.offset))
    before = one.said.places
    one.remembered = frozenset(at for at in one.remembered if at in places and places[at] == before[at])
    one.said = Meanings(places, body.clock_unit, body.started_at, offset)
    one.trouble = None
    return _view(one, unit)


@api.endpoint(
    "post", "/visits/<int:visit_id>/files/<name>/entry", accepts=EnterFile, gives=FileView, needs="enter"
)
def enter_file(visit_id: int, name: str, body: EnterFile) -> FileView:
    """Enter what was read, as it is said to be."""
    one, unit = _file(visit_id, name)
    refuse_closed(connection(), visit_id)
    refuse_circuit(unit, body.circuit)
    if one.table is not None and one.state == "read":
        missing = next(iter(wanting(one.table, one.said)), None)
        if missing is not None:
            raise problem(
                422, f"{missing[0]}: {missing[1]}" if missing[0] not in ("", "clock") else missing[1]
            )
        bad = refused(one.table, one.said)
        if bad.named and not body.leave_out:
            raise problem(422, f"{bad.named[0]}: {bad.named[0].message} Nothing was entered.")
    known = who()
    entered = arriving().enter(
        one,
        body.entry_key,
        known.account.id if known else None,
        summarizer().wake,
        mode=body.mode,
        minutes_running=body.minutes_running,
        circuit=body.circuit,
    )
    if not entered:
        raise problem(409, "It is not ready to be entered.")
    return _view(one, unit)


@api.endpoint("delete", "/visits/<int:visit_id>/files/<name>", gives=FileForgotten, needs="enter")
def forget_file(visit_id: int, name: str) -> FileForgotten:
    """Let a file go; nothing of it was entered, if it was not done."""
    one, _ = _file(visit_id, name)
    if not arriving().forget(one):
        raise problem(409, "It is being entered.")
    return FileForgotten(id=name)


def _file(visit_id: int, name: str) -> tuple[RecordedFile, Unit]:
    found = found_visit(visit_id)
    one = arriving().find(visit_id, name)
    if one is None:
        raise problem(404, "There is no such file any more; choose it again.")
    return one, found.document.unit


def _view(one: RecordedFile, unit: Unit) -> FileView:
    table = one.table
    return FileView(
        id=one.id,
        name=one.name,
        bytes=one.bytes,
        received=len(one.content) if one.state == "arriving" else one.bytes,
        part=LARGEST_PART,
        state=one.state,
        done=one.done,
        of=one.of,
        found=_found(one, table, unit) if table is not None and one.state == "read" else None,
        recording=one.recording,
        trouble=one.trouble,
    )


_SEPARATORS = {",": "commas", ";": "semicolons", "\t": "tabs"}


def _found(one: RecordedFile, table: Table, unit: Unit) -> FoundView:
    bad, said = refused(table, one.said), one.said
    return FoundView(
        separator=_SEPARATORS[table.layout.separator],
        decimal=table.layout.decimal,
        rows=len(table.rows),
        marks=len(table.marks),
        clock=_clock(table, said),
        columns=[_column(one, table, at) for at in range(len(table.columns))],
        wanting=[Wanting(where=where, message=message) for where, message in wanting(table, said)],
        refused_rows=bad.rows,
        refused_cells=bad.cells,
        refused=[RefusedView(row=one.row, column=one.column, message=one.message) for one in bad.named],
        keeps_every=every_of(table, said),
        choices=choices(unit),
    )


def _clock(table: Table, said: Meanings) -> ClockView:
    steps = np.diff(np.array(table.moments)) * _clock_factor(table, said)
    return ClockView(
        heading=table.clock_heading,
        counts=table.clock == "numbers",
        unit=said.clock_unit,
        started_at=said.started_at,
        first=table.first.isoformat() if table.first else None,
        has_offset=table.first is not None and table.first.tzinfo is not None,
        offset=None if said.offset is None else round(said.offset.utcoffset(None) / timedelta(minutes=1)),
        seconds=float(steps.sum()),
        every=float(np.median(steps)) if steps.size else None,
    )


def _clock_factor(table: Table, said: Meanings) -> float:
    return CLOCK_UNITS[said.clock_unit or "s"] if table.clock == "numbers" else 1.0


def _column(one: RecordedFile, table: Table, at: int) -> ColumnView:
    column = table.columns[at]
    values = np.array(column.values)
    values = values[~np.isnan(values)]
    place = one.said.places.get(at)
    return ColumnView(
        heading=column.heading,
        examples=[cell[:40] for cell in column.examples],
        samples=len(values),
        lowest=float(values.min()) if values.size else None,
        highest=float(values.max()) if values.size else None,
        known=_known(one, at, column.heading),
        place=PlaceView(station=place.station, quantity=place.quantity, unit=place.unit) if place else None,
    )


def _known(one: RecordedFile, at: int, heading: str) -> Literal["heading", "remembered", "said"] | None:
    if at not in one.said.places:
        return None
    if at in one.remembered:
        return "remembered"
    place = place_of(heading)
    return "heading" if place is not None and place == one.said.places[at] else "said"


def choices(unit: Unit) -> list[Choice]:
    """What a column may hold on a unit, in walking order."""
    here = {*stations_for_probes(unit), *SWITCHED}
    known = [one.code for one in STATIONS]
    ordered = sorted(here, key=lambda code: known.index(code) if code in known else len(known))
    return [
        Choice(station=code, quantity=quantity, title=station(code).title, units=list(UNITS[what.kind]))
        for code in ordered
        for quantity, what in {
            **station(code).quantities,
            **({"state": STATE} if code in SWITCHED else {}),
        }.items()
    ]

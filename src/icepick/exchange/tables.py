"""The same records as tables: CSV files, and a data package that says what each column means.

The data package follows the Data Package and Table Schema specifications (Open Knowledge, version 1).
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from tempfile import SpooledTemporaryFile
from typing import Any, Self

from icepick.core.document.record import EntryRecord, LimitsRecord, OutcomeRecord, UnitRecord, VisitRecord

Cell = str | float | int | bool | None
Row = tuple[Cell, ...]
Names = tuple[str, ...]
Pointers = dict[Names, tuple[str, Names]]
_IN_MEMORY = 1024**2


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its type as Table Schema names it, and what it means."""

    name: str
    type: str
    says: str
    always: bool = False


@dataclass(frozen=True, slots=True)
class Table:
    """A table; ``key`` tells its rows apart, ``of`` names the tables that its columns point into."""

    name: str
    says: str
    columns: tuple[Column, ...]
    key: tuple[str, ...] = ()
    of: Pointers = field(default_factory=dict)


_VISIT = Column("visit", "string", "The visit, by the name all books know it by.", True)
_RUN = Column("run", "string", "The run of the visit.", True)
_UNIT = Column("unit", "string", "The unit, by the name all books know it by.", True)
_ENTRY = Column("entry", "string", "The entry, by the key made where it was typed.", True)
_WRITTEN = (
    Column("recorded_at", "datetime", "When it was written down.", True),
    Column("by", "string", "Who wrote it down; empty where nobody had signed in."),
)
_TAKEN_BACK = (
    Column("withdrawn_at", "datetime", "When it was taken back; empty where it stands."),
    Column("withdrawn_by", "string", "Who took it back."),
)
_CLOCKWORK = (
    Column("minutes_running", "number", "How long the unit had been in this mode [min]."),
    Column("started_at", "datetime", "When the run began."),
    Column("compressor_stage", "string", "The compressor's stage: low or high."),
    Column("compressor_speed", "number", "The compressor's speed [percent of rated]."),
)
_OF_A_VISIT: Pointers = {("visit",): ("visits", ("visit",))}
_OF_A_RUN: Pointers = {("visit", "run"): ("runs", ("visit", "run"))}
_OF_A_RECORDING: Pointers = {("visit", "recording"): ("recordings", ("visit", "recording"))}

TABLES = (
    Table(
        "units",
        "The equipment book, each unit as it is described now.",
        (
            _UNIT,
            Column("site", "string", "Where it stands.", True),
            Column("label", "string", "What it is called there."),
            Column("model", "string", "Model as the nameplate writes it."),
            Column("serial", "string", "Serial number as the nameplate writes it."),
            Column("layout", "string", "split, ductless or packaged."),
            Column("source", "string", "What the outdoor coil exchanges heat with: air or water."),
            Column("load", "string", "What the indoor coil exchanges heat with: air or water."),
            Column("refrigerant", "string", "The refrigerant by its number."),
            Column("nominal_capacity", "number", "Nominal cooling capacity, in the unit beside it."),
            Column("nominal_capacity_unit", "string", "The unit of the capacity."),
            Column("created_at", "datetime", "When it was entered in the book.", True),
        ),
        ("unit",),
    ),
    Table(
        "visits",
        "Every visit.",
        (
            _VISIT,
            _UNIT,
            Column("opened_at", "datetime", "When it was begun.", True),
            Column("opened_by", "string", "Who began it."),
            Column("complaint", "string", "What the customer sees."),
        ),
        ("visit",),
        {("unit",): ("units", ("unit",))},
    ),
    Table(
        "runs",
        "Every run: a spell in one commanded mode.",
        (
            _VISIT,
            _RUN,
            Column("mode", "string", "The commanded mode: heating, cooling, defrost or off.", True),
            *_CLOCKWORK,
            Column("after_repair", "boolean", "Made after what was found had been mended.", True),
            Column("removed_at", "datetime", "When it was removed, holding nothing; empty where it stands."),
        ),
        ("visit", "run"),
        _OF_A_VISIT,
    ),
    Table(
        "readings",
        "Every reading, those taken back included. The last one of a place that stands is in force.",
        (
            _VISIT,
            _RUN,
            _ENTRY,
            Column("station", "string", "The place it was taken at.", True),
            Column("quantity", "string", "What was measured there.", True),
            Column("value", "number", "The number, in the unit beside it.", True),
            Column("unit", "string", "The unit it was typed in; pressures without abs or a are gauge.", True),
            Column("method", "string", "By what instrument."),
            Column("at", "datetime", "When it was taken, where that was typed."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("entry",),
        _OF_A_RUN,
    ),
    Table(
        "observations",
        "Everything seen or heard, that taken back included.",
        (
            _VISIT,
            _RUN,
            _ENTRY,
            Column("code", "string", "What was looked for.", True),
            Column("value", "string", "What was found, as JSON; empty is: so it is."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("entry",),
        _OF_A_RUN,
    ),
    Table(
        "notes",
        "Every text of a run's notes; the last one is in force.",
        (_VISIT, _RUN, Column("text", "string", "The text."), *_WRITTEN),
        (),
        _OF_A_RUN,
    ),
    Table(
        "recordings",
        "What probes wrote down through time; the samples have a table of their own.",
        (
            _VISIT,
            Column("recording", "string", "The recording of the visit.", True),
            _ENTRY,
            Column("mode", "string", "The commanded mode when it began."),
            Column("started_at", "datetime", "When it began."),
            Column("minutes_running", "number", "How long the unit had been in this mode by then [min]."),
            Column("notes", "string", "What was written beside it."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("visit", "recording"),
        _OF_A_VISIT,
    ),
    Table(
        "samples",
        "The samples of every recording.",
        (
            _VISIT,
            Column("recording", "string", "The recording of the visit.", True),
            Column("station", "string", "The place.", True),
            Column("quantity", "string", "What was measured there.", True),
            Column("unit", "string", "The unit of the value.", True),
            Column("seconds", "number", "Since the recording began [s].", True),
            Column("value", "number", "The number, in the unit beside it.", True),
        ),
        (),
        _OF_A_RECORDING,
    ),
    Table(
        "marks",
        "What was seen while a recording ran.",
        (
            _VISIT,
            Column("recording", "string", "The recording of the visit.", True),
            _ENTRY,
            Column("seconds", "number", "Since the recording began [s]."),
            Column("code", "string", "What was seen."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        (),
        _OF_A_RECORDING,
    ),
    Table(
        "outcomes",
        "What visits came to, each time that was told; the last one of a visit is in force.",
        (
            _VISIT,
            Column(
                "fault", "string", "What it was in the end; none: nothing was wrong; empty: nobody knows."
            ),
            Column(
                "certainty", "string", "seen: found when looked at by itself; cured: by the repair; guessed."
            ),
            Column(
                "repair", "string", "What the repair did: cured, better, unchanged; none: there was none."
            ),
            Column("work", "string", "What was done."),
            Column("said_fault", "string", "What Icepick had said first before it was known."),
            Column("said_probability", "number", "With what probability."),
            *_WRITTEN,
        ),
        (),
        _OF_A_VISIT,
    ),
    Table(
        "closings",
        "Every time a visit was closed by a press, or opened again.",
        (_VISIT, Column("closed", "boolean", "true: closed; false: opened again.", True), *_WRITTEN),
        (),
        _OF_A_VISIT,
    ),
    Table(
        "limits",
        "Every change of a practice limit, where all records leave together.",
        (
            Column("name", "string", "The limit.", True),
            Column("value", "number", "Its value in its own unit; empty is back to the default."),
            *_WRITTEN,
        ),
    ),
)


def unit_rows(record: UnitRecord) -> Iterator[tuple[str, Row]]:
    """A unit's rows, each with its table."""
    unit = record.descriptions[-1].unit
    capacity = unit.get("nominal_capacity")
    value, measure = (capacity["value"], capacity["unit"]) if isinstance(capacity, dict) else (None, None)
    said = [
        unit.get(name) for name in ("label", "model", "serial", "layout", "source", "load", "refrigerant")
    ]
    yield "units", _cells(record.id, record.site.get("name"), *said, value, measure, record.created_at)


def limit_rows(record: LimitsRecord) -> Iterator[tuple[str, Row]]:
    """The limits' rows, each with its table."""
    for one in record.changes:
        yield "limits", (one.name, one.value, one.recorded_at, one.by)


def visit_rows(record: VisitRecord) -> Iterator[tuple[str, Row]]:
    """A visit's rows, each with its table."""
    opened_by = record.opened.by if record.opened else None
    yield "visits", (record.id, record.unit, record.opened_at, opened_by, record.complaint)
    for run in record.runs:
        head = (record.id, run.id)
        clockwork = (run.minutes_running, run.started_at, run.compressor_stage, run.compressor_speed)
        removed = run.removed.recorded_at if run.removed else None
        yield "runs", (*head, run.mode, *clockwork, run.after_repair, removed)
        for reading in run.readings:
            yield (
                "readings",
                (
                    *head,
                    reading.entry_key,
                    *reading.reading.model_dump().values(),
                    *_written(reading),
                ),
            )
        for seen in run.observations:
            value = None if seen.observation.value is None else json.dumps(seen.observation.value)
            yield "observations", (*head, seen.entry_key, seen.observation.code, value, *_written(seen))
        for note in run.notes:
            yield "notes", (*head, note.text, note.recorded_at, note.by)
    yield from _recorded(record)
    for told in record.outcomes:
        came_to = [told.outcome.get(name) for name in ("fault", "certainty", "repair", "work")]
        yield "outcomes", (record.id, *_cells(*came_to, *_first(told)), told.recorded_at, told.by)
    for press in record.closings:
        yield "closings", (record.id, press.closed, press.recorded_at, press.by)


def _recorded(record: VisitRecord) -> Iterator[tuple[str, Row]]:
    for one in record.recordings:
        head = (record.id, one.id)
        said = [one.recording.get(name) for name in ("mode", "started_at", "minutes_running", "notes")]
        yield "recordings", (*head, one.entry_key, *_cells(*said), *_written(one))
        for series in _list(one.recording.get("series")):
            of = [series.get(name) for name in ("station", "quantity", "unit")]
            for sample in zip(_list(series.get("seconds")), _list(series.get("values")), strict=False):
                yield "samples", (*head, *_cells(*of, *sample))
        for plain in _list(one.recording.get("marks")):
            yield "marks", (*head, one.entry_key, *_mark(plain), *_written(one))
        for mark in one.marks:
            yield "marks", (*head, mark.entry_key, *_mark(mark.mark), *_written(mark))


def _first(told: OutcomeRecord) -> Row:
    """What was said first, and how sure."""
    for one in _list(told.said.get("ranking"))[:1]:
        return _cells(one.get("fault"), one.get("probability"))
    return None, None


def _mark(plain: dict[str, Any]) -> Row:
    return _cells(plain.get("seconds"), plain.get("code"))


def _list(value: Any) -> list[Any]:
    return value if isinstance(value, list) else []


def _written(entry: EntryRecord) -> Row:
    back = entry.withdrawn
    return (
        entry.recorded_at,
        entry.by,
        back.recorded_at if back else None,
        back.by if back else None,
    )


def _cells(*values: Any) -> Row:
    return tuple(
        value if isinstance(value, str | float | int) or value is None else str(value) for value in values
    )


class Written:
    """Tables while rows come in; what does not fit in memory waits on disk."""

    def __init__(self) -> None:
        self._files = {table.name: SpooledTemporaryFile[bytes](_IN_MEMORY) for table in TABLES}
        for table in TABLES:
            self.add((table.name, tuple(column.name for column in table.columns)) for _ in range(1))

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        for file in self._files.values():
            file.close()

    def add(self, rows: Iterable[tuple[str, Row]]) -> None:
        """Put rows into their tables."""
        for name, row in rows:
            line = io.StringIO()
            csv.writer(line).writerow(["true" if c is True else "false" if c is False else c for c in row])
            self._files[name].write(line.getvalue().encode())

    def files(self) -> Iterator[tuple[str, bytes]]:
        """Each table's path and content."""
        for name, file in self._files.items():
            file.seek(0)
            yield f"tables/{name}.csv", file.read()


def data_package() -> dict[str, Any]:
    """The description of the tables, ready for ``json.dumps``."""
    return {
        "profile": "tabular-data-package",
        "name": "icepick-records",
        "title": "Visits to heat pumps: readings, looks, notes and recordings",
        "resources": [
            {
                "profile": "tabular-data-resource",
                "name": table.name,
                "path": f"tables/{table.name}.csv",
                "description": table.says,
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": _schema(table),
            }
            for table in TABLES
        ],
    }


def _schema(table: Table) -> dict[str, Any]:
    schema: dict[str, Any] = {
        "fields": [
            {
                "name": column.name,
                "type": column.type,
                "description": column.says,
                **({"format": "any"} if column.type == "datetime" else {}),
                **({"constraints": {"required": True}} if column.always else {}),
            }
            for column in table.columns
        ],
        "missingValues": [""],
    }
    if table.key:
        schema["primaryKey"] = list(table.key)
    if table.of:
        schema["foreignKeys"] = [
            {"fields": list(columns), "reference": {"resource": name, "fields": list(there)}}
            for columns, (name, there) in table.of.items()
        ]
    return schema

"""The same records as CSV tables, row by row as they leave."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Iterator
from tempfile import SpooledTemporaryFile
from typing import Any, Self

from icepick.core.document.record import (
    EntryRecord,
    LimitsRecord,
    OutcomeRecord,
    ShopRecord,
    UnitRecord,
    VisitRecord,
)
from icepick.exchange.dictionary import TABLES

Cell = str | float | int | bool | None
Row = tuple[Cell, ...]
_IN_MEMORY = 1024**2


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


def shop_rows(record: ShopRecord) -> Iterator[tuple[str, Row]]:
    """What was said of the shop, each with its table."""
    for one in record.changes:
        said = [one.shop.get(name) for name in ("name", "license", "contact")]
        yield "shop", (*_cells(*said), one.recorded_at, one.by)


def visit_rows(record: VisitRecord) -> Iterator[tuple[str, Row]]:
    """A visit's rows, each with its table."""
    opened_by = record.opened.by if record.opened else None
    yield "visits", (record.id, record.unit, record.opened_at, opened_by, record.complaint)
    for run in record.runs:
        head = (record.id, run.id)
        clockwork = (run.minutes_running, run.started_at, run.compressor_stage, run.compressor_speed)
        removed = run.removed.recorded_at if run.removed else None
        calling = None if run.heads_calling is None else " ".join(map(str, run.heads_calling))
        yield "runs", (*head, run.mode, *clockwork, run.after_repair, run.circuit, calling, removed)
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
        came_to = [
            told.outcome.get(name) for name in ("fault", "certainty", "repair", "work", "for_customer")
        ]
        yield "outcomes", (record.id, *_cells(*came_to, *_first(told)), told.recorded_at, told.by)
    for photo in record.photos:
        yield "photos", (record.id, photo.entry_key, *photo.photo.model_dump().values(), *_written(photo))
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


def _cell(value: Any) -> Any:
    """As it is written. A spreadsheet works out what begins like a formula, whoever typed it: such a text gets an apostrophe
    before it, which shows it as text; one that has an apostrophe gets another, so that taking one away gives back what was
    typed."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"'{value}" if isinstance(value, str) and value.startswith(_WORKED_OUT) else value


def as_typed(cell: str) -> str:
    """A text cell of these tables as it was before it was written."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_WORKED_OUT) else cell


_WORKED_OUT = ("=", "+", "-", "@", "\t", "\r", "\n", "'", "＝", "＋", "－", "＠")
"""What a text may begin with that a spreadsheet does not show as it is. [published: OWASP, CSV Injection, from memory]"""


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
            csv.writer(line).writerow([_cell(one) for one in row])
            self._files[name].write(line.getvalue().encode())

    def files(self) -> Iterator[tuple[str, bytes]]:
        """Each table's path and content."""
        for name, file in self._files.items():
            file.seek(0)
            yield f"tables/{name}.csv", file.read()

"""A recording as CSV (RFC 4180): a first column ``seconds`` or ``time``, one column a series, ``mark`` last.

An empty cell is no sample. Nothing is taken of a file in which anything is wrong: each refusal names row and column.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, get_args

from icepick.core.document.base import InvalidDocumentError, Problem, parse
from icepick.core.document.codes import MarkCode
from icepick.core.document.recording import MOST_SAMPLES, Mark, Recording, Series

_HEADING = re.compile(r"^(\S+)\s+(\S+)\s+\[(\S+)\]$")
_MOST_PROBLEMS = 20


def write_csv(recording: Recording) -> str:
    """A recording as CSV, one row for each second at which anything was recorded or marked.

    Parameters
    ----------
    recording : Recording
        Of a visit document.

    Returns
    -------
    str
        With CRLF line ends, as RFC 4180 has it.
    """
    rows: dict[float, dict[int, str]] = {}
    for column, series in enumerate(recording.series):
        for seconds, value in zip(series.seconds, series.values, strict=True):
            rows.setdefault(seconds, {})[column] = f"{value:.10g}"
    marks: dict[float, list[str]] = {}
    for mark in recording.marks:
        rows.setdefault(mark.seconds, {})
        marks.setdefault(mark.seconds, []).append(_written(mark))
    out = io.StringIO()
    writer = csv.writer(out)
    heads = [f"{one.station} {one.quantity} [{one.unit}]" for one in recording.series]
    writer.writerow(["seconds", *heads, *(["mark"] if marks else [])])
    for seconds in sorted(rows):
        cells = [rows[seconds].get(column, "") for column in range(len(heads))]
        writer.writerow([f"{seconds:.10g}", *cells, *([" ".join(marks.get(seconds, []))] if marks else [])])
    return out.getvalue()


def _written(mark: Mark) -> str:
    if mark.value is None or mark.value is True:
        return mark.code
    return f"{mark.code}={'false' if mark.value is False else mark.value}".replace(" ", "_")


def read_csv(
    text: str, *, name: str, mode: str, started_at: str | None = None, minutes_running: float | None = None
) -> Recording:
    """Read a recording from CSV.

    Parameters
    ----------
    text : str
        The file.
    name : str
        The recording's id.
    mode : str
        The commanded mode at its start.
    started_at : str or None
        ISO 8601 with offset; may be left out where the first column is ``time``.
    minutes_running : float or None
        How long the unit had run in this mode when it starts [min].

    Returns
    -------
    Recording
        Every column of it.

    Raises
    ------
    InvalidDocumentError
        Something in the file is wrong; each problem names its row and column.
    """
    table = _Table(started_at)
    rows = csv.reader(io.StringIO(text.removeprefix("\ufeff")), strict=True)
    try:
        for number, cells in enumerate(rows, start=1):
            table.take(number, cells)
    except csv.Error as error:
        table.wrong(rows.line_num, "", f"this is not CSV: {error}.")
    table.refuse_if_wrong()
    if table.started_at is None:
        raise InvalidDocumentError(
            [
                Problem(
                    "started_at", "a column of seconds needs the time at which they start, with its offset."
                )
            ]
        )
    document: dict[str, Any] = {
        "id": name,
        "mode": mode,
        "started_at": table.started_at,
        "minutes_running": minutes_running,
        "series": [],
    }
    # What no series may hold is found here, before the file's rows become lists without their row numbers.
    series = [one for column in table.columns if (one := _series(table, column)) is not None]
    table.refuse_if_wrong()
    bare = parse(Recording, json.dumps(document | {"marks": table.marks}))
    return Recording.model_validate({**bare.__dict__, "series": series})


@dataclass(slots=True)
class _Column:
    title: str
    station: str
    quantity: str
    unit: str
    rows: list[int] = field(default_factory=list)
    seconds: list[float] = field(default_factory=list)
    values: list[float] = field(default_factory=list)


@dataclass(slots=True)
class _Table:
    """The file as it is read, row by row."""

    started_at: str | None
    columns: list[_Column] = field(default_factory=list)
    marks: list[dict[str, Any]] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    clock: str = ""
    start: datetime | None = None
    last: float | None = None
    has_marks: bool = False
    rows: int = 0

    def wrong(self, row: int, column: str, message: str) -> None:
        place = f"row {row}" + (f", column {column!r}" if column else "")
        self.problems.append(Problem(place, message))
        if len(self.problems) >= _MOST_PROBLEMS:
            self.refuse_if_wrong()

    def refuse_if_wrong(self) -> None:
        if not self.clock and not self.problems:
            self.problems.append(
                Problem("row 1", "the file is empty; its first row names the columns: seconds or time first.")
            )
        if self.problems:
            raise InvalidDocumentError(self.problems)

    def take(self, number: int, cells: list[str]) -> None:
        if not any(cell.strip() for cell in cells):
            return
        if not self.clock:
            self._heads(number, [cell.strip() for cell in cells])
            return
        if len(cells) != 1 + len(self.columns) + self.has_marks:
            self.wrong(
                number,
                "",
                f"{len(cells)} cells, and the first row has {1 + len(self.columns) + self.has_marks}.",
            )
            return
        self.rows += 1
        if self.rows > MOST_SAMPLES:
            self.wrong(number, "", f"more than {MOST_SAMPLES:,} rows; thin the recording out.")
            self.refuse_if_wrong()
        seconds = self._seconds(number, cells[0].strip())
        if seconds is None:
            return
        for column, cell in zip(self.columns, cells[1:], strict=False):
            if cell.strip():
                self._sample(number, column, seconds, cell.strip())
        if self.has_marks:
            for one in _marks(cells[-1]):
                if one["code"] not in get_args(MarkCode):
                    self.wrong(number, "mark", f"there is no mark {one['code']!r}.")
                self.marks.append({"seconds": seconds, **one})

    def _heads(self, number: int, heads: list[str]) -> None:
        self.clock = heads[0].lower()
        if self.clock not in ("seconds", "time"):
            separator = " Separate columns with commas." if ";" in heads[0] or "\t" in heads[0] else ""
            self.wrong(
                number, heads[0], f"the first column is 'seconds' or 'time', not {heads[0]!r}.{separator}"
            )
            self.refuse_if_wrong()
        names = heads[1:]
        if names and names[-1].lower() == "mark":
            self.has_marks, names = True, names[:-1]
        seen = set[tuple[str, str]]()
        for head in names:
            match = _HEADING.match(head)
            if match is None:
                self.wrong(
                    number,
                    head,
                    "a column is headed 'station quantity [unit]', as in outdoor_coil temperature [degF].",
                )
                continue
            station, quantity, unit = match.groups()
            if (station, quantity) in seen:
                self.wrong(number, head, f"{station} {quantity} is there twice.")
            seen.add((station, quantity))
            self.columns.append(_Column(head, station, quantity, unit))
        self.refuse_if_wrong()

    def _seconds(self, number: int, cell: str) -> float | None:
        seconds = self._since_start(number, cell)
        if seconds is None:
            return None
        if self.last is not None and seconds <= self.last:
            self.wrong(
                number,
                self.clock,
                f"time runs backwards or stands still: {cell}, {self.last - seconds:g} s before the row above it. "
                "Was a clock set back?",
            )
            return None
        self.last = seconds
        return seconds

    def _since_start(self, number: int, cell: str) -> float | None:
        if self.clock == "seconds":
            value = _number(cell)
            if value is None or value < 0:
                self.wrong(number, self.clock, f"{cell!r} is no number of seconds.")
            return None if value is None or value < 0 else value
        try:
            at = datetime.fromisoformat(cell)
        except ValueError:
            self.wrong(number, self.clock, f"{cell!r} is no ISO 8601 time.")
            return None
        if at.tzinfo is None:
            self.wrong(number, self.clock, f"{cell!r} needs its offset, as in 2026-03-04T09:30:00-05:00.")
            return None
        if self.start is None:
            self.start = at
            if self.started_at is None:
                self.started_at = at.isoformat()
            else:
                self._given_start(number)
        seconds = (at - self.start).total_seconds()
        if seconds < 0:
            self.wrong(number, self.clock, f"{cell} is before the recording starts.")
            return None
        return seconds

    def _given_start(self, number: int) -> None:
        try:
            given = datetime.fromisoformat(str(self.started_at))
        except ValueError:
            return  # The document says so itself.
        if given.tzinfo is not None:
            self.start = given

    def _sample(self, number: int, column: _Column, seconds: float, cell: str) -> None:
        value = _number(cell)
        if value is None:
            self.wrong(number, column.title, f"{cell!r} is no finite number; leave a missing sample empty.")
            return
        column.rows.append(number)
        column.seconds.append(seconds)
        column.values.append(value)


def _number(cell: str) -> float | None:
    try:
        value = float(cell)
    except ValueError:
        return None
    return value if abs(value) < float("inf") and value == value else None


def _marks(cell: str) -> Iterator[dict[str, Any]]:
    for word in re.split(r"[\s;]+", cell.strip()):
        if word:
            code, given, value = word.partition("=")
            yield {
                "code": code,
                **({"value": {"false": False, "true": True}.get(value, value)} if given else {}),
            }


def _series(table: _Table, column: _Column) -> Series | None:
    """A column as a series; what it may not hold is said by the row it stands in."""
    bare = {"station": column.station, "quantity": column.quantity, "unit": column.unit}
    try:
        return parse(Series, json.dumps({**bare, "seconds": column.seconds, "values": column.values}))
    except InvalidDocumentError as error:
        for problem in error.problems:
            part, _, index = problem.pointer.removeprefix("/").partition("/")
            row = column.rows[int(index)] if index.isdigit() and part in ("values", "seconds") else 1
            table.wrong(row, column.title, problem.message)
        return None

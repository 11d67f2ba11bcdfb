"""A file of rows, read once: its clock, a column of numbers each, and what in it is no number, by row and column."""

from __future__ import annotations

import csv
import io
import math
import re
from array import array
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from itertools import islice
from typing import Any, Literal

from icepick.core.document.recording import MOST_MARKS, MOST_SERIES
from icepick.core.recorded_file.layout import Layout, NotRowsError, layout_of, text_of

MOST_ROWS = 2_000_000
LONGEST_HEADING = 200
MOST_NAMED = 20
"""Refusals that are named one by one."""
_AT_ONCE = 2000
_NUMBER = re.compile(r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]+)?", re.ASCII)
_PLAIN = re.compile(r"[-+0-9.eE]*", re.ASCII)
EMPTY = math.nan

Step = Callable[[int, int], None]
"""Told how many letters are read, and of how many; what it raises ends the reading."""


@dataclass(frozen=True, slots=True)
class Refusal:
    """What can't be used, by its row (the first is 1) and the heading of its column; without a column, the whole row."""

    row: int
    column: str
    message: str

    def __str__(self) -> str:
        return f"row {self.row}" + (f", column {self.column!r}" if self.column else "")


@dataclass(slots=True)
class Refusals:
    """How many there are of them, and the first ones."""

    count: int = 0
    named: list[Refusal] = field(default_factory=list)

    def add(self, row: int, column: str, why: Callable[..., str], *of: Any) -> None:
        """Count one, and name it, saying why, if it is one of the first."""
        self.count += 1
        if len(self.named) < MOST_NAMED:
            self.named.append(Refusal(row, column, why(*of)))


@dataclass(slots=True)
class Column:
    """A column of numbers, one a row that is used; NaN where the cell is empty or refused."""

    heading: str
    values: array[float] = field(default_factory=lambda: array("d"))
    examples: list[str] = field(default_factory=list)
    refused: Refusals = field(default_factory=Refusals)
    """Cells of it that are no numbers."""


@dataclass(slots=True)
class Table:
    """What a file holds. The clock's column is the first: numbers as they are written, or times, as seconds since ``first``,
    which has an offset only if the file writes one."""

    layout: Layout
    clock_heading: str = ""
    clock: Literal["numbers", "times"] | None = None
    first: datetime | None = None
    moments: array[float] = field(default_factory=lambda: array("d"))
    rows: array[int] = field(default_factory=lambda: array("l"))
    columns: list[Column] = field(default_factory=list)
    marks: list[tuple[int, str]] = field(default_factory=list)
    """Of which of the moments, and what the cell says."""
    has_marks: bool = False
    refused: Refusals = field(default_factory=Refusals)
    """Whole rows."""


def read_table(content: bytes | str, step: Step = lambda done, of: None) -> Table:
    """Read a file of rows.

    Parameters
    ----------
    content : bytes or str
        The file: RFC 4180, or separated by semicolons or tabs. Its first row holds the headings, its first column the clock.
    step : callable
        Told now and then how far it is.

    Returns
    -------
    Table
        With every row whose clock can be read and runs on.

    Raises
    ------
    NotRowsError
        It is no file of rows; nothing of it is read.
    """
    text = text_of(content) if isinstance(content, bytes) else content.removeprefix("\ufeff")
    table = Table(layout_of(text))
    source = io.StringIO(text, newline="")
    reading = _Reading(table)
    rows = reading.rows_of(csv.reader(source, strict=True, delimiter=table.layout.separator))
    while taken := list(islice(rows, _AT_ONCE)):
        reading.take(taken)
        step(source.tell(), len(text))
    if not table.clock_heading:
        raise NotRowsError("the file is empty; its first row names the columns: seconds or time first.")
    return table


class _Reading:
    def __init__(self, table: Table) -> None:
        self._table = table
        self._decimal = table.layout.decimal
        self._last: float | None = None

    def rows_of(self, reader: Iterator[list[str]]) -> Iterator[tuple[int, list[str]]]:
        """The rows with their numbers, as far as they are any."""
        number = 0
        try:
            for number, cells in enumerate(reader, start=1):
                yield number, cells
        except csv.Error as error:
            if not self._table.clock_heading and number == 0:
                raise NotRowsError(f"this is not CSV: {error}.") from None
            self._table.refused.add(
                number + 1, "", "this is not CSV: {}; nothing behind it was read.".format, error
            )

    def take(self, rows: list[tuple[int, list[str]]]) -> None:
        table, good = self._table, list[list[str]]()
        for number, cells in rows:
            if not any(map(str.strip, cells)):
                continue
            if not table.clock_heading:
                self._heads([cell.strip() for cell in cells])
            elif self._use(number, cells):
                good.append(cells)
        if not good:
            return
        if len(table.rows) > MOST_ROWS:
            raise NotRowsError(f"it has more than {MOST_ROWS:,} rows; bring it in as several files.")
        numbers = table.rows[-len(good) :]
        by_column = list(zip(*good, strict=True))
        for column, written in zip(table.columns, by_column[1:], strict=False):
            column.values.extend(self._numbers(column, numbers, written))
        if table.has_marks:
            at = len(table.rows) - len(good)
            table.marks += [
                (at + place, cell.strip()) for place, cell in enumerate(by_column[-1]) if cell.strip()
            ]
            if len(table.marks) > MOST_MARKS:
                raise NotRowsError(f"it has more than {MOST_MARKS:,} marks.")

    def _heads(self, heads: list[str]) -> None:
        table = self._table
        if not heads[0]:
            raise NotRowsError("the first column has no heading; it is the clock: seconds or time.")
        table.clock_heading, names = heads[0], heads[1:]
        while names and not names[-1]:
            names.pop()  # a separator at the end of each row
        if names and names[-1].lower() == "mark":
            table.has_marks, names = True, names[:-1]
        if max(map(len, heads)) > LONGEST_HEADING:
            raise NotRowsError(
                f"a heading of it has more than {LONGEST_HEADING} letters; is its first row one?"
            )
        if len(names) > MOST_SERIES:
            raise NotRowsError(
                f"it has {len(names):,} columns beside its clock; a recording takes {MOST_SERIES}."
            )
        table.columns = [Column(name) for name in names]

    def _use(self, number: int, cells: list[str]) -> bool:
        table = self._table
        wanted = 1 + len(table.columns) + table.has_marks
        while len(cells) > wanted and not cells[-1].strip():
            cells.pop()
        if len(cells) != wanted:
            table.refused.add(number, "", "{} cells, and the first row has {}.".format, len(cells), wanted)
            return False
        try:
            moment = self._moment(cells[0].strip())
        except ValueError as error:
            table.refused.add(number, table.clock_heading, str, error)
            return False
        self._last = moment
        table.moments.append(moment)
        table.rows.append(number)
        return True

    def _moment(self, cell: str) -> float:
        table = self._table
        number = self._number(cell)
        if table.clock is None:
            if number is None:
                _time(cell)  # refused here, it settles nothing
            table.clock = "times" if number is None else "numbers"
        if table.clock == "numbers":
            if number is None or number < 0:
                raise ValueError(f"{cell[:40]!r} is no number, and the clock counts.")
            moment = number
        else:
            moment = self._since_first(cell)
        if self._last is not None and moment <= self._last:
            back = f"{self._last - moment:g}{' s' if table.clock == 'times' else ''}"
            raise ValueError(
                f"time runs backwards or stands still: {cell[:40]}, {back} before the row above it. "
                "Was a clock set back?"
            )
        return moment

    def _since_first(self, cell: str) -> float:
        at, table = _time(cell), self._table
        if table.first is None:
            table.first = at
        if (at.tzinfo is None) != (table.first.tzinfo is None):
            has = (
                "no offset, and the rows above have"
                if at.tzinfo is None
                else "an offset, and the rows above have none"
            )
            raise ValueError(f"{cell[:40]!r} has {has}.")
        return (at - table.first) / timedelta(seconds=1)

    def _number(self, cell: str) -> float | None:
        if self._decimal == ",":
            if "." in cell:
                return None
            cell = cell.replace(",", ".")
        if not _NUMBER.fullmatch(cell):
            return None
        value = float(cell)
        return value if math.isfinite(value) else None

    def _plain_numbers(self, cells: tuple[str, ...]) -> list[float] | None:
        """The same at a stroke where all of them are numbers as they mostly are: a tenth of the time."""
        if self._decimal == "," or not _PLAIN.fullmatch("".join(cells)):
            return None
        try:
            values = (
                [float(cell) if cell else EMPTY for cell in cells] if "" in cells else list(map(float, cells))
            )
        except ValueError:
            return None
        return None if math.inf in values or -math.inf in values else values

    def _numbers(self, column: Column, rows: array[int], cells: tuple[str, ...]) -> list[float]:
        if len(column.examples) < 3:
            different = dict.fromkeys([*column.examples, *filter(None, map(str.strip, cells))])
            column.examples = list(islice(different, 3))
        plain = self._plain_numbers(cells)
        if plain is not None:
            return plain
        numbers = []
        for row, cell in zip(rows, cells, strict=True):
            bare = cell.strip()
            value = self._number(bare) if bare else EMPTY
            if value is None:
                column.refused.add(row, column.heading, _no_number, bare)
            numbers.append(EMPTY if value is None else value)
        return numbers


def _no_number(cell: str) -> str:
    return f"{cell[:40]!r} is not a number; leave a missing sample empty."


def _time(cell: str) -> datetime:
    try:
        return datetime.fromisoformat(cell)
    except ValueError:
        raise ValueError(
            f"{cell[:40]!r} is no number, and no ISO 8601 time as in 2026-03-04T09:30:00-05:00."
        ) from None

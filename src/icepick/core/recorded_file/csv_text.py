"""A recording as CSV (RFC 4180): a first column ``seconds`` or ``time``, one column a series, ``mark`` last.

An empty cell is no sample. Nothing is taken of a file in which anything is wrong: each refusal names row and column.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from datetime import datetime

from icepick.core.document.base import InvalidDocumentError, Problem
from icepick.core.document.recording import Mark, Recording
from icepick.core.recorded_file.layout import NotRowsError
from icepick.core.recorded_file.making import every_of, make, refused, told
from icepick.core.recorded_file.meanings import Meanings, place_of, wanting
from icepick.core.recorded_file.table import Refusal, Table, read_table


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
    content: bytes | str,
    *,
    name: str,
    mode: str,
    started_at: str | None = None,
    minutes_running: float | None = None,
) -> Recording:
    """Read a recording from CSV whose headings say everything.

    Parameters
    ----------
    content : bytes or str
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
        Every column of it; thinned out where it holds more than a recording does.

    Raises
    ------
    InvalidDocumentError
        Something in the file is wrong; each problem names its row and column.
    """
    try:
        table = read_table(content)
    except NotRowsError as error:
        raise InvalidDocumentError([Problem("row 1", str(error))]) from None
    places = {at: place for at, one in enumerate(table.columns) if (place := place_of(one.heading))}
    said = Meanings(dict(places), "s", _start(started_at))
    problems = [*_odd_headings(table), *_wanting(table, said)]
    problems += [Problem(str(one), one.message) for one in refused(table, said).named]
    if problems:
        raise InvalidDocumentError(problems)
    notes = told(table, said, "") if every_of(table, said) > 1 else None
    return make(table, said, id=name, mode=mode, minutes_running=minutes_running, notes=notes)


def _start(started_at: str | None) -> datetime | None:
    if started_at is None:
        return None
    try:
        start = datetime.fromisoformat(started_at)
    except ValueError:
        raise InvalidDocumentError([Problem("started_at", f"{started_at!r} is no ISO 8601 time.")]) from None
    if start.tzinfo is None:
        raise InvalidDocumentError(
            [Problem("started_at", "a time needs its offset, as in 2026-03-04T09:30:00+01:00.")]
        )
    return start


def _odd_headings(table: Table) -> Iterator[Problem]:
    clock = table.clock_heading
    if table.layout.separator != ",":
        yield Problem(str(Refusal(1, clock, "")), "columns are separated with commas here.")
    elif clock.lower() not in ("seconds", "time"):
        yield Problem(str(Refusal(1, clock, "")), f"the first column is 'seconds' or 'time', not {clock!r}.")
    elif table.clock is not None and (clock.lower() == "seconds") != (table.clock == "numbers"):
        kind = "no numbers of seconds" if table.clock == "times" else "no ISO 8601 times"
        yield Problem(_clock_at(table), f"these are {kind}.")
    for column in table.columns:
        if place_of(column.heading) is None:
            yield Problem(
                str(Refusal(1, column.heading, "")),
                "a column is headed 'station quantity [unit]', as in outdoor_coil temperature [degF].",
            )


def _wanting(table: Table, said: Meanings) -> Iterator[Problem]:
    for where, message in wanting(table, said):
        if where == "clock" and table.clock == "numbers":
            yield Problem(
                "started_at", "a column of seconds needs the time at which they start, with its offset."
            )
        elif where == "clock":
            yield Problem(_clock_at(table), "a time needs its offset, as in 2026-03-04T09:30:00-05:00.")
        elif where:
            yield Problem(str(Refusal(1, where, "")), message)


def _clock_at(table: Table) -> str:
    """Its first row that can be used."""
    return str(Refusal(table.rows[0] if table.rows else 2, table.clock_heading, ""))

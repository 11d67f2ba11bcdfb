"""A recording made of a file, once its columns have a meaning."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError
from pydantic_core import PydanticCustomError

from icepick.core.document.base import explain
from icepick.core.document.codes import MarkCode
from icepick.core.document.recording import (
    LONGEST,
    MOST_IN_ALL,
    MOST_SAMPLES,
    Recording,
    allowed,
    outside,
    refuse_outside,
)
from icepick.core.recorded_file.meanings import CLOCK_UNITS, Meanings, Place
from icepick.core.recorded_file.table import MOST_NAMED, Refusal, Refusals, Table

Numbers = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Refused:
    """What of a file can't be used: so many whole rows, so many cells, and the first of both in the order of the rows."""

    rows: int
    cells: int
    named: list[Refusal]


def refused(table: Table, said: Meanings) -> Refused:
    """What of a file can't be used, if this is what it means. A column that is left out is not looked at.

    Parameters
    ----------
    table : Table
        The file.
    said : Meanings
        What is known of it by now.
    """
    rows, cells = [table.refused, _outside_recording(table, said)], [_unknown_marks(table)]
    for at, column in enumerate(table.columns):
        if at in said.places and said.places[at] is None:
            continue
        cells.append(column.refused)
        if (place := said.places.get(at)) is not None and not place.refusal:
            cells.append(_outside_world(table, at, place))
    named = [one for some in (*rows, *cells) for one in some.named]
    named.sort(key=lambda one: one.row)
    return Refused(sum(one.count for one in rows), sum(one.count for one in cells), named[:MOST_NAMED])


def make(table: Table, said: Meanings, **of_it: Any) -> Recording:
    """A recording of what can be used of a file.

    Parameters
    ----------
    table : Table
        The file.
    said : Meanings
        Of all its columns, and of its clock, so that nothing is wanting.
    of_it : Any
        ``id``, ``mode``, ``minutes_running``, ``notes`` of the recording.

    Returns
    -------
    Recording
        Thinned out where the file holds more than a recording does.

    Raises
    ------
    InvalidDocumentError
        What is given with it is wrong.
    """
    moments = seconds_of(table, said)
    taken = _taken(table, said)
    every = _every(taken)
    made = {
        **of_it,
        "started_at": _started_at(table, said),
        "series": [
            {
                "station": one.place.station,
                "quantity": one.place.quantity,
                "unit": one.place.unit,
                "seconds": moments[one.rows[::every]].tolist(),
                "values": one.values[one.rows[::every]].tolist(),
            }
            for one in taken
        ],
        "marks": [
            mark | {"seconds": float(moments[at])}
            for at, cell in table.marks
            if 0 <= moments[at] <= LONGEST
            for mark in marks_of(cell)
            if mark["code"] in get_args(MarkCode)
        ],
    }
    try:
        return Recording.model_validate(made)
    except ValidationError as error:
        raise explain(error) from None


def told(table: Table, said: Meanings, name: str) -> str:
    """What a recording says of the file it was made of, so that it can be known afterwards."""
    bad, every = refused(table, said), every_of(table, said)
    left_out = [
        f"{count:,} {what if count == 1 else what + 's'}"
        for count, what in ((bad.rows, "row"), (bad.cells, "cell"))
        if count
    ]
    words = [
        f"From the file {name}, {len(table.rows):,} rows."
        if name
        else f"From a file, {len(table.rows):,} rows."
    ]
    words += [f"Left out, for they could not be used: {' and '.join(left_out)}."] if left_out else []
    words += [f"Of {every} samples of a column one is kept."] if every > 1 else []
    return " ".join(words)


def every_of(table: Table, said: Meanings) -> int:
    """Of how many samples of a file a recording keeps one."""
    return _every(_taken(table, said))


@dataclass(frozen=True, slots=True)
class _Taken:
    """A column's place and values, and the rows in which it has one that can be used."""

    place: Place
    values: Numbers
    rows: NDArray[np.intp]


def _taken(table: Table, said: Meanings) -> list[_Taken]:
    within = _within(seconds_of(table, said))
    found = []
    for at, place in said.places.items():
        if place is not None and not place.refusal:
            values = np.array(table.columns[at].values)
            values[outside(values, place.unit, allowed(place.station, place.quantity))] = np.nan
            found.append(_Taken(place, values, np.flatnonzero(within & ~np.isnan(values))))
    return found


def seconds_of(table: Table, said: Meanings) -> Numbers:
    """The moments of its rows [s] since the recording starts, shape (rows,)."""
    moments = np.array(table.moments)
    if table.clock == "numbers":
        return moments * CLOCK_UNITS[said.clock_unit or "s"]
    if table.first is None or said.started_at is None:
        return moments
    first = table.first if table.first.tzinfo else table.first.replace(tzinfo=said.offset)
    return moments + (first - said.started_at) / timedelta(seconds=1)


def _started_at(table: Table, said: Meanings) -> datetime | None:
    if said.started_at is not None or table.first is None:
        return said.started_at
    return table.first if table.first.tzinfo else table.first.replace(tzinfo=said.offset)


def _within(moments: Numbers) -> NDArray[np.bool_]:
    return (moments >= 0) & (moments <= LONGEST)


def _every(taken: list[_Taken]) -> int:
    counts = [len(one.rows) for one in taken]
    every = max(1, -(-max(counts, default=0) // MOST_SAMPLES))
    while sum(-(-count // every) for count in counts) > MOST_IN_ALL:
        every += 1
    return every


def _outside_world(table: Table, at: int, place: Place) -> Refusals:
    found, column = Refusals(), table.columns[at]
    known = allowed(place.station, place.quantity)

    def why(value: float) -> str:
        try:
            refuse_outside(value, place.unit, known)
        except PydanticCustomError as error:
            return str(error)

    for odd in outside(np.array(column.values), place.unit, known):
        found.add(table.rows[odd], column.heading, why, column.values[odd])
    return found


def _outside_recording(table: Table, said: Meanings) -> Refusals:
    found, moments = Refusals(), seconds_of(table, said)
    for odd in np.flatnonzero(~_within(moments)):
        why = "before the recording starts" if moments[odd] < 0 else "outside a recording of 30 days"
        found.add(table.rows[odd], table.clock_heading, "{:g} s is {}.".format, moments[odd], why)
    return found


def _unknown_marks(table: Table) -> Refusals:
    found = Refusals()
    for at, cell in table.marks:
        for mark in marks_of(cell):
            if mark["code"] not in get_args(MarkCode):
                found.add(table.rows[at], "mark", "there is no mark “{}”.".format, mark["code"][:40])
    return found


def marks_of(cell: str) -> Iterator[dict[str, Any]]:
    """The marks that a cell names, as ``code`` or ``code=value``."""
    for word in re.split(r"[\s;]+", cell.strip()):
        if word:
            code, given, value = word.partition("=")
            yield {
                "code": code,
                **({"value": {"false": False, "true": True}.get(value, value)} if given else {}),
            }

"""What the recorder writes: samples of a recording that grows, second by second, and its ending. Appended, never overwritten.

Each second is a line of its own, on disk before anybody hears of it; a minute of them is then packed into one, and half an
hour of those. A line holds whole thousandths of its series' units as differences from one moment to the next, which
deflate well.
"""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.recording import MOST_IN_ALL, MOST_SAMPLES, Series
from icepick.store.database import now

Array = NDArray[np.float64]
End = Literal["stopped", "cut_off"]

_PACKS = ((1.0, 60), (120.0, 30))
"""Lines shorter than this [s] become one where there are so many: seconds a minute, minutes half an hour."""
_FINEST = 1000
"""Steps in one second, and in one of a series' unit."""
_NOTHING = np.iinfo(np.int32).min


@dataclass(frozen=True, slots=True)
class SeriesHead:
    """What a series is of."""

    station: str
    quantity: str
    unit: str
    method: str | None


@dataclass(frozen=True, slots=True, eq=False)
class Window:
    """Part of a recording: seconds, and for each of ``series`` a row of values; NaN where there is no sample."""

    series: tuple[SeriesHead, ...]
    seconds: Array
    values: Array


def add_series(connection: sqlite3.Connection, row: int, head: SeriesHead) -> int:
    """Begin a series of a recording, or find the one there is of its station and quantity.

    Parameters
    ----------
    connection : sqlite3.Connection
        In a transaction.
    row : int
        Number of the recording's row.
    head : SeriesHead
        What it is of.

    Returns
    -------
    int
        Its place among the recording's series, from 0.
    """
    connection.execute(
        """INSERT OR IGNORE INTO recorded_series (recording_id, station, quantity, unit, method)
           VALUES (?, ?, ?, ?, ?)""",
        (row, head.station, head.quantity, head.unit, head.method),
    )
    names = [(one.station, one.quantity) for one in heads(connection, row)]
    return names.index((head.station, head.quantity))


def heads(connection: sqlite3.Connection, row: int) -> tuple[SeriesHead, ...]:
    """What the series of a recording are of, in the order they came."""
    found = connection.execute(
        "SELECT station, quantity, unit, method FROM recorded_series WHERE recording_id = ? ORDER BY id",
        (row,),
    )
    return tuple(SeriesHead(*one) for one in found)


def append(connection: sqlite3.Connection, row: int, seconds: Sequence[float], values: Array) -> None:
    """Write samples down, and pack those of the last minute once there are enough.

    Parameters
    ----------
    connection : sqlite3.Connection
        In a transaction.
    row : int
        Number of the recording's row.
    seconds : sequence of float
        After all that are there.
    values : ndarray
        A row for each series so far, in their order, in their units; NaN where there is no sample.
    """
    for at, moment in enumerate(seconds):
        _write(connection, row, np.array([moment]), values[:, at : at + 1])
    for shorter, count in _PACKS:
        lines = connection.execute(
            "SELECT first, series, packed FROM samples WHERE recording_id = ? AND last - first < ? ORDER BY first",
            (row, shorter),
        ).fetchall()
        if len(lines) < count:
            return
        together = _together([(one["series"], one["packed"]) for one in lines])
        connection.execute("DELETE FROM samples WHERE recording_id = ? AND last - first < ?", (row, shorter))
        _write(connection, row, *together)


def _write(connection: sqlite3.Connection, row: int, seconds: Array, values: Array) -> None:
    connection.execute(
        "INSERT INTO samples (recording_id, first, last, series, packed) VALUES (?, ?, ?, ?, ?)",
        (row, float(seconds[0]), float(seconds[-1]), len(values), _packed(seconds, values)),
    )


def _packed(seconds: Array, values: Array) -> bytes:
    steps = np.where(np.isfinite(values), np.rint(np.nan_to_num(values) * _FINEST), _NOTHING)
    every = np.concatenate([np.rint(seconds * _FINEST)[None, :], steps]).astype(np.int32)
    # Differences wrap round as whole numbers do, and back.
    return zlib.compress(np.diff(every, axis=1, prepend=np.int32(0)).astype("<i4").T.tobytes(), 6)


def _unpacked(series: int, packed: bytes) -> tuple[Array, Array]:
    steps = np.frombuffer(zlib.decompress(packed), dtype="<i4").reshape(-1, series + 1).T
    every = np.cumsum(steps, axis=1, dtype=np.int32)
    values = np.where(every[1:] == _NOTHING, np.nan, every[1:] / _FINEST)
    return every[0] / _FINEST, values


def _together(lines: Sequence[tuple[int, bytes]], series: int = 0) -> tuple[Array, Array]:
    """Lines one behind the other, of so many series at least; one that came later has no samples before."""
    parts = [_unpacked(*one) for one in lines]
    if not parts:
        return np.zeros(0), np.zeros((series, 0))
    most = max(series, *(values.shape[0] for _, values in parts))
    filled = [np.pad(v, ((0, most - v.shape[0]), (0, 0)), constant_values=np.nan) for _, v in parts]
    return np.concatenate([seconds for seconds, _ in parts]), np.concatenate(filled, axis=1)


def window(
    connection: sqlite3.Connection,
    row: int,
    begin: float = 0.0,
    end: float = float("inf"),
    most: int | None = None,
) -> Window:
    """Part of a recording.

    Parameters
    ----------
    connection : sqlite3.Connection
        To the records.
    row : int
        Number of the recording's row.
    begin, end : float
        Seconds, both included.
    most : int, optional
        Moments at most: means of as many neighbors as it takes.

    Returns
    -------
    Window
        Empty where nothing was recorded then.
    """
    lines = connection.execute(
        "SELECT series, packed FROM samples WHERE recording_id = ? AND last >= ? AND first <= ? ORDER BY first",
        (row, begin, min(end, 1e12)),
    ).fetchall()
    series = heads(connection, row)
    seconds, values = _together([(one["series"], one["packed"]) for one in lines], len(series))
    inside = (seconds >= begin) & (seconds <= end)
    seconds, values = seconds[inside], values[:, inside]
    if most is not None and seconds.size > most:
        seconds, values = thinned(seconds, values, -(-seconds.size // most))
    return Window(series, seconds, values)


def thinned(seconds: Array, values: Array, every: int) -> tuple[Array, Array]:
    """Means of so many neighbors: of their seconds, and of those values that are there.

    Parameters
    ----------
    seconds, values : ndarray
        Moments, and a row of values for each series.
    every : int
        How many become one.

    Returns
    -------
    tuple of ndarray
        Seconds and values; the last of each may be of fewer.
    """
    short = -seconds.size % every
    stretched = np.pad(seconds, (0, short), constant_values=np.nan).reshape(-1, every)
    wide = np.pad(values, ((0, 0), (0, short)), constant_values=np.nan).reshape(len(values), -1, every)
    there = np.isfinite(wide)
    count = there.sum(axis=2)
    with np.errstate(invalid="ignore", divide="ignore"):
        means = np.where(there, wide, 0.0).sum(axis=2) / np.where(count > 0, count, np.nan)
    return np.nanmean(stretched, axis=1), means


def whole_series(heads_: tuple[SeriesHead, ...], lines: tuple[tuple[int, bytes], ...]) -> list[Series]:
    """The series of a recording as its document has them: as fine as the document takes.

    Parameters
    ----------
    heads_ : tuple of SeriesHead
        What they are of.
    lines : tuple
        For each line how many series it holds, and its packed numbers.

    Returns
    -------
    list of Series
        Those that have a sample.
    """
    return list(_whole_series(heads_, lines))


@lru_cache(maxsize=16)
def _whole_series(heads_: tuple[SeriesHead, ...], lines: tuple[tuple[int, bytes], ...]) -> tuple[Series, ...]:
    seconds, values = _together(lines)
    there = int(np.isfinite(values).sum())
    every = max(-(-there // MOST_IN_ALL), -(-seconds.size // MOST_SAMPLES), 1)
    if every > 1:
        seconds, values = thinned(seconds, values, every)
    found = []
    for head, row in zip(heads_, values, strict=False):
        has = np.isfinite(row)
        if has.any():
            found.append(
                Series.model_validate(
                    {
                        "station": head.station,
                        "quantity": head.quantity,
                        "unit": head.unit,
                        "method": head.method,
                        "seconds": np.round(seconds[has], 3).tolist(),
                        "values": np.round(row[has], 3).tolist(),
                    }
                )
            )
    return tuple(found)


def lines_of(connection: sqlite3.Connection, row: int) -> tuple[tuple[int, bytes], ...]:
    """All lines of a recording, for :func:`whole_series`."""
    found = connection.execute(
        "SELECT series, packed FROM samples WHERE recording_id = ? ORDER BY first", (row,)
    )
    return tuple((one["series"], one["packed"]) for one in found)


@dataclass(frozen=True, slots=True)
class Size:
    """How much of a recording is on disk: the last second written, moments, and bytes."""

    last: float | None
    moments: int
    bytes: int


def size(connection: sqlite3.Connection, row: int) -> Size:
    """How much of a recording is on disk. Moments are as many as seconds, a packed line holding all between its ends."""
    found = connection.execute(
        "SELECT max(last), sum(last - first + 1), sum(length(packed)) FROM samples WHERE recording_id = ?",
        (row,),
    ).fetchone()
    return Size(found[0], int(found[1] or 0), int(found[2] or 0))


def end(connection: sqlite3.Connection, row: int, how: End) -> bool:
    """Write down that a recording has ended; whether it was new."""
    if connection.execute("SELECT 1 FROM recording_ends WHERE recording_id = ?", (row,)).fetchone():
        return False
    connection.execute(
        "INSERT INTO recording_ends (recording_id, ended_at, how) VALUES (?, ?, ?)", (row, now(), how)
    )
    return True


def cut_off_what_ran(connection: sqlite3.Connection) -> int:
    """End what still ran when the server stopped; how many there were."""
    found = connection.execute("SELECT id FROM growing_recordings").fetchall()
    for one in found:
        end(connection, one["id"], "cut_off")
    return len(found)

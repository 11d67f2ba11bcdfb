"""The series of a recording as arrays in SI, each on its own clock, and read off at any moment."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.readings import uncertainty
from icepick.core.document.recording import Recording, Series, allowed
from icepick.core.practice import Practice
from icepick.core.properties import sensors
from icepick.core.properties.quantities import Kind, to_si

Array = NDArray[np.float64]
Spot = tuple[str, str]

_LONGEST_STEP = 120.0
"""Samples farther apart than this [s], and than three of the series' own steps, leave a gap between them."""
_STEPS = 3.0
_HOLDS = 60.0
"""So long [s] a recording goes on after its last mark."""


@dataclass(frozen=True, eq=False)
class Track:
    """One series: seconds and values [SI]; ``band`` is the half-width around a value. A track that ``holds`` keeps a value
    until the next one: a state, written down when it changes."""

    spot: Spot
    seconds: Array
    values: Array
    band: float
    holds: bool = False

    @cached_property
    def step(self) -> float:
        """Seconds between samples, as a rule."""
        return float(np.median(np.diff(self.seconds))) if self.seconds.size > 1 else 0.0

    @cached_property
    def noise(self) -> float:
        """How far a sample lies from the line through its neighbors, as one standard deviation."""
        if self.values.size < 8:
            return self.band / 2
        bend = np.diff(self.values, 2)
        return max(float(np.median(np.abs(bend - np.median(bend)))) * 0.6, self.band / 20)

    def at(self, moments: Array) -> Array:
        """Values at some moments; NaN in gaps, before the first sample and after the last.

        Parameters
        ----------
        moments : array of float
            Seconds, rising.

        Returns
        -------
        array of float
            [SI], as many as moments.
        """
        if not self.seconds.size:
            return np.full(moments.shape, np.nan)
        after = np.searchsorted(self.seconds, moments, side="right")
        if self.holds:
            return np.where(after > 0, self.values[np.maximum(after - 1, 0)], np.nan)
        found = np.interp(moments, self.seconds, self.values)
        before = np.clip(after - 1, 0, None)
        following = np.clip(after, None, self.seconds.size - 1)
        gap = self.seconds[following] - self.seconds[before]
        slack = max(self.step, 1.0)
        outside = (moments < self.seconds[0] - slack) | (moments > self.seconds[-1] + slack)
        found[outside | (gap > max(_LONGEST_STEP, _STEPS * self.step))] = np.nan
        return found

    def between(self, start: float, end: float) -> tuple[Array, Array]:
        """The samples from ``start`` to ``end`` [s], both counted in: their seconds and values."""
        first = int(np.searchsorted(self.seconds, start, side="left"))
        last = int(np.searchsorted(self.seconds, end, side="right"))
        return self.seconds[first:last], self.values[first:last]

    def value(self, start: float, end: float) -> float | None:
        """The middle value from ``start`` to ``end`` [s]; None where nothing was recorded."""
        if self.holds:
            found = self.at(np.arange(start, max(end, start + 1.0), 1.0))
            found = found[~np.isnan(found)]
        else:
            found = self.between(start, end)[1]
        return float(np.median(found)) if found.size else None


@dataclass(frozen=True, eq=False)
class Tracks:
    """Every series of a recording, and what the marks add to them."""

    recording: Recording
    by_spot: Mapping[Spot, Track]
    start: float
    end: float
    marks: Mapping[str, list[float]] = field(default_factory=dict)

    def get(self, station: str, quantity: str = "temperature") -> Track | None:
        """A track, or None where it was not recorded."""
        return self.by_spot.get((station, quantity))

    def temperature(self, *stations: str) -> Track | None:
        """The first of these stations whose temperature was recorded."""
        return next((track for one in stations if (track := self.get(one)) is not None), None)

    @cached_property
    def grid(self) -> Array:
        """Moments over the whole recording, evenly spaced [s]: a few seconds apart, farther in one of days."""
        step = max(GRID_STEP, (self.end - self.start) / GRID_MOST)
        return np.arange(self.start, self.end + step, step)


GRID_STEP, GRID_MOST = 5.0, 20_000


def tracks_of(recording: Recording, practice: Practice, atmosphere: float) -> Tracks:
    """The tracks of a recording.

    Parameters
    ----------
    recording : Recording
        Of a visit document.
    practice : Practice
        Where the bands of instruments come from.
    atmosphere : float
        Local air pressure [Pa], which gauges are above.

    Returns
    -------
    Tracks
        Empty series left out.
    """
    found = [_track(series, practice, atmosphere) for series in recording.series if series.values]
    by_spot = {track.spot: track for track in found}
    marks: dict[str, list[float]] = {}
    for mark in sorted(recording.marks, key=lambda one: one.seconds):
        if mark.value is not False:
            marks.setdefault(mark.code, []).append(mark.seconds)
    for spot, on, off, usual in _MARKED:
        if spot not in by_spot and (on in marks or off in marks):
            by_spot[spot] = _marked(spot, marks.get(on, []), marks.get(off, []), usual)
    ends = [edge for track in by_spot.values() for edge in (track.seconds[0], track.seconds[-1])]
    # What a mark says holds for a while after it.
    ends += [moment + after for moments in marks.values() for moment in moments for after in (0.0, _HOLDS)]
    return Tracks(
        recording, by_spot, float(min(ends, default=0.0)), float(max(ends, default=0.0)), dict(marks)
    )


_MARKED: tuple[tuple[Spot, str, str, float], ...] = (
    (("outdoor_fan", "state"), "outdoor_fan_running", "outdoor_fan_stopped", 1.0),
    (("backup_heat", "state"), "backup_heat_on", "backup_heat_off", 0.0),
)
"""What marks tell of a thing that switches, where nothing else was recorded of it, and how it stands in heating."""


def _marked(spot: Spot, on: list[float], off: list[float], usual: float) -> Track:
    switched = dict(sorted([*((at, 1.0) for at in on), *((at, 0.0) for at in off)]))
    moments, values = list(switched), list(switched.values())
    moments, values = [-1.0, *moments], [usual, *values]
    return Track(spot, np.array(moments), np.array(values), 0.0, holds=True)


def _track(series: Series, practice: Practice, atmosphere: float) -> Track:
    known = allowed(series.station, series.quantity)
    spot = series.station, series.quantity
    seconds = np.array(series.seconds)
    if known.kind is Kind.STATE:
        return Track(spot, seconds, np.array(series.values), 0.0, holds=True)
    values = to_si(np.array(series.values), series.unit, known.kind, atmosphere)  # type: ignore[arg-type]
    above = values - atmosphere if known.kind is Kind.PRESSURE else values
    band = uncertainty(known.kind, series.method, float(np.median(np.abs(above))), practice)
    return Track(spot, seconds, np.asarray(values, dtype=np.float64), band)


def by_table(resistance: Track, rows: tuple[sensors.Row, ...]) -> tuple[Track, Array]:
    """What a sensor says through its table.

    Parameters
    ----------
    resistance : Track
        Of the sensor [ohm].
    rows : tuple of Row
        Temperature [K] and resistance [ohm].

    Returns
    -------
    (Track, array of bool)
        Its temperature [K], at the table's end where the resistance lies beyond it; and where it does: open or shorted.
    """
    known = np.array([row[1] for row in sorted(rows, key=lambda row: row[1])])
    temperatures = np.array([row[0] for row in sorted(rows, key=lambda row: row[1])])
    beyond = (resistance.values < known[0]) | (resistance.values > known[-1])
    found = np.interp(np.log(np.maximum(resistance.values, 1e-3)), np.log(known), temperatures)
    return Track((resistance.spot[0], "by its table"), resistance.seconds, found, _BAND_BY_TABLE), beyond


_BAND_BY_TABLE = 0.5
"""Of a sensor's temperature by its table [K]: a meter's hundredth of its resistance, and the table's own."""

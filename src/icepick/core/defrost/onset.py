"""When something began to swing, and when a thing was switched, to a few seconds."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.defrost.tracks import Array, Track

_BEFORE, _AFTER = 240.0, 150.0
"""How far around a coarse moment a swing's beginning is looked for [s]."""
_PRE = 75.0
"""How much of what was before gives the line it leaves [s]."""
_LEAST = 4.0
"""The least swing [K] that tells a moment; of a pressure, this many per cent."""
_NOISES = 8.0
_LOW, _HIGH, _HALF = 0.1, 0.3, 0.5


@dataclass(frozen=True, slots=True)
class Moment:
    """A moment and how well it is known [s]."""

    at: float
    within: float


def onset(track: Track, way: float, near: float, earliest: float) -> Moment | None:
    """When a track began to rise (``way`` +1) or fall (−1), near a moment known by some minutes only.

    A line is laid through what was before; where the track has left it by a tenth and by three tenths of its swing, the
    two are carried back to nothing. For anything that follows with a lag, that is where the swing began, to a fraction of
    the lag.

    Parameters
    ----------
    track : Track
        A temperature or pressure.
    way : float
        +1 or −1.
    near : float
        About when [s].
    earliest : float
        Before this it can't have begun [s].

    Returns
    -------
    Moment or None
        None where the track does not swing enough to tell.
    """
    seconds, values = track.between(max(near - _BEFORE - _PRE, earliest - _PRE), near + _AFTER)
    if seconds.size < 4:
        return None
    values = way * values
    inside = seconds >= max(near - _BEFORE, earliest)
    if inside.sum() < 3:
        return None
    lowest = _turn(seconds, values, inside)
    begun = lowest
    for _ in range(4):
        line = _line(seconds, values, begun, track.step)
        departure = values - line(seconds)
        found = _crossings(seconds, departure, begun, lowest)
        if found is None:
            return None
        low, high, swing = found
        if swing < max(_least(track), _NOISES * track.noise):
            return None
        earlier = begun
        begun = low - 0.5 * (high - low)
        if high - low < track.step:
            begun = _between(seconds, departure, swing, low)
        begun = max(begun, float(seconds[0]))
        if abs(begun - earlier) < 1.0:
            break
    return Moment(begun, max(2.0, 0.5 * track.step, 0.25 * (high - low)))


def _least(track: Track) -> float:
    return _LEAST if track.spot[1] == "temperature" else float(np.median(track.values)) * _LEAST / 100


def _turn(seconds: Array, values: Array, inside: NDArray[np.bool_]) -> float:
    """Where the greatest rise starts: the lowest point before the highest that follows it."""
    places = np.flatnonzero(inside)
    held = values[places]
    rise = np.maximum.accumulate(held[::-1])[::-1] - held
    return float(seconds[places[int(np.argmax(rise))]])


def _between(seconds: Array, departure: Array, swing: float, low: float) -> float:
    """Where the swing began between two samples too far apart to show it: what follows with a lag is carried back from the
    two samples after."""
    after = int(np.searchsorted(seconds, low, side="right"))
    if after < 1 or after + 1 >= seconds.size:
        return low
    left = np.clip(1 - departure[after : after + 2] / swing, _LEFT_LEAST, 1 - _LEFT_LEAST)
    ratio = float(np.log(left[0] / left[1])) if left[0] > left[1] else 0.0
    if ratio <= 0:
        return low
    lag = float(seconds[after + 1] - seconds[after]) / ratio
    begun = float(seconds[after]) + lag * float(np.log(left[0]))
    return min(max(begun, float(seconds[after - 1])), float(seconds[after]))


_LEFT_LEAST = 0.03


class _Line:
    def __init__(self, slope: float, level: float, at: float) -> None:
        self.slope, self.level, self.at = slope, level, at

    def __call__(self, seconds: Array) -> Array:
        found: Array = self.level + self.slope * (seconds - self.at)
        return found


def _line(seconds: Array, values: Array, until: float, step: float) -> _Line:
    """Through what was just before; level where there is too little of it, or it was short against its noise."""
    before = (seconds <= until) & (seconds >= until - max(_PRE, 4 * step))
    if before.sum() < 4:
        first = np.flatnonzero(seconds >= until)[:1]
        level = float(np.median(values[before])) if before.any() else float(values[first][0])
        return _Line(0.0, level, until)
    slope, level = np.polyfit(seconds[before] - until, values[before], 1)
    return _Line(float(slope), float(level), until)


def _crossings(
    seconds: Array, departure: Array, begun: float, lowest: float
) -> tuple[float, float, float] | None:
    after = np.flatnonzero(seconds >= min(begun, lowest) - 30.0)
    if after.size < 2:
        return None
    swing = float(departure[after].max())
    if swing <= 0:
        return None
    half = after[int(np.argmax(departure[after] >= _HALF * swing))]
    low = _crossing(seconds, departure, _LOW * swing, int(half))
    high = _crossing(seconds, departure, _HIGH * swing, int(half))
    return low, max(high, low), swing


def _crossing(seconds: Array, departure: Array, level: float, before: int) -> float:
    """The last time the departure rose past a level, before a sample at which it is above."""
    under = np.flatnonzero(departure[: before + 1] < level)
    if not under.size:
        return float(seconds[0])
    at = int(under[-1])
    if at + 1 >= seconds.size:
        return float(seconds[at])
    rise = departure[at + 1] - departure[at]
    part = (level - departure[at]) / rise if rise > 0 else 0.5
    return float(seconds[at] + part * (seconds[at + 1] - seconds[at]))


def middle(moments: list[Moment]) -> Moment | None:
    """Of several, the one in the middle, the surer counting more.

    Parameters
    ----------
    moments : list of Moment
        What several tracks tell.

    Returns
    -------
    Moment or None
        None of none.
    """
    if not moments:
        return None
    ordered = sorted(moments, key=lambda one: one.at)
    shares = np.cumsum([1 / one.within for one in ordered])
    place = int(np.searchsorted(shares, shares[-1] / 2))
    return ordered[min(place, len(ordered) - 1)]


def switched(track: Track, start: float, end: float) -> list[tuple[float, bool]]:
    """When a thing was switched between two moments, and to what.

    Parameters
    ----------
    track : Track
        1 on, 0 off.
    start : float
        From [s].
    end : float
        To [s].

    Returns
    -------
    list of (float, bool)
        In order; between two samples of an even clock, halfway.
    """
    found = []
    for place in (np.flatnonzero(np.diff(track.values)) + 1).tolist():
        before, after = float(track.seconds[place - 1]), float(track.seconds[place])
        # A state that is written down when it changes was not halfway between two samples.
        at = (before + after) / 2 if after - before <= min(1.5 * track.step, _EVEN) else after
        if start <= at <= end:
            found.append((at, bool(track.values[place] > 0.5)))
    return found


_EVEN = 90.0
"""An even clock is no slower than this [s]."""

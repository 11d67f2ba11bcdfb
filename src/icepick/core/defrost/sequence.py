"""Each defrost from its start to the recovery after it: what happened, as numbers and yes or no."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from icepick.core.circuit.defrost_settings import Settings
from icepick.core.defrost.course import Call, Course, run_before
from icepick.core.defrost.cues import Seen, absolute, kelvin
from icepick.core.defrost.frost import Frost
from icepick.core.defrost.tracks import Array, Track, by_table

StartedBy = Literal["timer", "demand", "forced", "unknown"]
EndedBy = Literal["temperature", "time_limit", "other", "not_seen"]

_MELTING = (absolute(30.5), absolute(41))
"""Ice holds a coil between these until it is gone [K]. [physics; the figures are common practice]"""
_RECOVERED_AFTER, _RECOVERED_LEAST = 720.0, 420.0
"""The coil is looked at again so long after a defrost [s]; sooner only where the recording ends, and no sooner than this."""
_SENSOR_LATE = 15.0
"""How late clamps and sensors follow a coil that climbs [s]. [our own choice]"""
_MOST_LATE = kelvin(14)
_NEAR_STOP = kelvin(3)
_NEAR_STOP_BEND = kelvin(7)
"""A clamp may show so much less than the stop when the board ends a defrost by it."""
_LIMIT_NEAR = 25.0
_SAMPLES, _SPARSE = 6, 10.0
_HEATER_LATE = 180.0
"""A sequencer, the heater and the air take up to this long [s] to show that it heats. [common practice]"""


@dataclass(frozen=True, slots=True)
class Plateau:
    """While ice melted: from, to [s], and the coil's temperature [K]."""

    start: float
    end: float
    temperature: float


@dataclass(frozen=True, slots=True)
class Defrost:
    """One defrost. Seconds, K; None where it can't be told. ``colder`` is how much frost had cooled the coil before it, and
    ``left`` how much of that is left once it has recovered."""

    call: Call
    run_before: float | None
    started_by: StartedBy
    ended_by: EndedBy
    coil_at_start: float | None
    coil_highest: float | None
    sensor_at_start: float | None
    sensor_highest: float | None
    shift_delay: float | None
    fan_stopped: bool | None
    backup_heat_on: bool | None
    supply_lowest: float | None
    cleared: bool | None
    plateau: Plateau | None
    colder: float | None
    left: float | None
    dry: bool | None
    last: float
    """Its end, or the last that the recording shows of it."""

    @property
    def lasted(self) -> float | None:
        """How long the board let it last, or did so far [s]; None where its start was not seen."""
        until = self.last if self.call.let_go is None else min(self.call.let_go, self.last)
        return None if self.call.started is None else until - self.call.started


@dataclass(frozen=True, eq=False)
class Watched:
    """A recording, read: everything its checks look at."""

    seen: Seen
    settings: Settings
    course: Course
    frost: Frost
    coil: Track | None
    beside_sensor: Track | None
    """A clamp beside the coil sensor."""
    signal: Track | None
    """The coil sensor's own signal, through its table."""
    beyond: Array | None
    """Where its resistance lies beyond that table."""
    first: float | None
    """How long it had heated by the recording's start [s]."""


def watch(seen: Seen, settings: Settings, course: Course, frost: Frost) -> Watched:
    """Everything the checks of a recording look at.

    Parameters
    ----------
    seen : Seen
        The recording's tracks, at evenly spaced moments.
    settings : Settings
        What the unit's defrost is set to.
    course : Course
        Spells and calls.
    frost : Frost
        What the coil shows of frost.

    Returns
    -------
    Watched
        With the sensor's signal through its table.
    """
    tracks, recording = seen.tracks, seen.tracks.recording
    resistance = tracks.get("coil_sensor", "resistance")
    signal, beyond = by_table(resistance, settings.sensor_rows) if resistance is not None else (None, None)
    first = recording.minutes_running
    return Watched(
        seen,
        settings,
        course,
        frost,
        tracks.temperature("outdoor_coil", "coil_sensor", "outdoor_meter_coil_side") or signal,
        tracks.temperature("coil_sensor"),
        signal,
        beyond,
        None if first is None or recording.mode != "heating" else 60 * first,
    )


def defrosts_of(watched: Watched) -> list[Defrost]:
    """Each defrost of a recording.

    Parameters
    ----------
    watched : Watched
        The recording, read.

    Returns
    -------
    list of Defrost
        In order.
    """
    return [_defrost(watched, call) for call in watched.course.calls]


def _defrost(watched: Watched, call: Call) -> Defrost:
    tracks = watched.seen.tracks
    start = tracks.start if call.started is None else call.started
    last = tracks.end if call.ended is None else call.ended
    before = None
    if call.started is not None:
        before = run_before(watched.course, call.started, watched.first, tracks.start)
    board_last = last if call.let_go is None else min(call.let_go, last)
    colder = watched.frost.colder(start) if call.started is not None else None
    ran = call.shifted or call.off_cycle
    left = _left(watched, call.ended) if ran and call.ended is not None else None
    highest = _highest(watched.coil, start, last) if ran else None
    plateau = _plateau(watched.beside_sensor or watched.coil, start, last) if ran else None
    stays = left is not None and colder is not None and _stays_frosted(watched, colder, left)
    ended_by = _ended_by(watched, call, start, board_last, stays=stays)
    # Ice that holds the coil to the last moment of the time limit is not gone, however high it crept.
    held = ended_by == "time_limit" and plateau is not None and plateau.end >= last - _HELD
    delay = None
    if call.shifted and call.called is not None and call.pipes is not None:
        delay = max(0.0, call.pipes - call.called)
    return Defrost(
        call,
        before,
        _started_by(watched, call, before),
        ended_by,
        _about(watched.coil, start - 20, start) if call.started is not None else None,
        highest,
        _about(watched.signal or watched.beside_sensor, start - 20, start)
        if call.started is not None
        else None,
        _highest(watched.signal or watched.beside_sensor, start, last),
        delay,
        _fan_stopped(watched, start, board_last),
        _heat_on(watched, start, board_last),
        _lowest(tracks.temperature("supply_air", "supply_air_after_heat"), start, last),
        _cleared(watched, call, ended_by, colder, left, highest, last, held=held) if ran else None,
        plateau,
        colder,
        left,
        watched.frost.dry(start) if call.started is not None else None,
        last,
    )


def _about(track: Track | None, start: float, end: float) -> float | None:
    if track is None:
        return None
    found = track.value(start, end)
    if found is not None:
        return found
    at = float(track.at(np.array([end]))[0])
    return None if np.isnan(at) else at


def _highest(track: Track | None, start: float, last: float) -> float | None:
    """The highest that stays for a moment: the middle of three samples."""
    return _extreme(track, start, last + _SENSOR_LATE, 1.0)


def _lowest(track: Track | None, start: float, last: float) -> float | None:
    return _extreme(track, start, last + 60, -1.0)


def _extreme(track: Track | None, start: float, end: float, way: float) -> float | None:
    if track is None:
        return None
    values = way * track.between(start, end)[1]
    if values.size < 3:
        return float(way * values.max()) if values.size else None
    middles = np.median(np.lib.stride_tricks.sliding_window_view(values, 3), axis=1)
    return float(way * max(middles.max(), min(values[0], values[-1])))


def _started_by(watched: Watched, call: Call, before: float | None) -> StartedBy:
    if call.forced is not None:
        return "forced"
    settings = watched.settings
    if call.started is None:
        return "unknown"
    if settings.method == "demand":
        return "demand"
    if settings.method in ("time_temperature", "off_cycle"):
        early = 1 - watched.seen.practice.si("defrost_interval_tolerance")
        too_soon = before is not None and settings.known("interval") and before < early * settings.interval
        return "unknown" if too_soon else "timer"
    return "unknown"


def _stays_frosted(watched: Watched, colder: float, left: float) -> bool:
    """Whether what frost had done to the coil is mostly left after the defrost."""
    return left > watched.seen.practice.si("frost_sag") and left > 0.5 * colder


def _ended_by(watched: Watched, call: Call, start: float, last: float, *, stays: bool) -> EndedBy:
    if call.ended is None:
        return "not_seen"
    settings = watched.settings
    lasted = None if call.started is None else last - start
    late = lasted is not None and lasted >= settings.limit - _LIMIT_NEAR
    if not call.shifted and not call.off_cycle:
        return "time_limit" if late else "other"
    # A bend in the middle of the coil may be warm where ice is left at the sensor.
    by_bend = watched.signal is None and watched.beside_sensor is None
    if _reached(watched, start, last) and not (by_bend and stays):
        return "temperature"
    return "time_limit" if late else "other"


def _reached(watched: Watched, start: float, last: float) -> bool:
    """Whether the sensor had reached the stop: by its signal, where that tells the truth, else by the clamp beside it, else
    by a bend."""
    settings = watched.settings
    practice = watched.seen.practice
    noted = settings.known("stop_above")
    stop = settings.stop_above if noted else practice.si("defrost_stop_least")
    track, slack = watched.beside_sensor, _NEAR_STOP
    if watched.signal is not None:
        off = sensor_error(watched)
        if off is not None and abs(off) > watched.seen.practice.si("sensor_difference"):
            return False
        track = watched.signal
    if track is None:
        track, slack = watched.coil, _NEAR_STOP_BEND
    if track is None:
        return False
    highest = _highest(track, start, last)
    return highest is not None and highest + _late(track, last) >= stop - slack


def sensor_error(watched: Watched) -> float | None:
    """How much warmer the coil sensor reads than the clamp beside it [K]; None where one of the two was not recorded.

    Parameters
    ----------
    watched : Watched
        The recording, read.

    Returns
    -------
    float or None
        While neither moves much: each follows at its own pace.
    """
    return (
        None
        if watched.signal is None or watched.beside_sensor is None
        else difference(watched.seen.moments, watched.signal, watched.beside_sensor)
    )


_STEADY = kelvin(1.0) / 60
"""Two thermometers are compared while they move slower than this [K/s]."""


def difference(moments: Array, one: Track, other: Track) -> float | None:
    """How much warmer one thermometer reads than another while neither moves much.

    Parameters
    ----------
    moments : array of float
        Seconds.
    one : Track
        Its temperature [K].
    other : Track
        Its temperature [K].

    Returns
    -------
    float or None
        [K]; None where they were not steady together for long enough.
    """
    first, second = one.at(moments), other.at(moments)
    if moments.size < 12:
        return None
    # Noise moves as well: what counts is the way over a minute.
    span = max(1, round(60 / float(moments[1] - moments[0])))
    moved = np.full(moments.size, np.inf)
    moved[span:-span] = np.abs(second[2 * span :] - second[: -2 * span]) / (
        2 * span * (moments[1] - moments[0])
    )
    kept = ~np.isnan(first) & ~np.isnan(second) & (moved < max(_STEADY, other.noise / 60))
    return float(np.median((first - second)[kept])) if kept.sum() >= 5 else None


def _late(track: Track, last: float) -> float:
    """How much warmer the coil was at the end than a clamp showed that follows it late [K]."""
    climbing = _climbing(track, last)
    return min(climbing * (_SENSOR_LATE + 0.5 * track.step), _MOST_LATE)


def _climbing(track: Track, last: float) -> float:
    """How fast it climbed at the end [K/s]."""
    seconds, values = track.between(last - max(20.0, 3 * track.step), last)
    if seconds.size < 3:
        return 0.0
    return max(0.0, float(np.polyfit(seconds - last, values, 1)[0]))


def _fan_stopped(watched: Watched, start: float, last: float) -> bool | None:
    fan = watched.course.board.fan
    found = fan.value(start + min(15.0, (last - start) / 3), last - 10) if fan is not None else None
    return None if found is None else found < 0.5


def _heat_on(watched: Watched, start: float, last: float) -> bool | None:
    """By the heater itself, else by what it does to the air: sequencers take up to a minute or so."""
    half = start + (last - start) / 2
    heat = watched.course.board.heat
    found = heat.value(half, last - 5) if heat is not None else None
    if found is not None:
        return found > 0.5
    tracks, warmed = watched.seen.tracks, watched.course.board.warmed
    after = tracks.temperature("supply_air_after_heat")
    if warmed is not None:
        found = warmed.value(half, last)
        on = found is not None and found > 0.5
    elif after is not None:
        lowest = _lowest(after, half, last)
        on = lowest is not None and lowest >= watched.seen.practice.si("supply_cold")
    else:
        return None
    return True if on else False if last - start >= _HEATER_LATE else None


def _plateau(track: Track | None, start: float, last: float) -> Plateau | None:
    """From when the coil reaches melting to when it leaves it for good."""
    if track is None:
        return None
    seconds, values = track.between(start, last)
    low, high = _MELTING
    inside = np.flatnonzero((values >= low) & (values <= high))
    if inside.size < 2:
        return None
    first, end = int(inside[0]), int(inside[-1])
    return Plateau(float(seconds[first]), float(seconds[end]), float(np.median(values[first : end + 1])))


def _left(watched: Watched, ended: float) -> float | None:
    """How much colder than clear the coil still is, once it has recovered."""
    spell = next(
        (one for one in watched.course.spells if one.mode == "heating" and one.start >= ended - 30), None
    )
    if spell is None or spell.end - spell.start < _RECOVERED_LEAST:
        return None
    return watched.frost.colder(min(spell.start + _RECOVERED_AFTER, spell.end))


_HELD = 30.0
"""Seconds before the end that a coil may leave the ice's temperature and still count as held by it. [our own choice]"""


def _cleared(
    watched: Watched,
    call: Call,
    ended_by: EndedBy,
    colder: float | None,
    left: float | None,
    highest: float | None,
    last: float,
    *,
    held: bool,
) -> bool | None:
    """By what was seen, else by how far the coil climbed and how it works afterwards."""
    marks, practice = watched.seen.tracks.marks, watched.seen.practice
    start = call.started if call.started is not None else watched.seen.tracks.start
    if any(start <= at <= last + 300 for at in marks.get("outdoor_coil_clear", [])):
        return True
    iced = ("outdoor_coil_iced_solid", "outdoor_coil_frosted_even", "outdoor_coil_frosted_patchy")
    if any(last <= at <= last + 300 for code in iced for at in marks.get(code, [])):
        return False
    if left is not None and colder is not None and _stays_frosted(watched, colder, left):
        return False
    clear = absolute(35) if call.off_cycle else practice.si("frost_clear")
    track = watched.beside_sensor or watched.coil
    reached = _highest(track, start, last) if track is not None else highest
    if reached is None:
        return None
    if held:
        return False if reached < clear else None
    if reached >= clear or ended_by == "temperature":
        return True
    if call.ended is None or track is None or reached + _late(track, last) >= clear:
        return None
    if last - start < _SAMPLES * track.step or (left is None and track.step >= _SPARSE):
        return None  # Too few samples to know how far it climbed: once the ice is gone it climbs all at once.
    if left is not None and left < 0.5 * practice.si("frost_recovered"):
        # It works as it did when it was clear, and it was so already before this defrost.
        before = watched.frost.colder(start, so_far=True)
        if colder is None or before is None or colder - before < practice.si("frost_recovered"):
            return True
    return False if reached < _MELTING[1] else None

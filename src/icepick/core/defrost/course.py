"""The course of a recording: its spells to a few seconds, and each defrost that was run or called for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from icepick.core.circuit.defrost_settings import Settings
from icepick.core.defrost.cues import FREEZING, Seen, kelvin, reversing_command, swinging, switch, weights
from icepick.core.defrost.onset import Moment, middle, onset, switched
from icepick.core.defrost.spells import Spell, joined, raw_spells
from icepick.core.defrost.tracks import Array, Track

_PAUSE = 330.0
"""The longest a board rests the compressor around a shift [s]. [common practice]"""
_LONG_DEFROST = 2700.0
"""Cooling that lasts longer than this [s] in a recording that did not start in heating is no defrost."""
_BOARD_NEAR, _ACTS_NEAR = 20.0, 90.0
"""How near [s] the board's action must be to the pipes' for both to be one; and where the pipes tell only roughly."""
_SURELY = 0.5
"""Weight by which cooling must lead on the whole. [our own choice]"""
_SWING = kelvin(12)
"""What a pipe swings by at the least when the circuit reverses [K]."""
_TOGETHER = 60.0
"""Within so long [s] fan, heat and valve are switched for one and the same."""
_EARLY = 60.0
"""What noise may make of pipes that seem to turn before the board acts [s]."""
_FORCED_BEFORE, _FORCED_AFTER = 240.0, 20.0
"""A mark counts for a defrost that follows it this soon, or that it comes this late for [s]."""
_COMMAND_LEAST, _COMMAND_MOST = 40.0, 1800.0
"""How long [s] fan, heat or valve are switched as for a defrost, for a call that the valve did not follow."""


@dataclass(frozen=True, slots=True)
class Board:
    """What the board switches, as 1 and 0; None where it was not recorded. ``reverse`` is 1 where the valve is told to
    run the unit in cooling."""

    reverse: Track | None
    fan: Track | None
    heat: Track | None
    compressor: Track | None
    warmed: Track | None = None
    """Whether the air behind the heater is warmer than before it; a while later than the heater is."""


@dataclass(frozen=True, slots=True)
class Call:
    """A defrost that was run or called for, in seconds.

    ``started`` and ``ended`` are None outside the recording. ``called`` is when the board acted, ``let_go`` when it
    took that back; None where nothing says so. ``pipes`` is when the pipes show the shift.
    """

    started: float | None
    ended: float | None
    shifted: bool
    off_cycle: bool = False
    called: float | None = None
    let_go: float | None = None
    pipes: float | None = None
    forced: float | None = None


@dataclass(frozen=True, slots=True)
class Course:
    """Spells in order, and the calls for a defrost."""

    spells: list[Spell]
    calls: list[Call]
    board: Board
    moments: Array
    said: Array

    def surely_reversed(self, start: float, end: float) -> bool:
        """Whether what was recorded between two moments [s] speaks for a circuit that runs in cooling, on the whole."""
        inside = self.said[(self.moments >= start) & (self.moments <= end)]
        if not len(inside):
            return False
        heating, cooling, off = inside.mean(axis=0)
        return bool(cooling - max(heating, off) > _SURELY)


def course_of(seen: Seen, settings: Settings) -> Course:
    """What a recording shows of the circuit's course.

    Parameters
    ----------
    seen : Seen
        The recording's tracks, at evenly spaced moments.
    settings : Settings
        What the unit's defrost is set to.

    Returns
    -------
    Course
        Without defrosts on a unit that has none.
    """
    tracks = seen.tracks
    board = Board(
        reversing_command(tracks, seen.unit, seen.practice),
        *(switch(tracks, code, seen.practice) for code in ("outdoor_fan", "backup_heat", "compressor")),
    )
    board = replace(board, warmed=_warmed(seen))
    said = weights(seen)
    spells = raw_spells(seen, said)
    if seen.unit.source == "air":
        spells = _named(spells, tracks.recording.mode)
    if settings.method == "off_cycle":
        spells = _off_cycle(seen, board, spells)
    spells = _with_pauses(board, spells, tracks.start, tracks.end)
    spells, calls = _refined(seen, board, spells)
    if seen.unit.source == "air" and settings.reverses:
        calls += _not_followed(seen, board, spells, calls)
        spells = _with_short(spells, calls)
    calls.sort(key=lambda one: -1.0 if one.started is None else one.started)
    return Course(spells, calls, board, seen.moments, said)


def _named(spells: list[Spell], mode: str) -> list[Spell]:
    """Cooling between spells of heating is a defrost; so is one that a recording begins or ends in, by what was called
    for at its start."""
    found: list[Spell] = []
    for place, one in enumerate(spells):
        heated = any(before.mode == "heating" for before in spells[:place])
        rested = place > 0 and spells[place - 1].mode == "off"
        if rested and spells[place - 1].end - spells[place - 1].start > _PAUSE:
            heated = False  # What starts in cooling after a rest is no defrost.
        follows = any(after.mode == "heating" for after in spells[place + 1 :])
        short = one.end - one.start <= _LONG_DEFROST
        defrost = one.mode == "cooling" and (
            (mode == "defrost" and place == 0)
            or (mode in ("heating", "defrost") and (heated or (not rested and (follows or short))))
            or (mode == "off" and heated and short)
        )
        found.append(replace(one, mode="defrost") if defrost else one)
    return found


def _warmed(seen: Seen) -> Track | None:
    before, after = (seen.tracks.get(code) for code in ("supply_air", "supply_air_after_heat"))
    if before is None or after is None:
        return None
    rise = after.at(seen.moments) - before.at(seen.moments)
    known = ~np.isnan(rise)
    if known.sum() < 3:
        return None
    on = (rise[known] > seen.practice.si("heater_rise")).astype(np.float64)
    return Track(("backup_heat", "warmed"), seen.moments[known], on, 0.0, holds=True)


def _off_cycle(seen: Seen, board: Board, spells: list[Spell]) -> list[Spell]:
    """A compressor that rests on a frosted coil while the fan blows over it melts the frost."""
    coil = seen.tracks.temperature("outdoor_coil", "coil_sensor")
    found = []
    for place, one in enumerate(spells):
        melts = one.mode == "off" and place > 0 and spells[place - 1].mode == "heating"
        if melts and board.fan is not None:
            blows = board.fan.value(one.start + 10, one.end - 10)
            melts = blows is not None and blows > 0.5
        if melts and coil is not None:
            cold = coil.value(one.start - 60, one.start + 10)
            melts = cold is not None and cold < FREEZING
        found.append(replace(one, mode="defrost") if melts else one)
    return found


def _with_pauses(board: Board, spells: list[Spell], start: float, end: float) -> list[Spell]:
    """A compressor that rests around a shift belongs to the defrost."""
    found = []
    for place, one in enumerate(spells):
        beside = [spells[i].mode for i in (place - 1, place + 1) if 0 <= i < len(spells)]
        rests = one.mode == "off" and "defrost" in beside and one.end - one.start <= _PAUSE
        found.append(replace(one, mode="defrost") if rests else one)
    return joined(found, start, end)


def _refined(seen: Seen, board: Board, spells: list[Spell]) -> tuple[list[Spell], list[Call]]:
    """Edges of every defrost to a few seconds."""
    tracks = seen.tracks
    exact = list(spells)
    calls = []
    for place, one in enumerate(spells):
        if one.mode != "defrost":
            continue
        earliest = exact[place - 1].start if place else tracks.start
        off_cycle = place > 0 and _stands_still(board, one)
        call = Call(None, None, not off_cycle, off_cycle)
        if place:
            began = _edge(seen, board, one.start, 1.0, earliest)
            call = replace(call, started=began.at, called=began.board, pipes=began.pipes)
            exact[place - 1] = replace(exact[place - 1], end=began.at)
            exact[place] = replace(exact[place], start=began.at)
        if place + 1 < len(spells):
            stopped = _edge(seen, board, one.end, -1.0, exact[place].start + 30)
            call = replace(call, ended=stopped.at, let_go=stopped.board)
            exact[place] = replace(exact[place], end=stopped.at)
            exact[place + 1] = replace(exact[place + 1], start=stopped.at)
        else:
            acted = _acts(board, one.start + 60, one.end, -1.0)
            if not acted and board.warmed is not None:
                acted = [at for at, on in switched(board.warmed, one.start + 60, one.end) if not on]
            call = replace(call, let_go=acted[-1] if acted else None)
        calls.append(replace(call, forced=_forced(seen, call.started if place else None)))
    return exact, calls


def _stands_still(board: Board, spell: Spell) -> bool:
    if board.compressor is None:
        return False
    runs = board.compressor.value(spell.start + 5, spell.end - 5)
    return runs is not None and runs < 0.5


def _forced(seen: Seen, started: float | None) -> float | None:
    marks = seen.tracks.marks.get("defrost_forced", [])
    if started is None:
        return marks[0] if marks and marks[0] <= seen.tracks.start + _FORCED_AFTER else None
    near = [at for at in marks if started - _FORCED_BEFORE <= at <= started + _FORCED_AFTER]
    return near[-1] if near else None


@dataclass(frozen=True, slots=True)
class _Edge:
    at: float
    board: float | None
    pipes: float | None


def _edge(seen: Seen, board: Board, near: float, way: float, earliest: float) -> _Edge:
    """The moment a defrost begins (``way`` +1) or ends (−1): by the pipes, by the board where it acts as they do, by the
    compressor where it pauses before."""
    found = [
        moment
        for track, rises in swinging(seen.tracks, seen.unit)
        if (moment := onset(track, way * rises, near, earliest)) is not None
    ]
    found += [
        Moment(at, 3.0)
        for at in seen.tracks.marks.get("valve_shift_heard", [])
        if abs(at - near) <= _ACTS_NEAR and at >= earliest
    ]
    pipes = middle(_agreeing(found))
    about = pipes.at if pipes else near
    acted = [at for at in _acts(board, about - 240, about + 60, way) if at >= earliest - 5]
    before = [at for at in acted if abs(at - about) <= _ACTS_NEAR or at < about]
    command = min(before, key=lambda at: abs(at - about), default=None)
    if command is not None:
        command = min(at for at in acted if command - _TOGETHER <= at <= command)
    at = about
    within = max(_BOARD_NEAR, 1.5 * pipes.within) if pipes else _ACTS_NEAR
    # Pipes can't turn before the board has acted.
    if command is not None and -max(within, _EARLY) <= about - command <= within:
        at = command
    rested = _rest_before(board, at, earliest) if way > 0 else _rest_after(board, at)
    return _Edge(at if rested is None else rested, command, pipes.at if pipes else None)


def _agreeing(moments: list[Moment]) -> list[Moment]:
    """Those near the middle of all: a clamp that has fallen off swings at its own time."""
    centre = middle(moments)
    if centre is None:
        return []
    return [one for one in moments if abs(one.at - centre.at) <= max(45.0, 2 * one.within)]


def _acts(board: Board, start: float, end: float, way: float) -> list[float]:
    """When the board switched valve, fan or heat the way it does to begin (+1) or end (−1) a defrost; the valve first."""

    def switched_to(track: Track | None, *, on: bool) -> list[float]:
        if track is None:
            return []
        return [at for at, to in switched(track, start, end) if to is (on if way > 0 else not on)]

    found = switched_to(board.reverse, on=True)
    return found or sorted([*switched_to(board.fan, on=False), *switched_to(board.heat, on=True)])


def _rest_before(board: Board, at: float, earliest: float) -> float | None:
    """When the compressor stopped for the shift; None where it did not."""
    if board.compressor is None:
        return None
    stops = [t for t, on in switched(board.compressor, max(at - _PAUSE, earliest), at + 20) if not on]
    if not stops:
        return None
    # It has to stand still until then, or the stop was another one.
    rest = board.compressor.value(stops[-1] + 1, max(at, stops[-1] + 3))
    return stops[-1] if rest is not None and rest < 0.5 else None


def _rest_after(board: Board, at: float) -> float | None:
    """When the compressor runs again after it was stopped for the shift back; None where it did not stop."""
    if board.compressor is None:
        return None
    changes = switched(board.compressor, at - _PAUSE, at + _PAUSE)
    stops = [t for t, on in changes if not on and t <= at + 20]
    if not stops:
        return None
    starts = [t for t, on in changes if on and t > stops[-1]]
    return starts[0] if starts and starts[0] >= at - 20 else None


def _not_followed(seen: Seen, board: Board, spells: list[Spell], calls: list[Call]) -> list[Call]:
    """Calls for a defrost in the midst of heating: the board acts, and the circuit goes on as it was."""
    heating = [one for one in spells if one.mode in ("heating", "unknown")]
    marks = seen.tracks.marks.get("defrost_forced", [])
    taken = [call.forced for call in calls if call.forced is not None]
    found = []
    for start, end, sure in _as_for_defrost(board, seen.tracks.start, seen.tracks.end):
        inside = any(one.start <= start + 20 and (end or start) <= one.end + 60 for one in heating)
        near = [
            at for at in marks if start - _FORCED_BEFORE <= at <= start + _FORCED_AFTER and at not in taken
        ]
        overlap = any(
            (call.started or 0.0) - 60 <= start <= (call.ended or seen.tracks.end) + 60 for call in calls
        )
        if inside and not overlap and (sure or near):
            forced = near[-1] if near else None
            taken += near
            followed = _pipes_swing(seen, start, end or seen.tracks.end)
            found.append(Call(start, end, followed, called=start, let_go=end, forced=forced))
    for at in marks:
        if at not in taken and any(one.start <= at <= one.end for one in heating):
            found.append(Call(at, None, False, forced=at))
    return found


def _with_short(spells: list[Spell], calls: list[Call]) -> list[Spell]:
    """Spells with the defrosts that were too short to be seen by levels cut in."""
    for call in calls:
        if not call.shifted or call.started is None or call.ended is None:
            continue
        start, end, cut = call.started, call.ended, list[Spell]()
        for one in spells:
            if one.mode == "heating" and one.start < start and end < one.end:
                cut += [replace(one, end=start), Spell("defrost", start, end), replace(one, start=end)]
            else:
                cut.append(one)
        spells = cut
    return spells


def _pipes_swing(seen: Seen, start: float, end: float) -> bool:
    """Whether most of what swings with the valve did so: a defrost too short for its levels to show it."""
    swings = []
    for track, way in swinging(seen.tracks, seen.unit):
        before, during = track.value(start - 60, start), track.between(start, end + 30)[1]
        if before is None or during.size < 2:
            continue
        least = _SWING if track.spot[1] == "temperature" else 0.15 * before
        swings.append(float((way * (during - before)).max()) >= least)
    return bool(swings) and 2 * sum(swings) > len(swings)


def _as_for_defrost(board: Board, start: float, end: float) -> Iterator[tuple[float, float | None, bool]]:
    """Stretches through which the board switched as for a defrost, and whether that is sure by itself."""
    stretches: list[tuple[float, float | None, str]] = []
    for name, track, on in (
        ("valve", board.reverse, True),
        ("fan", board.fan, False),
        ("heat", board.heat, True),
    ):
        if track is None:
            continue
        open_at: float | None = None
        for at, to in switched(track, start, end):
            if to is on:
                open_at = at
            elif open_at is not None:
                stretches.append((open_at, at, name))
                open_at = None
        if open_at is not None:
            stretches.append((open_at, None, name))
    stretches.sort(key=lambda one: one[0])
    used: set[int] = set()
    for place, (begun, _, _) in enumerate(stretches):
        if place in used:
            continue
        alike = [i for i, other in enumerate(stretches) if i not in used and abs(other[0] - begun) <= 60.0]
        used.update(alike)
        ends = [stretches[i][1] for i in alike]
        names = {stretches[i][2] for i in alike}
        last = max((one for one in ends if one is not None), default=None)
        lasts = (last or end) - begun
        if not _COMMAND_LEAST <= lasts <= _COMMAND_MOST:
            continue
        # Heat alone is a second stage; a fan alone that does not come back is a fan that failed.
        compressor = board.compressor.value(begun + 5, begun + lasts - 5) if board.compressor else 1.0
        if compressor is not None and compressor < 0.5:
            continue
        sure = len(names) > 1 or "valve" in names or (names == {"fan"} and last is not None)
        yield begun, last, sure and names != {"heat"}


def compressor_seconds(course: Course, start: float, end: float) -> float:
    """How long the circuit ran in heating between two moments; rests of the thermostat not counted.

    Parameters
    ----------
    course : Course
        Of the recording.
    start : float
        From [s].
    end : float
        To [s].

    Returns
    -------
    float
        [s].
    """
    return sum(
        max(0.0, min(one.end, end) - max(one.start, start)) for one in course.spells if one.mode == "heating"
    )


def run_before(course: Course, started: float, first: float | None, start: float) -> float | None:
    """Compressor time in heating since the last defrost ended [s]; None where that began outside the recording.

    Parameters
    ----------
    course : Course
        Of the recording.
    started : float
        When the defrost started, or up to when it is counted [s].
    first : float or None
        How long it had run by the recording's start [s], where that is known.
    start : float
        The recording's first moment [s].

    Returns
    -------
    float or None
        [s].
    """
    ends = [
        call.ended
        for call in course.calls
        if call.ended is not None and call.ended <= started and (call.shifted or call.off_cycle)
    ]
    unknown = any(
        one.mode == "unknown" and one.end > (ends[-1] if ends else start) and one.start < started
        for one in course.spells
    )
    if unknown:
        return None
    if ends:
        return compressor_seconds(course, ends[-1], started)
    return None if first is None else first + compressor_seconds(course, start, started)

"""Series of a recording that physics or the other series contradict: a clamp that has fallen off, one in the wrong unit, one
at a place this unit does not have."""

from __future__ import annotations

import numpy as np

from icepick.core.circuit.graph import stations_of_unit
from icepick.core.defrost.course import Course
from icepick.core.defrost.cues import Seen, kelvin, swinging
from icepick.core.defrost.finding import clock
from icepick.core.defrost.tracks import Spot, Track
from icepick.core.document.examination import Doubt
from icepick.core.document.stations import Group, station
from icepick.core.document.wording import name, say
from icepick.core.properties.quantities import Kind, UnitSystem

_NEAR_AIR = kelvin(4)
"""A clamp that hangs in the air reads it to this [K]. [our own choice]"""
_LEAST_SWING = kelvin(8)
"""What every pipe that reverses swings at the least [K]."""


def doubts_of(seen: Seen, course: Course, units: UnitSystem) -> tuple[list[Doubt], frozenset[Spot]]:
    """Doubts about a recording's series.

    Parameters
    ----------
    seen : Seen
        The recording's tracks, at evenly spaced moments.
    course : Course
        Its course, by all series.
    units : {"field", "metric"}
        Units of every sentence.

    Returns
    -------
    (list of Doubt, frozenset)
        And the station and quantity of each series to leave out.
    """
    doubts: list[Doubt] = []
    off = set[Spot]()
    unit, tracks = seen.unit, seen.tracks
    there = set(stations_of_unit(unit))
    for spot in tracks.by_spot:
        if "_circuit:" not in spot[0] and spot[0] not in there:
            off.add(spot)
            doubts.append(
                Doubt(
                    stations=[spot[0]],
                    code="impossible_in_mode",
                    explain=f"This unit has no {station(spot[0]).title}; the series is left out.",
                )
            )
    shifts = [
        at
        for call in course.calls
        if call.shifted
        for at in (call.started, call.ended)
        if at is not None and tracks.start + 120 < at < tracks.end - 120
    ]
    swings = [track for track, _ in swinging(tracks, unit) if track.spot not in off]
    lines = [track for track in swings if station(track.spot[0]).group is Group.LINE]
    if shifts and len(swings) >= 3:
        for track in lines:
            still = [at for at in shifts if (found := _swing(track, at)) is not None and found < _LEAST_SWING]
            moved = [
                at for at in shifts if (found := _swing(track, at)) is not None and found >= _LEAST_SWING
            ]
            if still and (not moved or max(still) > max(moved)) and _hangs_in_air(seen, track, still[-1]):
                off.add(track.spot)
                value = track.value(still[-1] - 60, still[-1] + 60)
                said = "" if value is None else f" It reads {say(value, Kind.TEMPERATURE, units)} throughout."
                doubts.append(
                    Doubt(
                        stations=[track.spot[0]],
                        code="clamp_off",
                        explain=f"The pipes swing at {clock(still[-1])}, and {name(unit, track.spot[0])} does not: the clamp "
                        f"has fallen off.{said}",
                    )
                )
    return doubts, frozenset(off)


def _swing(track: Track, at: float) -> float | None:
    """How far a track moves around a shift [K]; None where it was not recorded then."""
    _, values = track.between(at - 90, at + 180)
    return float(values.max() - values.min()) if values.size >= 4 else None


def _hangs_in_air(seen: Seen, track: Track, at: float) -> bool:
    """Whether it reads what is around it."""
    found = track.value(at - 120, at + 120)
    around = seen.tracks.temperature(
        "outdoor_air_in" if station(track.spot[0]).place.value == "outdoors" else "return_air"
    )
    air = around.value(at - 120, at + 120) if around is not None else None
    return found is not None and (air is None or bool(np.abs(found - air) < _NEAR_AIR))

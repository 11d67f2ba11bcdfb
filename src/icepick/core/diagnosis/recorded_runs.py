"""A recording as the diagnosis takes it: what it shows of heating as one run, of defrosts as another.

Voltages, resistances and what was seen come as readings and observations of those runs, so that the tables judge them by the
same rows as any other; what only a recording tells comes as its checks and signs.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import cast, get_args

import numpy as np

from icepick.core.checks.command import SOLENOID_RESISTANCE
from icepick.core.circuit.context import RunContext, run_context
from icepick.core.defrost.recorded import Recorded
from icepick.core.defrost.sparing import spare
from icepick.core.defrost.tracks import Track
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.diagnosis.question import UNMADE
from icepick.core.document.codes import Mode, QuantityName, SightCode
from icepick.core.document.visit import Observation, Reading, Run
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem

_OF_THE_SEQUENCE = frozenset(
    {
        "defrost.fan",
        "defrost.backup_heat",
        "defrost.shift",
        "defrost.stop",
        "defrost.duration",
        "defrost.cleared",
    }
)
_CONTROL = ("terminal_r", "terminal_y", "terminal_o", "terminal_b", "terminal_w", "solenoid")
_LIVE = 24.0
"""What a state of 1 at the solenoid stands for [V]."""
_AROUND = 60.0
"""What was seen so soon after a defrost belongs to it [s]."""


def recorded_runs(
    recordings: list[Recorded], practice: Practice, units: UnitSystem, atmosphere: float
) -> list[JudgedRun]:
    """What recordings show, as runs.

    Parameters
    ----------
    recordings : list of Recorded
        Read and judged.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every sentence.
    atmosphere : float
        Local air pressure [Pa].

    Returns
    -------
    list of JudgedRun
        One for what was called for, and one more where a defrost was.
    """
    found = list[JudgedRun]()
    for one in recordings:
        work = partial(_listed, one, practice, units, atmosphere)
        found += spare(one.left_out, "what it says of a fault", work, list[JudgedRun]())
    return found


def _listed(one: Recorded, practice: Practice, units: UnitSystem, atmosphere: float) -> list[JudgedRun]:
    return list(_runs(one, practice, units, atmosphere))


def _runs(one: Recorded, practice: Practice, units: UnitSystem, atmosphere: float) -> Iterator[JudgedRun]:
    mode: Mode = one.recording.mode
    windows = _windows(one)
    base: Mode = "heating" if mode == "defrost" else mode
    settled = one.watched.frost.settled(one.watched.seen.moments) > 0
    parts: list[tuple[Mode, bool]] = [(base, False)]
    if windows or mode == "defrost":
        parts.append(("defrost", True))
    for run_mode, in_defrost in parts:
        run = Run(
            id=one.recording.id,
            mode=run_mode,
            readings=list(_readings(one, windows, settled, in_defrost=in_defrost)),
            observations=[
                Observation(code=code, value=None if seen else False)
                for code, at, seen in _seen(one)
                if any(start <= at <= end for start, end in windows) is in_defrost
            ],
        )
        context: RunContext = run_context(run, one.unit, practice, units, atmosphere)
        codes = {code for code in one.checks if (code in _OF_THE_SEQUENCE) is in_defrost}
        judged = {code: one.checks[code] for code in codes if one.checks[code].status != "needs_readings"}
        winding = SOLENOID_RESISTANCE.firmly(context)
        if winding is not None and winding.status != "needs_readings":
            judged[SOLENOID_RESISTANCE.code] = SOLENOID_RESISTANCE.check(context, winding)
        yield JudgedRun(
            context,
            judged,
            {code: one.signs[code] for code in codes},
            recorded=True,
        )


_OPEN = frozenset({"defrost.clear_coil"})
"""Checks that ask for more already where they are watched."""


def unmade(recordings: list[Recorded], runs: list[JudgedRun]) -> list[RunContext]:
    """Runs that could be made to tell what a recording leaves open: a forced defrost, and heating where none was read.

    Parameters
    ----------
    recordings : list of Recorded
        Read and judged.
    runs : list of JudgedRun
        Every run there is, those that recordings show among them.

    Returns
    -------
    list of RunContext
        With no readings; empty where nothing was recorded, or nothing of it is open.
    """
    fails = any(
        check.status == "fail" or code in _OPEN
        for one in recordings
        for code, check in one.checks.items()
        if check.status in ("fail", "watch")
    )
    if not fails or recordings[0].unit.source != "air":
        return []
    made = {run.context.run.mode for run in runs if not run.recorded}
    first, here = recordings[0], runs[-1].context
    reverses = first.watched.settings.reverses
    modes: tuple[Mode, ...] = ("heating", "defrost") if reverses else ("heating",)
    return [
        run_context(Run(id=UNMADE, mode=mode), first.unit, here.practice, here.units, here.atmosphere)
        for mode in modes
        if mode not in made
    ]


def _windows(one: Recorded) -> list[tuple[float, float]]:
    tracks = one.watched.seen.tracks
    return [
        (
            tracks.start if call.started is None else call.started,
            (tracks.end if call.ended is None else call.ended) + _AROUND,
        )
        for call in one.watched.course.calls
        if call.shifted or call.off_cycle or call.called is not None
    ]


def _seen(one: Recorded) -> list[tuple[SightCode, float, bool]]:
    known = get_args(SightCode)
    marks = sorted(one.recording.marks, key=lambda mark: mark.seconds)
    return [
        (cast(SightCode, mark.code), mark.seconds, mark.value is not False)
        for mark in marks
        if mark.code in known
    ]


def _readings(
    one: Recorded, windows: list[tuple[float, float]], settled: np.ndarray, *, in_defrost: bool
) -> Iterator[Reading]:
    """Control voltages while a defrost was called for, or while it heated; windings at any time."""
    tracks = one.watched.seen.tracks
    for code in _CONTROL:
        volts, state = tracks.get(code, "voltage"), tracks.get(code, "state")
        track = volts or state
        value = _middle(one, track, windows, settled, in_defrost=in_defrost) if track is not None else None
        if value is not None:
            yield Reading(
                station=code,
                quantity="voltage",
                value=round(value if volts is not None else value * _LIVE, 2),
                unit="V",
                method="meter",
            )
    winding = tracks.get("solenoid", "resistance")
    if winding is not None and in_defrost:
        yield _ohms("solenoid", "resistance", winding)


def _ohms(code: str, quantity: QuantityName, track: Track) -> Reading:
    return Reading(
        station=code,
        quantity=quantity,
        value=round(float(np.median(track.values)), 2),
        unit="ohm",
        method="meter",
    )


def _middle(
    one: Recorded,
    track: Track,
    windows: list[tuple[float, float]],
    settled: np.ndarray,
    *,
    in_defrost: bool,
) -> float | None:
    if in_defrost:
        found = [
            value
            for start, end in windows
            if end - _AROUND - start > 20
            and (value := track.value(start + 10, end - _AROUND - 5)) is not None
        ]
    else:
        values = track.at(one.watched.seen.moments[settled])
        found = values[~np.isnan(values)].tolist()
    return float(np.median(found)) if found else None

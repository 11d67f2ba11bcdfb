"""What an apprentice sees of an attempt: the circuit as it was called for, what was read, the figures worked out of it, and
no word of judgement. What is not named here does not reach the screen."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import cast

from icepick.bench.acts import SETTLES
from icepick.bench.case import Case, at_hand
from icepick.bench.playing import Done, phases, visit_of
from icepick.bench.unit_at_work import CIRCUITS, Phase, shown_at
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.base import Document
from icepick.core.document.codes import QuantityName
from icepick.core.document.examination import RunExamination, Terminal
from icepick.core.document.recording import Recording
from icepick.core.document.stations import station
from icepick.core.examined_run import examined_runs
from icepick.core.practice import DEFAULT_PRACTICE
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, from_si, to_si


def runs_shown(case: Case, done: Sequence[Done], units: UnitSystem) -> list[RunExamination]:
    """Each run with its readings and figures; checks, doubts and what a sound unit would show are left empty.

    Parameters
    ----------
    case : Case
        What is practiced on.
    done : sequence of Done
        The steps so far.
    units : {"field", "metric"}
        Units of what comes out.

    Returns
    -------
    list of RunExamination
        In the order of the runs. The way round is the one called for, whichever way it runs.
    """
    visit = visit_of(case, done)
    unread = [run.model_copy(update={"readings": [], "observations": []}) for run in visit.runs]
    called_for = examined_runs(
        visit.model_copy(update={"runs": unread, "recordings": []}), DEFAULT_PRACTICE, units, None
    )
    read = examined_runs(visit, DEFAULT_PRACTICE, units, None)
    return [_silent(empty.as_shown, full.as_shown) for empty, full in zip(called_for, read, strict=True)]


_TELLS_TOO_MUCH = frozenset({"valve_bypass_fraction", "valve_position_index"})
"""Figures that are a judgement already: where the slide stands, and how much it lets through."""


def _silent(empty: RunExamination, full: RunExamination) -> RunExamination:
    return RunExamination(
        id=empty.id,
        commanded_mode=empty.commanded_mode,
        apparent_mode="unknown",
        running_mode=empty.running_mode,
        path=empty.path,
        meters=empty.meters,
        coils=empty.coils,
        taps=empty.taps,
        stations=empty.stations,
        legs=[leg.model_copy(update={"status": "needs_readings"}) for leg in empty.legs],
        levels=full.levels,
        devices=[],
        readings=full.readings,
        indicators={name: one for name, one in full.indicators.items() if name not in _TELLS_TOO_MUCH},
        expected={},
        expected_indicators={},
        expected_basis="",
        expected_cycle=[],
        departure=None,
        cycle=full.cycle,
        terminals=[
            Terminal(station=one.station, should="either", why="", volts=one.volts, status="needs_readings")
            for one in full.terminals
        ],
        checks=[],
        doubts=[],
    )


def readable(case: Case) -> list[tuple[str, QuantityName]]:
    """Every place that can be read with what is at hand, in walking order; coil circuits come last."""
    numbered = [f"{side}_circuit:{n}" for side in ("indoor", "outdoor") for n in range(1, CIRCUITS + 1)]
    known = set(shown_at(case, [Phase(-case.ran, case.arrives)], 0.0))
    return [
        (code, quantity)
        for code in [*stations_of_unit(case.unit), *numbered]
        for quantity in cast(Iterable[QuantityName], station(code).quantities)
        if (code, quantity) in known and at_hand(case, code, quantity)
    ]


def settles(case: Case, done: Sequence[Done]) -> float:
    """Minutes until what is read may be believed; 0 once it may."""
    # A gauge that is hooked up begins no new settling; a change of mode and a repair do.
    spells = phases(case, done)
    now = spells[-1]
    since = next(
        one.since for one in spells if (one.commanded, one.repaired) == (now.commanded, now.repaired)
    )
    for before, after in pairwise(spells):
        if (before.commanded, before.repaired) != (after.commanded, after.repaired):
            since = after.since
    return max(0.0, SETTLES - ((done[-1].ended if done else 0.0) - since))


class RecordedLine(Document):
    """A temperature through time, in the units asked for."""

    station: str
    seconds: list[float]
    values: list[float]


class OnFor(Document):
    """From one second to another."""

    start: float
    end: float


class RecordedLane(Document):
    """When a thing was on: a fan that turns, a heater that heats, voltage at a terminal."""

    station: str
    on: list[OnFor]


class RecordedShown(Document):
    """A recording as its lines, with no word of what they mean. ``forced`` is the second a defrost was forced, or null."""

    id: str
    unit: str
    seconds: float
    forced: float | None
    lines: list[RecordedLine]
    lanes: list[RecordedLane]


_LIVE = 12.0
"""Half of what a live terminal shows [V]."""
_EVERY = 2
"""Of the samples, so many are drawn."""


def recorded_shown(done: Sequence[Done], units: UnitSystem) -> list[RecordedShown]:
    """Every recording of an attempt, to be drawn.

    Parameters
    ----------
    done : sequence of Done
        The steps so far.
    units : {"field", "metric"}
        Units of the temperatures.

    Returns
    -------
    list of RecordedShown
        In order.
    """
    return [recording_shown(one.recording, units) for one in done if one.recording is not None]


def recording_shown(recording: Recording, units: UnitSystem) -> RecordedShown:
    """A recording, to be drawn."""
    unit = DISPLAY_UNITS[units][Kind.TEMPERATURE]
    lines, lanes = [], []
    for series in recording.series:
        if series.quantity == "temperature":
            values = [
                round(from_si(to_si(value, series.unit, Kind.TEMPERATURE), unit, Kind.TEMPERATURE), 1)
                for value in series.values[::_EVERY]
            ]
            lines.append(
                RecordedLine(station=series.station, seconds=series.seconds[::_EVERY], values=values)
            )
        elif series.quantity in ("state", "voltage"):
            level = 0.5 if series.quantity == "state" else _LIVE
            on = [value > level for value in series.values]
            lanes.append(RecordedLane(station=series.station, on=_spells(series.seconds, on)))
    forced = next((mark.seconds for mark in recording.marks if mark.code == "defrost_forced"), None)
    ends = max(series.seconds[-1] for series in recording.series)
    return RecordedShown(id=recording.id, unit=unit, seconds=ends, forced=forced, lines=lines, lanes=lanes)


def _spells(seconds: Sequence[float], on: Sequence[bool]) -> list[OnFor]:
    found: list[OnFor] = []
    began: float | None = None
    for second, now in zip(seconds, on, strict=True):
        if now and began is None:
            began = second
        if not now and began is not None:
            found.append(OnFor(start=began, end=second))
            began = None
    if began is not None:
        found.append(OnFor(start=began, end=seconds[-1]))
    return found

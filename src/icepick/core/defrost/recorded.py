"""A recording, examined: its course, its defrosts, its checks and doubts, in the units asked for."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Literal, cast

import numpy as np

from icepick.core.circuit.defrost_settings import settings_of
from icepick.core.defrost.checks import RECORDED
from icepick.core.defrost.course import Board, course_of
from icepick.core.defrost.cues import Seen
from icepick.core.defrost.doubts import doubts_of
from icepick.core.defrost.finding import Finding, Judged, RecordedRule
from icepick.core.defrost.frost import Frost, frost_of
from icepick.core.defrost.sequence import Defrost, Watched, defrosts_of, watch
from icepick.core.defrost.sparing import LeftOut, note, spare
from icepick.core.defrost.telling import told
from icepick.core.defrost.tracks import Spot, Track, Tracks, tracks_of
from icepick.core.document.examination import (
    Check,
    DefrostSetting,
    Doubt,
    Indicator,
    Measured,
    MeltingPlateau,
    PlainQuantity,
    RecordingExamination,
    SeenDefrost,
    Spell,
    Switched,
)
from icepick.core.document.recording import Recording
from icepick.core.document.visit import Unit, Visit
from icepick.core.document.wording import display, display_spread
from icepick.core.practice import Practice
from icepick.core.properties.quantities import Kind, UnitSystem


@dataclass(frozen=True, eq=False)
class Recorded:
    """A recording, read and judged."""

    recording: Recording
    unit: Unit
    judged: Judged
    checks: dict[str, Check]
    signs: dict[str, str]
    doubts: list[Doubt]
    left_out: LeftOut

    @cached_property
    def as_shown(self) -> RecordingExamination:
        """As the examination has it, in the units it was judged in."""
        bare = RecordingExamination(
            id=self.recording.id,
            spells=[],
            defrosts=[],
            indicators={},
            checks=[],
            doubts=[],
            settings=[],
            lanes=[],
        )
        shown = spare(self.left_out, "how it is shown", lambda: _shown(self), bare)
        if not self.left_out:
            return shown
        return shown.model_copy(update={"checks": [*shown.checks, _worked_out(self)]})

    @property
    def watched(self) -> Watched:
        """Its tracks, course and frost."""
        return self.judged.watched


def recordings_of(visit: Visit, practice: Practice, units: UnitSystem) -> list[Recorded]:
    """Every recording of a visit, read and judged; one that has not changed is not read again.

    Parameters
    ----------
    visit : Visit
        The visit document.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every sentence.

    Returns
    -------
    list of Recorded
        In their order.
    """
    unit, changes = visit.unit.model_dump_json(), tuple(sorted(practice.changes.items()))
    return [
        _recorded(_Asked(one, unit, changes, units, visit.site.atmosphere, visit.unit, practice))
        for one in visit.recordings
    ]


@dataclass(frozen=True, slots=True, eq=False)
class _Asked:
    """A recording and all that its examination depends on."""

    recording: Recording
    written: str
    changes: tuple[tuple[str, float], ...]
    units: UnitSystem
    atmosphere: float
    unit: Unit
    practice: Practice

    def _key(self) -> tuple[object, ...]:
        return self.written, self.changes, self.units, self.atmosphere

    def __hash__(self) -> int:
        # Samples are compared only where all this is the same.
        one = self.recording
        return hash((self._key(), one.id, one.started_at, tuple(len(each.values) for each in one.series)))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self._key() == other._key() and self.recording == other.recording


@lru_cache(maxsize=16)
def _recorded(asked: _Asked) -> Recorded:
    return recorded(asked.recording, asked.unit, asked.practice, asked.units, asked.atmosphere)


def recorded(
    recording: Recording, unit: Unit, practice: Practice, units: UnitSystem, atmosphere: float
) -> Recorded:
    """Read and judge a recording.

    Parameters
    ----------
    recording : Recording
        Of a visit document.
    unit : Unit
        The equipment.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every sentence.
    atmosphere : float
        Local air pressure [Pa].

    Returns
    -------
    Recorded
        Series that physics contradicts are left out, and said to be.
    """
    left_out: LeftOut = {}
    try:
        every = tracks_of(recording, practice, atmosphere)
        return _recorded_by(every, unit, practice, units, atmosphere, left_out)
    except Exception as error:
        note(left_out, "this recording", error)
    # Nothing of it is believed; it is there, and its visit goes on.
    bare = recording.model_copy(update={"series": [], "marks": []})
    nothing = tracks_of(bare, practice, atmosphere)
    return replace(_recorded_by(nothing, unit, practice, units, atmosphere, left_out), recording=recording)


def _recorded_by(
    every: Tracks, unit: Unit, practice: Practice, units: UnitSystem, atmosphere: float, left_out: LeftOut
) -> Recorded:
    settings = settings_of(unit, practice)
    seen = Seen(every, unit, practice, every.grid, left_out)
    course = course_of(seen, settings)
    none: tuple[list[Doubt], frozenset[Spot]] = ([], frozenset())
    doubts, off = spare(left_out, "its doubts", lambda: doubts_of(seen, course, units), none)
    if off:
        kept = {spot: track for spot, track in every.by_spot.items() if spot not in off}
        fewer = Tracks(every.recording, kept, every.start, every.end, every.marks)
        seen = Seen(fewer, unit, practice, every.grid, left_out)
        course = course_of(seen, settings)
    bare = Frost(seen, course, None, None, atmosphere)
    frost = spare(left_out, "frost on its coil", lambda: _solid(frost_of(seen, course, atmosphere)), bare)
    watched = watch(seen, settings, course, frost)
    defrosts = spare(left_out, "its defrosts", lambda: defrosts_of(watched), list[Defrost]())
    judged = Judged(watched, defrosts, practice, units)
    found = [one for rule in RECORDED if (one := rule.check(judged)) is not None]
    checks = {check.code: check for check, _ in found}
    signs = {check.code: sign for check, sign in found}
    return Recorded(every.recording, unit, judged, checks, signs, doubts, left_out)


def _solid(frost: Frost) -> Frost:
    """The same, once everything that others ask of it was worked out."""
    tracks = frost.seen.tracks
    frost.colder(tracks.end), frost.excess(tracks.start, tracks.end)
    return frost


def _shown(one: Recorded) -> RecordingExamination:
    watched, units = one.watched, one.judged.units
    return RecordingExamination(
        id=one.recording.id,
        spells=[
            Spell(mode=spell.mode, start=_second(spell.start), end=_second(spell.end))
            for spell in watched.course.spells
            if spell.end > spell.start
        ],
        defrosts=[_defrost(watched, each, units) for each in one.judged.defrosts],
        indicators=_indicators(one),
        checks=list(one.checks.values()),
        doubts=one.doubts,
        settings=_settings(watched, units),
        lanes=_lanes(watched),
    )


def _worked_out(one: Recorded) -> Check:
    """What of it was left out, asked last of all; as of a run."""
    what = "; ".join(f"{name} ({why})" for name, why in one.left_out.items())
    explain = f"Icepick could not work out: {what}. What else is said here stands."
    found = replace(WORKED_OUT, judge=lambda _: Finding("watch", explain)).check(one.judged)
    assert found is not None
    return found[0]


WORKED_OUT = RecordedRule(
    "run.worked_out",
    "everything worked out",
    Kind.RATIO,
    None,
    lambda _: None,
    standing="our own choice: what one rule can't work out must not hide what the others can",
)


def _second(moment: float) -> float:
    return round(moment, 1)


def _maybe(moment: float | None) -> float | None:
    return None if moment is None else _second(moment)


def _quantity(value: float | None, units: UnitSystem) -> PlainQuantity | None:
    if value is None:
        return None
    number, unit = display(value, Kind.TEMPERATURE, units)
    return PlainQuantity(value=round(number, 1), unit=unit)


def _measured(value: float | None, band: float, kind: Kind, units: UnitSystem) -> Measured | None:
    if value is None:
        return None
    number, unit = display(value, kind, units)
    return Measured(value=round(number, 2), unit=unit, uncertainty=display_spread(band, kind, units))


_BAND = 0.6
"""Of a difference between a coil and its air, each a middle of minutes [K]."""
_AIR_BAND = 0.15
"""Of the share of air lost: the machine's, not this very unit's."""


def _defrost(watched: Watched, one: Defrost, units: UnitSystem) -> SeenDefrost:
    call, plateau = one.call, one.plateau
    lost = watched.frost.air_lost(one.colder) if one.colder is not None else None
    seen = SeenDefrost(
        started=_maybe(call.started),
        ended=_maybe(call.ended),
        shifted=call.shifted or call.off_cycle,
        run_before=None if one.run_before is None else round(one.run_before / 60, 1),
        started_by=one.started_by,
        ended_by=one.ended_by,
        coil_at_start=_quantity(one.coil_at_start, units),
        coil_highest=_quantity(one.coil_highest, units),
        shift_delay=_maybe(one.shift_delay),
        fan_stopped=one.fan_stopped,
        backup_heat_on=one.backup_heat_on,
        supply_air_lowest=_quantity(one.supply_lowest, units),
        cleared=one.cleared,
        called=_maybe(call.called),
        let_go=_maybe(call.let_go),
        plateau=MeltingPlateau(
            start=_second(plateau.start),
            end=_second(plateau.end),
            temperature=cast(PlainQuantity, _quantity(plateau.temperature, units)),
        )
        if plateau is not None
        else None,
        frost_before=_measured(one.colder, _BAND, Kind.TEMPERATURE_DIFFERENCE, units),
        frost_left=_measured(one.left, _BAND, Kind.TEMPERATURE_DIFFERENCE, units),
        air_lost=_measured(lost, _AIR_BAND, Kind.SHARE, units),
        dry=one.dry,
    )
    return seen.model_copy(update={"words": told(seen)})


def _indicators(one: Recorded) -> dict[str, Indicator]:
    """What frost has done by the recording's end, and the figures of the last defrost."""
    watched, units = one.watched, one.judged.units
    frost, tracks = watched.frost, watched.seen.tracks
    uses = [track.spot[0] for track in (frost.coil, frost.air) if track is not None]
    colder = frost.colder(tracks.end)
    excess = frost.excess(tracks.start, tracks.end)
    ended = [each for each in one.judged.defrosts if each.lasted is not None and each.call.ended is not None]
    figures: list[tuple[str, float | None, float, Kind]] = [
        ("clear_coil_difference", frost.clean, _BAND, Kind.TEMPERATURE_DIFFERENCE),
        ("frost_sag", colder, _BAND, Kind.TEMPERATURE_DIFFERENCE),
        ("frost_air_lost", None if colder is None else frost.air_lost(colder), _AIR_BAND, Kind.SHARE),
        ("frost_water", excess, 0.0002, Kind.SHARE),
        ("defrost_duration", ended[-1].lasted if ended else None, 20.0, Kind.TIME),
    ]
    found = {}
    for name, value, band, kind in figures:
        measured = _measured(value, band, kind, units)
        if measured is not None:
            found[name] = Indicator(
                value=measured.value, unit=measured.unit, uncertainty=measured.uncertainty, uses=uses
            )
    return found


_SETTINGS: tuple[
    tuple[Literal["interval", "least_interval", "start_below", "stop_above", "limit"], Kind], ...
] = (
    ("interval", Kind.TIME),
    ("least_interval", Kind.TIME),
    ("start_below", Kind.TEMPERATURE),
    ("stop_above", Kind.TEMPERATURE),
    ("limit", Kind.TIME),
)


def _settings(watched: Watched, units: UnitSystem) -> list[DefrostSetting]:
    settings = watched.settings
    if settings.method == "none":
        return []
    found = []
    for name, kind in _SETTINGS:
        number, unit = display(getattr(settings, name), kind, units)
        found.append(
            DefrostSetting(
                name=name,
                setting=PlainQuantity(value=round(number, 2), unit=unit),
                assumed=not settings.known(name),
            )
        )
    return found


def _lanes(watched: Watched) -> list[Switched]:
    board: Board = watched.course.board
    valve = [(_second(one.start), _second(one.end)) for one in watched.course.spells if one.mode == "defrost"]
    whole = [(_second(watched.seen.tracks.start), _second(watched.seen.tracks.end))]
    lanes = [Switched(name="reversing_valve", on=valve, known=whole)]
    for name, track in (
        ("compressor", board.compressor),
        ("outdoor_fan", board.fan),
        ("backup_heat", board.heat),
    ):
        if track is not None:
            lanes.append(
                Switched(
                    name=cast(Literal["compressor"], name),
                    on=_stretches(track, watched.seen.tracks.end),
                    known=[(_second(float(track.seconds[0])), whole[0][1])],
                )
            )
    return lanes


def _stretches(track: Track, end: float) -> list[tuple[float, float]]:
    changes = [0, *(np.flatnonzero(np.diff(track.values)) + 1).tolist()]
    edges = [*(float(track.seconds[i]) for i in changes), end]
    return [
        (_second(edges[i]), _second(edges[i + 1])) for i, at in enumerate(changes) if track.values[at] > 0.5
    ]

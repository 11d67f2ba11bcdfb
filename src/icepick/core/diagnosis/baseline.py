"""Which earlier visits a unit is learned from, and what they taught, in words.

A visit teaches where the unit was found sound at it, by readings that a machine can be held against; what it taught narrows
every prediction of the unit since.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from icepick.core.circuit.learned import Learned
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.diagnosis.machine_evidence import held
from icepick.core.document.examination import Baseline, EarlierVisit, LearnedFigure
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.expected import COVERAGE, unknown_of
from icepick.core.machine.sized_unit import called
from icepick.core.machine.sizing import UnsizedError, size
from icepick.core.machine.unknowns import Unknown
from icepick.core.practice import Practice
from icepick.core.prediction.learning import both, learn, of_a_sibling
from icepick.core.prediction.stack import stacked
from icepick.core.properties.quantities import SYMBOLS, Kind, UnitSystem, spread_from_si

MOST_EARLIER = 6
"""Earlier visits that are learned from, the last ones."""
_NARROWED = 0.8
"""An unknown is told of where so little of its spread is left."""
_MODES: tuple[FlowMode, ...] = ("heating", "cooling")
_OF_NO_INTEREST = frozenset({"current"})
"""Learned, and nothing a technician would act on."""


@dataclass(frozen=True, slots=True)
class Judged:
    """An earlier visit: of which unit, its runs, and what is thought of them."""

    unit: Unit
    runs: list[JudgedRun]
    belief: Belief | None


def baseline(
    unit: Unit,
    earlier: Sequence[Judged],
    practice: Practice,
    units: UnitSystem,
    siblings: Sequence[Judged] = (),
) -> tuple[Learned | None, Baseline]:
    """What earlier visits taught of a unit, and at this one the other circuits beside it.

    Parameters
    ----------
    unit : Unit
        As it is described now.
    earlier : sequence of Judged
        Visits before, oldest first.
    practice : Practice
        How sure a verdict of "nothing wrong" must have been (``baseline_sound``).
    units : {"field", "metric"}
        Units of what comes out.
    siblings : sequence of Judged
        What was read at the same visit on the unit's other circuits.

    Returns
    -------
    tuple of Learned or None, Baseline
        None where nothing was learned.
    """
    told, teaching = [], list[JudgedRun]()
    first = max(len(earlier) - MOST_EARLIER, 0)
    for place, one in enumerate(earlier):
        why = "There are later ones enough." if place < first else _why_not(unit, one, practice)
        told.append(EarlierVisit(place=place, used=not why, why=why))
        teaching += [] if why else one.runs
    runs = held(teaching)
    learned = learn(stacked(runs)) if any(run.readings for run in runs) else None
    sound = [one for one in siblings if not _why_not(unit, one, practice)]
    for one in sound:
        learned = both(learned, of_a_sibling(learn(stacked(held(one.runs)))))
    if learned is None:
        return None, Baseline(visits=told, learned=[], words="")
    figures = _figures(unit, learned, units)
    used = sum(one.used for one in told)
    return learned, Baseline(visits=told, learned=figures, words=_words(used, len(sound)))


def _words(visits: int, siblings: int) -> str:
    sources = []
    if visits:
        sources.append(f"{visits} earlier visit{'s' if visits > 1 else ''}")
    if siblings:
        beside = "the circuit" if siblings == 1 else f"{siblings} circuits"
        sources.append(f"{beside} beside it")
    return f"Learned from {' and '.join(sources)} at which nothing was wrong."


def _why_not(unit: Unit, one: Judged, practice: Practice) -> str:
    """Why a visit teaches nothing, in a sentence; empty where it does."""
    try:
        if size(unit) != size(one.unit):
            return "The unit was described otherwise then."
    except UnsizedError:
        return "This unit can't be sized."
    if one.belief is None:
        return "Nothing was read that counts."
    if any(check.status == "fail" for run in one.runs for check in run.checks.values()):
        return "A check failed at it."
    sound = sum(
        float(share)
        for hypothesis, share in zip(one.belief.hypotheses, one.belief.probabilities, strict=True)
        if hypothesis.fault == "none"
    )
    if sound < practice.si("baseline_sound"):
        return "It was not sure enough that nothing was wrong."
    return "" if any(run.readings for run in held(one.runs)) else "Nothing was read that a machine shows."


def _figures(unit: Unit, learned: Learned, units: UnitSystem) -> list[LearnedFigure]:
    """What was narrowed, the most first."""
    machine = size(unit)
    known = {called(machine, mode, one.name): one for mode in _MODES for one in unknown_of(unit, mode)}
    found = []
    for place, name in enumerate(learned.names):
        left = sqrt(float(learned.covariance[place, place]))
        if name in known and name not in _OF_NO_INTEREST and left < _NARROWED:
            device = name.partition(" of the ")[2]
            found.append((left, _figure(unit, known[name], device, float(learned.mean[place]), left, units)))
    return [figure for _, figure in sorted(found, key=lambda one: one[0])]


def _figure(
    unit: Unit, unknown: Unknown, device: str, mean: float, left: float, units: UnitSystem
) -> LearnedFigure:
    value, band = mean * unknown.spread, COVERAGE * left * unknown.spread
    if unknown.unit == "share":
        symbol, number, reach = "percent", 100 * value, 100 * band
    else:
        symbol = "delta_degF" if units == "field" else "delta_degC"
        number, reach = (
            spread_from_si(one, symbol, Kind.TEMPERATURE_DIFFERENCE) for one in (abs(value), band)
        )
        number = number if value >= 0 else -number
    number, reach = float(round(number)), float(max(round(reach), 1))
    side = "over" if number > 0 else "under"
    away = f"{abs(number):g} {SYMBOLS[symbol]} {side} the usual" if number else "as usual"
    title = _title(unit, unknown) + (f", {device}" if device else "")
    return LearnedFigure(
        name=unknown.name,
        title=title,
        value=number,
        uncertainty=reach,
        unit=symbol,
        words=f"{title} {away} ± {reach:g}",
    )


def _title(unit: Unit, unknown: Unknown) -> str:
    medium = unit.load if "indoor" in unknown.name else unit.source
    return unknown.title.replace("air or water", medium)

"""A visit to one circuit examined: runs and recordings together, beside what earlier visits and siblings taught of it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import lru_cache

from icepick.core.checks.advice import advise
from icepick.core.checks.board import board_lines
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.circuit.learned import Learned
from icepick.core.defrost.recorded import recordings_of
from icepick.core.diagnosis.baseline import Judged, baseline
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.call_answer import call_answer
from icepick.core.diagnosis.next_reading import next_readings
from icepick.core.diagnosis.ranking import believe, rank
from icepick.core.diagnosis.recorded_runs import recorded_runs, unmade
from icepick.core.diagnosis.together import shared
from icepick.core.diagnosis.verdict import verdict
from icepick.core.document.examination import Baseline, Examination, Fault, PlainQuantity
from icepick.core.document.visit import Unit, Visit
from icepick.core.document.wording import name
from icepick.core.examined_run import examined_runs
from icepick.core.practice import Practice, limit
from icepick.core.properties.quantities import UnitSystem


@dataclass(frozen=True, slots=True)
class Asked:
    """A visit to one circuit, earlier visits to it, oldest first, and at this visit its sibling circuits."""

    visit: Visit
    practice: Practice
    units: UnitSystem
    earlier: tuple[Visit, ...] = ()
    siblings: tuple[Visit, ...] = ()


def examined(asked: Asked) -> tuple[Examination, Belief | None]:
    """What is said of it, and what is thought of every hypothesis.

    Parameters
    ----------
    asked : Asked
        The visit and what stands beside it.

    Returns
    -------
    (Examination, Belief or None)
        None while nothing that counts was read.
    """
    visit, practice, units = asked.visit, asked.practice, asked.units
    taught = _taught(asked) if asked.earlier or asked.siblings else _Taught(None, None, {})
    learned = taught.learned
    runs = examined_runs(visit, practice, units, learned)
    if asked.siblings:
        beside = [one for each in asked.siblings for one in examined_runs(each, practice, units, None)]
        runs = [one.beside(beside) for one in runs]
    trusted = [run.judged() for run in runs]
    watched = recordings_of(visit, practice, units)
    every = [*trusted, *recorded_runs(watched, practice, units, visit.site.atmosphere)]
    belief = believe(every, visit.complaint, taught.beside)
    ranking = rank(belief, every)
    following = next_readings(
        belief, trusted, unmade(watched, every), recorded=bool(watched), complaint=visit.complaint
    )
    shown = [run.after(judged) for run, judged in zip(runs, trusted, strict=True)]
    recordings = [one.as_shown for one in watched]
    said = verdict(visit, shown, ranking, following, recordings, call_answer(visit.complaint, trusted))
    found = Examination(
        headline=said.headline,
        verdict=said.text,
        outcome=said.outcome,
        lead=said.lead,
        concluded=list(said.faults),
        advice=advise(visit.unit, practice),
        baseline=taught.baseline,
        station_names=dict(_names(visit.unit)),
        runs=shown,
        recordings=recordings,
        board=board_lines([run.context for run in runs]),
        ranking=ranking,
        next_readings=following,
        changed_limits={
            name: PlainQuantity(value=value, unit=limit(name).unit)
            for name, value in practice.changes.items()
        },
    )
    return found, belief


def before_and_after(visit: Visit) -> tuple[Visit, Visit | None]:
    """What was found, and how the unit was left, where both were looked at: the complaint is about what was found.

    Parameters
    ----------
    visit : Visit
        The visit document.

    Returns
    -------
    (Visit, Visit or None)
        None where nothing was read after a repair, or nothing before it.
    """
    after = [run for run in visit.runs if run.after_repair]
    before = [run for run in visit.runs if not run.after_repair]
    if not after or not (before or visit.recordings):
        return visit, None
    return (
        visit.model_copy(update={"runs": before}),
        visit.model_copy(update={"runs": after, "recordings": [], "complaint": None}),
    )


@dataclass(frozen=True, slots=True)
class _Teaching:
    """What a unit is learned from; documents count by what is written of them."""

    written: tuple[str, ...]
    changes: tuple[tuple[str, float], ...]
    asked: Asked = field(compare=False)


@dataclass(frozen=True, slots=True)
class _Taught:
    """What was learned of the unit, from which visits, and what siblings leave of faults they would share."""

    learned: Learned | None
    baseline: Baseline | None
    beside: Mapping[Fault, float]


def _taught(asked: Asked) -> _Taught:
    every = (*asked.earlier, *asked.siblings)
    # How many are earlier ones, so that an earlier visit is never taken for a sibling with the same words.
    written = (
        str(len(asked.earlier)),
        asked.units,
        asked.visit.unit.model_dump_json(),
        *(one.model_dump_json() for one in every),
    )
    return _learned(_Teaching(written, tuple(asked.practice.changes.items()), asked))


@lru_cache(maxsize=64)
def _learned(teaching: _Teaching) -> _Taught:
    asked = teaching.asked
    earlier, siblings = (
        [_judged(one, asked.practice, asked.units) for one in each]
        for each in (asked.earlier, asked.siblings)
    )
    beliefs = [one.belief for one in siblings if one.belief is not None]
    learned, told = baseline(asked.visit.unit, earlier, asked.practice, asked.units, siblings)
    return _Taught(learned, told, shared(beliefs, asked.visit.complaint))


def _judged(visit: Visit, practice: Practice, units: UnitSystem) -> Judged:
    # A unit that was mended is as it was left.
    found, left = before_and_after(visit)
    visit = left or found
    runs = [run.judged() for run in examined_runs(visit, practice, units, None)]
    return Judged(visit.unit, runs, believe(runs, visit.complaint))


def _names(unit: Unit) -> Iterator[tuple[str, str]]:
    for code in stations_of_unit(unit):
        yield code, name(unit, code)

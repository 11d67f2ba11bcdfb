"""The front door: a visit goes in, an examination comes out."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache

from icepick.core.checks.advice import advise
from icepick.core.checks.board import board_lines
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.circuit.learned import Learned
from icepick.core.defrost.recorded import recordings_of
from icepick.core.diagnosis.baseline import Judged, baseline
from icepick.core.diagnosis.next_reading import next_readings
from icepick.core.diagnosis.ranking import believe, rank
from icepick.core.diagnosis.recorded_runs import recorded_runs, unmade
from icepick.core.diagnosis.verdict import verdict
from icepick.core.document.examination import AfterRepair, Baseline, Examination, Fault, PlainQuantity
from icepick.core.document.visit import Unit, Visit, parse_unit, parse_visit
from icepick.core.document.wording import name
from icepick.core.examined_run import examined_runs
from icepick.core.practice import DEFAULT_PRACTICE, Practice, limit
from icepick.core.properties.quantities import UnitSystem


def examine(
    visit: Visit,
    practice: Practice = DEFAULT_PRACTICE,
    units: UnitSystem = "field",
    earlier: Sequence[Visit] = (),
) -> Examination:
    """Examine a visit.

    Parameters
    ----------
    visit : Visit
        What was read, of which unit, in which modes.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of every number and sentence that comes out; the judgement does not depend on them.
    earlier : sequence of Visit
        Visits to the same unit before this one, oldest first; those at which nothing was wrong teach what it is like.

    Returns
    -------
    Examination
        Pure function of its arguments.
    """
    found, left = _before_and_after(visit)
    if left is None:
        return _examine(found, practice, units, earlier)
    before, after = (_examine(one, practice, units, earlier) for one in (found, left))
    of_run = {run.id: run for run in (*before.runs, *after.runs)}
    return before.model_copy(
        update={
            "runs": [of_run[run.id] for run in visit.runs],
            "next_readings": after.next_readings,
            "after_repair": AfterRepair(
                headline=after.headline, verdict=after.verdict, outcome=after.outcome
            ),
        }
    )


def probabilities(visit: Visit, practice: Practice) -> dict[Fault, float]:
    """How likely each fault is by what was read, without the sentences: the ranking of :func:`examine`, sooner.

    Parameters
    ----------
    visit : Visit
        What was read, of which unit, in which modes; all of its runs count.
    practice : Practice
        The limits in force.

    Returns
    -------
    dict
        Fault → probability, summing to 1; empty while nothing that counts was read.
    """
    watched = recordings_of(visit, practice, "field")
    judged = [run.judged() for run in examined_runs(visit, practice, "field", None)]
    belief = believe(
        [*judged, *recorded_runs(watched, practice, "field", visit.site.atmosphere)], visit.complaint
    )
    found: dict[Fault, float] = {}
    if belief is not None:
        for hypothesis, share in zip(belief.hypotheses, belief.probabilities, strict=True):
            found[hypothesis.fault] = found.get(hypothesis.fault, 0.0) + float(share)
    return found


def _before_and_after(visit: Visit) -> tuple[Visit, Visit | None]:
    """What was found, and how the unit was left, where both were looked at: the complaint is about what was found."""
    after = [run for run in visit.runs if run.after_repair]
    before = [run for run in visit.runs if not run.after_repair]
    if not after or not (before or visit.recordings):
        return visit, None
    return (
        visit.model_copy(update={"runs": before}),
        visit.model_copy(update={"runs": after, "recordings": [], "complaint": None}),
    )


def _examine(visit: Visit, practice: Practice, units: UnitSystem, earlier: Sequence[Visit]) -> Examination:
    learned, before = _taught(visit, earlier, practice, units) if earlier else (None, None)
    examined = examined_runs(visit, practice, units, learned)
    trusted = [run.judged() for run in examined]
    watched = recordings_of(visit, practice, units)
    every = [*trusted, *recorded_runs(watched, practice, units, visit.site.atmosphere)]
    belief = believe(every, visit.complaint)
    ranking = rank(belief, every)
    following = next_readings(belief, trusted, unmade(watched, every), recorded=bool(watched))
    runs = [run.after(judged) for run, judged in zip(examined, trusted, strict=True)]
    recordings = [one.as_shown for one in watched]
    said = verdict(visit, runs, ranking, following, recordings)
    return Examination(
        headline=said.headline,
        verdict=said.text,
        outcome=said.outcome,
        lead=said.lead,
        concluded=list(said.faults),
        advice=advise(visit.unit, practice),
        baseline=before,
        station_names=dict(_names(visit.unit)),
        runs=runs,
        recordings=recordings,
        board=board_lines([run.context for run in examined]),
        ranking=ranking,
        next_readings=following,
        changed_limits={
            name: PlainQuantity(value=value, unit=limit(name).unit)
            for name, value in practice.changes.items()
        },
    )


def _taught(
    visit: Visit, earlier: Sequence[Visit], practice: Practice, units: UnitSystem
) -> tuple[Learned | None, Baseline]:
    documents = tuple(one.model_dump_json() for one in earlier)
    return _learned(visit.unit.model_dump_json(), documents, tuple(practice.changes.items()), units)


@lru_cache(maxsize=64)
def _learned(
    unit: str, earlier: tuple[str, ...], changes: tuple[tuple[str, float], ...], units: UnitSystem
) -> tuple[Learned | None, Baseline]:
    practice = Practice(dict(changes))
    visits = [parse_visit(text) for text in earlier]
    return baseline(parse_unit(unit), [_judged(one, practice, units) for one in visits], practice, units)


def _judged(visit: Visit, practice: Practice, units: UnitSystem) -> Judged:
    # A unit that was mended is as it was left.
    found, left = _before_and_after(visit)
    visit = left or found
    runs = [run.judged() for run in examined_runs(visit, practice, units, None)]
    return Judged(visit.unit, runs, believe(runs, visit.complaint))


def _names(unit: Unit) -> Iterator[tuple[str, str]]:
    for code in stations_of_unit(unit):
        yield code, name(unit, code)

"""The front door: a visit goes in, an examination comes out."""

from __future__ import annotations

from collections.abc import Sequence

from icepick.core.defrost.recorded import recordings_of
from icepick.core.diagnosis.ranking import believe
from icepick.core.diagnosis.recorded_runs import recorded_runs
from icepick.core.document.examination import AfterRepair, CircuitExamination, Examination, Fault
from icepick.core.document.visit import Visit
from icepick.core.examined_circuits import examined_circuits
from icepick.core.examined_run import examined_runs
from icepick.core.examined_visit import Asked, before_and_after, examined
from icepick.core.practice import DEFAULT_PRACTICE, Practice
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
    found, left = before_and_after(visit)
    before = _examine(Asked(found, practice, units, tuple(earlier)))
    if left is None:
        return before
    after = _examine(Asked(left, practice, units, tuple(earlier)))
    of_run = {run.id: run for run in (*before.runs, *after.runs)}
    return before.model_copy(
        update={
            "runs": [of_run[run.id] for run in visit.runs],
            "next_readings": after.next_readings,
            "after_repair": _left_as(after),
            "circuits": [
                one.model_copy(
                    update={
                        "runs": [run.id for run in visit.runs if run.circuit == one.id],
                        "next_readings": now.next_readings,
                        "after_repair": _left_as(now) if now.runs else None,
                    }
                )
                for one, now in zip(before.circuits, after.circuits, strict=True)
            ],
        }
    )


def _examine(asked: Asked) -> Examination:
    return examined_circuits(asked) if asked.visit.unit.circuits else examined(asked)[0]


def _left_as(after: Examination | CircuitExamination) -> AfterRepair:
    return AfterRepair(headline=after.headline, verdict=after.verdict, outcome=after.outcome)


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

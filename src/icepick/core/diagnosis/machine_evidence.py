"""What temperatures, pressures, currents and flows say: every fault foretold by the machine model and held against all that
was read, in all runs together."""

from __future__ import annotations

from collections.abc import Sequence
from math import log

import numpy as np

from icepick.core.circuit.context import RunContext, attempt, run_context
from icepick.core.circuit.load import medium_entering
from icepick.core.diagnosis.evidence import JudgedRun, Term
from icepick.core.diagnosis.hypotheses import Hypothesis
from icepick.core.diagnosis.turning import put_off
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Run
from icepick.core.machine.faults import MachineFault, machine_fault, possible
from icepick.core.machine.surroundings import out_of_range
from icepick.core.prediction.fit import Fit, fit
from icepick.core.prediction.stack import stacked
from icepick.core.prediction.taken import TakenRun, taken

QUESTION = "the machine"
MOST_RUNS = 4
"""Runs of one mode that are held against machines, the last ones: another of the same says next to nothing more."""
Asked = tuple[MachineFault, FlowMode | None]


class Machines:
    """Every fault's machine, held against the readings."""

    def terms(self, runs: Sequence[JudgedRun], hypotheses: Sequence[Hypothesis]) -> list[Term]:
        """One term for all readings of all runs; none where no machine can be held against them.

        Parameters
        ----------
        runs : sequence of JudgedRun
            The runs, each with the checks that rest on readings which may carry a judgement.
        hypotheses : sequence of Hypothesis
            What may be wrong.

        Returns
        -------
        list of Term
            One at most.
        """
        found = held([run for run in runs if not run.recorded])
        if not any(run.readings for run in found):
            return []
        asked = {h: one for h in hypotheses if (one := _asked(h, found))}
        context = found[0].context
        fitted = attempt(
            context,
            "what the faults would show",
            lambda: fit(stacked(found), list(dict.fromkeys(asked.values()))),
            None,
        )
        if fitted is None:
            return []
        logs = np.array([_of(hypothesis, asked.get(hypothesis), fitted) for hypothesis in hypotheses])
        return [Term("", None, (), logs - fitted.sound, QUESTION, fit=fitted)]


def held(runs: Sequence[JudgedRun]) -> list[TakenRun]:
    """The runs that machines are held against: of each mode the last few.

    Parameters
    ----------
    runs : sequence of JudgedRun
        In the order they were made.

    Returns
    -------
    list of TakenRun
        In that order.
    """
    found: list[TakenRun] = []
    for run in reversed(runs):
        if sum(one.context.running == run.context.running for one in found) < MOST_RUNS:
            found += _taken(run.context)
    return found[::-1]


def _taken(context: RunContext) -> list[TakenRun]:
    """One; none where no machine is held against a run, or its prediction trips."""
    found = attempt(context, "what the unit would show", lambda: taken(context), None)
    return [found] if found is not None else []


def turned_round(found: Fit, runs: Sequence[JudgedRun]) -> Fit | None:
    """The same readings, and beside them the other mode, of which nothing is read yet: what it would show is foretold too.

    Parameters
    ----------
    found : Fit
        Machines held against the readings.
    runs : sequence of JudgedRun
        The runs that were made.

    Returns
    -------
    Fit or None
        None where there is no other mode to turn to.
    """
    to_come = [one for context in other_mode(runs) for one in _taken(context)]
    if not to_come:
        return None
    asked = [(fault, mode) for code, mode in found.faults if (fault := machine_fault(code)) is not None]
    context = to_come[0].context
    every = [*found.stack.runs, *to_come]
    return attempt(context, "what the other mode would show", lambda: fit(stacked(every), asked), None)


def other_mode(runs: Sequence[JudgedRun]) -> list[RunContext]:
    """The other mode, as a run that has yet to be made: with the same entering, where that mode can be run in it.

    Parameters
    ----------
    runs : sequence of JudgedRun
        The runs that were made.

    Returns
    -------
    list of RunContext
        One; none where both modes were run, or neither, or the weather forbids the other.
    """
    modes = {run.context.commanded for run in runs} - {None}
    if len(modes) != 1:
        return []
    (mode,) = modes
    here = next(run.context for run in runs if run.context.commanded)
    other: FlowMode = "heating" if mode == "cooling" else "cooling"
    if put_off(here, other):
        return []
    entering = {medium_entering(here, coil) for coil in ("outdoor_coil", "indoor_coil")}
    kept = [
        current.reading
        for current in here.readings.all()
        if current.reading.station in entering
        and (
            current.reading.quantity != "temperature"
            or not out_of_range(
                current.reading.station, other, float(current.value.nominal_value), here.units
            )
        )
    ]
    run = Run(id="to come", mode=other, heads_calling=here.run.heads_calling, readings=kept)
    return [run_context(run, here.unit, here.practice, here.units, here.atmosphere, learned=here.learned)]


def _asked(hypothesis: Hypothesis, runs: Sequence[TakenRun]) -> Asked | None:
    fault = machine_fault(hypothesis.fault)
    if fault is None or fault.backwards:
        return None
    unit = runs[0].context.unit
    modes = {run.context.running for run in runs} - {None}
    shows = any(mode is not None and possible(fault, unit, mode) for mode in modes)
    return (fault, hypothesis.mode) if shows else None


_ALSO_LIKE: dict[Fault, Fault] = {
    "head_meter_leaking": "active_meter_overfeeding",
    "head_meter_closed": "active_meter_underfeeding",
}
"""What a fault of one head does to what all heads share, where it does anything: too much comes back, or too little."""
_SELDOM = 0.1
"""How often it does. [our own choice]"""


def _of(hypothesis: Hypothesis, asked: Asked | None, found: Fit) -> float:
    """What shows in no reading a machine foretells reads like a sound one."""
    if hypothesis.fault == "reading_suspect" and hypothesis.variant == "one off" and found.wrong:
        return found.wrong.together
    if hypothesis.fault in _ALSO_LIKE:
        like = found.faults.get((_ALSO_LIKE[hypothesis.fault], None))
        if like is None:
            return found.sound
        return float(np.logaddexp(log(1 - _SELDOM) + found.sound, log(_SELDOM) + like.log_likelihood))
    if asked is None:
        return found.sound
    fitted = found.faults.get((asked[0].fault, asked[1]))
    return found.sound if fitted is None else fitted.log_likelihood

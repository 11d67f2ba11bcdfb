"""What to measure next: the reading that tells the likely faults apart for the least effort and intrusion.

First come the pipes at the valve while its position is not known (the-trade.md 1). Then every question that is still
open is weighed: by how much its answer would be expected to narrow the ranking (drop of entropy, from the same tables
as the ranking itself), per minute of work, gauges and a change of mode charged for. Some are answered by looking. A
reading that may not carry a judgement counts as not taken. [our own choice of minutes]
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext, context_of
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.diagnosis.evidence import Checks, Feature, Spot
from icepick.core.diagnosis.ranking import FEATURES, Belief, JudgedRun
from icepick.core.diagnosis.water_evidence import gauges_too_early
from icepick.core.document.examination import Fault, NextReading
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station, walking_order
from icepick.core.document.visit import Run

_MINUTES = {
    Group.LINE: 1.0,
    Group.AIR: 1.0,
    Group.WATER: 1.5,
    Group.CIRCUIT: 1.0,
    Group.ELECTRICAL: 2.0,
    Group.TAP: 8.0,
}
_LOOK = 0.5
_SWITCH_MODE = 12.0
_WORTH = 0.04
"""Bits: a question expected to tell less than this is not asked."""
_MOST = 6
_LOOKS = 2
"""Looks cost little, and must not crowd out what an instrument answers."""
_NO_FLOW = ("command.call", "compressor.running")
_OF_CONTROL = ("voltage", "resistance")
_LIKELY = 0.03
_CLEARLY = 0.2


@dataclass(frozen=True, slots=True)
class _Question:
    feature: Feature
    context: RunContext
    missing: list[Spot]
    gain: float
    minutes: float
    run: str | None


def next_readings(belief: Belief | None, runs: list[JudgedRun]) -> list[NextReading]:
    """Stations to read, the most telling per minute of work first.

    Parameters
    ----------
    belief : Belief or None
        What is thought of each hypothesis; None while nothing that counts was read.
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.

    Returns
    -------
    list of NextReading
        Empty where nothing left is worth its minutes.
    """
    first = list(_valve_pipes(runs))
    named = {(reading.station, reading.quantity, reading.run) for reading in first}
    found = list(first)
    begun = any(run.context.temperature(pipe) is not None for run in runs for pipe in VALVE_PIPES)
    if belief is None or (first and begun):
        return found
    likely, different = _likely(belief)
    questions = sorted(_questions(belief, runs), key=lambda q: -q.gain / q.minutes)
    for question in questions:
        if sum(one.observe is None for one in found) - len(first) >= _MOST:
            break
        spots: list[Spot] = sorted(question.missing, key=lambda s: walking_order(s[0]))
        if question.feature.look is not None:
            looks = sum(one.observe is not None for one in found)
            spots = [("", "temperature")] if looks < _LOOKS else []
        fresh = [spot for spot in spots if (*spot, question.run) not in named or not spot[0]]
        if not fresh:
            continue
        separated = _separates(belief, likely, different, question)
        for spot in fresh:
            named.add((*spot, question.run))
            found.append(_reading(question, spot, separated))
    return found


def _valve_pipes(runs: list[JudgedRun]) -> Iterator[NextReading]:
    """The pipes at the valve that are unread, run by run, in walking order."""
    for run in runs:
        if run.context.commanded is None or _stopped(run.checks):
            continue
        for code in run.context.readings.missing(*VALVE_PIPES):
            yield NextReading(
                station=code,
                quantity="temperature",
                observe=None,
                mode=run.context.run.mode,
                run=run.context.run.id,
                switch_mode=False,
                why="Tells which side the slide is on, and whether it bypasses.",
                separates=[],
            )


def _questions(belief: Belief, runs: list[JudgedRun]) -> Iterator[_Question]:
    answered = {(one.feature.name, one.run.context.run.id) for one in belief.observed}
    contexts: list[tuple[RunContext, Checks, str | None, float]] = [
        (run.context, run.checks, run.context.run.id, 0.0) for run in runs if run.context.commanded
    ]
    if not all(_stopped(run.checks) for run in runs):
        contexts += [(other, {}, None, _SWITCH_MODE) for other in _other_mode(runs)]
    for context, checks, run_id, extra in contexts:
        without_gauges, stopped = gauges_too_early(context, checks), _stopped(checks)
        for feature, gain in zip(FEATURES, _gains(belief, context.commanded), strict=True):
            if gain < _WORTH or not feature.applies(context) or (feature.name, run_id) in answered:
                continue
            if feature.look is not None:
                if run_id is not None and not stopped:
                    yield _Question(feature, context, [], gain, _LOOK, run_id)
                continue
            spots = feature.spots(context)
            missing = [spot for spot in spots if context.value(*spot) is None]
            if not missing or (
                without_gauges and any(station(code).group is Group.TAP for code, _ in missing)
            ):
                continue
            if stopped and any(quantity not in _OF_CONTROL for _, quantity in missing):
                continue
            minutes = extra + sum(_MINUTES[station(code).group] for code, _ in missing)
            yield _Question(feature, context, missing, gain, minutes, run_id)


def _stopped(checks: Checks) -> bool:
    """Whether the compressor has no call or does not run: then only the control circuit has something to tell."""
    return any(code in checks and checks[code].status == "fail" for code in _NO_FLOW)


def _other_mode(runs: list[JudgedRun]) -> list[RunContext]:
    """The other mode, as a run that has yet to be made."""
    modes = {run.context.commanded for run in runs} - {None}
    if len(modes) != 1:
        return []
    (mode,) = modes
    here = next(run.context for run in runs if run.context.commanded)
    run = Run(id="to come", mode="heating" if mode == "cooling" else "cooling")
    return [context_of(run, here.unit, here.practice, here.units, here.atmosphere)]


def _gains(belief: Belief, mode: FlowMode | None) -> list[float]:
    """Expected drop of entropy [bits] from the answer to each feature, in a run of a mode.

    H(faults) − H(faults | answer), taken as H(answer) − H(answer | fault).
    """
    tables, starts, noise = _side_by_side(mode)
    answers = belief.probabilities @ tables[belief.rows]
    entropies = np.add.reduceat(-answers * np.log2(answers), starts)
    return (entropies - belief.probabilities @ noise[belief.rows]).tolist()  # type: ignore[no-any-return]


@cache
def _side_by_side(mode: FlowMode | None) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
    """The tables of all features for a mode as one, the column at which each starts, and the entropy [bits] of each
    one's answer (columns) under each hypothesis (rows)."""
    tables = [feature.tables[mode] for feature in FEATURES]
    starts = np.cumsum([0, *(table.shape[1] for table in tables[:-1])])
    noise = np.stack([-(table * np.log2(table)).sum(axis=1) for table in tables], axis=1)
    return np.hstack(tables), starts, noise


def _reading(question: _Question, spot: Spot, separates: list[Fault]) -> NextReading:
    mode = question.context.run.mode
    switch = question.run is None
    return NextReading(
        station=spot[0],
        quantity=spot[1],
        observe=question.feature.look,
        mode=mode,
        run=question.run,
        switch_mode=switch,
        why=(f"Switch mode to {mode}. " if switch else "") + question.feature.reason,
        separates=separates,
    )


def _likely(belief: Belief) -> tuple[list[int], NDArray[np.bool_]]:
    """The likely hypotheses, and which pairs of them are different faults."""
    likely = np.flatnonzero(belief.probabilities >= _LIKELY).tolist()
    faults = np.array([belief.hypotheses[i].fault for i in likely])
    return likely, faults[:, None] != faults


def _separates(
    belief: Belief, likely: list[int], different: NDArray[np.bool_], question: _Question
) -> list[Fault]:
    """The two likely faults whose answers differ most."""
    if not different.any():
        return []
    rows = np.array([belief.rows[i] for i in likely])
    apart = question.feature.apart[question.context.commanded][rows[:, None], rows] * different
    pair = sorted(divmod(int(apart.argmax()), len(likely)))
    if apart[pair[0], pair[1]] <= _CLEARLY:
        return []
    return [belief.hypotheses[likely[i]].fault for i in pair]

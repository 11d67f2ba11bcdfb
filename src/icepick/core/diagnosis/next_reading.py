"""What to measure next: the reading that tells the likely faults apart for the least effort and intrusion.

First come the pipes at the valve while its position is not known (the-trade.md 1). Then everything that could be read, looked
at or done is weighed: by how much its answer is expected to narrow the ranking (drop of entropy), per minute of work, gauges
and a change of mode charged for. What a reading would show under each hypothesis is foretold by the machine model, all that
was read considered; what no machine shows, by the tables. A reading that may not carry a judgement counts as not taken. [our
own choice of minutes]
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.circuit.load import medium_entering
from icepick.core.circuit.readings import uncertainty
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import Checks, Feature, JudgedRun, Spot
from icepick.core.diagnosis.gauges import gauges_too_early
from icepick.core.diagnosis.machine_evidence import other_mode, turned_round
from icepick.core.diagnosis.tables import FEATURES
from icepick.core.document.examination import Fault, NextReading
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station, walking_order
from icepick.core.document.visit import Method, QuantityName
from icepick.core.document.wording import say
from icepick.core.handbook.fault_pages import title_on
from icepick.core.machine.expected import COVERAGE
from icepick.core.prediction.ahead import Ahead, ahead, condition_ahead, gain
from icepick.core.prediction.fit import Fit, Fitted

Array = NDArray[np.float64]

_MINUTES = {
    Group.LINE: 1.0,
    Group.AIR: 1.0,
    Group.WATER: 1.5,
    Group.CIRCUIT: 1.0,
    Group.ELECTRICAL: 2.0,
    Group.TAP: 8.0,
}
_ANOTHER_TAP = 2.0
"""With the gauges at hand already."""
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
_DECIDED = 0.75
_APART = 1.0
"""Two faults are told apart by a reading where what they foretell lies so many of its spreads apart."""


@dataclass(frozen=True, slots=True)
class _Question:
    context: RunContext
    missing: list[Spot]
    gain: float
    minutes: float
    run: str | None
    why: str
    separates: list[Fault]
    look: Feature | None = None
    alike: object = None
    """What it shares with others that would say nearly the same; None where nothing does."""


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
    questions = [*_of_tables(belief, runs), *_of_machines(belief, runs)]
    said: set[object] = set()
    for question in sorted(questions, key=lambda q: -q.gain / q.minutes):
        if sum(one.observe is None for one in found) - len(first) >= _MOST:
            break
        if question.alike is not None and question.alike in said:
            continue
        said.add(question.alike)
        spots = sorted(question.missing, key=lambda s: walking_order(s[0]))
        if question.look is not None:
            looks = sum(one.observe is not None for one in found)
            spots = [("", "temperature")] if looks < _LOOKS else []
        for spot in spots:
            if spot[0] and (*spot, question.run) in named:
                continue
            named.add((*spot, question.run))
            found.append(_reading(question, spot))
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


def _of_tables(belief: Belief, runs: list[JudgedRun]) -> Iterator[_Question]:
    contexts: list[tuple[RunContext, Checks, str | None, float]] = [
        (run.context, run.checks, run.context.run.id, 0.0) for run in runs if run.context.commanded
    ]
    if not all(_stopped(run.checks) for run in runs):
        contexts += [(other, {}, None, _SWITCH_MODE) for other in other_mode(runs)]
    likely, different = _likely(belief)
    for context, checks, run_id, extra in contexts:
        without_gauges, stopped = gauges_too_early(context, checks), _stopped(checks)
        for feature, bits in zip(FEATURES, _gains(belief, context.commanded), strict=True):
            if bits < _WORTH or not feature.applies(context) or belief.answered(feature.name, run_id):
                continue
            separates = _separated(belief, likely, different, feature.apart[context.commanded], _CLEARLY)
            if feature.look is not None:
                if run_id is not None and not stopped:
                    yield _Question(context, [], bits, _LOOK, run_id, feature.reason, separates, feature)
                continue
            missing = [spot for spot in feature.spots(context) if context.value(*spot) is None]
            if not missing or (
                without_gauges and any(station(code).group is Group.TAP for code, _ in missing)
            ):
                continue
            if stopped and any(quantity not in _OF_CONTROL for _, quantity in missing):
                continue
            minutes = extra + sum(_MINUTES[station(code).group] for code, _ in missing)
            yield _Question(context, missing, bits, minutes, run_id, feature.reason, separates)


def _stopped(checks: Checks) -> bool:
    """Whether the compressor has no call or does not run: then only the control circuit has something to tell."""
    return any(code in checks and checks[code].status == "fail" for code in _NO_FLOW)


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


@dataclass(frozen=True, slots=True)
class _Candidate:
    """A reading that could be taken: its column among what is foretold, or the condition it would tell."""

    spot: Spot
    column: int | None
    condition: str
    instrument: float


def _of_machines(belief: Belief, runs: list[JudgedRun]) -> Iterator[_Question]:
    fit = belief.fit
    if fit is None:
        return
    # Turning the unit round is the dearest of all: not weighed where little is left open.
    if max(_by_fault(belief).values()) < _DECIDED:
        fit = turned_round(fit, runs) or fit
    classes = _classes(belief, fit)
    checks = {run.context.run.id: run.checks for run in runs}
    for k, held in enumerate(fit.stack.runs):
        context = held.context
        to_come = context.run.id not in checks
        found = checks.get(context.run.id, {})
        if _stopped(found):
            continue
        candidates = _candidates(context, fit, k)
        if gauges_too_early(context, found):
            candidates = [one for one in candidates if station(one.spot[0]).group is not Group.TAP]
        if not candidates:
            continue
        means, spreads = _foretold(fit, classes, k, candidates)
        bits = gain(np.array([share for _, share, _ in classes]), means, spreads)
        gauged = any(one.reading.quantity == "pressure" for one in context.readings.all())
        for n, one in enumerate(candidates):
            if bits[n] < _WORTH:
                continue
            group = station(one.spot[0]).group
            minutes = _ANOTHER_TAP if group is Group.TAP and gauged else _MINUTES[group]
            pair = _told_apart(classes, means[:, n], spreads[:, n])
            why = _why(context, classes, one.spot, pair, means[:, n])
            run = None if to_come else context.run.id
            yield _Question(
                context,
                [one.spot],
                float(bits[n]),
                minutes + to_come * _SWITCH_MODE,
                run,
                why,
                pair,
                alike=_alike(context, one.spot),
            )


def _alike(context: RunContext, spot: Spot) -> object:
    """Lines of one side in one state, and ports of one side, say nearly the same once one of them is read."""
    circuit, (code, quantity) = context.circuit, spot
    if circuit is None:
        return None
    at = next((tap.at for tap in circuit.taps if tap.tap == code), code)
    stop = next((stop for stop in circuit.path if stop.station == at), None)
    return None if stop is None else (context.run.id, quantity, stop.role, stop.state)


def _by_fault(belief: Belief) -> dict[Fault, float]:
    found: dict[Fault, float] = {}
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        found[hypothesis.fault] = found.get(hypothesis.fault, 0.0) + float(probability)
    return found


def _candidates(context: RunContext, fit: Fit, k: int) -> list[_Candidate]:
    """Whatever of a run is unread and could be read by instrument."""
    known = set(stations_of_unit(context.unit))
    found = []
    for column, (code, quantity) in enumerate(fit.stack.runs[k].foretold.places):
        if code not in known or quantity in ("power", "flow") or context.value(code, quantity) is not None:
            continue
        spread = _instrument(context, code, quantity, float(fit.stack.runs[k].foretold.means[0, column]))
        found.append(_Candidate((code, cast(QuantityName, quantity)), column, "", spread))
    for coil, name in (("outdoor_coil", "outdoor"), ("indoor_coil", "indoor")):
        code = medium_entering(context, coil)
        if context.temperature(code) is None:
            spread = _instrument(context, code, "temperature", 290.0)
            found.append(_Candidate((code, "temperature"), None, name, spread))
    return found


_USUAL: dict[Group, Method] = {
    Group.AIR: "probe",
    Group.WATER: "probe",
    Group.TAP: "gauge",
    Group.ELECTRICAL: "meter",
}


def _instrument(context: RunContext, code: str, quantity: str, value: float) -> float:
    entry = station(code)
    kind = entry.quantities[quantity].kind
    return uncertainty(kind, _USUAL.get(entry.group, "clamp"), value, context.practice) / COVERAGE


_Class = tuple[list[Fault], float, Fitted]


def _classes(belief: Belief, fit: Fit) -> list[_Class]:
    """The hypotheses that foretell alike, with their probability: what no machine shows reads as a sound one does."""
    alike: dict[tuple[Fault, FlowMode | None] | None, tuple[list[Fault], float]] = {}
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        key = (hypothesis.fault, hypothesis.mode)
        own = key if key in fit.faults else None
        faults, so_far = alike.get(own, ([], 0.0))
        alike[own] = ([*faults, hypothesis.fault], so_far + float(probability))
    return [
        (faults, share, fit.none if key is None else fit.faults[key])
        for key, (faults, share) in alike.items()
        if share > 1e-4
    ]


def _foretold(
    fit: Fit, classes: Sequence[_Class], k: int, candidates: Sequence[_Candidate]
) -> tuple[Array, Array]:
    """Means and spreads (classes, candidates)."""
    around = fit.stack.runs[k].around
    placed = [one for one in candidates if one.column is not None]
    columns = np.array([one.column for one in placed], dtype=np.intp)
    instruments = np.array([one.instrument for one in placed])
    rows = []
    for _, _, fitted in classes:
        read = ahead(fitted, k, columns, instruments)
        means, spreads = list(read.means), list(read.spreads)
        for one in candidates:
            if one.column is None:
                known: Ahead | None = condition_ahead(fitted, k, one.condition, around, one.instrument)
                means.append(known.means[0] if known else 0.0)
                spreads.append(known.spreads[0] if known else 1.0)
        rows.append((means, spreads))
    return np.array([m for m, _ in rows]), np.array([s for _, s in rows])


def _told_apart(classes: Sequence[_Class], means: Array, spreads: Array) -> list[Fault]:
    """The two likely faults that a reading tells apart best."""
    likely = [c for c, (_, share, _) in enumerate(classes) if share >= _LIKELY]
    best, pair = _APART, (-1, -1)
    for a in likely:
        for b in likely:
            apart = abs(means[a] - means[b]) / np.hypot(spreads[a], spreads[b]) if a < b else 0.0
            apart *= min(classes[a][1], classes[b][1]) ** 0.25
            if apart > best:
                best, pair = float(apart), (a, b)
    if pair[0] < 0:
        return []
    first, second = (_leads(classes[c]) for c in pair)
    return [first, second] if first != second else []


def _leads(one: _Class) -> Fault:
    """Of hypotheses that foretell alike, the one they are called by."""
    return "none" if "none" in one[0] else one[0][0]


def _why(context: RunContext, classes: Sequence[_Class], spot: Spot, pair: list[Fault], means: Array) -> str:
    """What each answer would mean, where it tells two faults apart."""
    if len(pair) == 2:
        kind = station(spot[0]).quantities[spot[1]].kind
        leads = [_leads(one) for one in classes]
        one, other = (float(means[leads.index(fault)]) for fault in pair)
        first, second = (say(value, kind, context.units, context.atmosphere) for value in (one, other))
        titles = [title_on(context.unit, fault, context.running) for fault in pair]
        return f"About {first} with {titles[0]}, {second} with {titles[1]}."
    if spot[0] in (medium_entering(context, "outdoor_coil"), medium_entering(context, "indoor_coil")):
        return "What enters a coil decides what everything else should show."
    return "Of what is unread it narrows most, for its minutes, what it may be."


def _reading(question: _Question, spot: Spot) -> NextReading:
    mode = question.context.run.mode
    switch = question.run is None
    return NextReading(
        station=spot[0],
        quantity=spot[1],
        observe=question.look.look if question.look else None,
        mode=mode,
        run=question.run,
        switch_mode=switch,
        why=(f"Switch mode to {mode}. " if switch else "") + question.why,
        separates=question.separates,
    )


def _likely(belief: Belief) -> tuple[list[int], NDArray[np.bool_]]:
    """The likely hypotheses, and which pairs of them are different faults."""
    likely = np.flatnonzero(belief.probabilities >= _LIKELY).tolist()
    faults = np.array([belief.hypotheses[i].fault for i in likely])
    return likely, faults[:, None] != faults


def _separated(
    belief: Belief, likely: list[int], different: NDArray[np.bool_], apart: NDArray[Any], clearly: float
) -> list[Fault]:
    """The two likely faults whose answers differ most."""
    if not different.any():
        return []
    rows = np.array([belief.rows[i] for i in likely])
    found = apart[rows[:, None], rows] * different
    pair = sorted(divmod(int(found.argmax()), len(likely)))
    if found[pair[0], pair[1]] <= clearly:
        return []
    return [belief.hypotheses[likely[i]].fault for i in pair]

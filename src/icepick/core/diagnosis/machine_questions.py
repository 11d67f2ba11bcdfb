"""What could be read that machines foretell: temperatures, pressures and currents, in the runs made and in the other mode.

What a reading would show under each hypothesis is known before it is taken, and together with every other: so what the second
of two would still tell, once the first is read, is known as well.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import cast

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.circuit.load import medium_entering
from icepick.core.circuit.readings import uncertainty
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import Checks, JudgedRun, Spot
from icepick.core.diagnosis.gauges import gauges_too_early
from icepick.core.diagnosis.machine_evidence import turned_round
from icepick.core.diagnosis.question import ANOTHER_TAP, LIKELY, MINUTES, SWITCH_MODE, Question, stopped
from icepick.core.diagnosis.reach import Away, is_away
from icepick.core.document.codes import Method, QuantityName
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station
from icepick.core.document.wording import say
from icepick.core.handbook.fault_on_unit import title_on
from icepick.core.machine.expected import COVERAGE
from icepick.core.machine.parameters import of
from icepick.core.prediction.ahead import Ahead, Foresight, Unread, ahead
from icepick.core.prediction.fit import Fit, Fitted

Array = NDArray[np.float64]

_DECIDED = 0.75
_AT_ALL = 0.02
"""Bits: a reading that tells less by itself is not weighed with others either."""
_THINKABLE = 5e-3
"""Hypotheses less probable than this are left out of what is weighed."""
_APART = 0.5
"""Two faults are told apart by a reading where what they foretell lies so many of its spreads apart."""


@dataclass(frozen=True, slots=True)
class _Class:
    """Hypotheses that foretell alike: what no machine shows reads as a sound one does."""

    faults: list[Fault]
    share: float
    fitted: Fitted

    @property
    def lead(self) -> Fault:
        """The one they are called by."""
        return "none" if "none" in self.faults else self.faults[0]


@dataclass(frozen=True, slots=True)
class _Candidate:
    context: RunContext
    spot: Spot
    to_come: bool
    unread: Unread


class MachineQuestions:
    """Every reading that could be taken, weighed again whenever one of them is thought to be taken."""

    def __init__(self, belief: Belief, runs: list[JudgedRun], away: Away = frozenset()) -> None:
        fit = belief.fit
        self._candidates: list[_Candidate] = []
        self._taken: set[int] = set()
        if fit is None:
            return
        # Turning the unit round is the dearest of all: not weighed where little is left open.
        if max(_by_fault(belief).values()) < _DECIDED:
            fit = turned_round(fit, runs) or fit
        self._classes = _classes(belief, fit)
        checks = {run.context.run.id: run.checks for run in runs}
        every = [one for k in range(len(fit.stack.runs)) for one in _candidates(fit, k, checks, away)]
        if not every or len(self._classes) < 2:
            return
        seen = [ahead(one.fitted, [candidate.unread for candidate in every]) for one in self._classes]
        shares = np.array([one.share for one in self._classes])
        shares = shares / shares.sum()
        worth = np.flatnonzero(Foresight(shares, seen).gains() >= _AT_ALL)
        self._candidates = [every[n] for n in worth]
        self._seen = [Ahead(one.means[worth], one.covariance[np.ix_(worth, worth)]) for one in seen]
        if self._candidates:
            self._foresight = Foresight(shares, self._seen)

    def open(self) -> Iterator[Question]:
        """What could still be asked, everything thought to be taken considered."""
        if not self._candidates:
            return
        gains = self._foresight.gains()
        for n, one in enumerate(self._candidates):
            if n in self._taken:
                continue
            yield Question(
                one.context,
                [one.spot],
                float(gains[n]),
                self._minutes(one),
                None if one.to_come else one.context.run.id,
                "",
                [],
                place=n,
            )

    def take(self, question: Question) -> Question:
        """Go on as if a question were answered, and say why it is put; one that no machine foretells changes nothing here."""
        n = question.place
        if n is None:
            return question
        self._taken.add(n)
        self._foresight.take(n)
        pair = self._told_apart(n)
        why = self._why(self._candidates[n], n, pair)
        return replace(question, why=why, separates=[self._classes[c].lead for c in pair])

    def _minutes(self, one: _Candidate) -> float:
        taken = [self._candidates[n] for n in self._taken]
        group = station(one.spot[0]).group
        gauged = any(r.reading.quantity == "pressure" for r in one.context.readings.all())
        gauged = gauged or any(station(other.spot[0]).group is Group.TAP for other in taken)
        minutes = ANOTHER_TAP if group is Group.TAP and gauged else MINUTES[group]
        turned = any(other.to_come for other in taken)
        return minutes + (SWITCH_MODE if one.to_come and not turned else 0.0)

    def _told_apart(self, n: int) -> list[int]:
        """The two likely classes that a reading tells apart best; empty where it tells none."""
        likely = [c for c, one in enumerate(self._classes) if one.share >= LIKELY]
        best, pair = 0.0, list[int]()
        for a in likely:
            for b in likely:
                if a >= b or self._classes[a].lead == self._classes[b].lead:
                    continue
                apart = self._apart(a, b, n) * min(self._classes[a].share, self._classes[b].share) ** 0.25
                if apart > best:
                    best, pair = float(apart), [a, b]
        return pair

    def _apart(self, a: int, b: int, n: int) -> float:
        """How many spreads lie between what two classes foretell."""
        return abs(self._mean(a, n) - self._mean(b, n)) / float(
            np.hypot(self._spread(a, n), self._spread(b, n))
        )

    def _mean(self, c: int, n: int) -> float:
        return float(self._seen[c].means[n])

    def _spread(self, c: int, n: int) -> float:
        return float(np.sqrt(self._seen[c].covariance[n, n]))

    def _why(self, one: _Candidate, n: int, pair: list[int]) -> str:
        """What each answer would mean, where it tells two faults apart."""
        if one.unread.column is None:
            return "What enters a coil decides what everything else should show."
        if not pair:
            return "Of all that is unread it tells most for the time it takes."
        low, high = sorted(pair, key=lambda c: self._mean(c, n))
        titles = [title_on(one.context.unit, self._classes[c].lead, one.context.running) for c in (low, high)]
        if self._apart(low, high, n) < _APART:
            return f"With the rest it helps to tell {titles[0]} from {titles[1]}."
        near, far = self._spread(low, n), self._spread(high, n)
        between = (far * self._mean(low, n) + near * self._mean(high, n)) / (near + far)
        kind, context = station(one.spot[0]).quantities[one.spot[1]].kind, one.context
        limit, below, above = (
            say(value, kind, context.units, context.atmosphere)
            for value in (between, self._mean(low, n), self._mean(high, n))
        )
        return f"Under {limit}: rather {titles[0]} (about {below}); over it: {titles[1]} (about {above})."


def _by_fault(belief: Belief) -> dict[Fault, float]:
    found: dict[Fault, float] = {}
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        found[hypothesis.fault] = found.get(hypothesis.fault, 0.0) + float(probability)
    return found


def _classes(belief: Belief, fit: Fit) -> list[_Class]:
    alike: dict[tuple[Fault, FlowMode | None] | None, tuple[list[Fault], float]] = {}
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        key = (hypothesis.fault, hypothesis.mode)
        own = key if key in fit.faults else None
        faults, so_far = alike.get(own, ([], 0.0))
        alike[own] = ([*faults, hypothesis.fault], so_far + float(probability))
    return [
        _Class(faults, share, fit.none if key is None else fit.faults[key])
        for key, (faults, share) in alike.items()
        if share > _THINKABLE
    ]


def _candidates(fit: Fit, k: int, checks: Mapping[str, Checks], away: Away) -> Iterator[_Candidate]:
    """Whatever of a run is unread and could be read by instrument."""
    held = fit.stack.runs[k]
    context = held.context
    to_come, found = context.run.id not in checks, checks.get(context.run.id, {})
    if stopped(found):
        return
    known, without_gauges = set(stations_of_unit(context.unit)), gauges_too_early(context, found)
    for column, (code, quantity) in enumerate(held.foretold.places):
        if code not in known or quantity in ("power", "flow") or context.value(code, quantity) is not None:
            continue
        if (without_gauges and station(code).group is Group.TAP) or is_away(context, code, quantity, away):
            continue
        spread = _instrument(context, code, quantity, float(held.foretold.means[0, column]))
        unread = Unread(k, column, "", 0.0, 0.0, spread)
        yield _Candidate(context, (code, cast(QuantityName, quantity)), to_come, unread)
    for spot, name, spread in _conditions(context):
        usual = getattr(held.around, name)
        if not usual.read and not is_away(context, *spot, away):
            yield _Candidate(context, spot, to_come, Unread(k, None, name, usual.value, usual.spread, spread))


def _conditions(context: RunContext) -> Iterator[tuple[Spot, str, float]]:
    """Where each condition of a run is read, its name, and how well an instrument tells it."""
    for coil, name in (("outdoor_coil", "outdoor"), ("indoor_coil", "indoor")):
        code = medium_entering(context, coil)
        yield (code, "temperature"), name, _instrument(context, code, "temperature", _ROOM)
    if context.unit.load == "air" and context.running == "cooling":
        yield ("return_air", "wet_bulb"), "indoor_humidity", of("spread_wet_bulb_humidity")


_ROOM = 290.0
"""Where an instrument's spread does not hang on what it reads [K]."""
_USUAL: Mapping[Group, Method] = {
    Group.AIR: "probe",
    Group.WATER: "probe",
    Group.TAP: "gauge",
    Group.ELECTRICAL: "meter",
}


def _instrument(context: RunContext, code: str, quantity: str, value: float) -> float:
    entry = station(code)
    kind = entry.quantities[quantity].kind
    return uncertainty(kind, _USUAL.get(entry.group, "clamp"), value, context.practice) / COVERAGE

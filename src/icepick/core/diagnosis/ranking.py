"""Faults, most likely first: Bayes over everything that was read in every run of the visit."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature
from icepick.core.diagnosis.exchange_evidence import FEATURES as EXCHANGE_FEATURES
from icepick.core.diagnosis.hypotheses import RANKED, Hypothesis, hypotheses, prior
from icepick.core.diagnosis.metering_evidence import FEATURES as METERING_FEATURES
from icepick.core.diagnosis.rule_outs import part_of, rule_outs
from icepick.core.diagnosis.valve_evidence import FEATURES as VALVE_FEATURES
from icepick.core.diagnosis.water_evidence import FEATURES as WATER_FEATURES
from icepick.core.examination import Fault, RankedFault
from icepick.core.fault_pages import PAGES, title
from icepick.core.visit import Complaint

FEATURES: tuple[Feature, ...] = (
    *VALVE_FEATURES,
    *METERING_FEATURES,
    *EXCHANGE_FEATURES,
    *WATER_FEATURES,
)
"""Every feature, in the order in which a technician comes by them."""

_SPEAKS = 2.0
"""How many times likelier than on average an outcome must be under a fault before it is said to speak for it."""


@dataclass(frozen=True, slots=True)
class JudgedRun:
    """A run with its checks, by code."""

    context: RunContext
    checks: Checks


@dataclass(frozen=True, slots=True)
class Observed:
    """A feature that a run answered."""

    feature: Feature
    run: JudgedRun
    outcome: str

    def likelihood(self, hypothesis: Hypothesis) -> float:
        row = self.feature.likelihoods(hypothesis, self.run.context)
        return row[self.feature.outcomes.index(self.outcome)]


@dataclass(frozen=True, slots=True)
class Belief:
    """Hypotheses with their probabilities, and what they rest on: ``likelihoods[i, j]`` is that of the i-th
    observation under the j-th hypothesis."""

    hypotheses: list[Hypothesis]
    probabilities: NDArray[np.float64]
    observed: list[Observed]
    likelihoods: NDArray[np.float64]


def observed(runs: list[JudgedRun]) -> Iterator[Observed]:
    """Every feature that some run answers."""
    for run in runs:
        for feature in FEATURES:
            if not feature.applies(run.context):
                continue
            outcome = feature.observe(run.context, run.checks)
            if outcome is not None:
                yield Observed(feature, run, outcome)


def believe(runs: list[JudgedRun], complaint: Complaint | None) -> Belief | None:
    """Probabilities after all that was read; None while nothing that counts was read."""
    found = list(observed(runs))
    modes = [run.context.commanded for run in runs if run.context.commanded is not None]
    if not modes or not any(o.feature.name != "doubts" or o.outcome == "some" for o in found):
        return None
    all_of = hypotheses(runs[0].context.unit, modes)
    likelihoods = np.array([[one.likelihood(h) for h in all_of] for one in found])
    weights = np.array([prior(h, complaint) for h in all_of]) * likelihoods.prod(axis=0)
    return Belief(all_of, weights / weights.sum(), found, likelihoods)


def rank(belief: Belief | None, runs: list[JudgedRun]) -> list[RankedFault]:
    """The faults with what speaks for and against each; empty while nothing that counts was read."""
    if belief is None:
        return []
    by_fault: dict[Fault, float] = dict.fromkeys((h.fault for h in belief.hypotheses), 0.0)
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        by_fault[hypothesis.fault] += float(probability)
    ordered = sorted(by_fault, key=lambda fault: (-round(by_fault[fault], 6), RANKED.index(fault)))
    return [_ranked(fault, by_fault[fault], belief, runs) for fault in ordered if by_fault[fault] > 0]


def _ranked(fault: Fault, probability: float, belief: Belief, runs: list[JudgedRun]) -> RankedFault:
    own = [i for i, h in enumerate(belief.hypotheses) if h.fault == fault]
    best = max(own, key=lambda i: belief.probabilities[i])
    speaks_for, against = _reasons(own, best, belief)
    outs = rule_outs(fault, [(run.context, run.checks) for run in runs])
    return RankedFault(
        fault=fault,
        title=title(fault),
        mode=belief.hypotheses[best].mode,
        probability=round(probability, 6),
        speaks_for=speaks_for,
        against=against,
        rule_out=outs,
        replaces=part_of(fault),
        settled=bool(outs) and all(out.status == "done" for out in outs),
        caution=PAGES[fault].caution,
    )


def _reasons(own: list[int], best: int, belief: Belief) -> tuple[list[str], list[str]]:
    """What is clearly likelier, or less likely, under a fault (its hypotheses, the best of them) than under the others
    on average."""
    speaks_for, against = [], []
    others = np.delete(belief.likelihoods, own, axis=1).mean(axis=1)
    for one, ratio in zip(belief.observed, belief.likelihoods[:, best] / others, strict=True):
        words = f"{one.run.context.run.mode}: {one.feature.words[one.outcome]}"
        if ratio >= _SPEAKS:
            speaks_for.append(words)
        elif ratio <= 1 / _SPEAKS:
            against.append(words)
    return speaks_for, against

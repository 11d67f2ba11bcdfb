"""Faults, most likely first: Bayes over everything that was read in every run of the visit."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature
from icepick.core.diagnosis.exchange_evidence import FEATURES as EXCHANGE_FEATURES
from icepick.core.diagnosis.hypotheses import RANKED, UNIVERSE, Hypothesis, hypotheses, prior
from icepick.core.diagnosis.metering_evidence import FEATURES as METERING_FEATURES
from icepick.core.diagnosis.rule_outs import Runs, part_of, rule_outs
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

_PLACE = {hypothesis: place for place, hypothesis in enumerate(UNIVERSE)}
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

    @property
    def words(self) -> str:
        """What the run answered, in a few words."""
        return f"{self.run.context.run.mode}: {self.feature.words[self.outcome]}"

    @property
    def likelihoods(self) -> NDArray[np.float64]:
        """How likely the outcome is under each hypothesis there can be."""
        return self.feature.tables[self.run.context.commanded][:, self.feature.outcomes.index(self.outcome)]


@dataclass(frozen=True, slots=True)
class Belief:
    """Hypotheses with their probabilities, and what they rest on: ``likelihoods[i, j]`` is that of the i-th
    observation under the j-th hypothesis. ``rows`` are the hypotheses' places in ``UNIVERSE``."""

    hypotheses: list[Hypothesis]
    rows: list[int]
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
    if not modes or not any(o.feature.name != "doubts" or o.outcome != "no" for o in found):
        return None
    all_of = hypotheses(runs[0].context.unit, modes, complaint)
    rows = [_PLACE[h] for h in all_of]
    likelihoods = np.array([one.likelihoods for one in found])[:, rows]
    weights = np.array([prior(h, complaint) for h in all_of]) * likelihoods.prod(axis=0)
    return Belief(all_of, rows, weights / weights.sum(), found, likelihoods)


def rank(belief: Belief | None, runs: list[JudgedRun]) -> list[RankedFault]:
    """The faults with what speaks for and against each; empty while nothing that counts was read."""
    if belief is None:
        return []
    by_fault: dict[Fault, float] = dict.fromkeys((h.fault for h in belief.hypotheses), 0.0)
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        by_fault[hypothesis.fault] += float(probability)
    ordered = sorted(by_fault, key=lambda fault: (-round(by_fault[fault], 6), RANKED.index(fault)))
    likely = [fault for fault in ordered if by_fault[fault] > 0]
    checked = [(run.context, run.checks) for run in runs]
    return [
        _ranked(fault, by_fault[fault], belief, best, ratios, checked)
        for fault, best, ratios in zip(likely, *_against_the_others(likely, belief), strict=True)
    ]


def _against_the_others(faults: list[Fault], belief: Belief) -> tuple[list[int], list[list[float]]]:
    """The likeliest hypothesis of each fault; and, for each fault, how many times likelier every observation is under
    that than under the others' hypotheses on average."""
    of = np.array([RANKED.index(h.fault) for h in belief.hypotheses])
    own = np.array([RANKED.index(fault) for fault in faults])[:, None] == of
    best = (own * belief.probabilities).argmax(axis=1)
    others = (~own @ belief.likelihoods.T) / (~own).sum(axis=1, keepdims=True)
    return best.tolist(), (belief.likelihoods[:, best].T / others).tolist()


def _ranked(
    fault: Fault,
    probability: float,
    belief: Belief,
    best: int,
    ratios: list[float],
    runs: Runs,
) -> RankedFault:
    said = list(zip(belief.observed, ratios, strict=True))
    outs = rule_outs(fault, runs)
    return RankedFault(
        fault=fault,
        title=title(fault),
        mode=belief.hypotheses[best].mode,
        probability=round(probability, 6),
        speaks_for=[one.words for one, ratio in said if ratio >= _SPEAKS],
        against=[one.words for one, ratio in said if ratio <= 1 / _SPEAKS],
        rule_out=outs,
        replaces=part_of(fault),
        settled=bool(outs) and all(out.status == "done" for out in outs),
        caution=PAGES[fault].caution,
    )

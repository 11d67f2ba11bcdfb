"""Faults, most likely first: Bayes over everything that was read in every run of the visit."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from itertools import compress

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext, note_mishap
from icepick.core.diagnosis.evidence import Checks, Feature
from icepick.core.diagnosis.exchange_evidence import FEATURES as EXCHANGE_FEATURES
from icepick.core.diagnosis.hypotheses import RANKED, UNIVERSE, Hypothesis, hypotheses, prior
from icepick.core.diagnosis.metering_evidence import FEATURES as METERING_FEATURES
from icepick.core.diagnosis.rule_outs import Runs, contradicted, part_on, rule_outs
from icepick.core.diagnosis.valve_evidence import FEATURES as VALVE_FEATURES
from icepick.core.diagnosis.water_evidence import FEATURES as WATER_FEATURES
from icepick.core.document.examination import Fault, RankedFault
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Complaint
from icepick.core.handbook.fault_pages import PAGES, title_on

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
_CONTRADICTED = 0.02
"""What is left of a fault's weight once hard evidence contradicts one of its rule-outs: it can't lead. [our own choice]"""


@dataclass(frozen=True, slots=True)
class JudgedRun:
    """A run by the readings that may carry a judgement, with the checks that rest on them, by code."""

    context: RunContext
    checks: Checks


@dataclass(frozen=True, slots=True)
class Observed:
    """A feature that a run answered. ``share`` is its part of one experiment: runs repeated in one mode are that
    experiment again, not independent proof."""

    feature: Feature
    run: JudgedRun
    outcome: str
    share: float = 1.0

    @property
    def words(self) -> str:
        """What the run answered, in a few words."""
        return f"{self.run.context.run.mode}: {self.feature.words[self.outcome]}"

    @property
    def speaks(self) -> float:
        """How many times likelier than on average it must be under a fault to be said to speak for it."""
        return _SPEAKS if self.share == 1 else _SPEAKS**self.share

    @property
    def likelihoods(self) -> NDArray[np.float64]:
        """How likely the outcome is under each hypothesis there can be."""
        column = self.feature.tables[self.run.context.commanded][:, self.feature.outcomes.index(self.outcome)]
        return column if self.share == 1 else np.power(column, self.share)


@dataclass(frozen=True, slots=True)
class Belief:
    """Hypotheses with their probabilities, and what they rest on: ``likelihoods[i, j]`` is that of the i-th
    observation under the j-th hypothesis. ``rows`` are the hypotheses' places in ``UNIVERSE``."""

    hypotheses: list[Hypothesis]
    rows: list[int]
    probabilities: NDArray[np.float64]
    observed: list[Observed]
    likelihoods: NDArray[np.float64]


def observed(runs: list[JudgedRun]) -> list[Observed]:
    """Every feature that some run answers, the answers of repeated runs sharing one voice.

    Parameters
    ----------
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.

    Returns
    -------
    list of Observed
        In the order in which a technician comes by them.
    """
    found: list[tuple[Feature, JudgedRun, str]] = []
    for run in runs:
        for feature in FEATURES:
            if feature.applies(run.context):
                try:
                    outcome = feature.observe(run.context, run.checks)
                except Exception as error:
                    note_mishap(run.context, feature.name, error)
                    continue
                if outcome is not None:
                    found.append((feature, run, outcome))
    times = Counter((feature.name, run.context.run.mode) for feature, run, _ in found)
    return [
        Observed(feature, run, outcome, 1 / times[feature.name, run.context.run.mode])
        for feature, run, outcome in found
    ]


def believe(runs: list[JudgedRun], complaint: Complaint | None) -> Belief | None:
    """Probabilities after all that was read; None while nothing that counts was read.

    Parameters
    ----------
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.
    complaint : Complaint or None
        What the customer says; None where nobody asked.

    Returns
    -------
    Belief or None
        None while nothing that counts was read.
    """
    found = observed(runs)
    if not any(one.feature.name != "doubts" or one.outcome != "no" for one in found):
        return None
    modes = [run.context.commanded for run in runs if run.context.commanded is not None]
    all_of = hypotheses(
        runs[0].context.unit,
        # With the compressor off no mode was run, and either may be in question.
        modes or ["heating", "cooling"],
        complaint,
        defrosted=any(run.context.defrosting for run in runs),
        circuits_seen=any(_circuits_seen(run.context) for run in runs),
        sensors_read=any(
            "defrost.sensor" in run.checks or "defrost.ambient_sensor" in run.checks for run in runs
        ),
    )
    rows = [_PLACE[h] for h in all_of]
    likelihoods = np.array([one.likelihoods for one in found])[:, rows]
    # As logarithms: a thousand runs multiplied would leave nothing but zeros.
    logs = np.log([prior(h, complaint) for h in all_of]) + np.log(likelihoods).sum(axis=0)
    weights = np.exp(logs - logs.max())
    checked = [(run.context, run.checks) for run in runs]
    cannot_lead = {fault for fault in {h.fault for h in all_of} if contradicted(fault, checked)}
    weights *= np.array([_CONTRADICTED if h.fault in cannot_lead else 1.0 for h in all_of])
    return Belief(all_of, rows, weights / weights.sum(), found, likelihoods)


def _circuits_seen(context: RunContext) -> bool:
    read = any("_circuit:" in current.reading.station for current in context.readings.all())
    return read or "outdoor_coil_frosted_patchy" in context.observed


def rank(belief: Belief | None, runs: list[JudgedRun]) -> list[RankedFault]:
    """The faults with what speaks for and against each; empty while nothing that counts was read.

    Parameters
    ----------
    belief : Belief or None
        What is thought of each hypothesis; None while nothing that counts was read.
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.

    Returns
    -------
    list of RankedFault
        Most likely first; their probabilities sum to 1.
    """
    if belief is None:
        return []
    by_fault: dict[Fault, float] = dict.fromkeys((h.fault for h in belief.hypotheses), 0.0)
    for hypothesis, probability in zip(belief.hypotheses, belief.probabilities, strict=True):
        by_fault[hypothesis.fault] += float(probability)
    ordered = sorted(by_fault, key=lambda fault: (-round(by_fault[fault], 6), RANKED.index(fault)))
    likely = [fault for fault in ordered if by_fault[fault] > 0]
    checked = [(run.context, run.checks) for run in runs]
    only = _only_mode(checked)
    best, ratios = _against_the_others(likely, belief)
    speaks = np.array([one.speaks for one in belief.observed])
    words = [one.words for one in belief.observed]

    def told(mask: list[bool]) -> list[str]:
        return list(dict.fromkeys(compress(words, mask)))

    unit = runs[0].context.unit
    ranked = []
    supports, opposes = (ratios >= speaks).tolist(), (ratios * speaks <= 1).tolist()
    for fault, place, support, oppose in zip(likely, best, supports, opposes, strict=True):
        outs = rule_outs(fault, checked)
        mode = belief.hypotheses[place].mode
        ranked.append(
            RankedFault(
                fault=fault,
                title=title_on(unit, fault, mode or only),
                mode=mode,
                probability=round(by_fault[fault], 6),
                speaks_for=told(support),
                against=told(oppose),
                rule_out=outs,
                replaces=part_on(unit, fault, mode or only),
                settled=bool(outs) and all(out.status == "done" for out in outs),
                caution=PAGES[fault].caution,
            )
        )
    return ranked


def _against_the_others(faults: list[Fault], belief: Belief) -> tuple[list[int], NDArray[np.float64]]:
    """The likeliest hypothesis of each fault; and, for each fault (rows), how many times likelier every observation
    (columns) is under that than under the others' hypotheses on average."""
    of = np.array([RANKED.index(h.fault) for h in belief.hypotheses])
    own = np.array([RANKED.index(fault) for fault in faults])[:, None] == of
    best = (own * belief.probabilities).argmax(axis=1)
    others = (~own @ belief.likelihoods.T) / (~own).sum(axis=1, keepdims=True)
    return best.tolist(), belief.likelihoods[:, best].T / others


def _only_mode(runs: Runs) -> FlowMode | None:
    """The mode of the visit, where all its runs are of one."""
    modes = {context.running for context, _ in runs} - {None}
    return modes.pop() if len(modes) == 1 else None

"""Faults, most likely first: Bayes over everything that was read in every run of the visit."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

import numpy as np

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.heads import unit_of_heads
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.defrost_evidence import looks_defrosting
from icepick.core.diagnosis.evidence import Evidence, JudgedRun
from icepick.core.diagnosis.head_evidence import Heads, head_fault
from icepick.core.diagnosis.head_faults import HeadFault, title_of
from icepick.core.diagnosis.hypotheses import OF_A_METER, RANKED, Hypothesis, hypotheses, of_heads, prior
from icepick.core.diagnosis.machine_evidence import Machines
from icepick.core.diagnosis.rule_outs import Runs, contradicted, part_on, rule_outs
from icepick.core.diagnosis.saying import Said as _Said
from icepick.core.diagnosis.sequence_evidence import Sequences
from icepick.core.diagnosis.tables import PLACE, Tables
from icepick.core.document.codes import Complaint
from icepick.core.document.examination import Fault, RankedFault
from icepick.core.document.roles import FlowMode
from icepick.core.handbook.fault_on_unit import title_on
from icepick.core.handbook.fault_pages import PAGES

EVIDENCE: tuple[Evidence, ...] = (Machines(), Tables(), Sequences(), Heads())
"""Everything that speaks of faults."""

_CONTRADICTED = 0.02
"""What is left of a fault's weight once hard evidence contradicts one of its rule-outs: it can't lead. [our own choice]"""


_NO_DEFROST = ("missed, board unseen", "unanswered or not shifted")
"""Signs of a recording under which the reversing valve may be at fault, though no defrost was seen."""
_COMPARED, _LAID = 5, 3
"""Of so many faults, the likeliest, numbers are told for and against; of so many, what their machines would show."""
_ONE_OF_THEM = 0.6
"""So much of a fault of heads must lie with one head, or one pair, before it is named. [our own choice]"""
_WORTH_TELLING = 0.01
"""Of less probable ones neither."""
_NOTHING: Mapping[Fault, float] = {}


def believe(
    runs: list[JudgedRun], complaint: Complaint | None, beside: Mapping[Fault, float] = _NOTHING
) -> Belief | None:
    """Probabilities after all that was read; None while nothing that counts was read.

    Parameters
    ----------
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.
    complaint : Complaint or None
        What the customer says; None where nobody asked.
    beside : mapping of Fault to float
        What sibling circuits leave of a fault, as a share of its weight (``together.shared``).

    Returns
    -------
    Belief or None
        None while nothing that counts was read.
    """
    modes = [run.context.commanded for run in runs if run.context.commanded is not None]
    if not runs:
        return None
    kept_from_it = any(run.signs.get("defrost.start") in _NO_DEFROST for run in runs)
    if kept_from_it:
        modes.append("cooling")  # What keeps a unit from a defrost may keep it from cooling.
    all_of = hypotheses(
        runs[0].context.unit,
        # With the compressor off no mode was run, and either may be in question.
        modes or ["heating", "cooling"],
        complaint,
        defrosted=kept_from_it or any(run.context.defrosting for run in runs),
        circuits_seen=any(_circuits_seen(run.context) for run in runs),
        sensors_read=any(
            "defrost.sensor" in run.checks or "defrost.ambient_sensor" in run.checks for run in runs
        ),
        ice_can_be=any(_ice_can_be(run.context) for run in runs),
        recorded=any(run.recorded and run.context.run.mode == "heating" for run in runs),
        looks_defrosting=any(looks_defrosting(run.context) for run in runs),
    )
    cooled = any(run.context.commanded == "cooling" for run in runs if not run.recorded)
    if any(run.recorded for run in runs) and not cooled and complaint != "no_cooling":
        # A defrost is too short to tell of what meters in cooling.
        all_of = [h for h in all_of if h.mode != "cooling" or h.fault not in OF_A_METER]
    every_head = _of_heads(runs)
    all_of += every_head
    terms = [term for evidence in EVIDENCE for term in evidence.terms(runs, all_of)]
    if not any(term.question != "doubts" or "contradicts" in term.words for term in terms):
        return None
    # As logarithms: a thousand runs multiplied would leave nothing but zeros.
    among = Counter(h.fault for h in every_head)
    logs = np.log([prior(h, complaint) * beside.get(h.fault, 1.0) / max(among[h.fault], 1) for h in all_of])
    logs = logs + np.sum([term.log_likelihood for term in terms], axis=0)
    checked = [(run.context, run.checks) for run in runs]
    cannot_lead = {fault for fault in {h.fault for h in all_of} if contradicted(fault, checked)}
    weights = np.exp(logs - logs.max())
    weights *= np.array([_CONTRADICTED if h.fault in cannot_lead else 1.0 for h in all_of])
    recorded = frozenset(run.context.run.id for run in runs if run.recorded)
    return Belief(all_of, [PLACE[h] for h in all_of], weights / weights.sum(), terms, recorded)


def _of_heads(runs: list[JudgedRun]) -> list[Hypothesis]:
    """What may be wrong with the heads, where it is known which of them call."""
    found = [unit for run in runs if (unit := unit_of_heads(run.context)) is not None]
    called = [unit.calling for unit in found if unit.calling is not None]
    return of_heads(len(found[0].every_head), called) if called else []


def _ice_can_be(context: RunContext) -> bool:
    """Whether ice may lie on the outdoor coil: it was seen, or the outdoor air is cold enough, or was not read."""
    air = context.temperature("outdoor_air_in")
    seen = "outdoor_coil_iced_solid" in context.observed or "outdoor_coil_frosted_patchy" in context.observed
    return seen or air is None or air.nominal_value <= context.practice.si("frost_air_most")


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
    unit = runs[0].context.unit
    said = _Said(belief, runs[0].context)
    ranked = []
    for place, fault in enumerate(likely):
        best = said.best(fault)
        mode = belief.hypotheses[best].mode
        outs = rule_outs(fault, checked, mode or only)
        heads = _heads(belief, best, by_fault[fault])
        likely_enough = by_fault[fault] >= _WORTH_TELLING
        speaks_for, against, compared = said.about(best, numbers=likely_enough and place < _COMPARED)
        close = likely[place + 1] if place + 1 < len(likely) else None
        told_apart = place == 0 and close is not None and by_fault[close] >= _WORTH_TELLING
        ranked.append(
            RankedFault(
                fault=fault,
                title=title_of(heads) if heads else title_on(unit, fault, mode or only),
                mode=mode,
                probability=round(by_fault[fault], 6),
                speaks_for=speaks_for,
                against=against,
                rule_out=outs,
                replaces=part_on(unit, fault, mode or only),
                settled=bool(outs) and all(out.status == "done" for out in outs),
                caution=PAGES[fault].caution,
                severity=said.severity(best),
                suspect=said.suspect(best),
                compared=compared,
                apart=said.apart(best, close, only) if told_apart else "",
                not_explained=said.not_explained(best) if place == 0 and fault not in _NO_CAUSE else [],
                foretold=said.foretold(best) if likely_enough and place < _LAID else {},
                heads=list(heads.heads) if heads else [],
            )
        )
    return ranked


_NO_CAUSE: frozenset[Fault] = frozenset({"none", "reading_suspect", "liquid_line_restriction"})
"""What leads without being the cause of anything; a restriction shows other numbers wherever else it lies."""


def _heads(belief: Belief, best: int, of_fault: float) -> HeadFault | None:
    """The heads a fault is of, once most of it lies with them; what of them is exchanged, once that is as sure."""
    found = head_fault(belief.hypotheses[best])
    alike = [head_fault(one).heads == found.heads for one in belief.hypotheses]
    same = [one.fault == found.fault for one in belief.hypotheses]
    theirs = float(belief.probabilities @ np.logical_and(alike, same))
    if not found.heads or theirs < _ONE_OF_THEM * of_fault:
        return None
    sure = float(belief.probabilities[best]) >= _ONE_OF_THEM * of_fault
    return found if sure else HeadFault(found.fault, found.heads)


def _only_mode(runs: Runs) -> FlowMode | None:
    """The mode of the visit, where all its runs are of one."""
    modes = {context.running for context, _ in runs} - {None}
    return modes.pop() if len(modes) == 1 else None

"""What the pipes of a unit's heads say: which are fed, against which call. [common practice; the-trade.md 2]"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from math import hypot
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray
from uncertainties import UFloat

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.heads import End, HeadSeen, heads_seen, unit_of_heads
from icepick.core.diagnosis.evidence import JudgedRun, Spot, Term
from icepick.core.diagnosis.head_faults import BY_VARIANT, STATES, HeadFault, chances
from icepick.core.diagnosis.hypotheses import Hypothesis
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode

Array = NDArray[np.float64]
QUESTION = "heads"
SOUND = HeadFault("none", ())

_WHERE: dict[End, str] = {
    "outdoors": "its pipes at the outdoor unit",
    "indoors": "its coil and pipe in the room",
    "air": "its air",
}
_BLUR = 0.05
"""How much farther or less far than its refrigerant a pipe may stand, as a share of the way, one standard deviation. [our own
choice]"""
_STARVES: frozenset[Fault] = frozenset(
    {
        "undercharge",
        "compressor_weak",
        "compressor_not_running",
        "active_meter_underfeeding",
        "liquid_line_restriction",
        "valve_bypassing",
        "valve_in_opposite_position",
    }
)
"""Faults of what all heads share that may leave every one of them with hardly anything."""
_ALL_STARVED = 0.2
"""How often they do. [our own choice]"""


class Heads:
    """What is fed, held against what calls."""

    def terms(self, runs: Sequence[JudgedRun], hypotheses: Sequence[Hypothesis]) -> list[Term]:
        """One term for all runs of a mode: what starves every head in one of them does so in the others.

        Parameters
        ----------
        runs : sequence of JudgedRun
            The runs, each with the checks that rest on readings which may carry a judgement.
        hypotheses : sequence of Hypothesis
            What may be wrong.

        Returns
        -------
        list of Term
            Runs in which the same heads call share one voice.
        """
        told = [run.context for run in runs if not run.recorded and told_of(run.context)]
        modes = dict.fromkeys(context.run.mode for context in told)
        return [_term([one for one in told if one.run.mode == mode], hypotheses) for mode in modes]


def _term(contexts: Sequence[RunContext], hypotheses: Sequence[Hypothesis]) -> Term:
    times = Counter(map(_calling_in, contexts))
    shares = [1 / times[_calling_in(context)] for context in contexts]
    logs = np.array([_log_likelihood(hypothesis, contexts, shares) for hypothesis in hypotheses])
    spots: list[Spot] = [
        (code, "temperature")
        for context in contexts
        for head in told_of(context)
        for code in head.read_at.values()
    ]
    words = "; ".join(dict.fromkeys(_words(context) for context in contexts))
    run = contexts[0].run.id if len(contexts) == 1 else None
    return Term(f"{contexts[0].run.mode}: {words}", run, tuple(spots), logs, QUESTION)


def _calling_in(context: RunContext) -> tuple[int, ...]:
    unit = unit_of_heads(context)
    return unit.calling or () if unit else ()


def told_of(context: RunContext) -> tuple[HeadSeen, ...]:
    """The heads of a run that were read, where it is known which call.

    Parameters
    ----------
    context : RunContext
        The run by the readings that may carry a judgement.

    Returns
    -------
    tuple of HeadSeen
        Empty where nothing can be held against a call.
    """
    unit = unit_of_heads(context)
    if unit is None or unit.calling is None or context.running != context.commanded:
        return ()
    return tuple(head for head in heads_seen(context) if head.shares)


def head_fault(hypothesis: Hypothesis) -> HeadFault:
    """The fault of heads that a hypothesis is; a sound one for any other.

    Parameters
    ----------
    hypothesis : Hypothesis
        What may be wrong.

    Returns
    -------
    HeadFault
        Of no heads where it is none of theirs.
    """
    return BY_VARIANT.get((hypothesis.fault, hypothesis.variant or ""), SOUND)


def starved(hypothesis: Hypothesis, contexts: Sequence[RunContext]) -> float:
    """How likely a fault of what all heads share is to leave every one of them with hardly anything, by what was read.

    Parameters
    ----------
    hypothesis : Hypothesis
        What is wrong.
    contexts : sequence of RunContext
        The runs that were made.

    Returns
    -------
    float
        0 for a fault that starves none.
    """
    if hypothesis.fault not in _STARVES:
        return 0.0
    every = [1.0] * len(contexts)
    all_of = _ALL_STARVED * np.exp(_together(SOUND, contexts, every, starving=True))
    not_all = (1 - _ALL_STARVED) * np.exp(_together(SOUND, contexts, every))
    return float(all_of / (all_of + not_all))


def states(
    hypothesis: Hypothesis, mode: FlowMode, calling: Sequence[int], number: int, end: End, starving: float
) -> Array:
    """How likely each state of a head is at one of its ends.

    Parameters
    ----------
    hypothesis : Hypothesis
        What is wrong.
    mode : FlowMode
        The way the refrigerant runs.
    calling : sequence of int
        Numbers of the heads that call.
    number : int
        The head's.
    end : End
        Where it is read.
    starving : float
        As :func:`starved` has it.

    Returns
    -------
    ndarray, shape (3,)
        In the order of ``STATES``.
    """
    way = head_fault(hypothesis).way(number, end, calling)
    found = chances(mode, end, way)
    return (1 - starving) * found + starving * chances(mode, end, "starved") if way == "fed" else found


def _log_likelihood(hypothesis: Hypothesis, contexts: Sequence[RunContext], shares: Sequence[float]) -> float:
    """Of all that was read of the heads; what all of them share starves all or none."""
    as_it_may = _together(head_fault(hypothesis), contexts, shares)
    if hypothesis.fault not in _STARVES:
        return as_it_may
    nothing = _together(SOUND, contexts, shares, starving=True)
    return float(np.logaddexp(np.log(1 - _ALL_STARVED) + as_it_may, np.log(_ALL_STARVED) + nothing))


def _together(
    fault: HeadFault, contexts: Sequence[RunContext], shares: Sequence[float], *, starving: bool = False
) -> float:
    """Log-likelihood of several runs, each by its share of a voice."""
    return sum(
        share * float(np.log(_product(fault, context, starving)))
        for context, share in zip(contexts, shares, strict=True)
    )


def _product(fault: HeadFault, context: RunContext, starving: bool) -> float:
    mode, unit = context.running, unit_of_heads(context)
    assert mode is not None
    assert unit is not None
    assert unit.calling is not None
    found = 1.0
    for head in told_of(context):
        for end, share in head.shares.items():
            way = "starved" if starving and head.calls else fault.way(head.number, end, unit.calling)
            found *= float(belonging(context, share, end) @ chances(mode, end, way))
    return found


def belonging(context: RunContext, share: UFloat, end: End) -> Array:
    """How much a head's pipe belongs to each state, its band counted.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    share : UFloat
        How far it stands toward the refrigerant.
    end : End
        Where it is read.

    Returns
    -------
    ndarray, shape (3,)
        In the order of ``STATES``; sums to 1.
    """
    most = "head_fed" if context.running == "cooling" or end == "air" else "head_bleeds_most"
    edges = [context.practice.si("head_still"), context.practice.si(most)]
    # Bands of readings are half-widths of two standard deviations.
    around = NormalDist(float(share.nominal_value), hypot(float(share.std_dev) / 2, _BLUR))
    below = [around.cdf(edge) for edge in edges]
    return np.array([below[0], below[1] - below[0], 1 - below[1]])


def _words(context: RunContext) -> str:
    seen = told_of(context)
    odd = list(_odd(context, seen))
    if odd:
        return "; ".join(odd)
    fed = [head.called for head in seen if head.calls]
    return "what calls is fed, and what does not call is not" if fed else "what does not call is not fed"


def _odd(context: RunContext, seen: Sequence[HeadSeen]) -> Iterator[str]:
    for head in seen:
        for end, share in head.shares.items():
            state = STATES[int(belonging(context, share, end).argmax())]
            where = _WHERE[end]
            if head.calls and state == "still":
                yield f"{head.called} calls and is not fed, by {where}"
            elif not head.calls and state == "fed":
                yield f"{head.called} does not call and is fed, by {where}"

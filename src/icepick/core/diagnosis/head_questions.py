"""What could be asked of a unit's heads: their pipes, in the runs made, and in one where a single head calls."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.heads import End, unit_of_heads
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.diagnosis.head_evidence import head_fault, starved, states, told_of
from icepick.core.diagnosis.question import LIKELY, MINUTES, Question, stopped
from icepick.core.document.examination import Fault
from icepick.core.document.heads import OneLine
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group

Array = NDArray[np.float64]

_WHERE: dict[End, str] = {"outdoors": "liquid_line_outdoor", "indoors": "indoor_coil"}
"""The place that tells most at each end; supply air without its return tells nothing."""


def head_questions(belief: Belief, runs: Sequence[JudgedRun]) -> Iterator[Question]:
    """Every pipe of a head that is unread, and what one head alone would show.

    Parameters
    ----------
    belief : Belief
        What is thought of each hypothesis.
    runs : sequence of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.

    Yields
    ------
    Question
        None on a unit without several heads.
    """
    if not any(head_fault(one).heads for one in belief.hypotheses):
        return
    read = [run.context for run in runs if not run.recorded and told_of(run.context)]
    starving = [starved(one, read) for one in belief.hypotheses]
    made: set[tuple[FlowMode, tuple[int, ...]]] = set()
    last: RunContext | None = None
    for run in runs:
        context = run.context
        unit, mode = unit_of_heads(context), context.running
        told = mode is not None and mode == context.commanded and not context.defrosting
        if unit is None or unit.calling is None or mode is None or not told or stopped(run.checks):
            continue
        made.add((mode, unit.calling))
        last = context
        yield from _of_run(belief, starving, context, unit, mode, unit.calling)
    if last is not None and last.running is not None:
        unit = unit_of_heads(last)
        assert unit is not None
        for number in range(1, len(unit.every_head) + 1):
            if (last.running, (number,)) not in made:
                yield from _alone(belief, starving, last, unit, last.running, number)


def _of_run(
    belief: Belief,
    starving: Sequence[float],
    context: RunContext,
    unit: OneLine,
    mode: FlowMode,
    calling: tuple[int, ...],
) -> Iterator[Question]:
    for number in range(1, len(unit.every_head) + 1):
        for end in _WHERE:
            if not _read(context, unit, end, number):
                yield _question(belief, starving, context, mode, calling, number, end, context.run.id, 0.0)


def _alone(
    belief: Belief, starving: Sequence[float], context: RunContext, unit: OneLine, mode: FlowMode, number: int
) -> Iterator[Question]:
    settling = context.practice.si("settling_time") / 60
    for end in _WHERE:
        yield _question(belief, starving, context, mode, (number,), number, end, None, settling)


def _read(context: RunContext, unit: OneLine, end: End, number: int) -> bool:
    own = unit.fed and number == unit.head
    base = _WHERE[end]
    return context.temperature(base if own else f"{base}:{number}") is not None


def _question(
    belief: Belief,
    starving: Sequence[float],
    context: RunContext,
    mode: FlowMode,
    calling: tuple[int, ...],
    number: int,
    end: End,
    run: str | None,
    extra: float,
) -> Question:
    rows = np.array(
        [
            states(one, mode, calling, number, end, share)
            for one, share in zip(belief.hypotheses, starving, strict=True)
        ]
    )
    code = f"{_WHERE[end]}:{number}"
    calls = number in calling
    alone = f"Call head {number} alone: " if run is None else ""
    why = (
        f"{alone}a head that calls and stays at the temperature around it is not fed."
        if calls
        else "A head that does not call and is fed has a valve that leaks, or another's lines or wires."
    )
    return Question(
        context,
        [(code, "temperature")],
        _gain(belief.probabilities, rows),
        MINUTES[Group.LINE] + extra,
        run,
        why[0].upper() + why[1:],
        _separated(belief, rows),
        calling=calling if run is None else None,
    )


def _gain(shares: Array, rows: Array) -> float:
    """Expected drop of entropy [bits]: H(answer) − H(answer | hypothesis)."""
    answer = shares @ rows
    each = -(rows * np.log2(rows)).sum(axis=1)
    return float(-(answer * np.log2(answer)).sum() - shares @ each)


def _separated(belief: Belief, rows: Array) -> list[Fault]:
    """The two likely faults whose answers differ most."""
    likely = np.flatnonzero(belief.probabilities >= LIKELY).tolist()
    best, pair = 0.2, list[Fault]()
    for place, a in enumerate(likely):
        for b in likely[place + 1 :]:
            apart = float(np.abs(rows[a] - rows[b]).sum())
            if belief.hypotheses[a].fault != belief.hypotheses[b].fault and apart > best:
                best, pair = apart, [belief.hypotheses[a].fault, belief.hypotheses[b].fault]
    return pair

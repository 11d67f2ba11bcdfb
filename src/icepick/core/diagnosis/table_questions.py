"""What could be asked that no machine foretells, voltages, a magnet, frost, a sound: its worth follows from the tables."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import Checks, JudgedRun
from icepick.core.diagnosis.gauges import gauges_too_early
from icepick.core.diagnosis.machine_evidence import other_mode
from icepick.core.diagnosis.question import LIKELY, LOOK, MINUTES, SWITCH_MODE, UNMADE, Question, stopped
from icepick.core.diagnosis.reach import Away, is_away
from icepick.core.diagnosis.tables import FEATURES
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station

_OF_CONTROL = ("voltage", "resistance")
_CLEARLY = 0.2
_NOT_OF_A_DEFROST = ("filter_dirty", "bulb_loose")
"""What is not worth looking at because a defrost was recorded."""
_BY_RECORDING = 2.0
"""Minutes to bring a unit that was recorded to a run for readings: it stands before you. [our own choice]"""


def table_questions(
    belief: Belief, runs: list[JudgedRun], unmade: Sequence[RunContext] = (), away: Away = frozenset()
) -> Iterator[Question]:
    """Every question of a table that is open.

    Parameters
    ----------
    belief : Belief
        What is thought of each hypothesis.
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.
    unmade : sequence of RunContext
        Runs that could be made besides.
    away : frozenset of str
        Stations nobody can get at.

    Yields
    ------
    Question
        In the order of the tables.
    """
    contexts: list[tuple[RunContext, Checks, str | None, float]] = [
        (run.context, run.checks, run.context.run.id, 0.0) for run in runs if run.context.commanded
    ]
    if not all(stopped(run.checks) for run in runs):
        contexts += [(other, {}, None, SWITCH_MODE) for other in other_mode(runs)]
    contexts += [(context, {}, None, _BY_RECORDING) for context in unmade]
    likely, different = _likely(belief)
    for context, checks, run_id, extra in contexts:
        without_gauges, halted = gauges_too_early(context, checks), stopped(checks)
        for feature, bits in zip(FEATURES, _gains(belief, context.commanded), strict=True):
            if not feature.applies(context) or belief.answered(feature.name, run_id):
                continue
            separates = _separated(belief, likely, different, feature.apart[context.commanded], _CLEARLY)
            if context.run.id == UNMADE and feature.look in _NOT_OF_A_DEFROST:
                continue
            if feature.look is not None:
                if (run_id is not None or context.run.id == UNMADE) and not halted:
                    yield Question(context, [], bits, LOOK, run_id, feature.reason, separates, feature)
                continue
            missing = [spot for spot in feature.spots(context) if context.value(*spot) is None]
            if not missing or (
                without_gauges and any(station(code).group is Group.TAP for code, _ in missing)
            ):
                continue
            if any(is_away(context, *spot, away) for spot in missing):
                continue
            if halted and any(quantity not in _OF_CONTROL for _, quantity in missing):
                continue
            minutes = extra + sum(MINUTES[station(code).group] for code, _ in missing)
            yield Question(context, missing, bits, minutes, run_id, feature.reason, separates)


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


def _likely(belief: Belief) -> tuple[list[int], NDArray[np.bool_]]:
    """The likely hypotheses, and which pairs of them are different faults."""
    likely = np.flatnonzero(belief.probabilities >= LIKELY).tolist()
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

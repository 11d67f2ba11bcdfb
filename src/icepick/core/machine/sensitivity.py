"""How what a machine shows moves with what is unknown of it, out of the same solve.

Near a solved state the circuit answers a small change with a small change: the slopes the solver ends with say how its
unknowns follow, two corrections make up for their bend, and the readings are taken there once more. No new search is made.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.machine.conditions import Conditions, merged
from icepick.core.machine.cycle import Cycle, walk
from icepick.core.machine.parts import Machine
from icepick.core.machine.steady import Steady
from icepick.core.machine.variation import AT_REST, Variation, batch

Array = NDArray[np.float64]
Nudge = Callable[[float], tuple[Conditions, Variation]]
"""So many standard deviations of something unknown → the conditions and the machine with it."""

DEVIATIONS = 0.1
"""How far each unknown is moved for its slope: small enough to follow, large enough to be no noise."""
CORRECTIONS = 2


def moved(
    machine: Machine, mode: FlowMode, steady: Steady, conditions: Conditions, nudges: Sequence[Nudge]
) -> tuple[Cycle, Conditions, Variation]:
    """A solved state, and beside it the same one with each unknown moved by :data:`DEVIATIONS`.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    steady : Steady
        One solved state.
    conditions : Conditions
        What it was solved in.
    nudges : sequence of Nudge
        What is unknown.

    Returns
    -------
    (Cycle, Conditions, Variation)
        Arrays (1 + number of unknowns,): the state itself first.
    """
    there = [nudge(DEVIATIONS) for nudge in nudges]
    places = merged([conditions, *(place for place, _ in there)])
    knobs = batch([AT_REST, *(knob for _, knob in there)])
    unknown = np.repeat(steady.unknown, 1 + len(nudges), axis=1)
    for _ in range(CORRECTIONS):
        left = walk(machine, mode, unknown, places, knobs).disagreement
        unknown = unknown - np.linalg.solve(steady.slopes[0], left)
    return walk(machine, mode, unknown, places, knobs), places, knobs

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
from icepick.core.machine.steady import FARTHEST, Steady
from icepick.core.machine.variation import AT_REST, Variation, batch

Array = NDArray[np.float64]
Nudge = Callable[[float], tuple[Conditions, Variation]]
"""So many standard deviations of something unknown → the conditions and the machine with it."""

DEVIATIONS = 0.1
"""How far each unknown is moved for its slope: small enough to follow, large enough to be no noise."""
CORRECTIONS = 2


def moved(
    machine: Machine,
    mode: FlowMode,
    steady: Steady,
    conditions: Conditions,
    nudges: Sequence[Nudge],
    changed: Variation = AT_REST,
) -> tuple[Cycle, Conditions, Variation]:
    """Solved states in one place, and beside each the same one with every unknown moved by :data:`DEVIATIONS`.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    steady : Steady
        The solved states.
    conditions : Conditions
        What they were solved in: numbers.
    nudges : sequence of Nudge
        What is unknown.
    changed : Variation
        How each state differs from the machine sized.

    Returns
    -------
    (Cycle, Conditions, Variation)
        Arrays (states × (1 + number of unknowns),): of each state the state itself first.
    """
    there, states = [nudge(DEVIATIONS) for nudge in nudges], steady.unknown.shape[1]
    each = 1 + len(nudges)
    own, which = np.repeat(np.arange(states), each), np.tile(np.arange(each), states)
    places = merged([conditions, *(place for place, _ in there)]).at(which)
    knobs = changed.at(own).and_also(batch([AT_REST, *(knob for _, knob in there)]).at(which))
    unknown, back = steady.unknown[:, own], _inverted(steady.slopes)[own]
    for _ in range(CORRECTIONS):
        left = walk(machine, mode, unknown, places, knobs).disagreement
        step = np.einsum("kij,jk->ik", back, left)
        unknown = unknown - np.clip(step, -FARTHEST[:, None], FARTHEST[:, None])
    return walk(machine, mode, unknown, places, knobs), places, knobs


def _inverted(slopes: Array) -> Array:
    """Where a state has no slope some way, it is not corrected that way."""
    try:
        return np.asarray(np.linalg.inv(slopes))
    except np.linalg.LinAlgError:
        return np.asarray(np.linalg.pinv(np.where(np.isfinite(slopes), slopes, 0.0)))

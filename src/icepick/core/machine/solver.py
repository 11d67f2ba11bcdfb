"""Damped Newton for many small systems at once, each on its own way to its own root.

The Jacobian is taken by small steps of all systems together, and where few are left several lengths of their next step are
tried together too: a batch costs hardly more than one system. A step that does not bring a system nearer is shortened for
that system alone. A system may wait for others and begin where they have come to.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Which = NDArray[np.intp]
Function = Callable[[Array, Which], Array]
"""(unknowns (n, …, k), which k systems) → how far each equation is from holding, in the same shape."""
Onward = Callable[[Which, Array, NDArray[np.bool_]], tuple[Which, Array]]
"""(which k systems have ended, their unknowns (n, k), which came to rest) → which m begin now, from where (n, m)."""

STEP = 1e-5
"""Of the unknowns, for slopes."""
SHORTER, SHORTEST = 0.35, 0.02
"""What a step is shortened by; a step this short is taken, nearer or not."""
_LENGTHS, _AT_ONCE = 5, 120
"""Lengths of a step from whole to shortest; how many systems times lengths are tried at once."""


@dataclass(frozen=True, slots=True)
class Roots:
    """Where a batch came to: unknowns (n, k), what is left of each system's equations at the worst (k,), whether that is
    small enough to be believed, and the slopes of the equations there (k, n, n)."""

    unknown: Array
    residual: Array
    converged: NDArray[np.bool_]
    slopes: Array


def solve(
    function: Function,
    start: Array,
    farthest: Array,
    *,
    tolerance: float = 1e-5,
    rounds: int = 40,
    first: Which | None = None,
    onward: Onward | None = None,
) -> Roots:
    """Find where a function is zero, for every system of a batch.

    Parameters
    ----------
    function : Function
        What must become zero.
    start : Array
        (n, k): a guess for each system; of one that waits, anything.
    farthest : Array
        (n,): how far one step may go.
    tolerance : float
        The greatest equation at which a system counts as solved.
    rounds : int
        Steps of one system at most.
    first : Which or None
        The systems that begin; all where None.
    onward : Onward or None
        Told which have ended, says which begin.

    Returns
    -------
    Roots
        Systems that did not come to rest are among them, and say so.
    """
    count, systems = start.shape
    here = np.array(start, dtype=np.float64)
    best = np.full(systems, np.inf)
    damping, taken = np.ones(systems), np.zeros(systems, dtype=np.intp)
    newton = np.zeros_like(here)
    slopes = np.zeros((systems, count, count))
    active = np.arange(systems) if first is None else first
    offsets = np.concatenate((np.zeros((count, 1)), STEP * np.eye(count)), axis=1)[:, :, None, None]
    while active.size:
        lengths = SHORTER ** np.arange(max(1, min(_LENGTHS, _AT_ONCE // active.size)))
        tried = damping[active] * lengths[:, None]
        at = here[:, None, active] + tried * newton[:, None, active]
        # A step may lead to where nothing is defined; what comes of it is no number, and the step is refused.
        with np.errstate(all="ignore"):
            spread = (at[:, None] + offsets).reshape(count, -1, active.size)
            values = function(spread, active).reshape(count, count + 1, *at.shape[1:])
            worst = np.abs(values[:, 0]).max(axis=0)
            nearer = (worst < best[active] * (1 - 1e-4 * tried)) | (tried < SHORTEST)
        one, column = nearer.argmax(axis=0), np.arange(active.size)
        found = nearer[one, column]
        damping[active[~found]] *= lengths[-1] * SHORTER
        one, column, accepted = one[found], column[found], active[found]
        here[:, accepted] = at[:, one, column]
        best[accepted] = worst[one, column]
        now = values[:, :, one, column]
        slopes[accepted] = ((now[:, 1:] - now[:, :1]) / STEP).transpose(2, 0, 1)
        newton[:, accepted] = _held(_steps(slopes[accepted], now[:, 0].T).T, farthest)
        damping[accepted] = 1.0
        taken[active] += 1
        ended = (best[active] < tolerance) | (taken[active] >= rounds)
        over, active = active[ended], active[~ended]
        if onward is not None and over.size:
            begins, where = onward(over, here[:, over], best[over] < tolerance)
            here[:, begins] = where
            active = np.sort(np.concatenate((active, begins)))
    return Roots(here, best, best < tolerance, slopes)


def _steps(slopes: Array, values: Array) -> Array:
    """Newton's steps (k, n); where a system has no slope some way, it does not go that way."""
    found: Array
    try:
        found = np.asarray(-np.linalg.solve(slopes, values[..., None])[..., 0], dtype=np.float64)
    except np.linalg.LinAlgError:
        found = np.asarray(-(np.linalg.pinv(slopes) @ values[..., None])[..., 0], dtype=np.float64)
    return np.where(np.isfinite(found), found, 0.0)


def _held(steps: Array, farthest: Array) -> Array:
    """Steps shortened, each as a whole, to where no unknown goes too far."""
    over = np.max(np.abs(steps) / farthest[:, None], axis=0)
    return np.asarray(steps / np.maximum(over, 1.0))

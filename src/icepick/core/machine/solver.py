"""Damped Newton for many small systems at once, each on its own way to its own root.

The Jacobian is taken by small steps of all systems together, so that a batch costs hardly more than one system. A step that
does not bring a system nearer is halved for that system alone.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Function = Callable[[Array, NDArray[np.intp]], Array]
"""(unknowns (n, …, k), which k systems) → how far each equation is from holding, in the same shape."""

STEP = 1e-5
"""Of the unknowns, for slopes."""


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
) -> Roots:
    """Find where a function is zero, for every system of a batch.

    Parameters
    ----------
    function : Function
        What must become zero.
    start : Array
        (n, k): a guess for each system.
    farthest : Array
        (n,): how far one step may go.
    tolerance : float
        The greatest equation at which a system counts as solved.
    rounds : int
        Steps at most.

    Returns
    -------
    Roots
        Systems that did not come to rest are among them, and say so.
    """
    count, systems = start.shape
    here = np.array(start, dtype=np.float64)
    best = np.full(systems, np.inf)
    damping = np.ones(systems)
    newton = np.zeros_like(here)
    from_where = here.copy()
    slopes = np.zeros((systems, count, count))
    active = np.arange(systems)
    offsets = np.concatenate((np.zeros((count, 1)), STEP * np.eye(count)), axis=1)[:, :, None]
    for _ in range(rounds):
        at = here[:, active]
        # A step may lead to where nothing is defined; what comes of it is no number, and the step is refused.
        with np.errstate(all="ignore"):
            values = function(at[:, None, :] + offsets, active)
        worst = np.abs(values[:, 0]).max(axis=0)
        nearer = worst < best[active] * (1 - 1e-4 * damping[active])
        nearer |= damping[active] < 0.02
        accepted, refused = active[nearer], active[~nearer]
        if refused.size:
            damping[refused] *= 0.35
            here[:, refused] = from_where[:, refused] + damping[refused] * newton[:, refused]
        if accepted.size:
            now = values[:, :, nearer]
            best[accepted] = worst[nearer]
            slopes[accepted] = ((now[:, 1:] - now[:, :1]) / STEP).transpose(2, 0, 1)
            steps = _steps(slopes[accepted], now[:, 0].T)
            steps = _held(steps.T, farthest)
            damping[accepted] = 1.0
            from_where[:, accepted] = here[:, accepted]
            newton[:, accepted] = steps
            done = best[accepted] < tolerance
            here[:, accepted[~done]] += steps[:, ~done]
            active = np.sort(np.concatenate((accepted[~done], refused)))
        if not active.size:
            break
    solved = best < tolerance
    here[:, ~solved] = from_where[:, ~solved]
    return Roots(here, best, solved, slopes)


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

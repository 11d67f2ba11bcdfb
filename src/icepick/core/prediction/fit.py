"""How well each fault, at every severity, fits all readings of all runs together.

For a state the readings y are spread around what it foretells, μ, by

    Σ = instruments (a share of each instrument's error common to all it read)
      + what the model itself can do, and a share of what the fault is said to change
      + J S Jᵀ

J being how the readings move with one standard deviation of each thing unknown: of the unit, one for all its runs; of a run's
conditions, its own. S is the unit matrix, but for what earlier visits taught of the unit: then μ is moved by J m with it. How
likely the readings then are is said in :mod:`student`; severity is summed over.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.machine.faults import MachineFault
from icepick.core.prediction.severities import ANCHORS, AT, FROM_ANCHORS, NEAREST, SOLVED, beforehand, held
from icepick.core.prediction.slips import WRONG_SHARE, Slip, Slips, left_out, slips
from icepick.core.prediction.stack import Stack
from icepick.core.prediction.states import SOUND, State, acts, states
from icepick.core.prediction.student import log_t

Array = NDArray[np.float64]

LIKELIER = 0.5
"""A reading is left out, and named, once it is likelier wrong than not."""


@dataclass(frozen=True, eq=False)
class Fitted:
    """How a hypothesis fits: its log-likelihood, severity summed over; how likely each severity held then is; and what is
    needed to foretell more: its states, and for each anchor the inverse of Σ, for each severity Σ⁻¹ (y − μ)."""

    log_likelihood: float
    severities: Array
    weights: Array
    states: State
    inverse: Array
    turned: Array
    wrong: Slip | None = None
    """The reading that is wrong besides, where that is likelier than not."""
    memo: dict[int, tuple[slice, Array | None, int]] = field(default_factory=dict, repr=False)
    shown: dict[int, Any] = field(default_factory=dict, repr=False)
    """What it makes of every figure and place of a run, once asked for (:mod:`told_figures`)."""

    def looked_at(self, k: int) -> tuple[slice, Array | None, int]:
        """Of what a run foretells the rows that are the fault's, how much each counts, and the slopes nearest to that; of a
        fault that does not show in it the sound machine's, by itself."""
        if k not in self.memo:
            rows, anchors = self.states.rows(k)
            if rows is None or anchors is None:
                self.memo[k] = slice(0, 1), None, 0
            else:
                weights = self.at_solved * self.states.foretold(k).usable[rows]
                weights = weights / weights.sum()
                nearest = int(np.abs(np.array(ANCHORS) - weights @ np.arange(SOLVED)).argmin())
                self.memo[k] = rows, weights, anchors.start + nearest
        return self.memo[k]

    @cached_property
    def at_solved(self) -> Array:
        """Weights of the severities held, gathered at the solved ones next to them."""
        low = np.minimum(AT.astype(np.intp), SOLVED - 2)
        share = AT - low
        found = np.zeros(SOLVED)
        np.add.at(found, low, (1 - share) * self.weights)
        np.add.at(found, low + 1, share * self.weights)
        return found


@dataclass(frozen=True, slots=True)
class Fit:
    """How well the sound machine fits, each fault in each place, each wrong reading; ``distance`` is the sound one's d²."""

    stack: Stack
    none: Fitted
    distance: float
    wrong: Slips | None
    """Every reading that may be wrong, the machine being sound; None while nothing was read."""
    faults: dict[tuple[Fault, FlowMode | None], Fitted]

    @property
    def sound(self) -> float:
        return self.none.log_likelihood


_NOTHING = np.zeros(1)


def fit(stack: Stack, asked: Sequence[tuple[MachineFault, FlowMode | None]]) -> Fit:
    """Hold every fault against the readings.

    Parameters
    ----------
    stack : Stack
        The readings.
    asked : sequence of (MachineFault, mode)
        The faults, each with the mode in which alone it shows, or None.

    Returns
    -------
    Fit
        A fault that shows in none of the runs is not among them.
    """
    sound = states(stack, [SOUND])
    inverses, logs = _inverted(sound.covariances())
    inverse, size = inverses[0], float(logs[0, 0])
    residual = stack.values - sound.means[0, 0]
    pulled = inverse[0] @ residual
    distance = float(residual @ pulled)
    own = float(log_t(distance, size, stack.size))
    wrong = _wrong(stack, residual, inverse[0], size)
    none = Fitted(own, _NOTHING, np.ones(1), sound.of(0), inverse, pulled[None])
    acting = [one for one in asked if acts(stack, one)]
    return Fit(stack, none, distance, wrong, _held(stack, acting, size) if acting else {})


def _held(
    stack: Stack, asked: Sequence[tuple[MachineFault, FlowMode | None]], size: float
) -> dict[tuple[Fault, FlowMode | None], Fitted]:
    """Every fault, held against the readings; ``size`` is the sound machine's ln |Σ|."""
    these = states(stack, asked)
    inverses, logs = _inverted(these.covariances())
    off = stack.values - these.means
    turned = _turned(inverses, off)
    # A fault may be surer of its readings than the sound machine is, and must not lead for that alone.
    sizes = np.maximum((logs + these.allowance(inverses)) @ FROM_ANCHORS.T, size)
    likely, astray = _one_wrong(stack, off, turned, inverses, sizes)
    totals, weights = _summed(np.where(these.usable, likely, -np.inf), asked)
    wrong = (weights[:, None] @ astray)[:, 0]
    found: dict[tuple[Fault, FlowMode | None], Fitted] = {}
    for f, (fault, mode) in enumerate(asked):
        fitted = Fitted(float(totals[f]), held(fault), weights[f], these.of(f), inverses[f], turned[f])
        found[fault.fault, mode] = _without(fitted, stack, off[f], wrong[f])
    return found


def _turned(inverses: Array, off: Array) -> Array:
    """Σ⁻¹ (y − μ) (..., t, n), of inverses (..., a, n, n), by the anchor nearest to each severity."""
    found = np.empty_like(off)
    for anchor in range(inverses.shape[-3]):
        near = anchor == NEAREST
        found[..., near, :] = off[..., near, :] @ inverses[..., anchor, :, :]
    return found


def _summed(likely: Array, asked: Sequence[tuple[MachineFault, FlowMode | None]]) -> tuple[Array, Array]:
    """Log-likelihoods (f,) with severity summed over, and how likely each severity then is (f, t)."""
    prior = np.stack([beforehand(fault) for fault, _ in asked])
    logs = likely + np.log(prior)
    most = logs.max(axis=1, keepdims=True)
    lost = ~np.isfinite(most)
    weights = np.where(lost, prior, np.exp(logs - np.where(lost, 0.0, most)))
    whole = weights.sum(axis=1, keepdims=True)
    return np.where(lost, -np.inf, most + np.log(whole))[:, 0], weights / whole


def _wrong(stack: Stack, residual: Array, inverse: Array, log_size: float) -> Slips | None:
    if not stack.size:
        return None
    above = np.array([stack.runs[k].around.atmosphere for k in stack.owner])
    return slips(stack.values, residual, inverse, log_size, stack.places, above)


def _one_wrong(stack: Stack, off: Array, turned: Array, inverses: Array, sizes: Array) -> tuple[Array, Array]:
    """Log-likelihoods (f, t) of faults with perhaps one reading wrong besides, and how likely each one then is (f, t, n)."""
    distance = (off * turned).sum(axis=-1)
    clean = log_t(distance, sizes, stack.size)
    own = np.diagonal(inverses, axis1=-2, axis2=-1)[:, NEAREST]
    closer, larger = left_out(stack.astray, distance, turned, own, sizes)
    # One allowance for what nothing explains is enough: with a reading left out all the others have to fit.
    without = -0.5 * (larger + closer)
    each = without + np.log(WRONG_SHARE / stack.size)
    likely = np.logaddexp(clean, _log_sum(each))
    return likely, np.exp(each - likely[..., None])


def _without(fitted: Fitted, stack: Stack, off: Array, wrong: Array) -> Fitted:
    """A fault without the reading that is likelier wrong than not, if there is one: nothing more is foretold from that."""
    if not wrong.size or wrong.max() < LIKELIER:
        return fitted
    i, at = int(wrong.argmax()), int(fitted.weights.argmax())
    column, own = fitted.inverse[:, :, i], fitted.inverse[:, i, i]
    anchor = NEAREST[at]
    should = float(stack.values[i] - fitted.turned[at, i] / own[anchor])
    slip = Slip(fitted.log_likelihood, float(wrong[i]), i, None, should, float(own[anchor] ** -0.5), "")
    share = stack.astray[i] ** 2 / (1 + stack.astray[i] ** 2 * own)
    inverse = fitted.inverse - share[:, None, None] * column[:, :, None] * column[:, None, :]
    turned = _turned(inverse, off)
    return replace(fitted, inverse=inverse, turned=turned, wrong=slip, memo={}, shown={})


def _log_sum(logs: Array) -> Array:
    """ln Σ exp over the last axis."""
    most = logs.max(axis=-1, keepdims=True)
    return np.asarray(most[..., 0] + np.log(np.exp(logs - most).sum(axis=-1)))


def _inverted(covariances: Array) -> tuple[Array, Array]:
    """Inverses, and ln |Σ|."""
    lower = np.linalg.cholesky(covariances)
    logs = 2 * np.log(np.diagonal(lower, axis1=-2, axis2=-1)).sum(axis=-1)
    return np.asarray(np.linalg.inv(covariances)), logs

"""What readings not taken yet would show under each hypothesis, all that was read considered: of all of them together, so
that it is known what the second of two would still tell once the first is read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.prediction.fit import Fitted
from icepick.core.prediction.severities import NEAREST

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Unread:
    """A reading that could be taken in a run of the stack: its column among what is foretold, or the condition it would tell
    with how that is known; and the instrument's spread, as one standard deviation [SI]."""

    run: int
    column: int | None
    condition: str
    usual: float
    spread: float
    instrument: float


@dataclass(frozen=True, slots=True)
class Ahead:
    """Means (m,) and covariance (m, m) of some readings [SI]."""

    means: Array
    covariance: Array


def ahead(fitted: Fitted, unread: Sequence[Unread]) -> Ahead:
    """What some readings would show under a hypothesis.

    Parameters
    ----------
    fitted : Fitted
        The hypothesis, held against all that was read.
    unread : sequence of Unread
        Which readings.

    Returns
    -------
    Ahead
        Severity summed over.
    """
    jacobian = fitted.states.jacobian
    steps, anchors, count = fitted.turned.shape[0], jacobian.shape[0], len(unread)
    means, own = np.zeros((steps, count)), np.zeros((anchors, count))
    slopes = np.zeros((anchors, count, jacobian.shape[2]))
    for k in {one.run for one in unread}:
        here = [n for n, one in enumerate(unread) if one.run == k and one.column is not None]
        columns = np.array([unread[n].column for n in here], dtype=np.intp)
        means[:, here], own[:, here], slopes[:, here] = fitted.states.elsewhere(k, columns)
    for n, one in enumerate(unread):
        if one.column is None:
            means[:, n] = one.usual
            column = fitted.states.unknown(one.run, one.condition)
            if column is not None:
                slopes[:, n, column] = one.spread
    instruments = np.array([one.instrument for one in unread])
    across = slopes @ jacobian.transpose(0, 2, 1)
    narrowed = slopes @ slopes.transpose(0, 2, 1) - across @ fitted.inverse @ across.transpose(0, 2, 1)
    nearest = NEAREST if steps > 1 else np.zeros(1, dtype=np.intp)
    moved = means + np.einsum("tmn,tn->tm", across[nearest], fitted.turned)
    middle = fitted.weights @ moved
    off = moved - middle
    of_anchor = np.bincount(nearest, weights=fitted.weights, minlength=anchors)
    covariance = np.tensordot(of_anchor, narrowed, 1) + np.einsum("t,tm,tn->mn", fitted.weights, off, off)
    alone = of_anchor @ (BLUNT * own) ** 2 + instruments**2
    covariance[np.diag_indices(count)] = np.maximum(covariance.diagonal(), 0.0) + alone
    return Ahead(middle, covariance)


BLUNT = 3.0
"""A place by itself is foretold no better than so many times what the model does at a place that was read: a question must
not rest on a hair's breadth. [our own choice]"""
SAMPLES = 24
"""Of each hypothesis, so many futures are tried. [our own choice]"""


class Foresight:
    """By how much each of some readings is expected to narrow what is thought, those considered that are to be taken first.

    Futures are sampled from every hypothesis, each a Gaussian over all the readings; what is thought after a reading follows
    from Bayes. The same futures serve every question, so that two of them compare.
    """

    def __init__(self, probabilities: Array, seen: Sequence[Ahead]) -> None:
        """From the hypotheses' probabilities (h,), which sum to 1, and what each foretells."""
        self._probabilities = probabilities
        self._means = np.stack([one.means for one in seen])
        self._covariances = np.stack([one.covariance for one in seen])
        count = self._means.shape[1]
        half = np.random.default_rng(0).standard_normal((SAMPLES // 2, count))
        lower = np.linalg.cholesky(self._covariances)
        futures = np.einsum("gmn,pn->gpm", lower, np.concatenate((half, -half))) + self._means[:, None]
        # (futures of every hypothesis, readings), and how much each future counts.
        self._futures = futures.reshape(-1, count).astype(np.float32)
        self._shares = np.repeat(probabilities / SAMPLES, SAMPLES)
        # What each hypothesis foretells in each future, and the logarithm of what is thought of it there. For an average of
        # a few futures half the digits do.
        each = self._shares.size
        self._foretold = np.broadcast_to(self._means.astype(np.float32), (each, *self._means.shape)).copy()
        logs = np.log(probabilities).astype(np.float32)
        self._logs = np.broadcast_to(logs, (each, probabilities.size)).copy()
        self._entropy = float(_entropy(self._logs) @ self._shares)

    def gains(self) -> Array:
        """Expected drop of entropy [bits] by each reading."""
        variances = np.diagonal(self._covariances, axis1=1, axis2=2).astype(np.float32)
        logs = self._futures[:, None, :] - self._foretold
        logs *= logs
        logs /= variances
        logs += np.log(variances)
        logs *= -0.5
        logs += self._logs[:, :, None]
        left = self._shares @ _entropy(logs)
        return np.asarray(np.maximum(self._entropy - left, 0.0))

    def take(self, reading: int) -> None:
        """Go on as if a reading were taken."""
        variance = self._covariances[:, reading, reading]
        by = self._covariances[:, :, reading] / variance[:, None]
        off = self._futures[:, None, reading] - self._foretold[:, :, reading]
        self._logs -= 0.5 * (off**2 / variance + np.log(variance)).astype(np.float32)
        self._foretold += off[:, :, None] * by.astype(np.float32)
        self._covariances = self._covariances - by[:, :, None] * self._covariances[:, None, reading, :]
        # What was taken says nothing more.
        self._covariances[:, reading, :] = self._covariances[:, :, reading] = 0.0
        self._covariances[:, reading, reading] = 1.0
        self._foretold[:, :, reading] = self._futures[:, None, reading]
        self._entropy = float(_entropy(self._logs) @ self._shares)


def _entropy(logs: NDArray[np.float32]) -> NDArray[np.float32]:
    """[bits], of hypotheses along the second axis, given as logarithms up to a constant."""
    logs = logs - logs.max(axis=1, keepdims=True)
    likely = np.exp(logs)
    whole = likely.sum(axis=1)
    likely *= logs
    return np.asarray((np.log(whole) - likely.sum(axis=1) / whole) / np.log(2))

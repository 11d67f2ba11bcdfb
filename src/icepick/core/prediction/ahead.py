"""What a reading not taken yet would show under each hypothesis, all that was read considered."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.surroundings import Surroundings
from icepick.core.prediction.fit import Fitted
from icepick.core.prediction.severities import NEAREST

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Ahead:
    """Means and spreads, as one standard deviation, of some readings [SI]."""

    means: Array
    spreads: Array


def ahead(fitted: Fitted, k: int, columns: NDArray[np.intp], instruments: Array) -> Ahead:
    """What some places of a run would show under a hypothesis.

    Parameters
    ----------
    fitted : Fitted
        The hypothesis, held against all that was read.
    k : int
        Which run of the stack.
    columns : array of int
        Which of the places it foretells.
    instruments : Array
        The instruments' spreads, as one standard deviation.

    Returns
    -------
    Ahead
        Severity summed over.
    """
    means, own, slopes = fitted.states.elsewhere(k, columns)
    return _seen(fitted, means, own**2 + instruments**2, slopes)


def condition_ahead(
    fitted: Fitted, k: int, name: str, around: Surroundings, instrument: float
) -> Ahead | None:
    """What an unread condition of a run would show under a hypothesis.

    Parameters
    ----------
    fitted : Fitted
        The hypothesis, held against all that was read.
    k : int
        Which run of the stack.
    name : str
        Of the condition, as in ``Surroundings``.
    around : Surroundings
        What is known of the run's conditions.
    instrument : float
        The instrument's spread, as one standard deviation.

    Returns
    -------
    Ahead or None
        Of one reading; None where nothing of it is uncertain.
    """
    column = fitted.states.unknown(k, name)
    if column is None:
        return None
    known = getattr(around, name)
    jacobian = fitted.states.jacobian
    slopes = np.zeros((jacobian.shape[0], 1, jacobian.shape[2]))
    slopes[:, 0, column] = known.spread
    means = np.full((fitted.turned.shape[0], 1), known.value)
    return _seen(fitted, means, np.full((jacobian.shape[0], 1), instrument**2), slopes)


def _seen(fitted: Fitted, means: Array, own: Array, slopes: Array) -> Ahead:
    """From means (steps, m), own variances (anchors, m) and slopes (anchors, m, unknowns); severity summed over."""
    across = slopes @ fitted.states.jacobian.transpose(0, 2, 1)
    told = np.einsum("amn,anp,amp->am", across, fitted.inverse, across)
    variances = np.maximum(own + (slopes**2).sum(axis=2) - told, own)
    steps = fitted.turned.shape[0]
    nearest = NEAREST if steps > 1 else np.zeros(1, dtype=np.intp)
    moved = means + np.einsum("tmn,tn->tm", across[nearest], fitted.turned)
    weights = fitted.weights[:, None]
    middle = (weights * moved).sum(axis=0)
    whole = (weights * (variances[nearest] + (moved - middle) ** 2)).sum(axis=0)
    return Ahead(middle, np.sqrt(whole))


_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(9)
_SHARES = _WEIGHTS / _WEIGHTS.sum()


def gain(probabilities: Array, means: Array, spreads: Array) -> Array:
    """By how much each reading is expected to narrow what is thought [bits]: its mutual information with the hypotheses.

    Parameters
    ----------
    probabilities : Array
        (hypotheses,).
    means, spreads : Array
        (hypotheses, readings), each a Gaussian.

    Returns
    -------
    Array
        (readings,).
    """
    # Of each hypothesis, nine places where its own Gaussian is sampled: (places, hypotheses, readings).
    at = means[None] + _NODES[:, None, None] * spreads[None]
    own = -0.5 * _NODES[:, None, None] ** 2 - np.log(spreads)[None]
    away = (at[:, :, None, :] - means[None, None]) / spreads[None, None]
    every = np.exp(-0.5 * away**2 - np.log(spreads)[None, None])
    mixed = np.einsum("h,pghr->pgr", probabilities, every)
    each = own - np.log(np.maximum(mixed, 1e-300))
    found = np.einsum("p,g,pgr->r", _SHARES, probabilities, each) / np.log(2)
    return np.asarray(np.maximum(found, 0.0))

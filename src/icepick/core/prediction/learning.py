"""What runs of a sound unit teach of that very unit: its airflows, coils, charge, and where the model is off for it.

With θ what is unknown, each in its standard deviations, and y − μ = J θ + e the readings of all those runs together,

    m = Jᵀ Σ⁻¹ (y − μ),   S = 1 − Jᵀ Σ⁻¹ J,   Σ = J Jᵀ + what instruments and model spread.

Until the next visit some of it changes again, filters first: a share is forgotten.
"""

from __future__ import annotations

import numpy as np

from icepick.core.circuit.learned import Learned
from icepick.core.machine.siblings import together
from icepick.core.prediction.stack import Stack
from icepick.core.prediction.states import SOUND, states

KEPT = 0.95
"""Of how far an unknown was found to lie from the usual, what still holds at the next visit. [our own choice]"""


def learn(stack: Stack) -> Learned:
    """What was learned of a unit.

    Parameters
    ----------
    stack : Stack
        All readings of runs in which it was found sound.

    Returns
    -------
    Learned
        Of every unknown that its runs share.
    """
    sound = states(stack, [SOUND])
    shared = [column for (_, owner), column in stack.unknowns.items() if owner < 0]
    slopes = sound.jacobian[0, 0][:, shared]
    pulled = np.linalg.solve(
        sound.covariances()[0, 0], np.column_stack((stack.values - sound.means[0, 0], slopes))
    )
    mean = slopes.T @ pulled[:, 0]
    covariance = np.eye(len(shared)) - slopes.T @ pulled[:, 1:]
    return Learned(
        tuple(name for name, owner in stack.unknowns if owner < 0),
        KEPT * mean,
        KEPT**2 * 0.5 * (covariance + covariance.T) + (1 - KEPT**2) * np.eye(len(shared)),
    )


def of_a_sibling(taught: Learned) -> Learned:
    """What one circuit of a unit teaches of another: as far as the two go together.

    Parameters
    ----------
    taught : Learned
        Of the one that was found sound.

    Returns
    -------
    Learned
        Of its sibling.
    """
    by = together(taught.names)
    covariance = by[:, None] * taught.covariance * by + np.diag(1 - by**2)
    return Learned(taught.names, by * taught.mean, covariance)


def both(one: Learned | None, other: Learned | None) -> Learned | None:
    """What two sources teach together, each by itself beside what is known beforehand.

    Parameters
    ----------
    one, other : Learned or None
        None teaches nothing.

    Returns
    -------
    Learned or None
        None where neither teaches anything.
    """
    if one is None or other is None:
        return one or other
    names = tuple(dict.fromkeys([*one.names, *other.names]))
    weights, pulled = -np.eye(len(names)), np.zeros(len(names))
    for mean, covariance in (one.of(names), other.of(names)):
        precision = np.linalg.inv(covariance)
        weights, pulled = weights + precision, pulled + precision @ mean
    left = np.linalg.inv(weights)
    return Learned(names, left @ pulled, 0.5 * (left + left.T))

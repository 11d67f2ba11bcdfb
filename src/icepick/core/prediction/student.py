"""The likelihood of readings: Gaussian while something fits, with the tails of Student's t where nothing does."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

FREEDOM = 8.0
"""How far a misfit of every fault blunts what tells them apart. [our own choice]"""


def log_t(distance: Array | float, log_size: Array | float, count: int) -> Array:
    """Log-likelihood of readings, but for what all hypotheses share: −½ ln |Σ| − ½ d² up to d² = n; beyond, d² grows like the
    (ν + n) ln(ν + d²) of Student's t.

    Parameters
    ----------
    distance : Array or float
        Squared distance of the readings from what is foretold, over their spreads.
    log_size : Array or float
        ln |Σ|.
    count : int
        How many readings.

    Returns
    -------
    Array
        In the arguments' shape.
    """
    size, beyond = -0.5 * np.asarray(log_size), np.maximum(distance, count)
    tail = (FREEDOM + count) * np.log((FREEDOM + beyond) / (FREEDOM + count))
    return np.asarray(size - 0.5 * (np.minimum(distance, count) + tail))

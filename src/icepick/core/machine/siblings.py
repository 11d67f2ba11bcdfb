"""How alike two circuits of one unit are: what of a machine the manufacturer made twice, what was set, charged or
insulated for each by itself, and how fast each compressor is told to turn.

Of each unknown, how far two siblings go together: 1 where they share it, 0 where one tells nothing of the other. [our own
choice, from what leaves a factory as one design and what is done by hand]
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_BY_HAND = {"charge": 0.3, "superheat_shift": 0.4, "line_heat": 0.6, "valve_heat": 0.6}
_OF_ONE_DESIGN = 0.9
_ITS_OWN = {"speed": 0.0}
_SHARED = {"outdoor": 1.0, "indoor": 1.0, "outdoor_humidity": 1.0, "indoor_humidity": 1.0}


def together(names: Sequence[str]) -> Array:
    """How far siblings go together in each unknown.

    Parameters
    ----------
    names : sequence of str
        Of unknowns of a unit, or of its conditions; those of a metering device with their device.

    Returns
    -------
    ndarray, shape (n,)
        0 to 1.
    """
    known = {**_BY_HAND, **_ITS_OWN, **_SHARED}
    return np.array([known.get(name.partition(" of the ")[0], _OF_ONE_DESIGN) for name in names])

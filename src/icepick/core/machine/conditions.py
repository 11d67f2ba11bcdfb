"""What a machine works in: what enters its coils, the air's pressure, and how fast its compressor turns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE

Array = NDArray[np.float64]
Value = float | Array


@dataclass(frozen=True, slots=True)
class Conditions:
    """Entering temperatures [K], humidity ratios [kg/kg] (of no meaning for water), and the compressor's speed over its full
    one; numbers, or arrays over a batch. The air's pressure [Pa] is one for all of a batch."""

    outdoor: Value
    indoor: Value
    outdoor_ratio: Value = 0.0
    indoor_ratio: Value = 0.0
    speed: Value = 1.0
    atmosphere: float = SEA_LEVEL_PRESSURE

    def at(self, where: NDArray[np.intp] | NDArray[np.bool_]) -> Conditions:
        """The conditions of some states of the batch."""

        def picked(value: Value) -> Value:
            return value[where] if isinstance(value, np.ndarray) and value.ndim else value

        return Conditions(
            picked(self.outdoor),
            picked(self.indoor),
            picked(self.outdoor_ratio),
            picked(self.indoor_ratio),
            picked(self.speed),
            self.atmosphere,
        )


def merged(rows: Sequence[Conditions]) -> Conditions:
    """One batch of several conditions, in their order; the first one's air pressure holds for all."""
    return Conditions(
        np.array([row.outdoor for row in rows]),
        np.array([row.indoor for row in rows]),
        np.array([row.outdoor_ratio for row in rows]),
        np.array([row.indoor_ratio for row in rows]),
        np.array([row.speed for row in rows]),
        rows[0].atmosphere,
    )

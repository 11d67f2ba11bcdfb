"""What a hypothesis makes of the figures the trade judges by, and of single places, before any reading narrows it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.expected import FLOORS, OTHER_FLOOR
from icepick.core.machine.figures import JUDGED, KINDS
from icepick.core.machine.stations import Place
from icepick.core.prediction.fit import Fitted
from icepick.core.prediction.foretold import Foretold
from icepick.core.prediction.severities import ANCHORS, SOLVED
from icepick.core.properties.quantities import Kind

Array = NDArray[np.float64]

_FLOOR = {
    Kind.TEMPERATURE: FLOORS["temperature"],
    Kind.TEMPERATURE_DIFFERENCE: FLOORS["temperature"],
    Kind.SHARE: FLOORS["share"],
    Kind.RATIO: (0.0, 0.03),
}


@dataclass(frozen=True, slots=True)
class Shown:
    """A value and its spread as one standard deviation [SI]."""

    value: float
    spread: float


def figure(fitted: Fitted, k: int, name: str) -> Shown | None:
    """What a hypothesis makes of a figure of a run, severity summed over as the readings leave it.

    Parameters
    ----------
    fitted : Fitted
        The hypothesis, held against all that was read.
    k : int
        Which run of the stack.
    name : str
        Of the figure.

    Returns
    -------
    Shown or None
        None where the machine has no such figure.
    """
    told = fitted.states.foretold(k)
    if name not in told.figures:
        return None
    kind = KINDS.get(name) or JUDGED[name]
    return _shown(
        fitted, k, told, told.figures[name], told.figure_slopes[name], _FLOOR.get(kind, OTHER_FLOOR)
    )


def place(fitted: Fitted, k: int, at: Place) -> Shown | None:
    """What a hypothesis makes of a place of a run, as :func:`figure`.

    Parameters
    ----------
    fitted : Fitted
        The hypothesis, held against all that was read.
    k : int
        Which run of the stack.
    at : Place
        Station and quantity.

    Returns
    -------
    Shown or None
        None where the machine shows nothing there.
    """
    told = fitted.states.foretold(k)
    if at not in told.places:
        return None
    column = told.places.index(at)
    floor = FLOORS.get(at[1], OTHER_FLOOR)
    return _shown(fitted, k, told, told.means[:, column], told.slopes[:, column], floor)


def _shown(
    fitted: Fitted, k: int, told: Foretold, row: Array, slopes: Array, floor: tuple[float, float]
) -> Shown:
    rows, anchors = fitted.states.rows(k)
    if rows is None or anchors is None:
        value, by = float(row[0]), slopes[0]
        severity = 0.0
    else:
        weights = fitted.at_solved * told.usable[rows]
        weights = weights / weights.sum()
        value = float(weights @ row[rows])
        severity = float(weights @ (row[rows] - value) ** 2)
        nearest = int(np.abs(np.array(ANCHORS) - weights @ np.arange(SOLVED)).argmin())
        by = slopes[anchors][nearest]
    least = max(floor[0], floor[1] * abs(value))
    return Shown(value, float(np.sqrt((by**2).sum() + severity + least**2)))

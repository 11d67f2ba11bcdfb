"""What a hypothesis makes of the figures the trade judges by, and of single places, before any reading narrows it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.expected import FLOORS, OTHER_FLOOR
from icepick.core.machine.figures import JUDGED, KINDS
from icepick.core.machine.stations import Place
from icepick.core.prediction.fit import Fitted
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


@dataclass(frozen=True, slots=True)
class Everything:
    """Of one run, by place and by name."""

    places: Mapping[Place, Shown]
    figures: Mapping[str, Shown]


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
    return shown(fitted, k).figures.get(name)


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
    return shown(fitted, k).places.get(at)


def shown(fitted: Fitted, k: int) -> Everything:
    """What a hypothesis makes of every figure and place of a run, as :func:`figure`.

    Parameters
    ----------
    fitted : Fitted
        The hypothesis, held against all that was read.
    k : int
        Which run of the stack.

    Returns
    -------
    Everything
        Worked out once.
    """
    if k not in fitted.shown:
        fitted.shown[k] = _worked_out(fitted, k)
    found: Everything = fitted.shown[k]
    return found


def _worked_out(fitted: Fitted, k: int) -> Everything:
    told = fitted.states.foretold(k)
    names = list(told.figures)
    floors = [FLOORS.get(quantity, OTHER_FLOOR) for _, quantity in told.places]
    places = _shown(fitted, k, told.means, told.slopes, floors)
    rows = np.stack([told.figures[name] for name in names], axis=1)
    slopes = np.stack([told.figure_slopes[name] for name in names], axis=1)
    floors = [_FLOOR.get(KINDS.get(name) or JUDGED[name], OTHER_FLOOR) for name in names]
    figures = _shown(fitted, k, rows, slopes, floors)
    return Everything(dict(zip(told.places, places, strict=True)), dict(zip(names, figures, strict=True)))


def _shown(
    fitted: Fitted, k: int, means: Array, slopes: Array, floors: list[tuple[float, float]]
) -> list[Shown]:
    """Of means (states, m) and slopes (anchors, m, unknowns)."""
    rows, weights, anchor = fitted.looked_at(k)
    by = slopes[anchor]
    if weights is None:
        value, severity = means[0], np.zeros(means.shape[1])
    else:
        value = weights @ means[rows]
        severity = weights @ (means[rows] - value) ** 2
    mean, covariance = fitted.states.known(k, by.shape[1])
    value = value + by @ mean
    absolute, share = np.array(floors).T
    least = np.maximum(absolute, share * np.abs(value))
    spread = np.sqrt(np.einsum("mu,uv,mv->m", by, covariance, by) + severity + least**2)
    return [Shown(float(one), float(wide)) for one, wide in zip(value, spread, strict=True)]

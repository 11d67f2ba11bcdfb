"""What a hypothesis makes of the figures the trade judges by, and of single places, before any reading narrows it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.expected import FLOORS, OTHER_FLOOR
from icepick.core.machine.figures import JUDGED, KINDS
from icepick.core.machine.stations import Place
from icepick.core.prediction.fit import Fitted
from icepick.core.properties.quantities import Kind

Array = NDArray[np.float64]
K = TypeVar("K")

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
class Table(Generic[K]):
    """Values and spreads, as one standard deviation [SI], side by side."""

    columns: Mapping[K, int]
    values: Array
    spreads: Array

    def at(self, key: K) -> Shown | None:
        """One of them; None where it is not among them."""
        column = self.columns.get(key)
        return None if column is None else Shown(float(self.values[column]), float(self.spreads[column]))


@dataclass(frozen=True, slots=True)
class Everything:
    """Of one run, by place and by name."""

    places: Table[Place]
    figures: Table[str]


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
    return shown(fitted, k).figures.at(name)


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
    return shown(fitted, k).places.at(at)


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
    places = _shown(fitted, k, told.means, told.slopes, _of_places(told.places))
    figures = _shown(fitted, k, told.figure_means, told.figure_jacobians, _of_figures(tuple(told.figures)))
    return Everything(Table(told.columns, *places), Table(told.figure_columns, *figures))


@lru_cache(maxsize=64)
def _of_places(places: tuple[Place, ...]) -> Array:
    """(2, places): how well the model does at each by itself, so much and so much of the value."""
    return np.array([FLOORS.get(quantity, OTHER_FLOOR) for _, quantity in places]).T


@lru_cache(maxsize=64)
def _of_figures(names: tuple[str, ...]) -> Array:
    """(2, figures), likewise."""
    return np.array([_FLOOR.get(KINDS.get(name) or JUDGED[name], OTHER_FLOOR) for name in names]).T


def _shown(fitted: Fitted, k: int, means: Array, slopes: Array, floors: Array) -> tuple[Array, Array]:
    """Values and spreads, of means (states, m) and slopes (anchors, m, unknowns)."""
    rows, weights, anchor = fitted.looked_at(k)
    by = slopes[anchor]
    if weights is None:
        value, severity = means[0], np.zeros(means.shape[1])
    else:
        value = weights @ means[rows]
        severity = weights @ (means[rows] - value) ** 2
    mean, covariance = fitted.states.known(k, by.shape[1])
    value = value + by @ mean
    absolute, share = floors
    least = np.maximum(absolute, share * np.abs(value))
    return value, np.sqrt(((by @ covariance) * by).sum(axis=1) + severity + least**2)

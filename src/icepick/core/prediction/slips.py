"""A wrong reading as a hypothesis: the one that, left out, makes all the others fit a sound machine; and slips of the hand,
tried as such. [the-trade.md 8: a reading is doubted before the machine is]"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.prediction.student import log_t
from icepick.core.properties.quantities import Kind, from_si, to_si

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Slip:
    """What may have gone wrong: ``reading`` is its place in the stack, ``other`` that of the one it was exchanged with.

    ``value`` and ``spread``, one standard deviation, are what it should have been by all the others [SI]. ``words`` say the
    slip, empty where none is known.
    """

    log_likelihood: float
    share: float
    reading: int
    other: int | None
    value: float
    spread: float
    words: str


WRONG_SHARE = 0.08
"""How often a reading is wrong besides a fault, over how often none is: as of a sound machine's. [our own choice]"""
_LEFT_OUT, _EXCHANGED, _MISTYPED = 0.6, 0.2, 0.2
"""How a wrong reading comes about: somehow, by two sensors exchanged, by a slip with units. [our own choice]"""


def slips(
    values: Array,
    residual: Array,
    inverse: Array,
    log_size: float,
    places: tuple[tuple[int, str, str], ...],
    atmospheres: Array,
) -> list[Slip]:
    """Every wrong reading there may be.

    Parameters
    ----------
    values, residual : Array
        (n,): what was read [SI], and that less what the sound machine foretells.
    inverse : Array
        (n, n): of Σ.
    log_size : float
        ln |Σ|.
    places : tuple of (run, station, quantity)
        Of each reading.
    atmospheres : Array
        (n,): what a gauge is above [Pa].

    Returns
    -------
    list of Slip
        Their shares sum to 1.
    """
    n = values.size
    pulled, own = inverse @ residual, np.diagonal(inverse)
    distance = float(residual @ pulled)
    should, spread = values - pulled / own, 1 / np.sqrt(own)
    wide = astray(places, values)
    closer, larger = left_out(wide, np.array(distance), pulled, own, np.array(log_size))
    without = log_t(closer, larger, n)
    found = [
        Slip(float(without[i]), _LEFT_OUT / n, i, None, float(should[i]), float(spread[i]), "")
        for i in range(n)
    ]
    i, j = _pairs(places)
    by = values[j] - values[i]
    moved = distance + 2 * by * (pulled[i] - pulled[j]) + by**2 * (own[i] + own[j] - 2 * inverse[i, j])
    found += [
        Slip(
            float(likely),
            _EXCHANGED / i.size,
            int(one),
            int(other),
            float(values[other]),
            float(spread[one]),
            "exchanged",
        )
        for likely, one, other in zip(log_t(moved, log_size, n), i, j, strict=True)
    ]
    mistyped = [
        (i, meant, words)
        for i, ((_, _, quantity), value) in enumerate(zip(places, values, strict=True))
        for meant, words in _meant(quantity, float(value), float(atmospheres[i]))
    ]
    which = np.array([reading for reading, _, _ in mistyped], dtype=np.intp)
    by = np.array([meant for _, meant, _ in mistyped]) - values[which]
    moved = distance + 2 * by * pulled[which] + by**2 * own[which]
    found += [
        Slip(float(likely), _MISTYPED / len(mistyped), one, None, meant, float(spread[one]), words)
        for likely, (one, meant, words) in zip(log_t(moved, log_size, n), mistyped, strict=True)
    ]
    whole = sum(one.share for one in found)
    return [
        Slip(s.log_likelihood, s.share / whole, s.reading, s.other, s.value, s.spread, s.words) for s in found
    ]


def together(found: list[Slip]) -> float:
    """The log-likelihood that one of them happened.

    Parameters
    ----------
    found : list of Slip
        Every wrong reading there may be.

    Returns
    -------
    float
        Their shares weighed in.
    """
    logs = np.array([one.log_likelihood for one in found]) + np.log([one.share for one in found])
    most = float(logs.max())
    return most + float(np.log(np.exp(logs - most).sum()))


def likeliest(found: list[Slip]) -> Slip:
    """The one that explains most.

    Parameters
    ----------
    found : list of Slip
        Every wrong reading there may be.

    Returns
    -------
    Slip
        By likelihood and share.
    """
    return max(found, key=lambda one: one.log_likelihood + float(np.log(one.share)))


def left_out(wide: Array, distance: Array, pulled: Array, own: Array, log_size: Array) -> tuple[Array, Array]:
    """d² and ln |Σ| with each reading by itself believed to lie anywhere.

    Parameters
    ----------
    wide : Array
        (n,): how far each may then lie, as :func:`astray`.
    distance, log_size : Array
        (...): d² and ln |Σ|.
    pulled, own : Array
        (..., n): Σ⁻¹ (y − μ) and the diagonal of Σ⁻¹.

    Returns
    -------
    tuple of Array
        (..., n) each.
    """
    grown = 1 + wide**2 * own
    return distance[..., None] - wide**2 * pulled**2 / grown, log_size[..., None] + np.log(grown)


def astray(places: tuple[tuple[int, str, str], ...], values: Array) -> Array:
    """How far each wrong reading may lie, as one standard deviation: 15 K, a third of a pressure or current. [our own choice]

    Parameters
    ----------
    places : tuple of (run, station, quantity)
        Of each reading.
    values : Array
        (n,): what was read [SI].

    Returns
    -------
    Array
        (n,).
    """
    return np.array(
        [
            15.0 if quantity == "temperature" else 0.35 * abs(value)
            for (_, _, quantity), value in zip(places, values, strict=True)
        ]
    )


def _pairs(places: tuple[tuple[int, str, str], ...]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Every two readings of one quantity in one run, whose sensors may have been exchanged."""
    kinds = list(dict.fromkeys((run, quantity) for run, _, quantity in places))
    kind = np.array([kinds.index((run, quantity)) for run, _, quantity in places])
    one, other = np.nonzero(np.triu(kind[:, None] == kind, k=1))
    return one, other


_FAHRENHEIT = "typed as °F, read in °C"
_CELSIUS = "typed as °C, read in °F"


def _meant(quantity: str, value: float, atmosphere: float) -> Iterator[tuple[float, str]]:
    """What a number may have meant [SI], with the slip's words."""
    if quantity == "temperature":
        fahrenheit, celsius = (from_si(value, unit, Kind.TEMPERATURE) for unit in ("degF", "degC"))
        if fahrenheit < 160:
            yield to_si(fahrenheit, "degC", Kind.TEMPERATURE), _FAHRENHEIT
        yield to_si(celsius, "degF", Kind.TEMPERATURE), _CELSIUS
    elif quantity == "pressure":
        over = value - atmosphere
        psi = to_si(1, "psi", Kind.PRESSURE_DIFFERENCE)
        if over > 0:
            yield atmosphere + over * 1000 / psi, "typed as psi, read in kPa"
            yield atmosphere + over * psi / 1000, "typed as kPa, read in psi"
        yield over, "typed as gauge pressure, read absolute"
        yield value + atmosphere, "typed as absolute pressure, read by gauge"

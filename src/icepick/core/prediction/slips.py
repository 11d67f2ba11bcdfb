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
    wide = np.array(
        [_astray(quantity, value) for (_, _, quantity), value in zip(places, values, strict=True)]
    )
    grown = 1 + wide**2 * own
    left_out = log_t(distance - wide**2 * pulled**2 / grown, log_size + np.log(grown), n)
    found = [
        Slip(float(left_out[i]), _LEFT_OUT / n, i, None, float(should[i]), float(spread[i]), "")
        for i in range(n)
    ]
    exchanged = list(_pairs(places))
    for i, j in exchanged:
        by = values[j] - values[i]
        moved = distance + 2 * by * (pulled[i] - pulled[j]) + by**2 * (own[i] + own[j] - 2 * inverse[i, j])
        likely = float(log_t(moved, log_size, n))
        share = _EXCHANGED / len(exchanged)
        found.append(Slip(likely, share, i, j, float(values[j]), float(spread[i]), "exchanged"))
    mistyped = [
        (i, meant, words)
        for i, ((_, _, quantity), value) in enumerate(zip(places, values, strict=True))
        for meant, words in _meant(quantity, float(value), float(atmospheres[i]))
    ]
    for i, meant, words in mistyped:
        by = meant - values[i]
        moved = distance + 2 * by * pulled[i] + by**2 * own[i]
        likely = float(log_t(moved, log_size, n))
        found.append(Slip(likely, _MISTYPED / len(mistyped), i, None, meant, float(spread[i]), words))
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


def _astray(quantity: str, value: float) -> float:
    """How far a wrong reading may lie, as one standard deviation: 15 K, a third of a pressure or current. [our own choice]"""
    return 15.0 if quantity == "temperature" else 0.35 * abs(value)


def _pairs(places: tuple[tuple[int, str, str], ...]) -> Iterator[tuple[int, int]]:
    """Two readings of one quantity in one run, whose sensors may have been exchanged."""
    for i, (run, _, quantity) in enumerate(places):
        for j in range(i + 1, len(places)):
            if places[j][0] == run and places[j][2] == quantity:
                yield i, j


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

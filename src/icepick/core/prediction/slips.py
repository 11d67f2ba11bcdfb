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


@dataclass(frozen=True, slots=True, eq=False)
class Slips:
    """Every wrong reading there may be, side by side: their shares sum to 1."""

    log_likelihoods: Array
    shares: Array
    readings: NDArray[np.intp]
    others: NDArray[np.intp]
    """-1 where it was exchanged with none."""
    values: Array
    spreads: Array
    words: tuple[str, ...]

    @property
    def together(self) -> float:
        """The log-likelihood that one of them happened, their shares weighed in."""
        logs = self._weighed
        most = float(logs.max())
        return most + float(np.log(np.exp(logs - most).sum()))

    @property
    def likeliest(self) -> Slip:
        """The one that explains most, by likelihood and share."""
        best = int(self._weighed.argmax())
        other = int(self.others[best])
        return Slip(
            float(self.log_likelihoods[best]),
            float(self.shares[best]),
            int(self.readings[best]),
            None if other < 0 else other,
            float(self.values[best]),
            float(self.spreads[best]),
            self.words[best],
        )

    @property
    def _weighed(self) -> Array:
        return self.log_likelihoods + np.log(self.shares)


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
) -> Slips:
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
    Slips
        Somehow wrong, exchanged, mistyped.
    """
    n = values.size
    pulled, own = inverse @ residual, np.diagonal(inverse)
    distance = float(residual @ pulled)
    spread = 1 / np.sqrt(own)
    wide = astray(places, values)
    closer, larger = left_out(wide, np.array(distance), pulled, own, np.array(log_size))
    i, j = _pairs(places)
    by = values[j] - values[i]
    exchanged = distance + 2 * by * (pulled[i] - pulled[j]) + by**2 * (own[i] + own[j] - 2 * inverse[i, j])
    typed, meant, words = _mistyped(places, values, atmospheres)
    by = meant - values[typed]
    mistyped = distance + 2 * by * pulled[typed] + by**2 * own[typed]
    readings = np.concatenate((np.arange(n), i, typed))
    shares = np.concatenate(
        [
            np.full(count, share / max(count, 1))
            for share, count in ((_LEFT_OUT, n), (_EXCHANGED, i.size), (_MISTYPED, typed.size))
        ]
    )
    return Slips(
        np.concatenate(
            (log_t(closer, larger, n), log_t(exchanged, log_size, n), log_t(mistyped, log_size, n))
        ),
        shares / shares.sum(),
        readings,
        np.concatenate((np.full(n, -1), j, np.full(typed.size, -1))),
        np.concatenate((values - pulled / own, values[j], meant)),
        spread[readings],
        (*[""] * n, *["exchanged"] * i.size, *words),
    )


def _mistyped(
    places: tuple[tuple[int, str, str], ...], values: Array, atmospheres: Array
) -> tuple[NDArray[np.intp], Array, list[str]]:
    """Every slip with units: of which reading, what was meant [SI], and the slip's words."""
    found = [
        (reading, meant, words)
        for reading, ((_, _, quantity), value) in enumerate(zip(places, values, strict=True))
        for meant, words in _meant(quantity, float(value), float(atmospheres[reading]))
    ]
    which, meant, words = zip(*found, strict=True) if found else ((), (), ())
    return np.array(which, dtype=np.intp), np.array(meant, dtype=np.float64), list(words)


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

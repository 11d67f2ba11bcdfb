"""How much of its way a value still has to go.

What settles does so as its slowest parts do: x(t) = c + a·exp(−t/τ), or two such ways at once, of which one may lead
back. For each τ that a heat pump's pipes, coils and air may have, and each pair of them, c and the factors follow by
least squares; how well each explains the last minutes says how likely it is, and all of them together how far from here
the end may lie. Noise that hangs together from one second to the next widens that. [Bayesian linear regression with a
normal prior on the factors, models weighed by their evidence: handbook statistics, from memory]
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

WINDOW = 120.0
"""What is looked at at least [s]."""
_WINDOWS = (240.0, 170.0, WINDOW)
"""What is looked at where it can be explained: the longer, the better a slow end shows against noise. [our own choice]"""
_EXPLAINED = 1.5
"""As many times the noise that neighbors show may be left over where a way explains what was seen. [our own choice]"""
SLOWEST = 300.0
"""Of the time constants, from a bare probe's to that of a coil with all its metal and air [s]. [our own choice]"""
_CONSTANTS = np.geomspace(8.0, SLOWEST, 28)
_APART = 2.0
"""Two ways at once are told from one where their constants differ by this factor at least."""
_FARTHEST = 30.0
"""How far a value may have had to go at the window's begin, as one standard deviation, in widths. [our own choice]"""
_TWO = 0.1
"""How likely two ways at once are before anything is seen. [our own choice]"""
_LEAST = 12
"""Samples in the window: a probe that speaks every ten seconds is enough."""
_COVERED = 0.9
"""Of the window, from the first sample to the last."""
_NEARLY = 0.9
"""Of the width: what is still to come is known no better than that. [our own choice]"""
_COMES, _GOES = 0.01, 0.4
"""How likely it may be that more than the width is still to come: where it is found at rest, and while it counts as
such. [our own choice]"""


@dataclass(frozen=True, slots=True)
class Approach:
    """``level`` is the mean of the window's last half minute; ``to_come`` what is still to come by all ways together, and
    ``noise`` one standard deviation about the likeliest, in the values' unit; ``doubt`` how likely it is that more than the
    width is to come [0…1], and ``least_doubt`` the same by that stretch of the last minutes that leaves least."""

    level: float
    to_come: float
    noise: float
    doubt: float
    least_doubt: float

    def settled(self, before: bool = False) -> bool:
        """Whether it is at rest; ``before`` says that it was found so a moment ago."""
        return self.least_doubt < _GOES if before else self.doubt < _COMES


def approach(seconds: Array, values: Array, within: float) -> Approach | None:
    """Judge the last two minutes of a value.

    Parameters
    ----------
    seconds, values : ndarray
        Samples in their order; those older than the window are left out, as are values that are not numbers.
    within : float
        What may still be to come of a value at rest, in the values' unit.

    Returns
    -------
    Approach or None
        None where two minutes have not been seen.
    """
    there = np.isfinite(values)
    seconds, values = seconds[there], values[there]
    if not seconds.size:
        return None
    seconds = seconds - seconds[-1]
    shortest = seconds >= -WINDOW
    if shortest.sum() < _LEAST:
        return None
    noise = _noise(values[shortest])
    found: _Found | None = None
    explained, least = False, 1.0
    for window in _WINDOWS:
        recent = seconds >= -window
        moments, seen = seconds[recent], values[recent]
        if moments[0] > -_COVERED * window:
            continue
        one = _ways(tuple(moments.tolist())).weighed((seen - seen.mean()) / within, noise / within)
        least = min(least, one.doubt)
        # The longest that can be explained says it; where none can, the shortest.
        if not explained:
            found, explained = one, one.noise * within < _EXPLAINED * noise
        if explained and least < _COMES:
            break
    if found is None:
        return None
    level = float(values[seconds >= -30.0].mean())
    return Approach(level, found.to_come * within, found.noise * within, found.doubt, least)


def _noise(values: Array) -> float:
    """Of one sample, from what differs between neighbors; a few jumps among them count for little."""
    steps = np.abs(np.diff(values))
    # 1.4826 × the median of absolute deviations is a normal spread's standard deviation. [handbook]
    return max(1.4826 * float(np.median(steps)) / sqrt(2), 1e-6)


@dataclass(frozen=True, slots=True)
class _Found:
    to_come: float
    noise: float
    doubt: float


@dataclass(frozen=True, slots=True, eq=False)
class _Ways:
    """One way or two, over certain moments.

    ``shapes`` [ways, 2, moments] are as high as 1 at the first of them, with their means taken off; ``left`` [ways, 2] is
    what remains of each at the last. Where there is one way, its second shape is nothing.
    """

    shapes: Array
    left: Array
    products: Array
    prior: Array

    def weighed(self, around: Array, noise: float) -> _Found:
        """All ways, each as likely as it explains the values, in widths."""
        seen = (self.shapes.reshape(-1, around.size) @ around).reshape(-1, 2)
        first = self._fitted(seen, max(noise, 1e-4) ** 2)
        best = int(np.argmax(first.explains))
        unexplained = around - first.factors[best] @ self.shapes[best]
        # Whatever noise the neighbors show: what no way explains is not known either.
        each = max(noise**2, float((unexplained**2).sum()) / max(around.size - 3, 1))
        variance = each * _held_together(unexplained)
        fit = self._fitted(seen, variance)
        evidence = fit.explains / (2 * variance) - 0.5 * np.log(fit.narrowed) + self.prior
        weight = np.exp(evidence - evidence.max())
        weight /= weight.sum()
        ahead, spread = fit.ahead, fit.spread
        wide = np.maximum(spread, 1e-9)
        beyond = 1 - _below((_NEARLY - ahead) / wide) + _below((-_NEARLY - ahead) / wide)
        doubt = float(weight @ beyond)
        return _Found(float(ahead @ weight), sqrt(each), doubt)

    def _fitted(self, seen: Array, variance: float) -> _Fit:
        """Factors, how they spread, and by how much each way lowers the sum of squares, the prior counted in."""
        own = 1 / _FARTHEST**2
        a, b, d = (
            self.products[:, 0, 0] / variance + own,
            self.products[:, 0, 1] / variance,
            self.products[:, 1, 1] / variance + own,
        )
        size = a * d - b * b
        first, second = seen[:, 0] / variance, seen[:, 1] / variance
        factors = np.stack([(d * first - b * second) / size, (a * second - b * first) / size], axis=1)
        ahead = -(factors * self.left).sum(axis=1)
        x, y = self.left[:, 0], self.left[:, 1]
        spread = np.sqrt((d * x * x - 2 * b * x * y + a * y * y) / size)
        return _Fit(factors, ahead, spread, (factors * seen).sum(axis=1), size * _FARTHEST**4)


@dataclass(frozen=True, slots=True, eq=False)
class _Fit:
    """Of every way: its factors, what is to come and how far that spreads, by how much it lowers the sum of squares, and how
    many times narrower it makes what was thought before."""

    factors: Array
    ahead: Array
    spread: Array
    explains: Array
    narrowed: Array


def _below(z: Array) -> Array:
    """Share of a normal spread below z, by the error function to 1.5e-7. [Abramowitz and Stegun 7.1.26]"""
    x = np.abs(z) / sqrt(2)
    t = 1 / (1 + 0.3275911 * x)
    tail = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
    above = 0.5 * tail * np.exp(-x * x)
    found: Array = np.where(z > 0, 1 - above, above)
    return found


@lru_cache(maxsize=256)
def _ways(seconds: tuple[float, ...]) -> _Ways:
    moments = np.array(seconds)
    rise = np.exp(-(moments[None, :] - moments[0]) / _CONSTANTS[:, None])
    single = rise - rise.mean(axis=1, keepdims=True)
    ends = rise[:, -1]
    count = _CONSTANTS.size
    pairs = [
        (i, j) for i in range(count) for j in range(i + 1, count) if _CONSTANTS[j] >= _APART * _CONSTANTS[i]
    ]
    nothing = np.zeros_like(single)
    shapes = np.concatenate(
        [
            np.stack([single, nothing], axis=1),
            np.stack([single[[i for i, _ in pairs]], single[[j for _, j in pairs]]], axis=1),
        ]
    )
    left = np.concatenate(
        [
            np.stack([ends, np.zeros(count)], axis=1),
            np.array([[ends[i], ends[j]] for i, j in pairs]),
        ]
    )
    prior = np.log(np.array([(1 - _TWO) / count] * count + [_TWO / len(pairs)] * len(pairs)))
    return _Ways(shapes, left, np.einsum("kin,kjn->kij", shapes, shapes), prior)


def _held_together(left: Array) -> float:
    """By how much noise that hangs together widens a mean's variance: (1 + r) / (1 − r) of neighbors' correlation."""
    total = float((left**2).sum())
    if total <= 0:
        return 1.0
    related = float((left[1:] * left[:-1]).sum()) / total
    related = min(max(related, 0.0), 0.97)
    return (1 + related) / (1 - related)

"""All readings of all runs as one vector, with what is known of their errors and of what the unit's unknowns do to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.learned import Learned
from icepick.core.prediction.foretold import OF_A_RUN
from icepick.core.prediction.slips import astray
from icepick.core.prediction.taken import TakenRun

Array = NDArray[np.float64]

COMMON_SHARE = 0.5
"""Of an instrument's error, what all its readings share. [our own choice]"""
FLOORS = {"temperature": (0.5, 0.0), "pressure": (0.0, 0.01)}
OTHER_FLOOR = (0.0, 0.04)
"""How well the model does at one place by itself: so much [K], so much of the value; one standard deviation. [our choice]"""


@dataclass(frozen=True, eq=False)
class Stack:
    """All readings of all runs as one vector: values, own and common spreads, and of which run and column each is."""

    runs: tuple[TakenRun, ...]
    values: Array
    spreads: Array
    instruments: tuple[str, ...]
    owner: NDArray[np.intp]
    column: NDArray[np.intp]

    @property
    def size(self) -> int:
        return int(self.values.size)

    @cached_property
    def own(self) -> tuple[slice, ...]:
        """Where the readings of each run stand."""
        bounds = np.searchsorted(self.owner, np.arange(len(self.runs) + 1))
        return tuple(slice(int(a), int(b)) for a, b in pairwise(bounds))

    @property
    def learned(self) -> Learned | None:
        """What earlier visits taught, where there were any."""
        return self.runs[0].context.learned if self.runs else None

    @cached_property
    def known(self) -> tuple[Array, Array]:
        """What earlier visits taught of the unknowns: where each lies (u,), and L (u, u) with S = L Lᵀ."""
        names = [name if k < 0 else "" for name, k in self.unknowns]
        if self.learned is None:
            return np.zeros(len(names)), np.eye(len(names))
        mean, covariance = self.learned.of(names)
        return mean, np.asarray(np.linalg.cholesky(covariance))

    @cached_property
    def places(self) -> tuple[tuple[int, str, str], ...]:
        """Of each reading its run, station and quantity."""
        return tuple(
            (int(k), *self.runs[k].foretold.places[c]) for k, c in zip(self.owner, self.column, strict=True)
        )

    @cached_property
    def astray(self) -> Array:
        """(n,): how far each reading may lie where it is wrong."""
        return astray(self.places, self.values)

    @cached_property
    def instruments_covariance(self) -> Array:
        """(n, n): each reading's own error, and what one instrument's readings share."""
        common = COMMON_SHARE * self.spreads
        known = list(dict.fromkeys(self.instruments))
        which = np.array([known.index(name) for name in self.instruments], dtype=np.intp)
        found = (which[:, None] == which) * np.outer(common, common)
        np.fill_diagonal(found, self.spreads**2)
        return np.asarray(found)

    @cached_property
    def floors(self) -> Array:
        """(n,): how well the model can do at each place by itself."""
        kinds = (self.runs[k].foretold.places[c][1] for k, c in zip(self.owner, self.column, strict=True))
        return np.array([floor(kind, value) for kind, value in zip(kinds, self.values, strict=True)])

    @cached_property
    def alike(self) -> Array:
        """(n, n): 1 where the model is off by the same: a reading and itself, or the same place in runs of one mode."""
        keys = [
            (self.runs[k].context.running, self.runs[k].foretold.places[c])
            for k, c in zip(self.owner, self.column, strict=True)
        ]
        known = list(dict.fromkeys(keys))
        which = np.array([known.index(key) for key in keys], dtype=np.intp)
        return np.asarray(which[:, None] == which, dtype=np.float64)

    @cached_property
    def unknowns(self) -> dict[tuple[str, int], int]:
        """Every unknown's column; -1 stands for all runs."""
        place: dict[tuple[str, int], int] = {}
        for k, run in enumerate(self.runs):
            for name in run.foretold.unknowns:
                place.setdefault((name, k if name in OF_A_RUN else -1), len(place))
        return place

    @cached_property
    def columns(self) -> tuple[NDArray[np.intp], ...]:
        """The columns of each run's unknowns."""
        return tuple(
            np.array(
                [self.unknowns[name, k if name in OF_A_RUN else -1] for name in run.foretold.unknowns],
                dtype=np.intp,
            )
            for k, run in enumerate(self.runs)
        )

    @cached_property
    def shifts(self) -> tuple[Array, ...]:
        """By how many of its standard deviations earlier visits moved each unknown, run by run."""
        return tuple(self.known[0][columns] for columns in self.columns)

    @cached_property
    def left(self) -> tuple[Array, ...]:
        """The covariance of each run's unknowns once earlier visits are considered."""
        return tuple(self.known[1][columns] @ self.known[1][columns].T for columns in self.columns)


def stacked(runs: Sequence[TakenRun]) -> Stack:
    """All readings of all runs as one vector.

    Parameters
    ----------
    runs : sequence of TakenRun
        The runs that machines are held against.

    Returns
    -------
    Stack
        In the order of the runs.
    """
    rows = [(k, reading) for k, run in enumerate(runs) for reading in run.readings]
    return Stack(
        tuple(runs),
        np.array([r.value for _, r in rows]),
        np.array([r.spread for _, r in rows]),
        tuple(r.instrument for _, r in rows),
        np.array([k for k, _ in rows], dtype=np.intp),
        np.array([r.column for _, r in rows], dtype=np.intp),
    )


def floor(quantity: str, value: float) -> float:
    """How well the model does at one place by itself.

    Parameters
    ----------
    quantity : str
        What is read there.
    value : float
        What it shows [SI].

    Returns
    -------
    float
        One standard deviation [SI].
    """
    absolute, share = FLOORS.get(quantity, OTHER_FLOOR)
    return max(absolute, share * abs(value))

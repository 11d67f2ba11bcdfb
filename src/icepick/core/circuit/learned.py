"""What earlier sound visits taught of this very unit, as every run of it carries it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, slots=True)
class Learned:
    """What is unknown of a unit, each in standard deviations of what is known beforehand: where it lies, and how surely.

    ``names`` are those of the unknowns (n,), ``mean`` is (n,), ``covariance`` (n, n); nothing learned would be 0 and the
    unit matrix.
    """

    names: tuple[str, ...]
    mean: Array
    covariance: Array

    def _written(self) -> tuple[tuple[str, ...], bytes, bytes]:
        return self.names, self.mean.tobytes(), self.covariance.tobytes()

    def __hash__(self) -> int:
        return hash(self._written())

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Learned) and self._written() == other._written()

    def of(self, names: Sequence[str]) -> tuple[Array, Array]:
        """What was learned of some unknowns; of those that are not among them, nothing.

        Parameters
        ----------
        names : sequence of str
            Of unknowns.

        Returns
        -------
        tuple of Array
            (k,) and (k, k), in their order.
        """
        mean, covariance = np.zeros(len(names)), np.eye(len(names))
        known = [(place, self.names.index(name)) for place, name in enumerate(names) if name in self.names]
        if known:
            here, there = (np.array(one, dtype=np.intp) for one in zip(*known, strict=True))
            mean[here] = self.mean[there]
            covariance[np.ix_(here, here)] = self.covariance[np.ix_(there, there)]
        return mean, covariance

"""How bad a fault may be: the severities at which a machine is solved, and how likely each is beforehand.

Standing: our own choice. A fault is looked for from half of what is called slight to where the model ends; most that
are met lie between the two.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.faults import MachineFault

Array = NDArray[np.float64]

SOLVED = 9
"""Severities at which a fault is solved."""
BETWEEN = 4
"""Steps from one of them to the next at which readings are held against it."""
ANCHORS = (0, 2, 5, 8)
"""Those of the solved ones that come first, and whose slopes are taken."""
AT = np.arange((SOLVED - 1) * BETWEEN + 1) / BETWEEN
"""Every severity held, by its place among the solved ones."""
_LEAST, _BEND = 0.4, 1.4
"""A fault is looked for from this share of what is slight, in steps that grow by this power."""
_RARE = 0.2
"""How often it lies outside of the two."""


@lru_cache(maxsize=64)
def solved(fault: MachineFault) -> Array:
    """The severities at which a fault is solved, in its own unit.

    Parameters
    ----------
    fault : MachineFault
        The fault.

    Returns
    -------
    Array
        (SOLVED,), rising.
    """
    slight, grave = fault.amounts[0], fault.amounts[-1]
    least, most = max(_LEAST * slight, slight - 0.6 * (grave - slight)), fault.most
    return np.asarray(least + (most - least) * np.linspace(0, 1, SOLVED) ** _BEND)


@lru_cache(maxsize=64)
def held(fault: MachineFault) -> Array:
    """The severities that readings are held against.

    Parameters
    ----------
    fault : MachineFault
        The fault.

    Returns
    -------
    Array
        ((SOLVED − 1) · BETWEEN + 1,), rising.
    """
    return np.interp(AT, np.arange(SOLVED), solved(fault))


@lru_cache(maxsize=64)
def beforehand(fault: MachineFault) -> Array:
    """How likely each of them is before anything is read.

    Parameters
    ----------
    fault : MachineFault
        The fault.

    Returns
    -------
    Array
        As :func:`held`; sums to 1.
    """
    here = held(fault)
    width = np.gradient(here)
    usual = (here >= fault.amounts[0] - 1e-9) & (here <= fault.amounts[-1] + 1e-9)
    inside, outside = np.where(usual, width, 0.0), np.where(usual, 0.0, width)
    weights = (1 - _RARE) * inside / inside.sum()
    return np.asarray(weights + _RARE * outside / outside.sum() if outside.any() else weights / (1 - _RARE))


NEAREST: NDArray[np.intp] = np.abs(
    np.arange((SOLVED - 1) * BETWEEN + 1)[:, None] / BETWEEN - np.array(ANCHORS)[None, :]
).argmin(axis=1)
"""Of every severity held, the anchor next to it."""
FROM_ANCHORS: Array = np.stack([np.interp(AT, ANCHORS, row) for row in np.eye(len(ANCHORS))], axis=1)
"""(severities held, anchors): shares of the anchors around each."""
_FROM_SOLVED = np.stack([np.interp(AT, np.arange(SOLVED), row) for row in np.eye(SOLVED)], axis=1)


def between(rows: Array) -> Array:
    """Rows at every severity held, from those at the solved ones.

    Parameters
    ----------
    rows : Array
        (..., SOLVED, m).

    Returns
    -------
    Array
        (..., severities held, m).
    """
    return np.asarray(_FROM_SOLVED @ rows)


@lru_cache(maxsize=64)
def by_severity(fault: MachineFault) -> Array:
    """Turns rows at every severity held into how they move with the severity's logarithm at each anchor.

    Parameters
    ----------
    fault : MachineFault
        The fault.

    Returns
    -------
    Array
        (anchors, severities held).
    """
    slopes = np.gradient(np.eye(AT.size), np.log(held(fault)), axis=0)
    return np.asarray(slopes[np.array(ANCHORS) * BETWEEN])

"""Conditions nobody read, as the readings themselves tell them roughly: outdoor air or source water, the compressor's speed.

What a machine shows bends too much between the ends of either for one slope. So the sound machine is first held against the
readings at several of them; around the likeliest the slopes are taken.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.machine.conditions import Conditions, merged
from icepick.core.machine.sized_unit import SizedUnit
from icepick.core.machine.stations import Place, shown
from icepick.core.machine.steady import settle
from icepick.core.machine.surroundings import Known, Surroundings
from icepick.core.machine.variation import AT_REST
from icepick.core.prediction.foretold import Foretold
from icepick.core.prediction.reading import Taken

Array = NDArray[np.float64]

SPEEDS = (0.25, 0.4, 0.55, 0.7, 0.85, 1.0)
REACHED = 2.0
"""A compressor that is usually slow, as for few of many heads, is tried up to so many times its usual speed."""
AWAY = (-3.6, -2.7, -1.8, -1.0, -0.3, 0.4, 1.2, 2.2)
"""Places at which an unread temperature is tried, in its spreads from the usual one."""
RARER = 1.5
"""Weather is farther from the usual than its spread says more often than a Gaussian has it. [our own choice]"""
SOUGHT = ("outdoor", "speed")
LEAST_SPREAD = {"outdoor": 4.0, "speed": 0.1}
"""Of what only other readings tell [K, share]. [our own choice]"""
STEP = {"outdoor": 2.0, "speed": 0.05}
"""In steps, so that one more reading seldom asks for another prediction."""


def as_told_by(
    asked: SizedUnit, mode: FlowMode, around: Surroundings, found: Foretold, readings: Sequence[Taken]
) -> Surroundings:
    """The surroundings with what was not read of them as the readings speak for it.

    Parameters
    ----------
    asked : SizedUnit
        The equipment, sized.
    mode : FlowMode
        The way its refrigerant runs.
    around : Surroundings
        What it works in, the unread as it is usual.
    found : Foretold
        What it would show in that.
    readings : sequence of Taken
        What was read.

    Returns
    -------
    Surroundings
        The same where nothing was read, or nothing is unread.
    """
    unread = [name for name in SOUGHT if name in around.unread]
    if not readings or not unread:
        return around
    columns = np.array([one.column for one in readings])
    values = np.array([one.value for one in readings])
    own = [n for n, name in enumerate(found.unknowns) if name not in unread]
    slopes = found.slopes[0, columns][:, own]
    spread = slopes @ slopes.T + np.diag(
        (np.array([one.spread for one in readings]) + 0.003 * np.abs(values)) ** 2
    )
    tried, rows = _tried(asked, mode, around, tuple(unread))
    if tried.shape[1] < 2:
        return around
    off = values[:, None] - np.stack([rows[one.place] for one in readings])
    distance = np.einsum("ns,ns->s", off, np.linalg.solve(spread, off))
    usual = np.array([[getattr(around, name).value] for name in unread])
    reach = np.array([[getattr(around, name).spread] for name in unread])
    # One machine's misfit where it fits best is the model's, and must not make a condition seem certain.
    scale = max(1.0, float(distance.min()) / len(readings))
    away = (((tried - usual) / (RARER * reach)) ** 2).sum(axis=0)
    logs = -0.5 * (distance - distance.min()) / scale - 0.5 * away
    weights = np.exp(logs - logs.max())
    weights /= weights.sum()
    middle = tried @ weights
    wide = np.sqrt((tried - middle[:, None]) ** 2 @ weights)
    told: dict[str, Any] = {}
    for name, value, by in zip(unread, middle, wide, strict=True):
        step = STEP[name]
        told[name] = Known(
            round(float(value) / step) * step,
            min(max(round(float(by) / step) * step, LEAST_SPREAD[name]), getattr(around, name).spread),
            False,
        )
    return replace(around, **told)


@lru_cache(maxsize=128)
def _tried(
    asked: SizedUnit, mode: FlowMode, around: Surroundings, unread: tuple[str, ...]
) -> tuple[Array, dict[Place, Array]]:
    """Conditions (unread, states) in which the sound machine comes to rest, and what it shows there."""
    machine = asked.machine
    places = {
        "outdoor": [around.outdoor.value + by * around.outdoor.spread for by in AWAY],
        "speed": [speed * min(1.0, REACHED * around.speed.value) for speed in SPEEDS],
    }
    grid = np.array(np.meshgrid(*(places[name] for name in unread))).reshape(len(unread), -1)
    at = [_there(around, dict(zip(unread, column, strict=True))) for column in grid.T]
    conditions = merged(at)
    steady = settle(machine, mode, conditions, AT_REST, len(at))
    rows = shown(machine, mode, steady.cycle, conditions, AT_REST)
    well = steady.sound
    return grid[:, well], {key: np.broadcast_to(row, (len(at),))[well] for key, row in rows.items()}


def _there(around: Surroundings, at: dict[str, float]) -> Conditions:
    here: dict[str, Any] = {name: Known(float(value), 0.0, True) for name, value in at.items()}
    return replace(around, **here).conditions()

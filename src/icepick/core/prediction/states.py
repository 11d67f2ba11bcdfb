"""What some faults, at every severity, foretell of all readings of all runs, and how sure that is.

All faults are worked out side by side: arrays are (faults, severities held or anchors, readings, unknowns).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.machine.faults import MachineFault
from icepick.core.prediction.foretold import OF_A_RUN, Foretold
from icepick.core.prediction.severities import ANCHORS, AT, FROM_ANCHORS, by_severity
from icepick.core.prediction.stack import Stack, floor

Array = NDArray[np.float64]
Asked = tuple[MachineFault | None, FlowMode | None]
"""A fault with the mode in which alone it shows, or None for all; no fault is the sound machine, which has one severity."""

FAULT_SHARE = 0.05
"""Of what a fault is said to change, what the model may be off by. [our own choice]"""
SEVERITY_SPREAD = 0.3
"""By how much a fault may seem graver or slighter in one run than in another, as a logarithm. [our own choice]"""
SOUND: Asked = (None, None)


@dataclass(frozen=True, slots=True, eq=False)
class Told:
    """Of some places of a run: ``means`` at every severity held (f, t, m), ``at_anchor`` (f, a, m), and the anchors'
    ``slopes`` (f, a, m, unknowns of the run)."""

    means: Array
    at_anchor: Array
    slopes: Array


def acts(stack: Stack, asked: Asked) -> bool:
    """Whether a fault shows in any of the runs.

    Parameters
    ----------
    stack : Stack
        The readings.
    asked : Asked
        The fault.

    Returns
    -------
    bool
        False where it reads like the sound machine everywhere.
    """
    return any(_shows(stack, k, asked) for k in range(len(stack.runs)))


def _shows(stack: Stack, k: int, asked: Asked) -> bool:
    fault, mode = asked
    run = stack.runs[k]
    return fault is not None and mode in (None, run.context.running) and fault.fault in run.foretold.rows


def _told(stack: Stack, k: int, asked: Sequence[Asked], columns: NDArray[np.intp]) -> Told:
    told, shift = stack.runs[k].foretold, stack.shifts[k]
    steps, anchors = (1, 1) if list(asked) == [SOUND] else (AT.size, len(ANCHORS))
    count = len(asked)
    sound, slopes = told.sound_at(columns, shift), told.slopes[0][columns]
    found = Told(
        np.broadcast_to(sound, (count, steps, columns.size)).copy(),
        np.broadcast_to(sound, (count, anchors, columns.size)).copy(),
        np.broadcast_to(slopes, (count, anchors, *slopes.shape)).copy(),
    )
    shown = [f for f, one in enumerate(asked) if _shows(stack, k, one)]
    if shown:
        faults = [fault.fault for f in shown if (fault := asked[f][0]) is not None]
        which = np.array([told.order[fault] for fault in faults], dtype=np.intp)[:, None]
        found.slopes[shown] = told.fault_slopes[which[:, 0]][:, :, columns]
        by = found.slopes[shown] @ shift
        found.means[shown] = told.held[which[:, 0]][:, :, columns] + FROM_ANCHORS @ by
        found.at_anchor[shown] = told.solved[which, ANCHORS][:, :, columns] + by
    return found


@dataclass(frozen=True, slots=True, eq=False)
class States:
    """Some faults' states: ``means`` (f, t, n), which are ``usable`` (f, t), what the ``sound`` machine shows (n,) and
    each fault at its anchors (f, a, n), and the ``jacobian`` (f, a, n, unknowns).

    Its columns are the unknowns, those of the unit shared by all runs, those of a run its own; then for each of several
    runs that show a fault how grave it is there.
    """

    stack: Stack
    asked: tuple[Asked, ...]
    means: Array
    usable: NDArray[np.bool_]
    sound: Array
    at_anchor: Array
    jacobian: Array

    def covariances(self) -> Array:
        """(f, a, n, n)."""
        stack = self.stack
        away = FAULT_SHARE * (self.at_anchor - self.sound)
        found = away[..., :, None] * away[..., None, :]
        found += np.outer(stack.floors, stack.floors)
        found *= stack.alike
        found += stack.instruments_covariance
        found += self.jacobian @ self.jacobian.swapaxes(-1, -2)
        return found

    def allowance(self, inverse: Array) -> Array:
        """What the allowance for severity adds to ln |Σ|, to be taken off: it must not speak for slight faults. (f, a)"""
        columns = self.jacobian[..., len(self.stack.unknowns) :]
        inner = columns.swapaxes(-1, -2) @ inverse @ columns
        return np.asarray(np.linalg.slogdet(np.eye(columns.shape[-1]) - inner)[1])

    def of(self, f: int) -> State:
        """Those of one fault."""
        return State(self.stack, self.asked[f], self.jacobian[f])


def states(stack: Stack, asked: Sequence[Asked]) -> States:
    """What faults foretell of every reading.

    Parameters
    ----------
    stack : Stack
        The readings.
    asked : sequence of Asked
        Faults, or the sound machine alone.

    Returns
    -------
    States
        In that order.
    """
    told = [_told(stack, k, asked, stack.column[own]) for k, own in enumerate(stack.own)]
    means, at_anchor = (
        np.concatenate(parts, axis=2) for parts in zip(*((t.means, t.at_anchor) for t in told), strict=True)
    )
    unknowns, runs = len(stack.unknowns), len(stack.runs)
    jacobian = np.zeros((*at_anchor.shape, unknowns + runs))
    usable = np.ones(means.shape[:2], dtype=np.bool_)
    shows = np.array(
        [[own.stop > own.start and _shows(stack, k, one) for k, own in enumerate(stack.own)] for one in asked]
    )
    several = shows & (shows.sum(axis=1, keepdims=True) > 1)
    moves = _by_severity(asked, means) if several.any() else None
    for k, (own, run) in enumerate(zip(stack.own, stack.runs, strict=True)):
        jacobian[:, :, own, stack.columns[k]] = told[k].slopes
        if moves is not None:
            jacobian[:, :, own, unknowns + k] = several[:, k, None, None] * moves[:, :, own]
        for f, (fault, _) in enumerate(asked):
            if fault is not None and shows[f, k]:
                usable[f] &= run.foretold.held_usable[run.foretold.order[fault.fault]]
    _as_known(stack, jacobian)
    sound = np.concatenate(
        [
            run.foretold.sound_at(stack.column[own], shift)
            for run, own, shift in zip(stack.runs, stack.own, stack.shifts, strict=True)
        ]
    )
    return States(stack, tuple(asked), means, usable, sound, at_anchor, jacobian)


def _by_severity(asked: Sequence[Asked], means: Array) -> Array:
    """How readings move with the severity, at each anchor. (f, a, n)"""
    return SEVERITY_SPREAD * np.stack([by_severity(fault) for fault, _ in asked if fault is not None]) @ means


def _as_known(stack: Stack, slopes: Array) -> None:
    """Turn slopes into those of what is still unknown once earlier visits are considered, in place."""
    if stack.learned is not None:
        count = len(stack.unknowns)
        slopes[..., :count] = slopes[..., :count] @ stack.known[1]


@dataclass(frozen=True, slots=True, eq=False)
class State:
    """One fault's states, for what is to be foretold beyond what was read; its ``jacobian`` is (a, n, unknowns)."""

    stack: Stack
    asked: Asked
    jacobian: Array

    def foretold(self, k: int) -> Foretold:
        """What a run foretells."""
        return self.stack.runs[k].foretold

    def rows(self, k: int) -> tuple[slice | None, slice | None]:
        """Where the fault's severities and anchors stand among what a run foretells; None where it does not show in it."""
        fault = self.asked[0]
        if fault is None or not _shows(self.stack, k, self.asked):
            return None, None
        told = self.foretold(k)
        return told.rows[fault.fault], told.anchors[fault.fault]

    def elsewhere(self, k: int, columns: NDArray[np.intp]) -> tuple[Array, Array, Array]:
        """Of places of a run that were not read: what every severity foretells (t, places), their own spread at each
        anchor, and their slopes (a, places, unknowns) in the order of the jacobian."""
        told = _told(self.stack, k, [self.asked], columns)
        sound = self.foretold(k).sound_at(columns, self.stack.shifts[k])
        floors = np.array(
            [floor(self.foretold(k).places[c][1], v) for c, v in zip(columns, sound, strict=True)]
        )
        whole = np.zeros((*told.slopes.shape[1:3], self.jacobian.shape[2]))
        whole[:, :, self.stack.columns[k]] = told.slopes[0]
        _as_known(self.stack, whole)
        return told.means[0], np.hypot(floors, FAULT_SHARE * (told.at_anchor[0] - sound)), whole

    def known(self, k: int, count: int) -> tuple[Array, Array]:
        """Mean and covariance of the first unknowns of a run, earlier visits considered."""
        return self.stack.shifts[k][:count], self.stack.left[k][:count, :count]

    def unknown(self, k: int, name: str) -> int | None:
        """The column of something unknown of a run; None where it is known."""
        return self.stack.unknowns.get((name, k if name in OF_A_RUN else -1))

"""How well each fault, at every severity, fits all readings of all runs together.

For a state the readings y are spread around what it foretells, μ, by

    Σ = instruments (a share of each instrument's error common to all it read)
      + what the model itself can do, and a share of what the fault is said to change
      + J S Jᵀ

J being how the readings move with one standard deviation of each thing unknown: of the unit, one for all its runs; of a run's
conditions, its own. S is the unit matrix, but for what earlier visits taught of the unit: then μ is moved by J m with it. How
likely the readings then are is said in :mod:`student`; severity is summed over.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.machine.faults import MachineFault
from icepick.core.prediction.foretold import OF_A_RUN, Foretold
from icepick.core.prediction.severities import ANCHORS, AT, BETWEEN, NEAREST, SOLVED, beforehand, held
from icepick.core.prediction.slips import WRONG_SHARE, Slip, astray, left_out, slips
from icepick.core.prediction.student import log_t
from icepick.core.prediction.taken import TakenRun

Array = NDArray[np.float64]

COMMON_SHARE = 0.5
"""Of an instrument's error, what all its readings share. [our own choice]"""
LIKELIER = 0.5
"""A reading is left out, and named, once it is likelier wrong than not."""
FAULT_SHARE = 0.05
"""Of what a fault is said to change, what the model may be off by. [our own choice]"""
SEVERITY_SPREAD = 0.3
"""By how much a fault may seem graver or slighter in one run than in another, as a logarithm. [our own choice]"""
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
    def known(self) -> tuple[Array, Array]:
        """What earlier visits taught of the unknowns: where each lies (u,), and L (u, u) with S = L Lᵀ."""
        names = [name if k < 0 else "" for name, k in self.unknowns]
        learned = self.runs[0].context.learned if self.runs else None
        if learned is None:
            return np.zeros(len(names)), np.eye(len(names))
        mean, covariance = learned.of(names)
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
        return np.array([_floor(kind, value) for kind, value in zip(kinds, self.values, strict=True)])

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


@dataclass(frozen=True, eq=False)
class Fitted:
    """How a hypothesis fits: its log-likelihood, severity summed over; how likely each severity held then is; and what is
    needed to foretell more: its states, and for each anchor the inverse of Σ, for each severity Σ⁻¹ (y − μ)."""

    log_likelihood: float
    severities: Array
    weights: Array
    states: States
    inverse: Array
    turned: Array
    wrong: Slip | None = None
    """The reading that is wrong besides, where that is likelier than not."""
    memo: dict[int, tuple[slice, Array | None, int]] = field(default_factory=dict, repr=False)
    shown: dict[int, Any] = field(default_factory=dict, repr=False)
    """What it makes of every figure and place of a run, once asked for (:mod:`told_figures`)."""

    def looked_at(self, k: int) -> tuple[slice, Array | None, int]:
        """Of what a run foretells the rows that are the fault's, how much each counts, and the slopes nearest to that; of a
        fault that does not show in it the sound machine's, by itself."""
        if k not in self.memo:
            rows, anchors = self.states.rows(k)
            if rows is None or anchors is None:
                self.memo[k] = slice(0, 1), None, 0
            else:
                weights = self.at_solved * self.states.foretold(k).usable[rows]
                weights = weights / weights.sum()
                nearest = int(np.abs(np.array(ANCHORS) - weights @ np.arange(SOLVED)).argmin())
                self.memo[k] = rows, weights, anchors.start + nearest
        return self.memo[k]

    @cached_property
    def at_solved(self) -> Array:
        """Weights of the severities held, gathered at the solved ones next to them."""
        low = np.minimum(AT.astype(np.intp), SOLVED - 2)
        share = AT - low
        found = np.zeros(SOLVED)
        np.add.at(found, low, (1 - share) * self.weights)
        np.add.at(found, low + 1, share * self.weights)
        return found


@dataclass(frozen=True, slots=True)
class Fit:
    """How well the sound machine fits, each fault in each place, each wrong reading; ``distance`` is the sound one's d²."""

    stack: Stack
    none: Fitted
    distance: float
    wrong: list[Slip]
    """Every reading that may be wrong, the machine being sound; empty while nothing was read."""
    faults: dict[tuple[Fault, FlowMode | None], Fitted]

    @property
    def sound(self) -> float:
        return self.none.log_likelihood


_NOTHING = np.zeros(1)


def fit(stack: Stack, asked: Sequence[tuple[MachineFault, FlowMode | None]]) -> Fit:
    """Hold every fault against the readings.

    Parameters
    ----------
    stack : Stack
        The readings.
    asked : sequence of (MachineFault, mode)
        The faults, each with the mode in which alone it shows, or None.

    Returns
    -------
    Fit
        A fault that shows in none of the runs is not among them.
    """
    sound = States(stack, None, None)
    inverse, logs = _inverted(sound.covariances())
    residual = stack.values - sound.means[0]
    pulled = inverse[0] @ residual
    distance = float(residual @ pulled)
    n = stack.size
    size = float(logs[0])
    own = float(log_t(distance, size, n))
    wrong = _wrong(stack, residual, inverse[0], size)
    found: dict[tuple[Fault, FlowMode | None], Fitted] = {}
    acting = [(fault, mode, states) for fault, mode in asked if (states := States(stack, fault, mode)).acts]
    if acting:
        inverses, logs = _inverted(np.concatenate([states.covariances() for _, _, states in acting]))
    for k, (fault, mode, states) in enumerate(acting):
        mine = slice(k * len(ANCHORS), (k + 1) * len(ANCHORS))
        off = stack.values - states.means
        turned = np.einsum("tij,tj->ti", inverses[mine][NEAREST], off)
        # A fault may be surer of its readings than the sound machine is, and must not lead for that alone.
        sizes = np.maximum(np.interp(AT, ANCHORS, logs[mine] + states.allowance(inverses[mine])), size)
        likely, astray_too = _one_wrong(stack, off, turned, inverses[mine], sizes)
        total, weights = _summed(np.where(states.usable, likely, -np.inf), fault)
        fitted = Fitted(total, held(fault), weights, states, inverses[mine], turned)
        found[fault.fault, mode] = _without(fitted, stack, off, weights @ astray_too)
    none = Fitted(own, _NOTHING, np.ones(1), sound, inverse, pulled[None])
    return Fit(stack, none, distance, wrong, found)


def _summed(likely: Array, fault: MachineFault) -> tuple[float, Array]:
    prior = beforehand(fault)
    logs = likely + np.log(prior)
    most = logs.max()
    if not np.isfinite(most):
        return -np.inf, prior
    weights = np.exp(logs - most)
    return float(most + np.log(weights.sum())), weights / weights.sum()


def _wrong(stack: Stack, residual: Array, inverse: Array, log_size: float) -> list[Slip]:
    if not stack.size:
        return []
    above = np.array([stack.runs[k].around.atmosphere for k in stack.owner])
    return slips(stack.values, residual, inverse, log_size, stack.places, above)


def _one_wrong(stack: Stack, off: Array, turned: Array, inverses: Array, sizes: Array) -> tuple[Array, Array]:
    """Log-likelihoods (severities,) of a fault with perhaps one reading wrong besides, and how likely each one then is
    (severities, n)."""
    distance = np.einsum("ti,ti->t", off, turned)
    clean = log_t(distance, sizes, stack.size)
    own = np.diagonal(inverses, axis1=1, axis2=2)[NEAREST]
    closer, larger = left_out(stack.astray, distance, turned, own, sizes)
    # One allowance for what nothing explains is enough: with a reading left out all the others have to fit.
    without = -0.5 * (larger + closer)
    each = without + np.log(WRONG_SHARE / stack.size)
    likely = np.logaddexp(clean, np.logaddexp.reduce(each, axis=1))
    return likely, np.exp(each - likely[:, None])


def _without(fitted: Fitted, stack: Stack, off: Array, wrong: Array) -> Fitted:
    """A fault without the reading that is likelier wrong than not, if there is one: nothing more is foretold from that."""
    if not wrong.size or wrong.max() < LIKELIER:
        return fitted
    i, at = int(wrong.argmax()), int(fitted.weights.argmax())
    column, own = fitted.inverse[:, :, i], fitted.inverse[:, i, i]
    anchor = NEAREST[at]
    should = float(stack.values[i] - fitted.turned[at, i] / own[anchor])
    slip = Slip(fitted.log_likelihood, float(wrong[i]), i, None, should, float(own[anchor] ** -0.5), "")
    share = stack.astray[i] ** 2 / (1 + stack.astray[i] ** 2 * own)
    inverse = fitted.inverse - share[:, None, None] * column[:, :, None] * column[:, None, :]
    turned = np.einsum("tij,tj->ti", inverse[NEAREST], off)
    return replace(fitted, inverse=inverse, turned=turned, wrong=slip, memo={}, shown={})


def _inverted(covariances: Array) -> tuple[Array, Array]:
    lower = np.linalg.cholesky(covariances)
    back = np.linalg.inv(lower)
    logs = 2 * np.log(np.diagonal(lower, axis1=1, axis2=2)).sum(axis=1)
    return back.transpose(0, 2, 1) @ back, logs


class States:
    """A fault's states over all runs: what each severity foretells of every reading, and each anchor's slopes."""

    def __init__(self, stack: Stack, fault: MachineFault | None, mode: FlowMode | None) -> None:
        self._stack = stack
        self.acts = False
        steps = 1 if fault is None else AT.size
        anchors = 1 if fault is None else len(ANCHORS)
        n = stack.size
        self.means = np.zeros((steps, n))
        self.usable = np.ones(steps, dtype=np.bool_)
        self._sound = np.zeros(n)
        self._at_anchor = np.zeros((anchors, n))
        self._fault, self._mode, self._steps = fault, mode, steps
        self._slopes: list[tuple[int, slice, Array]] = []
        self._told_by: list[int] = []
        for k, run in enumerate(stack.runs):
            own = np.flatnonzero(stack.owner == k)
            self.acts |= self._rows(k) is not None
            if own.size:
                columns = stack.column[own]
                self._sound[own] = run.foretold.sound_at(columns, stack.shifts[k])
                self.means[:, own], self._at_anchor[:, own], slopes = self._told(k, columns)
                self._slopes.append((k, slice(int(own[0]), int(own[-1]) + 1), slopes))
            rows = self._rows(k)
            if rows is not None and own.size:
                self._told_by.append(k)
                self.usable &= _between(run.foretold.usable[rows][:, None].astype(np.float64))[:, 0] > 0.999

        if len(self._told_by) < 2:
            self._told_by.clear()

    def foretold(self, k: int) -> Foretold:
        """What a run foretells."""
        return self._stack.runs[k].foretold

    def rows(self, k: int) -> tuple[slice | None, slice | None]:
        """Where the fault's severities and anchors stand among what a run foretells; None where it does not show in it."""
        rows = self._rows(k)
        if rows is None or self._fault is None:
            return None, None
        return rows, self.foretold(k).anchors[self._fault.fault]

    def _rows(self, k: int) -> slice | None:
        """Where the fault stands among what a run foretells; None where it does not show in it."""
        run = self._stack.runs[k]
        if self._fault is None or self._mode not in (None, run.context.running):
            return None
        return run.foretold.rows.get(self._fault.fault)

    def _told(self, k: int, columns: NDArray[np.intp]) -> tuple[Array, Array, Array]:
        """Of some places of a run: at every severity (steps, places), at the anchors, and the anchors' slopes."""
        told, rows = self._stack.runs[k].foretold, self._rows(k)
        anchors = self._at_anchor.shape[0]
        if rows is None or self._fault is None:
            here = told.sound_at(columns, self._stack.shifts[k])[None]
            return (
                np.repeat(here, self._steps, axis=0),
                np.repeat(here, anchors, axis=0),
                np.repeat(told.slopes[:1, columns], anchors, axis=0),
            )
        solved = told.means[rows][:, columns]
        slopes = told.slopes[told.anchors[self._fault.fault]][:, columns]
        by = slopes @ self._stack.shifts[k]
        return _between(solved) + _FROM_ANCHORS @ by, solved[list(ANCHORS)] + by, slopes

    def elsewhere(self, k: int, columns: NDArray[np.intp]) -> tuple[Array, Array, Array]:
        """Of places of a run that were not read: what every severity foretells (steps, places), their own spread at each
        anchor, and their slopes (anchors, places, unknowns) in the order of :meth:`jacobian`."""
        told = self._stack.runs[k].foretold
        means, at_anchor, slopes = self._told(k, columns)
        sound = told.sound_at(columns, self._stack.shifts[k])
        floors = np.array([_floor(told.places[c][1], v) for c, v in zip(columns, sound, strict=True)])
        whole = np.zeros((*slopes.shape[:2], self._width))
        whole[:, :, self._stack.columns[k]] = slopes
        self._as_known(whole)
        return means, np.hypot(floors, FAULT_SHARE * (at_anchor - sound)), whole

    def covariances(self) -> Array:
        """(anchors, n, n)."""
        stack, unknowns = self._stack, self.jacobian
        away = FAULT_SHARE * (self._at_anchor - self._sound)
        model = np.outer(stack.floors, stack.floors) + away[:, :, None] * away[:, None, :]
        return np.asarray(
            stack.instruments_covariance + stack.alike * model + unknowns @ unknowns.transpose(0, 2, 1)
        )

    @cached_property
    def jacobian(self) -> Array:
        """(anchors, n, unknowns): those of the unit shared by all runs, those of a run its own."""
        whole = np.zeros((self._at_anchor.shape[0], self._stack.size, self._width))
        for k, own, slopes in self._slopes:
            whole[:, own, self._stack.columns[k]] = slopes
            if k in self._told_by:
                whole[:, own, len(self._stack.unknowns) + self._told_by.index(k)] = self._by_severity(k, own)
        self._as_known(whole)
        return whole

    def _as_known(self, slopes: Array) -> None:
        """Turn slopes into those of what is still unknown once earlier visits are considered, in place."""
        count = len(self._stack.unknowns)
        slopes[:, :, :count] = slopes[:, :, :count] @ self._stack.known[1]

    def allowance(self, inverse: Array) -> Array:
        """What the allowance for severity adds to ln |Σ|, to be taken off: it must not speak for slight faults. (anchors,)"""
        if not self._told_by:
            return np.zeros(inverse.shape[0])
        columns = self.jacobian[:, :, len(self._stack.unknowns) :]
        inner = columns.transpose(0, 2, 1) @ inverse @ columns
        return np.asarray(np.linalg.slogdet(np.eye(len(self._told_by)) - inner)[1])

    @property
    def _width(self) -> int:
        """Columns: what is unknown, and for each of several runs that show the fault how grave it is there."""
        return len(self._stack.unknowns) + len(self._told_by)

    def _by_severity(self, k: int, own: slice) -> Array:
        """How readings of a run move with the severity, at each anchor."""
        assert self._fault is not None
        step = np.gradient(self.means[:, own], np.log(held(self._fault)), axis=0)
        return np.asarray(SEVERITY_SPREAD * step[np.array(ANCHORS) * BETWEEN])

    def known(self, k: int, count: int) -> tuple[Array, Array]:
        """Mean and covariance of the first unknowns of a run, earlier visits considered."""
        return self._stack.shifts[k][:count], self._stack.left[k][:count, :count]

    def unknown(self, k: int, name: str) -> int | None:
        """The column of something unknown of a run; None where it is known."""
        return self._stack.unknowns.get((name, k if name in OF_A_RUN else -1))


def _floor(quantity: str, value: float) -> float:
    absolute, share = FLOORS.get(quantity, OTHER_FLOOR)
    return max(absolute, share * abs(value))


_FROM_ANCHORS = np.stack([np.interp(AT, ANCHORS, row) for row in np.eye(len(ANCHORS))], axis=1)
"""(severities held, anchors): shares of the anchors around each."""


def _between(solved: Array) -> Array:
    """Rows at every severity held, from those at the solved ones."""
    low = np.minimum(AT.astype(np.intp), SOLVED - 2)
    share = (AT - low)[:, None]
    return np.asarray((1 - share) * solved[low] + share * solved[low + 1])

"""Every reading a unit would show in one place: sound, and with each fault at every severity solved.

A fault is followed from the sound machine as it grows: a few severities one after the other, the others from between them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.expected import unknown_of
from icepick.core.machine.faults import FAULTS, MachineFault, possible
from icepick.core.machine.figures import figures
from icepick.core.machine.parts import Machine
from icepick.core.machine.sensitivity import DEVIATIONS, Nudge, moved
from icepick.core.machine.sized_unit import SizedUnit, called, of_conditions, of_unknown, sized
from icepick.core.machine.solver import Which
from icepick.core.machine.stations import Place, shown
from icepick.core.machine.steady import Steady, settle
from icepick.core.machine.surroundings import Surroundings
from icepick.core.machine.variation import AT_REST, batch
from icepick.core.prediction.model_error import errors
from icepick.core.prediction.severities import ANCHORS, SOLVED, between, solved

Array = NDArray[np.float64]

OF_A_RUN = ("outdoor", "indoor", "outdoor_humidity", "indoor_humidity", "speed")
"""What is uncertain of a run's conditions, and of no other run's."""


@dataclass(frozen=True, eq=False)
class Foretold:
    """What a machine would show. Rows of ``means`` (states, places) are the sound one and then each fault's severities, by
    ``rows``; ``slopes`` (anchors, places, unknowns) belong to the sound one and to each fault's anchors, by ``anchors``.

    ``usable`` says which states came to rest. ``unknowns`` names the columns of the slopes, one standard deviation each.
    ``figures`` are rows likewise, of what the trade judges by.
    """

    places: tuple[Place, ...]
    means: Array
    slopes: Array
    usable: NDArray[np.bool_]
    unknowns: tuple[str, ...]
    rows: Mapping[Fault, slice]
    anchors: Mapping[Fault, slice]
    figures: Mapping[str, Array]
    figure_slopes: Mapping[str, Array]

    @cached_property
    def columns(self) -> Mapping[Place, int]:
        """Where each place stands among them."""
        return {place: column for column, place in enumerate(self.places)}

    @cached_property
    def figure_columns(self) -> Mapping[str, int]:
        """Where each figure stands among them."""
        return {name: column for column, name in enumerate(self.figures)}

    @cached_property
    def figure_means(self) -> Array:
        """(states, figures)."""
        return np.stack(list(self.figures.values()), axis=1)

    @cached_property
    def figure_jacobians(self) -> Array:
        """(anchors, figures, unknowns)."""
        return np.stack([self.figure_slopes[name] for name in self.figures], axis=1)

    @cached_property
    def order(self) -> Mapping[Fault, int]:
        """Where each fault stands among them."""
        return {fault: place for place, fault in enumerate(self.rows)}

    @cached_property
    def solved(self) -> Array:
        """(faults, SOLVED, places): what each fault shows at the severities solved."""
        return self.means[1:].reshape(len(self.rows), SOLVED, -1)

    @cached_property
    def held(self) -> Array:
        """(faults, severities held, places)."""
        return between(self.solved)

    @cached_property
    def held_usable(self) -> NDArray[np.bool_]:
        """(faults, severities held): which lie between states that came to rest."""
        each = self.usable[1:].reshape(len(self.rows), SOLVED, 1).astype(np.float64)
        return np.asarray(between(each)[..., 0] > 0.999)

    @cached_property
    def fault_slopes(self) -> Array:
        """(faults, anchors, places, unknowns)."""
        return self.slopes[1:].reshape(len(self.rows), len(ANCHORS), *self.slopes.shape[1:])

    def sound_at(self, columns: NDArray[np.intp], shift: Array) -> Array:
        """What the sound machine shows at some places, each unknown so many of its standard deviations off."""
        return np.asarray(self.means[0, columns] + self.slopes[0][columns] @ shift)


def of_machine(fault: MachineFault, unit: Unit, mode: FlowMode) -> bool:
    """Whether a fault is foretold: one that can be, and that shows in more than the clamps on a coil's circuits.

    Parameters
    ----------
    fault : MachineFault
        The fault.
    unit : Unit
        The equipment.
    mode : FlowMode
        The way its refrigerant runs.

    Returns
    -------
    bool
        False where nothing would be foretold of it.
    """
    return not fault.backwards and fault.fault != "coil_circuit_starved" and possible(fault, unit, mode)


def foretold(unit: Unit, mode: FlowMode, around: Surroundings) -> Foretold | None:
    """What a unit would show, sound and with every fault.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : FlowMode
        The way its refrigerant runs.
    around : Surroundings
        What it works in, and how well that is known.

    Returns
    -------
    Foretold or None
        None where the sound machine comes to no rest. Remembered.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    """
    return _foretold(sized(unit), mode, around)


@lru_cache(maxsize=64)
def _foretold(asked: SizedUnit, mode: FlowMode, around: Surroundings) -> Foretold | None:
    # At the ends of the model a state may lie where nothing is defined: it is left out below.
    with np.errstate(all="ignore"):
        return _solved(asked, mode, around)


def _solved(asked: SizedUnit, mode: FlowMode, around: Surroundings) -> Foretold | None:
    unit, machine, here = asked.unit, asked.machine, around.conditions()
    sound = settle(machine, mode, here, AT_REST, 1)
    if not sound.sound[0]:
        return None
    faults = [fault for fault in FAULTS if of_machine(fault, unit, mode)]
    grid = np.array([solved(fault) for fault in faults])
    unknown, slopes, usable = _followed(machine, mode, here, faults, grid, sound)

    # What came to no rest is held by the sound one, and never used.
    effects = [
        fault.effect(severity) if well else AT_REST
        for fault, row, wells in zip(faults, grid, usable.reshape(grid.shape), strict=True)
        for severity, well in zip(row, wells, strict=True)
    ]
    every = batch([AT_REST, *effects])
    states = np.concatenate((sound.unknown, np.where(usable, unknown, sound.unknown)), axis=1)
    slopes = np.concatenate((sound.slopes, np.where(usable[:, None, None], slopes, sound.slopes)))
    cycle, places, knobs = moved(machine, mode, _steady(sound, states, slopes), here, (), every)
    at = shown(machine, mode, cycle, places, knobs)
    judged = figures(machine, mode, cycle, places, at)

    nudges, names = _nudges(asked, mode, around)
    anchored = np.array([0, *(1 + k * SOLVED + a for k in range(len(faults)) for a in ANCHORS)])
    near = _steady(sound, states[:, anchored], slopes[anchored])
    cycle, places, knobs = moved(machine, mode, near, here, nudges, every.at(anchored))
    beside = shown(machine, mode, cycle, places, knobs)
    judged_beside = figures(machine, mode, cycle, places, beside)

    def slope(row: Array) -> Array:
        each = np.broadcast_to(row, (anchored.size * (1 + len(nudges)),)).reshape(anchored.size, -1)
        found = (each[:, 1:] - each[:, :1]) / DEVIATIONS
        return np.where(np.isfinite(found), found, 0.0)

    count = states.shape[1]
    keys = tuple(at)
    means = np.stack([np.broadcast_to(at[key], (count,)) for key in keys], axis=1)
    usable = np.concatenate(([True], usable)) & np.isfinite(means).all(axis=1)
    for k, row in enumerate(grid):
        own = slice(1 + k * SOLVED, 1 + (k + 1) * SOLVED)
        means[own], usable[own] = _bridged(row, means[own], usable[own])
    off = errors(machine, mode, keys, means[0])
    slopes_of = np.stack([slope(beside[key]) for key in keys], axis=1)
    model = np.stack(list(off.values()), axis=1)
    return Foretold(
        keys,
        means,
        np.concatenate((slopes_of, np.repeat(model[None], anchored.size, axis=0)), axis=2),
        usable,
        (*names, *off),
        {f.fault: slice(1 + k * SOLVED, 1 + (k + 1) * SOLVED) for k, f in enumerate(faults)},
        {f.fault: slice(1 + k * len(ANCHORS), 1 + (k + 1) * len(ANCHORS)) for k, f in enumerate(faults)},
        {name: np.broadcast_to(row, (count,)) for name, row in judged.items()},
        {name: slope(row) for name, row in judged_beside.items()},
    )


def _steady(like: Steady, unknown: Array, slopes: Array) -> Steady:
    """States to look at once more, without asking again whether they came to rest."""
    every = np.ones(unknown.shape[1], dtype=np.bool_)
    return Steady(unknown, like.cycle, every, every, np.zeros(unknown.shape[1]), slopes)


class _Growing:
    """Every fault followed from the sound machine as it grows, each at its own pace: :data:`ANCHORS` one after the other,
    each begun where the last two point to, and the severities between two anchors once both have ended.

    Systems are (severity, fault), in one row.
    """

    def __init__(self, grid: Array, sound: Array) -> None:
        self.grid, self.count = grid, len(grid)
        self.unknown = np.zeros((4, SOLVED, self.count))
        self.last = np.repeat(sound, self.count, axis=1)
        self.before = self.last.copy()
        self.first = ANCHORS[0] * self.count + np.arange(self.count)

    def onward(self, ended: Which, unknown: Array, well: NDArray[np.bool_]) -> tuple[Which, Array]:
        """What begins where these have ended."""
        begins: list[int] = []
        where: list[Array] = []
        for one, found, rests in zip(ended, unknown.T, well, strict=True):
            node, k = divmod(int(one), self.count)
            if node not in ANCHORS:
                continue
            place = ANCHORS.index(node)
            self.unknown[:, node, k] = found
            for between_them in range(ANCHORS[place - 1] + 1, node) if place else ():
                begins.append(between_them * self.count + k)
                where.append(self._between(between_them, ANCHORS[place - 1], node, k))
            self.before[:, k] = self.last[:, k]
            if rests:
                self.last[:, k] = found
            if node != ANCHORS[-1]:
                begins.append(ANCHORS[place + 1] * self.count + k)
                where.append(self._ahead(place, k))
        return np.array(begins, dtype=np.intp), np.array(where).reshape(-1, 4).T

    def _between(self, node: int, low: int, high: int, k: int) -> Array:
        share = (node - low) / (high - low)
        return np.asarray((1 - share) * self.unknown[:, low, k] + share * self.unknown[:, high, k])

    def _ahead(self, place: int, k: int) -> Array:
        had = self.grid[k, ANCHORS[place - 1]] if place else 0.0
        was, severity = self.grid[k, ANCHORS[place]], self.grid[k, ANCHORS[place + 1]]
        last = self.last[:, k]
        return np.asarray(last + (last - self.before[:, k]) * (severity - was) / max(was - had, 1e-9))


def _followed(
    machine: Machine, mode: FlowMode, here: Conditions, faults: list[MachineFault], grid: Array, sound: Steady
) -> tuple[Array, Array, NDArray[np.bool_]]:
    """Unknowns (4, faults × SOLVED), their slopes, and which came to rest."""
    growing = _Growing(grid, sound.unknown)
    start = np.repeat(sound.unknown, grid.size, axis=1)
    changed = batch(
        [fault.effect(severity) for row in grid.T for fault, severity in zip(faults, row, strict=True)]
    )
    found = settle(
        machine,
        mode,
        here,
        changed,
        grid.size,
        start,
        thorough=False,
        first=growing.first,
        onward=growing.onward,
    )
    by_fault = np.arange(grid.size).reshape(SOLVED, -1).T.reshape(-1)
    return found.unknown[:, by_fault], found.slopes[by_fault], found.sound[by_fault]


def _bridged(severities: Array, means: Array, usable: NDArray[np.bool_]) -> tuple[Array, NDArray[np.bool_]]:
    """A fault's rows, those that came to no rest drawn straight between the ones around them."""
    well = np.flatnonzero(usable)
    if usable.all() or well.size < 2:
        return means, usable
    inside = (np.arange(severities.size) >= well[0]) & (np.arange(severities.size) <= well[-1])
    drawn = np.stack([np.interp(severities, severities[well], column[well]) for column in means.T], axis=1)
    return np.where(inside[:, None], drawn, means), inside


def _nudges(asked: SizedUnit, mode: FlowMode, around: Surroundings) -> tuple[list[Nudge], tuple[str, ...]]:
    of_run = [name for name in OF_A_RUN if getattr(around, name).spread > 0]
    of_unit = unknown_of(asked.unit, mode)
    here = around.conditions()
    turn = [of_conditions(around, name) for name in of_run] + [of_unknown(here, one) for one in of_unit]
    return turn, (*of_run, *(called(asked.machine, mode, one.name) for one in of_unit))

"""The steady state of a machine, for a batch of conditions and variations at once.

A sound machine is sought from a guess; one that differs, from the sound one in the same conditions, a part of the way at a
time where the whole way was too far. What did not come to rest, or came to rest outside the refrigerant's tables, is never
used.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.cycle import ENTHALPY_SCALE, Cycle, walk
from icepick.core.machine.parts import Machine
from icepick.core.machine.solver import Onward, Roots, Which, solve
from icepick.core.machine.variation import Variation
from icepick.core.properties.states import held, states

Array = NDArray[np.float64]

FARTHEST: Array = np.array([0.25, 0.15, 0.4, 0.25])
"""One step of the solver at most: ln pressures, ln flow, suction enthalpy over its scale."""


THOROUGH, ROUGH = (40, 1e-5), (12, 3e-3)
"""Steps of the solver at most, and the disagreement at which it ends: where every state counts; and where one that is hard to
find may be left out, and what is found is corrected once more."""
_RATED_COLD, _PER_KELVIN, _GAS = 281.15, 0.0125, 5e3
"""Where a coil's difference is whole [K], how much of it goes with each kelvin under that; suction gas over dew [J/kg]."""
_USUAL_UNDER = {"cooling": 18.0, "heating": 9.0}
_USUAL_OVER = {"cooling": 12.0, "heating": 24.0}
_USUAL_WATER = 8.0
"""Where the search for a sound machine begins: coils against what enters them [K]."""


@dataclass(frozen=True, slots=True)
class Steady:
    """A batch come to rest: its cycles, which of them may be believed, and what is left of their equations."""

    unknown: Array
    cycle: Cycle
    converged: NDArray[np.bool_]
    inside: NDArray[np.bool_]
    """Whether head and suction lie where the refrigerant's tables know them."""
    residual: Array
    slopes: Array
    """Of its equations (k, n, n)."""

    @property
    def sound(self) -> NDArray[np.bool_]:
        """Which states may be used."""
        return self.converged & self.inside


def first_guess(machine: Machine, mode: FlowMode, conditions: Conditions, count: int) -> Array:
    """Unknowns (4, count) to start from: roughly, and as far off as that is at the rating point."""
    if mode not in machine.at_rating:
        return _rough(machine, mode, conditions, count)
    where, found = machine.at_rating[mode]
    return beside(machine, mode, conditions, where, np.repeat(np.array(found)[:, None], count, axis=1))


def beside(
    machine: Machine, mode: FlowMode, conditions: Conditions, where: Conditions, found: Array
) -> Array:
    """Unknowns (4, count) to start from near a solved state.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    conditions, where : Conditions
        What it shall work in, and what it was solved in.
    found : Array
        (4, count): the unknowns there.

    Returns
    -------
    Array
        What was found, moved as a rough guess moves between the two.
    """
    count = found.shape[1]
    return np.asarray(found + _rough(machine, mode, conditions, count) - _rough(machine, mode, where, count))


def _rough(machine: Machine, mode: FlowMode, conditions: Conditions, count: int) -> Array:
    fluid, rated = states(machine.refrigerant), machine.rated
    outdoor, indoor = (
        np.broadcast_to(np.asarray(value, dtype=np.float64), (count,))
        for value in (conditions.outdoor, conditions.indoor)
    )
    cold, warm = (indoor, outdoor) if mode == "cooling" else (outdoor, indoor)
    condenser, evaporator = machine.coils(mode)
    # What a coil moves shrinks with the cold, and its difference with it.
    share = held(1 + _PER_KELVIN * (cold - _RATED_COLD), 0.4, 1.3)
    under = share * (_USUAL_UNDER[mode] if evaporator.medium == "air" else _USUAL_WATER)
    over = share * (_USUAL_OVER[mode] if condenser.medium == "air" else _USUAL_WATER)
    low = fluid.saturation_pressure(cold - under, "dew")
    high = fluid.saturation_pressure(warm + over, "middle")
    flow = rated.flow * low / rated.evaporating_pressure * np.broadcast_to(conditions.speed, (count,))
    suction = fluid.saturated(low).vapor + _GAS
    return np.stack((np.log(low), np.log(high), np.log(flow), suction / ENTHALPY_SCALE))


def settle(
    machine: Machine,
    mode: FlowMode,
    conditions: Conditions,
    changed: Variation,
    count: int,
    start: Array | None = None,
    *,
    thorough: bool = True,
    first: Which | None = None,
    onward: Onward | None = None,
) -> Steady:
    """Let a batch come to rest.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    conditions : Conditions
        What it works in: numbers, or arrays (count,).
    changed : Variation
        How each differs from the one sized: numbers, or arrays (count,).
    count : int
        How many states.
    start : Array or None
        Unknowns (4, count) to start from, such as those of a state nearby.
    thorough : bool
        Whether states are followed to the last, and those that do not come to rest at once sought on other ways too.
    first, onward
        Which begin, and what begins when others have ended, as :func:`solve` has it.

    Returns
    -------
    Steady
        The batch; look at ``sound`` before using any of it.
    """
    guess = first_guess(machine, mode, conditions, count) if start is None else start
    how = THOROUGH if thorough else ROUGH
    roots = _sought(machine, mode, conditions, changed, guess, how, first, onward)
    if thorough and not roots.converged.all():
        roots = _by_an_easier_valve(machine, mode, conditions, changed, roots)
    if thorough and not roots.converged.all():
        roots = _part_of_the_way(machine, mode, conditions, changed, roots)
    cycle = walk(machine, mode, roots.unknown, conditions, changed)
    fluid = states(machine.refrigerant)
    inside = fluid.inside(cycle.discharge_pressure) & fluid.inside(cycle.suction_pressure)
    return Steady(roots.unknown, cycle, roots.converged, inside, roots.residual, roots.slopes)


def _sought(
    machine: Machine,
    mode: FlowMode,
    conditions: Conditions,
    changed: Variation,
    guess: Array,
    how: tuple[int, float] = THOROUGH,
    first: Which | None = None,
    onward: Onward | None = None,
) -> Roots:
    def astray(unknown: Array, which: Which) -> Array:
        return walk(machine, mode, unknown, conditions.at(which), changed.at(which)).disagreement

    return solve(astray, guess, FARTHEST, rounds=how[0], tolerance=how[1], first=first, onward=onward)


EASIER = (8.0, 3.0)
"""A valve that opens over so many times its superheat finds its place from afar; from there the real one is near."""


def _by_an_easier_valve(
    machine: Machine, mode: FlowMode, conditions: Conditions, changed: Variation, before: Roots
) -> Roots:
    """States that did not come to rest, sought once more."""
    lost = np.flatnonzero(~before.converged)
    here, knobs = conditions.at(lost), changed.at(lost)
    guess = first_guess(machine, mode, here, lost.size)
    for times in EASIER:
        guess = _sought(
            machine, mode, here, replace(knobs, band=times * np.asarray(knobs.band)), guess
        ).unknown
    return _with(before, lost, _sought(machine, mode, here, knobs, guess))


PARTS = (0.35, 0.7, 0.9, 1.0)
"""How far a fault grows at a time."""


def _part_of_the_way(
    machine: Machine, mode: FlowMode, conditions: Conditions, changed: Variation, before: Roots
) -> Roots:
    """States that still did not, followed from the sound machine as the fault grows."""
    lost = np.flatnonzero(~before.converged)
    here, knobs = conditions.at(lost), changed.at(lost)
    again = _sought(machine, mode, here, knobs.part_way(0.0), first_guess(machine, mode, here, lost.size))
    for part in PARTS:
        again = _sought(machine, mode, here, knobs.part_way(part), again.unknown)
    return _with(before, lost, again)


def _with(before: Roots, which: NDArray[np.intp], again: Roots) -> Roots:
    unknown, residual, converged = before.unknown.copy(), before.residual.copy(), before.converged.copy()
    slopes = before.slopes.copy()
    unknown[:, which], residual[which], converged[which] = again.unknown, again.residual, again.converged
    slopes[which] = again.slopes
    return Roots(unknown, residual, converged, slopes)

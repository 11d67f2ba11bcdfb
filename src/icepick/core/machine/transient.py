"""A running unit played from beginning to end: a scenario in, every place at every moment out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from icepick.core.document.visit import Unit
from icepick.core.machine.by_coil import Array
from icepick.core.machine.frosting import Balance
from icepick.core.machine.running_unit import RunningUnit, Setup
from icepick.core.machine.stations import Place


@dataclass(frozen=True, slots=True)
class Scenario(Setup):
    """What is played, for how many ``seconds``: ``rests`` is when the thermostat is satisfied, ``forced`` when a technician
    forces a defrost [s]."""

    seconds: float = 7200.0
    rests: tuple[tuple[float, float], ...] = ()
    forced: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Played:
    """What happened: seconds, and SI values at every place, states as 1 and 0; the coil's frost [kg] and what it closes at;
    and the balance at the end."""

    seconds: Array
    values: Mapping[Place, Array]
    frost: Array
    metal: Array
    reversed_: Array
    balance: Balance


def play(unit: Unit, scenario: Scenario, step: float = 1.0) -> Played:
    """Let a unit run.

    Parameters
    ----------
    unit : Unit
        The equipment, with air outdoors.
    scenario : Scenario
        Weather, board, faults.
    step : float
        Seconds between moments: 1 to 5.

    Returns
    -------
    Played
        Every place, at every moment.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    ValueError
        The machine does not come to rest in this weather.
    """
    running = RunningUnit(unit, scenario)
    moments = np.arange(0.0, scenario.seconds, step)
    frost, metal, reversed_ = (np.zeros(moments.size) for _ in range(3))
    shown: list[dict[Place, float]] = []
    forced = sorted(scenario.forced)
    for i, now in enumerate(moments.tolist()):
        rests = any(a <= now < b for a, b in scenario.rests)
        press = bool(forced) and now >= forced[0]
        running.step(step, "off" if rests else "heating", forced=press)
        if press:
            forced.pop(0)
        frost[i], metal[i], reversed_[i] = running.coil.frost, running.coil.metal, running.board.reversed_
        shown.append(running.shown())
    values = {place: np.array([row[place] for row in shown]) for place in shown[0]} if shown else {}
    return Played(moments, values, frost, metal, reversed_, running.coil.balance)

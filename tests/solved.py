"""A unit's machine at rest, ready to be looked at: sized, in given weather, sound or with a fault."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any

import numpy as np

from builders import SPLIT_UNIT
from icepick.core.document.visit import Unit
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.cycle import Cycle
from icepick.core.machine.faults import machine_fault
from icepick.core.machine.figures import figures
from icepick.core.machine.parts import Machine
from icepick.core.machine.sizing import rating, size
from icepick.core.machine.stations import shown
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties.moist_air import humidity_ratio
from plant import kelvin

SEA_LEVEL = 101_325.0


def unit(**changes: Any) -> Unit:
    """The test unit of three tons, changed."""
    sized = {**SPLIT_UNIT, "nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}
    return Unit.model_validate({**sized, **changes})


@dataclass(frozen=True, repr=False)
class Solved:
    machine: Machine
    mode: str
    conditions: Conditions
    changed: Variation
    cycle: Cycle
    converged: bool
    inside: bool

    def reading(self, station: str, quantity: str = "temperature") -> float:
        """SI; pressures absolute."""
        found = shown(self.machine, self.mode, self.cycle, self.conditions, self.changed)
        return float(np.ravel(found[station, quantity])[0])

    def figure(self, name: str) -> float:
        found = shown(self.machine, self.mode, self.cycle, self.conditions, self.changed)
        judged = figures(self.machine, self.mode, self.cycle, self.conditions, found)
        return float(np.ravel(judged[name])[0])

    @property
    def heating_capacity(self) -> float:
        return float(self.cycle.condensed.heat[0])


def weather(
    of: Unit,
    mode: str,
    outdoor: float,
    indoor: float | None = None,
    humidity: float = 0.5,
    indoor_humidity: float | None = None,
    speed: float = 1.0,
) -> Conditions:
    """Rating conditions with the outdoor (or source) temperature [°F] changed, and whatever else is given."""
    at = rating(of, mode)
    inside = kelvin(indoor) if indoor is not None else at.indoor
    damp = at.indoor_ratio
    if indoor_humidity is not None and of.load == "air":
        damp = humidity_ratio(inside, SEA_LEVEL, relative_humidity=indoor_humidity)
    outside = kelvin(outdoor)
    ratio = humidity_ratio(outside, SEA_LEVEL, relative_humidity=humidity) if of.source == "air" else 0.0
    return dataclasses.replace(
        at, outdoor=outside, outdoor_ratio=ratio, indoor=inside, indoor_ratio=damp, speed=speed
    )


def at_rest(
    of: Unit,
    mode: str,
    conditions: Conditions,
    fault: str | None = None,
    amount: float = 0.0,
    *,
    changed: Variation = AT_REST,
    machine: Machine | None = None,
) -> Solved:
    """One solved state; a test that does not want a failed one asks ``converged``."""
    made = machine or size(of)
    if fault is not None:
        changed = changed.and_also(machine_fault(fault).effect(amount))
    found = settle(made, mode, conditions, changed, 1)
    return Solved(
        made, mode, conditions, changed, found.cycle, bool(found.converged[0]), bool(found.inside[0])
    )

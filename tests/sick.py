"""Visits to machines with one fault, that keep other laws than the product's model (tests/other_laws.py)."""

from __future__ import annotations

import random
from functools import cache
from typing import Any

from icepick.core.document.visit import Unit
from icepick.core.machine.faults import machine_fault, possible
from icepick.core.machine.variation import AT_REST
from layouts import TRUTH
from other_laws import other_laws
from played import Weather, played
from solved import unit

ORDINARY = {
    ("air", "heating"): 40.0,
    ("air", "cooling"): 92.0,
    ("water", "heating"): 50.0,
    ("water", "cooling"): 77.0,
}
INDOORS = {"heating": 70.0, "cooling": 76.0}
# How grave each is made here: as the published experiments imposed it, or well beyond what a valve makes up for.
GRAVE = {
    "valve_bypassing": 25,
    "compressor_weak": 40,
    "active_meter_underfeeding": 75,
    "active_meter_overfeeding": 250,
    "bypass_stuck_closed": 99,
    "liquid_line_restriction": 250,
    "undercharge": 35,
    "overcharge": 30,
    "noncondensables": 50,
    "indoor_airflow_low": 50,
    "outdoor_airflow_low": 50,
    "outdoor_coil_frosted": 65,
    "source_water_flow_low": 60,
    "source_coil_fouled": 50,
}


def of_layout(layout: str, **changes: Any) -> Unit:
    return unit(**{**TRUTH[layout][0], **changes})


def sick_run(layout: str, mode: str, fault: str = "none", amount: float | None = None) -> dict[str, Any]:
    """Everything a technician could read of it on an ordinary day."""
    return _sick(layout, mode, fault, GRAVE.get(fault, 0.0) if amount is None else amount)


@cache
def _sick(layout: str, mode: str, fault: str, amount: float) -> dict[str, Any]:
    made = of_layout(layout)
    chance = random.Random(f"{layout} {mode} {fault}")
    return _played(made, mode, Weather(ORDINARY[made.source, mode], INDOORS[mode]), fault, amount, chance)


@cache
def machine_run(
    layout: str, mode: str, outdoor: float, indoor: float, fault: str = "none", amount: float = 0.0
) -> dict[str, Any]:
    """Everything a technician could read of it with this outdoors and indoors [°F]."""
    chance = random.Random(f"{layout} {mode} {fault} {outdoor} {indoor}")
    return _played(of_layout(layout), mode, Weather(outdoor, indoor), fault, amount, chance)


def _played(
    made: Unit, mode: str, weather: Weather, fault: str, amount: float, chance: random.Random
) -> dict[str, Any]:
    found = machine_fault(fault)  # type: ignore[arg-type]
    acts = found is not None and possible(found, made, mode)  # type: ignore[arg-type]
    changed = found.effect(amount) if found is not None and acts else AT_REST
    with other_laws():
        (run,) = played(made, mode, [weather], [changed], chance)
    assert run is not None, "the machine comes to no rest"
    return run

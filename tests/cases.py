"""Sound and sick visits: tests/machine.py says at what saturation a sound machine settles, tests/plant.py what then stands at
every station, and a case changes what its fault changes."""

from __future__ import annotations

import json
from typing import Any

from builders import visit_document
from icepick.core.document.examination import Check, Examination
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from layouts import TRUTH, path_of
from machine import duty
from plant import Plant

SPLIT = "split, two thermostatic valves, drier outdoors"
HEATING, COOLING = (40.0, 70.0), (92.0, 76.0)
"""Entering temperatures outdoors and indoors [°F]."""


def healthy(
    layout: str, mode: str, outdoor: float, indoor: float, refrigerant: str = "R-410A", **more: Any
) -> Plant:
    """A sound machine at these entering temperatures [°F]."""
    unit = TRUTH[layout][0]
    media = {"source": unit["source"], "load": unit["load"]}
    does = duty(refrigerant, mode, outdoor, indoor, **media)
    made = {
        "evaporating": does.evaporating,
        "condensing": does.condensing,
        "outdoor": outdoor,
        "indoor": indoor,
        "supply_change": does.indoor_change,
        "outdoor_change": does.outdoor_change,
        **media,
        **more,
    }
    return Plant(path_of(layout, mode), mode, refrigerant, **made)


def sound(layout: str, mode: str, **more: Any) -> Plant:
    """A sound machine on an ordinary day."""
    return healthy(layout, mode, *(HEATING if mode == "heating" else COOLING), **more)


def within_physics(made: Plant) -> Plant:
    """No evaporator is warmer than what it cools and no condenser colder than what it heats, however little they move."""
    cooled, heated = (made.indoor, made.outdoor) if made.mode == "cooling" else (made.outdoor, made.indoor)
    made.evaporating, made.condensing = min(made.evaporating, cooled - 2), max(made.condensing, heated + 3)
    return made


def starved(
    layout: str, mode: str, *, less: float = 16, superheat: float = 27, subcooling: float = 15, **more: Any
) -> Plant:
    """Too little gets through: the evaporator falls, superheat and subcooling rise."""
    made = sound(layout, mode, superheat=superheat, subcooling=subcooling)
    made.evaporating -= less
    for name, value in more.items():
        setattr(made, name, value)
    return made


def examined(layout: str, *runs: dict[str, Any], refrigerant: str = "R-410A", **unit: Any) -> Examination:
    """The examination of a visit with these runs to a unit of this layout."""
    document = visit_document(*runs)
    document["unit"] = {**document["unit"], **TRUTH[layout][0], "refrigerant": refrigerant, **unit}
    return examine(parse_visit(json.dumps(document)))


def top(examination: Examination) -> set[str]:
    """The faults that lead, or tie for the lead."""
    first = examination.ranking[0].probability
    return {r.fault for r in examination.ranking if r.probability > first * 0.97}


def checks_of(examination: Examination, run: int = 0) -> dict[str, Check]:
    """The checks of a run by code."""
    return {check.code: check for check in examination.runs[run].checks}

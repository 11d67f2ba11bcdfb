"""A step in words."""

from __future__ import annotations

from icepick.bench.acts import (
    CARES,
    Careful,
    ForceDefrost,
    Hint,
    Logger,
    LookAt,
    RepairIt,
    Switch,
    Take,
    Wait,
)
from icepick.bench.case import Case
from icepick.bench.looks import BY_CODE
from icepick.bench.playing import Done
from icepick.bench.repairs import repair_of
from icepick.core.document.wording import name, say
from icepick.core.document.words import OBSERVATIONS
from icepick.core.properties.quantities import UnitSystem, to_si


def step_words(case: Case, one: Done) -> str:
    """What was done, in a few words."""
    match one.step:
        case Take():
            by = " by infrared" if one.step.method == "infrared" else ""
            return f"{name(case.unit, one.step.station)}{by}"
        case LookAt():
            return BY_CODE[one.step.look].words
        case Switch():
            return "turned it off" if one.step.mode == "off" else f"switched to {one.step.mode}"
        case Wait():
            return f"waited {one.step.minutes:g} min"
        case Careful():
            return CARES[one.step.care][1]
        case ForceDefrost():
            return "forced a defrost and recorded it"
        case Logger():
            return "read the logger"
        case Hint():
            return "bought a hint"
        case RepairIt():
            return repair_of(one.step.fault).words


def step_found(one: Done, units: UnitSystem) -> str:
    """What came of it, in a few words; empty where a step gives nothing."""
    if one.reading is not None:
        read = one.reading
        return say(to_si(read.value, read.unit, read.kind), read.kind, units)
    if isinstance(one.step, Hint):
        return one.words
    found = [OBSERVATIONS[seen.code] for seen in one.observations if seen.value]
    return ", ".join(found) if found or not one.observations else "nothing found"

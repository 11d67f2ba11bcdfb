"""Temperature drops at meters and drier, in the direction of flow. [trade.md section 4]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.circuit import Part
from icepick.core.context import RunContext, remembered
from icepick.core.indicators.valve import running_circuit
from icepick.core.visit import Meter


@remembered
def ends(context: RunContext, part: Part) -> tuple[str, str] | None:
    """The stations before and after a part, in flow order; None where the unit has no such part."""
    circuit = running_circuit(context)
    if circuit is None:
        return None
    for here, there in zip(circuit.path, circuit.path[1:], strict=False):
        if here.through == part and part.rsplit("_", 1)[-1] != "coil":
            return here.station, there.station
    return None


def working_meter(context: RunContext) -> Meter | None:
    """The description of the meter that works."""
    part = active_part(context)
    if part is None:
        return None
    return context.unit.indoor_meter if part == "indoor_meter" else context.unit.outdoor_meter


@remembered
def drop(context: RunContext, part: Part) -> UFloat | None:
    """Temperature lost through a part [K]."""
    pair = ends(context, part)
    if pair is None or set(pair) & context.doubted:
        return None
    before, after = (context.temperature(station) for station in pair)
    return None if before is None or after is None else before - after


def active_part(context: RunContext) -> Part | None:
    """The meter that works."""
    circuit = running_circuit(context)
    if circuit is None:
        return None
    return "indoor_meter" if circuit.active_meter == "indoor" else "outdoor_meter"


def idle_part(context: RunContext) -> Part | None:
    """The meter that should be bypassed; None where one meter serves both ways or the idle one stays in the line."""
    circuit = running_circuit(context)
    if circuit is None or circuit.bypassed_meter is None:
        return None
    return "indoor_meter" if circuit.bypassed_meter == "indoor" else "outdoor_meter"


def active_meter_drop(context: RunContext) -> UFloat | None:
    """Liquid before the working meter minus what leaves it [K]."""
    part = active_part(context)
    return drop(context, part) if part else None


def bypassed_meter_drop(context: RunContext) -> UFloat | None:
    """Temperature lost through the idle meter [K]."""
    part = idle_part(context)
    return drop(context, part) if part else None


def drier_drop(context: RunContext) -> UFloat | None:
    """Temperature lost through the drier [K]."""
    return drop(context, "drier")

"""The refrigerant's way round as the readings have it: the corners of the cycle. [physics; the-trade.md 5]"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.readings import first_read
from icepick.core.circuit.saturation import SideState
from icepick.core.document.examination import Corner
from icepick.core.indicators.refrigerant import (
    AT_COMPRESSOR,
    high_side,
    liquid_side,
    liquid_stations,
    low_side,
)
from icepick.core.properties.propagation import propagate
from icepick.core.properties.refrigerants import Line, OutsideRangeError, phase_enthalpy


@dataclass(frozen=True, slots=True)
class CyclePoint:
    """One corner: absolute pressure [Pa], temperature [K], enthalpy [J/kg], and the pipe it was read on.

    ``told`` is false where the pipe reads within its band of saturation: how much liquid or vapor is mixed in there no
    thermometer tells, and the enthalpy is that of the saturation line.
    """

    corner: Corner
    station: str
    side: SideState
    temperature: UFloat
    enthalpy: UFloat
    told: bool


@remembered
def cycle(context: RunContext) -> dict[Corner, CyclePoint]:
    """Every corner that was read, in flow order; pressures are taken as one on each side, but for what the condenser
    loses.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    dict of Corner to CyclePoint
        By corner; only those that were read.
    """
    circuit = context.circuit
    if circuit is None:
        return {}
    low, head, liquid = low_side(context), high_side(context), liquid_side(context)
    found = [
        _corner(context, "evaporator_out", circuit.leaving_evaporator, low, "dew"),
        _corner(context, "compressor_in", AT_COMPRESSOR, low, "dew"),
        _corner(context, "compressor_out", ("discharge_line",), head, "dew"),
        _corner(context, "condenser_out", liquid_stations(context), liquid, "bubble"),
        meter_in := _corner(context, "meter_in", circuit.liquid[::-1], liquid, "bubble"),
    ]
    points = {point.corner: point for point in found if point is not None}
    if meter_in is not None and low is not None:
        points["meter_out"] = CyclePoint(
            "meter_out", meter_in.station, low, low.bubble, meter_in.enthalpy, meter_in.told
        )
    return points


def _corner(
    context: RunContext, corner: Corner, stations: tuple[str, ...], side: SideState | None, line: Line
) -> CyclePoint | None:
    station = first_read(context.readings, stations)
    temperature = context.temperature(station) if station else None
    if station is None or temperature is None or side is None:
        return None
    refrigerant = context.unit.refrigerant
    try:
        enthalpy = propagate(lambda t, p: phase_enthalpy(refrigerant, t, p, line), temperature, side.pressure)
    except OutsideRangeError:
        return None
    edge, sign = (side.dew, 1) if line == "dew" else (side.bubble, -1)
    apart = sign * (temperature.nominal_value - edge.nominal_value)
    told = bool(apart > hypot(temperature.std_dev, edge.std_dev))
    return CyclePoint(corner, station, side, temperature, enthalpy, told)

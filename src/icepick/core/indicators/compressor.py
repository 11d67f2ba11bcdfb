"""What the compressor makes of its suction gas. [the-trade.md 3 and 5]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.readings import first_read
from icepick.core.circuit.saturation import side_pressure
from icepick.core.document.roles import Role
from icepick.core.indicators.refrigerant import AT_COMPRESSOR, high_side, low_side
from icepick.core.properties.propagation import propagate
from icepick.core.properties.refrigerants import (
    OutsideRangeError,
    vapor_enthalpy,
    vapor_entropy,
    vapor_temperature,
)

_SIDES: tuple[Role, Role] = ("low", "high")


@remembered
def pressures(context: RunContext) -> tuple[UFloat, UFloat] | None:
    """Low and head pressure by gauges [Pa, absolute]; where a saturation lies outside the tables they tell all the
    same.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    (UFloat, UFloat) or None
        [Pa, absolute]; None without gauges on both sides.
    """
    circuit = context.circuit
    if circuit is None:
        return None
    low, head = (side_pressure(context, circuit, role) for role in _SIDES)
    return None if low is None or head is None or low.nominal_value <= 0 else (low, head)


@remembered
def compression_ratio(context: RunContext) -> UFloat | None:
    """Absolute head over absolute suction pressure, by gauges on both sides. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Ratio; None without gauges on both sides.
    """
    found = pressures(context)
    return found[1] / found[0] if found else None


@remembered
def current_share(context: RunContext) -> UFloat | None:
    """Compressor current over its rated current. [common practice]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Ratio; None while unread, or without a rated current.
    """
    current, rated = context.value("compressor", "current"), context.unit.compressor.rated_current
    return None if current is None or rated is None or rated.si <= 0 else current / rated.si


@remembered
def isentropic_share(context: RunContext) -> UFloat | None:
    """Ideal over real work of compression, as suction and discharge temperature have it. [physics]

    Needs both sides by gauge, the compressor's inlet (or common suction) and the discharge line; None with a wet
    suction, whose state a thermometer does not tell.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    UFloat or None
        Ratio; None while a reading it needs is missing.
    """
    at = first_read(context.readings, AT_COMPRESSOR)
    inlet, discharge = context.temperature(at or ""), context.temperature("discharge_line")
    low, high = low_side(context), high_side(context)
    if inlet is None or discharge is None or low is None or high is None:
        return None
    if (low.source, high.source) != ("gauge", "gauge"):
        return None
    if (inlet - low.dew).nominal_value < context.practice.si("dry_return"):
        return None
    refrigerant = context.unit.refrigerant

    def share(t_in: float, p_in: float, t_out: float, p_out: float) -> float:
        h_in = float(vapor_enthalpy(refrigerant, t_in, p_in))
        ideal = vapor_temperature(refrigerant, p_out, entropy=float(vapor_entropy(refrigerant, t_in, p_in)))
        work = float(vapor_enthalpy(refrigerant, t_out, p_out)) - h_in
        return (float(vapor_enthalpy(refrigerant, ideal, p_out)) - h_in) / work

    try:
        return propagate(share, inlet, low.pressure, discharge, high.pressure)
    except (OutsideRangeError, ZeroDivisionError):
        return None

"""What the compressor makes of its suction gas. [trade.md sections 3 and 5]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core import formulas
from icepick.core.circuit import Circuit, Role
from icepick.core.context import RunContext, remembered
from icepick.core.indicators.valve import running_circuit
from icepick.core.propagation import propagate
from icepick.core.refrigerants import OutsideRangeError, vapor_enthalpy, vapor_entropy, vapor_temperature
from icepick.core.saturation import around, medium_entering, state_of, taps_on, usual_split


@remembered
def compression_ratio(context: RunContext) -> UFloat | None:
    """Absolute high over absolute low pressure, by gauges on both sides. [physics]"""
    circuit = running_circuit(context)
    if circuit is None:
        return None
    low, high = state_of(context, circuit, "low"), state_of(context, circuit, "high")
    if low is None or high is None or "bend" in (low.source, high.source):
        return _from_bare_pressures(context, circuit)
    return high.pressure / low.pressure


def _from_bare_pressures(context: RunContext, circuit: Circuit) -> UFloat | None:
    """Where a side's saturation lies outside the tables, the pressures alone still tell."""
    roles: tuple[Role, Role] = ("low", "high")
    read = [[context.value(tap, "pressure") for tap in taps_on(circuit, role)] for role in roles]
    low, high = (next((value for value in values if value is not None), None) for values in read)
    return None if low is None or high is None or low.nominal_value <= 0 else high / low


@remembered
def ratio_called_for(context: RunContext) -> float | None:
    """The ratio that the entering temperatures and the usual splits give. [common practice]"""
    circuit = running_circuit(context)
    if circuit is None:
        return None
    found: list[float] = []
    roles: tuple[Role, Role] = ("low", "high")
    for role, coil, sign in zip(roles, (circuit.evaporator, circuit.condenser), (-1, 1), strict=True):
        entering = context.temperature(medium_entering(context, coil))
        if entering is None:
            return None
        state = around(context, entering + sign * usual_split(context, circuit, role))
        if state is None:
            return None
        found.append(float(state.pressure.nominal_value))
    return formulas.compression_ratio(*found)


@remembered
def current_share(context: RunContext) -> UFloat | None:
    """Compressor current over its rated current. [common practice]"""
    current, rated = context.value("compressor", "current"), context.unit.compressor.rated_current
    return None if current is None or rated is None or rated.si <= 0 else current / rated.si


@remembered
def isentropic_share(context: RunContext) -> UFloat | None:
    """Ideal over real work of compression, as suction and discharge temperature have it. [physics]

    Needs both sides by gauge, the compressor's inlet (or common suction) and the discharge line; None with a wet
    suction, whose state a thermometer does not tell.
    """
    circuit = running_circuit(context)
    inlet = context.temperature("compressor_inlet") or context.temperature("common_suction")
    discharge = context.temperature("discharge_line")
    if circuit is None or inlet is None or discharge is None:
        return None
    low, high = state_of(context, circuit, "low"), state_of(context, circuit, "high")
    if low is None or high is None or (low.source, high.source) != ("gauge", "gauge"):
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

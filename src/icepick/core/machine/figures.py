"""The figures the trade judges by, of a machine at rest: as the indicators of a run are, from the same places."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.graph import Circuit
from icepick.core.document.roles import FlowMode, Part
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.cycle import Cycle
from icepick.core.machine.parts import Machine
from icepick.core.machine.stations import Place
from icepick.core.properties.quantities import Kind
from icepick.core.properties.states import held, states

Array = NDArray[np.float64]
LIQUID_LINE = "liquid_line_outdoor"

KINDS = {
    "evaporating_temperature": Kind.TEMPERATURE,
    "condensing_temperature": Kind.TEMPERATURE,
    "superheat": Kind.TEMPERATURE_DIFFERENCE,
    "total_superheat": Kind.TEMPERATURE_DIFFERENCE,
    "subcooling": Kind.TEMPERATURE_DIFFERENCE,
    "compression_ratio": Kind.RATIO,
    "valve_suction_rise": Kind.TEMPERATURE_DIFFERENCE,
    "valve_discharge_drop": Kind.TEMPERATURE_DIFFERENCE,
    "evaporator_split": Kind.TEMPERATURE_DIFFERENCE,
    "condenser_split": Kind.TEMPERATURE_DIFFERENCE,
    "flash_fraction": Kind.SHARE,
    "active_meter_drop": Kind.TEMPERATURE_DIFFERENCE,
    "bypassed_meter_drop": Kind.TEMPERATURE_DIFFERENCE,
    "drier_drop": Kind.TEMPERATURE_DIFFERENCE,
    "compressor_power": Kind.ELECTRICAL_POWER,
    "evaporator_heat_refrigerant": Kind.POWER,
    "condenser_heat_refrigerant": Kind.POWER,
    "water_capacity": Kind.POWER,
}
"""Those that are indicators, and what each measures."""
JUDGED = {
    "valve_body_heat": Kind.SPECIFIC_ENTHALPY,
    "active_drop_share": Kind.SHARE,
    "saturation_apart": Kind.TEMPERATURE_DIFFERENCE,
    "liquid_at_meter": Kind.TEMPERATURE_DIFFERENCE,
    "line_change": Kind.TEMPERATURE_DIFFERENCE,
    "air_difference": Kind.TEMPERATURE_DIFFERENCE,
    "air_heat_sensible": Kind.POWER,
    "air_heat_total": Kind.POWER,
}
"""Those that only checks and other figures ask for, and what each measures."""


def figures(
    machine: Machine, mode: FlowMode, cycle: Cycle, conditions: Conditions, shown: dict[Place, Array]
) -> dict[str, Array]:
    """Indicators by their names, SI.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    cycle : Cycle
        At rest.
    conditions : Conditions
        What it works in.
    shown : dict
        What it shows at every station.

    Returns
    -------
    dict of str to Array
        Temperatures and their differences [K], ratios and shares, heat [W].
    """
    cooling, fluid = mode == "cooling", states(machine.refrigerant)
    suction, head = cycle.suction_pressure, cycle.discharge_pressure
    stations = [point.station for point in cycle.points]
    before_meter = [step.part for step in machine.loops[mode]].index("meter")
    at_port = LIQUID_LINE in stations[: before_meter + 1]
    liquid = cycle.points[stations.index(LIQUID_LINE) if at_port else before_meter]
    low, high = fluid.saturated(suction), fluid.saturated(head)
    at_liquid = fluid.saturated(liquid.pressure if at_port else head)
    arrives, _, _ = fluid.at(liquid.pressure, liquid.enthalpy)
    temperature = {station: value for (station, what), value in shown.items() if what == "temperature"}
    circuit = machine.circuits[mode]
    out = temperature[circuit.leaving_evaporator[0]]
    cold_in, warm_in = (conditions.indoor, conditions.outdoor)[:: 1 if cooling else -1]
    fed = cycle.points[-1].enthalpy
    before, after = circuit.ends(circuit.active_part) or ("", "")
    arriving = temperature.get(before, arrives)
    drop = arriving - temperature.get(after, low.dew)
    return {
        "evaporating_temperature": low.dew,
        "condensing_temperature": high.bubble,
        "superheat": out - low.dew,
        "total_superheat": temperature["compressor_inlet"] - low.dew,
        "subcooling": at_liquid.bubble - arrives,
        "compression_ratio": head / suction,
        "valve_suction_rise": temperature["common_suction"] - temperature[circuit.return_port],
        "valve_discharge_drop": temperature["discharge_line"] - temperature[circuit.hot_port],
        "evaporator_split": cold_in - low.dew,
        "condenser_split": high.bubble - warm_in,
        "flash_fraction": held((fed - low.liquid) / (low.vapor - low.liquid), 0.0, 1.0),
        "active_meter_drop": drop,
        "active_drop_share": drop / np.maximum(arriving - low.dew, 1.0),
        "valve_body_heat": cycle.valve_heat / cycle.flow,
        "saturation_apart": high.bubble - low.dew,
        "liquid_at_meter": at_liquid.bubble - arriving,
        "line_change": _line_change(circuit, temperature),
        "compressor_power": cycle.compressed.power,
        "evaporator_heat_refrigerant": cycle.evaporated.heat,
        "condenser_heat_refrigerant": cycle.condensed.heat,
        **_drops(circuit, temperature),
        **_by_air(machine, mode, cycle, conditions, temperature),
        **_by_water(machine, mode, cycle),
    }


def _drops(circuit: Circuit, temperature: Mapping[str, Array]) -> dict[str, Array]:
    """What the liquid loses in the bypassed device and in the drier."""
    parts: dict[str, Part | None] = {"bypassed_meter_drop": circuit.bypassed_part, "drier_drop": "drier"}
    found = {}
    for name, part in parts.items():
        before, after = (circuit.ends(part) if part else None) or ("", "")
        if before in temperature and after in temperature:
            found[name] = temperature[before] - temperature[after]
    return found


def _line_change(circuit: Circuit, temperature: Mapping[str, Array]) -> Array:
    """The most that either long run changes from end to end."""
    changes = [
        np.abs(temperature[one] - temperature[other])
        for one, other in circuit.long_runs
        if one in temperature and other in temperature
    ]
    return np.max(changes, axis=0) if changes else np.zeros_like(temperature["common_suction"])


def _by_air(
    machine: Machine,
    mode: FlowMode,
    cycle: Cycle,
    conditions: Conditions,
    temperature: Mapping[str, Array],
) -> dict[str, Array]:
    """Of the indoor air, the blower's heat in it."""
    if machine.indoor.medium != "air":
        return {}
    change = temperature["supply_air"] - conditions.indoor
    blower = machine.indoor.fan_power
    if mode == "heating":
        heat = cycle.condensed.heat + blower
        return {"air_difference": change, "air_heat_sensible": heat, "air_heat_total": heat}
    return {
        "air_difference": -change,
        "air_heat_sensible": cycle.evaporated.sensible - blower,
        "air_heat_total": cycle.evaporated.heat - blower,
    }


def _by_water(machine: Machine, mode: FlowMode, cycle: Cycle) -> dict[str, Array]:
    """Of the source water, else of the load water."""
    outdoors, cold = cycle.condensed.heat, cycle.evaporated.heat
    outdoors, indoors = (outdoors, cold) if mode == "cooling" else (cold, outdoors)
    if machine.outdoor.medium == "water":
        return {"water_capacity": outdoors}
    return {"water_capacity": indoors} if machine.indoor.medium == "water" else {}

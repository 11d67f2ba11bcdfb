"""What a machine at rest shows: every station, tap, air and water temperature, current and power a visit can hold. SI;
pressures absolute."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.graph import Circuit
from icepick.core.document.roles import FlowMode
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.cycle import Cycle
from icepick.core.machine.parts import Coil, Machine
from icepick.core.machine.variation import Value, Variation
from icepick.core.properties.states import States, held, states

Array = NDArray[np.float64]
Place = tuple[str, str]
"""A station and a quantity, as in the visit document."""


def shown(
    machine: Machine, mode: FlowMode, cycle: Cycle, conditions: Conditions, changed: Variation
) -> dict[Place, Array]:
    """Every reading a cycle would give.

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
    changed : Variation
        How it differs from the one sized.

    Returns
    -------
    dict
        (station, quantity) → array of the cycle's shape: temperatures [K], absolute pressures [Pa], flows [m³/s], current
        [A], power [W]. Entering temperatures are conditions and not among them.
    """
    fluid = states(machine.refrigerant)
    found: dict[Place, Array] = {}
    for station, value in _lines(fluid, machine.circuits[mode], cycle).items():
        found[station, "temperature"] = value
    found["common_suction_tap", "pressure"] = cycle.suction_pressure
    found["discharge_tap", "pressure"] = cycle.discharge_pressure
    found["vapor_service_tap", "pressure"] = cycle.vapor_port_pressure
    for point in cycle.points:
        if point.station == "liquid_line_outdoor":
            found["liquid_service_tap", "pressure"] = point.pressure
    power = cycle.compressed.power
    found["compressor", "power"] = power
    found["compressor", "current"] = power * machine.compressor.current_per_watt * changed.current
    found.update(_outside(machine, mode, cycle, conditions, changed))
    return found


def pipes(circuit: Circuit, cycle: Cycle) -> list[tuple[str, Array, Array]]:
    """Stations along the refrigerant's way, the coils' bends apart: pressure [Pa] and enthalpy [J/kg] at each.

    Parameters
    ----------
    circuit : Circuit
        The way it runs.
    cycle : Cycle
        At rest.

    Returns
    -------
    list of tuple
        A station's code, pressure and enthalpy; in no order.
    """
    places = [
        ("discharge_line", cycle.discharge_pressure, cycle.compressed.enthalpy),
        (circuit.hot_port, cycle.discharge_pressure, cycle.hot_port),
        *((point.station, point.pressure, point.enthalpy) for point in cycle.points if point.station),
        (
            circuit.return_port,
            cycle.vapor_port_pressure if circuit.mode == "cooling" else cycle.evaporating,
            cycle.returned,
        ),
        ("common_suction", cycle.suction_pressure, cycle.suction),
    ]
    if circuit.mode == "cooling":
        places.append(("vapor_line_indoor", cycle.evaporating, cycle.evaporated.enthalpy))
        places.append(("vapor_line_outdoor", cycle.vapor_port_pressure, cycle.returned))
    else:
        places.append(("vapor_line_outdoor", cycle.vapor_port_pressure, cycle.hot_port))
        places.append(("vapor_line_indoor", cycle.condensing, cycle.condenser_in))
    return places


def _lines(fluid: States, circuit: Circuit, cycle: Cycle) -> dict[str, Array]:
    """Temperatures along the refrigerant's way."""
    names, pressures, enthalpies = zip(*pipes(circuit, cycle), strict=True)
    temperatures, _, _ = fluid.at(np.stack(np.broadcast_arrays(*pressures)), np.stack(enthalpies))
    found = dict(zip(names, temperatures, strict=True))
    found["compressor_inlet"] = found["common_suction"]
    found[circuit.condenser] = _condenser_bend(fluid, cycle)
    found[circuit.evaporator] = _evaporator_bend(fluid, cycle)
    numbered = circuit.evaporator.replace("coil", "circuit")
    out, _, _ = fluid.at(cycle.evaporating, cycle.evaporated.enthalpy)
    found[f"{numbered}:N"] = out
    if cycle.starved is not None:
        found[f"{numbered}:starved"], _, _ = fluid.at(cycle.evaporating, cycle.starved.enthalpy)
    return found


HALFWAY = 0.5
"""Where along a coil its return bend is read: a mid bend. [common practice]"""


def _condenser_bend(fluid: States, cycle: Cycle) -> Array:
    sat, found = fluid.saturated(cycle.condensing), cycle.condensed
    mixed = held((HALFWAY - found.vapor) / np.maximum(found.mixture, 1e-3), 0.0, 1.0)
    boiling = sat.dew + mixed * (sat.bubble - sat.dew)
    flooded = held((HALFWAY - found.vapor - found.mixture) / np.maximum(found.liquid, 1e-3), 0.0, 1.0)
    return np.where(flooded > 0, sat.bubble + flooded * (found.temperature - sat.bubble), boiling)


def _evaporator_bend(fluid: States, cycle: Cycle) -> Array:
    sat, found = fluid.saturated(cycle.evaporating), cycle.evaporated
    boiled = held(HALFWAY / np.maximum(found.mixture, 1e-3), 0.0, 1.0)
    begins = 2 * found.temperature - sat.dew
    dry = held((HALFWAY - found.mixture) / np.maximum(1 - found.mixture, 1e-3), 0.0, 1.0)
    return np.where(dry > 0, sat.dew + dry * found.superheat, begins + boiled * (sat.dew - begins))


def _outside(
    machine: Machine, mode: FlowMode, cycle: Cycle, conditions: Conditions, changed: Variation
) -> dict[Place, Array]:
    """Air and water that leave the coils, and what flows over them."""
    found: dict[Place, Array] = {}
    cooling = mode == "cooling"
    gained_hot = cycle.condensed.heat / cycle.condenser_met.carries
    lost_cold = cycle.evaporated.sensible / cycle.evaporator_met.carries
    outdoor, indoor = (gained_hot, -lost_cold) if cooling else (-lost_cold, gained_hot)
    names = {
        "air": ("outdoor_air_out", None),
        "water": ("source_water_out", "source_water"),
    }
    station, flow = names[machine.outdoor.medium]
    found[station, "temperature"] = conditions.outdoor + outdoor
    if flow is not None:
        found[flow, "flow"] = _flow(machine.outdoor, changed.outdoor_flow, cycle)
    if machine.indoor.medium == "water":
        found["load_water_out", "temperature"] = conditions.indoor + indoor
        found["load_water", "flow"] = _flow(machine.indoor, changed.indoor_flow, cycle)
        return found
    met = cycle.evaporator_met if cooling else cycle.condenser_met
    found["supply_air", "temperature"] = conditions.indoor + indoor + machine.indoor.fan_power / met.carries
    found["indoor_airflow", "flow"] = _flow(machine.indoor, changed.indoor_flow, cycle)
    return found


def _flow(coil: Coil, share: Value, cycle: Cycle) -> Array:
    return coil.flow * share + 0 * cycle.flow

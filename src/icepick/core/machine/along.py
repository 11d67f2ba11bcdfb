"""The state of the refrigerant at every station of the path: how far over or under saturation, or how much of it is vapor."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from icepick.core.circuit.graph import Circuit
from icepick.core.document.roles import State
from icepick.core.machine.cycle import Cycle
from icepick.core.machine.parts import Machine
from icepick.core.machine.stations import HALFWAY, pipes
from icepick.core.properties.states import states


@dataclass(frozen=True, slots=True)
class At:
    """A station: absolute pressure [Pa], temperature [K] and state. ``amount`` is how far over dew or under bubble [K], or
    the share of vapor in a mixture [0…1]."""

    station: str
    pressure: float
    temperature: float
    state: State
    amount: float


def along(machine: Machine, circuit: Circuit, cycle: Cycle) -> list[At]:
    """Every station of a path, in flow order.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    circuit : Circuit
        The way its refrigerant runs.
    cycle : Cycle
        At rest; of a batch, the first one.

    Returns
    -------
    list of At
        One for each stop of the path.
    """
    known = {code: (_one(pressure), _one(enthalpy)) for code, pressure, enthalpy in pipes(circuit, cycle)}
    known["compressor_inlet"] = known["common_suction"]
    known[circuit.condenser] = _in_the_condenser(machine, cycle)
    known[circuit.evaporator] = _in_the_evaporator(machine, cycle)
    return [
        _at(machine, stop.station, *known[stop.station]) for stop in circuit.path if stop.station in known
    ]


def _one(value: object) -> float:
    return float(np.ravel(np.asarray(value, dtype=np.float64))[0])


def _at(machine: Machine, station: str, pressure: float, enthalpy: float) -> At:
    fluid = states(machine.refrigerant)
    here = np.array([pressure])
    sat = fluid.saturated(here)
    found, _, quality = fluid.at(here, np.array([enthalpy]), sat)
    temperature, share = _one(found), _one(quality)
    if share >= 1:
        return At(station, pressure, temperature, "superheated_vapor", temperature - _one(sat.dew))
    if share <= 0:
        return At(station, pressure, temperature, "subcooled_liquid", _one(sat.bubble) - temperature)
    return At(station, pressure, temperature, "mixture", share)


def _in_the_condenser(machine: Machine, cycle: Cycle) -> tuple[float, float]:
    """Halfway along the condenser's surface."""
    sat, found = states(machine.refrigerant).saturated(cycle.condensing), cycle.condensed
    vapor, mixture, liquid = (_one(share) for share in (found.vapor, found.mixture, found.liquid))
    dew, bubble = _one(sat.vapor), _one(sat.liquid)
    if vapor >= HALFWAY:
        into = _one(cycle.condenser_in)
        return _one(cycle.condensing), into + (dew - into) * HALFWAY / max(vapor, 1e-3)
    if vapor + mixture >= HALFWAY:
        return _one(cycle.condensing), dew + (bubble - dew) * (HALFWAY - vapor) / max(mixture, 1e-3)
    flooded = (HALFWAY - vapor - mixture) / max(liquid, 1e-3)
    return _one(cycle.condensing), bubble + (_one(found.enthalpy) - bubble) * flooded


def _in_the_evaporator(machine: Machine, cycle: Cycle) -> tuple[float, float]:
    """Halfway along the evaporator's surface."""
    sat, found = states(machine.refrigerant).saturated(cycle.evaporating), cycle.evaporated
    mixture, fed = _one(found.mixture), _one(cycle.points[-1].enthalpy)
    dew, leaves = _one(sat.vapor), _one(found.enthalpy)
    end = min(dew, leaves)
    into, out = _one(cycle.evaporator_inlet), _one(cycle.evaporating)
    if mixture >= HALFWAY:
        boiled = HALFWAY / max(mixture, 1e-3)
        return into + boiled * (out - into), fed + (end - fed) * boiled
    return out, dew + (leaves - dew) * (HALFWAY - mixture) / max(1 - mixture, 1e-3)

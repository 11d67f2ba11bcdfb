"""What the machine model may be off by, as quantities of the cycle: where one is off, every place it reaches is off with it.

Standing: our own choice, one standard deviation each, from how far the model lies from independent machines; in heating the
subcooling hangs on where the charge lies, which nobody knows well. [the-trade.md 2 and 5]
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.graph import Circuit
from icepick.core.document.roles import FlowMode
from icepick.core.machine.metering import ORIFICES
from icepick.core.machine.parts import Machine
from icepick.core.machine.stations import Place
from icepick.core.properties.states import states

Array = NDArray[np.float64]


OF_THE_MODEL = "model's"
ERRORS = {
    "evaporating": (0.5, 0.5, 0.5, 1.2),
    "condensing": (0.5, 0.5, 0.5, 1.2),
    "superheat": (0.8, 0.8, 2.5, 7.0),
    "subcooling": (1.0, 3.3, 1.0, 5.0),
    "hot gas": (3.0, 3.0, 4.5, 6.0),
    "loss in the condenser": (0.8, 0.8, 0.8, 0.8),
    "line of mixture": (8.0, 8.0, 8.0, 8.0),
    "indoor air": (0.5, 0.5, 0.5, 0.5),
    "outdoor air": (0.5, 0.5, 0.5, 0.5),
}
"""Quantities of the cycle [K]: with a valve in cooling and in heating, with a fixed orifice in cooling and in heating."""
AT_WATER = 1.2
"""Evaporating and condensing against water, whose coils differ most [K]."""
HOTTER = 1.2
"""Kelvins of discharge for each kelvin of superheat at the suction. [physics, near enough]"""


def errors(machine: Machine, mode: FlowMode, places: Sequence[Place], sound: Array) -> Mapping[str, Array]:
    """How every place moves with one standard deviation of each error.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    places : sequence of Place
        Stations and quantities.
    sound : Array
        What the sound machine shows there [SI].

    Returns
    -------
    mapping of str to Array
        By a name that every run of the mode shares.
    """
    circuit, orifice = machine.circuits[mode], machine.meters[mode].kind in ORIFICES
    kind = 2 * orifice + (mode == "heating")
    at_water = dict(zip(("condensing", "evaporating"), machine.coils(mode), strict=True))
    reach = [_reach(circuit, place) for place in places]
    scale = [_per_kelvin(machine, place, value) for place, value in zip(places, sound, strict=True)]
    found = {}
    for name, spreads in ERRORS.items():
        water = name in at_water and at_water[name].medium == "water"
        row = np.array([r.get(name, 0.0) * s for r, s in zip(reach, scale, strict=True)])
        found[f"{OF_THE_MODEL} {name} in {mode}"] = max(spreads[kind], AT_WATER * water) * row
    return found


def _reach(circuit: Circuit, place: Place) -> Mapping[str, float]:
    """Which quantities of the cycle a place shows."""
    station, quantity = place
    if quantity == "pressure":
        at = next((tap.at for tap in circuit.taps if tap.tap == station), station)
        return _of_line(circuit, at, pressure=True)
    if quantity != "temperature":
        return {}
    if station.startswith(("supply_air", "load_water")):
        return {"indoor air": 1.0}
    if station.startswith(("outdoor_air", "source_water")):
        return {"outdoor air": 1.0}
    return _of_line(circuit, station, pressure=False)


def _of_line(circuit: Circuit, station: str, *, pressure: bool) -> Mapping[str, float]:
    stop = next((one for one in circuit.path if one.station == station), None)
    if stop is None:
        return {}
    if stop.role == "low":
        if stop.state == "superheated_vapor":
            return {"evaporating": 1.0} if pressure else {"evaporating": 1.0, "superheat": 1.0}
        at_coil = stop.station == circuit.evaporator or stop.through == circuit.evaporator
        return {"evaporating": 1.0} if at_coil else {"evaporating": 1.0, "line of mixture": 1.0}
    if pressure and stop.state == "subcooled_liquid":
        return {"condensing": 1.0, "loss in the condenser": -1.0}
    if pressure or stop.state == "mixture":
        return {"condensing": 1.0}
    # Gas that comes hotter leaves hotter still.
    hot = {"hot gas": 1.0, "superheat": HOTTER}
    return hot if stop.state == "superheated_vapor" else {"condensing": 1.0, "subcooling": -1.0}


def _per_kelvin(machine: Machine, place: Place, value: float) -> float:
    """Of a pressure, how much it moves with a kelvin of saturation [Pa/K]."""
    if place[1] != "pressure":
        return 1.0
    fluid = states(machine.refrigerant)
    here, above = (fluid.saturated(np.array([p])).dew[0] for p in (value, 1.01 * value))
    return float(0.01 * value / max(above - here, 1e-6))

"""A technician's kit of simulated probes, hung on a unit as one would."""

from __future__ import annotations

from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.codes import Method
from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Unit
from icepick.core.machine.by_coil import Weather
from icepick.core.machine.stations import Place
from icepick.probes.simulated import SimulatedProbe

SIMULATED_WEATHER = Weather(278.15, 0.85, 294.3)
"""41 °F and damp: cold enough for frost, warm enough to cool for a while. [our own choice]"""
SIMULATED_RAN_S = 1500.0
"""How long the unit has run when its kit is first listened to [s]."""

_CLAMPED = (
    "discharge_line",
    "valve_to_indoor",
    "valve_to_outdoor",
    "common_suction",
    "vapor_line_outdoor",
    "vapor_line_indoor",
    "liquid_line_outdoor",
    "indoor_meter_line_side",
    "outdoor_meter_line_side",
    "outdoor_coil",
    "indoor_coil",
    "coil_sensor",
)
_TAPPED = ("common_suction_tap", "discharge_tap", "liquid_service_tap")
_HUNG = ("outdoor_air_in", "return_air", "supply_air", "supply_air_after_heat", "outdoor_air_out")
_DAMP = ("outdoor_air_in",)
"""Where the machine also knows the humidity."""


def stations_for_probes(unit: Unit) -> set[str]:
    """Where a probe may sit on a unit: its stations, and its coils and the board's sensors, which every unit has."""
    return set(stations_of_unit(unit)) | {"outdoor_coil", "indoor_coil", "coil_sensor", "ambient_sensor"}


def method_of(place: Place) -> Method:
    """By what instrument a probe at a place measures."""
    if place[1] == "pressure":
        return "gauge"
    # Beside the coil's sensor sits a clamp, on the same pipe.
    on_pipe = place[0] == "coil_sensor" or station(place[0]).group in (Group.LINE, Group.CIRCUIT)
    return "clamp" if on_pipe else "probe"


def kit_on(unit: Unit) -> list[SimulatedProbe]:
    """Clamps on its pipes, probes in its air, gauges on its taps; each where its name says nothing of.

    Parameters
    ----------
    unit : Unit
        The equipment, with air on both sides.

    Returns
    -------
    list of SimulatedProbe
        Up to twenty; the addresses are the same every time.
    """
    here = stations_for_probes(unit)
    probes = []
    for number, code in enumerate([one for one in _CLAMPED if one in here], start=1):
        probes.append(_probe("C", number, f"Clamp {number}", ((code, "temperature"),), lag=4 + number % 4))
    for number, code in enumerate([one for one in _TAPPED if one in here], start=1):
        probes.append(_probe("P", number, f"Gauge {number}", ((code, "pressure"),), lag=1))
    for number, code in enumerate([one for one in _HUNG if one in here], start=1):
        places: tuple[Place, ...] = ((code, "temperature"),)
        if code in _DAMP:
            places += ((code, "relative_humidity"),)
        probes.append(_probe("A", number, f"Air probe {number}", places, lag=8))
    return probes


def _probe(kind: str, number: int, name: str, places: tuple[Place, ...], lag: float) -> SimulatedProbe:
    battery = 0.95 - 0.06 * (number % 9)
    return SimulatedProbe(
        f"SIM-{kind}{number:02d}", name, places, lag=lag, battery=battery, signal=-48 - 3 * (number % 12)
    )


def places_of(kit: list[SimulatedProbe]) -> dict[tuple[str, str], Place]:
    """Where each of a kit's values sits, by address and what it measures."""
    found = {}
    for probe in kit:
        for place in probe.places:
            measures = place[1] if place[1] in ("pressure", "relative_humidity") else "temperature"
            found[probe.address, measures] = place
    return found

"""A machine of core/machine played into a run's readings, as a technician with common instruments would take them.

What nobody knows of the machine is drawn from its spreads, one draw for every run of a unit.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from typing import Any

from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.visit import Unit
from icepick.core.machine.conditions import Conditions, merged
from icepick.core.machine.expected import unknown_of
from icepick.core.machine.parts import Machine
from icepick.core.machine.sizing import size
from icepick.core.machine.stations import shown
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST, Variation, batch
from icepick.core.properties.moist_air import humidity_ratio, wet_bulb
from icepick.core.properties.quantities import Kind, from_si
from plant import kelvin

SEA_LEVEL = 101_325.0
# Half-widths of common instruments [common practice]; psi and amperes as a share as well.
NOISE = {"temperature": 1.0, "probe": 0.5, "pressure": 1.0, "current": 0.01, "flow": 0.03, "power": 0.01}
UNITS = {
    "temperature": ("degF", Kind.TEMPERATURE),
    "wet_bulb": ("degF", Kind.TEMPERATURE),
    "pressure": ("psi", Kind.PRESSURE),
    "current": ("A", Kind.CURRENT),
    "power": ("kW", Kind.ELECTRICAL_POWER),
}
PROBED = {
    f"{place}_{end}" for place in ("outdoor_air", "source_water", "load_water") for end in ("in", "out")
}
PROBED |= {"return_air", "supply_air"}


@dataclass(frozen=True)
class Weather:
    """What enters the coils [°F] and its relative humidity, and how fast the compressor turns."""

    outdoor: float
    indoor: float
    humidity: float = 0.6
    indoor_humidity: float = 0.45
    speed: float = 1.0

    def conditions(self, of: Unit) -> Conditions:
        """As the machine has them."""

        def ratio(temperature: float, humidity: float) -> float:
            return humidity_ratio(kelvin(temperature), SEA_LEVEL, relative_humidity=humidity)

        return Conditions(
            kelvin(self.outdoor),
            kelvin(self.indoor),
            ratio(self.outdoor, self.humidity) if of.source == "air" else 0.0,
            ratio(self.indoor, self.indoor_humidity) if of.load == "air" else 0.0,
            self.speed,
        )


@dataclass(frozen=True)
class Draw:
    """One machine of its kind: how far each unknown lies off, in standard deviations."""

    off: dict[str, float] = field(default_factory=dict)

    @classmethod
    def of(cls, chance: random.Random, reach: float = 1.0) -> Draw:
        """By name as they come up, so that every mode and unit meets the same ones."""
        return cls(_Drawn(chance, reach))

    def variation(self, unit: Unit, mode: str) -> Variation:
        found = AT_REST
        for one in unknown_of(unit, mode):
            found = found.and_also(one.at(self.off[one.name]))
        return found


class _Drawn(dict[str, float]):
    def __init__(self, chance: random.Random, reach: float) -> None:
        super().__init__()
        self._chance, self._reach = chance, reach

    def __missing__(self, name: str) -> float:
        self[name] = self._reach * self._chance.gauss(0, 1)
        return self[name]


def played(
    unit: Unit,
    mode: str,
    weather: list[Weather],
    changed: list[Variation],
    chance: random.Random,
    machine: Machine | None = None,
) -> list[dict[str, Any] | None]:
    """A run for each weather and variation; None where the machine comes to no rest. It is the unit's own where none is
    given."""
    machine, count = machine or size(unit), len(weather)
    around, knobs = merged([one.conditions(unit) for one in weather]), batch(changed)
    found = settle(machine, mode, around, knobs, count)
    rows = shown(machine, mode, found.cycle, around, knobs)
    return [
        _run(unit, mode, weather[k], {p: float(v[k]) for p, v in rows.items()}, chance)
        if found.sound[k]
        else None
        for k in range(count)
    ]


def _run(
    unit: Unit, mode: str, weather: Weather, values: dict[tuple[str, str], float], chance: random.Random
) -> dict[str, Any]:
    known = stations_of_unit(unit)
    readings = [
        _reading(code, quantity, value, chance)
        for (code, quantity), value in values.items()
        if code in known and quantity not in ("power", "flow")
    ]
    entering = {
        "outdoor_air_in" if unit.source == "air" else "source_water_in": weather.outdoor,
        "return_air" if unit.load == "air" else "load_water_in": weather.indoor,
    }
    readings += [_reading(code, "temperature", kelvin(value), chance) for code, value in entering.items()]
    if unit.load == "air":
        wet = wet_bulb(
            kelvin(weather.indoor),
            humidity_ratio(kelvin(weather.indoor), SEA_LEVEL, relative_humidity=weather.indoor_humidity),
            SEA_LEVEL,
        )
        readings.append(_reading("return_air", "wet_bulb", wet, chance))
    run = {"id": mode, "mode": mode, "minutes_running": 25, "readings": readings, "observations": []}
    if unit.compressor.kind == "inverter":
        run["compressor_speed"] = round(100 * weather.speed)
    if unit.compressor.kind == "two_stage":
        run["compressor_stage"] = "high" if weather.speed > 0.9 else "low"
    return run


def _reading(code: str, quantity: str, value: float, chance: random.Random) -> dict[str, Any]:
    unit, kind = UNITS[quantity]
    number = from_si(value, unit, kind)
    probe = code in PROBED
    band = NOISE[
        "probe" if probe and quantity == "temperature" else quantity if quantity in NOISE else "probe"
    ]
    if quantity in ("current", "power"):
        band *= number
    if quantity == "pressure":
        band = max(band, 0.01 * abs(number))
    number += chance.gauss(0, band / 2)
    method = {"pressure": "gauge", "current": "meter", "power": "meter"}.get(
        quantity, "probe" if probe else "clamp"
    )
    return {
        "station": code,
        "quantity": quantity,
        "value": round(number, 1 if quantity != "power" else 3),
        "unit": unit,
        "method": method,
    }

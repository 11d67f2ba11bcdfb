"""Make src/icepick/core/properties/data/units.json from pint: `.venv/bin/python tools/make_units.py`.

Run after a unit was added to `icepick.core.properties.quantities`; a test holds what is shipped to pint itself.
"""

from __future__ import annotations

import json
from pathlib import Path

import pint

from icepick.core.properties.quantities import UNITS, Kind

OUT = Path(__file__).parents[1] / "src/icepick/core/properties/data/units.json"
_PINT_NAMES = {
    "psi": "psi",
    "psia": "psi",
    "kPa_abs": "kPa",
    "bar_abs": "bar",
    "gpm": "gallon/minute",
    "L/min": "liter/minute",
    "L/s": "liter/second",
    "cfm": "foot**3/minute",
    "m3/h": "meter**3/hour",
    "Btu/h": "Btu/hour",
    "ton": "refrigeration_ton",
    "Btu/lb": "Btu/pound",
    "kJ/kg": "kilojoule/kilogram",
    "1": "dimensionless",
}
_SI = {
    Kind.TEMPERATURE: "kelvin",
    Kind.TEMPERATURE_DIFFERENCE: "delta_degC",
    Kind.PRESSURE: "pascal",
    Kind.PRESSURE_DIFFERENCE: "pascal",
    Kind.CURRENT: "ampere",
    Kind.VOLTAGE: "volt",
    Kind.RESISTANCE: "ohm",
    Kind.WINDING: "ohm",
    Kind.WATER_FLOW: "meter**3/second",
    Kind.AIR_FLOW: "meter**3/second",
    Kind.POWER: "watt",
    Kind.ELECTRICAL_POWER: "watt",
    Kind.TIME: "second",
    Kind.LENGTH: "meter",
    Kind.RELATIVE_HUMIDITY: "dimensionless",
    Kind.RATIO: "dimensionless",
    Kind.SHARE: "dimensionless",
    Kind.FLUID_FACTOR: "dimensionless",
    Kind.SPECIFIC_ENTHALPY: "joule/kilogram",
    Kind.STATE: "dimensionless",
}


def lines() -> dict[str, dict[str, tuple[float, float]]]:
    """Of each kind, each unit's scale and offset to SI, asked of pint at two points."""
    registry = pint.UnitRegistry(autoconvert_offset_to_baseunit=True)
    found: dict[str, dict[str, tuple[float, float]]] = {}
    for kind, units in UNITS.items():
        for unit in units:
            name = _PINT_NAMES.get(unit, unit)
            at_0, at_1 = (float(registry.Quantity(x, name).to(_SI[kind]).magnitude) for x in (0.0, 1.0))
            found.setdefault(kind.value, {})[unit] = at_1 - at_0, at_0
    return found


if __name__ == "__main__":
    OUT.write_text(json.dumps(lines(), indent=1) + "\n", "utf-8")

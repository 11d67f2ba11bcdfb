"""Units at the border: field units in, SI inside, field units out.

Inside the core every value is in K, K of difference, Pa (absolute), Pa of difference, A, V, ohm,
m³/s, W, s, m, or a plain ratio. The documents carry the units of the trade. The straight line from each of
them to SI is made from ``pint`` by ``tools/make_units.py`` and shipped: pint takes longer to load than all else here.
"""

from __future__ import annotations

import json
from enum import StrEnum
from functools import cache
from importlib.resources import files
from typing import Literal, cast

from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE


class Kind(StrEnum):
    """What a number measures; each kind has its own list of accepted units."""

    # Looked up by the hundred in one examination; an enum's own hash is a call in Python.
    __hash__ = str.__hash__

    TEMPERATURE = "temperature"
    TEMPERATURE_DIFFERENCE = "temperature_difference"
    PRESSURE = "pressure"
    PRESSURE_DIFFERENCE = "pressure_difference"
    CURRENT = "current"
    VOLTAGE = "voltage"
    RESISTANCE = "resistance"
    WINDING = "winding"
    WATER_FLOW = "water_flow"
    AIR_FLOW = "air_flow"
    POWER = "power"
    ELECTRICAL_POWER = "electrical_power"
    TIME = "time"
    LENGTH = "length"
    RELATIVE_HUMIDITY = "relative_humidity"
    RATIO = "ratio"
    SHARE = "share"
    FLUID_FACTOR = "fluid_factor"
    SPECIFIC_ENTHALPY = "specific_enthalpy"
    STATE = "state"


UnitSystem = Literal["field", "metric"]
"""Which units come out: ``field`` is °F and psi (gauge), ``metric`` is °C and kPa (gauge)."""

UNITS: dict[Kind, tuple[str, ...]] = {
    Kind.TEMPERATURE: ("degF", "degC"),
    Kind.TEMPERATURE_DIFFERENCE: ("delta_degF", "delta_degC"),
    Kind.PRESSURE: ("psi", "kPa", "bar", "psia", "kPa_abs", "bar_abs"),
    Kind.PRESSURE_DIFFERENCE: ("psi", "kPa", "bar"),
    Kind.CURRENT: ("A",),
    Kind.VOLTAGE: ("V",),
    Kind.RESISTANCE: ("ohm", "kohm"),
    Kind.WINDING: ("ohm", "kohm"),
    Kind.WATER_FLOW: ("gpm", "L/min", "L/s"),
    Kind.AIR_FLOW: ("cfm", "m3/h", "L/s"),
    Kind.POWER: ("W", "kW", "Btu/h", "ton"),
    Kind.ELECTRICAL_POWER: ("W", "kW", "Btu/h"),
    Kind.TIME: ("s", "min"),
    Kind.LENGTH: ("ft", "m"),
    Kind.RELATIVE_HUMIDITY: ("percent",),
    Kind.RATIO: ("1", "percent"),
    Kind.SHARE: ("percent",),
    Kind.FLUID_FACTOR: ("1",),
    Kind.SPECIFIC_ENTHALPY: ("Btu/lb", "kJ/kg"),
    Kind.STATE: ("1",),
}
"""Accepted units of each kind, as named by the visit document. ``psi``, ``kPa`` and ``bar`` are gauge."""

DISPLAY_UNITS: dict[UnitSystem, dict[Kind, str]] = {
    "field": {
        Kind.TEMPERATURE: "degF",
        Kind.TEMPERATURE_DIFFERENCE: "delta_degF",
        Kind.PRESSURE: "psi",
        Kind.PRESSURE_DIFFERENCE: "psi",
        Kind.CURRENT: "A",
        Kind.VOLTAGE: "V",
        Kind.RESISTANCE: "kohm",
        Kind.WINDING: "ohm",
        Kind.WATER_FLOW: "gpm",
        Kind.AIR_FLOW: "cfm",
        Kind.POWER: "Btu/h",
        Kind.ELECTRICAL_POWER: "W",
        Kind.TIME: "min",
        Kind.LENGTH: "ft",
        Kind.RELATIVE_HUMIDITY: "percent",
        Kind.RATIO: "1",
        Kind.SHARE: "percent",
        Kind.FLUID_FACTOR: "1",
        Kind.SPECIFIC_ENTHALPY: "Btu/lb",
        Kind.STATE: "1",
    },
    "metric": {
        Kind.TEMPERATURE: "degC",
        Kind.TEMPERATURE_DIFFERENCE: "delta_degC",
        Kind.PRESSURE: "kPa",
        Kind.PRESSURE_DIFFERENCE: "kPa",
        Kind.CURRENT: "A",
        Kind.VOLTAGE: "V",
        Kind.RESISTANCE: "kohm",
        Kind.WINDING: "ohm",
        Kind.WATER_FLOW: "L/min",
        Kind.AIR_FLOW: "m3/h",
        Kind.POWER: "kW",
        Kind.ELECTRICAL_POWER: "W",
        Kind.TIME: "min",
        Kind.LENGTH: "m",
        Kind.RELATIVE_HUMIDITY: "percent",
        Kind.RATIO: "1",
        Kind.SHARE: "percent",
        Kind.FLUID_FACTOR: "1",
        Kind.SPECIFIC_ENTHALPY: "kJ/kg",
        Kind.STATE: "1",
    },
}

ABSOLUTE_PRESSURE: dict[UnitSystem, str] = {"field": "psia", "metric": "kPa_abs"}
"""Units of pressure where it counts from nothing, as on a pressure–enthalpy chart."""

SYMBOLS: dict[str, str] = {
    "degF": "°F",
    "degC": "°C",
    "delta_degF": "°F",
    "delta_degC": "°C",
    "psi": "psig",
    "kPa": "kPa",
    "bar": "bar",
    "psia": "psia",
    "kPa_abs": "kPa abs",
    "bar_abs": "bar abs",
    "A": "A",
    "V": "V",
    "ohm": "Ω",
    "kohm": "kΩ",
    "gpm": "gpm",
    "L/min": "L/min",
    "L/s": "L/s",
    "cfm": "cfm",
    "m3/h": "m³/h",
    "W": "W",
    "kW": "kW",
    "Btu/h": "Btu/h",
    "ton": "tons",
    "Btu/lb": "Btu/lb",
    "kJ/kg": "kJ/kg",
    "s": "s",
    "min": "min",
    "ft": "ft",
    "m": "m",
    "percent": "%",
    "1": "",
}
"""How each unit is written on screen and in sentences."""


def symbol(unit: str, kind: Kind) -> str:
    """How a unit is written behind a number of a kind: a difference of pressures is above nothing, psi and not psig.

    Parameters
    ----------
    unit : str
        Name of the unit, as the documents have it.
    kind : Kind
        What the number measures.

    Returns
    -------
    str
        Empty for a plain number.
    """
    return SYMBOLS[unit].removesuffix("g") if kind is Kind.PRESSURE_DIFFERENCE else SYMBOLS[unit]


SUFFIXES: dict[str, str] = {
    "f": "degF",
    "°f": "degF",
    "c": "degC",
    "°c": "degC",
    "psi": "psi",
    "psig": "psi",
    "kpa": "kPa",
    "bar": "bar",
    "psia": "psia",
    "a": "A",
    "v": "V",
    "ohm": "ohm",
    "k": "kohm",
    "kohm": "kohm",
    "gpm": "gpm",
    "l/min": "L/min",
    "l/s": "L/s",
    "cfm": "cfm",
    "m3/h": "m3/h",
    "w": "W",
    "kw": "kW",
    "btu/h": "Btu/h",
    "ton": "ton",
    "tons": "ton",
    "%": "percent",
}
"""What a technician may type behind a number, in lower case, and the unit it stands for."""

_GAUGE = frozenset({"psi", "kPa", "bar"})


@cache
def _line(kind: Kind, unit: str) -> tuple[float, float, bool]:
    """Scale and offset that take a number in ``unit`` to SI; and whether it is a gauge's, to which the air's pressure has to
    be added."""
    if unit not in UNITS[kind]:
        raise ValueError(f"{unit!r} is not a unit of {kind.value}; use one of {', '.join(UNITS[kind])}")
    scale, offset = _lines()[kind.value][unit]
    return scale, offset, kind is Kind.PRESSURE and unit in _GAUGE


@cache
def _lines() -> dict[str, dict[str, tuple[float, float]]]:
    text = files("icepick.core.properties").joinpath("data/units.json").read_text("utf-8")
    return cast(dict[str, dict[str, tuple[float, float]]], json.loads(text))


def to_si(value: float, unit: str, kind: Kind, atmosphere: float = SEA_LEVEL_PRESSURE) -> float:
    """Convert a field value to SI.

    Parameters
    ----------
    value : float
        The number as read.
    unit : str
        One of ``UNITS[kind]``.
    kind : Kind
        What the number measures.
    atmosphere : float
        Local air pressure [Pa]; a gauge reading is above this, so elevation matters.

    Returns
    -------
    float
        K, Pa absolute, A, V, ohm, m³/s, W, s, m or a ratio.

    Raises
    ------
    ValueError
        The unit does not belong to the kind.
    """
    scale, offset, gauge = _line(kind, unit)
    si = value * scale + offset
    return si + atmosphere if gauge else si


def from_si(value: float, unit: str, kind: Kind, atmosphere: float = SEA_LEVEL_PRESSURE) -> float:
    """Convert an SI value to a field unit; the inverse of :func:`to_si`, same units and errors.

    Parameters
    ----------
    value : float
        A number [SI].
    unit : str
        Name of the unit, as the documents have it.
    kind : Kind
        What the number measures.
    atmosphere : float
        What a gauge pressure is above [Pa].

    Returns
    -------
    float
        In ``unit``.
    """
    scale, offset, gauge = _line(kind, unit)
    return (value - atmosphere - offset if gauge else value - offset) / scale


def spread_to_si(spread: float, unit: str, kind: Kind) -> float:
    """Convert an uncertainty or a step [same unit as the value] to SI; offsets do not apply.

    Parameters
    ----------
    spread : float
        In the unit of the value.
    unit : str
        Name of the unit, as the documents have it.
    kind : Kind
        What the number measures.

    Returns
    -------
    float
        [SI].
    """
    return spread * _line(kind, unit)[0]


def spread_from_si(spread: float, unit: str, kind: Kind) -> float:
    """Convert an SI uncertainty or step to ``unit``; offsets do not apply.

    Parameters
    ----------
    spread : float
        [SI].
    unit : str
        Name of the unit, as the documents have it.
    kind : Kind
        What the number measures.

    Returns
    -------
    float
        In ``unit``.
    """
    return spread / _line(kind, unit)[0]

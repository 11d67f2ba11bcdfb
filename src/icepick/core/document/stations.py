"""The stations: every place a reading can be taken, what can be read there, and what the world allows.

Stations are named by place, never by role (visit document). The order of the list is the walking
order: the order in which a technician meets the places, and in which the screen asks for them.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cache

from icepick.core.properties.quantities import Kind


class Group(StrEnum):
    """Which tray of the screen a station belongs to."""

    LINE = "line"
    TAP = "tap"
    AIR = "air"
    WATER = "water"
    ELECTRICAL = "electrical"
    CIRCUIT = "circuit"


class Place(StrEnum):
    """On which side of the wall a station sits."""

    INDOORS = "indoors"
    OUTDOORS = "outdoors"
    BETWEEN = "between"


@dataclass(frozen=True, slots=True)
class Allowed:
    """The range outside which a number is a slip of the hand, not a reading.

    ``low`` and ``high`` are in ``unit``. Standing: common practice, from what the instruments of
    the trade can show; wide on purpose, since odd values are doubted by physics, not refused here.
    """

    kind: Kind
    low: float
    high: float
    unit: str


NOISE: dict[Kind, float] = {
    Kind.PRESSURE: 0.5,
    Kind.RELATIVE_HUMIDITY: 2.0,
    Kind.CURRENT: 0.5,
    Kind.VOLTAGE: 2.0,
    Kind.ELECTRICAL_POWER: 0.05,
    Kind.AIR_FLOW: 20.0,
    Kind.WATER_FLOW: 0.2,
}
"""How far beyond its range an instrument may show what stands at the range's end, in the range's own unit: its zero is off,
its span too. A series is set to the limit there. [our own choice, from the accuracy classes of the trade's instruments]"""


@dataclass(frozen=True, slots=True)
class Station:
    """One place: its code in the documents, its words, its tray and what can be read there."""

    code: str
    title: str
    short: str
    group: Group
    place: Place
    quantities: dict[str, Allowed] = field(hash=False)


_LINE = {"temperature": Allowed(Kind.TEMPERATURE, -60, 350, "degF")}
_TAP = {"pressure": Allowed(Kind.PRESSURE, -14.7, 900, "psi")}
_AIR = {
    "temperature": Allowed(Kind.TEMPERATURE, -60, 200, "degF"),
    "wet_bulb": Allowed(Kind.TEMPERATURE, -60, 200, "degF"),
    "relative_humidity": Allowed(Kind.RELATIVE_HUMIDITY, 0, 100, "percent"),
}
_AIR_AFTER_HEAT = {**_AIR, "temperature": Allowed(Kind.TEMPERATURE, -60, 300, "degF")}
"""Strips with little air over them blow over 200 °F before their limit opens. [common practice, from memory]"""
_WATER_PORT = {
    "temperature": Allowed(Kind.TEMPERATURE, -20, 230, "degF"),
    "pressure": Allowed(Kind.PRESSURE, -14.7, 300, "psi"),
}
_WATER = {
    "flow": Allowed(Kind.WATER_FLOW, 0, 500, "gpm"),
    "fluid_factor": Allowed(Kind.FLUID_FACTOR, 300, 600, "1"),
}
_AIRFLOW = {"flow": Allowed(Kind.AIR_FLOW, 0, 20_000, "cfm")}
_VOLTAGE = {"voltage": Allowed(Kind.VOLTAGE, 0, 600, "V")}
_RESISTANCE = {"resistance": Allowed(Kind.RESISTANCE, 0, 100_000, "kohm")}
_WINDING = {"resistance": Allowed(Kind.WINDING, 0, 100_000_000, "ohm")}
_SENSOR = {**_RESISTANCE, "temperature": Allowed(Kind.TEMPERATURE, -60, 350, "degF")}
_CURRENT = {"current": Allowed(Kind.CURRENT, 0, 300, "A")}
_POWER = {"power": Allowed(Kind.ELECTRICAL_POWER, 0, 100, "kW")}

_OUT, _IN, _MID = Place.OUTDOORS, Place.INDOORS, Place.BETWEEN

STATIONS: tuple[Station, ...] = (
    Station(
        "discharge_line", "discharge line at the reversing valve", "discharge line", Group.LINE, _OUT, _LINE
    ),
    Station(
        "valve_to_indoor", "reversing valve port to the indoor coil", "indoor port", Group.LINE, _OUT, _LINE
    ),
    Station(
        "valve_to_outdoor",
        "reversing valve port to the outdoor coil",
        "outdoor port",
        Group.LINE,
        _OUT,
        _LINE,
    ),
    Station(
        "common_suction",
        "common suction line at the reversing valve",
        "common suction",
        Group.LINE,
        _OUT,
        _LINE,
    ),
    Station(
        "compressor_inlet", "suction line at the compressor", "compressor inlet", Group.LINE, _OUT, _LINE
    ),
    Station(
        "outdoor_coil", "outdoor coil at a mid return bend", "outdoor coil bend", Group.LINE, _OUT, _LINE
    ),
    Station(
        "outdoor_meter_coil_side",
        "outdoor metering device, coil side",
        "outdoor device, coil side",
        Group.LINE,
        _OUT,
        _LINE,
    ),
    Station(
        "outdoor_meter_line_side",
        "outdoor metering device, line side",
        "outdoor device, line side",
        Group.LINE,
        _OUT,
        _LINE,
    ),
    Station(
        "drier_outdoor_side", "filter drier, outdoor side", "drier, outdoor side", Group.LINE, _OUT, _LINE
    ),
    Station("drier_indoor_side", "filter drier, indoor side", "drier, indoor side", Group.LINE, _OUT, _LINE),
    Station(
        "liquid_line_outdoor", "liquid line at the service valve", "liquid line", Group.LINE, _OUT, _LINE
    ),
    Station(
        "vapor_line_outdoor", "vapor line, outdoor end", "vapor line, outdoor end", Group.LINE, _OUT, _LINE
    ),
    Station("vapor_line_indoor", "vapor line, indoor end", "vapor line, indoor end", Group.LINE, _IN, _LINE),
    Station(
        "indoor_meter_line_side",
        "indoor metering device, line side",
        "indoor device, line side",
        Group.LINE,
        _IN,
        _LINE,
    ),
    Station(
        "indoor_meter_coil_side",
        "indoor metering device, coil side",
        "indoor device, coil side",
        Group.LINE,
        _IN,
        _LINE,
    ),
    Station("indoor_coil", "indoor coil at a mid return bend", "indoor coil bend", Group.LINE, _IN, _LINE),
    Station("return_air", "return air", "return air", Group.AIR, _IN, _AIR),
    Station("supply_air", "supply air before backup heat", "supply air", Group.AIR, _IN, _AIR),
    Station("outdoor_air_in", "outdoor air entering the coil", "outdoor air in", Group.AIR, _OUT, _AIR),
    Station("outdoor_air_out", "outdoor air leaving the coil", "outdoor air out", Group.AIR, _OUT, _AIR),
    Station(
        "supply_air_after_heat",
        "supply air after backup heat",
        "air after heat",
        Group.AIR,
        _IN,
        _AIR_AFTER_HEAT,
    ),
    Station("indoor_airflow", "indoor airflow", "airflow", Group.AIR, _IN, _AIRFLOW),
    Station("source_water_in", "source water entering", "source water in", Group.WATER, _OUT, _WATER_PORT),
    Station("source_water_out", "source water leaving", "source water out", Group.WATER, _OUT, _WATER_PORT),
    Station("source_water", "source water", "source water", Group.WATER, _OUT, _WATER),
    Station("load_water_in", "load water entering", "load water in", Group.WATER, _IN, _WATER_PORT),
    Station("load_water_out", "load water leaving", "load water out", Group.WATER, _IN, _WATER_PORT),
    Station("load_water", "load water", "load water", Group.WATER, _IN, _WATER),
    Station("terminal_r", "terminal R", "R", Group.ELECTRICAL, _IN, _VOLTAGE),
    Station("terminal_y", "terminal Y", "Y", Group.ELECTRICAL, _OUT, _VOLTAGE),
    Station("terminal_o", "terminal O", "O", Group.ELECTRICAL, _OUT, _VOLTAGE),
    Station("terminal_b", "terminal B", "B", Group.ELECTRICAL, _OUT, _VOLTAGE),
    Station("terminal_w", "terminal W (backup heat)", "W", Group.ELECTRICAL, _OUT, _VOLTAGE),
    Station(
        "solenoid",
        "reversing valve solenoid",
        "solenoid",
        Group.ELECTRICAL,
        _OUT,
        {**_VOLTAGE, **_WINDING},
    ),
    Station(
        "compressor", "compressor", "compressor", Group.ELECTRICAL, _OUT, {**_CURRENT, **_VOLTAGE, **_POWER}
    ),
    Station("outdoor_fan", "outdoor fan", "outdoor fan", Group.ELECTRICAL, _OUT, _CURRENT),
    Station("supply_fan", "supply fan", "supply fan", Group.ELECTRICAL, _IN, _POWER),
    Station("backup_heat", "backup heat", "backup heat", Group.ELECTRICAL, _IN, {**_CURRENT, **_POWER}),
    Station("coil_sensor", "outdoor coil sensor", "coil sensor", Group.ELECTRICAL, _OUT, _SENSOR),
    Station("ambient_sensor", "ambient sensor", "ambient sensor", Group.ELECTRICAL, _OUT, _SENSOR),
    Station("common_suction_tap", "common suction port", "suction port", Group.TAP, _OUT, _TAP),
    Station("vapor_service_tap", "vapor line port", "vapor line port", Group.TAP, _OUT, _TAP),
    Station("liquid_service_tap", "liquid line port", "liquid line port", Group.TAP, _OUT, _TAP),
    Station("discharge_tap", "discharge port", "discharge port", Group.TAP, _OUT, _TAP),
)
"""Every fixed station, in walking order. Coil circuits, which are numbered, come after them."""

CIRCUIT_PATTERN = r"^(indoor|outdoor)_circuit:([1-9]\d?)$"
"""How a coil circuit is written: ``outdoor_circuit:3``; N from 1 to 99."""

OF_A_HEAD = frozenset(
    {
        "vapor_line_outdoor",
        "vapor_line_indoor",
        "liquid_line_outdoor",
        "outdoor_meter_line_side",
        "outdoor_meter_coil_side",
        "indoor_coil",
        "return_air",
        "supply_air",
    }
)
"""Stations that each head of a unit with several has: written with its number, ``indoor_coil:2``."""
MOST_HEADS = 8
HEAD_PATTERN = rf"^({'|'.join(sorted(OF_A_HEAD))}):([1-{MOST_HEADS}])$"

STATE = Allowed(Kind.STATE, 0, 1, "1")
SWITCHED = frozenset({"compressor", "outdoor_fan", "backup_heat", "solenoid"})
"""Where a recording may hold the quantity ``state``: what is, not what is commanded. The fan turns, the heater heats,
voltage is there at the solenoid."""

_BY_CODE = {station.code: station for station in STATIONS}
_ORDER = {station.code: index for index, station in enumerate(STATIONS)}


@cache
def station(code: str) -> Station:
    """Look a station up by its code.

    Parameters
    ----------
    code : str
        Code of the station.

    Returns
    -------
    Station
        The place and what can be read there.

    Raises
    ------
    KeyError
        No station has this code.
    """
    if code in _BY_CODE:
        return _BY_CODE[code]
    head = re.match(HEAD_PATTERN, code)
    if head is not None:
        base, number = head.groups()
        of = _BY_CODE[base]
        return replace(of, code=code, title=f"{of.title}, head {number}", short=f"{of.short}, head {number}")
    match = re.match(CIRCUIT_PATTERN, code)
    if match is None:
        raise KeyError(code)
    side, number = match.groups()
    return Station(
        code,
        f"{side} coil circuit {number}",
        f"{side} circuit {number}",
        Group.CIRCUIT,
        _IN if side == "indoor" else _OUT,
        _LINE,
    )


NUMBERED = tuple(
    Station(f"{side}_circuit:N", f"{side} coil circuit N", f"{side} circuit N", Group.CIRCUIT, place, _LINE)
    for side, place in (("indoor", _IN), ("outdoor", _OUT))
)
"""How the numbered coil circuits read: N stands for the number."""


def walking_order(code: str) -> int:
    """Rank of a station in the walking order, the same for each head; coil circuits come last.

    Parameters
    ----------
    code : str
        Code of the station.

    Returns
    -------
    int
        From 0.
    """
    head = re.match(HEAD_PATTERN, code)
    return _ORDER.get(head[1] if head else code, len(_ORDER))

"""The words of the documents: what a mode, a complaint, a quantity, a unit of a reading, an observation may be called."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, FiniteFloat, StringConstraints
from pydantic.json_schema import WithJsonSchema

from icepick.core.document.stations import CIRCUIT_PATTERN, HEAD_PATTERN, MOST_HEADS, STATIONS

Mode = Literal["heating", "cooling", "defrost", "off"]
Complaint = Literal[
    "no_heat",
    "no_cooling",
    "weak",
    "iced_outdoor_coil",
    "blows_cold_in_heating",
    "high_bills",
    "noise",
    "routine",
    "start_up",
]
Layout = Literal["split", "ductless", "packaged"]
Medium = Literal["air", "water"]
MeterKind = Literal["txv", "piston", "capillary", "eev", "none"]
Bypass = Literal["internal_check", "external_check", "sliding_piston", "none"]
Method = Literal["clamp", "probe", "infrared", "gauge", "meter", "estimate"]
QuantityName = Literal[
    "temperature",
    "wet_bulb",
    "relative_humidity",
    "pressure",
    "flow",
    "fluid_factor",
    "current",
    "voltage",
    "resistance",
    "power",
]
SightCode = Literal[
    "valve_shift_heard",
    "magnets_full_travel",
    "magnets_stop_midway",
    "magnets_do_not_move",
    "outdoor_fan_running",
    "outdoor_fan_stopped",
    "backup_heat_on",
    "backup_heat_off",
    "outdoor_coil_frosted_even",
    "outdoor_coil_frosted_patchy",
    "outdoor_coil_iced_solid",
    "outdoor_coil_clear",
    "filter_dirty",
    "coil_dirty_indoor",
    "coil_dirty_outdoor",
    "desuperheater_off",
    "bulb_loose",
    "oil_stain",
    "hissing_at_meter",
]
"""What is seen or heard."""
ObservationCode = Literal[SightCode, "out_of_reach"]
"""Besides, a place nobody can get at: the observation's value says which."""
ReadingUnit = Literal[
    "degF",
    "degC",
    "psi",
    "kPa",
    "bar",
    "psia",
    "kPa_abs",
    "bar_abs",
    "A",
    "V",
    "ohm",
    "kohm",
    "gpm",
    "L/min",
    "L/s",
    "cfm",
    "m3/h",
    "W",
    "kW",
    "Btu/h",
    "percent",
    "1",
]
StationCode = Annotated[
    str,
    WithJsonSchema(
        {
            "anyOf": [
                {"type": "string", "enum": [s.code for s in STATIONS]},
                {"type": "string", "pattern": CIRCUIT_PATTERN},
                {"type": "string", "pattern": HEAD_PATTERN},
            ]
        }
    ),
]
LONGEST_TEXT = 10_000
Text = Annotated[str, StringConstraints(max_length=LONGEST_TEXT)]
Name = Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]
CompressorStage = Literal["low", "high"]
CompressorSpeed = Annotated[FiniteFloat, Field(ge=0, le=200)]
SeriesQuantity = Literal[QuantityName, "state"]
"""What a recording holds of a station: all a reading does, and whether a thing is on."""
MarkCode = Literal[SightCode, "defrost_forced", "steam_seen", "back_in_heating"]
RunId = Annotated[str, StringConstraints(min_length=1, max_length=100)]
CircuitId = Annotated[str, StringConstraints(min_length=1, max_length=20, strip_whitespace=True)]
HeadsCalling = Annotated[list[Annotated[int, Field(ge=1, le=MOST_HEADS)]], Field(max_length=MOST_HEADS)]
"""Numbers of heads, from 1."""

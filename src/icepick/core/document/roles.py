"""What a mode makes of a place: its side, its role, the state of what runs there. Both documents and the circuit speak these
words."""

from __future__ import annotations

from typing import Literal

Side = Literal["indoor", "outdoor"]
Role = Literal["high", "low"]
State = Literal["superheated_vapor", "mixture", "subcooled_liquid"]
Part = Literal[
    "compressor",
    "reversing_valve",
    "outdoor_coil",
    "outdoor_meter",
    "drier",
    "indoor_meter",
    "indoor_coil",
    "accumulator",
    "pipe",
]
FlowMode = Literal["heating", "cooling"]
Coil = Literal["indoor_coil", "outdoor_coil"]
ApparentMode = Literal["heating", "cooling", "neither", "unknown"]

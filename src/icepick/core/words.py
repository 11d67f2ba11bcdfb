"""The trade's words for the codes of the documents, for screens and reports."""

from __future__ import annotations

COMPLAINTS = {
    "no_heat": "no heat",
    "no_cooling": "no cooling",
    "weak": "weak",
    "iced_outdoor_coil": "outdoor coil iced",
    "blows_cold_in_heating": "blows cold in heating",
    "high_bills": "high bills",
    "noise": "noise",
    "routine": "routine visit",
    "start_up": "start-up",
}
MODES = {"heating": "heating", "cooling": "cooling", "defrost": "defrost", "off": "off"}
APPARENT_MODES = {
    "heating": "heating",
    "cooling": "cooling",
    "neither": "neither way",
    "unknown": "not known yet",
}
METERS = {
    "txv": "thermostatic valve",
    "eev": "electric valve",
    "piston": "piston",
    "capillary": "capillary",
    "none": "none",
}
METHODS = {
    "clamp": "clamp",
    "probe": "probe",
    "infrared": "infrared",
    "gauge": "gauge",
    "meter": "meter",
    "estimate": "estimate",
}
STATES = {
    "superheated_vapor": "vapor",
    "mixture": "liquid and vapor",
    "subcooled_liquid": "liquid",
}
STATUSES = {
    "pass": "pass",
    "watch": "watch",
    "fail": "fail",
    "needs_readings": "needs readings",
}
PARTS = {
    "compressor": "compressor",
    "reversing_valve": "reversing valve",
    "outdoor_coil": "outdoor coil",
    "outdoor_meter": "outdoor meter",
    "drier": "drier",
    "indoor_meter": "indoor meter",
    "indoor_coil": "indoor coil",
    "accumulator": "accumulator",
    "pipe": "pipe",
}

WORDS: dict[str, dict[str, str]] = {
    "complaint": COMPLAINTS,
    "mode": MODES,
    "apparent_mode": APPARENT_MODES,
    "meter": METERS,
    "method": METHODS,
    "state": STATES,
    "status": STATUSES,
    "part": PARTS,
}
"""Every vocabulary, by the name of the field it belongs to."""

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
    "txv": "TXV",
    "eev": "EEV",
    "piston": "piston",
    "capillary": "cap tube",
    "none": "none",
}
METHODS = {
    "clamp": "clamp",
    "probe": "probe",
    "infrared": "infrared",
    "gauge": "gauge",
    "meter": "multimeter",
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
    "outdoor_meter": "outdoor metering device",
    "drier": "filter drier",
    "indoor_meter": "indoor metering device",
    "indoor_coil": "indoor coil",
    "accumulator": "accumulator",
    "pipe": "pipe",
}

SIGHTS = {
    "valve_shift_heard": "shift heard",
    "magnets_full_travel": "magnets travel all the way",
    "magnets_stop_midway": "magnets stop midway",
    "magnets_do_not_move": "magnets don't move",
    "outdoor_fan_running": "outdoor fan running",
    "outdoor_fan_stopped": "outdoor fan stopped",
    "backup_heat_on": "backup heat on",
    "backup_heat_off": "backup heat off",
    "outdoor_coil_frosted_even": "even frost outdoors",
    "outdoor_coil_frosted_patchy": "patchy frost outdoors",
    "outdoor_coil_iced_solid": "outdoor coil iced solid",
    "outdoor_coil_clear": "outdoor coil clear",
    "filter_dirty": "filter dirty",
    "coil_dirty_indoor": "indoor coil dirty",
    "coil_dirty_outdoor": "outdoor coil dirty",
    "desuperheater_off": "desuperheater off",
    "bulb_loose": "TXV bulb loose",
    "oil_stain": "oil stain",
    "hissing_at_meter": "hissing at a metering device",
}
OBSERVATIONS = {**SIGHTS, "out_of_reach": "can't reach"}
QUANTITIES = {
    "temperature": "temperature",
    "wet_bulb": "wet bulb",
    "relative_humidity": "humidity",
    "pressure": "pressure",
    "flow": "flow",
    "fluid_factor": "fluid factor",
    "current": "amps",
    "voltage": "volts",
    "resistance": "ohms",
    "power": "power",
    "state": "on or off",
}
DOUBTS = {
    "low_side_at_high_port": "suction read at the wrong port",
    "liquid_above_condensing": "liquid above condensing",
    "discharge_below_condensing": "discharge below condensing",
    "evaporator_above_its_air": "evaporator above its air",
    "condenser_below_its_air": "condenser below its air",
    "swapped_stations": "two readings swapped",
    "infrared_on_bare_pipe": "infrared on bare pipe",
    "unsettled": "not settled",
    "impossible_in_mode": "not on this unit",
    "wet_bulb_above_dry_bulb": "wet bulb above dry bulb",
    "unit_mistaken": "wrong unit",
    "below_vacuum": "below a vacuum",
    "hotter_than_any_pipe": "hotter than any pipe",
    "pressure_as_temperature": "pressures typed as temperatures",
    "clamp_off": "clamp fallen off",
}
CORNERS = {
    "evaporator_out": "leaves the evaporator",
    "compressor_in": "enters the compressor",
    "compressor_out": "leaves the compressor",
    "condenser_out": "leaves the condenser",
    "meter_in": "enters the metering device",
    "meter_out": "leaves the metering device",
}
SOURCES = {"gauge": "by gauge", "bend": "by the coil's bend", "usual": "as this unit should show it"}
SHOULD = {"present": "24 V", "absent": "0 V", "either": "either"}
LAYOUTS = {"split": "split", "ductless": "ductless", "packaged": "packaged"}
BYPASSES = {
    "internal_check": "check valve inside",
    "external_check": "check valve beside it",
    "sliding_piston": "piston slides open",
    "none": "none",
}
DEFROSTS = {
    "time_temperature": "time and temperature",
    "demand": "on demand",
    "off_cycle": "off cycle",
    "none": "none",
}
MARKS = {
    **SIGHTS,
    "defrost_forced": "defrost forced",
    "steam_seen": "steam seen",
    "back_in_heating": "back in heating",
}
SPELLS = {
    "heating": "heating",
    "cooling": "cooling",
    "defrost": "defrost",
    "off": "off",
    "unknown": "not known",
}
STARTED_BY = {"timer": "timer", "demand": "demand", "forced": "forced", "unknown": "not known"}
ENDED_BY = {
    "temperature": "temperature",
    "time_limit": "time limit",
    "other": "neither temperature nor limit",
    "not_seen": "not seen to end",
}
SWITCHED = {
    "compressor": "compressor",
    "reversing_valve": "reversing valve",
    "outdoor_fan": "outdoor fan",
    "backup_heat": "backup heat",
}
SETTINGS = {
    "interval": "interval",
    "least_interval": "least interval",
    "start_below": "start below",
    "stop_above": "stop above",
    "limit": "time limit",
}
STAGES = {"low": "low stage", "high": "high stage"}
CERTAINTIES = {
    "seen": "seen: opened, taken out or measured by itself",
    "cured": "the repair cured it",
    "guessed": "a guess",
}
REPAIRS = {
    "cured": "it runs as it should",
    "better": "better, not right yet",
    "unchanged": "changed nothing",
    "none": "none was made",
}
COMPRESSORS = {"single": "single speed", "two_stage": "two-stage", "inverter": "inverter"}
PHOTOS = {
    "nameplate": "nameplate",
    "frost": "frost or ice",
    "coil": "coil",
    "valve": "reversing valve",
    "wiring": "wiring or board",
    "oil": "oil or damage",
    "meter": "metering device",
    "readings": "gauges or readings",
    "other": "photo",
}

PROBE_STATES = {
    "waiting": "not two minutes yet",
    "drifting": "drifting",
    "settled": "settled",
    "lost": "lost",
}
PROBE_TROUBLES = {
    "none": "well",
    "fell_off": "fell off its pipe",
    "silent": "silent",
    "battery_low": "battery low",
    "out_of_range": "out of range",
    "wrong_pipe": "on the wrong pipe",
}
WAYS = {
    "simulated": "simulated probes",
    "bluetooth": "Bluetooth at the server",
    "relayed": "Bluetooth of this browser",
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
    "observation": OBSERVATIONS,
    "sight": SIGHTS,
    "quantity": QUANTITIES,
    "doubt": DOUBTS,
    "corner": CORNERS,
    "source": SOURCES,
    "should": SHOULD,
    "layout": LAYOUTS,
    "bypass": BYPASSES,
    "defrost": DEFROSTS,
    "compressor": COMPRESSORS,
    "stage": STAGES,
    "certainty": CERTAINTIES,
    "repair": REPAIRS,
    "photo": PHOTOS,
    "mark": MARKS,
    "spell": SPELLS,
    "started_by": STARTED_BY,
    "ended_by": ENDED_BY,
    "switched": SWITCHED,
    "defrost_setting": SETTINGS,
    "probe_state": PROBE_STATES,
    "probe_trouble": PROBE_TROUBLES,
    "way": WAYS,
}
"""Every vocabulary, by the name of the field it belongs to."""

"""Every kind of unit, its whole path written out by hand from the trade's rules (the-trade.md 2).

Each stop is `STATION:ss`: side (H high, L low) and state (V vapor, M mixture, L liquid). Defrost is cooling.
"""

SHORT = {
    "DL": "discharge_line",
    "VI": "valve_to_indoor",
    "VO": "valve_to_outdoor",
    "CS": "common_suction",
    "CI": "compressor_inlet",
    "OC": "outdoor_coil",
    "IC": "indoor_coil",
    "OMC": "outdoor_meter_coil_side",
    "OML": "outdoor_meter_line_side",
    "IMC": "indoor_meter_coil_side",
    "IML": "indoor_meter_line_side",
    "DO": "drier_outdoor_side",
    "DI": "drier_indoor_side",
    "LL": "liquid_line_outdoor",
    "VLO": "vapor_line_outdoor",
    "VLI": "vapor_line_indoor",
}
STATES = {"V": "superheated_vapor", "M": "mixture", "L": "subcooled_liquid"}
ROLES = {"H": "high", "L": "low"}

TXV = {"kind": "txv", "bypass": "internal_check"}
TWO_WAY_TXV = {"kind": "txv", "bypass": "none"}
PISTON = {"kind": "piston", "bypass": "sliding_piston"}
EEV = {"kind": "eev", "bypass": "none"}
CHECKED_CAPILLARY = {"kind": "capillary", "bypass": "external_check"}
CAPILLARY = {"kind": "capillary", "bypass": "none"}
NONE = {"kind": "none", "bypass": "none"}
NO_DRIER = {"kind": "none"}


def kind(layout, indoor, outdoor, drier=NO_DRIER, source="air", load="air"):
    return {
        "layout": layout,
        "indoor_meter": indoor,
        "outdoor_meter": outdoor,
        "drier": drier,
        "source": source,
        "load": load,
    }


# unit, then for cooling and heating: path, (active, bypassed)
TWO_METERS_COOLING = (
    "DL:HV VO:HV OC:HM OMC:HL OML:HL LL:HL IML:HL IMC:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV"
)
TWO_METERS_HEATING = (
    "DL:HV VI:HV VLO:HV VLI:HV IC:HM IMC:HL IML:HL LL:HL OML:HL OMC:LM OC:LM VO:LV CS:LV CI:LV"
)
TRUTH = {
    "split, two thermostatic valves, drier outdoors": (
        kind("split", TXV, TXV, {"kind": "bi_flow", "place": "outdoor_unit"}),
        "DL:HV VO:HV OC:HM OMC:HL OML:HL DO:HL DI:HL"
        " LL:HL IML:HL IMC:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV",
        ("indoor", "outdoor"),
        "DL:HV VI:HV VLO:HV VLI:HV IC:HM IMC:HL IML:HL"
        " LL:HL DI:HL DO:HL OML:HL OMC:LM OC:LM VO:LV CS:LV CI:LV",
        ("outdoor", "indoor"),
    ),
    "split, drier in the line set": (
        kind("split", TXV, PISTON, {"kind": "bi_flow", "place": "line_set"}),
        "DL:HV VO:HV OC:HM OMC:HL OML:HL"
        " LL:HL DO:HL DI:HL IML:HL IMC:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV",
        ("indoor", "outdoor"),
        "DL:HV VI:HV VLO:HV VLI:HV IC:HM IMC:HL IML:HL DI:HL DO:HL"
        " LL:HL OML:HL OMC:LM OC:LM VO:LV CS:LV CI:LV",
        ("outdoor", "indoor"),
    ),
    "split, two pistons": (
        kind("split", PISTON, PISTON),
        TWO_METERS_COOLING,
        ("indoor", "outdoor"),
        TWO_METERS_HEATING,
        ("outdoor", "indoor"),
    ),
    "split, two electric valves, the idle one driven open": (
        kind("split", EEV, EEV),
        TWO_METERS_COOLING,
        ("indoor", "outdoor"),
        TWO_METERS_HEATING,
        ("outdoor", "indoor"),
    ),
    "ductless, one electric valve outdoors: a cold mixture in the small line in cooling": (
        kind("ductless", NONE, EEV),
        "DL:HV VO:HV OC:HM OMC:HL OML:LM LL:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV",
        ("outdoor", None),
        "DL:HV VI:HV VLO:HV VLI:HV IC:HM LL:HL OML:HL OMC:LM OC:LM VO:LV CS:LV CI:LV",
        ("outdoor", None),
    ),
    "packaged, one two-way thermostatic valve": (
        kind("packaged", NONE, TWO_WAY_TXV),
        "DL:HV VO:HV OC:HM OMC:HL OML:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV",
        ("outdoor", None),
        "DL:HV VI:HV VLO:HV VLI:HV IC:HM OML:HL OMC:LM OC:LM VO:LV CS:LV CI:LV",
        ("outdoor", None),
    ),
    "packaged, one two-way capillary at the indoor coil": (
        kind("packaged", CAPILLARY, NONE),
        "DL:HV VO:HV OC:HM IML:HL IMC:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV",
        ("indoor", None),
        "DL:HV VI:HV VLO:HV VLI:HV IC:HM IMC:HL IML:LM OC:LM VO:LV CS:LV CI:LV",
        ("indoor", None),
    ),
    "packaged, capillaries with checks": (
        kind("packaged", CHECKED_CAPILLARY, CHECKED_CAPILLARY),
        TWO_METERS_COOLING,
        ("indoor", "outdoor"),
        TWO_METERS_HEATING,
        ("outdoor", "indoor"),
    ),
    "packaged, one capillary always in the line, a second with a check": (
        kind("packaged", CAPILLARY, CHECKED_CAPILLARY),
        TWO_METERS_COOLING,
        ("indoor", "outdoor"),
        TWO_METERS_HEATING,
        ("outdoor", None),
    ),
    "water to air, one two-way thermostatic valve": (
        kind("packaged", TWO_WAY_TXV, NONE, source="water"),
        "DL:HV VO:HV OC:HM IML:HL IMC:LM IC:LM VLI:LV VLO:LV VI:LV CS:LV CI:LV",
        ("indoor", None),
        "DL:HV VI:HV VLO:HV VLI:HV IC:HM IMC:HL IML:LM OC:LM VO:LV CS:LV CI:LV",
        ("indoor", None),
    ),
}

# Several heads: what all of them share before and after, and between them one branch for each, `N` being its number.
HEADS = {
    "cooling": (
        "DL:HV VO:HV OC:HM",
        "OMC:HL OML:LM LL:LM IC:LM VLI:LV VLO:LV",
        "VI:LV CS:LV CI:LV",
    ),
    "heating": (
        "DL:HV VI:HV",
        "VLO:HV VLI:HV IC:HM LL:HL OML:HL OMC:LM",
        "OC:LM VO:LV CS:LV CI:LV",
    ),
}


def path_of(layout: str, mode: str) -> list[str]:
    """The stations of a layout in flow order."""
    entry = TRUTH[layout]
    return [SHORT[stop.split(":")[0]] for stop in entry[1 if mode == "cooling" else 3].split()]

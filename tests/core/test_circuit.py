"""The whole path of every kind of unit, written out by hand from the trade's rules (the-trade.md 2).

Each stop is `STATION:ss`: side (H high, L low) and state (V vapor, M mixture, L liquid). Defrost is cooling.
"""

import json

import pytest

from builders import valve_run, visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine

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


def runs_of(unit, *modes):
    document = visit_document(*(valve_run(mode, None, None, None, None) for mode in modes))
    document["unit"].update(unit)
    return examine(parse_visit(json.dumps(document))).runs


@pytest.mark.parametrize("name", TRUTH)
def test_the_whole_path_in_each_mode(name):
    unit, cooling, cooling_meters, heating, heating_meters = TRUTH[name]
    expected = {
        "cooling": (cooling, cooling_meters, "indoor_coil"),
        "defrost": (cooling, cooling_meters, "indoor_coil"),
        "heating": (heating, heating_meters, "outdoor_coil"),
    }
    for run in runs_of(unit, *expected):
        path, meters, evaporator = expected[run.commanded_mode]
        by_hand = []
        for stop in path.split():
            code, marks = stop.split(":")
            by_hand.append((SHORT[code], ROLES[marks[0]], STATES[marks[1]]))
        assert [(stop.station, stop.role, stop.state) for stop in run.path] == by_hand
        assert (run.meters.active, run.meters.bypassed) == meters
        assert run.coils.evaporator == evaporator


def test_the_part_after_each_station_is_the_one_the_refrigerant_enters_next():
    runs = runs_of(TRUTH["split, two thermostatic valves, drier outdoors"][0], "cooling", "heating")
    cooling, heating = ({stop.station: stop.through for stop in run.path} for run in runs)
    assert cooling["indoor_meter_line_side"] == "indoor_meter"
    assert heating["indoor_meter_line_side"] == "pipe"
    assert heating["indoor_meter_coil_side"] == "indoor_meter"
    assert heating["drier_indoor_side"] == "drier"
    assert heating["valve_to_outdoor"] == "reversing_valve"
    assert cooling["discharge_line"] == "reversing_valve"
    assert cooling["common_suction"] == heating["common_suction"] == "accumulator"


def test_only_the_common_suction_port_is_low_side_in_heating():
    sides = {
        run.commanded_mode: {tap.tap: tap.role for tap in run.taps}
        for run in runs_of(TRUTH["split, two pistons"][0], "cooling", "heating")
    }
    assert [tap for tap, role in sides["heating"].items() if role == "low"] == ["common_suction_tap"]
    assert {tap for tap, role in sides["cooling"].items() if role == "low"} == {
        "common_suction_tap",
        "vapor_service_tap",
    }
    ductless = runs_of(
        TRUTH["ductless, one electric valve outdoors: a cold mixture in the small line in cooling"][0],
        "cooling",
    )[0]
    assert {tap.tap: tap.role for tap in ductless.taps}["liquid_service_tap"] == "low"


@pytest.mark.parametrize(
    ("source", "load", "has", "lacks"),
    [
        ("air", "air", ["outdoor_air_in", "return_air", "coil_sensor"], ["source_water_in", "load_water"]),
        ("water", "air", ["source_water_in", "return_air"], ["outdoor_air_in", "outdoor_fan", "coil_sensor"]),
        ("water", "water", ["source_water", "load_water_in"], ["return_air", "supply_fan", "indoor_airflow"]),
    ],
)
def test_each_coil_has_air_or_water_and_never_both(source, load, has, lacks):
    (run,) = runs_of(kind("packaged", TXV, TXV, source=source, load=load), "heating")
    assert set(has) <= set(run.stations)
    assert not set(lacks) & set(run.stations)
    assert "drier_indoor_side" not in run.stations


def test_a_unit_that_is_off_has_no_path_but_can_be_read():
    (run,) = runs_of({}, "off")
    assert (run.path, run.meters, run.coils, run.taps, run.legs) == ([], None, None, [], [])
    assert "common_suction_tap" in run.stations


@pytest.mark.parametrize(
    ("unit", "codes"),
    [
        (kind("split", TXV, TXV, {"kind": "one_way", "place": "outdoor_unit"}), {"one_way_drier"}),
        (kind("split", TXV, TXV, {"kind": "bi_flow", "place": "outdoor_unit"}), set()),
        (
            {**kind("ductless", NONE, EEV, {"kind": "bi_flow", "place": "outdoor_unit"})},
            {"drier_without_liquid_line", "convention_unusual"},
        ),
        (
            {**kind("ductless", NONE, EEV), "reversing_valve": {"energized_in": "heating"}},
            set(),
        ),
        ({**kind("split", PISTON, TXV), "accumulator": False}, {"orifice_without_accumulator"}),
        (
            {**kind("packaged", TXV, TXV, source="water"), "defrost": {"method": "demand"}},
            {"defrost_on_water"},
        ),
    ],
)
def test_advice_on_a_unit(unit, codes):
    document = visit_document()
    document["unit"].update(unit)
    advice = examine(parse_visit(json.dumps(document))).advice
    assert {a.code for a in advice if a.severity != "missing"} == codes
    assert "missing_capacity" in {a.code for a in advice}
    assert all(a.reason for a in advice)

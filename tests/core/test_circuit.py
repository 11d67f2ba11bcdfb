"""The path of a split unit, written out by hand from the trade's rules (trade.md, section 2)."""

import json

import pytest

from builders import valve_run, visit_document
from icepick.core.examine import examine
from icepick.core.visit import parse_visit

HIGH, LOW = "high", "low"
VAPOR, MIX, LIQUID = "superheated_vapor", "mixture", "subcooled_liquid"

COOLING = [
    ("discharge_line", HIGH, VAPOR),
    ("valve_to_outdoor", HIGH, VAPOR),
    ("outdoor_coil", HIGH, MIX),
    ("outdoor_meter_coil_side", HIGH, LIQUID),
    ("outdoor_meter_line_side", HIGH, LIQUID),
    ("drier_outdoor_side", HIGH, LIQUID),
    ("drier_indoor_side", HIGH, LIQUID),
    ("liquid_line_outdoor", HIGH, LIQUID),
    ("indoor_meter_line_side", HIGH, LIQUID),
    ("indoor_meter_coil_side", LOW, MIX),
    ("indoor_coil", LOW, MIX),
    ("vapor_line_indoor", LOW, VAPOR),
    ("vapor_line_outdoor", LOW, VAPOR),
    ("valve_to_indoor", LOW, VAPOR),
    ("common_suction", LOW, VAPOR),
    ("compressor_inlet", LOW, VAPOR),
]
HEATING = [
    ("discharge_line", HIGH, VAPOR),
    ("valve_to_indoor", HIGH, VAPOR),
    ("vapor_line_outdoor", HIGH, VAPOR),
    ("vapor_line_indoor", HIGH, VAPOR),
    ("indoor_coil", HIGH, MIX),
    ("indoor_meter_coil_side", HIGH, LIQUID),
    ("indoor_meter_line_side", HIGH, LIQUID),
    ("liquid_line_outdoor", HIGH, LIQUID),
    ("drier_indoor_side", HIGH, LIQUID),
    ("drier_outdoor_side", HIGH, LIQUID),
    ("outdoor_meter_line_side", HIGH, LIQUID),
    ("outdoor_meter_coil_side", LOW, MIX),
    ("outdoor_coil", LOW, MIX),
    ("valve_to_outdoor", LOW, VAPOR),
    ("common_suction", LOW, VAPOR),
    ("compressor_inlet", LOW, VAPOR),
]


@pytest.mark.parametrize(
    ("mode", "path", "active", "bypassed"),
    [
        ("cooling", COOLING, "indoor", "outdoor"),
        ("defrost", COOLING, "indoor", "outdoor"),
        ("heating", HEATING, "outdoor", "indoor"),
    ],
)
def test_the_whole_path_in_each_mode(mode, path, active, bypassed):
    run = examine(parse_visit(json.dumps(visit_document(valve_run(mode, None, None, None, None))))).runs[0]
    assert [(stop.station, stop.role, stop.state) for stop in run.path] == path
    assert run.meters is not None
    assert (run.meters.active, run.meters.bypassed) == (active, bypassed)


def test_the_part_after_each_station_is_the_one_the_refrigerant_enters_next():
    through = {
        mode: {stop.station: stop.through for stop in run.path}
        for mode, run in zip(
            ("cooling", "heating"),
            examine(
                parse_visit(
                    json.dumps(visit_document(*(valve_run(m, *[None] * 4) for m in ("cooling", "heating"))))
                )
            ).runs,
            strict=True,
        )
    }
    assert through["cooling"]["indoor_meter_line_side"] == "indoor_meter"
    assert through["heating"]["indoor_meter_line_side"] == "pipe"
    assert through["heating"]["indoor_meter_coil_side"] == "indoor_meter"
    assert through["heating"]["drier_indoor_side"] == "drier"
    assert through["heating"]["valve_to_outdoor"] == "reversing_valve"
    assert through["cooling"]["discharge_line"] == "reversing_valve"
    assert {t["common_suction"] for t in through.values()} == {"accumulator"}


def test_a_drier_in_the_line_set_lies_beyond_the_service_valve():
    document = visit_document(valve_run("cooling", None, None, None, None))
    document["unit"]["drier"]["place"] = "line_set"
    stations = [stop.station for stop in examine(parse_visit(json.dumps(document))).runs[0].path]
    at = stations.index("liquid_line_outdoor")
    assert stations[at + 1 : at + 4] == ["drier_outdoor_side", "drier_indoor_side", "indoor_meter_line_side"]


def test_a_unit_that_is_off_has_no_path():
    run = examine(parse_visit(json.dumps(visit_document(valve_run("off", 70, 70, 70, 70))))).runs[0]
    assert (run.path, run.meters, run.checks) == ([], None, [])

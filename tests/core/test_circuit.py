"""The circuit of every kind of unit in every mode, against the paths written out by hand in tests/layouts.py."""

import json
from itertools import pairwise

import pytest

from builders import SPLIT_UNIT, valve_run, visit_document
from icepick.core.circuit.graph import build_circuit
from icepick.core.document.visit import Unit, parse_visit
from icepick.core.examine import examine
from layouts import EEV, HEADS, NONE, PISTON, ROLES, SHORT, STATES, TRUTH, TXV, kind


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


def with_heads(count):
    labels = [{"label": f"room {n}"} for n in range(1, count + 1)]
    return Unit.model_validate({**SPLIT_UNIT, **kind("ductless", NONE, EEV), "heads": labels})


def by_hand(stops, number=None):
    found = []
    for stop in stops.split():
        code, marks = stop.split(":")
        station = SHORT[code] if number is None else f"{SHORT[code]}:{number}"
        found.append((station, ROLES[marks[0]], STATES[marks[1]], number))
    return found


@pytest.mark.parametrize("mode", ["cooling", "heating"])
@pytest.mark.parametrize("heads", [2, 5, 8])
def test_heads_lie_in_parallel_branches(heads, mode):
    circuit = build_circuit(with_heads(heads), mode)
    before, branch, after = HEADS[mode]
    numbers = range(1, heads + 1)
    told = [(stop.station, stop.role, stop.state, stop.branch) for stop in circuit.path]
    assert told == [
        *by_hand(before),
        *(one for n in numbers for one in by_hand(branch, n)),
        *by_hand(after),
    ]
    steps = {(here.station, there.station) for here, there in circuit.legs}
    first, last = by_hand(before)[-1][0], by_hand(after)[0][0]
    for n in numbers:
        own = [station for station, *_ in by_hand(branch, n)]
        assert {*pairwise([first, *own, last])} <= steps
    assert len(steps) == len(circuit.legs) == len(circuit.path) - 1 + heads - 1
    assert (circuit.active_meter, circuit.bypassed_meter) == ("outdoor", None)


def test_each_branch_answers_for_itself():
    """What a technician expects of head 2: its valve, its pipes, and whatever all heads share."""
    cooling, heating = (build_circuit(with_heads(3), mode).branch(2) for mode in ("cooling", "heating"))
    assert cooling.ends("outdoor_meter") == ("outdoor_meter_coil_side:2", "outdoor_meter_line_side:2")
    assert heating.ends("outdoor_meter") == ("outdoor_meter_line_side:2", "outdoor_meter_coil_side:2")
    assert cooling.liquid == ("outdoor_meter_coil_side:2",)
    assert heating.liquid == ("liquid_line_outdoor:2", "outdoor_meter_line_side:2")
    assert cooling.boiling == ("outdoor_meter_line_side:2", "liquid_line_outdoor:2")
    assert cooling.leaving_evaporator == ("vapor_line_indoor:2", "vapor_line_outdoor:2", "valve_to_indoor")
    assert heating.hot_gas[:2] == ("discharge_line", "valve_to_indoor")
    assert cooling.long_runs == (("vapor_line_indoor:2", "vapor_line_outdoor:2"),)
    # The big line's port is on what leads to all heads: hot in heating.
    assert cooling.taps_on("low") == ("common_suction_tap", "vapor_service_tap")
    assert heating.taps_on("high") == ("discharge_tap", "vapor_service_tap")
    assert heating.is_on("common_suction_tap", "low")
    with pytest.raises(KeyError):
        build_circuit(with_heads(3), "cooling").branch(4)


def test_a_unit_in_one_line_is_its_own_only_branch():
    circuit = build_circuit(Unit.model_validate(SPLIT_UNIT), "cooling")
    assert circuit.branches == ()
    assert circuit.branch(1) is circuit


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

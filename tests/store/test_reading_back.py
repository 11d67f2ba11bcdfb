"""Records that an older Icepick kept and this one would refuse: read without what is wrong, and that is named."""

import copy
import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from builders import SPLIT_UNIT, reading, valve_run, visit_document
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.visit import Site, Unit, Visit
from icepick.demo import demo_visits
from icepick.store.reading_back import read_back as read_text


def read_back(model, plain):
    return read_text(model, json.dumps(plain))


def quantity(value, unit):
    return {"value": value, "unit": unit}


FULL = {
    **SPLIT_UNIT,
    "nominal_capacity": quantity(36_000, "Btu/h"),
    "line_set_length": quantity(30, "ft"),
    "compressor": {"kind": "single", "rated_current": quantity(15, "A")},
    "defrost": {"method": "demand", "start_below": quantity(30, "degF"), "stop_above": quantity(50, "degF")},
    "design": {
        "indoor_airflow": quantity(1200, "cfm"),
        "supply_fan_power": quantity(400, "W"),
        "heat_of_extraction": quantity(24_000, "Btu/h"),
        "cooling": {"subcooling": quantity(10, "delta_degF"), "superheat": None},
        "water_flow_table": [
            {"drop": quantity(d, "psi"), "flow": quantity(f, "gpm")} for d, f in ((1, 4), (2, 6), (4, 9))
        ],
        "sensor_table": [
            {"temperature": quantity(t, "degF"), "resistance": quantity(r, "kohm")}
            for t, r in ((32, 32.7), (77, 10))
        ],
    },
}


def without(plain, *path):
    """The document with what lies at a path gone."""
    plain = copy.deepcopy(plain)
    *way, last = path
    held = plain
    for step in way:
        held = held[step]
    held[last] = None
    return plain


def spoilt(plain, path, value):
    plain = copy.deepcopy(plain)
    held = plain
    for step in path[:-1]:
        held = held[step]
    held[path[-1]] = value
    return plain


def test_what_can_be_read_is_read_as_it_is():
    for _, visit in demo_visits():
        found = read_back(Visit, visit.model_dump(mode="json"))
        assert (found.document, found.set_aside) == (visit, ())


@pytest.mark.parametrize(
    ("path", "value", "gone"),
    [
        (("nominal_capacity", "value"), 0, ("nominal_capacity",)),
        (("nominal_capacity", "unit"), "horse", ("nominal_capacity",)),
        (("compressor", "rated_current", "value"), 1e-300, ("compressor", "rated_current")),
        (("design", "supply_fan_power", "value"), -1, ("design", "supply_fan_power")),
        (("design", "cooling", "subcooling", "value"), -80, ("design", "cooling", "subcooling")),
        (("design", "water_flow_table", 1, "flow", "value"), 3, ("design", "water_flow_table")),
        (("design", "water_flow_table", 2, "drop", "value"), -3, ("design", "water_flow_table")),
        (("design", "sensor_table", 1, "resistance", "value"), 99, ("design", "sensor_table")),
        (("defrost", "stop_above", "value"), 20, ("defrost", "stop_above")),
        (("line_set_length",), "thirty", ("line_set_length",)),
    ],
)
def test_what_is_wrong_is_left_out_alone_and_named(path, value, gone):
    found = read_back(Unit, spoilt(FULL, path, value))
    assert found.document == read_back(Unit, without(FULL, *gone)).document
    assert found.set_aside
    assert all(problem.message.endswith(".") for problem in found.set_aside)


def test_wrong_readings_are_left_out_and_the_others_keep_their_order():
    run = valve_run("cooling", 170, 48, 168, 51)
    run["readings"] = [
        reading("discharge_line", 9000),
        reading("valve_to_indoor", 48),
        reading("nowhere", 50),
        reading("common_suction", 51),
        reading("discharge_line", 170, unit="psi"),
    ]
    run["observations"] = [{"code": "gone_from_the_list"}, {"code": "oil_stain"}]
    found = read_back(Visit, visit_document(run))
    (kept,) = found.document.runs
    assert [taken.station for taken in kept.readings] == ["valve_to_indoor", "common_suction"]
    assert [seen.code for seen in kept.observations] == ["oil_stain"]
    assert {problem.pointer.rsplit("/", 1)[0] for problem in found.set_aside} == {
        "/runs/0/readings/0",
        "/runs/0/readings/2",
        "/runs/0/readings/4",
        "/runs/0/observations/0",
    }


@pytest.mark.parametrize("name", ["label", "layout", "refrigerant", "indoor_meter", "reversing_valve"])
def test_what_cannot_be_missing_cannot_be_set_aside(name):
    with pytest.raises(InvalidDocumentError):
        read_back(Unit, {**FULL, name: 7})
    with pytest.raises(InvalidDocumentError):
        read_back(Site, {"name": ""})


ANYTHING = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=5), inner, max_size=3),
    max_leaves=5,
)


@settings(max_examples=200, deadline=None, derandomize=True, database=None)
@given(st.sampled_from([name for name in FULL if name not in SPLIT_UNIT]), ANYTHING)
def test_whatever_stands_in_a_field_that_may_be_missing_the_unit_is_read(name, value):
    found = read_back(Unit, {**FULL, name: value})
    assert found.document.label == FULL["label"]
    assert found.document.indoor_meter.kind == "txv"

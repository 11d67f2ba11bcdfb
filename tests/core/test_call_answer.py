"""What a sound circuit answers to the call. The machines keep other laws than the product's own (tests/sick.py); what the
expert says of such calls is common practice."""

import copy
import json

import pytest

from builders import visit_document, volts
from cases import SPLIT, examined
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from layouts import TRUTH
from sick import machine_run

BY_CLAMPS = (
    "discharge_line", "vapor_line_outdoor", "liquid_line_outdoor", "outdoor_air_in", "return_air", "supply_air",
    "liquid_service_tap", "common_suction_tap", "vapor_service_tap",
)  # fmt: skip


def called(mode, outdoor, indoor, complaint, *seen, fault="none", amount=0.0, more=(), **unit):
    """A call with the readings of a week's work: no pipe at the valve but the discharge line."""
    run = copy.deepcopy(machine_run(SPLIT, mode, outdoor, indoor, fault, amount))
    run["readings"] = [r for r in run["readings"] if r["station"] in BY_CLAMPS] + list(more)
    run["observations"] = [{"code": code} for code in seen]
    document = visit_document(run, complaint=complaint)
    document["unit"] = {**document["unit"], **TRUTH[SPLIT][0], **unit}
    return examine(parse_visit(json.dumps(document)))


W_LIVE = {"station": "terminal_w", "quantity": "voltage", "value": 26, "unit": "V", "method": "meter"}
AFTER = {
    "station": "supply_air_after_heat",
    "quantity": "temperature",
    "value": 118,
    "unit": "degF",
    "method": "probe",
}
TOO_MUCH_AIR = {
    "station": "indoor_airflow",
    "quantity": "flow",
    "value": 1600,
    "unit": "cfm",
    "method": "meter",
}
DESIGN = {"design": {"indoor_airflow": {"value": 1200, "unit": "cfm"}}}

CALLS = [
    ("heating", 38, 70, "high_bills", ("backup_heat_on",), (W_LIVE, AFTER), {}, "find out what calls it"),
    ("heating", 14, 66.5, "weak", ("backup_heat_off",), (), {}, "backup heat is off, find out why"),
    ("heating", 40, 61, "no_heat", ("backup_heat_off",), (), {}, "takes hours to bring it up"),
    ("cooling", 92, 86, "no_cooling", (), (), {}, "return leak"),
    ("cooling", 101, 78, "weak", (), (), {}, "at or over what units are sized for"),
    (
        "heating",
        36,
        70,
        "iced_outdoor_coil",
        ("backup_heat_off", "outdoor_coil_frosted_even"),
        (),
        {},
        "Thin even frost",
    ),
    ("cooling", 85, 76, "high_bills", (), (TOO_MUCH_AIR,), DESIGN, "airflow is high"),
]


@pytest.mark.parametrize(("mode", "outdoor", "indoor", "complaint", "seen", "more", "unit", "answer"), CALLS)
def test_what_was_found_normal_is_said_first_and_then_the_answer(
    mode, outdoor, indoor, complaint, seen, more, unit, answer
):
    found = called(mode, outdoor, indoor, complaint, *seen, more=more, **unit)
    assert found.ranking[0].fault == "none"
    assert found.headline.startswith(
        ("Normal as far as read", "Nothing fails so far", "The refrigerant circuit is sound")
    )
    assert answer in found.verdict
    assert "still needs" not in found.verdict


@pytest.mark.parametrize(
    ("mode", "outdoor", "indoor", "complaint", "seen", "more", "unit", "answer"), CALLS[:5]
)
def test_a_circuit_that_is_not_sound_is_not_excused_by_weather_or_house(
    mode, outdoor, indoor, complaint, seen, more, unit, answer
):
    found = called(
        mode, outdoor, indoor, complaint, *seen, more=more, fault="undercharge", amount=45.0, **unit
    )
    assert found.ranking[0].fault != "none"
    assert answer not in found.verdict


def test_a_visit_without_complaint_is_not_told_of_the_house():
    found = called("heating", 40, 61, "routine", "backup_heat_off")
    assert "bring it up" not in found.verdict


def test_the_seat_that_was_not_read_is_named():
    without = called("cooling", 92, 76, "routine")
    assert without.headline == "Normal as far as read in cooling; valve seat not read"
    whole = examined(SPLIT, copy.deepcopy(machine_run(SPLIT, "cooling", 92, 76)))
    assert whole.headline == "The refrigerant circuit is sound as far as read in cooling"


def test_a_valve_that_shifted_is_not_called_a_sound_circuit():
    run = copy.deepcopy(machine_run(SPLIT, "cooling", 92, 76))
    pipes = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
    run["readings"] = [r for r in run["readings"] if r["station"] in pipes and r["quantity"] == "temperature"]
    found = examined(SPLIT, run)
    assert found.headline == "Reversing valve shifted. Not checked yet: charge, metering, airflow"


def by_volts(**terminals):
    """A heating call of which nothing but the thermostat's terminals is read."""
    run = {
        "id": "run",
        "mode": "heating",
        "readings": [volts(f"terminal_{name}", value) for name, value in terminals.items()],
    }
    return examine(parse_visit(json.dumps(visit_document(run, complaint="high_bills"))))


def test_emergency_heat_is_named_as_what_holds_the_compressor_off():
    """W lives of R: with W live the supply is there, read or not. [common practice]"""
    for terminals in ({"r": 26, "y": 0, "w": 26}, {"y": 0, "w": 26}):
        found = by_volts(**terminals)
        assert found.headline == "No call for the compressor at Y"
        assert "emergency heat" in found.verdict
        assert found.ranking[0].fault == "call_missing"
    assert "emergency heat" not in by_volts(r=26, y=0, w=0).verdict


def test_airflow_measured_far_too_low_is_a_finding_by_itself():
    """Some 400 cfm a ton are usual, 350 the least for most. [common practice]"""
    unit = {"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}
    low, right = (
        called("cooling", 92, 76, "weak", more=[{**TOO_MUCH_AIR, "value": cfm}], **unit)
        for cfm in (640, 1150)
    )
    assert low.ranking[0].fault == "indoor_airflow_low"
    assert low.outcome == "fail"
    assert right.ranking[0].fault == "none"
    assert right.verdict.endswith("What that leaves: the thermostat.")


def test_a_compressor_at_0_amps_has_nothing_to_settle():
    still = {"station": "compressor", "quantity": "current", "value": 0, "unit": "A", "method": "meter"}
    run = {"id": "run", "mode": "cooling", "minutes_running": 2, "readings": [still]}
    assert examine(parse_visit(json.dumps(visit_document(run)))).headline == "The compressor does not run"


def test_what_the_first_fault_does_not_explain_is_said():
    """A dirty filter alone leaves the liquid as subcooled as it was; 12 °F more of it is something else. [the-trade.md 5]"""
    run = copy.deepcopy(machine_run(SPLIT, "cooling", 88, 76, "indoor_airflow_low", 45))
    for colder, told in ((0, False), (12, True)):
        made = copy.deepcopy(run)
        made["readings"] = [r for r in made["readings"] if r["station"] in BY_CLAMPS]
        for one in made["readings"]:
            one["value"] -= colder if one["station"] == "liquid_line_outdoor" else 0
        document = visit_document(made, complaint="weak")
        document["unit"] = {**document["unit"], **TRUTH[SPLIT][0]}
        found = examine(parse_visit(json.dumps(document)))
        assert found.ranking[0].fault == "indoor_airflow_low"
        assert bool(found.ranking[0].not_explained) == told
        assert ("Not explained by it: subcooling" in found.verdict) == told

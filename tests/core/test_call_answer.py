"""What a sound circuit answers to the call. The machines keep other laws than the product's own (tests/sick.py); what the
expert says of such calls is common practice."""

import copy
import json

import pytest

from builders import visit_document
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

"""What is asked next: a plan in which every reading is weighed as if those before it were taken, and when to stop. The
machines keep other laws than the product's own (tests/sick.py)."""

import copy
import re
from math import log2

import pytest

from builders import as_visit, reading, valve_run
from cases import SPLIT, examined
from icepick.core.document.stations import Group, station
from icepick.core.examine import examine
from sick import machine_run, sick_run

BY_CLAMPS = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction", "outdoor_air_in")


def read(mode, fault, *kept, amount=None):
    run = copy.deepcopy(sick_run(SPLIT, mode, fault, amount))
    if kept:
        run["readings"] = [
            r
            for r in run["readings"]
            if r["station"] in kept and r["quantity"] in ("temperature", "pressure")
        ]
    return run


def bits(examination):
    """How much is left open: the entropy of the ranking, in halvings."""
    return -sum(r.probability * log2(r.probability) for r in examination.ranking if r.probability > 0)


def test_it_stops_once_nothing_is_worth_its_minutes_and_not_before():
    done = examined(SPLIT, read("cooling", "overcharge"))
    (only,) = done.next_readings
    assert only.stop
    assert only.station == ""
    assert only.why == "What is left to read would hardly change the answer."
    begun = examined(SPLIT, read("cooling", "overcharge", *BY_CLAMPS))
    assert begun.next_readings
    assert not any(one.stop for one in begun.next_readings)


def test_the_first_port_costs_its_hook_up_and_the_next_only_itself():
    asked = examined(
        SPLIT, read("cooling", "noncondensables", *BY_CLAMPS, "supply_air", amount=20)
    ).next_readings
    taps = [one.minutes for one in asked if one.station and station(one.station).group is Group.TAP]
    assert taps == sorted(taps, reverse=True)
    assert taps[0] == 8
    assert set(taps[1:]) <= {2}


LIQUID_IN_COOLING = {
    "outdoor_meter_coil_side", "outdoor_meter_line_side", "drier_outdoor_side", "drier_indoor_side",
    "liquid_line_outdoor", "indoor_meter_line_side",
}  # fmt: skip


def test_no_two_readings_of_a_plan_say_the_same():
    """Six places on the liquid line tell overcharge from low airflow in cooling; after one another adds little."""
    asked = examined(SPLIT, read("cooling", "outdoor_airflow_low", *BY_CLAMPS, "supply_air")).next_readings
    by_clamp = [one.station for one in asked if one.station and one.quantity == "temperature"]
    assert len([one for one in by_clamp[:3] if one in LIQUID_IN_COOLING]) == 1


@pytest.mark.parametrize("fault", ["overcharge", "outdoor_airflow_low", "undercharge", "compressor_weak"])
def test_what_is_asked_first_tells_more_than_what_is_not_asked(fault):
    """Taken in truth, the first of the plan leaves less open than the last three in walking order that are not in it."""
    whole = read("cooling", fault)
    begun = read("cooling", fault, *BY_CLAMPS, "supply_air", "return_air")
    plan = [one for one in examined(SPLIT, begun).next_readings if one.station and not one.switch_mode]
    wanted = {(one.station, one.quantity) for one in plan}
    taken = {(r["station"], r["quantity"]) for r in begun["readings"]}
    others = [r for r in whole["readings"] if (r["station"], r["quantity"]) not in wanted | taken]

    def after(reading):
        return bits(examined(SPLIT, {**begun, "readings": [*begun["readings"], reading]}))

    first = next(
        r for r in whole["readings"] if (r["station"], r["quantity"]) == (plan[0].station, plan[0].quantity)
    )
    assert after(first) <= min(after(other) for other in others[-3:]) + 0.1


def test_the_why_says_what_each_answer_would_mean():
    asked = examined(SPLIT, read("cooling", "outdoor_airflow_low", *BY_CLAMPS, "supply_air")).next_readings
    told = [one for one in asked if one.why.startswith("Under ")]
    assert told
    for one in told:
        limit, below, above = (float(n) for n in re.findall(r"(-?[\d.]+) (?:°F|psig|A)", one.why))
        assert below < limit < above
        assert len(set(one.separates)) == 2


def test_a_fault_is_told_apart_from_a_machine_and_not_from_a_title():
    found = examine(as_visit(valve_run("heating", 150, 147, 31, 38))).ranking
    assert [one.fault for one in found[:2]] == ["valve_bypassing", "none"]
    assert found[0].apart.startswith(
        "What separates it from a sound unit: in heating, suction rise in the valve"
    )


PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")


def asked_of(mode, complaint, *readings, **more):
    run = {"id": mode, "mode": mode, "minutes_running": 20, "readings": list(readings), **more}
    return examine(as_visit(run, complaint=complaint)).next_readings


@pytest.mark.parametrize("mode", ["cooling", "heating"])
def test_air_and_weather_come_before_any_pipe(mode):
    asked = [one.station for one in asked_of(mode, "weak")]
    assert set(asked[:3]) == {"outdoor_air_in", "return_air", "supply_air"}
    assert not set(asked[:3]) & set(PIPES)


def test_the_valve_comes_first_where_the_complaint_is_that_it_runs_the_wrong_way():
    assert [one.station for one in asked_of("heating", "blows_cold_in_heating")][:4] == list(PIPES)


def test_the_valve_comes_first_once_air_and_vapor_line_do_not_say_which_way_it_runs():
    still = [("outdoor_air_in", 45), ("return_air", 70), ("supply_air", 71)]
    taken = [reading(code, value, method="probe") for code, value in still]
    assert asked_of("heating", "no_heat", *taken)[0].station == "vapor_line_outdoor"
    taken.append(reading("vapor_line_outdoor", 72))
    assert [one.station for one in asked_of("heating", "no_heat", *taken)][:4] == list(PIPES)


@pytest.mark.parametrize(
    ("mode", "fault"), [("cooling", "noncondensables"), ("heating", "liquid_line_restriction")]
)
def test_what_nobody_can_get_at_is_never_asked_for_again_and_something_else_is(mode, fault):
    run = read(mode, fault, "supply_air", "return_air", "outdoor_air_in", "vapor_line_outdoor", amount=25)
    run["observations"] = []
    refused, gauges = set(), False
    while True:
        asked = examined(SPLIT, run).next_readings
        wanted = [one for one in asked if one.run and one.observe is None and not one.stop]
        assert not [one for one in asked if (one.station, one.quantity) in refused]
        gauges |= any(station(one.station).group is Group.TAP for one in wanted)
        if not wanted:
            break
        spot = (wanted[0].station, wanted[0].quantity)
        refused.add(spot)
        run["observations"].append({"code": "out_of_reach", "value": "/".join(spot)})
    assert len(refused) > 5
    assert gauges


def test_a_coil_that_was_seen_clear_is_not_asked_about_its_ice():
    run = read("heating", "indoor_airflow_low", *BY_CLAMPS)
    run["observations"] = [{"code": "outdoor_coil_clear"}]
    looks = {one.observe for one in examined(SPLIT, run).next_readings}
    assert not looks & {"outdoor_coil_iced_solid", "outdoor_coil_frosted_patchy", "outdoor_coil_frosted_even"}


@pytest.mark.parametrize(
    ("mode", "outdoor", "other"),
    [("heating", 10, "cooling"), ("heating", 50, "cooling"), ("cooling", 95, "heating")],
)
@pytest.mark.parametrize("fault", ["undercharge", "active_meter_underfeeding", "none"])
def test_nobody_is_sent_to_the_other_mode_outside_its_weather(mode, outdoor, other, fault):
    run = copy.deepcopy(machine_run(SPLIT, mode, outdoor, 70 if mode == "heating" else 76, fault, 45.0))
    begun = [r for r in run["readings"] if r["station"] in (*BY_CLAMPS, "supply_air", "return_air")]
    for kept in (begun, run["readings"]):
        asked = examined(SPLIT, {**run, "readings": kept}).next_readings
        assert not [one for one in asked if one.switch_mode and one.mode == other]


def test_the_end_of_the_list_says_until_when_the_other_mode_waits():
    run = copy.deepcopy(machine_run(SPLIT, "heating", 10, 70, "liquid_line_restriction", 250.0))
    asked = examined(SPLIT, run).next_readings
    ended = [one for one in asked if one.stop]
    assert all(
        "Leave the run in cooling until it is 55 °F or warmer outdoors" in one.why
        for one in ended
        if "tells the rest" in one.why
    )


def test_a_unit_that_had_to_be_stopped_is_looked_at_first_and_read_later():
    run = read(
        "cooling", "outdoor_airflow_low", "discharge_line", "outdoor_air_in", "liquid_service_tap", amount=50
    )
    for one in run["readings"]:
        if one["quantity"] == "pressure":
            one["value"], one["unit"] = 665.0, "psi"
    found = examined(SPLIT, run)
    assert found.headline.startswith("Stop the unit")
    running = [one for one in found.next_readings if one.observe is None and not one.stop]
    assert running
    assert all(
        one.why.startswith("Once it may run again: ") for one in running if one.quantity != "resistance"
    )

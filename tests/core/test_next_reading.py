"""What is asked next: a plan in which every reading is weighed as if those before it were taken, and when to stop. The
machines keep other laws than the product's own (tests/sick.py)."""

import copy
import re
from math import log2

import pytest

from builders import as_visit, valve_run
from cases import SPLIT, examined
from icepick.core.document.stations import Group, station
from icepick.core.examine import examine
from sick import sick_run

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
    assert only.why == "Nothing left to read is worth its minutes."
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

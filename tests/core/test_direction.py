"""Which way the circuit runs, by what was read: the valve's four pipes, else the vapor line. [the-trade.md 2, 3]"""

import json

import pytest

from builders import reading, valve_run, visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine


def apparent(run):
    return examine(parse_visit(json.dumps(visit_document(run)))).runs[0].apparent_mode


def by_vapor_line(room, *ends, **more):
    names = ("vapor_line_outdoor", "vapor_line_indoor")
    readings = [reading(name, end, **more) for name, end in zip(names, ends, strict=False)]
    if room is not None:
        readings.append(reading("return_air", room, method="probe"))
    return {"id": "a", "mode": "heating", "minutes_running": 20, "readings": readings}


@pytest.mark.parametrize(
    ("room", "ends", "mode"),
    [
        # Hot gas inwards in heating, cold suction gas outwards in cooling.
        (70, (140, 135), "heating"),
        (70, (140,), "heating"),
        (76, (52, 50), "cooling"),
        (76, (52,), "cooling"),
        # Near the room's own temperature the pipe tells nothing, on either side of it.
        (70, (72, 71), "unknown"),
        (70, (66,), "unknown"),
        (70, (74,), "unknown"),
        (70, (85,), "unknown"),
        # Nor do two ends that contradict one another.
        (70, (140, 52), "unknown"),
        # An unread room is taken as an ordinary one, with less certainty.
        (None, (140,), "heating"),
        (None, (50,), "cooling"),
        (None, (63,), "unknown"),
        # A cold room must not turn a cool pipe into suction gas.
        (50, (52,), "unknown"),
    ],
)
def test_the_vapor_line_tells_while_the_valve_is_unread(room, ends, mode):
    assert apparent(by_vapor_line(room, *ends)) == mode


@pytest.mark.parametrize(
    ("outdoors", "line", "mode"),
    # With nothing running, the line takes on the air around its outdoor end, in winter and in summer.
    [(36, 36.6, "unknown"), (36, 26, "cooling"), (102, 101, "unknown"), (102, 150, "heating")],
)
def test_a_line_as_warm_as_the_air_around_it_tells_nothing(outdoors, line, mode):
    run = by_vapor_line(70, line)
    run["readings"].append(reading("outdoor_air_in", outdoors, method="probe"))
    assert apparent(run) == mode


def test_a_band_that_reaches_over_the_limit_tells_nothing():
    """A pipe felt by hand is worth 5 °F either way: what a clamp may say, it may not."""
    assert apparent(by_vapor_line(76, 65)) == "cooling"
    assert apparent(by_vapor_line(76, 65, method="estimate")) == "unknown"


@pytest.mark.parametrize(
    ("pipes", "mode"),
    [
        ((170, 50, 168, 52), "cooling"),
        ((170, 168, 50, 52), "heating"),
        # A slide in the middle: both ends lukewarm between hot and cold.
        ((150, 100, 104, 75), "neither"),
        # All alike: nothing flows.
        ((76, 75, 76, 75), "neither"),
        # A pipe missing: no word on the position.
        ((170, None, 168, 52), "unknown"),
    ],
)
def test_the_four_pipes_tell(pipes, mode):
    assert apparent(valve_run("cooling", *pipes)) == mode


def test_the_four_pipes_have_the_last_word_over_the_vapor_line():
    run = valve_run("heating", 170, 50, 168, 52)
    run["readings"] += [reading("vapor_line_outdoor", 140), reading("return_air", 70, method="probe")]
    assert apparent(run) == "cooling"


OFF, ON = {"code": "backup_heat_off"}, {"code": "backup_heat_on"}


@pytest.mark.parametrize(
    ("mode", "pairs", "seen", "says"),
    [
        # A coil that warms the room's air condenses; behind it a heater may have warmed it as well.
        ("heating", {"return_air": 70, "supply_air": 95}, [OFF], "heating"),
        ("heating", {"return_air": 70, "supply_air": 95}, [], "unknown"),
        ("heating", {"return_air": 70, "supply_air": 95}, [ON], "unknown"),
        ("heating", {"return_air": 70, "supply_air": 95, "supply_air_after_heat": 115}, [ON], "heating"),
        ("cooling", {"return_air": 76, "supply_air": 57}, [], "cooling"),
        # Too little to tell.
        ("cooling", {"return_air": 76, "supply_air": 71}, [], "unknown"),
        # The other way round it may be two probes exchanged, or a defrost: nothing is called, and pipes are asked for.
        ("heating", {"return_air": 76, "supply_air": 57}, [OFF], "unknown"),
        ("cooling", {"return_air": 70, "supply_air": 95}, [], "in question"),
        # By the bends of either coil.
        ("heating", {"outdoor_air_in": 40, "outdoor_coil": 25}, [], "heating"),
        ("cooling", {"outdoor_air_in": 90, "outdoor_coil": 110}, [], "cooling"),
        ("heating", {"return_air": 70, "indoor_coil": 100}, [ON], "heating"),
    ],
)
def test_air_and_coil_bends_bear_out_what_was_called_for(mode, pairs, seen, says):
    readings = [reading(code, value, method="probe") for code, value in pairs.items()]
    run = {"id": "a", "mode": mode, "minutes_running": 20, "readings": readings, "observations": seen}
    found = examine(parse_visit(json.dumps(visit_document(run)))).runs[0]
    assert found.apparent_mode == ("unknown" if says == "in question" else says)
    position = next(check for check in found.checks if check.code == "valve.position")
    assert position.status == {"unknown": "needs_readings", "in question": "watch"}.get(says, "pass")


def test_a_vapor_line_the_other_way_fails_the_valve():
    found = examine(parse_visit(json.dumps(visit_document({**by_vapor_line(76, 52, 50), "mode": "heating"}))))
    position = next(check for check in found.runs[0].checks if check.code == "valve.position")
    assert (position.status, found.outcome) == ("fail", "fail")
    assert found.headline == "Calling for heating, running in cooling"


def by_air(mode, outdoor, back, supply, *seen):
    """A call of which nothing is read but air."""
    temperatures = {"outdoor_air_in": outdoor, "return_air": back, "supply_air": supply}
    readings = [reading(name, value, method="probe") for name, value in temperatures.items()]
    run = {"id": "a", "mode": mode, "minutes_running": 20, "readings": readings}
    run["observations"] = [{"code": code} for code in seen]
    return examine(parse_visit(json.dumps(visit_document(run, complaint="weak"))))


def test_air_the_other_way_round_puts_the_direction_in_question():
    """Air that a cooling call warms by 33 °F is no bad thermometer before it is a valve; one pipe tells. [physics]"""
    found = by_air("cooling", 60, 70, 103)
    assert found.headline == "It may run in heating though cooling is called"
    assert "vapor_line" in found.next_readings[0].station
    assert found.ranking[0].fault in {
        "valve_in_opposite_position",
        "valve_convention_wrong",
        "command_missing",
    }
    cold = by_air("heating", 60, 70, 52)
    assert cold.headline == "It may run in cooling though heating is called"
    # A heater that was seen on, or a defrost at 35 °F, does the same to the air of a unit that runs as called.
    for other in (by_air("cooling", 60, 70, 103, "backup_heat_on"), by_air("heating", 35, 70, 52)):
        assert not other.headline.startswith("It may run in"), other.headline

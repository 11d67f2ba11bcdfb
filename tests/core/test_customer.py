"""What a customer is told of a visit: never more than the verdict says, and what became known before what was likely."""

import pytest

from demo_book import examined, visits
from icepick.core.customer import plainly
from icepick.core.document.outcome import Outcome
from icepick.core.document.visit import Observation
from icepick.core.examine import examine

VISITS = visits()


def told(name, outcome=None):
    return plainly(VISITS[name], examined(name), outcome)


@pytest.mark.parametrize(
    ("name", "found", "faults", "stands", "follows"),
    [
        ("library-summer", "sound", [], "works", "routine"),
        # High bills, and a sound machine.
        ("library-autumn", "elsewhere", [], "works", "elsewhere"),
        ("boat-shed", "open", [], "not_clear", "measure"),
        ("signal-box-clamps", "open", [], "not_clear", "measure"),
        ("lighthouse-kiosk", "watch", [], "watch", "watch"),
        ("swimming-hall-office", "likely", ["valve_bypassing"], "needs_repair", "fault"),
        ("ice-house-third", "may", ["source_coil_fouled"], "may_need", "confirm"),
        (
            "bakery-flat",
            "either",
            ["command_missing", "valve_in_opposite_position"],
            "unsure",
            "either",
        ),
        # Seen, so that no ranking is needed.
        ("school-call", "likely", ["call_missing"], "needs_repair", "fault"),
        ("school-power", "likely", ["control_power_missing"], "needs_repair", "fault"),
        ("school-capacitor", "likely", ["compressor_not_running"], "needs_repair", "fault"),
        ("lock-cottage-fan", "likely", ["defrost_fan_running"], "needs_repair", "fault"),
        ("weir-cottage", "likely", ["defrost_sensor_off"], "needs_repair", "fault"),
        ("boat-museum-air", "likely", ["noncondensables"], "needs_repair", "fault"),
        # The leaving water is about to freeze in the coil.
        ("hatchery-flow", "likely", ["source_water_flow_low"], "off", "off"),
    ],
)
def test_what_is_told_of_the_demo(name, found, faults, stands, follows):
    plain = told(name)
    assert (plain.found, plain.faults, plain.stands, plain.next) == (found, faults, stands, follows)


@pytest.mark.parametrize("name", VISITS)
def test_it_says_no_more_than_the_verdict(name):
    plain, found = told(name), examined(name)
    if plain.stands == "works" and plain.done == "measured":
        assert found.outcome == "pass"
    chance = {one.fault: one.probability for one in reversed(found.ranking)}
    for fault in plain.faults:
        shown = any(check.status == "fail" for run in found.runs for check in run.checks)
        recorded = any(check.status == "fail" for one in found.recordings for check in one.checks)
        assert chance.get(fault, 0) >= 0.3 or shown or recorded
    if "Read again" in found.verdict or "Not clear" in found.headline:
        assert plain.faults == []


CURED = Outcome(fault="valve_bypassing", certainty="seen", repair="cured")
SAME = ["valve_bypassing"]


@pytest.mark.parametrize(
    ("changed", "found", "faults", "done", "stands", "follows"),
    [
        ({}, "known", SAME, "cured", "works", "nothing"),
        ({"repair": "better"}, "known", SAME, "better", "better", "come_again"),
        ({"repair": "unchanged"}, "known", SAME, "unchanged", "needs_repair", "come_again"),
        ({"repair": "none"}, "known", SAME, "measured", "needs_repair", "fault"),
        ({"certainty": "guessed"}, "likely", SAME, "cured", "works", "nothing"),
        # Another than was said: what became known is told.
        ({"fault": "compressor_weak"}, "known", ["compressor_weak"], "cured", "works", "nothing"),
        ({"fault": "none", "repair": "none"}, "elsewhere", [], "measured", "works", "elsewhere"),
        ({"fault": None, "certainty": None}, "likely", SAME, "cured", "works", "nothing"),
    ],
)
def test_what_became_known_goes_before_what_was_likely(changed, found, faults, done, stands, follows):
    plain = told("swimming-hall-office", CURED.model_copy(update=changed))
    assert (plain.found, plain.faults, plain.done) == (found, faults, done)
    assert (plain.stands, plain.next) == (stands, follows)


FLOODING, SOUND = 0, 2


def after_repair(run):
    """The toll house with its runs before the repair, and one of them as the run after it."""
    visit = VISITS["toll-house-flooding"]
    left = visit.runs[run].model_copy(update={"id": "left", "after_repair": True})
    return visit.model_copy(update={"runs": [*visit.runs[:2], left]})


@pytest.mark.parametrize(
    ("left", "repair", "done", "stands"),
    [
        (SOUND, None, "cured", "works"),
        (SOUND, "cured", "cured", "works"),
        # Whoever says it is cured, and measures that it is not.
        (FLOODING, "cured", "still_wrong", "needs_repair"),
        (FLOODING, None, "still_wrong", "needs_repair"),
        (FLOODING, "better", "better", "better"),
    ],
)
def test_what_was_measured_after_the_repair_counts(left, repair, done, stands):
    visit = after_repair(left)
    outcome = Outcome(fault=None, certainty=None, repair=repair) if repair else None
    plain = plainly(visit, examine(visit), outcome)
    assert (plain.done, plain.stands) == (done, stands)
    assert plain.faults == ["active_meter_overfeeding"]


@pytest.mark.parametrize("repair", [None, "cured", "better"])
def test_a_danger_that_is_still_there_after_the_repair_keeps_it_off(repair):
    visit = VISITS["hatchery-flow"]
    left = visit.runs[-1].model_copy(update={"id": "left", "after_repair": True})
    again = visit.model_copy(update={"runs": [*visit.runs, left]})
    outcome = Outcome(fault=None, certainty=None, repair=repair) if repair else None
    plain = plainly(again, examine(again), outcome)
    assert (plain.stands, plain.next) == ("off", "off")


def test_readings_to_take_again_name_no_fault_whatever_else_is_said():
    found = examined("hatchery-flow").model_copy(update={"concluded": ["reading_suspect"]})
    plain = plainly(VISITS["hatchery-flow"], found, None)
    assert (plain.found, plain.faults, plain.stands) == ("open", [], "off")


def test_a_fan_that_stands_still_is_called_that():
    visit = VISITS["rowing-club-coil"]
    stopped = Observation(code="outdoor_fan_stopped", value=True)
    runs = [run.model_copy(update={"observations": [stopped]}) for run in visit.runs]
    seen = visit.model_copy(update={"runs": runs})
    found = examine(seen)
    assert "The outdoor fan does not run" in found.headline
    assert plainly(seen, found, None).faults == ["outdoor_fan_stopped"]


def test_a_danger_that_a_repair_took_away_is_none_any_more():
    assert told("hatchery-flow").stands == "off"
    cured = Outcome(fault="source_water_flow_low", certainty="seen", repair="cured")
    assert told("hatchery-flow", cured).stands == "works"
    unchanged = cured.model_copy(update={"repair": "unchanged"})
    assert told("hatchery-flow", unchanged).next == "off"

"""The valve's verdict through the front door. Patterns are common practice (the-trade.md 3)."""

import json
from itertools import product

import pytest

from builders import VALVE_PIPES, as_visit, reading, valve_run, visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.practice import Practice


def judged(*runs, **options):
    """Examination, its first run, and that run's checks by code."""
    examination = examine(as_visit(*runs), **options)
    first = examination.runs[0]
    return examination, first, {check.code: check for check in first.checks}


def statuses(checks):
    return {code: check.status for code, check in checks.items()}


def test_a_healthy_settled_cooling_run_passes():
    examination, run, checks = judged(valve_run("cooling", 170, 50, 168, 52))
    assert run.apparent_mode == "cooling"
    assert set(statuses(checks).values()) == {"pass"}
    assert examination.outcome == "pass"
    assert not {n.station for n in examination.next_readings if n.run} & set(VALVE_PIPES)
    assert examination.verdict == "Reversing valve shifted. Not checked yet: charge, metering, airflow."


def test_each_number_carries_its_band_limit_margin_and_origin():
    _, run, checks = judged(valve_run("cooling", 170, 50, 168, 52))
    rise = checks["valve.suction_rise"]
    # Two clamps of ±1 °F each, independent: √2.
    assert (rise.measured.value, rise.measured.uncertainty) == (2, pytest.approx(2**0.5, abs=1e-4))
    assert (rise.limit.value, rise.limit.unit, rise.margin) == (5, "delta_degF", 3)
    assert rise.uses == ["common_suction", "valve_to_indoor"]
    assert "common practice" in rise.basis
    # s = (168 − 50) / (170 − 52)
    index = run.indicators["valve_position_index"]
    assert index.value == pytest.approx(1)
    assert index.uses == sorted(VALVE_PIPES)


@pytest.mark.parametrize(
    ("common", "status"),
    [(52, "pass"), (53, "pass"), (54, "watch"), (55, "watch"), (56.4, "watch"), (57, "fail"), (59, "fail")],
)
def test_suction_rise_near_its_limit_is_watched(common, status):
    examination, _, checks = judged(valve_run("cooling", 170, 50, 168, common))
    assert checks["valve.suction_rise"].status == status
    assert checks["valve.discharge_drop"].status == "pass"
    # The share of flow is known less well than the rise, and is watched sooner.
    named = {"fail"} if examination.ranking[0].fault == "valve_bypassing" else set()
    assert examination.outcome in {status, checks["valve.bypass"].status, *named}


def test_a_bypassing_valve_is_named_and_not_condemned_yet():
    examination, _, _ = judged(valve_run("heating", 170, 168, 43, 54), valve_run("cooling", 134, 60, 131, 68))
    assert examination.headline == "Most likely reversing valve bypassing"
    assert examination.verdict == (
        "Most likely reversing valve bypassing. Cycle the reversing valve under full pressure difference and read its pipes "
        "again. Before the reversing valve is condemned, still to settle: the command is right; the coil is energized when "
        "it should be; 2 more."
    )


def test_heating_commanded_with_cooling_temperatures_runs_the_wrong_way_round():
    examination, run, checks = judged(valve_run("heating", 170, 50, 168, 52))
    assert run.apparent_mode == "cooling"
    assert checks["valve.position"].status == "fail"
    assert checks["valve.position"].limit.value == -0.5
    # The differences are taken where the gas really goes: the slide is seated, on the wrong side.
    assert checks["valve.suction_rise"].measured.value == 2
    assert examination.headline == "Calling for heating, running in cooling"
    assert (
        "Reversing valve in the opposite position or O/B setting wrong: what was read can't tell which"
        in examination.verdict
    )
    # What is shown is the circuit that runs, and what was called for beside it.
    assert (run.commanded_mode, run.running_mode) == ("heating", "cooling")
    assert (run.coils.condenser, run.coils.evaporator) == ("outdoor_coil", "indoor_coil")
    assert run.path[1].station == "valve_to_outdoor"
    assert run.meters.active == "indoor"


def test_defrost_is_expected_to_run_as_cooling():
    _, run, checks = judged(valve_run("defrost", 120, 40, 118, 42))
    assert (run.apparent_mode, checks["valve.position"].status) == ("cooling", "pass")
    stayed = judged(valve_run("defrost", 120, 118, 40, 42))[0]
    assert stayed.headline.endswith("still running in heating: the reversing valve did not shift")
    assert "run.settled" not in {c.code for c in run.checks if c.status != "pass"}


@pytest.mark.parametrize("pipes", [*list(product((99, 102), repeat=4))[::3], (100.0, 103.0, 100.0, 101.5)])
def test_four_pipes_within_three_degrees_run_neither_way(pipes):
    examination, run, checks = judged(valve_run("heating", *pipes))
    assert run.apparent_mode == "neither"
    assert checks["valve.position"].status == "fail"
    assert "pass" not in {checks["valve.suction_rise"].status, checks["valve.discharge_drop"].status}
    assert "nothing is pumped" in examination.verdict


def test_a_slide_stopped_midway_runs_neither_way():
    _, run, checks = judged(valve_run("cooling", 150, 95, 105, 90))
    assert run.apparent_mode == "neither"
    assert checks["valve.position"].status == "fail"


@pytest.mark.parametrize("unread", range(4))
def test_three_pipes_are_not_enough(unread):
    pipes = [170, 50, 168, 52]
    pipes[unread] = None
    examination, run, checks = judged(valve_run("cooling", *pipes))
    assert run.apparent_mode == "unknown"
    assert checks["valve.position"].status == "needs_readings"
    assert [next.station for next in examination.next_readings] == [VALVE_PIPES[unread]]
    assert examination.outcome == "needs_readings"


def test_what_is_missing_is_asked_for_in_walking_order_run_by_run():
    examination, _, _ = judged(
        valve_run("heating", None, None, 40, None), valve_run("cooling", 150, None, None, None)
    )
    asked = [(next.run, next.station) for next in examination.next_readings]
    assert asked == [
        ("heating", "discharge_line"),
        ("heating", "valve_to_indoor"),
        ("heating", "common_suction"),
        ("cooling", "return_air"),
        ("cooling", "supply_air"),
        ("cooling", "outdoor_air_in"),
    ]


def test_pipes_too_close_for_their_instruments_leave_the_mode_unknown():
    _, run, checks = judged(valve_run("cooling", 78, 72, 76, 73))
    assert run.apparent_mode == "unknown"
    assert checks["valve.position"].status == "watch"


def test_a_discharge_colder_than_suction_is_doubted_not_believed():
    examination, run, checks = judged(valve_run("cooling", 52, 50, 168, 170))
    assert run.apparent_mode == "unknown"
    assert checks["valve.position"].status == "needs_readings"
    assert "Physics contradicts" in checks["valve.position"].explain
    assert examination.headline.startswith("Read again")


@pytest.mark.parametrize("pipes", [(None, None, 60, 40), (None, 168, None, 50), (170, 50, None, None)])
def test_one_pair_of_pipes_alone_never_fails_the_valve(pipes):
    """A unit running the other way shows such pairs too; only all four pipes can tell."""
    for mode in ("heating", "cooling"):
        _, _, checks = judged(valve_run(mode, *pipes))
        assert "fail" not in {checks["valve.suction_rise"].status, checks["valve.discharge_drop"].status}


def test_readings_before_the_run_settled_prove_nothing_either_way():
    for common in (52, 62):
        examination, _, checks = judged(valve_run("cooling", 170, 50, 168, common, minutes=4))
        assert set(statuses(checks).values()) == {"watch"}
        assert examination.headline == "Not settled when read"
        assert examination.ranking == []
        # What was read too early is asked for again.
        assert {n.station for n in examination.next_readings} == set(VALVE_PIPES)


def test_each_reading_is_held_to_its_own_time():
    run = valve_run("cooling", 170, 50, 168, 52)
    run["minutes_running"] = None
    run["started_at"] = "2026-03-04T09:00:00+00:00"
    for minute, taken in zip((3, 12, 13, 14), run["readings"], strict=True):
        taken["at"] = f"2026-03-04T10:{minute:02}:00+01:00"
    examination, first, checks = judged(run)
    assert {r.station: r.early for r in first.readings} == {
        code: code == "discharge_line" for code in VALVE_PIPES
    }
    assert checks["valve.suction_rise"].status == "pass"
    assert checks["valve.discharge_drop"].status == "watch"
    # Taking it again is enough: the last reading of a station is the one in force.
    run["readings"].append(reading("discharge_line", 170, at="2026-03-04T09:15:00+00:00"))
    examination, first, checks = judged(run)
    assert examination.outcome == "pass"
    assert next(r.earlier for r in first.readings if r.station == "discharge_line") == 1


def test_a_run_of_unknown_length_is_watched_but_its_valve_is_judged():
    _, _, checks = judged(valve_run("cooling", 170, 50, 168, 60, minutes=None))
    assert checks["run.settled"].status == "watch"
    assert checks["valve.suction_rise"].status == "fail"


def test_infrared_on_bare_pipe_never_decides():
    for common in (52, 90):
        _examination, _, checks = judged(valve_run("cooling", 170, 50, 168, common, method="infrared"))
        assert set(statuses(checks).values()) - {"pass", "watch", "needs_readings"} == set()
        assert "pass" not in {s for code, s in statuses(checks).items() if code != "run.settled"}
        assert "infrared" in checks["valve.suction_rise"].explain
    assert judged(valve_run("cooling", 100, 101, 99, 100, method="infrared"))[1].apparent_mode == "unknown"


@pytest.mark.parametrize(
    "pipes", [(170, 50, 168, 52), (170, 50, 168, 60), (150, 95, 105, 90), (168, 170, 52, 50)]
)
def test_the_two_modes_mirror_each_other(pipes):
    """Swap the end ports and the command: every status must stay as it was, but for the share, which takes off what each
    mode's own gas gives to the body."""
    discharge, indoor, outdoor, common = pipes
    one = judged(valve_run("cooling", discharge, indoor, outdoor, common))
    other = judged(valve_run("heating", discharge, outdoor, indoor, common))
    alike, too = ({**statuses(found[2]), "valve.bypass": ""} for found in (one, other))
    assert alike == too
    mirror = {"cooling": "heating", "heating": "cooling", "neither": "neither", "unknown": "unknown"}
    assert other[1].apparent_mode == mirror[one[1].apparent_mode]


def test_units_change_the_words_and_never_the_judgement():
    field = judged(valve_run("cooling", 170, 50, 168, 59))
    metric = judged(valve_run("cooling", 170, 50, 168, 59), units="metric")
    assert statuses(field[2]) == statuses(metric[2])
    rise = metric[2]["valve.suction_rise"]
    assert (rise.measured.value, rise.measured.unit) == (5, "delta_degC")
    assert "5 °C" in metric[2]["valve.suction_rise"].explain
    in_celsius = [
        {**r, "value": (r["value"] - 32) / 1.8, "unit": "degC"}
        for r in valve_run("cooling", 170, 50, 168, 59)["readings"]
    ]
    typed = judged({**valve_run("cooling", 170, 50, 168, 59), "readings": in_celsius})
    assert typed[2]["valve.suction_rise"].measured.value == pytest.approx(9)


def test_a_shop_that_changes_a_limit_gets_its_own_verdict_and_sees_the_change():
    examination, _, checks = judged(
        valve_run("cooling", 170, 50, 168, 54), practice=Practice({"valve_suction_rise": 2})
    )
    assert checks["valve.suction_rise"].status == "fail"
    assert checks["valve.suction_rise"].limit.value == 2
    assert examination.changed_limits["valve_suction_rise"].value == 2
    with pytest.raises(KeyError, match="no practice limit 'luck'"):
        Practice({"luck": 7})


def test_gauge_pressure_is_shown_as_read_whatever_the_elevation():
    document = visit_document(
        {
            "id": "a",
            "mode": "cooling",
            "readings": [{"station": "discharge_tap", "quantity": "pressure", "value": 400, "unit": "psi"}],
        },
        site={"name": "Hill", "elevation": {"value": 5000, "unit": "ft"}},
    )
    shown = examine(parse_visit(json.dumps(document))).runs[0].readings[0]
    # A gauge is good to 1 psi or 1 %, the larger. [common practice]
    assert (shown.value, shown.unit, shown.uncertainty) == (400, "psi", pytest.approx(4))


def test_no_run_yet():
    examination = examine(as_visit())
    assert examination.outcome == "needs_readings"
    assert "start one in heating or cooling" in examination.verdict

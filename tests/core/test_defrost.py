"""Defrosts in recordings that nothing of Icepick made (tests/recorded.py), and by hand: when they start and end, what is
said of them, which fault comes first."""

import json
import random
from dataclasses import replace
from functools import cache
from pathlib import Path

import pytest

from builders import SPLIT_UNIT, visit_document
from icepick.core.defrost.checks import RECORDED
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from recorded import ALL, PIPES, THIN, Scene, play, recording

BOARD = (*THIN, ("outdoor_fan", "state", "1"), ("backup_heat", "state", "1"))
SETTINGS = {
    "interval": (60, "min"),
    "start_below": (30, "degF"),
    "stop_above": (50, "degF"),
    "limit": (10, "min"),
}
DOCS = Path(__file__).parents[2] / "docs"
played = cache(play)


def unit(scene=None, *, noted=True, **more):
    made = {**SPLIT_UNIT, "nominal_capacity": {"value": 36_000, "unit": "Btu/h"}, **more}
    if scene is not None:
        set_to = {**SETTINGS, "interval": (scene.interval, "min"), "start_below": (scene.start_below, "degF")}
        set_to |= {"stop_above": (scene.stop_above, "degF"), "limit": (scene.limit, "min")}
        known = {name: {"value": value, "unit": of} for name, (value, of) in set_to.items()} if noted else {}
        made["defrost"] = {"method": scene.method, **known}
        made["reversing_valve"] = {"energized_in": scene.energized_in}
    return {"unit": made}


def examined(document, **of):
    return examine(parse_visit(json.dumps({**visit_document(**of), "recordings": [document]})))


def seen(scene, series=ALL, *, noted=True, every=1, gaps=(), **more):
    document = recording(played(scene), series, every=every, gaps=gaps, **more)
    return examined(document, **unit(scene, noted=noted))


def statuses(examination):
    return {check.code: check.status for check in examination.recordings[0].checks}


def explained(examination, code):
    return next(check.explain for check in examination.recordings[0].checks if check.code == code)


def first(examination):
    """The faults that lead, those as likely as the first among them."""
    most = examination.ranking[0].probability
    return {one.fault for one in examination.ranking if most - one.probability <= 0.02 * most}


def edges(examination, truth):
    """How far off each start and end is [s]."""
    found = examination.recordings[0].defrosts
    assert len(found) == len(truth.starts)
    off = [abs(one.started - at) for one, at in zip(found, truth.starts, strict=True)]
    return off + [abs(one.ended - at) for one, at in zip(found, truth.ends, strict=False)]


HEALTHY = Scene()
WAYS = {
    "everything": (ALL, {}),
    "pipes and air": (PIPES, {}),
    "three series": (THIN, {}),
    "three, one a half minute": (THIN, {"every": 30}),
    "three and the board": (BOARD, {"every": 5}),
    "with gaps": (ALL, {"gaps": ((900, 1500), (3300, 3420), (5000, 5030))}),
}


@pytest.mark.one_in(2)
@pytest.mark.parametrize("way", WAYS)
def test_a_healthy_defrost_by_temperature_is_found_to_the_second_and_nothing_fails(way):
    series, more = WAYS[way]
    found = seen(HEALTHY, series, minutes_running=0, **more)
    assert max(edges(found, played(HEALTHY))) <= 20
    one, two = found.recordings[0].defrosts
    assert (one.started_by, one.ended_by, two.ended_by) == ("timer", "temperature", "temperature")
    assert one.run_before == pytest.approx(60, abs=0.5) == two.run_before
    assert (one.cleared, two.cleared, one.shifted) == (True, True, True)
    assert one.supply_air_lowest.value == pytest.approx(53, abs=3)
    assert "fail" not in statuses(found).values()
    assert first(found) == {"none"}
    assert "came clear in each of 2" in found.headline
    assert [spell.mode for spell in found.recordings[0].spells] == ["heating", "defrost"] * 2 + ["heating"]


def test_all_that_the_board_does_is_said_where_it_is_recorded():
    one = seen(HEALTHY).recordings[0].defrosts[0]
    assert (one.fan_stopped, one.backup_heat_on) == (True, True)
    assert one.shift_delay <= 10
    assert one.coil_at_start.value == pytest.approx(20, abs=2)
    assert 45 <= one.coil_highest.value <= 55
    # Ice melts at freezing: most of the time from start to end passes there. [physics]
    assert 31 <= one.plateau.temperature.value <= 41
    assert one.plateau.end - one.plateau.start > 0.5 * (one.ended - one.started)
    thin = seen(HEALTHY, THIN).recordings[0].defrosts[0]
    assert (thin.fan_stopped, thin.backup_heat_on, thin.shift_delay) == (None, None, None)


def test_what_began_before_the_recording_and_what_it_does_not_see_end_are_null():
    truth = played(HEALTHY)
    middle = (truth.starts[0] + truth.ends[0]) / 2
    cut = recording(truth, PIPES, gaps=((0, int(middle)), (int(truth.starts[1]) + 90, 10**6)))
    for series in cut["series"]:
        series["seconds"] = [at - int(middle) for at in series["seconds"]]
    cut["mode"] = "defrost"
    found = examined(cut, **unit(HEALTHY)).recordings[0]
    assert [(one.started is None, one.ended is None) for one in found.defrosts] == [
        (True, False),
        (False, True),
    ]
    assert found.defrosts[0].ended == pytest.approx(truth.ends[0] - int(middle), abs=20)
    assert (found.defrosts[0].run_before, found.defrosts[1].ended_by) == (None, "not_seen")
    # The next one counts from where the first ended.
    assert found.defrosts[1].run_before == pytest.approx(60, abs=0.5)


@pytest.mark.one_in(2)
@pytest.mark.parametrize(
    ("scene", "by", "cleared", "starts"),
    [
        (Scene(air=10, humidity=95, frost_at_start=2.6, limit=4, hours=1.5), "time_limit", False, "timer"),
        (Scene(hours=1, force_at=20), "temperature", True, "forced"),
        (Scene(pause=40), "temperature", True, "timer"),
        (Scene(cycles=((20, 29), (75, 90))), "temperature", True, "timer"),
        (Scene(energized_in="heating"), "temperature", True, "timer"),
        (Scene(air=17, humidity=55), "temperature", True, "timer"),
    ],
    ids=["by its limit", "forced", "the compressor rests", "thermostat", "B", "dry and cold"],
)
def test_a_sound_one_however_it_runs(scene, by, cleared, starts):
    marks = [{"seconds": scene.force_at * 60 - 3, "code": "defrost_forced"}] if scene.force_at else []
    found = seen(scene, marks=marks)
    one = found.recordings[0].defrosts[0]
    assert (one.ended_by, one.cleared, one.started_by) == (by, cleared, starts)
    truth = played(scene)
    assert abs(one.started - truth.starts[0]) <= 20
    assert abs(one.ended - truth.ends[0] - scene.pause) <= 20
    assert "fail" not in statuses(found).values()
    assert "none" in first(found)
    assert ("works" in found.headline, "time limit" in found.headline) == (
        by == "temperature",
        by == "time_limit",
    )


def test_a_board_that_starts_by_time_on_a_dry_coil_does_what_it_is_built_for():
    found = seen(Scene(air=17, humidity=55))
    assert found.recordings[0].defrosts[0].dry
    assert "starts all the same" in explained(found, "defrost.start")


def test_three_defrosts_for_nothing_speak_together():
    """Each by itself is what a timer does; together they say that the timer, or a demand board, is set for damper air."""
    dry = {"air": 17, "humidity": 55, "interval": 30}
    one, many = seen(Scene(**dry, hours=0.9)), seen(Scene(**dry, hours=2.6))
    assert (statuses(one).get("defrost.interval"), statuses(many)["defrost.interval"]) == (None, "watch")
    assert "found no frost to melt" in explained(many, "defrost.interval")
    assert first(many) == {"none"}
    demand = seen(Scene(**{**dry, "method": "demand"}, starts_every=30, hours=2.6))
    assert statuses(demand)["defrost.interval"] == "fail"
    assert "a demand board should have waited" in explained(demand, "defrost.interval")
    frosted = seen(Scene(air=33, humidity=92, interval=30, hours=2.6))
    assert statuses(frosted)["defrost.interval"] == "pass"


def test_five_minutes_prove_nothing():
    for scene in (Scene(hours=0.1), Scene(hours=0.1, never_starts=True)):
        short = seen(scene)
        assert statuses(short)["defrost.start"] == "needs_readings"
        assert "prove nothing" in explained(short, "defrost.start")
    assert statuses(seen(Scene(air=20, humidity=45, never_starts=True)))["defrost.start"] != "needs_readings"


def test_a_coil_long_past_its_stop_is_said_once_the_defrost_is_over_too():
    """A sensor far too cold holds the defrost on to its limit while the clamp beside it is long past the stop."""
    late = seen(Scene(sensor_error=-60, hours=2.2))
    assert statuses(late)["defrost.stop"] == "fail"
    assert "before the defrost ended" in explained(late, "defrost.stop")
    assert statuses(seen(HEALTHY))["defrost.stop"] == "pass"


def test_dry_cold_without_a_defrost_is_no_fault():
    found = seen(Scene(air=20, humidity=45, never_starts=True, hours=4))
    assert found.recordings[0].defrosts == []
    assert "fail" not in statuses(found).values()
    assert first(found) == {"none"}


S = Scene
FAULTS = {
    "never starts": (S(humidity=95, never_starts=True, hours=3), {"defrost_not_starting"}),
    "never stops": (S(never_stops=True, hours=1.5), {"defrost_not_stopping"}),
    "the fan runs on": (S(fan_runs=True, air=18, humidity=92), {"defrost_fan_running"}),
    "no heat, heater": (S(no_heat="heater"), {"defrost_no_backup_heat"}),
    "no heat, board": (S(no_heat="board"), {"defrost_no_backup_heat"}),
    "sensor reads warm": (S(sensor_error=14, hours=3), {"defrost_sensor_off"}),
    "sensor reads cold": (S(sensor_error=-15), {"defrost_sensor_off"}),
    "too often": (S(starts_every=20), {"defrost_too_often"}),
    "valve stuck, O": (S(no_shift="valve"), {"valve_in_opposite_position", "solenoid_open"}),
    "valve stuck, B": (S(no_shift="valve", energized_in="heating"), {"valve_in_opposite_position"}),
    "no voltage, O": (S(no_shift="voltage"), {"command_missing"}),
    "voltage stays, B": (S(no_shift="voltage", energized_in="heating"), {"command_missing"}),
    "stays over": (S(stays_over=True), {"valve_in_opposite_position"}),
    "fan dead": (S(fan_dead=True, hours=2), {"outdoor_airflow_low"}),
}


@pytest.mark.one_in(3)
@pytest.mark.parametrize("fault", FAULTS)
def test_the_right_fault_comes_first_tied_with_what_can_not_be_told(fault):
    scene, right = FAULTS[fault]
    found = seen(scene, minutes_running=0)
    assert first(found) == right
    assert "fail" in statuses(found).values()
    assert found.outcome == "fail"


def test_with_nothing_of_the_board_recorded_all_that_keeps_a_defrost_away_stays_tied():
    tied = {
        "defrost_not_starting",
        "defrost_sensor_off",
        "valve_in_opposite_position",
        "command_missing",
        "solenoid_open",
    }
    for scene in (FAULTS["never starts"][0], FAULTS["valve stuck, O"][0]):
        assert first(seen(scene, THIN, every=5)) == tied
    board = seen(FAULTS["never starts"][0], BOARD, every=5)
    assert first(board) == {"defrost_not_starting", "defrost_sensor_off"}
    asked = [(one.station, one.quantity) for one in board.next_readings]
    assert ("coil_sensor", "resistance") in asked


def test_a_call_that_nothing_follows_is_an_entry_and_says_where_to_look():
    found = seen(FAULTS["valve stuck, O"][0])
    assert [one.shifted for one in found.recordings[0].defrosts] == [False, False]
    assert max(edges_of_calls(found, played(FAULTS["valve stuck, O"][0]))) <= 20
    assert "the winding, then the valve" in explained(found, "defrost.shift")
    dead = seen(FAULTS["no voltage, O"][0])
    assert "follow the 24 V back" in explained(dead, "defrost.shift")
    assert {spell.mode for spell in dead.recordings[0].spells} == {"heating"}


def edges_of_calls(examination, truth):
    found = examination.recordings[0].defrosts
    assert len(found) == len(truth.calls)
    return [abs(one.started - at) for one, at in zip(found, truth.calls, strict=True)]


def test_the_sensors_error_is_said_in_degrees_with_what_it_does_to_this_board():
    found = explained(seen(FAULTS["sensor reads warm"][0]), "defrost.sensor")
    assert "°F too warm" in found
    assert "later in this weather" in found
    assert "frost may be left" in found
    for reading, word in ((10_000.0, "open"), (0.1, "shorted")):
        broken = recording(played(HEALTHY), ALL[:14])
        broken["series"].append(
            {
                "station": "coil_sensor",
                "quantity": "resistance",
                "unit": "kohm",
                "seconds": [0, 4000, 8000],
                "values": [reading] * 3,
            }
        )
        assert word in explained(examined(broken, **unit(HEALTHY)), "defrost.sensor")


@pytest.mark.parametrize("station", ["vapor_line_outdoor", "outdoor_coil"])
def test_a_clamp_that_has_fallen_off_is_doubted_outvoted_and_left_out(station):
    document = recording(played(HEALTHY), PIPES)
    off = next(one for one in document["series"] if one["station"] == station)
    fell = 3000
    off["values"] = [
        v if at < fell else HEALTHY.air for at, v in zip(off["seconds"], off["values"], strict=True)
    ]
    found = examined(document, **unit(HEALTHY))
    (shown,) = found.recordings
    assert [(doubt.code, doubt.stations) for doubt in shown.doubts] == [("clamp_off", [station])]
    assert not [check.code for check in shown.checks if station in check.uses]
    assert max(edges(found, played(HEALTHY))) <= 20
    assert first(found) == {"none"}


@pytest.mark.parametrize(("kohm", "status"), [(32.7, "pass"), (20.0, "fail")])
def test_the_ambient_sensor_is_held_against_the_outdoor_air(kohm, status):
    # 10 kΩ at 77 °F: 32.7 kΩ at 32 °F. [the common curve, from memory]
    cold = Scene(air=32)
    document = recording(played(cold), THIN)
    sensor = {"station": "ambient_sensor", "quantity": "resistance", "unit": "kohm"}
    document["series"].append({**sensor, "seconds": [0, 4000, 8000], "values": [kohm] * 3})
    found = examined(document, **unit(cold))
    assert statuses(found)["defrost.ambient_sensor"] == status
    assert (first(found) == {"none"}) == (status == "pass")


def test_heating_throughout_a_call_for_cooling_is_no_defrost_matter():
    found = examined({**recording(played(Scene(hours=0.8)), PIPES), "mode": "cooling"}, **unit(HEALTHY))
    assert statuses(found)["valve.position"] == "fail"
    assert "ran in heating for 48 min" in explained(found, "valve.position")


def test_what_a_technician_keyed_in_by_hand_is_enough():
    """Marks alone, no probe: forced, rush heard, fan off, heat on, clear, rush heard."""
    marks = [
        (60, "defrost_forced"),
        (63, "valve_shift_heard"),
        (65, "outdoor_fan_stopped"),
        (90, "backup_heat_on"),
        (330, "outdoor_coil_clear"),
        (420, "valve_shift_heard"),
        (422, "outdoor_fan_running"),
        (425, "backup_heat_off"),
    ]
    document = {"id": "hand", "mode": "heating", "started_at": "2026-01-15T09:00:00-05:00"}
    document["marks"] = [{"seconds": at, "code": code} for at, code in [*marks, (600, "outdoor_coil_clear")]]
    found = examined(document, **unit(HEALTHY))
    (one,) = found.recordings[0].defrosts
    assert one.started == pytest.approx(63, abs=5)
    assert one.ended == pytest.approx(420, abs=5)
    assert (one.started_by, one.fan_stopped, one.backup_heat_on, one.cleared) == ("forced", True, True, True)
    assert "fail" not in statuses(found).values()


def test_what_is_seen_or_read_besides_the_probes_decides():
    """A dead W, a heater seen off, a fan seen running, a winding read open: each by itself, over three series."""
    fan, cold = S(fan_runs=True, air=18, humidity=92), S(no_heat="board")
    seen_running = [{"seconds": 3650, "code": "outdoor_fan_running"}]
    assert first(seen(fan, THIN, every=5, marks=seen_running)) == {"defrost_fan_running"}
    seen_off = [{"seconds": 3700, "code": "backup_heat_off"}]
    assert first(seen(cold, THIN, every=5, marks=seen_off)) == {"defrost_no_backup_heat"}
    dead = seen(cold, (*THIN, ("terminal_w", "voltage", "V")), every=5)
    assert first(dead) == {"defrost_no_backup_heat"}
    assert statuses(dead)["defrost.backup_heat"] == "fail"
    document = recording(played(FAULTS["valve stuck, O"][0]), ALL, every=5)
    ohms = {
        "station": "solenoid",
        "quantity": "resistance",
        "unit": "ohm",
        "seconds": [0, 60],
        "values": [1e6, 1e6],
    }
    document["series"].append(ohms)
    assert first(examined(document, **unit(HEALTHY))) == {"solenoid_open"}


def test_a_start_that_nothing_asks_for_is_too_often():
    """On demand from a dry coil, and with the sensor above its start."""
    for scene in (
        S(method="demand", starts_every=40, air=20, humidity=40),
        S(starts_every=60, air=49, humidity=60),
    ):
        found = seen(scene)
        assert first(found) == {"defrost_too_often"}
        assert statuses(found)["defrost.start"] == "fail"


def test_a_mark_that_it_was_forced_and_nothing_happens():
    document = recording(played(Scene(hours=0.7, never_starts=True)), ALL)
    document["marks"] = [{"seconds": 1200, "code": "defrost_forced"}]
    found = examined(document, **unit(HEALTHY))
    assert [(one.shifted, one.started_by) for one in found.recordings[0].defrosts] == [(False, "forced")]
    assert "nothing was switched" in explained(found, "defrost.start")
    assert first(found) == {"defrost_not_starting"}


def test_off_cycle_defrost_is_a_rest_in_which_the_fan_blows():
    """Compressor off, fan on: frost melts by air above freezing. By hand, one sample a minute."""
    minutes = range(60)
    rest = range(30, 42)
    coil = [20 if m not in rest else 32 if m < 38 else 40 for m in minutes]
    rows = {
        ("outdoor_coil", "temperature", "degF"): coil,
        ("outdoor_air_in", "temperature", "degF"): [42.0] * 60,
        ("supply_air", "temperature", "degF"): [95 if m not in rest else 70 for m in minutes],
        ("compressor", "state", "1"): [float(m not in rest) for m in minutes],
        ("outdoor_fan", "state", "1"): [1.0] * 60,
    }
    document = {"id": "rec", "mode": "heating", "started_at": "2026-01-15T07:00:00-05:00"}
    document["series"] = [
        {"station": s, "quantity": q, "unit": u, "seconds": [60 * m for m in minutes], "values": values}
        for (s, q, u), values in rows.items()
    ]
    off_cycle = unit(defrost={"method": "off_cycle"})
    found = examined(document, **off_cycle)
    assert [spell.mode for spell in found.recordings[0].spells] == ["heating", "defrost", "heating"]
    (one,) = found.recordings[0].defrosts
    assert (one.started, one.ended) == (pytest.approx(1800, abs=60), pytest.approx(2520, abs=60))
    assert "defrost.fan" not in statuses(found)
    assert "fail" not in statuses(found).values()
    # The same rest with the fan off is the thermostat's.
    document["series"][-1]["values"] = [float(m not in rest) for m in minutes]
    assert examined(document, **off_cycle).recordings[0].defrosts == []


@pytest.mark.one_in(4)
@pytest.mark.parametrize("seed", range(4))
def test_no_check_fails_in_drawn_healthy_heating(seed):
    """Weather −5 to 50 °F, 40 to 100 % humidity; benchmarks/recordings.py draws three hundred."""
    dice = random.Random(seed)
    for _ in range(6):
        scene = drawn(dice)
        found = seen(
            scene,
            dice.choice((ALL, PIPES, THIN, BOARD)),
            noted=dice.random() < 0.6,
            every=dice.choice((2, 5, 10)),
        )
        assert "fail" not in statuses(found).values(), (scene, statuses(found), found.verdict)
        assert "none" in first(found), (scene, found.ranking[0])


def drawn(dice):
    return Scene(
        air=dice.uniform(-5, 50),
        humidity=dice.uniform(40, 100),
        room=dice.uniform(64, 74),
        hours=dice.uniform(1.0, 2.0),
        interval=dice.choice((30, 45, 60, 90)),
        start_below=dice.choice((26, 28, 30, 32)),
        stop_above=dice.choice((47, 50, 55, 70)),
        run_at_start=dice.choice((1, 15)),
        pause=dice.choice((0, 30)),
        cycles=dice.choice(((), ((20, 28), (70, 82)))),
        method=dice.choice(("time_temperature", "demand")),
        energized_in=dice.choice(("cooling", "heating")),
        noise=dice.choice((0.1, 0.3)),
        seed=dice.randrange(10**6),
    )


def test_recordings_and_runs_enter_one_ranking():
    """A winding read open in a run of the same visit unties what the recording leaves tied."""
    document = recording(played(FAULTS["valve stuck, O"][0]), ALL)
    run = {
        "id": "run",
        "mode": "defrost",
        "readings": [
            {"station": "solenoid", "quantity": "resistance", "value": 2, "unit": "kohm", "method": "meter"}
        ],
    }
    visit = {**visit_document(run, **unit(HEALTHY)), "recordings": [document]}
    assert first(examine(parse_visit(json.dumps(visit)))) == {"solenoid_open"}


def test_the_judgement_does_not_depend_on_units():
    visit = parse_visit(
        json.dumps({**visit_document(**unit(HEALTHY)), "recordings": [recording(played(HEALTHY), THIN)]})
    )
    field, metric = examine(visit), examine(visit, units="metric")
    assert statuses(field) == statuses(metric)
    assert [one.probability for one in field.ranking] == [one.probability for one in metric.ranking]
    assert metric.recordings[0].defrosts[0].coil_highest.unit == "degC"


def test_columns_in_celsius_and_fahrenheit_say_the_same():
    document = recording(played(HEALTHY), PIPES, every=5)
    mixed = recording(played(HEALTHY), PIPES, every=5)
    for series in mixed["series"][::2]:
        if series["unit"] == "degF":
            series |= {"unit": "degC", "values": [(value - 32) / 1.8 for value in series["values"]]}
    one, two = (examined(each, **unit(HEALTHY)).recordings[0] for each in (document, mixed))
    assert one.defrosts == two.defrosts
    assert one.checks == two.checks


def test_every_check_and_figure_of_a_recording_has_its_place_in_the_docs():
    text = (DOCS / "defrost.md").read_text("utf-8")
    found = seen(HEALTHY).recordings[0]
    for name in (*(rule.code for rule in RECORDED), *found.indicators):
        assert f"`{name}`" in text


def test_a_recording_that_tells_nothing_says_so():
    lone = recording(played(replace(HEALTHY, hours=0.2)), (("return_air", "temperature", "degF"),))
    found = examined(lone, **unit(HEALTHY))
    assert [spell.mode for spell in found.recordings[0].spells] == ["unknown"]
    assert "Nothing recorded tells" in found.verdict
    assert found.ranking == []

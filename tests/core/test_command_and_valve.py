"""Told the right thing, shifted all the way, and is it the valve or the compressor."""

import json
from dataclasses import replace
from itertools import pairwise

import pytest

from builders import SPLIT_UNIT, amps, ohms, probe, psi, reading, valve_run, visit_document, volts
from icepick.core.diagnosis.tables import FEATURES
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from layouts import SHORT, TRUTH
from plant import Plant

SPLIT = TRUTH["split, two thermostatic valves, drier outdoors"]
PATHS = {
    mode: [SHORT[stop.split(":")[0]] for stop in SPLIT[index].split()]
    for mode, index in (("cooling", 1), ("heating", 3))
}
CONDITIONS = {"cooling": (42, 112, 92, 76), "heating": (24, 102, 40, 70)}


def plant(mode, refrigerant="R-410A", **more):
    evaporating, condensing, outdoor, indoor = CONDITIONS[mode]
    return Plant(
        PATHS[mode],
        mode,
        refrigerant,
        **{
            "evaporating": evaporating,
            "condensing": condensing,
            "outdoor": outdoor,
            "indoor": indoor,
            **more,
        },
    )


def examined(*runs, **unit):
    document = visit_document(*runs)
    document["unit"].update(unit)
    return examine(parse_visit(json.dumps(document)))


def checks_of(examination, run=0):
    return {check.code: check for check in examination.runs[run].checks}


def order(examination):
    return [ranked.fault for ranked in examination.ranking]


def top(examination):
    """The faults that share the first place."""
    first = examination.ranking[0].probability
    return {r.fault for r in examination.ranking if r.probability > first * 0.98}


@pytest.mark.one_in(7)
@pytest.mark.parametrize("refrigerant", ["R-410A", "R-22", "R-454B"])
@pytest.mark.parametrize("mode", ["cooling", "heating"])
@pytest.mark.parametrize("share", [0, 0.05, 0.1, 0.2, 0.4])
def test_bypass_fraction_against_two_streams_mixed_by_coolprop(refrigerant, mode, share):
    made = plant(mode, refrigerant, bypass=share)
    bare = ("indoor_coil", "outdoor_coil", "outdoor_air_in", "return_air")
    for options, points in (
        ({}, 2),
        ({"gauges": False}, 5),
        ({"gauges": False, "without": bare[:2]}, 5),
        ({"gauges": False, "without": bare}, 5),
    ):
        found = (
            examined(made.run(**options), refrigerant=refrigerant).runs[0].indicators["valve_bypass_fraction"]
        )
        assert found.unit == "percent"
        assert found.value == pytest.approx(share * 100, abs=points)
        assert abs(found.value - share * 100) <= found.uncertainty


@pytest.mark.parametrize("share", [0, 0.1, 0.25])
def test_with_a_wet_return_a_small_rise_proves_nothing_and_no_share_is_given(share):
    pistons = {
        "outdoor_meter": {"kind": "piston", "bypass": "sliding_piston"},
        "indoor_meter": {"kind": "piston", "bypass": "sliding_piston"},
    }
    made = plant("heating", quality=0.93, bypass=share, evaporating=8, condensing=92, outdoor=22)
    for options in ({}, {"gauges": False, "without": ("outdoor_coil",)}):
        examination = examined(made.run(**options), **pistons)
        checks = checks_of(examination)
        assert checks["valve.suction_rise"].status in ("watch", "fail")
        # No share is made of what is not known: it is absent, and the check says why.
        assert "valve_bypass_fraction" not in examination.runs[0].indicators
        assert checks["valve.bypass"].status == "watch"
        assert "wet" in checks["valve.bypass"].explain
        if checks["valve.suction_rise"].status == "watch":
            assert "proves nothing" in checks["valve.suction_rise"].explain


def test_the_bypass_fraction_is_continuous_in_the_superheat_that_comes_back():
    """A sound TXV near the edge of a dry return: nowhere a jump, nowhere a share out of nothing."""
    found = []
    for tenths in range(20, 101, 2):
        run = plant("heating", superheat=tenths / 10).run()
        value = examined(run).runs[0].indicators.get("valve_bypass_fraction")
        found.append(value.value if value else None)
    known = [value for value in found if value is not None]
    assert known == found[len(found) - len(known) :], "once it is known it stays known"
    assert len(known) > 20
    assert max(abs(value) for value in known) < 2
    assert max(abs(a - b) for a, b in pairwise(known)) < 0.5


def test_bypass_is_watched_near_its_limit_and_infrared_never_decides():
    assert checks_of(examined(plant("cooling").run()))["valve.bypass"].status == "pass"
    assert checks_of(examined(plant("cooling", bypass=0.05).run()))["valve.bypass"].status == "watch"
    run = plant("cooling", bypass=0.3).run()
    assert checks_of(examined(run))["valve.bypass"].status == "fail"
    for taken in run["readings"]:
        taken["method"] = (
            "infrared" if taken["station"] in ("common_suction", "valve_to_indoor") else taken["method"]
        )
    # Which way it runs, the vapor line and the air say as well.
    assert checks_of(examined(run))["valve.position"].status == "pass"
    for code in ("valve.bypass", "valve.suction_rise"):
        check = checks_of(examined(run))[code]
        assert check.status == ("needs_readings" if code == "valve.bypass" else "watch")
        assert "infrared" in check.explain


# Patterns of common practice, from trade knowledge; no published source.


def test_pressures_drawn_together_with_lines_spread_is_the_valve_before_the_compressor():
    run = plant("cooling", bypass=0.25, evaporating=56, condensing=104).run()
    examination = examined(run)
    assert checks_of(examination)["compressor.pressure_ratio"].status == "fail"
    assert order(examination)[0] == "valve_bypassing"
    assert order(examination).index("valve_bypassing") < order(examination).index("compressor_weak")


def test_pressures_equal_lines_alike_and_little_current_is_the_compressor():
    run = valve_run("cooling", 81, 79, 80, 80)
    run["readings"] += [
        reading(tap, psig, quantity="pressure", unit="psi", method="gauge")
        for tap, psig in (("common_suction_tap", 228), ("discharge_tap", 236))
    ]
    run["readings"].append(amps(4.1))
    examination = examined(run, compressor={"kind": "single", "rated_current": {"value": 14.1, "unit": "A"}})
    assert checks_of(examination)["compressor.pumping"].status == "fail"
    assert order(examination)[0] == "compressor_weak"
    assert examination.ranking[0].probability > 0.9
    assert {out.text: out.status for out in examination.ranking[0].rule_out}["it runs"] == "done"
    assert "Before the compressor is condemned" in examination.verdict
    assert examination.headline.startswith("Nothing is pumped")


def test_pressures_all_but_equal_with_lines_apart_are_never_the_compressor():
    """A slide midway, as a technician meets it: 187 over 233 psi, lines from 69 to 101 °F, common suction 13 °F over the
    line that feeds it, 7.5 of 16 A. [common practice: pressures drawn together but lines apart, the valve]"""
    run = valve_run("heating", 101, 94, 69, 82)
    run["readings"] += [
        reading(tap, psig, quantity="pressure", unit="psi", method="gauge")
        for tap, psig in (("common_suction_tap", 187), ("discharge_tap", 233))
    ]
    run["readings"].append(amps(7.5))
    examination = examined(run, compressor={"kind": "single", "rated_current": {"value": 16, "unit": "A"}})
    assert order(examination)[0] == "valve_bypassing"
    assert next(r.probability for r in examination.ranking if r.fault == "compressor_weak") < 0.05
    (out,) = (
        out
        for r in examination.ranking
        if r.fault == "compressor_weak"
        for out in r.rule_out
        if "bypassing" in out.text
    )
    assert out.status == "contradicted"


def test_both_lines_hot_in_a_cooling_call_without_voltage_is_the_command():
    run = {
        "id": "run-1",
        "mode": "cooling",
        "minutes_running": 15,
        "readings": [
            reading("vapor_line_indoor", 148),
            reading("liquid_line_outdoor", 88),
            reading("return_air", 76, method="probe"),
            volts("terminal_y", 24.8),
            volts("solenoid", 0.2),
        ],
    }
    examination = examined(run)
    assert examination.runs[0].apparent_mode == "heating"
    assert order(examination)[0] == "command_missing"
    assert "valve_in_opposite_position" not in top(examination)
    assert checks_of(examination)["command.solenoid_voltage"].status == "fail"
    # One mode alone hardly tells a missing command from the other convention; the other mode's voltage does.
    assert order(examination)[1] == "valve_convention_wrong"
    dead_terminal = examined({**run, "readings": [*run["readings"][:4], volts("terminal_o", 0.3)]})
    assert top(dead_terminal) == {"command_missing", "valve_convention_wrong"}
    assert "can't tell which" in dead_terminal.verdict
    turned = {"id": "run-2", "mode": "heating", "minutes_running": 12}
    resting = examined(run, {**turned, "readings": [volts("solenoid", 0.1)]})
    assert top(resting) == {"command_missing"}
    other = examined(run, {**turned, "readings": [volts("solenoid", 24.6)]})
    assert top(other) == {"valve_convention_wrong"}
    assert checks_of(other)["command.convention"].status == "fail"
    assert "energizes its valve in heating (B)" in checks_of(other)["command.convention"].explain


def test_voltage_at_the_coil_and_no_continuity_is_the_coil():
    run = valve_run("cooling", 165, 163, 48, 50)
    run["readings"] += [volts("terminal_o", 25.1), volts("solenoid", 24.9), ohms(9_000_000)]
    examination = examined(run)
    assert order(examination)[0] == "solenoid_open"
    first = examination.ranking[0]
    assert first.settled
    assert first.replaces == "the solenoid coil"
    assert examination.verdict.endswith("Replace the solenoid coil.")


def test_a_live_terminal_and_a_dead_coil_leave_the_board_or_its_wire():
    run = valve_run("cooling", 165, 163, 48, 50)
    run["readings"] += [
        volts("terminal_r", 26),
        volts("terminal_y", 25),
        volts("terminal_o", 25),
        volts("solenoid", 0),
    ]
    examination = examined(run)
    assert order(examination)[0] == "command_missing"
    assert "wire or the board between" in checks_of(examination)["command.solenoid_voltage"].explain
    # Board or wire: only the wire's own continuity tells, and no reading of a visit gives that.
    (still,) = (out for out in examination.ranking[0].rule_out if out.status != "done")
    assert "wire" in still.text
    assert "eplace" not in examination.verdict


def test_a_stuck_valve_is_not_condemned_before_it_was_cycled():
    run = valve_run("cooling", 165, 163, 48, 50)
    run["observations"] = [{"code": "magnets_do_not_move"}]
    run["readings"] += [volts("terminal_o", 25.1), volts("solenoid", 24.9), ohms(18)]
    open_yet = examined(run)
    assert order(open_yet)[0] == "valve_in_opposite_position"
    assert "eplace" not in open_yet.verdict
    assert "Before the reversing valve is condemned, still to settle: " in open_yet.verdict
    assert any(
        "pressure enough to shift" in out.text for out in open_yet.ranking[0].rule_out if out.status == "open"
    )
    run["readings"] += [
        reading(tap, psig, quantity="pressure", unit="psi", method="gauge")
        for tap, psig in (("common_suction_tap", 92), ("discharge_tap", 330))
    ]
    settled = examined(run)
    # No reading frees a valve: it is cycled and tapped before the word "replace". [the-trade.md 4]
    (still,) = (out.text for out in settled.ranking[0].rule_out if out.status == "open")
    assert still.startswith("cycled under full pressure difference")
    assert settled.verdict.endswith(f"still to settle: {still}.")


def test_next_readings_are_the_cheapest_that_separate_what_is_tied():
    wrong_way = examined(valve_run("heating", 170, 50, 168, 52))
    assert top(wrong_way) == {"valve_in_opposite_position", "valve_convention_wrong"}
    first = wrong_way.next_readings[0]
    assert first.station in ("terminal_o", "solenoid")
    assert (first.quantity, first.run) == ("voltage", "heating")
    assert set(first.separates) == {"valve_in_opposite_position", "valve_convention_wrong"}
    # A clamp or a meter before gauges, gauges before turning the unit round for the same question.
    stations = [n.station for n in wrong_way.next_readings]
    assert not any(s.endswith("_tap") for s in stations[:2])


def test_the_terminal_strip_follows_the_convention_not_the_letter():
    for energized_in, mode, valve, should in (
        ("cooling", "cooling", "terminal_o", "present"),
        ("cooling", "heating", "terminal_o", "absent"),
        ("heating", "heating", "terminal_b", "present"),
        ("cooling", "defrost", "terminal_o", "present"),
        ("heating", "defrost", "terminal_b", "absent"),
    ):
        run = {"id": "run", "mode": mode, "readings": [volts("terminal_y", 24)]}
        strip = examined(run, reversing_valve={"energized_in": energized_in}).runs[0].terminals
        by_station = {terminal.station: terminal for terminal in strip}
        assert by_station[valve].should == by_station["solenoid"].should == should
        assert by_station["terminal_y"].status == "pass"
        assert by_station["terminal_w"].should == {"defrost": "present", "cooling": "absent"}.get(
            mode, "either"
        )


def test_drift_sound_and_magnets_are_said():
    run = valve_run("cooling", 170, 50, 168, 52)
    run["observations"] = [{"code": "valve_shift_heard"}, {"code": "magnets_full_travel"}]
    checks = checks_of(examined(run))
    assert checks["valve.sound"].status == checks["valve.magnets"].status == "pass"
    assert "no proof" in checks["valve.sound"].explain
    run["readings"].append(reading("common_suction", 56))
    assert checks_of(examined(run))["valve.drift"].status == "watch"
    run["readings"].append(reading("common_suction", 55.5))
    assert checks_of(examined(run))["valve.drift"].status == "pass"


@pytest.mark.parametrize("mode", ["cooling", "heating"])
def test_a_healthy_unit_ranks_none_first_and_fails_nothing(mode):
    run = plant(mode).run()
    valve = "terminal_o"
    run["readings"] += [
        volts("terminal_r", 26),
        volts("terminal_y", 25),
        volts(valve, 25 if mode == "cooling" else 0),
        amps(11),
    ]
    examination = examined(run, compressor={"kind": "single", "rated_current": {"value": 14.1, "unit": "A"}})
    assert "fail" not in {check.status for check in checks_of(examination).values()}
    assert order(examination)[0] == "none"
    assert sum(r.probability for r in examination.ranking) == pytest.approx(1, abs=1e-4)


@pytest.mark.parametrize(
    ("row", "told"),
    [
        ({"undercharged": (0.5, 0.5)}, "no hypothesis"),
        ({"undercharge@defrost": (0.5, 0.5)}, "no hypothesis"),
        ({"undercharge/a lot": (0.5, 0.5)}, "no hypothesis"),
        ({"undercharge": (0.5, 0.4)}, "share out"),
        ({"undercharge": (1.0, 0.0)}, "share out"),
    ],
)
def test_a_table_that_names_no_fault_or_does_not_add_up_is_refused(row, told):
    """A fault that is misspelled must not silently become one of the others."""
    sound_one = FEATURES[0]
    with pytest.raises(ValueError, match=told):
        replace(sound_one, rows={**row, "others": (0.5, 0.5)})


def test_a_doubted_reading_makes_a_reading_suspect():
    swapped = valve_run("cooling", 52, 50, 168, 170)
    examination = examined(swapped)
    assert examination.runs[0].doubts
    assert order(examination)[0] in ("reading_suspect", "none")
    assert SPLIT_UNIT["reversing_valve"]["energized_in"] == "cooling"
    assert not any(check.status == "fail" for check in checks_of(examination).values())


def test_repeated_runs_are_one_experiment_and_an_observation_unmade_was_never_made():
    run = plant("cooling").run()
    once = examined(run)
    thrice = examined(*({**run, "id": f"run-{n}"} for n in range(3)))
    # The same machine read again: less of what the instruments scatter, and nothing new.
    before = {ranked.fault: ranked.probability for ranked in once.ranking}
    assert once.ranking[0].fault == thrice.ranking[0].fault
    for ranked in thrice.ranking:
        assert ranked.probability == pytest.approx(before.get(ranked.fault, 0), abs=0.1)
    seen = {**run, "observations": [{"code": "filter_dirty"}, {"code": "filter_dirty", "value": False}]}
    assert examined(seen).ranking == once.ranking


def test_one_reading_alone_settles_nothing():
    alone = [
        {"readings": [amps(3.0)]},
        {"observations": [{"code": "magnets_do_not_move"}]},
        {"observations": [{"code": "oil_stain"}]},
        {"observations": [{"code": "hissing_at_meter"}]},
        {"observations": [{"code": "filter_dirty"}]},
    ]
    for one in alone:
        run = {"id": "run", "mode": "heating", "minutes_running": 20, "readings": [], **one}
        examination = examined(
            run, compressor={"kind": "single", "rated_current": {"value": 14.1, "unit": "A"}}
        )
        assert max(r.probability for r in examination.ranking) < 0.6, one


def test_call_and_power_missing_and_a_compressor_that_stands_are_findings():
    def of(*readings):
        return examined({"id": "run", "mode": "heating", "minutes_running": 20, "readings": [*readings]})

    power = of(volts("terminal_r", 0), volts("terminal_y", 0))
    assert (order(power)[0], power.headline) == ("control_power_missing", "No 24 V at R")
    call = of(volts("terminal_r", 26), volts("terminal_y", 0))
    assert (order(call)[0], call.headline) == ("call_missing", "No call for the compressor at Y")
    still = of(volts("terminal_r", 26), volts("terminal_y", 26), amps(0))
    assert (order(still)[0], still.headline) == ("compressor_not_running", "The compressor does not run")
    assert "capacitor" in still.verdict
    for found in (power, call, still):
        assert found.outcome == "fail"
        assert "compressor_weak" not in order(found)[:2]
        # Nothing flows, so no pipe, gauge or coil has anything to tell yet.
        assert {n.quantity for n in found.next_readings} <= {"voltage", "resistance"}
        assert not any(n.observe or n.switch_mode for n in found.next_readings)


def test_a_defrost_is_judged_as_one():
    """Fan, heat, voltages and the valve; nothing of it has to settle, and no split is held to anything."""
    run = valve_run("defrost", 120, 40, 118, 42, minutes=3)
    run["readings"] += [volts("terminal_w", 0), volts("terminal_o", 25)]
    run["observations"] = [{"code": "outdoor_fan_running"}]
    examination = examined(run)
    failing = {code for code, check in checks_of(examination).items() if check.status == "fail"}
    assert failing == {"defrost.fan", "command.backup_heat"}
    assert {r.fault for r in examination.ranking[:2]} == {"defrost_fan_running", "defrost_no_backup_heat"}
    assert examination.headline == "The outdoor fan runs in defrost; no backup heat in defrost"


def in_defrost_all_the_time(*observed, **unit):
    """Heat is called for and it cools: hot gas goes to the outdoor coil, O and W are live."""
    run = plant("cooling").run(gauges=False)
    run = {**run, "mode": "heating", "id": "heating", "observations": [{"code": code} for code in observed]}
    run["readings"] = [r for r in run["readings"] if r["station"] in VALVE]
    run["readings"] += [volts("terminal_y", 25), volts("terminal_o", 25), volts("terminal_w", 25)]
    return examined(run, **unit)


VALVE = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")


def test_a_unit_kept_in_defrost_is_no_wrong_o_b_setting():
    """What tells them apart is the fan: a unit that runs backwards keeps it on. [common practice]"""
    kept = in_defrost_all_the_time("outdoor_fan_stopped")
    assert order(kept)[0] == "defrost_not_stopping"
    assert kept.headline == "Calling for heating, running in cooling"
    assert checks_of(kept)["outdoor.fan"].status == "watch"
    backwards = in_defrost_all_the_time("outdoor_fan_running")
    assert order(backwards)[0] == "valve_convention_wrong"
    assert "defrost_not_stopping" not in order(backwards)
    assert (
        order(in_defrost_all_the_time("outdoor_fan_stopped", defrost={"method": "off_cycle"}))[0]
        != "defrost_not_stopping"
    )


@pytest.mark.parametrize(("at_the_coil", "leads"), [(12, True), (8, True), (24.5, False)])
def test_part_of_the_voltage_at_the_coil_is_the_wire_and_not_the_valve(at_the_coil, leads):
    run = plant("heating").run(gauges=False)
    run = {**run, "mode": "cooling", "id": "cooling"}
    run["readings"] = [r for r in run["readings"] if r["station"] in VALVE]
    run["readings"] += [
        volts("terminal_y", 25),
        volts("terminal_o", 25),
        volts("solenoid", at_the_coil),
        ohms(14),
    ]
    assert (order(examined(run))[0] == "command_missing") is leads


def nearly_empty(high, low, outdoor=84):
    """Cooling is called for, the slide stands where it stood, and next to nothing is in the circuit."""
    readings = [
        reading("discharge_line", 104), reading("common_suction", 70),
        reading("valve_to_indoor", 99), reading("valve_to_outdoor", 72),
        psi("discharge_tap", high), psi("common_suction_tap", low),
        probe("outdoor_air_in", outdoor), probe("return_air", 77),
    ]  # fmt: skip
    return {
        "id": "a", "mode": "cooling", "minutes_running": 20, "readings": readings,
        "observations": [{"code": "magnets_do_not_move"}],
    }  # fmt: skip


def test_a_circuit_with_no_liquid_left_condemns_neither_valve_nor_compressor():
    """R-410A over 84 °F stands at some 250 psig while any liquid is left. [reference library; ASHRAE tables from memory]"""
    found = examined(nearly_empty(52, 41))
    assert order(found)[0] == "undercharge"
    assert found.headline == "No liquid is left in the circuit: the charge is all but gone"
    assert not found.runs[0].doubts
    assert {r.fault: r.probability for r in found.ranking}["valve_in_opposite_position"] < 0.1


@pytest.mark.parametrize(("high", "low"), [(52, 5), (330, 320)])
def test_gauges_that_lie_apart_or_stand_at_saturation_say_nothing_of_an_empty_circuit(high, low):
    """A head typed wrong lies far from suction; a compressor that pumps nothing leaves both at saturation."""
    assert "charge.liquid_left" not in checks_of(examined(nearly_empty(high, low)))

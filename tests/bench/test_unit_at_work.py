"""The unit on the bench behaves as one does: it settles, it shows what instruments show, and each thing takes its time."""

import pytest

from icepick.bench.acts import Careful, ForceDefrost, LookAt, RepairIt, Switch, Take, Wait
from icepick.bench.case import Case
from icepick.bench.drawing import drawn
from icepick.bench.lessons import lessons
from icepick.bench.playing import RefusedError, do, phases, visit_of
from icepick.bench.screen import settles
from icepick.bench.stock import stock
from icepick.bench.unit_at_work import Phase, shown_at
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine


def case(unit="split-txv", troubles=(), **changes):
    return Case.model_validate(
        {
            "code": "test",
            "title": "test",
            "level": "one_fault",
            "site": "Boat shed",
            "told": "",
            "complaint": "weak",
            "unit": stock()[unit].unit,
            "outdoor": {"value": 42.0, "unit": "degF"},
            "indoor": {"value": 69.0, "unit": "degF"},
            "arrives": "heating",
            "troubles": list(troubles),
            **changes,
        }
    )


def steps(of, *asked):
    done = []
    for one in asked:
        done.append(do(of, done, one))
    return done


def take(station, quantity="temperature", **more):
    return Take(act="take", station=station, quantity=quantity, **more)


def wait(minutes):
    return Wait(act="wait", minutes=minutes)


PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")


def read(of, *asked):
    return [one.reading.value for one in steps(of, *asked) if one.reading]


def test_a_change_of_mode_runs_the_clock_and_the_lags():
    of = case()
    turn = Switch(act="switch", mode="cooling")
    before = read(of, *map(take, PIPES))
    early = read(of, turn, *map(take, PIPES))
    late = read(of, turn, wait(12), *map(take, PIPES))
    later = read(of, turn, wait(30), *map(take, PIPES))
    # The two ports change places, and have mostly done so after ten minutes.
    assert before[1] > before[2] + 50
    assert late[2] > late[1] + 30
    assert late == pytest.approx(later, abs=2.5)
    assert abs(early[2] - late[2]) > 10
    # The examination knows the early ones for early.
    found = examine(visit_of(of, steps(of, turn, *map(take, PIPES))))
    assert all(reading.early for reading in found.runs[1].readings)


def test_infrared_on_copper_lies_and_on_a_circuit_hardly():
    of = case()
    clamp, aimed = read(of, take("discharge_line"), take("discharge_line", method="infrared"))
    assert clamp - aimed > 30
    clamp, aimed = read(of, take("outdoor_circuit:1"), take("outdoor_circuit:1", method="infrared"))
    assert clamp == pytest.approx(aimed, abs=6)
    with pytest.raises(RefusedError):
        do(of, [], take("return_air", method="infrared"))


def test_clamps_on_each_others_pipe_are_found_by_setting_them_again():
    swapped = case(exchanged={"one": "common_suction", "other": "discharge_line"})
    first, again = read(swapped, take("common_suction"), take("common_suction"))
    assert first - again > 60
    sound = read(case(), take("common_suction"))[0]
    assert again == pytest.approx(sound, abs=3)


def test_gauges_cost_minutes_and_want_their_cautions():
    of = case("split-b")  # R-32
    first, second = steps(of, take("discharge_tap", "pressure"), take("common_suction_tap", "pressure"))
    assert first.ended - first.began > second.ended - second.began > 1
    assert first.missed == ["gloves", "ventilate"]
    careful = steps(
        of,
        *(Careful(act="care", care=one) for one in ("gloves", "ventilate")),
        take("discharge_tap", "pressure"),
    )
    assert careful[-1].missed == []
    # A lock-out ends when the unit is called to run again.
    locked = [Careful(act="care", care="lock_out"), take("solenoid", "resistance")]
    assert steps(of, *locked)[-1].missed == []
    again = [*locked, Switch(act="switch", mode="cooling"), take("solenoid", "resistance")]
    assert steps(of, *again)[-1].missed == ["lock_out"]


def test_every_port_lets_a_little_of_the_charge_go():
    of = case(arrives="cooling", outdoor={"value": 90.0, "unit": "degF"})
    ports = ("discharge_tap", "common_suction_tap", "liquid_service_tap", "vapor_service_tap")
    hooked = [take(port, "pressure") for port in ports]
    assert phases(of, steps(of, *hooked))[-1].ports == 4
    # Read again and again, a gauge that is on loses no more.
    assert phases(of, steps(of, *[hooked[0]] * 4))[-1].ports == 1

    def head(ports):
        return shown_at(of, [Phase(-30, "cooling", ports=ports)], 0)["discharge_tap", "pressure"]

    assert head(4) < head(1) < head(0)
    # No new settling begins with a gauge.
    assert settles(of, steps(of, hooked[0])) == 0
    assert settles(of, steps(of, Switch(act="switch", mode="heating"), hooked[0])) < 2


def test_the_valve_is_heard_when_it_goes_over_also_out_of_a_rest():
    def heard(of, *modes):
        return bool(steps(of, *(Switch(act="switch", mode=mode) for mode in modes))[-1].observations)

    assert heard(case(), "cooling")
    assert heard(case(), "off", "cooling")
    assert not heard(case(), "off", "heating")
    assert not heard(case(troubles=[{"fault": "solenoid_open"}]), "cooling")


def looked(of, look, *before):
    return {
        one.code for one in steps(of, *before, LookAt(act="look", look=look))[-1].observations if one.value
    }


def test_magnets_filters_fans_and_frost_are_as_the_fault_has_them():
    midway = [{"fault": "valve_bypassing", "severity": 40.0}]
    assert looked(case(troubles=midway), "magnets") == {"magnets_stop_midway"}
    worn = [{"fault": "valve_bypassing", "severity": 12.0}]
    assert looked(case(troubles=worn), "magnets") == {"magnets_full_travel"}
    assert looked(case(troubles=[{"fault": "solenoid_open"}]), "magnets") == {"magnets_do_not_move"}
    dirt = [{"fault": "indoor_airflow_low", "severity": 50.0, "cause": "dirt"}]
    assert looked(case(troubles=dirt), "filter") == {"filter_dirty"}
    duct = [{"fault": "indoor_airflow_low", "severity": 50.0, "cause": "duct"}]
    assert looked(case(troubles=duct), "filter") == set()
    still = [{"fault": "outdoor_airflow_low", "severity": 84.0, "cause": "fan"}]
    assert looked(case(troubles=still), "outdoor_fan") == {"outdoor_fan_stopped"}
    ice = [{"fault": "outdoor_coil_frosted", "severity": 80.0}]
    assert looked(case(troubles=ice, outdoor={"value": 30.0, "unit": "degF"}), "outdoor_coil") == {
        "outdoor_coil_iced_solid"
    }


def volts(of, *stations):
    return [round(one) for one in read(of, *(take(code, "voltage") for code in stations))]


def test_the_control_circuit_is_dead_from_where_it_is_broken():
    """R, Y, O and the coil, in a call for cooling on a unit that energizes in cooling. [common practice]"""
    chain = ("terminal_r", "terminal_y", "terminal_o", "solenoid")

    def found(*troubles):
        return [v > 20 for v in volts(case(arrives="cooling", troubles=troubles), *chain)]

    assert found() == [True, True, True, True]
    assert found({"fault": "control_power_missing"}) == [False, False, False, False]
    assert found({"fault": "call_missing"}) == [True, False, True, True]
    assert found({"fault": "command_missing", "cause": "wire"}) == [True, True, False, False]
    assert found({"fault": "command_missing", "cause": "board"}) == [True, True, True, False]
    assert found({"fault": "valve_convention_wrong"}) == [True, True, False, False]
    assert found({"fault": "solenoid_open"}) == [True, True, True, True]
    open_coil = case(arrives="cooling", troubles=[{"fault": "solenoid_open"}])
    assert read(open_coil, take("solenoid", "resistance"))[0] > 1e6


def test_what_is_repaired_is_gone_and_nothing_else():
    of = case(
        arrives="cooling", outdoor={"value": 86.0, "unit": "degF"}, troubles=[{"fault": "solenoid_open"}]
    )
    done = steps(
        of, *map(take, PIPES), RepairIt(act="repair", fault="solenoid_open"), wait(12), *map(take, PIPES)
    )
    was, now = (
        [one.reading.value for one in done if one.reading][:4],
        [one.reading.value for one in done if one.reading][4:],
    )
    assert was[1] > was[2]
    assert now[2] > now[1]
    visit = visit_of(of, done)
    assert [run.after_repair for run in visit.runs] == [False, True]
    # A part that was sound is changed for nothing.
    sound = steps(of, RepairIt(act="repair", fault="compressor_weak"), wait(12), *map(take, PIPES))
    assert [one.reading.value for one in sound if one.reading] == pytest.approx(was, abs=2.5)


def test_a_bench_visit_is_a_visit_document_that_says_so():
    of = lessons()["charge-1"].case
    visit = visit_of(of, steps(of, *map(take, PIPES)))
    assert visit.bench == "charge-1"
    assert "Practice" in visit.site.notes
    assert parse_visit(visit.model_dump_json()) == visit


def test_a_defrost_is_recorded_out_of_heating_alone():
    of = case(outdoor={"value": 33.0, "unit": "degF"}, humidity=0.9)
    with pytest.raises(RefusedError):
        do(of, steps(of, Switch(act="switch", mode="cooling")), ForceDefrost(act="defrost"))
    with pytest.raises(RefusedError):
        do(case("water-air"), [], ForceDefrost(act="defrost"))
    (done,) = steps(of, ForceDefrost(act="defrost"))
    found = examine(visit_of(of, [done]))
    assert [one.started_by for one in found.recordings[0].defrosts] == ["forced"]
    assert not [check.code for check in found.recordings[0].checks if check.status == "fail"]


@pytest.mark.parametrize("level", "ABCD")
def test_a_code_makes_the_same_case_again(level):
    code = f"{level}-4711"
    one = drawn(code)
    assert one == drawn(code)
    assert one != drawn(f"{level}-4712")
    assert read(one, take("discharge_line")) == read(drawn(code), take("discharge_line"))
    assert len(one.troubles) in {"A": {1}, "B": {1}, "C": {1}, "D": {0, 2}}[level]
    assert ("gauge" in one.kit) == (level != "B")
    assert drawn("E-1") is drawn("A-12345678") is drawn("valve-1") is None

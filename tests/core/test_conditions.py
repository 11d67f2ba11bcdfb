"""What the weather, the load and the moment ask of a unit: the same number is right on one day and wrong on another."""

from __future__ import annotations

import re

import pytest

from builders import SPLIT_UNIT, probe, reading, valve_run
from cases import SPLIT, checks_of, examined, healthy, sound
from icepick.core.document.visit import Unit
from icepick.core.machine.sheet import sheet
from icepick.core.properties.quantities import Kind, to_si

WATER = "water to air, one two-way thermostatic valve"
PISTONS = "split, two pistons"
CAPACITY = {"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}
AIRFLOW = reading("indoor_airflow", 1200, quantity="flow", unit="cfm", method="meter")


def expected_heat(mode, outdoor, *, layout=SPLIT, **unit):
    """What capacity these conditions allow, out of the check's own sentence [Btu/h]."""
    made = healthy(layout, mode, outdoor, 70 if mode == "heating" else 76)
    check = checks_of(examined(layout, made.run(more=[AIRFLOW]), **CAPACITY, **unit))["exchange.capacity"]
    found = re.search(r"should move ([\d,]+)", check.explain)
    assert found, check.explain
    return float(found.group(1).replace(",", ""))


def test_a_heat_pump_on_air_gives_less_the_colder_it_is():
    """55 to 70 % at 17 °F of what it gives at 47. [published test points: AHRI 210/240, from memory; common practice]"""
    assert 0.55 < expected_heat("heating", 17) / expected_heat("heating", 47) < 0.70
    falling = [expected_heat("heating", t) for t in (60, 47, 40, 30, 20, 10, 0)]
    assert falling == sorted(falling, reverse=True)


def test_heat_outside_takes_a_little_of_the_cooling():
    """Rated at 95 °F outdoors: a few percent for ten degrees. [published: AHRI 210/240, from memory; common practice]"""
    milder, rated, hotter = (expected_heat("cooling", t) for t in (85, 95, 105))
    assert 1.02 < milder / rated < 1.12
    assert 0.88 < hotter / rated < 0.98


@pytest.mark.parametrize(
    ("outdoor", "superheat", "status"),
    [(10, 8, "pass"), (10, 22, "fail"), (60, 20, "pass"), (60, 48, "fail")],
)
def test_an_orifice_in_heating_may_show_more_superheat_when_it_is_mild(outdoor, superheat, status):
    """Near zero in the cold; fifteen to twenty-five degrees at 50 to 60 °F, healthy. [physics; the-trade.md 5]"""
    made = healthy(PISTONS, "heating", outdoor, 70, superheat=superheat)
    assert checks_of(examined(PISTONS, made.run()))["metering.superheat_control"].status == status


def test_a_heater_tells_the_airflow_only_where_the_air_gets_warmer():
    def capacity(after):
        made = sound(SPLIT, "heating").run(
            more=[
                probe("supply_air_after_heat", after),
                reading("backup_heat", 9.6, quantity="power", unit="kW", method="meter"),
            ]
        )
        supply = next(r["value"] for r in made["readings"] if r["station"] == "supply_air")
        figure = examined(SPLIT, made, **CAPACITY).runs[0].indicators["air_capacity"]
        return supply, figure

    supply, by_heater = capacity(125)
    # W × 3.412 / (1.08 × ΔT), then 1.08 × cfm × the rise over the coil.
    assert by_heater.value == pytest.approx(9600 * 3.412 / (125 - supply) * (supply - 70), rel=0.01)
    _, assumed = capacity(supply - 4)
    assert assumed.value == pytest.approx(1200 * 1.08 * (supply - 70), rel=0.06)
    assert assumed.uncertainty > 1.5 * by_heater.uncertainty


def settled(minutes, *stations):
    run = {"id": "run", "mode": "cooling", "minutes_running": minutes}
    return checks_of(examined(SPLIT, {**run, "readings": [probe(code, 76) for code in stations]}))[
        "run.settled"
    ]


def test_a_run_too_young_says_what_to_read_again():
    """What enters a coil does not wait for the circuit to settle; what the circuit makes does. [common practice]"""
    assert settled(15).status == "pass"
    nothing_yet = settled(3)
    assert (nothing_yet.status, nothing_yet.explain) == (
        "watch",
        "Running for 3 min; wait until 10 min have passed.",
    )
    assert "Read again" not in settled(3, "return_air", "outdoor_air_in").explain
    again = settled(3, "supply_air", "return_air")
    assert again.status == "watch"
    assert again.explain.endswith("Read again: supply air.")


def test_a_long_list_is_cut_short_and_counted():
    early = checks_of(examined(SPLIT, sound(SPLIT, "cooling").run(minutes=2)))["run.settled"].explain
    named = early.split("Read again: ")[1].split("; ")
    others = int(re.fullmatch(r"and (\d+) others\.", named[-1]).group(1))
    # Every pipe, port and the supply air had to settle; return and outdoor air had not.
    drifting = [c for c in sound(SPLIT, "cooling").solve() if c not in ("return_air", "outdoor_air_in")]
    assert len(named) - 1 + others == len(drifting)


def test_a_temperature_split_waits_for_the_supply_air_alone():
    """What enters the coil may be read at once. [common practice]"""

    def readings(supply_at, return_at):
        return [
            {**probe("return_air", 76), "at": f"2026-07-01T10:{return_at:02}:00Z"},
            {**probe("supply_air", 57), "at": f"2026-07-01T10:{supply_at:02}:00Z"},
            {**probe("outdoor_air_in", 92), "at": "2026-07-01T10:20:00Z"},
        ]

    def judged(supply_at, return_at):
        run = {"id": "run", "mode": "cooling", "started_at": "2026-07-01T10:00:00Z"}
        return checks_of(examined(SPLIT, {**run, "readings": readings(supply_at, return_at)}))[
            "exchange.air_difference"
        ]

    assert judged(20, 2).status == "pass"
    early = judged(2, 20)
    assert early.status == "watch"
    assert "Too early, 2 min into the run" in early.explain


def leg(mode, start, minutes=20, **more):
    made = sound(SPLIT, mode).run(without=tuple(more), minutes=minutes)
    made["readings"] += [reading(code, value, method=how) for code, (value, how) in more.items()]
    return next(one for one in examined(SPLIT, made).runs[0].legs if one.start == start)


def test_a_leg_of_the_flow_strays_only_on_readings_that_may_say_so():
    """The liquid line is to hold its temperature; an infrared gun on bare copper proves nothing. [common practice]"""
    assert leg("cooling", "liquid_line_outdoor").status == "pass"
    assert leg("cooling", "liquid_line_outdoor", indoor_meter_line_side=(70, "clamp")).status == "fail"
    assert leg("cooling", "liquid_line_outdoor", indoor_meter_line_side=(70, "infrared")).status == "watch"
    assert leg("cooling", "liquid_line_outdoor", 2, indoor_meter_line_side=(70, "clamp")).status == "watch"


def test_the_makers_table_judges_its_own_sensor():
    """A 5 kΩ sensor reads 77 °F by its table and something else by the common curve. [manufacturer's data]"""
    table = [
        {"temperature": {"value": t, "unit": "degF"}, "resistance": {"value": kohm, "unit": "kohm"}}
        for t, kohm in ((0, 40), (32, 16.3), (77, 5.0), (120, 1.9))
    ]
    run = {"id": "run", "mode": "heating", "minutes_running": 20}
    run["readings"] = [
        reading("coil_sensor", 5, quantity="resistance", unit="kohm", method="meter"),
        reading("coil_sensor", 77),
    ]
    own = checks_of(examined(SPLIT, run, design={"sensor_table": table}))["defrost.sensor"]
    assert own.status == "pass"
    assert "the manufacturer's table" in own.explain
    common = checks_of(examined(SPLIT, run))["defrost.sensor"]
    assert common.status == "fail"
    assert "the default" in common.explain
    run["readings"][0]["value"] = 900
    off = checks_of(examined(SPLIT, run, design={"sensor_table": table}))["defrost.sensor"]
    assert (off.status, "open, shorted, or another sensor" in off.explain) == ("fail", True)


@pytest.mark.parametrize(("mode", "side"), [("cooling", "load"), ("heating", "source")])
def test_water_can_freeze_only_in_the_coil_that_evaporates(mode, side):
    other = {"load": "source", "source": "load"}[side]
    run = {"id": "run", "mode": mode, "minutes_running": 20}

    def judged(**leaving):
        readings = [probe(f"{port}_water_out", value) for port, value in leaving.items()]
        examination = examined(WATER, {**run, "readings": readings}, load="water")
        return checks_of(examination).get("danger.freezing")

    assert judged(**{side: 30}).status == "fail"
    assert judged(**{side: 44}).status == "pass"
    assert judged(**{other: 30}) is None


def test_what_is_not_given_is_missed_until_it_is():
    given = {
        "missing_capacity": {"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}},
        "missing_rated_current": {
            "compressor": {"kind": "single", "rated_current": {"value": 14, "unit": "A"}}
        },
        "missing_subcooling": {"design": {"cooling": {"subcooling": {"value": 10, "unit": "delta_degF"}}}},
        "missing_defrost": {"defrost": {"method": "demand"}},
    }

    def missed(**unit):
        return {a.code for a in examined(SPLIT, **unit).advice if a.severity == "missing"}

    assert missed() == set(given)
    for code, unit in given.items():
        assert missed(**unit) == set(given) - {code}
    on_water = {a.code for a in examined(WATER).advice if a.severity == "missing"}
    assert on_water == {
        "missing_capacity",
        "missing_rated_current",
        "missing_subcooling",
        "missing_water_flow_table",
        "missing_heat_of_extraction",
    }


def test_what_nobody_knows_of_a_unit_is_missed_and_judges_nothing():
    """A drier nobody looked for has no ends to read; an accumulator nobody looked for is no reason to warn."""
    run = {"id": "run", "mode": "cooling", "minutes_running": 20}

    def of(**unit):
        examination = examined(
            SPLIT, run, indoor_meter={"kind": "piston", "bypass": "internal_check"}, **unit
        )
        return examination, {a.code for a in examination.advice}

    none, without = of(drier={"kind": "none"}, accumulator=False)
    unknown, not_known = of(drier={"kind": "unknown"}, accumulator=None)
    assert not_known == without - {"orifice_without_accumulator"} | {"missing_drier", "missing_accumulator"}
    assert "orifice_without_accumulator" in without
    assert [stop.station for stop in unknown.runs[0].path] == [stop.station for stop in none.runs[0].path]
    unit = {**SPLIT_UNIT, "indoor_meter": {"kind": "piston", "bypass": "internal_check"}}
    taken, fitted, left_out = (
        {row.title: row.value for row in sheet(Unit.model_validate({**unit, "accumulator": one})).rows}
        for one in (None, True, False)
    )
    assert taken == fitted != left_out
    drawn, _ = of()
    assert {"drier_indoor_side", "drier_outdoor_side"} <= {stop.station for stop in drawn.runs[0].path}


def test_a_ton_is_twelve_thousand_btu_an_hour():
    """NIST Special Publication 811, appendix B.8: a ton of refrigeration (12 000 Btu/h) is 3516.853 W."""
    assert to_si(1, "ton", Kind.POWER) == pytest.approx(3516.853, abs=0.001)
    tons, btu = (
        sheet(Unit.model_validate({**SPLIT_UNIT, "nominal_capacity": {"value": value, "unit": unit}}))
        for value, unit in ((3, "ton"), (36_000, "Btu/h"))
    )
    assert tons.stated.keys() == {"/nominal_capacity"}
    assert tons.model_copy(update={"stated": {}}) == btu


def test_a_suction_pressure_that_fits_its_pipes_is_not_doubted():
    """In heating the vapor line's port is high side. A gauge there reads what no suction pipe can boil at. [physics]"""

    def doubted(psig, pipe):
        run = valve_run("heating", 170, 168, pipe, pipe + 2)
        run["readings"].append(
            reading("common_suction_tap", psig, quantity="pressure", unit="psi", method="gauge")
        )
        run["readings"].append(probe("outdoor_air_in", pipe + 10))
        return {d.code for d in examined(SPLIT, run).runs[0].doubts}

    assert "low_side_at_high_port" in doubted(330, 35)
    assert doubted(95, 35) == set()
    # Warm source, warm suction: 180 psig boils at 63 °F.
    assert doubted(180, 70) == set()

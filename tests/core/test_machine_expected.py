"""What a run says its unit, sound, should show: in the examination, with its spread, and what it rests on."""

import json

import pytest

from builders import SPLIT_UNIT, as_visit, probe, reading, visit_document
from icepick.core.circuit.context import run_context
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.machine.expected import expected
from icepick.core.practice import DEFAULT_PRACTICE
from layouts import TRUTH
from machine import duty

CAPACITY = {"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}
RATED = {"compressor": {"kind": "single", "rated_current": {"value": 15, "unit": "A"}}}


def run(mode, *readings, **more):
    return {
        "id": mode,
        "mode": mode,
        "minutes_running": 20,
        "readings": list(readings),
        "observations": [],
        **more,
    }


def examined(one_run, **unit):
    document = visit_document(one_run, unit={**SPLIT_UNIT, **unit})
    (found,) = examine(parse_visit(json.dumps(document))).runs
    return found


def heating(outdoor=47, indoor=70, *more, **unit):
    return examined(
        run("heating", probe("outdoor_air_in", outdoor), probe("return_air", indoor), *more), **unit
    )


def width(value):
    return value.high - value.low


def test_it_grows_with_the_weather_and_stays_inside_its_spread():
    cold, mild = heating(17), heating(47)
    for station in ("outdoor_coil", "common_suction_tap", "supply_air", "indoor_coil"):
        assert cold.expected[station].value < mild.expected[station].value, station
    for one in (*cold.expected.values(), *cold.expected_indicators.values()):
        assert one.low < one.value < one.high
    assert mild.expected["outdoor_coil"].unit == "degF"
    assert mild.expected["discharge_tap"].quantity == "pressure"
    assert cold.expected_basis == "Worked out for this unit in the conditions read."


@pytest.mark.parametrize("outdoor", [5, 17, 30, 47, 60])
def test_an_independent_sound_machine_lies_in_what_is_expected(outdoor):
    """tests/machine.py is a compressor between two coils of common equipment, and knows nothing of this one."""
    found = heating(outdoor).expected_indicators
    other = duty("R-410A", "heating", float(outdoor), 70.0)
    assert found["evaporating_temperature"].low < other.evaporating < found["evaporating_temperature"].high
    assert found["condensing_temperature"].low - 2 < other.condensing < found["condensing_temperature"].high


def test_what_nobody_read_is_named_and_widens():
    read, unread = heating(), examined(run("heating", probe("return_air", 70)))
    assert unread.expected_basis.endswith("taken as usual, and so less sure: outdoor air.")
    assert width(unread.expected["outdoor_coil"]) > 2 * width(read.expected["outdoor_coil"])
    dry = examined(run("cooling", probe("outdoor_air_in", 90), probe("return_air", 76)))
    assert "wet bulb of the return air" in dry.expected_basis
    wet = examined(
        run(
            "cooling",
            probe("outdoor_air_in", 90),
            probe("return_air", 76),
            probe("return_air", 63, "wet_bulb"),
        )
    )
    assert width(wet.expected["supply_air"]) < width(dry.expected["supply_air"])


def test_the_charge_made_up_for_coils_nobody_measured():
    """A unit charged by subcooling keeps it within a few degrees in cooling, whatever its coils are; in heating it does not,
    and the charge is not judged there. [the-trade.md 2]"""
    wet = (probe("outdoor_air_in", 95), probe("return_air", 80), probe("return_air", 67, "wet_bulb"))
    cool, heat = (
        one.expected_indicators["subcooling"] for one in (examined(run("cooling", *wet)), heating())
    )
    assert width(cool) < 14
    assert width(heat) > 1.5 * width(cool)


def test_a_reading_of_the_air_brings_its_own_band():
    rough = {"method": "estimate"}
    clamped = examined(run("heating", reading("outdoor_air_in", 47, **rough), probe("return_air", 70)))
    assert width(clamped.expected["outdoor_coil"]) > width(heating().expected["outdoor_coil"]) + 0.5


def test_what_departs_does_so_beyond_both_bands_and_once_settled():
    bend = heating().expected["outdoor_coil"]
    outside = bend.low - 2
    by_clamp = heating(47, 70, reading("outdoor_coil", outside))
    assert (by_clamp.expected["outdoor_coil"].departs, by_clamp.departure) == ("below", "outdoor_coil")
    # A clamp's own degree may carry it back in.
    touching = heating(47, 70, reading("outdoor_coil", bend.low - 0.05))
    assert touching.expected["outdoor_coil"].departs is None
    by_guess = heating(47, 70, reading("outdoor_coil", outside, method="infrared"))
    assert (by_guess.expected["outdoor_coil"].departs, by_guess.departure) == (None, None)
    air = probe("outdoor_air_in", 47), probe("return_air", 70)
    early = examined(run("heating", *air, reading("outdoor_coil", outside), minutes_running=3))
    assert (early.expected["outdoor_coil"].departs, early.departure) == (None, None)
    worse = heating(47, 70, reading("outdoor_coil", outside), reading("discharge_line", 290))
    assert worse.departure == "discharge_line"


def test_thin_air_carries_less():
    """At 7,000 ft the same fan moves less air, and the condenser runs hotter. [physics]"""
    air = (probe("outdoor_air_in", 95), probe("return_air", 80), probe("return_air", 67, "wet_bulb"))
    low, high = (
        examine(
            parse_visit(
                json.dumps(
                    visit_document(
                        run("cooling", *air),
                        site={"name": "x", "elevation": {"value": feet, "unit": "ft"}},
                    )
                )
            )
        )
        .runs[0]
        .expected_indicators
        for feet in (0, 7000)
    )
    assert high["condenser_split"].value > low["condenser_split"].value + 2


def test_speed_is_a_condition():
    inverter = {"compressor": {"kind": "inverter"}}
    noted = run("heating", probe("outdoor_air_in", 40), probe("return_air", 70), compressor_speed=50)
    half, unknown = examined(noted, **inverter), heating(40, 70, **inverter)
    full = heating(40)
    split = "condenser_split"
    assert half.expected_indicators[split].value < 0.7 * full.expected_indicators[split].value
    assert width(unknown.expected_indicators[split]) > 1.3 * width(half.expected_indicators[split])
    assert "compressor speed" in unknown.expected_basis


def test_what_depends_on_size_needs_the_nameplate():
    nameless, sized = heating(), heating(**CAPACITY)
    for station in ("compressor", "indoor_airflow"):
        assert station not in nameless.expected
        assert station in sized.expected
    assert "compressor_power" not in nameless.expected_indicators
    rated = heating(**RATED)
    assert rated.expected["compressor"].value < 15
    assert width(rated.expected["compressor"]) < width(sized.expected["compressor"])


def test_only_places_this_unit_has():
    for name, truth in TRUTH.items():
        unit = truth[0]
        enters = {"air": "outdoor_air_in", "water": "source_water_in"}[unit["source"]]
        returns = {"air": "return_air", "water": "load_water_in"}[unit["load"]]
        warm = 70 if unit["load"] == "air" else 100
        found = examined(run("heating", probe(enters, 50), probe(returns, warm)), **unit, **CAPACITY)
        assert set(found.expected) <= set(found.stations), name
        lines = {stop.station for stop in found.path}
        assert lines <= set(found.expected), name


def test_no_prediction_says_why():
    off = examined(run("off"))
    assert (off.expected, off.expected_basis) == ({}, "The compressor is off.")
    assert examined(run("defrost")).expected_basis == "A defrost does not settle."
    oven = examined(run("cooling", probe("outdoor_air_in", 175), probe("return_air", 120)))
    assert not oven.expected
    assert (
        oven.expected_basis
        == "The machine model is not made for outdoor air at 175 °F in cooling: 45 to 130 °F."
    )


def test_heat_through_the_valves_body_may_be_more_or_less_and_never_the_other_way():
    """However little is known of the weather, a seated slide cools no suction gas. [physics]"""
    for refrigerant in ("R-22", "R-410A", "R-290"):
        rise = examined(run("heating", probe("return_air", 70)), refrigerant=refrigerant).expected_indicators
        assert -1.2 < rise["valve_suction_rise"].low < 0.5 < rise["valve_suction_rise"].value


def test_a_circuit_of_a_coil_is_expected_where_one_was_read():
    found = heating(35, 70, reading("outdoor_circuit:2", 27))
    assert found.expected["outdoor_circuit:2"].low < 27 < found.expected["outdoor_circuit:2"].high
    assert "outdoor_circuit:1" not in found.expected


def test_the_units_asked_for_change_no_number():
    visit = as_visit(run("heating", probe("outdoor_air_in", 47), probe("return_air", 70)))
    metric, field = (
        run_context(visit.runs[0], visit.unit, DEFAULT_PRACTICE, units, visit.site.atmosphere)
        for units in ("metric", "field")
    )
    assert expected(metric) == expected(field)
    in_metric, in_field = (examine(visit, units=units).runs[0].expected for units in ("metric", "field"))
    assert in_metric["outdoor_coil"].unit == "degC"
    assert in_metric["supply_air"].value == pytest.approx((in_field["supply_air"].value - 32) / 1.8, abs=0.01)

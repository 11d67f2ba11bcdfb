"""Metering devices, check valves, drier: cases made from physics by tests/plant.py (CoolProp, isenthalpic steps)."""

import pytest

from builders import reading, visit_document
from cases import SPLIT, checks_of, examined, healthy, sound, starved, top
from icepick.core.circuit.graph import meters
from icepick.core.diagnosis.rule_outs import part_on
from icepick.core.document.visit import Unit
from icepick.core.handbook.fault_on_unit import first_step
from layouts import TRUTH, path_of
from sick import machine_run, sick_run

SIZE = {"nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}


@pytest.mark.one_in(16)
@pytest.mark.parametrize("layout", TRUTH)
def test_no_check_fails_on_healthy_visits_over_a_grid_of_conditions(layout):
    unit = TRUTH[layout][0]
    orifice = {m["kind"] for m in (unit["indoor_meter"], unit["outdoor_meter"])} & {"piston", "capillary"}
    # One refrigerant in the whole of the weather, two more at one of its places each.
    for gauges, refrigerant, colds, hots in (
        (True, "R-410A", (5, 35, 60), (70, 95, 115)),
        (False, "R-407C", (35,), (115,)),
        (True, "R-290", (60,), (70,)),
    ):
        for outdoor in colds:
            made = healthy(layout, "heating", outdoor, 70, refrigerant, subcooling=3 if orifice else 9)
            if orifice and outdoor < 50:
                # Runs near zero superheat and near zero subcooling, healthy. [physics; the-trade.md 5]
                made.quality = 0.98
            elif orifice:
                # In mild weather load grows faster than its feed. [physics; the-trade.md 5]
                made.superheat = 16
            assert_sound(layout, made.run(gauges=gauges), refrigerant)
        for outdoor in hots:
            made = healthy(layout, "cooling", outdoor, 76, refrigerant)
            run = made.run(gauges=gauges)
            if orifice:
                # (3·wet bulb − 80 − outdoor)/2 = 9 °F.
                wet = (2 * 9 + 80 + outdoor) / 3
                run["readings"].append(
                    reading("return_air", round(min(wet, 75), 1), quantity="wet_bulb", method="probe")
                )
                if wet > 69:
                    # Air so damp is cooled by less than the plant cools it.
                    continue
            assert_sound(layout, run, refrigerant)


def assert_sound(layout, run, refrigerant):
    examination = examined(layout, run, refrigerant=refrigerant)
    failing = {c.code: c.explain for c in examination.runs[0].checks if c.status == "fail"}
    assert failing == {}, (run["mode"], refrigerant)
    assert examination.runs[0].doubts == []
    # An independent machine is not quite ours: nothing may be named of it.
    first = examination.ranking[0]
    assert first.fault == "none" or first.probability < 0.5, (first.fault, first.probability)


@pytest.mark.one_in(2)
@pytest.mark.parametrize("layout", TRUTH)
def test_an_underfeeding_meter_is_named_on_every_layout(layout):
    """Well in the other mode: that mode's meter, or, where one meter serves both, whatever both modes share."""
    unit = TRUTH[layout][0]
    one_meter = "none" in (unit["indoor_meter"]["kind"], unit["outdoor_meter"]["kind"])
    sick = ("cooling", "heating") if one_meter else ("cooling",)
    runs = [
        sick_run(layout, mode, "active_meter_underfeeding" if mode in sick else "none")
        for mode in ("cooling", "heating")
    ]
    examination = examined(layout, *runs, **SIZE)
    found = top(examination)
    assert "active_meter_underfeeding" in found or (one_meter and "liquid_line_restriction" in found), found
    if not one_meter:
        assert examination.ranking[0].mode == "cooling"


def test_healthy_in_both_modes():
    examination = examined(SPLIT, sound(SPLIT, "heating").run(), sound(SPLIT, "cooling").run())
    assert top(examination) == {"none"}
    checks = checks_of(examination)
    for code in (
        "active_drop",
        "bypass_drop",
        "pressure_split",
        "superheat_control",
        "drier_drop",
        "liquid_at_meter",
    ):
        assert checks[f"metering.{code}"].status == "pass", code
    roles = {d.part: d.role for d in examination.runs[0].devices}
    assert roles == {"indoor_meter": "bypassed", "drier": "drier", "outdoor_meter": "active"}


def test_a_check_valve_stuck_closed_in_heating_only():
    """The indoor meter's check: 150 psi are lost behind the condenser, the liquid flashes there."""
    heating = starved(SPLIT, "heating", drops={"indoor_meter_line_side": 150}).run()
    examination = examined(SPLIT, heating, sound(SPLIT, "cooling").run())
    assert top(examination) == {"bypass_stuck_closed"}
    check = checks_of(examination)["metering.bypass_drop"]
    assert check.status == "fail"
    assert "stuck closed" in check.explain
    assert {out.text: out.status for out in examination.ranking[0].rule_out}[
        "the other mode is sound"
    ] == "done"
    assert examination.ranking[0].settled
    # Felt or not: with plenty of subcooling the clamps see nothing, and the gauge at the liquid tap does.
    hidden = starved(SPLIT, "heating", subcooling=24, drops={"indoor_meter_line_side": 60}).run()
    unseen = examined(SPLIT, hidden, sound(SPLIT, "cooling").run())
    assert checks_of(unseen)["metering.bypass_drop"].status == "pass"
    assert checks_of(unseen)["metering.head_to_liquid"].status == "fail"


def test_working_sides_check_open_in_cooling_only():
    """More passes than the indoor meter would let: a wet return, pressures drawn together."""
    runs = [sick_run(SPLIT, "cooling", "active_meter_overfeeding"), sick_run(SPLIT, "heating")]
    examination = examined(SPLIT, *runs, **SIZE)
    assert top(examination) == {"active_meter_overfeeding"}
    assert examination.ranking[0].mode == "cooling"


def test_drier_restricting_below_the_flash_point_is_felt():
    cooling = starved(SPLIT, "cooling", subcooling=12, drops={"drier_indoor_side": 110}).run()
    heating = starved(SPLIT, "heating", subcooling=12, drops={"drier_outdoor_side": 110}).run()
    alone = examined(SPLIT, cooling)
    assert top(alone) == {"liquid_line_restriction"}
    drier = checks_of(alone)["metering.drier_drop"]
    assert drier.status == "fail"
    # 110 psi and the coil's 0.4 at each step before: said within a few psi of what was lost.
    said = float(drier.explain.split("About ")[1].split(" psi")[0])
    assert said == pytest.approx(111, abs=6)
    assert top(examined(SPLIT, cooling, heating)) == {"liquid_line_restriction"}


def test_drier_restricting_above_the_flash_point_feels_the_same_and_is_a_tie_in_heating():
    """In heating both drier and outdoor meter lie behind the liquid tap: what is read can't tell them apart."""
    drops = {"drier_outdoor_side": 35}
    heating = starved(SPLIT, "heating", subcooling=16, drops=drops).run()
    alone = examined(SPLIT, heating)
    assert checks_of(alone)["metering.drier_drop"].status == "pass"
    assert "could lose" in checks_of(alone)["metering.drier_drop"].explain


def test_the_line_and_the_meter_are_told_apart_by_turning_the_unit_round():
    """Both lie behind the liquid port in heating; in cooling the meter is bypassed, and the line is not. [physics]"""
    for fault, cooling in (
        ("liquid_line_restriction", "liquid_line_restriction"),
        ("active_meter_underfeeding", "none"),
    ):
        runs = [sick_run(SPLIT, "heating", fault), sick_run(SPLIT, "cooling", cooling)]
        assert top(examined(SPLIT, *runs, **SIZE)) == {fault}
    # As little of a restriction as a valve makes up for is not called one; turning the unit round is asked for.
    alone = examined(SPLIT, machine_run(SPLIT, "heating", 57, 70, "liquid_line_restriction", 100.0), **SIZE)
    assert alone.ranking[0].probability < 0.9
    assert any(wanted.switch_mode and wanted.mode == "cooling" for wanted in alone.next_readings)


def test_what_starves_is_told_from_too_little_charge_by_the_liquid():
    starving = sick_run(SPLIT, "cooling", "active_meter_underfeeding")
    of_liquid = {s for s in path_of(SPLIT, "cooling") if "liquid" in s or "drier" in s or "meter" in s}
    of_liquid |= {"liquid_service_tap", "discharge_tap", "outdoor_coil"}
    blind = {**starving, "readings": [r for r in starving["readings"] if r["station"] not in of_liquid]}
    found = examined(SPLIT, blind, **SIZE)
    assert "undercharge" not in top(found) or {n.station for n in found.next_readings} & of_liquid
    assert top(examined(SPLIT, starving, **SIZE)) == {"active_meter_underfeeding"}
    for fault in ("undercharge", "overcharge"):
        for modes in (("cooling",), ("cooling", "heating")):
            runs = [sick_run(SPLIT, mode, fault) for mode in modes]
            assert top(examined(SPLIT, *runs, **SIZE)) == {fault}


def test_a_starved_circuit_stands_out():
    run = sound(SPLIT, "cooling").run()
    run["readings"] += [reading(f"indoor_circuit:{n}", t) for n, t in ((1, 48), (2, 49), (3, 66), (4, 47.5))]
    examination = examined(SPLIT, run)
    assert checks_of(examination)["metering.circuits"].status == "fail"
    assert "circuit 3" in checks_of(examination)["metering.circuits"].explain
    assert top(examination) == {"coil_circuit_starved"}


def test_an_expansion_valve_is_not_condemned_before_what_mimics_it_is_settled():
    run = starved(SPLIT, "cooling", condensing=112).run()
    bulbs = {
        "indoor_meter": {"kind": "txv", "bypass": "internal_check", "bulb_at": "common_suction"},
        "outdoor_meter": {"kind": "txv", "bypass": "internal_check", "bulb_at": "common_suction"},
    }
    examination = examined(SPLIT, run, **bulbs)
    first = examination.ranking[0]
    assert (first.fault, first.replaces, first.settled) == (
        "active_meter_underfeeding",
        "the indoor TXV",
        False,
    )
    assert "eplace the indoor TXV" not in examination.verdict
    outs = {out.text: out.status for out in first.rule_out}
    assert outs["the bulb is on the line that carries suction gas while its valve meters"] == "done"
    assert outs["subcooled liquid reaches its inlet"] == "done"
    assert outs["the inlet screen is clear"] == "open"
    run["observations"] = [{"code": "bulb_loose"}]
    assert checks_of(examined(SPLIT, run, **bulbs))["metering.bulb"].status == "fail"


def test_what_a_unit_does_not_have_is_not_asked_for():
    ductless = next(name for name in TRUTH if name.startswith("ductless"))
    examination = examined(ductless, sound(ductless, "cooling").run())
    codes = checks_of(examination)
    assert "metering.bypass_drop" not in codes
    assert "metering.drier_drop" not in codes
    assert not any("drier" in n.station for n in examination.next_readings)
    assert [d.role for d in examination.runs[0].devices] == ["active"]


@pytest.mark.parametrize("layout", [name for name in TRUTH if "water" not in name])
@pytest.mark.parametrize("mode", ["heating", "cooling"])
def test_a_device_is_ruled_out_by_the_parts_it_has(layout, mode):
    """A piston has no bulb and no equalizer, an EEV is driven by sensors, a capillary can be pinched. [common practice]"""
    own = {
        "txv": "the equalizer is open",
        "eev": "its sensors read right",
        "piston": "the orifice is",
        "capillary": "the tube is",
    }
    examination = examined(layout, starved(layout, mode).run())
    unit = TRUTH[layout][0]
    at_evaporator, other = (
        ("indoor_meter", "outdoor_meter") if mode == "cooling" else ("outdoor_meter", "indoor_meter")
    )
    active = unit[at_evaporator]["kind"] if unit[at_evaporator]["kind"] != "none" else unit[other]["kind"]
    faults = [one for one in examination.ranking if one.fault == "active_meter_underfeeding"]
    assert faults
    for one in faults:
        texts = " ".join(out.text for out in one.rule_out)
        assert {kind for kind, words in own.items() if words in texts} == {active}
        assert ("bulb" in texts) == (active == "txv")


@pytest.mark.parametrize("layout", [name for name in TRUTH if "water" not in name])
@pytest.mark.parametrize("mode", ["heating", "cooling"])
@pytest.mark.parametrize("drive", ["single", "inverter"])
def test_the_first_step_is_of_parts_the_unit_has(layout, mode, drive):
    """No bulb on a piston, no capacitor on an inverter, no drier where none is fitted. [common practice]"""
    changed = {"compressor": {"kind": drive}, "drier": {"kind": "none"}}
    described = Unit.model_validate({**visit_document()["unit"], **TRUTH[layout][0], **changed})
    side = meters(described, mode)[0]
    active = {"indoor": described.indoor_meter, "outdoor": described.outdoor_meter}[side].kind
    for fault in ("active_meter_underfeeding", "active_meter_overfeeding"):
        assert ("bulb" in first_step(described, fault, mode)) == (active == "txv")
    steps = " ".join(
        first_step(described, one, mode) for one in ("compressor_not_running", "compressor_weak")
    )
    assert ("capacitor" in steps) == (drive != "inverter")
    assert part_on(described, "liquid_line_restriction", mode) is None

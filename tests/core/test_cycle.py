"""The measured cycle and the heat balance, against CoolProp and iapws at rating conditions."""

import json
from importlib.resources import files

import pytest
from test_exchange import BTU, GPM, checked

from builders import reading
from cases import SPLIT, examined, sound, top
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from lazily import Lazily
from plant import ATMOSPHERE, PSI, Plant, fluid, kelvin

iapws = Lazily("iapws")

TO_AIR = "water to air, one two-way thermostatic valve"
KJ = 2326.0  # J/kg in a Btu/lb
GALLONS, CFM, TAKEN_UP = 9.0, 1200.0, 8500.0
FAN = 0.365 * CFM  # W, the usual heat of a supply fan for its flow [AHRI 210/240, from memory]


@pytest.mark.parametrize("mode", ["cooling", "heating"])
@pytest.mark.parametrize("refrigerant", ["R-410A", "R-22", "R-454B"])
def test_corners_of_the_cycle_against_coolprop(mode, refrigerant):
    """AHRI 210/240 air temperatures: 95 and 80 °F in cooling, 47 and 70 °F in heating. [from memory]"""
    made: Plant = sound(SPLIT, mode)
    made.refrigerant = refrigerant
    made.outdoor, made.indoor = (95.0, 80.0) if mode == "cooling" else (47.0, 70.0)
    examination = examined(SPLIT, made.run(), refrigerant=refrigerant)
    corners = {corner.corner: corner for corner in examination.runs[0].cycle}
    assert [*corners] == [
        "evaporator_out", "compressor_in", "compressor_out", "condenser_out", "meter_in", "meter_out",
    ]  # fmt: skip
    f, values = fluid(refrigerant), made.solve()
    pressure = {code: values[code] * PSI + ATMOSPHERE for code in ("common_suction_tap", "discharge_tap")}
    low, high = pressure.values()
    truth = {
        "compressor_in": f.vapor_h(kelvin(values["compressor_inlet"]), low),
        "compressor_out": f.vapor_h(kelvin(values["discharge_line"]), high),
        "condenser_out": f.liquid_h(kelvin(corners["condenser_out"].temperature.value), high),
        "meter_out": made.flash_h,
    }
    # Enthalpy has no zero of its own: differences count.
    zero = corners["compressor_in"].enthalpy.value - truth["compressor_in"] / KJ
    for name, expected in truth.items():
        found = corners[name].enthalpy
        assert found.value - zero == pytest.approx(expected / KJ, abs=0.35), name
        assert corners[name].told
    assert corners["compressor_in"].pressure.value == pytest.approx(low / PSI, rel=1e-3)
    assert corners["compressor_in"].source == "gauge"
    assert set(corners["compressor_out"].uses) >= {"discharge_line", "discharge_tap"}
    # Without gauges the bends give the pressures, and that is said.
    bare = examined(SPLIT, made.run(gauges=False), refrigerant=refrigerant).runs[0].cycle
    assert {corner.source for corner in bare} == {"bend"}
    assert "outdoor_coil" in {code for corner in bare for code in corner.uses}


def test_a_corner_on_the_saturation_line_says_that_no_thermometer_tells():
    made = sound(SPLIT, "heating", quality=0.97)
    corners = {corner.corner: corner for corner in examined(SPLIT, made.run()).runs[0].cycle}
    assert not corners["evaporator_out"].told
    assert corners["compressor_out"].told


def rated(mode, water, *, flow=GALLONS, power=True, **more):
    """A water-to-air unit at an ISO 13256-1 entering water temperature, its heat worked out by CoolProp and iapws."""
    made = sound(TO_AIR, mode, **more)
    made.outdoor, made.indoor = water, 68.0 if mode == "heating" else 80.6
    made.evaporating = (made.indoor - 34) if mode == "cooling" else water - 12
    made.condensing = (water + 12) if mode == "cooling" else made.indoor + 30
    work, rejected = made.duty(TAKEN_UP)
    state = iapws.IAPWS95(T=kelvin(water), P=0.3)
    through = GALLONS * GPM * state.rho * state.cp * 1000
    leaving = water + (rejected if mode == "cooling" else -TAKEN_UP) / through * 1.8
    made.supply_change = -19 if mode == "cooling" else (rejected + FAN) / BTU / (1.08 * CFM)
    readings = [
        reading("source_water_out", round(leaving, 2), method="probe"),
        reading("source_water", flow, quantity="flow", unit="gpm", method="meter"),
        reading("indoor_airflow", CFM, quantity="flow", unit="cfm", method="meter"),
    ]
    if power:
        # A twentieth of what the motor draws leaves by the shell. [common practice]
        drawn = reading("compressor", work / 0.95, quantity="power", unit="W", method="meter")
        readings.append(drawn)
    examination = examined(TO_AIR, made.run(more=readings))
    return examination, checked(examination)["exchange.balance"], (work, rejected)


# Loop, ground-water and ground-loop conditions. [ISO 13256-1, from memory]
@pytest.mark.parametrize(
    ("mode", "water"), [("heating", t) for t in (68, 50, 32)] + [("cooling", t) for t in (86, 59, 77)]
)
def test_heat_rejected_is_heat_taken_up_and_work_at_rating_conditions(mode, water):
    examination, check, (work, rejected) = rated(mode, float(water))
    found = examination.runs[0].indicators
    assert check.status in ("pass", "watch"), check.explain
    assert abs(found["heat_balance"].value) < 6
    assert abs(found["heat_balance"].value) < found["heat_balance"].uncertainty
    assert found["compressor_power"].value == pytest.approx(work / 0.95, rel=1e-3)
    for coil, truth in (("evaporator", TAKEN_UP), ("condenser", rejected)):
        heat = found[f"{coil}_heat_refrigerant"]
        assert heat.value * BTU == pytest.approx(truth, rel=0.06)
        assert abs(heat.value * BTU - truth) < heat.uncertainty * BTU
    # Cooling without wet bulbs does not know what the air was dried by: that term follows from the cycle.
    assert ("by the cycle" in check.explain) == (mode == "cooling")


def test_what_was_not_measured_follows_from_the_cycle_and_a_wrong_flow_shows():
    _, check, _ = rated("heating", 50.0, power=False)
    assert check.status in ("pass", "watch")
    assert "(by the cycle)" in check.explain
    examination, check, _ = rated("heating", 50.0, flow=2 * GALLONS)
    assert check.status == "fail"
    assert "too little is rejected" in check.explain
    suspect = {r.fault: r.probability for r in examination.ranking}["reading_suspect"]
    honest = {r.fault: r.probability for r in rated("heating", 50.0)[0].ranking}["reading_suspect"]
    assert suspect > 10 * honest


def test_power_from_current_and_voltage():
    """Single phase: current × voltage × power factor. [physics; the usual factor is common practice]"""
    made = sound(SPLIT, "cooling")
    more = [
        reading("compressor", 10.5, quantity="current", unit="A", method="meter"),
        reading("compressor", 236, quantity="voltage", unit="V", method="meter"),
    ]
    found = examined(SPLIT, made.run(more=more)).runs[0].indicators["compressor_power"]
    assert found.unit == "W"
    assert abs(found.value - 10.5 * 236 * 0.95) < found.uncertainty < 0.1 * found.value


def test_a_ratio_is_held_to_what_the_entering_temperatures_call_for():
    f = fluid("R-410A")
    ratio = f.pressure(kelvin(114), 0) / f.pressure(kelvin(42), 1)
    examination = examined(SPLIT, sound(SPLIT, "cooling", condensing=114, evaporating=42).run())
    assert examination.runs[0].indicators["compression_ratio"].value == pytest.approx(ratio, rel=0.02)
    assert checked(examination)["compressor.pressure_ratio"].status == "pass"
    lifted = checked(examined(SPLIT, sound(SPLIT, "cooling", condensing=140, evaporating=32).run()))
    assert lifted["compressor.pressure_ratio"].status == "fail"
    assert "airflow" in lifted["compressor.pressure_ratio"].explain


def test_superheat_at_the_evaporator_says_what_the_coil_does():
    for superheat, status, words in (
        (10, "pass", "should show"),
        (30, "fail", "starved"),
        (0.5, "fail", "overfed"),
    ):
        run = sound(SPLIT, "cooling", superheat=superheat).run()
        check = checked(examined(SPLIT, run))["metering.superheat_control"]
        assert check.status == status
        assert words in check.explain


def test_a_boiling_line_warmer_than_the_liquid_that_feeds_it_is_two_clamps_exchanged():
    """Behind the meter it boils: it can't be warmer than the liquid in front. [physics]"""
    run = sound(SPLIT, "heating").run()
    pair = ("outdoor_meter_line_side", "outdoor_meter_coil_side")
    taken = {r["station"]: r for r in run["readings"]}
    taken[pair[0]]["value"], taken[pair[1]]["value"] = taken[pair[1]]["value"], taken[pair[0]]["value"]
    examination = examined(SPLIT, run)
    doubted = {code for doubt in examination.runs[0].doubts for code in doubt.stations}
    assert set(pair) <= doubted
    assert top(examination) == {"reading_suspect"}


def test_heat_that_does_not_add_up_makes_a_reading_suspect_before_any_part():
    """Nothing else need look wrong for it. [physics]"""
    examination, check, _ = rated("heating", 50.0, flow=3 * GALLONS)
    assert check.status == "fail"
    order = [ranked.fault for ranked in examination.ranking]
    assert set(order[:2]) == {"reading_suspect", "none"}


def test_the_one_reading_that_does_not_fit_is_named_with_what_it_should_have_been():
    """A discharge line typed 15 °F too hot takes nothing from what the water side says, and the rest says what it is."""
    document = json.loads(files("icepick.demo").joinpath("visits/ice-house-now.json").read_text("utf-8"))
    (taken,) = [r for r in document["runs"][0]["readings"] if r["station"] == "discharge_line"]
    true, taken["value"] = taken["value"], taken["value"] + 15
    found = examine(parse_visit(json.dumps(document)))
    assert found.ranking[0].fault == "source_coil_fouled"
    assert "First read again: discharge line" in found.verdict
    suspect = found.ranking[0].suspect
    assert suspect is not None
    assert (suspect.station, suspect.quantity) == ("discharge_line", "temperature")
    assert abs(suspect.should.value - true) <= suspect.should.uncertainty

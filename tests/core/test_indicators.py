"""Every figure of a run against CoolProp: each layout, both modes, the refrigerants of the field, both unit systems.

The machine is solved by tests/plant.py; what each figure should be follows here from its temperatures and pressures by the
definitions of the-trade.md 3 to 5, station by station, with CoolProp's properties.
"""

from __future__ import annotations

import json
from functools import cache

import pytest

from builders import visit_document
from cases import SPLIT, examined, sound
from icepick.core.document.examination import Examination, Indicator
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.practice import DEFAULT_PRACTICE
from layouts import TRUTH
from plant import ATMOSPHERE, PSI, Plant, fahrenheit, fluid, kelvin

MODES = ("cooling", "heating")
REFRIGERANTS = ("R-410A", "R-32", "R-454B")
EVERY = [(layout, mode, refrigerant) for layout in TRUTH for mode in MODES for refrigerant in REFRIGERANTS]
WITHIN = 0.12
"""°F: what is typed is typed to a tenth."""


@cache
def made(layout: str, mode: str, refrigerant: str) -> tuple[Plant, dict[str, float], dict[str, Indicator]]:
    """A machine that bypasses a little, so that no figure is nothing; what stands at its stations; its figures."""
    plant = sound(layout, mode, refrigerant=refrigerant, superheat=16, subcooling=11, bypass=0.06)
    found: Examination = examined(layout, plant.run(), refrigerant=refrigerant)
    return plant, plant.solve(), found.runs[0].indicators


def absolute(psig: float) -> float:
    return psig * PSI + ATMOSPHERE


def at(refrigerant: str, psig: float, quality: float) -> float:
    return fahrenheit(fluid(refrigerant).saturation(absolute(psig), quality))


def line_of(indicator: Indicator) -> str:
    """The one pipe a figure rests on."""
    (line,) = (code for code in indicator.uses if not code.endswith("_tap"))
    return line


def tap_of(indicator: Indicator) -> str:
    (tap,) = (code for code in indicator.uses if code.endswith("_tap"))
    return tap


def close(indicator: Indicator, value: float, within: float) -> None:
    """As it should be, and honest about it: the truth lies in its band."""
    assert indicator.value == pytest.approx(value, abs=within)
    assert indicator.uncertainty > 0
    assert abs(indicator.value - value) <= indicator.uncertainty


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("layout", "mode", "refrigerant"), EVERY)
def test_superheat_is_the_line_over_dew(layout, mode, refrigerant):
    plant, values, found = made(layout, mode, refrigerant)
    for name in ("superheat", "total_superheat"):
        one = found[name]
        close(one, values[line_of(one)] - at(refrigerant, values[tap_of(one)], 1), WITHIN)
        # In heating the vapor line's port is on the high side.
        assert tap_of(one) == "common_suction_tap"
    assert found["superheat"].value == pytest.approx(plant.superheat, abs=1.2)
    assert found["total_superheat"].value > found["superheat"].value


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("layout", "mode", "refrigerant"), EVERY)
def test_subcooling_is_bubble_over_the_line(layout, mode, refrigerant):
    plant, values, found = made(layout, mode, refrigerant)
    one = found["subcooling"]
    line = line_of(one)
    assert list(plant.path).index(plant.coils[0]) < list(plant.path).index(line)
    if tap_of(one) == "liquid_service_tap":
        close(one, at(refrigerant, values["liquid_service_tap"], 0) - values[line], WITHIN)
    else:
        # By the head, less what a coil usually loses: wider, and it says so.
        close(one, plant.condensing - values[line], 3.5)
        assert one.uncertainty > 1


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("layout", "mode", "refrigerant"), EVERY)
def test_saturations_ratio_and_splits(layout, mode, refrigerant):
    plant, values, found = made(layout, mode, refrigerant)
    close(found["evaporating_temperature"], plant.evaporating, WITHIN)
    assert found["condensing_temperature"].value == pytest.approx(plant.condensing, abs=2)
    ratio = absolute(values["discharge_tap"]) / absolute(values["common_suction_tap"])
    close(found["compression_ratio"], ratio, 0.01)
    cooled, heated = (plant.indoor, plant.outdoor) if mode == "cooling" else (plant.outdoor, plant.indoor)
    close(found["evaporator_split"], cooled - plant.evaporating, WITHIN)
    assert found["condenser_split"].value == pytest.approx(plant.condensing - heated, abs=2)


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("layout", "mode", "refrigerant"), EVERY)
def test_the_four_pipes_at_the_valve(layout, mode, refrigerant):
    plant, values, found = made(layout, mode, refrigerant)
    hot, back = (
        ("valve_to_outdoor", "valve_to_indoor")
        if mode == "cooling"
        else ("valve_to_indoor", "valve_to_outdoor")
    )
    close(found["valve_suction_rise"], values["common_suction"] - values[back], WITHIN)
    close(found["valve_discharge_drop"], values["discharge_line"] - values[hot], WITHIN)
    over = (values["valve_to_outdoor"] - values["valve_to_indoor"]) / (
        values["discharge_line"] - values["common_suction"]
    )
    close(found["valve_position_index"], over, 0.01)
    assert (found["valve_position_index"].value > 0.8) == (mode == "cooling")
    close(found["valve_bypass_fraction"], 100 * plant.bypass, 1.5)


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("layout", "mode", "refrigerant"), EVERY)
def test_what_each_device_takes(layout, mode, refrigerant):
    """Which device meters is written out by hand in tests/layouts.py."""
    _, values, found = made(layout, mode, refrigerant)
    active, bypassed = TRUTH[layout][2 if mode == "cooling" else 4]
    for role, side in (("active", active), ("bypassed", bypassed)):
        one = found.get(f"{role}_meter_drop")
        if side is None:
            assert one is None
            continue
        ends = [f"{side}_meter_line_side", f"{side}_meter_coil_side"]
        # A metering device feeds its own coil where another stands at the other; one alone is fed by its coil in one mode.
        lost = values[ends[0]] - values[ends[1]]
        close(one, abs(lost) if role == "active" else -lost, WITHIN)
        assert sorted(one.uses) == sorted(ends)
    drier = TRUTH[layout][0]["drier"]["kind"] != "none"
    assert ("drier_drop" in found) == drier
    if drier:
        close(found["drier_drop"], abs(values["drier_outdoor_side"] - values["drier_indoor_side"]), WITHIN)


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("layout", "mode", "refrigerant"), EVERY)
def test_flash_gas_is_what_constant_enthalpy_leaves(layout, mode, refrigerant):
    plant, values, found = made(layout, mode, refrigerant)
    f, one = fluid(refrigerant), found["flash_fraction"]
    low = f.pressure(kelvin(plant.evaporating), 1)
    inlet = next(code for code in one.uses if "_meter_" in code or code.startswith("liquid"))
    liquid = f.mixture_h(f.pressure(kelvin(values[inlet]), 0), 0)
    close(one, 100 * f.mixture_quality(low, liquid), 0.6)


@pytest.mark.parametrize("refrigerant", REFRIGERANTS)
@pytest.mark.parametrize("mode", MODES)
@pytest.mark.parametrize("efficiency", [0.55, 0.68, 0.8])
def test_the_isentropic_share_is_ideal_over_real_work(mode, refrigerant, efficiency):
    plant = sound(SPLIT, mode, refrigerant=refrigerant, superheat=14, efficiency=efficiency)
    values, f = plant.solve(), fluid(refrigerant)
    found = examined(SPLIT, plant.run(), refrigerant=refrigerant).runs[0].indicators
    low, high = absolute(values["common_suction_tap"]), absolute(values["discharge_tap"])
    inlet, outlet = kelvin(values["compressor_inlet"]), kelvin(values["discharge_line"])
    start = f.vapor_h(inlet, low)
    entropy = f.vapor_s(inlet, low)
    # The gas that leaves an ideal compressor, by halving.
    cold, hot = f.saturation(high, 1) + 0.01, outlet + 60
    while hot - cold > 1e-4:
        middle = (cold + hot) / 2
        cold, hot = (middle, hot) if f.vapor_s(middle, high) < entropy else (cold, middle)
    share = (f.vapor_h(cold, high) - start) / (f.vapor_h(outlet, high) - start)
    close(found["compressor_isentropic_share"], 100 * share, 1.5)


PER = {"delta_degF": 1 / 1.8, "Btu/h": 0.000293071, "psi": PSI / 1e3, "percent": 1, "1": 1, "W": 1}
METRIC = {"delta_degF": "delta_degC", "Btu/h": "kW", "psi": "kPa"}


@pytest.mark.parametrize("mode", MODES)
def test_metric_figures_are_the_same_figures(mode):
    """A temperature has an offset, a difference has none; and neither has a band."""
    visit = parse_visit(json.dumps(visit_document(sound(SPLIT, mode, superheat=14).run())))
    field, metric = (
        examine(visit, DEFAULT_PRACTICE, units).runs[0].indicators for units in ("field", "metric")
    )
    assert list(field) == list(metric)
    for name, one in field.items():
        other = metric[name]
        if one.unit == "degF":
            expected, unit, per = (one.value - 32) / 1.8, "degC", 1 / 1.8
        else:
            per, unit = PER[one.unit], METRIC.get(one.unit, one.unit)
            expected = one.value * per
        assert other.unit == unit, name
        assert other.value == pytest.approx(expected, rel=2e-3, abs=0.06), name
        assert other.uncertainty == pytest.approx(one.uncertainty * per, rel=0.02, abs=0.06), name


def test_a_figure_that_lacks_a_reading_is_not_there():
    """Unknown is not zero."""
    plant = sound(SPLIT, "cooling")
    whole = examined(SPLIT, plant.run()).runs[0].indicators
    for missing, gone in (
        ("common_suction", {"valve_suction_rise", "valve_position_index", "valve_bypass_fraction"}),
        (
            "discharge_line",
            {
                "valve_discharge_drop",
                "valve_position_index",
                "valve_bypass_fraction",
                "compressor_isentropic_share",
            },
        ),
        ("return_air", {"evaporator_split"}),
        ("outdoor_air_in", {"condenser_split"}),
        ("drier_indoor_side", {"drier_drop"}),
        ("outdoor_meter_line_side", {"bypassed_meter_drop"}),
        ("indoor_meter_coil_side", {"active_meter_drop"}),
    ):
        left = examined(SPLIT, plant.run(without=(missing,))).runs[0].indicators
        assert gone <= whole.keys() - left.keys(), missing
        for name, one in left.items():
            assert missing not in one.uses
            # What the valve's body conducts hangs on the weather.
            if missing not in whole[name].uses and name != "valve_bypass_fraction":
                assert (one.value, one.unit) == (whole[name].value, whole[name].unit)


def test_early_readings_are_shown_and_carry_no_judgement():
    plant = sound(SPLIT, "cooling", bypass=0.3)
    early = examined(SPLIT, plant.run(minutes=2)).runs[0]
    assert early.indicators["valve_bypass_fraction"].value == pytest.approx(30, abs=3)
    flowing = [check for check in early.checks if check.code.startswith(("valve.", "metering.", "exchange."))]
    assert flowing
    assert {check.status for check in flowing} <= {"watch", "needs_readings"}


def test_a_reading_in_another_unit_is_the_same_reading():
    plant = sound(SPLIT, "heating")
    field = plant.run()
    turned = [
        {**one, "value": (one["value"] - 32) / 1.8, "unit": "degC"}
        if one["unit"] == "degF"
        else {**one, "value": one["value"] * PSI / 1e5, "unit": "bar"}
        for one in field["readings"]
    ]
    one, other = (
        examined(SPLIT, {**field, "readings": readings}).runs[0] for readings in (field["readings"], turned)
    )
    assert [(c.code, c.status) for c in one.checks] == [(c.code, c.status) for c in other.checks]
    for name, figure in one.indicators.items():
        assert other.indicators[name].value == pytest.approx(figure.value, rel=1e-3, abs=0.02), name

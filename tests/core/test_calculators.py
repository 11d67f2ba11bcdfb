"""Air, water and the small calculators against published values and independent libraries."""

import pytest

from builders import SPLIT_UNIT
from icepick.core.document.visit import Unit
from icepick.core.handbook.calculators import CALCULATORS, CalculatorError, work
from icepick.core.properties import formulas, moist_air, sensors, water
from icepick.core.properties.quantities import Kind, from_si, to_si
from lazily import Lazily
from plant import fluid, kelvin

iapws, mpcalc, u = Lazily("iapws"), Lazily("metpy.calc"), Lazily("metpy.units", "units")

SEA = moist_air.SEA_LEVEL_PRESSURE
CFM, GPM, BTU = (
    to_si(1, "cfm", Kind.AIR_FLOW),
    to_si(1, "gpm", Kind.WATER_FLOW),
    to_si(1, "Btu/h", Kind.POWER),
)


@pytest.mark.parametrize(
    ("celsius", "humidity"), [(35, 0.4), (26.7, 0.51), (8.3, 0.73), (-8.3, 0.7), (0.5, 0.95)]
)
def test_moist_air_against_metpy(celsius, humidity):
    t, p = celsius + 273.15, 98_000.0
    ratio = moist_air.humidity_ratio(t, p, relative_humidity=humidity)
    dew = mpcalc.dewpoint_from_relative_humidity(celsius * u.degC, humidity * u.dimensionless)
    # Below freezing PsychroLib's dew point is over ice, MetPy's over water.
    if celsius > 5:
        assert moist_air.dew_point(t, ratio, p) - 273.15 == pytest.approx(dew.to("degC").m, abs=0.15)
        expected = mpcalc.mixing_ratio_from_relative_humidity(
            p * u.Pa, celsius * u.degC, humidity * u.dimensionless
        )
        assert ratio == pytest.approx(expected.m, rel=0.01)
        wet = mpcalc.wet_bulb_temperature(p * u.Pa, celsius * u.degC, dew).to("degC").m
        assert moist_air.wet_bulb(t, ratio, p) - 273.15 == pytest.approx(wet, abs=0.3)
    expected = mpcalc.density(p * u.Pa, celsius * u.degC, ratio * u("kg/kg")).to("kg/m^3").m
    assert moist_air.density(t, ratio, p) == pytest.approx(expected, rel=0.003)


def test_moist_air_against_ashrae_worked_values():
    # ASHRAE Fundamentals, chapter 1, worked example "state from dry and wet bulb": 100 °F dry, 65 °F wet at
    # 14.696 psia: W = 0.00523, h = 29.80 Btu/lb, dew point 40 °F. [from memory]
    dry, wet = kelvin(100), kelvin(65)
    ratio = moist_air.humidity_ratio(dry, SEA, wet_bulb=wet)
    assert ratio == pytest.approx(0.00523, rel=0.01)
    assert from_si(moist_air.dew_point(dry, ratio, SEA), "degF", Kind.TEMPERATURE) == pytest.approx(
        40, abs=0.5
    )
    # Standard atmosphere, table 1: 12.228 psia at 5000 ft.
    assert moist_air.standard_pressure(5000 * 0.3048) / 6894.757 == pytest.approx(12.228, abs=0.003)


def test_total_capacity_against_metpy():
    entering, leaving, flow = (kelvin(80), kelvin(67)), (kelvin(58), kelvin(56.5)), 1200 * CFM
    found = formulas.total_heat(flow, entering, leaving, SEA)

    def state(dry, wet):
        td = mpcalc.dewpoint_from_relative_humidity(
            dry * u.K, mpcalc.relative_humidity_wet_psychrometric(SEA * u.Pa, dry * u.K, wet * u.K)
        )
        w = mpcalc.mixing_ratio(mpcalc.saturation_vapor_pressure(td), SEA * u.Pa).m
        return w, 1006 * (dry - 273.15) + w * (2_501_000 + 1860 * (dry - 273.15))

    (w_in, h_in), (_, h_out) = state(*entering), state(*leaving)
    density = mpcalc.density(SEA * u.Pa, entering[0] * u.K, w_in * u("kg/kg")).to("kg/m^3").m
    assert found == pytest.approx(flow * density / (1 + w_in) * (h_in - h_out), rel=0.02)
    # Three tons of cooling at the AHRI 210/240 indoor condition (80/67 °F) from 1200 cfm. [published; from memory]
    assert 32_000 < found / BTU < 40_000


def test_the_trades_108_and_500():
    # 1.08 at sea level and 70 °F, the customary figure.
    assert formulas.sensible_heat(CFM, 1 / 1.8, SEA, kelvin(70)) / BTU == pytest.approx(1.08, abs=0.01)
    high = formulas.sensible_heat(CFM, 1 / 1.8, moist_air.standard_pressure(1609.0), kelvin(70)) / BTU
    assert high == pytest.approx(1.08 * 0.823, abs=0.01)
    # 15 kW raising air by 42.3 °F is 1120 cfm: W × 3.412 / (1.08 × ΔT).
    flow = formulas.airflow_from_heater(15_000, 42.3 / 1.8, SEA, kelvin(70))
    assert flow / CFM == pytest.approx(15_000 * 3.412 / (1.08 * 42.3), rel=0.01)

    for fahrenheit in (40, 60, 86):
        reference = iapws.IAPWS95(T=kelvin(fahrenheit), P=0.3)
        expected = reference.rho * reference.cp * 1000
        assert water.volumetric_heat("water", 0, kelvin(fahrenheit)) == pytest.approx(expected, rel=1e-4)
        assert water.fluid_factor("water", 0, kelvin(fahrenheit)) == pytest.approx(500, rel=0.01)
    # "About 485 for common antifreeze mixes": glycols lie around it; 20 % of an alcohol carries as much as water.
    for mix in ("propylene_glycol", "ethylene_glycol"):
        assert water.fluid_factor(mix, 0.2, kelvin(45)) == pytest.approx(485, rel=0.03)
    assert water.heat(9 * GPM, 6 / 1.8, 500) / BTU == pytest.approx(27_000, rel=1e-3)


@pytest.mark.parametrize("refrigerant", ["R-410A", "R-32", "R-454B", "R-407C", "R-290"])
def test_flash_and_the_unfelt_pressure_against_coolprop(refrigerant):
    f = fluid(refrigerant)
    liquid, evaporating, bubble_at = kelvin(90), kelvin(40), kelvin(105)
    low = f.pressure(evaporating, 1)
    expected = f.mixture_quality(low, f.liquid_h(liquid, f.pressure(bubble_at, 0)))
    assert formulas.flash_fraction(refrigerant, liquid, evaporating) == pytest.approx(expected, abs=0.004)
    lost = formulas.pressure_before_flash(refrigerant, f.pressure(bubble_at, 0), liquid)
    assert lost == pytest.approx(f.pressure(bubble_at, 0) - f.pressure(liquid, 0), rel=2e-3)
    high = f.pressure(kelvin(100), 0)
    assert formulas.subcooling(refrigerant, high, kelvin(91)) * 1.8 == pytest.approx(9, abs=0.03)
    assert formulas.superheat(refrigerant, low, kelvin(51)) * 1.8 == pytest.approx(11, abs=0.03)


def test_target_superheat_and_the_sensor():
    # (3 × 63 − 80 − 95) / 2 = 7 °F. [common practice]
    assert formulas.target_superheat(kelvin(63), kelvin(95)) * 1.8 == pytest.approx(7)
    assert formulas.target_superheat(kelvin(55), kelvin(110)) == 0
    assert sensors.temperature(10_000) == pytest.approx(kelvin(77), abs=0.01)
    for t in (260.0, 283.7, 330.0):
        assert sensors.temperature(sensors.resistance(t)) == pytest.approx(t, abs=1e-6)
    with pytest.raises(ValueError, match="outside the sensor's table"):
        sensors.temperature(1e6)
    # The unit's own table wins over the default.
    rows = [
        {"temperature": {"value": t, "unit": "degF"}, "resistance": {"value": r, "unit": "kohm"}}
        for t, r in ((32, 16.3), (77, 5.0))
    ]
    bare = Unit.model_validate(SPLIT_UNIT)
    own = Unit.model_validate({**SPLIT_UNIT, "design": {"sensor_table": rows}})
    assert bare.design is None
    assert sensors.table_of(None) == sensors.DEFAULT_TABLE
    assert sensors.temperature(5000, sensors.table_of(own.design.sensor_rows)) == pytest.approx(
        kelvin(77), abs=0.01
    )


def test_water_flow_follows_the_makers_table_and_stays_in_it():
    rows = [(1.0, 4.0), (2.0, 6.0), (4.0, 9.0), (7.0, 12.0)]
    flows = [formulas.flow_from_drop(drop / 10, rows) for drop in range(10, 71)]
    assert flows == sorted(flows)
    assert formulas.flow_from_drop(2.0, rows) == pytest.approx(6.0)
    # A coil whose drop goes with the square of its flow is met exactly between the rows. [physics]
    square = [(0.1 * flow**2, flow) for flow in (3.0, 6.0, 12.0)]
    assert formulas.flow_from_drop(0.1 * 7.7**2, square) == pytest.approx(7.7)
    for drop in (0.9, 7.1):
        with pytest.raises(ValueError, match="outside the manufacturer's table"):
            formulas.flow_from_drop(drop, rows)


def test_balance_point_of_two_lines():
    # Capacity 34 000 at 47 °F and 20 000 at 17 °F; load 42 000 at 5 °F, none at 62 °F: by hand, 27.9 °F.
    found = formulas.balance_point((47, 34_000), (17, 20_000), (5, 42_000), 62)
    capacity, load = 20_000 + (found - 17) * 14_000 / 30, 42_000 * (62 - found) / 57
    assert capacity == pytest.approx(load)
    with pytest.raises(ValueError, match="never"):
        formulas.balance_point((47, 30_000), (17, 30_000 + 30 * 42_000 / 57), (5, 42_000), 62)


def defaults(entry):
    return {i.name: (i.default, i.unit) if isinstance(i.kind, Kind) else i.default for i in entry.inputs}


@pytest.mark.parametrize("entry", CALCULATORS, ids=lambda c: c.code)
def test_every_calculator_answers_its_defaults_and_refuses_what_it_cannot(entry):
    for units in ("field", "metric"):
        answer = work(entry.code, defaults(entry), units)
        assert answer.results
        assert answer.formula
        assert "{" not in answer.formula
    for wanted in entry.inputs:
        if isinstance(wanted.kind, Kind):
            with pytest.raises(CalculatorError, match="outside what can be answered"):
                work(
                    entry.code,
                    {**defaults(entry), wanted.name: (wanted.high * 1.5 + 1, wanted.unit)},
                    "field",
                )
        with pytest.raises(CalculatorError):
            work(entry.code, {**defaults(entry), wanted.name: "neon"}, "field")
    with pytest.raises(CalculatorError, match="is missing"):
        work(entry.code, {}, "field")


def test_a_gauge_reads_less_of_the_same_pressure_high_up():
    given = {
        "refrigerant": "R-410A",
        "pressure": (118.0, "psi"),
        "line": (52.0, "degF"),
        "elevation": (0.0, "ft"),
    }
    for elevation, air in ((0.0, 14.696), (5000.0, 12.228)):
        answer = work("superheat", {**given, "elevation": (elevation, "ft")}, "field").results[0][1]
        dew = fluid("R-410A").saturation((118 + air) * 6894.757, 1)
        assert float(answer.removesuffix(" °F")) == pytest.approx((kelvin(52) - dew) * 1.8, abs=0.1)

"""How the solved machine behaves: published ratings, what only grows or only falls, what each fault must do."""

import numpy as np
import psychrolib
import pytest

from icepick.core.document.visit import Unit
from icepick.core.machine.faults import FAULTS, possible
from icepick.core.machine.sizing import UnsizedError, size
from icepick.core.machine.variation import Variation
from layouts import TRUTH
from plant import kelvin
from solved import at_rest, unit, weather

PISTON = {"kind": "piston", "bypass": "sliding_piston"}
PISTONS = {"indoor_meter": PISTON, "outdoor_meter": PISTON}
AIR_LAYOUTS = [name for name, truth in TRUTH.items() if truth[0]["source"] == truth[0]["load"] == "air"]


def heating(outdoor, of=None, **more):
    of = of or unit()
    state = at_rest(of, "heating", weather(of, "heating", outdoor, humidity=0.7), **more)
    assert state.converged
    return state


def cooling(outdoor, of=None, humidity=None, indoor=None, **more):
    of = of or unit()
    around = weather(of, "cooling", outdoor, indoor=indoor, indoor_humidity=humidity)
    state = at_rest(of, "cooling", around, **more)
    assert state.converged
    return state


@pytest.mark.parametrize("name", AIR_LAYOUTS)
@pytest.mark.parametrize("refrigerant", ["R-410A", "R-22", "R-32", "R-407C"])
def test_heating_capacity_falls_with_the_cold_as_ratings_do(name, refrigerant):
    """At 17 °F a single-speed unit is rated at 55 to 70 % of its heat at 47 °F [AHRI 210/240 directories, from memory]."""
    of = unit(**TRUTH[name][0], refrigerant=refrigerant)
    at_47, at_17 = heating(47, of).heating_capacity, heating(17, of).heating_capacity
    assert 0.55 <= at_17 / at_47 <= 0.70
    # And at 47 °F about as much as it cools [common practice].
    assert at_47 == pytest.approx(36_000 * 0.29307, rel=0.15)


def test_cooling_loses_capacity_and_gains_power_with_the_heat():
    """From 82 to 95 °F a single-speed unit loses some 4 to 8 % of its capacity for each 10 °F and draws 8 to 15 % more.
    [published performance tables, from memory]"""
    mild, hot = cooling(82), cooling(95)
    capacity = hot.figure("evaporator_heat_refrigerant") / mild.figure("evaporator_heat_refrigerant")
    power = hot.figure("compressor_power") / mild.figure("compressor_power")
    assert 0.92 < capacity ** (10 / 13) < 0.96
    assert 1.08 < power ** (10 / 13) < 1.15


def humidity_at(dry, wet):
    """Relative humidity [0…1] of air by its dry and wet bulb [°F], by PsychroLib."""
    return psychrolib.GetRelHumFromTWetBulb((dry - 32) / 1.8, (wet - 32) / 1.8, 101_325)


def test_the_airs_split_lies_where_the_trade_has_it():
    """Fourteen to twenty-four degrees between humid and dry. [the-trade.md 5]"""
    falling = [
        cooling(95, humidity=humidity_at(80, wet)).figure("air_difference") * 1.8
        for wet in (65, 67, 69, 71, 73)
    ]
    assert falling == sorted(falling, reverse=True)
    assert all(14 <= split <= 24 for split in falling)


@pytest.mark.parametrize("outdoor", [85, 95, 105])
def test_a_fixed_orifice_shows_the_superheat_it_is_charged_to(outdoor):
    """The trade's target, (3 · wet bulb − 80 − outdoor) / 2, comes out of the physics. [common practice, from memory]"""
    of = unit(**PISTONS)
    for wet in (65, 67, 69, 71):
        state = cooling(outdoor, of, humidity=humidity_at(78, wet), indoor=78)
        assert state.figure("superheat") * 1.8 == pytest.approx((3 * wet - 80 - outdoor) / 2, abs=4.5), wet


def test_a_wet_coil_at_the_rating_point_dries_a_quarter_of_its_heat():
    """Sensible share at 80/67 °F: 0.70 to 0.80 [published performance tables, from memory]; a dry coil has no other."""
    wet, dry = cooling(95).cycle.evaporated, cooling(95, humidity=0.15).cycle.evaporated
    assert 0.70 < float(wet.sensible[0] / wet.heat[0]) < 0.80
    assert float(dry.sensible[0] / dry.heat[0]) == pytest.approx(1, abs=0.001)
    # Dry air warms the coil less: with less to take up it runs colder.
    assert cooling(95, humidity=0.15).figure("evaporating_temperature") < cooling(95).figure(
        "evaporating_temperature"
    )


def test_a_fixed_orifice_feeds_too_much_in_the_cold_and_too_little_in_mild_weather():
    """Near zero superheat and subcooling at 5 °F, 15 to 25 °F of superheat in mild weather, and sound. [the-trade.md 5]"""
    of = unit(**PISTONS)
    cold, mild = heating(5, of), heating(60, of)
    assert cold.cycle.evaporated.superheat[0] == 0
    assert abs(cold.figure("subcooling")) < 1.5
    assert 15 / 1.8 < mild.figure("superheat") < 30 / 1.8
    # Its target in cooling falls as it gets hotter outdoors. [common practice]
    assert cooling(75, of).figure("superheat") > cooling(105, of).figure("superheat") + 3


@pytest.mark.parametrize(("outdoor", "indoor", "humidity"), [(95, 80, 0.51), (95, 75, 0.5), (85, 76, 0.6)])
def test_air_leaves_a_wet_coil_nearly_saturated(outdoor, indoor, humidity):
    """At 90 to 97 % relative humidity [common practice]; the humidity by PsychroLib, from the heat that is not sensible."""
    state = cooling(outdoor, indoor=indoor, humidity=humidity)
    coil, met = state.cycle.evaporated, state.cycle.evaporator_met
    latent = float(coil.heat[0] - coil.sensible[0])
    ratio = float(np.ravel(met.ratio)[0]) - latent / (float(np.ravel(met.mass)[0]) * 2.47e6)
    leaving = kelvin(indoor) - float(coil.sensible[0]) / float(np.ravel(met.carries)[0]) - 273.15
    assert 0.90 < psychrolib.GetRelHumFromHumRatio(leaving, ratio, 101_325) < 0.975


@pytest.mark.parametrize(("outdoor", "low", "high"), [(47, 0.3, 2.0), (5, 1.0, 4.0)])
def test_the_valve_of_a_sound_machine_warms_suction_by_a_degree_or_three(outdoor, low, high):
    """Hot and cold gas share one metal body: 1 to 3 °F at a full flow, more where little flows. [the-trade.md 3]"""
    sound, twice = heating(outdoor), heating(outdoor, changed=Variation(valve_heat=2.0))
    assert low < sound.figure("valve_suction_rise") * 1.8 < high
    assert twice.figure("valve_suction_rise") > 1.5 * sound.figure("valve_suction_rise")
    # Insulated, the vapor line loses a few degrees at most. [the-trade.md 2]
    assert 1 < (sound.reading("vapor_line_outdoor") - sound.reading("vapor_line_indoor")) * 1.8 < 6


def test_the_supply_air_carries_all_that_is_put_into_it():
    """The condenser's heat and the blower's, by the AHRI default: 0.365 W for each cfm [from memory]."""
    state = heating(47)
    air = (
        1200 * 0.000471947 * 1.2041 * 293.15 / kelvin(70)
    )  # kg/s, of air at 68 °F and sea level brought to 70 °F
    rise = state.reading("supply_air") - kelvin(70)
    assert air * 1015 * rise == pytest.approx(state.heating_capacity + 0.365 * 1200, rel=0.01)


def test_a_valve_set_wider_holds_so_much_more_superheat():
    for run, outdoor in ((cooling, 95), (heating, 35)):
        shifted = run(outdoor, changed=Variation(superheat_shift=3.0)).figure("superheat")
        assert shifted - run(outdoor).figure("superheat") == pytest.approx(3.0, abs=0.4)


def test_what_lies_in_the_liquids_way_takes_its_pressure():
    """A clean drier a pound or so; behind a ductless unit's valve a kink is felt on the small line."""
    drier, none = cooling(95), cooling(95, unit(drier={"kind": "none"}))
    lost = [
        s.reading("discharge_tap", "pressure") - s.reading("liquid_service_tap", "pressure")
        for s in (drier, none)
    ]
    assert 0.5 < (lost[0] - lost[1]) / 6894.757 < 2
    ductless = unit(**TRUTH[next(name for name in TRUTH if name.startswith("ductless"))][0])
    open_, kinked = (
        cooling(95, ductless, fault="liquid_line_restriction", amount=amount) for amount in (0, 60)
    )
    felt = [
        s.reading("liquid_service_tap", "pressure") - s.reading("common_suction_tap", "pressure")
        for s in (open_, kinked)
    ]
    assert 40 < (felt[1] - felt[0]) / 6894.757 < 70


def at(states, name):
    return np.array([state.figure(name) for state in states])


MODES = [pytest.param(cooling, 95, id="cooling"), pytest.param(heating, 35, id="heating")]


@pytest.mark.parametrize(("run", "outdoor"), MODES)
@pytest.mark.parametrize("of", [unit(), unit(**PISTONS)], ids=["TXV", "piston"])
class TestWhatOnlyGoesOneWay:
    def each(self, run, outdoor, of, fault, *amounts):
        return [run(outdoor, of, fault=fault, amount=amount) for amount in amounts]

    def test_the_more_leaks_the_hotter_the_common_suction(self, run, outdoor, of):
        found = self.each(run, outdoor, of, "valve_bypassing", 0, 3, 8, 20, 40, 60)
        rise = [state.cycle.suction[0] - state.cycle.returned[0] for state in found]
        assert (np.diff(rise) > 0).all()
        if of.indoor_meter.kind == "txv":
            # Behind an orifice the return turns wet as pressures draw together, and its liquid soaks the gas up.
            assert (np.diff([state.reading("common_suction") for state in found]) > 0).all()
        assert (np.diff(at(found, "compression_ratio")) < 0).all()
        assert (np.diff([state.cycle.condensed.heat[0] for state in found]) < 0).all()

    def test_the_less_charge_the_less_subcooling(self, run, outdoor, of):
        found = self.each(run, outdoor, of, "undercharge", 0, 8, 16, 30, 50)
        assert (np.diff(at(found, "subcooling")) < 0.05).all()
        assert found[2].figure("subcooling") < found[0].figure("subcooling") - 1
        assert found[-1].figure("evaporating_temperature") < found[0].figure("evaporating_temperature") - 0.5

    def test_a_device_that_closes_starves_the_coil(self, run, outdoor, of):
        found = self.each(run, outdoor, of, "active_meter_underfeeding", 65, 75, 82, 90)
        assert (np.diff(at(found, "evaporating_temperature")) < 0).all()
        assert (np.diff(at(found, "superheat")) > 0).all()
        assert found[0].figure("subcooling") > run(outdoor, of).figure("subcooling")

    def test_a_device_stuck_open_floods(self, run, outdoor, of):
        sound, *open_ = self.each(run, outdoor, of, "active_meter_overfeeding", 0, 140, 180, 250)
        assert all(state.figure("superheat") < 1.2 for state in open_)
        assert all(state.figure("compression_ratio") < sound.figure("compression_ratio") for state in open_)
        assert (np.diff([state.cycle.evaporated.quality_out[0] for state in open_]) < 0).all()

    def test_a_weak_compressor_draws_pressures_together(self, run, outdoor, of):
        found = self.each(run, outdoor, of, "compressor_weak", 0, 20, 40, 70)
        assert (np.diff(at(found, "evaporating_temperature")) > 0).all()
        assert (np.diff(at(found, "condensing_temperature")) < 0).all()
        assert (np.diff([state.reading("compressor", "current") for state in found]) < 0).all()
        # And leaves the valve's rise small. [the-trade.md 3]
        assert found[-1].figure("valve_suction_rise") < 3

    def test_air_in_the_condenser_lifts_the_gauge_over_its_bend(self, run, outdoor, of):
        found = self.each(run, outdoor, of, "noncondensables", 0, 15, 40)
        bend = "outdoor_coil" if found[0].mode == "cooling" else "indoor_coil"
        apart = [state.figure("condensing_temperature") - state.reading(bend) for state in found]
        assert (np.diff(apart) > 1).all()

    def test_less_air_over_the_condenser_lifts_head(self, run, outdoor, of):
        side = "outdoor" if run is cooling else "indoor"
        found = self.each(run, outdoor, of, f"{side}_airflow_low", 0, 20, 40, 60)
        assert (np.diff(at(found, "condensing_temperature")) > 1).all()
        assert (np.diff(at(found, "compressor_power")) > 0).all()

    def test_less_air_over_the_evaporator_lowers_suction(self, run, outdoor, of):
        side = "indoor" if run is cooling else "outdoor"
        found = self.each(run, outdoor, of, f"{side}_airflow_low", 0, 20, 40, 60)
        assert (np.diff(at(found, "evaporating_temperature")) < -0.3).all()

    def test_a_starved_circuit_stands_out_warm(self, run, outdoor, of):
        state = run(outdoor, of, fault="coil_circuit_starved", amount=90)
        circuit = "indoor_circuit" if run is cooling else "outdoor_circuit"
        assert state.reading(f"{circuit}:starved") > state.reading(f"{circuit}:N") + 3

    def test_half_the_speed_moves_less_and_narrows_every_difference(self, run, outdoor, of):
        full, half = run(outdoor, of), run(outdoor, of, changed=Variation(displacement=0.5))
        for name in ("evaporator_split", "condenser_split", "compression_ratio"):
            assert half.figure(name) < full.figure(name)


def test_frost_works_like_less_air_and_more():
    found = [heating(30, fault="outdoor_coil_frosted", amount=amount) for amount in (0, 30, 55, 80, 90)]
    assert (np.diff(at(found, "evaporating_temperature")) < -0.5).all()
    assert (np.diff([state.heating_capacity for state in found]) < 0).all()


def test_a_restriction_is_felt_by_pressure_before_it_is_felt_by_hand():
    """Tens of psi go and the drier feels the same on both sides while its liquid is subcooled. [the-trade.md 4]"""
    hidden = cooling(95, fault="liquid_line_restriction", amount=25)
    lost = hidden.reading("discharge_tap", "pressure") - hidden.reading("liquid_service_tap", "pressure")
    assert lost / 6894.757 > 25
    drop = hidden.reading("drier_outdoor_side") - hidden.reading("drier_indoor_side")
    assert drop * 1.8 < 1
    grave = cooling(95, fault="liquid_line_restriction", amount=150)
    assert (grave.reading("drier_outdoor_side") - grave.reading("drier_indoor_side")) * 1.8 > 10
    assert grave.figure("superheat") > hidden.figure("superheat") + 3


def test_a_stuck_check_is_cold_where_liquid_should_be_warm_and_only_in_its_mode():
    sound, stuck = heating(47), heating(47, fault="bypass_stuck_closed", amount=100)
    drop = stuck.reading("indoor_meter_coil_side") - stuck.reading("indoor_meter_line_side")
    assert drop * 1.8 > 5
    assert (sound.reading("indoor_meter_coil_side") - sound.reading("indoor_meter_line_side")) * 1.8 < 0.5
    assert stuck.figure("evaporating_temperature") < sound.figure("evaporating_temperature")


@pytest.mark.one_in(2)
@pytest.mark.parametrize("name", TRUTH)
def test_no_fault_at_all_is_the_sound_machine(name):
    """Every fault at nothing leaves the machine as it is; at its worst amount something is seen."""
    of = unit(**TRUTH[name][0])
    outdoor = 50 if of.source == "water" else 35
    sound = at_rest(of, "heating", weather(of, "heating", outdoor))
    for fault in FAULTS:
        if fault.backwards or not possible(fault, of, "heating"):
            continue
        none = at_rest(of, "heating", weather(of, "heating", outdoor), fault.fault, 0.0)
        assert none.reading("discharge_line") == pytest.approx(sound.reading("discharge_line"), abs=0.01)
        grave = at_rest(of, "heating", weather(of, "heating", outdoor), fault.fault, fault.amounts[-1])
        if grave.converged:
            moved = abs(grave.reading("discharge_line") - sound.reading("discharge_line"))
            lost = abs(grave.heating_capacity / sound.heating_capacity - 1)
            shown = grave.reading("discharge_tap", "pressure") / sound.reading("discharge_tap", "pressure")
            opened = abs(grave.cycle.opening[0] / sound.cycle.opening[0] - 1)
            assert max(moved / 0.3, lost / 0.01, abs(shown - 1) / 0.01, opened / 0.05) > 1, fault.fault


def test_what_can_not_be_sized_says_which_field_and_why():
    plain = unit().model_dump(mode="json", exclude_none=True)
    for wrong, field in (({"refrigerant": "R-12"}, "refrigerant"),):
        with pytest.raises(ValueError, match=field):
            Unit.model_validate({**plain, **wrong})
    one_way = {"kind": "one_way", "place": "line_set"}
    assert size(unit(drier=one_way)).charge > 0
    nothing = unit().model_copy(
        update={"nominal_capacity": unit().nominal_capacity.model_copy(update={"value": 0.0})}
    )
    with pytest.raises(UnsizedError, match="nominal_capacity: a machine of no capacity") as error:
        size(nothing)
    assert error.value.field == "nominal_capacity"
    # Forty degrees of superheat over an evaporator that stands 32 °F under its air; a third of the air it needs.
    degrees = {"superheat": {"value": 40, "unit": "delta_degF"}}
    for design, field in (
        ({"cooling": degrees}, "design.cooling.superheat"),
        ({"indoor_airflow": {"value": 350, "unit": "cfm"}}, "design.indoor_airflow"),
    ):
        with pytest.raises(UnsizedError) as error:
            size(unit(design=design))
        assert error.value.field == field


def test_it_scales():
    """Twice the nameplate is twice the machine at the same temperatures."""
    small, large = (
        unit(nominal_capacity={"value": value, "unit": "Btu/h"}, line_set_length={"value": 1, "unit": "ft"})
        for value in (24_000, 48_000)
    )
    a, b = heating(40, small), heating(40, large)
    assert b.heating_capacity == pytest.approx(2 * a.heating_capacity, rel=0.01)
    assert b.figure("condensing_temperature") == pytest.approx(a.figure("condensing_temperature"), abs=0.3)
    assert kelvin(100) < a.figure("condensing_temperature") < kelvin(120)

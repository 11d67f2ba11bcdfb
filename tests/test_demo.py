"""The demo visits: what they show, and that physics would allow it (CoolProp as the outside reference)."""

import CoolProp
import pytest
from CoolProp.CoolProp import AbstractState

from icepick.core.examine import examine
from icepick.demo import demo_visits

VISITS = demo_visits()
BLENDS = {"R-454B": ("R32&R1234YF", [0.689, 0.311])}  # mass fractions, ASHRAE 34


def saturation(refrigerant: str, pressure: float, quality: int) -> float:
    """Bubble (0) or dew (1) temperature [°F] at an absolute pressure [Pa]."""
    names, fractions = BLENDS.get(refrigerant, (refrigerant.replace("-", ""), None))
    state = AbstractState("HEOS", names)
    if fractions:
        state.set_mass_fractions(fractions)
    state.update(CoolProp.PQ_INPUTS, pressure, quality)
    return state.T() * 1.8 - 459.67


def test_the_cases_the_demo_promises():
    outcomes = [(visit.site.name, examine(visit).outcome, examine(visit).verdict) for _, visit in VISITS]
    assert len(VISITS) >= 5
    assert len({site for site, _, _ in outcomes}) >= 3

    def shown(outcome, words):
        return any(o == outcome and words in v for _, o, v in outcomes)

    assert shown("pass", "Cooling: the reversing valve is fully over")
    assert shown("pass", "Heating: the reversing valve is fully over")
    assert shown("fail", "runs the wrong way round")
    assert shown("fail", "passes hot gas to suction")
    assert shown("needs_readings", "still needs")


@pytest.mark.parametrize("visit", [v for _, v in VISITS], ids=lambda v: v.site.name)
def test_physics_would_allow_it(visit):
    for run, examined in zip(visit.runs, examine(visit).runs, strict=True):
        temperature = {r.station: r.value for r in examined.readings if r.quantity == "temperature"}
        taps = {
            r.station: r.value * 6894.757 + visit.site.atmosphere
            for r in run.readings
            if r.quantity == "pressure"
        }
        flow = examined.apparent_mode
        condenser, evaporator = (
            ("outdoor_coil", "indoor_coil") if flow == "cooling" else ("indoor_coil", "outdoor_coil")
        )
        if "common_suction_tap" in taps:
            dew = saturation(visit.unit.refrigerant, taps["common_suction_tap"], 1)
            bubble = saturation(visit.unit.refrigerant, taps["liquid_service_tap"], 0)
            assert 3 < temperature["compressor_inlet"] - dew < 40
            assert 2 < bubble - temperature["liquid_line_outdoor"] < 25
            assert temperature["discharge_line"] > bubble + 20
        if condenser in temperature and evaporator in temperature:
            air = {"outdoor_coil": "outdoor_air_in", "indoor_coil": "return_air"}
            assert temperature[condenser] > temperature[air[condenser]]
            assert temperature[evaporator] < temperature[air[evaporator]]
            assert temperature["liquid_line_outdoor"] < temperature[condenser]

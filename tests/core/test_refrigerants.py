"""Refrigerant properties against published tables, an independent library, and CoolProp itself."""

import chemicals
import CoolProp
import numpy as np
import pytest

from icepick.core.properties import refrigerants as r
from icepick.core.properties.states import states
from plant import fluid, kelvin

PSI = 6894.757
ALL = list(r.REFRIGERANTS)
# Critical temperatures [°F]: ASHRAE Handbook Fundamentals, chapter 29, refrigerant physical properties. [from memory]
CRITICAL = {
    name: kelvin(fahrenheit)
    for name, fahrenheit in {
        "R-410A": 160.4,
        "R-32": 172.6,
        "R-454B": 172.6,
        "R-22": 205.1,
        "R-407C": 187.0,
        "R-134a": 213.9,
        "R-290": 206.1,
        "R-513A": 203.3,
    }.items()
}


@pytest.mark.parametrize(
    ("refrigerant", "line", "psia"),
    # Saturation at 0, 40, 80, 100 and 120 °F: ASHRAE Handbook Fundamentals, chapter 30 (thermophysical
    # properties of refrigerants) and the pressure–temperature charts drawn from it; all from memory. No table
    # of R-454B or R-513A is remembered well enough to quote.
    [
        ("R-22", "dew", (38.7, 83.2, 158.3, 210.6, 274.6)),
        ("R-134a", "dew", (21.2, 49.7, 101.4, 138.9, 185.9)),
        ("R-410A", "dew", (63.2, 133.2, 250.4, 332.4, 433.0)),
        ("R-410A", "bubble", (63.3, 133.6, 251.2, 333.3, 434.3)),
        ("R-407C", "dew", (34.0, 77.9, 155.3, 210.9, 280.6)),
        ("R-407C", "bubble", (44.2, 94.9, 180.6, 240.3, 313.4)),
        ("R-290", "dew", (38.4, 78.6, 143.7, 188.7, 242.5)),
        ("R-32", "dew", (64.0, 135.7, 256.1, 340.4, 444.0)),
    ],
)
def test_handbook_values(refrigerant, line, psia):
    found = r.saturation_pressure(refrigerant, np.array([kelvin(t) for t in (0, 40, 80, 100, 120)]), line)
    assert found / PSI == pytest.approx(psia, rel=0.006)


def test_the_head_of_a_hot_roof_is_still_read():
    """Tables reach within 10 K of the critical point: R-22 at 150 °F is 382 psig on the customary chart [from memory],
    and 425 psig a bearable head."""
    assert float(r.saturation_pressure("R-22", kelvin(150), "dew")) / PSI - 14.7 == pytest.approx(
        382, rel=0.006
    )
    at_425 = float(r.saturation_temperature("R-22", (425 + 14.7) * PSI, "dew"))
    assert kelvin(158) < at_425 < kelvin(162)
    for name in ALL:
        assert r.highest(name) > CRITICAL[name] - 10.5


@pytest.mark.parametrize(
    ("refrigerant", "cas"),
    [("R-22", "75-45-6"), ("R-134a", "811-97-2"), ("R-32", "75-10-5"), ("R-290", "74-98-6")],
)
def test_pure_fluids_against_independent_correlations(refrigerant, cas):
    """`chemicals`: the Antoine constants of Poling, Prausnitz and O'Connell, and above them the extended ones
    of the Thermodynamics Research Center, each in its own range."""
    data, compared = chemicals.vapor_pressure, 0
    poling = data.Psat_data_AntoinePoling.loc[cas]
    laws = [(poling, lambda t: chemicals.Antoine(t, *(poling[name] for name in "ABC")))]
    if cas in data.Psat_data_AntoineExtended.index:
        trc = data.Psat_data_AntoineExtended.loc[cas]
        names = ("Tc", "to", "A", "B", "C", "n", "E", "F")
        laws.append((trc, lambda t: chemicals.TRC_Antoine_extended(t, *(trc[name] for name in names))))
    for row, law in laws:
        for temperature in np.arange(240.0, 340.0, 10.0):
            if row["Tmin"] <= temperature <= row["Tmax"]:
                found = r.saturation_pressure(refrigerant, float(temperature), "dew")
                assert found == pytest.approx(law(temperature), rel=0.015)
                compared += 1
    assert compared >= 1


def exact_pressures(refrigerant, quality, temperatures):
    """From CoolProp itself; near their critical point its blends converge only from the state before."""
    state = fluid(refrigerant)._state
    found = []
    for temperature in temperatures:
        try:
            state.update(CoolProp.QT_INPUTS, quality, float(temperature))
            found.append(state.p())
        except ValueError:
            found.append(np.nan)
    return np.array(found)


@pytest.mark.parametrize("refrigerant", ALL)
@pytest.mark.parametrize(("line", "quality"), [("bubble", 0), ("dew", 1)])
def test_saturation_within_two_hundredths_of_a_kelvin_of_coolprop(refrigerant, line, quality):
    temperatures = np.linspace(233.15, r.highest(refrigerant), 97)
    exact = exact_pressures(refrigerant, quality, temperatures)
    known = ~np.isnan(exact)
    assert known.sum() >= 85
    assert r.saturation_temperature(refrigerant, exact[known], line) == pytest.approx(
        temperatures[known], abs=0.02
    )
    assert r.saturation_pressure(refrigerant, temperatures[known], line) == pytest.approx(
        exact[known], rel=6e-4
    )


@pytest.mark.parametrize("refrigerant", ALL)
def test_vapor_and_liquid_against_coolprop_over_the_range_in_use(refrigerant):
    f = fluid(refrigerant)
    vapor_exact, vapor_found, density_exact, density_found = [], [], [], []
    liquid_exact, liquid_found = [], []
    for saturation in np.linspace(234.7, r.highest(refrigerant) - 0.8, 15):
        dew = float(r.saturation_pressure(refrigerant, saturation, "dew"))
        bubble = float(r.saturation_pressure(refrigerant, saturation, "bubble"))
        for step in (0.3, 2.2, 7.1, 19.4, 41.7, 88.3, 129.0):
            t = float(saturation + step)
            vapor_exact.append(f.vapor_h(t, dew))
            vapor_found.append(float(r.vapor_enthalpy(refrigerant, t, dew)))
            density_exact.append(f._at(t, dew, CoolProp.iphase_gas).rhomass())
            density_found.append(float(r.vapor_density(refrigerant, t, dew)))
        for step in (0.4, 3.3, 11.8, 27.6, 39.0):
            if saturation - step > 225:
                liquid_exact.append(f.liquid_h(float(saturation - step), bubble))
                liquid_found.append(float(r.liquid_enthalpy(refrigerant, float(saturation - step), bubble)))
    # 0.2 % of the enthalpy it takes to evaporate: what every difference in use is a part of.
    pressure = float(r.saturation_pressure(refrigerant, 273.15, "dew"))
    scale = float(
        r.saturated_enthalpy(refrigerant, pressure, "dew")
        - r.saturated_enthalpy(refrigerant, pressure, "bubble")
    )
    assert vapor_found == pytest.approx(vapor_exact, abs=0.002 * scale)
    assert liquid_found == pytest.approx(liquid_exact, abs=0.002 * scale)
    assert density_found == pytest.approx(density_exact, rel=0.005)


@pytest.mark.parametrize("refrigerant", ALL)
def test_states_in_arrays_against_coolprop(refrigerant):
    """Over pressure and enthalpy: vapor to 120 K of superheat, liquid, what lies between, and isentropic work."""
    f, laid = fluid(refrigerant), states(refrigerant)
    temperatures = np.linspace(240.0, r.highest(refrigerant) - 12, 12)
    # Saturation itself is held against CoolProp above; its blends converge only now and then.
    pressures = r.saturation_pressure(refrigerant, temperatures, "dew")
    sat = laid.saturated(pressures)
    assert sat.dew == pytest.approx(temperatures, abs=0.03)
    boiling = laid.saturated(r.saturation_pressure(refrigerant, temperatures, "bubble"))
    assert boiling.bubble == pytest.approx(temperatures, abs=0.03)
    for superheat in (0.4, 6.0, 31.0, 118.0):
        hot = [(float(t + superheat), float(p)) for t, p in zip(sat.dew, pressures, strict=True)]
        enthalpy = np.array([f.vapor_h(t, p) for t, p in hot])
        temperature, density, entropy = laid.superheated(sat, enthalpy)
        assert temperature == pytest.approx([t for t, _ in hot], abs=0.25)
        assert density == pytest.approx([f.vapor_density(t, p) for t, p in hot], rel=0.005)
        assert entropy == pytest.approx([f.vapor_s(t, p) for t, p in hot], abs=0.7)
        assert laid.compressed(sat, entropy) == pytest.approx(enthalpy, abs=40)
    # Nearer the critical point CoolProp itself finds no liquid of a blend.
    pressures = pressures[:-2]
    sat = laid.saturated(pressures)
    for subcooling in (0.3, 8.0, 14.0):
        cold = [(float(t - subcooling), float(p)) for t, p in zip(sat.bubble, pressures, strict=True)]
        enthalpy = np.array([f.liquid_h(t, p) for t, p in cold])
        temperature, density = laid.subcooled(sat, enthalpy)
        assert temperature == pytest.approx([t for t, _ in cold], abs=0.25)
        assert density == pytest.approx([f.liquid_density(t, p) for t, p in cold], rel=0.005)
        assert laid.liquid_enthalpy(sat, np.full_like(pressures, subcooling)) == pytest.approx(
            enthalpy, abs=400
        )
    # A fifth of the way over: density that of liquid and vapor flowing as one, by volumes.
    fifth = sat.liquid + 0.2 * (sat.vapor - sat.liquid)
    temperature, density, quality = laid.at(pressures, fifth)
    volumes = [
        0.2 / f.vapor_density(float(d) + 1e-3, float(p)) + 0.8 / f.liquid_density(float(b) - 0.3, float(p))
        for d, b, p in zip(sat.dew, sat.bubble, pressures, strict=True)
    ]
    assert quality == pytest.approx(0.2)
    assert density == pytest.approx(1 / np.array(volumes), rel=0.008)
    assert (temperature >= sat.bubble - 1e-9).all()
    assert (temperature <= sat.dew + 1e-9).all()
    assert not laid.inside(pressures * 6)[-1]


@pytest.mark.parametrize("refrigerant", ALL)
def test_temperature_from_enthalpy_and_entropy_goes_back(refrigerant):
    pressure = float(r.saturation_pressure(refrigerant, 310.0, "dew"))
    for superheat in (0.5, 6.0, 33.0, 110.0):
        t = float(r.saturation_temperature(refrigerant, pressure, "dew")) + superheat
        h, s = r.vapor_enthalpy(refrigerant, t, pressure), r.vapor_entropy(refrigerant, t, pressure)
        assert r.vapor_temperature(refrigerant, pressure, enthalpy=float(h)) == pytest.approx(t, abs=0.05)
        assert r.vapor_temperature(refrigerant, pressure, entropy=float(s)) == pytest.approx(t, abs=0.05)


@pytest.mark.parametrize("refrigerant", ["R-32", "R-454B", "R-513A"])
def test_a_mixture_against_coolprop(refrigerant):
    f, pressure = fluid(refrigerant), 8e5
    for quality in (0.1, 0.25, 0.6, 0.9):
        found = r.mixture(refrigerant, pressure, f.mixture_h(pressure, quality))
        assert found.quality == pytest.approx(quality, abs=0.003)
        assert found.temperature == pytest.approx(f.saturation(pressure, quality), abs=0.6)
    with pytest.raises(r.OutsideRangeError):
        r.mixture(refrigerant, pressure, f.mixture_h(pressure, 1) + 9000)


def test_glide_and_the_order_of_the_lines():
    at = {name: float(r.glide(name, 1e6)) for name in ALL}
    assert at["R-32"] == at["R-290"] == pytest.approx(0, abs=1e-6)
    # About 10 °F for R-407C and 2 to 3 °F for R-454B. [common practice]
    assert 8 < at["R-407C"] * 1.8 < 11
    assert 1 < at["R-454B"] * 1.8 < 3.5
    for name in ALL:
        temperatures = np.linspace(r.LOWEST, r.highest(name), 200)
        bubble, dew = (r.saturation_pressure(name, temperatures, line) for line in ("bubble", "dew"))
        assert np.all(bubble >= dew * (1 - 1e-6))


def test_outside_the_range_is_an_error_never_a_guess():
    with pytest.raises(r.OutsideRangeError, match="−60 to 70"):
        r.saturation_pressure("R-32", r.highest("R-32") + 1, "dew")
    for pressure in (0.0, -1e5, 1e3, 1e8, np.array([1e6, 1e8])):
        with pytest.raises(r.OutsideRangeError):
            r.saturation_temperature("R-32", pressure, "dew")
    for call in (
        lambda: r.vapor_enthalpy("R-32", 280.0, 1.5e6),
        lambda: r.vapor_enthalpy("R-32", 480.0, 1e6),
        lambda: r.liquid_enthalpy("R-32", 300.0, 1e6),
        lambda: r.liquid_enthalpy("R-32", 200.0, 1e6),
        lambda: r.vapor_temperature("R-32", 1e6, enthalpy=3e5),
    ):
        with pytest.raises(r.OutsideRangeError):
            call()

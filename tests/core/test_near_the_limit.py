"""A number whose band reaches over its limit is `watch`, not a coin toss: well inside it passes, well outside it fails.

Each case reads one number so that what the check measures lies a given way from the limit. The limits are those of common
practice (the-trade.md 3 to 5), written here as figures and not taken from the code.
"""

import pytest

from builders import reading, valve_run
from cases import SPLIT, checks_of, examined, sound

WATER = "water to air, one two-way thermostatic valve"
AMPS = {"quantity": "current", "unit": "A", "method": "meter"}


def valve(**pipes):
    """Cooling, seated: 170 and 50 °F at the ports, 169 and 51 behind them."""
    values = {"discharge": 170, "indoor": 50, "outdoor": 169, "common": 51} | pipes
    return valve_run("cooling", *(values[name] for name in ("discharge", "indoor", "outdoor", "common")))


def current(amps):
    return sound(SPLIT, "cooling").run(more=[reading("compressor", amps, **AMPS)])


def discharge(fahrenheit):
    run = sound(SPLIT, "cooling").run(without=["discharge_line"])
    run["readings"].append(reading("discharge_line", fahrenheit))
    return run


def between(mode, pair, drop):
    """Two clamps a drop apart."""
    made = sound(SPLIT, mode).run(without=pair)
    made["readings"] += [reading(pair[0], 95), reading(pair[1], 95 - drop)]
    return made


def extracted(share):
    """Heat of extraction as a share of the stated 24,000 Btu/h, at the rating temperature: 500 × gpm × ΔT."""
    change = share * 24_000 / (500 * 9)
    probe = {"method": "probe"}
    return sound(WATER, "heating").run(
        without=["source_water_in"],
        more=[
            reading("source_water_in", 50, **probe),
            reading("source_water_out", 50 - change, **probe),
            reading("source_water", 9, quantity="flow", unit="gpm", method="meter"),
            reading("source_water", 500, quantity="fluid_factor", unit="1", method="estimate"),
        ],
    )


def target(**more):
    return sound(SPLIT, "cooling", **more).run()


def sensor(off):
    """10 kΩ is 77 °F on the common curve; the clamp beside it reads so much else. [from memory]"""
    run = sound(SPLIT, "heating").run()
    run["readings"] += [
        reading("coil_sensor", 10, quantity="resistance", unit="kohm", method="meter"),
        reading("coil_sensor", 77 + off),
    ]
    return run


TEN = {"value": 10, "unit": "delta_degF"}
UNIT = {
    SPLIT: {
        "compressor": {"kind": "single", "rated_current": {"value": 10, "unit": "A"}},
        "design": {"cooling": {"superheat": TEN, "subcooling": TEN}},
    },
    WATER: {"design": {"heat_of_extraction": {"value": 24_000, "unit": "Btu/h"}}},
}
BYPASS = ("outdoor_meter_coil_side", "outdoor_meter_line_side")
DRIER = ("drier_outdoor_side", "drier_indoor_side")

CASES = {
    # Five degrees at the valve, by clamps of one degree each.
    "valve.suction_rise": (SPLIT, lambda rise: valve(common=50 + rise), 2, 5, 9),
    "valve.discharge_drop": (SPLIT, lambda drop: valve(outdoor=170 - drop), 2, 5, 9),
    # Forty percent over the rated load current, by a meter of one percent.
    "danger.current": (SPLIT, current, 13.6, 14, 14.7),
    "danger.discharge_temperature": (SPLIT, discharge, 215, 225, 235),
    # Three degrees across what should let everything pass.
    "metering.bypass_drop": (SPLIT, lambda drop: between("cooling", BYPASS, drop), 0.5, 3, 8),
    "metering.drier_drop": (SPLIT, lambda drop: between("cooling", DRIER, drop), 0.5, 3, 8),
    # Superheat within 5 °F and subcooling within 3 °F of 10. [published: ANSI/ACCA 5 QI, from memory]
    "exchange.subcooling": (SPLIT, lambda subcooling: target(subcooling=subcooling), 9.6, 13, 19),
    "metering.superheat_control": (SPLIT, lambda superheat: target(superheat=superheat), 12, 15, 22),
    # Ten percent short of the stated heat is short.
    "water.extraction": (WATER, extracted, 1.02, 0.9, 0.7),
    "defrost.sensor": (SPLIT, sensor, 0.5, 5, 12),
}


@pytest.mark.one_in(2)
@pytest.mark.parametrize("code", CASES)
@pytest.mark.parametrize("place", ["well inside", "on the limit", "well outside"])
def test_a_band_over_the_limit_is_watched(code, place):
    layout, made, inside, edge, outside = CASES[code]
    value, status = {
        "well inside": (inside, "pass"),
        "on the limit": (edge, "watch"),
        "well outside": (outside, "fail"),
    }[place]
    check = checks_of(examined(layout, made(value), **UNIT[layout]))[code]
    assert check.status == status, check.explain
    assert check.measured.uncertainty > 0


@pytest.mark.one_in(2)
@pytest.mark.parametrize("code", CASES)
def test_just_off_the_limit_the_band_still_reaches_over_it(code):
    """Half a band to either side: neither side may be called."""
    layout, made, inside, edge, _ = CASES[code]
    on = checks_of(examined(layout, made(edge), **UNIT[layout]))[code]
    off = checks_of(examined(layout, made(inside), **UNIT[layout]))[code]
    # By how much the margin moves for what is typed.
    slope = (on.margin - off.margin) / (edge - inside)
    for side in (-0.5, 0.5):
        typed = edge + (side * on.measured.uncertainty - on.margin) / slope
        assert checks_of(examined(layout, made(typed), **UNIT[layout]))[code].status == "watch", typed

"""Pressures and temperatures of the refrigerant."""

from __future__ import annotations

from icepick.core.document.wording import say
from icepick.core.handbook.calculators.question import (
    ELEVATION,
    PHYSICS,
    REFRIGERANT,
    Calculator,
    Input,
    Values,
    Worked,
    pressure_input,
    temperature_input,
)
from icepick.core.properties import formulas, moist_air, refrigerants
from icepick.core.properties.quantities import Kind, to_si

_T, _D, _P, _DP = Kind.TEMPERATURE, Kind.TEMPERATURE_DIFFERENCE, Kind.PRESSURE, Kind.PRESSURE_DIFFERENCE


def _superheat(v: Values) -> Worked:
    dew = v["line"] - (result := formulas.superheat(v["refrigerant"], v["pressure"], v["line"]))
    return Worked(
        {"superheat": (result, _D)},
        "{line} line − {dew} dew at {pressure} = {result}",
        {"line": (v["line"], _T), "dew": (dew, _T), "pressure": (v["pressure"], _P), "result": (result, _D)},
    )


def _subcooling(v: Values) -> Worked:
    result = formulas.subcooling(v["refrigerant"], v["pressure"], v["line"])
    return Worked(
        {"subcooling": (result, _D)},
        "{bubble} bubble at {pressure} − {line} line = {result}",
        {
            "bubble": (v["line"] + result, _T),
            "pressure": (v["pressure"], _P),
            "line": (v["line"], _T),
            "result": (result, _D),
        },
    )


def _saturation(v: Values) -> Worked:
    bubble, dew = (
        float(refrigerants.saturation_temperature(v["refrigerant"], v["pressure"], line))
        for line in ("bubble", "dew")
    )
    return Worked(
        {"bubble": (bubble, _T), "dew": (dew, _T), "glide": (dew - bubble, _D)},
        "at {pressure}: liquid boils from {bubble}, the last of it at {dew}",
        {"pressure": (v["pressure"], _P), "bubble": (bubble, _T), "dew": (dew, _T)},
    )


def _vapor_pressure(v: Values) -> Worked:
    bubble, dew = (
        float(refrigerants.saturation_pressure(v["refrigerant"], v["temperature"], line))
        for line in ("bubble", "dew")
    )
    return Worked(
        {"bubble": (bubble, _P), "dew": (dew, _P)},
        "at {temperature}: {bubble} for liquid (subcooling), {dew} for vapor (superheat)",
        {"temperature": (v["temperature"], _T), "bubble": (bubble, _P), "dew": (dew, _P)},
    )


def _target_superheat(v: Values) -> Worked:
    result = formulas.target_superheat(v["wet_bulb"], v["outdoor"])
    return Worked(
        {"target superheat": (result, _D)},
        "(3 × {wet_bulb} − 80 − {outdoor}) / 2 in °F = {result}, never below zero",
        {
            # The rule is made for °F, whatever the screen shows.
            **{name: say(v[name], _T, "field") for name in ("wet_bulb", "outdoor")},
            "result": (result, _D),
        },
    )


def _flash(v: Values) -> Worked:
    result = formulas.flash_fraction(v["refrigerant"], v["liquid"], v["evaporating"])
    return Worked(
        {"flash gas": (result, Kind.SHARE)},
        "liquid at {liquid} let down to {evaporating}, enthalpy unchanged: {result} of it is vapor",
        {"liquid": (v["liquid"], _T), "evaporating": (v["evaporating"], _T), "result": (result, Kind.SHARE)},
    )


def _before_flash(v: Values) -> Worked:
    result = formulas.pressure_before_flash(v["refrigerant"], v["pressure"], v["line"])
    if result < 0:
        return Worked({"pressure to lose": "none: it is flashing already"}, "")
    return Worked(
        {"pressure to lose": (result, _DP)},
        "{pressure} − {boiling}, the pressure at which {line} boils = {result}",
        {
            "pressure": (v["pressure"], _P),
            "boiling": (v["pressure"] - result, _P),
            "line": (v["line"], _T),
            "result": (result, _DP),
        },
    )


def _ratio(v: Values) -> Worked:
    result = formulas.compression_ratio(v["suction"], v["discharge"])
    return Worked(
        {"compression ratio": (result, Kind.RATIO)},
        "({discharge} + air) / ({suction} + air) = {result}, both absolute; the air weighs {air}",
        {
            "discharge": (v["discharge"], _P),
            "suction": (v["suction"], _P),
            "result": (result, Kind.RATIO),
            "air": (moist_air.standard_pressure(v["elevation"]), _DP),
        },
    )


def _altitude(v: Values) -> Worked:
    local = moist_air.standard_pressure(v["elevation"])
    sea = to_si(0, "psi", _P)
    return Worked(
        {"air pressure here": (local, _DP), "to add to a gauge for a sea-level chart": (local - sea, _DP)},
        "{local} here − {sea} at sea level = {result}; a chart in gauge pressure is for sea level",
        {"local": (local, _DP), "sea": (sea, _DP), "result": (local - sea, _DP)},
    )


CALCULATORS: tuple[Calculator, ...] = (
    Calculator(
        "saturation_temperature",
        "saturation from pressure",
        (REFRIGERANT, pressure_input("pressure", "pressure", 130, "common_suction_tap"), ELEVATION),
        "bubble and dew temperature at a pressure",
        PHYSICS,
        _saturation,
    ),
    Calculator(
        "saturation_pressure",
        "saturation from temperature",
        (REFRIGERANT, Input("temperature", "temperature", _T, 45, "degF", -60, 150), ELEVATION),
        "bubble and dew pressure at a temperature",
        PHYSICS,
        _vapor_pressure,
    ),
    Calculator(
        "superheat",
        "superheat",
        (
            REFRIGERANT,
            pressure_input(
                "pressure",
                "suction pressure",
                118,
                "common_suction_tap",
                "vapor_service_tap",
                heating=("common_suction_tap",),
            ),
            temperature_input("line", "suction line", 52, "compressor_inlet", "common_suction"),
            ELEVATION,
        ),
        "superheat = line temperature − dew at suction pressure",
        PHYSICS,
        _superheat,
    ),
    Calculator(
        "subcooling",
        "subcooling",
        (
            REFRIGERANT,
            pressure_input("pressure", "liquid pressure", 340, "liquid_service_tap", "discharge_tap"),
            temperature_input(
                "line",
                "liquid line",
                93,
                "liquid_line_outdoor",
                "indoor_meter_line_side",
                heating=("liquid_line_outdoor", "outdoor_meter_line_side"),
            ),
            ELEVATION,
        ),
        "subcooling = bubble at liquid pressure − line temperature",
        PHYSICS,
        _subcooling,
    ),
    Calculator(
        "target_superheat",
        "target superheat, fixed orifice in cooling",
        (
            Input("wet_bulb", "indoor wet bulb", _T, 63, "degF", 45, 85, (("return_air", "wet_bulb"),)),
            temperature_input("outdoor", "outdoor dry bulb", 90, "outdoor_air_in"),
        ),
        "target superheat = (3 × indoor wet bulb − 80 − outdoor dry bulb) / 2",
        "common practice; from memory",
        _target_superheat,
    ),
    Calculator(
        "flash_fraction",
        "flash gas at the metering device",
        (
            REFRIGERANT,
            temperature_input(
                "liquid",
                "liquid before the metering device",
                90,
                "indoor_meter_line_side",
                "liquid_line_outdoor",
                heating=("outdoor_meter_line_side", "liquid_line_outdoor"),
            ),
            temperature_input(
                "evaporating", "evaporating (dew)", 40, "indoor_coil", heating=("outdoor_coil",)
            ),
        ),
        "flash = (h liquid − h boiling liquid) / (h vapor − h boiling liquid) at the low pressure",
        "physics: constant enthalpy; CoolProp's equations of state",
        _flash,
    ),
    Calculator(
        "pressure_before_flash",
        "pressure liquid can lose unfelt",
        (
            REFRIGERANT,
            pressure_input("pressure", "liquid pressure", 340, "liquid_service_tap", "discharge_tap"),
            temperature_input("line", "liquid line", 93, "liquid_line_outdoor"),
            ELEVATION,
        ),
        "pressure − boiling pressure at the liquid's temperature",
        PHYSICS,
        _before_flash,
    ),
    Calculator(
        "compression_ratio",
        "compression ratio",
        (
            pressure_input(
                "suction",
                "suction pressure",
                118,
                "common_suction_tap",
                "vapor_service_tap",
                heating=("common_suction_tap",),
            ),
            pressure_input(
                "discharge",
                "discharge pressure",
                350,
                "discharge_tap",
                "liquid_service_tap",
                heating=("discharge_tap", "vapor_service_tap", "liquid_service_tap"),
            ),
            ELEVATION,
        ),
        "ratio = absolute discharge / absolute suction",
        "physics",
        _ratio,
    ),
    Calculator(
        "altitude",
        "gauge at altitude",
        (ELEVATION,),
        "local air pressure − 14.696 psi",
        "ASHRAE Fundamentals, chapter 1, eq. 3 (PsychroLib)",
        _altitude,
    ),
)

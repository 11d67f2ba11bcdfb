"""Air: its flow, its heat, its moisture."""

from __future__ import annotations

from icepick.core.handbook.calculators.question import (
    ELEVATION,
    Calculator,
    CalculatorError,
    Input,
    Values,
    Worked,
    difference,
    temperature_input,
)
from icepick.core.properties import formulas, moist_air
from icepick.core.properties.quantities import Kind, to_si

_T, _D = Kind.TEMPERATURE, Kind.TEMPERATURE_DIFFERENCE


def _airflow(v: Values) -> Worked:
    air = moist_air.standard_pressure(v["elevation"])
    rise = difference(v["supply"], v["return"], "supply", "the supply air must be warmer than the return air")
    result = formulas.airflow_from_heater(v["power"], rise, air, moist_air.STANDARD_AIR)
    factor = v["power"] / rise / result
    return Worked(
        {"airflow": (result, Kind.AIR_FLOW)},
        "{power} / ({factor} × {rise}) = {result}, compressor off",
        {
            "power": (v["power"], Kind.POWER),
            "rise": (rise, _D),
            "result": (result, Kind.AIR_FLOW),
            "factor": (factor / _air_factor(), Kind.RATIO),
        },
    )


def _air_factor() -> float:
    """One Btu/h per cfm and °F, in J/(m³ K): the trade's 1.08 is 1.08 of these at sea level."""
    return to_si(1, "Btu/h", Kind.POWER) * 1.8 / to_si(1, "cfm", Kind.AIR_FLOW)


def _sensible(v: Values) -> Worked:
    air = moist_air.standard_pressure(v["elevation"])
    difference = abs(v["supply"] - v["return"])
    result = formulas.sensible_heat(v["flow"], difference, air, moist_air.STANDARD_AIR)
    factor = result / v["flow"] / difference / _air_factor() if difference and v["flow"] else 0.0
    return Worked(
        {"sensible heat": (result, Kind.POWER)},
        "{factor} × {flow} × {difference} = {result}",
        {
            "factor": (factor, Kind.RATIO),
            "flow": (v["flow"], Kind.AIR_FLOW),
            "difference": (difference, _D),
            "result": (result, Kind.POWER),
        },
    )


def _total(v: Values) -> Worked:
    air = moist_air.standard_pressure(v["elevation"])
    for dry, wet in (("return", "return_wet_bulb"), ("supply", "supply_wet_bulb")):
        if v[wet] > v[dry]:
            raise CalculatorError("a wet bulb can't be above its dry bulb", wet)
    entering, leaving = (v["return"], v["return_wet_bulb"]), (v["supply"], v["supply_wet_bulb"])
    total = formulas.standard_total_heat(v["flow"], entering, leaving, air)
    sensible = formulas.sensible_heat(v["flow"], v["return"] - v["supply"], air, moist_air.STANDARD_AIR)
    return Worked(
        {
            "total": (total, Kind.POWER),
            "sensible": (sensible, Kind.POWER),
            "latent": (total - sensible, Kind.POWER),
        },
        "4.5 × airflow × (enthalpy in − enthalpy out) = {total}, of which {sensible} sensible",
        {"total": (total, Kind.POWER), "sensible": (sensible, Kind.POWER)},
    )


def _dew_point(v: Values) -> Worked:
    air = moist_air.standard_pressure(v["elevation"])
    ratio = moist_air.humidity_ratio(v["temperature"], air, relative_humidity=v["humidity"])
    if ratio <= 0:
        raise CalculatorError("air without any moisture has no dew point", "humidity")
    dew = moist_air.dew_point(v["temperature"], ratio, air)
    wet = moist_air.wet_bulb(v["temperature"], ratio, air)
    return Worked(
        {"dew point": (dew, _T), "wet bulb": (wet, _T)},
        "air at {temperature} and {humidity} humidity wets what is colder than {dew}, and frosts it below freezing",
        {"temperature": (v["temperature"], _T), "humidity": (v["humidity"], Kind.SHARE), "dew": (dew, _T)},
    )


_FLOW = Input("flow", "airflow", Kind.AIR_FLOW, 1200, "cfm", 50, 5000, (("indoor_airflow", "flow"),))
_RETURN = temperature_input("return", "return air", 75, "return_air")
_SUPPLY = temperature_input("supply", "supply air", 57, "supply_air")

CALCULATORS: tuple[Calculator, ...] = (
    Calculator(
        "airflow_from_heater",
        "airflow from heater power",
        (
            Input(
                "power",
                "heater power",
                Kind.POWER,
                9.6,
                "kW",
                0.5,
                40,
                (("backup_heat", "power"),),
            ),
            temperature_input("return", "return air", 68, "return_air"),
            temperature_input("supply", "air after the heater", 96, "supply_air_after_heat"),
            ELEVATION,
        ),
        "airflow = power / (1.08 × ΔT), standard air; 1.08 corrected for elevation",
        "physics; common practice",
        _airflow,
    ),
    Calculator(
        "sensible_heat",
        "sensible heat of air",
        (_FLOW, _RETURN, _SUPPLY, ELEVATION),
        "heat = 1.08 × airflow × ΔT, standard air; 1.08 corrected for elevation",
        "physics; common practice",
        _sensible,
    ),
    Calculator(
        "total_heat",
        "total heat of air in cooling",
        (
            _FLOW,
            _RETURN,
            Input(
                "return_wet_bulb", "return wet bulb", _T, 63, "degF", 30, 90, (("return_air", "wet_bulb"),)
            ),
            _SUPPLY,
            Input(
                "supply_wet_bulb", "supply wet bulb", _T, 55, "degF", 30, 90, (("supply_air", "wet_bulb"),)
            ),
            ELEVATION,
        ),
        "heat = 4.5 × airflow × (enthalpy in − enthalpy out), standard air; 4.5 corrected for elevation",
        "ASHRAE Fundamentals, chapter 1 (PsychroLib)",
        _total,
    ),
    Calculator(
        "dew_point",
        "dew point of air",
        (
            temperature_input("temperature", "dry bulb", 40, "outdoor_air_in"),
            Input(
                "humidity",
                "relative humidity",
                Kind.SHARE,
                80,
                "percent",
                1,
                100,
                (("outdoor_air_in", "relative_humidity"),),
            ),
            ELEVATION,
        ),
        "saturation pressure of water at the dew point = humidity × that at the dry bulb",
        "ASHRAE Fundamentals, chapter 1 (PsychroLib)",
        _dew_point,
    ),
)

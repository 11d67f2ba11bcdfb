"""The Handbook's calculators: what each asks for, and its formula with the numbers in it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from icepick.core import formulas, moist_air, refrigerants, sensors, water
from icepick.core.quantities import UNITS, Kind, UnitSystem, to_si
from icepick.core.wording import say

Choice = Literal["refrigerant", "antifreeze", "rows"]
Values = Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Input:
    """One thing asked for. Numbers are in ``unit`` and within ``low`` and ``high``; ``stations`` says which
    readings of a visit can fill it, the first that was read winning."""

    name: str
    title: str
    kind: Kind | Choice
    default: float | str
    unit: str = ""
    low: float = 0
    high: float = 0
    stations: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Worked:
    """Results by title, as (value in SI, kind) or words, and the formula with {names} of ``shown`` in it."""

    results: dict[str, tuple[float, Kind] | str]
    formula: str
    shown: dict[str, tuple[float, Kind] | str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Calculator:
    """A small question of the working day."""

    code: str
    title: str
    inputs: tuple[Input, ...]
    formula: str
    source: str
    work: Callable[[Values], Worked]


@dataclass(frozen=True, slots=True)
class Answer:
    """Results as sentences in the units asked for, and the formula with the numbers in it."""

    results: list[tuple[str, str]]
    formula: str


class CalculatorError(ValueError):
    """The question can't be answered; the message says why and ``field`` which input is to blame, if one
    is."""

    def __init__(self, message: str, field: str | None = None) -> None:
        super().__init__(message)
        self.field = field


_T, _D, _P, _DP = Kind.TEMPERATURE, Kind.TEMPERATURE_DIFFERENCE, Kind.PRESSURE, Kind.PRESSURE_DIFFERENCE
_REFRIGERANT = Input("refrigerant", "refrigerant", "refrigerant", "R-410A")
_ELEVATION = Input("elevation", "elevation", Kind.LENGTH, 0, "ft", -1500, 18_000)


def _temperature(name: str, title: str, default: float, *stations: str) -> Input:
    return Input(name, title, _T, default, "degF", -40, 250, tuple((s, "temperature") for s in stations))


def _pressure(name: str, title: str, default: float, *stations: str) -> Input:
    return Input(name, title, _P, default, "psi", -10, 600, tuple((s, "pressure") for s in stations))


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


def _airflow(v: Values) -> Worked:
    air = moist_air.standard_pressure(v["elevation"])
    rise = _difference(
        v["supply"], v["return"], "supply", "the supply air must be warmer than the return air"
    )
    result = formulas.airflow_from_heater(v["power"], rise, air, v["supply"])
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


def _difference(warm: float, cold: float, field: str, words: str) -> float:
    if warm <= cold:
        raise CalculatorError(words, field)
    return warm - cold


def _sensible(v: Values) -> Worked:
    air = moist_air.standard_pressure(v["elevation"])
    difference = abs(v["supply"] - v["return"])
    result = formulas.sensible_heat(v["flow"], difference, air, v["supply"])
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
    total = formulas.total_heat(v["flow"], entering, leaving, air)
    ratio = moist_air.humidity_ratio(*entering[:1], air, wet_bulb=entering[1])
    sensible = formulas.sensible_heat(v["flow"], v["return"] - v["supply"], air, v["return"], ratio)
    return Worked(
        {
            "total": (total, Kind.POWER),
            "sensible": (sensible, Kind.POWER),
            "latent": (total - sensible, Kind.POWER),
        },
        "mass of dry air × (enthalpy in − enthalpy out) = {total}, of which {sensible} sensible",
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
        "air at {temperature} and {humidity} humidity lays dew on what is colder than {dew}",
        {"temperature": (v["temperature"], _T), "humidity": (v["humidity"], Kind.SHARE), "dew": (dew, _T)},
    )


def _water_heat(v: Values) -> Worked:
    difference = abs(v["out"] - v["in"])
    result = water.heat(v["flow"], difference, v["factor"])
    return Worked(
        {"heat": (result, Kind.POWER)},
        "{flow} × {difference} × {factor} = {result}",
        {
            "flow": (v["flow"], Kind.WATER_FLOW),
            "difference": (difference, _D),
            "factor": (v["factor"], Kind.FLUID_FACTOR),
            "result": (result, Kind.POWER),
        },
    )


def _fluid_factor(v: Values) -> Worked:
    try:
        factor = water.fluid_factor(v["fluid"], v["strength"], v["temperature"])
    except ValueError:
        raise CalculatorError("this mix is not known at this strength and temperature", "strength") from None
    customary = water.CUSTOMARY_FACTORS["water" if v["fluid"] == "water" else "antifreeze"]
    return Worked(
        {"fluid factor": (factor, Kind.FLUID_FACTOR), "the trade's figure": (customary, Kind.FLUID_FACTOR)},
        "density × heat capacity × 60 min = {factor} Btu/h per gpm and °F",
        {"factor": (factor, Kind.FLUID_FACTOR)},
    )


def _water_flow(v: Values) -> Worked:
    drop = _difference(v["in"], v["out"], "out", "the pressure must fall through the coil")
    try:
        result = formulas.flow_from_drop(drop, v["rows"])
    except ValueError as error:
        raise CalculatorError(str(error), "rows") from None
    return Worked(
        {"flow": (result, Kind.WATER_FLOW)},
        "{in} − {out} = {drop}; the maker's table gives {result}",
        {
            "in": (v["in"], _P),
            "out": (v["out"], _P),
            "drop": (drop, _DP),
            "result": (result, Kind.WATER_FLOW),
        },
    )


def _balance(v: Values) -> Worked:
    _difference(v["warm_at"], v["cold_at"], "warm_at", "the warm rating must be the warmer one")
    _difference(v["no_load"], v["design_at"], "no_load", "the load must end above the design temperature")
    try:
        found = formulas.balance_point(
            (v["warm_at"], v["warm"]), (v["cold_at"], v["cold"]), (v["design_at"], v["load"]), v["no_load"]
        )
    except ValueError as error:
        raise CalculatorError(str(error)) from None
    return Worked(
        {"balance point": (found, _T)},
        "capacity line and load line cross at {found}; colder than that, backup heat carries the rest",
        {"found": (found, _T)},
    )


def _sensor(v: Values) -> Worked:
    try:
        found = sensors.temperature(v["resistance"])
    except ValueError as error:
        raise CalculatorError(str(error), "resistance") from None
    return Worked(
        {"temperature": (found, _T)},
        "{resistance} on the " + sensors.DEFAULT_NAME + " is {found}",
        {"resistance": (v["resistance"], Kind.RESISTANCE), "found": (found, _T)},
    )


_PHYSICS = "physics; CoolProp's equations of state"
_FLOW = Input("flow", "airflow", Kind.AIR_FLOW, 1200, "cfm", 50, 5000, (("indoor_airflow", "flow"),))
_RETURN = _temperature("return", "return air", 75, "return_air")
_SUPPLY = _temperature("supply", "supply air", 57, "supply_air")


def _power(name: str, title: str, default: float) -> Input:
    return Input(name, title, Kind.POWER, default, "Btu/h", 1000, 200_000)


CALCULATORS: tuple[Calculator, ...] = (
    Calculator(
        "saturation_temperature",
        "saturation from pressure",
        (_REFRIGERANT, _pressure("pressure", "pressure", 130, "common_suction_tap"), _ELEVATION),
        "bubble and dew temperature at a pressure",
        _PHYSICS,
        _saturation,
    ),
    Calculator(
        "saturation_pressure",
        "saturation from temperature",
        (_REFRIGERANT, Input("temperature", "temperature", _T, 45, "degF", -60, 150), _ELEVATION),
        "bubble and dew pressure at a temperature",
        _PHYSICS,
        _vapor_pressure,
    ),
    Calculator(
        "superheat",
        "superheat",
        (
            _REFRIGERANT,
            _pressure("pressure", "suction pressure", 118, "common_suction_tap"),
            _temperature("line", "suction line", 52, "compressor_inlet", "common_suction"),
            _ELEVATION,
        ),
        "superheat = line temperature − dew at suction pressure",
        _PHYSICS,
        _superheat,
    ),
    Calculator(
        "subcooling",
        "subcooling",
        (
            _REFRIGERANT,
            _pressure("pressure", "liquid pressure", 340, "liquid_service_tap", "discharge_tap"),
            _temperature("line", "liquid line", 93, "liquid_line_outdoor", "outdoor_meter_line_side"),
            _ELEVATION,
        ),
        "subcooling = bubble at liquid pressure − line temperature",
        _PHYSICS,
        _subcooling,
    ),
    Calculator(
        "target_superheat",
        "target superheat, fixed orifice in cooling",
        (
            Input("wet_bulb", "indoor wet bulb", _T, 63, "degF", 45, 85, (("return_air", "wet_bulb"),)),
            _temperature("outdoor", "outdoor dry bulb", 90, "outdoor_air_in"),
        ),
        "target superheat = (3 × indoor wet bulb − 80 − outdoor dry bulb) / 2",
        "common practice; from memory",
        _target_superheat,
    ),
    Calculator(
        "flash_fraction",
        "flash gas at the meter",
        (
            _REFRIGERANT,
            _temperature("liquid", "liquid before the meter", 90, "liquid_line_outdoor"),
            _temperature("evaporating", "evaporating (dew)", 40, "indoor_coil"),
        ),
        "flash = (h liquid − h boiling liquid) / (h vapor − h boiling liquid) at the low pressure",
        "physics: constant enthalpy; CoolProp's equations of state",
        _flash,
    ),
    Calculator(
        "pressure_before_flash",
        "pressure liquid can lose unfelt",
        (
            _REFRIGERANT,
            _pressure("pressure", "liquid pressure", 340, "liquid_service_tap", "discharge_tap"),
            _temperature("line", "liquid line", 93, "liquid_line_outdoor"),
            _ELEVATION,
        ),
        "pressure − boiling pressure at the liquid's temperature",
        _PHYSICS,
        _before_flash,
    ),
    Calculator(
        "compression_ratio",
        "compression ratio",
        (
            _pressure("suction", "suction pressure", 118, "common_suction_tap"),
            _pressure("discharge", "discharge pressure", 350, "discharge_tap", "liquid_service_tap"),
            _ELEVATION,
        ),
        "ratio = absolute discharge / absolute suction",
        "physics",
        _ratio,
    ),
    Calculator(
        "altitude",
        "gauge at altitude",
        (_ELEVATION,),
        "local air pressure − 14.696 psi",
        "ASHRAE Fundamentals, chapter 1, eq. 3 (PsychroLib)",
        _altitude,
    ),
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
            _temperature("return", "return air", 68, "return_air"),
            _temperature("supply", "air after the heater", 96, "supply_air_after_heat"),
            _ELEVATION,
        ),
        "airflow = power / (1.08 × ΔT), 1.08 corrected for the air's density",
        "physics; common practice",
        _airflow,
    ),
    Calculator(
        "sensible_heat",
        "sensible heat of air",
        (_FLOW, _RETURN, _SUPPLY, _ELEVATION),
        "heat = 1.08 × airflow × ΔT, 1.08 corrected for the air's density",
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
            _ELEVATION,
        ),
        "heat = mass of dry air × (enthalpy in − enthalpy out)",
        "ASHRAE Fundamentals, chapter 1 (PsychroLib)",
        _total,
    ),
    Calculator(
        "dew_point",
        "dew point of air",
        (
            _temperature("temperature", "dry bulb", 40, "outdoor_air_in"),
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
            _ELEVATION,
        ),
        "saturation pressure of water at the dew point = humidity × that at the dry bulb",
        "ASHRAE Fundamentals, chapter 1 (PsychroLib)",
        _dew_point,
    ),
    Calculator(
        "water_heat",
        "heat carried by water",
        (
            Input("flow", "water flow", Kind.WATER_FLOW, 9, "gpm", 0.5, 60, (("source_water", "flow"),)),
            _temperature("in", "water in", 48, "source_water_in"),
            _temperature("out", "water out", 42, "source_water_out"),
            Input(
                "factor",
                "fluid factor",
                Kind.FLUID_FACTOR,
                500,
                "1",
                300,
                600,
                (("source_water", "fluid_factor"),),
            ),
        ),
        "heat = flow × ΔT × fluid factor",
        "common practice; physics: density × heat capacity × 60",
        _water_heat,
    ),
    Calculator(
        "fluid_factor",
        "fluid factor of a mix",
        (
            Input("fluid", "fluid", "antifreeze", "propylene_glycol"),
            Input("strength", "strength by mass", Kind.SHARE, 25, "percent", 0, 60),
            _temperature("temperature", "temperature", 45, "source_water_in"),
        ),
        "factor = density × heat capacity × 60",
        "CoolProp, incompressible mixtures (Melinder 2010); water by IAPWS-95",
        _fluid_factor,
    ),
    Calculator(
        "water_flow",
        "water flow from pressure drop",
        (
            _pressure("in", "pressure in", 24, "source_water_in"),
            _pressure("out", "pressure out", 21, "source_water_out"),
            Input(
                "rows",
                "maker's table: drop in psi and flow in gpm, a pair a line",
                "rows",
                "1 4.5\n2 7\n4 11",
            ),
        ),
        "flow by the maker's table, straight between its rows over the square root of the drop",
        "maker's data; physics",
        _water_flow,
    ),
    Calculator(
        "balance_point",
        "balance point",
        (
            _temperature("warm_at", "warm rating at", 47),
            _power("warm", "capacity there", 34_000),
            _temperature("cold_at", "cold rating at", 17),
            _power("cold", "capacity there", 20_000),
            _temperature("design_at", "design outdoor temperature", 5),
            _power("load", "building load there", 42_000),
            _temperature("no_load", "load ends at", 62),
        ),
        "where the line through both capacities crosses the building's load line",
        "common practice",
        _balance,
    ),
    Calculator(
        "sensor",
        "coil or ambient sensor",
        (
            Input(
                "resistance",
                "resistance",
                Kind.RESISTANCE,
                19.9,
                "kohm",
                1.3,
                170,
                (("coil_sensor", "resistance"),),
            ),
        ),
        "by the sensor's table, straight lines in log resistance",
        f"{sensors.DEFAULT_NAME}; common practice, figures from memory",
        _sensor,
    ),
)
"""Every calculator, in the Handbook's order."""

_BY_CODE = {calculator.code: calculator for calculator in CALCULATORS}


def calculator(code: str) -> Calculator:
    """Look a calculator up.

    Raises
    ------
    KeyError
        There is none of this code.
    """
    return _BY_CODE[code]


Given = Mapping[str, tuple[float, str] | str]
"""What was filled in: (number, unit) for a quantity, text for a choice."""


def work(code: str, given: Given, units: UnitSystem) -> Answer:
    """Answer a question.

    Raises
    ------
    CalculatorError
        Something is missing, outside its range, or impossible.
    """
    entry = calculator(code)
    values: dict[str, Any] = {"elevation": 0.0}
    for wanted in sorted(entry.inputs, key=lambda i: i.name != "elevation"):
        if wanted.name not in given:
            raise CalculatorError(f"{wanted.title} is missing", wanted.name)
        atmosphere = moist_air.standard_pressure(values["elevation"])
        values[wanted.name] = _value(wanted, given[wanted.name], atmosphere)
    try:
        worked = entry.work(values)
    except refrigerants.OutsideRangeError as error:
        raise CalculatorError(str(error)) from None
    atmosphere = moist_air.standard_pressure(values["elevation"])

    def said(result: tuple[float, Kind] | str) -> str:
        return result if isinstance(result, str) else say(*result, units, atmosphere)

    return Answer(
        [(title, said(result)) for title, result in worked.results.items()],
        worked.formula.format_map({name: said(shown) for name, shown in worked.shown.items()}),
    )


def _value(wanted: Input, given: tuple[float, str] | str, atmosphere: float) -> Any:
    if not isinstance(wanted.kind, Kind):
        if not isinstance(given, str):
            raise CalculatorError(f"{wanted.title} takes a word", wanted.name)
        return _rows(given, wanted.name) if wanted.kind == "rows" else _choice(wanted, given)
    if isinstance(given, str) or given[1] not in UNITS[wanted.kind]:
        raise CalculatorError(
            f"{wanted.title} takes a number in {', '.join(UNITS[wanted.kind])}", wanted.name
        )
    value = to_si(*given, wanted.kind, atmosphere)
    low, high = (to_si(edge, wanted.unit, wanted.kind, atmosphere) for edge in (wanted.low, wanted.high))
    slack = 1e-6 * (high - low)
    if not low - slack <= value <= high + slack:
        raise CalculatorError(f"{wanted.title} lies outside what can be answered", wanted.name)
    return value


def _choice(wanted: Input, given: str) -> str:
    known: tuple[str, ...] = refrigerants.REFRIGERANTS if wanted.kind == "refrigerant" else water.ANTIFREEZES
    if given not in known:
        raise CalculatorError(f"{given!r} is not one of {', '.join(known)}", wanted.name)
    return given


def _rows(text: str, field: str) -> list[tuple[float, float]]:
    """Lines of two numbers, psi and gpm, as SI."""
    rows = []
    for line in filter(str.strip, text.splitlines()):
        try:
            drop, flow = (float(part.replace(",", ".")) for part in line.split())
        except ValueError:
            raise CalculatorError(f"“{line.strip()}” is not a drop and a flow", field) from None
        rows.append((to_si(drop, "psi", _DP), to_si(flow, "gpm", Kind.WATER_FLOW)))
    return rows

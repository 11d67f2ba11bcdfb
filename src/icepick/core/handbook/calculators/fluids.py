"""Water and antifreeze through a coil."""

from __future__ import annotations

from icepick.core.handbook.calculators.question import (
    Calculator,
    CalculatorError,
    Input,
    Values,
    Worked,
    difference,
    pressure_input,
    temperature_input,
)
from icepick.core.properties import formulas, water
from icepick.core.properties.quantities import Kind

_D, _P, _DP = Kind.TEMPERATURE_DIFFERENCE, Kind.PRESSURE, Kind.PRESSURE_DIFFERENCE


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
    drop = difference(v["in"], v["out"], "out", "the pressure must fall through the coil")
    try:
        result = formulas.flow_from_drop(drop, v["rows"])
    except ValueError as error:
        raise CalculatorError(str(error), "rows") from None
    return Worked(
        {"flow": (result, Kind.WATER_FLOW)},
        "{in} − {out} = {drop}; the manufacturer's table gives {result}",
        {
            "in": (v["in"], _P),
            "out": (v["out"], _P),
            "drop": (drop, _DP),
            "result": (result, Kind.WATER_FLOW),
        },
    )


CALCULATORS: tuple[Calculator, ...] = (
    Calculator(
        "water_heat",
        "heat carried by water",
        (
            Input("flow", "water flow", Kind.WATER_FLOW, 9, "gpm", 0.5, 60, (("source_water", "flow"),)),
            temperature_input("in", "water in", 48, "source_water_in"),
            temperature_input("out", "water out", 42, "source_water_out"),
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
            temperature_input("temperature", "temperature", 45, "source_water_in"),
        ),
        "factor = density × heat capacity × 60",
        "CoolProp, incompressible mixtures (Melinder 2010); water by IAPWS-95",
        _fluid_factor,
    ),
    Calculator(
        "water_flow",
        "water flow from pressure drop",
        (
            pressure_input("in", "pressure in", 24, "source_water_in"),
            pressure_input("out", "pressure out", 21, "source_water_out"),
            Input(
                "rows",
                "manufacturer's table: drop in psi and flow in gpm, a pair a line",
                "rows",
                "1 4.5\n2 7\n4 11",
            ),
        ),
        "flow by the manufacturer's table, straight between its rows over the square root of the drop",
        "manufacturer's data; physics",
        _water_flow,
    ),
)

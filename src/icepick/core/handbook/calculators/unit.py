"""The unit against its building, and its sensors."""

from __future__ import annotations

from icepick.core.handbook.calculators.question import (
    Calculator,
    CalculatorError,
    Input,
    Values,
    Worked,
    difference,
    temperature_input,
)
from icepick.core.properties import formulas, sensors
from icepick.core.properties.quantities import Kind

_T = Kind.TEMPERATURE


def _balance(v: Values) -> Worked:
    difference(v["warm_at"], v["cold_at"], "warm_at", "the warm rating must be the warmer one")
    difference(v["no_load"], v["design_at"], "no_load", "the load must end above the design temperature")
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


def _sensor_ohms(v: Values) -> Worked:
    try:
        found = sensors.resistance(v["temperature"])
    except ValueError as error:
        raise CalculatorError(str(error), "temperature") from None
    return Worked(
        {"resistance": (found, Kind.RESISTANCE)},
        "at {temperature} the " + sensors.DEFAULT_NAME + " reads {found}",
        {"temperature": (v["temperature"], _T), "found": (found, Kind.RESISTANCE)},
    )


def _power(name: str, title: str, default: float) -> Input:
    return Input(name, title, Kind.POWER, default, "Btu/h", 1000, 200_000)


CALCULATORS: tuple[Calculator, ...] = (
    Calculator(
        "balance_point",
        "balance point",
        (
            temperature_input("warm_at", "warm rating at", 47),
            _power("warm", "capacity there", 34_000),
            temperature_input("cold_at", "cold rating at", 17),
            _power("cold", "capacity there", 20_000),
            temperature_input("design_at", "design outdoor temperature", 5),
            _power("load", "building load there", 42_000),
            temperature_input("no_load", "load ends at", 62),
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
    Calculator(
        "sensor_ohms",
        "what a sensor should read",
        (
            Input(
                "temperature",
                "temperature beside it",
                Kind.TEMPERATURE,
                50,
                "degF",
                -22,
                176,
                (("coil_sensor", "temperature"), ("outdoor_coil", "temperature")),
            ),
        ),
        "the sensor's table the other way round",
        f"{sensors.DEFAULT_NAME}; common practice, figures from memory",
        _sensor_ohms,
    ),
)

"""What the readings say of themselves, and what stands in the circuit at rest. [the-trade.md 5 and 8]"""

from __future__ import annotations

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.command_evidence import runs
from icepick.core.diagnosis.evidence import Checks, Feature, by_status, in_operation
from icepick.core.doubts import EXPLAINS
from icepick.core.indicators.metering import is_orifice
from icepick.core.indicators.refrigerant import charging_superheat


def _doubts(context: RunContext, checks: Checks) -> str | None:
    if not context.readings.all() and not context.doubted:
        return None
    return "no" if not context.doubted else "explained" if EXPLAINS & context.doubts else "some"


DOUBTS = Feature(
    "doubts",
    ("explained", "some", "no"),
    {
        "explained": "physics contradicts some of the readings, and a slip would explain it",
        "some": "physics contradicts some of the readings",
        "no": "the readings agree with one another",
    },
    "A reading that physics forbids is doubted before the machine is.",
    {"reading_suspect/against physics": (0.55, 0.40, 0.05), "others": (0.01, 0.07, 0.92)},
    _doubts,
    lambda context: [],
    runs,
)


def _standing(context: RunContext, checks: Checks) -> str | None:
    check = checks.get("standing.pressure")
    if check is None or check.status not in ("pass", "fail"):
        return None
    if check.status == "pass":
        return "alone"
    if check.measured is None:
        return "empty"
    return "gas" if check.measured.value > 0 else "low"


STANDING = Feature(
    "standing pressure",
    ("alone", "gas", "low", "empty"),
    {
        "alone": "standing pressure is at saturation: liquid is left and no other gas",
        "gas": "standing pressure is above saturation",
        "low": "standing pressure is below saturation: no liquid is left",
        "empty": "the circuit is empty",
    },
    "With everything at one temperature, standing pressure is the saturation pressure while liquid is left and no other "
    "gas shares the circuit.",
    {
        "none": (0.993, 0.001, 0.005, 0.001),
        "noncondensables": (0.04, 0.94, 0.01, 0.01),
        "undercharge": (0.569, 0.001, 0.28, 0.15),
        "reading_suspect": (0.90, 0.04, 0.05, 0.01),
        "others": (0.993, 0.001, 0.005, 0.001),
    },
    _standing,
    lambda context: [],
    lambda context: context.run.mode == "off",
)


def _orifice_superheat(context: RunContext, checks: Checks) -> str | None:
    check = checks.get("metering.superheat_control")
    if check is None or check.measured is None or check.margin is None or charging_superheat(context) is None:
        return None
    return "none" if check.status == "fail" and check.measured.value <= check.measured.uncertainty else "some"


ORIFICE_SUPERHEAT = Feature(
    "superheat behind a fixed orifice",
    ("some", "none"),
    {
        "some": "gas leaves the evaporator superheated, or the charging chart asks for none",
        "none": "liquid leaves the evaporator, where the charging chart asks for superheat",
    },
    "A fixed orifice feeds by head and charge: too much of either, too big an orifice, too little air or too little pumped "
    "floods the coil.",
    {
        "overcharge": (0.55, 0.45),
        "active_meter_overfeeding@cooling": (0.35, 0.65),
        "indoor_airflow_low": (0.60, 0.40),
        "valve_bypassing": (0.60, 0.40),
        "compressor_weak": (0.60, 0.40),
        "outdoor_airflow_low": (0.80, 0.20),
        "noncondensables": (0.90, 0.10),
        "others": (0.97, 0.03),
    },
    _orifice_superheat,
    lambda context: [],
    lambda context: in_operation(context) and is_orifice(context) and context.running == "cooling",
)

MEASURED_AIRFLOW = Feature(
    "measured airflow",
    ("enough", "low"),
    {"enough": "the measured airflow is enough", "low": "the measured airflow is far too low"},
    "What is measured needs no inference: filter, coil, blower and duct make it low, and hardly anything else does.",
    {"none": (0.99, 0.01), "indoor_airflow_low": (0.04, 0.96), "others": (0.98, 0.02)},
    by_status("exchange.airflow", **{"pass": "enough", "fail": "low"}),
    lambda context: [],
    lambda context: in_operation(context) and context.unit.load == "air",
)

LIQUID_LEFT = Feature(
    "liquid left",
    ("some", "none"),
    {
        "some": "the high side stands as high as liquid holds it up",
        "none": "the high side is too low for any liquid to be left",
    },
    "Liquid anywhere on the high side holds it at saturation or over it.",
    {
        "undercharge": (0.93, 0.07),
        "compressor_weak": (0.998, 0.002),
        "liquid_line_restriction": (0.998, 0.002),
        "others": (0.9995, 0.0005),
    },
    by_status("charge.liquid_left", fail="none"),
    lambda context: [],
    runs,
)


def _water_heat(context: RunContext, checks: Checks) -> str | None:
    """Watched though it is well over its limit: more heat than the machine can move."""
    check = checks.get("water.extraction" if context.running == "heating" else "water.rejection")
    if check is None or check.measured is None or check.margin is None:
        return None
    too_much = check.status == "watch" and check.margin > check.measured.uncertainty
    return "too much" if too_much else "possible"


WATER_HEAT = Feature(
    "heat of the source water",
    ("possible", "too much"),
    {
        "possible": "the water side moves no more heat than the machine can",
        "too much": "the water side seems to move more heat than the machine can",
    },
    "More heat than the machine can move: doubt the flow and the thermometer first.",
    {"reading_suspect": (0.40, 0.60), "others": (0.98, 0.02)},
    _water_heat,
    lambda context: [],
    lambda context: in_operation(context) and context.unit.source == "water",
)

BALANCE = Feature(
    "heat balance",
    ("adds up", "does not"),
    {
        "adds up": "heat rejected is heat taken up and work",
        "does not": "heat rejected is not heat taken up and work",
    },
    "Whatever is wrong with the machine, its heat adds up; where it does not, a flow or a thermometer is off.",
    {"reading_suspect": (0.10, 0.90), "others": (0.98, 0.02)},
    by_status("exchange.balance", **{"pass": "adds up", "fail": "does not"}),
    lambda context: [],
    in_operation,
)

FEATURES: tuple[Feature, ...] = (
    DOUBTS,
    WATER_HEAT,
    BALANCE,
    STANDING,
    LIQUID_LEFT,
    ORIFICE_SUPERHEAT,
    MEASURED_AIRFLOW,
)

"""What coils, air and standing pressure say. [the-trade.md 5 and 6]"""

from __future__ import annotations

from collections.abc import Callable

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import (
    Checks,
    Feature,
    by_side,
    by_status,
    in_operation,
    temperatures,
)
from icepick.core.diagnosis.metering_evidence import COLDER_OUTDOORS
from icepick.core.document.visit import ObservationCode


def _air_tells(context: RunContext) -> bool:
    return in_operation(context) and context.unit.load == "air"


AIR_DIFFERENCE = Feature(
    "temperature split",
    ("small", "usual", "large"),
    {
        "small": "the temperature split is small",
        "usual": "the temperature split is normal",
        "large": "the temperature split is large: there is too little air",
    },
    "Too little air is changed by more; too little refrigerant changes it by less.",
    {
        "none": (0.04, 0.92, 0.04),
        "indoor_airflow_low": (0.01, 0.29, 0.70),
        "undercharge": (0.40, 0.58, 0.02),
        "active_meter_underfeeding": (0.40, 0.58, 0.02),
        "liquid_line_restriction": (0.40, 0.58, 0.02),
        "bypass_stuck_closed": (0.40, 0.58, 0.02),
        "valve_bypassing/a little": (0.12, 0.85, 0.03),
        "valve_bypassing": (0.45, 0.53, 0.02),
        "compressor_weak": (0.75, 0.24, 0.01),
        **dict.fromkeys(COLDER_OUTDOORS, (0.25, 0.74, 0.01)),
        "undercharge/a little": (0.12, 0.85, 0.03),
        "others": (0.10, 0.86, 0.04),
    },
    by_side("exchange.air_difference", "small", "usual", "large"),
    lambda context: temperatures("return_air", "supply_air"),
    _air_tells,
)


BEND_AGAINST_GAUGE = Feature(
    "gauge against bend",
    ("agree", "apart"),
    {
        "agree": "gauge and condenser's bend agree",
        "apart": "the gauge claims more than the condenser's bend shows",
    },
    "Overcharge and noncondensables share high head and high subcooling by pressure; the condenser's own bend tells.",
    {"noncondensables": (0.06, 0.94), "others": (0.975, 0.025)},
    by_status("exchange.noncondensables", **{"pass": "agree", "fail": "apart"}),
    lambda context: (
        [("discharge_tap", "pressure"), (context.circuit.condenser, "temperature")] if context.circuit else []
    ),
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
        "none": (0.974, 0.020, 0.005, 0.001),
        "noncondensables": (0.04, 0.94, 0.01, 0.01),
        "undercharge": (0.55, 0.02, 0.28, 0.15),
        "reading_suspect": (0.90, 0.04, 0.05, 0.01),
        "others": (0.974, 0.020, 0.005, 0.001),
    },
    _standing,
    lambda context: [],
    lambda context: context.run.mode == "off",
)


def _seen(*codes: str) -> Callable[[RunContext, Checks], str | None]:
    def observe(context: RunContext, checks: Checks) -> str | None:
        if set(codes) & context.observed:
            return "seen"
        return "not seen" if codes[0] in context.looked_for else None

    return observe


def _sight(
    name: str,
    words: str,
    reason: str,
    rows: dict[str, float],
    others: float,
    *codes: ObservationCode,
    mode: str | None = None,
    look: bool = True,
) -> Feature:
    """Something seen: ``rows`` gives how likely it is to be seen under a fault, ``mode`` in which mode alone it can be;
    ``look`` whether it is worth asking for."""
    return Feature(
        name,
        ("seen", "not seen"),
        {"seen": words, "not seen": f"not: {words}"},
        reason,
        {**{fault: (p, 1 - p) for fault, p in rows.items()}, "others": (others, 1 - others)},
        _seen(*codes),
        lambda context: [],
        lambda context: in_operation(context) and mode in (None, context.running),
        codes[0] if look else None,
    )


OUTDOOR_FAN = Feature(
    "outdoor fan",
    ("runs", "stands still"),
    {
        "runs": "the outdoor fan runs",
        "stands still": "the outdoor fan does not run while the compressor does",
    },
    "A coil without its fan exchanges next to nothing: look before gauges.",
    {
        "outdoor_airflow_low": (0.35, 0.65),
        "outdoor_coil_frosted": (0.95, 0.05),
        "others": (0.997, 0.003),
    },
    by_status("outdoor.fan", **{"pass": "runs", "fail": "stands still"}),
    lambda context: [],
    lambda context: in_operation(context) and context.unit.source == "air",
    "outdoor_fan_stopped",
)


BALANCE = Feature(
    "heat balance",
    ("adds up", "does not"),
    {
        "adds up": "heat rejected is heat taken up and work",
        "does not": "heat rejected is not heat taken up and work",
    },
    "Whatever is wrong with the machine, its heat adds up; where it does not, a flow or a thermometer is off.",
    {
        "reading_suspect/out of balance": (0.10, 0.90),
        "reading_suspect/against physics": (0.80, 0.20),
        "others": (0.98, 0.02),
    },
    by_status("exchange.balance", **{"pass": "adds up", "fail": "does not"}),
    lambda context: [],
)

FEATURES: tuple[Feature, ...] = (
    AIR_DIFFERENCE,
    BEND_AGAINST_GAUGE,
    STANDING,
    BALANCE,
    OUTDOOR_FAN,
    _sight(
        "dirt indoors",
        "filter or indoor coil found dirty",
        "Look before gauges: dirt is the most common cause of too little air.",
        {"indoor_airflow_low": 0.60},
        0.06,
        "filter_dirty",
        "coil_dirty_indoor",
    ),
    _sight(
        "dirt outdoors",
        "outdoor coil found dirty",
        "Look before gauges: dirt on the outdoor coil keeps the air from it.",
        {"outdoor_airflow_low": 0.60},
        0.06,
        "coil_dirty_outdoor",
    ),
    _sight(
        "oil stain",
        "an oil stain at a joint or coil",
        "Oil leaves with the refrigerant: a stain marks a leak.",
        {"undercharge": 0.22},
        0.05,
        "oil_stain",
    ),
    _sight(
        "ice",
        "the outdoor coil is one block of ice",
        "Ice blocks the air and fills the accumulator; melt it before anything is measured.",
        {"outdoor_coil_frosted": 0.80, "undercharge": 0.05, "outdoor_airflow_low": 0.08},
        0.01,
        "outdoor_coil_iced_solid",
        mode="heating",
    ),
    _sight(
        "patchy frost",
        "frost on the outdoor coil is patchy",
        "Patchy frost that starts at the metering device speaks for charge or a starved circuit.",
        {"outdoor_coil_frosted": 0.30, "undercharge": 0.40, "coil_circuit_starved": 0.40},
        0.05,
        "outdoor_coil_frosted_patchy",
        mode="heating",
    ),
    _sight(
        "even frost",
        "frost on the outdoor coil is even",
        "Even frost says that every circuit is fed: look at air and defrost rather than at the charge.",
        {
            "outdoor_coil_frosted": 0.60,
            "outdoor_airflow_low": 0.40,
            "undercharge": 0.08,
            "coil_circuit_starved": 0.03,
            "active_meter_underfeeding": 0.08,
            "liquid_line_restriction": 0.08,
            "bypass_stuck_closed": 0.08,
        },
        0.30,
        "outdoor_coil_frosted_even",
        mode="heating",
        look=False,
    ),
)

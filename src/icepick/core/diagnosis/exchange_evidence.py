"""What coils, air and standing pressure say. [trade.md sections 5 and 6]"""

from __future__ import annotations

from collections.abc import Callable

from icepick.core.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature, by_status, temperatures
from icepick.core.indicators.valve import running_circuit


def _air_difference(context: RunContext, checks: Checks) -> str | None:
    check = checks.get("exchange.air_difference")
    if check is None or check.measured is None or check.limit is None:
        return None
    if check.status == "pass":
        return "usual"
    return "large" if check.measured.value > check.limit.value else "small"


AIR_DIFFERENCE = Feature(
    "air difference",
    ("small", "usual", "large"),
    {
        "small": "the indoor air changes little",
        "usual": "the indoor air changes as usual",
        "large": "the indoor air changes much: there is too little of it",
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
        "outdoor_coil_frosted@heating": (0.50, 0.49, 0.01),
        "others": (0.10, 0.86, 0.04),
    },
    _air_difference,
    lambda context: temperatures("return_air", "supply_air"),
    lambda context: context.commanded is not None and context.unit.load == "air",
)


BEND_AGAINST_GAUGE = Feature(
    "gauge against bend",
    ("agree", "apart"),
    {
        "agree": "gauge and condenser's bend agree",
        "apart": "the gauge claims more than the condenser's bend shows",
    },
    "Overcharge and air share high head and high subcooling by pressure; the condenser's own bend tells.",
    {"noncondensables": (0.06, 0.94), "others": (0.975, 0.025)},
    by_status("exchange.noncondensables", **{"pass": "agree", "fail": "apart"}),
    lambda context: (
        [("discharge_tap", "pressure"), (c.condenser, "temperature")]
        if (c := running_circuit(context))
        else []
    ),
)


def _standing(context: RunContext, checks: Checks) -> str | None:
    check = checks.get("standing.pressure")
    if check is None or check.status not in ("pass", "fail"):
        return None
    if check.status == "pass":
        return "alone"
    return "air" if check.measured is not None and check.measured.value > 0 else "empty"


STANDING = Feature(
    "standing pressure",
    ("alone", "air", "empty"),
    {
        "alone": "standing pressure is that of the refrigerant alone",
        "air": "standing pressure is too high: another gas shares the circuit",
        "empty": "standing pressure is too low: no liquid is left",
    },
    "With everything at one temperature, pressure and saturation can differ only by a gas that does not belong.",
    {
        "noncondensables": (0.05, 0.93, 0.02),
        "undercharge": (0.80, 0.02, 0.18),
        "others": (0.97, 0.015, 0.015),
    },
    _standing,
    lambda context: [],
    lambda context: context.run.mode == "off",
)


def _seen(*codes: str) -> Callable[[RunContext, Checks], str | None]:
    return lambda context, checks: "seen" if set(codes) & context.observed else None


def _sight(
    name: str,
    words: str,
    reason: str,
    rows: dict[str, float],
    others: float,
    *codes: str,
    heating_only: bool = False,
) -> Feature:
    """Something seen: ``rows`` gives how likely it is to be seen under a fault."""
    return Feature(
        name,
        ("seen", "not seen"),
        {"seen": words, "not seen": f"not: {words}"},
        reason,
        {**{fault: (p, 1 - p) for fault, p in rows.items()}, "others": (others, 1 - others)},
        _seen(*codes),
        lambda context: [],
        lambda context: context.commanded == "heating" if heating_only else context.commanded is not None,
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
    _sight(
        "dirt indoors",
        "filter or indoor coil found dirty",
        "Look before gauges: dirt is the commonest cause of too little air.",
        {"indoor_airflow_low": 0.60},
        0.06,
        "filter_dirty",
        "coil_dirty_indoor",
    ),
    _sight(
        "dirt outdoors",
        "outdoor coil found dirty",
        "Look before gauges.",
        {"outdoor_airflow_low": 0.60},
        0.06,
        "coil_dirty_outdoor",
    ),
    _sight(
        "outdoor fan stands",
        "the outdoor fan stands while the unit runs",
        "A coil without a fan exchanges next to nothing.",
        {"outdoor_airflow_low": 0.50, "outdoor_coil_frosted": 0.10},
        0.01,
        "outdoor_fan_stopped",
    ),
    _sight(
        "ice",
        "the outdoor coil is one block of ice",
        "Ice blocks the air and fills the accumulator; melt it before anything is measured.",
        {"outdoor_coil_frosted": 0.80, "undercharge": 0.05, "outdoor_airflow_low": 0.08},
        0.01,
        "outdoor_coil_iced_solid",
        heating_only=True,
    ),
    _sight(
        "patchy frost",
        "frost on the outdoor coil is patchy",
        "Patchy frost that starts at the meter speaks for charge or a starved circuit.",
        {"outdoor_coil_frosted": 0.30, "undercharge": 0.40, "coil_circuit_starved": 0.40},
        0.05,
        "outdoor_coil_frosted_patchy",
        heating_only=True,
    ),
)

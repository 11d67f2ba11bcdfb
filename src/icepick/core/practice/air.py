"""Air over the indoor coil, its heat, and whether all heat adds up."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "fan_power_band",
        30,
        "percent",
        Kind.RATIO,
        "our own choice",
        "How far the supply fan's power may lie from what is stated or usual.",
    ),
    Limit(
        "balance_tolerance",
        15,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How much of the heat rejected may be missing from, or too much for, heat taken up plus work, before a flow or a "
        "thermometer is doubted.",
    ),
    Limit(
        "airflow_uncertainty",
        20,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far an assumed or stated airflow may be from the real one.",
    ),
    Limit(
        "airflow_short",
        25,
        "percent",
        Kind.SHARE,
        COMMON,
        "A measured airflow so far short of the manufacturer's, else of the usual for its capacity, is a finding by itself: "
        "most units need seven eighths of the usual, and as found they get 0.7 to 1.2 of it.",
    ),
    Limit(
        "air_split_band",
        4,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "How far the split may lie from the target for the return air's dry and wet bulb: 3 °F (1.7 °C) is customary, "
        "and the airflow is seldom exactly 400 cfm a ton (54 L/s per kW).",
    ),
    Limit(
        "capacity_excess",
        25,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Capacity by air beyond what the unit can move at these conditions by more than this: an airflow or an air "
        "temperature is wrong.",
    ),
    Limit(
        "capacity_shortfall",
        30,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Capacity by air short of what the unit should move at these conditions by more than this.",
    ),
)

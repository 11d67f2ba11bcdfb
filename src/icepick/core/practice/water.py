"""Water through a coil."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "water_gauge_step",
        0.1,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        "our own choice",
        "How well one gauge, moved from port to port, reads a difference.",
    ),
    Limit(
        "water_probe_step",
        0.3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How well one probe, moved from port to port, reads a difference. Dial pocket thermometers won't do.",
    ),
    Limit(
        "fluid_factor_uncertainty",
        3,
        "percent",
        Kind.SHARE,
        COMMON,
        "How far the fluid factor may be from 500 where the mix was not entered: an antifreeze carries some 485.",
    ),
    Limit(
        "water_shortfall",
        10,
        "percent",
        Kind.SHARE,
        COMMON,
        "Heat of extraction or rejection short of the expected figure by more than this: not working properly.",
    ),
    Limit(
        "water_excess",
        17,
        "percent",
        Kind.SHARE,
        COMMON,
        "More than the expected figure by this: doubt the flow or the thermometer before praising the machine.",
    ),
    Limit(
        "rating_water_band",
        4,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How far the heat at other water may lie from the rated heat corrected for it, for each 10 °F "
        "(5.6 °C) from the rating.",
    ),
    Limit(
        "water_freezing",
        38,
        "degF",
        Kind.TEMPERATURE,
        "common practice; figure from memory",
        "Plain water leaving a coil that evaporates: near 40 °F (4 °C) and below it can freeze inside. With antifreeze "
        "the limit is the mix's.",
    ),
    Limit(
        "antifreeze_factor",
        495,
        "1",
        Kind.FLUID_FACTOR,
        "common practice; figure from memory",
        "A fluid factor under this is that of an antifreeze mix.",
    ),
    Limit(
        "water_difference",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "In heating source water that changes by more than this runs too slowly.",
    ),
    Limit(
        "water_rise",
        15,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "In cooling source water that warms by more than this runs too slowly: 10 to 15 °F (6 to 8 °C) is normal.",
    ),
)

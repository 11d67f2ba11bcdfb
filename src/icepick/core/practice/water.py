"""Water through a coil."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "water_flow_per_ton",
        3,
        "gpm",
        Kind.WATER_FLOW,
        COMMON,
        "Usual flow of source water for each ton of nominal capacity.",
    ),
    Limit(
        "water_flow_low",
        65,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Share of the usual flow of source water under which low flow is the first thing to look at.",
    ),
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
        "Heat of extraction or rejection short of the maker's figure by more than this: not working properly.",
    ),
    Limit(
        "water_excess",
        17,
        "percent",
        Kind.SHARE,
        COMMON,
        "More than the maker's figure by this: doubt the flow or the thermometer before praising the machine.",
    ),
    Limit(
        "water_difference",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Source water that changes by more than this runs too slowly.",
    ),
    Limit(
        "water_difference_small",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Source water that changes by less than this gives or takes hardly any heat.",
    ),
)

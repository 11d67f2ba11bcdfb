"""Saturation against what enters a coil."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "standing_difference",
        4,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Standing pressure turned into a saturation temperature, against the air around a unit that is "
        "off: above it, noncondensables; below it, no liquid is left.",
    ),
    Limit(
        "frost_air_most",
        50,
        "degF",
        Kind.TEMPERATURE,
        "physics; the figure is our own choice",
        "In outdoor air warmer than this the coil's surface stays above freezing, and ice on it melts.",
    ),
    Limit(
        "bend_uncertainty",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "How well a bend halfway through a coil stands for saturation, beyond the clamp's own band.",
    ),
    Limit(
        "guess_uncertainty",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How well the gas that comes back stands for saturation where neither gauge nor bend was read.",
    ),
    Limit(
        "split_deviation",
        7,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far a coil's split may lie from what this unit should show in the conditions of the run.",
    ),
    Limit(
        "condenser_drop",
        5,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        COMMON,
        "What a condenser and its pipes usually lose between head and liquid line, give or take as much: taken where only "
        "one of the two was read.",
    ),
    Limit(
        "bend_offset",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Saturation by gauge over the condenser's own bend: more than this, and noncondensables share the condenser.",
    ),
)

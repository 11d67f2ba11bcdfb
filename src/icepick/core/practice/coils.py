"""Saturation against what enters a coil."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "standing_difference",
        4,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Standing pressure turned into a saturation temperature, against the air around a unit that is "
        "off: above it, another gas shares the circuit; below it, no liquid is left.",
    ),
    Limit(
        "evaporator_split_cooling",
        34,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Return air over evaporating temperature, where the maker says nothing.",
    ),
    Limit(
        "evaporator_split_heating",
        17,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Outdoor air over evaporating temperature, where the maker says nothing.",
    ),
    Limit(
        "condenser_split_cooling",
        22,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Condensing temperature over outdoor air, where the maker says nothing.",
    ),
    Limit(
        "condenser_split_heating",
        30,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Condensing temperature over return air, where the maker says nothing.",
    ),
    Limit(
        "water_split",
        12,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Between entering water and saturation in a water coil, where the maker says nothing.",
    ),
    Limit(
        "usual_condensing",
        105,
        "degF",
        Kind.TEMPERATURE,
        COMMON,
        "Taken for the high side where neither gauge, bend nor entering air was read.",
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
        "How well a usual split stands for saturation where neither gauge nor bend was read.",
    ),
    Limit(
        "split_deviation",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far a coil's split may lie from the usual one before it speaks for a fault.",
    ),
    Limit(
        "bend_offset",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Saturation by gauge over the condenser's own bend: more than this and another gas shares the condenser.",
    ),
)

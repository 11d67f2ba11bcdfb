"""The reversing valve and the gas that passes it."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "valve_suction_rise",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Common suction over the port that brings suction gas back. A seated slide shows 1–3 °F (½–2 °C) from "
        "metal shared by hot and cold gas; 5 °F (3 °C) or more means gas is bypassing.",
        most=20,
    ),
    Limit(
        "valve_discharge_drop",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Discharge line over the port that carries hot gas away. A seated slide loses a degree or two.",
    ),
    Limit(
        "valve_position",
        0.5,
        "1",
        Kind.RATIO,
        "physics; the threshold is our own choice",
        "The position index runs from −1 (full heating) to +1 (full cooling); within half of either "
        "side of the middle the slide stands on neither side.",
        most=1,
    ),
    Limit(
        "equalized_spread",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "Four pipes at the valve this close together carry the same gas: the slide stands midway or "
        "nothing is being pumped.",
    ),
    Limit(
        "valve_bypass",
        5,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Share of the compressor's flow that bypasses inside the valve. A seated slide lets next to none past; at this "
        "share the loss of capacity is felt.",
    ),
    Limit(
        "valve_drift",
        2,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Between two readings of the same pair a difference that moves more than this had not settled.",
    ),
    Limit(
        "dry_return",
        6,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Gas that comes back superheated by this much is dry; the less it is, the more liquid it may carry, and liquid "
        "soaks up hot gas unseen. Under two thirds of it a small suction rise does not clear the valve.",
    ),
    Limit(
        "bypass_band_most",
        8,
        "percent",
        Kind.SHARE,
        "our own choice",
        "A bypass fraction known no better than this is not given: liquid that the returning gas may carry hides it.",
    ),
    Limit(
        "wet_return_share",
        10,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How much liquid a wet return is taken to carry at most when the bypass fraction is worked out.",
    ),
    Limit(
        "shift_pressure",
        30,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        "common practice; figure from memory",
        "The pilot moves the slide by the difference of discharge and suction pressure; with less than this, about what "
        "manufacturers ask for to start a shift, it can't.",
    ),
    Limit(
        "vapor_line_hot",
        20,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "A vapor line this much over room temperature carries hot gas: the unit is heating.",
    ),
    Limit(
        "vapor_line_cold",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "A vapor line this much under room temperature carries suction gas: the unit is cooling.",
    ),
    Limit(
        "air_turned",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "Air or a coil's bend this much warmer or colder than the air that entered: no other part of the unit does that, so "
        "the coil condenses or evaporates, and the valve has shifted. A heater behind the coil must be known to be off.",
    ),
    Limit(
        "water_turned",
        2,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "physics; the figure is our own choice",
        "The same of water through a coil.",
    ),
)

"""Defrost: what a board usually does, and what a sound one shows in a recording."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "defrost_interval",
        90,
        "min",
        Kind.TIME,
        COMMON,
        "Compressor time between defrosts where the board's setting is not noted: 30, 45, 60 or 90 min by jumper, and the "
        "longest is taken so that no board is blamed for its jumper.",
    ),
    Limit(
        "defrost_interval_least",
        30,
        "min",
        Kind.TIME,
        COMMON,
        "The shortest jumper, and what a demand board waits at least, where neither is noted.",
    ),
    Limit(
        "defrost_start",
        32,
        "degF",
        Kind.TEMPERATURE,
        COMMON,
        "A coil sensor lets a defrost start at this and below where the setting is not noted: 26 to 32 °F.",
    ),
    Limit(
        "defrost_stop",
        50,
        "degF",
        Kind.TEMPERATURE,
        COMMON,
        "Liquid leaving the outdoor coil at which a defrost stops where the setting is not noted: 47, 70 and others by "
        "jumper.",
    ),
    Limit("defrost_limit", 10, "min", Kind.TIME, COMMON, "The longest a board lets a defrost run."),
    Limit(
        "defrost_overrun",
        1,
        "min",
        Kind.TIME,
        "our own choice",
        "How much longer than its limit, or than its coil takes to pass the stop, a defrost may be seen to last.",
    ),
    Limit(
        "defrost_stop_passed",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far a clamp beside the sensor may climb past the stop before the board should have ended it: the sensor "
        "follows late.",
    ),
    Limit(
        "defrost_bend_passed",
        30,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "The same for a bend in the middle of the coil, where hot gas arrives before the liquid at the sensor is warm.",
    ),
    Limit(
        "defrost_shift_time",
        30,
        "s",
        Kind.TIME,
        COMMON,
        "A reversing valve that is told to shift has done so within seconds; the pipes show it a little later.",
    ),
    Limit(
        "defrost_interval_tolerance",
        15,
        "percent",
        Kind.SHARE,
        "our own choice",
        "How much sooner or later than its setting a board's timer may be seen to act.",
    ),
    Limit(
        "defrost_missed",
        3,
        "1",
        Kind.RATIO,
        COMMON,
        "Intervals through which frost has grown before a defrost that did not come is called missed.",
    ),
    Limit(
        "frost_sag",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How much colder against the outdoor air a coil has grown than when it was clear before frost is taken for proved.",
    ),
    Limit(
        "frost_recovered",
        4,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How near the coil must come, after a defrost, to what it was when clear.",
    ),
    Limit(
        "frost_clear",
        42,
        "degF",
        Kind.TEMPERATURE,
        "physics; the figure is our own choice",
        "Ice holds a coil near 32 to 40 °F until it is gone; one that climbs past this is clear.",
    ),
    Limit(
        "dry_coil",
        0.01,
        "percent",
        Kind.SHARE,
        "physics; the figure is our own choice",
        "Water in the air beyond what ice at the coil's temperature lets stay there, as a share of the air's mass: under it "
        "(0.1 g in a kilogram) frost grows too slowly to matter.",
    ),
    Limit(
        "supply_cold",
        65,
        "degF",
        Kind.TEMPERATURE,
        COMMON,
        "Air behind the backup heater that falls below this in a defrost says that the heater is off: without it the supply "
        "falls to some 50 to 55 °F.",
    ),
    Limit(
        "heater_rise",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "A heater that heats warms the air by more than this.",
    ),
)

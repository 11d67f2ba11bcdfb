"""What readings are worth: settling, their bands, and when one is doubted."""

from icepick.core.practice.definition import COMMON, Limit
from icepick.core.properties.quantities import Kind

LIMITS: tuple[Limit, ...] = (
    Limit(
        "settling_time",
        10,
        "min",
        Kind.TIME,
        COMMON,
        "Pressures and line temperatures drift for about ten minutes after a start or a change of mode; "
        "a drifting reading proves nothing.",
    ),
    Limit(
        "baseline_sound",
        60,
        "percent",
        Kind.SHARE,
        "our own choice",
        "An earlier visit teaches what this very unit is like once it is so likely that nothing was wrong at it.",
    ),
    Limit(
        "doubt_margin",
        3,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "Readings are doubted only when they contradict physics by more than this beyond their own "
        "uncertainty: pipes, coils and air are never quite at one temperature.",
    ),
    Limit(
        "gauges_alike",
        8,
        "percent",
        Kind.SHARE,
        "our own choice",
        "Two numbers typed into pipes are taken for one pressure, read twice, within this share of each other.",
    ),
    Limit(
        "hottest_pipe",
        300,
        "degF",
        Kind.TEMPERATURE,
        COMMON,
        "A compressor's own protection opens, and its oil breaks down, well before its discharge line is so "
        "hot: a number above it is a slip of the hand. From memory.",
    ),
    Limit(
        "lowest_condensing",
        60,
        "degF",
        Kind.TEMPERATURE,
        "physics; the figure is our own choice",
        "A coil that heats a room condenses above that room's temperature; used to tell a suction from "
        "a head pressure in heating where nothing better was read.",
    ),
    Limit(
        "unit_doubt_far",
        40,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "A pressure whose saturation lies this far from what the pipes say may have been typed in "
        "another unit.",
    ),
    Limit(
        "unit_doubt_near",
        20,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "It was, if in that other unit it comes this close.",
    ),
    Limit(
        "sensor_difference",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "A coil or ambient sensor that reads farther than this from a thermometer beside it is off.",
    ),
    Limit(
        "line_change",
        6,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "A pipe, a bypassed metering device or a filter drier changes the temperature of what runs "
        "through it by a few degrees at most.",
    ),
    Limit(
        "room_temperature",
        70,
        "degF",
        Kind.TEMPERATURE,
        COMMON,
        "Taken where the return air was not read.",
    ),
    Limit(
        "history_near",
        10,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "How far the entering temperatures of an earlier visit may lie from today's for its figures to be compared without "
        "a word on the weather.",
    ),
    Limit(
        "uncertainty_clamp",
        1,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "A pipe clamp in good contact. Also taken where no method is given.",
    ),
    Limit(
        "uncertainty_probe",
        0.5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "A probe in moving air or water.",
    ),
    Limit(
        "uncertainty_infrared",
        8,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        COMMON,
        "An infrared gun on bare pipe: shiny copper reads what it reflects.",
    ),
    Limit(
        "uncertainty_estimate",
        5,
        "delta_degF",
        Kind.TEMPERATURE_DIFFERENCE,
        "our own choice",
        "A temperature felt by hand or guessed.",
    ),
    Limit(
        "uncertainty_gauge",
        1,
        "psi",
        Kind.PRESSURE_DIFFERENCE,
        COMMON,
        "A gauge near zero; higher up, the share below is the larger.",
    ),
    Limit(
        "uncertainty_gauge_share",
        1,
        "percent",
        Kind.RATIO,
        COMMON,
        "A gauge, as a share of what it reads.",
    ),
    Limit(
        "uncertainty_meter_share",
        1,
        "percent",
        Kind.RATIO,
        COMMON,
        "An electrical, flow or power meter, as a share of what it reads.",
    ),
    Limit(
        "uncertainty_estimate_share",
        10,
        "percent",
        Kind.RATIO,
        "our own choice",
        "Anything but a temperature that was guessed, as a share of the guess.",
    ),
)

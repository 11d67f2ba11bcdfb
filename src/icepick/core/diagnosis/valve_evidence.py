"""Which way the circuit runs, and what was seen and heard of the slide. [the-trade.md 3]

Where hot and cold are neither here nor there no machine model has a say: pressures and current then speak by tables.
"""

from __future__ import annotations

from icepick.core.checks.compressor import draws_nothing, signs
from icepick.core.circuit.context import RunContext, turned_afar
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.circuit.load import medium_entering
from icepick.core.diagnosis.command_evidence import called_to_run, energized, resting, runs
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, temperatures
from icepick.core.indicators import valve
from icepick.core.prediction.taken import why_not


def _direction(context: RunContext, checks: Checks) -> str | None:
    position, apparent = checks.get("valve.position"), context.apparent
    if turned_afar(context) and not draws_nothing(context):
        return "opposite"
    if apparent == "unknown" or (position is not None and position.status == "watch"):
        return None
    if "charge.liquid_left" in checks:
        return None  # So little gas moves no slide: where it stands says nothing of the valve.
    if draws_nothing(context) and apparent != "neither":
        return None  # Nothing runs either way.
    if apparent == "neither":
        return "alike" if valve.equalized(context) else "midway"
    return "right" if apparent == context.commanded else "opposite"


def _pipes(context: RunContext) -> list[Spot]:
    return temperatures(*VALVE_PIPES)


_DIRECTION_WORDS = {
    "right": "hot and cold are where they belong",
    "opposite": "hot gas goes the other way",
    "alike": "all four pipes at the valve are alike",
    "midway": "the slide is on neither side",
}

_DIRECTIONS = ("right", "opposite", "alike", "midway")

DIRECTION_ENERGIZED = Feature(
    "direction, valve energized",
    _DIRECTIONS,
    _DIRECTION_WORDS,
    "A valve that gets no command, or whose winding is open, falls back to its resting side.",
    {
        "none": (0.987, 0.004, 0.006, 0.003),
        "valve_in_opposite_position": (0.02, 0.96, 0.01, 0.01),
        "valve_bypassing": (0.75, 0.02, 0.03, 0.20),
        "command_missing": (0.02, 0.96, 0.01, 0.01),
        "valve_convention_wrong": (0.02, 0.96, 0.01, 0.01),
        "defrost_not_stopping/still in it": (0.02, 0.96, 0.01, 0.01),
        "solenoid_open": (0.02, 0.96, 0.01, 0.01),
        "compressor_weak": (0.80, 0.02, 0.17, 0.01),
        "compressor_not_running": (0.05, 0.01, 0.93, 0.01),
        "call_missing": (0.05, 0.01, 0.93, 0.01),
        "control_power_missing": (0.05, 0.01, 0.93, 0.01),
        "others": (0.962, 0.02, 0.015, 0.003),
    },
    _direction,
    _pipes,
    energized,
)

DIRECTION_RESTING = Feature(
    "direction, valve at rest",
    _DIRECTIONS,
    _DIRECTION_WORDS,
    "A missing command does not show while the valve should rest; a wrong O/B setting does.",
    {
        "none": (0.987, 0.004, 0.006, 0.003),
        "valve_in_opposite_position": (0.02, 0.96, 0.01, 0.01),
        "valve_bypassing": (0.75, 0.02, 0.03, 0.20),
        "command_missing": (0.97, 0.01, 0.01, 0.01),
        "valve_convention_wrong": (0.02, 0.96, 0.01, 0.01),
        "defrost_not_stopping/still in it": (0.02, 0.96, 0.01, 0.01),
        "solenoid_open": (0.97, 0.01, 0.01, 0.01),
        "compressor_weak": (0.80, 0.02, 0.17, 0.01),
        "compressor_not_running": (0.05, 0.01, 0.93, 0.01),
        "call_missing": (0.05, 0.01, 0.93, 0.01),
        "control_power_missing": (0.05, 0.01, 0.93, 0.01),
        "others": (0.962, 0.02, 0.015, 0.003),
    },
    _direction,
    _pipes,
    resting,
)


def _magnets(context: RunContext, checks: Checks) -> str | None:
    seen = {
        "magnets_full_travel": "full",
        "magnets_stop_midway": "midway",
        "magnets_do_not_move": "still",
    }
    if "charge.liquid_left" in checks:
        return None
    return next((outcome for code, outcome in seen.items() if code in context.observed), None)


MAGNETS = Feature(
    "magnets",
    ("full", "midway", "still"),
    {
        "full": "magnets rode all the way",
        "midway": "magnets stopped midway",
        "still": "magnets did not move",
    },
    "They ride with the slide; without command or pressure it stays where it is.",
    {
        "none": (0.94, 0.02, 0.04),
        "valve_in_opposite_position": (0.05, 0.10, 0.85),
        "valve_bypassing": (0.45, 0.45, 0.10),
        "command_missing": (0.12, 0.03, 0.85),
        "control_power_missing": (0.12, 0.03, 0.85),
        "call_missing": (0.25, 0.05, 0.70),
        "solenoid_open": (0.12, 0.03, 0.85),
        "compressor_weak": (0.40, 0.15, 0.45),
        "compressor_not_running": (0.25, 0.15, 0.60),
        "others": (0.92, 0.03, 0.05),
    },
    _magnets,
    lambda context: [],
    runs,
)

SOUND = Feature(
    "sound of the shift",
    ("heard", "silent"),
    {"heard": "a rush was heard when it shifted", "silent": "no rush was heard"},
    "Not proof of full travel, but something moved.",
    {
        "valve_in_opposite_position": (0.10, 0.90),
        "command_missing": (0.10, 0.90),
        "solenoid_open": (0.05, 0.95),
        "compressor_weak": (0.40, 0.60),
        "valve_bypassing": (0.70, 0.30),
        "others": (0.95, 0.05),
    },
    lambda context, checks: "heard" if "valve_shift_heard" in context.observed else None,
    lambda context: [],
    runs,
)


def _pressures(context: RunContext, checks: Checks) -> str | None:
    """Equal only where nothing speaks against it: lines that lie apart say that something is pumped."""
    found = signs(context)
    if found.get("pressures"):
        return "drawn together" if found.get("lines") is False else "equal"
    check = checks.get("compressor.pressure_ratio")
    if check is None or check.measured is None:
        return None
    if check.status == "fail":
        return "drawn together" if check.measured.value < 0 else None
    return "apart" if check.status == "pass" else None


def _pressure_spots(context: RunContext) -> list[Spot]:
    if context.circuit is None:
        return []
    air = [medium_entering(context, coil) for coil in (context.circuit.evaporator, context.circuit.condenser)]
    return [("common_suction_tap", "pressure"), ("discharge_tap", "pressure"), *temperatures(*air)]


def _unasked(context: RunContext) -> bool:
    """Whether no machine model has a say in a run that should heat or cool."""
    return called_to_run(context) and bool(why_not(context))


MOVES = Feature(
    "pressures apart",
    ("apart", "equal"),
    {"apart": "something is pumped: pressures are apart", "equal": "pressures are all but equal"},
    "Pressures that are apart say that the compressor runs.",
    {
        "compressor_not_running": (0.03, 0.97),
        "call_missing": (0.03, 0.97),
        "control_power_missing": (0.03, 0.97),
        "others": (0.97, 0.03),
    },
    lambda context, checks: "apart" if signs(context).get("pressures") is False else None,
    _pressure_spots,
    lambda context: called_to_run(context) and not why_not(context),
)

PRESSURES = Feature(
    "pressure ratio",
    ("apart", "drawn together", "equal"),
    {
        "apart": "pressures are as far apart as conditions call for",
        "drawn together": "pressures are drawn together, but not equal",
        "equal": "pressures are all but equal",
    },
    "A bypassing valve draws the pressures together; a compressor that does not pump makes them equal, and every line alike.",
    {
        "none": (0.97, 0.025, 0.005),
        "valve_bypassing": (0.40, 0.57, 0.03),
        "compressor_weak": (0.05, 0.45, 0.50),
        "compressor_not_running": (0.03, 0.07, 0.90),
        "call_missing": (0.03, 0.07, 0.90),
        "control_power_missing": (0.03, 0.07, 0.90),
        "others": (0.90, 0.09, 0.01),
    },
    _pressures,
    _pressure_spots,
    _unasked,
)


def _current(context: RunContext, checks: Checks) -> str | None:
    low = signs(context).get("current")
    if low is None or draws_nothing(context):
        return None
    return "low" if low else "usual"


CURRENT = Feature(
    "compressor current",
    ("usual", "low"),
    {
        "usual": "the compressor draws what it should",
        "low": "the compressor draws a small part of its rated current",
    },
    "A compressor that moves nothing has nothing to do.",
    {
        "none": (0.95, 0.05),
        "compressor_weak": (0.30, 0.70),
        "valve_bypassing": (0.75, 0.25),
        "others": (0.93, 0.07),
    },
    _current,
    lambda context: [("compressor", "current")],
    lambda context: _unasked(context) and context.unit.compressor.rated_current is not None,
)

FEATURES: tuple[Feature, ...] = (
    DIRECTION_ENERGIZED,
    DIRECTION_RESTING,
    MAGNETS,
    SOUND,
    MOVES,
    PRESSURES,
    CURRENT,
)

"""What command, valve and compressor readings say of the faults. [trade.md section 3]"""

from __future__ import annotations

from icepick.core.checks.command import reads, valve_terminal
from icepick.core.checks.compressor import signs
from icepick.core.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, by_status, temperatures
from icepick.core.doubts import EXPLAINS
from icepick.core.indicators import valve
from icepick.core.saturation import medium_entering


def _runs(context: RunContext) -> bool:
    return context.commanded is not None


def _energized(context: RunContext) -> bool:
    return _runs(context) and context.energized


def _resting(context: RunContext) -> bool:
    return _runs(context) and not context.energized


def _direction(context: RunContext, checks: Checks) -> str | None:
    position = checks.get("valve.position")
    apparent = valve.apparent_mode(context)
    if position is None or position.status == "watch" or apparent == "unknown":
        return None
    if position.status == "needs_readings" and any(c.early for c in context.readings.all()):
        return None
    if apparent == "neither":
        return "alike" if valve.equalized(context) else "midway"
    return "right" if apparent == context.commanded else "opposite"


def _pipes(context: RunContext) -> list[Spot]:
    return temperatures(*valve.VALVE_PIPES)


_DIRECTION_WORDS = {
    "right": "hot and cold stand as commanded",
    "opposite": "hot gas goes the other way",
    "alike": "all four pipes at the valve are alike",
    "midway": "the slide stands on neither side",
}
_DIRECTIONS = ("right", "opposite", "alike", "midway")

DIRECTION_ENERGIZED = Feature(
    "direction, valve energized",
    _DIRECTIONS,
    _DIRECTION_WORDS,
    "A valve that gets no command, or whose coil is open, falls back to its resting side.",
    {
        "none": (0.985, 0.004, 0.005, 0.006),
        "valve_bypassing/a little": (0.95, 0.02, 0.01, 0.02),
        "valve_in_opposite_position": (0.02, 0.96, 0.01, 0.01),
        "valve_bypassing": (0.60, 0.03, 0.07, 0.30),
        "command_missing": (0.02, 0.96, 0.01, 0.01),
        "valve_convention_wrong": (0.02, 0.96, 0.01, 0.01),
        "solenoid_open": (0.02, 0.96, 0.01, 0.01),
        "compressor_weak": (0.45, 0.03, 0.50, 0.02),
        "others": (0.95, 0.02, 0.015, 0.015),
    },
    _direction,
    _pipes,
    _energized,
)
DIRECTION_RESTING = Feature(
    "direction, valve at rest",
    _DIRECTIONS,
    _DIRECTION_WORDS,
    "A missing command does not show while the valve should rest; a wrong convention does.",
    {
        "none": (0.985, 0.004, 0.005, 0.006),
        "valve_bypassing/a little": (0.95, 0.02, 0.01, 0.02),
        "valve_in_opposite_position": (0.02, 0.96, 0.01, 0.01),
        "valve_bypassing": (0.60, 0.03, 0.07, 0.30),
        "command_missing": (0.97, 0.01, 0.01, 0.01),
        "valve_convention_wrong": (0.02, 0.96, 0.01, 0.01),
        "solenoid_open": (0.97, 0.01, 0.01, 0.01),
        "compressor_weak": (0.45, 0.03, 0.50, 0.02),
        "others": (0.95, 0.02, 0.015, 0.015),
    },
    _direction,
    _pipes,
    _resting,
)

_VOLTAGE_WORDS = {"on": "control voltage is there", "off": "no control voltage"}


def _terminal(context: RunContext, checks: Checks) -> str | None:
    return {"present": "on", "absent": "off"}.get(reads(context, valve_terminal(context.unit)) or "")


def _terminal_spot(context: RunContext) -> list[Spot]:
    return [(valve_terminal(context.unit), "voltage")]


def _coil(context: RunContext, checks: Checks) -> str | None:
    return {"present": "on", "absent": "off"}.get(reads(context, "solenoid") or "")


def _coil_spot(context: RunContext) -> list[Spot]:
    return [("solenoid", "voltage")]


_TERMINAL_ON = {
    "command_missing/before the terminal": (0.02, 0.98),
    "valve_convention_wrong": (0.02, 0.98),
    "others": (0.985, 0.015),
}
_TERMINAL_OFF = {
    "valve_convention_wrong": (0.97, 0.03),
    "others": (0.02, 0.98),
}
TERMINAL_ENERGIZED = Feature(
    "valve's terminal, energized",
    ("on", "off"),
    {k: f"{v} at the valve's terminal, where it belongs now" for k, v in _VOLTAGE_WORDS.items()},
    "Under the wrong convention the terminal is dead when it should live; a missing command may be lost before the "
    "terminal or behind it.",
    _TERMINAL_ON,
    _terminal,
    _terminal_spot,
    _energized,
)
TERMINAL_RESTING = Feature(
    "valve's terminal, at rest",
    ("on", "off"),
    {k: f"{v} at the valve's terminal, where none belongs now" for k, v in _VOLTAGE_WORDS.items()},
    "Under the wrong convention the terminal lives when it should be dead.",
    _TERMINAL_OFF,
    _terminal,
    _terminal_spot,
    _resting,
)
COIL_AFTER_TERMINAL = Feature(
    "voltage at the coil, terminal live",
    ("on", "off"),
    {k: f"{v} at the coil, and its terminal is live" for k, v in _VOLTAGE_WORDS.items()},
    "A live terminal and a dead coil leave the board or the wire between them.",
    {"command_missing/behind the terminal": (0.02, 0.98), "others": (0.999, 0.001)},
    _coil,
    _coil_spot,
    lambda context: _energized(context) and reads(context, valve_terminal(context.unit)) == "present",
)
COIL_ENERGIZED = Feature(
    "voltage at the coil, energized",
    ("on", "off"),
    {k: f"{v} at the coil, where it belongs now" for k, v in _VOLTAGE_WORDS.items()},
    "Voltage at the coil clears everything upstream; its absence clears coil and valve.",
    {
        "command_missing": (0.02, 0.98),
        "valve_convention_wrong": (0.02, 0.98),
        "others": (0.97, 0.03),
    },
    _coil,
    _coil_spot,
    lambda context: _energized(context) and reads(context, valve_terminal(context.unit)) is None,
)
COIL_RESTING = Feature(
    "voltage at the coil, at rest",
    ("on", "off"),
    {k: f"{v} at the coil, where none belongs now" for k, v in _VOLTAGE_WORDS.items()},
    "Only a wrong convention, or a hanging relay, energizes the coil in the resting mode.",
    {"valve_convention_wrong": (0.97, 0.03), "others": (0.02, 0.98)},
    _coil,
    _coil_spot,
    lambda context: _resting(context) and reads(context, valve_terminal(context.unit)) is None,
)


COIL_RESISTANCE = Feature(
    "coil resistance",
    ("whole", "open"),
    {"whole": "the coil's resistance is finite", "open": "the coil is open or shorted"},
    "Resistance with the wires off says it directly.",
    {"solenoid_open": (0.02, 0.98), "others": (0.985, 0.015)},
    by_status("command.solenoid_resistance", **{"pass": "whole", "fail": "open"}),
    lambda context: [("solenoid", "resistance")],
)


def _rise_pipes(context: RunContext) -> list[Spot]:
    pair = valve.ports(context)
    return temperatures("common_suction", pair[1]) if pair else []


def _rise(context: RunContext, checks: Checks) -> str | None:
    check = checks.get("valve.suction_rise")
    if check is None or valve.apparent_mode(context) == "neither":
        return None
    if check.status == "watch" and check.margin is not None and check.margin > 0 and not context.doubted:
        return "small" if valve.return_state(context) != "dry" and _by_contact(context) else None
    rise = valve.suction_rise(context)
    if check.status == "fail" and rise is not None:
        far = context.practice.si("valve_rise_far")
        return "far" if rise.nominal_value - rise.std_dev > far else "large"
    return "small" if check.status == "pass" else None


def _by_contact(context: RunContext) -> bool:
    pair = valve.ports(context)
    read = [context.readings.get(code) for code in ("common_suction", pair[1])] if pair else []
    return all(c is not None and not c.early and c.reading.method != "infrared" for c in read)


_RISES = ("small", "large", "far")
_RISE_WORDS = {
    "small": "suction gas leaves the valve as it came",
    "large": "common suction is clearly hotter than the line that feeds it",
    "far": "common suction is far hotter than the line that feeds it",
}
RISE_DRY = Feature(
    "suction rise, dry return",
    _RISES,
    _RISE_WORDS,
    "Superheated gas shows every bit of hot gas that joins it.",
    {
        "valve_bypassing": (0.05, 0.40, 0.55),
        "compressor_weak": (0.90, 0.07, 0.03),
        "others": (0.977, 0.020, 0.003),
    },
    _rise,
    _rise_pipes,
    lambda context: _runs(context) and valve.return_state(context) == "dry",
)
RISE_WET = Feature(
    "suction rise, wet return",
    _RISES,
    {**_RISE_WORDS, "small": "suction gas leaves the valve as it came, but it may be wet"},
    "Liquid soaks up hot gas: a small rise says little, a large one as much as ever.",
    {
        "valve_bypassing": (0.55, 0.30, 0.15),
        "others": (0.98, 0.017, 0.003),
    },
    _rise,
    _rise_pipes,
    lambda context: _runs(context) and valve.return_state(context) != "dry",
)


def _seen(context: RunContext, checks: Checks) -> str | None:
    seen = {
        "magnets_full_travel": "full",
        "magnets_stop_midway": "midway",
        "magnets_do_not_move": "still",
    }
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
        "none": (0.98, 0.01, 0.01),
        "valve_in_opposite_position": (0.03, 0.07, 0.90),
        "valve_bypassing": (0.35, 0.60, 0.05),
        "command_missing": (0.10, 0.02, 0.88),
        "solenoid_open": (0.10, 0.02, 0.88),
        "compressor_weak": (0.40, 0.15, 0.45),
        "others": (0.96, 0.02, 0.02),
    },
    _seen,
    lambda context: [],
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
)


def _pressures(context: RunContext, checks: Checks) -> str | None:
    if signs(context).get("pressures"):
        return "equal"
    return by_status("compressor.pressure_ratio", **{"pass": "apart", "fail": "drawn together"})(
        context, checks
    )


def _pressure_spots(context: RunContext) -> list[Spot]:
    circuit = valve.running_circuit(context)
    if circuit is None:
        return []
    air = [medium_entering(context, coil) for coil in (circuit.evaporator, circuit.condenser)]
    return [("common_suction_tap", "pressure"), ("discharge_tap", "pressure"), *temperatures(*air)]


PRESSURES = Feature(
    "pressure ratio",
    ("apart", "drawn together", "equal"),
    {
        "apart": "pressures are as far apart as conditions call for",
        "drawn together": "pressures are drawn together, but not equal",
        "equal": "pressures are all but equal",
    },
    "A valve that passes gas draws the pressures together; a compressor that does not pump makes them equal.",
    {
        "none": (0.97, 0.025, 0.005),
        "valve_bypassing/a little": (0.90, 0.095, 0.005),
        "valve_bypassing": (0.40, 0.57, 0.03),
        "compressor_weak": (0.05, 0.45, 0.50),
        "others": (0.90, 0.09, 0.01),
    },
    _pressures,
    _pressure_spots,
)


def _current(context: RunContext, checks: Checks) -> str | None:
    low = signs(context).get("current")
    return None if low is None else "low" if low else "usual"


CURRENT = Feature(
    "compressor current",
    ("usual", "low"),
    {
        "usual": "the compressor draws what it should",
        "low": "the compressor draws a small part of its rated current",
    },
    "A compressor that moves nothing has nothing to do.",
    {
        "compressor_weak": (0.12, 0.88),
        "valve_bypassing/a little": (0.96, 0.04),
        "valve_bypassing": (0.85, 0.15),
        "others": (0.97, 0.03),
    },
    _current,
    lambda context: [("compressor", "current")] if context.unit.compressor.rated_current else [],
)


def _doubts(context: RunContext, checks: Checks) -> str | None:
    if not context.readings.all():
        return None
    return "no" if not context.doubted else "explained" if EXPLAINS & context.doubts else "some"


DOUBTS = Feature(
    "doubts",
    ("explained", "some", "no"),
    {
        "explained": "physics contradicts some of the readings, and a slip would explain it",
        "some": "physics contradicts some of the readings",
        "no": "the readings agree with one another",
    },
    "A reading that physics forbids is doubted before the machine is.",
    {"reading_suspect/against physics": (0.55, 0.40, 0.05), "others": (0.01, 0.07, 0.92)},
    _doubts,
    lambda context: [],
)

FEATURES: tuple[Feature, ...] = (
    DIRECTION_ENERGIZED,
    DIRECTION_RESTING,
    TERMINAL_ENERGIZED,
    TERMINAL_RESTING,
    COIL_AFTER_TERMINAL,
    COIL_ENERGIZED,
    COIL_RESTING,
    COIL_RESISTANCE,
    RISE_DRY,
    RISE_WET,
    MAGNETS,
    SOUND,
    PRESSURES,
    CURRENT,
    DOUBTS,
)

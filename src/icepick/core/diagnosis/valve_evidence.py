"""What command, valve and compressor readings say of the faults. [the-trade.md 3]"""

from __future__ import annotations

from icepick.core.checks.command import reads, valve_terminal
from icepick.core.checks.compressor import draws_nothing, signs
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.circuit.load import medium_entering
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, by_status, temperatures
from icepick.core.doubts import EXPLAINS
from icepick.core.indicators import valve


def _runs(context: RunContext) -> bool:
    return context.commanded is not None


def _called_to_run(context: RunContext) -> bool:
    return _runs(context) and not context.defrosting


def _energized(context: RunContext) -> bool:
    return _runs(context) and context.energized


def _resting(context: RunContext) -> bool:
    return _runs(context) and not context.energized


def _direction(context: RunContext, checks: Checks) -> str | None:
    position, apparent = checks.get("valve.position"), context.apparent
    if apparent == "unknown" or (position is not None and position.status == "watch"):
        return None
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
        "valve_bypassing/a little": (0.95, 0.02, 0.01, 0.02),
        "valve_in_opposite_position": (0.02, 0.96, 0.01, 0.01),
        "valve_bypassing": (0.47, 0.03, 0.07, 0.43),
        "command_missing": (0.02, 0.96, 0.01, 0.01),
        "valve_convention_wrong": (0.02, 0.96, 0.01, 0.01),
        "solenoid_open": (0.02, 0.96, 0.01, 0.01),
        "compressor_weak": (0.45, 0.03, 0.50, 0.02),
        "compressor_not_running": (0.05, 0.01, 0.93, 0.01),
        "call_missing": (0.05, 0.01, 0.93, 0.01),
        "control_power_missing": (0.05, 0.01, 0.93, 0.01),
        "others": (0.962, 0.02, 0.015, 0.003),
    },
    _direction,
    _pipes,
    _energized,
)
DIRECTION_RESTING = Feature(
    "direction, valve at rest",
    _DIRECTIONS,
    _DIRECTION_WORDS,
    "A missing command does not show while the valve should rest; a wrong O/B setting does.",
    {
        "none": (0.987, 0.004, 0.006, 0.003),
        "valve_bypassing/a little": (0.95, 0.02, 0.01, 0.02),
        "valve_in_opposite_position": (0.02, 0.96, 0.01, 0.01),
        "valve_bypassing": (0.47, 0.03, 0.07, 0.43),
        "command_missing": (0.97, 0.01, 0.01, 0.01),
        "valve_convention_wrong": (0.02, 0.96, 0.01, 0.01),
        "solenoid_open": (0.97, 0.01, 0.01, 0.01),
        "compressor_weak": (0.45, 0.03, 0.50, 0.02),
        "compressor_not_running": (0.05, 0.01, 0.93, 0.01),
        "call_missing": (0.05, 0.01, 0.93, 0.01),
        "control_power_missing": (0.05, 0.01, 0.93, 0.01),
        "others": (0.962, 0.02, 0.015, 0.003),
    },
    _direction,
    _pipes,
    _resting,
)

_VOLTAGE_WORDS = {"on": "24 V", "off": "no 24 V"}


def _live(context: RunContext, station: str) -> str | None:
    return {"present": "on", "absent": "off"}.get(reads(context, station) or "")


CONTROL_POWER = Feature(
    "24 V at R",
    ("on", "off"),
    {k: f"{v} at R" for k, v in _VOLTAGE_WORDS.items()},
    "Without control power nothing is called for and nothing is energized.",
    {"control_power_missing": (0.02, 0.98), "others": (0.992, 0.008)},
    lambda context, checks: _live(context, "terminal_r"),
    lambda context: [("terminal_r", "voltage")],
    _runs,
)
CALL = Feature(
    "24 V at Y",
    ("on", "off"),
    {"on": "24 V at Y: the compressor is called for", "off": "no 24 V at Y: no call for the compressor"},
    "Y is live in every call for the compressor.",
    {
        "call_missing": (0.02, 0.98),
        "control_power_missing": (0.03, 0.97),
        "others": (0.992, 0.008),
    },
    lambda context, checks: _live(context, "terminal_y"),
    lambda context: [("terminal_y", "voltage")],
    _runs,
)
DRAWS = Feature(
    "compressor runs",
    ("runs", "stands still"),
    {"runs": "the compressor draws current", "stands still": "the compressor draws no current"},
    "A compressor that draws nothing does not run, whatever the pressures say.",
    {
        "compressor_not_running": (0.02, 0.98),
        "call_missing": (0.10, 0.90),
        "control_power_missing": (0.06, 0.94),
        "others": (0.997, 0.003),
    },
    lambda context, checks: (
        None if (still := draws_nothing(context)) is None else "stands still" if still else "runs"
    ),
    lambda context: [("compressor", "current")],
    _called_to_run,
)


def _terminal(context: RunContext, checks: Checks) -> str | None:
    return _live(context, valve_terminal(context.unit))


def _terminal_spot(context: RunContext) -> list[Spot]:
    return [(valve_terminal(context.unit), "voltage")]


def _coil(context: RunContext, checks: Checks) -> str | None:
    return _live(context, "solenoid")


def _coil_spot(context: RunContext) -> list[Spot]:
    return [("solenoid", "voltage")]


_TERMINAL_ON = {
    "command_missing/before the terminal": (0.02, 0.98),
    "control_power_missing": (0.02, 0.98),
    "call_missing": (0.50, 0.50),
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
    {k: f"{v} at the O/B terminal, which should be live now" for k, v in _VOLTAGE_WORDS.items()},
    "With the O/B setting wrong the terminal is dead when it should be live; a missing command may be lost before the "
    "terminal or behind it.",
    _TERMINAL_ON,
    _terminal,
    _terminal_spot,
    _energized,
)
TERMINAL_RESTING = Feature(
    "valve's terminal, at rest",
    ("on", "off"),
    {k: f"{v} at the O/B terminal, which should be dead now" for k, v in _VOLTAGE_WORDS.items()},
    "With the O/B setting wrong the terminal is live when it should be dead.",
    _TERMINAL_OFF,
    _terminal,
    _terminal_spot,
    _resting,
)
COIL_AFTER_TERMINAL = Feature(
    "voltage at the coil, terminal live",
    ("on", "off"),
    {k: f"{v} at the reversing valve, and its terminal is live" for k, v in _VOLTAGE_WORDS.items()},
    "A live terminal and no 24 V at the reversing valve leave the board or the wire between them.",
    {"command_missing/behind the terminal": (0.02, 0.98), "others": (0.999, 0.001)},
    _coil,
    _coil_spot,
    lambda context: _energized(context) and reads(context, valve_terminal(context.unit)) == "present",
)
COIL_ENERGIZED = Feature(
    "voltage at the coil, energized",
    ("on", "off"),
    {k: f"{v} at the reversing valve, which should be energized now" for k, v in _VOLTAGE_WORDS.items()},
    "24 V at the reversing valve clears everything upstream; without it, coil and valve are clear.",
    {
        "command_missing": (0.02, 0.98),
        "control_power_missing": (0.02, 0.98),
        "call_missing": (0.50, 0.50),
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
    {k: f"{v} at the reversing valve, which should not be energized now" for k, v in _VOLTAGE_WORDS.items()},
    "Only a wrong O/B setting, or a stuck relay, energizes the coil in the resting mode.",
    {"valve_convention_wrong": (0.97, 0.03), "others": (0.02, 0.98)},
    _coil,
    _coil_spot,
    lambda context: _resting(context) and reads(context, valve_terminal(context.unit)) is None,
)


COIL_RESISTANCE = Feature(
    "solenoid winding",
    ("whole", "open"),
    {"whole": "the solenoid winding is sound", "open": "the solenoid winding is open or shorted"},
    "Resistance with the wires off says it directly.",
    {"solenoid_open": (0.02, 0.98), "others": (0.985, 0.015)},
    by_status("command.solenoid_resistance", **{"pass": "whole", "fail": "open"}),
    lambda context: [("solenoid", "resistance")],
    _runs,
)


def _rise_pipes(context: RunContext) -> list[Spot]:
    return temperatures("common_suction", context.circuit.return_port) if context.circuit else []


def _rise(context: RunContext, checks: Checks) -> str | None:
    check, rise = checks.get("valve.suction_rise"), valve.suction_rise(context)
    if check is None or check.margin is None or rise is None or context.apparent == "neither":
        return None
    if check.status == "fail":
        far = context.practice.si("valve_rise_far")
        return "far" if rise.nominal_value - rise.std_dev > far else "large"
    wet = valve.return_state(context) != "dry"
    return "small" if check.status == "pass" or (wet and check.margin > 0) else None


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
    lambda context: _called_to_run(context) and valve.return_state(context) == "dry",
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
    lambda context: _called_to_run(context) and valve.return_state(context) != "dry",
)


def _seen(context: RunContext, checks: Checks) -> str | None:
    seen = {
        "magnets_full_travel": "full",
        "magnets_stop_midway": "midway",
        "magnets_do_not_move": "still",
    }
    return next((outcome for code, outcome in seen.items() if code in context.observed), None)


DISCHARGE_DROP = Feature(
    "discharge drop",
    ("small", "large"),
    {
        "small": "hot gas leaves the valve as it came",
        "large": "hot gas loses temperature on its way through the valve",
    },
    "A slide that is not fully over cools the hot gas with what it lets past.",
    {"valve_bypassing/a little": (0.90, 0.10), "valve_bypassing": (0.65, 0.35), "others": (0.985, 0.015)},
    by_status("valve.discharge_drop", **{"pass": "small", "fail": "large"}),
    lambda context: temperatures("discharge_line", context.circuit.hot_port) if context.circuit else [],
    _called_to_run,
)


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
    _seen,
    lambda context: [],
    _runs,
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
    _runs,
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
        "valve_bypassing/a little": (0.90, 0.095, 0.005),
        "valve_bypassing": (0.40, 0.57, 0.03),
        "compressor_weak": (0.05, 0.45, 0.50),
        "compressor_not_running": (0.03, 0.07, 0.90),
        "call_missing": (0.03, 0.07, 0.90),
        "control_power_missing": (0.03, 0.07, 0.90),
        "others": (0.90, 0.09, 0.01),
    },
    _pressures,
    _pressure_spots,
    _called_to_run,
)


def _current(context: RunContext, checks: Checks) -> str | None:
    low = signs(context).get("current")
    if low is None or draws_nothing(context):
        return None
    return "low" if low else "usual"


def _current_tells(context: RunContext) -> bool:
    return _called_to_run(context) and context.unit.compressor.rated_current is not None


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
        "valve_bypassing/a little": (0.93, 0.07),
        "valve_bypassing": (0.75, 0.25),
        "others": (0.93, 0.07),
    },
    _current,
    lambda context: [("compressor", "current")],
    _current_tells,
)


def _doubts(context: RunContext, checks: Checks) -> str | None:
    if not context.readings.all() and not context.doubted:
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
    _runs,
)

FAN_IN_DEFROST = Feature(
    "outdoor fan in defrost",
    ("stands still", "runs"),
    {"stands still": "the outdoor fan is off in defrost", "runs": "the outdoor fan runs in defrost"},
    "A fan that runs blows away the heat that should melt the ice.",
    {"defrost_fan_running": (0.03, 0.97), "others": (0.985, 0.015)},
    by_status("defrost.fan", **{"pass": "stands still", "fail": "runs"}),
    lambda context: [],
    lambda context: context.defrosting and context.unit.source == "air",
    "outdoor_fan_running",
)


def _backup(context: RunContext, checks: Checks) -> str | None:
    """By what was seen of the heater, else by the voltage that should bring it on."""
    seen = by_status("defrost.backup_heat", **{"pass": "on", "fail": "off"})(context, checks)
    return seen or _live(context, "terminal_w")


BACKUP_IN_DEFROST = Feature(
    "backup heat in defrost",
    ("on", "off"),
    {"on": "backup heat is on in defrost", "off": "backup heat is off in defrost"},
    "The unit cools the house while it defrosts; backup heat makes up for it.",
    {"defrost_no_backup_heat": (0.03, 0.97), "control_power_missing": (0.20, 0.80), "others": (0.97, 0.03)},
    _backup,
    lambda context: [("terminal_w", "voltage")],
    lambda context: context.defrosting and context.unit.load == "air",
)


def _sensor_off(context: RunContext, checks: Checks) -> str | None:
    found = {checks[code].status for code in ("defrost.sensor", "defrost.ambient_sensor") if code in checks}
    return "off" if "fail" in found else "right" if "pass" in found else None


SENSOR = Feature(
    "defrost sensors",
    ("right", "off"),
    {
        "right": "sensor and thermometer agree",
        "off": "a sensor does not read what a thermometer beside it does",
    },
    "A sensor that lies starts and stops the defrost at the wrong time.",
    {"defrost_sensor_off": (0.04, 0.96), "others": (0.985, 0.015)},
    _sensor_off,
    lambda context: [],
    _runs,
)

FEATURES: tuple[Feature, ...] = (
    CONTROL_POWER,
    CALL,
    DRAWS,
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
    DISCHARGE_DROP,
    MAGNETS,
    SOUND,
    PRESSURES,
    CURRENT,
    FAN_IN_DEFROST,
    BACKUP_IN_DEFROST,
    SENSOR,
    DOUBTS,
)

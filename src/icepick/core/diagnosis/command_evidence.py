"""What voltages, windings and the compressor's current say of command and call. [the-trade.md 3]"""

from __future__ import annotations

from icepick.core.checks.command import reads, valve_terminal
from icepick.core.checks.compressor import draws_nothing
from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, by_status


def runs(context: RunContext) -> bool:
    return context.commanded is not None


def called_to_run(context: RunContext) -> bool:
    return runs(context) and not context.defrosting


def energized(context: RunContext) -> bool:
    return runs(context) and context.energized


def resting(context: RunContext) -> bool:
    return runs(context) and not context.energized


_VOLTAGE_WORDS = {"on": "24 V", "off": "no 24 V"}


def _supply(context: RunContext) -> str | None:
    """R as it reads; what is fed from it and live says as much."""
    fed = (
        live(context, station) == "on" for station in ("terminal_y", "terminal_w", "terminal_o", "terminal_b")
    )
    return live(context, "terminal_r") or ("on" if any(fed) else None)


def live(context: RunContext, station: str) -> str | None:
    return {"present": "on", "absent": "off"}.get(reads(context, station) or "")


CONTROL_POWER = Feature(
    "24 V at R",
    ("on", "off"),
    {k: f"{v} at R" for k, v in _VOLTAGE_WORDS.items()},
    "Without control power nothing is called for and nothing is energized.",
    {"control_power_missing": (0.02, 0.98), "others": (0.992, 0.008)},
    lambda context, checks: _supply(context),
    lambda context: [("terminal_r", "voltage")],
    runs,
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
    lambda context, checks: live(context, "terminal_y"),
    lambda context: [("terminal_y", "voltage")],
    runs,
)


def _draws(context: RunContext, checks: Checks) -> str | None:
    locked = checks.get("danger.locked_rotor")
    if locked is not None and locked.status == "fail":
        return "locked"
    still = draws_nothing(context)
    return None if still is None else "stands still" if still else "runs"


DRAWS = Feature(
    "compressor runs",
    ("runs", "stands still", "locked"),
    {
        "runs": "the compressor draws current",
        "stands still": "the compressor draws no current",
        "locked": "the compressor draws what a locked rotor draws",
    },
    "A compressor that draws nothing, or many times its rated current, does not run, whatever the pressures say.",
    {
        "compressor_not_running": (0.02, 0.78, 0.2),
        "call_missing": (0.10, 0.899, 0.001),
        "control_power_missing": (0.06, 0.939, 0.001),
        "others": (0.996, 0.003, 0.001),
    },
    _draws,
    lambda context: [("compressor", "current")],
    called_to_run,
)


def _terminal(context: RunContext, checks: Checks) -> str | None:
    return live(context, valve_terminal(context.unit))


def _terminal_spot(context: RunContext) -> list[Spot]:
    return [(valve_terminal(context.unit), "voltage")]


def _coil(context: RunContext, checks: Checks) -> str | None:
    return live(context, "solenoid")


def _coil_spot(context: RunContext) -> list[Spot]:
    return [("solenoid", "voltage")]


_TERMINAL_ON = {
    "command_missing/before the terminal": (0.02, 0.98),
    "control_power_missing": (0.02, 0.98),
    "call_missing": (0.50, 0.50),
    "valve_convention_wrong": (0.02, 0.98),
    "defrost_not_stopping/still in it": (0.6, 0.4),
    "others": (0.985, 0.015),
}

_TERMINAL_OFF = {
    "valve_convention_wrong": (0.97, 0.03),
    "command_missing/kept in defrost": (0.98, 0.02),
    "defrost_not_stopping/still in it": (0.6, 0.4),
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
    energized,
)

TERMINAL_RESTING = Feature(
    "valve's terminal, at rest",
    ("on", "off"),
    {k: f"{v} at the O/B terminal, which should be dead now" for k, v in _VOLTAGE_WORDS.items()},
    "With the O/B setting wrong the terminal is live when it should be dead.",
    _TERMINAL_OFF,
    _terminal,
    _terminal_spot,
    resting,
)

COIL_AFTER_TERMINAL = Feature(
    "voltage at the coil, terminal live",
    ("on", "low", "off"),
    {
        **{k: f"{v} at the reversing valve, and its terminal is live" for k, v in _VOLTAGE_WORDS.items()},
        "low": "the reversing valve gets part of the voltage at its terminal",
    },
    "A live terminal and no 24 V at the reversing valve leave the board or the wire between them; part of the voltage is a "
    "poor connection, or a ghost on an open wire.",
    {"command_missing/behind the terminal": (0.02, 0.38, 0.60), "others": (0.997, 0.002, 0.001)},
    lambda context, checks: "low" if reads(context, "solenoid") == "between" else _coil(context, checks),
    _coil_spot,
    lambda context: energized(context) and reads(context, valve_terminal(context.unit)) == "present",
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
        "defrost_not_stopping/still in it": (0.03, 0.97),
        "others": (0.97, 0.03),
    },
    _coil,
    _coil_spot,
    lambda context: energized(context) and reads(context, valve_terminal(context.unit)) is None,
)

COIL_RESTING = Feature(
    "voltage at the coil, at rest",
    ("on", "off"),
    {k: f"{v} at the reversing valve, which should not be energized now" for k, v in _VOLTAGE_WORDS.items()},
    "Only a wrong O/B setting, or a stuck relay, energizes the coil in the resting mode.",
    {
        "valve_convention_wrong": (0.97, 0.03),
        "command_missing/kept in defrost": (0.98, 0.02),
        "defrost_not_stopping/still in it": (0.98, 0.02),
        "others": (0.02, 0.98),
    },
    _coil,
    _coil_spot,
    lambda context: resting(context) and reads(context, valve_terminal(context.unit)) is None,
)

COIL_RESISTANCE = Feature(
    "solenoid winding",
    ("whole", "open"),
    {"whole": "the solenoid winding is sound", "open": "the solenoid winding is open or shorted"},
    "Resistance with the wires off says it directly.",
    {"solenoid_open": (0.02, 0.98), "others": (0.985, 0.015)},
    by_status("command.solenoid_resistance", **{"pass": "whole", "fail": "open"}),
    lambda context: [("solenoid", "resistance")],
    runs,
)

FEATURES: tuple[Feature, ...] = (
    CONTROL_POWER,
    CALL,
    DRAWS,
    TERMINAL_ENERGIZED,
    TERMINAL_RESTING,
    COIL_AFTER_TERMINAL,
    COIL_ENERGIZED,
    COIL_RESTING,
    COIL_RESISTANCE,
)

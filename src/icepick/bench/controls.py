"""What a multimeter shows of the control circuit and the motors, with each thing that can go wrong there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import get_args

from icepick.bench.case import Case, Trouble
from icepick.core.document.codes import Mode
from icepick.core.document.roles import FlowMode

VOLTS = 25.4
"""Of a transformer of 24 V nominal under load. [common practice]"""
_WINDING, _OPEN = 16.5, 8_600_000.0
"""Resistance of a sound solenoid [ohm], and what a meter shows of an open one. [common practice; our own choice]"""
_FAN_AMPS = 1.3
Read = Mapping[tuple[str, str], float]
_NO_COMPRESSOR = frozenset({"control_power_missing", "call_missing", "compressor_not_running"})


def way_it_runs(case: Case, troubles: list[Trouble], commanded: Mode) -> FlowMode | None:
    """The way the refrigerant runs when a mode is called for; None where the compressor stands still."""
    faults = {one.fault: one for one in troubles}
    if commanded == "off" or _NO_COMPRESSOR & set(faults):
        return None
    called: FlowMode = "heating" if commanded == "heating" else "cooling"
    if stuck := faults.get("valve_in_opposite_position"):
        return _other(stuck.where or called)
    if "valve_convention_wrong" in faults:
        return _other(called)
    energized = case.unit.reversing_valve.energized_in
    if {"command_missing", "solenoid_open"} & set(faults):
        return _other(energized)
    return called


def _other(mode: FlowMode) -> FlowMode:
    return next(one for one in get_args(FlowMode) if one != mode)


def read(case: Case, troubles: list[Trouble], commanded: Mode, *, runs: bool) -> Read:
    """Voltages [V], currents [A], resistances [ohm] and powers [W] in a mode.

    Parameters
    ----------
    case : Case
        The unit.
    troubles : list of Trouble
        What is wrong with it now.
    commanded : Mode
        What is called for.
    runs : bool
        Whether the compressor turns.

    Returns
    -------
    mapping
        (station, quantity) → SI value.
    """
    faults = {one.fault: one for one in troubles}
    power = 0.0 if "control_power_missing" in faults else VOLTS
    calls = power if commanded != "off" and "call_missing" not in faults else 0.0
    energized = case.unit.reversing_valve.energized_in
    live = commanded == energized
    if "valve_convention_wrong" in faults:
        live = not live and commanded != "off"
    missing = faults.get("command_missing")
    terminal = power if live and (missing is None or missing.cause == "board") else 0.0
    coil = 0.0 if missing is not None else terminal
    fan_stands = any(one.cause == "fan" for one in troubles)
    return {
        ("terminal_r", "voltage"): power,
        ("terminal_y", "voltage"): calls,
        ("terminal_o" if energized == "cooling" else "terminal_b", "voltage"): terminal,
        ("terminal_b" if energized == "cooling" else "terminal_o", "voltage"): 0.0,
        ("terminal_w", "voltage"): 0.0,
        ("solenoid", "voltage"): coil,
        ("solenoid", "resistance"): _OPEN if "solenoid_open" in faults else _WINDING,
        ("outdoor_fan", "current"): _FAN_AMPS if runs and not fan_stands else 0.0,
        ("compressor", "voltage"): 240.0 if runs else 0.0,
        ("backup_heat", "current"): 0.0,
        ("backup_heat", "power"): 0.0,
    }

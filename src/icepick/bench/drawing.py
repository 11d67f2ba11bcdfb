"""Cases drawn by chance: a level and a seed make the same case again, anywhere.

Which faults are drawn, and how bad, is our own choice; what they do is the machine model's.
"""

from __future__ import annotations

import random
import re

from icepick.bench.case import Case, Cause, Exchanged, Level, Trouble
from icepick.bench.stock import StockUnit, stock
from icepick.bench.unit_at_work import comes_to_rest
from icepick.core.circuit.graph import meters
from icepick.core.document.base import Temperature
from icepick.core.document.codes import Complaint, Method
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.machine.faults import machine_fault, possible

CODES: dict[str, Level] = {"A": "one_fault", "B": "thin_kit", "C": "look_alikes", "D": "two_or_none"}
_LETTER = {level: letter for letter, level in CODES.items()}
MOST_SEED = 999_999
_CODE = re.compile(r"^([ABCD])-(\d{1,6})$")

_IN_THE_MACHINE: tuple[Fault, ...] = (
    "valve_bypassing",
    "compressor_weak",
    "active_meter_underfeeding",
    "active_meter_overfeeding",
    "bypass_stuck_closed",
    "liquid_line_restriction",
    "undercharge",
    "overcharge",
    "noncondensables",
    "indoor_airflow_low",
    "outdoor_airflow_low",
    "outdoor_coil_frosted",
    "source_water_flow_low",
    "source_coil_fouled",
)
_IN_THE_CONTROLS: tuple[Fault, ...] = (
    "valve_in_opposite_position",
    "control_power_missing",
    "call_missing",
    "command_missing",
    "valve_convention_wrong",
    "solenoid_open",
    "compressor_not_running",
)
_OF_A_DEVICE = ("active_meter_underfeeding", "active_meter_overfeeding", "bypass_stuck_closed")
OF_ONE_MODE = (*_OF_A_DEVICE, "valve_in_opposite_position")
"""Faults that sit in what works in one mode alone."""
SETTABLE: tuple[Fault, ...] = (
    *_IN_THE_MACHINE,
    "coil_circuit_starved",
    *_IN_THE_CONTROLS,
    "defrost_not_starting",
    "defrost_not_stopping",
    "defrost_fan_running",
    "defrost_no_backup_heat",
    "defrost_sensor_off",
    "defrost_too_often",
)
"""Faults that a case can be set with."""
LOOK_ALIKES: tuple[tuple[Fault, Fault], ...] = (
    ("valve_bypassing", "compressor_weak"),
    ("active_meter_underfeeding", "liquid_line_restriction"),
    ("active_meter_underfeeding", "undercharge"),
    ("overcharge", "noncondensables"),
    ("bypass_stuck_closed", "liquid_line_restriction"),
    ("command_missing", "solenoid_open"),
    ("valve_convention_wrong", "valve_in_opposite_position"),
    ("source_water_flow_low", "source_coil_fouled"),
    ("indoor_airflow_low", "active_meter_underfeeding"),
)
"""Faults that look alike until the right thing is read. [common practice]"""
_SEEN_FIRST: tuple[Fault, ...] = ("indoor_airflow_low", "outdoor_airflow_low")
"""Of two faults, one that a look finds; the other shows once it is repaired."""
_BEHIND: tuple[Fault, ...] = (
    "undercharge",
    "valve_bypassing",
    "active_meter_underfeeding",
    "compressor_weak",
)
CAUSES: dict[Fault, tuple[Cause, ...]] = {
    "indoor_airflow_low": ("dirt", "dirt", "duct"),
    "outdoor_airflow_low": ("dirt", "dirt", "fan"),
    "active_meter_overfeeding": ("bulb", ""),
    "command_missing": ("wire", "wire", "board"),
    "defrost_no_backup_heat": ("board",),
    "defrost_sensor_off": ("too_warm", "too_cold"),
}
"""What may lie behind a fault, the usual more often."""
_THIN: tuple[list[Method], ...] = (
    ["clamp", "probe"],
    ["clamp", "probe", "infrared"],
    ["clamp", "probe", "meter"],
)
_EXCHANGED = 0.15
"""How often, on the harder levels, two clamps sit on each other's pipe."""
_ICE_UP_TO = 38.0
_SAID: dict[Complaint, tuple[str, ...]] = {
    "no_heat": ("It runs and runs, and there is no heat.", "Nobody gets warm in there since Tuesday."),
    "no_cooling": ("It blows, and nothing gets cool.", "The butter melts on the counter."),
    "weak": ("It used to be better than that.", "It runs all day and hardly keeps up."),
    "blows_cold_in_heating": ("It blows cold air when it should heat.",),
    "iced_outdoor_coil": ("There is a block of ice outside.",),
    "high_bills": ("The bill is twice what it was.",),
    "routine": ("Nothing in particular. It is that time of the year.",),
}


def code_of(level: Level, seed: int) -> str:
    """How a drawn case is named: a letter for its level, and the seed."""
    return f"{_LETTER[level]}-{seed}"


def drawn(code: str) -> Case | None:
    """The case of a code; None where it is none of a drawn case.

    Parameters
    ----------
    code : str
        A letter and up to six digits, as ``B-4711``.

    Returns
    -------
    Case or None
        Always the same one.
    """
    match = _CODE.match(code)
    if match is None:
        return None
    level, dice = CODES[match[1]], random.Random(f"icepick bench {code}")
    while True:
        case = _one(code, level, dice)
        if case is not None and comes_to_rest(case):
            return case


def _one(code: str, level: Level, dice: random.Random) -> Case | None:
    where = dice.choice(list(stock().values()))
    mode: FlowMode = dice.choice(("heating", "cooling"))
    outdoor, indoor = _weather(where, mode, dice)
    troubles = _troubles(level, where, mode, outdoor, dice)
    if troubles is None:
        return None
    complaint = _complaint(troubles, mode, dice)
    harder = level in ("look_alikes", "two_or_none")
    swapped = harder and dice.random() < _EXCHANGED
    part = where.unit.compressor.kind
    return Case(
        code=code,
        title=f"{where.site}, case {code}",
        level=level,
        site=where.site,
        told=dice.choice(_SAID[complaint]),
        complaint=complaint,
        unit=where.unit,
        outdoor=Temperature(value=outdoor, unit="degF"),
        indoor=Temperature(value=indoor, unit="degF"),
        humidity=round(dice.uniform(0.5, 0.9), 2),
        indoor_humidity=round(dice.uniform(0.38, 0.55), 2),
        speed=1.0 if part == "single" else (1.0 if part == "two_stage" else round(dice.uniform(0.6, 1.0), 2)),
        arrives=mode,
        ran=dice.choice((4.0, 15.0, 25.0, 25.0, 40.0)),
        troubles=troubles,
        kit=dice.choice(_THIN) if level == "thin_kit" else ["clamp", "probe", "infrared", "gauge", "meter"],
        exchanged=Exchanged(one="common_suction", other="valve_to_outdoor") if swapped else None,
        individual=dice.randrange(1, 10_000),
    )


def _weather(where: StockUnit, mode: FlowMode, dice: random.Random) -> tuple[float, float]:
    air = {"heating": (15, 52), "cooling": (78, 98)}
    water = {"heating": (40, 58), "cooling": (60, 85)}
    outdoor = dice.uniform(*(air if where.unit.source == "air" else water)[mode])
    inside = {
        ("air", "heating"): (65, 72),
        ("air", "cooling"): (73, 80),
        ("water", "heating"): (85, 100),
        ("water", "cooling"): (52, 58),
    }
    return round(outdoor), round(dice.uniform(*inside[where.unit.load, mode]))


def _troubles(
    level: Level, where: StockUnit, mode: FlowMode, outdoor: float, dice: random.Random
) -> list[Trouble] | None:
    if level == "two_or_none":
        if dice.random() < 0.5:
            return []
        pair = (dice.choice(_SEEN_FIRST), dice.choice(_BEHIND))
        both = [_trouble(fault, where, mode, outdoor, dice) for fault in pair]
        return None if None in both else [one for one in both if one]
    if level == "look_alikes":
        pair = dice.choice(LOOK_ALIKES)
        able = [_trouble(fault, where, mode, outdoor, dice) for fault in pair]
        return None if None in able else [one for one in [dice.choice(able)] if one]
    faults = _IN_THE_MACHINE if level == "thin_kit" else (*_IN_THE_MACHINE, *_IN_THE_CONTROLS)
    one = _trouble(dice.choice(faults), where, mode, outdoor, dice)
    return [one] if one else None


def _trouble(
    fault: Fault, where: StockUnit, mode: FlowMode, outdoor: float, dice: random.Random
) -> Trouble | None:
    """A fault as this unit can have it in the mode one arrives in; None where it can't."""
    unit, known = where.unit, machine_fault(fault)
    if fault in ("command_missing", "solenoid_open") and unit.reversing_valve.energized_in != mode:
        return None
    if fault == "liquid_line_restriction" and not unit.drier.fitted:
        return None
    if fault == "outdoor_coil_frosted" and outdoor > _ICE_UP_TO:
        return None
    if known is not None and not possible(known, unit, mode):
        return None
    two_devices = meters(unit, "heating")[0] != meters(unit, "cooling")[0]
    of_mode = fault == "valve_in_opposite_position" or (fault in _OF_A_DEVICE and two_devices)
    severity = 0.0
    if known is not None and not known.backwards:
        severity = round(dice.uniform(known.amounts[1] * 0.9, known.amounts[2]))
    cause = dice.choice(CAUSES.get(fault, ("",)))
    if cause == "bulb" and "txv" not in (unit.indoor_meter.kind, unit.outdoor_meter.kind):
        cause = ""
    if cause == "fan":
        severity = 85.0
    return Trouble(fault=fault, severity=severity, where=mode if of_mode else None, cause=cause)


_QUIET: tuple[Complaint, ...] = ("weak", "high_bills", "routine")


def _complaint(troubles: list[Trouble], mode: FlowMode, dice: random.Random) -> Complaint:
    faults = {one.fault for one in troubles}
    if "outdoor_coil_frosted" in faults:
        return "iced_outdoor_coil"
    if faults & {"valve_in_opposite_position", "valve_convention_wrong", "command_missing", "solenoid_open"}:
        return "blows_cold_in_heating" if mode == "heating" else "no_cooling"
    if faults & {"control_power_missing", "call_missing", "compressor_not_running"}:
        return "no_heat" if mode == "heating" else "no_cooling"
    return dice.choice(_QUIET if not faults else ("weak", "weak", "high_bills"))

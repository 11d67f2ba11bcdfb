"""What repairing each fault takes: minutes, money, and the part it throws away. Prices are made up. [our own choice]"""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.document.examination import Fault


@dataclass(frozen=True, slots=True)
class Repair:
    """What is done about a fault; ``part`` is what goes into the bin, empty where nothing does. Dollars."""

    words: str
    minutes: float
    dollars: int
    part: str = ""


_REPAIRS: dict[Fault, Repair] = {
    "valve_in_opposite_position": Repair("replace the reversing valve", 240, 1350, "reversing valve"),
    "valve_bypassing": Repair("replace the reversing valve", 240, 1350, "reversing valve"),
    "control_power_missing": Repair("find the short, replace the control fuse", 30, 40),
    "call_missing": Repair("repair the call at Y", 30, 60),
    "command_missing": Repair("repair the wire, or replace the board", 60, 320, "board"),
    "valve_convention_wrong": Repair("set O/B on the thermostat", 5, 20),
    "solenoid_open": Repair("replace the solenoid coil", 20, 110, "solenoid coil"),
    "compressor_not_running": Repair("replace the run capacitor", 40, 140, "capacitor"),
    "compressor_weak": Repair("replace the compressor", 360, 2900, "compressor"),
    "active_meter_underfeeding": Repair("replace the metering device", 180, 640, "metering device"),
    "active_meter_overfeeding": Repair(
        "strap the bulb, or replace the metering device", 180, 640, "metering device"
    ),
    "bypass_stuck_closed": Repair("replace the device with its check", 180, 640, "metering device"),
    "liquid_line_restriction": Repair("replace the filter drier", 120, 420, "filter drier"),
    "undercharge": Repair("find the leak, recover and weigh in the charge", 150, 520),
    "overcharge": Repair("recover and weigh in the charge", 90, 280),
    "noncondensables": Repair("recover, evacuate and weigh in the charge", 120, 420),
    "indoor_airflow_low": Repair("change the filter, clear the ducts", 30, 60),
    "outdoor_airflow_low": Repair("clean the outdoor coil, see to its fan", 45, 120),
    "outdoor_coil_frosted": Repair("melt the ice", 40, 60),
    "source_water_flow_low": Repair("see to pump, strainer and valves", 60, 160),
    "source_coil_fouled": Repair("descale the source coil", 120, 300),
    "coil_circuit_starved": Repair("clear or replace the distributor", 150, 380),
    "defrost_not_starting": Repair("replace the defrost board", 60, 320, "board"),
    "defrost_not_stopping": Repair("replace the defrost board", 60, 320, "board"),
    "defrost_fan_running": Repair("replace the fan relay's board", 60, 320, "board"),
    "defrost_no_backup_heat": Repair("see to the backup heater", 60, 180),
    "defrost_sensor_off": Repair("replace the coil sensor", 20, 60, "coil sensor"),
    "defrost_too_often": Repair("replace the defrost board", 60, 320, "board"),
    "none": Repair("nothing: write the readings down", 0, 0),
    "reading_suspect": Repair("set the clamps again and read once more", 5, 0),
}


def repair_of(fault: Fault) -> Repair:
    """What is done about a fault.

    Parameters
    ----------
    fault : Fault
        Its code.

    Returns
    -------
    Repair
        Minutes, dollars and part.
    """
    return _REPAIRS[fault]


def every_repair() -> dict[Fault, Repair]:
    """Every one of them, by the code of its fault."""
    return dict(_REPAIRS)

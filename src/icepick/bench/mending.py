"""What mending each fault takes: minutes, money, and the part it throws away. Prices are made up. [our own choice]"""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.document.examination import Fault


@dataclass(frozen=True, slots=True)
class Mending:
    """What is done about a fault; ``part`` is what goes into the bin, empty where nothing does. Dollars."""

    words: str
    minutes: float
    dollars: int
    part: str = ""


_MENDINGS: dict[Fault, Mending] = {
    "valve_in_opposite_position": Mending("replace the reversing valve", 240, 1350, "reversing valve"),
    "valve_bypassing": Mending("replace the reversing valve", 240, 1350, "reversing valve"),
    "control_power_missing": Mending("find the short, replace the control fuse", 30, 40),
    "call_missing": Mending("mend the call at Y", 30, 60),
    "command_missing": Mending("mend the wire, or replace the board", 60, 320, "board"),
    "valve_convention_wrong": Mending("set O/B on the thermostat", 5, 20),
    "solenoid_open": Mending("replace the solenoid coil", 20, 110, "solenoid coil"),
    "compressor_not_running": Mending("replace the run capacitor", 40, 140, "capacitor"),
    "compressor_weak": Mending("replace the compressor", 360, 2900, "compressor"),
    "active_meter_underfeeding": Mending("replace the metering device", 180, 640, "metering device"),
    "active_meter_overfeeding": Mending(
        "strap the bulb, or replace the metering device", 180, 640, "metering device"
    ),
    "bypass_stuck_closed": Mending("replace the device with its check", 180, 640, "metering device"),
    "liquid_line_restriction": Mending("replace the filter drier", 120, 420, "filter drier"),
    "undercharge": Mending("find the leak, recover and weigh in the charge", 150, 520),
    "overcharge": Mending("recover and weigh in the charge", 90, 280),
    "noncondensables": Mending("recover, evacuate and weigh in the charge", 120, 420),
    "indoor_airflow_low": Mending("change the filter, clear the ducts", 30, 60),
    "outdoor_airflow_low": Mending("clean the outdoor coil, see to its fan", 45, 120),
    "outdoor_coil_frosted": Mending("melt the ice", 40, 60),
    "source_water_flow_low": Mending("see to pump, strainer and valves", 60, 160),
    "source_coil_fouled": Mending("descale the source coil", 120, 300),
    "coil_circuit_starved": Mending("clear or replace the distributor", 150, 380),
    "defrost_not_starting": Mending("replace the defrost board", 60, 320, "board"),
    "defrost_not_stopping": Mending("replace the defrost board", 60, 320, "board"),
    "defrost_fan_running": Mending("replace the fan relay's board", 60, 320, "board"),
    "defrost_no_backup_heat": Mending("see to the backup heater", 60, 180),
    "defrost_sensor_off": Mending("replace the coil sensor", 20, 60, "coil sensor"),
    "defrost_too_often": Mending("replace the defrost board", 60, 320, "board"),
    "none": Mending("nothing: write the readings down", 0, 0),
    "reading_suspect": Mending("set the clamps again and read once more", 5, 0),
}


def mending(fault: Fault) -> Mending:
    """What is done about a fault.

    Parameters
    ----------
    fault : Fault
        Its code.

    Returns
    -------
    Mending
        Minutes, dollars and part.
    """
    return _MENDINGS[fault]


def every_mending() -> dict[Fault, Mending]:
    """Every one of them, by the code of its fault."""
    return dict(_MENDINGS)

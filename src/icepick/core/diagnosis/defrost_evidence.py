"""What was seen and read of a defrost. [the-trade.md 7]"""

from __future__ import annotations

from icepick.core.checks.fan_and_heat import fan_runs
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.defrost_settings import settings_of
from icepick.core.diagnosis.command_evidence import live, runs
from icepick.core.diagnosis.evidence import Checks, Feature, by_status


def cools_in_heating(context: RunContext) -> bool:
    """Whether an air-source unit that reverses for its defrost cools while it is called to heat."""
    return (
        context.run.mode == "heating"
        and context.running == "cooling"
        and context.unit.source == "air"
        and settings_of(context.unit, context.practice).reverses
    )


def looks_defrosting(context: RunContext) -> bool:
    """Whether it runs as in a defrost though heat is called for: cooling, the outdoor fan off."""
    return cools_in_heating(context) and fan_runs(context) is False


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
    return seen or live(context, "terminal_w")


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
    lambda context: (
        [("coil_sensor", "resistance"), ("coil_sensor", "temperature")]
        if context.unit.source == "air" and context.run.mode != "cooling"
        else []
    ),
    runs,
)

STILL_IN_DEFROST = Feature(
    "outdoor fan while it cools in a heating call",
    ("stands still", "runs"),
    {
        "stands still": "it runs as in a defrost while heat is called for, its outdoor fan off",
        "runs": "the outdoor fan runs while it cools in a heating call",
    },
    "A unit that runs backwards keeps its fan on; one that is kept in defrost does not.",
    {
        "defrost_not_stopping/still in it": (0.97, 0.03),
        "outdoor_airflow_low": (0.35, 0.65),
        "others": (0.01, 0.99),
    },
    lambda context, checks: (
        None
        if fan_runs(context) is None or not cools_in_heating(context)
        else "runs"
        if fan_runs(context)
        else "stands still"
    ),
    lambda context: [],
    cools_in_heating,
    "outdoor_fan_stopped",
)

FEATURES: tuple[Feature, ...] = (
    FAN_IN_DEFROST,
    BACKUP_IN_DEFROST,
    SENSOR,
    STILL_IN_DEFROST,
)

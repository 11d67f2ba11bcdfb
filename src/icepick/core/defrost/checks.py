"""Every check of a recording, by code. To add one, write it in the module of its subject and list it here."""

from __future__ import annotations

from icepick.core.defrost import coil_checks, sensor, sequence_checks, start_checks
from icepick.core.defrost.finding import RecordedRule
from icepick.core.properties.quantities import Kind

_SEQUENCE = "common practice: a defrost is cooling with the outdoor fan off and backup heat on"

RECORDED: tuple[RecordedRule, ...] = (
    RecordedRule(
        "valve.position",
        "runs as called",
        Kind.RATIO,
        None,
        sequence_checks.runs_as_called,
        "physics: the pipes and the air show which way the refrigerant runs",
    ),
    RecordedRule(
        "outdoor.fan",
        "outdoor fan",
        Kind.RATIO,
        None,
        coil_checks.outdoor_fan,
        "common practice: the outdoor fan runs whenever the compressor does, but in defrost",
    ),
    RecordedRule(
        "defrost.start",
        "start of defrost",
        Kind.TEMPERATURE,
        "defrost_start",
        start_checks.start,
        ours="start_below",
    ),
    RecordedRule("defrost.shift", "shift in defrost", Kind.TIME, "defrost_shift_time", sequence_checks.shift),
    RecordedRule("defrost.fan", "outdoor fan in defrost", Kind.RATIO, None, sequence_checks.fan, _SEQUENCE),
    RecordedRule(
        "defrost.backup_heat",
        "backup heat in defrost",
        Kind.RATIO,
        None,
        sequence_checks.backup_heat,
        _SEQUENCE,
    ),
    RecordedRule(
        "defrost.stop",
        "stop of defrost",
        Kind.TEMPERATURE,
        "defrost_stop",
        sequence_checks.stop,
        ours="stop_above",
    ),
    RecordedRule(
        "defrost.duration",
        "length of defrost",
        Kind.TIME,
        "defrost_limit",
        sequence_checks.duration,
        ours="limit",
    ),
    RecordedRule(
        "defrost.interval",
        "time between defrosts",
        Kind.TIME,
        "defrost_interval_least",
        start_checks.interval,
        ours="interval",
    ),
    RecordedRule("defrost.cleared", "frost cleared", Kind.TEMPERATURE, "frost_clear", coil_checks.cleared),
    RecordedRule(
        "defrost.recovery",
        "recovery after defrost",
        Kind.TEMPERATURE_DIFFERENCE,
        "frost_recovered",
        coil_checks.recovery,
    ),
    RecordedRule(
        "defrost.clear_coil",
        "clear coil against its air",
        Kind.TEMPERATURE_DIFFERENCE,
        "split_deviation",
        coil_checks.clear_coil,
    ),
    RecordedRule(
        "defrost.sensor",
        "coil sensor",
        Kind.TEMPERATURE_DIFFERENCE,
        "sensor_difference",
        sensor.coil_sensor,
    ),
    RecordedRule(
        "defrost.ambient_sensor",
        "ambient sensor",
        Kind.TEMPERATURE_DIFFERENCE,
        "sensor_difference",
        sensor.ambient_sensor,
    ),
)
"""Every check of a recording, in the order of the sequence."""

"""The trade's named tests. To add one, write it in the module of its subject and list it in ``CHECKS``.

A test asks for each check's page in docs/checks.md.
"""

from __future__ import annotations

from icepick.core.checks import command, compressor, exchange, metering, run, standing, valve, water
from icepick.core.checks.rule import CheckRule

CHECKS: tuple[CheckRule, ...] = (
    run.SETTLED,
    command.CALL,
    command.VALVE_TERMINAL,
    command.SOLENOID_VOLTAGE,
    command.SOLENOID_RESISTANCE,
    command.CONVENTION,
    command.BACKUP_HEAT,
    valve.POSITION,
    valve.SUCTION_RISE,
    valve.DISCHARGE_DROP,
    valve.BYPASS,
    valve.MAGNETS,
    valve.SOUND,
    valve.PRESSURE_DIFFERENCE,
    valve.DRIFT,
    compressor.PUMPING,
    compressor.PRESSURE_RATIO,
    compressor.DISCHARGE_TEMPERATURE,
    *metering.METERING,
    *exchange.EXCHANGE,
    water.EXTRACTION,
    water.REJECTION,
    standing.STANDING,
)
"""Every check, in the order in which a technician works and the screen shows them."""

"""The trade's named tests. To add one, write it in the module of its subject and list it in ``CHECKS``.

A test asks for each check's page in docs/checks.md.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from icepick.core.checks import (
    alike,
    board,
    charge,
    command,
    compressor,
    danger,
    exchange,
    fan_and_heat,
    heads,
    metering,
    run,
    sensors,
    standing,
    valve,
    water,
)
from icepick.core.checks.rule import CheckRule
from icepick.core.circuit.context import RunContext
from icepick.core.document.examination import Check

CHECKS: tuple[CheckRule, ...] = (
    run.SETTLED,
    *danger.DANGER,
    command.CALL,
    command.VALVE_TERMINAL,
    command.SOLENOID_VOLTAGE,
    command.SOLENOID_RESISTANCE,
    command.CONVENTION,
    command.BACKUP_HEAT,
    board.BOARD,
    *fan_and_heat.FAN_AND_HEAT,
    *sensors.SENSORS,
    charge.LIQUID_LEFT,
    valve.POSITION,
    valve.SUCTION_RISE,
    valve.DISCHARGE_DROP,
    valve.BYPASS,
    valve.MAGNETS,
    valve.SOUND,
    valve.PRESSURE_DIFFERENCE,
    valve.DRIFT,
    compressor.RUNNING,
    compressor.PUMPING,
    compressor.PRESSURE_RATIO,
    compressor.DISCHARGE_TEMPERATURE,
    *metering.METERING,
    *heads.HEADS,
    *exchange.EXCHANGE,
    water.EXTRACTION,
    water.REJECTION,
    standing.STANDING,
    alike.ALIKE,
)
"""Every check, in the order in which a technician works and the screen shows them."""


@dataclass(frozen=True, slots=True)
class Judged:
    """The checks of a run by code: as the screen has them, and those alone that rest on readings which may carry a
    judgement; evidence is made of the latter."""

    shown: Mapping[str, Check]
    firm: Mapping[str, Check]


def judge(context: RunContext) -> Judged:
    """Apply every check to a run, each judgement made once.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Judged
        As the screen has them, and those that may carry a judgement.
    """
    shown: dict[str, Check] = {}
    firm: dict[str, Check] = {}
    for rule in CHECKS:
        try:
            outcome = rule.firmly(context)
            seen = rule.shown(context, outcome)
            found = rule.check(context, seen) if seen is not None else None
            if outcome is not None and outcome.status != "needs_readings":
                firm[rule.code] = found if found and seen is outcome else rule.check(context, outcome)
        except Exception as error:
            # Whatever breaks in one rule, the others have their say, and nothing is concluded from it.
            found = rule.broken(error)
        if found is not None:
            shown[rule.code] = found
    return Judged(shown, firm)

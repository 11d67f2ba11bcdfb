"""Outdoor fan and backup heat: the fan runs with the compressor, but in defrost, where the heat is on. [the-trade.md 7]

The sequence of a defrost (start, stop, duration) belongs to recordings.
"""

from __future__ import annotations

from icepick.core.checks.command import reads
from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind

_STANDING = "common practice: a defrost is cooling with the outdoor fan off and backup heat on"


def fan_runs(context: RunContext) -> bool | None:
    """Whether the outdoor fan runs, as seen, else by its current; None while neither is known.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool or None
        None while neither was seen nor read.
    """
    if "outdoor_fan_running" in context.observed or "outdoor_fan_stopped" in context.looked_for:
        return True
    if "outdoor_fan_stopped" in context.observed or "outdoor_fan_running" in context.looked_for:
        return False
    current = context.value("outdoor_fan", "current")
    return None if current is None else bool(current.nominal_value > context.practice.si("fan_current_none"))


def backup_on(context: RunContext) -> bool | None:
    """Whether backup heat is on, as seen, else by its current or power; None while neither is known.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool or None
        None while neither was seen nor read.
    """
    if "backup_heat_on" in context.observed:
        return True
    if "backup_heat_off" in context.observed:
        return False
    for quantity in ("current", "power"):
        value = context.value("backup_heat", quantity)
        if value is not None:
            return bool(value.nominal_value > context.practice.si("current_none"))
    return None


def _fan(context: RunContext) -> Outcome | None:
    defrost = context.unit.defrost
    if not context.defrosting or context.unit.source != "air":
        return None
    if defrost is not None and defrost.method == "off_cycle":
        return None
    runs = fan_runs(context)
    if runs is None:
        return None
    if runs:
        return Outcome(
            "fail",
            "It blows away the heat that should melt the ice: look at the fan relay and the board.",
        )
    return Outcome("pass", "The outdoor fan is off, as it should be in defrost.")


def _backup(context: RunContext) -> Outcome | None:
    if not context.defrosting or context.unit.load != "air":
        return None
    on, called = backup_on(context), reads(context, "terminal_w")
    if on is None:
        return None
    if on:
        return Outcome("pass", "Backup heat is on, as it should be in defrost.")
    supply = context.temperature("supply_air")
    air = (
        f" Supply air is at {say(float(supply.nominal_value), Kind.TEMPERATURE, context.units)}."
        if supply is not None
        else ""
    )
    where = {
        "present": " It is called at W: look at the heater, its sequencer and its limit switch.",
        "absent": " W is dead: look at the board and its wire.",
    }
    return Outcome("fail", f"It is off.{where.get(called or '', '')}{air}")


def _outdoor_fan(context: RunContext) -> Outcome | None:
    """A coil without its fan exchanges next to nothing."""
    if context.defrosting or context.commanded is None or context.unit.source != "air":
        return None
    runs = fan_runs(context)
    if runs is None:
        return None
    if runs:
        return Outcome("pass", "The outdoor fan runs.")
    if context.run.mode == "heating" and context.running == "cooling":
        return Outcome(
            "watch",
            "It stands still while the unit cools in a heating call, as in a defrost: see whether the board keeps it "
            "there.",
        )
    return Outcome(
        "fail",
        "It does not run while the compressor is called for: look at capacitor, motor, relay and board. Verify zero voltage "
        "before touching it.",
    )


FAN_AND_HEAT: tuple[CheckRule, ...] = (
    CheckRule("defrost.fan", "outdoor fan in defrost", Kind.RATIO, None, _fan, _STANDING, in_defrost=True),
    CheckRule(
        "defrost.backup_heat", "backup heat in defrost", Kind.RATIO, None, _backup, _STANDING, in_defrost=True
    ),
    CheckRule(
        "outdoor.fan",
        "outdoor fan",
        Kind.RATIO,
        None,
        _outdoor_fan,
        "common practice: the outdoor fan runs whenever the compressor does, but in defrost",
    ),
)
"""The checks of this module, in the order in which a technician works."""

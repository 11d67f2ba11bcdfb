"""Defrost sensors against a thermometer beside them. [the-trade.md 7]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.defrost_thermostat import judge_switch
from icepick.core.checks.rule import CheckRule, Outcome, magnitude, needs_readings, status_below
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.defrost_settings import Settings, settings_of
from icepick.core.document.wording import say
from icepick.core.practice import Practice
from icepick.core.properties import sensors
from icepick.core.properties.propagation import propagate
from icepick.core.properties.quantities import Kind, UnitSystem

_BESIDE = {
    "coil_sensor": (("coil_sensor", "temperature"),),
    "ambient_sensor": (("ambient_sensor", "temperature"), ("outdoor_air_in", "temperature")),
}
"""What each sensor is held to: a thermometer beside it, and for the ambient one the outdoor air as well."""


def _sensor(context: RunContext, which: str) -> Outcome | None:
    resistance = context.value(which, "resistance")
    if resistance is None:
        return None
    beside = next((v for spot in _BESIDE[which] if (v := context.value(*spot)) is not None), None)
    if beside is None:
        return needs_readings([_BESIDE[which][-1][0]], context)
    switch = judge_switch(context, resistance, beside) if which == "coil_sensor" else None
    if switch is not None:
        return switch
    design = context.unit.design
    rows = sensors.table_of(design.sensor_rows if design else None)
    curve = (
        "the manufacturer's table"
        if rows is not sensors.DEFAULT_TABLE
        else f"the {sensors.DEFAULT_NAME}, the default"
    )
    try:
        found: UFloat = propagate(lambda ohms: sensors.temperature(ohms, rows), resistance)
    except ValueError:
        ohms = say(float(resistance.nominal_value), Kind.RESISTANCE, context.units)
        return Outcome("fail", f"{ohms} is off {curve}: open, shorted, or another sensor.")
    error = found - beside
    off = magnitude(error)
    limit = context.practice.si("sensor_difference")
    status = status_below(off, limit)
    said = f"It reads {say(float(found.nominal_value), Kind.TEMPERATURE, context.units)} by {curve}, "
    said += f"beside {say(float(beside.nominal_value), Kind.TEMPERATURE, context.units)}"
    more = {
        "pass": ".",
        "watch": ": near the limit.",
        "fail": ": look at its contact and its wiring before it is condemned.",
    }
    does = ""
    if status == "fail" and which == "coil_sensor" and context.unit.source == "air":
        settings = settings_of(context.unit, context.practice)
        if settings.reverses:
            at = say_effect(settings, float(error.nominal_value), context.practice, context.units)
            does = f" {at}."
    return Outcome(status, f"{said}{more.get(status, '.')}{does}", off, limit - off.nominal_value)


def say_effect(settings: Settings, off: float, practice: Practice, units: UnitSystem, later: str = "") -> str:
    """What a coil sensor's error does to this board: when it starts, and with how warm a coil it stops.

    Parameters
    ----------
    settings : Settings
        What the unit's defrost is set to.
    off : float
        How much too warm it reads [K]; negative where too cold.
    practice : Practice
        The limits in force.
    units : {"field", "metric"}
        Units of the sentence.
    later : str
        How much later that is in this weather, where a recording shows it; empty where nothing does.

    Returns
    -------
    str
        Without its full stop.
    """
    start, stop = (
        say(value - off, Kind.TEMPERATURE, units) for value in (settings.start_below, settings.stop_above)
    )
    if off <= 0:
        return f"So the board may start with the coil as warm as {start}, and stops it only at {stop}, or on its limit"
    left = ", where frost may be left" if settings.stop_above - off < practice.si("frost_clear") else ""
    when = f", {later} later in this weather" if later else ""
    return f"So the board starts once the coil is at {start}{when}, and stops with it at {stop}{left}"


SENSORS: tuple[CheckRule, ...] = (
    CheckRule(
        "defrost.sensor",
        "coil sensor",
        Kind.TEMPERATURE_DIFFERENCE,
        "sensor_difference",
        lambda context: _sensor(context, "coil_sensor"),
        in_defrost=True,
    ),
    CheckRule(
        "defrost.ambient_sensor",
        "ambient sensor",
        Kind.TEMPERATURE_DIFFERENCE,
        "sensor_difference",
        lambda context: _sensor(context, "ambient_sensor"),
        in_defrost=True,
    ),
)
"""The checks of this module."""

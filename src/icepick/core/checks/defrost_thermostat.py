"""A defrost thermostat: a bimetal switch on the coil, closed in the cold and open in the warm. [the-trade.md 7]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind


def judge_switch(context: RunContext, ohms: UFloat, beside: UFloat) -> Outcome | None:
    """A switch held to the temperature beside it.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    ohms : UFloat
        Resistance across it [ohm].
    beside : UFloat
        Temperature beside it [K].

    Returns
    -------
    Outcome or None
        None where the resistance is no switch's, or the manufacturer's table says the unit has a sensor.
    """
    design, practice = context.unit.design, context.practice
    demand = context.unit.defrost is not None and context.unit.defrost.method == "demand"
    if (design is not None and design.sensor_rows) or demand:
        return None
    closed = float(ohms.nominal_value) <= practice.si("switch_closed")
    if not closed and float(ohms.nominal_value) < practice.si("switch_open"):
        return None
    at = say(float(beside.nominal_value), Kind.TEMPERATURE, context.units)
    state = "closed" if closed else "open"
    cold = beside.nominal_value + beside.std_dev < practice.si("thermostat_closes")
    # Cooling down from the warm it closes late, melting it opens late: only a defrost finds it closed between the two.
    opened = practice.si("thermostat_opens" if context.defrosting else "thermostat_open_still")
    warm = beside.nominal_value - beside.std_dev > opened
    if (closed and warm) or (not closed and cold):
        must = "open" if closed else "closed"
        return Outcome(
            "fail",
            f"It is {state} at {at}: a defrost thermostat is {must} there. With a sensor in its place, it is at fault too.",
        )
    if cold or warm:
        # Only a timer's board is known to have a switch: what may be a broken sensor is not cleared.
        timed = context.unit.defrost is not None and context.unit.defrost.method == "time_temperature"
        return Outcome(
            "pass" if timed else "watch",
            f"It is {state} at {at}, as a defrost thermostat is. Were it a sensor, it would be at fault: see which it is.",
        )
    return Outcome(
        "watch",
        f"It is {state} at {at}, where a defrost thermostat may be either: read it colder and warmer.",
    )

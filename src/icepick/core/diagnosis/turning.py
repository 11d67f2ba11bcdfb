"""Whether a unit may be turned round to compare: not outside the weather of the other mode. [the-trade.md 14]"""

from __future__ import annotations

from icepick.core.circuit.context import RunContext
from icepick.core.document.roles import FlowMode
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind


def put_off(context: RunContext, to: FlowMode) -> str | None:
    """What the turn-round waits for.

    Parameters
    ----------
    context : RunContext
        A run that was made, with the outdoor air it was made in.
    to : {"cooling", "heating"}
        The mode it would be turned to.

    Returns
    -------
    str or None
        In a sentence; None where the weather allows it, or nobody read it.
    """
    outdoor = context.value("outdoor_air_in", "temperature")
    if context.unit.source != "air" or outdoor is None:
        return None
    border = context.practice.si("cooling_from" if to == "cooling" else "heating_to")
    wrong = outdoor.nominal_value < border if to == "cooling" else outdoor.nominal_value > border
    if not wrong:
        return None
    side = "warmer" if to == "cooling" else "colder"
    return f"Leave the run in {to} until it is {say(border, Kind.TEMPERATURE, context.units)} or {side} outdoors."

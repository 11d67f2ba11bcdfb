"""What a sound circuit answers to the call: why it may not heat, cool or cost what the customer expects. [common practice;
the-trade.md 14]

Each answer rests on what was read or noted, and is given only where nothing is wrong with the refrigerant circuit.
"""

from __future__ import annotations

from collections.abc import Sequence

from uncertainties import UFloat

from icepick.core.checks.command import reads
from icepick.core.checks.fan_and_heat import backup_on
from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.document.codes import Complaint
from icepick.core.document.wording import say
from icepick.core.indicators.exchange import airflow
from icepick.core.properties.quantities import Kind

_TOO_LITTLE: tuple[Complaint, ...] = ("no_heat", "no_cooling", "weak", "blows_cold_in_heating")
"""Complaints that it gives too little."""


def call_answer(complaint: Complaint | None, runs: Sequence[JudgedRun]) -> str | None:
    """The one answer that fits best what was read.

    Parameters
    ----------
    complaint : Complaint or None
        What the customer says.
    runs : sequence of JudgedRun
        The runs that were made.

    Returns
    -------
    str or None
        A sentence or two; None where nothing read answers it.
    """
    made = [
        run.context for run in runs if run.context.run.mode in ("heating", "cooling") and not run.recorded
    ]
    for context in made:
        for answer in _ANSWERS:
            if found := answer(context, complaint):
                return found
    return None


def _degrees(context: RunContext, value: UFloat) -> str:
    return say(float(value.nominal_value), Kind.TEMPERATURE, context.units)


def _heater(context: RunContext, complaint: Complaint | None) -> str | None:
    """Backup heat that runs beside a sound unit."""
    if context.commanded != "heating" or not (
        backup_on(context) or reads(context, "terminal_w") == "present"
    ):
        return None
    outdoor = context.temperature("outdoor_air_in")
    if outdoor is not None and outdoor.nominal_value < context.practice.si("backup_expected"):
        return None
    at = f" at {_degrees(context, outdoor)} outdoors" if outdoor is not None else ""
    return (
        f"Backup heat is on{at} while the unit heats as it should: find out what calls it (thermostat staging, outdoor "
        "lockout, W tied to Y, emergency heat)."
    )


def _backup_missing(context: RunContext, complaint: Complaint | None) -> str | None:
    """Colder than a heat pump alone carries a house, and no backup heat."""
    outdoor = context.temperature("outdoor_air_in")
    if context.commanded != "heating" or outdoor is None or complaint not in _TOO_LITTLE:
        return None
    if outdoor.nominal_value >= context.practice.si("backup_expected") or backup_on(context):
        return None
    at = f"At {_degrees(context, outdoor)} outdoors most houses lose more than a heat pump alone gives"
    now = (
        "backup heat is off, find out why" if backup_on(context) is False else "see that backup heat comes on"
    )
    return f"{at}: {now} (breaker, W, lockout)."


def _set_back(context: RunContext, complaint: Complaint | None) -> str | None:
    room = context.temperature("return_air")
    if context.commanded != "heating" or room is None or complaint not in _TOO_LITTLE:
        return None
    if room.nominal_value >= context.practice.si("room_set_back"):
        return None
    return (
        f"The house is at {_degrees(context, room)}: a heat pump takes hours to bring it up. Ask about a set-back; set it "
        "and leave it."
    )


def _warm_return(context: RunContext, complaint: Complaint | None) -> str | None:
    room = context.temperature("return_air")
    if context.commanded != "cooling" or room is None or complaint not in _TOO_LITTLE:
        return None
    if room.nominal_value <= context.practice.si("return_warm"):
        return None
    return (
        f"Air comes back at {_degrees(context, room)}: hold it against the room. Warmer than the room is a return leak "
        "(attic, crawl space); as warm is a house still being pulled down."
    )


def _hot_day(context: RunContext, complaint: Complaint | None) -> str | None:
    outdoor = context.temperature("outdoor_air_in")
    if context.commanded != "cooling" or outdoor is None or complaint not in _TOO_LITTLE:
        return None
    if context.unit.source != "air" or outdoor.nominal_value < context.practice.si("design_day"):
        return None
    return (
        f"{_degrees(context, outdoor)} outdoors is at or over what units are sized for: on such a day it may run all day and "
        "fall behind a little. Look at the house: sun, ducts, doors."
    )


def _frost(context: RunContext, complaint: Complaint | None) -> str | None:
    if (
        complaint != "iced_outdoor_coil"
        or not {"outdoor_coil_frosted_even", "outdoor_coil_clear"} & context.observed
    ):
        return None
    seen = (
        "Thin even frost" if "outdoor_coil_frosted_even" in context.observed else "A coil that is clear now"
    )
    return f"{seen} between defrosts is normal: watch one defrost end with the coil clear."


def _feels_cold(context: RunContext, complaint: Complaint | None) -> str | None:
    supply = context.temperature("supply_air")
    if complaint != "blows_cold_in_heating" or context.commanded != "heating" or supply is None:
        return None
    if not context.practice.si("supply_lukewarm") < supply.nominal_value < context.practice.si("skin"):
        return None
    return (
        f"Supply air at {_degrees(context, supply)} warms the house and feels cool, since skin is warmer; a defrost blows "
        "cool for some minutes too."
    )


def _air_measured(context: RunContext, complaint: Complaint | None) -> str | None:
    """A measured airflow well off the manufacturer's."""
    found, design = airflow(context), context.unit.design
    if (
        found is None
        or found.source not in ("measured", "heater")
        or design is None
        or design.indoor_airflow is None
    ):
        return None
    share = float(found.value.nominal_value) / design.indoor_airflow.si
    if abs(share - 1) <= context.practice.si("airflow_off"):
        return None
    flow, due = (
        say(value, Kind.AIR_FLOW, context.units)
        for value in (float(found.value.nominal_value), design.indoor_airflow.si)
    )
    more = "high: it blurs drying and the air split" if share > 1 else "low: filter, coil, blower speed, duct"
    return f"{flow} were measured where {due} belong: airflow is {more}."


_ANSWERS = (_heater, _backup_missing, _set_back, _warm_return, _hot_day, _frost, _feels_cold, _air_measured)
"""What is asked first stands first."""

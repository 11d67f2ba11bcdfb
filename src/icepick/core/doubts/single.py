"""Doubts about one reading at a time: how it was taken, and whether it can exist at all."""

from __future__ import annotations

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.examination import Doubt
from icepick.core.document.stations import Group, station
from icepick.core.document.wording import names, say
from icepick.core.properties.quantities import Kind

_PERFECT_VACUUM = 100.0
"""What a pump leaves at best counts as nothing [Pa]."""


def unsettled(context: RunContext) -> list[Doubt]:
    """Line readings taken before the run settled. [common practice]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        One doubt, or none.
    """
    early = [c.reading.station for c in context.readings.all() if c.early]
    if not early or context.run.mode == "off":
        return []
    wait = say(context.practice.si("settling_time"), Kind.TIME, context.units)
    words = f"Taken before {wait} had passed; a drifting reading proves nothing. Read again: {names(context.unit, early, 4)}."
    return [Doubt(stations=early, code="unsettled", explain=words)]


def infrared_on_bare_pipe(context: RunContext) -> list[Doubt]:
    """Infrared anywhere on the lines, but for coil-circuit and drier patterns. [common practice]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        One doubt, or none.
    """
    bare = [c.reading.station for c in context.readings.all() if c.on_bare_pipe]
    words = "Shiny copper reads what it reflects: clamp these, or tape them and read the tape."
    return [Doubt(stations=bare, code="infrared_on_bare_pipe", explain=words)] if bare else []


def below_vacuum(context: RunContext) -> list[Doubt]:
    """A gauge below what an empty pipe would show here: nothing is less than nothing. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        One doubt, or none.
    """
    empty = [
        c.reading.station
        for c in context.readings.all()
        if c.reading.quantity == "pressure" and c.value.nominal_value < _PERFECT_VACUUM
    ]
    if not empty:
        return []
    least = say(_PERFECT_VACUUM, Kind.PRESSURE, context.units, context.atmosphere)
    words = f"Below a perfect vacuum, which reads {least} here. Zero the gauge and read again: {names(context.unit, empty)}."
    return [Doubt(stations=empty, code="below_vacuum", explain=words)]


def wet_bulb_above_dry_bulb(context: RunContext) -> list[Doubt]:
    """Evaporation only cools: a wet bulb is never above the dry one. [physics]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        One doubt for each place.
    """
    doubts = []
    for current in context.readings.all():
        if current.reading.quantity != "wet_bulb":
            continue
        dry = context.temperature(current.reading.station)
        if dry is None:
            continue
        over = current.value - dry
        if over.nominal_value > over.std_dev:
            doubts.append(
                Doubt(
                    stations=[current.reading.station],
                    code="wet_bulb_above_dry_bulb",
                    explain="The wet bulb reads above the dry bulb, which it can't: are the two swapped, "
                    "or is the wick dry?",
                )
            )
    return doubts


def impossible_in_mode(context: RunContext) -> list[Doubt]:
    """Readings at places this unit doesn't have: a drier it lacks, air over a water coil.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        One doubt, or none.
    """
    here = set(stations_of_unit(context.unit))
    absent = [
        c.reading.station
        for c in context.readings.all()
        if c.reading.station not in here and station(c.reading.station).group is not Group.CIRCUIT
    ]
    words = f"As it is described, this unit has no such place: {names(context.unit, absent)}. Check the unit, or the place."
    return [Doubt(stations=absent, code="impossible_in_mode", explain=words)] if absent else []

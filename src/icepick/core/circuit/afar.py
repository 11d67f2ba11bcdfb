"""Which way a circuit runs by what it does to air and water: a coil that warms the room's air is the condenser. [physics]

Asked only while the pipes at the valve and the vapor line don't tell. It bears a run out; an answer the other way round may
be two probes exchanged, so it says that the direction is in question, and the pipes are asked for.
"""

from __future__ import annotations

from collections.abc import Iterator

from uncertainties import UFloat

from icepick.core.circuit.readings import RunReadings
from icepick.core.document.codes import SightCode
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Run, Unit
from icepick.core.practice import Practice

_WARMED = (("return_air", "supply_air"), ("return_air", "indoor_coil"), ("load_water_in", "load_water_out"))
"""What enters a coil on the side of the room, and what leaves it or the coil itself: the warmer one in heating."""
_COOLED = (
    ("source_water_in", "source_water_out"),
    ("outdoor_air_in", "outdoor_air_out"),
    ("outdoor_air_in", "outdoor_coil"),
)
"""The same on the side of the source: the colder one in heating."""
_ENOUGH = {"return_air": "air_turned", "outdoor_air_in": "air_turned"}
"""The limit a change has to pass: air's, else water's."""


def borne_out(unit: Unit, run: Run, told: FlowMode, readings: RunReadings, practice: Practice) -> str | None:
    """The station whose air, water or coil stands as the mode that was called for makes it stand.

    Parameters
    ----------
    unit : Unit
        The equipment.
    run : Run
        The run with what was noted of it.
    told : {"cooling", "heating"}
        The mode that was called for.
    readings : RunReadings
        The readings in force.
    practice : Practice
        The limits in force.

    Returns
    -------
    str or None
        Code of what was changed; None where nothing read bears it out.
    """
    if run.mode == "defrost":
        return None
    for leaving, change, enough in _changes(readings, told, practice):
        if leaving == "supply_air" and told == "heating" and _may_be_heater(unit, run, readings):
            continue
        if change.nominal_value - change.std_dev > enough:
            return leaving
    return None


def contradicted(
    unit: Unit, run: Run, told: FlowMode, readings: RunReadings, practice: Practice
) -> str | None:
    """The station whose air, water or coil stands the other way round, while none bears the run out.

    Parameters
    ----------
    unit : Unit
        The equipment.
    run : Run
        The run with what was noted of it.
    told : {"cooling", "heating"}
        The mode that was called for.
    readings : RunReadings
        The readings in force.
    practice : Practice
        The limits in force.

    Returns
    -------
    str or None
        Code of what was changed; None where nothing read contradicts it, a heater may have warmed the air, or an air-source
        unit may be in its defrost.
    """
    if run.mode == "defrost" or borne_out(unit, run, told, readings, practice):
        return None
    if told == "heating" and unit.source == "air" and _may_defrost(readings, practice):
        return None
    heater = {one.code for one in run.observations if one.value is not False} & {"backup_heat_on"}
    for leaving, change, enough in _changes(readings, told, practice):
        if leaving.startswith("supply_air") and told == "cooling" and heater:
            continue
        if -change.nominal_value - change.std_dev > enough:
            return leaving
    return None


def _may_defrost(readings: RunReadings, practice: Practice) -> bool:
    outdoor = readings.temperature("outdoor_air_in")
    return outdoor is None or outdoor.nominal_value < practice.si("frost_air_most")


def _changes(
    readings: RunReadings, told: FlowMode, practice: Practice
) -> Iterator[tuple[str, UFloat, float]]:
    """What leaves or is changed, by how much [K] in the sense of the mode, and how much is enough [K]."""
    for warmed_in, pairs in (("heating", _WARMED), ("cooling", _COOLED)):
        for entering, leaving in pairs:
            change = _change(readings, entering, leaving)
            if change is not None:
                towards = 1 if told == warmed_in else -1
                yield leaving, towards * change, practice.si(_ENOUGH.get(entering, "water_turned"))


def _change(readings: RunReadings, entering: str, leaving: str) -> UFloat | None:
    into, out = readings.temperature(entering), readings.temperature(leaving)
    return None if into is None or out is None else out - into


_OFF: SightCode = "backup_heat_off"


def _may_be_heater(unit: Unit, run: Run, readings: RunReadings) -> bool:
    """Whether backup heat may have warmed the supply air: nobody saw it off, and the air was not read before it."""
    if unit.layout == "ductless" or readings.get("supply_air_after_heat") is not None:
        return False
    noted = {one.code: one.value is not False for one in run.observations}
    return not noted.get(_OFF, False)

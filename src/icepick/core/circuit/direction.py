"""Which way a circuit runs, whatever it was told: four pipes at the reversing valve, else the vapor line. [the-trade.md 3]

Asked once for a run, when its context is made; everything after reads ``context.circuit``.
"""

from __future__ import annotations

from uncertainties import UFloat, ufloat

from icepick.core.circuit.graph import Circuit, build_circuit
from icepick.core.circuit.readings import RunReadings
from icepick.core.document.roles import ApparentMode, FlowMode
from icepick.core.document.visit import Unit
from icepick.core.practice import Practice

VALVE_PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
"""The four pipes at the valve, in walking order."""
VAPOR_LINE = ("vapor_line_outdoor", "vapor_line_indoor")
"""The pipe that carries suction gas in cooling and hot gas in heating, at both ends."""


def pipe_spread(readings: RunReadings) -> UFloat | None:
    """Hottest minus coldest of the four pipes at the valve [K]; None unless all four are read.

    Parameters
    ----------
    readings : RunReadings
        The readings of one run.

    Returns
    -------
    UFloat or None
        [K]; None unless all four are read.
    """
    values = [readings.temperature(pipe) for pipe in VALVE_PIPES]
    present = [value for value in values if value is not None]
    if len(present) < len(VALVE_PIPES):
        return None
    present.sort(key=lambda value: value.nominal_value)
    return present[-1] - present[0]


def equalized(readings: RunReadings, practice: Practice) -> bool:
    """Whether all four pipes read alike, by instruments good enough to say so.

    Parameters
    ----------
    readings : RunReadings
        The readings of one run.
    practice : Practice
        The limits in force.

    Returns
    -------
    bool
        False also while a pipe is unread.
    """
    apart, limit = pipe_spread(readings), practice.si("equalized_spread")
    return apart is not None and apart.nominal_value <= limit + 1e-9 and apart.std_dev <= limit


def position_index(readings: RunReadings, practice: Practice) -> UFloat | None:
    """Where the slide stands, from the four pipes.

    s = (T outdoor port − T indoor port) / (T discharge − T common suction): near +1 fully in cooling,
    near −1 fully in heating, near 0 neither. [physics]

    Returns
    -------
    UFloat or None
        Dimensionless; None while a pipe is unread, where the pipes are equalized, or where discharge
        is not clearly hotter than common suction (the quotient then means nothing).

    Parameters
    ----------
    readings : RunReadings
        The readings of one run.
    practice : Practice
        The limits in force.

    Returns
    -------
    UFloat or None
        Ratio, −1 to +1; None while a reading it needs is missing.
    """
    discharge, indoor, outdoor, common = (readings.temperature(pipe) for pipe in VALVE_PIPES)
    if discharge is None or indoor is None or outdoor is None or common is None:
        return None
    across = discharge - common
    if equalized(readings, practice) or across.nominal_value <= across.std_dev:
        return None
    return (outdoor - indoor) / across


def apparent_mode(readings: RunReadings, practice: Practice) -> ApparentMode:
    """What the circuit of a run with the compressor called for is doing.

    ``neither`` for a slide in the middle or an equalized circuit; ``unknown`` while pipes are unread
    or the uncertainty reaches over the threshold. Where not all four pipes at the valve are read, a vapor line
    clearly hotter or colder than the room tells, unless its outdoor end is as the air there, which a line that nothing
    runs through takes on.

    Parameters
    ----------
    readings : RunReadings
        The readings of one run.
    practice : Practice
        The limits in force.

    Returns
    -------
    ApparentMode
        ``unknown`` while too little is read.
    """
    if equalized(readings, practice):
        return "neither"
    index = position_index(readings, practice)
    if index is None:
        return "unknown" if pipe_spread(readings) is not None else _by_vapor_line(readings, practice)
    limit = practice.si("valve_position")
    if abs(abs(index.nominal_value) - limit) <= index.std_dev:
        return "unknown"
    if abs(index.nominal_value) < limit:
        return "neither"
    return "cooling" if index.nominal_value > 0 else "heating"


def _by_vapor_line(readings: RunReadings, practice: Practice) -> ApparentMode:
    room = readings.temperature("return_air")
    if room is None:
        room = ufloat(practice.si("room_temperature"), practice.si("uncertainty_estimate"))
    over = [t - room for pipe in VAPOR_LINE if (t := readings.temperature(pipe)) is not None]
    if _as_the_air_outdoors(readings):
        return "unknown"
    hot, cold = (practice.si(f"vapor_line_{word}") for word in ("hot", "cold"))
    if over and all(one.nominal_value - one.std_dev > hot for one in over):
        return "heating"
    if over and all(one.nominal_value + one.std_dev < -cold for one in over):
        return "cooling"
    return "unknown"


def _as_the_air_outdoors(readings: RunReadings) -> bool:
    """Whether the vapor line's outdoor end may have nothing but the air around it in it."""
    line, air = readings.temperature("vapor_line_outdoor"), readings.temperature("outdoor_air_in")
    return line is not None and air is not None and abs((line - air).nominal_value) <= (line - air).std_dev


def running_circuit(unit: Unit, told: FlowMode, apparent: ApparentMode) -> Circuit:
    """The circuit as it really runs; as told while that is not known.

    Parameters
    ----------
    unit : Unit
        The equipment.
    told : FlowMode
        The mode that was called for.
    apparent : ApparentMode
        What the readings say it is doing.

    Returns
    -------
    Circuit
        In the direction of flow.
    """
    runs = apparent if apparent in ("heating", "cooling") else told
    return build_circuit(unit, runs).shared

"""A small picture of each fault: the staircase of a sound unit beside one that has it, and what is in every pipe."""

from __future__ import annotations

from functools import lru_cache

from icepick.core.document.base import Document
from icepick.core.document.examination import Fault, PathStop
from icepick.core.document.roles import FlowMode
from icepick.core.handbook.moving.numbers import Pipe, pipe
from icepick.core.handbook.reference import Played, played, reference_unit
from icepick.core.machine.along import At, along
from icepick.core.machine.faults import machine_fault, possible
from icepick.core.machine.variation import AT_REST
from icepick.core.properties.quantities import UnitSystem

_RUNS_BACKWARDS: frozenset[Fault] = frozenset(
    {"valve_in_opposite_position", "valve_convention_wrong", "command_missing", "solenoid_open"}
)
_STANDS_STILL: frozenset[Fault] = frozenset(
    {"control_power_missing", "call_missing", "compressor_not_running"}
)
_DRAWN_GRAVE: frozenset[Fault] = frozenset(
    {"bypass_stuck_closed", "liquid_line_restriction", "coil_circuit_starved", "source_coil_fouled"}
)
"""Faults that hardly show before they are grave; the others are drawn halfway."""
_OF_HEADS: frozenset[Fault] = frozenset({"head_meter_leaking", "head_meter_closed", "heads_crossed"})
_OF_WATER: frozenset[Fault] = frozenset({"source_water_flow_low", "source_coil_fouled"})


class FaultPicture(Document):
    """A fault in a mode. ``path`` is the way that was called for; ``sound`` and ``faulty`` are what its stations show, in its
    order; empty where nothing shows in a unit at rest, and ``words`` say why. Else ``words`` say how bad it is drawn."""

    fault: Fault
    mode: FlowMode
    path: list[PathStop]
    sound: list[Pipe]
    faulty: list[Pipe]
    words: str


@lru_cache(maxsize=128)
def fault_picture(fault: Fault, mode: FlowMode, units: UnitSystem) -> FaultPicture:
    """Draw a fault.

    Parameters
    ----------
    fault : Fault
        Its code.
    mode : FlowMode
        What is called for.
    units : {"field", "metric"}
        Units of every number.

    Returns
    -------
    FaultPicture
        Worked out on the Handbook's unit.
    """
    made = played(reference_unit("water" if fault in _OF_WATER else "air"), mode)
    if made is None:
        raise RuntimeError("the Handbook's unit does not come to rest")
    sound = _stations(made)
    faulty, words = _faulty(fault, mode, made)
    if not faulty:
        return FaultPicture(fault=fault, mode=mode, path=[], sound=[], faulty=[], words=words)
    stops = [stop for stop in made.circuit.path if stop.station in sound and stop.station in faulty]
    return FaultPicture(
        fault=fault,
        mode=mode,
        path=[
            PathStop(station=s.station, role=s.role, state=s.state, place=s.place, through=s.through)
            for s in stops
        ],
        sound=[pipe(sound[s.station], units) for s in stops],
        faulty=[pipe(faulty[s.station], units) for s in stops],
        words=words,
    )


def _stations(made: Played) -> dict[str, At]:
    return {at.station: at for at in along(made.machine, made.circuit, made.cycle)}


def _faulty(fault: Fault, mode: FlowMode, sound: Played) -> tuple[dict[str, At], str]:
    """What its stations show, and how bad it is; nothing, and why, where it does not show so."""
    if fault in _RUNS_BACKWARDS:
        if fault in ("command_missing", "solenoid_open") and sound.unit.reversing_valve.energized_in != mode:
            return {}, "In this mode the valve is not energized: nothing shows."
        other = played(sound.unit, "heating" if mode == "cooling" else "cooling", outdoors=_outdoors(mode))
        return ({} if other is None else _stations(other)), "It runs the other way round, sound in itself."
    if fault in _STANDS_STILL:
        around = {at.station: _still(at, sound) for at in along(sound.machine, sound.circuit, sound.cycle)}
        return around, "Nothing runs: every pipe is as warm as what is around it."
    if fault in _OF_HEADS:
        return {}, "It is of a unit with several heads; the one drawn here has none to tell apart."
    known = machine_fault(fault)
    if known is None or known.backwards:
        return (
            {},
            "It does not show in a unit at rest: see what is written here, and the defrost picture of a visit.",
        )
    if not possible(known, sound.unit, mode):
        return {}, "There is no such fault in this mode."
    amount = known.amounts[-1] if fault in _DRAWN_GRAVE else known.amounts[1]
    made = played(sound.unit, mode, known.effect(amount) if amount else AT_REST)
    unit = "%" if known.unit == "percent" else f" {known.unit}"
    if made is None:
        return {}, "The unit does not run so: a safety switch stops it."
    return _stations(made), f"{amount:g}{unit} {known.words}."


def _outdoors(mode: FlowMode) -> float:
    """The air is that of the mode that was called for [°F]."""
    return 90.0 if mode == "cooling" else 40.0


_INDOORS = frozenset({"indoor_coil", "vapor_line_indoor", "indoor_meter_line_side", "indoor_meter_coil_side"})


def _still(at: At, sound: Played) -> At:
    around = sound.conditions.indoor if at.station in _INDOORS else sound.conditions.outdoor
    return At(at.station, at.pressure, float(around[0]), at.state, 0.0)  # type: ignore[index]

"""The circuit: a unit and a commanded mode give the path of the refrigerant.

The pipework is one fixed chain of stations and parts between the two end ports of the reversing valve.
The mode only decides from which end it is walked. Everything that swaps between modes (which coil
condenses, which meter works, which line is hot) follows from the walk and is written nowhere else.
[standing: physics; trade.md section 2]
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from icepick.core.stations import Place, station
from icepick.core.visit import Mode, Unit

Side = Literal["indoor", "outdoor"]
Role = Literal["high", "low"]
State = Literal["superheated_vapor", "mixture", "subcooled_liquid"]
Part = Literal[
    "compressor",
    "reversing_valve",
    "outdoor_coil",
    "outdoor_meter",
    "drier",
    "indoor_meter",
    "indoor_coil",
    "accumulator",
    "pipe",
]
FlowMode = Literal["heating", "cooling"]


@dataclass(frozen=True, slots=True)
class Stop:
    """One station on the path: what the mode expects there and the part that follows it downstream."""

    station: str
    role: Role
    state: State
    place: Place
    through: Part


@dataclass(frozen=True, slots=True)
class Circuit:
    """The path of one unit in one mode.

    ``hot_port`` carries discharge gas away from the valve; ``return_port`` brings suction gas back.
    ``bypassed`` is None where one meter serves both ways.
    """

    mode: FlowMode
    path: tuple[Stop, ...]
    active_meter: Side
    bypassed_meter: Side | None
    hot_port: str
    return_port: str


def flow_mode(mode: Mode) -> FlowMode | None:
    """The way the refrigerant should run: defrost runs as cooling, ``off`` does not run."""
    if mode == "off":
        return None
    return "heating" if mode == "heating" else "cooling"


def _chain(unit: Unit) -> list[tuple[str, Part]]:
    """Stations from the outdoor port to the indoor port, each with the part that comes after it."""
    drier: list[tuple[str, Part]] = [("drier_outdoor_side", "drier"), ("drier_indoor_side", "pipe")]
    in_unit = unit.drier.kind != "none" and unit.drier.place == "outdoor_unit"
    in_line = unit.drier.kind != "none" and unit.drier.place == "line_set"
    return [
        ("valve_to_outdoor", "outdoor_coil"),
        ("outdoor_coil", "outdoor_coil"),
        ("outdoor_meter_coil_side", "outdoor_meter"),
        ("outdoor_meter_line_side", "pipe"),
        *(drier if in_unit else []),
        ("liquid_line_outdoor", "pipe"),
        *(drier if in_line else []),
        ("indoor_meter_line_side", "indoor_meter"),
        ("indoor_meter_coil_side", "indoor_coil"),
        ("indoor_coil", "indoor_coil"),
        ("vapor_line_indoor", "pipe"),
        ("vapor_line_outdoor", "pipe"),
        ("valve_to_indoor", "reversing_valve"),
    ]


def _active(unit: Unit, mode: FlowMode) -> Side:
    """The meter that works: the one at the coil that evaporates, if there is one there."""
    first: Side = "indoor" if mode == "cooling" else "outdoor"
    meters = {"indoor": unit.indoor_meter, "outdoor": unit.outdoor_meter}
    other: Side = "outdoor" if first == "indoor" else "indoor"
    return first if meters[first].kind != "none" else other


def _bypassed(unit: Unit, active: Side) -> Side | None:
    """The idle meter, where it has a way round it (a check, its own piston, or a valve that opens wide)."""
    other: Side = "outdoor" if active == "indoor" else "indoor"
    meter = unit.outdoor_meter if other == "outdoor" else unit.indoor_meter
    return other if meter.bypass != "none" or meter.kind == "eev" else None


def build_circuit(unit: Unit, mode: FlowMode) -> Circuit:
    """Lay the path of a unit in one mode.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : {"heating", "cooling"}
        The way the refrigerant should run; see :func:`flow_mode`.

    Returns
    -------
    Circuit
        Stations in flow order from the compressor's discharge back to its inlet.
    """
    chain = _chain(unit)
    if mode == "heating":
        # Walked the other way, the part after a station is the one that stood before it.
        befores: list[Part] = ["reversing_valve", *(part for _, part in chain[:-1])]
        chain = [(code, before) for (code, _), before in zip(chain, befores, strict=True)][::-1]
    active = _active(unit, mode)
    condenser, evaporator = (
        ("outdoor_coil", "indoor_coil") if mode == "cooling" else ("indoor_coil", "outdoor_coil")
    )
    stops = [_stop("discharge_line", "high", "superheated_vapor", "reversing_valve")]
    role: Role = "high"
    state: State = "superheated_vapor"
    for code, part in chain:
        if code == condenser:
            stops.append(_stop(code, role, "mixture", part))
            state = "subcooled_liquid"
            continue
        if code == evaporator:
            stops.append(_stop(code, role, "mixture", part))
            state = "superheated_vapor"
            continue
        stops.append(_stop(code, role, state, part))
        if part == f"{active}_meter":
            role, state = "low", "mixture"
    stops.append(
        _stop("common_suction", "low", "superheated_vapor", "accumulator" if unit.accumulator else "pipe")
    )
    stops.append(_stop("compressor_inlet", "low", "superheated_vapor", "compressor"))
    hot, back = "valve_to_outdoor", "valve_to_indoor"
    if mode == "heating":
        hot, back = back, hot
    return Circuit(mode, tuple(stops), active, _bypassed(unit, active), hot, back)


def _stop(code: str, role: Role, state: State, through: Part) -> Stop:
    return Stop(code, role, state, station(code).place, through)

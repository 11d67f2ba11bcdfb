"""The circuit: a unit and a commanded mode give the path of the refrigerant.

The pipework is one fixed chain of stations and parts between the two end ports of the reversing valve.
The mode only decides from which end it is walked. Everything that swaps between modes (which coil
condenses, which meter works, which line is hot) follows from the walk and is written nowhere else.
[standing: physics; trade.md section 2]
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from icepick.core.stations import STATIONS, Group, Place, Station, station
from icepick.core.visit import Bypass, MeterKind, Mode, Unit

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
Coil = Literal["indoor_coil", "outdoor_coil"]


@dataclass(frozen=True, slots=True)
class Stop:
    """One station on the path: what the mode expects there and the part that follows it downstream."""

    station: str
    role: Role
    state: State
    place: Place
    through: Part


@dataclass(frozen=True, slots=True)
class Tap:
    """A pressure tap, the pipe it opens into, and the side that pipe is on in this mode."""

    tap: str
    at: str
    role: Role


@dataclass(frozen=True, slots=True)
class Circuit:
    """The path of one unit in one mode.

    ``hot_port`` carries discharge gas away from the valve; ``return_port`` brings suction gas back.
    ``bypassed_meter`` is None where one meter serves both ways, or where the idle one has no way round it.
    """

    mode: FlowMode
    path: tuple[Stop, ...]
    taps: tuple[Tap, ...]
    active_meter: Side
    bypassed_meter: Side | None
    evaporator: Coil
    condenser: Coil
    hot_port: str
    return_port: str

    def stop(self, station: str) -> Stop | None:
        """The stop at a station, or None where this unit has no such station."""
        return next((stop for stop in self.path if stop.station == station), None)


_TAPS = {
    "common_suction_tap": "common_suction",
    "vapor_service_tap": "vapor_line_outdoor",
    "liquid_service_tap": "liquid_line_outdoor",
    "discharge_tap": "discharge_line",
}
TRUE_LOW_SIDE_TAP = "common_suction_tap"
"""The one tap that is on the low side in every mode; in heating there is no other. [physics]"""


def flow_mode(mode: Mode) -> FlowMode | None:
    """The way the refrigerant should run: defrost runs as cooling, ``off`` does not run."""
    if mode == "off":
        return None
    return "heating" if mode == "heating" else "cooling"


def has_fixed_liquid_line(unit: Unit) -> bool:
    """Whether some pipe carries liquid in both modes: only between two meters. [physics]"""
    return unit.indoor_meter.kind != "none" and unit.outdoor_meter.kind != "none"


def _chain(unit: Unit) -> list[tuple[str, Part]]:
    """Stations from the outdoor port to the indoor port, each with the part that comes after it.

    A meter that isn't there has no stations. A packaged unit whose one meter sits between the coils has
    no liquid line to clamp; a ductless one has the small line of its line set, whatever runs in it.
    """
    drier: list[tuple[str, Part]] = [("drier_outdoor_side", "drier"), ("drier_indoor_side", "pipe")]
    in_unit = unit.drier.kind != "none" and unit.drier.place == "outdoor_unit"
    in_line = unit.drier.kind != "none" and unit.drier.place == "line_set"
    outdoor_meter: list[tuple[str, Part]] = [
        ("outdoor_meter_coil_side", "outdoor_meter"),
        ("outdoor_meter_line_side", "pipe"),
    ]
    indoor_meter: list[tuple[str, Part]] = [
        ("indoor_meter_line_side", "indoor_meter"),
        ("indoor_meter_coil_side", "indoor_coil"),
    ]
    liquid_line: list[tuple[str, Part]] = [("liquid_line_outdoor", "pipe")]
    has_liquid_line = unit.layout != "packaged" or has_fixed_liquid_line(unit)
    return [
        ("valve_to_outdoor", "outdoor_coil"),
        ("outdoor_coil", "outdoor_coil"),
        *(outdoor_meter if unit.outdoor_meter.kind != "none" else []),
        *(drier if in_unit else []),
        *(liquid_line if has_liquid_line else []),
        *(drier if in_line else []),
        *(indoor_meter if unit.indoor_meter.kind != "none" else []),
        ("indoor_coil", "indoor_coil"),
        ("vapor_line_indoor", "pipe"),
        ("vapor_line_outdoor", "pipe"),
        ("valve_to_indoor", "reversing_valve"),
    ]


def meters(unit: Unit, mode: FlowMode) -> tuple[Side, Side | None]:
    """The meter that works and the one that is bypassed.

    The one at the coil that evaporates works, if there is one there. The idle one is bypassed where it has a way round
    it: a check, its own piston, or a valve that opens wide.
    """
    sides: tuple[Side, Side] = ("indoor", "outdoor") if mode == "cooling" else ("outdoor", "indoor")
    fitted = {"indoor": unit.indoor_meter, "outdoor": unit.outdoor_meter}
    active, other = sides if fitted[sides[0]].kind != "none" else sides[::-1]
    idle = fitted[other]
    return active, other if idle.bypass != "none" or idle.kind == "eev" else None


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
    active, bypassed = meters(unit, mode)
    coils: tuple[Coil, Coil] = ("outdoor_coil", "indoor_coil")
    condenser, evaporator = coils if mode == "cooling" else coils[::-1]
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
    roles = {stop.station: stop.role for stop in stops}
    taps = tuple(Tap(tap, at, roles[at]) for tap, at in _TAPS.items() if at in roles)
    return Circuit(mode, tuple(stops), taps, active, bypassed, evaporator, condenser, hot, back)


def _stop(code: str, role: Role, state: State, through: Part) -> Stop:
    return Stop(code, role, state, station(code).place, through)


USUAL_BYPASS: dict[MeterKind, Bypass] = {
    "txv": "internal_check",
    "piston": "sliding_piston",
    "capillary": "external_check",
    "eev": "none",
    "none": "none",
}
"""The way round each kind of meter that it most often comes with. [common practice]"""


def stations_of_unit(unit: Unit) -> list[str]:
    """Every fixed station this unit has, of every tray, in walking order.

    Coil circuits, which are numbered, exist on every coil and are not listed.
    """
    here = {"discharge_line", "common_suction", "compressor_inlet", *(code for code, _ in _chain(unit))}
    here |= {tap for tap, at in _TAPS.items() if at in here}
    return [entry.code for entry in STATIONS if entry.code in here or _beside_the_circuit(unit, entry)]


def _beside_the_circuit(unit: Unit, entry: Station) -> bool:
    """Whether an air, water or electrical station exists: each coil has air or water, never both."""
    if entry.code in _AIR_SOURCE_ONLY:
        return unit.source == "air"
    if entry.group is Group.WATER:
        return (unit.source if entry.place is Place.OUTDOORS else unit.load) == "water"
    if entry.group is Group.AIR or entry.code == "supply_fan":
        return unit.load == "air"
    return entry.group is Group.ELECTRICAL


_AIR_SOURCE_ONLY = frozenset({"outdoor_air_in", "outdoor_air_out", "outdoor_fan", "coil_sensor"})

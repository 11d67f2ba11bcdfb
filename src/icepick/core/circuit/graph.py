"""The circuit: a unit and a mode give the path of the refrigerant.

The pipework is one fixed chain of stations and parts between the two end ports of the reversing valve.
The mode only decides from which end it is walked. Everything that swaps between modes (which coil
condenses, which metering device is active, which line is hot) follows from the walk and is written nowhere
else. Others ask the circuit by its queries; none of them walks the path by place in a list, so that a circuit
with branches can come. [standing: physics; the-trade.md 2]
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Literal

from icepick.core.document.codes import Bypass, Layout, Medium, MeterKind, Mode
from icepick.core.document.roles import Coil, FlowMode, Part, Role, Side, State
from icepick.core.document.stations import STATIONS, Group, Place, Station, station
from icepick.core.document.visit import Unit


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


@dataclass(frozen=True, eq=False)
class Circuit:
    """The path of one unit in one mode.

    ``hot_port`` carries discharge gas away from the valve; ``return_port`` brings suction gas back.
    ``bypassed_meter`` is None where one metering device serves both ways, or where the idle one has no way round it.
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

    @cached_property
    def legs(self) -> tuple[tuple[Stop, Stop], ...]:
        """Every step from one station to the next, in the direction of flow."""
        return tuple(zip(self.path, self.path[1:], strict=False))

    def along(self, role: Role | None = None, state: State | None = None) -> tuple[str, ...]:
        """Stations on a side, or holding refrigerant in a state, in flow order.

        Parameters
        ----------
        role : Role or None
            The side; either where None.
        state : State or None
            What the refrigerant is there; any where None.

        Returns
        -------
        tuple of str
            Codes, in flow order.
        """
        return tuple(
            stop.station for stop in self.path if role in (None, stop.role) and state in (None, stop.state)
        )

    @cached_property
    def hot_gas(self) -> tuple[str, ...]:
        """Stations from the compressor's discharge to the condenser."""
        return self.along("high", "superheated_vapor")

    @cached_property
    def liquid(self) -> tuple[str, ...]:
        """Stations between the condenser and the active metering device."""
        return self.along("high", "subcooled_liquid")

    @cached_property
    def boiling(self) -> tuple[str, ...]:
        """Stations between the active metering device and the evaporator."""
        return tuple(code for code in self.along("low", "mixture") if code != self.evaporator)

    @cached_property
    def suction_gas(self) -> tuple[str, ...]:
        """Stations from the evaporator's outlet to the compressor's inlet."""
        return self.along("low", "superheated_vapor")

    @cached_property
    def leaving_evaporator(self) -> tuple[str, ...]:
        """Stations between the evaporator and the reversing valve."""
        return tuple(code for code in self.suction_gas if code not in ("common_suction", "compressor_inlet"))

    def coil(self, role: Role) -> Coil:
        """The coil of a side: the condenser of the high one, the evaporator of the low one.

        Parameters
        ----------
        role : Role
            The side.

        Returns
        -------
        Coil
            Its name.
        """
        return self.condenser if role == "high" else self.evaporator

    @cached_property
    def active_part(self) -> Part:
        """The metering device that works in this mode."""
        return "indoor_meter" if self.active_meter == "indoor" else "outdoor_meter"

    @cached_property
    def bypassed_part(self) -> Part | None:
        """The metering device that should be bypassed in this mode."""
        if self.bypassed_meter is None:
            return None
        return "indoor_meter" if self.bypassed_meter == "indoor" else "outdoor_meter"

    @cached_property
    def devices(self) -> tuple[tuple[Part, str, str], ...]:
        """Metering devices and drier in flow order, each with the stations before and after it."""
        devices = ("indoor_meter", "outdoor_meter", "drier")
        return tuple(
            (here.through, here.station, there.station)
            for here, there in self.legs
            if here.through in devices
        )

    def ends(self, part: Part) -> tuple[str, str] | None:
        """The stations before and after a metering device or the drier; None where the unit has no such part.

        Parameters
        ----------
        part : Part
            A metering device or the drier.

        Returns
        -------
        (str, str) or None
            Codes, in flow order; None where the unit has no such part.
        """
        return next(((start, end) for through, start, end in self.devices if through == part), None)

    def before(self, tap: str) -> tuple[Part, ...]:
        """Metering devices and driers that lie between the condenser and the pipe a tap opens into.

        Parameters
        ----------
        tap : str
            Code of a pressure tap.

        Returns
        -------
        tuple of Part
            In flow order.
        """
        found: list[Part] = []
        for here, _ in self.legs:
            if here.station == _TAPS.get(tap):
                return tuple(found)
            if here.station == self.condenser:
                found = []
            if here.through in ("indoor_meter", "outdoor_meter", "drier"):
                found.append(here.through)
        return ()

    @cached_property
    def long_runs(self) -> tuple[tuple[str, str], ...]:
        """The pipes that lead from one side of the wall to the other, by their ends."""
        coils = {self.condenser, self.evaporator}
        return tuple(
            (here.station, there.station)
            for here, there in self.legs
            if here.through == "pipe"
            and here.place != there.place
            and not {here.station, there.station} & coils
        )

    def taps_on(self, role: Role) -> tuple[str, ...]:
        """The taps that open into a side in this mode, those nearest the compressor first.

        Parameters
        ----------
        role : Role
            The side.

        Returns
        -------
        tuple of str
            Codes of taps.
        """
        return self._taps_by_side[role]

    @cached_property
    def _taps_by_side(self) -> dict[Role, tuple[str, ...]]:
        sides: tuple[Role, Role] = ("high", "low")
        on = {role: {tap.tap for tap in self.taps if tap.role == role} for role in sides}
        return {role: tuple(tap for tap in _FROM_THE_COMPRESSOR if tap in on[role]) for role in sides}

    def is_on(self, tap: str, role: Role) -> bool:
        """Whether a tap opens into a side in this mode.

        Parameters
        ----------
        tap : str
            Code of a pressure tap.
        role : Role
            The side.

        Returns
        -------
        bool
            True where it does.
        """
        return tap in self.taps_on(role)

    def stop(self, station: str) -> Stop | None:
        """The stop at a station, or None where this unit has no such station.

        Parameters
        ----------
        station : str
            Code of a station.

        Returns
        -------
        Stop or None
            None where this unit has no such station.
        """
        return next((stop for stop in self.path if stop.station == station), None)


_TAPS = {
    "common_suction_tap": "common_suction",
    "vapor_service_tap": "vapor_line_outdoor",
    "liquid_service_tap": "liquid_line_outdoor",
    "discharge_tap": "discharge_line",
}
_FROM_THE_COMPRESSOR = ("discharge_tap", "common_suction_tap", "vapor_service_tap", "liquid_service_tap")
"""On either side the nearer a tap is to the compressor, the less the pressure has lost, or has yet to lose. [physics]"""


def flow_mode(mode: Mode) -> FlowMode | None:
    """The way the refrigerant should run: defrost runs as cooling, ``off`` does not run.

    Parameters
    ----------
    mode : Mode
        The commanded mode.

    Returns
    -------
    FlowMode or None
        None with the compressor off.
    """
    if mode == "off":
        return None
    return "heating" if mode == "heating" else "cooling"


def has_fixed_liquid_line(unit: Unit) -> bool:
    """Whether some pipe carries liquid in both modes: only between two meters. [physics]

    Parameters
    ----------
    unit : Unit
        The equipment.

    Returns
    -------
    bool
        True with two metering devices.
    """
    return unit.indoor_meter.kind != "none" and unit.outdoor_meter.kind != "none"


@dataclass(frozen=True, slots=True)
class _Piping:
    """What of a unit decides how its refrigerant runs."""

    layout: Layout
    indoor_meter: MeterKind
    outdoor_meter: MeterKind
    drier: Literal["outdoor_unit", "line_set"] | None
    accumulator: bool
    active: Side
    bypassed: Side | None


def _chain(unit: _Piping) -> list[tuple[str, Part]]:
    """Stations from the outdoor port to the indoor port, each with the part that comes after it.

    A meter that isn't there has no stations. A packaged unit whose one meter sits between the coils has
    no liquid line to clamp; a ductless one has the small line of its line set, whatever runs in it.
    """
    drier: list[tuple[str, Part]] = [("drier_outdoor_side", "drier"), ("drier_indoor_side", "pipe")]
    outdoor_meter: list[tuple[str, Part]] = [
        ("outdoor_meter_coil_side", "outdoor_meter"),
        ("outdoor_meter_line_side", "pipe"),
    ]
    indoor_meter: list[tuple[str, Part]] = [
        ("indoor_meter_line_side", "indoor_meter"),
        ("indoor_meter_coil_side", "indoor_coil"),
    ]
    liquid_line: list[tuple[str, Part]] = [("liquid_line_outdoor", "pipe")]
    has_liquid_line = unit.layout != "packaged" or "none" not in (unit.indoor_meter, unit.outdoor_meter)
    return [
        ("valve_to_outdoor", "outdoor_coil"),
        ("outdoor_coil", "outdoor_coil"),
        *(outdoor_meter if unit.outdoor_meter != "none" else []),
        *(drier if unit.drier == "outdoor_unit" else []),
        *(liquid_line if has_liquid_line else []),
        *(drier if unit.drier == "line_set" else []),
        *(indoor_meter if unit.indoor_meter != "none" else []),
        ("indoor_coil", "indoor_coil"),
        ("vapor_line_indoor", "pipe"),
        ("vapor_line_outdoor", "pipe"),
        ("valve_to_indoor", "reversing_valve"),
    ]


def meters(unit: Unit, mode: FlowMode) -> tuple[Side, Side | None]:
    """The meter that works and the one that is bypassed.

    The one at the coil that evaporates works, if there is one there. The idle one is bypassed where it has a way round
    it: a check, its own piston, or a valve that opens wide.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : FlowMode
        The way the refrigerant runs.

    Returns
    -------
    (Side, Side or None)
        The side of the one, and of the other; None where none is bypassed.
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
    active, bypassed = meters(unit, mode)
    return _build(
        _Piping(
            unit.layout,
            unit.indoor_meter.kind,
            unit.outdoor_meter.kind,
            unit.drier.place if unit.drier.fitted else None,
            bool(unit.accumulator),
            active,
            bypassed,
        ),
        mode,
    )


@lru_cache(maxsize=256)
def _build(unit: _Piping, mode: FlowMode) -> Circuit:
    chain, active, bypassed = _chain(unit), unit.active, unit.bypassed
    if mode == "heating":
        # Walked the other way, the part after a station is the one that stood before it.
        befores: list[Part] = ["reversing_valve", *(part for _, part in chain[:-1])]
        chain = [(code, before) for (code, _), before in zip(chain, befores, strict=True)][::-1]
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

    Parameters
    ----------
    unit : Unit
        The equipment.

    Returns
    -------
    list of str
        Codes.
    """
    return list(_stations(build_circuit(unit, "cooling"), unit.source, unit.load))


@lru_cache(maxsize=256)
def _stations(circuit: Circuit, source: Medium, load: Medium) -> tuple[str, ...]:
    here = {stop.station for stop in circuit.path}
    here |= {tap for tap, at in _TAPS.items() if at in here}
    return tuple(
        entry.code for entry in STATIONS if entry.code in here or _beside_the_circuit(source, load, entry)
    )


def _beside_the_circuit(source: Medium, load: Medium, entry: Station) -> bool:
    """Whether an air, water or electrical station exists: each coil has air or water, never both."""
    if entry.code in _AIR_SOURCE_ONLY:
        return source == "air"
    if entry.group is Group.WATER:
        return (source if entry.place is Place.OUTDOORS else load) == "water"
    if entry.group is Group.AIR or entry.code == "supply_fan":
        return load == "air"
    return entry.group is Group.ELECTRICAL


_AIR_SOURCE_ONLY = frozenset({"outdoor_air_in", "outdoor_air_out", "outdoor_fan", "coil_sensor"})

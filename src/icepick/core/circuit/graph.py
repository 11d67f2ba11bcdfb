"""The circuit: a unit and a mode give the path of the refrigerant.

What a unit is piped of is in ``piping``, which way refrigerant runs through it in ``flooding``. Others ask the circuit by its
queries; none of them walks the path by place in a list. Where several heads lie in parallel, ``branch`` is the circuit
through one of them, and answers the same queries. [standing: physics; the-trade.md 2]
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import pairwise

from icepick.core.circuit.flooding import Stop, flood
from icepick.core.circuit.piping import Described, numberless, piping
from icepick.core.document.codes import Bypass, Medium, MeterKind, Mode
from icepick.core.document.heads import OneLine, split
from icepick.core.document.roles import Coil, FlowMode, Part, Role, Side, State
from icepick.core.document.stations import OF_A_HEAD, STATIONS, Group, Place, Station
from icepick.core.document.visit import Unit


@dataclass(frozen=True, slots=True)
class Tap:
    """A pressure tap, the pipe it opens into, and the side that pipe is on in this mode."""

    tap: str
    at: str
    role: Role


@dataclass(frozen=True)
class Circuit:
    """The path of one unit in one mode.

    ``hot_port`` carries discharge gas away from the valve; ``return_port`` brings suction gas back.
    ``bypassed_meter`` is None where one metering device serves both ways, or where the idle one has no way round it.
    ``legs`` are the steps from one station to the next, in the direction of flow.
    """

    mode: FlowMode
    path: tuple[Stop, ...]
    legs: tuple[tuple[Stop, Stop], ...]
    taps: tuple[Tap, ...]
    active_meter: Side
    bypassed_meter: Side | None
    evaporator: Coil
    condenser: Coil
    hot_port: str
    return_port: str

    def __hash__(self) -> int:
        return self._hashed

    @cached_property
    def _hashed(self) -> int:
        return hash((self.mode, self.path, self.taps, self.active_meter, self.bypassed_meter))

    @cached_property
    def branches(self) -> tuple[int, ...]:
        """The numbers of its branches; none where everything lies in one line."""
        return tuple(sorted({stop.branch for stop in self.path if stop.branch is not None}))

    def branch(self, number: int) -> Circuit:
        """The circuit through one branch alone, with what all of them share.

        Parameters
        ----------
        number : int
            From 1.

        Returns
        -------
        Circuit
            In one line; itself where it has no branches.

        Raises
        ------
        KeyError
            It has branches, and none of this number.
        """
        if not self.branches:
            return self
        if number not in self.branches:
            raise KeyError(number)
        path = tuple(stop for stop in self.path if stop.branch in (None, number))
        return replace(self, path=path, legs=tuple(pairwise(path)))

    @cached_property
    def shared(self) -> Circuit:
        """What all branches share, without them; itself where it has none."""
        if not self.branches:
            return self
        legs = tuple(leg for leg in self.legs if leg[0].branch is None and leg[1].branch is None)
        return replace(self, path=tuple(stop for stop in self.path if stop.branch is None), legs=legs)

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
        return tuple(code for code in self.along("low", "mixture") if numberless(code) != self.evaporator)

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
        opens_into = next((one.at for one in self.taps if one.tap == tap), None)
        for here, _ in self.legs:
            if here.station == opens_into:
                return tuple(found)
            if numberless(here.station) == self.condenser:
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
            and not {numberless(here.station), numberless(there.station)} & coils
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
    described = Described(
        unit.layout,
        unit.indoor_meter.kind,
        unit.outdoor_meter.kind,
        unit.drier.place if unit.drier.fitted else None,
        bool(unit.accumulator),
        len(unit.heads or ()),
    )
    return _build(described, mode, *meters(unit, mode))


@lru_cache(maxsize=256)
def _build(described: Described, mode: FlowMode, active: Side, bypassed: Side | None) -> Circuit:
    pipes = piping(described)
    path, legs = flood(pipes, mode, active)
    coils: tuple[Coil, Coil] = ("outdoor_coil", "indoor_coil")
    condenser, evaporator = coils if mode == "cooling" else coils[::-1]
    ports = ("valve_to_outdoor", "valve_to_indoor")
    hot, back = ports if mode == "cooling" else ports[::-1]
    roles = {stop.station: stop.role for stop in path}
    taps = tuple(Tap(tap, at, roles[at]) for tap, at in pipes.taps)
    return Circuit(mode, tuple(path), tuple(legs), taps, active, bypassed, evaporator, condenser, hot, back)


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
    if isinstance(unit, OneLine):
        every = map(split, stations_of_unit(unit.described))
        return [base for base, number in every if number in (None, unit.head)]
    return list(_stations(build_circuit(unit, "cooling"), unit.source, unit.load))


@lru_cache(maxsize=256)
def _stations(circuit: Circuit, source: Medium, load: Medium) -> tuple[str, ...]:
    here = {numberless(stop.station) for stop in circuit.path} | {tap.tap for tap in circuit.taps}
    found = [entry for entry in STATIONS if entry.code in here or _beside_the_circuit(source, load, entry)]
    if not circuit.branches:
        return tuple(entry.code for entry in found)
    return (
        *(entry.code for entry in found if entry.code not in OF_A_HEAD),
        # At the outdoor unit pipe beside pipe, then room by room.
        *(
            f"{entry.code}:{n}"
            for entry in found
            for n in circuit.branches
            if _at_a_head(entry, Place.OUTDOORS)
        ),
        *(
            f"{entry.code}:{n}"
            for n in circuit.branches
            for entry in found
            if _at_a_head(entry, Place.INDOORS)
        ),
    )


def _at_a_head(entry: Station, place: Place) -> bool:
    return entry.code in OF_A_HEAD and entry.place is place


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

"""The parts of a sized machine: plain numbers, SI. What each does stands in the module of its name.

*At rating* means in cooling at the rating point the machine was sized at (:mod:`sizing`); everything that depends on a flow
scales from there.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from icepick.core.circuit.graph import Circuit
from icepick.core.document.codes import Medium, MeterKind
from icepick.core.document.roles import FlowMode
from icepick.core.machine.conditions import Conditions


@dataclass(frozen=True, slots=True)
class Compressor:
    """What it displaces [m³/s] at full speed, how well it fills and compresses, and what its motor draws."""

    displacement: float
    filling: float
    """Share of the displacement filled at a pressure ratio of one."""
    clearance: float
    expansion_exponent: float
    efficiency: float
    """Isentropic work over electrical power at the best pressure ratio."""
    best_ratio: float
    efficiency_fall: float
    """How fast the efficiency falls with the squared logarithm of the ratio over the best one."""
    shell_loss: float
    """Heat that shell and discharge line give to the air around [W/K]."""
    current_per_watt: float
    """Current [A] for each watt at nominal voltage."""


@dataclass(frozen=True, slots=True)
class Coil:
    """A coil: what it exchanges heat with and how well, and what refrigerant it holds."""

    medium: Medium
    flow: float
    """Of air or water [m³/s]."""
    outside: float
    """Conductance from the air or water to the metal at rated flow [W/K]."""
    inside: float
    """Conductance from the metal to boiling or condensing refrigerant at its rated flow [W/K]."""
    vapor_share: float
    liquid_share: float
    """Conductance to vapor and to liquid over that to a mixture."""
    outside_exponent: float
    """How the outside conductance grows with the flow."""
    volume: float
    """Inside [m³]."""
    circuits: int
    pressure_loss: float
    """As an evaporator at rated flow and pressure [Pa]."""
    as_evaporator: float = 1.0
    """× both conductances where it evaporates."""
    fan_power: float = 0.0
    """Heat [W] that its fan puts into the air after the coil."""


@dataclass(frozen=True, slots=True)
class Meter:
    """A metering device at work: its flow area (with its flow coefficient in it) [m²], at rating, and what steers it."""

    kind: MeterKind
    area: float
    static_superheat: float
    """Superheat [K] at which a valve begins to open."""
    superheat: float
    """Superheat [K] at which it stands as at rating."""
    widest: float
    """Its greatest area over that at rating."""
    at_common_suction: bool
    """Whether its bulb or suction sensor sits beyond the reversing valve."""


@dataclass(frozen=True, slots=True)
class Lines:
    """Vapor and liquid line and what lies in the liquid's way. Losses [Pa] at rated flow, conductances [W/K], volumes
    [m³]."""

    vapor_loss: float
    suction_loss: float
    vapor_conductance: float
    liquid_conductance: float
    vapor_volume: float
    liquid_volume: float
    liquid_loss: float
    drier_loss: float
    idle_loss: float
    """Through the idle device's open way round."""
    condenser_loss: float
    discharge_loss: float
    suction_volume: float
    """Of compressor shell and suction pipe."""
    accumulator_volume: float


@dataclass(frozen=True, slots=True)
class Step:
    """A stretch between condenser and evaporator: the station it begins at, and the part that follows."""

    station: str
    part: Literal["idle", "drier", "line", "meter", "pipe"]
    restricts: bool = False
    """Whether a restriction of the liquid line sits here."""


@dataclass(frozen=True, slots=True)
class Rated:
    """The rating point in cooling: refrigerant flow [kg/s], pressures [Pa], power [W] of the compressor and capacity [W] of
    the indoor coil."""

    flow: float
    evaporating_pressure: float
    condensing_pressure: float
    suction_enthalpy: float
    power: float
    capacity: float


@dataclass(frozen=True, slots=True)
class Machine:
    """One unit with numbers. ``circuits`` has its path in each mode; ``meters`` has the device at work; ``idle`` the area
    [m²] of the other's own passage, through which liquid is forced where its way round stays shut; ``loops`` what lies
    between condenser and evaporator, in flow order."""

    refrigerant: str
    compressor: Compressor
    indoor: Coil
    outdoor: Coil
    circuits: Mapping[FlowMode, Circuit]
    meters: dict[FlowMode, Meter]
    idle: dict[FlowMode, float]
    loops: dict[FlowMode, tuple[Step, ...]]
    lines: Lines
    valve_conduction: float
    """Heat that passes from hot to cold gas through the valve's body at rated flow [W/K]."""
    valve_exponent: float
    """How that grows with the flow."""
    charge: float
    rated: Rated
    at_rating: Mapping[FlowMode, tuple[Conditions, tuple[float, ...]]] = field(default_factory=dict)
    """Where it comes to rest at its rating points, as the walk's unknowns: the search elsewhere begins from there."""

    def __hash__(self) -> int:
        return hash(
            (
                self.refrigerant,
                self.compressor,
                self.indoor,
                self.outdoor,
                self.lines,
                self.rated,
                self.charge,
            )
        )

    def coils(self, mode: FlowMode) -> tuple[Coil, Coil]:
        """Condenser and evaporator in a mode."""
        of = {"outdoor_coil": self.outdoor, "indoor_coil": self.indoor}
        circuit = self.circuits[mode]
        return of[circuit.condenser], of[circuit.evaporator]

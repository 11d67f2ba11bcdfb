"""What a unit is piped of: parts with ports, and the pipes between them with the stations they pass.

Nothing here knows a mode or a direction. A part is written with its kind and, where there are several, its number:
``outdoor_meter:2`` is the metering device of the second head. [standing: physics; the-trade.md 2]
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal, cast

from icepick.core.document.codes import Layout, MeterKind
from icepick.core.document.roles import Part

Kind = Literal[Part, "manifold"]
Port = tuple[str, str]
"""Part and port: a coil has ``vapor`` and ``liquid``, a metering device ``coil`` and ``line``, a drier ``outdoor`` and
``indoor``, the reversing valve ``discharge``, ``outdoor``, ``indoor`` and ``suction``, a manifold ``trunk`` and a port for
each branch."""


@dataclass(frozen=True, slots=True)
class Pipe:
    """From one port to another, with the stations on it in that order. ``long``: what lies behind its last station is told as
    pipe, not as the part it ends at."""

    start: Port
    end: Port
    stations: tuple[str, ...] = ()
    long: bool = False


@dataclass(frozen=True, slots=True)
class Described:
    """What of a unit decides how its refrigerant runs. ``heads`` counts them, 0 where the unit has none to count."""

    layout: Layout
    indoor_meter: MeterKind
    outdoor_meter: MeterKind
    drier: Literal["outdoor_unit", "line_set"] | None
    accumulator: bool
    heads: int = 0


@dataclass(frozen=True)
class Piping:
    """The pipes of a unit, and its pressure taps, each with the station of the pipe it opens into."""

    pipes: tuple[Pipe, ...]
    taps: tuple[tuple[str, str], ...]

    @cached_property
    def at(self) -> dict[Port, tuple[Pipe, bool]]:
        """The pipe at each port, and whether the port is its start."""
        ends = [(pipe.start, (pipe, True)) for pipe in self.pipes]
        return dict([*ends, *((pipe.end, (pipe, False)) for pipe in self.pipes)])

    def ports(self, part: str) -> list[str]:
        """The ports of a part that a pipe leads to."""
        return [port for of, port in self.at if of == part]


def kind_of(part: str) -> Kind:
    """The kind of a part, whatever its number."""
    kind = numberless(part)
    return "manifold" if kind.endswith("manifold") else cast(Kind, kind)


def numberless(code: str) -> str:
    """A part or station without the number of its branch: ``outdoor_meter:2`` is an ``outdoor_meter``."""
    return code.partition(":")[0]


def piping(unit: Described) -> Piping:
    """Lay the pipes of a unit.

    Parameters
    ----------
    unit : Described
        What of it decides how its refrigerant runs.

    Returns
    -------
    Piping
        Every pipe between two ports.
    """
    pipes = [
        Pipe(("compressor", "discharge"), ("reversing_valve", "discharge"), ("discharge_line",)),
        Pipe(("reversing_valve", "outdoor"), ("outdoor_coil", "vapor"), ("valve_to_outdoor",)),
        *_suction(unit),
        *(_heads(unit.heads) if unit.heads else _line_set(unit)),
    ]
    # The big line's port of a unit with several heads opens into what leads to all of them.
    big = "valve_to_indoor" if unit.heads else "vapor_line_outdoor"
    taps = (
        ("common_suction_tap", "common_suction"),
        ("vapor_service_tap", big),
        ("liquid_service_tap", "liquid_line_outdoor"),
        ("discharge_tap", "discharge_line"),
    )
    passed = {station for pipe in pipes for station in pipe.stations}
    return Piping(tuple(pipes), tuple(tap for tap in taps if tap[1] in passed))


def _suction(unit: Described) -> list[Pipe]:
    valve, compressor = ("reversing_valve", "suction"), ("compressor", "suction")
    if not unit.accumulator:
        return [Pipe(valve, compressor, ("common_suction", "compressor_inlet"))]
    return [
        Pipe(valve, ("accumulator", "in"), ("common_suction",)),
        Pipe(("accumulator", "out"), compressor, ("compressor_inlet",)),
    ]


def _line_set(unit: Described) -> list[Pipe]:
    """From coil to coil, and back to the valve.

    A meter that isn't there has no stations. A packaged unit whose one meter sits between the coils has
    no liquid line to clamp; a ductless one has the small line of its line set, whatever runs in it.
    """
    has_liquid_line = unit.layout != "packaged" or "none" not in (unit.indoor_meter, unit.outdoor_meter)
    pipes = list[Pipe]()
    start: Port = ("outdoor_coil", "liquid")
    on: list[str] = []
    if unit.outdoor_meter != "none":
        pipes.append(Pipe(start, ("outdoor_meter", "coil"), ("outdoor_meter_coil_side",)))
        start, on = ("outdoor_meter", "line"), ["outdoor_meter_line_side"]
    for place in ("outdoor_unit", "line_set"):
        if unit.drier == place:
            pipes.append(Pipe(start, ("drier", "outdoor"), (*on, "drier_outdoor_side")))
            start, on = ("drier", "indoor"), ["drier_indoor_side"]
        if has_liquid_line and place == "outdoor_unit":
            on.append("liquid_line_outdoor")
    if unit.indoor_meter != "none":
        pipes.append(Pipe(start, ("indoor_meter", "line"), (*on, "indoor_meter_line_side")))
        pipes.append(Pipe(("indoor_meter", "coil"), ("indoor_coil", "liquid"), ("indoor_meter_coil_side",)))
    else:
        pipes.append(Pipe(start, ("indoor_coil", "liquid"), tuple(on), long=True))
    vapor = ("vapor_line_indoor", "vapor_line_outdoor", "valve_to_indoor")
    return [*pipes, Pipe(("indoor_coil", "vapor"), ("reversing_valve", "indoor"), vapor)]


def _heads(count: int) -> list[Pipe]:
    """One electric valve for each head, in the outdoor unit; two pipes from there to each."""
    pipes = [
        Pipe(("outdoor_coil", "liquid"), ("liquid_manifold", "trunk")),
        Pipe(("vapor_manifold", "trunk"), ("reversing_valve", "indoor"), ("valve_to_indoor",)),
    ]
    for n in map(str, range(1, count + 1)):
        valve, coil = f"outdoor_meter:{n}", f"indoor_coil:{n}"
        small = (f"outdoor_meter_line_side:{n}", f"liquid_line_outdoor:{n}")
        big = (f"vapor_line_indoor:{n}", f"vapor_line_outdoor:{n}")
        pipes += [
            Pipe(("liquid_manifold", n), (valve, "coil"), (f"outdoor_meter_coil_side:{n}",)),
            Pipe((valve, "line"), (coil, "liquid"), small, long=True),
            Pipe((coil, "vapor"), ("vapor_manifold", n), big),
        ]
    return pipes

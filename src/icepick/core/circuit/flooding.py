"""Which way refrigerant runs through a unit's pipes, and what it is there: followed from the compressor's discharge until
it is back at its suction.

What swaps between modes (which coil condenses, which metering device is active, which line is hot) follows from where the
reversing valve sends the gas, and is written nowhere else.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from icepick.core.circuit.piping import Piping, Port, kind_of, numberless
from icepick.core.document.roles import FlowMode, Part, Role, Side, State
from icepick.core.document.stations import Place, station


@dataclass(frozen=True, slots=True)
class Stop:
    """One station on the path: what the mode expects there and the part that follows it downstream. ``branch`` is the number
    of the head whose branch it is on, None on what all of them share."""

    station: str
    role: Role
    state: State
    place: Place
    through: Part
    branch: int | None = None


Inside = tuple[Role, State]


def flood(pipes: Piping, mode: FlowMode, active: Side) -> tuple[list[Stop], list[tuple[Stop, Stop]]]:
    """Every station in flow order, and every step from one to the next.

    Parameters
    ----------
    pipes : Piping
        What the unit is piped of.
    mode : {"heating", "cooling"}
        Where the reversing valve sends the discharge gas.
    active : {"indoor", "outdoor"}
        The side whose metering devices meter.

    Returns
    -------
    (list of Stop, list of (Stop, Stop))
        Branches one after the other, between what lies before them and what they join.
    """
    running = _Flooding(pipes, "outdoor" if mode == "cooling" else "indoor", active)
    running.leave(("compressor", "discharge"), ("high", "superheated_vapor"), ())
    return running.stops, running.steps


@dataclass
class _Flooding:
    pipes: Piping
    hot_port: str
    active: Side
    stops: list[Stop] = field(default_factory=list)
    steps: list[tuple[Stop, Stop]] = field(default_factory=list)
    arrived: dict[str, list[Stop]] = field(default_factory=dict)

    def leave(self, port: Port, inside: Inside, behind: Sequence[Stop]) -> None:
        """Out of a part by a port, along the pipe there, into the part at its end."""
        pipe, forward = self.pipes.at[port]
        stations, end = (pipe.stations, pipe.end) if forward else (tuple(reversed(pipe.stations)), pipe.start)
        for code in stations:
            last = code == stations[-1] and not (pipe.long and forward)
            kind = kind_of(end[0])
            behind = [self._stop(code, inside, kind if last and kind != "manifold" else "pipe", behind)]
        self._enter(end, inside, behind)

    def _enter(self, port: Port, inside: Inside, behind: Sequence[Stop]) -> None:
        part, by = port
        kind, others = kind_of(part), [one for one in self.pipes.ports(part) if one != by]
        if kind == "compressor":
            return
        if kind == "manifold":
            self._through_manifold(part, by, inside, behind)
        elif kind == "reversing_valve":
            self.leave((part, self.hot_port if by == "discharge" else "suction"), inside, behind)
        elif kind in ("indoor_coil", "outdoor_coil"):
            role = inside[0]
            pipe, forward = self.pipes.at[part, others[0]]
            bend = self._stop(part, (role, "mixture"), "pipe" if pipe.long and not forward else kind, behind)
            self.leave(
                (part, others[0]),
                (role, "subcooled_liquid" if role == "high" else "superheated_vapor"),
                [bend],
            )
        else:
            metered = kind == f"{self.active}_meter"
            self.leave((part, others[0]), ("low", "mixture") if metered else inside, behind)

    def _through_manifold(self, part: str, by: str, inside: Inside, behind: Sequence[Stop]) -> None:
        """From its trunk into every branch; from the branches into its trunk, once all of them are there."""
        branches = [one for one in self.pipes.ports(part) if one != "trunk"]
        if by == "trunk":
            for branch in branches:
                self.leave((part, branch), inside, behind)
            return
        arrived = self.arrived.setdefault(part, [])
        arrived.extend(behind)
        if len(arrived) == len(branches):
            self.leave((part, "trunk"), inside, arrived)

    def _stop(self, code: str, inside: Inside, through: Part, behind: Sequence[Stop]) -> Stop:
        number = code.removeprefix(numberless(code)).removeprefix(":")
        stop = Stop(code, *inside, station(code).place, through, int(number) if number else None)
        self.stops.append(stop)
        self.steps += [(before, stop) for before in behind]
        return stop

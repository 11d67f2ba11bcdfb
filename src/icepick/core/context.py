"""What an indicator or a check may look at: one run, its unit, its path, its readings, the limits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import wraps
from typing import Any, TypeVar, TypeVarTuple, Unpack

from uncertainties import UFloat

from icepick.core.circuit import Circuit, FlowMode, build_circuit, flow_mode
from icepick.core.practice import Practice
from icepick.core.quantities import UnitSystem
from icepick.core.readings import RunReadings
from icepick.core.visit import Run, Unit, Visit


@dataclass(frozen=True, slots=True)
class RunContext:
    """One run ready to be judged. ``circuit`` and ``commanded`` are None for an ``off`` run.

    ``others`` are the visit's other runs. ``doubted`` names stations whose readings physics contradicts; no
    verdict rests on them. ``doubts`` are the codes of all doubts.
    """

    unit: Unit
    run: Run
    readings: RunReadings
    practice: Practice
    units: UnitSystem
    commanded: FlowMode | None
    circuit: Circuit | None
    atmosphere: float
    others: tuple[Run, ...] = ()
    doubted: frozenset[str] = frozenset()
    doubts: frozenset[str] = frozenset()
    memo: dict[Any, Any] = field(default_factory=dict, compare=False, repr=False)

    @property
    def observed(self) -> frozenset[str]:
        """Codes of what was seen and heard in this run."""
        return frozenset(o.code for o in self.run.observations if o.value is not False)

    @property
    def energized(self) -> bool:
        """Whether the valve's coil should be energized in the commanded mode."""
        return self.commanded == self.unit.reversing_valve.energized_in

    def value(self, station: str, quantity: str) -> UFloat | None:
        """What is in force of a quantity at a station [SI], or None."""
        current = self.readings.get(station, quantity)
        return current.value if current else None

    def temperature(self, station: str) -> UFloat | None:
        """The temperature in force at a station [K], or None."""
        current = self.readings.get(station)
        return current.value if current else None


Asked = TypeVarTuple("Asked")
R = TypeVar("R")


def remembered(
    function: Callable[[RunContext, Unpack[Asked]], R],
) -> Callable[[RunContext, Unpack[Asked]], R]:
    """Work something out once for a context; checks and indicators ask for the same figures again and again."""

    @wraps(function)
    def ask(context: RunContext, /, *asked: *Asked) -> R:
        key = function, asked
        memo = context.memo
        if key not in memo:
            memo[key] = function(context, *asked)
        found: R = memo[key]
        return found

    return ask


def run_contexts(visit: Visit, practice: Practice, units: UnitSystem) -> list[RunContext]:
    """One context for each run of the visit, in order."""
    contexts = []
    for run in visit.runs:
        commanded = flow_mode(run.mode)
        contexts.append(
            RunContext(
                visit.unit,
                run,
                RunReadings(run, visit.site.atmosphere, practice),
                practice,
                units,
                commanded,
                build_circuit(visit.unit, commanded) if commanded else None,
                visit.site.atmosphere,
                tuple(other for other in visit.runs if other is not run),
            )
        )
    return contexts

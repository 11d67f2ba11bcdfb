"""What an indicator or a check may look at: one run, its unit, its path, its readings, the limits."""

from __future__ import annotations

from dataclasses import dataclass

from uncertainties import UFloat

from icepick.core.circuit import Circuit, FlowMode, build_circuit, flow_mode
from icepick.core.practice import Practice
from icepick.core.quantities import UnitSystem
from icepick.core.readings import RunReadings
from icepick.core.visit import Run, Unit, Visit


@dataclass(frozen=True, slots=True)
class RunContext:
    """One run ready to be judged. ``circuit`` and ``commanded`` are None for an ``off`` run.

    ``doubted`` names stations whose readings physics contradicts; no verdict rests on them.
    """

    unit: Unit
    run: Run
    readings: RunReadings
    practice: Practice
    units: UnitSystem
    commanded: FlowMode | None
    circuit: Circuit | None
    atmosphere: float
    doubted: frozenset[str] = frozenset()

    def temperature(self, station: str) -> UFloat | None:
        """The temperature in force at a station [K], or None."""
        current = self.readings.get(station)
        return current.value if current else None


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
            )
        )
    return contexts

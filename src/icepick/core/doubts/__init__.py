"""Readings that physics contradicts: doubted before the machine is. [the-trade.md 8]

A doubted reading stays, is marked, and carries no verdict alone. Where the readings fit a circuit that
runs the other way round, nothing is doubted: that is a finding, not a slip.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial

from icepick.core.circuit.context import RunContext, attempt, without_doubted
from icepick.core.circuit.graph import Circuit, build_circuit
from icepick.core.document.examination import Doubt
from icepick.core.doubts import pipes, ports, single
from icepick.core.doubts.consistency import contradictions, exchanged, facts, law, misread_unit

NOT_PHYSICS = frozenset({"unsettled", "infrared_on_bare_pipe"})
"""Doubts about how a reading was taken: the gate keeps such readings from deciding, and they stay in sight."""

_WHAT = "whether the readings contradict one another"

EXPLAINS = frozenset({"swapped_stations", "unit_mistaken", "low_side_at_high_port"})
"""Doubts that say what happened, rather than only what can't be."""

_NO_NUMBER = frozenset(
    {"below_vacuum", "hotter_than_any_pipe", "pressure_as_temperature", "unit_mistaken", "impossible_in_mode"}
)
"""Doubts that leave no number to go by."""


def unreadable(doubts: Iterable[Doubt]) -> frozenset[str]:
    """Stations in whose readings not even a danger is seen.

    Parameters
    ----------
    doubts : iterable of Doubt
        Every doubt about a run.

    Returns
    -------
    frozenset of str
        Their codes. Without the discharge port: what stands there is the head in any unit, and none typed for another makes a
        head of it.
    """
    return frozenset(
        code
        for doubt in doubts
        if doubt.code in _NO_NUMBER
        for code in doubt.stations
        if (doubt.code, code) != ("unit_mistaken", "discharge_tap")
    )


def find_doubts(context: RunContext) -> list[Doubt]:
    """Every doubt about the readings of a run, each naming its stations.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Doubt
        Empty where physics allows everything.
    """
    finders = [
        single.below_vacuum,
        single.wet_bulb_above_dry_bulb,
        single.impossible_in_mode,
        single.unsettled,
        single.infrared_on_bare_pipe,
    ]
    too_hot = attempt(context, _WHAT, partial(pipes.hotter_than_any_pipe, context), list[Doubt]())
    found = [
        doubt for find in finders for doubt in attempt(context, _WHAT, partial(find, context), list[Doubt]())
    ]
    if context.commanded is not None and context.apparent != "neither":
        without = frozenset(code for doubt in too_hot for code in doubt.stations)
        about = partial(_about_the_circuit, without_doubted(context, without, frozenset()))
        found += attempt(context, _WHAT, about, list[Doubt]())
    return [*too_hot, *found]


def _about_the_circuit(context: RunContext) -> list[Doubt]:
    assert context.told is not None
    as_told = _in_one_direction(context, context.told)
    if as_told.fits:
        return as_told.doubts
    other = build_circuit(context.unit, "heating" if context.commanded == "cooling" else "cooling")
    apparent, otherwise = context.apparent, _in_one_direction(context, other)
    if otherwise.fits and not otherwise.doubts:
        # It fits a unit running the other way; while the valve's pipes don't say so, a port is doubted.
        return [d for d in as_told.doubts if apparent == "unknown" and d.code == "low_side_at_high_port"]
    for reading in (as_told, otherwise):
        if any(doubt.code in EXPLAINS for doubt in reading.doubts):
            return reading.doubts
    return otherwise.doubts if apparent == other.mode else as_told.doubts


@dataclass(frozen=True, slots=True)
class _AsIfRunning:
    """The readings taken as those of a circuit running one way: do they fit, and what is doubted then."""

    fits: bool
    doubts: list[Doubt]


def _in_one_direction(context: RunContext, circuit: Circuit) -> _AsIfRunning:
    doubts = ports.low_side_at_high_port(context, circuit)
    without = frozenset(code for doubt in doubts for code in doubt.stations)
    known, asked = facts(context, circuit, without), law(context, circuit)
    misread = misread_unit(context, circuit, asked, known, without)
    if misread:
        doubts = [*doubts, *misread]
        known = facts(context, circuit, frozenset(code for doubt in doubts for code in doubt.stations))
    if asked.kept(known):
        return _AsIfRunning(not doubts, doubts)
    return _AsIfRunning(
        False, [*doubts, *exchanged(context, circuit, asked, known), *contradictions(context, asked, known)]
    )

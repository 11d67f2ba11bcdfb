"""Places nobody can get at on this visit: they are not asked for again, and everything else is weighed without them."""

from __future__ import annotations

from collections.abc import Sequence

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import JudgedRun
from icepick.core.document.heads import as_described

Away = frozenset[str]
"""Stations, as the unit describes them, each alone or with the one quantity that can't be read there."""


def out_of_reach(runs: Sequence[JudgedRun]) -> Away:
    """What was noted as out of reach in any run."""
    seen = [one for run in runs for one in run.context.run.observations]
    return frozenset(str(one.value) for one in seen if one.code == "out_of_reach")


def is_away(context: RunContext, code: str, quantity: str, away: Away) -> bool:
    """Whether a quantity at a station, as the run's line names it, is among them."""
    place = as_described(context.unit, code)
    return place in away or f"{place}/{quantity}" in away

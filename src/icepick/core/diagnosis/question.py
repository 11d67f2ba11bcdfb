"""A question that could be put to a unit: what to read or look at, what it is worth, and what it takes."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature, Spot
from icepick.core.document.examination import Fault
from icepick.core.document.stations import Group

MINUTES = {
    Group.LINE: 1.0,
    Group.AIR: 1.0,
    Group.WATER: 1.5,
    Group.CIRCUIT: 1.0,
    Group.ELECTRICAL: 2.0,
    Group.TAP: 8.0,
}
"""What one reading takes, a gauge its hook-up and what that costs in refrigerant with it. [our own choice]"""
ANOTHER_TAP = 2.0
"""With the gauges at hand already."""
LOOK = 0.5
SWITCH_MODE = 12.0
"""Turning the unit round, and waiting until it has settled."""
UNMADE = "unmade"
"""What a run that could be made besides is called while it is weighed."""
LIKELY = 0.03
"""Faults less probable than this are not named as what a question separates."""


@dataclass(frozen=True, slots=True)
class Question:
    """What could be asked next: expected drop of entropy [bits] by its answer, and minutes of work.

    ``run`` is None where the run has yet to be made. ``look`` is set where eyes or ears answer it. ``place`` is its number
    among the readings that machines foretell. ``calling`` are the heads to let call for it, in a run of their own.
    """

    context: RunContext
    missing: list[Spot]
    gain: float
    minutes: float
    run: str | None
    why: str
    separates: list[Fault]
    look: Feature | None = None
    place: int | None = None
    calling: tuple[int, ...] | None = None


def in_danger(checks: Checks) -> bool:
    """Whether the unit has to be stopped at once: what needs it running is read later.

    Parameters
    ----------
    checks : Checks
        Of a run, by code.

    Returns
    -------
    bool
        True where a danger was found.
    """
    return any(code.startswith("danger.") and check.status == "fail" for code, check in checks.items())


_NO_FLOW = ("command.call", "compressor.running")


def stopped(checks: Checks) -> bool:
    """Whether the compressor has no call or does not run: then only the control circuit has something to tell.

    Parameters
    ----------
    checks : Checks
        Of a run, by code.

    Returns
    -------
    bool
        True where nothing flows.
    """
    return any(code in checks and checks[code].status == "fail" for code in _NO_FLOW)

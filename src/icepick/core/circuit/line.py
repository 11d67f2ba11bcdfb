"""Which of a unit's heads a run is examined along: one that calls and is fed, the best read of them."""

from __future__ import annotations

from collections.abc import Collection

from icepick.core.circuit.context import RunContext, run_context, with_readings
from icepick.core.circuit.heads import HeadSeen, heads_seen
from icepick.core.document.heads import OneLine, along, in_one_line, split
from icepick.core.document.visit import Run, Unit
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem


def line_of(
    unit: Unit, run: Run, practice: Practice, units: UnitSystem, atmosphere: float
) -> tuple[Unit, Run]:
    """A unit and a run as they are examined in one line.

    Parameters
    ----------
    unit : Unit
        As somebody described it.
    run : Run
        As it was read.
    practice : Practice
        The limits in force.
    units : UnitSystem
        Units of every sentence.
    atmosphere : float
        Local air pressure [Pa].

    Returns
    -------
    (Unit, Run)
        Themselves where the unit has no several heads.
    """
    if not unit.heads:
        return unit, run
    plain, as_read = seen_along(unit, run, 1, fed=False)
    seen = heads_seen(run_context(as_read, plain, practice, units, atmosphere))
    read = dict.fromkeys(range(1, len(unit.heads) + 1), 0)
    for reading in run.readings:
        head = split(reading.station)[1]
        if head in read:
            read[head] += 1
    calling = run.heads_calling or list(read)
    still = {one.number for one in seen if _still(one, practice)}
    moving = [n for n in calling if n not in still]
    likely = moving if run.heads_calling else [n for n in moving if _fed(seen, n, practice)]
    best = max(likely or calling or [1], key=lambda n: (_fed(seen, n, practice), read[n], -n))
    return seen_along(unit, run, best, fed=bool(likely), starved=still)


def seen_along(
    unit: Unit, run: Run, head: int, *, fed: bool, starved: Collection[int] = ()
) -> tuple[OneLine, Run]:
    """A unit and a run along one head.

    Parameters
    ----------
    unit : Unit
        With several heads.
    run : Run
        As it was read.
    head : int
        The head's number, from 1.
    fed : bool
        Whether refrigerant runs there; else nothing of the head is in its line.
    starved : collection of int
        Numbers of those that call and get nothing.

    Returns
    -------
    (OneLine, Run)
        In one line.
    """
    line = in_one_line(unit, run.heads_calling, head, fed=fed, starved=starved)
    return line, along(run, head, only=() if fed else ("return_air",))


def in_its_line(context: RunContext) -> RunContext:
    """A run by what was read in its line: what the other heads show says nothing of it.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    RunContext
        Itself on a unit without several heads.
    """
    if not isinstance(context.unit, OneLine):
        return context
    return with_readings(context, context.readings.only(lambda one: split(one.reading.station)[1] is None))


def _still(head: HeadSeen, practice: Practice) -> bool:
    """Nothing runs there, by either end."""
    return any(share.nominal_value < practice.si("head_still") for share in head.telling.values())


def _fed(seen: tuple[HeadSeen, ...], number: int, practice: Practice) -> bool:
    shares = next((one.telling for one in seen if one.number == number), {})
    return any(share.nominal_value >= practice.si("head_fed") for share in shares.values())

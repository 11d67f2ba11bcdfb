"""Checks of the run itself: had it settled when it was read?"""

from __future__ import annotations

from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.readings import has_to_settle
from icepick.core.document.wording import names, say
from icepick.core.properties.quantities import Kind


def _settled(context: RunContext) -> Outcome | None:
    if context.commanded is None:
        return None
    limit = context.practice.si("settling_time")
    wait = say(limit, Kind.TIME, context.units)
    timed = [
        current
        for current in context.readings.all()
        if current.minutes is not None and has_to_settle(current.reading, context.run, context.practice)
    ]
    minutes = min((current.minutes or 0.0 for current in timed), default=context.run.minutes_running)
    if minutes is None and context.run.started_at is not None:
        return Outcome(
            "needs_readings", f"Nothing that has to settle was read yet; {wait} after the start it counts."
        )
    if minutes is None:
        return Outcome(
            "watch",
            f"How long the unit has run in this mode is not noted; readings count after {wait}.",
        )
    measured, margin = minutes * 60, minutes * 60 - limit
    if margin >= 0:
        return Outcome("pass", f"Read {minutes:.0f} min into the run; {wait} are enough.", measured, margin)
    early = [current.reading.station for current in timed if current.early]
    if not early:
        return Outcome(
            "watch", f"Running for {minutes:.0f} min; wait until {wait} have passed.", measured, margin
        )
    again = names(context.unit, early, 4)
    return Outcome(
        "watch",
        f"Read {minutes:.0f} min into the run, which needs {wait} to settle. Read again: {again}.",
        measured,
        margin,
    )


def _worked_out(context: RunContext) -> Outcome | None:
    if not context.mishaps:
        return None
    what = "; ".join(f"{name} ({why})" for name, why in context.mishaps.items())
    return Outcome("watch", f"Icepick could not work out: {what}. What else is said here stands.")


SETTLED = CheckRule("run.settled", "run settled", Kind.TIME, "settling_time", _settled, of_readings=True)

WORKED_OUT = CheckRule(
    "run.worked_out",
    "everything worked out",
    Kind.RATIO,
    None,
    _worked_out,
    standing="our own choice: what one rule can't work out must not hide what the others can",
    in_defrost=True,
    of_readings=True,
)
"""Asked last of all, once the rest has had its chance to fail; absent where nothing did."""

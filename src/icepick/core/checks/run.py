"""Checks of the run itself: had it settled when it was read?"""

from __future__ import annotations

from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.context import RunContext
from icepick.core.quantities import Kind
from icepick.core.wording import say, titles


def _settled(context: RunContext) -> Outcome | None:
    if context.run.mode == "off":
        return None
    limit = context.practice.si("settling_time")
    wait = say(limit, Kind.TIME, context.units)
    timed = [current for current in context.readings.all() if current.minutes is not None]
    minutes = min((current.minutes or 0.0 for current in timed), default=context.run.minutes_running)
    if minutes is None:
        return Outcome(
            "watch",
            f"How long the unit has run in this mode is not noted; readings count after {wait}.",
        )
    measured, margin = minutes * 60, minutes * 60 - limit
    if margin >= 0:
        return Outcome("pass", f"Read {minutes:.0f} min into the run; {wait} are enough.", measured, margin)
    early = [current.reading.station for current in timed if current.early]
    which = f" Read again: {titles(early)}." if early else ""
    return Outcome(
        "fail", f"Read {minutes:.0f} min into the run; it needs {wait} to settle.{which}", measured, margin
    )


SETTLED = CheckRule("run.settled", "run settled", Kind.TIME, "settling_time", _settled)

"""The practice limits that the visit was held to, and which of them the shop changed."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.platypus import Flowable

from icepick.core.practice import LIMITS, Limit
from icepick.report.figures import plain
from icepick.report.matter import Matter
from icepick.report.paper import section, table


def limits_part(matter: Matter, width: float) -> Iterator[Flowable]:
    """Every limit that a check of this visit was held to."""
    runs, recordings = matter.examination.runs, matter.examination.recordings
    checks = [check for one in runs for check in one.checks]
    checks += [check for one in recordings for check in one.checks]
    used = {check.practice for check in checks if check.measured is not None}
    used |= set(matter.practice.changes) & {check.practice for check in checks}
    rows = []
    for limit in LIMITS:
        if limit.name in used:
            value, unit = _shown(matter, limit, matter.practice.value(limit.name))
            default, _ = _shown(matter, limit, limit.default)
            changed = f"changed by the shop from {default}" if value != default else limit.standing
            rows.append([limit.title, f"{value} {unit}".rstrip(), changed])
    if rows:
        yield from section("Limits used")
        yield table(["Limit", " Value", "Where it comes from"], rows, [3.4, 1.6, 5], width)


def _shown(matter: Matter, limit: Limit, value: float) -> tuple[str, str]:
    number, unit = limit.shown(value, matter.units)
    return plain(number), unit

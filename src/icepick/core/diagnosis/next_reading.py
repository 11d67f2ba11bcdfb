"""What to measure next: for now, what the checks of each run still lack, in walking order."""

from __future__ import annotations

from icepick.core.examination import NextReading, RunExamination
from icepick.core.stations import Group, station, walking_order
from icepick.core.wording import listing


def next_readings(runs: list[RunExamination]) -> list[NextReading]:
    """Stations that unfinished checks wait for, run by run, each with the checks it would settle."""
    found: list[NextReading] = []
    for run in runs:
        waiting: dict[str, list[str]] = {}
        for check in run.checks:
            for code in check.needs:
                waiting.setdefault(code, []).append(check.title)
        found += [
            NextReading(
                station=code,
                quantity="pressure" if station(code).group is Group.TAP else "temperature",
                mode=run.commanded_mode,
                run=run.id,
                why=f"Settles {listing(waiting[code])}.",
                separates=[],
            )
            for code in sorted(waiting, key=walking_order)
        ]
    return found

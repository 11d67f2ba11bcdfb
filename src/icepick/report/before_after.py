"""Readings before and after the repair, side by side: of runs in one mode, the last before it and the last after it."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.platypus import Flowable

from icepick.core.document.examination import Indicator, ReadingInForce, RunExamination
from icepick.core.document.words import MODES, QUANTITIES
from icepick.core.indicators import INDICATORS
from icepick.core.properties.quantities import symbol
from icepick.report.figures import figure, measure
from icepick.report.matter import Matter
from icepick.report.paper import section, table

_Pair = tuple[int, int]


def before_and_after(matter: Matter, width: float) -> Iterator[Flowable]:
    """A table for each mode that was run both before and after the repair."""
    for before, after in _pairs(matter):
        one, other = (matter.examination.runs[place] for place in (before, after))
        rows = [*_figures(one, other), *_readings(matter, one, other)]
        if rows:
            on = f", circuit {one.circuit}" if one.circuit else ""
            yield from section(f"Before and after the repair: {MODES[one.commanded_mode]}{on}")
            yield table(
                ["", f" Run {before + 1}, before", f" Run {after + 1}, after", " Change"],
                rows,
                [4, 2, 2, 2],
                width,
            )


def _pairs(matter: Matter) -> Iterator[_Pair]:
    of_mode: dict[tuple[str, str | None], dict[bool, int]] = {}
    for place, run in enumerate(matter.visit.runs):
        if run.readings:
            of_mode.setdefault((run.mode, run.circuit), {})[run.after_repair] = place
    for found in of_mode.values():
        if len(found) == 2:
            yield found[False], found[True]


def _figures(one: RunExamination, other: RunExamination) -> Iterator[list[str]]:
    for rule in INDICATORS:
        was, now = one.indicators.get(rule.name), other.indicators.get(rule.name)
        if was is not None and now is not None and was.unit == now.unit:
            unit = symbol(now.unit, rule.kind)
            yield [rule.title, *(f"{_two(each)} {unit}".rstrip() for each in (was, now)), _change(was, now)]


def _readings(matter: Matter, one: RunExamination, other: RunExamination) -> Iterator[list[str]]:
    then = {(reading.station, reading.quantity): reading for reading in one.readings}
    for now in other.readings:
        was = then.get((now.station, now.quantity))
        if was is None or was.unit != now.unit:
            continue
        name = matter.examination.station_names.get(now.station, now.station)
        if now.quantity != "temperature":
            name += f", {QUANTITIES[now.quantity]}"
        yield [name, measure(was.value, was.unit), measure(now.value, now.unit), _change(was, now)]


def _two(one: Indicator) -> str:
    return f"{one.value:.2f}".replace("-", "−") if one.unit == "1" else figure(one.value)


def _change(was: Indicator | ReadingInForce, now: Indicator | ReadingInForce) -> str:
    by = now.value - was.value
    text = f"{by:+.2f}" if now.unit == "1" else f"{by:+,.1f}"
    return "0" if not text.strip("+-0.") else text.replace("-", "−")

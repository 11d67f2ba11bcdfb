"""One run in the report: its pictures, checks, readings, doubts, observations and notes."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.platypus import Flowable, KeepTogether

from icepick.core.checks import CHECKS
from icepick.core.document.examination import Check, ReadingInForce, RunExamination
from icepick.core.document.visit import Run
from icepick.core.document.wording import listing, noted
from icepick.core.document.words import (
    APPARENT_MODES,
    METHODS,
    MODES,
    QUANTITIES,
    STAGES,
    STATUSES,
)
from icepick.core.indicators import INDICATORS
from icepick.core.properties.quantities import SYMBOLS, symbol
from icepick.report.circuit_picture import CircuitPicture
from icepick.report.figures import banded, figure, mark, plain
from icepick.report.matter import Matter
from icepick.report.paper import QUIETLY, SMALL, named, said, section, table
from icepick.report.staircase_picture import StaircasePicture

_OF_INDICATOR = {one.name: one for one in INDICATORS}
_OF_CHECK = {one.code: one for one in CHECKS}


def numbers_of(run: RunExamination) -> dict[str, int]:
    """A number for each station of a run: along the path in flow order, then in walking order."""
    codes = [stop.station for stop in run.path]
    read = {reading.station for reading in run.readings}
    codes += [code for code in run.stations if code not in codes and code in read]
    codes += sorted(read - set(codes))
    return {code: place for place, code in enumerate(codes, start=1)}


def run_part(matter: Matter, place: int, width: float) -> Iterator[Flowable]:
    """What there is to say of a run."""
    run, written = matter.examination.runs[place], matter.visit.runs[place]
    numbers = numbers_of(run)
    on = f" on circuit {run.circuit}" if run.circuit else ""
    heading = f"Run {place + 1}{on}: calling for {MODES[run.commanded_mode]}"
    if written.after_repair:
        heading += ", after the repair"
    pictured = run.path and any(one.quantity == "temperature" for one in run.readings)
    yield from section(
        heading,
        *(said(line) for line in _how_it_ran(matter, run, written)),
        *([CircuitPicture(run, numbers, width)] if pictured else []),
    )
    if pictured:
        picture = StaircasePicture(run, numbers, width)
        yield KeepTogether([picture, said(_about_the_band(run), QUIETLY)])
    if run.doubts:
        yield from section(
            "Doubted",
            *(said(f"{_names(matter, doubt.stations)}: {doubt.explain}", SMALL) for doubt in run.doubts),
        )
    yield from checks_of(run.checks, width)
    if run.readings:
        yield from section("Readings", said("No. is the station's number in the pictures.", QUIETLY))
        yield _readings(matter, run, numbers, width)
    else:
        yield said("No readings were taken in this run.")
    if figures := _figures(run):
        yield named("Worked out:", figures, SMALL)
    if written.observations:
        seen = "; ".join(noted(one) for one in written.observations)
        yield named("Seen and heard:", f"{seen}.", SMALL)
    if written.notes and written.notes.strip():
        yield named("Notes:", written.notes.strip(), SMALL)


def _how_it_ran(matter: Matter, run: RunExamination, written: Run) -> Iterator[str]:
    words = [] if run.commanded_mode == "off" else [f"Running in {APPARENT_MODES[run.apparent_mode]}."]
    if written.started_at is not None:
        words.append(f"Began at {matter.at(written.started_at)}.")
    elif written.minutes_running is not None:
        words.append(f"Had run for {plain(written.minutes_running)} min.")
    if written.compressor_stage is not None:
        words.append(f"Compressor stage: {STAGES[written.compressor_stage]}.")
    if written.compressor_speed is not None:
        words.append(f"Compressor at {plain(written.compressor_speed)} % of its rated speed.")
    if run.heads:
        words.append(f"{_heads(run)}.")
    if run.meters is not None:
        bypassed = f", {run.meters.bypassed} bypassed" if run.meters.bypassed else ""
        words.append(f"Metering device at work: {run.meters.active}{bypassed}.")
    if words:
        yield " ".join(words)


def _heads(run: RunExamination) -> str:
    """Which heads call; the run is examined along one of them."""
    calling = [f"{head.number} ({head.label})" for head in run.heads if head.calls]
    if all(head.calls is None for head in run.heads):
        return "Nobody noted which heads called"
    along = next((f"; examined along head {head.number}" for head in run.heads if head.along), "")
    return f"{'Heads' if len(calling) > 1 else 'Head'} calling: {listing(calling) or 'none'}{along}"


def _about_the_band(run: RunExamination) -> str:
    if not run.expected:
        return (
            f"No band: {run.expected_basis}"
            if run.expected_basis
            else "No band is known for these conditions."
        )
    return f"Gray: what this unit, sound, should show here; full dots lie outside it. {run.expected_basis}"


def _names(matter: Matter, codes: list[str]) -> str:
    return ", ".join(matter.examination.station_names.get(code, code) for code in codes)


def checks_of(checks: list[Check], width: float) -> Iterator[Flowable]:
    """Checks with what they measured: those that fail first, those that pass or lack a reading in a line each."""
    rows: list[list[str | Flowable]] = [
        [mark(status), STATUSES[status], check.title, _measured(check), _limit(check), check.explain]
        for status in ("fail", "watch")
        for check in checks
        if check.status == status
    ]
    if rows:
        yield from section("Checks")
        yield table(
            ["", "", "Check", " Measured", " Limit", "Why"], rows, [0.3, 0.9, 2.7, 1.7, 1.1, 5.3], width
        )
    passed = [f"{check.title} {_held(check)}".rstrip() for check in checks if check.status == "pass"]
    if passed:
        yield named("Passed:", f"{'; '.join(passed)}.", SMALL)
    if missing := [check.title for check in checks if check.status == "needs_readings"]:
        yield named("Not read:", f"{'; '.join(missing)}.", SMALL)


def _held(check: Check) -> str:
    """What was measured, and the limit in brackets."""
    limit = _limit(check)
    return f"{_measured(check)} (limit {limit})" if check.measured and limit else _measured(check)


def _measured(check: Check) -> str:
    if check.measured is None:
        return ""
    one = check.measured
    return banded(one.value, one.uncertainty, _sign(check, one.unit))


def _limit(check: Check) -> str:
    return f"{plain(check.limit.value)} {_sign(check, check.limit.unit)}".rstrip() if check.limit else ""


def _sign(check: Check, unit: str) -> str:
    rule = _OF_CHECK.get(check.code)
    return symbol(unit, rule.kind) if rule else SYMBOLS[unit]


def _readings(matter: Matter, run: RunExamination, numbers: dict[str, int], width: float) -> Flowable:
    doubted = {code for doubt in run.doubts for code in doubt.stations}
    rows = []
    for one in sorted(run.readings, key=lambda reading: (numbers[reading.station], reading.quantity)):
        name = matter.examination.station_names.get(one.station, one.station)
        if one.quantity != "temperature":
            name += f", {QUANTITIES[one.quantity]}"
        rows.append(
            [
                str(numbers[one.station]),
                name,
                banded(one.value, one.uncertainty, SYMBOLS[one.unit]),
                _should(run, one),
                METHODS[one.method] if one.method else "",
                _when(matter, one),
                _remark(run, one, doubted),
            ]
        )
    return table(
        [" No.", "Station", " Read", " Should show", "How", "When", ""],
        rows,
        [0.6, 3.2, 2.2, 2.2, 1.5, 1.0, 2.1],
        width,
    )


def _should(run: RunExamination, one: ReadingInForce) -> str:
    band = run.expected.get(one.station)
    if band is None or band.quantity != one.quantity or band.unit != one.unit:
        return ""
    return f"{figure(band.low)} to {figure(band.high)}"


def _when(matter: Matter, one: ReadingInForce) -> str:
    return matter.clock(one.at) if one.at is not None else ""


def _remark(run: RunExamination, one: ReadingInForce, doubted: set[str]) -> str:
    band = run.expected.get(one.station)
    words = [
        "early" if one.early else "",
        "doubted" if one.station in doubted else "",
        f"{band.departs} the band" if band and band.departs and band.quantity == one.quantity else "",
        f"{one.earlier} read before" if one.earlier else "",
    ]
    return ", ".join(word for word in words if word)


def _figures(run: RunExamination) -> str:
    said_of = []
    for name, one in run.indicators.items():
        known = _OF_INDICATOR.get(name)
        title = known.title if known is not None else name.replace("_", " ")
        unit = symbol(one.unit, known.kind) if known is not None else SYMBOLS[one.unit]
        said_of.append(f"{title} {banded(one.value, one.uncertainty, unit)}")
    return "; ".join(said_of)

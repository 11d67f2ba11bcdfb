"""The tables: their columns, what each means, and the rows that an examination gives."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Literal

from icepick.core.document.examination import Check, Examination, Indicator
from icepick.core.document.record import UnitRecord, VisitRecord
from icepick.core.history import History

Kind = Literal["text", "number", "count", "flag", "moment"]
Row = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Column:
    name: str
    kind: Kind
    says: str


@dataclass(frozen=True, slots=True)
class FleetTable:
    name: str
    says: str
    columns: tuple[Column, ...]


_VISIT = Column("visit", "text", "The visit, by the name all books know it by.")
_UNIT = Column("unit", "text", "The unit, by the name all books know it by.")
_OPENED = Column("opened_at", "moment", "When the visit was opened (UTC).")
_RUN = Column("run", "text", "The run of the visit.")
_MODE = Column("mode", "text", "The commanded mode.")

TABLES = (
    FleetTable(
        "visits",
        "A line for each visit: what was said of it.",
        (
            _VISIT,
            _UNIT,
            Column("site", "text", "The site's name."),
            Column("label", "text", "The unit's label."),
            Column("refrigerant", "text", "The unit's refrigerant."),
            Column("layout", "text", "The unit's layout."),
            _OPENED,
            Column("complaint", "text", "What the customer saw; null where nothing was noted."),
            Column("headline", "text", "The verdict in a few words."),
            Column("verdict", "text", "The verdict."),
            Column("outcome", "text", "The worst status behind the verdict."),
            Column("fault", "text", "The fault that leads the ranking; null where nothing is ranked."),
            Column("probability", "number", "How likely it is."),
            Column("runs", "count", "How many runs it has."),
            Column("was", "text", "What it was in the end; null where nobody said."),
            Column("certainty", "text", "How that is known."),
            Column("repair", "text", "What the repair did."),
        ),
    ),
    FleetTable(
        "indicators",
        "What was worked out of each run, beside what the unit, sound, would show.",
        (
            _VISIT,
            _UNIT,
            _OPENED,
            _RUN,
            _MODE,
            Column("indicator", "text", "The indicator."),
            Column("value", "number", "Its value."),
            Column("uncertainty", "number", "The half-width of its band."),
            Column("measured_in", "text", "The unit of value, uncertainty and band."),
            Column("expected", "number", "What the sound machine would show; null where that is not known."),
            Column("expected_low", "number", "The lower end of what is still sound."),
            Column("expected_high", "number", "The upper end of what is still sound."),
        ),
    ),
    FleetTable(
        "checks",
        "The outcome of each check of each run or recording.",
        (
            _VISIT,
            _UNIT,
            _OPENED,
            Column("of", "text", "The run or recording."),
            Column("check", "text", "The check."),
            Column("status", "text", "pass, watch, fail or needs_readings."),
            Column("measured", "number", "What was measured; null where nothing was."),
            Column("uncertainty", "number", "The half-width of its band."),
            Column("measured_in", "text", "The unit of measured, uncertainty and margin."),
            Column("limit", "number", "The limit it was held to."),
            Column("margin", "number", "How far inside the limit it lies; negative: outside."),
            Column("practice", "text", "The practice limit used."),
        ),
    ),
    FleetTable(
        "ranking",
        "The faults of each visit, the likeliest first.",
        (
            _VISIT,
            _UNIT,
            _OPENED,
            Column("place", "count", "From 1."),
            Column("fault", "text", "The fault."),
            Column("circuit", "text", "The circuit it is in, where the unit has several."),
            Column("mode", "text", "The mode its part works in, where it is one alone."),
            Column("probability", "number", "How likely it is."),
            Column("severity", "number", "How bad it is; null where that has no meaning."),
            Column("severity_low", "number", "Four times in five it is worse than this."),
            Column("severity_high", "number", "And better than this."),
            Column("severity_in", "text", "Its unit."),
            Column("settled", "flag", "Whether every rule-out is done."),
        ),
    ),
    FleetTable(
        "drift",
        "Each indicator of a run beside the earlier run of the same unit and mode at the nearest conditions.",
        (
            _UNIT,
            _VISIT,
            _OPENED,
            _RUN,
            _MODE,
            Column("before_at", "moment", "When the visit of the earlier run was opened (UTC)."),
            Column("near", "flag", "Whether the conditions lie near enough to compare."),
            Column("indicator", "text", "The indicator."),
            Column("now", "number", "Its value now."),
            Column("before", "number", "Its value then."),
            Column("change", "number", "The change."),
            Column("uncertainty", "number", "The half-width of the change's band."),
            Column("measured_in", "text", "The unit of all four."),
            Column("clear", "flag", "Whether the change exceeds the bands of both."),
        ),
    ),
    FleetTable(
        "baseline",
        "What each visit's earlier visits had taught of the unit by then.",
        (
            _UNIT,
            _VISIT,
            _OPENED,
            Column("figure", "text", "What was learned."),
            Column("value", "number", "Its value, against what the nameplate has one expect."),
            Column("uncertainty", "number", "The half-width of its band."),
            Column("measured_in", "text", "The unit of both."),
            Column("from_visits", "count", "From how many visits it was learned."),
        ),
    ),
)


def rows_of(
    visit: VisitRecord, unit: UnitRecord, examination: Examination, before: History | None
) -> Iterator[tuple[str, Row]]:
    """The rows of a visit, each with its table."""
    head = {"visit": visit.id, "unit": visit.unit, "opened_at": _moment(visit.opened_at)}
    yield "visits", {**head, **_visit_row(visit, unit, examination)}
    for run in examination.runs:
        of = {**head, "run": run.id, "mode": run.commanded_mode}
        for name, one in run.indicators.items():
            expected = run.expected_indicators.get(name)
            alike = expected is not None and expected.unit == one.unit
            yield (
                "indicators",
                {
                    **of,
                    "indicator": name,
                    **_figure(one),
                    "expected": expected.value if expected and alike else None,
                    "expected_low": expected.low if expected and alike else None,
                    "expected_high": expected.high if expected and alike else None,
                },
            )
        yield from _checks({**head, "of": run.id}, run.checks)
    for recording in examination.recordings:
        yield from _checks({**head, "of": recording.id}, recording.checks)
    yield from _ranking(head, examination)
    if before is not None:
        yield from _drift(head, before)
    if examination.baseline is not None:
        used = sum(one.used for one in examination.baseline.visits)
        for learned in examination.baseline.learned:
            yield "baseline", {**head, "figure": learned.name, **_figure(learned), "from_visits": used}


def _visit_row(visit: VisitRecord, unit: UnitRecord, examination: Examination) -> Row:
    described = unit.descriptions[visit.description].unit
    first = examination.ranking[0] if examination.ranking else None
    told = visit.outcomes[-1].outcome if visit.outcomes else {}
    return {
        "site": str(unit.site.get("name") or ""),
        **{name: _text(described.get(name)) for name in ("label", "refrigerant", "layout")},
        "complaint": visit.complaint,
        "headline": examination.headline,
        "verdict": examination.verdict,
        "outcome": examination.outcome,
        "fault": first.fault if first else None,
        "probability": first.probability if first else None,
        "runs": len(examination.runs),
        "was": _text(told.get("fault")),
        "certainty": _text(told.get("certainty")),
        "repair": _text(told.get("repair")),
    }


def _checks(head: Row, checks: Sequence[Check]) -> Iterator[tuple[str, Row]]:
    for check in checks:
        measured = check.measured
        yield (
            "checks",
            {
                **head,
                "check": check.code,
                "status": check.status,
                "measured": measured.value if measured else None,
                "uncertainty": measured.uncertainty if measured else None,
                "measured_in": measured.unit if measured else check.limit.unit if check.limit else None,
                "limit": check.limit.value if check.limit else None,
                "margin": check.margin,
                "practice": check.practice,
            },
        )


def _ranking(head: Row, examination: Examination) -> Iterator[tuple[str, Row]]:
    for place, one in enumerate(examination.ranking, start=1):
        bad = one.severity
        yield (
            "ranking",
            {
                **head,
                "place": place,
                "fault": one.fault,
                "circuit": one.circuit,
                "mode": one.mode,
                "probability": one.probability,
                "severity": bad.value if bad else None,
                "severity_low": bad.low if bad else None,
                "severity_high": bad.high if bad else None,
                "severity_in": bad.unit if bad else None,
                "settled": one.settled,
            },
        )


def _drift(head: Row, before: History) -> Iterator[tuple[str, Row]]:
    for compared in before.comparisons:
        of = {
            **head,
            "run": compared.run,
            "mode": compared.before.mode,
            "before_at": compared.before.opened_at.astimezone(UTC),
            "near": compared.near,
        }
        for one in compared.changes:
            said = one.model_dump(include={"indicator", "now", "before", "change", "uncertainty", "clear"})
            yield "drift", {**of, **said, "measured_in": one.unit}


def _figure(one: Indicator | Any) -> Row:
    return {"value": one.value, "uncertainty": one.uncertainty, "measured_in": one.unit}


def _text(value: object) -> str | None:
    return None if value is None else str(value)


def _moment(text: str) -> datetime:
    return datetime.fromisoformat(text).astimezone(UTC)

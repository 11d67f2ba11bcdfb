"""What the next technician reads first: the unit, who and when, the verdict, what was ruled out and what was done."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from reportlab.platypus import Flowable

from icepick.core.document.examination import RankedFault
from icepick.core.document.visit import Unit
from icepick.core.document.wording import listing
from icepick.core.document.words import (
    CERTAINTIES,
    COMPLAINTS,
    COMPRESSORS,
    DEFROSTS,
    LAYOUTS,
    METERS,
    QUANTITIES,
    REPAIRS,
    SIGHTS,
)
from icepick.core.properties.quantities import SYMBOLS
from icepick.report.figures import plain
from icepick.report.matter import Matter
from icepick.report.paper import SAID, SMALL, TEXT, TITLE, named, said, section, table

_LEAST = 0.05
"""A fault less probable than this is not printed."""
_MOST = 5
_STRONGEST = 4
"""So many of the reasons for a fault, and against it."""
_NEXT = 3
_DONE = {"done": "ruled out", "open": "still open", "contradicted": "contradicted"}


def visit_part(matter: Matter, width: float) -> Iterator[Flowable]:
    """The report's second page and what runs over from it."""
    yield said("Service report", TITLE)
    yield table(["", ""], list(_facts(matter)), [1.5, 6], width)
    found = "Verdict, as found" if matter.examination.after_repair else "Verdict"
    yield from section(found, said(matter.examination.verdict, SAID))
    yield from _repair(matter)
    yield from _ranking(matter, width)
    yield from _next(matter)


def _facts(matter: Matter) -> Iterator[list[str]]:
    visit, unit = matter.visit, matter.visit.unit
    yield ["Site", visit.site.name]
    if visit.site.notes:
        yield ["About the site", visit.site.notes]
    if visit.site.elevation is not None:
        yield ["Elevation", f"{plain(visit.site.elevation.value)} {SYMBOLS[visit.site.elevation.unit]}"]
    yield ["Unit", unit.label]
    if unit.model or unit.serial:
        yield ["Model and serial", " · ".join(part for part in (unit.model, unit.serial) if part)]
    yield ["Built as", "; ".join(_built(unit))]
    yield ["Complaint", COMPLAINTS[visit.complaint] if visit.complaint else "none noted"]
    zone = f"{matter.opened_at.astimezone(matter.zone):%Z}"
    yield ["Visit", f"{matter.number}, opened {matter.at(matter.opened_at)} ({zone})"]
    if matter.reopened:
        yield ["Opened again", "; ".join(matter.at(one) for one in matter.reopened)]
    yield ["Closed", matter.at(matter.closed_at) if matter.closed_at else "not yet"]
    people = [
        f"{name} ({count:,} {'entry' if count == 1 else 'entries'})" for name, count in matter.people.items()
    ]
    yield ["Entered by", "; ".join(people) or "nobody had signed in"]
    if matter.shop.name or matter.shop.license:
        yield ["Shop", " · ".join(part for part in (matter.shop.name, matter.shop.license) if part)]


def _built(unit: Unit) -> Iterator[str]:
    yield f"{unit.refrigerant}, {LAYOUTS[unit.layout]}, {unit.source} outdoors and {unit.load} indoors"
    if unit.nominal_capacity is not None:
        yield f"{unit.nominal_capacity.value:,g} {SYMBOLS[unit.nominal_capacity.unit]}"
    meters = {"indoor": unit.indoor_meter, "outdoor": unit.outdoor_meter}
    yield ", ".join(f"{side} {METERS[one.kind]}" for side, one in meters.items() if one.kind != "none")
    yield f"compressor {COMPRESSORS[unit.compressor.kind]}"
    if unit.circuits:
        yield f"circuits {listing([one.id for one in unit.circuits])}"
    yield f"reversing valve energized in {unit.reversing_valve.energized_in}"
    if unit.defrost is not None:
        yield f"defrost {DEFROSTS[unit.defrost.method]}"


def _repair(matter: Matter) -> Iterator[Flowable]:
    told, after = matter.told, matter.examination.after_repair
    if told is None and after is None:
        return
    lines = []
    if told is not None:
        outcome = told.outcome
        was = told.title or "not known"
        how = f"; {CERTAINTIES[outcome.certainty]}" if outcome.certainty else ""
        lines.append(named("What it was:", f"{was}{how}."))
        lines.append(named("The repair:", f"{REPAIRS[outcome.repair]}."))
        if outcome.work:
            lines.append(named("Work done:", outcome.work))
        by = f" by {told.by}" if told.by else ""
        lines.append(said(f"Told {matter.at(told.at)}{by}.", SMALL))
    if after is not None:
        lines.append(named("After the repair:", after.verdict))
    yield from section("Repair and work done", *lines)


def _ranking(matter: Matter, width: float) -> Iterator[Flowable]:
    ranked = [one for one in matter.examination.ranking if one.probability >= _LEAST][:_MOST]
    if not ranked:
        return
    yield from section("What it may be, and what was ruled out")
    rows = [
        [f"{min(round(one.probability * 100), 99)} %", one.title, _reasons(one), _ruled(one)]
        for one in ranked
    ]
    yield table(
        [" ", "Fault", "For and against", "Before anything is replaced"], rows, [0.7, 2.1, 4.6, 3.6], width
    )


def _reasons(one: RankedFault) -> list[Flowable]:
    parts = [("For:", _strongest(one.speaks_for)), ("Against:", _strongest(one.against))]
    parts.append(("How bad:", f"{one.severity.words}." if one.severity else ""))
    parts.append(("", one.apart))
    return [named(name, words, SMALL) for name, words in parts if words]


def _strongest(reasons: Sequence[str]) -> str:
    more = f"; and {len(reasons) - _STRONGEST} more" if len(reasons) > _STRONGEST else ""
    return f"{'; '.join(reasons[:_STRONGEST])}{more}." if reasons else ""


def _ruled(one: RankedFault) -> list[Flowable]:
    return [named(f"{_DONE[out.status].capitalize()}:", f"{out.text}.", SMALL) for out in one.rule_out]


def _next(matter: Matter) -> Iterator[Flowable]:
    lines = []
    for one in matter.examination.next_readings[:_NEXT]:
        if one.stop:
            break
        if one.observe is not None:
            what = f"Look: {SIGHTS[one.observe]}?"
        else:
            place = matter.examination.station_names.get(one.station, one.station)
            what = place if one.quantity == "temperature" else f"{place}, {QUANTITIES[one.quantity]}"
        on = f", circuit {one.circuit}" if one.circuit else ""
        lines.append(named(f"{what} (in {one.mode}{on}).", one.why, SMALL))
    if lines:
        yield from section("What would decide next", *lines)
    for words in matter.set_aside:
        yield said(f"Set aside: {words}", SMALL)
    if matter.taken_back:
        yield from section("Taken back", *(said(one, SMALL) for one in matter.taken_back))


def cautions() -> Iterator[Flowable]:
    """What stands at the end of every report."""
    yield from section(
        "Cautions",
        said(
            "Work on the refrigerant circuit and on wiring is for qualified, licensed people; local codes and the "
            "manufacturer's instructions win. Lock out and verify zero voltage before touching wiring. Refrigerant is "
            "recovered, never vented.",
            TEXT,
        ),
    )

"""One recording in the report: its defrosts, checks, doubts and marks."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.platypus import Flowable

from icepick.core.defrost.telling import clock
from icepick.core.document.words import MARKS, MODES
from icepick.report.matter import Matter
from icepick.report.paper import SMALL, named, said, section
from icepick.report.run_part import checks_of


def recording_part(matter: Matter, place: int, width: float) -> Iterator[Flowable]:
    """What there is to say of a recording."""
    one, seen = matter.visit.recordings[place], matter.examination.recordings[place]
    count = len(seen.defrosts)
    yield from section(
        f"Recording {place + 1}: {count} {'defrost' if count == 1 else 'defrosts'}",
        said(f"Calling for {MODES[one.mode]} when it began, {matter.at(one.started_at)}."),
    )
    for defrost in seen.defrosts:
        yield said(f"{defrost.words}.", SMALL)
    for doubt in seen.doubts:
        yield named("Doubted:", doubt.explain, SMALL)
    yield from checks_of(seen.checks, width)
    if one.marks:
        marks = [
            f"{clock(mark.seconds)} {'not so: ' if mark.value is False else ''}{MARKS[mark.code]}"
            for mark in one.marks
        ]
        yield named("Marks:", f"{'; '.join(marks)}.", SMALL)
    if one.notes and one.notes.strip():
        yield named("Notes:", one.notes.strip(), SMALL)

"""Visits in a line each: those that were asked for, and those that read otherwise under a changed limit."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from icepick.core.document.base import Document
from icepick.core.document.codes import Complaint, Mode
from icepick.core.document.examination import Status
from icepick.core.document.words import WORDS
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.store import visits as store
from icepick.store.closing import open_visits
from icepick.store.practice import practice
from icepick.web.connection import connection
from icepick.web.contract import LARGEST_ID
from icepick.web.examined import Followed, each_followed, headline

A_PAGE = 25
"""Visits on a page of the list."""


class VisitsAsked(Document):
    """Which visits are wanted: all of ``words`` stand in site, unit, complaint or headline; ``since`` is a day; pages count
    from 1."""

    words: Annotated[str, StringConstraints(max_length=200)] | None = None
    outcome: Status | None = None
    unit: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None
    mode: Mode | None = None
    since: date | None = None
    page: Annotated[int, Field(ge=1, le=1_000_000)] = 1


class VisitLine(BaseModel):
    """A visit in one line of the list of calls."""

    id: int
    opened_at: AwareDatetime
    open: bool
    unit_id: int
    site: str
    unit: str
    complaint: Complaint | None
    modes: list[Mode]
    headline: str
    outcome: Status


class VisitList(BaseModel):
    """A page of the visits asked for; ``found`` counts all of them."""

    visits: list[VisitLine]
    found: int
    page: int
    pages: int


def visit_list(asked: VisitsAsked, units: UnitSystem) -> VisitList:
    """A page of the visits asked for, newest first. A visit is examined only where its headline is shown or searched."""
    limits, still_open = practice(connection()), open_visits(connection())
    one_unit = asked.unit is not None
    every = (
        store.visits_of_unit(connection(), asked.unit or 0) if one_unit else store.all_visits(connection())
    )
    found = [one for one in each_followed(every) if _fits(one.visit, asked)]
    if asked.words or asked.outcome:
        found = [one for one in found if _says(one, asked, limits, units)]
    first = (asked.page - 1) * A_PAGE
    return VisitList(
        visits=[_line(one, limits, units, still_open) for one in found[first : first + A_PAGE]],
        found=len(found),
        page=asked.page,
        pages=max(-(-len(found) // A_PAGE), 1),
    )


def _fits(visit: store.StoredVisit, asked: VisitsAsked) -> bool:
    if asked.mode is not None and asked.mode not in {run.mode for run in visit.document.runs}:
        return False
    return asked.since is None or datetime.fromisoformat(visit.opened_at).astimezone().date() >= asked.since


def _says(one: Followed, asked: VisitsAsked, limits: Practice, units: UnitSystem) -> bool:
    """Whether a visit has the words and the outcome; its headline is worked out only where that decides."""
    document = one.visit.document
    complaint = WORDS["complaint"].get(document.complaint or "", "")
    known = f"{document.site.name} {document.unit.label} {complaint}".casefold()
    rest = [word for word in (asked.words or "").casefold().split() if word not in known]
    if not rest and asked.outcome is None:
        return True
    said, outcome = headline(one, limits, units)
    return asked.outcome in (None, outcome) and all(word in said.casefold() for word in rest)


def _line(one: Followed, limits: Practice, units: UnitSystem, still_open: set[int]) -> VisitLine:
    found = one.visit
    said, outcome = headline(one, limits, units)
    return VisitLine.model_validate(
        {
            "id": found.id,
            "opened_at": found.opened_at,
            "open": found.id in still_open,
            "unit_id": found.unit_id,
            "site": found.document.site.name,
            "unit": found.document.unit.label,
            "complaint": found.document.complaint,
            "modes": [run.mode for run in found.document.runs],
            "headline": said,
            "outcome": outcome,
        }
    )


MOST_LOOKED_THROUGH = 200
"""Visits looked through for what a changed limit does."""


class ReadOtherwise(BaseModel):
    """A visit that another value of a limit gives another headline; ``before`` is what it was."""

    visit: VisitLine
    before: str


class LimitEffects(BaseModel):
    """What a changed limit does to the visits, ``looked_through`` of the newest."""

    visits: list[ReadOtherwise]
    looked_through: int


def limit_effects(name: str, former: float, units: UnitSystem) -> LimitEffects:
    """The visits that read otherwise now than with the former value of a limit, in the limit's own unit."""
    now = practice(connection())
    before = Practice({**now.changes, name: former})
    still_open = open_visits(connection())
    newest = each_followed(store.all_visits(connection()))[:MOST_LOOKED_THROUGH]
    return LimitEffects(
        visits=[
            ReadOtherwise(visit=_line(one, now, units, still_open), before=headline(one, before, units)[0])
            for one in newest
            if headline(one, before, units) != headline(one, now, units)
        ],
        looked_through=len(newest),
    )

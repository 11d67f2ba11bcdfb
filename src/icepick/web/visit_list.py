"""Visits in a line each: those that were asked for, and those that read otherwise since the limits were changed."""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Sequence
from datetime import UTC, date, datetime, time
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, StringConstraints, ValidationError

from icepick.core.document.base import Document
from icepick.core.document.codes import Complaint, Mode
from icepick.core.document.examination import Status
from icepick.store import summaries
from icepick.store.closing import open_visits
from icepick.store.practice import practice
from icepick.web.connection import connection
from icepick.web.contract import LARGEST_ID
from icepick.web.summarizing import basis, summarizer

_log = logging.getLogger(__name__)

A_PAGE = 25
"""Visits on a page of the list."""


class VisitsAsked(Document):
    """Which visits are wanted: each of ``words`` begins one in site, unit, complaint, notes or verdict; ``since`` is a day;
    pages count from 1."""

    words: Annotated[str, StringConstraints(max_length=200)] | None = None
    outcome: Status | None = None
    unit: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None
    mode: Mode | None = None
    since: date | None = None
    page: Annotated[int, Field(ge=1, le=1_000_000)] = 1


class VisitLine(BaseModel):
    """A visit in one line of the list of calls.

    ``headline`` and ``outcome`` are null until it is examined for the first time; while ``up_to_date`` is false they may be
    those of before. ``trouble`` says why there are none. ``passage`` is where in notes or verdict the words stand that were
    searched, if the line itself does not show it.
    """

    id: int
    opened_at: AwareDatetime | None
    open: bool
    unit_id: int
    site: str
    unit: str
    complaint: Complaint | None
    modes: list[Mode]
    headline: str | None
    outcome: Status | None
    up_to_date: bool
    trouble: str | None
    passage: str | None = None


class VisitList(BaseModel):
    """A page of the visits asked for; ``found`` counts all of them, ``waiting`` those of all visits that are being read
    anew."""

    visits: list[VisitLine]
    found: int
    page: int
    pages: int
    waiting: int


def visit_list(asked: VisitsAsked) -> VisitList:
    """A page of the visits asked for, newest first."""
    wanted = summaries.Wanted(
        words=asked.words or "",
        outcome=asked.outcome,
        unit=asked.unit,
        mode=asked.mode,
        since=_midnight(asked.since) if asked.since else None,
    )
    still_open, by = open_visits(connection()), basis(practice(connection()))
    found = summaries.find(connection(), wanted, by, (asked.page - 1) * A_PAGE, A_PAGE)
    return VisitList(
        visits=[
            _line(row, still_open, found.passages.get(row["visit_id"], ()), wanted.words)
            for row in found.lines
        ],
        found=found.count,
        page=asked.page,
        pages=max(-(-found.count // A_PAGE), 1),
        waiting=summarizer().waiting,
    )


def _midnight(day: date) -> str:
    """When a day begins, where the server stands, as lines write it."""
    began = datetime.combine(day, time()).astimezone(UTC)
    return began.isoformat(timespec="milliseconds").replace("+00:00", "Z")


def _line(row: sqlite3.Row, still_open: set[int], passages: Sequence[str] = (), words: str = "") -> VisitLine:
    known = {name: row[name] for name in ("unit_id", "site", "unit")}
    about = {"id": row["visit_id"], "open": row["visit_id"] in still_open, **known}
    try:
        return VisitLine.model_validate(
            {
                **about,
                **{name: row[name] for name in ("opened_at", "complaint", "headline", "outcome", "trouble")},
                "modes": row["modes"].split(),
                "up_to_date": bool(row["up_to_date"]),
                "passage": _passage(row, passages, words),
            }
        )
    except ValidationError as error:
        # One bad row is shown as such; it must not hide the others.
        _log.error("the line of visit %s can't be read: %s", row["visit_id"], error)
        return VisitLine.model_validate(
            {
                **about,
                **dict.fromkeys(("opened_at", "complaint", "headline", "outcome")),
                "modes": [],
                "up_to_date": True,
                "trouble": "This record can't be read.",
            }
        )


def _passage(row: sqlite3.Row, passages: Sequence[str], words: str) -> str | None:
    shown = f"{row['site']} {row['unit']} {row['headline']}".casefold()
    return next(iter(passages), None) if any(word not in shown for word in words.casefold().split()) else None


MOST_LOOKED_THROUGH = 200
"""Visits looked through for what a changed limit does."""


class ReadOtherwise(BaseModel):
    """A visit that reads otherwise since the limits were changed; ``before`` is the headline it had."""

    visit: VisitLine
    before: str


class LimitEffects(BaseModel):
    """What the last change of the limits does to the visits: ``looked_through`` of the newest, while ``waiting`` of them are
    still to be."""

    visits: list[ReadOtherwise]
    looked_through: int
    waiting: int


def limit_effects() -> LimitEffects:
    """The visits that read otherwise than before the limits were changed."""
    still_open = open_visits(connection())
    newest = summaries.find(
        connection(), summaries.Wanted(), basis(practice(connection())), 0, MOST_LOOKED_THROUGH
    ).lines
    done = [row for row in newest if row["up_to_date"]]
    compared = [row for row in done if row["former_headline"] is not None]
    return LimitEffects(
        visits=[
            ReadOtherwise(visit=_line(row, still_open), before=row["former_headline"])
            for row in compared
            if (row["former_headline"], row["former_outcome"]) != (row["headline"], row["outcome"])
        ],
        looked_through=len(compared),
        waiting=len(newest) - len(done),
    )

"""A visit on paper, and the customer's page of it."""

from __future__ import annotations

from collections import Counter
from datetime import datetime, tzinfo
from typing import Annotated
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from flask import Response
from pydantic import BaseModel, StringConstraints

from icepick.core.customer import Plain, Stands, plainly
from icepick.core.document.base import Document
from icepick.core.document.words import PHOTOS
from icepick.core.properties.quantities import UnitSystem
from icepick.report.language import DEFAULT, Language, customer_page, language, languages
from icepick.report.matter import Matter, Picture, ToldLine
from icepick.store.photo_files import PhotoFiles
from icepick.store.practice import practice
from icepick.store.shop import shop
from icepick.store.visits import find_visit
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.problems import problem
from icepick.web.told import told
from icepick.web.visit_view import VisitView, visit_view

api = Api("report")

Code = Annotated[str, StringConstraints(max_length=64)]


class ReportAsked(Document):
    """``language`` of the customer's page; ``zone``, the name of a time zone, otherwise the server's."""

    language: Code = DEFAULT
    zone: Code | None = None


class LanguageAsked(Document):
    language: Code = DEFAULT


class PageLine(BaseModel):
    heading: str
    sentence: str


class CustomerView(BaseModel):
    """The customer's page: how the unit ``stands``, in a code and in words, then a sentence under each heading."""

    title: str
    code: Stands
    stands: str
    lines: list[PageLine]
    languages: dict[str, str]


@api.endpoint("get", "/visits/<int:visit_id>/customer", gives=CustomerView, asks=LanguageAsked, computes=True)
def get_customer_page(visit_id: int, asked: LanguageAsked) -> CustomerView:
    """What a customer is told of a visit."""
    view = visit_view(visit_id, "field")
    plain = _plain(view)
    added = view.outcome.outcome.for_customer if view.outcome else None
    page = customer_page(plain, _language(asked.language), added)
    return CustomerView(
        title=page.title,
        code=plain.stands,
        stands=page.stands,
        lines=[PageLine(heading=heading, sentence=sentence) for heading, sentence in page.lines],
        languages=languages(),
    )


@api.file(
    "/visits/<int:visit_id>/report",
    kind="application/pdf",
    asks=ReportAsked,
    in_units=True,
    computes=True,
)
def get_report(visit_id: int, asked: ReportAsked, units: UnitSystem) -> Response:
    """A visit as a PDF: the customer's page, then the pages for the next technician."""
    # Who only looks at a visit need not load what makes pages.
    from icepick.report.pages import report_pdf

    matter = _matter(visit_id, units, _zone(asked.zone), _language(asked.language))
    answer = Response(report_pdf(matter), mimetype="application/pdf")
    answer.headers.set("Content-Disposition", "inline", filename=f"visit-{visit_id}.pdf")
    return answer


def _matter(visit_id: int, units: UnitSystem, zone: tzinfo, words: Language) -> Matter:
    view = visit_view(visit_id, units)
    found = find_visit(connection(), visit_id)
    assert found is not None
    outcome = view.outcome
    return Matter(
        number=view.id,
        shop=shop(connection()),
        visit=found.document,
        examination=view.examination,
        plain=_plain(view),
        told=ToldLine(outcome.outcome, outcome.title, outcome.recorded_at, outcome.by) if outcome else None,
        opened_at=view.opened_at,
        closed_at=view.closed_at,
        reopened=view.reopened,
        people=Counter(entry.by for entry in view.entries if entry.by and not entry.withdrawn),
        taken_back=_taken_back(view),
        set_aside=view.set_aside,
        photos=_photos(view),
        practice=practice(connection()),
        units=units,
        zone=zone,
        language=words,
    )


def _photos(view: VisitView) -> list[Picture]:
    files = PhotoFiles.of(connection())
    return [
        Picture(PHOTOS[one.photo.about], one.photo.caption or "", content)
        for one in view.photos
        if (content := files.read(one.photo.sha256)) is not None
    ]


def _plain(view: VisitView) -> Plain:
    return plainly(view.visit, view.examination, view.outcome.outcome if view.outcome else None)


def _taken_back(view: VisitView) -> list[str]:
    found = []
    for entry in view.entries:
        if not entry.withdrawn:
            continue
        if entry.reading is not None:
            found.append(told("reading", {"run": entry.run, **entry.reading.model_dump()}))
        elif entry.observation is not None:
            found.append(told("observation", {"run": entry.run, **entry.observation.model_dump()}))
    return found


def _language(code: str) -> Language:
    try:
        return language(code)
    except KeyError:
        there = ", ".join(languages())
        raise problem(400, f"There is no customer page in {code!r}; there is one in {there}.") from None


def _zone(name: str | None) -> tzinfo:
    if name is None:
        return datetime.now().astimezone().tzinfo  # type: ignore[return-value]
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise problem(400, f"There is no time zone {name!r}.") from None

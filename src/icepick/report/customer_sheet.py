"""The first page: for the customer, with no word of the trade that it does not explain."""

from __future__ import annotations

from collections.abc import Iterator

from reportlab.platypus import Flowable, Spacer

from icepick.report.language import CustomerPage, customer_page
from icepick.report.matter import Matter
from icepick.report.paper import ASKED, LARGE, QUIETLY, SAID, TITLE, said


def page_of(matter: Matter) -> CustomerPage:
    """The page's words."""
    added = matter.told.outcome.for_customer if matter.told is not None else None
    return customer_page(matter.plain, matter.language, added)


def customer_sheet(matter: Matter) -> Iterator[Flowable]:
    """What the customer reads."""
    page, words = page_of(matter), matter.language
    yield said(page.title, TITLE)
    yield said(f"{matter.visit.site.name}, {matter.visit.unit.label}")
    day = words.day(matter.opened_at.astimezone(matter.zone).date())
    names = ", ".join(matter.people)
    yield said((words.prepared if names else words.prepared_by_nobody).format(date=day, names=names))
    yield Spacer(0, 16)
    yield said(page.stands, SAID)
    yield Spacer(0, 10)
    for heading, sentence in page.lines:
        yield said(heading, ASKED)
        yield said(sentence, LARGE)
    yield Spacer(0, 14)
    for line in (matter.shop.name, matter.shop.contact, matter.shop.license):
        if line:
            yield said(line)
    yield Spacer(0, 10)
    yield said(words.behind, QUIETLY)

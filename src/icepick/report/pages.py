"""The front door: what there is to say of a visit goes in, a PDF comes out."""

from __future__ import annotations

from collections.abc import Iterator
from io import BytesIO

from PIL import Image as PictureFile
from reportlab.platypus import Flowable, Image, KeepTogether, PageBreak, SimpleDocTemplate

from icepick.report.before_after import before_and_after
from icepick.report.customer_sheet import customer_sheet
from icepick.report.limits_part import limits_part
from icepick.report.matter import Matter, Picture
from icepick.report.paper import HEAD, MARGIN, PAPER, SMALL, NumberedPages, said, section
from icepick.report.recording_part import recording_part
from icepick.report.run_part import run_part
from icepick.report.visit_part import cautions, visit_part

_TALLEST = 230.0
"""Of a photo on paper [points]."""
_LONGEST_SIDE = 1100
"""Of a photo on paper [pixels]: a report has to go by mail."""


def report_pdf(matter: Matter) -> bytes:
    """The report of a visit: a page for the customer, then the pages for the next technician.

    Parameters
    ----------
    matter : Matter
        What there is to say.

    Returns
    -------
    bytes
        A PDF; the same matter makes the same bytes.
    """
    out = BytesIO()
    paper = PAPER[matter.units]
    width = paper[0] - 2 * MARGIN
    template = SimpleDocTemplate(
        out,
        pagesize=paper,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN + 4,
        bottomMargin=MARGIN - HEAD + 24,
        title=f"{matter.visit.site.name}, {matter.visit.unit.label}",
        author=matter.shop.name or "Icepick",
        subject=f"Visit {matter.number}",
        lang="en-US",
        invariant=1,
    )

    class Pages(NumberedPages):
        head = (matter.shop.name or "Icepick", f"{matter.visit.site.name} · visit {matter.number}")
        foot = matter.shop.license

    # A flowable has a margin of its own inside the frame.
    template.build(list(_all(matter, width - 12)), canvasmaker=Pages)
    return out.getvalue()


def _all(matter: Matter, width: float) -> Iterator[Flowable]:
    yield from customer_sheet(matter)
    yield PageBreak()
    yield from visit_part(matter, width)
    yield from before_and_after(matter, width)
    for place, run in enumerate(matter.visit.runs):
        if run.readings or run.observations or (run.notes and run.notes.strip()):
            yield from run_part(matter, place, width)
    for place in range(len(matter.visit.recordings)):
        yield from recording_part(matter, place, width)
    if matter.photos:
        yield from section("Photos")
        for photo in matter.photos:
            yield _photo(photo, width)
    yield from limits_part(matter, width)
    yield from cautions()


def _photo(photo: Picture, width: float) -> Flowable:
    image = Image(_for_paper(photo.content))
    scale = min(width / image.imageWidth, _TALLEST / image.imageHeight)
    image.drawWidth, image.drawHeight = image.imageWidth * scale, image.imageHeight * scale
    image.hAlign = "LEFT"
    words = ": ".join(part for part in (photo.about, photo.caption) if part)
    return KeepTogether([image, said(words, SMALL)])


def _for_paper(content: bytes) -> BytesIO:
    out = BytesIO()
    with PictureFile.open(BytesIO(content)) as picture:
        picture.thumbnail((_LONGEST_SIDE, _LONGEST_SIDE))
        picture.save(out, "JPEG", quality=80)
    out.seek(0)
    return out

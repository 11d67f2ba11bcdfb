"""The paper: typefaces, styles, page heads and numbers. Nothing on it is under 8 pt."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from importlib.resources import files
from io import BytesIO
from itertools import groupby
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.colors import Color, HexColor, white
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import CondPageBreak, Flowable, KeepTogether, Paragraph, Table

PLAIN, BOLD, BEHIND = "Icepick", "Icepick-Bold", "Icepick-Behind"
INK, QUIET, HAIR, WASH = (HexColor(f"#{colour}") for colour in ("14181c", "4a545c", "b9c0c5", "eef0f1"))
SMALLEST = 8
MARGIN = 54.0
HEAD = 30.0
PAPER = {"field": LETTER, "metric": A4}
UNKNOWN = "□"
"""Stands for a letter that neither typeface has."""

_STYLE = {"fontName": PLAIN, "fontSize": 9.5, "leading": 12.5, "textColor": INK}
TEXT = ParagraphStyle("text", **_STYLE, spaceAfter=3)
SMALL = ParagraphStyle("small", TEXT, fontSize=8.5, leading=10.8, spaceAfter=0)
RIGHT = ParagraphStyle("right", SMALL, alignment=TA_RIGHT)
QUIETLY = ParagraphStyle("quietly", SMALL, textColor=QUIET)
HEADING = ParagraphStyle(
    "heading", TEXT, fontName=BOLD, fontSize=12.5, leading=15.5, spaceBefore=10, spaceAfter=4
)
TITLE = ParagraphStyle("title", HEADING, fontSize=19, leading=23, spaceBefore=0, spaceAfter=8)
SAID = ParagraphStyle(
    "said",
    TEXT,
    fontName=BOLD,
    fontSize=11.5,
    leading=15,
    borderColor=INK,
    borderWidth=0.8,
    borderPadding=7,
    leftIndent=8,
    rightIndent=8,
    spaceBefore=9,
    spaceAfter=12,
)
LARGE = ParagraphStyle("large", TEXT, fontSize=13, leading=19, spaceAfter=9)
ASKED = ParagraphStyle("asked", TEXT, fontName=BOLD, fontSize=11, leading=14, spaceBefore=7, spaceAfter=1)


@cache
def _typefaces() -> tuple[frozenset[int], frozenset[int]]:
    here = files("icepick.report") / "fonts"
    known = []
    for name, file in ((PLAIN, "regular"), (BOLD, "bold"), (BEHIND, "behind")):
        font = TTFont(name, BytesIO((here / f"{file}.ttf").read_bytes()))
        pdfmetrics.registerFont(font)
        known.append(frozenset(font.face.charToGlyph))
    pdfmetrics.registerFontFamily(PLAIN, normal=PLAIN, bold=BOLD, italic=PLAIN, boldItalic=BOLD)
    return known[0], known[2]


def marked(text: str) -> str:
    """Plain text as a paragraph takes it; letters that the typeface lacks come from the one behind it."""
    own, behind = _typefaces()

    def face(letter: str) -> int:
        code = ord(letter)
        return 0 if code in own or letter == "\n" else 1 if code in behind else 2

    found = []
    for which, letters in groupby(text.replace("\r", ""), face):
        part = "".join(letters)
        if which == 2:
            part = "".join(" " if letter.isspace() else UNKNOWN for letter in part)
        part = escape(part).replace("\n", "<br/>")
        found.append(part if which == 0 else f'<font name="{BEHIND}">{part}</font>')
    return "".join(found)


def said(text: str, style: ParagraphStyle = TEXT) -> Paragraph:
    """A paragraph of plain text."""
    return Paragraph(marked(text), style)


def named(name: str, text: str, style: ParagraphStyle = TEXT) -> Paragraph:
    """A paragraph that begins with what it is about."""
    return Paragraph(f"<b>{marked(name)}</b> {marked(text)}", style)


_ROOM = 100
"""Under a heading, or it goes on to the next page [points]."""


def section(heading: str, *first: Flowable) -> list[Flowable]:
    """A heading that stays with what comes first under it."""
    return [CondPageBreak(_ROOM), KeepTogether([said(heading, HEADING), *first])]


def table(
    head: Sequence[str],
    rows: Sequence[Sequence[str | Flowable | list[Flowable]]],
    shares: Sequence[float],
    width: float,
) -> Table:
    """A table of small text over this width; its head is said again on each page. A column whose head begins with a
    space holds numbers; one that holds nothing is left out."""
    held = [place for place in range(len(head)) if any(row[place] for row in rows)]
    head, shares = [head[place] for place in held], [shares[place] for place in held]
    rows = [[row[place] for place in held] for row in rows]
    styles = [RIGHT if name.startswith(" ") else SMALL for name in head]
    cells: list[list[Any]] = [
        [Paragraph(f"<b>{marked(name.strip())}</b>", style) for name, style in zip(head, styles, strict=True)]
    ]
    cells += [
        [
            said(cell, style) if isinstance(cell, str) else cell
            for cell, style in zip(row, styles, strict=True)
        ]
        for row in rows
    ]
    ruled = [
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, HAIR),
        ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 2),
        ("RIGHTPADDING", (0, 0), (-1, -1), 5),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
    ]
    whole = sum(shares)
    return Table(
        cells,
        colWidths=[width * share / whole for share in shares],
        repeatRows=1,
        # What somebody wrote may be longer than a page.
        splitInRow=1,
        style=ruled,
        spaceBefore=3,
        spaceAfter=6,
        hAlign="LEFT",
    )


def draw_line(
    canvas: Canvas,
    x: float,
    y: float,
    text: str,
    size: float,
    *,
    bold: bool = False,
    align: str = "left",
    colour: Color = INK,
    clear: bool = False,
) -> None:
    """A line of text straight onto a page, each letter from a typeface that has it; ``clear`` of what lies under it."""
    own, behind = _typefaces()
    runs = [
        (
            which,
            "".join(UNKNOWN if ord(letter) not in own | behind else letter for letter in letters),
        )
        for which, letters in groupby(text, lambda letter: ord(letter) in own)
    ]
    faces = [((BOLD if bold else PLAIN) if which else BEHIND, part) for which, part in runs]
    wide = sum(pdfmetrics.stringWidth(part, face, size) for face, part in faces)
    x -= {"left": 0.0, "middle": wide / 2, "right": wide}[align]
    if clear:
        canvas.setFillColor(white)
        canvas.rect(x - 1, y - 1.5, wide + 2, size, stroke=0, fill=1)
    canvas.setFillColor(colour)
    for face, part in faces:
        canvas.setFont(face, size)
        canvas.drawString(x, y, part)
        x += pdfmetrics.stringWidth(part, face, size)


def fitting(text: str, size: float, room: float) -> str:
    """As much of a line as there is room for."""
    _typefaces()
    while len(text) > 1 and pdfmetrics.stringWidth(text, BOLD, size) > room:
        text = text[:-2].rstrip() + "…"
    return text


class NumberedPages(Canvas):  # type: ignore[misc]
    """A canvas that knows at the end how many pages there are, and then writes their heads and numbers."""

    head: tuple[str, str] = ("", "")
    foot: str = ""

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        self._held: list[dict[str, Any]] = []
        _typefaces()

    def showPage(self) -> None:  # noqa: N802
        self._held.append(dict(self.__dict__))
        self._startPage()

    def save(self) -> None:
        for page in self._held:
            self.__dict__.update(page)
            self._furniture(len(self._held))
            super().showPage()
        super().save()

    def _furniture(self, of: int) -> None:
        width, height = self._pagesize
        left, right, top = MARGIN, width - MARGIN, height - 36
        half = (right - left) * 0.5
        draw_line(self, left, top, fitting(self.head[0], 9, half), 9, bold=True)
        draw_line(self, right, top, fitting(self.head[1], 9, half), 9, align="right", colour=QUIET)
        self.setStrokeColor(HAIR)
        self.setLineWidth(0.5)
        self.line(left, top - 7, right, top - 7)
        draw_line(self, left, 30, fitting(self.foot, SMALLEST, half * 1.6), SMALLEST, colour=QUIET)
        draw_line(self, right, 30, f"page {self._pageNumber} of {of}", SMALLEST, align="right", colour=QUIET)

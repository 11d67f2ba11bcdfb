"""Numbers and statuses as a report writes them."""

from __future__ import annotations

from reportlab.graphics.shapes import Drawing, PolyLine
from reportlab.platypus import Flowable

from icepick.core.document.examination import Status
from icepick.core.properties.quantities import SYMBOLS
from icepick.report.paper import INK


def figure(value: float) -> str:
    """A decimal below a thousand, none above, and thousands set apart, with a true minus sign."""
    return f"{value:,.{1 if abs(value) < 1000 else 0}f}".replace("-", "−")


def banded(value: float, uncertainty: float, unit: str = "") -> str:
    """A number with its band and its unit, to as many places as the band makes sense of."""
    places = 0 if abs(value) >= 1000 else 1 if uncertainty >= 0.05 or abs(value) >= 10 else 2
    band = f" ± {uncertainty:,.{places}f}" if uncertainty else ""
    return f"{value:,.{places}f}{band} {unit}".rstrip().replace("-", "−")


def plain(value: float) -> str:
    """A limit: without a trailing zero, and a second decimal only below ten."""
    text = f"{value:,.{2 if abs(value) < 10 else 1}f}".rstrip("0").rstrip(".")
    return text.replace("-", "−")


def measure(value: float, unit: str) -> str:
    """A number with its unit."""
    return f"{figure(value)} {SYMBOLS[unit]}".rstrip()


def mark(status: Status) -> Flowable:
    """The shape of a status, as the screens draw it; its word stands beside it."""
    drawn = Drawing(10, 9)
    for points in _SHAPES[status]:
        line = PolyLine([at for x, y in points for at in (x * _PER_UNIT, 9 - y * _PER_UNIT)])
        line.strokeColor, line.strokeWidth, line.strokeLineCap = INK, 1.4, 1
        drawn.add(line)
    return drawn


_PER_UNIT = 9 / 16
_SHAPES: dict[Status, list[list[tuple[float, float]]]] = {
    "pass": [[(2, 8.5), (6.5, 13), (14, 3.5)]],
    "fail": [[(3, 3), (13, 13)], [(13, 3), (3, 13)]],
    "watch": [[(1.5, y), (5, y - 2.5), (11, y + 2), (14.5, y - 0.5)] for y in (6.5, 11.5)],
    "needs_readings": [[(x, 12.5), (x, 13.1)] for x in (3, 8, 13)],
}

"""The circuit as a loop on paper: indoor half left, outdoor half right, vapor line over, liquid line under.

Weight says which side, pattern what is inside, as on the screen; each station carries its number, its temperature, and the
pressure of a tap that opens into it.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from math import hypot

from reportlab.lib.colors import white
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable

from icepick.core.document.examination import PathStop, RunExamination
from icepick.core.document.heads import split
from icepick.core.properties.quantities import SYMBOLS
from icepick.report.figures import figure as number
from icepick.report.figures import measure
from icepick.report.paper import INK, QUIET, SMALLEST, WASH, draw_line

Point = tuple[float, float]

_HEIGHT = 206.0
_TOP, _BOTTOM = 150.0, 58.0
_SIDE = 46.0
_PUMP_Y = 90.0
_VALVE_AT, _WALL_AT = 0.64, 0.34
"""Where the valve and the wall stand, as shares of the width."""
_IN_THE_LOOP = ("discharge_line", "common_suction", "compressor_inlet")
_PATTERN: dict[str, list[float]] = {
    "superheated_vapor": [0.1, 3.4],
    "mixture": [6, 3.5],
    "subcooled_liquid": [],
}
_WEIGHT = {"high": 2.8, "low": 1.2}


class CircuitPicture(Flowable):  # type: ignore[misc]
    """A run's circuit with what was read; ``numbers`` gives each station's."""

    def __init__(self, run: RunExamination, numbers: Mapping[str, int], width: float) -> None:
        super().__init__()
        self.width, self.height = width, _HEIGHT
        self._run, self._numbers = run, numbers
        self._valve, self._wall = width * _VALVE_AT, width * _WALL_AT
        self._at: dict[str, Point] = {}
        self._parts: list[tuple[str, Point]] = []
        self._above = set[str]()
        self._lay()

    def _lay(self) -> None:
        path = list(self._run.path)
        chain = [stop for stop in path if stop.station not in _IN_THE_LOOP]
        parts = [stop.through for stop in chain[:-1]]
        if chain and chain[0].station != "valve_to_outdoor":
            chain, parts = chain[::-1], parts[::-1]
        # Of several heads the line lies along one, whose stations bear its number.
        codes = [split(stop.station)[0] for stop in chain]
        outdoor, indoor = codes.index("outdoor_coil"), codes.index("indoor_coil")
        self._coils = chain[outdoor].station, chain[indoor].station
        left, right = _SIDE, self.width - _SIDE
        middle = (_TOP + _BOTTOM) / 2
        self._at |= {self._coils[0]: (right, middle), self._coils[1]: (left, middle)}
        for code, x in (("discharge_line", 12), ("common_suction", -12), ("compressor_inlet", -12)):
            y = _PUMP_Y + 22 if code == "compressor_inlet" else _TOP - 20
            self._at[code] = (self._valve + x, y)
        self._spread(chain[:outdoor], self._valve + 34, right, _TOP)
        vapor = chain[indoor + 1 :]
        self._spread([stop for stop in vapor if stop.place == "indoors"], left, self._wall, _TOP)
        self._spread([stop for stop in vapor if stop.place != "indoors"], self._wall, self._valve - 34, _TOP)
        self._above |= {stop.station for stop in (*chain[:outdoor], *vapor)}
        liquid = chain[outdoor + 1 : indoor]
        between = parts[outdoor + 1 : indoor - 1]
        inside = [stop.place == "indoors" for stop in liquid]
        crossing = inside.index(True) if True in inside else len(liquid)
        self._spread(liquid[:crossing], right, self._wall, _BOTTOM)
        self._spread(liquid[crossing:], self._wall, left, _BOTTOM)
        for place, part in enumerate(between):
            if part != "pipe":
                one, other = self._at[liquid[place].station], self._at[liquid[place + 1].station]
                self._parts.append((part, ((one[0] + other[0]) / 2, _BOTTOM)))

    def _spread(self, stops: list[PathStop], start: float, end: float, y: float) -> None:
        for place, stop in enumerate(stops):
            self._at[stop.station] = (start + (end - start) * (place + 0.5) / len(stops), y)

    def draw(self) -> None:
        canvas = self.canv
        self._wall_and_names(canvas)
        path = list(self._run.path)
        for one, other in pairwise(path):
            self._pipe(canvas, one, other)
        self._machine(canvas)
        for part, at in self._parts:
            _part(canvas, part, at)
        for code, at in self._at.items():
            self._label(canvas, code, at)
        self._key(canvas)

    def _wall_and_names(self, canvas: Canvas) -> None:
        canvas.setStrokeColor(QUIET)
        canvas.setLineWidth(0.5)
        canvas.setDash([1, 3])
        canvas.line(self._wall, 22, self._wall, _HEIGHT - 12)
        canvas.setDash([])
        draw_line(canvas, self._wall - 6, _HEIGHT - 20, "indoors", SMALLEST, align="right", colour=QUIET)
        draw_line(canvas, self._wall + 6, _HEIGHT - 20, "outdoors", SMALLEST, colour=QUIET)

    def _pipe(self, canvas: Canvas, one: PathStop, other: PathStop) -> None:
        start, end = self._at[one.station], self._at[other.station]
        points = [start, *self._bends(one.station, other.station, start, end), end]
        first, second, angle = _halves(points)
        for stop, line in ((one, first), (other, second)):
            canvas.setStrokeColor(INK)
            canvas.setLineWidth(_WEIGHT[stop.role])
            canvas.setLineCap(1)
            canvas.setDash(_PATTERN[stop.state])
            drawn = canvas.beginPath()
            drawn.moveTo(*line[0])
            for point in line[1:]:
                drawn.lineTo(*point)
            canvas.drawPath(drawn)
        canvas.setDash([])
        if one.through == "pipe" and hypot(end[0] - start[0], end[1] - start[1]) > 30:
            _arrow(canvas, second[0], angle)

    def _bends(self, one: str, other: str, start: Point, end: Point) -> list[Point]:
        def port(at: Point) -> Point:
            return (self._valve + (18 if at[0] > self._valve else -18), _TOP)

        if one == "discharge_line":
            return [(start[0], _TOP - 10), port(end)]
        if other == "common_suction":
            return [port(start), (end[0], _TOP - 10)]
        if one in _IN_THE_LOOP or other in _IN_THE_LOOP or start[0] == end[0] or start[1] == end[1]:
            return []
        coil, far = (end, start) if other in self._coils else (start, end)
        return [(coil[0], far[1])]

    def _machine(self, canvas: Canvas) -> None:
        canvas.setStrokeColor(INK)
        canvas.setFillColor(white)
        canvas.setLineWidth(1.2)
        canvas.roundRect(self._valve - 20, _TOP - 11, 40, 22, 3, fill=1)
        draw_line(canvas, self._valve, _TOP + 15, "reversing valve", SMALLEST, align="middle", colour=QUIET)
        canvas.setFillColor(white)
        canvas.circle(self._valve, _PUMP_Y, 15, fill=1)
        draw_line(canvas, self._valve + 19, _PUMP_Y - 6, "compressor", SMALLEST, colour=QUIET)
        canvas.line(self._valve + 12, _PUMP_Y + 9, *self._at["discharge_line"])
        canvas.line(self._valve - 12, _PUMP_Y + 9, *self._at["compressor_inlet"])
        for code in self._coils:
            x, y = self._at[code]
            canvas.setFillColor(WASH)
            canvas.rect(x - 13, y - 30, 26, 60, fill=1)
            zigzag = canvas.beginPath()
            zigzag.moveTo(x, y + 30)
            for step in range(6):
                zigzag.lineTo(x + (8 if step % 2 else -8), y + 25 - step * 10)
            zigzag.lineTo(x, y - 30)
            canvas.drawPath(zigzag)

    def _label(self, canvas: Canvas, code: str, at: Point) -> None:
        lines = self._read(code)
        outdoor_coil, indoor_coil = self._coils
        x, y = at
        number_of = self._numbers.get(code)
        canvas.setFillColor(white if lines else WASH)
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.8)
        canvas.circle(x, y, 6.8, fill=1)
        draw_line(canvas, x, y - 2.9, str(number_of or ""), SMALLEST, align="middle", bold=True)
        align, step = "middle", -10.0
        if code in ("discharge_line", outdoor_coil):
            align, x, y = "left", x + (10 if code == "discharge_line" else -50), y - 3
            if code == outdoor_coil:
                align, x = "right", at[0] - 17
        elif code in ("common_suction", "compressor_inlet"):
            align, x, y = "right", x - 10, y - 3
        elif code == indoor_coil:
            align, x, y = "left", x + 17, y - 3
        else:
            y = y + 11 if code in self._above else y - 18
            step = 10.0 if code in self._above else -10.0
        if code in _IN_THE_LOOP:
            # There is no room under it.
            lines = [" · ".join(lines)]
        for place, line in enumerate(lines):
            draw_line(canvas, x, y + place * step, line, 9, align=align, bold=place == 0)

    def _read(self, code: str) -> list[str]:
        """What was read at a station, and at the taps that open into its pipe."""
        readings = {(one.station, one.quantity): one for one in self._run.readings}
        found = []
        if own := readings.get((code, "temperature")):
            found.append(number(own.value))
        for tap in self._run.taps:
            if tap.at == code and (read := readings.get((tap.tap, "pressure"))):
                found.append(measure(read.value, read.unit))
        return found

    def _key(self, canvas: Canvas) -> None:
        degrees = next((one.unit for one in self._run.readings if one.quantity == "temperature"), "degF")
        x, y = 0.0, 6.0
        for words, weight, pattern in (
            ("high side", "high", "subcooled_liquid"),
            ("low side", "low", "subcooled_liquid"),
            ("vapor", "low", "superheated_vapor"),
            ("liquid and vapor", "low", "mixture"),
        ):
            canvas.setStrokeColor(INK)
            canvas.setLineWidth(_WEIGHT[weight])
            canvas.setDash(_PATTERN[pattern])
            canvas.line(x, y + 3, x + 22, y + 3)
            canvas.setDash([])
            draw_line(canvas, x + 27, y, words, SMALLEST, colour=QUIET)
            x += 40 + 4.6 * len(words)
        draw_line(
            canvas,
            self.width,
            y,
            f"temperatures in {SYMBOLS[degrees]}",
            SMALLEST,
            align="right",
            colour=QUIET,
        )


def _halves(points: list[Point]) -> tuple[list[Point], list[Point], Point]:
    """A line cut in two at the middle of its length, and the direction there."""
    lengths = [hypot(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(points)]
    left, at = sum(lengths) / 2, 0
    while at < len(lengths) - 1 and left > lengths[at]:
        left -= lengths[at]
        at += 1
    a, b = points[at], points[at + 1]
    share = left / lengths[at] if lengths[at] else 0.0
    middle = (a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share)
    return [*points[: at + 1], middle], [middle, *points[at + 1 :]], (b[0] - a[0], b[1] - a[1])


def _arrow(canvas: Canvas, at: Point, towards: Point) -> None:
    length = hypot(*towards) or 1.0
    x, y = towards[0] / length, towards[1] / length
    head = canvas.beginPath()
    head.moveTo(at[0] + 5 * x, at[1] + 5 * y)
    head.lineTo(at[0] - 3 * x - 3.6 * y, at[1] - 3 * y + 3.6 * x)
    head.lineTo(at[0] - 3 * x + 3.6 * y, at[1] - 3 * y - 3.6 * x)
    head.close()
    canvas.setFillColor(INK)
    canvas.drawPath(head, stroke=0, fill=1)


def _part(canvas: Canvas, part: str, at: Point) -> None:
    """A metering device as two triangles tip to tip, a drier as a box."""
    x, y = at
    canvas.setFillColor(white)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1)
    if part == "drier":
        canvas.rect(x - 9, y - 5, 18, 10, fill=1)
        draw_line(canvas, x, y + 9, "drier", SMALLEST, align="middle", colour=QUIET)
    elif part.endswith("_meter"):
        for side in (-1, 1):
            drawn = canvas.beginPath()
            drawn.moveTo(x, y)
            drawn.lineTo(x + 9 * side, y + 6)
            drawn.lineTo(x + 9 * side, y - 6)
            drawn.close()
            canvas.drawPath(drawn, stroke=1, fill=1)
        draw_line(canvas, x, y + 9, "metering device", SMALLEST, align="middle", colour=QUIET)

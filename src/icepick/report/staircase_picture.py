"""The staircase on paper: temperature along the path in flow order, over the band of what this unit, sound, should show."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

from reportlab.lib.colors import HexColor, white
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable

from icepick.core.document.examination import RunExamination
from icepick.core.properties.quantities import SYMBOLS
from icepick.report.figures import figure, plain
from icepick.report.paper import HAIR, INK, QUIET, SMALLEST, draw_line

_HEIGHT = 180.0
_LEFT, _NAMES, _FOOT, _HEAD = 30.0, 92.0, 30.0, 14.0
_BAND = HexColor("#dfe3e5")
_LEVELS = {
    "condensing": "condensing",
    "evaporating": "evaporating",
    "outdoor_air": "outdoor air",
    "indoor_air": "indoor air",
    "source_water": "source water",
    "load_water": "load water",
}
_STEPS = (1, 2, 5, 10, 20, 50, 100, 200)


class StaircasePicture(Flowable):  # type: ignore[misc]
    """A run's temperatures from the compressor round to the compressor; ``numbers`` gives each station's."""

    def __init__(self, run: RunExamination, numbers: Mapping[str, int], width: float) -> None:
        super().__init__()
        self.width, self.height = width, _HEIGHT
        self._run, self._numbers = run, numbers
        temperatures = {one.station: one for one in run.readings if one.quantity == "temperature"}
        self._unit = next((one.unit for one in temperatures.values()), "degF")
        codes = [stop.station for stop in run.path]
        self._read = {code: temperatures[code].value for code in codes if code in temperatures}
        self._sound = {
            code: run.expected[code]
            for code in codes
            if code in run.expected and run.expected[code].quantity == "temperature"
        }
        self._codes = codes
        self._low, self._high, self._step = self._span()

    def _span(self) -> tuple[float, float, float]:
        values = [*self._read.values(), *(level.value for level in self._run.levels)]
        values += [end for one in self._sound.values() for end in (one.low, one.high)]
        low, high = min(values, default=0.0) - 4, max(values, default=100.0) + 4
        step = next((one for one in _STEPS if (high - low) / one <= 7), _STEPS[-1])
        return low, high, step

    def _y(self, value: float) -> float:
        return _FOOT + (_HEIGHT - _FOOT - _HEAD) * (value - self._low) / (self._high - self._low)

    def _x(self, place: int) -> float:
        return _LEFT + (self.width - _NAMES - _LEFT) * (place + 0.5) / max(1, len(self._codes))

    def draw(self) -> None:
        """Draw it where the page has put it."""
        canvas = self.canv
        self._grid(canvas)
        half = (self._x(1) - self._x(0)) * 0.36
        for place, code in enumerate(self._codes):
            if code in self._sound:
                one, x = self._sound[code], self._x(place)
                canvas.setFillColor(_BAND)
                bottom = self._y(one.low)
                canvas.rect(x - half, bottom, 2 * half, self._y(one.high) - bottom, stroke=0, fill=1)
        self._levels(canvas)
        self._line(canvas)
        for place, code in enumerate(self._codes):
            self._stop(canvas, place, code)

    def _grid(self, canvas: Canvas) -> None:
        canvas.setStrokeColor(HAIR)
        canvas.setLineWidth(0.4)
        first = int(self._low // self._step + 1)
        for tick in range(first, int(self._high // self._step) + 1):
            y = self._y(tick * self._step)
            canvas.line(_LEFT, y, self.width - _NAMES, y)
            draw_line(
                canvas, _LEFT - 4, y - 3, plain(tick * self._step), SMALLEST, align="right", colour=QUIET
            )
        draw_line(canvas, _LEFT - 4, _HEIGHT - 9, SYMBOLS[self._unit], SMALLEST, align="right", colour=QUIET)

    def _levels(self, canvas: Canvas) -> None:
        last = float("inf")
        canvas.setDash([4, 3])
        for level in sorted(self._run.levels, key=lambda one: -one.value):
            y = self._y(level.value)
            canvas.setStrokeColor(QUIET)
            canvas.setLineWidth(0.7)
            canvas.line(_LEFT, y, self.width - _NAMES, y)
            last = min(y - 3, last - 10)
            words = f"{_LEVELS[level.name]} {figure(level.value)}"
            draw_line(canvas, self.width - _NAMES + 4, last, words, SMALLEST, colour=QUIET)
        canvas.setDash([])

    def _line(self, canvas: Canvas) -> None:
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(1)
        for place, (one, other) in enumerate(pairwise(self._codes)):
            if one in self._read and other in self._read:
                canvas.line(
                    self._x(place), self._y(self._read[one]), self._x(place + 1), self._y(self._read[other])
                )

    def _stop(self, canvas: Canvas, place: int, code: str) -> None:
        x = self._x(place)
        draw_line(
            canvas, x, _FOOT - 14, str(self._numbers.get(code, "")), SMALLEST, align="middle", bold=True
        )
        if code not in self._read:
            return
        value = self._read[code]
        y = self._y(value)
        departs = self._sound[code].departs if code in self._sound else None
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(1.2)
        canvas.setFillColor(INK if departs else white)
        canvas.circle(x, y, 3.2, fill=1)
        over = place % 2 == 0 if departs is None else departs == "above"
        draw_line(
            canvas,
            x,
            y + 6 if over else y - 12,
            figure(value),
            SMALLEST,
            align="middle",
            bold=departs is not None,
            clear=True,
        )

"""The same unit, earlier visits: each indicator beside its value at the nearest conditions before. [the-trade.md 5]

Works on examinations in one unit system, so that what is compared is what the screens show.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from math import hypot

from pydantic import AwareDatetime, Field

from icepick.core.document.base import Document, absent
from icepick.core.document.codes import Mode
from icepick.core.document.examination import Examination, Indicator, PlainQuantity, RunExamination
from icepick.core.practice import DEFAULT_PRACTICE, Practice
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, spread_from_si


@dataclass(frozen=True, slots=True)
class ExaminedVisit:
    """A visit of the unit: its number, when it was opened and what was said of it."""

    visit: int
    opened_at: datetime
    examination: Examination


class PastRun(Document):
    """A run of some visit: the conditions it was made at, and its indicators.

    ``outdoors`` is the air or source water that entered the outdoor coil, ``indoors`` the air or load water that entered
    the indoor coil; null where unread.
    """

    visit: int
    opened_at: AwareDatetime
    run: str
    circuit: str | None = Field(default=None, exclude_if=absent)
    mode: Mode
    outdoors: PlainQuantity | None
    indoors: PlainQuantity | None
    indicators: dict[str, Indicator]


class Change(Document):
    """An indicator now and before; ``clear`` where the change exceeds the bands of both."""

    indicator: str
    unit: str
    now: float
    before: float
    change: float
    uncertainty: float
    clear: bool


class Comparison(Document):
    """A run beside the run of an earlier visit in the same mode at the nearest conditions.

    ``apart`` is how far the conditions lie from each other, null where they were not read; ``near`` is false where that
    is more than the practice allows: the change may then be the weather's. The changes come the surest first, by how
    many times their band they are.
    """

    run: str
    before: PastRun
    apart: PlainQuantity | None
    near: bool
    changes: list[Change]


class History(Document):
    """``runs`` holds every run with the compressor on, of this visit and of those before, oldest first."""

    comparisons: list[Comparison]
    runs: list[PastRun]


def history(
    visits: Sequence[ExaminedVisit],
    of: int,
    practice: Practice = DEFAULT_PRACTICE,
    units: UnitSystem = "field",
) -> History:
    """Compare a visit with those before it.

    Parameters
    ----------
    visits : sequence of ExaminedVisit
        All visits of one unit, in any order, examined in ``units``.
    of : int
        The number of the visit that is compared.
    practice : Practice
        How near conditions must be (``history_near``).
    units : {"field", "metric"}
        Units of the examinations.

    Raises
    ------
    StopIteration
        The visit is not among them.
    """
    ordered = sorted(visits, key=lambda visit: (visit.opened_at, visit.visit))
    now = next(visit for visit in ordered if visit.visit == of)
    upto = ordered[: ordered.index(now) + 1]
    runs = [_past(visit, run) for visit in upto for run in visit.examination.runs if run.path]
    before = [run for run in runs if run.visit != of and run.indicators]
    kind = Kind.TEMPERATURE_DIFFERENCE
    most = spread_from_si(practice.si("history_near"), DISPLAY_UNITS[units][kind], kind)
    compared = [_compare(run, before, most, units) for run in runs if run.visit == of]
    return History(comparisons=[found for found in compared if found is not None], runs=runs)


def _past(visit: ExaminedVisit, run: RunExamination) -> PastRun:
    read = {entry.station: entry for entry in run.readings if entry.quantity == "temperature"}

    def entering(*stations: str) -> PlainQuantity | None:
        found = next((read[station] for station in stations if station in read), None)
        return PlainQuantity(value=found.value, unit=found.unit) if found else None

    return PastRun(
        visit=visit.visit,
        opened_at=visit.opened_at,
        run=run.id,
        circuit=run.circuit,
        mode=run.commanded_mode,
        outdoors=entering("source_water_in", "outdoor_air_in"),
        indoors=entering("load_water_in", "return_air"),
        indicators=run.indicators,
    )


def _apart(one: PastRun, other: PastRun) -> float | None:
    """How far the conditions of two runs lie from each other; None where they have none in common."""
    steps = [
        a.value - b.value
        for a, b in ((one.outdoors, other.outdoors), (one.indoors, other.indoors))
        if a is not None and b is not None
    ]
    return hypot(*steps) if steps else None


def _compare(now: PastRun, before: list[PastRun], most: float, units: UnitSystem) -> Comparison | None:
    alike = [run for run in before if (run.mode, run.circuit) == (now.mode, now.circuit)]
    if not alike:
        return None
    # Of runs equally near, the latest.
    far = float("inf")
    distance = [
        (d if (d := _apart(now, run)) is not None else far, -index) for index, run in enumerate(alike)
    ]
    apart, index = min(distance)
    nearest = alike[-index]
    unit = DISPLAY_UNITS[units][Kind.TEMPERATURE_DIFFERENCE]
    return Comparison(
        run=now.run,
        before=nearest,
        apart=None if apart == far else PlainQuantity(value=round(apart, 1), unit=unit),
        near=apart <= most,
        changes=sorted(
            (
                _change(name, now.indicators[name], nearest.indicators[name])
                for name in now.indicators
                if name in nearest.indicators
            ),
            key=lambda change: -abs(change.change) / (change.uncertainty or 1e-4),
        ),
    )


def _change(name: str, now: Indicator, before: Indicator) -> Change:
    step, band = now.value - before.value, hypot(now.uncertainty, before.uncertainty)
    return Change(
        indicator=name,
        unit=now.unit,
        now=now.value,
        before=before.value,
        change=round(step, 4),
        uncertainty=round(band, 4),
        clear=abs(step) > band,
    )

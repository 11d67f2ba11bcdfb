"""A recording: what probes wrote down through time in one visit, and the marks a technician set while it ran."""

from __future__ import annotations

from typing import Annotated, NoReturn, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import AwareDatetime, Field, FiniteFloat, model_validator

from icepick.core.document.base import Document, absent, edges, field_error, outside_error
from icepick.core.document.codes import (
    CircuitId,
    MarkCode,
    Method,
    Mode,
    ReadingUnit,
    RunId,
    SeriesQuantity,
    StationCode,
    Text,
)
from icepick.core.document.stations import STATE, SWITCHED, Allowed, station
from icepick.core.properties.quantities import UNITS, Kind

MOST_SAMPLES = 200_000
"""In one series: 55 hours at one a second."""
MOST_IN_ALL = 900_000
"""In one recording, all series together."""
MOST_SERIES = 100
MOST_MARKS = 10_000
LONGEST = 30 * 86_400.0
"""Of a recording [s]."""


def allowed(code: str, quantity: str) -> Allowed:
    """What a series of a quantity at a station may hold.

    Parameters
    ----------
    code : str
        Code of the station.
    quantity : str
        What was recorded there.

    Returns
    -------
    Allowed
        Its kind and the range the world allows.

    Raises
    ------
    ValueError
        There is no such station, or it has no such quantity; the message says which.
    """
    try:
        place = station(code)
    except KeyError:
        raise ValueError(f"there is no station {code!r}.") from None
    known = {**place.quantities, **({"state": STATE} if code in SWITCHED else {})}
    if quantity not in known:
        raise ValueError(f"{place.title} has no {quantity}; it takes {', '.join(known)}.")
    return known[quantity]


class Series(Document):
    """One quantity at one station through time: as many values as seconds, which rise. A gap is samples that are not
    there."""

    station: StationCode
    quantity: SeriesQuantity
    unit: ReadingUnit
    method: Method | None = None
    seconds: list[FiniteFloat] = Field(max_length=MOST_SAMPLES)
    values: list[FiniteFloat] = Field(max_length=MOST_SAMPLES)

    @model_validator(mode="after")
    def _fits_its_station(self) -> Self:
        try:
            known = allowed(self.station, self.quantity)
        except ValueError as error:
            field = "station" if "no station" in str(error) else "quantity"
            raise field_error(field, str(error)) from None
        if self.unit not in UNITS[known.kind]:
            units = ", ".join(UNITS[known.kind])
            raise field_error("unit", f"{self.unit!r} does not measure {self.quantity}; use {units}.")
        self._one_value_a_second()
        self._within_the_world(known)
        return self

    def _one_value_a_second(self) -> None:
        if len(self.seconds) != len(self.values):
            raise field_error(
                "values",
                f"{len(self.seconds):,} seconds and {len(self.values):,} values: each sample needs both.",
            )
        steps = np.diff(np.array(self.seconds))
        if steps.size and float(steps.min()) <= 0:
            at = int(np.argmax(steps <= 0)) + 1
            raise field_error(
                f"seconds/{at}",
                f"time runs backwards or stands still: {self.seconds[at]:g} s after {self.seconds[at - 1]:g} s.",
            )
        for at in {0, len(self.seconds) - 1} if self.seconds else ():
            if not 0 <= self.seconds[at] <= LONGEST:
                raise field_error(
                    f"seconds/{at}", f"{self.seconds[at]:g} s is outside a recording of 30 days."
                )

    def _within_the_world(self, known: Allowed) -> None:
        odd = outside(np.array(self.values), self.unit, known)
        if odd.size:
            at = int(odd[0])
            refuse_outside(self.values[at], self.unit, known, f"values/{at}")


def outside(values: NDArray[np.float64], unit: str, known: Allowed) -> NDArray[np.intp]:
    """Which of a series' values the world does not allow, by their numbers; NaN is none.

    Parameters
    ----------
    values : ndarray, shape (n,)
        As they are written [``unit``].
    unit : str
        Of them.
    known : Allowed
        What its station takes.
    """
    if known.kind is Kind.STATE:
        return np.flatnonzero((values != 0) & (values != 1) & ~np.isnan(values))
    low, high = edges(known.low, known.high, known.unit, unit, known.kind)
    return np.flatnonzero((values < low) | (values > high))


def refuse_outside(value: float, unit: str, known: Allowed, field: str = "value") -> NoReturn:
    """Say of a value that :func:`outside` found why it is none.

    Raises
    ------
    PydanticCustomError
        Always.
    """
    if known.kind is Kind.STATE:
        raise field_error(field, f"a state is 0 or 1, not {value:g}.")
    raise outside_error(value, unit, known.kind, known.low, known.high, known.unit, field)


class Mark(Document):
    """What was seen, heard or done, at its moment."""

    seconds: Annotated[FiniteFloat, Field(ge=0, le=LONGEST)]
    code: MarkCode
    value: bool | FiniteFloat | Text | None = None


class Recording(Document):
    """Series of one spell of work, and the marks set meanwhile; ``mode`` is what was called for at its start, ``circuit``
    the one it is of, where the unit has several; of none where nobody said."""

    id: RunId
    mode: Mode
    started_at: AwareDatetime
    minutes_running: Annotated[FiniteFloat, Field(ge=0, le=1_000_000)] | None = None
    circuit: CircuitId | None = Field(default=None, exclude_if=absent)
    series: list[Series] = Field(default=[], max_length=MOST_SERIES)
    marks: list[Mark] = Field(default=[], max_length=MOST_MARKS)
    notes: Text | None = None

    @model_validator(mode="after")
    def _each_thing_once(self) -> Self:
        names = [(one.station, one.quantity) for one in self.series]
        for at, name in enumerate(names):
            if name in names[:at]:
                raise field_error(f"series/{at}", f"{name[0]} {name[1]} is there twice.")
        samples = sum(len(one.values) for one in self.series)
        if samples > MOST_IN_ALL:
            raise field_error(
                "series", f"{samples:,} samples; a recording holds {MOST_IN_ALL:,} at most. Thin it out."
            )
        return self

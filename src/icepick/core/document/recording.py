"""A recording: what probes wrote down through time in one visit, and the marks a technician set while it ran."""

from __future__ import annotations

from typing import Annotated, NoReturn, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import AwareDatetime, Field, FiniteFloat, PrivateAttr, model_validator

from icepick.core.document.base import Document, absent, edges, field_error, outside_error
from icepick.core.document.codes import (
    LONGEST_TEXT,
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
from icepick.core.document.stations import NOISE, STATE, SWITCHED, Allowed, station
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
    _set: int = PrivateAttr(default=0)
    """How many of them lay in an instrument's noise beyond their range, and were set to its end."""

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
        values = np.array(self.values)
        odd = outside(values, self.unit, known)
        if odd.size:
            at = int(odd[0])
            refuse_outside(self.values[at], self.unit, known, f"values/{at}")
        held, self._set = set_to_limits(values, self.unit, known)
        if self._set:
            object.__setattr__(self, "values", held.tolist())


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
    noise = NOISE.get(known.kind, 0.0)
    low, high = edges(known.low - noise, known.high + noise, known.unit, unit, known.kind)
    return np.flatnonzero((values < low) | (values > high))


def set_to_limits(values: NDArray[np.float64], unit: str, known: Allowed) -> tuple[NDArray[np.float64], int]:
    """Values that an instrument's noise shows beyond the ends of what its station takes, set to those ends.

    Parameters
    ----------
    values : ndarray, shape (n,)
        As they are written [``unit``].
    unit : str
        Of them.
    known : Allowed
        What its station takes.

    Returns
    -------
    (ndarray, int)
        The values, and how many of them were set.
    """
    if known.kind is Kind.STATE:
        return values, 0
    low, high = edges(known.low, known.high, known.unit, unit, known.kind)
    held = np.clip(values, low, high)
    return held, int(np.count_nonzero(held != values))


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
        self._say_what_was_set()
        samples = sum(len(one.values) for one in self.series)
        if samples > MOST_IN_ALL:
            raise field_error(
                "series", f"{samples:,} samples; a recording holds {MOST_IN_ALL:,} at most. Thin it out."
            )
        return self

    def _say_what_was_set(self) -> None:
        """Once, in its notes: what is read back stands at the limits."""
        told = [
            f"{one._set:,} of {station(one.station).title}, {one.quantity}" for one in self.series if one._set
        ]
        words = f"{SET_TO_LIMITS} {'; '.join(told)}."
        notes = f"{self.notes}\n{words}" if self.notes else words
        if told and len(notes) <= LONGEST_TEXT:
            object.__setattr__(self, "notes", notes)
        for one in self.series:
            one._set = 0


SET_TO_LIMITS = "Samples just beyond their range, as an instrument's noise, were set to its end:"

"""What the columns of a file mean: a place and its unit each, and a clock."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime, timezone

from icepick.core.document.recording import allowed
from icepick.core.properties.quantities import UNITS
from icepick.core.recorded_file.table import Table

_HEADING = re.compile(r"^(\S+)\s+(\S+)\s+\[(\S+)\]$")
CLOCK_UNITS = {"ms": 0.001, "s": 1.0, "min": 60.0, "h": 3600.0}
"""Seconds in each unit in which a clock may count."""
_CLOCKS = {
    "seconds": "s",
    "second": "s",
    "sec": "s",
    "s": "s",
    "minutes": "min",
    "min": "min",
    "ms": "ms",
    "hours": "h",
}
_IN_BRACKETS = re.compile(r"[(\[]\s*(\w+)\s*[)\]]")


@dataclass(frozen=True, slots=True)
class Place:
    """What a column holds."""

    station: str
    quantity: str
    unit: str

    @property
    def refusal(self) -> str | None:
        """Why no series can hold that."""
        try:
            known = allowed(self.station, self.quantity)
        except ValueError as error:
            return str(error)
        if self.unit not in UNITS[known.kind]:
            return f"{self.unit!r} does not measure {self.quantity}; use {', '.join(UNITS[known.kind])}."
        return None


@dataclass(frozen=True, slots=True)
class Meanings:
    """What is said of a file: ``places`` by the column's number, None where it is left out, nothing where nobody said yet.
    ``clock_unit`` where the clock counts, and when it stood at zero; ``offset`` where its times have none."""

    places: dict[int, Place | None] = field(default_factory=dict)
    clock_unit: str | None = None
    started_at: datetime | None = None
    offset: timezone | None = None


def place_of(heading: str) -> Place | None:
    """The place that a heading of the format names: ``outdoor_coil temperature [degF]``."""
    match = _HEADING.match(heading)
    return Place(*match.groups()) if match else None


def clock_unit_of(heading: str) -> str | None:
    """The unit in which a clock counts, where its heading says so."""
    plain = heading.strip().lower()
    within = _IN_BRACKETS.search(plain)
    return _CLOCKS.get(within[1] if within else plain)


def wanting(table: Table, said: Meanings) -> Iterator[tuple[str, str]]:
    """What has to be said before a recording can be made of a file: where (a heading, or ``clock``), and a sentence."""
    if table.clock == "numbers":
        if said.clock_unit is None:
            yield "clock", f"Say in which unit {table.clock_heading!r} counts."
        if said.started_at is None:
            yield "clock", "Say when the clock was at zero: it counts, and names no time of day."
    elif table.first is not None and table.first.tzinfo is None and said.offset is None:
        yield "clock", "Say which offset from UTC its times have: none is written there."
    for at, column in enumerate(table.columns):
        if at not in said.places:
            yield column.heading, "Say what this column holds, or leave it out."
        elif (place := said.places[at]) is not None and (refusal := place.refusal):
            yield column.heading, refusal
    placed = Counter((place.station, place.quantity) for place in said.places.values() if place is not None)
    for (station, quantity), count in placed.items():
        if count > 1:
            last = max(
                at
                for at, one in said.places.items()
                if one and (one.station, one.quantity) == (station, quantity)
            )
            yield table.columns[last].heading, f"{station} {quantity} is there twice."
    if not placed and not table.marks:
        yield "", "Nothing of it is to be taken."
    if not len(table.moments):
        yield "", "No row of it can be used."

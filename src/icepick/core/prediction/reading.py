"""One reading as machines are held against it."""

from __future__ import annotations

from dataclasses import dataclass

from icepick.core.machine.stations import Place


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading [SI], its spread as one standard deviation, the instrument it shares with others, and its column."""

    place: Place
    value: float
    spread: float
    instrument: str
    column: int

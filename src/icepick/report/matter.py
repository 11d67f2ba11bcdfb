"""Everything a report is made of."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, tzinfo

from icepick.core.customer import Plain
from icepick.core.document.examination import Examination
from icepick.core.document.outcome import Outcome
from icepick.core.document.shop import Shop
from icepick.core.document.visit import Visit
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.report.language import Language


@dataclass(frozen=True, slots=True)
class ToldLine:
    """The outcome, the name of its fault, and when and by whom it was told."""

    outcome: Outcome
    title: str | None
    at: datetime
    by: str | None


@dataclass(frozen=True, slots=True)
class Picture:
    """A photo: what it is of, a line about it, and the JPEG."""

    about: str
    caption: str
    content: bytes


@dataclass(frozen=True, slots=True)
class Matter:
    """A visit for a report.

    ``people`` counts what each of those who had signed in entered, ``taken_back`` says what was taken back, ``set_aside``
    what could not be used. ``zone`` is that of all times.
    """

    number: int
    shop: Shop
    visit: Visit
    examination: Examination
    plain: Plain
    told: ToldLine | None
    opened_at: datetime
    closed_at: datetime | None
    reopened: Sequence[datetime]
    people: Mapping[str, int]
    taken_back: Sequence[str]
    set_aside: Sequence[str]
    photos: Sequence[Picture]
    practice: Practice
    units: UnitSystem
    zone: tzinfo
    language: Language

    def at(self, moment: datetime) -> str:
        """A moment in the report's zone, to the minute."""
        local = moment.astimezone(self.zone)
        return f"{local:%b} {local.day}, {local.year}, {local:%H:%M}"

    def clock(self, moment: datetime) -> str:
        """The time of day in the report's zone."""
        return f"{moment.astimezone(self.zone):%H:%M}"

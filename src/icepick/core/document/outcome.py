"""What it was in the end, and what the repair did: the truth a verdict is held to, once somebody knows it."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from icepick.core.document.base import Document, field_error
from icepick.core.document.codes import Text
from icepick.core.document.examination import Examination, Fault

Certainty = Literal["seen", "cured", "guessed"]
"""How it is known: the fault was seen when the part was opened, taken out or measured by itself; the repair cured it; or
nobody is sure."""
Repair = Literal["cured", "better", "unchanged", "none"]
"""What the repair did; ``none`` was made."""


class SaidOfFault(Document):
    fault: Fault
    probability: float


class Said(Document):
    """What was said of a visit before anybody knew: the headline and the ranking."""

    headline: str
    ranking: list[SaidOfFault]

    @classmethod
    def of(cls, examination: Examination) -> Said:
        """What an examination says."""
        shares: dict[Fault, float] = {}
        for one in examination.ranking:
            # In whichever of its circuits.
            shares[one.fault] = shares.get(one.fault, 0.0) + one.probability
        return cls(
            headline=examination.headline,
            ranking=[SaidOfFault(fault=fault, probability=share) for fault, share in shares.items()],
        )


class Outcome(Document):
    """``fault`` is what it was in the end (``none``: nothing was wrong), null where nobody knows; ``work`` what was done,
    ``for_customer`` the same in plain words."""

    fault: Fault | None
    certainty: Certainty | None
    repair: Repair
    work: Text | None = None
    for_customer: Text | None = None

    @model_validator(mode="after")
    def _known_somehow(self) -> Outcome:
        if (self.fault is None) != (self.certainty is None):
            raise field_error("certainty", "say how it is known where a fault is named, and only there.")
        if self.certainty == "cured" and self.repair not in ("cured", "better"):
            raise field_error("certainty", "a repair that changed nothing did not show what it was.")
        return self

    @property
    def truth(self) -> Fault | None:
        """The fault, where it is known well enough to hold a verdict to it."""
        return self.fault if self.certainty in ("seen", "cured") else None

"""What is thought of every hypothesis, and what that rests on."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from icepick.core.diagnosis.evidence import Term
from icepick.core.diagnosis.hypotheses import Hypothesis
from icepick.core.prediction.fit import Fit, Fitted


@dataclass(frozen=True, eq=False)
class Belief:
    """Hypotheses with their probabilities, and what they rest on. ``rows`` are the hypotheses' places in ``UNIVERSE``."""

    hypotheses: list[Hypothesis]
    rows: list[int]
    probabilities: NDArray[np.float64]
    terms: list[Term]
    recorded: frozenset[str] = frozenset()
    """Ids of the recordings among the runs."""

    @cached_property
    def fit(self) -> Fit | None:
        """How well machines fit the readings; None where none could be held against them."""
        return next((term.fit for term in self.terms if term.fit is not None), None)

    def answered(self, question: str, run: str | None) -> bool:
        """Whether a run answered a question of a table, or a recording did for every run."""
        return any(term.question == question and term.run in (run, *self.recorded) for term in self.terms)

    def fitted(self, place: int) -> Fitted | None:
        """How a hypothesis' machine fits; the sound one's where it shows in no reading; None where none could be held."""
        if self.fit is None:
            return None
        hypothesis = self.hypotheses[place]
        return self.fit.faults.get((hypothesis.fault, hypothesis.mode), self.fit.none)

"""What the readings can say, and how well each thing said fits each fault.

A *feature* is one question with a few possible outcomes: "does the slide stand as commanded?" Its table gives, for
each fault, the probability of every outcome; ``others`` stands for all faults not named. A row may name a mode
(``fault@heating``) or a variant of the fault (``fault/variant``). The figures are our own judgement of common
practice and physics, each with its reason; what matters is their order of size. Readings that cannot carry a verdict
say nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit import FlowMode
from icepick.core.context import RunContext
from icepick.core.diagnosis.hypotheses import UNIVERSE, Hypothesis
from icepick.core.examination import Check
from icepick.core.visit import QuantityName

Effort = Literal["look", "clamp", "probe", "meter", "gauge"]
Spot = tuple[str, QuantityName]
Checks = Mapping[str, Check]


@dataclass(frozen=True, eq=False)
class Feature:
    """One question to the readings of a run.

    ``observe`` gives the outcome or None while it can't be told; ``spots`` lists what must be read for it on this
    run, empty where it does not apply; ``words`` says each outcome in a few words; ``rows`` is the table.
    """

    name: str
    outcomes: tuple[str, ...]
    words: Mapping[str, str]
    reason: str
    rows: Mapping[str, tuple[float, ...]]
    observe: Callable[[RunContext, Checks], str | None]
    spots: Callable[[RunContext], list[Spot]]
    applies: Callable[[RunContext], bool] = field(default=lambda context: context.commanded is not None)

    @cached_property
    def tables(self) -> Mapping[FlowMode | None, NDArray[np.float64]]:
        """For a run of each mode, the probability of each outcome (columns) under each hypothesis there can be (rows,
        as in ``UNIVERSE``)."""
        modes: tuple[FlowMode | None, ...] = (None, "cooling", "heating")
        return {mode: np.array([self._row(h, mode) for h in UNIVERSE]) for mode in modes}

    def _row(self, hypothesis: Hypothesis, mode: FlowMode | None) -> tuple[float, ...]:
        fault = hypothesis.shows_as(mode)
        keys = (f"{fault}/{hypothesis.variant}", f"{fault}@{mode}", fault, "others")
        return next(self.rows[key] for key in keys if key in self.rows)


def by_status(check: str, **outcomes: str) -> Callable[[RunContext, Checks], str | None]:
    """The outcome that a check's status stands for; a status not named says nothing."""

    def observe(context: RunContext, checks: Checks) -> str | None:
        found = checks.get(check)
        return outcomes.get(found.status) if found else None

    return observe


def temperatures(*stations: str) -> list[Spot]:
    """The spots of several temperatures."""
    return [(station, "temperature") for station in stations]

"""What the readings can say, and how well each thing said fits each fault.

A *feature* is one question with a few possible outcomes: "does the slide stand as commanded?" Its table gives, for
each fault, the probability of every outcome; ``others`` stands for all faults not named. A row may name a mode
(``fault@heating``) or a variant of the fault (``fault/variant``). The figures are our own judgement of common
practice and physics, each with its reason; what matters is their order of size. Runs come here by those readings alone
that may carry a judgement, and whatever a check judges is taken from that check.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.hypotheses import UNIVERSE, Hypothesis
from icepick.core.document.examination import Check
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import ObservationCode, QuantityName

Spot = tuple[str, QuantityName]
Checks = Mapping[str, Check]


@dataclass(frozen=True, eq=False)
class Feature:
    """One question to the readings of a run.

    ``observe`` gives the outcome or None while it can't be told; ``spots`` lists what must be read for it on this
    run, empty where it does not apply; ``words`` says each outcome in a few words; ``rows`` is the table. ``look`` is the
    observation that answers it where no instrument does.

    Raises
    ------
    ValueError
        A row names no fault, mode or variant there is, or does not give every outcome a probability: a fault that is
        misspelled must not turn into one of the others.
    """

    name: str
    outcomes: tuple[str, ...]
    words: Mapping[str, str]
    reason: str
    rows: Mapping[str, tuple[float, ...]]
    observe: Callable[[RunContext, Checks], str | None]
    spots: Callable[[RunContext], list[Spot]]
    applies: Callable[[RunContext], bool] = field(default=lambda context: in_operation(context))
    look: ObservationCode | None = None

    def __post_init__(self) -> None:
        for key, row in self.rows.items():
            if key not in _ROW_NAMES:
                raise ValueError(f"{self.name}: {key!r} is no hypothesis")
            if len(row) != len(self.outcomes) or abs(sum(row) - 1) > 1e-9 or min(row) <= 0:
                raise ValueError(f"{self.name}: {key!r} does not share out its outcomes")
        if "others" not in self.rows or set(self.words) != set(self.outcomes):
            raise ValueError(f"{self.name}: every fault needs a row and every outcome its words")

    @cached_property
    def tables(self) -> Mapping[FlowMode | None, NDArray[np.float64]]:
        """For a run of each mode, the probability of each outcome (columns) under each hypothesis there can be (rows,
        as in ``UNIVERSE``)."""
        modes: tuple[FlowMode | None, ...] = (None, "cooling", "heating")
        return {mode: np.array([self._row(h, mode) for h in UNIVERSE]) for mode in modes}

    @cached_property
    def apart(self) -> Mapping[FlowMode | None, NDArray[np.float64]]:
        """How far the answers of any two hypotheses lie apart in a run of each mode: 0 alike, 2 never the same."""
        return {mode: np.abs(rows[:, None] - rows).sum(axis=2) for mode, rows in self.tables.items()}

    def _row(self, hypothesis: Hypothesis, mode: FlowMode | None) -> tuple[float, ...]:
        fault = hypothesis.shows_as(mode)
        keys = (f"{fault}/{hypothesis.variant}", f"{fault}@{mode}", fault, "others")
        return next(self.rows[key] for key in keys if key in self.rows)


_ROW_NAMES = frozenset(
    {"others"}
    | {key for h in UNIVERSE for key in (h.fault, f"{h.fault}@cooling", f"{h.fault}@heating")}
    | {f"{h.fault}/{h.variant}" for h in UNIVERSE if h.variant}
)


def in_operation(context: RunContext) -> bool:
    """Whether the run heats or cools as it was told: only then have its coils and metering devices their usual roles. A
    defrost neither settles nor is meant to exchange as usual.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False for a defrost, and for a circuit that runs the other way.
    """
    as_told = context.apparent in (context.commanded, "unknown")
    return context.commanded is not None and as_told and not context.defrosting


def by_status(check: str, **outcomes: str) -> Callable[[RunContext, Checks], str | None]:
    """The outcome that a check's status stands for; a status not named says nothing.

    Parameters
    ----------
    check : str
        Code of the check.

    Returns
    -------
    callable
        Of a run and its checks.
    """

    def observe(context: RunContext, checks: Checks) -> str | None:
        found = checks.get(check)
        return outcomes.get(found.status) if found else None

    return observe


def by_side(check: str, low: str, right: str, high: str) -> Callable[[RunContext, Checks], str | None]:
    """The outcome by the side on which a check found its figure: within its band, below or above what it was held to.

    A check that was held to nothing says nothing, and neither does one whose figure lies near an edge.

    Parameters
    ----------
    check : str
        Code of the check.
    low : str
        The outcome below the band.
    right : str
        The outcome within it.
    high : str
        The outcome above it.

    Returns
    -------
    callable
        Of a run and its checks.
    """

    def observe(context: RunContext, checks: Checks) -> str | None:
        found = checks.get(check)
        if found is None or found.measured is None or found.limit is None or found.margin is None:
            return None
        if found.status == "pass":
            return right
        if abs(found.margin) <= found.measured.uncertainty:
            return None
        return high if found.measured.value > found.limit.value else low

    return observe


def temperatures(*stations: str) -> list[Spot]:
    """The spots of several temperatures.

    Parameters
    ----------
    *stations : str
        Their codes.

    Returns
    -------
    list of Spot
        Station and quantity.
    """
    return [(station, "temperature") for station in stations]

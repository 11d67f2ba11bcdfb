"""What can be said of a visit, and how well each thing said fits each fault.

Whatever speaks of faults does it as :class:`Term`: a log-likelihood for each hypothesis. What temperatures, pressures and
currents say comes from the machine model; what no such reading shows, from tables.

A *feature* is one question of a table with a few possible outcomes: "does the slide stand as commanded?" It gives, for
each fault, the probability of every outcome; ``others`` stands for all faults not named. A row may name a mode
(``fault@heating``) or a variant of the fault (``fault/variant``). The figures are our own judgement of common
practice and physics, each with its reason; what matters is their order of size. Runs come here by those readings alone
that may carry a judgement, and whatever a check judges is taken from that check.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.hypotheses import UNIVERSE, Hypothesis
from icepick.core.document.codes import QuantityName, SightCode
from icepick.core.document.examination import Check
from icepick.core.document.roles import FlowMode
from icepick.core.prediction.fit import Fit

Spot = tuple[str, QuantityName]
Checks = Mapping[str, Check]


@dataclass(frozen=True, slots=True)
class JudgedRun:
    """A run by the readings that may carry a judgement, with the checks that rest on them, by code. ``signs`` names what a
    check of a recording found where its status does not say it; ``recorded`` where the run is what a recording shows."""

    context: RunContext
    checks: Checks
    signs: Mapping[str, str] = field(default_factory=dict)
    recorded: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Term:
    """One thing said of the visit: in a few words, by which run (None: by all together) and which readings, and its
    log-likelihood under each hypothesis.

    ``question`` names what was answered. ``speaks`` is how many times likelier than on average it must be under a fault to be
    said to speak for it. ``fit`` is there where machines were held against the readings.
    """

    words: str
    run: str | None
    spots: tuple[Spot, ...]
    log_likelihood: NDArray[np.float64]
    question: str
    speaks: float = 2.0
    fit: Fit | None = None


class Evidence(Protocol):
    """Anything that speaks of faults."""

    def terms(self, runs: Sequence[JudgedRun], hypotheses: Sequence[Hypothesis]) -> list[Term]:
        """What it has to say of some runs under each hypothesis."""


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
    look: SightCode | None = None

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

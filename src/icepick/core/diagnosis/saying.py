"""What is said of each fault of the ranking: for and against it, how bad, which reading is suspect, what it would show."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import Term
from icepick.core.diagnosis.hypotheses import RANKED
from icepick.core.diagnosis.reasons import Reason, apart, not_explained, reasons
from icepick.core.diagnosis.severity import severity
from icepick.core.diagnosis.suspect import suspected
from icepick.core.document.examination import Compared, Fault, Foretold, Severity, Suspect
from icepick.core.document.heads import as_described
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import station
from icepick.core.document.wording import display
from icepick.core.handbook.fault_on_unit import title_on
from icepick.core.machine.expected import COVERAGE
from icepick.core.machine.faults import machine_fault
from icepick.core.prediction.told_figures import place as shown_at

Array = NDArray[np.float64]


_RIVALS: dict[Fault, str] = {
    "none": "a sound unit",
    "reading_suspect": "a sound unit with one reading wrong",
}
"""What a fault is told apart from, where the title of the other says no machine."""


class Said:
    """Everything said of the faults of one visit."""

    def __init__(self, belief: Belief, context: RunContext) -> None:
        self._belief, self._context = belief, context
        self._spoken = [term for term in belief.terms if term.words]
        self._faults = np.array([RANKED.index(h.fault) for h in belief.hypotheses])
        self._ratios = self._beside_the_others() if self._spoken else np.ones((0, len(self._faults)))

    def _beside_the_others(self) -> Array:
        """How many times as likely each answer is under each hypothesis as under those of other faults on average."""
        likelihoods = np.exp([term.log_likelihood for term in self._spoken])
        others = (self._faults[:, None] != self._faults).astype(float)
        return np.asarray(likelihoods / (likelihoods @ (others / others.sum(axis=0))))

    def best(self, fault: Fault) -> int:
        """The likeliest hypothesis of a fault, by its place."""
        return int(((self._faults == RANKED.index(fault)) * (self._belief.probabilities + 1e-300)).argmax())

    def about(self, best: int, *, numbers: bool) -> tuple[list[str], list[str], list[Compared]]:
        """What speaks for a hypothesis and against it, the strongest first, and the numbers among that."""
        found = self._reasons(best) if numbers else []
        said = [(reason.strength, reason.compared.words) for reason in found]
        said += [(strength, term.words) for term, strength in self._by_tables(best)]
        said.sort(key=lambda one: -abs(one[0]))
        return (
            list(dict.fromkeys(words for strength, words in said if strength > 0)),
            list(dict.fromkeys(words for strength, words in said if strength < 0)),
            [reason.compared for reason in found],
        )

    def _reasons(self, best: int) -> list[Reason]:
        fit, own = self._belief.fit, self._belief.fitted(best)
        if fit is None or own is None:
            return []
        sound = self._belief.hypotheses[best].fault == "none"
        if not sound:
            return [] if own is fit.none else reasons(fit, own, fit.none, sound=False)
        order = np.argsort(-self._belief.probabilities)
        others = (self._belief.fitted(int(place)) for place in order)
        against = next((one for one in others if one is not None and one is not fit.none), None)
        return [] if against is None else reasons(fit, own, against, sound=True)

    def _by_tables(self, best: int) -> list[tuple[Term, float]]:
        """Answers at least so many times as likely, or as unlikely, under it as under the others on average."""
        return [
            (term, float(np.log(ratio)))
            for term, ratio in zip(self._spoken, self._ratios[:, best], strict=True)
            if ratio >= term.speaks or ratio * term.speaks <= 1
        ]

    def severity(self, best: int) -> Severity | None:
        """How bad it is; None where that has no meaning."""
        fault, fitted = machine_fault(self._belief.hypotheses[best].fault), self._belief.fitted(best)
        if fault is None or fitted is None or self._belief.fit is None or fitted is self._belief.fit.none:
            return None
        return severity(fault, fitted, self._context.unit, self._context.units)

    def suspect(self, best: int) -> Suspect | None:
        """Which reading is wrong, of a sound machine or beside a fault; None where physics has named it already."""
        return suspected(self._belief, best)

    def apart(self, best: int, other: Fault | None, only: FlowMode | None) -> str:
        """What separates it from the fault after it."""
        fit, own = self._belief.fit, self._belief.fitted(best)
        if fit is None or own is None or other is None:
            return ""
        place = self.best(other)
        second = self._belief.fitted(place)
        if second is None or second is own:
            return ""
        mode = self._belief.hypotheses[place].mode
        rival = _RIVALS.get(other) or title_on(self._context.unit, other, mode or only)
        return apart(fit, own, second, rival)

    def not_explained(self, best: int) -> list[str]:
        """What it does not explain, and a sound unit neither."""
        fit, own = self._belief.fit, self._belief.fitted(best)
        return [] if fit is None or own is None else not_explained(fit, own)

    def foretold(self, best: int) -> dict[str, dict[str, Foretold]]:
        """What it would show at every station of every run that was made."""
        fit, own = self._belief.fit, self._belief.fitted(best)
        if fit is None or own is None:
            return {}
        known = set(stations_of_unit(self._context.unit))
        found: dict[str, dict[str, Foretold]] = {}
        for k, held in enumerate(fit.stack.runs):
            if not held.readings:
                continue
            places = {
                as_described(held.context.unit, code): told
                for code, quantity in held.foretold.places
                if code in known
                and quantity in ("temperature", "pressure")
                and (told := self._place(k, best, code, quantity)) is not None
            }
            found[held.context.run.id] = places
        return found

    def _place(self, k: int, best: int, code: str, quantity: str) -> Foretold | None:
        own = self._belief.fitted(best)
        shown = shown_at(own, k, (code, quantity)) if own is not None else None
        if shown is None:
            return None
        entry = station(code).quantities[quantity]
        reach = COVERAGE * shown.spread
        (value, unit), (low, _), (high, _) = (
            display(number, entry.kind, self._context.units, self._context.atmosphere)
            for number in (shown.value, shown.value - reach, shown.value + reach)
        )
        return Foretold(quantity=quantity, value=value, low=low, high=high, unit=unit)  # type: ignore[arg-type]

"""Several circuits of one unit under one ranking and one verdict.

Each circuit is judged by itself, beside its siblings: p_c(f) is what its own readings leave of fault f. What is wrong with
the unit is nothing, or something in one of its circuits, in several, or in what they share (air, water, control power, the
convention of the thermostat). For circuits S at fault and the others sound, and π(f) what was thought of f beforehand,

    w(S) = κ^(|S|−1) Π_{c∈S} (1 − p_c(none)) Π_{c∉S} p_c(none),    w(f of all) = Π_c p_c(f) · (π(none) / π(f))^(n−1).

What several circuits are at fault for is shared out among their faults.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import prod

from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.hypotheses import RANKED, prior
from icepick.core.document.codes import Complaint
from icepick.core.document.examination import CircuitExamination, Fault, NextReading, RankedFault, Status
from icepick.core.document.wording import listing

SHARED: frozenset[Fault] = frozenset(
    {
        "indoor_airflow_low",
        "outdoor_airflow_low",
        "source_water_flow_low",
        "control_power_missing",
        "valve_convention_wrong",
    }
)
"""Faults of what the circuits of a unit have in common."""

_ALSO = 0.1
"""κ: that a second circuit is at fault for itself is so much less likely than its readings alone say. [our own choice]"""


_OWN = 0.1
"""How often what circuits share fails one of them alone: half a coil that is dirty, a board that is set otherwise. [our own
choice]"""


def shared(siblings: Sequence[Belief], complaint: Complaint | None) -> dict[Fault, float]:
    """What sibling circuits leave of the faults of what they share: one that runs as it should speaks against them.

    Parameters
    ----------
    siblings : sequence of Belief
        What is thought of each of the others, by itself.
    complaint : Complaint or None
        What the customer says.

    Returns
    -------
    dict of Fault to float
        A share of each one's weight, 1 where nothing speaks against it.
    """
    left = dict.fromkeys(SHARED, 1.0)
    for belief in siblings:
        before, after = _beforehand(belief, complaint), _by_fault(belief, belief.probabilities)
        for fault in SHARED & set(before):
            fits = after[fault] * before["none"] / (before[fault] * max(after["none"], _LEAST))
            left[fault] *= _OWN + (1 - _OWN) * min(1.0, fits)
    return left


_LEAST = 1e-12


@dataclass(frozen=True, slots=True)
class OfCircuit:
    """A circuit's ranking, and what it rests on; None where nothing that counts was read."""

    id: str
    ranking: Sequence[RankedFault]
    belief: Belief | None


def joint_ranking(circuits: Sequence[OfCircuit], complaint: Complaint | None) -> list[RankedFault]:
    """One ranking of the unit.

    Parameters
    ----------
    circuits : sequence of OfCircuit
        In the unit's order.
    complaint : Complaint or None
        What the customer says.

    Returns
    -------
    list of RankedFault
        Most likely first; their probabilities sum to 1. Empty while nothing that counts was read.
    """
    read = [one for one in circuits if one.belief is not None]
    if not read:
        return []
    after = {one.id: _by_fault(one.belief, one.belief.probabilities) for one in read if one.belief}
    weights = _of_each(after)
    if len(read) > 1:
        before = {one.id: _beforehand(one.belief, complaint) for one in read if one.belief}
        weights |= _of_all(after, before)
    whole = sum(weights.values())
    entries = {(one.id, ranked.fault): ranked for one in read for ranked in one.ranking}
    found = []
    for (circuit, fault), weight in weights.items():
        of = circuit or max(after, key=lambda id: after[id].get(fault, 0.0))
        if (of, fault) in entries:
            entry = entries[of, fault]
            title = entry.title if circuit is None else f"{entry.title}, circuit {circuit}"
            changes = {"probability": round(weight / whole, 6), "circuit": circuit, "title": title}
            found.append(entry.model_copy(update=changes))
    order = {one.id: place for place, one in enumerate(read)}
    return sorted(
        found,
        key=lambda one: (-one.probability, RANKED.index(one.fault), order.get(one.circuit or "", -1)),
    )


Weights = dict[tuple[str | None, Fault], float]


def _of_each(after: Mapping[str, Mapping[Fault, float]]) -> Weights:
    """What is wrong with some of the circuits, each for itself; with none of them."""
    sound = {id: shares.get("none", 0.0) for id, shares in after.items()}
    found: Weights = {(None, "none"): prod(sound.values())}
    blamed = dict.fromkeys(after, 0.0)
    for count in range(1, len(after) + 1):
        for at_fault in combinations(after, count):
            weight = _ALSO ** (count - 1) * prod(
                1 - share if id in at_fault else share for id, share in sound.items()
            )
            for id in at_fault:
                blamed[id] += weight / count
    for id, shares in after.items():
        wrong = sum(share for fault, share in shares.items() if fault != "none")
        for fault, share in shares.items():
            if fault != "none" and wrong > 0:
                found[id, fault] = blamed[id] * share / wrong
    return found


def _of_all(
    after: Mapping[str, Mapping[Fault, float]], before: Mapping[str, Mapping[Fault, float]]
) -> Weights:
    """What is wrong with something all circuits share."""
    first = next(iter(before.values()))
    return {
        (None, fault): prod(shares[fault] for shares in after.values())
        * (first["none"] / first[fault]) ** (len(after) - 1)
        for fault in SHARED
        if all(fault in shares for shares in (*after.values(), *before.values()))
    }


def _by_fault(belief: Belief, weights: Iterable[float]) -> dict[Fault, float]:
    found: dict[Fault, float] = {}
    for hypothesis, weight in zip(belief.hypotheses, weights, strict=True):
        found[hypothesis.fault] = found.get(hypothesis.fault, 0.0) + float(weight)
    whole = sum(found.values())
    return {fault: share / whole for fault, share in found.items()}


def _beforehand(belief: Belief, complaint: Complaint | None) -> dict[Fault, float]:
    return _by_fault(belief, [prior(one, complaint) for one in belief.hypotheses])


_WORST: tuple[Status, ...] = ("fail", "watch", "needs_readings", "pass")
UNREAD = "Not read yet"


def worst_first(circuits: Sequence[CircuitExamination]) -> list[CircuitExamination]:
    """The circuits with what matters most first, otherwise in the unit's order.

    Parameters
    ----------
    circuits : sequence of CircuitExamination
        In the unit's order.

    Returns
    -------
    list of CircuitExamination
        As many.
    """
    return sorted(circuits, key=lambda one: (one.lead != "danger", _WORST.index(one.outcome)))


def joint_headline(said: Sequence[tuple[str, str]], order: Sequence[str]) -> str:
    """What is said of each circuit, said once where it is the same of several.

    Parameters
    ----------
    said : sequence of (str, str)
        Id of the circuit and its headline; what matters most first.
    order : sequence of str
        The ids as the unit has them.

    Returns
    -------
    str
        *Circuit 1: …; circuits 2 and 3: …*
    """
    of: dict[str, list[str]] = {}
    for circuit, words in said:
        of.setdefault(words, []).append(circuit)
    parts = [
        f"{'Circuit' if len(ids) == 1 else 'Circuits'} {listing(sorted(ids, key=order.index))}: {words}"
        for words, ids in of.items()
    ]
    return "; ".join([parts[0], *(part[0].lower() + part[1:] for part in parts[1:])])


def joint_verdict(headline: str, circuits: Sequence[CircuitExamination]) -> str:
    """The headline, and what else is said of the circuit that matters most, by its name where others are told of otherwise.

    Parameters
    ----------
    headline : str
        Of the unit.
    circuits : sequence of CircuitExamination
        Worst first.

    Returns
    -------
    str
        The headline and at most two sentences more.
    """
    worst = circuits[0]
    rest = worst.verdict.removeprefix(worst.headline).removeprefix(".").strip()
    if rest and any(one.headline != worst.headline for one in circuits):
        rest = f"Circuit {worst.id}: {rest}"
    return f"{headline}. {rest}".strip()


def joint_next(circuits: Sequence[CircuitExamination]) -> list[NextReading]:
    """What to read next on the unit: on the circuit that matters most first, and the end of the list once.

    Parameters
    ----------
    circuits : sequence of CircuitExamination
        Worst first.

    Returns
    -------
    list of NextReading
        Each says on which circuit.
    """
    every = [one for circuit in circuits for one in circuit.next_readings]
    going_on = [one for one in every if not one.stop]
    return going_on or every[:1]

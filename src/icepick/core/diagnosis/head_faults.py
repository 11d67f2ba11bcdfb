"""What may be wrong with the heads of a unit that has several, and which of them it leaves fed, bleeding or still."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.heads import ENDS, End
from icepick.core.document.examination import Fault
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import MOST_HEADS

LINES, WIRES = "lines", "wires"
"""What of two heads may be exchanged: with the lines the right valve opens and the wrong head is fed, with the wires the
wrong valve opens."""
_OF_ONE: tuple[Fault, ...] = ("head_meter_leaking", "head_meter_closed")
OF_HEADS: frozenset[Fault] = frozenset({*_OF_ONE, "heads_crossed"})

Chances = tuple[float, float, float]
State = Literal["still", "some", "fed"]
STATES: tuple[State, State, State] = ("still", "some", "fed")
"""As a head's pipes show it: under ``head_still`` of the way to the refrigerant; between; over ``head_fed``, of pipes in
heating over ``head_bleeds_most``."""
Way = Literal["fed", "starved", "idle", "leaking"]
"""What a head's valve does: feeds a head that calls, fails to; is shut (in heating nearly) as it should be, fails to."""

_IN_COOLING: dict[Way, Chances] = {
    "fed": (0.02, 0.08, 0.90),
    "starved": (0.90, 0.08, 0.02),
    "idle": (0.94, 0.05, 0.01),
    "leaking": (0.05, 0.35, 0.60),
}
_OF_AIR: dict[Way, Chances] = {**_IN_COOLING, "leaking": _IN_COOLING["fed"], "idle": _IN_COOLING["starved"]}
_CHANCES: dict[tuple[FlowMode, End], dict[Way, Chances]] = {
    ("cooling", "outdoors"): _IN_COOLING,
    ("cooling", "indoors"): _IN_COOLING,
    ("heating", "outdoors"): {
        "fed": (0.02, 0.53, 0.45),
        "starved": (0.88, 0.10, 0.02),
        "idle": (0.30, 0.66, 0.04),
        "leaking": (0.02, 0.23, 0.75),
    },
    ("heating", "indoors"): {
        "fed": (0.01, 0.11, 0.88),
        "starved": (0.88, 0.10, 0.02),
        "idle": (0.22, 0.70, 0.08),
        "leaking": (0.02, 0.13, 0.85),
    },
    ("cooling", "air"): _OF_AIR,
    ("heating", "air"): _OF_AIR,
}
"""How often each state is seen, by what the valve does. In heating the liquid of a head that is fed leaves well under its
condensing temperature, and an idle valve bleeds by design, so that outdoors the two lie close. What a fan blows over a head
that is fed changes, whoever feeds it. [our own judgement of common practice]"""


def chances(mode: FlowMode, end: End, way: Way) -> NDArray[np.float64]:
    """How often each state is seen.

    Parameters
    ----------
    mode : FlowMode
        The way the refrigerant runs.
    end : End
        Where it is read.
    way : Way
        What the valve does.

    Returns
    -------
    ndarray, shape (3,)
        In the order of ``STATES``.
    """
    return np.array(_CHANCES[mode, end][way])


@dataclass(frozen=True, slots=True)
class HeadFault:
    """A fault of one head or of two."""

    fault: Fault
    heads: tuple[int, ...]
    exchanged: str = ""

    @property
    def variant(self) -> str:
        """What tells it from the same fault of other heads."""
        numbers = " and ".join(map(str, self.heads))
        return f"{self.exchanged} of heads {numbers}" if self.exchanged else f"head {numbers}"

    def way(self, number: int, end: End, calling: Sequence[int]) -> Way:
        """What the valve does that feeds a head, at one end of its pipes.

        Parameters
        ----------
        number : int
            The head's, outdoors the port's.
        end : End
            Where it is read.
        calling : sequence of int
            Numbers of the heads that call.

        Returns
        -------
        Way
            As it should where the fault is none of this head's.
        """
        calls = number in calling
        if number in self.heads:
            if self.fault == "head_meter_leaking" and not calls:
                return "leaking"
            if self.fault == "head_meter_closed" and calls:
                return "starved"
            if self.fault == "heads_crossed" and (self.exchanged == WIRES or end != "outdoors"):
                (other,) = set(self.heads) - {number}
                calls = other in calling
        return "fed" if calls else "idle"


def faults_of(count: int) -> tuple[HeadFault, ...]:
    """Every fault that so many heads can have.

    Parameters
    ----------
    count : int
        How many there are.

    Returns
    -------
    tuple of HeadFault
        Of one head, then of each pair.
    """
    numbers = range(1, count + 1)
    return (
        *(HeadFault(fault, (n,)) for fault in _OF_ONE for n in numbers),
        *(
            HeadFault("heads_crossed", pair, what)
            for pair in combinations(numbers, 2)
            for what in (LINES, WIRES)
        ),
    )


BY_VARIANT: dict[tuple[Fault, str], HeadFault] = {
    (one.fault, one.variant): one for one in faults_of(MOST_HEADS)
}


def in_question(count: int, called: Iterable[Sequence[int]]) -> list[HeadFault]:
    """The faults of heads that some runs can show.

    Parameters
    ----------
    count : int
        How many heads the unit has.
    called : iterable of sequence of int
        Of each run, the numbers of the heads that call.

    Returns
    -------
    list of HeadFault
        Those that leave some head of some run otherwise than it should be.
    """
    sound = HeadFault("none", ())
    runs = [tuple(calling) for calling in called]

    def shows(fault: HeadFault) -> bool:
        return any(
            fault.way(n, end, calling) != sound.way(n, end, calling)
            for calling in runs
            for n in fault.heads
            for end in ENDS
        )

    return [fault for fault in faults_of(count) if shows(fault)]


def title_of(fault: HeadFault) -> str:
    """What a technician calls it.

    Parameters
    ----------
    fault : HeadFault
        With its heads.

    Returns
    -------
    str
        For a ticket.
    """
    numbers = " and ".join(map(str, fault.heads))
    if fault.fault == "heads_crossed":
        return f"{fault.exchanged or 'lines or wires'} of heads {numbers} exchanged"
    how = "leaking" if fault.fault == "head_meter_leaking" else "not opening"
    return f"EEV of head {numbers} {how}"

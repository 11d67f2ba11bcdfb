"""What an apprentice says it is: faults and how bad, how sure, what speaks for it, what was ruled out, what would be done."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from icepick.bench.acts import RepairIt
from icepick.bench.case import Case, Trouble
from icepick.bench.playing import Done, judged
from icepick.bench.repairs import every_repair
from icepick.core.circuit.graph import meters
from icepick.core.diagnosis.hypotheses import hypotheses
from icepick.core.diagnosis.rule_outs import by_hand, part_on, rule_outs
from icepick.core.document.base import Document
from icepick.core.document.examination import Fault, RuleOut
from icepick.core.document.roles import FlowMode
from icepick.core.handbook.fault_on_unit import title_on
from icepick.core.machine.faults import machine_fault

Band = Literal["slight", "moderate", "grave"]
BANDS: tuple[Band, ...] = ("slight", "moderate", "grave")


class SaidFault(Document):
    """A fault; ``where`` is the mode whose part it sits in, ``band`` how bad, each null where it has none."""

    fault: Fault
    where: FlowMode | None = None
    band: Band | None = None


class Saying(Document):
    """``faults`` is empty for nothing wrong; ``speaks_for`` are numbers of steps; ``would_do`` names repairs by their
    faults."""

    faults: Annotated[list[SaidFault], Field(max_length=2)]
    confidence: Annotated[FiniteFloat, Field(ge=0.5, le=0.99)]
    speaks_for: list[int] = Field(default=[], max_length=500)
    ruled_out: list[str] = Field(default=[], max_length=50)
    would_do: list[Fault] = Field(default=[], max_length=5)


class Sayable(Document):
    """A fault that could be named: its title on this unit, its bands in words, and what is ruled out before its part goes."""

    fault: Fault
    where: FlowMode | None
    title: str
    bands: dict[Band, str]
    rule_out: list[str]
    replaces: str | None
    would_do: str
    minutes: float
    dollars: int


def choices(case: Case) -> list[Sayable]:
    """Everything that could be said of a unit, the same whatever is wrong with it.

    Parameters
    ----------
    case : Case
        The unit.

    Returns
    -------
    list of Sayable
        In the order of the ranking; nothing wrong is not among them.
    """
    every = hypotheses(
        case.unit,
        ["heating", "cooling"],
        case.complaint,
        defrosted=True,
        circuits_seen=True,
        sensors_read=True,
        ice_can_be=True,
        recorded=True,
    )
    found: dict[tuple[Fault, FlowMode | None], Sayable] = {}
    runs = judged(case, [])
    for one in every:
        if one.fault in ("none", "reading_suspect") or (one.fault, one.mode) in found:
            continue
        repair = every_repair()[one.fault]
        found[one.fault, one.mode] = Sayable(
            fault=one.fault,
            where=one.mode,
            title=_title(case, one.fault, one.mode),
            bands=_bands(one.fault),
            rule_out=[point.text for point in rule_outs(one.fault, runs, one.mode)],
            replaces=part_on(case.unit, one.fault, one.mode),
            would_do=repair.words,
            minutes=repair.minutes,
            dollars=repair.dollars,
        )
    return list(found.values())


def _title(case: Case, fault: Fault, mode: FlowMode | None) -> str:
    said = title_on(case.unit, fault, mode)
    return said if mode is None or "door" in said else f"{said} (in {mode})"


def _bands(fault: Fault) -> dict[Band, str]:
    known = machine_fault(fault)
    if known is None or known.backwards:
        return {}
    low, high = _edges(known.amounts)
    unit = "%" if known.unit == "percent" else known.unit
    return {
        "slight": f"under {low:g} {unit} {known.words}",
        "moderate": f"{low:g} to {high:g} {unit} {known.words}",
        "grave": f"over {high:g} {unit} {known.words}",
    }


def _edges(amounts: Sequence[float]) -> tuple[float, float]:
    return (amounts[0] + amounts[1]) / 2, (amounts[1] + amounts[2]) / 2


def band_of(trouble: Trouble) -> Band | None:
    """How bad a fault is, in a word; None where it knows no amount."""
    known = machine_fault(trouble.fault)
    if known is None or known.backwards:
        return None
    low, high = _edges(known.amounts)
    return "slight" if trouble.severity < low else "moderate" if trouble.severity <= high else "grave"


def open_points(case: Case, done: Sequence[Done], said: Saying) -> list[RuleOut]:
    """What was still open, or spoke against it, before a part was condemned.

    Parameters
    ----------
    case : Case
        What is practiced on.
    done : sequence of Done
        The steps.
    said : Saying
        What was said; a part is condemned where its repair would be done, or was.

    Returns
    -------
    list of RuleOut
        Empty where nothing is condemned, or everything was settled.
    """
    # A part that was replaced on the way is condemned by what was known then.
    replaced = [
        (one.step.fault, one.step.where, n) for n, one in enumerate(done) if isinstance(one.step, RepairIt)
    ]
    before = {fault for fault, _, _ in replaced}
    condemned = [
        *replaced,
        *(
            (f.fault, f.where, len(done))
            for f in said.faults
            if f.fault in said.would_do and f.fault not in before
        ),
    ]
    found: dict[str, RuleOut] = {}
    for fault, where, known in condemned:
        if part_on(case.unit, fault, where) is None:
            continue
        hands = by_hand(fault) & set(said.ruled_out)
        for point in rule_outs(fault, judged(case, done[:known]), where):
            if point.status != "done" and point.text not in hands:
                found.setdefault(point.text, point)
    return list(found.values())


def same_place(case: Case, said: SaidFault, trouble: Trouble) -> bool:
    """Whether what was said is what is wrong: the fault, and of two devices the right one."""
    if said.fault != trouble.fault:
        return False
    one_device = meters(case.unit, "heating")[0] == meters(case.unit, "cooling")[0]
    return trouble.where is None or said.where is None or one_device or said.where == trouble.where

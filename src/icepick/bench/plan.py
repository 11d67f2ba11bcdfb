"""What an expert would have done: the next-reading planner at work on the case, from the same start and with the same kit.

It knows nothing of the truth. It takes what the planner asks for, repairs what it is sure of, and reads on where something
was.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from icepick.bench import acts
from icepick.bench.acts import (
    Careful,
    ForceDefrost,
    Logger,
    LookAt,
    RepairIt,
    Step,
    Switch,
    Take,
    Wait,
    needs,
)
from icepick.bench.case import Case, at_hand
from icepick.bench.looks import ANSWERED_BY, looks_on
from icepick.bench.playing import Done, RefusedError, do, judged, runs_of, visit_of
from icepick.bench.repairs import repair_of
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.diagnosis.rule_outs import ToSettle, to_settle
from icepick.core.document.base import Document
from icepick.core.document.examination import Examination, Fault, NextReading
from icepick.core.document.roles import FlowMode
from icepick.core.examine import examine, probabilities
from icepick.core.practice import DEFAULT_PRACTICE

SURE = 0.75
"""A fault that leads by so much is decided. [our own choice]"""
_MOST_TURNS = 2
"""Times the unit is turned round: once, and back."""
_MOST = 45
"""Steps after which it gives up."""

Without = Callable[[Step], bool]


class Plan(Document):
    """The steps of an expert; ``said`` is what it takes to be wrong, ``decided`` the minute from which on that stood, null
    where it never did, ``minutes`` what reading took in all, repair_of not counted."""

    steps: list[Done]
    said: list[Fault]
    decided: float | None
    minutes: float


def plan(case: Case, without: Without = lambda step: False) -> Plan:
    """Work on a case as the planner says.

    Parameters
    ----------
    case : Case
        What is practiced on.
    without : callable
        Steps that are not to be taken, such as the key one.

    Returns
    -------
    Plan
        What an expert would have done.
    """
    done: list[Done] = []
    if case.ran < acts.SETTLES:
        done.append(do(case, done, Wait(act="wait", minutes=max(1.0, acts.SETTLES - case.ran))))
    said: list[Fault] = []
    standing: Fault | None = None
    decided: float | None = None
    while len(done) < _MOST:
        after = bool(said)
        found = examine(visit_of(case, done, after_only=after))
        lead = found.ranking[0] if found.ranking else None
        sure = lead is not None and lead.probability >= SURE
        leads = lead.fault if lead is not None and sure else None
        if leads != standing:
            standing, decided = leads, _ended(done) if leads else None
        step, _ = next(possible(case, done, found, without), (None, ""))
        final = sure and _final(case, done, found)
        if step is not None and not (final and _little_left(found)):
            done.extend(_with_care(case, done, step))
            continue
        if lead is None or not sure or lead.fault in (*said, "none", "reading_suspect"):
            break
        said.append(lead.fault)
        if len(case.troubles) < 2 or len(said) == 2:
            break
        done.append(do(case, done, RepairIt(act="repair", fault=lead.fault, where=lead.mode)))
        done.append(do(case, done, Wait(act="wait", minutes=acts.SETTLES)))
    lead = found.ranking[0] if found.ranking else None
    if said and lead is not None and lead.fault == said[-1]:
        done.extend(_settled(case, done, lead.fault, lead.mode, without))
    repaired = sum(repair_of(one.step.fault).minutes for one in done if isinstance(one.step, RepairIt))
    return Plan(steps=done, said=said or _none(case, done), decided=decided, minutes=_ended(done) - repaired)


_MOST_SETTLING = 14
"""Steps after which the rest of a part's rule-outs are left to the technician."""


def _settled(
    case: Case, done: Sequence[Done], fault: Fault, mode: FlowMode | None, without: Without
) -> Iterator[Done]:
    """What still settles the rule-outs of the part that would go, before anybody condemns it."""
    so_far, count = list(done), len(done) + _MOST_SETTLING
    while len(so_far) < count:
        wanted = (
            step
            for one in to_settle(fault, judged(case, so_far, after_only=True), mode)
            for step in _towards(case, so_far, one)
            if not without(step) and _not_again(case, so_far, step) and not _refused(case, so_far, step)
        )
        step = next(wanted, None)
        if step is None:
            return
        for one in _with_care(case, so_far, step):
            so_far.append(one)
            yield one


def _towards(case: Case, done: Sequence[Done], point: ToSettle) -> Iterator[Step]:
    run = runs_of(case, done)[-1]
    for seen in point.looks:
        look = ANSWERED_BY.get(seen)
        if look is not None and look in looks_on(case):
            yield LookAt(act="look", look=look.code)
    read = {(one.station, one.quantity) for one in run.readings}
    for code, quantity in point.asks:
        if (code, quantity) not in read and at_hand(case, code, quantity):
            yield Take(act="take", station=code, quantity=quantity)
    if point.mode is not None and run.mode != point.mode:
        yield Switch(act="switch", mode=point.mode)


def _none(case: Case, done: Sequence[Done]) -> list[Fault]:
    found = probabilities(visit_of(case, done), DEFAULT_PRACTICE)
    return [max(found, key=lambda fault: found[fault])] if found else []


def _ended(done: Sequence[Done]) -> float:
    return done[-1].ended if done else 0.0


def _final(case: Case, done: Sequence[Done], found: Examination) -> bool:
    """Whether what leads may stand: a clamp on a wrong pipe is set again, and ice or cold air is not explained by a sound
    circuit before the defrost was looked at. Nothing stands before it is known which way the refrigerant runs."""
    lead = found.ranking[0].fault
    if any(one.station in VALVE_PIPES for one in found.next_readings[:1]):
        return False
    unseen = lead == "none" and any(not _refused(case, done, watch) for watch in _watches(case, done))
    return lead != "reading_suspect" and not unseen


def _watches(case: Case, done: Sequence[Done]) -> list[Step]:
    """Recordings that the complaint calls for and nobody made; the planner asks for none while nothing was recorded."""
    wanted = case.complaint in ("iced_outdoor_coil", "blows_cold_in_heating")
    if not wanted or any(one.recording is not None for one in done):
        return []
    return [Logger(act="logger"), ForceDefrost(act="defrost")]


_DECIDED = 0.9
"""So sure, nothing dearer than a minute or two is asked any more."""
_CHEAP = 2.0


def _little_left(found: Examination) -> bool:
    following = found.next_readings[0] if found.next_readings else None
    dear = following is None or following.stop or following.minutes > _CHEAP or following.switch_mode
    return dear or found.ranking[0].probability >= _DECIDED


def possible(
    case: Case, done: Sequence[Done], found: Examination, without: Without = lambda step: False
) -> Iterator[tuple[Step, str]]:
    """What the planner asks for and can be done here, in its order, each with why.

    Parameters
    ----------
    case : Case
        What is practiced on.
    done : sequence of Done
        The steps so far.
    found : Examination
        Of what was read so far.
    without : callable
        Steps that are not to be taken.

    Yields
    ------
    tuple
        A step, and the planner's reason.
    """
    for asked in found.next_readings:
        for step in _as_steps(case, done, asked):
            if not without(step) and _not_again(case, done, step) and not _refused(case, done, step):
                yield step, asked.why
                break
    for watch in _watches(case, done):
        if not without(watch) and not _refused(case, done, watch):
            yield (
                watch,
                "The complaint is about what happens over time: see a defrost before a sound circuit is believed.",
            )


def _not_again(case: Case, done: Sequence[Done], step: Step) -> bool:
    """Whether this is new in the run; a reading that is doubted may be taken once more."""
    run = runs_of(case, done)[-1].id
    before = sum(one.step == step for one in done if one.run == run)
    return before < (2 if isinstance(step, Take) else 1)


def _as_steps(case: Case, done: Sequence[Done], asked: NextReading) -> Iterator[Step]:
    if asked.stop:
        return
    run = runs_of(case, done)[-1]
    turns = sum(isinstance(one.step, Switch) for one in done)
    if asked.mode != run.mode and asked.mode in ("heating", "cooling", "off") and turns < _MOST_TURNS:
        yield Switch(act="switch", mode=asked.mode)
    if asked.mode == "defrost":
        yield ForceDefrost(act="defrost")
        return
    if asked.observe is not None:
        look = ANSWERED_BY.get(asked.observe)
        if look is not None and look in looks_on(case) and asked.mode == run.mode:
            yield LookAt(act="look", look=look.code)
    elif asked.mode == run.mode and at_hand(case, asked.station, asked.quantity):
        yield Take(act="take", station=asked.station, quantity=asked.quantity)


def _refused(case: Case, done: Sequence[Done], step: Step) -> bool:
    try:
        do(case, done, step)
    except RefusedError:
        return True
    return False


def _with_care(case: Case, done: Sequence[Done], step: Step) -> Iterator[Done]:
    """A step, its cautions before it, and the wait that a change of mode wants."""
    so_far = list(done)
    for care in do(case, so_far, step).missed if needs(case, step) else []:
        so_far.append(do(case, so_far, Careful(act="care", care=care)))
        yield so_far[-1]
    so_far.append(do(case, so_far, step))
    yield so_far[-1]
    if isinstance(step, Switch) and step.mode != "off":
        so_far.append(do(case, so_far, Wait(act="wait", minutes=acts.SETTLES)))
        yield so_far[-1]
        # What enters the coils belongs to the run it was read in: it is read again.
        for code in ("outdoor_air_in", "return_air", "source_water_in", "load_water_in"):
            if at_hand(case, code, "temperature"):
                so_far.append(do(case, so_far, Take(act="take", station=code, quantity="temperature")))
                yield so_far[-1]

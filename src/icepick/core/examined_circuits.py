"""A visit to a unit with several circuits examined: each by itself beside its siblings, and all of them in one answer."""

from __future__ import annotations

from collections.abc import Sequence

from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.defrost.recorded import recordings_of
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.question import MINUTES
from icepick.core.diagnosis.together import (
    UNREAD,
    OfCircuit,
    joint_headline,
    joint_next,
    joint_ranking,
    joint_verdict,
    worst_first,
)
from icepick.core.diagnosis.verdict import verdict
from icepick.core.document.codes import Mode
from icepick.core.document.examination import CircuitExamination, Examination, NextReading
from icepick.core.document.several import visit_of
from icepick.core.document.stations import Group
from icepick.core.document.visit import Visit
from icepick.core.examined_visit import Asked, examined


def examined_circuits(asked: Asked) -> Examination:
    """What is said of a unit with several circuits.

    Parameters
    ----------
    asked : Asked
        The visit, with runs on any of them; earlier visits likewise.

    Returns
    -------
    Examination
        Its runs in the visit's order, and each circuit's own findings.
    """
    visit = asked.visit
    ids = [one.id for one in visit.unit.circuits or ()]
    apart = {id: visit_of(visit, id) for id in ids}
    found: dict[str, tuple[Examination, Belief | None]] = {}
    for id in ids:
        siblings = tuple(one for other, one in apart.items() if other != id and one.runs)
        before = tuple(_of(one, id) for one in asked.earlier)
        found[id] = examined(Asked(apart[id], asked.practice, asked.units, before, siblings))
    mode = next((run.mode for run in reversed(visit.runs) if run.mode in ("heating", "cooling")), None)
    explained = any(one.concluded for one, _ in found.values())
    circuits = [
        _circuit(
            id,
            _said_of(apart[id], *found[id], explained=explained),
            mode=mode,
            has_earlier=bool(asked.earlier),
        )
        for id in ids
    ]
    return _together(asked, circuits, found)


def _of(visit: Visit, circuit: str) -> Visit:
    """What an earlier visit tells of a circuit: nothing where the unit was described without it."""
    known = [one.id for one in visit.unit.circuits or ()]
    return (
        visit_of(visit, circuit)
        if circuit in known
        else visit.model_copy(update={"runs": [], "recordings": []})
    )


def _said_of(visit: Visit, found: Examination, belief: Belief | None, *, explained: bool) -> Examination:
    """A sound circuit beside one that is not: the complaint is explained, and leaves nothing open in this one."""
    if belief is None or found.lead != "sound" or not explained:
        return found
    plain = visit.model_copy(update={"complaint": None})
    said = verdict(plain, found.runs, found.ranking, found.next_readings, found.recordings)
    return found.model_copy(update={"verdict": said.text, "headline": said.headline})


def _begin(circuit: str, mode: Mode) -> NextReading:
    """The first reading on a circuit nobody has read, in the mode another was."""
    return NextReading(
        station=VALVE_PIPES[0],
        quantity="temperature",
        observe=None,
        mode=mode,
        run=None,
        switch_mode=False,
        minutes=MINUTES[Group.LINE],
        stop=False,
        why="Not read yet; a sound sibling in the same weather is the best comparison there is.",
        separates=[],
        circuit=circuit,
    )


def _circuit(id: str, found: Examination, *, mode: Mode | None, has_earlier: bool) -> CircuitExamination:
    unread = not found.runs and not found.recordings
    taught = found.baseline is not None and (has_earlier or bool(found.baseline.words))
    return CircuitExamination(
        id=id,
        runs=[run.id for run in found.runs],
        headline=UNREAD if unread else found.headline,
        verdict=f"{UNREAD}." if unread else found.verdict,
        outcome="needs_readings" if unread else found.outcome,
        lead=found.lead,
        concluded=found.concluded,
        baseline=found.baseline if taught else None,
        board=found.board,
        ranking=[one.model_copy(update={"circuit": id}) for one in found.ranking],
        next_readings=[_begin(id, mode)]
        if unread and mode is not None
        else [one.model_copy(update={"circuit": id}) for one in found.next_readings],
        after_repair=None,
    )


def _together(
    asked: Asked,
    circuits: Sequence[CircuitExamination],
    found: dict[str, tuple[Examination, Belief | None]],
) -> Examination:
    visit, ids = asked.visit, [one.id for one in circuits]
    ordered = worst_first(circuits)
    headline = joint_headline([(one.id, one.headline) for one in ordered], ids)
    runs = {run.id: run for one, _ in found.values() for run in one.runs}
    nobody_said = [one for one in visit.recordings if one.circuit is None]
    of_none = visit.model_copy(update={"runs": [], "recordings": nobody_said})
    recordings = {
        one.recording.id: one.as_shown for one in recordings_of(of_none, asked.practice, asked.units)
    }
    recordings |= {each.id: each for one, _ in found.values() for each in one.recordings}
    first = found[circuits[0].id][0]
    ranking = joint_ranking(
        [OfCircuit(id, one.ranking, belief) for id, (one, belief) in found.items()], visit.complaint
    )
    return first.model_copy(
        update={
            "headline": headline,
            "verdict": joint_verdict(headline, ordered),
            "outcome": ordered[0].outcome,
            "lead": ordered[0].lead,
            "concluded": list(dict.fromkeys(fault for one in ordered for fault in one.concluded)),
            "baseline": first.baseline if asked.earlier else None,
            "runs": [runs[run.id] for run in visit.runs],
            "recordings": [recordings[one.id] for one in visit.recordings],
            "board": next((one.board for one in circuits if one.board), []),
            "ranking": ranking,
            "next_readings": joint_next(ordered),
            "circuits": list(circuits),
        }
    )

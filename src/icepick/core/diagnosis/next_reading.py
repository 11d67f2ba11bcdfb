"""What to measure next: the reading that tells the likely faults apart for the least effort and intrusion, and when to stop.

First come the pipes at the valve while its position is not known (the-trade.md 1). Then everything that could be read, looked
at or done is weighed: by how much its answer is expected to narrow what would have to be done (drop of entropy), per minute
of work, gauges and a change of mode charged for. What a reading would show under each hypothesis is foretold by the machine
model, all that was read considered; what no machine shows, by the tables. Each is weighed as if those before it in the list
had been taken: the first three are a plan. Once nothing is worth its minutes the list says so. A reading that may not carry a
judgement counts as not taken. [our own choice of minutes]
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import JudgedRun, Spot
from icepick.core.diagnosis.head_questions import head_questions
from icepick.core.diagnosis.machine_questions import MachineQuestions
from icepick.core.diagnosis.question import MINUTES, Question, stopped
from icepick.core.diagnosis.suspect import suspected
from icepick.core.diagnosis.table_questions import table_questions
from icepick.core.document.codes import Mode
from icepick.core.document.examination import NextReading
from icepick.core.document.heads import as_described
from icepick.core.document.stations import Group, station, walking_order

_WORTH = 0.04
"""Bits: a question expected to tell less than this is not asked."""
_WORTH_A_MINUTE = 0.008
"""Bits a minute, likewise. [our own choice]"""
_SURE = 0.6
"""From here on the end of the list does not speak of what is still tied."""
_CHARGE_OPEN = 0.2
"""Once the charge is so likely to be off, weighing it is worth saying."""
_MOST = 6
_LOOKS = 2
"""Looks cost little, and must not crowd out what an instrument answers."""


def next_readings(
    belief: Belief | None,
    runs: list[JudgedRun],
    unmade: Sequence[RunContext] = (),
    *,
    recorded: bool = False,
) -> list[NextReading]:
    """Stations to read, the most telling per minute of work first.

    Parameters
    ----------
    belief : Belief or None
        What is thought of each hypothesis; None while nothing that counts was read.
    runs : list of JudgedRun
        The runs, each with the checks that rest on readings which may carry a judgement.
    unmade : sequence of RunContext
        Runs that could be made besides.
    recorded : bool
        Whether there are recordings too.

    Returns
    -------
    list of NextReading
        Its last one says ``stop`` where nothing left is worth its minutes.
    """
    # What was recorded tells which way it runs: a run begun beside it is not asked for its pipes first.
    read = [run for run in runs if run.context.readings.all()] if recorded else runs
    if recorded and not read and not unmade:
        return []
    first = list(_valve_pipes(read))
    begun = any(run.context.temperature(pipe) is not None for run in runs for pipe in VALVE_PIPES)
    if belief is None or (first and begun):
        return first
    first += _read_again(belief, runs)
    return [*first, *_plan(belief, runs, unmade, {(one.station, one.quantity, one.run) for one in first})]


def _read_again(belief: Belief, runs: list[JudgedRun]) -> Iterator[NextReading]:
    """The reading that does not fit what is likeliest: it comes before anything new."""
    wrong = suspected(belief, int(belief.probabilities.argmax()))
    for run in runs:
        if wrong is not None and run.context.run.id == wrong.run:
            minutes = MINUTES[station(wrong.station).group]
            why = f"Read it again. {wrong.words}"
            yield _entry(run.context, (wrong.station, wrong.quantity), minutes, why)


def _plan(
    belief: Belief,
    runs: list[JudgedRun],
    unmade: Sequence[RunContext],
    named: set[tuple[str, str, str | None]],
) -> Iterator[NextReading]:
    tables = [*table_questions(belief, runs, unmade), *head_questions(belief, runs)]
    machines = MachineQuestions(belief, runs)
    instruments, looks = 0, 0
    while instruments < _MOST:
        worth = [
            one for one in (*tables, *machines.open()) if _worth(one) and (looks < _LOOKS or not one.look)
        ]
        if not worth:
            likeliest = belief.hypotheses[int(belief.probabilities.argmax())].fault
            if belief.fit is not None and not named and likeliest != "reading_suspect":
                yield _stop(belief, runs)
            return
        best = max(worth, key=lambda one: one.gain / one.minutes)
        if best.place is None:
            tables = [one for one in tables if one is not best]
        best = machines.take(best)
        looks += best.look is not None
        for spot in _spots(best):
            if spot[0] and ((*spot, best.run) in named or _the_same_anywhere(spot, named)):
                continue
            named.add((*spot, best.run))
            instruments += best.look is None
            yield _reading(best, spot)


def _the_same_anywhere(spot: Spot, named: set[tuple[str, str, str | None]]) -> bool:
    """Whether it is asked for in another run already, and tells the same there: a winding, a sensor."""
    return spot[1] == "resistance" and any(spot == (station, quantity) for station, quantity, _ in named)


def _worth(one: Question) -> bool:
    return one.gain >= _WORTH and one.gain >= _WORTH_A_MINUTE * one.minutes


def _spots(one: Question) -> list[Spot]:
    if one.look is not None:
        return [("", "temperature")]
    return sorted(one.missing, key=lambda spot: walking_order(spot[0]))


def _valve_pipes(runs: list[JudgedRun]) -> Iterator[NextReading]:
    """The pipes at the valve that are unread, run by run, in walking order."""
    for run in runs:
        if run.context.commanded is None or stopped(run.checks):
            continue
        for code in run.context.readings.missing(*VALVE_PIPES):
            why = "Tells which side the slide is on, and whether it bypasses."
            yield _entry(run.context, (code, "temperature"), MINUTES[Group.LINE], why)


def _entry(context: RunContext, spot: Spot, minutes: float, why: str) -> NextReading:
    """A reading of a run that was made."""
    return NextReading(
        station=as_described(context.unit, spot[0]),
        quantity=spot[1],
        observe=None,
        mode=context.run.mode,
        run=context.run.id,
        switch_mode=False,
        minutes=minutes,
        stop=False,
        why=why,
        separates=[],
    )


def _reading(question: Question, spot: Spot) -> NextReading:
    switch = question.run is None and question.calling is None
    minutes = round(question.minutes / max(len(question.missing), 1), 1)
    why = (_TURN[question.context.run.mode] if switch else "") + question.why
    look = question.look.look if question.look else None
    more: dict[str, object] = {
        "observe": look,
        "run": question.run,
        "switch_mode": switch,
        "separates": question.separates,
    }
    if question.calling is not None:
        more["heads_calling"] = list(question.calling)
    return _entry(question.context, spot, minutes, why).model_copy(update=more)


_TURN: dict[Mode, str] = {
    "heating": "Switch mode to heating. ",
    "cooling": "Switch mode to cooling. ",
    "defrost": "Force a defrost. ",
    "off": "Switch it off. ",
}


def _stop(belief: Belief, runs: list[JudgedRun]) -> NextReading:
    entry = _entry(runs[-1].context, ("", "temperature"), 0.0, _why_stop(belief))
    return entry.model_copy(update={"stop": True})


def _why_stop(belief: Belief) -> str:
    if float(belief.probabilities.max()) >= _SURE:
        return "Nothing left to read is worth its minutes."
    of_charge = sum(
        float(share)
        for hypothesis, share in zip(belief.hypotheses, belief.probabilities, strict=True)
        if hypothesis.fault in ("undercharge", "overcharge")
    )
    if of_charge >= _CHARGE_OPEN:
        return (
            "Nothing that could still be read tells the rest apart; recovering and weighing the charge would."
        )
    return "Nothing that could still be read tells the rest apart for its minutes."

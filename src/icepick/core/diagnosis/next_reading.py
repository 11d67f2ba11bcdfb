"""What to measure next: the reading that tells the likely faults apart for the least effort and intrusion, and when to stop.

First comes what everything else hangs on: what enters the coils, and the supply air, which mostly says as well which way it
runs (the-trade.md 1: look and air before pipes). The pipes at the valve come first only where the valve is in question:
nothing else says which way it runs, or the complaint is that it runs the wrong way. Then everything that could be read,
looked at or done is weighed: by how much its answer is expected to narrow what would have to be done (drop of entropy), per
minute of work, gauges and a change of mode charged for. What a reading would show under each hypothesis is foretold by the
machine model, all that was read considered; what no machine shows, by the tables. Each is weighed as if those before it in
the list had been taken: the first three are a plan. Once nothing is worth its minutes the list says so. A reading that may
not carry a judgement counts as not taken. [our own choice of minutes]
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.circuit.load import medium_entering
from icepick.core.diagnosis.belief import Belief
from icepick.core.diagnosis.evidence import JudgedRun, Spot
from icepick.core.diagnosis.head_questions import head_questions
from icepick.core.diagnosis.machine_questions import MachineQuestions
from icepick.core.diagnosis.question import MINUTES, Question, in_danger, stopped
from icepick.core.diagnosis.reach import Away, is_away, out_of_reach
from icepick.core.diagnosis.suspect import suspected
from icepick.core.diagnosis.table_questions import table_questions
from icepick.core.diagnosis.turning import put_off
from icepick.core.document.codes import Complaint, Mode, SightCode
from icepick.core.document.examination import NextReading
from icepick.core.document.heads import as_described
from icepick.core.document.stations import Group, station, walking_order

_WORTH = 0.04
"""Bits: a question expected to tell less than this is not asked."""
_WORTH_A_MINUTE = 0.008
"""Bits a minute, likewise. [our own choice]"""
_SURE = 0.6
"""From here on the end of the list does not speak of what is still tied."""
_SETTLED = 0.9
"""From here on nothing is asked for but what is expected to tell something."""
_CHARGE_OPEN = 0.2
"""Once the charge is so likely to be off, weighing it is worth saying."""
_MOST = 6
_SEEN_STANDING_STILL: frozenset[SightCode] = frozenset(
    {
        "filter_dirty",
        "coil_dirty_indoor",
        "coil_dirty_outdoor",
        "outdoor_coil_iced_solid",
        "bulb_loose",
        "oil_stain",
    }
)
"""What can be looked at on a unit that was stopped."""
_LOOKS = 2
"""Looks cost little, and must not crowd out what an instrument answers."""


def next_readings(
    belief: Belief | None,
    runs: list[JudgedRun],
    unmade: Sequence[RunContext] = (),
    *,
    recorded: bool = False,
    complaint: Complaint | None = None,
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
    complaint : Complaint or None
        What the customer says.

    Returns
    -------
    list of NextReading
        Its last one says ``stop`` where nothing left is worth its minutes.
    """
    # What was recorded tells which way it runs: a run begun beside it is not asked for its pipes first.
    read = [run for run in runs if run.context.readings.all()] if recorded else runs
    if recorded and not read and not unmade:
        return []
    sure = belief is not None and float(belief.probabilities.max()) >= _SETTLED
    away = out_of_reach(runs)
    first = list(_first(read, complaint, away, sure=sure))
    begun = any(_begun(run.context, away) for run in runs)
    if begun and any(one.station in VALVE_PIPES for one in first):
        return first
    if belief is None:
        return [*first, *_pipes_besides(read, first, away)]
    first += _read_again(belief, runs)
    named: set[tuple[str, str, str | None]] = {(one.station, one.quantity, one.run) for one in first}
    plan = [*first, *_plan(belief, runs, unmade, named, away)]
    return _after_stopping(belief, runs, plan, away) if any(in_danger(run.checks) for run in runs) else plan


def _after_stopping(
    belief: Belief, runs: list[JudgedRun], plan: list[NextReading], away: Away
) -> list[NextReading]:
    """What can be looked at or measured on a unit that had to be stopped; then the rest, for when it may run again."""
    still = [
        one for one in table_questions(belief, runs, away=away) if one.run is not None and _needs_no_run(one)
    ]
    worth = sorted(filter(_worth, still), key=lambda one: one.gain / one.minutes, reverse=True)[:_LOOKS]
    now = [_reading(one, spot) for one in worth for spot in _spots(one)]
    known = {(one.station, one.quantity, one.observe) for one in now}
    later = [one for one in plan if (one.station, one.quantity, one.observe) not in known]
    return [*now, *(one if one.stop or one.heads_calling else _later(one) for one in later)]


def _later(one: NextReading) -> NextReading:
    return one.model_copy(update={"why": f"Once it may run again: {one.why[0].lower()}{one.why[1:]}"})


def _needs_no_run(one: Question) -> bool:
    if one.look is not None:
        return one.look.look in _SEEN_STANDING_STILL
    return all(quantity == "resistance" for _, quantity in one.missing)


def _read_again(belief: Belief, runs: list[JudgedRun]) -> Iterator[NextReading]:
    """The reading that does not fit what is likeliest: it comes before anything new."""
    wrong = suspected(belief, int(belief.probabilities.argmax()))
    for run in runs:
        if wrong is not None and run.context.run.id == wrong.run:
            minutes = MINUTES[station(wrong.station).group]
            why = f"Read it again: {wrong.words[0].lower()}{wrong.words[1:]}"
            yield _entry(run.context, (wrong.station, wrong.quantity), minutes, why)


def _plan(
    belief: Belief,
    runs: list[JudgedRun],
    unmade: Sequence[RunContext],
    named: set[tuple[str, str, str | None]],
    away: Away,
) -> Iterator[NextReading]:
    tables = [*table_questions(belief, runs, unmade, away), *head_questions(belief, runs)]
    machines = MachineQuestions(belief, runs, away)
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


def _first(
    runs: list[JudgedRun], complaint: Complaint | None, away: Away, *, sure: bool
) -> Iterator[NextReading]:
    """What is read before anything is weighed, run by run, in walking order; of a run that is known to go as it was told,
    nothing more once one is ``sure``."""
    for run in runs:
        context = run.context
        if context.commanded is None or stopped(run.checks):
            continue
        if _valve_in_question(context, complaint, away):
            whys = dict.fromkeys(VALVE_PIPES, _OF_THE_VALVE)
        elif context.defrosting or context.apparent not in ("unknown", context.commanded):
            continue  # What enters the coils does not matter yet.
        elif sure and context.apparent != "unknown":
            continue
        else:
            whys = _outside_the_valve(context, away)
        for code in _missing(context, whys, away):
            yield _entry(context, (code, "temperature"), MINUTES[station(code).group], whys[code])


def _missing(context: RunContext, codes: Iterable[str], away: Away) -> list[str]:
    """What is unread of some places, and can be read."""
    return [
        code for code in context.readings.missing(*codes) if not is_away(context, code, "temperature", away)
    ]


def _valve_in_question(context: RunContext, complaint: Complaint | None, away: Away) -> bool:
    """Whether the valve's pipes come before all else: they were begun, the complaint is of the wrong way, or what lies away
    from the valve was read and does not say which way it runs."""
    if _begun(context, away):
        return True
    if context.apparent != "unknown":
        return False
    told = complaint == "blows_cold_in_heating" and context.run.mode == "heating"
    return told or context.defrosting or not _missing(context, _outside_the_valve(context, away), away)


def _begun(context: RunContext, away: Away) -> bool:
    """Whether a pipe that is clamped for the valve's sake alone was read, well or not, and not all four count."""
    taken = {one.station for one in context.run.readings}
    return bool(_FOR_THE_VALVE & taken) and bool(_missing(context, VALVE_PIPES, away))


def _pipes_besides(runs: list[JudgedRun], first: list[NextReading], away: Away) -> Iterator[NextReading]:
    """The valve's pipes after what comes first, for who has no probe at hand."""
    named = {(one.station, one.run) for one in first}
    for run in runs:
        context = run.context
        if context.commanded is None or context.defrosting or stopped(run.checks):
            continue
        for code in _missing(context, VALVE_PIPES, away):
            if (code, context.run.id) not in named:
                yield _entry(context, (code, "temperature"), MINUTES[Group.LINE], _OF_THE_VALVE)


_OF_THE_VALVE = "Tells which side the slide is on, and whether it bypasses."
_FOR_THE_VALVE = frozenset({"valve_to_indoor", "valve_to_outdoor"})


def _outside_the_valve(context: RunContext, away: Away) -> dict[str, str]:
    """What enters the coils and what leaves for the room, each with why it is read first; where all that is read and does not
    tell which way it runs, the vapor line besides."""
    enters = "What enters a coil decides what everything else should show."
    outdoor, indoor = (medium_entering(context, coil) for coil in ("outdoor_coil", "indoor_coil"))
    leaves = "supply_air" if context.unit.load == "air" else "load_water_out"
    gives = "Against what enters it says which way the unit runs, and what it delivers."
    whys = {outdoor: enters, indoor: enters}
    if context.apparent == "unknown":
        whys[leaves] = gives
    if context.apparent == "unknown" and not _missing(context, whys, away):
        whys["vapor_line_outdoor"] = "Hot in heating, cold in cooling: it says which way the unit runs."
    known = set(stations_of_unit(context.unit))
    return {code: whys[code] for code in sorted(known & set(whys), key=walking_order)}


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
    entry = _entry(runs[-1].context, ("", "temperature"), 0.0, _why_stop(belief, runs))
    return entry.model_copy(update={"stop": True})


def _why_stop(belief: Belief, runs: list[JudgedRun]) -> str:
    why = _nothing_left(belief)
    later = _turn_round_later(runs)
    return f"{why} {later}" if later and float(belief.probabilities.max()) < _SURE else why


def _turn_round_later(runs: list[JudgedRun]) -> str | None:
    """Until when the other mode, that no run was made in, has to wait."""
    made = [run.context for run in runs if run.context.commanded]
    if len({context.commanded for context in made}) != 1:
        return None
    return put_off(made[-1], "heating" if made[-1].commanded == "cooling" else "cooling")


def _nothing_left(belief: Belief) -> str:
    if float(belief.probabilities.max()) >= _SURE:
        return "What is left to read would hardly change the answer."
    of_charge = sum(
        float(share)
        for hypothesis, share in zip(belief.hypotheses, belief.probabilities, strict=True)
        if hypothesis.fault in ("undercharge", "overcharge")
    )
    if of_charge >= _CHARGE_OPEN:
        return (
            "Nothing that could still be read tells the rest apart; recovering and weighing the charge would."
        )
    return "Nothing that could still be read tells the rest apart."

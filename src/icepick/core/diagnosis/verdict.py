"""The verdict: a headline a technician would write on the ticket, then at most two sentences; numbers stay in the checks,
but those of a danger, which are said at once with what to look at first.

What is said first is what matters first: danger, readings to take again, a missing call, the wrong way, the best
explained fault or the tie, failing checks that nothing explains, a sound circuit and what that leaves, what is missing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from icepick.core.diagnosis.hypotheses import COMPLAINED_OF
from icepick.core.document.codes import SightCode
from icepick.core.document.examination import (
    Check,
    Fault,
    Lead,
    NextReading,
    RankedFault,
    RecordingExamination,
    RunExamination,
    Status,
)
from icepick.core.document.visit import Unit, Visit
from icepick.core.document.wording import listing, name, names
from icepick.core.document.words import QUANTITIES, SIGHTS
from icepick.core.doubts import NOT_PHYSICS
from icepick.core.handbook.fault_on_unit import first_step
from icepick.core.handbook.fault_pages import PAGES


@dataclass(frozen=True, slots=True)
class Verdict:
    """``headline`` stands alone in a list; ``text`` is it and what follows; ``lead`` is what it begins with, ``faults`` those
    it settles on: several that are tied, or none."""

    headline: str
    text: str
    outcome: Status
    lead: Lead = "needed"
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True, slots=True)
class _Seen:
    """What the verdict is made of."""

    visit: Visit
    runs: Sequence[RunExamination]
    ranking: Sequence[RankedFault]
    next_readings: Sequence[NextReading]
    recordings: Sequence[RecordingExamination] = ()
    answer: str | None = None

    @property
    def unit(self) -> Unit:
        return self.visit.unit

    def checks(self, *statuses: Status) -> list[tuple[RunExamination | RecordingExamination, Check]]:
        """Every check of these statuses, with the run or recording it is of."""
        of: tuple[RunExamination | RecordingExamination, ...] = (*self.runs, *self.recordings)
        return [(one, check) for one in of for check in one.checks if check.status in statuses]

    @property
    def first(self) -> RankedFault | None:
        """The fault that leads, if one does."""
        return self.ranking[0] if self.ranking and self.ranking[0].fault != "none" else None


_CLEAR = 0.5
_TOO_LITTLE = 0.4
"""A sound unit less probable than this is not called sound, though nothing else leads."""
_TIE = 0.02
MAY, _MOST = 0.6, 0.9
"""Under the one a fault may be, over the other it most likely is."""
UNEVENTFUL = (None, "routine", "start_up")
"""Complaints that leave nothing to be explained once the circuit is sound."""
_NEAR = 0.15
"""A fault less probable than this comes near to explaining nothing."""
_WORTH = 0.3
"""A leading fault less probable than this explains nothing yet."""


def verdict(
    visit: Visit,
    runs: Sequence[RunExamination],
    ranking: Sequence[RankedFault],
    next_readings: Sequence[NextReading],
    recordings: Sequence[RecordingExamination] = (),
    answer: str | None = None,
) -> Verdict:
    """The headline, the sentences and the worst outcome behind them.

    Parameters
    ----------
    visit : Visit
        The visit document.
    runs : sequence of RunExamination
        The examined runs.
    ranking : sequence of RankedFault
        The faults, most likely first.
    next_readings : sequence of NextReading
        What to read next.
    recordings : sequence of RecordingExamination
        The examined recordings.
    answer : str or None
        What the call is answered once nothing is wrong with the circuit.

    Returns
    -------
    Verdict
        Headline, text and outcome.
    """
    seen = _Seen(visit, runs, ranking, next_readings, recordings, answer)
    lead, said = next(_in_order(seen))
    faults = tuple(one.fault for one in _concluded(seen))
    return Verdict(said.headline, said.text, _outcome(seen, said.outcome), lead, faults)


def _in_order(seen: _Seen) -> Iterator[tuple[Lead, Verdict]]:
    for lead, part in _PARTS.items():
        said = part(seen)
        if said is not None:
            yield lead, said
    yield "needed", _needed(seen)


def _say(headline: str, outcome: Status, *more: str | None) -> Verdict:
    sentences = [headline, *(one for one in more if one)]
    text = " ".join(one if one.endswith((".", "?")) else f"{one}." for one in sentences[:3])
    return Verdict(headline.rstrip("."), text, outcome)


_DANGERS = {
    "danger.gas": "Stop: the charge is gone, and it is flammable",
    "danger.locked_rotor": "Stop the unit: the compressor's rotor is locked",
    "danger.head": "Stop the unit: the head is at its cutout",
    "danger.vacuum": "Stop the unit: suction stands in a vacuum",
    "danger.discharge_temperature": "Stop the unit: the discharge line is over its limit",
    "danger.current": "Stop the unit: the compressor draws more than it may for long",
    "danger.flooded": "Stop the unit: liquid floods a cold compressor",
    "danger.freezing": "Stop the unit: the leaving water is cold enough to freeze in the coil",
}


_CONFIRM = "One reading alone says so: confirm it before it runs again."


def _danger(seen: _Seen) -> Verdict | None:
    """What can't wait, on one reading's word: where nothing else says so, it is stopped and then confirmed."""
    failing = [check for _, check in seen.checks("fail") if check.code in _DANGERS]
    found = {code: check for code in _DANGERS for check in failing if check.code == code}
    if found:
        gravest, *others = found
        also = listing([_lower(_DANGERS[code].partition(": ")[2]) for code in others])
        words = found[gravest].explain
        if others:
            words = f"{words} Besides, {also}."
        elif _alone(found[gravest]):
            words = f"{words} {_CONFIRM}"
        return _say(_DANGERS[gravest], "fail", words, _joined(_cause(seen), _seen_besides(seen)))
    floods = [check for _, check in seen.checks("fail") if check.code == "exchange.total_superheat"]
    if any(check.measured and check.limit and check.measured.value < check.limit.value for check in floods):
        return _say("Floodback: liquid reaches the compressor", "fail", _cause(seen), _seen_besides(seen))
    near = any(check.code == "danger.freezing" and check.measured for _, check in seen.checks("watch"))
    if not near:
        return None
    sound = _sound(seen)
    more = _cause(seen) or (sound.headline if sound else None)
    return _say("The leaving water is near freezing", "watch", more)


def _joined(*sentences: str | None) -> str | None:
    found = [one if one.endswith(".") else f"{one}." for one in sentences if one]
    return " ".join(found) or None


def _alone(check: Check) -> bool:
    """Whether one reading alone says so of a unit that may run again once it is confirmed."""
    return len(check.uses) < 2 and check.code != "danger.gas"


def _cause(seen: _Seen) -> str | None:
    """The leading fault, after something else was said first."""
    if seen.first is not None and seen.first.fault == "reading_suspect":
        return "First read again: what was read may be wrong"
    found = _conclusion(seen)
    return found[0] if found else None


def _read_again(seen: _Seen) -> Verdict | None:
    """Readings that physics contradicts: nothing is concluded before they are taken again."""
    doubts = [doubt for run in seen.runs for doubt in run.doubts if doubt.code not in _NO_CONTRADICTION]
    first = seen.first
    if not doubts:
        if first is None or first.fault != "reading_suspect" or first.probability < _WORTH:
            return None
        if first.suspect is not None:
            place, words = name(seen.unit, first.suspect.station), first.suspect.words
            # The place is said in the headline already.
            return _say(f"Read again: {place}", "watch", words.removeprefix(f"{place}: "))
        off = [
            check
            for _, check in seen.checks("fail", "watch")
            if check.code in ("water.extraction", "water.rejection", "exchange.balance")
        ]
        what = "the flow and the thermometers" if off else "what was read"
        return _say(f"Read again: {what} can't be right", "watch", off[0].explain if off else None)
    codes = list(dict.fromkeys(code for doubt in doubts for code in doubt.stations))
    return _say(f"Read again: {names(seen.unit, codes, _FEW)}", "watch", doubts[0].explain, _rest(seen))


_FEW = 3
_NO_CONTRADICTION = NOT_PHYSICS | {"impossible_in_mode"}
"""Doubts that leave the other readings as they are."""


def _rest(seen: _Seen) -> str | None:
    """What else is known once the doubted readings are left out."""
    first = seen.first
    if first is None or first.fault == "reading_suspect" or first.probability < _CLEAR:
        return None
    return f"By the other readings: {_how_sure(first)} {first.title}"


def _standing(seen: _Seen) -> Verdict | None:
    """An empty circuit, too little for liquid, or another gas: with the compressor off, or while so little is pumped."""
    for _, check in seen.checks("fail"):
        if check.code == "charge.liquid_left":
            return _say(
                "No liquid is left in the circuit: the charge is all but gone",
                "fail",
                check.explain,
                _cause(seen),
            )
    failing = [check for _, check in seen.checks("fail") if check.code == "standing.pressure"]
    if not failing:
        return None
    found = failing[0]
    if found.measured is None:
        return _say("The circuit is empty", "fail", PAGES["undercharge"].first)
    if found.measured.value < 0:
        return _say("Standing pressure is below saturation: the charge is too low", "fail", found.explain)
    more = [doubt for doubt in _conclusion(seen)[:1] if seen.first and seen.first.fault == "noncondensables"]
    return _say("Standing pressure is above saturation", "fail", *more, found.explain)


def _as_seen(seen: _Seen, codes: dict[str, str]) -> Verdict | None:
    """What a failing check says by itself, with no need of a ranking; what it leads to follows."""
    found = [check for code in codes for _, check in seen.checks("fail") if check.code == code]
    if not found:
        return None
    headlines = list(dict.fromkeys(codes[check.code] for check in found))
    headline = "; ".join([headlines[0], *(h[0].lower() + h[1:] for h in headlines[1:])])
    return _say(headline, "fail", found[0].explain)


def _call(seen: _Seen) -> Verdict | None:
    """A missing call or missing power, or a compressor that does not run."""
    for _, check in seen.checks("fail"):
        if check.code == "command.call":
            no_power = seen.first is not None and seen.first.fault == "control_power_missing"
            what: Fault = "control_power_missing" if no_power else "call_missing"
            headline = "No 24 V at R" if no_power else "No call for the compressor at Y"
            return _say(headline, "fail", PAGES[what].first if no_power else check.explain)
    return _as_seen(seen, {"compressor.running": "The compressor does not run"})


def _fans_and_heat(seen: _Seen) -> Verdict | None:
    """Fans, heat and bulbs: what is seen needs no ranking."""
    return _as_seen(
        seen,
        {
            "outdoor.fan": "The outdoor fan does not run",
            "defrost.fan": "The outdoor fan runs in defrost",
            "defrost.backup_heat": "No backup heat in defrost",
            "command.backup_heat": "No backup heat in defrost"
            if any(run.commanded_mode == "defrost" for run in seen.runs)
            else "Backup heat is called while the unit cools",
            "metering.bulb": "The TXV bulb is loose",
            "command.solenoid_resistance": "The solenoid winding is open or shorted",
        },
    )


_TURNS: frozenset[Fault] = frozenset(
    {"valve_in_opposite_position", "valve_convention_wrong", "command_missing", "solenoid_open"}
)
"""Faults by which a unit runs the other way than called."""


def _in_question(seen: _Seen, position: Check) -> bool:
    """Whether the air or water says that it runs the other way, and no pipe says which."""
    return (
        position.status == "watch"
        and bool(position.needs)
        and any(one.fault in _TURNS for one in _concluded(seen)[:1])
    )


def _wrong_way(seen: _Seen) -> Verdict | None:
    """It runs the other way, or neither: the fault that explains it follows."""
    for run in seen.runs:
        position = next((c for c in run.checks if c.code == "valve.position"), None)
        if position is not None and _in_question(seen, position):
            other = "heating" if run.commanded_mode == "cooling" else "cooling"
            words = f"It may run in {other} though {run.commanded_mode} is called"
            return _say(words, "watch", position.explain)
        if position is None or position.status != "fail":
            continue
        if run.commanded_mode == "defrost" and run.apparent_mode == "heating":
            words = "Calling for defrost, still running in heating: the reversing valve did not shift"
        elif run.apparent_mode in ("heating", "cooling"):
            words = f"Calling for {run.commanded_mode}, running in {run.apparent_mode}"
        else:
            pumped = any(c.code == "compressor.pumping" and c.status == "fail" for c in run.checks)
            words = (
                "Nothing is pumped: pressures and lines are all alike"
                if pumped
                else "The reversing valve's slide is on neither side, or nothing is pumped"
            )
        found = _conclusion(seen)
        return _say(words, "fail", *found)
    return None


def _defrost(seen: _Seen) -> Verdict | None:
    """What a recording shows to be wrong with a defrost, and the fault that explains it."""
    failing = [check for one in seen.recordings for check in one.checks if check.status == "fail"]
    for code, words in _DEFROST_FAILS.items():
        for check in failing:
            if check.code != code:
                continue
            says_it = code in _SAYS_IT_ALL or (seen.first is not None and seen.first.fault in _SAME_WORDS)
            found = [] if says_it else _conclusion(seen)
            return _say(words, "fail", *(found or [check.explain]))
    return None


_SAYS_IT_ALL = ("defrost.sensor", "defrost.ambient_sensor")
"""Held against a clamp, a sensor needs no ranking."""
_SAME_WORDS = ("defrost_not_starting", "defrost_not_stopping", "defrost_too_often")
"""Leading faults that would only say the headline again: what was seen tells more."""


_DEFROST_FAILS = {
    "defrost.shift": "The reversing valve does not follow the defrost",
    "defrost.start": "Defrost does not start as it should",
    "defrost.stop": "Defrost does not stop as it should",
    "defrost.sensor": "The coil sensor is off",
    "defrost.ambient_sensor": "The ambient sensor is off",
    "defrost.interval": "Defrost comes too soon",
    "defrost.duration": "Defrost runs past its limit",
    "defrost.cleared": "Defrost leaves frost on the coil",
    "defrost.recovery": "The coil does not recover after defrost",
}


def _recorded(seen: _Seen) -> Verdict | None:
    """Recordings alone, and nothing fails in them."""
    if not seen.recordings or any(run.readings for run in seen.runs):
        return None
    defrosts = [one for recording in seen.recordings for one in recording.defrosts]
    watched = [check for one in seen.recordings for check in one.checks if check.status == "watch"]
    missing = [check for one in seen.recordings for check in one.checks if check.status == "needs_readings"]
    known = any(spell.mode != "unknown" for one in seen.recordings for spell in one.spells)
    if not known:
        return _say("Nothing recorded tells what the circuit did", "needs_readings", _NEEDED)
    open_ones = [*watched, *missing]
    more = (
        f"Still open: {'; '.join(list(dict.fromkeys(c.title for c in open_ones))[:_FEW])}"
        if open_ones
        else None
    )
    cold = next((check for check in watched if check.code == "defrost.clear_coil" and check.measured), None)
    if cold is not None and cold.measured is not None:
        how = "colder" if cold.measured.value < 0 else "less cold"
        return _say(f"The outdoor coil is {how} against its air than it should be", "watch", cold.explain)
    leads = f"It may be {seen.first.title}" if seen.first and seen.first.probability >= _WORTH else None
    if not defrosts:
        due = next(
            (
                check.explain
                for one in seen.recordings
                for check in one.checks
                if check.code == "defrost.start"
            ),
            None,
        )
        return _say("No defrost in this recording", "watch" if watched else "pass", due, leads or more)
    seen_all = all(one.started is not None and one.ended is not None for one in defrosts)
    ends = [one for one in defrosts if one.ended is not None]
    if ends and all(one.cleared for one in ends):
        headline = "Defrost works as recorded: the coil came clear"
        if len(ends) < len(defrosts):
            headline += f" in {len(ends)} of {len(defrosts)}; {len(defrosts) - len(ends)} not seen to its end"
        elif len(defrosts) > 1:
            headline += f" in each of {len(defrosts)}"
    elif any(one.ended_by == "time_limit" and not one.cleared for one in defrosts):
        headline = "Defrost ended on its time limit, and ice may be left"
    else:
        headline = "Nothing fails in the defrost recorded"
    outcome: Status = "watch" if watched or not seen_all else "pass"
    return _say(headline, outcome, leads, more)


_NEEDED = "Record the outdoor coil, the supply air and the outdoor air at the least."


def _water_short(seen: _Seen) -> Verdict | None:
    """On a water source the water's own result leads, and what explains it follows."""
    for _, check in seen.checks("fail"):
        if check.code in ("water.extraction", "water.rejection"):
            return _say(
                "The water side moves too little heat", "fail", *(_conclusion(seen) or [check.explain])
            )
    return None


def _fault(seen: _Seen) -> Verdict | None:
    """The best explained fault with how sure, or the tie."""
    found = _conclusion(seen)
    if not found or seen.first is None:
        return None
    outcome: Status = "fail" if seen.first.probability >= _CLEAR else "watch"
    return _say(found[0], outcome, *found[1:], _joined(_seen_besides(seen), _not_explained(seen)))


def _not_explained(seen: _Seen) -> str | None:
    """What was read and the leading fault does not explain: a second one may be there."""
    if len(_concluded(seen)) != 1 or seen.first is None or not seen.first.not_explained:
        return None
    return f"Not explained by it: {listing(seen.first.not_explained[:2])}; read again once it is put right"


_SEEN: dict[SightCode, frozenset[Fault]] = {
    "filter_dirty": frozenset({"indoor_airflow_low"}),
    "coil_dirty_indoor": frozenset({"indoor_airflow_low"}),
    "coil_dirty_outdoor": frozenset({"outdoor_airflow_low"}),
    "bulb_loose": frozenset({"active_meter_overfeeding"}),
    "oil_stain": frozenset({"undercharge"}),
}
"""What is put right wherever it was seen, and the fault that says it already."""


def _seen_besides(seen: _Seen) -> str | None:
    """What was seen and the leading fault does not say: never silent."""
    led = {one.fault for one in _concluded(seen)}
    last = {o.code: o.value is not False for run in seen.visit.runs for o in run.observations}
    found = [SIGHTS[code] for code, faults in _SEEN.items() if last.get(code) and not faults & led]
    return f"Seen besides, and to be put right too: {listing(found)}." if found else None


def _conclusion(seen: _Seen) -> list[str]:
    """What it most likely is, and what to do first; empty where nothing leads clearly enough."""
    concluded = _concluded(seen)
    if not concluded:
        return []
    if len(concluded) > 1:
        return [
            f"{_capital(_either(concluded))}: what was read can't tell which",
            _tells_apart(seen, concluded),
        ]
    (first,) = concluded
    if first.fault == "reading_suspect":
        return ["A reading may be wrong", PAGES[first.fault].first]
    step = f"First read again: {first.suspect.words}" if first.suspect else _what_to_do(seen, first)
    return [f"{_capital(_how_sure(first))} {first.title}{_where(first)}", step]


def _concluded(seen: _Seen) -> list[RankedFault]:
    """The fault that leads clearly enough, or those that are tied before all others."""
    first = seen.first
    if first is None:
        return []
    tied = [
        r
        for r in seen.ranking
        if r.fault != "none" and first.probability - r.probability <= _TIE * first.probability
    ]
    if len(tied) > 1 and sum(r.probability for r in tied) >= _CLEAR:
        return tied
    return [first] if first.probability >= (_WORTH if seen.checks("fail", "watch") else _CLEAR) else []


def _tells_apart(seen: _Seen, tied: Sequence[RankedFault]) -> str:
    """The next reading that separates two of the tied faults; the first step for one of them where none does."""
    faults = {r.fault for r in tied}
    for wanted in seen.next_readings:
        if len(faults & set(wanted.separates)) < 2:
            continue
        if wanted.observe is not None:
            return f"Look first: {SIGHTS[wanted.observe]}?"
        if wanted.switch_mode:
            return f"Switch mode to {wanted.mode}: that tells."
        return f"Next, read {_place(seen, wanted)}."
    return first_step(seen.unit, tied[0].fault, tied[0].mode)


def _either(tied: Sequence[RankedFault]) -> str:
    """One or the other; of many, the first two and how many more."""
    titles = [r.title for r in tied]
    if len(titles) > _FEW:
        titles = [*titles[:2], f"one of {len(titles) - 2} others"]
    return listing(titles).replace(" and ", " or ")


def _where(first: RankedFault) -> str:
    return (
        f" in {first.mode}" if first.mode is not None and first.fault == "valve_in_opposite_position" else ""
    )


def _how_sure(first: RankedFault) -> str:
    if first.probability < MAY:
        return "may be"
    return "most likely" if first.probability > _MOST else "likely"


def _what_to_do(seen: _Seen, first: RankedFault) -> str:
    """What to do about it: "replace" only once everything that mimics it is settled."""
    step = first_step(seen.unit, first.fault, first.mode)
    if first.replaces is None:
        return step
    if first.settled:
        return f"Replace {first.replaces}."
    still = [out.text for out in first.rule_out if out.status != "done"]
    named = still if len(still) <= _NAMED + 1 else [*still[:_NAMED], f"{len(still) - _NAMED} more"]
    return f"{step} Before {first.replaces} is condemned, still to settle: {'; '.join(named)}."


_NAMED = 2
"""Points that are still to settle, by name; where there are more, the rest are counted."""


def _unexplained(seen: _Seen) -> Verdict | None:
    """Failing checks that no fault explains, or none clearly."""
    failing = [check for _, check in seen.checks("fail")]
    if not failing:
        return None
    titles = list(dict.fromkeys(check.title for check in failing))
    what = listing(titles[:_FEW])
    if likely := _likely_ones(seen):
        return _say(f"May be {likely}; what fails: {what}", "fail", failing[0].explain)
    return _say(f"No single fault explains what fails: {what}", "fail", failing[0].explain)


def _too_early(seen: _Seen) -> Verdict | None:
    """Readings that may not carry a judgement, where no other carries one."""
    poor = [doubt for run in seen.runs for doubt in run.doubts if doubt.code in NOT_PHYSICS]
    if not poor or _decided(seen):
        return None
    if any(doubt.code == "unsettled" for doubt in poor):
        return _say("Not settled when read", "watch", poor[0].explain)
    return _say("Read by infrared on bare pipe", "watch", poor[0].explain)


_OF_READINGS = frozenset({"run.settled", "valve.drift", "circuits.alike"})
"""Checks of how readings were taken, or of the circuit beside it: watched, they leave no question about the machine open."""
_DECIDES = ("valve.position", "water.extraction", "water.rejection", "standing.pressure")
"""Checks one of which must pass before a circuit is called sound as far as it was read."""


def _decided(seen: _Seen) -> bool:
    return any(check.code in _DECIDES for _, check in seen.checks("pass"))


def _sound(seen: _Seen) -> Verdict | None:
    """Nothing is wrong as far as was read, and what that leaves."""
    if not _decided(seen):
        return None
    if seen.first is not None:
        return _unclear(seen)
    run = [r for r in seen.runs if r.commanded_mode in ("heating", "cooling")]
    complaint = seen.visit.complaint
    asked = COMPLAINED_OF.get(complaint) if complaint else None
    read = [r for r in run if any(c.code in _DECIDES and c.status == "pass" for c in r.checks)]
    modes = _modes(read)
    waiting = [r for r in run if r.commanded_mode not in {one.commanded_mode for one in read}]
    watched = [check for _, check in seen.checks("watch") if check.code not in _OF_READINGS]
    near = (
        f"Still open: {'; '.join(list(dict.fromkeys(c.title for c in watched))[:_FEW])}" if watched else None
    )
    if not run:
        return _say("Standing pressure is right", "pass", "Start a run in heating or cooling.")
    if waiting:
        return _say(
            f"Sound as far as read in {modes}; {_modes(waiting)} is not read yet",
            "needs_readings",
            _next_step(seen),
        )
    if asked is not None and asked not in {r.commanded_mode for r in run}:
        return _say(
            f"Sound in {modes}; {asked}, which the complaint is about, has not been run",
            "needs_readings",
            f"Switch mode and read it in {asked}.",
        )
    if seen.ranking and (seen.ranking[0].probability < _TOO_LITTLE or (_rival(seen) and not _seated(read))):
        return _too_little(seen)
    outcome: Status = "watch" if watched else "pass"
    if lead := _only_shifted(seen):
        return _say(lead, outcome, seen.answer, near)
    lead = _water(seen) or _normal(read, modes)
    left = None if complaint in UNEVENTFUL else _what_is_left(seen)
    return _say(lead, outcome, seen.answer, _not_judged(read), near, None if seen.answer else left)


_OF_THE_SEAT = ("valve.suction_rise", "valve.bypass")
_OF_THE_CHARGE = frozenset({"exchange.subcooling", "metering.superheat_control"})
_OF_THE_AIR = frozenset(
    {"exchange.evaporator_split", "exchange.condenser_split", "exchange.air_difference", "exchange.capacity"}
)


def _only_shifted(seen: _Seen) -> str | None:
    """Where nothing but the valve was judged: what was not checked is said instead of a sound circuit."""
    passed = {check.code for _, check in seen.checks("pass", "watch")}
    if passed & (_OF_THE_CHARGE | _OF_THE_AIR | _HEAT_MOVED | {"heads.calling"}):
        return None
    moved = "airflow" if seen.unit.load == "air" else "water flow"
    return f"Reversing valve shifted. Not checked yet: charge, metering, {moved}"


def _normal(read: Sequence[RunExamination], modes: str) -> str:
    """How far the circuit was found normal."""
    if _seated(read):
        return f"The refrigerant circuit is sound as far as read in {modes}"
    return f"Normal as far as read in {modes}; valve seat not read"


def _seated(read: Sequence[RunExamination]) -> bool:
    """Whether the valve's seat was read in any of these runs."""
    return any(c.code in _OF_THE_SEAT and c.status != "needs_readings" for run in read for c in run.checks)


_RIVAL = 0.4
"""A fault that has so much of a sound unit's probability, and more than ``_NEAR``, keeps it from being called normal while
the valve's seat is unread."""


def _rival(seen: _Seen) -> bool:
    none, *others = seen.ranking
    return any(r.probability > max(_NEAR, _RIVAL * none.probability) for r in others)


def _not_judged(runs: Sequence[RunExamination]) -> str | None:
    """Splits that were read and held to nothing: the machine model has no say in these conditions."""
    for run in runs:
        judged = {check.code for check in run.checks}
        for split in ("evaporator_split", "condenser_split"):
            if split in run.indicators and f"exchange.{split}" not in judged:
                return "Coils and compressor are not judged in these conditions"
    return None


def _likely_ones(seen: _Seen) -> str:
    """The one or two faults that come nearest to explaining what was read; empty where none comes near."""
    faults = [r for r in seen.ranking if r.fault != "none"]
    if not faults or faults[0].probability < _NEAR:
        return ""
    near = [r for r in faults[:2] if r.probability > faults[0].probability / 2]
    return " or ".join("one wrong reading" if r.fault == "reading_suspect" else r.title for r in near)


def _unclear(seen: _Seen) -> Verdict:
    """Nothing fails, and yet a fault is likelier than none."""
    if seen.first is not None and seen.first.probability < _WORTH and not seen.checks("watch"):
        # So many that none comes near are no suspicion: too little is read.
        headline = "Nothing fails so far, and too little is read to call it sound"
        return _say(headline, "needs_readings", seen.answer, _next_step(seen))
    watched = [check.title for _, check in seen.checks("watch") if check.code not in _OF_READINGS]
    return _say(
        "Not clear yet: nothing fails, and not everything fits a sound unit",
        "watch",
        f"It may be {likely}" if (likely := _likely_ones(seen)) else None,
        f"Still open: {'; '.join(list(dict.fromkeys(watched))[:_FEW])}" if watched else None,
    )


def _too_little(seen: _Seen) -> Verdict:
    """Nothing fails, and much else would show the same."""
    return _say(
        "Nothing fails so far, and too little is read to call it sound",
        "needs_readings",
        f"It may also be {likely}" if (likely := _likely_ones(seen)) else None,
        _next_step(seen),
    )


_OF_NOTHING = ("run.", "danger.", "valve.pressure_difference")
"""Passed, they leave open whether anything is right."""


def _next_step(seen: _Seen) -> str | None:
    """The first of what to read next, those of the same run read with it."""
    wanted = [one for one in seen.next_readings if one.station and not one.switch_mode][:_FEW]
    wanted = [one for one in wanted if one.run == wanted[0].run]
    return f"Next, read {listing([_place(seen, one) for one in wanted])}." if wanted else None


def _place(seen: _Seen, wanted: NextReading) -> str:
    place = name(seen.unit, wanted.station)
    return place if wanted.quantity == "temperature" else f"{place}, {QUANTITIES[wanted.quantity]}"


def _water(seen: _Seen) -> str | None:
    """On a water source the four water readings are the result, where they were taken."""
    words = {"water.extraction": "heat of extraction", "water.rejection": "heat of rejection"}
    found = [words[check.code] for _, check in seen.checks("pass") if check.code in words]
    read = any(check.code == "valve.position" for _, check in seen.checks("pass"))
    if not found:
        return None
    rest = ", and the refrigerant circuit is sound as far as read" if read else ": the machine works"
    return f"The water side moves the {listing(list(dict.fromkeys(found)))} it should{rest}"


_HEAT_MOVED = frozenset({"exchange.capacity", "water.extraction", "water.rejection"})
"""One of them passed: the machine moves its heat, so charge and metering can't be far off."""


def _what_is_left(seen: _Seen) -> str:
    """Where the complaint may come from once the circuit is sound."""
    unjudged = _unjudged(seen)
    left = [f"{' and '.join(unjudged)} (not judged yet)"] if unjudged else []
    left.append("the thermostat")
    if not any(check.code == "exchange.airflow" for _, check in seen.checks("pass")):
        left.append("the airflow")
    if any(run.commanded_mode == "heating" for run in seen.runs):
        left += ["backup heat", "the balance point"]
    return f"What that leaves: {listing(left)}"


def _unjudged(seen: _Seen) -> list[str]:
    """What of charge and metering was held to nothing: a fixed orifice is charged by superheat, in cooling alone."""
    judged = [
        (run.running_mode, check.code)
        for run in seen.runs
        for check in run.checks
        if check.status == "pass" and check.margin is not None
    ]
    codes = {code for _, code in judged}
    if codes & _HEAT_MOVED:
        return []
    kinds = {seen.visit.unit.indoor_meter.kind, seen.visit.unit.outdoor_meter.kind}
    by_superheat = kinds & {"piston", "capillary"} and ("cooling", "metering.superheat_control") in judged
    charge = "exchange.subcooling" in codes or by_superheat
    metering = "metering.superheat_control" in codes
    return [word for word, known in (("the charge", charge), ("the metering", metering)) if not known]


def _needed(seen: _Seen) -> Verdict:
    """What is still missing."""
    run = [r for r in seen.runs if r.commanded_mode != "off"]
    if not seen.runs:
        return _say("No run yet: start one in heating or cooling", "needs_readings")
    if not run:
        missing = [code for _, check in seen.checks("needs_readings") for code in check.needs]
        more = f"Standing pressure still needs {names(seen.unit, missing)}." if missing else None
        return _say("Not enough readings yet", "needs_readings", more)
    if any(_still_needs(one) for one in run):
        first = seen.first
        worth = first is not None and first.probability >= _WORTH
        hint = f"So far it may be {first.title}." if first and worth else None
        right = list(
            dict.fromkeys(c.title for _, c in seen.checks("pass") if not c.code.startswith(_OF_NOTHING))
        )
        so_far = f"Right so far: {listing(right[:_FEW])}." if right else None
        return _say("Not enough readings yet", "needs_readings", hint or so_far, _next_step(seen))
    watched = [check for _, check in seen.checks("watch") if check.code not in _OF_READINGS]
    return _say("The reversing valve can't be called yet", "watch", watched[0].explain if watched else None)


def _still_needs(run: RunExamination) -> bool:
    """Whether nothing read says yet which way it runs."""
    return any(check.code == "valve.position" and check.needs for check in run.checks)


def _modes(runs: Sequence[RunExamination]) -> str:
    return listing(list(dict.fromkeys(run.commanded_mode for run in runs)))


def _outcome(seen: _Seen, said: Status) -> Status:
    """The worst of what was said and what fails: a failing check never hides behind a pass."""
    return "fail" if seen.checks("fail") else said


_PARTS: dict[Lead, Callable[[_Seen], Verdict | None]] = {
    "danger": _danger,
    "read_again": _read_again,
    "standing": _standing,
    "call": _call,
    "wrong_way": _wrong_way,
    "fans_and_heat": _fans_and_heat,
    "defrost": _defrost,
    "water_short": _water_short,
    "fault": _fault,
    "unexplained": _unexplained,
    "too_early": _too_early,
    "recorded": _recorded,
    "sound": _sound,
}
"""What may lead the verdict, the most urgent first."""


def _lower(words: str) -> str:
    return words[0].lower() + words[1:]


def _capital(words: str) -> str:
    return words[0].upper() + words[1:]

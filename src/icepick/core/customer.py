"""What a customer is told of a visit, before it is put into words of any language: what was found, what was done, what next.

It never says more than the verdict does, and what became known in the end goes before what was likely.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from icepick.core.diagnosis.verdict import MAY, UNEVENTFUL
from icepick.core.document.base import Document
from icepick.core.document.codes import Complaint
from icepick.core.document.examination import (
    Check,
    CircuitExamination,
    Examination,
    Fault,
    RecordingExamination,
    RunExamination,
)
from icepick.core.document.outcome import Outcome
from icepick.core.document.visit import Visit

Finding = Literal[
    "sound", "elsewhere", "so_far", "watch", "open", "wrong", "may", "likely", "known", "either"
]
"""``elsewhere``: the machine is sound, so the complaint comes from outside it. ``so_far``: nothing wrong, and not all of it
read. ``wrong``: something is, and nobody knows yet what."""
Stands = Literal["works", "better", "watch", "not_clear", "may_need", "unsure", "needs_repair", "off"]
"""How the unit stands now: it may need a repair; something is wrong and nobody is sure what; ``off``: it should not run
before it is repaired."""
Done = Literal["measured", "cured", "repaired", "still_wrong", "better", "unchanged"]
"""``cured``: measured again, or the trouble was gone; ``repaired``: measured again and not all of it; ``still_wrong``:
measured again, and something still fails."""
Next = Literal[
    "nothing", "routine", "elsewhere", "measure", "watch", "either", "confirm", "fault", "come_again", "off"
]

Told = Fault | Literal["outdoor_fan_stopped"]
"""A fault, or what is seen without a ranking and has a plainer name than the fault it stands for."""

_OPEN = ("read_again", "too_early", "needed")
_SEEN: dict[str, Told] = {
    "compressor.running": "compressor_not_running",
    "outdoor.fan": "outdoor_fan_stopped",
    "defrost.fan": "defrost_fan_running",
    "defrost.backup_heat": "defrost_no_backup_heat",
    "metering.bulb": "active_meter_overfeeding",
    "command.solenoid_resistance": "solenoid_open",
    "defrost.sensor": "defrost_sensor_off",
    "defrost.ambient_sensor": "defrost_sensor_off",
}
"""Failing checks that show their fault with no need of a ranking."""


class Plain(Document):
    """What a customer is told: ``faults`` are those ``found``, none or one, or the two likeliest of several."""

    complaint: Complaint | None
    found: Finding
    faults: list[Told]
    stands: Stands
    done: Done
    next: Next


def plainly(visit: Visit, examination: Examination, outcome: Outcome | None) -> Plain:
    """What a customer is told of a visit.

    Parameters
    ----------
    visit : Visit
        The visit document.
    examination : Examination
        What is said of it.
    outcome : Outcome or None
        What it was in the end, where that was told.

    Returns
    -------
    Plain
        In codes; a language gives the words.
    """
    left = {run.id for run in visit.runs if run.after_repair} if examination.after_repair else set[str]()
    # After a repair the verdict is still of what was found; whether it may run is of how it was left.
    every: list[RunExamination | RecordingExamination] = [*examination.runs, *examination.recordings]
    failing = _failing([one for one in every if one.id not in left])
    now = _failing([run for run in examination.runs if run.id in left]) if left else failing
    found, faults = _found(visit.complaint, examination, failing, outcome)
    done = _done(examination, outcome)
    stands = _OF_REPAIR[done] or _OF_FINDING.get(found, "needs_repair")
    in_danger = any(check.code.startswith("danger.") for check in now)
    if in_danger and (left or stands not in ("works", "better", "watch")):
        stands = "off"
    return Plain(
        complaint=visit.complaint,
        found=found,
        faults=faults,
        stands=stands,
        done=done,
        next="off" if stands == "off" else _AFTER_REPAIR[done] or _AFTER_FINDING.get(found, "fault"),
    )


def _failing(of: Sequence[RunExamination | RecordingExamination]) -> list[Check]:
    return [check for one in of for check in one.checks if check.status == "fail"]


_OF_REPAIR: dict[Done, Stands | None] = {
    "measured": None,
    "cured": "works",
    "repaired": "not_clear",
    "better": "better",
    "still_wrong": "needs_repair",
    "unchanged": "needs_repair",
}
_OF_FINDING: dict[Finding, Stands] = {
    "sound": "works",
    "elsewhere": "works",
    "watch": "watch",
    "so_far": "not_clear",
    "open": "not_clear",
    "may": "may_need",
    "wrong": "unsure",
    "either": "unsure",
}
_AFTER_REPAIR: dict[Done, Next | None] = {
    "measured": None,
    "cured": "nothing",
    "repaired": "measure",
    "better": "come_again",
    "still_wrong": "come_again",
    "unchanged": "come_again",
}
_AFTER_FINDING: dict[Finding, Next] = {
    "sound": "routine",
    "elsewhere": "elsewhere",
    "so_far": "measure",
    "open": "measure",
    "wrong": "measure",
    "watch": "watch",
    "either": "either",
    "may": "confirm",
}


def _found(
    complaint: Complaint | None,
    examination: Examination,
    failing: Sequence[Check],
    outcome: Outcome | None,
) -> tuple[Finding, list[Told]]:
    if outcome is not None and outcome.fault is not None:
        if outcome.fault == "none":
            return ("sound" if complaint in UNEVENTFUL else "elsewhere"), []
        if outcome.fault != "reading_suspect":
            return ("known" if outcome.truth else "likely"), [outcome.fault]
    if examination.lead in _OPEN:
        return "open", []
    if examination.lead in ("sound", "recorded"):
        return _nothing_fails(complaint, examination), []
    if seen := _seen(examination, failing):
        return "likely", [seen]
    told = _gravest(examination)
    concluded: list[Told] = [] if examination.lead in ("unexplained", "standing") else [*told.concluded]
    if "reading_suspect" in concluded:
        return "open", []
    if len(concluded) > 1:
        return "either", concluded[:2]
    if concluded:
        if examination.lead in ("call", "fans_and_heat"):
            return "likely", concluded
        chance = {one.fault: one.probability for one in reversed(told.ranking)}
        return ("likely" if chance.get(told.concluded[0], 1.0) >= MAY else "may"), concluded
    return ("wrong" if examination.outcome == "fail" else "watch"), []


def _gravest(examination: Examination) -> Examination | CircuitExamination:
    """Of several circuits the one whose fault is told first: faults of two circuits are both there, not one or the other."""
    first = examination.concluded[:1]
    own = (one for one in examination.circuits if first and one.concluded[:1] == first)
    return next(own, examination)


def _nothing_fails(complaint: Complaint | None, examination: Examination) -> Finding:
    if examination.outcome == "needs_readings":
        return "so_far"
    leads = bool(examination.ranking) and examination.ranking[0].fault != "none"
    if leads:
        return "open"
    if examination.outcome == "watch":
        return "watch"
    return "sound" if complaint in UNEVENTFUL else "elsewhere"


def _seen(examination: Examination, failing: Sequence[Check]) -> Told | None:
    """What a failing check shows by itself, where that leads the verdict."""
    lead = examination.lead
    for check in failing:
        if lead == "standing" and check.code == "standing.pressure":
            low = check.measured is None or check.measured.value < 0
            return "undercharge" if low else next(iter(examination.concluded), None)
        if lead == "call" and check.code == "command.call":
            power = examination.ranking and examination.ranking[0].fault == "control_power_missing"
            return "control_power_missing" if power else "call_missing"
        if lead in ("call", "fans_and_heat", "defrost") and check.code in _SEEN:
            return _SEEN[check.code]
    return None


def _done(examination: Examination, outcome: Outcome | None) -> Done:
    after = examination.after_repair
    repair = outcome.repair if outcome is not None else None
    if after is not None and after.outcome == "fail" and repair in ("cured", "unchanged", None):
        return "still_wrong"
    if repair == "none":
        return "measured"
    if repair is not None:
        return repair
    if after is None:
        return "measured"
    return "cured" if after.outcome == "pass" else "repaired"

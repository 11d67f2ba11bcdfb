"""The work at the bench, step after step: what each took and gave, and the visit document it makes.

What a step gave is kept with it; what the next one gives follows from the case and the steps before.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any, cast

from pydantic import Field

from icepick.bench import acts
from icepick.bench.acts import (
    Careful,
    ForceDefrost,
    Hint,
    Logger,
    LookAt,
    RepairIt,
    Step,
    Switch,
    Take,
    Wait,
    minutes_of_reading,
)
from icepick.bench.case import Case, Trouble, at_hand, beyond_reach, instrument
from icepick.bench.controls import way_it_runs
from icepick.bench.looks import BY_CODE, looks_on, seen
from icepick.bench.repairs import every_repair, repair_of
from icepick.bench.unit_at_work import NoRestError, Phase, left_of, shown_at
from icepick.bench.watching import LOGGED, recorded
from icepick.core.diagnosis.rule_outs import Runs
from icepick.core.document.base import Document
from icepick.core.document.codes import Mode, ReadingUnit
from icepick.core.document.examination import Fault
from icepick.core.document.recording import Recording
from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Observation, Reading, Run, Site, Visit
from icepick.core.examined_run import examined_runs
from icepick.core.practice import DEFAULT_PRACTICE
from icepick.core.properties.quantities import from_si

EPOCH = datetime(2026, 1, 5, 8, 0, tzinfo=UTC)
"""The clock of every case begins here: the bench has its own time."""
_SHINES = 0.45
"""Of a bare copper pipe an infrared gun sees so much; the rest is what the pipe reflects. [common practice; our own
choice]"""
_NOISE = {"clamp": 0.28, "probe": 0.14, "infrared": 0.8, "gauge": 0.005, "meter": 0.005}
"""One standard deviation: of temperatures [K], of all else in parts of the value. [common practice]"""
_SHOWN_IN: dict[str, tuple[ReadingUnit, int]] = {
    "temperature": ("degF", 1),
    "wet_bulb": ("degF", 1),
    "relative_humidity": ("percent", 0),
    "pressure": ("psi", 1),
    "current": ("A", 1),
    "voltage": ("V", 1),
    "power": ("kW", 2),
}


class RefusedError(ValueError):
    """The step can't be done; the message says why."""


class Done(Document):
    """A step and what came of it. ``began`` and ``ended`` are minutes of the visit; ``run`` the run it belongs to;
    ``missed`` the cautions it wanted."""

    step: Step
    began: float
    ended: float
    run: str
    reading: Reading | None = None
    observations: list[Observation] = Field(default=[])
    recording: Recording | None = None
    words: str = ""
    missed: list[acts.Care] = Field(default=[])


def do(case: Case, before: Sequence[Done], step: Step) -> Done:
    """Do something.

    Parameters
    ----------
    case : Case
        What is practiced on.
    before : sequence of Done
        The steps so far.
    step : Step
        The next one; a hint is not worked out here.

    Returns
    -------
    Done
        With what came of it.

    Raises
    ------
    RefusedError
        There is no such place, look or instrument, or the unit does not run so.
    """
    now = before[-1].ended if before else 0.0
    missed = [one for one in acts.needs(case, step) if not stands(before, one)]
    try:
        return _done(case, before, step, now).model_copy(update={"missed": missed})
    except NoRestError:
        raise RefusedError("The unit trips on a safety switch as soon as it runs so.") from None


def _done(case: Case, before: Sequence[Done], step: Step, now: float) -> Done:
    run = runs_of(case, before)[-1].id
    match step:
        case Take():
            return _take(case, before, step, now, run)
        case LookAt():
            look = BY_CODE.get(step.look)
            if look is None or look not in looks_on(case):
                raise RefusedError("There is nothing like that to look at on this unit.")
            found = seen(case, _still(case, before), _mode(case, before), look)
            return Done(step=step, began=now, ended=now + look.minutes, run=run, observations=found)
        case Switch():
            return _switch(case, before, step, now)
        case Wait():
            return Done(step=step, began=now, ended=now + step.minutes, run=run)
        case Careful():
            return Done(step=step, began=now, ended=now + acts.CARED, run=run)
        case ForceDefrost():
            return _watch(case, before, step, now, run)
        case Logger():
            return _watch(case, before, step, now, run)
        case RepairIt():
            if step.fault not in every_repair():
                raise RefusedError("There is nothing of that to repair on this unit.")
            minutes = repair_of(step.fault).minutes
            _shown(case, [*before, Done(step=step, began=now, ended=now + minutes, run="")], now + minutes)
            after = f"run-{len(runs_of(case, before)) + 1}"
            return Done(step=step, began=now, ended=now + minutes, run=after)
        case Hint():
            return Done(step=step, began=now, ended=now + acts.HINTED, run=run)


def _take(case: Case, before: Sequence[Done], step: Take, now: float, run: str) -> Done:
    known = station(step.station).quantities[step.quantity]
    if not at_hand(case, step.station, step.quantity):
        raise RefusedError("That can't be read with what is at hand here.")
    right = instrument(step.station, step.quantity)
    if step.method not in (None, right, "infrared") or (step.method == "infrared" and not _aimed(case, step)):
        raise RefusedError(f"That is not read by {step.method}.")
    method = step.method or right
    at = now + minutes_of_reading(case, step, gauged=_gauged(before))
    shown = _shown(case, before, at)
    place = (_really_at(case, before, step), step.quantity)
    if place not in shown:
        raise RefusedError("There is nothing to read there.")
    value = shown[place]
    if method == "infrared" and station(step.station).group is Group.LINE:
        around = case.indoor.si if station(step.station).place.value == "indoors" else case.outdoor.si
        value = around + _SHINES * (value - around)
    dice = random.Random(f"{case.code} {step.station} {step.quantity} {method} {at:.2f}")
    wavers = _NOISE[method] * (1.0 if step.quantity in ("temperature", "wet_bulb") else abs(value))
    if step.quantity in ("temperature", "wet_bulb") or step.station != "solenoid":
        value += dice.gauss(0, wavers) if value else 0.0
    unit, digits = _SHOWN_IN.get(step.quantity, (cast(ReadingUnit, known.unit), 1))
    if step.quantity == "resistance":
        unit, digits = ("ohm", 1) if step.station == "solenoid" else ("kohm", 2)
    if step.quantity == "relative_humidity":
        value = min(1.0, max(0.0, value))
    reading = Reading(
        station=step.station,
        quantity=step.quantity,
        value=round(from_si(value, unit, known.kind), digits),
        unit=unit,
        method=method,
        at=moment(at),
    )
    return Done(step=step, began=now, ended=at, run=run, reading=reading)


def _aimed(case: Case, step: Take) -> bool:
    """Whether an infrared gun can be aimed there."""
    groups = (Group.LINE, Group.CIRCUIT)
    return "infrared" in case.kit and step.quantity == "temperature" and station(step.station).group in groups


def _really_at(case: Case, before: Sequence[Done], step: Take) -> str:
    """The pipe a clamp is on: two may have been set on each other's, until one is set again."""
    pair = case.exchanged
    if pair is None or step.station not in (pair.one, pair.other) or step.method == "infrared":
        return step.station
    again = any(isinstance(one.step, Take) and one.step.station == step.station for one in before)
    return step.station if again else (pair.other if step.station == pair.one else pair.one)


def _switch(case: Case, before: Sequence[Done], step: Switch, now: float) -> Done:
    if step.mode == _mode(case, before):
        raise RefusedError(f"It is called for {step.mode} already.")
    done = Done(step=step, began=now, ended=now + acts.SWITCHED, run=f"run-{len(runs_of(case, before)) + 1}")
    _shown(case, [*before, done], now + acts.SWITCHED)
    heard = valve_moves(case, before, step.mode)
    shifts = [Observation(code="valve_shift_heard", value=True)] if heard else []
    return done.model_copy(update={"observations": shifts})


def valve_moves(case: Case, before: Sequence[Done], mode: Mode) -> bool:
    """Whether the slide rides over, and rushes, when a mode is called for; out of a rest, as soon as there is pressure."""
    troubles = _still(case, before)
    ran = next(
        (one.commanded for one in reversed(phases(case, before)) if one.commanded != "off"), case.arrives
    )
    was, will = way_it_runs(case, troubles, ran), way_it_runs(case, troubles, mode)
    return was is not None and will is not None and was != will


def _watch(case: Case, before: Sequence[Done], step: ForceDefrost | Logger, now: float, run: str) -> Done:
    forced = isinstance(step, ForceDefrost)
    if case.unit.source == "water" or (case.unit.defrost and case.unit.defrost.method == "none"):
        raise RefusedError("This unit does not defrost.")
    if forced and _mode(case, before) != "heating":
        raise RefusedError("Call for heating first: a defrost is forced out of heating.")
    if not forced and not case.logger:
        raise RefusedError("No logger was left on this unit.")
    key = f"recording-{1 + sum(one.recording is not None for one in before)}"
    began = moment(now if forced else -LOGGED / 60)
    try:
        found = recorded(case, _still(case, before), key, began, forced=forced)
    except ValueError:
        raise RefusedError("The unit trips on a safety switch before it gets so far.") from None
    minutes = acts.DEFROST if forced else acts.LOGGED
    return Done(step=step, began=now, ended=now + minutes, run=run, recording=found)


def _shown(case: Case, before: Sequence[Done], minute: float) -> dict[tuple[str, str], float]:
    return shown_at(case, phases(case, before), minute)


def phases(case: Case, before: Sequence[Done]) -> list[Phase]:
    """What was called for from when on, what was repaired by then, and how many ports had let some of the charge go."""
    found, ports = [Phase(-case.ran, case.arrives)], set[str]()
    for one in before:
        if isinstance(one.step, Switch):
            found.append(replace(found[-1], since=one.began, commanded=one.step.mode))
        if isinstance(one.step, RepairIt):
            gone = found[-1].repaired | {one.step.fault}
            found.append(replace(found[-1], since=one.ended, repaired=gone))
        if one.reading is not None and one.reading.method == "gauge" and one.reading.station not in ports:
            ports.add(one.reading.station)
            found.append(replace(found[-1], since=one.ended, ports=len(ports)))
    return found


def _mode(case: Case, before: Sequence[Done]) -> Mode:
    return phases(case, before)[-1].commanded


def _still(case: Case, before: Sequence[Done]) -> list[Trouble]:
    return left_of(case, repaired(before))


def repaired(before: Sequence[Done]) -> frozenset[Fault]:
    """What was repaired, needed or not."""
    return frozenset(one.step.fault for one in before if isinstance(one.step, RepairIt))


def _gauged(before: Sequence[Done]) -> bool:
    return any(one.reading is not None and one.reading.method == "gauge" for one in before)


def stands(before: Sequence[Done], care: acts.Care) -> bool:
    """Whether a caution stands: locked out until it runs again, the others for good."""
    taken = False
    for one in before:
        if isinstance(one.step, Careful) and one.step.care == care:
            taken = True
        if care == "lock_out" and isinstance(one.step, Switch):
            taken = False
    return taken


def moment(minute: float) -> datetime:
    """A minute of the visit on the bench's clock."""
    return EPOCH + timedelta(seconds=round(minute * 60))


def runs_of(case: Case, before: Sequence[Done]) -> list[Run]:
    """The runs so far, with what was read and seen in each."""
    part: dict[str, dict[str, Any]] = {
        "single": {},
        "two_stage": {"compressor_stage": "high" if case.speed > 0.9 else "low"},
    }
    load = part.get(case.unit.compressor.kind, {"compressor_speed": round(100 * case.speed)})
    away = [Observation(code="out_of_reach", value=code) for code in beyond_reach(case)]
    runs: list[dict[str, Any]] = [{"mode": case.arrives, "since": -case.ran, "after": False}]
    entries: list[tuple[list[Reading], list[Observation]]] = [([], [])]
    for one in before:
        if isinstance(one.step, Switch | RepairIt):
            mode = one.step.mode if isinstance(one.step, Switch) else runs[-1]["mode"]
            since = one.began if isinstance(one.step, Switch) else one.ended
            after = isinstance(one.step, RepairIt) or runs[-1]["after"]
            runs.append({"mode": mode, "since": since, "after": after})
            entries.append(([], []))
        if one.reading is not None:
            entries[-1][0].append(one.reading)
        entries[-1][1].extend(one.observations)
    return [
        Run(
            id=f"run-{n + 1}",
            mode=run["mode"],
            started_at=moment(run["since"]),
            after_repair=bool(run["after"]),
            readings=entries[n][0],
            observations=[*away, *entries[n][1]],
            **(load if run["mode"] != "off" else {}),
        )
        for n, run in enumerate(runs)
    ]


def visit_of(case: Case, before: Sequence[Done], *, after_only: bool = False) -> Visit:
    """The visit so far, marked as practice.

    Parameters
    ----------
    case : Case
        What is practiced on.
    before : sequence of Done
        The steps so far.
    after_only : bool
        Whether only what was read since the last repairing counts.

    Returns
    -------
    Visit
        As a visit to a customer is written down, but for its mark.
    """
    runs = runs_of(case, before)
    recordings = [one.recording for one in before if one.recording is not None]
    if after_only and any(run.after_repair for run in runs):
        last = max(n for n, one in enumerate(before) if isinstance(one.step, RepairIt))
        first = next(n for n, run in enumerate(runs) if run.id == before[last].run)
        runs = [run.model_copy(update={"after_repair": False}) for run in runs[first:]]
        recordings = [one.recording for one in before[last:] if one.recording is not None]
    return Visit(
        format="icepick-visit",
        version=1,
        bench=case.code,
        site=Site(name=case.site, notes="Practice: a simulated unit. Nothing of this was measured."),
        complaint=case.complaint,
        unit=case.unit,
        runs=runs,
        recordings=recordings,
    )


def judged(case: Case, before: Sequence[Done], *, after_only: bool = False) -> Runs:
    """The runs with the checks that rest on readings which may carry a judgement."""
    visit = visit_of(case, before, after_only=after_only)
    every = [run.judged() for run in examined_runs(visit, DEFAULT_PRACTICE, "field", None)]
    return [(run.context, run.checks) for run in every]

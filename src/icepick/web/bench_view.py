"""The bench as its screens need it: where one starts from, and an attempt as its worker sees it. What is not named here does
not leave the server before it was said."""

from __future__ import annotations

import sqlite3
from datetime import datetime
from functools import lru_cache

from pydantic import AwareDatetime, BaseModel

from icepick.bench.acts import CARES, Care, cares_on
from icepick.bench.case import LEVELS, Case, Cause, Level
from icepick.bench.drawing import CAUSES, OF_ONE_MODE, SETTABLE
from icepick.bench.lessons import groups, lessons
from icepick.bench.looks import looks_on
from icepick.bench.playing import Done, stands, visit_of
from icepick.bench.progress import Progress, Tried, progress, tried
from icepick.bench.saying import Sayable, Saying, choices
from icepick.bench.scoring import Score
from icepick.bench.screen import RecordedShown, readable, recorded_shown, runs_shown, settles
from icepick.bench.stock import stock
from icepick.bench.wording import step_found, step_words
from icepick.core.document.codes import Complaint, Method, Mode, QuantityName
from icepick.core.document.examination import Fault, RunExamination
from icepick.core.document.visit import Run, Unit
from icepick.core.handbook.fault_pages import title
from icepick.core.machine.faults import machine_fault
from icepick.core.properties.quantities import UnitSystem
from icepick.store import bench as store


class LessonLine(BaseModel):
    """A lesson: how often it was tried, and the best score."""

    code: str
    title: str
    site: str
    tried: int
    solved: bool
    best: float | None


class LessonGroup(BaseModel):
    """Lessons on one subject; ``read`` is the Handbook's moving part to begin with."""

    code: str
    read: str
    title: str
    words: str
    lessons: list[LessonLine]


class AttemptLine(BaseModel):
    """An attempt; ``score`` is null while it is open."""

    id: int
    code: str
    title: str
    started_at: AwareDatetime
    score: float | None
    right: bool | None


class CaseAttempt(BaseModel):
    by: str | None
    started_at: AwareDatetime
    said: bool
    right: bool | None
    score: float | None


class CaseLine(BaseModel):
    """A case that was set by hand, with everybody's attempts."""

    code: str
    title: str
    attempts: list[CaseAttempt]


class StockLine(BaseModel):
    """A unit that a case can be set on."""

    name: str
    site: str
    label: str


class Settable(BaseModel):
    """A fault that a case can be set with: how bad it can be, in what, and what may lie behind it."""

    fault: Fault
    title: str
    unit: str
    words: str
    most: float
    of_one_mode: bool
    causes: list[Cause]


class BenchHome(BaseModel):
    """Everything one starts from."""

    groups: list[LessonGroup]
    levels: dict[Level, str]
    attempts: list[AttemptLine]
    set_by_me: list[CaseLine]
    stock: list[StockLine]
    settable: list[Settable]
    progress: Progress


class LookLine(BaseModel):
    """Something that can be looked at; ``opens`` where a panel comes off for it."""

    code: str
    short: str
    words: str
    minutes: float
    opens: bool


class CareLine(BaseModel):
    """A caution: ``taken`` while it stands."""

    care: Care
    short: str
    words: str
    taken: bool


class StepLine(BaseModel):
    """What was done: ``found`` is what came of it, ``shifted`` whether the valve was heard."""

    number: int
    act: str
    began: float
    ended: float
    words: str
    found: str
    shifted: bool


class Readable(BaseModel):
    """A place that can be read with what is at hand."""

    station: str
    quantity: QuantityName


class AttemptView(BaseModel):
    """An attempt as its worker sees it: no judgement, and nothing of what is wrong."""

    id: int
    code: str
    title: str
    level: Level
    site: str
    told: str
    complaint: Complaint
    unit: Unit
    kit: list[Method]
    logger: bool
    minute: float
    settles: float
    mode: Mode
    runs: list[Run]
    examined: list[RunExamination]
    recordings: list[RecordedShown]
    readable: list[Readable]
    steps: list[StepLine]
    looks: list[LookLine]
    cares: list[CareLine]
    choices: list[Sayable]
    said: Saying | None


def home(db: sqlite3.Connection) -> BenchHome:
    """Lessons, levels, attempts and how who is signed in gets on."""
    every = store.attempts(db)
    done = [tried_of(one) for one in every if one.said]
    best: dict[str, float] = {}
    for one in done:
        best[one.code] = max(best.get(one.code, -1e9), one.score.total)
    solved = {one.code for one in done if one.score.right}
    count = {code: sum(one.code == code for one in every) for code in lessons()}
    return BenchHome(
        groups=[
            LessonGroup(
                code=group.code,
                read=group.read,
                title=group.title,
                words=group.words,
                lessons=[
                    LessonLine(
                        code=code,
                        title=lesson.case.title,
                        site=lesson.case.site,
                        tried=count[code],
                        solved=code in solved,
                        best=best.get(code),
                    )
                    for code, lesson in lessons().items()
                    if lesson.group == group.code
                ],
            )
            for group in groups()
        ],
        levels=LEVELS,
        attempts=[_line(one) for one in reversed(every)][:_RECENT],
        set_by_me=[_case_line(db, code, written) for code, written in store.cases_set(db)],
        stock=[StockLine(name=one.name, site=one.site, label=one.unit.label) for one in stock().values()],
        settable=_settable(),
        progress=progress(done),
    )


def _settable() -> list[Settable]:
    found = []
    for fault in SETTABLE:
        known = machine_fault(fault)
        found.append(
            Settable(
                fault=fault,
                title=title(fault),
                unit=known.unit if known else "",
                words=known.words if known else "",
                most=known.most if known else 0.0,
                of_one_mode=fault in OF_ONE_MODE,
                causes=list(dict.fromkeys(CAUSES.get(fault, ()))),
            )
        )
    return found


_RECENT = 30


def _line(one: store.Attempt) -> AttemptLine:
    score = Score.model_validate_json(one.score) if one.score else None
    return AttemptLine(
        id=one.id,
        code=one.code,
        title=case_of(one.case).title,
        started_at=datetime.fromisoformat(one.started_at),
        score=score.total if score else None,
        right=score.right if score else None,
    )


def _case_line(db: sqlite3.Connection, code: str, written: str) -> CaseLine:
    case = case_of(written)
    lines = []
    for by, one in store.attempts_at(db, code):
        line = _line(one)
        lines.append(
            CaseAttempt(
                by=by,
                started_at=line.started_at,
                said=one.said is not None,
                right=line.right,
                score=line.score,
            )
        )
    return CaseLine(code=code, title=case.title, attempts=lines)


def tried_of(one: store.Attempt) -> Tried:
    """An attempt that was said, in short."""
    return tried(
        one.id,
        datetime.fromisoformat(one.said_at or one.started_at),
        case_of(one.case),
        Saying.model_validate_json(one.said or "{}"),
        Score.model_validate_json(one.score or "{}"),
    )


@lru_cache(maxsize=256)
def case_of(written: str) -> Case:
    """A case as it is kept."""
    return Case.model_validate_json(written)


def attempt_view(one: store.Attempt, case: Case, done: list[Done], units: UnitSystem) -> AttemptView:
    """An attempt, as far as it has got."""
    visit = visit_of(case, done)
    return AttemptView(
        id=one.id,
        code=case.code,
        title=case.title,
        level=case.level,
        site=case.site,
        told=case.told,
        complaint=case.complaint,
        unit=case.unit,
        kit=case.kit,
        logger=case.logger,
        minute=done[-1].ended if done else 0.0,
        settles=settles(case, done),
        mode=visit.runs[-1].mode,
        runs=visit.runs,
        examined=runs_shown(case, done, units),
        recordings=recorded_shown(done, units),
        readable=[Readable(station=code, quantity=quantity) for code, quantity in readable(case)],
        steps=[_step_line(case, n, step, units) for n, step in enumerate(done, start=1)],
        looks=[
            LookLine(
                code=look.code, short=look.short, words=look.words, minutes=look.minutes, opens=look.opens
            )
            for look in looks_on(case)
        ],
        cares=[
            CareLine(care=care, short=CARES[care][0], words=CARES[care][1], taken=stands(done, care))
            for care in cares_on(case)
        ],
        choices=list(choices_of(one.case)),
        said=Saying.model_validate_json(one.said) if one.said else None,
    )


def _step_line(case: Case, number: int, one: Done, units: UnitSystem) -> StepLine:
    return StepLine(
        number=number,
        act=one.step.act,
        began=one.began,
        ended=one.ended,
        words=step_words(case, one),
        found=step_found(one, units),
        shifted=any(seen.code == "valve_shift_heard" for seen in one.observations),
    )


@lru_cache(maxsize=64)
def choices_of(written: str) -> tuple[Sayable, ...]:
    """Everything that could be said of a case's unit."""
    return tuple(choices(case_of(written)))

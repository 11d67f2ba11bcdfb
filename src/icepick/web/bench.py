"""The practice bench: lessons, attempts, what is done in them, what is said, and the debrief. Of what is wrong with a unit
nothing leaves here before it was said."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from secrets import randbelow
from typing import Annotated

from flask import Response
from pydantic import AwareDatetime, BaseModel, Field, FiniteFloat

from icepick.bench.acts import CARES, Care, Hint, Step, cares_on
from icepick.bench.case import LEVELS, Case, Cause, Exchanged, Level, Trouble
from icepick.bench.choosing import built_in, new_code
from icepick.bench.debrief import Debrief, debrief
from icepick.bench.drawing import CAUSES, MOST_SEED, OF_ONE_MODE, SETTABLE, code_of
from icepick.bench.hinting import hinted
from icepick.bench.lessons import groups, lessons
from icepick.bench.looks import looks_on
from icepick.bench.plan import Plan, plan
from icepick.bench.playing import Done, RefusedError, do, stands, visit_of
from icepick.bench.progress import Progress, Tried, as_csv, progress, tried
from icepick.bench.saying import Sayable, Saying, choices
from icepick.bench.scoring import Score
from icepick.bench.screen import RecordedShown, readable, recorded_shown, runs_shown, settles
from icepick.bench.stock import stock
from icepick.bench.unit_at_work import comes_to_rest
from icepick.bench.wording import step_found, step_words
from icepick.core.document.base import Document, Temperature
from icepick.core.document.codes import Complaint, Method, Mode, Name, QuantityName, Text
from icepick.core.document.examination import Fault, RunExamination
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Run, Unit, Visit
from icepick.core.handbook.fault_pages import title
from icepick.core.machine.faults import machine_fault
from icepick.core.properties.quantities import UnitSystem
from icepick.store import bench as store
from icepick.store.database import writing
from icepick.store.receipts import once
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.problems import problem

api = Api("bench")

Code = Annotated[str, Field(min_length=1, max_length=40)]


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


class NewAttempt(Document):
    """A case by its code, or one to be drawn at a level."""

    entry_key: EntryKey
    code: Code | None = None
    level: Level | None = None


class AttemptBegun(BaseModel):
    id: int


class NewStep(Document):
    entry_key: EntryKey
    step: Step


class NewCase(Document):
    """A case set by hand, on a unit of the stock."""

    entry_key: EntryKey
    title: Name
    stock: str
    told: Text = ""
    complaint: Complaint
    arrives: FlowMode
    outdoor: Temperature
    indoor: Temperature
    humidity: Annotated[FiniteFloat, Field(ge=0.1, le=1)] = 0.7
    troubles: list[Trouble] = Field(default=[], max_length=2)
    kit: list[Method] = Field(default=["clamp", "probe", "infrared", "gauge", "meter"], min_length=1)
    exchanged: Exchanged | None = None


class CaseSet(BaseModel):
    """The code to give to a class."""

    code: str


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


class SaidNow(BaseModel):
    score: Score


class DebriefView(BaseModel):
    """The debrief, with the unit's places and what the lesson was about."""

    id: int
    code: str
    title: str
    site: str
    group: str | None
    teaches: str
    debrief: Debrief


@api.endpoint("get", "/bench", gives=BenchHome, needs="practice")
def bench_home() -> BenchHome:
    """Lessons, levels, attempts and how one gets on."""
    db = connection()
    every = store.attempts(db)
    done = [_tried(one) for one in every if one.said]
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
        set_by_me=[_case_line(code, written) for code, written in store.cases_set(db)],
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
        title=_case(one.case).title,
        started_at=datetime.fromisoformat(one.started_at),
        score=score.total if score else None,
        right=score.right if score else None,
    )


def _case_line(code: str, written: str) -> CaseLine:
    case = _case(written)
    lines = []
    for by, one in store.attempts_at(connection(), code):
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


def _tried(one: store.Attempt) -> Tried:
    return tried(
        one.id,
        datetime.fromisoformat(one.said_at or one.started_at),
        _case(one.case),
        Saying.model_validate_json(one.said or "{}"),
        Score.model_validate_json(one.score or "{}"),
    )


@lru_cache(maxsize=256)
def _case(written: str) -> Case:
    return Case.model_validate_json(written)


@api.endpoint("post", "/bench/attempts", accepts=NewAttempt, gives=AttemptBegun, needs="practice", status=201)
def begin_attempt(body: NewAttempt) -> AttemptBegun:
    """Begin at a case: a lesson, a drawn one, or one that was set."""
    if (body.code is None) == (body.level is None):
        raise problem(422, "Give either code or level.")
    code = body.code or code_of(body.level or "one_fault", randbelow(MOST_SEED + 1))
    code = code.strip()
    case = built_in(code) or built_in(code.upper())
    written = case.model_dump_json() if case else store.case_of(connection(), code.upper())
    if written is None:
        raise problem(
            404,
            f"There is no case {code!r}: a lesson, a letter and a number as B-4711, or a code you were given.",
        )
    content = body.model_dump_json(exclude={"entry_key"})
    with writing(connection()) as db:
        made = once(
            db, body.entry_key, "attempt", content, lambda: str(store.start(db, _case(written).code, written))
        )
    return AttemptBegun(id=int(made))


def _found(attempt_id: int) -> tuple[store.Attempt, Case, list[Done]]:
    one = store.attempt(connection(), attempt_id)
    if one is None:
        raise problem(404, f"There is no attempt {attempt_id}.")
    return (
        one,
        _case(one.case),
        [Done.model_validate_json(text) for text in store.steps(connection(), attempt_id)],
    )


@api.endpoint("get", "/bench/attempts/<int:attempt_id>", gives=AttemptView, needs="practice", in_units=True)
def get_attempt(attempt_id: int, units: UnitSystem) -> AttemptView:
    """An attempt, as far as it has got."""
    one, case, done = _found(attempt_id)
    return _view(one, case, done, units)


def _view(one: store.Attempt, case: Case, done: list[Done], units: UnitSystem) -> AttemptView:
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
        choices=list(_choices(one.case)),
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
def _choices(written: str) -> tuple[Sayable, ...]:
    return tuple(choices(_case(written)))


@api.endpoint(
    "post",
    "/bench/attempts/<int:attempt_id>/steps",
    accepts=NewStep,
    gives=AttemptView,
    needs="practice",
    in_units=True,
    status=201,
)
def take_step(attempt_id: int, body: NewStep, units: UnitSystem) -> AttemptView:
    """Do something, and see what comes of it. Sent again under its key, it is not done twice."""
    asked, db = body.model_dump_json(include={"step"}), connection()
    while True:
        one, case, done = _found(attempt_id)
        if store.step_under(db, attempt_id, body.entry_key, asked):
            return _view(one, case, done, units)
        if one.said is not None:
            raise problem(409, "This case is said and done. Begin another.")
        if len(done) >= MOST_STEPS:
            raise problem(409, f"After {MOST_STEPS} steps it is time to say something.")
        # Worked out before anything is locked: a hint takes a while.
        made = _done(case, done, body)
        with writing(db):
            new = not store.step_under(db, attempt_id, body.entry_key, asked)
            if new and len(store.steps(db, attempt_id)) == len(done):
                store.add_step(db, attempt_id, body.entry_key, asked, made.model_dump_json())
                return _view(one, case, [*done, made], units)


MOST_STEPS = 400
"""In one attempt."""


def _done(case: Case, done: list[Done], body: NewStep) -> Done:
    try:
        made = do(case, done, body.step)
    except RefusedError as error:
        raise problem(409, str(error)) from None
    if isinstance(body.step, Hint):
        return made.model_copy(update={"words": hinted(case, done)})
    return made


@api.endpoint(
    "post",
    "/bench/attempts/<int:attempt_id>/saying",
    accepts=Saying,
    gives=SaidNow,
    needs="practice",
    status=201,
    computes=True,
)
def say_it(attempt_id: int, body: Saying) -> SaidNow:
    """Say what it is. From then on the truth is told, and nothing can be done any more."""
    one, case, done = _found(attempt_id)
    if one.said is not None:
        raise problem(409, "This case is said and done.")
    known = {(choice.fault, choice.where) for choice in _choices(one.case)}
    for n, said in enumerate(body.faults):
        if (said.fault, said.where) not in known:
            raise problem(422, f"Fault {n + 1} is none that this unit can have.")
    best = plan(case)
    score = debrief(case, done, body, "field", best).score
    with writing(connection()) as db:
        if (now := store.attempt(db, attempt_id)) is None or now.said is not None:
            raise problem(409, "This case is said and done.")
        if len(store.steps(db, attempt_id)) != len(done):
            raise problem(409, "Something was done meanwhile: look at it, and say it again.")
        store.say(db, attempt_id, body.model_dump_json(), best.model_dump_json(), score.model_dump_json())
    return SaidNow(score=score)


@api.endpoint(
    "get",
    "/bench/attempts/<int:attempt_id>/debrief",
    gives=DebriefView,
    needs="practice",
    in_units=True,
    computes=True,
)
def get_debrief(attempt_id: int, units: UnitSystem) -> DebriefView:
    """The truth, what each reading told, an expert's way beside it, and the score."""
    one, case, done = _found(attempt_id)
    if one.said is None or one.plan is None:
        raise problem(409, "Say what it is first: the truth comes after.")
    lesson = lessons().get(one.code)
    return DebriefView(
        id=one.id,
        code=one.code,
        title=case.title,
        site=case.site,
        group=lesson.group if lesson else None,
        teaches=lesson.teaches if lesson else "",
        debrief=debrief(
            case, done, Saying.model_validate_json(one.said), units, Plan.model_validate_json(one.plan)
        ),
    )


@api.endpoint("get", "/bench/attempts/<int:attempt_id>/document", gives=Visit, needs="practice")
def get_bench_document(attempt_id: int) -> Visit:
    """The attempt as a visit document, marked as practice."""
    _, case, done = _found(attempt_id)
    return visit_of(case, done)


@api.endpoint("post", "/bench/cases", accepts=NewCase, gives=CaseSet, needs="practice", status=201)
def set_case(body: NewCase) -> CaseSet:
    """Set a case by hand; its code says nothing of it."""
    where = stock().get(body.stock)
    if where is None:
        raise problem(422, "There is no such unit on the bench.")
    code = new_code()
    fields = body.model_dump(exclude={"entry_key", "stock"})
    case = Case.model_validate(
        {
            **fields,
            "code": code,
            "level": "one_fault",
            "site": where.site,
            "unit": where.unit,
            "individual": randbelow(9999) + 1,
        }
    )
    if not comes_to_rest(case):
        raise problem(
            422,
            "The unit does not run so: a safety switch stops it. Take less of the fault, or other weather.",
        )
    with writing(connection()) as db:

        def keep() -> str:
            store.keep_case(db, code, case.model_dump_json())
            return code

        return CaseSet(
            code=once(db, body.entry_key, "case", body.model_dump_json(exclude={"entry_key"}), keep)
        )


@api.file("/bench/progress.csv", kind="text/csv", needs="practice")
def progress_file() -> Response:
    """Every attempt that was said, as a table."""
    every = [_tried(one) for one in store.attempts(connection()) if one.said]
    found = Response(as_csv(every), mimetype="text/csv")
    found.headers["Content-Disposition"] = 'attachment; filename="icepick-practice.csv"'
    return found

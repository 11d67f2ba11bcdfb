"""The practice bench: lessons, attempts, what is done in them, what is said, and the debrief. Of what is wrong with a unit
nothing leaves here before it was said."""

from __future__ import annotations

from secrets import randbelow
from typing import Annotated

from flask import Response
from pydantic import BaseModel, Field, FiniteFloat

from icepick.bench.acts import Hint, Step
from icepick.bench.case import Case, Exchanged, Level, Trouble
from icepick.bench.choosing import built_in, new_code
from icepick.bench.debrief import Debrief, debrief
from icepick.bench.drawing import MOST_SEED, code_of
from icepick.bench.hinting import hinted
from icepick.bench.lessons import lessons
from icepick.bench.plan import Plan, plan
from icepick.bench.playing import Done, RefusedError, do, visit_of
from icepick.bench.progress import as_csv
from icepick.bench.saying import Saying
from icepick.bench.scoring import Score
from icepick.bench.stock import stock
from icepick.bench.unit_at_work import comes_to_rest
from icepick.core.document.base import Document, Temperature
from icepick.core.document.codes import Complaint, Method, Name, Text
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Visit
from icepick.core.properties.quantities import UnitSystem
from icepick.store import bench as store
from icepick.store.database import writing
from icepick.store.receipts import once
from icepick.web.bench_view import (
    AttemptView,
    BenchHome,
    attempt_view,
    case_of,
    choices_of,
    home,
    tried_of,
)
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.problems import problem

api = Api("bench")

Code = Annotated[str, Field(min_length=1, max_length=40)]


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
    return home(connection())


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
            db,
            body.entry_key,
            "attempt",
            content,
            lambda: str(store.start(db, case_of(written).code, written)),
        )
    return AttemptBegun(id=int(made))


def _found(attempt_id: int) -> tuple[store.Attempt, Case, list[Done]]:
    one = store.attempt(connection(), attempt_id)
    if one is None:
        raise problem(404, f"There is no attempt {attempt_id}.")
    return (
        one,
        case_of(one.case),
        [Done.model_validate_json(text) for text in store.steps(connection(), attempt_id)],
    )


@api.endpoint("get", "/bench/attempts/<int:attempt_id>", gives=AttemptView, needs="practice", in_units=True)
def get_attempt(attempt_id: int, units: UnitSystem) -> AttemptView:
    """An attempt, as far as it has got."""
    one, case, done = _found(attempt_id)
    return attempt_view(one, case, done, units)


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
            return attempt_view(one, case, done, units)
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
                return attempt_view(one, case, [*done, made], units)


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
    known = {(choice.fault, choice.where) for choice in choices_of(one.case)}
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
    every = [tried_of(one) for one in store.attempts(connection()) if one.said]
    found = Response(as_csv(every), mimetype="text/csv")
    found.headers["Content-Disposition"] = 'attachment; filename="icepick-practice.csv"'
    return found

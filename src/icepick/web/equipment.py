"""The equipment book."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from icepick.core.document.base import Document, InvalidDocumentError, Problem
from icepick.core.document.examination import Examination
from icepick.core.document.machine import ChartAsked, MachineSheet, WeatherChart
from icepick.core.document.visit import Run, Site, Unit, Visit
from icepick.core.examine import examine
from icepick.core.machine.sheet import sheet
from icepick.core.machine.sizing import FOOT, LINE_LENGTH, UnsizedError, longest_line_set, size
from icepick.core.machine.weather_chart import ChartError, weather_chart
from icepick.core.properties.quantities import UnitSystem
from icepick.store.database import writing
from icepick.store.receipts import once
from icepick.store.units import StoredUnit, add_unit, all_units, find_unit, find_units, revise_unit
from icepick.store.visits import runs_read_on
from icepick.web.connection import connection, records_tag
from icepick.web.contract import LARGEST_ID, Api, EntryKey
from icepick.web.problems import in_words, problem

api = Api("equipment")


class UnitView(BaseModel):
    """``set_aside`` says what of the record this Icepick can't use."""

    id: int
    revision: int
    site: Site
    unit: Unit
    set_aside: list[str]


class SiteAndUnit(Document):
    site: Site
    unit: Unit


class NewUnit(SiteAndUnit):
    """``entry_key`` is made where the unit was typed, so that one sent twice is entered once."""

    entry_key: EntryKey


class UnitList(BaseModel):
    units: list[UnitView]


def view(stored: StoredUnit) -> UnitView:
    return UnitView(
        id=stored.id,
        revision=stored.revision,
        site=stored.site,
        unit=stored.unit,
        set_aside=[in_words(one) for one in stored.set_aside],
    )


@api.endpoint("get", "/units", gives=UnitList, tag=records_tag)
def list_units() -> UnitList:
    """Every unit in the book, by site."""
    return UnitList(units=[view(stored) for stored in all_units(connection())])


MOST_FOUND = 50
"""Units that are offered to choose from."""


class UnitsAsked(Document):
    """Which units are wanted: all of ``words`` stand in site, label, model, serial or refrigerant; ``first`` comes first,
    whatever is said of it."""

    words: Annotated[str, StringConstraints(max_length=200)] | None = None
    first: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None


class UnitLine(BaseModel):
    """A unit in a line; ``circuits`` are the ids of those it has, ``heads`` the labels, each empty where it has one."""

    id: int
    site: str
    label: str
    circuits: list[str]
    heads: list[str]


class UnitsFound(BaseModel):
    """The first of the units asked for; ``found`` counts all of them."""

    units: list[UnitLine]
    found: int


def _found_tag(asked: UnitsAsked) -> str:
    return records_tag(asked.model_dump_json())


@api.endpoint("get", "/units/found", gives=UnitsFound, asks=UnitsAsked, tag=_found_tag)
def find_in_book(asked: UnitsAsked) -> UnitsFound:
    """Units of the book to choose from, by site."""
    count, lines = find_units(connection(), asked.words or "", asked.first, MOST_FOUND)
    return UnitsFound(
        units=[
            UnitLine(
                id=line.id,
                site=line.site,
                label=line.label,
                circuits=list(line.circuits),
                heads=list(line.heads),
            )
            for line in lines
        ],
        found=count,
    )


def refuse_unsizable(unit: Unit, where: str = "") -> None:
    """A line set that leaves no pressure to be metered is a slip, and said while it can be mended."""
    if unit.line_set_length is None:
        return
    try:
        size(unit)
    except UnsizedError as error:
        if error.field != LINE_LENGTH:
            return
        longest = longest_line_set(unit)
        words = f"{error.why} This unit can be sized up to {longest / FOOT:.0f} ft ({int(longest)} m)."
        raise InvalidDocumentError([Problem(f"{where}/{LINE_LENGTH}", words)]) from None


@api.endpoint("post", "/units", accepts=NewUnit, gives=UnitView, needs="units", status=201)
def add_to_book(body: NewUnit) -> UnitView:
    """Enter a unit in the book."""
    refuse_unsizable(body.unit, "/unit")
    with writing(connection()) as db:
        content = body.model_dump_json(exclude={"entry_key"})
        made = once(db, body.entry_key, "unit", content, lambda: str(add_unit(db, body.site, body.unit).id))
        return _known(int(made))


@api.endpoint("put", "/units/<int:unit_id>", accepts=Unit, gives=UnitView, needs="units", if_match=True)
def describe_anew(unit_id: int, body: Unit, revision: int) -> UnitView:
    """Describe a unit anew; its latest visit follows."""
    refuse_unsizable(body)
    with writing(connection()) as db:
        _known(unit_id)
        at_work = revise_unit(db, unit_id, body, revision)
        if at_work is not None:
            _refuse_what_was_read(at_work, body)
        return _known(unit_id)


def _refuse_what_was_read(visit_id: int, unit: Unit) -> None:
    """The open visit follows the description: no run of it may be left without its circuit, or its heads."""
    for run in runs_read_on(connection(), visit_id):
        if unit.refusal_of_circuit(run.circuit) or unit.refusal_of_heads(run.heads_calling):
            raise problem(
                409,
                "The open visit to this unit has runs that the circuits or heads described here don't have. Close that visit "
                "first, or describe them as they were.",
            )


def _known(unit_id: int) -> UnitView:
    stored = find_unit(connection(), unit_id)
    if stored is None:
        raise problem(404, f"There is no unit {unit_id}.")
    return view(stored)


@api.endpoint(
    "post", "/units/machine", accepts=Unit, gives=MachineSheet, needs="read", in_units=True, computes=True
)
def machine(body: Unit, units: UnitSystem) -> MachineSheet:
    """The machine of a unit, sized: its numbers and what each rests on."""
    return sheet(body, units)


@api.endpoint(
    "post", "/units/chart", accepts=ChartAsked, gives=WeatherChart, needs="read", in_units=True, computes=True
)
def chart(body: ChartAsked, units: UnitSystem) -> WeatherChart:
    """What a unit should do over the outdoor temperature, sound and with a fault."""
    try:
        return weather_chart(body, units)
    except ChartError as error:
        raise InvalidDocumentError([Problem(f"/{error.field}", str(error))]) from None


@api.endpoint("post", "/units/preview", accepts=Unit, gives=Examination, needs="read", computes=True)
def preview(body: Unit) -> Examination:
    """The circuit of a unit in cooling and in heating, and advice, before anything is kept: of several circuits the first."""
    first = body.circuits[0].id if body.circuits else None
    runs = [Run(id=mode, mode=mode, circuit=first) for mode in ("cooling", "heating")]
    return examine(Visit(format="icepick-visit", version=1, site=Site(name="preview"), unit=body, runs=runs))

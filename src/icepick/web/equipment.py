"""The equipment book."""

from __future__ import annotations

from pydantic import BaseModel

from icepick.core.document.base import Document
from icepick.core.document.examination import Examination
from icepick.core.document.visit import Run, Site, Unit, Visit
from icepick.core.examine import examine
from icepick.store.database import writing
from icepick.store.units import StoredUnit, add_unit, all_units, find_unit, revise_unit
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.problems import problem

api = Api("equipment")


class UnitView(BaseModel):
    id: int
    revision: int
    site: Site
    unit: Unit


class NewUnit(Document):
    site: Site
    unit: Unit


class UnitList(BaseModel):
    units: list[UnitView]


def view(stored: StoredUnit) -> UnitView:
    return UnitView(id=stored.id, revision=stored.revision, site=stored.site, unit=stored.unit)


@api.endpoint("get", "/units", gives=UnitList)
def list_units() -> UnitList:
    """Every unit in the book, by site."""
    return UnitList(units=[view(stored) for stored in all_units(connection())])


@api.endpoint("post", "/units", accepts=NewUnit, gives=UnitView, status=201)
def add_to_book(body: NewUnit) -> UnitView:
    """Enter a unit in the book."""
    with writing(connection()) as db:
        return view(add_unit(db, body.site, body.unit))


@api.endpoint("put", "/units/<int:unit_id>", accepts=Unit, gives=UnitView, if_match=True)
def describe_anew(unit_id: int, body: Unit, revision: int) -> UnitView:
    """Describe a unit anew; its latest visit follows."""
    if find_unit(connection(), unit_id) is None:
        raise problem(404, f"There is no unit {unit_id}.")
    with writing(connection()) as db:
        revise_unit(db, unit_id, body, revision)
    stored = find_unit(connection(), unit_id)
    assert stored is not None
    return view(stored)


@api.endpoint("post", "/units/preview", accepts=Unit, gives=Examination)
def preview(body: Unit) -> Examination:
    """The circuit of a unit in cooling and in heating, and advice, before anything is kept."""
    runs = [Run(id=mode, mode=mode) for mode in ("cooling", "heating")]
    return examine(Visit(format="icepick-visit", version=1, site=Site(name="preview"), unit=body, runs=runs))

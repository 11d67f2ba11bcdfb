"""The equipment book."""

from __future__ import annotations

from pydantic import BaseModel

from icepick.core.visit import Site, Unit
from icepick.store.units import StoredUnit, all_units
from icepick.web.connection import connection
from icepick.web.contract import Api

api = Api("equipment")


class UnitView(BaseModel):
    id: int
    revision: int
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

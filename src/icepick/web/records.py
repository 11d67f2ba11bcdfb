"""Records that leave the book, and others that come in."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import closing
from typing import Annotated

from flask import Response, current_app
from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from icepick.core.document.base import Document
from icepick.exchange.coming import Coming
from icepick.exchange.leaving import Wanted, archive_of
from icepick.store.database import connect
from icepick.store.entering import Means
from icepick.store.units import find_unit
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.door import who
from icepick.web.importing import LARGEST_ARRIVING, LARGEST_PART, Import, State, imports
from icepick.web.problems import problem
from icepick.web.summarizing import summarizer
from icepick.web.visit_view import found_visit

api = Api("records")


class NewImport(Document):
    """A file that is to be brought in: an archive of records, or a visit document. It follows in parts."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    bytes: Annotated[int, Field(ge=1, le=LARGEST_ARRIVING)]


class PartAsked(Document):
    """Where in the file a part begins."""

    at: Annotated[int, Field(ge=0, le=LARGEST_ARRIVING)]


class Enter(Document):
    """Enter what was looked at; there is nothing to choose."""


class ComingVisit(BaseModel):
    """A visit that comes: ``new`` here, ``more`` than stands here, the ``same``, ``behind`` what stands here, or ``parted``:
    both books went on with it."""

    site: str
    unit: str
    opened_at: AwareDatetime
    means: Means
    entries: int


class ComingView(BaseModel):
    """What comes in, or came, counted by what that means."""

    units: dict[Means, int]
    visits: dict[Means, int]
    limits: Means | None
    shop: Means | None
    entries: int
    unusable: int
    lines: list[ComingVisit]


class ImportView(BaseModel):
    """How far an import has come; ``done`` records ``of`` all were looked at or entered."""

    id: str
    name: str
    bytes: int
    received: int
    part: int
    state: State
    done: int
    of: int
    coming: ComingView | None
    trouble: str | None


class Forgotten(BaseModel):
    """The import was stopped and forgotten."""

    id: str


@api.file("/records/archive", kind="application/zip", needs="records")
def get_everything() -> Response:
    """All records as an archive."""
    return _leaving(Wanted("everything"))


@api.file("/units/<int:unit_id>/archive", kind="application/zip")
def get_unit_archive(unit_id: int) -> Response:
    """A unit and its visits as an archive."""
    if find_unit(connection(), unit_id) is None:
        raise problem(404, f"There is no unit {unit_id}.")
    return _leaving(Wanted("unit", unit_id))


@api.file("/visits/<int:visit_id>/archive", kind="application/zip")
def get_visit_archive(visit_id: int) -> Response:
    """A visit and its unit as an archive."""
    found_visit(visit_id)
    return _leaving(Wanted("visit", visit_id))


def _leaving(wanted: Wanted) -> Response:
    database = current_app.config["ICEPICK_DB"]

    def pieces() -> Iterator[bytes]:
        # Of its own: it is read while others write, and longer than a request is answered.
        with closing(connect(database)) as db:
            yield from archive_of(db, wanted)

    answer = Response(pieces(), mimetype="application/zip")
    answer.headers.set("Content-Disposition", "attachment", filename=wanted.file_name)
    return answer


@api.endpoint("post", "/imports", accepts=NewImport, gives=ImportView, needs="records", status=201)
def begin_import(body: NewImport) -> ImportView:
    """Begin to bring records in."""
    one = imports().begin(body.name, body.bytes)
    if one is None:
        raise problem(409, "Other records are being entered; wait until they are, or stop that.")
    return _view(one)


@api.endpoint(
    "put",
    "/imports/<name>/part",
    takes="application/octet-stream",
    asks=PartAsked,
    gives=ImportView,
    needs="records",
)
def add_part(name: str, content: bytes, asked: PartAsked) -> ImportView:
    """Add the next part of the file; with the last one, what it holds is looked at."""
    one = _import(name)
    if len(content) > LARGEST_PART:
        raise problem(413, f"A part is {LARGEST_PART:,} bytes at most.")
    if not imports().add(one, asked.at, content):
        raise problem(409, f"The next part begins at {one.received:,}.")
    return _view(one)


@api.endpoint("get", "/imports/<name>", gives=ImportView, needs="records")
def get_import(name: str) -> ImportView:
    """How far an import has come."""
    return _view(_import(name))


@api.endpoint("post", "/imports/<name>/entry", accepts=Enter, gives=ImportView, needs="records")
def enter_import(name: str, body: Enter) -> ImportView:
    """Enter what was looked at: all of it or nothing."""
    one, known = _import(name), who()
    if not imports().enter(one, known.account.id if known else None, summarizer().wake):
        raise problem(409, "It is not ready to be entered.")
    return _view(one)


@api.endpoint("delete", "/imports/<name>", gives=Forgotten, needs="records")
def stop_import(name: str) -> Forgotten:
    """Stop an import; nothing of it is entered, if it was not done."""
    if not imports().forget(_import(name)):
        raise problem(409, "It was too late to stop it: all of it is entered.")
    return Forgotten(id=name)


def _import(name: str) -> Import:
    one = imports().now(name)
    if one is None:
        raise problem(404, "There is no such import any more; choose the file again.")
    return one


def _view(one: Import) -> ImportView:
    return ImportView(
        id=one.id,
        name=one.name,
        bytes=one.bytes,
        received=one.received,
        part=LARGEST_PART,
        state=one.state,
        done=one.done,
        of=one.of,
        coming=_coming(one.coming) if one.coming else None,
        trouble=one.trouble,
    )


def _coming(found: Coming) -> ComingView:
    return ComingView.model_validate(
        {
            "units": dict(found.units),
            "visits": dict(found.visits),
            "limits": found.limits,
            "shop": found.shop,
            "entries": found.entries,
            "unusable": found.unusable,
            "lines": [
                {
                    "site": line.site,
                    "unit": line.unit,
                    "opened_at": line.opened_at,
                    "means": line.means,
                    "entries": line.entries,
                }
                for line in found.lines
            ],
        }
    )

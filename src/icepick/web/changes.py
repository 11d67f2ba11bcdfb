"""What changed of a visit since a screen asked last."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass
from hashlib import blake2b
from threading import Lock
from typing import Any, Literal

import jsonpatch
from flask import Flask, current_app
from jsonpointer import escape
from pydantic import BaseModel, ConfigDict
from pydantic_core import from_json

from icepick.core.document.visit import Reading
from icepick.core.properties.quantities import UnitSystem
from icepick.store import summaries
from icepick.store.closing import day_of_work
from icepick.store.database import at_one_moment
from icepick.store.practice import revision as limits_revision
from icepick.store.visits import key_of
from icepick.web.connection import connection
from icepick.web.room import refuse_abandoned, room
from icepick.web.summarizing import program, summarizer
from icepick.web.visit_view import VisitView, examine_with, visit_view


class Step(BaseModel):
    """One step of a JSON Patch (RFC 6902)."""

    model_config = ConfigDict(extra="allow")

    op: Literal["add", "remove", "replace", "move", "copy", "test"]
    path: str


class Changes(BaseModel):
    """How a visit differs from what was shown under another ``revision``: the ``steps`` that lead from there to here, or,
    where that is not known any more or would take longer to say, the whole of it.
    """

    revision: str
    steps: list[Step]
    whole: VisitView | None


@dataclass(frozen=True, slots=True)
class _Shown:
    revision: str
    view: VisitView
    plain: Any
    size: int


_MOST_REMEMBERED = 64


class _Memory:
    """What was shown last, by its revision."""

    def __init__(self) -> None:
        self.shown = OrderedDict[str, _Shown]()
        self.one_at_a_time = Lock()

    def now(self, visit_id: int, units: UnitSystem) -> _Shown:
        if (known := self.shown.get(revision(visit_id, units))) is not None:
            return known
        # Who asks for what is being worked out waits for it; two at once would take as long as one after the other.
        with room(), self.one_at_a_time:
            refuse_abandoned()
            return self.worked_out(visit_id, units)

    def worked_out(self, visit_id: int, units: UnitSystem) -> _Shown:
        """In the lock: what is shown of the visit now."""
        with at_one_moment(connection()):
            at = revision(visit_id, units)
            if (known := self.shown.get(at)) is not None:
                return known
            view = visit_view(visit_id, units)
        text = view.model_dump_json(by_alias=True).encode()
        found = self.shown[at] = _Shown(at, view, from_json(text), len(text))
        while len(self.shown) > _MOST_REMEMBERED:
            self.shown.popitem(last=False)
        return found


def revision(visit_id: int, units: UnitSystem) -> str:
    """A word that changes when what is shown of a visit may: something was written of it or of a visit to its unit before
    it, a limit was changed, the program is another, or the day ended, which closes it; or another visit stands under this
    number, since a copy was put back."""
    db = connection()
    by = (summaries.revision_beside(db, visit_id), limits_revision(db), day_of_work(), program())
    return blake2b(repr((key_of(db, visit_id), visit_id, units, *by)).encode(), digest_size=12).hexdigest()


def install(app: Flask) -> None:
    """Give an application a memory of what it showed."""
    app.extensions["icepick.changes"] = _Memory()


def _memory() -> _Memory:
    memory: _Memory = current_app.extensions["icepick.changes"]
    return memory


def changes(visit_id: int, units: UnitSystem, since: str | None) -> Changes:
    """What leads from what was shown under the revision ``since`` to the visit as it is now."""
    memory = _memory()
    if since is not None:
        # Who follows a visit names what he has; an answer kept for later is not looked ahead for.
        summarizer().looked_at[visit_id] = units
        if since == revision(visit_id, units):
            return Changes(revision=since, steps=[], whole=None)
    now = memory.now(visit_id, units)
    before = memory.shown.get(since or "")
    if before is not None:
        steps = list(_steps(before.plain, now.plain))
        if len(json.dumps(steps)) < now.size // 2:
            return Changes(
                revision=now.revision, steps=[Step.model_validate(step) for step in steps], whole=None
            )
    return Changes(revision=now.revision, steps=[], whole=now.view)


def look_ahead(visit_id: int) -> None:
    """Examine a visit that somebody looks at, so that it is ready when they ask for what changed; not while another is
    examined, for then those who ask wait in turn."""
    memory = _memory()
    units = summarizer().looked_at.get(visit_id)
    if units is not None and memory.one_at_a_time.acquire(blocking=False):
        try:
            memory.worked_out(visit_id, units)
        finally:
            memory.one_at_a_time.release()


def look_further_ahead(visit_id: int, run: str, reading: Reading) -> bool:
    """Examine a visit that somebody looks at with a reading that is being typed; not while another is examined, for what was
    entered goes before what may be."""
    memory = _memory()
    units = summarizer().looked_at.get(visit_id)
    if units is None or not memory.one_at_a_time.acquire(blocking=False):
        return False
    try:
        examine_with(visit_id, run, reading, units)
    finally:
        memory.one_at_a_time.release()
    return True


def _steps(old: Any, new: Any, path: str = "") -> Iterator[dict[str, Any]]:
    """A JSON Patch. What is the same is passed over first: to compare is quicker than to describe."""
    if old == new:
        return
    if isinstance(old, dict) and isinstance(new, dict) and old.keys() == new.keys():
        for name in old:
            yield from _steps(old[name], new[name], f"{path}/{escape(name)}")
    elif isinstance(old, list) and isinstance(new, list):
        yield from _steps_of_list(old, new, path)
    elif not isinstance(old, dict) or not isinstance(new, dict):
        yield {"op": "replace", "path": path, "value": new}
    else:
        for step in jsonpatch.make_patch(old, new):
            yield step | {name: path + step[name] for name in ("path", "from") if name in step}


def _steps_of_list(old: list[Any], new: list[Any], path: str) -> Iterator[dict[str, Any]]:
    """A list mostly grows at its end: what is the same at both ends is passed over, and what lies between is changed in
    place as far as it goes."""
    shorter = min(len(old), len(new))
    first = next((n for n in range(shorter) if old[n] != new[n]), shorter)
    behind = next((n for n in range(shorter - first) if old[-1 - n] != new[-1 - n]), shorter - first)
    were, are = old[first : len(old) - behind], new[first : len(new) - behind]
    for n, pair in enumerate(zip(were, are, strict=False), start=first):
        yield from _steps(*pair, f"{path}/{n}")
    kept = first + min(len(were), len(are))
    yield from ({"op": "remove", "path": f"{path}/{kept}"} for _ in were[len(are) :])
    yield from (
        {"op": "add", "path": f"{path}/{kept + n}", "value": value}
        for n, value in enumerate(are[len(were) :])
    )

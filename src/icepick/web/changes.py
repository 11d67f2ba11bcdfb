"""What changed of a visit since a screen asked last."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass
from hashlib import blake2b
from threading import Lock
from typing import Any, Literal, TypeVar

import jsonpatch
from flask import Flask, current_app
from jsonpointer import escape
from pydantic import BaseModel, ConfigDict
from pydantic_core import from_json

from icepick.core.document.visit import Reading
from icepick.core.properties.quantities import UnitSystem
from icepick.store.closing import day_of_work
from icepick.web.connection import stamp
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


K = TypeVar("K")
V = TypeVar("V")
_Moment = tuple[int, str]
_MOST_REMEMBERED = 32


class _Memory:
    """What was shown last: by its revision, and by what it was asked for while the records stay as they are."""

    def __init__(self) -> None:
        self.by_revision: OrderedDict[str, _Shown] = OrderedDict()
        self._latest: OrderedDict[tuple[int, UnitSystem], tuple[_Moment, _Shown]] = OrderedDict()
        self.looked_at: dict[int, UnitSystem] = {}
        self.one_at_a_time = Lock()

    def now(self, visit_id: int, units: UnitSystem) -> _Shown:
        if (known := self._known(visit_id, units)) is not None:
            return known
        # Who asks for what is being worked out waits for it; two at once would take as long as one after the other.
        with self.one_at_a_time:
            if (known := self._known(visit_id, units)) is not None:
                return known
            at = _moment()
            shown = _shown(visit_view(visit_id, units))
            _keep(self.by_revision, shown.revision, shown)
            _keep(self._latest, (visit_id, units), (at, shown))
            return shown

    def _known(self, visit_id: int, units: UnitSystem) -> _Shown | None:
        at, shown = self._latest.get((visit_id, units), (None, None))
        return shown if at == _moment() else None


def _moment() -> _Moment:
    """What a visit shows stays as it is until something is written, or the day ends, which closes it."""
    return stamp(), day_of_work()


def _keep(memory: OrderedDict[K, V], key: K, value: V) -> None:
    memory[key] = value
    memory.move_to_end(key)
    while len(memory) > _MOST_REMEMBERED:
        memory.popitem(last=False)


def _shown(view: VisitView) -> _Shown:
    text = view.model_dump_json(by_alias=True).encode()
    return _Shown(blake2b(text, digest_size=12).hexdigest(), view, from_json(text), len(text))


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
        memory.looked_at[visit_id] = units
    now = memory.now(visit_id, units)
    before = memory.by_revision.get(since or "")
    if before is not None:
        steps = list(_steps(before.plain, now.plain))
        if len(json.dumps(steps)) < now.size // 2:
            return Changes(
                revision=now.revision, steps=[Step.model_validate(step) for step in steps], whole=None
            )
    return Changes(revision=now.revision, steps=[], whole=now.view)


def look_ahead(visit_id: int) -> None:
    """Examine a visit that somebody looks at, so that it is ready when they ask for what changed."""
    memory = _memory()
    if visit_id in memory.looked_at:
        memory.now(visit_id, memory.looked_at[visit_id])


def look_further_ahead(visit_id: int, run: str, reading: Reading) -> bool:
    """Examine a visit that somebody looks at with a reading that is being typed; not while another is examined, for what was
    entered goes before what may be."""
    memory = _memory()
    units = memory.looked_at.get(visit_id)
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

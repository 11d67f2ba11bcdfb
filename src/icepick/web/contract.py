"""One declaration per endpoint: it checks what comes in, writes what goes out, and describes both.

The OpenAPI description (3.1) is made from the same declarations, so it cannot drift from the code.
"""

from __future__ import annotations

import logging
import re
from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass
from functools import partial, wraps
from typing import Annotated, Any, Literal, TypeVar

from flask import Blueprint, Response, current_app, request
from flask.ctx import AppContext
from pydantic import BaseModel, StringConstraints, ValidationError
from pydantic.json_schema import models_json_schema

from icepick import __version__
from icepick.core.document.base import Document, explain, parse
from icepick.core.document.visit import MOST_RECORDINGS
from icepick.core.properties.quantities import UnitSystem
from icepick.store.closing import ClosedError
from icepick.store.entries import StaleError
from icepick.store.receipts import KeyUsedError
from icepick.store.recordings import FullError
from icepick.store.visits import visit_of_key
from icepick.web.connection import connection
from icepick.web.door import Right, admit
from icepick.web.problems import PROBLEM_TYPE, ProblemDetails, problem
from icepick.web.room import room

_log = logging.getLogger(__name__)
M = TypeVar("M", bound=Document)
Verb = Literal["get", "post", "patch", "put", "delete"]
Needs = Right | Literal["nothing"]
_REF = "#/components/schemas/{model}"

VISIT_KEY = "Visit-Key"
"""The header that names a visit by its own key."""

LARGEST_ID = 2**63 - 1
"""The largest row number SQLite can hold."""

EntryKey = Annotated[str, StringConstraints(min_length=8, max_length=64)]
"""Made where something was typed, so that what is sent twice is kept once."""


@dataclass(frozen=True, slots=True)
class Operation:
    """One endpoint, as the description needs it."""

    name: str
    path: str
    verb: Verb
    summary: str
    accepts: type[Document] | None
    asks: type[Document] | None
    gives: type[BaseModel] | str
    status: int
    in_units: bool
    if_match: bool
    since: bool
    needs: Needs
    takes: str | None = None


class Api:
    """Endpoints of one resource: a Flask blueprint that remembers what it was told."""

    def __init__(self, name: str) -> None:
        self.blueprint = Blueprint(name, __name__, url_prefix="/api")
        self.operations: list[Operation] = []

    def endpoint(
        self,
        verb: Verb,
        path: str,
        *,
        gives: type[BaseModel],
        needs: Needs | None = None,
        accepts: type[Document] | None = None,
        takes: str | None = None,
        asks: type[Document] | None = None,
        status: int = 200,
        in_units: bool = False,
        if_match: bool = False,
        since: bool = False,
        tag: Callable[..., str] | None = None,
        computes: bool = False,
        then: Callable[..., None] | None = None,
    ) -> Callable[[Callable[..., BaseModel]], Callable[..., Response]]:
        """Register a view. Who asks must have the right it ``needs``: to read, where nothing is said of a GET.

        The view gets the parsed body as ``body`` where it ``accepts`` one, the body as it came as ``content`` where it
        ``takes`` one of a media type, what stands behind the address's question mark as
        ``asked`` where it ``asks``, the unit system asked for
        as ``units`` where it answers ``in_units``, the revision it is about to change as ``revision``
        where it asks for one (``if_match``), the revision that is known already, or None, as ``since``
        where it answers with what changed (``since``), and the path's values by name. A GET answers 304 to
        the entity tag it gave before; with ``tag``, which is called as the view is, before that is called. What
        ``computes`` is refused while too many do. ``then`` is called with the path's values once the answer has left.
        What changes a visit may name it by its own key in the header Visit-Key: that counts, and not the number in the path,
        which another visit has after the records were put back.
        """

        if needs is None and verb != "get":
            raise TypeError(f"{verb} {path} says what it needs")
        needed = needs or "read"

        def register(view: Callable[..., BaseModel]) -> Callable[..., Response]:
            summary = (view.__doc__ or "").strip().split("\n")[0]
            self.operations.append(
                Operation(
                    view.__name__,
                    path,
                    verb,
                    summary,
                    accepts,
                    asks,
                    gives,
                    status,
                    in_units,
                    if_match,
                    since,
                    needed,
                    takes,
                )
            )

            @wraps(view)
            def handle(**values: Any) -> Response:
                _let_in(needed, values)
                if verb != "get" and "visit_id" in values:
                    values["visit_id"] = _meant(values["visit_id"])
                named = dict(values)
                if accepts is not None:
                    values["body"] = parse(accepts, request.get_data())
                if takes is not None:
                    values["content"] = _taken(takes)
                if asks is not None:
                    values["asked"] = _asked(asks)
                if in_units:
                    values["units"] = _units()
                if if_match:
                    values["revision"] = _revision()
                if since:
                    values["since"] = request.args.get("since")
                named_so = tag(**values) if tag is not None else None
                if named_so is not None and _has(named_so):
                    known = Response(status=304)
                    known.set_etag(named_so)
                    return known
                try:
                    with room() if computes else nullcontext():
                        text = view(**values).model_dump_json(by_alias=True)
                except StaleError:
                    raise problem(412, "Somebody else changed this since you read it.") from None
                except ClosedError:
                    raise problem(423, "This visit is closed. Open it again to add to it.") from None
                except FullError:
                    words = f"A visit holds {MOST_RECORDINGS} recordings at most; start another call."
                    raise problem(409, words) from None
                except KeyUsedError:
                    raise problem(409, "This entry_key already stands for something else.") from None
                response = Response(text, status, mimetype="application/json")
                if verb == "get":
                    if named_so is not None:
                        response.set_etag(named_so)
                    else:
                        response.add_etag()
                        response.make_conditional(request)
                if then is not None:
                    response.call_on_close(partial(_afterwards, current_app.app_context(), then, named))
                return response

            self.blueprint.add_url_rule(path, view.__name__, handle, methods=[verb.upper()])
            return handle

        return register

    def file(
        self,
        path: str,
        *,
        kind: str,
        needs: Needs = "read",
        asks: type[Document] | None = None,
        in_units: bool = False,
        computes: bool = False,
    ) -> Callable[[Callable[..., Response]], Callable[..., Response]]:
        """Register a view that gives a file of this media type; it gets ``asked``, ``units`` and the path's values as
        above."""

        def register(view: Callable[..., Response]) -> Callable[..., Response]:
            summary = (view.__doc__ or "").strip().split("\n")[0]
            self.operations.append(
                Operation(
                    view.__name__, path, "get", summary, None, asks, kind, 200, in_units, False, False, needs
                )
            )

            @wraps(view)
            def handle(**values: Any) -> Response:
                _let_in(needs, values)
                if asks is not None:
                    values["asked"] = _asked(asks)
                if in_units:
                    values["units"] = _units()
                with room() if computes else nullcontext():
                    return view(**values)

            self.blueprint.add_url_rule(path, view.__name__, handle, methods=["GET"])
            return handle

        return register


def _let_in(needs: Needs, named: dict[str, Any]) -> None:
    if needs != "nothing":
        admit(needs)
    if any(isinstance(value, int) and value > LARGEST_ID for value in named.values()):
        raise problem(404, "There is nothing of that number.")


def _meant(number: int) -> int:
    """The number of the visit that is meant: that of its key, where one is named."""
    key = request.headers.get(VISIT_KEY)
    if not key:
        return number
    found = visit_of_key(connection(), key)
    if found is None:
        raise problem(410, "The visit this was entered for is not in these records any more.")
    return found


def _afterwards(context: AppContext, then: Callable[..., None], named: dict[str, Any]) -> None:
    try:
        with context:
            then(**named)
    except Exception:
        _log.exception("what was to follow an answer failed; the answer stands")


def _has(tag: str) -> bool:
    """Whether who asks has the answer of this tag, however it was packed: packing it adds to the tag."""
    return any(known.partition(":")[0] == tag for known in request.if_none_match.as_set(include_weak=True))


def _asked(model: type[M]) -> M:
    named = {name: text for name, text in request.args.items() if name != "units" and text != ""}
    try:
        return model.model_validate_strings(named, strict=False)
    except ValidationError as error:
        raise explain(error) from None


def _taken(kind: str) -> bytes:
    if request.mimetype != kind:
        raise problem(415, f"Send it as {kind}.")
    return request.get_data()


def _units() -> UnitSystem:
    units = request.args.get("units", "field")
    if units == "metric":
        return "metric"
    if units == "field":
        return "field"
    raise problem(400, f"units is 'field' or 'metric', not {units!r}.")


def _revision() -> int:
    tag = request.headers.get("If-Match", "").strip().removeprefix("W/").strip('"')
    if not tag:
        raise problem(428, "Say which revision this changes, in If-Match.")
    if not re.fullmatch(r"[0-9]{1,18}", tag):
        raise problem(400, "If-Match names a revision by its number.")
    return int(tag)


def describe(operations: list[Operation]) -> dict[str, Any]:
    """The OpenAPI 3.1 description of all operations."""
    inputs = {operation.accepts for operation in operations if operation.accepts}
    given = {operation.gives for operation in operations}
    outputs = {gives for gives in given if not isinstance(gives, str)} | {ProblemDetails}
    wanted: list[tuple[type[BaseModel], Literal["validation", "serialization"]]] = [
        *((model, "validation") for model in sorted(inputs, key=lambda m: m.__name__)),
        *((model, "serialization") for model in sorted(outputs, key=lambda m: m.__name__)),
    ]
    names, definitions = models_json_schema(wanted, ref_template=_REF)
    paths: dict[str, Any] = {}
    for operation in operations:
        path = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", f"/api{operation.path}")
        paths.setdefault(path, {})[operation.verb] = _describe_one(operation, names)
    return {
        "openapi": "3.1.0",
        "info": {"title": "Icepick", "version": __version__},
        "paths": paths,
        "components": {"schemas": definitions["$defs"]},
    }


def _describe_one(operation: Operation, names: dict[Any, Any]) -> dict[str, Any]:
    parameters = [
        {
            "name": name,
            "in": "path",
            "required": True,
            "schema": {"type": "integer" if kind == "int:" else "string"},
        }
        for kind, name in re.findall(r"<(\w+:)?(\w+)>", operation.path)
    ]
    if operation.asks:
        fields = operation.asks.model_json_schema()["properties"]
        parameters += [
            {"name": name, "in": "query", "required": False, "schema": schema}
            for name, schema in fields.items()
        ]
    if operation.in_units:
        schema = {"type": "string", "enum": ["field", "metric"], "default": "field"}
        parameters.append({"name": "units", "in": "query", "required": False, "schema": schema})
    if operation.if_match:
        parameters.append(
            {"name": "If-Match", "in": "header", "required": True, "schema": {"type": "string"}}
        )
    if operation.verb != "get" and "<int:visit_id>" in operation.path:
        parameters.append(
            {"name": VISIT_KEY, "in": "header", "required": False, "schema": {"type": "string"}}
        )
    if operation.since:
        parameters.append({"name": "since", "in": "query", "required": False, "schema": {"type": "string"}})
    described: dict[str, Any] = {
        "operationId": operation.name,
        "summary": operation.summary,
        "x-needs": operation.needs,
        "parameters": parameters,
        "responses": {
            str(operation.status): {
                "description": "done",
                "content": _file(operation.gives)
                if isinstance(operation.gives, str)
                else {"application/json": {"schema": names[operation.gives, "serialization"]}},
            },
            "default": {
                "description": "refused, and why (RFC 9457)",
                "content": {PROBLEM_TYPE: {"schema": names[ProblemDetails, "serialization"]}},
            },
        },
    }
    if operation.takes:
        described["requestBody"] = {"required": True, "content": _file(operation.takes)}
    if operation.accepts:
        described["requestBody"] = {
            "required": True,
            "content": {"application/json": {"schema": names[operation.accepts, "validation"]}},
        }
    return described


def _file(kind: str) -> dict[str, Any]:
    return {kind: {"schema": {"type": "string", "format": "binary"}}}

"""Errors as problem details (RFC 9457)."""

from __future__ import annotations

import logging
import sqlite3

from flask import Flask, Response, current_app
from pydantic import BaseModel
from werkzeug.exceptions import HTTPException, InternalServerError, MethodNotAllowed, RequestEntityTooLarge

from icepick.core.document.base import InvalidDocumentError, Problem
from icepick.store.database import error_name, why_out_of_reach

PROBLEM_TYPE = "application/problem+json"
ASK_AGAIN_S = 2
_log = logging.getLogger(__name__)


class FieldProblem(BaseModel):
    pointer: str
    message: str


class ProblemDetails(BaseModel):
    """RFC 9457, with one entry in ``errors`` for each field that is wrong."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: list[FieldProblem] = []


class ProblemError(HTTPException):
    """An error that a view raises on purpose."""

    def __init__(self, status: int, detail: str, ask_again_s: int | None) -> None:
        super().__init__(detail)
        self.code, self.ask_again_s = status, ask_again_s


def problem(status: int, detail: str, ask_again_s: int | None = None) -> ProblemError:
    """An error with this status and sentence, to be raised, and in how many seconds it is worth to ask again."""
    return ProblemError(status, detail, ask_again_s)


def in_words(found: Problem) -> str:
    """A problem of a stored document as a line to show: *unit nominal capacity: 0 Btu/h is outside …*."""
    steps = [step for step in found.pointer.split("/")[1:] if step != "value"]
    words = [
        str(int(step) + 1) if step.isdecimal() else step.replace("_", " ").removesuffix("s") for step in steps
    ]
    return f"{' '.join(words)}: {found.message}"


def _respond(details: ProblemDetails) -> Response:
    return Response(details.model_dump_json(), details.status, mimetype=PROBLEM_TYPE)


def install(app: Flask) -> None:
    """Answer every error, foreseen or not, with problem details."""

    @app.errorhandler(InvalidDocumentError)
    def invalid(error: InvalidDocumentError) -> Response:
        errors = [FieldProblem(pointer=p.pointer, message=p.message) for p in error.problems]
        return _respond(
            ProblemDetails(title="The document is not right", status=422, detail=str(error), errors=errors)
        )

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        detail = error.description or error.name
        if isinstance(error, RequestEntityTooLarge):
            most = current_app.config["MAX_CONTENT_LENGTH"] // 1024**2
            detail = f"What is sent at once is {most} MB at most; this is more."
        response = _respond(ProblemDetails(title=error.name, status=error.code or 500, detail=detail))
        if isinstance(error, MethodNotAllowed):
            response.allow.update(error.valid_methods or ())
        again = error.ask_again_s if isinstance(error, ProblemError) else None
        if again or error.code == 503:
            response.headers["Retry-After"] = str(again or ASK_AGAIN_S)
        return response

    @app.errorhandler(sqlite3.Error)
    def records(error: sqlite3.Error) -> Response:
        reason = why_out_of_reach(error)
        if reason is None:
            return unforeseen(error)
        _log.exception("the records can't be reached", exc_info=error)
        full = error_name(error) == "SQLITE_FULL"
        response = _respond(
            ProblemDetails(
                title="Insufficient Storage" if full else "Service Unavailable",
                status=507 if full else 503,
                detail=f"The records can't be reached: {reason}. What was typed is kept; it is sent again.",
            )
        )
        response.headers["Retry-After"] = str(ASK_AGAIN_S)
        return response

    @app.errorhandler(Exception)
    def unforeseen(error: Exception) -> Response:
        _log.exception("unforeseen error", exc_info=error)
        name = InternalServerError().name
        return _respond(
            ProblemDetails(
                title=name,
                status=500,
                detail="Something broke in Icepick; what was typed is kept. See the log.",
            )
        )

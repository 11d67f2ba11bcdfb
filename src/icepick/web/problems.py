"""Errors as problem details (RFC 9457)."""

from __future__ import annotations

import logging

from flask import Flask, Response
from pydantic import BaseModel
from werkzeug.exceptions import HTTPException, InternalServerError

from icepick.core.document.base import InvalidDocumentError

PROBLEM_TYPE = "application/problem+json"
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

    def __init__(self, status: int, detail: str) -> None:
        super().__init__(detail)
        self.code = status


def problem(status: int, detail: str) -> ProblemError:
    """An error with this status and sentence, to be raised."""
    return ProblemError(status, detail)


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
        return _respond(
            ProblemDetails(title=error.name, status=error.code or 500, detail=error.description or error.name)
        )

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

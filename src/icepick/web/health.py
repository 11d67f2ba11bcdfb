"""Whether the server can do its work, for whoever watches over it; and a line for each request that names nobody."""

from __future__ import annotations

import logging
import sqlite3
import time
from logging.handlers import WatchedFileHandler
from pathlib import Path

from flask import Flask, Response, g, jsonify, request

from icepick.store.database import try_to_write, why_out_of_reach
from icepick.web.connection import connection
from icepick.web.copies import Copies
from icepick.web.problems import ProblemError


def install(app: Flask, access_log: Path | None) -> None:
    """Add ``/healthz``, and a log of requests where one is wanted."""

    @app.get("/healthz")
    def healthz() -> Response:
        """200 while the records can be read, written and, where the server is to, copied; else 503 and why."""
        try:
            try_to_write(connection())
        except ProblemError as error:
            return _not_ready(error.description or "")
        except OSError as error:
            return _not_ready(f"the disk takes nothing more: {error.strerror or error}")
        except sqlite3.Error as error:
            return _not_ready(why_out_of_reach(error) or "the records can't be reached")
        copies: Copies | None = app.extensions.get("icepick.copies")
        if copies is None:
            return jsonify({"status": "ok"})
        if copies.trouble:
            return _not_ready(f"no copy of the records was made: {copies.trouble}")
        return jsonify({"status": "ok", "last_copy": copies.newest and copies.newest.isoformat()})

    if access_log is not None:
        _log_requests(app, access_log)


def _not_ready(reason: str) -> Response:
    answer = jsonify({"status": "not ready", "reason": reason})
    answer.status_code = 503
    return answer


def _log_requests(app: Flask, path: Path) -> None:
    """A line a request: when, how long, what kind of address, how it ended. What stands behind the question mark, and an
    address there is none of, may hold what somebody typed; neither is written, nor who asked."""
    log = logging.getLogger("icepick.access")
    log.setLevel(logging.INFO)
    log.propagate = False
    handler = WatchedFileHandler(path, encoding="utf-8")
    handler.setFormatter(logging.Formatter("%(message)s"))
    log.addHandler(handler)

    @app.before_request
    def began() -> None:
        g.began = time.perf_counter()

    @app.after_request
    def ended(response: Response) -> Response:
        took = (time.perf_counter() - g.began) * 1000 if hasattr(g, "began") else 0.0
        at = time.strftime("%Y-%m-%dT%H:%M:%S%z")
        log.info("%s %s %s %d %.1f ms", at, request.method, _place(), response.status_code, took)
        return response


def _place() -> str:
    """The kind of address with the numbers in it: ``/api/visits/17/runs/<run>/notes``."""
    rule = request.url_rule.rule if request.url_rule else ""
    if not rule.startswith(("/api/", "/healthz")):
        return "(a page)"
    for name, value in (request.view_args or {}).items():
        if isinstance(value, int):
            rule = rule.replace(f"<int:{name}>", str(value))
    return rule

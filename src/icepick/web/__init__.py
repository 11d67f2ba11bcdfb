"""The web application: a thin caller of the core and the store."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from flask import Flask, Response, jsonify
from flask_compress import Compress

from icepick.web import (
    arriving_recordings,
    bench,
    catalogue,
    changes,
    connection,
    door,
    equipment,
    handbook,
    health,
    importing,
    live,
    live_findings,
    moving,
    outcomes,
    pages,
    people,
    photos,
    problems,
    recorder,
    recording_files,
    recordings,
    records,
    report,
    room,
    security,
    session,
    shop,
    summarizing,
    visits,
    windows,
)
from icepick.web.contract import describe

_APIS = (
    session.api,
    people.api,
    catalogue.api,
    equipment.api,
    handbook.api,
    moving.api,
    visits.api,
    recordings.api,
    recording_files.api,
    live.api,
    live_findings.api,
    windows.api,
    records.api,
    outcomes.api,
    photos.api,
    report.api,
    shop.api,
    bench.api,
)


def openapi() -> dict[str, Any]:
    """The OpenAPI description of the whole API."""
    return describe([operation for api in _APIS for operation in api.operations])


def create_app(
    database: Path,
    hosts: list[str] | None = None,
    access_log: Path | None = None,
    *,
    locked: bool = False,
    simulated_probes: float | None = None,
) -> Flask:
    """Make the application.

    Parameters
    ----------
    database : Path
        The SQLite file; created or brought up to date.
    hosts : list of str, optional
        Names, besides the local ones, under which the server may be reached.
    access_log : Path, optional
        A file that gets a line for each request.
    locked : bool
        Whether nobody comes in without an account, also while there is none.
    simulated_probes : float or None
        How many times as fast as the clock simulated probes live; without it none are offered.

    Raises
    ------
    DatabaseError
        The file cannot be used.
    """
    app = Flask("icepick", static_folder=None)
    connection.install(app, database)
    security.install(app, hosts or [])
    door.install(app, locked=locked)
    problems.install(app)
    health.install(app, access_log)
    room.install(app)
    summarizing.install(app, database)
    changes.install(app)
    importing.install(app, database)
    arriving_recordings.install(app, database)
    recorder.install(app, database, simulated_probes)
    for api in _APIS:
        app.register_blueprint(api.blueprint)

    @app.get("/api/openapi.json")
    def description() -> Response:
        door.admit("read")
        return jsonify(openapi())

    # Gzip and what came after it; 304 where the answer, however packed, is the one that is known.
    app.config["COMPRESS_EVALUATE_CONDITIONAL_REQUEST"] = True
    Compress(app)
    pages.install(app)
    return app

"""The built front end: one page, its scripts, styles and fonts."""

from __future__ import annotations

from pathlib import Path

from flask import Blueprint, Response, send_from_directory
from werkzeug.security import safe_join

from icepick.web.problems import problem

APP = Path(__file__).parent / "app"
pages = Blueprint("pages", __name__)


@pages.get("/assets/<path:name>")
def asset(name: str) -> Response:
    """A built file; its name carries a hash of its content, so it may be kept for ever."""
    return send_from_directory(APP / "assets", name, max_age=31_536_000)


@pages.get("/", defaults={"place": ""})
@pages.get("/<path:place>")
def page(place: str) -> Response:
    """The one page; the front end reads the address itself."""
    if place.startswith("api/"):
        raise problem(404, f"There is nothing at /{place}.")
    if place and _is_file(place):
        return send_from_directory(APP, place)
    if not (APP / "index.html").is_file():
        raise problem(503, "The front end is not built; run `make build`.")
    return send_from_directory(APP, "index.html", max_age=0)


def _is_file(place: str) -> bool:
    """Whether the built front end has this file; an address may be anything, a null byte or a mile long."""
    inside = safe_join(str(APP), place)
    try:
        return inside is not None and Path(inside).is_file()
    except (OSError, ValueError):
        return False

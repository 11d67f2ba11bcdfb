"""The built front end: one page, its scripts, styles and fonts."""

from __future__ import annotations

from pathlib import Path
from wsgiref.headers import Headers

from flask import Blueprint, Flask, Response, send_from_directory
from whitenoise import WhiteNoise

from icepick.web.problems import problem
from icepick.web.security import HEADERS

APP = Path(__file__).parent / "app"
pages = Blueprint("pages", __name__)


def install(app: Flask) -> None:
    """Answer with the built files themselves, compressed when they were built, before anything is asked of Flask."""
    app.register_blueprint(pages)
    app.wsgi_app = WhiteNoise(  # type: ignore[method-assign]
        app.wsgi_app, root=APP, max_age=0, immutable_file_test=_never_changes, add_headers_function=_guard
    )


def _never_changes(_path: str, url: str) -> bool:
    """What the build names by its content may be kept for ever."""
    return url.startswith("/assets/")


def _guard(headers: Headers, _path: str, _url: str) -> None:
    for name, value in HEADERS.items():
        headers[name] = value


@pages.get("/", defaults={"place": ""})
@pages.get("/<path:place>")
def page(place: str) -> Response:
    """The one page; the front end reads the address itself."""
    if place.startswith(("api/", "assets/")):
        raise problem(404, f"There is nothing at /{place}.")
    if not (APP / "index.html").is_file():
        raise problem(503, "The front end is not built; run `make build`.")
    return send_from_directory(APP, "index.html", max_age=0)

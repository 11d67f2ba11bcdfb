"""Who may talk to the server, and what a page of ours may load."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

from flask import Flask, Response, request

from icepick.web.problems import problem

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication, WSGIEnvironment

LOCAL_HOSTS = ["localhost", "127.0.0.1"]
MAX_BODY = 16 * 1024 * 1024
"""Largest request body [bytes]: a recording of some hours with a score of series, as CSV."""
MAX_HEADERS = 32 * 1024
"""Largest head of a request [bytes]."""

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; "
        "form-action 'self'; frame-ancestors 'none'"
    ),
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=()",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
}
_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
_NOT_FROM_A_FORM = frozenset({"application/json", "application/octet-stream"})
"""No page elsewhere can send these without asking first."""


def _bare(host: str) -> str:
    """A host without its port: `[::1]:8321`, `::1` and `[::1]` are one."""
    host = host.lower()
    if host.startswith("["):
        return host[1:].partition("]")[0]
    return host if host.count(":") > 1 else host.partition(":")[0]


def install(app: Flask, hosts: list[str]) -> None:
    """Refuse foreign hosts, foreign origins and large bodies; add the headers to every answer.

    Parameters
    ----------
    hosts : list of str
        Names, besides the local ones, under which the server may be reached.
    """
    app.config["MAX_CONTENT_LENGTH"] = MAX_BODY
    ours = frozenset(map(_bare, (*LOCAL_HOSTS, *hosts)))

    @app.before_request
    def refuse_other_names() -> None:
        # Werkzeug's own list of hosts cuts each at its first colon, and so knows no IPv6 address.
        if _bare(request.host) not in ours:
            raise problem(400, "The server does not go by this name here; --allow-host adds one.")

    @app.before_request
    def refuse_strangers() -> None:
        # An address or a verb there is none of is refused as that, whatever was sent there.
        if request.method in _SAFE or request.routing_exception is not None:
            return
        origin = request.headers.get("Origin")
        if origin is not None and _netloc(origin) != request.host:
            raise problem(403, "A page of another origin may not change anything here.")
        if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
            raise problem(403, "A page of another origin may not change anything here.")
        # A DELETE has no body to be of a kind, and no page elsewhere can send one unasked.
        if request.method != "DELETE" and request.mimetype not in _NOT_FROM_A_FORM:
            raise problem(415, "Send JSON, with Content-Type: application/json.")

    app.wsgi_app = _with_headers(app.wsgi_app)  # type: ignore[method-assign, assignment]

    @app.after_request
    def say_who_keeps_it(response: Response) -> Response:
        if request.path.startswith("/api"):
            kept = "no-store" if request.path.startswith("/api/session") else "private, no-cache"
            response.headers["Cache-Control"] = kept
        if request.is_secure:
            response.headers["Strict-Transport-Security"] = "max-age=31536000"
        return response


def _with_headers(inner: WSGIApplication) -> WSGIApplication:
    """Behind every answer the headers that are always the same; set one by one they are a tenth of what a small one costs."""
    fixed = list(HEADERS.items())

    def answer(environ: WSGIEnvironment, start: StartResponse) -> Iterable[bytes]:
        def begin(status: str, headers: list[tuple[str, str]], *error: Any) -> Any:
            return start(status, [*headers, *fixed], *error)

        return inner(environ, begin)

    return answer


def _netloc(origin: str) -> str | None:
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None

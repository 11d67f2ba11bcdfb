"""Room for what takes long: requests that compute never take all of the server's threads, so that what was typed is always
taken in, and lists and questions of what changed are always answered."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore

from flask import Flask, current_app, request

from icepick.web.problems import problem

THREADS = 12
"""Threads that answer requests."""
COMPUTING = 8
"""Of them, how many may compute, or wait for what another computes."""


def install(app: Flask) -> None:
    """Give an application its room."""
    app.extensions["icepick.room"] = BoundedSemaphore(COMPUTING)


@contextmanager
def room() -> Iterator[None]:
    """A place among those who compute; refused at once where there is none (503)."""
    places: BoundedSemaphore = current_app.extensions["icepick.room"]
    if not places.acquire(blocking=False):
        raise problem(503, "Icepick has its hands full just now; what was typed is kept. Try again.")
    try:
        yield
    finally:
        places.release()


def refuse_abandoned() -> None:
    """Work nothing out for somebody who has hung up."""
    gone: Callable[[], bool] | None = request.environ.get("waitress.client_disconnected")
    if gone is not None and gone():
        raise problem(503, "Nobody waits for this answer any more.")

"""The lines of the list of calls, kept up to date behind the requests.

What was written to is examined once nobody has touched it for a moment, in a thread of the server; it mostly has been, for
the screen it was entered on. Where many lines are out of date, because the limits or the program changed, a process of its
own reads them anew, newest first, beside whatever the server does.
"""

from __future__ import annotations

import contextlib
import logging
import os
import sqlite3
import subprocess
import sys
import time
from collections.abc import Callable
from contextlib import closing
from functools import cache
from hashlib import blake2b
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path
from threading import Event, Thread

from flask import Flask, Response, current_app, request

from icepick import __version__
from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.words import WORDS
from icepick.core.practice import LIMITS, Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.store import summaries, visits
from icepick.store.database import connect, writing
from icepick.store.practice import former_practice, practice
from icepick.store.practice import revision as limits_revision
from icepick.web.examined import Followed, examined, examined_once

_log = logging.getLogger(__name__)

QUIET_S = 1.0
"""A visit that nobody has written to for so long is examined for its line."""
AT_LEAST_EACH_S = 30.0
"""A visit that is written to without a pause is examined for its line so often."""
HAND_OVER_AFTER_S = 2.0
"""What is not caught up with in that time is left to a process of its own."""
MANY = 40
"""More visits than are written to by hand at the same time."""
A_MINUTE = 60.0
A_FEW = 8
"""So many lines are caught up with by the thread itself when the server starts."""


def basis(limits: Practice) -> str:
    """What lines are worked out by, in a word: the program and the limits in force."""
    in_force = repr([limits.value(limit.name) for limit in LIMITS])
    return f"{program()}:{blake2b(in_force.encode(), digest_size=9).hexdigest()}"


@cache
def program() -> str:
    """The computation that is installed: another one may come to other verdicts."""
    digest = blake2b(__version__.encode(), digest_size=9)
    for source in _files(files("icepick.core")):
        digest.update(source.read_bytes())
    return digest.hexdigest()


def _files(folder: Traversable) -> list[Traversable]:
    found = list[Traversable]()
    for one in sorted(folder.iterdir(), key=lambda one: one.name):
        if one.is_dir():
            found += _files(one)
        elif one.name.endswith((".py", ".json", ".npz")):
            found.append(one)
    return found


def summarize(
    db: sqlite3.Connection, visit_id: int, units: UnitSystem | None, limits: Practice, by: str
) -> list[int]:
    """Examine a visit and write its line; ``units``: those of a screen that it is likely to have been examined for.

    Returns
    -------
    list of int
        Other visits whose lines are out of date by that.
    """
    revision = summaries.revision_of(db, visit_id)
    if revision is None:
        return []
    as_of = summaries.last_revision(db)
    said = _said(db, visit_id, units, limits)
    with writing(db):
        return summaries.write(db, visit_id, revision, as_of, by, said)


def _said(
    db: sqlite3.Connection, visit_id: int, units: UnitSystem | None, limits: Practice
) -> summaries.Said:
    found = visits.find_visit(db, visit_id)
    if found is None:
        return summaries.Said(trouble="This record can't be read.")
    one = Followed(found, visits.visits_before(db, found, MOST_EARLIER))
    try:
        examination = examined(one, limits, units) if units else examined_once(one, limits)
    except Exception:
        _log.exception("visit %s can't be examined", visit_id)
        return summaries.Said(trouble="This visit can't be examined.")
    return summaries.Said(
        outcome=examination.outcome,
        headline=examination.headline,
        top_fault=examination.ranking[0].fault if examination.ranking else None,
        called=WORDS["complaint"].get(found.document.complaint or "", ""),
        said=examination.verdict,
    )


def catch_up(
    db: sqlite3.Connection, go_on: Callable[[], bool] = lambda: True, *, compare: bool = False
) -> bool:
    """Bring lines up to date; whether all are.

    Those of a unit are done one behind the other, for they share most of the work: the unit of the newest visit first.

    Parameters
    ----------
    db : sqlite3.Connection
        One of its own.
    go_on : callable
        Asked before each visit; False ends it.
    compare : bool
        The limits were changed just now, and what a visit read before that is wanted of those too that were written to since
        their line was.
    """
    while True:
        limits = practice(db)
        by = basis(limits)
        waiting = summaries.out_of_date(db, by)
        if not waiting:
            return True
        for visit_id in waiting:
            if not go_on():
                return False
            if compare and summaries.is_written_to(db, visit_id):
                former = former_practice(db)
                summarize(db, visit_id, None, former, basis(former))
            summarize(db, visit_id, None, limits, by)


def catch_up_beside(path: Path, server: int | None = None) -> None:
    """Bring all lines of a file up to date, as a process beside the server that asked for it, and no longer than it runs.

    ``server`` is its process, which may have been killed before this one had begun: who asks for its own parent only then is
    told of another, which runs for ever."""
    with contextlib.suppress(OSError):
        os.nice(10)
    if server is None:
        server = os.getppid()
    with closing(connect(path, worked_out=True)) as db:
        catch_up(db, lambda: os.getppid() == server)


class Summarizer:
    """The thread that keeps the lines up to date, and what it has still to do."""

    def __init__(self, path: Path) -> None:
        self.waiting = 0
        """Lines that are out of date, where they are many; counted now and then."""
        self.looked_at: dict[int, UnitSystem] = {}
        """The visits that screens follow, and the units these are in: in them they are examined already."""
        self._path = path
        self._woken, self._stopped = Event(), Event()
        self._catching_up = True
        self._limits: int | None = None
        self._beside: subprocess.Popen[bytes] | None = None
        self._thread: Thread | None = None

    def start(self) -> None:
        self._thread = Thread(target=self._keep_up, name="summarizer", daemon=True)
        self._thread.start()

    def wake(self) -> None:
        """Something was written."""
        self._woken.set()

    def stop(self) -> None:
        """Stop, and whatever was begun beside the server."""
        self._stopped.set()
        self._woken.set()
        if self._thread is not None:
            self._thread.join(timeout=5)
        if self._beside is not None:
            self._beside.terminate()
            self._beside.wait()

    def _keep_up(self) -> None:
        written = _Written()
        while not self._stopped.is_set():
            self._woken.clear()
            try:
                # Opened each time: the file may be another one, put back from a copy.
                with closing(connect(self._path, worked_out=True)) as db:
                    self._look(db, written)
            except Exception:
                _log.exception("the lines of the list can't be written now; they will be when they can")
            if not (written.waiting or self._catching_up or self._beside):
                # Looked at each minute all the same: another program may write too, and what failed is tried again.
                self._catching_up = not self._woken.wait(A_MINUTE)
            # A hand that types is not disturbed.
            self._stopped.wait(QUIET_S)

    def _look(self, db: sqlite3.Connection, written: _Written) -> None:
        limits, revision = practice(db), limits_revision(db)
        by = basis(limits)
        compare = self._limits is not None and revision != self._limits
        self._limits = revision
        if self._beside is not None and self._beside.poll() is not None:
            self._beside = None
        if (self._catching_up or compare) and self._beside is None:
            self._catching_up = False
            self._catch_up(db, by, compare)
        if self._beside is not None or self.waiting:
            self.waiting = summaries.count_out_of_date(db, by)
        rested = written.at_rest(db)
        if len(rested) > MANY:
            # Brought in together: read beside the server, as after a change of limits.
            self._catching_up = True
            return
        for visit_id in rested:
            if self._stopped.is_set():
                return
            if not summaries.is_written_to(db, visit_id):
                continue
            began = time.monotonic()
            for later in summarize(db, visit_id, self.looked_at.get(visit_id, "field"), limits, by):
                summarize(db, later, None, limits, by)
            # Half of the time is others'.
            self._stopped.wait(time.monotonic() - began)

    def _catch_up(self, db: sqlite3.Connection, by: str, compare: bool) -> None:
        until = time.monotonic() + HAND_OVER_AFTER_S
        if not compare and summaries.count_out_of_date(db, by) > A_FEW:
            until = 0
        done = catch_up(db, lambda: time.monotonic() < until and not self._stopped.is_set(), compare=compare)
        if not done and not self._stopped.is_set():
            command = [sys.executable, "-c", "from icepick.cli import main; main()", "summarize"]
            command += ["--server", str(os.getpid()), str(self._path)]
            self._beside = subprocess.Popen(command, stdin=subprocess.DEVNULL)


class _Written:
    """The visits that were written to, until they are at rest."""

    def __init__(self) -> None:
        self._revision: int | None = None
        self.waiting: dict[int, float] = {}

    def at_rest(self, db: sqlite3.Connection) -> list[int]:
        """Those that were not written to since the last look, or have waited long enough."""
        if self._revision is None:
            # What was written before the server started is caught up with.
            self._revision = summaries.last_revision(db)
        moved = set[int]()
        now = time.monotonic()
        for visit_id, revision in summaries.written_since(db, self._revision):
            self._revision = revision
            self.waiting.setdefault(visit_id, now)
            moved.add(visit_id)
        found = [
            visit_id
            for visit_id, since in self.waiting.items()
            if visit_id not in moved or now - since > AT_LEAST_EACH_S
        ]
        for visit_id in found:
            del self.waiting[visit_id]
        return found


def install(app: Flask, database: Path) -> None:
    """Give an application a summarizer, which is woken by whatever is written; the server starts it."""
    summarizer = Summarizer(database)
    app.extensions["icepick.summarizer"] = summarizer

    @app.after_request
    def wake(response: Response) -> Response:
        if request.method not in ("GET", "HEAD", "OPTIONS") and response.status_code < 300:
            summarizer.wake()
        return response


def summarizer() -> Summarizer:
    """The one of this application."""
    found: Summarizer = current_app.extensions["icepick.summarizer"]
    return found

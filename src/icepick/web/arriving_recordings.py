"""Files of recordings that arrive in parts, and are read and entered behind the requests."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from secrets import token_hex
from threading import Event, Lock, Thread
from typing import Literal

from flask import Flask, current_app

from icepick.core.document.base import InvalidDocumentError
from icepick.core.recorded_file.layout import NotRowsError
from icepick.core.recorded_file.making import make, told
from icepick.core.recorded_file.meanings import Meanings, clock_unit_of, place_of
from icepick.core.recorded_file.table import Table, read_table
from icepick.store import recordings as store
from icepick.store.closing import ClosedError, refuse_closed
from icepick.store.column_meanings import known_clock_unit, known_meanings, say_meaning
from icepick.store.database import acting, connect, writing

_log = logging.getLogger(__name__)
LARGEST_FILE = 64 * 1024**2
"""Of rows [bytes]."""
MOST_FILES = 8
"""At once; one more, and the oldest that nobody enters gives way."""

State = Literal["arriving", "reading", "read", "entering", "done", "refused"]


class StoppedError(Exception):
    """Somebody let the file go."""


@dataclass(slots=True)
class RecordedFile:
    """A file for a visit, and how far it has come: ``done`` letters ``of`` all are read."""

    id: str
    visit: int
    name: str
    bytes: int
    content: bytearray = field(default_factory=bytearray)
    state: State = "arriving"
    done: int = 0
    of: int = 0
    table: Table | None = None
    said: Meanings = field(default_factory=Meanings)
    remembered: frozenset[int] = frozenset()
    """Columns whose meaning was known from their heading in an earlier file."""
    trouble: str | None = None
    recording: str | None = None
    gone: Event = field(default_factory=Event)


class ArrivingRecordings:
    """The files under way."""

    def __init__(self, database: Path) -> None:
        self._database, self._lock = database, Lock()
        self._files: dict[str, RecordedFile] = {}

    def begin(self, visit: int, name: str, size: int) -> RecordedFile:
        """Make room for a file that is to arrive."""
        with self._lock:
            idle = [one for one in self._files.values() if one.state != "entering"]
            if len(self._files) >= MOST_FILES and idle:
                self._let_go(idle[0])
            one = RecordedFile(token_hex(8), visit, name, size)
            self._files[one.id] = one
            return one

    def find(self, visit: int, wanted: str) -> RecordedFile | None:
        """A visit's file of this name."""
        one = self._files.get(wanted)
        return one if one is not None and one.visit == visit else None

    def add(self, one: RecordedFile, at: int, part: bytes) -> bool:
        """Put a part in its place; whether it was the next one. With the last one, reading begins."""
        with self._lock:
            if one.state != "arriving" or at != len(one.content) or at + len(part) > one.bytes:
                return False
            one.content += part
            if len(one.content) == one.bytes:
                one.state = "reading"
                self._behind(one, lambda: self._read(one))
            return True

    def enter(
        self,
        one: RecordedFile,
        entry_key: str,
        account: int | None,
        wake: Callable[[], None],
        **of_it: object,
    ) -> bool:
        """Enter what was read, as it was said to be; whether it waited for that."""
        with self._lock:
            if one.state != "read":
                return one.state in ("entering", "done")
            one.state = "entering"

        def work() -> None:
            acting.set(account)
            self._enter(one, entry_key, of_it)
            wake()

        self._behind(one, work)
        return True

    def forget(self, one: RecordedFile) -> bool:
        """Let it go; whether it was not being entered."""
        with self._lock:
            if one.state == "entering":
                return False
            self._let_go(one)
            return True

    def _let_go(self, one: RecordedFile) -> None:
        one.gone.set()
        self._files.pop(one.id, None)

    def _behind(self, one: RecordedFile, work: Callable[[], None]) -> None:
        def run() -> None:
            try:
                work()
            except StoppedError:
                pass
            except NotRowsError as error:
                one.trouble, one.state = f"This file can't be used: {error}", "refused"
            except store.FullError:
                one.trouble, one.state = (
                    "The call holds as many recordings as one can. Nothing was entered.",
                    "read",
                )
            except ClosedError:
                one.trouble, one.state = (
                    "This call is closed; open it again first. Nothing was entered.",
                    "read",
                )
            except InvalidDocumentError as error:
                one.trouble, one.state = f"Nothing was entered: {error}", "read"
            except Exception:
                _log.exception("%s can't be brought in", one.name)
                one.trouble, one.state = (
                    "It can't be brought in; nothing of it was entered. See the log.",
                    "refused",
                )

        Thread(target=run, name="recording file", daemon=True).start()

    def _read(self, one: RecordedFile) -> None:
        def step(done: int, of: int) -> None:
            if one.gone.is_set():
                raise StoppedError
            one.done, one.of = done, of

        table = read_table(bytes(one.content), step)
        one.content = bytearray()
        with closing(connect(self._database)) as db:
            headings = [column.heading for column in table.columns]
            known = known_meanings(db, headings)
            clock_unit = clock_unit_of(table.clock_heading) or known_clock_unit(db, table.clock_heading)
        places = {
            at: place
            for at, heading in enumerate(headings)
            for place in ((place_of(heading) if place_of(heading) else known.get(heading)),)
            if place is not None or heading in known
        }
        one.remembered = frozenset(at for at in places if place_of(headings[at]) is None)
        one.table, one.said, one.state = table, Meanings(places, clock_unit), "read"

    def _enter(self, one: RecordedFile, entry_key: str, of_it: dict[str, object]) -> None:
        table, said = one.table, one.said
        assert table is not None
        with closing(connect(self._database)) as db:
            # Made before the lock is taken: it takes as long as all the rest.
            made = make(table, said, id="recording-1", notes=told(table, said, one.name), **of_it)
            with writing(db):
                refuse_closed(db, one.visit)
                known = store.entered_under(db, one.visit, entry_key)
                if known is not None:
                    one.recording, one.table, one.state = known, None, "done"
                    return
                name = store.next_key(db, one.visit)
                store.add_recording(db, one.visit, made.model_copy(update={"id": name}), entry_key)
                for at, place in said.places.items():
                    heading = table.columns[at].heading
                    if heading and place_of(heading) is None:
                        say_meaning(db, heading, place)
                if table.clock == "numbers" and clock_unit_of(table.clock_heading) is None:
                    say_meaning(db, table.clock_heading, None, said.clock_unit)
        one.recording, one.table, one.state = name, None, "done"


def install(app: Flask, database: Path) -> None:
    """Give an application a place where recordings arrive."""
    app.extensions["icepick.recordings"] = ArrivingRecordings(database)


def arriving() -> ArrivingRecordings:
    """Those of this application."""
    found: ArrivingRecordings = current_app.extensions["icepick.recordings"]
    return found

"""Records that are brought in: they arrive in parts, are looked at behind the requests, and entered when that is wanted."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from contextlib import closing, suppress
from dataclasses import dataclass, field
from pathlib import Path
from secrets import token_hex
from threading import Event, Lock, Thread
from typing import Literal

from flask import Flask, current_app

from icepick.exchange.archive import ArchiveError
from icepick.exchange.coming import Coming, StoppedError, bring_in, look, source
from icepick.store.database import acting, connect, make_private

_log = logging.getLogger(__name__)
LARGEST_ARRIVING = 2 * 1024**3
"""Of what arrives [bytes]."""
LARGEST_PART = 8 * 1024**2
"""Of a part of it [bytes]."""
A_DAY_S = 86_400

State = Literal["arriving", "looking", "looked", "entering", "done", "refused", "failed"]


@dataclass(slots=True)
class Import:
    """What arrives, and how far it has come; ``trouble`` says why it was refused or failed."""

    id: str
    name: str
    bytes: int
    place: Path
    received: int = 0
    state: State = "arriving"
    done: int = 0
    of: int = 0
    coming: Coming | None = None
    trouble: str | None = None
    stopped: Event = field(default_factory=Event)
    past_stopping: bool = False


class Imports:
    """The one import that is under way, if there is one."""

    def __init__(self, database: Path) -> None:
        self._database, self._lock = database, Lock()
        self._now: Import | None = None

    def sweep(self) -> None:
        """Remove what an earlier server left behind."""
        for left in self._database.parent.glob(f"{self._database.name}.import-*"):
            with suppress(OSError):
                if time.time() - left.stat().st_mtime > A_DAY_S:
                    left.unlink()

    def now(self, wanted: str) -> Import | None:
        """The import of this name."""
        return self._now if self._now is not None and self._now.id == wanted else None

    def begin(self, name: str, size: int) -> Import | None:
        """Make room for what is to arrive; None while another is being entered. One that was only looked at gives way."""
        with self._lock:
            if self._now is not None:
                if self._now.state == "entering":
                    return None
                self._let_go(self._now)
            own = token_hex(8)
            place = self._database.with_name(f"{self._database.name}.import-{own}")
            make_private(place)
            self._now = Import(own, name, size, place)
            return self._now

    def add(self, one: Import, at: int, part: bytes) -> bool:
        """Put a part in its place; whether it was the next one. With the last one, looking begins."""
        with self._lock:
            if one.state != "arriving" or at != one.received or at + len(part) > one.bytes:
                return False
            with one.place.open("ab") as file:
                file.write(part)
            one.received += len(part)
            if one.received == one.bytes:
                one.state = "looking"
                self._go(one, lambda db, records, step: look(db, records, step), "looked", None)
            return True

    def enter(self, one: Import, account: int | None, wake: Callable[[], None]) -> bool:
        """Enter what was looked at, on an account's behalf; whether it waited for that."""
        with self._lock:
            if one.state != "looked":
                return False
            one.state, one.done = "entering", 0
            self._go(
                one, lambda db, records, step: bring_in(db, records, one.name, step), "done", account, wake
            )
            return True

    def forget(self, one: Import) -> bool:
        """Stop it, whatever it is at; nothing of it stays behind. Whether it was not too late for that."""
        with self._lock:
            if one.state == "entering" and one.past_stopping:
                return False
            self._let_go(one)
            if self._now is one:
                self._now = None
            return True

    def _let_go(self, one: Import) -> None:
        one.stopped.set()
        # Who works on it puts it away.
        if one.state not in ("looking", "entering"):
            one.place.unlink(missing_ok=True)

    def _go(
        self,
        one: Import,
        work: Callable[..., Coming],
        then: State,
        account: int | None,
        wake: Callable[[], None] = lambda: None,
    ) -> None:
        def step(done: int, of: int) -> None:
            one.done, one.of = done, of
            with self._lock:
                if one.stopped.is_set():
                    raise StoppedError
                # From here on it is entered, whatever anybody presses.
                one.past_stopping = one.state == "entering" and done == of

        def run() -> None:
            acting.set(account)
            state, trouble, found = then, None, one.coming
            try:
                with closing(connect(self._database)) as db, source(one.place, db) as records:
                    found = work(db, records, step)
                if one.coming:
                    # Counted when it was looked at.
                    found.unusable = one.coming.unusable
            except ArchiveError as error:
                state, trouble = "refused", str(error)
            except StoppedError:
                state, trouble = "failed", "Stopped; nothing of it was entered."
            except Exception:
                _log.exception("%s can't be brought in", one.name)
                state, trouble = "failed", "It can't be brought in; nothing of it was entered. See the log."
            # In one piece: whoever asks in between must not enter what is being put away.
            with self._lock:
                if state != "looked" or one.stopped.is_set():
                    one.place.unlink(missing_ok=True)
                one.coming, one.trouble, one.state = found, trouble, state
            wake()

        Thread(target=run, name="import", daemon=True).start()


def install(app: Flask, database: Path) -> None:
    """Give an application a place where records arrive."""
    app.extensions["icepick.imports"] = Imports(database)
    app.extensions["icepick.imports"].sweep()


def imports() -> Imports:
    """The ones of this application."""
    found: Imports = current_app.extensions["icepick.imports"]
    return found

"""Copies of the records that the server makes by itself, every so often, into a folder."""

from __future__ import annotations

import logging
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event, Thread

from icepick.store.backup import back_up_into, copies_in, made_at
from icepick.store.database import DatabaseError

_log = logging.getLogger(__name__)
LOOKED_EACH_S = 60.0


class Copies:
    """A thread that makes a copy whenever the newest is older than ``each``, and lets the oldest go."""

    def __init__(self, records: Path, folder: Path, each: timedelta, keep: int) -> None:
        self._records, self._folder, self._each, self._keep = records, folder, each, keep
        self.trouble = ""
        """Why the last copy that was due was not made."""
        self._stopped = Event()
        self._thread = Thread(target=self._keep_up, name="copies", daemon=True)

    @property
    def newest(self) -> datetime | None:
        """When the newest copy was made."""
        return made_at(copies_in(self._folder)[-1]) if copies_in(self._folder) else None

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stopped.set()
        self._thread.join(timeout=60)

    def _keep_up(self) -> None:
        while not self._stopped.is_set():
            try:
                self._look()
                self.trouble = ""
            except (DatabaseError, OSError) as error:
                self.trouble = str(error)
                _log.error("no copy of the records was made: %s", error)
            self._stopped.wait(LOOKED_EACH_S)

    def _look(self) -> None:
        newest = self.newest
        if newest is None or datetime.now(UTC) - newest >= self._each:
            _log.info("the records were copied to %s", back_up_into(self._records, self._folder, self._keep))

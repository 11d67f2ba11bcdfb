"""The pictures beside the database, each under the SHA-256 of its content: what is there once is never changed."""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path
from uuid import uuid4


@dataclass(frozen=True, slots=True)
class PhotoFiles:
    """The folder of a database's pictures; it may not be there yet."""

    folder: Path

    @classmethod
    def of(cls, connection: sqlite3.Connection) -> PhotoFiles:
        """That of an open database."""
        (place,) = (row[2] for row in connection.execute("PRAGMA database_list") if row[1] == "main")
        return cls.beside(Path(place))

    @classmethod
    def beside(cls, records: Path) -> PhotoFiles:
        """That of a database file."""
        return cls(records.with_name(f"{records.name}.photos"))

    def _path(self, digest: str) -> Path:
        return self.folder / digest[:2] / f"{digest}.jpg"

    def put(self, content: bytes) -> bool:
        """Keep a picture; whether it was new. It is on disk when this returns.

        Raises
        ------
        OSError
            It can't be written.
        """
        digest = sha256(content).hexdigest()
        if self.read(digest) is not None:
            return False
        path = self._path(digest)
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        beside = path.with_name(f"{digest}.{uuid4().hex}.part")
        try:
            with os.fdopen(os.open(beside, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
                file.write(content)
                file.flush()
                os.fsync(file.fileno())
            beside.replace(path)
        finally:
            with suppress(OSError):
                beside.unlink()
        return True

    def read(self, digest: str) -> bytes | None:
        """A picture; None where it is not there, or is not what it was."""
        try:
            content = self._path(digest).read_bytes()
        except OSError:
            return None
        return content if sha256(content).hexdigest() == digest else None

    def sweep(self, older_than_s: float = 3600.0) -> None:
        """Let go of what was begun and never finished: a process was killed over it."""
        for part in self.folder.glob("*/*.part"):
            with suppress(OSError):
                if time.time() - part.stat().st_mtime > older_than_s:
                    part.unlink()

    def forget(self, digest: str) -> None:
        """Let go of a picture that nothing speaks of."""
        with suppress(OSError):
            self._path(digest).unlink()


def digests(connection: sqlite3.Connection) -> Iterator[str]:
    """The pictures that a database speaks of, those taken back included."""
    for row in connection.execute("SELECT DISTINCT sha256 FROM photos ORDER BY sha256"):
        yield row[0]

"""An archive: records as JSON in a ZIP, with a manifest that names every file, its size and its digest.

``records/`` is what is brought in again; ``visits/`` has the visit documents that any caller of the core reads, ``tables/``
the same as CSV with ``datapackage.json``, ``schema/`` the JSON Schemas.
"""

from __future__ import annotations

import lzma
import zipfile
import zlib
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from hashlib import sha256
from pathlib import Path
from typing import Annotated, Literal, TypeVar

from pydantic import Field, StringConstraints
from pydantic_core import from_json

from icepick.core.document.base import Document, InvalidDocumentError, parse
from icepick.core.document.record import Moment, Word

LARGEST = 4 * 1024**3
"""Of an archive unpacked, all files together [bytes]."""
LARGEST_FILE = 256 * 1024**2
"""Of one file in it unpacked, such as a table, which nobody here reads [bytes]."""
LARGEST_READ = 64 * 1024**2
"""Of one that is read: a record or a picture [bytes]."""
MANIFEST_LINE = 700
"""What a manifest takes at most for each file it names [bytes]."""
MOST_FILES = 1_000_000
FORMAT = "icepick-archive"
VERSION = 1
MANIFEST = "manifest.json"
LIMITS = "records/limits.json"
SHOP = "records/shop.json"
PHOTOS = "photos/"
UNITS = "records/units/"
VISITS = "records/visits/"

Holds = Literal["visit", "unit", "everything"]
D = TypeVar("D", bound=Document)


class ArchiveError(ValueError):
    """The archive can't be used; the message says why, in a sentence."""


class FileLine(Document):
    """A file of the archive."""

    path: Word
    bytes: Annotated[int, Field(ge=0, le=LARGEST_FILE)]
    sha256: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]


class Manifest(Document):
    """What an archive holds, when it was made and by which version of the program; ``left_out`` says what could not be read
    where it was made."""

    format: Literal["icepick-archive"] = "icepick-archive"
    version: Literal[1] = 1
    made_at: Moment
    program: Word
    holds: Holds
    units: Annotated[int, Field(ge=0)]
    visits: Annotated[int, Field(ge=0)]
    left_out: list[Word] = Field(max_length=MOST_FILES)
    files: list[FileLine] = Field(max_length=MOST_FILES)


class Archive:
    """An archive that is read: nothing of it is unpacked to disk, and nothing is read that the manifest does not name."""

    def __init__(self, file: zipfile.ZipFile) -> None:
        self._zip = file
        entries = file.infolist()
        if len(entries) > MOST_FILES:
            raise ArchiveError(f"It holds {len(entries):,} files; {MOST_FILES:,} are the most.")
        unpacked = sum(entry.file_size for entry in entries)
        if unpacked > LARGEST:
            raise ArchiveError(
                f"Unpacked it would be {_size(unpacked)}; {_size(LARGEST)} is the most that is read."
            )
        names = [entry.filename for entry in entries]
        if len(set(names)) != len(names):
            ((twice, _),) = Counter(names).most_common(1)
            raise ArchiveError(f"Two of its files are called {twice}.")
        if any(entry.flag_bits & 1 for entry in entries):
            raise ArchiveError("It is encrypted; unpack it and pack it again without a password.")
        self.manifest = self._manifest(names)
        self._lines = {line.path: line for line in self.manifest.files}
        self._agrees(names)

    def _manifest(self, names: list[str]) -> Manifest:
        if MANIFEST not in names:
            raise ArchiveError(f"It has no {MANIFEST}: this is not an archive of records.")
        text = self._bytes(MANIFEST, MANIFEST_LINE * (100 + len(names)))
        try:
            said = from_json(text)
        except ValueError:
            raise ArchiveError(f"Its {MANIFEST} is not JSON.") from None
        if not isinstance(said, dict) or said.get("format") != FORMAT:
            raise ArchiveError(f"Its {MANIFEST} is not one of an {FORMAT}.")
        if said.get("version") != VERSION:
            raise ArchiveError(
                f"It is of version {said.get('version')} of the format; this Icepick reads version {VERSION}. "
                "Update Icepick, or take the records out again with the one that made it."
            )
        return self._as(Manifest, MANIFEST, text)

    def _agrees(self, names: list[str]) -> None:
        if len(self._lines) != len(self.manifest.files):
            raise ArchiveError(f"Its {MANIFEST} names a file twice.")
        there, named = {name for name in names if not name.endswith("/")} - {MANIFEST}, set(self._lines)
        if missing := sorted(named - there):
            raise ArchiveError(f"{missing[0]} is missing, which its {MANIFEST} names.")
        if added := sorted(there - named):
            raise ArchiveError(f"{added[0]} is in it, which its {MANIFEST} does not name.")
        counted = {"units": len(self.paths(UNITS)), "visits": len(self.paths(VISITS))}
        for what, count in counted.items():
            if getattr(self.manifest, what) != count:
                raise ArchiveError(
                    f"Its {MANIFEST} speaks of {getattr(self.manifest, what):,} {what}; it holds {count:,}."
                )

    def paths(self, folder: str) -> list[str]:
        """The files of a folder, in the order they were put in."""
        return [path for path in self._lines if path.startswith(folder)]

    def has(self, path: str) -> bool:
        """Whether it holds a file."""
        return path in self._lines

    def content(self, path: str) -> bytes:
        """A file, as its maker put it in.

        Raises
        ------
        ArchiveError
            It is not what the manifest says of it.
        """
        text, line = self._bytes(path, LARGEST_READ), self._lines[path]
        if len(text) != line.bytes or sha256(text).hexdigest() != line.sha256:
            raise ArchiveError(f"{path} is not what its {MANIFEST} says of it: the archive was changed.")
        return text

    def read(self, model: type[D], path: str) -> D:
        """A record.

        Raises
        ------
        ArchiveError
            It is not what the manifest says of it, or not such a record.
        """
        return self._as(model, path, self.content(path))

    def _as(self, model: type[D], path: str, text: bytes) -> D:
        try:
            return parse(model, text)
        except InvalidDocumentError as error:
            raise ArchiveError(f"{path} can't be used: {error}") from None

    def _bytes(self, path: str, most: int) -> bytes:
        if self._zip.getinfo(path).file_size > most:
            raise ArchiveError(f"{path} in it is larger than {_size(most)}.")
        try:
            with self._zip.open(path) as file:
                # What the head says of the size may be wrong.
                text = file.read(most + 1)
        except (
            zipfile.BadZipFile,
            EOFError,
            OSError,
            NotImplementedError,
            ValueError,
            zlib.error,
            lzma.LZMAError,
        ) as error:
            raise ArchiveError(f"{path} in it is damaged: {error}.") from None
        if len(text) > most:
            raise ArchiveError(f"{path} in it is larger than {_size(most)}.")
        return text


@contextmanager
def opened(path: Path) -> Iterator[Archive]:
    """Open an archive to read it.

    Raises
    ------
    ArchiveError
        The file is no archive of records, or can't be used.
    """
    try:
        file = zipfile.ZipFile(path)
    except (zipfile.BadZipFile, OSError, ValueError):
        raise ArchiveError("It is neither a ZIP archive nor a visit document.") from None
    with file:
        yield Archive(file)


def _size(count: int) -> str:
    if count < 1024**2:
        return f"{count / 1024:.0f} kB"
    return f"{count / 1024**3:.1f} GB" if count >= 1024**3 else f"{count / 1024**2:.0f} MB"

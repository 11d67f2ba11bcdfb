"""Bringing records in: first looked at, then, if that is wanted, entered all together or not at all."""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime
from hashlib import sha256
from pathlib import Path

from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.record import LimitsRecord, ShopRecord, UnitRecord, VisitRecord
from icepick.core.document.visit import parse_visit
from icepick.exchange.archive import LIMITS, PHOTOS, SHOP, UNITS, VISITS, Archive, ArchiveError, opened
from icepick.exchange.document import records_of
from icepick.exchange.standing import standing
from icepick.store.audit import note
from icepick.store.database import at_one_moment, writing
from icepick.store.entering import Entering, Means, TakenError, UnitComing, VisitComing
from icepick.store.photo_files import PhotoFiles
from icepick.store.pictures import PictureError, refuse_unkept

MOST_LINES = 500
"""Visits that are named one by one."""
LARGEST_DOCUMENT = 64 * 1024**2
"""A visit document that comes alone [bytes]."""


class StoppedError(Exception):
    """Somebody had it stopped; nothing was written."""


@dataclass(frozen=True, slots=True)
class Line:
    """A visit that comes, what that means, and how many entries it has."""

    site: str
    unit: str
    opened_at: str
    means: Means
    entries: int


@dataclass(slots=True)
class Coming:
    """What comes in, or came: units, visits and limits by what bringing them in means; ``unusable`` counts what this Icepick
    can't use of them and keeps as it is, ``lines`` names the first visits, those that change something before the others."""

    units: Counter[Means] = field(default_factory=Counter)
    visits: Counter[Means] = field(default_factory=Counter)
    limits: Means | None = None
    shop: Means | None = None
    entries: int = 0
    unusable: int = 0
    lines: list[Line] = field(default_factory=list)

    @property
    def changes(self) -> bool:
        """Whether bringing it in changes anything."""
        counted = self.units + self.visits
        return bool(
            counted["new"] or counted["more"] or self.units["parted"] or "new" in (self.limits, self.shop)
        )


Step = Callable[[int, int], None]
"""Told how many records are done, and of how many; it may raise :class:`StoppedError`."""


@contextmanager
def source(path: Path, connection: sqlite3.Connection) -> Iterator[Source]:
    """Open what comes: an archive of records, or a visit document alone.

    Raises
    ------
    ArchiveError
        It is neither, or can't be used.
    """
    with path.open("rb") as file:
        first = file.read(64).lstrip(b"\xef\xbb\xbf \t\r\n")[:1]
    if first == b"{":
        yield _alone(path, connection)
    else:
        with opened(path) as archive:
            yield Source.of(archive)


@dataclass(frozen=True, slots=True)
class Source:
    """Records that come one behind the other."""

    units: Callable[[], Iterator[UnitRecord]]
    visits: Callable[[], Iterator[VisitRecord]]
    limits: Callable[[], LimitsRecord | None]
    shop: Callable[[], ShopRecord | None]
    pictures: Callable[[], Iterator[tuple[str, bytes]]]
    count: int

    @classmethod
    def of(cls, archive: Archive) -> Source:
        """Those of an archive."""
        units, visits = archive.paths(UNITS), archive.paths(VISITS)
        return cls(
            lambda: (archive.read(UnitRecord, path) for path in units),
            lambda: (archive.read(VisitRecord, path) for path in visits),
            lambda: archive.read(LimitsRecord, LIMITS) if archive.has(LIMITS) else None,
            lambda: archive.read(ShopRecord, SHOP) if archive.has(SHOP) else None,
            lambda: ((path, archive.content(path)) for path in archive.paths(PHOTOS)),
            len(units) + len(visits),
        )


def _alone(path: Path, connection: sqlite3.Connection) -> Source:
    if path.stat().st_size > LARGEST_DOCUMENT:
        raise ArchiveError(f"A visit document is at most {LARGEST_DOCUMENT // 1024**2} MB.")
    text = path.read_bytes()
    try:
        document = parse_visit(text)
    except InvalidDocumentError as error:
        raise ArchiveError(f"This visit document can't be used: {error}") from None
    if document.bench is not None:
        raise ArchiveError(
            f"This is practice at the bench, case {document.bench}: it is no visit to a customer."
        )
    unit, visit = records_of(document, sha256(text).hexdigest(), connection)
    return Source(
        lambda: iter([unit]), lambda: iter([visit]), lambda: None, lambda: None, lambda: iter(()), 2
    )


def look(connection: sqlite3.Connection, records: Source, step: Step) -> Coming:
    """What bringing records in would do; nothing is written.

    Raises
    ------
    ArchiveError
        They can't be brought in.
    """
    with at_one_moment(connection):
        return _go_through(connection, records, step, write=False)


def bring_in(connection: sqlite3.Connection, records: Source, name: str, step: Step) -> Coming:
    """Bring records in that were looked at, in one piece; the audit says from where. What can't be used is not counted again.

    Raises
    ------
    ArchiveError, StoppedError
        Nothing was written.
    """
    files = PhotoFiles.of(connection)
    put = list[str]()
    try:
        # Beforehand: while records are entered, others wait.
        for _, content in records.pictures():
            if files.put(content):
                put.append(sha256(content).hexdigest())
        with writing(connection):
            done = _go_through(connection, records, step, write=True)
            note(connection, "brought_in", None, name)
    except BaseException:
        for digest in put:
            files.forget(digest)
        raise
    return done


def _go_through(connection: sqlite3.Connection, records: Source, step: Step, *, write: bool) -> Coming:
    entering, found = Entering(connection), Coming()
    units: dict[str, tuple[UnitComing, int]] = {}
    photos: dict[str, tuple[int, int]] = {}
    done, seen = 0, _Seen()
    for unit in records.units():
        seen.refuse_again(unit.id, *unit.also)
        if not str(unit.site.get("name") or ""):
            raise ArchiveError(f"The site of unit {unit.id} has no name.")
        coming = entering.unit(unit)
        found.units[coming.means] += 1
        units[unit.id] = coming, entering.add_unit(coming) if write else 0
        step(done := done + 1, records.count)
    for visit in records.visits():
        seen.refuse_again(visit.id, *visit.entry_keys)
        if visit.unit not in units:
            raise ArchiveError(f"Visit {visit.id} is to a unit that the archive does not hold.")
        unit_coming, number = units[visit.unit]
        unit = unit_coming.record
        if visit.description >= len(unit.descriptions):
            raise ArchiveError(f"Visit {visit.id} names a description that its unit does not have.")
        try:
            # Looked at beforehand: while it is entered, others wait.
            unusable = 0 if write else len(standing(visit, unit).set_aside)
            comes = entering.visit(visit, unit_coming)
        except InvalidDocumentError as error:
            raise ArchiveError(f"Visit {visit.id} can't be used: {error}") from None
        except TakenError as error:
            raise ArchiveError(f"Visit {visit.id} can't be brought in: {error}") from None
        photos |= {one.photo.sha256: (one.photo.width, one.photo.height) for one in visit.photos}
        if write:
            entering.add_visit(comes, unit, number)
        _count(found, comes, unit, unusable)
        step(done := done + 1, records.count)
    if (limits := records.limits()) is not None:
        found.limits = entering.limits(limits)
        if write and found.limits == "new":
            entering.add_limits(limits)
    if (said := records.shop()) is not None:
        found.shop = entering.shop(said)
        if write and found.shop == "new":
            entering.add_shop(said)
    if not write:
        found.unusable += _missing(records, photos)
    found.lines.sort(key=lambda line: datetime.fromisoformat(line.opened_at), reverse=True)
    found.lines.sort(key=lambda line: line.means in ("same", "behind"))
    del found.lines[MOST_LINES:]
    return found


def _missing(records: Source, photos: dict[str, tuple[int, int]]) -> int:
    """How many pictures that records speak of do not come with them; each that does has to be what it is said to be."""
    there = 0
    for path, content in records.pictures():
        digest = _digest(path)
        if digest not in photos:
            raise ArchiveError(f"No record speaks of {path}.")
        if sha256(content).hexdigest() != digest:
            raise ArchiveError(f"{path} is not the picture that its name says.")
        try:
            refuse_unkept(content, *photos[digest])
        except PictureError as error:
            raise ArchiveError(f"{path} can't be used: {error}") from None
        there += 1
    return len(photos) - there


def _digest(path: str) -> str:
    return path.removeprefix(PHOTOS).removesuffix(".jpg")


def _count(found: Coming, comes: VisitComing, unit: UnitRecord, unusable: int) -> None:
    visit, means = comes.record, comes.means
    entries = len(visit.entry_keys)
    found.visits[means] += 1
    if means in ("new", "more"):
        found.entries += entries - (len(comes.ours.entry_keys) if comes.ours else 0)
        found.unusable += unusable
    if len(found.lines) < 4 * MOST_LINES or means not in ("same", "behind"):
        label = str(unit.descriptions[visit.description].unit.get("label") or "")
        found.lines.append(Line(str(unit.site["name"]), label, visit.opened_at, means, entries))


class _Seen:
    """What was met in what comes: a name stands for one thing."""

    def __init__(self) -> None:
        self._names = set[str]()

    def refuse_again(self, *names: str) -> None:
        for name in names:
            if name in self._names:
                raise ArchiveError(f"Two of its records are called {name}.")
            self._names.add(name)

"""Records of another book, brought into this one: what is new is added, what stands here is never changed.

A visit that stands here is gone on with where the record goes on from what is written here; where both went on, it stays
as it is. To bring the same in twice is the same as once.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from icepick.core.document.record import (
    Clockwork,
    DescriptionRecord,
    LimitsRecord,
    ShopRecord,
    Signed,
    UnitRecord,
    VisitRecord,
)
from icepick.store.entering_visit import VisitEntering, Writer, as_text
from icepick.store.leaving import limits_record, shop_record, unit_record, visit_record

Means = Literal["new", "more", "same", "behind", "parted"]
"""What bringing a record in does: it is ``new`` here; it says ``more`` than what stands here, which is added; it says the
``same``, or is ``behind``, and adds nothing; or both went on (``parted``): a visit or the limits are left as they are here, a
unit goes on as this book describes it and gets the other's descriptions besides."""


class TakenError(ValueError):
    """An entry of the record stands here in another visit; nothing of it can be brought in."""


@dataclass(frozen=True, slots=True)
class UnitComing:
    """A unit that may come in, what that means, and the number it has here, if it is here."""

    record: UnitRecord
    means: Means
    here: int | None


@dataclass(frozen=True, slots=True)
class VisitComing:
    """A visit that may come in, what that means, and the number it has here, if it is here."""

    record: VisitRecord
    means: Means
    here: int | None
    ours: VisitRecord | None = None


class Entering(Writer):
    """Records that come in together: each unit before the visits to it."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        super().__init__(connection)
        self._alike: dict[str, list[int]] = {}
        for row in connection.execute(
            """SELECT units.id, sites.document AS site, unit_revisions.document AS unit FROM units
               JOIN sites ON sites.id = site_id JOIN unit_revisions ON unit_revisions.id = (
                 SELECT max(id) FROM unit_revisions WHERE unit_id = units.id) ORDER BY units.id"""
        ):
            said = _canon([json.loads(row["site"]), json.loads(row["unit"])])
            self._alike.setdefault(said, []).append(row["id"])
        self._met = set[int]()

    def unit(self, record: UnitRecord) -> UnitComing:
        """What bringing a unit in means."""
        here = self._named(record) or self._described_alike(record)
        if here is None:
            return UnitComing(record, "new", None)
        self._met.add(here)
        ours = unit_record(self._connection, here).descriptions
        theirs = record.descriptions
        if theirs[: len(ours)] == ours:
            return UnitComing(record, "same" if len(theirs) == len(ours) else "more", here)
        return UnitComing(record, "parted" if _not_among(theirs, ours) else "behind", here)

    def _named(self, record: UnitRecord) -> int | None:
        names = [record.id, *record.also]
        marks = ", ".join("?" * len(names))
        row = self._connection.execute(
            f"""SELECT id FROM units WHERE uid IN ({marks})
                UNION ALL SELECT unit_id FROM unit_aliases WHERE uid IN ({marks}) ORDER BY 1""",
            (*names, *names),
        ).fetchone()
        return int(row[0]) if row else None

    def _described_alike(self, record: UnitRecord) -> int | None:
        """A unit that stood here before, described as this one is and not met yet: of twins each is one."""
        said = _canon([record.site, record.descriptions[-1].unit])
        return next((one for one in self._alike.get(said, ()) if one not in self._met), None)

    def add_unit(self, coming: UnitComing) -> int:
        """Bring a unit in; gives its number here."""
        record, here = coming.record, coming.here
        if here is None:
            here = self.insert(
                "units", site_id=self._site(record), created_at=record.created_at, uid=record.id
            )
            self._describe(here, *record.descriptions)
        else:
            ours = unit_record(self._connection, here).descriptions
            if coming.means == "more":
                self._describe(here, *record.descriptions[len(ours) :])
            elif coming.means == "parted":
                # Ours once more behind theirs: how this book describes it stays in force.
                self._describe(here, *_not_among(record.descriptions, ours), ours[-1])
        (own,) = self._connection.execute("SELECT uid FROM units WHERE id = ?", (here,)).fetchone()
        for name in {record.id, *record.also} - {own}:
            self._connection.execute("INSERT OR IGNORE INTO unit_aliases VALUES (?, ?)", (name, here))
        return here

    def _site(self, record: UnitRecord) -> int:
        name = str(record.site["name"])
        for row in self._connection.execute("SELECT * FROM sites WHERE name = ? ORDER BY id", (name,)):
            if json.loads(row["document"]) == record.site:
                return int(row["id"])
        return self.insert("sites", name=name, document=as_text(record.site))

    def _describe(self, unit_id: int, *descriptions: DescriptionRecord) -> None:
        for one in descriptions:
            document = as_text(one.unit)
            self.insert("unit_revisions", unit_id=unit_id, document=document, recorded_at=one.recorded_at)
            self.sign(one)

    def visit(self, record: VisitRecord, unit: UnitComing) -> VisitComing:
        """What bringing a visit to a unit in means.

        Raises
        ------
        TakenError
            An entry of it stands here in another visit.
        """
        row = self._connection.execute(
            """SELECT id, id IN (SELECT visit_id FROM removed_visits) AS removed FROM visits WHERE uid = ?""",
            (record.id,),
        ).fetchone()
        if row is None:
            self._refuse_taken(record.entry_keys)
            return VisitComing(record, "new", None)
        known = visit_record(self._connection, row["id"])
        self._refuse_taken([*{*record.entry_keys} - {*known.entry_keys}])
        described_alike = unit.means in ("same", "more")
        ours, theirs = _said(known, described_alike), _said(record, described_alike)
        means: Means
        if theirs == ours:
            means = "same"
        elif _goes_on_from(ours, theirs):
            means = "parted" if row["removed"] else "more"
        else:
            means = "behind" if _goes_on_from(theirs, ours) else "parted"
        return VisitComing(record, means, row["id"], known)

    def _refuse_taken(self, keys: list[str]) -> None:
        asked = json.dumps(keys)
        for table in ("readings", "observations", "recordings", "marks", "photos"):
            taken = self._connection.execute(
                f"SELECT entry_key FROM {table} WHERE entry_key IN (SELECT value FROM json_each(?))", (asked,)
            ).fetchone()
            if taken:
                raise TakenError(f"its entry {taken['entry_key']!r} stands here in another visit.")

    def add_visit(self, coming: VisitComing, unit: UnitRecord, unit_id: int) -> None:
        """Bring a visit in; its unit, which has the number ``unit_id`` here, is in already."""
        if coming.means not in ("new", "more"):
            return
        record, visit_id = coming.record, coming.here
        revision = self._revision(unit, record.description, unit_id)
        if visit_id is None:
            visit_id = self.insert(
                "visits",
                unit_revision_id=revision,
                complaint=record.complaint,
                opened_at=record.opened_at,
                uid=record.id,
            )
            self.sign(record.opened)
        else:
            self._connection.execute(
                "UPDATE visits SET unit_revision_id = ? WHERE id = ?", (revision, visit_id)
            )
        VisitEntering(self._connection, visit_id).add(record, coming.ours)

    def _revision(self, unit: UnitRecord, description: int, unit_id: int) -> int:
        """The row of a description of the record: at the same place where there, else of the same words."""
        said = unit.descriptions[description].unit
        rows = self._connection.execute(
            "SELECT id, document FROM unit_revisions WHERE unit_id = ? ORDER BY id", (unit_id,)
        ).fetchall()
        alike = [row["id"] for row in rows if json.loads(row["document"]) == said]
        at_its_place = [row["id"] for row in rows[description : description + 1] if row["id"] in alike]
        return int((at_its_place or alike)[0])

    def limits(self, record: LimitsRecord) -> Means:
        """What bringing limits in means: a shop that has limits of its own keeps them."""
        return _of_the_book(record.changes, limits_record(self._connection).changes)

    def add_limits(self, record: LimitsRecord) -> None:
        """Bring limits in, where that means ``new``."""
        for one in record.changes:
            self.insert("practice_changes", name=one.name, value=one.value, recorded_at=one.recorded_at)
            self.sign(one)

    def shop(self, record: ShopRecord) -> Means:
        """What bringing in how a shop is called means: one that has a name keeps it."""
        return _of_the_book(record.changes, shop_record(self._connection).changes)

    def add_shop(self, record: ShopRecord) -> None:
        """Bring in how the shop is called, where that means ``new``."""
        for one in record.changes:
            self.insert("shop_changes", document=as_text(one.shop), recorded_at=one.recorded_at)
            self.sign(one)


def _of_the_book(theirs: Sequence[Signed], ours: Sequence[Signed]) -> Means:
    if theirs == ours[: len(theirs)]:
        return "same" if len(theirs) == len(ours) else "behind"
    return "new" if not ours else "parted"


def _canon(plain: Any) -> str:
    return json.dumps(plain, sort_keys=True)


def _not_among(theirs: list[DescriptionRecord], ours: list[DescriptionRecord]) -> list[DescriptionRecord]:
    known = [one.unit for one in ours]
    return [one for one in theirs if one.unit not in known]


_FOLLOWS_FROM_CHANGES = frozenset(Clockwork.model_fields)


def _said(record: VisitRecord, described_alike: bool) -> dict[str, Any]:
    """What a record says, but for what follows from the rest of it."""
    said = record.model_dump(mode="json", exclude={"unit"} if described_alike else {"unit", "description"})
    said["runs"] = [
        {name: value for name, value in run.items() if name not in _FOLLOWS_FROM_CHANGES}
        for run in said["runs"]
    ]
    return said


def _goes_on_from(earlier: Any, later: Any, name: str = "") -> bool:
    """Whether a record says all that an earlier one does, in its order, and more."""
    if isinstance(earlier, dict) and isinstance(later, dict):
        return earlier.keys() == later.keys() and all(
            _goes_on_from(earlier[key], later[key], key) for key in earlier
        )
    if isinstance(earlier, list) and isinstance(later, list):
        pairs = zip(earlier, later, strict=False)
        return len(earlier) <= len(later) and all(_goes_on_from(*pair) for pair in pairs)
    if name == "description":
        return bool(earlier <= later)
    return earlier == later or (earlier is None and name in ("withdrawn", "removed"))

"""Sites and units: the equipment book."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from icepick.core.document.base import Problem
from icepick.core.document.visit import Site, Unit
from icepick.store.closing import closing
from icepick.store.database import now
from icepick.store.entries import StaleError
from icepick.store.reading_back import read_back


@dataclass(frozen=True, slots=True)
class StoredUnit:
    """A unit as last described, and the revision that description is."""

    id: int
    revision: int
    site: Site
    unit: Unit
    set_aside: tuple[Problem, ...] = ()


_SELECT = """
    SELECT units.id, max(unit_revisions.id) AS revision, sites.document AS site,
           unit_revisions.document AS unit
    FROM units JOIN sites ON sites.id = units.site_id
    JOIN unit_revisions ON unit_revisions.unit_id = units.id
    {where} GROUP BY units.id ORDER BY sites.name, units.id
"""


def add_unit(connection: sqlite3.Connection, site: Site, unit: Unit) -> StoredUnit:
    """Enter a unit in the book, at a site that is already there or is entered with it."""
    cursor = connection.execute(
        "INSERT INTO units (site_id, created_at) VALUES (?, ?)", (_site_id(connection, site), now())
    )
    assert cursor.lastrowid is not None
    connection.execute(
        "INSERT INTO unit_revisions (unit_id, document, recorded_at) VALUES (?, ?, ?)",
        (cursor.lastrowid, unit.model_dump_json(), now()),
    )
    found = find_unit(connection, cursor.lastrowid)
    assert found is not None
    return found


def revise_unit(connection: sqlite3.Connection, unit_id: int, unit: Unit, revision: int) -> int | None:
    """Describe a unit anew, as it stood at ``revision``; earlier descriptions are kept.

    The unit's latest visit follows the new description while it is open, and its number is given; closed visits keep the one
    they were made on.

    Raises
    ------
    StaleError
        The unit has been described anew since.
    """
    (latest,) = connection.execute(
        "SELECT max(id) FROM unit_revisions WHERE unit_id = ?", (unit_id,)
    ).fetchone()
    if latest != revision:
        raise StaleError
    cursor = connection.execute(
        "INSERT INTO unit_revisions (unit_id, document, recorded_at) VALUES (?, ?, ?)",
        (unit_id, unit.model_dump_json(), now()),
    )
    at_work = connection.execute(
        """SELECT visits.id FROM standing_visits AS visits
           JOIN unit_revisions ON unit_revisions.id = visits.unit_revision_id
           WHERE unit_revisions.unit_id = ? ORDER BY visits.opened_at DESC, visits.id DESC LIMIT 1""",
        (unit_id,),
    ).fetchone()
    if at_work is not None and closing(connection, at_work["id"]).closed_at is None:
        connection.execute(
            "UPDATE visits SET unit_revision_id = ? WHERE id = ?", (cursor.lastrowid, at_work["id"])
        )
        return int(at_work["id"])
    return None


def _site_id(connection: sqlite3.Connection, site: Site) -> int:
    """The site that says the same, or, where only a name is given, the newest of that name."""
    document = site.model_dump_json()
    bare = site == Site(name=site.name)
    row = connection.execute(
        f"SELECT id FROM sites WHERE {'name' if bare else 'document'} = ? ORDER BY id DESC",
        (site.name if bare else document,),
    ).fetchone()
    if row is not None:
        return int(row["id"])
    cursor = connection.execute("INSERT INTO sites (name, document) VALUES (?, ?)", (site.name, document))
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def find_unit(connection: sqlite3.Connection, unit_id: int) -> StoredUnit | None:
    """A unit by its number, or None."""
    row = connection.execute(_SELECT.format(where="WHERE units.id = ?"), (unit_id,)).fetchone()
    return _unit(row) if row else None


def known_unit(connection: sqlite3.Connection, site: Site, unit: Unit) -> StoredUnit | None:
    """The unit of the book that is described so, word for word, or None."""
    at_site = _SELECT.format(where="WHERE sites.name = ?")
    known = (_unit(row) for row in connection.execute(at_site, (site.name,)))
    return next((one for one in known if (one.site, one.unit) == (site, unit)), None)


def all_units(connection: sqlite3.Connection) -> list[StoredUnit]:
    """Every unit in the book, by site."""
    return [_unit(row) for row in connection.execute(_SELECT.format(where=""))]


@dataclass(frozen=True, slots=True)
class UnitLine:
    """A unit in a line: where it is and what it is called."""

    id: int
    site: str
    label: str
    circuits: tuple[str, ...] = ()
    heads: tuple[str, ...] = ()


def find_units(
    connection: sqlite3.Connection, words: str, first: int | None, most: int
) -> tuple[int, list[UnitLine]]:
    """The units in whose site, label, model, serial or refrigerant all words stand, by site.

    Returns
    -------
    int
        How many there are.
    list of UnitLine
        As many as wanted at ``most``; the ``first`` one before the others, whatever is said of it.
    """
    each = [f"%{word.translate(_LITERAL)}%" for word in words.split()]
    told = " AND ".join(["said LIKE ? ESCAPE '!'"] * len(each)) or "TRUE"
    rows = connection.execute(
        f"""SELECT id, site, label, circuits, heads FROM (
              SELECT units.id, sites.name AS site, coalesce(described.document ->> '$.label', '') AS label,
                     described.document ->> '$.circuits' AS circuits,
                     described.document ->> '$.heads' AS heads,
                     printf('%s %s %s %s %s', sites.name, described.document ->> '$.label', described.document ->> '$.model',
                               described.document ->> '$.serial', described.document ->> '$.refrigerant') AS said
              FROM units JOIN sites ON sites.id = units.site_id
              JOIN unit_revisions AS described ON described.id = (
                SELECT max(id) FROM unit_revisions WHERE unit_id = units.id))
            WHERE {told} OR id = ? ORDER BY id IS NOT ?, site, id""",
        (*each, first, first),
    ).fetchall()
    return len(rows), [_line(row) for row in rows[:most]]


def _line(row: sqlite3.Row) -> UnitLine:
    circuits, heads = (json.loads(row[name] or "[]") for name in ("circuits", "heads"))
    return UnitLine(
        row["id"],
        row["site"],
        row["label"],
        tuple(one["id"] for one in circuits),
        tuple(one["label"] for one in heads),
    )


_LITERAL = str.maketrans({"%": "!%", "_": "!_", "!": "!!"})


def _unit(row: sqlite3.Row) -> StoredUnit:
    site, unit = read_back(Site, row["site"]), read_back(Unit, row["unit"])
    aside = (*site.set_aside, *unit.set_aside)
    return StoredUnit(row["id"], row["revision"], site.document, unit.document, aside)

"""A line for each visit: what lists show and are searched by, without a visit being read or examined.

The facts of a line (unit, day, modes, notes) are kept by triggers (``schema/009_summaries.sql``), in the transaction that
changes them. What an examination says is written behind it, with the revision of the visit and the *basis*, the program and
limits it was examined by: a line whose revision or basis is another is not up to date.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class Said:
    """What an examination says of a visit in a line. It is also found by the complaint in words (``called``) and the whole
    verdict (``said``). ``trouble``: why there is none."""

    outcome: str | None = None
    headline: str | None = None
    top_fault: str | None = None
    called: str = ""
    said: str = ""
    trouble: str | None = None


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which visits are wanted: every word of ``words`` begins a word of the line, ``since`` is a moment (ISO 8601, UTC)."""

    words: str = ""
    outcome: str | None = None
    unit: int | None = None
    mode: str | None = None
    since: str | None = None


@dataclass(frozen=True, slots=True)
class Found:
    """A page of lines as they stand in the file, and how many there are in all.

    ``passages``: where words were searched, by the visit's number, the passages of notes and of what was said in which they
    stand; none where they stand in site and unit alone.
    """

    count: int
    lines: list[sqlite3.Row]
    passages: dict[int, list[str]]


def find(connection: sqlite3.Connection, wanted: Wanted, basis: str, first: int, most: int) -> Found:
    """The lines that were wanted, newest first: ``most`` of them from the ``first`` (from 0).

    Each is a row of ``summaries`` with ``up_to_date``.
    """
    where, values = _where(wanted)
    (count,) = connection.execute(f"SELECT count(*) FROM summaries WHERE {where}", values).fetchone()
    lines = connection.execute(
        f"""SELECT summaries.*, summaries.revision = visits.revision AND basis = :basis AS up_to_date
            FROM summaries JOIN visits ON visits.id = summaries.visit_id WHERE visit_id IN (
              SELECT visit_id FROM summaries WHERE {where}
              ORDER BY opened_at DESC, visit_id DESC LIMIT :most OFFSET :first)
            ORDER BY summaries.opened_at DESC, visit_id DESC""",
        {**values, "basis": basis, "most": most, "first": first},
    )
    found = lines.fetchall()
    return Found(count, found, _passages(connection, values.get("words"), [row["visit_id"] for row in found]))


_MARK = "\1"


def _passages(connection: sqlite3.Connection, search: str | None, visits: list[int]) -> dict[int, list[str]]:
    if search is None:
        return {}
    rows = connection.execute(
        f"""SELECT rowid, snippet(summary_words, 3, ?, '', '…', 12), snippet(summary_words, 4, ?, '', '…', 12)
            FROM summary_words WHERE summary_words MATCH ? AND rowid IN ({", ".join("?" * len(visits))})""",
        (_MARK, _MARK, search, *visits),
    )
    return {visit: [text.replace(_MARK, "") for text in texts if _MARK in text] for visit, *texts in rows}


def _where(wanted: Wanted) -> tuple[str, dict[str, Any]]:
    clauses = ["TRUE"]
    values: dict[str, Any] = {}
    for name, clause in (
        ("outcome", "outcome = :outcome"),
        ("unit", "unit_id = :unit"),
        ("mode", "' ' || modes || ' ' LIKE '% ' || :mode || ' %'"),
        ("since", "opened_at >= :since"),
    ):
        value = getattr(wanted, name)
        if value is not None:
            clauses.append(clause)
            values[name] = value
    if words := _as_search(wanted.words):
        clauses.append("visit_id IN (SELECT rowid FROM summary_words WHERE summary_words MATCH :words)")
        values["words"] = words
    return " AND ".join(clauses), values


def _as_search(words: str) -> str:
    """Words as FTS5 is asked for them: each begins one of the line's; what has neither letter nor digit says nothing."""
    each = (word.replace('"', "") for word in words.replace("\0", " ").split())
    return " ".join(f'"{word}"*' for word in each if any(character.isalnum() for character in word))


def out_of_date(connection: sqlite3.Connection, basis: str) -> list[int]:
    """The numbers of the visits to do next: those to one unit whose lines are not up to date, oldest first. The unit is that
    of the newest such visit; empty where there is none."""
    newest = connection.execute(
        f"SELECT summaries.unit_id {_OUT_OF_DATE} ORDER BY summaries.opened_at DESC, visit_id DESC LIMIT 1",
        (basis,),
    ).fetchone()
    if newest is None:
        return []
    rows = connection.execute(
        f"SELECT visit_id {_OUT_OF_DATE} AND unit_id = ? ORDER BY summaries.opened_at, visit_id",
        (basis, newest["unit_id"]),
    )
    return [row["visit_id"] for row in rows]


def count_out_of_date(connection: sqlite3.Connection, basis: str) -> int:
    """How many lines are not up to date."""
    (count,) = connection.execute(f"SELECT count(*) {_OUT_OF_DATE}", (basis,)).fetchone()
    return int(count)


_OUT_OF_DATE = """FROM summaries JOIN visits ON visits.id = summaries.visit_id
                  WHERE (summaries.revision != visits.revision OR basis != ?)"""


def revision_of(connection: sqlite3.Connection, visit_id: int) -> int | None:
    """How often the records were written to, up to the last time something of the visit was; None where there is none."""
    row = connection.execute("SELECT revision FROM visits WHERE id = ?", (visit_id,)).fetchone()
    return row["revision"] if row else None


def is_written_to(connection: sqlite3.Connection, visit_id: int) -> bool:
    """Whether something was written of a visit since its line was."""
    row = connection.execute(
        """SELECT summaries.revision != visits.revision FROM summaries JOIN visits ON visits.id = visit_id
           WHERE visit_id = ?""",
        (visit_id,),
    ).fetchone()
    return bool(row and row[0])


def revision_beside(connection: sqlite3.Connection, visit_id: int) -> int:
    """As :func:`revision_of`, for a visit and those to its unit before it, beside which it is examined; -1 where there is
    none."""
    (revision,) = connection.execute(
        """SELECT coalesce(max(others.revision), -1) FROM visits
           JOIN unit_revisions AS its ON its.id = visits.unit_revision_id
           JOIN unit_revisions AS the ON the.unit_id = its.unit_id
           JOIN visits AS others ON others.unit_revision_id = the.id
             AND (others.opened_at, others.id) <= (visits.opened_at, visits.id)
           WHERE visits.id = ?""",
        (visit_id,),
    ).fetchone()
    return int(revision)


def written_since(connection: sqlite3.Connection, revision: int) -> list[tuple[int, int]]:
    """The numbers and revisions of the visits that were written to after a revision, in that order."""
    rows = connection.execute(
        "SELECT id, revision FROM standing_visits WHERE revision > ? ORDER BY revision", (revision,)
    )
    return [(row["id"], row["revision"]) for row in rows]


def last_revision(connection: sqlite3.Connection) -> int:
    """The revision of the visit written to last; 0 where there is none."""
    (revision,) = connection.execute("SELECT coalesce(max(revision), 0) FROM visits").fetchone()
    return int(revision)


def write(
    connection: sqlite3.Connection, visit_id: int, revision: int, as_of: int, basis: str, said: Said
) -> list[int]:
    """Write what the examination of a revision says, in a transaction; ``as_of`` is the last revision of all when it was
    begun.

    Returns
    -------
    list of int
        Later visits to the same unit, which were examined beside what this one was: they are not up to date any more.
    """
    row = connection.execute("SELECT * FROM summaries WHERE visit_id = ?", (visit_id,)).fetchone()
    if row is None or row["revision"] > revision:
        return []
    same = row["revision"] == revision
    former = (
        ("outcome", "headline")
        if same and row["basis"] not in (basis, "")
        else ("former_outcome", "former_headline")
        if same and row["basis"] == basis
        else ("NULL", "NULL")
    )
    connection.execute(
        f"""UPDATE summaries SET revision = :revision, as_of = :as_of, basis = :basis,
              former_outcome = {former[0]}, former_headline = {former[1]},
              outcome = :outcome, headline = :headline, top_fault = :top_fault, called = :called, said = :said,
              trouble = :trouble
            WHERE visit_id = :visit""",
        {"visit": visit_id, "revision": revision, "as_of": as_of, "basis": basis, **asdict(said)},
    )
    later = connection.execute(
        """UPDATE summaries SET basis = ''
           WHERE unit_id = ? AND (opened_at, visit_id) > (?, ?) AND as_of < ? AND basis != '' RETURNING visit_id""",
        (row["unit_id"], row["opened_at"], visit_id, revision),
    )
    return [one["visit_id"] for one in later.fetchall()]


def lines_of(connection: sqlite3.Connection, visit_ids: Sequence[int]) -> dict[int, dict[str, str]]:
    """When each of these visits was opened, and where."""
    rows = connection.execute(
        """SELECT visit_id, opened_at, site, unit FROM summaries
           WHERE visit_id IN (SELECT value FROM json_each(?))""",
        (json.dumps(list(visit_ids)),),
    )
    return {row["visit_id"]: {name: row[name] for name in ("opened_at", "site", "unit")} for row in rows}

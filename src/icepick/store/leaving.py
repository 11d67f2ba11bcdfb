"""Records as they leave the book: everything written of a visit, a unit or the limits, by whom and when."""

from __future__ import annotations

import json
import sqlite3
from collections import defaultdict
from typing import Any

from icepick.core.document.record import LimitsRecord, PhotoAsWritten, ShopRecord, UnitRecord, VisitRecord
from icepick.store.recordings import whole_document

_Rows = dict[int, list[dict[str, Any]]]


def visit_ids(connection: sqlite3.Connection, unit_id: int | None = None) -> list[int]:
    """The numbers of all visits, or of those to a unit, oldest first."""
    rows = connection.execute(
        """SELECT visits.id FROM standing_visits AS visits JOIN unit_revisions ON unit_revisions.id = unit_revision_id
           WHERE :unit IS NULL OR unit_id = :unit ORDER BY opened_at, visits.id""",
        {"unit": unit_id},
    )
    return [row["id"] for row in rows]


def unit_ids(connection: sqlite3.Connection) -> list[int]:
    """The numbers of all units, in the order they were entered."""
    return [row["id"] for row in connection.execute("SELECT id FROM units ORDER BY id")]


def unit_of(connection: sqlite3.Connection, visit_id: int) -> int:
    """The number of a visit's unit."""
    (unit_id,) = connection.execute(
        "SELECT unit_id FROM visits JOIN unit_revisions ON unit_revisions.id = unit_revision_id WHERE visits.id = ?",
        (visit_id,),
    ).fetchone()
    return int(unit_id)


def unit_record(connection: sqlite3.Connection, unit_id: int) -> UnitRecord:
    """A unit as it leaves the book."""
    unit = connection.execute(
        "SELECT units.*, document AS site FROM units JOIN sites ON sites.id = site_id WHERE units.id = ?",
        (unit_id,),
    ).fetchone()
    also = connection.execute("SELECT uid FROM unit_aliases WHERE unit_id = ? ORDER BY uid", (unit_id,))
    descriptions = connection.execute(
        """SELECT document, recorded_at, (SELECT name FROM signed
                    WHERE visit_id IS NULL AND what = 'unit' AND row = unit_revisions.id) AS name
           FROM unit_revisions WHERE unit_id = ? ORDER BY id""",
        (unit_id,),
    )
    return UnitRecord.model_validate(
        {
            "id": unit["uid"],
            "also": [row["uid"] for row in also],
            "site": json.loads(unit["site"]),
            "created_at": unit["created_at"],
            "descriptions": [
                {"unit": json.loads(row["document"]), "recorded_at": row["recorded_at"], "by": row["name"]}
                for row in descriptions
            ],
        }
    )


def limits_record(connection: sqlite3.Connection) -> LimitsRecord:
    """Every change of a limit."""
    rows = connection.execute(
        """SELECT name, value, recorded_at,
                  (SELECT name FROM signed WHERE visit_id IS NULL AND what = 'limit' AND row = practice_changes.id) AS by
           FROM practice_changes ORDER BY id"""
    )
    return LimitsRecord.model_validate({"changes": [dict(row) for row in rows]})


def shop_record(connection: sqlite3.Connection) -> ShopRecord:
    """Everything that was said of the shop."""
    rows = connection.execute(
        """SELECT document, recorded_at,
                  (SELECT name FROM signed WHERE visit_id IS NULL AND what = 'shop' AND row = shop_changes.id) AS name
           FROM shop_changes ORDER BY id"""
    )
    said = [
        {"shop": json.loads(row["document"]), "recorded_at": row["recorded_at"], "by": row["name"]}
        for row in rows
    ]
    return ShopRecord.model_validate({"changes": said})


def visit_record(connection: sqlite3.Connection, visit_id: int) -> VisitRecord:
    """A visit as it leaves the book."""
    return _Leaving(connection, visit_id).record()


class _Leaving:
    """One visit's rows, put together."""

    def __init__(self, connection: sqlite3.Connection, visit_id: int) -> None:
        self._connection, self._visit = connection, visit_id
        self._signed = dict[tuple[str, int], list[sqlite3.Row]]()
        for row in connection.execute("SELECT * FROM signed WHERE visit_id = ? ORDER BY id", (visit_id,)):
            self._signed.setdefault((row["what"], row["row"]), []).append(row)

    def record(self) -> VisitRecord:
        visit = self._connection.execute(
            """SELECT visits.*, units.uid AS unit, (
                 SELECT count(*) FROM unit_revisions AS older WHERE older.unit_id = units.id AND older.id < unit_revision_id
               ) AS description
               FROM visits JOIN unit_revisions ON unit_revisions.id = unit_revision_id JOIN units ON units.id = unit_id
               WHERE visits.id = ?""",
            (self._visit,),
        ).fetchone()
        self._uid = visit["uid"]
        return VisitRecord.model_validate(
            {
                **{name: visit[name] for name in ("unit", "description", "complaint", "opened_at")},
                "id": visit["uid"],
                "opened": self._by("visit", visit["id"]),
                "runs": self._runs(),
                "recordings": self._recordings(),
                "closings": self._closings(),
                "outcomes": self._outcomes(),
                "photos": self._photos(),
            }
        )

    def _runs(self) -> list[dict[str, Any]]:
        of_runs = "JOIN runs ON runs.id = run_id WHERE runs.visit_id = ?"
        notes, readings, observations = _Rows(), _Rows(), _Rows()
        for row in self._all(f"SELECT note_revisions.* FROM note_revisions {of_runs}"):
            text = {"text": row["text"], **self._signature(row, "note")}
            notes.setdefault(row["run_id"], []).append(text)
        for row in self._all(f"SELECT readings.* FROM readings {of_runs}"):
            said = {name: row[name] for name in ("station", "quantity", "value", "unit", "method", "at")}
            readings.setdefault(row["run_id"], []).append({"reading": said, **self._entry(row, "reading")})
        for row in self._all(f"SELECT observations.* FROM observations {of_runs}"):
            seen = {"code": row["code"], "value": json.loads(row["value"] or "null")}
            observations.setdefault(row["run_id"], []).append(
                {"observation": seen, **self._entry(row, "observation")}
            )
        removed = {
            row["run_id"]: row for row in self._all(f"SELECT removed_runs.* FROM removed_runs {of_runs}", "")
        }
        return [
            {
                "id": run["key"],
                "mode": run["mode"],
                "after_repair": bool(run["after_repair"]),
                "circuit": run["circuit"],
                "heads_calling": json.loads(run["heads_calling"] or "null"),
                **{name: run[name] for name in _CLOCKWORK},
                "added": self._by("run", run["id"]),
                "changes": [
                    {**json.loads(row["said"]), "recorded_at": row["at"], "by": row["name"]}
                    for row in self._signed.get(("run_changed", run["id"]), ())
                ],
                "removed": self._signature(removed[run["id"]], "run_removed", run["id"])
                if run["id"] in removed
                else None,
                "notes": notes.get(run["id"], []),
                "readings": readings.get(run["id"], []),
                "observations": observations.get(run["id"], []),
            }
            for run in self._all("SELECT * FROM runs WHERE visit_id = ?")
        ]

    def _recordings(self) -> list[dict[str, Any]]:
        marks: _Rows = defaultdict(list)
        for row in self._all(
            "SELECT marks.* FROM marks JOIN recordings ON recordings.id = recording_id WHERE visit_id = ?"
        ):
            marks[row["recording_id"]].append(
                {"mark": json.loads(row["document"]), **self._entry(row, "mark")}
            )
        return [
            {
                "id": row["key"],
                "recording": whole_document(self._connection, row["id"], row["document"]),
                **self._entry(row, "recording"),
                "marks": marks[row["id"]],
            }
            # One that still grows leaves when it has ended.
            for row in self._all(
                "SELECT * FROM recordings WHERE visit_id = ? AND id NOT IN (SELECT id FROM growing_recordings)"
            )
        ]

    def _closings(self) -> list[dict[str, Any]]:
        return [
            {
                "closed": bool(row["closed"]),
                **self._signature(row, "closed" if row["closed"] else "reopened"),
            }
            for row in self._all("SELECT * FROM closings WHERE visit_id = ?")
        ]

    def _outcomes(self) -> list[dict[str, Any]]:
        return [
            {
                "outcome": json.loads(row["document"]),
                "said": json.loads(row["said"]),
                **self._signature(row, "outcome"),
            }
            for row in self._all("SELECT * FROM outcomes WHERE visit_id = ?")
        ]

    def _photos(self) -> list[dict[str, Any]]:
        return [
            {"photo": {name: row[name] for name in PhotoAsWritten.model_fields}, **self._entry(row, "photo")}
            for row in self._all("SELECT * FROM photos WHERE visit_id = ?")
        ]

    def _all(self, query: str, order: str = "ORDER BY 1") -> list[sqlite3.Row]:
        """The rows of the visit, in the order they were written."""
        return self._connection.execute(f"{query} {order}", (self._visit,)).fetchall()

    def _by(self, what: str, row: int) -> dict[str, Any] | None:
        found = self._signed.get((what, row))
        if not found or found[0]["at"] is None:
            return None
        return {"recorded_at": found[0]["at"], "by": found[0]["name"]}

    def _signature(self, row: sqlite3.Row, what: str, number: int | None = None) -> dict[str, Any]:
        found = self._signed.get((what, row["id"] if number is None else number))
        return {"recorded_at": row["recorded_at"], "by": found[0]["name"] if found else None}

    def _entry(self, row: sqlite3.Row, what: str) -> dict[str, Any]:
        taken_back = self._connection.execute(
            "SELECT * FROM withdrawals WHERE entry_key = ?", (row["entry_key"],)
        ).fetchone()
        return {
            "entry_key": self._key(row["entry_key"]),
            **self._signature(row, what),
            "withdrawn": self._signature(taken_back, f"{what}_taken_back", row["id"]) if taken_back else None,
        }

    def _key(self, key: str) -> str:
        """Keys that this file made for entries older than keys are told from another file's by the visit."""
        return f"{self._uid}-{key}" if key.startswith("observation-") else key


_CLOCKWORK = ("minutes_running", "started_at", "compressor_stage", "compressor_speed")

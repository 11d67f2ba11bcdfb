"""Who wrote what, and when. Triggers append a line for each record (schema/010); it is never changed or removed."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class Line:
    """``by`` is None where nobody had signed in; ``about`` holds what the record says, by the names of its columns.
    ``brought_in``: it was written elsewhere, by ``written_by`` at ``written_at``, where that is known."""

    id: int
    at: str
    by: str | None
    what: str
    visit_id: int | None
    site: str | None
    unit: str | None
    about: dict[str, Any]
    brought_in: bool
    written_by: str | None
    written_at: str | None


_ABOUT = """
  CASE audit.what
    WHEN 'visit' THEN (SELECT json_object('complaint', complaint) FROM visits WHERE id = audit.row)
    WHEN 'run' THEN {run} WHEN 'run_changed' THEN {run} WHEN 'run_removed' THEN {run}
    WHEN 'reading' THEN {reading} WHEN 'reading_taken_back' THEN {reading}
    WHEN 'observation' THEN {observation} WHEN 'observation_taken_back' THEN {observation}
    WHEN 'note' THEN (SELECT json_object('run', key, 'text', text) FROM note_revisions
                      JOIN runs ON runs.id = run_id WHERE note_revisions.id = audit.row)
    WHEN 'recording' THEN {recording} WHEN 'recording_taken_back' THEN {recording}
    WHEN 'mark' THEN {mark} WHEN 'mark_taken_back' THEN {mark}
    WHEN 'photo' THEN {photo} WHEN 'photo_taken_back' THEN {photo}
    WHEN 'unit' THEN (SELECT json_object('label', unit_revisions.document ->> '$.label', 'site', sites.name, 'anew', EXISTS (
                        SELECT 1 FROM unit_revisions AS older
                        WHERE older.unit_id = unit_revisions.unit_id AND older.id < unit_revisions.id))
                      FROM unit_revisions JOIN units ON units.id = unit_id JOIN sites ON sites.id = site_id
                      WHERE unit_revisions.id = audit.row)
    WHEN 'outcome' THEN (SELECT document FROM outcomes WHERE id = audit.row)
    WHEN 'shop' THEN (SELECT document FROM shop_changes WHERE id = audit.row)
    WHEN 'limit' THEN (SELECT json_object('name', name, 'value', value) FROM practice_changes WHERE id = audit.row)
    ELSE (SELECT json_object('account', name) FROM accounts WHERE id = audit.row)
  END""".format(
    run="(SELECT json_object('run', key, 'mode', mode, 'circuit', circuit) FROM runs WHERE id = audit.row)",
    reading="""(SELECT json_object('run', key, 'station', station, 'quantity', quantity, 'value', value, 'unit', unit)
                FROM readings JOIN runs ON runs.id = run_id WHERE readings.id = audit.row)""",
    observation="""(SELECT json_object('run', key, 'code', code, 'value', json(value))
                    FROM observations JOIN runs ON runs.id = run_id WHERE observations.id = audit.row)""",
    photo="(SELECT json_object('about', about, 'caption', caption) FROM photos WHERE id = audit.row)",
    recording="(SELECT json_object('recording', key) FROM recordings WHERE id = audit.row)",
    mark="""(SELECT json_object('recording', key, 'code', marks.document ->> '$.code')
             FROM marks JOIN recordings ON recordings.id = recording_id WHERE marks.id = audit.row)""",
)


def lines(
    connection: sqlite3.Connection, *, visit: int | None, account: int | None, before: int | None, most: int
) -> list[Line]:
    """The last lines, newest first: of a visit, by an account, before a line, where these are given."""
    wanted = [
        (condition, value)
        for condition, value in (
            ("audit.visit_id = ?", visit),
            ("audit.account_id = ?", account),
            ("audit.id < ?", before),
        )
        if value is not None
    ]
    where = " AND ".join(condition for condition, _ in wanted) or "TRUE"
    rows = connection.execute(
        f"""SELECT audit.id, audit.at, accounts.name, audit.what, audit.visit_id, audit.said,
                   visit_facts.site, visit_facts.unit, {_ABOUT} AS about,
                   hands.audit_id IS NOT NULL AS brought_in, hands.name AS written_by, hands.at AS written_at
            FROM audit LEFT JOIN accounts ON accounts.id = audit.account_id LEFT JOIN hands ON audit_id = audit.id
            LEFT JOIN visit_facts ON visit_facts.visit_id = audit.visit_id
            WHERE {where} ORDER BY audit.id DESC LIMIT ?""",
        (*(value for _, value in wanted), most),
    )
    return [
        Line(
            row["id"],
            row["at"],
            row["name"],
            row["what"],
            row["visit_id"],
            row["site"],
            row["unit"],
            {"said": row["said"], **json.loads(row["about"] or "{}")},
            bool(row["brought_in"]),
            row["written_by"],
            row["written_at"],
        )
        for row in rows
    ]


def written_by(connection: sqlite3.Connection, visit_id: int) -> dict[str, str]:
    """Who entered each reading, observation, recording and mark of a visit, by its key; those of nobody are left out."""
    rows = connection.execute(
        """SELECT coalesce(readings.entry_key, observations.entry_key, recordings.entry_key, marks.entry_key), name
           FROM signed
           LEFT JOIN readings ON what = 'reading' AND readings.id = row
           LEFT JOIN observations ON what = 'observation' AND observations.id = row
           LEFT JOIN recordings ON what = 'recording' AND recordings.id = row
           LEFT JOIN marks ON what = 'mark' AND marks.id = row
           WHERE signed.visit_id = ? AND what IN ('reading', 'observation', 'recording', 'mark') AND name IS NOT NULL""",
        (visit_id,),
    )
    return dict(tuple(row) for row in rows)


def note(connection: sqlite3.Connection, what: str, account_id: int | None, said: str | None = None) -> None:
    """Put into the audit what was done to an account, or with it."""
    connection.execute("INSERT INTO audit (what, row, said) VALUES (?, ?, ?)", (what, account_id, said))

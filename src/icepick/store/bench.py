"""The practice bench as it is kept: cases set by hand, attempts, their steps, and what was said. Documents go in and out as
JSON; what is in them is the bench's own."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from icepick.store.database import acting, now
from icepick.store.receipts import KeyUsedError


@dataclass(frozen=True, slots=True)
class Attempt:
    """Somebody at a case; ``case`` is the case as it was then, ``said``, ``plan`` and ``score`` are None until it is said."""

    id: int
    code: str
    case: str
    account_id: int | None
    started_at: str
    said: str | None
    plan: str | None
    score: str | None
    said_at: str | None


def keep_case(connection: sqlite3.Connection, code: str, case: str) -> None:
    """Keep a case that was set by hand, under a code nobody has yet."""
    connection.execute(
        "INSERT INTO bench_cases (code, document, account_id, made_at) VALUES (?, ?, ?, ?)",
        (code, case, acting.get(), now()),
    )


def case_of(connection: sqlite3.Connection, code: str) -> str | None:
    """The case set by hand under a code, or None."""
    row = connection.execute("SELECT document FROM bench_cases WHERE code = ?", (code,)).fetchone()
    return str(row["document"]) if row else None


def start(connection: sqlite3.Connection, code: str, case: str) -> int:
    """Begin an attempt, in the name of who is signed in."""
    cursor = connection.execute(
        "INSERT INTO bench_attempts (code, document, account_id, started_at) VALUES (?, ?, ?, ?)",
        (code, case, acting.get(), now()),
    )
    return int(cursor.lastrowid or 0)


_ATTEMPTS = """
  SELECT bench_attempts.id, code, bench_attempts.document AS "case", account_id, started_at, bench_sayings.document AS said,
         plan, score, bench_sayings.recorded_at AS said_at
  FROM bench_attempts LEFT JOIN bench_sayings ON attempt_id = bench_attempts.id"""


def attempt(connection: sqlite3.Connection, attempt_id: int) -> Attempt | None:
    """An attempt of who is signed in; None where there is none, or it is somebody else's."""
    row = connection.execute(
        f"{_ATTEMPTS} WHERE bench_attempts.id = ? AND account_id IS ?", (attempt_id, acting.get())
    ).fetchone()
    return Attempt(*row) if row else None


def attempts(connection: sqlite3.Connection) -> list[Attempt]:
    """Every attempt of who is signed in, the first one first."""
    rows = connection.execute(
        f"{_ATTEMPTS} WHERE account_id IS ? ORDER BY bench_attempts.id", (acting.get(),)
    )
    return [Attempt(*row) for row in rows]


def attempts_at(connection: sqlite3.Connection, code: str) -> list[tuple[str | None, Attempt]]:
    """Everybody's attempts at a case that was set by who is signed in, with their names."""
    rows = connection.execute(
        f"""{_ATTEMPTS.replace("SELECT", "SELECT accounts.name, ", 1)}
            LEFT JOIN accounts ON accounts.id = account_id
            WHERE code = ? AND code IN (SELECT code FROM bench_cases WHERE bench_cases.account_id IS ?)
            ORDER BY bench_attempts.id""",
        (code, acting.get()),
    )
    return [(row[0], Attempt(*tuple(row)[1:])) for row in rows]


def cases_set(connection: sqlite3.Connection) -> list[tuple[str, str]]:
    """Codes and documents of the cases that who is signed in has set, the newest first."""
    rows = connection.execute(
        "SELECT code, document FROM bench_cases WHERE account_id IS ? ORDER BY made_at DESC", (acting.get(),)
    )
    return [(row["code"], row["document"]) for row in rows]


def steps(connection: sqlite3.Connection, attempt_id: int) -> list[str]:
    """What was done in an attempt, in order."""
    rows = connection.execute(
        "SELECT document FROM bench_steps WHERE attempt_id = ? ORDER BY id", (attempt_id,)
    )
    return [row["document"] for row in rows]


def step_under(connection: sqlite3.Connection, attempt_id: int, entry_key: str, asked: str) -> bool:
    """Whether a step was kept under a key already.

    Raises
    ------
    KeyUsedError
        Another one was.
    """
    row = connection.execute(
        "SELECT attempt_id, asked FROM bench_steps WHERE entry_key = ?", (entry_key,)
    ).fetchone()
    if row is not None and (row["attempt_id"], row["asked"]) != (attempt_id, asked):
        raise KeyUsedError
    return row is not None


def add_step(connection: sqlite3.Connection, attempt_id: int, entry_key: str, asked: str, done: str) -> None:
    """Keep a step and what came of it."""
    connection.execute(
        "INSERT INTO bench_steps (attempt_id, entry_key, asked, document, recorded_at) VALUES (?, ?, ?, ?, ?)",
        (attempt_id, entry_key, asked, done, now()),
    )


def say(connection: sqlite3.Connection, attempt_id: int, said: str, plan: str, score: str) -> None:
    """Keep what was said; it can be said once."""
    connection.execute(
        "INSERT INTO bench_sayings (attempt_id, document, plan, score, recorded_at) VALUES (?, ?, ?, ?, ?)",
        (attempt_id, said, plan, score, now()),
    )

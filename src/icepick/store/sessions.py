"""Who has signed in."""

from __future__ import annotations

import sqlite3
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256
from secrets import token_urlsafe
from threading import Lock

from icepick.store.accounts import LONGEST_NAME, Account, alike, nobodys_digest, tidy
from icepick.store.audit import note
from icepick.store.database import acting, now, writing
from icepick.store.guessing import failed, forgive, locked_for, moment

ENDS_IDLE, ENDS = timedelta(days=7), timedelta(days=30)
"""A session ends when nobody used it for so long, and in any case after that."""
_SEEN_EACH = timedelta(minutes=10)


class WrongError(Exception):
    """There is no such account, or the passphrase is another."""


class LockedError(Exception):
    """Too many wrong passphrases; ``seconds`` until the door opens again."""

    def __init__(self, seconds: int) -> None:
        super().__init__(seconds)
        self.seconds = seconds


@dataclass(frozen=True, slots=True)
class Session:
    """Somebody who signed in; ``csrf`` has to come with whatever is changed, ``token`` is the digest of what the browser
    holds."""

    account: Account
    csrf: str
    token: str


_one_at_a_time = Lock()
"""A digest takes 64 MiB, and who guesses at once in many threads is counted as who guesses in one."""


def sign_in(connection: sqlite3.Connection, name: str, passphrase: str, address: str) -> str:
    """Let somebody in; gives what the browser is to hold. Not to be called in a transaction.

    Raises
    ------
    WrongError
        There is no such account, or the passphrase is another.
    LockedError
        Too many were wrong of late; the passphrase was not looked at.
    """
    with _one_at_a_time:
        account_id = _check(connection, name, passphrase, address)
        with writing(connection):
            return begin(connection, account_id)


def confirm(connection: sqlite3.Connection, account: Account, passphrase: str, address: str) -> None:
    """Make sure that who has signed in still knows the passphrase.

    Raises
    ------
    WrongError, LockedError
        As for :func:`sign_in`.
    """
    with _one_at_a_time:
        _check(connection, account.name, passphrase, address)


def _check(connection: sqlite3.Connection, name: str, passphrase: str, address: str) -> int:
    from argon2 import PasswordHasher
    from argon2.exceptions import InvalidHashError, VerificationError

    name = tidy(name)[:LONGEST_NAME]
    if (seconds := locked_for(connection, name, address)) > 0:
        raise LockedError(seconds)
    row = connection.execute(
        "SELECT id, passphrase FROM accounts WHERE name = ? AND ended_at IS NULL", (name,)
    ).fetchone()
    right = False
    with suppress(VerificationError, InvalidHashError):
        kept = row["passphrase"] if row else nobodys_digest()
        right = PasswordHasher().verify(kept, alike(passphrase))
    if row is None or not right:
        with writing(connection):
            failed(connection, name, address)
            if locked_for(connection, name, address) > 0:
                note(connection, "locked_out", row["id"] if row else None)
        raise WrongError
    return int(row["id"])


def begin(connection: sqlite3.Connection, account_id: int) -> str:
    """Begin a session, in a transaction; gives what the browser is to hold. Old sessions are let go."""
    token = token_urlsafe(32)
    connection.execute(
        "DELETE FROM sessions WHERE began_at < ? OR seen_at < ?", (_ago(ENDS), _ago(ENDS_IDLE))
    )
    connection.execute(
        "INSERT INTO sessions (token, account_id, csrf, began_at, seen_at) VALUES (?, ?, ?, ?, ?)",
        (_digest(token), account_id, token_urlsafe(24), now(), now()),
    )
    (name,) = connection.execute("SELECT name FROM accounts WHERE id = ?", (account_id,)).fetchone()
    forgive(connection, name)
    known_as = acting.set(account_id)
    try:
        note(connection, "signed_in", account_id)
    finally:
        acting.reset(known_as)
    return token


def session(connection: sqlite3.Connection, token: str) -> Session | None:
    """Who holds this, or None where that is over."""
    held = _digest(token)
    row = connection.execute(
        """SELECT accounts.id, name, role, made_at, ended_at, csrf, began_at, seen_at FROM sessions
           JOIN accounts ON accounts.id = account_id WHERE token = ? AND ended_at IS NULL""",
        (held,),
    ).fetchone()
    if row is None:
        return None
    began, seen = (datetime.fromisoformat(row[name]) for name in ("began_at", "seen_at"))
    at = moment()
    if at - began > ENDS or at - seen > ENDS_IDLE:
        return None
    if at - seen > _SEEN_EACH:
        # Who only reads is let in also while nothing can be written.
        with suppress(sqlite3.Error), writing(connection):
            connection.execute("UPDATE sessions SET seen_at = ? WHERE token = ?", (now(), held))
    return Session(Account(*row[:5]), row["csrf"], held)


def end(connection: sqlite3.Connection, session: Session) -> None:
    """Sign out."""
    note(connection, "signed_out", session.account.id)
    connection.execute("DELETE FROM sessions WHERE token = ?", (session.token,))


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()


def _ago(time: timedelta) -> str:
    return (moment() - time).isoformat(timespec="milliseconds")

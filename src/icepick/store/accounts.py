"""Who may sign in: accounts with a role and a passphrase. What an account did stays under its name when it has ended."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from functools import cache
from typing import Literal, get_args
from unicodedata import normalize

from icepick.store.audit import note
from icepick.store.database import now
from icepick.store.guessing import forgive

Role = Literal["lead", "technician", "apprentice", "office"]
ROLES: tuple[Role, ...] = get_args(Role)

SHORTEST, LONGEST = 12, 128
"""Characters of a passphrase."""
LONGEST_NAME = 80


class AccountError(ValueError):
    """An account can't be made or changed so; the message says why."""


@dataclass(frozen=True, slots=True)
class Account:
    """Who works here; ``ended_at`` is when that was over."""

    id: int
    name: str
    role: Role
    made_at: str
    ended_at: str | None


_COLUMNS = "id, name, role, made_at, ended_at"


def any_account(connection: sqlite3.Connection) -> bool:
    """Whether somebody can sign in."""
    return connection.execute("SELECT 1 FROM accounts WHERE ended_at IS NULL").fetchone() is not None


def accounts(connection: sqlite3.Connection) -> list[Account]:
    """Everybody who works or worked here, by name."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM accounts ORDER BY ended_at IS NOT NULL, name")
    return [Account(*row) for row in rows]


def find_account(connection: sqlite3.Connection, account_id: int) -> Account | None:
    """An account by its number, or None."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM accounts WHERE id = ?", (account_id,)).fetchone()
    return Account(*row) if row else None


def account_named(connection: sqlite3.Connection, name: str) -> Account | None:
    """An account by its name, or None."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM accounts WHERE name = ?", (tidy(name),)).fetchone()
    return Account(*row) if row else None


def tidy(name: str) -> str:
    """A name as it is kept: without spaces at its ends or twice within."""
    return " ".join(name.split())


def digest(passphrase: str, name: str) -> str:
    """What is kept of a passphrase (Argon2id, RFC 9106). Takes a fraction of a second: to be done before a transaction.

    Raises
    ------
    AccountError
        It is too easy to guess.
    """
    _refuse_easy(passphrase, tidy(name))
    from argon2 import PasswordHasher

    return PasswordHasher().hash(alike(passphrase))


def alike(passphrase: str) -> str:
    """A passphrase as every keyboard would write it: an *é* in one piece or in two is one *é* (NFKC)."""
    return normalize("NFKC", passphrase)


def _refuse_easy(passphrase: str, name: str) -> None:
    from zxcvbn import zxcvbn

    if not SHORTEST <= len(passphrase) <= LONGEST:
        raise AccountError(
            f"A passphrase has {SHORTEST} to {LONGEST} characters; four words in a row are easy to keep."
        )
    known = [name, *name.split(), "icepick", "heat pump", "refrigerant"]
    # Its cost grows fast with the length; what is hard to guess by then stays so.
    tried = (passphrase[:60], "".join(passphrase.split())[:60])
    if min(zxcvbn(one, user_inputs=known)["score"] for one in tried) < _HARD_ENOUGH:
        raise AccountError(
            "That passphrase is one of those that are guessed first; take four words in a row that nobody would "
            "put together."
        )


_HARD_ENOUGH = 3
"""Of zxcvbn's five steps, 0 to 4: *safely unguessable* for who holds a stolen file."""


def make_account(connection: sqlite3.Connection, name: str, role: Role, passphrase: str) -> Account:
    """Make an account; ``passphrase`` is its :func:`digest`.

    Raises
    ------
    AccountError
        The name is taken, empty or too long, or it would be the first and no lead's.
    """
    name = tidy(name)
    if not (0 < len(name) <= LONGEST_NAME and name.isprintable()):
        raise AccountError(
            f"An account needs a name of at most {LONGEST_NAME} characters that can be printed."
        )
    if role != "lead" and not any_account(connection):
        raise AccountError("The first account is a lead's: somebody has to make the others.")
    if account_named(connection, name):
        raise AccountError(f"There is an account {name!r} already, or was; take another name.")
    cursor = connection.execute(
        "INSERT INTO accounts (name, role, passphrase, made_at) VALUES (?, ?, ?, ?)",
        (name, role, passphrase, now()),
    )
    assert cursor.lastrowid is not None
    note(connection, "account_made", cursor.lastrowid, role)
    made = find_account(connection, cursor.lastrowid)
    assert made is not None
    return made


def change_passphrase(
    connection: sqlite3.Connection, account: Account, passphrase: str, keep: str = ""
) -> None:
    """Give an account another passphrase, by its :func:`digest`; its sessions end, but for the one of the token digest to
    ``keep``, and its door is open again."""
    connection.execute("UPDATE accounts SET passphrase = ? WHERE id = ?", (passphrase, account.id))
    connection.execute("DELETE FROM sessions WHERE account_id = ? AND token != ?", (account.id, keep))
    forgive(connection, account.name)
    note(connection, "passphrase_changed", account.id)


def change_role(connection: sqlite3.Connection, account: Account, role: Role) -> None:
    """Give an account another role, in force with its next request.

    Raises
    ------
    AccountError
        Nobody would be left who may change roles.
    """
    if role == account.role:
        return
    if role != "lead":
        _refuse_without_lead(connection, account)
    connection.execute("UPDATE accounts SET role = ? WHERE id = ?", (role, account.id))
    note(connection, "role_changed", account.id, role)


def end_account(connection: sqlite3.Connection, account: Account) -> None:
    """Let nobody sign in as this account any more.

    Raises
    ------
    AccountError
        Nobody would be left who may change roles.
    """
    if account.ended_at is not None:
        return
    _refuse_without_lead(connection, account)
    connection.execute("UPDATE accounts SET ended_at = ? WHERE id = ?", (now(), account.id))
    connection.execute("DELETE FROM sessions WHERE account_id = ?", (account.id,))
    note(connection, "account_ended", account.id)


def take_back_in(connection: sqlite3.Connection, account: Account, passphrase: str) -> None:
    """Let an account that has ended sign in again, with a new passphrase by its :func:`digest`."""
    connection.execute("UPDATE accounts SET ended_at = NULL WHERE id = ?", (account.id,))
    note(connection, "account_resumed", account.id)
    change_passphrase(connection, account, passphrase)


def _refuse_without_lead(connection: sqlite3.Connection, account: Account) -> None:
    other = connection.execute(
        "SELECT 1 FROM accounts WHERE role = 'lead' AND ended_at IS NULL AND id != ?", (account.id,)
    ).fetchone()
    if account.role == "lead" and other is None:
        raise AccountError("Somebody has to be lead: make another account lead first.")


@cache
def nobodys_digest() -> str:
    """A digest of what nobody knows; what a name there is none of is held to, so that it takes as long."""
    from secrets import token_urlsafe

    from argon2 import PasswordHasher

    return PasswordHasher().hash(token_urlsafe(16))

"""Commands on accounts, for whoever sits at the server: the first one, and a forgotten passphrase."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any, get_args

import click

from icepick.cli.places import RECORDS, data_file
from icepick.store.accounts import Role

if TYPE_CHECKING:
    from icepick.store.accounts import Account

NAME = click.argument("name")
ROLE = click.argument("role", type=click.Choice(get_args(Role)))


def PASSPHRASE(what: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:  # noqa: N802
    """An option that is asked for without showing it, twice."""
    return click.option("--passphrase", prompt=what, hide_input=True, confirmation_prompt=True)


@click.group()
def account() -> None:
    """Who may sign in. What an account did stays under its name."""


@account.command("list")
@RECORDS
def list_accounts(db: Path | None) -> None:
    """Print everybody who works or worked here."""
    from icepick.store.accounts import accounts

    with _records(db) as connection:
        for one in accounts(connection):
            click.echo(f"{one.name}: {one.role}{f', ended {one.ended_at[:10]}' if one.ended_at else ''}")


@account.command("add")
@NAME
@ROLE
@PASSPHRASE("Passphrase, for the first time")
@RECORDS
def add_account(name: str, role: Role, passphrase: str, db: Path | None) -> None:
    """Make an account."""
    from icepick.store.accounts import digest, make_account
    from icepick.store.database import writing

    with _records(db) as connection:
        kept = digest(passphrase, name)
        with writing(connection):
            make_account(connection, name, role, kept)
    click.echo(f"{name} can sign in.")


@account.command("passphrase")
@NAME
@PASSPHRASE("New passphrase")
@RECORDS
def new_passphrase(name: str, passphrase: str, db: Path | None) -> None:
    """Give an account another passphrase, also one that has ended; it is signed out everywhere."""
    from icepick.store.accounts import change_passphrase, digest, take_back_in
    from icepick.store.database import writing

    with _records(db) as connection:
        known = _known(connection, name)
        kept = digest(passphrase, known.name)
        with writing(connection):
            (take_back_in if known.ended_at else change_passphrase)(connection, known, kept)
    click.echo(f"{known.name} can sign in with it.")


@account.command("role")
@NAME
@ROLE
@RECORDS
def new_role(name: str, role: Role, db: Path | None) -> None:
    """Give an account another role."""
    from icepick.store.accounts import change_role
    from icepick.store.database import writing

    with _records(db) as connection, writing(connection):
        change_role(connection, _known(connection, name), role)
    click.echo(f"{name} is {role}.")


@account.command("end")
@NAME
@RECORDS
def end(name: str, db: Path | None) -> None:
    """Let nobody sign in as NAME any more."""
    from icepick.store.accounts import end_account
    from icepick.store.database import writing

    with _records(db) as connection, writing(connection):
        end_account(connection, _known(connection, name))
    click.echo(f"{name} can't sign in any more.")


@contextmanager
def _records(db: Path | None) -> Iterator[sqlite3.Connection]:
    from icepick.store.accounts import AccountError
    from icepick.store.database import DatabaseError, connect, prepare, unusable

    path = db or data_file("icepick.db")
    try:
        prepare(path)
        with closing(connect(path)) as connection:
            yield connection
    except (AccountError, DatabaseError) as error:
        raise click.ClickException(str(error)) from None
    except sqlite3.Error as error:
        raise click.ClickException(str(unusable(f"{path} can't be written", error))) from None


def _known(connection: sqlite3.Connection, name: str) -> Account:
    from icepick.store.accounts import account_named

    found = account_named(connection, name)
    if found is None:
        raise click.ClickException(f"There is no account {name!r}.")
    return found

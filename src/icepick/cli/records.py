"""Commands on the records as a whole: copied, looked through, put back."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

import click

from icepick.cli.places import FILE, RECORDS, data_file

if TYPE_CHECKING:
    from icepick.store.backup import Looked


@click.command()
@click.argument("file", type=FILE)
@RECORDS
def backup(file: Path, db: Path | None) -> None:
    """Copy the records to FILE, also while a server works on them."""
    from icepick.store.backup import back_up

    _say_what_is_held(f"copied to {file}", lambda: back_up(db or data_file("icepick.db"), file))


@click.command()
@click.argument("file", type=FILE)
def verify(file: Path) -> None:
    """Look through a copy of the records: every page of it, and whether each row has what it belongs to."""
    from icepick.store.backup import look_through

    _say_what_is_held(f"{file} is whole", lambda: look_through(file))


@click.command()
@click.argument("file", type=FILE)
@RECORDS
@click.confirmation_option(
    prompt="The records will be those of that copy, and what is entered while it is put back is lost. Go on?"
)
def restore(file: Path, db: Path | None) -> None:
    """Put the copy FILE in the place of the records; what stood there is copied beside it first. A server may run on."""
    from icepick.store.backup import restore as put_back

    records = db or data_file("icepick.db")

    def put() -> Looked:
        found, kept = put_back(file, records)
        if kept:
            click.echo(f"What stood there is kept in {kept}.")
        return found

    _say_what_is_held(f"{records} holds what {file} does", put)


def _say_what_is_held(done: str, work: Callable[[], Looked]) -> None:
    from icepick.store.database import DatabaseError

    try:
        found = work()
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
    photos = f", {found.photos:,} photos" if found.photos else ""
    click.echo(
        f"{done}: {found.visits:,} visits to {found.units:,} units, {found.readings:,} readings{photos}."
    )
    if found.lost:
        click.echo(f"{found.lost:,} pictures it speaks of are lost.", err=True)

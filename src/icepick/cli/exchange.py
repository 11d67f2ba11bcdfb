"""Commands that take records out of the book and bring others in."""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from icepick.cli.places import FILE, RECORDS, data_file

if TYPE_CHECKING:
    from icepick.exchange.coming import Coming

_MEANS = {
    "new": "new",
    "more": "go on from what stands here",
    "same": "stand here already",
    "behind": "stand here with more",
    "parted": "went on in both books: left as they are here",
}


@click.command("export")
@click.argument("file", type=FILE)
@click.option("--visit", type=click.IntRange(1), help="Only this visit, with its unit.")
@click.option("--unit", type=click.IntRange(1), help="Only this unit, with its visits.")
@RECORDS
def export_command(file: Path, visit: int | None, unit: int | None, db: Path | None) -> None:
    """Write records into FILE, a ZIP of JSON documents and CSV tables; all of them, unless told otherwise."""
    from icepick.exchange.leaving import Wanted, archive_of
    from icepick.store.carrying import make_ready
    from icepick.store.database import DatabaseError, connect, make_private
    from icepick.store.units import find_unit
    from icepick.store.visits import find_visit

    if visit is not None and unit is not None:
        raise click.UsageError("give --visit or --unit, not both")
    records = db or data_file("icepick.db")
    if not records.is_file():
        raise click.ClickException(f"there are no records in {records}")
    try:
        make_ready(records)
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
    beside = file.with_name(f"{file.name}.part")
    try:
        with closing(connect(records)) as connection:
            wanted = Wanted("everything")
            if visit is not None:
                wanted = Wanted("visit", visit)
                there = find_visit(connection, visit) is not None
            elif unit is not None:
                wanted = Wanted("unit", unit)
                there = find_unit(connection, unit) is not None
            if wanted.number and not there:
                raise click.ClickException(f"there is no {wanted.holds} {wanted.number}")
            beside.unlink(missing_ok=True)
            make_private(beside)
            with beside.open("wb") as out:
                for piece in archive_of(connection, wanted):
                    out.write(piece)
        beside.rename(file)
    except OSError as error:
        raise click.ClickException(f"{file} can't be written: {error.strerror or error}") from None
    finally:
        beside.unlink(missing_ok=True)
    click.echo(f"written to {file}: {file.stat().st_size:,} bytes.")


@click.command("import")
@click.argument("file", type=FILE)
@RECORDS
@click.option("--yes", is_flag=True, help="Don't ask before they are entered.")
def import_command(file: Path, db: Path | None, yes: bool) -> None:
    """Bring the records of FILE in: an archive that export wrote, or a visit document. Says first what that does."""
    from icepick.exchange.archive import ArchiveError
    from icepick.exchange.coming import bring_in, look, source
    from icepick.store.carrying import make_ready
    from icepick.store.database import DatabaseError, connect

    records = db or data_file("icepick.db")
    if not file.is_file():
        raise click.ClickException(f"{file} is not there")
    try:
        make_ready(records)
        with closing(connect(records)) as connection, source(file, connection) as coming:
            found = _with_a_bar("looking", lambda step: look(connection, coming, step))
            _tell(found)
            if not found.changes:
                click.echo("Nothing to enter.")
                return
            if not yes:
                click.confirm("Enter them?", abort=True)
            _with_a_bar("entering", lambda step: bring_in(connection, coming, file.name, step))
    except (ArchiveError, DatabaseError) as error:
        raise click.ClickException(f"{file}: {error}") from None
    click.echo("Entered.")


def _with_a_bar(what: str, work: Callable[[Callable[[int, int], None]], Coming]) -> Coming:
    with click.progressbar(length=1, label=what, file=sys.stderr) as bar:

        def step(done: int, of: int) -> None:
            bar.length = of
            bar.update(done - bar.pos)

        return work(step)


def _tell(found: Coming) -> None:
    for what, counts in (("units", found.units), ("visits", found.visits)):
        _tell_of(what, counts)
    if found.limits == "new":
        click.echo("limits: the other shop's, for none was changed here")
    elif found.limits == "parted":
        click.echo("limits: those of this shop stay")
    if found.shop == "new":
        click.echo("name on reports: the other shop's, for none was given here")
    elif found.shop == "parted":
        click.echo("name on reports: this shop's stays")
    click.echo(f"entries: {found.entries:,}")
    if found.unusable:
        click.echo(f"{found.unusable:,} things in them this Icepick can't use; they are kept as they are")


def _tell_of(what: str, counts: Counter[Any]) -> None:
    for means, words in _MEANS.items():
        if counts[means]:
            click.echo(f"{what}: {counts[means]:,} {words}")

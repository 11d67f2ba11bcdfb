"""A fleet's worth of visits, examined on Dask and written as Parquet."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from icepick.cli.places import FILE
from icepick.core.properties.quantities import UnitSystem

_MOST_NAMED = 20


@click.command("fleet")
@click.argument("archive", type=FILE)
@click.option(
    "--out",
    required=True,
    type=click.Path(file_okay=False, path_type=Path),
    help="The folder for the tables; it must not be there yet.",
)
@click.option(
    "--workers", type=click.IntRange(1, 256), default=1, show_default=True, help="Processes on this machine."
)
@click.option(
    "--scheduler",
    metavar="ADDRESS",
    help="A Dask scheduler, as in tcp://host:8786: its workers are used instead.",
)
@click.option("--units", type=click.Choice(["field", "metric"]), default="field", show_default=True)
def fleet_command(archive: Path, out: Path, workers: int, scheduler: str | None, units: UnitSystem) -> None:
    """Examine every visit of ARCHIVE, which export wrote, each beside those before it on its unit, and write Parquet tables:
    visits, indicators, checks, ranking, drift and baseline."""
    try:
        from icepick.fleet.parquet import FolderTakenError
        from icepick.fleet.running import ClusterError, examine_archive
    except ModuleNotFoundError as error:
        raise click.ClickException(
            f"{error.name} is not installed; it comes with: pip install 'icepick[fleet]'"
        ) from None
    from icepick.exchange.archive import ArchiveError

    if not archive.is_file():
        raise click.ClickException(f"{archive} is not there")
    with click.progressbar(length=1, label="examining", file=sys.stderr) as bar:

        def step(done: int, of: int) -> None:
            bar.length = of
            bar.update(done - bar.pos)

        try:
            done = examine_archive(archive, out, units=units, workers=workers, scheduler=scheduler, step=step)
        except (ArchiveError, FolderTakenError, ClusterError) as error:
            raise click.ClickException(str(error)) from None
        except OSError as error:
            raise click.ClickException(f"{out} can't be written: {error.strerror or error}") from None
    for name, count in sorted(done.rows.items()):
        click.echo(f"{name}: {count:,} rows")
    click.echo(f"{done.visits:,} visits examined, written to {out}.")
    for why in done.left_out[:_MOST_NAMED]:
        click.echo(f"left out: {why}", err=True)
    if len(done.left_out) > _MOST_NAMED:
        click.echo(f"and {len(done.left_out) - _MOST_NAMED:,} more", err=True)

"""The command line."""

from __future__ import annotations

import gc
import json
import sys
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import click
import platformdirs

from icepick import __version__
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.examination import examination_schema
from icepick.core.document.visit import parse_visit, visit_schema
from icepick.core.examine import examine
from icepick.core.properties.quantities import UnitSystem

Command = Callable[..., None]
_UNITS = click.Choice(["field", "metric"])


def _data_file(name: str) -> Path:
    return Path(platformdirs.user_data_dir("icepick")) / name


@click.group()
@click.version_option(__version__, prog_name="icepick")
def main() -> None:
    """Diagnose the refrigerant circuit of a heat pump."""


@main.command("examine")
@click.argument("files", nargs=-1, required=True, metavar="FILE...")
@click.option(
    "--out", type=click.Path(file_okay=False, path_type=Path), help="Write one examination per file here."
)
@click.option("--units", type=_UNITS, default="field", show_default=True)
def examine_command(files: tuple[str, ...], out: Path | None, units: UnitSystem) -> None:
    """Examine visit documents; '-' reads one from standard input."""
    if out is None:
        if len(files) > 1:
            raise click.UsageError("several files need --out DIR")
        try:
            click.echo(_examined(files[0], units))
        except (InvalidDocumentError, OSError) as error:
            _refuse(files[0], error)
            sys.exit(2)
        return
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise click.UsageError(f"{out} can't be made a folder: {error.strerror}") from None
    refused, written = False, set[Path]()
    for name in files:
        target = out / ("stdin.json" if name == "-" else Path(name).name)
        try:
            if target in written:
                raise OSError(0, f"another file of this name was already written to {target}")
            if name != "-" and target.exists() and target.samefile(name):
                raise OSError(0, "its examination would overwrite it; choose another folder")
            target.write_text(_examined(name, units) + "\n", "utf-8")
            written.add(target)
        except (InvalidDocumentError, OSError) as error:
            _refuse(name, error)
            refused = True
    sys.exit(2 if refused else 0)


def _examined(name: str, units: UnitSystem) -> str:
    text = sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()
    return examine(parse_visit(text), units=units).model_dump_json(by_alias=True, indent=2)


def _refuse(name: str, error: InvalidDocumentError | OSError) -> None:
    reason = (error.strerror or str(error)) if isinstance(error, OSError) else str(error)
    click.echo(f"icepick: {'standard input' if name == '-' else name}: {reason}", err=True)


@main.command()
@click.argument("document", type=click.Choice(["visit", "examination"]))
def schema(document: str) -> None:
    """Print the JSON Schema (draft 2020-12) of a document."""
    made = visit_schema() if document == "visit" else examination_schema()
    click.echo(json.dumps(made, indent=2, ensure_ascii=False))


@main.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI description of the web API."""
    from icepick.web import openapi as describe

    click.echo(json.dumps(describe(), indent=2, ensure_ascii=False))


def _serving(command: Command) -> Command:
    """The options that both ways of serving share."""
    for option in (
        click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on."),
        click.option(
            "--port", default=8321, show_default=True, envvar="ICEPICK_PORT", type=click.IntRange(1, 65535)
        ),
        click.option(
            "--allow-host",
            "hosts",
            multiple=True,
            envvar="ICEPICK_HOSTS",
            help="Another name under which browsers may reach the server; may be given more than once.",
        ),
    ):
        command = option(command)
    return command


@main.command()
@_serving
@click.option(
    "--db",
    type=click.Path(dir_okay=False, path_type=Path),
    envvar="ICEPICK_DB",
    help="The database file; otherwise one in your data directory.",
)
def serve(host: str, port: int, hosts: tuple[str, ...], db: Path | None) -> None:
    """Serve Icepick with your own records."""
    _serve(db or _data_file("icepick.db"), host, port, hosts)


@main.command()
@_serving
@click.option("--keep", is_flag=True, help="Go on with the demo file of last time instead of a fresh one.")
def demo(host: str, port: int, hosts: tuple[str, ...], keep: bool) -> None:
    """Serve Icepick with the demo records of Tarnwick."""
    from icepick.demo import load_demo
    from icepick.store.database import connect, prepare

    path = _data_file("demo.db")
    fresh = not (keep and path.exists())
    if fresh:
        for part in path.parent.glob("demo.db*"):
            part.unlink()
        prepare(path)
        with closing(connect(path)) as connection:
            load_demo(connection)
    _serve(path, host, port, hosts)


def _serve(database: Path, host: str, port: int, hosts: tuple[str, ...]) -> None:
    import waitress

    from icepick.store.database import DatabaseError
    from icepick.web import create_app

    try:
        app = create_app(database, [*hosts, host])
        server = waitress.create_server(app, host=host, port=port, threads=8, ident=None)
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
    except OSError as error:
        raise click.ClickException(f"can't listen on {host}:{port}: {error.strerror}") from None
    # What is loaded stays: searching it for garbage would hold an answer up by some 60 ms now and then.
    gc.collect()
    gc.freeze()
    click.echo(f"Icepick is at http://{host}:{port} (records in {database}); Ctrl-C stops it.")
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        server.close()

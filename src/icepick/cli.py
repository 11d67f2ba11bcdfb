"""The command line."""

from __future__ import annotations

import gc
import io
import json
import re
import signal
import socket
import sys
from collections.abc import Callable, Sequence
from contextlib import closing
from itertools import count
from pathlib import Path
from typing import get_args

import click
import platformdirs

from icepick import __version__
from icepick.core.document.codes import Mode
from icepick.core.document.examination import examination_schema
from icepick.core.document.recording import Recording
from icepick.core.document.recording_csv import read_csv, write_csv
from icepick.core.document.visit import Visit, parse_unit, parse_visit, visit_schema
from icepick.core.examine import examine
from icepick.core.machine.sheet import sheet
from icepick.core.properties.quantities import UnitSystem

Command = Callable[..., None]
_UNITS = click.Choice(["field", "metric"])


def _data_file(name: str) -> Path:
    return Path(platformdirs.user_data_dir("icepick")) / name


@click.group()
@click.version_option(__version__, prog_name="icepick")
def main() -> None:
    """Diagnose the refrigerant circuit of a heat pump."""
    for stream in (sys.stdout, sys.stderr):
        # A terminal that can't show a degree sign shows something else in its place.
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")


@main.command("examine")
@click.argument("files", nargs=-1, required=True, metavar="FILE...")
@click.option(
    "--out", type=click.Path(file_okay=False, path_type=Path), help="Write one examination per file here."
)
@click.option(
    "--earlier",
    multiple=True,
    metavar="FILE",
    help="A visit to the same unit before this one; give it again for each, oldest first. Those at which nothing was wrong "
    "teach what the unit is like.",
)
@click.option("--units", type=_UNITS, default="field", show_default=True)
def examine_command(
    files: tuple[str, ...], out: Path | None, earlier: tuple[str, ...], units: UnitSystem
) -> None:
    """Examine visit documents; '-' reads one from standard input."""
    before = [_visit_in(name) for name in earlier]
    if out is None:
        if len(files) > 1:
            raise click.UsageError("several files need --out DIR")
        found = _examined(files[0], units, before)
        if found is None:
            sys.exit(2)
        _print(found)
        return
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise click.UsageError(f"{out} can't be made a folder: {error.strerror}") from None
    written = set[Path]()
    done = [_examine_into(out, name, units, before, written) for name in files]
    sys.exit(0 if all(done) else 2)


def _visit_in(name: str) -> Visit:
    """An earlier visit; without it the examination would not be what was asked for."""
    try:
        return parse_visit(_read(name))
    except (OSError, ValueError) as error:
        _refuse(name, error)
        sys.exit(2)


def _examine_into(
    out: Path, name: str, units: UnitSystem, earlier: Sequence[Visit], written: set[Path]
) -> bool:
    """Write the examination of one file into a folder; whether that went well."""
    target = out / ("stdin.json" if name == "-" else Path(name).name)
    try:
        if target in written:
            raise OSError(0, f"another file of this name was already written to {target}")
        if name != "-" and target.exists() and target.samefile(name):
            raise OSError(0, "its examination would overwrite it; choose another folder")
        found = _examined(name, units, earlier)
        if found is None:
            return False
        target.write_text(found + "\n", "utf-8")
    except (OSError, ValueError) as error:
        _refuse(name, error)
        return False
    written.add(target)
    return True


def _examined(name: str, units: UnitSystem, earlier: Sequence[Visit]) -> str | None:
    """The examination of one file as JSON; None, and a word on standard error, where there can be none."""
    try:
        found = examine(parse_visit(_read(name)), units=units, earlier=earlier)
        return found.model_dump_json(by_alias=True, indent=2)
    except Exception as error:  # Whatever is wrong with one document, the next has its turn.
        _refuse(name, error)
        return None


def _read(name: str) -> bytes:
    if name != "-":
        return Path(name).read_bytes()
    if sys.stdin is None:
        raise OSError(0, "it is closed")
    return sys.stdin.buffer.read()


def _refuse(name: str, error: Exception) -> None:
    reason = (error.strerror or str(error)) if isinstance(error, OSError) else str(error) or repr(error)
    click.echo(f"icepick: {'standard input' if name == '-' else name}: {reason}", err=True)


def _print(text: str) -> None:
    """JSON is UTF-8, whatever the terminal would like better."""
    click.echo(text.encode())


@main.command()
@click.argument("document", type=click.Choice(["visit", "examination"]))
def schema(document: str) -> None:
    """Print the JSON Schema (draft 2020-12) of a document."""
    made = visit_schema() if document == "visit" else examination_schema()
    _print(json.dumps(made, indent=2, ensure_ascii=False))


@main.command("recording")
@click.argument("file", metavar="VISIT")
@click.argument("name", metavar="ID", required=False)
@click.option(
    "--add", metavar="FILE", help="Add this CSV file and print the visit with it; '-' reads standard input."
)
@click.option("--mode", type=click.Choice(get_args(Mode)), help="The commanded mode at its start.")
@click.option(
    "--started-at", metavar="TIME", help="ISO 8601 with offset; needed where the first column is seconds."
)
@click.option("--minutes-running", type=float, help="How long the unit had run in that mode by then.")
@click.option("--id", "given", metavar="ID", help="The new recording's id; otherwise the next free number.")
def recording_command(
    file: str,
    name: str | None,
    add: str | None,
    mode: str | None,
    started_at: str | None,
    minutes_running: float | None,
    given: str | None,
) -> None:
    """Print recording ID of a visit as CSV, or the visit with a CSV file added to its recordings."""
    if (name is None) == (add is None):
        raise click.UsageError("give the ID of a recording to print, or --add a file")
    if add is not None and mode is None:
        raise click.UsageError("--add needs --mode: what was called for when the recording starts")
    source = file
    try:
        visit = parse_visit(_read(file))
        if add is None:
            click.echo(write_csv(_recording(visit, name)), nl=False)
            return
        source = add
        added = read_csv(
            _read(add).decode(),
            name=given or _free_id(visit),
            mode=str(mode),
            started_at=started_at,
            minutes_running=minutes_running,
        )
        _print(parse_visit(_with(visit, added)).model_dump_json(indent=2, exclude_none=True))
    except (OSError, ValueError) as error:
        _refuse(source, error)
        sys.exit(2)


def _recording(visit: Visit, name: str | None) -> Recording:
    for one in visit.recordings:
        if one.id == name:
            return one
    there = ", ".join(one.id for one in visit.recordings) or "none"
    raise ValueError(f"there is no recording {name!r}; it holds {there}")


def _free_id(visit: Visit) -> str:
    taken = {run.id for run in visit.runs} | {one.id for one in visit.recordings}
    return next(name for number in count(1) if (name := f"recording-{number}") not in taken)


def _with(visit: Visit, added: Recording) -> str:
    return visit.model_copy(update={"recordings": [*visit.recordings, added]}).model_dump_json()


@main.command("machine")
@click.argument("file", metavar="FILE")
@click.option("--units", type=_UNITS, default="field", show_default=True)
def machine_command(file: str, units: UnitSystem) -> None:
    """Size the machine of a unit and print it; FILE holds a unit or a visit, '-' reads it from standard input."""
    try:
        found = sheet(parse_unit(_read(file)), units)
    except (OSError, ValueError) as error:
        _refuse(file, error)
        sys.exit(2)
    if not found.sized:
        click.echo(f"icepick: {file}: {found.field}: {found.why}", err=True)
        sys.exit(2)
    _print(found.model_dump_json(indent=2))


@main.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI description of the web API."""
    from icepick.web import openapi as describe

    _print(json.dumps(describe(), indent=2, ensure_ascii=False))


@main.command(hidden=True)
@click.argument("db", type=click.Path(dir_okay=False, path_type=Path))
def summarize(db: Path) -> None:
    """Bring the list of calls up to date, beside the server that asked for it."""
    from icepick.web.summarizing import catch_up_beside

    catch_up_beside(db)


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
    with _listening(host, port) as sock:
        _serve(db or _data_file("icepick.db"), sock, host, port, hosts)


@main.command()
@_serving
@click.option("--keep", is_flag=True, help="Go on with the demo file of last time instead of a fresh one.")
def demo(host: str, port: int, hosts: tuple[str, ...], keep: bool) -> None:
    """Serve Icepick with the demo records of Tarnwick."""
    from icepick.demo import load_demo
    from icepick.store.database import DatabaseError, connect, prepare

    # A file for each address: who listens there has it to himself, so that a second demo never wipes the records of
    # one that runs.
    with _listening(host, port) as sock:
        path = _data_file(f"demo-{re.sub('[^0-9A-Za-z.]', '_', host)}-{port}.db")
        try:
            if not (keep and path.exists()):
                for part in path.parent.glob(f"{path.name}*"):
                    part.unlink()
                prepare(path)
                with closing(connect(path)) as connection:
                    load_demo(connection)
        except OSError as error:
            raise click.ClickException(f"{path} can't be made anew: {error.strerror}") from None
        except DatabaseError as error:
            raise click.ClickException(str(error)) from None
        _serve(path, sock, host, port, hosts)


def _listening(host: str, port: int) -> socket.socket:
    """The server's socket: taken before anything else is touched."""
    try:
        family, kind, protocol, _, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
        sock = socket.socket(family, kind, protocol)
        try:
            # A port freed a moment ago may be taken again.
            sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            sock.bind(address)
            sock.listen()
        except OSError:
            sock.close()
            raise
        return sock
    except (OSError, UnicodeError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else error
        raise click.ClickException(f"can't listen on {host}:{port}: {reason}") from None


def _search_for_garbage_seldom() -> None:
    """What is loaded stays, and an examination leaves next to no cycles behind: searching after every 700 new objects takes a
    fifth of the time of an answer, and searching all of them holds one up by 60 ms and more."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)


def _serve(
    database: Path,
    sock: socket.socket,
    host: str,
    port: int,
    hosts: tuple[str, ...],
) -> None:
    import waitress

    from icepick.store.database import DatabaseError
    from icepick.web import create_app
    from icepick.web.room import THREADS
    from icepick.web.security import MAX_BODY, MAX_HEADERS

    try:
        app = create_app(database, [*hosts, host])
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
    server = waitress.create_server(
        app,
        sockets=[sock],
        threads=THREADS,
        ident=None,
        # A request is given to a thread when all of it is there; what is half there, or asks for nothing more, is hung up on.
        channel_timeout=30,
        cleanup_interval=10,
        connection_limit=1000,
        asyncore_use_poll=True,
        max_request_header_size=MAX_HEADERS,
        max_request_body_size=MAX_BODY,
        # Whether who asked still waits is known before much is worked out.
        channel_request_lookahead=1,
    )
    summarizer = app.extensions["icepick.summarizer"]
    summarizer.start()
    _search_for_garbage_seldom()
    click.echo(f"Icepick is at http://{host}:{port} (records in {database}); Ctrl-C stops it.")
    # What stops a service stops it as Ctrl-C does: what was begun is answered.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        summarizer.stop()
        server.close()

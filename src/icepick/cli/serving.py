"""Commands that serve: the shop's records, or the demo's."""

from __future__ import annotations

import gc
import re
import shutil
import signal
import socket
import ssl
from collections.abc import Callable
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from typing import TYPE_CHECKING

import click

from icepick.cli.places import FILE, RECORDS, data_file
from icepick.cli.reach import Reach

if TYPE_CHECKING:
    from flask import Flask

    from icepick.web.copies import Copies

Command = Callable[..., None]


@click.command(hidden=True)
@click.argument("db", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--server", type=int, help="The process that asked for it: this one ends with it.")
def summarize(db: Path, server: int | None) -> None:
    """Bring the list of calls up to date, beside the server that asked for it."""
    from icepick.web.summarizing import catch_up_beside

    catch_up_beside(db, server)


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
        click.option(
            "--probe-speed",
            default=1.0,
            show_default=True,
            envvar="ICEPICK_PROBE_SPEED",
            type=click.FloatRange(0.1, 120),
            help="How many times as fast as the clock simulated probes live.",
        ),
    ):
        command = option(command)
    return command


@click.command()
@_serving
@RECORDS
@click.option(
    "--backups",
    type=click.Path(file_okay=False, path_type=Path),
    envvar="ICEPICK_BACKUPS",
    help="Copy the records into this folder by itself; another disk is best.",
)
@click.option(
    "--backup-hours", default=24.0, show_default=True, type=click.FloatRange(0.01), help="How often."
)
@click.option(
    "--backup-keep", default=30, show_default=True, type=click.IntRange(1), help="How many copies to keep."
)
@click.option(
    "--access-log", type=FILE, help="Write a line for each request here; none of them names anybody."
)
@click.option(
    "--certificate", type=FILE, envvar="ICEPICK_CERTIFICATE", help="Serve over TLS: this chain, PEM."
)
@click.option("--key", type=FILE, envvar="ICEPICK_KEY", help="The certificate's key, PEM.")
@click.option(
    "--proxy",
    envvar="ICEPICK_PROXY",
    help="The address of a proxy before the server: what it says of who asks, and over what, is believed.",
)
@click.option(
    "--simulated-probes",
    is_flag=True,
    help="Offer simulated probes too: for practice, not for customers' units.",
)
def serve(
    host: str,
    port: int,
    hosts: tuple[str, ...],
    probe_speed: float,
    simulated_probes: bool,
    db: Path | None,
    backups: Path | None,
    backup_hours: float,
    backup_keep: int,
    access_log: Path | None,
    certificate: Path | None,
    key: Path | None,
    proxy: str | None,
) -> None:
    """Serve Icepick with your own records. Where others can reach it, everybody signs in."""
    from icepick.web.copies import Copies

    if (certificate is None) != (key is None):
        raise click.UsageError("TLS takes both --certificate and --key.")
    if certificate and proxy:
        raise click.UsageError("TLS is either the proxy's or, with --certificate, the server's own.")
    records = db or data_file("icepick.db")
    copies = Copies(records, backups, timedelta(hours=backup_hours), backup_keep) if backups else None
    with _listening(host, port) as sock:
        reach = Reach.of(sock, host, hosts, tls=certificate is not None, proxy=proxy)
        shown = _shown(certificate, key) if certificate and key else None
        probes = probe_speed if simulated_probes else None
        _serve(records, sock, reach, copies, access_log, shown, simulated_probes=probes)


def _shown(certificate: Path, key: Path) -> ssl.SSLContext:
    from icepick.web.tls import CertificateError, context

    try:
        return context(certificate, key)
    except CertificateError as error:
        raise click.ClickException(str(error)) from None


@click.command()
@_serving
@click.option("--keep", is_flag=True, help="Go on with the demo file of last time instead of a fresh one.")
def demo(host: str, port: int, hosts: tuple[str, ...], probe_speed: float, keep: bool) -> None:
    """Serve Icepick with the demo records of Tarnwick."""
    from icepick.demo import load_demo
    from icepick.store.database import DatabaseError, connect, prepare

    # A file for each address: who listens there has it to himself, so that a second demo never wipes the records of
    # one that runs.
    with _listening(host, port) as sock:
        path = data_file(f"demo-{re.sub('[^0-9A-Za-z.]', '_', host)}-{port}.db")
        try:
            if not (keep and path.exists()):
                for part in path.parent.glob(f"{path.name}*"):
                    shutil.rmtree(part) if part.is_dir() else part.unlink()
                prepare(path)
                with closing(connect(path)) as connection:
                    load_demo(connection)
        except OSError as error:
            raise click.ClickException(f"{path} can't be made anew: {error.strerror}") from None
        except DatabaseError as error:
            raise click.ClickException(str(error)) from None
        _serve(path, sock, Reach.of(sock, host, hosts), simulated_probes=probe_speed)


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
    reach: Reach,
    copies: Copies | None = None,
    access_log: Path | None = None,
    shown: ssl.SSLContext | None = None,
    *,
    simulated_probes: float | None = None,
) -> None:
    import waitress

    from icepick.store.database import DatabaseError
    from icepick.web import create_app
    from icepick.web.callers import limit_by_address
    from icepick.web.room import THREADS
    from icepick.web.security import MAX_BODY, MAX_HEADERS
    from icepick.web.tls import Front

    try:
        app = create_app(
            database,
            reach.names,
            access_log,
            locked=reach.from_elsewhere,
            simulated_probes=simulated_probes,
        )
    except DatabaseError as error:
        raise click.ClickException(str(error)) from None
    inside = _listening("127.0.0.1", 0) if shown else sock
    front = Front(sock, shown, inside.getsockname()) if shown else None
    server = waitress.create_server(
        front.names_callers(app) if front else app,
        sockets=[inside],
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
        trusted_proxy=reach.proxy,
        trusted_proxy_headers={"x-forwarded-for", "x-forwarded-proto"} if reach.proxy else set(),
    )
    limit_by_address(server, "127.0.0.1" if front else reach.proxy)
    summarizer = app.extensions["icepick.summarizer"]
    recorder = app.extensions["icepick.recorder"]
    summarizer.start()
    recorder.start()
    if copies:
        app.extensions["icepick.copies"] = copies
        copies.start()
    if front:
        front.start()
    _search_for_garbage_seldom()
    click.echo(f"Icepick is at {reach.address} (records in {database}); Ctrl-C stops it.")
    for line in (*reach.advice(), *_first_account(app)):
        click.echo(line)
    # What stops a service stops it as Ctrl-C does: what was begun is answered.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        recorder.stop()
        summarizer.stop()
        if copies:
            copies.stop()
        server.close()
        if front:
            front.stop()


def _first_account(app: Flask) -> list[str]:
    """What to do where everybody signs in and nobody can yet."""
    from icepick.web.door import CODE_LASTS_S, first_code

    with app.app_context():
        code = first_code()
    if code is None:
        return []
    return [
        "Nobody can sign in yet: open it and make the first account with this code, which is good for "
        f"{CODE_LASTS_S // 60} minutes: {code}"
    ]

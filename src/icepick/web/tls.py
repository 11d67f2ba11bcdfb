"""TLS before the server: what comes in encrypted is handed on within this machine.

The server reads requests without giving any a thread before it is whole, and knows no TLS; so one thread of its own takes the
encryption off. Who asks is told by the port the request is handed on from.
"""

from __future__ import annotations

import asyncio
import socket
import ssl
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from threading import Event, Thread
from time import monotonic
from typing import TYPE_CHECKING

from icepick.web.callers import MOST_FROM_ONE

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication, WSGIEnvironment

_AT_ONCE = 64 * 1024
_HANDSHAKE_S = 20
_MOST_LINES = 1000
_LOOKED_EACH_S = 0.2
_LAST_WORDS_S = 1.0


class CertificateError(RuntimeError):
    """The certificate or its key can't be used; the message says why."""


def context(certificate: Path, key: Path) -> ssl.SSLContext:
    """What the server shows of itself: TLS 1.2 or newer.

    Raises
    ------
    CertificateError
        A file is missing, is none, or the two don't belong together.
    """
    found = ssl.create_default_context(ssl.Purpose.CLIENT_AUTH)
    found.minimum_version = ssl.TLSVersion.TLSv1_2
    found.set_alpn_protocols(["http/1.1"])
    try:
        found.load_cert_chain(certificate, key, password=lambda: "")
    except FileNotFoundError:
        missing = next(file for file in (certificate, key) if not file.is_file())
        raise CertificateError(f"{missing} is not there.") from None
    except PermissionError:
        raise CertificateError(f"{certificate} or {key} can't be read; may Icepick?") from None
    except (ssl.SSLError, OSError) as error:
        raise CertificateError(
            f"{certificate} and {key} can't be used: {getattr(error, 'reason', None) or error}. A certificate and "
            "its key, without a passphrase, as PEM."
        ) from None
    return found


class Front:
    """Takes TLS at ``sock`` and hands on to a server within this machine."""

    def __init__(self, sock: socket.socket, shown: ssl.SSLContext, inside: tuple[str, int]) -> None:
        self._sock, self._shown, self._inside = sock, shown, inside
        self._callers: dict[str, str] = {}
        self._stopped = Event()
        self._thread = Thread(target=lambda: asyncio.run(self._serve()), name="tls", daemon=True)

    def start(self) -> None:
        """Begin, in a thread of its own."""
        self._thread.start()

    def stop(self) -> None:
        """Hand on what the server has answered, and hang up."""
        self._stopped.set()
        self._thread.join(2 * _LAST_WORDS_S)

    def names_callers(self, application: WSGIApplication) -> WSGIApplication:
        """An application that is told who asks, and that the line is encrypted; what did not come through here is refused."""

        def named(environ: WSGIEnvironment, start: StartResponse) -> Iterable[bytes]:
            caller = self._callers.get(str(environ.get("REMOTE_PORT")))
            if caller is None:
                start("421 Misdirected Request", [("Content-Type", "text/plain"), ("Content-Length", "0")])
                return []
            environ["REMOTE_ADDR"] = caller
            environ["wsgi.url_scheme"] = "https"
            return application(environ, start)

        return named

    async def _serve(self) -> None:
        async with await asyncio.start_server(
            self._answer, sock=self._sock, ssl=self._shown, ssl_handshake_timeout=_HANDSHAKE_S
        ):
            while not self._stopped.is_set():
                await asyncio.sleep(_LOOKED_EACH_S)
            until = monotonic() + _LAST_WORDS_S
            while self._callers and monotonic() < until:
                await asyncio.sleep(_LOOKED_EACH_S)

    async def _answer(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        caller = str(writer.get_extra_info("peername")[0])
        of_one = sum(1 for other in self._callers.values() if other == caller)
        if len(self._callers) >= _MOST_LINES or of_one >= MOST_FROM_ONE:
            writer.close()
            return
        try:
            inner_reader, inner_writer = await asyncio.open_connection(*self._inside)
        except OSError:
            writer.close()
            return
        port = str(inner_writer.get_extra_info("sockname")[1])
        self._callers[port] = caller
        try:
            await asyncio.gather(_hand_on(reader, inner_writer), _hand_on(inner_reader, writer))
        finally:
            self._callers.pop(port, None)


async def _hand_on(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    # Who hangs up in the middle is gone.
    with suppress(OSError):
        while data := await reader.read(_AT_ONCE):
            writer.write(data)
            await writer.drain()
    writer.close()

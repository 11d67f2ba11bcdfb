"""How many lines one address may hold: who opens a thousand and says nothing on them must not keep everybody else out."""

from __future__ import annotations

import socket
from typing import Any

MOST_FROM_ONE = 100
"""Lines of one address at a time: a browser opens some six, and a shop may come through one router. [our own choice]"""


def limit_by_address(server: Any, known: str | None) -> None:
    """Hang up on whoever has too many lines already.

    Parameters
    ----------
    server : waitress' server
        Before it runs.
    known : str or None
        The address of what stands before the server, a proxy or its own TLS: all callers come by it.
    """
    accept = server.accept

    def counted() -> tuple[socket.socket, Any] | None:
        come: tuple[socket.socket, Any] | None = accept()
        if come is None or come[1][0] == known:
            return come
        there = sum(1 for one in server.active_channels.values() if one.addr[0] == come[1][0])
        if there < MOST_FROM_ONE:
            return come
        come[0].close()
        return None

    server.accept = counted

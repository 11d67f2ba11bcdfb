"""From where a server can be reached, and under what names."""

from __future__ import annotations

import socket
from dataclasses import dataclass
from ipaddress import ip_address
from typing import Self

_LOCAL_NAMES = ("localhost", "127.0.0.1", "::1")


@dataclass(frozen=True, slots=True)
class Reach:
    """``names`` are those it answers under besides the local ones; ``addresses`` what others on the network can open;
    ``proxy`` is what stands before it."""

    address: str
    names: list[str]
    addresses: list[str]
    from_elsewhere: bool
    encrypted: bool
    proxy: str | None

    @classmethod
    def of(
        cls,
        sock: socket.socket,
        host: str,
        names: tuple[str, ...],
        *,
        tls: bool = False,
        proxy: str | None = None,
    ) -> Self:
        """How a socket that listens at ``host`` is reached, where it may be under other ``names`` as well.

        Who allows another name expects to be asked from elsewhere, if only through a proxy.
        """
        bound, port = sock.getsockname()[:2]
        everywhere = ip_address(bound).is_unspecified
        here = ip_address(bound).is_loopback
        known_as = [*_own_addresses(), *_own_names()] if everywhere else []
        scheme = "https" if tls else "http"
        shown = "127.0.0.1" if everywhere else f"[{host}]" if ":" in host else host
        return cls(
            address=f"{scheme}://{shown}:{port}",
            names=[*names, host, *known_as],
            addresses=[f"{scheme}://{name}:{port}" for name in known_as],
            from_elsewhere=not here or proxy is not None or any(name not in _LOCAL_NAMES for name in names),
            encrypted=tls or proxy is not None,
            proxy=proxy,
        )

    def advice(self) -> list[str]:
        """What whoever starts it should know."""
        lines = []
        if self.addresses:
            lines.append(
                f"On phones: {' or '.join(self.addresses)}. For any other name start it with --allow-host NAME."
            )
        if self.from_elsewhere and not self.encrypted:
            lines.append(
                "Without TLS whoever shares the network can read along, passphrases too: start it with --certificate "
                "and --key, or put a proxy before it (--proxy). docs/security.md says how."
            )
        return lines


def _own_addresses() -> list[str]:
    import ifaddr

    found = [ip.ip for adapter in ifaddr.get_adapters() for ip in adapter.ips if isinstance(ip.ip, str)]
    return [one for one in found if not (ip_address(one).is_loopback or ip_address(one).is_link_local)]


def _own_names() -> list[str]:
    name = socket.gethostname().split(".")[0]
    return [name, f"{name}.local"] if name and name != "localhost" else []

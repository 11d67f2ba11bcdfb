"""The browser's own Bluetooth: the phone beside the unit listens, and sends on what it hears, byte for byte."""

from __future__ import annotations

from dataclasses import replace
from threading import Lock

from icepick.probes.transport import Found, Heard, Lost, TransportError


class Relayed:
    """Probes that somebody else listens to. They are found when they first say something."""

    name = "relayed"
    MOST = 100
    """Probes, and what each may have said before it is fetched × 100."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._found: dict[str, Found] = {}
        self._connected: set[str] = set()
        self._said: list[Heard | Lost] = []

    def introduce(self, found: Found) -> None:
        """A browser has a probe at hand.

        Raises
        ------
        TransportError
            There are too many.
        """
        with self._lock:
            if found.address not in self._found and len(self._found) >= self.MOST:
                raise TransportError(f"{self.MOST} probes at most can be connected.")
            self._found[found.address] = found

    def say(self, said: list[Heard], now: float) -> None:
        """A browser sends on what it heard; what was heard later than ``now`` counts as heard now."""
        with self._lock:
            for one in said:
                if one.address in self._connected and len(self._said) < 100 * self.MOST:
                    self._said.append(replace(one, at=min(one.at, now)))

    def lose(self, address: str) -> None:
        """A browser hears a probe no longer."""
        with self._lock:
            if address in self._connected:
                self._said.append(Lost(address))

    def search(self) -> None:
        """The browser searches, when somebody presses there."""

    def found(self) -> list[Found]:
        """Those that were introduced."""
        with self._lock:
            return list(self._found.values())

    def connect(self, address: str) -> None:
        """As :meth:`Transport.connect`."""
        with self._lock:
            if address not in self._found:
                raise TransportError(f"No browser has a probe {address!r} at hand.")
            self._connected.add(address)

    def disconnect(self, address: str) -> None:
        """As :meth:`Transport.disconnect`."""
        with self._lock:
            self._connected.discard(address)

    def heard(self) -> list[Heard | Lost]:
        """As :meth:`Transport.heard`."""
        with self._lock:
            said, self._said = self._said, []
        return said

    def close(self) -> None:
        """As :meth:`Transport.close`."""
        with self._lock:
            self._found.clear()
            self._connected.clear()
            self._said.clear()

"""How bytes of probes come in: one small interface for every way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol


class TransportError(RuntimeError):
    """A way can't be used, or a probe not be reached; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class Found:
    """A probe within reach: its address, which no other has, the name it gives itself, and how strongly it is heard [dBm]."""

    address: str
    name: str
    signal: int | None


@dataclass(frozen=True, slots=True)
class Heard:
    """What a probe said of a characteristic, at ``at`` seconds of the way's own clock. ``instance`` counts characteristics of
    the same number in one probe from 1."""

    address: str
    characteristic: int
    instance: int
    data: bytes
    at: float


@dataclass(frozen=True, slots=True)
class Lost:
    """A probe went out of reach or was switched off."""

    address: str


class Transport(Protocol):
    """A way. Nothing in it waits: what takes time goes on behind, and :meth:`heard` brings what came of it."""

    @property
    def name(self) -> str:
        """As the API calls it."""
        ...

    def search(self) -> None:
        """Look for probes from now on; may be called again."""
        ...

    def found(self) -> list[Found]:
        """Those seen so far."""
        ...

    def connect(self, address: str) -> None:
        """Listen to a probe, also after it was lost.

        Raises
        ------
        TransportError
            There is no such probe.
        """
        ...

    def disconnect(self, address: str) -> None:
        """Listen to it no longer."""
        ...

    def heard(self) -> list[Heard | Lost]:
        """What came since this was last asked, in its order."""
        ...

    def close(self) -> None:
        """Let go of everything."""
        ...

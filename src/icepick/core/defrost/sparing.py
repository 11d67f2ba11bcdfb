"""What of a recording can't be worked out costs itself, and is named: never the rest of the recording, nor its visit."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")

LeftOut = dict[str, str]
"""What could not be worked out, in a technician's words, and what it broke on."""


def spare(left_out: LeftOut, what: str, work: Callable[[], T], otherwise: T) -> T:
    """Work something out; where that fails, note it and go on with ``otherwise``."""
    try:
        return work()
    except Exception as error:
        note(left_out, what, error)
        return otherwise


def note(left_out: LeftOut, what: str, error: Exception) -> None:
    """Keep in mind that something could not be worked out, and why."""
    left_out.setdefault(what, f"{type(error).__name__}: {error}")

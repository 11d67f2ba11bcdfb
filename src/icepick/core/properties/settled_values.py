"""Values with an uncertainty that several threads may read at once.

``uncertainties`` works out what a value rests on when it is first asked, and takes its list of terms apart meanwhile: two
threads that ask at once spoil it for both. What is kept for others is asked before it is kept.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any

from uncertainties import UFloat


def settled(found: Any) -> None:
    """Let every value in it work out what it rests on.

    Parameters
    ----------
    found : object
        A value, or tuples, lists, mappings and dataclasses of such; all else is left alone.
    """
    if isinstance(found, UFloat):
        found.derivatives  # noqa: B018
    elif isinstance(found, Mapping):
        for one in found.values():
            settled(one)
    elif isinstance(found, tuple | list):
        for one in found:
            settled(one)
    else:
        kind: Any = type(found)
        for name in _fields(kind):
            settled(getattr(found, name))


@cache
def _fields(kind: Any) -> tuple[str, ...]:
    return tuple(one.name for one in fields(kind) if one.compare) if is_dataclass(kind) else ()

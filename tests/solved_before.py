"""Solved machines, kept on disk between processes and between runs of the tests: by unit, conditions and the code that solves
them. What is read there is what would have been solved, to the last bit."""

from __future__ import annotations

import pickle
from collections.abc import Callable
from functools import lru_cache, wraps
from hashlib import blake2b
from pathlib import Path
from typing import Any

import numpy as np

from icepick.core.machine import by_coil, charge, cycle, expected, sizing
from icepick.core.machine.sized_unit import SizedUnit
from icepick.core.prediction import foretold, unread
from made import digest, place, put

KEPT: tuple[tuple[Any, str, int], ...] = (
    (sizing, "_sized", 128),
    (expected, "_predicted", 512),
    (foretold, "_foretold", 64),
    (unread, "_tried", 128),
    (by_coil, "_heating", 64),
    (by_coil, "_into_metal", 64),
)
"""What takes long to solve, and how many of it the product itself remembers."""


def keep_solved() -> None:
    """From now on, in this process, what was solved before is read from disk."""
    folder = place(
        "solved",
        digest("src/icepick/core", "tests/solved_before.py", "tests/other_laws.py", of=np.__version__),
    )
    for module, name, most in KEPT:
        solve = getattr(module, name).__wrapped__
        setattr(module, name, lru_cache(maxsize=most)(_kept(folder, name, solve)))


def _kept(folder: Path, name: str, solve: Callable[..., Any]) -> Callable[..., Any]:
    @wraps(solve)
    def read_or_solve(*asked: Any) -> Any:
        key = pickle.dumps((_laws(), *map(_plain, asked)))
        file = folder / f"{name}-{blake2b(key, digest_size=16).hexdigest()}"
        try:
            return pickle.loads(file.read_bytes())
        except (OSError, EOFError, pickle.UnpicklingError):
            found = solve(*asked)
        put(file, pickle.dumps(found))
        return found

    return read_or_solve


def _laws() -> tuple[str, ...]:
    """Whose laws machines keep just now: tests/other_laws.py puts others in the place of the product's own."""
    return tuple(str(law.__module__) for law in (charge.mixture_density, cycle.compress))


def _plain(one: Any) -> Any:
    """What of an argument counts."""
    return one.written if isinstance(one, SizedUnit) else one

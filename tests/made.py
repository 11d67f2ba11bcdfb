"""What is made once and kept under build/, by a digest of what it is made from: nothing old is ever read."""

from __future__ import annotations

import fcntl
import os
import shutil
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from hashlib import blake2b
from pathlib import Path

ROOT = Path(__file__).parents[1]
BUILD = ROOT / "build"


@cache
def digest(*parts: str, of: str = "") -> str:
    """Of every file in these parts of the source, and of a word besides."""
    found = blake2b(of.encode(), digest_size=8)
    for part in parts:
        for file in sorted((ROOT / part).rglob("*") if (ROOT / part).is_dir() else [ROOT / part]):
            if file.is_file() and not {"__pycache__", "app"} & set(file.parts):
                found.update(str(file.relative_to(ROOT)).encode() + file.read_bytes())
    return found.hexdigest()


def place(name: str, mark: str) -> Path:
    """Where something of this name and digest stands, or is to stand; what older digests made goes."""
    here = BUILD / name / mark
    if not here.exists():
        here.mkdir(parents=True, exist_ok=True)
        for old in here.parent.iterdir():
            if old.is_dir() and old != here:
                shutil.rmtree(old, ignore_errors=True)
    return here


def put(path: Path, content: bytes) -> None:
    """Whole or not at all, whoever else writes the same."""
    beside = path.with_name(f"{path.name}.{os.getpid()}.{threading.get_ident()}.part")
    beside.write_bytes(content)
    beside.replace(path)


@contextmanager
def one_at_a_time(name: str) -> Iterator[None]:
    """Of all processes that make something."""
    BUILD.mkdir(exist_ok=True)
    with (BUILD / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield

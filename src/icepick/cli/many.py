"""Many visits at once, on several processes: folders and JSON Lines in, a line for each visit out, in the order they came."""

from __future__ import annotations

import json
import os
import sys
from collections import deque
from collections.abc import Iterable, Iterator, Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from itertools import islice
from multiprocessing import get_context
from pathlib import Path
from typing import TypeVar

from icepick.core.document.visit import Visit, parse_visit
from icepick.core.examine import examine
from icepick.core.properties.quantities import UnitSystem

AHEAD = 8
"""So many batches for each process are read ahead of what is written: a fleet need not fit into memory."""
BATCH = 8
LINES = ".jsonl"
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Source:
    """A visit document, or why it can't be read, and where it came from."""

    place: str
    text: bytes
    trouble: str | None = None


def sources(names: Sequence[str], *, lines: bool) -> Iterator[Source]:
    """Every document of files, folders and, for ``-``, standard input; a file of JSON Lines holds one in each line."""
    for name in names:
        if name == "-" and sys.stdin is None:
            yield Source("-", b"", "it is closed")
        elif name == "-":
            yield from _of_lines("-", sys.stdin.buffer) if lines else [Source("-", sys.stdin.buffer.read())]
        elif Path(name).is_dir():
            for path in sorted(Path(name).rglob("*")):
                if path.suffix in (".json", LINES) and path.is_file():
                    yield from _of_file(path)
        else:
            yield from _of_file(Path(name))


def _of_file(path: Path) -> Iterator[Source]:
    try:
        if path.suffix == LINES:
            with path.open("rb") as file:
                yield from _of_lines(str(path), file)
        else:
            yield Source(str(path), path.read_bytes())
    except (OSError, ValueError) as error:
        yield Source(str(path), b"", getattr(error, "strerror", None) or str(error))


def _of_lines(name: str, file: Iterable[bytes]) -> Iterator[Source]:
    for number, line in enumerate(file, start=1):
        if line.strip():
            yield Source(f"{name}:{number}", line)


def examined_lines(
    found: Iterable[Source], jobs: int, units: UnitSystem, earlier: Sequence[Visit]
) -> Iterator[tuple[str, bool]]:
    """A line for each document in its order, and whether it could be examined."""
    work = partial(_examined, units, tuple(earlier))
    if jobs == 1:
        for one in found:
            yield work([one])[0]
        return
    # What a process reckons with is small: threads under it would only be in each other's way.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    with ProcessPoolExecutor(jobs, mp_context=get_context("spawn")) as pool:
        waiting = deque[Future[list[tuple[str, bool]]]]()
        try:
            for batch in in_batches(found, BATCH):
                waiting.append(pool.submit(work, batch))
                if len(waiting) >= AHEAD * jobs:
                    yield from waiting.popleft().result()
            while waiting:
                yield from waiting.popleft().result()
        except BaseException:
            pool.shutdown(wait=False, cancel_futures=True)
            raise


def in_batches(found: Iterable[T], size: int) -> Iterator[list[T]]:
    """So many at a time."""
    rest = iter(found)
    while batch := list(islice(rest, size)):
        yield batch


def _examined(units: UnitSystem, earlier: tuple[Visit, ...], batch: list[Source]) -> list[tuple[str, bool]]:
    return [_line(one, units, earlier) for one in batch]


def _line(one: Source, units: UnitSystem, earlier: tuple[Visit, ...]) -> tuple[str, bool]:
    name = json.dumps(one.place, ensure_ascii=False)
    try:
        if one.trouble is not None:
            raise ValueError(one.trouble)
        found = examine(parse_visit(one.text), units=units, earlier=earlier)
    except Exception as error:  # Whatever is wrong with one document, the next has its turn.
        return (
            f'{{"from": {name}, "error": {json.dumps(str(error) or repr(error), ensure_ascii=False)}}}',
            False,
        )
    return f'{{"from": {name}, "examination": {found.model_dump_json(by_alias=True)}}}', True

"""Tarnwick: an invented lakeside town whose buildings one small service shop looks after."""

from __future__ import annotations

import json
import sqlite3
from importlib.resources import files
from importlib.resources.abc import Traversable

from icepick.core.document.base import parse
from icepick.core.document.outcome import Outcome, Said
from icepick.core.document.visit import Visit, parse_visit
from icepick.store.database import now, writing
from icepick.store.outcomes import tell
from icepick.store.visits import add_document


def demo_visits() -> list[tuple[str, Visit]]:
    """The demo visits with the time each was opened (ISO 8601), oldest first; some are of today."""
    return [
        (now() if opened == "today" else opened, parse_visit(_folder().joinpath(name).read_bytes()))
        for name, opened in _index().items()
    ]


def _folder() -> Traversable:
    return files("icepick.demo").joinpath("visits")


def demo_names() -> list[str]:
    """What the visits are called, oldest first."""
    return [name.removesuffix(".json") for name in _index()]


def _index() -> dict[str, str]:
    """When each visit was opened, by its file."""
    opened: dict[str, str] = json.loads(_folder().joinpath("opened.json").read_text("utf-8"))
    return opened


def load_demo(connection: sqlite3.Connection) -> None:
    """Enter the demo visits into a fresh file, with what they came to."""
    came_to = json.loads(files("icepick.demo").joinpath("outcomes.json").read_text("utf-8"))
    with writing(connection):
        for name, (opened, visit) in zip(demo_names(), demo_visits(), strict=True):
            number = add_document(connection, visit, opened)
            if name in came_to:
                told = came_to[name]
                outcome, said = (
                    parse(Outcome, json.dumps(told["outcome"])),
                    parse(Said, json.dumps(told["said"])),
                )
                tell(connection, number, outcome, said)

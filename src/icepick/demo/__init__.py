"""Tarnwick: an invented lakeside town whose buildings one small service shop looks after."""

from __future__ import annotations

import json
import sqlite3
from importlib.resources import files

from icepick.core.document.visit import Visit, parse_visit
from icepick.store.database import now, writing
from icepick.store.visits import add_document


def demo_visits() -> list[tuple[str, Visit]]:
    """The demo visits with the time each was opened (ISO 8601), oldest first; some are of today."""
    folder = files("icepick.demo").joinpath("visits")
    index = json.loads(folder.joinpath("opened.json").read_text("utf-8"))
    return [
        (now() if opened == "today" else opened, parse_visit(folder.joinpath(name).read_bytes()))
        for name, opened in index.items()
    ]


def load_demo(connection: sqlite3.Connection) -> None:
    """Enter the demo visits into a fresh file."""
    with writing(connection):
        for opened, visit in demo_visits():
            add_document(connection, visit, opened)

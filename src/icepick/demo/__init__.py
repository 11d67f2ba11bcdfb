"""Tarnwick: an invented lakeside town whose buildings one small service shop looks after."""

from __future__ import annotations

import json
import sqlite3
from importlib.resources import files
from importlib.resources.abc import Traversable

from icepick.core.document.base import parse
from icepick.core.document.outcome import Outcome, Said
from icepick.core.document.photo import Photo, PhotoOf
from icepick.core.document.shop import Shop
from icepick.core.document.visit import Visit, parse_visit
from icepick.store.database import now, writing
from icepick.store.outcomes import tell
from icepick.store.photo_files import PhotoFiles
from icepick.store.photos import add_photo
from icepick.store.pictures import made_ready
from icepick.store.shop import name_shop
from icepick.store.visits import add_document

_SHOP = Shop(
    name="Tarnwick Heating and Cooling",
    license="License no. 000000 (made up)",
    contact="Harbor Row, Tarnwick",
)


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
    photos = files("icepick.demo").joinpath("photos")
    shown = json.loads(photos.joinpath("shown.json").read_text("utf-8"))
    with writing(connection):
        name_shop(connection, _SHOP)
        for name, (opened, visit) in zip(demo_names(), demo_visits(), strict=True):
            number = add_document(connection, visit, opened)
            if name in came_to:
                told = came_to[name]
                outcome, said = (
                    parse(Outcome, json.dumps(told["outcome"])),
                    parse(Said, json.dumps(told["said"])),
                )
                tell(connection, number, outcome, said)
            for one in shown.get(name, ()):
                _show(connection, number, photos, **one)


def _show(
    connection: sqlite3.Connection,
    visit_id: int,
    folder: Traversable,
    file: str,
    about: PhotoOf,
    caption: str,
) -> None:
    kept = made_ready(folder.joinpath(file).read_bytes())
    PhotoFiles.of(connection).put(kept.content)
    photo = Photo(about=about, caption=caption, sha256=kept.sha256, width=kept.width, height=kept.height)
    add_photo(connection, visit_id, photo, f"demo-{visit_id}-{file}")

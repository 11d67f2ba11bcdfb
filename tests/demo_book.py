"""The demo's records, entered and examined once for all tests (`make test` does so before it begins): a file of records with
its lines written, every examination, and what the API answers to the front end's own tests (build/fixtures.json)."""

from __future__ import annotations

import json
import pickle
import shutil
from contextlib import closing
from functools import cache
from pathlib import Path

from icepick.core.document.examination import Examination
from icepick.core.document.visit import Visit
from icepick.core.examine import examine
from icepick.demo import demo_names, demo_visits, load_demo
from icepick.store.closing import day_of_work
from icepick.store.database import connect
from icepick.store.photo_files import PhotoFiles
from icepick.web import create_app
from icepick.web.summarizing import catch_up
from made import BUILD, digest, one_at_a_time, place, put

FIXTURES = BUILD / "fixtures.json"


@cache
def visits() -> dict[str, Visit]:
    """The demo's visits by their names, oldest first."""
    return dict(zip(demo_names(), (visit for _, visit in demo_visits()), strict=True))


def examined(name: str) -> Examination:
    """What is said of one of them by itself, in the field's units."""
    return _examinations()[name]


def copy_book(to: Path) -> Path:
    """The records with all that is beside them, as a file of one's own."""
    book = _made() / "icepick.db"
    shutil.copy(book, to)
    ours, theirs = PhotoFiles.beside(book).folder, PhotoFiles.beside(to).folder
    if ours.exists():
        shutil.copytree(ours, theirs, dirs_exist_ok=True)
    return to


@cache
def _examinations() -> dict[str, Examination]:
    return pickle.loads((_made() / "examined.pickle").read_bytes())


@cache
def _made() -> Path:
    """The folder they stand in; made where nobody did so today."""
    folder = place("demo", digest("src/icepick", "tests/demo_book.py", of=day_of_work()))
    with one_at_a_time("demo"):
        if not (folder / "examined.pickle").exists() or not FIXTURES.exists():
            _make(folder)
    return folder


def _make(folder: Path) -> None:
    from solved_before import keep_solved

    keep_solved()
    database = folder / "making.db"
    for old in folder.glob("making.db*"):
        old.unlink() if old.is_file() else shutil.rmtree(old)
    client = create_app(database).test_client()
    with closing(connect(database)) as connection:
        load_demo(connection)
        catch_up(connection)
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    pages = range(1, client.get("/api/visits").json["pages"] + 1)
    lines = [line for page in pages for line in client.get(f"/api/visits?page={page}").json["visits"]]
    answers = {
        "catalogue": client.get("/api/catalogue").json,
        "handbook": client.get("/api/handbook").json,
        "visits": [client.get(f"/api/visits/{line['id']}").json for line in lines],
    }
    put(FIXTURES, json.dumps(answers).encode())
    shutil.copy(database, folder / "icepick.db")
    shutil.copytree(PhotoFiles.beside(database).folder, PhotoFiles.beside(folder / "icepick.db").folder)
    put(folder / "examined.pickle", pickle.dumps({name: examine(visit) for name, visit in visits().items()}))


if __name__ == "__main__":
    _made()

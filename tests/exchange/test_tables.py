"""The records as tables: what their data package says of them is so, and they say what the records do."""

import csv
import json
import re
from contextlib import closing
from zipfile import ZipFile

import pytest

from archives import new_book, taken_out
from demo_book import copy_book, visits
from icepick.exchange.tables import as_typed
from icepick.store.database import connect, writing
from icepick.store.entries import withdraw
from icepick.store.practice import change
from icepick.store.visits import add_document
from lazily import Lazily

frictionless = Lazily("frictionless")

START = "2026-05-04T09:00:00.000+00:00"


@pytest.fixture(scope="module")
def unpacked(tmp_path_factory):
    place = tmp_path_factory.mktemp("tables")
    with closing(connect(copy_book(place / "book.db"))) as db:
        with writing(db):
            (key,) = db.execute("SELECT entry_key FROM readings LIMIT 1").fetchone()
            withdraw(db, key)
            change(db, "settling_time", 12)
        with ZipFile(taken_out(db)) as packed:
            packed.extractall(place)
        yield place, db


def test_a_reader_of_data_packages_finds_every_row_as_described(unpacked):
    place, _ = unpacked
    # An implementation of the Data Package and Table Schema specifications that is none of ours.
    report = frictionless.validate(str(place / "datapackage.json"))
    assert report.valid, report.flatten(["name", "rowNumber", "fieldName", "message"])[:5]
    assert len(report.tasks) == len(list(place.glob("tables/*.csv"))) == 14
    package = json.loads((place / "datapackage.json").read_text("utf-8"))
    for resource in package["resources"]:
        assert all(field["description"] for field in resource["schema"]["fields"])


def test_a_row_that_points_nowhere_is_seen_by_it(unpacked, tmp_path):
    place, _ = unpacked
    for part in [*place.glob("tables/*.csv"), place / "datapackage.json"]:
        copy = tmp_path / part.relative_to(place)
        copy.parent.mkdir(exist_ok=True)
        copy.write_bytes(part.read_bytes())
    runs = tmp_path / "tables/runs.csv"
    runs.write_bytes(runs.read_bytes().replace(b",run-1,", b",run-9,", 1))
    assert not frictionless.validate(str(tmp_path / "datapackage.json")).valid


CALCULATED = (
    '=HYPERLINK("http://x.invalid","open")',
    "+1+2",
    "-2+3",
    "@SUM(A1)",
    "\t=1",
    "'quoted'",
    "plain = text",
)


def test_no_cell_is_worked_out_by_a_spreadsheet_and_each_reads_back_as_it_was(tmp_path):
    """A spreadsheet takes a cell that begins with one of = + - @ for a formula [published: OWASP, CSV Injection]."""
    with new_book(tmp_path / "book.db") as db:
        name, visit = next((name, visit) for name, visit in visits().items() if not visit.unit.heads)
        for place, text in enumerate(CALCULATED):
            site = visit.site.model_copy(update={"name": f"{text} {place}"})
            run = visit.runs[0].model_copy(update={"notes": text})
            with writing(db):
                add_document(
                    db, visit.model_copy(update={"site": site, "runs": [run], "recordings": []}), START
                )
        with ZipFile(taken_out(db)) as packed:
            tables = {
                name: list(
                    csv.DictReader(packed.read(f"tables/{name}.csv").decode().splitlines(keepends=True))
                )
                for name in ("units", "notes")
            }
    for name, column in (("units", "site"), ("notes", "text")):
        cells = [row[column] for row in tables[name]]
        assert len(cells) == len(CALCULATED)
        assert not any(re.match(r"[=+\-@\t\r]", cell) for cell in cells), cells
        said = [f"{text} {place}" if name == "units" else text for place, text in enumerate(CALCULATED)]
        assert sorted(map(as_typed, cells)) == sorted(said)
    # Numbers below nothing stay numbers.
    assert as_typed("-7") == "-7"


def test_the_tables_hold_what_the_book_does(unpacked):
    place, db = unpacked
    for table, rows in {
        "units": "units",
        "visits": "visits",
        "runs": "runs",
        "readings": "readings",
        "observations": "observations",
        "recordings": "recordings",
    }.items():
        with (place / f"tables/{table}.csv").open(encoding="utf-8", newline="") as file:
            count = len(list(csv.DictReader(file)))
        assert count == db.execute(f"SELECT count(*) FROM {rows}").fetchone()[0] > 0, table
    with (place / "tables/readings.csv").open(encoding="utf-8", newline="") as file:
        readings = list(csv.DictReader(file))
    stored = {row["entry_key"]: row for row in db.execute("SELECT * FROM readings")}
    for row in readings:
        known = stored[row["entry"]]
        assert (row["station"], row["unit"], float(row["value"])) == (
            known["station"],
            known["unit"],
            known["value"],
        )
    assert sum(row["withdrawn_at"] != "" for row in readings) == 1
    with (place / "tables/samples.csv").open(encoding="utf-8", newline="") as file:
        samples = sum(1 for _ in csv.reader(file)) - 1
    held = [json.loads(row["document"]) for row in db.execute("SELECT document FROM recordings")]
    assert samples == sum(len(series["values"]) for one in held for series in one["series"]) > 100

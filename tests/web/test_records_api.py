"""Records out and in through the API, and at the terminal."""

import json
import subprocess
import sys
import time
from contextlib import closing
from io import BytesIO
from threading import Event, Thread
from zipfile import ZipFile

import pytest
from test_api import NEW_CALL, call_on, seen
from test_door import signed_in

from archives import files_of, many, new_book, packed_again, taken_out
from demo_book import copy_book
from draws import few
from icepick.demo import demo_names
from icepick.exchange import coming
from icepick.store import database
from icepick.store.database import connect, writing
from icepick.web import create_app
from people import make_people
from stored import all_visits

TABLES = [
    "sites",
    "units",
    "unit_revisions",
    "visits",
    "runs",
    "readings",
    "observations",
    "note_revisions",
    "audit",
    "hands",
]


VISITS = len(demo_names())
"""Of the demo."""
MANY = few(400, 1000)
"""Of a large archive."""


@pytest.fixture(scope="module")
def tarnwick(tmp_path_factory):
    """All of the demo's records as an archive."""
    with closing(connect(copy_book(tmp_path_factory.mktemp("tarnwick") / "demo.db"))) as db:
        yield taken_out(db)


@pytest.fixture(scope="module")
def large(tarnwick):
    """An archive of many visits."""
    return many(tarnwick, MANY)


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


def rows(client):
    with closing(connect(client.application.config["ICEPICK_DB"])) as db:
        return {table: db.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in TABLES}


def staged(client):
    place = client.application.config["ICEPICK_DB"]
    return list(place.parent.glob(f"{place.name}.import-*"))


def sent(client, file, part=100_000):
    """Send a file in parts; how far it has come."""
    content = file.read_bytes()
    one = client.post("/api/imports", json={"name": file.name, "bytes": len(content)}).json
    for at in range(0, len(content), part):
        one = put(client, one, at, content[at : at + part]).json
    return one


def put(client, one, at, part):
    return client.put(
        f"/api/imports/{one['id']}/part?at={at}", data=part, content_type="application/octet-stream"
    )


def followed(client, one, until=lambda now: now["state"] not in ("looking", "entering")):
    for _ in range(3000):
        now = client.get(f"/api/imports/{one['id']}").json
        if until(now):
            return now
        time.sleep(0.01)
    raise AssertionError(now)


def test_records_are_looked_at_and_then_entered(client, tarnwick):
    one = followed(client, sent(client, tarnwick))
    assert one["state"] == "looked"
    assert rows(client)["visits"] == 0, "looking enters nothing"
    assert one["coming"]["visits"] == {"new": VISITS}
    assert one["done"] == one["of"] == VISITS + one["coming"]["units"]["new"]
    assert len(one["coming"]["lines"]) == VISITS
    assert one["coming"]["lines"][0]["means"] == "new"
    assert client.post(f"/api/imports/{one['id']}/entry").status_code == 415
    one = client.post(f"/api/imports/{one['id']}/entry", json={}).json
    one = followed(client, one)
    assert (one["state"], one["trouble"]) == ("done", None)
    assert client.get("/api/visits").json["found"] == VISITS
    assert not staged(client)
    everything = client.get("/api/records/archive")
    assert everything.headers["Content-Disposition"] == "attachment; filename=icepick-everything.zip"
    ours = BytesIO(everything.data)
    assert files_of(ours) == files_of(tarnwick)
    # Once more: nothing is new.
    one = followed(client, sent(client, tarnwick))
    assert (one["coming"]["visits"], one["coming"]["entries"]) == ({"same": VISITS}, 0)
    # A visit and a unit leave alone, too.
    for address, visits in (("visits/1", 1), ("units/1", None)):
        with ZipFile(BytesIO(client.get(f"/api/{address}/archive").data)) as packed:
            held = [name for name in packed.namelist() if name.startswith("records/visits/")]
        assert len(held) == visits or (visits is None and len(held) >= 1)
    for nothing in ("visits/99", "units/99"):
        assert client.get(f"/api/{nothing}/archive").status_code == 404


def test_many_visits_stopped_in_the_middle_leave_nothing(client, large):
    call_on(client, **NEW_CALL)
    before = rows(client)
    one = followed(client, sent(client, large, 8_000_000))
    assert one["coming"]["visits"] == {"new": MANY}
    client.post(f"/api/imports/{one['id']}/entry", json={})
    halfway = followed(client, one, lambda now: now["done"] > MANY // 3)
    assert halfway["state"] == "entering"
    assert MANY // 3 < halfway["done"] < halfway["of"] == MANY + one["coming"]["units"]["new"]
    assert client.delete(f"/api/imports/{one['id']}").status_code == 200
    assert client.get(f"/api/imports/{one['id']}").status_code == 404
    for _ in range(500):
        if not staged(client):
            break
        time.sleep(0.01)
    assert rows(client) == before
    assert not staged(client)
    # Then it can be begun anew, and comes to its end.
    one = followed(client, sent(client, large, 8_000_000))
    client.post(f"/api/imports/{one['id']}/entry", json={})
    assert client.post("/api/imports", json={"name": "other.zip", "bytes": 5}).status_code in (201, 409)
    one = followed(client, one)
    assert one["state"] == "done"
    assert rows(client)["visits"] == before["visits"] + MANY


def test_who_stops_it_too_late_is_told_so(client, tarnwick, monkeypatch):
    one = followed(client, sent(client, tarnwick))
    nearly, go_on = Event(), Event()
    note = coming.note

    def held_up(*said):
        nearly.set()
        assert go_on.wait(10)
        note(*said)

    monkeypatch.setattr(coming, "note", held_up)
    client.post(f"/api/imports/{one['id']}/entry", json={})
    assert nearly.wait(10)
    refused = client.delete(f"/api/imports/{one['id']}")
    go_on.set()
    assert (refused.status_code, refused.json["detail"]) == (
        409,
        "It was too late to stop it: all of it is entered.",
    )
    assert followed(client, one)["state"] == "done"
    assert rows(client)["visits"] == VISITS


def test_an_import_that_is_killed_leaves_nothing(tmp_path, large):
    place = tmp_path / "icepick.db"
    with new_book(place) as db:
        before = db.execute("SELECT count(*) FROM audit").fetchone()[0]
    script = f"""
import time
from pathlib import Path
from icepick.exchange.coming import bring_in, source
from icepick.store.database import connect

def step(done, of):
    if done == {MANY // 2}:
        print("halfway", flush=True)
        time.sleep(60)

db = connect(Path({str(place)!r}))
with source(Path({str(large)!r}), db) as records:
    bring_in(db, records, "many.zip", step)
"""
    with subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE) as started:
        assert started.stdout.readline() == b"halfway\n"
        started.kill()
    with closing(connect(place)) as db:
        assert db.execute("SELECT count(*) FROM visits").fetchone()[0] == 0
        assert db.execute("SELECT count(*) FROM audit").fetchone()[0] == before
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"


def test_what_is_refused_says_why_and_is_forgotten(client, tarnwick):
    bad = packed_again(
        tarnwick,
        lambda files: files.update({"manifest.json": b'{"format":"icepick-archive","version":7}'}),
        honest=False,
    )
    one = followed(client, sent(client, bad))
    assert one["state"] == "refused"
    assert one["trouble"].startswith("It is of version 7 of the format; this Icepick reads version 1.")
    assert not staged(client)
    assert client.post(f"/api/imports/{one['id']}/entry", json={}).status_code == 409


def test_parts_come_in_their_order_and_are_of_a_size(client, tarnwick):
    one = client.post("/api/imports", json={"name": "a.zip", "bytes": 10}).json
    assert (one["state"], one["received"]) == ("arriving", 0)
    wrong = put(client, one, 5, b"12345")
    assert (wrong.status_code, wrong.json["detail"]) == (409, "The next part begins at 0.")
    assert put(client, one, 0, b"12345").json["received"] == 5
    assert put(client, one, 0, b"12345").status_code == 409, "sent twice"
    assert put(client, one, 5, b"123456").status_code == 409, "more than was said"
    assert put(client, one, 5, bytes(9_000_000)).status_code == 413
    assert client.put(f"/api/imports/{one['id']}/part?at=5", json={}).status_code == 415
    last = followed(client, put(client, one, 5, b"67890").json)
    assert (last["state"], last["trouble"]) == (
        "refused",
        "It is neither a ZIP archive nor a visit document.",
    )
    assert client.post("/api/imports", json={"name": "a.zip", "bytes": 3 * 1024**3}).status_code == 422
    assert client.get("/api/imports/nobody").status_code == 404


def test_it_is_entered_on_behalf_of_who_asked(tmp_path, tarnwick):
    make_people(tmp_path / "icepick.db", "lead", "technician")
    app = create_app(tmp_path / "icepick.db", locked=True)
    lead = signed_in(app, "lead")
    one = followed(lead, sent(lead, tarnwick))
    lead.post(f"/api/imports/{one['id']}/entry", json={})
    assert followed(lead, one)["state"] == "done"
    (last, *_) = lead.get("/api/audit").json["lines"]
    assert (last["by"], last["did"]) == ("lead", "brought in records from demo.db.zip")
    opened = lead.get("/api/audit?visit=1").json["lines"][-1]
    assert opened["by"] == "lead"
    assert opened["elsewhere"]["by"] is None
    assert opened["elsewhere"]["at"] is not None
    technician = signed_in(app, "technician")
    assert technician.get("/api/visits/1/archive").status_code == 200
    assert technician.get("/api/records/archive").status_code == 403


def test_who_types_while_much_is_entered_is_asked_to_send_it_again(client, monkeypatch):
    visit = call_on(client, **NEW_CALL)
    monkeypatch.setattr(database, "LONGEST_WAIT_S", 0.05)
    place, ready, over = client.application.config["ICEPICK_DB"], [], []

    def hold():
        with closing(connect(place)) as db, writing(db):
            ready.append(True)
            while not over:
                time.sleep(0.005)

    holder = Thread(target=hold)
    holder.start()
    while not ready:
        time.sleep(0.005)
    reading = {"station": "common_suction", "quantity": "temperature", "value": 52, "unit": "degF"}
    body = {"run": "run-1", "entry_key": "typed-meanwhile", "reading": reading}
    refused = client.post(f"/api/visits/{visit['id']}/readings", json=body)
    over.append(True)
    holder.join()
    assert refused.status_code == 503
    assert "another writer" in refused.json["detail"]
    assert refused.headers["Retry-After"]
    assert client.post(f"/api/visits/{visit['id']}/readings", json=body).status_code == 201
    assert len(seen(client, visit)["visit"]["runs"][0]["readings"]) == 1


def test_records_go_out_and_in_at_the_terminal(tmp_path, tarnwick):
    from click.testing import CliRunner

    from icepick.cli import main

    def run(*words, **options):
        return CliRunner().invoke(main, [str(word) for word in words], **options)

    place, out = tmp_path / "icepick.db", tmp_path / "out.zip"
    assert "there are no records" in run("export", out, "--db", place).output
    asked = run("import", tarnwick, "--db", place, input="n\n")
    assert f"visits: {VISITS} new" in asked.stdout
    assert asked.exit_code == 1
    with closing(connect(place)) as db:
        assert not all_visits(db)
    assert "Entered." in run("import", tarnwick, "--db", place, "--yes").stdout
    again = run("import", tarnwick, "--db", place, "--yes")
    assert f"visits: {VISITS} stand here already" in again.stdout
    assert "Nothing to enter." in again.stdout
    assert run("export", out, "--db", place).exit_code == 0
    assert files_of(out) == files_of(tarnwick)
    assert out.stat().st_mode & 0o077 == 0
    assert "there is no visit 99" in run("export", out, "--db", place, "--visit", 99).output
    assert run("export", tmp_path / "one.zip", "--db", place, "--visit", 3).exit_code == 0
    (tmp_path / "bad.zip").write_text("PK no")
    assert (
        "neither a ZIP archive nor a visit document"
        in run("import", tmp_path / "bad.zip", "--db", place).output
    )
    # The visit documents of an archive are what the command line examines.
    with ZipFile(tmp_path / "one.zip") as packed:
        (document,) = [name for name in packed.namelist() if name.startswith("visits/")]
        packed.extract(document, tmp_path)
    found = run("examine", tmp_path / document)
    assert json.loads(found.stdout)["format"] == "icepick-examination"

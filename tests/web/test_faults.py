"""What can go wrong with the file, each by doing it: a clear message and the right status; nothing acknowledged is lost."""

import errno
import logging
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import timedelta

import pytest
from test_api import NEW_CALL, call_on, seen, take
from test_lines import lines_when

from icepick.store import database
from icepick.store.backup import back_up, look_through, restore
from icepick.store.database import DatabaseError, connect, prepare
from icepick.web import connection, create_app
from icepick.web.copies import Copies


@pytest.fixture
def path(tmp_path):
    return tmp_path / "icepick.db"


@pytest.fixture
def client(path):
    return create_app(path).test_client()


def with_every_connection(monkeypatch, *statements):
    """Have each connection opened from now on begin with these."""

    def opened(path, **more):
        made = connect(path, **more)
        made.executescript(";".join(statements))
        return made

    monkeypatch.setattr(connection, "connect", opened)


def afresh(client):
    """A client whose connections are opened anew."""
    client.application.extensions["icepick.connections"] = type("Held", (), {})()


def counted(client, visit):
    return len(seen(client, visit)["visit"]["runs"][0]["readings"])


def health(client):
    answer = client.get("/healthz")
    return answer.status_code, answer.json.get("reason", "")


def test_all_is_well(client):
    assert client.get("/healthz").json == {"status": "ok"}


def test_a_full_disk(client, monkeypatch, path):
    visit = call_on(client, **NEW_CALL)
    with closing(connect(path)) as db:
        (pages,) = db.execute("PRAGMA page_count").fetchone()
    with_every_connection(monkeypatch, f"PRAGMA max_page_count = {pages + 2}")
    afresh(client)
    taken = 0
    while (answer := take(client, visit, "discharge_line", 100 + taken / 10)).status_code == 201:
        taken += 1
    assert (answer.status_code, answer.mimetype) == (507, "application/problem+json")
    assert "the disk is full" in answer.json["detail"]
    assert answer.headers["Retry-After"]
    assert counted(client, visit) == taken
    monkeypatch.undo()
    afresh(client)
    assert take(client, visit, "discharge_line", 100 + taken / 10).status_code == 201
    assert counted(client, visit) == taken + 1


def test_health_is_not_well_where_the_disk_takes_nothing_more(client, monkeypatch):
    """What is rolled back is never written: on a full disk the probe of the file alone answered 200."""

    def full(descriptor):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(database.os, "fsync", full)
    assert health(client) == (503, "the disk takes nothing more: No space left on device")
    monkeypatch.undo()
    assert health(client) == (200, "")


def test_a_file_that_may_not_be_written(client, monkeypatch, path):
    visit = call_on(client, **NEW_CALL)
    with_every_connection(monkeypatch, "PRAGMA query_only = ON")
    afresh(client)
    answer = take(client, visit, "discharge_line", 170)
    assert answer.status_code == 503
    assert "read-only" in answer.json["detail"]
    assert counted(client, visit) == 0
    assert client.get("/api/visits").status_code == 200
    assert "read-only" in health(client)[1]
    monkeypatch.setattr(
        database,
        "connect",
        lambda path, **_: sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True, isolation_level=None),
    )
    with pytest.raises(DatabaseError, match="read-only; its owner"):
        prepare(path)


def test_a_file_that_another_program_holds(client, monkeypatch, path):
    visit = call_on(client, **NEW_CALL)
    with_every_connection(monkeypatch, "PRAGMA busy_timeout = 50")
    afresh(client)
    with closing(connect(path)) as other:
        other.execute("BEGIN IMMEDIATE")
        answer = take(client, visit, "discharge_line", 170)
        assert (answer.status_code, answer.headers["Retry-After"]) == (503, "2")
        assert "holds it locked" in answer.json["detail"]
        assert health(client) == (503, "another writer holds it locked")
        # Who only reads is not held up.
        assert client.get("/api/visits").status_code == 200
        other.execute("ROLLBACK")
    assert take(client, visit, "discharge_line", 170).status_code == 201
    assert health(client)[0] == 200


def test_a_file_that_is_deleted_under_the_server(client, path, tmp_path):
    summarizer = client.application.extensions["icepick.summarizer"]
    summarizer.start()
    visit = call_on(client, **NEW_CALL)
    take(client, visit, "discharge_line", 170)
    back_up(path, tmp_path / "copy.db")
    path.unlink()
    answer = take(client, visit, "common_suction", 50)
    assert answer.status_code == 503
    assert "it is gone" in answer.json["detail"]
    status, reason = health(client)
    assert (status, "icepick restore" in reason) == (503, True)
    assert client.get("/api/visits").status_code == 503
    for left in path.parent.glob("icepick.db-*"):
        left.unlink()
    restore(tmp_path / "copy.db", path)
    assert counted(client, visit) == 1
    assert take(client, visit, "common_suction", 50).status_code == 201
    assert counted(client, visit) == 2
    (line,) = lines_when(client, lambda found: found["visits"][0]["up_to_date"])["visits"]
    assert line["up_to_date"]
    summarizer.stop()


def test_a_damaged_file(client, path):
    call_on(client, **NEW_CALL)
    with closing(connect(path)) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        (page,) = db.execute("SELECT rootpage FROM sqlite_schema WHERE name = 'runs'").fetchone()
    data = bytearray(path.read_bytes())
    data[4096 * (page - 1) : 4096 * page] = b"\xa5" * 4096
    path.write_bytes(data)
    afresh(client)
    answer = client.get("/api/visits/1")
    assert answer.status_code == 503
    assert "it is damaged; restore a backup" in answer.json["detail"]


@pytest.mark.parametrize(
    "made",
    [
        "CREATE TABLE songs (name TEXT)",
        "PRAGMA user_version = 3; CREATE TABLE visits (x)",
        "PRAGMA application_id = 5",
    ],
)
def test_another_programs_file_is_left_alone(path, made):
    with closing(sqlite3.connect(path)) as other:
        other.executescript(made)
    before = path.read_bytes()
    with pytest.raises(DatabaseError, match="another program's file"):
        create_app(path)
    assert path.read_bytes() == before


def test_an_error_of_ours_is_not_laid_on_the_file(client, monkeypatch):
    monkeypatch.setattr(
        "icepick.web.equipment.all_units", lambda db: db.execute("SELECT nothing FROM nowhere").fetchall()
    )
    answer = client.get("/api/units")
    assert (answer.status_code, "nowhere" in answer.text) == (500, False)


def test_servers_that_start_on_a_new_file_at_once_make_it_once(tmp_path):
    command = "import sys; from pathlib import Path; from icepick.store.database import prepare; prepare(Path(sys.argv[1]))"
    for n in range(3):
        path = tmp_path / f"{n}.db"
        first = [subprocess.Popen([sys.executable, "-c", command, str(path)]) for _ in range(5)]
        assert [one.wait(timeout=60) for one in first] == [0] * 5
        with closing(sqlite3.connect(path)) as db:
            assert db.execute("PRAGMA application_id").fetchone() == (database.APPLICATION_ID,)
            assert db.execute("PRAGMA integrity_check").fetchone() == ("ok",)


def test_the_server_copies_the_records_by_itself(client, path, tmp_path, caplog):
    call_on(client, **NEW_CALL)
    folder = tmp_path / "copies"
    copies = Copies(path, folder, timedelta(hours=24), keep=2)
    copies.start()
    found = lines_when(client, lambda _: list(folder.glob("icepick-*Z.db")))
    copies.stop()
    assert found["found"] == 1
    (copy,) = folder.iterdir()
    assert look_through(copy).visits == 1
    client.application.extensions["icepick.copies"] = copies
    assert client.get("/healthz").json["last_copy"].startswith("20")
    # The newest is not a day old.
    again = Copies(path, folder, timedelta(hours=24), keep=2)
    again.start()
    again.stop()
    assert list(folder.iterdir()) == [copy]
    # A copy that can't be made is no secret.
    failing = Copies(path, tmp_path / "icepick.db" / "copies", timedelta(hours=24), keep=2)
    failing.start()
    failing.stop()
    client.application.extensions["icepick.copies"] = failing
    assert health(client)[0] == 503
    assert "no copy of the records was made" in health(client)[1]


def test_a_log_of_requests_names_nobody(tmp_path):
    log = tmp_path / "access.log"
    client = create_app(tmp_path / "icepick.db", access_log=log).test_client()
    visit = call_on(client, **NEW_CALL)
    client.get("/api/visits?words=Mrs+Heron+of+Quay+Street")
    client.get("/Mrs-Heron/complains").close()
    client.put(f"/api/visits/{visit['id']}/runs/Mrs%20Herons%20run/notes", json={"text": "Mrs Heron"})
    logging.getLogger("icepick.access").handlers[-1].close()
    logging.getLogger("icepick.access").handlers.clear()
    lines = log.read_text().splitlines()
    assert len(lines) == 5
    assert not any("eron" in line or "words" in line or "Test Hall" in line for line in lines)
    assert " GET /api/visits/1 200 " in lines[1]
    assert " PUT /api/visits/1/runs/<run>/notes 428 " in lines[4]

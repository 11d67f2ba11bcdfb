"""The database file: nothing recorded is lost, changed or doubled."""

import json
import sqlite3
from contextlib import closing

import pytest

from builders import as_visit, valve_run
from icepick.core.document.visit import Reading, parse_visit
from icepick.demo import demo_visits
from icepick.store import database
from icepick.store.database import DatabaseError, connect, prepare, writing
from icepick.store.entries import add_reading, set_notes
from icepick.store.units import all_units
from icepick.store.visits import add_document, find_run, find_visit
from stored import all_visits


@pytest.fixture
def path(tmp_path):
    path = tmp_path / "icepick.db"
    prepare(path)
    return path


@pytest.fixture
def db(path):
    with closing(connect(path)) as connection:
        yield connection


def test_a_visit_comes_back_word_for_word(db):
    with writing(db):
        numbers = {add_document(db, visit, opened): visit for opened, visit in demo_visits()}
    for number, visit in numbers.items():
        stored = find_visit(db, number)
        assert stored is not None
        assert stored.document == visit
        assert parse_visit(stored.document.model_dump_json()) == visit
    opened = [stored.opened_at for stored in all_visits(db)]
    assert opened == sorted(opened, reverse=True)
    # Some were visited twice; a unit stands in the book once.
    described = {(visit.site.model_dump_json(), visit.unit.model_dump_json()) for visit in numbers.values()}
    assert len(described) < len(numbers)
    assert len(all_units(db)) == len(described)


def test_readings_and_unit_revisions_cannot_be_changed_or_removed(db):
    with writing(db):
        visit = add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)))
        set_notes(db, find_run(db, visit, "cooling"), "fan hums", 0)
    for statement in (
        "UPDATE readings SET value = 0",
        "DELETE FROM readings",
        "UPDATE unit_revisions SET document = '{}'",
        "DELETE FROM unit_revisions",
        "UPDATE note_revisions SET text = ''",
        "DELETE FROM note_revisions",
    ):
        with pytest.raises(sqlite3.IntegrityError, match="appended, never"):
            db.execute(statement)


def test_a_reading_sent_twice_is_kept_once(db):
    with writing(db):
        visit = add_document(db, as_visit(valve_run("cooling", 170, None, None, None)))
    run = find_run(db, visit, "cooling")
    reading = Reading(station="common_suction", quantity="temperature", value=52, unit="degF")
    assert [add_reading(db, run, reading, "a key of its own") for _ in range(2)] == [True, False]
    stored = find_visit(db, visit)
    assert stored is not None
    assert [r.station for r in stored.document.runs[0].readings] == ["discharge_line", "common_suction"]


def test_a_failed_write_leaves_nothing_behind(db):
    def fail_halfway():
        with writing(db):
            add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)))
            raise RuntimeError("half way")

    with pytest.raises(RuntimeError):
        fail_halfway()
    assert all_visits(db) == []
    assert all_units(db) == []


def test_the_file_is_safe_against_a_pulled_plug(db):
    assert db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    assert db.execute("PRAGMA synchronous").fetchone()[0] == 2  # FULL: each commit reaches the disk
    assert db.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    strict = db.execute(
        "SELECT strict FROM pragma_table_list WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"
    )
    assert {row[0] for row in strict} == {1}


def test_an_older_file_is_copied_and_brought_up_to_date(path, tmp_path, monkeypatch):
    with closing(connect(path)) as db, writing(db):
        add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)))
        (version,) = db.execute("PRAGMA user_version").fetchone()
    newer = tmp_path / "package" / "schema"
    newer.mkdir(parents=True)
    for number in range(version + 1):
        (newer / f"{number + 1:03}_step.sql").write_text(
            "CREATE TABLE later (id INTEGER PRIMARY KEY) STRICT;"
        )
    monkeypatch.setattr(database, "files", lambda _: newer.parent)
    prepare(path)
    with closing(connect(path)) as db:
        assert db.execute("PRAGMA user_version").fetchone()[0] == version + 1
        assert len(all_visits(db)) == 1
    with closing(connect(path.with_name(f"icepick.db.schema-{version}.bak"))) as copy:
        assert copy.execute("PRAGMA user_version").fetchone()[0] == version
        assert len(all_visits(copy)) == 1


def test_a_failing_migration_changes_nothing(path, tmp_path, monkeypatch):
    with closing(connect(path)) as db:
        (version,) = db.execute("PRAGMA user_version").fetchone()
    broken = tmp_path / "package" / "schema"
    broken.mkdir(parents=True)
    for number in range(version + 1):
        (broken / f"{number + 1:03}_step.sql").write_text("CREATE TABLE half (id INTEGER) STRICT; NONSENSE;")
    monkeypatch.setattr(database, "files", lambda _: broken.parent)
    with pytest.raises(DatabaseError):
        prepare(path)
    with closing(connect(path)) as db:
        assert db.execute("PRAGMA user_version").fetchone()[0] == version
        assert not db.execute("SELECT 1 FROM sqlite_schema WHERE name = 'half'").fetchone()


def test_a_file_of_a_newer_icepick_and_a_file_that_is_none_are_refused(path, tmp_path):
    with closing(connect(path)) as db:
        db.execute("PRAGMA user_version = 999")
    with pytest.raises(DatabaseError, match="written by a newer Icepick"):
        prepare(path)
    other = tmp_path / "letter.db"
    other.write_text(json.dumps("a letter to the library") * 100)
    with pytest.raises(DatabaseError, match="can't be used"):
        prepare(other)

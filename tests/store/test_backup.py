"""Copies of the records: made while they are written to, looked through, put back."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta
from threading import Thread

import pytest

from builders import SPLIT_UNIT
from icepick.core.document.visit import Reading, Site, Unit
from icepick.store.backup import back_up, back_up_into, copies_in, look_through, made_at, restore
from icepick.store.database import DatabaseError, connect, prepare, writing
from icepick.store.entries import add_reading
from icepick.store.summaries import last_revision, revision_of
from icepick.store.units import add_unit
from icepick.store.visits import add_run, open_visit
from stored import all_visits

READING = Reading(station="common_suction", quantity="temperature", value=52, unit="degF")


@pytest.fixture
def records(tmp_path):
    path = tmp_path / "icepick.db"
    prepare(path)
    with closing(connect(path)) as db:
        write_visit(db)
    return path


def write_visit(db):
    with writing(db):
        unit = add_unit(db, Site(name="Boat Shed"), Unit.model_validate(SPLIT_UNIT))
        run = add_run(db, open_visit(db, unit, None), "cooling").row
        add_reading(db, run, READING)


def held(path):
    with closing(connect(path)) as db:
        return [len(visit.document.runs[0].readings) for visit in all_visits(db)]


def test_a_copy_of_records_that_are_written_to_is_whole_and_of_one_moment(records, tmp_path):
    written, stop = [0], []

    def keep_writing():
        with closing(connect(records)) as db:
            while not stop:
                with writing(db):
                    # Two at a time: a copy of one moment never holds an odd number.
                    add_reading(db, 1, READING)
                    add_reading(db, 1, READING)
                written[0] += 2

    thread = Thread(target=keep_writing)
    thread.start()
    try:
        copies = [back_up(records, tmp_path / f"copy-{n}.db") for n in range(5)]
    finally:
        stop.append(True)
        thread.join()
    assert written[0] > 0
    assert all((copy.units, copy.visits, copy.readings % 2) == (1, 1, 1) for copy in copies)
    assert [copy.readings for copy in copies] == sorted(copy.readings for copy in copies)
    assert look_through(tmp_path / "copy-4.db") == copies[4]
    assert not list(tmp_path.glob("copy-*.db?*"))


def test_a_copy_overwrites_nothing_and_leaves_nothing_half_done(records, tmp_path):
    standing = tmp_path / "copy.db"
    standing.write_text("a letter")
    with pytest.raises(DatabaseError, match="there already"):
        back_up(records, standing)
    assert standing.read_text() == "a letter"
    with pytest.raises(DatabaseError, match="no records"):
        back_up(tmp_path / "nothing.db", tmp_path / "copy-2.db")
    with pytest.raises(DatabaseError, match="can't be written"):
        back_up(records, standing / "copy.db")
    assert sorted(one.name for one in tmp_path.glob("copy*")) == ["copy.db"]


def damaged_page(path):
    data = bytearray(path.read_bytes())
    data[4096 * 3 : 4096 * 6] = b"\xa5" * 4096 * 3
    path.write_bytes(data)


def torn_off(path):
    path.write_bytes(path.read_bytes()[: 4096 * 5])


def another_programs(path):
    path.unlink()
    with closing(sqlite3.connect(path)) as other:
        other.executescript(
            "CREATE TABLE songs (name TEXT); PRAGMA user_version = 9; PRAGMA application_id = 77"
        )


def newer(path):
    with closing(sqlite3.connect(path)) as copy:
        copy.execute("PRAGMA user_version = 999")


def hanging(path):
    with closing(sqlite3.connect(path)) as copy:
        copy.executescript("DROP TRIGGER readings_stay; UPDATE readings SET run_id = 88")


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (damaged_page, "damaged"),
        (torn_off, "damaged"),
        (another_programs, "another program's"),
        (newer, "newer Icepick"),
        (hanging, "hangs in the air"),
        (lambda path: path.write_text("a letter " * 900), "no database"),
        (lambda path: path.write_bytes(b""), "is empty"),
        (lambda path: path.unlink(), "is not there"),
    ],
)
def test_a_copy_that_is_no_good_is_never_put_in_the_place_of_the_records(records, tmp_path, spoil, words):
    copy = tmp_path / "copy.db"
    back_up(records, copy)
    spoil(copy)
    before = held(records)
    with pytest.raises(DatabaseError, match=words):
        restore(copy, records)
    assert held(records) == before
    assert not list(tmp_path.glob("*.bak"))


def test_what_is_put_back_is_what_was_copied_and_what_stood_there_is_kept(records, tmp_path):
    copy = tmp_path / "copy.db"
    back_up(records, copy)
    with closing(connect(records)) as server:
        write_visit(server)
        given_out = last_revision(server)
        _, kept = restore(copy, records)
        # Who has the file open goes on with what was put back.
        assert len(all_visits(server)) == 1
        # No revision that a screen may hold stands for anything else now.
        assert revision_of(server, 1) > given_out
        write_visit(server)
    assert held(records) == [1, 1]
    assert held(kept) == [1, 1]
    restore(copy, tmp_path / "another machine" / "icepick.db")
    assert held(tmp_path / "another machine" / "icepick.db") == [1]


@pytest.mark.parametrize("spoil", [damaged_page, lambda path: path.write_text("a letter " * 900)])
def test_damaged_records_are_moved_aside_for_what_was_copied(records, tmp_path, spoil):
    copy = tmp_path / "copy.db"
    back_up(records, copy)
    with closing(connect(records)) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    spoil(records)
    spoiled = records.read_bytes()
    _, kept = restore(copy, records)
    assert held(records) == [1]
    assert kept.read_bytes() == spoiled
    # Another program's file is nobody's to move.
    another_programs(records)
    before = records.read_bytes()
    with pytest.raises(DatabaseError, match="another program's"):
        restore(copy, records)
    assert records.read_bytes() == before


def test_the_oldest_copies_go_and_nothing_else_does(records, tmp_path):
    folder = tmp_path / "copies"
    folder.mkdir()
    for day in range(1, 6):
        (folder / f"icepick-2026-01-0{day}T030000Z.db").write_text("an old copy")
    (folder / "icepick-holiday.db").write_text("somebody's own")
    made = back_up_into(records, folder, keep=3)
    assert [one.name for one in copies_in(folder)] == [
        "icepick-2026-01-04T030000Z.db",
        "icepick-2026-01-05T030000Z.db",
        made.name,
    ]
    assert (folder / "icepick-holiday.db").exists()
    assert datetime.now(UTC) - made_at(made) < timedelta(minutes=1)
    assert look_through(made).visits == 1
    with pytest.raises(DatabaseError):
        back_up_into(tmp_path / "nothing.db", folder, keep=1)
    assert len(copies_in(folder)) == 3

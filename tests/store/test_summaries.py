"""The line of each visit: its facts follow whatever is written, and what is out of date is known to be."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from importlib.resources import files

import pytest

from builders import SPLIT_UNIT, as_visit, valve_run
from icepick.core.document.recording import Mark, Recording
from icepick.core.document.visit import Observation, Reading, Site, Unit
from icepick.store import closing as closings
from icepick.store import summaries
from icepick.store.database import connect, prepare, writing
from icepick.store.entries import add_observation, add_reading, set_notes, withdraw
from icepick.store.recordings import add_mark, add_recording
from icepick.store.summaries import Said, Wanted
from icepick.store.units import add_unit, find_unit, revise_unit
from icepick.store.visits import (
    add_document,
    add_run,
    find_run,
    open_visit,
    remove_run,
    set_clock,
    set_compressor,
)

READING = Reading(station="common_suction", quantity="temperature", value=52, unit="degF")
SEEN = Observation(code="outdoor_fan_running", value=True)
RECORDED = Recording(id="recording-1", mode="heating", started_at=datetime(2026, 1, 15, 7, tzinfo=UTC))


@pytest.fixture
def db(tmp_path):
    prepare(tmp_path / "icepick.db")
    with closing(connect(tmp_path / "icepick.db")) as connection:
        yield connection


@pytest.fixture
def visits(db):
    """Three to one unit, an hour apart, and one to another."""
    with writing(db):
        unit = add_unit(db, Site(name="Boat Shed"), Unit.model_validate(SPLIT_UNIT))
        other = add_unit(db, Site(name="Café Späth"), Unit.model_validate(SPLIT_UNIT))
        made = [open_visit(db, unit, "weak", f"2030-01-02T0{hour}:00:00+00:00") for hour in (5, 6, 7)]
        made.append(open_visit(db, other, None, "2030-01-02T23:30:00-05:00"))
        for visit in made:
            add_run(db, visit, "cooling")
            set_notes(db, find_run(db, visit, "run-1"), "fan hums", 0)
            add_recording(db, visit, RECORDED, f"recording {visit}")
    return made


def found(db, **wanted):
    return [row["visit_id"] for row in summaries.find(db, Wanted(**wanted), "basis", 0, 25).lines]


def examine_all(db, basis="basis", outcome="pass"):
    """Write all lines as the server does, in the order it does."""
    while waiting := summaries.out_of_date(db, basis):
        for visit in waiting:
            with writing(db):
                revision, last = summaries.revision_of(db, visit), summaries.last_revision(db)
                summaries.write(db, visit, revision, last, basis, Said(outcome, f"{outcome} by {basis}"))


def _described_anew(db, visit, run):
    unit = find_unit(db, 1)
    revise_unit(db, 1, unit.unit.model_copy(update={"label": "slip"}), unit.revision)


def _emptied(db, visit, run):
    remove_run(db, visit, add_run(db, visit, "heating").row)


WRITINGS = {
    "a reading": lambda db, visit, run: add_reading(db, run, READING),
    "an observation": lambda db, visit, run: add_observation(db, run, SEEN),
    "a note": lambda db, visit, run: set_notes(db, run, "fan hums louder", _notes_revision(db, run)),
    "a run": lambda db, visit, run: add_run(db, visit, "heating"),
    "a clock": lambda db, visit, run: set_clock(db, run, None, 12),
    "a load": lambda db, visit, run: set_compressor(db, run, "low", None),
    "a run removed": _emptied,
    "a recording": lambda db, visit, run: add_recording(db, visit, RECORDED.model_copy(update={"id": "two"})),
    "a mark": lambda db, visit, run: add_mark(
        db, visit, "recording-1", Mark(seconds=3, code="defrost_forced"), "a mark of its own"
    ),
    "a recording taken back": lambda db, visit, run: withdraw(db, f"recording {visit}"),
    "a closing": lambda db, visit, run: closings.close(db, visit),
    "the unit": _described_anew,
}


def _notes_revision(db, run):
    return db.execute("SELECT max(id) FROM note_revisions WHERE run_id = ?", (run,)).fetchone()[0]


@pytest.mark.parametrize("what", WRITINGS)
def test_whatever_is_written_of_a_visit_moves_its_revision_on_and_no_others(db, visits, what):
    newest = visits[2]
    before = [summaries.revision_of(db, visit) for visit in visits]
    last = summaries.last_revision(db)
    with writing(db):
        WRITINGS[what](db, newest, find_run(db, newest, "run-1"))
    after = [summaries.revision_of(db, visit) for visit in visits]
    assert after[2] > last
    assert after[:2] + after[3:] == before[:2] + before[3:]
    assert [visit for visit, _ in summaries.written_since(db, last)] == [newest]
    # It is examined beside the two before it, and they without it.
    assert [summaries.revision_beside(db, visit) > last for visit in visits] == [False, False, True, False]


@pytest.mark.parametrize("table", ["reading", "observation", "mark"])
def test_taking_back_an_entry_moves_its_visit_on(db, visits, table):
    run = find_run(db, visits[0], "run-1")
    with writing(db):
        if table == "reading":
            add_reading(db, run, READING, "the entry")
        elif table == "observation":
            add_observation(db, run, SEEN, "the entry")
        else:
            add_mark(db, visits[0], "recording-1", Mark(seconds=3, code="defrost_forced"), "the entry")
        last = summaries.last_revision(db)
        withdraw(db, "the entry")
    assert [visit for visit, _ in summaries.written_since(db, last)] == [visits[0]]


def test_a_line_says_what_is_so_in_the_transaction_that_makes_it_so(db, visits):
    first, second, third, other = visits
    assert found(db) == [other, third, second, first]
    assert found(db, words="spath CAFE") == [other]
    assert found(db, words="hum boat") == [third, second, first]
    assert found(db, words="ums") == []
    assert found(db, mode="heating") == []
    # Half past eleven at night in the east is the next day in Greenwich.
    assert found(db, since="2030-01-03T00:00:00.000Z") == [other]
    with writing(db):
        add_run(db, first, "heating")
        set_notes(db, find_run(db, first, "run-2"), "slip knocks", 0)
        _described_anew(db, third, None)
        removed = open_visit(db, find_unit(db, 1), "weak")
        run = add_run(db, removed, "cooling").row
        assert remove_run(db, removed, run)
    assert found(db, mode="heating") == [first]
    assert found(db, words="slip") == [third, first]
    assert found(db, words="fan boat") == [third, second, first]
    assert removed not in found(db)
    (line,) = summaries.find(db, Wanted(words="knock"), "basis", 0, 25).lines
    assert (line["modes"], line["notes"]) == ("cooling heating", "fan hums\nslip knocks")


def test_what_is_out_of_date_is_known_to_be(db, visits):
    first, second, third, other = visits
    # The unit of the newest visit first, and of a unit the oldest visit first.
    assert summaries.out_of_date(db, "basis") == [other]
    examine_all(db)
    assert summaries.out_of_date(db, "other limits") == [other]
    assert summaries.count_out_of_date(db, "basis") == 0
    assert summaries.count_out_of_date(db, "other limits") == 4
    with writing(db):
        add_reading(db, find_run(db, second, "run-1"), READING)
    assert summaries.out_of_date(db, "basis") == [second]
    with writing(db):
        revision, last = summaries.revision_of(db, second), summaries.last_revision(db)
        later = summaries.write(db, second, revision, last, "basis", Said("fail", "now fails"))
    # The one after it was examined beside what it was.
    assert later == [third]
    assert summaries.out_of_date(db, "basis") == [third]
    assert found(db, outcome="fail") == [second]
    # What was begun before something else was written says nothing of that.
    with writing(db):
        add_reading(db, find_run(db, first, "run-1"), READING)
        now = summaries.revision_of(db, first)
        summaries.write(db, first, now, now, "basis", Said("pass", "newer"))
        assert summaries.write(db, first, now - 1, now - 1, "basis", Said("fail", "older")) == []
    assert found(db, outcome="fail") == [second]


def test_what_a_visit_read_before_the_limits_changed_is_kept_beside_it(db, visits):
    def former():
        rows = summaries.find(db, Wanted(), "other limits", 0, 25).lines
        return [row["former_headline"] for row in rows]

    examine_all(db)
    assert former() == [None] * 4
    examine_all(db, "other limits", "fail")
    assert former() == ["pass by basis"] * 4
    with writing(db):
        add_reading(db, find_run(db, visits[3], "run-1"), READING)
    examine_all(db, "other limits", "fail")
    assert former() == [None, *["pass by basis"] * 3]


def test_a_file_of_before_there_were_lines_gets_them(tmp_path):
    path = tmp_path / "icepick.db"
    scripts = sorted(files("icepick.store").joinpath("schema").iterdir(), key=lambda one: one.name)[:8]
    with closing(connect(path, make=True)) as old:
        for script in scripts:
            old.executescript(script.read_text("utf-8"))
        old.execute("PRAGMA user_version = 8")
    prepare(tmp_path / "now.db")
    with closing(connect(tmp_path / "now.db")) as db, writing(db):
        made = add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)))
        gone = open_visit(db, find_unit(db, 1), None)
        assert remove_run(db, gone, add_run(db, gone, "cooling").row)
    with closing(connect(path)) as old:
        # What a book of that time held of it.
        old.execute("ATTACH ? AS now", (str(tmp_path / "now.db"),))
        for table in (
            "sites",
            "units",
            "unit_revisions",
            "visits",
            "runs",
            "readings",
            "removed_runs",
            "removed_visits",
        ):
            names = ", ".join(row["name"] for row in old.execute(f"PRAGMA main.table_info({table})"))
            old.execute(f"INSERT INTO main.{table} ({names}) SELECT {names} FROM now.{table}")
    prepare(path)
    with closing(connect(path)) as db:
        assert found(db) == found(db, words="test") == summaries.out_of_date(db, "basis") == [made]


def test_search_takes_any_words(db, visits):
    for words in ('"', "'", "a AND", "NEAR(", "{site}: x", "-", "* *", "\x00", "site:boat", "b" * 200):
        assert isinstance(found(db, words=words), list)
    with pytest.raises(sqlite3.OperationalError):
        db.execute("SELECT * FROM summary_words WHERE summary_words MATCH 'NEAR('").fetchall()

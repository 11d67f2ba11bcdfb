"""When a visit is closed: by a press, or at the end of its day where the server stands."""

import time
from contextlib import closing as closed_after

import pytest

from builders import as_visit, valve_run
from icepick.store import closing
from icepick.store.database import connect, prepare, writing
from icepick.store.visits import add_document

LAKE_TIME = "EST5EDT,M3.2.0,M11.1.0"


@pytest.fixture
def db(tmp_path, monkeypatch):
    monkeypatch.setenv("TZ", LAKE_TIME)
    time.tzset()
    prepare(tmp_path / "icepick.db")
    with closed_after(connect(tmp_path / "icepick.db")) as connection:
        yield connection
    monkeypatch.undo()
    time.tzset()


@pytest.fixture
def at(monkeypatch):
    return lambda moment: monkeypatch.setattr(closing, "now", lambda: moment)


def call(db, opened_at):
    with writing(db):
        return add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)), opened_at)


# Four in the morning by the lake is nine in the morning in Greenwich in winter, eight in summer.
@pytest.mark.parametrize(
    ("opened", "still_open", "closed"),
    [
        ("2026-01-15T15:00:00+00:00", "2026-01-16T08:59:59+00:00", "2026-01-16T09:00:00+00:00"),
        ("2026-07-15T15:00:00+00:00", "2026-07-16T07:59:59+00:00", "2026-07-16T08:00:00+00:00"),
        # A quarter to midnight, and a quarter past one: the same night's work.
        ("2026-01-16T04:45:00+00:00", "2026-01-16T08:59:59+00:00", "2026-01-16T09:00:00+00:00"),
        ("2026-01-16T06:15:00+00:00", "2026-01-16T08:59:59+00:00", "2026-01-16T09:00:00+00:00"),
        # An early start, after four: the day is that of the morning.
        ("2026-01-16T09:30:00+00:00", "2026-01-17T08:59:59+00:00", "2026-01-17T09:00:00+00:00"),
        # The night the clocks go back has an hour more.
        ("2026-10-31T15:00:00+00:00", "2026-11-01T08:59:59+00:00", "2026-11-01T09:00:00+00:00"),
    ],
)
def test_a_visit_closes_at_the_end_of_its_day_by_the_clock_of_the_place(db, at, opened, still_open, closed):
    visit = call(db, opened)
    at(still_open)
    assert closing.closing(db, visit).closed_at is None
    before = closing.day_of_work()
    at(closed)
    assert closing.closing(db, visit).closed_at == closed
    assert closing.day_of_work() != before


def test_each_press_is_kept_and_an_opened_one_closes_again_after_that_day(db, at):
    visit = call(db, "2026-01-15T15:00:00+00:00")
    at("2026-01-15T16:00:00+00:00")
    with writing(db):
        closing.close(db, visit)
        closing.close(db, visit)
    assert closing.closing(db, visit) == closing.Closing("2026-01-15T16:00:00+00:00", ())
    with pytest.raises(closing.ClosedError):
        closing.refuse_closed(db, visit)
    again = "2026-03-02T15:00:00+00:00"
    at(again)
    with writing(db):
        closing.reopen(db, visit)
        closing.reopen(db, visit)
        closing.refuse_closed(db, visit)
    assert closing.closing(db, visit) == closing.Closing(None, (again,))
    at("2026-03-03T09:00:00+00:00")
    assert closing.closing(db, visit) == closing.Closing("2026-03-03T09:00:00+00:00", (again,))
    assert [row["closed"] for row in db.execute("SELECT closed FROM closings")] == [1, 0]

"""What the recorder writes: it comes back as it was, however it is packed, and ends once."""

import json
import sqlite3
from contextlib import closing
from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from builders import as_visit, valve_run
from icepick.core.document.recording import Recording
from icepick.store import recordings, samples
from icepick.store.database import connect, prepare, writing
from icepick.store.leaving import visit_record
from icepick.store.visits import add_document, find_visit

PIPE = samples.SeriesHead("discharge_line", "temperature", "degF", "clamp")
TAP = samples.SeriesHead("discharge_tap", "pressure", "psi", "gauge")
AIR = samples.SeriesHead("return_air", "relative_humidity", "percent", "probe")


@pytest.fixture
def db(tmp_path):
    path = tmp_path / "icepick.db"
    prepare(path)
    with closing(connect(path)) as connection:
        with writing(connection):
            add_document(connection, as_visit(valve_run("heating", 170, 50, 168, 52)))
        yield connection


def begin(db, name="recording-1"):
    """A recording that grows, and its row."""
    with writing(db):
        recordings.add_recording(
            db, 1, Recording(id=name, mode="heating", started_at=datetime(2026, 1, 15, 7, tzinfo=UTC)), name
        )
        row = db.execute("SELECT id FROM recordings WHERE key = ?", (name,)).fetchone()["id"]
        samples.add_series(db, row, PIPE)
    return row


def written(db, row, first, values):
    with writing(db):
        samples.append(db, row, range(first, first + values.shape[1]), values)


def test_seconds_come_back_to_the_thousandth_over_every_seam_of_packing(db):
    row, dice = begin(db), np.random.default_rng(4)
    truth = np.round(150 + np.cumsum(dice.normal(0, 0.3, (1, 200)), axis=1), 3)
    truth[0, [5, 60, 61, 130]] = np.nan
    for at in range(200):
        written(db, row, at, truth[:, at : at + 1])
        if at in (0, 58, 59, 60, 119, 199):
            found = samples.window(db, row)
            np.testing.assert_array_equal(found.seconds, np.arange(at + 1))
            np.testing.assert_allclose(found.values, truth[:, : at + 1], atol=5e-4, equal_nan=True)
    some = samples.window(db, row, 55, 62)
    np.testing.assert_array_equal(some.seconds, np.arange(55, 63))
    np.testing.assert_allclose(some.values, truth[:, 55:63], atol=5e-4, equal_nan=True)
    size = samples.size(db, row)
    assert (size.last, size.moments) == (199, 200)
    assert db.execute("SELECT count(*) FROM samples").fetchone()[0] == 3 + 20
    assert samples.window(db, row, 1000, 2000).seconds.size == 0


def test_a_series_that_comes_later_has_nothing_before(db):
    row = begin(db)
    written(db, row, 0, np.full((1, 3), 20.0))
    with writing(db):
        assert samples.add_series(db, row, TAP) == 1
        assert samples.add_series(db, row, PIPE) == 0, "is there already"
    assert np.isnan(samples.window(db, row).values[1]).all()
    written(db, row, 3, np.array([[21.0, 22.0], [410.5, -3.25]]))
    found = samples.window(db, row)
    assert found.series == (PIPE, TAP)
    np.testing.assert_array_equal(found.values[1], [np.nan, np.nan, np.nan, 410.5, -3.25])


def test_thinned_means_leave_gaps_out_and_stand_in_their_middle():
    seconds, values = samples.thinned(
        np.arange(5.0), np.array([[1, np.nan, 3, 5, 7.0], [np.nan, np.nan, 2, 2, 2]]), 2
    )
    np.testing.assert_array_equal(seconds, [0.5, 2.5, 4])
    np.testing.assert_array_equal(values, [[1, 4, 7], [np.nan, 2, 2]])


def test_while_it_grows_it_is_there_without_samples_and_whole_once_it_has_ended(db):
    row = begin(db)
    written(db, row, 0, np.array([[70.0, np.nan, 71.5]]))
    stored = find_visit(db, 1).recordings[0]
    assert (stored.grows, stored.recording.series) == (True, [])
    assert visit_record(db, 1).recordings == [], "leaves when it has ended"
    revision = db.execute("SELECT revision FROM visits").fetchone()[0]
    with writing(db):
        assert samples.end(db, row, "stopped")
        assert not samples.end(db, row, "cut_off"), "it has ended"
    assert db.execute("SELECT revision FROM visits").fetchone()[0] > revision
    stored = find_visit(db, 1).recordings[0]
    (series,) = stored.recording.series
    assert not stored.grows
    assert (series.station, series.seconds, series.values) == ("discharge_line", [0, 2], [70, 71.5])
    assert find_visit(db, 1).recordings[0].recording is stored.recording, "the same object, told at a glance"
    (leaving,) = visit_record(db, 1).recordings
    assert leaving.recording["series"] == [json.loads(series.model_dump_json())]


def test_what_a_stopped_server_left_is_ended_and_says_so(db):
    first, second = begin(db), begin(db, "recording-2")
    written(db, first, 0, np.full((1, 90), 60.0))
    with writing(db):
        samples.end(db, second, "stopped")
        assert samples.cut_off_what_ran(db) == 1
        assert samples.cut_off_what_ran(db) == 0
    one, other = find_visit(db, 1).document.recordings
    assert len(one.series[0].values) == 90
    assert one.notes == recordings.CUT_OFF
    assert other.notes is None


@pytest.mark.parametrize("table", ["recorded_series", "recording_ends"])
def test_nothing_of_it_is_changed_or_removed(db, table):
    row = begin(db)
    with writing(db):
        samples.end(db, row, "stopped")
    for words in (f"UPDATE {table} SET recording_id = 1", f"DELETE FROM {table}"):
        with pytest.raises(sqlite3.IntegrityError, match=r"appended|ends once"):
            db.execute(words)


@settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
@given(
    st.lists(
        st.lists(st.one_of(st.just(float("nan")), st.floats(-460, 100_000)), min_size=3, max_size=3),
        min_size=1,
        max_size=80,
    )
)
def test_whatever_is_written_is_read(tmp_path_factory, rows):
    path = tmp_path_factory.mktemp("samples") / "icepick.db"
    prepare(path)
    with closing(connect(path)) as db:
        with writing(db):
            add_document(db, as_visit(valve_run("heating", 170, 50, 168, 52)))
        row = begin(db)
        with writing(db):
            samples.add_series(db, row, TAP)
            samples.add_series(db, row, AIR)
        values = np.array(rows).T
        written(db, row, 0, values)
        found = samples.window(db, row).values
        np.testing.assert_allclose(found, values, atol=5.01e-4, rtol=0, equal_nan=True)

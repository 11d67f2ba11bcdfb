"""A fleet on Dask: what stands in the Parquet tables, read back by pyarrow and another engine, is what examining says."""

import json
import sys
from datetime import UTC, datetime

import pytest
from click.testing import CliRunner

from archives import new_book, packed_again, taken_out
from icepick.cli import main
from icepick.core.diagnosis.baseline import MOST_EARLIER
from icepick.core.document.outcome import Outcome, Said
from icepick.core.document.record import UnitRecord, VisitRecord
from icepick.core.examine import examine
from icepick.core.practice import Practice
from icepick.demo import demo_names, demo_visits
from icepick.exchange.archive import UNITS, VISITS, ArchiveError, opened
from icepick.fleet.examining import UnitsVisits, examine_units
from icepick.fleet.parquet import FolderTakenError
from icepick.fleet.running import ClusterError, examine_archive
from icepick.fleet.tables import TABLES
from icepick.store.database import writing
from icepick.store.outcomes import tell
from icepick.store.practice import change
from icepick.store.visits import add_document
from lazily import Lazily

LocalCluster, pq, ds = (
    Lazily("distributed", "LocalCluster"),
    Lazily("pyarrow.parquet"),
    Lazily("pyarrow.dataset"),
)

FEW = [name for name in demo_names() if name.startswith(("ice-house", "mill", "toll-house", "library"))]
TARNWICK = dict(zip(demo_names(), demo_visits(), strict=True))


@pytest.fixture(scope="module")
def archive(tmp_path_factory):
    """Some of Tarnwick's visits, with a limit that the shop changed and an outcome."""
    place = tmp_path_factory.mktemp("fleet")
    with new_book(place / "book.db") as db:
        with writing(db):
            change(db, "valve_suction_rise", 9.0)
            for name in FEW:
                opened, visit = TARNWICK[name]
                number = add_document(db, visit, opened)
                if name == "mill-valve":
                    came_to = Outcome(fault="active_meter_underfeeding", certainty="seen", repair="cured")
                    tell(db, number, came_to, Said(headline="", ranking=[]))
        return taken_out(db)


@pytest.fixture(scope="module")
def tables(archive, tmp_path_factory):
    out = tmp_path_factory.mktemp("out") / "tables"
    done = examine_archive(archive, out, workers=1)
    assert done.visits == len(FEW)
    assert done.left_out == []
    return {table.name: ds.dataset(out / table.name, format="parquet").to_table() for table in TABLES}


def said_of(name):
    """What examining says of a visit beside those before it, by the shop's limits."""
    visit = TARNWICK[name][1]
    order = sorted(FEW, key=lambda one: datetime.fromisoformat(TARNWICK[one][0]))
    before = [TARNWICK[one][1] for one in order[: order.index(name)] if TARNWICK[one][1].unit == visit.unit]
    return examine(visit, Practice({"valve_suction_rise": 9.0}), earlier=before[-MOST_EARLIER:])


def test_every_column_is_there_and_says_what_it_means(tables):
    for table in TABLES:
        schema = tables[table.name].schema
        assert schema.names == [column.name for column in table.columns]
        assert all(schema.field(name).metadata[b"says"] for name in schema.names)
        assert tables[table.name].num_rows > 0


@pytest.mark.parametrize("name", FEW)
def test_what_is_in_the_tables_is_what_examining_says(tables, name):
    expected = said_of(name)
    opened = datetime.fromisoformat(TARNWICK[name][0]).astimezone(UTC)
    (row,) = (one for one in tables["visits"].to_pylist() if one["opened_at"] == opened)
    assert (row["headline"], row["outcome"], row["fault"]) == (
        expected.headline,
        expected.outcome,
        expected.ranking[0].fault,
    )
    assert row["was"] == ("active_meter_underfeeding" if name == "mill-valve" else None)

    def of(table):
        return [one for one in tables[table].to_pylist() if one["visit"] == row["visit"]]

    assert [(one["fault"], one["probability"]) for one in of("ranking")] == [
        (one.fault, one.probability) for one in expected.ranking
    ]
    assert {(one["run"], one["indicator"], one["value"], one["measured_in"]) for one in of("indicators")} == {
        (run.id, key, one.value, one.unit) for run in expected.runs for key, one in run.indicators.items()
    }
    assert {(one["of"], one["check"], one["status"], one["limit"]) for one in of("checks")} == {
        (run.id, one.code, one.status, one.limit.value if one.limit else None)
        for run in expected.runs
        for one in run.checks
    }
    learned = expected.baseline.learned if expected.baseline else []
    assert [(one["figure"], one["value"]) for one in of("baseline")] == [
        (one.name, one.value) for one in learned
    ]


def test_how_a_unit_drifts_can_be_followed(tables):
    # The ice house's source coil fouls from visit to visit: the same pump, the same water, less heat.
    drift = [one for one in tables["drift"].to_pylist() if one["indicator"] == "evaporating_temperature"]
    fouled = [one for one in drift if one["clear"] and one["near"] and one["change"] < 0]
    opened = {
        datetime.fromisoformat(TARNWICK[name][0]).astimezone(UTC)
        for name in ("ice-house-third", "ice-house-now")
    }
    assert opened <= {one["opened_at"] for one in fouled}
    for one in drift:
        assert one["change"] == pytest.approx(one["now"] - one["before"])
        assert one["before_at"] < one["opened_at"]


def test_a_cluster_says_the_same_as_this_machine(archive, tables, tmp_path):
    with LocalCluster(n_workers=2, threads_per_worker=1, host="127.0.0.1", dashboard_address=None) as cluster:
        done = examine_archive(archive, tmp_path / "far", scheduler=cluster.scheduler_address)
    assert done.visits == len(FEW)
    for table in TABLES:
        far = pq.read_table(tmp_path / "far" / table.name)
        keys = [(name, "ascending") for name in far.schema.names]
        assert far.sort_by(keys).equals(tables[table.name].sort_by(keys))


def test_visits_are_examined_in_the_order_they_were_opened(archive):
    with opened(archive) as held:
        units = {held.read(UnitRecord, path).id: held.content(path) for path in held.paths(UNITS)}
        of_unit = {}
        for path in held.paths(VISITS):
            of_unit.setdefault(held.read(VisitRecord, path).unit, []).append(held.content(path))
    unit, visits = max(of_unit.items(), key=lambda one: len(one[1]))
    assert len(visits) >= 3
    there, back = (
        examine_units([UnitsVisits(units[unit], tuple(order))], {}) for order in (visits, visits[::-1])
    )
    assert there == back


def test_nothing_is_written_where_something_goes_wrong(archive, tmp_path):
    taken = tmp_path / "taken"
    taken.mkdir()
    (taken / "something.txt").write_text("mine")
    with pytest.raises(FolderTakenError, match="is there already"):
        examine_archive(archive, taken)
    with pytest.raises(ClusterError, match="No Dask scheduler answers"):
        examine_archive(archive, tmp_path / "out", scheduler="tcp://127.0.0.1:9")

    def spoil(files):
        *_, last = (name for name in files if name.startswith("records/visits/"))
        files[last] = files[last].replace(b'"complaint"', b'"complain"')

    with pytest.raises(ArchiveError, match="can't be used"):
        examine_archive(packed_again(archive, spoil), tmp_path / "out")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["taken"]


def test_the_command_says_what_it_wrote_and_what_it_left_out(archive, tmp_path):
    def odd(files):
        name, *_ = (name for name in files if name.startswith("records/visits/"))
        record = json.loads(files[name])
        record["complaint"] = "no such complaint"
        files[name] = json.dumps(record).encode()

    out = tmp_path / "tables"
    found = CliRunner().invoke(main, ["fleet", str(packed_again(archive, odd)), "--out", str(out)])
    assert found.exit_code == 0, found.output
    assert f"written to {out}" in found.output
    assert (out / "visits").is_dir()
    again = CliRunner().invoke(main, ["fleet", str(archive), "--out", str(out)])
    assert again.exit_code == 1
    assert "is there already; nothing was written over it" in again.output
    missing = CliRunner().invoke(main, ["fleet", str(tmp_path / "no.zip"), "--out", str(out)])
    assert "is not there" in missing.output


def test_without_what_it_needs_the_command_says_how_to_get_it(archive, tmp_path, monkeypatch):
    monkeypatch.delitem(sys.modules, "icepick.fleet.running")
    monkeypatch.setitem(sys.modules, "distributed", None)
    found = CliRunner().invoke(main, ["fleet", str(archive), "--out", str(tmp_path / "out")])
    assert found.exit_code == 1
    assert "distributed is not installed; it comes with: pip install 'icepick[fleet]'" in found.output

"""Two books become one: what each knew of the same units and visits."""

import json

import pytest
from jsonschema import Draft202012Validator

from archives import EVERYTHING, entered, files_of, looked_at, new_book, taken_out
from builders import SPLIT_UNIT, valve_run, visit_document
from icepick.core.document.visit import Observation, Reading, Site, Unit, Visit
from icepick.demo import load_demo
from icepick.exchange.archive import ArchiveError
from icepick.exchange.leaving import Wanted
from icepick.store.audit import lines, written_by
from icepick.store.closing import closing as closedness
from icepick.store.database import writing
from icepick.store.entries import add_observation, add_reading, entries, withdraw
from icepick.store.leaving import visit_record
from icepick.store.practice import change, practice
from icepick.store.units import add_unit, all_units, find_unit, revise_unit
from icepick.store.visits import add_run, find_visit, open_visit
from stored import all_visits

SHED, UNIT = Site(name="Boat Shed"), Unit.model_validate(SPLIT_UNIT)
WARM = Reading(station="common_suction", quantity="temperature", value=52, unit="degF")
COLD = Reading(station="common_suction", quantity="temperature", value=31, unit="degF")


@pytest.fixture
def two(tmp_path):
    with new_book(tmp_path / "ours.db") as ours, new_book(tmp_path / "theirs.db") as theirs:
        yield ours, theirs


def called_on(db, unit=None, site=SHED):
    """A visit with a run; a unit of the book or a new one."""
    with writing(db):
        visit = open_visit(db, unit or add_unit(db, site, UNIT), None)
        return visit, add_run(db, visit, "cooling").row


def documents(visits):
    """By their words: those of one moment have no order of their own."""
    return sorted(visit.document.model_dump_json() for visit in visits)


def test_a_visit_that_both_went_on_with_stays_as_it_is_here(two):
    ours, theirs = two
    _, run = called_on(theirs)
    entered(ours, taken_out(theirs))
    with writing(theirs):
        add_reading(theirs, run, WARM, "theirs-1")
    here = all_visits(ours)[0].id
    with writing(ours):
        add_reading(ours, 1, COLD, "ours-0001")
    done = entered(ours, taken_out(theirs))
    assert done.visits == {"parted": 1}
    assert [one.value for one in find_visit(ours, here).document.runs[0].readings] == [31]


def test_a_unit_that_stood_in_both_books_alike_is_one(two):
    ours, theirs = two
    for db in two:
        called_on(db)
    done = entered(ours, taken_out(theirs))
    assert (done.units, done.visits) == ({"behind": 1}, {"new": 1})
    assert len(all_units(ours)) == 1
    assert len({visit.unit_id for visit in all_visits(ours)}) == 1
    # It is known by the other book's name from now on, also when it is described anew there.
    with writing(theirs):
        unit = all_units(theirs)[0]
        revise_unit(theirs, unit.id, UNIT.model_copy(update={"serial": "TW-4471"}), unit.revision)
    done = entered(ours, taken_out(theirs))
    assert done.units == {"parted": 1}
    assert len(all_units(ours)) == 1
    assert all_units(ours)[0].unit == UNIT, "this book's own description stays in force"
    assert not entered(ours, taken_out(theirs)).changes
    # And what was one here is found to be the same there.
    assert len(all_units(theirs)) == 1
    entered(theirs, taken_out(ours))
    assert len(all_units(theirs)) == 1
    assert len(all_visits(theirs)) == 2


def test_a_unit_described_anew_elsewhere_is_here_too_and_its_visits_keep_theirs(two):
    ours, theirs = two
    called_on(theirs)
    entered(ours, taken_out(theirs))
    with writing(theirs):
        unit = all_units(theirs)[0]
        revise_unit(theirs, unit.id, UNIT.model_copy(update={"label": "upstairs"}), unit.revision)
        open_visit(theirs, find_unit(theirs, unit.id), "weak")
    done = entered(ours, taken_out(theirs))
    assert (done.units["more"], done.visits["new"]) == (1, 1)
    assert all_units(ours)[0].unit.label == "upstairs"
    assert [visit.document.complaint for visit in all_visits(ours)] == ["weak", None]


def test_limits_of_a_shop_that_has_none_of_its_own_are_taken_over(two):
    ours, theirs = two
    with writing(theirs):
        change(theirs, "settling_time", 12)
    assert entered(ours, taken_out(theirs)).limits == "new"
    assert practice(ours).value("settling_time") == 12
    with writing(ours):
        change(ours, "settling_time", 20)
    with writing(theirs):
        change(theirs, "settling_time", 8)
    assert entered(ours, taken_out(theirs)).limits == "parted"
    assert practice(ours).value("settling_time") == 20


def test_one_visit_leaves_with_its_unit_and_a_unit_with_its_visits(two):
    ours, theirs = two
    load_demo(theirs)
    last = all_visits(theirs)[0]
    one = looked_at(ours, taken_out(theirs, Wanted("visit", last.id)))
    assert (one.units, one.visits, one.limits) == ({"new": 1}, {"new": 1}, None)
    of_unit = [visit for visit in all_visits(theirs) if visit.unit_id == last.unit_id]
    done = entered(ours, taken_out(theirs, Wanted("unit", last.unit_id)))
    assert (done.units, done.visits) == ({"new": 1}, {"new": len(of_unit)})
    assert documents(all_visits(ours)) == documents(of_unit)
    # The rest of the book comes behind it.
    done = entered(ours, taken_out(theirs))
    assert done.visits["same"] == len(of_unit)
    assert documents(all_visits(ours)) == documents(all_visits(theirs))


def test_each_file_is_what_its_schema_says(two, tmp_path):
    _, theirs = two
    load_demo(theirs)
    files, manifest = files_of(taken_out(theirs, EVERYTHING))
    schemas = {
        name.removeprefix("schema/").removesuffix(".json"): Draft202012Validator(json.loads(content))
        for name, content in files.items()
        if name.startswith("schema/")
    }
    folders = {"records/units/": "unit-record", "records/visits/": "visit-record", "visits/": "visit"}
    for folder, schema in folders.items():
        held = [json.loads(content) for name, content in files.items() if name.startswith(folder)]
        assert len(held) >= 30
        for document in held:
            schemas[schema].validate(document)
    schemas["limits-record"].validate(json.loads(files["records/limits.json"]))
    schemas["manifest"].validate({**manifest, "made_at": "2026-01-01T00:00:00Z"})


def test_a_visit_document_alone_comes_in_once(two, tmp_path):
    ours, _ = two
    document = visit_document(valve_run("cooling", 170, 50, 168, 52))
    document["runs"][0]["started_at"] = "2026-02-03T08:15:00+01:00"
    file = tmp_path / "visit.json"
    file.write_text(json.dumps(document), "utf-8")
    assert entered(ours, file).visits == {"new": 1}
    stored = all_visits(ours)[0]
    assert stored.document == Visit.model_validate_json(json.dumps(document))
    assert stored.opened_at == "2026-02-03T08:15:00+01:00"
    assert entered(ours, file).visits == {"same": 1}
    with writing(ours):
        add_reading(ours, 1, WARM)
    assert entered(ours, file).visits == {"behind": 1}
    # Another visit to a unit that is described so is to that unit.
    document["complaint"] = "weak"
    file.write_text(json.dumps(document), "utf-8")
    assert entered(ours, file).visits == {"new": 1}
    assert len(all_units(ours)) == 1
    file.write_text(json.dumps({**document, "version": 2}), "utf-8")
    with pytest.raises(ArchiveError, match="version"):
        looked_at(ours, file)


def test_what_this_icepick_can_t_use_is_counted_and_kept(two):
    ours, theirs = two
    visit, run = called_on(theirs)
    with writing(theirs):
        add_reading(theirs, run, WARM)
        theirs.execute(
            """INSERT INTO readings (run_id, station, quantity, value, unit, recorded_at, entry_key)
               VALUES (?, 'sight_glass', 'temperature', 12, 'degF', '2025-01-01T00:00:00+00:00', 'older-entry')""",
            (run,),
        )
    done = entered(ours, taken_out(theirs))
    assert (done.entries, done.unusable) == (2, 1)
    assert visit_record(ours, 1) == visit_record(theirs, visit)
    assert len(find_visit(ours, 1).document.runs[0].readings) == 1


def test_entries_older_than_their_keys_are_told_from_those_of_another_book(two):
    ours, theirs = two
    for db in two:
        _, run = called_on(db, site=Site(name=f"Site {id(db)}"))
        with writing(db):
            # As the script that gave them keys named them, in each book alike.
            add_observation(db, run, Observation(code="oil_stain"), "observation-1")
    assert entered(ours, taken_out(theirs)).visits == {"new": 1}
    with writing(theirs):
        withdraw(theirs, "observation-1")
    assert entered(ours, taken_out(theirs)).visits["more"] == 1
    came = max(visit.id for visit in all_visits(ours))
    assert visit_record(ours, came) == visit_record(theirs, 1)
    assert [len(visit.document.runs[0].observations) for visit in all_visits(ours)] == [0, 1]
    assert entered(theirs, taken_out(ours)).visits["same"] == 1


def test_a_book_older_than_its_audit_names_nobody(two):
    ours, theirs = two
    visit, _ = called_on(theirs)
    theirs.execute("DROP TRIGGER audit_remains")
    theirs.execute("DELETE FROM audit")
    entered(ours, taken_out(theirs))
    record = visit_record(ours, 1)
    assert record == visit_record(theirs, visit)
    assert record.opened is None
    assert record.runs[0].added is None


def test_an_entry_that_stands_in_another_visit_here_is_refused(two, tmp_path):
    ours, theirs = two
    for db in two:
        _, run = called_on(db)
        with writing(db):
            add_reading(db, run, WARM, "the-same-key")
    with pytest.raises(ArchiveError, match="'the-same-key' stands here in another visit"):
        entered(ours, taken_out(theirs))
    assert len(all_visits(ours)) == 1


def test_the_audit_says_who_brought_it_in_and_who_wrote_it(two):
    ours, theirs = two
    load_demo(theirs)
    entered(ours, taken_out(theirs))
    found = lines(ours, visit=1, account=None, before=None, most=100)
    assert found
    assert all(line.brought_in and line.written_by is None for line in found)
    assert {line.written_at for line in found} <= {
        line.at for line in lines(theirs, visit=1, account=None, before=None, most=100)
    } | {entry.recorded_at for entry in entries(theirs, 1)}
    (last,) = lines(ours, visit=None, account=None, before=None, most=1)
    assert (last.what, last.about["said"]) == ("brought_in", "theirs.db.zip")
    assert written_by(ours, 1) == {}
    assert closedness(ours, 1).closed_at == closedness(theirs, 1).closed_at


def test_twins_stay_two(two):
    ours, theirs = two
    for db in two:
        for _ in range(2):
            called_on(db)
    done = entered(ours, taken_out(theirs))
    assert done.units == {"behind": 2}
    assert len(all_units(ours)) == 2
    assert sorted(visit.unit_id for visit in all_visits(ours)) == [1, 1, 2, 2]

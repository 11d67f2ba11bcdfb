"""The equipment book: sites, units and what they were when a visit was made."""

import json
import logging
from contextlib import closing

import pytest

from builders import SPLIT_UNIT, as_visit, valve_run
from icepick.core.document.visit import Site, Unit
from icepick.store.closing import reopen
from icepick.store.database import connect, prepare, writing
from icepick.store.entries import StaleError
from icepick.store.units import add_unit, all_units, find_unit, revise_unit
from icepick.store.visits import (
    UnknownRunError,
    add_document,
    find_run,
    find_visit,
    open_visit,
    visits_of_unit,
)
from stored import all_visits

LIBRARY, SHED = Site(name="Tarnwick Library"), Site(name="Boat Shed")


@pytest.fixture
def db(tmp_path):
    prepare(tmp_path / "icepick.db")
    with closing(connect(tmp_path / "icepick.db")) as connection:
        yield connection


def unit(label, **more):
    return Unit.model_validate({**SPLIT_UNIT, "label": label, **more})


def test_a_site_stands_in_the_book_once(db):
    """A bare name means the newest site of that name; one that says more is another unless it says the same."""
    upstairs = Site.model_validate({"name": "Tarnwick Library", "elevation": {"value": 1200, "unit": "ft"}})
    with writing(db):
        made = [
            add_unit(db, site, unit(f"unit {n}"))
            for n, site in enumerate((LIBRARY, upstairs, LIBRARY, upstairs, SHED))
        ]
    assert db.execute("SELECT count(*) FROM sites").fetchone()[0] == 3
    assert [one.site for one in made] == [LIBRARY, upstairs, upstairs, upstairs, SHED]
    assert [one.site.name for one in all_units(db)] == ["Boat Shed", *["Tarnwick Library"] * 4]
    assert [one.id for one in all_units(db)][1:] == [made[0].id, made[1].id, made[2].id, made[3].id]


def test_a_unit_described_anew_is_the_same_unit_and_its_past_stays(db):
    with writing(db):
        first = add_unit(db, LIBRARY, unit("attic"))
        early = open_visit(db, first, "weak", "2026-01-05T08:00:00+00:00")
        late = open_visit(db, first, None)
        revise_unit(db, first.id, unit("attic", refrigerant="R-32"), first.revision)
    now = find_unit(db, first.id)
    assert (now.id, now.unit.refrigerant) == (first.id, "R-32")
    assert now.revision > first.revision
    assert find_visit(db, early).document.unit.refrigerant == "R-410A"
    assert find_visit(db, late).document.unit.refrigerant == "R-32"
    with pytest.raises(StaleError), writing(db):
        revise_unit(db, first.id, unit("written over"), first.revision)
    assert find_unit(db, first.id).unit.label == "attic"
    assert db.execute("SELECT count(*) FROM unit_revisions").fetchone()[0] == 2


def test_a_visit_of_another_day_keeps_the_unit_it_was_made_on(db):
    with writing(db):
        first = add_unit(db, LIBRARY, unit("attic"))
        last_spring = open_visit(db, first, None, "2026-03-05T08:00:00+00:00")
        revise_unit(db, first.id, unit("attic", refrigerant="R-32"), first.revision)
        assert find_visit(db, last_spring).document.unit.refrigerant == "R-410A"
        reopen(db, last_spring)
        revise_unit(db, first.id, unit("attic", refrigerant="R-134a"), find_unit(db, first.id).revision)
    assert find_visit(db, last_spring).document.unit.refrigerant == "R-134a"


def test_another_units_visits_do_not_follow(db):
    with writing(db):
        one, other = (add_unit(db, LIBRARY, unit(label)) for label in ("attic", "cellar"))
        open_visit(db, one, None, "2026-01-05T08:00:00+00:00")
        beside = open_visit(db, other, None)
        revise_unit(db, one.id, unit("attic", refrigerant="R-134a"), one.revision)
    assert find_visit(db, beside).document.unit.refrigerant == "R-410A"
    assert [stored.unit_id for stored in visits_of_unit(db, other.id)] == [other.id]


def test_a_document_entered_again_is_another_visit_to_the_same_unit(db):
    document = as_visit(valve_run("cooling", 170, 50, 168, 52))
    with writing(db):
        visits = [add_document(db, document, f"2026-0{month}-01T08:00:00+00:00") for month in (3, 1, 2)]
    assert len(all_units(db)) == 1
    assert [stored.id for stored in all_visits(db)] == [visits[0], visits[2], visits[1]]
    assert all(stored.document == document for stored in all_visits(db))


def test_what_is_not_there_is_none(db):
    assert find_unit(db, 1) is None
    assert find_visit(db, 1) is None
    assert visits_of_unit(db, 1) == []
    with writing(db):
        visit = add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)))
    with pytest.raises(UnknownRunError):
        find_run(db, visit, "heating")


def test_one_record_that_can_not_be_read_hides_no_other(db, caplog):
    """Its layout is gone from the trade's words, and there is no unit without one."""
    with writing(db):
        sound = add_document(db, as_visit(valve_run("cooling", 170, 50, 168, 52)))
        spoilt = add_unit(db, SHED, unit("shed"))
        lost = open_visit(db, spoilt, None)
        db.execute("DROP TRIGGER unit_revisions_stay")
        db.execute(
            "UPDATE unit_revisions SET document = ? WHERE unit_id = ?",
            (json.dumps({**SPLIT_UNIT, "layout": "cupboard"}), spoilt.id),
        )
    with caplog.at_level(logging.ERROR):
        assert [stored.id for stored in all_visits(db)] == [sound]
    assert f"visit {lost} can't be read" in caplog.text


def test_a_unit_in_the_book_needs_a_site(db):
    with pytest.raises(Exception, match="FOREIGN KEY"), writing(db):
        db.execute("INSERT INTO units (site_id, created_at) VALUES (99, '')")

"""Records that leave one book and come into another: to the letter, however often, and whoever went on meanwhile."""

import json
import shutil
import tempfile
from contextlib import contextmanager
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from archives import entered, files_of, picture, taken_out
from builders import SPLIT_UNIT
from draws import few
from icepick.core.document.outcome import Outcome, Said, SaidOfFault
from icepick.core.document.photo import Photo
from icepick.core.document.recording import Mark, Recording
from icepick.core.document.shop import Shop
from icepick.core.document.visit import Observation, Reading, Site, Unit
from icepick.store.accounts import make_account
from icepick.store.closing import close, reopen
from icepick.store.closing import closing as closedness
from icepick.store.database import acting, connect, prepare, writing
from icepick.store.entries import add_observation, add_reading, set_notes, withdraw
from icepick.store.outcomes import tell
from icepick.store.photo_files import PhotoFiles
from icepick.store.photos import add_photo
from icepick.store.pictures import made_ready
from icepick.store.practice import change
from icepick.store.recordings import add_mark, add_recording
from icepick.store.shop import name_shop
from icepick.store.units import add_unit, find_unit, revise_unit
from icepick.store.visits import (
    HoldsSomethingError,
    add_run,
    find_visit,
    open_visit,
    remove_run,
    set_clock,
    set_compressor,
    set_heads,
)
from layouts import EEV, NONE, kind

TABLES = [
    "sites",
    "units",
    "unit_revisions",
    "unit_aliases",
    "visits",
    "runs",
    "readings",
    "observations",
    "withdrawals",
    "note_revisions",
    "recordings",
    "marks",
    "closings",
    "outcomes",
    "photos",
    "removed_runs",
    "practice_changes",
    "shop_changes",
    "hands",
]


@pytest.fixture(scope="module")
def empty():
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "empty.db"
        prepare(path)
        yield path


@contextmanager
def books(empty, *names):
    """Empty books in a folder of their own."""
    with tempfile.TemporaryDirectory() as place:
        opened = []
        for name in names:
            shutil.copyfile(empty, Path(place) / f"{name}.db")
            opened.append(connect(Path(place) / f"{name}.db"))
        try:
            yield opened
        finally:
            for db in opened:
                db.close()


def counted(db):
    return {table: db.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in TABLES}


class Hand:
    """Somebody who writes in a book, by numbers that are drawn: each step does what it can of what there is."""

    def __init__(self, db):
        self.db, self.made = db, 0
        self.units, self.visits, self.runs, self.entries, self.recordings = [], [], [], [], []
        self.people = [None]
        with writing(db):
            self.people += [make_account(db, name, "lead", "x").id for name in ("Ada", "Ben")]

    def do(self, step):
        what, which, said = step
        acting.set(self.people[which % len(self.people)])
        self.made += 1
        with writing(self.db):
            getattr(self, what)(which, said)
        acting.set(None)

    def key(self):
        return f"entry-{self.made:06}-{id(self)}"

    def unit(self, which, said):
        site = Site(name=f"Site {which % 3}", notes=said or None)
        # Twins, too: two units of a site that are described word for word alike.
        heads = {**kind("ductless", NONE, EEV), "heads": [{"label": "a"}, {"label": "b"}]}
        several = ({}, {"circuits": [{"id": "1"}, {"id": "2"}]}, heads)[which % 3]
        self.units.append(add_unit(self.db, site, Unit.model_validate({**SPLIT_UNIT, **several})).id)

    def revise(self, which, said):
        if self.units:
            unit = find_unit(self.db, self.units[which % len(self.units)])
            label = f"unit {said}"[:200]
            revise_unit(self.db, unit.id, unit.unit.model_copy(update={"label": label}), unit.revision)

    def visit(self, which, _said):
        if self.units:
            unit = find_unit(self.db, self.units[which % len(self.units)])
            self.visits.append(open_visit(self.db, unit, ("weak", None, "routine")[which % 3]))

    def run(self, which, _said):
        if self.visits:
            visit = self.visits[which % len(self.visits)]
            mode = ("heating", "cooling", "off")[which % 3]
            unit = find_visit(self.db, visit).document.unit
            circuit = unit.circuits[which % 2].id if unit.circuits else None
            run = add_run(
                self.db,
                visit,
                mode,
                minutes_running=which / 7,
                after_repair=which % 5 == 0,
                circuit=circuit,
                heads_calling=[which % 2 + 1] if unit.heads else None,
            )
            self.runs.append((visit, run.row))

    def clock(self, which, _said):
        if self.runs:
            set_clock(self.db, self.runs[which % len(self.runs)][1], None, which * 0.1)

    def compressor(self, which, _said):
        if self.runs:
            set_compressor(self.db, self.runs[which % len(self.runs)][1], "low", which % 100 / 3)

    def calling(self, which, _said):
        if self.runs:
            visit, run = self.runs[which % len(self.runs)]
            if find_visit(self.db, visit).document.unit.heads:
                set_heads(self.db, run, (None, [1], [1, 2], [])[which % 4])

    def reading(self, which, said):
        if self.runs:
            value = 40 + which / 13
            taken = Reading(station="common_suction", quantity="temperature", value=value, unit="degF")
            add_reading(self.db, self.runs[which % len(self.runs)][1], taken, self.key())
            self.entries.append(self.key())

    def see(self, which, said):
        if self.runs:
            seen = Observation(code="oil_stain", value=(None, False, said)[which % 3])
            add_observation(self.db, self.runs[which % len(self.runs)][1], seen, self.key())
            self.entries.append(self.key())

    def take_back(self, which, _said):
        if self.entries:
            withdraw(self.db, self.entries[which % len(self.entries)])

    def note(self, which, said):
        if self.runs:
            _, run = self.runs[which % len(self.runs)]
            (latest,) = self.db.execute(
                "SELECT coalesce(max(id), 0) FROM note_revisions WHERE run_id = ?", (run,)
            ).fetchone()
            set_notes(self.db, run, said, latest)

    def press(self, which, _said):
        if self.visits:
            visit = self.visits[which % len(self.visits)]
            (close if closedness(self.db, visit).closed_at is None else reopen)(self.db, visit)

    def record(self, which, said):
        if self.visits:
            visit = self.visits[which % len(self.visits)]
            series = {"station": "outdoor_coil", "quantity": "temperature", "unit": "degF"}
            samples = {"seconds": [0, 1.5], "values": [30, 29.5 + which / 1000]}
            recording = Recording.model_validate_json(
                json.dumps(
                    {
                        "id": f"recording-{self.made}",
                        "mode": "heating",
                        "started_at": "2026-01-05T07:00:00+01:00",
                        "series": [series | samples],
                        "notes": said,
                    }
                )
            )
            add_recording(self.db, visit, recording, self.key())
            self.entries.append(self.key())
            self.recordings.append((visit, recording.id))

    def mark(self, which, _said):
        if self.recordings:
            mark = Mark(seconds=which / 3, code="steam_seen")
            add_mark(self.db, *self.recordings[which % len(self.recordings)], mark, self.key())
            self.entries.append(self.key())

    def remove(self, which, _said):
        if self.runs:
            visit, run = self.runs[which % len(self.runs)]
            (left,) = self.db.execute(
                "SELECT count(*) FROM standing_runs WHERE visit_id = ?", (visit,)
            ).fetchone()
            gone = self.db.execute("SELECT 1 FROM removed_runs WHERE run_id = ?", (run,)).fetchone()
            if left > 1 and not gone:
                try:
                    remove_run(self.db, visit, run)
                except HoldsSomethingError:
                    return

    def tell(self, which, said):
        if self.visits:
            came_to = Outcome(fault="undercharge", certainty="seen", repair="cured", work=said)
            before = Said(
                headline="May be overcharge",
                ranking=[SaidOfFault(fault="overcharge", probability=which / 999)],
            )
            tell(self.db, self.visits[which % len(self.visits)], came_to, before)

    def photo(self, which, said):
        if self.visits:
            kept = made_ready(picture(which))
            PhotoFiles.of(self.db).put(kept.content)
            caption = " ".join(said.split()) or None
            photo = Photo(
                about="frost", caption=caption, sha256=kept.sha256, width=kept.width, height=kept.height
            )
            add_photo(self.db, self.visits[which % len(self.visits)], photo, self.key())
            self.entries.append(self.key())

    def shop(self, which, said):
        name_shop(self.db, Shop(name=" ".join(said.split()), license=f"no. {which % 3}"))

    def limit(self, which, _said):
        change(self.db, "settling_time", (None, 12.0, 15.5)[which % 3])


OF_THE_BOOK = [
    (kind, f"{folder}/{what}")
    for folder, kind in (("records", "json"), ("tables", "csv"))
    for what in ("limits", "shop")
]
DOES = [
    "revise",
    "visit",
    "run",
    "clock",
    "compressor",
    "calling",
    "reading",
    "see",
    "take_back",
    "note",
    "press",
    "record",
    "mark",
    "remove",
    "limit",
    "tell",
    "photo",
    "shop",
    "reading",
    "see",
    "unit",
]
SAID = st.text(st.characters(codec="utf-8"), max_size=12)
STEPS = st.lists(st.tuples(st.sampled_from(DOES), st.integers(0, 999), SAID), max_size=40)
FIRST = [("unit", 0, ""), ("visit", 0, ""), ("run", 0, ""), ("reading", 5, "")]


@settings(max_examples=few(12, 60), deadline=None)
@given(STEPS)
def test_what_comes_in_leaves_again_to_the_letter(empty, steps):
    with books(empty, "here", "there") as (here, there):
        hand = Hand(here)
        for step in FIRST + steps:
            hand.do(step)
        archive = taken_out(here)
        first = entered(there, archive)
        assert first.changes
        assert files_of(taken_out(there)) == files_of(archive)
        before = counted(there)
        again = entered(there, archive)
        assert not again.changes
        assert set(again.visits) == {"same"}
        assert counted(there) == before
        # Nor does what went there change where it came from.
        assert not entered(here, taken_out(there)).changes


@settings(max_examples=few(8, 40), deadline=None)
@given(STEPS, STEPS)
def test_a_book_that_went_on_is_followed_and_an_older_archive_changes_nothing(empty, earlier, later):
    with books(empty, "here", "there") as (here, there):
        hand = Hand(here)
        for step in FIRST + earlier:
            hand.do(step)
        old = taken_out(here).rename(Path(f"{here.execute('PRAGMA database_list').fetchone()[2]}.old.zip"))
        entered(there, old)
        for step in later:
            hand.do(step)
        new = taken_out(here)
        assert "parted" not in entered(there, new).visits
        without = {f"{where}.{kind}" for kind, where in OF_THE_BOOK}
        (ours, _), (theirs, _) = files_of(taken_out(there)), files_of(new)
        # Limits and a name that stood there already are that shop's own.
        assert {n: f for n, f in ours.items() if n not in without} == {
            n: f for n, f in theirs.items() if n not in without
        }
        before = counted(there)
        assert not entered(there, old).changes
        assert counted(there) == before

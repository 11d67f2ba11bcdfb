import os
import tempfile
from collections import Counter
from collections.abc import Iterator
from functools import cached_property
from pathlib import Path
from typing import ClassVar

import argon2
import pytest
from werkzeug.routing.rules import Rule
from whitenoise import WhiteNoise

import draws
from builders import valve_run, visit_document
from icepick.core import examined_run
from icepick.core.checks.rule import CheckRule
from icepick.core.circuit import context
from icepick.core.defrost import recorded, sparing
from icepick.core.defrost.finding import RecordedRule
from icepick.core.diagnosis import tables
from icepick.store import database
from icepick.web import pages
from solved_before import keep_solved


class CheapHasher(argon2.PasswordHasher):
    def __init__(self):
        super().__init__(time_cost=1, memory_cost=64, parallelism=1)


class Blank:
    """An empty book takes 50 ms to make, and hundreds of tests begin with one: made once, copied to where there is none."""

    def __init__(self):
        self._prepare = database.prepare

    @cached_property
    def _made(self):
        with tempfile.TemporaryDirectory() as folder:
            self._prepare(Path(folder) / "blank.db")
            return (Path(folder) / "blank.db").read_bytes()

    def __call__(self, path):
        if not path.exists() and path.parent.is_dir():
            database.make_private(path)
            path.write_bytes(self._made)
        self._prepare(path)


class FilesSeen(WhiteNoise):
    """The built front end is looked through once, not by every application."""

    _seen: ClassVar[dict[tuple, dict]] = {}

    def add_files(self, root, prefix=None):
        if (root, prefix) not in self._seen:
            super().add_files(root, prefix)
            self._seen[root, prefix] = self.files
        self.files = self._seen[root, prefix]


def _addresses_written_once():
    """Werkzeug compiles for every rule of every application how its address is written; ours are always the same."""
    write = Rule._compile_builder
    written = {}

    def remembered(rule, append_unknown=True):
        key = (tuple(rule._trace), repr(rule.defaults), append_unknown)
        if key not in written:
            written[key] = write(rule, append_unknown)
        return written[key]

    Rule._compile_builder = remembered


def pytest_configure(config):
    database.prepare = Blank()
    pages.WhiteNoise = FilesSeen
    _addresses_written_once()
    keep_solved()
    here = Path(__file__).parent
    os.environ["PYTHONPATH"] = os.pathsep.join([str(here / "warm"), str(here)])
    # A digest takes 50 ms on purpose; hundreds of guesses are made here. What the product uses, a test of the door asks.
    argon2.PasswordHasher = CheapHasher


def pytest_report_header():
    return "every draw" if draws.ALL else f"draws: ICEPICK_DRAW={draws.turn()}"


def _weight(item):
    """What takes longest is begun first."""
    return (item.path.name == "test_benches.py", item.path.parent.name == "browser")


def pytest_collection_modifyitems(config, items):
    """Of a test marked ``one_in(n)`` every n-th case is run, of a file so marked every n-th test; others with every
    commit, or all of them."""
    items.sort(key=_weight, reverse=True)
    if draws.ALL:
        return
    count = Counter()
    left_out = []
    for item in items:
        marked, mark = next(item.iter_markers_with_node("one_in"), (item, None))
        if mark is None:
            continue
        among = item.nodeid.split("[")[0] if marked is item else marked.nodeid
        if (count[among] + draws.turn()) % mark.args[0]:
            left_out.append(item)
        count[among] += 1
    config.hook.pytest_deselected(items=left_out)
    gone = set(map(id, left_out))
    items[:] = [item for item in items if id(item) not in gone]


@pytest.fixture
def healthy_cooling():
    return visit_document(valve_run("cooling", 170, 50, 168, 52))


class _Mishaps:
    """Whether a rule may break and the examination go on, as it does for a technician."""

    pass_on = False


@pytest.fixture
def mishaps_pass() -> Iterator[None]:
    """For the tests that are about rules that break."""
    _Mishaps.pass_on = True
    yield
    _Mishaps.pass_on = False


@pytest.fixture(scope="session", autouse=True)
def no_rule_breaks_unseen() -> Iterator[None]:
    """A rule that trips is one word in a whole examination; in a test it is an error."""
    note, broken, recorded_broken = context.note_mishap, CheckRule.broken, RecordedRule.broken

    def noted(run, what, error):
        if not _Mishaps.pass_on:
            raise error
        note(run, what, error)

    def gave_up(rule, error):
        if not _Mishaps.pass_on:
            raise error
        return broken(rule, error)

    def recorded_gave_up(rule, error):
        if not _Mishaps.pass_on:
            raise error
        return recorded_broken(rule, error)

    note_of_recording = sparing.note

    def recording_noted(left_out, what, error):
        if not _Mishaps.pass_on:
            raise error
        note_of_recording(left_out, what, error)

    with pytest.MonkeyPatch.context() as patch:
        for module in (context, examined_run, tables):
            patch.setattr(module, "note_mishap", noted)
        for module in (sparing, recorded):
            patch.setattr(module, "note", recording_noted)
        patch.setattr(CheckRule, "broken", gave_up)
        patch.setattr(RecordedRule, "broken", recorded_gave_up)
        yield

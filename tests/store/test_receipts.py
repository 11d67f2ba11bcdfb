"""A thing asked for twice under one key is made once; a key never stands for two things."""

import sqlite3
import threading
from contextlib import closing

import pytest

from icepick.store.database import connect, prepare, writing
from icepick.store.receipts import KeyUsedError, once


@pytest.fixture
def path(tmp_path):
    path = tmp_path / "icepick.db"
    prepare(path)
    return path


@pytest.fixture
def db(path):
    with closing(connect(path)) as connection:
        yield connection


def test_it_is_made_once_and_named_again(db):
    made = []

    def make():
        made.append(len(made) + 1)
        return str(made[-1])

    with writing(db):
        names = [once(db, "key-one", "unit", "a shed", make) for _ in range(3)]
        names.append(once(db, "key-two", "unit", "a shed", make))
    assert names == ["1", "1", "1", "2"]
    assert made == [1, 2]


@pytest.mark.parametrize(("what", "content"), [("unit", "another shed"), ("visit", "a shed")])
def test_a_key_of_something_else_is_refused(db, what, content):
    with writing(db):
        once(db, "key-one", "unit", "a shed", lambda: "1")
    with pytest.raises(KeyUsedError), writing(db):
        once(db, "key-one", what, content, lambda: "2")


def test_what_was_not_made_has_no_receipt(db):
    def fails():
        raise RuntimeError("half way")

    with pytest.raises(RuntimeError), writing(db):
        once(db, "key-one", "unit", "a shed", fails)
    with writing(db):
        assert once(db, "key-one", "unit", "a shed", lambda: "1") == "1"


def test_two_at_the_same_moment_make_one(path):
    made, names = [], []

    def ask():
        with closing(connect(path)) as own, writing(own):
            names.append(once(own, "key-one", "run", "heating", lambda: made.append("x") or "run-2"))

    threads = [threading.Thread(target=ask) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert names == ["run-2"] * 6
    assert made == ["x"]


def test_receipts_are_appended_only(db):
    with writing(db):
        once(db, "key-one", "unit", "a shed", lambda: "1")
    for statement in ("UPDATE receipts SET made = '2'", "DELETE FROM receipts"):
        with pytest.raises(sqlite3.IntegrityError, match="appended, never"):
            db.execute(statement)

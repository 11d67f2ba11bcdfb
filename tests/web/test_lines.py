"""The list's lines through the API: kept up to date behind the requests, and never a failed list."""

import time
from contextlib import closing

import pytest
from test_api import NEW_CALL, call_on, listed, take

from builders import VALVE_PIPES
from icepick.store.database import connect
from icepick.web import create_app, room, summarizing


@pytest.fixture
def app(tmp_path):
    return create_app(tmp_path / "icepick.db")


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def db(app):
    with closing(connect(app.config["ICEPICK_DB"])) as connection:
        yield connection


def sound(client, **call):
    visit = call_on(client, **(call or NEW_CALL))
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 52), strict=True):
        take(client, visit, station, value, key=f"{visit['id']} {station}")
    return visit


def lines_when(client, ready, seconds=90):
    """The list once it is as it should be."""
    until = time.monotonic() + seconds
    while not ready(found := client.get("/api/visits").json) and time.monotonic() < until:
        time.sleep(0.1)
    return found


def test_the_servers_own_thread_brings_lines_up_to_date(app, client):
    visit = sound(client)
    app.extensions["icepick.summarizer"].start()
    try:
        (line,) = lines_when(client, lambda found: found["visits"][0]["up_to_date"])["visits"]
        assert line["outcome"] == "pass"
        take(client, visit, "common_suction", 80, key="read again")
        (line,) = lines_when(client, lambda found: found["visits"][0]["up_to_date"])["visits"]
        assert line["outcome"] == "fail"
        # Written to and, before that is in its line, judged by another limit: what it read in between is known all the same.
        take(client, visit, "common_suction", 64, key="and once more")
        assert client.put("/api/handbook/limits/valve_suction_rise", json={"value": 15}).status_code == 200
        assert not client.get("/api/visits").json["visits"][0]["up_to_date"]
        (line,) = lines_when(client, lambda found: found["visits"][0]["up_to_date"])["visits"]
        found = client.get("/api/handbook/effects").json
        assert (found["waiting"], found["looked_through"]) == (0, 1)
    finally:
        app.extensions["icepick.summarizer"].stop()


def test_many_lines_are_left_to_a_process_of_its_own_which_ends_with_them(app, client, monkeypatch):
    monkeypatch.setattr(summarizing, "HAND_OVER_AFTER_S", 0)
    first = sound(client)
    for _ in range(3):
        sound(client, unit_id=first["unit_id"], run={"mode": "cooling"})
    summarizer = app.extensions["icepick.summarizer"]
    summarizer.start()
    try:
        begun = lines_when(client, lambda found: found["waiting"] > 0)
        assert begun["waiting"] == 4
        done = lines_when(
            client, lambda found: not found["waiting"] and all(one["up_to_date"] for one in found["visits"])
        )
        assert (done["waiting"], {one["outcome"] for one in done["visits"]}) == (0, {"pass"})
    finally:
        summarizer.stop()


def test_a_bad_row_is_shown_as_such_and_hides_no_other(client, db):
    for _ in range(3):
        sound(client)
    listed(client)
    db.execute("UPDATE summaries SET outcome = 'splendid' WHERE visit_id = 1")
    db.execute("UPDATE summaries SET opened_at = 'one fine day', modes = 'sideways' WHERE visit_id = 3")
    lines = {line["id"]: line for line in client.get("/api/visits").json["visits"]}
    assert [lines[number]["trouble"] for number in (1, 2, 3)] == [
        "This record can't be read.",
        None,
        "This record can't be read.",
    ]
    assert lines[1]["site"] == "Test Hall"


def test_a_visit_that_cant_be_read_or_examined_says_so_in_its_line(client, db, monkeypatch):
    sound(client)
    sound(client, new_unit={**NEW_CALL["new_unit"], "site": {"name": "Boat Shed"}}, run={"mode": "cooling"})
    db.execute("UPDATE sites SET document = '[]' WHERE name = 'Boat Shed'")
    assert [line["trouble"] for line in listed(client)] == ["This record can't be read.", None]
    monkeypatch.setattr(summarizing, "examined_once", lambda *_: 1 / 0)
    client.put("/api/handbook/limits/valve_suction_rise", json={"value": 2})
    assert [line["trouble"] for line in listed(client)] == [
        "This record can't be read.",
        "This visit can't be examined.",
    ]


def test_a_screen_is_told_that_nothing_changed_for_as_long_as_nothing_did(client):
    shown, other = sound(client), sound(client)
    listed(client)

    def asked(path, tag=None):
        answer = client.get(path, headers={"If-None-Match": tag} if tag else {})
        return answer.status_code, answer.headers["ETag"]

    changes = f"/api/visits/{shown['id']}/changes"
    revision = client.get(changes).json["revision"]
    paths = (f"{changes}?since={revision}", changes, f"/api/visits/{shown['id']}")
    tags = [asked(path)[1] for path in paths]
    take(client, other, "discharge_line", 171)
    assert [asked(path, tag) for path, tag in zip(paths, tags, strict=True)] == [(304, tag) for tag in tags]
    for lists in ("/api/visits", "/api/units", "/api/units/found"):
        before = asked(lists)[1]
        assert asked(lists, before)[0] == 304
        take(client, other, "discharge_line", 172, key=f"between {lists}")
        assert asked(lists, before)[0] == 200
    assert client.get(f"{changes}?since={revision}").json == {
        "revision": revision,
        "steps": [],
        "whole": None,
    }
    take(client, shown, "discharge_line", 171, key="and here")
    assert [asked(path, tag)[0] for path, tag in zip(paths, tags, strict=True)] == [200] * 3
    # In other units, or asked from another revision, it is another answer.
    assert asked(f"{changes}?units=metric", asked(changes)[1])[0] == 200
    assert asked(f"{changes}?since=another", asked(changes)[1])[0] == 200


def test_while_all_who_may_compute_do_what_is_typed_is_taken_and_lists_are_shown(app, client):
    visit = sound(client)
    places = app.extensions["icepick.room"]
    assert all(places.acquire(blocking=False) for _ in range(room.COMPUTING))
    answer = client.get(f"/api/visits/{visit['id']}/history")
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "2")
    assert "hands full" in answer.json["detail"]
    assert client.get(f"/api/visits/{visit['id']}/changes").status_code == 503
    assert take(client, visit, "discharge_line", 171).status_code == 201
    assert client.get("/api/visits").status_code == 200
    places.release(room.COMPUTING)
    assert client.get(f"/api/visits/{visit['id']}/changes").status_code == 200
    assert room.COMPUTING < room.THREADS


def test_nothing_is_worked_out_for_who_has_hung_up(client, monkeypatch):
    visit = call_on(client, **NEW_CALL)
    take(client, visit, "discharge_line", 170)
    monkeypatch.setattr("icepick.web.visit_view.examined", lambda *_: 1 / 0)
    gone = {"waitress.client_disconnected": lambda: True}
    assert client.get(f"/api/visits/{visit['id']}/changes", environ_overrides=gone).status_code == 503


def test_units_are_found_by_their_words(client):
    kiosk = {**NEW_CALL["new_unit"], "site": {"name": "Lighthouse 100% Kiosk"}}
    call_on(client, **NEW_CALL)
    second = call_on(
        client, new_unit={**kiosk, "unit": {**kiosk["unit"], "serial": "QX_7"}}, run={"mode": "cooling"}
    )

    def found(**asked):
        answer = client.get("/api/units/found", query_string=asked).json
        return [unit["site"] for unit in answer["units"]], answer["found"]

    assert found() == (["Lighthouse 100% Kiosk", "Test Hall"], 2)
    assert found(words="hall TEST") == (["Test Hall"], 1)
    assert found(words="x_7") == found(words="0%") == (["Lighthouse 100% Kiosk"], 1)
    assert found(words="x%7") == ([], 0)
    assert found(words="r-410a")[1] == 2
    first = client.get("/api/visits").json["visits"][-1]["unit_id"]
    assert found(words="kiosk", first=first)[0] == ["Test Hall", "Lighthouse 100% Kiosk"]
    assert second["unit_id"] != first

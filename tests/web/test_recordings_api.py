"""Recordings through the web API: brought in as CSV, marked by hand, taken back, and never in the way of the visit itself."""

import json
from uuid import uuid4

import pytest
from test_api import NEW_CALL, call_on, seen

from bringing import brought
from icepick.core.document.recording import Recording
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.recorded_file.csv_text import read_csv, write_csv
from icepick.web import create_app
from recorded import PIPES, Scene, play, recording

START = "2026-01-15T07:00:00-05:00"


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


@pytest.fixture
def visit(client):
    return call_on(client, **NEW_CALL)


def post(client, visit, what, **body):
    return client.post(f"/api/visits/{visit['id']}/{what}", json={"entry_key": uuid4().hex, **body})


@pytest.fixture(scope="module")
def csv_text():
    document = recording(play(Scene(hours=1.3)), PIPES, every=10)
    return write_csv(Recording.model_validate_json(json.dumps(document)))


def test_a_file_is_kept_examined_and_given_back_as_it_was(client, visit, csv_text):
    assert brought(client, visit["id"], csv_text, START) == "recording-1"
    shown = seen(client, visit)
    assert shown["visit"]["recordings"] == [], "samples are asked for by themselves"
    (line,) = shown["recordings"]
    assert (line["id"], line["mode"], len(line["series"])) == ("recording-1", "heating", len(PIPES))
    assert line["seconds"] == pytest.approx(1.3 * 3600, abs=10)
    (found,) = shown["examination"]["recordings"]
    assert [one["shifted"] for one in found["defrosts"]] == [True]
    back = client.get(f"/api/visits/{visit['id']}/recordings/recording-1/csv").json["csv"]
    assert read_csv(back, name="r", mode="heating", started_at=START) == read_csv(
        csv_text, name="r", mode="heating", started_at=START
    )
    whole = client.get(f"/api/visits/{visit['id']}/document").text
    alone = examine(parse_visit(whole)).model_dump(mode="json", by_alias=True)
    assert alone["recordings"] == shown["examination"]["recordings"]
    assert len(client.get(f"/api/visits/{visit['id']}/recordings/recording-1").json["series"]) == len(PIPES)


def test_one_sent_twice_is_kept_once_and_one_that_differs_is_refused(client, visit):
    key = uuid4().hex
    for mode, status in (("heating", 201), ("heating", 201)):
        answer = post(client, visit, "recordings", entry_key=key, mode=mode, started_at=START)
        assert answer.status_code == status
    assert len(seen(client, visit)["recordings"]) == 1
    assert post(client, visit, "recordings", mode="defrost", started_at=START).json == {
        "recording": "recording-2"
    }


def test_marks_by_hand_make_a_defrost_and_can_be_taken_back(client, visit):
    post(client, visit, "recordings", mode="heating", started_at=START)
    keys = []
    for at, code in (
        (60, "defrost_forced"),
        (63, "valve_shift_heard"),
        (64, "outdoor_fan_stopped"),
        (400, "valve_shift_heard"),
    ):
        keys.append(uuid4().hex)
        mark = {"seconds": at, "code": code}
        answer = client.post(
            f"/api/visits/{visit['id']}/marks",
            json={"recording": "recording-1", "entry_key": keys[-1], "mark": mark},
        )
        assert answer.status_code == 201
    (one,) = seen(client, visit)["examination"]["recordings"][0]["defrosts"]
    assert (one["started"], one["ended"], one["fan_stopped"]) == (
        pytest.approx(63, abs=5),
        pytest.approx(400, abs=5),
        True,
    )
    assert post(client, visit, "withdrawals", entry_key=keys[-1]).status_code == 201
    assert len(seen(client, visit)["recordings"][0]["marks"]) == 3
    recording_key = seen(client, visit)["recordings"][0]["entry_key"]
    assert post(client, visit, "withdrawals", entry_key=recording_key).status_code == 201
    assert seen(client, visit)["recordings"] == []
    assert (
        post(
            client, visit, "marks", recording="recording-9", mark={"seconds": 1, "code": "defrost_forced"}
        ).status_code
        == 404
    )

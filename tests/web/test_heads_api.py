"""Units with several heads through the API: which of them call, said at the start or later, and what is said of each."""

import json
from uuid import uuid4

import pytest
from test_api import call_on, seen

from heads import FIVE, Wrong, headed, of_heads
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.web import create_app
from solved import unit as unit_of_one


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


@pytest.fixture
def big(client):
    unit = of_heads(FIVE).model_dump(mode="json", exclude_none=True)
    return call_on(
        client,
        new_unit={"site": {"name": "Boat House"}, "unit": unit},
        run={"mode": "cooling", "minutes_running": 20},
    )


def say(client, visit, calling, run="run-1"):
    return client.patch(f"/api/visits/{visit['id']}/runs/{run}/heads", json={"heads_calling": calling})


def take(client, visit, station, value):
    reading = {"station": station, "quantity": "temperature", "value": value, "unit": "degF"}
    body = {"entry_key": uuid4().hex, "run": "run-1", "reading": reading}
    assert client.post(f"/api/visits/{visit['id']}/readings", json=body).status_code == 201


def test_which_heads_call_is_said_once_it_is_known(client, big):
    for station, value in (
        ("outdoor_air_in", 90),
        ("liquid_line_outdoor:2", 44),
        ("liquid_line_outdoor:4", 89),
    ):
        take(client, big, station, value)
    (run,) = seen(client, big)["examination"]["runs"]
    assert [head["calls"] for head in run["heads"]] == [None] * 5
    assert say(client, big, [2, 4]).status_code == 200
    now = seen(client, big)
    (run,) = now["examination"]["runs"]
    assert now["visit"]["runs"][0]["heads_calling"] == [2, 4]
    assert {head["number"]: (head["calls"], head["outdoors"]) for head in run["heads"]} == {
        1: (False, None), 2: (True, "fed"), 3: (False, None), 4: (True, "still"), 5: (False, None),
    }  # fmt: skip
    assert [head["number"] for head in run["heads"] if head["along"]] == [2]
    told = [line["did"] for line in client.get("/api/audit").json["lines"]]
    assert any("heads calling 2 and 4" in line for line in told)


@pytest.mark.parametrize(
    ("calling", "words"), [([6], "from 1 to 5"), ([2, 2], "once"), (["two"], "whole number")]
)
def test_heads_there_are_not_are_refused_in_a_sentence(client, big, calling, words):
    answer = say(client, big, calling)
    assert answer.status_code == 422
    assert words in json.dumps(answer.json)
    assert seen(client, big)["visit"]["runs"][0].get("heads_calling") is None


def test_no_heads_can_be_said_of_a_unit_that_has_one(client):
    unit = unit_of_one().model_dump(mode="json", exclude_none=True)
    visit = call_on(client, new_unit={"site": {"name": "Shed"}, "unit": unit}, run={"mode": "cooling"})
    assert say(client, visit, [1]).status_code == 422
    assert say(client, visit, None).status_code == 200


def test_a_run_is_begun_with_heads_and_read_by_its_own_names(client, big):
    body = {"entry_key": uuid4().hex, "mode": "cooling", "heads_calling": [3], "minutes_running": 20}
    assert client.post(f"/api/visits/{big['id']}/runs", json=body).status_code == 201
    now = seen(client, big)
    assert [run.get("heads_calling") for run in now["visit"]["runs"]] == [None, [3]]
    names = now["examination"]["station_names"]
    assert names["liquid_line_outdoor:3"] == "liquid line, head 3"
    assert names["outdoor_meter_coil_side:5"] == "outdoor EEV, coil side, head 5"


def test_units_to_choose_from_name_their_heads(client, big):
    (line,) = client.get("/api/units/found").json["units"]
    assert line["heads"] == [one["label"] for one in FIVE]
    assert line["circuits"] == []


def test_a_whole_visit_goes_in_and_comes_out(client, big):
    """Out of the book as a document, it is examined to the same words."""
    (made,) = headed(of_heads(FIVE), [("heating", [1, 4])], Wrong("leaking", (3,)))["runs"]
    body = {"entry_key": uuid4().hex, "mode": "heating", "heads_calling": [1, 4], "minutes_running": 25}
    key = client.post(f"/api/visits/{big['id']}/runs", json=body).json["run"]
    for one in made["readings"]:
        taken = {"run": key, "entry_key": uuid4().hex, "reading": one}
        assert client.post(f"/api/visits/{big['id']}/readings", json=taken).status_code == 201
    examination = seen(client, big)["examination"]
    first = examination["ranking"][0]
    assert (first["fault"], first["heads"], first["title"]) == (
        "head_meter_leaking",
        [3],
        "EEV of head 3 leaking",
    )
    document = client.get(f"/api/visits/{big['id']}/document").json
    assert document["runs"][-1]["heads_calling"] == [1, 4]
    assert examine(parse_visit(json.dumps(document))).verdict == examination["verdict"]

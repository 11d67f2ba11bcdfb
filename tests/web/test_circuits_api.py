"""Units with several circuits through the API: where a run is begun, what is refused, what a book keeps of it."""

import json
from uuid import uuid4

import pytest
from test_api import call_on, seen

from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.web import create_app
from siblings import of_siblings, of_two


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


@pytest.fixture
def unit():
    return of_two().model_dump(mode="json", exclude_none=True)


@pytest.fixture
def two(client, unit):
    return call_on(
        client,
        new_unit={"site": {"name": "Roof"}, "unit": unit},
        run={"mode": "heating", "circuit": "2", "minutes_running": 20},
    )


def added(client, visit, **run):
    body = {"entry_key": uuid4().hex, "mode": "heating", **run}
    return client.post(f"/api/visits/{visit['id']}/runs", json=body)


def test_a_run_is_begun_on_a_circuit(client, two):
    assert added(client, two, circuit="1").status_code == 201
    now = seen(client, two)
    assert [run["circuit"] for run in now["visit"]["runs"]] == ["2", "1"]
    assert [run["circuit"] for run in now["examination"]["runs"]] == ["2", "1"]
    assert [(one["id"], one["runs"]) for one in now["examination"]["circuits"]] == [
        ("1", ["run-2"]),
        ("2", ["run-1"]),
    ]


@pytest.mark.parametrize(
    ("run", "pointer", "words"),
    [
        ({}, "/circuit", "several circuits"),
        ({"circuit": "3"}, "/circuit", "no circuit '3'"),
        ({"circuit": "1", "heads_calling": [1]}, "/heads_calling", "no heads to call"),
    ],
)
def test_a_run_elsewhere_is_refused_in_a_sentence(client, two, run, pointer, words):
    answer = added(client, two, **run)
    assert answer.status_code == 422
    (problem,) = answer.json["errors"]
    assert problem["pointer"] == pointer
    assert words in problem["message"]
    assert len(seen(client, two)["visit"]["runs"]) == 1


def test_a_call_needs_the_circuit_it_begins_on(client, two):
    unit_id = client.get("/api/units").json["units"][0]["id"]
    body = {"entry_key": uuid4().hex, "unit_id": unit_id, "run": {"mode": "heating"}}
    answer = client.post("/api/visits", json=body)
    assert answer.status_code == 422
    assert answer.json["errors"][0]["pointer"] == "/run/circuit"
    (line,) = client.get("/api/units/found").json["units"]
    assert line["circuits"] == ["1", "2"]


def test_a_description_that_leaves_an_open_visits_runs_without_a_circuit_is_refused(client, two):
    (stored,) = client.get("/api/units").json["units"]
    at = f"/api/units/{stored['id']}"
    tag = {"If-Match": f'"{stored["revision"]}"'}
    one = {**stored["unit"]}
    del one["circuits"]
    answer = client.put(at, json=one, headers=tag)
    assert answer.status_code == 409
    assert "open visit" in answer.json["detail"]
    assert client.get("/api/units").json["units"][0] == stored
    more = {**stored["unit"], "circuits": [*stored["unit"]["circuits"], {"id": "3"}]}
    assert client.put(at, json=more, headers=tag).status_code == 200
    assert len(seen(client, two)["examination"]["circuits"]) == 3


def test_a_recording_is_of_a_circuit_or_of_none(client, two):
    at = f"/api/visits/{two['id']}/recordings"
    begun = {"mode": "heating", "started_at": "2026-01-15T07:00:00Z"}
    for circuit, status in (("1", 201), (None, 201), ("9", 422)):
        body = {"entry_key": uuid4().hex, "circuit": circuit, **begun}
        assert client.post(at, json=body).status_code == status
    now = seen(client, two)
    assert [one["id"] for one in now["examination"]["recordings"]] == ["recording-1", "recording-2"]
    document = client.get(f"/api/visits/{two['id']}/document").json
    assert [one.get("circuit") for one in document["recordings"]] == ["1", None]


def test_a_whole_visit_goes_in_and_comes_out(client, two):
    """Out of the book as a document, it is examined to the same words."""
    made = of_siblings(of_two(), {"2": ("undercharge", None)}, ("cooling",))
    for run in made["runs"]:
        key = added(client, two, mode="cooling", circuit=run["circuit"], minutes_running=20).json["run"]
        for one in run["readings"]:
            body = {"run": key, "entry_key": uuid4().hex, "reading": one}
            assert client.post(f"/api/visits/{two['id']}/readings", json=body).status_code == 201
    examination = seen(client, two)["examination"]
    assert (examination["ranking"][0]["fault"], examination["ranking"][0]["circuit"]) == ("undercharge", "2")
    assert examination["ranking"][0]["title"] == "undercharge, circuit 2"
    document = client.get(f"/api/visits/{two['id']}/document").json
    assert {run["circuit"] for run in document["runs"]} == {"1", "2"}
    again = examine(parse_visit(json.dumps(document)))
    assert again.verdict == examination["verdict"]

"""What visits came to, through the API."""

from uuid import uuid4

import pytest
from test_api import NEW_CALL, call_on, seen, take, turn_round
from test_door import signed_in

from builders import VALVE_PIPES
from demo_book import copy_book
from icepick.web import create_app
from people import make_people

COLD = {"fault": "undercharge", "certainty": "seen", "repair": "cured", "work": "Flare made new."}


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


def tell(client, visit, **outcome):
    return client.put(f"/api/visits/{visit}/outcome", json={**COLD, **outcome})


def test_an_outcome_is_told_of_a_closed_visit_too_and_kept_beside_what_was_said(tmp_path):
    client = create_app(copy_book(tmp_path / "icepick.db")).test_client()
    visits = {one["site"]: one for one in client.get("/api/visits").json["visits"]}
    visit = visits["Ice House"]["id"]
    assert seen(client, {"id": visit})["outcome"] is None
    before = client.get("/api/scores").json
    assert tell(client, visit, fault="source_coil_fouled").status_code == 200
    told = seen(client, {"id": visit})
    assert told["closed_at"] is not None
    assert told["outcome"]["said"] == told["examination"]["headline"]
    assert told["outcome"]["title"] == "source coil fouled"
    assert told["outcome"]["outcome"]["work"] == "Flare made new."
    after = client.get("/api/scores").json
    assert (after["scored"], after["first"]["count"]) == (before["scored"] + 1, before["first"]["count"] + 1)
    # It turns out to be another; what had been said of it stays what it is held to.
    tell(client, visit, fault="source_water_flow_low")
    corrected = client.get("/api/scores").json
    assert len(corrected["visits"]) == corrected["scored"]
    assert (corrected["scored"], corrected["first"]["count"]) == (after["scored"], before["first"]["count"])
    (miss,) = [one for one in corrected["visits"] if one["visit"] == visit and one["place"] != 1]
    assert (miss["said"], miss["was"], miss["site"]) == (
        "source coil fouled",
        "source water flow low",
        "Ice House",
    )
    # A guess, or nobody's knowing, is not counted.
    tell(client, visit, certainty="guessed")
    unsure = client.get("/api/scores").json
    assert (unsure["scored"], unsure["unsure"]) == (before["scored"], before["unsure"] + 1)
    assert tell(client, visit, certainty=None).status_code == 422
    assert tell(client, 10_000).status_code == 404


def test_what_was_said_before_it_was_known_is_what_counts(client):
    visit = call_on(client, **NEW_CALL)
    number = visit["id"]
    tell(client, number, fault=None, certainty=None)
    first = seen(client, visit)["outcome"]["said"]
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 52), strict=True):
        take(client, visit, station, value)
    tell(client, number)
    second = seen(client, visit)["outcome"]["said"]
    assert second == seen(client, visit)["examination"]["headline"] != first
    take(client, visit, "common_suction", 110)
    assert seen(client, visit)["examination"]["headline"] != second
    tell(client, number, work="Flare made new, charged by weight.")
    assert seen(client, visit)["outcome"]["said"] == second


def test_a_run_after_the_repair_leaves_the_verdict_as_it_was(client):
    visit = call_on(client, **NEW_CALL)
    take(client, visit, "discharge_line", 168)
    found = seen(client, visit)["examination"]["headline"]
    body = {"entry_key": uuid4().hex, "mode": "cooling", "minutes_running": 20, "after_repair": True}
    run = client.post(f"/api/visits/{visit['id']}/runs", json=body).json["run"]
    take(client, visit, "discharge_line", 150, run=run)
    now = seen(client, visit)
    assert now["examination"]["headline"] == found
    assert now["examination"]["after_repair"]["headline"]
    assert [one["after_repair"] for one in now["visit"]["runs"]] == [False, True]
    assert turn_round(client, visit, "heating").status_code == 201
    assert seen(client, visit)["visit"]["runs"][2]["after_repair"] is False


def test_the_audit_names_who_told_it(tmp_path):
    make_people(tmp_path / "icepick.db", "lead", "technician")
    app = create_app(tmp_path / "icepick.db", locked=True)
    technician = signed_in(app, "technician")
    visit = call_on(technician, **NEW_CALL)
    tell(technician, visit["id"])
    tell(technician, visit["id"])
    assert seen(technician, visit)["outcome"]["by"] == "technician"
    lines = [
        line for line in signed_in(app, "lead").get("/api/audit").json["lines"] if "outcome" in line["did"]
    ]
    assert [line["did"] for line in lines] == [
        "told the outcome: it was undercharge; the repair: it runs as it should"
    ], "told twice alike, it stands once"

"""The bench over the API: nothing of the truth leaves before it was said, and what is done is done once."""

import json
from itertools import count
from typing import get_args

import pytest
from test_door import signed_in
from test_records_api import followed, sent

from builders import SPLIT_UNIT
from icepick.bench.lessons import lessons
from icepick.core.document.examination import Fault
from icepick.web import create_app
from people import make_people

KEYS = (f"bench-key-{n:05d}" for n in count())


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


def begin(client, **what):
    answer = client.post("/api/bench/attempts", json={"entry_key": next(KEYS), **what})
    assert answer.status_code == 201, answer.text
    return f"/api/bench/attempts/{answer.json['id']}"


def do(client, at, key=None, **step):
    return client.post(f"{at}/steps", json={"entry_key": key or next(KEYS), "step": step})


def take(client, at, station, quantity="temperature"):
    return do(client, at, act="take", station=station, quantity=quantity)


def set_by_hand(client, *troubles, **changes):
    body = {
        "entry_key": next(KEYS),
        "title": "Try this",
        "stock": "split-txv",
        "told": "It is weak.",
        "complaint": "weak",
        "arrives": "cooling",
        "outdoor": {"value": 88, "unit": "degF"},
        "indoor": {"value": 76, "unit": "degF"},
        "troubles": list(troubles),
        **changes,
    }
    return client.post("/api/bench/cases", json=body)


PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
UNALIKE = (
    {"fault": "undercharge", "severity": 30},
    {"fault": "valve_bypassing", "severity": 30},
    {"fault": "solenoid_open"},
    {"fault": "outdoor_airflow_low", "severity": 50, "cause": "dirt"},
)


def without_numbers(found):
    """A view with what belongs to the attempt, and what was measured, taken out of it."""
    if isinstance(found, dict):
        gone = {"id", "code", "value", "uncertainty", "found", "volts", "uses"}
        return {key: without_numbers(value) for key, value in found.items() if key not in gone}
    if isinstance(found, list):
        return [without_numbers(one) for one in found]
    return found


def test_nothing_of_the_truth_leaves_before_it_was_said(client):
    views = []
    for trouble in UNALIKE:
        code = set_by_hand(client, trouble).json["code"]
        assert trouble["fault"] not in code
        at = begin(client, code=code)
        untouched = client.get(at).json
        for station in PIPES:
            read = take(client, at, station)
        read = take(client, at, "common_suction_tap", "pressure")
        read = take(client, at, "terminal_o", "voltage")
        views.append((without_numbers(untouched), read.json))
        assert client.get(f"{at}/debrief").status_code == 409
        text = json.dumps({**read.json, "choices": None})
        # Whatever is wrong with it, no word of it is there outside of what could be said of any unit.
        named = [fault for fault in get_args(Fault) if fault != "none" and f'"{fault}"' in text]
        assert named == []
    # Before anything is read all of them are the same, to the letter; the names of attempts and cases apart.
    assert all(untouched == views[0][0] for untouched, _ in views)
    for _, read in views:
        for run in read["examined"]:
            assert run["checks"] == run["doubts"] == run["devices"] == []
            assert run["expected"] == run["expected_indicators"] == {}
            assert run["departure"] is None
            assert not {"valve_bypass_fraction", "valve_position_index"} & run["indicators"].keys()
            assert run["apparent_mode"] == "unknown"
            assert run["running_mode"] == run["commanded_mode"]
            assert {leg["status"] for leg in run["legs"]} <= {"needs_readings"}
            assert {one["status"] for one in run["terminals"]} <= {"needs_readings"}
    # The figures alone differ: those of the readings.
    assert len({json.dumps(read["examined"][0]["readings"][0]) for _, read in views}) == len(UNALIKE)
    # What a case may be set with is there for all; what these were set with is not.
    home = json.dumps({**client.get("/api/bench").json, "settable": None})
    assert not any(f'"{trouble["fault"]}"' in home for trouble in UNALIKE)


def test_a_step_sent_twice_is_done_once(client):
    at = begin(client, code="valve-3")
    first = do(client, at, key="the-same-key", act="take", station="discharge_line", quantity="temperature")
    again = do(client, at, key="the-same-key", act="take", station="discharge_line", quantity="temperature")
    assert first.json == again.json
    other = do(client, at, key="the-same-key", act="wait", minutes=5)
    assert other.status_code == 409
    assert len(client.get(at).json["steps"]) == 1


def test_what_can_not_be_done_is_refused_and_costs_nothing(client):
    at = begin(client, code="meter-5")  # Clamps and probes, and out of reach is out of reach.
    before = client.get(at).json
    for step, status in (
        ({"act": "take", "station": "discharge_tap", "quantity": "pressure"}, 409),
        ({"act": "take", "station": "indoor_meter_line_side", "quantity": "temperature"}, 409),
        ({"act": "take", "station": "nowhere", "quantity": "temperature"}, 422),
        ({"act": "take", "station": "discharge_line", "quantity": "voltage"}, 422),
        ({"act": "look", "look": "crystal_ball"}, 409),
        ({"act": "switch", "mode": "cooling"}, 409),
        ({"act": "logger"}, 409),
        ({"act": "repair", "fault": "head_meter_leaking"}, 409),
        ({"act": "wait", "minutes": 1000}, 422),
        ({"act": "guess"}, 422),
    ):
        answer = do(client, at, **step)
        assert answer.status_code == status, (step, answer.text)
    assert client.get(at).json == before
    assert (
        client.post("/api/bench/attempts", json={"entry_key": next(KEYS), "code": "Z-1"}).status_code == 404
    )
    said = {"faults": [{"fault": "source_coil_fouled", "where": None, "band": None}], "confidence": 0.9}
    assert client.post(f"{at}/saying", json=said).status_code == 422


def test_from_the_first_reading_to_the_debrief(client):
    at = begin(client, code="valve-3")
    for station in PIPES:
        take(client, at, station)
    hint = do(client, at, act="hint").json["steps"][-1]
    assert hint["ended"] - hint["began"] >= 5
    assert len(hint["found"]) > 20
    do(client, at, act="look", look="magnets")
    shift = do(client, at, act="switch", mode="heating").json
    assert shift["mode"] == "heating"
    assert shift["steps"][-1]["shifted"]
    said = {
        "faults": [{"fault": "valve_bypassing", "where": None, "band": "grave"}],
        "confidence": 0.9,
        "speaks_for": [4, 6],
        "would_do": [],
    }
    assert client.post(f"{at}/saying", json=said).status_code == 201
    assert client.post(f"{at}/saying", json=said).status_code == 409
    assert take(client, at, "discharge_line").status_code == 409
    found = client.get(f"{at}/debrief").json
    assert found["teaches"] == lessons()["valve-3"].teaches
    debrief = found["debrief"]
    assert [one["fault"] for one in debrief["truth"]] == ["valve_bypassing"]
    assert debrief["score"]["right"]
    assert len(debrief["own"]) == 7
    assert debrief["own"][3]["share"] > debrief["own"][2]["share"]
    assert debrief["best"][0]["words"] == "return air"
    metric = client.get(f"{at}/debrief?units=metric").json["debrief"]
    assert "°C" in metric["own"][0]["found"]
    # The home knows; the table too, and says what it is.
    home = client.get("/api/bench").json
    assert home["progress"]["streak"] == 1
    assert home["progress"]["next_lesson"] == "valve-1"
    (row,) = client.get("/api/bench/progress.csv").text.splitlines()[1:]
    assert row.startswith('"practice bench')
    assert "valve_bypassing,valve_bypassing" in row


def test_practice_never_becomes_a_customers_visit(client, tmp_path):
    at = begin(client, code="valve-3")
    take(client, at, "discharge_line")
    document = client.get(f"{at}/document").json
    assert document["bench"] == "valve-3"
    assert client.get("/api/visits").json["visits"] == []
    file = tmp_path / "valve-3.json"
    file.write_text(json.dumps(document))
    refused = followed(client, sent(client, file))
    assert refused["state"] == "refused"
    assert "practice at the bench, case valve-3" in refused["trouble"]
    assert client.get("/api/visits").json["visits"] == client.get("/api/units").json["units"] == []


def test_a_case_that_no_unit_survives_is_refused(client):
    answer = set_by_hand(client, {"fault": "active_meter_underfeeding", "severity": 96})
    assert answer.status_code == 422
    assert "safety" in answer.json["detail"]
    assert set_by_hand(client, {"fault": "undercharge", "severity": 0}).status_code == 422
    assert set_by_hand(client, stock="a toaster").status_code == 422


def test_each_has_attempts_of_their_own_and_who_set_a_case_sees_how_it_went(tmp_path):
    make_people(tmp_path / "icepick.db", "lead", "technician", "apprentice", "office")
    app = create_app(tmp_path / "icepick.db", locked=True)
    lead, apprentice = signed_in(app, "lead"), signed_in(app, "apprentice")
    code = set_by_hand(lead, {"fault": "undercharge", "severity": 30}).json["code"]
    at = begin(apprentice, code=code)
    assert lead.get(at).status_code == 404
    assert do(lead, at, act="wait", minutes=5).status_code == 404
    apprentice.post(f"{at}/saying", json={"faults": [], "confidence": 0.6})
    (line,) = lead.get("/api/bench").json["set_by_me"]
    assert (line["code"], [one["by"] for one in line["attempts"]]) == (code, ["apprentice"])
    assert line["attempts"][0]["right"] is False
    assert apprentice.get("/api/bench").json["set_by_me"] == []
    assert signed_in(app, "office").get("/api/bench").status_code == 403
    # What an apprentice may not do elsewhere, practice does not open.
    assert apprentice.post("/api/units", json={"site": {"name": "x"}, "unit": SPLIT_UNIT}).status_code == 403

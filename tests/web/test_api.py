"""The JSON API through its public face."""

import gzip
import json
import re
from contextlib import closing
from uuid import uuid4

import jsonpatch
import pytest
from jsonschema import Draft202012Validator

from builders import SPLIT_UNIT, VALVE_PIPES, ductless, reading
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.store.database import connect
from icepick.web import create_app, openapi
from icepick.web.security import MAX_BODY
from icepick.web.summarizing import catch_up
from plant import PSI, fluid, kelvin

KEY = {"entry_key": "a key of its own"}
NEW_CALL = {
    "new_unit": {"site": {"name": "Test Hall"}, "unit": SPLIT_UNIT},
    "complaint": "weak",
    "run": {"mode": "cooling", "minutes_running": 15},
}


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db", hosts=["tablet.local"]).test_client()


def call_on(client, **call):
    """Start a call and give the visit as the screen then gets it."""
    answer = client.post("/api/visits", json={"entry_key": uuid4().hex, **call})
    assert answer.status_code == 201, answer.text
    return seen(client, answer.json)


def seen(client, visit):
    return client.get(f"/api/visits/{visit['id']}").json


def listed(client, **asked):
    """The list of calls once the lines are up to date, as the server's own thread brings them."""
    with closing(connect(client.application.config["ICEPICK_DB"], worked_out=True)) as db:
        catch_up(db)
    return client.get("/api/visits", query_string=asked).json["visits"]


def turn_round(client, visit, mode, key=None):
    body = {"entry_key": key or uuid4().hex, "mode": mode}
    return client.post(f"/api/visits/{visit['id']}/runs", json=body)


@pytest.fixture
def visit(client):
    return call_on(client, **NEW_CALL)


def take(client, visit, station, value, key=None, **more):
    body = {
        "run": "run-1",
        "entry_key": key or f"{station}-{value}",
        "reading": reading(station, value, **more),
    }
    return client.post(f"/api/visits/{visit['id']}/readings", json=body)


def test_a_call_from_start_to_verdict(client, visit):
    assert visit["examination"]["outcome"] == "needs_readings"
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 52), strict=True):
        answer = take(client, visit, station, value)
        assert answer.status_code == 201
    assert seen(client, visit)["examination"]["outcome"] == "pass"
    (line,) = client.get("/api/visits").json["visits"]
    assert (line["site"], line["modes"], line["headline"]) == ("Test Hall", ["cooling"], None)
    assert not line["up_to_date"]
    (line,) = listed(client)
    assert (line["outcome"], line["up_to_date"], line["trouble"]) == ("pass", True, None)

    assert turn_round(client, visit, "heating").json == {"run": "run-2"}
    turned = seen(client, visit)
    assert [run["id"] for run in turned["visit"]["runs"]] == ["run-1", "run-2"]
    assert turned["examination"]["outcome"] == "needs_readings"

    clock = f"/api/visits/{visit['id']}/runs/run-1/clock"
    assert client.patch(clock, json={"minutes_running": 2}).status_code == 200
    restarted = seen(client, visit)
    assert restarted["examination"]["runs"][0]["checks"][0]["status"] == "watch"

    load = f"/api/visits/{visit['id']}/runs/run-1/compressor"
    assert client.patch(load, json={"compressor_stage": "low"}).json == {"run": "run-1"}
    kept = seen(client, visit)["visit"]["runs"][0]
    assert (kept["compressor_stage"], kept["compressor_speed"]) == ("low", None)
    assert client.patch(load, json={"compressor_speed": 900}).status_code == 422


def test_the_exported_document_gives_the_same_examination_on_the_command_line(client, visit):
    take(client, visit, "discharge_line", 170)
    document = client.get(f"/api/visits/{visit['id']}/document").data
    assert parse_visit(document).runs[0].readings[0].value == 170


def test_a_second_call_on_a_known_unit(client, visit):
    unit = client.get("/api/units").json["units"][0]
    assert unit["unit"]["label"] == "test unit"
    again = call_on(client, unit_id=unit["id"], run={"mode": "heating"})
    assert again["visit"]["site"] == {"name": "Test Hall", "notes": None, "elevation": None}
    assert len(client.get("/api/units").json["units"]) == 1


def test_units_of_the_answer_can_be_chosen(client, visit):
    take(client, visit, "discharge_line", 50, unit="degC")
    shown = [
        client.get(f"/api/visits/{visit['id']}?units={system}").json["examination"]["runs"][0]["readings"][0]
        for system in ("field", "metric")
    ]
    assert [(r["value"], r["unit"]) for r in shown] == [(122, "degF"), (50, "degC")]


def test_a_reading_sent_twice_counts_once(client, visit):
    for _ in range(2):
        answer = take(client, visit, "discharge_line", 170, key="the same key")
        assert (answer.status_code, answer.json) == (201, {"entry_key": "the same key"})
    assert len(seen(client, visit)["visit"]["runs"][0]["readings"]) == 1


def changes(client, visit, since=None, **headers):
    return client.get(
        f"/api/visits/{visit['id']}/changes", query_string={"since": since} if since else {}, headers=headers
    )


def test_what_changed_leads_from_what_was_shown_to_what_is_so_now(client, visit):
    first = changes(client, visit).json
    assert first["whole"] == seen(client, visit)
    assert changes(client, visit, first["revision"]).json == {
        "revision": first["revision"],
        "steps": [],
        "whole": None,
    }
    shown, revision = first["whole"], first["revision"]
    for station, value in (
        ("discharge_line", 170),
        ("common_suction", 50),
        ("common_suction", 62),
        ("outdoor_port", 999),
    ):
        take(client, visit, station, value)
        answer = changes(client, visit, revision)
        shown = (
            jsonpatch.apply_patch(shown, answer.json["steps"])
            if answer.json["whole"] is None
            else answer.json["whole"]
        )
        revision = answer.json["revision"]
        assert shown == seen(client, visit)
    take(client, visit, "common_suction", 62, key="read once more")
    last = changes(client, visit, revision)
    assert last.json["whole"] is None
    assert len(last.data) < len(changes(client, visit).data) / 4
    # A revision nobody remembers is answered with all there is.
    assert changes(client, visit, "long ago").json["whole"] == seen(client, visit)


def test_a_practice_limit_changed_elsewhere_is_a_change_of_the_visit(client, visit):
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 58), strict=True):
        take(client, visit, station, value)
    before = changes(client, visit).json
    assert before["whole"]["examination"]["outcome"] == "fail"
    assert client.put("/api/handbook/limits/valve_suction_rise", json={"value": 12}).status_code == 200
    assert changes(client, visit, before["revision"]).json["revision"] != before["revision"]


def test_what_is_being_typed_is_examined_before_it_is_entered_and_nothing_of_it_kept(
    client, visit, monkeypatch
):
    examined = []

    def watched(document, *rest):
        examined.append(document)
        return examine(document, *rest)

    monkeypatch.setattr("icepick.web.examined.examine", watched)

    def typed(value, **more):
        reading = {
            "station": "discharge_line",
            "quantity": "temperature",
            "value": value,
            "unit": "degF",
            "method": "clamp",
            "at": "2026-11-27T09:30:00.120Z",
        } | more
        ahead = {"run": "run-1", "reading": reading}
        return client.post(f"/api/visits/{visit['id']}/typed", json=ahead), reading

    assert typed(170)[0].json == {"ready": False}, "nobody looks at it"
    revision = changes(client, visit).json["revision"]
    changes(client, visit, revision)
    examined.clear()
    (answer, reading), other = typed(171.5), typed(20.25, station="common_suction")
    assert (answer.json, other[0].json) == ({"ready": True}, {"ready": True})
    assert len(examined) == 2
    assert changes(client, visit, revision).json["steps"] == []
    assert typed(99_999)[0].status_code == 422

    entered = {"run": "run-1", "entry_key": "typed-first", "reading": reading}
    assert client.post(f"/api/visits/{visit['id']}/readings", json=entered).status_code == 201
    shown = changes(client, visit).json["whole"]
    assert len(examined) == 2, "it was there"
    document = parse_visit(client.get(f"/api/visits/{visit['id']}/document").text)
    assert shown["examination"] == json.loads(examine(document).model_dump_json())
    assert [one["value"] for one in shown["visit"]["runs"][0]["readings"]] == [171.5]


def test_answers_are_packed_for_a_slow_line(client, visit):
    plain = changes(client, visit)
    packed = changes(client, visit, **{"Accept-Encoding": "gzip"})
    assert packed.headers["Content-Encoding"] == "gzip"
    assert gzip.decompress(packed.data) == plain.data
    assert len(packed.data) < len(plain.data) / 4
    again = changes(client, visit, **{"Accept-Encoding": "gzip", "If-None-Match": packed.headers["ETag"]})
    assert again.status_code == 304


def test_a_key_that_stands_for_something_else_is_refused_not_acknowledged(client, visit):
    """Acknowledged, the reading would be dropped by the device that typed it, and lost."""
    take(client, visit, "discharge_line", 170, key="the one key")
    mark = {"run": "run-1", "entry_key": "the one key", "observation": {"code": "oil_stain"}}
    answers = [
        take(client, visit, "discharge_line", 171, key="the one key"),
        take(client, visit, "common_suction", 170, key="the one key"),
        client.post(f"/api/visits/{visit['id']}/observations", json=mark),
    ]
    assert [(a.status_code, a.mimetype) for a in answers] == [(409, "application/problem+json")] * 3
    (kept,) = seen(client, visit)["visit"]["runs"][0]["readings"]
    assert (kept["station"], kept["value"]) == ("discharge_line", 170)


def test_what_is_made_twice_under_one_key_is_made_once(client, visit):
    call = {"entry_key": "call-key", "unit_id": visit["unit_id"], "run": {"mode": "heating"}}
    first, second = (client.post("/api/visits", json=call) for _ in range(2))
    assert first.json == second.json == {"id": 2}
    assert client.post("/api/visits", json={**call, "complaint": "noise"}).status_code == 409
    runs = [turn_round(client, visit, "heating", key="run-key-1") for _ in range(2)]
    assert [answer.json for answer in runs] == [{"run": "run-2"}] * 2
    assert turn_round(client, visit, "cooling", key="run-key-1").status_code == 409
    assert turn_round(client, {"id": 2}, "heating", key="run-key-1").status_code == 409
    unit = {"entry_key": "unit-key", "site": {"name": "Boat Shed"}, "unit": SPLIT_UNIT}
    ids = {client.post("/api/units", json=unit).json["id"] for _ in range(2)}
    assert len(ids) == 1
    assert len(client.get("/api/units").json["units"]) == 2
    assert len(client.get("/api/visits").json["visits"]) == 2


def test_a_line_set_that_leaves_no_pressure_to_meter_is_refused_with_what_can_be_sized(client, visit):
    unit = {"entry_key": "far unit", "site": {"name": "Far House"}, "unit": ductless("R-407C", 260)}
    call = {
        "entry_key": "far call",
        "new_unit": {"site": unit["site"], "unit": unit["unit"]},
        "run": {"mode": "heating"},
    }
    for asked, body, field in (("units", unit, "/unit"), ("visits", call, "/new_unit/unit")):
        refused = client.post(f"/api/{asked}", json=body)
        assert refused.status_code == 422
        (problem,) = refused.json["errors"]
        assert problem["pointer"] == f"{field}/line_set_length"
        most = int(re.search(r"can be sized up to (\d+) ft", problem["message"])[1])
        assert 100 < most < 260
    unit["unit"]["line_set_length"]["value"] = most
    assert client.post("/api/units", json=unit).status_code == 201


def test_a_reading_is_acknowledged_whatever_becomes_of_its_examination(client, visit, monkeypatch):
    """A 5xx after the commit would have the device send it again, and hold up what was typed after it."""
    monkeypatch.setattr("icepick.web.examined.examine", lambda *_: 1 / 0)
    kept = take(client, visit, "discharge_line", 173.3)  # a visit that was not examined before
    assert kept.status_code == 201
    assert turn_round(client, visit, "heating").status_code == 201
    assert changes(client, visit).status_code == 500
    kept = take(client, visit, "discharge_line", 174.1)
    kept.close()  # somebody looks at it now: it is examined once the answer has left, and fails there
    assert kept.status_code == 201
    monkeypatch.undo()
    assert len(seen(client, visit)["visit"]["runs"]) == 2


def test_what_an_older_icepick_took_is_set_aside_and_named(client, visit, tmp_path):
    """A capacity of nothing, typed before it was refused, must not empty the list of calls; and it can be put right."""
    other = call_on(client, unit_id=visit["unit_id"], run={"mode": "heating"})
    take(client, visit, "discharge_line", 170)
    take(client, visit, "common_suction", 50)
    spoilt = {**SPLIT_UNIT, "nominal_capacity": {"value": 0, "unit": "Btu/h"}}
    with closing(connect(tmp_path / "icepick.db")) as db:
        db.execute("DROP TRIGGER unit_revisions_stay")
        db.execute("UPDATE unit_revisions SET document = ?", (json.dumps(spoilt),))
        db.execute("DROP TRIGGER readings_stay")
        db.execute("UPDATE readings SET value = 9000 WHERE station = 'discharge_line'")
        db.execute(
            "INSERT INTO practice_changes (name, value, recorded_at)"
            " VALUES ('control_absent', 20, ''), ('gone', 1, '')"
        )
    assert len(client.get("/api/visits").json["visits"]) == 2
    found = seen(client, visit)
    assert [r["station"] for r in found["visit"]["runs"][0]["readings"]] == ["common_suction"]
    assert [words.split(":")[0] for words in found["set_aside"]] == [
        "unit nominal capacity",
        "run 1 reading 1",
    ]
    (unit,) = client.get("/api/units").json["units"]
    assert unit["unit"]["nominal_capacity"] is None
    assert "0 Btu/h is outside" in unit["set_aside"][0]
    mended = client.put(
        f"/api/units/{unit['id']}", json=SPLIT_UNIT, headers={"If-Match": str(unit["revision"])}
    )
    assert mended.json["set_aside"] == []
    assert seen(client, other)["set_aside"] == []


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "words"),
    [
        ("get", "/api/visits/99", None, 404, "There is no visit 99."),
        ("get", "/api/nothing", None, 404, "There is nothing at /api/nothing."),
        ("get", "/api/visits/1?units=stone", None, 400, "units is 'field' or 'metric'"),
        ("post", "/api/visits/1/readings", {"run": "run-9"}, 422, "/entry_key: this field is needed."),
        ("post", "/api/visits", {**KEY, "run": {"mode": "cooling"}}, 422, "Give either unit_id or new_unit."),
        (
            "post",
            "/api/visits",
            {**KEY, "unit_id": 9, "run": {"mode": "cooling"}},
            404,
            "There is no unit 9.",
        ),
        ("post", "/api/visits", {**KEY, "unit_id": 2**63, "run": {"mode": "cooling"}}, 422, "/unit_id"),
        ("post", "/api/visits/99/runs", {**KEY, "mode": "heating"}, 404, "There is no visit 99."),
        ("get", f"/api/visits/{2**64}", None, 404, "There is nothing of that number."),
        (
            "post",
            f"/api/visits/{10**400}/runs",
            {**KEY, "mode": "heating"},
            404,
            "There is nothing of that number.",
        ),
        ("patch", "/api/visits/1/runs/run-9/clock", {}, 404, "Visit 1 has no run 'run-9'."),
        ("put", "/api/visits", {}, 405, "not allowed"),
        ("put", "/api/handbook/limits/control_absent", {"value": 18}, 422, "must stay below"),
        ("put", "/api/handbook/limits/water_difference", {"value": 1e-300}, 422, "makes no sense here"),
        ("put", "/api/handbook/limits/nothing", {"value": 1}, 404, "There is no limit"),
        ("post", "/api/visits/1/withdrawals", {"entry_key": "nobody's"}, 404, "has no such entry"),
        ("put", "/api/visits/1/runs/run-1/notes", {"text": "x"}, 428, "If-Match"),
        ("put", "/api/units/9", SPLIT_UNIT, 428, "If-Match"),
    ],
)
def test_refusals_are_problem_details(client, visit, method, path, body, status, words):
    answer = client.open(path, method=method.upper(), json=body)
    assert answer.status_code == status
    assert answer.mimetype == "application/problem+json"
    assert answer.json["status"] == status
    assert words in answer.json["detail"]


def test_a_refused_reading_points_at_its_field_and_leaves_no_trace(client, visit):
    answer = take(client, visit, "discharge_line", 900)
    assert answer.json["errors"][0]["pointer"] == "/reading/value"
    assert client.get(f"/api/visits/{visit['id']}").json["visit"]["runs"][0]["readings"] == []


@pytest.mark.parametrize(
    ("tag", "status"),
    [("", 428), ("rev-1", 400), ('W/"0"', 200), ("9" * 40, 400), ("²", 400), ('"7"', 412), ('"0', 200)],
)
def test_a_malformed_if_match_is_the_clients_mistake(client, visit, tag, status):
    url = f"/api/visits/{visit['id']}/runs/run-1/notes"
    assert client.put(url, json={"text": "x"}, headers={"If-Match": tag}).status_code == status


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/" + "a" * 5000, (200, 503)),
        ("GET", "/" + "a/" * 4000, (200, 503)),
        ("GET", "/..%2f..%2fsecurity.py", (200, 503)),
        ("GET", "/assets/..%2f..%2fsecurity.py", (404,)),
        ("GET", "/assets/" + "a" * 5000, (404,)),
        ("GET", "/%00", (200, 503)),
        ("GET", "/assets/%00", (404,)),
        ("GET", "/api/..%2f", (404,)),
        ("POST", "/api/nothing", (404, 405)),
        ("POST", "/walk", (405,)),
        ("BREW", "/api/visits", (405,)),
        ("DELETE", "/api/visits/1", (405,)),
    ],
)
def test_odd_addresses_are_no_business_of_ours(client, visit, method, path, status):
    with client.open(path, method=method) as answer:
        assert answer.status_code in status
        assert "refuse_strangers" not in answer.text, "no file of ours but the front end's"


def test_a_wrong_method_says_which_are_right(client, visit):
    answer = client.delete("/api/visits")
    assert answer.status_code == 405
    assert {"GET", "POST"} <= set(answer.headers["Allow"].split(", "))


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Host": "127.0.0.1:8321"}, 200),
        ({"Host": "localhost"}, 200),
        ({"Host": "tablet.local"}, 200),
        ({"Host": "evil.example"}, 400),
        ({"Host": "localhost.evil.example"}, 400),
        ({"Host": ""}, 400),
        ({"Host": "[::1"}, 400),
        ({"Host": "a b"}, 400),
        ({"Host": "localhost:99999999"}, 400),
    ],
)
def test_only_known_hosts_are_answered(client, headers, status):
    assert client.get("/api/visits", headers=headers).status_code == status


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Origin": "http://localhost"}, 201),
        ({"Origin": "http://evil.example"}, 403),
        ({"Origin": "http://localhost:9999"}, 403),
        ({"Origin": "null"}, 403),
        ({"Origin": "http://[::1"}, 403),
        ({"Origin": "http://localhost:port"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Content-Type": "text/plain"}, 415),
    ],
)
def test_only_pages_of_ours_may_change_anything(client, headers, status):
    headers = {"Content-Type": "application/json", **headers}
    body = json.dumps({**KEY, **NEW_CALL})
    assert client.post("/api/visits", data=body, headers=headers).status_code == status


def test_a_large_body_is_refused(client):
    answer = client.post("/api/visits", data=b" " * (MAX_BODY + 1), content_type="application/json")
    assert answer.status_code == 413


def test_every_answer_carries_the_security_headers(client):
    for path in ("/api/visits", "/api/nothing"):
        headers = client.get(path).headers
        assert "default-src 'self'" in headers["Content-Security-Policy"]
        assert "http" not in headers["Content-Security-Policy"]
        assert headers["X-Content-Type-Options"] == "nosniff"


def test_an_unforeseen_error_says_so_without_its_inner_workings(tmp_path, monkeypatch):
    app = create_app(tmp_path / "icepick.db")
    monkeypatch.setattr("icepick.web.equipment.all_units", lambda _: 1 / 0)
    answer = app.test_client().get("/api/units")
    assert (answer.status_code, answer.mimetype) == (500, "application/problem+json")
    assert "ZeroDivision" not in answer.text


def test_the_description_fits_the_answers(client, visit):
    """Every answer is valid against the schema that the OpenAPI description gives for it."""
    description = client.get("/api/openapi.json").json
    assert description == json.loads(json.dumps(openapi()))
    take(client, visit, "discharge_line", 170)
    for path, url in (
        ("/api/visits", "/api/visits"),
        ("/api/visits/{visit_id}", f"/api/visits/{visit['id']}"),
        ("/api/visits/{visit_id}/document", f"/api/visits/{visit['id']}/document"),
        ("/api/units", "/api/units"),
        ("/api/catalogue", "/api/catalogue"),
    ):
        content = description["paths"][path]["get"]["responses"]["200"]["content"]
        schema = {**content["application/json"]["schema"], "components": description["components"]}
        Draft202012Validator(schema).validate(client.get(url).json)


def test_a_reading_taken_back_no_longer_counts_and_stays_in_the_record(client, visit):
    take(client, visit, "discharge_line", 170, key="first one")
    take(client, visit, "discharge_line", 200, key="second one")
    for _ in range(2):
        url = f"/api/visits/{visit['id']}/withdrawals"
        assert client.post(url, json={"entry_key": "second one"}).status_code == 201
    found = seen(client, visit)
    shown = found["examination"]["runs"][0]["readings"][0]
    assert (shown["value"], shown["earlier"]) == (170, 0)
    assert [(e["entry_key"], e["withdrawn"]) for e in found["entries"]] == [
        ("first one", False),
        ("second one", True),
    ]


def test_observations_are_appended_once_and_can_be_taken_back(client, visit):
    url = f"/api/visits/{visit['id']}"
    body = {"run": "run-1", "entry_key": "frost-mark", "observation": {"code": "outdoor_coil_frosted_even"}}
    for _ in range(2):
        assert client.post(f"{url}/observations", json=body).status_code == 201
    assert [o["code"] for o in seen(client, visit)["visit"]["runs"][0]["observations"]] == [
        "outdoor_coil_frosted_even"
    ]
    assert client.post(f"{url}/withdrawals", json={"entry_key": "frost-mark"}).status_code == 201
    assert seen(client, visit)["visit"]["runs"][0]["observations"] == []


def test_two_people_writing_notes_lose_nothing(client, visit):
    url = f"/api/visits/{visit['id']}/runs/run-1/notes"

    def write(text, revision):
        return client.put(url, json={"text": text}, headers={"If-Match": f'"{revision}"'})

    first = write("fan hums", 0)
    assert seen(client, visit)["notes_revision"]["run-1"] == first.json["revision"]
    stale = write("coil is clean", 0)
    assert (stale.status_code, stale.mimetype) == (412, "application/problem+json")
    now = client.get(f"/api/visits/{visit['id']}").json
    assert now["visit"]["runs"][0]["notes"] == "fan hums"
    write("fan hums; coil is clean", now["notes_revision"]["run-1"])
    assert seen(client, visit)["visit"]["runs"][0]["notes"] == "fan hums; coil is clean"


def test_a_unit_described_anew_moves_its_latest_visit_only(client, visit):
    (unit,) = client.get("/api/units").json["units"]
    later = call_on(client, unit_id=unit["id"], run={"mode": "heating"})
    changed = {**SPLIT_UNIT, "refrigerant": "R-32"}
    url, tag = f"/api/units/{unit['id']}", {"If-Match": str(unit["revision"])}
    assert client.put(url, json=changed, headers=tag).json["unit"]["refrigerant"] == "R-32"
    assert client.put(url, json=changed, headers=tag).status_code == 412
    refrigerants = [
        client.get(f"/api/visits/{v['id']}").json["visit"]["unit"]["refrigerant"] for v in (visit, later)
    ]
    assert refrigerants == ["R-410A", "R-32"]


def test_an_unchanged_visit_is_not_sent_again(client, visit):
    url = f"/api/visits/{visit['id']}"
    tag = client.get(url).headers["ETag"]
    assert client.get(url, headers={"If-None-Match": tag}).status_code == 304
    take(client, visit, "discharge_line", 170)
    assert client.get(url, headers={"If-None-Match": tag}).status_code == 200


def test_a_unit_is_previewed_without_being_kept(client):
    preview = client.post("/api/units/preview", json={**SPLIT_UNIT, "accumulator": False}).json
    assert [run["commanded_mode"] for run in preview["runs"]] == ["cooling", "heating"]
    assert preview["runs"][0]["path"][0]["station"] == "discharge_line"
    assert client.get("/api/units").json["units"] == []


def test_a_visit_is_held_against_earlier_ones_of_its_unit_and_the_list_keeps_up(client, visit):
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 52), strict=True):
        take(client, visit, station, value)
    assert client.get(f"/api/visits/{visit['id']}/history").json["comparisons"] == []
    later = call_on(client, unit_id=visit["unit_id"], run={"mode": "cooling", "minutes_running": 15})
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 64), strict=True):
        take(client, later, station, value, key=f"later-{station}")
    found = client.get(f"/api/visits/{later['id']}/history").json
    (only,) = found["comparisons"]
    assert only["before"]["visit"] == visit["id"]
    (rise,) = (one for one in only["changes"] if one["indicator"] == "valve_suction_rise")
    assert (rise["now"], rise["before"], rise["change"], rise["clear"]) == (14, 2, 12, True)
    metric = client.get(f"/api/visits/{later['id']}/history?units=metric").json["comparisons"][0]["changes"]
    assert {one["unit"] for one in metric if one["indicator"] == "valve_suction_rise"} == {"delta_degC"}
    assert [line["outcome"] for line in listed(client)] == ["fail", "pass"]
    take(client, later, "common_suction", 52, key="read once more")
    # Until it is examined anew, the line is that of before, and says so.
    (line, other) = client.get("/api/visits").json["visits"]
    assert (line["outcome"], line["up_to_date"], other["up_to_date"]) == ("fail", False, True)
    assert listed(client)[0]["outcome"] == "pass"
    assert client.put("/api/handbook/limits/valve_suction_rise", json={"value": 1}).status_code == 200
    assert not any(line["up_to_date"] for line in client.get("/api/visits").json["visits"])
    assert listed(client)[0]["outcome"] != "pass"
    assert client.get("/api/visits/999/history").status_code == 404


def test_the_list_is_narrowed_and_paged(client, visit):
    """A sound one in cooling, a bypassing one in heating, and thirty of which nothing was read."""
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 52), strict=True):
        take(client, visit, station, value)
    run = {"mode": "heating", "minutes_running": 15}
    bad = call_on(client, unit_id=visit["unit_id"], complaint="noise", run=run)
    for station, value in zip(VALVE_PIPES, (170, 168, 50, 68), strict=True):
        take(client, bad, station, value, key=f"bad-{station}")
    other = {"site": {"name": "Boat Shed"}, "unit": SPLIT_UNIT}
    first_of_many = call_on(client, new_unit=other, run=run)
    many = [first_of_many] + [
        call_on(client, unit_id=first_of_many["unit_id"], run={"mode": "cooling"}) for _ in range(29)
    ]

    def asked(**query):
        answer = client.get("/api/visits", query_string=query)
        assert answer.status_code == 200, answer.text
        return answer.json

    def found(**query):
        return [line["id"] for line in asked(**query)["visits"]]

    newest_first = [one["id"] for one in reversed((visit, bad, *many))]
    assert len(listed(client)) == 25
    assert found() == newest_first[:25]
    assert found(page=2) == newest_first[25:]
    assert found(page=3) == []
    assert [(at["found"], at["page"], at["pages"]) for at in (asked(), asked(page=2))] == [
        (32, 1, 2),
        (32, 2, 2),
    ]
    assert found(words="bypassing TEST") == found(words="Noise") == found(outcome="fail") == [bad["id"]]
    notes = {"json": {"text": "Vermin gnawed the wire"}, "headers": {"If-Match": '"0"'}}
    assert client.put(f"/api/visits/{visit['id']}/runs/run-1/notes", **notes).status_code == 200
    assert found(words="gnaw WIRE") == [visit["id"]]
    assert found(words='gnaw"ed OR NOT * : — (') == []
    assert found(words="— * :") == newest_first[:25]
    assert found(outcome="pass") == [visit["id"]]
    assert found(unit=visit["unit_id"]) == [bad["id"], visit["id"]]
    assert found(unit=visit["unit_id"], mode="cooling") == [visit["id"]]
    assert found(mode="heating") == [first_of_many["id"], bad["id"]]
    assert found(words="no such words") == []
    assert asked(words="no such words")["pages"] == 1
    assert len(found(since="2020-01-01")) == 25
    assert found(since="2999-01-01") == []
    for query in (
        {"outcome": "good"},
        {"page": 0},
        {"page": "two"},
        {"unit": 2**63},
        {"since": "May"},
        {"color": "red"},
    ):
        assert client.get("/api/visits", query_string=query).status_code == 422, query
    assert all(line["open"] for line in asked()["visits"])
    assert client.put(f"/api/visits/{bad['id']}/closing", json={"closed": True}).status_code == 200
    assert [line["open"] for line in asked(unit=visit["unit_id"])["visits"]] == [False, True]


def test_a_changed_limit_says_which_visits_read_otherwise(client, visit):
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 53.5), strict=True):
        take(client, visit, station, value)
    call_on(client, unit_id=visit["unit_id"], run={"mode": "cooling"})
    before = seen(client, visit)["examination"]["headline"]
    listed(client)
    effects = "/api/handbook/effects"
    assert client.get(effects).json == {"visits": [], "looked_through": 0, "waiting": 0}
    assert client.put("/api/handbook/limits/valve_suction_rise", json={"value": 2}).status_code == 200
    assert client.get(effects).json == {"visits": [], "looked_through": 0, "waiting": 2}
    listed(client)
    found = client.get(effects).json
    (only,) = found["visits"]
    assert (only["visit"]["id"], only["before"], found["looked_through"]) == (visit["id"], before, 2)
    assert only["visit"]["headline"] == seen(client, visit)["examination"]["headline"] != before
    # What is read now is no matter of the limits, neither here nor at the visit after it, which learns of it.
    take(client, visit, "common_suction", 52, key="read once more")
    listed(client)
    assert client.get(effects).json == {"visits": [], "looked_through": 0, "waiting": 0}


def test_a_visit_is_examined_beside_those_before_it_and_the_list_says_the_same(
    client, visit, healthy_cooling
):
    unit, others = visit["unit_id"], []
    for n in range(3):
        made = (
            visit if n == 0 else call_on(client, unit_id=unit, run={"mode": "cooling", "minutes_running": 20})
        )
        for one in healthy_cooling["runs"][0]["readings"]:
            taken = {
                "entry_key": f"{n} {one['station']} {one['quantity']}",
                "run": "run-1",
                "reading": one,
            }
            assert client.post(f"/api/visits/{made['id']}/readings", json=taken).status_code == 201
        others.append(made["id"])
    views = [client.get(f"/api/visits/{one}").json for one in others]
    assert [[one["id"] for one in view["earlier"]] for view in views] == [[], others[:1], others[:2]]
    assert views[0]["examination"]["baseline"] is None
    assert [one["place"] for one in views[2]["examination"]["baseline"]["visits"]] == [0, 1]
    lines = {one["id"]: one["headline"] for one in listed(client)}
    assert lines == {view["id"]: view["examination"]["headline"] for view in views}


def test_the_dome_is_coolprops(client):
    dome = client.get("/api/refrigerants/R-410A/dome").json
    assert (dome["pressure_unit"], dome["enthalpy_unit"]) == ("psia", "Btu/lb")
    row = min(dome["rows"], key=lambda one: abs(one["temperature"] - 40))
    f, kelvins = fluid("R-410A"), kelvin(row["temperature"])
    low, high = f.pressure(kelvins, 1), f.pressure(kelvins, 0)
    assert row["dew_pressure"] == pytest.approx(low / PSI, rel=2e-3)
    assert row["bubble_pressure"] == pytest.approx(high / PSI, rel=2e-3)
    latent = (f.mixture_h(low, 1) - f.mixture_h(high, 0)) / 2326
    assert row["vapor_enthalpy"] - row["liquid_enthalpy"] == pytest.approx(latent, rel=5e-3)
    assert dome["rows"][-1]["temperature"] > 130
    assert client.get("/api/refrigerants/R-0/dome").status_code == 404


def test_the_weather_chart_of_a_unit_and_what_of_it_is_refused(client):
    asked = {
        "unit": {**SPLIT_UNIT, "nominal_capacity": {"value": 36_000, "unit": "Btu/h"}},
        "mode": "heating",
    }
    chart = client.post("/api/units/chart?units=metric", json={**asked, "fault": "undercharge"}).json
    assert (chart["outdoor_unit"], chart["fault"], chart["severity"]) == ("degC", "undercharge", 25)
    for more, pointer in (
        ({"fault": "undercharge", "severity": 90}, "/severity"),
        ({"indoor": {"value": 3000, "unit": "degF"}}, "/indoor/value"),
        ({"indoor": {"value": 20, "unit": "degF"}}, "/indoor"),
        ({"speed": 0}, "/speed"),
        ({"mode": "defrost"}, "/mode"),
    ):
        refused = client.post("/api/units/chart", json={**asked, **more})
        assert refused.status_code == 422
        assert [error["pointer"] for error in refused.json["errors"]] == [pointer]


def test_a_unit_in_the_making_is_sized(client):
    rated = {**SPLIT_UNIT, "nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}
    field, metric = (
        client.post(f"/api/units/machine?units={units}", json=rated).json for units in ("field", "metric")
    )
    assert field["sized"]
    assert [duty["mode"] for duty in field["duties"]] == ["cooling", "heating"]
    assert field["duties"][0]["outdoor"] == 95
    assert metric["duties"][0]["outdoor"] == 35
    assert client.post("/api/units/machine", json={**rated, "refrigerant": "R-12"}).status_code == 422


def test_only_an_empty_run_can_be_removed_and_with_the_last_one_its_visit(client, visit):
    run = f"/api/visits/{visit['id']}/runs/run-1"
    assert turn_round(client, visit, "heating").json == {"run": "run-2"}
    take(client, visit, "discharge_line", 170, key="only reading")
    assert client.delete(run).status_code == 409
    assert client.delete(f"/api/visits/{visit['id']}/runs/run-2").json == {"with_visit": False}
    assert client.delete(f"/api/visits/{visit['id']}/runs/run-2").status_code == 404
    assert [one["id"] for one in seen(client, visit)["visit"]["runs"]] == ["run-1"]
    # The next one takes no name that was used.
    assert turn_round(client, visit, "heating").json == {"run": "run-3"}
    client.post(f"/api/visits/{visit['id']}/withdrawals", json={"entry_key": "only reading"})
    notes = {"json": {"text": "noisy"}, "headers": {"If-Match": '"0"'}}
    assert client.put(f"{run}/notes", **notes).status_code == 200
    assert client.delete(run).status_code == 409
    assert client.delete(f"/api/visits/{visit['id']}/runs/run-3").json == {"with_visit": False}
    other = call_on(client, unit_id=visit["unit_id"], run={"mode": "heating"})
    assert client.delete(f"/api/visits/{other['id']}/runs/run-1").json == {"with_visit": True}
    assert client.get(f"/api/visits/{other['id']}").status_code == 404
    assert [one["id"] for one in client.get("/api/visits").json["visits"]] == [visit["id"]]

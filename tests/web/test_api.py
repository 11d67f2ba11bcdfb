"""The JSON API through its public face."""

import json

import pytest
from jsonschema import Draft202012Validator

from builders import SPLIT_UNIT, VALVE_PIPES, reading
from icepick.core.document.visit import parse_visit
from icepick.web import create_app, openapi
from icepick.web.security import MAX_BODY
from plant import PSI, fluid, kelvin

NEW_CALL = {
    "new_unit": {"site": {"name": "Test Hall"}, "unit": SPLIT_UNIT},
    "complaint": "weak",
    "run": {"mode": "cooling", "minutes_running": 15},
}


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db", hosts=["tablet.local"]).test_client()


@pytest.fixture
def visit(client):
    return client.post("/api/visits", json=NEW_CALL).json


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
    assert answer.json["examination"]["outcome"] == "pass"
    line = client.get("/api/visits").json["visits"][0]
    assert (line["site"], line["modes"], line["outcome"]) == ("Test Hall", ["cooling"], "pass")

    turned = client.post(f"/api/visits/{visit['id']}/runs", json={"mode": "heating"}).json
    assert [run["id"] for run in turned["visit"]["runs"]] == ["run-1", "run-2"]
    assert turned["examination"]["outcome"] == "needs_readings"

    clock = f"/api/visits/{visit['id']}/runs/run-1/clock"
    restarted = client.patch(clock, json={"minutes_running": 2}).json
    assert restarted["examination"]["runs"][0]["checks"][0]["status"] == "watch"

    load = f"/api/visits/{visit['id']}/runs/run-1/compressor"
    assert (
        client.patch(load, json={"compressor_stage": "low"}).json["visit"]["runs"][0]["compressor_stage"]
        == "low"
    )
    kept = client.get(f"/api/visits/{visit['id']}").json["visit"]["runs"][0]
    assert (kept["compressor_stage"], kept["compressor_speed"]) == ("low", None)
    assert client.patch(load, json={"compressor_speed": 900}).status_code == 422


def test_the_exported_document_gives_the_same_examination_on_the_command_line(client, visit):
    take(client, visit, "discharge_line", 170)
    document = client.get(f"/api/visits/{visit['id']}/document").data
    assert parse_visit(document).runs[0].readings[0].value == 170


def test_a_second_call_on_a_known_unit(client, visit):
    unit = client.get("/api/units").json["units"][0]
    assert unit["unit"]["label"] == "test unit"
    answer = client.post("/api/visits", json={"unit_id": unit["id"], "run": {"mode": "heating"}})
    assert answer.json["visit"]["site"] == {"name": "Test Hall", "notes": None, "elevation": None}
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
    assert len(answer.json["visit"]["runs"][0]["readings"]) == 1


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "words"),
    [
        ("get", "/api/visits/99", None, 404, "There is no visit 99."),
        ("get", "/api/nothing", None, 404, "There is nothing at /api/nothing."),
        ("get", "/api/visits?units=stone", None, 400, "units is 'field' or 'metric'"),
        ("post", "/api/visits/1/readings", {"run": "run-9"}, 422, "/entry_key: this field is needed."),
        ("post", "/api/visits", {"run": {"mode": "cooling"}}, 422, "Give either unit_id or new_unit."),
        ("post", "/api/visits", {"unit_id": 9, "run": {"mode": "cooling"}}, 404, "There is no unit 9."),
        ("post", "/api/visits/99/runs", {"mode": "heating"}, 404, "There is no visit 99."),
        ("patch", "/api/visits/1/runs/run-9/clock", {}, 404, "Visit 1 has no run 'run-9'."),
        ("put", "/api/visits", {}, 405, "not allowed"),
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
    ("headers", "status"),
    [
        ({"Host": "127.0.0.1:8321"}, 200),
        ({"Host": "localhost"}, 200),
        ({"Host": "tablet.local"}, 200),
        ({"Host": "evil.example"}, 400),
        ({"Host": "localhost.evil.example"}, 400),
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
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Content-Type": "text/plain"}, 415),
    ],
)
def test_only_pages_of_ours_may_change_anything(client, headers, status):
    headers = {"Content-Type": "application/json", **headers}
    assert client.post("/api/visits", data=json.dumps(NEW_CALL), headers=headers).status_code == status


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
    monkeypatch.setattr("icepick.store.visits.all_visits", lambda _: 1 / 0)
    answer = app.test_client().get("/api/visits")
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
        answer = client.post(url, json={"entry_key": "second one"})
    shown = answer.json["examination"]["runs"][0]["readings"][0]
    assert (shown["value"], shown["earlier"]) == (170, 0)
    assert [(e["entry_key"], e["withdrawn"]) for e in answer.json["entries"]] == [
        ("first one", False),
        ("second one", True),
    ]


def test_observations_are_appended_once_and_can_be_taken_back(client, visit):
    url = f"/api/visits/{visit['id']}"
    body = {"run": "run-1", "entry_key": "frost-mark", "observation": {"code": "outdoor_coil_frosted_even"}}
    for _ in range(2):
        answer = client.post(f"{url}/observations", json=body)
    assert [o["code"] for o in answer.json["visit"]["runs"][0]["observations"]] == [
        "outdoor_coil_frosted_even"
    ]
    answer = client.post(f"{url}/withdrawals", json={"entry_key": "frost-mark"})
    assert answer.json["visit"]["runs"][0]["observations"] == []


def test_two_people_writing_notes_lose_nothing(client, visit):
    url = f"/api/visits/{visit['id']}/runs/run-1/notes"

    def write(text, revision):
        return client.put(url, json={"text": text}, headers={"If-Match": f'"{revision}"'})

    first = write("fan hums", 0)
    assert first.json["visit"]["runs"][0]["notes"] == "fan hums"
    stale = write("coil is clean", 0)
    assert (stale.status_code, stale.mimetype) == (412, "application/problem+json")
    now = client.get(f"/api/visits/{visit['id']}").json
    assert now["visit"]["runs"][0]["notes"] == "fan hums"
    both = write("fan hums; coil is clean", now["notes_revision"]["run-1"])
    assert both.json["visit"]["runs"][0]["notes"] == "fan hums; coil is clean"


def test_a_unit_described_anew_moves_its_latest_visit_only(client, visit):
    (unit,) = client.get("/api/units").json["units"]
    later = client.post("/api/visits", json={"unit_id": unit["id"], "run": {"mode": "heating"}}).json
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
    again = {"unit_id": visit["unit_id"], "run": {"mode": "cooling", "minutes_running": 15}}
    later = client.post("/api/visits", json=again).json
    for station, value in zip(VALVE_PIPES, (170, 50, 168, 64), strict=True):
        take(client, later, station, value, key=f"later-{station}")
    found = client.get(f"/api/visits/{later['id']}/history").json
    (only,) = found["comparisons"]
    assert only["before"]["visit"] == visit["id"]
    (rise,) = (one for one in only["changes"] if one["indicator"] == "valve_suction_rise")
    assert (rise["now"], rise["before"], rise["change"], rise["clear"]) == (14, 2, 12, True)
    metric = client.get(f"/api/visits/{later['id']}/history?units=metric").json["comparisons"][0]["changes"]
    assert {one["unit"] for one in metric if one["indicator"] == "valve_suction_rise"} == {"delta_degC"}
    assert [line["outcome"] for line in client.get("/api/visits").json["visits"]] == ["fail", "pass"]
    take(client, later, "common_suction", 52, key="read once more")
    assert client.get("/api/visits").json["visits"][0]["outcome"] == "pass"
    assert client.put("/api/handbook/limits/valve_suction_rise", json={"value": 1}).status_code == 200
    assert client.get("/api/visits").json["visits"][0]["outcome"] != "pass"
    assert client.get("/api/visits/999/history").status_code == 404


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

"""Who comes in, and what each may do."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta

import argon2
import pytest
from test_api import NEW_CALL, seen, take

from builders import SPLIT_UNIT
from icepick.store import guessing, sessions
from icepick.store.backup import back_up, restore
from icepick.store.database import connect
from icepick.web import create_app, door, openapi
from people import PASSPHRASE, make_people

ROLES = ("lead", "technician", "apprentice", "office")
BY_ANYBODY = {"GET /api/session", "POST /api/session", "DELETE /api/session", "POST /api/session/first"}
BY_WHO_ENTERS = {
    "POST /api/visits",
    "POST /api/visits/{visit_id}/runs",
    "DELETE /api/visits/{visit_id}/runs/{run}",
    "PATCH /api/visits/{visit_id}/runs/{run}/clock",
    "PATCH /api/visits/{visit_id}/runs/{run}/compressor",
    "PATCH /api/visits/{visit_id}/runs/{run}/heads",
    "POST /api/visits/{visit_id}/readings",
    "POST /api/visits/{visit_id}/typed",
    "POST /api/visits/{visit_id}/observations",
    "POST /api/visits/{visit_id}/withdrawals",
    "PUT /api/visits/{visit_id}/runs/{run}/notes",
    "POST /api/visits/{visit_id}/recordings",
    "POST /api/visits/{visit_id}/marks",
    "PUT /api/visits/{visit_id}/outcome",
    "POST /api/visits/{visit_id}/photos",
    "PUT /api/visits/{visit_id}/live",
    "DELETE /api/visits/{visit_id}/live",
    "PUT /api/visits/{visit_id}/live/probes",
    "PUT /api/visits/{visit_id}/live/places",
    "POST /api/visits/{visit_id}/live/readings",
    "POST /api/visits/{visit_id}/live/recording",
    "DELETE /api/visits/{visit_id}/live/recording",
    "PUT /api/visits/{visit_id}/live/simulated",
    "POST /api/visits/{visit_id}/live/heard",
    "POST /api/visits/{visit_id}/recordings/{recording}/means",
    "POST /api/visits/{visit_id}/files",
    "GET /api/visits/{visit_id}/files/{name}",
    "PUT /api/visits/{visit_id}/files/{name}/part",
    "PUT /api/visits/{visit_id}/files/{name}/meaning",
    "POST /api/visits/{visit_id}/files/{name}/entry",
    "DELETE /api/visits/{visit_id}/files/{name}",
}
BY_WHO_PRACTICES = {
    "GET /api/bench",
    "POST /api/bench/attempts",
    "GET /api/bench/attempts/{attempt_id}",
    "POST /api/bench/attempts/{attempt_id}/steps",
    "POST /api/bench/attempts/{attempt_id}/saying",
    "GET /api/bench/attempts/{attempt_id}/debrief",
    "GET /api/bench/attempts/{attempt_id}/document",
    "POST /api/bench/cases",
    "GET /api/bench/progress.csv",
}
BY_A_LEAD = {
    "POST /api/units",
    "PUT /api/units/{unit_id}",
    "PUT /api/handbook/limits/{name}",
    "PUT /api/visits/{visit_id}/closing",
    "GET /api/accounts",
    "POST /api/accounts",
    "PATCH /api/accounts/{account_id}",
    "GET /api/audit",
    "GET /api/records/archive",
    "POST /api/imports",
    "PUT /api/imports/{name}/part",
    "GET /api/imports/{name}",
    "POST /api/imports/{name}/entry",
    "DELETE /api/imports/{name}",
    "PUT /api/shop",
}


@pytest.fixture
def app(tmp_path):
    make_people(tmp_path / "icepick.db", *ROLES)
    return create_app(tmp_path / "icepick.db", locked=True)


def tries(app, name, passphrase=PASSPHRASE, address="192.0.2.7"):
    return app.test_client().post(
        "/api/session",
        json={"name": name, "passphrase": passphrase},
        environ_overrides={"REMOTE_ADDR": address},
    )


def signed_in(app, name):
    """A client of somebody who signed in, that brings the token along as a page does."""
    client = app.test_client()
    answer = client.post("/api/session", json={"name": name, "passphrase": PASSPHRASE})
    assert answer.status_code == 201, answer.text
    client.environ_base["HTTP_X_CSRF_TOKEN"] = answer.json["csrf"]
    return client


def addresses():
    """Every verb and address of the API."""
    return {
        f"{verb.upper()} {path}": operation
        for path, verbs in openapi()["paths"].items()
        for verb, operation in verbs.items()
    }


def asked(client, address):
    verb, path = address.split(" ")
    for name in ("visit_id", "unit_id", "account_id", "attempt_id"):
        path = path.replace(f"{{{name}}}", "1")
    for name in ("run", "code", "recording", "name", "entry_key"):
        path = path.replace(f"{{{name}}}", "none")
    return client.open(path, method=verb, json=None if verb in ("GET", "DELETE") else {})


def test_a_stranger_gets_nothing(app):
    for address in (addresses().keys() - BY_ANYBODY) | {"GET /api/openapi.json"}:
        answer = asked(app.test_client(), address)
        assert answer.status_code == 401, address
        assert answer.mimetype == "application/problem+json"
    known = app.test_client().get("/api/session").json
    assert (known["state"], known["may"], known["csrf"]) == ("out", [], None)


def test_each_role_does_what_it_may_and_nothing_else(app):
    everything = addresses().keys()
    assert everything >= BY_ANYBODY | BY_WHO_ENTERS | BY_WHO_PRACTICES | BY_A_LEAD
    allowed = {
        "lead": everything,
        "technician": everything - BY_A_LEAD,
        "apprentice": everything - BY_A_LEAD - BY_WHO_ENTERS,
        "office": everything - BY_A_LEAD - BY_WHO_ENTERS - BY_WHO_PRACTICES,
    }
    for role in ROLES:
        client = signed_in(app, role)
        for address in sorted(everything - BY_ANYBODY):
            answer = asked(client, address)
            assert (answer.status_code not in (401, 403)) == (address in allowed[role]), (role, address)
            if answer.status_code == 403:
                assert f"Signed in as {role}, you can't" in answer.json["detail"]


def test_a_technician_starts_a_call_on_a_unit_the_book_does_not_know(app):
    technician = signed_in(app, "technician")
    call = technician.post("/api/visits", json={"entry_key": "first call", **NEW_CALL})
    assert call.status_code == 201
    described = technician.put("/api/units/1", json=SPLIT_UNIT, headers={"If-Match": '"1"'})
    assert described.status_code == 403


def test_a_change_needs_the_token_that_only_our_page_has(app):
    client = app.test_client()
    csrf = client.post("/api/session", json={"name": "lead", "passphrase": PASSPHRASE}).json["csrf"]
    call = {"entry_key": "first call", **NEW_CALL}
    assert client.get("/api/visits").status_code == 200
    assert client.post("/api/visits", json=call).status_code == 403
    other = signed_in(app, "technician").environ_base["HTTP_X_CSRF_TOKEN"]
    for wrong in ("", "x", other):
        assert client.post("/api/visits", json=call, headers={"X-CSRF-Token": wrong}).status_code == 403
        assert client.delete("/api/session", headers={"X-CSRF-Token": wrong}).status_code == 403
    right = {"X-CSRF-Token": csrf}
    foreign = {"Origin": "https://elsewhere.example", **right}
    assert client.post("/api/visits", json=call, headers=foreign).status_code == 403
    assert client.post("/api/visits", json=call, headers=right).status_code == 201
    # Nor does another site's page sign anybody in, as itself.
    forged = client.post(
        "/api/session",
        json={"name": "office", "passphrase": PASSPHRASE},
        headers={"Origin": "https://elsewhere.example"},
    )
    assert forged.status_code == 403


def test_no_script_and_no_other_site_gets_the_cookie(app):
    held = tries(app, "lead").headers["Set-Cookie"]
    assert held.startswith("icepick=")
    assert {"HttpOnly", "SameSite=Strict", "Path=/"} <= {part.strip() for part in held.split(";")}
    encrypted = app.test_client().post(
        "/api/session", json={"name": "lead", "passphrase": PASSPHRASE}, base_url="https://localhost"
    )
    kept = encrypted.headers["Set-Cookie"]
    assert kept.startswith("__Host-icepick=")
    assert "; Secure" in kept
    assert encrypted.headers["Strict-Transport-Security"]
    assert encrypted.headers["Cache-Control"] == "no-store"


def test_who_signed_out_is_out_wherever_the_cookie_went(app):
    client = signed_in(app, "office")
    copied = app.test_client()
    copied.set_cookie("icepick", client.get_cookie("icepick").value)
    assert copied.get("/api/visits").status_code == 200
    answer = client.delete("/api/session")
    assert answer.headers["Clear-Site-Data"] == '"cache"'
    assert client.get("/api/visits").status_code == copied.get("/api/visits").status_code == 401


def test_guessing_closes_the_door(app, monkeypatch):
    for _ in range(5):
        assert tries(app, "technician", "not the one at all").status_code == 401
    closed = tries(app, "technician")
    assert closed.status_code == 429, "the right one is not looked at any more"
    assert 0 < int(closed.headers["Retry-After"]) <= 15 * 60
    assert tries(app, "technician", address="192.0.2.8").status_code == 201, "but the technician's own phone"
    later = datetime.now(UTC) + timedelta(minutes=16)
    monkeypatch.setattr(guessing, "moment", lambda: later)
    assert tries(app, "technician").status_code == 201


def test_guessing_at_many_names_closes_the_door_too(app):
    for number in range(20):
        assert tries(app, f"somebody {number}").status_code == 401
    assert tries(app, "lead").status_code == 429
    assert tries(app, "lead", address="192.0.2.8").status_code == 201


def test_guessing_from_many_places_closes_the_door_to_all_of_that_name(app):
    for number in range(50):
        assert tries(app, "lead", "not the one at all", address=f"192.0.2.{number}").status_code == 401
    assert tries(app, "lead", address="198.51.100.1").status_code == 429
    assert tries(app, "technician", address="198.51.100.1").status_code == 201


def test_a_name_there_is_none_of_is_answered_alike(app, monkeypatch):
    looked_at = []
    verify = argon2.PasswordHasher.verify
    monkeypatch.setattr(
        argon2.PasswordHasher,
        "verify",
        lambda *given: looked_at.append(given[1].rsplit("$", 2)[0]) or verify(*given),
    )
    answers = [tries(app, name, "not the one at all") for name in ("lead", "nobody of that name")]
    assert answers[0].json == answers[1].json
    assert len(looked_at) == 2
    assert looked_at[0] == looked_at[1], "held to a digest that takes as long"


def test_the_first_account_is_made_with_the_code_from_the_terminal(tmp_path):
    app = create_app(tmp_path / "icepick.db", locked=True)
    client = app.test_client()
    assert client.get("/api/session").json["state"] == "first"
    assert client.get("/api/visits").status_code == 401
    with app.app_context():
        code = door.first_code()
    account = {"name": "Ann  Reed ", "passphrase": PASSPHRASE}
    wrong = client.post("/api/session/first", json={**account, "code": "AAAA-BBBB-CCCC-DDDD"})
    assert wrong.status_code == 403
    typed = code.lower().replace("-", " ")
    for easy in (
        "password",
        "passwordpassword",
        "ann reed ann reed",
        "1234567890123456",
        "heat pump heat pump",
    ):
        refused = client.post("/api/session/first", json={**account, "passphrase": easy, "code": typed})
        assert refused.status_code == 422
        assert refused.json["errors"][0]["pointer"] == "/passphrase"
    made = client.post("/api/session/first", json={**account, "code": typed})
    assert made.status_code == 201
    assert (made.json["name"], made.json["role"]) == ("Ann Reed", "lead")
    assert client.get("/api/visits").status_code == 200
    assert client.post("/api/session/first", json={**account, "code": code}).status_code == 409
    with app.app_context():
        assert door.first_code() is None


def test_the_code_is_good_for_some_tries_and_an_hour(tmp_path, monkeypatch):
    code = door.FirstCode()
    assert not any(code.fits("AAAA-BBBB-CCCC-DDDD") for _ in range(20))
    assert not code.fits(code.code)
    old = door.FirstCode()
    then = door.monotonic()
    monkeypatch.setattr(door, "monotonic", lambda: then + 3700)
    assert not old.fits(old.code)


def test_a_role_and_an_end_are_in_force_with_the_next_request(app):
    lead, technician = signed_in(app, "lead"), signed_in(app, "technician")
    numbers = {one["name"]: one["id"] for one in lead.get("/api/accounts").json["accounts"]}
    mine = f"/api/accounts/{numbers['technician']}"
    assert lead.patch(mine, json={"role": "office"}).json["role"] == "office"
    assert technician.post("/api/visits", json={"entry_key": "first call", **NEW_CALL}).status_code == 403
    assert lead.patch(mine, json={"ended": True}).status_code == 200
    assert technician.get("/api/visits").status_code == 401
    assert tries(app, "technician").status_code == 401
    assert lead.patch(mine, json={"ended": False}).status_code == 422, "not with the old passphrase"
    assert lead.patch(mine, json={"ended": False, "passphrase": "oak herring quarry sun"}).status_code == 200
    assert tries(app, "technician", "oak herring quarry sun").status_code == 201
    # Somebody has to be left who may do all that.
    for change in ({"role": "office"}, {"ended": True}):
        refused = lead.patch(f"/api/accounts/{numbers['lead']}", json=change)
        assert refused.status_code == 409, change


def test_a_new_passphrase_ends_what_was_begun_with_the_old_one(app):
    here, elsewhere = signed_in(app, "technician"), signed_in(app, "technician")
    changed = {"passphrase": PASSPHRASE, "new": "four other words here"}
    wrong = here.put("/api/session/passphrase", json={**changed, "passphrase": "not the one at all"})
    assert wrong.json["errors"][0]["pointer"] == "/passphrase"
    assert here.put("/api/session/passphrase", json=changed).status_code == 200
    assert here.get("/api/visits").status_code == 200
    assert elsewhere.get("/api/visits").status_code == 401
    assert tries(app, "technician").status_code == 401
    assert tries(app, "technician", changed["new"]).status_code == 201


@pytest.mark.parametrize(("days", "used_daily"), [(8, False), (31, True)])
def test_a_session_ends_by_itself(app, monkeypatch, days, used_daily):
    client = signed_in(app, "office")
    began = datetime.now(UTC)

    def on_day(day):
        at = began + timedelta(days=day)
        monkeypatch.setattr(sessions, "moment", lambda: at)
        monkeypatch.setattr(sessions, "now", lambda: at.isoformat(timespec="milliseconds"))
        return client.get("/api/visits").status_code

    if used_daily:
        assert [on_day(day) for day in range(1, 30)] == [200] * 29
    assert on_day(days) == 401


def test_every_keyboard_writes_the_same_passphrase(app):
    lead = signed_in(app, "lead")
    in_one_piece, in_two = "caf\u00e9 herring quarry oak", "cafe\u0301 herring quarry oak"
    made = {"name": "Ren\u00e9", "role": "office", "passphrase": in_one_piece}
    assert lead.post("/api/accounts", json=made).status_code == 201
    assert tries(app, "Ren\u00e9", in_two).status_code == 201


def test_a_digest_costs_whoever_guesses_as_much_as_is_advised():
    """Argon2id with 19 MiB and two passes at the least [published: OWASP, Password Storage Cheat Sheet]; the tests themselves
    make theirs cheaper (tests/conftest.py)."""
    product = argon2.PasswordHasher.__base__()
    assert (product.memory_cost >= 19 * 1024, product.time_cost >= 2) == (True, True)
    assert product.type is argon2.Type.ID


def test_nothing_in_the_file_lets_anybody_in(app, tmp_path):
    token = signed_in(app, "lead").get_cookie("icepick").value
    tries(app, "a passphrase where the name belongs", "x")
    held = b"".join(file.read_bytes() for file in tmp_path.glob("icepick.db*"))
    assert b"$argon2id$" in held
    assert PASSPHRASE.encode() not in held
    assert token.encode() not in held
    assert b"where the name belongs" not in held


def test_a_restored_copy_lets_nobody_in_who_has_not_signed_in_since(app, tmp_path):
    client = signed_in(app, "office")
    back_up(tmp_path / "icepick.db", tmp_path / "copy.db")
    restore(tmp_path / "copy.db", tmp_path / "icepick.db")
    assert client.get("/api/visits").status_code == 401
    assert (
        signed_in(app, "lead").get("/api/audit").json["lines"][1]["did"] == "put the records of copy.db back"
    )


def test_who_did_it_is_kept(app, tmp_path):
    lead, technician = signed_in(app, "lead"), signed_in(app, "technician")
    visit = technician.post("/api/visits", json={"entry_key": "first call", **NEW_CALL}).json
    took = take(technician, visit, "discharge_line", 170)
    take(lead, visit, "common_suction", 51.5)
    technician.post(f"/api/visits/{visit['id']}/withdrawals", json={"entry_key": took.json["entry_key"]})
    seen_so = {"run": "run-1", "entry_key": "as it was seen", "observation": {"code": "valve_shift_heard"}}
    assert technician.post(f"/api/visits/{visit['id']}/observations", json=seen_so).status_code == 201
    technician.put(
        f"/api/visits/{visit['id']}/runs/run-1/notes", json={"text": "fan hums"}, headers={"If-Match": '"0"'}
    )
    lead.put("/api/handbook/limits/settling_time", json={"value": 12, "units": "field"})
    lead.put("/api/units/1", json={**SPLIT_UNIT, "label": "Roof"}, headers={"If-Match": '"1"'})
    lead.put(f"/api/visits/{visit['id']}/closing", json={"closed": True})
    told = [(line["by"], line["did"]) for line in lead.get("/api/audit").json["lines"]]
    assert ("technician", "started the call: weak") in told
    assert ("technician", "run 1: discharge line at the reversing valve 170 °F") in told
    assert ("technician", "took back run 1: discharge line at the reversing valve 170 °F") in told
    assert any(
        by == "lead" and did.startswith("run 1: common suction") and did.endswith(" 51.5 °F")
        for by, did in told
    )
    assert ("technician", "run 1: shift heard") in told
    assert ("technician", "run 1: notes “fan hums”") in told
    assert ("technician", "entered in the book: " + SPLIT_UNIT["label"] + ", Test Hall") in told
    assert ("lead", "described anew: Roof, Test Hall") in told
    assert any(by == "lead" and did.startswith("limit “") and " to 12" in did for by, did in told)
    assert ("lead", "closed the visit") in told
    assert ("lead", "signed in") in told
    of_visit = lead.get("/api/audit", query_string={"visit": visit["id"]}).json["lines"]
    assert {line["visit_id"] for line in of_visit} == {visit["id"]}
    assert {entry["by"] for entry in seen(lead, visit)["entries"]} == {"lead", "technician"}
    with closing(connect(tmp_path / "icepick.db")) as db:
        for statement in ("UPDATE audit SET account_id = 1", "DELETE FROM audit"):
            with pytest.raises(sqlite3.IntegrityError, match="appended"):
                db.execute(statement)


def test_the_audit_is_paged(app):
    technician = signed_in(app, "technician")
    visit = technician.post("/api/visits", json={"entry_key": "first call", **NEW_CALL}).json
    for number in range(150):
        take(technician, visit, "discharge_line", 100 + number)
    lead, lines, before = signed_in(app, "lead"), [], None
    while True:
        asked_for = {"visit": visit["id"], **({"before": before} if before else {})}
        page = lead.get("/api/audit", query_string=asked_for).json
        lines += [line["did"] for line in page["lines"]]
        before = page["more"]
        if before is None:
            break
    taken = [did for did in lines if "discharge line" in did]
    assert taken == [
        f"run 1: discharge line at the reversing valve {number} °F" for number in range(249, 99, -1)
    ]


def test_on_this_machine_alone_nobody_needs_to_sign_in(tmp_path):
    client = create_app(tmp_path / "icepick.db").test_client()
    known = client.get("/api/session").json
    assert known["state"] == "open"
    visit = client.post("/api/visits", json={"entry_key": "first call", **NEW_CALL}).json
    take(client, visit, "discharge_line", 170)
    assert {line["by"] for line in client.get("/api/audit").json["lines"]} == {None}
    assert {entry["by"] for entry in seen(client, visit)["entries"]} == {None}
    first = {"name": "Ann", "role": "technician", "passphrase": PASSPHRASE}
    assert client.post("/api/accounts", json=first).status_code == 422, "a lead comes first"
    assert client.post("/api/accounts", json={**first, "role": "lead"}).status_code == 201
    # From then on everybody does.
    assert client.get("/api/visits").status_code == 401

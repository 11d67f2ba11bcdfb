"""A thousand requests drawn from the API's own description, right ones and wrong ones: none is the server's mistake."""

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.generation import GenerationMode
from test_api import NEW_CALL, take

from archives import picture
from draws import few, share
from icepick.web import create_app, openapi
from people import PASSPHRASE, make_people

THERE_IS = {
    "visit_id": 1,
    "unit_id": 1,
    "run": "run-1",
    "name": "R-32",
    "code": "superheat",
    "recording": "recording-1",
    "entry_key": "first photo",
    "account_id": 2,
    "attempt_id": 1,
}


drawing = settings(
    max_examples=few(3, 12),
    deadline=None,
    suppress_health_check=list(HealthCheck),
    derandomize=True,
    database=None,
)


def aimed(case):
    """The same request at what there is, so that it gets past "there is no such visit"."""
    case.path_parameters = {name: THERE_IS[name] for name in case.path_parameters or {}}
    for name in ("run", "recording"):
        if isinstance(case.body, dict) and isinstance(case.body.get(name), str):
            case.body = {**case.body, name: THERE_IS[name]}
    return case


def can_be_wrong(operation):
    """Whether there is a wrong way to ask: any word is right where an address holds nothing but one."""
    numbers = [one for one in operation.path_parameters if one.definition["schema"]["type"] == "integer"]
    return bool(operation.body or operation.query or numbers)


def test_no_request_is_answered_by_a_server_error(tmp_path):
    app = create_app(tmp_path / "icepick.db")
    client = app.test_client()
    visit = client.post("/api/visits", json={"entry_key": "first call", **NEW_CALL}).json
    take(client, visit, "discharge_line", 170)
    begun = {"entry_key": "first recording", "mode": "heating", "started_at": "2026-01-15T07:00:00Z"}
    client.post(f"/api/visits/{visit['id']}/recordings", json=begun)
    client.post(
        f"/api/visits/{visit['id']}/photos?entry_key=first+photo&name=plate.png",
        data=picture(),
        content_type="application/octet-stream",
    )
    make_people(tmp_path / "icepick.db", "lead", "technician")
    signed_in = client.post("/api/session", json={"name": "lead", "passphrase": PASSPHRASE})
    cookies = {"icepick": client.get_cookie("icepick").value}
    token = {"X-CSRF-Token": signed_in.json["csrf"]}
    client.post("/api/bench/attempts", json={"entry_key": "first attempt", "code": "valve-2"}, headers=token)
    schema = schemathesis.openapi.from_dict(openapi())
    schema.app = app
    every = [found.ok() for found in schema.get_all_operations()]
    (signing_out,) = (operation for operation in every if operation.label == "DELETE /api/session")
    every.remove(signing_out)
    operations = [*share(every, len(every) // 2), signing_out]
    answered = dict.fromkeys((operation.label for operation in operations), 0)
    refused, wrong = 0, []

    def ask(case):
        nonlocal refused
        for request in (case, aimed(case)):
            answer = request.call(headers=token, cookies=cookies)
            answered[request.operation.label] += 1
            refused += answer.status_code >= 400
            if answer.status_code >= 500:
                wrong.append((answer.status_code, request.as_curl_command()))

    for operation in operations:
        if operation.label == "DELETE /api/session":
            assert client.get("/api/visits/1").status_code == 200
        for mode in GenerationMode:
            if mode is GenerationMode.POSITIVE or can_be_wrong(operation):
                drawing(given(operation.as_strategy(generation_mode=mode))(ask))()
    assert wrong == []
    # Where an address takes nothing there is next to nothing to draw.
    assert all(answered.values()), answered
    assert sum(answered.values()) >= few(400, 800)
    assert 0.1 < refused / sum(answered.values()) < 0.95, "both sound and unsound requests were made"

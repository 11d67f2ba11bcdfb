"""Nothing lands in another customer's visit: after the records were put back, numbers are used again, and keys are not."""

from uuid import uuid4

import pytest
from test_api import NEW_CALL, call_on, seen, turn_round

from archives import picture
from icepick.store.backup import back_up, restore
from icepick.web import create_app


@pytest.fixture
def path(tmp_path):
    return tmp_path / "icepick.db"


@pytest.fixture
def client(path):
    return create_app(path).test_client()


PHOTO = "entry_key=a-photo-of-it&name=a.png"


def enter(client, visit, what="readings", **body):
    """An entry as a device sends it that was given ``visit`` before the line was cut."""
    return client.post(
        f"/api/visits/{visit['id']}/{what}",
        json={"entry_key": uuid4().hex, **body},
        headers={"Visit-Key": visit["key"]},
    )


def reading(value):
    said = {
        "station": "discharge_line",
        "quantity": "temperature",
        "value": value,
        "unit": "degF",
        "method": "clamp",
    }
    return {"run": "run-1", "reading": said}


def test_three_phones_that_waited_over_a_restore_write_where_they_meant_to_or_nowhere(client, path, tmp_path):
    kept = call_on(client, **NEW_CALL)
    back_up(path, tmp_path / "copy.db")
    lost = [call_on(client, **NEW_CALL) for _ in range(2)]
    restore(tmp_path / "copy.db", path)
    # Somebody else opens a call, which gets the number of one that is gone.
    other = call_on(client, **NEW_CALL)
    assert other["id"] == lost[0]["id"]
    assert other["key"] != lost[0]["key"]
    answers = [enter(client, visit, **reading(177.7)) for visit in (kept, *lost)]
    assert [answer.status_code for answer in answers] == [201, 410, 410]
    assert "not in these records any more" in answers[1].json["detail"]
    assert [one["reading"]["value"] for one in seen(client, kept)["entries"]] == [177.7]
    assert seen(client, other)["entries"] == []


def test_a_screen_is_told_that_its_number_stands_for_another_call(client, path, tmp_path):
    back_up(path, tmp_path / "copy.db")
    gone = call_on(client, **NEW_CALL)
    shown = client.get(f"/api/visits/{gone['id']}/changes").json["revision"]
    restore(tmp_path / "copy.db", path)
    other = call_on(client, **NEW_CALL)
    # As many entries were written to the one as to the other: only their keys differ.
    told = client.get(f"/api/visits/{gone['id']}/changes?since={shown}").json
    assert told["revision"] != shown
    assert (told["whole"] or {}).get("key", other["key"]) == other["key"]
    assert told["whole"] or told["steps"]


def test_no_way_of_writing_reaches_another_visit_under_a_key_that_is_gone(client, path, tmp_path):
    back_up(path, tmp_path / "copy.db")
    gone = call_on(client, **NEW_CALL)
    restore(tmp_path / "copy.db", path)
    other = call_on(client, **NEW_CALL)
    assert other["id"] == gone["id"]
    before = seen(client, other)
    head = {"headers": {"Visit-Key": gone["key"]}}
    at = f"/api/visits/{gone['id']}"
    tried = [
        enter(client, gone, "observations", run="run-1", observation={"code": "oil_stain"}),
        enter(client, gone, "withdrawals"),
        enter(client, gone, "marks", recording="rec", mark={"code": "sound_of_shift", "seconds": 4}),
        enter(client, gone, "runs", mode="heating"),
        client.put(f"{at}/closing", json={"closed": True}, **head),
        client.patch(f"{at}/runs/run-1/clock", json={"minutes_running": 44}, **head),
        client.put(
            f"{at}/runs/run-1/notes", json={"text": "Mine"}, headers={**head["headers"], "If-Match": '"0"'}
        ),
        client.put(
            f"{at}/outcome", json={"fault": None, "certainty": None, "repair": "none", "work": ""}, **head
        ),
        client.delete(f"{at}/runs/run-1", **head),
        client.post(f"{at}/photos?{PHOTO}", data=picture(), content_type="application/octet-stream", **head),
    ]
    assert {answer.status_code for answer in tried} == {410}
    assert seen(client, other) == before


def test_a_key_counts_and_not_the_number_it_was_sent_to(client):
    """As where records were brought into another book: the visit is the same, its number is not."""
    first, second = (call_on(client, **NEW_CALL) for _ in range(2))
    assert enter(client, {**second, "id": first["id"]}, **reading(151)).status_code == 201
    assert seen(client, first)["entries"] == []
    assert [one["reading"]["value"] for one in seen(client, second)["entries"]] == [151]
    # A script that names no key means the number.
    assert turn_round(client, first, "heating").status_code == 201

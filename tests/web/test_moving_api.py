"""The moving parts over the API: what is done to them is read from the address, in either unit system."""

import pytest

from icepick.web import create_app


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


def get(client, what):
    answer = client.get(f"/api/handbook/{what}")
    assert answer.status_code == 200, answer.text
    return answer.json


def test_what_is_done_to_a_part_is_read_from_the_address(client):
    assert get(client, "moving/valve?energized=true")["slide"] == 1
    assert get(client, "moving/valve?energized=true&stopped=true")["slide"] == 0
    assert get(client, "moving/valve")["slide"] == -1
    assert get(client, "moving/circuit?ran=defrost")["ran"] == "defrost"
    assert get(client, "moving/device?device=eev")["has_check"] is False
    assert get(client, "moving/drier?kind=one_way&mode=heating&loaded=true")["lets_go"]
    assert get(client, "moving/accumulator?weather=cold")["filled"] > 0.1
    for wrong in ("moving/valve?stands=sideways", "moving/device?device=toaster", "moving/circuit?ran=off"):
        assert client.get(f"/api/handbook/{wrong}").status_code == 422
    assert client.get("/api/handbook/faults/hiccups/picture").status_code == 404


def test_a_fault_of_the_defrost_is_recorded_beside_a_sound_one(client):
    found = get(client, "faults/defrost_fan_running/recording")

    def lane(of, station):
        return next(one["on"] for one in found[of]["lanes"] if one["station"] == station)

    # The fan's relay stays closed where it should open: one spell instead of two.
    assert len(lane("sound", "outdoor_fan")) == 2
    assert len(lane("faulty", "outdoor_fan")) == 1
    assert client.get("/api/handbook/faults/undercharge/recording").status_code == 404


def test_numbers_come_in_the_units_asked_for(client):
    field = get(client, "faults/undercharge/picture?mode=cooling")["sound"][0]
    metric = get(client, "faults/undercharge/picture?mode=cooling&units=metric")["sound"][0]
    assert (field["temperature"]["unit"], metric["temperature"]["unit"]) == ("degF", "degC")
    assert (field["temperature"]["value"] - 32) / 1.8 == pytest.approx(
        metric["temperature"]["value"], abs=0.1
    )
    assert "°C superheated" in metric["words"]


def test_every_check_leads_to_the_limit_it_holds_to(client):
    catalogue = client.get("/api/catalogue").json
    limits = {one["name"] for one in catalogue["limits"]}
    assert set(catalogue["check_limits"].values()) <= limits
    assert catalogue["check_limits"]["valve.suction_rise"] == "valve_suction_rise"

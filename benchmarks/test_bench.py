"""A drawn case begun, and a reading taken, over the API: under a second, and under 50 ms."""

from itertools import count

import pytest
from size import SMOKE

from icepick.web import create_app

CASES = [f"{letter}-{seed}" for letter in "ABCD" for seed in range(1000, 1010)]


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


def begin(client, code, key):
    answer = client.post("/api/bench/attempts", json={"entry_key": f"attempt-{key}", "code": code})
    assert answer.status_code == 201
    at = f"/api/bench/attempts/{answer.json['id']}"
    assert client.get(at).status_code == 200
    return at


def test_a_drawn_case_begins(client, benchmark):
    """Drawn, kept, and on the screen; another one each time."""
    keys = count()

    def another():
        key = next(keys)
        return begin(client, CASES[key % len(CASES)], f"{key:08d}")

    benchmark.pedantic(another, rounds=len(CASES))
    assert SMOKE or benchmark.stats.stats.median < 1


def test_a_reading_answers(client, benchmark):
    """Read, kept on disk, and on the screen."""
    at, keys = begin(client, "A-4711", "readings"), count()
    places = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")

    def read():
        key = next(keys)
        step = {"act": "take", "station": places[key % 4], "quantity": "temperature"}
        answer = client.post(f"{at}/steps", json={"entry_key": f"reading-{key:06d}", "step": step})
        assert answer.status_code == 201

    benchmark.pedantic(read, rounds=100)
    assert SMOKE or benchmark.stats.stats.median < 0.05

"""`examine` warm, where only readings change: two runs with 60 readings under 60 ms; at new conditions under a second.

A reading is another one each time, since a run that was examined once is kept. What is loaded is kept from the garbage
collector, as the server keeps it. The readings are those of a sound unit, made by tests/plant.py; one case contradicts
itself, so that every doubt is searched for.
"""

import gc
import json

import pytest

from builders import VALVE_PIPES, as_visit, reading, valve_run, visit_document
from icepick.core.document.stations import STATIONS, Group
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from layouts import SHORT, TRUTH
from plant import Plant

SPLIT = TRUTH["split, two thermostatic valves, drier outdoors"]


def run(mode, count):
    path = [SHORT[stop.split(":")[0]] for stop in SPLIT[1 if mode == "cooling" else 3].split()]
    saturation = (42, 114) if mode == "cooling" else (23, 100)
    air = (92, 76) if mode == "cooling" else (40, 70)
    made = Plant(path, mode, "R-410A", *saturation, *air).run()
    volts = {"quantity": "voltage", "unit": "V", "method": "meter"}
    made["readings"] += [
        *(reading(t, 25, **volts) for t in ("terminal_r", "terminal_y")),
        reading("terminal_o", 25 if mode == "cooling" else 0, **volts),
        *(
            reading(f"{'indoor' if mode == 'cooling' else 'outdoor'}_circuit:{n}", saturation[0] + 8)
            for n in range(1, 4)
        ),
    ]
    made["readings"] = made["readings"][:count]
    return made


def visit(*counts):
    document = visit_document(*(run(mode, n) for mode, n in zip(("cooling", "heating"), counts, strict=True)))
    assert sum(len(r["readings"]) for r in document["runs"]) == sum(counts)
    return parse_visit(json.dumps(document))


def contradictory():
    lines = [s.code for s in STATIONS if s.group is Group.LINE and s.code not in VALVE_PIPES]
    runs = [valve_run("cooling", 170, 50, 168, 52), valve_run("heating", 170, 168, 40, 42)]
    for one in runs:
        one["readings"] += [reading(code, 80) for code in lines]
    return parse_visit(json.dumps(visit_document(*runs)))


@pytest.fixture(autouse=True, scope="module")
def as_served():
    gc.collect()
    gc.freeze()


def each_time_another(benchmark, document, station="common_suction", by=0.01, work=examine, rounds=30):
    """Time `work` on a visit whose last run, each time, has another temperature at a station."""
    document = document.model_dump(mode="json", exclude_none=True)
    steps = iter(range(1, 10_000))

    def changed():
        moved = json.loads(json.dumps(document))
        taken = next(
            r
            for r in moved["runs"][-1]["readings"]
            if (r["station"], r["quantity"]) == (station, "temperature")
        )
        taken["value"] += by * next(steps)
        return (parse_visit(json.dumps(moved)),), {}

    benchmark.pedantic(work, setup=changed, rounds=rounds, warmup_rounds=2)


def test_examine_40_readings(benchmark):
    each_time_another(benchmark, visit(20, 20))


def test_examine_60_readings(benchmark):
    each_time_another(benchmark, visit(30, 30))


def test_examine_60_readings_in_weather_not_met_before(benchmark):
    each_time_another(benchmark, visit(30, 30), "outdoor_air_in", 0.3, rounds=8)


def test_examine_a_visit_that_contradicts_itself(benchmark):
    each_time_another(benchmark, contradictory())


def test_examine_from_text_to_text_60_readings(benchmark):
    each_time_another(
        benchmark,
        visit(30, 30),
        work=lambda one: examine(parse_visit(one.model_dump_json())).model_dump_json(),
    )


def test_examine_four_readings(benchmark):
    each_time_another(benchmark, as_visit(valve_run("cooling", 170, 50, 168, 52)))

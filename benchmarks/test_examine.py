"""`examine` on a visit with 40 readings: under 10 ms warm (issue 2)."""

import json

from builders import VALVE_PIPES, as_visit, reading, valve_run, visit_document
from icepick.core.examine import examine
from icepick.core.stations import STATIONS, Group
from icepick.core.visit import parse_visit


def forty_readings():
    lines = [s.code for s in STATIONS if s.group is Group.LINE and s.code not in VALVE_PIPES]
    runs = [valve_run("cooling", 170, 50, 168, 52), valve_run("heating", 170, 168, 40, 42)]
    for run in runs:
        run["readings"] += [reading(code, 80) for code in lines]
        run["readings"] += [
            {"station": code, "quantity": "pressure", "value": 200, "unit": "psi"}
            for code in ("common_suction_tap", "vapor_service_tap", "liquid_service_tap", "discharge_tap")
        ]
    visit = visit_document(*runs)
    assert sum(len(run["readings"]) for run in visit["runs"]) == 40
    return json.dumps(visit)


def test_examine(benchmark):
    visit = parse_visit(forty_readings())
    benchmark(examine, visit)


def test_examine_from_text_to_text(benchmark):
    text = forty_readings()
    benchmark(lambda: examine(parse_visit(text)).model_dump_json(by_alias=True))


def test_examine_four_readings(benchmark):
    benchmark(examine, as_visit(valve_run("cooling", 170, 50, 168, 52)))

"""Nothing that may be typed breaks the examination: it is refused with a sentence, or examined."""

import json
import math
from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from test_visit import refusal

from builders import SPLIT_UNIT, reading, valve_run, visit_document
from draws import few
from edges import practices, visits
from icepick.core import checks
from icepick.core.checks.rule import CheckRule
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.visit import MOST_ENTRIES, MOST_RUNS, parse_visit
from icepick.core.examine import examine
from icepick.core.indicators import INDICATORS
from icepick.core.practice import IN_ORDER, LIMITS, Practice, PracticeError, limit
from icepick.core.properties.quantities import Kind

DRAWN = settings(
    max_examples=few(25, 80),
    deadline=None,
    suppress_health_check=list(HealthCheck),
    derandomize=True,
    database=None,
)


def numbers_in(found):
    if isinstance(found, dict):
        return [n for value in found.values() for n in numbers_in(value)]
    if isinstance(found, list):
        return [n for value in found for n in numbers_in(value)]
    return [found] if isinstance(found, float) else []


def examine_drawn(visit, practice, units):
    """No crash, no rule that gave up, no number that is none; gives whether it was accepted."""
    try:
        parsed = parse_visit(json.dumps(visit))
    except InvalidDocumentError:
        return False
    examination = examine(parsed, practice, units)
    shown = json.loads(examination.model_dump_json(by_alias=True))
    assert all(math.isfinite(number) for number in numbers_in(shown))
    assert shown["verdict"]
    if shown["ranking"]:
        assert abs(sum(ranked["probability"] for ranked in shown["ranking"]) - 1) < 1e-3
    gave_up = [
        check.explain
        for run in examination.runs
        for check in run.checks
        if check.code == "run.worked_out" or "could not work this out" in check.explain
    ]
    assert gave_up == []
    return True


@DRAWN
@given(visits, practices(), st.sampled_from(["field", "metric"]))
def test_whole_visits_at_the_edges_are_examined(visit, practice, units):
    examine_drawn(visit, practice, units)


CAPACITY = {"value": 0, "unit": "Btu/h"}


@pytest.mark.parametrize(
    ("change", "pointer", "sentence"),
    [
        ({"nominal_capacity": CAPACITY}, "/nominal_capacity/value", "1,000 to 1,000,000 Btu/h"),
        ({"nominal_capacity": {"value": -3, "unit": "kW"}}, "/nominal_capacity/value", "-3 kW is outside"),
        ({"nominal_capacity": {"value": 1e300, "unit": "W"}}, "/nominal_capacity/value", "1e+300 W is"),
        (
            {"compressor": {"kind": "single", "rated_current": {"value": 5e-324, "unit": "A"}}},
            "/compressor/rated_current/value",
            "0.5 to 300 A",
        ),
        (
            {"design": {"supply_fan_power": {"value": 0, "unit": "W"}}},
            "/design/supply_fan_power/value",
            "1 to",
        ),
        (
            {"design": {"backup_heat_power": {"value": 0, "unit": "W"}}},
            "/design/backup_heat_power/value",
            "100 to",
        ),
        ({"design": {"heat_of_extraction": CAPACITY}}, "/design/heat_of_extraction/value", "1,000 to"),
        ({"design": {"heat_of_rejection": CAPACITY}}, "/design/heat_of_rejection/value", "1,000 to"),
        (
            {"design": {"indoor_airflow": {"value": 0, "unit": "cfm"}}},
            "/design/indoor_airflow/value",
            "20 to",
        ),
        (
            {"design": {"cooling": {"subcooling": {"value": -5, "unit": "delta_degF"}}}},
            "/design/cooling/subcooling/value",
            "0 to 60 °F",
        ),
        (
            {
                "defrost": {
                    "method": "demand",
                    "start_below": {"value": 40, "unit": "degF"},
                    "stop_above": {"value": 40, "unit": "degF"},
                }
            },
            "/defrost/stop_above",
            "warmer coil than it starts",
        ),
        (
            {
                "design": {
                    "water_flow_table": [
                        {"drop": {"value": d, "unit": "psi"}, "flow": {"value": f, "unit": "gpm"}}
                        for d, f in ((1, 5), (2, 4))
                    ]
                }
            },
            "/design/water_flow_table",
            "must rise with the pressure drop",
        ),
        (
            {
                "design": {
                    "sensor_table": [
                        {
                            "temperature": {"value": t, "unit": "degF"},
                            "resistance": {"value": 10, "unit": "kohm"},
                        }
                        for t in (32, 77)
                    ]
                }
            },
            "/design/sensor_table",
            "must fall as the sensor warms",
        ),
    ],
)
def test_what_no_unit_can_have_is_refused_with_a_sentence(change, pointer, sentence):
    document = visit_document(valve_run("cooling", 170, 48, 168, 51))
    document["unit"] = {**SPLIT_UNIT, **change}
    where, message = refusal(document)
    assert where == f"/unit{pointer}"
    assert sentence in message


def test_every_list_has_an_end():
    run = valve_run("cooling", 170, 48, 168, 51)
    long = {**run, "readings": [reading("common_suction", 50)] * (MOST_ENTRIES + 1)}
    pointer, message = refusal(visit_document(long))
    assert pointer == "/runs/0/readings"
    assert message == f"this list has {MOST_ENTRIES + 1} entries; it takes 10,000 at most."
    many = [{**run, "id": f"run-{n}"} for n in range(MOST_RUNS + 1)]
    assert refusal(visit_document(*many))[0] == "/runs"


def test_many_runs_say_what_one_says():
    """Repeated runs are one experiment again; and hundreds of likelihoods multiplied don't vanish."""
    run = valve_run("cooling", 170, 61, 168, 75)
    one = examine(parse_visit(json.dumps(visit_document(run))))
    many = examine(
        parse_visit(
            json.dumps(visit_document(*({**run, "id": f"run-{n}"} for n in range(few(200, MOST_RUNS)))))
        )
    )
    assert one.ranking[0].fault == "valve_bypassing"
    assert many.ranking[0].fault == "valve_bypassing"
    assert many.ranking[0].probability == pytest.approx(one.ranking[0].probability, abs=0.1)
    assert sum(ranked.probability for ranked in many.ranking) == pytest.approx(1, abs=1e-4)


def test_a_gauge_below_vacuum_is_doubted_and_not_reckoned_with():
    run = valve_run("cooling", 170, 48, 168, 51)
    gauge = {"quantity": "pressure", "unit": "psi", "method": "gauge"}
    run["readings"] += [reading("common_suction_tap", -14.7, **gauge), reading("discharge_tap", 350, **gauge)]
    document = visit_document(run, site={"name": "Test Hall", "elevation": {"value": 10_000, "unit": "ft"}})
    found = examine(parse_visit(json.dumps(document))).runs[0]
    (doubt,) = [d for d in found.doubts if d.code == "below_vacuum"]
    assert doubt.stations == ["common_suction_tap"]
    assert "compression_ratio" not in found.indicators


def test_a_rule_that_breaks_is_one_word_in_a_whole_examination(monkeypatch, mishaps_pass):
    """Whatever a rule trips over, it says so and the others have their say."""

    def broken(context):
        return 1 / (len(context.readings.all()) - 4)

    run = valve_run("cooling", 170, 61, 168, 75)
    whole = examine(parse_visit(json.dumps(visit_document(run))))
    rule = CheckRule("test.broken", "broken", Kind.RATIO, None, broken)
    monkeypatch.setattr(checks, "CHECKS", (rule, *checks.CHECKS))
    spoilt = replace(INDICATORS[0], title="a spoilt figure", compute=broken)
    monkeypatch.setattr("icepick.core.examined_run.INDICATORS", (spoilt, *INDICATORS[1:]))
    # A run that was examined before is remembered: this one was not.
    found = examine(parse_visit(json.dumps(visit_document({**run, "notes": "once more"}))))
    (said,) = [check for check in found.runs[0].checks if check.code == "test.broken"]
    assert said.status == "watch"
    assert "could not work this out (division by zero)" in said.explain
    said = found.runs[0].checks[-1]
    assert (said.code, said.status) == ("run.worked_out", "watch")
    assert "a spoilt figure (ZeroDivisionError: division by zero)" in said.explain
    assert found.headline == whole.headline
    assert whole.runs[0].indicators.keys() - found.runs[0].indicators.keys() == {INDICATORS[0].name}
    assert {c.code for c in found.runs[0].checks} - {c.code for c in whole.runs[0].checks} == {
        "test.broken",
        "run.worked_out",
    }


@pytest.mark.parametrize(("low", "high"), IN_ORDER)
def test_two_limits_never_stand_the_wrong_way_round(low, high):
    (low_least, low_most), (high_least, high_most) = limit(low).bounds, limit(high).bounds
    meeting = (max(low_least, high_least) + min(low_most, high_most)) / 2
    with pytest.raises(PracticeError, match="must stay below"):
        Practice({low: meeting, high: meeting})
    # A file of an older Icepick that holds them so is read without them.
    assert Practice.of_what_stands({low: meeting, high: meeting}).changes == {}


@pytest.mark.parametrize("name", [entry.name for entry in LIMITS])
@pytest.mark.parametrize("value", [1e-300, -1.0, 1e9, 5e-324, 0.0])
def test_a_limit_is_held_to_what_makes_sense(name, value):
    entry = limit(name)
    least, most = entry.bounds
    assert least <= entry.default <= most
    if least <= value <= most:
        assert entry.kind is Kind.TEMPERATURE
        return
    with pytest.raises(PracticeError, match="makes no sense here"):
        Practice({name: value})
    assert Practice.of_what_stands({name: value, "no such limit": 1.0}).changes == {}

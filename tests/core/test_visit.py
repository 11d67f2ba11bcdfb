"""What the visit document takes and what it refuses, and that each refusal points at its field."""

import json

import jsonschema
import pytest

from builders import reading, valve_run, visit_document
from icepick.core.document.base import InvalidDocumentError, to_plain
from icepick.core.document.examination import examination_schema
from icepick.core.document.visit import parse_visit, visit_schema
from icepick.core.examine import examine


def refusal(document) -> tuple[str, str]:
    text = document if isinstance(document, str | bytes) else json.dumps(document)
    with pytest.raises(InvalidDocumentError) as caught:
        parse_visit(text)
    problem = caught.value.problems[0]
    return problem.pointer, problem.message


@pytest.mark.parametrize(
    ("change", "field", "sentence"),
    [
        ({"station": "condenser"}, "station", "there is no station 'condenser'."),
        ({"station": "outdoor_circuit:0"}, "station", "there is no station 'outdoor_circuit:0'."),
        ({"quantity": "pressure"}, "quantity", "it takes temperature."),
        ({"unit": "psi"}, "unit", "'psi' does not measure temperature; use degF, degC."),
        ({"unit": "degR"}, "unit", "'degR' is not one of"),
        ({"value": 351}, "value", "351 °F is outside what can be entered here (-60 to 350 °F)."),
        ({"value": -51.2, "unit": "degC"}, "value", "(-51.11 to 176.7 °C)"),
        ({"station": "discharge_tap", "quantity": "pressure", "unit": "bar", "value": 63}, "value", "bar"),
        ({"value": float("nan")}, "value", "a number must be finite."),
        ({"value": 1e999}, "value", "a number must be finite."),
        ({"value": "150"}, "value", "this must be a number."),
        ({"value": True}, "value", "this must be a number."),
        ({"method": "eye"}, "method", "'eye' is not one of"),
        ({"at": "2026-03-04T09:30:00"}, "at", "a time needs its offset"),
        ({"note~/": 1}, "note~0~1", "there is no field of this name."),
    ],
)
def test_a_wrong_reading_is_refused_at_its_field(change, field, sentence):
    run = valve_run("cooling", 170, None, None, None)
    run["readings"].append({**reading("common_suction", 52), **change})
    pointer, message = refusal(visit_document(run))
    assert pointer == f"/runs/0/readings/1/{field}"
    assert sentence in message


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"version": 2}, "/version"),
        ({"format": "other"}, "/format"),
        ({"site": {"name": "  "}}, "/site/name"),
        ({"site": {"name": "x", "elevation": {"value": 20_000, "unit": "ft"}}}, "/site/elevation/value"),
        ({"complaint": "cold"}, "/complaint"),
        ({"runs": [{"id": "a", "mode": "heating"}, {"id": "a", "mode": "cooling"}]}, "/runs/1/id"),
        ({"runs": [{"id": "a", "mode": "drying"}]}, "/runs/0/mode"),
        ({"runs": [{"id": "a", "mode": "heating", "minutes_running": -1}]}, "/runs/0/minutes_running"),
        *(
            (
                {
                    "runs": [
                        {
                            "id": "a",
                            "mode": "heating",
                            "observations": [{"code": "out_of_reach", "value": value}],
                        }
                    ]
                },
                "/runs/0/observations/0/value",
            )
            for value in (None, True, "attic", "return_air/current")
        ),
    ],
)
def test_a_wrong_head_is_refused_at_its_field(change, pointer):
    assert refusal(visit_document(**change))[0] == pointer


@pytest.mark.parametrize(
    ("part", "pointer"),
    [
        ({"drier": {"kind": "bi_flow"}}, "/unit/drier/place"),
        ({"indoor_meter": {"kind": "none", "bypass": "internal_check"}}, "/unit/indoor_meter/bypass"),
        (
            {side: {"kind": "none", "bypass": "none"} for side in ("indoor_meter", "outdoor_meter")},
            "/unit/outdoor_meter/kind",
        ),
        ({"nominal_capacity": {"value": 3, "unit": "tons"}}, "/unit/nominal_capacity/unit"),
    ],
)
def test_an_impossible_unit_is_refused_at_its_part(part, pointer):
    document = visit_document()
    document["unit"].update(part)
    assert refusal(document)[0] == pointer


@pytest.mark.parametrize("text", ["", "{", "[]", "null", b"\xff\xfe", "[" * 100_000])
def test_what_is_no_document_at_all_is_refused_in_one_line(text):
    with pytest.raises(InvalidDocumentError) as caught:
        parse_visit(text)
    assert "\n" not in str(caught.value)


def test_the_schemas_are_valid_and_accept_what_the_code_accepts(healthy_cooling):
    for schema, document in (
        (visit_schema(), healthy_cooling),
        (examination_schema(), to_plain(examine(parse_visit(json.dumps(healthy_cooling))))),
    ):
        jsonschema.Draft202012Validator.check_schema(schema)
        jsonschema.Draft202012Validator(schema).validate(document)
    broken = visit_document(valve_run("cooling", 170, 50, 168, 52), colour="red")
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.Draft202012Validator(visit_schema()).validate(broken)


def test_all_that_is_wrong_is_found_at_once_and_the_line_counts_it():
    """A technician who puts one thing right must not be told of the next only then."""
    run = valve_run("cooling", 170, 50, 900, 52)
    run["readings"][0]["unit"] = "psi"
    with pytest.raises(InvalidDocumentError) as caught:
        parse_visit(json.dumps(visit_document(run, complaint="cold")))
    assert {problem.pointer for problem in caught.value.problems} == {
        "/complaint",
        "/runs/0/readings/0/unit",
        "/runs/0/readings/2/value",
    }
    assert str(caught.value).endswith("(and 2 more)")
    assert "more)" not in str(_only_one())


def _only_one() -> InvalidDocumentError:
    with pytest.raises(InvalidDocumentError) as caught:
        parse_visit(json.dumps(visit_document(complaint="cold")))
    return caught.value

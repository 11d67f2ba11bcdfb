"""A run that was examined once is kept: whatever it depends on, and nothing else, has it looked at again."""

import copy
import json

import pytest

from builders import reading, valve_run, visit_document
from icepick.core import examined_run
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.practice import DEFAULT_PRACTICE, Practice

VOLTS = {"quantity": "voltage", "unit": "V", "method": "meter"}
GAUGE = {"quantity": "pressure", "unit": "psi", "method": "gauge"}


def two_modes():
    runs = [valve_run("cooling", 170, 61, 168, 75), valve_run("heating", 170, 168, 42, 44)]
    runs[0]["readings"] += [reading("terminal_o", 0, **VOLTS), reading("discharge_tap", 350, **GAUGE)]
    runs[1]["readings"] += [reading("terminal_o", 0, **VOLTS)]
    return visit_document(*runs)


def other_voltage(document):
    document["runs"][1]["readings"][-1]["value"] = 25


def high_up(document):
    document["site"]["elevation"] = {"value": 9000, "unit": "ft"}


def other_unit(document):
    document["unit"]["reversing_valve"]["energized_in"] = "heating"


def same(document):
    pass


def one(change, practice=DEFAULT_PRACTICE, units="field"):
    document = copy.deepcopy(two_modes())
    change(document)
    return examine(parse_visit(json.dumps(document)), practice, units).model_dump_json()


@pytest.mark.parametrize(
    ("change", "more"),
    [
        (other_voltage, {}),
        (high_up, {}),
        (other_unit, {}),
        (same, {"practice": Practice({"valve_suction_rise": 12})}),
        (same, {"units": "metric"}),
    ],
)
def test_what_is_kept_is_what_would_be_worked_out_anew(change, more):
    before = one(same)
    warm = one(change, **more)
    examined_run._examined.cache_clear()
    assert warm == one(change, **more)
    assert warm != before


def test_a_reading_has_its_own_run_alone_looked_at_again():
    one(same)
    before = examined_run._examined.cache_info()

    def read_more(document):
        document["runs"][1]["readings"].append(reading("liquid_line_outdoor", 88.4))

    one(read_more)
    after = examined_run._examined.cache_info()
    assert (after.misses - before.misses, after.hits - before.hits) == (1, 1)

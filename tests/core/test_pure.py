"""Examination is pure: the same visit gives the same bytes whatever was asked before, in any order and from any thread; and
no number in it is none."""

import dataclasses
import gc
import json
import math
import random
from concurrent.futures import ThreadPoolExecutor

import pytest
from uncertainties.core import AffineScalarFunc

from builders import ductless
from demo_book import examined, visits
from draws import share
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.machine import ChartAsked
from icepick.core.document.visit import Unit, parse_visit
from icepick.core.examine import examine
from icepick.core.examined_run import examined_runs
from icepick.core.handbook.fault_pictures import fault_picture
from icepick.core.machine.sizing import UnsizedError, longest_line_set, size
from icepick.core.machine.weather_chart import weather_chart
from icepick.core.practice import DEFAULT_PRACTICE
from other_laws import forget_solved

ALL = visits()
HEADS = [name for name, visit in ALL.items() if visit.unit.heads]


def said(name):
    return examine(ALL[name]).model_dump_json()


@pytest.fixture(scope="module")
def first_said():
    """What was said of each visit in another process, in the order of the book."""
    return {name: examined(name).model_dump_json() for name in ALL}


@pytest.mark.one_in(2)
@pytest.mark.parametrize("order", ["backwards", "shuffled"])
def test_the_same_in_any_order(first_said, order):
    forget_solved()
    names = list(ALL)[::-1]
    if order == "shuffled":
        random.Random(8).shuffle(names)
    names = share(names, 6)
    assert {name: said(name) == first_said[name] for name in names} == dict.fromkeys(names, True)


def test_the_same_after_the_handbook_was_used(first_said):
    """Lock House: with heads 1 and 2 its subcooling's band was another once the weather chart of its unit had been opened."""
    for name in HEADS:
        forget_solved()
        for mode in ("heating", "cooling"):
            weather_chart(ChartAsked(unit=ALL[name].unit, mode=mode), "field")
            fault_picture("undercharge", mode, "field")
        assert said(name) == first_said[name], name


def test_the_same_from_eight_threads(first_said):
    names = share(ALL, 8) + share(HEADS, 1)
    asked = [name for name in names for _ in range(4)]
    random.Random(3).shuffle(asked)
    forget_solved()
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(said, asked))
    assert [name for name, one in zip(asked, found, strict=True) if one != first_said[name]] == []


def values(found, seen=None):
    """Every value with an uncertainty in what is kept of a run."""
    if isinstance(found, AffineScalarFunc):
        yield found
    elif isinstance(found, dict):
        for one in found.values():
            yield from values(one)
    elif isinstance(found, list | tuple):
        for one in found:
            yield from values(one)
    elif dataclasses.is_dataclass(found) and not isinstance(found, type):
        yield from values(
            [getattr(found, field.name) for field in dataclasses.fields(found) if field.compare]
        )


def test_what_threads_share_is_worked_out_before_it_is_shared():
    """``uncertainties`` takes a value's terms apart when it is first asked what it rests on; two threads at once spoil it."""
    kept = []
    for name in [*HEADS, *share(ALL, 8)]:
        for one in examined_runs(ALL[name], DEFAULT_PRACTICE, "field", None):
            kept += values([one.context.memo, one.context.readings.all()])
    assert len(kept) > 500
    assert all(value._linear_part.expanded() for value in kept)


def test_a_unit_that_was_sized_twice_is_still_the_same_unit():
    """A machine that was forgotten meanwhile is another object, and no other machine: earlier visits still teach."""
    name = next(
        name for name, visit in ALL.items() if examined(name).outcome == "pass" and visit.unit.source == "air"
    )
    visit = ALL[name]
    once = examine(visit, earlier=[visit])
    assert once.baseline.visits[0].used
    for _ in range(2):
        forget_solved()
        gc.collect()
        assert examine(visit.model_copy(), earlier=[visit.model_copy(deep=True)]) == once
    known = size(visit.unit)
    forget_solved()
    assert size(visit.unit) is not known
    assert size(visit.unit) == known
    assert hash(size(visit.unit)) == hash(known)
    larger = visit.unit.model_copy(update={"nominal_capacity": None})
    assert visit.unit.nominal_capacity is None or size(larger) != known


def numbers(found, where=""):
    if isinstance(found, dict):
        for key, one in found.items():
            yield from numbers(one, f"{where}/{key}")
    elif isinstance(found, list | tuple):
        for place, one in enumerate(found):
            yield from numbers(one, f"{where}/{place}")
    elif isinstance(found, float):
        yield where, found


def test_no_number_of_an_examination_is_none(first_said):
    for name in ALL:
        bad = [where for where, one in numbers(examined(name).model_dump()) if not math.isfinite(one)]
        assert bad == [], name


def test_no_machine_is_made_of_lines_that_leave_nothing_to_meter():
    with pytest.raises(InvalidDocumentError, match="0 to 300 ft"):
        parse_visit(
            json.dumps(
                {
                    "format": "icepick-visit",
                    "version": 1,
                    "site": {"name": "Far"},
                    "unit": ductless("R-32", 373),
                    "runs": [],
                }
            )
        )
    unit = Unit.model_validate(ductless("R-407C", 260))
    with pytest.raises(UnsizedError, match=r"line_set_length.*none is left"):
        size(unit)
    most = longest_line_set(unit) / 0.3048
    assert 100 < most < 260
    for feet in (most, most - 20):
        machine = size(Unit.model_validate(ductless("R-407C", round(feet))))
        assert all(math.isfinite(meter.area) and meter.area > 0 for meter in machine.meters.values())
        assert math.isfinite(machine.charge)

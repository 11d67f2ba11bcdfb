"""Earlier visits at which nothing was wrong teach what this very unit is like, by machines that keep other laws than the
product's own (tests/other_laws.py)."""

import json
import math
import random

import pytest

from builders import visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.machine.faults import machine_fault
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.practice import Practice
from layouts import TRUTH
from other_laws import other_laws
from played import Weather, played
from sick import of_layout

LAYOUT = next(iter(TRUTH))
BEFORE = {"heating": Weather(45, 70), "cooling": Weather(88, 76, 0.5, 0.5)}
NOW = {"heating": Weather(28, 69), "cooling": Weather(96, 77, 0.5, 0.5)}


def visit(weathers, knobs=AT_REST, seed=1, layout=LAYOUT, complaint=None, **changes):
    made = of_layout(layout, **changes)
    with other_laws():
        runs = [
            played(made, mode, [weather], [knobs], random.Random(f"{seed} {mode}"))[0]
            for mode, weather in weathers.items()
        ]
    document = visit_document(*runs, complaint=complaint)
    document["unit"] = made.model_dump(mode="json", exclude_none=True)
    return parse_visit(json.dumps(document))


WEAK_BLOWER = Variation(indoor_flow=0.86)
"""A sound unit whose ducts let 14 % less air through than its nameplate has one expect."""


@pytest.fixture(scope="module")
def taught():
    return [visit(BEFORE, WEAK_BLOWER, seed) for seed in (1, 2)]


def learned(examination):
    return {one.name: one for one in examination.baseline.learned}


def test_it_learns_what_the_unit_is_like(taught):
    found = examine(visit(NOW, WEAK_BLOWER, 3), earlier=taught)
    airflow = learned(found)["indoor_flow"]
    assert abs(airflow.value + 14) <= airflow.uncertainty < 14
    assert airflow.words.startswith("air over the indoor coil")
    assert "2 earlier visits" in found.baseline.words


def test_what_the_sound_unit_would_show_is_surer_and_nearer(taught):
    now = visit({"heating": NOW["heating"]}, WEAK_BLOWER, 3)
    (before,), (after,) = (examine(now, earlier=earlier).runs for earlier in ((), taught))
    (read,) = (r.value for r in before.readings if r.station == "supply_air" and r.quantity == "temperature")
    blind, told = (run.expected["supply_air"] for run in (before, after))
    assert told.high - told.low < 0.8 * (blind.high - blind.low)
    assert abs(told.value - read) < abs(blind.value - read)


def test_a_fault_stands_out_against_what_the_unit_was():
    """Of machines drawn at random, each with a slight fault: the truth gains by what was learned, on the whole."""
    gained = []
    for seed, (code, amount) in enumerate(
        [("undercharge", 18), ("overcharge", 15), ("indoor_airflow_low", 25), ("compressor_weak", 18)] * 2
    ):
        chance = random.Random(seed)
        own = Variation(
            indoor_flow=1 + chance.uniform(-0.1, 0.1),
            indoor_conductance=1 + chance.uniform(-0.15, 0.15),
            outdoor_conductance=1 + chance.uniform(-0.15, 0.15),
        )
        now = visit({"cooling": NOW["cooling"]}, own.and_also(machine_fault(code).effect(amount)), seed)
        sure = [
            next(r.probability for r in examine(now, earlier=earlier).ranking if r.fault == code)
            for earlier in ((), [visit(BEFORE, own, seed + 100)])
        ]
        gained.append(math.log(sure[1] / sure[0]))
    assert sum(gained) > 1.0
    assert min(gained) > -1.5


def test_it_says_which_visits_taught_nothing_and_why(taught):
    low = machine_fault("undercharge").effect(35)
    earlier = [
        visit(BEFORE, low, 5),
        visit(BEFORE, seed=6, nominal_capacity={"value": 24_000, "unit": "Btu/h"}),
        visit({}, seed=7),
        *taught,
    ]
    found = examine(visit(NOW, WEAK_BLOWER, 3), earlier=earlier).baseline
    why = [one.why for one in found.visits]
    assert "check failed" in why[0] or "not sure enough" in why[0]
    assert "otherwise" in why[1]
    assert "Nothing was read" in why[2]
    assert [one.used for one in found.visits] == [False, False, False, True, True]
    # A shop that wants to be surer learns from less; the limit is what decides.
    strict = examine(visit(NOW, WEAK_BLOWER, 3), Practice({"baseline_sound": 99.9}), earlier=taught)
    assert strict.baseline.words == ""
    assert strict.model_copy(update={"baseline": None, "changed_limits": {}}) == examine(
        visit(NOW, WEAK_BLOWER, 3)
    )


def test_what_was_learned_fades_and_never_hides_a_grave_fault(taught):
    """Learned from a unit with a weak blower, a blower that then all but stops is found all the same."""
    worse = WEAK_BLOWER.and_also(machine_fault("indoor_airflow_low").effect(45))
    found = examine(visit(NOW, worse, 4), earlier=taught)
    assert found.ranking[0].fault == "indoor_airflow_low"
    assert found.outcome == "fail"

"""The same unit, earlier visits: which run is nearest, and what changed beyond both bands."""

import json
from datetime import UTC, datetime

import pytest

from builders import visit_document
from cases import SPLIT, sound
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.history import ExaminedVisit, history
from layouts import TRUTH


def visited(number, year, *runs, units="field"):
    document = visit_document(*runs)
    document["unit"] = {**document["unit"], **TRUTH[SPLIT][0]}
    opened = datetime(year, 11, 10, 9, tzinfo=UTC)
    return ExaminedVisit(number, opened, examine(parse_visit(json.dumps(document)), units=units))


def heating(outdoor, indoor=70.0, evaporating=None, **more):
    made = sound(SPLIT, "heating", **more)
    made.outdoor, made.indoor = outdoor, indoor
    made.evaporating = outdoor - 17 if evaporating is None else evaporating
    return made.run()


def test_the_nearest_conditions_in_the_same_mode_are_compared():
    visits = [
        visited(5, 2022, heating(17)),
        visited(7, 2023, heating(38), sound(SPLIT, "cooling").run()),
        visited(8, 2024, heating(52)),
        visited(9, 2025, heating(40, evaporating=9)),
        visited(11, 2026, heating(40)),  # Later than the visit that is asked for: it can't have been known.
    ]
    found = history(visits[::-1], of=9)
    (only,) = found.comparisons
    assert (only.run, only.before.visit, only.before.mode) == ("heating", 7, "heating")
    assert only.near
    assert only.apart.value == pytest.approx(2)
    assert [(run.visit, run.mode) for run in found.runs] == [
        (5, "heating"), (7, "heating"), (7, "cooling"), (8, "heating"), (9, "heating"),
    ]  # fmt: skip
    change = {one.indicator: one for one in only.changes}
    # 40 − 9 against 38 − 21: the split grew by 14 °F, more than two clamps and a gauge can err.
    assert change["evaporator_split"].change == pytest.approx(14, abs=0.3)
    assert change["evaporator_split"].clear
    assert not change["valve_suction_rise"].clear
    clear = [one.clear for one in only.changes]
    assert clear == sorted(clear, reverse=True), "the surest changes come first"
    now, then = (
        next(run for run in found.runs if run.visit == visit and run.mode == "heating").indicators
        for visit in (9, 7)
    )
    for one in only.changes:
        assert (one.now, one.before) == (now[one.indicator].value, then[one.indicator].value)


def test_of_equally_near_runs_the_latest_and_far_conditions_are_said():
    visits = [visited(1, 2022, heating(20)), visited(2, 2023, heating(20)), visited(3, 2026, heating(50))]
    (only,) = history(visits, of=3).comparisons
    assert only.before.visit == 2
    assert not only.near
    assert only.apart.value == pytest.approx(30)
    assert history(visits[:1], of=1).comparisons == []
    # Both ends of the machine count: 3 °F outdoors and 4 °F indoors are 5 °F apart.
    visits = [visited(1, 2022, heating(40, 70)), visited(2, 2026, heating(43, 74))]
    assert history(visits, of=2).comparisons[0].apart.value == pytest.approx(5)


def test_conditions_that_were_not_read_are_not_taken_for_near():
    bare = sound(SPLIT, "heating").run(without=("outdoor_air_in", "return_air"))
    (only,) = history([visited(1, 2024, bare), visited(2, 2026, heating(40))], of=2).comparisons
    assert only.apart is None
    assert not only.near
    assert only.changes


def test_metric_visits_are_compared_in_metric():
    visits = [visited(n, year, heating(t), units="metric") for n, year, t in ((1, 2024, 36), (2, 2026, 45))]
    (only,) = history(visits, of=2, units="metric").comparisons
    assert (only.apart.value, only.apart.unit) == (pytest.approx(5), "delta_degC")

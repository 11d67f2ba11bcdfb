"""A unit with several heads: which are fed, which leak, which are exchanged, and what all of them share.

The visits are of machines of other laws, and what each head shows is worked out by hand (tests/heads.py).
"""

from __future__ import annotations

import json

import pytest

from builders import reading
from heads import FIVE, Wrong, headed, of_heads, only, visited
from icepick.core.circuit.line import line_of
from icepick.core.document.heads import in_one_line, share_calling
from icepick.core.document.visit import Unit, parse_visit
from icepick.core.examine import examine
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.sizing import size
from icepick.core.machine.stations import shown
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST
from icepick.core.practice import DEFAULT_PRACTICE
from layouts import EEV, NONE, kind
from plant import kelvin
from solved import unit

TWO, BIG = of_heads(), of_heads(FIVE, nominal_capacity={"value": 42_000, "unit": "Btu/h"})
PORTS = ("outdoor_air_in", "liquid_line_outdoor", "vapor_line_outdoor")
ROOMS = ("return_air", "supply_air", "indoor_coil")
VALVE = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")


def run_of(examination, code):
    return next(check for check in examination.runs[0].checks if check.code == code)


SOUND = [
    (TWO, [("cooling", [1])]),
    (TWO, [("heating", [1, 2])]),
    (BIG, [("cooling", [1, 2, 4])]),
    (BIG, [("heating", [4])]),
    (BIG, [("cooling", [2, 3]), ("heating", [1, 2, 3, 4, 5])]),
]


@pytest.mark.one_in(4)
@pytest.mark.parametrize(("made", "runs"), SOUND)
@pytest.mark.parametrize("seed", [11, 12])
def test_a_sound_unit_is_called_sound_whichever_heads_call(made, runs, seed):
    found = examine(visited(made, runs, seed=seed))
    assert found.lead == "sound", found.verdict
    assert [
        c.code for run in found.runs for c in run.checks if c.code.startswith("heads") and c.status != "pass"
    ] == []


def test_one_small_head_alone_slows_the_compressor_down_and_condemns_nothing():
    """Where nobody noted the speed: a seventh of the capacity calls."""
    found = examine(visited(BIG, [("cooling", [4])], seed=2))
    assert found.lead == "sound", found.verdict


WRONG = [
    (TWO, "cooling", [1], Wrong("leaking", (2,)), "head_meter_leaking"),
    (TWO, "heating", [2], Wrong("leaking", (1,)), "head_meter_leaking"),
    (TWO, "cooling", [1, 2], Wrong("closed", (2,)), "head_meter_closed"),
    (TWO, "heating", [1, 2], Wrong("closed", (1,)), "head_meter_closed"),
    (TWO, "cooling", [1], Wrong("lines", (1, 2)), "heads_crossed"),
    (TWO, "cooling", [2], Wrong("wires", (1, 2)), "heads_crossed"),
    (TWO, "heating", [1], Wrong("lines", (1, 2)), "heads_crossed"),
    (TWO, "heating", [1], Wrong("wires", (1, 2)), "heads_crossed"),
    (BIG, "cooling", [1, 3], Wrong("leaking", (4,)), "head_meter_leaking"),
    (BIG, "heating", [1, 2, 4], Wrong("leaking", (5,)), "head_meter_leaking"),
    (BIG, "cooling", [1, 2, 3], Wrong("closed", (2,)), "head_meter_closed"),
    (BIG, "heating", [1, 2, 3], Wrong("closed", (3,)), "head_meter_closed"),
    (BIG, "cooling", [1, 2], Wrong("lines", (2, 5)), "heads_crossed"),
    (BIG, "heating", [1, 2], Wrong("lines", (1, 4)), "heads_crossed"),
    (BIG, "cooling", [1, 2], Wrong("wires", (2, 5)), "heads_crossed"),
    (BIG, "heating", [1, 2], Wrong("wires", (2, 5)), "heads_crossed"),
]


@pytest.mark.one_in(6)
@pytest.mark.parametrize(("made", "mode", "calling", "wrong", "fault"), WRONG)
@pytest.mark.parametrize("seed", [21, 22])
def test_what_is_wrong_with_a_head_is_found_and_the_head_named(made, mode, calling, wrong, fault, seed):
    found = examine(visited(made, [(mode, calling)], wrong, seed=seed))
    first = found.ranking[0]
    assert (first.fault, first.heads) == (fault, sorted(wrong.heads)), found.verdict
    assert first.probability > 0.4
    assert found.concluded == [fault]
    if fault == "heads_crossed":
        assert first.title.startswith(wrong.what)
        assert run_of(found, "heads.crossed").status == "fail"


def test_no_head_is_condemned_while_another_is_fed_in_its_place():
    """What was read of what they share may speak for a shut valve; that another head runs instead rules it out."""
    found = examine(visited(BIG, [("heating", [1, 2])], Wrong("wires", (2, 5)), seed=31))
    assert run_of(found, "heads.crossed").status == "fail"
    assert found.ranking[0].title == "wires of heads 2 and 5 exchanged"
    closed = next(one for one in found.ranking if one.fault == "head_meter_closed")
    assert next(out.status for out in closed.rule_out) == "contradicted"
    assert closed.probability < 0.1


@pytest.mark.one_in(2)
@pytest.mark.parametrize(
    ("shared", "mode"),
    [
        (("valve_bypassing", 25), "heating"),
        (("outdoor_airflow_low", 50), "cooling"),
        (("active_meter_overfeeding", 250), "cooling"),
    ],
)
def test_what_heads_share_is_found_along_whichever_calls(shared, mode):
    for calling in ([1], [2, 3]):
        found = examine(visited(BIG, [(mode, calling)], shared=shared, seed=3))
        assert found.ranking[0].fault == shared[0], (calling, found.verdict)
        assert found.ranking[0].heads == []


def test_by_the_ports_alone_lines_that_are_exchanged_cannot_show():
    """Lines exchanged: the right EEV opens. At the outdoor unit nothing is wrong, and nothing is said to be."""
    at_ports = only(visited(BIG, [("cooling", [1])], Wrong("lines", (1, 4))), *VALVE, *PORTS)
    found = examine(at_ports)
    assert found.ranking[0].fault == "none"
    # What is asked for next goes by its own name, too.
    wanted = {one.station for one in found.next_readings if one.station}
    assert wanted <= set(found.runs[0].stations)
    assert any(":" in code for code in wanted)
    in_rooms = only(visited(BIG, [("cooling", [1])], Wrong("lines", (1, 4))), *VALVE, *ROOMS)
    crossed = examine(in_rooms).ranking[0]
    assert (crossed.fault, crossed.heads) == ("heads_crossed", [1, 4])
    assert crossed.probability > 0.8
    assert run_of(examine(in_rooms), "heads.crossed").explain.endswith(
        "Read both ends of head 1 (hall) and head 4 (store)."
    )


def test_a_head_that_gets_nothing_alone_is_held_beside_another():
    """One head calls and is not fed: its own valve, or what all share? Another that calls alone tells."""
    document = headed(TWO, [("cooling", [2])], Wrong("closed", (2,)), seed=2)
    first = examine(parse_visit(json.dumps(document)))
    asked = [one for one in first.next_readings if one.heads_calling is not None]
    assert [one.heads_calling for one in asked][:1] == [[1]]
    assert asked[0].why.startswith("Call head 1 alone")
    assert asked[0].run is None
    assert not asked[0].switch_mode
    both = examine(visited(TWO, [("cooling", [2]), ("cooling", [1])], Wrong("closed", (2,)), seed=2))
    closed = both.ranking[0]
    assert (closed.fault, closed.heads) == ("head_meter_closed", [2])
    assert closed.probability > next(one.probability for one in first.ranking if one.fault == closed.fault)


def test_nothing_is_held_against_a_call_nobody_noted():
    document = headed(BIG, [("cooling", [1, 2])], Wrong("leaking", (4,)))
    document["runs"][0].pop("heads_calling")
    found = examine(parse_visit(json.dumps(document)))
    assert not {one.fault for one in found.ranking} & {
        "head_meter_leaking",
        "head_meter_closed",
        "heads_crossed",
    }
    assert run_of(found, "heads.idle").status == "needs_readings"


def test_every_station_is_said_by_its_own_name():
    """The run is examined along one head, and no station of it is named as on a unit that has but one."""
    document = headed(BIG, [("heating", [2, 3])], seed=4)
    found = examine(parse_visit(json.dumps(document)))
    (run,) = found.runs
    known = set(run.stations)
    said = {code for check in run.checks for code in (*check.needs, *check.uses)}
    said |= {code for one in run.indicators.values() for code in one.uses}
    said |= {stop.station for stop in run.path} | {tap.at for tap in run.taps} | set(run.expected)
    said |= {end for leg in run.legs for end in (leg.start, leg.end)} | {
        level.station for level in run.levels
    }
    said |= {one.station for one in found.next_readings if one.station}
    said |= {code for one in found.ranking for places in one.foretold.values() for code in places}
    said |= {one.name for fault in found.ranking for one in fault.compared if one.quantity}
    assert said <= known
    assert set(found.station_names) == known
    along = next(head for head in run.heads if head.along)
    assert along.calls
    for head in run.heads:
        own = {stop.station for stop in head.path if ":" in stop.station}
        assert own
        assert all(code.endswith(f":{head.number}") for code in own)
        assert bool(head.expected) == head.calls


def test_a_head_of_a_run_says_what_runs_in_it():
    found = examine(visited(BIG, [("heating", [1, 2])], Wrong("closed", (2,)), seed=6))
    states = {head.number: (head.calls, head.outdoors, head.indoors) for head in found.runs[0].heads}
    assert states[1] == (True, "fed", "fed")
    assert states[2][1:] == ("still", "still")
    assert states[3][0] is False
    assert {states[n][1] for n in (3, 4, 5)} <= {"bleeding", "still"}


def test_the_air_of_a_head_counts_for_the_heads_that_call():
    """Air by the heads' share of the usual 400 cfm a ton [common practice]: 1.08 × cfm × ΔT, 18 of 42 parts of 3.5 tons."""
    (run,) = examine(visited(BIG, [("heating", [1, 4])], seed=9)).runs
    difference = next(head.air.value for head in run.heads if head.along)
    usual = 1.08 * 400 * 3.5 * 18 / 42 * difference
    assert run.indicators["air_capacity"].value == pytest.approx(usual, rel=0.1)


def test_a_suspect_reading_of_a_head_is_named_as_its_own():
    document = headed(TWO, [("cooling", [2])], seed=8)
    (run,) = document["runs"]
    run["readings"].append(reading("vapor_line_outdoor:2", 95))
    found = examine(parse_visit(json.dumps(document)))
    assert found.ranking[0].suspect.station == "vapor_line_outdoor:2"
    assert found.next_readings[0].station == "vapor_line_outdoor:2"
    assert found.headline == "Read again: vapor line, outdoor end, head 2"


# The machine: heads in parallel are one coil of their share.


def _rest(made: Unit, mode: str, outdoor: float, indoor: float, speed: float) -> dict[tuple[str, str], float]:
    machine = size(made)
    around = Conditions(kelvin(outdoor), kelvin(indoor), 0.004, 0.008, speed)
    found = settle(machine, mode, around, AT_REST, 1)
    assert found.sound[0]
    rows = shown(machine, mode, found.cycle, around, AT_REST)
    return {place: float(row[0]) for place, row in rows.items()}


@pytest.mark.parametrize(("mode", "outdoor", "indoor"), [("cooling", 95, 80), ("heating", 47, 70)])
def test_all_heads_calling_are_the_unit_in_one_line(mode, outdoor, indoor):
    line = unit(
        **{**kind("ductless", NONE, EEV), "refrigerant": "R-410A", "compressor": {"kind": "inverter"}}
    )
    of_two = line.model_copy(update={"heads": TWO.heads})
    assert _rest(in_one_line(of_two, [1, 2], 1, fed=True), mode, outdoor, indoor, 1.0) == _rest(
        line, mode, outdoor, indoor, 1.0
    )


def test_one_of_two_at_half_the_speed_works_as_both_at_all_of_it():
    """Half the flow through half the coil: indoors the same temperatures, but for pipes that lie there once.
    [physics: parallel branches]"""
    one = _rest(in_one_line(TWO, [1], 1, fed=True), "cooling", 95, 80, 0.5)
    both = _rest(in_one_line(TWO, [1, 2], 1, fed=True), "cooling", 95, 80, 1.0)
    assert one["indoor_coil", "temperature"] == pytest.approx(both["indoor_coil", "temperature"], abs=1.6)
    # At full speed one of two must boil far colder to take in as much.
    hard = _rest(in_one_line(TWO, [1], 1, fed=True), "cooling", 95, 80, 0.9)
    assert hard["indoor_coil", "temperature"] < both["indoor_coil", "temperature"] - 4


def test_a_head_that_gets_nothing_is_none_of_the_coil_that_works():
    (run,) = visited(BIG, [("cooling", [1, 2])], Wrong("closed", (1,))).runs
    line, read = line_of(BIG, run, DEFAULT_PRACTICE, "field", 101_325.0)
    assert (line.head, line.fed, line.calling) == (2, True, (1, 2))
    assert line.calling_share == pytest.approx(9 / 42)
    assert {one.station for one in read.readings} >= {"indoor_coil", "indoor_coil:1"}


def test_shares_are_by_capacity_where_every_head_states_its_own():
    assert share_calling(BIG.heads, [1, 4]) == pytest.approx(18 / 42)
    assert share_calling(TWO.heads, [1]) == 0.5
    assert share_calling(TWO.heads, None) == 1.0
    mixed = of_heads([{"label": "a", "nominal_capacity": {"value": 9_000, "unit": "Btu/h"}}, {"label": "b"}])
    assert share_calling(mixed.heads, [1]) == 0.5

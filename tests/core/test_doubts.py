"""Readings that physics contradicts are doubted; healthy ones and those of a faulty machine are not."""

import copy
import json
from itertools import product

import pytest
from CoolProp.CoolProp import PropsSI

from builders import SPLIT_UNIT, reading, visit_document
from cases import SPLIT, healthy
from icepick.core.circuit.context import run_context
from icepick.core.document.visit import parse_visit
from icepick.core.doubts import find_doubts
from icepick.core.examine import examine
from icepick.core.practice import DEFAULT_PRACTICE
from layouts import SHORT, TRUTH
from plant import saturation_psig

REFRIGERANTS = ["R-410A", "R-32", "R-454B", "R-22", "R-407C", "R-134a", "R-290", "R-513A"]


def stations(path):
    return [SHORT[stop.split(":")[0]] for stop in path.split()]


def examined(run, unit=None, **fields):
    document = visit_document(run, **fields)
    document["unit"].update(unit or {})
    return examine(parse_visit(json.dumps(document)))


def doubts_of(run, unit=None):
    document = visit_document(run)
    document["unit"].update(unit or {})
    visit = parse_visit(json.dumps(document))
    context = run_context(visit.runs[0], visit.unit, DEFAULT_PRACTICE, "field", visit.site.atmosphere)
    return {(doubt.code, tuple(doubt.stations)) for doubt in find_doubts(context)}


# Every layout with three refrigerants, every refrigerant with a third of the layouts.
PAIRS = [
    (name, one) for i, name in enumerate(TRUTH) for j, one in enumerate(REFRIGERANTS) if (i + j) % 3 == 0
]


@pytest.mark.one_in(7)
@pytest.mark.parametrize(("name", "refrigerant"), PAIRS)
def test_a_healthy_run_raises_no_doubt_over_a_grid_of_conditions(name, refrigerant):
    unit = {**TRUTH[name][0], "refrigerant": refrigerant}
    cases = [
        *(("heating", outdoor, 70) for outdoor in (5, 35, 60)),
        *(("cooling", outdoor, 77) for outdoor in (70, 95, 110)),
    ]
    for (mode, *entering), (superheat, gauges) in product(cases, ((0.5, True), (20, False))):
        made = healthy(name, mode, *entering, refrigerant, superheat=superheat)
        assert doubts_of(made.run(gauges=gauges), unit) == set(), (mode, *entering, superheat)


@pytest.fixture
def heating():
    return healthy(SPLIT, "heating", 40, 70).run(gauges=False)


@pytest.fixture
def cooling():
    return healthy(SPLIT, "cooling", 95, 77).run(gauges=False)


def change(run, **values):
    """The run with some readings replaced: a temperature, or (value, unit) for a pressure tap."""
    run = copy.deepcopy(run)
    for code, value in values.items():
        run["readings"] = [r for r in run["readings"] if r["station"] != code]
        quantity, unit = ("pressure", "psi") if code.endswith("_tap") else ("temperature", "degF")
        if isinstance(value, tuple):
            value, unit = value
        run["readings"].append(reading(code, value, quantity=quantity, unit=unit))
    return run


def value_at(run, code):
    return next(r["value"] for r in run["readings"] if r["station"] == code)


def test_a_machine_with_a_fault_is_not_doubted(heating, cooling):
    """Faults move readings in ways physics allows; none of these is a slip of the hand."""
    hotter = {code: value_at(heating, code) + 25 for code in ("common_suction", "compressor_inlet")}
    bypassing = change(heating, **hotter)
    check_shut = change(heating, indoor_meter_line_side=35, liquid_line_outdoor=34, drier_indoor_side=33)
    boiling = value_at(heating, "outdoor_meter_coil_side")
    drier_flashing = change(
        heating,
        drier_outdoor_side=boiling + 2,
        outdoor_meter_line_side=boiling + 1,
        outdoor_coil=36,
        valve_to_outdoor=38,
        common_suction=39,
    )
    starved = change(
        cooling,
        indoor_coil=74,
        valve_to_indoor=76,
        common_suction=77,
        compressor_inlet=77,
        vapor_line_indoor=76,
        vapor_line_outdoor=76,
    )
    with_air = change(cooling, discharge_tap=saturation_psig("R-410A", 128, 0))
    for run in (bypassing, check_shut, drier_flashing, starved, with_air):
        assert doubts_of(run) == set()


def test_a_unit_running_the_other_way_is_a_finding_not_a_slip(cooling):
    backwards = {**cooling, "mode": "heating"}
    assert doubts_of(backwards) == set()
    assert examined(backwards).runs[0].apparent_mode == "cooling"


def test_suction_taken_at_the_vapor_port_in_heating(heating, cooling):
    suction = saturation_psig("R-410A", 24, 1)
    expected = ("low_side_at_high_port", ("vapor_service_tap",))
    assert expected in doubts_of(change(heating, vapor_service_tap=suction))
    bare = {**heating, "readings": []}
    assert expected in doubts_of(change(bare, vapor_service_tap=suction))
    # In cooling the same port is a fine place for suction.
    assert doubts_of(change(cooling, vapor_service_tap=saturation_psig("R-410A", 46, 1))) == set()
    # A head pressure entered as suction was taken there too.
    head = saturation_psig("R-410A", 95, 1)
    assert doubts_of(change(heating, common_suction_tap=head)) == {
        ("low_side_at_high_port", ("common_suction_tap",))
    }


@pytest.mark.parametrize(
    ("changes", "code", "stations"),
    [
        ({"liquid_line_outdoor": 114}, "liquid_above_condensing", ("indoor_coil", "liquid_line_outdoor")),
        ({"discharge_line": 30}, "discharge_below_condensing", ("discharge_line", "indoor_coil")),
        ({"outdoor_coil": 52}, "evaporator_above_its_air", ("outdoor_air_in", "outdoor_coil")),
        ({"return_air": 115}, "condenser_below_its_air", ("indoor_coil", "return_air")),
    ],
)
def test_what_the_second_law_forbids(heating, changes, code, stations):
    assert (code, stations) in doubts_of(change(heating, **changes))


@pytest.mark.parametrize(
    "pair",
    [
        ("discharge_line", "common_suction"),
        ("valve_to_indoor", "valve_to_outdoor"),
        ("indoor_coil", "outdoor_coil"),
        ("discharge_line", "valve_to_outdoor"),
    ],
)
def test_two_exchanged_readings_are_named(heating, pair):
    one, other = pair
    run = change(heating, **{one: value_at(heating, other), other: value_at(heating, one)})
    swapped = [set(stations) for code, stations in doubts_of(run) if code == "swapped_stations"]
    assert swapped == [set(pair)]


def test_a_gauge_read_in_another_unit(cooling, heating):
    kilopascal = saturation_psig("R-410A", 44, 1) * 6.894757
    assert doubts_of(change(cooling, common_suction_tap=kilopascal)) == {
        ("unit_mistaken", ("common_suction_tap",))
    }
    bar = saturation_psig("R-410A", 90, 0) / 14.50377
    assert ("unit_mistaken", ("liquid_service_tap",)) in doubts_of(change(heating, liquid_service_tap=bar))
    celsius = (value_at(heating, "discharge_line") - 32) / 1.8
    assert ("unit_mistaken", ("discharge_line",)) in doubts_of(change(heating, discharge_line=celsius))


def test_how_and_where_a_reading_was_taken(cooling):
    run = change(cooling)
    for taken in run["readings"]:
        if taken["station"] in ("common_suction", "drier_indoor_side"):
            taken["method"] = "infrared"
    assert doubts_of(run) == {("infrared_on_bare_pipe", ("common_suction",))}
    early = {**cooling, "minutes_running": 3, "readings": cooling["readings"][:1]}
    assert doubts_of(early) == {("unsettled", ("discharge_line",))}
    wet = change(cooling)
    wet["readings"].append(reading("return_air", 80, quantity="wet_bulb"))
    assert doubts_of(wet) == {("wet_bulb_above_dry_bulb", ("return_air",))}
    water = change(cooling, source_water_in=60)
    assert doubts_of(water) == {("impossible_in_mode", ("source_water_in",))}


def test_no_verdict_rests_on_a_doubted_reading(heating):
    run = change(
        heating,
        discharge_line=value_at(heating, "common_suction"),
        common_suction=value_at(heating, "discharge_line"),
    )
    first = examined(run).runs[0]
    assert "fail" not in {check.status for check in first.checks}
    assert len(first.readings) == len(run["readings"]), "a doubted reading stays"


def standing(fahrenheit, psig, refrigerant="R-410A"):
    run = {
        "id": "off",
        "mode": "off",
        "readings": [
            reading("outdoor_air_in", fahrenheit, method="probe"),
            reading("common_suction_tap", psig, quantity="pressure", unit="psi", method="gauge"),
        ],
    }
    checks = examined(run, {**SPLIT_UNIT, "refrigerant": refrigerant}).runs[0].checks
    (check,) = (check for check in checks if check.code == "standing.pressure")
    return check.status, check.explain


@pytest.mark.parametrize("refrigerant", REFRIGERANTS)
def test_standing_pressure_tells_air_and_an_empty_circuit(refrigerant):
    for quality in (0, 1):
        alone = saturation_psig(refrigerant, 70, quality)
        assert standing(70, alone, refrigerant)[0] == "pass"
    status, words = standing(70, saturation_psig(refrigerant, 80, 0), refrigerant)
    assert (status, "noncondensables" in words) == ("fail", True)
    status, words = standing(70, saturation_psig(refrigerant, 50, 1), refrigerant)
    assert (status, "too low for any liquid" in words) == ("fail", True)
    assert "empty" in standing(70, -14, refrigerant)[1]


def test_a_number_that_no_pipe_has_is_doubted_by_itself(cooling, heating):
    """No R-410A is liquid above its critical temperature [CoolProp]; a discharge line of 250 °F is bad, and a fact."""
    critical = PropsSI("Tcrit", "R410A") * 1.8 - 459.67
    for run, codes in (
        (cooling, ("liquid_line_outdoor", "drier_indoor_side")),
        (heating, ("liquid_line_outdoor",)),
    ):
        for code in codes:
            assert doubts_of(change(run, **{code: 345})) == {("hotter_than_any_pipe", (code,))}
            assert not any(
                c == "hotter_than_any_pipe" for c, _ in doubts_of(change(run, **{code: critical - 6}))
            )
    alone = {
        **heating,
        "readings": [
            r
            for r in change(heating, drier_indoor_side=345)["readings"]
            if r["station"] == "drier_indoor_side"
        ],
    }
    assert doubts_of(alone) == {("hotter_than_any_pipe", ("drier_indoor_side",))}
    assert ("hotter_than_any_pipe", ("discharge_line",)) in doubts_of(change(cooling, discharge_line=330))
    assert not any(c == "hotter_than_any_pipe" for c, _ in doubts_of(change(cooling, discharge_line=250)))


@pytest.mark.parametrize("mode", ["cooling", "heating"])
def test_four_pressures_typed_into_pipes_are_recognised(mode):
    low, high = (saturation_psig("R-410A", at, 1) for at in (40, 105))
    hot, cold = ("indoor", "outdoor") if mode == "heating" else ("outdoor", "indoor")
    typed = {
        "discharge_line": high,
        f"valve_to_{hot}": high - 4,
        f"valve_to_{cold}": low + 2,
        "common_suction": low,
    }
    run = {
        "id": "r",
        "mode": mode,
        "minutes_running": 20,
        "readings": [reading(code, value) for code, value in typed.items()],
    }
    assert doubts_of(run) == {("pressure_as_temperature", tuple(typed))}

"""The chart of what a unit should do in any weather."""

import pytest

from icepick.core.document.machine import ChartAsked
from icepick.core.machine.faults import FAULTS, possible
from icepick.core.machine.weather_chart import ChartError, weather_chart
from layouts import TRUTH
from machine import duty
from solved import unit

WATER = "water to air, one two-way thermostatic valve"


def asked(of=None, mode="heating", **more):
    return ChartAsked(unit=of or unit(), mode=mode, **more)


def rows(chart, panel):
    (found,) = (one for one in chart.panels if one.name == panel)
    return found.points


@pytest.mark.parametrize("mode", ["heating", "cooling"])
@pytest.mark.parametrize("layout", [*list(TRUTH)[:2], WATER])
def test_it_goes_over_the_whole_weather_without_a_gap(layout, mode):
    chart = weather_chart(asked(unit(**TRUTH[layout][0]), mode))
    assert [panel.name for panel in chart.panels] == [
        "suction", "head", "superheat", "subcooling", "leaving", "capacity",
    ]  # fmt: skip
    for panel in chart.panels:
        outdoors = [point.outdoor for point in panel.points]
        assert len(outdoors) > 8
        assert outdoors == sorted(outdoors)
        assert all(point.low < point.value < point.high for point in panel.points), panel.name
        assert {point.with_fault for point in panel.points} == {None}
    capacity = [point.value for point in rows(chart, "capacity")]
    assert capacity == sorted(capacity, reverse=mode == "cooling")


def test_an_independent_machine_lies_in_its_band():
    """tests/machine.py is a compressor between two coils of common equipment, and knows nothing of this one."""
    chart = weather_chart(asked())
    inside = [
        point.low < 70 + duty("R-410A", "heating", point.outdoor, 70.0).indoor_change < point.high
        for point in rows(chart, "leaving")
    ]
    assert sum(inside) >= len(inside) - 1


@pytest.mark.parametrize("mode", ["heating", "cooling"])
def test_every_fault_of_a_unit_can_be_laid_over_it_from_nothing_to_all_there_is(mode):
    of = unit()
    chart = weather_chart(asked(of, mode))
    codes = [one.fault for one in FAULTS if possible(one, of, mode) and not one.backwards]
    assert [one.fault for one in chart.faults] == codes
    for one in chart.faults:
        for severity in (
            0 if one.unit == "percent" and one.fault != "active_meter_overfeeding" else one.usual,
            one.usual,
        ):
            found = weather_chart(asked(of, mode, fault=one.fault, severity=severity))
            known = [p for p in rows(found, "suction") if p.with_fault is not None]
            assert len(known) >= 0.9 * len(rows(found, "suction")), (one.fault, severity)
            if severity == 0:
                assert all(p.with_fault == pytest.approx(p.value, abs=0.3) for p in known), one.fault


def test_units_and_conditions_follow_what_is_asked():
    field, metric = weather_chart(asked()), weather_chart(asked(), "metric")
    assert (metric.outdoor_unit, rows(metric, "leaving")[0].outdoor % 2) == ("degC", 0)
    assert rows(field, "leaving")[0].outdoor % 4 == 0
    cool = {"value": 60, "unit": "degF"}
    warm, cold = rows(field, "head"), rows(weather_chart(asked(indoor=cool)), "head")
    assert all(one.value > other.value for one, other in zip(warm, cold, strict=True))
    slow = weather_chart(asked(unit(compressor={"kind": "inverter"}), speed=50))
    assert "compressor at 50 %" in slow.given
    assert rows(slow, "capacity")[8].value < 0.75 * rows(field, "capacity")[8].value


def test_what_means_nothing_is_refused_with_its_field():
    for field, why, more in (
        ("fault", "shows no source water flow low", {"fault": "source_water_flow_low"}),
        ("fault", "shows no solenoid open", {"fault": "solenoid_open"}),
        ("severity", "75 at most", {"fault": "undercharge", "severity": 90}),
        ("indoor", "40 to 90 °F", {"indoor": {"value": 20, "unit": "degF"}}),
    ):
        with pytest.raises(ChartError, match=why) as refused:
            weather_chart(asked(**more))
        assert refused.value.field == field
    target = {"cooling": {"superheat": {"value": 40, "unit": "delta_degF"}}}
    unsized = weather_chart(asked(unit(design=target)))
    assert not unsized.sized
    assert unsized.why

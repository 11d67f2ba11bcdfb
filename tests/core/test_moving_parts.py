"""The Handbook's moving parts do what such parts do: by hand for valve and devices, against CoolProp for the states."""

from itertools import pairwise
from typing import get_args

import numpy as np
import pytest
from CoolProp import CoolProp

from icepick.core.checks import CHECKS
from icepick.core.document.examination import Fault
from icepick.core.document.visit import Unit
from icepick.core.handbook.fault_pages import FAULT_PAGES
from icepick.core.handbook.fault_pictures import fault_picture
from icepick.core.handbook.moving.devices import DEVICES, DeviceHandled, device_shown
from icepick.core.handbook.moving.drier import DrierHandled, accumulator_shown, drier_shown
from icepick.core.handbook.moving.valve import ValveHandled, handled
from icepick.core.handbook.moving.walk import circuit_walk
from icepick.core.handbook.reference import played, reference_unit
from icepick.core.machine.along import along
from icepick.core.machine.stations import shown

MODES = ("heating", "cooling", "defrost")


@pytest.mark.parametrize("mode", MODES)
@pytest.mark.parametrize("refrigerant", ["R-32", "R-134a"])
def test_the_state_at_every_station_is_what_coolprop_says(refrigerant, mode):
    """Phase and temperature at the pressure and enthalpy of each, for pure refrigerants; 0.3 K as the tables allow."""
    described = reference_unit().model_dump(mode="json")
    made = played(Unit.model_validate({**described, "refrigerant": refrigerant}), mode)
    places = shown(made.machine, made.circuit.mode, made.cycle, made.conditions, made.changed)
    name = refrigerant.replace("-", "")
    for at in along(made.machine, made.circuit, made.cycle):
        # It stands where the machine says that a clamp reads.
        assert at.temperature == pytest.approx(float(np.ravel(places[at.station, "temperature"])[0]), abs=0.3)
        boils = CoolProp.PropsSI("T", "P", at.pressure, "Q", 0, name)
        if at.state == "mixture":
            assert 0 < at.amount < 1
            assert at.temperature == pytest.approx(boils, abs=0.3)
        elif at.state == "superheated_vapor":
            assert at.temperature - boils == pytest.approx(at.amount, abs=0.3)
        else:
            assert boils - at.temperature == pytest.approx(at.amount, abs=0.3)


@pytest.mark.parametrize("mode", MODES)
def test_the_walk_goes_once_round(mode):
    walk = circuit_walk(mode, "field")
    assert 20 <= len(walk.steps) <= 26
    assert [step.number for step in walk.steps] == list(range(1, len(walk.steps) + 1))
    states = [step.pipe.state for step in walk.steps if step.pipe]
    # Vapor, then both, then liquid; behind the device both, then vapor: each once.
    turns = [states[0], *(now for before, now in pairwise(states) if now != before)]
    assert turns == ["superheated_vapor", "mixture", "subcooled_liquid", "mixture", "superheated_vapor"]
    named = {step.title: step.words for step in walk.steps}
    active = "outdoor TXV" if mode == "heating" else "indoor TXV"
    assert "full drop" in named[active]
    assert all(step.words or step.pipe for step in walk.steps)


def slide(**what):
    return handled(ValveHandled(**what), "field").slide


def test_the_slide_goes_where_it_can():
    """A pilot steers, a pressure difference pushes, an end that can't bleed stays. [common practice]"""
    assert slide(energized=True) == 1
    assert slide(energized=False, stands="cooling") == -1
    assert slide(energized=True, difference="too_little") == -1
    assert slide(energized=True, plugged="left") == -1
    assert slide(energized=True, plugged="right") == 1
    assert slide(energized=False, stands="cooling", plugged="right") == 1
    assert slide(energized=False, stands="cooling", plugged="left") == -1
    assert slide(energized=True, stopped=True) == 0
    # Where it stands already it stays, whatever is wrong.
    assert slide(energized=True, stands="cooling", stopped=True, plugged="left") == 1


def test_the_four_pipes_follow_the_slide():
    def pipes(**what):
        return {one.station: one.temperature.value for one in handled(ValveHandled(**what), "field").pipes}

    heats, cools = pipes(energized=False), pipes(energized=True)
    assert heats["valve_to_indoor"] > 130 > heats["valve_to_outdoor"]
    assert cools["valve_to_outdoor"] > 130 > cools["valve_to_indoor"]
    midway, sound = (
        handled(ValveHandled(energized=True, stopped=True), "field"),
        handled(ValveHandled(energized=True), "field"),
    )
    assert midway.high.value < sound.high.value - 20
    assert midway.low.value > sound.low.value + 15
    leaks = pipes(energized=True, stopped=True)
    assert leaks["common_suction"] - leaks["valve_to_indoor"] > 5
    still = handled(ValveHandled(energized=True, difference="too_little"), "field")
    assert still.high.value - still.low.value < 15
    assert len({one.temperature.value for one in still.pipes}) == 1


@pytest.mark.parametrize("device", list(DEVICES))
def test_a_device_meters_one_way_and_lets_by_the_other(device):
    def drop(mode, trouble="none"):
        found = device_shown(DeviceHandled(device=device, mode=mode, trouble=trouble), "field")
        return found, found.before.pressure.value - found.after.pressure.value

    cools, metered = drop("cooling")
    heats, other = drop("heating")
    assert cools.active
    assert metered > 150
    if device in ("two_way_txv", "eev"):
        assert heats.active
        assert other > 150
        return
    assert not heats.active
    assert heats.round
    assert not heats.through
    assert other < 5
    # What sticks shows in the one mode only.
    shut, forced = drop("heating", "stuck_closed")
    assert shut.through
    assert not shut.round
    assert forced > 20
    assert drop("cooling", "stuck_closed")[1] == metered
    leaks, less = drop("cooling", "stuck_open")
    assert leaks.round
    assert less < metered - 20
    assert drop("heating", "stuck_open")[1] == other


def test_a_one_way_drier_lets_go_when_the_flow_turns_and_a_full_one_hides_its_drop():
    def drier(**what):
        return drier_shown(DrierHandled(**what), "field")

    assert drier(kind="one_way", mode="heating", loaded=True).lets_go
    assert not drier(kind="one_way", mode="cooling", loaded=True).lets_go
    assert not drier(kind="bi_flow", mode="heating", loaded=True).lets_go
    full = drier(kind="bi_flow", mode="heating", loaded=True)
    # Subcooled liquid shows no drop until its pressure falls to saturation. [physics; the-trade.md 4]
    assert full.drop.value > 30
    assert full.fall.value < 1
    assert full.after.state == "subcooled_liquid"
    boiling = drier(kind="bi_flow", mode="cooling", loaded=True)
    assert (boiling.after.state == "mixture") == (boiling.fall.value > 1)


def test_the_accumulator_fills_in_the_cold_alone():
    filled = {
        weather: accumulator_shown(weather, "field").filled
        for weather in ("cooling", "mild", "cold", "defrost")
    }
    assert filled["cold"] > 0.1 > filled["mild"]
    assert filled["cooling"] < 0.05


def test_every_fault_page_has_its_picture_or_says_why_not():
    drawn = {}
    for page in FAULT_PAGES:
        for mode in ("heating", "cooling"):
            found = fault_picture(page.code, mode, "field")
            assert found.words
            assert len(found.path) == len(found.sound) == len(found.faulty)
            drawn[page.code, mode] = found
    without = {
        code for code in get_args(Fault) if not any(drawn[code, m].path for m in ("heating", "cooling"))
    }
    assert without == {code for code in get_args(Fault) if code.startswith(("defrost", "head"))} | {
        "none",
        "reading_suspect",
    }
    short = drawn["undercharge", "cooling"]
    by_station = {
        s.station: (s.temperature.value, f.temperature.value)
        for s, f in zip(short.sound, short.faulty, strict=True)
    }
    sound, faulty = by_station["common_suction"]
    assert faulty > sound
    backwards = drawn["valve_in_opposite_position", "cooling"]
    ends = {f.station: f.temperature.value for f in backwards.faulty}
    assert ends["valve_to_indoor"] > ends["valve_to_outdoor"]


def test_what_is_to_be_measured_is_judged_by_a_check_there_is():
    known = {check.code for check in CHECKS}
    measures = [step.measure for mode in MODES for step in circuit_walk(mode, "field").steps if step.measure]
    measures += handled(ValveHandled(energized=True, plugged="left"), "field").measure
    measures += drier_shown(DrierHandled(), "field").measure
    for device in DEVICES:
        for trouble in ("none", "stuck_closed", "stuck_open"):
            for mode in ("cooling", "heating"):
                measures += device_shown(
                    DeviceHandled(device=device, mode=mode, trouble=trouble), "field"
                ).measure
    assert {one.check for one in measures} <= known | {""}

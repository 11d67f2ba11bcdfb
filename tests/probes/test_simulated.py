"""Probes that are not there: what they say is what the machine shows, and what can happen to them happens."""

import json

import pytest

from builders import SPLIT_UNIT, visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.machine.board import BoardSettings
from icepick.core.machine.by_coil import Weather
from icepick.core.machine.running_unit import Setup
from icepick.probes.protocol import BY_NUMBER, decode
from icepick.probes.simulated import Simulated, SimulatedProbe
from icepick.probes.transport import Heard, Lost, TransportError

CELSIUS = 273.15
UNIT = parse_visit(
    json.dumps(visit_document(unit={**SPLIT_UNIT, "nominal_capacity": {"value": 36_000, "unit": "Btu/h"}}))
).unit
AIR = CELSIUS + 7
DISCHARGE, SUCTION = ("discharge_line", "temperature"), ("common_suction", "temperature")


class Kit:
    """A unit with a kit on it, and the clock in hand."""

    def __init__(self, **given):
        self.now = 0.0
        self.probes = [
            SimulatedProbe("C1", "Clamp 1", (DISCHARGE,)),
            SimulatedProbe("C2", "Clamp 2", (SUCTION,)),
            SimulatedProbe("C3", "Clamp 3", (("outdoor_coil", "temperature"),)),
            SimulatedProbe(
                "A1", "Air 1", (("outdoor_air_in", "temperature"), ("outdoor_air_in", "relative_humidity"))
            ),
            SimulatedProbe("P1", "Gauge 1", (("discharge_tap", "pressure"),)),
        ]
        setup = Setup(Weather(AIR, 0.6), BoardSettings(method="none"))
        self.way = Simulated(UNIT, setup, self.probes, lambda: self.now, **given)
        for probe in self.probes:
            self.way.connect(probe.address)
        self.way.heard()

    def later(self, seconds):
        """What each says in the last of them; SI."""
        said = {}
        self.lost = []
        for _ in range(seconds):
            self.now += 1
            for one in self.way.heard():
                if isinstance(one, Heard):
                    said[one.address, BY_NUMBER[one.characteristic].measures] = (
                        decode(BY_NUMBER[one.characteristic], one.data),
                        one.at,
                    )
                else:
                    self.lost.append(one)
        return {key: value for key, (value, at) in said.items() if at > self.now - 1}


def test_they_say_what_the_unit_shows():
    kit = Kit(ran=1500)
    said = kit.later(61)
    shown = kit.way._machine.shown()
    assert said["C1", "temperature"] == pytest.approx(shown[DISCHARGE], abs=0.4)
    assert said["P1", "pressure"] == pytest.approx(shown["discharge_tap", "pressure"], rel=0.005)
    assert said["A1", "temperature"] == pytest.approx(AIR, abs=0.3)
    assert said["A1", "relative_humidity"] == pytest.approx(0.6, abs=0.02)
    assert shown[DISCHARGE] > shown[SUCTION] + 30


def test_a_change_of_mode_turns_the_circuit_round():
    kit = Kit(ran=1500)
    heating = kit.later(5)
    kit.way.tell("cooling")
    cooling = kit.later(900)
    assert heating["C3", "temperature"] < AIR - 3 < AIR + 3 < cooling["C3", "temperature"]
    kit.way.tell("off")
    off = kit.later(1800)
    assert off["C1", "temperature"] == pytest.approx(AIR, abs=1.5)
    # At rest both pressures are that of liquid in the coldest place: 7 °C, 9.93 bar of R-410A. [tables of properties, from
    # memory to 0.1 bar]
    assert off["P1", "pressure"] == pytest.approx(9.93e5, rel=0.02)


def test_a_forced_defrost_warms_the_coil_and_ends():
    kit = Kit(ran=1500)
    before = kit.later(5)["C3", "temperature"]
    kit.way.force_defrost()
    warmest = max(kit.later(10)["C3", "temperature"] for _ in range(30))
    assert warmest > before + 8
    assert not kit.way.defrosting


def test_what_can_happen_to_a_probe():
    kit = Kit(ran=1500)
    sound = kit.later(5)
    kit.way.make("C1", "fell_off")
    kit.way.make("C2", "wrong_pipe")
    kit.way.make("C3", "silent")
    kit.way.make("A1", "battery_low")
    said = kit.later(61)
    assert said["C1", "temperature"] == pytest.approx(AIR, abs=0.4), "hangs in the air outdoors"
    assert abs(said["C2", "temperature"] - sound["C2", "temperature"]) > 3
    assert kit.lost == [Lost("C3")]
    assert ("C3", "temperature") not in said
    assert kit.probes[3].battery < 0.1
    for address in ("C1", "C2", "C3"):
        kit.way.make(address, "none")
    well = kit.later(90)
    for key in (("C1", "temperature"), ("C2", "temperature"), ("C3", "temperature")):
        assert well[key] == pytest.approx(sound[key], abs=0.8)
    with pytest.raises(TransportError, match="no probe 'C9'"):
        kit.way.make("C9", "silent")


def test_one_out_of_reach_drops_its_connection_and_comes_back():
    kit = Kit(ran=60)
    kit.probes[0].drops = 0.05
    heard = []
    for _ in range(300):
        heard.append(("C1", "temperature") in kit.later(1))
    assert 0.2 < sum(heard) / len(heard) < 0.95
    assert heard[-100:].count(True) > 10
    kit.way.disconnect("C2")
    assert ("C2", "temperature") not in kit.later(3)

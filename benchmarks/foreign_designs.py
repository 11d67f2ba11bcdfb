"""Designs drawn as real units differ (the-trade.md 12), charged and set up by somebody, read with instruments that are off.

Nothing here is taken from the product's own spreads. [common practice, from memory]
"""

from __future__ import annotations

import random
import sys
from dataclasses import dataclass, field, replace
from math import sqrt
from pathlib import Path
from typing import Any

import numpy as np

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parent)]
from foreign_machine import (
    AIR_HEAT,
    Air,
    Coil,
    Design,
    Device,
    Machine,
    NoRestError,
    ratio_of,
    sized,
)

from builders import SPLIT_UNIT
from icepick.core.properties.moist_air import wet_bulb
from icepick.core.properties.states import states
from layouts import SHORT, TRUTH, path_of

PSI, TON, F = 6894.757, 3516.85, 5 / 9
WATER_HEAT = 4.187e6
MODES = ("cooling", "heating")


def kelvin(fahrenheit: float) -> float:
    return (fahrenheit - 32) * F + 273.15


def fahrenheit(of: float) -> float:
    return (of - 273.15) / F + 32


@dataclass(frozen=True)
class Unit:
    """A design, its description as a visit holds it, and where it was set up."""

    design: Design
    described: dict[str, Any]
    number: int


def _tri(chance: random.Random, low: float, high: float, usual: float) -> float:
    return chance.triangular(low, high, usual)


def _coil(chance: random.Random, side: str, medium: str, capacity: float, ductless: bool, psi: float) -> Coil:
    tons = capacity / TON
    if medium == "water":
        gpm = _tri(chance, 2.0, 3.3, 2.8) * tons
        carries, volume, exponent = gpm * 6.309e-5 * WATER_HEAT, chance.uniform(0.4, 0.9), 0.8
        distributor = chance.uniform(0.3, 2) * psi
    else:
        cfm = (_tri(chance, 280, 480, 385) if side == "indoor" else chance.uniform(650, 1200)) * tons
        carries, volume, exponent = (
            cfm * 4.719e-4 * 1.19 * AIR_HEAT,
            chance.uniform(0.7, 1.6),
            chance.uniform(0.4, 0.75),
        )
        kind = chance.random()
        distributor = (
            chance.uniform(20, 35)
            if kind < 0.25
            else chance.uniform(5, 15)
            if kind < 0.75
            else chance.uniform(1, 5)
        )
        distributor = (chance.uniform(1, 5) if ductless else distributor) * psi
    conductance = capacity / 8
    air_share = chance.uniform(0.35, 0.65)
    return Coil(
        medium,
        carries,
        conductance / air_share,
        conductance / (1 - air_share),
        exponent,
        chance.uniform(0.2, 0.7),
        chance.uniform(0.15, 0.35),
        chance.uniform(0.3, 0.6),
        volume * 1e-3 * tons,
        chance.uniform(1, 6) * psi,
        distributor,
        _tri(chance, 0.5, 1.0, 0.72) if (side, medium) == ("outdoor", "air") else 1.0,
        chance.uniform(0.2, 0.5) * (carries / (4.719e-4 * 1.19 * AIR_HEAT))
        if (side, medium) == ("indoor", "air")
        else 0.0,
    )


def _device(chance: random.Random, kind: str, at_common: bool) -> Device:
    if kind == "eev":
        return Device(
            "eev",
            1e-6,
            _tri(chance, 2, 12, 6) * F,
            chance.uniform(1, 3) * F,
            chance.uniform(1.6, 3.0),
            0.0,
            at_common,
            2.0,
        )
    if kind == "txv":
        held = _tri(chance, 3, 18, 9) * F
        drift = chance.uniform(-0.02, 0.12)
        return Device(
            "txv",
            1e-6,
            held,
            chance.uniform(3, 8) * F,
            chance.uniform(1.3, 2.0),
            drift,
            at_common,
            chance.uniform(0.3, 0.7),
        )
    return Device(kind, 1e-6, 0.0, 1.0, 1.0, 0.0, False, chance.uniform(0.8, 1.1))


TRIES = 12
MET = {"R-410A": 8, "R-32": 3, "R-454B": 3, "R-22": 2, "R-407C": 2, "R-290": 1, "R-134a": 1, "R-513A": 0.5}
"""How often each refrigerant is met. [from memory]"""


def _psi(refrigerant: str) -> float:
    """A psi of R-410A [Pa]: what costs as many kelvins of saturation in another refrigerant."""
    slopes = [
        states(name).slope(float(states(name).saturation_pressure(np.array(280.0), "dew")))
        for name in (refrigerant, "R-410A")
    ]
    return PSI * slopes[0] / slopes[1]


def drawn(number: int) -> Unit | None:
    """The design of a number: always the same one. None where no such thing is built in a dozen tries."""
    tried = (_tried(number, random.Random(f"foreign {number} {k}")) for k in range(TRIES))
    return next((one for one in tried if one is not None), None)


def _tried(number: int, chance: random.Random) -> Unit | None:
    layout = list(TRUTH)[number % len(TRUTH)]
    described: dict[str, Any] = {**SPLIT_UNIT, **TRUTH[layout][0]}
    refrigerant = chance.choices(*zip(*MET.items(), strict=True))[0]
    tons = chance.choice((1.5, 2, 2.5, 3, 3.5, 4, 5))
    capacity = tons * TON * chance.uniform(0.92, 1.08)
    ductless, packaged = described["layout"] == "ductless", described["layout"] == "packaged"
    length = 1.5 if packaged else chance.uniform(15, 75) * 0.3048
    meters = {}
    for mode in MODES:
        side = TRUTH[layout][2 if mode == "cooling" else 4][0]
        kind = described[f"{side}_meter"]["kind"]
        at_common = kind in ("txv", "eev") and not (side == "indoor" and described["layout"] == "split")
        meters[mode] = (side, _device(chance, kind, at_common))
    one_device = meters["cooling"][0] == meters["heating"][0]
    devices = {
        "cooling": meters["cooling"][1],
        "heating": (meters["cooling"] if one_device else meters["heating"])[1],
    }
    idles = {mode: TRUTH[layout][2 if mode == "cooling" else 4][1] is not None for mode in MODES}
    psi = _psi(refrigerant)
    ratio_at = chance.uniform(2.2, 3.3)
    design = Design(
        layout, refrigerant, capacity,
        _coil(chance, "indoor", described["load"], capacity, ductless, psi),
        _coil(chance, "outdoor", described["source"], capacity, ductless, psi),
        devices, idles,
        displacement=capacity / 1.6e5 / 25,
        filling=(chance.uniform(0.92, 1.0), chance.uniform(0.015, 0.05)),
        efficiency=(_tri(chance, 0.54, 0.76, 0.67), chance.uniform(0.01, 0.04), ratio_at),
        lost_share=chance.uniform(0.02, 0.18),
        slip=chance.uniform(0.15, 0.45),
        suction_loss=chance.uniform(0.7, 4) * psi,
        vapor_loss=(chance.uniform(0.2, 0.8) if packaged else chance.uniform(0.06, 0.12) * length / 0.3048 * 0.6) * psi,
        liquid_loss=(0.5 if packaged else chance.uniform(0.05, 0.2) * length / 0.3048 * 0.5) * psi,
        discharge_loss=chance.uniform(1, 4) * psi,
        condenser_loss=chance.uniform(1, 7) * psi,
        vapor_line=length * 0.26 * chance.uniform(0.5, 2.0) * sqrt(tons / 3),
        liquid_line=length * chance.uniform(0.15, 0.45),
        vapor_volume=length * 0.29e-3 * tons / 3, liquid_volume=length * 0.05e-3 * sqrt(tons / 3),
        accumulator=(chance.random() < 0.75) * chance.uniform(0.5, 1.2) * 1e-3 * tons,
        valve=_tri(chance, 0.3, 3, 1.1) * tons / 3,
        amps_per_watt=1.0, head_control=chance.random() < 0.3, uneven=chance.uniform(0.03, 0.25),
    )  # fmt: skip
    water, load_water = design.outdoor.medium == "water", design.indoor.medium == "water"
    outdoor = kelvin(77 if water else 95)
    indoor = kelvin(53.6 if load_water else 80)
    at = Air(outdoor, indoor, ratio_of(outdoor, 0.4), ratio_of(indoor, 0.51))
    over = _tri(chance, 8, 22, 14) if water else _tri(chance, 12, 30, 21)
    under = _tri(chance, 8, 18, 12) if load_water else _tri(chance, 26, 40, 32)
    orifice = devices["cooling"].kind in ("piston", "capillary")
    held = (
        chance.uniform(9, 16) * F
        if orifice
        else devices["cooling"].superheat + devices["cooling"].drift * (indoor - under * F - 280)
    )
    target = _tri(chance, 6, 14, 9) * F
    hot = outdoor + max(over * F, target + 2)
    try:
        made = sized(design, at, indoor - under * F, hot, min(max(held, 1.0), (under - 4) * F), target)
        made = _charged(made, chance, at, target, orifice)
        made = _for_heating(made, chance, one_device)
        rated = Machine(made, "cooling", at)
        rated.settled()
        if not _would_be_sold(made):
            return None
    except NoRestError:
        return None
    share = chance.uniform(0.55, 0.85)
    watts = rated.memo["power"]
    made = replace(made, amps_per_watt=1 / 230 / chance.uniform(0.85, 0.98))
    described |= {"label": f"Foreign {number}", "refrigerant": refrigerant}
    described["nominal_capacity"] = {"value": round(tons * 12_000), "unit": "Btu/h"}
    described["compressor"] = {"kind": "single"}
    if chance.random() < 0.6:
        described["compressor"]["rated_current"] = {
            "value": round(watts * made.amps_per_watt / share, 1),
            "unit": "A",
        }
    if not orifice and chance.random() < 0.5:
        described["design"] = {"cooling": {"subcooling": {"value": round(target / F), "unit": "delta_degF"}}}
    described["reversing_valve"] = {"energized_in": "cooling"}
    described["accumulator"] = made.accumulator > 0
    if water:
        described["defrost"] = {"method": "none"}
    return Unit(made, described, number)


def air_at(
    one: Design,
    mode: str,
    outdoor: float,
    indoor: float,
    humidity: float = 0.7,
    inside: float = 0.5,
    speed: float = 1.0,
) -> Air:
    """What enters its coils [°F], with relative humidities."""
    out, room = kelvin(outdoor), kelvin(indoor)
    damp = 0.0 if one.outdoor.medium == "water" else ratio_of(out, humidity)
    return Air(out, room, damp, 0.0 if one.indoor.medium == "water" else ratio_of(room, inside), speed)


def _would_be_sold(one: Design) -> bool:
    """Whether it works in mild and cold weather as a manufacturer would let it: neither flooding nor starving its compressor,
    nor overheating it."""
    water, load_water = one.outdoor.medium == "water", one.indoor.medium == "water"
    if one.devices["cooling"].kind in ("piston", "capillary"):
        machine = Machine(
            one, "cooling", air_at(one, "cooling", 77 if water else 90, 54 if load_water else 78, 0.5, 0.5)
        )
        machine.settled()
        if not -1 * F < machine.memo["dryness"] < 22 * F:
            return False
    for outdoor, floods, starves in ((47, 12, 12), (10, 25, 25)):
        machine = Machine(
            one,
            "heating",
            air_at(one, "heating", 45 if water else outdoor, 100 if load_water else 70, 0.7, 0.4),
        )
        machine.settled()
        made = machine.memo
        if (
            made["dryness"] < -floods * F
            or made["cold_out"] < -starves * F
            or made["t_discharge"] > kelvin(225)
        ):
            return False
        if made["taken"] / one.capacity < (0.45 if outdoor == 47 else 0.25):
            return False
    return True


def _charged(one: Design, chance: random.Random, at: Air, target: float, orifice: bool) -> Design:
    """Charged in cooling on some day by somebody's gauge: to the subcooling, or with an orifice to the superheat, of a
    chart."""
    outdoor = at.outdoor if one.outdoor.medium == "water" else kelvin(chance.uniform(76, 98))
    day = replace(at, outdoor=outdoor, indoor=at.indoor - (3 * F if one.indoor.medium == "air" else 0))
    off = chance.gauss(0, 1.5) * F
    if orifice:
        wet = 64
        chart = (
            max((3 * wet - 80 - fahrenheit(outdoor if one.outdoor.medium == "air" else kelvin(90))) / 2, 5)
            * F
        )
        machine = Machine(one, "cooling", day, instead={4: ("dryness", chart + off)})
    else:
        machine = Machine(one, "cooling", day, instead={4: ("cold_out", max(target + off, 1))})
    machine.settled()
    return replace(one, charge=machine.memo["charge"])


def _for_heating(one: Design, chance: random.Random, one_device: bool) -> Design:
    """The device of the other mode, as its manufacturer chose it: a valve whose size about fits, an orifice that feeds the
    coil in mild weather."""
    heating = one.devices["heating"]
    water, load_water = one.outdoor.medium == "water", one.indoor.medium == "water"
    outdoor, indoor = kelvin(50 if water else 47), kelvin(104 if load_water else 70)
    at = Air(outdoor, indoor, ratio_of(outdoor, 0.72), ratio_of(indoor, 0.4))
    if one_device:
        return one
    if heating.kind in ("piston", "capillary"):
        held = chance.uniform(1, 9) * F
    else:
        held = heating.superheat + heating.drift * (outdoor - 9 - 280)
    cooling = one.devices["cooling"]
    trial = replace(one, devices={**one.devices, "heating": replace(heating, area=0.8 * cooling.area)})
    machine = Machine(
        trial, "heating", at, instead={1: ("dryness" if not heating.at_common else "felt", max(held, 0.5))}
    )
    machine.settled()
    area = machine.memo["area_for"]
    if heating.kind not in ("piston", "capillary"):
        area *= machine.memo["opening"] * chance.uniform(0.85, 1.25)
    else:
        area *= machine.memo["opening"]
    devices = {**one.devices, "heating": replace(heating, area=area)}
    return replace(one, devices=devices)


@dataclass
class Tools:
    """Instruments, each off by something of its own."""

    chance: random.Random
    clamp: float = field(init=False)
    gauge: float = field(init=False)
    contact: float = field(init=False)

    def __post_init__(self) -> None:
        self.clamp, self.gauge = self.chance.gauss(0, 0.3), self.chance.gauss(0, 0.004)
        self.contact = abs(self.chance.gauss(0, 0.01))

    def line(self, temperature: float, ambient: float) -> float:
        shown = temperature + self.contact * (ambient - temperature)
        return fahrenheit(shown) + self.clamp + self.chance.gauss(0, 0.5)

    def air(self, temperature: float, spread: float = 0.4) -> float:
        return fahrenheit(temperature) + self.chance.gauss(0, spread)

    def pressure(self, absolute: float) -> float:
        psig = (absolute - 101_325) / PSI
        return psig * (1 + self.gauge) + self.chance.gauss(0, 0.7)


def readings(machine: Machine, tools: Tools) -> list[dict[str, Any]]:
    """Every reading of a machine at rest, taken with some instruments."""
    made, one, fluid = machine.memo, machine.design, machine.fluid

    def at(pressure: float, enthalpy: float) -> float:
        return float(fluid.at(np.array(pressure), np.array(enthalpy))[0])

    cooling = machine.cooling
    path = path_of(one.layout, machine.mode)
    codes = [stop.split(":") for stop in TRUTH[one.layout][1 if cooling else 3].split()]
    state = {SHORT[code]: kind for code, kind in codes}
    hot_port, return_port = (
        ("valve_to_outdoor", "valve_to_indoor") if cooling else ("valve_to_indoor", "valve_to_outdoor")
    )
    hot_coil, cold_coil = ("outdoor_coil", "indoor_coil") if cooling else ("indoor_coil", "outdoor_coil")
    places = {
        "discharge_line": made["t_discharge"], "common_suction": made["t_suction"], "compressor_inlet": made["t_suction"],
        hot_port: at(made["p_hot_port"], made["h_hot"]), return_port: at(made["vapor_port"], made["h_return"]),
        hot_coil: made["t_cond"], cold_coil: made["t_boil"],
    }  # fmt: skip
    if cooling:
        places |= {
            "vapor_line_indoor": made["t_out"],
            "vapor_line_outdoor": at(made["vapor_port"], made["h_return"]),
        }
    else:
        places |= {"vapor_line_outdoor": places[hot_port], "vapor_line_indoor": at(made["pc"], made["h_in"])}
    liquid = [code for code in path if state.get(code) == "HL"]
    mixture = [code for code in path if state.get(code) == "LM" and code not in (hot_coil, cold_coil)]
    idle_past = False
    first_idle = SHORT["OMC"] if cooling else SHORT["IMC"]
    # The line set lies on the indoor side of the outdoor end of the liquid line.
    line_seen = "liquid_line_outdoor" not in liquid
    for code in liquid:
        if code == first_idle or (not idle_past and not one.idles[machine.mode]):
            pressure, enthalpy = made["starts"], made["h_liquid"]
        else:
            pressure, enthalpy = made["before_line"], made["h_liquid"]
        if code == first_idle:
            idle_past = True
        if line_seen and not (not cooling and code.startswith("indoor")):
            pressure, enthalpy = made["arrives"], made["h_arrives"]
        places[code] = at(pressure, enthalpy)
        if (cooling and code == "liquid_line_outdoor") or (not cooling and code == "indoor_meter_line_side"):
            line_seen = True
    for code in mixture:
        places[code] = at(made["behind"], made["h_arrives"])
    ambient = {code: machine.air.indoor if "indoor" in code else machine.air.outdoor for code in places}
    known = {SHORT[code] for code, _ in codes} | {"compressor_inlet"}
    found = [
        _reading(c, "temperature", tools.line(t, ambient[c]), "degF", "clamp")
        for c, t in places.items()
        if c in known
    ]
    taps = {"common_suction_tap": made["p_suction"], "discharge_tap": made["p_discharge"]}
    if "liquid_line_outdoor" in liquid:
        there = made["before_line"] if cooling else made["arrives"]
        taps["liquid_service_tap"] = there
    if one.layout.startswith(("split", "ductless")):
        taps["vapor_service_tap"] = made["vapor_port"] if cooling else made["p_hot_port"]
    found += [_reading(c, "pressure", tools.pressure(p), "psi", "gauge") for c, p in taps.items()]
    amps = made["power"] * one.amps_per_watt
    found.append(_reading("compressor", "current", amps * (1 + tools.chance.gauss(0, 0.01)), "A", "meter"))
    water, load_water = one.outdoor.medium == "water", one.indoor.medium == "water"
    warms, cools = made["given"] / made["carries"], made["sensible"] / made["carries_cold"]
    outdoor, indoor = (warms, -cools) if cooling else (-cools, warms)
    fan = one.indoor.fan / (one.indoor.carries * machine.sick.indoor_flow)
    entering = "source_water" if water else "outdoor_air"
    inside = "load_water" if load_water else None
    inner = (f"{inside}_in", f"{inside}_out") if inside else ("return_air", "supply_air")
    for code, temperature, spread in (
        (f"{entering}_in", machine.air.outdoor, 0.4),
        (f"{entering}_out", machine.air.outdoor + outdoor, 0.4 if water else 1.2),
        (inner[0], machine.air.indoor, 0.4),
        (inner[1], machine.air.indoor + indoor + fan, 0.4 if inside else 1.0),
    ):
        found.append(_reading(code, "temperature", tools.air(temperature, spread), "degF", "probe"))
    if inside is None:
        wet = wet_bulb(machine.air.indoor, machine.air.indoor_ratio, 101_325.0)
        found.append(_reading("return_air", "wet_bulb", tools.air(wet, 0.6), "degF", "probe"))
    return found


def _reading(station: str, quantity: str, value: float, unit: str, method: str) -> dict[str, Any]:
    return {
        "station": station,
        "quantity": quantity,
        "value": round(value, 1),
        "unit": unit,
        "method": method,
    }

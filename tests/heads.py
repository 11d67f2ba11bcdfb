"""Visits to units with several heads. What the heads share is a machine of other laws (tests/other_laws.py), its indoor coil
that of the heads that are fed; what each head shows beside it is worked out here by hand, as nobody's model has it:

In cooling a head that is fed is as cold as the coil, give or take; an idle one is as warm as the air around its pipes; one
whose valve leaks is cold where liquid comes in and warm where little gas leaves. In heating an idle head's valve bleeds: its
coil and its liquid stand somewhere between; a shut one cools out; one that leaks lets liquid go nearly as hot as it
condensed. [physics; the shares are our own choice]
"""

from __future__ import annotations

import json
import random
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from builders import reading, visit_document
from icepick.core.circuit.graph import stations_of_unit
from icepick.core.document.heads import share_calling
from icepick.core.document.visit import Unit, Visit, parse_visit
from icepick.core.machine.coil import BOILING_EXPONENT
from icepick.core.machine.faults import machine_fault
from icepick.core.machine.parts import Machine
from icepick.core.machine.sizing import size
from icepick.core.machine.variation import AT_REST, Variation
from layouts import EEV, NONE, kind
from other_laws import other_laws
from played import Draw, Weather, played
from solved import unit

PARTS = kind("ductless", NONE, EEV)
TWO = [{"label": "reading room"}, {"label": "office"}]
FIVE = [
    {"label": "hall", "nominal_capacity": {"value": 12_000, "unit": "Btu/h"}},
    {"label": "galley", "nominal_capacity": {"value": 9_000, "unit": "Btu/h"}},
    {"label": "loft", "nominal_capacity": {"value": 9_000, "unit": "Btu/h"}},
    {"label": "store", "nominal_capacity": {"value": 6_000, "unit": "Btu/h"}},
    {"label": "porch", "nominal_capacity": {"value": 6_000, "unit": "Btu/h"}},
]


def of_heads(heads: Sequence[dict[str, Any]] = TWO, **changes: Any) -> Unit:
    """An inverter of three tons on several heads."""
    compressor = {"kind": "inverter", "rated_current": {"value": 14, "unit": "A"}}
    made = {"refrigerant": "R-410A", "accumulator": True, "compressor": compressor, **changes}
    return unit(**{**PARTS, "heads": list(heads), **made})


@dataclass(frozen=True)
class Wrong:
    """What is wrong with some heads: ``what`` is leaking, closed, lines or wires."""

    what: str = ""
    heads: tuple[int, ...] = ()

    def exchanged(self, head: int) -> int:
        return next(iter(set(self.heads) - {head})) if head in self.heads else head


def headed(
    made: Unit,
    runs: Sequence[tuple[str, Sequence[int]]],
    wrong: Wrong | None = None,
    shared: tuple[str, float] | None = None,
    seed: int = 1,
    weather: dict[str, Weather] | None = None,
) -> dict[str, Any]:
    """A visit document with a run for each mode and the heads called in it, everything read."""
    chance = random.Random(seed)
    draw = Draw.of(chance, 0.7)
    around = weather or {"cooling": Weather(92, 76, 0.5, 0.5, 0.8), "heating": Weather(40, 69, speed=0.7)}
    found = []
    for place, (mode, calling) in enumerate(runs, 1):
        run = _Run(made, mode, tuple(calling), wrong or Wrong(), around[mode], chance)
        found.append({**run.read(draw, shared), "id": f"run-{place}"})
    document = visit_document(*found)
    document["unit"] = made.model_dump(mode="json", exclude_none=True)
    return document


def visited(*args: Any, **more: Any) -> Visit:
    return parse_visit(json.dumps(headed(*args, **more)))


def only(visit: Visit, *stations: str) -> Visit:
    """By some readings alone; ``indoor_coil`` stands for that of every head."""
    runs = [
        run.model_copy(
            update={
                "readings": [
                    one
                    for one in run.readings
                    if one.station in stations or one.station.partition(":")[0] in stations
                ]
            }
        )
        for run in visit.runs
    ]
    return visit.model_copy(update={"runs": runs})


@dataclass
class _Run:
    made: Unit
    mode: str
    calling: tuple[int, ...]
    wrong: Wrong
    weather: Weather
    chance: random.Random

    def read(self, draw: Draw, shared: tuple[str, float] | None) -> dict[str, Any]:
        line = self.made.model_copy(update={"heads": None})
        fed = [n for n in self.numbers if self.fed(n, outdoors=True)]
        # With every EEV shut little gets through anywhere: as one line whose device is nearly shut.
        share = share_calling(self.made.heads or [], fed or None)
        shared = shared if fed else ("active_meter_underfeeding", 90.0)
        held = Variation(charge=self.chance.uniform(0.95, 1.05))
        fault = machine_fault(shared[0]) if shared else None  # type: ignore[arg-type]
        knobs = draw.variation(line, self.mode).and_also(held)
        knobs = knobs.and_also(fault.effect(shared[1]) if fault and shared else AT_REST)
        if self.wrong.what == "wires" and not set(fed) & set(self.calling):
            # The fan of a head that does not call stands still.
            knobs = knobs.and_also(Variation(indoor_flow=0.6))
        speed = self.weather.speed * (0.15 + 0.85 * share)
        with other_laws():
            around = [Weather(**{**vars(self.weather), "speed": speed})]
            (run,) = played(line, self.mode, around, [knobs], self.chance, _with_coil_of(line, share))
        assert run is not None, "the machine comes to no rest"
        line_of = {
            one["station"]: one["value"] for one in run["readings"] if one["quantity"] == "temperature"
        }
        known = set(stations_of_unit(self.made))
        kept = [one for one in run["readings"] if one["station"] in known]
        kept += [one for n in self.numbers for one in self.head(n, line_of)]
        run.pop("compressor_speed", None)
        return {**run, "heads_calling": list(self.calling), "readings": kept}

    @property
    def numbers(self) -> range:
        return range(1, len(self.made.heads or ()) + 1)

    def fed(self, head: int, *, outdoors: bool) -> bool:
        """Whether refrigerant is meant to run at a head's port, or in its room."""
        swapped = self.wrong.what == "wires" or (self.wrong.what == "lines" and not outdoors)
        calls = (self.wrong.exchanged(head) if swapped else head) in self.calling
        return calls and not (self.wrong.what == "closed" and head in self.wrong.heads)

    def head(self, head: int, line: dict[str, float]) -> list[dict[str, Any]]:
        leaks = self.wrong.what == "leaking" and head in self.wrong.heads and head not in self.calling
        room = self.weather.indoor + self.chance.uniform(-2, 2)
        # Between the outdoor unit's panels it is a little warmer than the air that enters it.
        out = self.weather.outdoor + self.chance.uniform(0, 3)
        make = self.cold if self.mode == "cooling" else self.hot
        own = self.chance.gauss(0, 1.5)
        ports = make(line, out, room, own, head, fed=self.fed(head, outdoors=True), leaks=leaks)
        rooms = make(line, out, room, own, head, fed=self.fed(head, outdoors=False), leaks=leaks)
        blows = head in self.calling
        supply = rooms["supply_air"] if blows else room + self.chance.uniform(-0.5, 0.5)
        found = {code: ports[code] for code in _PORTS} | {code: rooms[code] for code in _ROOMS}
        found |= {"return_air": room, "supply_air": supply}
        return [
            reading(f"{code}:{head}", round(value + self.chance.gauss(0, 0.5), 1))
            for code, value in found.items()
        ]

    def cold(
        self,
        line: dict[str, float],
        out: float,
        room: float,
        own: float,
        head: int,
        *,
        fed: bool,
        leaks: bool,
    ) -> dict[str, float]:
        boils, entering = line["indoor_coil"], self.chance.uniform
        liquid = line["outdoor_meter_coil_side"]
        if fed:
            gas = line["vapor_line_outdoor"] + own
            cooled = (line["return_air"] - line["supply_air"]) * (room - boils) / (line["return_air"] - boils)
            return {
                "outdoor_meter_coil_side": liquid,
                "outdoor_meter_line_side": boils + entering(0, 3),
                "liquid_line_outdoor": boils + entering(0, 3),
                "indoor_coil": boils + entering(-1, 1),
                "vapor_line_indoor": gas - entering(0, 2),
                "vapor_line_outdoor": gas,
                "supply_air": room - cooled * entering(0.85, 1.15),
            }
        inlet, coil, outlet = (
            (entering(0.7, 0.95), entering(0.4, 0.9), entering(0, 0.6)) if leaks else (0, 0, 0)
        )
        return {
            "outdoor_meter_coil_side": liquid - entering(0, 4),
            "outdoor_meter_line_side": out - inlet * (out - boils),
            "liquid_line_outdoor": out - inlet * (out - boils),
            "indoor_coil": room - coil * (room - boils),
            "vapor_line_indoor": room - outlet * (room - boils),
            "vapor_line_outdoor": out - outlet * (out - boils),
            "supply_air": room,
        }

    def hot(
        self,
        line: dict[str, float],
        out: float,
        room: float,
        own: float,
        head: int,
        *,
        fed: bool,
        leaks: bool,
    ) -> dict[str, float]:
        condenses, gas, between = line["indoor_coil"], line["vapor_line_outdoor"], self.chance.uniform
        liquid, low = line["liquid_line_outdoor"], line["outdoor_meter_coil_side"]
        if fed:
            heated = (line["supply_air"] - line["return_air"]) * (condenses - room)
            left = liquid + own
            return {
                "outdoor_meter_coil_side": low,
                "outdoor_meter_line_side": left,
                "liquid_line_outdoor": left,
                "indoor_coil": condenses + between(-1, 1),
                "vapor_line_indoor": gas - between(0, 4),
                "vapor_line_outdoor": gas,
                "supply_air": room + heated / (condenses - line["return_air"]) * between(0.85, 1.15),
            }
        if leaks:
            left, coil, inlet = condenses - between(1, 5), condenses, gas - between(2, 6)
        elif self.chance.random() < 0.2:
            left, coil, inlet = out + between(0, 3), room + between(0, 2), out + between(3, 12)
        else:
            bleeds = not (self.wrong.what == "closed" and head in self.wrong.heads)
            left = out + (liquid - out) * (between(0.15, 0.6) if bleeds else between(0, 0.08))
            coil = room + (condenses - room) * (between(0.2, 0.6) if bleeds else between(0, 0.08))
            inlet = out + (gas - out) * (between(0.3, 0.8) if bleeds else between(0.02, 0.1))
        return {
            "outdoor_meter_coil_side": low,
            "outdoor_meter_line_side": left,
            "liquid_line_outdoor": left,
            "indoor_coil": coil,
            "vapor_line_indoor": inlet - between(0, 3),
            "vapor_line_outdoor": inlet,
            "supply_air": room,
        }


def _with_coil_of(line: Unit, share: float) -> Machine:
    """The machine, with the indoor coil and the lines of one of so much of its capacity."""
    whole = line.nominal_capacity
    assert whole is not None
    part = line.model_copy(
        update={"nominal_capacity": whole.model_copy(update={"value": whole.value * share})}
    )
    machine, small = size(line), size(part)
    # Inside a coil conductance grows with the flow for its size: this one has as much of it as the compressor moves.
    inside = small.indoor.inside * share**-BOILING_EXPONENT
    loss = machine.lines.vapor_loss / share**2
    return replace(
        machine,
        indoor=replace(small.indoor, inside=inside, volume=machine.indoor.volume),
        lines=replace(machine.lines, vapor_loss=loss, vapor_conductance=small.lines.vapor_conductance),
    )


_PORTS = ("outdoor_meter_coil_side", "outdoor_meter_line_side", "liquid_line_outdoor", "vapor_line_outdoor")
_ROOMS = ("indoor_coil", "vapor_line_indoor")

"""Visits of machines drawn from the spreads: one fault or none, one or both modes, read thinly, as a service call is, or in
full; some of machines whose refrigerant and compressor keep other laws than the product's own.
"""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parents[1] / "tests" / "core")]
from healthy import drawn_weather

from builders import visit_document
from icepick.core.circuit.graph import build_circuit
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.visit import Unit, parse_visit
from icepick.core.machine.expected import unknown_of
from icepick.core.machine.faults import FAULTS, MachineFault, machine_fault, possible
from icepick.core.machine.unknowns import CHARGE
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties.refrigerants import REFRIGERANTS
from layouts import TRUTH
from other_laws import other_laws
from played import Weather, played
from solved import unit

# Half-widths of what machines of one nameplate differ by, each drawn evenly within; what is not here is drawn from the
# product's own spread. °F for the superheat a valve holds, shares for the others.
SPREADS = {
    "displacement": 0.07,
    "indoor_conductance": 0.15,
    "outdoor_conductance": 0.15,
    "indoor_flow": 0.10,
    "outdoor_flow": 0.10,
    "charge": 0.05,
    "superheat_shift": 2 / 1.8,
    "opening": 0.08,
}
OF_ONE_MODE = {"active_meter_underfeeding", "active_meter_overfeeding", "bypass_stuck_closed"}
SOUND = 0.3
READ = ("thin", "service", "full")


ICE_UP_TO = 45.0
"""Warmer outdoor air melts it [°F]. [common practice]"""


@dataclass
class DrawnVisit:
    """A visit, and what is true of it."""

    document: dict[str, Any]
    layout: str
    modes: tuple[str, ...]
    read: str
    law: str
    fault: str
    severity: float
    weather: dict[str, Weather] = field(default_factory=dict)
    earlier: dict[str, Any] | None = None
    place: str | None = None


def _deviation(one, mode: str, off: dict[str, float], chance: random.Random) -> Variation:
    # Each mode's metering device is a part of its own.
    name = f"{one.name} {mode}" if one.name in ("opening", "superheat_shift") else one.name
    if name not in off:
        spread = SPREADS.get(one.name)
        off[name] = chance.gauss(0, 1) if spread is None else chance.uniform(-1, 1) * spread / one.spread
    return one.at(off[name])


def _machine(one: Unit, mode: str, off: dict[str, float], chance: random.Random) -> Variation:
    found = AT_REST
    for unknown in sorted(unknown_of(one, mode), key=lambda u: u.name != CHARGE):
        found = found.and_also(_deviation(unknown, mode, off, chance))
    return found


def _entering(one: Unit) -> set[tuple[str, str]]:
    outdoors = "outdoor_air_in" if one.source == "air" else "source_water_in"
    return {
        (outdoors, "temperature"),
        ("return_air" if one.load == "air" else "load_water_in", "temperature"),
    }


def _read(one: Unit, mode: str, run: dict[str, Any], read: str) -> dict[str, Any]:
    """The readings that are taken."""
    if read == "full":
        return run
    circuit = build_circuit(one, mode)
    kept = {
        (code, "temperature")
        for code in ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction", "supply_air")
    } | _entering(one)
    if read == "service":
        # The place before the device where liquid is clamped, and the evaporator's outlet.
        kept |= {("common_suction_tap", "pressure"), ("discharge_tap", "pressure"), ("compressor", "current")}
        kept |= {
            ("return_air", "wet_bulb"),
            ("source_water_out", "temperature"),
            ("load_water_out", "temperature"),
        }
        before, _ = circuit.ends(circuit.active_part) or ("", "")
        liquid = {stop.station for stop in circuit.path}
        kept.add(("liquid_line_outdoor" if "liquid_line_outdoor" in liquid else before, "temperature"))
        kept |= {(code, "temperature") for code in circuit.leaving_evaporator}
    return {**run, "readings": [r for r in run["readings"] if (r["station"], r["quantity"]) in kept]}


def shows_in(fault: str, place: str | None, mode: str) -> bool:
    """Whether a fault of a place shows in a mode."""
    return place is None or place == mode


def _fault(
    one: Unit, modes: tuple[str, ...], chance: random.Random
) -> tuple[MachineFault | None, str | None]:
    if chance.random() < SOUND:
        return None, None
    able = [
        f
        for f in FAULTS
        if not f.backwards and any(possible(f, one, m) for m in modes) and f.fault != "coil_circuit_starved"
    ]
    fault = chance.choice(able)
    place = None
    if fault.fault in OF_ONE_MODE and "none" not in (one.indoor_meter.kind, one.outdoor_meter.kind):
        place = chance.choice([m for m in modes if possible(fault, one, m)])
    return fault, place


def drawn(
    count: int, seed: int, law: str = "own", *, earlier: bool = False, whole: bool = False
) -> Iterator[DrawnVisit]:
    """Visits, one after the other; those whose machine comes to no rest are left out. With ``earlier`` each has one before it
    at which the same machine was sound; ``whole`` ones are read in full, in both modes."""
    chance = random.Random(f"{seed} {law}")
    layouts = list(TRUTH)
    made = 0
    while made < count:
        layout = layouts[made % len(layouts)]
        changes: dict[str, Any] = {**TRUTH[layout][0], "refrigerant": chance.choice(list(REFRIGERANTS))}
        changes["compressor"] = {"kind": chance.choice(("single", "single", "two_stage", "inverter"))}
        if chance.random() < 0.7:
            changes["compressor"]["rated_current"] = {"value": 16, "unit": "A"}
        one = unit(**changes)
        modes = chance.choice([("heating",), ("cooling",), ("heating", "cooling")])
        read = chance.choice(READ)
        if whole:
            modes, read = ("heating", "cooling"), "full"
        fault, place = _fault(one, modes, chance)
        severity = 0.0 if fault is None else chance.uniform(fault.amounts[0], fault.amounts[-1])
        off: dict[str, float] = {}
        acts = {m: fault.effect(severity) for m in modes if fault and _acts(fault, place, one, m)}
        made_of_it = _visit(one, modes, off, acts, read, chance)
        if made_of_it is None:
            continue
        document, around = made_of_it
        # The same machine, weeks before, when nothing was wrong with it yet.
        before = _visit(one, ("heating", "cooling"), off, {}, "service", chance) if earlier else None
        if not _could_be_read(document) or not _could_be(fault, around):
            continue
        made += 1
        yield DrawnVisit(
            document,
            layout,
            modes,
            read,
            law,
            fault.fault if fault else "none",
            severity,
            around,
            before[0] if before else None,
            place,
        )


def _acts(fault: MachineFault, place: str | None, one: Unit, mode: str) -> bool:
    return shows_in(fault.fault, place, mode) and possible(fault, one, mode)


def _visit(
    one: Unit,
    modes: tuple[str, ...],
    off: dict[str, float],
    acts: dict[str, Variation],
    read: str,
    chance: random.Random,
) -> tuple[dict[str, Any], dict[str, Weather]] | None:
    """A visit's document and its weather by mode; None where the machine comes to no rest in a mode."""
    runs, around = [], {}
    for mode in modes:
        weather = drawn_weather(one, mode, chance)
        knobs = _machine(one, mode, off, chance)
        if mode in acts:
            knobs = knobs.and_also(acts[mode])
        (run,) = played(one, mode, [weather], [knobs], chance)
        around[mode] = weather
        runs.append(run and _read(one, mode, run, read))
    if not all(runs):
        return None
    document = visit_document(*runs)
    document["unit"] = one.model_dump(mode="json", exclude_none=True)
    return document, around


def _could_be(fault: MachineFault | None, around: dict[str, Weather]) -> bool:
    """Whether there is such a fault in such weather: ice lies on a coil in cold air alone."""
    if fault is None or fault.fault != "outdoor_coil_frosted":
        return True
    return around["heating"].outdoor <= ICE_UP_TO


def _could_be_read(document: dict[str, Any]) -> bool:
    """Whether a unit lives so long: beyond what may be entered a safety has stopped it."""
    try:
        parse_visit(json.dumps(document))
    except InvalidDocumentError:
        return False
    return True


LAWS: dict[str, Callable[[], Any]] = {"other": other_laws}


def drawn_by(law: str, count: int, seed: int, earlier: bool = False) -> list[DrawnVisit]:
    """All of one law; meant to be called in a process of its own, since what was sized under one law must not be met by the
    other."""
    if law == "own":
        return list(drawn(count, seed, earlier=earlier))
    with LAWS[law]():
        return list(drawn(count, seed, law, earlier=earlier))


def amounts(fault: str) -> tuple[float, ...]:
    """Slight to grave."""
    found = machine_fault(fault)  # type: ignore[arg-type]
    return found.amounts if found else ()

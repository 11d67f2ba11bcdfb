"""Visits to machines of other laws: how often a sound one is accused, and how often the right fault leads.

Whole designs are drawn (:mod:`foreign_designs`), half of the visits sound; an accusation is whenever anything but *nothing
wrong* leads. What the readings can't tell from the truth is found on the foreign machine itself: any other fault at any
severity that shows the same within what instruments and units of one kind differ by. `--earlier` gives each visit a sound
one before; `--list` names the misses; numbers set how many designs and how many visits of each.
"""

from __future__ import annotations

import json
import random
import sys
import time
from collections import Counter, defaultdict
from dataclasses import dataclass
from multiprocessing import get_context
from pathlib import Path
from typing import Any

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parent)]
from foreign_designs import PSI, Tools, Unit, air_at, drawn, readings
from foreign_machine import Air, Machine, NoRestError, Sick

from builders import visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine

Shown = dict[tuple[str, str], float]
KINDS: dict[str, tuple[Sick, ...]] = {
    "valve_bypassing": tuple(Sick(leak=v) for v in (0.06, 0.12, 0.2, 0.35)),
    "compressor_weak": tuple(Sick(pumps=v) for v in (0.85, 0.7, 0.5)),
    "active_meter_underfeeding": tuple(Sick(closed=v) for v in (0.3, 0.5, 0.7, 0.82)),
    "active_meter_overfeeding": tuple(Sick(open=v) for v in (1.2, 1.5, 2.0)),
    "bypass_stuck_closed": (Sick(shut=0.92), Sick(shut=0.97), Sick(shut=1.0)),
    "liquid_line_restriction": tuple(
        Sick(narrow=v * PSI, where=w) for w in ("line", "behind", "distributor") for v in (40, 90, 150)
    ),
    "undercharge": tuple(Sick(charge=1 - v) for v in (0.12, 0.25, 0.4)),
    "overcharge": tuple(Sick(charge=1 + v) for v in (0.12, 0.25, 0.4)),
    "noncondensables": tuple(Sick(gas=v * PSI) for v in (15, 30, 50)),
    "indoor_airflow_low": tuple(Sick(indoor_flow=v) for v in (0.7, 0.55, 0.4)),
    "outdoor_airflow_low": tuple(Sick(outdoor_flow=v) for v in (0.65, 0.5, 0.35)),
    "outdoor_coil_frosted": tuple(Sick(frost=v) for v in (0.4, 0.6, 0.8)),
    "source_water_flow_low": tuple(Sick(outdoor_flow=v) for v in (0.65, 0.5, 0.35)),
    "source_coil_fouled": tuple(Sick(fouled=v) for v in (0.35, 0.55)),
}
ALIKE, SEEN = 6.0, 9.0
"""Squared distances under which two causes are alike, and over which a fault is seen at all."""
OF_THIS_UNIT, OF_ITS_KIND = (1.5, 0.02, 0.03), (4.0, 0.05, 0.10)
"""Spreads by which a fault is seen on a unit whose own numbers are known, and on one of its kind: °F, shares of a pressure
and of a current."""


@dataclass
class Case:
    """A visit and its truth: the fault, the codes that can't be told from it, whether it can be seen at all, and whether that
    takes this unit's own history."""

    document: dict[str, Any]
    earlier: dict[str, Any] | None
    fault: str
    alike: tuple[str, ...]
    seen: bool
    plain: bool
    name: str


def possible(unit: Unit, mode: str, fault: str) -> bool:
    one = unit.design
    if fault in ("source_water_flow_low", "source_coil_fouled"):
        return one.outdoor.medium == "water"
    if fault == "outdoor_airflow_low":
        return one.outdoor.medium == "air"
    if fault == "outdoor_coil_frosted":
        return one.outdoor.medium == "air" and mode == "heating"
    if fault == "indoor_airflow_low":
        return one.indoor.medium == "air"
    if fault == "bypass_stuck_closed":
        return one.idles[mode]
    return True


def weather(unit: Unit, mode: str, chance: random.Random) -> Air:
    one = unit.design
    water, load_water = one.outdoor.medium == "water", one.indoor.medium == "water"
    if mode == "cooling":
        outdoor, indoor = chance.uniform(*((55, 90) if water else (70, 108))), chance.uniform(71, 81)
        inside = chance.uniform(0.38, 0.6)
    else:
        outdoor, indoor = chance.uniform(*((38, 65) if water else (5, 58))), chance.uniform(65, 74)
        inside = chance.uniform(0.25, 0.45)
    if load_water:
        indoor = chance.uniform(50, 58) if mode == "cooling" else chance.uniform(85, 108)
    return air_at(one, mode, outdoor, indoor, chance.uniform(0.45, 0.9), inside)


def kept(unit: Unit, mode: str, read: str, chance: random.Random) -> set[tuple[str, str]] | None:
    """What is read: all, as on a service call, or thinly."""
    if read == "full":
        return None
    inside = [
        ("load_water_in", "temperature"),
        ("load_water_out", "temperature"),
        ("return_air", "temperature"),
    ]
    found = {
        (c, "temperature")
        for c in ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
    }
    found |= {
        ("outdoor_air_in", "temperature"),
        ("source_water_in", "temperature"),
        ("supply_air", "temperature"),
        *inside,
    }
    if read == "service":
        found |= {
            ("common_suction_tap", "pressure"),
            ("discharge_tap", "pressure"),
            ("return_air", "wet_bulb"),
        }
        found |= {
            (c, "temperature") for c in ("liquid_line_outdoor", "source_water_out", "vapor_line_indoor")
        }
        if chance.random() < 0.5:
            found |= {("compressor", "current")}
        if chance.random() < 0.5:
            found |= {("indoor_coil", "temperature"), ("outdoor_coil", "temperature")}
    return found


def run_of(machine: Machine, tools: Tools, what: set[tuple[str, str]] | None) -> dict[str, Any]:
    read = [r for r in readings(machine, tools) if what is None or (r["station"], r["quantity"]) in what]
    return {
        "id": machine.mode,
        "mode": machine.mode,
        "minutes_running": 25,
        "readings": read,
        "observations": [],
    }


class _Exact(Tools):
    """Instruments that show what is."""

    def __init__(self) -> None:
        super().__init__(random.Random(0))
        self.clamp = self.gauge = self.contact = 0.0
        self.chance.gauss = lambda mu, sigma: mu  # type: ignore[method-assign, assignment]


def _vector(machine: Machine, what: set[tuple[str, str]] | None) -> Shown:
    return {(r["station"], r["quantity"]): r["value"] for r in run_of(machine, _Exact(), what)["readings"]}


def distance(one: Shown, other: Shown, bands: tuple[float, float, float] = OF_THIS_UNIT) -> float:
    """Squared, over some spreads; one place counts up to 9."""
    total, (kelvins, pressure, current) = 0.0, bands
    for key in one.keys() & other.keys():
        band = {"pressure": max(2.0, pressure * abs(one[key])), "current": current * abs(one[key]) + 0.1}.get(
            key[1], kelvins
        )
        total += min(((one[key] - other[key]) / band) ** 2, 9.0)
    return total


def cases(number: int, count: int, earlier: bool, seed: int) -> list[Case]:
    unit = drawn(number)
    if unit is None:
        return []
    chance, found = random.Random(f"{seed} {number}"), []
    while len(found) < count:
        mode = chance.choice(("cooling", "heating"))
        read = chance.choice(("thin", "service", "service", "full"))
        air, tools = weather(unit, mode, chance), Tools(chance)
        what = kept(unit, mode, read, chance)
        fault, sick = "none", Sick()
        if chance.random() < 0.5:
            fault = chance.choice([one for one in KINDS if possible(unit, mode, one)])
            sick = chance.choice(KINDS[fault])
        if fault == "outdoor_coil_frosted" and air.outdoor > 276:
            continue
        machine = Machine(unit.design, mode, air, sick)
        try:
            sound = Machine(unit.design, mode, air)
            start = sound.settled()
            if fault != "none":
                machine.settled(start)
            else:
                machine.settled()
            before = _before(unit, chance) if earlier else None
        except NoRestError:
            continue
        run = run_of(machine, tools, what)
        document = visit_document(run)
        document["unit"] = unit.described
        truth, healthy = _vector(machine, what), _vector(sound, what)
        alike = {fault}
        if fault != "none":
            alike |= _alike(unit, mode, air, start, truth, what)
        seen = fault == "none" or distance(truth, healthy) > SEEN
        plain = fault == "none" or distance(truth, healthy, OF_ITS_KIND) > SEEN
        name = f"{number} {mode} {read} {unit.design.layout[:24]} {unit.design.refrigerant} {fault}"
        found.append(Case(document, before, fault, tuple(sorted(alike)), seen, plain, name))
    return found


def _before(unit: Unit, chance: random.Random) -> dict[str, Any]:
    tools, runs = Tools(chance), []
    for mode in ("cooling", "heating"):
        machine = Machine(unit.design, mode, weather(unit, mode, chance))
        machine.settled()
        runs.append(run_of(machine, tools, kept(unit, mode, "service", chance)))
    document = visit_document(*runs)
    document["unit"] = unit.described
    return document


def _alike(unit: Unit, mode: str, air: Air, start: Any, truth: Shown, what: Any) -> set[str]:
    found = set()
    for fault, grades in KINDS.items():
        if not possible(unit, mode, fault):
            continue
        for sick in grades:
            machine = Machine(unit.design, mode, air, sick)
            try:
                machine.settled(start)
            except NoRestError:
                continue
            if distance(truth, _vector(machine, what)) < ALIKE:
                found.add(fault)
                break
    return found


def judged(task: tuple[int, int, bool, int]) -> list[dict[str, Any]]:
    rows = []
    for case in cases(*task):
        earlier = [parse_visit(json.dumps(case.earlier))] if case.earlier else []
        try:
            found = examine(parse_visit(json.dumps(case.document)), earlier=earlier)
        except ValueError:
            continue
        ranking = [(r.fault, r.probability) for r in found.ranking]
        top = ranking[0][1] if ranking else 0.0
        lead = [f for f, p in ranking if p >= top - 1e-9]
        right = sum(f in case.alike for f in lead) / len(lead) if lead else 0.0
        fails = [c.code for run in found.runs for c in run.checks if c.status == "fail"]
        suspect = found.ranking[0].suspect if found.ranking else None
        rows.append(
            {
                "name": case.name,
                "fault": case.fault,
                "alike": case.alike,
                "seen": case.seen,
                "plain": case.plain,
                "right": right,
                "top": top,
                "lead": lead,
                "third": any(f in case.alike for f, _ in ranking[:3]),
                "fails": fails,
                "headline": found.headline,
                "suspect": None if suspect is None else (suspect.station, suspect.quantity),
            }
        )
    return rows


def told(rows: list[dict[str, Any]]) -> None:
    """What the bench found, printed."""

    def share(of: list[float]) -> str:
        return f"{100 * sum(of) / len(of):5.1f} % of {len(of)}" if of else "-"

    sound, sick = ([r for r in rows if (r["fault"] == "none") == well] for well in (True, False))
    seen = [r for r in sick if r["seen"]]
    plain = [r for r in seen if r["plain"]]
    print(
        "false alarms",
        share([1 - r["right"] for r in sound]),
        "; a failing check",
        share([bool(r["fails"]) for r in sound]),
    )
    for words, some in (("of all", sick), ("where it shows", seen), ("without its own history", plain)):
        right, third = (share([r[k] for r in some]) for k in ("right", "third"))
        print(
            f"first or tied {words}: {right}; among three {third}; 'none' leads",
            share([r["lead"] == ["none"] for r in some]),
        )
    error = 0.0
    for low, high in ((0, 0.4), (0.4, 0.6), (0.6, 0.8), (0.8, 0.95), (0.95, 1.01)):
        band = [r for r in rows if low <= r["top"] < high]
        if band:
            said, right = (sum(r[k] for r in band) / len(band) for k in ("top", "right"))
            error += abs(said - right) * len(band) / len(rows)
            print(
                f"  said {low:.2f} to {min(high, 1):.2f}: n {len(band)}, said {100 * said:.1f} %, right {100 * right:.1f} %"
            )
    print(f"expected calibration error {100 * error:.1f} %")
    by: dict[str, Counter[str]] = defaultdict(Counter)
    for r in rows:
        by[r["fault"]]["/".join(r["lead"]) + ("*" if r["right"] else "")] += 1
    for fault, leads in sorted(by.items()):
        print(f"  {fault:28}", ", ".join(f"{lead} {n}" for lead, n in leads.most_common(7)))
    print("  fail on sound ones:", Counter(c for r in sound for c in set(r["fails"])).most_common(12))
    print(
        "  suspects on sound ones:",
        Counter(r["suspect"] for r in sound if r["suspect"] and r["right"] < 1).most_common(8),
    )


def main() -> None:
    numbers = [int(arg) for arg in sys.argv[1:] if arg.isdigit()]
    designs, each = (*numbers, 60, 6)[:2] if len(numbers) >= 2 else ((numbers or [60])[0], 6)
    seed = numbers[2] if len(numbers) > 2 else 1
    began = time.perf_counter()
    tasks = [
        (n, each, "--earlier" in sys.argv, seed)
        for n in range(1000 * (seed - 1), 1000 * (seed - 1) + designs)
    ]
    with get_context("fork").Pool(2) as pool:
        rows = [row for part in pool.imap_unordered(judged, tasks) for row in part]
    designs_met = len({row["name"].split()[0] for row in rows})
    print(f"{designs_met} designs, {len(rows)} visits, {time.perf_counter() - began:.0f} s")
    told(rows)
    if "--list" in sys.argv:
        for r in sorted(rows, key=lambda r: (r["fault"], r["name"])):
            if r["right"] < 1 and r["plain"]:
                said = f"{'/'.join(r['lead'])} {r['top']:.2f} {r['suspect'] or ''} {r['headline'][:60]}"
                print(f"{r['name']} [{'/'.join(r['alike'])}] -> {said}")


if __name__ == "__main__":
    main()

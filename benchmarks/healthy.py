"""How often a sound machine is accused: machines drawn from the spreads of what is unknown, in every layout, refrigerant and
weather, read with common instruments.

Prints which checks fail and what leads the ranking. `make bench` runs it; an argument sets how many visits are drawn.
"""

import json
import random
import sys
import time
from collections import Counter
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parents[1] / "tests" / "core")]
from builders import reading, visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.properties.refrigerants import REFRIGERANTS
from layouts import TRUTH
from played import Draw, Weather, played
from solved import unit

WEATHER = {
    ("air", "heating"): (-10, 62),
    ("air", "cooling"): (65, 118),
    ("water", "heating"): (30, 70),
    ("water", "cooling"): (50, 95),
}
INDOORS = {("air", "heating"): (64, 75), ("air", "cooling"): (70, 82)}
# Water colder than this [°F] holds antifreeze in any sound loop. [common practice]
ANTIFREEZE = 50
LOAD_WATER = {"heating": (85, 110), "cooling": (48, 60)}


def drawn_weather(one, mode: str, chance: random.Random) -> Weather:
    """Anywhere in the weather of the mode."""
    indoor = INDOORS[one.load, mode] if one.load == "air" else LOAD_WATER[mode]
    speed = 1.0
    if one.compressor.kind == "inverter":
        speed = chance.uniform(0.35, 1.0)
    elif one.compressor.kind == "two_stage":
        speed = chance.choice((0.67, 1.0))
    return Weather(
        chance.uniform(*WEATHER[one.source, mode]),
        chance.uniform(*indoor),
        chance.uniform(0.5, 0.9),
        chance.uniform(0.35, 0.6) if mode == "cooling" else chance.uniform(0.25, 0.45),
        speed,
    )


def visits(count: int, seed: int):
    """Drawn visits of sound machines: name of the layout, mode, weather, unit and run."""
    chance = random.Random(seed)
    kinds = ("single", "single", "two_stage", "inverter")
    sorts = [(layout, refrigerant) for layout in TRUTH for refrigerant in REFRIGERANTS]
    for k in range(count):
        layout, refrigerant = sorts[k % len(sorts)]
        mode = ("heating", "cooling")[(k // len(sorts)) % 2]
        kind = chance.choice(kinds)
        changes = {**TRUTH[layout][0], "refrigerant": refrigerant, "compressor": {"kind": kind}}
        if chance.random() < 0.5:
            changes["compressor"]["rated_current"] = {"value": 16, "unit": "A"}
        one = unit(**changes)
        weather = drawn_weather(one, mode, chance)
        changed = Draw.of(chance).variation(one, mode)
        (run,) = played(one, mode, [weather], [changed], chance)
        if run and one.source == "water" and weather.outdoor < ANTIFREEZE:
            run["readings"].append(
                reading("source_water", 485, quantity="fluid_factor", unit="1", method="meter")
            )
        yield layout, mode, weather, one, run


def main() -> None:
    count = next((int(arg) for arg in sys.argv[1:] if arg.isdigit()), 2000)
    began = time.perf_counter()
    tried, lost, accused, failed, watched, leads = 0, 0, 0, Counter(), Counter(), Counter()
    for layout, mode, weather, one, run in visits(count, 20261126):
        if run is None:
            lost += 1
            continue
        tried += 1
        document = visit_document(run)
        document["unit"] = one.model_dump(mode="json", exclude_none=True)
        found = examine(parse_visit(json.dumps(document)))
        checks = found.runs[0].checks
        wrong = [check for check in checks if check.status == "fail"]
        accused += bool(wrong)
        failed.update((mode, check.code) for check in wrong)
        watched.update((mode, check.code) for check in checks if check.status == "watch")
        leads[mode, found.ranking[0].fault if found.ranking else "-"] += 1
        if "--list" in sys.argv:
            where = f"{layout[:30]:30} {one.refrigerant} {one.compressor.kind} {mode}"
            where += f" {weather.outdoor:.0f}/{weather.indoor:.0f}"
            print(
                *(f"{where} {check.code}: {check.explain}" for check in wrong),
                sep="\n",
                end="\n" if wrong else "",
            )
    for title, counter in (("fails", failed), ("watched", watched), ("leads", leads)):
        print(title)
        for (mode, name), n in counter.most_common():
            print(f"  {mode:8} {name:36} {n:5} {100 * n / tried:6.2f} %")
    spent = time.perf_counter() - began
    print(
        f"{tried} visits, {lost} unsolved, {100 * accused / tried:.2f} % with a failing check, {spent:.0f} s"
    )


if __name__ == "__main__":
    main()

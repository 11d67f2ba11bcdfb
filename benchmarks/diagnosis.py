"""How well faults are told: visits of machines drawn from the spreads (benchmarks/drawn.py), some of which keep other laws
than the product's own model.

Prints, by what was read and by layout: how often the right fault leads or ties (at least half as probable as the first), how
often it is among the first three; how often a sound machine is accused; how well what is called 80 % is right 80 % of the
time; and how often a severity lies within its band. "Told" are the visits in which some reading departs from what a sound
machine should show, or a check fails: in the others nothing read can tell. An argument sets how many visits are drawn.
"""

from __future__ import annotations

import json
import sys
import time
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

from drawn import DrawnVisit, drawn_by

from icepick.core.document.visit import Visit, parse_visit
from icepick.core.examine import examine

SHARES = {"own": 0.6, "other": 0.4}
SHARE_EARLIER = 0.3
"""Besides these so many more, each with a visit before it."""
ACCUSED = 0.5
TIED = 0.5


@dataclass
class Judged:
    visit: DrawnVisit
    order: list[tuple[str, float]]
    band: tuple[float, float] | None
    told: bool


def beside_earlier(visit: DrawnVisit) -> Judged:
    """One visit, and what is said of it beside one at which the same machine was sound."""
    return judged(visit, [parse_visit(json.dumps(visit.earlier))] if visit.earlier else [])


def judged(visit: DrawnVisit, earlier: Sequence[Visit] = ()) -> Judged:
    """One visit and what is said of it."""
    found = examine(parse_visit(json.dumps(visit.document)), earlier=earlier)
    departs = any(one.departs for run in found.runs for one in run.expected.values())
    fails = any(check.status == "fail" for run in found.runs for check in run.checks)
    first = found.ranking[0] if found.ranking else None
    band = (first.severity.low, first.severity.high) if first and first.severity else None
    return Judged(visit, [(r.fault, r.probability) for r in found.ranking], band, departs or fails)


def right(one: Judged) -> bool:
    """Whether the true fault leads, or ties with the one that does."""
    if not one.order:
        return False
    most = one.order[0][1]
    return one.visit.fault in [fault for fault, probability in one.order if probability >= TIED * most]


def line(title: str, found: Iterable[Judged]) -> None:
    rows = list(found)
    told = [one for one in rows if one.told]
    if not rows:
        return

    def share(of: list[Judged], by: Callable[[Judged], bool]) -> str:
        return f"{100 * sum(map(by, of)) / len(of):5.1f}" if of else "    -"

    third = lambda one: one.visit.fault in [fault for fault, _ in one.order[:3]]  # noqa: E731
    print(
        f"{title:44} {len(rows):5} first {share(rows, right)}  three {share(rows, third)}"
        f"   told {len(told):5} first {share(told, right)}  three {share(told, third)}"
    )


def main() -> None:
    count = next((int(arg) for arg in sys.argv[1:] if arg.isdigit()), 1000)
    began = time.perf_counter()
    # What was sized under one law must not be met by the other: a process for each.
    with ProcessPoolExecutor(2) as pool:
        made = [pool.submit(drawn_by, law, round(count * share), 20261126) for law, share in SHARES.items()]
        visits = [visit for one in made for visit in one.result()]
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(judged, visits, chunksize=20))

    with ProcessPoolExecutor(2) as pool:
        made = [
            pool.submit(drawn_by, law, round(count * SHARE_EARLIER * share), 777, True)
            for law, share in SHARES.items()
        ]
        followed = [visit for one in made for visit in one.result() if visit.fault != "none"]
    with ProcessPoolExecutor() as pool:
        line("faults, by themselves", pool.map(judged, followed, chunksize=20))
        line("the same beside an earlier sound visit", pool.map(beside_earlier, followed, chunksize=20))

    sick = [one for one in found if one.visit.fault != "none"]
    for read in ("thin", "service", "full"):
        line(f"faults, {read} readings", (one for one in sick if one.visit.read == read))
    full = [one for one in sick if one.visit.read == "full"]
    for law in SHARES:
        line(f"faults, full, {law} laws", (one for one in full if one.visit.law == law))
    for modes in (("heating",), ("cooling",), ("heating", "cooling")):
        line(f"faults, full, {' and '.join(modes)}", (one for one in full if one.visit.modes == modes))
    for layout in dict.fromkeys(one.visit.layout for one in found):
        line(f"faults, full, {layout[:30]}", (one for one in full if one.visit.layout == layout))
    for fault in sorted({one.visit.fault for one in sick}):
        line(f"{fault}, full", (one for one in full if one.visit.fault == fault))

    sound = [one for one in found if one.visit.fault == "none"]
    accused = [o for o in sound if o.order and o.order[0][0] != "none" and o.order[0][1] >= ACCUSED]
    print(
        f"sound machines: {len(sound)}, accused at {ACCUSED:.0%} or more: {100 * len(accused) / len(sound):.1f} %"
    )

    bins: dict[int, list[Judged]] = defaultdict(list)
    for one in found:
        if one.order:
            bins[min(int(10 * one.order[0][1]), 9)].append(one)
    off = 0.0
    for k, rows in sorted(bins.items()):
        said = sum(one.order[0][1] for one in rows) / len(rows)
        held = sum(one.order[0][0] == one.visit.fault for one in rows) / len(rows)
        off += abs(said - held) * len(rows) / len(found)
        print(f"  said {10 * k:3} to {10 * k + 10:3} %: {len(rows):4} visits, right {100 * held:5.1f} %")
    print(f"expected calibration error: {100 * off:.1f} %")

    banded = [one for one in sick if one.band and one.order[0][0] == one.visit.fault]
    within = sum(one.band is not None and one.band[0] <= one.visit.severity <= one.band[1] for one in banded)
    print(f"severity within its band: {100 * within / max(len(banded), 1):.0f} % of {len(banded)}")
    print(f"{len(found)} visits, {time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main()

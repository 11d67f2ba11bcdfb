"""A technician who reads only what is asked, against one who walks the unit in order, and one who reads everything.

Machines drawn from the spreads (benchmarks/drawn.py), two in five by other laws than the product's own. All begin in the mode
in which the fault shows, with nothing read. A verdict counts as reached once the right fault leads at one half or more and
keeps the lead for as long as that technician goes on. Minutes are those of diagnosis/question.py: a clamp 1, hooking up
gauges 8 and each further port 2, a meter 2, turning the unit round 12. An argument sets how many visits are drawn.
"""

from __future__ import annotations

import json
import random
import sys
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from statistics import median
from typing import Any

from diagnosis import SHARES
from drawn import DrawnVisit, drawn, shows_in

from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.diagnosis.question import ANOTHER_TAP, MINUTES, SWITCH_MODE
from icepick.core.document.examination import Examination
from icepick.core.document.stations import Group, station, walking_order
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from other_laws import other_laws

Spot = tuple[str, str, str]
LED = 0.5


@dataclass
class Went:
    """Where a technician got: minutes and readings when the verdict was reached (None: never), and at the end; ``opening``
    are the first three stations."""

    reached: tuple[float, int] | None
    ended: tuple[float, int]
    opening: tuple[str, ...]


class Bench:
    """A unit with all its readings, of which some are taken."""

    def __init__(self, visit: DrawnVisit, first: str) -> None:
        self.visit, self.minutes = visit, 0.0
        runs = {run["mode"]: run for run in visit.document["runs"]}
        self.truth: dict[Spot, dict[str, Any]] = {
            (mode, r["station"], r["quantity"]): r for mode, run in runs.items() for r in run["readings"]
        }
        self.about = {mode: {**run, "readings": []} for mode, run in runs.items()}
        self.taken: list[Spot] = []
        self.after: list[float] = []
        self.known: dict[int, Examination] = {}
        self.modes = [first]

    def take(self, spot: Spot) -> None:
        mode, code, _ = spot
        group = station(code).group
        gauged = any(station(other).group is Group.TAP for _, other, _ in self.taken)
        self.minutes += ANOTHER_TAP if group is Group.TAP and gauged else MINUTES[group]
        if mode not in self.modes:
            self.modes.append(mode)
            self.minutes += SWITCH_MODE
        self.taken.append(spot)
        self.after.append(self.minutes)

    def examination(self, count: int | None = None) -> Examination:
        """What is said after so many readings; after all that were taken."""
        taken = self.taken[:count]
        if len(taken) not in self.known:
            modes = dict.fromkeys([self.modes[0], *(mode for mode, _, _ in taken)])
            runs = [
                {**self.about[mode], "readings": [self.truth[spot] for spot in taken if spot[0] == mode]}
                for mode in modes
            ]
            document = json.dumps({**self.visit.document, "runs": runs})
            self.known[len(taken)] = examine(parse_visit(document))
        return self.known[len(taken)]


def asked(bench: Bench) -> Iterator[Spot]:
    """What the examination asks for; what these machines do not give, voltages and looks, is passed over."""
    while True:
        wanted = [(one.mode, one.station, one.quantity) for one in bench.examination().next_readings]
        found = next((one for one in wanted if one in bench.truth and one not in bench.taken), None)
        if found is None:
            return
        yield found


def in_order(bench: Bench) -> Iterator[Spot]:
    """Everything, in walking order, one mode after the other."""
    modes = [*bench.modes, *(mode for mode in bench.about if mode not in bench.modes)]
    yield from sorted(bench.truth, key=lambda spot: (modes.index(spot[0]), walking_order(spot[1])))


def went(visit: DrawnVisit, first: str, way: Callable[[Bench], Iterator[Spot]]) -> Went:
    bench = Bench(visit, first)
    for spot in way(bench):
        bench.take(spot)
    # From the end back, as far as the right fault keeps its lead.
    reached = None
    for count in range(len(bench.taken), 0, -1):
        lead = bench.examination(count).ranking[:1]
        if not lead or lead[0].fault != visit.fault or lead[0].probability < LED:
            break
        reached = bench.after[count - 1], count
    opening = tuple(code for _, code, _ in bench.taken[:3])
    return Went(reached, (bench.minutes, len(bench.taken)), opening)


def both(visit: DrawnVisit) -> tuple[str, Went, Went]:
    chance = random.Random(json.dumps(visit.document["unit"]))
    shows = [mode for mode in ("heating", "cooling") if shows_in(visit.fault, visit.place, mode)]
    first = chance.choice(shows)
    return visit.fault, went(visit, first, asked), went(visit, first, in_order)


def drawn_by(law: str, count: int) -> list[DrawnVisit]:
    if law == "own":
        return list(drawn(count, 300, whole=True))
    with other_laws():
        return list(drawn(count, 300, law, whole=True))


def line(title: str, found: list[Went]) -> None:
    if not found:
        print(f"{title:34} {0:4}")
        return
    reached = [one.reached for one in found if one.reached]
    minutes, readings = (median(one[n] for one in reached) for n in (0, 1)) if reached else (0, 0)
    ends = [median(one.ended[n] for one in found) for n in (0, 1)]
    print(
        f"{title:34} {len(found):4} reached {100 * len(reached) / len(found):5.1f} %   after {minutes:5.1f} min, "
        f"{readings:4.1f} readings   goes on to {ends[0]:5.1f} min, {ends[1]:4.1f} readings"
    )


def main() -> None:
    count = next((int(arg) for arg in sys.argv[1:] if arg.isdigit()), 300)
    began = time.perf_counter()
    with ProcessPoolExecutor(2) as pool:
        made = [pool.submit(drawn_by, law, round(count * share)) for law, share in SHARES.items()]
        visits = [visit for one in made for visit in one.result()]
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(both, visits, chunksize=5))
    for title, of in (
        ("all", found),
        ("with a fault", [one for one in found if one[0] != "none"]),
        ("sound", [one for one in found if one[0] == "none"]),
    ):
        line(f"{title}: what is asked", [asked for _, asked, _ in of])
        line(f"{title}: in walking order", [order for _, _, order in of])
    opened = [code for _, a, _ in found for code in a.opening]
    share = sum(code in VALVE_PIPES for code in opened) / max(len(opened), 1)
    print(f"of the first three that are asked, pipes at the valve: {100 * share:.0f} %")
    quicker = [(a.reached, o.reached) for _, a, o in found if a.reached and o.reached]
    print(
        f"reached both ways: {len(quicker)}; asked {median(a[0] for a, _ in quicker)} min, "
        f"in order {median(o[0] for _, o in quicker)} min"
    )
    print(f"{len(found)} visits, {time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main()

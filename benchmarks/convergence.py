"""How many states come to rest: every layout, refrigerant and weather, sound and with every fault at three severities.

Prints a table. `make bench` runs it; `--quick` takes two refrigerants.
"""

import sys
import time
from collections import Counter
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parents[1] / "tests" / "core")]
import numpy as np
from size import sized

from icepick.core.machine.faults import FAULTS, possible
from icepick.core.machine.sizing import size
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST, batch
from icepick.core.properties.refrigerants import REFRIGERANTS
from layouts import TRUTH
from solved import unit, weather

AIR = {"heating": (-10, 5, 17, 30, 47, 62), "cooling": (65, 80, 95, 105, 118)}
WATER = {"heating": (30, 40, 50, 60, 70), "cooling": (50, 65, 80, 95)}


def main() -> None:
    refrigerants = sized(("R-410A", "R-407C") if "--quick" in sys.argv else REFRIGERANTS, ("R-32",))
    began, tried, lost, outside = time.perf_counter(), Counter(), Counter(), Counter()
    for truth in [*TRUTH.values()][: sized(None, 1)]:
        for refrigerant in refrigerants:
            one = unit(**truth[0], refrigerant=refrigerant)
            machine = size(one)
            for mode, temperatures in (WATER if one.source == "water" else AIR).items():
                faults = [f for f in FAULTS if possible(f, one, mode) and not f.backwards]
                each = [(f.fault, amount, f.effect(amount)) for f in faults for amount in f.amounts]
                knobs = batch([AT_REST, *(effect for _, _, effect in each)])
                count = len(each) + 1
                for outdoor in temperatures:
                    around = weather(one, mode, outdoor, humidity=0.7)
                    sound = settle(machine, mode, around, AT_REST, 1)
                    start = np.repeat(sound.unknown, count, axis=1) if sound.converged[0] else None
                    found = settle(machine, mode, around, knobs, count, start)
                    for row, (fault, amount, _) in enumerate([("none", 0, None), *each]):
                        key = (fault, amount)
                        tried[key] += 1
                        lost[key] += not found.converged[row]
                        outside[key] += bool(found.converged[row] and not found.inside[row])
    print(f"{'fault':28} {'amount':>7} {'states':>7} {'unsolved':>9} {'outside tables':>15}")
    for (fault, amount), count in tried.items():
        print(f"{fault:28} {amount:7g} {count:7} {lost[fault, amount]:9} {outside[fault, amount]:15}")
    total = sum(tried.values())
    share = 100 * (1 - sum(lost.values()) / total)
    spent = time.perf_counter() - began
    print(
        f"{total} states, {share:.2f} % came to rest, {sum(outside.values())} outside the tables, {spent:.0f} s"
    )


if __name__ == "__main__":
    main()

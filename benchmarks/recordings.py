"""Recordings: how many healthy ones raise a failing check, how well moments are found, how long an examination takes.

`.venv/bin/python benchmarks/recordings.py [DRAWS] [SEED]`. The recordings are those of tests/recorded.py, which knows nothing
of Icepick.
"""

from __future__ import annotations

import json
import random
import sys
import time
from collections import Counter
from pathlib import Path

import numpy as np

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tests/core")]
from size import sized
from test_defrost import BOARD, drawn, unit

from builders import SPLIT_UNIT, visit_document
from icepick.core.document.visit import parse_visit
from icepick.core.examine import examine
from icepick.core.machine import transient
from icepick.core.machine.board import BoardSettings
from icepick.core.machine.by_coil import Weather
from recorded import ALL, PIPES, THIN, Scene, play, recording

SETS = {"all": ALL, "pipes": PIPES, "three": THIN, "three and the board": BOARD}


def healthy(draws: int, seed: int) -> None:
    """Failing checks, leading faults and moments over healthy draws."""
    dice = random.Random(seed)
    failing, leading, off, uncounted = Counter[str](), Counter[str](), [], 0
    for _ in range(draws):
        scene, name, every = drawn(dice), dice.choice(list(SETS)), dice.choice((1, 2, 5, 10, 20, 30))
        truth = play(scene)
        document = recording(truth, SETS[name], every=every, minutes_running=scene.run_at_start)
        visit = {**visit_document(**unit(scene, noted=dice.random() < 0.6)), "recordings": [document]}
        found = examine(parse_visit(json.dumps(visit)))
        wrong = [check.code for check in found.recordings[0].checks if check.status == "fail"]
        failing.update(wrong[:1])
        if wrong:
            print(f"  failing: {wrong}, {name} each {every} s, {scene}")
        leading[found.ranking[0].fault] += 1
        ours = found.recordings[0].defrosts
        if len(ours) != len(truth.starts):
            uncounted += 1
            continue
        for one, began, ended in zip(ours, truth.starts, [*truth.ends, None], strict=False):
            # A compressor that rests around the shift belongs to the defrost, where it is seen to.
            for ours_at, at in ((one.started, began), (one.ended, ended)):
                if ours_at is not None and at is not None:
                    off.append(min(abs(ours_at - at), abs(ours_at - at - scene.pause)))
    within = np.array(off)
    print(
        f"{draws} healthy recordings, seed {seed}: {sum(failing.values())} with a failing check {dict(failing)}"
    )
    print(f"  leading: {dict(leading)}; {uncounted} with one defrost too many or too few")
    print(
        f"  moments: median {np.median(within):.1f} s, p95 {np.quantile(within, 0.95):.1f} s, "
        f"{np.mean(within <= 20):.1%} within 20 s"
    )


def speed() -> None:
    """Four hours at one a second with 15 series, examined."""
    series, hours = ALL[:15], sized(4, 1)
    document = recording(play(Scene(hours=hours)), series)
    text = json.dumps({**visit_document(unit={**SPLIT_UNIT, **unit()["unit"]}), "recordings": [document]})
    examine(parse_visit(json.dumps(visit_document())))
    began = time.perf_counter()
    visit = parse_visit(text)
    print(f"{hours} h, 1 s, {len(series)} series: read in {time.perf_counter() - began:.2f} s", end=", ")
    times = []
    for turn in range(sized(7, 2)):
        other = visit.model_copy(
            update={"recordings": [visit.recordings[0].model_copy(update={"id": f"rec-{turn}"})]}
        )
        began = time.perf_counter()
        examine(other)
        times.append(time.perf_counter() - began)
    began = time.perf_counter()
    examine(visit.model_copy(update={"recordings": [other.recordings[0]]}))
    again = time.perf_counter() - began
    print(f"examined in {np.median(times[1:]):.3f} s (first {times[0]:.3f} s), asked again in {again:.3f} s")


def machine() -> None:
    """How much faster than time the transient machine plays."""
    made = {**SPLIT_UNIT, **unit()["unit"]}
    described = parse_visit(json.dumps(visit_document(unit=made))).unit
    scenario = transient.Scenario(Weather(273.65, 0.9), BoardSettings(), seconds=3600 * sized(4, 1))
    for turn in ("first", "again"):
        began = time.perf_counter()
        transient.play(described, scenario)
        took = time.perf_counter() - began
        hours = scenario.seconds / 3600
        print(
            f"transient machine, {hours:.0f} h, {turn}: {took:.2f} s, {scenario.seconds / took:,.0f} x real time"
        )


if __name__ == "__main__":
    speed()
    machine()
    given = [int(word) for word in sys.argv[1:]]
    healthy(given[0] if given else 300, given[1] if len(given) > 1 else 20261127)

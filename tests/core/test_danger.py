"""A danger leads at any minute, whatever is doubted and however little was read; a sound unit on a hot or cold day is never
stopped. [the-trade.md 13]"""

import random

import pytest

from builders import amps, probe, psi, reading
from cases import SPLIT, examined, healthy
from draws import few

LAYOUTS = {
    SPLIT: {},
    "split, two pistons": {},
    "ductless, one electric valve outdoors: a cold mixture in the small line in cooling": {},
}
WATER = "water to air, one two-way thermostatic valve"
RATED = {"compressor": {"kind": "single", "rated_current": {"value": 12, "unit": "A"}}}
CUTOUT = {"R-410A": 600, "R-32": 600, "R-454B": 600, "R-22": 400, "R-407C": 400, "R-134a": 250}
"""The lowest setting usual for each [psig]. [common practice, from memory]"""
DOUBTS = [
    [reading("common_suction", 190)],
    [reading("valve_to_indoor", 20), reading("valve_to_outdoor", 20)],
    [psi("common_suction_tap", 320)],
    [probe("supply_air", 150)],
]
"""What contradicts what else was read."""


def head(dice, refrigerant):
    return [psi("discharge_tap", CUTOUT[refrigerant] * dice.uniform(1.01, 1.15))]


def vacuum(dice, refrigerant):
    return [psi("common_suction_tap", dice.uniform(-13, -0.5))]


def discharge(dice, refrigerant):
    return [reading("discharge_line", dice.uniform(268 if refrigerant == "R-32" else 253, 290))]


def locked(dice, refrigerant):
    return [amps(12 * dice.uniform(3, 8))]


def current(dice, refrigerant):
    return [amps(12 * dice.uniform(1.5, 2.3))]


def freezing(dice, refrigerant):
    return [probe("source_water_out", dice.uniform(26, 31)), probe("source_water_in", dice.uniform(34, 38))]


DANGERS = {
    "head": head,
    "vacuum": vacuum,
    "discharge": discharge,
    "locked": locked,
    "current": current,
    "freezing": freezing,
}


def drawn(dice, kind, layout, refrigerant, mode):
    """A sound run in which a danger stands, perhaps a doubt besides, and of the rest perhaps next to nothing."""
    outdoor, indoor = (dice.uniform(10, 60), 70) if mode == "heating" else (dice.uniform(75, 110), 76)
    if layout == WATER:
        outdoor = dice.uniform(36, 60)
    made = healthy(layout, mode, outdoor, indoor, refrigerant).run()
    danger = DANGERS[kind](dice, refrigerant)
    rest = made["readings"]
    if dice.random() < 0.5:
        rest = dice.sample(rest, dice.choice((0, 1, 3)))
    if dice.random() < 0.5:
        rest = [*rest, *dice.choice(DOUBTS)]
    mine = {(one["station"], one["quantity"]) for one in danger}
    readings = [one for one in rest if (one["station"], one["quantity"]) not in mine]
    return {
        **made,
        "minutes_running": dice.choice((None, 0, 1, 3, 8, 12, 30)),
        "readings": [*readings, *danger],
    }


def danger_checks(found):
    return {check.code: check.explain for check in found.runs[0].checks if check.code.startswith("danger.")}


@pytest.mark.parametrize("kind", DANGERS)
def test_a_danger_leads_at_any_minute_over_any_doubt_and_with_little_read(kind):
    dice = random.Random(kind)
    for _ in range(few(8, 50)):
        layout = WATER if kind == "freezing" else dice.choice(list(LAYOUTS))
        mode = "heating" if kind == "freezing" else dice.choice(("heating", "cooling"))
        refrigerant = dice.choice(list(CUTOUT))
        run = drawn(dice, kind, layout, refrigerant, mode)
        found = examined(layout, run, refrigerant=refrigerant, **RATED)
        said = (
            found.verdict,
            refrigerant,
            mode,
            [one.model_dump() for one in found.runs[0].doubts],
            danger_checks(found),
            run,
        )
        assert (found.lead, found.outcome) == ("danger", "fail"), said
        assert found.headline.startswith("Stop"), found.verdict


def test_no_sound_unit_is_stopped_on_the_hottest_or_the_coldest_day():
    dice = random.Random(13)
    for _ in range(few(24, 300)):
        layout, mode = dice.choice([*LAYOUTS, WATER]), dice.choice(("heating", "cooling"))
        outdoor, indoor = (dice.uniform(0, 62), 70) if mode == "heating" else (dice.uniform(66, 115), 76)
        if layout == WATER:
            outdoor = dice.uniform(48, 70) if mode == "heating" else dice.uniform(55, 95)
        refrigerant = dice.choice(list(CUTOUT))
        run = healthy(layout, mode, outdoor, indoor, refrigerant).run()
        run["readings"].append(amps(12 * dice.uniform(0.5, 1.15)))
        run["minutes_running"] = dice.choice((1, 5, 12, 30))
        found = examined(layout, run, refrigerant=refrigerant, **RATED)
        assert not found.headline.startswith("Stop"), (found.verdict, layout, mode, outdoor, refrigerant)

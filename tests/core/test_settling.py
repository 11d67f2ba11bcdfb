"""Settled or not: never while more than a degree is still to come, and not much later than that is so."""

import random

import numpy as np
import pytest

from draws import few
from icepick.core.machine.board import BoardSettings
from icepick.core.machine.by_coil import Weather
from icepick.core.machine.running_unit import RunningUnit, Setup
from icepick.core.settling.approach import approach
from layouts import TRUTH
from sick import of_layout

CELSIUS, FAHRENHEIT = 273.15, 5 / 9
AIR_TO_AIR = [name for name, (unit, *_) in TRUTH.items() if unit["source"] == unit["load"] == "air"]
EVERY = 3
"""Seconds between looks, as if a screen asked no oftener: what is judged is judged from every second."""


def judged(values, within=1.0, noise=0.05, seed=1):
    """When it is called settled, look by look, of a clean course second by second with noise on it."""
    noisy = values + np.random.default_rng(seed).normal(0, noise, values.size)
    seconds, settled, said = np.arange(values.size, dtype=float), False, np.zeros(values.size, bool)
    for at in range(60, values.size, EVERY):
        recent = slice(max(0, at - 260), at + 1)
        found = approach(seconds[recent], noisy[recent], within)
        settled = found is not None and found.settled(settled)
        said[at : at + EVERY] = settled
    return said


def to_come(values):
    """How far it still goes from each second on: of all that follows, the farthest."""
    high = np.maximum.accumulate(values[::-1])[::-1]
    low = np.minimum.accumulate(values[::-1])[::-1]
    return np.maximum(high - values, values - low)


@pytest.mark.one_in(2)
@pytest.mark.parametrize("constant", [15, 40, 90, 150, 240])
@pytest.mark.parametrize("far", [-25.0, 6.0])
def test_one_way_by_its_formula(constant, far):
    """x = far·exp(−t/τ): a degree is left at τ·ln|far|, whatever else is thought of it."""
    seconds = np.arange(1500.0)
    said = judged(far * np.exp(-seconds / constant))
    true_at = constant * np.log(abs(far))
    first = float(np.argmax(said))
    assert said.any()
    # A tenth of the width is what two minutes of such noise leave open.
    assert first >= constant * np.log(abs(far) / 1.1)
    assert first <= max(true_at, 0) + 125
    assert said[int(first) :].all()


def test_a_value_that_turns_round_is_not_at_rest_where_it_turns():
    seconds = np.arange(900.0)
    values = 18 * np.exp(-seconds / 30) - 9 * np.exp(-seconds / 160)
    turn = int(np.argmin(values[:300]))
    assert abs(np.diff(values)[turn - 1 : turn + 1]).max() < 0.01
    said = judged(values)
    assert not said[to_come(values) > 1].any()
    assert said[-60:].all()


@pytest.mark.parametrize(
    ("says", "values"),
    [
        ("a slow fall", 70 - 0.01 * np.arange(600.0)),
        ("it swings", 50 + 4 * np.sin(2 * np.pi * np.arange(600.0) / 300)),
    ],
)
def test_what_goes_on_is_not_settled(says, values):
    assert not judged(values)[200:500].any(), says


def test_a_gap_a_slow_probe_and_too_little():
    seconds = np.arange(0.0, 130.0, 5.0)
    level = 40 + np.random.default_rng(2).normal(0, 0.05, seconds.size)
    assert approach(seconds, level, 1.0).settled()
    assert approach(seconds[seconds > 60], level[seconds > 60], 1.0) is None, "an hour of nothing before"
    assert approach(seconds[::4], level[::4], 1.0) is None, "seven samples"
    assert approach(seconds, np.full(seconds.size, np.nan), 1.0) is None
    assert approach(seconds, np.full(seconds.size, 40.0), 1.0).settled(), "without any noise"
    few_gaps = np.where(np.arange(seconds.size) % 6 == 2, np.nan, level)
    assert approach(seconds, few_gaps, 1.0).level == pytest.approx(40, abs=0.1)


@pytest.mark.one_in(2)
@pytest.mark.parametrize("seed", range(few(4, 200)))
def test_a_drawn_start_is_judged_right_at_every_pipe(seed):
    """A machine of some layout, weather and mode, with probes that lag and waver: the truth is its course without noise."""
    chance = random.Random(seed)
    mode = chance.choice(["heating", "cooling"])
    outdoors = chance.uniform(20, 55) if mode == "heating" else chance.uniform(70, 105)
    weather = Weather(
        CELSIUS + (outdoors - 32) * FAHRENHEIT, chance.uniform(0.2, 0.6), CELSIUS + chance.uniform(19, 25)
    )
    unit = of_layout(chance.choice(AIR_TO_AIR))
    running = RunningUnit(unit, Setup(weather, BoardSettings(method="none")))
    lag, rows = chance.uniform(2, 12), []
    for _ in range(1200):
        running.step(1.0, mode)
        rows.append(running.shown())
    places = [place for place in rows[0] if place[1] == "temperature"]
    for place in chance.sample(places, 8):
        aim = np.array([row[place] for row in rows]) / FAHRENHEIT
        course = np.empty(aim.size)
        course[0] = chance.choice([weather.air, weather.room]) / FAHRENHEIT
        for at in range(1, aim.size):
            course[at] = course[at - 1] + (aim[at] - course[at - 1]) / (lag + 1)
        said, left = judged(course, noise=chance.uniform(0.03, 0.12), seed=seed), to_come(course)
        known = slice(0, 900)
        assert left[known][said[known]].max(initial=0) <= 1.0, (place, mode)
        over = np.flatnonzero(left[known] > 1)
        true_at = int(over[-1]) + 1 if over.size else 0
        assert said[true_at + 125 : 900].all(), (place, mode, true_at)

"""The machine model (issue 13): a sound state from nothing under 20 ms, one near a solved state under 5 ms, 150 states under
1 s, 1,300 under 5 s; what a run should show, asked anew.
"""

import dataclasses
import itertools
import json

import numpy as np

from icepick.core.circuit.context import run_context
from icepick.core.document.visit import parse_visit
from icepick.core.machine import expected as module
from icepick.core.machine.faults import FAULTS, possible
from icepick.core.machine.sizing import size
from icepick.core.machine.steady import beside, settle
from icepick.core.machine.variation import AT_REST, Variation, batch
from icepick.core.practice import DEFAULT_PRACTICE
from solved import unit, weather

UNIT = unit()
MACHINE = size(UNIT)
HEATING = weather(UNIT, "heating", 30)
SOUND = settle(MACHINE, "heating", HEATING, AT_REST, 1)


def states(count):
    """Faults by severities by small changes of what is unknown."""
    faults = [f for f in FAULTS if possible(f, UNIT, "heating") and not f.backwards]
    severities = [fault.effect(amount) for fault in faults for amount in fault.amounts]
    nudged = [
        Variation(indoor_flow=1 + step) for step in np.linspace(-0.1, 0.1, count // len(severities) + 1)
    ]
    every = [one.and_also(nudge) for nudge, one in itertools.product(nudged, severities)][:count]
    return batch(every), len(every)


def test_a_sound_state_from_nothing(benchmark):
    benchmark(settle, MACHINE, "heating", HEATING, AT_REST, 1)


def test_a_state_near_a_solved_one(benchmark):
    near = dataclasses.replace(HEATING, outdoor=HEATING.outdoor + 0.3)

    def moved():
        start = beside(MACHINE, "heating", near, HEATING, SOUND.unknown)
        return settle(MACHINE, "heating", near, AT_REST, 1, start)

    found = benchmark(moved)
    assert found.converged.all()


def test_150_states(benchmark):
    knobs, count = states(150)
    start = np.repeat(SOUND.unknown, count, axis=1)
    found = benchmark(settle, MACHINE, "heating", HEATING, knobs, count, start)
    assert found.converged.mean() > 0.99


def test_1300_states(benchmark):
    knobs, count = states(1300)
    start = np.repeat(SOUND.unknown, count, axis=1)
    found = benchmark.pedantic(settle, (MACHINE, "heating", HEATING, knobs, count, start), rounds=3)
    assert found.converged.mean() > 0.99


def test_sizing(benchmark):
    from icepick.core.machine import sizing

    def anew():
        sizing._sized.cache_clear()
        return size(UNIT)

    benchmark(anew)


def test_what_a_run_should_show_asked_anew(benchmark):
    document = {
        "format": "icepick-visit",
        "version": 1,
        "site": {"name": "bench"},
        "unit": UNIT.model_dump(mode="json", exclude_none=True),
        "runs": [
            {
                "id": "a",
                "mode": "heating",
                "minutes_running": 20,
                "readings": [
                    {"station": place, "quantity": "temperature", "value": value, "unit": "degF"}
                    for place, value in (("outdoor_air_in", 30), ("return_air", 69))
                ],
            }
        ],
    }

    visit = parse_visit(json.dumps(document))

    def asked():
        module._predicted.cache_clear()
        return module.expected(
            run_context(visit.runs[0], visit.unit, DEFAULT_PRACTICE, "field", visit.site.atmosphere)
        )

    assert benchmark(asked).stations

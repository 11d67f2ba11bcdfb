"""Visits to units with two circuits, by machines that keep other laws than the product's model (tests/other_laws.py).

The two are siblings: each unknown of the second lies near where it lies in the first. The air that leaves a coil they share
is what the two make of it together.
"""

from __future__ import annotations

import json
import random
from typing import Any

from builders import visit_document
from icepick.core.document.several import unit_of
from icepick.core.document.visit import Unit, Visit, parse_visit
from icepick.core.machine.faults import machine_fault
from icepick.core.machine.variation import AT_REST
from layouts import TXV, kind
from other_laws import other_laws
from played import Draw, Weather, played
from sick import GRAVE
from solved import unit

PACKAGE = kind("packaged", TXV, TXV, {"kind": "bi_flow", "place": "outdoor_unit"})
WATER = kind("packaged", TXV, TXV, source="water", load="water")
TOGETHER = 0.85
"""How near siblings lie, of everything unknown of each; the product takes more for what one design has in common and less for
what is set by hand. [our own choice]"""
WEATHER = {"air": {"heating": Weather(38, 70), "cooling": Weather(92, 76, 0.5, 0.5)},
           "water": {"heating": Weather(50, 105), "cooling": Weather(80, 54)}}  # fmt: skip


def of_two(parts: dict[str, Any] = PACKAGE, **changes: Any) -> Unit:
    """A unit of 120,000 Btu/h with two circuits."""
    changes = {
        "nominal_capacity": {"value": 120_000, "unit": "Btu/h"},
        "circuits": [{"id": "1"}, {"id": "2"}],
        **changes,
    }
    return unit(**{**parts, **changes})


def of_siblings(
    made: Unit,
    faults: dict[str, tuple[str, float | None]],
    modes: tuple[str, ...],
    seed: int = 1,
    reach: float = 0.7,
    weather: dict[str, Weather] | None = None,
) -> dict[str, Any]:
    """A visit document: a run of each circuit in each mode. ``faults`` has circuit → fault, and how grave."""
    chance = random.Random(seed)
    first = Draw.of(chance, reach)
    draws = {
        one.id: first if n == 0 else _sibling(first, chance) for n, one in enumerate(made.circuits or ())
    }
    runs = []
    for mode in modes:
        around = (weather or WEATHER[made.source])[mode]
        of_mode = [_run(made, id, mode, around, draw, faults.get(id), chance) for id, draw in draws.items()]
        _mix(of_mode)
        runs += of_mode
    document = visit_document(*runs)
    document["unit"] = made.model_dump(mode="json", exclude_none=True)
    return document


def visited(*args: Any, **more: Any) -> Visit:
    return parse_visit(json.dumps(of_siblings(*args, **more)))


class _Beside(dict[str, float]):
    def __init__(self, first: Draw, chance: random.Random) -> None:
        super().__init__()
        self._first, self._chance = first, chance

    def __missing__(self, name: str) -> float:
        own = self._chance.gauss(0, 1) * (1 - TOGETHER**2) ** 0.5
        self[name] = TOGETHER * self._first.off[name] + own
        return self[name]


def _sibling(first: Draw, chance: random.Random) -> Draw:
    return Draw(_Beside(first, chance))


def _run(
    made: Unit,
    id: str,
    mode: str,
    weather: Weather,
    draw: Draw,
    wrong: tuple[str, float | None] | None,
    chance: random.Random,
) -> dict[str, Any]:
    own = unit_of(made, id)
    fault = machine_fault(wrong[0]) if wrong else None  # type: ignore[arg-type]
    amount = (wrong[1] if wrong[1] is not None else GRAVE[wrong[0]]) if wrong else 0.0
    knobs = draw.variation(own, mode).and_also(fault.effect(amount) if fault else AT_REST)
    with other_laws():
        (run,) = played(own, mode, [weather], [knobs], chance)
    assert run is not None, "the machine comes to no rest"
    return {**run, "id": f"{mode} {id}", "circuit": id}


def _mix(runs: list[dict[str, Any]]) -> None:
    for station in ("supply_air", "outdoor_air_out"):
        read = [one for run in runs for one in run["readings"] if one["station"] == station]
        for quantity in {one["quantity"] for one in read}:
            every = [one for one in read if one["quantity"] == quantity]
            mean = round(sum(one["value"] for one in every) / len(every), 1)
            for one in every:
                one["value"] = mean

"""Demo visits to units with several heads: two in the Lock House, five in the Heron Guest House."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from heads import PARTS, Wrong, headed
from icepick.core.document.visit import Unit
from played import Weather


def _capacity(value: int) -> dict[str, Any]:
    return {"value": value, "unit": "Btu/h"}


_SHARED: dict[str, Any] = {
    **PARTS,
    "refrigerant": "R-32",
    "accumulator": True,
    "compressor": {"kind": "inverter", "rated_current": {"value": 13, "unit": "A"}},
    "reversing_valve": {"energized_in": "heating"},
    "defrost": {"method": "demand"},
    "backup_heat": "none",
}
LOCK_HOUSE: dict[str, Any] = {
    "label": "lock keeper's rooms",
    **_SHARED,
    "nominal_capacity": _capacity(24_000),
    "heads": [{"label": "office"}, {"label": "kitchen"}],
}
GUEST_HOUSE: dict[str, Any] = {
    "label": "guest rooms",
    **_SHARED,
    "nominal_capacity": _capacity(42_000),
    "heads": [
        {"label": "parlor", "nominal_capacity": _capacity(12_000)},
        {"label": "breakfast room", "nominal_capacity": _capacity(9_000)},
        {"label": "lake room", "nominal_capacity": _capacity(9_000)},
        {"label": "garden room", "nominal_capacity": _capacity(6_000)},
        {"label": "attic", "nominal_capacity": _capacity(6_000)},
    ],
}
_CLAMPED = {
    "discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction", "outdoor_coil", "outdoor_air_in",
    "liquid_line_outdoor", "vapor_line_outdoor", "indoor_coil", "return_air", "supply_air", "common_suction_tap",
    "discharge_tap",
}  # fmt: skip
SUMMER, WINTER = Weather(88, 75, 0.5, 0.5, 0.7), Weather(34, 68, speed=0.9)

Called = tuple[str, Sequence[int]]


def _runs(unit: dict[str, Any], called: list[Called], wrong: Wrong | None, seed: int) -> list[dict[str, Any]]:
    weather = {"cooling": SUMMER, "heating": WINTER}
    made = headed(Unit.model_validate(unit), called, wrong, seed=seed, weather=weather)
    return [
        {**run, "readings": [one for one in run["readings"] if one["station"].partition(":")[0] in _CLAMPED]}
        for run in made["runs"]
    ]


def heads(visit: Callable[..., Any]) -> dict[str, tuple[str, Any]]:
    """Each unit sound, and each with everything that may be wrong with a head."""
    lock, guests = ("Lock House", LOCK_HOUSE), ("Heron Guest House", GUEST_HOUSE)
    return {
        "lock-house-sound": (
            "2026-05-20T09:05:00+00:00",
            visit(*lock, "start_up", *_runs(LOCK_HOUSE, [("cooling", [1, 2])], None, 31)),
        ),
        "lock-house-leaking": (
            "2026-07-14T13:40:00+00:00",
            visit(*lock, "weak", *_runs(LOCK_HOUSE, [("cooling", [1])], Wrong("leaking", (2,)), 32)),
        ),
        "lock-house-closed": (
            "2026-10-22T08:20:00+00:00",
            visit(*lock, "no_heat", *_runs(LOCK_HOUSE, [("heating", [1, 2])], Wrong("closed", (2,)), 33)),
        ),
        "lock-house-crossed": (
            "2026-11-19T15:10:00+00:00",
            visit(*lock, "no_heat", *_runs(LOCK_HOUSE, [("heating", [1])], Wrong("wires", (1, 2)), 34)),
        ),
        "guest-house-sound": (
            "2026-02-11T11:30:00+00:00",
            visit(*guests, "routine", *_runs(GUEST_HOUSE, [("heating", [1, 2, 4])], None, 41)),
        ),
        "guest-house-crossed": (
            "2026-06-02T10:15:00+00:00",
            visit(
                *guests, "no_cooling", *_runs(GUEST_HOUSE, [("cooling", [2, 3])], Wrong("lines", (3, 5)), 42)
            ),
        ),
        "guest-house-closed": (
            "2026-08-05T16:00:00+00:00",
            visit(
                *guests,
                "no_cooling",
                *_runs(GUEST_HOUSE, [("cooling", [1, 3, 4])], Wrong("closed", (4,)), 43),
            ),
        ),
        "guest-house-leaking": (
            "2026-11-24T09:50:00+00:00",
            visit(
                *guests, "high_bills", *_runs(GUEST_HOUSE, [("heating", [1, 2])], Wrong("leaking", (5,)), 44)
            ),
        ),
    }

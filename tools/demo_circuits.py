"""Demo visits to units with two circuits: a package on the Auction Hall's roof, and the Laundry's water-to-water unit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from icepick.core.document.visit import Unit
from played import Weather
from siblings import PACKAGE, WATER, of_siblings

AUCTION_HALL: dict[str, Any] = {
    "label": "roof, sale room",
    **PACKAGE,
    "refrigerant": "R-454B",
    "nominal_capacity": {"value": 120_000, "unit": "Btu/h"},
    "accumulator": True,
    "compressor": {"kind": "single", "rated_current": {"value": 15.5, "unit": "A"}},
    "reversing_valve": {"energized_in": "cooling"},
    "defrost": {"method": "demand"},
    "backup_heat": "electric",
    "circuits": [{"id": "1"}, {"id": "2"}],
}
LAUNDRY: dict[str, Any] = {
    "label": "boiler room, hot water",
    **WATER,
    "refrigerant": "R-513A",
    "nominal_capacity": {"value": 144_000, "unit": "Btu/h"},
    "accumulator": False,
    "compressor": {"kind": "single", "rated_current": {"value": 22, "unit": "A"}},
    "reversing_valve": {"energized_in": "cooling"},
    "circuits": [{"id": "A"}, {"id": "B"}],
}
PIPES_AT_THE_VALVE = {"discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction"}
BY_CLAMPS_AND_ONE_GAUGE = PIPES_AT_THE_VALVE | {
    "compressor_inlet", "indoor_coil", "outdoor_coil", "indoor_meter_line_side", "outdoor_meter_line_side",
    "liquid_line_outdoor", "vapor_line_indoor", "outdoor_air_in", "return_air", "supply_air", "source_water_in",
    "source_water_out", "load_water_in", "load_water_out", "common_suction_tap", "liquid_service_tap",
}  # fmt: skip

Faults = dict[str, tuple[str, float | None]]


def _runs(
    unit: dict[str, Any], weather: dict[str, Weather], faults: Faults, seed: int, read: set[str]
) -> list[dict[str, Any]]:
    made = of_siblings(Unit.model_validate(unit), faults, tuple(weather), seed, weather=weather)
    return [
        {
            **run,
            "id": f"run-{place}",
            "readings": [one for one in run["readings"] if one["station"] in read],
        }
        for place, run in enumerate(made["runs"], start=1)
    ]


def circuits(visit: Callable[..., Any]) -> dict[str, tuple[str, Any]]:
    """Each sound, and each with something wrong on one circuit."""
    hall, laundry = ("Auction Hall", AUCTION_HALL), ("Steam Laundry", LAUNDRY)
    summer = {"cooling": Weather(90, 75, 0.5, 0.5)}
    autumn = {"heating": Weather(41, 68)}
    loop = {"heating": Weather(49, 104)}
    heating = _runs(AUCTION_HALL, autumn, {}, 5, PIPES_AT_THE_VALVE | {"outdoor_air_in", "return_air"})
    stayed = _runs(AUCTION_HALL, {"cooling": Weather(41, 68)}, {}, 5, PIPES_AT_THE_VALVE)[1]
    # Called for heating as well, the slide of the second valve stays where it was.
    second = {**heating[1], "readings": stayed["readings"]}
    return {
        "auction-hall-sound": (
            "2026-06-18T09:10:00+00:00",
            visit(*hall, "routine", *_runs(AUCTION_HALL, summer, {}, 11, BY_CLAMPS_AND_ONE_GAUGE)),
        ),
        "auction-hall-charge": (
            "2026-08-19T14:25:00+00:00",
            visit(
                *hall,
                "weak",
                *_runs(AUCTION_HALL, summer, {"2": ("undercharge", 22)}, 12, BY_CLAMPS_AND_ONE_GAUGE),
            ),
        ),
        "auction-hall-valve": (
            "2026-11-25T08:15:00+00:00",
            visit(*hall, "weak", heating[0], second),
        ),
        "laundry-sound": (
            "2026-03-12T10:40:00+00:00",
            visit(*laundry, "start_up", *_runs(LAUNDRY, loop, {}, 21, BY_CLAMPS_AND_ONE_GAUGE)),
        ),
        "laundry-coil": (
            "2026-11-26T10:05:00+00:00",
            visit(
                *laundry,
                "high_bills",
                *_runs(LAUNDRY, loop, {"A": ("source_coil_fouled", 60)}, 22, BY_CLAMPS_AND_ONE_GAUGE),
            ),
        ),
    }

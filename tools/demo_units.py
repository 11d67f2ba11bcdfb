"""The equipment of Tarnwick's demo visits: every layout, made up."""

from __future__ import annotations

from typing import Any

AIR = {"source": "air", "load": "air"}


def quantity(value: float, unit: str) -> dict[str, Any]:
    return {"value": value, "unit": unit}


def unit(label: str, layout: str, refrigerant: str, **parts: Any) -> dict[str, Any]:
    """A split-type unit with two thermostatic valves, unless told otherwise."""
    return {
        "label": label,
        "layout": layout,
        **AIR,
        "refrigerant": refrigerant,
        "nominal_capacity": quantity(36000, "Btu/h"),
        "indoor_meter": {"kind": "txv", "bypass": "internal_check", "bulb_at": "common_suction"},
        "outdoor_meter": {"kind": "txv", "bypass": "internal_check", "bulb_at": "common_suction"},
        "drier": {"kind": "bi_flow", "place": "outdoor_unit"},
        "accumulator": True,
        "compressor": {"kind": "single", "rated_current": quantity(14.1, "A")},
        "reversing_valve": {"energized_in": "cooling"},
        "defrost": {
            "method": "time_temperature",
            "interval": quantity(60, "min"),
            "start_below": quantity(30, "degF"),
            "stop_above": quantity(50, "degF"),
            "limit": quantity(10, "min"),
        },
        "design": {"cooling": {"subcooling": quantity(9, "delta_degF")}},
        **parts,
    }


NO_METER = {"kind": "none", "bypass": "none"}
NO_DRIER = {"kind": "none"}
WATER_TABLE = [
    {"drop": quantity(drop, "psi"), "flow": quantity(flow, "gpm")}
    for drop, flow in ((0.9, 4.5), (1.7, 6.5), (2.9, 9.0), (4.8, 12.0))
]

KIOSK = unit(
    "Lighthouse kiosk, wall unit",
    "ductless",
    "R-32",
    nominal_capacity=quantity(12000, "Btu/h"),
    indoor_meter=NO_METER,
    outdoor_meter={"kind": "eev", "bypass": "none"},
    drier=NO_DRIER,
    compressor={"kind": "inverter", "rated_current": quantity(6.2, "A")},
    reversing_valve={"energized_in": "heating"},
    defrost={"method": "demand"},
)
PLANT_ROOF = unit(
    "Swimming hall, plant roof",
    "packaged",
    "R-410A",
    nominal_capacity=quantity(48000, "Btu/h"),
    indoor_meter=NO_METER,
    outdoor_meter={"kind": "txv", "bypass": "none", "bulb_at": "common_suction"},
    drier=NO_DRIER,
    compressor={"kind": "two_stage", "rated_current": quantity(17.9, "A")},
)
SMOKEHOUSE = unit(
    "Smokehouse cold store office",
    "packaged",
    "R-22",
    nominal_capacity=quantity(24000, "Btu/h"),
    indoor_meter={"kind": "capillary", "bypass": "external_check"},
    outdoor_meter={"kind": "capillary", "bypass": "external_check"},
    drier=NO_DRIER,
    compressor={"kind": "single", "rated_current": quantity(10.9, "A")},
)
FERRY_WORKSHOP = unit(
    "Ferry workshop, lake loop",
    "packaged",
    "R-410A",
    source="water",
    indoor_meter=NO_METER,
    outdoor_meter={"kind": "txv", "bypass": "none", "bulb_at": "common_suction"},
    drier=NO_DRIER,
    accumulator=False,
    defrost={"method": "none"},
    design={
        "cooling": {"subcooling": quantity(9, "delta_degF")},
        "indoor_airflow": quantity(1200, "cfm"),
        "water_flow_table": WATER_TABLE,
        "heat_of_extraction": quantity(27000, "Btu/h"),
        "heat_of_rejection": quantity(45000, "Btu/h"),
    },
)
CAFE_FLOOR = unit(
    "Boathouse café, floor heating",
    "packaged",
    "R-407C",
    source="water",
    load="water",
    drier={"kind": "bi_flow", "place": "outdoor_unit"},
    defrost={"method": "none"},
    design={"water_flow_table": WATER_TABLE, "heat_of_extraction": quantity(30000, "Btu/h")},
)
PIER_HOUSE = unit(
    "Pier house, attic",
    "split",
    "R-134a",
    nominal_capacity=quantity(24000, "Btu/h"),
    indoor_meter={"kind": "piston", "bypass": "sliding_piston"},
    outdoor_meter={"kind": "piston", "bypass": "sliding_piston"},
    drier={"kind": "bi_flow", "place": "line_set"},
    compressor={"kind": "single", "rated_current": quantity(11.3, "A")},
)
NET_HALL = unit("Net hall, two rooms", "split", "R-410A")
CHANDLERY = unit(
    "Chandlery, shop floor",
    "split",
    "R-32",
    compressor={"kind": "single", "rated_current": quantity(12.6, "A")},
)
SCHOOL = unit(
    "School, music room", "split", "R-22", compressor={"kind": "single", "rated_current": quantity(15.0, "A")}
)
SAIL_LOFT = unit("Sail loft, upstairs", "split", "R-410A")
TOLL_HOUSE = unit("Toll house, office", "split", "R-454B", model="made up, 30", serial="TW-0042")
MILL = unit(
    "Mill museum, exhibition",
    "split",
    "R-410A",
    design={"cooling": {"subcooling": quantity(10, "delta_degF")}},
)
BANDSTAND = unit(
    "Bandstand office",
    "split",
    "R-410A",
    design={
        "cooling": {"subcooling": quantity(9, "delta_degF")},
        "indoor_airflow": quantity(1200, "cfm"),
        "supply_fan_power": quantity(430, "W"),
    },
)
ROWING_CLUB = unit("Rowing club, changing rooms", "split", "R-454B")
LOCK_COTTAGE = unit("Lock cottage", "split", "R-410A")
REED_CUTTER = unit(
    "Reed cutter's house",
    "split",
    "R-22",
    nominal_capacity=quantity(30000, "Btu/h"),
)
BOAT_MUSEUM = unit("Boat museum, workshop", "split", "R-410A")
SIGNAL_BOX = unit("Signal box", "split", "R-32")
ICE_HOUSE = {**FERRY_WORKSHOP, "label": "Ice house, lake loop"}
FISH_HATCHERY = {**FERRY_WORKSHOP, "label": "Hatchery, lake loop", "refrigerant": "R-454B"}

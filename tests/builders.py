"""A visit to start from; tests change what they are about."""

from __future__ import annotations

import copy
import json
from typing import Any

from icepick.core.document.visit import Visit, parse_visit

VALVE_PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")

SPLIT_UNIT: dict[str, Any] = {
    "label": "test unit",
    "layout": "split",
    "source": "air",
    "load": "air",
    "refrigerant": "R-410A",
    "indoor_meter": {"kind": "txv", "bypass": "internal_check"},
    "outdoor_meter": {"kind": "txv", "bypass": "internal_check"},
    "drier": {"kind": "bi_flow", "place": "outdoor_unit"},
    "accumulator": True,
    "compressor": {"kind": "single"},
    "reversing_valve": {"energized_in": "cooling"},
}


def reading(station: str, value: float, **more: Any) -> dict[str, Any]:
    """A temperature in °F by clamp, unless told otherwise."""
    return {
        "station": station,
        "quantity": "temperature",
        "value": value,
        "unit": "degF",
        "method": "clamp",
        **more,
    }


def probe(station: str, value: float, quantity: str = "temperature") -> dict[str, Any]:
    """A temperature or wet bulb in °F by probe."""
    return reading(station, value, quantity=quantity, method="probe")


def volts(station: str, value: float) -> dict[str, Any]:
    return reading(station, value, quantity="voltage", unit="V", method="meter")


def ohms(value: float, station: str = "solenoid") -> dict[str, Any]:
    return reading(station, value, quantity="resistance", unit="ohm", method="meter")


def amps(value: float, station: str = "compressor") -> dict[str, Any]:
    return reading(station, value, quantity="current", unit="A", method="meter")


def psi(station: str, value: float) -> dict[str, Any]:
    return reading(station, value, quantity="pressure", unit="psi", method="gauge")


def visit_document(*runs: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A visit as plain data."""
    return copy.deepcopy(
        {
            "format": "icepick-visit",
            "version": 1,
            "site": {"name": "Test Hall"},
            "unit": SPLIT_UNIT,
            "runs": list(runs),
            **more,
        }
    )


def valve_run(mode: str, *pipes: float | None, minutes: float | None = 15, **more: Any) -> dict[str, Any]:
    """A run with the four pipes at the valve: discharge, indoor port, outdoor port, common (None: unread)."""
    readings = [
        reading(code, value, **more)
        for code, value in zip(VALVE_PIPES, pipes, strict=True)
        if value is not None
    ]
    return {"id": mode, "mode": mode, "minutes_running": minutes, "readings": readings}


def ductless(refrigerant: str, feet: float) -> dict[str, Any]:
    """42,000 Btu/h on a ductless unit, whose metered line runs all the way to the house."""
    eev = {"kind": "eev", "bypass": "none"}
    none = {"kind": "none", "bypass": "none"}
    return {
        **SPLIT_UNIT,
        "layout": "ductless",
        "refrigerant": refrigerant,
        "nominal_capacity": {"value": 42_000, "unit": "Btu/h"},
        "indoor_meter": none,
        "outdoor_meter": eev,
        "drier": {"kind": "none", "place": None},
        "line_set_length": {"value": feet, "unit": "ft"},
    }


def as_visit(*runs: dict[str, Any], **more: Any) -> Visit:
    return parse_visit(json.dumps(visit_document(*runs, **more)))

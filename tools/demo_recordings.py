"""Demo visits with a recorded defrost: a sound unit, and one with each fault, played by the transient machine and written
down by made-up probes with a little noise."""

from __future__ import annotations

import random
from dataclasses import replace
from typing import Any

import demo_units as units
import numpy as np

from icepick.core.document.recording import allowed
from icepick.core.document.visit import Unit
from icepick.core.machine.board import BoardSettings
from icepick.core.machine.by_coil import Weather
from icepick.core.machine.transient import Scenario, play
from icepick.core.properties import sensors
from icepick.core.properties.quantities import from_si, to_si

EVERY = 15
"""Seconds between samples."""
NOISE = 0.2
"""Of a thermometer [°F], as one standard deviation."""
PLACES = (
    ("outdoor_coil", "temperature", "degF"),
    ("coil_sensor", "temperature", "degF"),
    ("outdoor_air_in", "temperature", "degF"),
    ("outdoor_air_in", "relative_humidity", "percent"),
    ("valve_to_outdoor", "temperature", "degF"),
    ("valve_to_indoor", "temperature", "degF"),
    ("return_air", "temperature", "degF"),
    ("supply_air", "temperature", "degF"),
    ("supply_air_after_heat", "temperature", "degF"),
    ("coil_sensor", "resistance", "kohm"),
    ("solenoid", "voltage", "V"),
    ("terminal_w", "voltage", "V"),
    ("compressor", "state", "1"),
    ("outdoor_fan", "state", "1"),
    ("backup_heat", "state", "1"),
)
CELSIUS = 273.15
DAMP = Weather(CELSIUS + 0.6, 0.92, CELSIUS + 20.6)
BOARD = BoardSettings(interval=3600, start_below=CELSIUS - 1, stop_above=CELSIUS + 10, limit=600)


def _unit(label: str) -> dict[str, Any]:
    """A split of three tons whose board's settings are noted."""
    made = units.unit(label, "split", "R-410A", nominal_capacity=units.quantity(36000, "Btu/h"))
    made["backup_heat"] = "electric"
    made["defrost"] = {
        "method": "time_temperature",
        "interval": units.quantity(60, "min"),
        "start_below": units.quantity(30, "degF"),
        "stop_above": units.quantity(50, "degF"),
        "limit": units.quantity(10, "min"),
    }
    return made


def _recording(unit: dict[str, Any], scenario: Scenario, started: str, seed: int) -> dict[str, Any]:
    played, dice = play(Unit.model_validate(unit), scenario), random.Random(seed)
    sensed = played.values["coil_sensor", "temperature"] + scenario.board.sensor_error
    kinds = np.clip(sensed, sensors.DEFAULT_TABLE[0][0], sensors.DEFAULT_TABLE[-1][0])
    ohms = np.array([sensors.resistance(value) for value in kinds[::EVERY].tolist()])
    series = []
    for station, quantity, shown_in in PLACES:
        kind = allowed(station, quantity).kind
        raw = ohms if quantity == "resistance" else played.values[station, quantity][::EVERY]
        values = [from_si(value, shown_in, kind) for value in raw.tolist()]
        if quantity == "temperature":
            values = [value + dice.gauss(0, NOISE) for value in values]
        series.append(
            {
                "station": station,
                "quantity": quantity,
                "unit": shown_in,
                "seconds": [int(at) for at in played.seconds[::EVERY].tolist()],
                "values": [round(value, 1 if quantity != "resistance" else 2) for value in values],
            }
        )
    return {
        "id": "recording-1",
        "mode": "heating",
        "started_at": started,
        "minutes_running": 0,
        "series": series,
        "marks": [{"seconds": at, "code": "defrost_forced"} for at in scenario.forced],
    }


def _visit(site: str, label: str, complaint: str, scenario: Scenario, started: str, seed: int) -> Any:
    unit = _unit(label)
    return {
        "format": "icepick-visit",
        "version": 1,
        "site": {"name": site},
        "complaint": complaint,
        "unit": unit,
        "runs": [{"id": "run-1", "mode": "heating", "minutes_running": 0, "readings": []}],
        "recordings": [_recording(unit, scenario, started, seed)],
    }


def recorded_defrosts() -> dict[str, tuple[str, Any]]:
    """A sound defrost and one with each fault.

    Returns
    -------
    dict
        Name of the file → when the visit was opened, and the visit.
    """
    cold = Weather(CELSIUS - 6.5, 0.95, CELSIUS + 20.6)
    windy = to_si(33, "degF", allowed("outdoor_air_in", "temperature").kind)
    cases = {
        "osier-barn": (
            "Osier Barn",
            "Osier barn, reading room",
            "routine",
            Scenario(DAMP, BOARD, seconds=8400),
        ),
        "toll-bridge": (
            "Toll Bridge",
            "Toll bridge office",
            "iced_outdoor_coil",
            Scenario(Weather(windy, 0.95), replace(BOARD, never_starts=True), seconds=10_800),
        ),
        "reed-house": (
            "Reed House",
            "Reed house, drying loft",
            "blows_cold_in_heating",
            Scenario(DAMP, replace(BOARD, never_stops=True), seconds=5400),
        ),
        "ferry-steps": (
            "Ferry Steps",
            "Ferry steps café",
            "iced_outdoor_coil",
            Scenario(cold, replace(BOARD, fan_stays_on=True), seconds=8700),
        ),
        "quay-office": (
            "Quay Office",
            "Quay office",
            "blows_cold_in_heating",
            Scenario(DAMP, replace(BOARD, no_heat="heater"), seconds=6600, ran=1200, forced=(1500.0,)),
        ),
        "weir-cottage": (
            "Weir Cottage",
            "Weir cottage",
            "iced_outdoor_coil",
            Scenario(DAMP, replace(BOARD, sensor_error=6.5), seconds=10_200),
        ),
        "oar-maker": (
            "Oar Maker",
            "Oar maker's shop",
            "high_bills",
            Scenario(DAMP, replace(BOARD, starts_every=1320), seconds=6600),
        ),
        "swan-annex": (
            "Swan Annex",
            "Swan annex",
            "iced_outdoor_coil",
            Scenario(DAMP, replace(BOARD, valve="stays"), seconds=5400),
        ),
        "lamp-store": (
            "Lamp Store",
            "Lamp store",
            "iced_outdoor_coil",
            Scenario(DAMP, replace(BOARD, valve="no_voltage"), seconds=5400),
        ),
    }
    made = {}
    for day, (name, (site, label, complaint, scenario)) in enumerate(cases.items(), start=1):
        started = f"2026-11-{day + 5:02}T08:{10 + day}:00+00:00"
        made[name] = (started, _visit(site, label, complaint, scenario, started, seed=day))
    return made

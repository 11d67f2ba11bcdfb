"""Recordings made from first principles, by nothing of Icepick: an outdoor coil as one lump of metal with frost on it, a
board, and pipes that follow with a lag. What it can't know is stated as the trade states it.

Water over ice by the Magnus formula (coefficients of WMO-No. 8, from memory); latent heat of ice 334 kJ/kg and specific heats
of air from handbook tables, from memory. Temperatures in °F outside, °C inside.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

ALL = (
    ("outdoor_coil", "temperature", "degF"),
    ("coil_sensor", "temperature", "degF"),
    ("outdoor_air_in", "temperature", "degF"),
    ("outdoor_air_in", "relative_humidity", "percent"),
    ("valve_to_outdoor", "temperature", "degF"),
    ("valve_to_indoor", "temperature", "degF"),
    ("vapor_line_outdoor", "temperature", "degF"),
    ("common_suction", "temperature", "degF"),
    ("discharge_line", "temperature", "degF"),
    ("indoor_coil", "temperature", "degF"),
    ("liquid_line_outdoor", "temperature", "degF"),
    ("return_air", "temperature", "degF"),
    ("supply_air", "temperature", "degF"),
    ("supply_air_after_heat", "temperature", "degF"),
    ("coil_sensor", "resistance", "kohm"),
    ("compressor", "state", "1"),
    ("outdoor_fan", "state", "1"),
    ("backup_heat", "state", "1"),
    ("solenoid", "voltage", "V"),
    ("terminal_w", "voltage", "V"),
)
THIN = (ALL[0], ALL[2], ALL[12])
PIPES = ALL[:14]


@dataclass(frozen=True)
class Scene:
    """Weather, board and faults of one recording. Minutes, °F, percent."""

    air: float = 33.0
    humidity: float = 85.0
    room: float = 70.0
    hours: float = 2.5
    method: str = "time_temperature"
    interval: float = 60.0
    start_below: float = 30.0
    stop_above: float = 50.0
    limit: float = 10.0
    run_at_start: float = 0.0
    frost_at_start: float = 0.0
    force_at: float | None = None
    pause: float = 0.0
    """Seconds that the compressor rests around each shift."""
    cycles: tuple[tuple[float, float], ...] = ()
    """Minutes between which the thermostat rests the compressor."""
    energized_in: str = "cooling"
    capacity: float = 1.0
    """Share of its heat that the outdoor coil takes up: under 1 for a short charge."""
    airflow: float = 1.0
    never_starts: bool = False
    never_stops: bool = False
    fan_runs: bool = False
    fan_dead: bool = False
    no_heat: str = ""
    """``heater`` or ``board``: what keeps the backup heat off."""
    sensor_error: float = 0.0
    """°F that the sensor reads too warm."""
    no_shift: str = ""
    """``valve``, ``voltage`` or ``winding``: why a call for defrost moves nothing."""
    stays_over: bool = False
    starts_every: float | None = None
    """Minutes: a board that ignores timer and sensor."""
    seed: int = 1
    noise: float = 0.2


@dataclass
class Truth:
    """What really happened, in seconds."""

    starts: list[float] = field(default_factory=list)
    ends: list[float] = field(default_factory=list)
    calls: list[float] = field(default_factory=list)
    cleared: list[bool] = field(default_factory=list)
    by: list[str] = field(default_factory=list)
    rows: dict[tuple[str, str], list[float]] = field(default_factory=dict)
    coldest: float = 99.0


def ratio(celsius: float, relative: float = 1.0) -> float:
    """Humidity ratio over ice below freezing, over water above."""
    a, b = (22.46, 272.62) if celsius < 0 else (17.62, 243.12)
    pressure = 611.2 * math.exp(a * celsius / (b + celsius)) * relative
    return 0.622 * pressure / (101_325 - pressure)


def celsius(fahrenheit: float) -> float:
    return (fahrenheit - 32) / 1.8


def fahrenheit(celsius: float) -> float:
    return celsius * 1.8 + 32


FLOW, CONDUCTANCE, METAL, MOST_FROST = 1.35, 2.0, 26.0, 3.6
"""Dry air over the coil [kg/s], its conductance [kW/K], heat capacity of its metal [kJ/K], frost that closes it [kg]."""
MELT, AIR_HEAT = 334.0, 1.006


def play(scene: Scene) -> Truth:
    """The course of a recording, second by second."""
    truth = Truth()
    air, wet = celsius(scene.air), scene.humidity / 100
    water = ratio(air, wet) if air < 0 else ratio(air) * wet
    if air < 0:  # Humidity is stated over water, below freezing too.
        water = 0.622 * wet * 611.2 * math.exp(17.62 * air / (243.12 + air)) / 101_325
    metal, frost, timer = (
        air - (5.5 if scene.run_at_start else 0.0),
        scene.frost_at_start,
        scene.run_at_start * 60,
    )
    reversed_, called_at, board_on = False, None, False
    follow: dict[str, float] = {}
    clear = 6.5
    settled = scene.run_at_start > 0
    courses: list[tuple[float, ...]] = []
    states: list[tuple[float, ...]] = []
    for second in range(int(scene.hours * 3600)):
        minute = second / 60
        resting = not board_on and any(a <= minute < b for a, b in scene.cycles)
        sensor = fahrenheit(metal) + scene.sensor_error
        # The board.
        forced = scene.force_at is not None and abs(minute - scene.force_at) < 1 / 120
        due = timer >= scene.interval * 60 and sensor <= scene.start_below
        if scene.method == "demand":
            if 600 <= timer < 601:
                clear = air - metal
            due = timer >= 30 * 60 and air - metal > clear + 3.0
        if scene.starts_every is not None:
            due = timer >= scene.starts_every * 60
        if (
            not board_on
            and not resting
            and scene.method != "none"
            and not (scene.never_starts)
            and (due or forced)
        ):
            board_on, called_at = True, float(second)
            truth.calls.append(float(second))
        elif board_on and called_at is not None:
            lasted = second - called_at
            warm = sensor >= scene.stop_above and lasted > 30 and not scene.never_stops
            late = lasted >= scene.limit * 60 and not scene.never_stops
            if warm or late:
                board_on = False
                truth.by.append("temperature" if warm else "time_limit")
                if reversed_ and not scene.stays_over:
                    truth.cleared.append(frost < 0.02)
                timer = 0.0
        follows = board_on and not scene.no_shift
        paused = bool(scene.pause) and (
            (follows and called_at is not None and second - called_at < scene.pause)
            or (not board_on and bool(truth.ends) and second - truth.ends[-1] < scene.pause)
        )
        over = follows or (scene.stays_over and bool(truth.starts))
        if over and not reversed_:
            truth.starts.append(float(second))
        if reversed_ and not over:
            truth.ends.append(float(second))
        reversed_ = over
        runs = not resting and not paused
        fan = runs and not scene.fan_dead and (not board_on or scene.fan_runs)
        heat = board_on and not scene.no_heat
        # The coil.
        blocked = max(0.0, 1 - frost / MOST_FROST) ** 0.7
        flow = FLOW * scene.airflow * (blocked if fan else 0.03)
        gain = (
            flow
            * AIR_HEAT
            * (1 - math.exp(-CONDUCTANCE * (0.5 + 0.5 * blocked) / max(flow * AIR_HEAT, 1e-3)))
        )
        if runs and not reversed_:
            cold = 7.2 * scene.capacity * math.exp(0.026 * metal)
            timer += 1
        elif runs:
            cold = -8.5 * min(1.0, (second - truth.starts[-1]) / 40 + 0.2)
        else:
            cold = 0.0
        grown = (
            flow * (1 - math.exp(-CONDUCTANCE / max(flow, 1e-3))) * max(0.0, water - ratio(metal))
            if metal < 0
            else 0.0
        )
        frost = min(frost + grown, 0.97 * MOST_FROST)
        heat_in = gain * (air - metal) - cold + (grown * 2830)
        if metal >= 0 and frost > 0 and heat_in > 0:
            melted = min(frost, 0.6 * heat_in / MELT)
            frost -= melted
            heat_in -= melted * MELT
            # Where the ice has gone the metal warms already.
            heat_in -= max(0.0, metal - 2.5) * 1.6 * min(1.0, frost / 0.2)
        metal += heat_in / METAL
        metal = max(min(metal, 45.0), -32.0)
        # Pipes and air, each after its lag.
        room = scene.room
        lift = 3.0 * cold * (1 + max(0.0, 0.01 * (air + 10)))
        aims = {
            "outdoor_coil": fahrenheit(metal) + (3.0 if reversed_ and runs else 0.0),
            "coil_sensor": fahrenheit(metal),
            "valve_to_outdoor": (
                min(140.0, 70 + 0.35 * (second - truth.starts[-1])) if runs else fahrenheit(metal) + 15
            )
            if reversed_
            else fahrenheit(metal) + (5 if runs else 12),
            "valve_to_indoor": (36.0 if runs else 60.0) if reversed_ else (146.0 if runs else room),
            "vapor_line_outdoor": (38.0 if runs else 55.0)
            if reversed_
            else (143.0 if runs else 0.5 * (room + scene.air)),
            "common_suction": (37.0 if reversed_ else fahrenheit(metal) + 6)
            if runs
            else 0.5 * (room + scene.air),
            "discharge_line": 150.0 if runs else 80.0,
            "indoor_coil": (32.0 if reversed_ else room + 2.0 * lift) if runs else room,
            "liquid_line_outdoor": (fahrenheit(metal) if reversed_ else room + 12) if runs else room - 10,
            "supply_air": room + (lift if runs and not reversed_ else (-17.0 if runs else 0.0)),
        }
        aims["supply_air_after_heat"] = aims["supply_air"] + (30.0 if heat else 0.0)
        for name, aim in aims.items():
            at = follow.get(name, aim if settled else (room if name in INDOORS else scene.air))
            follow[name] = at + (aim - at) / LAGS.get(name, 12.0)
        truth.coldest = min(truth.coldest, fahrenheit(metal))
        volts = (
            24.5 if (board_on and scene.no_shift != "voltage") == (scene.energized_in == "cooling") else 0.2
        )
        if scene.energized_in == "heating" and scene.no_shift == "voltage":
            volts = 24.5
        courses.append(tuple(follow.values()))
        states.append(
            (
                ohms(follow["coil_sensor"] + scene.sensor_error),
                float(runs),
                float(fan),
                float(heat),
                volts,
                24.5 if board_on and scene.no_heat != "board" else 0.1,
            )
        )
    truth.rows = _noted(scene, dict(zip(follow, np.array(courses).T, strict=True)), np.array(states).T)
    return truth


STATES = (
    ("coil_sensor", "resistance"),
    ("compressor", "state"),
    ("outdoor_fan", "state"),
    ("backup_heat", "state"),
    ("solenoid", "voltage"),
    ("terminal_w", "voltage"),
)


def _noted(scene: Scene, courses: dict[str, Any], states: Any) -> dict[tuple[str, str], list[float]]:
    """What probes write down: temperatures and humidity with their scatter, to a hundredth."""
    dice, seconds = np.random.default_rng(scene.seed), np.arange(states.shape[1])
    shown = {(name, "temperature"): course for name, course in courses.items()}
    shown |= {
        ("outdoor_air_in", "temperature"): scene.air + 0.4 * np.sin(seconds / 900),
        ("outdoor_air_in", "relative_humidity"): np.full(seconds.size, scene.humidity),
        ("return_air", "temperature"): scene.room + 0.3 * np.sin(seconds / 700),
    }
    for key, course in shown.items():
        shown[key] = course + dice.normal(0, scene.noise, seconds.size)
    humid = ("outdoor_air_in", "relative_humidity")
    shown[humid] = np.minimum(100.0, shown[humid])
    shown |= dict(zip(STATES, states, strict=True))
    return {key: np.round(course, 2).tolist() for key, course in shown.items()}


LAGS = {"supply_air": 25.0, "supply_air_after_heat": 30.0, "indoor_coil": 15.0, "coil_sensor": 10.0}
INDOORS = frozenset(
    {"supply_air", "supply_air_after_heat", "indoor_coil", "valve_to_indoor", "discharge_line"}
)


def ohms(fahrenheit: float) -> float:
    """The common 10 kΩ sensor [kΩ], by a beta of 3,950 K: the trade's own figures, within a degree or so. [from memory]"""
    kelvin = (fahrenheit + 459.67) / 1.8
    return 10.0 * math.exp(3950 * (1 / kelvin - 1 / 298.15))


def recording(
    truth: Truth, series: Any = ALL, *, every: int = 1, gaps: Any = (), mode: str = "heating", **more: Any
) -> dict[str, Any]:
    """What probes at some places wrote down of it, each so many seconds; nothing in the gaps."""
    length = len(next(iter(truth.rows.values())))
    kept = [t for t in range(0, length, every) if not any(a <= t < b for a, b in gaps)]
    return {
        "id": "rec",
        "mode": mode,
        "started_at": "2026-01-15T07:00:00-05:00",
        "series": [
            {
                "station": station,
                "quantity": quantity,
                "unit": unit,
                "seconds": [float(t) for t in kept],
                "values": [truth.rows[station, quantity][t] for t in kept],
            }
            for station, quantity, unit in series
        ],
        **more,
    }


__all__ = ["ALL", "PIPES", "THIN", "Scene", "Truth", "play", "recording", "replace"]

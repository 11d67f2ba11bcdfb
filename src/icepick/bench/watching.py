"""A unit recorded through time: a defrost that is forced, or the hours a logger was left on it."""

from __future__ import annotations

import random
from datetime import datetime
from typing import Any

import numpy as np

from icepick.bench.acts import DEFROST
from icepick.bench.case import Case, Trouble
from icepick.core.document.recording import Mark, Recording, Series, allowed
from icepick.core.machine.board import BoardSettings
from icepick.core.machine.by_coil import Weather
from icepick.core.machine.faults import machine_fault, possible
from icepick.core.machine.transient import Scenario, play
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties import sensors
from icepick.core.properties.quantities import Kind, from_si

_STEP, _EVERY = 3.0, 5
"""Seconds the machine goes on by, and of which every so many is written down."""
_NOISE = 0.1
"""Of a thermometer [K], as one standard deviation. [our own choice]"""
_BEFORE = 240.0
"""A defrost is forced so long after the recording began [s]."""
LOGGED = 9000.0
"""So long a logger was on [s]."""
_PLACES = (
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


def recorded(case: Case, troubles: list[Trouble], key: str, started: datetime, *, forced: bool) -> Recording:
    """Play the unit through time and write down what a kit of probes would.

    Parameters
    ----------
    case : Case
        A unit with air outdoors.
    troubles : list of Trouble
        What is wrong with it now.
    key : str
        Id of the recording.
    started : datetime
        When it begins.
    forced : bool
        Whether a defrost is forced in it; else it is what a logger holds.

    Returns
    -------
    Recording
        In heating.

    Raises
    ------
    ValueError
        The machine does not come to rest in this weather.
    """
    board = _board(case, troubles)
    fan = not any(one.cause == "fan" for one in troubles)
    scenario = Scenario(
        Weather(case.outdoor.si, case.humidity, case.indoor.si),
        board,
        _changed(case, troubles),
        frost=0.35 if forced else 0.0,
        ran=1800.0 if forced else 0.0,
        fan_works=fan,
        seconds=DEFROST * 60 if forced else LOGGED,
        forced=(_BEFORE,) if forced else (),
    )
    played = play(case.unit, scenario, _STEP)
    dice = random.Random(f"{case.code} {key}")
    seconds = played.seconds[::_EVERY].tolist()
    series = []
    for station, quantity, unit in _PLACES:
        if quantity == "resistance":
            sensed = played.values["coil_sensor", "temperature"][::_EVERY] + board.sensor_error
            low, high = sensors.DEFAULT_TABLE[0][0], sensors.DEFAULT_TABLE[-1][0]
            values = [sensors.resistance(one) for one in np.clip(sensed, low, high).tolist()]
        elif (station, quantity) in played.values:
            values = played.values[station, quantity][::_EVERY].tolist()
        else:
            continue
        kind = allowed(station, quantity).kind
        wavers = _NOISE if kind is Kind.TEMPERATURE else 0.0
        shown = [round(from_si(one + dice.gauss(0, wavers), unit, kind), 2) for one in values]
        series.append(Series(station=station, quantity=quantity, unit=unit, seconds=seconds, values=shown))  # type: ignore[arg-type]
    return Recording(
        id=key,
        mode="heating",
        started_at=started,
        minutes_running=30.0 if forced else 0.0,
        series=series,
        marks=[Mark(seconds=_BEFORE, code="defrost_forced")] if forced else [],
        notes="Practice: a simulated unit. Nothing of this was measured.",
    )


def _changed(case: Case, troubles: list[Trouble]) -> Variation:
    found = AT_REST
    for one in troubles:
        fault = machine_fault(one.fault)
        if fault is None or fault.backwards or one.where == "cooling" or one.fault == "outdoor_coil_frosted":
            continue
        if possible(fault, case.unit, "heating"):
            found = found.and_also(fault.effect(one.severity))
    return found


def _board(case: Case, troubles: list[Trouble]) -> BoardSettings:
    noted = case.unit.defrost
    known = {
        "interval": noted and noted.interval,
        "start_below": noted and noted.start_below,
        "stop_above": noted and noted.stop_above,
        "limit": noted and noted.limit,
    }
    settings: dict[str, Any] = {name: quantity.si for name, quantity in known.items() if quantity}
    method = noted.method if noted and noted.method in ("time_temperature", "demand") else "time_temperature"
    for one in troubles:
        settings.update(_GOES_WRONG.get((one.fault, one.cause)) or _GOES_WRONG.get((one.fault, ""), {}))
    return BoardSettings(method=method, **settings)


_GOES_WRONG: dict[tuple[str, str], dict[str, Any]] = {
    ("defrost_not_starting", ""): {"never_starts": True},
    ("defrost_not_stopping", ""): {"never_stops": True},
    ("defrost_fan_running", ""): {"fan_stays_on": True},
    ("defrost_no_backup_heat", ""): {"no_heat": "heater"},
    ("defrost_no_backup_heat", "board"): {"no_heat": "board"},
    ("defrost_sensor_off", ""): {"sensor_error": 6.5},
    ("defrost_sensor_off", "too_cold"): {"sensor_error": -6.5},
    ("defrost_too_often", ""): {"starts_every": 1500.0},
    ("valve_in_opposite_position", ""): {"valve": "stays"},
    ("solenoid_open", ""): {"valve": "stays"},
    ("command_missing", ""): {"valve": "no_voltage"},
}
"""A fault, and its cause, as what the board or what hangs on it does."""

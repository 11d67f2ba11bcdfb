"""A unit that runs, step by step: its outdoor coil's metal and frost, its defrost board, and the lags of pipes and clamps.

A unit's refrigerant settles within seconds, its outdoor coil within minutes, its frost within the hour: at each moment the
circuit is taken to be at rest with the coil as cold as it is (:mod:`by_coil`). Energy and water balance (:mod:`frosting`).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Unit
from icepick.core.machine.air import dry_mass_flow
from icepick.core.machine.board import Board, BoardSettings
from icepick.core.machine.by_coil import Array, ByCoil, Weather, cooling, defrosting, heating
from icepick.core.machine.frosting import FrostedCoil, frosted_coil
from icepick.core.machine.parameters import of
from icepick.core.machine.sizing import size
from icepick.core.machine.stations import Place
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties.moist_air import humidity_ratio
from icepick.core.properties.states import states

Call = Literal["heating", "cooling", "off"]


@dataclass(frozen=True, slots=True)
class Setup:
    """A unit and how it is to run. ``changed`` is how the machine differs from the sized one, as a fault makes it; ``frost``
    the share of a full coil that lies on it at the start; ``ran`` how long it has heated since the last defrost [s];
    ``fan_works`` whether the outdoor fan turns at all; ``supply_heat`` of the backup heater [W]."""

    weather: Weather
    board: BoardSettings = field(default_factory=BoardSettings)
    changed: Variation = AT_REST
    frost: float = 0.0
    ran: float = 0.0
    fan_works: bool = True
    supply_heat: float = 10_000.0


class RunningUnit:
    """A unit through time.

    Parameters
    ----------
    unit : Unit
        The equipment, with air outdoors.
    setup : Setup
        Weather, board, faults.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    ValueError
        The machine does not come to rest in this weather.
    """

    def __init__(self, unit: Unit, setup: Setup) -> None:
        machine = size(unit)
        weather = setup.weather
        self._setup, self._machine = setup, machine
        self._cools_energized = unit.reversing_valve.energized_in == "cooling"
        self._heating = heating(machine, weather, setup.changed)
        self._defrost = defrosting(machine, weather, setup.changed)
        self._cooling: ByCoil | None = None
        self._water = humidity_ratio(
            weather.air, weather.atmosphere, relative_humidity=min(weather.humidity, 1.0)
        )
        flow = np.array(machine.outdoor.flow)
        self._moved = float(
            dry_mass_flow(flow, np.array(weather.air), np.array(self._water), weather.atmosphere)
        )
        start = weather.air if setup.ran == 0 else self._heating.at_rest
        self.coil: FrostedCoil = frosted_coil(machine, start, setup.frost)
        self.board = Board(setup.board, ran=setup.ran)
        self.now = 0.0
        self.runs = self.fan = self.cools = False
        self._calls = False
        self._followers = _Followers(self._shared_places(), unit, weather, machine.refrigerant)
        air = _AIRFLOW in self._heating.places
        self._airflow = float(self._heating.values[-1][self._heating.places.index(_AIRFLOW)]) if air else 0.0

    def _shared_places(self) -> tuple[Place, ...]:
        known = set(self._defrost.places)
        return tuple(
            place
            for place in self._heating.places
            if place in known and ":" not in place[0] and place != _BEND
        )

    def step(self, seconds: float, call: Call = "heating", *, forced: bool = False) -> None:
        """Go on by a little.

        Parameters
        ----------
        seconds : float
            How long the step is: 1 to 5.
        call : str
            What the thermostat calls for.
        forced : bool
            Whether a technician forces a defrost now.
        """
        board, coil, setup = self.board, self.coil, self._setup
        calls = call == "heating" or board.defrosting
        board.step(
            self.now, seconds, coil=coil.metal, air=setup.weather.air, calls=calls, forced=forced and calls
        )
        self.cools = board.reversed_ or call == "cooling"
        self._calls = calls or call == "cooling"
        self.runs = self._calls and not board.resting(self.now)
        self.fan = self.runs and board.fan and setup.fan_works
        table = self._table(call)
        open_ = (1 - coil.blocked) if self.fan else of("still_air")
        met_by_air = table if table is self._cooling else self._heating
        coil.step(
            seconds,
            refrigerant=table.heat(coil.metal) if self.runs else 0.0,
            conductance=met_by_air.conductance(coil.blocked)
            if self.fan
            else of("still_air") * self._heating.conductance(0.0),
            air=setup.weather.air,
            dry_air=self._moved * open_ * self._heating.met,
            water=self._water,
            atmosphere=setup.weather.atmosphere,
        )
        every = table.at(coil.metal)
        bend, sensor = coil.metal + (_BEND_OVER if self.cools and self.runs else 0.0), coil.metal
        if table is self._cooling and self.runs:
            bend = sensor = float(every[table.places.index(_BEND)])
        aims = every[self._columns(table.places)]
        self._followers.step(seconds, aims, bend, sensor, coil.metal, heats=board.heats, runs=self.runs)
        self.now += seconds

    def _table(self, call: Call) -> ByCoil:
        if self.board.reversed_ or call != "cooling":
            return self._defrost if self.board.reversed_ else self._heating
        if self._cooling is None:
            self._cooling = cooling(self._machine, self._setup.weather, self._setup.changed)
        return self._cooling

    def _columns(self, there: tuple[Place, ...]) -> NDArray[np.intp]:
        return _columns(there, self._followers.places)

    def shown(self) -> dict[Place, float]:
        """What probes, clamps and meters show now, each after its lag; SI, states as 1 and 0."""
        found, setup, board = self._followers.shown(), self._setup, self.board
        weather, runs = setup.weather, float(self.runs)
        if ("supply_air", "temperature") in found:
            rise = setup.supply_heat / (1.2 * 1006 * self._airflow)
            supply = found["supply_air", "temperature"]
            found["supply_air_after_heat", "temperature"] = supply + rise * self._followers.heat
        found["outdoor_air_in", "temperature"] = weather.air
        found["outdoor_air_in", "relative_humidity"] = weather.humidity
        if self._followers.room is not None:
            found["return_air", "temperature"] = self._followers.room
        told = board.told_to_cool or (self.cools and not board.reversed_)
        live = float(told) if self._cools_energized else 1.0 - told * (setup.board.valve != "no_voltage")
        signal = "terminal_o" if self._cools_energized else "terminal_b"
        found["solenoid", "voltage"] = found[signal, "voltage"] = _VOLTS * live
        found["terminal_w", "voltage"] = _VOLTS * board.heat_called
        found["terminal_r", "voltage"] = _VOLTS
        found["terminal_y", "voltage"] = _VOLTS * self._calls
        found["compressor", "state"] = runs
        found["outdoor_fan", "state"] = float(self.fan)
        found["backup_heat", "state"] = float(board.heats)
        found["solenoid", "state"] = live
        for place in (("compressor", "power"), ("compressor", "current")):
            found[place] = found[place] * runs
        return found


_AIRFLOW: Place = ("indoor_airflow", "flow")
_BEND: Place = ("outdoor_coil", "temperature")
_VOLTS = 25.0
_BEND_OVER = 1.5
"""How much warmer than the metal a bend is where hot gas condenses in it [K]. [our own choice]"""


@lru_cache(maxsize=256)
def _columns(there: tuple[Place, ...], wanted: tuple[Place, ...]) -> NDArray[np.intp]:
    return np.array([there.index(place) for place in wanted])


class _Followers:
    """What follows the circuit with a lag: pipes, air, pressures; slower while nothing runs."""

    def __init__(self, places: tuple[Place, ...], unit: Unit, weather: Weather, refrigerant: str) -> None:
        self.places = places
        self.room = weather.room if unit.load == "air" else None
        self._lags = np.array([_lag(place) for place in places])
        even = float(
            states(refrigerant).saturation_pressure(np.array(min(weather.air, weather.room)), "bubble")
        )
        self._rest = np.array([_at_rest(place, weather, even) for place in places])
        self._metals = np.array([place[0] == "outdoor_air_out" for place in places])
        self._now: Array | None = None
        self._bend: float | None = None
        self._sensor = 0.0
        self.heat = 0.0
        """Share of the backup heater's rise that the air behind it has."""

    def step(
        self,
        seconds: float,
        aims: Array,
        bend: float,
        sensor: float,
        metal: float,
        *,
        heats: bool,
        runs: bool,
    ) -> None:
        if not runs:
            aims = np.where(self._metals, metal, self._rest)
        lags = self._lags if runs else np.where(self._lags > 0, of("lag_rest"), 0.0)
        if self._now is None or self._bend is None:
            self._now, self._bend, self._sensor, self.heat = aims, bend, sensor, float(heats)
            return
        self._now = self._now + (aims - self._now) * (seconds / (lags + seconds))
        share = seconds / ((of("lag_coil") if runs else of("lag_rest")) + seconds)
        self._bend += (bend - self._bend) * share
        self._sensor += (sensor - self._sensor) * share
        self.heat += (heats - self.heat) * seconds / (of("lag_air") + seconds)

    def shown(self) -> dict[Place, float]:
        if self._now is None or self._bend is None:
            return {}
        found = dict(zip(self.places, self._now.tolist(), strict=True))
        found[_BEND] = self._bend
        found["coil_sensor", "temperature"] = self._sensor
        return found


def _at_rest(place: Place, weather: Weather, even: float) -> float:
    """What a place shows once nothing has flowed for a while; pressures even out to that of liquid in the coldest place."""
    code, quantity = place
    if quantity == "pressure":
        return even
    if quantity != "temperature":
        return 0.0
    return weather.room if station(code).place.value == "indoors" else weather.air


def _lag(place: Place) -> float:
    group = station(place[0]).group
    if place[1] == "pressure":
        return of("lag_pressure")
    if group is Group.LINE:
        return of("lag_pipe")
    return of("lag_air") if group is Group.AIR and place[1] == "temperature" else 0.0

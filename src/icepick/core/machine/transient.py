"""The machine through time: the steady machine, tabled over the outdoor coil's temperature, stepped with the coil's metal,
frost, a defrost board, and the lags of pipes and clamps.

A unit's refrigerant settles within seconds, its outdoor coil within minutes, its frost within the hour: at each moment the
circuit is taken to be at rest with the coil as cold as it is. In heating the tables are the steady machine's states from an
unclogged coil in warm air to one that frost has nearly closed; in a defrost, those of the machine in cooling that condenses
into a coil as cold as melting ice. Energy and water balance (:mod:`frosting`).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Unit
from icepick.core.machine.air import dry_mass_flow
from icepick.core.machine.board import Board, BoardSettings
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.figures import figures
from icepick.core.machine.frosting import FREEZING, Balance, frosted_coil
from icepick.core.machine.parameters import of
from icepick.core.machine.parts import Machine
from icepick.core.machine.sizing import size
from icepick.core.machine.stations import Place, shown
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST, Variation, batch
from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE, humidity_ratio

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Weather:
    """What the unit works in, the same throughout: air outdoors and return air [K], humidity outdoors [0…1]."""

    air: float
    humidity: float
    room: float = 294.3
    atmosphere: float = SEA_LEVEL_PRESSURE


@dataclass(frozen=True, slots=True)
class Scenario:
    """What is played. ``changed`` is how the machine differs from the sized one, as a fault makes it; ``frost`` the share of
    a full coil that lies on it at the start; ``rests`` when the thermostat is satisfied, ``forced`` when a technician forces
    a defrost; ``fan_works`` whether the outdoor fan turns at all. Seconds."""

    weather: Weather
    board: BoardSettings = field(default_factory=BoardSettings)
    changed: Variation = AT_REST
    seconds: float = 7200.0
    frost: float = 0.0
    ran: float = 0.0
    rests: tuple[tuple[float, float], ...] = ()
    forced: tuple[float, ...] = ()
    fan_works: bool = True
    supply_heat: float = 10_000.0
    """Of the backup heater [W]."""


@dataclass(frozen=True, slots=True, eq=False)
class Played:
    """What happened: seconds, and SI values at every place, states as 1 and 0; the coil's frost [kg] and what it closes at;
    and the balance at the end."""

    seconds: Array
    values: Mapping[Place, Array]
    frost: Array
    metal: Array
    reversed_: Array
    balance: Balance


def play(unit: Unit, scenario: Scenario, step: float = 1.0) -> Played:
    """Let a unit run.

    Parameters
    ----------
    unit : Unit
        The equipment, with air outdoors.
    scenario : Scenario
        Weather, board, faults.
    step : float
        Seconds between moments: 1 to 5.

    Returns
    -------
    Played
        Every place, at every moment.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    ValueError
        The machine does not come to rest in this weather.
    """
    machine, weather = size(unit), scenario.weather
    heating = _heating(machine, weather, scenario.changed)
    defrost = _defrost(machine, weather, scenario.changed)
    water = humidity_ratio(weather.air, weather.atmosphere, relative_humidity=min(weather.humidity, 1.0))
    moved = float(
        dry_mass_flow(
            np.array(machine.outdoor.flow), np.array(weather.air), np.array(water), weather.atmosphere
        )
    )
    start = weather.air if scenario.ran == 0 else heating.at_rest
    coil = frosted_coil(machine, start, scenario.frost)
    board = Board(scenario.board, ran=scenario.ran)
    moments = np.arange(0.0, scenario.seconds, step)
    rows = {name: np.zeros(moments.size) for name in _ROWS}
    forced = sorted(scenario.forced)
    for i, now in enumerate(moments.tolist()):
        calls = not any(a <= now < b for a, b in scenario.rests) or board.defrosting
        press = bool(forced) and now >= forced[0]
        board.step(now, step, coil=coil.metal, air=weather.air, calls=calls, forced=press)
        if press:
            forced.pop(0)
        runs = calls and not board.resting(now)
        fan = runs and board.fan and scenario.fan_works
        table = defrost if board.reversed_ else heating
        open_ = (1 - coil.blocked) if fan else of("still_air")
        coil.step(
            step,
            refrigerant=table.heat(coil.metal) if runs else 0.0,
            conductance=heating.conductance(coil.blocked)
            if fan
            else of("still_air") * heating.conductance(0.0),
            air=weather.air,
            dry_air=moved * open_ * heating.met,
            water=water,
            atmosphere=weather.atmosphere,
        )
        rows["metal"][i], rows["frost"][i] = coil.metal, coil.frost
        rows["reversed"][i], rows["runs"][i], rows["fan"][i] = board.reversed_, runs, fan
        rows["heats"][i], rows["heat_called"][i], rows["told"][i] = (
            board.heats,
            board.heat_called,
            board.told_to_cool,
        )
    values = _shown(unit, scenario, heating, defrost, moments, rows, step)
    return Played(moments, values, rows["frost"], rows["metal"], rows["reversed"], coil.balance)


_ROWS = ("metal", "frost", "reversed", "runs", "fan", "heats", "heat_called", "told")


@dataclass(frozen=True, slots=True, eq=False)
class _Table:
    """States over the coil's temperature [K], coldest first; ``took`` is the heat that the refrigerant takes from the coil's
    metal there [W], negative where it gives heat."""

    coil: Array
    took: Array
    places: Mapping[Place, Array]
    blocked: Array
    conducts: Array
    at_rest: float
    met: float

    def heat(self, metal: float) -> float:
        """What the refrigerant takes from the metal; beyond the hottest state the head trips the unit's switch."""
        over = (metal - self.coil[-1]) / _TRIPS
        return float(np.interp(metal, self.coil, self.took)) * float(min(1.0, max(0.0, 1.0 - over)))

    def conductance(self, blocked: float) -> float:
        """From the air to the coil [W/K], with so much of its air kept away."""
        return float(np.interp(blocked, self.blocked, self.conducts))


_TRIPS = 12.0
"""A coil so much hotter [K] than the hottest state is off on its high-pressure switch. [our own choice]"""
_BLOCKED = np.array([0.0, 0.15, 0.3, 0.45, 0.6, 0.72, 0.82, 0.9, 0.95, 0.98])
_WARMER = np.array([2.0, 4.0, 7.0, 10.0, 14.0, 19.0, 25.0, 32.0])
_MELTING = np.array([-32.0, -24, -16, -10, -6, -3, 0, 3, 6, 10, 15, 20, 26, 34])


def _heating(machine: Machine, weather: Weather, changed: Variation) -> _Table:
    return _tabled_heating(_Key(machine), weather, _named(changed))


def _defrost(machine: Machine, weather: Weather, changed: Variation) -> _Table:
    return _tabled_defrost(_Key(machine), weather, _named(changed))


def _named(changed: Variation) -> tuple[tuple[str, float], ...]:
    return tuple((name, float(value)) for name, value in changed.named().items())


@dataclass(frozen=True, slots=True, eq=False)
class _Key:
    """A machine, remembered by itself."""

    machine: Machine

    def __hash__(self) -> int:
        return id(self.machine)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and self.machine is other.machine


@lru_cache(maxsize=64)
def _tabled_heating(key: _Key, weather: Weather, changed: tuple[tuple[str, float], ...]) -> _Table:
    """From a coil that frost has nearly closed to a clear one in much warmer air."""
    machine, knobs = key.machine, Variation(**dict(changed))
    lost = of("frost_on_metal")
    frosted = batch(
        [Variation(outdoor_flow=1 - b, outdoor_conductance=1 - lost * b) for b in _BLOCKED.tolist()]
    )
    clear = batch([AT_REST] * _WARMER.size)
    both = Variation(
        **{name: np.concatenate([value, clear.named()[name]]) for name, value in frosted.named().items()}
    )
    outdoor = weather.air + np.concatenate([np.zeros(_BLOCKED.size), _WARMER])
    coil, took, places, good = _states(machine, "heating", weather, outdoor, both.and_also(knobs))
    at_air = good & (np.arange(outdoor.size) < _BLOCKED.size)
    if not at_air[0] or at_air.sum() < 3:
        raise ValueError("the machine does not come to rest in heating in this weather")
    conducts = took[at_air] / (weather.air - coil[at_air])
    order = np.flatnonzero(good)[np.argsort(coil[good])]
    # Where a state of a clear coil is as cold as one with frost, the heat it takes is all but the same.
    order = order[np.concatenate([[True], np.diff(coil[order]) > 1e-3])]
    reached = machine.outdoor.outside / max(1.0, machine.outdoor.flow * 1.2 * 1006)
    return _Table(
        coil[order],
        took[order],
        {place: values[order] for place, values in places.items()},
        _BLOCKED[: at_air.size][at_air[: _BLOCKED.size]],
        conducts,
        float(coil[0]),
        float(1 - np.exp(-reached)),
    )


@lru_cache(maxsize=64)
def _tabled_defrost(key: _Key, weather: Weather, changed: tuple[tuple[str, float], ...]) -> _Table:
    """The machine in cooling that condenses into its coil's cold metal."""
    machine = key.machine
    knobs = Variation(**dict(changed)).and_also(Variation(outdoor_conductance=of("melting_inside")))
    outdoor = FREEZING + _MELTING
    _, gave, places, good = _states(
        machine,
        "cooling",
        weather,
        outdoor,
        Variation(**{n: np.full(outdoor.size, v) for n, v in knobs.named().items()}),
    )
    if good.sum() < 3:
        raise ValueError("the machine does not come to rest in a defrost in this weather")
    here = {place: values[good] for place, values in places.items()}
    return _Table(outdoor[good], -gave[good], here, np.zeros(1), np.zeros(1), weather.air, 1.0)


def _states(
    machine: Machine, mode: FlowMode, weather: Weather, outdoor: Array, knobs: Variation
) -> tuple[Array, Array, dict[Place, Array], NDArray[np.bool_]]:
    """The outdoor coil's temperature, the heat it exchanges with the refrigerant, every place, and which came to rest."""
    count = outdoor.size
    indoors = humidity_ratio(
        weather.room, weather.atmosphere, relative_humidity=of("usual_return_air_humidity_heating")
    )
    damp = humidity_ratio(weather.air, weather.atmosphere, relative_humidity=min(weather.humidity, 1.0))
    here = Conditions(
        outdoor,
        np.full(count, weather.room),
        np.full(count, damp),
        np.full(count, indoors),
        np.ones(count),
        weather.atmosphere,
    )
    steady = settle(machine, mode, here, knobs, count)
    places = shown(machine, mode, steady.cycle, here, knobs)
    found = figures(machine, mode, steady.cycle, here, places)
    heat = found["evaporator_heat_refrigerant" if mode == "heating" else "condenser_heat_refrigerant"]
    return places["outdoor_coil", "temperature"], heat, places, steady.sound


def _shown(
    unit: Unit,
    scenario: Scenario,
    heating: _Table,
    defrost: _Table,
    moments: Array,
    rows: Mapping[str, Array],
    step: float,
) -> dict[Place, Array]:
    """What probes, clamps and meters show, each after its lag."""
    weather, metal = scenario.weather, rows["metal"]
    runs, over = rows["runs"] > 0.5, rows["reversed"] > 0.5
    found: dict[Place, Array] = {}
    for place in heating.places:
        if place not in defrost.places or ":" in place[0] or place == ("outdoor_coil", "temperature"):
            continue
        aim = np.where(
            over,
            np.interp(metal, defrost.coil, defrost.places[place]),
            np.interp(metal, heating.coil, heating.places[place]),
        )
        aim = np.where(runs, aim, _at_rest(place, weather, metal))
        found[place] = _followed(aim, runs, _lag(place), step)
    bend = metal + np.where(over & runs, _BEND_OVER, 0.0)
    found["outdoor_coil", "temperature"] = _followed(bend, runs, of("lag_coil"), step)
    found["coil_sensor", "temperature"] = _followed(metal, runs, of("lag_coil"), step)
    if ("supply_air", "temperature") in found:
        supply = found["supply_air", "temperature"]
        flow = heating.places["indoor_airflow", "flow"][-1]
        rise = scenario.supply_heat / (1.2 * 1006 * float(flow))
        after = supply + _followed(rise * rows["heats"], np.ones_like(runs), of("lag_air"), step)
        found["supply_air_after_heat", "temperature"] = after
    steady = np.ones_like(moments)
    found["outdoor_air_in", "temperature"] = weather.air * steady
    found["outdoor_air_in", "relative_humidity"] = weather.humidity * steady
    if unit.load == "air":
        found["return_air", "temperature"] = weather.room * steady
    cools = unit.reversing_valve.energized_in == "cooling"
    live = rows["told"] if cools else 1 - rows["told"] * (scenario.board.valve != "no_voltage")
    found["solenoid", "voltage"] = _VOLTS * live
    found["terminal_o" if cools else "terminal_b", "voltage"] = _VOLTS * live
    found["terminal_w", "voltage"] = _VOLTS * rows["heat_called"]
    found["terminal_r", "voltage"] = _VOLTS * steady
    found["terminal_y", "voltage"] = _VOLTS * steady
    for name, row in (("compressor", "runs"), ("outdoor_fan", "fan"), ("backup_heat", "heats")):
        found[name, "state"] = rows[row]
    found["solenoid", "state"] = live
    for place in (("compressor", "power"), ("compressor", "current")):
        found[place] = found[place] * runs
    return found


_VOLTS = 25.0
_BEND_OVER = 1.5
"""How much warmer than the metal a bend is where hot gas condenses in it [K]. [our own choice]"""


def _at_rest(place: Place, weather: Weather, metal: Array) -> Array | float:
    """What a place shows once nothing has flowed for a while."""
    code, quantity = place
    if quantity == "pressure":
        return float("nan")
    if quantity != "temperature":
        return 0.0
    where = station(code)
    if code == "outdoor_air_out":
        return metal
    return weather.room if where.place.value == "indoors" else weather.air


def _lag(place: Place) -> float:
    group = station(place[0]).group
    if place[1] == "pressure":
        return of("lag_pressure")
    if group is Group.LINE:
        return of("lag_pipe")
    return of("lag_air") if group is Group.AIR and place[1] == "temperature" else 0.0


def _followed(aim: Array, runs: NDArray[Any], lag: float, step: float) -> Array:
    """What follows an aim with a lag [s]; slower while nothing runs. Where there is no aim it stays."""
    if lag <= 0:
        return aim
    shares = np.where(runs, step / (lag + step), step / (of("lag_rest") + step)).tolist()
    aims = aim.tolist()
    now = next((one for one in aims if one == one), 0.0)
    found = []
    for share, one in zip(shares, aims, strict=True):
        if one == one:
            now += (one - now) * share
        found.append(now)
    return np.array(found)

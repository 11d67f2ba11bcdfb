"""The steady machine tabled over the outdoor coil's temperature: what every place shows, and the heat that passes, at each.

In heating from a coil that frost has nearly closed to a clear one in much warmer air; where the outdoor coil condenses, from
metal as cold as melting ice, as in a defrost, to metal hotter than the air that cools it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.figures import figures
from icepick.core.machine.frosting import FREEZING
from icepick.core.machine.parameters import of
from icepick.core.machine.parts import Machine
from icepick.core.machine.stations import Place, shown
from icepick.core.machine.steady import settle
from icepick.core.machine.variation import AT_REST, Variation, batch
from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE, humidity_ratio

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Weather:
    """What a unit works in: air outdoors and return air [K], humidity outdoors and, where it is known, indoors [0…1]."""

    air: float
    humidity: float
    room: float = 294.3
    atmosphere: float = SEA_LEVEL_PRESSURE
    room_humidity: float | None = None


@dataclass(frozen=True, slots=True, eq=False)
class ByCoil:
    """States over the coil's temperature [K], coldest first.

    ``took`` is the heat that the refrigerant takes from the coil's metal there [W], negative where it gives heat;
    ``values`` a row of ``places`` for each. ``at_rest`` is where the coil comes to rest with no frost [K], ``conducts``
    from the air to the coil [W/K] with so much of its air ``blocked``, and ``met`` the share of the air that meets the
    metal.
    """

    coil: Array
    took: Array
    places: tuple[Place, ...]
    values: Array
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

    def at(self, metal: float) -> Array:
        """What each place shows with the coil at a temperature."""
        metal = min(max(metal, float(self.coil[0])), float(self.coil[-1]))
        above = min(max(int(np.searchsorted(self.coil, metal)), 1), self.coil.size - 1)
        low, high = float(self.coil[above - 1]), float(self.coil[above])
        share = (metal - low) / (high - low)
        found: Array = self.values[above - 1] + share * (self.values[above] - self.values[above - 1])
        return found


_TRIPS = 12.0
"""A coil so much hotter [K] than the hottest state is off on its high-pressure switch. [our own choice]"""
_BLOCKED = np.array([0.0, 0.15, 0.3, 0.45, 0.6, 0.72, 0.82, 0.9, 0.95, 0.98])
_WARMER = np.array([2.0, 4.0, 7.0, 10.0, 14.0, 19.0, 25.0, 32.0])
_MELTING = np.array([-32.0, -24, -16, -10, -6, -3, 0, 3, 6, 10, 15, 20, 26, 34])
_LEAST_OVER = 0.5
"""Of a coil that gives heat, over its air [K]. [our own choice]"""
_COOLED = np.array([-12.0, -8, -4, 0, 3, 6, 9, 12, 16, 20, 26, 34])


def heating(machine: Machine, weather: Weather, changed: Variation) -> ByCoil:
    """A unit that heats.

    Parameters
    ----------
    machine : Machine
        The unit with numbers, with air outdoors.
    weather : Weather
        What it works in.
    changed : Variation
        How it differs from the one sized.

    Returns
    -------
    ByCoil
        From a coil that frost has nearly closed to one in much warmer air.

    Raises
    ------
    ValueError
        The machine does not come to rest in this weather.
    """
    return _heating(machine, weather, _named(changed))


def defrosting(machine: Machine, weather: Weather, changed: Variation) -> ByCoil:
    """A unit in a defrost: in cooling, condensing into its coil's cold metal. As :func:`heating`."""
    return _into_metal(machine, weather, _named(changed), None)


def cooling(machine: Machine, weather: Weather, changed: Variation) -> ByCoil:
    """A unit that cools, condensing into metal that the outdoor air cools. As :func:`heating`; at its rest every place shows
    what the steady machine shows."""
    return _into_metal(machine, weather, _named(changed), weather.air)


def _named(changed: Variation) -> tuple[tuple[str, float], ...]:
    return tuple((name, float(value)) for name, value in changed.named().items())


@lru_cache(maxsize=64)
def _heating(machine: Machine, weather: Weather, changed: tuple[tuple[str, float], ...]) -> ByCoil:
    knobs = Variation(**dict(changed))
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
    return ByCoil(
        coil[order],
        took[order],
        tuple(places),
        np.stack([values[order] for values in places.values()], axis=1),
        _BLOCKED[: at_air.size][at_air[: _BLOCKED.size]],
        conducts,
        float(coil[0]),
        _met(machine),
    )


def _met(machine: Machine) -> float:
    reached = machine.outdoor.outside / max(1.0, machine.outdoor.flow * 1.2 * 1006)
    return float(1 - np.exp(-reached))


@lru_cache(maxsize=64)
def _into_metal(
    machine: Machine, weather: Weather, changed: tuple[tuple[str, float], ...], air: float | None
) -> ByCoil:
    """In cooling, condensing into the coil's metal: cold metal in a defrost, or metal that ``air`` [K] cools."""
    knobs = Variation(**dict(changed))
    outdoor = FREEZING + _MELTING if air is None else air + _COOLED
    inside = knobs.and_also(Variation(outdoor_conductance=of("melting_inside")))
    every = Variation(**{n: np.full(outdoor.size, v) for n, v in inside.named().items()})
    _, gave, places, good = _states(machine, "cooling", weather, outdoor, every)
    if good.sum() < 3:
        raise ValueError(
            f"the machine does not come to rest in {'a defrost' if air is None else 'cooling'} in this weather"
        )
    coil, took = outdoor[good], -gave[good]
    values = np.stack([row[good] for row in places.values()], axis=1)
    if air is None:
        return ByCoil(coil, took, tuple(places), values, np.zeros(1), np.zeros(1), weather.air, 1.0)
    rest = Variation(**{n: np.full(1, v) for n, v in knobs.named().items()})
    _, gives, steady, sound = _states(machine, "cooling", weather, np.array([air]), rest)
    if not sound[0]:
        raise ValueError("the machine does not come to rest in cooling in this weather")
    heat = float(gives[0])
    # The hotter the metal, the less heat can be given to it.
    metal = max(float(np.interp(-heat, took, coil)), air + _LEAST_OVER)
    found = ByCoil(
        coil, took, tuple(places), values, np.zeros(1), np.array([heat / (metal - air)]), metal, _met(machine)
    )
    # As cold a coil as the steady machine's own condenses a little otherwise than through still metal.
    beside = np.array([float(row[0]) for row in steady.values()]) - found.at(metal)
    return ByCoil(coil, took, found.places, values + beside, found.blocked, found.conducts, metal, found.met)


def _states(
    machine: Machine, mode: FlowMode, weather: Weather, outdoor: Array, knobs: Variation
) -> tuple[Array, Array, Mapping[Place, Array], NDArray[np.bool_]]:
    """The outdoor coil's temperature, the heat it exchanges with the refrigerant, every place, and which came to rest."""
    count = outdoor.size
    humid = weather.room_humidity or of("usual_return_air_humidity_heating")
    indoors = humidity_ratio(weather.room, weather.atmosphere, relative_humidity=humid)
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

"""Frost on the outdoor coil: how much colder it has let the coil grow, what air that leaves, whether there can be any.

A coil that takes up the same heat from less air, through ice, runs colder against it. [physics]
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from icepick.core.defrost.course import Course
from icepick.core.defrost.cues import FREEZING, Seen
from icepick.core.defrost.tracks import Array, Track
from icepick.core.document.examination import Fault
from icepick.core.machine.expected import Expected, predicted
from icepick.core.machine.faults import machine_fault
from icepick.core.machine.parameters import of
from icepick.core.machine.sizing import UnsizedError, size
from icepick.core.machine.stations import shown
from icepick.core.machine.steady import settle
from icepick.core.machine.surroundings import Known, Surroundings, out_of_range
from icepick.core.machine.variation import AT_REST, batch
from icepick.core.properties import moist_air
from icepick.core.properties.refrigerants import nearest_saturation_temperature

_SETTLED = 360.0
"""After a start or a shift, the coil follows its air again [s]."""
_WINDOW = 180.0
"""Readings of so many seconds make one figure."""
_LEAST_SPREAD = 0.02
_WATER_OVER_ICE = 0.0098
"""Vapor pressure over supercooled water against that over ice, its excess for each kelvin below freezing. [physics, the ratio
of both Magnus formulas; from memory]"""
_BLOCKED = (0.0, 0.2, 0.4, 0.55, 0.7, 0.8, 0.88, 0.94)
_FROSTED: Fault = "outdoor_coil_frosted"


@dataclass(frozen=True, eq=False)
class Frost:
    """What the outdoor coil shows of frost through a recording."""

    seen: Seen
    course: Course
    coil: Track | None
    air: Track | None
    atmosphere: float

    def settled(self, moments: Array) -> Array:
        """1.0 where the unit has heated for a while, 0.0 elsewhere."""
        found = np.zeros(moments.size)
        for spell in self.course.spells:
            if spell.mode == "heating":
                after = spell.start + (_SETTLED if spell.start > self.seen.tracks.start else self._first)
                found[(moments >= after) & (moments <= spell.end)] = 1.0
        return found

    @property
    def _first(self) -> float:
        """How long the first spell has to settle: less where it had been running."""
        ran = self.seen.tracks.recording.minutes_running
        return max(0.0, _SETTLED - 60 * ran) if ran is not None else _SETTLED

    @cached_property
    def _difference(self) -> tuple[Array, Array]:
        """Moments at which the unit had settled in heating, and its coil over its air then [K]."""
        moments = self.seen.moments
        if self.coil is None or self.air is None:
            return moments[:0], moments[:0]
        over = self.coil.at(moments) - self.air.at(moments)
        kept = (self.settled(moments) > 0) & ~np.isnan(over)
        return moments[kept], over[kept]

    @cached_property
    def clean(self) -> float | None:
        """The coil over its air [K] when it was clearest in this recording; None where it never settled."""
        moments, over = self._difference
        return _clearest(moments, over)

    def colder(self, at: float, *, so_far: bool = False) -> float | None:
        """How much colder against its air the coil is at a moment than when it was clearest, or had been so far [K]."""
        moments, over = self._difference
        near = over[(moments >= at - _WINDOW) & (moments <= at)]
        clean = _clearest(moments[moments <= at], over[moments <= at]) if so_far else self.clean
        if clean is None or near.size == 0:
            return None
        return max(0.0, clean - float(np.median(near)))

    def coldest_growth(self, start: float, end: float) -> float | None:
        """The most that :meth:`colder` gives between two moments [K]."""
        moments, _ = self._difference
        inside = moments[(moments >= start) & (moments <= end)]
        if not inside.size:
            return None
        asked = np.append(np.arange(inside[0] + _WINDOW, inside[-1], _WINDOW), inside[-1])
        return max((found for at in asked if (found := self.colder(float(at))) is not None), default=None)

    @cached_property
    def _water(self) -> Array | None:
        """Water in the outdoor air [kg/kg] at the seen moments; None where no humidity was recorded."""
        tracks, moments = self.seen.tracks, self.seen.moments
        humid = tracks.get("outdoor_air_in", "relative_humidity")
        wet = tracks.get("outdoor_air_in", "wet_bulb")
        if self.air is None or (humid is None and wet is None):
            return None
        every = moments[:: max(1, moments.size // 200)]
        air = self.air.at(every)
        given = (humid or wet).at(every)  # type: ignore[union-attr]
        found = np.full(every.size, np.nan)
        for i in np.flatnonzero(~np.isnan(air) & ~np.isnan(given)).tolist():
            if humid is not None:
                # Instruments state humidity over water, below freezing too; the equation has it over ice.
                over_ice = given[i] * (1 + _WATER_OVER_ICE * max(0.0, FREEZING - air[i]))
                found[i] = moist_air.humidity_ratio(
                    float(air[i]),
                    self.atmosphere,
                    relative_humidity=float(np.clip(over_ice, _LEAST_SPREAD, 1.0)),
                )
            elif given[i] <= air[i]:
                found[i] = moist_air.humidity_ratio(float(air[i]), self.atmosphere, wet_bulb=float(given[i]))
        known = ~np.isnan(found)
        if not known.any():
            return None
        water: Array = np.interp(moments, every[known], found[known])
        return water

    def dry(self, at: float) -> bool | None:
        """Whether the air holds too little water for frost to matter on a coil as cold as it is; None where that is not
        known.

        Parameters
        ----------
        at : float
            The moment [s].

        Returns
        -------
        bool or None
            By the air's humidity and the coil's temperature over the minutes before.
        """
        excess = self.excess(at - 10 * _WINDOW, at)
        return None if excess is None else excess < self.seen.practice.si("dry_coil")

    def excess(self, start: float, end: float) -> float | None:
        """Water in the air over what ice on the coil lets stay there, as a rule between two moments [kg/kg]."""
        if self._water is None or self.coil is None:
            return None
        moments = self.seen.moments
        inside = (self.settled(moments) > 0) & (moments >= start) & (moments <= end)
        coil = self.coil.at(moments[inside])
        known = ~np.isnan(coil)
        if not known.any():
            return None
        surface = float(np.median(coil[known]))
        if surface >= FREEZING:
            return 0.0
        water = float(np.median(self._water[inside][known]))
        return water - moist_air.humidity_ratio(surface, self.atmosphere, relative_humidity=1.0)

    @cached_property
    def _around(self) -> Surroundings | None:
        """What the machine of the unit would work in, over the settled minutes."""
        unit, tracks = self.seen.unit, self.seen.tracks
        moments, _ = self._difference
        if self.air is None or not moments.size:
            return None
        outdoor = float(np.median(self.air.at(moments)))
        if out_of_range("outdoor_air_in", "heating", outdoor, "field"):
            return None
        room = tracks.temperature("return_air") if unit.load == "air" else tracks.temperature("load_water_in")
        inside = room.value(float(moments[0]), float(moments[-1])) if room is not None else None
        entering = "return_air" if unit.load == "air" else "load_water_in"
        known = (
            Known(inside, 0.3, True)
            if inside is not None
            else Known(of(f"usual_{entering}_heating"), of(f"spread_{entering}"), False)
        )
        kind = unit.compressor.kind
        speed = (
            Known(1.0, 0.0, True)
            if kind == "single"
            else Known(of(f"usual_speed_{kind}"), of(f"spread_speed_{kind}"), False)
        )
        share = (
            0.75
            if self._water is None
            else float(np.median(self._water))
            / moist_air.humidity_ratio(outdoor, self.atmosphere, relative_humidity=1.0)
        )
        return Surroundings(
            Known(outdoor, 0.5, True),
            known,
            Known(min(max(share, 0.05), 1.0), of("spread_outdoor_air_in_humidity"), self._water is not None),
            Known(of("usual_return_air_humidity_heating"), of("spread_return_air_humidity"), False),
            speed,
            self.atmosphere,
            unit.source == "air",
            unit.load == "air",
        )

    @cached_property
    def sound(self) -> tuple[float, float] | None:
        """The coil over its air [K] of a sound, clear machine of this unit, and the half-width of that; None where it can't
        be sized or its conditions are not known."""
        around = self._around
        if around is None:
            return None
        try:
            found: Expected = predicted(self.seen.unit, "heating", around)
        except UnsizedError:
            return None
        value = found.stations.get(("outdoor_coil", "temperature"))
        return None if value is None else (value.value - around.outdoor.value, value.spread)

    def air_lost(self, colder: float) -> float | None:
        """Share of the coil's air [0…1] that frost keeps from it once the coil has grown so much colder; None where the
        unit can't be sized.

        Parameters
        ----------
        colder : float
            Against the air, than when it was clear [K].

        Returns
        -------
        float or None
            By the machine model's frosted coil.
        """
        around = self._around
        fault = machine_fault(_FROSTED)
        if around is None or fault is None:
            return None
        try:
            machine = size(self.seen.unit)
        except UnsizedError:
            return None
        rows = batch([AT_REST, *(fault.effect(100 * part) for part in _BLOCKED[1:])])
        here = around.conditions()
        steady = settle(machine, "heating", here, rows, len(_BLOCKED), thorough=False)
        places = shown(machine, "heating", steady.cycle, here, rows)
        coil = places["outdoor_coil", "temperature"]
        good = steady.sound
        if good.sum() < 2 or not good[0]:
            return None
        drop = np.maximum.accumulate((coil[0] - coil)[good])
        return float(np.interp(colder, drop, np.array(_BLOCKED)[good]))


def _clearest(moments: Array, over: Array) -> float | None:
    """The highest of each few minutes' middle, so that no single sample is the clearest."""
    if moments.size < 3:
        return None
    bins = ((moments - moments[0]) // _WINDOW).astype(int)
    return max(float(np.median(over[bins == one])) for one in np.unique(bins))


def frost_of(seen: Seen, course: Course, atmosphere: float) -> Frost:
    """What the outdoor coil of a recording shows of frost.

    Parameters
    ----------
    seen : Seen
        The recording's tracks, at evenly spaced moments.
    course : Course
        Its spells.
    atmosphere : float
        Local air pressure [Pa].

    Returns
    -------
    Frost
        By the coil's bend, else the sensor's place, else the suction pressure.
    """
    tracks = seen.tracks
    coil = tracks.temperature("outdoor_coil", "coil_sensor") or _by_suction(seen)
    return Frost(seen, course, coil, tracks.temperature("outdoor_air_in", "ambient_sensor"), atmosphere)


def _by_suction(seen: Seen) -> Track | None:
    tap = seen.tracks.get("common_suction_tap", "pressure")
    if tap is None:
        return None
    found = nearest_saturation_temperature(seen.unit.refrigerant, tap.values, "dew")
    return Track(("common_suction_tap", "evaporating"), tap.seconds, found, 1.0)

"""A defrost board as the transient machine plays it, with what can go wrong with it and with what hangs on it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

FREEZING = 273.15


@dataclass(frozen=True, slots=True)
class BoardSettings:
    """Times [s], temperatures [K]. ``sensor_error`` is how much too warm the sensor reads [K]; the others name what fails.

    ``demand_difference`` is how much colder against its air the coil grows before a demand board starts [K].
    """

    method: Literal["time_temperature", "demand", "none"] = "time_temperature"
    interval: float = 3600.0
    start_below: float = FREEZING - 1.0
    stop_above: float = FREEZING + 10.0
    limit: float = 600.0
    demand_difference: float = 3.5
    least_interval: float = 1800.0
    pause: float = 0.0
    sensor_error: float = 0.0
    never_starts: bool = False
    never_stops: bool = False
    starts_every: float | None = None
    fan_stays_on: bool = False
    no_heat: Literal["", "board", "heater"] = ""
    valve: Literal["", "stays", "stays_over", "no_voltage"] = ""


@dataclass(slots=True)
class Board:
    """The board through time: ``defrosting`` is what it calls for, ``reversed_`` how the valve stands."""

    settings: BoardSettings
    ran: float = 0.0
    """Heating since the last defrost [s]."""
    defrosting: bool = False
    reversed_: bool = False
    called: float | None = None
    """When the defrost was called for [s]."""
    changed: float | None = None
    """When the board last switched, for the compressor's rest [s]."""
    clear: float | None = None
    """The coil under its air [K] once it had settled after a defrost: what a demand board learns."""

    def step(self, now: float, seconds: float, *, coil: float, air: float, calls: bool, forced: bool) -> None:
        """Go on by a little.

        Parameters
        ----------
        now : float
            Seconds since the start.
        seconds : float
            How long the step is [s].
        coil : float
            Temperature at the coil sensor [K].
        air : float
            Outdoor air [K].
        calls : bool
            Whether the thermostat calls for heat.
        forced : bool
            Whether a technician forces a defrost now.
        """
        settings = self.settings
        sensed = coil + settings.sensor_error
        if not self.defrosting and calls and not self.resting(now):
            self.ran += seconds
            if _LEARNS - seconds < self.ran <= _LEARNS:
                self.clear = air - coil
            if not settings.never_starts and (forced or self._due(sensed, air - coil)):
                self.defrosting, self.called, self.changed = True, now, now
        elif self.defrosting and self.called is not None and not settings.never_stops:
            lasted = now - self.called
            if (sensed >= settings.stop_above and lasted > _LEAST) or lasted >= settings.limit:
                self.defrosting, self.changed, self.ran = False, now, 0.0
        follows = settings.valve not in ("stays", "no_voltage")
        if self.defrosting and follows:
            self.reversed_ = True
        elif not self.defrosting and settings.valve != "stays_over":
            self.reversed_ = False

    def _due(self, sensed: float, under_air: float) -> bool:
        settings = self.settings
        if settings.starts_every is not None:
            return self.ran >= settings.starts_every
        if settings.method == "demand":
            grown = self.clear is not None and under_air > self.clear + settings.demand_difference
            return grown and self.ran >= settings.least_interval
        return settings.method != "none" and self.ran >= settings.interval and sensed <= settings.start_below

    def resting(self, now: float) -> bool:
        """Whether the compressor rests around a shift."""
        return self.changed is not None and now - self.changed < self.settings.pause

    @property
    def fan(self) -> bool:
        """Whether the outdoor fan's relay is closed while the compressor runs."""
        return not self.defrosting or self.settings.fan_stays_on

    @property
    def heat_called(self) -> bool:
        """Whether W is live."""
        return self.defrosting and self.settings.no_heat != "board"

    @property
    def heats(self) -> bool:
        """Whether the backup heater heats."""
        return self.defrosting and not self.settings.no_heat

    @property
    def told_to_cool(self) -> bool:
        """Whether the board sends the valve what it needs to run the unit in cooling."""
        return self.defrosting and self.settings.valve != "no_voltage"


_LEARNS, _LEAST = 600.0, 30.0
"""A demand board learns its clear coil so long into heating, and no board ends a defrost sooner than this [s]. [our own
choice]"""

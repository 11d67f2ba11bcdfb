"""Probes that are not there: a unit that runs through time, and probes on it that lag, waver, fall off and fall silent.

They speak the same bytes as real ones, once a second.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import RLock
from typing import Literal

from icepick.core.document.stations import station
from icepick.core.document.visit import Unit
from icepick.core.machine.running_unit import Call, RunningUnit, Setup
from icepick.core.machine.stations import Place
from icepick.probes.protocol import BY_MEASURED, Measured, encode
from icepick.probes.transport import Found, Heard, Lost, TransportError

Trouble = Literal["none", "fell_off", "silent", "battery_low", "out_of_range", "wrong_pipe"]


@dataclass(slots=True)
class SimulatedProbe:
    """A probe: where each of its things is clamped or hung, how it follows and how it wavers.

    ``lag`` is its own, besides the pipe's [s]; ``noise`` one standard deviation of a temperature [K], a pressure a thousandth
    and a humidity a hundredth of it in parts; ``drops`` how often a second it loses its connection.
    """

    address: str
    name: str
    places: tuple[Place, ...]
    lag: float = 4.0
    noise: float = 0.05
    drops: float = 0.0
    battery: float = 0.9
    signal: int = -60
    trouble: Trouble = "none"
    elsewhere: Place | None = None
    """The pipe it is really on, where it is on a wrong one."""
    shows: dict[Place, float] = field(default_factory=dict)
    away_until: float = 0.0


class Simulated:
    """A unit with probes.

    Parameters
    ----------
    unit : Unit
        The equipment, with air outdoors.
    setup : Setup
        Weather, board, faults.
    probes : list of SimulatedProbe
        What hangs on it.
    clock : callable
        Seconds.
    call : str
        What the thermostat calls for at first.
    ran : float
        How long it has run in that already [s].
    seed : int
        Of all chance.

    Raises
    ------
    UnsizedError
        The unit can't be sized.
    ValueError
        The machine does not come to rest in this weather.
    """

    name = "simulated"

    def __init__(
        self,
        unit: Unit,
        setup: Setup,
        probes: list[SimulatedProbe],
        clock: Callable[[], float],
        *,
        call: Call = "heating",
        ran: float = 0.0,
        seed: int = 1,
    ) -> None:
        self._lock = RLock()
        self._clock, self._dice = clock, random.Random(seed)
        self._machine = RunningUnit(unit, setup)
        self._around = {"indoors": setup.weather.room}
        self._air = setup.weather.air
        self._probes = {one.address: one for one in probes}
        self._connected: set[str] = set()
        self._said: list[Heard | Lost] = []
        self._force = False
        self.call: Call = call
        self.changed_at = clock() - ran
        """When it last began to do something else [s]."""
        while self._machine.now < ran:
            self._machine.step(1.0, call)
        self._done = clock()
        self._machine.step(1.0, call)
        self._follow(first=True)

    def tell(self, call: Call) -> None:
        """Set the thermostat."""
        with self._lock:
            if call != self.call:
                self._go_on()
                self.call, self.changed_at = call, self._done

    def force_defrost(self) -> None:
        """Have the board begin a defrost, as a technician's jumper does."""
        with self._lock:
            self._force = True

    @property
    def defrosting(self) -> bool:
        """Whether the board is in a defrost."""
        return self._machine.board.defrosting

    def make(self, address: str, trouble: Trouble) -> None:
        """Have something happen to a probe, or all be well again.

        Raises
        ------
        TransportError
            There is no such probe.
        """
        with self._lock:
            probe = self._one(address)
            self._go_on()
            probe.trouble = trouble
            if trouble == "battery_low":
                probe.battery = 0.06
            if trouble == "wrong_pipe" and probe.elsewhere is None:
                others = [p for other in self._probes.values() if other is not probe for p in other.places]
                same = [p for p in others if p[1] == probe.places[0][1] and p[0] != probe.places[0][0]]
                probe.elsewhere = self._dice.choice(same) if same else None
            if trouble in ("silent", "out_of_range") and address in self._connected:
                self._said.append(Lost(address))

    def troubles(self) -> dict[str, Trouble]:
        """What is the matter with each probe."""
        with self._lock:
            return {address: probe.trouble for address, probe in self._probes.items()}

    def search(self) -> None:
        """They are there."""

    def found(self) -> list[Found]:
        """As :meth:`Transport.found`; one out of range is not heard."""
        with self._lock:
            return [
                Found(one.address, one.name, one.signal if one.trouble != "out_of_range" else None)
                for one in self._probes.values()
            ]

    def connect(self, address: str) -> None:
        """As :meth:`Transport.connect`."""
        with self._lock:
            probe = self._one(address)
            self._go_on()
            if address not in self._connected:
                self._connected.add(address)
                self._say(probe, "battery", 1, probe.battery)

    def disconnect(self, address: str) -> None:
        """As :meth:`Transport.disconnect`."""
        with self._lock:
            self._connected.discard(address)

    def heard(self) -> list[Heard | Lost]:
        """As :meth:`Transport.heard`."""
        with self._lock:
            self._go_on()
            said, self._said = self._said, []
            return said

    def close(self) -> None:
        """As :meth:`Transport.close`."""
        with self._lock:
            self._connected.clear()

    def _one(self, address: str) -> SimulatedProbe:
        try:
            return self._probes[address]
        except KeyError:
            raise TransportError(f"There is no probe {address!r}.") from None

    def _go_on(self) -> None:
        """Let the unit run to the present, second by second."""
        now = self._clock()
        if not self._connected:
            # Nobody listened: what happened long ago shows no more.
            self._done = max(self._done, now - _FORGOTTEN)
        while self._done + 1 <= now:
            self._done += 1
            defrosted = self.defrosting
            self._machine.step(1.0, self.call, forced=self._force)
            self._force = False
            if self.defrosting != defrosted:
                self.changed_at = self._done
            self._follow()
            for address in self._connected:
                self._speak(self._probes[address])

    def _follow(self, first: bool = False) -> None:
        shown = self._machine.shown()
        for probe in self._probes.values():
            for place in probe.places:
                aim = self._aim(probe, place, shown)
                before = probe.shows.get(place, aim)
                probe.shows[place] = aim if first else before + (aim - before) / (probe.lag + 1)

    def _aim(self, probe: SimulatedProbe, place: Place, shown: dict[Place, float]) -> float:
        if probe.trouble == "fell_off" and place[1] == "temperature":
            return self._around.get(station(place[0]).place.value, self._air)
        if probe.trouble == "wrong_pipe" and probe.elsewhere is not None and place == probe.places[0]:
            return shown[probe.elsewhere]
        return shown[place]

    def _speak(self, probe: SimulatedProbe) -> None:
        if probe.trouble in ("silent", "out_of_range") or self._done < probe.away_until:
            return
        if self._dice.random() < probe.drops:
            probe.away_until = self._done + self._dice.randint(3, 20)
            self._said.append(Lost(probe.address))
            return
        counted: dict[Measured, int] = {}
        for place in probe.places:
            measured = _measured(place)
            counted[measured] = counted.get(measured, 0) + 1
            self._say(probe, measured, counted[measured], self._wavering(probe, place))
        if self._done % 60 < 1:
            self._say(probe, "battery", 1, probe.battery)

    def _wavering(self, probe: SimulatedProbe, place: Place) -> float:
        value = probe.shows[place]
        chance = self._dice.gauss(0, probe.noise)
        if place[1] == "pressure":
            return value * (1 + chance / 50)
        if place[1] == "relative_humidity":
            return min(1.0, max(0.0, value + chance / 20))
        return value + chance

    def _say(self, probe: SimulatedProbe, measured: Measured, instance: int, value: float) -> None:
        characteristic = BY_MEASURED[measured]
        data = encode(characteristic, value)
        self._said.append(Heard(probe.address, characteristic.number, instance, data, self._done))


_FORGOTTEN = 900.0


def _measured(place: Place) -> Measured:
    return (
        "pressure"
        if place[1] == "pressure"
        else ("relative_humidity" if place[1] == "relative_humidity" else "temperature")
    )

"""What a kit of probes shows now: found, connected, each of its values on a place, second by second, settled or not.

Time is the kit's own clock: whole seconds since it began to listen. A second is closed once it is over; what a probe said
in it is averaged.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from threading import RLock
from typing import Literal

import numpy as np

from icepick.core.machine.stations import Place
from icepick.core.practice import Practice
from icepick.core.settling.approach import Approach, approach
from icepick.probes.protocol import BY_NUMBER, BytesError, Measured, decode
from icepick.probes.transport import Found, Heard, Transport, TransportError

State = Literal["waiting", "drifting", "settled", "lost"]
Channel = tuple[str, str]
"""A probe's address, and what it measures: ``temperature``, a second one of it ``temperature:2``."""
BATTERY_LOW = 0.15
"""Share of its battery under which a probe is said to run low. [our own choice]"""
KEPT_S = 900
"""Seconds a screen can look back."""
_LOOKED_AT_S = 260
_JUDGED_EACH_S = 3


@dataclass(slots=True)
class Track:
    """One value of a probe through time. ``state`` is waiting until it has been seen for two minutes."""

    measures: Measured
    seconds: deque[float] = field(default_factory=lambda: deque(maxlen=KEPT_S))
    values: deque[float] = field(default_factory=lambda: deque(maxlen=KEPT_S))
    collected: list[float] = field(default_factory=list)
    heard_at: float | None = None
    judged: Approach | None = None
    judged_at: int = 0
    state: State = "waiting"
    wrong: str | None = None
    """What came last that could not be read."""

    @property
    def value(self) -> float | None:
        """The last it said."""
        return self.values[-1] if self.values else None

    @property
    def level(self) -> float | None:
        """What it shows now, noise left out as far as may be."""
        if self.judged is not None:
            return self.judged.level
        last = list(self.values)[-10:]
        return sum(last) / len(last) if last else None


@dataclass(slots=True)
class Probe:
    """A probe that was found, and what it has said."""

    found: Found
    transport: Transport
    connected: bool = False
    within_reach: bool = True
    battery: float | None = None
    tracks: dict[str, Track] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Second:
    """A second that is over, and what each place showed in it; SI."""

    at: int
    values: Mapping[Place, float]


class Listening:
    """A kit of probes listened to.

    Parameters
    ----------
    transports : list of Transport
        The ways it comes in by.
    clock : callable
        Seconds.
    practice : callable
        The shop's limits as they are now.
    """

    def __init__(
        self, transports: list[Transport], clock: Callable[[], float], practice: Callable[[], Practice]
    ) -> None:
        self._lock = RLock()
        self._clock, self._practice = clock, practice
        self._began = clock()
        self._closed_to = 0
        self.transports = {one.name: one for one in transports}
        self.probes: dict[str, Probe] = {}
        self.places: dict[Channel, Place] = {}
        self._seconds: deque[Second] = deque(maxlen=KEPT_S)

    @property
    def now(self) -> int:
        """Whole seconds that are over."""
        return self._closed_to

    def search(self) -> None:
        """Look for probes by every way."""
        for transport in self.transports.values():
            transport.search()
        self._look()

    def _look(self) -> None:
        for transport in self.transports.values():
            for found in transport.found():
                known = self.probes.setdefault(found.address, Probe(found, transport))
                known.found = found

    def connect(self, address: str) -> None:
        """Listen to a probe.

        Raises
        ------
        TransportError
            It has not been found.
        """
        with self._lock:
            self._look()
            probe = self._one(address)
            probe.transport.connect(address)
            probe.connected = probe.within_reach = True

    def disconnect(self, address: str) -> None:
        """Listen to it no longer; what it showed is forgotten."""
        with self._lock:
            probe = self._one(address)
            probe.transport.disconnect(address)
            probe.connected = False
            probe.tracks.clear()

    def _one(self, address: str) -> Probe:
        try:
            return self.probes[address]
        except KeyError:
            raise TransportError(f"No probe {address!r} has been found.") from None

    def put(self, channel: Channel, place: Place | None) -> None:
        """Say where a probe sits; whatever sat there before sits nowhere. What it showed elsewhere says nothing of here."""
        with self._lock:
            self._one(channel[0])
            if self.places.get(channel) == place:
                return
            for other in [one for one, where in self.places.items() if where == place]:
                del self.places[other]
            self.places.pop(channel, None)
            if place is not None:
                self.places[channel] = place
            track = self.probes[channel[0]].tracks.get(channel[1])
            if track is not None:
                track.seconds.clear()
                track.values.clear()
                track.judged, track.state = None, "waiting"

    def go_on(self) -> list[Second]:
        """Take in what came, and close the seconds that are over.

        Returns
        -------
        list of Second
            Those closed now, in their order.
        """
        with self._lock:
            # Before listening, which may take its time: a second is over for good only when all of it has been heard.
            over = int(self._clock() - self._began)
            self._look()
            said: list[tuple[float, str, str, float]] = []
            for transport in self.transports.values():
                for one in transport.heard():
                    if isinstance(one, Heard):
                        said.extend(self._understood(one))
                    elif one.address in self.probes:
                        self.probes[one.address].within_reach = False
            closed = []
            said.sort(key=lambda each: each[0])
            next_one = 0
            # Nobody asked for long: what can't be told apart any more is one gap.
            self._closed_to = max(self._closed_to, over - KEPT_S)
            while self._closed_to < over:
                end = self._closed_to + 1
                while next_one < len(said) and said[next_one][0] < end:
                    _, address, name, value = said[next_one]
                    self.probes[address].tracks[name].collected.append(value)
                    next_one += 1
                closed.append(self._close(end, judge=end == over))
            for _, address, name, value in said[next_one:]:
                self.probes[address].tracks[name].collected.append(value)
            return closed

    def _understood(self, heard: Heard) -> list[tuple[float, str, str, float]]:
        probe = self.probes.get(heard.address)
        characteristic = BY_NUMBER.get(heard.characteristic)
        if probe is None or characteristic is None or not probe.connected:
            return []
        probe.within_reach = True
        name = characteristic.measures + (f":{heard.instance}" if heard.instance > 1 else "")
        try:
            value = decode(characteristic, heard.data)
        except BytesError as error:
            if characteristic.measures != "battery":
                self._track(probe, name, characteristic.measures).wrong = str(error)
            return []
        if characteristic.measures == "battery":
            probe.battery = value
            return []
        track = self._track(probe, name, characteristic.measures)
        track.wrong = None
        if value is None:
            track.wrong = "The probe says that it does not know."
            return []
        at = max(heard.at - self._began, 0.0)
        track.heard_at = max(at, track.heard_at or 0.0)
        return [(at, heard.address, name, value)]

    @staticmethod
    def _track(probe: Probe, name: str, measures: Measured) -> Track:
        return probe.tracks.setdefault(name, Track(measures))

    def _close(self, end: int, *, judge: bool) -> Second:
        values: dict[Place, float] = {}
        for address, probe in self.probes.items():
            for name, track in probe.tracks.items():
                if track.collected:
                    mean = sum(track.collected) / len(track.collected)
                    track.collected.clear()
                    track.seconds.append(float(end))
                    track.values.append(mean)
                    place = self.places.get((address, name))
                    if place is not None:
                        values[place] = mean
                # Of seconds that come all at once only the last is looked at.
                if judge:
                    self._judge(probe, track, end)
        self._closed_to = end
        second = Second(end, values)
        self._seconds.append(second)
        return second

    def _judge(self, probe: Probe, track: Track, now: int) -> None:
        practice = self._practice()
        silent = now - (track.heard_at if track.heard_at is not None else now)
        if silent > practice.si("probe_silent") or (not probe.within_reach and silent > 2):
            track.state, track.judged = "lost", None
            return
        if not track.seconds or track.seconds[-1] != now:
            return
        if track.state != "lost" and now - track.judged_at < _JUDGED_EACH_S:
            return
        track.judged_at = now
        before = track.state == "settled"
        seconds = np.array(track.seconds)[-_LOOKED_AT_S:]
        values = np.array(track.values)[-_LOOKED_AT_S:]
        track.judged = approach(seconds, values, practice.si(WIDTHS[track.measures]))
        if track.judged is None:
            track.state = "waiting"
        else:
            track.state = "settled" if track.judged.settled(before) else "drifting"

    def seconds_since(self, since: int) -> list[Second]:
        """The seconds after one that can still be looked back at."""
        with self._lock:
            return [one for one in self._seconds if one.at > since]

    def track_of(self, channel: Channel) -> Track | None:
        """A probe's value, or None where it has said nothing."""
        probe = self.probes.get(channel[0])
        return probe.tracks.get(channel[1]) if probe and probe.connected else None

    def close(self) -> None:
        """Let go of every way."""
        for transport in self.transports.values():
            transport.close()


WIDTHS: dict[Measured, str] = {
    "temperature": "settled_temperature",
    "pressure": "settled_pressure",
    "relative_humidity": "settled_humidity",
}
"""The limit that says how much may still be to come of what is settled."""

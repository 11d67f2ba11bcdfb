"""A kit listened to: seconds, gaps, places, states; over a way whose bytes and clock the test holds."""

import pytest

from icepick.core.practice import DEFAULT_PRACTICE
from icepick.probes.listening import Listening
from icepick.probes.transport import Found, Heard, Lost, TransportError

TEMPERATURE, PRESSURE, BATTERY = 0x2A6E, 0x2A6D, 0x2A19
CLAMP, GAUGE = "AA:01", "AA:02"
PIPE, TAP = ("discharge_line", "temperature"), ("discharge_tap", "pressure")


class Scripted:
    """A way that says what it is told to."""

    name = "scripted"

    def __init__(self):
        self.now, self.said, self.connected = 100.25, [], set()
        self.takes = 0.0

    def clock(self):
        return self.now

    def search(self):
        pass

    def found(self):
        return [Found(CLAMP, "Clamp 1", -50), Found(GAUGE, "Gauge 1", None)]

    def connect(self, address):
        self.connected.add(address)

    def disconnect(self, address):
        self.connected.discard(address)

    def heard(self):
        said, self.said = self.said, []
        self.now += self.takes
        return said

    def close(self):
        self.connected.clear()

    def say(self, celsius, *, address=CLAMP, at=None, instance=1):
        data = round(celsius * 100).to_bytes(2, "little", signed=True)
        self.said.append(Heard(address, TEMPERATURE, instance, data, self.now if at is None else at))

    def minutes(self, listening, minutes, celsius):
        """So long, a word a second."""
        for _ in range(round(60 * minutes)):
            self.now += 1
            self.say(celsius(self.now - 100.25), at=self.now - 0.5)
            listening.go_on()


@pytest.fixture
def way():
    return Scripted()


@pytest.fixture
def listening(way):
    found = Listening([way], way.clock, lambda: DEFAULT_PRACTICE)
    found.search()
    found.connect(CLAMP)
    found.put((CLAMP, "temperature"), PIPE)
    return found


def test_what_is_said_in_a_second_is_averaged_when_it_is_over(way, listening):
    way.say(20.0, at=100.4)
    way.say(21.0, at=100.9)
    way.now = 101.0
    assert listening.go_on() == []
    way.say(25.0, at=101.3)
    way.now = 101.4
    (first,) = listening.go_on()
    assert (first.at, first.values) == (1, {PIPE: pytest.approx(293.65)})
    way.now = 104.3
    seconds = listening.go_on()
    assert [(one.at, dict(one.values)) for one in seconds] == [
        (2, {PIPE: pytest.approx(298.15)}),
        (3, {}),
        (4, {}),
    ]
    assert [one.at for one in listening.seconds_since(2)] == [3, 4]


def test_settled_drifting_lost_and_back(way, listening):
    track = lambda: listening.track_of((CLAMP, "temperature"))  # noqa: E731
    way.minutes(listening, 1, lambda _: 60.0)
    assert track().state == "waiting"
    way.minutes(listening, 1.5, lambda at: 60.0 + 0.05 * (int(at) % 2))
    assert track().state == "settled"
    way.minutes(listening, 0.5, lambda at: 60.0 + 0.1 * (at - 150))
    assert track().state == "drifting"
    for _ in range(9):
        way.now += 1
        listening.go_on()
    assert track().state == "drifting"
    way.now += 3
    listening.go_on()
    assert track().state == "lost"
    way.minutes(listening, 0.1, lambda _: 63.0)
    assert track().state in ("waiting", "drifting")
    way.said.append(Lost(CLAMP))
    for _ in range(4):
        way.now += 1
        listening.go_on()
    assert track().state == "lost"
    assert not listening.probes[CLAMP].within_reach


def test_bytes_that_mean_nothing_are_told_of_and_never_a_value(way, listening):
    way.said += [
        Heard(CLAMP, TEMPERATURE, 1, b"\x66", 100.5),
        Heard(CLAMP, 0x9999, 1, b"\x66\x08", 100.5),
        Heard(CLAMP, BATTERY, 1, b"\x65", 100.5),
        Heard("AA:99", TEMPERATURE, 1, b"\x66\x08", 100.5),
        Heard(GAUGE, PRESSURE, 1, b"\x02\x76\x0f\x00", 100.5),
    ]
    way.now = 101.5
    (second,) = listening.go_on()
    assert second.values == {}
    assert "takes 2 bytes" in listening.track_of((CLAMP, "temperature")).wrong
    assert listening.probes[CLAMP].battery is None
    assert listening.track_of((GAUGE, "pressure")) is None, "nobody connected it"
    way.said += [
        Heard(CLAMP, TEMPERATURE, 1, b"\x00\x80", 101.6),
        Heard(CLAMP, BATTERY, 1, b"\x07", 101.6),
    ]
    way.now = 102.5
    listening.go_on()
    assert "does not know" in listening.track_of((CLAMP, "temperature")).wrong
    assert listening.probes[CLAMP].battery == pytest.approx(0.07)
    way.say(20.0, at=102.6)
    way.now = 103.5
    (second,) = listening.go_on()
    assert second.values == {PIPE: pytest.approx(293.15)}
    assert listening.track_of((CLAMP, "temperature")).wrong is None


def test_one_place_holds_one_probe_and_what_it_showed_elsewhere_is_forgotten(way, listening):
    way.minutes(listening, 2.5, lambda _: 60.0)
    way.say(5.0, instance=2)
    way.now += 1
    listening.go_on()
    listening.put((CLAMP, "temperature:2"), PIPE)
    assert listening.places == {(CLAMP, "temperature:2"): PIPE}
    way.say(60.0)
    way.say(5.0, instance=2)
    way.now += 1
    assert [dict(one.values) for one in listening.go_on()] == [{PIPE: pytest.approx(278.15)}]
    listening.put((CLAMP, "temperature"), ("common_suction", "temperature"))
    assert listening.track_of((CLAMP, "temperature")).state == "waiting"
    listening.put((CLAMP, "temperature:2"), None)
    assert listening.places == {(CLAMP, "temperature"): ("common_suction", "temperature")}
    with pytest.raises(TransportError):
        listening.put(("AA:77", "temperature"), PIPE)


def test_a_server_that_slept_leaves_a_gap_and_goes_on(way, listening):
    way.minutes(listening, 0.2, lambda _: 60.0)
    way.now += 8 * 3600
    way.say(30.0, at=way.now - 0.6)
    seconds = listening.go_on()
    assert len(seconds) <= 900
    assert seconds[-1].at == listening.now
    assert listening.now >= 8 * 3600


def test_listening_that_takes_long_closes_no_second_it_has_not_heard_out(way, listening):
    way.takes = 2.0
    way.now = 101.5
    way.say(20.0, at=100.5)
    assert [one.at for one in listening.go_on()] == [1]
    way.say(21.0, at=101.6)
    way.say(22.0, at=102.6)
    seconds = listening.go_on()
    assert [(one.at, len(one.values)) for one in seconds] == [(2, 1), (3, 1)]

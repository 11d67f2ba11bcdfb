"""The way over bleak, held to a stand-in that has its shapes and speaks the same bytes: no hardware was tried here."""

import time
from types import SimpleNamespace

import pytest

from icepick.probes.bluetooth import Bluetooth
from icepick.probes.protocol import long_form
from icepick.probes.transport import Heard, Lost, TransportError

TEMPERATURE, HUMIDITY, BATTERY = 0x2A6E, 0x2A6F, 0x2A19


def characteristic(number, *properties):
    uuid = number if isinstance(number, str) else long_form(number)
    return SimpleNamespace(uuid=uuid, properties=list(properties))


class Air:
    """Bleak with two probes within reach: one of air, and one whose name it does not say."""

    def __init__(self):
        self.clients = []
        self.asked_for = []
        self.refuses = 0
        air = self

        class Scanner:
            def __init__(self, detection_callback, service_uuids):
                self.seen = detection_callback
                air.asked_for.append(service_uuids)

            async def start(self):
                told = SimpleNamespace(local_name="Air 1", rssi=-58)
                self.seen(SimpleNamespace(address="AA:01", name=None), told)
                self.seen(
                    SimpleNamespace(address="AA:02", name=None), SimpleNamespace(local_name=None, rssi=-80)
                )

            async def stop(self):
                pass

        class Client:
            def __init__(self, address, disconnected_callback):
                self.address, self.gone, self.notified, self.ended = address, disconnected_callback, {}, False
                self.temperatures = [characteristic(TEMPERATURE, "read", "notify") for _ in range(2)]
                makers = characteristic("6e400001-b5a3-f393-e0a9-e50e24dcca9e", "notify")
                sensing = [*self.temperatures, characteristic(HUMIDITY, "notify"), makers]
                self.services = [
                    SimpleNamespace(characteristics=sensing),
                    SimpleNamespace(characteristics=[characteristic(BATTERY, "read")]),
                ]
                air.clients.append(self)

            async def connect(self):
                if air.refuses:
                    air.refuses -= 1
                    raise OSError("not now")

            async def disconnect(self):
                self.ended = True

            async def read_gatt_char(self, one):
                return bytearray(b"\x5a" if one.uuid == long_form(BATTERY) else b"\x66\x08")

            async def start_notify(self, one, heard):
                self.notified[id(one)] = (one, heard)

            def say(self, which, data):
                one, heard = self.notified[id(which)]
                heard(one, bytearray(data))

        self.BleakScanner, self.BleakClient = Scanner, Client


def until(true, seconds=5):
    end = time.monotonic() + seconds
    while not (found := true()):
        assert time.monotonic() < end, "it did not come about"
        time.sleep(0.01)
    return found


@pytest.fixture
def air(monkeypatch):
    monkeypatch.setattr("icepick.probes.bluetooth._AGAIN_S", 0.05)
    return Air()


@pytest.fixture
def bluetooth(air):
    way = Bluetooth(lambda: 12.5, air)
    yield way
    way.close()


def test_probes_are_found_read_and_listened_to(air, bluetooth):
    with pytest.raises(TransportError, match="has been seen"):
        bluetooth.connect("AA:01")
    bluetooth.search()
    found = until(bluetooth.found)
    assert [(one.address, one.name, one.signal) for one in found] == [
        ("AA:01", "Air 1", -58),
        ("AA:02", "AA:02", -80),
    ]
    assert air.asked_for == [[long_form(0x181A)]]
    bluetooth.connect("AA:01")
    client = until(lambda: air.clients and len(air.clients[0].notified) == 3 and air.clients[0])
    client.say(client.temperatures[1], b"\x0c\xfe")
    said = until(lambda: len(got := bluetooth.heard()) == 4 and got)
    assert said == [
        Heard("AA:01", TEMPERATURE, 1, b"\x66\x08", 12.5),
        Heard("AA:01", TEMPERATURE, 2, b"\x66\x08", 12.5),
        Heard("AA:01", BATTERY, 1, b"\x5a", 12.5),
        Heard("AA:01", TEMPERATURE, 2, b"\x0c\xfe", 12.5),
    ]


def test_one_that_goes_away_is_told_of_and_listened_to_again(air, bluetooth):
    bluetooth.search()
    until(bluetooth.found)
    air.refuses = 1
    bluetooth.connect("AA:01")
    second = until(lambda: len(air.clients) == 2 and len(air.clients[1].notified) == 3 and air.clients[1])
    assert Lost("AA:01") in bluetooth.heard()
    assert "not now" in bluetooth.trouble
    second.gone(second)
    third = until(lambda: len(air.clients) == 3 and len(air.clients[2].notified) == 3 and air.clients[2])
    assert Lost("AA:01") in bluetooth.heard()
    bluetooth.disconnect("AA:01")
    until(lambda: third.ended)
    assert Lost("AA:01") not in bluetooth.heard()


def test_a_machine_without_bluetooth_says_so(air, bluetooth):
    async def off(self):
        raise OSError("no adapter")

    air.BleakScanner.start = off
    bluetooth.search()
    assert "can't be used here: no adapter" in until(lambda: bluetooth.trouble)
    assert bluetooth.found() == []

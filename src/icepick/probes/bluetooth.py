"""Bluetooth of the machine that serves, by bleak (``pip install icepick[bluetooth]``)."""

from __future__ import annotations

import asyncio
from collections import defaultdict
from collections.abc import Callable, Coroutine
from queue import Empty, SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING, Any

from icepick.probes.protocol import BY_NUMBER, ENVIRONMENTAL_SENSING, long_form, short_form
from icepick.probes.transport import Found, Heard, Lost, TransportError

if TYPE_CHECKING:
    from bleak.backends.device import BLEDevice
    from bleak.backends.scanner import AdvertisementData


def _library() -> Any:
    try:
        import bleak
    except ImportError:
        raise TransportError(
            "Bluetooth needs one more package on this machine: pip install icepick[bluetooth]."
        ) from None
    return bleak


_AGAIN_S = 3.0
"""Between tries to reach a probe that was lost."""


class Bluetooth:
    """Probes within reach of this machine.

    Parameters
    ----------
    clock : callable
        Seconds, as the listener counts them.
    bleak : module, optional
        What stands in for the library.

    Raises
    ------
    TransportError
        The library is not installed.
    """

    name = "bluetooth"

    def __init__(self, clock: Callable[[], float], bleak: Any = None) -> None:
        self._bleak, self._clock = bleak or _library(), clock
        self._said: SimpleQueue[Heard | Lost] = SimpleQueue()
        self._found: dict[str, Found] = {}
        self._wanted: set[str] = set()
        self._scanner: Any = None
        self.trouble: str | None = None
        """Why nothing is found: no adapter, switched off, not allowed."""
        self._loop = asyncio.new_event_loop()
        self._thread = Thread(target=self._loop.run_forever, name="bluetooth", daemon=True)
        self._thread.start()

    def search(self) -> None:
        """As :meth:`Transport.search`."""
        self._soon(self._search())

    def found(self) -> list[Found]:
        """As :meth:`Transport.found`."""
        return list(self._found.values())

    def connect(self, address: str) -> None:
        """As :meth:`Transport.connect`."""
        if address not in self._found:
            raise TransportError(f"No probe {address!r} has been seen.")
        if address not in self._wanted:
            self._wanted.add(address)
            self._soon(self._listen(address))

    def disconnect(self, address: str) -> None:
        """As :meth:`Transport.disconnect`."""
        self._wanted.discard(address)

    def heard(self) -> list[Heard | Lost]:
        """As :meth:`Transport.heard`."""
        said: list[Heard | Lost] = []
        while True:
            try:
                said.append(self._said.get_nowait())
            except Empty:
                return said

    def close(self) -> None:
        """As :meth:`Transport.close`."""
        self._wanted.clear()

        async def finish() -> None:
            if self._scanner is not None:
                await self._scanner.stop()
            others = asyncio.all_tasks() - {asyncio.current_task()}
            for task in others:
                task.cancel()
            await asyncio.gather(*others, return_exceptions=True)
            self._loop.stop()

        self._soon(finish())
        self._thread.join(timeout=5)
        if not self._loop.is_running():
            self._loop.close()

    def _soon(self, work: Coroutine[Any, Any, None]) -> None:
        asyncio.run_coroutine_threadsafe(work, self._loop)

    async def _search(self) -> None:
        if self._scanner is not None:
            return
        self._scanner = self._bleak.BleakScanner(
            detection_callback=self._seen, service_uuids=[long_form(ENVIRONMENTAL_SENSING)]
        )
        try:
            await self._scanner.start()
            self.trouble = None
        except Exception as error:
            # Each platform has its own errors for an adapter that is missing, off or not allowed.
            self.trouble, self._scanner = f"Bluetooth can't be used here: {error}", None

    def _seen(self, device: BLEDevice, told: AdvertisementData) -> None:
        name = told.local_name or device.name or device.address
        self._found[device.address] = Found(device.address, name, told.rssi)

    async def _listen(self, address: str) -> None:
        """Keep a connection for as long as it is wanted."""
        while address in self._wanted:
            gone = asyncio.Event()
            client = self._bleak.BleakClient(address, disconnected_callback=lambda _, gone=gone: gone.set())
            try:
                await client.connect()
                await self._subscribe(client, address)
                while address in self._wanted and not gone.is_set():
                    await asyncio.wait({asyncio.ensure_future(gone.wait())}, timeout=0.5)
            except Exception as error:
                self.trouble = f"{self._found[address].name} can't be reached: {error}"
            finally:
                await self._let_go(client)
            if address in self._wanted:
                self._said.put(Lost(address))
                await asyncio.sleep(_AGAIN_S)

    async def _subscribe(self, client: Any, address: str) -> None:
        counted: defaultdict[int, int] = defaultdict(int)
        for service in client.services:
            for one in service.characteristics:
                number = short_form(one.uuid)
                if number not in BY_NUMBER:
                    continue
                counted[number] += 1
                heard = self._hears(address, number, counted[number])
                if "read" in one.properties:
                    heard(one, bytearray(await client.read_gatt_char(one)))
                if "notify" in one.properties or "indicate" in one.properties:
                    await client.start_notify(one, heard)

    def _hears(self, address: str, number: int, instance: int) -> Callable[[Any, bytearray], None]:
        def heard(_: Any, data: bytearray) -> None:
            self._said.put(Heard(address, number, instance, bytes(data), self._clock()))

        return heard

    async def _let_go(self, client: Any) -> None:
        try:
            await client.disconnect()
        except Exception as error:
            self.trouble = f"A connection was not ended in order: {error}"

"""The recorder at work: for each visit at most one kit of probes that is listened to, and at most one recording that grows.

One thread takes in what the probes say and writes it down; everybody else only looks.
"""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, field
from datetime import UTC, datetime
from importlib.util import find_spec
from pathlib import Path
from threading import Event, RLock, Thread
from time import monotonic
from typing import cast

import numpy as np
from flask import Flask, current_app

from icepick.core.document.recording import Recording
from icepick.core.document.stations import NOISE, station
from icepick.core.document.visit import Visit
from icepick.core.machine.stations import Place
from icepick.core.practice import DEFAULT_PRACTICE, Practice
from icepick.core.properties.quantities import DISPLAY_UNITS, UnitSystem, from_si, to_si
from icepick.probes.kits import method_of
from icepick.probes.listening import Listening, Second
from icepick.probes.simulated import Simulated
from icepick.store import recordings, samples
from icepick.store.database import DatabaseError, connect, writing
from icepick.store.practice import practice

_log = logging.getLogger(__name__)
_PULSE_S = 0.2
_LIMITS_S = 10.0
FORGOTTEN_AFTER_S = 1800.0
"""A kit that nobody has looked at for so long, and that records nothing, is let go."""
MOST_KITS = 20


def in_unit(value: float, place: Place, unit: str, atmosphere: float) -> float:
    """What a probe shows at a place, in a unit of the documents."""
    return from_si(value, unit, station(place[0]).quantities[place[1]].kind, atmosphere)


def within_limits(value: float, place: Place, atmosphere: float) -> float | None:
    """What a probe shows, as a document takes it: an instrument's noise beyond a range is set to its end; None where the
    place can't show this at all."""
    allowed = station(place[0]).quantities[place[1]]
    shown = in_unit(value, place, allowed.unit, atmosphere)
    noise = NOISE.get(allowed.kind, 0.0)
    if not allowed.low - noise <= shown <= allowed.high + noise:
        return None
    held = min(max(shown, allowed.low), allowed.high)
    return value if held == shown else to_si(held, allowed.unit, allowed.kind, atmosphere)


def unit_at(place: Place, units: UnitSystem) -> str:
    """The unit in which a place's values are shown."""
    return DISPLAY_UNITS[units][station(place[0]).quantities[place[1]].kind]


@dataclass(slots=True)
class Growing:
    """A recording that grows: ``began`` is the kit's second it begins at, ``waiting`` what is not on disk yet."""

    row: int
    name: str
    began: int
    units: UnitSystem
    columns: list[Place] = field(default_factory=list)
    waiting: list[Second] = field(default_factory=list)
    on_disk: int = 0
    trouble: str | None = None


@dataclass(slots=True)
class Kit:
    """What is listened to for a visit."""

    visit_id: int
    atmosphere: float
    listening: Listening
    simulated: Simulated | None
    looked_at: float
    growing: Growing | None = None
    lock: RLock = field(default_factory=RLock)
    examining: RLock = field(default_factory=RLock)
    held: dict[Place, float] = field(default_factory=dict)
    """What the last findings rest on; SI."""
    held_settled: bool = False
    examined_again_at: float = 0.0


class Recorder:
    """All kits, and the thread that listens.

    Parameters
    ----------
    database : Path
        The records.
    simulated : float or None
        How many times as fast as the clock simulated probes live, where they are offered.
    """

    def __init__(self, database: Path, simulated: float | None = None) -> None:
        self._database, self.speed = database, simulated or 1.0
        self.offers = [
            *(["simulated"] if simulated else []),
            *(["bluetooth"] if find_spec("bleak") else []),
            "relayed",
        ]
        """The ways probes may come in by."""
        self._kits: dict[int, Kit] = {}
        self._lock = RLock()
        self._limits: Practice = DEFAULT_PRACTICE
        self._limits_at = -_LIMITS_S
        self._stopped = Event()
        self._thread = Thread(target=self._keep_up, name="recorder", daemon=True)

    def clock(self) -> float:
        """Seconds, as the probes count them."""
        return monotonic() * self.speed

    def limits(self) -> Practice:
        """The shop's limits as of a few seconds ago."""
        return self._limits

    def kit_of(self, visit_id: int) -> Kit | None:
        """What is listened to for a visit, if anything is."""
        with self._lock:
            kit = self._kits.get(visit_id)
        if kit is not None:
            kit.looked_at = monotonic()
        return kit

    def begin(
        self, visit_id: int, visit: Visit, make: Callable[[], tuple[Listening, Simulated | None]]
    ) -> Kit:
        """Listen for a visit, or go on listening.

        Raises
        ------
        TooManyKitsError
            Others are listened to already.
        """
        with self._lock:
            known = self._kits.get(visit_id)
            if known is not None:
                return known
            if len(self._kits) >= MOST_KITS:
                raise TooManyKitsError
            listening, simulated = make()
            kit = Kit(visit_id, visit.site.atmosphere, listening, simulated, monotonic())
            self._kits[visit_id] = kit
            return kit

    def end(self, visit_id: int, how: samples.End = "stopped") -> None:
        """Listen no longer; what was being recorded ends."""
        with self._lock:
            kit = self._kits.pop(visit_id, None)
        if kit is not None:
            with closing(connect(self._database)) as db:
                self.stop_recording(db, kit, how)
            kit.listening.close()

    def record(
        self, db: sqlite3.Connection, kit: Kit, recording: Recording, entry_key: str, units: UnitSystem
    ) -> None:
        """Begin a recording, in a transaction; sent again under its key, the one that grows goes on."""
        with kit.lock:
            recordings.add_recording(db, kit.visit_id, recording, entry_key)
            row = db.execute("SELECT id FROM recordings WHERE entry_key = ?", (entry_key,)).fetchone()["id"]
            if kit.growing is not None and kit.growing.row == row:
                return
            growing = Growing(row, recording.id, kit.listening.now, units)
            for place in kit.listening.places.values():
                self._column(db, growing, place)
            kit.growing = growing

    def stop_recording(self, db: sqlite3.Connection, kit: Kit, how: samples.End = "stopped") -> str | None:
        """End what grows; its id, or None where nothing did."""
        with kit.lock:
            growing = kit.growing
            if growing is None:
                return None
            with writing(db):
                self._write(db, kit, growing)
                samples.end(db, growing.row, how)
            kit.growing = None
            return growing.name

    def _column(self, db: sqlite3.Connection, growing: Growing, place: Place) -> int:
        if place not in growing.columns:
            unit = unit_at(place, growing.units)
            samples.add_series(db, growing.row, samples.SeriesHead(*place, unit, method_of(place)))
            growing.columns.append(place)
        return growing.columns.index(place)

    def pulse(self, db: sqlite3.Connection) -> None:
        """Take in what came, and write down what is to be."""
        if monotonic() - self._limits_at >= _LIMITS_S:
            self._limits, self._limits_at = practice(db), monotonic()
        with self._lock:
            kits = list(self._kits.values())
        for kit in kits:
            with kit.lock:
                seconds = kit.listening.go_on()
                growing = kit.growing
                if growing is None:
                    continue
                growing.waiting.extend(one for one in seconds if one.at > growing.began)
                if growing.waiting:
                    try:
                        with writing(db):
                            self._write(db, kit, growing)
                        growing.trouble = None
                    except sqlite3.Error as error:
                        growing.trouble = str(error)
                        _log.error("recording %s of visit %d waits: %s", growing.name, kit.visit_id, error)
        self._forget(kits)

    def _write(self, db: sqlite3.Connection, kit: Kit, growing: Growing) -> None:
        if not growing.waiting:
            return
        for second in growing.waiting:
            for place in second.values:
                self._column(db, growing, place)
        values = np.full((len(growing.columns), len(growing.waiting)), np.nan)
        for at, second in enumerate(growing.waiting):
            for place, value in second.values.items():
                unit = unit_at(place, growing.units)
                # What no such place can show is not written: it would spoil the whole recording.
                held = within_limits(value, place, kit.atmosphere)
                if held is not None:
                    column = growing.columns.index(place)
                    values[column, at] = in_unit(held, place, unit, kit.atmosphere)
        samples.append(db, growing.row, [one.at - growing.began for one in growing.waiting], values)
        growing.on_disk = growing.waiting[-1].at - growing.began
        growing.waiting.clear()

    def _forget(self, kits: list[Kit]) -> None:
        for kit in kits:
            if kit.growing is None and monotonic() - kit.looked_at > FORGOTTEN_AFTER_S:
                self.end(kit.visit_id)

    def start(self) -> None:
        """Listen from now on."""
        self._thread.start()

    def stop(self) -> None:
        """Let go of every kit; what was being recorded is ended as it stands."""
        self._stopped.set()
        if self._thread.is_alive():
            self._thread.join(timeout=10)
        for visit_id in list(self._kits):
            self.end(visit_id, "cut_off")

    def _keep_up(self) -> None:
        db: sqlite3.Connection | None = None
        while not self._stopped.wait(_PULSE_S):
            try:
                db = db or connect(self._database)
                self.pulse(db)
            except (sqlite3.Error, DatabaseError) as error:
                _log.error("the recorder can't reach the records: %s", error)
                db = None
            except Exception:
                # One kit that breaks must not silence the others for good.
                _log.exception("the recorder stumbled")
        if db is not None:
            db.close()


class TooManyKitsError(RuntimeError):
    """As many kits as the server listens to are listened to."""


def install(app: Flask, database: Path, simulated: float | None) -> None:
    """Give an application its recorder; what still grew when the server stopped is ended as cut off."""
    with closing(connect(database)) as db, writing(db):
        ended = samples.cut_off_what_ran(db)
    if ended:
        _log.warning("%d recordings were cut off when the server stopped", ended)
    app.extensions["icepick.recorder"] = Recorder(database, simulated)


def recorder() -> Recorder:
    """The application's."""
    return cast(Recorder, current_app.extensions["icepick.recorder"])


NOT_MEASURED = "Simulated probes: nothing of this was measured."


def begun_now(
    name: str, mode: str, minutes_running: float | None, circuit: str | None, *, simulated: bool
) -> Recording:
    """A recording that begins at this moment; one of simulated probes says so."""
    begun = {"id": name, "mode": mode, "started_at": datetime.now(UTC), "minutes_running": minutes_running}
    return Recording.model_validate(
        {**begun, "circuit": circuit, "notes": NOT_MEASURED if simulated else None}
    )

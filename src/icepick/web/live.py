"""Probes live: found, connected, put on their places, shown; all of them taken with one press; recorded."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from icepick.core.document.base import Document
from icepick.core.document.codes import CircuitId, Mode, QuantityName, RunId, StationCode
from icepick.core.document.stations import station
from icepick.core.document.visit import Reading
from icepick.core.machine.board import BoardSettings
from icepick.core.machine.running_unit import Setup
from icepick.core.machine.stations import Place
from icepick.core.properties.quantities import UnitSystem
from icepick.probes.bluetooth import Bluetooth
from icepick.probes.kits import (
    SIMULATED_RAN_S,
    SIMULATED_WEATHER,
    kit_on,
    method_of,
    places_of,
    stations_for_probes,
)
from icepick.probes.listening import Channel, Listening
from icepick.probes.relayed import Relayed
from icepick.probes.simulated import Simulated, Trouble
from icepick.probes.transport import Found, Heard, Transport, TransportError
from icepick.store import recordings
from icepick.store.closing import refuse_closed
from icepick.store.database import writing
from icepick.store.probe_places import known_places, say_place
from icepick.store.visits import StoredVisit
from icepick.web.changes import look_ahead
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.live_view import Live, live_view, nothing_live
from icepick.web.problems import problem
from icepick.web.recorder import (
    Kit,
    TooManyKitsError,
    begun_now,
    in_unit,
    recorder,
    unit_at,
    within_limits,
)
from icepick.web.recordings import RecordingAdded, refuse_circuit
from icepick.web.visit_view import found_visit
from icepick.web.visits import Minutes, enter_together

api = Api("live")

Way = Literal["simulated", "bluetooth", "relayed"]
Address = Annotated[str, StringConstraints(min_length=1, max_length=64)]
Measures = Annotated[str, StringConstraints(pattern=r"^(temperature|pressure|relative_humidity)(:[2-9])?$")]


class Listen(Document):
    """By which way probes come in."""

    by: Way


class Connection(Document):
    """Whether a probe is to be listened to."""

    address: Address
    connected: bool


class PutOn(Document):
    """Where a probe's value is of; without a station, of nowhere."""

    address: Address
    measures: Measures
    station: StationCode | None = None
    quantity: QuantityName | None = None


class TakeAll(Document):
    """Take what the probes show as readings of a run: what has settled, or ``everything`` that is heard."""

    run: RunId
    entry_key: EntryKey
    everything: bool = False


class Taken(BaseModel):
    """How many readings were taken, and the stations whose probes were left out, for they still drift or are lost."""

    taken: int
    left_out: list[str]


class Record(Document):
    """Begin to record what the probes show."""

    entry_key: EntryKey
    mode: Mode
    minutes_running: Minutes | None = None
    circuit: CircuitId | None = None


class Stopped(BaseModel):
    """The recording that was ended, if one grew."""

    recording: str | None


class Happening(Document):
    """What is to happen to the simulated unit or to one of its probes."""

    call: Literal["heating", "cooling", "off"] | None = None
    force_defrost: bool = False
    address: Address | None = None
    trouble: Trouble | None = None


class SaidBytes(Document):
    """What a browser heard: bytes as hexadecimal digits, ``ago`` seconds before it sent them."""

    address: Address
    characteristic: Annotated[int, Field(ge=0, le=0xFFFF)]
    instance: Annotated[int, Field(ge=1, le=9)] = 1
    data: Annotated[str, StringConstraints(pattern=r"^([0-9a-fA-F]{2}){0,32}$")]
    ago: Annotated[float, Field(ge=0, le=3600)] = 0


class Introduced(Document):
    """A probe that a browser has at hand."""

    address: Address
    name: Annotated[str, StringConstraints(min_length=1, max_length=64)]


class Relay(Document):
    """What a browser's own Bluetooth brought."""

    found: list[Introduced] = Field(default=[], max_length=100)
    said: list[SaidBytes] = Field(default=[], max_length=5000)
    lost: list[Address] = Field(default=[], max_length=100)


class LiveAsked(Document):
    """Samples after this second of the kit's clock."""

    after: Annotated[int, Field(ge=0)] = 0


class Heeded(BaseModel):
    """It was done; what came of it is asked for next."""

    second: int


@api.endpoint("get", "/visits/<int:visit_id>/live", gives=Live, asks=LiveAsked, in_units=True)
def get_live(visit_id: int, asked: LiveAsked, units: UnitSystem) -> Live:
    """What the probes show now, and what they showed since a second."""
    kit = recorder().kit_of(visit_id)
    if kit is None:
        found_visit(visit_id)
        return nothing_live(recorder().offers)
    return live_view(kit, recorder(), asked.after, units)


@api.endpoint("put", "/visits/<int:visit_id>/live", accepts=Listen, gives=Heeded, needs="enter")
def listen(visit_id: int, body: Listen) -> Heeded:
    """Listen to probes, by some way: at once to those whose place on this unit is known."""
    found = found_visit(visit_id)
    places = known_places(connection())

    def make() -> tuple[Listening, Simulated | None]:
        way = _way(body.by, found)
        listening = Listening([way], recorder().clock, recorder().limits)
        listening.search()
        return listening, way if isinstance(way, Simulated) else None

    try:
        kit = recorder().begin(visit_id, found.document, make)
    except TooManyKitsError:
        raise problem(503, "Icepick listens to as many kits as it can; end one of them.") from None
    if body.by not in kit.listening.transports:
        raise problem(409, "Other probes are listened to already; end that first.")
    kit.listening.search()
    if kit.simulated:
        for channel, place in places_of(kit_on(found.document.unit)).items():
            places.setdefault(channel, place)
    for address in {address for address, _ in places} & set(kit.listening.probes):
        # Where it sits is known: there is nothing left to ask.
        if _put_where_it_was(kit, places, address):
            kit.listening.connect(address)
    return Heeded(second=kit.listening.now)


def _put_where_it_was(kit: Kit, places: dict[Channel, Place], address: str) -> bool:
    """Put a probe where it sat when that was last said, as far as this unit has that place; whether it has."""
    here = stations_for_probes(found_visit(kit.visit_id).document.unit)
    known = {
        channel: place for channel, place in places.items() if channel[0] == address and place[0] in here
    }
    for channel, place in known.items():
        if channel not in kit.listening.places and place not in kit.listening.places.values():
            kit.listening.put(channel, place)
    return bool(known)


_REFUSED: dict[Way, str] = {
    "simulated": "Simulated probes belong to the demo; `icepick serve --simulated-probes` offers them elsewhere.",
    "bluetooth": "Bluetooth needs one more package on this machine: pip install icepick[bluetooth].",
    "relayed": "",
}


def _way(by: Way, found: StoredVisit) -> Transport:
    clock = recorder().clock
    if by not in recorder().offers:
        raise problem(409, _REFUSED[by])
    try:
        if by == "simulated":
            unit = found.document.unit
            return Simulated(
                unit,
                Setup(SIMULATED_WEATHER, BoardSettings()),
                kit_on(unit),
                clock,
                ran=SIMULATED_RAN_S,
            )
        return Bluetooth(clock) if by == "bluetooth" else Relayed()
    except TransportError as error:
        raise problem(409, str(error)) from None
    except ValueError as error:
        raise problem(409, f"This unit can't be simulated: {error}.") from None


def kit_of(visit_id: int) -> Kit:
    """What is listened to for a visit; 409 where nothing is."""
    kit = recorder().kit_of(visit_id)
    if kit is None:
        found_visit(visit_id)
        raise problem(409, "No probes are listened to; start that first.")
    return kit


@api.endpoint("delete", "/visits/<int:visit_id>/live", gives=Heeded, needs="enter")
def listen_no_longer(visit_id: int) -> Heeded:
    """Let the probes go; what was being recorded ends."""
    found_visit(visit_id)
    recorder().end(visit_id)
    return Heeded(second=0)


@api.endpoint("put", "/visits/<int:visit_id>/live/probes", accepts=Connection, gives=Heeded, needs="enter")
def connect_probe(visit_id: int, body: Connection) -> Heeded:
    """Listen to a probe, or no longer."""
    kit = kit_of(visit_id)
    try:
        if body.connected:
            kit.listening.connect(body.address)
            _put_where_it_was(kit, known_places(connection()), body.address)
        else:
            kit.listening.disconnect(body.address)
    except TransportError as error:
        raise problem(404, str(error)) from None
    return Heeded(second=kit.listening.now)


@api.endpoint("put", "/visits/<int:visit_id>/live/places", accepts=PutOn, gives=Heeded, needs="enter")
def put_probe(visit_id: int, body: PutOn) -> Heeded:
    """Say where a probe sits; that is remembered for the kit."""
    kit = kit_of(visit_id)
    place = _place(body)
    with kit.lock, writing(connection()) as db:
        try:
            kit.listening.put((body.address, body.measures), place)
        except TransportError as error:
            raise problem(404, str(error)) from None
        say_place(db, body.address, body.measures, place)
    return Heeded(second=kit.listening.now)


def _place(body: PutOn) -> Place | None:
    if body.station is None:
        return None
    try:
        where = station(body.station)
    except KeyError:
        raise problem(422, f"There is no station {body.station!r}.") from None
    measured = body.measures.split(":")[0]
    quantity = body.quantity or measured
    fits = {quantity, measured} <= {"temperature", "wet_bulb"} or quantity == measured
    if quantity not in where.quantities or not fits:
        raise problem(422, f"{where.title} takes no {measured.replace('_', ' ')} of a probe.")
    return body.station, quantity


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/live/readings",
    accepts=TakeAll,
    gives=Taken,
    needs="enter",
    in_units=True,
    status=201,
    then=look_ahead,
)
def take_all(visit_id: int, body: TakeAll, units: UnitSystem) -> Taken:
    """Take what the probes show as readings of a run."""
    kit = kit_of(visit_id)
    with kit.lock, writing(connection()):
        readings, left_out = _readings(kit, units, body.everything)
        content = f"{visit_id} {body.run} {body.everything}"
        taken = enter_together(visit_id, body.run, readings, body.entry_key, content)
    return Taken(taken=taken, left_out=left_out)


def _readings(kit: Kit, units: UnitSystem, everything: bool) -> tuple[list[Reading], list[str]]:
    """What the probes show, as readings; and the stations of those that are left out."""
    taken, left_out = [], []
    for channel, place in kit.listening.places.items():
        track = kit.listening.track_of(channel)
        if track is None or track.value is None:
            continue
        value = track.level if track.level is not None else track.value
        unfit = track.state != "settled" and (not everything or track.state == "lost")
        held = None if unfit else within_limits(value, place, kit.atmosphere)
        if held is None:
            left_out.append(place[0])
            continue
        unit = unit_at(place, units)
        taken.append(
            Reading.model_validate(
                {
                    "station": place[0],
                    "quantity": place[1],
                    "value": round(in_unit(held, place, unit, kit.atmosphere), 1),
                    "unit": unit,
                    "method": method_of(place),
                    "at": datetime.now(UTC),
                }
            )
        )
    return taken, left_out


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/live/recording",
    accepts=Record,
    gives=RecordingAdded,
    needs="enter",
    in_units=True,
    status=201,
)
def record(visit_id: int, body: Record, units: UnitSystem) -> RecordingAdded:
    """Record what the probes show from now on."""
    kit = kit_of(visit_id)
    refuse_circuit(found_visit(visit_id).document.unit, body.circuit)
    with kit.lock, writing(connection()) as db:
        growing = kit.growing
        known = recordings.entered_under(db, visit_id, body.entry_key)
        if known is not None:
            return RecordingAdded(recording=known)
        if growing is not None:
            raise problem(409, f"{growing.name.replace('-', ' ')} is being recorded already.")
        refuse_closed(db, visit_id)
        if not any(kit.listening.track_of(channel) for channel in kit.listening.places):
            raise problem(409, "No connected probe has a place yet: there is nothing to record.")
        name = recordings.next_key(db, visit_id)
        made = begun_now(
            name, body.mode, body.minutes_running, body.circuit, simulated=kit.simulated is not None
        )
        recorder().record(db, kit, made, body.entry_key, units)
    return RecordingAdded(recording=name)


@api.endpoint("delete", "/visits/<int:visit_id>/live/recording", gives=Stopped, needs="enter")
def stop_recording(visit_id: int) -> Stopped:
    """End what is being recorded."""
    kit = kit_of(visit_id)
    return Stopped(recording=recorder().stop_recording(connection(), kit))


@api.endpoint("put", "/visits/<int:visit_id>/live/simulated", accepts=Happening, gives=Heeded, needs="enter")
def happen(visit_id: int, body: Happening) -> Heeded:
    """Have something happen to the simulated unit or its probes."""
    kit = kit_of(visit_id)
    if kit.simulated is None:
        raise problem(409, "These probes are real: nothing is made to happen to them from here.")
    if body.call is not None:
        kit.simulated.tell(body.call)
    if body.force_defrost:
        kit.simulated.force_defrost()
    if body.address is not None and body.trouble is not None:
        try:
            kit.simulated.make(body.address, body.trouble)
        except TransportError as error:
            raise problem(404, str(error)) from None
    return Heeded(second=kit.listening.now)


@api.endpoint("post", "/visits/<int:visit_id>/live/heard", accepts=Relay, gives=Heeded, needs="enter")
def relay(visit_id: int, body: Relay) -> Heeded:
    """Send on what a browser's own Bluetooth heard."""
    kit = kit_of(visit_id)
    way = kit.listening.transports.get("relayed")
    if not isinstance(way, Relayed):
        raise problem(409, "These probes are not listened to by a browser.")
    now = recorder().clock()
    try:
        for one in body.found:
            way.introduce(Found(one.address, one.name, None))
    except TransportError as error:
        raise problem(409, str(error)) from None
    for address in body.lost:
        way.lose(address)
    way.say(
        [
            Heard(one.address, one.characteristic, one.instance, bytes.fromhex(one.data), now - one.ago)
            for one in body.said
        ],
        now,
    )
    return Heeded(second=kit.listening.now)

"""What the probes of a visit show, as a screen needs it."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from icepick.core.machine.stations import Place
from icepick.core.properties.quantities import UnitSystem
from icepick.core.settling.whole import Whole, whole
from icepick.probes.listening import BATTERY_LOW, Probe, State, Track
from icepick.probes.simulated import Trouble
from icepick.store import samples
from icepick.web.connection import connection
from icepick.web.recorder import Kit, Recorder, in_unit, unit_at


class LiveValue(BaseModel):
    """One value of a probe. ``to_come`` is what may still be to come, ``wavers`` how far it wavers about its level, both in
    ``unit``; ``silent`` seconds since it was heard."""

    measures: str
    station: str | None
    quantity: str | None
    value: float | None
    unit: str
    state: State
    to_come: float | None
    wavers: float | None
    silent: float | None
    wrong: str | None


class LiveProbe(BaseModel):
    """A probe within reach, or that was. ``battery`` is a share of 1, ``signal`` in dBm."""

    address: str
    name: str
    by: str
    connected: bool
    within_reach: bool
    signal: int | None
    battery: float | None
    battery_low: bool
    values: list[LiveValue]


class LiveSeries(BaseModel):
    """What a place showed in the seconds asked for."""

    station: str
    quantity: str
    unit: str
    seconds: list[int]
    values: list[float]


class LiveRecording(BaseModel):
    """What grows: seconds on disk, samples and bytes."""

    recording: str
    seconds: int
    samples: int
    bytes: int
    trouble: str | None


class LiveUnit(BaseModel):
    """The simulated unit: what it is told, for how many seconds, and what is the matter with its probes."""

    call: Literal["heating", "cooling", "off"]
    seconds: int
    defrosting: bool
    troubles: dict[str, Trouble]


class Live(BaseModel):
    """What the probes of a visit show. ``on`` is whether they are listened to, by ``ways`` of those the server ``offers``;
    ``second`` is the kit's clock. ``settled`` is whether all have, ``waits_for`` names the stations that have not, ``still``
    says so in words."""

    on: bool
    offers: list[str]
    ways: list[str]
    trouble: str | None
    second: int
    probes: list[LiveProbe]
    series: list[LiveSeries]
    settled: bool
    waits_for: list[str]
    still: str
    minutes_left: float | None
    recording: LiveRecording | None
    simulated: LiveUnit | None


def nothing_live(offers: list[str]) -> Live:
    """Where nothing is listened to."""
    return Live(
        on=False,
        offers=offers,
        ways=[],
        trouble=None,
        second=0,
        probes=[],
        series=[],
        settled=False,
        waits_for=[],
        still="",
        minutes_left=None,
        recording=None,
        simulated=None,
    )


def minutes_running(kit: Kit, recorder: Recorder) -> float | None:
    """How long the unit has been doing what it does; None where nobody knows it here."""
    return (recorder.clock() - kit.simulated.changed_at) / 60 if kit.simulated else None


def whole_of(kit: Kit, recorder: Recorder) -> Whole:
    """Whether all that is connected and has a place has settled."""
    listening = kit.listening
    placed = {
        _named(place): (track.state == "settled" if track else False)
        for channel, place in listening.places.items()
        if (track := listening.track_of(channel)) is not None or listening.probes[channel[0]].connected
    }
    return whole(placed, minutes_running(kit, recorder), recorder.limits())


def live_view(kit: Kit, recorder: Recorder, after: int, units: UnitSystem) -> Live:
    """What a kit shows now, and what it showed since a second of its clock."""
    listening = kit.listening
    simulated, found = kit.simulated, whole_of(kit, recorder)
    return Live(
        on=True,
        offers=recorder.offers,
        ways=list(listening.transports),
        trouble=next(
            (told for one in listening.transports.values() if (told := getattr(one, "trouble", None))), None
        ),
        second=listening.now,
        probes=[_probe(kit, probe, units) for probe in listening.probes.values()],
        series=_series(kit, after, units),
        settled=found.settled,
        waits_for=list(found.waits_for),
        still=found.words,
        minutes_left=found.minutes,
        recording=_growing(kit),
        simulated=LiveUnit(
            call=simulated.call,
            seconds=int(recorder.clock() - simulated.changed_at),
            defrosting=simulated.defrosting,
            troubles=simulated.troubles(),
        )
        if simulated
        else None,
    )


def _named(place: Place) -> str:
    return f"{place[0]} {place[1]}"


def _probe(kit: Kit, probe: Probe, units: UnitSystem) -> LiveProbe:
    names = dict.fromkeys(
        [*(one for address, one in kit.listening.places if address == probe.found.address), *probe.tracks]
    )
    return LiveProbe(
        address=probe.found.address,
        name=probe.found.name,
        by=probe.transport.name,
        connected=probe.connected,
        within_reach=probe.within_reach,
        signal=probe.found.signal,
        battery=probe.battery,
        battery_low=probe.battery is not None and probe.battery < BATTERY_LOW,
        values=[_value(kit, probe, name, probe.tracks.get(name), units) for name in names],
    )


_OF_NOWHERE: dict[str, Place] = {
    "temperature": ("discharge_line", "temperature"),
    "pressure": ("discharge_tap", "pressure"),
    "relative_humidity": ("return_air", "relative_humidity"),
}
"""By whose units a value is shown that is not of any place yet."""


def _value(kit: Kit, probe: Probe, name: str, track: Track | None, units: UnitSystem) -> LiveValue:
    place = kit.listening.places.get((probe.found.address, name))
    shown_as = place or _OF_NOWHERE[name.split(":")[0]]
    unit = unit_at(shown_as, units)

    def spread(value: float) -> float:
        return round(
            in_unit(value, shown_as, unit, kit.atmosphere) - in_unit(0.0, shown_as, unit, kit.atmosphere), 2
        )

    value = track.value if track else None
    judged = track.judged if track else None
    heard = track.heard_at if track else None
    return LiveValue(
        measures=name,
        station=place[0] if place else None,
        quantity=place[1] if place else None,
        value=None if value is None else round(in_unit(value, shown_as, unit, kit.atmosphere), 2),
        unit=unit,
        state=track.state if track else "waiting",
        to_come=spread(judged.to_come) if judged else None,
        wavers=spread(judged.noise) if judged else None,
        silent=None if heard is None else round(max(0.0, kit.listening.now - heard), 1),
        wrong=track.wrong if track else None,
    )


def _series(kit: Kit, after: int, units: UnitSystem) -> list[LiveSeries]:
    found: dict[Place, LiveSeries] = {}
    for second in kit.listening.seconds_since(after):
        for place, value in second.values.items():
            if place not in found:
                found[place] = LiveSeries(
                    station=place[0], quantity=place[1], unit=unit_at(place, units), seconds=[], values=[]
                )
            one = found[place]
            one.seconds.append(second.at)
            one.values.append(round(in_unit(value, place, one.unit, kit.atmosphere), 2))
    return list(found.values())


def _growing(kit: Kit) -> LiveRecording | None:
    growing = kit.growing
    if growing is None:
        return None
    size = samples.size(connection(), growing.row)
    return LiveRecording(
        recording=growing.name,
        seconds=growing.on_disk,
        samples=size.moments * len(growing.columns),
        bytes=size.bytes,
        trouble=growing.trouble,
    )

"""What each thing recorded says of the way the circuit runs at each moment: heating, reversed (cooling or defrost), or off.

A cue is a weight for each of the three. None is believed beyond its bounds, so that one clamp that has fallen off is
outvoted by the others. Directions are physics; the weights are our own choice.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from icepick.core.circuit.graph import build_circuit
from icepick.core.defrost.sparing import LeftOut, spare
from icepick.core.defrost.tracks import Array, Track, Tracks
from icepick.core.document.visit import Unit
from icepick.core.practice import Practice
from icepick.core.properties.refrigerants import nearest_saturation_temperature

HEATING, REVERSED, OFF = 0, 1, 2
FREEZING = 273.15
_INDOOR = 294.3
"""A room [K], where the return air was not recorded: 70 °F."""


def kelvin(fahrenheit: float) -> float:
    """A difference in °F as K."""
    return fahrenheit / 1.8


def absolute(fahrenheit: float) -> float:
    """A temperature in °F as K."""
    return (fahrenheit + 459.67) / 1.8


@dataclass(frozen=True, slots=True)
class Seen:
    """Everything a cue may look at."""

    tracks: Tracks
    unit: Unit
    practice: Practice
    moments: Array
    left_out: LeftOut = field(default_factory=dict, compare=False)
    """What of the recording could not be worked out, and why."""

    def of(self, *stations: str, quantity: str = "temperature") -> Array | None:
        """Values of the first of these stations that was recorded, at the moments."""
        for one in stations:
            track = self.tracks.get(one, quantity)
            if track is not None:
                return track.at(self.moments)
        return None


def weights(seen: Seen) -> Array:
    """All cues together.

    Parameters
    ----------
    seen : Seen
        The recording's tracks, and the moments asked about.

    Returns
    -------
    array of float, moments × 3
        Log-likelihood of heating, reversed and off.
    """
    total = np.zeros((seen.moments.size, 3))
    for what, cue in _CUES.items():
        said = spare(seen.left_out, f"which way it runs by {what}", partial(_said, cue, seen), list[Array]())
        for one in said:
            total += np.nan_to_num(one, nan=0.0)
    return total


def _said(cue: Callable[[Seen], Iterator[Array]], seen: Seen) -> list[Array]:
    return list(cue(seen))


def _steps(x: Array, *rows: tuple[float, tuple[float, float, float]]) -> Array:
    """Weights by the band ``x`` falls into: each row holds up to its edge; between rows they change at once."""
    edges = np.array([edge for edge, _ in rows[:-1]])
    table = np.array([weight for _, weight in rows])
    found: Array = table[np.searchsorted(edges, x)]
    found[np.isnan(x)] = 0.0
    return found


_END = float("inf")


_DRAWS = {"outdoor_fan": "fan_current_none"}
_WATTS_AN_AMP = 100.0
"""At the least: what draws nothing takes less than this for each ampere of the limit."""


def switch(tracks: Tracks, station: str, practice: Practice) -> Track | None:
    """1 where a thing is on, 0 where it is off; None where nothing was recorded of it.

    Parameters
    ----------
    tracks : Tracks
        Of the recording.
    station : str
        ``compressor``, ``outdoor_fan``, ``backup_heat``, ``solenoid`` or a terminal.
    practice : Practice
        The limits in force.

    Returns
    -------
    Track or None
        By state, else by current, power or voltage.
    """
    state = tracks.get(station, "state")
    if state is not None:
        return state
    draws = practice.si(_DRAWS.get(station, "current_none"))
    least = {"current": draws, "power": draws * _WATTS_AN_AMP, "voltage": practice.si("control_present")}
    for quantity, limit in least.items():
        track = tracks.get(station, quantity)
        # A compressor's or heater's voltage says that it could run.
        if track is not None and (quantity != "voltage" or station in _CONTROL):
            on = (track.values >= limit).astype(np.float64)
            return Track((station, "state"), track.seconds, on, 0.0, holds=True)
    return None


_CONTROL = ("solenoid", "terminal_r", "terminal_y", "terminal_o", "terminal_b", "terminal_w")


def reversing_command(tracks: Tracks, unit: Unit, practice: Practice) -> Track | None:
    """1 where the valve is told to run the unit in cooling, by the coil's voltage, else by its terminal's."""
    cools = unit.reversing_valve.energized_in == "cooling"
    for station in ("solenoid", "terminal_o" if cools else "terminal_b"):
        track = switch(tracks, station, practice)
        if track is not None:
            return Track(
                ("command", "state"),
                track.seconds,
                track.values if cools else 1 - track.values,
                0.0,
                holds=True,
            )
    return None


def _compressor(seen: Seen) -> Iterator[Array]:
    runs = switch(seen.tracks, "compressor", seen.practice)
    if runs is not None:
        yield _steps(runs.at(seen.moments), (0.5, (-8, -8, 0)), (_END, (0, 0, -8)))
    taps = [seen.of(tap, quantity="pressure") for tap in ("discharge_tap", "common_suction_tap")]
    if taps[0] is not None and taps[1] is not None:
        ratio = taps[0] / np.maximum(taps[1], 1e4)
        yield _steps(ratio, (1.15, (-1.5, -1.5, 1)), (1.4, (0, 0, 0)), (_END, (0.5, 0.5, -1.5)))


def _end_ports(seen: Seen) -> Iterator[Array]:
    """The hot one of the valve's end ports leads to the coil that gives off heat; at rest neither is hot."""
    outdoor, indoor = seen.of("valve_to_outdoor"), seen.of("valve_to_indoor")
    if outdoor is None or indoor is None:
        return
    apart = (outdoor - indoor) * 1.8
    said = _steps(apart, (-12, (3, -2, -1.5)), (0, (0.3, 0, 0.5)), (12, (0, 0.3, 0.5)), (_END, (-2, 3, -0.5)))
    said[(apart < -12) & (indoor < absolute(85))] = (-0.5, -0.5, 1.0)
    yield said


def _discharge(seen: Seen) -> Iterator[Array]:
    """Hot in either mode, once it has warmed up; at rest it cools."""
    line = seen.of("discharge_line")
    if line is not None:
        yield _steps(
            line, (absolute(90), (-0.5, -0.5, 0.6)), (absolute(110), (0, 0, 0.1)), (_END, (0.2, 0.2, -0.3))
        )


def _hot_when_heating(seen: Seen) -> Iterator[Array]:
    """Pipes that carry hot gas to the house in heating and cold gas from it when reversed."""
    alone = ("valve_to_indoor",) if seen.of("valve_to_outdoor") is None else ()
    for station in ("vapor_line_outdoor", "vapor_line_indoor", "indoor_coil", *alone):
        value = seen.of(station)
        if value is not None:
            said = _steps(
                value,
                (absolute(55), (-1.5, 1.2, 0.2)),
                (absolute(68), (-0.4, 0.6, 0.4)),
                (absolute(82), (0, 0, 0.3)),
                (_END, (1.5, -1.5, -0.2)),
            )
            # Outdoors a pipe at rest is as cold as the air.
            said[:, REVERSED] = np.where(
                (value < absolute(55)) & (station == "vapor_line_outdoor"), 0.6, said[:, REVERSED]
            )
            yield said
    tap = seen.of("vapor_service_tap", quantity="pressure")
    if tap is not None:
        yield _steps(
            _saturated(seen, tap),
            (absolute(50), (-2, 1.5, 0)),
            (absolute(75), (0, 0, 0.3)),
            (_END, (1.5, -2, -0.2)),
        )


def _saturated(seen: Seen, pressure: Array) -> Array:
    known = np.nan_to_num(pressure, nan=5e5)
    found = nearest_saturation_temperature(seen.unit.refrigerant, known, "dew")
    return np.where(np.isnan(pressure), np.nan, found)


def _outdoor_coil(seen: Seen) -> Iterator[Array]:
    """Colder than its air in heating; warmer when reversed, but for the while that ice holds it near freezing."""
    for station, weight in (("outdoor_coil", 1.0), ("coil_sensor", 0.7), ("outdoor_meter_coil_side", 0.5)):
        coil = seen.of(station)
        if coil is not None:
            yield weight * _against_air(seen, coil)
    circuits = [
        track for spot, track in seen.tracks.by_spot.items() if spot[0].startswith("outdoor_circuit:")
    ]
    if circuits:
        with np.errstate(all="ignore"):
            values = np.array([track.at(seen.moments) for track in circuits])
            middle = np.where(
                np.isnan(values).all(axis=0),
                np.nan,
                np.nanmedian(np.nan_to_num(values, nan=FREEZING), axis=0),
            )
        yield 0.5 * _against_air(seen, middle)


def _against_air(seen: Seen, coil: Array) -> Array:
    air = seen.of("outdoor_air_in", "ambient_sensor")
    if air is None:
        return _steps(
            coil,
            (absolute(24), (1.0, -1.0, -0.2)),
            (absolute(40), (0, 0, 0)),
            (absolute(46), (-0.6, 0.6, 0.1)),
            (_END, (-1.5, 1.5, 0)),
        )
    over = (coil - air) * 1.8
    said = _steps(
        over,
        (-18, (1.6, -1.6, -1.6)),
        (-5, (1.2, -1.2, -0.4)),
        (-2, (0.3, -0.3, 0.3)),
        (4, (-0.2, -0.1, 0.4)),
        (10, (-1, 0.5, 0)),
        (_END, (-1.5, 1.5, -0.5)),
    )
    # A coil that is warm and cools is heated no more; one that is cold and warms takes up no heat.
    moves = _slope(seen.moments, coil) * 60 * 1.8
    said[(over > 8) & (moves < -0.8)] = (0.3, -0.6, 0.6)
    said[(over < -5) & (over > -18) & (moves > 0.7)] = (-0.3, 0.2, 0.4)
    # Melting ice is as cold, whatever the air; a coil colder than ice melts is another matter.
    melting = (coil > absolute(30)) & (coil < absolute(43)) & (over < 4)
    said[melting] = 0.0
    return said


def _slope(moments: Array, values: Array) -> Array:
    """How fast values move [per s], over a minute to either side."""
    found = np.full(values.size, np.nan)
    span = max(1, round(60 / float(moments[1] - moments[0]))) if moments.size > 1 else 1
    if values.size > 2 * span:
        rise = values[2 * span :] - values[: -2 * span]
        found[span:-span] = rise / (moments[2 * span :] - moments[: -2 * span])
        # At its ends a recording is taken to go on as it did.
        found[:span], found[-span:] = found[span], found[-span - 1]
    return found


def _supply(seen: Seen) -> Iterator[Array]:
    """Warmer than the room in heating, colder when reversed."""
    supply, room = seen.of("supply_air"), seen.of("return_air")
    after = seen.of("supply_air_after_heat")
    if supply is not None and room is not None:
        yield _steps(
            (supply - room) * 1.8,
            (-5, (-2, 2, -0.3)),
            (-2, (-0.5, 0.6, 0.4)),
            (5, (-1, -0.2, 0.8)),
            (10, (0.2, -0.2, 0.3)),
            (_END, (2, -2, -0.3)),
        )
    elif supply is not None:
        # A room whose air was not recorded may be colder or warmer than usual.
        over = (supply - _INDOOR) * 1.8
        said = _steps(
            over,
            (-10, (-2, 2, -0.3)),
            (-6, (-0.5, 0.4, 0.4)),
            (4, (-0.4, 0, 0.5)),
            (8, (0.2, -0.2, 0.3)),
            (_END, (2, -2, -0.3)),
        )
        heats = float(np.nanquantile(supply, 0.8)) if not np.isnan(supply).all() else 0.0
        if heats > absolute(78):
            # Well under what it blows as a rule, and no colder than a room: nothing heats.
            rests = (supply < heats - kelvin(9)) & (over > -10) & (over < 7)
            said[rests] = (-0.8, 0.0, 0.6)
        cold = float(np.nanquantile(supply, 0.01)) if not np.isnan(supply).all() else 300.0
        if cold < absolute(62):
            # Well over what it blew in a defrost: no longer in one.
            said[:, REVERSED] -= np.where((supply > cold + kelvin(12)) & (said[:, REVERSED] > -1), 0.4, 0.0)
        yield said
    elif after is not None:
        over = (after - _INDOOR) * 1.8
        yield _steps(
            over, (-6, (-1.5, 1.5, 0)), (5, (-0.5, 0.3, 0.3)), (15, (0, 0, 0)), (_END, (1.0, -0.8, -0.2))
        )


def _others(seen: Seen) -> Iterator[Array]:
    air, out = seen.of("outdoor_air_in"), seen.of("outdoor_air_out")
    if air is not None and out is not None:
        yield _steps((out - air) * 1.8, (-3, (0.8, -0.8, -0.4)), (3, (0, 0, 0.1)), (_END, (-0.8, 0.8, 0)))
    liquid = seen.of("liquid_line_outdoor")
    if liquid is not None and _liquid_line(seen.unit):
        yield _steps(
            liquid, (absolute(60), (-0.4, 0.4, 0.2)), (absolute(72), (0, 0, 0)), (_END, (0.5, -0.5, 0))
        )
    for side, weight in (("source", 1.0), ("load", -1.0)):
        entering, leaving = seen.of(f"{side}_water_in"), seen.of(f"{side}_water_out")
        if entering is not None and leaving is not None:
            yield _steps(
                weight * (leaving - entering) * 1.8,
                (-2, (1.5, -1.5, -0.5)),
                (2, (-0.2, -0.2, 0.5)),
                (_END, (-1.5, 1.5, -0.5)),
            )


def _liquid_line(unit: Unit) -> bool:
    stops = {stop.station: stop.state for stop in build_circuit(unit, "cooling").path}
    return stops.get("liquid_line_outdoor") == "subcooled_liquid"


def _board(seen: Seen) -> Iterator[Array]:
    """What the board switches: it decides where nothing of the circuit does."""
    fan = switch(seen.tracks, "outdoor_fan", seen.practice)
    if fan is not None:
        yield _steps(fan.at(seen.moments), (0.5, (-0.5, 0.4, 0.4)), (_END, (0.3, -0.2, -0.2)))
    told = reversing_command(seen.tracks, seen.unit, seen.practice)
    if told is not None:
        yield _steps(told.at(seen.moments), (0.5, (0.5, -0.5, 0)), (_END, (-0.5, 0.5, 0)))


def _heard(seen: Seen) -> Iterator[Array]:
    """Each rush of gas that was heard is a shift; a technician also says when it heats again."""
    marks = seen.tracks.marks
    shifts: list[tuple[float, bool | None]] = [(at, None) for at in marks.get("valve_shift_heard", [])]
    shifts += [(at, True) for at in marks.get("back_in_heating", [])]
    if not shifts or seen.tracks.recording.mode not in ("heating", "cooling", "defrost"):
        return
    heats = np.full(seen.moments.size, seen.tracks.recording.mode == "heating")
    for at, to in sorted(shifts, key=lambda one: one[0]):
        later = seen.moments >= at
        heats[later] = ~heats[later] if to is None else to
    yield _steps(heats.astype(float), (0.5, (-1, 1, 0)), (_END, (1, -1, 0)))


_CUES: dict[str, Callable[[Seen], Iterator[Array]]] = {
    "the compressor": _compressor,
    "the valve's end ports": _end_ports,
    "the discharge line": _discharge,
    "the pipes to the house": _hot_when_heating,
    "the outdoor coil": _outdoor_coil,
    "the supply air": _supply,
    "the air, water and liquid line": _others,
    "the board": _board,
    "what was heard": _heard,
}


def swinging(tracks: Tracks, unit: Unit) -> list[tuple[Track, float]]:
    """The tracks that swing when the circuit reverses from heating, and which way: +1 they rise, −1 they fall.

    Parameters
    ----------
    tracks : Tracks
        Of the recording.
    unit : Unit
        The equipment.

    Returns
    -------
    list of (Track, float)
        The quickest first.
    """
    ways = {
        "valve_to_outdoor": 1.0,
        "valve_to_indoor": -1.0,
        "outdoor_coil": 1.0,
        "vapor_line_outdoor": -1.0,
        "vapor_line_indoor": -1.0,
        "indoor_coil": -1.0,
        "coil_sensor": 1.0,
        "outdoor_meter_coil_side": 1.0,
        "supply_air": -1.0,
    }
    found = [(track, way) for code, way in ways.items() if (track := tracks.get(code)) is not None]
    tap = tracks.get("vapor_service_tap", "pressure")
    return [*found, *([(tap, -1.0)] if tap is not None else [])]

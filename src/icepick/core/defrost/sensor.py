"""A defrost sensor through time: its own signal against a clamp beside it, and what its error does to this board."""

from __future__ import annotations

from typing import Literal

import numpy as np

from icepick.core.checks.sensors import say_effect
from icepick.core.defrost.finding import Finding, Judged, minutes, needs
from icepick.core.defrost.sequence import difference
from icepick.core.defrost.tracks import Track, by_table
from icepick.core.properties import sensors


def coil_sensor(judged: Judged) -> Finding | None:
    """The coil sensor against the clamp beside it, else against a bend.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        None where its resistance was not recorded.
    """
    watched = judged.watched
    if watched.signal is None or watched.beyond is None:
        return None
    if float(np.mean(watched.beyond)) > 0.5:
        return _open_or_shorted(judged, "coil_sensor")
    bend = watched.seen.tracks.temperature("outdoor_coil")
    if watched.beside_sensor is not None:
        return _compared(judged, watched.signal, watched.beside_sensor, effect=True)
    if bend is not None:
        return _compared(judged, watched.signal, bend, effect=True, at_bend=True)
    return needs(judged, "coil_sensor")


def ambient_sensor(judged: Judged) -> Finding | None:
    """The ambient sensor against a thermometer beside it, else against the outdoor air.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        None where its resistance was not recorded.
    """
    tracks, rows = judged.watched.seen.tracks, judged.watched.settings.sensor_rows
    resistance = tracks.get("ambient_sensor", "resistance")
    if resistance is None:
        return None
    signal, beyond = by_table(resistance, rows)
    if float(np.mean(beyond)) > 0.5:
        return _open_or_shorted(judged, "ambient_sensor")
    beside = tracks.temperature("ambient_sensor", "outdoor_air_in")
    return _compared(judged, signal, beside) if beside is not None else needs(judged, "outdoor_air_in")


def _open_or_shorted(judged: Judged, station: str) -> Finding:
    track = judged.watched.seen.tracks.get(station, "resistance")
    ohms = 0.0 if track is None else float(np.median(track.values))
    opened = ohms > max(row[1] for row in judged.watched.settings.sensor_rows)
    return Finding(
        "fail",
        f"{ohms / 1000:,.4g} kΩ is off its table: {'open' if opened else 'shorted'}. Look at its plug and wire before it is "
        "condemned.",
        uses=[station],
    )


def _compared(
    judged: Judged, signal: Track, beside: Track, *, effect: bool = False, at_bend: bool = False
) -> Finding | None:
    off = difference(judged.watched.seen.moments, signal, beside)
    if off is None:
        return None
    limit = judged.practice.si("sensor_difference_bend" if at_bend else "sensor_difference")
    half = beside.band + signal.band
    beyond, within = abs(off) > limit + half, abs(off) <= limit - half
    # A bend is another place: it can clear the sensor or raise a doubt, not condemn it.
    status: Literal["pass", "watch", "fail"] = (
        "pass" if within else "fail" if beyond and not at_bend else "watch"
    )
    curve = (
        f"the {sensors.DEFAULT_NAME}, the default,"
        if judged.watched.settings.sensor_rows is sensors.DEFAULT_TABLE
        else "the manufacturer's table"
    )
    against = "a bend of the coil" if at_bend else "a thermometer beside it"
    said = f"By {curve} it reads {_off_words(judged, off)} against {against}."
    if status == "pass":
        said = f"By {curve} it is within {judged.difference(max(abs(off), 0.05))} of {against}."
    what = f" {_effect(judged, off)}" if effect and status != "pass" else ""
    look = " Look at its contact and its wiring before it is condemned." if status == "fail" else ""
    return Finding(
        status,
        f"{said}{what}{look}",
        abs(off),
        band=half,
        margin=limit - abs(off),
        uses=[signal.spot[0], beside.spot[0]],
    )


def _off_words(judged: Judged, off: float) -> str:
    return f"{judged.difference(abs(off))} too {'warm' if off > 0 else 'cold'}"


def _effect(judged: Judged, off: float) -> str:
    """What a sensor that is so far off does to this board."""
    settings = judged.watched.settings
    late = _later(judged, settings.start_below - off)
    later = "" if late is None or late < 60 else minutes(late)
    return f"{say_effect(settings, off, judged.practice, judged.units, later)}."


def _later(judged: Judged, start: float) -> float | None:
    """How long the coil took from the set start to where such a sensor shows it [s]; None where it did not get there."""
    watched = judged.watched
    track = watched.beside_sensor or watched.coil
    if track is None:
        return None
    for spell in watched.course.spells:
        if spell.mode != "heating":
            continue
        seconds, values = track.between(spell.start, spell.end)
        first = np.flatnonzero(values <= watched.settings.start_below)
        then = np.flatnonzero(values <= start)
        if first.size and then.size:
            return float(seconds[then[0]] - seconds[first[0]])
    return None

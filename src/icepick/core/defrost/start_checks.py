"""Did a defrost start when it should: on a cold coil, with frost on it, no sooner than its time, and at all?
[the-trade.md 7]"""

from __future__ import annotations

import numpy as np

from icepick.core.defrost.course import run_before
from icepick.core.defrost.finding import Finding, Judged, clock, minutes, worst
from icepick.core.defrost.sequence import Defrost


def start(judged: Judged) -> Finding | None:
    """Whether a defrost started as it should, and whether one that was due did not come.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    settings = judged.watched.settings
    if settings.method == "none":
        return None
    return worst([judged.worst(_started, judged.defrosts), _missed(judged)])


def _started(judged: Judged, one: Defrost) -> Finding | None:
    settings, call = judged.watched.settings, one.call
    if call.forced is not None:
        return _forced(judged, one)
    if call.started is None or not (call.shifted or call.off_cycle):
        return None
    before = "" if one.run_before is None else f" after {minutes(one.run_before)} in heating"
    sensor, slack = one.sensor_at_start, judged.practice.si("defrost_start_slack")
    if sensor is None:
        sensor, slack = one.coil_at_start, judged.practice.si("defrost_start_slack_bend")
    where = "" if sensor is None else f", with the coil at {judged.temperature(sensor)}"
    said = f"It started at {clock(call.started)}{before}{where}"
    if sensor is not None and sensor > settings.start_below + slack:
        return Finding(
            "fail",
            f"{said}, above the start of {judged.temperature(settings.start_below)}: look at the sensor, its wire and the "
            "board.",
            sensor,
            margin=settings.start_below - sensor,
            limit=settings.start_below,
            sign="above start",
        )
    thin = _thin(judged, one)
    if one.dry and thin:
        if (
            settings.method == "demand"
            and one.colder is not None
            and one.colder < 0.5 * judged.practice.si("frost_sag")
        ):
            return Finding(
                "fail",
                f"{said}. The air is too dry for frost on it: a demand board should have waited. Look at its sensors.",
                sensor,
                limit=settings.start_below,
                sign="dry",
            )
        return Finding(
            "pass",
            f"{said}. The air is too dry for frost on it; a board that starts by time and temperature starts all the same.",
            sensor,
            limit=settings.start_below,
            sign="seen",
        )
    grown = (
        ""
        if thin or one.colder is None
        else f" Frost had let it grow {judged.difference(one.colder)} colder."
    )
    margin = None if sensor is None else settings.start_below - sensor
    return Finding(
        "pass",
        f"{said}.{grown}",
        sensor,
        margin=margin,
        limit=settings.start_below,
        uses=_coil(judged),
        sign="seen",
    )


def _thin(judged: Judged, one: Defrost) -> bool:
    """Whether no frost is known to have let the coil grow colder before it."""
    return one.colder is None or one.colder < judged.practice.si("frost_sag")


def _coil(judged: Judged) -> list[str]:
    coil = judged.watched.coil
    return [coil.spot[0]] if coil is not None else []


def _forced(judged: Judged, one: Defrost) -> Finding | None:
    call = one.call
    at = clock(call.forced or 0.0)
    if call.shifted or call.called is not None:
        return Finding("pass", f"Forced at {at}, and the board answered.", sign="seen")
    if judged.board_seen:
        return Finding(
            "fail",
            f"Forced at {at}, and nothing was switched: neither valve, fan nor heat. Check 24 V at R and Y, the sensor, then "
            "the board.",
            sign="unanswered",
        )
    return Finding(
        "fail",
        f"Forced at {at}, and the circuit went on heating. Look whether the board stops the fan and sends 24 V to the valve.",
        sign="unanswered or not shifted",
    )


def _missed(judged: Judged) -> Finding | None:
    """Whether a defrost that was due did not come."""
    watched, practice = judged.watched, judged.practice
    frost, tracks = watched.frost, watched.seen.tracks
    spells = [one for one in watched.course.spells if one.mode == "heating"]
    if not spells or watched.seen.unit.source != "air":
        return None
    if len(judged.ran) < len(judged.defrosts):
        return None  # The board called; why nothing followed is another matter.
    end = spells[-1].end
    done = [one.call.ended for one in judged.ran if one.call.ended is not None]
    since = done[-1] if done else tracks.start
    ran = run_before(watched.course, end, watched.first, tracks.start)
    if ran is None:
        ran = sum(max(0.0, one.end - max(one.start, since)) for one in spells)
    grown = frost.coldest_growth(since, end)
    iced = any(at >= since for at in tracks.marks.get("outdoor_coil_iced_solid", []))
    warm = _warmer_than_start(judged, since, end)
    frosted = iced or (grown is not None and grown > practice.si("frost_sag"))
    if frosted and warm is not True:
        return _frosted_without(judged, ran, grown, iced=iced)
    if judged.ran:
        return None
    held = f"{minutes(ran)} in heating without one"
    if warm:
        start = judged.temperature(watched.settings.start_below)
        return Finding("pass", f"None was due: the coil stayed above {start}.")
    if ran < practice.si("defrost_telling") * watched.settings.interval:
        longer = minutes(watched.settings.interval)
        return Finding(
            "needs_readings",
            f"{minutes(ran)} in heating prove nothing of a defrost. Go on recording, at least {longer}, or force one.",
        )
    if frost.dry(end):
        return Finding("pass", f"{held}; the air is too dry for frost on the coil.")
    if grown is None:
        return None
    if ran >= practice.si("defrost_missed") * watched.settings.interval:
        return Finding(
            "watch",
            f"{held}, and the coil has not grown colder: no frost worth a defrost, though a timer would have started one.",
        )
    return Finding("pass", f"None was due: {held}, and the coil has not grown colder.")


def _frosted_without(judged: Judged, ran: float, grown: float | None, *, iced: bool) -> Finding | None:
    """What it means that frost has grown through so long in heating [s] without a defrost."""
    settings, practice = judged.watched.settings, judged.practice
    late = ran >= (1.0 if iced else practice.si("defrost_late")) * settings.interval
    if settings.method == "demand":
        much = iced or (grown is not None and grown > 2 * practice.si("frost_sag"))
        late = much and ran >= 2 * settings.least_interval
    held = f"{minutes(ran)} in heating without one"
    how = "" if grown is None else f", and frost has let the coil grow {judged.difference(grown)} colder"
    if late:
        timed = settings.known("interval") and settings.method != "demand"
        many = f", {ran / settings.interval:.1f} intervals" if timed else ""
        near = (
            not iced
            and not (timed and ran >= practice.si("defrost_overdue") * settings.interval)
            and grown is not None
            and grown < practice.si("frost_sag") + practice.si("frost_sag_near")
        )
        if near:
            return Finding(
                "watch",
                f"{held}{many}{how}: near what proves frost. A defrost may be due.",
                uses=_coil(judged),
            )
        return Finding(
            "fail",
            f"{held}{many}{how}: a defrost was due and did not come. Melt the coil first; then the sensor, then the board.",
            uses=_coil(judged),
            sign="missed" if judged.board_seen else "missed, board unseen",
        )
    if judged.ran:
        return None
    return Finding("watch", f"{held}{how}. Go on recording: one is due by {minutes(settings.interval)}.")


def _warmer_than_start(judged: Judged, start: float, end: float) -> bool | None:
    """Whether the sensor's place stayed warmer than the start, so that no board would begin."""
    watched = judged.watched
    track = watched.beside_sensor or watched.coil
    if track is None:
        return None
    moments = watched.seen.moments
    values = track.at(moments[(watched.frost.settled(moments) > 0) & (moments >= start) & (moments <= end)])
    values = values[~np.isnan(values)]
    if not values.size:
        return None
    return bool(np.quantile(values, 0.2) > watched.settings.start_below)


def interval(judged: Judged) -> Finding | None:
    """Whether a defrost came sooner than it should.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    if not judged.watched.settings.reverses and judged.watched.settings.method != "off_cycle":
        return None
    return worst([judged.worst(_interval_of, judged.defrosts), _for_nothing(judged)])


def _for_nothing(judged: Judged) -> Finding | None:
    """Defrosts one after the other that found nothing to melt: each by itself is what a timer does."""
    every = judged.defrosts
    if len(every) < judged.practice.si("defrosts_for_nothing"):
        return None
    if not all(one.dry and one.call.forced is None and _thin(judged, one) for one in every):
        return None
    said = f"{len(every)} defrosts in a row found no frost to melt"
    if judged.watched.settings.method == "demand":
        return Finding(
            "fail",
            f"{said}: a demand board should have waited. Compare its sensors with a thermometer.",
        )
    interval = minutes(judged.watched.settings.interval)
    return Finding(
        "watch",
        f"{said}. A timer starts them all the same: in dry cold set it longer than {interval}, where the board allows it.",
    )


def _interval_of(judged: Judged, one: Defrost) -> Finding | None:
    settings, practice = judged.watched.settings, judged.practice
    if one.run_before is None or one.call.forced is not None:
        return None
    timed = settings.method == "time_temperature" and settings.known("interval")
    least = settings.interval if timed else settings.least_interval
    early = least * (1 - practice.si("defrost_interval_tolerance"))
    said = f"{minutes(one.run_before)} in heating since the last one"
    if one.run_before < early:
        return Finding(
            "fail",
            f"{said}, sooner than its {minutes(least)}: look at the timer's setting, the sensor and the board.",
            one.run_before,
            band=20.0,
            margin=one.run_before - least,
            limit=least,
        )
    return Finding(
        "pass",
        f"{said}; at least {minutes(least)}.",
        one.run_before,
        band=20.0,
        margin=one.run_before - least,
        limit=least,
    )

"""Does a defrost do what it should: shift, fan off, backup heat on, stop by temperature or by its limit? [the-trade.md 7]"""

from __future__ import annotations

import numpy as np

from icepick.core.defrost.finding import Finding, Judged, clock, minutes, needs
from icepick.core.defrost.sequence import Defrost

_ENOUGH = 300.0
"""Seconds of a spell that show which way the unit runs."""


def runs_as_called(judged: Judged) -> Finding | None:
    """Whether the circuit ran the way that was called for.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        None where no spell tells, or nothing was called for.
    """
    mode = judged.watched.seen.tracks.recording.mode
    called = "heating" if mode == "defrost" else mode
    if called == "off":
        return None
    ran: dict[str, float] = {}
    for spell in judged.watched.course.spells:
        ran[spell.mode] = ran.get(spell.mode, 0.0) + spell.end - spell.start
    other = "cooling" if called == "heating" else "heating"
    if ran.get(called, 0.0) >= _ENOUGH and ran.get(called, 0.0) >= ran.get(other, 0.0):
        stays = any(_stays_over(judged, one) or _runs_on(judged, one) for one in judged.ran)
        said = f"The circuit ran in {called} for {minutes(ran[called])}, as it was told."
        return Finding("pass", said, sign="until it stayed over" if stays else "")
    if ran.get(other, 0.0) >= _ENOUGH:
        return Finding(
            "fail",
            f"Called for {called}, and the circuit ran in {other} for {minutes(ran[other])}: the O/B setting, the 24 V at "
            "the valve, then the valve.",
            sign="other way",
        )
    if ran.get("off", 0.0) >= _ENOUGH and not ran.get(called):
        return Finding(
            "watch",
            f"Called for {called}, and nothing ran for {minutes(ran['off'])}: the call at Y, R, then the compressor.",
            sign="stands",
        )
    return None


def shift(judged: Judged) -> Finding | None:
    """Whether the valve followed, there and back.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    return judged.worst(_shifted, [one for one in judged.defrosts if not one.call.off_cycle])


def _shifted(judged: Judged, one: Defrost) -> Finding | None:
    call, practice = one.call, judged.practice
    if not call.shifted:
        if call.called is None and judged.board_seen:
            return None  # The board did nothing, and the valve is not to blame.
        if call.called is None:
            return Finding(
                "fail",
                f"Forced at {clock(call.forced or 0.0)}, and the pipes show heating throughout: it did not shift.",
                sign="nothing answers",
            )
        volts = _voltage_in(judged, one)
        told = {
            True: " The valve was told to: the winding, then the valve.",
            False: " The valve was not told to: follow the 24 V back to the board.",
            None: " Read the voltage at the valve.",
        }[volts]
        return Finding(
            "fail",
            f"Called for at {clock(call.called or 0.0)}, and the pipes show heating throughout: it did not shift.{told}",
            sign="not shifted",
        )
    if _stays_over(judged, one) and call.let_go is not None:
        over = one.last - call.let_go
        return Finding(
            "fail",
            f"The board ended the defrost at {clock(call.let_go or 0.0)}, and the circuit ran on in "
            f"cooling for {minutes(over)}: the valve stayed over.",
            sign="stays over",
        )
    there = "shifted" if call.ended is not None else "shifted, not yet back"
    if one.shift_delay is None:
        return Finding("pass", "The pipes show the shift.", sign=there)
    late = one.shift_delay > practice.si("defrost_shift_time")
    return Finding(
        "watch" if late else "pass",
        f"The pipes show the shift {one.shift_delay:.0f} s after the call.",
        one.shift_delay,
        band=10.0,
        margin=practice.si("defrost_shift_time") - one.shift_delay,
        sign=there,
    )


def _runs_on(judged: Judged, one: Defrost) -> bool:
    """Whether it runs past its limit, and no board is seen to end it."""
    most = judged.watched.settings.limit + judged.practice.si("defrost_overrun")
    return one.lasted is not None and one.lasted > most and one.call.let_go is None


def _stays_over(judged: Judged, one: Defrost) -> bool:
    """Whether the circuit ran on in cooling once the board had ended the defrost."""
    practice, let_go = judged.practice, one.call.let_go
    most = practice.si("defrost_shift_time") + practice.si("defrost_overrun")
    if let_go is None or one.last - let_go <= most:
        return False
    return judged.watched.course.surely_reversed(let_go + practice.si("defrost_overrun"), one.last)


def _voltage_in(judged: Judged, one: Defrost) -> bool | None:
    """Whether the valve was told to reverse while a defrost was called for."""
    reverse = judged.watched.course.board.reverse
    if reverse is None or one.call.started is None:
        return None
    found = reverse.value(one.call.started + 5, max(one.last - 5, one.call.started + 10))
    return None if found is None else found > 0.5


def fan(judged: Judged) -> Finding | None:
    """Whether the outdoor fan stood still.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    if judged.watched.seen.unit.source != "air":
        return None
    ran = [one for one in judged.defrosts if one.call.shifted and not one.call.off_cycle]
    return judged.worst(_fan_in, ran)


def _fan_in(judged: Judged, one: Defrost) -> Finding:
    if one.fan_stopped is None:
        return needs(judged, "outdoor_fan")
    if one.fan_stopped:
        return Finding("pass", "The outdoor fan stands still.", uses=["outdoor_fan"])
    return Finding(
        "fail",
        "The outdoor fan runs on and blows away the heat that should melt the ice: look at the fan relay "
        "and the board.",
        uses=["outdoor_fan"],
    )


def backup_heat(judged: Judged) -> Finding | None:
    """Whether backup heat was on.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    unit = judged.watched.seen.unit
    if unit.load != "air" or unit.backup_heat in ("none", "other"):
        return None
    ran = [one for one in judged.defrosts if one.call.shifted and not one.call.off_cycle]
    return judged.worst(_heat_in, ran)


def _heat_in(judged: Judged, one: Defrost) -> Finding:
    called = _called(judged, one)
    if one.backup_heat_on is None and called is False:
        return Finding(
            "fail",
            "W is dead: backup heat is not called. Look at the board and its wire.",
            uses=["terminal_w"],
        )
    if one.backup_heat_on is None:
        return needs(judged, "backup_heat")
    lowest = (
        "" if one.supply_lowest is None else f" Supply air falls to {judged.temperature(one.supply_lowest)}."
    )
    if one.backup_heat_on:
        return Finding("pass", f"Backup heat is on.{lowest}")
    where = {
        True: " It is called at W: look at the heater, its sequencer and its limit switch.",
        False: " W is dead: look at the board and its wire.",
        None: "",
    }[called]
    return Finding("fail", f"Backup heat stays off.{where}{lowest}")


def _called(judged: Judged, one: Defrost) -> bool | None:
    track = judged.watched.seen.tracks.get("terminal_w", "voltage")
    start = one.call.started if one.call.started is not None else judged.watched.seen.tracks.start
    volts = track.value(start + 10, one.last - 5) if track is not None else None
    if volts is None:
        return None
    if volts >= judged.practice.si("control_present"):
        return True
    return False if volts <= judged.practice.si("control_absent") else None


def stop(judged: Judged) -> Finding | None:
    """What ended it.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    return judged.worst(_stopped, judged.ran)


def _stopped(judged: Judged, one: Defrost) -> Finding | None:
    settings, call = judged.watched.settings, one.call
    if call.off_cycle:
        at = "" if one.coil_highest is None else f" with the coil at {judged.temperature(one.coil_highest)}"
        return None if call.ended is None else Finding("pass", f"The compressor started again{at}.")
    passed = _long_past(judged, one)
    stop = judged.temperature(settings.stop_above)
    if passed is not None:
        lasts, warmest = passed
        has, went_on = (
            ("has", ", and the defrost runs on")
            if call.let_go is None
            else ("had", ", before the defrost ended")
        )
        return Finding(
            "fail",
            f"The coil {has} passed its stop of {stop} for {minutes(lasts)}, up to {judged.temperature(warmest)}{went_on}: "
            "the sensor first, then the board.",
            warmest,
            limit=settings.stop_above,
            sign="long past",
        )
    if one.lasted is not None and _runs_on(judged, one):
        return Finding(
            "fail",
            f"It has run for {minutes(one.lasted)}, past its limit of {minutes(settings.limit)}.",
            sign="past limit" if judged.board_seen else "past limit, board unseen",
        )
    by_sensor = one.sensor_highest is not None
    highest = one.sensor_highest if by_sensor else one.coil_highest
    reached = (
        ""
        if highest is None
        else f" with the {'sensor' if by_sensor else 'coil'} at {judged.temperature(highest)}"
    )
    if one.ended_by == "temperature":
        return Finding(
            "pass",
            f"It stopped by temperature{reached}.",
            highest,
            limit=settings.stop_above,
            sign="by temperature",
        )
    if one.ended_by == "time_limit":
        return Finding(
            "watch",
            f"It stopped on its time limit{reached}: short of heat, much ice, or a sensor that lags.",
            highest,
            limit=settings.stop_above,
            sign="on limit",
        )
    if one.ended_by == "other":
        early = one.cleared is False
        return Finding(
            "fail" if early and call.forced is None else "watch",
            f"It stopped{reached}, neither at its stop of {stop} nor on its limit"
            f"{': frost was left. The sensor first, then the board' if early else ''}.",
            highest,
            limit=settings.stop_above,
            sign="early" if early else "",
        )
    return None


def _long_past(judged: Judged, one: Defrost) -> tuple[float, float] | None:
    """How long the coil had been past its stop, and by more than it follows late [s], and how warm it got [K]; None where it
    was not so long."""
    watched, practice = judged.watched, judged.practice
    track, past = watched.beside_sensor, practice.si("defrost_stop_passed")
    if track is None:
        track, past = watched.signal, practice.si("defrost_stop_passed")
    if track is None:
        track, past = watched.coil, practice.si("defrost_bend_passed")
    if track is None:
        return None
    noted = watched.settings.known("stop_above")
    stop = watched.settings.stop_above if noted else practice.si("defrost_stop_most")
    start = one.call.started if one.call.started is not None else watched.seen.tracks.start
    let_go = one.last if one.call.let_go is None else min(one.last, one.call.let_go)
    seconds, values = track.between(start, let_go)
    over = np.flatnonzero(values > stop + past)
    if not over.size:
        return None
    lasts = float(seconds[over[-1]] - seconds[over[0]])
    return (lasts, float(values[over].max())) if lasts > practice.si("defrost_overrun") else None


def duration(judged: Judged) -> Finding | None:
    """Whether it kept to its limit.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    return judged.worst(_duration, judged.ran)


def _duration(judged: Judged, one: Defrost) -> Finding | None:
    settings, practice = judged.watched.settings, judged.practice
    if one.lasted is None:
        return None
    over = one.lasted > settings.limit + practice.si("defrost_overrun") and not one.call.off_cycle
    if one.call.ended is None and one.call.let_go is None and not over:
        return None  # It is not over yet.
    past = f"past its limit of {minutes(settings.limit)}" if over else f"of at most {minutes(settings.limit)}"
    return Finding(
        "fail" if over else "pass",
        f"It lasted {minutes(one.lasted)}{',' if over else ''} {past}.",
        one.lasted,
        band=20.0,
        margin=settings.limit - one.lasted,
        limit=settings.limit,
    )

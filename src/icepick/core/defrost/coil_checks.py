"""Is the outdoor coil clear afterwards, does it work again as it did, and is its fan on in heating?
[physics; the-trade.md 7]"""

from __future__ import annotations

import numpy as np

from icepick.core.defrost.cues import kelvin
from icepick.core.defrost.finding import Finding, Judged, minutes
from icepick.core.defrost.sequence import Defrost


def cleared(judged: Judged) -> Finding | None:
    """Whether frost is left.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    return judged.worst(_cleared, judged.ran)


def _cleared(judged: Judged, one: Defrost) -> Finding | None:
    if one.cleared is None:
        return None
    highest = "" if one.coil_highest is None else f" It reached {judged.temperature(one.coil_highest)}."
    if one.cleared:
        melted = (
            "" if one.plateau is None else f" Ice held it for {minutes(one.plateau.end - one.plateau.start)}."
        )
        return Finding("pass", f"The coil came clear.{melted}{highest}", one.coil_highest)
    # One defrost that leaves frost in hard weather is made good by the next; two in a row, or ice that stays, are not.
    again = sum(other.cleared is False for other in judged.ran) > 1
    stays = one.left is not None and one.left > judged.practice.si("frost_sag")
    if again or one.ended_by == "other" or (stays and one.ended_by != "time_limit"):
        status, after = "fail", ""
    else:
        status, after = "watch", " The next one should clear it."
    return Finding(
        "fail" if status == "fail" else "watch",
        f"Frost is left: the coil never climbed away from melting.{highest}{after}",
        one.coil_highest,
    )


def recovery(judged: Judged) -> Finding | None:
    """Whether the coil works again as a clear one does.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    return judged.worst(_recovery, judged.ran)


def _recovery(judged: Judged, one: Defrost) -> Finding | None:
    most = judged.practice.si("frost_recovered")
    if one.left is None or one.colder is None:
        return None
    if one.left <= most:
        within = judged.difference(max(one.left, 0.05))
        return Finding(
            "pass",
            f"Back in heating the coil is within {within} of what it is when clear.",
            one.left,
            band=kelvin(1),
            margin=most - one.left,
        )
    sure = one.left > most + kelvin(1.5) and one.cleared is False and one.ended_by != "time_limit"
    return Finding(
        "fail" if sure else "watch",
        f"Back in heating the coil is still {judged.difference(one.left)} colder against its air than when clear: frost is "
        "left, or air is short.",
        one.left,
        band=kelvin(1),
        margin=most - one.left,
    )


def clear_coil(judged: Judged) -> Finding | None:
    """The coil at its clearest, against what this unit's machine shows without frost.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    frost = judged.watched.frost
    if frost.clean is None or frost.sound is None:
        return None
    sound, spread = frost.sound
    band = spread + judged.practice.si("split_deviation")
    off = frost.clean - sound
    uses = [track.spot[0] for track in (frost.coil, frost.air) if track is not None]
    said = (
        f"At its clearest the coil was {judged.difference(abs(frost.clean))} "
        f"{'under' if frost.clean < 0 else 'over'} its air; this unit's should be {judged.difference(abs(sound))} under"
    )
    if abs(off) <= band:
        return Finding("pass", f"{said}.", off, band=spread, margin=band - abs(off), uses=uses)
    why = (
        "air, charge and metering come before the board, and ice that was there from the start"
        if off < 0
        else "compressor and reversing valve come before the board"
    )
    return Finding(
        "watch",
        f"{said}: {why}.",
        off,
        band=spread,
        margin=band - abs(off),
        uses=uses,
        sign="colder" if off < 0 else "warmer",
    )


def outdoor_fan(judged: Judged) -> Finding | None:
    """Whether the fan runs with the compressor in heating.

    Parameters
    ----------
    judged : Judged
        The recording.

    Returns
    -------
    Finding or None
        The gravest of what each defrost shows; None where it does not apply.
    """
    watched = judged.watched
    fan = watched.course.board.fan
    if watched.seen.unit.source != "air" or fan is None:
        return None
    moments = watched.seen.moments
    heats = watched.frost.settled(moments) > 0
    for call in watched.course.calls:
        first = (call.started if call.started is not None else watched.seen.tracks.start) - 30
        last = (call.ended if call.ended is not None else watched.seen.tracks.end) + 60
        heats &= ~((moments >= first) & (moments <= last))
    compressor = watched.course.board.compressor
    if compressor is not None:
        heats &= compressor.at(moments) > 0.5
    turning = fan.at(moments[heats])
    turning = turning[~np.isnan(turning)]
    if not turning.size:
        return None
    if float(np.mean(turning > 0.5)) > 0.5:
        return Finding("pass", "The outdoor fan runs in heating.", uses=["outdoor_fan"])
    return Finding(
        "fail",
        "It does not run while the compressor does: look at capacitor, motor, relay and board. Verify zero voltage before "
        "touching it.",
        uses=["outdoor_fan"],
    )

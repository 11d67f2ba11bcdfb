"""Which way the circuit ran, spell by spell: the likeliest course through all cues, by Viterbi's method."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.defrost.cues import HEATING, OFF, REVERSED, Seen
from icepick.core.defrost.tracks import Array

SpellMode = Literal["heating", "cooling", "defrost", "off", "unknown"]

_CHANGE = 3.5
"""What a change of the way is weighed down by, so that noise makes none. [our own choice]"""
_AT_FIRST = 4.0
"""What the mode noted at the start counts."""
_A_SAY = 20.0
"""Seconds of a cue that count once: neighboring samples say the same again."""
_SHORTEST = 30.0
"""A spell in cooling shorter than this is none [s]."""
_SILENT = 600.0
"""Nothing recorded for so long [s], and what the circuit did meanwhile is not known."""


@dataclass(frozen=True, slots=True)
class Spell:
    """What the circuit did from ``start`` to ``end`` [s]."""

    mode: SpellMode
    start: float
    end: float


def raw_spells(seen: Seen, said: Array) -> list[Spell]:
    """Spells as the cues have them; a circuit that is reversed is called ``cooling`` here, whatever for.

    Parameters
    ----------
    seen : Seen
        The recording's tracks, at evenly spaced moments.
    said : array of float, moments × 3
        What the cues say.

    Returns
    -------
    list of Spell
        Without holes, from the first moment to the last.
    """
    said = said.copy()
    informed = np.abs(said).sum(axis=1) > 0
    if not informed.any():
        return [Spell("unknown", seen.tracks.start, seen.tracks.end)]
    mode = seen.tracks.recording.mode
    first = {"heating": HEATING, "cooling": REVERSED, "defrost": REVERSED, "off": OFF}[mode]
    said[0, first] += _AT_FIRST * _A_SAY / _step(seen.moments)
    course = _likeliest(said * (_step(seen.moments) / _A_SAY))
    spells = _spells(course, seen.moments, seen.tracks.end)
    spells = _without_short(spells)
    return _with_silence(spells, seen.moments, informed)


def _step(moments: Array) -> float:
    return float(moments[1] - moments[0]) if moments.size > 1 else 1.0


def _likeliest(said: Array) -> NDArray[np.intp]:
    """Viterbi over three states; as plain numbers, since each step is too small for arrays."""
    rows = said.tolist()
    best = rows[0][:]
    came: list[tuple[int, int, int]] = []
    for row in rows[1:]:
        top = max(best)
        leader = best.index(top)
        changed = top - _CHANGE
        came.append(
            (
                0 if best[0] >= changed else leader,
                1 if best[1] >= changed else leader,
                2 if best[2] >= changed else leader,
            )
        )
        best = [
            max(best[0], changed) + row[0],
            max(best[1], changed) + row[1],
            max(best[2], changed) + row[2],
        ]
    state = best.index(max(best))
    course = [state]
    for step in reversed(came):
        state = step[state]
        course.append(state)
    return np.array(course[::-1], dtype=np.intp)


_NAMES: dict[int, SpellMode] = {HEATING: "heating", REVERSED: "cooling", OFF: "off"}


def _spells(course: NDArray[np.intp], moments: Array, end: float) -> list[Spell]:
    cuts = [0, *(np.flatnonzero(np.diff(course)) + 1).tolist()]
    edges = [*(float(moments[cut]) for cut in cuts), end]
    return [Spell(_NAMES[int(course[cut])], edges[i], edges[i + 1]) for i, cut in enumerate(cuts)]


def _without_short(spells: list[Spell]) -> list[Spell]:
    """A moment of cooling amid something else is noise."""
    kept = [
        one
        for place, one in enumerate(spells)
        if one.mode != "cooling" or one.end - one.start >= _SHORTEST or place in (0, len(spells) - 1)
    ]
    return joined(kept, spells[0].start, spells[-1].end) if kept else spells


def joined(spells: list[Spell], start: float, end: float) -> list[Spell]:
    """Spells without holes between them, neighbors of one mode made one.

    Parameters
    ----------
    spells : list of Spell
        In order.
    start : float
        Where the first begins [s].
    end : float
        Where the last ends [s].

    Returns
    -------
    list of Spell
        From ``start`` to ``end``.
    """
    found: list[Spell] = []
    for one in spells:
        if found and found[-1].mode == one.mode:
            found[-1] = replace(found[-1], end=one.end)
        else:
            found.append(replace(one, start=found[-1].end if found else start))
    found[-1] = replace(found[-1], end=end)
    return found


def _with_silence(spells: list[Spell], moments: Array, informed: NDArray[np.bool_]) -> list[Spell]:
    """Long stretches of which nothing was recorded, cut out as unknown."""
    edges = np.flatnonzero(np.diff(np.concatenate([[True], informed, [True]]).astype(int)))
    silent = [
        (float(moments[a]), float(moments[min(b, moments.size - 1)]))
        for a, b in edges.reshape(-1, 2).tolist()
        if moments[min(b, moments.size - 1)] - moments[a] > _SILENT
    ]
    for start, end in silent:
        cut: list[Spell] = []
        for one in spells:
            if one.end <= start or one.start >= end:
                cut.append(one)
                continue
            cut += [replace(one, end=start)] if one.start < start else []
            cut += [replace(one, start=end)] if one.end > end else []
        cut.append(Spell("unknown", start, end))
        spells = sorted(cut, key=lambda spell: spell.start)
    return spells

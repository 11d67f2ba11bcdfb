"""Whether a whole run has settled: all of its live values, and the machine's own time."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil

from icepick.core.practice import Practice


@dataclass(frozen=True, slots=True)
class Whole:
    """``settled`` is whether what is shown may be judged by; ``waits_for`` names what still moves or is lost, of so many
    ``values``, and ``minutes`` how long the machine itself needs yet, null where nobody knows when it was started."""

    settled: bool
    waits_for: tuple[str, ...]
    values: int
    minutes: float | None

    @property
    def words(self) -> str:
        """Why nothing is judged yet, or empty."""
        if self.settled:
            return ""
        if not self.values:
            return "No probe sits on this unit yet."
        moves = len(self.waits_for)
        parts = []
        if moves:
            parts.append(f"{moves} of {self.values} values {'has' if moves == 1 else 'have'} not settled")
        if self.minutes:
            whole = ceil(self.minutes)
            parts.append(f"the unit itself needs {whole} {'minute' if whole == 1 else 'minutes'} more")
        return f"Still settling: {'; '.join(parts)}."


def whole(settled: Mapping[str, bool], minutes_running: float | None, practice: Practice) -> Whole:
    """Judge a run by its live values.

    A machine drifts for minutes after a start or a change of mode, and what drifts slowly may look still for two of them:
    before that time is over nothing counts as settled. Where nobody knows the start, the values alone decide.

    Parameters
    ----------
    settled : mapping of str to bool
        Whether each value is, by its name.
    minutes_running : float or None
        In this mode.
    practice : Practice
        The shop's limits.

    Returns
    -------
    Whole
        Not settled where there is no value at all.
    """
    waits_for = tuple(name for name, at_rest in settled.items() if not at_rest)
    needs = practice.value("settling_time")
    left = None if minutes_running is None else max(0.0, needs - minutes_running)
    return Whole(bool(settled) and not waits_for and not left, waits_for, len(settled), left)

"""What a check of a recording finds, and how that becomes a check of the examination."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from icepick.core.defrost.sequence import Defrost, Watched
from icepick.core.document.examination import Check, Measured, PlainQuantity, Status
from icepick.core.document.wording import display, display_spread, names, say
from icepick.core.practice import Practice, limit
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, spread_from_si

_BAD_FIRST: tuple[Status, ...] = ("fail", "watch", "pass", "needs_readings")


@dataclass(frozen=True, slots=True)
class Finding:
    """One outcome; numbers in SI. ``limit`` is given where it is this unit's own setting. ``sign`` names what was found, for
    the diagnosis, where the status does not say it."""

    status: Status
    explain: str
    measured: float | None = None
    band: float = 0.0
    margin: float | None = None
    limit: float | None = None
    needs: Sequence[str] = ()
    uses: Sequence[str] = ()
    sign: str = ""


@dataclass(frozen=True, slots=True)
class Judged:
    """What a check of a recording looks at: the recording read, its defrosts, and the words to say it in."""

    watched: Watched
    defrosts: Sequence[Defrost]
    practice: Practice
    units: UnitSystem

    @property
    def ran(self) -> list[Defrost]:
        """Those that the circuit followed, or the fan of an off-cycle defrost."""
        return [one for one in self.defrosts if one.call.shifted or one.call.off_cycle]

    @property
    def board_seen(self) -> bool:
        """Whether anything that the board switches was recorded."""
        board = self.watched.course.board
        return any(track is not None for track in (board.reverse, board.fan, board.heat))

    def temperature(self, kelvin: float) -> str:
        """In words."""
        return say(kelvin, Kind.TEMPERATURE, self.units)

    def difference(self, kelvin: float) -> str:
        """In words."""
        return say(kelvin, Kind.TEMPERATURE_DIFFERENCE, self.units)

    def names(self, codes: Sequence[str]) -> str:
        """Stations in words."""
        return names(self.watched.seen.unit, codes)

    def worst(
        self, judge: Callable[[Judged, Defrost], Finding | None], of: Sequence[Defrost]
    ) -> Finding | None:
        """The gravest of what each of several defrosts shows; which one it was is said where they differ.

        Parameters
        ----------
        judge : callable
            Of this and one defrost.
        of : sequence of Defrost
            Those to judge.

        Returns
        -------
        Finding or None
            None of none.
        """
        found = [(one, finding) for one in of if (finding := judge(self, one)) is not None]
        if not found:
            return None
        one, finding = min(found, key=lambda each: _BAD_FIRST.index(each[1].status))
        if len({(each.status, each.sign) for _, each in found}) < 2:
            return finding
        at = one.call.started
        which = "In the first defrost" if at is None else f"In the defrost at {clock(at)}"
        return replace(finding, explain=f"{which}: {finding.explain}")


def clock(seconds: float) -> str:
    """A moment of a recording: 1:02:05, or 4:07.

    Parameters
    ----------
    seconds : float
        Since its start [s].

    Returns
    -------
    str
        Hours, minutes and seconds.
    """
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    return f"{hours}:{minutes:02}:{left:02}" if hours else f"{minutes}:{left:02}"


def minutes(seconds: float) -> str:
    """A length of time as it is said: 40 s, 4.5 min, 62 min.

    Parameters
    ----------
    seconds : float
        [s].

    Returns
    -------
    str
        With its unit.
    """
    if seconds < 90:
        return f"{seconds:.0f} s"
    value = seconds / 60
    return f"{value:.1f} min" if value < 10 else f"{value:.0f} min"


@dataclass(frozen=True, slots=True)
class RecordedRule:
    """A named test of a recording; ``judge`` gives None where it does not apply."""

    code: str
    title: str
    kind: Kind
    practice: str | None
    judge: Callable[[Judged], Finding | None]
    standing: str = ""
    ours: str = field(default="")
    """The name of the unit's setting that takes the place of the practice limit."""

    def check(self, judged: Judged) -> tuple[Check, str] | None:
        """As the examination has it, and its sign; None where the check does not apply.

        Parameters
        ----------
        judged : Judged
            The recording.

        Returns
        -------
        (Check, str) or None
            With number and limit in the units asked for.
        """
        try:
            found = self.judge(judged)
        except Exception as error:
            found = self.broken(error)
        if found is None:
            return None
        return self._as_shown(judged, found), found.sign

    def broken(self, error: Exception) -> Finding:
        """What stands in for a check whose rule could not be worked out: whatever breaks in one, the others have their say.

        Parameters
        ----------
        error : Exception
            What it broke on.

        Returns
        -------
        Finding
            Watched, from which nothing is concluded.
        """
        return Finding(
            "watch",
            f"Icepick could not work this out ({error}); judge it by hand. What else is said here stands.",
        )

    def _as_shown(self, judged: Judged, found: Finding) -> Check:
        units, practice = judged.units, judged.practice
        held_to = None
        basis = self.standing
        if self.practice is not None:
            value = practice.si(self.practice) if found.limit is None else found.limit
            held_to = _plain(value, self.kind, units)
            own = found.limit is not None and found.limit != practice.si(self.practice)
            entry = limit(self.practice)
            basis = "this unit's own setting" if own and self.ours else f"{entry.standing}: {entry.reason}"
        measured = None
        if found.measured is not None:
            number, unit = display(found.measured, self.kind, units)
            measured = Measured(
                value=number, unit=unit, uncertainty=display_spread(found.band, self.kind, units)
            )
        return Check(
            code=self.code,
            title=self.title,
            status=found.status,
            measured=measured,
            limit=held_to,
            margin=None
            if found.margin is None
            else round(spread_from_si(found.margin, DISPLAY_UNITS[units][self.kind], self.kind), 4),
            practice=self.practice,
            basis=basis,
            explain=found.explain,
            needs=list(found.needs),
            uses=list(found.uses),
        )


def _plain(value: float, kind: Kind, units: UnitSystem) -> PlainQuantity:
    number, unit = display(value, kind, units)
    return PlainQuantity(value=number, unit=unit)


def worst(findings: Sequence[Finding | None]) -> Finding | None:
    """The gravest of several; of those alike the first.

    Parameters
    ----------
    findings : sequence of Finding or None
        What each defrost shows.

    Returns
    -------
    Finding or None
        None of none.
    """
    found = [one for one in findings if one is not None]
    return min(found, key=lambda one: _BAD_FIRST.index(one.status)) if found else None


def needs(judged: Judged, *codes: str) -> Finding:
    """What a check says that lacks a series.

    Parameters
    ----------
    judged : Judged
        The recording.
    *codes : str
        Stations that were not recorded.

    Returns
    -------
    Finding
        ``needs_readings``.
    """
    return Finding("needs_readings", f"Needs {judged.names(codes)} in the recording.", needs=codes)

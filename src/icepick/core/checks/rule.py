"""The shape of a check, and the few judgements that all of them share."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cache, lru_cache

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext, carries_judgement, resting_on
from icepick.core.document.examination import Check, Measured, PlainQuantity, Status
from icepick.core.document.wording import display, display_spread, names, say
from icepick.core.practice import limit
from icepick.core.properties.quantities import DISPLAY_UNITS, Kind, UnitSystem, spread_from_si


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a check found. ``measured``, ``margin`` and ``limit`` are in SI; ``limit`` is given where it
    depends on the run, otherwise it is the practice limit as it stands; ``practice`` names another one than the rule's."""

    status: Status
    explain: str
    measured: UFloat | float | None = None
    margin: float | None = None
    needs: list[str] = field(default_factory=list)
    limit: float | None = None
    practice: str | None = None


@dataclass(frozen=True, slots=True)
class CheckRule:
    """A named test: the practice limit it holds the run to, and how it is judged.

    ``judge`` gives None where the check does not apply to the run. ``standing`` says what a check without a limit
    rests on. ``in_defrost``: whether it says anything of a defrost, where nothing settles. ``of_readings``: it judges how
    and when readings were taken, and so looks at all of them. ``while_flowing``: it judges refrigerant that flows, and says
    nothing where none does. ``at_once``: what it finds wrong waits for nothing and no doubt holds it up.
    """

    code: str
    title: str
    kind: Kind
    practice: str | None
    judge: Callable[[RunContext], Outcome | None]
    standing: str = ""
    in_defrost: bool = False
    of_readings: bool = False
    while_flowing: bool = False
    at_once: bool = False

    def firmly(self, context: RunContext) -> Outcome | None:
        """The outcome by what may carry a judgement; None where the check does not apply.

        Parameters
        ----------
        context : RunContext
            The run: its unit, circuit, readings and limits.

        Returns
        -------
        Outcome or None
            None where the check does not apply.
        """
        if self.at_once and self._applies(context.readable):
            urgent = self.judge(context.readable)
            if urgent is not None and urgent.status in ("fail", "watch"):
                return urgent
        at = context if self.of_readings else context.trusted
        return self.judge(at) if self._applies(at) else None

    def _applies(self, context: RunContext) -> bool:
        if context.defrosting and not self.in_defrost:
            return False
        return not (self.while_flowing and context.apparent == "neither")

    def shown(self, context: RunContext, firm: Outcome | None) -> Outcome | None:
        """The outcome as the screen has it: the firm one, else what the rest would say, watched, with the reason.

        Parameters
        ----------
        context : RunContext
            The run: its unit, circuit, readings and limits.
        firm : Outcome or None
            The outcome by the readings that may carry a judgement.

        Returns
        -------
        Outcome or None
            None where the check does not apply.
        """
        if self.of_readings or context.trusted is context or _decides(firm):
            return _read_again(context, firm)
        loose = self.judge(context) if self._applies(context) else None
        if loose is None or not _decides(loose):
            return _read_again(context, loose or firm)
        reason = _why_not(context, loose, firm)
        return replace(loose, status="watch", explain=f"{loose.explain} {reason}")

    def check(self, context: RunContext, outcome: Outcome) -> Check:
        """An outcome as the examination has it.

        Parameters
        ----------
        context : RunContext
            The run: its unit, circuit, readings and limits.
        outcome : Outcome
            What the rule found.

        Returns
        -------
        Check
            With number, band and limit in the units asked for.
        """
        practice = outcome.practice or self.practice
        held_to, basis = self._limit(context, outcome, practice)
        measured, uses = _measured(outcome.measured, self.kind, context)
        return Check(
            code=self.code,
            title=self.title,
            status=outcome.status,
            measured=measured,
            limit=held_to,
            margin=_margin(outcome.margin, self.kind, context),
            practice=practice,
            basis=basis,
            explain=outcome.explain,
            needs=outcome.needs,
            uses=uses,
        )

    def broken(self, error: Exception) -> Check:
        """What stands in for a check whose rule could not be worked out: a word of it, and no judgement.

        Parameters
        ----------
        error : Exception
            What it broke on.

        Returns
        -------
        Check
            A ``watch`` that says what broke.
        """
        return Check(
            code=self.code,
            title=self.title,
            status="watch",
            measured=None,
            limit=None,
            margin=None,
            practice=self.practice,
            basis=_basis(self.practice) if self.practice else self.standing,
            explain=f"Icepick could not work this out ({error}); judge it by hand. What else is said here stands.",
            needs=[],
            uses=[],
        )

    def _limit(
        self, context: RunContext, outcome: Outcome, practice: str | None
    ) -> tuple[PlainQuantity | None, str]:
        if practice is None:
            return None, self.standing
        held_to = context.practice.si(practice) if outcome.limit is None else outcome.limit
        return _plain(held_to, self.kind, context.units), _basis(practice)


@lru_cache(maxsize=512)
def _plain(value: float, kind: Kind, units: UnitSystem) -> PlainQuantity:
    number, unit = display(value, kind, units)
    return PlainQuantity(value=number, unit=unit)


@cache
def _basis(practice: str) -> str:
    entry = limit(practice)
    return f"{entry.standing}: {entry.reason}"


def _measured(
    value: UFloat | float | None, kind: Kind, context: RunContext
) -> tuple[Measured | None, list[str]]:
    """The number with its band, and the stations it rests on."""
    if value is None:
        return None, []
    if isinstance(value, float):
        middle, spread, stations = value, 0.0, list[str]()
    else:
        middle, (spread, stations) = value.nominal_value, resting_on(context, value)
    number, unit = display(middle, kind, context.units)
    return Measured(
        value=number, unit=unit, uncertainty=display_spread(spread, kind, context.units)
    ), stations


def _margin(margin: float | None, kind: Kind, context: RunContext) -> float | None:
    if margin is None:
        return None
    return round(spread_from_si(margin, DISPLAY_UNITS[context.units][kind], kind), 4)


def _decides(outcome: Outcome | None) -> bool:
    return outcome is not None and outcome.status != "needs_readings"


def _read_again(context: RunContext, outcome: Outcome | None) -> Outcome | None:
    """What is missing only because physics contradicts it has to be read again."""
    if outcome is None or outcome.status != "needs_readings":
        return outcome
    shaky = [code for code in outcome.needs if code in context.doubted]
    if not shaky:
        poor = {c.reading.station for c in context.readings.all() if not carries_judgement(c)}
        return replace(outcome, explain=_why_not(context, outcome)) if poor & set(outcome.needs) else outcome
    return replace(
        outcome, explain=f"Physics contradicts what was read at {names(context.unit, shaky)}; read it again."
    )


def _why_not(context: RunContext, loose: Outcome, firm: Outcome | None = None) -> str:
    """Why readings that would decide may not: which were taken too early, which by infrared on bare pipe."""
    poor = {c.reading.station: c for c in context.readings.all() if not carries_judgement(c)}
    _, uses = _measured(loose.measured, Kind.RATIO, context)
    asked = (*loose.needs, *(firm.needs if firm else ()), *uses)
    wanted = [code for code in asked if code in poor] or list(poor)
    early = [code for code in dict.fromkeys(wanted) if poor[code].early]
    if early:
        minutes = min(poor[code].minutes or 0.0 for code in early)
        settling = say(context.practice.si("settling_time"), Kind.TIME, context.units)
        return f"Too early, {minutes:.0f} min into the run: read again after {settling}."
    bare = names(context.unit, list(dict.fromkeys(wanted)))
    return f"An infrared gun on bare pipe decides nothing; clamp {bare} instead."


def needs_readings(codes: Sequence[str], context: RunContext) -> Outcome:
    """The outcome of a check that cannot be computed yet.

    Parameters
    ----------
    codes : sequence of str
        Stations that are still unread.
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    Outcome
        ``needs_readings``, with a sentence.
    """
    words = f"Needs {names(context.unit, codes)}." if codes else "Not enough readings yet."
    return Outcome("needs_readings", words, needs=list(codes))


def magnitude(value: UFloat) -> UFloat:
    """A value without its sign.

    Parameters
    ----------
    value : UFloat
        The number, with its band.

    Returns
    -------
    UFloat
        In its own unit.
    """
    return value if value.nominal_value >= 0 else -value


def status_below(value: UFloat, limit_si: float) -> Status:
    """Held to an upper limit: ``watch`` where the band around the value reaches over the limit.

    Parameters
    ----------
    value : UFloat
        What was measured [SI].
    limit_si : float
        The most it may be [SI].

    Returns
    -------
    Status
        ``pass``, ``watch`` or ``fail``.
    """
    if abs(value.nominal_value - limit_si) <= value.std_dev:
        return "watch"
    return "pass" if value.nominal_value < limit_si else "fail"

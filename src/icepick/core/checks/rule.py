"""The shape of a check, and the few judgements that all of them share."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cache

from uncertainties import UFloat

from icepick.core.context import RunContext
from icepick.core.examination import Check, Measured, PlainQuantity, Status
from icepick.core.practice import limit
from icepick.core.quantities import DISPLAY_UNITS, Kind, spread_from_si
from icepick.core.readings import rests_on
from icepick.core.stations import station
from icepick.core.wording import display, display_spread, listing, say, titles


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a check found. ``measured``, ``margin`` and ``limit`` are in SI; ``limit`` is given where it
    depends on the run, otherwise it is the practice limit as it stands."""

    status: Status
    explain: str
    measured: UFloat | float | None = None
    margin: float | None = None
    needs: list[str] = field(default_factory=list)
    limit: float | None = None


@dataclass(frozen=True, slots=True)
class CheckRule:
    """A named test: the practice limit it holds the run to, and how it is judged.

    ``judge`` gives None where the check does not apply to the run. ``standing`` says what a check without a limit
    rests on.
    """

    code: str
    title: str
    kind: Kind
    practice: str | None
    judge: Callable[[RunContext], Outcome | None]
    standing: str = ""

    def examine(self, context: RunContext) -> Check | None:
        """Apply the check to a run; None where it does not apply."""
        outcome = self.judge(context)
        if outcome is None:
            return None
        held_to, basis = self._limit(context, outcome)
        measured, uses = _measured(outcome.measured, self.kind, context)
        return Check(
            code=self.code,
            title=self.title,
            status=outcome.status,
            measured=measured,
            limit=held_to,
            margin=_margin(outcome.margin, self.kind, context),
            practice=self.practice,
            basis=basis,
            explain=outcome.explain,
            needs=outcome.needs,
            uses=uses,
        )

    def _limit(self, context: RunContext, outcome: Outcome) -> tuple[PlainQuantity | None, str]:
        if self.practice is None:
            return None, self.standing
        held_to = context.practice.si(self.practice) if outcome.limit is None else outcome.limit
        number, unit = display(held_to, self.kind, context.units)
        return PlainQuantity(value=number, unit=unit), _basis(self.practice)


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
        middle, (spread, stations) = value.nominal_value, rests_on(value)
    number, unit = display(middle, kind, context.units)
    return Measured(
        value=number, unit=unit, uncertainty=display_spread(spread, kind, context.units)
    ), stations


def _margin(margin: float | None, kind: Kind, context: RunContext) -> float | None:
    if margin is None:
        return None
    return round(spread_from_si(margin, DISPLAY_UNITS[context.units][kind], kind), 4)


def needs_readings(codes: list[str]) -> Outcome:
    """The outcome of a check that cannot be computed yet."""
    return Outcome("needs_readings", f"Needs {listing([station(c).title for c in codes])}.", needs=codes)


def magnitude(value: UFloat) -> UFloat:
    """A value without its sign."""
    return value if value.nominal_value >= 0 else -value


def held_to_target(
    context: RunContext, value: UFloat, target: float, tolerance: float, *, above: str, below: str
) -> Outcome:
    """A temperature difference [K] held to a target, either way; ``above`` and ``below`` say what too much and too little
    of it means."""
    number = float(value.nominal_value)
    margin = tolerance - abs(number - target)
    amount, aim = (say(one, Kind.TEMPERATURE_DIFFERENCE, context.units) for one in (number, target))
    said = f"{amount} for a target of {aim}"
    if abs(margin) <= value.std_dev:
        return Outcome("watch", f"{said}: near the edge.", value, margin, limit=target)
    if margin > 0:
        return Outcome("pass", f"{said}.", value, margin, limit=target)
    why = above if number > target else below
    return Outcome("fail", f"{said}: {why}.", value, margin, limit=target)


def status_below(value: UFloat, limit_si: float) -> Status:
    """Held to an upper limit: ``watch`` where the band around the value reaches over the limit."""
    if abs(value.nominal_value - limit_si) <= value.std_dev:
        return "watch"
    return "pass" if value.nominal_value < limit_si else "fail"


def untrusted(context: RunContext, codes: Sequence[str]) -> str | None:
    """Why the temperatures at these stations cannot carry a verdict, or None where they can.

    Readings taken before the run settled prove nothing, and neither does an infrared gun on bare
    pipe; what physics contradicts carries no verdict alone. [common practice; trade.md 1, 3 and 8]
    """
    if shaky := [code for code in codes if code in context.doubted]:
        return f"Physics contradicts what was read at {titles(shaky)}; read again."
    readings = [current for code in codes if (current := context.readings.get(code)) is not None]
    early = [current for current in readings if current.early]
    if early:
        minutes = min(current.minutes or 0.0 for current in early)
        settling = say(context.practice.si("settling_time"), Kind.TIME, context.units)
        return (
            f"Read {minutes:.0f} min after the start of this mode; take it again once {settling} have passed."
        )
    infrared = [current.reading.station for current in readings if current.reading.method == "infrared"]
    if infrared:
        return f"An infrared gun on bare pipe decides nothing; clamp {titles(infrared)} instead."
    return None


def held_back(context: RunContext, codes: Sequence[str], outcome: Outcome) -> Outcome:
    """The outcome, softened to ``watch`` with the reason where its readings cannot carry a verdict."""
    reason = untrusted(context, codes)
    if reason is None or outcome.status == "needs_readings":
        return outcome
    return replace(outcome, status="watch", explain=f"{outcome.explain} {reason}")

"""The heads of a unit that has several, as an examined run shows them: each with the line along it."""

from __future__ import annotations

from collections.abc import Callable

from icepick.core.circuit.context import RunContext, resting_on
from icepick.core.circuit.graph import build_circuit, stations_of_unit
from icepick.core.circuit.heads import HeadSeen, heads_seen
from icepick.core.document.examination import (
    HeadExamination,
    HeadState,
    Measured,
    RunExamination,
    TapPlace,
)
from icepick.core.document.heads import OneLine, numbered
from icepick.core.document.wording import display, display_spread
from icepick.core.properties.quantities import Kind


def with_heads(
    context: RunContext, shown: RunExamination, along: Callable[[int], RunExamination]
) -> RunExamination:
    """A run examined along one head, as its unit has several.

    Parameters
    ----------
    context : RunContext
        The run, in one line.
    shown : RunExamination
        What is said of it along that line.
    along : callable
        What is said of it along another head, by its number.

    Returns
    -------
    RunExamination
        With every station by its own name, and every head by itself.
    """
    unit = context.unit
    assert isinstance(unit, OneLine)
    seen = {one.number: one for one in heads_seen(context)}
    heads = []
    for place, head in enumerate(unit.every_head):
        number = place + 1
        line = shown if number == unit.head else along(number)
        heads.append(_head(context, number, head.label, seen.get(number), _as_described(unit, line, number)))
    run = _as_described(unit, shown, unit.head)
    return run.model_copy(update={"heads": heads, "stations": stations_of_unit(unit.described)})


def _as_described(unit: OneLine, shown: RunExamination, head: int) -> RunExamination:
    plain = numbered(shown.model_dump(by_alias=False), head)
    run = RunExamination.model_validate(plain)
    if shown.running_mode is None:
        return run
    # The big line's port opens into what leads to all heads, and there is none at the liquid lines.
    taps = build_circuit(unit.described, shown.running_mode).taps
    found = [TapPlace(tap=tap.tap, at=tap.at, role=tap.role) for tap in taps]
    return run.model_copy(update={"taps": found})


def _head(
    context: RunContext, number: int, label: str, seen: HeadSeen | None, line: RunExamination
) -> HeadExamination:
    unit = context.unit
    assert isinstance(unit, OneLine)
    degrees = {
        name: _measured(context, getattr(seen, name)) if seen and seen.calls is not False else None
        for name in ("superheat", "subcooling", "air")
    }
    calls = None if unit.calling is None else number in unit.calling
    return HeadExamination(
        number=number,
        label=label,
        calls=calls,
        along=number == unit.head and unit.fed,
        outdoors=_state(context, seen, "outdoors"),
        indoors=_state(context, seen, "indoors"),
        **degrees,
        path=line.path,
        legs=line.legs,
        levels=line.levels,
        devices=line.devices,
        expected=line.expected if calls is not False else {},
    )


def _state(context: RunContext, seen: HeadSeen | None, end: str) -> HeadState | None:
    share = seen.shares.get(end) if seen else None  # type: ignore[call-overload]
    if share is None:
        return None
    if share.nominal_value < context.practice.si("head_still"):
        return "still"
    in_heating = "head_fed_in_heating" if seen and seen.calls else "head_bleeds_most"
    most = "head_fed" if context.running == "cooling" else in_heating
    return "fed" if share.nominal_value >= context.practice.si(most) else "bleeding"


def _measured(context: RunContext, value: object) -> Measured | None:
    if value is None:
        return None
    number, unit = display(value.nominal_value, Kind.TEMPERATURE_DIFFERENCE, context.units)  # type: ignore[attr-defined]
    spread, _ = resting_on(context, value)
    return Measured(
        value=number,
        unit=unit,
        uncertainty=display_spread(spread, Kind.TEMPERATURE_DIFFERENCE, context.units),
    )

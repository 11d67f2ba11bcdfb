"""Did the reversing valve shift, and all the way? [the-trade.md 3]"""

from __future__ import annotations

from dataclasses import replace

from uncertainties import UFloat

from icepick.core.checks.departure import most_here
from icepick.core.checks.rule import CheckRule, Outcome, needs_readings, status_below
from icepick.core.circuit.context import RunContext, seen_afar, turned_afar
from icepick.core.circuit.direction import VALVE_PIPES, apparent_mode
from icepick.core.document.examination import Status
from icepick.core.document.roles import ApparentMode
from icepick.core.document.wording import name, say
from icepick.core.indicators import valve
from icepick.core.indicators.compressor import pressures
from icepick.core.properties.quantities import Kind

_OTHER = {"cooling": "heating", "heating": "cooling"}

_OTHER_WAY_ROUND = (
    "{one} and {other} lie {amount} apart: the slide may be over to the other side. Read all four pipes."
)
_NEAR_LIMIT = (
    "{amount} give or take {band} reaches over the limit: measure both pipes again, close to the valve."
)
_NO_SIDE = "This difference says nothing while the slide is on neither side."


def _position(context: RunContext) -> Outcome | None:
    if context.commanded is None:
        return None
    missing = context.readings.missing(*VALVE_PIPES)
    if missing and context.apparent == context.commanded:
        return Outcome("pass", _afar(context))
    if missing and context.apparent == _OTHER[context.commanded]:
        return Outcome(
            "fail",
            f"Calling for {context.commanded}, running in {context.apparent}: the vapor line says so.",
        )
    if missing and (turned := turned_afar(context)):
        return Outcome(
            "watch",
            f"The {name(context.unit, turned)} is as in {_OTHER[context.commanded]}: read the vapor line, or the four pipes "
            "at the valve, before anything else.",
            needs=missing,
        )
    if missing:
        return needs_readings(missing, context)
    index = valve.position_index(context)
    towards = 1 if context.commanded == "cooling" else -1
    threshold = context.practice.si("valve_position")
    status, explain = _stands(context.apparent, context.commanded, index)
    return Outcome(
        status,
        explain,
        index,
        margin=towards * index.nominal_value - threshold if index is not None else None,
        limit=towards * threshold,
    )


def _afar(context: RunContext) -> str:
    """What says, away from the valve, that it has shifted."""
    by_line = apparent_mode(context.readings, context.practice) == context.commanded
    station = None if by_line else seen_afar(context)
    by = "the vapor line" if station is None else name(context.unit, station)
    return f"It runs in {context.commanded}: {by} says so. Whether the valve leaks, only its four pipes tell."


def _stands(apparent: ApparentMode, commanded: str, index: UFloat | None) -> tuple[Status, str]:
    if apparent == commanded:
        return "pass", f"Hot and cold are where they belong in {commanded}."
    if apparent == _OTHER[commanded]:
        return "fail", f"Calling for {commanded}, running in {apparent}: the slide is on the other side."
    if apparent == "neither" and index is None:
        return "fail", "All four pipes are nearly alike: the slide is midway, or nothing is pumped."
    if apparent == "neither":
        return "fail", "Neither end port is clearly hot or cold: the slide is midway."
    if index is None:
        return (
            "watch",
            "The discharge line is not clearly hotter than common suction: "
            "the compressor is not pumping, or two clamps are swapped.",
        )
    return "watch", "The pipes are too close together to tell which side the slide is on."


_WET = " The returning gas is wet, or may be: liquid soaks up hot gas unseen, so a small rise proves nothing."
_LEAN = "Lean on the compression ratio, the current and the other mode."


def _suction_rise(context: RunContext) -> Outcome | None:
    if context.circuit is None:
        return None
    outcome = _difference(
        context,
        valve.suction_rise(context),
        "valve_suction_rise",
        ("common_suction", context.circuit.return_port),
        high="Suction gas comes out of the valve {amount} warmer than it went in: discharge gas is "
        "bypassing the slide.",
        good="Suction gas changes by {amount} in the valve, within the limit.",
        reverse="Common suction reads {amount} colder than the {other} that feeds it: check both clamps.",
    )
    if outcome.status in ("pass", "watch") and valve.return_state(context) != "dry":
        return replace(outcome, status="watch", explain=outcome.explain + _WET)
    return outcome


def _discharge_drop(context: RunContext) -> Outcome | None:
    if context.circuit is None:
        return None
    return _difference(
        context,
        valve.discharge_drop(context),
        "valve_discharge_drop",
        ("discharge_line", context.circuit.hot_port),
        high="Hot gas loses {amount} on its way through the valve: the slide is not fully over, or "
        "its seal is worn.",
        good="Hot gas changes by {amount} in the valve, within the limit.",
        reverse="The {other} reads {amount} hotter than the discharge line feeding it: check both clamps.",
    )


def _difference(
    context: RunContext,
    value: UFloat | None,
    limit_name: str,
    pair: tuple[str, str],
    *,
    high: str,
    good: str,
    reverse: str,
) -> Outcome:
    """Judge one of the two differences at the valve.

    The sentences may name ``amount``, ``band``, ``one`` and ``other`` (the pipes of the pair).
    """
    if value is None:
        return needs_readings(context.readings.missing(*pair), context)
    limit = most_here(context, limit_name, limit_name)
    amount = say(abs(value.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
    band = say(value.std_dev, Kind.TEMPERATURE_DIFFERENCE, context.units)
    status, apparent = status_below(value, limit), context.apparent
    words = high if status == "fail" else good
    if value.nominal_value + value.std_dev < -limit:
        status, words = "watch", _OTHER_WAY_ROUND if apparent == "unknown" else reverse
    elif status == "fail" and apparent == "unknown":
        status, words = "watch", _OTHER_WAY_ROUND
    elif status == "watch":
        words = _NEAR_LIMIT
    elif status == "pass" and apparent == "neither":
        status, words = "watch", _NO_SIDE
    one, other = (name(context.unit, code) for code in pair)
    explain = words.format(amount=amount, band=band, one=one, other=other)
    return Outcome(status, explain[0].upper() + explain[1:], value, limit - value.nominal_value, limit=limit)


def _bypass(context: RunContext) -> Outcome | None:
    if context.circuit is None:
        return None
    missing = context.readings.missing("discharge_line", "common_suction", context.circuit.return_port)
    if missing:
        return needs_readings(missing, context)
    fraction = valve.bypass_fraction(context)
    if fraction is None:
        if valve.return_state(context) == "dry":
            return None
        return Outcome("watch", f"No share can be worked out: the returning gas is wet, or may be. {_LEAN}")
    limit = context.practice.si("valve_bypass")
    share = say(max(fraction.nominal_value, 0.0), Kind.SHARE, context.units)
    band = say(fraction.std_dev, Kind.SHARE, context.units)
    status = status_below(fraction, limit)
    words = f"About {share} of the compressor's flow bypasses inside the valve, give or take {band}."
    if status == "watch":
        words += " That reaches over the limit: read the pipes again, or read pressures."
    if context.apparent in ("unknown", "neither") and status == "fail":
        status = "watch"
    return Outcome(status, words, fraction, limit - fraction.nominal_value)


_MAGNETS: dict[str, tuple[Status, str]] = {
    "magnets_do_not_move": ("fail", "The magnets did not move: the slide does not move."),
    "magnets_stop_midway": ("fail", "The magnets stopped midway: the slide does not go all the way."),
    "magnets_full_travel": ("pass", "The magnets rode all the way. A worn seal can bypass all the same."),
}


def _magnets(context: RunContext) -> Outcome | None:
    seen = next((code for code in _MAGNETS if code in context.observed), None)
    return Outcome(*_MAGNETS[seen]) if seen and context.commanded else None


def _sound(context: RunContext) -> Outcome | None:
    if context.commanded is None or "valve_shift_heard" not in context.observed:
        return None
    return Outcome("pass", "A clear rush was heard when it shifted, which is no proof of full travel.")


def _pressure_difference(context: RunContext) -> Outcome | None:
    found = pressures(context)
    if found is None:
        return None
    low, high = found
    across, limit = high - low, context.practice.si("shift_pressure")
    amount = say(across.nominal_value, Kind.PRESSURE_DIFFERENCE, context.units)
    margin = across.nominal_value - limit
    if across.nominal_value < -across.std_dev:
        amount = say(-across.nominal_value, Kind.PRESSURE_DIFFERENCE, context.units)
        return Outcome(
            "watch", f"Suction reads {amount} over discharge: are the hoses exchanged?", across, margin
        )
    if abs(margin) <= across.std_dev:
        return Outcome(
            "watch", f"{amount} across the valve is barely enough to move the slide.", across, margin
        )
    if margin < 0:
        return Outcome(
            "fail",
            f"{amount} across the valve can't move the slide: that is no fault of the valve.",
            across,
            margin,
        )
    return Outcome("pass", f"{amount} across the valve is enough to move the slide.", across, margin)


def _drift(context: RunContext) -> Outcome | None:
    """Whether either difference moved between the last two readings of its pipes."""
    circuit = context.circuit
    if circuit is None:
        return None
    moved = []
    for one, other in (("common_suction", circuit.return_port), ("discharge_line", circuit.hot_port)):
        now = [context.readings.get(code) for code in (one, other)]
        then = [context.readings.before(code) or context.readings.get(code) for code in (one, other)]
        if None in now or None in then or not any(context.readings.before(code) for code in (one, other)):
            continue
        before = then[0].value.nominal_value - then[1].value.nominal_value  # type: ignore[union-attr]
        after = now[0].value.nominal_value - now[1].value.nominal_value  # type: ignore[union-attr]
        moved.append(abs(float(after - before)))
    if not moved:
        return None
    limit, most = context.practice.si("valve_drift"), max(moved)
    amount = say(most, Kind.TEMPERATURE_DIFFERENCE, context.units)
    if most <= limit:
        return Outcome("pass", f"Read twice, {amount} apart: it holds.", most, limit - most)
    return Outcome(
        "watch", f"Between two readings a difference moved by {amount}: not settled yet.", most, limit - most
    )


POSITION = CheckRule(
    "valve.position", "slide position", Kind.RATIO, "valve_position", _position, in_defrost=True
)
SUCTION_RISE = CheckRule(
    "valve.suction_rise",
    "suction rise",
    Kind.TEMPERATURE_DIFFERENCE,
    "valve_suction_rise",
    _suction_rise,
)
DISCHARGE_DROP = CheckRule(
    "valve.discharge_drop",
    "discharge drop",
    Kind.TEMPERATURE_DIFFERENCE,
    "valve_discharge_drop",
    _discharge_drop,
)
BYPASS = CheckRule("valve.bypass", "bypassing in the valve", Kind.SHARE, "valve_bypass", _bypass)
MAGNETS = CheckRule(
    "valve.magnets",
    "magnets",
    Kind.RATIO,
    None,
    _magnets,
    "common practice: small magnets set over the slide's steel end plates ride with it.",
    in_defrost=True,
)
SOUND = CheckRule(
    "valve.sound",
    "sound of the shift",
    Kind.RATIO,
    None,
    _sound,
    "common practice: gas rushes when the slide goes over.",
    in_defrost=True,
)
PRESSURE_DIFFERENCE = CheckRule(
    "valve.pressure_difference",
    "pressure to shift with",
    Kind.PRESSURE_DIFFERENCE,
    "shift_pressure",
    _pressure_difference,
)
DRIFT = CheckRule("valve.drift", "drift at the valve", Kind.TEMPERATURE_DIFFERENCE, "valve_drift", _drift)

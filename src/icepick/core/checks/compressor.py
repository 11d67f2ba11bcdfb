"""Is the compressor pumping, and does it make what these conditions call for? [trade.md section 3]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, held_back, needs_readings
from icepick.core.context import RunContext
from icepick.core.indicators import valve
from icepick.core.indicators.compressor import (
    compression_ratio,
    current_share,
    isentropic_share,
    ratio_called_for,
)
from icepick.core.quantities import Kind
from icepick.core.saturation import medium_entering
from icepick.core.wording import say

_ALIKE = {
    "pressures": "pressures all but equal",
    "lines": "all lines alike",
    "current": "current far below rated",
}
_APART = {"pressures": "pressures apart", "lines": "lines spread", "current": "current as it should be"}


def signs(context: RunContext) -> dict[str, bool]:
    """What speaks of pumping: for each sign that was read, whether it looks as if nothing were pumped."""
    found: dict[str, bool] = {}
    ratio = compression_ratio(context)
    if ratio is not None:
        found["pressures"] = ratio.nominal_value < context.practice.si("pumping_ratio")
    if valve.spread(context) is not None:
        found["lines"] = valve.equalized(context)
    share = current_share(context)
    if share is not None:
        found["current"] = share.nominal_value < context.practice.si("pumping_current")
    return found


def _pumping(context: RunContext) -> Outcome | None:
    if context.commanded is None:
        return None
    found = signs(context)
    if not found:
        return None
    outcome = _weighed(context, found)
    return held_back(context, valve.VALVE_PIPES, outcome) if set(found) == {"lines"} else outcome


def _weighed(context: RunContext, found: dict[str, bool]) -> Outcome:
    still = [_ALIKE[name] for name, is_still in found.items() if is_still]
    moving = [_APART[name] for name, is_still in found.items() if not is_still]
    ratio = compression_ratio(context)
    if still and moving:
        words = f"{', '.join(still)}, but {', '.join(moving)}: weak rather than dead, or gas goes round in the valve."
        return Outcome("watch", words[0].upper() + words[1:], ratio)
    if len(still) >= 2:
        words = f"{', '.join(still)}: nothing is pumped."
        return Outcome("fail", words[0].upper() + words[1:], ratio)
    if still:
        words = f"{still[0]}; read pressures, all four pipes or the current to be sure."
        return Outcome("watch", words[0].upper() + words[1:], ratio)
    words = f"{', '.join(moving)}: it pumps."
    return Outcome("pass", words[0].upper() + words[1:], ratio)


def _pressure_ratio(context: RunContext) -> Outcome | None:
    circuit = valve.running_circuit(context)
    if circuit is None:
        return None
    ratio = compression_ratio(context)
    taps = [t.tap for role in ("low", "high") for t in circuit.taps if t.role == role]
    if ratio is None:
        return (
            None
            if not any(context.readings.get(t, "pressure") for t in taps)
            else needs_readings(
                [
                    tap
                    for tap in ("common_suction_tap", "discharge_tap")
                    if context.readings.get(tap, "pressure") is None
                ]
            )
        )
    called = ratio_called_for(context)
    if called is None:
        missing = [
            station
            for coil in (circuit.evaporator, circuit.condenser)
            if context.temperature(station := medium_entering(context, coil)) is None
        ]
        return needs_readings(missing)
    short = 1 - ratio / called
    limit = context.practice.si("ratio_shortfall")
    said = say(called, Kind.RATIO, context.units)
    margin = limit - float(short.nominal_value)
    if abs(margin) <= short.std_dev:
        return Outcome(
            "watch", f"These temperatures call for about {said}; read the gauges again.", short, margin
        )
    if margin > 0:
        return Outcome("pass", f"These temperatures call for about {said}.", short, margin)
    return Outcome(
        "fail",
        f"These temperatures call for about {said}: pressures are drawn together, by gas going round in the valve or "
        "a compressor that pumps too little.",
        short,
        margin,
    )


def _discharge_temperature(context: RunContext) -> Outcome | None:
    share = isentropic_share(context)
    if share is None:
        return None
    low, high = (context.practice.si(f"isentropic_{edge}") for edge in ("low", "high"))
    outcome = _judged_discharge(share, low, high)
    return held_back(context, ("discharge_line", "compressor_inlet"), outcome)


def _judged_discharge(share: UFloat, low: float, high: float) -> Outcome:
    value, band = float(share.nominal_value), float(share.std_dev)
    margin = min(value - low, high - value)
    if abs(margin) <= band:
        return Outcome("watch", "Discharge temperature lies near what the ratio allows.", share, margin)
    if value < low:
        return Outcome(
            "fail",
            "Discharge gas is hotter than the ratio and suction make it in a sound compressor.",
            share,
            margin,
        )
    if value > high:
        return Outcome(
            "watch",
            "Discharge gas is colder than the compression allows: wet suction, or a poor clamp.",
            share,
            margin,
        )
    return Outcome("pass", "Discharge temperature fits the ratio and the suction gas.", share, margin)


PUMPING = CheckRule("compressor.pumping", "compressor pumps", Kind.RATIO, "pumping_ratio", _pumping)
PRESSURE_RATIO = CheckRule(
    "compressor.pressure_ratio", "pressure ratio, shortfall", Kind.SHARE, "ratio_shortfall", _pressure_ratio
)
DISCHARGE_TEMPERATURE = CheckRule(
    "compressor.discharge_temperature",
    "discharge temperature",
    Kind.SHARE,
    "isentropic_low",
    _discharge_temperature,
)

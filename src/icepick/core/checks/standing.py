"""Standing pressure of a unit that is off: air in the circuit, or nothing left in it. [the-trade.md 5]"""

from __future__ import annotations

from uncertainties import UFloat

from icepick.core.checks.rule import CheckRule, Outcome, needs_readings
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.saturation import at_pressure
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind
from icepick.core.properties.refrigerants import OutsideRangeError

_TAPS = ("common_suction_tap", "liquid_service_tap", "vapor_service_tap", "discharge_tap")
_WAIT = "First be sure that everything is at one temperature and the pressures have equalized."


def _standing(context: RunContext) -> Outcome | None:
    if context.run.mode != "off":
        return None
    pressure = next((v for code in _TAPS if (v := context.value(code, "pressure")) is not None), None)
    ambient = context.temperature("outdoor_air_in") or context.temperature("outdoor_coil")
    if pressure is not None and _gauge_over_air(context, pressure) <= pressure.std_dev:
        return Outcome("fail", "No pressure: the circuit is empty. Find the leak before anything is charged.")
    missing = [] if pressure is not None else ["common_suction_tap"]
    if ambient is None:
        missing.append("outdoor_air_in" if context.unit.source == "air" else "outdoor_coil")
    if pressure is None or ambient is None:
        return needs_readings(missing, context)
    try:
        over = _above_ambient(context, pressure, ambient)
    except OutsideRangeError:
        return Outcome("fail", "Hardly any pressure is left: the circuit is as good as empty.")
    limit = context.practice.si("standing_difference")
    amount = say(abs(over.nominal_value), Kind.TEMPERATURE_DIFFERENCE, context.units)
    margin = limit - abs(over.nominal_value)
    if abs(margin) <= over.std_dev:
        words = f"Saturation is {amount} from the air around, near the limit. {_WAIT}"
        return Outcome("watch", words, over, margin)
    if margin > 0:
        return Outcome(
            "pass",
            "Standing pressure is that of the refrigerant at this temperature: liquid is left.",
            over,
            margin,
        )
    if over.nominal_value > 0:
        words = f"{amount} above saturation: noncondensables, or not yet equalized."
    else:
        words = f"{amount} below saturation: the charge is too low for any liquid to be left."
    return Outcome("fail", f"{words} {_WAIT}", over, margin)


def _gauge_over_air(context: RunContext, pressure: UFloat) -> float:
    return float(pressure.nominal_value) - context.atmosphere


def _above_ambient(context: RunContext, pressure: UFloat, ambient: UFloat) -> UFloat:
    """Saturation over ambient [K]; zero anywhere between bubble and dew, where a blend may stand."""
    dew, bubble = at_pressure(context, pressure, "dew"), at_pressure(context, pressure, "bubble")
    above, below = bubble - ambient, dew - ambient
    if above.nominal_value > 0:
        return above
    return below if below.nominal_value < 0 else below * 0


STANDING = CheckRule(
    "standing.pressure",
    "standing pressure",
    Kind.TEMPERATURE_DIFFERENCE,
    "standing_difference",
    _standing,
)

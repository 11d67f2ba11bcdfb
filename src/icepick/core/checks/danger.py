"""What can hurt a machine or people now, settled or not and whatever is doubted: stop, then confirm. [the-trade.md 13]"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from uncertainties import UFloat

from icepick.core.checks.compressor import rotor_locked
from icepick.core.checks.departure import may_show
from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.readings import CurrentReading
from icepick.core.document.wording import name, say
from icepick.core.indicators.compressor import current_share
from icepick.core.indicators.refrigerant import high_side, total_superheat
from icepick.core.machine.expected import expected
from icepick.core.properties.quantities import Kind
from icepick.core.properties.refrigerants import SAFETY_GROUPS, Refrigerant

_FREEZING = 273.15
_CUTOUT: dict[Refrigerant, str] = {
    "R-410A": "head_most_410A",
    "R-32": "head_most_410A",
    "R-454B": "head_most_410A",
    "R-22": "head_most_22",
    "R-407C": "head_most_22",
    "R-290": "head_most_22",
    "R-134a": "head_most_134a",
    "R-513A": "head_most_134a",
}


def _number(value: UFloat) -> float:
    return float(value.nominal_value)


def _pressures(context: RunContext) -> Iterator[tuple[CurrentReading, UFloat]]:
    """Every gauge of a run, and its pressure over the air around [Pa]."""
    for current in context.readings.all():
        if current.reading.quantity == "pressure":
            yield current, current.value - context.atmosphere


def _head(context: RunContext) -> Outcome | None:
    over = max(_pressures(context), key=lambda one: _number(one[1]), default=None)
    if context.commanded is None or over is None:
        return None
    current, value = over
    limit = _CUTOUT[context.unit.refrigerant]
    most = context.practice.si(limit)
    margin = most - _number(value)
    if -margin > most * context.practice.si("head_beyond_belief"):
        return None
    said = say(_number(current.value), Kind.PRESSURE, context.units, context.atmosphere)
    # A gauge that reaches over the limit with its band is at it: nobody waits for the last psi.
    if margin > value.std_dev:
        words = f"{said}: under what the high-pressure switch cuts out at."
        return Outcome("pass", words, value, margin, practice=limit)
    place = name(context.unit, current.reading.station)
    words = f"{said} at the {place}, where the high-pressure switch should cut out."
    sound = may_show(context, expected(context).stations.get((current.reading.station, "pressure")))
    if sound is not None and _number(current.value) <= sound:
        return Outcome(
            "watch", f"{words} This unit runs so high in these conditions.", value, margin, practice=limit
        )
    return Outcome("fail", f"{words} {_of_the_condenser(context)}", value, margin, practice=limit)


def _of_the_condenser(context: RunContext) -> str:
    """What to look at first where the head is too high."""
    circuit = context.circuit
    indoors = circuit is not None and circuit.condenser == "indoor_coil"
    medium = context.unit.load if indoors else context.unit.source
    if medium == "water":
        return "Look first: the pump, valves and strainer of the water it heats."
    if indoors:
        return "Look first: blower, filter, closed registers, indoor coil."
    return "Look first: the outdoor fan, then the coil's dirt and what blocks its air."


def _vacuum(context: RunContext) -> Outcome | None:
    under = min(_pressures(context), key=lambda one: _number(one[1]), default=None)
    if context.commanded is None or under is None:
        return None
    current, value = under
    margin = _number(value)
    if margin > 0:
        return Outcome("pass", "No gauge stands in a vacuum.", value, margin)
    said = say(_number(current.value), Kind.PRESSURE, context.units, context.atmosphere)
    place = name(context.unit, current.reading.station)
    words = f"{said} at the {place} while it runs: no compressor may pump into a vacuum."
    due = expected(context).stations.get((current.reading.station, "pressure"))
    if due is not None and due.value - due.spread <= context.atmosphere:
        return Outcome("watch", f"{words} This unit, sound, comes near it in such cold.", value, margin)
    first = "Look first: service valves open all the way, then the charge, then drier and metering device."
    return Outcome("fail", f"{words} {first}", value, margin)


def _discharge(context: RunContext) -> Outcome | None:
    value = context.temperature("discharge_line")
    if context.commanded is None or value is None:
        return None
    limit = "discharge_most_32" if context.unit.refrigerant == "R-32" else "discharge_most"
    margin = context.practice.si(limit) - _number(value)
    said = say(_number(value), Kind.TEMPERATURE, context.units)
    if margin > value.std_dev:
        return Outcome("pass", f"{said}.", value, margin, practice=limit)
    words = f"{said} on the pipe, and hotter inside: oil breaks down."
    if margin >= -value.std_dev:
        return Outcome(
            "watch", f"{said}: near the limit, and hotter inside the pipe.", value, margin, practice=limit
        )
    sound = may_show(context, expected(context).stations.get(("discharge_line", "temperature")))
    excused = margin > -context.practice.si("discharge_beyond")
    if excused and sound is not None and value.nominal_value <= sound:
        words += " This unit runs so hot in these conditions, sound: ask the manufacturer whether it may."
        return Outcome("watch", words, value, margin, practice=limit)
    first = "Look first: the condenser's air, then the charge and what starves the evaporator."
    return Outcome("fail", f"{words} {first}", value, margin, practice=limit)


def _locked(context: RunContext) -> Outcome | None:
    share = current_share(context)
    if context.commanded is None or share is None or not rotor_locked(context):
        return None
    over = share - 1
    margin = context.practice.si("current_locked") - _number(over)
    if context.unit.compressor.kind == "inverter":
        first = (
            "Look first: all three legs from the drive, the windings' ohms, the drive; it has no capacitor."
        )
    else:
        first = (
            "Look first: voltage while it tries, capacitor, pressures not equalized; with three phases every leg and the "
            "rotation."
        )
    words = f"{_number(share):.1f} times the rated load current, as a locked rotor draws. {first}"
    return Outcome("fail", words, over, margin)


def _current(context: RunContext) -> Outcome | None:
    share = current_share(context)
    if context.commanded is None or share is None or rotor_locked(context):
        return None
    over = share - 1
    most = context.practice.si("current_over")
    margin = most - _number(over)
    said = f"{say(_number(share), Kind.SHARE, context.units)} of the rated load current"
    if margin > over.std_dev:
        words = f"{said}."
        if over.nominal_value > 0:
            words = f"{said}, which is no ceiling: on a hot day a sound one may draw it."
        return Outcome("pass", words, over, margin)
    if margin >= -over.std_dev:
        return Outcome("watch", f"{said}: near the most it may draw for long.", over, margin)
    first = "Look first: head pressure and its air, voltage under load, capacitor, bearings."
    return Outcome("fail", f"{said}: more than it may draw for long. {first}", over, margin)


def _flooded(context: RunContext) -> Outcome | None:
    """Liquid at the compressor and a discharge hardly over condensing: the compressor is cold, and swallows it."""
    superheat, high = total_superheat(context), high_side(context)
    discharge = context.temperature("discharge_line")
    if context.commanded is None or superheat is None or high is None or discharge is None:
        return None
    over = discharge - high.dew
    margin = _number(over) - context.practice.si("discharge_superheat_least")
    amount = say(_number(over), Kind.TEMPERATURE_DIFFERENCE, context.units)
    wet = _number(superheat) <= superheat.std_dev
    if margin <= over.std_dev and (not wet or _just_started(context, "discharge_line")):
        return None
    if margin > over.std_dev:
        return Outcome("pass", f"Discharge {amount} over condensing: no liquid is pumped.", over, margin)
    words = f"Discharge only {amount} over condensing, and no superheat: liquid washes out the oil of a cold compressor."
    if margin >= -over.std_dev:
        return Outcome("watch", f"Discharge only {amount} over condensing: near flooding.", over, margin)
    first = "Look first: airflow over the evaporator, then the metering device and the charge."
    return Outcome("fail", f"{words} {first}", over, margin)


def _just_started(context: RunContext, station: str) -> bool:
    current = context.readings.get(station)
    minutes = current.minutes if current else None
    return minutes is not None and minutes * 60 < context.practice.si("flooded_start")


def _freezing(context: RunContext) -> Outcome | None:
    """Water leaving the coil that evaporates: plain water near freezing, a mix by its own limit."""
    if context.circuit is None:
        return None
    side = "source" if context.circuit.evaporator == "outdoor_coil" else "load"
    if (context.unit.source if side == "source" else context.unit.load) != "water":
        return None
    value = context.temperature(f"{side}_water_out")
    if value is None:
        return None
    margin = _number(value) - context.practice.si("water_freezing")
    said = f"Water leaves at {say(_number(value), Kind.TEMPERATURE, context.units)}"
    if margin > value.std_dev:
        return Outcome("pass", f"{said}.", value, margin)
    factor = context.value(f"{side}_water", "fluid_factor")
    if factor is not None and factor.nominal_value < context.practice.si("antifreeze_factor"):
        return Outcome(
            "pass", f"{said}: hold it to the freezing point of this antifreeze mix.", value, margin
        )
    if value.nominal_value - value.std_dev > _FREEZING:
        return Outcome(
            "watch",
            f"{said}: near freezing inside the coil, unless the loop holds antifreeze. Check the mix and the flow.",
            value,
            margin,
        )
    return Outcome(
        "fail",
        f"{said}: plain water freezes in the coil and bursts it. Look first: the antifreeze mix, then pump, strainer, flow.",
        value,
        margin,
    )


def _gas(context: RunContext) -> Outcome | None:
    """A circuit of a flammable refrigerant without pressure anywhere: what was in it may be in the room. While it runs the
    head has to say so: a suction that is pumped into a vacuum is another danger."""
    group = SAFETY_GROUPS[context.unit.refrigerant]
    over = max(_pressures(context), key=lambda one: _number(one[1]), default=None)
    if group == "A1" or over is None:
        return None
    if context.commanded is not None and context.readings.get("discharge_tap", "pressure") is None:
        return None
    value = over[1]
    margin = _number(value) - value.std_dev
    if margin > 0:
        return None
    return Outcome(
        "fail",
        f"No pressure, and the {context.unit.refrigerant} ({group}) may be in the room. No flame, no switching; air the "
        "room and use a detector before anything else.",
        value,
        margin,
    )


_PRESSURE = Kind.PRESSURE_DIFFERENCE


def _at_once(
    code: str,
    title: str,
    kind: Kind,
    practice: str | None,
    judge: Callable[[RunContext], Outcome | None],
    *,
    in_defrost: bool = True,
) -> CheckRule:
    standing = "" if practice else "common practice"
    return CheckRule(
        f"danger.{code}", title, kind, practice, judge, standing, in_defrost=in_defrost, at_once=True
    )


DANGER: tuple[CheckRule, ...] = (
    _at_once("gas", "flammable charge", _PRESSURE, None, _gas),
    _at_once("locked_rotor", "locked rotor", Kind.SHARE, "current_locked", _locked),
    _at_once("head", "head limit", _PRESSURE, "head_most_410A", _head),
    _at_once("vacuum", "suction limit", _PRESSURE, None, _vacuum),
    _at_once("discharge_temperature", "discharge line limit", Kind.TEMPERATURE, "discharge_most", _discharge),
    _at_once("current", "steady current", Kind.SHARE, "current_over", _current),
    _at_once(
        "flooded",
        "discharge superheat",
        Kind.TEMPERATURE_DIFFERENCE,
        "discharge_superheat_least",
        _flooded,
        in_defrost=False,
    ),
    _at_once("freezing", "leaving water", Kind.TEMPERATURE, "water_freezing", _freezing),
)
"""What comes before everything else on the ticket, the gravest first."""

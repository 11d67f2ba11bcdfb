"""Does the compressor run, does it pump, and does it make what these conditions call for? [the-trade.md 3]"""

from __future__ import annotations

from icepick.core.checks.command import reads
from icepick.core.checks.departure import judge_departure, should_show
from icepick.core.checks.rule import CheckRule, Outcome, needs_readings
from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.direction import pipe_spread
from icepick.core.circuit.load import medium_entering
from icepick.core.document.wording import say
from icepick.core.indicators import valve
from icepick.core.indicators.compressor import (
    compression_ratio,
    current_share,
    isentropic_share,
)
from icepick.core.machine.expected import expected
from icepick.core.properties.quantities import Kind

_ALIKE = {
    "pressures": "pressures all but equal",
    "lines": "all lines at one temperature",
    "current": "current far below rated",
}
_APART = {
    "pressures": "pressures apart",
    "lines": "line temperatures spread",
    "current": "current as expected",
}


def draws_nothing(context: RunContext) -> bool | None:
    """Whether the compressor draws no current at all; None while that is unread.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool or None
        None while its current is unread.
    """
    current = context.value("compressor", "current")
    return None if current is None else current.nominal_value < context.practice.si("current_none")


def rotor_locked(context: RunContext) -> bool:
    """Whether the compressor draws what only a rotor that stands still draws.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False too while its current or its rated one is unknown.
    """
    share = current_share(context)
    return share is not None and share.nominal_value - 1 >= context.practice.si("current_locked")


def _running(context: RunContext) -> Outcome | None:
    still = draws_nothing(context)
    current = context.value("compressor", "current")
    if context.commanded is None or still is None or current is None or rotor_locked(context):
        return None
    amps = say(float(current.nominal_value), Kind.CURRENT, context.units)
    margin = float(current.nominal_value) - context.practice.si("current_none")
    if not still:
        return Outcome("pass", f"It draws {amps}: it runs.", current, margin)
    called = reads(context, "terminal_y")
    if called == "absent":
        return Outcome("watch", f"{amps}, and no call at Y: nothing tells it to run.", current, margin)
    call = "24 V at Y, and it draws" if called == "present" else "It should run and draws"
    parts = "contactor, capacitor and internal overload"
    if context.unit.compressor.kind == "inverter":
        parts = "the drive and its fault code"
    words = f"{call} {amps}. Look at line voltage, {parts} before the compressor itself; a short-cycle delay may hold it off."
    return Outcome("fail", words, current, margin)


@remembered
def signs(context: RunContext) -> dict[str, bool]:
    """What speaks of pumping: for each sign that was read, whether it looks as if nothing were pumped.

    A current is low under a share of the rated one, and under what this unit, sound, may draw in these conditions.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    dict of str to bool
        By sign: whether it looks as if nothing were pumped.
    """
    found: dict[str, bool] = {}
    ratio = compression_ratio(context)
    if ratio is not None:
        found["pressures"] = ratio.nominal_value < context.practice.si("pumping_ratio")
    spread = pipe_spread(context.readings)
    if spread is not None:
        if valve.equalized(context):
            found["lines"] = True
        elif spread.nominal_value - spread.std_dev > context.practice.si("lines_apart"):
            found["lines"] = False
    current, rated = context.value("compressor", "current"), context.unit.compressor.rated_current
    due = expected(context).stations.get(("compressor", "current"))
    if current is not None and rated is not None and due is not None and not rotor_locked(context):
        unloaded = min(context.practice.si("pumping_current") * rated.si, due.value - due.spread)
        found["current"] = current.nominal_value < unloaded
    return found


def _pumping(context: RunContext) -> Outcome | None:
    if context.commanded is None or draws_nothing(context):
        return None
    found = signs(context)
    return _weighed(context, found) if found else None


def _weighed(context: RunContext, found: dict[str, bool]) -> Outcome:
    still = [_ALIKE[name] for name, is_still in found.items() if is_still]
    moving = [_APART[name] for name, is_still in found.items() if not is_still]
    ratio = compression_ratio(context)
    if found.get("lines") is False and found.get("pressures"):
        words = "pressures drawn together while lines lie apart: gas is pumped, and bypasses in the reversing valve"
        return Outcome("watch", f"{words[0].upper()}{words[1:]}.", ratio)
    if still and moving:
        words = (
            f"{', '.join(still)}, but {', '.join(moving)}: weak rather than dead, or the valve is bypassing."
        )
    elif still:
        words = f"{', '.join(still)}; read pressures, all four pipes or the current to be sure."
    else:
        words = f"{', '.join(moving)}: it pumps."
    status = "watch" if still else "pass"
    if len(still) >= 2 and not moving:
        words = f"{', '.join(still)}: nothing is pumped."
        return Outcome("fail", f"{words[0].upper()}{words[1:]}", ratio)
    return Outcome("watch" if status == "watch" else "pass", f"{words[0].upper()}{words[1:]}", ratio)


def _pressure_ratio(context: RunContext) -> Outcome | None:
    circuit = context.circuit
    if circuit is None:
        return None
    ratio = compression_ratio(context)
    if ratio is None:
        unread = [
            tap
            for tap in ("common_suction_tap", "discharge_tap")
            if context.readings.get(tap, "pressure") is None
        ]
        read = any(context.readings.get(tap.tap, "pressure") for tap in circuit.taps)
        return needs_readings(unread, context) if read and unread else None
    missing = [
        station
        for coil in (circuit.evaporator, circuit.condenser)
        if context.temperature(station := medium_entering(context, coil)) is None
    ]
    called = should_show(context, "compression_ratio")
    if missing or called is None:
        return needs_readings(missing, context) if missing else None
    # Pressures lie further apart more often, and for more reasons, than they are drawn together.
    wide = ratio.nominal_value > called.value
    share = context.practice.si("ratio_excess" if wide else "ratio_shortfall")
    return judge_departure(
        context,
        ratio,
        called,
        share * called.value,
        Kind.RATIO,
        what="Compression ratio",
        above="the coils make the compressor lift further than that. Look at airflow, water flow and dirt",
        below="pressures are drawn together, by a bypassing valve or a weak compressor",
    )


def _discharge_temperature(context: RunContext) -> Outcome | None:
    share = isentropic_share(context)
    if share is None:
        return None
    low, high = (context.practice.si(f"isentropic_{edge}") for edge in ("low", "high"))
    value, band = float(share.nominal_value), float(share.std_dev)
    margin = min(value - low, high - value)
    if abs(margin) <= band:
        return Outcome("watch", "Discharge temperature lies near what the ratio allows.", share, margin)
    if value < low:
        return Outcome(
            "fail",
            "Discharge gas is hotter than this ratio and suction gas make it in a sound compressor.",
            share,
            margin,
        )
    if value > high:
        return Outcome(
            "watch",
            "Discharge gas is colder than the compression allows: floodback, or a poor clamp.",
            share,
            margin,
        )
    return Outcome("pass", "Discharge temperature fits the ratio and the suction gas.", share, margin)


RUNNING = CheckRule("compressor.running", "compressor runs", Kind.CURRENT, "current_none", _running)
PUMPING = CheckRule("compressor.pumping", "compressor pumps", Kind.RATIO, "pumping_ratio", _pumping)
PRESSURE_RATIO = CheckRule(
    "compressor.pressure_ratio",
    "compression ratio",
    Kind.RATIO,
    "ratio_shortfall",
    _pressure_ratio,
)
DISCHARGE_TEMPERATURE = CheckRule(
    "compressor.discharge_temperature",
    "isentropic efficiency",
    Kind.SHARE,
    "isentropic_low",
    _discharge_temperature,
    while_flowing=True,
)

"""Is it told the right thing? Control voltages from the thermostat to the valve's coil. [the-trade.md 3]

Which terminal carries the valve's command follows from the unit's convention (O: energized in cooling, B: in
heating), never from wire colours. [common practice]
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from icepick.core.checks.rule import CheckRule, Outcome, needs_readings
from icepick.core.circuit.context import Command, RunContext, command_of
from icepick.core.circuit.graph import flow_mode
from icepick.core.document.examination import Status, Terminal
from icepick.core.document.visit import Unit
from icepick.core.document.wording import say
from icepick.core.properties.quantities import Kind, from_si

Reads = Literal["present", "absent", "between"]
Should = Literal["present", "absent", "either"]


@dataclass(frozen=True, slots=True)
class Link:
    """One point of the chain, and what should be read there now."""

    station: str
    should: Should
    words: str


def valve_terminal(unit: Unit) -> str:
    """The terminal that commands the valve under the unit's convention.

    Parameters
    ----------
    unit : Unit
        The equipment.

    Returns
    -------
    str
        Code of its station.
    """
    return "terminal_o" if unit.reversing_valve.energized_in == "cooling" else "terminal_b"


def links(context: RunContext) -> list[Link]:
    """The control terminals in the order a voltage passes them.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Link
        From the supply to the coil.
    """
    if context.commanded is None:
        return []
    valve: Should = "present" if context.energized else "absent"
    backup: Should = {"defrost": "present", "cooling": "absent"}.get(context.run.mode, "either")  # type: ignore[assignment]
    return [
        Link("terminal_r", "present", "always"),
        Link("terminal_y", "present", "in every compressor call"),
        Link(
            valve_terminal(context.unit),
            valve,
            f"the valve is energized in {context.unit.reversing_valve.energized_in}",
        ),
        Link("solenoid", valve, "the same as its terminal"),
        Link("terminal_w", backup, "only in defrost, or as second stage in heating"),
    ]


def reads(context: RunContext, station: str) -> Reads | None:
    """Whether a control voltage is there; None while it is unread.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    station : str
        Code of a station.

    Returns
    -------
    Reads or None
        None while it is unread.
    """
    value = context.value(station, "voltage")
    if value is None:
        return None
    volts = float(value.nominal_value)
    if volts >= context.practice.si("control_present"):
        return "present"
    return "absent" if volts <= context.practice.si("control_absent") else "between"


def terminals(context: RunContext) -> list[Terminal]:
    """The terminal strip: what each should read now, and what it reads.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    list of Terminal
        In the order a voltage passes them.
    """
    strip = []
    for link in links(context):
        found = reads(context, link.station)
        status: Status = "needs_readings"
        if found is not None:
            status = "watch" if found == "between" else _agrees(found, link.should)
        value = context.value(link.station, "voltage")
        strip.append(
            Terminal(
                station=link.station,
                should=link.should,
                why=link.words,
                volts=round(from_si(float(value.nominal_value), "V", Kind.VOLTAGE), 1)
                if value is not None
                else None,
                status=status,
            )
        )
    return strip


_CONTROL = ("terminal_r", "terminal_y", "terminal_o", "terminal_b", "terminal_w", "solenoid")


def _asked(context: RunContext) -> bool:
    """Whether the command is in question: something of it was read, or the unit runs the wrong way."""
    if context.commanded is None:
        return False
    read = any(context.value(s, q) is not None for s in _CONTROL for q in ("voltage", "resistance"))
    return read or context.apparent not in ("unknown", context.commanded)


def _agrees(found: Reads, should: Should) -> Status:
    return "pass" if should in ("either", found) else "fail"


def _link(context: RunContext, station: str) -> Link:
    return next(link for link in links(context) if link.station == station)


def _judge_voltage(context: RunContext, station: str, missing: str, extra: str) -> Outcome:
    """One terminal against what it should read; ``missing`` and ``extra`` say what a wrong one means."""
    link, found = _link(context, station), reads(context, station)
    value = context.value(station, "voltage")
    if found is None or value is None:
        return needs_readings([station], context)
    volts = say(value.nominal_value, Kind.VOLTAGE, context.units)
    if found == "between":
        return Outcome(
            "watch",
            f"{volts} is neither present nor absent: a poor connection or an overloaded transformer.",
            value,
        )
    status = _agrees(found, link.should)
    if status == "pass":
        words = f"{volts}, which is right: {link.words}."
    else:
        words = f"{missing if link.should == 'present' else extra} Read: {volts}."
    return Outcome(status, words, value)


_EMERGENCY = (
    "W is live and Y is not: only backup heat is called. See whether the thermostat stands on emergency heat; if not, look "
    "for what locks the compressor out (outdoor thermostat, staging, a wire off Y)."
)


def _call(context: RunContext) -> Outcome | None:
    if not _asked(context):
        return None
    unread = [s for s in ("terminal_r", "terminal_y") if reads(context, s) is None]
    supply = _judge_voltage(
        context, "terminal_r", "No 24 V at R: look at the transformer, its fuse and the safety switches.", ""
    )
    if supply.status not in ("pass", "needs_readings"):
        return supply
    call = _judge_voltage(
        context,
        "terminal_y",
        _EMERGENCY
        if context.run.mode == "heating" and reads(context, "terminal_w") == "present"
        else "Y is dead, no call comes: look at the thermostat, the wire and any safety switch between them.",
        "",
    )
    return needs_readings(unread, context) if unread and call.status != "fail" else call


def _valve_terminal(context: RunContext) -> Outcome | None:
    if not _asked(context):
        return None
    return _judge_voltage(
        context,
        valve_terminal(context.unit),
        "The reversing valve should be energized now, and no 24 V arrives: look at the thermostat, its O/B setting and the "
        "wire.",
        "The reversing valve should not be energized now: the thermostat's O/B setting is wrong, or a relay is stuck.",
    )


def _solenoid_voltage(context: RunContext) -> Outcome | None:
    if not _asked(context):
        return None
    terminal = reads(context, valve_terminal(context.unit))
    missing = (
        "24 V at the terminal and none at the reversing valve: the wire or the board between them."
        if terminal == "present"
        else "No 24 V at the reversing valve: follow it back to the board, the wire and the thermostat."
    )
    return _judge_voltage(
        context,
        "solenoid",
        missing,
        "The coil is energized when it should not be: the O/B setting is wrong, or a relay is stuck.",
    )


def _solenoid_resistance(context: RunContext) -> Outcome | None:
    if not _asked(context):
        return None
    value = context.value("solenoid", "resistance")
    if value is None:
        return needs_readings(["solenoid"], context)
    most, least = (context.practice.si(f"solenoid_{edge}") for edge in ("open", "short"))
    ohms = float(value.nominal_value)
    words = say(ohms, Kind.WINDING, context.units)
    if ohms >= most:
        return Outcome(
            "fail", f"{words}: an open winding. Replace the coil alone; the valve stays.", value, most - ohms
        )
    if ohms <= least:
        return Outcome("fail", f"{words}: a shorted winding. Replace the coil alone.", value, ohms - least)
    return Outcome("pass", f"{words}: the winding is sound.", value, most - ohms)


def _run_signal(context: RunContext, run: Command) -> tuple[bool, bool] | None:
    """(should be energized, is energized) of a run, from the coil's voltage or its terminal's."""
    mode = flow_mode(run.mode)
    if mode is None:
        return None
    volts = dict(run.volts)
    found = volts.get("solenoid", volts.get(valve_terminal(context.unit)))
    if found is None:
        return None
    should = mode == context.unit.reversing_valve.energized_in
    if found >= context.practice.si("control_present"):
        return should, True
    return (should, False) if found <= context.practice.si("control_absent") else None


def _convention(context: RunContext) -> Outcome | None:
    """Fails only where the valve's voltage is there when it should be absent, or wrong in both modes."""
    here = _run_signal(context, command_of(context.run))
    if context.commanded is None or here is None:
        return None
    should, does = here
    others = [
        s
        for run in context.commands
        if flow_mode(run.mode) != context.commanded and (s := _run_signal(context, run))
    ]
    other = "heating (B)" if context.unit.reversing_valve.energized_in == "cooling" else "cooling (O)"
    fits = f"These voltages fit a unit that energizes its valve in {other}."
    if should == does:
        return Outcome("pass", "The valve's voltage follows the unit's O/B setting in this mode.")
    wrong_in_both = any(s != d for s, d in others)
    right_in_other = any(s == d for s, d in others)
    if wrong_in_both:
        return Outcome("fail", f"Wrong in both modes. {fits} Set the thermostat or board for this unit.")
    if right_in_other:
        return Outcome(
            "watch", "Wrong in this mode and right in the other: a wire or relay, not the O/B setting."
        )
    if does:
        return Outcome("fail", f"{fits} Check the thermostat's O/B setting before anything else.")
    return Outcome(
        "watch",
        f"No voltage where it belongs: the command is missing, or the O/B setting is wrong. {fits} "
        "Switch mode and read the coil again: that tells them apart.",
    )


def _backup_heat(context: RunContext) -> Outcome | None:
    if context.commanded is None or reads(context, "terminal_w") is None:
        return None
    return _judge_voltage(
        context,
        "terminal_w",
        "Backup heat should be called in defrost; without it supply air falls to some 50 to 55 °F (10 to 13 °C).",
        "Backup heat is called while the unit cools.",
    )


CALL = CheckRule(
    "command.call", "call for the compressor", Kind.VOLTAGE, "control_present", _call, in_defrost=True
)
VALVE_TERMINAL = CheckRule(
    "command.valve_terminal",
    "O/B terminal",
    Kind.VOLTAGE,
    "control_present",
    _valve_terminal,
    in_defrost=True,
)
SOLENOID_VOLTAGE = CheckRule(
    "command.solenoid_voltage",
    "24 V at the reversing valve",
    Kind.VOLTAGE,
    "control_present",
    _solenoid_voltage,
    in_defrost=True,
)
SOLENOID_RESISTANCE = CheckRule(
    "command.solenoid_resistance",
    "solenoid winding",
    Kind.WINDING,
    "solenoid_open",
    _solenoid_resistance,
    in_defrost=True,
)
CONVENTION = CheckRule(
    "command.convention", "O/B setting", Kind.VOLTAGE, "control_present", _convention, in_defrost=True
)
BACKUP_HEAT = CheckRule(
    "command.backup_heat",
    "backup heat call",
    Kind.VOLTAGE,
    "control_present",
    _backup_heat,
    in_defrost=True,
)

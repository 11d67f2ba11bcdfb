"""What must be settled before a part is condemned. [common practice; trade.md section 8]"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal

from icepick.core.context import RunContext
from icepick.core.diagnosis.evidence import Checks
from icepick.core.examination import Fault, RuleOut
from icepick.core.indicators import valve

Runs = Sequence[tuple[RunContext, Checks]]
State = Literal["done", "open", "contradicted"]

_PARTS: dict[Fault, str] = {
    "valve_in_opposite_position": "the valve",
    "valve_bypassing": "the valve",
    "solenoid_open": "the valve's coil",
    "compressor_weak": "the compressor",
    "command_missing": "the board",
}


def part_of(fault: Fault) -> str | None:
    """The part a fault would condemn, or None where nothing is replaced."""
    return _PARTS.get(fault)


def by_checks(runs: Runs, *codes: str) -> State:
    """Done once every check passes in some run and fails in none; contradicted where one fails."""
    states: list[State] = []
    for code in codes:
        found = {checks[code].status for _, checks in runs if code in checks}
        states.append("contradicted" if "fail" in found else "done" if "pass" in found else "open")
    return "contradicted" if "contradicted" in states else "open" if "open" in states else "done"


def _coil_energized(runs: Runs) -> State:
    return by_checks(
        [run for run in runs if run[0].commanded is not None and run[0].energized], "command.solenoid_voltage"
    )


def _by_contact(runs: Runs) -> State:
    """Whether the pipes at the valve were clamped after settling, in every run in which they were read."""
    read = [
        current
        for context, _ in runs
        for pipe in valve.VALVE_PIPES
        if (current := context.readings.get(pipe)) is not None
    ]
    if not read:
        return "open"
    poor = any(c.early or c.reading.method in ("infrared", "estimate") for c in read)
    return "contradicted" if poor else "done"


def _never(runs: Runs) -> State:
    """Nothing in a visit document can settle it; the technician does."""
    return "open"


_RULES: dict[Fault, tuple[tuple[str, Callable[[Runs], State]], ...]] = {
    "valve_in_opposite_position": (
        ("the command is right", lambda runs: by_checks(runs, "command.valve_terminal")),
        ("the coil is energized when it should be", _coil_energized),
        ("the coil is whole", lambda runs: by_checks(runs, "command.solenoid_resistance")),
        ("there is pressure enough to shift with", lambda runs: by_checks(runs, "valve.pressure_difference")),
        ("the compressor pumps", lambda runs: by_checks(runs, "compressor.pumping")),
        ("pipes read by contact, after settling", _by_contact),
    ),
    "solenoid_open": (
        ("voltage reaches the coil", _coil_energized),
        (
            "resistance read with the wires off",
            lambda runs: _opposite(by_checks(runs, "command.solenoid_resistance")),
        ),
    ),
    "compressor_weak": (
        ("the valve passes no gas", lambda runs: by_checks(runs, "valve.suction_rise")),
        ("voltage and capacitor are right", _never),
    ),
    "command_missing": (
        ("the board's input is right", lambda runs: by_checks(runs, "command.call")),
        ("the command reaches the board", lambda runs: by_checks(runs, "command.valve_terminal")),
        ("and does not leave it", lambda runs: _opposite(by_checks(runs, "command.solenoid_voltage"))),
    ),
}
_RULES["valve_bypassing"] = (
    ("the command is right", lambda runs: by_checks(runs, "command.valve_terminal")),
    ("the coil is energized when it should be", _coil_energized),
    ("there is pressure enough to shift with", lambda runs: by_checks(runs, "valve.pressure_difference")),
    ("the compressor pumps", lambda runs: by_checks(runs, "compressor.pumping")),
    ("pipes read by contact, after settling", _by_contact),
)


def _opposite(state: State) -> State:
    """A fault that shows as a failing check is settled by that failure."""
    flipped: dict[State, State] = {"done": "contradicted", "contradicted": "done", "open": "open"}
    return flipped[state]


def rule_outs(fault: Fault, runs: Runs) -> list[RuleOut]:
    """What stands between a fault and the word "replace", each with how it stands."""
    return [RuleOut(text=text, status=state(runs)) for text, state in _RULES.get(fault, ())]

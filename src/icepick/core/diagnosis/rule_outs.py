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
    "active_meter_underfeeding": "the expansion valve",
    "active_meter_overfeeding": "the expansion valve",
    "bypass_stuck_closed": "the check valve",
    "liquid_line_restriction": "the drier",
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


_EXPANSION_VALVE: tuple[tuple[str, Callable[[Runs], State]], ...] = (
    ("the charge is right", lambda runs: by_checks(runs, "metering.liquid_at_meter")),
    (
        "air and coils are right",
        lambda runs: _no_observation(runs, "filter_dirty", "coil_dirty_indoor", "coil_dirty_outdoor"),
    ),
    ("the bulb has contact and insulation", lambda runs: by_checks(runs, "metering.bulb")),
    ("the bulb sits on the line that is always suction", lambda runs: _bulb_place(runs)),
    ("the equalizer is open", _never),
    ("the inlet screen is clear", _never),
    ("subcooled liquid reaches its inlet", lambda runs: by_checks(runs, "metering.liquid_at_meter")),
)
_RULES["active_meter_underfeeding"] = (
    *_EXPANSION_VALVE,
    ("the drier and the idle check lose nothing", lambda runs: by_checks(runs, "metering.head_to_liquid")),
)
_RULES["active_meter_overfeeding"] = _EXPANSION_VALVE
_RULES["bypass_stuck_closed"] = (
    ("the other mode is well", lambda runs: _other_mode_well(runs)),
    ("the drop lies in the idle meter", lambda runs: _opposite(by_checks(runs, "metering.bypass_drop"))),
)
_RULES["liquid_line_restriction"] = (
    ("both modes starve", lambda runs: _both_modes_starve(runs)),
    ("the charge is right", lambda runs: by_checks(runs, "metering.liquid_at_meter")),
)


def _no_observation(runs: Runs, *codes: str) -> State:
    """Contradicted once one of these was seen; nothing in a visit says that none was there."""
    return "contradicted" if any(set(codes) & context.observed for context, _ in runs) else "open"


def _bulb_place(runs: Runs) -> State:
    unit = runs[0][0].unit
    places = {m.bulb_at for m in (unit.indoor_meter, unit.outdoor_meter) if m.kind in ("txv", "eev")}
    if places == {"common_suction"}:
        return "done"
    return "contradicted" if "coil_outlet" in places else "open"


def _starving_modes(runs: Runs) -> tuple[set[str], set[str]]:
    """Modes whose superheat fails, and modes whose superheat passes."""
    held = [
        (c.commanded, checks["metering.superheat_control"].status)
        for c, checks in runs
        if "metering.superheat_control" in checks
    ]
    return {str(m) for m, s in held if s == "fail"}, {str(m) for m, s in held if s == "pass"}


def _other_mode_well(runs: Runs) -> State:
    fails, passes = _starving_modes(runs)
    return "contradicted" if len(fails) > 1 else "done" if fails and passes - fails else "open"


def _both_modes_starve(runs: Runs) -> State:
    fails, passes = _starving_modes(runs)
    return "done" if len(fails) > 1 else "contradicted" if passes and fails else "open"


def _opposite(state: State) -> State:
    """A fault that shows as a failing check is settled by that failure."""
    flipped: dict[State, State] = {"done": "contradicted", "contradicted": "done", "open": "open"}
    return flipped[state]


def rule_outs(fault: Fault, runs: Runs) -> list[RuleOut]:
    """What stands between a fault and the word "replace", each with how it stands."""
    return [RuleOut(text=text, status=state(runs)) for text, state in _RULES.get(fault, ())]

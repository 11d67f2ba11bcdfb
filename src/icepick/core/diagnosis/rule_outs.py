"""What must be settled before a part is condemned. [common practice; the-trade.md 8]"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Literal

from icepick.core.checks.command import valve_terminal
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.direction import VALVE_PIPES
from icepick.core.circuit.graph import meters
from icepick.core.diagnosis.evidence import Checks, Spot
from icepick.core.document.codes import MeterKind, SightCode
from icepick.core.document.examination import Fault, RuleOut
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.document.wording import device

Runs = Sequence[tuple[RunContext, Checks]]
State = Literal["done", "open", "contradicted"]


@dataclass(frozen=True, slots=True)
class _Point:
    """One thing to settle, and how it stands. ``hard``: where what was read contradicts it, the fault can't lead."""

    text: str
    state: Callable[[Runs], State]
    hard: bool = False
    kinds: tuple[MeterKind, ...] = ()
    """Metering devices that have it; any where empty."""
    drives: tuple[str, ...] = ()
    """Kinds of compressor that have it; any where empty."""
    asks: tuple[Spot, ...] = ()
    """What is read to settle it."""
    looks: tuple[SightCode, ...] = ()
    """What is looked at to settle it."""
    turned: Literal["", "other", "energized"] = ""
    """The mode that must be run for it: the one besides the fault's, or the one that energizes the valve."""


_PARTS: dict[Fault, str] = {
    "valve_in_opposite_position": "the reversing valve",
    "valve_bypassing": "the reversing valve",
    "solenoid_open": "the solenoid coil",
    "compressor_not_running": "the compressor",
    "compressor_weak": "the compressor",
    "command_missing": "the board",
    "active_meter_underfeeding": "the metering device",
    "active_meter_overfeeding": "the metering device",
    "bypass_stuck_closed": "the check valve",
    "liquid_line_restriction": "the filter drier",
    "head_meter_leaking": "the EEV of that head",
    "head_meter_closed": "the EEV of that head",
}


def part_on(unit: Unit, fault: Fault, mode: FlowMode | None) -> str | None:
    """The part a fault would condemn, by its kind on this unit; None where nothing is replaced.

    Parameters
    ----------
    unit : Unit
        The equipment.
    fault : Fault
        Code of the fault.
    mode : FlowMode or None
        The mode in which it shows; None where that is not known.

    Returns
    -------
    str or None
        None where nothing is replaced.
    """
    part = _PARTS.get(fault)
    if part == "the filter drier" and unit.drier.kind == "none":
        return None
    if part == "the metering device" and mode is not None:
        return f"the {device(unit, meters(unit, mode)[0])}"
    return part


def by_checks(runs: Runs, *codes: str) -> State:
    """Done once every check passes in some run and fails in none; contradicted where one fails.

    Parameters
    ----------
    runs : Runs
        The runs, each with the checks that rest on readings which may carry a judgement.
    *codes : str
        Codes of the checks.

    Returns
    -------
    State
        How far it is settled, by the runs.
    """
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
    """Whether the pipes at the valve were clamped after settling: no other reading gets this far."""
    read = [context.temperature(pipe) is not None for context, _ in runs for pipe in VALVE_PIPES]
    return "done" if any(read) else "open"


def _never(runs: Runs) -> State:
    """Nothing in a visit document can settle it; the technician does."""
    return "open"


def _passes(text: str, code: str, *asks: Spot, hard: bool = False) -> _Point:
    """Settled by a check that passes."""
    return _Point(text, lambda runs: by_checks(runs, code), hard, asks=asks)


def _fails(text: str, code: str, *asks: Spot) -> _Point:
    """Settled by a check that fails."""
    return _Point(text, lambda runs: _opposite(by_checks(runs, code)), asks=asks)


_AT_THE_TERMINAL: Spot = ("the valve's terminal", "voltage")
_AT_THE_COIL: Spot = ("solenoid", "voltage")
_WINDING: Spot = ("solenoid", "resistance")
_CALL: Spot = ("terminal_y", "voltage")
_GAUGES: tuple[Spot, Spot] = (("common_suction_tap", "pressure"), ("discharge_tap", "pressure"))
_LIQUID_PRESSURE: Spot = ("liquid_service_tap", "pressure")
_DEVICES: tuple[Spot, ...] = tuple(
    (f"{side}_meter_{end}_side", "temperature") for side in ("indoor", "outdoor") for end in ("line", "coil")
)
_LIQUID_LINE: Spot = ("liquid_line_outdoor", "temperature")


def _charge(runs: Runs) -> State:
    """Only subcooling or superheat held to a target of the charge judges it; liquid at the metering device does not."""
    held = [
        checks["exchange.subcooling"].status
        for _, checks in runs
        if "exchange.subcooling" in checks and checks["exchange.subcooling"].margin is not None
    ]
    return "contradicted" if "fail" in held else "done" if "pass" in held else "open"


_COMMAND_RIGHT = _passes("the command is right", "command.valve_terminal", _AT_THE_TERMINAL)
_ENERGIZED = _Point(
    "the coil is energized when it should be", _coil_energized, asks=(_AT_THE_COIL,), turned="energized"
)
_PRESSURE = _passes("there is pressure enough to shift with", "valve.pressure_difference", *_GAUGES)
_PUMPS = _passes("the compressor pumps", "compressor.pumping", *_GAUGES, hard=True)
_CONTACT = _Point("pipes read by contact, after settling", _by_contact)
_LIQUID = _passes(
    "subcooled liquid reaches its inlet", "metering.liquid_at_meter", _LIQUID_PRESSURE, *_DEVICES
)
_CHARGE = _Point("the charge is right", _charge, asks=(_LIQUID_PRESSURE, _LIQUID_LINE))
_DIRT: tuple[SightCode, ...] = ("filter_dirty", "coil_dirty_indoor", "coil_dirty_outdoor")

_WITHOUT_DRIVE = ("single", "two_stage")

_METERING_DEVICE = (
    _CHARGE,
    _Point("airflow and coils are right", lambda runs: _no_observation(runs, *_DIRT), looks=_DIRT),
    _Point(
        "the bulb has contact and insulation",
        lambda runs: by_checks(runs, "metering.bulb"),
        kinds=("txv",),
        looks=("bulb_loose",),
    ),
    _Point(
        "the bulb is on the line that carries suction gas while its valve meters",
        lambda runs: _bulb_place(runs),
        kinds=("txv",),
    ),
    _Point("the equalizer is open", _never, kinds=("txv",)),
    _Point("its sensors read right", _never, kinds=("eev",)),
    _Point("its coil is sound and gets its pulses", _never, kinds=("eev",)),
    _Point("the orifice is the size this unit needs", _never, kinds=("piston",)),
    _Point("the tube is neither kinked nor pinched", _never, kinds=("capillary",)),
    _Point("the inlet screen is clear", _never),
    _LIQUID,
)

_CYCLED = _Point("cycled under full pressure difference, its body tapped, it stays as it is", _never)

_SUPERHEAT: tuple[Spot, ...] = (_GAUGES[0], ("common_suction", "temperature"))

_POINTS: dict[Fault, tuple[_Point, ...]] = {
    "valve_in_opposite_position": (
        _COMMAND_RIGHT,
        _ENERGIZED,
        _passes("the winding is sound", "command.solenoid_resistance", _WINDING),
        _PRESSURE,
        _PUMPS,
        _CONTACT,
        _CYCLED,
    ),
    "valve_bypassing": (_COMMAND_RIGHT, _ENERGIZED, _PRESSURE, _PUMPS, _CONTACT, _CYCLED),
    "solenoid_open": (
        _Point("24 V reaches the coil", _coil_energized, asks=(_AT_THE_COIL,), turned="energized"),
        _fails("resistance read with the wires off", "command.solenoid_resistance", _WINDING),
    ),
    "compressor_weak": (
        _passes("the reversing valve is not bypassing", "valve.suction_rise", hard=True),
        _passes("it runs", "compressor.running", ("compressor", "current"), hard=True),
        _Point("voltage and capacitor are right", _never, drives=_WITHOUT_DRIVE),
        _Point("the drive runs it at the speed that is noted", _never, drives=("inverter",)),
    ),
    "compressor_not_running": (
        _passes("it is called for", "command.call", _CALL),
        _Point("line voltage passes the contactor", _never, drives=_WITHOUT_DRIVE),
        _Point("the capacitor is right", _never, drives=_WITHOUT_DRIVE),
        _Point("its internal overload is closed", _never, drives=_WITHOUT_DRIVE),
        _Point("line voltage reaches the drive, and it shows no fault", _never, drives=("inverter",)),
        _Point("all three legs leave the drive", _never, drives=("inverter",)),
    ),
    "command_missing": (
        _passes("the board's input is right", "command.call", _CALL),
        _passes("24 V reaches the O/B terminal", "command.valve_terminal", _AT_THE_TERMINAL),
        _fails("no 24 V reaches the reversing valve", "command.solenoid_voltage", _AT_THE_COIL),
        _Point("the wire from the board to the valve is whole", _never),
    ),
    "active_meter_underfeeding": (
        *_METERING_DEVICE,
        _passes(
            "drier and bypassed device lose nothing", "metering.head_to_liquid", _GAUGES[1], _LIQUID_PRESSURE
        ),
    ),
    "active_meter_overfeeding": _METERING_DEVICE,
    "bypass_stuck_closed": (
        _Point(
            "the other mode is sound", lambda runs: _other_mode_sound(runs), asks=_SUPERHEAT, turned="other"
        ),
        _fails("the drop is in the bypassed metering device", "metering.bypass_drop", *_DEVICES),
    ),
    "head_meter_leaking": (
        _passes("no two heads are exchanged", "heads.crossed", hard=True),
        _Point("it was driven shut by switching the power off and on", _never),
        _Point("its coil is sound, on its own valve, and gets its pulses", _never),
    ),
    "head_meter_closed": (
        _passes("no two heads are exchanged", "heads.crossed", hard=True),
        _CHARGE,
        _Point("its coil is sound, on its own valve, and gets its pulses", _never),
        _Point("the service valves of its lines are open", _never),
    ),
    "heads_crossed": (
        _Point("which heads call was seen at the heads themselves", _never),
        _Point("each of them was called alone", _never),
    ),
    "liquid_line_restriction": (
        _Point("both modes starve", lambda runs: _both_modes_starve(runs), asks=_SUPERHEAT, turned="other"),
        _CHARGE,
    ),
}


def _no_observation(runs: Runs, *codes: str) -> State:
    """Contradicted once one of these was seen, done once all were looked for and none was."""
    if any(set(codes) & context.observed for context, _ in runs):
        return "contradicted"
    looked_for = {code for context, _ in runs for code in context.looked_for}
    return "done" if set(codes) <= looked_for else "open"


def _bulb_place(runs: Runs) -> State:
    """Of an indoor valve its own coil's outlet is as right: its check bypasses it in heating, when that line is hot."""
    unit = runs[0][0].unit
    indoor, outdoor = unit.indoor_meter, unit.outdoor_meter
    right = {"indoor": ("common_suction", "coil_outlet"), "outdoor": ("common_suction",)}
    fitted = [
        (one.bulb_at, right[side])
        for side, one in (("indoor", indoor), ("outdoor", outdoor))
        if one.kind in ("txv", "eev")
    ]
    if all(at in places for at, places in fitted):
        return "done"
    return "contradicted" if outdoor.kind in ("txv", "eev") and outdoor.bulb_at == "coil_outlet" else "open"


def _starving_modes(runs: Runs) -> tuple[set[str], set[str]]:
    """Modes whose superheat fails, and modes whose superheat passes."""
    held = [
        (c.commanded, checks["metering.superheat_control"].status)
        for c, checks in runs
        if "metering.superheat_control" in checks
    ]
    return {str(m) for m, s in held if s == "fail"}, {str(m) for m, s in held if s == "pass"}


def _other_mode_sound(runs: Runs) -> State:
    fails, passes = _starving_modes(runs)
    return "contradicted" if len(fails) > 1 else "done" if fails and passes - fails else "open"


def _both_modes_starve(runs: Runs) -> State:
    fails, passes = _starving_modes(runs)
    return "done" if len(fails) > 1 else "contradicted" if passes and fails else "open"


def _opposite(state: State) -> State:
    """A fault that shows as a failing check is settled by that failure."""
    flipped: dict[State, State] = {"done": "contradicted", "contradicted": "done", "open": "open"}
    return flipped[state]


def rule_outs(fault: Fault, runs: Runs, mode: FlowMode | None) -> list[RuleOut]:
    """What must be settled before the word "replace", each with how it stands.

    Parameters
    ----------
    fault : Fault
        Code of the fault.
    runs : Runs
        The runs, each with the checks that rest on readings which may carry a judgement.
    mode : FlowMode or None
        The mode in which the fault shows; None where that is not known.

    Returns
    -------
    list of RuleOut
        In the order of the work, for the metering device that is active in the mode.
    """
    return [_rule_out(point.text, point.state(runs)) for point in _points(fault, runs, mode)]


def _points(fault: Fault, runs: Runs, mode: FlowMode | None) -> list[_Point]:
    unit = runs[0][0].unit
    modes: tuple[FlowMode, ...] = (mode,) if mode else ("heating", "cooling")
    fitted = {"indoor": unit.indoor_meter, "outdoor": unit.outdoor_meter}
    kinds = {fitted[meters(unit, one)[0]].kind for one in modes}
    drive = unit.compressor.kind
    return [
        p
        for p in _POINTS.get(fault, ())
        if (not p.kinds or kinds & set(p.kinds)) and (not p.drives or drive in p.drives)
    ]


@dataclass(frozen=True, slots=True)
class ToSettle:
    """What would settle an open point: places to read, things to look at, a mode to be run."""

    text: str
    asks: tuple[Spot, ...]
    looks: tuple[SightCode, ...]
    mode: FlowMode | None


def to_settle(fault: Fault, runs: Runs, mode: FlowMode | None) -> list[ToSettle]:
    """What could still be done about the open rule-outs of a fault, before its part is condemned.

    Parameters
    ----------
    fault : Fault
        Code of the fault.
    runs : Runs
        The runs, each with the checks that rest on readings which may carry a judgement.
    mode : FlowMode or None
        The mode in which the fault shows; None where that is not known.

    Returns
    -------
    list of ToSettle
        One for each point that is open and that a reading, a look or another run can settle.
    """
    unit, ran = runs[0][0].unit, {context.commanded for context, _ in runs}
    found, terminal = [], valve_terminal(unit)
    for point in _points(fault, runs, mode):
        if point.state(runs) != "open" or not (point.asks or point.looks):
            continue
        wanted: FlowMode | None = None
        if point.turned == "energized":
            wanted = unit.reversing_valve.energized_in
        elif point.turned == "other" and len(ran - {None}) == 1:
            wanted = "heating" if "cooling" in ran else "cooling"
        if wanted in ran:
            wanted = None
        asks = tuple((terminal if spot == _AT_THE_TERMINAL else spot[0], spot[1]) for spot in point.asks)
        found.append(ToSettle(point.text, asks, point.looks, wanted))
    return found


def by_hand(fault: Fault) -> frozenset[str]:
    """What no reading settles before a part is condemned: the technician looks, and says so.

    Parameters
    ----------
    fault : Fault
        Code of the fault.

    Returns
    -------
    frozenset of str
        Texts, as :func:`rule_outs` has them.
    """
    return frozenset(point.text for point in _POINTS.get(fault, ()) if point.state is _never)


@cache
def _rule_out(text: str, state: State) -> RuleOut:
    return RuleOut(text=text, status=state)


def contradicted(fault: Fault, runs: Runs) -> bool:
    """Whether hard evidence contradicts the fault, or all that readings settle does: then it can't be what is wrong.

    Parameters
    ----------
    fault : Fault
        Code of the fault.
    runs : Runs
        The runs, each with the checks that rest on readings which may carry a judgement.

    Returns
    -------
    bool
        True where it can't lead.
    """
    points = [point for point in _POINTS.get(fault, ()) if point.state is not _never]
    against = [point for point in points if point.state(runs) == "contradicted"]
    return any(point.hard for point in against) or (len(points) > 1 and len(against) == len(points))

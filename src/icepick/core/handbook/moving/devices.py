"""Metering devices and their ways round: where the liquid goes, and what both sides show, whichever way it flows."""

from __future__ import annotations

from functools import lru_cache
from typing import Any, Literal

from icepick.core.document.base import Document
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.handbook.moving.numbers import Measure, Pipe, pipe
from icepick.core.handbook.reference import played, reference_unit
from icepick.core.machine.along import At, along
from icepick.core.machine.faults import machine_fault
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties.quantities import UnitSystem

DeviceKind = Literal[
    "txv_internal_check", "txv_external_check", "sliding_piston", "capillary_with_check", "two_way_txv", "eev"
]
DEVICES: dict[DeviceKind, tuple[str, str]] = {
    "txv_internal_check": (
        "TXV with its check inside",
        "One way it meters, by the superheat its bulb feels. The other way a check in its body lifts, and liquid goes by.",
    ),
    "txv_external_check": (
        "TXV with a check beside it",
        "The same with a check in a pipe of its own: two ways lie side by side, and one of them is shut.",
    ),
    "sliding_piston": (
        "Piston that slides",
        "Pushed against its seat it meters through its hole; pushed off it, liquid bypasses it. Nothing steers it.",
    ),
    "capillary_with_check": (
        "Cap tube with a check",
        "A long thin tube meters by its length; a check beside it opens the other way.",
    ),
    "two_way_txv": (
        "Two-way TXV",
        "One valve meters both ways, its bulb on common suction, always suction. There is no liquid line, and no check.",
    ),
    "eev": (
        "EEV",
        "A motor sets its opening by sensors, both ways. Nothing bypasses it.",
    ),
}
Trouble = Literal["none", "stuck_closed", "stuck_open"]
_BADLY = {"stuck_closed": 100.0, "stuck_open": 190.0}
_METERS: dict[DeviceKind, dict[str, Any]] = {
    "txv_internal_check": {"kind": "txv", "bypass": "internal_check", "bulb_at": "common_suction"},
    "txv_external_check": {"kind": "txv", "bypass": "external_check", "bulb_at": "common_suction"},
    "sliding_piston": {"kind": "piston", "bypass": "sliding_piston"},
    "capillary_with_check": {"kind": "capillary", "bypass": "external_check"},
    "two_way_txv": {"kind": "txv", "bypass": "none", "bulb_at": "common_suction"},
    "eev": {"kind": "eev", "bypass": "none"},
}


class DeviceHandled(Document):
    """Which device, which way the unit runs, and what is stuck. The indoor device is looked at; of one that serves both ways,
    the only one."""

    device: DeviceKind = "txv_internal_check"
    mode: FlowMode = "cooling"
    trouble: Trouble = "none"


class DeviceShown(Document):
    """``active`` says whether it meters now; ``through`` and ``round`` whether liquid goes through its opening and round it;
    ``before`` and ``after`` are its two sides in the direction of flow."""

    device: DeviceKind
    title: str
    words: str
    active: bool
    has_check: bool
    through: bool
    round: bool
    before: Pipe
    after: Pipe
    why: str
    measure: list[Measure]


def device_shown(what: DeviceHandled, units: UnitSystem) -> DeviceShown:
    """Send refrigerant through a device.

    Parameters
    ----------
    what : DeviceHandled
        Which, which way, and what is stuck.
    units : {"field", "metric"}
        Units of the numbers.

    Returns
    -------
    DeviceShown
        For the drawing.
    """
    one_way = what.device not in ("two_way_txv", "eev")
    active = not one_way or what.mode == "cooling"
    trouble: Trouble = what.trouble if one_way else "none"
    # A check that sticks shut shows where it should let by; one that leaks, where it should be shut.
    shows = trouble if (trouble == "stuck_closed") != active else "none"
    before, after = _ends(what.device, what.mode, shows)
    title, words = DEVICES[what.device]
    return DeviceShown(
        device=what.device,
        title=title,
        words=words,
        active=active,
        has_check=one_way,
        through=active or shows == "stuck_closed",
        round=one_way and ((not active and shows != "stuck_closed") or shows == "stuck_open"),
        before=pipe(before, units),
        after=pipe(after, units),
        why=_why(active, trouble, shows, after.state == "subcooled_liquid"),
        measure=_measure(active, shows),
    )


def _why(active: bool, trouble: Trouble, shows: Trouble, feels_even: bool) -> str:
    if shows == "stuck_closed" and feels_even:
        return (
            "Its check is shut, so liquid is forced backwards through the opening and loses pressure there; it is still "
            "subcooled behind it, and both sides feel the same. Suction falls, superheat rises, in this mode only: head "
            "against the liquid port gives it away."
        )
    if shows == "stuck_closed":
        return (
            "Its check is shut, so liquid is forced backwards through the opening and drops here first: cold where warm "
            "liquid should be, low suction, high superheat, and only in this mode."
        )
    if shows == "stuck_open":
        return (
            "Its check leaks, so liquid bypasses the opening: little is metered, superheat falls, liquid comes back, and "
            "only in this mode."
        )
    if trouble != "none":
        return "What sticks here is not asked for in this mode: it looks sound. Switch mode."
    return (
        "It meters: the full drop is across it." if active else "It is bypassed: next to no drop across it."
    )


def _measure(active: bool, shows: Trouble) -> list[Measure]:
    if shows == "stuck_open":
        return [
            Measure(words="Superheat at the compressor: it floods.", check="exchange.total_superheat"),
            Measure(words="The drop across it: too little.", check="metering.active_drop"),
        ]
    if active:
        return [
            Measure(
                words="Both sides: liquid in, evaporating temperature out.", check="metering.active_drop"
            ),
            Measure(words="Superheat: does it keep it?", check="metering.superheat_control"),
        ]
    return [Measure(words="Both sides: within about 3 °F.", check="metering.bypass_drop")]


@lru_cache(maxsize=64)
def _ends(kind: DeviceKind, mode: FlowMode, shows: Trouble) -> tuple[At, At]:
    unit = _unit(kind)
    fault = AT_REST
    if shows != "none":
        known = machine_fault(
            "bypass_stuck_closed" if shows == "stuck_closed" else "active_meter_overfeeding"
        )
        fault = known.effect(_BADLY[shows]) if known else Variation()
    made = played(unit, mode, fault)
    if made is None:
        raise RuntimeError("the Handbook's unit does not come to rest")
    part = "outdoor_meter" if unit.indoor_meter.kind == "none" else "indoor_meter"
    ends = made.circuit.ends(part)  # type: ignore[arg-type]
    states = {at.station: at for at in along(made.machine, made.circuit, made.cycle)}
    if ends is None:
        raise RuntimeError("the device has no ends")
    return states[ends[0]], states[ends[1]]


@lru_cache(maxsize=8)
def _unit(kind: DeviceKind) -> Unit:
    described = reference_unit().model_dump(mode="json")
    none = {"kind": "none", "bypass": "none"}
    if kind in ("two_way_txv", "eev"):
        layout = "ductless" if kind == "eev" else "packaged"
        more = {
            "indoor_meter": none,
            "outdoor_meter": _METERS[kind],
            "drier": {"kind": "none"},
            "layout": layout,
        }
        if kind == "eev":
            more["reversing_valve"] = {"energized_in": "heating"}
    else:
        more = {"indoor_meter": _METERS[kind], "outdoor_meter": _METERS[kind]}
    return Unit.model_validate({**described, **more})

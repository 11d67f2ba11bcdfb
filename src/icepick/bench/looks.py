"""What eyes, ears and fingers find: each look answers what an observation of a visit says, seen or not."""

from __future__ import annotations

import random
from dataclasses import dataclass

from icepick.bench.case import Case, Trouble
from icepick.bench.controls import way_it_runs
from icepick.core.circuit.graph import meters
from icepick.core.document.codes import Mode, SightCode
from icepick.core.document.examination import Fault
from icepick.core.document.visit import Observation
from icepick.core.machine.frosting import FREEZING

_FROSTS_UNDER = FREEZING + 7.0
"""Outdoor air [K] in which a sound coil carries some frost. [common practice]"""
_SLIDE_MIDWAY = 20.0
"""A valve that bypasses so much [percent] stands midway; one that bypasses less has a worn seal. [our own choice]"""


@dataclass(frozen=True, slots=True)
class Look:
    """A look: what is done, in short and in a few words, the minutes it takes, what it answers; ``opens`` says that a panel
    must come off for it."""

    code: str
    short: str
    words: str
    minutes: float
    answers: tuple[SightCode, ...]
    opens: bool = False


LOOKS: tuple[Look, ...] = (
    Look("outdoor_fan", "outdoor fan", "watch the outdoor fan", 0.5, ("outdoor_fan_stopped",)),
    Look(
        "outdoor_coil",
        "outdoor coil",
        "look at the outdoor coil: dirt, frost",
        0.5,
        (
            "coil_dirty_outdoor",
            "outdoor_coil_iced_solid",
            "outdoor_coil_frosted_patchy",
            "outdoor_coil_frosted_even",
        ),
    ),
    Look(
        "filter",
        "filter, indoor coil",
        "pull the filter, look at the indoor coil",
        2.0,
        ("filter_dirty", "coil_dirty_indoor"),
        True,
    ),
    Look("bulb", "TXV bulb", "feel the TXV bulb and its strap", 1.5, ("bulb_loose",), True),
    Look("oil", "oil stains", "look for oil at joints and coils", 1.0, ("oil_stain",)),
    Look("hissing", "listen for hissing", "listen at the metering device", 0.5, ("hissing_at_meter",)),
    Look(
        "magnets",
        "magnets on the valve",
        "set magnets on the reversing valve and cycle it",
        3.0,
        ("magnets_full_travel", "magnets_stop_midway", "magnets_do_not_move"),
    ),
)
BY_CODE = {one.code: one for one in LOOKS}
ANSWERED_BY: dict[SightCode, Look] = {code: one for one in LOOKS for code in one.answers}


def looks_on(case: Case) -> list[Look]:
    """The looks that make sense on this unit."""
    kinds = {case.unit.indoor_meter.kind, case.unit.outdoor_meter.kind}
    without = set() if "txv" in kinds else {"bulb"}
    if case.unit.source == "water":
        without |= {"outdoor_fan", "outdoor_coil"}
    if case.unit.load == "water":
        without.add("filter")
    return [one for one in LOOKS if one.code not in without]


def seen(case: Case, troubles: list[Trouble], commanded: Mode, look: Look) -> list[Observation]:
    """What a look finds.

    Parameters
    ----------
    case : Case
        The unit and the weather.
    troubles : list of Trouble
        What is wrong with it now.
    commanded : Mode
        What is called for.
    look : Look
        Where one looks.

    Returns
    -------
    list of Observation
        One for each thing the look answers, true or false.
    """
    there = set(_there(case, {one.fault: one for one in troubles}, commanded))
    if look.code == "magnets":
        return [Observation(code=code, value=True) for code in look.answers if code in there]
    return [Observation(code=code, value=code in there) for code in look.answers]


def _there(case: Case, faults: dict[Fault, Trouble], commanded: Mode) -> list[SightCode]:
    found: list[SightCode] = [_travel(case, faults)]
    runs = way_it_runs(case, list(faults.values()), commanded)
    outdoors, indoors = faults.get("outdoor_airflow_low"), faults.get("indoor_airflow_low")
    if runs is None or (outdoors and outdoors.cause == "fan"):
        found.append("outdoor_fan_stopped")
    if outdoors and outdoors.cause == "dirt":
        found.append("coil_dirty_outdoor")
    if indoors and indoors.cause == "dirt":
        found.append("filter_dirty")
    feeds_too_much = faults.get("active_meter_overfeeding")
    if feeds_too_much and feeds_too_much.cause == "bulb":
        found.append("bulb_loose")
    short = faults.get("undercharge")
    if short and random.Random(f"{case.code} oil").random() < _STAINS:
        found.append("oil_stain")
    if runs and _hisses(case, faults, runs):
        found.append("hissing_at_meter")
    if runs == "heating":
        found.append(_frost(case, faults))
    return found


_STAINS = 0.4
"""A leak in sight leaves oil so often. [our own choice]"""
_BADLY = 20.0
"""Percent of charge missing, from which gas reaches the device."""


def _hisses(case: Case, faults: dict[Fault, Trouble], runs: str) -> bool:
    short, line = faults.get("undercharge"), faults.get("liquid_line_restriction")
    device = meters(case.unit, "heating" if runs == "heating" else "cooling")[0]
    return bool(device) and bool((short and short.severity >= _BADLY) or (line and line.severity >= 100))


def _travel(case: Case, faults: dict[Fault, Trouble]) -> SightCode:
    bypass = faults.get("valve_bypassing")
    if bypass and bypass.severity >= _SLIDE_MIDWAY:
        return "magnets_stop_midway"
    still = ("valve_in_opposite_position", "command_missing", "solenoid_open", "control_power_missing")
    # A slide needs a pressure difference to ride on.
    idle = ("compressor_not_running", "call_missing")
    return "magnets_do_not_move" if set(faults) & {*still, *idle} else "magnets_full_travel"


def _frost(case: Case, faults: dict[Fault, Trouble]) -> SightCode:
    iced = faults.get("outdoor_coil_frosted")
    if iced:
        return "outdoor_coil_iced_solid" if iced.severity >= 70 else "outdoor_coil_frosted_even"
    if case.outdoor.si > _FROSTS_UNDER or case.humidity < 0.5:
        return "outdoor_coil_clear"
    short = faults.get("undercharge")
    patchy = "coil_circuit_starved" in faults or (short is not None and short.severity >= _BADLY)
    return "outdoor_coil_frosted_patchy" if patchy else "outdoor_coil_frosted_even"

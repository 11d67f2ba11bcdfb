"""A filter drier when the flow turns round, and the accumulator when the weather does."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

from icepick.core.document.base import Document
from icepick.core.document.examination import PlainQuantity
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.handbook.moving.numbers import Measure, Pipe, pipe, quantity
from icepick.core.handbook.reference import Ran, played, reference_unit
from icepick.core.machine.along import along
from icepick.core.machine.charge import in_accumulator
from icepick.core.machine.faults import PSI
from icepick.core.machine.variation import Variation
from icepick.core.properties.quantities import Kind, UnitSystem, to_si
from icepick.core.properties.states import states

DrierKind = Literal["bi_flow", "one_way"]
_LOADED = 110.0
"""What a drier full of dirt takes at rated flow [psi]. [our own choice]"""


class DrierHandled(Document):
    """Which drier, which way the unit runs, and how much it has caught. A one-way drier is fitted for cooling."""

    kind: DrierKind = "bi_flow"
    mode: FlowMode = "cooling"
    loaded: bool = False


class DrierShown(Document):
    """``lets_go``: what it caught goes on its way. ``drop`` is the pressure it takes, ``fall`` what one feels between its
    sides."""

    kind: DrierKind
    lets_go: bool
    before: Pipe
    after: Pipe
    drop: PlainQuantity
    fall: PlainQuantity
    why: str
    measure: list[Measure]


def drier_shown(what: DrierHandled, units: UnitSystem) -> DrierShown:
    """Send liquid through a drier.

    Parameters
    ----------
    what : DrierHandled
        Which, which way, how full.
    units : {"field", "metric"}
        Units of the numbers.

    Returns
    -------
    DrierShown
        For the drawing.
    """
    lets_go = what.kind == "one_way" and what.mode == "heating"
    taken = _LOADED if what.loaded and not lets_go else 0.0
    made = played(reference_unit(), what.mode, Variation(restriction=taken * PSI))
    if made is None:
        raise RuntimeError("the Handbook's unit does not come to rest")
    ends = made.circuit.ends("drier")
    known = {at.station: at for at in along(made.machine, made.circuit, made.cycle)}
    before, after = known[ends[0]], known[ends[1]]  # type: ignore[index]
    fall = before.temperature - after.temperature
    return DrierShown(
        kind=what.kind,
        lets_go=lets_go and what.loaded,
        before=pipe(before, units),
        after=pipe(after, units),
        drop=quantity(before.pressure - after.pressure, Kind.PRESSURE_DIFFERENCE, units),
        fall=quantity(fall, Kind.TEMPERATURE_DIFFERENCE, units),
        why=_why(what, lets_go, after.state == "mixture"),
        measure=[
            Measure(words="Both sides: within about 3 °F.", check="metering.drier_drop"),
            Measure(
                words="Head against the liquid port: what it takes while it still feels even.",
                check="metering.head_to_liquid",
            ),
        ],
    )


def _why(what: DrierHandled, lets_go: bool, boils: bool) -> str:
    if lets_go:
        return (
            "Flow comes from behind. What it caught in cooling is washed back out, into the other device's screen: on a unit "
            "with two devices the drier has to be bi-flow."
            if what.loaded
            else "Flow comes from behind: it catches little, and lets go of what it had."
        )
    if what.loaded:
        return (
            "It is full, and takes so much that the liquid begins to boil behind it: now it feels cold."
            if boils
            else "It is full and takes much, and both sides feel the same: subcooled liquid shows no drop until its pressure "
            "falls to saturation."
        )
    return "Clean: next to nothing is lost in it, either way round."


Weather = Literal["cooling", "mild", "cold", "defrost"]


class AccumulatorShown(Document):
    """How full of liquid it stands [0…1], with fixed orifices, when the unit has run in this for a while."""

    weather: Weather
    outdoors: PlainQuantity
    filled: float
    inlet: Pipe
    why: str


_RAN: dict[Weather, tuple[Ran, float]] = {
    "cooling": ("cooling", 90),
    "mild": ("heating", 50),
    "cold": ("heating", 10),
    "defrost": ("defrost", 33),
}
"""What the unit does, and the air outdoors [°F]; in a defrost, its coil. [our own choice]"""
_WHY: dict[Weather, str] = {
    "cooling": "The orifice and the charge suit each other here: vapor comes back, and it stands all but empty.",
    "mild": "In mild weather the orifice feeds no more than boils away: hardly anything waits here.",
    "cold": "In the cold the orifice passes more than boils away: liquid comes back and waits here. How much is "
    "unknown, so charge is not judged by subcooling in heating.",
    "defrost": "The cold coil condenses hard and the warm room boils it: what was in it goes back on its way. At the end "
    "of the defrost a slug may come: listen.",
}


@lru_cache(maxsize=8)
def accumulator_shown(weather: Weather, units: UnitSystem) -> AccumulatorShown:
    """How full the accumulator stands.

    Parameters
    ----------
    weather : str
        What the unit does, and in what.
    units : {"field", "metric"}
        Units of the numbers.

    Returns
    -------
    AccumulatorShown
        For the drawing.
    """
    piston = {"kind": "piston", "bypass": "sliding_piston"}
    described = {**reference_unit().model_dump(mode="json"), "indoor_meter": piston, "outdoor_meter": piston}
    ran, outdoors = _RAN[weather]
    made = played(Unit.model_validate(described), ran, outdoors=outdoors)
    if made is None:
        raise RuntimeError("the Handbook's unit does not come to rest")
    cycle, volume = made.cycle, made.machine.lines.accumulator_volume
    sat = states(made.machine.refrigerant).saturated(cycle.suction_pressure)
    held = float(in_accumulator(volume, sat, cycle.suction).ravel()[0])
    full = volume * float(sat.liquid_density.ravel()[0])
    known = {at.station: at for at in along(made.machine, made.circuit, cycle)}
    return AccumulatorShown(
        weather=weather,
        outdoors=quantity(to_si(outdoors, "degF", Kind.TEMPERATURE), Kind.TEMPERATURE, units),
        filled=round(min(1.0, max(0.0, held / full)), 3) if full else 0.0,
        inlet=pipe(known["common_suction"], units),
        why=_WHY[weather],
    )

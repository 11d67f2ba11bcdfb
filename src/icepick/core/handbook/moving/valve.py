"""The reversing valve with its pilot: what the slide does when the coil is energized, and what the four pipes show then."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

from icepick.core.document.base import Document
from icepick.core.document.examination import PlainQuantity
from icepick.core.document.roles import FlowMode
from icepick.core.handbook.moving.numbers import Measure, quantity
from icepick.core.handbook.reference import Ran, played, reference_unit
from icepick.core.machine.stations import shown
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.practice import limit
from icepick.core.properties.quantities import Kind, UnitSystem, to_si

Capillary = Literal["none", "left", "right"]
Difference = Literal["enough", "too_little"]
_MIDWAY = 0.45
"""Share of the gas that a slide midway lets straight through to suction. [our own choice]"""
_PIPES = ("discharge_line", "valve_to_indoor", "valve_to_outdoor", "common_suction")
_TAPS = {"discharge_line": "discharge_tap", "common_suction": "common_suction_tap"}


class ValveHandled(Document):
    """What is done to it. ``stands`` is where the slide stood before; the coil is energized for cooling. ``plugged`` is the
    end whose capillary is plugged; ``stopped`` whether dirt stops the slide midway."""

    energized: bool = False
    stands: FlowMode = "heating"
    plugged: Capillary = "none"
    difference: Difference = "enough"
    stopped: bool = False


class ValvePipe(Document):
    """One of the four pipes."""

    station: str
    temperature: PlainQuantity
    high: bool


class ValveShown(Document):
    """What it does: ``slide`` from −1 (heating) to 1 (cooling); at each end of it discharge or suction pressure, or the same
    as in the body where nothing bleeds; the pressures, the four pipes, why, and what to measure."""

    slide: float
    wanted: float
    left_end: Literal["discharge", "suction"]
    right_end: Literal["discharge", "suction"]
    high: PlainQuantity
    low: PlainQuantity
    pipes: list[ValvePipe]
    why: str
    measure: list[Measure]


def handled(what: ValveHandled, units: UnitSystem) -> ValveShown:
    """Work the valve.

    Parameters
    ----------
    what : ValveHandled
        What is done to it.
    units : {"field", "metric"}
        Units of the numbers.

    Returns
    -------
    ValveShown
        For the drawing.
    """
    wanted = 1 if what.energized else -1
    slide, why = _slide(what, wanted)
    pipes, high, low = _shown(slide, what, units)
    # The pilot joins the end the slide is to go to with suction, the other with discharge.
    left: Literal["discharge", "suction"] = "suction" if wanted > 0 else "discharge"
    right: Literal["discharge", "suction"] = "discharge" if wanted > 0 else "suction"
    if what.plugged == "left" and left == "suction":
        left = "discharge"
    if what.plugged == "right" and right == "suction":
        right = "discharge"
    return ValveShown(
        slide=slide,
        wanted=wanted,
        left_end=left,
        right_end=right,
        high=high,
        low=low,
        pipes=pipes,
        why=why,
        measure=_measure(slide, wanted),
    )


def _slide(what: ValveHandled, wanted: int) -> tuple[float, str]:
    told = "energized: for cooling" if what.energized else "not energized: for heating"
    stands = 1 if what.stands == "cooling" else -1
    if stands == wanted:
        return (
            wanted,
            f"The coil is {told}, and the slide stands there: the end it leans on bleeds to suction.",
        )
    if what.difference == "too_little":
        least = f"{limit('shift_pressure').default:g} psi"
        return stands, (
            f"The pilot has turned, and nothing pushes: the slide rides on the difference of discharge and suction, and "
            f"needs some {least}. A compressor that stands still or does not pump shifts no valve."
        )
    bleeds = "left" if wanted > 0 else "right"
    if what.plugged == bleeds:
        return stands, (
            "The end it should go to can't bleed: its pilot capillary is plugged, often with debris after a compressor "
            "change. Pressure stays on both ends, and the slide stays where it is."
        )
    if what.stopped:
        return 0.0, (
            "It moved, and stopped midway: dirt, a dented body, a slide that was overheated. All four ports are joined; hot "
            "gas goes straight to suction, the pressures draw together, and soon nothing pushes any more."
        )
    if what.plugged != "none":
        return (
            wanted,
            "It went over, slowly: the plugged end is the one that pushes, and gas finds its way past the slide.",
        )
    return (
        wanted,
        f"The coil is {told}: one end bleeds to suction, discharge pushes on the other, and the slide goes over with a rush.",
    )


def _measure(slide: float, wanted: int) -> list[Measure]:
    found = [
        Measure(words="The four pipes: which end is hot says where it stands.", check="valve.position"),
        Measure(words="Magnets over the end plates ride with it.", check="valve.magnets"),
    ]
    if abs(slide) < 1:
        found.insert(
            0,
            Measure(
                words="Common suction against the pipe that feeds it: the rise.", check="valve.suction_rise"
            ),
        )
    if slide != wanted:
        found.append(
            Measure(words="Both pressures: is there enough to shift with?", check="valve.pressure_difference")
        )
        found.append(Measure(words="24 V at the coil, then its winding.", check="command.solenoid_voltage"))
    return found


def _shown(
    slide: float, what: ValveHandled, units: UnitSystem
) -> tuple[list[ValvePipe], PlainQuantity, PlainQuantity]:
    mode: FlowMode = "cooling" if (slide > 0 or (slide == 0 and what.energized)) else "heating"
    values = _played(mode, slide == 0, what.difference == "too_little")
    pipes = [
        ValvePipe(
            station=code,
            temperature=quantity(values[code, "temperature"], Kind.TEMPERATURE, units),
            high=code == "discharge_line"
            or ((code == "valve_to_outdoor") == (mode == "cooling") and code != "common_suction"),
        )
        for code in _PIPES
    ]
    high, low = (
        quantity(values[tap, "pressure"], Kind.PRESSURE, units)
        for tap in ("discharge_tap", "common_suction_tap")
    )
    return pipes, high, low


_EVEN = 8.0
"""What a compressor that does not pump leaves between the two sides [psi]. [our own choice]"""


@lru_cache(maxsize=8)
def _played(ran: Ran, midway: bool, even: bool) -> dict[tuple[str, str], float]:
    made = played(reference_unit(), ran, Variation(bypass=_MIDWAY) if midway else AT_REST)
    if made is None:
        raise RuntimeError("the Handbook's unit does not come to rest")
    rows = shown(made.machine, made.circuit.mode, made.cycle, made.conditions, made.changed)
    found = {place: float(row.ravel()[0]) for place, row in rows.items()}
    if even:
        middle = 0.5 * (found["discharge_tap", "pressure"] + found["common_suction_tap", "pressure"])
        half = 0.5 * to_si(_EVEN, "psi", Kind.PRESSURE_DIFFERENCE)
        found["discharge_tap", "pressure"], found["common_suction_tap", "pressure"] = (
            middle + half,
            middle - half,
        )
        around = float(made.conditions.outdoor[0])  # type: ignore[index]
        found.update({(code, "temperature"): around for code in _PIPES})
    return found

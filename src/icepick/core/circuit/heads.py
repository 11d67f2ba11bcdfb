"""Which heads of a unit refrigerant runs through, by their pipes and their air. [physics; the-trade.md 2]

In cooling the pipes of a head that is fed are nearly as cold as the refrigerant boils; those of one whose valve is shut
are as warm as the air around them. In heating hot gas stands at every head: its valve lets liquid go, that of an idle one a
little.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from statistics import fmean
from typing import Literal

from uncertainties import UFloat, ufloat

from icepick.core.circuit.context import RunContext, remembered
from icepick.core.circuit.saturation import side
from icepick.core.document.heads import OneLine
from icepick.core.document.roles import FlowMode

End = Literal["outdoors", "indoors", "air"]
ENDS: tuple[End, End, End] = ("outdoors", "indoors", "air")
"""Where a head shows what runs in it: its pipes at the outdoor unit, those in its room, and the air of one whose fan runs."""

_PIPES: dict[End, tuple[str, ...]] = {
    "outdoors": ("liquid_line_outdoor", "outdoor_meter_line_side", "vapor_line_outdoor"),
    "indoors": ("indoor_coil", "vapor_line_indoor"),
    "air": (),
}
"""Where an end of a head is read; the vapor line of a head is filled with hot gas in heating, whatever runs there."""


def _fahrenheit(value: float, half_width: float) -> UFloat:
    return ufloat((value - 32) / 1.8 + 273.15, half_width / 1.8)


_AROUND: dict[tuple[End, FlowMode], UFloat] = {
    ("outdoors", "cooling"): _fahrenheit(85, 15),
    ("outdoors", "heating"): _fahrenheit(40, 15),
    ("indoors", "cooling"): _fahrenheit(75, 6),
    ("indoors", "heating"): _fahrenheit(70, 6),
    ("air", "cooling"): _fahrenheit(75, 6),
    ("air", "heating"): _fahrenheit(70, 6),
}
"""The air around an end where nobody read it. [our own choice]"""
_REFRIGERANT: dict[FlowMode, UFloat] = {"cooling": _fahrenheit(45, 6), "heating": _fahrenheit(100, 10)}
"""What refrigerant boils or condenses at where nothing tells. [our own choice]"""
_SUBCOOLED = ufloat(10 / 1.8, 8 / 1.8)
"""How much colder than it condensed liquid comes back to the outdoor unit [K]. [our own choice]"""
_AIR_OF_A_FED_HEAD = 0.5
"""How far on its way to the refrigerant a head's air gets. [our own choice]"""
_LEAST_SPAN = 8 / 1.8
"""Refrigerant and surroundings closer than this tell nothing of a pipe between them [K]. [our own choice]"""


@dataclass(frozen=True, slots=True)
class HeadSeen:
    """One head of a run: whether it calls (None where nobody noted it), and how far its pipes at either end stand from the
    air around them toward the refrigerant (0 to about 1; None where unread, or where the two are too close).

    ``superheat`` or ``subcooling`` [K] are those of its own pipes, ``air`` [K] what its air gains or loses;
    ``leaving`` is the temperature [K] its refrigerant leaves with: vapor in cooling, liquid in heating. ``unblown``: its coil
    is fed, and its air goes through as it came.
    """

    number: int
    label: str
    calls: bool | None
    shares: dict[End, UFloat]
    superheat: UFloat | None
    subcooling: UFloat | None
    air: UFloat | None
    leaving: UFloat | None
    read_at: dict[End, str]
    unblown: bool

    @property
    def telling(self) -> dict[End, UFloat]:
        """What tells whether refrigerant runs there: its pipes and its air, but for air that its fan does not move."""
        return {end: share for end, share in self.shares.items() if end != "air" or not self.unblown}

    @property
    def called(self) -> str:
        """It by its number and label, for a sentence."""
        return f"head {self.number} ({self.label})"


def unit_of_heads(context: RunContext) -> OneLine | None:
    """The unit, where it has several heads.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    OneLine or None
        None for any other unit.
    """
    return context.unit if isinstance(context.unit, OneLine) else None


@remembered
def heads_seen(context: RunContext) -> tuple[HeadSeen, ...]:
    """Every head of a run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    tuple of HeadSeen
        By number; empty where the unit has no heads, or nothing flows that settles.
    """
    unit, mode = unit_of_heads(context), context.running
    if unit is None or mode is None or context.defrosting:
        return ()
    numbers = range(1, len(unit.every_head) + 1)
    around = {end: {n: _around(context, unit, mode, end, n) for n in numbers} for end in ENDS}
    return tuple(_seen(context, unit, mode, n, {end: around[end][n] for end in ENDS}) for n in numbers)


def at_head(context: RunContext, unit: OneLine, base: str, number: int) -> UFloat | None:
    """The temperature at a head's station [K].

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    unit : OneLine
        Its unit.
    base : str
        The station as a unit in one line has it.
    number : int
        The head's.

    Returns
    -------
    UFloat or None
        None where it was not read.
    """
    # What enters a head is known of its line, whether anything runs there or not.
    own = (unit.fed or base == "return_air") and number == unit.head
    return context.temperature(base if own else f"{base}:{number}")


def _around(context: RunContext, unit: OneLine, mode: FlowMode, end: End, number: int) -> UFloat:
    usual = _AROUND[end, mode]
    if end == "outdoors":
        return context.temperature("outdoor_air_in") or usual
    own = at_head(context, unit, "return_air", number)
    if own is not None:
        return own
    rooms = [
        room
        for n in range(1, len(unit.every_head) + 1)
        if (room := at_head(context, unit, "return_air", n)) is not None
    ]
    return ufloat(fmean(float(room.nominal_value) for room in rooms), usual.std_dev) if rooms else usual


def _pipes(
    context: RunContext, unit: OneLine, mode: FlowMode, end: End, number: int
) -> Iterator[tuple[str, UFloat]]:
    for base in _PIPES[end]:
        read = at_head(context, unit, base, number)
        if read is not None and not (mode == "heating" and base.startswith("vapor")):
            yield base, read


def _seen(
    context: RunContext, unit: OneLine, mode: FlowMode, number: int, around: dict[End, UFloat]
) -> HeadSeen:
    shares, read_at = dict[End, UFloat](), dict[End, str]()
    for end in ENDS:
        pipes = list(_pipes(context, unit, mode, end, number))
        share, base = _share(context, unit, mode, end, around[end], pipes)
        if share is None and mode == "heating":
            share, base = _without_gas(context, unit, end, number, around[end])
        if share is not None:
            shares[end], read_at[end] = share, f"{base}:{number}"
    back, supply = (at_head(context, unit, code, number) for code in ("return_air", "supply_air"))
    superheat, subcooling, leaving = _leaving(context, unit, mode, number)
    air = None if back is None or supply is None else back - supply if mode == "cooling" else supply - back
    calls = None if unit.calling is None else number in unit.calling
    whole = _refrigerant(context, unit, mode, "air") - around["air"]
    if calls and air is not None and _apart(whole, mode):
        # The fan of a head that does not call stands still, and its air says nothing.
        span = whole if mode == "heating" else -whole
        shares["air"] = air / span / _AIR_OF_A_FED_HEAD
        read_at["air"] = f"supply_air:{number}"
    label = unit.every_head[number - 1].label
    unblown = _unblown(context, mode, shares)
    return HeadSeen(number, label, calls, shares, superheat, subcooling, air, leaving, read_at, unblown)


def _unblown(context: RunContext, mode: FlowMode, shares: dict[End, UFloat]) -> bool:
    air, coil = shares.get("air"), shares.get("indoors")
    if air is None or coil is None:
        return False
    fed = context.practice.si("head_fed" if mode == "cooling" else "head_bleeds_most")
    still = context.practice.si("head_still")
    return bool(coil.nominal_value > fed and air.nominal_value + air.std_dev < still)


def _share(
    context: RunContext,
    unit: OneLine,
    mode: FlowMode,
    end: End,
    around: UFloat,
    pipes: list[tuple[str, UFloat]],
) -> tuple[UFloat | None, str]:
    """The share of the way of the pipe that is farthest along it."""
    if not pipes:
        return None, ""
    pick = min if mode == "cooling" else max
    base, pipe = pick(pipes, key=lambda one: one[1].nominal_value)
    whole = _refrigerant(context, unit, mode, end) - around
    if not _apart(whole, mode):
        return None, ""
    return (pipe - around) / whole, base


def _apart(whole: UFloat, mode: FlowMode) -> bool:
    """Whether the refrigerant is far enough from what is around, on the side it should be."""
    far = whole.nominal_value if mode == "heating" else -whole.nominal_value
    return bool(far >= _LEAST_SPAN)


def _without_gas(
    context: RunContext, unit: OneLine, end: End, number: int, around: UFloat
) -> tuple[UFloat | None, str]:
    """In heating a vapor line tells one thing alone: at the temperature around it, no gas comes that far."""
    if end == "air":
        return None, ""
    base = "vapor_line_outdoor" if end == "outdoors" else "vapor_line_indoor"
    read = at_head(context, unit, base, number)
    if read is None:
        return None, ""
    whole = _refrigerant(context, unit, "heating", "indoors") - around
    share = (read - around) / whole if whole.nominal_value > _LEAST_SPAN else None
    still = share is not None and share.nominal_value + share.std_dev < context.practice.si("head_still")
    return (share, base) if still else (None, "")


def _refrigerant(context: RunContext, unit: OneLine, mode: FlowMode, end: End) -> UFloat:
    """What a head's pipes come near to at one end when refrigerant runs there [K]."""
    assert context.circuit is not None
    numbers = range(1, len(unit.every_head) + 1)
    if mode == "cooling":
        gauged = side(context, context.circuit, "low", frozenset())
        if gauged is not None:
            return gauged.dew
        lines = [pipe for n in numbers for at in ENDS for _, pipe in _pipes(context, unit, mode, at, n)]
        shared = [
            read
            for code in ("valve_to_indoor", "common_suction")
            if (read := context.temperature(code)) is not None
        ]
        return _coldest([_REFRIGERANT[mode], *lines, *shared])
    if end == "outdoors":
        liquid = [
            pipe
            for n in unit.calling or ()
            for _, pipe in _pipes(context, unit, mode, "outdoors", n)
            if len(unit.calling or ()) > 1
        ]
        least = _condensing(context, unit) - _SUBCOOLED
        return _warmest([*liquid, least])
    return _condensing(context, unit)


def _condensing(context: RunContext, unit: OneLine) -> UFloat:
    assert context.circuit is not None
    gauged = side(context, context.circuit, "high", frozenset())
    if gauged is not None:
        return (gauged.dew + gauged.bubble) / 2
    numbers = range(1, len(unit.every_head) + 1)
    bends = [bend for n in numbers if (bend := at_head(context, unit, "indoor_coil", n)) is not None]
    return _warmest([_REFRIGERANT["heating"], *bends])


def _coldest(values: list[UFloat]) -> UFloat:
    return min(values, key=lambda one: one.nominal_value)


def _warmest(values: list[UFloat]) -> UFloat:
    return max(values, key=lambda one: one.nominal_value)


def _leaving(
    context: RunContext, unit: OneLine, mode: FlowMode, number: int
) -> tuple[UFloat | None, UFloat | None, UFloat | None]:
    """Superheat, subcooling and temperature of what leaves a head."""
    assert context.circuit is not None
    bend = at_head(context, unit, "indoor_coil", number)
    if mode == "cooling":
        vapor = at_head(context, unit, "vapor_line_outdoor", number)
        vapor = vapor if vapor is not None else at_head(context, unit, "vapor_line_indoor", number)
        low = side(context, context.circuit, "low", frozenset())
        boiling = low.dew if low is not None else bend
        superheat = None if vapor is None or boiling is None else vapor - boiling
        return superheat, None, vapor
    liquid = at_head(context, unit, "liquid_line_outdoor", number)
    high = side(context, context.circuit, "high", frozenset())
    condensing = high.bubble if high is not None else bend
    subcooling = None if liquid is None or condensing is None else condensing - liquid
    return None, subcooling, liquid

"""What must be hotter than what in a circuit that runs, and what slip would explain it where it is not."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations
from math import hypot

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.graph import Circuit
from icepick.core.circuit.load import medium_entering
from icepick.core.circuit.saturation import gas_alone, side
from icepick.core.document.codes import Medium, Mode
from icepick.core.document.examination import Doubt
from icepick.core.document.roles import Role
from icepick.core.document.stations import Group, station
from icepick.core.document.wording import name, names, say
from icepick.core.properties.quantities import SYMBOLS, UNITS, Kind, to_si
from icepick.core.properties.refrigerants import OutsideRangeError, saturation_temperature


@dataclass(frozen=True, slots=True)
class Fact:
    """A temperature and its band [K], and the station it was read at; saturation names its tap.

    Plain numbers: hundreds of exchanges are tried, and here every reading stands for itself.
    """

    station: str
    value: float
    band: float


def _fact(code: str, value: UFloat) -> Fact:
    return Fact(code, float(value.nominal_value), float(value.std_dev))


Facts = Mapping[str, Fact]
CONDENSING, CONDENSING_DEW, EVAPORATING = "@condensing", "@condensing dew", "@evaporating"


@dataclass(frozen=True, slots=True)
class Order:
    """``hotter`` must not be colder than ``colder``. ``code`` is None where only the whole matters."""

    hotter: str
    colder: str
    code: str | None
    words: str


def facts(context: RunContext, circuit: Circuit, without: frozenset[str]) -> Facts:
    """Every temperature read, and the saturation temperatures of both sides, by name.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.
    without : frozenset of str
        Stations that are left out.

    Returns
    -------
    Facts
        By station, and by the names of the saturations.
    """
    known = {
        current.reading.station: _fact(current.reading.station, current.value)
        for current in context.readings.all()
        if current.reading.quantity == "temperature"
        and current.reading.station not in without
        and station(current.reading.station).group not in (Group.CIRCUIT, Group.ELECTRICAL)
    }
    # The liquid line port does not tell what the vapor condensed at: a stuck check or a drier may lie between.
    if gas_alone(context) is not None:
        return known  # Gas alone has no saturation.
    if (high := side(context, circuit, "high", without | {"liquid_service_tap"})) is not None:
        known[CONDENSING] = _fact(high.tap, high.bubble)
        known[CONDENSING_DEW] = _fact(high.tap, high.dew)
    if (low := side(context, circuit, "low", without)) is not None:
        known[EVAPORATING] = _fact(low.tap, low.dew)
    return known


def _orders(circuit: Circuit, mode: Mode, media: Mapping[str, str], load: Medium) -> Iterator[Order]:
    """What the second law asks of a circuit run in a mode, ``media`` entering its coils. [physics]

    Not asked: that liquid is warmer than the evaporator's bend, since a starved coil's bend is
    superheated and flashing liquid may be colder; nor anything of the outdoor air in a defrost.
    """
    lines = [stop.station for stop in circuit.path if stop.station != "discharge_line"]
    hot, cold, liquid = circuit.hot_gas, circuit.suction_gas, circuit.liquid
    condenser, evaporator = circuit.condenser, circuit.evaporator
    for code in lines:
        named = "discharge_below_condensing" if code == condenser else None
        yield Order("discharge_line", code, named, "The discharge line is the hottest pipe")
    yield Order(
        "discharge_line",
        CONDENSING_DEW,
        "discharge_below_condensing",
        "Discharge gas can't be colder than it condenses",
    )
    for warm in hot[1:]:
        yield Order(warm, condenser, None, "")
        for cool in cold:
            yield Order(warm, cool, None, "")
    for code in liquid:
        for condensing in (condenser, CONDENSING):
            yield Order(
                condensing,
                code,
                "liquid_above_condensing",
                "Liquid can't be warmer than it condensed",
            )
    # What has boiled off in the active metering device is no warmer than the liquid that came to it.
    for warm in liquid:
        for cool in circuit.boiling:
            yield Order(warm, cool, None, "")
    for code in cold:
        yield Order(code, evaporator, None, "")
        yield Order(code, EVAPORATING, None, "")
    yield Order(condenser, evaporator, None, "")
    for coil, saturated in ((condenser, CONDENSING), (evaporator, EVAPORATING)):
        if mode == "defrost" and coil == "outdoor_coil":
            continue
        medium = media[coil]
        for inside in (coil, saturated):
            if coil == condenser:
                yield Order(
                    inside,
                    medium,
                    "condenser_below_its_air",
                    "A condenser can't be colder than what it heats",
                )
            else:
                yield Order(
                    medium,
                    inside,
                    "evaporator_above_its_air",
                    "An evaporator can't be warmer than what it cools",
                )
    if load == "air" and mode != "defrost":
        pair = ("supply_air", "return_air") if condenser == "indoor_coil" else ("return_air", "supply_air")
        yield Order(*pair, None, "")


@dataclass(frozen=True, slots=True)
class Law:
    """The orders of one circuit in one run, and the margin [K] beyond which they count as broken."""

    orders: tuple[Order, ...]
    margin: float

    def broken(self, known: Facts) -> Iterator[tuple[Order, float]]:
        """The orders that the facts break, each with how far [K].

        Parameters
        ----------
        known : Facts
            What was read, by name [K].

        Returns
        -------
        iterator of (Order, float)
            In the order of the law.
        """
        for order in self.orders:
            above, below = known.get(order.hotter), known.get(order.colder)
            if above is None or below is None:
                continue
            short = below.value - above.value
            if short > self.margin + hypot(above.band, below.band):
                yield order, short

    def kept(self, known: Facts) -> bool:
        """Whether the facts break none of the orders.

        Parameters
        ----------
        known : Facts
            What was read, by name [K].

        Returns
        -------
        bool
            True where the run is consistent.
        """
        return next(self.broken(known), None) is None


def law(context: RunContext, circuit: Circuit) -> Law:
    """What physics asks of this run, if it runs as ``circuit`` does.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.

    Returns
    -------
    Law
        Orders of what must be hotter than what.
    """
    media = tuple((coil, medium_entering(context, coil)) for coil in (circuit.condenser, circuit.evaporator))
    orders = _all_orders(circuit, context.run.mode, media, context.unit.load)
    return Law(orders, context.practice.si("doubt_margin"))


@lru_cache(maxsize=256)
def _all_orders(
    circuit: Circuit, mode: Mode, media: tuple[tuple[str, str], ...], load: Medium
) -> tuple[Order, ...]:
    return tuple(_orders(circuit, mode, dict(media), load))


def contradictions(context: RunContext, asked: Law, known: Facts) -> list[Doubt]:
    """One doubt for each kind of broken order that has a name, told by its worst case.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    asked : Law
        What physics asks of the run.
    known : Facts
        What was read, by name [K].

    Returns
    -------
    list of Doubt
        Each with its stations.
    """
    by_code: dict[str, list[tuple[float, Order]]] = {}
    for order, short in asked.broken(known):
        if order.code is not None:
            by_code.setdefault(order.code, []).append((short, order))
    doubts = []
    for code, cases in by_code.items():
        stations = [known[name].station for _, order in cases for name in (order.hotter, order.colder)]
        short, worst = max(cases, key=lambda case: case[0])
        above, below = known[worst.hotter].station, known[worst.colder].station
        amount = say(short, Kind.TEMPERATURE_DIFFERENCE, context.units)
        words = (
            f"{worst.words}: {name(context.unit, above)} reads {amount} under {name(context.unit, below)}. "
            "Check both sensors and where they are clamped."
        )
        doubts.append(Doubt(stations=list(dict.fromkeys(stations)), code=code, explain=words))
    return doubts


def exchanged(context: RunContext, circuit: Circuit, asked: Law, known: Facts) -> list[Doubt]:
    """Two temperatures that, exchanged, would make the whole run consistent.

    Of several such pairs the one is named that leaves the least change along pipes, which hold their
    temperature.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.
    asked : Law
        What physics asks of the run.
    known : Facts
        What was read, by name [K].

    Returns
    -------
    list of Doubt
        One doubt, or none.
    """
    read = [name for name in known if not name.startswith("@")]
    candidates: list[tuple[float, str, str]] = []
    for one, other in combinations(read, 2):
        if abs(known[one].value - known[other].value) <= asked.margin:
            continue
        tried = {
            **known,
            one: replace(known[other], station=one),
            other: replace(known[one], station=other),
        }
        if asked.kept(tried):
            candidates.append((_unrest(circuit, tried), one, other))
    if not candidates:
        return []
    _, one, other = min(candidates)
    words = f"Swapped, these two readings would fit the rest: {names(context.unit, [one, other])}."
    return [Doubt(stations=[one, other], code="swapped_stations", explain=words)]


def _unrest(circuit: Circuit, known: Facts) -> float:
    """Sum of the changes [K] along legs that should hold."""
    total = 0.0
    for here, there in circuit.legs:
        holds = here.through in ("pipe", "reversing_valve", "accumulator", "drier")
        if holds and here.station in known and there.station in known:
            total += abs(known[here.station].value - known[there.station].value)
    return total


def misread_unit(
    context: RunContext, circuit: Circuit, asked: Law, known: Facts, without: frozenset[str]
) -> list[Doubt]:
    """Pressures and temperatures that fit only when read in another unit of the same kind.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    circuit : Circuit
        The way the refrigerant runs.
    asked : Law
        What physics asks of the run.
    known : Facts
        What was read, by name [K].
    without : frozenset of str
        Stations that are left out.

    Returns
    -------
    list of Doubt
        One doubt for each reading.
    """
    return [*_misread_pressures(context, circuit, without), *_misread_temperatures(context, asked, known)]


def _expected_saturation(context: RunContext, circuit: Circuit, role: Role) -> UFloat | None:
    """Roughly where one side saturates, by its coil's bend or the pipe that leaves that coil."""
    coil = circuit.coil(role)
    after = circuit.liquid if role == "high" else (circuit.return_port, "common_suction")
    return next((t for code in (coil, *after) if (t := context.temperature(code)) is not None), None)


def _misread_pressures(context: RunContext, circuit: Circuit, without: frozenset[str]) -> Iterator[Doubt]:
    far, near = (context.practice.si(f"unit_doubt_{word}") for word in ("far", "near"))
    for tap in circuit.taps:
        current = context.readings.get(tap.tap, "pressure")
        expected = _expected_saturation(context, circuit, tap.role)
        if current is None or expected is None or tap.tap in without:
            continue

        def away(pascal: float, expected: float = expected.nominal_value) -> float:
            try:
                return abs(float(saturation_temperature(context.unit.refrigerant, pascal, "dew")) - expected)
            except OutsideRangeError:
                return float("inf")

        if away(current.value.nominal_value) <= far:
            continue
        value, typed = current.reading.value, current.reading.unit
        fits = [
            unit
            for unit in UNITS[Kind.PRESSURE]
            if unit != typed and away(to_si(value, unit, Kind.PRESSURE, context.atmosphere)) <= near
        ]
        if fits:
            yield Doubt(
                stations=[tap.tap],
                code="unit_mistaken",
                explain=f"{value:g} {SYMBOLS[typed]} fits nothing else that was read; "
                f"{value:g} {SYMBOLS[fits[0]]} does. Check the gauge's unit.",
            )


def _misread_temperatures(context: RunContext, asked: Law, known: Facts) -> Iterator[Doubt]:
    if asked.kept(known):
        return
    for code, fact in known.items():
        current = context.readings.get(code)
        if current is None or code.startswith("@"):
            continue
        value, typed = current.reading.value, current.reading.unit
        other = "degC" if typed == "degF" else "degF"
        meant = replace(fact, value=to_si(value, other, Kind.TEMPERATURE))
        if asked.kept({**known, code: meant}):
            yield Doubt(
                stations=[code],
                code="unit_mistaken",
                explain=f"{value:g} {SYMBOLS[typed]} contradicts the rest; {value:g} {SYMBOLS[other]} "
                "would fit. Check the thermometer's unit.",
            )
            return

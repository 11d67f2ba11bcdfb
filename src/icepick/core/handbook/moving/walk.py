"""The whole circuit, step by step: where the refrigerant is, what it is there, and what one would measure."""

from __future__ import annotations

from collections.abc import Iterator

from icepick.core.document.base import Document
from icepick.core.document.examination import PathStop
from icepick.core.document.roles import Part, Side
from icepick.core.document.wording import device, name
from icepick.core.handbook.moving.numbers import Measure, Pipe, pipe
from icepick.core.handbook.reference import Played, Ran, played, reference_unit
from icepick.core.machine.along import along
from icepick.core.properties.quantities import UnitSystem


class WalkStep(Document):
    """A step: a part the refrigerant goes through, or a station with its state. ``at`` is the station it is drawn at."""

    number: int
    title: str
    words: str
    at: str
    pipe: Pipe | None
    measure: Measure | None


class CircuitWalk(Document):
    """Once round in a mode; ``path`` and the rest are what the drawing needs."""

    ran: Ran
    path: list[PathStop]
    active: Side
    bypassed: Side | None
    steps: list[WalkStep]


_PARTS: dict[tuple[str, str], str] = {
    (
        "compressor",
        "",
    ): "It draws in vapor and squeezes it: pressure and temperature rise. Liquid it can't squeeze.",
    (
        "reversing_valve",
        "high",
    ): "The slide lets the hot gas out to the one end port; which one is all that a mode changes.",
    (
        "reversing_valve",
        "low",
    ): "Under the slide's cup the returning gas turns into common suction, always the center port.",
    (
        "indoor_coil",
        "high",
    ): "The condenser now: it gives its heat to the room. Vapor cools, turns to liquid, and cools on.",
    (
        "outdoor_coil",
        "high",
    ): "The condenser now: it gives its heat to the outdoors. Vapor cools, turns to liquid, and cools on.",
    (
        "indoor_coil",
        "low",
    ): "The evaporator now: it takes heat from the room. The mixture boils away, the vapor warms on.",
    (
        "outdoor_coil",
        "low",
    ): "The evaporator now: it takes heat from the outdoors. The mixture boils away, the vapor warms on.",
    (
        "drier",
        "",
    ): "It catches water and dirt. Flow reverses here with the mode, so it has to be made for both ways.",
    (
        "accumulator",
        "",
    ): "What liquid comes back waits here, and boils off little by little: the compressor gets vapor.",
}
_ACTIVE = "The active device: pressure falls to the low side, and part of the liquid boils at once. The full drop is here."
_BYPASSED = (
    "The bypassed one: liquid takes its check instead, with next to no drop. A drop here: the check is stuck."
)
_DEFROST = {
    "outdoor_coil": "Hot gas melts the ice on it. While there is ice, the coil stays near freezing; then it climbs.",
    "indoor_coil": "It takes heat from the room's air, so the backup heat is on and the outdoor fan is off.",
}
_MEASURE: dict[str, Measure] = {
    "discharge_line": Measure(
        words="Clamp it near the valve: always the hottest pipe.", check="danger.discharge_temperature"
    ),
    "valve_to_indoor": Measure(words="Clamp as near the valve as a clamp fits.", check="valve.position"),
    "valve_to_outdoor": Measure(words="Clamp as near the valve as a clamp fits.", check="valve.position"),
    "common_suction": Measure(
        words="Against the port that brings the gas back: more than 5 °F warmer, and gas bypasses the slide.",
        check="valve.suction_rise",
    ),
    "compressor_inlet": Measure(
        words="Superheat here says whether liquid reaches the compressor.", check="exchange.total_superheat"
    ),
    "indoor_coil": Measure(
        words="A mid bend: close to saturation, without a gauge.", check="exchange.condenser_split"
    ),
    "outdoor_coil": Measure(
        words="A mid bend: close to saturation, without a gauge.", check="exchange.evaporator_split"
    ),
    "liquid_line_outdoor": Measure(
        words="With the liquid port's pressure: subcooling.", check="exchange.subcooling"
    ),
    "drier_indoor_side": Measure(
        words="Both sides of the drier: more than 3 °F apart, and it restricts.", check="metering.drier_drop"
    ),
    "indoor_meter_line_side": Measure(
        words="Both sides of the device: the full drop where it is active, next to none where it is bypassed.",
        check="metering.bypass_drop",
    ),
    "outdoor_meter_line_side": Measure(
        words="Both sides of the device: the full drop where it is active, next to none where it is bypassed.",
        check="metering.active_drop",
    ),
}


def circuit_walk(ran: Ran, units: UnitSystem) -> CircuitWalk:
    """Once round the Handbook's unit.

    Parameters
    ----------
    ran : {"heating", "cooling", "defrost"}
        What it does.
    units : {"field", "metric"}
        Units of every number.

    Returns
    -------
    CircuitWalk
        Twenty-some steps, from the compressor back to it.

    Raises
    ------
    RuntimeError
        The machine does not come to rest: it does in all three.
    """
    made = played(reference_unit(), ran)
    if made is None:
        raise RuntimeError(f"the Handbook's unit does not come to rest in {ran}")
    circuit = made.circuit
    steps = [
        step.model_copy(update={"number": n}) for n, step in enumerate(_steps(made, ran, units), start=1)
    ]
    return CircuitWalk(
        ran=ran,
        path=[
            PathStop(station=s.station, role=s.role, state=s.state, place=s.place, through=s.through)
            for s in circuit.path
        ],
        active=circuit.active_meter,
        bypassed=circuit.bypassed_meter,
        steps=steps,
    )


def _steps(made: Played, ran: Ran, units: UnitSystem) -> Iterator[WalkStep]:
    unit = made.unit
    states = {at.station: at for at in along(made.machine, made.circuit, made.cycle)}
    yield _part("compressor", "compressor", _PARTS["compressor", ""], "discharge_line")
    gone_through: Part | None = None
    for stop in made.circuit.path:
        yield WalkStep(
            number=0,
            title=name(unit, stop.station),
            words=_coil_words(stop.station, stop.role, ran) if stop.station.endswith("_coil") else "",
            at=stop.station,
            pipe=pipe(states[stop.station], units),
            measure=_MEASURE.get(stop.station),
        )
        part = stop.through
        if part in ("pipe", "compressor", gone_through) or part.endswith("_coil"):
            continue
        gone_through = part
        if part.endswith("_meter"):
            side = part.removesuffix("_meter")
            active = side == made.circuit.active_meter
            yield _part(device(unit, side), part, _ACTIVE if active else _BYPASSED, stop.station)
        else:
            words = _PARTS.get((part, stop.role)) or _PARTS.get((part, ""), "")
            yield _part(part.replace("_", " "), part, words, stop.station)


def _coil_words(coil: str, role: str, ran: Ran) -> str:
    return _DEFROST[coil] if ran == "defrost" else _PARTS[coil, role]


def _part(title: str, part: str, words: str, at: str) -> WalkStep:
    check = {"reversing_valve": "valve.position", "compressor": "compressor.pumping"}.get(part, "")
    measure = (
        Measure(words="Its four pipes, and magnets over its end plates.", check="valve.magnets")
        if part == "reversing_valve"
        else None
    )
    if part == "compressor":
        measure = Measure(words="Both pressures, and the current against the nameplate.", check=check)
    return WalkStep(number=0, title=title, words=words, at=at, pipe=None, measure=measure)

"""What a run says of the conditions its machine works in; what it does not say is taken as usual, and spreads."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import medium_entering
from icepick.core.document.heads import OneLine
from icepick.core.document.roles import FlowMode
from icepick.core.document.stations import station
from icepick.core.document.wording import say
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.parameters import of
from icepick.core.properties.moist_air import humidity_ratio
from icepick.core.properties.quantities import Kind, UnitSystem

LEAST_SPEED, DRIEST = 0.1, 0.02
"""Below these the model is not asked: no compressor turns so slowly, no air is so dry."""


@dataclass(frozen=True, slots=True)
class Known:
    """A number and its spread, as one standard deviation; ``read`` where somebody did."""

    value: float
    spread: float
    read: bool


@dataclass(frozen=True, slots=True)
class Surroundings:
    """Entering temperatures [K] and relative humidities [0…1], the compressor's speed over its full one, the air's pressure
    [Pa]."""

    outdoor: Known
    indoor: Known
    outdoor_humidity: Known
    indoor_humidity: Known
    speed: Known
    atmosphere: float
    outdoor_is_air: bool
    indoor_is_air: bool

    @property
    def unread(self) -> tuple[str, ...]:
        """Names of what nobody read."""
        names = ("outdoor", "indoor", "outdoor_humidity", "indoor_humidity", "speed")
        return tuple(name for name in names if not getattr(self, name).read)

    def conditions(self, **deviations: float) -> Conditions:
        """Conditions with each named one so many standard deviations off."""

        def at(name: str) -> float:
            known: Known = getattr(self, name)
            return known.value + deviations.get(name, 0.0) * known.spread

        outdoor, indoor = at("outdoor"), at("indoor")
        return Conditions(
            outdoor,
            indoor,
            _ratio(outdoor, at("outdoor_humidity"), self.atmosphere) if self.outdoor_is_air else 0.0,
            _ratio(indoor, at("indoor_humidity"), self.atmosphere) if self.indoor_is_air else 0.0,
            max(at("speed"), LEAST_SPEED),
            self.atmosphere,
        )


def _ratio(temperature: float, humidity: float, atmosphere: float) -> float:
    return humidity_ratio(temperature, atmosphere, relative_humidity=min(max(humidity, DRIEST), 1.0))


def surroundings(context: RunContext, mode: FlowMode) -> Surroundings:
    """What a run's machine works in.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    mode : FlowMode
        The way its refrigerant runs.

    Returns
    -------
    Surroundings
        Of which ``unread`` says what was taken as usual.
    """
    unit = context.unit
    outdoor = _entering(context, medium_entering(context, "outdoor_coil"), mode)
    indoor = _entering(context, medium_entering(context, "indoor_coil"), mode)
    return Surroundings(
        outdoor,
        indoor,
        _humidity(context, "outdoor_air_in", outdoor.value, mode),
        _humidity(context, "return_air", indoor.value, mode),
        _speed(context),
        context.atmosphere,
        unit.source == "air",
        unit.load == "air",
    )


def beyond(context: RunContext, mode: FlowMode) -> str:
    """What enters a coil outside the range that the model is made for, in a sentence; empty where nothing does.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    mode : FlowMode
        The way its refrigerant runs.

    Returns
    -------
    str
        For the screen.
    """
    if isinstance(context.unit, OneLine) and not context.unit.fed:
        return "Of the heads that call none is known to be fed: that comes first."
    for coil in ("outdoor_coil", "indoor_coil"):
        entering = medium_entering(context, coil)
        read = context.temperature(entering)
        if read is not None and (
            why := out_of_range(entering, mode, float(read.nominal_value), context.units)
        ):
            return why
    return ""


def out_of_range(place: str, mode: FlowMode, temperature: float, units: UnitSystem) -> str:
    """Why the model is not asked about a temperature; empty where it may be.

    Parameters
    ----------
    place : str
        The station of what enters a coil.
    mode : FlowMode
        The way the refrigerant runs.
    temperature : float
        [K].
    units : {"field", "metric"}
        Units of what comes out.

    Returns
    -------
    str
        A sentence for the screen.
    """
    least, most = (of(f"{end}_{place}_{mode}") for end in ("least", "most"))
    if least <= temperature <= most:
        return ""
    at, low, high = (say(value, Kind.TEMPERATURE, units) for value in (temperature, least, most))
    name = station(place).title.removesuffix(" entering the coil")
    return f"The machine model is not made for {name} at {at} in {mode}: {low.split()[0]} to {high}."


def _entering(context: RunContext, place: str, mode: FlowMode) -> Known:
    read = context.temperature(place)
    if read is not None:
        # Bands of readings are half-widths of two standard deviations.
        return Known(float(read.nominal_value), float(read.std_dev) / 2, True)
    return Known(of(f"usual_{place}_{mode}"), of(f"spread_{place}"), False)


def _humidity(context: RunContext, place: str, temperature: float, mode: FlowMode) -> Known:
    humid = context.value(place, "relative_humidity")
    if humid is not None:
        return Known(float(humid.nominal_value), float(humid.std_dev) / 2, True)
    wet = context.value(place, "wet_bulb")
    if wet is not None and wet.nominal_value <= temperature:
        ratio = humidity_ratio(temperature, context.atmosphere, wet_bulb=float(wet.nominal_value))
        full = humidity_ratio(temperature, context.atmosphere, relative_humidity=1.0)
        return Known(min(ratio / full, 1.0), of("spread_wet_bulb_humidity"), True)
    return Known(of(f"usual_{place}_humidity_{mode}"), of(f"spread_{place}_humidity"), False)


def _speed(context: RunContext) -> Known:
    run, kind = context.run, context.unit.compressor.kind
    if run.compressor_speed is not None:
        return Known(max(run.compressor_speed / 100, LEAST_SPEED), of("spread_noted_speed"), True)
    if run.compressor_stage is not None and kind == "two_stage":
        return Known(
            1.0 if run.compressor_stage == "high" else of("low_stage"), of("spread_noted_speed"), True
        )
    if kind == "single":
        return Known(1.0, 0.0, True)
    usual, spread = of(f"usual_speed_{kind}"), of(f"spread_speed_{kind}")
    if isinstance(context.unit, OneLine) and kind == "inverter":
        share = context.unit.calling_share
        usual, spread = usual * share ** of("slows_for_few_heads"), spread * sqrt(share)
    return Known(usual, spread, False)

"""A unit's description becomes a machine: sized so that in cooling at its rating point it does what its nameplate says.

The refrigerant's state there is taken from common practice or the manufacturer's targets; displacement, conductances, the
areas of the devices and the charge follow from it, each by its own part's equation.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from icepick.core.circuit.graph import Circuit, build_circuit
from icepick.core.document.base import Length
from icepick.core.document.codes import MeterKind
from icepick.core.document.heads import OneLine
from icepick.core.document.roles import FlowMode, Side
from icepick.core.document.visit import Meter as Fitted
from icepick.core.document.visit import Unit
from icepick.core.document.wording import say
from icepick.core.machine.coil import BOILING_EXPONENT
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.cycle import ENTHALPY_SCALE, walk
from icepick.core.machine.metering import ORIFICES
from icepick.core.machine.parameters import TON, of
from icepick.core.machine.parts import Coil, Compressor, Lines, Machine, Meter, Rated, Step
from icepick.core.machine.solver import solve
from icepick.core.machine.steady import FARTHEST, first_guess
from icepick.core.machine.variation import AT_REST, Variation
from icepick.core.properties.moist_air import SEA_LEVEL_PRESSURE, humidity_ratio
from icepick.core.properties.quantities import Kind
from icepick.core.properties.states import States, states

Array = NDArray[np.float64]

BOTH: tuple[FlowMode, FlowMode] = ("cooling", "heating")
LIQUID_LINE = "liquid_line_outdoor"
USUAL_COP, SHELL_OVER_AIR, USUAL_DIFFERENCE, USUAL_MASS_FLUX = 3.8, 45.0, 8.0, 2.2e4
"""First guesses that sizing starts from: power, shell over air [K], coil over air [K], flow for each area [kg/(s m²)]."""
LEAST_CALLING = 0.1
"""No run is taken to have less of the heads calling than this. [our own choice]"""
USUAL_CAPACITY = 3 * TON
"""Of a unit whose nameplate nobody read: temperatures do not depend on it. [our own choice]"""


LINE_LENGTH = "line_set_length"
FOOT = 0.3048


class UnsizedError(ValueError):
    """The unit can't be sized; says which field stands in the way, and why."""

    def __init__(self, field: str, why: str) -> None:
        super().__init__(f"{field}: {why}")
        self.field, self.why = field, why


def rating(unit: Unit, mode: FlowMode) -> Conditions:
    """The conditions a unit is rated at in a mode.

    Parameters
    ----------
    unit : Unit
        The equipment.
    mode : FlowMode
        Cooling or heating.

    Returns
    -------
    Conditions
        AHRI 210/240 for air, ISO 13256-1 and -2 for water, from memory.
    """
    if unit.source == "air":
        outdoor = of(f"rating_outdoor_{mode}")
        wet = of(f"rating_outdoor_wet_bulb_{mode}")
        outside = humidity_ratio(outdoor, SEA_LEVEL_PRESSURE, wet_bulb=wet)
    else:
        outdoor, outside = of(f"rating_source_{mode}"), 0.0
    if unit.load == "air":
        indoor = of(f"rating_indoor_{mode}")
        wet = of(f"rating_wet_bulb_{mode}")
        inside = humidity_ratio(indoor, SEA_LEVEL_PRESSURE, wet_bulb=wet)
    else:
        indoor, inside = of(f"rating_load_{mode}"), 0.0
    return Conditions(outdoor, indoor, outside, inside)


@dataclass(frozen=True, slots=True)
class _Nameplate:
    """What of a unit its size depends on, SI; None where nobody says."""

    capacity: float
    airflow: float | None
    line_length: float
    superheat: float | None
    superheat_heating: float | None
    subcooling: float | None
    rated_current: float | None

    def states_superheat(self, mode: FlowMode) -> bool:
        """Whether the manufacturer states it for a mode."""
        return (self.superheat if mode == "cooling" else self.superheat_heating) is not None


def size(unit: Unit) -> Machine:
    """Size a unit.

    Parameters
    ----------
    unit : Unit
        The equipment.

    Returns
    -------
    Machine
        The unit with numbers; the same one for the same description.

    Raises
    ------
    UnsizedError
        A field makes it impossible; the error says which and why.
    """
    stated = unit.design
    cooling, heating = (stated.cooling, stated.heating) if stated else (None, None)
    capacity = unit.nominal_capacity.si if unit.nominal_capacity else USUAL_CAPACITY
    if capacity <= 0:
        raise UnsizedError("nominal_capacity", "a machine of no capacity has no size.")
    length = of("packaged_length") if unit.layout == "packaged" else of("line_length")
    rated_current = unit.compressor.rated_current
    nameplate = _Nameplate(
        capacity,
        stated.indoor_airflow.si if stated and stated.indoor_airflow else None,
        unit.line_set_length.si if unit.line_set_length else length,
        cooling.superheat.si if cooling and cooling.superheat else None,
        heating.superheat.si if heating and heating.superheat else None,
        cooling.subcooling.si if cooling and cooling.subcooling else None,
        rated_current.si if rated_current and rated_current.si > 0 else None,
    )
    if isinstance(unit, OneLine):
        return _calling(_key(unit.described), nameplate, unit.calling_share)
    return _sized(_key(unit), nameplate)


def longest_line_set(unit: Unit) -> float:
    """The longest line set with which a unit can be sized.

    Parameters
    ----------
    unit : Unit
        The equipment, with a line set that is too long.

    Returns
    -------
    float
        To the foot below [m].
    """
    assert unit.line_set_length is not None
    fits, fails = 0, int(unit.line_set_length.si / FOOT) + 1
    while fails - fits > 1:
        middle = (fits + fails) // 2
        length = Length(value=middle, unit="ft")
        try:
            size(unit.model_copy(update={LINE_LENGTH: length}))
            fits = middle
        except UnsizedError:
            fails = middle
    return fits * FOOT


def _key(unit: Unit) -> str:
    """The unit without what its size does not depend on; text, so that it can be remembered."""
    plain = unit.model_copy(
        update={"label": "machine", "design": None, "nominal_capacity": None, "defrost": None, "heads": None}
    )
    return plain.model_dump_json()


@lru_cache(maxsize=128)
def _calling(key: str, nameplate: _Nameplate, share: float) -> Machine:
    """The machine while only some of its heads call: they lie in parallel, so that they make one coil of their share. Those
    that do not call hold about as much refrigerant as if they did: in heating they bleed and fill, in cooling both hold
    little."""
    machine = _sized(key, nameplate)
    share = max(share, LEAST_CALLING)
    if share >= 1:
        return machine
    coil, lines = machine.indoor, machine.lines
    return replace(
        machine,
        indoor=replace(
            coil,
            flow=coil.flow * share,
            outside=coil.outside * share,
            # What grows with the flow is held to the whole unit's; each head has the more of it the fewer they are.
            inside=coil.inside * share ** (1 - BOILING_EXPONENT),
            fan_power=coil.fan_power * share,
            # Rated flow through fewer heads: the loss grows with its square.
            pressure_loss=coil.pressure_loss / share**2,
        ),
        lines=replace(
            lines,
            vapor_loss=lines.vapor_loss / share**2,
            liquid_loss=lines.liquid_loss / share**2,
            vapor_conductance=lines.vapor_conductance * share,
            liquid_conductance=lines.liquid_conductance * share,
        ),
    )


@lru_cache(maxsize=128)
def _sized(key: str, nameplate: _Nameplate) -> Machine:
    unit = Unit.model_validate_json(key)
    machine = _in_cooling(unit, nameplate)
    if "none" in (unit.indoor_meter.kind, unit.outdoor_meter.kind):
        return machine
    return _in_heating(unit, nameplate, machine)


def _in_cooling(unit: Unit, nameplate: _Nameplate) -> Machine:
    """Displacement, conductances, the device and the charge, by the walk round the circuit itself: what is known there is its
    state, and what is sought are the knobs."""
    fluid, at = states(unit.refrigerant), rating(unit, "cooling")
    target = _Target(unit, nameplate, fluid, at)
    guess = _guess(unit, nameplate, target)
    fan = guess.indoor.fan_power

    def astray(sought: Array, _: NDArray[np.intp]) -> Array:
        displacement, outdoor, indoor = np.exp(sought[:3])
        knobs = Variation(displacement=displacement, outdoor_conductance=outdoor, indoor_conductance=indoor)
        found = walk(guess, "cooling", target.unknown(sought), at, knobs)
        return np.stack(
            (
                found.disagreement[0],
                found.disagreement[3],
                (found.condensed.enthalpy - target.liquid) / ENTHALPY_SCALE,
                (found.evaporated.enthalpy - target.gas) / ENTHALPY_SCALE,
                found.evaporated.heat / (nameplate.capacity + fan) - 1,
            )
        )

    start = np.array([0.0, 0.0, 0.0, np.log(guess.rated.flow), target.gas / ENTHALPY_SCALE])
    roots = solve(astray, start[:, None], np.array([0.5, 0.5, 0.5, 0.5, 0.2]))
    if not roots.converged.all():
        field = "nominal_capacity" if nameplate.airflow is None else "design.indoor_airflow"
        raise UnsizedError(field, "no machine was found that does this at its rating point.")
    sought = roots.unknown
    displacement, outdoor, indoor = (float(value) for value in np.exp(sought[:3, 0]))
    machine = replace(
        guess,
        compressor=replace(guess.compressor, displacement=guess.compressor.displacement * displacement),
        outdoor=_conducting(guess.outdoor, outdoor),
        indoor=_conducting(guess.indoor, indoor),
    )
    found = walk(machine, "cooling", target.unknown(sought), at, AT_REST)
    if not found.passed[0] > 0:
        raise UnsizedError(
            LINE_LENGTH, "its lines would lose so much pressure that none is left to be metered."
        )
    power = float(found.compressed.power[0])
    per_watt = 1 / (of("voltage") * of("power_factor"))
    if nameplate.rated_current is not None:
        share = of("rated_current_share" if unit.source == "air" else "rated_current_share_water")
        per_watt = nameplate.rated_current * share / power
    area = guess.meters["cooling"].area * float(found.flow[0] / (found.passed[0] / found.opening[0]))
    return replace(
        machine,
        compressor=replace(machine.compressor, current_per_watt=per_watt),
        meters={mode: replace(meter, area=area) for mode, meter in machine.meters.items()},
        idle={"cooling": area, "heating": area * _backwards(unit.indoor_meter.kind)},
        charge=float(found.charge[0]),
        rated=replace(machine.rated, power=power, suction_enthalpy=float(found.suction[0])),
        at_rating={"cooling": (at, _plain(target.unknown(sought)))},
    )


def _plain(unknown: Array) -> tuple[float, ...]:
    return tuple(float(value) for value in unknown[:, 0])


def _in_heating(unit: Unit, nameplate: _Nameplate, machine: Machine) -> Machine:
    """The device at work in heating, so that at its rating point it stands as it should; all else is as sized in cooling."""
    at, meter = rating(unit, "heating"), machine.meters["heating"]

    def astray(sought: Array, _: NDArray[np.intp]) -> Array:
        found = walk(machine, "heating", sought[:4], at, _gentle(sought[4]))
        return np.concatenate((found.disagreement, ((found.felt - meter.superheat) / 10)[None]))

    start = np.concatenate((first_guess(machine, "heating", at, 1), [[0.0]]))
    roots = solve(astray, start, np.append(FARTHEST, 0.4))
    if not roots.converged.all():
        stated = next((mode for mode in ("heating", "cooling") if nameplate.states_superheat(mode)), None)
        field = f"design.{stated}.superheat" if stated else "outdoor_meter"
        raise UnsizedError(
            field, "no device was found that feeds the outdoor coil so in heating at its rating point."
        )
    found = walk(machine, "heating", roots.unknown[:4], at, _gentle(roots.unknown[4]))
    area = meter.area * float(found.opening[0])
    return replace(
        machine,
        meters={**machine.meters, "heating": replace(meter, area=area)},
        idle={**machine.idle, "cooling": area * _backwards(unit.outdoor_meter.kind)},
        at_rating={**machine.at_rating, "heating": (at, _plain(roots.unknown[:4]))},
    )


def _gentle(log_opening: Array) -> Variation:
    """Where a valve stands as at rating it does not matter over what superheat it opens; a gentle one is found from afar."""
    return Variation(opening=np.exp(log_opening), band=10.0)


class _Target:
    """The refrigerant's state at the rating point in cooling."""

    def __init__(self, unit: Unit, nameplate: _Nameplate, fluid: States, at: Conditions) -> None:
        if unit.load == "air":
            self.evaporating = of("evaporating_air")
        else:
            self.evaporating = float(at.indoor) - of("evaporating_under_water")
        subcooling = of("subcooling") if nameplate.subcooling is None else nameplate.subcooling
        over = of(f"condensing_over_{unit.source}")
        usual = fluid.saturated(fluid.saturation_pressure(np.array(float(at.outdoor) + over), "middle"))
        least = subcooling + float(usual.dew - usual.bubble) / 2 + of("liquid_over_entering")
        self.condensing = float(at.outdoor) + max(over, least)
        self.low_pressure = float(fluid.saturation_pressure(np.array(self.evaporating), "dew"))
        self.high_pressure = float(fluid.saturation_pressure(np.array(self.condensing), "middle"))
        low, high = (fluid.saturated(np.array(p)) for p in (self.low_pressure, self.high_pressure))
        superheat = _usual_superheat(unit, "cooling") if nameplate.superheat is None else nameplate.superheat
        most = float(at.indoor) - self.evaporating - of("liquid_over_entering")
        if superheat > most:
            most_said = say(most, Kind.TEMPERATURE_DIFFERENCE, "field")
            raise UnsizedError(
                "design.cooling.superheat",
                f"no gas leaves the evaporator warmer than what enters it: {most_said} at most at the rating point.",
            )
        self.superheat = superheat
        self.gas = float(low.vapor + low.vapor_heat * superheat)
        self.liquid = float(fluid.liquid_enthalpy(high, np.array(subcooling)))
        self.density = float(low.vapor_density)

    def unknown(self, sought: Array) -> Array:
        """The walk's unknowns: pressures are known, flow and suction enthalpy sought."""
        same = 0 * sought[3]
        return np.stack(
            (np.log(self.low_pressure) + same, np.log(self.high_pressure) + same, sought[3], sought[4])
        )


def _guess(unit: Unit, nameplate: _Nameplate, target: _Target) -> Machine:
    """A machine of about the right size, with every number that is taken and not sought."""
    tons, root = nameplate.capacity / TON, (nameplate.capacity / TON) ** 0.5
    flow = 1.05 * nameplate.capacity / (target.gas - target.liquid)
    compressor = Compressor(
        displacement=1.15 * flow / target.density,
        filling=of("filling"),
        clearance=of("clearance"),
        expansion_exponent=of("expansion_exponent"),
        efficiency=of("efficiency"),
        best_ratio=of("best_ratio"),
        efficiency_fall=of("efficiency_fall"),
        shell_loss=of("shell_loss_share") * nameplate.capacity / USUAL_COP / SHELL_OVER_AIR,
        current_per_watt=1.0,
    )
    slope = states(unit.refrigerant).slope(target.low_pressure)
    circuits = {mode: build_circuit(unit, mode) for mode in BOTH}
    superheats = {"cooling": target.superheat, "heating": _superheat_in_heating(unit, nameplate, target)}
    return Machine(
        refrigerant=unit.refrigerant,
        compressor=compressor,
        indoor=_coil(unit, "indoor", nameplate, slope),
        outdoor=_coil(unit, "outdoor", nameplate, slope),
        circuits=circuits,
        meters={mode: _meter(_active(unit, mode), flow, superheats[mode]) for mode in BOTH},
        idle={"cooling": 0.0, "heating": 0.0},
        loops={mode: _loop(circuits[mode]) for mode in BOTH},
        lines=_lines(unit, nameplate, slope),
        valve_conduction=of("valve_conduction") * root,
        valve_exponent=of("valve_exponent"),
        charge=tons,
        rated=Rated(flow, target.low_pressure, target.high_pressure, target.gas, 0.0, nameplate.capacity),
    )


def _superheat_in_heating(unit: Unit, nameplate: _Nameplate, target: _Target) -> float:
    if nameplate.superheat_heating is not None:
        return nameplate.superheat_heating
    either = {_active(unit, mode).kind in ORIFICES for mode in BOTH}
    return target.superheat if either == {False} else _usual_superheat(unit, "heating")


def _active(unit: Unit, mode: FlowMode) -> Fitted:
    return unit.indoor_meter if build_circuit(unit, mode).active_meter == "indoor" else unit.outdoor_meter


def _usual_superheat(unit: Unit, mode: FlowMode) -> float:
    return of(f"orifice_superheat_{mode}" if _active(unit, mode).kind in ORIFICES else "superheat")


def _coil(unit: Unit, side: Side, nameplate: _Nameplate, slope: float) -> Coil:
    """A coil whose conductances are of the right order; sizing finds them."""
    medium = unit.load if side == "indoor" else unit.source
    if medium == "water":
        flow, resistance, exponent = of("water_flow"), of("water_side_resistance"), of("water_exponent")
        volume = of("water_volume")
    else:
        flow, resistance, exponent = (
            of(f"{side}_airflow"),
            of("air_side_resistance"),
            of("air_exponent"),
        )
        volume = of(f"{side}_volume")
    flow *= nameplate.capacity
    fan = 0.0
    if side == "indoor" and medium == "air":
        flow = nameplate.airflow or flow
        fan = of("indoor_fan_power") * flow
    conductance = nameplate.capacity / USUAL_DIFFERENCE
    return Coil(
        medium=medium,
        flow=flow,
        outside=conductance / resistance,
        inside=conductance / (1 - resistance),
        vapor_share=of("vapor_share"),
        liquid_share=of("liquid_share"),
        outside_exponent=exponent,
        volume=volume * nameplate.capacity,
        circuits=int(of("circuits")),
        pressure_loss=of("evaporator_loss") * slope,
        as_evaporator=of("outdoor_as_evaporator") if (side, medium) == ("outdoor", "air") else 1.0,
        fan_power=fan,
    )


def _conducting(coil: Coil, times: float) -> Coil:
    return replace(coil, outside=coil.outside * times, inside=coil.inside * times)


def _meter(fitted: Fitted, flow: float, superheat: float) -> Meter:
    """The device at work; sizing finds its area."""
    superheat = max(superheat, of("least_superheat"))
    electric = fitted.kind == "eev"
    static = superheat - of("electric_band") if electric else of("static_superheat")
    # A manufacturer's target under the usual static superheat: the valve opens sooner.
    static = min(static, of("static_share") * superheat)
    return Meter(
        kind=fitted.kind,
        area=flow / USUAL_MASS_FLUX,
        static_superheat=static,
        superheat=superheat,
        widest=of("electric_widest" if electric else "thermostatic_widest"),
        at_common_suction=fitted.bulb_at == "common_suction",
    )


def _backwards(kind: MeterKind) -> float:
    """Area of a device passed backwards over that at work."""
    if kind in ORIFICES:
        return of("orifice_reverse")
    return of("electric_reverse" if kind == "eev" else "thermostatic_reverse")


def _loop(circuit: Circuit) -> tuple[Step, ...]:
    """What lies between condenser and evaporator, from the unit's own path."""
    codes = [stop.station for stop in circuit.path]
    between = circuit.path[codes.index(circuit.condenser) + 1 : codes.index(circuit.evaporator)]
    steps = [Step("", "pipe")]
    for stop in between:
        if stop.through == circuit.active_part:
            steps.append(Step(stop.station, "meter"))
        elif stop.through == "drier":
            steps.append(Step(stop.station, "drier"))
        elif stop.through in ("indoor_meter", "outdoor_meter"):
            steps.append(Step(stop.station, "idle"))
        else:
            steps.append(Step(stop.station, "pipe"))
    stations = [step.station for step in steps]
    if LIQUID_LINE in stations:
        at = stations.index(LIQUID_LINE) - (circuit.mode == "heating")
        steps[at] = replace(steps[at], part="line")
    parts = [step.part for step in steps]
    if "meter" not in parts:
        steps.append(Step("", "meter"))
        parts.append("meter")
    narrow = next(part for part in ("drier", "line", "meter") if part in parts)
    steps[parts.index(narrow)] = replace(steps[parts.index(narrow)], restricts=True)
    return tuple(steps)


def _lines(unit: Unit, nameplate: _Nameplate, slope: float) -> Lines:
    """Pipes and what lies in them; losses grow with the length."""
    length = nameplate.line_length
    root, lengths = (nameplate.capacity / TON) ** 0.5, length / (of("line_length"))
    return Lines(
        vapor_loss=of("vapor_line_loss") * slope * lengths,
        suction_loss=of("suction_loss") * slope,
        vapor_conductance=of("vapor_line_heat") * length * root,
        liquid_conductance=of("liquid_line_heat") * length * root,
        vapor_volume=of("vapor_line_volume") * length * nameplate.capacity,
        liquid_volume=of("liquid_line_volume") * length * nameplate.capacity,
        liquid_loss=of("liquid_line_loss") * lengths,
        drier_loss=of("drier_loss") if unit.drier.fitted else 0.0,
        idle_loss=of("idle_loss"),
        condenser_loss=of("condenser_loss"),
        discharge_loss=of("discharge_loss"),
        suction_volume=of("suction_volume") * nameplate.capacity,
        # Where nobody knows, a heat pump has one, as most do. [common practice]
        accumulator_volume=of("accumulator_volume") * nameplate.capacity
        if unit.accumulator is not False
        else 0.0,
    )

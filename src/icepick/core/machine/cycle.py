"""The whole circuit once round: from four unknowns to what each part does, and by how much the parts disagree.

Unknown are evaporating and condensing pressure, the flow through the coils and the enthalpy at the compressor's inlet. The
parts are walked in flow order; four things must then agree: what the compressor moves and what flows, what the device lets
through and what flows, the refrigerant found in all parts and the charge, and the enthalpy that comes back to the inlet.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.document.roles import FlowMode
from icepick.core.machine import charge, metering
from icepick.core.machine.air import saturated_air
from icepick.core.machine.coil import (
    Condensed,
    Entering,
    Evaporated,
    condense,
    conductances,
    entering,
    evaporate,
    evaporate_unevenly,
)
from icepick.core.machine.compressor import Compressed, compress
from icepick.core.machine.conditions import Conditions
from icepick.core.machine.parts import Coil, Machine
from icepick.core.machine.variation import Value, Variation
from icepick.core.properties.states import Saturated, held, states

Array = NDArray[np.float64]

MOST_LOST, TRICKLE = 0.4, 0.01
"""On the solver's way no pipe loses more of its pressure, and no flow is told from another, beyond these shares; neither is
reached by a machine at rest."""
NEAR = (0.7, 1.5)
"""Flows whose ratio lies in here are compared in proportion; beyond, by its logarithm, which the solver follows from afar."""
LIQUID = 1000.0
"""Density of liquid by which the idle device's way round is compared with its own passage [kg/m³]."""
ENTHALPY_SCALE = 1e5
"""So that a change of the enthalpy counts like one of a logarithm [J/kg]."""


@dataclass(frozen=True, slots=True)
class Point:
    """A place between condenser and evaporator: pressure [Pa] and enthalpy [J/kg]."""

    station: str
    pressure: Array
    enthalpy: Array


@dataclass(frozen=True, slots=True)
class Cycle:
    """What a circuit does at given unknowns. Pressures [Pa], enthalpies [J/kg], flows [kg/s], heat and power [W]."""

    evaporating: Array
    """At the evaporator's outlet."""
    condensing: Array
    """Of the refrigerant, in the middle of the condenser; noncondensable gas comes on top."""
    flow: Array
    suction: Array
    """Enthalpy at the common suction."""
    suction_pressure: Array
    discharge_pressure: Array
    vapor_port_pressure: Array
    """At the outdoor end of the vapor line."""
    compressed: Compressed
    valve_heat: Array
    """Conducted from hot to cold gas in the valve's body."""
    hot_port: Array
    """Enthalpy of the gas that leaves the valve for the condenser."""
    condenser_in: Array
    condensed: Condensed
    condenser_met: Entering
    points: tuple[Point, ...]
    """From the condenser's outlet to the evaporator's inlet."""
    evaporated: Evaporated
    evaporator_met: Entering
    starved: Evaporated | None
    """The circuit of the evaporator that lacks refrigerant."""
    evaporator_inlet: Array
    """Its pressure."""
    returned: Array
    """Enthalpy of the gas that comes back to the valve."""
    felt: Array
    """Superheat [K] under the device's bulb, below nothing where liquid is left."""
    opening: Array
    passed: Array
    """What the device would let through."""
    charge: Array
    """Refrigerant found in all parts [kg]."""
    disagreement: Array
    """(4, …): of flow, meter, charge and inlet; parts of one."""


def walk(
    machine: Machine, mode: FlowMode, unknown: Array, conditions: Conditions, changed: Variation
) -> Cycle:
    """Once round.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    mode : FlowMode
        The way its refrigerant runs.
    unknown : Array
        (4, …): ln evaporating and condensing pressure, ln flow, enthalpy at the inlet over :data:`ENTHALPY_SCALE`.
    conditions : Conditions
        What it works in; broadcast against the unknowns.
    changed : Variation
        How it differs from the one sized.

    Returns
    -------
    Cycle
        Everything of it, in the unknowns' shape.
    """
    fluid, rated, lines = states(machine.refrigerant), machine.rated, machine.lines
    evaporating, condensing, flow = np.exp(unknown[0]), np.exp(unknown[1]), np.exp(unknown[2])
    suction = unknown[3] * ENTHALPY_SCALE
    condenser, evaporator = machine.coils(mode)
    cooling = mode == "cooling"
    of_rated = flow / rated.flow
    squared = of_rated * of_rated
    thinner = squared * rated.evaporating_pressure / evaporating
    half = 0.5 * lines.condenser_loss * squared
    after_line = condensing + changed.air_pressure + half
    if cooling:
        vapor_port = evaporating - np.minimum(lines.vapor_loss * thinner, MOST_LOST * evaporating)
        common = vapor_port - np.minimum(lines.suction_loss * thinner, MOST_LOST * vapor_port)
        head = after_line + lines.discharge_loss * squared
    else:
        common = evaporating - np.minimum(lines.suction_loss * thinner, MOST_LOST * evaporating)
        vapor_port = after_line + lines.vapor_loss * squared * rated.evaporating_pressure / condensing
        head = vapor_port + lines.discharge_loss * squared
    inlet = evaporating + np.minimum(evaporator.pressure_loss * thinner, MOST_LOST * evaporating)
    low, boiling, high, back, top = _each(
        fluid.saturated(np.stack((evaporating, inlet, condensing, common, head)))
    )

    around = conditions.outdoor if machine.outdoor.medium == "air" else conditions.indoor
    between = 0.5 * (conditions.outdoor + conditions.indoor)
    done = compress(
        machine.compressor,
        fluid,
        back,
        suction,
        top,
        head / common,
        np.asarray(conditions.speed),
        np.asarray(around),
        changed,
    )
    leaked = changed.bypass * done.flow
    hot = done.temperature
    body = machine.valve_conduction * changed.valve_heat * of_rated**machine.valve_exponent
    through_body = body * (hot - low.dew)
    hot_port = done.enthalpy - through_body / flow
    heat_line = lines.vapor_conductance * changed.line_heat
    into = hot_port if cooling else hot_port - heat_line * (hot - between) / flow

    flow_share, factor = _turned(condenser, machine, changed)
    met_hot = _met(condenser, machine, conditions, flow_share)
    by_hot = conductances(condenser, of_rated, flow_share, factor)
    condensed = condense(fluid, high, into, flow, met_hot, by_hot)
    points, before, after = _liquid_way(
        machine,
        mode,
        condensed,
        high,
        boiling,
        condensing + changed.air_pressure - half,
        inlet,
        flow,
        squared,
        between,
        changed,
    )
    flow_share, factor = _turned(evaporator, machine, changed)
    factor = factor * evaporator.as_evaporator
    met_cold = _met(evaporator, machine, conditions, flow_share)
    damp = saturated_air(conditions.atmosphere)
    fed = points[-1].enthalpy
    starved = None
    if np.any(np.asarray(changed.starved) > 0):
        evaporated, starved = evaporate_unevenly(
            evaporator,
            boiling,
            low,
            fed,
            flow,
            rated.flow,
            met_cold,
            flow_share,
            factor,
            damp,
            changed.starved,
        )
    else:
        by_cold = conductances(evaporator, of_rated, flow_share, factor)
        evaporated = evaporate(boiling, low, fed, flow, met_cold, by_cold, damp)
    out = low.dew + evaporated.superheat
    returned = evaporated.enthalpy + (heat_line * (between - out) / flow if cooling else 0.0)
    mixed = (flow * returned + leaked * done.enthalpy + through_body) / (flow + leaked)

    meter = machine.meters[mode]
    felt = (suction - back.vapor) / back.vapor_heat if meter.at_common_suction else _felt(evaporated, low)
    opened = metering.opening(meter, felt, changed)
    passed = _passed(machine, mode, opened, before, after)
    mass = _mass(
        machine, mode, condensed, evaporated, high, low, back, top, hot, mixed, before, boiling, changed
    )
    trickle = TRICKLE * rated.flow
    disagreement = np.stack(
        (
            np.log(done.flow * (1 - changed.bypass)) - unknown[2],
            _apart((np.maximum(passed, 0.0) + trickle) / (flow + trickle)),
            mass / (machine.charge * changed.charge) - 1,
            (mixed - suction) / ENTHALPY_SCALE,
        )
    )
    return Cycle(
        evaporating,
        condensing,
        flow,
        suction,
        common,
        head,
        vapor_port,
        done,
        through_body,
        hot_port,
        into,
        condensed,
        met_hot,
        points,
        evaporated,
        met_cold,
        starved,
        inlet,
        returned,
        felt,
        opened,
        passed,
        mass,
        disagreement,
    )


def _each(sat: Saturated) -> Iterator[Saturated]:
    names = Saturated.__slots__
    columns = [getattr(sat, name) for name in names]
    return (Saturated(*(column[i] for column in columns)) for i in range(len(columns[0])))


def _felt(evaporated: Evaporated, low: Saturated) -> Array:
    """Superheat [K] at the coil's outlet, below nothing where liquid is left."""
    return np.where(
        evaporated.superheat > 0, evaporated.superheat, (evaporated.enthalpy - low.vapor) / low.vapor_heat
    )


def _turned(coil: Coil, machine: Machine, changed: Variation) -> tuple[Value, Value]:
    """Flow of air or water, and conductance, over the rated ones."""
    if coil is machine.indoor:
        return changed.indoor_flow, changed.indoor_conductance
    return changed.outdoor_flow, changed.outdoor_conductance


def _met(coil: Coil, machine: Machine, conditions: Conditions, flow: Value) -> Entering:
    indoors = coil is machine.indoor
    temperature = np.asarray(conditions.indoor if indoors else conditions.outdoor)
    ratio = np.asarray(conditions.indoor_ratio if indoors else conditions.outdoor_ratio)
    return entering(coil, temperature, ratio, conditions.atmosphere, flow)


@dataclass(frozen=True, slots=True)
class _Arriving:
    """What stands before the device: pressure [Pa], temperature [K], density [kg/m³]."""

    pressure: Array
    temperature: Array
    density: Array


def _liquid_way(
    machine: Machine,
    mode: FlowMode,
    condensed: Condensed,
    high: Saturated,
    boiling: Saturated,
    starts: Array,
    ends: Array,
    flow: Array,
    squared: Array,
    between: Value,
    changed: Variation,
) -> tuple[tuple[Point, ...], _Arriving, Array]:
    """From the condenser's outlet to the evaporator's inlet: every station on the way, what arrives at the device, and the
    pressure behind it."""
    fluid, steps, lines = states(machine.refrigerant), machine.loops[mode], machine.lines
    at = next(i for i, step in enumerate(steps) if step.part == "meter")
    flashing = 1 + condensed.quality * (high.liquid_density / high.vapor_density - 1)
    conductance = lines.liquid_conductance * changed.line_heat
    points = []
    pressure, enthalpy, temperature = starts, condensed.enthalpy, condensed.temperature
    for step in steps[:at]:
        points.append(Point(step.station, pressure, enthalpy))
        pressure = pressure - _loss(machine, mode, step.part, step.restricts, changed) * squared * flashing
        pressure = np.maximum(pressure, ends + 1e3 + 0 * pressure)
        if step.part == "line":
            given = conductance * (temperature - between)
            enthalpy, temperature = enthalpy - given / flow, temperature - given / (flow * high.liquid_heat)
    points.append(Point(steps[at].station, pressure, enthalpy))
    here = fluid.saturated(pressure)
    quality = held((enthalpy - here.liquid) / (here.vapor - here.liquid), 0.0, 1.0)
    _, dense = fluid.subcooled(here, enthalpy)
    density = 1 / (quality / here.vapor_density + (1 - quality) / dense)
    extra = 0.0 if not steps[at].restricts else changed.restriction * squared * here.liquid_density / density
    arriving = _Arriving(pressure - extra, temperature, density)

    foam = held((enthalpy - boiling.liquid) / (boiling.vapor - boiling.liquid), 0.0, 1.0)
    thick = 1 + foam * (boiling.liquid_density / boiling.vapor_density - 1)
    losses = [
        (_loss(machine, mode, step.part, False, changed) * thick + step.restricts * changed.restriction)
        * squared
        for step in steps[at + 1 :]
    ]
    pressure = ends + sum(losses)
    behind = pressure
    for step, loss in zip(steps[at + 1 :], losses, strict=True):
        points.append(Point(step.station, pressure, enthalpy))
        pressure = pressure - loss
        if step.part == "line":
            enthalpy = enthalpy + conductance * (between - boiling.bubble) / flow
    points.append(Point("", ends, enthalpy))
    return tuple(points), arriving, behind


def _loss(machine: Machine, mode: FlowMode, part: str, restricts: bool, changed: Variation) -> Value:
    """What liquid loses in a part at rated flow [Pa]."""
    lines = machine.lines
    own: Value = 0.0
    if part == "line":
        own = lines.liquid_loss
    elif part == "drier":
        own = lines.drier_loss
    elif part == "idle":
        way_round = machine.rated.flow / np.sqrt(2 * LIQUID * lines.idle_loss)
        own = lines.idle_loss / (changed.check_open + machine.idle[mode] / way_round) ** 2
    return own + changed.restriction if restricts else own


def _passed(machine: Machine, mode: FlowMode, opened: Array, before: _Arriving, behind: Array) -> Array:
    """What the device lets through [kg/s]."""
    meter = machine.meters[mode]
    saturation = before.pressure
    if meter.kind in metering.ORIFICES:
        boils = states(machine.refrigerant).saturation_pressure(before.temperature, "bubble")
        saturation = np.minimum(boils, before.pressure)
    return metering.flow(meter, opened, before.density, before.pressure, behind, saturation)


def _mass(
    machine: Machine,
    mode: FlowMode,
    condensed: Condensed,
    evaporated: Evaporated,
    high: Saturated,
    low: Saturated,
    back: Saturated,
    top: Saturated,
    hot: Array,
    mixed: Array,
    before: _Arriving,
    boiling: Saturated,
    changed: Variation,
) -> Array:
    """Refrigerant in all parts [kg]."""
    outdoor, indoor = machine.outdoor.volume, machine.indoor.volume * changed.indoor_volume
    condenser, evaporator = (outdoor, indoor) if mode == "cooling" else (indoor, outdoor)
    lines = machine.lines
    gas = top.vapor_density * top.dew / np.maximum(hot, top.dew)
    in_vapor_line = low.vapor_density if mode == "cooling" else gas
    steps = machine.loops[mode]
    parts = [step.part for step in steps]
    full = "line" not in parts or parts.index("line") < parts.index("meter")
    in_liquid_line = (
        before.density
        if full
        else charge.mixture_density(boiling, evaporated.quality_in, evaporated.quality_in)
    )
    return (
        charge.in_condenser(condenser, high, condensed, hot)
        + charge.in_evaporator(evaporator, low, evaporated)
        + lines.vapor_volume * in_vapor_line
        + lines.liquid_volume * in_liquid_line
        + lines.suction_volume * back.vapor_density
        + charge.in_accumulator(lines.accumulator_volume, back, mixed)
    )


def _apart(ratio: Array) -> Array:
    """How far two flows are apart: in proportion while they are near each other, by the logarithm beyond."""
    near = held(ratio, NEAR[0], NEAR[1])
    return near - 1 + near * np.log(ratio / near)

"""Coils, as condenser and as evaporator, by zones.

A coil's face is shared out among its zones (vapor, mixture, liquid), and each zone gets its share of the air or water at
the temperature it enters with. For a zone of one temperature that is exactly a counterflow exchanger, effectiveness
1 − exp(−NTU); in the zones of vapor and liquid the refrigerant's distance from what enters falls exponentially along its way.
[effectiveness–NTU: ASHRAE Fundamentals, chapter 4; zones: moving-boundary models of published literature, from memory]

A wet surface moves heat by the difference of enthalpy between the air and saturated air at the metal.
[enthalpy potential: ASHRAE Handbook Systems and Equipment, chapter on air-cooling coils, from memory]
"""

from __future__ import annotations

from dataclasses import astuple, dataclass, replace

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine import air
from icepick.core.machine.parts import Coil
from icepick.core.machine.variation import Value
from icepick.core.properties.states import Saturated, States, held

Array = NDArray[np.float64]

BOILING_EXPONENT, SINGLE_PHASE_EXPONENT = 0.5, 0.8
"""How the conductance inside grows with the refrigerant's flow: mixture; vapor and liquid. [Dittus–Boelter for the latter;
the former from memory of boiling and condensing in tubes]"""
LEAST_DIFFERENCE = 0.02
"""A coil can't be nearer than this to what enters it [K]; held so that the solver finds its way back."""
WATER_HEAT = 4.18e6
"""Density times heat capacity of water [J/(m³ K)]; a mix's factor comes through the flow."""


@dataclass(frozen=True, slots=True)
class Entering:
    """What enters a coil: temperature [K], what it carries [W/K], and for air the dry mass [kg/s] and its humidity ratio."""

    temperature: Array
    carries: Array
    mass: Array
    ratio: Array
    is_air: bool


@dataclass(frozen=True, slots=True)
class Conductances:
    """Of a coil at its flows [W/K]: outside, inside to a mixture, and through the wall to vapor, mixture and liquid."""

    outside: Array
    boiling: Array
    to_vapor: Array
    to_mixture: Array
    to_liquid: Array


@dataclass(frozen=True, slots=True)
class Condensed:
    """Enthalpy at the outlet [J/kg], heat given [W], and the shares of the face under vapor, mixture and liquid."""

    enthalpy: Array
    heat: Array
    vapor: Array
    mixture: Array
    liquid: Array
    quality: Array
    """At the end of the mixture: 0 where all condenses."""
    temperature: Array
    """At the outlet [K]."""


@dataclass(frozen=True, slots=True)
class Evaporated:
    """Enthalpy [J/kg] and superheat [K] at the outlet, heat taken up [W], how much of it is sensible, the temperature of the
    mixture and the share of the face under it, and the qualities it begins and ends with."""

    enthalpy: Array
    superheat: Array
    heat: Array
    sensible: Array
    temperature: Array
    mixture: Array
    quality_in: Array
    quality_out: Array


def entering(coil: Coil, temperature: Array, ratio: Array, atmosphere: float, flow: Value) -> Entering:
    """What enters a coil at a share ``flow`` of its rated flow; temperature [K], humidity ratio [kg/kg], pressure [Pa]."""
    moved = coil.flow * flow + 0 * temperature
    if coil.medium == "water":
        return Entering(temperature, moved * WATER_HEAT, moved, 0 * temperature, False)
    mass = air.dry_mass_flow(moved, temperature, ratio, atmosphere)
    return Entering(temperature, mass * air.heat_per_mass(ratio), mass, ratio + 0 * temperature, True)


def conductances(coil: Coil, refrigerant: Array, flow: Value, factor: Value) -> Conductances:
    """Conductances at shares of the rated flows of refrigerant and of air or water; ``factor`` is on both sides."""
    outside = coil.outside * factor * np.power(flow, coil.outside_exponent)
    inside = coil.inside * factor
    boiling = inside * np.power(refrigerant, BOILING_EXPONENT)
    single = inside * np.power(refrigerant, SINGLE_PHASE_EXPONENT)
    through = 1 / outside
    return Conductances(
        outside + 0 * boiling,
        boiling,
        1 / (through + 1 / (coil.vapor_share * single)),
        1 / (through + 1 / boiling),
        1 / (through + 1 / (coil.liquid_share * single)),
    )


def condense(
    states: States, sat: Saturated, enthalpy: Array, flow: Array, met: Entering, by: Conductances
) -> Condensed:
    """Condense a flow [kg/s] of an enthalpy [J/kg] at a pressure whose saturation is ``sat``."""
    hot, _, _ = states.superheated(sat, enthalpy)
    start = np.maximum(hot - met.temperature, LEAST_DIFFERENCE)
    dry_end = np.maximum(sat.dew - met.temperature, LEAST_DIFFERENCE)
    wet_end = np.maximum(sat.bubble - met.temperature, LEAST_DIFFERENCE)
    at_vapor = met.carries * -np.expm1(-by.to_vapor / met.carries)
    at_mixture = met.carries * -np.expm1(-by.to_mixture / met.carries)
    at_liquid = met.carries * -np.expm1(-by.to_liquid / met.carries)
    heated = np.maximum(enthalpy - sat.vapor, 0.0)
    # Over no superheat at all the heat capacity is that of dry vapor.
    heat_of_vapor = np.where(hot - sat.dew > 0.05, heated / np.maximum(hot - sat.dew, 0.05), sat.vapor_heat)
    vapor = flow * heat_of_vapor / at_vapor * np.log(np.maximum(start / dry_end, 1.0))
    whole = vapor >= 1
    vapor_out = sat.vapor + heated * _left(at_vapor, flow * heat_of_vapor, start, dry_end)
    latent = sat.vapor - sat.liquid
    first = np.minimum(enthalpy, sat.vapor)
    difference = 0.5 * (dry_end + wet_end)
    mixture = flow * (first - sat.liquid) / (at_mixture * difference)
    rest = 1 - np.minimum(vapor, 1.0) - mixture
    cooled = wet_end * -np.expm1(-np.maximum(rest, 0.0) * at_liquid / (flow * sat.liquid_heat))
    short = np.maximum(-rest, 0.0) * at_mixture * difference / flow
    out = np.where(
        whole,
        vapor_out,
        np.where(rest >= 0, sat.liquid - sat.liquid_heat * cooled, sat.liquid + np.minimum(short, latent)),
    )
    quality = held((out - sat.liquid) / latent, 0.0, 1.0)
    mixed = held(mixture, 0.0, 1 - np.minimum(vapor, 1.0))
    return Condensed(
        out,
        flow * (enthalpy - out),
        np.minimum(vapor, 1.0),
        mixed,
        np.maximum(rest, 0.0),
        quality,
        np.where(rest >= 0, sat.bubble - cooled, sat.bubble + quality * (sat.dew - sat.bubble)),
    )


def _left(at_vapor: Array, carried: Array, start: Array, end: Array) -> Array:
    """How much of its superheat vapor keeps over a whole face of vapor."""
    span = np.maximum(start - end, LEAST_DIFFERENCE)
    return held((start * np.exp(-at_vapor / carried) - end) / span, 0.0, 1.0)


def evaporate(
    inlet: Saturated,
    outlet: Saturated,
    enthalpy: Array,
    flow: Array,
    met: Entering,
    by: Conductances,
    damp: air.SaturatedAir,
) -> Evaporated:
    """Evaporate a flow [kg/s] of an enthalpy [J/kg] between two pressures whose saturations are ``inlet`` and ``outlet``."""
    latent = inlet.vapor - inlet.liquid
    quality_in = held((enthalpy - inlet.liquid) / latent, 0.0, 1.0)
    begins = inlet.bubble + quality_in * (inlet.dew - inlet.bubble)
    temperature = 0.5 * (begins + outlet.dew)
    difference = np.maximum(met.temperature - temperature, LEAST_DIFFERENCE)
    per_face = met.carries * -np.expm1(-by.to_mixture / met.carries) * difference
    sensible_per_face = per_face
    if met.is_air:
        per_face, sensible_per_face = _wet(per_face, temperature, met, by, damp)
    mixture = flow * np.maximum(outlet.vapor - enthalpy, 0.0) / per_face
    rest = 1 - mixture
    end = np.maximum(met.temperature - outlet.dew, LEAST_DIFFERENCE)
    at_vapor = met.carries * -np.expm1(-by.to_vapor / met.carries)
    superheat = end * -np.expm1(-np.maximum(rest, 0.0) * at_vapor / (flow * outlet.vapor_heat))
    dried = outlet.vapor + outlet.vapor_heat * superheat
    out = np.where(rest >= 0, dried, outlet.vapor - np.maximum(-rest, 0.0) * per_face / flow)
    shared = np.minimum(mixture, 1.0)
    heat = flow * (out - enthalpy)
    sensible = np.minimum(shared * sensible_per_face + flow * outlet.vapor_heat * superheat, heat)
    return Evaporated(
        out,
        np.where(rest >= 0, superheat, 0.0),
        heat,
        sensible,
        temperature,
        shared,
        quality_in,
        held((out - outlet.liquid) / (outlet.vapor - outlet.liquid), 0.0, 1.0),
    )


def evaporate_unevenly(
    coil: Coil,
    inlet: Saturated,
    outlet: Saturated,
    enthalpy: Array,
    flow: Array,
    rated_flow: float,
    met: Entering,
    air_flow: Value,
    factor: Value,
    damp: air.SaturatedAir,
    lacking: Value,
) -> tuple[Evaporated, Evaporated]:
    """A coil one of whose parallel circuits lacks a share of its flow: all of it together, and that circuit alone."""
    part = 1 / coil.circuits
    poor = flow * part * (1 - np.minimum(lacking, 0.98))
    found = []
    for share, own in ((part, poor), (1 - part, flow - poor)):
        by = conductances(coil, own / (share * rated_flow), air_flow, factor)
        by = Conductances(*(share * value for value in astuple(by)))
        carried = replace(met, carries=met.carries * share, mass=met.mass * share)
        found.append(evaporate(inlet, outlet, enthalpy, own, carried, by, damp))
    one, rest = found
    out = (poor * one.enthalpy + (flow - poor) * rest.enthalpy) / flow
    above = out - outlet.vapor
    return Evaporated(
        out,
        np.maximum(above, 0) / outlet.vapor_heat,
        one.heat + rest.heat,
        one.sensible + rest.sensible,
        rest.temperature,
        part * one.mixture + (1 - part) * rest.mixture,
        rest.quality_in,
        held(1 + above / (outlet.vapor - outlet.liquid), 0.0, 1.0),
    ), one


def _wet(
    dry: Array, temperature: Array, met: Entering, by: Conductances, damp: air.SaturatedAir
) -> tuple[Array, Array]:
    """Heat and sensible heat [W] of a whole face that boils at a temperature [K], from what a dry one would take up."""
    humid = air.enthalpy(met.temperature, met.ratio)
    at_metal = damp.enthalpy(temperature)
    span = held(0.5 * (damp.dew_point(met.ratio) - temperature), 0.5, 8.0)
    slope = (damp.enthalpy(temperature + span) - at_metal) / span
    per_mass = met.carries / met.mass
    conductance = 1 / (slope / by.boiling + per_mass / by.outside)
    wet = met.mass * -np.expm1(-conductance / met.mass) * (humid - at_metal)
    contact = -np.expm1(-by.outside / met.carries)
    surface = damp.temperature(humid - wet / (met.mass * contact))
    sensible = met.carries * contact * (met.temperature - surface)
    is_wet = wet > dry
    return np.where(is_wet, wet, dry), np.where(is_wet, held(sensible, 0.0, wet), dry)

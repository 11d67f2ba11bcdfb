"""A heat pump that keeps none of the product's laws: a second, plainer machine to judge the first one's judgement by.

It shares the refrigerants' properties and the stations' names with the product, nothing else. Its laws [all our own choice
within what handbooks allow; each design draws its own]: a compressor whose filling and efficiency are straight and parabolic
in the pressure ratio; coils whose air passes the subcooling rows first, then the condensing ones; a wet coil by bypass factor
and apparatus dew point; a slip ratio of any exponent; valves that hold more superheat the warmer they boil; a distributor, a
suction side and lines of their own; a charge by somebody's gauge on some day. SI throughout.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from math import exp, log, sqrt

import numpy as np
from scipy.optimize import root

from icepick.core.properties.states import States, states

SEA_LEVEL = 101_325.0
AIR_HEAT, STEAM_HEAT, STEAM = 1006.0, 1860.0, 2.501e6


def saturation_pressure(kelvin: float) -> float:
    """Of water over water, after Magnus [Pa]."""
    celsius = kelvin - 273.15
    return 611.2 * exp(17.62 * celsius / (243.12 + celsius))


def ratio_of(kelvin: float, humidity: float) -> float:
    steam = humidity * saturation_pressure(kelvin)
    return 0.622 * steam / (SEA_LEVEL - steam)


def enthalpy_of(kelvin: float, ratio: float) -> float:
    celsius = kelvin - 273.15
    return AIR_HEAT * celsius + ratio * (STEAM + STEAM_HEAT * celsius)


@dataclass(frozen=True)
class Coil:
    """One coil: its medium and what it carries away [W/K] at rated flow, conductance [W/K] to air or water and to the
    refrigerant at rated flow, exponents of both, what it holds [m³], and what it loses as an evaporator [Pa]."""

    medium: str
    carries: float
    outside: float
    inside: float
    air_exponent: float
    flow_exponent: float
    vapor_share: float
    liquid_share: float
    volume: float
    loss: float
    distributor: float
    as_evaporator: float = 1.0
    fan: float = 0.0


@dataclass(frozen=True)
class Device:
    """A metering device: what it is, its area, what superheat it holds [K], over what band it opens, how wide, how the held
    superheat grows with each kelvin of evaporating temperature, and where its bulb sits."""

    kind: str
    area: float
    superheat: float
    band: float
    widest: float
    drift: float
    at_common: bool
    backwards: float


@dataclass(frozen=True)
class Design:
    """One machine with its own laws. Losses [Pa] at rated flow, conductances [W/K], volumes [m³]."""

    layout: str
    refrigerant: str
    capacity: float
    indoor: Coil
    outdoor: Coil
    devices: dict[str, Device]
    idles: dict[str, bool]
    displacement: float
    filling: tuple[float, float]
    efficiency: tuple[float, float, float]
    lost_share: float
    slip: float
    suction_loss: float
    vapor_loss: float
    liquid_loss: float
    discharge_loss: float
    condenser_loss: float
    vapor_line: float
    liquid_line: float
    vapor_volume: float
    liquid_volume: float
    accumulator: float
    valve: float
    amps_per_watt: float
    head_control: bool
    uneven: float
    rated_flow: float = 1.0
    rated_low: float = 1e6
    charge: float = 0.0


@dataclass(frozen=True)
class Air:
    """What enters the coils [K], humidity ratios, speed."""

    outdoor: float
    indoor: float
    outdoor_ratio: float
    indoor_ratio: float
    speed: float = 1.0


@dataclass(frozen=True)
class Sick:
    """What is wrong: shares unless said otherwise. ``shut`` is of the idle device's way round; ``narrow`` [Pa] sits at
    ``where``: before or behind the line set, or in the distributor."""

    leak: float = 0.0
    pumps: float = 1.0
    closed: float = 0.0
    open: float = 0.0
    shut: float = 0.0
    narrow: float = 0.0
    where: str = "line"
    charge: float = 1.0
    gas: float = 0.0
    indoor_flow: float = 1.0
    outdoor_flow: float = 1.0
    frost: float = 0.0
    fouled: float = 0.0


WELL = Sick()


class NoRestError(ArithmeticError):
    """The machine comes to no rest."""


@dataclass
class Machine:
    """A design in a mode, in some air, with something wrong or not."""

    design: Design
    mode: str
    air: Air
    sick: Sick = WELL
    instead: dict[int, tuple[str, float]] = field(default_factory=dict)
    """Disagreements whose place is taken by how far something, by its name in ``memo``, is from a target [K]."""
    memo: dict[str, float] = field(default_factory=dict)

    @cached_property
    def fluid(self) -> States:
        return states(self.design.refrigerant)

    @property
    def cooling(self) -> bool:
        return self.mode == "cooling"

    def _flow(self, coil: Coil) -> float:
        one, sick = self.design, self.sick
        if coil is one.indoor:
            return sick.indoor_flow
        found = sick.outdoor_flow * (1 - sick.frost)
        if one.head_control and self.cooling and coil.medium == "air":
            found *= min(1.0, max(0.35, 0.35 + 0.65 * (self.air.outdoor - 283) / 11))
        return found

    def _conductances(self, coil: Coil, flow: float, evaporates: bool) -> tuple[float, float]:
        """To the air or water, and to the boiling or condensing refrigerant."""
        one = self.design
        share = self._flow(coil)
        outside = coil.outside * share**coil.air_exponent
        inside = coil.inside * max(flow / one.rated_flow, 0.05) ** coil.flow_exponent
        if coil is one.outdoor:
            outside *= (1 - 0.3 * self.sick.frost) * (1 - self.sick.fouled)
            inside *= 1 - self.sick.fouled
        if evaporates:
            outside, inside = outside * coil.as_evaporator, inside * coil.as_evaporator
        return outside, inside

    def _entering(self, coil: Coil) -> tuple[float, float]:
        if coil is self.design.indoor:
            return self.air.indoor, self.air.indoor_ratio
        return self.air.outdoor, self.air.outdoor_ratio

    def _density(self, sat: object, low: float, high: float) -> float:
        """Mean density of a mixture between two qualities, its vapor running ahead of the liquid by a power of their
        densities."""
        liquid, vapor = float(sat.liquid_density), float(sat.vapor_density)  # type: ignore[attr-defined]
        low, high = min(max(low, 0.0), 1.0), min(max(high, 0.0), 1.0)
        slip = (liquid / vapor) ** self.design.slip
        found = 0.0
        for k in range(8):
            x = low + (high - low) * (k + 0.5) / 8
            void = 1 / (1 + (1 - x) / max(x, 1e-6) * vapor / liquid * slip)
            found += (void * vapor + (1 - void) * liquid) / 8
        return found

    def walk(self, unknown: np.ndarray) -> np.ndarray:
        """Six disagreements: compressor, device, both coils, charge, suction."""
        one, sick, f = self.design, self.sick, self.fluid
        pe, pc, m = (float(v) for v in np.exp(unknown[:3]))
        h_out, h_liquid, h_suction = (float(v) * 1e5 for v in unknown[3:6])
        rated = m / one.rated_flow
        square = rated * rated
        hot_coil, cold_coil = (one.outdoor, one.indoor) if self.cooling else (one.indoor, one.outdoor)
        thin = one.rated_low / pe
        vapor_port = pe - (min(one.vapor_loss * square * thin, 0.4 * pe) if self.cooling else 0.0)
        p_suction = vapor_port - min(one.suction_loss * square * thin, 0.4 * vapor_port)
        p_hot_port = pc + sick.gas + (0.0 if self.cooling else one.vapor_loss * square * one.rated_low / pc)
        p_discharge = p_hot_port + one.discharge_loss * square
        p_inlet = pe + min(cold_coil.loss * square * thin, 0.4 * pe)
        low, boil, high, back, top = (
            f.saturated(np.array(p)) for p in (pe, p_inlet, pc, p_suction, p_discharge)
        )
        # Compressor
        t_suction, dense, entropy = (float(v) for v in f.suction(back, np.array(h_suction)))
        ratio = p_discharge / p_suction
        filling = max(one.filling[0] - one.filling[1] * (ratio - 1), 0.1)
        pumped = one.displacement * self.air.speed * sick.pumps * filling * dense
        best, bend, at = one.efficiency
        done = (
            max(best - bend * (ratio - at) ** 2, 0.25)
            * (1 - 0.1 * (1 - self.air.speed))
            * (0.6 + 0.4 * sick.pumps)
        )
        rise = (float(f.compressed(top, np.array(entropy))) - h_suction) / done
        h_discharge = h_suction + rise * (1 - one.lost_share)
        t_discharge = float(f.at(np.array(p_discharge), np.array(h_discharge))[0])
        power = pumped * rise
        # Valve
        t_out, _, quality_out = (float(v) for v in f.at(np.array(pe), np.array(h_out)))
        between = 0.5 * (self.air.outdoor + self.air.indoor)
        h_return = h_out + (one.vapor_line * (between - t_out) / m if self.cooling else 0.0)
        through = one.valve * rated**0.7 * (t_discharge - t_out)
        mixed = (1 - sick.leak) * h_return + sick.leak * h_discharge + through / max(pumped, 1e-6)
        h_hot = h_discharge - through / m
        h_in = h_hot - (0.0 if self.cooling else one.vapor_line * (t_discharge - between) / m)
        # Condenser
        t_air, _ = self._entering(hot_coil)
        carries = hot_coil.carries * self._flow(hot_coil)
        outside, inside = self._conductances(hot_coil, m, evaporates=False)
        whole = 1 / (1 / outside + 1 / inside)
        to_liquid = 1 / (1 / outside + 1 / (inside * hot_coil.liquid_share))
        to_vapor = 1 / (1 / outside + 1 / (inside * hot_coil.vapor_share))
        under = (float(high.liquid) - h_liquid) / float(high.liquid_heat)
        t_bubble, t_dew = float(high.bubble), float(high.dew)
        head_room = max(t_bubble - t_air, 0.3)
        f_liquid = -log(max(1 - max(under, 0.0) / head_room, 1e-3)) * m * float(high.liquid_heat) / to_liquid
        t_in = float(f.at(np.array(pc), np.array(max(h_in, float(high.vapor))))[0])
        f_vapor = (
            log(max(t_in - t_air, 0.5) / max(t_dew - t_air, 0.3)) * m * float(high.vapor_heat) / to_vapor
        )
        f_mixed = 1 - f_liquid - f_vapor
        given_liquid = m * max(float(high.liquid) - h_liquid, 0.0)
        warmed = t_air + given_liquid / carries
        x_out = max((h_liquid - float(high.liquid)) / float(high.vapor - high.liquid), 0.0)
        condensed = m * (float(high.vapor) - max(h_liquid, float(high.liquid)))
        could = (
            carries * (1 - exp(-whole * max(f_mixed, 1e-3) / carries)) * (0.5 * (t_bubble + t_dew) - warmed)
        )
        could += min(f_mixed, 0.0) * carries * head_room
        given = m * (h_in - h_liquid)
        # Liquid's way
        starts = pc + sick.gas - one.condenser_loss * square
        x_out_density = float(f.at(np.array(pc), np.array(h_liquid))[1])
        foam = float(high.liquid_density) / x_out_density
        device = one.devices[self.mode]
        idle = 8e3 * square * foam
        if sick.shut > 0 and one.idles[self.mode]:
            idle = (
                m
                * m
                / (
                    2
                    * 1000
                    * (device.area * device.backwards + (1 - sick.shut) * m / sqrt(2 * 1000 * 8e3)) ** 2
                )
            )
        before_line = starts - (idle if one.idles[self.mode] else 0.0)
        narrow = sick.narrow * square * foam
        if sick.where == "line":
            before_line -= narrow
        t_liquid = float(f.at(np.array(max(before_line, pe)), np.array(h_liquid))[0])
        h_arrives = h_liquid - one.liquid_line * (t_liquid - between) / m
        arrives = before_line - one.liquid_loss * square * foam
        if sick.where == "behind":
            arrives -= narrow
        behind = p_inlet + cold_coil.distributor * square + (narrow if sick.where == "distributor" else 0.0)
        arrives = max(arrives, behind + 2e3)
        _, dense_liquid, x_before = (float(v) for v in f.at(np.array(arrives), np.array(h_arrives)))
        # Device
        bulb_at, bulb_sat, bulb_h = (p_suction, back, h_suction) if device.at_common else (pe, low, h_out)
        felt = float(f.at(np.array(bulb_at), np.array(bulb_h))[0]) - float(bulb_sat.dew)
        if bulb_h < float(bulb_sat.vapor):
            felt = 12 * (bulb_h - float(bulb_sat.vapor)) / float(bulb_sat.vapor - bulb_sat.liquid)
        if device.kind in ("piston", "capillary"):
            opening = 1.0 - sick.closed
            cold = (float(f.saturated(np.array(arrives)).liquid) - h_arrives) / float(high.liquid_heat)
            opening *= 1 + 0.03 * min(max(cold, -2.0), 15.0)
        else:
            wanted = device.superheat + device.drift * (float(low.dew) - 280)
            opening = 1 + (felt - wanted) / device.band
            widest = device.widest * (1 - sick.closed)
            opening = widest / (1 + exp(-4 * (opening / widest - 0.5)))
        opening = max(opening, sick.open)
        passed = device.area * opening * sqrt(2 * dense_liquid * (arrives - behind))
        # Evaporator
        t_air_cold, ratio_cold = self._entering(cold_coil)
        carries_cold = cold_coil.carries * self._flow(cold_coil)
        outside, inside = self._conductances(cold_coil, m, evaporates=True)
        dew, t_boil = float(low.dew), 0.5 * (float(low.dew) + float(boil.bubble))
        x_in = (h_arrives - float(boil.liquid)) / float(boil.vapor - boil.liquid)
        t_boil = (
            dew
            - (1 - min(max(x_in, 0.0), 1.0)) * 0.5 * (dew - float(low.bubble))
            + 0.5 * (float(boil.dew) - dew)
        )
        gas_room = max(t_air_cold - dew, 0.3)
        over = max(t_out - dew, 0.0) if quality_out >= 1 else 0.0
        to_gas = 1 / (1 / outside + 1 / (inside * cold_coil.vapor_share))
        sensible, takes = self._boiling(
            cold_coil, outside, inside, carries_cold, t_boil, t_air_cold, ratio_cold
        )
        # Circuits are fed unevenly: the one leaves wet while the other leaves warm.
        boils, h_mean, f_gas, wetness, dry_heat = m * (float(low.vapor) - h_arrives), 0.0, 0.0, 1.0, 0.0
        for feed in (1 - one.uneven, 1.0, 1 + one.uneven):
            needs = feed * boils / max(takes, 1.0)
            if needs < 1:
                gains = gas_room * (1 - exp(-to_gas * (1 - needs) / (feed * m * float(low.vapor_heat))))
                h_one = float(low.vapor) + gains * float(low.vapor_heat)
                f_gas += (1 - needs) / 3
                dry_heat += feed * m * gains * float(low.vapor_heat) / 3
            else:
                h_one = h_arrives + takes / (feed * m)
                wetness = min(wetness, (h_one - float(low.liquid)) / float(low.vapor - low.liquid))
            h_mean += feed * h_one / 3
        # Charge
        found = one.vapor_volume * (
            float(low.vapor_density) if self.cooling else float(high.vapor_density) * 0.85
        )
        liquid_dense = float(high.liquid_density) * 1.02
        found += one.liquid_volume * (dense_liquid if x_before > 0 else liquid_dense)
        gas_dense = float(high.vapor_density) * t_dew / (0.5 * (t_dew + t_in))
        found += hot_coil.volume * (
            max(f_vapor, 0.0) * gas_dense
            + max(f_mixed, 0.0) * self._density(high, x_out, 1.0)
            + max(f_liquid, 0.0) * liquid_dense
        )
        found += cold_coil.volume * (
            (1 - f_gas) * self._density(low, x_in, min(wetness, 1.0))
            + f_gas * float(low.vapor_density) * 0.96
        )
        wet = max(1 - (h_suction - float(back.liquid)) / float(back.vapor - back.liquid), 0.0)
        found += one.accumulator * float(low.liquid_density) * (1 - exp(-wet / 0.05))
        self.memo = {
            "pe": pe,
            "pc": pc,
            "m": m,
            "p_suction": p_suction,
            "p_discharge": p_discharge,
            "vapor_port": vapor_port,
            "p_hot_port": p_hot_port,
            "t_suction": t_suction,
            "t_discharge": t_discharge,
            "t_out": t_out,
            "h_return": h_return,
            "h_hot": h_hot,
            "h_in": h_in,
            "starts": starts,
            "before_line": before_line,
            "arrives": arrives,
            "behind": behind,
            "h_liquid": h_liquid,
            "h_arrives": h_arrives,
            "t_boil": t_boil,
            "t_cond": 0.5 * (t_bubble + t_dew),
            "power": power,
            "given": given,
            "sensible": sensible * (1 - f_gas) + dry_heat,
            "carries": carries,
            "carries_cold": carries_cold,
            "felt": felt,
            "over": over,
            "cold_out": under,
            "dryness": (h_out - float(low.vapor)) / float(low.vapor_heat),
            "area_for": m / (passed / device.area),
            "wet": wet,
            "charge": found,
            "taken": m * (h_out - h_arrives),
            "opening": opening,
            "f_liquid": f_liquid,
        }
        charge = one.charge * sick.charge
        left = np.array(
            [
                log(max(pumped * (1 - sick.leak), 1e-9) / m),
                log(max(passed, 1e-9) / m),
                (h_mean - h_out) / 3e4,
                (condensed - could) / one.capacity,
                found / charge - 1 if charge else 0.0,
                (mixed - h_suction) / 1e5,
            ]
        )
        for place, (name, target) in self.instead.items():
            left[place] = (self.memo[name] - target) / 10
        return left

    def _boiling(
        self, coil: Coil, outside: float, inside: float, carries: float, cold: float, air: float, ratio: float
    ) -> tuple[float, float]:
        """Sensible and whole heat [W] that the boiling part takes, by bypass factor and apparatus dew point."""
        passes = 1 - exp(-outside / carries)
        if coil.medium == "water":
            whole = 1 / (1 / outside + 1 / inside)
            heat = carries * (1 - exp(-whole / carries)) * (air - cold)
            return heat, heat
        entering = enthalpy_of(air, ratio)

        def heat_at(surface: float) -> tuple[float, float]:
            sensible = carries * passes * (air - surface)
            full = ratio_of(surface, 1.0)
            if full >= ratio:
                return sensible, sensible
            return sensible, carries / AIR_HEAT * passes * (entering - enthalpy_of(surface, full))

        bottom, above = cold, max(air, cold + 0.01)
        for _ in range(40):
            middle = 0.5 * (bottom + above)
            bottom, above = (
                (middle, above) if heat_at(middle)[1] > inside * (middle - cold) else (bottom, middle)
            )
        if air <= cold:
            return 1.0, 1.0
        return heat_at(0.5 * (bottom + above))

    def settled(self, start: np.ndarray | None = None) -> np.ndarray:
        """The unknowns at rest; :exc:`NoRestError` where there is none."""
        begin = self._start() if start is None else start

        def left(x: np.ndarray) -> np.ndarray:
            near = x.copy()
            near[:3] = np.clip(x[:3], begin[:3] - 2.5, begin[:3] + 2.5)
            near[3:] = np.clip(x[3:], begin[3:] - 2.0, begin[3:] + 2.0)
            return self.walk(near) + 0.1 * (x - near)

        for method in ("hybr", "lm"):
            try:
                found = root(left, begin, method=method)
                rests = np.all(np.isfinite(found.x)) and np.abs(self.walk(found.x)).max() < 3e-4
            except (ValueError, OverflowError):
                continue
            if rests:
                return np.asarray(found.x)
        raise NoRestError

    def _start(self) -> np.ndarray:
        f = self.fluid
        if self.cooling:
            cold, hot = self.air.indoor - 17, self.air.outdoor + 11
        else:
            cold, hot = self.air.outdoor - 9, self.air.indoor + 15
        if self.design.outdoor.medium == "water":
            cold, hot = (cold, self.air.outdoor + 9) if self.cooling else (self.air.outdoor - 8, hot)
        pe, pc = (float(f.saturation_pressure(np.array(t), "dew")) for t in (cold, hot))
        low, high = f.saturated(np.array(pe)), f.saturated(np.array(pc))
        gas = float(low.vapor) + 5 * float(low.vapor_heat)
        liquid = float(f.liquid_enthalpy(high, np.array(5.0)))
        flow = self.design.rated_flow * min(max(pe / self.design.rated_low, 0.3), 1.3) * self.air.speed
        return np.array([log(pe), log(pc), log(flow), gas / 1e5, liquid / 1e5, (gas + 4e3) / 1e5])


def sized(design: Design, at: Air, cold: float, hot: float, superheat: float, subcooling: float) -> Design:
    """The design with displacement, conductances and device that meet its capacity in cooling at a point: boiling and
    condensing temperatures [K], superheat and subcooling [K]."""
    f = states(design.refrigerant)
    pe, pc = (
        float(f.saturation_pressure(np.array(cold), "dew")),
        float(f.saturation_pressure(np.array(hot), "middle")),
    )
    low, high = f.saturated(np.array(pe)), f.saturated(np.array(pc))
    h_out = float(low.vapor) + superheat * float(low.vapor_heat)
    h_liquid = float(f.liquid_enthalpy(high, np.array(subcooling)))
    flow = design.capacity / (h_out - h_liquid)
    one = replace(design, rated_flow=flow, rated_low=pe)

    def with_these(x: np.ndarray) -> Design:
        v, c, e, a = np.exp(x)
        cooling = one.devices["cooling"]
        devices = {**one.devices, "cooling": replace(cooling, area=cooling.area * a)}
        if one.devices["heating"] == cooling:
            devices["heating"] = devices["cooling"]
        return replace(
            one,
            displacement=one.displacement * v,
            outdoor=replace(one.outdoor, outside=one.outdoor.outside * c, inside=one.outdoor.inside * c),
            indoor=replace(one.indoor, outside=one.indoor.outside * e, inside=one.indoor.inside * e),
            devices=devices,
        )

    def left(x: np.ndarray) -> np.ndarray:
        made = with_these(x[:4])
        machine = Machine(made, "cooling", at)
        unknown = np.array([log(pe), log(pc), log(flow), h_out / 1e5, h_liquid / 1e5, x[4]])
        return machine.walk(unknown)[[0, 1, 2, 3, 5]]

    found = root(left, np.array([0.0, 0, 0, 0, (h_out + 4e3) / 1e5]), method="hybr")
    if np.abs(left(found.x)).max() > 1e-4:
        found = root(left, found.x, method="lm")
    if np.abs(left(found.x)).max() > 1e-4:
        raise NoRestError
    return with_these(found.x[:4])

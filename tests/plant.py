"""A running circuit worked out from CoolProp alone: isenthalpic metering, mixing in the valve, compression.

It knows nothing of the code under test. The demo visits and the tests' cases come from here: temperatures of
saturation, superheat and subcooling are chosen as a case needs them, and everything else follows.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field
from functools import cache
from typing import Any

import CoolProp

from builders import reading
from lazily import Lazily

brentq = Lazily("scipy.optimize", "brentq")

ATMOSPHERE = 101_325
PSI = 6894.757
# Mass fractions as ASHRAE Standard 34 lists them [from memory].
BLENDS = {"R-454B": ("R32&R1234YF", (0.689, 0.311)), "R-513A": ("R1234YF&R134a", (0.56, 0.44))}


def kelvin(fahrenheit: float) -> float:
    return (fahrenheit + 459.67) / 1.8


def fahrenheit(kelvin: float) -> float:
    return kelvin * 1.8 - 459.67


class Fluid:
    """A refrigerant straight from CoolProp, in SI."""

    def __init__(self, refrigerant: str) -> None:
        name, fractions = BLENDS.get(
            refrigerant, (refrigerant.replace("-", "").replace("R290", "Propane"), None)
        )
        self._state = CoolProp.AbstractState("HEOS", name)
        if fractions:
            self._state.set_mass_fractions(list(fractions))

    def saturation(self, pressure: float, quality: float) -> float:
        self._state.update(CoolProp.PQ_INPUTS, pressure, quality)
        return self._state.T()

    def pressure(self, temperature: float, quality: float) -> float:
        self._state.update(CoolProp.QT_INPUTS, quality, temperature)
        return self._state.p()

    def mixture_h(self, pressure: float, quality: float) -> float:
        self._state.update(CoolProp.PQ_INPUTS, pressure, quality)
        return self._state.hmass()

    def _at(self, temperature: float, pressure: float, phase: int) -> Any:
        self._state.specify_phase(phase)
        self._state.update(CoolProp.PT_INPUTS, pressure, temperature)
        self._state.unspecify_phase()
        return self._state

    def vapor_h(self, temperature: float, pressure: float) -> float:
        return self._at(temperature, pressure, CoolProp.iphase_gas).hmass()

    def vapor_s(self, temperature: float, pressure: float) -> float:
        return self._at(temperature, pressure, CoolProp.iphase_gas).smass()

    def vapor_density(self, temperature: float, pressure: float) -> float:
        return self._at(temperature, pressure, CoolProp.iphase_gas).rhomass()

    def liquid_density(self, temperature: float, pressure: float) -> float:
        return self._at(temperature, pressure, CoolProp.iphase_liquid).rhomass()

    def liquid_h(self, temperature: float, pressure: float) -> float:
        return self._at(temperature, pressure, CoolProp.iphase_liquid).hmass()

    def vapor_t(self, pressure: float, h: float) -> float:
        """Temperature of superheated vapor, or of the wet vapor this enthalpy belongs to."""
        dew = self.saturation(pressure, 1)
        if h <= self.mixture_h(pressure, 1):
            return self.mixture_t(pressure, h)
        return brentq(lambda t: self.vapor_h(t, pressure) - h, dew + 1e-4, dew + 150)

    def mixture_quality(self, pressure: float, h: float) -> float:
        return brentq(lambda q: self.mixture_h(pressure, q) - h, 0, 1)

    def mixture_t(self, pressure: float, h: float) -> float:
        return self.saturation(pressure, self.mixture_quality(pressure, h))

    def liquid_t(self, pressure: float, h: float) -> float:
        """Temperature of liquid, or of the flashing mixture this enthalpy belongs to."""
        if h >= self.mixture_h(pressure, 0):
            return self.mixture_t(pressure, h)
        bubble = self.saturation(pressure, 0)
        # The pseudo-pure blends step a little at the bubble line.
        if h >= self.liquid_h(bubble - 1e-4, pressure):
            return bubble
        return brentq(lambda t: self.liquid_h(t, pressure) - h, bubble - 60, bubble - 1e-4)


@cache
def fluid(refrigerant: str) -> Fluid:
    return Fluid(refrigerant)


@cache
def saturation_psig(refrigerant: str, fahrenheit: float, quality: int) -> float:
    """Gauge pressure at sea level of bubble (0) or dew (1) at a temperature."""
    return (fluid(refrigerant).pressure(kelvin(fahrenheit), quality) - ATMOSPHERE) / PSI


@dataclass
class Plant:
    """One settled run. Temperatures in °F, pressure drops in psi, from the technician's side."""

    path: Collection[str]
    mode: str
    refrigerant: str
    evaporating: float
    condensing: float
    outdoor: float
    indoor: float
    superheat: float = 9
    subcooling: float = 9
    quality: float | None = None  # of the gas coming back, where it is wet; superheat is then ignored
    bypass: float = 0  # share of the compressor's flow that goes from discharge to suction inside the valve
    body: float = 1.5  # rise by heat through the valve's metal alone
    efficiency: float = 0.68
    drops: dict[str, float] = field(default_factory=dict)  # psi lost on the way into a station
    source: str = "air"
    load: str = "air"
    supply_change: float | None = None
    outdoor_change: float | None = None
    air_over: float = 0  # psi by which a foreign gas lifts every high-side gauge

    @property
    def coils(self) -> tuple[str, str]:
        """Condenser, evaporator."""
        pair = ("outdoor_coil", "indoor_coil")
        return pair if self.mode == "cooling" else pair[::-1]

    def solve(self) -> dict[str, float]:
        """Temperature [°F] at every station of the path; pressures [psi] under the taps' names."""
        f = fluid(self.refrigerant)
        low = f.pressure(kelvin(self.evaporating), 1)
        high = f.pressure(kelvin(self.condensing), 0)
        hot, back = ("valve_to_outdoor", "valve_to_indoor")
        if self.mode == "heating":
            hot, back = back, hot
        path = list(self.path)
        at_condenser, at_evaporator = (path.index(coil) for coil in self.coils)
        values: dict[str, float] = {}

        if self.quality is not None:
            h_return = f.mixture_h(low, self.quality)
        else:
            h_return = f.vapor_h(kelvin(self.evaporating + self.superheat), low)
        t_return = f.vapor_t(low, h_return)
        h_common, t_discharge = self._compressed(f, low, high, h_return)
        values["discharge_line"] = fahrenheit(t_discharge)
        values[hot] = fahrenheit(t_discharge) - self.body
        values["common_suction"] = fahrenheit(f.vapor_t(low, h_common))
        values["compressor_inlet"] = values["common_suction"] + 0.3
        values[back] = fahrenheit(t_return)

        condensing_mid = (f.saturation(high, 0) + f.saturation(high, 1)) / 2
        values[self.coils[0]] = fahrenheit(condensing_mid)

        # Along the liquid line a little heat is lost, and pressure where it is said to be.
        h, p = f.liquid_h(kelvin(self.condensing - self.subcooling), high), high
        between = path[at_condenser + 1 : at_evaporator]
        meters = [code for code in between if "_meter_" in code]
        pressures: dict[str, float] = {}
        metered = False
        for code in between:
            p -= self.drops.get(code, 0.4) * PSI
            if metered:
                p = min(p, low + 4 * PSI)
            h -= 0.0 if metered else 250
            pressures[code] = p
            values[code] = fahrenheit(f.liquid_t(p, h))
            metered = metered or code == meters[-2]
        inlet = low + 3 * PSI
        self.flash_h = h
        values[self.coils[1]] = fahrenheit(
            f.mixture_t(inlet - PSI, h + 0.5 * (min(h_return, f.mixture_h(low, 1)) - h))
        )
        for code in path:
            if code not in values:
                hot_side = path.index(code) < at_condenser
                values[code] = values[hot] - 3 if hot_side else values[back] - 0.7
        taps = {"common_suction_tap": low, "discharge_tap": high + 4 * PSI}
        vapor_high = self.mode == "heating"
        taps["vapor_service_tap"] = high + 2 * PSI if vapor_high else low + 1 * PSI
        if "liquid_line_outdoor" in pressures:
            taps["liquid_service_tap"] = pressures["liquid_line_outdoor"]
        for tap, pascal in taps.items():
            lift = self.air_over * PSI if pascal > (low + high) / 2 else 0
            values[tap] = (pascal + lift - ATMOSPHERE) / PSI

        outdoor_in = "outdoor_air_in" if self.source == "air" else "source_water_in"
        indoor_in = "return_air" if self.load == "air" else "load_water_in"
        values[outdoor_in], values[indoor_in] = self.outdoor, self.indoor
        if self.load == "air":
            change = self.supply_change
            values["supply_air"] = self.indoor + (
                change if change is not None else -18 if self.mode == "cooling" else 24
            )
        if self.source == "air":
            change = self.outdoor_change
            values["outdoor_air_out"] = self.outdoor + (
                change if change is not None else 14 if self.mode == "cooling" else -7
            )
        return values

    def duty(self, taken_up: float) -> tuple[float, float]:
        """Work and heat rejected [W] while the evaporator takes up so much [W]."""
        f, values = fluid(self.refrigerant), self.solve()
        low, high = f.pressure(kelvin(self.evaporating), 1), f.pressure(kelvin(self.condensing), 0)
        suction = f.vapor_h(kelvin(values["compressor_inlet"]), low)
        discharge = f.vapor_h(kelvin(values["discharge_line"]), high)
        liquid = f.liquid_h(kelvin(self.condensing - self.subcooling), high)
        flow = taken_up / (suction - self.flash_h)
        return flow * (discharge - suction), flow * (discharge - liquid)

    def _compressed(self, f: Fluid, low: float, high: float, h_return: float) -> tuple[float, float]:
        """Common suction enthalpy and discharge temperature; bypassed gas comes back hot."""
        dew_h = f.mixture_h(low, 1)
        cp = (f.vapor_h(f.saturation(low, 1) + 10, low) - dew_h) / 10
        body = cp * self.body / 1.8
        h_discharge = h_return + 60_000
        for _ in range(60):
            h_common = (1 - self.bypass) * h_return + self.bypass * h_discharge + body
            # A wet return is dried in the accumulator before the compressor.
            t_in = f.vapor_t(low, max(h_common, dew_h + 500))
            s_in, h_in = f.vapor_s(t_in, low), f.vapor_h(t_in, low)
            dew_high = f.saturation(high, 1)
            t_ideal = brentq(
                lambda t, s=s_in: f.vapor_s(t, high) - s, dew_high + 1e-4, dew_high + 190, xtol=1e-6
            )
            fresh = h_in + (f.vapor_h(t_ideal, high) - h_in) / self.efficiency * 0.95
            if abs(fresh - h_discharge) < 1:
                break
            h_discharge = fresh
        return h_common, f.vapor_t(high, h_discharge)

    def run(
        self,
        *,
        without: Collection[str] = (),
        gauges: bool = True,
        minutes: float | None = 20,
        more: Collection[dict[str, Any]] = (),
        run_id: str | None = None,
        **fields: Any,
    ) -> dict[str, Any]:
        """The run as the visit document has it."""
        readings = []
        for code, value in self.solve().items():
            if code in without or (code.endswith("_tap") and not gauges):
                continue
            if code.endswith("_tap"):
                kind = {"quantity": "pressure", "unit": "psi", "method": "gauge"}
            else:
                air = code.split("_")[0] in ("outdoor", "return", "supply") and "air" in code
                kind = {"method": "probe"} if air or "water" in code else {}
            readings.append(reading(code, round(value, 1), **kind))
        return {
            "id": run_id or self.mode,
            "mode": self.mode,
            "minutes_running": minutes,
            "readings": [*readings, *more],
            **fields,
        }

"""Healthy runs made from physics, not from the code under test: CoolProp for saturation, and the usual
differences of a sound machine (evaporator 15–20 °F under its air, condenser 18–25 °F over it, a few degrees
of superheat and subcooling, 1–2 °F at the valve) [common practice]."""

from __future__ import annotations

from functools import cache
from typing import Any

from builders import reading
from plant import ATMOSPHERE, PSI, fluid, kelvin


@cache
def saturation_psig(refrigerant: str, fahrenheit: float, quality: int) -> float:
    """Gauge pressure at sea level of bubble (0) or dew (1) at a temperature."""
    return (fluid(refrigerant).pressure(kelvin(fahrenheit), quality) - ATMOSPHERE) / PSI


def healthy_run(
    path: list[str],
    mode: str,
    refrigerant: str,
    evaporator_air: float,
    condenser_air: float,
    *,
    source: str = "air",
    load: str = "air",
    superheat: float = 9,
    gauges: bool = True,
) -> dict[str, Any]:
    """A settled run at these entering temperatures [°F] with every station of ``path`` read.

    ``path`` gives the stations in flow order; whatever follows the condenser is liquid until the working
    meter, which stands at the last meter station before the evaporator.
    """
    evaporating, condensing = evaporator_air - 17, condenser_air + 20
    coils = ("outdoor_coil", "indoor_coil") if mode == "cooling" else ("indoor_coil", "outdoor_coil")
    discharge = condensing + 25 + 0.45 * (condensing - evaporating)
    hot, back = ("valve_to_outdoor", "valve_to_indoor")
    if mode == "heating":
        hot, back = back, hot
    at, past_meter = path.index(coils[0]), False
    values = {
        "discharge_line": discharge,
        hot: discharge - 1.5,
        coils[0]: condensing,
        coils[1]: evaporating,
        "common_suction": evaporating + superheat + 3.5,
        "compressor_inlet": evaporating + superheat + 4,
        back: evaporating + superheat + 2,
    }
    between = path[at + 1 : path.index(coils[1])]
    meters = [code for code in between if "_meter_" in code]
    for step, code in enumerate(between):
        values[code] = evaporating + 1.5 if past_meter else condensing - 9 - 0.4 * step
        # The working meter is the last one; its first station met is its inlet.
        past_meter = past_meter or code == meters[-2]
    for code in path:
        if code not in values:
            vapor_high = path.index(code) < at
            values[code] = discharge - 5 if vapor_high else evaporating + superheat + 1
    air = {
        "outdoor": "outdoor_air_in" if source == "air" else "source_water_in",
        "indoor": "return_air" if load == "air" else "load_water_in",
    }
    outdoor, indoor = (
        (condenser_air, evaporator_air) if mode == "cooling" else (evaporator_air, condenser_air)
    )
    values |= {air["outdoor"]: outdoor, air["indoor"]: indoor}
    if load == "air":
        values["supply_air"] = indoor + (-18 if mode == "cooling" else 22)
    readings = [reading(code, round(value, 1)) for code, value in values.items()]
    if gauges:
        low, high = (
            saturation_psig(refrigerant, evaporating, 1),
            saturation_psig(refrigerant, condensing, 0),
        )
        vapor_is_high = mode == "heating"
        taps = {
            "common_suction_tap": low,
            "discharge_tap": high + 4,
            "vapor_service_tap": high + 2 if vapor_is_high else low + 1,
        }
        if "liquid_line_outdoor" in path:
            is_liquid = not past_meter or path.index("liquid_line_outdoor") <= path.index(meters[-2])
            taps["liquid_service_tap"] = high - 3 if is_liquid else low + 3
        readings += [
            {
                "station": tap,
                "quantity": "pressure",
                "value": round(psig, 1),
                "unit": "psi",
                "method": "gauge",
            }
            for tap, psig in taps.items()
        ]
    return {"id": mode, "mode": mode, "minutes_running": 20, "readings": readings}

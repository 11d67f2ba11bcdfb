"""Every number of the machine model that is not a unit's own: by name, with unit, standing and reason.

Sizes are for one watt of nominal capacity unless said otherwise, so that large and small machines behave alike.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from icepick.core.properties.quantities import Kind, to_si

COMMON = "common practice"
MEMORY = "published, from memory"
OURS = "our own choice"


@dataclass(frozen=True, slots=True)
class Parameter:
    """One number: its name, value, unit, where it is from, and what it is."""

    name: str
    value: float
    unit: str
    standing: str
    reason: str


PARAMETERS: tuple[Parameter, ...] = (
    # Rating points
    Parameter("rating_outdoor_cooling", 95, "degF", "AHRI 210/240, from memory", "Outdoor air at which a unit is sized."),
    Parameter("rating_indoor_cooling", 80, "degF", "AHRI 210/240, from memory", "Return air at which a unit is sized."),
    Parameter("rating_wet_bulb_cooling", 67, "degF", "AHRI 210/240, from memory", "Its wet bulb."),
    Parameter("rating_outdoor_heating", 47, "degF", "AHRI 210/240, from memory", "Outdoor air at which heating is rated."),
    Parameter("rating_outdoor_wet_bulb_heating", 43, "degF", "AHRI 210/240, from memory", "Its wet bulb."),
    Parameter("rating_outdoor_wet_bulb_cooling", 75, "degF", "AHRI 210/240, from memory", "Plays no part over a dry coil."),
    Parameter("rating_wet_bulb_heating", 58, "degF", OURS, "Of return air in heating; AHRI sets a most of 60."),
    Parameter("rating_indoor_heating", 70, "degF", "AHRI 210/240, from memory", "Return air at which heating is rated."),
    Parameter("rating_source_cooling", 77, "degF", "ISO 13256-1, ground loop, from memory", "Source water in cooling."),
    Parameter("rating_source_heating", 50, "degF", "ISO 13256-1, ground water, from memory", "Source water in heating."),
    Parameter("rating_load_cooling", 53.6, "degF", "ISO 13256-2, from memory", "Load water in cooling."),
    Parameter("rating_load_heating", 104, "degF", "ISO 13256-2, from memory", "Load water in heating."),
    # What the refrigerant does there
    Parameter("evaporating_air", 48, "degF", COMMON, "Evaporating temperature of an air coil in cooling at rating."),
    Parameter("condensing_over_air", 22, "delta_degF", COMMON, "Condensing over outdoor air in cooling at rating."),
    Parameter("condensing_over_water", 14, "delta_degF", COMMON, "Condensing over entering water in cooling at rating."),
    Parameter("liquid_over_entering", 2, "delta_degF", "physics", "Liquid over what enters the condenser, at least: with "
              "much subcooling or glide condensing stands higher for it."),
    Parameter("evaporating_under_water", 15, "delta_degF", COMMON, "Evaporating under entering water in cooling at rating."),
    Parameter("superheat", 10, "delta_degF", COMMON, "At the evaporator's outlet where the manufacturer says nothing."),
    Parameter("subcooling", 10, "delta_degF", COMMON, "Where the manufacturer says nothing."),
    Parameter("orifice_superheat_cooling", 13, "delta_degF", "common practice, from memory", "What a fixed orifice is "
              "charged to: the trade's target superheat at 67 °F wet bulb and 95 °F outdoors."),
    Parameter("orifice_superheat_heating", 6, "delta_degF", COMMON, "What a fixed orifice is sized for in heating."),
    # Compressor
    Parameter("filling", 0.96, "1", OURS, "Share of the displacement filled at a pressure ratio of one."),
    Parameter("clearance", 0.035, "1", OURS, "Clearance over displacement; leakage of scroll and rotary acts alike."),
    Parameter("expansion_exponent", 1.12, "1", OURS, "Of the gas left in the clearance."),
    Parameter("efficiency", 0.70, "1", MEMORY, "Best isentropic efficiency, motor included, of a hermetic compressor."),
    Parameter("best_ratio", 2.8, "1", MEMORY, "Pressure ratio at which a comfort compressor is best."),
    Parameter("efficiency_fall", 0.22, "1", OURS, "Share lost per squared logarithm of the ratio over the best one."),
    Parameter("shell_loss_share", 0.06, "1", MEMORY, "Of its power that shell and discharge line lose at rating."),
    Parameter("voltage", 230, "V", COMMON, "Nominal, single phase."),
    Parameter("power_factor", 0.95, "1", COMMON, "Of a loaded single-phase motor with its run capacitor."),
    Parameter("rated_current_share", 0.74, "1", MEMORY, "Current in cooling at rating over the nameplate's rated load."),
    Parameter("rated_current_share_water", 0.55, "1", OURS, "As above where the source is water, which condenses cooler."),
    Parameter("low_stage", 0.67, "1", COMMON, "Capacity of the low stage of a two-stage compressor over the high one."),
    # Coils
    Parameter("indoor_airflow", 400, "cfm/ton", COMMON, "Where the manufacturer says nothing."),
    Parameter("outdoor_airflow", 900, "cfm/ton", COMMON, "Over an outdoor coil."),
    Parameter("water_flow", 3, "gpm/ton", COMMON, "Through a water coil."),
    Parameter("indoor_fan_power", 0.365, "W/cfm", "AHRI 210/240 default, from memory", "Heat the blower adds to the air."),
    Parameter("air_side_resistance", 0.5, "1", OURS, "Share of an air coil's resistance that lies on the air side."),
    Parameter("water_side_resistance", 0.45, "1", OURS, "Share of a water coil's that lies on the water side."),
    Parameter("vapor_share", 0.22, "1", MEMORY, "Conductance inside to vapor over that to a mixture."),
    Parameter("liquid_share", 0.40, "1", MEMORY, "Conductance inside to liquid over that to a mixture."),
    Parameter("outdoor_as_evaporator", 0.70, "1", OURS, "Conductance of an outdoor coil as evaporator over that as "
              "condenser: its circuits are fed unevenly; so that air at 47 °F stands some 17 °F over evaporating."),
    Parameter("air_exponent", 0.55, "1", MEMORY, "How the air-side conductance grows with the airflow."),
    Parameter("water_exponent", 0.8, "1", "Dittus–Boelter", "How the water-side conductance grows with the flow."),
    Parameter("outdoor_volume", 1.15, "L/ton", OURS, "Inside an outdoor air coil."),
    Parameter("indoor_volume", 1.15, "L/ton", OURS, "Inside an indoor air coil."),
    Parameter("water_volume", 0.6, "L/ton", OURS, "Refrigerant's side of a water coil."),
    Parameter("circuits", 4, "1", COMMON, "Parallel circuits of a coil."),
    Parameter("evaporator_loss", 1.5, "delta_degF", COMMON, "Pressure lost in the evaporator at rating, in saturation."),
    # Metering
    Parameter("static_superheat", 5, "delta_degF", COMMON, "At which a TXV begins to open."),
    Parameter("least_superheat", 1, "delta_degF", OURS, "That a device is sized for, whatever its manufacturer states."),
    Parameter("electric_band", 1.5, "delta_degF", OURS, "Superheat over which an EEV goes from shut to rating."),
    Parameter("thermostatic_widest", 1.6, "1", COMMON, "A TXV's greatest area over that at rating."),
    Parameter("electric_widest", 2.2, "1", COMMON, "An EEV's."),
    Parameter("orifice_reverse", 1.0, "1", OURS, "Area of an idle orifice passed backwards over that at work."),
    Parameter("thermostatic_reverse", 0.5, "1", OURS, "A TXV's: flow and pressure push its pin shut."),
    Parameter("electric_reverse", 2.2, "1", OURS, "An EEV's: a motor holds it where it is told, wide open."),
    Parameter("static_share", 0.6, "1", OURS, "Static over held superheat at most, where a manufacturer's target is low."),
    # Lines
    Parameter("line_length", 25, "ft", "AHRI 210/240, from memory", "Of the line set where it is not given."),
    Parameter("packaged_length", 4, "ft", OURS, "Of the pipes in a packaged unit."),
    Parameter("vapor_line_loss", 1.0, "delta_degF", COMMON, "Lost in 25 ft of vapor line in cooling, in saturation."),
    Parameter("suction_loss", 0.5, "delta_degF", OURS, "Lost in valve and suction pipe, in saturation."),
    Parameter("liquid_line_loss", 2, "psi", COMMON, "Lost in 25 ft of liquid line."),
    Parameter("drier_loss", 1, "psi", COMMON, "Lost in a clean drier."),
    Parameter("idle_loss", 1.5, "psi", COMMON, "Lost in the idle device's open way round."),
    Parameter("condenser_loss", 3, "psi", COMMON, "Lost in the condenser."),
    Parameter("discharge_loss", 2, "psi", OURS, "Lost between compressor and condenser but for the vapor line."),
    Parameter("vapor_line_heat", 0.08, "W/(K m) at 1 ton", OURS, "Through the vapor line's insulation; grows with the root "
              "of capacity."),
    Parameter("liquid_line_heat", 0.12, "W/(K m) at 1 ton", OURS, "From the bare liquid line."),
    Parameter("vapor_line_volume", 0.1, "L/(m ton)", COMMON, "Inside the vapor line."),
    Parameter("liquid_line_volume", 0.018, "L/(m ton)", COMMON, "Inside the liquid line."),
    Parameter("suction_volume", 1.0, "L/ton", OURS, "Shell and suction pipe."),
    Parameter("accumulator_volume", 0.8, "L/ton", COMMON, "Of liquid an accumulator holds."),
    # Valve
    Parameter("valve_exponent", 0.8, "1", "Dittus–Boelter", "How the heat that gas gives to the valve's body grows with its "
              "flow."),
    Parameter("valve_conduction", 0.45, "W/K at 1 ton", "physics, from memory of 1 to 3 °F", "Hot to cold gas through the "
              "valve's body."),
    # Faults
    Parameter("frost_on_metal", 0.4, "1", OURS, "Share of conductance lost where frost blocks all of the air."),
    Parameter("weak_efficiency", 0.35, "1", OURS, "Share of efficiency lost where a compressor pumps nothing any more."),
    # Through time
    Parameter("coil_metal", 9, "kJ/(K ton)", OURS, "Heat that the metal of an outdoor coil and what hangs on it takes up."),
    Parameter("frost_full", 1.2, "kg/ton", OURS, "Frost that leaves the outdoor coil no air."),
    Parameter("frost_blocking", 1.3, "1", OURS, "Exponent by which frost, as a share of that, takes the air: dense frost at "
              "the face takes more than its share once the gaps narrow."),
    Parameter("frost_surface", 0.45, "1", OURS, "How far from the coil's metal to the air's temperature the fins' surface "
              "stands, on which frost grows."),
    Parameter("melting_conductance", 1700, "W/(K ton)", OURS, "From the coil's metal to ice that melts on it."),
    Parameter("frost_covers", 0.25, "1", OURS, "Frost, as a share of what fills the coil, below which it no longer covers "
              "the metal everywhere."),
    Parameter("still_air", 0.03, "1", OURS, "Air over an outdoor coil whose fan stands, over what its fan moves."),
    Parameter("melting_inside", 3, "1", OURS, "Conductance of the coil in a defrost over that with air on it, which is what "
              "limits it otherwise."),
    Parameter("lag_pipe", 15, "s", COMMON, "How a pipe and the clamp on it follow what flows in it."),
    Parameter("lag_coil", 8, "s", COMMON, "How a clamp on a bend or at the coil sensor follows the coil's metal."),
    Parameter("lag_air", 25, "s", COMMON, "How coil, duct and probe follow what is blown."),
    Parameter("lag_pressure", 3, "s", COMMON, "How pressures follow."),
    Parameter("lag_rest", 240, "s", OURS, "How pipes that nothing flows in cool."),
    # Where the model holds
    *(
        Parameter(f"{end}_{station}_{mode}", value, "degF", OURS, f"The {word} the model is asked about in {mode}.")
        for station, mode, least, most in (
            ("outdoor_air_in", "cooling", 45, 130),
            ("outdoor_air_in", "heating", -25, 80),
            ("source_water_in", "cooling", 35, 120),
            ("source_water_in", "heating", 15, 95),
            ("return_air", "cooling", 55, 105),
            ("return_air", "heating", 40, 90),
            ("load_water_in", "cooling", 38, 90),
            ("load_water_in", "heating", 50, 140),
        )
        for end, value, word in (("least", least, "coldest"), ("most", most, "warmest"))
    ),
    # What nobody read
    Parameter("usual_outdoor_air_in_cooling", 88, "degF", OURS, "Taken where the outdoor air was not read."),
    Parameter("usual_outdoor_air_in_heating", 38, "degF", OURS, "Taken where the outdoor air was not read."),
    Parameter("spread_outdoor_air_in", 12, "delta_degF", OURS, "One standard deviation of it."),
    Parameter("usual_source_water_in_cooling", 75, "degF", OURS, "Taken where the source water was not read."),
    Parameter("usual_source_water_in_heating", 50, "degF", OURS, "Taken where the source water was not read."),
    Parameter("spread_source_water_in", 9, "delta_degF", OURS, "One standard deviation of it."),
    Parameter("usual_return_air_cooling", 76, "degF", OURS, "Taken where the return air was not read."),
    Parameter("usual_return_air_heating", 69, "degF", OURS, "Taken where the return air was not read."),
    Parameter("spread_return_air", 3, "delta_degF", OURS, "One standard deviation of it."),
    Parameter("usual_load_water_in_cooling", 54, "degF", OURS, "Taken where the load water was not read."),
    Parameter("usual_load_water_in_heating", 100, "degF", OURS, "Taken where the load water was not read."),
    Parameter("spread_load_water_in", 8, "delta_degF", OURS, "One standard deviation of it."),
    Parameter("usual_return_air_humidity_cooling", 0.5, "1", OURS, "Taken where no wet bulb of the return air was read."),
    Parameter("usual_return_air_humidity_heating", 0.35, "1", OURS, "Taken where no wet bulb of the return air was read."),
    Parameter("spread_return_air_humidity", 0.1, "1", OURS, "One standard deviation of it."),
    Parameter("usual_outdoor_air_in_humidity_cooling", 0.5, "1", OURS, "Taken where none of the outdoor air was read."),
    Parameter("usual_outdoor_air_in_humidity_heating", 0.75, "1", OURS, "Taken where none of the outdoor air was read."),
    Parameter("spread_outdoor_air_in_humidity", 0.15, "1", OURS, "One standard deviation of it."),
    Parameter("spread_wet_bulb_humidity", 0.03, "1", OURS, "Of a humidity by wet bulb."),
    Parameter("spread_noted_speed", 0.03, "1", OURS, "Of a speed or stage that was noted."),
    Parameter("usual_speed_two_stage", 0.85, "1", OURS, "Between the stages, where nobody noted which ran."),
    Parameter("spread_speed_two_stage", 0.16, "1", OURS, "One standard deviation of it."),
    Parameter("usual_speed_inverter", 0.75, "1", OURS, "Of an inverter whose speed nobody read."),
    Parameter("spread_speed_inverter", 0.25, "1", OURS, "One standard deviation of it."),
    Parameter(
        "slows_for_few_heads",
        0.75,
        "1",
        OURS,
        "An inverter slows down where few heads call, though not quite as far as they are few: its speed goes with this "
        "power of their share of the capacity, and what is uncertain of it with the square root.",
    ),
)  # fmt: skip

_BY_NAME = {one.name: one for one in PARAMETERS}
TON = to_si(12_000, "Btu/h", Kind.POWER)
_KINDS = {
    "degF": Kind.TEMPERATURE,
    "delta_degF": Kind.TEMPERATURE_DIFFERENCE,
    "psi": Kind.PRESSURE_DIFFERENCE,
    "ft": Kind.LENGTH,
    "cfm": Kind.AIR_FLOW,
    "gpm": Kind.WATER_FLOW,
}
_FACTORS = {"L": 1e-3, "kJ": 1e3, "kg": 1.0, "W": 1.0, "s": 1.0}
_ALREADY = {"1", "V", "W/(K m) at 1 ton", "W/K at 1 ton"}


@cache
def of(name: str) -> float:
    """The value of a parameter in SI: K, Pa, m, m³/s; what is for a ton is for a watt. KeyError where there is none."""
    one = _BY_NAME[name]
    unit, _, per = one.unit.partition("/")
    if one.unit in _ALREADY:
        return one.value
    if one.unit == "W/cfm":
        return one.value / to_si(1, "cfm", Kind.AIR_FLOW)
    by = TON if "ton" in per else 1.0
    if unit in _FACTORS:
        return one.value * _FACTORS[unit] / by
    return to_si(one.value, unit, _KINDS[unit]) / by


def shown_of(one: Parameter) -> str:
    """Its value with its unit, as people write it."""
    symbol = {"1": "", "degF": "°F", "delta_degF": "°F"}.get(one.unit, one.unit)
    return f"{one.value:g} {symbol}".strip()


def standing_of(name: str) -> str:
    """What a parameter is and where it is from, in words; KeyError where there is none of that name."""
    one = _BY_NAME[name]
    return f"{one.reason.rstrip('.')}: {shown_of(one)} [{one.standing}]"

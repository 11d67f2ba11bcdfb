"""Indicators: figures computed from the readings of one run, each with its uncertainty.

An indicator that lacks a reading is absent. To add one, write it in the module of its subject and
name it in ``INDICATORS``; a test asks for its page in docs/indicators.md.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from uncertainties import UFloat

from icepick.core.circuit.context import RunContext
from icepick.core.indicators import balance, compressor, exchange, metering, refrigerant, valve
from icepick.core.properties.quantities import Kind


@dataclass(frozen=True, slots=True)
class IndicatorRule:
    """How an indicator is named in documents and on screen, what kind of number it is, how it is computed [SI]."""

    name: str
    title: str
    kind: Kind
    compute: Callable[[RunContext], UFloat | None]


INDICATORS: tuple[IndicatorRule, ...] = (
    IndicatorRule("valve_position_index", "slide position", Kind.RATIO, valve.position_index),
    IndicatorRule("valve_suction_rise", "suction rise", Kind.TEMPERATURE_DIFFERENCE, valve.suction_rise),
    IndicatorRule(
        "valve_discharge_drop", "discharge drop", Kind.TEMPERATURE_DIFFERENCE, valve.discharge_drop
    ),
    IndicatorRule("valve_bypass_fraction", "bypassing in the valve", Kind.SHARE, valve.bypass_fraction),
    IndicatorRule("compression_ratio", "compression ratio", Kind.RATIO, compressor.compression_ratio),
    IndicatorRule(
        "evaporating_temperature", "evaporating", Kind.TEMPERATURE, refrigerant.evaporating_temperature
    ),
    IndicatorRule(
        "condensing_temperature", "condensing", Kind.TEMPERATURE, refrigerant.condensing_temperature
    ),
    IndicatorRule("superheat", "superheat", Kind.TEMPERATURE_DIFFERENCE, refrigerant.superheat),
    IndicatorRule(
        "total_superheat",
        "superheat at the compressor",
        Kind.TEMPERATURE_DIFFERENCE,
        refrigerant.total_superheat,
    ),
    IndicatorRule("subcooling", "subcooling", Kind.TEMPERATURE_DIFFERENCE, refrigerant.subcooling),
    IndicatorRule(
        "active_meter_drop",
        "drop across the active device",
        Kind.TEMPERATURE_DIFFERENCE,
        metering.active_meter_drop,
    ),
    IndicatorRule(
        "bypassed_meter_drop",
        "drop across the bypassed device",
        Kind.TEMPERATURE_DIFFERENCE,
        metering.bypassed_meter_drop,
    ),
    IndicatorRule(
        "drier_drop", "drop across the filter drier", Kind.TEMPERATURE_DIFFERENCE, metering.drier_drop
    ),
    IndicatorRule("flash_fraction", "flash gas", Kind.SHARE, refrigerant.flash_fraction),
    IndicatorRule(
        "pressure_before_flash",
        "pressure before flash",
        Kind.PRESSURE_DIFFERENCE,
        refrigerant.pressure_before_flash,
    ),
    IndicatorRule(
        "evaporator_split", "evaporator TD", Kind.TEMPERATURE_DIFFERENCE, exchange.evaporator_split
    ),
    IndicatorRule(
        "condenser_split", "condenser split", Kind.TEMPERATURE_DIFFERENCE, exchange.condenser_split
    ),
    IndicatorRule("air_capacity", "heat by air", Kind.POWER, exchange.air_capacity),
    IndicatorRule("water_capacity", "heat by water", Kind.POWER, exchange.water_capacity),
    IndicatorRule("frost_margin", "frost margin", Kind.TEMPERATURE_DIFFERENCE, exchange.frost_margin),
    IndicatorRule(
        "evaporator_heat_refrigerant", "evaporator heat by refrigerant", Kind.POWER, balance.evaporator_heat
    ),
    IndicatorRule(
        "condenser_heat_refrigerant", "condenser heat by refrigerant", Kind.POWER, balance.condenser_heat
    ),
    IndicatorRule("heat_balance", "heat balance", Kind.SHARE, balance.heat_balance),
    IndicatorRule("compressor_power", "compressor power", Kind.ELECTRICAL_POWER, balance.compressor_power),
    IndicatorRule("compressor_current_share", "compressor current", Kind.SHARE, compressor.current_share),
    IndicatorRule(
        "compressor_isentropic_share", "isentropic efficiency", Kind.SHARE, compressor.isentropic_share
    ),
)

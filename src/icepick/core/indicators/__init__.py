"""Indicators: figures computed from the readings of one run, each with its uncertainty.

An indicator that lacks a reading is absent. To add one, write it in the module of its subject and
name it in ``INDICATORS``; a test asks for its page in docs/indicators.md.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from uncertainties import UFloat

from icepick.core.context import RunContext
from icepick.core.indicators import compressor, exchange, metering, refrigerant, valve
from icepick.core.quantities import Kind


@dataclass(frozen=True, slots=True)
class IndicatorRule:
    """How an indicator is named, what kind of number it is and how it is computed [SI]."""

    name: str
    kind: Kind
    compute: Callable[[RunContext], UFloat | None]


INDICATORS: tuple[IndicatorRule, ...] = (
    IndicatorRule("valve_position_index", Kind.RATIO, valve.position_index),
    IndicatorRule("valve_suction_rise", Kind.TEMPERATURE_DIFFERENCE, valve.suction_rise),
    IndicatorRule("valve_discharge_drop", Kind.TEMPERATURE_DIFFERENCE, valve.discharge_drop),
    IndicatorRule("valve_bypass_fraction", Kind.SHARE, valve.bypass_fraction),
    IndicatorRule("compression_ratio", Kind.RATIO, compressor.compression_ratio),
    IndicatorRule("evaporating_temperature", Kind.TEMPERATURE, refrigerant.evaporating_temperature),
    IndicatorRule("condensing_temperature", Kind.TEMPERATURE, refrigerant.condensing_temperature),
    IndicatorRule("superheat", Kind.TEMPERATURE_DIFFERENCE, refrigerant.superheat),
    IndicatorRule("total_superheat", Kind.TEMPERATURE_DIFFERENCE, refrigerant.total_superheat),
    IndicatorRule("subcooling", Kind.TEMPERATURE_DIFFERENCE, refrigerant.subcooling),
    IndicatorRule("active_meter_drop", Kind.TEMPERATURE_DIFFERENCE, metering.active_meter_drop),
    IndicatorRule("bypassed_meter_drop", Kind.TEMPERATURE_DIFFERENCE, metering.bypassed_meter_drop),
    IndicatorRule("drier_drop", Kind.TEMPERATURE_DIFFERENCE, metering.drier_drop),
    IndicatorRule("flash_fraction", Kind.SHARE, refrigerant.flash_fraction),
    IndicatorRule("pressure_before_flash", Kind.PRESSURE_DIFFERENCE, refrigerant.pressure_before_flash),
    IndicatorRule("evaporator_split", Kind.TEMPERATURE_DIFFERENCE, exchange.evaporator_split),
    IndicatorRule("condenser_split", Kind.TEMPERATURE_DIFFERENCE, exchange.condenser_split),
    IndicatorRule("air_capacity", Kind.POWER, exchange.air_capacity),
    IndicatorRule("water_capacity", Kind.POWER, exchange.water_capacity),
    IndicatorRule("frost_margin", Kind.TEMPERATURE_DIFFERENCE, exchange.frost_margin),
    IndicatorRule("compressor_current_share", Kind.SHARE, compressor.current_share),
    IndicatorRule("compressor_isentropic_share", Kind.SHARE, compressor.isentropic_share),
)

"""What the water side says: four readings, before any gauge. [the-trade.md 5]"""

from __future__ import annotations

from icepick.core.checks.water import PORTS, stated_heat
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import at_full_load, load_noted
from icepick.core.diagnosis.evidence import Checks, Feature, Spot, in_operation
from icepick.core.document.examination import Check
from icepick.core.indicators import exchange
from icepick.core.machine.parameters import of


def _on_water(context: RunContext) -> bool:
    return in_operation(context) and context.unit.source == "water"


def _check(context: RunContext, checks: Checks) -> Check | None:
    return checks.get("water.extraction" if context.running == "heating" else "water.rejection")


def gauges_too_early(context: RunContext, checks: Checks) -> bool:
    """On a water source gauges are hooked up only once the water side falls short of the manufacturer's figure. [common
    practice; the-trade.md 5]

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    checks : Checks
        The checks that rest on readings which may carry a judgement, by code.

    Returns
    -------
    bool
        False where the source is air.
    """
    check = _check(context, checks)
    return has_figure(context) and (check is None or check.status != "fail")


def _heat(context: RunContext, checks: Checks) -> str | None:
    check = _check(context, checks)
    if check is None or check.measured is None or check.limit is None:
        return None
    return "too much" if _too_much(check) else {"pass": "right", "fail": "short"}.get(check.status)


def _too_much(check: Check | None) -> bool:
    """Watched though it is well over its limit: more heat than the machine can move. Flow or thermometer is off, and
    neither tells anything else."""
    if check is None or check.measured is None or check.margin is None:
        return False
    return check.status == "watch" and check.margin > check.measured.uncertainty


def _spots(context: RunContext) -> list[Spot]:
    """Both temperatures, and the flow: by the ports' pressures where the maker gave a table."""
    spots: list[Spot] = [(port, "temperature") for port in PORTS]
    if exchange.water_flow(context, "source") is not None:
        return spots
    if context.unit.design and context.unit.design.water_flow_table:
        return [*spots, *((port, "pressure") for port in PORTS)]
    return [*spots, ("source_water", "flow")]


def has_figure(context: RunContext) -> bool:
    """Whether it can be said what heat the source water should carry in this mode.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        True where there is something to hold the water to.
    """
    mode = context.commanded
    return (
        _on_water(context)
        and mode is not None
        and (stated_heat(context, mode) is not None or context.unit.nominal_capacity is not None)
        and (at_full_load(context) or load_noted(context))
    )


WATER_HEAT = Feature(
    "heat of the source water",
    ("right", "short", "too much"),
    {
        "right": "the water side moves the heat that is expected",
        "short": "the water side moves too little heat",
        "too much": "the water side seems to move more heat than the machine can",
    },
    "Four water readings say whether the machine works before a gauge is hooked up.",
    {
        "none": (0.93, 0.04, 0.03),
        "reading_suspect": (0.30, 0.10, 0.60),
        "source_water_flow_low": (0.15, 0.83, 0.02),
        "source_coil_fouled": (0.15, 0.83, 0.02),
        "undercharge": (0.20, 0.78, 0.02),
        "active_meter_underfeeding": (0.20, 0.78, 0.02),
        "liquid_line_restriction": (0.20, 0.78, 0.02),
        "bypass_stuck_closed": (0.20, 0.78, 0.02),
        "valve_bypassing/a little": (0.74, 0.24, 0.02),
        "valve_bypassing": (0.25, 0.73, 0.02),
        "compressor_weak": (0.04, 0.94, 0.02),
        "active_meter_overfeeding": (0.60, 0.38, 0.02),
        "coil_circuit_starved": (0.45, 0.53, 0.02),
        "undercharge/a little": (0.60, 0.38, 0.02),
        "others": (0.84, 0.14, 0.02),
    },
    _heat,
    _spots,
    has_figure,
)


def _difference(context: RunContext, checks: Checks) -> str | None:
    before, after = (context.temperature(port) for port in PORTS)
    if before is None or after is None or _too_much(_check(context, checks)):
        return None
    moved = exchange.same_probe(context, before, after)
    change, band = abs(float(moved.nominal_value)), float(moved.std_dev)
    wide, small = context.practice.si("water_difference"), context.practice.si("water_difference_small")
    if change - band > wide:
        return "large"
    if change + band < small:
        return "small"
    return "usual" if small <= change <= wide else None


WATER_DIFFERENCE = Feature(
    "change of the source water",
    ("small", "usual", "large"),
    {
        "small": "the source water hardly changes",
        "usual": "the source water changes as is normal",
        "large": "the source water changes more than normal: too little of it flows",
    },
    "Low flow makes the water's own change grow; a fouled coil keeps it small.",
    {
        "none": (0.03, 0.94, 0.03),
        "source_water_flow_low": (0.01, 0.24, 0.75),
        "source_coil_fouled": (0.40, 0.59, 0.01),
        "compressor_weak": (0.80, 0.19, 0.01),
        "undercharge": (0.35, 0.64, 0.01),
        "active_meter_underfeeding": (0.35, 0.64, 0.01),
        "liquid_line_restriction": (0.35, 0.64, 0.01),
        "bypass_stuck_closed": (0.35, 0.64, 0.01),
        "valve_bypassing/a little": (0.10, 0.87, 0.03),
        "valve_bypassing": (0.35, 0.64, 0.01),
        "undercharge/a little": (0.12, 0.85, 0.03),
        "others": (0.08, 0.89, 0.03),
    },
    _difference,
    lambda context: [(port, "temperature") for port in PORTS],
    _on_water,
)


def _flow(context: RunContext, checks: Checks) -> str | None:
    flow, nominal = exchange.water_flow(context, "source"), context.unit.nominal_capacity
    if flow is None or nominal is None or _too_much(_check(context, checks)):
        return None
    usual = of("water_flow") * nominal.si
    share = flow.value / usual
    least = context.practice.si("water_flow_low")
    if abs(share.nominal_value - least) <= share.std_dev:
        return None
    return "low" if share.nominal_value < least else "usual"


WATER_FLOW = Feature(
    "flow of the source water",
    ("low", "usual"),
    {
        "low": "far less source water flows than is normal for this capacity",
        "usual": "the source water flows as is normal",
    },
    "Flow that is normal leaves the coil, the charge and the metering device.",
    {"source_water_flow_low": (0.85, 0.15), "others": (0.05, 0.95)},
    _flow,
    _spots,
    _on_water,
)

FEATURES: tuple[Feature, ...] = (WATER_HEAT, WATER_DIFFERENCE, WATER_FLOW)

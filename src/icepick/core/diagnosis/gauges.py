"""When gauges are hooked up: every hook-up costs refrigerant and invites contamination. [the-trade.md 1 and 5]"""

from __future__ import annotations

from icepick.core.checks.water import stated_heat
from icepick.core.circuit.context import RunContext
from icepick.core.circuit.load import at_full_load, load_noted
from icepick.core.diagnosis.evidence import Checks, in_operation


def _on_water(context: RunContext) -> bool:
    return in_operation(context) and context.unit.source == "water"


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
    check = checks.get("water.extraction" if context.running == "heating" else "water.rejection")
    return has_figure(context) and (check is None or check.status != "fail")


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

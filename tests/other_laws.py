"""Machines that keep other laws than the product's own model: what one model diagnoses must hold for another's machines.

Vapor runs twice as fast as the liquid whatever the pressure [Rigot 1973, from memory]; the compressor's efficiency falls in
proportion from its best, and half as much gas again is left in its clearance [our own choice].
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

import numpy as np

from icepick.core.machine import charge, compressor, cycle, expected, sizing
from icepick.core.prediction import foretold, unread

SLIP, FALL, CLEARANCE = 2.0, 0.12, 1.5


def _mixture_density(sat: Any, quality_from: Any, quality_to: Any) -> Any:
    low, high = np.minimum(quality_from, quality_to), np.maximum(quality_from, quality_to)
    high = np.maximum(high, low + 1e-3)
    slip = SLIP * sat.vapor_density / sat.liquid_density
    rest = 1 - slip
    filled = (high - low) / rest - slip / rest**2 * np.log((slip + rest * high) / (slip + rest * low))
    return sat.liquid_density + filled / (high - low) * (sat.vapor_density - sat.liquid_density)


def _compress(
    part: Any, states: Any, suction: Any, enthalpy: Any, discharge: Any, ratio: Any, *more: Any
) -> Any:
    speed, ambient, changed = more
    off = np.log(ratio / part.best_ratio)
    ours = np.maximum(1 - part.efficiency_fall * off * off, compressor.LEAST_EFFICIENCY)
    linear = 1 - FALL * np.abs(ratio - part.best_ratio) / part.best_ratio
    return compressor.compress(
        replace(part, clearance=CLEARANCE * part.clearance),
        states,
        suction,
        enthalpy,
        discharge,
        ratio,
        speed,
        ambient,
        replace(changed, efficiency=changed.efficiency * linear / ours),
    )


@contextmanager
def other_laws() -> Iterator[None]:
    """Machines sized and solved in here keep them. Nothing may be examined in here."""
    kept = charge.mixture_density, cycle.compress
    forget_solved()
    charge.mixture_density, cycle.compress = _mixture_density, _compress
    try:
        yield
    finally:
        charge.mixture_density, cycle.compress = kept
        forget_solved()


def forget_solved() -> None:
    for module, name in SOLVED:
        getattr(module, name).cache_clear()


SOLVED = (
    (sizing, "_sized"),
    (sizing, "_calling"),
    (expected, "_predicted"),
    (expected, "_unknown_of"),
    (expected, "_at_rating"),
    (foretold, "_foretold"),
    (unread, "_tried"),
)
"""What is remembered of machines, by what is written of their units; whose laws they keep is not written there."""

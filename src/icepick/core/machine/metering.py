"""The metering device at work: how far it stands open and what passes it.

Flow = area × √(2 ρ Δp), ρ that of what arrives, so that flash gas before the device costs flow. In an orifice the flow chokes
where liquid begins to flash inside it: the pressure it falls to is not under a share of the saturation pressure of what
arrives, and flow grows with subcooling. [form after Aaron and Domanski (1990) on short tubes; the share from memory]
A valve opens with the superheat at its bulb, in proportion, between shut and its widest. [common practice: static and opening
superheat]
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.parts import Meter
from icepick.core.machine.variation import Variation

Array = NDArray[np.float64]

CHOKED_SHARE = 0.85
"""Pressure inside a choked orifice over the saturation pressure of what arrives. [from memory]"""
ORIFICES = frozenset({"piston", "capillary"})
SOFT = 0.1
"""Over how much of its rated area a valve passes from shut to steered, and from steered to wide open. [our own choice]"""
LEAST_OPENING = 1e-4
"""No valve shuts quite tight. [our own choice]"""


def opening(meter: Meter, superheat: Array, changed: Variation) -> Array:
    """How far it stands open, over its area at rating, at a superheat [K] under its bulb."""
    left = 1 - changed.closed_off
    if meter.kind in ORIFICES:
        return np.maximum(changed.opening * left, changed.least_opening) + 0 * superheat
    band = (meter.superheat - meter.static_superheat) * changed.band
    steered = 1 + (superheat - meter.superheat - changed.superheat_shift) / band
    steered = SOFT * np.logaddexp(0.0, steered / SOFT)
    widest = meter.widest * left
    steered = widest - SOFT * np.logaddexp(0.0, (widest - steered) / SOFT)
    return np.maximum(np.maximum(steered, LEAST_OPENING) * changed.opening, changed.least_opening)


def flow(
    meter: Meter, opened: Array, density: Array, arriving: Array, leaving: Array, saturation: Array
) -> Array:
    """What passes [kg/s].

    Parameters
    ----------
    meter : Meter
        The device.
    opened : Array
        Over its area at rating.
    density : Array
        Of what arrives [kg/m³].
    arriving, leaving : Array
        Pressures before and behind it [Pa].
    saturation : Array
        Pressure at which what arrives begins to boil, at most the one it arrives with [Pa].

    Returns
    -------
    Array
        [kg/s].
    """
    lowest = np.maximum(leaving, CHOKED_SHARE * saturation) if meter.kind in ORIFICES else leaving
    drop = arriving - lowest
    # Straight through nothing: the root has no slope there.
    small = 2e3
    root = np.where(drop > small, np.sqrt(np.maximum(drop, small)), np.maximum(drop, 0.0) / np.sqrt(small))
    return meter.area * opened * np.sqrt(2 * density) * root

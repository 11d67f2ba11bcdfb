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
LEAST_OPENING = 0.02
"""No valve shuts quite tight while it is steered. [our own choice; also keeps the solver's way back]"""


def opening(meter: Meter, superheat: Array, changed: Variation) -> Array:
    """How far it stands open, over its area at rating, at a superheat [K] under its bulb."""
    if meter.kind in ORIFICES:
        steered = 1.0 + 0 * superheat
    else:
        band = (meter.superheat - meter.static_superheat) * changed.band
        steered = 1 + (superheat - meter.superheat - changed.superheat_shift) / band
        steered = SOFT * np.logaddexp(0.0, steered / SOFT)
        steered = meter.widest - SOFT * np.logaddexp(0.0, (meter.widest - steered) / SOFT)
    return np.minimum(np.maximum(steered * changed.opening, changed.least_opening), changed.most_opening)


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

"""The compressor: what it moves, what it draws, how hot the gas leaves.

- Flow = displacement × speed × filling × (1 − c·(r^(1/n) − 1)) × suction density: what is left in the clearance expands
  before new gas comes in. [ASHRAE Handbook Systems and Equipment, chapter on compressors, from memory]
- Power = flow × isentropic rise ÷ efficiency, which is best at one pressure ratio and falls with the squared logarithm of the
  distance from it; motor and shaft losses are in it. [shape of published compressor maps, from memory]
- Shell and discharge line lose heat to the air around them; the rest of the power leaves with the gas. [energy balance]
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from icepick.core.machine.parts import Compressor
from icepick.core.machine.variation import Variation
from icepick.core.properties.states import Saturated, States

Array = NDArray[np.float64]

LEAST_FILLING, LEAST_EFFICIENCY = 0.05, 0.15
"""Under these a formula fitted to working compressors means nothing; held there so that the solver finds its way back."""


@dataclass(frozen=True, slots=True)
class Compressed:
    """Flow [kg/s], enthalpy at the discharge [J/kg], electrical power [W], and heat lost around [W]."""

    flow: Array
    enthalpy: Array
    power: Array
    lost: Array
    suction_density: Array
    temperature: Array
    """At the discharge, by a mean heat capacity: near enough for what it gives to the air around [K]."""


def compress(
    part: Compressor,
    states: States,
    suction: Saturated,
    enthalpy: Array,
    discharge: Saturated,
    ratio: Array,
    speed: Array,
    ambient: Array,
    changed: Variation,
) -> Compressed:
    """Compress what comes in.

    Parameters
    ----------
    part : Compressor
        Its numbers.
    states : States
        The refrigerant.
    suction, discharge : Saturated
        Saturation at the inlet and outlet pressure.
    enthalpy : Array
        At the inlet [J/kg].
    ratio : Array
        Outlet over inlet pressure.
    speed : Array
        Over full speed.
    ambient : Array
        Temperature of the air around it [K].
    changed : Variation
        How it differs from the one sized.

    Returns
    -------
    Compressed
        Arrays of the inputs' shape.
    """
    _, density, entropy = states.suction(suction, enthalpy)
    reexpanded = part.clearance * (np.power(ratio, 1 / part.expansion_exponent) - 1)
    filling = np.maximum(part.filling * (1 - reexpanded), LEAST_FILLING)
    flow = part.displacement * changed.displacement * speed * filling * density
    off_best = np.log(ratio / part.best_ratio)
    best = part.efficiency * changed.efficiency
    efficiency = best * np.maximum(1 - part.efficiency_fall * off_best * off_best, LEAST_EFFICIENCY)
    rise = (states.compressed(discharge, entropy) - enthalpy) / efficiency
    ideal = enthalpy + rise
    hot = discharge.dew + np.maximum(ideal - discharge.vapor, 0) / discharge.vapor_heat
    lost = np.minimum(part.shell_loss * np.maximum(hot - ambient, 0), 0.5 * flow * rise)
    return Compressed(
        flow, ideal - lost / flow, flow * rise, lost, density, hot - lost / (flow * discharge.vapor_heat)
    )

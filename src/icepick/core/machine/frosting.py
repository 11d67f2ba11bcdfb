"""Frost on an outdoor coil, second by second: what the air brings, what melts, and what it does to the air's way.

Balances: water that leaves the air lies on the coil or has drained; heat that reaches the metal warms it, melts ice, or goes
with the refrigerant. The heat that ice and water themselves take up between freezing and the coil is left out: some per cent
of what melting takes.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from icepick.core.machine.air import saturated_air
from icepick.core.machine.parameters import of
from icepick.core.machine.parts import Machine

FREEZING = 273.15
SUBLIMATION, FUSION = 2.834e6, 0.334e6
"""Heat [J/kg] that vapor gives off as it turns to ice, and that ice takes up as it melts, at 0 °C. [handbook, from memory]"""


@dataclass(slots=True)
class Balance:
    """Heat [J] and water [kg] since the start. ``air`` is heat from the air, latent heat included; ``refrigerant`` what it
    took; ``metal`` what the metal stored; ``melted`` what melting took."""

    air: float = 0.0
    refrigerant: float = 0.0
    metal: float = 0.0
    melted: float = 0.0
    taken: float = 0.0
    drained: float = 0.0


@dataclass(slots=True)
class FrostedCoil:
    """An outdoor coil as one lump of metal with frost on it.

    ``metal`` [K] is its temperature, ``frost`` [kg] what lies on it, ``capacity`` [J/K] and ``full`` [kg] what its metal
    takes up and what closes it, ``melting`` [W/K] its conductance to ice that melts.
    """

    metal: float
    frost: float
    capacity: float
    full: float
    melting: float
    balance: Balance = field(default_factory=Balance)

    @property
    def blocked(self) -> float:
        """Share of its air that frost keeps from it."""
        share: float = min(self.frost / self.full, MOST_FROST) ** of("frost_blocking")
        return share

    def step(
        self,
        seconds: float,
        *,
        refrigerant: float,
        conductance: float,
        air: float,
        dry_air: float,
        water: float,
        atmosphere: float,
    ) -> None:
        """Go on by a little.

        Parameters
        ----------
        seconds : float
            How long [s]; short against the coil's own time.
        refrigerant : float
            Heat the refrigerant takes from the metal; negative where it gives heat [W].
        conductance : float
            From the air to the metal, by what the air can give [W/K].
        air : float
            Temperature of the air [K].
        dry_air : float
            Dry air that meets the metal [kg/s].
        water : float
            Its humidity ratio [kg/kg].
        atmosphere : float
            Its pressure [Pa].
        """
        sensible = conductance * (air - self.metal) * seconds
        fins = self.metal + of("frost_surface") * max(0.0, air - self.metal)
        left = float(saturated_air(atmosphere).ratio(np.array(fins)))
        grown = dry_air * max(0.0, water - left) * seconds if fins < FREEZING else 0.0
        grown = min(grown, max(0.0, MOST_FROST * self.full - self.frost))
        melted = 0.0
        if self.metal > FREEZING and self.frost > 0:
            covered = min(1.0, self.frost / (of("frost_covers") * self.full))
            melted = min(self.melting * covered * (self.metal - FREEZING) * seconds / FUSION, self.frost)
        latent, took = grown * SUBLIMATION, refrigerant * seconds
        warmed = sensible + latent - took - melted * FUSION
        self.metal += warmed / self.capacity
        self.frost += grown - melted
        balance = self.balance
        balance.air += sensible + latent
        balance.refrigerant += took
        balance.metal += warmed
        balance.melted += melted * FUSION
        balance.taken += grown
        balance.drained += melted


MOST_FROST = 0.96
"""Of what would close the coil: the last of the air finds its way."""


def frosted_coil(machine: Machine, metal: float, frost: float) -> FrostedCoil:
    """The outdoor coil of a machine.

    Parameters
    ----------
    machine : Machine
        The unit with numbers.
    metal : float
        Its temperature at the start [K].
    frost : float
        Share of what closes it that lies on it at the start.

    Returns
    -------
    FrostedCoil
        Sized by the machine's capacity.
    """
    watts = machine.rated.capacity
    full = of("frost_full") * watts
    return FrostedCoil(metal, frost * full, of("coil_metal") * watts, full, of("melting_conductance") * watts)

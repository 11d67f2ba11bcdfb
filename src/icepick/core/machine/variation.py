"""How a machine differs from the one sized: by what nobody knows of it, or by a fault. Both turn the same knobs.

Every knob stands at rest unless said otherwise; each is a number or an array over a batch of states. A fault acts on a part
through its knob, never on what comes out.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Value = float | Array


@dataclass(frozen=True, slots=True)
class Variation:
    """The knobs. Those that multiply rest at 1; those that add, at 0."""

    displacement: Value = 1.0
    """× what the compressor moves."""
    efficiency: Value = 1.0
    """× how well it compresses."""
    indoor_flow: Value = 1.0
    outdoor_flow: Value = 1.0
    """× air or water over the coil."""
    indoor_conductance: Value = 1.0
    outdoor_conductance: Value = 1.0
    """× conductance on either side of the coil's metal."""
    charge: Value = 1.0
    """× refrigerant in the circuit."""
    opening: Value = 1.0
    """× flow area of the device at work."""
    superheat_shift: Value = 0.0
    """+ K on the superheat the device holds."""
    band: Value = 1.0
    """× superheat over which a valve opens."""
    least_opening: Value = 0.0
    """Area, over that at rating, that stays open whatever steers it."""
    closed_off: Value = 0.0
    """Share of the device's greatest area that is closed off."""
    check_open: Value = 1.0
    """Share of the idle device's way round that opens."""
    restriction: Value = 0.0
    """+ Pa lost in the liquid line at rated flow."""
    air_pressure: Value = 0.0
    """+ Pa of noncondensable gas in the condenser."""
    bypass: Value = 0.0
    """Share of the compressor's flow that the reversing valve lets through to its suction."""
    starved: Value = 0.0
    """Share of its flow that one circuit of the evaporator lacks."""
    indoor_volume: Value = 1.0
    """× what the indoor coil holds."""
    valve_heat: Value = 1.0
    """× heat conducted in the reversing valve's body."""
    line_heat: Value = 1.0
    """× conductance of the lines' insulation."""
    current: Value = 1.0
    """× current for each watt."""

    def named(self) -> Mapping[str, Value]:
        """Knob → value."""
        return {field.name: getattr(self, field.name) for field in fields(self)}

    def and_also(self, other: Variation) -> Variation:
        """Both at once: factors multiply, additions add, limits narrow."""
        mine, theirs = self.named(), other.named()
        return Variation(**{name: _COMBINE.get(name, np.multiply)(mine[name], theirs[name]) for name in mine})

    def part_way(self, share: float) -> Variation:
        """So far from rest: factors by their power, what is added by its part."""
        return Variation(
            **{
                name: value * share if _AT_REST[name] == 0 else np.power(value, share)
                for name, value in self.named().items()
            }
        )

    def at(self, where: NDArray[np.intp] | NDArray[np.bool_]) -> Variation:
        """The variation of some states of the batch."""
        return Variation(
            **{
                name: value[where] if isinstance(value, np.ndarray) and value.ndim else value
                for name, value in self.named().items()
            }
        )


_COMBINE = {
    "superheat_shift": np.add,
    "restriction": np.add,
    "air_pressure": np.add,
    "bypass": np.maximum,
    "starved": np.maximum,
    "least_opening": np.maximum,
    "closed_off": np.maximum,
    "check_open": np.minimum,
}
AT_REST = Variation()
_AT_REST = AT_REST.named()


def batch(variations: Iterable[Variation]) -> Variation:
    """One batch of several variations, in their order."""
    rows = [one.named() for one in variations]
    return Variation(**{name: np.array([row[name] for row in rows], dtype=np.float64) for name in rows[0]})

"""What nobody knows of a sized machine, each with its spread: one list for every unit, narrower where something is stated.

An unknown turns a knob; one unit of it is one standard deviation. All are taken as independent of each other, and as the same
in every run of a unit. Standing: our own choice throughout, from how far machines of one nameplate lie apart.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from icepick.core.document.heads import OneLine
from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.machine.variation import Variation

CHARGE = "charge"


@dataclass(frozen=True, slots=True)
class Unknown:
    """One of them: its name and title, how far it spreads and in what, why, and what it turns (a spread → the machine)."""

    name: str
    title: str
    spread: float
    unit: str
    reason: str
    turned: Callable[[float], Variation]

    def at(self, deviations: float) -> Variation:
        """The machine with this unknown so many standard deviations off."""
        return self.turned(deviations * self.spread)


def _grown(knob: str) -> Callable[[float], Variation]:
    """A knob that multiplies: spreads are of its logarithm."""
    return lambda by: Variation(**{knob: float(np.exp(by))})


_ALWAYS: tuple[Unknown, ...] = (
    Unknown(
        "displacement",
        "what the compressor moves",
        0.04,
        "share",
        "Compressors of one nameplate, and wear.",
        _grown("displacement"),
    ),
    Unknown(
        "efficiency",
        "how well it compresses",
        0.06,
        "share",
        "Compressors of one size differ, by age and manufacturer.",
        _grown("efficiency"),
    ),
    Unknown(
        "indoor_conductance",
        "conductance of the indoor coil",
        0.20,
        "share",
        "The manufacturer built it larger or smaller than its nameplate calls for.",
        _grown("indoor_conductance"),
    ),
    Unknown(
        "outdoor_conductance",
        "conductance of the outdoor coil",
        0.20,
        "share",
        "As of the indoor coil.",
        _grown("outdoor_conductance"),
    ),
    Unknown(
        "outdoor_flow",
        "air or water over the outdoor coil",
        0.12,
        "share",
        "Fan or pump, filter and fins as they are.",
        _grown("outdoor_flow"),
    ),
    Unknown(CHARGE, "charge", 0.03, "share", "Charged within some 3 °F of its target.", _grown("charge")),
    Unknown(
        "indoor_volume",
        "what the indoor coil holds",
        0.15,
        "share",
        "How much of the charge the indoor coil holds: subcooling in heating hangs on it.",
        _grown("indoor_volume"),
    ),
    Unknown(
        "line_heat",
        "heat through the lines",
        0.3,
        "share",
        "Insulation and where the lines run.",
        _grown("line_heat"),
    ),
    Unknown(
        "valve_heat",
        "heat through the valve's body",
        0.3,
        "share",
        "Between hot and cold gas in the valve's body.",
        _grown("valve_heat"),
    ),
)
_STEERED = Unknown(
    "superheat_shift",
    "superheat a valve holds",
    1.4,
    "K",
    "How a valve was set.",
    lambda by: Variation(superheat_shift=by),
)
_ORIFICE = Unknown(
    "opening", "size of the orifice", 0.06, "share", "Size of a fixed orifice.", _grown("opening")
)
_ORIFICE_IN_HEATING = replace(
    _ORIFICE, spread=0.15, reason="Size of a fixed orifice in heating, which nobody charges the unit by."
)


def unknowns(unit: Unit, orifice: bool, mode: FlowMode = "cooling") -> tuple[Unknown, ...]:
    """What is unknown of a unit, before anybody charged it.

    Parameters
    ----------
    unit : Unit
        The equipment.
    orifice : bool
        Whether a fixed orifice meters.
    mode : FlowMode
        The way the refrigerant runs.

    Returns
    -------
    tuple of Unknown
        In a fixed order.
    """
    stated = unit.design is not None and unit.design.indoor_airflow is not None
    indoor = 0.08 if stated else 0.12
    current = 0.15 if unit.compressor.rated_current is not None else 0.2
    of_unit = _ALWAYS if not isinstance(unit, OneLine) else tuple(map(_of_heads, _ALWAYS))
    return (
        *of_unit,
        Unknown(
            "indoor_flow",
            "air or water over the indoor coil",
            indoor,
            "share",
            "Blower, filter and ducts as they are.",
            _grown("indoor_flow"),
        ),
        _STEERED if not orifice else _ORIFICE if mode == "cooling" else _ORIFICE_IN_HEATING,
        Unknown(
            "current",
            "current for each watt",
            current,
            "share",
            "Current for each watt: voltage, power factor.",
            _grown("current"),
        ),
    )


def _of_heads(one: Unknown) -> Unknown:
    if one.name != CHARGE:
        return one
    reason = (
        "How much of the charge lies in heads that do not call, and in the accumulator, is anybody's guess."
    )
    return replace(one, spread=0.08, reason=reason)


MOST_MADE_UP = 5.0
"""Standard deviations of the charge at most that make up for one of another unknown."""


def charged(found: tuple[Unknown, ...], target: Mapping[str, float]) -> tuple[Unknown, ...]:
    """The same unknowns of a unit that somebody charged in cooling until it met its target.

    Whatever its coils are really like, the charge made up for it: each unknown brings the charge with it that keeps the
    target where it was.

    Parameters
    ----------
    found : tuple of Unknown
        As :func:`unknowns` gives them.
    target : mapping of str to float
        How far one standard deviation of each moves what the unit is charged by.

    Returns
    -------
    tuple of Unknown
        In the same order.
    """
    charge = next(one for one in found if one.name == CHARGE)
    per_charge = target[CHARGE]
    if abs(per_charge) < 1e-6:
        return found

    def with_charge(one: Unknown) -> Unknown:
        if one.name == CHARGE:
            return one
        made_up = min(max(-target[one.name] / per_charge, -MOST_MADE_UP), MOST_MADE_UP)

        def turned(by: float) -> Variation:
            return one.turned(by).and_also(charge.at(made_up * by / one.spread))

        return replace(one, turned=turned)

    return tuple(with_charge(one) for one in found)

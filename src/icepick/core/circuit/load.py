"""At what load a run's compressor works, and what enters its coils."""

from __future__ import annotations

from icepick.core.circuit.context import RunContext, remembered


def medium_entering(context: RunContext, coil: str) -> str:
    """The station of the air or water that enters a coil.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    coil : str
        ``indoor_coil`` or ``outdoor_coil``.

    Returns
    -------
    str
        Code of a station.
    """
    if coil == "outdoor_coil":
        return "outdoor_air_in" if context.unit.source == "air" else "source_water_in"
    return "return_air" if context.unit.load == "air" else "load_water_in"


@remembered
def at_full_load(context: RunContext) -> bool:
    """Whether the compressor is known to run at its full capacity: part load is not a weak compressor.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False also where it is not known.
    """
    if context.run.compressor_stage is not None:
        return context.run.compressor_stage == "high"
    if context.run.compressor_speed is not None:
        within = context.practice.si("full_speed_band")
        return abs(context.run.compressor_speed / 100 - 1) <= within
    return context.unit.compressor.kind == "single"


def load_noted(context: RunContext) -> bool:
    """Whether somebody noted the compressor's stage or speed in this run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    bool
        False where nobody knows at what load it ran.
    """
    return context.run.compressor_stage is not None or context.run.compressor_speed is not None

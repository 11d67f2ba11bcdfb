"""Carrying the bands of readings through a function, to first order."""

from __future__ import annotations

from collections.abc import Callable

from uncertainties import UFloat

_STEP = 1e-4


def propagate(function: Callable[..., float], *arguments: UFloat) -> UFloat:
    """The function's value with the band that its arguments give it.

    Slopes are taken by a step of one ten-thousandth of each argument; correlations are kept, and so is the memory of
    the stations. Much quicker than ``uncertainties.wrap``, which looks the function over at every call.
    """
    at = [float(argument.nominal_value) for argument in arguments]
    middle = function(*at)
    result: UFloat = arguments[0] * 0.0 + middle
    for index, argument in enumerate(arguments):
        step = abs(at[index]) * _STEP or _STEP
        moved = [*at]
        moved[index] -= step
        slope = (middle - function(*moved)) / step
        result = result + slope * (argument - at[index])
    return result

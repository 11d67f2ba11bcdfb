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
    result: UFloat | None = None
    constant = middle
    for index, argument in enumerate(arguments):
        step = abs(at[index]) * _STEP or _STEP
        moved = [*at]
        moved[index] -= step
        slope = (middle - function(*moved)) / step
        constant -= slope * at[index]
        term: UFloat = slope * argument
        result = term if result is None else result + term
    assert result is not None
    return result + constant

"""The table of one refrigerant: saturation lines, superheated vapor and subcooled liquid, read by
interpolation.

The tables are made from CoolProp by ``tools/make_tables.py`` and shipped. Saturation is kept every quarter
kelvin, ln p over 1/T. Vapor and liquid are kept as distances from their saturation line, over the saturation
temperature of their pressure and the root of the superheat or subcooling, which crowds points where
properties bend most.
"""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from io import BytesIO
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

Line = Literal["bubble", "dew"]
Array = NDArray[np.float64]
Number = Any
"""A float, or an array of them; what comes out has the same shape."""

LOWEST, HIGHEST = 213.15, 343.15
"""Range of saturation temperatures answered [K]: −60 °C to 70 °C, below every critical point here."""
MOST_SUPERHEAT, MOST_SUBCOOLING = 150.0, 60.0
"""How far from its saturation line vapor and liquid are answered [K]."""

SATURATION_TEMPERATURES: Array = np.linspace(LOWEST, HIGHEST, 521)
GRID_TEMPERATURES: Array = np.linspace(LOWEST, HIGHEST, 131)
VAPOR_STEPS: Array = np.linspace(0, MOST_SUPERHEAT**0.5, 76) ** 2
LIQUID_STEPS: Array = np.linspace(0, MOST_SUBCOOLING**0.5, 41) ** 2
_ROW_STEP = 1.0
_SLACK = 1e-6


class OutsideRangeError(ValueError):
    """The state lies outside the range the refrigerant's data are used in."""


class Table:
    """One refrigerant. Every method takes and gives SI, scalars or arrays, and refuses what lies outside."""

    def __init__(self, refrigerant: str, data: Any) -> None:
        self.refrigerant = refrigerant
        self._lines: dict[Line, Array] = {
            "bubble": data[f"{refrigerant} bubble"],
            "dew": data[f"{refrigerant} dew"],
        }
        self._log_p = {line: np.log(values[0]) for line, values in self._lines.items()}
        self._grids: dict[Line, NDArray[np.float32]] = {
            "dew": data[f"{refrigerant} vapor"],
            "bubble": data[f"{refrigerant} liquid"],
        }
        self._inverse = -1 / SATURATION_TEMPERATURES

    def pressure(self, temperature: Number, line: Line) -> Number:
        """Saturation pressure [Pa] at a temperature [K]."""
        self._within(temperature, LOWEST, HIGHEST, "−60 to 70 °C")
        return np.exp(np.interp(-1 / np.asarray(temperature), self._inverse, self._log_p[line]))

    def temperature(self, pressure: Number, line: Line) -> Number:
        """Saturation temperature [K] at a pressure [Pa]."""
        logs, ends = self._log_p[line], self._lines[line][0]
        if not _inside(pressure, ends[0], ends[-1]):
            raise OutsideRangeError(
                f"{self.refrigerant} has no {line} point at {np.max(pressure) / 1000:.0f} kPa between "
                "−60 and 70 °C"
            )
        return -1 / np.interp(np.log(pressure), logs, self._inverse)

    def saturated(self, temperature: Number, line: Line, row: int) -> Number:
        """Enthalpy (row 1), entropy (2) or density (3) on a line."""
        return np.interp(temperature, SATURATION_TEMPERATURES, self._lines[line][row])

    def beside(self, saturation: Number, distance: Number, line: Line, row: int) -> Number:
        """Enthalpy, entropy or density at a distance [K] from the line, at that line's pressure."""
        name = "superheat" if line == "dew" else "subcooling"
        most = MOST_SUPERHEAT if line == "dew" else MOST_SUBCOOLING
        self._within(distance, 0, most, f"0 to {most:.0f} K of {name}")
        grid = self._grids[line][row - 1]
        columns = grid.shape[1]
        x = (saturation - LOWEST) / _ROW_STEP
        y = np.sqrt(np.maximum(distance, 0) / most) * (columns - 1)
        i, j = _cell(x, grid.shape[0]), _cell(y, columns)
        u, v = x - i, y - j
        value = (
            grid[i, j] * (1 - u) * (1 - v)
            + grid[i + 1, j] * u * (1 - v)
            + grid[i, j + 1] * (1 - u) * v
            + grid[i + 1, j + 1] * u * v
        )
        if np.any(np.isnan(value)):
            raise OutsideRangeError(f"{self.refrigerant} is not known this cold")
        base = self.saturated(saturation, line, row)
        return base * value if row == 3 else base + value

    def distance(self, saturation: Number, value: Number, line: Line, row: int) -> Number:
        """The inverse of :meth:`beside` for one state: the distance [K] at which ``value`` is reached."""
        grid = self._grids[line][row - 1]
        x = float(np.clip((saturation - LOWEST) / _ROW_STEP, 0, grid.shape[0] - 1 - 1e-9))
        i, u = int(x), x - int(x)
        along = grid[i].astype(float) * (1 - u) + grid[i + 1] * u
        wanted = value - self.saturated(saturation, line, row)
        rising = along if line == "dew" else -along
        if not -_SLACK <= (wanted if line == "dew" else -wanted) <= np.nanmax(rising):
            raise OutsideRangeError(f"{self.refrigerant}: the state lies outside the table")
        most = MOST_SUPERHEAT if line == "dew" else MOST_SUBCOOLING
        known = ~np.isnan(rising)
        position = np.interp(
            wanted if line == "dew" else -wanted, rising[known], np.arange(len(rising))[known]
        )
        return float((position / (len(rising) - 1)) ** 2 * most)

    def _within(self, value: Number, low: float, high: float, words: str) -> None:
        if not _inside(value, low, high):
            raise OutsideRangeError(f"{self.refrigerant} is answered for {words} only")


def _inside(value: Number, low: float, high: float) -> bool:
    slack = _SLACK * abs(high)
    if isinstance(value, float):  # Single states are asked for far more often than arrays.
        return low - slack <= value <= high + slack
    return bool(np.all((np.asarray(value) >= low - slack) & (np.asarray(value) <= high + slack)))


def _cell(position: Number, count: int) -> Any:
    """The grid cell a position falls in."""
    if isinstance(position, float):
        return min(max(int(position), 0), count - 2)
    return np.clip(np.asarray(position).astype(int), 0, count - 2)


@cache
def _shipped() -> Any:
    with files("icepick.core").joinpath("data/refrigerants.npz").open("rb") as file:
        return dict(np.load(BytesIO(file.read())))


@cache
def table(refrigerant: str) -> Table:
    """The table of a refrigerant, loaded when first asked for."""
    return Table(refrigerant, _shipped())

"""The table of one refrigerant: saturation lines, superheated vapor and subcooled liquid, read by
interpolation.

The tables are made from CoolProp by ``tools/make_tables.py`` and shipped. Saturation is kept every quarter
kelvin, ln p over 1/T. Vapor and liquid are kept as distances from their saturation line, over the saturation
temperature of their pressure and the root of the superheat or subcooling, which crowds points where
properties bend most.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from functools import cache, lru_cache
from importlib.resources import files
from io import BytesIO
from math import exp, isnan, log, sqrt
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

Line = Literal["bubble", "dew"]
Array = NDArray[np.float64]
Number = Any
"""A float, or an array of them; what comes out has the same shape."""

LOWEST = 213.15
"""The coldest saturation temperature answered [K]: −60 °C. The warmest is each refrigerant's own."""
MOST_SUPERHEAT, MOST_SUBCOOLING = 150.0, 60.0
"""How far from its saturation line vapor and liquid are answered [K]."""

VAPOR_STEPS: Array = np.linspace(0, MOST_SUPERHEAT**0.5, 76) ** 2
LIQUID_STEPS: Array = np.linspace(0, MOST_SUBCOOLING**0.5, 41) ** 2
SATURATION_STEP, ROW_STEP = 0.25, 1.0
"""Distance [K] between the points of a saturation line, and between the rows of the grids beside it."""
_SLACK = 1e-6


class OutsideRangeError(ValueError):
    """The state lies outside the range the refrigerant's data are used in."""


class Curve:
    """A line through points, both ends held, for single numbers and for arrays.

    Single states are asked for by the hundred in one examination, where a look-up through NumPy costs ten times that
    of a plain list.
    """

    def __init__(self, x: Array, y: Array) -> None:
        self._x, self._y = x, y
        self._xs, self._ys = x.tolist(), y.tolist()

    def __call__(self, at: Number) -> Number:
        if not isinstance(at, float):
            return np.interp(at, self._x, self._y)
        xs, ys = self._xs, self._ys
        if not xs[0] < at < xs[-1]:
            return ys[0] if at <= xs[0] else ys[-1]
        i = bisect_right(xs, at)
        return ys[i - 1] + (at - xs[i - 1]) / (xs[i] - xs[i - 1]) * (ys[i] - ys[i - 1])


class Table:
    """One refrigerant. Every method takes and gives SI, scalars or arrays, and refuses what lies outside."""

    def __init__(self, refrigerant: str, data: Any) -> None:
        self.refrigerant = refrigerant
        lines: dict[Line, Array] = {
            "bubble": data[f"{refrigerant} bubble"],
            "dew": data[f"{refrigerant} dew"],
        }
        temperatures: Array = LOWEST + SATURATION_STEP * np.arange(lines["dew"].shape[1], dtype=np.float64)
        self.highest = float(temperatures[-1])
        """The warmest saturation temperature answered [K]."""
        self._range = f"−60 to {self.highest - 273.15:.0f} °C"
        inverse = -1 / temperatures
        logs = {line: np.log(values[0]) for line, values in lines.items()}
        self._ends = {line: (float(values[0][0]), float(values[0][-1])) for line, values in lines.items()}
        self._log_p = {line: Curve(inverse, logs[line]) for line in lines}
        self._inverse = {line: Curve(logs[line], inverse) for line in lines}
        self._saturated = {
            (line, row): Curve(temperatures, values[row])
            for line, values in lines.items()
            for row in (1, 2, 3)
        }
        self._grids: dict[Line, NDArray[np.float32]] = {
            "dew": data[f"{refrigerant} vapor"],
            "bubble": data[f"{refrigerant} liquid"],
        }
        self._cells: dict[Line, list[list[list[float]]]] = {
            line: grid.tolist() for line, grid in self._grids.items()
        }
        # Slopes are taken by small steps, most of them at one and the same pressure.
        self._boiling = lru_cache(maxsize=32)(self._temperature)

    def pressure(self, temperature: Number, line: Line) -> Number:
        """Saturation pressure [Pa] at a temperature [K].

        Parameters
        ----------
        temperature : Number
            Temperature [K].
        line : Line
            ``bubble`` or ``dew``.

        Returns
        -------
        Number
            [Pa].

        Raises
        ------
        OutsideRangeError
            Outside the table.
        """
        if not _inside(temperature, LOWEST, self.highest):
            raise OutsideRangeError(f"{self.refrigerant} is answered for {self._range} only")
        if isinstance(temperature, float):
            return exp(self._log_p[line](-1 / temperature))
        return np.exp(self._log_p[line](-1 / np.asarray(temperature)))

    def temperature(self, pressure: Number, line: Line) -> Number:
        """Saturation temperature [K] at a pressure [Pa].

        Parameters
        ----------
        pressure : Number
            Absolute pressure [Pa].
        line : Line
            ``bubble`` or ``dew``.

        Returns
        -------
        Number
            [K].

        Raises
        ------
        OutsideRangeError
            Outside the table.
        """
        return (
            self._boiling(pressure, line)
            if isinstance(pressure, float)
            else self._temperature(pressure, line)
        )

    def _temperature(self, pressure: Number, line: Line) -> Number:
        if not _inside(pressure, *self._ends[line]):
            raise OutsideRangeError(
                f"{self.refrigerant} has no {line} point at {np.max(pressure) / 1000:.0f} kPa from {self._range}"
            )
        return -1 / self._inverse[line](log(pressure) if isinstance(pressure, float) else np.log(pressure))

    def saturated(self, temperature: Number, line: Line, row: int) -> Number:
        """Enthalpy (row 1), entropy (2) or density (3) on a line.

        Parameters
        ----------
        temperature : Number
            Temperature [K].
        line : Line
            ``bubble`` or ``dew``.
        row : int
            1 enthalpy, 2 entropy, 3 density.

        Returns
        -------
        Number
            [J/kg], [J/(kg K)] or [kg/m³].
        """
        return self._saturated[line, row](temperature)

    def beside(self, saturation: Number, distance: Number, line: Line, row: int) -> Number:
        """Enthalpy, entropy or density at a distance [K] from the line, at that line's pressure.

        Parameters
        ----------
        saturation : Number
            Saturation temperature on the line [K].
        distance : Number
            Superheat above dew, or subcooling under bubble [K].
        line : Line
            ``bubble`` or ``dew``.
        row : int
            1 enthalpy, 2 entropy, 3 density.

        Returns
        -------
        Number
            [J/kg], [J/(kg K)] or [kg/m³].

        Raises
        ------
        OutsideRangeError
            Outside the table.
        """
        most = MOST_SUPERHEAT if line == "dew" else MOST_SUBCOOLING
        if not _inside(distance, 0, most):
            name = "superheat" if line == "dew" else "subcooling"
            raise OutsideRangeError(f"{self.refrigerant} is answered for 0 to {most:.0f} K of {name} only")
        single = isinstance(saturation, float) and isinstance(distance, float)
        value = (self._one if single else self._many)(saturation, distance / most, line, row)
        base = self.saturated(saturation, line, row)
        return base * value if row == 3 else base + value

    def _one(self, saturation: float, share: float, line: Line, row: int) -> float:
        """The grid's value, linear in both directions; ``share`` is the distance over the greatest."""
        cells = self._cells[line][row - 1]
        rows, columns = len(cells), len(cells[0])
        x = (saturation - LOWEST) / ROW_STEP
        y = sqrt(share) * (columns - 1) if share > 0 else 0.0
        i, j = min(int(x), rows - 2), min(int(y), columns - 2)
        u, v = x - i, y - j
        (a, b), (c, d) = cells[i][j : j + 2], cells[i + 1][j : j + 2]
        value = (a * (1 - u) + c * u) * (1 - v) + (b * (1 - u) + d * u) * v
        if isnan(value):
            raise self._too_cold()
        return value

    def _many(self, saturation: Number, share: Number, line: Line, row: int) -> Number:
        """As ``_one``, for arrays."""
        value = self._read(saturation, share, line, row)
        if np.isnan(value).any():
            raise self._too_cold()
        return value

    def grid(self, saturation: Array, distance: Array, line: Line, row: int) -> Array:
        """What :meth:`beside` adds to the line (or, for density, multiplies it by); not a number where it is not known."""
        return self._read(
            saturation, distance / (MOST_SUPERHEAT if line == "dew" else MOST_SUBCOOLING), line, row
        )

    def _read(self, saturation: Number, share: Number, line: Line, row: int) -> Array:
        rows, columns = self._grids[line].shape[1:]
        x = (saturation - LOWEST) / ROW_STEP
        x, y = np.broadcast_arrays(x, np.sqrt(np.maximum(share, 0)) * (columns - 1))
        i, j = (np.clip(at.astype(int), 0, count - 2) for at, count in ((x, rows), (y, columns)))
        u, v = x - i, y - j
        grid = self._grids[line][row - 1]
        near, far = (grid[i, k] * (1 - u) + grid[i + 1, k] * u for k in (j, j + 1))
        return np.asarray(near * (1 - v) + far * v)

    def _too_cold(self) -> OutsideRangeError:
        return OutsideRangeError(f"{self.refrigerant} is not known this cold")

    def distance(self, saturation: Number, value: Number, line: Line, row: int) -> Number:
        """The inverse of :meth:`beside` for one state: the distance [K] at which ``value`` is reached.

        Parameters
        ----------
        saturation : Number
            Saturation temperature on the line [K].
        value : Number
            Enthalpy, entropy or density to reach.
        line : Line
            ``bubble`` or ``dew``.
        row : int
            1 enthalpy, 2 entropy, 3 density.

        Returns
        -------
        Number
            [K].

        Raises
        ------
        OutsideRangeError
            Outside the table.
        """
        cells = self._cells[line][row - 1]
        x = min(max((saturation - LOWEST) / ROW_STEP, 0), len(cells) - 1 - 1e-9)
        i, u = int(x), x - int(x)
        sign = 1 if line == "dew" else -1
        near, far, last = cells[i], cells[i + 1], len(cells[i]) - 1
        wanted = sign * (value - self.saturated(saturation, line, row))

        def rise(j: int) -> float:
            return float(sign * (near[j] * (1 - u) + far[j] * u))

        # What lies beyond the table is not a number, and so above everything.
        above = bisect_left(range(1, last), True, key=lambda j: not rise(j) <= wanted) + 1
        low, high = rise(above - 1), rise(above)
        if not -_SLACK <= wanted <= high:
            raise OutsideRangeError(f"{self.refrigerant}: the state lies outside the table")
        position = above - 1 + max(wanted - low, 0.0) / (high - low)
        most = MOST_SUPERHEAT if line == "dew" else MOST_SUBCOOLING
        return float((position / last) ** 2 * most)


def _inside(value: Number, low: float, high: float) -> bool:
    slack = _SLACK * abs(high)
    if isinstance(value, float):  # Single states are asked for far more often than arrays.
        return low - slack <= value <= high + slack
    return bool(np.all((np.asarray(value) >= low - slack) & (np.asarray(value) <= high + slack)))


@cache
def _shipped() -> Any:
    with files("icepick.core.properties").joinpath("data/refrigerants.npz").open("rb") as file:
        return dict(np.load(BytesIO(file.read())))


@cache
def table(refrigerant: str) -> Table:
    """The table of a refrigerant, loaded when first asked for.

    Parameters
    ----------
    refrigerant : str
        By its number, as the visit document has it.

    Returns
    -------
    Table
        Loaded once.
    """
    return Table(refrigerant, _shipped())

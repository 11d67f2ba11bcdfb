"""States of a refrigerant in arrays: whole batches of pressures and enthalpies read at once.

The tables of :mod:`refrigerant_table` are laid over pressure and enthalpy when a refrigerant is first asked for, so that
one look-up answers temperature, density and entropy together, in any phase. Beyond the tables' ends the last slope goes on:
a solver may pass there on its way, and :meth:`States.inside` says where nothing may be believed.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from icepick.core.properties.refrigerant_table import (
    LOWEST,
    MOST_SUBCOOLING,
    MOST_SUPERHEAT,
    Table,
    table,
)

Array = NDArray[np.float64]

_PRESSURES, _VAPORS, _LIQUIDS = 192, 97, 41
"""Points over ln p, over the enthalpy of vapor above dew, and of liquid under bubble."""
_BEYOND = 16
"""Points over ln p, of the above, that carry the last slope on past the warmest saturation."""
_FINE = 140
"""Points from which enthalpy is turned into an axis."""
_HALVINGS = 24
"""Enough to find a place on an axis to a ten-millionth of it."""
_ENTHALPY, _ENTROPY, _DENSITY = 1, 2, 3


@dataclass(slots=True)
class Saturated:
    """Both saturation lines at a batch of pressures: temperatures [K], enthalpies [J/kg], entropies [J/(kg K)], densities
    [kg/m³], and the mean heat capacities beside the lines [J/(kg K)], of liquid over 5 K and of vapor over 25 K.

    Every array has the batch's shape.
    """

    cell: NDArray[np.intp]
    share: Array
    bubble: Array
    dew: Array
    liquid: Array
    vapor: Array
    liquid_entropy: Array
    vapor_entropy: Array
    liquid_density: Array
    vapor_density: Array
    liquid_heat: Array
    vapor_heat: Array
    vapor_span: Array
    liquid_span: Array
    entropy_span: Array


class States:
    """One refrigerant. Every method takes and gives SI, arrays of one shape (or what broadcasts to it).

    Between its points it is linear: within 0.02 K and 0.3 % of density of the tables it is laid over (tests say so).
    """

    def __init__(self, refrigerant: str) -> None:
        source = table(refrigerant)
        self.refrigerant = refrigerant
        self.lowest_pressure = float(source.pressure(LOWEST + 0.01, "bubble"))
        self.highest_pressure = float(source.pressure(source.highest - 1e-6, "dew"))
        low, high = np.log(self.lowest_pressure), np.log(self.highest_pressure)
        within = _PRESSURES - _BEYOND
        self._start, self._step = float(low), float((high - low) / (within - 1))
        pressures = np.exp(np.linspace(low, high, within))
        dew = np.minimum(source.temperature(pressures, "dew"), source.highest - 1e-9)
        bubble = source.temperature(pressures, "bubble")
        vapor = _rows(source, dew, np.linspace(0, MOST_SUPERHEAT - 1e-9, _FINE), "dew")
        liquid = _rows(source, bubble, np.linspace(0, MOST_SUBCOOLING - 1e-9, _FINE), "bubble")
        self._vapor, vapor_span, entropy_span, self._by_entropy = _over_enthalpy(vapor, dew)
        self._liquid, liquid_span = _under_enthalpy(liquid, bubble)
        lines = np.array(
            [
                bubble,
                dew,
                liquid[0][:, 0],
                vapor[0][:, 0],
                liquid[1][:, 0],
                vapor[1][:, 0],
                liquid[2][:, 0],
                vapor[2][:, 0],
                _slope(-liquid[0], MOST_SUBCOOLING, 5),
                _slope(vapor[0], MOST_SUPERHEAT, 25),
                vapor_span,
                liquid_span,
                entropy_span,
            ]
        )
        self._lines = _carried_on(lines)
        self._rises = np.diff(self._lines, axis=1)

    def inside(self, pressure: Array) -> NDArray[np.bool_]:
        """Whether the tables know a pressure [Pa]."""
        return (pressure > self.lowest_pressure) & (pressure < self.highest_pressure)

    def saturated(self, pressure: Array) -> Saturated:
        """Both saturation lines at absolute pressures [Pa]."""
        at = (np.log(pressure) - self._start) / self._step
        cell = np.minimum(np.maximum(at.astype(np.intp), 0), _PRESSURES - 2)
        share = at - cell
        lines = self._lines.take(cell, axis=1)
        lines += share * self._rises.take(cell, axis=1)
        return Saturated(np.minimum(cell, _PRESSURES - _BEYOND - 2), held(share, 0, 1), *lines)

    def saturation_pressure(self, temperature: Array, line: Literal["bubble", "dew", "middle"]) -> Array:
        """Pressure [Pa] of a saturation temperature [K]; ``middle`` halfway over the glide."""
        lines = {
            "bubble": self._lines[0],
            "dew": self._lines[1],
            "middle": 0.5 * (self._lines[0] + self._lines[1]),
        }
        place = np.interp(temperature, lines[line], np.arange(_PRESSURES, dtype=np.float64))
        return np.exp(self._start + self._step * place)

    def slope(self, pressure: float) -> float:
        """How fast the dew pressure rises with temperature there [Pa/K]."""
        near = self.saturated(np.array([pressure, 1.01 * pressure]))
        return float(0.01 * pressure / (near.dew[1] - near.dew[0]))

    def _read(self, grid: Array, sat: Saturated, place: Array) -> Array:
        columns = grid.shape[2]
        at = place * (columns - 1)
        column = np.minimum(np.maximum(at.astype(np.intp), 0), columns - 2)
        v = at - column
        u = sat.share
        flat = grid.reshape(grid.shape[0], -1)
        corner = sat.cell * columns + column
        near = flat.take(corner, axis=1)
        near += v * (flat.take(corner + 1, axis=1) - near)
        far = flat.take(corner + columns, axis=1)
        far += v * (flat.take(corner + columns + 1, axis=1) - far)
        near += u * (far - near)
        return np.asarray(near)

    def superheated(self, sat: Saturated, enthalpy: Array) -> tuple[Array, Array, Array]:
        """Temperature [K], density [kg/m³] and entropy [J/(kg K)] of vapor of an enthalpy [J/kg], not below dew."""
        place = np.maximum((enthalpy - sat.vapor) / sat.vapor_span, 0.0)
        rise, density, entropy = self._read(self._vapor, sat, place)
        return sat.dew + rise, sat.vapor_density * density, sat.vapor_entropy + entropy

    def subcooled(self, sat: Saturated, enthalpy: Array) -> tuple[Array, Array]:
        """Temperature [K] and density [kg/m³] of liquid of an enthalpy [J/kg], not above bubble."""
        place = np.maximum((sat.liquid - enthalpy) / sat.liquid_span, 0.0)
        fall, density = self._read(self._liquid, sat, place)
        return sat.bubble - fall, sat.liquid_density * density

    def liquid_enthalpy(self, sat: Saturated, subcooling: Array) -> Array:
        """Enthalpy [J/kg] of liquid so far [K] under bubble."""
        low, high = np.zeros_like(subcooling), np.ones_like(subcooling)
        for _ in range(_HALVINGS):
            middle = 0.5 * (low + high)
            short = self._read(self._liquid[:1], sat, middle)[0] < subcooling
            low, high = np.where(short, middle, low), np.where(short, high, middle)
        return sat.liquid - 0.5 * (low + high) * sat.liquid_span

    def compressed(self, sat: Saturated, entropy: Array) -> Array:
        """Enthalpy [J/kg] at a pressure and an entropy [J/(kg K)], wet where that lies below dew's."""
        above = (entropy - sat.vapor_entropy) / sat.entropy_span
        hot = sat.vapor + self._read(self._by_entropy, sat, np.maximum(above, 0.0))[0]
        wet = sat.vapor + (entropy - sat.vapor_entropy) * (sat.vapor - sat.liquid) / (
            sat.vapor_entropy - sat.liquid_entropy
        )
        return np.where(above >= 0, hot, wet)

    def at(
        self, pressure: Array, enthalpy: Array, sat: Saturated | None = None
    ) -> tuple[Array, Array, Array]:
        """Temperature [K], density [kg/m³] and quality at any pressure [Pa] and enthalpy [J/kg].

        Quality is below 0 in liquid and above 1 in vapor. In a mixture temperature rises evenly over the glide and the
        density is that of liquid and vapor flowing as one.
        """
        sat = self.saturated(pressure) if sat is None else sat
        quality = (enthalpy - sat.liquid) / (sat.vapor - sat.liquid)
        hot, thin, _ = self.superheated(sat, enthalpy)
        cold, dense = self.subcooled(sat, enthalpy)
        mixed = 1 / (quality / sat.vapor_density + (1 - quality) / sat.liquid_density)
        temperature = np.where(
            quality >= 1,
            hot,
            np.where(quality <= 0, cold, sat.bubble + quality * (sat.dew - sat.bubble)),
        )
        density = np.where(quality >= 1, thin, np.where(quality <= 0, dense, mixed))
        return temperature, density, quality

    def suction(self, sat: Saturated, enthalpy: Array) -> tuple[Array, Array, Array]:
        """Temperature [K], density [kg/m³] and entropy [J/(kg K)] of vapor, or of vapor with liquid in it."""
        quality = np.minimum((enthalpy - sat.liquid) / (sat.vapor - sat.liquid), 1.0)
        temperature, density, entropy = self.superheated(sat, enthalpy)
        wet = 1 - quality
        density = density / (1 + wet * (density / sat.liquid_density - 1))
        return (
            temperature - wet * (sat.dew - sat.bubble),
            density,
            entropy - wet * (sat.vapor_entropy - sat.liquid_entropy),
        )


def held(value: Array, low: Array | float, high: Array | float) -> Array:
    """Held between two bounds; as ``np.clip``, which takes four times as long for a few numbers."""
    return np.minimum(np.maximum(value, low), high)


def _rows(source: Table, saturation: Array, distances: Array, line: str) -> list[Array]:
    """Enthalpy, entropy and density beside a line: rows over pressure, columns over distance from it."""
    found = []
    for row in (_ENTHALPY, _ENTROPY, _DENSITY):
        base = source.saturated(saturation, line, row)[:, None]  # type: ignore[arg-type]
        cells = source.grid(saturation[:, None], distances[None, :], line, row)  # type: ignore[arg-type]
        found.append(base * cells if row == _DENSITY else base + cells)
    return [_without_gaps(rows) for rows in found]


def _without_gaps(rows: Array) -> Array:
    """Liquid colder than any table goes on with its last slope."""
    for row in rows:
        known = ~np.isnan(row)
        if not known.all():
            last = int(np.argmin(known)) - 1
            row[last + 1 :] = row[last] + (row[last] - row[last - 1]) * np.arange(1, row.size - last)
    return rows


def _slope(rows: Array, most: float, over: float) -> Array:
    """Mean heat capacity over so many kelvin beside the line."""
    few = max(int(over / most * (_FINE - 1)), 1)
    found: Array = (rows[:, few] - rows[:, 0]) / (few * most / (_FINE - 1))
    return found


def _over_enthalpy(rows: list[Array], dew: Array) -> tuple[Array, Array, Array, Array]:
    enthalpy, entropy, density = rows
    above, rise = enthalpy - enthalpy[:, :1], np.linspace(0, MOST_SUPERHEAT, _FINE)
    gained = entropy - entropy[:, :1]
    span, entropy_span = above[:, -1], gained[:, -1]
    axis = np.linspace(0, 1, _VAPORS)
    grid = np.empty((3, dew.size, _VAPORS))
    inverse = np.empty((1, dew.size, _VAPORS))
    for i in range(dew.size):
        at = axis * span[i]
        grid[0, i] = np.interp(at, above[i], rise)
        grid[1, i] = np.interp(at, above[i], density[i] / density[i, 0])
        grid[2, i] = np.interp(at, above[i], gained[i])
        inverse[0, i] = np.interp(axis * entropy_span[i], gained[i], above[i])
    return grid, span, entropy_span, inverse


def _under_enthalpy(rows: list[Array], bubble: Array) -> tuple[Array, Array]:
    enthalpy, _, density = rows
    below, fall = enthalpy[:, :1] - enthalpy, np.linspace(0, MOST_SUBCOOLING, _FINE)
    span = below[:, -1]
    axis = np.linspace(0, 1, _LIQUIDS)
    grid = np.empty((2, bubble.size, _LIQUIDS))
    for i in range(bubble.size):
        grid[0, i] = np.interp(axis * span[i], below[i], fall)
        grid[1, i] = np.interp(axis * span[i], below[i], density[i] / density[i, 0])
    return grid, span


def _carried_on(lines: Array) -> Array:
    """Temperatures go on with their last slope; what tells liquid from vapor stays, so that it never closes."""
    more = np.repeat(lines[:, -1:], _BEYOND, axis=1)
    more[:2] += (lines[:2, -1:] - lines[:2, -2:-1]) * np.arange(1, _BEYOND + 1)
    return np.concatenate((lines, more), axis=1)


@cache
def states(refrigerant: str) -> States:
    """The states of a refrigerant, laid out when first asked for.

    Parameters
    ----------
    refrigerant : str
        By its number, as the visit document has it.

    Returns
    -------
    States
        Made once, in some tens of milliseconds.
    """
    return States(refrigerant)

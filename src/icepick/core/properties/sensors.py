"""Coil and ambient sensors: resistance to temperature and back, by table. Resistance falls as they warm."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

Row = tuple[float, float]
"""Temperature [K] and resistance [ohm]."""

DEFAULT_NAME = "common 10 kΩ at 77 °F (25 °C) curve"
DEFAULT_TABLE: tuple[Row, ...] = tuple(
    (celsius + 273.15, kilohm * 1000)
    for celsius, kilohm in (
        (-50, 671.0),
        (-40, 336.5),
        (-30, 177.2),
        (-20, 97.12),
        (-10, 55.34),
        (0, 32.66),
        (10, 19.90),
        (20, 12.49),
        (25, 10.00),
        (30, 8.056),
        (40, 5.325),
        (50, 3.602),
        (60, 2.488),
        (70, 1.752),
        (80, 1.258),
    )
)
"""The most common sensor of the trade. [common practice; figures from memory]"""


def table_of(rows: Sequence[Row] | None) -> tuple[Row, ...]:
    """The manufacturer's table, coldest first, where there is one; otherwise the default.

    Parameters
    ----------
    rows : sequence of Row or None
        The manufacturer's rows of (temperature [K], resistance [ohm]), in any order; None or empty where
        there are none.

    Returns
    -------
    tuple of Row
        Coldest first.
    """
    return tuple(sorted(rows)) if rows else DEFAULT_TABLE


def temperature(resistance: float, rows: Sequence[Row] = DEFAULT_TABLE) -> float:
    """Temperature [K] at a resistance [ohm], by straight lines in log resistance.

    Parameters
    ----------
    resistance : float
        Of the sensor [ohm].
    rows : sequence of Row
        Rows of (temperature [K], resistance [ohm]).

    Returns
    -------
    float
        [K].

    Raises
    ------
    ValueError
        The resistance lies outside the table.
    """
    _within(resistance, [row[1] for row in rows], "resistance")
    ordered = sorted(rows, key=lambda row: row[1])
    logs = np.log([row[1] for row in ordered])
    return float(np.interp(np.log(resistance), logs, [row[0] for row in ordered]))


def resistance(temperature: float, rows: Sequence[Row] = DEFAULT_TABLE) -> float:
    """Resistance [ohm] at a temperature [K]; errors as for :func:`temperature`.

    Parameters
    ----------
    temperature : float
        Of the sensor [K].
    rows : sequence of Row
        Rows of (temperature [K], resistance [ohm]).

    Returns
    -------
    float
        [ohm].

    Raises
    ------
    ValueError
        The temperature lies outside the table.
    """
    _within(temperature, [row[0] for row in rows], "temperature")
    ordered = sorted(rows)
    logs = np.log([row[1] for row in ordered])
    return float(np.exp(np.interp(temperature, [row[0] for row in ordered], logs)))


def _within(value: float, known: Sequence[float], what: str) -> None:
    if not min(known) <= value <= max(known):
        raise ValueError(f"the {what} is outside the sensor's table")

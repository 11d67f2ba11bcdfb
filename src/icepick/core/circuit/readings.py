"""Readings of a run → values in SI with uncertainty, each knowing whether the run had settled.

The last reading of a station and quantity is the current one; earlier ones are history.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from math import sqrt
from typing import Self

from uncertainties import UFloat
from uncertainties.core import Variable

from icepick.core.document.codes import Method
from icepick.core.document.stations import Group, station
from icepick.core.document.visit import Reading, Run
from icepick.core.practice import Practice
from icepick.core.properties.quantities import Kind, spread_to_si, to_si
from icepick.core.properties.settled_values import settled

_TEMPERATURE_LIMIT: dict[Method | None, str] = {
    "clamp": "uncertainty_clamp",
    "probe": "uncertainty_probe",
    "infrared": "uncertainty_infrared",
    "estimate": "uncertainty_estimate",
}


_FINEST = 1e-9


@dataclass(frozen=True, slots=True)
class CurrentReading:
    """The reading in force at a station.

    ``value`` is in SI with its uncertainty, tagged with the station so that whatever is computed from
    it still knows where it came from. ``minutes`` is how long the run had been going when it was
    taken, None where unknown. ``early`` is true where that is known to be before the run settled, for a reading that
    has to settle at all. ``share`` is how much of what was read belongs to this circuit, where the unit has several;
    the value is that.
    """

    reading: Reading
    value: UFloat
    minutes: float | None
    early: bool
    earlier: int
    share: float = 1.0

    def __post_init__(self) -> None:
        settled(self.value)

    @property
    def on_bare_pipe(self) -> bool:
        """Whether an infrared gun was pointed at a line; coil circuits and driers are read for their pattern."""
        return (
            self.reading.method == "infrared"
            and station(self.reading.station).group is Group.LINE
            and not self.reading.station.startswith("drier_")
        )


OF_THE_WHOLE = frozenset({("indoor_airflow", "flow"), ("supply_fan", "power"), ("backup_heat", "power")})
"""What a unit with several circuits has once: each circuit has its share of it."""
MIXED_AIR = frozenset({"supply_air", "outdoor_air_out"})
"""Air that leaves a coil several circuits share: it is what they make of it together."""

_STEADY = frozenset({"voltage", "resistance", "relative_humidity", "wet_bulb", "flow", "fluid_factor"})
_ENTERING = frozenset({"outdoor_air_in", "return_air", "source_water_in", "load_water_in", "ambient_sensor"})


_MOTORS = frozenset({"outdoor_fan", "backup_heat"})
"""What runs or does not from the first minute, whatever the circuit does."""


def has_to_settle(reading: Reading, run: Run, practice: Practice) -> bool:
    """Whether a reading drifts after a start or a change of mode: what the circuit makes does, what enters it and what
    the controls send does not; and a defrost is over before anything could settle. [common practice]

    Parameters
    ----------
    reading : Reading
        The reading as the visit document has it.
    run : Run
        The run as the visit document has it.
    practice : Practice
        The limits in force.

    Returns
    -------
    bool
        False where it may be believed at once.
    """
    if run.mode in ("defrost", "off") or reading.station in _ENTERING or reading.station in _MOTORS:
        return False
    if reading.quantity == "current" and reading.value < practice.si("current_none"):
        return False  # What stands still has nothing to settle.
    return reading.quantity not in _STEADY or reading.station == "supply_air"


def uncertainty(kind: Kind, method: Method | None, value: float, practice: Practice) -> float:
    """Half-width of the band around a reading.

    Parameters
    ----------
    kind : Kind
        What was measured.
    method : str or None
        The instrument; None is taken as the usual instrument for the kind.
    value : float
        The number read, in SI above the instrument's own zero (gauge pressure, not absolute).
    practice : Practice
        Where the figures come from.

    Returns
    -------
    float
        Half-width [SI]; K for a temperature, Pa for a pressure.
    """
    if kind is Kind.TEMPERATURE:
        return practice.si(_TEMPERATURE_LIMIT.get(method, "uncertainty_clamp"))
    if method == "estimate":
        return abs(value) * practice.si("uncertainty_estimate_share")
    if kind is Kind.PRESSURE:
        share = abs(value) * practice.si("uncertainty_gauge_share")
        return max(practice.si("uncertainty_gauge"), share)
    return abs(value) * practice.si("uncertainty_meter_share")


class RunReadings:
    """The current readings of one run, by station and quantity.

    Parameters
    ----------
    run : Run
        The run as the visit document has it.
    atmosphere : float
        Local air pressure [Pa].
    practice : Practice
        Uncertainties and settling time.
    share : float
        How much of the unit the circuit is that the run was made on.
    """

    def __init__(self, run: Run, atmosphere: float, practice: Practice, share: float = 1.0) -> None:
        self.run = run
        self._share = share
        self._settling_minutes = practice.si("settling_time") / 60
        by_place = defaultdict[tuple[str, str], list[Reading]](list)
        for reading in run.readings:
            by_place[reading.station, reading.quantity].append(reading)
        self._current, self._before = (
            {
                key: self._interpret(taken[-back], len(taken) - back, atmosphere, practice)
                for key, taken in by_place.items()
                if len(taken) >= back
            }
            for back in (1, 2)
        )

    def _interpret(
        self, reading: Reading, earlier: int, atmosphere: float, practice: Practice
    ) -> CurrentReading:
        kind = reading.kind
        si = to_si(reading.value, reading.unit, kind, atmosphere)
        above_zero = spread_to_si(reading.value, reading.unit, kind)
        spread = uncertainty(kind, reading.method, above_zero, practice)
        share = self._share if (reading.station, reading.quantity) in OF_THE_WHOLE else 1.0
        if self._share < 1 and reading.station in MIXED_AIR and kind is Kind.TEMPERATURE:
            spread = max(spread, practice.si("uncertainty_mixed_air"))
        minutes = self._minutes(reading)
        early = (
            minutes is not None
            and minutes < self._settling_minutes
            and has_to_settle(reading, self.run, practice)
        )
        # A share of nothing is nothing, which no instrument is.
        value = Variable(si * share, max(spread * share, _FINEST), tag=reading.station)
        return CurrentReading(reading, value, minutes, early, earlier, share)

    def _minutes(self, reading: Reading) -> float | None:
        if reading.at is not None and self.run.started_at is not None:
            return max((reading.at - self.run.started_at).total_seconds() / 60, 0.0)
        return self.run.minutes_running

    def only(self, keep: Callable[[CurrentReading], bool]) -> Self:
        """The readings that pass a test; the others count as not taken.

        Parameters
        ----------
        keep : callable
            Whether a reading is kept.

        Returns
        -------
        Self
            The same run.
        """
        kept = object.__new__(type(self))
        kept.__dict__ = {
            **self.__dict__,
            "_current": {key: one for key, one in self._current.items() if keep(one)},
            "_before": {key: one for key, one in self._before.items() if keep(one)},
        }
        return kept

    def temperature(self, station: str) -> UFloat | None:
        """The temperature in force at a station [K], or None.

        Parameters
        ----------
        station : str
            Code of a station.

        Returns
        -------
        UFloat or None
            [K]; None where it was not read.
        """
        current = self._current.get((station, "temperature"))
        return current.value if current else None

    def get(self, station: str, quantity: str = "temperature") -> CurrentReading | None:
        """The current reading, or None where there is none.

        Parameters
        ----------
        station : str
            Code of a station.
        quantity : str
            What was read there.

        Returns
        -------
        CurrentReading or None
            None where there is none.
        """
        return self._current.get((station, quantity))

    def before(self, station: str, quantity: str = "temperature") -> CurrentReading | None:
        """The reading that was in force before the current one, or None.

        Parameters
        ----------
        station : str
            Code of a station.
        quantity : str
            What was read there.

        Returns
        -------
        CurrentReading or None
            None where there is none.
        """
        return self._before.get((station, quantity))

    def all(self) -> list[CurrentReading]:
        """Every current reading, in the order the stations were first read.

        Returns
        -------
        list of CurrentReading
            In the order the stations were first read.
        """
        return list(self._current.values())

    def missing(self, *stations: str, quantity: str = "temperature") -> list[str]:
        """Those of the stations that have no reading yet.

        Parameters
        ----------
        *stations : str
            Stations asked for.
        quantity : str
            What was read there.

        Returns
        -------
        list of str
            In the order asked for.
        """
        return [code for code in stations if (code, quantity) not in self._current]


def first_read(readings: RunReadings, stations: Iterable[str]) -> str | None:
    """The first of the stations whose temperature was read.

    Parameters
    ----------
    readings : RunReadings
        The readings of one run.
    stations : iterable of str
        Stations in the order of preference.

    Returns
    -------
    str or None
        Its code; None where none was.
    """
    return next((code for code in stations if readings.temperature(code) is not None), None)


def rests_on(value: UFloat) -> tuple[float, list[str]]:
    """The half-width of a computed value's band [its own unit], and the stations whose readings it rests on.

    Parameters
    ----------
    value : UFloat
        A value computed from readings.

    Returns
    -------
    tuple[float, list[str]]
        In the unit of the value, and codes in alphabetical order.
    """
    square, stations = 0.0, set()
    for variable, slope in value.derivatives.items():
        square += (slope * variable.std_dev) ** 2
        if variable.tag is not None:
            stations.add(str(variable.tag))
    return sqrt(square), sorted(stations)

"""What an indicator, a check or a doubt may look at: one run, its unit, its circuit, its readings, the limits.

Here, once for a run, it is worked out which way the circuit runs and which readings may carry a judgement.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import wraps
from typing import Any, TypeVar, TypeVarTuple, Unpack

from uncertainties import UFloat

from icepick.core.circuit.afar import borne_out, contradicted
from icepick.core.circuit.direction import apparent_mode, pipe_spread, running_circuit
from icepick.core.circuit.graph import Circuit, build_circuit, flow_mode
from icepick.core.circuit.learned import Learned
from icepick.core.circuit.readings import CurrentReading, RunReadings, rests_on
from icepick.core.document.codes import Mode
from icepick.core.document.roles import ApparentMode, FlowMode
from icepick.core.document.several import share
from icepick.core.document.visit import Run, Unit
from icepick.core.practice import Practice
from icepick.core.properties.quantities import UnitSystem
from icepick.core.properties.settled_values import settled

Asked = TypeVarTuple("Asked")
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Command:
    """What a run was called for, and the voltages read in it [V], the last at each station."""

    mode: Mode
    volts: tuple[tuple[str, float], ...]


def command_of(run: Run) -> Command:
    """What a run tells of the unit's command: all that one run has to say of another.

    Parameters
    ----------
    run : Run
        The run as the visit document has it.

    Returns
    -------
    Command
        With no voltages where none was read.
    """
    volts = {r.station: r.value for r in run.readings if r.quantity == "voltage"}
    return Command(run.mode, tuple(volts.items()))


@dataclass(frozen=True, slots=True)
class RunContext:
    """One run ready to be judged.

    ``commanded`` and ``told`` are the mode and circuit asked for; ``apparent`` is what the readings say it does, and
    ``circuit`` the one that runs (the one told, while that is not known). All four are empty with the compressor off.
    ``readings`` leaves out what physics contradicts (``doubted`` names the stations, ``doubts`` all codes of doubt):
    until it is read again it counts as not read. ``trusted`` is the same run by those readings alone that may carry a
    judgement, ``readable`` by all that can be so at all, doubted or not.
    ``commands`` is what the visit's runs tell of the unit's command. ``learned`` is what earlier visits
    taught of the unit. ``mishaps`` says what could not be worked out, and why; every context of the run adds to the
    same list.
    """

    unit: Unit
    run: Run
    readings: RunReadings
    practice: Practice
    units: UnitSystem
    commanded: FlowMode | None
    told: Circuit | None
    apparent: ApparentMode
    circuit: Circuit | None
    atmosphere: float
    commands: tuple[Command, ...] = ()
    doubted: frozenset[str] = frozenset()
    doubts: frozenset[str] = frozenset()
    learned: Learned | None = field(default=None, compare=False, repr=False)
    with_doubted: RunContext | None = field(default=None, compare=False, repr=False)
    memo: dict[Any, Any] = field(default_factory=dict, compare=False, repr=False)
    mishaps: dict[str, str] = field(default_factory=dict, compare=False, repr=False)

    @property
    def observed(self) -> frozenset[str]:
        """Codes of what was seen and heard in this run; of one noted more than once the last word counts."""
        last = {o.code: o.value is not False for o in self.run.observations}
        return frozenset(code for code, seen in last.items() if seen and code != "out_of_reach")

    @property
    def looked_for(self) -> frozenset[str]:
        """Codes of what was looked for and not seen; one that was noted and unmade is neither."""
        noted: dict[str, bool] = {}
        for one in self.run.observations:
            noted[one.code] = noted.get(one.code, False) or one.value is not False
        return frozenset(code for code, ever in noted.items() if not ever)

    @property
    def energized(self) -> bool:
        """Whether the valve's coil should be energized in the commanded mode; an off-cycle defrost leaves it as it is."""
        stands = self.defrosting and self.unit.defrost is not None and self.unit.defrost.method == "off_cycle"
        return ("heating" if stands else self.commanded) == self.unit.reversing_valve.energized_in

    @property
    def running(self) -> FlowMode | None:
        """The mode the circuit runs in; the commanded one while that is not known; None with the compressor off."""
        return self.circuit.mode if self.circuit else None

    @property
    def defrosting(self) -> bool:
        """Whether the run is a defrost: neither settled nor meant to be."""
        return self.run.mode == "defrost"

    @property
    def trusted(self) -> RunContext:
        """The run by the readings that may carry a judgement; itself where that is all of them."""
        if "trusted" not in self.memo:
            shaky = any(not carries_judgement(current) for current in self.readings.all())
            trusted = with_readings(self, self.readings.only(carries_judgement)) if shaky else self
            if trusted is not self:
                trusted.memo["trusted"] = trusted
            self.memo["trusted"] = trusted
        found: RunContext = self.memo["trusted"]
        return found

    @property
    def readable(self) -> RunContext:
        """The run by all that can have been read at all: what is doubted may be a danger all the same."""
        return self.with_doubted or self

    def value(self, station: str, quantity: str) -> UFloat | None:
        """What is in force of a quantity at a station [SI], or None.

        Parameters
        ----------
        station : str
            Code of a station.
        quantity : str
            What was read there.

        Returns
        -------
        UFloat or None
            [SI]; None where it was not read.
        """
        current = self.readings.get(station, quantity)
        return current.value if current else None

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
        return self.readings.temperature(station)


def attempt(context: RunContext, what: str, work: Callable[[], T], otherwise: T) -> T:
    """Work something out; where that fails, note the mishap and go on with ``otherwise``.

    One rule that breaks on a number nobody thought of must not take the whole examination with it. ``what`` names it in
    the technician's words.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    what : str
        What is worked out, in the technician's words.
    work : callable
        Works it out.
    otherwise : T
        What stands where it fails.

    Returns
    -------
    T
        What was worked out, or ``otherwise``.
    """
    try:
        return work()
    except Exception as error:
        note_mishap(context, what, error)
        return otherwise


def note_mishap(context: RunContext, what: str, error: Exception) -> None:
    """Keep in mind that something could not be worked out, and why.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    what : str
        What was worked out, in the technician's words.
    error : Exception
        What it broke on.
    """
    context.mishaps.setdefault(what, f"{type(error).__name__}: {error}")


def resting_on(context: RunContext, value: UFloat) -> tuple[float, list[str]]:
    """What :func:`icepick.core.circuit.readings.rests_on` says, once for each value: an indicator and the checks that hold it
    to a limit ask for the same.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    value : UFloat
        A value computed from its readings.

    Returns
    -------
    tuple[float, list[str]]
        Half-width in the unit of the value, and codes in alphabetical order.
    """
    # The value is kept beside the answer, so that no other can come to bear its id.
    known = context.memo.get(id(value))
    answer: tuple[float, list[str]] = rests_on(value) if known is None else known[1]
    if known is None:
        context.memo[id(value)] = value, answer
    return answer


def carries_judgement(current: CurrentReading) -> bool:
    """The one gate: taken after settling, and by contact where only contact tells. Doubted readings are left out
    before. [common practice; the-trade.md 1, 3 and 8]

    Parameters
    ----------
    current : CurrentReading
        A reading in force.

    Returns
    -------
    bool
        True where it may decide something.
    """
    return not current.early and not current.on_bare_pipe


def with_readings(context: RunContext, readings: RunReadings, **changes: Any) -> RunContext:
    """The run by other readings, and the way it then seems to run.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    readings : RunReadings
        What is in force instead.

    Returns
    -------
    RunContext
        With nothing remembered of the old ones.
    """
    apparent: ApparentMode = "unknown"
    circuit = context.circuit
    if context.commanded is not None:
        apparent = apparent_mode(readings, context.practice)
        if apparent == "unknown" and pipe_spread(readings) is None and seen_afar(context, readings):
            apparent = context.commanded
        circuit = running_circuit(context.unit, context.commanded, apparent)
    return replace(context, readings=readings, apparent=apparent, circuit=circuit, memo={}, **changes)


def seen_afar(context: RunContext, readings: RunReadings | None = None) -> str | None:
    """What bears out, far from the valve, that a run runs as it was told.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    readings : RunReadings, optional
        Other readings than those in force.

    Returns
    -------
    str or None
        Code of a station; None where nothing does.
    """
    if context.commanded is None:
        return None
    by = context.readings if readings is None else readings
    return borne_out(context.unit, context.run, context.commanded, by, context.practice)


def turned_afar(context: RunContext) -> str | None:
    """What says, far from the valve, that a run may run the other way, while neither the pipes nor the vapor line tell.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.

    Returns
    -------
    str or None
        Code of a station; None where nothing does.
    """
    if (
        context.commanded is None
        or context.apparent != "unknown"
        or pipe_spread(context.readings) is not None
    ):
        return None
    return contradicted(context.unit, context.run, context.commanded, context.readings, context.practice)


def remembered(
    function: Callable[[RunContext, Unpack[Asked]], T],
) -> Callable[[RunContext, Unpack[Asked]], T]:
    """Work something out once for a context; checks and indicators ask for the same figures again and again.

    Parameters
    ----------
    function : callable
        Of a context and of what else can be a key.

    Returns
    -------
    callable
        The same function, asked once for each context.
    """

    @wraps(function)
    def ask(context: RunContext, /, *asked: *Asked) -> T:
        key = function, asked
        memo = context.memo
        try:
            found: T = memo[key]
        except KeyError:
            found = function(context, *asked)
            settled(found)
            memo[key] = found
        return found

    return ask


def run_context(
    run: Run,
    unit: Unit,
    practice: Practice,
    units: UnitSystem,
    atmosphere: float,
    commands: tuple[Command, ...] = (),
    learned: Learned | None = None,
) -> RunContext:
    """A run as it was read, ``atmosphere`` [Pa] being what its gauges are above.

    Parameters
    ----------
    run : Run
        The run as the visit document has it.
    unit : Unit
        The equipment.
    practice : Practice
        The limits in force.
    units : UnitSystem
        Units of every sentence.
    atmosphere : float
        Local air pressure [Pa], which gauges are above.
    commands : tuple of Command
        What each of the visit's runs tells of the unit's command, this one's among them.
    learned : Learned or None
        What earlier visits taught of the unit.

    Returns
    -------
    RunContext
        Nothing of it doubted yet.
    """
    commanded = flow_mode(run.mode)
    told = build_circuit(unit, commanded).shared if commanded else None
    readings = RunReadings(run, atmosphere, practice, share(unit, run.circuit))
    bare = RunContext(
        unit, run, readings, practice, units, commanded, told, "unknown", told, atmosphere, commands
    )
    return with_readings(bare, readings, learned=learned)


def without_doubted(context: RunContext, doubted: frozenset[str], codes: frozenset[str]) -> RunContext:
    """The run once its doubts are found: ``doubted`` stations count as unread, ``codes`` names every doubt.

    Parameters
    ----------
    context : RunContext
        The run: its unit, circuit, readings and limits.
    doubted : frozenset of str
        Stations whose readings count as unread.
    codes : frozenset of str
        Every code of doubt about the run.

    Returns
    -------
    RunContext
        The same readings, less those.
    """
    if not doubted:
        # What was worked out on the way stays right.
        return replace(context, doubts=codes)
    readings = context.readings.only(lambda current: current.reading.station not in doubted)
    return with_readings(context, readings, doubted=doubted, doubts=codes)

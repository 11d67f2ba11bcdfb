"""The examination document, version 1: what :func:`icepick.core.examine.examine` says of a visit."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import AwareDatetime, Field

from icepick.core.document.base import Document, absent
from icepick.core.document.codes import Method, Mode, QuantityName, SightCode
from icepick.core.document.roles import ApparentMode, Coil, FlowMode, Part, Role, Side, State
from icepick.core.document.stations import Place

Source = Literal["gauge", "bend", "usual"]
Corner = Literal[
    "evaporator_out", "compressor_in", "compressor_out", "condenser_out", "meter_in", "meter_out"
]
Status = Literal["pass", "watch", "fail", "needs_readings"]
Lead = Literal[
    "danger",
    "read_again",
    "standing",
    "call",
    "wrong_way",
    "fans_and_heat",
    "defrost",
    "water_short",
    "fault",
    "unexplained",
    "too_early",
    "recorded",
    "sound",
    "needed",
]
HeadState = Literal["fed", "bleeding", "still"]
Fault = Literal[
    "none",
    "valve_in_opposite_position",
    "valve_bypassing",
    "control_power_missing",
    "call_missing",
    "command_missing",
    "valve_convention_wrong",
    "solenoid_open",
    "compressor_not_running",
    "compressor_weak",
    "active_meter_underfeeding",
    "active_meter_overfeeding",
    "bypass_stuck_closed",
    "liquid_line_restriction",
    "undercharge",
    "overcharge",
    "noncondensables",
    "indoor_airflow_low",
    "outdoor_airflow_low",
    "outdoor_coil_frosted",
    "source_water_flow_low",
    "source_coil_fouled",
    "coil_circuit_starved",
    "defrost_not_starting",
    "defrost_not_stopping",
    "defrost_fan_running",
    "defrost_no_backup_heat",
    "defrost_sensor_off",
    "defrost_too_often",
    "head_meter_leaking",
    "head_meter_closed",
    "heads_crossed",
    "reading_suspect",
]


class PlainQuantity(Document):
    """A number with its unit."""

    value: float
    unit: str


class Measured(PlainQuantity):
    """A number with its unit and the half-width of its band, in the same unit."""

    uncertainty: float


class Indicator(Measured):
    """A computed figure; ``uses`` lists the stations whose readings made it."""

    uses: list[str]


class Check(Document):
    """One of the trade's tests: its outcome, the number behind it and the limit it was held to.

    ``margin`` is how far inside the limit the number lies (negative: outside), in the limit's unit.
    ``practice`` names the practice limit used; ``basis`` gives its standing and reason.
    """

    code: str
    title: str
    status: Status
    measured: Measured | None
    limit: PlainQuantity | None
    margin: float | None
    practice: str | None
    basis: str
    explain: str
    needs: list[str]
    uses: list[str]


class Terminal(Document):
    """One terminal of the control strip: whether voltage should be there now, why, and what was read."""

    station: str
    should: Literal["present", "absent", "either"]
    why: str
    volts: float | None
    status: Status


class BoardLine(Document):
    """One input or output of the defrost board: whether it should be on in heating and in a defrost (null: either), and what
    the last run of each kind in which it was read or seen shows (null: not read). ``feeds`` says what hangs on it."""

    station: str
    heating: bool | None
    defrost: bool | None
    read_in_heating: bool | None
    read_in_defrost: bool | None
    feeds: str


class PathStop(Document):
    """A station in flow order, and the part that the refrigerant enters after it."""

    station: str
    role: Role
    state: State
    place: Place
    through: Part


class Meters(Document):
    active: Side
    bypassed: Side | None


class Coils(Document):
    """Which coil takes up heat and which rejects it, as the circuit runs."""

    evaporator: Coil
    condenser: Coil


class TapPlace(Document):
    """A pressure tap, the station of the pipe it opens into, and that pipe's side in this mode."""

    tap: str
    at: str
    role: Role


class EarlierVisit(Document):
    """One of the earlier visits given: its place among them, and whether the unit was learned from it, or why not."""

    place: int
    used: bool
    why: str


class LearnedFigure(Measured):
    """Something of this very unit, against what its nameplate has one expect; ``words`` say it for the screen."""

    name: str
    title: str
    words: str


class Baseline(Document):
    """What earlier visits at which nothing was wrong taught of the unit; ``words`` are empty where they taught nothing."""

    visits: list[EarlierVisit]
    learned: list[LearnedFigure]
    words: str


class Advice(Document):
    """Something the unit's description gives away before anything is measured."""

    code: str
    severity: Literal["fault", "caution", "missing"]
    text: str
    reason: str


class Leg(Document):
    """From one station to the next: what the temperature should do there, and what it does.

    ``change`` is in the units asked for; ``status`` is ``needs_readings`` where an end is unread.
    """

    start: str
    end: str
    should: Literal["fall", "hold", "rise"]
    status: Status
    change: Measured | None
    explain: str


class Device(Document):
    """A metering device or drier between two stations: its part in this run, the drop it shows and the one expected."""

    part: Part
    title: str
    start: str
    end: str
    role: Literal["active", "bypassed", "in line", "drier"]
    drop: Measured | None
    expected: str
    status: Status
    explain: str


class Level(Document):
    """A level line of the staircase: a saturation or air temperature, and the station it was read at."""

    name: Literal["condensing", "evaporating", "outdoor_air", "indoor_air", "source_water", "load_water"]
    station: str
    value: float
    unit: str
    uncertainty: float


class Doubt(Document):
    """Readings that physics contradicts."""

    stations: list[str]
    code: str
    explain: str


class ReadingInForce(Document):
    """The current reading of a station, in the units asked for; ``earlier`` counts those before it."""

    station: str
    quantity: QuantityName
    value: float
    unit: str
    uncertainty: float
    method: Method | None
    at: AwareDatetime | None
    minutes: float | None
    early: bool
    earlier: int


class CycleCorner(Document):
    """A corner of the measured cycle on the pressure–enthalpy chart; pressure is absolute.

    ``source`` says what the pressure comes from; ``told`` is false where the pipe reads so close to saturation that the
    point may lie inside the dome; ``uses`` lists the stations whose readings made it.
    """

    corner: Corner
    station: str
    pressure: PlainQuantity
    temperature: PlainQuantity
    enthalpy: Measured
    source: Source
    told: bool
    uses: list[str]


class Expected(Document):
    """What the sound machine would show: a value, and the ends of what is still sound. ``departs`` says on which side of
    those ends a reading lies, its own band counted; null also where there is none."""

    quantity: QuantityName
    value: float
    low: float
    high: float
    unit: str
    departs: Literal["above", "below"] | None


class ExpectedFigure(Document):
    """What the sound machine's indicator would be, and the ends of what is still sound."""

    value: float
    low: float
    high: float
    unit: str


class ExpectedCorner(Document):
    """A corner of the sound machine's cycle; the pressure is absolute."""

    corner: Corner
    pressure: PlainQuantity
    enthalpy: PlainQuantity


class HeadExamination(Document):
    """One head of a run: whether it calls (null where nobody noted it), and what is known of it.

    ``outdoors`` and ``indoors`` say whether refrigerant runs there by the pipes at either end: ``bleeding`` in heating where
    it is a little; null where unread. ``superheat`` or ``subcooling`` are those of its own pipes, ``air`` is what its air
    gains or loses, all null where it does not call. ``path``, ``legs``, ``levels``, ``devices`` and ``expected`` are those
    of the run, along this head. ``along`` marks the one that the run itself is examined along.
    """

    number: int
    label: str
    calls: bool | None
    along: bool
    outdoors: HeadState | None
    indoors: HeadState | None
    superheat: Measured | None
    subcooling: Measured | None
    air: Measured | None
    path: list[PathStop]
    legs: list[Leg]
    levels: list[Level]
    devices: list[Device]
    expected: dict[str, Expected]


class RunExamination(Document):
    """What the readings say of one run.

    ``commanded_mode`` is what was called for, ``apparent_mode`` what the readings say it does; ``running_mode`` is the way
    it is examined: ``path``, ``meters``, ``coils``, ``taps``, ``legs`` and ``devices`` are those of the circuit that runs.
    ``stations`` lists every place this unit has, in walking order. For an ``off`` run ``path``, ``taps``, ``legs`` and
    ``levels`` are empty, ``running_mode``, ``meters`` and ``coils`` null: nothing flows. ``expected`` is what this unit,
    sound, would show at its stations in this run's conditions, ``expected_indicators`` what its indicators would be, and
    ``expected_basis`` says what that rests on, or why nothing is expected; ``departure`` is the station that departs
    furthest from what is expected there, or null. ``circuit`` is the one it was read on, absent where the unit has one.
    ``heads`` has each head by itself where the unit has several, and is absent otherwise; the run is then examined along one
    of them, as if it were the only one.
    """

    id: str
    circuit: str | None = Field(default=None, exclude_if=absent)
    commanded_mode: Mode
    apparent_mode: ApparentMode
    running_mode: FlowMode | None
    path: list[PathStop]
    meters: Meters | None
    coils: Coils | None
    taps: list[TapPlace]
    stations: list[str]
    legs: list[Leg]
    levels: list[Level]
    devices: list[Device]
    readings: list[ReadingInForce]
    indicators: dict[str, Indicator]
    expected: dict[str, Expected]
    expected_indicators: dict[str, ExpectedFigure]
    expected_basis: str
    expected_cycle: list[ExpectedCorner]
    departure: str | None
    cycle: list[CycleCorner]
    terminals: list[Terminal]
    checks: list[Check]
    doubts: list[Doubt]
    heads: list[HeadExamination] = Field(default=[], exclude_if=absent)


class Spell(Document):
    """What the circuit did from one second of a recording to another."""

    mode: Literal["heating", "cooling", "defrost", "off", "unknown"]
    start: float = Field(serialization_alias="from")
    end: float = Field(serialization_alias="to")


class MeltingPlateau(Document):
    """While melting ice held the coil: from one second to another, and at what temperature."""

    start: float = Field(serialization_alias="from")
    end: float = Field(serialization_alias="to")
    temperature: PlainQuantity


class SeenDefrost(Document):
    """One defrost of a recording. Moments are seconds since its start, null where outside the recording.

    ``run_before`` is minutes of heating before it, or null. ``coil_at_start`` is the outdoor coil's temperature then,
    ``coil_highest`` its highest, ``supply_air_lowest`` the coldest supply air. ``shift_delay`` is seconds from the call to
    the shift. ``called`` and ``let_go`` are when the board acted and took that back. A call that the valve never followed
    has ``shifted`` false. ``frost_before`` is how much colder against its air frost had made the coil, ``frost_left`` how
    much of that was left once it had recovered, ``air_lost`` the share of the coil's air that frost took. ``words`` tell all
    of it in a line.
    """

    started: float | None
    ended: float | None
    shifted: bool
    run_before: float | None
    started_by: Literal["timer", "demand", "forced", "unknown"]
    ended_by: Literal["temperature", "time_limit", "other", "not_seen"]
    coil_at_start: PlainQuantity | None
    coil_highest: PlainQuantity | None
    shift_delay: float | None
    fan_stopped: bool | None
    backup_heat_on: bool | None
    supply_air_lowest: PlainQuantity | None
    cleared: bool | None
    called: float | None
    let_go: float | None
    plateau: MeltingPlateau | None
    frost_before: Measured | None
    frost_left: Measured | None
    air_lost: Measured | None
    dry: bool | None
    words: str = ""


class Switched(Document):
    """A thing that switches, as a lane of the sequence: the seconds from which on it is on, and off again."""

    name: Literal["compressor", "reversing_valve", "outdoor_fan", "backup_heat"]
    on: list[tuple[float, float]]
    known: list[tuple[float, float]]


class DefrostSetting(Document):
    """A setting of the unit's defrost; ``assumed`` where nobody noted it and what is common is taken."""

    name: Literal["interval", "least_interval", "start_below", "stop_above", "limit"]
    setting: PlainQuantity
    assumed: bool


class RecordingExamination(Document):
    """What a recording shows: the circuit's course, each defrost, and the checks of them."""

    id: str
    spells: list[Spell]
    defrosts: list[SeenDefrost]
    indicators: dict[str, Indicator]
    checks: list[Check]
    doubts: list[Doubt]
    settings: list[DefrostSetting]
    lanes: list[Switched]


class RuleOut(Document):
    """What must be settled before a part is condemned: done, still open, or contradicted by what was read."""

    text: str
    status: Literal["done", "open", "contradicted"]


class Severity(Document):
    """How bad a fault is: likeliest value, and the ends between which it lies four times in five."""

    value: float
    low: float
    high: float
    unit: str
    words: str


class Compared(Document):
    """A number against numbers: what was measured, what a sound machine would show, and what one with the fault.

    ``name`` is an indicator's, or where ``quantity`` is set a station's code. Of the fault ``none``, ``fault`` is what the
    likeliest other would show. ``words`` is the sentence of it, as it stands under ``for`` or ``against``.
    """

    run: str
    name: str
    quantity: QuantityName | None
    measured: Measured
    sound: Measured
    fault: Measured
    words: str


class Suspect(Document):
    """The reading that, left out, lets all the others fit a sound machine, or one with the fault it is told of; and what it
    should have been.

    ``exchanged_with`` is the station whose sensor it was exchanged with; ``slip`` the slip of the hand that explains it; each
    null where there is none.
    """

    run: str
    station: str
    quantity: QuantityName
    should: Measured
    exchanged_with: str | None
    slip: str | None
    words: str


class Foretold(Document):
    """What a place would show with a fault as bad as it seems, and the ends of that."""

    quantity: QuantityName
    value: float
    low: float
    high: float
    unit: str


class RankedFault(Document):
    """A fault and how likely it is.

    ``mode`` is set where it sits in a part that works in one mode alone. ``replaces`` names the part it would condemn,
    ``settled`` says whether every rule-out is done, so that the word "replace" may be used. ``for`` and ``against`` say
    the strongest first; ``compared`` has the numbers of those that are numbers. ``apart`` says what separates the first
    from the one after it, ``not_explained`` what was read that it does not explain, nor a sound unit. ``foretold`` is
    what a machine with the fault would show in each run, by station, for the few likeliest. ``circuit`` is the circuit it
    is in, where the unit has several; absent for a fault of what they share. ``heads`` are the numbers of the heads it is
    of, where the unit has several and that is known.
    """

    fault: Fault
    title: str
    mode: Literal["heating", "cooling"] | None
    probability: float
    speaks_for: list[str] = Field(serialization_alias="for")
    against: list[str]
    rule_out: list[RuleOut]
    replaces: str | None
    settled: bool
    caution: str
    severity: Severity | None
    suspect: Suspect | None
    compared: list[Compared]
    apart: str
    not_explained: list[str]
    foretold: dict[str, dict[str, Foretold]]
    circuit: str | None = Field(default=None, exclude_if=absent)
    heads: list[int] = Field(default=[], exclude_if=absent)


class NextReading(Document):
    """What to measure or look for next, and why.

    ``observe`` names an observation to look for, and ``station`` is then empty. ``run`` is null where a run in that mode
    has yet to be started, and ``switch_mode`` true. ``minutes`` is what it takes. Each is weighed as if those before it had
    been taken. Where nothing is worth its minutes there is one entry, ``stop``, and ``station`` is empty. ``circuit`` is the
    one to read it on, where the unit has several; ``heads_calling`` the heads to let call for it, where that takes a new run.
    """

    station: str
    quantity: QuantityName
    observe: SightCode | None
    mode: Mode
    run: str | None
    switch_mode: bool
    minutes: float
    stop: bool
    why: str
    separates: list[Fault]
    circuit: str | None = Field(default=None, exclude_if=absent)
    heads_calling: list[int] | None = Field(default=None, exclude_if=absent)


class AfterRepair(Document):
    """What is said of the runs made after the repair, by themselves."""

    headline: str
    verdict: str
    outcome: Status


class CircuitExamination(Document):
    """One of several circuits by itself, as :class:`Examination` has the whole unit; ``runs`` are the ids of those read on
    it."""

    id: str
    runs: list[str]
    headline: str
    verdict: str
    outcome: Status
    lead: Lead
    concluded: list[Fault]
    baseline: Baseline | None
    board: list[BoardLine]
    ranking: list[RankedFault]
    next_readings: list[NextReading]
    after_repair: AfterRepair | None


class Examination(Document):
    """The whole of it. ``headline`` is the few words for a list; ``verdict`` is the headline and at most two sentences
    more. ``lead`` is the kind of thing it begins with, ``concluded`` the fault that leads clearly enough, those that are
    tied, or none. ``station_names`` gives the short name of each station as this unit has it. ``baseline`` is null where no
    earlier visits were given. Where runs were made after a repair, verdict and ranking are of those before it,
    ``after_repair`` and the next readings of those after it. ``circuits`` has each circuit's own findings where the unit has
    several, and is absent otherwise."""

    format: Literal["icepick-examination"] = "icepick-examination"
    version: Literal[1] = 1
    headline: str
    verdict: str
    outcome: Status
    lead: Lead
    concluded: list[Fault]
    advice: list[Advice]
    baseline: Baseline | None
    station_names: dict[str, str]
    runs: list[RunExamination]
    recordings: list[RecordingExamination]
    board: list[BoardLine]
    ranking: list[RankedFault]
    next_readings: list[NextReading]
    after_repair: AfterRepair | None = None
    changed_limits: dict[str, PlainQuantity]
    circuits: list[CircuitExamination] = Field(default=[], exclude_if=absent)


def examination_schema() -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of the examination document.

    Returns
    -------
    dict of str to Any
        Ready for ``json.dumps``.
    """
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": "urn:icepick:examination:1",
        **Examination.model_json_schema(mode="serialization"),
    }

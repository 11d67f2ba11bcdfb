"""What recordings tell of defrosts through time: whether one comes when due, shifts, stops, clears the coil.
[the-trade.md 7]

The rows are our own judgement of common practice and physics. What a sensor that reads wrong does to a sequence looks like a
board that does it; the two stay tied until the sensor is held against a thermometer.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from icepick.core.circuit.context import RunContext
from icepick.core.diagnosis.evidence import Checks, Feature, JudgedRun, Term
from icepick.core.diagnosis.hypotheses import Hypothesis
from icepick.core.diagnosis.tables import PLACE, SPEAKS
from icepick.core.document.roles import FlowMode


def _nothing(context: RunContext, checks: Checks) -> None:
    """A recording answers by its signs, not by a run's readings."""


def _asked(
    name: str,
    words: Mapping[str, str],
    reason: str,
    rows: Mapping[str, tuple[float, ...]],
) -> Feature:
    return Feature(
        name, tuple(words), words, reason, rows, _nothing, lambda context: [], lambda context: False
    )


_KEPT = "command_missing/kept in defrost"


def _due(*, energized: bool) -> Feature:
    """``energized``: whether the valve has to be, to defrost."""
    lost = (0.41, 0.02, 0.36, 0.21)
    return _asked(
        "a defrost that is due",
        {
            "comes": "a defrost comes when it is due",
            "does not come": "a defrost was due, and the board did not call for it",
            "is not seen": "a defrost was due and none is seen",
            "not answered": "a forced defrost switches nothing",
        },
        "A board starts a defrost once its time has run and its sensor is cold.",
        {
            "defrost_not_starting": (0.03, 0.36, 0.36, 0.25),
            "defrost_sensor_off/too warm": (0.27, 0.36, 0.36, 0.01),
            "valve_in_opposite_position": lost,
            **({"solenoid_open": lost, "command_missing": lost} if energized else {_KEPT: lost}),
            "others": (0.985, 0.005, 0.005, 0.005),
        },
    )


DUE = {energized: _due(energized=energized) for energized in (True, False)}


def _shift(*, energized: bool) -> Feature:
    """``energized``: whether the valve has to be, to defrost."""
    kept = (0.02, 0.78, 0.20)
    return _asked(
        "shift in defrost",
        {
            "shifts": "the pipes show the shift to defrost",
            "does not": "called for defrost, the circuit goes on heating",
            "nothing answers": "a forced defrost leaves the circuit heating",
        },
        "The pipes at the valve swing within the minute in which it shifts.",
        {
            "valve_in_opposite_position": kept,
            "defrost_not_starting": (0.79, 0.01, 0.20),
            "compressor_weak": (0.93, 0.05, 0.02),
            "others": (0.985, 0.01, 0.005),
            **({"solenoid_open": kept, "command_missing": kept} if energized else {_KEPT: kept}),
        },
    )


SHIFT = {energized: _shift(energized=energized) for energized in (True, False)}
BACK = _asked(
    "shift back",
    {
        "shifts back": "the circuit heats again after the defrost",
        "stays over": "the board ended the defrost and the circuit ran on in cooling",
        "runs on": "the circuit runs on in cooling past the limit of a defrost",
    },
    "Once the board lets go, the valve goes back.",
    {
        "valve_in_opposite_position": (0.02, 0.50, 0.48),
        "defrost_not_stopping": (0.48, 0.04, 0.48),
        "command_missing": (0.80, 0.10, 0.10),
        "others": (0.98, 0.01, 0.01),
    },
)
STOP = _asked(
    "stop of defrost",
    {
        "by temperature": "defrost stops once its sensor is warm",
        "on its limit": "defrost stops on its time limit",
        "too long": "defrost runs on past its stop",
        "too early": "defrost stops before the coil is clear or its limit is reached",
    },
    "A board ends a defrost by its sensor, or else by its clock.",
    {
        "defrost_not_stopping": (0.02, 0.04, 0.93, 0.01),
        "defrost_sensor_off/too warm": (0.36, 0.03, 0.01, 0.60),
        "defrost_sensor_off/too cold": (0.15, 0.22, 0.60, 0.03),
        "defrost_fan_running": (0.25, 0.72, 0.02, 0.01),
        "undercharge": (0.50, 0.48, 0.01, 0.01),
        "compressor_weak": (0.40, 0.58, 0.01, 0.01),
        "valve_bypassing": (0.45, 0.53, 0.01, 0.01),
        "others": (0.84, 0.14, 0.01, 0.01),
    },
)


def _heats(*, energized: bool) -> Feature:
    """``energized``: whether the valve has to be, to heat."""
    dead = (0.05, 0.93, 0.02) if energized else (0.985, 0.005, 0.01)
    return _asked(
        "runs as called",
        {
            "as called": "the circuit heats as it is told",
            "the other way": "called for heating, the circuit cools",
            "not at all": "called for heating, nothing runs",
        },
        "A circuit that heats is powered, called for, and its valve stands right.",
        {
            "valve_in_opposite_position": (0.02, 0.96, 0.02),
            "valve_convention_wrong": (0.02, 0.96, 0.02),
            "command_missing": dead,
            "solenoid_open": dead,
            "control_power_missing": (0.01, 0.01, 0.98),
            "call_missing": (0.01, 0.01, 0.98),
            "compressor_not_running": (0.01, 0.01, 0.98),
            "others": (0.985, 0.005, 0.01),
        },
    )


HEATS = {energized: _heats(energized=energized) for energized in (True, False)}
CLEARED = _asked(
    "frost cleared",
    {"clear": "the coil came clear of frost", "frost left": "frost is left after the defrost"},
    "A coil that never climbs from melting still has ice, or gets no hot gas.",
    {
        "defrost_fan_running": (0.35, 0.65),
        "defrost_sensor_off/too warm": (0.40, 0.60),
        "undercharge": (0.60, 0.40),
        "coil_circuit_starved": (0.60, 0.40),
        "compressor_weak": (0.55, 0.45),
        "valve_bypassing": (0.60, 0.40),
        "outdoor_coil_frosted": (0.50, 0.50),
        "others": (0.94, 0.06),
    },
)
OFTEN = _asked(
    "time between defrosts",
    {
        "as set": "defrosts come no sooner than they should",
        "too soon": "a defrost came sooner than it should",
    },
    "A defrost that nothing asks for takes heat from the house.",
    {
        "defrost_too_often": (0.03, 0.97),
        "defrost_sensor_off/too cold": (0.60, 0.40),
        "others": (0.99, 0.01),
    },
)
CLEAR_COIL = _asked(
    "clear coil against its air",
    {
        "as expected": "the clear coil is as cold against its air as this unit's should be",
        "colder": "even at its clearest the coil is colder than this unit's should be",
        "warmer": "the coil is less cold against its air than this unit's should be",
    },
    "Short air, short charge or a starved device make the coil colder; a weak compressor or a bypass leaves it warm.",
    {
        "undercharge": (0.38, 0.60, 0.02),
        "active_meter_underfeeding": (0.38, 0.60, 0.02),
        "liquid_line_restriction": (0.38, 0.60, 0.02),
        "bypass_stuck_closed": (0.48, 0.50, 0.02),
        "outdoor_airflow_low": (0.33, 0.65, 0.02),
        "outdoor_coil_frosted": (0.38, 0.60, 0.02),
        "compressor_weak": (0.44, 0.01, 0.55),
        "valve_bypassing": (0.44, 0.01, 0.55),
        "active_meter_overfeeding": (0.70, 0.02, 0.28),
        "reading_suspect": (0.60, 0.20, 0.20),
        "others": (0.95, 0.025, 0.025),
    },
)

_DEFROSTS: FlowMode = "cooling"
_HEATS: FlowMode = "heating"

_ANSWERS: tuple[tuple[str, FlowMode, Feature | Mapping[bool, Feature], Mapping[str, str]], ...] = (
    (
        "valve.position",
        _HEATS,
        HEATS,
        {"pass": "as called", "other way": "the other way", "stands": "not at all"},
    ),
    (
        "defrost.start",
        _DEFROSTS,
        DUE,
        {
            "missed": "does not come",
            "missed, board unseen": "is not seen",
            "unanswered": "not answered",
            "unanswered or not shifted": "not answered",
            "seen": "comes",
        },
    ),
    ("defrost.start", _HEATS, OFTEN, {"above start": "too soon", "dry": "too soon"}),
    (
        "defrost.shift",
        _DEFROSTS,
        SHIFT,
        {
            "not shifted": "does not",
            "nothing answers": "nothing answers",
            "shifted": "shifts",
            "stays over": "shifts",
            "shifted, not yet back": "shifts",
        },
    ),
    ("defrost.shift", _HEATS, BACK, {"stays over": "stays over", "shifted": "shifts back"}),
    ("defrost.stop", _HEATS, BACK, {"past limit, board unseen": "runs on"}),
    (
        "defrost.stop",
        _DEFROSTS,
        STOP,
        {
            "by temperature": "by temperature",
            "on limit": "on its limit",
            "long past": "too long",
            "past limit": "too long",
            "early": "too early",
        },
    ),
    ("defrost.cleared", _DEFROSTS, CLEARED, {"pass": "clear", "fail": "frost left"}),
    ("defrost.interval", _HEATS, OFTEN, {"pass": "as set", "fail": "too soon"}),
    (
        "defrost.clear_coil",
        _HEATS,
        CLEAR_COIL,
        {"pass": "as expected", "colder": "colder", "warmer": "warmer"},
    ),
)
"""Check, the way the circuit was to run, the question it answers (by whether the valve is energized then, where that
matters), and the answer for each sign; for a status where there is no sign."""


def _energized(context: RunContext, mode: FlowMode) -> bool:
    return context.unit.reversing_valve.energized_in == mode


class Sequences:
    """The answers that recordings give."""

    def terms(self, runs: Sequence[JudgedRun], hypotheses: Sequence[Hypothesis]) -> list[Term]:
        """One for each question that a recording answers.

        Parameters
        ----------
        runs : sequence of JudgedRun
            Of which only those that recordings show are asked.
        hypotheses : sequence of Hypothesis
            What may be wrong.

        Returns
        -------
        list of Term
            In the order of the sequence.
        """
        rows = [PLACE[hypothesis] for hypothesis in hypotheses]
        found: dict[tuple[str, str], Term] = {}
        for run in runs:
            if not run.recorded:
                continue
            for code, mode, asked, answers in _ANSWERS:
                check = run.checks.get(code)
                feature = asked if isinstance(asked, Feature) else asked[_energized(run.context, mode)]
                outcome = answers.get(run.signs.get(code) or check.status) if check is not None else None
                if outcome is None:
                    continue
                column = feature.tables[mode][:, feature.outcomes.index(outcome)]
                key = feature.name, run.context.run.id
                # A question that two checks answer is answered by the graver.
                if key in found and outcome == feature.outcomes[0]:
                    continue
                found[key] = Term(
                    feature.words[outcome], run.context.run.id, (), np.log(column[rows]), feature.name, SPEAKS
                )
        return list(found.values())

"""What each question of the ranking says of whom, written from the trade (the-trade.md 3 to 8) and not from the tables.

A line is: the answer, the fault it speaks for, and the mode of the run where it matters. To speak for a fault is to be at
least twice as likely under it as under the others on average; to speak against it, at most half as likely.
"""

import numpy as np
import pytest

from icepick.core.diagnosis.head_faults import OF_HEADS
from icepick.core.diagnosis.hypotheses import UNIVERSE
from icepick.core.diagnosis.tables import FEATURES

BY_NAME = {feature.name: feature for feature in FEATURES}

# Question → (answer, fault, mode): it speaks for that fault; with a minus before the fault, against it.
SAYS = {
    "24 V at R": [("off", "control_power_missing", None)],
    "24 V at Y": [("off", "call_missing", None), ("on", "-call_missing", None)],
    "compressor runs": [
        ("stands still", "compressor_not_running", None),
        ("runs", "-compressor_not_running", None),
        ("locked", "compressor_not_running", None),
        ("locked", "-none", None),
    ],
    "head at the cutout": [
        ("at it", "outdoor_airflow_low", "cooling"),
        ("at it", "indoor_airflow_low", "heating"),
        ("at it", "noncondensables", None),
        ("at it", "-reading_suspect", None),
    ],
    "measured airflow": [
        ("low", "indoor_airflow_low", None),
        ("low", "-none", None),
        ("enough", "-indoor_airflow_low", None),
    ],
    "suction in a vacuum": [
        ("in it", "liquid_line_restriction", None),
        ("in it", "undercharge", None),
        ("in it", "-reading_suspect", None),
    ],
    "direction, valve energized": [
        ("opposite", "valve_convention_wrong", None),
        ("opposite", "-none", None),
        ("midway", "-none", None),
        ("opposite", "valve_in_opposite_position", None),
        ("opposite", "command_missing", None),
        ("opposite", "solenoid_open", None),
        ("alike", "compressor_not_running", None),
        ("midway", "valve_bypassing", None),
        ("right", "-valve_in_opposite_position", None),
    ],
    # At rest the valve falls back by itself: only a stuck one, or one told to energize, stands the wrong way.
    "direction, valve at rest": [
        ("opposite", "-none", None),
        ("opposite", "-command_missing", None),
        ("opposite", "valve_in_opposite_position", None),
        ("opposite", "valve_convention_wrong", None),
        ("opposite", "-solenoid_open", None),
        ("midway", "valve_bypassing", None),
    ],
    "valve's terminal, energized": [
        ("off", "command_missing", None),
        ("off", "valve_convention_wrong", None),
    ],
    "valve's terminal, at rest": [("on", "valve_convention_wrong", None)],
    "voltage at the coil, terminal live": [("off", "command_missing", None)],
    "voltage at the coil, energized": [("off", "command_missing", None), ("on", "-command_missing", None)],
    "voltage at the coil, at rest": [("on", "valve_convention_wrong", None)],
    "solenoid winding": [("open", "solenoid_open", None), ("whole", "-solenoid_open", None)],
    "magnets": [
        ("still", "solenoid_open", None),
        ("still", "command_missing", None),
        ("midway", "-none", None),
        ("midway", "valve_bypassing", None),
        ("still", "valve_in_opposite_position", None),
        ("full", "-valve_in_opposite_position", None),
    ],
    "sound of the shift": [
        ("silent", "valve_in_opposite_position", None),
        ("silent", "command_missing", None),
        ("silent", "solenoid_open", None),
        ("heard", "-solenoid_open", None),
    ],
    "pressure ratio": [
        ("drawn together", "-none", None),
        ("equal", "-none", None),
        ("equal", "compressor_not_running", None),
        ("drawn together", "compressor_weak", None),
        ("drawn together", "valve_bypassing", None),
    ],
    "compressor current": [("low", "compressor_weak", None)],
    "outdoor fan in defrost": [("runs", "defrost_fan_running", None)],
    "backup heat in defrost": [("off", "defrost_no_backup_heat", None)],
    "defrost sensors": [("off", "defrost_sensor_off", None), ("right", "-defrost_sensor_off", None)],
    "doubts": [("some", "reading_suspect", None)],
    "coil circuits": [("one off", "coil_circuit_starved", None), ("alike", "-coil_circuit_starved", None)],
    "bulb": [("loose", "active_meter_overfeeding", None)],
    "hissing": [
        ("heard", "liquid_line_restriction", None),
        ("heard", "bypass_stuck_closed", None),
        ("heard", "undercharge", None),
    ],
    "standing pressure": [
        ("gas", "-none", None),
        ("low", "-none", None),
        ("gas", "noncondensables", None),
        ("low", "undercharge", None),
    ],
    "liquid left": [
        ("none", "undercharge", None),
        ("none", "-valve_in_opposite_position", None),
    ],
    "superheat behind a fixed orifice": [
        ("none", "overcharge", None),
        ("none", "active_meter_overfeeding", None),
        ("none", "indoor_airflow_low", None),
        ("none", "-undercharge", None),
        ("none", "-none", None),
    ],
    "outdoor fan while it cools in a heating call": [
        ("stands still", "defrost_not_stopping", None),
        ("stands still", "-valve_convention_wrong", None),
    ],
    "outdoor fan": [("stands still", "outdoor_airflow_low", None)],
    "dirt indoors": [("seen", "indoor_airflow_low", None)],
    "dirt outdoors": [("seen", "outdoor_airflow_low", None)],
    "oil stain": [("seen", "undercharge", None)],
    "ice": [
        ("seen", "outdoor_airflow_low", None),
        ("seen", "outdoor_coil_frosted", None),
    ],
    "patchy frost": [("seen", "undercharge", None), ("seen", "coil_circuit_starved", None)],
    "even frost": [("seen", "-coil_circuit_starved", None), ("seen", "outdoor_coil_frosted", None)],
    "pressures apart": [("apart", "-compressor_not_running", None), ("apart", "-call_missing", None)],
    "heat balance": [("does not", "reading_suspect", None)],
    "heat of the source water": [
        ("too much", "reading_suspect", None),
    ],
}


def test_every_question_is_asked_of_the_trade():
    assert set(SAYS) == set(BY_NAME)


@pytest.mark.parametrize(
    ("question", "answer", "fault", "mode"),
    [(question, *line) for question, lines in SAYS.items() for line in lines],
)
def test_an_answer_speaks_for_whom_the_trade_says(question, answer, fault, mode):
    feature = BY_NAME[question]
    column = feature.outcomes.index(answer)
    against, fault = fault.startswith("-"), fault.removeprefix("-")
    modes = ("cooling", "heating") if mode is None else (mode,)
    times = []
    for run in modes:
        likely = feature.tables[run][:, column]
        # A fault of one mode's parts shows in runs of that mode.
        own = np.array([h.fault == fault and h.mode in (None, run) for h in UNIVERSE])
        others = np.array([h.fault != fault and h.fault not in OF_HEADS for h in UNIVERSE])
        assert own.any(), fault
        times.append(likely[own].mean() / likely[others].mean())
    best = min(times) if against else max(times)
    assert best <= 0.5 if against else best >= 2, f"{answer} is {best:.2f} times as likely under {fault}"

"""The verdict: one sentence that a technician would write on the ticket."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from icepick.core.examination import Check, Fault, RankedFault, RunExamination, Status
from icepick.core.quantities import SYMBOLS
from icepick.core.wording import listing, titles

_ORDER: dict[Status, int] = {"fail": 0, "watch": 1, "needs_readings": 2, "pass": 3}


@dataclass(frozen=True, slots=True)
class _Finding:
    """What one run amounts to; runs with the same finding share a clause."""

    status: Status
    words: str
    with_figures: bool = False


def verdict(runs: list[RunExamination], ranking: list[RankedFault]) -> tuple[str, Status]:
    """The sentence, and the worst outcome behind it; the most serious clause comes first, the conclusion last."""
    judged = [run for run in runs if run.commanded_mode != "off"]
    if not judged:
        return "No run with the compressor on yet: start one in heating or cooling.", "needs_readings"
    clauses: dict[_Finding, list[RunExamination]] = defaultdict(list)
    for run in judged:
        clauses[_finding(run)].append(run)
    ranked = sorted(clauses.items(), key=lambda clause: _ORDER[clause[0].status])
    conclusion, worst = _conclusion(ranking), ranked[0][0].status
    if not conclusion or ranking[0].fault in _OF_THE_VALVE:
        said = [*(_clause(finding, those) for finding, those in ranked), *conclusion]
    else:
        modes = ranking[0].mode or listing(list(dict.fromkeys(run.commanded_mode for run in judged)))
        said = [f"{modes}: {conclusion[0]}", *conclusion[1:], _VALVE_IN_SHORT[worst]]
    sentence = "; ".join(said)
    outcome = min(worst, "fail" if conclusion else worst, key=lambda status: _ORDER[status])
    return f"{sentence[0].upper()}{sentence[1:]}.", outcome


_OF_THE_VALVE: frozenset[Fault] = frozenset(
    {
        "valve_in_opposite_position",
        "valve_bypassing",
        "command_missing",
        "valve_convention_wrong",
        "solenoid_open",
        "compressor_weak",
        "reading_suspect",
    }
)
"""Faults for which the valve's own figures are the story; for any other a word on the valve is enough."""
_VALVE_IN_SHORT: dict[Status, str] = {
    "pass": "the reversing valve is fully over",
    "watch": "the reversing valve can't be called yet",
    "fail": "the reversing valve is not clear either",
    "needs_readings": "the reversing valve is not read yet",
}


_CLEAR = 0.5
_TIE = 0.02
_SURE = 0.995


def _conclusion(ranking: list[RankedFault]) -> list[str]:
    """What it most likely is, and whether a part may be condemned yet."""
    if not ranking or ranking[0].fault == "none":
        return []
    first = ranking[0]
    tied = [r for r in ranking if first.probability - r.probability <= _TIE * first.probability]
    if len(tied) > 1 and sum(r.probability for r in tied) >= _CLEAR:
        return [
            f"{listing([r.title for r in tied]).replace(' and ', ' or ')}: what was read can't tell which"
        ]
    if first.probability < _CLEAR:
        return []
    percent = f"{first.probability:.0%}".replace("%", " %") if first.probability < _SURE else "over 99 %"
    likely = f"most likely {first.title}, {percent}"
    if first.replaces is None:
        return [likely]
    if first.settled:
        return [likely, f"replace {first.replaces}"]
    still = sum(out.status != "done" for out in first.rule_out)
    points = "one point has" if still == 1 else f"{still} points have"
    return [likely, f"before {first.replaces} is condemned {points} to be settled"]


def _clause(finding: _Finding, runs: list[RunExamination]) -> str:
    modes = listing(list(dict.fromkeys(run.commanded_mode for run in runs)))
    figures = f" ({_figures(runs)})" if finding.with_figures else ""
    return f"{modes}: {finding.words}{figures}"


def _finding(run: RunExamination) -> _Finding:
    checks = {check.code: check for check in run.checks}
    position = checks["valve.position"]
    if position.needs:
        still = "still needs" if run.readings else "needs"
        words = f"not enough readings yet, the valve {still} {titles(position.needs)}"
        return _Finding("needs_readings", words)
    early = " (read before the run settled)" if checks["run.settled"].status == "fail" else ""
    opposite = {"heating": "cooling", "cooling": "heating", "defrost": "heating"}[run.commanded_mode]
    if run.apparent_mode == opposite:
        words = f"the unit runs the wrong way round, in {opposite}; the valve stands in the opposite position"
        return _Finding(position.status, words + early)
    if run.apparent_mode == "neither":
        words = "the circuit runs neither way; the slide stands midway or the compressor does not pump"
        return _Finding(position.status, words + early)
    worst = min((position, *_differences(run)), key=lambda check: _ORDER[check.status])
    if worst.status == "pass":
        return _Finding("pass", "the reversing valve is fully over", with_figures=True)
    if worst.status == "fail":
        passing = worst.code == "valve.suction_rise"
        finding = "passes hot gas to suction" if passing else "loses heat on its hot side"
        return _Finding(
            "fail", f"the reversing valve {finding}, slide not fully over or worn", with_figures=True
        )
    reason = worst.explain[0].lower() + worst.explain[1:].rstrip(".")
    return _Finding("watch", f"the valve can't be called yet{early}; {reason}")


def _differences(run: RunExamination) -> list[Check]:
    return [check for check in run.checks if check.code in ("valve.suction_rise", "valve.discharge_drop")]


def _figures(runs: list[RunExamination]) -> str:
    """Both differences of each run, and the limit they were held to."""
    first = _differences(runs[0])
    said = []
    for index, check in enumerate(first):
        numbers = [_number(_differences(run)[index], run, len(runs) > 1) for run in runs]
        said.append(f"{check.title} {listing(numbers)}")
    limits = [f"{check.limit.value:g} {SYMBOLS[check.limit.unit]}" for check in first if check.limit]
    return f"{', '.join(said)}; limit {listing(list(dict.fromkeys(limits)))}"


def _number(check: Check, run: RunExamination, name_mode: bool) -> str:
    if check.measured is None:
        return "unread"
    number = f"{check.measured.value:.1f} {SYMBOLS[check.measured.unit]}".replace("-", "−")
    return f"{number} in {run.commanded_mode}" if name_mode else number

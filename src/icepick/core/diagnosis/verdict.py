"""The verdict: one sentence that a technician would write on the ticket."""

from __future__ import annotations

from icepick.core.examination import Check, RunExamination, Status
from icepick.core.quantities import SYMBOLS
from icepick.core.wording import listing, titles

_ORDER: dict[Status, int] = {"fail": 0, "watch": 1, "needs_readings": 2, "pass": 3}


def verdict(runs: list[RunExamination]) -> tuple[str, Status]:
    """The sentence, and the worst outcome behind it.

    Runs that say the same thing of themselves share a clause; the most serious clause comes first.
    """
    judged = [run for run in runs if run.commanded_mode != "off"]
    if not judged:
        return "No run with the compressor on yet: start one in heating or cooling.", "needs_readings"
    clauses: dict[tuple[Status, str], list[str]] = {}
    for run in judged:
        clauses.setdefault(_clause(run), []).append(run.commanded_mode)
    ranked = sorted(clauses.items(), key=lambda item: _ORDER[item[0][0]])
    parts = [f"{listing(list(dict.fromkeys(modes)))}: {text}" for (_, text), modes in ranked]
    sentence = "; ".join(parts)
    return f"{sentence[0].upper()}{sentence[1:]}.", ranked[0][0][0]


def _clause(run: RunExamination) -> tuple[Status, str]:
    checks = {check.code: check for check in run.checks}
    position = checks["valve.position"]
    differences = [checks["valve.suction_rise"], checks["valve.discharge_drop"]]
    if not run.readings:
        return "needs_readings", f"not enough readings yet, the valve needs {titles(position.needs)}"
    if position.needs:
        return "needs_readings", f"not enough readings yet, the valve still needs {titles(position.needs)}"
    early = " (read before the run settled)" if checks["run.settled"].status == "fail" else ""
    opposite = {"heating": "cooling", "cooling": "heating", "defrost": "heating"}[run.commanded_mode]
    if run.apparent_mode == opposite:
        text = f"the unit runs the wrong way round, in {opposite}; the valve stands in the opposite position"
        return position.status, text + early
    if run.apparent_mode == "neither":
        text = "the circuit runs neither way; the slide stands midway or the compressor does not pump"
        return position.status, text + early
    worst = min((position, *differences), key=lambda check: _ORDER[check.status])
    if worst.status == "pass":
        return "pass", f"the reversing valve is fully over ({_figures(differences)})"
    if worst.status == "fail":
        passing = worst.code == "valve.suction_rise"
        finding = "passes hot gas to suction" if passing else "loses heat on its hot side"
        return (
            "fail",
            f"the reversing valve {finding}, slide not fully over or worn ({_figures(differences)})",
        )
    return "watch", f"the valve can't be called yet{early}; {_lower(worst.explain)}"


def _figures(checks: list[Check]) -> str:
    said = [f"{check.title} {_number(check)}" for check in checks]
    limits = {check.limit.value for check in checks if check.limit}
    if len(limits) == 1 and (limit := checks[0].limit):
        return f"{listing(said)}, limit {limit.value:g} {SYMBOLS[limit.unit]}"
    return listing(
        [f"{text}, limit {c.limit.value:g}" for text, c in zip(said, checks, strict=True) if c.limit]
    )


def _number(check: Check) -> str:
    if check.measured is None:
        return "unread"
    return f"{check.measured.value:.1f} {SYMBOLS[check.measured.unit]}".replace("-", "−")


def _lower(sentence: str) -> str:
    return sentence[0].lower() + sentence[1:].rstrip(".")

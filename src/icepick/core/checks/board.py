"""The defrost board against its truth table: what it is given, what each of its outputs must be, and where the chain breaks.
[the-trade.md 7]

Inputs right and an output wrong leave the board or what hangs on that output; an output that is right clears the board, and
leaves what it feeds. A board is not named before its sensor and its wires are ruled out. [common practice]
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from icepick.core.checks.command import reads, valve_terminal
from icepick.core.checks.fan_and_heat import backup_on, fan_runs
from icepick.core.checks.rule import CheckRule, Outcome
from icepick.core.circuit.context import RunContext
from icepick.core.document.examination import BoardLine
from icepick.core.document.visit import Unit
from icepick.core.document.wording import listing, name
from icepick.core.properties.quantities import Kind

_VALVE = "the reversing valve"
_LEG = (
    "One leg of a 230 V fan reads 120 V to ground with its relay open: judge the fan by sight or by current."
)


@dataclass(frozen=True, slots=True)
class Row:
    """One output of the board: what it must be in heating and in a defrost, and what it feeds."""

    station: str
    heating: bool | None
    defrost: bool | None
    feeds: str

    def must(self, mode: str) -> bool | None:
        """What it must be in a mode; None where it may be either."""
        return self.defrost if mode == "defrost" else self.heating


def truth_table(unit: Unit) -> tuple[Row, ...]:
    """Every output of the board of a unit that melts frost by running in cooling.

    Parameters
    ----------
    unit : Unit
        The equipment: its convention decides the valve's terminal, its backup heat whether W is used.

    Returns
    -------
    tuple of Row
        Empty where the unit has no such board.
    """
    if unit.source != "air" or (unit.defrost is not None and unit.defrost.method in ("off_cycle", "none")):
        return ()
    cools = unit.reversing_valve.energized_in == "cooling"
    valve = Row(valve_terminal(unit), not cools, cools, _VALVE)
    rows = [valve, Row("outdoor_fan", True, False, "the outdoor fan")]
    if unit.load == "air" and unit.backup_heat in (None, "electric"):
        rows.append(Row("terminal_w", None, True, "the backup heat"))
    return tuple(rows)


def _found(context: RunContext, row: Row) -> bool | None:
    if row.station == "outdoor_fan":
        return fan_runs(context)
    volts = {"present": True, "absent": False}.get(reads(context, row.station) or "")
    if volts is None and row.feeds == _VALVE:
        return {"present": True, "absent": False}.get(reads(context, "solenoid") or "")
    if volts is None and row.station == "terminal_w" and backup_on(context):
        return True  # Heat that is on was called; heat that is off may still have been.
    return volts


def board_lines(contexts: Sequence[RunContext]) -> list[BoardLine]:
    """The truth table beside what was read, for the screen.

    Parameters
    ----------
    contexts : sequence of RunContext
        The visit's runs, in their order.

    Returns
    -------
    list of BoardLine
        Inputs first; empty where the unit has no such board, or nothing was run.
    """
    table = truth_table(contexts[0].unit) if contexts else ()
    if not table:
        return []
    inputs = (Row("terminal_r", True, True, "the board"), Row("terminal_y", True, True, "the contactor"))
    lines = []
    for row in (*inputs, *table):
        found: dict[str, bool] = {}
        for context in contexts:
            is_on = _found(context, row)
            if is_on is not None:
                found[context.run.mode] = is_on
        lines.append(
            BoardLine(
                station=row.station,
                heating=row.heating,
                defrost=row.defrost,
                read_in_heating=found.get("heating"),
                read_in_defrost=found.get("defrost"),
                feeds=row.feeds,
            )
        )
    return lines


def _board(context: RunContext) -> Outcome | None:
    if context.run.mode not in ("heating", "defrost"):
        return None
    rows = [(row, row.must(context.run.mode), _found(context, row)) for row in truth_table(context.unit)]
    rows = [(row, must, is_on) for row, must, is_on in rows if must is not None]
    read = [(row, must, is_on) for row, must, is_on in rows if is_on is not None]
    # The fan alone is judged by its own check.
    if not any(row.station != "outdoor_fan" for row, _, _ in read):
        return None
    inputs = {code: reads(context, code) for code in ("terminal_r", "terminal_y")}
    dead = [name(context.unit, code) for code, found in inputs.items() if found == "absent"]
    if dead:
        return Outcome(
            "watch", f"{listing(dead)} dead: nothing is said of the board before its inputs are live."
        )
    wrong = [row for row, must, is_on in read if must is not is_on]
    given = [code for code, found in inputs.items() if found is None]
    if not wrong:
        said = "What was read of its outputs is right"
        left = (
            ""
            if not given
            else f", as far as they go without {listing([name(context.unit, c) for c in given])}"
        )
        return Outcome("pass", f"{said}{left}: where something does not follow, it is what the board feeds.")
    if context.run.mode == "defrost" and len(wrong) == len(read) and len(read) > 1:
        return Outcome(
            "fail",
            "Every output stands as in heating: the board has not gone into defrost. Its sensor and the sensor's wire first, "
            "then R and Y, then the board.",
        )
    if context.run.mode == "heating" and any(row.feeds == _VALVE for row in wrong):
        return Outcome(
            "watch",
            "In heating the valve's voltage comes from the thermostat, through the board: its O/B setting and wire first.",
        )
    terminals = listing([_words(context, row) for row in wrong])
    status, condition = (
        ("watch", "Read R and Y: only with both live is it the board. ")
        if given
        else ("fail", "R and Y are live. ")
    )
    leg = f" {_LEG}" if any(row.station == "outdoor_fan" for row in wrong) else ""
    return Outcome(
        "fail" if status == "fail" else "watch",
        f"{condition}{terminals[0].upper()}{terminals[1:]}. Lift the wire there and read again: if the output stays wrong it "
        f"is the board, else the wire or {listing([row.feeds for row in wrong])}.{leg}",
    )


def _words(context: RunContext, row: Row) -> str:
    if row.station == "outdoor_fan":
        return "the outdoor fan runs" if context.run.mode == "defrost" else "the outdoor fan stands still"
    state = "dead" if row.must(context.run.mode) else "live"
    return f"{name(context.unit, row.station)} is {state}"


BOARD = CheckRule(
    "defrost.board",
    "defrost board",
    Kind.VOLTAGE,
    None,
    _board,
    "common practice: inputs right and an output wrong, the board; output right, what it feeds",
    in_defrost=True,
)

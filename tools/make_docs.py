"""Make the pages of docs/ that only restate the code: `.venv/bin/python tools/make_docs.py`.

Practice limits, calculators and faults are written once, in the core; the Handbook shows them and these pages
print them. A test compares the pages with what this makes.
"""

from __future__ import annotations

import textwrap
from pathlib import Path

from icepick.core.document.roles import FlowMode
from icepick.core.document.visit import Unit
from icepick.core.handbook.calculators import CALCULATORS
from icepick.core.handbook.fault_pages import FAULT_PAGES
from icepick.core.machine.faults import FAULTS
from icepick.core.machine.parameters import PARAMETERS, shown_of
from icepick.core.machine.unknowns import unknowns
from icepick.core.practice import LIMITS
from icepick.core.properties.quantities import symbol
from icepick.fleet.tables import TABLES

DOCS = Path(__file__).parents[1] / "docs"


def wrapped(text: str) -> str:
    return textwrap.fill(text, 110, break_long_words=False, break_on_hyphens=False)


def practice_limits() -> str:
    parts = [
        "# Practice limits",
        wrapped(
            "Every limit of the trade that Icepick uses, with its default, standing and reason. They live in "
            "`src/icepick/core/practice/` and nowhere else; a shop may change one in the Handbook, and a report "
            "prints those that were changed."
        ),
    ]
    for limit in LIMITS:
        parts += [
            f"## `{limit.name}`",
            f"{limit.default:g} {symbol(limit.unit, limit.kind)} · {limit.standing}".replace("  ", " "),
            wrapped(limit.reason),
        ]
    return "\n\n".join(parts) + "\n"


def calculators() -> str:
    parts = [
        "# Calculators",
        wrapped(
            "The Handbook's small questions: what each asks for, its formula and the source of that formula."
        ),
    ]
    for entry in CALCULATORS:
        parts += [
            f"## `{entry.code}`",
            f"{entry.title[0].upper()}{entry.title[1:]}.",
            f"`{entry.formula}`",
            wrapped(f"Asks for {', '.join(i.title for i in entry.inputs)}. Source: {entry.source}."),
        ]
    return "\n\n".join(parts) + "\n"


def faults() -> str:
    parts = [
        "# Fault codes",
        wrapped("What each code of the ranking means, and what tells it from what looks alike."),
    ]
    for page in FAULT_PAGES:
        parts += [f"## `{page.code}`", wrapped(f"{page.title[0].upper()}{page.title[1:]}. {page.what}")]
        if page.effects:
            rows = [f"| {name} | {cooling} | {heating} |" for name, cooling, heating in page.effects]
            parts.append("\n".join(["| indicator | in cooling | in heating |", "|---|---|---|", *rows]))
        if page.mimics:
            parts.append(wrapped(f"Looks like: {', '.join(f'`{code}`' for code in page.mimics)}."))
        parts += [wrapped(f"Told apart: {page.apart}"), wrapped(f"To do: {page.do}"), wrapped(page.caution)]
    return "\n\n".join(parts) + "\n"


def machine_parameters() -> str:
    parts = [
        "# Parameters of the machine model",
        wrapped(
            "Every number of the machine model that is not a unit's own (see machine.md). They live in "
            "`src/icepick/core/machine/parameters.py` and `unknowns.py`."
        ),
    ]
    for one in PARAMETERS:
        parts += [
            f"## `{one.name}`",
            f"{shown_of(one)} · {one.standing}",
            wrapped(one.reason),
        ]
    found = [unknowns(_unit(kind), kind == "piston", mode) for kind in ("txv", "piston") for mode in MODES]
    rows = {(one.name, one.spread): one for of_unit in found for one in of_unit}
    parts += [
        "# What is unknown of a unit",
        wrapped(
            "One standard deviation of each, in a unit without manufacturer's data; our own choice throughout. A share is of "
            "the value itself."
        ),
    ]
    for one in rows.values():
        parts += [f"## `{one.name}`", f"± {one.spread:g} {one.unit} · {one.title}", wrapped(one.reason)]
    parts += [
        "# Severities of faults",
        wrapped("What each fault acts on, by an amount: slight, middling, grave. Our own choice."),
    ]
    for fault in FAULTS:
        if not fault.backwards:
            amounts = ", ".join(f"{amount:g}" for amount in fault.amounts)
            parts += [f"## `{fault.fault}`", f"{amounts} {fault.unit} {fault.words}"]
    return "\n\n".join(parts) + "\n"


MODES: tuple[FlowMode, ...] = ("cooling", "heating")


def _unit(kind: str) -> Unit:
    """Any unit with nothing stated."""
    device = {"kind": kind, "bypass": "internal_check"}
    return Unit.model_validate(
        {
            "label": "any",
            "layout": "split",
            "source": "air",
            "load": "air",
            "refrigerant": "R-410A",
            "indoor_meter": device,
            "outdoor_meter": device,
            "drier": {"kind": "none"},
            "accumulator": True,
            "compressor": {"kind": "single"},
            "reversing_valve": {"energized_in": "cooling"},
        }
    )


def fleet() -> str:
    parts = [
        "# A fleet's worth",
        wrapped(
            "`icepick examine --jobs 8 FOLDER MORE.jsonl` examines visit documents on several processes and prints a "
            "line of JSON for each, in the order they came: `from` where, and the `examination` or the `error`. A folder "
            "gives all its `.json` and `.jsonl` files; with `--lines`, standard input (`-`) is JSON Lines too. Exit code 2 "
            "where one could not be examined."
        ),
        wrapped(
            "`icepick fleet ARCHIVE.zip --out FOLDER` examines every visit of an archive (`icepick export`), each beside "
            "those before it on its unit and by the limits that stand in it, on Dask: `--workers 4` on this machine, "
            "`--scheduler tcp://host:8786` on a cluster, whose workers need the same Icepick. It writes the tables below "
            "as Parquet, a folder each, which any engine reads; all of them, or nothing where something goes wrong. It "
            "comes with `pip install 'icepick[fleet]'`. A scheduler's port runs whatever it is sent: it belongs behind a "
            "firewall."
        ),
    ]
    for table in TABLES:
        rows = [f"| `{one.name}` | {one.kind} | {one.says} |" for one in table.columns]
        parts += [
            f"## `{table.name}`",
            wrapped(table.says),
            "\n".join(["| column | | |", "|---|---|---|", *rows]),
        ]
    return "\n\n".join(parts) + "\n"


PAGES = {
    "fleet.md": fleet,
    "practice-limits.md": practice_limits,
    "calculators.md": calculators,
    "faults.md": faults,
    "machine-parameters.md": machine_parameters,
}


def main() -> None:
    for name, make in PAGES.items():
        (DOCS / name).write_text(make(), "utf-8")


if __name__ == "__main__":
    main()

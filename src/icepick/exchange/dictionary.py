"""The data dictionary of the tables: what each is of, and what each column means.

The data package follows the Data Package and Table Schema specifications (Open Knowledge, version 1).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

Names = tuple[str, ...]
Pointers = dict[Names, tuple[str, Names]]


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its type as Table Schema names it, and what it means."""

    name: str
    type: str
    says: str
    always: bool = False


@dataclass(frozen=True, slots=True)
class Table:
    """A table; ``key`` tells its rows apart, ``of`` names the tables that its columns point into."""

    name: str
    says: str
    columns: tuple[Column, ...]
    key: tuple[str, ...] = ()
    of: Pointers = field(default_factory=dict)


_VISIT = Column("visit", "string", "The visit, by the name all books know it by.", True)
_RUN = Column("run", "string", "The run of the visit.", True)
_UNIT = Column("unit", "string", "The unit, by the name all books know it by.", True)
_ENTRY = Column("entry", "string", "The entry, by the key made where it was typed.", True)
_WRITTEN = (
    Column("recorded_at", "datetime", "When it was written down.", True),
    Column("by", "string", "Who wrote it down; empty where nobody had signed in."),
)
_TAKEN_BACK = (
    Column("withdrawn_at", "datetime", "When it was taken back; empty where it stands."),
    Column("withdrawn_by", "string", "Who took it back."),
)
_CLOCKWORK = (
    Column("minutes_running", "number", "How long the unit had been in this mode [min]."),
    Column("started_at", "datetime", "When the run began."),
    Column("compressor_stage", "string", "The compressor's stage: low or high."),
    Column("compressor_speed", "number", "The compressor's speed [percent of rated]."),
)
_OF_A_VISIT: Pointers = {("visit",): ("visits", ("visit",))}
_OF_A_RUN: Pointers = {("visit", "run"): ("runs", ("visit", "run"))}
_OF_A_RECORDING: Pointers = {("visit", "recording"): ("recordings", ("visit", "recording"))}

TABLES = (
    Table(
        "units",
        "The equipment book, each unit as it is described now.",
        (
            _UNIT,
            Column("site", "string", "Where it stands.", True),
            Column("label", "string", "What it is called there."),
            Column("model", "string", "Model as the nameplate writes it."),
            Column("serial", "string", "Serial number as the nameplate writes it."),
            Column("layout", "string", "split, ductless or packaged."),
            Column("source", "string", "What the outdoor coil exchanges heat with: air or water."),
            Column("load", "string", "What the indoor coil exchanges heat with: air or water."),
            Column("refrigerant", "string", "The refrigerant by its number."),
            Column("nominal_capacity", "number", "Nominal cooling capacity, in the unit beside it."),
            Column("nominal_capacity_unit", "string", "The unit of the capacity."),
            Column("created_at", "datetime", "When it was entered in the book.", True),
        ),
        ("unit",),
    ),
    Table(
        "visits",
        "Every visit.",
        (
            _VISIT,
            _UNIT,
            Column("opened_at", "datetime", "When it was begun.", True),
            Column("opened_by", "string", "Who began it."),
            Column("complaint", "string", "What the customer sees."),
        ),
        ("visit",),
        {("unit",): ("units", ("unit",))},
    ),
    Table(
        "runs",
        "Every run: a spell in one commanded mode.",
        (
            _VISIT,
            _RUN,
            Column("mode", "string", "The commanded mode: heating, cooling, defrost or off.", True),
            *_CLOCKWORK,
            Column("after_repair", "boolean", "Made after what was found had been mended.", True),
            Column("circuit", "string", "The circuit it was read on, where the unit has several."),
            Column(
                "heads_calling", "string", "Numbers of the heads that called; empty where nobody noted them."
            ),
            Column("removed_at", "datetime", "When it was removed, holding nothing; empty where it stands."),
        ),
        ("visit", "run"),
        _OF_A_VISIT,
    ),
    Table(
        "readings",
        "Every reading, those taken back included. The last one of a place that stands is in force.",
        (
            _VISIT,
            _RUN,
            _ENTRY,
            Column("station", "string", "The place it was taken at.", True),
            Column("quantity", "string", "What was measured there.", True),
            Column("value", "number", "The number, in the unit beside it.", True),
            Column("unit", "string", "The unit it was typed in; pressures without abs or a are gauge.", True),
            Column("method", "string", "By what instrument."),
            Column("at", "datetime", "When it was taken, where that was typed."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("entry",),
        _OF_A_RUN,
    ),
    Table(
        "observations",
        "Everything seen or heard, that taken back included.",
        (
            _VISIT,
            _RUN,
            _ENTRY,
            Column("code", "string", "What was looked for.", True),
            Column("value", "string", "What was found, as JSON; empty is: so it is."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("entry",),
        _OF_A_RUN,
    ),
    Table(
        "notes",
        "Every text of a run's notes; the last one is in force.",
        (_VISIT, _RUN, Column("text", "string", "The text."), *_WRITTEN),
        (),
        _OF_A_RUN,
    ),
    Table(
        "recordings",
        "What probes wrote down through time; the samples have a table of their own.",
        (
            _VISIT,
            Column("recording", "string", "The recording of the visit.", True),
            _ENTRY,
            Column("mode", "string", "The commanded mode when it began."),
            Column("started_at", "datetime", "When it began."),
            Column("minutes_running", "number", "How long the unit had been in this mode by then [min]."),
            Column("notes", "string", "What was written beside it."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("visit", "recording"),
        _OF_A_VISIT,
    ),
    Table(
        "samples",
        "The samples of every recording.",
        (
            _VISIT,
            Column("recording", "string", "The recording of the visit.", True),
            Column("station", "string", "The place.", True),
            Column("quantity", "string", "What was measured there.", True),
            Column("unit", "string", "The unit of the value.", True),
            Column("seconds", "number", "Since the recording began [s].", True),
            Column("value", "number", "The number, in the unit beside it.", True),
        ),
        (),
        _OF_A_RECORDING,
    ),
    Table(
        "marks",
        "What was seen while a recording ran.",
        (
            _VISIT,
            Column("recording", "string", "The recording of the visit.", True),
            _ENTRY,
            Column("seconds", "number", "Since the recording began [s]."),
            Column("code", "string", "What was seen."),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        (),
        _OF_A_RECORDING,
    ),
    Table(
        "outcomes",
        "What visits came to, each time that was told; the last one of a visit is in force.",
        (
            _VISIT,
            Column(
                "fault", "string", "What it was in the end; none: nothing was wrong; empty: nobody knows."
            ),
            Column(
                "certainty", "string", "seen: found when looked at by itself; cured: by the repair; guessed."
            ),
            Column(
                "repair", "string", "What the repair did: cured, better, unchanged; none: there was none."
            ),
            Column("work", "string", "What was done."),
            Column("for_customer", "string", "The same in plain words, for the customer's page."),
            Column("said_fault", "string", "What Icepick had said first before it was known."),
            Column("said_probability", "number", "With what probability."),
            *_WRITTEN,
        ),
        (),
        _OF_A_VISIT,
    ),
    Table(
        "photos",
        "Photos; the pictures lie in photos/, each under its digest.",
        (
            _VISIT,
            _ENTRY,
            Column("about", "string", "What it is of.", True),
            Column("caption", "string", "What was written under it."),
            Column("sha256", "string", "The digest of the picture, and its name.", True),
            Column("width", "integer", "Pixels.", True),
            Column("height", "integer", "Pixels.", True),
            *_WRITTEN,
            *_TAKEN_BACK,
        ),
        ("entry",),
        _OF_A_VISIT,
    ),
    Table(
        "closings",
        "Every time a visit was closed by a press, or opened again.",
        (_VISIT, Column("closed", "boolean", "true: closed; false: opened again.", True), *_WRITTEN),
        (),
        _OF_A_VISIT,
    ),
    Table(
        "limits",
        "Every change of a practice limit, where all records leave together.",
        (
            Column("name", "string", "The limit.", True),
            Column("value", "number", "Its value in its own unit; empty is back to the default."),
            *_WRITTEN,
        ),
    ),
    Table(
        "shop",
        "What was said of the shop for its reports, where all records leave together; the last one is in force.",
        (
            Column("name", "string", "Its name."),
            Column("license", "string", "Its license."),
            Column("contact", "string", "How it is reached."),
            *_WRITTEN,
        ),
    ),
)


def data_package() -> dict[str, Any]:
    """The description of the tables, ready for ``json.dumps``."""
    return {
        "profile": "tabular-data-package",
        "name": "icepick-records",
        "title": "Visits to heat pumps: readings, looks, notes and recordings",
        "resources": [
            {
                "profile": "tabular-data-resource",
                "name": table.name,
                "path": f"tables/{table.name}.csv",
                "description": table.says,
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": _schema(table),
            }
            for table in TABLES
        ],
    }


def _schema(table: Table) -> dict[str, Any]:
    schema: dict[str, Any] = {
        "fields": [
            {
                "name": column.name,
                "type": column.type,
                "description": column.says,
                **({"format": "any"} if column.type == "datetime" else {}),
                **({"constraints": {"required": True}} if column.always else {}),
            }
            for column in table.columns
        ],
        "missingValues": [""],
    }
    if table.key:
        schema["primaryKey"] = list(table.key)
    if table.of:
        schema["foreignKeys"] = [
            {"fields": list(columns), "reference": {"resource": name, "fields": list(there)}}
            for columns, (name, there) in table.of.items()
        ]
    return schema

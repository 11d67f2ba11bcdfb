"""Parquet: each table a folder of parts, with what every column means in its schema."""

from __future__ import annotations

import shutil
from collections.abc import Mapping, Sequence
from pathlib import Path
from types import TracebackType
from typing import Self

import pyarrow as pa
import pyarrow.parquet as pq

from icepick import __version__
from icepick.fleet.tables import TABLES, FleetTable, Row

_TYPES = {
    "text": pa.string(),
    "number": pa.float64(),
    "count": pa.int32(),
    "flag": pa.bool_(),
    "moment": pa.timestamp("us", tz="UTC"),
}


def schema_of(table: FleetTable) -> pa.Schema:
    """The Arrow schema of a table."""
    fields = [
        pa.field(column.name, _TYPES[column.kind], metadata={"says": column.says}) for column in table.columns
    ]
    return pa.schema(fields, metadata={"says": table.says, "program": f"icepick {__version__}"})


_SCHEMAS = {table.name: schema_of(table) for table in TABLES}


class FolderTakenError(ValueError):
    """Something stands where the tables are to be."""


class Tables:
    """Tables while parts come in; they stand in their folder once all of them are there, or not at all."""

    def __init__(self, folder: Path) -> None:
        if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
            raise FolderTakenError(f"{folder} is there already; nothing was written over it.")
        self._folder, self._beside = folder, folder.with_name(f"{folder.name}.part")
        self._parts = 0

    def __enter__(self) -> Self:
        shutil.rmtree(self._beside, ignore_errors=True)
        for name in _SCHEMAS:
            (self._beside / name).mkdir(parents=True)
        return self

    def add(self, rows: Mapping[str, Sequence[Row]]) -> None:
        """Write a part of each table that has rows in it."""
        for name, some in rows.items():
            if some:
                part = pa.Table.from_pylist(list(some), schema=_SCHEMAS[name])
                pq.write_table(
                    part, self._beside / name / f"part-{self._parts:05}.parquet", compression="zstd"
                )
        self._parts += 1

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if kind is not None:
            shutil.rmtree(self._beside, ignore_errors=True)
            return
        for name, schema in _SCHEMAS.items():
            if not any((self._beside / name).iterdir()):
                # A table with nothing in it is a table all the same.
                pq.write_table(schema.empty_table(), self._beside / name / "part-00000.parquet")
        if self._folder.exists():
            self._folder.rmdir()
        self._beside.rename(self._folder)

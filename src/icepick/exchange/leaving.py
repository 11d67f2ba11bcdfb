"""Making an archive: of everything, of a unit's history, or of one visit; as a stream, for a book may be large."""

from __future__ import annotations

import json
import sqlite3
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

from pydantic import ValidationError

from icepick import __version__
from icepick.core.document.base import InvalidDocumentError
from icepick.core.document.record import LimitsRecord, ShopRecord, UnitRecord, VisitRecord, record_schema
from icepick.core.document.visit import visit_schema
from icepick.exchange.archive import LIMITS, MANIFEST, PHOTOS, SHOP, UNITS, VISITS, FileLine, Holds, Manifest
from icepick.exchange.dictionary import data_package
from icepick.exchange.standing import standing
from icepick.exchange.tables import Written, limit_rows, shop_rows, unit_rows, visit_rows
from icepick.store.database import at_one_moment, now
from icepick.store.leaving import (
    limits_record,
    shop_record,
    unit_ids,
    unit_of,
    unit_record,
    visit_ids,
    visit_record,
)
from icepick.store.photo_files import PhotoFiles

_ALWAYS = (1980, 1, 1, 0, 0, 0)
"""The same records make the same files, whenever they are packed."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is to leave: one visit with its unit, a unit with all its visits, or everything, limits included."""

    holds: Holds
    number: int = 0

    @property
    def file_name(self) -> str:
        """What the archive is called."""
        return f"icepick-{self.holds}{f'-{self.number}' if self.number else ''}.zip"


def archive_of(connection: sqlite3.Connection, wanted: Wanted) -> Iterator[bytes]:
    """The archive, piece by piece, as the records stand at one moment."""
    with at_one_moment(connection), Written() as tables:
        yield from _Leaving(connection, wanted, tables).pieces()


class _Leaving:
    def __init__(self, connection: sqlite3.Connection, wanted: Wanted, tables: Written) -> None:
        self._connection, self._wanted = connection, wanted
        self._packing, self._tables = _Packing(), tables
        self._left_out = list[str]()
        self._photos = set[str]()

    def pieces(self) -> Iterator[bytes]:
        put = self._packing.put
        units: dict[str, UnitRecord] = {}
        for number in self._unit_ids():
            unit = unit_record(self._connection, number)
            units[unit.id] = unit
            self._tables.add(unit_rows(unit))
            yield put(f"{UNITS}{unit.id}.json", unit.model_dump_json().encode())
        count = 0
        for number in self._visit_ids():
            try:
                visit = visit_record(self._connection, number)
            except ValidationError as error:
                self._left_out.append(f"visit {number}: {error.errors()[0]['msg']}"[:300])
                continue
            count += 1
            self._tables.add(visit_rows(visit))
            yield put(f"{VISITS}{visit.id}.json", visit.model_dump_json().encode())
            yield self._document(visit, units[visit.unit])
            self._photos |= {one.photo.sha256 for one in visit.photos}
        if self._wanted.holds == "everything":
            limits = limits_record(self._connection)
            self._tables.add(limit_rows(limits))
            yield put(LIMITS, limits.model_dump_json().encode())
            said = shop_record(self._connection)
            self._tables.add(shop_rows(said))
            yield put(SHOP, said.model_dump_json().encode())
        yield from self._pictures()
        for path, content in self._tables.files():
            yield put(path, content)
        yield put("datapackage.json", _pretty(data_package()))
        for name, schema in _SCHEMAS.items():
            yield put(f"schema/{name}.json", _pretty(schema()))
        manifest = Manifest(
            made_at=now(),
            program=__version__,
            holds=self._wanted.holds,
            units=len(units),
            visits=count,
            left_out=self._left_out,
            files=self._packing.lines,
        )
        yield put(MANIFEST, manifest.model_dump_json(indent=1).encode())
        yield self._packing.end()

    def _pictures(self) -> Iterator[bytes]:
        files = PhotoFiles.of(self._connection)
        for digest in sorted(self._photos):
            content = files.read(digest)
            if content is None:
                self._left_out.append(f"photo {digest}: it is no longer on disk")
            else:
                yield self._packing.put(f"{PHOTOS}{digest}.jpg", content)

    def _unit_ids(self) -> list[int]:
        if self._wanted.holds == "everything":
            return unit_ids(self._connection)
        number = self._wanted.number
        return [number if self._wanted.holds == "unit" else unit_of(self._connection, number)]

    def _visit_ids(self) -> list[int]:
        if self._wanted.holds == "visit":
            return [self._wanted.number]
        return visit_ids(self._connection, self._wanted.number or None)

    def _document(self, visit: VisitRecord, unit: UnitRecord) -> bytes:
        try:
            document = standing(visit, unit).document
        except InvalidDocumentError:
            # Its record is there all the same.
            return b""
        named = f"visits/{visit.opened_at[:10]}-{visit.id}.json"
        return self._packing.put(named, document.model_dump_json().encode())


_SCHEMAS: dict[str, Callable[[], dict[str, Any]]] = {
    "visit": visit_schema,
    "visit-record": lambda: record_schema(VisitRecord),
    "unit-record": lambda: record_schema(UnitRecord),
    "limits-record": lambda: record_schema(LimitsRecord),
    "shop-record": lambda: record_schema(ShopRecord),
    "manifest": lambda: record_schema(Manifest),
}


def _pretty(plain: object) -> bytes:
    return json.dumps(plain, indent=1, ensure_ascii=False).encode()


class _Packing:
    """A ZIP that is sent while it grows."""

    def __init__(self) -> None:
        self._sent = _Sent()
        self._zip = zipfile.ZipFile(self._sent, "w", zipfile.ZIP_DEFLATED)
        self.lines: list[FileLine] = []

    def put(self, path: str, content: bytes) -> bytes:
        """Add a file; gives what can be sent by then."""
        entry = zipfile.ZipInfo(path, _ALWAYS)
        entry.compress_type = zipfile.ZIP_DEFLATED
        entry.external_attr = 0o644 << 16
        self._zip.writestr(entry, content)
        self.lines.append(FileLine(path=path, bytes=len(content), sha256=sha256(content).hexdigest()))
        return self._sent.take()

    def end(self) -> bytes:
        self._zip.close()
        return self._sent.take()


class _Sent:
    """A file that can only be written to, and forgets what was taken from it."""

    def __init__(self) -> None:
        self._parts = list[bytes]()

    def write(self, part: bytes) -> int:
        self._parts.append(bytes(part))
        return len(part)

    def flush(self) -> None:
        """All of it is there at once."""

    def close(self) -> None:
        """What was written is taken all the same."""

    def take(self) -> bytes:
        parts, self._parts = self._parts, []
        return b"".join(parts)

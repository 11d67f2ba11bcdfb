"""A book's records as they leave it and come in: everything that was written of a visit or a unit, by whom and when, what was
taken back included.

A visit document says how a visit stands; its record, how it came to that. What an older Icepick took and this one would not
stays as it was written, so entries are not held to the visit document's rules.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, FiniteFloat, JsonValue, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from icepick.core.document.base import Document, absent, field_error
from icepick.core.document.codes import CircuitId, HeadsCalling, Mode, RunId
from icepick.core.document.photo import Digest
from icepick.core.document.recording import MOST_MARKS
from icepick.core.document.visit import MOST_ENTRIES, MOST_RECORDINGS, MOST_RUNS

MOST_PRESSES = 10_000
"""Of one kind in one visit or unit: closings, changes of a clock, texts of a note, descriptions."""
MOST_OF_A_KIND = 4 * MOST_ENTRIES
"""Entries in one run, those taken back included."""


def _a_moment(text: str) -> str:
    try:
        offset = datetime.fromisoformat(text).utcoffset()
    except ValueError:
        offset = None
    if offset is None:
        raise PydanticCustomError(
            "moment", "this must be a time with its offset, as in 2026-03-04T09:30:00+01:00"
        )
    return text


Moment = Annotated[str, StringConstraints(max_length=64), AfterValidator(_a_moment)]
"""ISO 8601 with offset, to the letter as it was written down."""
Uid = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8,200}$")]
"""By which all books know a unit or a visit."""
Key = Annotated[str, StringConstraints(min_length=8, max_length=300)]
"""Of an entry, made where it was typed."""
Word = Annotated[str, StringConstraints(max_length=300)]
Prose = Annotated[str, StringConstraints(max_length=20_000)]
Plain = dict[str, JsonValue]


class Signed(Document):
    """When something was written, and ``by`` whom; null where nobody had signed in."""

    recorded_at: Moment
    by: Word | None


class EntryRecord(Signed):
    """An entry, and when and by whom it was taken back, if it was."""

    entry_key: Key
    withdrawn: Signed | None


class ReadingAsWritten(Document):
    station: Word
    quantity: Word
    value: FiniteFloat
    unit: Word
    method: Word | None
    at: Word | None


class ReadingRecord(EntryRecord):
    reading: ReadingAsWritten


class ObservationAsWritten(Document):
    code: Word
    value: JsonValue


class ObservationRecord(EntryRecord):
    observation: ObservationAsWritten


class NoteRecord(Signed):
    """A text that replaced the one before it."""

    text: Prose


class Clockwork(Document):
    """When a run began, or how long it had been going; how hard the compressor worked, and for which heads."""

    minutes_running: FiniteFloat | None
    started_at: Word | None
    compressor_stage: Word | None
    compressor_speed: FiniteFloat | None
    heads_calling: HeadsCalling | None = Field(default=None, exclude_if=absent)


class ClockworkRecord(Signed, Clockwork):
    """What was said anew of it."""


class RunRecord(Clockwork):
    """A run; its clockwork is the one in force. ``added`` is null where the book was older than its audit."""

    id: RunId
    mode: Mode
    after_repair: bool
    circuit: CircuitId | None = Field(default=None, exclude_if=absent)
    added: Signed | None
    changes: list[ClockworkRecord] = Field(max_length=MOST_PRESSES)
    removed: Signed | None
    notes: list[NoteRecord] = Field(max_length=MOST_PRESSES)
    readings: list[ReadingRecord] = Field(max_length=MOST_OF_A_KIND)
    observations: list[ObservationRecord] = Field(max_length=MOST_OF_A_KIND)


class MarkRecord(EntryRecord):
    mark: Plain


class RecordingRecord(EntryRecord):
    id: RunId
    recording: Plain
    marks: list[MarkRecord] = Field(max_length=4 * MOST_MARKS)


class PhotoAsWritten(Document):
    about: Word
    caption: Word | None
    sha256: Digest
    width: int
    height: int


class PhotoRecord(EntryRecord):
    """The picture lies beside the records, under its digest."""

    photo: PhotoAsWritten


class ClosingRecord(Signed):
    """A visit was closed, or opened again."""

    closed: bool


class OutcomeRecord(Signed):
    """What it was in the end, and what had been said of it."""

    outcome: Plain
    said: Plain


class VisitRecord(Document):
    """Everything that was written of a visit. ``description`` is the one of the unit's it was made on, counted from 0."""

    format: Literal["icepick-visit-record"] = "icepick-visit-record"
    version: Literal[1] = 1
    id: Uid
    unit: Uid
    description: Annotated[int, Field(ge=0)]
    complaint: Word | None
    opened_at: Moment
    opened: Signed | None
    runs: list[RunRecord] = Field(max_length=4 * MOST_RUNS)
    recordings: list[RecordingRecord] = Field(max_length=4 * MOST_RECORDINGS)
    closings: list[ClosingRecord] = Field(max_length=MOST_PRESSES)
    outcomes: list[OutcomeRecord] = Field(max_length=MOST_PRESSES)
    # Archives older than photos have none.
    photos: list[PhotoRecord] = Field(default_factory=list, max_length=MOST_PRESSES)

    @model_validator(mode="after")
    def _ids_differ(self) -> VisitRecord:
        _all_differ("runs", "id", [run.id for run in self.runs])
        _all_differ("recordings", "id", [one.id for one in self.recordings])
        _all_differ("runs", "entry_key", self.entry_keys)
        return self

    @property
    def entry_keys(self) -> list[str]:
        """The keys of all its entries."""
        found = [one.entry_key for run in self.runs for one in (*run.readings, *run.observations)]
        found += [one.entry_key for one in self.photos]
        return found + [
            one.entry_key for recording in self.recordings for one in (recording, *recording.marks)
        ]


class DescriptionRecord(Signed):
    unit: Plain


class UnitRecord(Document):
    """A unit of the book: where it stands, and how it was described, the last one being in force. ``also`` has the names by
    which other books know it."""

    format: Literal["icepick-unit-record"] = "icepick-unit-record"
    version: Literal[1] = 1
    id: Uid
    also: list[Uid] = Field(max_length=MOST_PRESSES)
    site: Plain
    created_at: Moment
    descriptions: list[DescriptionRecord] = Field(min_length=1, max_length=MOST_PRESSES)


class LimitChange(Signed):
    name: Word
    value: FiniteFloat | None


class LimitsRecord(Document):
    """Every change of a practice limit; null is back to the default."""

    format: Literal["icepick-limits-record"] = "icepick-limits-record"
    version: Literal[1] = 1
    changes: list[LimitChange] = Field(max_length=1_000_000)


class ShopSaid(Signed):
    shop: Plain


class ShopRecord(Document):
    """Everything that was said of the shop for its reports, the last in force."""

    format: Literal["icepick-shop-record"] = "icepick-shop-record"
    version: Literal[1] = 1
    changes: list[ShopSaid] = Field(max_length=MOST_PRESSES)


def _all_differ(where: str, what: str, names: list[str]) -> None:
    seen = set[str]()
    for name in names:
        if name in seen:
            raise field_error(where, f"two share the {what} {name!r}.")
        seen.add(name)


def record_schema(model: type[Document]) -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of one of these records.

    Parameters
    ----------
    model : type of Document
        :class:`VisitRecord`, :class:`UnitRecord` or :class:`LimitsRecord`.

    Returns
    -------
    dict of str to Any
        Ready for ``json.dumps``.
    """
    name = str(model.model_fields["format"].default).removeprefix("icepick-")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:icepick:{name}:1",
        **model.model_json_schema(),
    }

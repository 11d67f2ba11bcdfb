"""How a file of rows is written: its letters, what separates its cells, how its numbers are written."""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass


class NotRowsError(ValueError):
    """The file is no text of rows and columns; the message says what it is."""


@dataclass(frozen=True, slots=True)
class Layout:
    """``separator`` is a comma (RFC 4180), a semicolon or a tab; ``decimal`` a point, or a comma where no comma separates."""

    separator: str
    decimal: str


def text_of(content: bytes) -> str:
    """The text of a file: UTF-8, UTF-16 where it says so, and what is neither as Windows-1252.

    Raises
    ------
    NotRowsError
        It is no text.
    """
    if content[:4] == b"PK\x03\x04":
        raise NotRowsError("this is a ZIP or a spreadsheet's own file; save the sheet as CSV first.")
    wide = content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE))
    for encoding in ("utf-16",) if wide else ("utf-8-sig", "cp1252"):
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\0" not in text:
            return text
        break
    raise NotRowsError("this is not a text file.")


def layout_of(text: str) -> Layout:
    """How its cells and numbers are written, as its first row separates them and all of it writes numbers."""
    head = re.split(r"[\r\n]", text.lstrip(), maxsplit=1)[0]
    bare = re.sub(r'"[^"]*"', "", head)
    separator = max(",;\t", key=bare.count)
    if separator == "," or separator not in bare:
        return Layout(",", ".")
    # As most of its numbers are written; the others are refused where they stand.
    commas, points = (len(_number_with(mark, separator).findall(text)) for mark in ",.")
    return Layout(separator, "," if commas > points else ".")


def _number_with(mark: str, separator: str) -> re.Pattern[str]:
    edge = re.escape(separator) + '"\\r\\n'
    return re.compile(rf"[{edge}] *[+-]?[0-9]*{re.escape(mark)}[0-9]+(?:[eE][+-]?[0-9]+)? *(?=[{edge}]|$)")

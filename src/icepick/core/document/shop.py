"""The shop as it stands on its reports."""

from __future__ import annotations

from typing import Annotated

from pydantic import StringConstraints

from icepick.core.document.base import Document

Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120, pattern=r"^[^\r\n]*$")]


class Shop(Document):
    """Its name, its license, and how it is reached; each empty where nothing is to be said."""

    name: Line = ""
    license: Line = ""
    contact: Line = ""

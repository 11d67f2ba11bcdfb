"""A photo of a visit: what it is of, and the name of the picture."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from icepick.core.document.base import Document

PhotoOf = Literal["nameplate", "frost", "coil", "valve", "meter", "wiring", "oil", "readings", "other"]
Caption = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200, pattern=r"^[^\r\n]*$")]
Digest = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
MOST_PHOTOS = 40
"""In one visit."""
LONGEST_SIDE = 2048
"""Of a picture as it is kept [pixels]."""


class Photo(Document):
    """``about`` says what it is of; the picture is a JPEG that goes by the SHA-256 of its content."""

    about: PhotoOf
    caption: Caption | None = None
    sha256: Digest
    width: Annotated[int, Field(ge=1, le=LONGEST_SIDE)]
    height: Annotated[int, Field(ge=1, le=LONGEST_SIDE)]

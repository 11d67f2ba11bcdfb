"""A picture as it is kept: looked at, made no larger than a screen, and everything that is not the picture left out."""

from __future__ import annotations

import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from hashlib import sha256
from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError

from icepick.core.document.photo import LONGEST_SIDE

LARGEST = 15 * 1024**2
"""Of a picture as it comes [bytes]."""
MOST_PIXELS = 64_000_000
"""Of a picture as it comes: what takes a few bytes to send may take all the memory there is to unpack."""
_QUALITY = 85
_KINDS = ("JPEG", "PNG", "WEBP")


class PictureError(ValueError):
    """A picture can't be used; the message says why, in a sentence."""


@dataclass(frozen=True, slots=True)
class Kept:
    """A picture ready to be kept, and the digest it goes by."""

    content: bytes
    sha256: str
    width: int
    height: int


def made_ready(content: bytes) -> Kept:
    """A picture that came, upright, no larger than it has to be, without place, time or device in it.

    Parameters
    ----------
    content : bytes
        A JPEG, PNG or WebP file, whatever it is called.

    Returns
    -------
    Kept
        A JPEG.

    Raises
    ------
    PictureError
        It is none of these, damaged or too large.
    """
    if len(content) > LARGEST:
        raise PictureError(
            f"A photo is {LARGEST // 1024**2} MB at most; this one is {len(content) / 1024**2:.0f} MB."
        )
    with _opened(content) as picture:
        upright = ImageOps.exif_transpose(picture)
        upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE), Image.Resampling.LANCZOS)
        # A fresh one takes nothing along but the picture.
        plain = Image.new("RGB", upright.size, "white")
        clear = upright.convert("RGBA") if "transparency" in upright.info or "A" in upright.mode else None
        plain.paste(upright.convert("RGB") if clear is None else clear, mask=clear)
        out = BytesIO()
        plain.save(out, "JPEG", quality=_QUALITY, optimize=True)
    made = out.getvalue()
    return Kept(made, sha256(made).hexdigest(), *plain.size)


def refuse_unkept(content: bytes, width: int, height: int) -> None:
    """Refuse what no Icepick kept: a picture that comes with other records.

    Raises
    ------
    PictureError
        It is no JPEG of this size.
    """
    with _opened(content) as picture:
        if picture.format != "JPEG" or picture.size != (width, height):
            raise PictureError("It is not the picture that the records speak of.")


@contextmanager
def _opened(content: bytes) -> Iterator[Image.Image]:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(BytesIO(content), formats=_KINDS) as picture:
                if picture.width * picture.height > MOST_PIXELS:
                    raise Image.DecompressionBombError
                picture.load()
                yield picture
    except PictureError:
        raise
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise PictureError(
            f"A photo has {MOST_PIXELS / 1e6:.0f} million pixels at most; this one would have more."
        ) from None
    except UnidentifiedImageError:
        raise PictureError("This is not a picture that can be used: send a JPEG, PNG or WebP.") from None
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise PictureError(f"The picture is damaged: {error}.") from None

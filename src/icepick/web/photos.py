"""Photos of a visit: a nameplate, a frost pattern, what was found."""

from __future__ import annotations

from typing import Annotated

from flask import Response, current_app, request
from pydantic import StringConstraints

from icepick.core.document.base import Document
from icepick.core.document.photo import MOST_PHOTOS, Caption, Photo, PhotoOf
from icepick.store import photos as store
from icepick.store.closing import refuse_closed
from icepick.store.database import writing
from icepick.store.photo_files import PhotoFiles
from icepick.store.pictures import PictureError, made_ready
from icepick.web.connection import connection
from icepick.web.contract import Api, EntryKey
from icepick.web.problems import problem
from icepick.web.visit_view import found_visit
from icepick.web.visits import Kept

api = Api("photos")


class PhotoAsked(Document):
    """``name`` is what the file is called, whatever it holds; ``about`` what the photo is of."""

    entry_key: EntryKey
    name: Annotated[str, StringConstraints(min_length=1, max_length=300)]
    about: PhotoOf = "other"
    caption: Caption | None = None


@api.endpoint(
    "post",
    "/visits/<int:visit_id>/photos",
    takes="application/octet-stream",
    asks=PhotoAsked,
    gives=Kept,
    needs="enter",
    status=201,
    computes=True,
)
def add_photo(visit_id: int, content: bytes, asked: PhotoAsked) -> Kept:
    """Add a photo. It is kept as a JPEG no larger than a screen, with nothing in it but the picture."""
    found_visit(visit_id)
    try:
        kept = made_ready(content)
    except PictureError as error:
        raise problem(422, str(error)) from None
    photo = Photo(
        about=asked.about,
        caption=asked.caption or None,
        sha256=kept.sha256,
        width=kept.width,
        height=kept.height,
    )
    files = PhotoFiles.beside(current_app.config["ICEPICK_DB"])
    with writing(connection()) as db:
        known = store.holds_key(db, visit_id, asked.entry_key)
        if not known:
            refuse_closed(db, visit_id)
            if len(store.photos_of(db, visit_id)) >= MOST_PHOTOS:
                raise problem(409, f"A visit holds {MOST_PHOTOS} photos at most; take one back first.")
            files.put(kept.content)
        store.add_photo(db, visit_id, photo, asked.entry_key)
    return Kept(entry_key=asked.entry_key)


@api.file("/visits/<int:visit_id>/photos/<entry_key>", kind="image/jpeg")
def get_photo(visit_id: int, entry_key: str) -> Response:
    """The picture of a photo that stands."""
    found_visit(visit_id)
    for one in store.photos_of(connection(), visit_id):
        if one.entry_key == entry_key:
            content = PhotoFiles.of(connection()).read(one.photo.sha256)
            if content is None:
                raise problem(404, "The picture is no longer on the server's disk; restore a backup.")
            answer = Response(content, mimetype="image/jpeg")
            answer.set_etag(one.photo.sha256)
            answer.make_conditional(request)
            return answer
    raise problem(404, f"Visit {visit_id} has no such photo.")

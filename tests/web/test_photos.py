"""Photos of a visit: what is kept of a picture, what is refused, and where they go with the records."""

import errno
import os
import struct
import time
import zlib
from contextlib import closing
from io import BytesIO
from pathlib import Path
from urllib.parse import urlencode

import pytest
from PIL import Image
from test_api import NEW_CALL, call_on, seen

from archives import entered, looked_at, new_book, packed_again, picture, taken_out
from icepick.exchange.archive import ArchiveError
from icepick.store.backup import back_up, look_through, restore
from icepick.store.database import DatabaseError, connect
from icepick.store.photo_files import PhotoFiles
from icepick.web import create_app

GPS, MAKE, TURNED = 0x8825, 0x010F, 0x0112


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


@pytest.fixture
def visit(client):
    return call_on(client, **NEW_CALL)


def send(client, visit, content, name="plate.jpg", key="first photo", **asked):
    query = urlencode({"entry_key": key, "name": name, **asked})
    address = f"/api/visits/{visit['id']}/photos?{query}"
    return client.post(address, data=content, content_type="application/octet-stream")


def book(client):
    return client.application.config["ICEPICK_DB"]


def on_disk(records):
    return sorted(path.name for path in PhotoFiles.beside(records).folder.rglob("*") if path.is_file())


def with_place(size):
    """As a phone takes it: lying on its side, with where and by what in it."""
    exif = Image.Exif()
    exif[TURNED] = 6
    exif[MAKE] = "some phone"
    exif[GPS] = {1: "N", 2: (46.0, 12.0, 1.0)}
    return picture(77, size, "JPEG", exif=exif, comment=b"at the toll house")


def test_a_photo_is_kept_upright_no_larger_than_a_screen_and_says_nothing_of_where(client, visit):
    content = with_place((4000, 3000))
    assert b"some phone" in content
    assert send(client, visit, content, about="nameplate", caption="outdoor unit").status_code == 201
    (one,) = seen(client, visit)["photos"]
    assert one["photo"]["about"] == "nameplate"
    assert one["photo"]["caption"] == "outdoor unit"
    answer = client.get(f"/api/visits/{visit['id']}/photos/first photo")
    assert answer.mimetype == "image/jpeg"
    with Image.open(BytesIO(answer.data)) as kept:
        assert kept.size == (1536, 2048) == (one["photo"]["width"], one["photo"]["height"])
        assert dict(kept.getexif()) == {}
        assert set(kept.info) <= {"jfif", "jfif_version", "jfif_unit", "jfif_density"}
    assert b"some phone" not in answer.data
    assert b"toll house" not in answer.data
    again = client.get(
        f"/api/visits/{visit['id']}/photos/first photo", headers={"If-None-Match": answer.headers["ETag"]}
    )
    assert (again.status_code, again.data) == (304, b"")


def test_sent_twice_it_is_there_once_and_taken_back_it_stays_in_the_record(client, visit):
    content = picture(3, kind="WEBP")
    for _ in range(2):
        assert send(client, visit, content, "frost.webp", about="frost").status_code == 201
    assert send(client, visit, picture(200), "frost.png").status_code == 409
    assert len(seen(client, visit)["photos"]) == 1
    # The same picture again, under another key, is one file.
    send(client, visit, content, "frost.webp", "second photo", about="frost")
    assert len(on_disk(book(client))) == 1
    client.post(f"/api/visits/{visit['id']}/withdrawals", json={"entry_key": "first photo"})
    assert [one["entry_key"] for one in seen(client, visit)["photos"]] == ["second photo"]
    assert client.get(f"/api/visits/{visit['id']}/photos/first photo").status_code == 404
    assert "took back photo of frost or ice" in [
        line["did"] for line in client.get("/api/audit").json["lines"]
    ]


def a_bomb():
    """A few hundred bytes that would unpack to 900 million pixels."""

    def chunk(kind, content):
        checked = kind + content
        return struct.pack(">I", len(content)) + checked + struct.pack(">I", zlib.crc32(checked))

    head = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 0, 0, 0, 0)
    rows = zlib.compress(b"\0" * 1_000_000)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("name", "content", "says"),
    [
        ("plate.jpg", b"<html>not a picture</html>", "not a picture that can be used"),
        ("plate.jpg", b"%PDF-1.7 and so on", "not a picture that can be used"),
        ("plate.jpg", b"", "not a picture that can be used"),
        ("plate.gif", picture(kind="GIF"), "not a picture that can be used"),
        ("plate.jpg", picture(9, (600, 400), "JPEG", quality=95)[:-900], "damaged"),
        ("plate.png", a_bomb(), "64 million pixels at most"),
        ("plate.jpg", b"\xff\xd8" + os.urandom(16 * 1024**2 - 2), "15 MB at most; this one is 16 MB"),
        ("plate.jpg", b"\xff\xd8" + os.urandom(40 * 1024**2), "16 MB at most"),
    ],
    ids=["html", "pdf", "nothing", "gif", "cut", "bomb", "16-mb", "40-mb"],
)
def test_what_is_no_photo_is_refused_with_a_sentence(client, visit, name, content, says):
    answer = send(client, visit, content, name)
    assert answer.status_code in (413, 422)
    assert answer.mimetype == "application/problem+json"
    assert says in answer.json["detail"]
    assert seen(client, visit)["photos"] == []
    assert on_disk(book(client)) == []


@pytest.mark.parametrize("name", ["plate.png", "plate", "plate.heic"])
def test_a_picture_is_taken_by_what_it_is_whatever_it_is_called(client, visit, name):
    assert send(client, visit, picture(kind="JPEG"), name).status_code == 201
    assert len(seen(client, visit)["photos"]) == 1


def test_what_was_never_finished_is_swept_and_what_is_being_written_is_not(client, visit):
    send(client, visit, picture(5))
    folder = PhotoFiles.beside(book(client)).folder / "ab"
    folder.mkdir(exist_ok=True)
    old, new = folder / "old.part", folder / "new.part"
    for one in (old, new):
        one.write_bytes(b"half a picture")
    os.utime(old, (time.time() - 7200,) * 2)
    create_app(book(client))
    assert [old.exists(), new.exists()] == [False, True]


def test_a_copy_whose_photos_find_no_room_says_so_in_words(client, visit, tmp_path, monkeypatch):
    send(client, visit, picture(5))
    copy = tmp_path / "copy.db"
    back_up(book(client), copy)

    def full(files, content):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(PhotoFiles, "put", full)
    with pytest.raises(
        DatabaseError, match=r"photos that .* carries can't be laid out beside it: No space left"
    ):
        create_app(copy)


def test_a_closed_visit_takes_none(client, visit):
    client.put(f"/api/visits/{visit['id']}/closing", json={"closed": True})
    assert send(client, visit, picture(), "plate.png").status_code == 423
    assert on_disk(book(client)) == []


def test_a_copy_carries_the_pictures_and_puts_them_back(client, visit, tmp_path):
    send(client, visit, picture(5), "plate.png")
    send(client, visit, picture(6), "frost.png", "second photo")
    copy = tmp_path / "elsewhere" / "copy.db"
    looked = back_up(book(client), copy)
    assert (looked.photos, looked.lost) == (2, 0)
    # One file, whole in itself, and a new machine has nothing else.
    assert sorted(copy.parent.iterdir()) == [copy]
    new = tmp_path / "new" / "icepick.db"
    restore(copy, new)
    assert on_disk(new) == on_disk(book(client))
    other = create_app(new).test_client()
    assert other.get(f"/api/visits/{visit['id']}/photos/first photo").status_code == 200
    with closing(connect(new)) as db:
        assert not db.execute("SELECT 1 FROM sqlite_schema WHERE name = 'carried_photos'").fetchall()
    # Served as it is, a copy lays out what it carries.
    served = create_app(copy).test_client()
    assert served.get(f"/api/visits/{visit['id']}/photos/second photo").status_code == 200


def test_a_picture_that_was_lost_is_told_and_one_that_was_changed_is_damage(client, visit, tmp_path):
    send(client, visit, picture(5), "plate.png")
    send(client, visit, picture(6), "frost.png", "second photo")
    first, _ = sorted(PhotoFiles.beside(book(client)).folder.rglob("*.jpg"))
    first.unlink()
    assert look_through(book(client)).lost == 1
    copy = tmp_path / "copy.db"
    assert back_up(book(client), copy).lost == 1
    with closing(connect(copy)) as db:
        db.execute("UPDATE carried_photos SET content = zeroblob(100)")
    with pytest.raises(DatabaseError, match="is not what it was"):
        look_through(copy)


def test_they_go_with_the_records_and_come_in_with_them(client, visit, tmp_path):
    send(client, visit, picture(5), "plate.png", about="nameplate")
    with closing(connect(book(client))) as db:
        archive = taken_out(db)
    with new_book(tmp_path / "other.db") as other:
        entered(other, archive)
        assert on_disk(tmp_path / "other.db") == on_disk(book(client))

    def forge(files):
        (path,) = (name for name in files if name.startswith("photos/"))
        files[path] = picture(9, kind="JPEG")

    with new_book(tmp_path / "third.db") as third:
        with pytest.raises(ArchiveError, match="is not the picture that its name says"):
            looked_at(third, packed_again(archive, forge))
        assert on_disk(tmp_path / "third.db") == []


def test_a_photo_that_stands_here_in_another_visit_is_not_taken(client, visit, tmp_path):
    send(client, visit, picture(5), "plate.png")
    with closing(connect(book(client))) as db:
        archive = taken_out(db)
    other = create_app(tmp_path / "other" / "icepick.db").test_client()
    send(other, call_on(other, **NEW_CALL), picture(6), "plate.png")
    with (
        closing(connect(book(other))) as db,
        pytest.raises(ArchiveError, match="stands here in another visit"),
    ):
        looked_at(db, archive)


def test_nothing_is_left_of_pictures_that_came_with_what_was_not_entered(
    client, visit, tmp_path, monkeypatch
):
    send(client, visit, picture(5), "plate.png")
    with closing(connect(book(client))) as db:
        archive = taken_out(db)
    with new_book(tmp_path / "other.db") as other:
        monkeypatch.setattr("icepick.exchange.coming.note", lambda *_: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            entered(other, archive)
        assert other.execute("SELECT count(*) FROM photos").fetchone()[0] == 0
        assert on_disk(tmp_path / "other.db") == []


def test_a_photo_of_the_demo_is_made_up_like_all_of_it():
    shown = Path(__file__).parents[2] / "src/icepick/demo/photos"
    for file in shown.glob("*.jpg"):
        with Image.open(file) as one:
            assert dict(one.getexif()) == {}

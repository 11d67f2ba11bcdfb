"""Books, and archives that go from one to another."""

import json
from contextlib import closing
from dataclasses import replace
from hashlib import sha256
from io import BytesIO
from pathlib import Path
from zipfile import ZIP_DEFLATED, ZipFile

from PIL import Image

from icepick.exchange.coming import bring_in, look, source
from icepick.exchange.leaving import Wanted, archive_of
from icepick.store.database import connect, prepare

EVERYTHING = Wanted("everything")


def new_book(path):
    prepare(path)
    return closing(connect(path))


def taken_out(db, wanted=EVERYTHING):
    """An archive as a file beside the book."""
    _, _, path = db.execute("PRAGMA database_list").fetchone()
    file = Path(f"{path}.zip")
    file.write_bytes(b"".join(archive_of(db, wanted)))
    return file


def files_of(archive):
    """Each file of an archive; of the manifest what does not change with the hour."""
    with ZipFile(archive) as packed:
        found = {name: packed.read(name) for name in packed.namelist()}
    manifest = json.loads(found.pop("manifest.json"))
    return found, {**manifest, "made_at": None}


def picture(shade=0, size=(12, 8), kind="PNG", **more):
    """A picture as a file holds it."""
    out = BytesIO()
    Image.new("RGB", size, (shade % 256, shade // 4 % 256, 90)).save(out, kind, **more)
    return out.getvalue()


def looked_at(db, archive):
    with source(archive, db) as records:
        return look(db, records, lambda *_: None)


def entered(db, archive):
    foretold = looked_at(db, archive)
    with source(archive, db) as records:
        done = bring_in(db, records, archive.name, lambda *_: None)
    assert replace(done, unusable=foretold.unusable) == foretold, "what was said beforehand is what was done"
    return foretold


def packed_again(archive, change, *, honest=True, beside=None):
    """An archive with its files changed by ``change(files)``; an honest one has a manifest that fits."""
    with ZipFile(archive) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    change(files)
    if honest and "manifest.json" in files:
        manifest = json.loads(files["manifest.json"])
        for line in manifest["files"]:
            content = files.get(line["path"], b"")
            line |= {"bytes": len(content), "sha256": sha256(content).hexdigest()}
        files["manifest.json"] = json.dumps(manifest).encode()
    file = beside or archive.with_name("changed.zip")
    with ZipFile(file, "w", ZIP_DEFLATED) as packed:
        for name, content in files.items():
            packed.writestr(name, content)
    return file


def many(archive, count):
    """An archive with the first of its visits so many times, each a visit of its own."""

    def multiply(files):
        (first, *others) = [name for name in files if name.startswith("records/visits/")]
        text = files.pop(first).decode()
        for name in [*others, *[name for name in files if name.startswith(("visits/", "photos/"))]]:
            del files[name]
        known = json.loads(text)
        manifest = json.loads(files["manifest.json"]) | {"visits": count}
        lines = {line["path"]: line for line in manifest["files"] if line["path"] in files}
        for number in range(count):
            record = json.loads(text.replace(known["id"], f"{number:032x}"))
            for run in record["runs"]:
                for entry in (*run["readings"], *run["observations"]):
                    entry["entry_key"] = f"{number}-{entry['entry_key']}"
            path = f"records/visits/{number:032x}.json"
            files[path] = json.dumps(record).encode()
            lines[path] = {"path": path}
        files["manifest.json"] = json.dumps(manifest | {"files": list(lines.values())}).encode()

    return packed_again(archive, multiply, beside=archive.with_name("many.zip"))

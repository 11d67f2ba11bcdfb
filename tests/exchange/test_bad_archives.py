"""Files that are no archive of records, or not an honest one: refused with a sentence, and nothing is entered."""

import json
import struct
import subprocess
import sys
from zipfile import ZIP_DEFLATED, ZIP_STORED, ZipFile

import pytest

from archives import entered, looked_at, new_book, packed_again, taken_out
from builders import SPLIT_UNIT
from icepick.core.document.visit import Reading, Site, Unit
from icepick.exchange import archive as limits
from icepick.exchange.archive import ArchiveError
from icepick.store.database import writing
from icepick.store.entries import add_reading
from icepick.store.units import add_unit
from icepick.store.visits import add_run, open_visit

READING = Reading(station="common_suction", quantity="temperature", value=52, unit="degF")


@pytest.fixture
def ours(tmp_path):
    with new_book(tmp_path / "ours.db") as db:
        yield db


@pytest.fixture
def good(tmp_path):
    with new_book(tmp_path / "theirs.db") as db:
        with writing(db):
            unit = add_unit(db, Site(name="Boat Shed"), Unit.model_validate(SPLIT_UNIT))
            for number in range(2):
                run = add_run(db, open_visit(db, unit, None), "cooling").row
                add_reading(db, run, READING, f"reading-{number}")
        return taken_out(db)


def records(files, folder="records/visits/"):
    return [name for name in files if name.startswith(folder)]


def changed(name, **to):
    """A change of a JSON file's fields."""

    def change(files):
        for path in records(files, name)[:1]:
            files[path] = json.dumps(json.loads(files[path]) | to).encode()

    return change


def twice_the_same_id(files):
    one, other = records(files)
    files[other] = json.dumps(json.loads(files[other]) | {"id": json.loads(files[one])["id"]}).encode()


def twice_the_same_key(files):
    other = records(files)[1]
    files[other] = files[other].replace(b"reading-1", b"reading-0")


def one_more(files):
    files["records/visits/ffffffff.json"] = files[records(files)[0]]


def one_less(files):
    del files[records(files)[0]]


def another_value(files):
    files[records(files)[0]] = files[records(files)[0]].replace(b"52.0", b"25.0")


def far_apart(files):
    # The parser's own stack is not for a stranger to exhaust.
    files[records(files)[0]] = b"[" * 100_000


REFUSED = {
    "another version": (
        changed("manifest.json", version=2),
        "of version 2 of the format; this Icepick reads version 1",
    ),
    "another format": (changed("manifest.json", format="holiday"), "is not one of an icepick-archive"),
    "no manifest": (lambda files: files.pop("manifest.json"), "has no manifest.json"),
    "counts that are not so": (changed("manifest.json", visits=3), "speaks of 3 visits; it holds 2"),
    "two visits of an id": (twice_the_same_id, "Two of its records are called"),
    "two entries of a key": (twice_the_same_key, "Two of its records are called reading-0"),
    "a record of another version": (changed("records/visits/", version=9), "version: .* is not one of 1"),
    "a field nobody knows": (changed("records/visits/", stolen=True), "no field of this name"),
    "a unit that is not there": (
        changed("records/visits/", unit="0123456789ab"),
        "to a unit that the archive",
    ),
    "a description that is not there": (changed("records/visits/", description=7), "names a description"),
    "a moment that is none": (changed("records/visits/", opened_at="noon"), "must be a time with its offset"),
    "a unit that makes no sense": (
        changed(
            "records/units/", descriptions=[{"recorded_at": "2026-01-01T00:00:00Z", "by": None, "unit": {}}]
        ),
        "can't be used",
    ),
    "a site without a name": (changed("records/units/", site={"notes": "x"}), "has no name"),
    "deep brackets": (far_apart, "can't be used"),
}
DISHONEST = {
    "not a manifest": (lambda files: files.update({"manifest.json": b"{"}), "manifest.json is not JSON"),
    "a manifest of a list": (lambda files: files.update({"manifest.json": b"[1]"}), "is not one of an"),
    "a record changed": (another_value, "the archive was changed"),
    "a record more": (one_more, "which its manifest.json does not name"),
    "a record less": (one_less, "is missing, which its manifest.json names"),
}


@pytest.mark.one_in(2)
@pytest.mark.parametrize("what", [*REFUSED, *DISHONEST])
def test_what_is_not_right_is_refused_with_a_sentence(ours, good, what):
    change, sentence = (REFUSED | DISHONEST)[what]
    bad = packed_again(good, change, honest=what in REFUSED)
    with pytest.raises(ArchiveError, match=sentence):
        looked_at(ours, bad)
    with pytest.raises(ArchiveError):
        entered(ours, bad)
    assert ours.execute("SELECT count(*) FROM visits").fetchone()[0] == 0
    assert ours.execute("SELECT count(*) FROM units").fetchone()[0] == 0


@pytest.mark.parametrize(
    "content", [b"", b"PK\x03\x04 and nothing", b"%PDF-1.7 ...", b"{", b'{"format":"x"}']
)
def test_what_is_something_else_is_refused(ours, tmp_path, content):
    file = tmp_path / "what.zip"
    file.write_bytes(content)
    with pytest.raises(ArchiveError):
        looked_at(ours, file)


def test_a_cut_off_archive_is_refused(ours, good):
    whole = good.read_bytes()
    for share in (0.3, 0.7, 0.999):
        good.write_bytes(whole[: int(len(whole) * share)])
        with pytest.raises(ArchiveError):
            looked_at(ours, good)


def test_a_byte_that_fell_over_is_found(ours, good):
    with ZipFile(good) as packed:
        entry = next(one for one in packed.infolist() if one.filename.startswith("records/visits/"))
    whole = bytearray(good.read_bytes())
    whole[entry.header_offset + 30 + len(entry.filename) + 60] ^= 0x10
    good.write_bytes(whole)
    with pytest.raises(ArchiveError):
        looked_at(ours, good)


def test_a_bomb_is_not_unpacked(ours, good, tmp_path, monkeypatch):
    monkeypatch.setattr(limits, "LARGEST", 50 * 1024**2)
    bomb = tmp_path / "bomb.zip"
    with ZipFile(bomb, "w", ZIP_DEFLATED) as packed:
        for number in range(20):
            with packed.open(f"visits/{number}.json", "w") as file:
                file.write(bytes(4 * 1024**2))
    assert bomb.stat().st_size < 200_000
    with pytest.raises(ArchiveError, match="Unpacked it would be 80 MB; 50 MB is the most"):
        looked_at(ours, bomb)
    # One that says it is small: no more of it is read than it says, and that is not what its manifest says of it.
    monkeypatch.setattr(limits, "LARGEST_READ", 10_000)
    liar = packed_again(good, lambda files: files.update({records(files)[0]: b" " * 20_000}))
    with pytest.raises(ArchiveError, match=r"larger than|less than or equal|is not what"):
        looked_at(ours, liar)


LOOK = """
import sys
from pathlib import Path
from icepick.exchange.archive import VISITS, ArchiveError, opened
from icepick.core.document.record import VisitRecord
try:
    with opened(Path(sys.argv[1])) as archive:
        archive.read(VisitRecord, archive.paths(VISITS)[0])
except ArchiveError as error:
    print(error)
print(next(line for line in open("/proc/self/status") if line.startswith("VmHWM")).split()[1])
"""


@pytest.mark.parametrize(
    ("text", "said"),
    [
        # 16 MB of numbers took 1.4 GB: each of ten fields that are missing kept a copy of them all.
        (
            b'{"id":[' + b"21.5," * (16 * 2**20 // 5) + b"0]}",
            "can't be used: /id: this must be text. (and 9 more)",
        ),
        (b" " * (65 * 2**20), "larger than 64 MB"),
    ],
    ids=["of another kind", "too large"],
)
def test_what_is_no_record_takes_no_more_memory_than_to_read_it(good, text, said):
    archive = packed_again(good, lambda files: files.update({records(files)[0]: text}))
    told = subprocess.run([sys.executable, "-c", LOOK, archive], capture_output=True, text=True, check=True)
    assert said in told.stdout
    assert int(told.stdout.split()[-1]) < 350_000


def test_a_password_two_files_of_a_name_and_strange_packing_are_refused(ours, good, tmp_path):
    twice = tmp_path / "twice.zip"
    twice.write_bytes(good.read_bytes())
    with ZipFile(twice, "a", ZIP_STORED) as packed, pytest.warns(UserWarning, match="Duplicate"):
        packed.writestr("manifest.json", b"{}")
    with pytest.raises(ArchiveError, match=r"Two of its files are called manifest\.json"):
        looked_at(ours, twice)
    whole = bytearray(good.read_bytes())
    with ZipFile(good) as packed:
        directory = packed.start_dir
    locked = bytearray(whole)
    locked[directory + 8] |= 1
    good.write_bytes(locked)
    with pytest.raises(ArchiveError, match="encrypted"):
        looked_at(ours, good)
    strange = bytearray(whole)
    at = whole.rindex(b"manifest.json") - 46
    strange[at + 10 : at + 12] = struct.pack("<H", 97)
    good.write_bytes(strange)
    with pytest.raises(ArchiveError, match=r"manifest\.json in it is damaged"):
        looked_at(ours, good)

"""The report as a PDF, read back with pypdf: complete, in order, numbered, legible."""

import json
import re
from io import BytesIO

import pytest
from pypdf import PdfReader

from archives import picture
from demo_book import copy_book
from icepick.demo import demo_names
from icepick.web import create_app
from people import PASSPHRASE, make_people

NUMBER = {name: number for number, name in enumerate(demo_names(), start=1)}
TOLL = "toll-house-flooding"


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    path = tmp_path_factory.mktemp("report") / "icepick.db"
    return create_app(copy_book(path)).test_client()


def report(client, name, **asked):
    asked = {"zone": "America/New_York", **asked}
    query = "&".join(f"{key}={value}" for key, value in asked.items())
    answer = client.get(f"/api/visits/{NUMBER.get(name, name)}/report?{query}")
    assert answer.status_code == 200, answer.text
    assert answer.mimetype == "application/pdf"
    return PdfReader(BytesIO(answer.data))


def text_of(reader):
    """The text as a reader meets it: page after page, each line as it stands."""
    return [" ".join(page.extract_text().split()) for page in reader.pages]


def in_order(text, *parts):
    at = 0
    for part in parts:
        found = text.find(part, at)
        assert found >= 0, f"{part!r} does not come after {text[max(0, at - 60) : at]!r}"
        at = found + len(part)


def test_the_customer_comes_first_then_everything_the_next_technician_needs(client):
    pages = text_of(report(client, TOLL))
    first, rest = pages[0], " ".join(pages[1:])
    in_order(
        first,
        "What we found at your heat pump",
        "Toll House, Toll house, office",
        "Seen on July 2, 2026",
        "It works as it should",
        "Why we came You called us because the heat pump was not strong enough.",
        "What was wrong We found the cause: the part that meters the fluid",
        "What it meant before the repair",
        "What was done We repaired it, and it works again. Our technician adds: “A sensor had come loose",
        "What comes next There is nothing you need to do",
        "Harbor Row, Tarnwick",
    )
    in_order(
        rest,
        "Service report",
        "Model and serial made up, 30 · TW-0042",
        "Complaint weak",
        f"Visit {NUMBER[TOLL]}, opened Jul 2, 2026, 07:25 (EDT)",
        "Entered by nobody had signed in",
        "Verdict, as found Floodback: liquid reaches the compressor.",
        "Work done: Sensing bulb hung loose",
        "After the repair: The refrigerant circuit is sound",
        "indoor TXV overfeeding",
        "Ruled out: the bulb is on the line that carries suction gas while its valve meters.",
        "What would decide next",
        "Before and after the repair: cooling",
        "superheat −0.9 °F 8.3 °F +9.2",
        "Run 1: calling for cooling",
        "Checks",
        "fail superheat −0.9 ± ",
        "Readings",
        "Seen and heard: TXV bulb loose.",
        "Run 2: calling for heating",
        "Run 3: calling for cooling, after the repair",
        "Notes: Bulb strapped at four o'clock",
        "Photos nameplate metering device: TXV bulb hanging loose",
        "Limits used",
        "superheat tolerance 5 °F published: ANSI/ACCA 5 QI; from memory",
        "Cautions",
    )


def test_every_reading_check_and_number_is_there(client):
    view = client.get(f"/api/visits/{NUMBER[TOLL]}").json
    text = " ".join(text_of(report(client, TOLL)))
    names = view["examination"]["station_names"]
    starts = [text.index(f"Run {place}: calling for") for place in (1, 2, 3)] + [len(text)]
    for place, run in enumerate(view["examination"]["runs"]):
        part = text[starts[place] : starts[place + 1]]
        for one in run["readings"]:
            sign = {"degF": "°F", "psi": "psig", "A": "A"}[one["unit"]]
            quantity = "" if one["quantity"] == "temperature" else ", pressure"
            read = re.search(
                rf"\d+ {re.escape(names[one['station']] + quantity)} ([−\d.,]+) ± [\d.]+ {sign}", part
            )
            assert read, one
            assert float(read[1].replace(",", "").replace("−", "-")) == pytest.approx(one["value"], abs=0.06)
        for check in run["checks"]:
            assert check["title"] in part
            if check["status"] in ("fail", "watch"):
                assert " ".join(check["explain"].split()) in part


@pytest.mark.one_in(3)
@pytest.mark.parametrize("units", ["field", "metric"])
@pytest.mark.parametrize(
    "name",
    [
        TOLL,
        "lighthouse-kiosk",
        "plant-roof",
        "ice-house-now",
        "toll-bridge",
        "boat-museum-air",
        "school-power",
    ],
)
def test_its_pages_are_numbered_headed_and_legible(client, name, units):
    reader = report(client, name, units=units)
    pages, sizes = text_of(reader), []
    assert reader.metadata.author == "Tarnwick Heating and Cooling"
    for number, (page, text) in enumerate(zip(reader.pages, pages, strict=True), start=1):
        assert f"page {number} of {len(pages)}" in text
        assert "License no. 000000 (made up)" in text
        assert text.startswith("Tarnwick Heating and Cooling") or "Tarnwick Heating and Cooling" in text
        width, height = float(page.mediabox.width), float(page.mediabox.height)
        assert (round(width), round(height)) == ((612, 792) if units == "field" else (595, 842))

        def note(words, current, matrix, _font, size, width=width, height=height):
            if words.strip():
                sizes.append(size * abs(matrix[3]) * abs(current[3]))
                x = current[0] * matrix[4] + current[2] * matrix[5] + current[4]
                assert 20 < x < width - 20, words

        page.extract_text(visitor_text=note)
    assert min(sizes) >= 8
    told = " ".join(pages)
    assert "□" not in told
    assert {"field": "kPa", "metric": "psig"}[units] not in told
    assert not re.search(r"\b(None|nan|null|degF|delta)\b", told)


def test_the_pictures_show_what_was_read_with_the_numbers_of_the_table(client):
    view = client.get(f"/api/visits/{NUMBER['swimming-hall-office']}").json
    run, (_, _, page, *_) = view["examination"]["runs"][0], report(client, "swimming-hall-office").pages
    # The pictures alone, and none of the tables: what stands above the checks.
    text = page.extract_text()
    above = text[: text.index("Checks")]
    path = [stop["station"] for stop in run["path"]]
    read = {one["station"]: one["value"] for one in run["readings"] if one["quantity"] == "temperature"}
    for code in path:
        if code in read:
            # In the circuit, and in the staircase.
            assert len(re.findall(rf"(?<![\d.]){read[code]:.1f}(?![\d.])", above)) >= 2, code
    for number in range(1, len(path) + 1):
        assert len(re.findall(rf"(?<![\d.]){number}(?![\d.])", above)) >= 2, number
    for words in ("reversing valve", "compressor", "drier", "high side", "condensing 91.6", "93.4 psig"):
        assert words in above


@pytest.mark.one_in(6)
@pytest.mark.parametrize("name", NUMBER)
def test_every_visit_of_the_demo_has_its_report_and_the_customers_page(client, name):
    """Of every unit with several heads it answered 500: its picture looked for the one indoor coil."""
    pages = text_of(report(client, name))
    assert "Service report" in " ".join(pages)
    page = client.get(f"/api/visits/{NUMBER[name]}/customer?language=en")
    assert page.status_code == 200
    assert len(page.json["lines"]) == 5


def test_the_same_visit_makes_the_same_bytes(client):
    address = f"/api/visits/{NUMBER[TOLL]}/report?zone=UTC"
    assert client.get(address).data == client.get(address).data


def test_who_entered_what_when_it_was_reopened_and_what_was_taken_back(tmp_path):
    path = tmp_path / "icepick.db"
    client = create_app(path).test_client()
    make_people(path, "lead")
    token = client.post("/api/session", json={"name": "lead", "passphrase": PASSPHRASE}).json["csrf"]
    client.environ_base["HTTP_X_CSRF_TOKEN"] = token
    client.put("/api/shop", json={"name": "Łukasz & Жанна", "license": "no. <b>7</b> 漢", "contact": ""})
    unit = json.loads(json.dumps(client.post("/api/visits", json=new_call()).json))
    visit = unit["id"]
    for key, value in (("reading one", 151), ("reading two", 160)):
        reading = {"station": "discharge_line", "quantity": "temperature", "value": value, "unit": "degF"}
        reading |= {"at": "2026-11-05T14:03:00-05:00", "method": "clamp"}
        body = {"run": "run-1", "entry_key": key, "reading": reading}
        assert client.post(f"/api/visits/{visit}/readings", json=body).status_code == 201
    client.post(f"/api/visits/{visit}/withdrawals", json={"entry_key": "reading two"})
    seen = {"run": "run-1", "entry_key": "seen one", "observation": {"code": "oil_stain"}}
    client.post(f"/api/visits/{visit}/observations", json=seen)
    for closed in (True, False):
        client.put(f"/api/visits/{visit}/closing", json={"closed": closed})
    client.post(
        f"/api/visits/{visit}/photos?entry_key=photo+one&name=a.png&about=oil&caption=at+the+flare",
        data=picture(),
        content_type="application/octet-stream",
    )
    pages = text_of(report(client, visit))
    told = " ".join(pages)
    assert "Łukasz & Жанна" in told
    assert "no. <b>7</b> □" in told
    assert "by lead" in pages[0]
    assert "Entered by lead (2 entries)" in told
    assert re.search(r"Opened again \w+ \d+, 2026, \d\d:\d\d", told)
    assert "Taken back run 1: discharge line at the reversing valve 160 °F" in told
    assert re.search(r"discharge line 151\.0 ± 1\.0 °F .*clamp 14:03", told), told[1500:4000]
    assert "Seen and heard: oil stain." in told
    assert "oil or damage: at the flare" in told


def test_what_is_doubted_and_which_limit_the_shop_changed(client):
    told = " ".join(text_of(report(client, "signal-box-clamps")))
    in_order(
        told, "Doubted outdoor TXV, coil side, indoor TXV, line side", "Readings", "doubted", "Limits used"
    )
    assert "changed by the shop" not in told
    client.put("/api/handbook/limits/valve_suction_rise", json={"value": 4, "units": "field"})
    told = " ".join(text_of(report(client, "swimming-hall-office")))
    client.put("/api/handbook/limits/valve_suction_rise", json={"value": None, "units": "field"})
    assert "valve suction rise 4 °F changed by the shop from 5" in told


def test_a_recording_tells_its_defrosts_and_marks(client):
    visit = NUMBER["boat-shed"]
    begun = {"entry_key": "by hand one", "mode": "heating", "started_at": "2026-11-05T07:00:00Z"}
    assert (
        client.post(f"/api/visits/{visit}/recordings", json={**begun, "notes": "by hand"}).status_code == 201
    )
    seen = client.get(f"/api/visits/{visit}").json["recordings"][-1]["id"]
    for second, code in ((61, "defrost_forced"), (95, "steam_seen")):
        mark = {
            "recording": seen,
            "entry_key": f"mark at {second}",
            "mark": {"seconds": second, "code": code},
        }
        assert client.post(f"/api/visits/{visit}/marks", json=mark).status_code == 201
    told = " ".join(text_of(report(client, "boat-shed")))
    in_order(told, "Recording 1: ", "Marks: 1:01 defrost forced; 1:35 steam seen.", "Notes: by hand")
    examined = client.get(f"/api/visits/{NUMBER['osier-barn']}").json["examination"]
    defrosts = examined["recordings"][0]["defrosts"]
    assert len(defrosts) == 2
    in_order(" ".join(text_of(report(client, "osier-barn"))), *(one["words"] for one in defrosts))


def new_call(**more):
    from builders import SPLIT_UNIT

    site = {"name": "Boat Shed", "notes": None, **more}
    run = {"mode": "heating", "minutes_running": 20}
    return {"entry_key": "first call", "new_unit": {"site": site, "unit": SPLIT_UNIT}, "run": run}


def test_what_somebody_wrote_may_be_longer_than_a_page(tmp_path):
    client = create_app(tmp_path / "icepick.db").test_client()
    endless, lines = "x" * 9_000, "one line of many\n" * 580
    visit = client.post("/api/visits", json=new_call(notes=endless)).json["id"]
    notes = {"text": lines}
    client.put(f"/api/visits/{visit}/runs/run-1/notes", json=notes, headers={"If-Match": '"0"'})
    outcome = {
        "fault": "undercharge",
        "certainty": "seen",
        "repair": "cured",
        "work": lines,
        "for_customer": lines,
    }
    assert client.put(f"/api/visits/{visit}/outcome", json=outcome).status_code == 200
    pages = text_of(report(client, visit))
    told = " ".join(pages)
    assert told.count("one line of many") == 3 * 580
    assert told.count("x" * 40) > 50
    assert all(f"page {number} of {len(pages)}" in text for number, text in enumerate(pages, start=1))


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ("zone=Nowhere/Atall", "no time zone 'Nowhere/Atall'"),
        ("zone=../../etc/passwd", "no time zone"),
        ("language=xx", "no customer page in 'xx'; there is one in en"),
        ("units=stone", "'field' or 'metric'"),
    ],
)
def test_what_is_asked_wrongly_is_told_so(client, asked, says):
    answer = client.get(f"/api/visits/1/report?{asked}")
    assert answer.status_code == 400
    assert says in answer.json["detail"]


def test_a_visit_that_is_not_there_has_none(client):
    assert client.get("/api/visits/999/report").status_code == 404
    assert client.get("/api/visits/999/customer").status_code == 404

"""Make docs/screenshots/ anew from the demo data: `.venv/bin/python tools/screenshots.py`, or those named."""

import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "tests" / "browser"), str(ROOT / "tests")]
import pypdfium2
from PIL import Image
from playwright.sync_api import Page, sync_playwright

from archives import entered, new_book, taken_out
from conftest import BROWSER, CHROMIUM, Server, open_page, visit_at
from icepick.core.document.visit import Reading
from icepick.demo import demo_names
from icepick.store.database import writing
from icepick.store.entries import add_reading, set_notes
from icepick.store.units import all_units
from icepick.store.visits import add_run, open_visit

OUT = ROOT / "docs" / "screenshots"


def press(*names: str):
    def one_after_the_other(page: Page) -> None:
        for name in names:
            page.get_by_role("button", name=name).first.click()

    return one_after_the_other


def laid_over(page: Page) -> None:
    """The first defrost of a recording with the second laid over it."""
    page.get_by_role("button", name="d defrost").click()
    page.get_by_role("group", name="Which part").get_by_role("button").nth(1).click()
    page.get_by_label("lay over").select_option(index=1)
    page.locator(".uplot").wait_for()


def drawn(page: Page) -> None:
    page.locator(".panels figure").last.wait_for()


def a_book_from_elsewhere(page: Page) -> None:
    """An archive of the same book that somebody went on with elsewhere."""
    with tempfile.TemporaryDirectory() as place:
        theirs = Path(place) / "tarnwick-van-2.zip"
        theirs.write_bytes(page.request.get("/api/records/archive").body())
        with new_book(Path(place) / "van.db") as db:
            entered(db, theirs)
            with writing(db):
                (last,) = db.execute("SELECT max(id) FROM standing_runs").fetchone()
                set_notes(db, last, "Left running; back on Monday.", 0)
                for unit in all_units(db)[:3]:
                    run = add_run(db, open_visit(db, unit, "weak"), "heating").row
                    add_reading(
                        db,
                        run,
                        Reading(station="common_suction", quantity="temperature", value=31, unit="degF"),
                    )
            theirs.write_bytes(taken_out(db).read_bytes())
        page.locator("input[type=file]").set_input_files(theirs)
        page.get_by_role("button", name="Enter 4 visits").wait_for()


def settled(page: Page) -> None:
    page.get_by_role("button", name="simulated probes").click()
    page.get_by_text("all 21 settled").wait_for(timeout=60_000)


def practiced(page: Page) -> None:
    """A lesson worked on, said, and looked back at."""
    page.get_by_label("By its code").fill("charge-5")
    page.get_by_label("By its code").press("Enter")
    take = page.get_by_role("button", name="clamp it")
    for count in range(1, 5):
        take.click()
        page.locator(".log li").nth(count - 1).wait_for()
    page.get_by_role("button", name="lock out").click()
    page.locator(".log li").nth(4).wait_for()
    page.get_by_role("button", name="filter, indoor coil").click()
    page.get_by_text("filter dirty").wait_for()
    page.get_by_role("button", name="say what it is").click()
    page.get_by_label("It is", exact=True).select_option(label="indoor airflow low")
    page.get_by_label("moderate").check()
    page.get_by_label("I would").check()
    page.get_by_role("button", name="say it, and see").click()
    page.get_by_role("heading", name="The walk, minute by minute").wait_for()


def stopped_midway(page: Page) -> None:
    page.get_by_role("button", name="stops the slide midway").click()
    page.get_by_role("button", name="energized", exact=True).click()
    page.get_by_role("img", name="midway").wait_for()
    page.wait_for_timeout(1000)


def nothing(_: Page) -> None:
    pass


def choose_unit(name: str):
    def choose(page: Page) -> None:
        page.get_by_role("link", name=name).first.click()
        page.get_by_label("Circuit").get_by_text("Visits").wait_for()

    return choose


# name, site of the visit or an address, theme, width, what to do first
SHOTS = [
    ("calls", "/calls", "sun", 1280, nothing),
    ("units", "/units", "sun", 1280, choose_unit("Lighthouse Kiosk")),
    ("walk-circuit", "Bakery Flat", "shade", 1280, nothing),
    ("walk-valve", "Auction Hall", "sun", 1280, press("2 valve")),
    ("walk-heads", "Heron Guest House", "shade", 1280, press("a all heads")),
    ("walk-flow-line", "Sail Loft", "shade", 1280, press("3 flow line")),
    ("walk-staircase", "Toll House", "sun", 1280, press("lay it over the staircase")),
    ("walk-coils", "Ferry Workshop", "sun", 1280, press("4 coils")),
    ("walk-defrost", "Osier Barn", "shade", 1280, laid_over),
    ("walk-cycle", "Ice House", "sun", 1280, press("0 cycle", "2 leaves the compressor")),
    ("walk-phone", "Boat Shed", "shade", 390, nothing),
    ("recorder", "Tide House/recorder", "sun", 1280, settled),
    ("handbook-moving", "/handbook/moving/valve", "sun", 1280, stopped_midway),
    ("handbook-fault", "/handbook/faults/valve_bypassing", "sun", 1280, nothing),
    (
        "handbook-weather",
        "/handbook/weather/3?mode=heating&fault=outdoor_coil_frosted&severity=70",
        "sun",
        1280,
        drawn,
    ),
    ("scores", "/scores", "sun", 1280, nothing),
    ("records", "/records", "shade", 1280, a_book_from_elsewhere),
    ("bench", "/bench", "sun", 1280, practiced),
    # From here on people have accounts.
]


PEOPLE = {
    "Wren Alder": "lead",
    "Hollis Tarn": "technician",
    "Piet Sedge": "apprentice",
    "Front desk": "office",
}
PASSPHRASE = "herring lamp quarry oak"


def sign_in(page: Page, name: str) -> dict[str, str]:
    """Sign in, and the head that goes along with a change from then on."""
    known = page.request.post("/api/session", data={"name": name, "passphrase": PASSPHRASE})
    return {"X-CSRF-Token": known.json()["csrf"]}


def take_on(page: Page) -> None:
    """Make the accounts, have a technician take some readings, and sign in as the lead."""
    token: dict[str, str] = {}
    if page.request.get("/api/session").json()["state"] == "open":
        for name, role in PEOPLE.items():
            account = {"name": name, "role": role, "passphrase": PASSPHRASE}
            page.request.post("/api/accounts", data=account, headers=token)
            token = token or sign_in(page, name)
        token = sign_in(page, "Hollis Tarn")
        call = {"entry_key": "a call of today", "unit_id": 3, "complaint": "weak", "run": {"mode": "heating"}}
        visit = page.request.post("/api/visits", data=call, headers=token).json()["id"]
        for station, value in (
            ("discharge_line", 163.5),
            ("valve_to_indoor", 160),
            ("valve_to_outdoor", 31.5),
        ):
            taken = {"station": station, "quantity": "temperature", "value": value, "unit": "degF"}
            entry = {"run": "run-1", "entry_key": f"the {station}", "reading": {**taken, "method": "clamp"}}
            page.request.post(f"/api/visits/{visit}/readings", data=entry, headers=token)
        limit = {"value": 12, "units": "field"}
        token = sign_in(page, "Wren Alder")
        page.request.put("/api/handbook/limits/settling_time", data=limit, headers=token)
    else:
        sign_in(page, "Wren Alder")


LOOKED_BACK_AT = ("Ice House", "Sail Loft")


def address_of(page: Page, place: str) -> str:
    if place.startswith("/"):
        return place
    site, _, rest = place.partition("/")
    visit = visit_at(page, site)
    # Worked on, but for the one that is looked back at.
    if site not in LOOKED_BACK_AT:
        page.request.put(f"/api/visits/{visit}/closing", data={"closed": False})
    return f"/visits/{visit}/{rest}".rstrip("/")


def examined(page: Page) -> None:
    """Wait until the list of calls is worked out."""
    pages = range(1, page.request.get("/api/visits").json()["pages"] + 1)
    for number in pages:
        while not all(
            line["up_to_date"]
            for line in page.request.get("/api/visits", params={"page": number}).json()["visits"]
        ):
            page.wait_for_timeout(500)


PRINTED = demo_names().index("toll-house-flooding") + 1


def on_paper(page: Page) -> None:
    """The customer's page of a report, and two of those behind it."""
    printed = page.request.get(f"/api/visits/{PRINTED}/report", params={"zone": "America/New_York"})
    sheets = pypdfium2.PdfDocument(printed.body())
    pictures = [sheets[number].render(scale=0.95).to_pil() for number in (0, 1, 3)]
    width, height = pictures[0].size
    desk = Image.new("RGB", (3 * width + 40, height + 20), "#8a9298")
    for place, picture in enumerate(pictures):
        desk.paste(picture, (10 + place * (width + 10), 10))
    desk.save(OUT / "report.png", optimize=True)


def main(names: list[str]) -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder), "demo", "--probe-speed", "20")
        server.start()
        browser = playwright.chromium.launch(executable_path=BROWSER, args=CHROMIUM)
        try:
            # Before there are accounts.
            if not names or "report" in names:
                on_paper(open_page(browser, server))
            for name, place, theme, width, before in SHOTS:
                if names and name not in names:
                    continue
                page = open_page(browser, server)
                if place.startswith("/people"):
                    take_on(page)
                else:
                    examined(page)
                page.set_viewport_size({"width": width, "height": 800})
                page.evaluate(f"localStorage.setItem('icepick.theme', '{theme}')")
                page.goto(address_of(page, place), wait_until="networkidle")
                before(page)
                page.wait_for_timeout(300)
                page.screenshot(path=OUT / f"{name}.png")
                page.context.close()
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main(sys.argv[1:])

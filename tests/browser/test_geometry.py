"""Every view at every width: nothing too small to read or to press with a glove, nothing over anything else, nothing cut."""

from pathlib import Path

from playwright.sync_api import expect

from conftest import at_work, open_page, visit_at
from draws import ALL, share

WIDTHS = {320: 700, 1280: 800, **({390: 844, 768: 1024} if ALL else {})}
MEASURE = Path(__file__).with_name("geometry.js").read_text("utf-8")

SETTLED = "() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 30))))"
"""Drawn at its new size: what follows a resize does so in the next frame."""

PICTURES = ("1", "2", "3", "4", "5", "6", "7", "8", "9", "0", "d")


def misplaced(page, where=""):
    """What is wrong with the view on a page, at every width."""
    wrong = []
    for width, height in WIDTHS.items():
        page.set_viewport_size({"width": width, "height": height})
        page.evaluate(SETTLED)
        found = page.evaluate(MEASURE, [11, 44])
        if found:  # What was still on its way is measured once more.
            page.wait_for_timeout(500)
            page.evaluate(SETTLED)
            found = page.evaluate(MEASURE, [11, 44])
        wrong += [f"{where} at {width}: {one}" for one in found]
    return wrong


def places(page):
    """Where to look: an address, and what to press there."""
    library, shed, ice, weir, office = (
        visit_at(page, site)
        for site in ("Tarnwick Library", "Boat Shed", "Ice House", "Weir Cottage", "Swimming-Hall Office")
    )
    yield "/calls", ()
    yield "/units/new", ()
    yield "/units/1", ()
    for picture in PICTURES:
        yield f"/visits/{library}", (picture,)
    yield f"/visits/{shed}", ("1",)
    yield f"/visits/{shed}", ("?",)
    yield f"/visits/{office}", ("5",)
    yield f"/visits/{office}", ("e",)
    yield f"/visits/{ice}", ("4",)
    yield f"/visits/{weir}", ("d",)
    yield f"/visits/{library}/report", ()
    yield f"/visits/{visit_at(page, 'Toll House')}", ("9",)
    for page_of in (
        "",
        "/saturation/R-410A",
        "/calculators/subcooling",
        "/limits",
        "/faults/undercharge",
        "/moving/valve",
        "/moving/devices",
        "/weather/1",
    ):
        yield f"/handbook{page_of}", ()
    yield "/people", ()
    yield "/people/audit", ()
    yield "/records", ()
    yield "/scores", ()
    yield "/nowhere", ()


def test_nothing_is_too_small_cut_or_over_something_else(browser, demo):
    page = open_page(browser, demo, has_touch=True)
    for site in ("Boat Shed", "Swimming-Hall Office"):
        at_work(page, visit_at(page, site))
    wrong = []
    for address, keys in share(places(page), 9):
        page.goto(address)
        expect(page.locator("main h1, main h2, main [role=alert]").first).to_be_attached()
        for key in keys:
            page.keyboard.press("Escape")
            page.keyboard.press(key)
        wrong += misplaced(page, f"{address} {''.join(keys)}")
    page.context.close()
    assert not wrong, "\n".join(wrong)

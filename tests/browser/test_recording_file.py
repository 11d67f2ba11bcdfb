"""A logger's file in Chromium: dropped or chosen, explained, given a meaning, entered; known the next time."""

import re

import pytest
from playwright.sync_api import Page, expect

from conftest import barriers, open_page, visit_at
from draws import share

ROWS = "".join(
    f"2026-01-15 07:{at // 60:02}:{at % 60:02};{-6 + at / 600:.1f};ok\n" for at in range(0, 1800, 10)
)
LOGGED = ("Date;Coil;Status\n" + ROWS.replace(".", ",")).replace("-6,0;ok", "warm;ok").encode()


@pytest.fixture(params=share([{}, {"width": 390, "height": 844}], 1), ids=lambda size: f"{size or 'desk'}")
def page(request, browser, server_with_demo):
    return open_page(browser, server_with_demo, **({"viewport": request.param} if request.param else {}))


@pytest.fixture
def server_with_demo(demo):
    return demo


def choose(page: Page):
    page.get_by_label("Choose a file").set_input_files(
        {"name": "logger.csv", "mimeType": "text/csv", "buffer": LOGGED}
    )


def test_a_loggers_file_is_given_a_meaning_entered_and_known_the_next_time(page: Page):
    visit = visit_at(page, "Bakery Flat")
    page.request.put(f"/api/visits/{visit}/closing", data={"closed": False})
    page.goto(f"/visits/{visit}")
    page.get_by_role("button", name=re.compile("d defrost|defrost")).first.click()
    page.get_by_role("link", name="bring in a file").click()
    expect(page.get_by_role("heading", name="Bring in a recording: Bakery Flat")).to_be_visible()
    choose(page)
    enter = page.get_by_role("button", name="Enter it as a recording")
    expect(enter).to_be_disabled()
    known = page.get_by_text("as the last time").count()
    if not known:
        page.get_by_label("Coil holds").select_option("outdoor_coil temperature")
        expect(enter).to_be_disabled()
        page.get_by_label("unit of Coil").select_option("degC")
        page.get_by_label("Status holds").select_option("leave out")
    expect(page.get_by_label("What can’t be used")).to_contain_text("row 2, Coil")
    expect(page.get_by_text("to be said first")).to_have_count(0)
    page.reload()
    expect(page.get_by_label("Coil holds")).to_have_value("outdoor_coil temperature")
    expect(page.get_by_label("unit of Coil")).to_have_value("degC")
    assert barriers(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_label("leave them out").check()
    enter.click()
    expect(page.get_by_text(re.compile("Entered as recording"))).to_be_visible()
    page.get_by_role("link", name="see it drawn").click()
    expect(page.locator(".uplot canvas")).to_be_visible()


def dropped(page: Page, name: str, content: str):
    """What the browser does when a file is let go of over the page."""
    page.evaluate(
        """([name, content]) => {
            const carried = new DataTransfer()
            carried.items.add(new File([content], name))
            for (const kind of ['dragenter', 'dragover', 'drop'])
                document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: carried, bubbles: true, cancelable: true }))
        }""",
        [name, content],
    )


def test_what_is_dropped_goes_where_it_belongs(browser, demo):
    page = open_page(browser, demo, "/calls")
    dropped(page, "coil.csv", "seconds,outdoor_coil temperature [degF]\n0,20\n")
    expect(page.get_by_role("alert")).to_contain_text("belongs to a call")
    visit = visit_at(page, "Bakery Flat")
    page.request.put(f"/api/visits/{visit}/closing", data={"closed": False})
    document = page.request.get(f"/api/visits/{visit}/document").text()
    page.goto(f"/visits/{visit}/recorder")
    expect(page.locator(".recorder")).to_be_visible()
    dropped(page, "coil.csv", "seconds,outdoor_coil temperature [degF]\n0,20\n10,21\n")
    expect(page.get_by_text("says so itself")).to_be_visible()
    expect(page.get_by_text("Say when the clock was at zero").first).to_be_visible()
    page.get_by_label("was at zero").fill("2026-01-15T07:00:00")
    expect(page.get_by_role("button", name="Enter it as a recording")).to_be_enabled()
    dropped(page, "photo.psd", "x")
    expect(page.get_by_role("alert")).to_contain_text("can’t be used here")
    dropped(page, "visit.json", document)
    expect(page.get_by_role("heading", name="Records", exact=True)).to_be_visible()
    expect(page.get_by_text(re.compile("Enter 1 visit|stands here already"))).to_be_visible()

"""Records taken out of one shop and brought into another, on screen."""

import re

import pytest
from playwright.sync_api import expect
from test_geometry import misplaced

from archives import many, new_book
from conftest import Server, barriers, open_page
from demo_book import visits
from draws import few, share
from icepick.store.database import writing
from icepick.store.visits import add_document

pytestmark = pytest.mark.one_in(3)

VISITS = 6


@pytest.fixture(scope="module")
def shop(tmp_path_factory):
    """A server with some of the demo's visits."""
    folder = tmp_path_factory.mktemp("shop")
    with new_book(folder / "icepick.db") as db, writing(db):
        for visit in share(visits().values(), VISITS)[:VISITS]:
            add_document(db, visit, "2026-03-02T09:00:00Z")
    server = Server(folder, "serve", "--db", folder / "icepick.db")
    server.start()
    yield server
    server.kill()


@pytest.fixture(scope="module")
def taken_out(tmp_path_factory, browser, shop):
    """What a shop's browser saved."""
    page = open_page(browser, shop, "/people")
    page.get_by_role("link", name=re.compile("^records:")).click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Take everything out").click()
    assert download.value.suggested_filename == "icepick-everything.zip"
    file = tmp_path_factory.mktemp("taken") / "icepick-everything.zip"
    download.value.save_as(file)
    page.context.close()
    return file


def choose(page, file):
    page.locator("input[type=file]").set_input_files(file)


def test_a_book_moves_to_another_machine(browser, server, taken_out):
    page = open_page(browser, server, "/records")
    assert barriers(page) == []
    choose(page, taken_out)
    expect(page.get_by_text(f"{VISITS} new here")).to_be_visible()
    assert page.request.get("/api/visits").json()["found"] == 0
    assert barriers(page) == []
    assert misplaced(page) == []
    # Loaded again, the window goes on with what was looked at.
    page.reload()
    page.get_by_role("button", name=f"Enter {VISITS} visits").click()
    expect(page.get_by_text("Entered.")).to_be_visible()
    page.get_by_role("link", name="to the calls").click()
    # Examined beside the server, the lines come in by themselves.
    expect(page.get_by_role("region", name="Calls").get_by_role("listitem")).to_have_count(VISITS)
    expect(page.get_by_text(re.compile("still to examine"))).to_have_count(0, timeout=60_000)
    expect(page.get_by_text("being examined")).to_have_count(0, timeout=60_000)
    page.goto("/records")
    page.get_by_role("button", name="another file").click()
    choose(page, taken_out)
    expect(page.get_by_text("All of it stands here already")).to_be_visible()
    page.get_by_role("button", name="another file").click()
    choose(page, {"name": "holiday.zip", "mimeType": "application/zip", "buffer": b"PK no archive"})
    expect(page.get_by_role("alert")).to_have_text("It is neither a ZIP archive nor a visit document.")


def test_entering_is_stopped_and_nothing_is_there(browser, server, taken_out):
    page = open_page(browser, server, "/records")
    choose(page, many(taken_out, few(400, 1000)))
    page.get_by_role("button", name=re.compile("^Enter (1,000|400) visits$")).click(timeout=90_000)
    expect(page.get_by_text(re.compile(r"entering · [\d,]+ of (1,0|4)"))).to_be_visible()
    page.get_by_role("button", name="stop: nothing of it is entered").click()
    expect(page.get_by_text("Choose a file")).to_be_visible()
    page.wait_for_timeout(500)
    assert page.request.get("/api/visits").json()["found"] == 0

"""The report on screen and as a PDF, the shop's name on it, and photos on their way into it."""

import re
from io import BytesIO

import pytest
from PIL import Image
from playwright.sync_api import expect
from pypdf import PdfReader

from archives import picture
from conftest import at_work, barriers, open_page, visit_at

pytestmark = pytest.mark.one_in(3)


def pdf(page):
    """What the screen's link leads to."""
    address = page.get_by_role("link", name="Report as PDF").get_attribute("href")
    answer = page.request.get(address)
    assert answer.headers["content-type"] == "application/pdf"
    return PdfReader(BytesIO(answer.body()))


def text_of(sheets):
    return [" ".join(sheet.extract_text().split()) for sheet in sheets.pages]


def test_the_screen_tells_the_customer_what_the_paper_does(browser, demo):
    page = open_page(browser, demo)
    page.goto(f"/visits/{visit_at(page, 'Swimming-Hall Office')}/report")
    told = page.get_by_role("region", name="For the customer")
    expect(told).to_contain_text("the part that switches the unit between heating and cooling leaks inside")
    first, *rest = text_of(pdf(page))
    for sentence in told.locator("dd").all_inner_texts():
        assert sentence in first
    assert len(rest) >= 4
    assert "93.4 psig" in " ".join(rest)
    page.get_by_role("button", name="°F psi").click()
    expect(page.get_by_role("link", name="Report as PDF")).to_have_attribute(
        "href", re.compile("units=metric")
    )
    assert "93.4 psig" not in " ".join(text_of(pdf(page)))
    page.context.close()


def test_a_browser_that_opens_no_window_shows_it_in_this_one(browser, demo):
    page = open_page(browser, demo)
    page.goto(f"/visits/{visit_at(page, 'Swimming-Hall Office')}/report")
    expect(page.get_by_role("link", name="Report as PDF")).to_be_visible()
    page.evaluate("window.open = () => null")
    with page.expect_request(lambda asked: asked.is_navigation_request() and "/report?" in asked.url):
        page.keyboard.press("p")
    page.context.close()


def test_on_a_phone_the_report_opens_at_its_top(browser, demo):
    page = open_page(browser, demo)
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/visits/{visit_at(page, 'Swimming-Hall Office')}")
    expect(page.get_by_label("Findings")).to_be_visible()
    page.evaluate("scrollTo(0, document.body.scrollHeight)")
    assert page.evaluate("scrollY") > 500
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("g")
    page.keyboard.press("r")
    expect(page.get_by_role("link", name="Report as PDF")).to_be_in_viewport()
    page.context.close()


def test_the_shop_says_what_stands_on_its_reports(browser, demo):
    page = open_page(browser, demo)
    page.goto("/people")
    shop = page.get_by_role("region", name="The shop on its reports")
    name = shop.get_by_label("Name")
    expect(name).to_have_value("Tarnwick Heating and Cooling")
    name.fill("Lake Street Heat Pumps")
    # What was typed is still there, and is not on paper before it was said.
    page.reload()
    expect(name).to_have_value("Lake Street Heat Pumps")
    visit = visit_at(page, "Boat Shed")
    page.goto(f"/visits/{visit}/report")
    assert "Tarnwick Heating and Cooling" in text_of(pdf(page))[0]
    page.goto("/people")
    shop.get_by_role("button", name="Put it on the reports").click()
    expect(shop.get_by_text("From now on it stands on every report.")).to_be_visible()
    page.goto(f"/visits/{visit}/report")
    assert "Lake Street Heat Pumps" in text_of(pdf(page))[0]
    page.context.close()


def chosen(page, file, content):
    file.write_bytes(content)
    page.locator("input[type=file]").set_input_files(file)


def test_a_photo_is_added_refused_sent_again_and_taken_back(browser, demo, tmp_path):
    page = open_page(browser, demo)
    at_work(page, visit_at(page, "Signal Box"))
    page.get_by_role("button", name="9 notes, photos").click()
    page.get_by_label("It shows").select_option("frost")
    page.get_by_label("In words").fill("even, up to the fan")
    chosen(page, tmp_path / "frost.png", b"not a picture")
    expect(page.get_by_role("alert")).to_contain_text("This is not a picture that can be used")
    chosen(page, tmp_path / "frost.jpg", b"\xff\xd8" + bytes(40 * 1024**2))
    expect(page.get_by_role("alert")).to_contain_text("A photo is 15 MB at most; this one is 40 MB.")
    # The server is out of reach for one breath: the picture waits, and is sent when asked to.
    page.route("**/photos?*", lambda route: route.abort(), times=1)
    chosen(page, tmp_path / "frost.jpg", picture(5, (900, 600), "JPEG"))
    again = page.get_by_role("button", name="send it again")
    expect(again).to_be_visible()
    again.click()
    shown = page.get_by_role("img", name="frost or ice: even, up to the fan")
    expect(shown).to_be_visible()
    assert shown.evaluate("image => image.decode().then(() => image.naturalWidth)") == 900
    assert barriers(page) == []
    page.get_by_role("link", name="Report").click()
    expect(page.get_by_role("heading", name="Photos")).to_be_visible()
    sheets = pdf(page)
    assert "frost or ice: even, up to the fan" in " ".join(text_of(sheets))
    images = [image for sheet in sheets.pages for image in sheet.images]
    assert [Image.open(BytesIO(one.data)).size for one in images] == [(900, 600)]
    page.go_back()
    page.get_by_role("button", name="9 notes, photos").click()
    page.get_by_role("button", name="Take back: frost or ice").click()
    expect(page.get_by_text("None yet.")).to_be_visible()
    page.context.close()


def test_a_report_that_can_not_be_made_is_said_on_the_screen(browser, demo):
    page = open_page(browser, demo)
    page.goto(f"/visits/{visit_at(page, 'Toll House')}/report")
    problem = {
        "type": "about:blank",
        "title": "Broken",
        "status": 500,
        "detail": "The report could not be made.",
        "errors": [],
    }
    page.route(
        "**/report?*",
        lambda route: route.fulfill(status=500, json=problem, content_type="application/problem+json"),
    )
    page.evaluate("window.open = (address) => (window.opened = address)")
    page.get_by_role("link", name="Report as PDF").click()
    expect(page.get_by_role("alert")).to_contain_text("The report could not be made.")
    assert page.evaluate("window.opened") is None

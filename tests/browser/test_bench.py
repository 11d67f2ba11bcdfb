"""Practice in Chromium: a case of every level from the first clamp to the debrief, by keyboard, at a desk and on a phone."""

import re

import pytest
from playwright.sync_api import Page, expect

from conftest import barriers, open_page

DESK, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
LEVELS = {"A": "A one fault", "B": "B one fault", "C": "C two faults", "D": "D two faults"}
HOW = re.compile("clamp it|read the|hook up|aim")


def fits(page: Page) -> bool:
    return page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def steps(page: Page):
    return page.get_by_role("list", name="Done so far").locator("li:not(.none)")


def begun(page: Page, name: str | re.Pattern[str]) -> None:
    """Tab to a button and press it, as one without a mouse does."""
    button = page.get_by_role("button", name=name).first
    button.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing yet. The four pipes")).to_be_visible()
    expect(page.get_by_role("button", name=HOW)).to_be_focused()


@pytest.mark.one_in(6)
@pytest.mark.parametrize("size", [DESK, PHONE], ids=["desk", "phone"])
@pytest.mark.parametrize("letter", list(LEVELS))
def test_a_case_of_every_level_by_keyboard(browser, demo, letter, size):
    page = open_page(browser, demo, viewport=size)
    page.goto("/bench")
    begun(page, re.compile(f"^{LEVELS[letter]}"))
    expect(page.get_by_role("note")).to_contain_text(re.compile(rf"Practice\..*Case {letter}-\d+"))
    # Settle first, where it has just been started; then the four pipes.
    if page.get_by_text("settles in").count():
        page.keyboard.press("w")
        expect(steps(page)).to_have_count(1)
    waited = steps(page).count() if page.get_by_text("waited").count() else 0
    for count in range(1, 5):
        page.keyboard.press("Enter")
        expect(steps(page)).to_have_count(waited + count)
    expect(page.get_by_role("button", name=re.compile("common suction"), pressed=False).first).to_be_visible()
    if size is DESK:
        assert barriers(page) == []
    assert fits(page)
    page.keyboard.press("y")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.get_by_label("It is", exact=True).select_option(index=2)
    page.get_by_label(re.compile("How sure")).focus()
    page.keyboard.press("ArrowRight")
    if size is DESK:
        assert barriers(page) == []
    page.get_by_role("button", name="say it, and see").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="It was")).to_be_visible(timeout=40_000)
    expect(page.get_by_role("note")).to_contain_text("Practice.")
    expect(page.get_by_text("You were 71 % sure")).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text(re.compile("^Step 2 of"))).to_be_visible()
    assert fits(page)
    assert barriers(page) == []


def test_the_clock_the_rush_the_infrared_gun_and_what_is_being_said(browser, demo):
    page = open_page(browser, demo, viewport=DESK)
    page.goto("/bench?case=valve-2")
    page.get_by_label("By its code").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Time at the unit: 0:00")).to_be_attached()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Time at the unit: 0:01")).to_be_attached()
    clamped = page.locator(".log strong").first.inner_text()
    page.keyboard.press("i")
    page.keyboard.press("/")
    page.get_by_role("dialog").get_by_role("textbox").fill("discharge line at")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("Enter")
    expect(steps(page)).to_have_count(2)
    aimed = page.locator(".log strong").nth(1).inner_text()
    assert float(clamped.split()[0]) - float(aimed.split()[0]) > 20
    page.keyboard.press("m")
    expect(page.get_by_text("A clear rush: the valve went over.")).to_be_visible()
    expect(page.get_by_text("◷ settles in")).to_be_visible()
    page.keyboard.press("w")
    expect(page.get_by_text("◷ settles in")).to_have_count(0)
    # What is half said is kept, and nothing is done twice by going back.
    page.keyboard.press("y")
    page.get_by_label("It is", exact=True).select_option("nothing")
    page.keyboard.press("Escape")
    page.reload()
    expect(steps(page)).to_have_count(4)
    page.keyboard.press("y")
    expect(page.get_by_label("It is", exact=True)).to_have_value("nothing")


@pytest.mark.one_in(2)
@pytest.mark.parametrize("theme", ["sun", "shade"])
def test_the_bench_itself(browser, demo, theme):
    page = open_page(browser, demo, viewport=DESK)
    page.goto("/bench")
    expect(
        page.get_by_role("heading", name="The reversing valve: shifted, half-shifted, or not")
    ).to_be_visible()
    if page.get_by_role("button", name=f"Theme: {theme}").count() == 0:
        page.get_by_role("button", name="Theme:").click()
    page.get_by_text("Set a case by hand").click()
    page.get_by_label("Title, as the class sees it").fill("For Thursday")
    page.get_by_role("button", name="+ fault").click()
    assert barriers(page) == []
    page.get_by_role("button", name="set it").click()
    expect(page.get_by_text("Hand on the code SET-")).to_be_visible()
    assert fits(page)

"""The Handbook's moving parts in Chromium: worked by keyboard, at a desk and on a phone."""

import re

import pytest
from playwright.sync_api import Page, expect

from conftest import barriers, open_page
from draws import share

pytestmark = pytest.mark.one_in(3)

DESK, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


@pytest.fixture(params=share([DESK, PHONE], 1), ids=lambda size: f"{size['width']} px")
def page(request, browser, demo):
    return open_page(browser, demo, viewport=request.param)


def fine(page: Page) -> None:
    assert barriers(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def press(page: Page, name: str) -> None:
    button = page.get_by_role("button", name=name, exact=True)
    button.focus()
    page.keyboard.press("Enter")
    expect(button).to_have_attribute("aria-pressed", "true")


def test_the_circuit_is_walked_step_by_step(page: Page):
    page.goto("/handbook/moving/circuit")
    step = page.get_by_role("group", name="Step")
    expect(step).to_contain_text("1 of 23: compressor")
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    expect(step).to_contain_text(re.compile(r"7 of 23: indoor coil bend · mixture, \d+ % vapor"))
    fine(page)
    press(page, "defrost")
    expect(step).to_contain_text("1 of 23: compressor")
    page.keyboard.press("ArrowLeft")
    expect(step).to_contain_text("23 of 23: compressor inlet")
    page.emulate_media(reduced_motion="reduce")
    expect(page.get_by_role("button", name="walk on")).to_be_hidden()


def test_the_valve_is_energized_plugged_and_stopped(page: Page):
    page.goto("/handbook/moving/valve")
    picture = page.get_by_role("img", name=re.compile("Reversing valve, cut open"))
    expect(picture).to_have_accessible_name(re.compile("over to heating"))
    press(page, "left end")
    press(page, "energized")
    expect(picture).to_have_accessible_name(re.compile("over to heating"))
    expect(page.get_by_role("status")).to_contain_text("can't bleed")
    page.get_by_role("group", name="Plugged pilot capillary").get_by_role("button", name="none").click()
    expect(picture).to_have_accessible_name(re.compile("over to cooling"))
    press(page, "de-energized")
    expect(picture).to_have_accessible_name(re.compile("over to heating"))
    press(page, "stops the slide midway")
    press(page, "energized")
    expect(picture).to_have_accessible_name(re.compile("midway"))
    page.get_by_role("link", name="limit: valve suction rise").focus()
    fine(page)


@pytest.mark.one_in(3)
@pytest.mark.parametrize("part", ["devices", "drier", "accumulator"])
def test_the_other_parts(page: Page, part: str):
    page.goto(f"/handbook/moving/{part}")
    expect(page.get_by_role("list", name="What to measure")).to_be_visible()
    if part == "devices":
        press(page, "heating")
        press(page, "stuck closed")
        expect(page.get_by_role("status")).to_contain_text("Its check is shut")
    if part == "drier":
        press(page, "one-way, fitted for cooling")
        press(page, "heating")
        press(page, "full of dirt")
        expect(page.get_by_role("status")).to_contain_text("washed back out")
    if part == "accumulator":
        press(page, "heats in mild weather")
        expect(page.get_by_role("img", name=re.compile("Accumulator, 0 percent"))).to_be_visible()
    fine(page)


def test_a_faults_page_shows_its_staircase(page: Page):
    page.goto("/handbook/faults/undercharge")
    picture = page.get_by_role("img", name=re.compile("Sound, and with this fault"))
    expect(picture).to_be_visible()
    press(page, "heating")
    expect(page.locator("figcaption")).to_contain_text("25% of the charge is missing.")
    fine(page)
    page.goto("/handbook/faults/defrost_fan_running")
    expect(page.get_by_text("Sound, in the same weather")).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("^Recording"))).to_have_count(2)

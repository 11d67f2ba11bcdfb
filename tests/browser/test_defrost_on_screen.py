"""The defrost picture in a real browser: a recording drawn, two defrosts laid over each other, one watched by hand, a file
brought in and a wrong one refused."""

import re

import pytest
from playwright.sync_api import Page, expect

from conftest import at_work, visit_at

pytestmark = pytest.mark.one_in(3)


def picture(page: Page, site: str) -> None:
    at_work(page, visit_at(page, site))
    page.get_by_role("button", name="d defrost").click()


def test_a_recorded_defrost_is_drawn_with_its_lanes_and_the_verdict_of_each_step(page: Page):
    picture(page, "Osier Barn")
    expect(page.locator(".uplot canvas")).to_be_visible()
    lanes = page.get_by_role("list", name="What switched").get_by_role("listitem")
    expect(lanes).to_have_count(4)
    expect(lanes.nth(1)).to_contain_text(re.compile(r"valve over to cooling: 59:\d\d to 1:0\d:\d\d"))
    steps = page.get_by_role("list", name="Each step")
    for step in ("shift in defrost", "frost cleared", "recovery after defrost", "coil sensor"):
        expect(steps).to_contain_text(step)
    page.get_by_role("group", name="Which part").get_by_role("button").nth(1).click()
    expect(page.get_by_role("img", name=re.compile("Temperatures from 55:"))).to_be_visible()
    expect(
        page.get_by_text(re.compile(r"^Defrost begun at 59:\d\d, .*frost had made the coil .* came clear"))
    ).to_be_visible()
    page.get_by_label("lay over").select_option(index=1)
    legend = page.get_by_role("group", name="Lines")
    port = legend.get_by_role("button", name="outdoor port")
    expect(port).to_have_attribute("aria-pressed", "false")
    port.click()
    expect(port).to_have_attribute("aria-pressed", "true")


def test_a_defrost_watched_by_hand_is_stamped_judged_and_kept(page: Page):
    picture(page, "Pier House")
    expect(page.get_by_text("No recording yet")).to_be_visible()
    page.get_by_role("button", name="by hand, now").click()
    moments = page.get_by_role("group", name="Moments")
    for name in ("forced", "rush heard", "fan stopped", "heat on", "steam", "clear"):
        moments.get_by_role("button", name=name).click()
        page.wait_for_timeout(300)
    expect(page.get_by_role("timer")).to_contain_text("of 10:00")
    steps = page.get_by_role("list", name="Each step")
    expect(steps).to_contain_text("outdoor fan in defrost")
    expect(page.get_by_label("By hand")).to_contain_text("Never chip ice")
    page.reload()
    page.get_by_role("button", name="d defrost").click()
    expect(page.get_by_label("By hand").get_by_role("listitem")).to_have_count(6)

"""The Handbook: found by search, answered as the numbers change, limits changed by the shop, a sheet on one page."""

import re
from io import BytesIO

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from conftest import Server, open_page, to_pipes, visit_at
from plant import fluid, kelvin

pytestmark = pytest.mark.one_in(3)


def test_search_reaches_a_calculator_and_its_numbers_are_kept(page):
    page.goto("/handbook")
    expect(page.get_by_role("heading", name="Handbook")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("subcool")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/handbook/calculators/subcooling$"))
    page.get_by_label("liquid pressure", exact=True).fill("300")
    page.get_by_label("liquid line", exact=True).fill("88")
    bubble = fluid("R-410A").saturation((300 + 14.696) * 6894.757, 0)
    expected = f"{(bubble - kelvin(88)) * 1.8:.1f}".removesuffix(".0") + " °F"
    expect(page.locator(".answer")).to_contain_text(expected)
    expect(page.locator(".worked")).to_contain_text("300 psig")
    page.get_by_label("liquid line", exact=True).fill("warm")
    expect(page.get_by_role("alert")).to_have_text("“warm” is not a number.")
    page.get_by_label("liquid line", exact=True).fill("230")
    expect(page.locator(".answer")).to_contain_text("−")
    page.get_by_label("liquid line, slide", exact=True).fill("90")
    page.reload()
    expect(page.get_by_label("liquid line", exact=True)).to_have_value("90")
    expect(page.get_by_label("liquid pressure", exact=True)).to_have_value("300")


def test_the_search_knows_the_words_people_use(page):
    page.goto("/handbook")
    for words, code in (
        ("stuck check valve", "bypass_stuck_closed"),
        ("TXV", "active_meter_underfeeding"),
        ("overcharged", "overcharge"),
        ("dirty filter", "indoor_airflow_low"),
        ("bad compressor", "compressor_not_running"),
        ("reversing valve", "valve_in_opposite_position"),
    ):
        page.locator("#handbook-search").fill(words)
        found = page.get_by_role("navigation", name="Handbook").get_by_role("link")
        expect(found.first).to_be_visible()
        hrefs = [link.get_attribute("href") for link in found.all()]
        assert f"/handbook/faults/{code}" in hrefs, (words, hrefs)


def test_enter_may_come_before_the_pages_have(page):
    waiting = []
    page.route("**/api/handbook", lambda route: waiting.append(route))
    page.goto("/handbook", wait_until="domcontentloaded")
    page.locator("#handbook-search").fill("subcool")
    page.keyboard.press("Enter")
    page.wait_for_timeout(100)
    assert page.url.endswith("/handbook")
    for route in waiting:
        route.continue_()
    page.unroute("**/api/handbook")
    expect(page).to_have_url(re.compile("/handbook/calculators/subcooling$"))


def test_a_calculator_opened_from_a_visit_starts_with_its_readings(page):
    page.goto(f"/visits/{visit_at(page, 'Tarnwick Library')}")
    page.get_by_label("Calculate with these readings").get_by_role("link", name="superheat").click()
    expect(page.get_by_text("Starts with the readings of the visit.")).to_be_visible()
    expect(page.get_by_label("elevation", exact=True)).to_have_value("1450")
    expect(page.locator(".answer")).to_contain_text("superheat")


def test_every_fault_has_a_page_and_names_what_mimics_it(page):
    page.goto("/handbook")
    page.get_by_role("link", name="reversing valve bypassing").click()
    expect(page.get_by_role("heading", name="reversing valve bypassing")).to_be_visible()
    page.get_by_role("link", name="compressor weak or not pumping").last.click()
    expect(page.get_by_role("heading", name="compressor weak or not pumping")).to_be_visible()
    expect(page.locator(".caution")).to_contain_text("verify zero voltage")


def test_what_a_unit_should_do_is_drawn_for_any_fault_and_prints_on_one_page(page):
    page.goto("/handbook")
    page.get_by_role("link", name="What this unit should do").click()
    panels = page.locator(".panels figure")
    expect(panels).to_have_count(6)
    sound = float(panels.first.locator(".figures b").first.inner_text())
    sick = panels.first.locator(".fault")
    expect(sick).to_have_count(0)
    page.get_by_label("fault", exact=True).select_option("outdoor_coil_frosted")
    expect(page.get_by_text("of the outdoor coil's air is blocked by frost").first).to_be_visible()
    some = sick.inner_text()
    page.get_by_label("severity").fill("85")
    expect(sick).not_to_have_text(some)
    assert float(sick.inner_text()) < float(some) < sound
    # Another weather, by the slider alone.
    page.get_by_label(re.compile("^outdoor air")).press("Home")
    expect(page.locator(".over b")).to_have_text("−8 °F")
    page.get_by_label("return air, °F").fill("20")
    expect(page.get_by_role("alert")).to_contain_text("40 to 90 °F")
    page.get_by_label("return air, °F").fill("")
    expect(page.get_by_role("alert")).to_have_count(0)
    # The question is in the address: it can be passed on.
    expect(page).to_have_url(re.compile("fault=outdoor_coil_frosted&severity=85"))
    page.reload()
    expect(page.get_by_label("fault", exact=True)).to_have_value("outdoor_coil_frosted")
    expect(panels).to_have_count(6)
    paper = PdfReader(BytesIO(page.pdf(format="Letter")))
    assert len(paper.pages) == 1
    text = paper.pages[0].extract_text()
    assert "85 % of the outdoor coil's air is blocked by frost" in " ".join(text.split())
    page.get_by_role("button", name="cooling").click()
    expect(page.get_by_label("fault", exact=True)).to_have_value("")
    expect(panels.last).to_contain_text("capacity, cooling")


def test_a_sheet_prints_on_one_page(page):
    page.goto("/handbook/saturation/R-407C")
    expect(page.locator(".reading")).to_contain_text("dew")
    page.get_by_label("Temperature", exact=True).fill("80")
    expect(page.locator(".reading")).to_contain_text("40 °F")
    for paper in ("A4", "Letter"):
        sheets = PdfReader(BytesIO(page.pdf(format=paper, margin=dict.fromkeys(("top", "bottom"), "12mm"))))
        assert len(sheets.pages) == 1
        text = sheets.pages[0].extract_text()
        assert "R-407C" in text
        assert "150" in text
        assert "Saturation from pressure" not in text


def test_the_shop_changes_a_limit_and_the_report_says_so(browser, server: Server):
    page = open_page(browser, server, "/calls")
    page.locator("#unit-site").fill("Ice House")
    page.locator("#unit-label").fill("Cellar")
    page.get_by_label("The unit").select_option(label="has run long enough to settle")
    page.get_by_role("button", name="cooling", exact=True).click()
    to_pipes(page)
    for value in ("170", "50", "168", "53.5"):
        page.keyboard.type(value)
        page.keyboard.press("Enter")
    findings = page.get_by_label("Findings")
    findings.locator("summary", has_text="checks pass").click()
    expect(findings.locator(".checks summary", has_text="suction rise")).to_contain_text("pass")

    page.goto("/handbook/limits/valve_suction_rise")
    section = page.locator("#limit-valve_suction_rise")
    expect(section).to_contain_text("Checks held to it: suction rise")
    for typed, words in (("two", "is not a number"), ("400", "makes no sense here")):
        section.get_by_role("textbox").fill(typed)
        section.get_by_role("button", name="Change").click()
        expect(page.get_by_role("alert")).to_contain_text(words)
    section.get_by_role("textbox").fill("2")
    section.get_by_role("button", name="Change").click()
    expect(section).to_contain_text("changed; default 5 °F")
    expect(section.get_by_role("status")).to_have_text("The only visit reads differently now.")
    expect(section.get_by_role("link", name=re.compile("^Ice House"))).to_be_visible()

    page.goto("/visits/1")
    expect(findings.locator(".checks summary", has_text="suction rise")).to_contain_text("3.5 | 2 °F")
    page.goto("/visits/1/report")
    expect(page.get_by_text("valve suction rise 2 °F (changed by the shop from 5)")).to_be_visible()
    page.goto("/handbook/limits/valve_suction_rise")
    section.get_by_role("button", name="Restore").click()
    expect(section).not_to_contain_text("changed")
    page.context.close()


@pytest.mark.one_in(2)
@pytest.mark.parametrize("width", [1280, 390])
def test_the_slider_of_the_saturation_chart_stands_under_its_cursor(browser, demo, width):
    page = open_page(browser, demo, viewport={"width": width, "height": 800})
    page.goto("/handbook/saturation/R-410A")
    slider = page.get_by_role("slider", name="Temperature", exact=True)
    for share in (0, 0.3, 1):
        slider.evaluate(
            "(e, share) => { e.value = Math.round(share * e.max); e.dispatchEvent(new Event('input')) }",
            share,
        )
        box = slider.bounding_box()
        thumb = 1.6 * 16
        at = float(slider.input_value()) / float(slider.get_attribute("max"))
        middle = box["x"] + thumb / 2 + at * (box["width"] - thumb)
        cursor = page.locator("path.cursor").bounding_box()
        assert abs(cursor["x"] + cursor["width"] / 2 - middle) < 2
        expect(page.locator(".reading .figure").first).to_have_text(slider.get_attribute("aria-valuetext"))
    page.context.close()

"""Every main view: no serious fault for assistive tools, no sideways scroll, both lights, both units."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import figure, go

ROOT = Path(__file__).resolve().parents[2]
AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()
VIEWS = ["/", "/yard", "/pieces", "/new", "/drying", "/drying/13", "/round", "/bench", "/bench/23", "/bench/11/turn",
         "/bench/19/coat", "/bench/20/sand", "/piece/9", "/shop", "/odd", "/drying/26", "/drying/15/ways",
         "/drying/16/oven", "/drying/table", "/tags", "/shape", "/shape/27", "/cores/28", "/cutting",
         "/bench/29"]  # fmt: skip


def settle(page, path):
    go(page, path)
    page.wait_for_load_state("networkidle")
    page.locator("#main h1, #main .piece").first.wait_for()


def serious(page):
    page.evaluate(AXE)
    found = page.evaluate("axe.run(document, { resultTypes: ['violations'] })")
    return [
        (v["id"], [n["target"] for n in v["nodes"]][:3])
        for v in found["violations"]
        if v["impact"] in ("serious", "critical")
    ]


@pytest.mark.parametrize("path", VIEWS)
def test_no_serious_fault_in_either_light(demo, path):
    settle(demo, path)
    assert serious(demo) == []
    demo.evaluate("document.documentElement.dataset.theme = 'dusk'")
    demo.wait_for_timeout(300)
    assert serious(demo) == []


def test_the_door_has_no_serious_fault(page, yard):
    page.goto(yard.address)
    page.get_by_role("button", name="Enter the demo workshop").wait_for()
    assert serious(page) == []
    expect(page.get_by_text("make account NAME=")).to_be_visible()


@pytest.mark.parametrize(("width", "height"), [(390, 844), (820, 1180), (1280, 800)])
def test_nothing_scrolls_sideways_and_targets_are_thumb_sized(demo, width, height):
    demo.set_viewport_size({"width": width, "height": height})
    for path in VIEWS:
        settle(demo, path)
        assert demo.evaluate("document.documentElement.scrollWidth") <= width, path
        small = demo.evaluate(
            """() => [...document.querySelectorAll('main button, main .btn, main input:not([type=checkbox], [type=file]), main select, nav a')]
                 .filter(e => e.offsetParent && e.getBoundingClientRect().height < 43.5).map(e => e.textContent || e.name)"""
        )
        assert small == [], path


def test_inches_and_ounces_everywhere_and_back(demo):
    demo.get_by_role("button", name=re.compile("show figures in inches")).click()
    try:
        settle(demo, "/drying")
        expect(demo.locator('tr[data-tag="13"]')).to_contain_text(re.compile(r"\d+ lb [\d.]+ oz"))
        settle(demo, "/bench/23")
        expect(figure(demo, "rough_diameter_mm")).to_contain_text(re.compile(r"11 \d+/\d+ in"))
        expect(demo.locator('.inputs input[name="diameter_mm"]')).to_have_value(re.compile(r"11 \d+/\d+"))
        demo.reload()
        expect(figure(demo, "rough_diameter_mm")).to_contain_text(" in")
    finally:
        demo.get_by_role("button", name=re.compile("show figures in millimetres")).click()
    expect(figure(demo, "rough_diameter_mm")).to_contain_text("mm")


def test_keys_lead_everywhere_and_the_sheet_lists_them(demo):
    for key, heading in (
        ("2", "Yard"),
        ("3", "Drying"),
        ("4", "Bench"),
        ("5", "Shop"),
        ("n", "New piece"),
        ("1", "Today"),
    ):
        demo.keyboard.press(key)
        demo.get_by_role("heading", name=heading, exact=heading not in ("Today",)).first.wait_for()
        demo.evaluate("document.activeElement.blur()")
    demo.keyboard.press("?")
    expect(demo.get_by_role("dialog")).to_contain_text("Weigh-in round")
    demo.keyboard.press("Escape")
    expect(demo.get_by_role("dialog")).to_be_hidden()


def fault(page, label):
    """The sentence beside a field."""
    field = page.get_by_label(label, exact=True)
    expect(field).to_have_attribute("aria-invalid", "true")
    return page.locator(f"#{field.get_attribute('aria-describedby')}").inner_text()


def test_impossible_pieces_get_a_sentence_beside_the_field_and_keep_what_was_typed(demo):
    settle(demo, "/new")
    demo.get_by_label("Blank across").fill("480")
    demo.get_by_label("Blank deep").fill("120")
    expect(demo.get_by_label("Blank across")).to_have_attribute("aria-invalid", "true")
    assert "swings 420 mm" in fault(demo, "Blank across")
    demo.get_by_label("Blank across").fill("290")
    demo.get_by_label(re.compile("^Finished across")).fill("310")
    expect(demo.get_by_text("A blank 290 mm across cannot give 310 mm.")).to_be_visible()
    demo.get_by_label(re.compile("^Finished across")).fill("")
    demo.get_by_text("More, if you know it").click()
    demo.get_by_label("Tag").fill("12")
    demo.get_by_role("button", name="Begin it").click()
    expect(demo.get_by_label("Tag")).to_have_attribute("aria-invalid", "true")
    assert "on another piece already" in fault(demo, "Tag")
    expect(demo.get_by_label("Tag")).to_have_value("12")
    demo.get_by_label("Blank deep").fill("a hand")
    demo.get_by_label("Blank deep").press("Tab")
    assert "not readable" in fault(demo, "Blank deep")
    expect(demo.get_by_label("Blank deep")).to_have_value("a hand")


def test_a_wall_thicker_than_the_bowl_and_a_date_to_come_are_refused_on_the_card(demo):
    settle(demo, "/bench/23")
    wall = demo.locator('.inputs input[name="finish_wall_mm"]')
    wall.fill("55")
    demo.locator('.inputs input[name="finish_diameter_mm"]').fill("100")
    expect(demo.get_by_text(re.compile("Two walls of 55 mm do not fit"))).to_be_visible()
    demo.reload()
    form = demo.locator(".done-form")
    form.get_by_label("Wall", exact=True).fill("150")
    form.get_by_role("button", name="Mark it done").click()
    expect(form.get_by_text(re.compile("must lie between|does not fit"))).to_be_visible()
    expect(form.get_by_label("Wall", exact=True)).to_have_value("150")
    form.get_by_label("Wall", exact=True).fill("28")
    form.get_by_role("button", name=re.compile("^now")).click()
    form.get_by_label("When").fill("2099-01-01T10:00")
    form.get_by_role("button", name="Mark it done").click()
    expect(form.get_by_text("still to come")).to_be_visible()


def test_air_that_cannot_be_is_refused_in_the_shop(demo):
    settle(demo, "/shop")
    demo.get_by_role("button", name="Add a place").click()
    form = demo.get_by_role("form", name="Add a place")
    form.get_by_label("Name").fill("Pond")
    form.get_by_label("Name").press("Tab")
    form.get_by_label("Air").fill("15")
    form.get_by_label("Humidity").fill("130")
    form.get_by_role("button", name="Keep").click()
    expect(form.get_by_text(re.compile("between 1 % and 99 %"))).to_be_visible()
    expect(form.get_by_label("Humidity")).to_have_value("130")
    form.get_by_label("Humidity").fill("70")
    form.get_by_role("button", name="Keep").click()
    expect(demo.locator("strong", has_text="Pond")).to_be_visible()


def test_an_own_account_signs_in_and_sees_an_empty_workshop_that_teaches(page, yard, troubles):
    yard.manage("create_account", "cleo", "--workshop", "Boathouse", "--password", "canal-barge-77")
    page.goto(yard.address)
    page.get_by_label("Name").fill("cleo")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("do not belong together")).to_be_visible()
    page.get_by_label("Password").fill("canal-barge-77")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("Nothing is due")).to_be_visible()
    for path, words in (
        ("/yard", "No logs yet"),
        ("/drying", "Nothing is drying"),
        ("/pieces", "No pieces yet"),
    ):
        settle(page, path)
        expect(page.get_by_text(words)).to_be_visible()
    go(page, "/piece/9")
    expect(page.get_by_text("nothing here by that name")).to_be_visible()
    page.get_by_role("button", name="Leave").click()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()


def test_a_log_comes_in_and_a_piece_is_cut_from_it(demo):
    settle(demo, "/yard")
    demo.get_by_role("button", name="Take in a log").click()
    demo.get_by_label("Wood", exact=True).select_option(label="Hornbeam")
    demo.get_by_label("Or only its width, under bark").fill("12 in")
    demo.get_by_label("Where from").fill("Lock three")
    demo.get_by_label("Where from").press("Tab")
    demo.get_by_role("button", name="Keep it").click()
    row = demo.locator(".log-row", has_text="Hornbeam")
    expect(row).to_contain_text("305 mm across, length not known")
    row.get_by_role("link", name=re.compile("Open it")).click()
    expect(demo.get_by_text("Measure its length and at least one width")).to_be_visible()
    demo.get_by_role("link", name="Make a piece of it").click()
    expect(demo.get_by_label("Wood", exact=True)).to_have_value("hornbeam")

"""The weigh-in round with the keyboard alone, with slips, and without the server."""

import re

from playwright.sync_api import expect

from tests.e2e.conftest import go


def focused(page):
    return page.evaluate("document.activeElement.id || document.activeElement.textContent.trim()")


def test_a_round_by_keyboard_alone_with_a_zero_too_many(demo):
    page = demo
    page.keyboard.press("w")
    page.wait_for_selector("#round-field:focus")
    page.keyboard.type("14")
    page.keyboard.press("Enter")
    expect(page.get_by_text("expected;")).to_be_visible()
    page.keyboard.type("11950")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("Is there a zero too many"))).to_be_visible()
    expect(page.get_by_role("button", name="Make it 1195 g")).to_be_focused()
    page.keyboard.press("Enter")
    row = page.locator('.round-list li[data-tag="14"]')
    expect(row).to_contain_text("1195 g")
    expect(row).to_contain_text(re.compile("kept; ready"), timeout=15_000)
    page.wait_for_selector("#round-field:focus")
    page.keyboard.type("15 1079")
    page.keyboard.press("Enter")
    expect(page.locator('.round-list li[data-tag="15"]')).to_have_attribute("data-state", "kept")

    # The old figure stays visible on the piece's own page.
    go(page, "/drying/14")
    expect(page.locator('.weight-list li[data-state="corrected"]')).to_contain_text(re.compile("11\\s?950 g"))


def test_a_wrong_weight_is_corrected_and_the_old_one_stays(demo):
    page = demo
    go(page, "/drying/12")
    page.get_by_role("button", name="Correct 1435 g").or_(
        page.get_by_role("button", name=re.compile("^Correct")).first
    ).first.click()
    page.get_by_label("The right weight").fill("50.5 oz")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator('.weight-list li[data-state="corrected"]')).to_have_count(1)
    expect(page.get_by_text("the corrected figure")).to_be_visible()


def test_slips_at_the_shelf_get_words_and_keep_what_was_typed(demo):
    page = demo
    page.keyboard.press("w")
    field = page.locator("#round-field")
    field.fill("99")
    field.press("Enter")
    expect(page.get_by_text("Nothing tagged 99 is drying here")).to_be_visible()
    expect(field).to_have_value("99")
    field.fill("22")
    field.press("Enter")
    expect(page.get_by_text("expected;")).to_be_visible()
    field.fill("half a pound")
    field.press("Enter")
    expect(page.get_by_text("is not readable as a weight")).to_be_visible()
    expect(field).to_have_value("half a pound")
    field.fill("-20")
    field.press("Enter")
    expect(page.get_by_text("is not readable as a weight")).to_be_visible()
    field.press("Escape")
    expect(page.get_by_label("Tag")).to_be_visible()


def test_weights_wait_on_the_device_and_are_sent_once(demo, troubles):
    page = demo
    go(page, "/round/17")
    expect(page.get_by_text("expected;")).to_be_visible()
    page.context.set_offline(True)
    field = page.locator("#round-field")
    field.fill("905")
    field.press("Enter")
    expect(page.get_by_text("1 weight waits on this device")).to_be_visible()
    expect(page.locator(".round-list")).to_contain_text("waits to be sent")
    page.context.set_offline(False)
    page.evaluate("window.dispatchEvent(new Event('online'))")
    expect(page.locator('.round-list li[data-tag="17"]')).not_to_have_attribute("data-state", "waiting")
    weights = page.evaluate("fetch('/api/drying/17').then(r => r.json())")["weigh_ins"]
    assert [w["mass_g"] for w in weights].count(905) == 1
    troubles.forgive_the_line()


def test_a_closed_page_still_has_its_weights_when_opened_again(demo, troubles):
    page = demo
    go(page, "/round/17")
    expect(page.get_by_text("expected;")).to_be_visible()
    page.route("**/api/drying/weigh-ins", lambda route: route.abort())
    page.locator("#round-field").fill("903")
    page.locator("#round-field").press("Enter")
    expect(page.get_by_text("1 weight waits on this device")).to_be_visible()
    page.unroute("**/api/drying/weigh-ins")
    page.reload()
    expect(page.locator('.round-list li[data-tag="17"]')).to_contain_text(re.compile("903 g"))
    expect(page.get_by_text("waits on this device")).to_have_count(0)
    troubles.forgive_the_line()

"""The wood side in the browser: planner, ways ahead, oven, tables, a round without the server."""

import re
import uuid

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import figure, go
from tests.server_process import Server


def open_log(page, number):
    go(page, "/yard")
    page.locator(f'[data-log="{number}"] a.btn').click()
    page.get_by_role("heading", name=re.compile(f"Log {number}")).wait_for()
    page.locator(".layout").first.wait_for(timeout=20_000)


def laid(page, number):
    return page.locator(f'.log-cut .laid[aria-label^="Blank {number},"]')


def test_the_planner_is_driven_by_mouse_and_by_keys(demo):
    page = demo
    open_log(page, 3)
    expect(page.locator(".layout")).not_to_have_count(1)
    expect(page.locator(".layout").first).to_contain_text("blanks from")
    before = figure(page, "blank").inner_text()
    share = page.locator('[data-figure="yield"]')
    was = share.inner_text()
    blank = laid(page, 1)
    box = blank.locator("path").bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 26, box["y"] + box["height"] / 2 - 18, steps=6)
    page.mouse.up()
    expect(figure(page, "blank")).not_to_have_text(before)
    expect(share).not_to_have_text(was)
    dragged = figure(page, "blank").inner_text()
    laid(page, 1).focus()
    for _ in range(8):
        page.keyboard.press("Shift+ArrowLeft")
    expect(figure(page, "blank")).not_to_have_text(dragged)
    page.keyboard.press("[")
    # Locked, it stays where it is.
    page.get_by_role("button", name="Lock", exact=True).click()
    expect(page.get_by_role("button", name="Unlock")).to_be_visible()
    page.wait_for_timeout(600)
    locked = figure(page, "blank").inner_text()
    laid(page, 1).focus()
    page.keyboard.press("Shift+ArrowUp")
    page.wait_for_timeout(400)
    expect(figure(page, "blank")).to_have_text(locked)


def test_wishes_steer_the_cuts_and_blanks_become_pieces_with_a_lineage(demo):
    page = demo
    open_log(page, 1)
    page.get_by_role("button", name="I want certain sizes").click()
    page.get_by_role("textbox", name="Width").fill("28cm")
    page.get_by_role("button", name="Lay it out").click()
    first = page.locator(".layout").first
    expect(first).to_contain_text("What was asked for", timeout=20_000)
    expect(figure(page, "blank")).to_contain_text("280 mm")
    page.get_by_role("button", name="Cutting sheet").click()
    expect(page.get_by_role("heading", name=re.compile("Cutting sheet, log 1"))).to_be_visible()
    expect(page.locator(".marks li").first).to_contain_text("Chainsaw", timeout=20_000)
    page.get_by_role("link", name="Back to the log").click()
    page.locator(".layout").first.wait_for(timeout=20_000)
    page.get_by_role("button", name="Cut blank 1 only").click()
    expect(page.get_by_role("heading", name="Cut from it")).to_be_visible(timeout=15_000)
    tag = page.locator("table.stack tbody tr").first.locator("a").inner_text()
    go(page, f"/piece/{tag}")
    expect(page.locator("[data-lineage]")).to_contain_text("blank 1: half, rim to the pith")
    page.locator("[data-lineage] a").first.click()
    expect(page.get_by_role("heading", name="Log 1, European walnut")).to_be_visible()
    # A slip is taken back.
    page.get_by_role("button", name=re.compile("Not cut after all")).first.click()
    expect(page.get_by_text("Blank 1 is in the log again.")).to_be_visible()


def test_a_log_is_measured_and_its_wood_narrowed(demo):
    page = demo
    go(page, "/yard")
    page.locator('[data-log="6"] a.btn').click()
    page.get_by_role("button", name="Measure it").click()
    page.get_by_role("button", name="Which wood is it?").click()
    page.get_by_label("Thumbnail on the side of the grain").select_option("hard")
    expect(page.locator(".likely li").first).to_contain_text("Pear")
    page.get_by_role("button", name="Take it as Pear").click()
    page.get_by_label("Length", exact=False).first.fill("5000000")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".wrong").first).to_contain_text("must lie between")
    page.get_by_label("Length", exact=False).first.fill("620")
    page.get_by_label("Large end, across").fill("11 in")
    page.get_by_label("Small end, across").fill("270")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("heading", name="Log 6, Pear")).to_be_visible()
    page.locator(".layout").first.wait_for(timeout=20_000)


def test_odd_shapes_balance_and_resin_is_reckoned(demo):
    page = demo
    go(page, "/odd")
    expect(page.get_by_role("cell", name="Least swing")).to_be_visible()
    page.get_by_label("Shape").select_option("")
    page.get_by_label("Corners in mm").fill("0 0\n200 0\n200 x")
    expect(page.get_by_text("Each line wants two numbers")).to_be_visible()
    page.get_by_label("Corners in mm").fill("0 0\n200 0\n200 100\n0 100")
    expect(page.locator("main table").first).to_contain_text("224 mm")
    page.get_by_label("The void").select_option("measured")
    page.get_by_label("It took").fill("50")
    page.get_by_label("It took").blur()
    expect(figure(page, "resin")).to_contain_text("40 g + 20 g")


def test_ways_stand_side_by_side_and_one_is_taken(demo):
    page = demo
    go(page, "/drying/14/ways")
    page.locator('tr[data-way="box"]').wait_for(timeout=30_000)
    expect(page.locator("tr[data-way]")).to_have_count(7)
    expect(page.locator('tr[data-way="sealed"]')).to_contain_text("Sealed all over")
    page.locator('tr[data-way="sealed"] button').click()
    expect(page.get_by_text("waxed all over, ends sealed")).to_be_visible(timeout=30_000)


def test_the_oven_refuses_metal_times_a_go_and_waits_for_the_cold_weight(demo):
    page = demo
    go(page, "/drying/16/oven")
    expect(figure(page, "seconds")).to_contain_text("s on high")
    page.get_by_label("there is metal in or on it").check()
    expect(page.get_by_role("alert")).to_contain_text("Never with metal")
    page.get_by_label("there is metal in or on it").uncheck()
    page.get_by_label("Weight now, cold").fill("310")
    page.get_by_label("Weight now, cold").blur()
    page.get_by_role("button", name="It goes in now").click()
    expect(page.get_by_role("timer")).to_contain_text("In the oven")
    page.get_by_label("Weight, cold").fill("330")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".wrong")).to_contain_text("cannot weigh more after")
    page.get_by_label("Weight, cold").fill("304")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator("main table")).to_contain_text("6 g")


def test_turned_again_jumps_on_the_curve(demo):
    page = demo
    go(page, "/drying/22")
    page.get_by_text("Turned again", exact=True).click()
    page.get_by_label("Wall now").fill("12")
    page.get_by_label("Bottom now").fill("15")
    page.get_by_label("Weight after").fill("340")
    page.locator("form", has=page.get_by_label("Wall now")).get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("turned again to a wall of 12 mm")).to_be_visible(timeout=20_000)
    expect(page.locator("svg .jump")).to_have_count(1)


def test_many_are_chosen_and_moved_with_keys(demo):
    page = demo
    go(page, "/drying")
    page.locator("tr[data-tag]").first.wait_for()
    page.keyboard.press("j")
    page.keyboard.press("x")
    page.keyboard.press("j")
    page.keyboard.press("x")
    form = page.get_by_role("form", name="All that are chosen")
    expect(form).to_contain_text("2 chosen")
    form.get_by_label("End grain").select_option("yes")
    form.get_by_role("button", name="From now on").click()
    expect(page.get_by_text("2 pieces noted.")).to_be_visible()
    page.get_by_label("Show", exact=True).select_option("ready")
    expect(page.locator("tr[data-tag]").first).to_contain_text("ready now")


def test_a_table_with_errors_keeps_nothing_until_it_is_mended(demo):
    page = demo
    go(page, "/drying/table")
    rows = page.get_by_label("Rows, the first with the names")
    rows.fill("piece;day;heavy\n12;2026-11-24 10:00;1430\n99;2026-11-24 10:00;1430\n12;yesterday;1429")
    page.get_by_role("button", name="Look at it").click()
    page.get_by_label("When").select_option("day")
    page.get_by_label("Weight", exact=True).select_option("heavy")
    expect(page.locator('tr[data-fate="wrong"]')).to_have_count(2)
    expect(page.locator('tr[data-fate="wrong"]').first).to_contain_text("No piece of that tag")
    expect(page.get_by_role("button", name=re.compile("^Keep"))).to_be_disabled()
    rows.fill("tag;when;weight\n12;2026-11-24 10:00;1430")
    page.get_by_role("button", name="Look at it").click()
    expect(page.locator('tr[data-fate="wrong"]')).to_have_count(0)
    page.get_by_role("button", name="Keep 1 rows").click()
    expect(page.get_by_text("Kept: 1 rows.")).to_be_visible()
    go(page, "/drying/12")
    expect(page.locator(".weight-list")).to_contain_text("1430 g")


def test_a_places_seasons_and_box_are_reckoned(demo):
    page = demo
    go(page, "/shop")
    page.get_by_role("link", name="Seasons, logger and readings of Stove wall").click()
    page.get_by_label("To settle at").fill("8")
    page.get_by_label("In a box kept at").fill("40")
    page.get_by_label("In a box kept at").blur()
    expect(figure(page, "box")).to_contain_text(re.compile(r"4\d %"))
    page.get_by_role("button", name="Read the logger now").is_disabled()


@pytest.fixture
def own_yard(tmp_path, page, troubles):
    """A server of its own, which may be killed."""
    server = Server(tmp_path, KILN_DEMO="1")
    server.manage("migrate", "-v0")
    server.manage("load_demo")
    server.start()
    yield server
    if server.process.poll() is None:
        server.kill()
    # what the browser says of a server that is gone is what was asked for
    troubles.forgive_the_line()


def test_a_round_goes_on_without_the_server_even_after_a_reload(page, own_yard):
    page.goto(own_yard.address)
    page.get_by_role("button", name="Enter the demo workshop").click()
    page.get_by_role("heading", name="Today").wait_for()
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()  # from now on the worker looks after the page
    page.get_by_role("heading", name="Today").wait_for()
    go(page, "/round")
    expect(page.get_by_role("button", name=re.compile("Next on the shelf"))).to_be_visible()
    own_yard.kill()
    page.reload()
    expect(page.get_by_role("heading", name="Weigh-in round")).to_be_visible(timeout=15_000)
    next_one = page.get_by_role("button", name=re.compile("Next on the shelf"))
    expect(next_one).to_be_visible()
    next_one.click()
    expect(page.get_by_text("expected")).to_be_visible(timeout=15_000)
    page.locator("#round-field").fill("1080")
    page.locator("#round-field").press("Enter")
    page.locator("#round-field").fill("12 1431")
    page.locator("#round-field").press("Enter")
    expect(page.get_by_text("2 weights wait on this device")).to_be_visible(timeout=15_000)
    page.reload()
    expect(page.get_by_text("2 weights wait on this device")).to_be_visible(timeout=15_000)
    own_yard.start()
    page.evaluate("window.dispatchEvent(new Event('online'))")
    expect(page.locator('.round-list li[data-tag="12"]')).to_have_attribute(
        "data-state", "kept", timeout=20_000
    )
    expect(page.get_by_text("wait on this device")).to_have_count(0)
    own_yard.cookies = {c["name"]: c["value"] for c in page.context.cookies()}
    kept = own_yard.call("GET", "/api/drying/12")["weigh_ins"]
    assert [w["mass_g"] for w in kept].count(1431.0) == 1
    assert uuid.UUID(own_yard.call("GET", "/api/drying/weigh-ins.csv").strip().splitlines()[-1].split(",")[3])

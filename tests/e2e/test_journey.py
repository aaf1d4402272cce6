"""The journey: one piece of one's own from blank to drying, a demo piece to its care note."""

import re
from datetime import datetime, timedelta

from playwright.sync_api import expect

from tests.e2e.conftest import figure, go


def moment(days_ago):
    return (datetime.now() - timedelta(days=days_ago)).strftime("%Y-%m-%dT%H:%M")


def test_today_lists_what_is_due_with_reasons(demo):
    expect(demo.get_by_role("heading", name=re.compile("Look at now"))).to_be_visible()
    expect(demo.get_by_text(re.compile("Dries too fast: check index"))).not_to_have_count(0)
    expect(demo.get_by_text(re.compile(r"Ready: .* inside, .* was wanted"))).not_to_have_count(0)
    expect(demo.get_by_text(re.compile(r"Coat 2, .* due .* ago"))).to_be_visible()
    expect(demo.get_by_text(re.compile(r"Due \d+ days ago; about .* expected"))).not_to_have_count(0)
    expect(demo.locator(".strip")).to_be_visible()


def begin_ash_bowl(page):
    page.get_by_role("link", name="New piece").first.click()
    page.get_by_label("Wood", exact=True).select_option(label="European ash")
    page.get_by_label("Blank across").fill("290")
    page.get_by_label("Blank deep").fill("115")
    expect(page.get_by_text("Left empty: 260 mm")).to_be_visible()
    expect(page.locator(".route-preview li")).to_have_count(7)
    page.get_by_role("button", name="Begin it").click()
    page.get_by_role("heading", name="Rough-turn").wait_for()
    return page.locator(".head .tag").inner_text()


def test_a_piece_of_ones_own_from_blank_to_drying(demo):
    page = demo
    tag = begin_ash_bowl(page)

    # The rough-turning card: hold and runner-up, both speeds, wall, rim, cautions.
    first = page.get_by_role("region", name="First hold")
    expect(first.get_by_text("Worm screw", exact=True)).to_be_visible()
    expect(first.get_by_text("Next best:")).to_be_visible()
    expect(first.get_by_text("Why not first:")).to_be_visible()
    expect(first.get_by_text("8 mm", exact=True)).to_be_visible()
    expect(page.get_by_text("Chain of holds")).to_be_visible()
    expect(figure(page, "speed_rpm", "out of round")).to_contain_text("520 rpm")
    expect(figure(page, "speed_rpm", "running true")).to_contain_text("780 rpm")
    expect(figure(page, "wall_mm", "Rough wall")).to_contain_text("28.1 mm")
    expect(figure(page, "rough_diameter_mm")).to_contain_text("281 mm")
    expect(figure(page, "oval_mm")).to_contain_text("ends of the grain stay higher")
    expect(page.get_by_text("Face shield on")).to_be_visible()
    figure(page, "speed_rpm", "running true").get_by_text("why").click()
    expect(page.locator(".governs:visible")).to_contain_text("which governs")

    # 290 becomes 11 1/4 in: all follows, at once and after reloading.
    field = page.locator('.inputs input[name="diameter_mm"]')
    field.fill("11 1/4 in")
    expect(figure(page, "speed_rpm", "running true")).to_contain_text("800 rpm")
    field.press("Enter")
    expect(field).to_have_value("285.75")
    page.reload()
    expect(page.locator('.inputs input[name="diameter_mm"]')).to_have_value("285.75")
    expect(figure(page, "speed_rpm", "running true")).to_contain_text("800 rpm")

    # Rough-turned with real figures, forty days ago.
    done = page.locator(".done-form")
    done.get_by_label("Outside diameter").fill("280")
    done.get_by_label("Wall", exact=True).fill("28")
    done.get_by_label("Weight").fill("2 450")
    done.get_by_role("button", name=re.compile("^now")).click()
    done.get_by_label("When").fill(moment(40))
    done.get_by_role("button", name="Mark it done").click()

    # Into a paper bag at a place with its own air, end grain sealed.
    page.get_by_role("heading", name="Where does it lie now?").wait_for()
    page.get_by_label("Place", exact=True).select_option(index=1)
    page.get_by_label("Kept").select_option("paper-bag")
    page.get_by_label("end grain sealed").check()
    page.get_by_role("button", name="It lies there").click()
    expect(page.get_by_text("Loft shelf, in a paper bag, ends sealed")).to_be_visible()

    def span_days():
        """Days between the ends of the span shown, from the API behind the page."""
        row = page.evaluate("tag => fetch(`/api/drying/${tag}`).then(r => r.json())", tag)["row"]
        ends = [datetime.fromisoformat(row[f"settled_{end}"]) for end in ("low", "high")]
        return (ends[1] - ends[0]).days

    ready = page.locator('[data-figure="ready"]')
    expect(ready).to_contain_text(re.compile(r"\d+ \w+"), timeout=15_000)
    go(page, "/drying")
    expect(page.locator(f'tr[data-tag="{tag}"]')).to_contain_text(re.compile(r"to \d+ \w+|from \d+ \w+"))
    before = span_days()

    # Weights at the shelf: after 4 days, after 14, and on until it slows.
    go(page, f"/round/{tag}")
    page.get_by_text("Weighed at another time").click()
    page.get_by_role("button", name=re.compile("^now")).click()
    for days_ago, mass in ((36, "2390"), (26, "2 240"), (14, "2105 g"), (4, "70.5 oz")):
        page.get_by_label("Weighed", exact=True).fill(moment(days_ago))
        field = page.locator("#round-field")
        if page.get_by_label("Tag").count():
            field.fill(tag)
            field.press("Enter")
        expect(page.get_by_text("expected;")).to_be_visible()
        field.fill(mass)
        field.press("Enter")
        expect(page.locator(".round-list li").first).to_contain_text(
            re.compile("kept; ready"), timeout=15_000
        )
    assert span_days() < before
    go(page, f"/drying/{tag}")
    expect(page.locator(".weight-list")).to_contain_text("1999 g")


def test_a_ready_piece_from_the_shelf_to_its_care_note(demo):
    page = demo
    go(page, "/drying/11")
    page.get_by_role("button", name="Ready: take it down").click()
    page.get_by_role("heading", name="Remount and finish-turn").wait_for()

    # What is still in the oval follows the four figures measured.
    for name, value in (
        ("long_mm", "291"),
        ("short_mm", "276"),
        ("wall_long_mm", "28"),
        ("wall_short_mm", "27"),
    ):
        field = page.locator(f'.inputs input[name="{name}"]')
        field.fill(value)
        field.press("Tab")
        expect(field).to_have_value(value)
    expect(figure(page, "inside_diameter_mm")).to_contain_text("270 mm")
    expect(figure(page, "inside_diameter_mm").locator("details")).not_to_contain_text("Predicted")
    expect(figure(page, "depth_hole_mm")).to_contain_text("mm")
    expect(page.locator(".drawing svg")).to_be_visible()
    page.get_by_role("button", name="Mark it done").click()

    page.get_by_role("heading", name="Sand", exact=True).wait_for()
    expect(page.locator(".grits")).to_have_text(re.compile(r"P120\s*›\s*P180\s*›\s*P240\s*›\s*P320"))
    page.get_by_label("Surface now").select_option("torn")
    expect(page.locator(".grits")).to_contain_text("P80")
    page.get_by_role("button", name="Mark it done").click()

    page.get_by_role("heading", name="Finish", exact=True).wait_for()
    for number in (1, 2, 3):
        page.get_by_role("button", name=f"Coat {number} is on").click()
    expect(page.get_by_text("cured", exact=True)).to_be_visible()
    page.get_by_role("button", name="Mark it done").click()

    page.get_by_role("heading", name="Foot", exact=True).wait_for()
    expect(page.get_by_text(re.compile("Rated 600 rpm at most"))).not_to_have_count(0)
    page.get_by_role("button", name="Mark it done").click()
    page.get_by_role("heading", name="Sign", exact=True).wait_for()
    page.get_by_label("Signed as").fill("Canal yard")
    page.get_by_label("Signed as").press("Tab")
    page.get_by_role("button", name="Mark it done").click()

    page.get_by_role("heading", name="Care").wait_for()
    expect(page.locator(".care-note")).to_contain_text("European walnut")
    expect(page.locator(".record")).to_contain_text("signed as Canal yard", ignore_case=True)
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Places")).to_be_hidden()
    pdf = page.pdf(format="A4")
    assert len(re.findall(rb"/Type\s*/Page[^s]", pdf)) == 1


def test_the_reckoner_answers_a_bare_size(demo):
    page = demo
    page.keyboard.press("r")
    swing = page.get_by_label(re.compile("^Swing"))
    swing.fill("11in")
    expect(figure(page, "speed_rpm")).to_contain_text("360 to 540 rpm")
    page.get_by_label("Doing").select_option("true")
    expect(figure(page, "speed_rpm")).to_contain_text("540 to 810 rpm")
    page.get_by_label("cracked").check()
    expect(figure(page, "speed_rpm")).to_contain_text("490 rpm")
    swing.fill("19 1/4 in")
    expect(page.get_by_text(re.compile("does not clear the bed of Long bed"))).to_be_visible()
    expect(swing).to_have_value("19 1/4 in")


def test_a_stage_marked_by_a_slip_is_taken_back(demo):
    page = demo
    go(page, "/bench/20")
    page.get_by_role("heading", name="Sand", exact=True).wait_for()
    page.get_by_role("button", name="Mark it done").click()
    page.get_by_role("heading", name="Finish", exact=True).wait_for()
    page.get_by_role("button", name="Take back “Sand”").click()
    page.get_by_role("heading", name="Sand", exact=True).wait_for()
    expect(page.get_by_role("button", name="Mark it done")).to_be_visible()

"""The lathe side in the browser: handles by mouse and keys, cores, prints, callipers, chatter."""

import re

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import figure, go


def open_shape(page, tag="23"):
    go(page, f"/shape/{tag}")
    page.locator(".section .knob").first.wait_for(timeout=20_000)


def knob(page, name):
    return page.locator(f'[data-handle="{name}"]')


def value(page, name):
    return page.locator(
        f'.shape-side [data-figure="{name}"] .big-figure, .shape-side [data-figure="{name}"] .small-figure'
    )


def test_a_handle_is_dragged_by_the_mouse_and_undone(demo):
    page = demo
    open_shape(page)
    holds = value(page, "capacity_ml")
    before = holds.inner_text()
    label = knob(page, "outer-2").get_attribute("aria-label")
    box = knob(page, "outer-2").locator(".grip").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 14, y + 9, steps=7)
    page.mouse.up()
    expect(holds).not_to_have_text(before)
    expect(knob(page, "outer-2")).not_to_have_attribute("aria-label", label)
    page.get_by_role("button", name="Undo").click()
    expect(holds).to_have_text(before)
    expect(knob(page, "outer-2")).to_have_attribute("aria-label", label)
    page.get_by_role("button", name="Redo").click()
    expect(holds).not_to_have_text(before)


def test_a_handle_is_nudged_by_keys_made_a_corner_and_taken_out(demo):
    page = demo
    open_shape(page)
    # a whole mark first: what comes from a family does not lie on one
    rim = knob(page, "outer-5")
    rim.focus()
    page.keyboard.press("ArrowLeft")
    expect(rim).to_have_attribute("aria-label", re.compile("129 mm out, 100 mm up"))
    page.keyboard.press("Shift+ArrowLeft")
    expect(rim).to_have_attribute("aria-label", re.compile("124 mm out"))
    page.keyboard.press("Alt+ArrowDown")
    expect(rim).to_have_attribute("aria-label", re.compile("124 mm out, 99.8 mm up"))
    expect(value(page, "thin_mm")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(rim).to_have_attribute("aria-label", re.compile("124 mm out, 100 mm up"))
    count = page.locator(".knob").count()
    knob(page, "outer-3").focus()
    page.keyboard.press("c")
    expect(knob(page, "outer-3")).to_have_attribute("aria-label", re.compile("a corner"))
    page.keyboard.press("+")
    expect(page.locator(".knob")).to_have_count(count + 1)
    page.keyboard.press("Delete")
    expect(page.locator(".knob")).to_have_count(count)


def test_what_breaks_is_named_at_its_place_and_typing_nonsense_keeps_the_drawing(demo):
    page = demo
    open_shape(page)
    page.get_by_label("Its diameter").fill("110")
    page.get_by_label("Its diameter").press("Enter")
    expect(page.locator(".marks")).to_contain_text("The tenon eats into the curve")
    expect(page.locator(".flag-mark.stop")).to_have_count(1)
    page.get_by_role("textbox", name="Wall", exact=True).fill("4000")
    page.get_by_role("textbox", name="Wall", exact=True).press("Enter")
    expect(page.locator(".field", has=page.locator('input[name="wall_mm"]')).first).to_contain_text(
        "must lie between"
    )
    expect(page.locator(".section .cut")).to_be_visible()
    page.get_by_role("textbox", name="Wall", exact=True).fill("1/4 inch")
    page.get_by_role("textbox", name="Wall", exact=True).press("Enter")
    expect(value(page, "thin_mm")).to_have_text(re.compile(r"6\.[34] mm"))


def test_a_family_its_slider_and_an_inside_drawn_by_hand(demo):
    page = demo
    go(page, "/shape")
    page.locator(".section .knob").first.wait_for(timeout=20_000)
    page.get_by_label("Outside", exact=True).select_option("bottle")
    expect(page.get_by_label(re.compile("Neck as share of belly"))).to_be_visible()
    before = value(page, "capacity_ml").inner_text()
    slider = page.locator('input[name="neck"]')
    slider.focus()
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    expect(value(page, "capacity_ml")).not_to_have_text(before)
    page.get_by_role("button", name="Draw the inside by hand").click()
    expect(knob(page, "inner-0")).to_be_visible()
    page.get_by_role("button", name="Back to a plan").click()
    expect(knob(page, "inner-0")).to_have_count(0)


def test_a_bowl_is_drawn_from_measures_and_a_traced_card_in_inches(demo):
    page = demo
    go(page, "/shape")
    page.locator(".section .knob").first.wait_for(timeout=20_000)
    page.get_by_text("From a card, a file or a bowl").click()
    page.get_by_label("A bowl measured: height, diameter, wall").fill(
        "0 100 9\n30 190 7\n60 240 6\n95 255 six"
    )
    page.get_by_role("button", name="Draw the bowl as it is").click()
    expect(page.get_by_text("Each line wants three figures")).to_be_visible()
    page.get_by_label("A bowl measured: height, diameter, wall").fill("0 100 9\n30 190 7\n60 240 6\n95 255 6")
    page.get_by_role("button", name="Draw the bowl as it is").click()
    expect(page.locator(".section")).to_contain_text("255 mm across, 95 mm high")
    expect(knob(page, "inner-0")).to_be_visible()
    page.get_by_label("Traced points, one a line: out, up").fill("40 0\n80 15\n4in 3in\n110 100")
    page.get_by_role("button", name="Lay a curve through them").click()
    expect(page.locator(".section")).to_contain_text("220 mm across, 100 mm high")


def test_prints_come_as_files_and_the_depth_card_follows(demo):
    page = demo
    open_shape(page)
    expect(figure(page, "depth_hole_mm")).to_contain_text("87 mm")
    for kind in ("SVG", "PDF", "DXF", "STL", "GLB"):
        with page.expect_download() as got:
            page.get_by_role("button", name=kind, exact=True).click()
        assert got.value.suggested_filename == f"profile.{kind.lower()}"
        assert got.value.path().stat().st_size > 400
    page.get_by_label("Spring calliper set to").fill("3")
    page.get_by_label("Spring calliper set to").press("Enter")
    expect(page.get_by_text("does not pass a wall of")).to_be_visible()


def test_the_dried_shape_is_compared_and_turned_only_when_asked(demo):
    page = demo
    chunks = []
    page.on("request", lambda r: chunks.append(r.url) if "Solid" in r.url else None)
    open_shape(page)
    page.get_by_role("button", name="Once dried").click()
    expect(page.locator('[data-figure="oval"]')).to_contain_text("mm")
    expect(page.get_by_text("The other way up")).to_be_visible()
    assert chunks == []
    page.get_by_role("button", name="Turn it in the round").click()
    expect(page.locator("canvas.solid, .caution.note:has-text('cannot turn solids')").first).to_be_visible(
        timeout=20_000
    )
    assert chunks
    page.get_by_label("From green to dried").fill("0")
    expect(page.get_by_text("30 %, green")).to_be_visible()


def test_the_form_is_kept_with_the_piece_and_its_card_follows(demo):
    page = demo
    open_shape(page, "20")
    page.get_by_label("High", exact=True).fill("62")
    page.get_by_label("High", exact=True).press("Enter")
    expect(page.locator(".section")).to_contain_text("62 mm high")
    page.get_by_role("button", name="Keep with the piece").click()
    expect(page.get_by_text("Kept with piece 20")).to_be_visible()
    page.get_by_label("Height above the foot").fill("40")
    page.get_by_label("Wall read").fill("13")
    page.get_by_role("button", name="Note it").click()
    expect(page.locator(".reading.reading-double")).to_have_count(1)
    go(page, "/bench/20/turn-dry")
    expect(page.locator(".drawing")).to_contain_text("62 mm")
    expect(figure(page, "depth_hole_mm")).to_contain_text(re.compile(r"5\d(\.\d)? mm"))
    page.get_by_text("Which way to cut", exact=True).click()
    expect(page.locator(".which .run").first).to_be_visible()


def test_cores_are_planned_moved_by_keys_and_mouse_and_taken(demo):
    page = demo
    go(page, "/cores/28")
    page.locator(".pivot").first.wait_for(timeout=20_000)
    expect(page.locator('[data-nest="best"]')).to_contain_text("2 cores")
    pivot = page.locator('[data-pivot="1"]')
    pivot.focus()
    for _ in range(5):
        page.keyboard.press("Shift+ArrowDown")
    expect(page.locator(".nest-card.refused").first).to_contain_text("Stop.")
    expect(page.get_by_role("button", name="they become pieces")).to_be_disabled()
    page.locator('[data-nest="best"]').click()
    expect(page.locator(".nest-card.refused")).to_have_count(0)
    grip = page.locator('[data-pivot="0"] .grip').bounding_box()
    entry = page.locator(".nest-card").first.inner_text()
    page.mouse.move(grip["x"] + 4, grip["y"] + 4)
    page.mouse.down()
    page.mouse.move(grip["x"] + 4, grip["y"] - 8, steps=5)
    page.mouse.up()
    expect(page.locator(".nest-card").first).not_to_have_text(entry)
    page.locator('[data-nest="best"]').click()
    page.get_by_role("button", name="they become pieces").click()
    made = page.get_by_text("Cores that are pieces:")
    expect(made).to_be_visible()
    tag = made.locator("a").first.inner_text()
    go(page, f"/piece/{tag}")
    expect(page.locator("#main")).to_contain_text("core of 28")
    go(page, "/cores/28")
    page.get_by_role("button", name="take the pieces back").click()
    expect(page.get_by_role("button", name="they become pieces")).to_be_visible()
    go(page, "/piece/28")
    expect(page.locator("#main")).to_contain_text("28")


def test_reach_names_what_no_bar_gets_to(demo):
    page = demo
    open_shape(page, "27")
    page.get_by_role("button", name="Reach", exact=True).click()
    expect(page.locator('[data-figure="reached"]')).to_contain_text("%")
    page.get_by_role("button", name=re.compile("straight 16")).click()
    expect(page.locator('[data-figure="reached"]')).not_to_have_text("100 %")
    expect(page.locator(".section .bar-line").first).to_be_attached()
    expect(figure(page, "handle_mm")).to_contain_text("mm")


def test_the_reckoner_takes_a_counterweight_a_chatter_and_a_speed(demo):
    page = demo
    go(page, "/bench")
    page.get_by_text("Out of balance, measured").click()
    page.get_by_label("Weight hung on").fill("600")
    page.get_by_label("Weight hung on").press("Enter")
    expect(page.get_by_text("all three give the offset").first).to_be_visible()
    page.get_by_label("The work weighs").fill("7")
    page.get_by_label("The work weighs").press("Enter")
    page.get_by_label("That far from the axis").fill("14cm")
    page.get_by_label("That far from the axis").press("Enter")
    expect(page.locator('[data-figure="balance"]')).to_contain_text("12 mm off the axis")
    expect(page.locator(".limit-names")).to_contain_text("out of balance")
    page.get_by_text("It chatters").click()
    page.get_by_label("What happens").select_option("sudden")
    expect(page.locator('[data-figure="chatter"] li').first).to_contain_text("Stop the lathe")
    page.get_by_text("Note the speed you used").click()
    page.locator(".more[open]").get_by_label("Speed", exact=True).fill("430")
    page.get_by_label("It was").select_option("hums")
    page.get_by_role("button", name="Note it").click()
    expect(page.locator('[data-speed="430"]')).to_contain_text("it hummed")


@pytest.mark.parametrize("form", ["Bowl", "Platter", "Vase", "Bottle"])
def test_which_way_to_cut_is_shown_for_every_form(demo, form):
    page = demo
    go(page, "/bench")
    page.get_by_role("link", name="Which way to cut").click()
    page.get_by_role("button", name=form, exact=True).click()
    expect(page.locator(".which .run").first).to_be_visible()
    expect(page.locator("#main")).to_contain_text("Outside.")


def test_a_knife_is_added_in_the_shop(demo):
    page = demo
    go(page, "/shop")
    page.get_by_role("button", name="Add: coring knife").click()
    form = page.locator("form").filter(has=page.get_by_label("Reach along its arc"))
    form.get_by_label("Name", exact=True).fill("very large knife")
    form.get_by_label("Reach along its arc").fill("900")
    form.get_by_role("button", name="Keep").click()
    expect(form).to_contain_text("half its circle is")
    form.get_by_label("Reach along its arc").fill("200")
    form.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("very large knife").first).to_be_visible()

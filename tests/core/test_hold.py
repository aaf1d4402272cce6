"""Holds: what the trade would choose, what it would refuse, and sizes the jaws can take."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kilncore.rules.hold import FORMS, HoldAsk, hold_chain, holds_for, tenon_sizes
from tests.support import a_bench


def ask(moment="first", form="side-grain-bowl", **change):
    values = {"diameter_mm": 290.0, "height_mm": 115.0, "bottom_mm": 33.0, "green": True, "shrink_pct": 5.0}
    return HoldAsk(form=FORMS[form], moment=moment, **{**values, **change})


def verdicts(found):
    return {h.key: h.verdict for h in found}


# Common practice, no published source: a worm screw for a side-grain blank with a flat
# face, between centres where the axis is still to be chosen, never a screw in end grain.
@pytest.mark.parametrize(
    ("form", "best"),
    [
        ("side-grain-bowl", "worm-screw"),
        ("natural-edge-bowl", "between-centres"),
        ("end-grain-vase", "between-centres"),
    ],
)
def test_first_hold_is_what_the_trade_takes(form, best):
    size = {"diameter_mm": 140.0, "height_mm": 240.0} if "vase" in form else {}
    found = holds_for(ask(form=form, **size), bench=a_bench())
    assert found[0].key == best and found[0].verdict == "best"
    assert found[0].but is None and all(h.but for h in found if h.verdict == "possible")


@pytest.mark.parametrize(
    ("change", "key", "code"),
    [
        ({"form": "end-grain-vase", "height_mm": 240.0}, "worm-screw", "end-grain"),
        ({"punky": True}, "worm-screw", "punky"),
        ({"height_mm": 45.0, "bottom_mm": 33.0}, "worm-screw", "too-shallow"),
        ({"moment": "hollow", "form": "end-grain-vase"}, "recess", "splits-end"),
        ({"moment": "hollow", "cracked": True}, "recess", "unsound"),
        ({"moment": "hollow"}, "glue-block", "wet"),
        ({"moment": "foot", "form": "natural-edge-bowl", "rim_mm": 250.0}, "expanding-jaws", "wavy-rim"),
        ({"moment": "foot", "rim_mm": 400.0}, "expanding-jaws", "range"),
        ({"moment": "foot"}, "reversing-plate", "not-owned"),
    ],
)
def test_what_will_not_do_is_refused_with_its_reason(change, key, code):
    found = {h.key: h for h in holds_for(ask(**change), bench=a_bench())}
    assert found[key].verdict == "no" and code in [w.code for w in found[key].why]


def test_heavy_blanks_go_to_the_faceplate():
    assert holds_for(ask(diameter_mm=360.0, height_mm=180.0), bench=a_bench())[0].key == "faceplate"


def test_screws_and_pilot_end_above_the_finished_bottom():
    # Common practice, no published source: 8 mm pilot, about 35 mm deep, spacer where shallow.
    for height in (60.0, 75.0, 115.0):
        worm = next(h for h in holds_for(ask(height_mm=height), bench=a_bench()) if h.key == "worm-screw")
        sizes = {s.name: s.value for s in worm.sizes}
        assert sizes["pilot_mm"] == 8 and sizes["hole_depth_mm"] <= min(35, height - 33)
        assert sizes["hole_depth_mm"] + sizes.get("spacer_mm", 0) == pytest.approx(35, abs=0.1)


def test_bigger_bowls_get_more_screws():
    # Common practice, no published source: 4 for a small light bowl, 8 for a big one.
    def screws(diameter):
        plate = next(h for h in holds_for(ask(diameter_mm=diameter), bench=a_bench()) if h.key == "faceplate")
        return plate.sizes[1].label

    assert screws(150.0).startswith("4 ") and screws(290.0).startswith("8 ")


@given(st.floats(110, 380), st.floats(50, 200), st.booleans())
def test_a_tenon_always_fits_its_jaws_and_never_bottoms(diameter, height, green):
    bench = a_bench()
    found = tenon_sizes(ask("hollow", diameter_mm=diameter, height_mm=height, green=green), jaws=bench.jaws)
    assert found is not None
    jaw, across, length = found
    assert jaw.tenon_low_mm <= across <= jaw.tenon_high_mm and across < 0.8 * diameter
    assert 3 <= length < jaw.depth_mm


def test_the_house_way_turns_the_order_of_tenon_and_recess():
    bench = a_bench()
    recess_house = a_bench(way=type(bench.way)(second_hold="recess"))
    dry = ask("hollow", green=False)
    assert (
        holds_for(dry, bench=bench)[0].key == "tenon"
        and holds_for(dry, bench=recess_house)[0].key == "recess"
    )


def test_a_shallow_dry_piece_gets_a_glue_block():
    found = holds_for(
        ask("hollow", diameter_mm=180.0, height_mm=45.0, bottom_mm=8.0, green=False), bench=a_bench()
    )
    assert found[0].key == "glue-block"


def test_rim_plates_carry_their_rating_and_a_limit_near_their_size():
    from kilncore.bench import HoldingPlate

    bench = a_bench(plates=(HoldingPlate("two discs", "reversing-plate", 100, 320, 800),))

    def rated(rim):
        return next(
            h
            for h in holds_for(ask("foot", rim_mm=rim, green=False), bench=bench)
            if h.key == "reversing-plate"
        ).rated_rpm

    # Common practice, no published source: at its size limit no faster than 300.
    assert rated(200.0) == 800 and rated(310.0) == 300


def chain(form="side-grain-bowl", bench=None, **change):
    asks = tuple(
        ask(m, form, **{"green": m in ("first", "hollow"), "rim_mm": 255.0, **change})
        for m in ("first", "hollow", "remount", "foot")
    )
    return hold_chain(asks, bench=bench or a_bench())


def test_the_chain_uses_the_same_hold_again_after_drying():
    links = chain()
    assert [link.hold.key for link in links] == ["worm-screw", "tenon", "tenon", "expanding-jaws"]
    assert links[2].leaves.code == "trued" and "5" in str(links[2].leaves)
    assert "tenon" in str(links[3].leaves)


def test_a_recess_house_keeps_its_recess_through_drying():
    bench = a_bench(way=type(a_bench().way)(second_hold="recess"))
    links = chain(bench=bench)
    assert [link.hold.key for link in links][1:3] == ["recess", "recess"] and "base" in str(links[3].leaves)


@pytest.mark.parametrize("form", FORMS)
def test_every_form_has_an_unbroken_chain_in_a_usual_shop(form):
    size = {"diameter_mm": 140.0, "height_mm": 240.0, "rim_mm": 90.0} if form == "end-grain-vase" else {}
    links = chain(form, **size)
    assert all(link.hold and link.hold.verdict != "no" for link in links)
    assert all(str(link.leaves) for link in links)


def test_a_shop_without_jaws_has_a_broken_chain_and_says_where():
    links = chain(bench=a_bench(jaws=()))
    assert links[1].hold is None and links[1].leaves.code == "chain-broken"

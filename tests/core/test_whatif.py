"""Ways of keeping a piece side by side, and the microwave oven's plan."""

import pytest

from kilncore.drying.forecast import Lived, Weighing, forecast
from kilncore.drying.microwave import GoDone, microwave_plan
from kilncore.drying.model import Treatment
from kilncore.drying.whatif import KEEPS, Block, ways_ahead
from kilncore.errors import Impossible, OutOfRange
from tests.support import a_drying_piece

BAGGED = (Treatment(0.0, 18.0, 55.0, "paper-bag"),)


def ways(piece=None, *, now=4.0, block=None, weights=(), shelf=(18.0, 55.0)):
    found = ways_ahead(
        piece or a_drying_piece(), Lived(BAGGED, weights), now_days=now, target_mc_pct=12.0, shelf=(Treatment(0.0, *shelf),),
        oval_mm=8.0, block=block,
    )  # fmt: skip
    return {w.key: w for w in found}


def test_every_way_is_told_and_whole_only_while_it_is_a_blank():
    assert set(ways()) == set(KEEPS) - {"whole"}
    assert "whole" in ways(block=Block(280, 120, 300), now=0.0)


def test_ways_stand_in_the_order_the_trade_knows():
    """Common practice, no published source: box, shelf, bag, sealed from quick to slow; and the
    quicker the nearer to a check."""
    w = ways()
    days = [w[k].ready_in_days.middle for k in ("box", "shelf", "bag", "sealed")]
    assert days == sorted(days)
    risks = [w[k].risk for k in ("box", "shelf", "bag", "sealed")]
    assert risks == sorted(risks, reverse=True)
    assert w["box"].risk_level == "stop" and w["sealed"].risk_level == "ok"


def test_plastic_then_shelf_is_taken_out_in_time_and_says_when():
    plastic = ways()["plastic"]
    into, out = plastic.steps
    assert into.wrap == "plastic-loose" and out.wrap == "open-shelf" and out.in_days >= 1.0
    assert plastic.mould > ways()["bag"].mould


def test_as_it_lies_agrees_with_the_forecast():
    weights = (Weighing(1.0, 1980.0), Weighing(4.0, 1900.0))
    found = ways(weights=weights)["as-it-is"].ready_in_days.middle + 4.0
    own = forecast(a_drying_piece(), BAGGED, weights, now_days=4.0, target_mc_pct=12.0).ready_days.middle
    assert found == pytest.approx(own, rel=0.08)  # 64 draws against 256


def test_damp_air_never_gets_there_and_says_so():
    damp = ways(shelf=(12.0, 80.0))["shelf"]
    assert damp.ready_in_days.middle is None and damp.never_pct > 50
    assert damp.verdict.code in ("way-never", "way-moulds")


def test_the_oven_is_for_thin_work():
    thin = ways(a_drying_piece(wall_mm=6, foot_mm=8, dry_mass_g=300.0), now=1.0)["microwave"]
    assert 3 <= sum(s.kind == "microwave" for s in thin.steps) <= 25
    assert thin.ready_in_days.middle < 6.0
    thick = ways()["microwave"]
    assert thick.verdict.code == "way-many-goes"


def plan(**change):
    values = {
        "power_w": 900.0, "mc_pct": 50.0, "target_mc_pct": 11.0, "wall_mm": 6.0, "species_key": "ash-european"
    }  # fmt: skip
    mass = change.pop("mass_g", 480.0)
    return microwave_plan(mass, **{**values, **change})


@pytest.mark.parametrize(("mass", "seconds"), [(410.0, 60.0), (546.0, 60.0), (700.0, 90.0)])
def test_seconds_follow_common_practice(mass, seconds):
    """Common practice, no published source: 60 to 90 s on high; about 8-9 g in the first minute."""
    made = plan(mass_g=mass)
    assert abs(made.seconds - seconds) <= 12.0
    assert made.expected_loss_g / made.seconds * 60 == pytest.approx(9.0, abs=0.6)
    assert made.rest_min >= 30.0


def test_seconds_scale_with_the_ovens_power():
    assert plan(power_w=600.0).seconds == pytest.approx(1.5 * plan(power_w=900.0).seconds, abs=5.0)


def test_metal_is_refused_and_resin_and_pith_warned_of():
    with pytest.raises(Impossible) as refused:
        plan(metal=True)
    assert refused.value.field == "metal"
    codes = [
        c.text.code for c in plan(species_key="pine-eastern-white", holds_pith=True, wall_mm=20.0).cautions
    ]
    assert {"mw-resin", "mw-pith", "mw-thick", "mw-metal", "mw-alone"} <= set(codes)
    assert "mw-resin" not in [c.text.code for c in plan().cautions]


def test_it_stops_when_there_when_still_and_before_it_is_weighed():
    assert plan(mc_pct=10.5).why.code == "mw-there"
    still = (GoDone(60, 900, 480.0, 479.0), GoDone(60, 900, 479.0, 478.0))
    assert plan(done=still).why.code == "mw-stands-still"
    assert plan(done=(GoDone(60, 900, 480.0, None),)).why.code == "mw-weigh-first"
    going = plan(done=(GoDone(60, 900, 490.0, 481.0),))
    assert not going.stop and going.goes_left > 3


def test_too_heavy_for_an_oven():
    with pytest.raises(OutOfRange):
        plan(mass_g=9000.0)

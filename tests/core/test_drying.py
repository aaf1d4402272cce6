"""The forecast: against common practice, against simulated truth, and what it says when data are odd."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kilncore.drying.forecast import (
    Weighing,
    forecast,
    never_here,
    next_weighing_days,
    read_now,
    ready_for,
    standard_draws,
)
from kilncore.drying.from_piece import drying_piece
from kilncore.drying.model import WRAPS, Treatment, Unknowns, equivalent_wall_mm, simulate
from kilncore.drying.weighing import Expected, question_weight
from kilncore.errors import CoreError, OutOfRange, Unknown
from kilncore.wood.emc import emc_pct
from tests.support import BAG, SHELF, a_drying_piece, facts


def days_to_rest(piece, treatments, above_pct=1.0):
    """Days to within so much of where the air holds it."""
    run = simulate(piece, treatments, until_days=900.0)
    goal = (emc_pct(treatments[-1].air_c, rh_pct=treatments[-1].rh_pct) + above_pct) / 100
    return float(np.interp(-goal, -run.mean[:, 0], run.times_days))


# Common practice, no published source: months for an inch on a shelf, about a week for
# thin green work, weeks in a small warm box; denser wood slower.
@pytest.mark.parametrize(
    ("wall", "foot", "gb", "treatments", "low", "high"),
    [
        (25, 30, 0.45, SHELF, 45, 85),
        (25, 30, 0.55, SHELF, 75, 130),
        (25, 30, 0.65, SHELF, 100, 180),
        (25, 30, 0.55, BAG, 110, 180),
        (6, 9, 0.55, SHELF, 5, 13),
        (25, 30, 0.55, (Treatment(0, 40, 45, "fan-box"),), 25, 65),
    ],
)
def test_days_to_dry_are_what_turners_know(wall, foot, gb, treatments, low, high):
    assert low < days_to_rest(a_drying_piece(wall_mm=wall, foot_mm=foot, gb=gb), treatments) < high


def test_total_loss_is_a_fifth_to_a_third_and_more_of_green_weight():
    # Common practice, no published source: 20-30 % of green weight or more.
    run = simulate(a_drying_piece(), SHELF, until_days=200.0)
    green, dry = 1 + run.mean[0, 0], 1 + run.mean[-1, 0]
    assert 0.20 < 1 - dry / green < 0.45


def test_each_wrap_slows_drying_in_the_order_of_its_resistance():
    days = {
        key: days_to_rest(a_drying_piece(wall_mm=12, foot_mm=14), (Treatment(0, 18, 55, key),))
        for key in ("fan-box", "outdoors", "open-shelf", "paper-bag", "waxed", "plastic-loose")
    }
    ranked = sorted(days, key=lambda key: WRAPS[key].resistance_s_m)
    assert list(days) == ranked and list(days.values()) == sorted(days.values())


def test_check_index_warns_for_thick_walls_in_dry_air_and_not_in_a_bag():
    def worst(treatments, **sizes):
        return float(simulate(a_drying_piece(**sizes), treatments, until_days=60.0).risk.max())

    assert worst(SHELF) > 0.9 > 0.7 > worst(BAG) > worst((Treatment(0, 18, 55, "waxed"),))
    assert worst((Treatment(0, 40, 25, "fan-box"),)) > worst(SHELF) > worst(SHELF, wall_mm=6, foot_mm=8)


def test_sealed_end_grain_slows_a_vase_and_calms_it():
    vase = a_drying_piece(grain="end-grain", wall_mm=20)
    open_ends, sealed = (Treatment(0, 18, 55),), (Treatment(0, 18, 55, ends_sealed=True),)
    assert days_to_rest(vase, sealed) > days_to_rest(vase, open_ends)


def truth_and_weights(seed, days, piece, treatments, noise_g=1.5):
    """A piece as it may really be: other rate, air and dry mass than the tables say; weights off a scale."""
    chance = np.random.default_rng(seed)
    unknowns = Unknowns.from_matrix(chance.normal(size=(1, 5)) * np.array([0.4, 0.3, 0.15, 3.0, 0.15]))
    dry = piece.dry_mass_g * (1 + 0.08 * chance.normal())
    run = simulate(piece, treatments, until_days=900.0, unknowns=unknowns)
    masses = dry * (1 + run.mean_at(np.array(days))[:, 0]) + noise_g * chance.normal(size=len(days))
    return run, tuple(Weighing(d, float(m)) for d, m in zip(days, masses, strict=True))


TARGET = 12.0


def ready_of(run):
    return float(np.interp(-TARGET / 100, -run.mean[:, 0], run.times_days))


def test_span_narrows_with_weights_and_holds_the_truth_mostly():
    hit, widths = 0, {0: [], 2: [], 6: []}
    for seed in range(10):
        run, weights = truth_and_weights(seed, (1, 5, 12, 25, 40, 60), a_drying_piece(), SHELF)
        for n in widths:
            f = forecast(a_drying_piece(), SHELF, weights[:n], now_days=60.0, target_mc_pct=TARGET)
            low, high = f.ready_days.low, f.ready_days.high
            widths[n].append(np.log((high or 1160.0) / low))
        hit += low <= ready_of(run) <= (high or 1e9)
    middle = {n: np.median(w) for n, w in widths.items()}
    # Two early weights say little of the rate; six over two months say much.
    assert middle[0] > 0.97 * middle[2] and middle[0] > 1.3 * middle[6]
    assert hit >= 5  # an 80 % band: fewer than five of ten would happen once in 150 sets


def test_same_weights_give_the_same_forecast_in_any_order():
    _, weights = truth_and_weights(3, (1, 9, 30), a_drying_piece(), BAG)
    first = forecast(a_drying_piece(), BAG, weights, now_days=31.0, target_mc_pct=TARGET)
    again = forecast(a_drying_piece(), BAG, weights[::-1], now_days=31.0, target_mc_pct=TARGET)
    assert first.ready_days.middle == pytest.approx(again.ready_days.middle, rel=1e-6)


def test_a_place_too_damp_says_never_and_where_it_settles():
    damp = (Treatment(0, 15, 75, "paper-bag"),)
    f = forecast(a_drying_piece(wall_mm=8, foot_mm=9), damp, (), now_days=5.0, target_mc_pct=10.3)
    assert f.ready_days.middle is None and f.never_pct > 80
    said = never_here(f.settles_at_pct, target_mc_pct=10.3, ready=ready_for(f.targets, 10.3))
    assert said is not None and said.params["target_mc_pct"] == 10.3
    assert f.settles_at_pct == pytest.approx(emc_pct(15, rh_pct=75))


def test_weights_of_another_piece_are_called_a_contradiction():
    odd = tuple(Weighing(d, m) for d, m in ((1, 2000.0), (3, 900.0), (5, 2400.0), (8, 700.0), (12, 2200.0)))
    codes = [
        w.code for w in forecast(a_drying_piece(), SHELF, odd, now_days=12.0, target_mc_pct=TARGET).warnings
    ]
    assert "data-contradict-model" in codes or "odd-rate" in codes


def test_a_stored_curve_reads_now_and_the_week_to_come():
    f = forecast(a_drying_piece(), SHELF, (), now_days=10.0, target_mc_pct=TARGET)
    early, late = read_now(f.curve, 2.0), read_now(f.curve, 60.0)
    assert early.mc_pct > late.mc_pct and early.mass_g > late.mass_g
    assert early.loss_per_week_pct > late.loss_per_week_pct > 0
    assert late.mc_low_pct <= late.mc_pct <= late.mc_high_pct
    assert read_now(f.curve, 1e6).mc_pct == f.curve.mc_pct[-1]


def test_weighings_follow_the_loss_often_when_fast_seldom_when_slow():
    assert next_weighing_days(7.0) == 2.0 and next_weighing_days(0.1) == 21.0
    assert next_weighing_days(2.0) == pytest.approx(7.0)


def test_weights_before_drying_and_targets_nobody_wants_are_refused():
    with pytest.raises(CoreError, match="older than the drying"):
        forecast(a_drying_piece(), SHELF, (Weighing(-3.0, 1000.0),), now_days=1.0, target_mc_pct=TARGET)
    with pytest.raises(OutOfRange):
        forecast(a_drying_piece(), SHELF, (), now_days=1.0, target_mc_pct=80.0)
    with pytest.raises(Unknown, match="paper-bag"):
        Treatment(0.0, 18.0, 50.0, "sock")


def test_draws_are_spread_like_a_normal():
    draws = standard_draws(512)
    assert np.allclose(draws.mean(axis=0), 0, atol=0.05) and np.allclose(draws.std(axis=0), 1, atol=0.06)


def test_a_square_bar_dries_like_a_slab_thinner_by_root_two():
    assert equivalent_wall_mm(50, 50) == pytest.approx(50 / 2**0.5)
    assert equivalent_wall_mm(20, 2000) == pytest.approx(20, rel=1e-4)


def test_engine_piece_comes_from_volume_and_gravity():
    piece = drying_piece(facts(), diameter_mm=280, wall_mm=28, height_mm=105, bottom_mm=34)
    guessed = drying_piece(facts())
    assert piece.dry_mass_sd == 0.13 < guessed.dry_mass_sd
    assert 900 < piece.dry_mass_g < 1900 and piece.foot_mm == 34
    part_dry = drying_piece(facts(state="part-dry", way="twice-turned"))
    assert part_dry.green_mc_pct.typical < piece.green_mc_pct.typical


EXPECTED = Expected("14", 2240.0, 30.0)


@pytest.mark.parametrize(
    ("typed", "code", "meant"),
    [
        (2250.0, None, None),
        (22400.0, "extra-digit", 2240.0),
        (224.0, "missing-digit", 2240.0),
        (79.0, "ounces", 2239.6),
        (2.24, "kilograms", 2240.0),
        (4.94, "pounds", 2240.7),
        (2600.0, "rising", None),
        (1950.0, "outlier", None),
    ],
)
def test_odd_weights_are_questioned_with_what_was_probably_meant(typed, code, meant):
    asked = question_weight(typed, expected=EXPECTED, last_g=2390.0)
    assert (asked.code if asked else None) == code
    if meant:
        assert asked.meant_g == pytest.approx(meant, abs=0.5)
        assert f"{asked.meant_g:.0f}" in str(asked.sentence)


def test_swapped_tags_name_the_other_piece():
    asked = question_weight(
        1435.0,
        expected=EXPECTED,
        last_g=2390.0,
        others=(Expected("12", 1436.0, 12.0), Expected("9", 800.0, 9.0)),
    )
    assert asked.code == "swapped-tag" and asked.meant_tags == ("12",)


def test_less_than_its_wood_alone_is_questioned():
    asked = question_weight(1500.0, expected=EXPECTED, last_g=2390.0, dry_low_g=1700.0)
    assert asked.code == "below-dry"


@given(st.floats(0.1, 200_000))
@settings(max_examples=60)
def test_a_question_never_refuses_a_weight_a_scale_can_show(mass):
    asked = question_weight(mass, expected=EXPECTED)
    assert asked is None or "expected" in str(asked.sentence)


@pytest.mark.parametrize("mass", [0.0, -5.0, float("nan"), 1e9])
def test_no_scale_shows_such_a_weight(mass):
    with pytest.raises(OutOfRange):
        question_weight(mass, expected=EXPECTED)

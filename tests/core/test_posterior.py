"""The posterior against sampling done another way, and its pieces against closed forms."""

import math

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.stats import norm

from kilncore.drying import forecast as f
from kilncore.drying.forecast import Curve, Lived, Weighing, forecast, posterior, standard_draws
from kilncore.drying.model import Treatment, Unknowns, check_treatments, simulate
from kilncore.errors import CoreError
from tests.support import BAG, SHELF, a_drying_piece

DAYS = (2.0, 10.0, 30.0)


def weights_of(unknowns, dry=1250.0, ways=SHELF):
    run = simulate(
        a_drying_piece(), ways, until_days=DAYS[-1] + 1, unknowns=Unknowns.from_matrix(np.array([unknowns]))
    )
    masses = dry * (1 + run.mean_at(np.array(DAYS))[:, 0])
    return tuple(Weighing(d, float(m)) for d, m in zip(DAYS, masses, strict=True))


def prior_sampling(piece, ways, weights, count=3000):
    """Mean and spread of dry mass and ln k by brute force: draws of the prior, weighed by likelihood."""
    sd = f._prior_sd(piece)
    z = np.random.default_rng(5).normal(size=(count, 5))
    when, y = np.array([w.at_days for w in weights]), np.array([w.mass_g for w in weights])
    run = simulate(
        piece, ways, until_days=float(when.max()), unknowns=Unknowns.from_matrix(z * sd), stops=tuple(when)
    )
    mean, _, fit = f._dry_mass(piece, run.mass_at(when).T, y, f._sigma(piece, weights))
    w = np.exp(fit - fit.max())
    w /= w.sum()
    return (
        float(w @ mean),
        float(w @ (z[:, 0] * sd[0])),
        float(np.sqrt(w @ (z[:, 0] * sd[0] - w @ (z[:, 0] * sd[0])) ** 2)),
    )


@pytest.mark.parametrize(
    "unknowns", [(0.0, 0.0, 0.0, 0.0, 0.0), (0.6, -0.2, 0.1, 2.0, 0.0), (-0.5, 0.2, 0.15, -2.0, 0.1)]
)
def test_importance_sampling_agrees_with_brute_force(unknowns):
    weights = weights_of(unknowns)
    found = posterior(a_drying_piece(), Lived(SHELF, weights))
    dry, rate, spread = prior_sampling(a_drying_piece(), SHELF, weights)
    assert float(found.weights @ found.dry_mean) == pytest.approx(dry, rel=0.02)
    assert float(found.weights @ found.unknowns.ln_k) == pytest.approx(rate, abs=0.3 * spread + 0.03)


def test_a_poor_first_guess_is_mended_by_further_rounds():
    """Two narrow humps, the proposal on the wrong one: later rounds must find the right one."""
    target = np.array([2.0, 0.0, 0.0, 0.0, 0.0])

    def likely(z):
        fit = -0.5 * ((z - target) ** 2).sum(axis=1) / 0.15**2
        return np.full(len(z), 1000.0), np.full(len(z), 1.0), fit

    _, z, weights, dry, _ = f._importance(likely, np.array([-1.0, 0, 0, 0, 0]), 0.05 * np.eye(5))
    # Prior times likelihood of a Gaussian: the mean shrinks towards nought by 1 / (1 + 0.15^2).
    assert float(weights @ z[:, 0]) == pytest.approx(2.0 / (1 + 0.15**2), abs=0.1)
    assert weights.sum() == pytest.approx(1.0) and len(z) <= f.DRAWS and len(dry) == len(z)


def test_dry_mass_is_integrated_out_exactly():
    piece, x, y, sigma = (
        a_drying_piece(),
        np.array([[1.7, 1.5, 1.3]]),
        np.array([2050.0, 1830.0, 1560.0]),
        np.array([11.0, 11.0, 11.0]),
    )
    mean, var, log_like = f._dry_mass(piece, x, y, sigma)
    prior_sd = piece.dry_mass_sd * piece.dry_mass_g

    def density(w):
        return norm.pdf(w, piece.dry_mass_g, prior_sd) * np.prod(norm.pdf(y, w * x[0], sigma))

    total = quad(density, 1000, 1400, points=[1200], epsabs=0)[0]
    first = quad(lambda w: w * density(w), 1000, 1400, points=[1200], epsabs=0)[0] / total
    second = quad(lambda w: (w - first) ** 2 * density(w), 1000, 1400, points=[1200], epsabs=0)[0] / total
    assert mean[0] == pytest.approx(first, rel=1e-6) and var[0] == pytest.approx(second, rel=1e-4)
    # The likelihood is right up to a constant: compare two courses of drying.
    other = np.array([[1.8, 1.5, 1.25]])
    again = quad(
        lambda w: norm.pdf(w, piece.dry_mass_g, prior_sd) * np.prod(norm.pdf(y, w * other[0], sigma)),
        1000,
        1400,
        points=[1200],
        epsabs=0,
    )[0]
    assert f._dry_mass(piece, other, y, sigma)[2][0] - log_like[0] == pytest.approx(
        math.log(again / total), abs=1e-3
    )


def test_spans_of_even_draws_are_the_quantiles_of_their_law():
    days = np.exp(4.0 + 0.4 * standard_draws(512)[:, 0])
    span = f._span(days, np.full(512, 1 / 512))
    wide = 0.4 * math.sqrt(1 + f.KERNEL**2)
    for found, quantile in zip((span.low, span.middle, span.high), (0.1, 0.5, 0.9), strict=True):
        assert math.log(found) == pytest.approx(4.0 + wide * norm.ppf(quantile), abs=0.03)


def test_draws_that_never_get_there_push_the_far_end_out_of_sight():
    days = np.concatenate([np.full(85, 100.0), np.full(15, np.inf)])
    span = f._span(days, np.full(100, 0.01))
    assert span.low == pytest.approx(100, rel=0.01) and span.middle and span.high is None
    assert f._span(np.full(100, np.inf), np.full(100, 0.01)).low is None


def test_a_crossing_is_read_between_steps():
    times, mean = np.array([0.0, 10.0, 20.0]), np.array([[0.5, 0.5], [0.3, 0.4], [0.1, 0.35]])
    assert f._crossing(times, mean, 0.2) == pytest.approx([15.0, np.inf])


def test_a_curve_is_straight_between_entries_and_level_beyond():
    curve = Curve(
        (0.0, 10.0),
        (20.0, 10.0),
        (30.0, 20.0),
        (40.0, 30.0),
        (2000.0, 1800.0),
        (10.0, 10.0),
        (0.5, 0.1),
        (0.0, 1.0),
    )
    assert (
        curve.at(5.0, "mc_pct") == 25.0
        and curve.at(-3.0, "mass_g") == 2000.0
        and curve.at(99.0, "mass_g") == 1800.0
    )


def test_moving_from_bag_to_shelf_speeds_drying_from_that_day_on():
    moved = (*BAG, Treatment(20.0, 18.0, 55.0, "open-shelf"))
    runs = {
        name: simulate(a_drying_piece(), ways, until_days=80.0, stops=(20.0, 60.0))
        for name, ways in (("stay", BAG), ("move", moved), ("shelf", SHELF))
    }
    at = {name: run.mean_at(np.array([20.0, 60.0]))[:, 0] for name, run in runs.items()}
    assert at["stay"][0] == pytest.approx(at["move"][0], abs=1e-3)
    assert at["stay"][1] > at["move"][1] + 0.01 > at["shelf"][1]


def test_treatments_out_of_order_or_late_are_refused():
    with pytest.raises(CoreError):
        check_treatments((Treatment(5.0, 18.0, 50.0), Treatment(2.0, 18.0, 50.0)))
    with pytest.raises(CoreError):
        check_treatments(())


def test_more_weights_never_cost_the_forecast_its_honesty_about_now():
    weights = weights_of((0.2, 0.1, 0.05, 0.0, 0.0))
    none, all_three = (
        forecast(a_drying_piece(), SHELF, w, now_days=30.0, target_mc_pct=12.0) for w in ((), weights)
    )

    def width(found):
        return found.curve.at(30.0, "mc_high_pct") - found.curve.at(30.0, "mc_low_pct")

    assert width(all_three) < width(none)
    assert all_three.dry_mass_g.high - all_three.dry_mass_g.low < none.dry_mass_g.high - none.dry_mass_g.low
    assert all_three.weighings == 3 and none.effective_draws == pytest.approx(f.DRAWS)


def test_a_weight_a_day_costs_no_more_steps_and_reads_the_same(monkeypatch):
    run = simulate(a_drying_piece(), SHELF, until_days=70.0)
    days = np.arange(1.0, 61.0)
    daily = tuple(
        Weighing(float(d), 1230.0 * (1 + float(u)))
        for d, u in zip(days, run.mean_at(days)[:, 0], strict=True)
    )
    assert len(f._stops(days)) == f.STOPS and f._stops(days)[-1] == 60.0
    few = forecast(a_drying_piece(), SHELF, daily, now_days=60.0, target_mc_pct=12.0)
    monkeypatch.setattr(f, "STOPS", 1000)
    every = forecast(a_drying_piece(), SHELF, daily, now_days=60.0, target_mc_pct=12.0)
    assert few.dry_mass_g.middle == pytest.approx(every.dry_mass_g.middle, rel=0.005)
    assert few.ready_days.middle == pytest.approx(every.ready_days.middle, rel=0.02)

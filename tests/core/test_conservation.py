"""What must hold whatever is done to a piece: water is never made, wood never grows, order does not matter."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kilncore.drying.diffusion import cell_fractions
from kilncore.drying.forecast import TARGETS_PCT, Curve, Lived, forecast, level_of, read_now, ready_for
from kilncore.drying.model import (
    WRAPS,
    Go,
    Treatment,
    Turning,
    Unknowns,
    _inner,
    equivalent_wall_mm,
    simulate,
)
from kilncore.drying.whatif import ways_ahead
from kilncore.errors import OutOfRange
from kilncore.wood.meter import corrected_pct
from tests.support import SHELF, a_drying_piece

WRAP = st.sampled_from(list(WRAPS))
DAYS = st.floats(1.0, 60.0)


@settings(max_examples=25, deadline=None)
@given(
    wrap=WRAP, air=st.floats(2.0, 45.0), rh=st.floats(25.0, 92.0), day=DAYS, seconds=st.floats(20.0, 120.0)
)
def test_a_piece_never_gains_water_from_heat_or_leaves_its_bounds(wrap, air, rh, day, seconds):
    run = simulate(
        a_drying_piece(), (Treatment(0.0, air, rh, wrap),), until_days=80.0, deeds=(Go(day, 900.0, seconds),)
    )
    assert (np.diff(run.mean[:, 0]) <= 2e-3).all()  # from green wood in any of these airs it only dries
    assert (run.mean > 0.0).all() and (run.mean <= 0.7001).all()
    assert (np.diff(run.mould[:, 0]) >= -1e-12).all() and (run.risk >= 0.0).all()


@settings(max_examples=25, deadline=None)
@given(day=DAYS, wall=st.floats(5.0, 24.0), share=st.floats(0.3, 0.95))
def test_turning_keeps_the_share_of_wood_the_scale_tells(day, wall, share):
    deed = Turning(day, wall, 1.2 * wall, 1800.0, 1800.0 * share)
    run = simulate(a_drying_piece(), SHELF, until_days=90.0, deeds=(deed,))
    mass = run.mass_at(run.times_days)[:, 0]
    i = int(np.flatnonzero(np.diff(run.times_days) < 1e-5)[0])
    assert mass[i + 1] / mass[i] == pytest.approx(share, rel=1e-6)
    assert 0.2 < run.kept[-1, 0] < 1.0
    assert run.mean[i + 1, 0] >= run.mean[i, 0] - 1e-9  # the drier skin is what goes


@settings(max_examples=30, deadline=None)
@given(share=st.floats(0.1, 1.0), top=st.floats(0.2, 0.9), skin=st.floats(0.05, 0.2))
def test_the_inner_part_holds_the_water_that_lay_there(share, top, skin):
    """Against the integral of the same profile by the trapezoid on a fine grid."""
    fractions = cell_fractions()
    middle = np.cumsum(fractions) - fractions / 2
    u = (top + (skin - top) * middle**2)[:, None]

    class Walls:
        pass

    walls = Walls()
    walls.u, walls.fractions = u, fractions
    inner = _inner(walls, np.array([share]))[:, 0]
    edges = np.concatenate([[0.0], np.cumsum(fractions)])
    x = np.linspace(0.0, share, 20_001)
    cells = np.minimum(np.searchsorted(edges, x, side="right") - 1, 11)
    assert float(fractions @ inner) == pytest.approx(float(np.trapezoid(u[cells, 0], x) / share), rel=2e-3)


def test_a_whole_share_changes_nothing():
    class Walls:
        u = np.linspace(0.6, 0.1, 12)[:, None]
        fractions = cell_fractions()

    assert _inner(Walls(), np.array([1.0])) == pytest.approx(Walls.u, rel=1e-12)


def test_deeds_may_come_in_any_order():
    deeds = (Go(4.0, 900.0, 60.0), Turning(9.0, 18.0, 21.0, 1800.0, 1300.0), Go(15.0, 600.0, 45.0))
    one = simulate(a_drying_piece(), SHELF, until_days=30.0, deeds=deeds)
    two = simulate(a_drying_piece(), SHELF, until_days=30.0, deeds=deeds[::-1])
    assert one.mean == pytest.approx(two.mean) and one.kept[-1, 0] == two.kept[-1, 0]


def test_a_deed_at_the_very_end_is_done_and_one_after_it_is_not():
    done = simulate(a_drying_piece(), SHELF, until_days=10.0, deeds=(Go(10.0, 900.0, 60.0),))
    none = simulate(a_drying_piece(), SHELF, until_days=10.0, deeds=(Go(10.5, 900.0, 60.0),))
    assert done.mean[-1, 0] < none.mean[-1, 0]


def test_a_run_may_stop_once_nearly_all_are_dry_enough():
    draws = Unknowns.from_matrix(np.random.default_rng(3).normal(size=(60, 5)) * [0.3, 0.2, 0.1, 1.0, 0.1])
    whole = simulate(a_drying_piece(), SHELF, until_days=700.0, unknowns=draws)
    short = simulate(a_drying_piece(), SHELF, until_days=700.0, unknowns=draws, enough=0.14)
    assert short.times_days[-1] < whole.times_days[-1]
    assert float(np.quantile(short.mean[-1], 0.93)) <= 0.14
    n = len(short.times_days)
    assert short.mean == pytest.approx(whole.mean[:n])


@settings(max_examples=20, deadline=None)
@given(a=st.floats(2.0, 29.0), b=st.floats(2.0, 29.0))
def test_a_drier_home_is_never_reached_sooner(a, b):
    found = TABLE
    dry, damp = ready_for(found, min(a, b)), ready_for(found, max(a, b))
    assert dry.never_pct >= damp.never_pct - 1e-9
    for end in ("low", "middle", "high"):
        slow, fast = getattr(dry.days, end), getattr(damp.days, end)
        assert slow is None or (fast is not None and slow >= fast - 0.02)


TABLE = forecast(a_drying_piece(), SHELF, (), now_days=10.0, target_mc_pct=12.0).targets


def test_the_table_covers_every_home_and_ascends():
    assert TABLE.mc_pct == TARGETS_PCT and TARGETS_PCT[0] <= 3.0 and TARGETS_PCT[-1] >= 29.0
    assert list(TARGETS_PCT) == sorted(set(TARGETS_PCT))


def test_levels_and_a_dose_that_is_past():
    assert [level_of(v, (0.7, 1.0)) for v in (0.1, 0.7, 0.99, 1.0)] == ["ok", "care", "care", "stop"]
    flat = Curve((0.0, 100.0), (20, 10), (25, 12), (30, 14), (1500, 1300), (9, 9), (0.1, 0.1), (6.0, 6.1))
    growing = Curve((0.0, 40.0), (50, 45), (60, 55), (70, 65), (1900, 1850), (9, 9), (0.1, 0.1), (5.0, 9.0))
    assert read_now(flat, 10.0).mould_level == "ok"  # it stood damp once; its skin is dry now
    assert read_now(growing, 20.0).mould_level == "stop"


def test_ways_leave_what_was_lived_as_it_was():
    """The past is the same in every way: at once the moisture is what the posterior says."""
    lived = Lived((Treatment(0.0, 18.0, 55.0, "paper-bag"),))
    ways = ways_ahead(
        a_drying_piece(), lived, now_days=30.0, target_mc_pct=12.0, shelf=(Treatment(0.0, 18.0, 55.0),)
    )
    by = {w.key: w for w in ways}
    assert by["as-it-is"].steps == () and by["bag"].steps[0].wrap == "paper-bag"
    assert all(w.ready_in_days.low is None or w.ready_in_days.low > 0 for w in ways)
    assert by["shelf"].settled_in_days.middle < by["sealed"].settled_in_days.middle


@settings(max_examples=30, deadline=None)
@given(w=st.floats(20, 300), h=st.floats(20, 300), long=st.floats(50, 1000))
def test_a_block_dries_like_a_slab_thinner_than_its_least_side(w, h, long):
    bar = equivalent_wall_mm(w, h)
    sealed, bare = (equivalent_wall_mm(w, h, length_mm=long, ends_sealed=s) for s in (True, False))
    assert bare < sealed < bar < min(w, h)


def test_meters_read_high_in_warm_wood_and_follow_their_sheet():
    """The direction is common practice, no published source; its size is from memory."""
    assert corrected_pct(18.0) == 18.0
    assert corrected_pct(18.0, wood_c=30.0) < 18.0 < corrected_pct(18.0, wood_c=5.0)
    assert corrected_pct(18.0, wood_adds_pct=1.5) == pytest.approx(19.5)
    assert corrected_pct(1.0, wood_adds_pct=-15.0) == 1.0
    for bad in ({"shown_pct": 0.2}, {"shown_pct": 400.0}):
        with pytest.raises(OutOfRange):
            corrected_pct(**bad)
    with pytest.raises(OutOfRange):
        corrected_pct(18.0, wood_c=90.0)

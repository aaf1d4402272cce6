"""The solver against Crank's series, an independent integrator, and its own conservation."""

import itertools
import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from kilncore.drying.diffusion import (
    AirSurface,
    Columns,
    Diffusivity,
    cell_fractions,
    diffusivity_of_wood,
    saturation_vapour_kg_m3,
    step_columns,
    time_steps,
)
from kilncore.errors import OutOfRange
from kilncore.wood.emc import Isotherm
from tests.support import reference

HALF_M, D, RHO = 0.0125, 2e-10, 550.0


class HeldSurface:
    """Test surface: the face is held at a moisture (Crank ch. 4.3)."""

    def __init__(self, columns, u_face):
        self.u_face = u_face
        self.half_cell = columns.widths_m[-1] / 2
        self.equilibrium = np.full_like(columns.half_m, u_face)

    def flux_and_slope(self, u_last, theta, d):
        k = RHO * D / self.half_cell
        return k * (u_last - self.u_face), k * np.ones_like(u_last)


class EvaporatingSurface(HeldSurface):
    """Test surface: flux in proportion to what the face is above equilibrium (Crank ch. 4.3.6)."""

    def __init__(self, columns, u_rest, alpha):
        super().__init__(columns, u_rest)
        self.k = RHO / (1 / alpha + self.half_cell / D)

    def flux_and_slope(self, u_last, theta, d):
        return self.k * (u_last - self.u_face), self.k * np.ones_like(u_last)


def columns(cells=12, u0=0.28):
    constant = Diffusivity(np.array([D]), np.array([0.0]))
    return Columns(
        np.array([HALF_M]), np.array([RHO]), constant, np.full((cells, 1), u0), cell_fractions(cells)
    )


def run(cols, surface, days):
    for before, after in zip([0.0, *days[:-1]], days, strict=True):
        step_columns(cols, surface, after - before)
    return float(cols.mean()[0])


def crank_held(t_s):
    n = np.arange(200)
    q = (2 * n + 1) * math.pi / 2
    return float((2 / q**2 * np.exp(-(q**2) * D * t_s / HALF_M**2)).sum())


def crank_evaporating(t_s, biot):
    total = 0.0
    for i in range(60):
        b = brentq(lambda x: x * math.tan(x) - biot, i * math.pi + 1e-9, i * math.pi + math.pi / 2 - 1e-9)
        total += 2 * biot**2 * math.exp(-(b**2) * D * t_s / HALF_M**2) / (b**2 * (b**2 + biot**2 + biot))
    return total


@pytest.mark.parametrize("share_of_time", [0.05, 0.2, 0.5, 1.0])
def test_held_face_follows_cranks_series(share_of_time):
    end = share_of_time * HALF_M**2 / D / 86400
    cols = columns()
    found = run(cols, HeldSurface(cols, 0.10), list(np.linspace(0, 1, 101)[1:] ** 2 * end))
    assert (found - 0.10) / 0.18 == pytest.approx(crank_held(end * 86400), abs=3e-3)


@pytest.mark.parametrize("biot", [0.3, 2.0, 10.0])
@pytest.mark.parametrize("share_of_time", [0.1, 0.6])
def test_evaporating_face_follows_cranks_series(biot, share_of_time):
    end = share_of_time * HALF_M**2 / D / 86400
    cols = columns()
    found = run(
        cols, EvaporatingSurface(cols, 0.10, biot * D / HALF_M), list(np.linspace(0, 1, 101)[1:] ** 2 * end)
    )
    assert (found - 0.10) / 0.18 == pytest.approx(crank_evaporating(end * 86400, biot), abs=3e-3)


def wood_columns(cells=12, gb=0.55, u0=0.70):
    d = diffusivity_of_wood(gb, air_c=18.0, k=np.ones(1), chi=np.ones(1), tail=np.zeros(1))
    return Columns(
        np.array([HALF_M]), np.array([1000 * gb]), d, np.full((cells, 1), u0), cell_fractions(cells)
    )


def air(cols, rh=0.55):
    return AirSurface(cols, air_c=18.0, rh=np.array([rh]), resistance_s_m=np.array([2000.0]))


def test_water_lost_is_water_gone_to_rounding():
    cols = wood_columns()
    surface, before, lost = air(cols), float(cols.mean()[0]), 0.0
    for a, b in zip(steps := [0.0, *time_steps(0.0, 90.0)], steps[1:], strict=False):
        lost += float(step_columns(cols, surface, b - a)[0])
    assert lost == pytest.approx((before - float(cols.mean()[0])) * HALF_M * 550.0, rel=1e-9)


def ready_day(cells, step_share):
    cols = wood_columns(cells)
    surface, target, now, before = air(cols), 0.115, 0.0, 0.70
    while now < 400:
        step = min(1.5, max(0.002, step_share * max(now, 0.05)))
        step_columns(cols, surface, step)
        now, mean = now + step, float(cols.mean()[0])
        if mean <= target:
            return now - step * (target - mean) / (before - mean)
        before = mean
    raise AssertionError("never ready")


def test_grid_and_steps_have_converged_within_one_percent():
    assert ready_day(12, 0.08) == pytest.approx(ready_day(48, 0.01), rel=0.01)


def test_nonlinear_drying_agrees_with_an_independent_integrator():
    """The same equation by the method of lines on an even fine grid, integrated by SciPy's BDF."""
    n, target, rh, resistance = 160, 0.115, 0.55, 2000.0
    law = diffusivity_of_wood(0.55, air_c=18.0, k=np.ones(1), chi=np.ones(1), tail=np.zeros(1))
    dx, vapour = HALF_M / n, float(saturation_vapour_kg_m3(18.0))
    activities = np.linspace(0.0, 1.0, 4001)
    theta_of_face, _ = law.integral(Isotherm(18.0).moisture(activities)[:, None])

    def rate(_t, u):
        theta = law.integral(u[:, None])[0][:, 0]
        balance = theta[-1] - theta_of_face[:, 0] - vapour * (activities - rh) / resistance * dx / 2 / 550.0
        a = float(np.interp(0.0, -balance, activities)) if balance[-1] < 0 else 1.0
        flow = np.empty(n + 1)
        flow[0], flow[1:-1] = 0.0, (theta[:-1] - theta[1:]) / dx
        flow[-1] = vapour * (a - rh) / resistance / 550.0
        return -np.diff(flow) / dx

    dry = lambda _t, u: u.mean() - target  # noqa: E731
    dry.terminal = True
    band = (1, 1)
    done = solve_ivp(rate, (0, 400 * 86400), np.full(n, 0.70), method="LSODA", events=dry, rtol=1e-6, atol=1e-8,
                     lband=band[0], uband=band[1])  # fmt: skip
    assert ready_day(12, 0.08) == pytest.approx(done.t_events[0][0] / 86400, rel=0.005)


@pytest.mark.parametrize("row", reference("vapour.csv"), ids=lambda r: f"steam-{r['air_c']}C")
def test_saturated_vapour_follows_the_steam_table(row):
    assert float(saturation_vapour_kg_m3(float(row["air_c"]))) * 1000 == pytest.approx(
        float(row["g_m3"]), rel=0.01
    )


def test_moisture_never_leaves_the_range_between_start_and_rest():
    cols = wood_columns(u0=1.1)
    surface = air(cols, rh=0.30)
    for _ in range(40):
        step_columns(cols, surface, 4.0)  # far too long a step
        assert float(surface.equilibrium[0]) - 2e-4 <= cols.u.min() and cols.u.max() <= 1.1 + 1e-4


def test_damp_air_wets_dry_wood():
    cols = wood_columns(u0=0.06)
    surface = air(cols, rh=0.80)
    for _ in range(50):
        step_columns(cols, surface, 1.0)
    assert 0.06 < float(cols.mean()[0]) < float(surface.equilibrium[0]) + 1e-4


def test_few_and_many_columns_are_solved_alike():
    one, many = wood_columns(), wood_columns()
    many.half_m, many.rho = np.full(100, HALF_M), np.full(100, 550.0)
    many.u = np.repeat(one.u, 100, axis=1)
    step_columns(one, air(one), 3.0)
    step_columns(
        many, AirSurface(many, air_c=18.0, rh=np.full(100, 0.55), resistance_s_m=np.full(100, 2000.0)), 3.0
    )
    assert np.allclose(many.u[:, 37], one.u[:, 0], atol=1e-12)


def test_frozen_wood_is_refused():
    with pytest.raises(OutOfRange, match="Frozen"):
        diffusivity_of_wood(0.5, air_c=-20.0, k=np.ones(1), chi=np.ones(1), tail=np.zeros(1))


def test_steps_hit_every_stop_and_the_end():
    ends = time_steps(3.0, 200.0, stops=(10.0, 66.6, 300.0))
    assert 10.0 in ends and 66.6 in ends and ends[-1] == 200.0 and 300.0 not in ends
    assert all(b > a for a, b in itertools.pairwise(ends))

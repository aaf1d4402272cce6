"""How moisture moves through a wall: many columns of wood at once.

A column is half a wall, from its middle (no flow) to its surface. Its moisture ``u``
is kg of water per kg of dry wood. Diffusivity rises tenfold with moisture, so flow
between cells uses the integral of D (Kirchhoff), never an average of D.
"""

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.lapack import dgtsv

from kilncore.errors import require_range
from kilncore.wood.emc import Isotherm

__all__ = [
    "CELLS",
    "FIRST_DAYS",
    "FSP",
    "SECONDS_PER_DAY",
    "AirSurface",
    "Columns",
    "Diffusivity",
    "Surface",
    "cell_fractions",
    "diffusivity_of_wood",
    "saturation_vapour_kg_m3",
    "step_columns",
    "time_steps",
]

Array = NDArray[np.float64]

CELLS = 12
FSP = 0.30
FEW_COLUMNS = 64
# Newton squares its error: after a change this small the next would be under 1e-6.
CLOSE = 3e-4
GAMMA = 1.0 - 1.0 / math.sqrt(2.0)
SECONDS_PER_DAY = 86400.0

# Steps begin small after a change and grow; a ready date moves by 0.1 % against steps
# a tenth as long, which the tests hold it to.
FIRST_DAYS, GROWTH = 0.02, 1.4
DAYS_AT_LEAST, SHARE_OF_AGE = 1.0, 0.1
GAS_CONSTANT = 8.314462618
VAPOUR_CONSTANT = 461.5

# Bound-water diffusion, D0 exp(-(Ea - Eb u)/RT); calibrated to common practice [siau, assumed].
D0_M2_S = 7e-6
EA_J_MOL = 38_500.0
EB_J_MOL = 29_000.0
C_TRANSVERSE = 0.42


@dataclass(frozen=True, slots=True)
class Diffusivity:
    """The law D(u) = a exp(b min(u, FSP)), one a and b a column, in m2/s."""

    a: Array
    b: Array

    def at(self, u: Array) -> Array:
        """Return D at moisture u."""
        return self.a * np.exp(self.b * np.minimum(u, FSP))

    def integral(self, u: Array) -> tuple[Array, Array]:
        """Return the integral of D from 0 to u, and D itself."""
        bound = np.minimum(u, FSP)
        d = self.a * np.exp(self.b * bound)
        flat = np.abs(self.b) < 1e-9
        below = np.where(flat, self.a * bound, (d - self.a) / np.where(flat, 1.0, self.b))
        return below + d * (u - bound), d


class Surface(Protocol):
    """What leaves through the surface, given the moisture of the outermost cell."""

    def flux_and_slope(self, u_last: Array, theta: Array, d: Array) -> tuple[Array, Array]:
        """Return flux outwards [kg/m2/s] and its derivative by u_last."""
        ...


@dataclass(slots=True)
class Columns:
    """A batch of half walls.

    half_m (B,), rho (B,) dry mass over green volume in kg/m3, d over B columns,
    u (CELLS, B), fractions (CELLS,) of the half wall from the middle outwards.
    """

    half_m: Array
    rho: Array
    d: Diffusivity
    u: Array
    fractions: Array

    @property
    def widths_m(self) -> Array:
        """Cell widths (CELLS, B). [m]."""
        return self.fractions[:, None] * self.half_m[None, :]

    def mean(self) -> Array:
        """Mean moisture of each column (B,)."""
        return np.asarray(self.fractions @ self.u)


def cell_fractions(cells: int = CELLS, ratio: float = 0.92) -> Array:
    """Return cell widths as shares of the half wall, finer towards the surface."""
    widths = ratio ** np.arange(cells)
    return np.asarray(widths / widths.sum())


def saturation_vapour_kg_m3(air_c: float | Array) -> Array:
    """Return the density of saturated water vapour.

    Parameters
    ----------
    air_c : float or array
        Air temperature. [°C]

    Returns
    -------
    vapour_kg_m3 : array
        Mass of vapour over volume of air. [kg/m3]

    References
    ----------
    .. [assumed] Magnus form of the saturation pressure and the ideal gas.
    """
    t = np.asarray(air_c, dtype=float)
    pressure_pa = 610.94 * np.exp(17.625 * t / (t + 243.04))
    return np.asarray(pressure_pa / (VAPOUR_CONSTANT * (t + 273.15)))


def diffusivity_of_wood(gb: float, *, air_c: float, k: Array, chi: Array, tail: Array) -> Diffusivity:
    """Return D(u) across the grain for wood of a basic gravity.

    Parameters
    ----------
    gb : float
        Basic specific gravity.
    air_c : float
        Wood and air temperature. [°C]
    k, chi, tail : array (B,)
        Calibration factor, share along the grain, slope of ln D in the dry range.

    Returns
    -------
    diffusivity : Diffusivity
        In m2/s.

    Raises
    ------
    OutOfRange
        Outside gb 0.2 to 0.95 or -5 to 80 °C.

    References
    ----------
    .. [siau] porosity factor 1 / ((1 - a^2)(1 - a)).
    """
    require_range("gb", gb, 0.2, 0.95)
    require_range("air_c", air_c, -5.0, 80.0, "Frozen or steamed wood dries by other rules.")
    pore = math.sqrt(1.0 - gb / 1.5)
    g = 1.0 / ((1.0 - pore**2) * (1.0 - pore))
    rt = GAS_CONSTANT * (air_c + 273.15)
    a = C_TRANSVERSE * g * D0_M2_S * math.exp(-EA_J_MOL / rt) * k * chi * np.exp(-2.0 * tail)
    return Diffusivity(np.asarray(a), np.asarray(EB_J_MOL / rt + tail / 0.15))


class AirSurface:
    """A wood surface in moving air, through a wrapping if there is one.

    Between the outermost cell and the air stand half a cell of wood and a vapour
    resistance. For each column the flux is tabled over the surface's water activity
    once a treatment, and read by the outermost cell's integral of D.
    """

    NODES = np.concatenate([np.linspace(0.0, 0.9, 46), np.linspace(0.91, 1.0, 10)])

    def __init__(self, columns: Columns, *, air_c: float, rh: Array, resistance_s_m: Array) -> None:
        iso = Isotherm(air_c)
        self.equilibrium = iso.moisture(rh)
        self.rh = rh
        self.per_flux = resistance_s_m / saturation_vapour_kg_m3(air_c)
        a = self.NODES[:, None]
        flux = saturation_vapour_kg_m3(air_c) * (a - rh[None, :]) / resistance_s_m[None, :]
        theta, _ = columns.d.integral(np.broadcast_to(iso.moisture(a), flux.shape))
        half_cell = columns.widths_m[-1] / 2.0
        self.flux = flux
        self.theta = theta + flux * half_cell / columns.rho
        self.index = np.arange(flux.shape[1])

    def activity(self, flux: Array) -> Array:
        """Return the water activity at the face: the air's and what a flux [kg/m2/s] holds above it."""
        return np.asarray(np.clip(self.rh + flux * self.per_flux, 0.0, 1.0))

    def flux_and_slope(self, u_last: Array, theta: Array, d: Array) -> tuple[Array, Array]:
        """Return flux outwards [kg/m2/s] and its derivative by u_last."""
        top = len(self.NODES) - 1
        above = np.clip((self.theta <= theta).sum(axis=0), 1, top)
        t0, t1 = self.theta[above - 1, self.index], self.theta[above, self.index]
        j0, j1 = self.flux[above - 1, self.index], self.flux[above, self.index]
        slope = (j1 - j0) / (t1 - t0)
        wet = theta >= self.theta[top]
        flux = np.where(wet, self.flux[top], j0 + slope * (theta - t0))
        return flux, np.where(wet, 0.0, slope * d)


def _solve(lower: Array, diagonal: Array, upper: Array, right: Array) -> Array:
    """Thomas algorithm over the first axis for every column at once."""
    n, count = right.shape
    if count <= FEW_COLUMNS:
        return _solve_few(lower, diagonal, upper, right)
    c = np.empty_like(right)
    d = np.empty_like(right)
    c[0] = upper[0] / diagonal[0]
    d[0] = right[0] / diagonal[0]
    for i in range(1, n):
        m = 1.0 / (diagonal[i] - lower[i] * c[i - 1])
        c[i] = upper[i] * m
        d[i] = (right[i] - lower[i] * d[i - 1]) * m
    for i in range(n - 2, -1, -1):
        d[i] -= c[i] * d[i + 1]
    return d


def _solve_few(lower: Array, diagonal: Array, upper: Array, right: Array) -> Array:
    """The same for a few columns: stood end to end, uncoupled, and given to LAPACK at once."""
    cells, count = right.shape
    solved: Array = dgtsv(
        lower.T.ravel()[1:], diagonal.T.ravel(), upper.T.ravel()[:-1], right.T.ravel(), 1, 1, 1, 1
    )[3]
    return solved.reshape(count, cells).T


def _implicit(
    columns: Columns, surface: Surface, base: Array, guess: Array, dt_s: float, rounds: int = 3
) -> tuple[Array, Array]:
    """Solve u = base + dt f(u) by Newton; return u and the flux that went out.

    The flux returned is the linear one of the last round, so water lost equals
    flux times time to rounding, whatever Newton left over.
    """
    dx = columns.widths_m
    conduct = 2.0 / (dx[1:] + dx[:-1])
    u = guess
    scale = dt_s / dx
    into, out_of = scale[1:] * conduct, scale[:-1] * conduct
    lower, upper = np.zeros_like(u), np.zeros_like(u)
    flux = np.zeros(u.shape[1])
    for _ in range(rounds):
        theta, d = columns.d.integral(u)
        out, slope = surface.flux_and_slope(u[-1], theta[-1], d[-1])
        step = theta[:-1] - theta[1:]
        residual = base - u
        residual[1:] += into * step
        residual[:-1] -= out_of * step
        residual[-1] -= scale[-1] * out / columns.rho
        np.multiply(into, -d[:-1], out=lower[1:])
        np.multiply(out_of, -d[1:], out=upper[:-1])
        diagonal = np.ones_like(u)
        diagonal[:-1] += out_of * d[:-1]
        diagonal[1:] += into * d[1:]
        diagonal[-1] += scale[-1] * slope / columns.rho
        delta = _solve(lower, diagonal, upper, residual)
        u = u + delta
        flux = out + slope * delta[-1]
        if max(float(delta.max()), -float(delta.min())) < CLOSE:
            break
    return u, flux


def step_columns(columns: Columns, surface: Surface, dt_days: float) -> Array:
    """Advance every column by one step in place (SDIRK2, second order, L-stable).

    Parameters
    ----------
    columns : Columns
        Its ``u`` is replaced.
    surface : Surface
        Law at the outer face.
    dt_days : float
        Step. [d]

    Returns
    -------
    lost : array (B,)
        Water gone through the surface, kg/m2.

    References
    ----------
    .. [crank] ch. 8 for the finite-volume form.
    """
    dt = dt_days * SECONDS_PER_DAY
    u = columns.u
    first, j1 = _implicit(columns, surface, u, u, GAMMA * dt)
    base = u + (1.0 - GAMMA) / GAMMA * (first - u)
    ahead = u + (first - u) / GAMMA
    second, j2 = _implicit(columns, surface, base, ahead, GAMMA * dt)
    lost = dt * ((1.0 - GAMMA) * j1 + GAMMA * j2)
    bad = _overshoots(u, second, surface)
    if bad.any():  # first order never overshoots; used only where second order did
        plain, flux = _implicit(columns, surface, u, first, dt, rounds=6)
        second = np.where(bad, plain, second)
        lost = np.where(bad, dt * flux, lost)
    columns.u = second
    return np.asarray(lost)


def _overshoots(before: Array, after: Array, surface: Surface) -> Array:
    rest = getattr(surface, "equilibrium", before.min(axis=0))
    low = np.minimum(before.min(axis=0), rest) - 1e-4
    high = np.maximum(before.max(axis=0), rest) + 1e-4
    return np.asarray(((after < low) | (after > high)).any(axis=0))


def time_steps(
    start_days: float, end_days: float, *, stops: tuple[float, ...] = (), first_days: float = FIRST_DAYS
) -> list[float]:
    """Return step ends from start to end, growing, hitting every stop.

    Parameters
    ----------
    start_days, end_days : float
        Span of one unchanged treatment. [d]
    stops : tuple of float
        Moments that must be hit (weighings). [d]
    first_days : float
        First step after a change. [d]

    Returns
    -------
    ends : list of float
        Step ends, ascending, the last equal to ``end_days``. [d]
    """
    marks = sorted({s for s in stops if start_days < s < end_days} | {end_days})
    ends: list[float] = []
    now, step = start_days, first_days
    for mark in marks:
        while now < mark - 1e-9:
            limit = max(DAYS_AT_LEAST, SHARE_OF_AGE * (now - start_days))
            take = min(step, limit)
            left = mark - now
            if take >= left:
                now = mark
            elif take > left / 2.0:
                now += left / 2.0
            else:
                now += take
            ends.append(now)
            step = min(step * GROWTH, limit * GROWTH)
    return ends

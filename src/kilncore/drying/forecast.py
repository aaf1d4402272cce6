"""When will this piece be ready, how wet is it now, and what should it weigh next.

The engine's unknowns have priors; weighings turn them into a posterior by a
Gauss-Newton fit, a Laplace proposal around it and importance weights, with the
oven-dry mass integrated out in closed form. Deterministic: the draws are a fixed
low-discrepancy set.
"""

import math
from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import log_ndtr, ndtr, ndtri

from kilncore.drying.model import Deed, DryingPiece, Run, Treatment, Unknowns, simulate
from kilncore.errors import CoreError, require_range
from kilncore.said import Sentence, say
from kilncore.wood.emc import emc_pct

__all__ = [
    "Curve",
    "Forecast",
    "Lived",
    "MeterReading",
    "Now",
    "Posterior",
    "Ready",
    "Span",
    "Targets",
    "Weighing",
    "forecast",
    "level_of",
    "never_here",
    "next_weighing_days",
    "posterior",
    "read_now",
    "ready_for",
    "standard_draws",
]

Array = NDArray[np.float64]

# Prior standard deviations of ln k, ln R, (ln green moisture: from the species), RH %, tail.
PRIOR_SD = (0.5, 0.35, 0.22, 3.8, 0.2)
SCALE_SD_G = 1.5
DISCREPANCY = 0.009
DRAWS = 256
# Rounds of drawing at most, and the share of draws that must count for the last to do.
ROUNDS = 3
ENOUGH = 0.35
KERNEL = 0.2
STOPS = 12
HORIZON_DAYS = 1100.0
# Amber and red of the check index and of the mould dose (assumed).
RISK_LEVELS = (0.7, 1.0)
MOULD_LEVELS = (4.0, 8.0)
# A dose that hardly grows any more is past: the skin has dried.
MOULD_GROWS = 0.3
AHEAD_DAYS, MOULD_AHEAD_DAYS = 14.0, 21.0
# Pin meters: sure to 2 below 28 %, above it only "wetter than 26" (assumed).
METER_SD_PCT, METER_TOP_PCT, METER_ABOVE_PCT = 2.0, 28.0, 26.0
TARGETS_PCT = (*(2.0 + 0.5 * i for i in range(27)), *(16.0 + i for i in range(15)))
YEAR_DAYS = 365.0


@dataclass(frozen=True, slots=True)
class Weighing:
    """One accepted weight: days since drying began, grams, extra scale noise."""

    at_days: float
    mass_g: float
    scale_sd_g: float = SCALE_SD_G


@dataclass(frozen=True, slots=True)
class MeterReading:
    """One reading of a moisture meter, species corrected: days since drying began, percent."""

    at_days: float
    mc_pct: float

    def __post_init__(self) -> None:
        require_range("mc_pct", self.mc_pct, 1.0, 120.0, "A meter shows 5 to 60 % or so.")


@dataclass(frozen=True, slots=True)
class Lived:
    """What a piece has been through: places, weights, meter readings, deeds."""

    treatments: tuple[Treatment, ...]
    weighings: tuple[Weighing, ...] = ()
    meter: tuple[MeterReading, ...] = ()
    deeds: tuple[Deed, ...] = ()


@dataclass(frozen=True, slots=True)
class Span:
    """10, 50 and 90 % of what may be; None where it never comes within the horizon."""

    low: float | None
    middle: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Curve:
    """The course of drying, one entry a moment; ``mc_*`` are 10, 50 and 90 %."""

    days: tuple[float, ...]
    mc_low_pct: tuple[float, ...]
    mc_pct: tuple[float, ...]
    mc_high_pct: tuple[float, ...]
    mass_g: tuple[float, ...]
    mass_sd_g: tuple[float, ...]
    risk: tuple[float, ...]
    mould: tuple[float, ...]

    def at(self, day: float, name: str) -> float:
        """Read one column at a moment, straight between entries, level beyond the end."""
        values: tuple[float, ...] = getattr(self, name)
        i = bisect_right(self.days, day)
        if i == 0 or i == len(self.days):
            return values[min(i, len(values) - 1)]
        d0, d1 = self.days[i - 1], self.days[i]
        return values[i - 1] + (values[i] - values[i - 1]) * (day - d0) / (d1 - d0)


@dataclass(frozen=True, slots=True)
class Now:
    """What a stored forecast says at a moment."""

    mc_low_pct: float
    mc_pct: float
    mc_high_pct: float
    mass_g: float
    mass_sd_g: float
    risk: float
    risk_peak: float
    risk_level: str
    mould: float
    mould_ahead: float
    mould_level: str
    loss_per_week_pct: float


def level_of(value: float, levels: tuple[float, float]) -> str:
    """Return ok, care or stop for a value against its amber and red."""
    return "stop" if value >= levels[1] else "care" if value >= levels[0] else "ok"


def read_now(curve: Curve, day: float) -> Now:
    """Return moisture, weight and risk at a moment, and the loss of the week to come.

    Parameters
    ----------
    curve : Curve
        From a forecast, fresh or stored.
    day : float
        Days since drying began. [d]

    Returns
    -------
    now : Now
        Read off the curve, nothing computed anew.
    """
    mass = curve.at(day, "mass_g")
    ahead = [r for d, r in zip(curve.days, curve.risk, strict=True) if day <= d <= day + AHEAD_DAYS]
    risk = curve.at(day, "risk")
    peak = max([risk, *ahead])
    mould, dose = curve.at(day + MOULD_AHEAD_DAYS, "mould"), curve.at(day, "mould")
    return Now(
        mc_low_pct=round(curve.at(day, "mc_low_pct"), 2),
        mc_pct=round(curve.at(day, "mc_pct"), 2),
        mc_high_pct=round(curve.at(day, "mc_high_pct"), 2),
        mass_g=round(mass, 1),
        mass_sd_g=round(curve.at(day, "mass_sd_g"), 1),
        risk=round(risk, 2),
        risk_peak=round(peak, 2),
        risk_level=level_of(peak, RISK_LEVELS),
        mould=round(dose, 2),
        mould_ahead=round(mould, 2),
        mould_level=level_of(mould, MOULD_LEVELS) if mould - dose >= MOULD_GROWS else "ok",
        loss_per_week_pct=round(100.0 * (mass - curve.at(day + 7.0, "mass_g")) / mass, 3),
    )


def next_weighing_days(loss_per_week_pct: float) -> float:
    """Return how long until the next weighing teaches something.

    Parameters
    ----------
    loss_per_week_pct : float
        Expected loss of weight. [%/week]

    Returns
    -------
    wait_days : float
        Time to lose 2 %, never under 2 or over 21 days. [d]

    References
    ----------
    .. [assumed] often when fast, seldom when slow.
    """
    return min(max(2.0 / max(loss_per_week_pct, 0.01) * 7.0, 2.0), 21.0)


@dataclass(frozen=True, slots=True)
class Targets:
    """When each of many moistures is reached, 10, 50 and 90 %; None where it never comes.

    So that another home asks for no new forecast, only for another line of this.
    """

    mc_pct: tuple[float, ...]
    low: tuple[float | None, ...]
    middle: tuple[float | None, ...]
    high: tuple[float | None, ...]
    never_pct: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Ready:
    """When one moisture is reached, and the chance that it never is."""

    days: Span
    never_pct: float


def ready_for(targets: Targets, target_mc_pct: float) -> Ready:
    """Return when a moisture is reached, between the lines of the table.

    Parameters
    ----------
    targets : Targets
        From a forecast, fresh or stored.
    target_mc_pct : float
        Moisture wanted. [%]

    Returns
    -------
    ready : Ready
        Interpolated on the scale of ratios.

    Raises
    ------
    OutOfRange
        For a target the table does not hold.
    """
    require_range("target_mc_pct", target_mc_pct, targets.mc_pct[0], targets.mc_pct[-1])
    i = min(bisect_right(targets.mc_pct, target_mc_pct), len(targets.mc_pct) - 1)
    a, b = targets.mc_pct[i - 1], targets.mc_pct[i]
    part = (target_mc_pct - a) / (b - a)

    def between(name: str) -> float | None:
        dry, damp = getattr(targets, name)[i - 1], getattr(targets, name)[i]
        if damp is None or (dry is None and part < 1.0 - 1e-9):
            return None  # honest: the drier line is never reached, so neither may this be
        return float(damp) if dry is None else math.exp((1 - part) * math.log(dry) + part * math.log(damp))

    never = (1.0 - part) * targets.never_pct[i - 1] + part * targets.never_pct[i]
    return Ready(Span(between("low"), between("middle"), between("high")), round(never, 1))


@dataclass(frozen=True, slots=True)
class Forecast:
    """What the wood will do, with its spread.

    Times are days since drying began. ``settled_days``: within 1 % of where this
    place lets it settle. Nothing in it depends on the moment it is read.
    """

    ready_days: Span
    settled_days: Span
    never_pct: float
    target_mc_pct: float
    settles_at_pct: float
    dry_mass_g: Span
    rate_factor: float
    effective_draws: float
    weighings: int
    warnings: tuple[Sentence, ...]
    curve: Curve
    targets: Targets


@cache
def standard_draws(count: int, dimensions: int = 5) -> Array:
    """Return a fixed, evenly spread set of standard normal draws (count, dimensions).

    An additive recurrence on the generalised golden ratio, through the normal quantile;
    light to import, unlike a statistics package, and good enough in five dimensions.
    """
    ratio = 2.0
    for _ in range(40):
        ratio = (1.0 + ratio) ** (1.0 / (dimensions + 1))
    steps = (1.0 / ratio) ** np.arange(1, dimensions + 1)
    points = (0.5 + np.arange(1, count + 1)[:, None] * steps) % 1.0
    return np.asarray(ndtri(np.clip(points, 1e-6, 1 - 1e-6)))


@dataclass(frozen=True, slots=True)
class Posterior:
    """Weighted draws: unknowns, weights, oven-dry mass mean and variance, and course a draw."""

    unknowns: Unknowns
    weights: Array
    dry_mean: Array
    dry_var: Array
    sigma: Array
    run: Run


def _prior_mean(piece: DryingPiece) -> Array:
    return np.array([piece.ln_k, 0.0, 0.0, 0.0, 0.0])


def _prior_sd(piece: DryingPiece) -> Array:
    green = piece.green_mc_pct
    spread = math.log(green.high / green.low) / (2 * 1.2816)
    return np.array([piece.ln_k_sd, PRIOR_SD[1], min(max(spread, 0.12), 0.45), *PRIOR_SD[3:]])


def _stops(when: Array) -> tuple[float, ...]:
    """Return the moments the steps must hit: all weighings while few, else some.

    Between steps the course is straight to well within the scale's own doubt.
    """
    times = np.unique(when)
    if len(times) <= STOPS:
        return tuple(times.tolist())
    return tuple(times[np.linspace(0, len(times) - 1, STOPS).round().astype(int)].tolist())


def _unknowns(piece: DryingPiece, z: Array) -> Unknowns:
    """From standardised draws to the unknowns themselves."""
    return Unknowns.from_matrix(_prior_mean(piece) + z * _prior_sd(piece))


@dataclass(frozen=True, slots=True)
class _Data:
    """All readings as arrays: weights, and those of the meter that say more than "wet"."""

    when: Array
    y: Array
    sigma: Array
    meter_when: Array
    meter: Array

    @classmethod
    def of(cls, piece: DryingPiece, lived: Lived) -> "_Data":
        return cls(
            np.array([w.at_days for w in lived.weighings]),
            np.array([w.mass_g for w in lived.weighings]),
            _sigma(piece, lived.weighings),
            np.array([m.at_days for m in lived.meter]),
            np.array([m.mc_pct for m in lived.meter]),
        )

    @property
    def times(self) -> Array:
        """Moments of everything read."""
        return np.concatenate([self.when, self.meter_when])

    def meter_fit(self, run: Run) -> Array:
        """Log likelihood of the meter's readings, a draw each."""
        if not len(self.meter):
            return np.zeros(run.mean.shape[1])
        inside = 100.0 * run.mean_at(self.meter_when)
        told = -0.5 * ((self.meter[:, None] - inside) / METER_SD_PCT) ** 2
        wet = log_ndtr((inside - METER_ABOVE_PCT) / METER_SD_PCT)
        return np.asarray(np.where(self.meter[:, None] < METER_TOP_PCT, told, wet).sum(axis=0))


def _sigma(piece: DryingPiece, weighings: tuple[Weighing, ...]) -> Array:
    scale = np.array([w.scale_sd_g for w in weighings])
    return np.asarray(np.hypot(scale, DISCREPANCY * piece.dry_mass_g))


def _fit(piece: DryingPiece, lived: Lived, data: _Data) -> tuple[Array, Array]:
    """Gauss-Newton in standardised unknowns plus the dry mass; mean and covariance of five."""
    z: Array = np.zeros(6)
    h = 0.15
    covariance: Array = np.eye(6)
    told = data.meter < METER_TOP_PCT
    until = float(max(data.times.max(), 0.05))
    for _ in range(5):
        rows = np.vstack([z[:5], z[:5] + h * np.eye(5)])
        run = simulate(
            piece,
            lived.treatments,
            until_days=until,
            unknowns=_unknowns(piece, rows),
            stops=_stops(data.times),
            deeds=lived.deeds,
        )
        x = run.mass_at(data.when).T
        meter = 100.0 * run.mean_at(data.meter_when[told]).T if told.any() else np.zeros((6, 0))
        w0 = piece.dry_mass_g * (1.0 + piece.dry_mass_sd * z[5])
        jac = np.zeros((len(data.y) + meter.shape[1], 6))
        jac[: len(data.y), :5] = (w0 * (x[1:] - x[0]) / h).T / data.sigma[:, None]
        jac[: len(data.y), 5] = piece.dry_mass_g * piece.dry_mass_sd * x[0] / data.sigma
        jac[len(data.y) :, :5] = ((meter[1:] - meter[0]) / h).T / METER_SD_PCT
        residual = np.concatenate(
            [(data.y - w0 * x[0]) / data.sigma, (data.meter[told] - meter[0]) / METER_SD_PCT]
        )
        covariance = np.asarray(np.linalg.inv(np.eye(6) + jac.T @ jac), dtype=np.float64)
        step = covariance @ (jac.T @ residual - z)
        longest = float(np.abs(step).max())
        z = np.clip(z + step * min(1.0, 1.5 / max(longest, 1e-9)), -4.0, 4.0)
        if longest < 0.1:
            break
    return z[:5], covariance[:5, :5]


def _log_normal(z: Array, mean: Array, cov: Array) -> Array:
    root = np.linalg.cholesky(cov)
    scaled = np.linalg.solve(root, (z - mean).T)
    return np.asarray(-0.5 * (scaled**2).sum(axis=0) - np.log(np.diag(root)).sum())


def _dry_mass(piece: DryingPiece, x: Array, y: Array, sigma: Array) -> tuple[Array, Array, Array]:
    """Dry mass given each draw: mean, variance, log marginal likelihood (closed form)."""
    mean0, var0 = piece.dry_mass_g, (piece.dry_mass_sd * piece.dry_mass_g) ** 2
    precision = 1.0 / var0 + (x**2 / sigma**2).sum(axis=1)
    pull = mean0 / var0 + (x * y / sigma**2).sum(axis=1)
    mean = pull / precision
    misfit = ((y - mean[:, None] * x) ** 2 / sigma**2).sum(axis=1) + (mean - mean0) ** 2 / var0
    return mean, 1.0 / precision, -0.5 * (misfit + np.log(precision))


def posterior(
    piece: DryingPiece,
    lived: Lived,
    *,
    until_days: float = 0.05,
    stops: tuple[float, ...] = (),
) -> Posterior:
    """Return weighted draws of the unknowns given what was read, with the course of each.

    Parameters
    ----------
    piece : DryingPiece
        Sizes and wood.
    lived : Lived
        Where it lay, what it weighed, what the meter showed, what was done to it.
    until_days : float
        How far the courses go; to the last reading at least. [d]
    stops : tuple of float
        Moments their steps must hit.

    Returns
    -------
    posterior : Posterior
        Draws, weights, the dry mass and the run of each.
    """
    data = _Data.of(piece, lived)
    until = float(max([until_days, *data.times]))
    hit = (*_stops(data.times), *stops) if len(data.times) else stops

    def course(z: Array) -> Run:
        return simulate(
            piece,
            lived.treatments,
            until_days=until,
            unknowns=_unknowns(piece, z),
            stops=hit,
            deeds=lived.deeds,
        )

    if not len(data.times):
        normal = standard_draws(DRAWS)
        flat, mean = np.full(DRAWS, 1.0 / DRAWS), np.full(DRAWS, piece.dry_mass_g)
        var = (piece.dry_mass_sd * mean) ** 2
        return Posterior(_unknowns(piece, normal), flat, mean, var, np.array([]), course(normal))
    middle, cov = _fit(piece, lived, data)
    runs: list[Run] = []

    def likely(z: Array) -> tuple[Array, Array, Array]:
        runs.append(course(z))  # the whole course at once: the forecast needs it anyway
        mean, var, fit = _dry_mass(piece, runs[-1].mass_at(data.when).T, data.y, data.sigma)
        return mean, var, fit + data.meter_fit(runs[-1])

    keep, z, weights, dry_mean, dry_var = _importance(likely, middle, cov)
    return Posterior(_unknowns(piece, z), weights, dry_mean, dry_var, data.sigma, _chosen(runs, keep))


def _chosen(runs: list[Run], keep: NDArray[np.intp]) -> Run:
    """The courses of the draws kept, out of all rounds."""
    rows = {
        name: np.hstack([getattr(r, name) for r in runs])[:, keep]
        for name in ("mean", "risk", "mould", "kept")
    }
    last = np.concatenate([r.last for r in runs], axis=1)[:, keep]
    return Run(runs[0].times_days, last=last, **rows)


Likely = Callable[[Array], tuple[Array, Array, Array]]


def _importance(
    likely: Likely, middle: Array, cov: Array
) -> tuple[NDArray[np.intp], Array, Array, Array, Array]:
    """Draw, weigh and, where the first proposal missed, draw again from what the weights taught.

    All rounds count together (balance heuristic), so a poor first guess wastes draws but
    never biases. Returns which of all draws are kept, the draws, their weights, and the dry
    mass of each, mean and variance.
    """
    guard = DRAWS // 8
    normal = standard_draws(DRAWS * ROUNDS)
    proposals = [(np.zeros(5), np.eye(5), guard), (middle, 1.4 * cov + 0.003 * np.eye(5), DRAWS - guard)]
    z = normal[:DRAWS].copy()
    z[guard:] = middle + normal[guard:DRAWS] @ np.linalg.cholesky(proposals[1][1]).T
    dry_mean, dry_var, fit = likely(z)
    for turn in range(1, ROUNDS + 1):
        log_w = _log_normal(z, np.zeros(5), np.eye(5)) + fit - _log_mixture(z, proposals)
        weights = np.exp(log_w - log_w.max())
        weights /= weights.sum()
        if turn == ROUNDS or 1.0 / float((weights**2).sum()) >= ENOUGH * DRAWS:
            break
        centre, spread = _learned(z, log_w)
        proposals.append((centre, spread, DRAWS))
        more = centre + normal[turn * DRAWS : (turn + 1) * DRAWS] @ np.linalg.cholesky(spread).T
        found = likely(more)
        z = np.vstack([z, more])
        dry_mean, dry_var, fit = (
            np.append(a, b) for a, b in zip((dry_mean, dry_var, fit), found, strict=True)
        )
    keep, share = _thinned(weights)
    return keep, z[keep], share, dry_mean[keep], dry_var[keep]


def _log_mixture(z: Array, proposals: list[tuple[Array, Array, int]]) -> Array:
    total = sum(count for _, _, count in proposals)
    parts = [math.log(count / total) + _log_normal(z, mean, cov) for mean, cov, count in proposals]
    return np.asarray(np.logaddexp.reduce(parts, axis=0))


def _learned(z: Array, log_w: Array) -> tuple[Array, Array]:
    """Mean and covariance the weights point to, softened until enough draws speak."""
    softness = 1.0
    while True:
        weights = np.exp(softness * (log_w - log_w.max()))
        weights /= weights.sum()
        if 1.0 / float((weights**2).sum()) >= 24.0 or softness < 0.05:
            break
        softness *= 0.8
    mean = weights @ z
    spread = (z - mean).T @ ((z - mean) * weights[:, None])
    return mean, 1.3 * spread + 0.02 * np.eye(5)


def _thinned(weights: Array) -> tuple[NDArray[np.intp], Array]:
    """Keep at most ``DRAWS`` draws by systematic resampling, so that later work stays the same."""
    if len(weights) <= DRAWS:
        return np.arange(len(weights), dtype=np.intp), weights
    ticks = (np.arange(DRAWS) + 0.5) / DRAWS
    chosen = np.minimum(np.searchsorted(np.cumsum(weights), ticks), len(weights) - 1)
    keep, times = np.unique(chosen, return_counts=True)
    return keep.astype(np.intp), np.asarray(times / DRAWS)


def _quantile(values: Array, weights: Array, share: float) -> float | None:
    order = np.argsort(values)
    reached = np.cumsum(weights[order]) - 0.5 * weights[order]
    i = int(np.searchsorted(reached, share))
    if i == 0:
        v = float(values[order[0]])
    elif i >= len(order):
        v = float(values[order[-1]])
    else:
        a, b = values[order[i - 1]], values[order[i]]
        t = (share - reached[i - 1]) / max(reached[i] - reached[i - 1], 1e-12)
        v = float(a + t * (b - a)) if math.isfinite(b) else float(b if t > 0.5 else a)
    return v if math.isfinite(v) else None


def _span(days: Array, weights: Array) -> Span:
    """10, 50 and 90 % of when; one row of ``_spans``."""
    return _spans(days[None, :], weights)[0]


def _spans(days: Array, weights: Array) -> list[Span]:
    """10, 50 and 90 % of when, a row each, from draws smoothed on the scale of ratios.

    Each draw speaks for its neighbourhood (a kernel a fifth as wide as all of them), so
    that the ends do not hop from draw to draw; it widens the span by about 2 %. Draws that
    never get there count as beyond any date.
    """
    there = np.isfinite(days) & (days > 0.0)
    share = np.where(there, weights[None, :], 0.0)
    total = share.sum(axis=1)
    logs = np.log(np.where(there, days, 1.0))
    whole = np.maximum(total, 1e-12)
    middle = (share * logs).sum(axis=1) / whole
    wide = KERNEL * np.sqrt((share * (logs - middle[:, None]) ** 2).sum(axis=1) / whole) + 1e-6
    wanted = np.array([0.1, 0.5, 0.9])
    low = np.repeat((np.where(there, logs, np.inf).min(axis=1, initial=0.0) - 5.0 * wide)[:, None], 3, axis=1)
    high = np.repeat(
        (np.where(there, logs, -np.inf).max(axis=1, initial=0.0) + 5.0 * wide)[:, None], 3, axis=1
    )
    for _ in range(30):
        trial = 0.5 * (low + high)
        reached = (
            share[:, None, :] * ndtr((trial[:, :, None] - logs[:, None, :]) / wide[:, None, None])
        ).sum(axis=2)
        below = reached < wanted[None, :]
        low, high = np.where(below, trial, low), np.where(below, high, trial)
    day = np.exp(high)
    spans = []
    for i in range(len(days)):
        ends = [
            float(day[i, q]) if total[i] >= max(wanted[q], 0.1) and day[i, q] < 4.0 * HORIZON_DAYS else None
            for q in range(3)
        ]
        spans.append(Span(*ends))
    return spans


def _targets(run: Run, weights: Array) -> Targets:
    times = np.array([_crossing(run.times_days, run.mean, t / 100.0) for t in TARGETS_PCT])
    spans = _spans(times, weights)
    never = 100.0 * (np.where(np.isfinite(times), 0.0, weights[None, :])).sum(axis=1)

    def column(name: str) -> tuple[float | None, ...]:
        values = [getattr(s, name) for s in spans]
        return tuple(None if v is None else max(round(v, 2), 0.01) for v in values)

    return Targets(
        TARGETS_PCT, column("low"), column("middle"), column("high"), tuple(round(float(n), 1) for n in never)
    )


def _crossing(times: Array, mean: Array, target: float | Array) -> Array:
    """First time each draw's moisture is at or below target; inf where never."""
    below = mean <= target
    first = below.argmax(axis=0)
    found = below.any(axis=0)
    index = np.arange(mean.shape[1])
    before = np.maximum(first - 1, 0)
    goal = np.broadcast_to(target, index.shape)
    u0, u1 = mean[before, index], mean[first, index]
    t0, t1 = times[before], times[first]
    part = np.where(u0 > u1, (u0 - goal) / np.where(u0 > u1, u0 - u1, 1.0), 0.0)
    return np.where(found, t0 + np.clip(part, 0.0, 1.0) * (t1 - t0), np.inf)


def forecast(
    piece: DryingPiece,
    treatments: tuple[Treatment, ...],
    weighings: tuple[Weighing, ...],
    *,
    now_days: float,
    target_mc_pct: float,
    meter: tuple[MeterReading, ...] = (),
    deeds: tuple[Deed, ...] = (),
) -> Forecast:
    """Return ready date, moisture now and the curve, from sizes, places and readings.

    Parameters
    ----------
    piece : DryingPiece
        Sizes and wood.
    treatments : tuple of Treatment
        Where it lay and lies; the last is taken to go on.
    weighings : tuple of Weighing
        Accepted weights since drying began.
    now_days : float
        Days since drying began. [d]
    target_mc_pct : float
        Moisture at which it counts as ready: EMC of its home plus one. [%]
    meter : tuple of MeterReading
        What a moisture meter showed.
    deeds : tuple of Go or Turning
        Goes in the microwave oven and turnings while it dried.

    Returns
    -------
    forecast : Forecast
        Spans are 10, 50 and 90 %.

    Raises
    ------
    OutOfRange
        For a target outside 2 to 30 %.
    CoreError
        For weights taken before drying began.

    References
    ----------
    .. [crank], [siau] engine; priors [assumed].
    """
    require_range("target_mc_pct", target_mc_pct, 2.0, 30.0)
    if any(r.at_days < -1e-6 for r in (*weighings, *meter, *deeds)):
        raise CoreError(
            "weighed-before-start", "weighings", "A weight cannot be older than the drying itself."
        )
    lived = Lived(treatments, weighings, meter, deeds)
    until = now_days + HORIZON_DAYS
    settles = _settles(treatments, until)
    post = posterior(
        piece, lived, until_days=until, stops=(now_days, now_days + 7.0) if now_days > 0 else (7.0,)
    )
    run = post.run
    w = post.weights
    ready = _crossing(run.times_days, run.mean, target_mc_pct / 100.0)
    effective = float(1.0 / (w**2).sum())
    return Forecast(
        ready_days=_span(ready, w),
        settled_days=_span(_crossing(run.times_days, run.mean, _rest(run) + 0.01), w),
        never_pct=float(100.0 * w[~np.isfinite(ready)].sum()),
        target_mc_pct=target_mc_pct,
        settles_at_pct=settles,
        dry_mass_g=_dry_span(post, now_days),
        rate_factor=float(math.exp(w @ post.unknowns.ln_k)),
        effective_draws=effective,
        weighings=len(weighings),
        warnings=_warnings(effective, piece, post, lived),
        curve=_curve(run, post, piece, now_days),
        targets=_targets(run, w),
    )


def _settles(treatments: tuple[Treatment, ...], until: float) -> float:
    """EMC of the air it lies in, over the last year of the course (one value where nothing changes)."""
    starts = [t.start_days for t in treatments]
    ends = [*starts[1:], max(until, starts[-1] + 1.0)]
    spans = [max(0.0, e - max(s, ends[-1] - YEAR_DAYS)) for s, e in zip(starts, ends, strict=True)]
    values = [emc_pct(t.air_c, rh_pct=t.rh_pct) if d else 0.0 for t, d in zip(treatments, spans, strict=True)]
    return sum(v * d for v, d in zip(values, spans, strict=True)) / sum(spans)


def _rest(run: Run) -> Array:
    """Mean moisture of each draw over the last year of its course."""
    times = run.times_days
    inside = times >= times[-1] - YEAR_DAYS
    t, u = times[inside], run.mean[inside]
    if len(t) < 2 or t[-1] - t[0] < 1.0:
        return np.asarray(run.mean[-1])
    return np.asarray(np.trapezoid(u, t, axis=0) / (t[-1] - t[0]))


def _mass(post: Posterior, piece: DryingPiece, x: Array) -> tuple[float, float]:
    """Expected weight and its standard deviation, scale and discrepancy included."""
    mean = float(post.weights @ (post.dry_mean * x))
    spread = post.weights @ ((post.dry_mean * x - mean) ** 2 + post.dry_var * x**2)
    noise = SCALE_SD_G**2 + (DISCREPANCY * piece.dry_mass_g) ** 2
    return mean, float(math.sqrt(spread + noise))


def _dry_span(post: Posterior, now_days: float) -> Span:
    kept = _kept(post.run, now_days)
    dry = post.dry_mean * kept
    mean = float(post.weights @ dry)
    sd = math.sqrt(float(post.weights @ ((dry - mean) ** 2 + post.dry_var * kept**2)))
    return Span(mean - 1.2816 * sd, mean, mean + 1.2816 * sd)


def _kept(run: Run, now_days: float) -> Array:
    """Share of the first wood still there at a moment, a draw each."""
    i = int(np.searchsorted(run.times_days, now_days + 1e-5, side="right")) - 1
    return np.asarray(run.kept[max(i, 0)])


def _curve(run: Run, post: Posterior, piece: DryingPiece, now_days: float) -> Curve:
    middle = run.mean @ post.weights
    rest = float(middle.min()) + 0.003
    end = max(run.times_days[int(np.argmax(middle <= rest))], now_days * 1.15, now_days + 30.0)
    keep = np.flatnonzero(run.times_days <= end)
    step = max(1, len(keep) // 56)
    jumps = keep[1:][np.diff(run.times_days[keep]) < 1e-5]  # both sides of a deed are shown
    keep = np.unique(np.concatenate([keep[::step], jumps, jumps - 1, keep[-1:]]))
    bands = [[_quantile(run.mean[i], post.weights, q) or 0.0 for i in keep] for q in (0.1, 0.5, 0.9)]
    masses = [_mass(post, piece, run.kept[i] * (1.0 + run.mean[i])) for i in keep]
    low, mid, high = (tuple(round(100.0 * u, 2) for u in band) for band in bands)
    return Curve(
        days=tuple(round(float(t), 6) for t in run.times_days[keep]),
        mc_low_pct=low,
        mc_pct=mid,
        mc_high_pct=high,
        mass_g=tuple(round(m, 1) for m, _ in masses),
        mass_sd_g=tuple(round(s, 2) for _, s in masses),
        risk=tuple(round(_quantile(run.risk[i], post.weights, 0.5) or 0.0, 3) for i in keep),
        mould=tuple(round(_quantile(run.mould[i], post.weights, 0.5) or 0.0, 3) for i in keep),
    )


def never_here(settles_at_pct: float, *, target_mc_pct: float, ready: Ready) -> Sentence | None:
    """Return what to say where a place will hardly dry it far enough, None where it will.

    Parameters
    ----------
    settles_at_pct : float
        Where the place lets it settle. [%]
    target_mc_pct : float
        Moisture wanted. [%]
    ready : Ready
        From ``ready_for``.

    Returns
    -------
    sentence : Sentence or None
        With the way out.
    """
    if ready.days.middle is not None and settles_at_pct <= target_mc_pct:
        return None
    return say(
        "never-here",
        "This place settles at {settles_at_pct}; for its home it should reach "
        "{target_mc_pct}. Move it to drier air for the last part.",
        settles_at_pct=settles_at_pct,
        target_mc_pct=target_mc_pct,
    )


def _warnings(effective: float, piece: DryingPiece, post: Posterior, lived: Lived) -> tuple[Sentence, ...]:
    said = []
    if (lived.weighings or lived.meter) and effective < 6.0:
        said.append(
            say(
                "data-contradict-model",
                "The weights do not fit any likely course of drying. Check the species, the tag, "
                "the unit, and whether the piece was turned again.",
            )
        )
    rate = float(post.weights @ post.unknowns.ln_k)
    if len(lived.weighings) >= 3 and abs(rate) > 2.2 * PRIOR_SD[0]:
        said.append(
            say(
                "odd-rate",
                "It dries at {factor} times the usual rate for this wood and wall. "
                "Is the species right, and the wall?",
                factor=math.exp(rate),
            )
        )
    dry = float(post.weights @ post.dry_mean)
    if lived.weighings and abs(dry / piece.dry_mass_g - 1.0) > 2.5 * piece.dry_mass_sd:
        said.append(
            say(
                "odd-dry-mass",
                "Its weights ask for {found_g} of wood without water; its sizes and species promise "
                "{promised_g}. Check the species, the sizes, and the unit of the scale.",
                found_g=dry,
                promised_g=piece.dry_mass_g,
            )
        )
    return (*said, *_meter_odd(piece, lived))


def _meter_odd(piece: DryingPiece, lived: Lived) -> tuple[Sentence, ...]:
    """Say where the meter tells of another moisture than the weights by themselves do."""
    if not lived.meter or not lived.weighings:
        return ()
    alone = replace(lived, meter=())
    z, covariance = _fit(piece, alone, _Data.of(piece, alone))
    h = 0.15
    run = simulate(
        piece,
        lived.treatments,
        until_days=max(m.at_days for m in lived.meter) + 0.05,
        unknowns=_unknowns(piece, np.vstack([z, z + h * np.eye(5)])),
        deeds=lived.deeds,
    )
    for reading in sorted(lived.meter, key=lambda m: -m.at_days):
        inside = 100.0 * run.mean_at(np.array([reading.at_days]))[0]
        slope = (inside[1:] - inside[0]) / h
        spread = math.sqrt(METER_SD_PCT**2 + float(slope @ covariance @ slope))
        shown, told = min(reading.mc_pct, METER_TOP_PCT), min(float(inside[0]), METER_TOP_PCT)
        if abs(shown - told) > 2.5 * spread:
            return (
                say(
                    "meter-disagrees",
                    "The meter showed {shown_pct}, by its weights it had {inside_pct}. Pins read the skin, "
                    "and want the species set; or the dry mass is not what its sizes promise.",
                    shown_pct=reading.mc_pct,
                    inside_pct=float(inside[0]),
                ),
            )
    return ()

"""When will this piece be ready, how wet is it now, and what should it weigh next.

The engine's unknowns have priors; weighings turn them into a posterior by a
Gauss-Newton fit, a Laplace proposal around it and importance weights, with the
oven-dry mass integrated out in closed form. Deterministic: the draws are a fixed
low-discrepancy set.
"""

import math
from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

from kilncore.drying.model import DryingPiece, Run, Treatment, Unknowns, simulate
from kilncore.errors import CoreError, require_range
from kilncore.said import Sentence, say
from kilncore.wood.emc import emc_pct

__all__ = [
    "Curve",
    "Forecast",
    "Now",
    "Span",
    "Weighing",
    "forecast",
    "next_weighing_days",
    "posterior",
    "read_now",
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
AMBER, RED = 0.7, 1.0


@dataclass(frozen=True, slots=True)
class Weighing:
    """One accepted weight: days since drying began, grams, extra scale noise."""

    at_days: float
    mass_g: float
    scale_sd_g: float = SCALE_SD_G


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
    loss_per_week_pct: float


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
    ahead = [r for d, r in zip(curve.days, curve.risk, strict=True) if day <= d <= day + 14.0]
    risk = curve.at(day, "risk")
    return Now(
        mc_low_pct=round(curve.at(day, "mc_low_pct"), 2),
        mc_pct=round(curve.at(day, "mc_pct"), 2),
        mc_high_pct=round(curve.at(day, "mc_high_pct"), 2),
        mass_g=round(mass, 1),
        mass_sd_g=round(curve.at(day, "mass_sd_g"), 1),
        risk=round(risk, 2),
        risk_peak=round(max([risk, *ahead]), 2),
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
class _Posterior:
    """Weighted draws: unknowns, weights, oven-dry mass mean and variance, and course a draw."""

    unknowns: Unknowns
    weights: Array
    dry_mean: Array
    dry_var: Array
    sigma: Array
    run: Run


def _prior_sd(piece: DryingPiece) -> Array:
    green = piece.green_mc_pct
    spread = math.log(green.high / green.low) / (2 * 1.2816)
    return np.array([*PRIOR_SD[:2], min(max(spread, 0.12), 0.45), *PRIOR_SD[3:]])


def _stops(when: Array) -> tuple[float, ...]:
    """Return the moments the steps must hit: all weighings while few, else some.

    Between steps the course is straight to well within the scale's own doubt.
    """
    times = np.unique(when)
    if len(times) <= STOPS:
        return tuple(times.tolist())
    return tuple(times[np.linspace(0, len(times) - 1, STOPS).round().astype(int)].tolist())


def _x_at(piece: DryingPiece, treatments: tuple[Treatment, ...], when: Array, z: Array, sd: Array) -> Array:
    """Mass over dry mass at the weighings, (draws, weighings)."""
    until = float(max(when.max(), 0.05))
    run = simulate(
        piece,
        treatments,
        until_days=until,
        unknowns=Unknowns.from_matrix(z * sd),
        stops=_stops(when),
    )
    return np.asarray(1.0 + run.mean_at(when).T)


def _sigma(piece: DryingPiece, weighings: tuple[Weighing, ...]) -> Array:
    scale = np.array([w.scale_sd_g for w in weighings])
    return np.asarray(np.hypot(scale, DISCREPANCY * piece.dry_mass_g))


def _fit(
    piece: DryingPiece,
    treatments: tuple[Treatment, ...],
    when: Array,
    y: Array,
    sigma: Array,
    sd: Array,
) -> tuple[Array, Array]:
    """Gauss-Newton in standardised unknowns plus the dry mass; mean and covariance of five."""
    z: Array = np.zeros(6)
    h = 0.15
    covariance: Array = np.eye(6)
    for _ in range(5):
        rows = np.vstack([z[:5], z[:5] + h * np.eye(5)])
        x = _x_at(piece, treatments, when, rows, sd)
        w0 = piece.dry_mass_g * (1.0 + piece.dry_mass_sd * z[5])
        jac = np.empty((len(y), 6))
        jac[:, :5] = (w0 * (x[1:] - x[0]) / h).T
        jac[:, 5] = piece.dry_mass_g * piece.dry_mass_sd * x[0]
        jac /= sigma[:, None]
        residual = (y - w0 * x[0]) / sigma
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
    treatments: tuple[Treatment, ...],
    weighings: tuple[Weighing, ...],
    *,
    until_days: float = 0.05,
    stops: tuple[float, ...] = (),
) -> _Posterior:
    """Return weighted draws of the unknowns given the weighings, with the course of each.

    Parameters
    ----------
    piece : DryingPiece
        Sizes and wood.
    treatments : tuple of Treatment
        Where it lay.
    weighings : tuple of Weighing
        Accepted weights, any order.
    until_days : float
        How far the courses go; to the last weighing at least. [d]
    stops : tuple of float
        Moments their steps must hit.

    Returns
    -------
    posterior : _Posterior
        Draws, weights, the dry mass and the run of each.
    """
    sd = _prior_sd(piece)
    when = np.array([w.at_days for w in weighings])
    until = float(max(until_days, *when)) if weighings else until_days
    hit = (*_stops(when), *stops)

    def course(z: Array) -> Run:
        return simulate(piece, treatments, until_days=until, unknowns=Unknowns.from_matrix(z * sd), stops=hit)

    if not weighings:
        normal = standard_draws(DRAWS)
        flat, mean = np.full(DRAWS, 1.0 / DRAWS), np.full(DRAWS, piece.dry_mass_g)
        var = (piece.dry_mass_sd * mean) ** 2
        return _Posterior(Unknowns.from_matrix(normal * sd), flat, mean, var, np.array([]), course(normal))
    y = np.array([w.mass_g for w in weighings])
    sigma = _sigma(piece, weighings)
    middle, cov = _fit(piece, treatments, when, y, sigma, sd)
    runs: list[Run] = []

    def likely(z: Array) -> tuple[Array, Array, Array]:
        runs.append(course(z))  # the whole course at once: the forecast needs it anyway
        return _dry_mass(piece, 1.0 + runs[-1].mean_at(when).T, y, sigma)

    keep, z, weights, dry_mean, dry_var = _importance(likely, middle, cov)
    run = Run(
        runs[0].times_days,
        np.hstack([r.mean for r in runs])[:, keep],
        np.hstack([r.risk for r in runs])[:, keep],
    )
    return _Posterior(Unknowns.from_matrix(z * sd), weights, dry_mean, dry_var, sigma, run)


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
    """10, 50 and 90 % of when, from draws smoothed on the scale of ratios.

    Each draw speaks for its neighbourhood (a kernel a fifth as wide as all of them), so
    that the ends do not hop from draw to draw; it widens the span by about 2 %. Draws that never get there count as beyond any date.
    """
    there = np.isfinite(days) & (days > 0.0)
    share = weights[there]
    if share.sum() < 0.1:
        return Span(None, None, None)
    logs = np.log(days[there])
    middle = float(share @ logs / share.sum())
    wide = KERNEL * math.sqrt(float(share @ (logs - middle) ** 2 / share.sum())) + 1e-6
    return Span(*(_when(logs, share, wide, q) for q in (0.1, 0.5, 0.9)))


def _when(logs: Array, share: Array, wide: float, reached: float) -> float | None:
    if share.sum() < reached:
        return None
    low, high = float(logs.min()) - 5.0 * wide, float(logs.max()) + 5.0 * wide
    for _ in range(48):
        trial = 0.5 * (low + high)
        if float(share @ ndtr((trial - logs) / wide)) < reached:
            low = trial
        else:
            high = trial
    day = math.exp(high)
    return day if day < 4.0 * HORIZON_DAYS else None


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
) -> Forecast:
    """Return ready date, moisture now and the curve, from sizes, places and weights.

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
    if any(w.at_days < -1e-6 for w in weighings):
        raise CoreError(
            "weighed-before-start", "weighings", "A weight cannot be older than the drying itself."
        )
    last = treatments[-1]
    settles = emc_pct(last.air_c, rh_pct=last.rh_pct)
    post = posterior(
        piece,
        treatments,
        weighings,
        until_days=now_days + HORIZON_DAYS,
        stops=(now_days, now_days + 7.0) if now_days > 0 else (7.0,),
    )
    run = post.run
    w = post.weights
    ready = _crossing(run.times_days, run.mean, target_mc_pct / 100.0)
    span = _span(ready, w)
    effective = float(1.0 / (w**2).sum())
    return Forecast(
        ready_days=span,
        settled_days=_span(_crossing(run.times_days, run.mean, run.mean[-1] + 0.01), w),
        never_pct=float(100.0 * w[~np.isfinite(ready)].sum()),
        target_mc_pct=target_mc_pct,
        settles_at_pct=settles,
        dry_mass_g=_dry_span(post),
        rate_factor=float(math.exp(w @ post.unknowns.ln_k)),
        effective_draws=effective,
        weighings=len(weighings),
        warnings=_warnings(effective, span, settles, target_mc_pct, post, weighings),
        curve=_curve(run, post, piece, now_days),
    )


def _mass(post: _Posterior, piece: DryingPiece, u: Array) -> tuple[float, float]:
    """Expected weight and its standard deviation, scale and discrepancy included."""
    x = 1.0 + u
    mean = float(post.weights @ (post.dry_mean * x))
    spread = post.weights @ ((post.dry_mean * x - mean) ** 2 + post.dry_var * x**2)
    noise = SCALE_SD_G**2 + (DISCREPANCY * piece.dry_mass_g) ** 2
    return mean, float(math.sqrt(spread + noise))


def _dry_span(post: _Posterior) -> Span:
    mean = float(post.weights @ post.dry_mean)
    sd = math.sqrt(float(post.weights @ ((post.dry_mean - mean) ** 2 + post.dry_var)))
    return Span(mean - 1.2816 * sd, mean, mean + 1.2816 * sd)


def _curve(run: Run, post: _Posterior, piece: DryingPiece, now_days: float) -> Curve:
    middle = run.mean @ post.weights
    rest = float(middle.min()) + 0.003
    end = max(run.times_days[int(np.argmax(middle <= rest))], now_days * 1.15, now_days + 30.0)
    keep = np.flatnonzero(run.times_days <= end)
    step = max(1, len(keep) // 56)
    keep = np.unique(np.append(keep[::step], keep[-1]))
    bands = [[_quantile(run.mean[i], post.weights, q) or 0.0 for i in keep] for q in (0.1, 0.5, 0.9)]
    masses = [_mass(post, piece, run.mean[i]) for i in keep]
    low, mid, high = (tuple(round(100.0 * u, 2) for u in band) for band in bands)
    return Curve(
        days=tuple(round(float(t), 3) for t in run.times_days[keep]),
        mc_low_pct=low,
        mc_pct=mid,
        mc_high_pct=high,
        mass_g=tuple(round(m, 1) for m, _ in masses),
        mass_sd_g=tuple(round(s, 2) for _, s in masses),
        risk=tuple(round(_quantile(run.risk[i], post.weights, 0.5) or 0.0, 3) for i in keep),
    )


def _warnings(
    effective: float,
    span: Span,
    settles: float,
    target: float,
    post: _Posterior,
    weighings: tuple[Weighing, ...],
) -> tuple[Sentence, ...]:
    said = []
    if weighings and effective < 6.0:
        said.append(
            say(
                "data-contradict-model",
                "The weights do not fit any likely course of drying. Check the species, the tag, "
                "the unit, and whether the piece was turned again.",
            )
        )
    if span.middle is None or settles > target:
        said.append(
            say(
                "never-here",
                "This place settles at {settles_at_pct}; for its home it should reach "
                "{target_mc_pct}. Move it to drier air for the last part.",
                settles_at_pct=settles,
                target_mc_pct=target,
            )
        )
    rate = float(post.weights @ post.unknowns.ln_k)
    if len(weighings) >= 3 and abs(rate) > 2.2 * PRIOR_SD[0]:
        said.append(
            say(
                "odd-rate",
                "It dries at {factor} times the usual rate for this wood and wall. "
                "Is the species right, and the wall?",
                factor=math.exp(rate),
            )
        )
    return tuple(said)

"""How often the truth lies in the forecast's band, and how near its middle, beside curve fits.

Runs are simulated with other rate, air, green moisture and dry mass than the tables say,
with scale noise and a slow wander of the weight that the model does not know.
"""

import math
import warnings

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import curve_fit

from kilncore.drying.forecast import MeterReading, Weighing, forecast
from kilncore.drying.model import DryingPiece, Treatment, Unknowns, simulate
from kilncore.wood.emc import emc_pct
from kilncore.wood.species import Known

Array = NDArray[np.float64]
PLACES = ((15.0, 58.0), (18.0, 50.0), (22.0, 42.0))
SPREAD = np.array([0.5, 0.35, 0.22, 3.8, 0.2])
WEIGHED = (0, 1, 3, 5, 10)
# Weights beside which a meter was read as well, at a third and two thirds of them.
METERED = (3, 10)
HORIZON = 1400.0


def _case(chance: np.random.Generator) -> tuple[DryingPiece, tuple[Treatment, ...], float]:
    wall = float(chance.uniform(12.0, 34.0))
    gb = float(chance.uniform(0.45, 0.65))
    air, rh = PLACES[int(chance.integers(len(PLACES)))]
    wrap = ("open-shelf", "paper-bag")[int(chance.integers(2))]
    piece = DryingPiece(
        grain="side-grain", wall_mm=wall, foot_mm=1.2 * wall, gb=gb,
        green_mc_pct=Known(55.0, 72.0, 92.0, False, "bench"), dry_mass_g=1200.0, shrink_tangential_pct=8.0,
    )  # fmt: skip
    return piece, (Treatment(0.0, air, rh, wrap),), emc_pct(air, rh_pct=rh) + 2.0


def _truth(piece: DryingPiece, ways: tuple[Treatment, ...], target: float, chance: np.random.Generator):
    unknowns = Unknowns.from_matrix(chance.normal(size=(1, 5)) * SPREAD)
    run = simulate(piece, ways, until_days=HORIZON, unknowns=unknowns)
    mean = run.mean[:, 0]
    if mean[-1] > target / 100.0:
        return None
    ready = float(np.interp(-target / 100.0, -mean, run.times_days))
    dry = piece.dry_mass_g * math.exp(0.13 * chance.normal())
    last = 0.75 * ready
    days = np.geomspace(1.0, max(last, 2.0), max(WEIGHED))
    wander = np.cumsum(chance.normal(size=len(days))) / math.sqrt(len(days)) * 0.006
    masses = dry * (1.0 + run.mean_at(days)[:, 0] + wander) + 1.5 * chance.normal(size=len(days))
    shown = 100.0 * run.mean_at(days)[:, 0] + 2.0 * chance.normal(size=len(days))
    return ready, days, masses, np.clip(shown, 4.0, 60.0)


def _curve_fit_ready(days: Array, masses: Array, piece: DryingPiece, target: float, page: bool) -> float:
    """Ready day from an exponential (or stretched) curve through the weights, dry mass from the tables."""
    goal = piece.dry_mass_g * (1.0 + target / 100.0)

    def curve(t: Array, top: float, rest: float, rate: float, stretch: float = 1.0) -> Array:
        return np.asarray(rest + (top - rest) * np.exp(-((np.maximum(rate, 1e-6) * t) ** stretch)))

    start = [masses[0] * 1.01, goal * 0.98, 1.0 / max(days[-1], 1.0)] + ([1.0] if page else [])
    low, high = (
        [goal, 0.3 * goal, 1e-5] + ([0.4] if page else []),
        [3 * masses[0], masses[-1], 2.0] + ([2.0] if page else []),
    )
    start = [min(max(s, a * 1.0001), b * 0.9999) for s, a, b in zip(start, low, high, strict=True)]
    try:
        found, _ = curve_fit(curve, days, masses, p0=start, bounds=(low, high), maxfev=4000)
    except (RuntimeError, ValueError):
        return math.inf
    times = np.geomspace(0.5, HORIZON, 4000)
    below = np.flatnonzero(curve(times, *found) <= goal)
    return float(times[below[0]]) if len(below) else math.inf


def run_coverage(runs: int, *, seed: int = 11) -> list[dict[str, float]]:
    """Return, per number of weights: coverage of the 80 % band and median error of the middle.

    Errors are shares of the time still to go at the last weight used (the last lies at three
    quarters of the way); ``whole`` is the engine's as a share of all the time it takes.
    """
    chance = np.random.default_rng(seed)
    inside: dict[int, list[float]] = {n: [] for n in WEIGHED}
    metered: dict[int, list[float]] = {n: [] for n in METERED}
    errors: dict[tuple[str, int], list[float]] = {}
    done = 0
    while done < runs:
        piece, ways, target = _case(chance)
        truth = _truth(piece, ways, target, chance)
        if truth is None:
            continue
        done += 1
        ready, days, masses, shown = truth
        for n in WEIGHED:
            used = np.linspace(0, len(days) - 1, n).round().astype(int) if n else np.array([], int)
            if n == 1:
                used = np.array([len(days) // 2])
            now = float(days[used[-1]]) if n else 0.0
            left = max(ready - now, 1.0)
            weights = tuple(Weighing(float(days[i]), float(masses[i])) for i in used)
            found = forecast(piece, ways, weights, now_days=now, target_mc_pct=target)
            if n in METERED:
                read = tuple(
                    MeterReading(float(days[i]), float(shown[i])) for i in used[[n // 3, 2 * n // 3]]
                )
                both = forecast(
                    piece, ways, weights, now_days=now, target_mc_pct=target, meter=read
                ).ready_days
                metered[n].append(float((both.low or math.inf) <= ready <= (both.high or math.inf)))
            low, middle, high = found.ready_days.low, found.ready_days.middle, found.ready_days.high
            inside[n].append(float((low or math.inf) <= ready <= (high or math.inf)))
            off = abs((middle or HORIZON) - ready)
            errors.setdefault(("engine", n), []).append(off / left)
            errors.setdefault(("whole", n), []).append(off / ready)
            if n >= 3:
                with warnings.catch_warnings():
                    warnings.simplefilter("ignore")
                    for name, page in (("exponential", False), ("page", True)):
                        if n >= (5 if page else 3):
                            guess = _curve_fit_ready(days[used], masses[used], piece, target, page)
                            errors.setdefault((name, n), []).append(
                                min(abs(min(guess, HORIZON) - ready) / left, 9.0)
                            )
    return [
        {
            "weights": n,
            "inside": float(np.mean(inside[n])),
            **({"metered": float(np.mean(metered[n]))} if n in METERED else {}),
            **{name: float(np.median(e)) for (name, k), e in errors.items() if k == n},
        }
        for n in WEIGHED
    ]

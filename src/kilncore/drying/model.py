"""What a drying piece is to the engine: its parts, its treatments, its water over time."""

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.drying.diffusion import (
    FSP,
    AirSurface,
    Columns,
    cell_fractions,
    diffusivity_of_wood,
    step_columns,
    time_steps,
)
from kilncore.errors import CoreError, Unknown, require_range
from kilncore.wood.species import Known

__all__ = [
    "PARTS",
    "WRAPS",
    "DryingPiece",
    "Part",
    "Run",
    "Treatment",
    "Unknowns",
    "Wrap",
    "check_treatments",
    "simulate",
]

Array = NDArray[np.float64]


# Wood under strain gives way slowly; and how the index is scaled (both assumed).
RELAX_DAYS = 20.0
RISK_SCALE = 0.50


@dataclass(frozen=True, slots=True)
class Wrap:
    """A way of keeping a piece while it dries, as a vapour resistance in s/m."""

    key: str
    label: str
    resistance_s_m: float
    source: str
    helps: str


# Boundary layer of the air plus wrapping; assumed, calibrated to common practice.
WRAPS: dict[str, Wrap] = {
    wrap.key: wrap
    for wrap in (
        Wrap("open-shelf", "open on a shelf", 2000.0, "assumed", "quickest indoors"),
        Wrap("outdoors", "outdoors under a roof", 500.0, "assumed", "moving air"),
        Wrap("fan-box", "warm box with a fan", 300.0, "assumed", "fast; watch for checks"),
        Wrap("paper-bag", "in a paper bag", 8000.0, "assumed", "slows the first weeks"),
        Wrap("waxed", "waxed all over", 17000.0, "assumed", "slow and even"),
        Wrap(
            "plastic-loose",
            "loosely closed plastic with shavings",
            62000.0,
            "assumed",
            "very slow; mould",
        ),
    )
}


@dataclass(frozen=True, slots=True)
class Part:
    """A share of the piece that dries as a slab of its own."""

    name: str
    share: float
    uses_foot: bool
    chi_open: float
    chi_sealed: float


# Shares and grain factors are assumed: a side-grain wall shows end grain twice a turn.
PARTS: dict[str, tuple[Part, ...]] = {
    "side-grain": (
        Part("wall", 0.55, False, 1.0, 1.0),
        Part("end-grain share of the wall", 0.25, False, 2.5, 1.2),
        Part("foot", 0.20, True, 1.0, 1.0),
    ),
    "end-grain": (
        Part("wall", 0.70, False, 1.0, 1.0),
        Part("rim", 0.12, False, 3.0, 1.2),
        Part("foot", 0.18, True, 3.0, 1.2),
    ),
}


@dataclass(frozen=True, slots=True)
class Treatment:
    """From ``start_days`` on the piece lies in this air, in this wrap."""

    start_days: float
    air_c: float
    rh_pct: float
    wrap: str = "open-shelf"
    ends_sealed: bool = False

    def __post_init__(self) -> None:
        require_range("air_c", self.air_c, -5.0, 80.0, "Frozen wood hardly dries at all.")
        require_range("rh_pct", self.rh_pct, 1.0, 99.0)
        if self.wrap not in WRAPS:
            raise Unknown("wrap", self.wrap, list(WRAPS))


@dataclass(frozen=True, slots=True)
class DryingPiece:
    """What the engine must know of a piece.

    ``dry_mass_g`` is what volume and species promise; ``dry_mass_sd`` its relative
    uncertainty (0.13 from a known volume, wider otherwise).
    """

    grain: str
    wall_mm: float
    foot_mm: float
    gb: float
    green_mc_pct: Known
    dry_mass_g: float
    shrink_tangential_pct: float
    dry_mass_sd: float = 0.13

    def __post_init__(self) -> None:
        if self.grain not in PARTS:
            raise Unknown("grain", self.grain, list(PARTS))
        require_range("wall_mm", self.wall_mm, 1.5, 120.0)
        require_range("foot_mm", self.foot_mm, 1.5, 200.0)
        require_range("dry_mass_g", self.dry_mass_g, 5.0, 60_000.0)

    @property
    def shares(self) -> Array:
        """Volume share of each part."""
        return np.array([part.share for part in PARTS[self.grain]])


@dataclass(frozen=True, slots=True)
class Unknowns:
    """What weighing teaches, one value a draw: all arrays of one length.

    ln_k on diffusivity, ln_r on the surface resistance, ln_mc on the green moisture,
    rh_pct on the air, tail on the slope of ln D.
    """

    ln_k: Array
    ln_r: Array
    ln_mc: Array
    rh_pct: Array
    tail: Array

    @classmethod
    def from_matrix(cls, rows: Array) -> "Unknowns":
        """Build from an array (draws, 5) in the order of the fields."""
        return cls(*(np.ascontiguousarray(rows[:, i]) for i in range(5)))

    @classmethod
    def typical(cls) -> "Unknowns":
        """One draw, everything as the tables say."""
        return cls.from_matrix(np.zeros((1, 5)))


@dataclass(frozen=True, slots=True)
class Run:
    """Moisture over time: times (T,), mean and risk (T, draws), moisture as a fraction."""

    times_days: Array
    mean: Array
    risk: Array

    def mean_at(self, when_days: Array) -> Array:
        """Mean moisture at given times, (len(when), draws)."""
        return np.stack([np.interp(when_days, self.times_days, column) for column in self.mean.T], axis=1)


def check_treatments(treatments: tuple[Treatment, ...]) -> None:
    """Raise unless treatments start at day 0 and ascend."""
    starts = [t.start_days for t in treatments]
    if not starts or starts[0] > 1e-9 or any(a >= b for a, b in itertools.pairwise(starts)):
        raise CoreError(
            "treatments-out-of-order",
            "treatments",
            "The first place must begin when drying begins, and each later one after it.",
        )


def _columns(piece: DryingPiece, unknowns: Unknowns) -> tuple[Columns, Array]:
    """Lay out draws x parts as columns, draw-major."""
    parts = PARTS[piece.grain]
    draws, n = len(unknowns.ln_k), len(parts)
    half = np.tile([(piece.foot_mm if p.uses_foot else piece.wall_mm) / 2000.0 for p in parts], draws)
    # A green piece never starts beyond what its cells can hold.
    most = (1.0 / piece.gb - 1.0 / 1.53) + FSP
    start = np.minimum(piece.green_mc_pct.typical / 100.0 * np.exp(unknowns.ln_mc), most)
    u = np.broadcast_to(np.repeat(start, n), (len(cell_fractions()), draws * n)).copy()
    d = diffusivity_of_wood(piece.gb, air_c=20.0, k=np.ones(1), chi=np.ones(1), tail=np.zeros(1))
    return Columns(half, np.full(draws * n, piece.gb * 1000.0), d, u, cell_fractions()), half


def simulate(
    piece: DryingPiece,
    treatments: tuple[Treatment, ...],
    *,
    until_days: float,
    unknowns: Unknowns | None = None,
    stops: tuple[float, ...] = (),
) -> Run:
    """Run the wood through its places, for every draw of the unknowns at once.

    Parameters
    ----------
    piece : DryingPiece
        Sizes and wood.
    treatments : tuple of Treatment
        Where it lay from when on; the first at day 0, ascending.
    until_days : float
        End of the run. [d]
    unknowns : Unknowns, optional
        One trajectory each; the tables' values where not given.
    stops : tuple of float
        Moments the steps must hit. [d]

    Returns
    -------
    run : Run
        Mean moisture and fast-drying index over time.

    References
    ----------
    .. [crank] and [siau]; surface resistances [assumed].
    """
    check_treatments(treatments)
    unknowns = unknowns or Unknowns.typical()
    parts = PARTS[piece.grain]
    draws = len(unknowns.ln_k)
    columns, _ = _columns(piece, unknowns)
    shares = piece.shares
    times, means, risks = [0.0], [], []

    def note() -> None:
        means.append(columns.mean().reshape(draws, len(parts)) @ shares)
        risks.append(_risk(piece, strain).reshape(draws, len(parts)).max(axis=1))

    mismatch = _mismatch(columns)
    strain = np.zeros_like(mismatch)
    note()
    ends = [t.start_days for t in treatments[1:]] + [until_days]
    for treatment, end in zip(treatments, ends, strict=True):
        begin, end = max(treatment.start_days, 0.0), min(end, until_days)
        if end <= begin:
            continue
        surface = _enter(piece, columns, treatment, unknowns)
        for when in time_steps(begin, end, stops=stops):
            step_days = when - times[-1]
            step_columns(columns, surface, step_days)
            times.append(when)
            before, mismatch = mismatch, _mismatch(columns)
            strain = (strain + mismatch - before) * np.exp(-step_days / RELAX_DAYS)
            note()
    return Run(np.array(times), np.array(means), np.array(risks))


def _enter(piece: DryingPiece, columns: Columns, treatment: Treatment, unknowns: Unknowns) -> AirSurface:
    """Set the columns' diffusivity for a new treatment and build its surface."""
    parts = PARTS[piece.grain]
    n, draws = len(parts), len(unknowns.ln_k)
    chi = [p.chi_sealed if treatment.ends_sealed else p.chi_open for p in parts]
    columns.d = diffusivity_of_wood(
        piece.gb,
        air_c=treatment.air_c,
        k=np.repeat(np.exp(unknowns.ln_k), n),
        chi=np.tile(chi, draws),
        tail=np.repeat(unknowns.tail, n),
    )
    rh = np.clip(treatment.rh_pct + unknowns.rh_pct, 1.0, 99.0) / 100.0
    resistance = WRAPS[treatment.wrap].resistance_s_m * np.exp(unknowns.ln_r)
    return AirSurface(
        columns, air_c=treatment.air_c, rh=np.repeat(rh, n), resistance_s_m=np.repeat(resistance, n)
    )


def _mismatch(columns: Columns) -> Array:
    """Bound water of the mean above that of the skin, kg/kg."""
    bound = np.minimum(columns.u, FSP)
    return np.asarray(columns.fractions @ bound - bound[-1])


def _risk(piece: DryingPiece, strain: Array) -> Array:
    """Index of relaxed mismatch strain between inside and skin: 0 safe, 1 checks.

    An index for ordering and trend, not a strain; scale and relaxation are assumed.
    """
    free = piece.shrink_tangential_pct / 100.0 / FSP * strain
    return np.asarray(np.maximum(RISK_SCALE * free / 0.012, 0.0))


def equivalent_wall_mm(width_mm: float, height_mm: float) -> float:
    """Return the slab that dries like a bar of two thicknesses (rates add).

    Parameters
    ----------
    width_mm, height_mm : float
        Cross-section. [mm]

    Returns
    -------
    wall_mm : float
        Thickness of the slab. [mm]

    References
    ----------
    .. [crank] product solutions: 1/t^2 = 1/w^2 + 1/h^2.
    """
    return 1.0 / math.sqrt(1.0 / width_mm**2 + 1.0 / height_mm**2)

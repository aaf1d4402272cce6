"""What a drying piece is to the engine: its parts, its treatments, its water over time."""

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.drying.diffusion import (
    CELLS,
    FIRST_DAYS,
    FSP,
    SECONDS_PER_DAY,
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
    "Go",
    "Part",
    "Run",
    "Treatment",
    "Turning",
    "Unknowns",
    "Wrap",
    "check_treatments",
    "equivalent_wall_mm",
    "evaporated_g",
    "mould_per_day",
    "simulate",
]

Array = NDArray[np.float64]


# Wood under strain gives way slowly; and how the index is scaled (both assumed).
RELAX_DAYS = 20.0
RISK_SCALE = 0.50
# First step where only the air of the season changed, and how far after a deed its mark stands.
GENTLE_DAYS = 0.5
JUMP_DAYS = 1e-6
NEARLY = 0.93
# Microwave: share of the power that drives out water, and heat to evaporate it (assumed).
EFFICIENCY = 0.4
LATENT_J_KG = 2.40e6


@dataclass(frozen=True, slots=True)
class Wrap:
    """A way of keeping a piece while it dries, as a vapour resistance in s/m."""

    key: str
    label: str
    resistance_s_m: float
    source: str
    helps: str
    mould_share: float = 1.0  # a coat keeps spores from the damp skin (assumed)


# Boundary layer of the air plus wrapping; assumed, calibrated to common practice.
WRAPS: dict[str, Wrap] = {
    wrap.key: wrap
    for wrap in (
        Wrap("open-shelf", "open on a shelf", 2000.0, "assumed", "quickest indoors"),
        Wrap("outdoors", "outdoors under a roof", 500.0, "assumed", "moving air"),
        Wrap("in-chuck", "running in the chuck", 250.0, "assumed", "an hour of moving air before sanding"),
        Wrap("fan-box", "warm box with a fan", 300.0, "assumed", "fast; watch for checks"),
        Wrap("paper-bag", "in a paper bag", 8000.0, "assumed", "slows the first weeks"),
        Wrap("waxed", "waxed all over", 17000.0, "assumed", "slow and even", mould_share=0.25),
        Wrap(
            "plastic-loose",
            "loosely closed plastic with shavings",
            62000.0,
            "assumed",
            "very slow; mould",
        ),
        Wrap("tight-film", "wrapped tight in film", 300_000.0, "assumed", "all but stops drying; mould"),
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
    # A block or log left whole, as the slab that dries like it (see equivalent_wall_mm).
    "block": (Part("block", 1.0, False, 1.0, 1.0),),
}


@dataclass(frozen=True, slots=True)
class Treatment:
    """From ``start_days`` on the piece lies in this air, in this wrap."""

    start_days: float
    air_c: float
    rh_pct: float
    wrap: str = "open-shelf"
    ends_sealed: bool = False
    gentle: bool = False  # only the season's air changed: no need to begin with small steps again

    def __post_init__(self) -> None:
        require_range("air_c", self.air_c, -5.0, 80.0, "Frozen wood hardly dries at all.")
        require_range("rh_pct", self.rh_pct, 1.0, 99.0)
        if self.wrap not in WRAPS:
            raise Unknown("wrap", self.wrap, list(WRAPS))


@dataclass(frozen=True, slots=True)
class Go:
    """A go in the microwave oven: so many seconds at a power, at a moment."""

    at_days: float
    power_w: float
    seconds: float

    def __post_init__(self) -> None:
        require_range("power_w", self.power_w, 50.0, 2000.0)
        require_range("seconds", self.seconds, 5.0, 600.0)


@dataclass(frozen=True, slots=True)
class Turning:
    """Turned again while drying: new wall and foot, weighed before and after."""

    at_days: float
    wall_mm: float
    foot_mm: float
    before_g: float
    after_g: float

    def __post_init__(self) -> None:
        require_range("wall_mm", self.wall_mm, 1.5, 120.0)
        require_range("foot_mm", self.foot_mm, 1.5, 200.0)
        require_range("after_g", self.after_g, 1.0, 200_000.0)
        if self.before_g < self.after_g:
            raise CoreError(
                "heavier-after",
                "after_g",
                "It cannot weigh more after turning ({after_g}) than before ({before_g}). Swap them?",
                {"after_g": self.after_g, "before_g": self.before_g},
            )


Deed = Go | Turning


@dataclass(frozen=True, slots=True)
class DryingPiece:
    """What the engine must know of a piece.

    ``dry_mass_g`` is what volume and species promise; ``dry_mass_sd`` its relative
    uncertainty (0.13 from a known volume, wider otherwise). A part cut from a drying piece
    brings what was learnt: its ``ln_k`` with its spread, and the ``profile`` of its water from
    the middle of the wall outwards, mean 1.
    """

    grain: str
    wall_mm: float
    foot_mm: float
    gb: float
    green_mc_pct: Known
    dry_mass_g: float
    shrink_tangential_pct: float
    dry_mass_sd: float = 0.13
    ln_k: float = 0.0
    ln_k_sd: float = 0.5
    profile: tuple[float, ...] = ()

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
    """Moisture over time: times (T,), all else (T, draws), moisture as a fraction.

    ``kept`` is the share of the first dry wood still there (less after turning again),
    ``mould`` a dose; ``last`` holds the columns as they ended, (cells, draws, parts).
    """

    times_days: Array
    mean: Array
    risk: Array
    mould: Array
    kept: Array
    last: Array

    def mean_at(self, when_days: Array) -> Array:
        """Mean moisture at given times, (len(when), draws)."""
        return _at(when_days, self.times_days, self.mean)

    def mass_at(self, when_days: Array) -> Array:
        """Mass over the first dry mass at given times, (len(when), draws)."""
        return _at(when_days, self.times_days, self.kept * (1.0 + self.mean))


def _at(when: Array, times: Array, rows: Array) -> Array:
    """Rows at given times, straight between, all columns at once."""
    i = np.clip(np.searchsorted(times, when, side="right"), 1, len(times) - 1)
    t0, t1 = times[i - 1], times[i]
    part = np.clip((when - t0) / np.maximum(t1 - t0, 1e-12), 0.0, 1.0)[:, None]
    return np.asarray(rows[i - 1] * (1.0 - part) + rows[i] * part)


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
    shape = np.array(piece.profile) if piece.profile else np.ones(CELLS)
    u = shape[:, None] * np.repeat(start, n)[None, :]
    d = diffusivity_of_wood(piece.gb, air_c=20.0, k=np.ones(1), chi=np.ones(1), tail=np.zeros(1))
    return Columns(half, np.full(draws * n, piece.gb * 1000.0), d, u, cell_fractions()), half


def simulate(
    piece: DryingPiece,
    treatments: tuple[Treatment, ...],
    *,
    until_days: float,
    unknowns: Unknowns | None = None,
    stops: tuple[float, ...] = (),
    deeds: tuple[Deed, ...] = (),
    enough: float | None = None,
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
    deeds : tuple of Go or Turning
        What was done to it while it dried, any order.
    enough : float, optional
        Mean moisture, as a fraction, below which nothing more is asked: the run ends once
        nearly every draw (``NEARLY``) is there and all deeds are done.

    Returns
    -------
    run : Run
        Mean moisture, fast-drying index, mould dose and share of wood kept over time.

    References
    ----------
    .. [crank] and [siau]; surface resistances [assumed].
    """
    check_treatments(treatments)
    course = _Course(piece, unknowns or Unknowns.typical())
    todo = sorted(deeds, key=lambda d: d.at_days)
    ends = [t.start_days for t in treatments[1:]] + [until_days]
    for treatment, end in zip(treatments, ends, strict=True):
        begin, end = max(treatment.start_days, 0.0), min(end, until_days)
        if end <= begin:
            continue
        course.enter(treatment)
        small = GENTLE_DAYS if treatment.gentle else FIRST_DAYS
        while todo and todo[0].at_days < end:
            deed = todo.pop(0)
            at = max(deed.at_days, begin)
            course.run(begin, at, stops, small)
            course.do(deed)
            course.enter(treatment)
            begin, small = at, FIRST_DAYS
        last = enough if not todo else None
        if course.run(begin, end, stops, small, enough=last):
            break
    for deed in todo:  # done at the very moment the run ends
        if deed.at_days <= until_days:
            course.do(deed)
    return course.told()


class _Course:
    """The columns on their way, and what was noted of them."""

    def __init__(self, piece: DryingPiece, unknowns: Unknowns) -> None:
        self.piece, self.unknowns = piece, unknowns
        self.parts, self.draws = PARTS[piece.grain], len(unknowns.ln_k)
        self.columns, _ = _columns(piece, unknowns)
        self.wall, self.foot = piece.wall_mm, piece.foot_mm
        self.strain = np.zeros(self.columns.u.shape[1])
        self.mismatch = _mismatch(self.columns)
        self.dose = np.zeros_like(self.strain)
        self.kept = np.ones(self.draws)
        self.air_c, self.mould_share = 20.0, 1.0
        self.surface: AirSurface | None = None
        self.times = [0.0]
        self.noted: tuple[list[Array], ...] = ([], [], [], [])
        self.note()

    def mean(self) -> Array:
        """Mean moisture of the whole piece, a draw each."""
        return np.asarray(self.columns.mean().reshape(self.draws, -1) @ self.piece.shares)

    def note(self) -> None:
        """Write down where it stands."""
        risk = _risk(self.piece, self.strain)
        rows = (self.mean(), self.worst(risk), self.worst(self.dose), self.kept.copy())
        for column, row in zip(self.noted, rows, strict=True):
            column.append(row)

    def worst(self, values: Array) -> Array:
        """The worst part of each draw."""
        return np.asarray(values.reshape(self.draws, -1).max(axis=1))

    def enter(self, treatment: Treatment) -> None:
        """Put it somewhere."""
        self.surface = _enter(self.piece, self.columns, treatment, self.unknowns)
        self.air_c = treatment.air_c
        self.mould_share = WRAPS[treatment.wrap].mould_share

    def run(
        self, begin: float, end: float, stops: tuple[float, ...], small: float, *, enough: float | None = None
    ) -> bool:
        """Let it lie from one moment to another; return whether it is dry enough to stop there."""
        assert self.surface is not None
        if end <= begin + 1e-9:
            return False
        for when in time_steps(begin, end, stops=stops, first_days=small):
            days = when - self.times[-1]
            lost = step_columns(self.columns, self.surface, days)
            self.times.append(when)
            before, self.mismatch = self.mismatch, _mismatch(self.columns)
            self.strain = (self.strain + self.mismatch - before) * np.exp(-days / RELAX_DAYS)
            growth = mould_per_day(self.surface.activity(lost / (days * SECONDS_PER_DAY)), self.air_c)
            self.dose = self.dose + days * self.mould_share * growth
            self.note()
            if enough is not None and float(np.quantile(self.noted[0][-1], NEARLY)) <= enough:
                return True
        return False

    def do(self, deed: Deed) -> None:
        """Do something to it at once; noted just after the moment, so that the course jumps there."""
        if isinstance(deed, Go):
            self._go(deed)
        else:
            self._turn(deed)
        self.mismatch = _mismatch(self.columns)
        self.times.append(self.times[-1] + JUMP_DAYS)
        self.note()

    def _go(self, go: Go) -> None:
        """Heat drives out water everywhere in proportion to what is there."""
        wet = self.mean()
        gone = evaporated_g(go.power_w, go.seconds, wet * 100.0) / (self.piece.dry_mass_g * self.kept)
        share = np.clip(1.0 - gone / np.maximum(wet, 1e-6), 0.05, 1.0)
        self.columns.u = self.columns.u * np.repeat(share, len(self.parts))[None, :]

    def _turn(self, turning: Turning) -> None:
        """Take the outside off: what is left is the inner part of the old profile."""
        before = self.mean()
        old = self.columns
        halves = np.tile(
            [(turning.foot_mm if p.uses_foot else turning.wall_mm) / 2000.0 for p in self.parts], self.draws
        )
        share = np.minimum(halves / old.half_m, 1.0)
        old.u = _inner(old, share)
        old.half_m = halves
        after = self.mean()
        self.kept = self.kept * (turning.after_g / (1.0 + after)) / (turning.before_g / (1.0 + before))
        self.strain = self.strain * 0.5  # the strained skin went with the shavings (assumed)

    def told(self) -> Run:
        """Return the whole course."""
        mean, risk, mould, kept = (np.array(rows) for rows in self.noted)
        last = self.columns.u.reshape(len(self.columns.fractions), self.draws, len(self.parts))
        return Run(np.array(self.times), mean, risk, mould, kept, last)


def _inner(columns: Columns, share: Array) -> Array:
    """Return u of the inner ``share`` of each half wall, spread over the same cells; water is kept."""
    edges = np.concatenate([[0.0], np.cumsum(columns.fractions)])
    water = np.vstack(
        [np.zeros(columns.u.shape[1]), np.cumsum(columns.fractions[:, None] * columns.u, axis=0)]
    )
    wanted = edges[:, None] * share[None, :]
    held = np.stack([np.interp(wanted[:, i], edges, water[:, i]) for i in range(len(share))], axis=1)
    return np.asarray(np.diff(held, axis=0) / (columns.fractions[:, None] * share[None, :]))


def evaporated_g(power_w: float, seconds: float, mc_pct: Array) -> Array:
    """Return the water a go in the microwave oven drives out.

    Parameters
    ----------
    power_w : float
        Of the oven. [W]
    seconds : float
        How long.
    mc_pct : array
        Mean moisture. [%]

    Returns
    -------
    water_g : array
        Efficiency times heat over latent heat; efficiency falls below 20 % moisture. [g]

    References
    ----------
    .. [assumed] efficiency 0.4; [common-practice] 8 to 9 g in a first minute on 400 to 550 g.
    """
    efficiency = EFFICIENCY * np.clip(np.asarray(mc_pct) / 20.0, 0.0, 1.0)
    return np.asarray(efficiency * power_w * seconds / LATENT_J_KG * 1000.0)


def mould_per_day(activity: Array, air_c: float) -> Array:
    """Return how fast mould comes on, as a dose a day.

    Parameters
    ----------
    activity : array
        Water activity at the surface, 0 to 1.
    air_c : float
        Temperature. [°C]

    Returns
    -------
    dose : array
        Growth of the mould index on pine; nothing below the critical humidity.

    References
    ----------
    .. [mould-model] time to growth on pine sapwood against humidity and temperature, as a dose
       that does not fall again; from memory.
    """
    if not 0.0 < air_c < 50.0:
        return np.zeros_like(activity)
    critical = 80.0 if air_c > 20.0 else -0.00267 * air_c**3 + 0.160 * air_c**2 - 3.13 * air_c + 100.0
    rh = np.clip(100.0 * activity, 1.0, 100.0)
    weeks = np.exp(-0.68 * math.log(air_c) - 13.9 * np.log(rh) + 66.02)
    return np.asarray(np.where(rh >= critical, 1.0 / (7.0 * weeks), 0.0))


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


def equivalent_wall_mm(
    width_mm: float, height_mm: float, *, length_mm: float | None = None, ends_sealed: bool = False
) -> float:
    """Return the slab that dries like a block or bar (rates add).

    Parameters
    ----------
    width_mm, height_mm : float
        Cross-section. [mm]
    length_mm : float, optional
        Along the grain; endless where not given. [mm]
    ends_sealed : bool
        Sealed ends let water out no faster than the sides.

    Returns
    -------
    wall_mm : float
        Thickness of the slab. [mm]

    References
    ----------
    .. [crank] product solutions: 1/t^2 = 1/w^2 + 1/h^2 + r/l^2, r about 10 for open end grain [assumed].
    """
    ends = 0.0 if length_mm is None else (1.0 if ends_sealed else 10.0) / length_mm**2
    return 1.0 / math.sqrt(1.0 / width_mm**2 + 1.0 / height_mm**2 + ends)

"""The shape bench's answer: a drawn form judged as wood, as a vessel and as a cut from its blank."""

import math
from dataclasses import dataclass, field

import numpy as np
from shapely.geometry import LineString

from kilncore.errors import Impossible, Unknown, require_range
from kilncore.said import Caution, Figure, Sentence, say
from kilncore.solids.curve import Handle, Path, curve, foot_index
from kilncore.solids.measure import Solid, Wall, measured, wall_of
from kilncore.solids.stand import Standing, standing
from kilncore.solids.walls import WallPlan, inner_path
from kilncore.solids.warp import ORIENTATIONS, Pith, pith_from_rim
from kilncore.wood.moisture import density_kg_m3
from kilncore.wood.species import Species

__all__ = [
    "DRY_PCT",
    "FEET",
    "BlankRound",
    "Design",
    "Foot",
    "Mark",
    "Setting",
    "Shaped",
    "Stock",
    "largest_in",
    "shaped",
]

FEET = ("none", "tenon", "recess")

# Thinner than this is called through; callipers do not read much less.
THROUGH_MM = 0.8
THIN_MM = 2.0
# Wood wanted round and under a recess (common practice: a thin ring bursts).
RING_MM = 10.0
UNDER_MM = 4.0
TOOL_ROOM_MM = 6.0
RINGS = 9
DRY_PCT = 10.0
LEAST_RISE_MM = 5.0


@dataclass(frozen=True, slots=True)
class Foot:
    """What the chuck grips: none, a tenon below the foot, or a recess in it. [mm]."""

    kind: str = "none"
    diameter_mm: float = 0.0
    length_mm: float = 0.0

    def __post_init__(self) -> None:
        if self.kind not in FEET:
            raise Unknown("foot", self.kind, list(FEET))
        if self.kind != "none":
            require_range("diameter_mm", self.diameter_mm, 10.0, 400.0)
            require_range("length_mm", self.length_mm, 1.0, 60.0)


@dataclass(frozen=True, slots=True)
class Stock:
    """The blank: its size, how it lay in the log, and the log where it is known. [mm].

    ``pith_mm``: rim plane to pith of side grain, axis to pith of end grain.
    """

    diameter_mm: float
    height_mm: float
    orientation: str = "rim-to-pith"
    pith_mm: float | None = None
    log_radius_mm: float | None = None
    bark_mm: float = 0.0

    def __post_init__(self) -> None:
        require_range("diameter_mm", self.diameter_mm, 20.0, 1500.0)
        require_range("height_mm", self.height_mm, 10.0, 1500.0)
        if self.orientation not in ORIENTATIONS:
            raise Unknown("orientation", self.orientation, list(ORIENTATIONS))

    def pith_in(self, rim_z_mm: float) -> Pith | None:
        """Return the pith in the heights of a shape whose rim lies at ``rim_z_mm``."""
        if self.pith_mm is None:
            return None
        return pith_from_rim(self.orientation, rim_mm=rim_z_mm, pith_mm=self.pith_mm)


@dataclass(frozen=True, slots=True)
class Design:
    """A form as drawn: handles outside, handles inside or a wall plan, plan view, foot."""

    outer: tuple[Handle, ...]
    inner: tuple[Handle, ...] = ()
    plan: WallPlan = field(default_factory=WallPlan)
    half_mm: float | None = None
    foot: Foot = field(default_factory=Foot)

    def __post_init__(self) -> None:
        if self.half_mm is not None:
            require_range("half_mm", self.half_mm, 10.0, 600.0)

    def paths(self) -> tuple[Path, Path]:
        """Return the outer and inner path.

        Raises
        ------
        Impossible
            Where a curve does not rise, has no width, crosses itself, or leaves no hollow.
        """
        outer = curve(self.outer)
        _check_path(outer, "outer", "outside")
        if not self.inner:
            return outer, inner_path(outer, self.plan)
        inner = curve(self.inner)
        _check_path(inner, "inner", "inside")
        return outer, inner


def _check_path(path: Path, field: str, side: str) -> None:
    """A profile runs from the foot up to the rim and does not cross itself."""
    rise = path[-1][1] - path[0][1]
    if rise < LEAST_RISE_MM:
        text = "The {side} curve ends {rise_mm} above its start: it runs from the foot up to the rim, {least_mm} at least."
        params: dict[str, float | str] = {"side": side, "rise_mm": rise, "least_mm": LEAST_RISE_MM}
        raise Impossible("not-rising", field, text, params)
    if max(r for r, _ in path) < 3.0:
        raise Impossible("no-width", field, "The {side} curve has no width.", {"side": side})
    if not LineString(path).is_simple:
        text = "The {side} curve crosses itself; move the point that lies out of order."
        raise Impossible("crosses-itself", field, text, {"side": side})


@dataclass(frozen=True, slots=True)
class Setting:
    """What the form is judged with: wood, moisture, blank, screw hole from the rim, tool for the mouth."""

    wood: Species
    mc_pct: float = DRY_PCT
    stock: Stock | None = None
    hole_mm: float | None = None
    tool_mm: float = 16.0


@dataclass(frozen=True, slots=True)
class Mark:
    """A caution with the place it speaks of."""

    r_mm: float
    z_mm: float
    caution: Caution


@dataclass(frozen=True, slots=True)
class BlankRound:
    """The blank round the shape, in the shape's heights. Rings are arcs about the pith. [mm]."""

    radius_mm: float
    low_mm: float
    top_mm: float
    pith: Pith | None
    rings_mm: tuple[float, ...]
    bark_mm: tuple[float, float] | None


@dataclass(frozen=True, slots=True)
class Shaped:
    """Everything the shape bench shows of a form."""

    outer: Path
    inner: Path
    solid: Solid
    wall: Wall
    stands: Standing | None
    figures: tuple[Figure, ...]
    marks: tuple[Mark, ...]
    blank: BlankRound | None
    swing_mm: float


def shaped(design: Design, setting: Setting, *, full: bool = True) -> Shaped:
    """Return what a form is worth: walls, volumes, weights, whether it stands, what goes wrong.

    Parameters
    ----------
    design : Design
        Handles, wall and foot.
    setting : Setting
        Wood, moisture, blank and tools.
    full : bool
        Whether to work out how it stands, too; the slowest part.

    Returns
    -------
    shaped : Shaped
        Paths in mm; figures with reasons; cautions with their places.

    Raises
    ------
    Impossible
        Where the handles make no profile or no hollow.

    References
    ----------
    .. [pappus] volumes; [geometry] least distances.
    """
    outer, inner = design.paths()
    solid = measured(outer, inner, half_mm=design.half_mm)
    if solid.wood_cm3 <= 0.0:
        raise Impossible(
            "inside-out", "handles", "The inner curve encloses more than the outer: no wood is left."
        )
    wall = wall_of(outer, inner)
    dry = solid.wood_cm3 * density_kg_m3(setting.wood.gb.typical, mc_pct=DRY_PCT) / 1000.0
    now = solid.wood_cm3 * density_kg_m3(setting.wood.gb.typical, mc_pct=setting.mc_pct) / 1000.0
    stands = standing(outer, inner, mass_g=dry, cg_z_mm=solid.cg_z_mm) if full else None
    swing = 2.0 * max(r for r, _ in outer)
    blank = _blank(outer, design.foot, setting.stock)
    figures = [*_wall_figures(wall, design), *_vessel_figures(solid, now, dry, setting)]
    if stands:
        figures += _stand_figures(stands)
    figures += _waste(outer, solid, design, setting.stock)
    marks = (
        *_wall_marks(wall),
        *_foot_marks(outer, inner, design.foot, wall),
        *_hole_mark(inner, setting.hole_mm),
        *_mouth_mark(outer, inner, setting.tool_mm),
        *_blank_marks(outer, design, setting.stock, blank),
    )
    return Shaped(outer, inner, solid, wall, stands, tuple(figures), marks, blank, swing)


def _figure(name: str, label: str, value: float, why: Sentence | None = None, **more: object) -> Figure:
    source = str(more.get("source", "geometry"))
    return Figure(name, label, value=round(value, 2), why=why, source=source,
                  group=str(more.get("group", "shape")), big=bool(more.get("big", False)))  # fmt: skip


def _wall_figures(wall: Wall, design: Design) -> list[Figure]:
    square = "Least distance between the two curves, not measured level."
    return [
        _figure("thin_mm", "Thinnest", wall.thin[2],
                say("thin-at", square + " {up_mm} above the foot, {across_mm} across; the rim's last bit is left out.",
                    up_mm=wall.thin[1], across_mm=2 * wall.thin[0]), group="wall", big=True),
        _figure("thick_mm", "Thickest side", wall.thick[2],
                say("thick-at", square + " {up_mm} above the foot.", up_mm=wall.thick[1]), group="wall", big=True),
        _figure("bottom_mm", "Bottom", wall.bottom_mm,
                say("bottom-at", "Straight down at its thinnest, a dished foot included; the tenon does not count."),
                group="wall", big=True),
    ]  # fmt: skip


def _vessel_figures(solid: Solid, now: float, dry: float, setting: Setting) -> list[Figure]:
    figures = [
        _figure("capacity_ml", "Holds to the brim", solid.capacity_cm3,
                say("capacity", "The hollow turned round the axis, to where it runs over."), source="pappus"),
        _figure("mass_now_g", "Weight now", now,
                say("mass-now", "{wood_cm3} of {wood} at {mc_pct} moisture.", wood_cm3=solid.wood_cm3,
                    wood=setting.wood.common, mc_pct=setting.mc_pct), source="wood-handbook"),
        _figure("mass_dry_g", "Weight dry", dry,
                say("mass-dry", "The same at {dry_pct} moisture.", dry_pct=DRY_PCT), source="wood-handbook"),
        _figure("outside_cm2", "Outside to sand", solid.outside_cm2, source="pappus"),
        _figure("inside_cm2", "Inside to sand", solid.inside_cm2, source="pappus"),
        _figure("balance_mm", "Centre of gravity above the foot", solid.cg_z_mm, source="pappus"),
    ]  # fmt: skip
    if solid.trapped_cm3 > 1.0:
        figures.append(_figure("trapped_ml", "Air under the lip", solid.trapped_cm3,
                               say("trapped", "Under the turned-in lip water does not reach."), source="pappus"))  # fmt: skip
    return figures


def _stand_figures(stands: Standing) -> list[Figure]:
    why = say(
        "tips",
        "Where its centre of gravity stands highest while it is pushed over."
        + (" It rolls on its belly first." if stands.rolls else ""),
    )
    tips = 90.0 if stands.tips_deg is None else stands.tips_deg
    label = "Rights itself from a tilt up to" if stands.tips_deg is None else "Tips when pushed over by"
    if stands.tips_deg == 0.0:
        label = "Does not stand"
    full = 90.0 if stands.tips_full_deg is None else stands.tips_full_deg
    return [
        _figure("tips_deg", label, tips, why),
        _figure("full_deg", f"Filled to {stands.filled_share:.0%}: tips or spills at", min(full, stands.spills_deg),
                say("spills", "Water keeps level: it runs over at {spills_deg}.", spills_deg=stands.spills_deg)),
    ]  # fmt: skip


def _waste(outer: Path, solid: Solid, design: Design, stock: Stock | None) -> list[Figure]:
    if stock is None:
        return []
    whole = math.pi * (stock.diameter_mm / 2.0) ** 2 * stock.height_mm / 1000.0
    tenon = math.pi / 4.0 * design.foot.diameter_mm**2 * design.foot.length_mm / 1000.0
    kept = solid.wood_cm3 + (tenon if design.foot.kind == "tenon" else 0.0)
    return [
        _figure("shavings_pct", "Goes to shavings", 100.0 * (1.0 - kept / whole),
                say("shavings", "{outside_cm3} outside and {inside_cm3} inside of a blank of {blank_cm3}; "
                    "a core may come out of the inside.", outside_cm3=max(whole - solid.outer_cm3, 0.0),
                    inside_cm3=solid.outer_cm3 - solid.wood_cm3, blank_cm3=whole))
    ]  # fmt: skip


def _blank(outer: Path, foot: Foot, stock: Stock | None) -> BlankRound | None:
    """The blank hangs from the rim: its face is the rim's plane, what is spare lies at the foot."""
    if stock is None:
        return None
    top = max(z for _, z in outer)
    pith = stock.pith_in(top)
    log = stock.log_radius_mm
    reach = log or (stock.diameter_mm / 2.0 + (abs(pith.z_mm - top) if pith else 0.0))
    rings = tuple(reach * (i + 1) / (RINGS + 1) for i in range(RINGS)) if pith else ()
    bark = (log, log + stock.bark_mm) if log is not None and pith is not None else None
    return BlankRound(stock.diameter_mm / 2.0, top - stock.height_mm, top, pith, rings, bark)


def _mark(level: str, r: float, z: float, sentence: Sentence) -> Mark:
    return Mark(round(r, 2), round(z, 2), Caution(level, sentence))


def _wall_marks(wall: Wall) -> list[Mark]:
    r, z, thin = wall.thin
    marks = []
    if thin <= THROUGH_MM:
        marks.append(
            _mark("stop", r, z, say("through-side", "Goes through the side {up_mm} above the foot.", up_mm=z))
        )
    elif thin < THIN_MM:
        marks.append(
            _mark(
                "care",
                r,
                z,
                say("thin-side", "Only {wall_mm} is left {up_mm} above the foot.", wall_mm=thin, up_mm=z),
            )
        )
    if wall.bottom_mm <= THROUGH_MM:
        marks.append(_mark("stop", 0.0, 0.0, say("through-bottom", "Goes through the bottom.")))
    elif wall.bottom_mm < 3.0:
        marks.append(
            _mark(
                "care",
                0.0,
                wall.bottom_mm,
                say("thin-bottom", "Only {bottom_mm} of bottom is left.", bottom_mm=wall.bottom_mm),
            )
        )
    return marks  # fmt: skip


def _foot_marks(outer: Path, inner: Path, foot: Foot, wall: Wall) -> list[Mark]:
    if foot.kind == "none":
        return []
    radius = foot.diameter_mm / 2.0
    side = np.array(outer[foot_index(outer) :])
    edge = float(side[0, 0])
    if foot.kind == "tenon":
        if radius > edge - 1.5:
            short = radius - edge + 2.0
            text = "The tenon eats into the curve: it wants a shoulder, so a foot {more_mm} wider or a smaller tenon."
            return [_mark("stop", radius, 0.0, say("tenon-eats", text, more_mm=2.0 * short))]
        return []
    marks = []
    at = side[side[:, 1] <= foot.length_mm]
    ring = (float(at[:, 0].min()) if len(at) else edge) - radius
    if ring < RING_MM:
        text = "Only {ring_mm} of wood stands outside of the recess: it bursts as the jaws open. {want_mm} is wanted."
        marks.append(_mark("stop" if ring < 0.6 * RING_MM else "care", radius, foot.length_mm,
                           say("recess-wall", text, ring_mm=max(ring, 0.0), want_mm=RING_MM)))  # fmt: skip
    left = wall.bottom_mm - foot.length_mm
    if left < UNDER_MM:
        marks.append(_mark("stop" if left < THROUGH_MM else "care", 0.0, foot.length_mm,
                           say("recess-deep", "Above the recess only {left_mm} of bottom is left.", left_mm=max(left, 0.0))))  # fmt: skip
    return marks


def _hole_mark(inner: Path, hole_mm: float | None) -> list[Mark]:
    if hole_mm is None:
        return []
    end = inner[-1][1] - hole_mm
    if end >= inner[0][1]:
        return []
    text = "The screw's hole, {hole_mm} from the rim, ends {under_mm} below the hollow's floor: it stays in the bowl. Use a spacer."
    return [_mark("stop", 0.0, end, say("hole-left", text, hole_mm=hole_mm, under_mm=inner[0][1] - end))]


def _mouth_mark(outer: Path, inner: Path, tool_mm: float) -> list[Mark]:
    mouth, belly = 2.0 * inner[-1][0], 2.0 * max(r for r, _ in inner)
    if mouth >= tool_mm + TOOL_ROOM_MM or belly <= mouth * 1.05:
        return []
    text = "The mouth is {mouth_mm}: a bar of {tool_mm} has no room to swing in it."
    return [
        _mark("stop", inner[-1][0], inner[-1][1], say("mouth-small", text, mouth_mm=mouth, tool_mm=tool_mm))
    ]


def _blank_marks(outer: Path, design: Design, stock: Stock | None, blank: BlankRound | None) -> list[Mark]:
    if stock is None or blank is None:
        return []
    marks = []
    r, z = max(outer, key=lambda p: p[0])
    r = min(r, design.half_mm or r)  # a square blank is as wide as its side
    if r > blank.radius_mm + 0.05:
        marks.append(
            _mark(
                "stop",
                r,
                z,
                say(
                    "outside-blank",
                    "It is {over_mm} wider than the blank.",
                    over_mm=2.0 * (r - blank.radius_mm),
                ),
            )
        )
    low = outer[0][1] - (design.foot.length_mm if design.foot.kind == "tenon" else 0.0)
    if low < blank.low_mm - 0.05:
        marks.append(
            _mark(
                "stop",
                0.0,
                low,
                say(
                    "deeper-than-blank",
                    "With its hold it is {over_mm} deeper than the blank.",
                    over_mm=blank.low_mm - low,
                ),
            )
        )
    if blank.bark_mm is not None and blank.pith is not None and stock.orientation != "end-grain":
        away = [math.hypot(r, z - blank.pith.z_mm) for r, z in outer]
        i = max(range(len(away)), key=lambda k: away[k])
        wood = blank.bark_mm[0]
        if away[i] > blank.bark_mm[1] + 0.5:
            text = "Across the grain it reaches {over_mm} past the log here: a flat or a dip stays in it."
            marks.append(_mark("stop", *outer[i], say("past-log", text, over_mm=away[i] - blank.bark_mm[1])))
        elif away[i] > wood + 0.2:
            marks.append(
                _mark(
                    "care",
                    *outer[i],
                    say(
                        "in-bark",
                        "Bark comes to the surface here, {deep_mm} deep: glue it or cut it away.",
                        deep_mm=away[i] - wood,
                    ),
                )
            )
    return marks  # fmt: skip


def largest_in(design: Design, stock: Stock) -> tuple[float, float, float]:
    """Return the largest bowl of the same form a blank holds, all its lengths scaled alike.

    Parameters
    ----------
    design : Design
        The form; its hold keeps its own size.
    stock : Stock
        The blank, and the log where it is known.

    Returns
    -------
    scale, diameter_mm, height_mm : float
        Against the form as drawn, and outside sizes. [mm]

    References
    ----------
    .. [geometry] halving on the scale.
    """
    outer = np.array(curve(design.outer))
    outer[:, 1] -= outer[0, 1]
    spare = design.foot.length_mm if design.foot.kind == "tenon" else 0.0
    outer[:, 0] = np.minimum(outer[:, 0], design.half_mm or np.inf)
    wide, tall = float(outer[:, 0].max()), float(outer[:, 1].max())
    most = min(stock.diameter_mm / 2.0 / wide, max(stock.height_mm - spare, 1.0) / tall)
    log, pith = stock.log_radius_mm, stock.pith_in(0.0)
    if log is None or pith is None or stock.orientation == "end-grain":
        return most, 2.0 * wide * most, tall * most
    low, high = 0.01, most
    for _ in range(30):
        k = 0.5 * (low + high) if high - low > 1e-6 else high
        at = outer * k
        inside = np.hypot(at[:, 0], at[:, 1] - tall * k - pith.z_mm).max() <= log
        low, high = (k, high) if inside else (low, k)
    return low, 2.0 * wide * low, tall * low

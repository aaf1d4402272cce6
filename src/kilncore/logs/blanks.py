"""One blank in a log: how large it comes where it lies, and what speaks against it."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray
from shapely import maximum_inscribed_circle
from shapely.geometry import LineString, Point, Polygon
from shapely.ops import split

from kilncore.errors import Impossible, Unknown, require_range
from kilncore.logs.shape import LogShape, Section
from kilncore.said import Sentence, say
from kilncore.solids.revolve import FAMILIES

Array = NDArray[np.float64]

__all__ = [
    "CUTS",
    "Blank",
    "Cut",
    "Saw",
    "Spot",
    "blank_at",
    "largest_face_mm",
    "pith_margin_mm",
]

# A bowl's profile against its cylinder; steps of the depth it is compared at.
PROFILE = "hemisphere"
FOOT = 0.4
STEPS = 24
DOWN = 1.0 - np.arange(STEPS + 1) / STEPS
# A bowl this deep for its width, where the turner asks for nothing else (assumed).
DEPTH_SHARE = 0.42
DEEPEST = 0.55
# Below this width a bowl loses worth quickly (assumed).
SMALL_MM = 150.0
# A natural rim's low sides stand at least this share of its high ends (assumed).
RIM_LOW = 0.55


@dataclass(frozen=True, slots=True)
class Cut:
    """A way of taking a blank: what it is good for and where its rim lies."""

    key: str
    label: str
    form: str
    rim: str
    good_for: str


CUTS: dict[str, Cut] = {
    c.key: c
    for c in (
        Cut("half", "Half, rim to the pith", "side-grain-bowl", "the sawn face nearest the pith",
            "salad and fruit bowls; rings lie even either side"),
        Cut("quarter", "Quarter", "side-grain-bowl", "the sawn face nearest the pith",
            "smaller bowls that stay rounder: rings run more upright"),
        Cut("natural-edge", "Half, rim to the bark", "natural-edge-bowl", "the bark; the sawn face is the foot",
            "bowls with the bark left on as the rim"),
        Cut("end-grain-beside", "End grain beside the pith", "end-grain-vase", "either sawn end",
            "vases and hollow forms that can dry whole"),
        Cut("end-grain", "End grain round the pith", "end-grain-vase", "either sawn end",
            "thin hollow forms, once turned; the pith is in the foot"),
        Cut("bored-branch", "Branch, pith bored out", "end-grain-vase", "either sawn end",
            "vases with bark or whole rings, dried without a split"),
        Cut("slab", "Slab", "side-grain-bowl", "the face away from the pith",
            "platters and shallow dishes"),
    )
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Saw:
    """Kerf and what is added to each cut. mm."""

    kerf_mm: float = 8.0
    trim_mm: float = 10.0
    depth_share: float = DEPTH_SHARE
    bit_mm: float = 32.0

    def __post_init__(self) -> None:
        require_range("kerf_mm", self.kerf_mm, 0.0, 30.0, "A chainsaw takes 6 to 10 mm.")
        require_range("trim_mm", self.trim_mm, 0.0, 100.0)
        require_range("depth_share", self.depth_share, 0.1, 1.2)
        require_range("bit_mm", self.bit_mm, 8.0, 120.0)


@dataclass(frozen=True, slots=True)
class Spot:
    """Where a blank lies: place along the log, direction, distance and shift of its flat face.

    ``face_mm`` from the log's middle along ``angle_deg``; ``shift_mm`` along the face;
    ``wanted_mm`` a diameter not to go beyond, ``height_mm`` a height to take.
    """

    cut: str
    start_mm: float
    length_mm: float
    angle_deg: float = 90.0
    face_mm: float = 0.0
    shift_mm: float | None = None
    wanted_mm: float | None = None
    height_mm: float | None = None
    locked: bool = False
    id: str = ""

    def __post_init__(self) -> None:
        if self.cut not in CUTS:
            raise Unknown("cut", self.cut, list(CUTS))


@dataclass(frozen=True, slots=True)
class Blank:
    """A blank as it comes out. ``end`` is its outline seen at the log's end, mm from the middle.

    ``pith_mm``: pith below the rim plane of a side-grain blank (0 where it lies in it), or off
    the axis of an end-grain one. ``holds_pith`` where it runs through the wood that stays.
    """

    spot: Spot
    form: str
    diameter_mm: float
    height_mm: float
    cylinder_mm: float
    pith_mm: float
    holds_pith: bool
    volume_cm3: float
    end: tuple[tuple[float, float], ...]
    rim_low_mm: float | None
    risks: tuple[Sentence, ...]

    @property
    def worth(self) -> float:
        """Usefulness for choosing between layouts.

        More than the square of the width, less for what is shallow, much less for what will split.

        Not volume: wood round the pith has most of it and cracks. Exponent and shares are assumed.
        """
        share = 0.3 if self.holds_pith else 0.6 if self.spot.cut == "slab" else 1.0
        shallow = min(1.0, self.height_mm / (0.3 * self.diameter_mm)) ** 2
        if self.form == "end-grain-vase":  # tall counts, too
            share *= max(1.0, self.height_mm / self.diameter_mm)
        else:  # a small bowl is hardly worth the sawing
            share *= min(1.0, self.diameter_mm / SMALL_MM) ** 2
        return float(share * shallow * (self.diameter_mm / 100.0) ** 2.5)


def pith_margin_mm(section: Section) -> float:
    """Return how far from the pith sound wood begins: a twentieth of the log, at least 10 mm.

    Parameters
    ----------
    section : Section
        The log there.

    Returns
    -------
    margin_mm : float
        Half the slab that goes out with the pith. [mm]

    References
    ----------
    .. [common-practice] the slab with the pith is sawn out; its thickness is our assumption.
    """
    return max(10.0, 0.05 * 2.0 * min(section.a_mm, section.b_mm))


@cache
def _shares(family: str) -> Array:
    """Radius over the widest at each step of the height, foot to rim; all one for a cylinder."""
    if family == "cylinder":
        return np.ones(STEPS + 1)
    shape = FAMILIES[family]
    values = np.array([shape(i / STEPS) for i in range(STEPS + 1)])
    return np.asarray(np.maximum(values / values.max(), FOOT))


def largest_face_mm(
    section: Section,
    *,
    angle_deg: float,
    face_mm: float,
    height_mm: float,
    family: str = PROFILE,
    edge_mm: float | None = None,
    shift_mm: float | None = None,
) -> tuple[float, float]:
    """Return the widest bowl whose rim lies on a sawn face, and where along the face it sits.

    Parameters
    ----------
    section : Section
        The log.
    angle_deg : float
        From the face towards the bark. [deg]
    face_mm, height_mm : float
        Face off the middle; height from the face towards the bark. [mm]
    family : str
        Outline; ``"cylinder"`` for the plain round.
    edge_mm : float, optional
        A second sawn face along the first, beyond which the blank may not go. [mm]
    shift_mm : float, optional
        Axis along the face; found where not given. [mm]

    Returns
    -------
    diameter_mm, shift_mm : float
        Nothing fits where the diameter is 0.

    References
    ----------
    .. [geometry] the chord at each depth must hold the profile at that depth; for a cylinder
       in a circle 2 sqrt(R^2 - (u + h)^2).
    """
    share = _shares(family)
    ends = section.chords(angle_deg, face_mm + height_mm * DOWN)
    if ends is None:
        return 0.0, 0.0
    left, right = ends
    if edge_mm is not None:
        left = np.maximum(left, edge_mm)
    if shift_mm is None:  # every left side against every right side
        half = float(((right[:, None] - left[None, :]) / (share[:, None] + share[None, :])).min())
        shift_mm = 0.5 * (float((left + half * share).max()) + float((right - half * share).min()))
    else:
        half = float(np.minimum((shift_mm - left) / share, (right - shift_mm) / share).min())
    return max(2.0 * half, 0.0), shift_mm


def blank_at(log: LogShape, spot: Spot, saw: Saw) -> Blank:
    """Return what a spot in a log gives.

    Parameters
    ----------
    log : LogShape
        The log.
    spot : Spot
        Where the blank lies.
    saw : Saw
        Kerf, trims and habits.

    Returns
    -------
    blank : Blank
        As large as the wood there allows, or as wanted.

    Raises
    ------
    Impossible
        Where no blank of 40 mm comes out.

    References
    ----------
    .. [geometry] chords of the section; boundaries kept by the smaller end of the spot.
    """
    end = spot.start_mm + spot.length_mm
    if spot.start_mm < 0.0 or end > log.length_mm + 0.5:
        raise Impossible("past-the-end", "start_mm", "That lies beyond the end of the log.")
    section = log.smaller_of(spot.start_mm, end)
    blank = _MAKERS[spot.cut](section, spot, saw)
    if blank is None or blank.diameter_mm < 40.0 or blank.height_mm < 15.0:
        raise Impossible("nothing-comes-out", "face_mm", "No blank worth having comes out there.")
    return replace(blank, risks=(*_risks(section, blank, log), *blank.risks))


Maker = Callable[[Section, Spot, Saw], "Blank | None"]


def _turned(x: float, t: float, angle_deg: float) -> tuple[float, float]:
    """From along-the-face and away-from-the-middle to the end's own x and y."""
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    return round(t * c - x * s, 2), round(t * s + x * c, 2)


def _on_face(
    section: Section, spot: Spot, saw: Saw, *, edge: float | None, share: float, form: str
) -> Blank | None:
    most = min(spot.length_mm - saw.trim_mm, spot.wanted_mm or math.inf)
    room = section.reach(spot.angle_deg) - spot.face_mm

    def widest(height: float, family: str = PROFILE) -> tuple[float, float]:
        return largest_face_mm(
            section,
            angle_deg=spot.angle_deg,
            face_mm=spot.face_mm,
            height_mm=height,
            family=family,
            edge_mm=edge,
            shift_mm=spot.shift_mm,
        )

    if spot.height_mm is not None:
        height = spot.height_mm
        diameter, shift = widest(height)
    else:  # as deep as the usual share of its own width
        height = _most(max(room, 0.0), lambda h: share * min(widest(h)[0], most) >= h)
        diameter, shift = widest(height)
        wide = min(diameter, most)  # deeper costs nothing while it stays as wide
        deepest = min(max(room, 0.0), DEEPEST * wide)
        height = max(height, _most(deepest, lambda h: widest(h)[0] >= wide))
        diameter, shift = widest(height)
    diameter = min(diameter, most)
    if diameter <= 0.0 or height <= 0.0:
        return None
    cylinder = min(widest(height, "cylinder")[0], diameter)
    pith = spot.face_mm - section.pith_t(spot.angle_deg)
    return Blank(
        spot=replace(spot, shift_mm=shift),
        form=form,
        diameter_mm=round(diameter, 1),
        height_mm=round(height, 1),
        cylinder_mm=round(cylinder, 1),
        pith_mm=round(max(pith, 0.0), 1),
        holds_pith=-height < pith < 0.5 * pith_margin_mm(section) and _across(section, spot, shift, diameter),
        volume_cm3=_bowl_cm3(diameter, height),
        end=_bowl_outline(diameter, height, shift, spot),
        rim_low_mm=None,
        risks=(),
    )


def _most(high: float, holds: Callable[[float], bool]) -> float:
    """Return the greatest height up to ``high`` for which something holds that stops holding once."""
    if holds(high):
        return high
    low = 0.0
    for _ in range(16):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if holds(middle) else (low, middle)
    return low


def _across(section: Section, spot: Spot, shift: float, diameter: float) -> bool:
    c, s = math.cos(math.radians(spot.angle_deg)), math.sin(math.radians(spot.angle_deg))
    along = -section.pith[0] * s + section.pith[1] * c
    return abs(along - shift) < diameter / 2.0


def _bowl_outline(
    diameter: float, height: float, shift: float, spot: Spot
) -> tuple[tuple[float, float], ...]:
    """Rim corners on the face, the profile down to the foot and up the other side."""
    share = _shares(PROFILE)
    ts = [spot.face_mm + height * (1.0 - i / STEPS) for i in range(STEPS + 1)]
    right = [(shift + diameter / 2.0 * share[i], ts[i]) for i in range(STEPS, -1, -3)]
    left = [(shift - diameter / 2.0 * share[i], ts[i]) for i in range(0, STEPS + 1, 3)]
    return tuple(_turned(x, t, spot.angle_deg) for x, t in (*right, *left))


def _bowl_cm3(diameter: float, height: float) -> float:
    share = _shares(PROFILE)
    squares = (share[:-1] ** 2 + share[:-1] * share[1:] + share[1:] ** 2) / 3.0
    return round(math.pi * (diameter / 2.0) ** 2 * height / STEPS * float(squares.sum()) / 1000.0, 1)


def _half(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    return _on_face(section, spot, saw, edge=None, share=saw.depth_share, form="side-grain-bowl")


def _quarter(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    c, s = math.cos(math.radians(spot.angle_deg)), math.sin(math.radians(spot.angle_deg))
    along = -section.pith[0] * s + section.pith[1] * c
    edge = along + pith_margin_mm(section)
    return _on_face(section, spot, saw, edge=edge, share=saw.depth_share, form="side-grain-bowl")


def _slab(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    blank = _on_face(
        section,
        replace(spot, height_mm=spot.height_mm or 45.0),
        saw,
        edge=None,
        share=saw.depth_share,
        form="side-grain-bowl",
    )
    if blank is None or blank.cylinder_mm <= 0.0:
        return None
    wide, height, shift = blank.cylinder_mm, blank.height_mm, blank.spot.shift_mm or 0.0
    corners = [(shift + side * wide / 2.0, spot.face_mm + t) for side, t in
               ((-1, 0.0), (1, 0.0), (1, height), (-1, height))]  # fmt: skip
    return replace(
        blank,
        diameter_mm=wide,
        volume_cm3=round(math.pi * (wide / 2.0) ** 2 * height / 1000.0, 1),
        end=tuple(_turned(x, t, spot.angle_deg) for x, t in corners),
    )


def _natural(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    """Foot on the sawn face, rim along the bark: as wide as keeps the low sides of the rim up."""
    ends = section.chord(spot.angle_deg, spot.face_mm)
    if ends is None:
        return None
    shift = 0.5 * (ends[0] + ends[1]) if spot.shift_mm is None else spot.shift_mm
    top = section.edge(spot.angle_deg, shift) - spot.face_mm
    if top <= 0.0:
        return None

    def low_side(diameter: float) -> float:
        sides = (shift - diameter / 2.0, shift + diameter / 2.0)
        return min(section.edge(spot.angle_deg, x) for x in sides) - spot.face_mm

    low, high = 0.0, min(spot.length_mm - saw.trim_mm, ends[1] - ends[0], spot.wanted_mm or math.inf)
    if low_side(high) < RIM_LOW * top:
        for _ in range(40):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if low_side(middle) >= RIM_LOW * top else (low, middle)
        high = low
    diameter = high
    pith = spot.face_mm - section.pith_t(spot.angle_deg)
    share = _shares(PROFILE)
    line: list[tuple[float, float]] = []
    for side in (1.0, -1.0):
        half = []
        for i in range(0, STEPS + 1, 3):
            x = shift + side * diameter / 2.0 * float(share[i])
            half.append((x, min(spot.face_mm + top * i / STEPS, section.edge(spot.angle_deg, x))))
        line = [*reversed(half), *line] if side < 0 else half
    crest = [(shift + diameter / 2.0 * k / 8.0, section.edge(spot.angle_deg, shift + diameter / 2.0 * k / 8.0))
             for k in range(7, -8, -1)]  # fmt: skip
    return Blank(
        spot=replace(spot, shift_mm=shift),
        form="natural-edge-bowl",
        diameter_mm=round(diameter, 1),
        height_mm=round(top, 1),
        cylinder_mm=round(diameter, 1),
        pith_mm=round(max(pith, 0.0), 1),
        holds_pith=-top < pith < 0.5 * pith_margin_mm(section),
        volume_cm3=_bowl_cm3(diameter, top),
        end=tuple(
            _turned(x, t, spot.angle_deg)
            for x, t in (*line[len(line) // 2 :], *crest, *line[: len(line) // 2])
        ),
        rim_low_mm=round(low_side(diameter), 1),
        risks=(
            say(
                "rim-dips",
                "The rim stands {high_mm} at the ends of the log and {low_mm} at the sides.",
                high_mm=top,
                low_mm=low_side(diameter),
            ),
        ),
    )


def _round(section: Section, spot: Spot, saw: Saw, *, centre: tuple[float, float], radius: float) -> Blank:
    radius = min(radius, (spot.wanted_mm or math.inf) / 2.0)
    height = min(spot.length_mm - saw.trim_mm, spot.height_mm or math.inf)
    off = math.hypot(section.pith[0] - centre[0], section.pith[1] - centre[1])
    turns = [2.0 * math.pi * i / 36 for i in range(36)]
    return Blank(
        spot=spot,
        form="end-grain-vase",
        diameter_mm=round(2.0 * radius, 1),
        height_mm=round(height, 1),
        cylinder_mm=round(2.0 * radius, 1),
        pith_mm=round(off, 1),
        holds_pith=off < radius,
        volume_cm3=round(math.pi * radius**2 * height / 1000.0, 1),
        end=tuple((round(centre[0] + radius * math.cos(w), 2), round(centre[1] + radius * math.sin(w), 2)) for w in turns),
        rim_low_mm=None,
        risks=(),
    )  # fmt: skip


def _clear_of_edge(section: Section, centre: tuple[float, float]) -> float:
    """Distance from a point to the edge: the least over directions, by the ellipse's own points."""
    edge = np.array(section.points(720))
    return float(np.hypot(edge[:, 0] - centre[0], edge[:, 1] - centre[1]).min())


def _end_grain(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    return _round(section, spot, saw, centre=(0.0, 0.0), radius=min(section.a_mm, section.b_mm))


def _beside(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    """Largest round in the part of the section beyond the face."""
    far = 4.0 * max(section.a_mm, section.b_mm)
    ends = [_turned(x, spot.face_mm, spot.angle_deg) for x in (-far, far)]
    parts = split(Polygon(section.points(180)), LineString(ends)).geoms
    keep = [g for g in parts if _beyond(g.representative_point(), spot)]
    if not keep:
        return None
    if spot.shift_mm is not None:  # dragged along the face: the largest there
        best = max(
            ((_fit_at(keep[0], _turned(spot.shift_mm, t, spot.angle_deg)), t)
             for t in np.linspace(spot.face_mm, section.reach(spot.angle_deg), 60)),
            default=(0.0, 0.0),
        )  # fmt: skip
        centre = _turned(spot.shift_mm, float(best[1]), spot.angle_deg)
        return _round(section, spot, saw, centre=centre, radius=best[0])
    circle = maximum_inscribed_circle(keep[0], tolerance=0.5)
    (cx, cy), _ = circle.coords
    c, s = math.cos(math.radians(spot.angle_deg)), math.sin(math.radians(spot.angle_deg))
    blank = _round(section, spot, saw, centre=(cx, cy), radius=circle.length)
    return replace(blank, spot=replace(spot, shift_mm=round(-cx * s + cy * c, 2)))


def _fit_at(area: Polygon, at: tuple[float, float]) -> float:
    point = Point(at)
    return float(area.exterior.distance(point)) if area.contains(point) else 0.0


def _beyond(point: Point, spot: Spot) -> bool:
    c, s = math.cos(math.radians(spot.angle_deg)), math.sin(math.radians(spot.angle_deg))
    return bool(point.x * c + point.y * s > spot.face_mm)


def _bored(section: Section, spot: Spot, saw: Saw) -> Blank | None:
    """The whole branch on its pith, with a hole that takes the pith out."""
    radius = _clear_of_edge(section, section.pith)
    wall = radius - saw.bit_mm / 2.0
    blank = _round(section, spot, saw, centre=section.pith, radius=radius)
    words = say(
        "bored-wall",
        "A bit of {bit_mm} leaves a wall of {wall_mm} at its thinnest.",
        bit_mm=saw.bit_mm,
        wall_mm=max(wall, 0.0),
    )
    return replace(blank, holds_pith=wall < 8.0, pith_mm=0.0, risks=(words,)) if wall > 0.0 else None


_MAKERS: dict[str, Maker] = {
    "half": _half,
    "quarter": _quarter,
    "natural-edge": _natural,
    "end-grain-beside": _beside,
    "end-grain": _end_grain,
    "bored-branch": _bored,
    "slab": _slab,
}


def _risks(section: Section, blank: Blank, log: LogShape) -> list[Sentence]:
    said = []
    if blank.holds_pith:
        said.append(
            say("holds-pith", "The pith runs through it: it will most likely split from there as it dries.")
        )
    elif blank.form != "end-grain-vase" and blank.pith_mm < pith_margin_mm(section):
        said.append(
            say(
                "near-pith",
                "The pith is only {pith_mm} from the rim's plane: small checks start there.",
                pith_mm=blank.pith_mm,
            )
        )
    for fault, words in (
        ("cracked", "The log is cracked: turn the rip so that the crack falls in the slab, or cut it out."),
        ("rot", "There is rot in the log: punky parts need slow speed, glue and a faceplate."),
        ("insects", "Insects were seen: dry or heat it through before it stands beside others."),
        ("nails", "Metal may be in it: go over the log with a detector before sawing."),
    ):
        if fault in log.faults:
            said.append(say(fault, words))
    return said

"""Blanks that are not round: where they balance, what they sweep, where the faceplate goes."""

import math
from dataclasses import dataclass

from shapely import minimum_bounding_circle
from shapely.geometry import Point, Polygon

from kilncore.errors import CoreError, Impossible, Unknown, require_range
from kilncore.said import Sentence, say
from kilncore.wood.moisture import density_kg_m3

__all__ = ["TEMPLATES", "Balance", "Mount", "balance_of", "template"]

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Mount:
    """A point to mount at: what it sweeps and how far out of balance it runs.

    ``imbalance_g_mm`` is mass times offset of its centre of gravity from the axis.
    """

    key: str
    label: str
    x_mm: float
    y_mm: float
    swing_mm: float
    offset_mm: float
    imbalance_g_mm: float
    clear_mm: float
    on_wood: bool
    plate_fits: bool


@dataclass(frozen=True, slots=True)
class Balance:
    """An outline's own figures, and the mounts worth thinking of, the balance point first."""

    area_cm2: float
    mass_g: float
    width_mm: float
    length_mm: float
    mounts: tuple[Mount, ...]
    words: tuple[Sentence, ...]


def balance_of(
    points: Points,
    *,
    thickness_mm: float,
    gb: float,
    mc_pct: float,
    plate_mm: float = 80.0,
    own: tuple[float, float] | None = None,
) -> Balance:
    """Return balance point, swing and imbalance of a flat blank of any outline.

    Parameters
    ----------
    points : tuple of (float, float)
        Corners in order, in mm; closed by itself.
    thickness_mm : float
        Even thickness. [mm]
    gb : float
        Basic specific gravity.
    mc_pct : float
        Moisture content. [%]
    plate_mm : float
        Faceplate to seat. [mm]
    own : (float, float), optional
        A mount of the turner's own choice, mm.

    Returns
    -------
    balance : Balance
        Mount at the balance point, at the centre of the least swing, and the turner's own.

    Raises
    ------
    CoreError
        For an outline that crosses itself or encloses nothing.

    References
    ----------
    .. [geometry] area centroid; least circle; swing is twice the farthest point from the mount.
    """
    require_range("thickness_mm", thickness_mm, 5.0, 500.0)
    require_range("plate_mm", plate_mm, 20.0, 400.0)
    shape = outline_polygon(points)
    mass = shape.area * thickness_mm / 1000.0 * density_kg_m3(gb, mc_pct=mc_pct) / 1000.0
    centroid = shape.centroid
    # the circle's own points give its centre exactly to rounding
    ring = minimum_bounding_circle(shape).centroid
    spots = [("balance", "Balance point", centroid), ("least-swing", "Least swing", ring)]
    if own is not None:
        spots.append(("own", "Your own mark", Point(own)))
    mounts = tuple(_mount(shape, key, label, at, mass, plate_mm) for key, label, at in spots)
    low_x, low_y, high_x, high_y = shape.bounds
    return Balance(
        area_cm2=round(shape.area / 100.0, 2),
        mass_g=round(mass, 1),
        width_mm=round(high_x - low_x, 1),
        length_mm=round(high_y - low_y, 1),
        mounts=mounts,
        words=_words(mounts, plate_mm),
    )


def outline_polygon(points: Points) -> Polygon:
    """Return the outline as a polygon, or say what is wrong with it.

    Parameters
    ----------
    points : tuple of (float, float)
        Corners in order. [mm]

    Returns
    -------
    polygon : Polygon
        Valid, not empty.

    Raises
    ------
    CoreError
        Fewer than three corners, crossing itself, too small or too large.
    """
    if not 3 <= len(points) <= 2000:
        raise Impossible("few-corners", "points", "An outline wants three corners or more, 2000 at most.")
    if any(not math.isfinite(v) or abs(v) > 5000.0 for p in points for v in p):
        raise Impossible("far-corner", "points", "A corner lies further out than any lathe turns.")
    shape = Polygon(points)
    if not shape.is_valid:
        raise CoreError("crosses-itself", "points", "The outline crosses itself; put its corners in order.")
    if shape.area < 400.0:
        raise Impossible("too-small", "points", "That outline encloses less than a thumbnail.")
    return shape


def _mount(shape: Polygon, key: str, label: str, at: Point, mass: float, plate_mm: float) -> Mount:
    farthest = max(math.hypot(x - at.x, y - at.y) for x, y in shape.exterior.coords)
    offset = math.hypot(shape.centroid.x - at.x, shape.centroid.y - at.y)
    on_wood = bool(shape.contains(at))
    clear = float(shape.exterior.distance(at)) if on_wood else 0.0
    return Mount(
        key, label, round(at.x, 2), round(at.y, 2), round(2.0 * farthest, 1), round(offset, 2),
        round(mass * offset), round(clear, 1), on_wood, clear >= plate_mm / 2.0,
    )  # fmt: skip


def _words(mounts: tuple[Mount, ...], plate_mm: float) -> tuple[Sentence, ...]:
    said = []
    for mount in mounts:
        if not mount.on_wood:
            said.append(say(f"{mount.key}-in-air", f"{mount.label}: lies in the air, beside the wood."))
        elif not mount.plate_fits:
            said.append(
                say(f"{mount.key}-plate", f"{mount.label}: a faceplate of {{plate_mm}} would stick out.",
                    plate_mm=plate_mm)
            )  # fmt: skip
    balance, least = mounts[0], mounts[1]
    said.append(
        say(
            "two-centres",
            "Mounted where it balances it sweeps {swing_mm}; {least_mm} is the least it can sweep, and then "
            "its weight lies {offset_mm} off the axis.",
            swing_mm=balance.swing_mm,
            least_mm=least.swing_mm,
            offset_mm=least.offset_mm,
        )
        if least.offset_mm >= 0.5
        else say("one-centre", "It balances where it sweeps least: {swing_mm}.", swing_mm=balance.swing_mm)
    )
    said.append(
        say(
            "swing-counts", "Clearance and speed go by the swing, not the width; corners are an unseen blade."
        )
    )
    return tuple(said)


def _square(width: float, length: float) -> Points:
    return ((0.0, 0.0), (width, 0.0), (width, length), (0.0, length))


def _hexagon(width: float, length: float) -> Points:
    turns = [math.pi / 3.0 * i for i in range(6)]
    return tuple(
        (width / 2.0 * math.cos(w), length / 2.0 * math.sin(w) / math.sin(math.pi / 3)) for w in turns
    )


def _wedge(width: float, length: float) -> Points:
    return ((0.0, 0.0), (width, 0.0), (width / 2.0, length))


def _heart(width: float, length: float) -> Points:
    turns = [2.0 * math.pi * i / 72 for i in range(72)]
    xs = [16.0 * math.sin(w) ** 3 for w in turns]
    ys = [13 * math.cos(w) - 5 * math.cos(2 * w) - 2 * math.cos(3 * w) - math.cos(4 * w) for w in turns]
    wide, tall = max(xs) - min(xs), max(ys) - min(ys)
    return tuple((x / wide * width, y / tall * length) for x, y in zip(xs, ys, strict=True))


TEMPLATES = {"square": _square, "hexagon": _hexagon, "wedge": _wedge, "heart": _heart}


def template(key: str, *, width_mm: float, length_mm: float) -> Points:
    """Return the corners of a named shape.

    Parameters
    ----------
    key : str
        square, hexagon, wedge or heart.
    width_mm, length_mm : float
        Overall size. [mm]

    Returns
    -------
    points : tuple of (float, float)
        Corners in order, mm.

    Raises
    ------
    Unknown
        For a name that is none of them.
    """
    if key not in TEMPLATES:
        raise Unknown("template", key, list(TEMPLATES))
    require_range("width_mm", width_mm, 30.0, 1500.0)
    require_range("length_mm", length_mm, 30.0, 1500.0)
    return TEMPLATES[key](width_mm, length_mm)

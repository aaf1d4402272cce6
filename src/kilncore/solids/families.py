"""Named families of turned forms: a few sliders give the handles of an outer curve."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from scipy.optimize import brentq

from kilncore.errors import Impossible, Unknown, require_range
from kilncore.solids.curve import Handle

__all__ = ["SHAPES", "Family", "Sizes", "Slider", "catenary_constant_mm", "family_handles"]

Handles = tuple[Handle, ...]


@dataclass(frozen=True, slots=True)
class Sizes:
    """Outside sizes: across its widest (a square's side), height, flat foot. [mm]."""

    width_mm: float
    height_mm: float
    foot_mm: float

    def __post_init__(self) -> None:
        require_range("width_mm", self.width_mm, 25.0, 1200.0)
        require_range("height_mm", self.height_mm, 10.0, 1200.0)
        require_range("foot_mm", self.foot_mm, 5.0, 800.0)
        if self.foot_mm >= self.width_mm:
            raise Impossible(
                "foot-wider",
                "foot_mm",
                "A foot of {foot_mm} is wider than the piece ({width_mm}).",
                {"foot_mm": self.foot_mm, "width_mm": self.width_mm},
            )


@dataclass(frozen=True, slots=True)
class Slider:
    """One free figure of a family."""

    key: str
    label: str
    low: float
    high: float
    usual: float


@dataclass(frozen=True, slots=True)
class Family:
    """A family of forms; ``plan`` is round or square as seen from above."""

    key: str
    label: str
    words: str
    sliders: tuple[Slider, ...]
    make: Callable[..., Handles]
    plan: str = "round"
    closed: bool = False
    foot_share: float = 0.4


def _hemisphere(s: Sizes, *, fullness: float) -> Handles:
    """Superellipse quarter cut off where the foot is."""
    radius, n = s.width_mm / 2.0, fullness
    start = math.asin(min((s.foot_mm / s.width_mm) ** (n / 2.0), 0.98))
    points = []
    for i in range(6):
        a = start + (math.pi / 2.0 - start) * i / 5.0
        points.append((radius * math.sin(a) ** (2.0 / n), 1.0 - math.cos(a) ** (2.0 / n)))
    low = points[0][1]
    return tuple(Handle(r, s.height_mm * (z - low) / (1.0 - low)) for r, z in points)


def catenary_constant_mm(radius_mm: float, *, foot_mm: float, height_mm: float) -> float:
    """Return a of z = a cosh(r/a) that rises ``height_mm`` from the foot's edge to the rim.

    Parameters
    ----------
    radius_mm, foot_mm, height_mm : float
        Rim radius, foot radius and height. [mm]

    Returns
    -------
    a_mm : float
        The constant of the hanging chain. [mm]

    References
    ----------
    .. [geometry] z(R) - z(f) = a (cosh(R/a) - cosh(f/a)).
    """

    def rise(a: float) -> float:
        return a * (math.cosh(radius_mm / a) - math.cosh(foot_mm / a)) - height_mm

    return float(brentq(rise, radius_mm / 60.0, 1e6))


def _catenary(s: Sizes) -> Handles:
    radius, foot = s.width_mm / 2.0, s.foot_mm / 2.0
    a = catenary_constant_mm(radius, foot_mm=foot, height_mm=s.height_mm)
    ends = [math.sinh(foot / a), math.sinh(radius / a)]
    rows = []
    for i in range(6):
        r = a * math.asinh(ends[0] + (ends[1] - ends[0]) * i / 5.0)
        rows.append(Handle(r, a * (math.cosh(r / a) - math.cosh(foot / a))))
    return tuple(rows)


def _ogee(s: Sizes, *, waist: float) -> Handles:
    foot, more = s.foot_mm / 2.0, (s.width_mm - s.foot_mm) / 2.0
    shares = ((0.0, 0.0), (0.45, 0.14), (0.72 - 0.1 * waist, 0.38), (0.78 - 0.3 * waist, 0.64),
              (0.86 - 0.22 * waist, 0.84), (1.0, 1.0))  # fmt: skip
    return tuple(Handle(foot + more * a, s.height_mm * b) for a, b in shares)


def _straight(s: Sizes, *, flare_deg: float, rounding: float) -> Handles:
    lean = math.tan(math.radians(flare_deg))
    radius = s.width_mm / 2.0
    base = radius - s.height_mm * lean
    if base < 10.0:
        raise Impossible(
            "flare-too-wide", "flare_deg", "So much flare leaves no base; lower it or the height."
        )
    soft = min(rounding * s.height_mm, 0.45 * base, 0.45 * s.height_mm)
    if soft < 1.0:
        return (Handle(base, 0.0, True), Handle(radius, s.height_mm))
    top = soft
    return (
        Handle(base - soft, 0.0, True),
        Handle(base - 0.29 * soft, 0.29 * soft),
        Handle(base + top * lean, top, True),
        Handle(radius, s.height_mm),
    )


def _quarter(
    r0: float, z0: float, r1: float, z1: float, *, up: bool, most_deg: float = 90.0
) -> list[tuple[float, float]]:
    """Three points of an elliptic quarter, the end left out; ``up`` starts flat and ends steep.

    ``most_deg`` below 90 ends it before it lies flat.
    """
    points, end = [], math.radians(most_deg)
    for share in (0.0, 1 / 3, 2 / 3):
        a = share * end
        x, y = (math.sin(a), 1.0 - math.cos(a)) if up else (1.0 - math.cos(a), math.sin(a))
        if not up:
            x, y = x / (1.0 - math.cos(end)), y / math.sin(end)
        points.append((r0 + (r1 - r0) * x, z0 + (z1 - z0) * y))
    return points


def _closed(s: Sizes, *, belly: float, mouth: float) -> Handles:
    radius, foot = s.width_mm / 2.0, s.foot_mm / 2.0
    at, lip = belly * s.height_mm, mouth * radius
    upper = _quarter(radius, at, lip, s.height_mm, up=False, most_deg=64.0)
    rows = [*_quarter(foot, 0.0, radius, at, up=True), *upper]
    return tuple(Handle(r, z) for r, z in (*rows, (lip, s.height_mm)))


def _bottle(s: Sizes, *, belly: float, neck: float, length: float, lip: float) -> Handles:
    radius, foot = s.width_mm / 2.0, s.foot_mm / 2.0
    at, thin = belly * s.height_mm, neck * radius
    start = s.height_mm * (1.0 - length)
    if start <= at * 1.05:
        raise Impossible("neck-too-long", "length", "The neck reaches into the belly; shorten one of them.")
    rows = [*_quarter(foot, 0.0, radius, at, up=True), *_quarter(radius, at, thin, start, up=False)]
    rows += [(thin, start), (thin * (1.0 + 0.1 * lip), s.height_mm * (1 - 0.4 * length)),
             (thin * (1.0 + lip), s.height_mm)]  # fmt: skip
    return tuple(Handle(r, z) for r, z in rows)


def _platter(s: Sizes, *, rim: float, rise: float, edge_mm: float) -> Handles:
    radius, foot = s.width_mm / 2.0, s.foot_mm / 2.0
    edge = min(edge_mm, 0.4 * s.height_mm)
    well = foot + (radius - foot) * (1.0 - rim)
    top = s.height_mm - edge
    bend = max(top * (1.0 - rise), 0.1 * s.height_mm)
    middle = (foot + 0.62 * (well - foot), 0.45 * bend)
    return (
        Handle(foot, 0.0, True),
        Handle(*middle),
        Handle(well, bend, True),
        Handle(radius, top, True),
        Handle(radius, s.height_mm),
    )


def _square(s: Sizes, *, body: float, lift: float, edge_mm: float) -> Handles:
    half, foot = s.width_mm / 2.0, s.foot_mm / 2.0
    swing = half * math.sqrt(2.0)
    edge = min(edge_mm, 0.4 * s.height_mm)
    bowl = max(body * half, foot + 5.0)
    join = (1.0 - lift) * (s.height_mm - edge)
    rows = [Handle(r, z) for r, z in _quarter(foot, 0.0, bowl, join, up=True)]
    tip = s.height_mm - edge
    return (*rows, Handle(bowl, join, True), Handle(0.5 * (bowl + swing), join + 0.35 * (tip - join)),
            Handle(swing, tip, True), Handle(swing, s.height_mm))  # fmt: skip


SHAPES: dict[str, Family] = {
    f.key: f
    for f in (
        Family("hemisphere", "Round-bellied", "a half ball, fuller or leaner",
               (Slider("fullness", "Fullness", 1.4, 3.6, 2.0),), _hemisphere),
        Family("catenary", "Hanging chain", "the curve a chain hangs in, upside up", (), _catenary),
        Family("ogee", "Double curve", "out, in and out again",
               (Slider("waist", "Waist", 0.0, 1.0, 0.5),), _ogee, foot_share=0.35),
        Family("straight", "Straight side", "a straight wall, leaning as much as you like",
               (Slider("flare_deg", "Lean outwards, degrees", -10.0, 50.0, 12.0),
                Slider("rounding", "Rounding below", 0.0, 0.45, 0.18)), _straight, foot_share=0.6),
        Family("closed", "Closed form", "a belly and a smaller mouth",
               (Slider("belly", "Belly at share of height", 0.3, 0.75, 0.52),
                Slider("mouth", "Mouth as share of belly", 0.12, 0.9, 0.45)), _closed, closed=True),
        Family("bottle", "Bottle", "belly, shoulder, neck and lip",
               (Slider("belly", "Belly at share of height", 0.2, 0.55, 0.36),
                Slider("neck", "Neck as share of belly", 0.15, 0.7, 0.34),
                Slider("length", "Neck as share of height", 0.1, 0.5, 0.28),
                Slider("lip", "Lip opens by", 0.0, 0.5, 0.18)), _bottle, closed=True, foot_share=0.5),
        Family("platter", "Platter", "a well and a wide rim",
               (Slider("rim", "Rim as share", 0.1, 0.6, 0.3), Slider("rise", "Rim rises by share", 0.0, 0.8, 0.25),
                Slider("edge_mm", "Edge", 3.0, 20.0, 7.0)), _platter, foot_share=0.5),
        Family("square", "Square, winged", "a round bowl in a square with four wings",
               (Slider("body", "Bowl as share of the side", 0.5, 1.0, 0.8),
                Slider("lift", "Wings rise by share", 0.0, 0.7, 0.2), Slider("edge_mm", "Wing at the tip", 3.0, 20.0, 6.0)),
               _square, plan="square"),
    )
}  # fmt: skip


def family_handles(key: str, sizes: Sizes, sliders: dict[str, float] | None = None) -> Handles:
    """Return the outer handles of a family.

    Parameters
    ----------
    key : str
        A key of ``SHAPES``.
    sizes : Sizes
        Outside sizes.
    sliders : dict, optional
        Figures by slider key; the usual ones where left out.

    Returns
    -------
    handles : tuple of Handle
        Foot to rim.

    Raises
    ------
    Unknown
        For an unknown family or slider.
    OutOfRange
        For a slider past its ends.
    Impossible
        Where the figures contradict each other.
    """
    if key not in SHAPES:
        raise Unknown("family", key, list(SHAPES))
    family = SHAPES[key]
    values = {s.key: s.usual for s in family.sliders}
    for name, value in (sliders or {}).items():
        slider = next((s for s in family.sliders if s.key == name), None)
        if slider is None:
            raise Unknown(name, name, list(values))
        require_range(name, value, slider.low, slider.high)
        values[name] = value
    return family.make(sizes, **values)

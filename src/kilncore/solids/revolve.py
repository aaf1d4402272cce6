"""How much wood, hollow and surface a turned shape has, from its outline."""

import itertools
import math
from dataclasses import dataclass

import numpy as np

from kilncore.errors import Impossible

__all__ = ["FAMILIES", "Vessel", "foot_share", "outline", "silhouettes", "solid_of_revolution", "vessel"]

Path = tuple[tuple[float, float], ...]

# Points of the outer curve the wall is measured from.
FINE = 257


@dataclass(frozen=True, slots=True)
class Vessel:
    """A hollow turned piece. Paths are (r, z) in mm from axis to rim, z up from the foot."""

    outer: Path
    inner: Path
    outer_cm3: float
    cavity_cm3: float
    outside_cm2: float
    inside_cm2: float

    @property
    def wood_cm3(self) -> float:
        """Volume of wood. [cm3]."""
        return self.outer_cm3 - self.cavity_cm3


def solid_of_revolution(path: Path) -> tuple[float, float]:
    """Return volume and lateral area swept by a path about the axis.

    Parameters
    ----------
    path : tuple of (float, float)
        Radius and height of each point, in mm, bottom to top.

    Returns
    -------
    volume_cm3, area_cm2 : float
        Frustum sums; the closing discs count in the volume and not in the area.

    References
    ----------
    .. [pappus] frustum formula.
    """
    volume = area = 0.0
    for (r1, z1), (r2, z2) in itertools.pairwise(path):
        volume += math.pi * (z2 - z1) * (r1 * r1 + r1 * r2 + r2 * r2) / 3.0
        area += math.pi * (r1 + r2) * math.hypot(r2 - r1, z2 - z1)
    return volume / 1000.0, area / 100.0


def _hemisphere(s: float) -> float:
    return math.sqrt(max(0.0, 2.0 * s - s * s))


def _open(s: float) -> float:
    return math.pow(s, 0.55)


def _vase(s: float) -> float:
    # Belly at two fifths of the height, a neck, a slightly opening mouth.
    return 0.62 + 0.38 * math.sin(math.pi * (0.12 + 0.8 * s)) - 0.12 * s


def _platter(s: float) -> float:
    return math.pow(s, 0.35)


# Relative radius at relative height s in [0, 1]; 1 is the widest place of a bowl.
FAMILIES = {"hemisphere": _hemisphere, "open": _open, "vase": _vase, "platter": _platter}


def foot_share(family: str) -> float:
    """Return the usual foot of a family as a share of the widest diameter."""
    return 0.55 if family == "vase" else 0.4


def outline(
    family: str, *, diameter_mm: float, height_mm: float, foot_diameter_mm: float, points: int = 33
) -> Path:
    """Return the outer path of a named family, foot to rim.

    Parameters
    ----------
    family : str
        A key of ``FAMILIES``.
    diameter_mm, height_mm, foot_diameter_mm : float
        Outside sizes. [mm]
    points : int
        Number of points along the curve.

    Returns
    -------
    path : tuple of (float, float)
        Radius and height in mm, starting on the axis.
    """
    shape = FAMILIES[family]
    peak = max(shape(i / 64) for i in range(65))
    foot = foot_diameter_mm / 2.0
    curve = []
    for i in range(points):
        s = i / (points - 1)
        r = max(shape(s) / peak * diameter_mm / 2.0, foot)
        curve.append((r, s * height_mm))
    return ((0.0, 0.0), *curve)


def silhouettes(points: int = 15) -> dict[str, Path]:
    """Return the outer outline of every family, for small pictures of a piece.

    Parameters
    ----------
    points : int
        Number of points along each curve.

    Returns
    -------
    silhouettes : dict of str to tuple of (float, float)
        Share of the widest radius and of the height, foot to rim.
    """
    return {
        family: tuple(
            (round(r, 3), round(z, 3))
            for r, z in outline(
                family,
                diameter_mm=2.0,
                height_mm=1.0,
                foot_diameter_mm=2.0 * foot_share(family),
                points=points,
            )[1:]
        )
        for family in FAMILIES
    }


def vessel(
    family: str,
    *,
    diameter_mm: float,
    height_mm: float,
    wall_mm: float,
    bottom_mm: float,
    foot_diameter_mm: float | None = None,
) -> Vessel:
    """Return a vessel of a family with a wall measured square to the curve.

    Parameters
    ----------
    family : str
        A key of ``FAMILIES``.
    diameter_mm, height_mm, wall_mm, bottom_mm : float
        Outside diameter and height, wall, and wood left below the hollow. [mm]
    foot_diameter_mm : float, optional
        Foot; two fifths of the diameter where not given. [mm]

    Returns
    -------
    vessel : Vessel
        Paths, volumes and surfaces.

    Raises
    ------
    Impossible
        If the wall is thicker than the bowl or the bottom deeper than its height.
    """
    if 2.0 * wall_mm >= diameter_mm:
        raise Impossible(
            "wall-thicker-than-bowl",
            "wall_mm",
            "Two walls of {wall_mm} do not fit in a piece {diameter_mm} across; "
            "less than {most_mm} would leave a hollow.",
            {"wall_mm": wall_mm, "diameter_mm": diameter_mm, "most_mm": diameter_mm / 2.0},
        )
    if bottom_mm >= height_mm:
        raise Impossible(
            "bottom-thicker-than-height",
            "bottom_mm",
            "A bottom of {bottom_mm} leaves no hollow in a piece {height_mm} high.",
            {"bottom_mm": bottom_mm, "height_mm": height_mm},
        )
    foot = 0.4 * diameter_mm if foot_diameter_mm is None else foot_diameter_mm
    outer = outline(family, diameter_mm=diameter_mm, height_mm=height_mm, foot_diameter_mm=foot)
    inner = _inside(family, (diameter_mm, height_mm, foot), wall_mm, bottom_mm)
    outer_cm3, outside_cm2 = solid_of_revolution(outer)
    cavity_cm3, inside_cm2 = solid_of_revolution(inner)
    return Vessel(outer, inner, outer_cm3, cavity_cm3, outside_cm2, inside_cm2)


def _inside(family: str, sizes: tuple[float, float, float], wall_mm: float, bottom_mm: float) -> Path:
    """Return the inner path: at each height the radius that keeps the wall from every point outside.

    The wall is the least distance to the outer curve, so a sloped side is measured square
    to its surface and not across.
    """
    diameter, height, foot = sizes
    fine = np.array(
        outline(family, diameter_mm=diameter, height_mm=height, foot_diameter_mm=foot, points=FINE)[1:]
    )
    heights = np.linspace(bottom_mm, height, 33)
    reach = wall_mm**2 - (heights[:, None] - fine[None, :, 1]) ** 2
    away = np.where(reach > 0.0, np.sqrt(np.maximum(reach, 0.0)), -np.inf)
    radii = np.maximum((fine[None, :, 0] - away).min(axis=1), 0.0)
    curve = tuple((float(r), float(z)) for r, z in zip(radii, heights, strict=True))
    return ((0.0, bottom_mm), *curve)

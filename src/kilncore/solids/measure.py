"""What a turned solid holds, weighs and stands like, from its outer and inner path."""

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.solids.curve import Path, along, distances, foot_index

__all__ = ["Solid", "Wall", "disc_area_mm2", "measured", "moments", "volume_below_cm3", "wall_of"]

Floats = NDArray[np.float64]

# Gauss-Legendre on [0, 1], exact for the quintics a square plan is close to.
_NODES = np.array([0.5 - math.sqrt(15.0) / 10.0, 0.5, 0.5 + math.sqrt(15.0) / 10.0])
_WEIGHTS = np.array([5.0, 8.0, 5.0]) / 18.0


@dataclass(frozen=True, slots=True)
class Wall:
    """The wall along the inner path: least distances both ways, rim zone left out of the extremes.

    ``inner_mm`` belongs to the points of the inner path. ``thin`` and ``thick`` are
    (r, z, wall) on it; ``bottom_mm`` is the least wood under the hollow's floor.
    """

    inner_mm: tuple[float, ...]
    thin: tuple[float, float, float]
    thick: tuple[float, float, float]
    bottom_mm: float


@dataclass(frozen=True, slots=True)
class Solid:
    """Volumes, surfaces and centre of gravity of a turned piece."""

    outer_cm3: float
    wood_cm3: float
    capacity_cm3: float
    trapped_cm3: float
    outside_cm2: float
    inside_cm2: float
    cg_z_mm: float


def disc_area_mm2(radius: Floats, half_mm: float | None) -> Floats:
    """Return the area of a disc, cut by a square of half side ``half_mm`` where given. [mm2].

    Parameters
    ----------
    radius : array
        In mm.
    half_mm : float or None
        Half the side of the square plan. [mm]

    Returns
    -------
    area : array
        In mm2.

    References
    ----------
    .. [geometry] circle less four segments.
    """
    full = math.pi * radius**2
    if half_mm is None:
        return np.asarray(full)
    r = np.clip(radius, half_mm, half_mm * math.sqrt(2.0))
    off = np.arccos(np.minimum(half_mm / r, 1.0))
    cut = 4.0 * (r * r * off - half_mm * np.sqrt(np.maximum(r * r - half_mm**2, 0.0)))
    return np.asarray(np.where(radius <= half_mm, full, math.pi * r * r - cut))


def moments(path: Path, *, half_mm: float | None = None) -> tuple[float, float]:
    """Return volume and first moment about z = 0 swept by a path, signed by its rise.

    Parameters
    ----------
    path : tuple of (float, float)
        Radius and height, mm; closed by discs at its ends.
    half_mm : float, optional
        Half side of a square plan. [mm]

    Returns
    -------
    volume, moment : float
        In mm3 and mm4.

    References
    ----------
    .. [pappus] frustum sums; the square plan by three-point quadrature.
    """
    xy = np.array(path)
    r1, z1, r2, z2 = xy[:-1, 0], xy[:-1, 1], xy[1:, 0], xy[1:, 1]
    h = z2 - z1
    if half_mm is None or xy[:, 0].max() <= half_mm:
        q = r1 * r1 + r1 * r2 + r2 * r2
        volume = math.pi * h * q / 3.0
        moment = math.pi * h * (z1 * q / 3.0 + h * (r1 * r1 + 2.0 * r1 * r2 + 3.0 * r2 * r2) / 12.0)
        return float(volume.sum()), float(moment.sum())
    r = r1[:, None] + (r2 - r1)[:, None] * _NODES
    z = z1[:, None] + h[:, None] * _NODES
    area = disc_area_mm2(r, half_mm) * _WEIGHTS
    return float((area.sum(axis=1) * h).sum()), float(((area * z).sum(axis=1) * h).sum())


def volume_below_cm3(path: Path, z_mm: float, *, half_mm: float | None = None) -> float:
    """Return the signed volume a path sweeps below a height. [cm3].

    Parameters
    ----------
    path : tuple of (float, float)
        Radius and height, mm.
    z_mm : float
        The height. [mm]
    half_mm : float, optional
        Half side of a square plan. [mm]

    Returns
    -------
    volume_cm3 : float
        In cm3.
    """
    rows: list[tuple[float, float]] = []
    for (r1, z1), (r2, z2) in itertools.pairwise(path):
        if (z1 < z_mm) != (z2 < z_mm):
            cross = (r1 + (r2 - r1) * (z_mm - z1) / (z2 - z1), z_mm)
            rows += [(r1, z1), cross] if z1 < z_mm else [cross, (r2, z2)]
        elif z1 < z_mm:
            rows += [(r1, z1), (r2, z2)]
        # parts above count no height: squeezed flat onto the plane
        if rows and rows[-1][1] == z_mm:
            rows.append((r2, min(z2, z_mm)))
    return moments(tuple(rows), half_mm=half_mm)[0] / 1000.0 if len(rows) > 1 else 0.0


def _area_cm2(path: Path, half_mm: float | None) -> float:
    xy = np.array(path)
    r1, r2 = xy[:-1, 0], xy[1:, 0]
    slant = np.hypot(*np.diff(xy, axis=0).T)
    if half_mm is None or xy[:, 0].max() <= half_mm:
        return float((math.pi * (r1 + r2) * slant).sum()) / 100.0
    r = r1[:, None] + (r2 - r1)[:, None] * _NODES
    inside = 1.0 - 4.0 / math.pi * np.arccos(np.minimum(half_mm / np.maximum(r, half_mm), 1.0))
    round_part = (2.0 * math.pi * r * np.clip(inside, 0.0, 1.0) * _WEIGHTS).sum(axis=1) * slant
    return float(round_part.sum()) / 100.0


def measured(outer: Path, inner: Path, *, half_mm: float | None = None) -> Solid:
    """Return volumes, surfaces and centre of gravity of a turned piece.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm; re-entrant paths allowed.
    half_mm : float, optional
        Half side of a square plan. [mm]

    Returns
    -------
    solid : Solid
        Capacity counts to where water runs over; air under a down-turned lip is told apart.

    References
    ----------
    .. [pappus] frustum sums and their first moments.
    """
    whole = (*outer, *reversed(inner))  # the rim's face closes it
    wood, moment = moments(whole, half_mm=half_mm)
    mouth = inner[-1][1]
    crest = max(z for _, z in outer)
    below = volume_below_cm3(inner, mouth, half_mm=half_mm)
    trapped = moments(inner, half_mm=half_mm)[0] / 1000.0 - below
    lip = outer[max(range(len(outer)), key=lambda i: outer[i][1]) :]
    funnel = -moments(lip, half_mm=half_mm)[0] / 1000.0 if len(lip) > 1 and crest > mouth else 0.0
    return Solid(
        outer_cm3=moments((*outer, (0.0, outer[-1][1])), half_mm=half_mm)[0] / 1000.0,
        wood_cm3=wood / 1000.0,
        capacity_cm3=below + max(funnel, 0.0),
        trapped_cm3=max(trapped, 0.0),
        outside_cm2=_area_cm2(outer[foot_index(outer) :], half_mm),
        inside_cm2=_area_cm2(inner, half_mm),
        cg_z_mm=moment / wood if wood > 0 else 0.0,
    )


def rim_zone_mm(outer: Path) -> float:
    """Return how far from the rim the wall does not count as thinnest: it may be rounded or bevelled."""
    return max(6.0, 0.04 * (max(z for _, z in outer) - outer[0][1]))


def wall_of(outer: Path, inner: Path) -> Wall:
    """Return the wall as least distances between the two paths, from both sides.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm.

    Returns
    -------
    wall : Wall
        Negative where the inner path runs outside of the outer one.

    References
    ----------
    .. [geometry] least distance of points to segments.
    """
    a, b = np.array(outer), np.array(inner)
    forth = distances(b, a)[0].min(axis=1)
    forth = np.where(_outside(b, a), -forth, forth)
    back = distances(a, b)[0].min(axis=1)
    zone = rim_zone_mm(outer)
    s, q = along(inner), along(outer)
    counts, backs = s <= s[-1] - zone, q <= q[-1] - zone
    if not counts.any():
        counts[:] = True
    i = int(np.where(counts, forth, np.inf).argmin())
    j = int(np.where(backs, back, np.inf).argmin())
    thin = (*b[i], forth[i]) if not backs.any() or forth[i] <= back[j] else (*a[j], back[j])
    side = counts & (b[:, 0] > 0.35 * b[:, 0].max())
    k = int(np.where(side if side.any() else counts, forth, -np.inf).argmax())
    return Wall(
        tuple(float(v) for v in forth),
        (float(thin[0]), float(thin[1]), float(thin[2])),
        (float(b[k, 0]), float(b[k, 1]), float(forth[k])),
        _bottom(a, b),
    )


def _outside(points: Floats, outer: Floats) -> NDArray[np.bool_]:
    """Whether points lie outside of the region between the axis and a path."""
    ring = np.concatenate([outer, [[-1.0, outer[-1, 1]], [-1.0, outer[0, 1]]]])
    x, z = points[:, 0][:, None], points[:, 1][:, None]
    one, two = ring, np.roll(ring, -1, axis=0)
    crosses = (one[:, 1] > z) != (two[:, 1] > z)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = one[:, 0] + (z - one[:, 1]) / (two[:, 1] - one[:, 1]) * (two[:, 0] - one[:, 0])
    inside = (crosses & (x < at)).sum(axis=1) % 2 == 1
    near = distances(points, outer)[0].min(axis=1) < 1e-6
    on_rim = np.abs(points[:, 1] - outer[-1, 1]) < 1e-6
    return np.asarray(~inside & ~near & ~(on_rim & (points[:, 0] <= outer[-1, 0] + 1e-9)))


def _bottom(outer: Floats, inner: Floats) -> float:
    """The least wood under the hollow's floor, straight down; a dished foot included."""
    r_out, z_out = _floor(outer)
    r_in, z_in = _floor(inner)
    level = inner[0, 1] + max(2.0, 0.06 * (inner[:, 1].max() - inner[0, 1]))
    flat = outer[outer[:, 1] <= outer[0, 1] + 1e-6, 0].max()  # the foot, where it is a flat one
    reach = min(float(r_in[z_in <= level].max(initial=0.0)), float(flat if flat > 0.0 else r_out.max()))
    at = np.linspace(0.0, reach, 25)
    return float((np.interp(at, r_in, z_in) - np.interp(at, r_out, z_out)).min())


def _floor(path: Floats) -> tuple[Floats, Floats]:
    """The part of a path seen from below the axis outwards, as height over radius."""
    widest = np.maximum.accumulate(path[:, 0])
    keep = np.concatenate([[True], np.diff(widest) > 1e-9])
    return path[keep, 0], path[keep, 1]

"""How a few handles become a smooth profile, and how profiles are cut, measured along and compared."""

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from kilncore.errors import Impossible, require_range

__all__ = ["Handle", "Path", "along", "curve", "distances", "foot_index", "from_points", "resampled"]

Path = tuple[tuple[float, float], ...]
Floats = NDArray[np.float64]

# Points drawn between two handles; with many handles fewer, so that a drag stays quick.
SPAN, LEAST_SPAN, IN_ALL = 14, 8, 80
MOST_HANDLES = 40


@dataclass(frozen=True, slots=True)
class Handle:
    """A point the turner holds: radius and height in mm; the curve breaks at a corner."""

    r_mm: float
    z_mm: float
    corner: bool = False

    def __post_init__(self) -> None:
        require_range("r_mm", self.r_mm, 0.0, 800.0, "The axis is at nought.")
        require_range("z_mm", self.z_mm, -400.0, 1500.0)


def curve(handles: tuple[Handle, ...], *, per_span: int | None = None) -> Path:
    """Return the profile through handles: cubic between corners, square to the axis where it meets it.

    Parameters
    ----------
    handles : tuple of Handle
        From foot to rim. A first handle off the axis is the edge of a flat foot.
    per_span : int, optional
        Points drawn between two handles; fewer where there are many of them.

    Returns
    -------
    path : tuple of (float, float)
        Radius and height from the axis to the rim, mm.

    Raises
    ------
    Impossible
        With fewer than two handles, two in one place, or a curve that swings past the axis.

    References
    ----------
    .. [geometry] parametric cubic over the square root of the chord.
    """
    if not 2 <= len(handles) <= MOST_HANDLES:
        raise Impossible("too-few-handles", "handles", "A profile wants between 2 and 40 points.")
    per_span = per_span or max(LEAST_SPAN, min(SPAN, IN_ALL // (len(handles) - 1)))
    flat = handles[0].r_mm > 0.0
    points = [(h.r_mm, h.z_mm) for h in handles]
    for one, two in itertools.pairwise(points):
        if math.dist(one, two) < 0.05:
            text = "Two points lie on each other at {at_mm} high; move one or take it out."
            raise Impossible("handles-together", "handles", text, {"at_mm": one[1]})
    breaks = [0, *(i for i, h in enumerate(handles[1:-1], 1) if h.corner), len(handles) - 1]
    path: list[tuple[float, float]] = [(0.0, handles[0].z_mm)] if flat else []
    for start, end in itertools.pairwise(breaks):
        part = _smooth(points[start : end + 1], axis=start == 0 and not flat, per_span=per_span)
        path.extend(part if not path or (flat and start == 0) else part[1:])
    if min(r for r, _ in path) < -0.01:
        low = min(path, key=lambda p: p[0])
        text = "Near {at_mm} the curve swings past the axis; move its points outwards or make one a corner."
        raise Impossible("past-axis", "handles", text, {"at_mm": low[1]})
    return tuple((max(r, 0.0), z) for r, z in path)


def _smooth(points: list[tuple[float, float]], *, axis: bool, per_span: int) -> list[tuple[float, float]]:
    xy = np.array(points)
    if len(points) == 2 and not axis:
        line = np.linspace(xy[0], xy[1], max(2, per_span // 2))
        return [(float(r), float(z)) for r, z in line]
    steps = np.sqrt(np.hypot(*np.diff(xy, axis=0).T))
    t = np.concatenate([[0.0], np.cumsum(steps)])
    free = (2, np.zeros(2))
    start = (1, np.array([steps[0], 0.0])) if axis else free
    spline = CubicSpline(t, xy, bc_type=(start, free))
    at = np.concatenate([np.linspace(a, b, per_span, endpoint=False) for a, b in itertools.pairwise(t)])
    return [(float(r), float(z)) for r, z in spline(np.append(at, t[-1]))]


def from_points(
    points: Path, *, handles: int = 8, tolerance_mm: float = 1.0, to_foot: bool = True
) -> tuple[Handle, ...]:
    """Return handles for a traced profile: its corners, and points evenly along between them.

    Parameters
    ----------
    points : tuple of (float, float)
        Radius and height in mm, in order from foot to rim; either side of the axis.
    handles : int
        How many at most, corners included where they fit.
    tolerance_mm : float
        Points nearer than this to the one before are left out. [mm]
    to_foot : bool
        Whether the lowest point becomes nought; an inner curve keeps its heights.

    Returns
    -------
    handles : tuple of Handle
        Turned the right way up.

    Raises
    ------
    Impossible
        If fewer than three points are left.

    References
    ----------
    .. [geometry] turning angle marks a corner.
    """
    kept: list[tuple[float, float]] = []
    for r, z in points:
        if not kept or math.dist(kept[-1], (abs(r), z)) >= min(tolerance_mm, 0.5):
            kept.append((abs(float(r)), float(z)))
    if len(kept) < 3:
        raise Impossible("too-few-points", "points", "A traced profile wants three points at least.")
    if kept[0][1] > kept[-1][1]:
        kept.reverse()
    low = min(z for _, z in kept) if to_foot else 0.0
    kept = [(r, z - low) for r, z in kept]
    flat = kept[0][0] < tolerance_mm and kept[1][0] > 5.0 and abs(kept[1][1] - kept[0][1]) < 0.3
    if flat and len(kept) > 3:
        kept = kept[1:]  # the flat of the foot is drawn by itself
    corners = {i for i in range(1, len(kept) - 1) if _bends(kept, i)}
    chosen = sorted({0, len(kept) - 1, *sorted(corners)[: max(0, handles - 2)]})
    while len(chosen) < min(handles, len(kept)):
        gaps = [(_length(kept, a, b), a, b) for a, b in itertools.pairwise(chosen) if b - a > 1]
        if not gaps:
            break
        _, a, b = max(gaps)
        chosen = sorted({*chosen, _middle(kept, a, b)})
    return tuple(Handle(kept[i][0], kept[i][1], i in corners) for i in chosen)


def _bends(points: list[tuple[float, float]], i: int) -> bool:
    (r0, z0), (r1, z1), (r2, z2) = points[i - 1], points[i], points[i + 1]
    turn = math.atan2(z2 - z1, r2 - r1) - math.atan2(z1 - z0, r1 - r0)
    return abs(math.remainder(turn, 2 * math.pi)) > math.radians(40.0)


def _length(points: list[tuple[float, float]], a: int, b: int) -> float:
    return sum(math.dist(points[i], points[i + 1]) for i in range(a, b))


def _middle(points: list[tuple[float, float]], a: int, b: int) -> int:
    half = _length(points, a, b) / 2.0
    return min(range(a + 1, b), key=lambda i: abs(_length(points, a, i) - half))


def foot_index(path: Path) -> int:
    """Return the index where the side begins: after a flat foot, else the axis itself."""
    (r0, z0), (r1, z1) = path[0], path[1]
    return 1 if r0 == 0.0 and r1 > 0.5 and abs(z1 - z0) < 1e-6 else 0


def along(path: Path) -> Floats:
    """Return the length along a path at each of its points. [mm]."""
    xy = np.array(path)
    return np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(xy, axis=0).T))])


def resampled(path: Path, count: int) -> Path:
    """Return a path with points evenly along its length."""
    s, xy = along(path), np.array(path)
    at = np.linspace(0.0, s[-1], count)
    return tuple(
        (float(r), float(z))
        for r, z in zip(np.interp(at, s, xy[:, 0]), np.interp(at, s, xy[:, 1]), strict=True)
    )


def distances(points: Floats, path: Floats) -> tuple[Floats, Floats]:
    """Return the distance of every point to every segment of a path, and where along it.

    Parameters
    ----------
    points : array, shape (n, 2)
        In mm.
    path : array, shape (m + 1, 2)
        In mm.

    Returns
    -------
    distance, share : array, shape (n, m)
        Least distance to each segment in mm, and the share of the segment it is reached at.
    """
    a, d = path[:-1], np.diff(path, axis=0)
    length2 = np.maximum((d * d).sum(axis=1), 1e-12)
    rel = points[:, None, :] - a[None, :, :]
    share = np.clip((rel * d[None]).sum(axis=2) / length2, 0.0, 1.0)
    gap = rel - share[:, :, None] * d[None]
    return np.hypot(gap[:, :, 0], gap[:, :, 1]), share

"""A turned shape as triangles, green or dried, for files and for turning it on a screen."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.solids.curve import Path, resampled
from kilncore.solids.warp import Pith, dried_points, mesh_points, towards_wood

__all__ = ["Mesh", "mesh_of"]


@dataclass(frozen=True, slots=True)
class Mesh:
    """Vertices in mm, shape (n, 3), and triangles by vertex, shape (m, 3), seen from outside leftwise."""

    vertices: NDArray[np.float64]
    triangles: NDArray[np.int64]


def mesh_of(
    outer: Path,
    inner: Path,
    *,
    around: int = 64,
    along: int = 40,
    half_mm: float | None = None,
    pith: Pith | None = None,
    strains: tuple[float, float, float] = (0.0, 0.0, 0.0),
) -> Mesh:
    """Return a closed mesh of a turned piece.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm.
    around, along : int
        Points round and along each path.
    half_mm : float, optional
        Half side of a square plan; what sticks out is pulled in to the square. [mm]
    pith : Pith, optional
        Where given, the mesh is that of the dried piece.
    strains : (float, float, float)
        Radial, tangential, lengthwise shrinkage as shares.

    Returns
    -------
    mesh : Mesh
        Watertight: both ends on the axis are single points.

    References
    ----------
    .. [geometry] rings joined by pairs of triangles.
    """
    path = (*resampled(outer, along), *reversed(resampled(inner, along)))
    body = path[1:-1]
    points = mesh_points(body, around)
    if half_mm is not None:
        reach = np.maximum(np.abs(points[:, 0]), np.abs(points[:, 1]))
        points[:, :2] *= np.minimum(1.0, half_mm / np.maximum(reach, 1e-9))[:, None]
    ends = np.array([[0.0, 0.0, path[0][1]], [0.0, 0.0, path[-1][1]]])
    vertices = np.concatenate([points, ends])
    if pith is not None:
        vertices = dried_points(vertices, pith=pith, strains=strains, towards=towards_wood(pith, outer))
    return Mesh(vertices, _triangles(len(body), around))


def _triangles(rings: int, around: int) -> NDArray[np.int64]:
    i = np.arange(rings - 1)[:, None] * around
    k, j = np.arange(around)[None], np.roll(np.arange(around), -1)[None]
    a, b, c, d = i + k, i + j, i + around + j, i + around + k
    sides = np.concatenate([np.stack([a, b, c], 2).reshape(-1, 3), np.stack([a, c, d], 2).reshape(-1, 3)])
    low, high = rings * around, rings * around + 1
    foot = np.stack([np.full(around, low), j[0], k[0]], 1)
    last = (rings - 1) * around
    floor = np.stack([np.full(around, high), last + k[0], last + j[0]], 1)
    return np.concatenate([sides, foot, floor]).astype(np.int64)

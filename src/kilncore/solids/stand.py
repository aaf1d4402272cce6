"""Does it stand: how far it may be pushed before it tips, empty and filled."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.solids.curve import Path, resampled

__all__ = ["Standing", "layers_of", "standing"]

Floats = NDArray[np.float64]
LAYERS = 200
STEPS_DEG = np.array([0.25, *range(1, 91)], dtype=np.float64)
HALVINGS = 14


@dataclass(frozen=True, slots=True)
class Standing:
    """Angles in degrees. ``tips_deg`` is None where it always rights itself, 0 where it cannot stand.

    ``spills_deg`` is where a filling of ``filled_share`` of the capacity runs over.
    """

    tips_deg: float | None
    tips_full_deg: float | None
    spills_deg: float
    filled_share: float
    rolls: bool


def _contact(outer: Path, tilt: Floats) -> Floats:
    """How far the ground lies below the origin for each tilt: the hull's support."""
    r, z = np.array(outer).T
    return np.asarray((np.sin(tilt)[:, None] * r - np.cos(tilt)[:, None] * z).max(axis=1))


def _crest(energy: Floats, tilts: Floats) -> float | None:
    """Return the tilt at which the height of the mass stops rising; None if it never falls again."""
    rise = np.diff(energy)
    small = 1e-5 * float(np.abs(energy).max())
    if rise[:3].sum() < -small:
        return 0.0
    falls = np.nonzero(rise[2:] < -small)[0]
    return float(tilts[falls[0] + 2]) if len(falls) else None


def layers_of(inner: Path) -> tuple[Floats, Floats, float]:
    """Return heights and radii of thin level layers of the hollow, and their thickness. [mm].

    Parameters
    ----------
    inner : tuple of (float, float)
        Axis to rim, mm; the widest place counts where a height is met twice.

    Returns
    -------
    heights, radii, thickness : array, array, float
        In mm.
    """
    xy = np.array(resampled(inner, 240))
    low, top = float(xy[:, 1].min()), float(xy[-1, 1])
    step = (top - low) / LAYERS
    z = low + (np.arange(LAYERS) + 0.5) * step
    rising = np.maximum.accumulate(xy[:, 1])
    return np.array(z, dtype=np.float64), np.array(np.interp(z, rising, xy[:, 0]), dtype=np.float64), step


def _wet(layers: tuple[Floats, Floats, float], tilt: Floats, level: Floats) -> tuple[Floats, Floats, Floats]:
    """Volume below a level plane for each tilt, and its moments along and across the axis.

    A layer is wet where x sin(tilt) + z cos(tilt) < level; x < 0 is the side that went down.
    """
    z, r, step = layers
    x = (level[:, None] - z[None] * np.cos(tilt)[:, None]) / np.sin(tilt)[:, None]
    c = np.clip(x / np.maximum(r, 1e-9)[None], -1.0, 1.0)
    root = np.sqrt(1.0 - c * c)
    area = r * r * (math.pi - np.arccos(c) + c * root)
    across = -2.0 / 3.0 * (r[None] * root) ** 3
    return area.sum(axis=1) * step, (area * z).sum(axis=1) * step, across.sum(axis=1) * step


def _brimming(layers: tuple[Floats, Floats, float], tilts: Floats, inner: Path) -> Floats:
    """What the hollow still holds at each tilt: water up to the rim's low side. [mm3]."""
    lip = inner[-1][1] * np.cos(tilts) - inner[-1][0] * np.sin(tilts)
    return _wet(layers, tilts, lip)[0]


def _water(layers: tuple[Floats, Floats, float], tilts: Floats, wanted: float) -> Floats:
    """Mass times height of the water about the origin at each tilt. [g mm]."""
    z, r, _ = layers
    reach = float(r.max()) * np.sin(tilts)
    low, high = z[0] * np.cos(tilts) - reach, z[-1] * np.cos(tilts) + reach
    for _ in range(HALVINGS):
        level = 0.5 * (low + high)
        short = _wet(layers, tilts, level)[0] < wanted
        low, high = np.where(short, level, low), np.where(short, high, level)
    one, two = _wet(layers, tilts, low)[0], _wet(layers, tilts, high)[0]
    level = low + (high - low) * np.clip((wanted - one) / np.maximum(two - one, 1e-9), 0.0, 1.0)
    volume, along_axis, across = _wet(layers, tilts, level)
    height = (along_axis * np.cos(tilts) + across * np.sin(tilts)) / np.maximum(volume, 1e-9)
    return np.asarray(height * wanted / 1000.0)


def standing(
    outer: Path,
    inner: Path,
    *,
    mass_g: float,
    cg_z_mm: float,
    filled_share: float = 0.7,
) -> Standing:
    """Return how far a piece may be pushed before it tips.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm.
    mass_g : float
        Of the wood. [g]
    cg_z_mm : float
        Its centre of gravity. [mm]
    filled_share : float
        Share of the capacity that is water in the filled case.

    Returns
    -------
    standing : Standing
        The crest of the centre of gravity's height over the support of the convex hull;
        the water keeps a level surface.

    References
    ----------
    .. [geometry] least potential energy of a body on a plane.
    """
    tilts = np.radians(STEPS_DEG)
    support = _contact(outer, tilts)
    empty = mass_g * (cg_z_mm * np.cos(tilts) + support)
    layers = layers_of(inner)
    wanted = filled_share * float((math.pi * layers[1] ** 2).sum()) * layers[2]
    over = _brimming(layers, tilts, inner) < wanted
    last = int(over.argmax()) if over.any() else len(tilts)
    wet = slice(0, max(last, 3))
    full = empty[wet] + _water(layers, tilts[wet], wanted) + wanted / 1000.0 * support[wet]
    rolls = outer[1][0] > 0.0 and abs(outer[1][1] - outer[0][1]) > 1e-6
    spills = float(STEPS_DEG[last]) if last < len(tilts) else 90.0
    return Standing(_crest(empty, STEPS_DEG), _crest(full, STEPS_DEG[wet]), spills, filled_share, rolls)

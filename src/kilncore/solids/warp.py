"""Where wood goes as it dries: the shape a green piece takes, from the place of the pith."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import Unknown, require_range
from kilncore.rules.wall import LENGTHWISE_PCT
from kilncore.said import Sentence, say
from kilncore.solids.curve import Path, resampled
from kilncore.wood.moisture import shrinkage_pct
from kilncore.wood.species import Species

__all__ = [
    "ORIENTATIONS",
    "Dried",
    "Pith",
    "crack_mm",
    "dried_points",
    "dried_shape",
    "left_in",
    "mesh_points",
    "needed_wall_mm",
    "pith_from_rim",
    "strains_at",
    "towards_wood",
]

Floats = NDArray[np.float64]

ORIENTATIONS: dict[str, str] = {
    "rim-to-pith": "rim towards the pith",
    "rim-to-bark": "rim towards the bark",
    "end-grain": "along the log",
}

# Points round the rim the drawn shape is made of.
AROUND = 48
# A foot this much out of flat rocks on a table (assumed).
ROCKS_MM = 0.4


@dataclass(frozen=True, slots=True)
class Pith:
    """Where the log's middle runs, in the piece's own heights.

    Side grain: along x at height ``z_mm`` and ``off_mm`` beside the axis. End grain:
    along the axis, ``off_mm`` beside it.
    """

    orientation: str
    z_mm: float = 0.0
    off_mm: float = 0.0

    def __post_init__(self) -> None:
        if self.orientation not in ORIENTATIONS:
            raise Unknown("orientation", self.orientation, list(ORIENTATIONS))
        require_range("z_mm", self.z_mm, -2000.0, 3000.0)
        require_range("off_mm", self.off_mm, -1000.0, 1000.0)


def pith_from_rim(orientation: str, *, rim_mm: float, pith_mm: float, off_mm: float = 0.0) -> Pith:
    """Return the pith in the heights of a form, from its distance to the rim.

    Parameters
    ----------
    orientation : str
        A key of ``ORIENTATIONS``.
    rim_mm : float
        Height of the rim's plane. [mm]
    pith_mm : float
        Rim plane to pith of side grain, axis to pith of end grain. [mm]
    off_mm : float
        Beside the axis, in side grain. [mm]

    Returns
    -------
    pith : Pith
        Above the rim where it is turned towards the pith, else below.

    Raises
    ------
    Unknown
        For another orientation.
    """
    if orientation == "end-grain":
        return Pith(orientation, 0.0, pith_mm)
    return Pith(orientation, rim_mm + (pith_mm if orientation == "rim-to-pith" else -pith_mm), off_mm)


@dataclass(frozen=True, slots=True)
class Dried:
    """A dried piece: ``rim`` is its rim seen from above, the sections run foot to rim.

    ``rise_mm``: the rim's grain ends stand this much above its sides (negative: below).
    ``cracks_mm`` is the width that opens in all where the pith lies in the wood.
    """

    mc_pct: float
    rim: tuple[tuple[float, float], ...]
    along: Path
    across: Path
    long_mm: float
    short_mm: float
    rise_mm: float
    foot_mm: float
    cracks_mm: float
    words: tuple[Sentence, ...]


def strains_at(wood: Species, mc_pct: float) -> tuple[float, float, float]:
    """Return radial, tangential and lengthwise shrinkage from green to a moisture, as shares.

    Parameters
    ----------
    wood : Species
        Its shrinkage.
    mc_pct : float
        Moisture reached. [%]

    Returns
    -------
    radial, tangential, lengthwise : float
        Shares of the green size.

    References
    ----------
    .. [wood-handbook] ch. 4; lengthwise 0.1 to 0.2 % for normal wood.
    """
    full = (wood.shrink_radial_pct.typical, wood.shrink_tangential_pct.typical, LENGTHWISE_PCT)
    er, et, el = (shrinkage_pct(s, mc_pct=mc_pct) / 100.0 for s in full)
    return er, et, el


def _turned(u: Floats, v: Floats, er: float, et: float, towards: float) -> tuple[Floats, Floats]:
    """The stress-free map about the pith in the plane of its rings; angles from ``towards``."""
    r = np.hypot(u, v)
    angle = np.angle(np.exp(1j * (np.arctan2(v, u) - towards)))
    turn = towards + angle * (1.0 - et) / (1.0 - er)
    return r * (1.0 - er) * np.cos(turn), r * (1.0 - er) * np.sin(turn)


def dried_points(
    points: Floats, *, pith: Pith, strains: tuple[float, float, float], towards: float | None = None
) -> Floats:
    """Return where points of a green piece lie once dry.

    Parameters
    ----------
    points : array, shape (n, 3)
        x along the fibres of side grain, y across, z up; mm.
    pith : Pith
        The log's middle.
    strains : (float, float, float)
        Radial, tangential, lengthwise shrinkage as shares.
    towards : float, optional
        Direction from the pith to the wood in the plane of the rings; of the points' middle where not given.

    Returns
    -------
    points : array, shape (n, 3)
        The pith itself stays; mm.

    References
    ----------
    .. [geometry] r' = r (1 - er), theta' = theta (1 - et)/(1 - er) about the pith.
    """
    er, et, el = strains
    x, y, z = points.T
    if pith.orientation == "end-grain":
        u, v = x - pith.off_mm, y
        way = math.atan2(float(v.mean()), float(u.mean())) if towards is None else towards
        u2, v2 = _turned(u, v, er, et, way)
        return np.stack([u2 + pith.off_mm, v2, z * (1.0 - el)], axis=1)
    u, v = y - pith.off_mm, z - pith.z_mm
    way = math.atan2(float(v.mean()), float(u.mean())) if towards is None else towards
    u2, v2 = _turned(u, v, er, et, way)
    return np.stack([x * (1.0 - el), u2 + pith.off_mm, v2 + pith.z_mm], axis=1)


def crack_mm(radius_mm: float, *, radial: float, tangential: float) -> float:
    """Return the width that opens in all at a radius round a pith that stays in the wood. [mm].

    Parameters
    ----------
    radius_mm : float
        From the pith. [mm]
    radial, tangential : float
        Shrinkage as shares.

    Returns
    -------
    crack_mm : float
        2 pi r (et - er). [mm]

    References
    ----------
    .. [geometry] the ring is short by that much of its turn.
    """
    return 2.0 * math.pi * radius_mm * max(tangential - radial, 0.0)


def mesh_points(path: Path, around: int = AROUND) -> Floats:
    """Return a path turned round the axis, shape (len(path) * around, 3), ring by ring. [mm]."""
    turn = 2.0 * math.pi * np.arange(around) / around
    r, z = np.array(path).T
    x, y = r[:, None] * np.cos(turn), r[:, None] * np.sin(turn)
    return np.stack([x, y, np.broadcast_to(z[:, None], x.shape)], axis=2).reshape(-1, 3)


def towards_wood(pith: Pith, outer: Path) -> float:
    """Return the direction from the pith to the wood in the plane of the rings, radians."""
    if pith.orientation == "end-grain":
        return 0.0 if pith.off_mm < 0 else math.pi
    middle = 0.5 * (outer[0][1] + outer[-1][1])
    return math.atan2(middle - pith.z_mm, -pith.off_mm)


def _holds_pith(outer: Path, inner: Path, pith: Pith) -> bool:
    if pith.orientation == "end-grain":
        return abs(pith.off_mm) < max(r for r, _ in outer)
    low, top = outer[0][1], outer[-1][1]
    return low < pith.z_mm < top and abs(pith.off_mm) < max(r for r, _ in outer)


def dried_shape(outer: Path, inner: Path, *, pith: Pith, wood: Species, mc_pct: float) -> Dried:
    """Return the shape a green piece takes at a moisture.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm.
    pith : Pith
        The log's middle.
    wood : Species
        Its shrinkage.
    mc_pct : float
        Moisture reached. [%]

    Returns
    -------
    dried : Dried
        Rim, sections, ovals, rise of the grain ends, foot out of flat, cracks.

    References
    ----------
    .. [geometry] the stress-free map; what the wood holds back by creep is not in it.
    """
    strains = strains_at(wood, mc_pct)
    way = towards_wood(pith, outer)
    path = (*resampled(outer, 40), *reversed(resampled(inner, 40)))
    points = dried_points(mesh_points(path), pith=pith, strains=strains, towards=way)
    rings = points.reshape(len(path), AROUND, 3)
    rim = rings[39]
    half = AROUND // 2
    centre = rim.mean(axis=0)
    spans = np.hypot(*(rim[:half, :2] - rim[half:, :2]).T)
    ends, sides = 0.5 * (rim[0, 2] + rim[half, 2]), 0.5 * (rim[AROUND // 4, 2] + rim[3 * AROUND // 4, 2])
    foot = _foot(outer, pith=pith, strains=strains, way=way)
    low = float(foot[:, 2].min())
    holds = _holds_pith(outer, inner, pith)
    reach = max(r for r, _ in outer)
    cracks = crack_mm(reach, radial=strains[0], tangential=strains[1]) if holds else 0.0
    flat = _out_of_flat(foot)
    return Dried(
        mc_pct=mc_pct,
        rim=tuple((float(p[0] - centre[0]), float(p[1] - centre[1])) for p in rim),
        along=tuple((float(p[0]), float(p[2] - low)) for p in (*rings[:40, half][::-1], *rings[:40, 0])),
        across=tuple(
            (float(p[1] - centre[1]), float(p[2] - low))
            for p in (*rings[:40, 3 * AROUND // 4][::-1], *rings[:40, AROUND // 4])
        ),
        long_mm=float(spans.max()),
        short_mm=float(spans.min()),
        rise_mm=float(ends - sides),
        foot_mm=flat,
        cracks_mm=cracks,
        words=_words(pith, float(spans.max() - spans.min()), float(ends - sides), flat, cracks),
    )


def _foot(outer: Path, *, pith: Pith, strains: tuple[float, float, float], way: float) -> Floats:
    radius = outer[1][0] if outer[1][1] == outer[0][1] else 0.3 * max(r for r, _ in outer)
    ring = mesh_points(((radius, outer[0][1]),))
    return dried_points(ring, pith=pith, strains=strains, towards=way)


def _out_of_flat(foot: Floats) -> float:
    """How far the foot's ring leaves its best plane. [mm]."""
    flat = np.column_stack([foot[:, :2], np.ones(len(foot))])
    plane, *_ = np.linalg.lstsq(flat, foot[:, 2], rcond=None)
    off = foot[:, 2] - flat @ plane
    return float(off.max() - off.min())


def _words(pith: Pith, oval: float, rise: float, foot: float, cracks: float) -> tuple[Sentence, ...]:
    said = [say("goes-oval", "The rim goes {oval_mm} oval, longest along the grain.", oval_mm=oval)]
    if pith.orientation == "end-grain":
        said = [
            say("goes-oval-end", "The mouth goes {oval_mm} oval; the height hardly changes.", oval_mm=oval)
        ]
    elif rise > 0.3:
        said.append(say("ends-rise", "Its two grain ends stand {rise_mm} above the sides.", rise_mm=rise))
    elif rise < -0.3:
        said.append(say("ends-drop", "Its two grain ends drop {rise_mm} below the sides.", rise_mm=-rise))
    if foot > ROCKS_MM:
        said.append(say("foot-rocks", "The foot goes {foot_mm} out of flat and will rock: hollow it, or flatten it once dry.",
                        foot_mm=foot))  # fmt: skip
    else:
        said.append(say("foot-stands", "The foot stays within {foot_mm} of flat: it stands.", foot_mm=foot))
    if cracks > 0.0:
        said.append(say("pith-cracks", "The pith is in it: at the rim cracks open by {cracks_mm} in all, unless it is bored out.",
                        cracks_mm=cracks))  # fmt: skip
    return tuple(said)


def left_in(outer: Path, inner: Path, *, pith: Pith, wood: Species, mc_pct: float) -> tuple[float, float]:
    """Return what round bowl is left in a dried rough-out: diameter, and least wall over all heights.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Green, axis to rim, mm.
    pith : Pith
        The log's middle.
    wood : Species
        Its shrinkage.
    mc_pct : float
        Moisture reached. [%]

    Returns
    -------
    diameter_mm, wall_mm : float
        Twice the least radius outside at the rim, and the least over the heights of least outer less
        greatest inner radius; nothing cleaned off yet. [mm]

    References
    ----------
    .. [geometry] full envelope of the dried points about the middle of the rim.
    """
    strains, way = strains_at(wood, mc_pct), towards_wood(pith, outer)
    rim = dried_points(mesh_points((outer[-1],)), pith=pith, strains=strains, towards=way)
    x0, y0 = 0.5 * (rim[:, :2].max(axis=0) + rim[:, :2].min(axis=0))
    reach = []
    top, floor = outer[-1][1], inner[0][1]
    heights = np.linspace(floor + 0.25 * (top - floor), top - 0.5, 14)
    for path in (outer, inner):
        fine = resampled(path, 90)
        points = dried_points(mesh_points(fine), pith=pith, strains=strains, towards=way)
        rings = points.reshape(len(fine), AROUND, 3) - np.array([x0, y0, 0.0])
        r, z = np.hypot(rings[:, :, 0], rings[:, :, 1]), rings[:, :, 2]
        columns = [np.interp(heights, np.maximum.accumulate(z[:, k]), r[:, k]) for k in range(AROUND)]
        reach.append(np.array(columns))
    wall = float((reach[0].min(axis=0) - reach[1].max(axis=0)).min())
    return 2.0 * float(np.hypot(rim[:, 0] - x0, rim[:, 1] - y0).min()), wall


def needed_wall_mm(
    finish: Path, *, finish_wall_mm: float, clean_mm: float, pith: Pith, wood: Species, mc_pct: float
) -> tuple[float, float]:
    """Return the rough diameter and even rough wall in which a finished bowl still lies once dry.

    Parameters
    ----------
    finish : tuple of (float, float)
        Outside of the finished bowl, axis to rim, mm.
    finish_wall_mm, clean_mm : float
        Wall to keep, and what truing takes off each face. [mm]
    pith : Pith
        The log's middle, in heights of the rough-out.
    wood : Species
        Its shrinkage.
    mc_pct : float
        Moisture reached. [%]

    Returns
    -------
    diameter_mm, wall_mm : float
        Found by halving over the full envelope. [mm]

    References
    ----------
    .. [geometry] see ``left_in``; needs more than the closed form where the pith is off the axis.
    """
    wanted = max(r for r, _ in finish) * 2.0 + 2.0 * clean_mm

    def rough(scale: float) -> Path:
        return tuple((r * scale, z * scale) for r, z in finish)

    def inside(outer: Path, wall: float) -> Path:
        return tuple((max(r - wall, 0.0), z + wall if r < wall else z) for r, z in outer)

    low, high = 1.0, 1.6
    for _ in range(30):
        k = 0.5 * (low + high)
        outer = rough(k)
        found = left_in(outer, inside(outer, 5.0), pith=pith, wood=wood, mc_pct=mc_pct)[0]
        low, high = (k, high) if found < wanted else (low, k)
    outer = rough(high)
    thin, thick = finish_wall_mm, 0.45 * outer[-1][0]
    for _ in range(26):
        wall = 0.5 * (thin + thick)
        kept = left_in(outer, inside(outer, wall), pith=pith, wood=wood, mc_pct=mc_pct)[1] - 2.0 * clean_mm
        thin, thick = (wall, thick) if kept < finish_wall_mm else (thin, wall)
    return 2.0 * max(r for r, _ in outer), thick

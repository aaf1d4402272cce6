"""The depth card: what to measure where, down the inside; callipers read against the plan."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import Impossible, require_range
from kilncore.said import Figure, Sentence, say
from kilncore.solids.curve import Path, distances

__all__ = [
    "DepthRow",
    "Reading",
    "ReadingCheck",
    "check_readings",
    "depth_card",
    "depth_hole",
    "profile_from_measures",
]

Floats = NDArray[np.float64]

# A depth hole stops this much before the floor.
SHY_MM = 1.0


@dataclass(frozen=True, slots=True)
class DepthRow:
    """One depth below the rim. ``across_mm`` is the level measure, ``wall_mm`` the least distance.

    ``gap_mm`` is what stays open in a spring calliper set to ``set_mm`` when the wall is right.
    """

    depth_mm: float
    outside_mm: float | None
    inside_mm: float | None
    wall_mm: float | None
    across_mm: float | None
    set_mm: float
    gap_mm: float | None


def radius_at(path: Path, z_mm: float, *, outermost: bool) -> float | None:
    """Return the radius of a path at a height, None where it does not reach. [mm].

    Parameters
    ----------
    path : tuple of (float, float)
        Radius and height, mm.
    z_mm : float
        The height. [mm]
    outermost : bool
        Which crossing counts where there are several.

    Returns
    -------
    radius_mm : float or None
        In mm.
    """
    xy = np.array(path)
    z1, z2 = xy[:-1, 1], xy[1:, 1]
    hit = (np.minimum(z1, z2) <= z_mm) & (z_mm <= np.maximum(z1, z2)) & (np.abs(z2 - z1) > 1e-9)
    if not hit.any():
        return None
    share = (z_mm - z1[hit]) / (z2[hit] - z1[hit])
    r = xy[:-1, 0][hit] + share * np.diff(xy[:, 0])[hit]
    return float(r.max() if outermost else r.min())


def depth_card(
    outer: Path, inner: Path, *, every_mm: float = 10.0, set_mm: float | None = None
) -> tuple[DepthRow, ...]:
    """Return what to measure at every step of depth below the rim.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm.
    every_mm : float
        Step of depth. [mm]
    set_mm : float, optional
        Gap of the spring calliper; a little more than the thickest side where not given. [mm]

    Returns
    -------
    rows : tuple of DepthRow
        Rim first, the bottom of the hollow last.

    Raises
    ------
    OutOfRange
        For a step under 1 or over 100 mm.
    Impossible
        If the calliper is set to less than a wall it must pass.

    References
    ----------
    .. [common-practice] a spring calliper is set to a known gap and read by what stays open.
    """
    require_range("every_mm", every_mm, 1.0, 100.0)
    top, floor = inner[-1][1], inner[0][1]
    depths = [*np.arange(0.0, top - floor - 0.25, every_mm), top - floor]
    rows = [(float(d), *_at(outer, inner, top - float(d))) for d in depths]
    walls = [w for _, _, _, w, _ in rows[:-1] if w is not None]
    gap = set_mm if set_mm is not None else np.ceil((max(walls, default=5.0) + 3.0) / 5.0) * 5.0
    if walls and gap < max(walls):
        text = "A calliper set to {set_mm} does not pass a wall of {wall_mm}; open it wider."
        raise Impossible("calliper-too-narrow", "set_mm", text, {"set_mm": gap, "wall_mm": max(walls)})
    return tuple(
        DepthRow(d, o, i, w, a, float(gap), None if w is None or d == depths[-1] else float(gap) - w)
        for d, o, i, w, a in rows
    )


def _at(outer: Path, inner: Path, z: float) -> tuple[float | None, float | None, float | None, float | None]:
    out = radius_at(outer, z, outermost=True)
    inn = radius_at(inner, z, outermost=True)
    if inn is None:
        inn = 0.0
    wall = float(distances(np.array([[inn, z]]), np.array(outer))[0].min())
    return out, inn, wall, None if out is None else out - inn


def depth_hole(inner: Path) -> Figure:
    """Return how deep to drill from the rim: to just shy of the floor.

    Parameters
    ----------
    inner : tuple of (float, float)
        Axis to rim, mm.

    Returns
    -------
    depth_hole_mm : Figure
        From the rim. [mm]

    References
    ----------
    .. [common-practice] stop just shy of the bottom.
    """
    deep = inner[-1][1] - inner[0][1]
    text = "{deep_mm} from the rim to the floor of the hollow, stopping {shy_mm} shy."
    why = say("depth-hole", text, deep_mm=deep, shy_mm=SHY_MM)
    return Figure(
        "depth_hole_mm", "Depth hole, from the rim", value=round(deep - SHY_MM, 1), source="common-practice",
        why=why, group="depth", big=True,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Reading:
    """A wall read by calliper at a height above the foot. [mm]."""

    z_mm: float
    wall_mm: float


@dataclass(frozen=True, slots=True)
class ReadingCheck:
    """A reading beside the plan; positive ``over_mm`` is wood still to take."""

    z_mm: float
    wall_mm: float
    planned_mm: float
    over_mm: float
    words: Sentence


def check_readings(
    outer: Path, inner: Path, readings: tuple[Reading, ...], *, within_mm: float = 0.6
) -> tuple[ReadingCheck, ...]:
    """Return calliper readings beside the plan.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        The plan, mm.
    readings : tuple of Reading
        Heights above the foot and walls.
    within_mm : float
        What counts as right. [mm]

    Returns
    -------
    checks : tuple of ReadingCheck
        From the rim down.

    Raises
    ------
    Impossible
        For a height where there is no wall.

    References
    ----------
    .. [geometry] least distance at the height read.
    """
    checks = []
    for reading in sorted(readings, key=lambda row: -row.z_mm):
        inside = radius_at(inner, reading.z_mm, outermost=True)
        if inside is None:
            text = (
                "There is no side wall {z_mm} above the foot: the hollow lies between {low_mm} and {top_mm}."
            )
            params: dict[str, float | str] = {
                "z_mm": reading.z_mm,
                "low_mm": inner[0][1],
                "top_mm": inner[-1][1],
            }
            raise Impossible("no-wall-there", "z_mm", text, params)
        plan = float(distances(np.array([[inside, reading.z_mm]]), np.array(outer))[0].min())
        over = reading.wall_mm - plan
        checks.append(ReadingCheck(reading.z_mm, reading.wall_mm, plan, over, _words(over, plan, within_mm)))
    return tuple(checks)


def _words(over: float, plan: float, within: float) -> Sentence:
    if abs(over) <= within:
        return say("reading-right", "Right.")
    if over > 0.8 * plan:
        return say("reading-double", "Nearly twice the plan: {over_mm} still to take.", over_mm=over)
    if over > 0:
        return say("reading-thick", "{over_mm} still to take.", over_mm=over)
    return say("reading-thin", "{under_mm} thinner than planned: stop here.", under_mm=-over)


def profile_from_measures(
    rows: tuple[tuple[float, float, float], ...], *, bottom_mm: float
) -> tuple[Path, Path]:
    """Return outer and inner points of an existing bowl measured at heights.

    Parameters
    ----------
    rows : tuple of (float, float, float)
        Height above the foot, outside diameter, and wall there, mm; foot first.
    bottom_mm : float
        Wood under the hollow. [mm]

    Returns
    -------
    outer, inner : tuple of (float, float)
        Points to lay curves through, mm. Inner points lie square off the outer curve by the wall.

    Raises
    ------
    Impossible
        With fewer than three heights, heights that do not rise, or a wall too thick for its place.

    References
    ----------
    .. [geometry] normals of the measured outline.
    """
    if len(rows) < 3:
        raise Impossible("too-few-measures", "measures", "Measure at three heights at least.")
    z, d, wall = np.array(rows).T
    if (np.diff(z) <= 0).any():
        raise Impossible("not-rising", "measures", "Heights must rise from foot to rim.")
    outer = np.stack([d / 2.0, z], axis=1)
    tangent = np.gradient(outer, axis=0)
    normal = np.stack([-tangent[:, 1], tangent[:, 0]], axis=1)
    normal /= np.hypot(*normal.T)[:, None]
    inner = outer + wall[:, None] * normal
    if (inner[:, 0] < 1.0).any():
        i = int((inner[:, 0] < 1.0).argmax())
        text = "A wall of {wall_mm} does not fit in {across_mm}."
        raise Impossible(
            "wall-thicker-than-bowl",
            "measures",
            text,
            {"wall_mm": float(wall[i]), "across_mm": float(d[i])},
        )
    above = inner[inner[:, 1] > bottom_mm + 1.0]
    floor_r = max(0.55 * float(above[0, 0]), 1.0) if len(above) else 0.0
    points = [(floor_r, bottom_mm), *((float(r), float(h)) for r, h in above)]
    if len(points) < 2:
        raise Impossible("no-hollow", "bottom_mm", "With that bottom no hollow is left between the heights.")
    points[-1] = (max(float(d[-1] / 2.0 - wall[-1]), 1.0), float(z[-1]))
    return tuple((float(r), float(h)) for r, h in outer), tuple(points)

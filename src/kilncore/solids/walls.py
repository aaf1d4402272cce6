"""How the inner curve follows from the outer one and a plan for the wall."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import Impossible, Unknown, require_range
from kilncore.said import Sentence, say
from kilncore.solids.curve import Path, along, distances, foot_index

__all__ = ["WALL_PLANS", "WallPlan", "inner_path", "wall_words"]

Floats = NDArray[np.float64]

# Least thickness counted as kept; below the accuracy of callipers.
SLACK_MM = 0.05

WALL_PLANS: dict[str, tuple[str, Sentence]] = {
    "even": (
        "Even",
        say("wall-even", "The same from rim to foot: dries evenly and rings true; the usual utility wall is 5.5 to 6 mm."),
    ),
    "tapered": (
        "Tapering",
        say("wall-tapered", "Growing steadily from rim to foot: a light edge on a body that feels solid."),
    ),
    "heavy": (
        "Heavy bottom",
        say("wall-heavy", "Even down to the lower half, then growing: weight low down, so it stands firm."),
    ),
    "pierced": (
        "Thin, for piercing",
        say("wall-pierced", "Thin and even where it will be cut through, heavier only at the foot: callipers all the way down."),
    ),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class WallPlan:
    """A plan for the wall: kind, wall at the rim and wood below the hollow. [mm]."""

    kind: str = "even"
    wall_mm: float = 6.0
    bottom_mm: float = 10.0

    def __post_init__(self) -> None:
        if self.kind not in WALL_PLANS:
            raise Unknown("wall", self.kind, list(WALL_PLANS))
        require_range("wall_mm", self.wall_mm, 0.8, 150.0)
        require_range("bottom_mm", self.bottom_mm, 0.8, 300.0)

    def thickness_mm(self, share: Floats) -> Floats:
        """Return the wall at a share of the way from foot (0) to rim (1). [mm]."""
        heavy = max(self.bottom_mm, self.wall_mm)
        if self.kind == "tapered":
            return self.wall_mm + (1.0 - share) * (min(1.6 * self.wall_mm, heavy) - self.wall_mm)
        if self.kind == "heavy":
            return self.wall_mm + (heavy - self.wall_mm) * np.clip(1.0 - share / 0.5, 0.0, 1.0) ** 2
        if self.kind == "pierced":
            return self.wall_mm + (heavy - self.wall_mm) * np.clip(1.0 - share / 0.25, 0.0, 1.0) ** 2
        return np.full_like(share, self.wall_mm)


def wall_words(kind: str) -> Sentence:
    """Return what a wall plan is for."""
    return WALL_PLANS[kind][1]


def inner_path(outer: Path, plan: WallPlan) -> Path:
    """Return the inner profile that keeps the planned wall from every point of the outer one.

    Parameters
    ----------
    outer : tuple of (float, float)
        Axis to rim, mm.
    plan : WallPlan
        Kind, wall and bottom.

    Returns
    -------
    inner : tuple of (float, float)
        Axis to rim, mm; its rim lies in the plane of the outer one's.

    Raises
    ------
    Impossible
        If no hollow is left.

    References
    ----------
    .. [geometry] envelope of discs along the outer curve.
    """
    start = foot_index(outer)
    side = np.array(outer[start:])
    top = float(side[-1, 1])
    floor = outer[0][1] + plan.bottom_mm
    if floor >= top - 0.5:
        raise Impossible(
            "bottom-thicker-than-height",
            "bottom_mm",
            "A bottom of {bottom_mm} leaves no hollow in a piece {height_mm} high.",
            {"bottom_mm": plan.bottom_mm, "height_mm": top - outer[0][1]},
        )
    s = along(tuple(map(tuple, side.tolist())))
    t = plan.thickness_mm(s / s[-1])
    shifted = _offsets(side, t, plan.bottom_mm)
    kept = shifted[_clear(shifted, side, t)]
    kept = kept[kept[:, 0] >= 0.0]
    rows = _cut(kept, floor=floor, top=top, lean=side[-1] - side[-2])
    if len(rows) < 2:
        raise Impossible(
            "wall-thicker-than-bowl",
            "wall_mm",
            "Two walls of {wall_mm} leave no hollow in it; less would.",
            {"wall_mm": plan.wall_mm},
        )
    return ((0.0, rows[0][1]), *rows) if rows[0][0] > 0.01 else rows


def _offsets(side: Floats, t: Floats, bottom_mm: float) -> Floats:
    """Points square off each segment, and an arc of them at every bend and round the foot's edge."""
    step = np.diff(side, axis=0)
    normal = np.stack([-step[:, 1], step[:, 0]], axis=1) / np.maximum(np.hypot(*step.T), 1e-9)[:, None]
    angle = np.arctan2(normal[:, 1], normal[:, 0])
    level = math.pi - math.asin(min(bottom_mm / t[0], 1.0))  # where the floor comes in
    out: list[Floats] = [side[0] + t[0] * _fan(level, angle[0])]
    for i in range(len(step)):
        out.append((side[i] + t[i] * normal[i])[None])
        out.append((side[i + 1] + t[i + 1] * normal[i])[None])
        if i + 1 < len(step) and abs(math.remainder(angle[i + 1] - angle[i], 2 * math.pi)) > 0.15:
            out.append(side[i + 1] + t[i + 1] * _fan(angle[i], angle[i + 1]))
    return np.concatenate(out)


def _fan(start: float, end: float) -> Floats:
    turn = math.remainder(end - start, 2.0 * math.pi)
    at = start + turn * np.linspace(0.0, 1.0, 2 + int(abs(turn) / 0.12))
    return np.stack([np.cos(at), np.sin(at)], axis=1)


def _clear(points: Floats, side: Floats, t: Floats) -> NDArray[np.bool_]:
    gap, share = distances(points, side)
    wanted = t[:-1][None] + share * np.diff(t)[None]
    return np.asarray((gap - wanted).min(axis=1) > -SLACK_MM)


def _cut(points: Floats, *, floor: float, top: float, lean: Floats) -> Path:
    """The part between floor and rim plane, with its ends on them."""
    rows: list[tuple[float, float]] = []
    for r, z in points:
        here = (float(r), float(z))
        if rows and (z > top) != (rows[-1][1] > top):
            rows.append(_between(rows[-1], here, top))
        elif rows and (z < floor) != (rows[-1][1] < floor):
            rows.append(_between(rows[-1], here, floor))
        rows.append(here)
    inside = [p for p in rows if floor - 1e-6 <= p[1] <= top + 1e-6]
    if not inside:
        return ()
    last_r, last_z = inside[-1]
    # a side that lies too flat ends square to itself; running on to the plane would close the mouth
    if last_z < top - 1e-6 and lean[1] > 0.7 * abs(lean[0]):
        inside.append((max(float(last_r + (top - last_z) * lean[0] / lean[1]), 0.0), top))
    # a curve that never came down to the floor closes level at its own lowest point
    return tuple(inside)


def _between(one: tuple[float, float], two: tuple[float, float], z: float) -> tuple[float, float]:
    share = (z - one[1]) / (two[1] - one[1])
    return one[0] + share * (two[0] - one[0]), z

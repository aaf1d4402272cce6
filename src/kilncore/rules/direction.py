"""Which way to cut so that the fibres are held up by those below, and where that cannot be had."""

import itertools
import math
from dataclasses import dataclass

import numpy as np

from kilncore.errors import Unknown
from kilncore.said import Sentence, say
from kilncore.solids.curve import Path, along, foot_index, resampled

__all__ = ["INSIDE_WAYS", "CutRun", "Directions", "against_share", "cut_directions"]

Points = tuple[tuple[float, float], ...]

INSIDE_WAYS: dict[str, Sentence] = {
    "rim-down": say("rim-down", "Rim first, then down in steps; the middle stays as ballast and keeps the rim stiff."),
    "centre-out": say("centre-out", "Hollow from the middle outwards to an even thick wall, then finish it in one sweep."),
}  # fmt: skip

# Turns of the radius shallower than this make no new run. [mm]
RIPPLE_MM = 1.0
STEPS = 4


@dataclass(frozen=True, slots=True)
class CutRun:
    """A stretch to be cut in one direction: from its first point to its last."""

    side: str
    points: Points
    words: Sentence


@dataclass(frozen=True, slots=True)
class Directions:
    """Runs outside and inside, steps of the house way, rest heights, and the turn's two halves.

    ``against`` holds, for 72 angles of one turn, how hard the cut goes against the fibres
    (-1 to 1, positive against); all nought in end grain.
    """

    grain: str
    runs: tuple[CutRun, ...]
    steps: tuple[Points, ...]
    way: Sentence
    other_way: Sentence
    rest: tuple[Sentence, ...]
    against: tuple[float, ...]
    words: tuple[Sentence, ...]


def against_share(angle_deg: float, *, slope_deg: float, grain: str) -> float:
    """Return how the cut meets the fibres at an angle of the turn: 1 fully against, -1 with them.

    Parameters
    ----------
    angle_deg : float
        Round the axis, from where the fibres end in the surface. [deg]
    slope_deg : float
        Of the wall from upright: 0 for a straight side, 90 for a flat floor. [deg]
    grain : str
        side-grain or end-grain.

    Returns
    -------
    share : float
        sin(2 angle) cos(slope); nought in end grain, where the fibres meet every turn alike.

    References
    ----------
    .. [geometry] product of the fibre's part along the surface normal and along the cut.
    """
    if grain == "end-grain":
        return 0.0
    return math.sin(2.0 * math.radians(angle_deg)) * math.cos(math.radians(slope_deg))


def _runs(path: Path, *, small_to_large: bool) -> list[Points]:
    """Split a path where its radius turns, each part in the direction wanted."""
    xy = np.array(path)
    if len(xy) < 2:
        return []
    turns, going = [0], 0.0
    extreme = 0
    for i in range(1, len(xy)):
        change = xy[i, 0] - xy[extreme, 0]
        if going == 0.0 and abs(change) > RIPPLE_MM:
            going = math.copysign(1.0, change)
            extreme = i
        elif going * change > 0.0:
            extreme = i
        elif going != 0.0 and abs(change) > RIPPLE_MM:
            turns.append(extreme)
            going, extreme = -going, i
    turns.append(len(xy) - 1)
    parts = []
    for a, b in itertools.pairwise(turns):
        part = xy[a : b + 1]
        if len(part) < 2:
            continue
        grows = part[-1, 0] >= part[0, 0]
        parts.append(
            tuple((float(r), float(z)) for r, z in (part if grows == small_to_large else part[::-1]))
        )
    return parts


def cut_directions(outer: Path, inner: Path, *, grain: str, inside: str = "rim-down") -> Directions:
    """Return the cuts outside and inside that leave every fibre with others below it.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Axis to rim, mm.
    grain : str
        side-grain or end-grain.
    inside : str
        House way inside a side-grain bowl.

    Returns
    -------
    directions : Directions
        To be drawn on the section.

    Raises
    ------
    Unknown
        For another grain or way.

    References
    ----------
    .. [common-practice] side grain outside foot to rim, inside rim to bottom; end grain outside large to
       small, inside centre outwards.
    """
    if grain not in ("side-grain", "end-grain"):
        raise Unknown("grain", grain, ["side-grain", "end-grain"])
    if inside not in INSIDE_WAYS:
        raise Unknown("inside", inside, list(INSIDE_WAYS))
    end = grain == "end-grain"
    out_words = (
        say("end-outside", "From the large diameter to the small.")
        if end
        else say("side-outside", "From the small diameter to the large: foot to rim.")
    )
    in_words = (
        say("end-inside", "From the middle outwards and up.")
        if end
        else say("side-inside", "From the rim to the bottom: large to small.")
    )
    runs = [
        CutRun("outside", p, out_words) for p in _runs(outer[foot_index(outer) :], small_to_large=not end)
    ]
    runs += [CutRun("inside", p, in_words) for p in _runs(inner, small_to_large=end)]
    slope = _slope(outer)
    angles = range(0, 360, 5)
    other = "centre-out" if inside == "rim-down" else "rim-down"
    return Directions(
        grain=grain,
        runs=tuple(runs),
        steps=_steps(inner, inside=inside, end=end),
        way=say("end-way", "Drill first, then from the middle outwards with the fibres.") if end else INSIDE_WAYS[inside],
        other_way=INSIDE_WAYS["centre-out"] if end else INSIDE_WAYS[other],
        rest=_rest(end),
        against=tuple(round(against_share(a, slope_deg=slope, grain=grain), 3) for a in angles),
        words=_words(end, slope),
    )  # fmt: skip


def _slope(path: Path) -> float:
    """Mean slope of the side from upright, weighed by length. [deg]."""
    side = np.array(path[foot_index(path) :])
    step = np.abs(np.diff(side, axis=0))
    weight = np.hypot(*step.T) * side[1:, 0]
    return float((np.degrees(np.arctan2(step[:, 0], step[:, 1])) * weight).sum() / max(weight.sum(), 1e-9))


def _steps(inner: Path, *, inside: str, end: bool) -> tuple[Points, ...]:
    """The hollow after each step: bands down the wall round a standing middle, or growing bowls."""
    xy = np.array(inner)
    s = along(inner)
    out = []
    if end or inside == "centre-out":
        for share in np.linspace(1.0 / STEPS, 1.0, STEPS):
            mid = np.array([0.0, xy[-1, 1]])
            out.append(resampled(tuple((float(r), float(z)) for r, z in mid + share * (xy - mid)), 16))
        return tuple(out)
    ballast, top = 0.4 * float(xy[-1, 0]), float(xy[-1, 1])
    for share in np.linspace(1.0 / STEPS, 1.0, STEPS):
        part = xy[s >= (1.0 - share) * s[-1] - 1e-9]
        path = [(float(r), float(z)) for r, z in part]
        if share < 1.0:  # the middle still stands
            path = [(ballast, top), (min(ballast, 0.7 * path[0][0]), path[0][1]), *path]
        out.append(resampled(tuple(path), 16))
    return tuple(out)


def _rest(end: bool) -> tuple[Sentence, ...]:
    said = [say("rest-gouge", "Rest so that the gouge's edge meets the work at the height of the centre.")]
    said.append(
        say("rest-scraper", "Scrapers inside a little above the centre, so that a catch swings them free.")
    )
    if not end:
        said.append(say("rest-follow", "Move the rest after the work: the gap grows with every pass."))
    return tuple(said)


def _words(end: bool, slope: float) -> tuple[Sentence, ...]:
    if end:
        return (say("end-turn", "The fibres run along the axis: every turn meets them alike, none against."),)
    share = math.cos(math.radians(slope))
    text = "Twice in each turn the tool meets the fibres' ends, twice it runs with them; here {share_pct} as hard as on a straight side."
    said = [say("two-quarters", text, share_pct=100.0 * share)]
    if share > 0.75:
        said.append(
            say(
                "steep",
                "The steep wall tears most in those two quarters: sharp edge and light last cuts there.",
            )
        )
    return tuple(said)

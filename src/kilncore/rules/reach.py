"""Which bar reaches which part of a hollow, how far it hangs over, how much it gives."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.equipment import Bar
from kilncore.errors import Impossible, require_range
from kilncore.rules.rulebook import Rule
from kilncore.said import Figure, Limit, Sentence, say
from kilncore.solids.curve import Path, resampled

__all__ = ["HANDLE", "BarReach", "ReachPlan", "Spot", "deflection_mm", "first_hz", "reach_plan"]

Floats = NDArray[np.float64]

STEEL_MPA = 205_000.0
STEEL_KG_M3 = 7850.0
# A push of the cut the deflection is shown for (assumed; the figure grows in step with it).
PUSH_N = 50.0
OVERHANG_DIAMETERS = 12.0
REST_GAP_MM = 10.0
# A small cutter at the tip: the bar itself clears the wall by this (assumed).
TIP_CLEAR_MM = 3.0
SPOTS = 36

HANDLE = Rule("handle", "How long must the handle be behind the rest?")


@HANDLE.school("four", label="Four times the overhang", source_key="common-practice")
def _four(*, overhang_mm: float) -> tuple[float, Sentence]:
    return 4.0 * overhang_mm, say("four-times", "Four times {overhang_mm} behind the rest.", overhang_mm=overhang_mm)  # fmt: skip


@HANDLE.school("five", label="Five times the overhang", source_key="common-practice")
def _five(*, overhang_mm: float) -> tuple[float, Sentence]:
    return 5.0 * overhang_mm, say("five-times", "Five times {overhang_mm} behind the rest.", overhang_mm=overhang_mm)  # fmt: skip


def deflection_mm(length_mm: float, *, diameter_mm: float, push_n: float = PUSH_N) -> float:
    """Return how far the tip of a bar held at the rest gives under a push.

    Parameters
    ----------
    length_mm : float
        Overhang. [mm]
    diameter_mm : float
        Round bar. [mm]
    push_n : float
        At the tip, square to the bar. [N]

    Returns
    -------
    deflection_mm : float
        F L^3 / (3 E I), I = pi d^4 / 64. [mm]

    References
    ----------
    .. [roark] cantilever with an end load.
    """
    require_range("diameter_mm", diameter_mm, 2.0, 80.0)
    inertia = math.pi * diameter_mm**4 / 64.0
    return push_n * length_mm**3 / (3.0 * STEEL_MPA * inertia)


def first_hz(length_mm: float, *, diameter_mm: float) -> float:
    """Return the first frequency of the overhanging bar were the rest a vice: an upper bound. [Hz].

    Parameters
    ----------
    length_mm : float
        Overhang. [mm]
    diameter_mm : float
        Round bar. [mm]

    Returns
    -------
    first : float
        1.875^2 / (2 pi L^2) sqrt(E I / (rho A)). [Hz]

    References
    ----------
    .. [roark] natural frequencies of a cantilever.
    """
    ei_over_mass = STEEL_MPA * 1e6 * (diameter_mm / 1000.0) ** 2 / 16.0 / STEEL_KG_M3
    return 1.8751**2 / (2.0 * math.pi * (length_mm / 1000.0) ** 2) * math.sqrt(ei_over_mass)


@dataclass(frozen=True, slots=True)
class Spot:
    """A place on the inside and how a bar gets to it; ``line`` runs from the tip to the rest."""

    r_mm: float
    z_mm: float
    reached: bool
    overhang_mm: float | None
    over_limit: bool
    line: tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class BarReach:
    """What one bar does in this hollow."""

    bar: Bar
    spots: tuple[Spot, ...]
    share_pct: float
    longest_mm: float | None
    figures: tuple[Figure, ...]
    words: tuple[Sentence, ...]


@dataclass(frozen=True, slots=True)
class ReachPlan:
    """All bars, what none of them reaches, and the order of the work."""

    bars: tuple[BarReach, ...]
    missed: tuple[tuple[float, float], ...]
    order: tuple[Sentence, ...]


def _targets(inner: Path) -> Floats:
    points = np.array(resampled(inner, SPOTS + 1))
    return points[:-1]


def _room(inner: Path, z: Floats) -> Floats:
    xy = np.array(inner)
    return np.asarray(np.interp(z, np.maximum.accumulate(xy[:, 1]), xy[:, 0]))


def _spot(inner: Path, bar: Bar, target: Floats) -> Spot:
    """The least overhang over where the bar may cross the mouth.

    The section is looked at whole, both walls: the bar leans through the mouth and its tip
    stands at +r. A swan neck ends ``hook_mm`` beside its own line, on the wall's side.
    """
    mouth, top = inner[-1][0], inner[-1][1]
    half = bar.diameter_mm / 2.0
    free = mouth - half
    if free <= 0.0:
        return Spot(float(target[0]), float(target[1]), False, None, False, ())
    best: tuple[float, Floats] | None = None
    rest_z = top + REST_GAP_MM
    for cross in np.linspace(-free, free, 17):
        line = _line(bar, target, float(cross), top, rest_z)
        if line is None or not _clears(inner, line, half, bar):
            continue
        overhang = float(np.hypot(*np.diff(line, axis=0).T).sum())
        if best is None or overhang < best[0]:
            best = (overhang, line)
    if best is None or best[0] > bar.length_mm:
        return Spot(float(target[0]), float(target[1]), False, None, False, ())
    limit = best[0] > OVERHANG_DIAMETERS * bar.diameter_mm
    points = tuple((float(x), float(z)) for x, z in best[1])
    return Spot(float(target[0]), float(target[1]), True, best[0], limit, points)


def _line(bar: Bar, target: Floats, cross: float, top: float, rest_z: float) -> Floats | None:
    """Tip, end of the neck, and the rest; None where the geometry does not close."""
    mouth = np.array([cross, top])
    way = mouth - target
    span = float(np.hypot(*way))
    if way[1] <= 1e-6 or span <= bar.neck_mm:
        return None
    shaft = way / span
    if bar.hook_mm > 0.0:
        # the shaft runs parallel, hook_mm nearer to the axis; two rounds settle its lean
        for _ in range(2):
            side = np.array([-shaft[1], shaft[0]])
            end = target + bar.neck_mm * shaft + bar.hook_mm * side
            away = mouth - end
            if away[1] <= 1e-6:
                return None
            shaft = away / np.hypot(*away)
        start = end
    else:
        start = target
    rest = start + shaft * (rest_z - start[1]) / shaft[1]
    return np.array([target, start, rest]) if bar.hook_mm > 0.0 else np.array([target, rest])


def _clears(inner: Path, line: Floats, half: float, bar: Bar) -> bool:
    """Whether the bar's body keeps off both walls; near the tip only the cutter stands out."""
    start, rest = line[-2], line[-1]
    t = np.linspace(0.0, 1.0, 26)
    x, z = start[0] + t * (rest[0] - start[0]), start[1] + t * (rest[1] - start[1])
    inside = z <= inner[-1][1]
    lean = abs(rest[0] - start[0]) / max(rest[1] - start[1], 1e-6)
    wide = half * math.hypot(1.0, lean)
    if bar.hook_mm > 0.0:
        need = np.full_like(z, wide)
    else:  # the tip overhangs the bar's body a little: it is ground away there
        need = np.minimum(wide, np.hypot(x - line[0, 0], z - line[0, 1]) * 0.75)
    room = _room(inner, np.minimum(z, inner[-1][1]))
    if not (np.abs(x) + need <= room + TIP_CLEAR_MM)[inside].all():
        return False
    return bar.hook_mm == 0.0 or _neck_clears(inner, line[0], line[1])


def _neck_clears(inner: Path, tip: Floats, end: Floats) -> bool:
    """The bent part is thin: its middle line must lie in the hollow and not cross the rim's plane."""
    t = np.linspace(0.1, 1.0, 8)
    x, z = tip[0] + t * (end[0] - tip[0]), tip[1] + t * (end[1] - tip[1])
    return bool(z.max() <= inner[-1][1] and (np.abs(x) <= _room(inner, z)).all())


def reach_plan(inner: Path, *, bars: tuple[Bar, ...], school: str = "four") -> ReachPlan:
    """Return which bar of the shop reaches what part of a hollow, and in which order to cut.

    Parameters
    ----------
    inner : tuple of (float, float)
        The hollow, axis to mouth, mm.
    bars : tuple of Bar
        Owned.
    school : str
        The house's handle rule; the other is shown beside it.

    Returns
    -------
    plan : ReachPlan
        Bars that reach most first.

    Raises
    ------
    Impossible
        If the shop owns no bar.

    References
    ----------
    .. [common-practice] overhang up to twelve times the bar, handle four or five times the overhang.
    """
    if not bars:
        raise Impossible("no-bars", "bars", "There is no hollowing bar in the shop; add one there.")
    targets = _targets(inner)
    found = [_bar_reach(inner, bar, targets, school) for bar in bars]
    found.sort(key=lambda b: (-b.share_pct, b.longest_mm or math.inf))
    reached = np.array([[s.reached for s in b.spots] for b in found]).any(axis=0)
    missed = tuple((float(r), float(z)) for r, z in targets[~reached])
    return ReachPlan(tuple(found), missed, _order(inner, found))


def _bar_reach(inner: Path, bar: Bar, targets: Floats, school: str) -> BarReach:
    spots = tuple(_spot(inner, bar, t) for t in targets)
    hit = [s for s in spots if s.overhang_mm is not None]
    longest = max((s.overhang_mm or 0.0 for s in hit), default=None)
    share = 100.0 * len(hit) / len(spots)
    return BarReach(
        bar, spots, share, longest, _figures(bar, longest, school), _bar_words(bar, spots, longest)
    )


def _figures(bar: Bar, longest: float | None, school: str) -> tuple[Figure, ...]:
    if longest is None:
        return ()
    verdicts = HANDLE.ask(first=school, overhang_mm=longest)
    limits = tuple(Limit(v.school, v.label, v.value, v.why, v.source, i == 0) for i, v in enumerate(verdicts))
    give = deflection_mm(longest, diameter_mm=bar.diameter_mm)
    # held by hand the handle bends as well: about as much again (rule of the levers, assumed)
    return (
        Figure("overhang_mm", "Longest overhang", value=round(longest, 1), source="common-practice", group="reach", big=True,
               why=say("twelve", "Up to twelve times its thickness, {most_mm}, is calm work.", most_mm=OVERHANG_DIAMETERS * bar.diameter_mm)),
        Figure("handle_mm", "Handle behind the rest", value=round(verdicts[0].value or 0.0), why=verdicts[0].why, limits=limits,
               source="common-practice", group="reach", big=True),
        Figure("give_mm", "Tip gives by", value=round(give, 2), source="roark", group="reach",
               why=say("give", "Under a push of {push_n} as if clamped at the rest; held by hand count on double. "
                       "Twice the overhang gives eight times as much.", push_n=PUSH_N)),
        Figure("rings_at", "Rings no higher than, per second", value=round(first_hz(longest, diameter_mm=bar.diameter_mm)),
               source="roark", group="reach", why=say("rings", "The bar alone, clamped; hand and rest bring it lower.")),
    )  # fmt: skip


def _bar_words(bar: Bar, spots: tuple[Spot, ...], longest: float | None) -> tuple[Sentence, ...]:
    if longest is None:
        return (say("reaches-nothing", "It does not get in: the mouth is too small for {bar_mm}, or the bar too short.", bar_mm=bar.diameter_mm),)  # fmt: skip
    said = []
    if any(s.over_limit for s in spots):
        text = "Past {limit_mm} of overhang it will chatter: light cuts, or a thicker bar."
        said.append(say("over-twelve", text, limit_mm=OVERHANG_DIAMETERS * bar.diameter_mm))
    needed = 4.0 * longest
    if bar.handle_mm < needed:
        text = "Its handle is {handle_mm}; {need_mm} is wanted behind the rest for the farthest cut."
        said.append(say("handle-short", text, handle_mm=bar.handle_mm, need_mm=needed))
    return tuple(said)


def _order(inner: Path, found: list[BarReach]) -> tuple[Sentence, ...]:
    top, floor, mouth = inner[-1][1], inner[0][1], inner[-1][0]
    belly = max(inner, key=lambda p: p[0])
    steps = [
        say("bore", "Bore to depth first: {depth_mm} from the rim, in steps, clearing the chips each time.", depth_mm=top - floor),
        say("open", "Open the mouth and the first {down_mm} with the straight bar, from the middle outwards.", down_mm=min(0.3 * (top - floor), 2.5 * mouth)),
    ]  # fmt: skip
    if belly[0] > mouth + 3.0:
        text = (
            "Undercut the shoulder while there is wood below it: {under_mm} beyond the mouth, {at_mm} down."
        )
        steps.append(say("undercut", text, under_mm=belly[0] - mouth, at_mm=top - belly[1]))
    steps.append(
        say(
            "down",
            "Then downwards in bands, wall finished before the next band; blow out the dust all the time.",
        )
    )
    if any(b.bar.hook_mm > 0 for b in found):
        steps.append(
            say("swan", "Swan neck with its straight part on the rest, never the bend: it would roll over.")
        )
    return tuple(steps)  # fmt: skip

"""Which cores to take from one blank: the best set of cuts, beside the largest first and one alone."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from kilncore.coring.cut import CoreCut, Kerf, Knife, arc_path, kerf_of
from kilncore.errors import Unknown, require_range
from kilncore.said import Sentence, say
from kilncore.solids.curve import Path, distances
from kilncore.solids.measure import moments

__all__ = [
    "VALUES",
    "Nest",
    "NestAsk",
    "NestCore",
    "Plan",
    "best_nest",
    "hold_depth_mm",
    "nest_of",
    "price",
    "search",
]

Floats = NDArray[np.float64]

VALUES: dict[str, str] = {
    "count": "most bowls",
    "diameter": "most width in all",
    "volume": "most wood in bowls",
    "price": "most money",
}

GAP_STEP_MM = 4.0
OFF_STEP_MM = 6.0
OFF_MOST_MM = 24.0
# A core's wall follows its own width down to this (assumed).
LEAST_WALL_MM = 12.0


@dataclass(frozen=True, slots=True)
class NestAsk:
    """What is cored and what is wanted. ``outer`` is the big bowl's outside, foot at 0, rim at the face. [mm].

    ``wall_mm`` and ``bottom_mm`` are the big bowl's; cores keep theirs in step with their width.
    ``tenon_mm`` is what a core's own hold takes off its round underside in width.
    """

    outer: Path
    knives: tuple[Knife, ...]
    wall_mm: float
    bottom_mm: float
    least_mm: float = 100.0
    tenon_mm: float = 45.0
    tenon_length_mm: float = 6.0
    value: str = "diameter"
    price_per_cm: float = 3.0
    offsets: bool = False

    def __post_init__(self) -> None:
        if self.value not in VALUES:
            raise Unknown("value", self.value, list(VALUES))
        require_range("wall_mm", self.wall_mm, 3.0, 100.0)
        require_range("bottom_mm", self.bottom_mm, 3.0, 150.0)
        require_range("least_mm", self.least_mm, 40.0, 800.0)
        require_range("tenon_mm", self.tenon_mm, 15.0, 200.0)
        require_range("tenon_length_mm", self.tenon_length_mm, 2.0, 30.0)
        require_range("price_per_cm", self.price_per_cm, 0.0, 1000.0)

    @property
    def face_mm(self) -> float:
        """Height of the face."""
        return self.outer[-1][1]

    def needs_mm(self, diameter_mm: float) -> tuple[float, float]:
        """Return the rough wall and bottom a core keeps: the big bowl's, in step with its own width."""
        share = diameter_mm / (2.0 * max(r for r, _ in self.outer))
        wall, bottom = self.wall_mm * share, self.bottom_mm * share
        return min(self.wall_mm, max(wall, LEAST_WALL_MM)), min(self.bottom_mm, max(bottom, LEAST_WALL_MM))


@dataclass(frozen=True, slots=True)
class NestCore:
    """A core as it comes out: its cut, sizes, hold, and settings to measure at the lathe. [mm]."""

    cut: CoreCut
    kerf: Kerf
    diameter_mm: float
    height_mm: float
    wall_left_mm: float | None
    bottom_left_mm: float | None
    rough_cm3: float
    hold: Sentence
    settings: tuple[Sentence, ...]
    refused: tuple[Sentence, ...]
    core_side: Path = ()
    bowl_side: Path = ()


@dataclass(frozen=True, slots=True)
class Nest:
    """A set of cuts, the first to be made first: the smallest. ``money`` counts the big bowl, too; ``value`` only the cores.

    ``bowl_left_mm`` is wall and bottom the big bowl keeps.
    """

    key: str
    label: str
    cores: tuple[NestCore, ...]
    bowl_left_mm: tuple[float, float] | None
    yield_pct: float
    value: float
    money: float
    why: Sentence


@dataclass(frozen=True, slots=True)
class Plan:
    """The best set beside the two ways people do without a plan."""

    best: Nest
    largest_first: Nest
    one: Nest
    tried: int


@dataclass(slots=True)
class _Table:
    """All cuts that are possible by themselves, outermost first, as columns."""

    cuts: list[CoreCut]
    kerfs: list[Kerf]
    columns: dict[str, Floats] = field(default_factory=dict)

    def __post_init__(self) -> None:
        rows = self.kerfs
        self.columns = {
            "g": np.array([c.gap_mm for c in self.cuts]),
            "c": np.array([c.off_mm for c in self.cuts]),
            "a": np.array([k.core_radius_mm for k in rows]),
            "b": np.array([k.bowl_radius_mm for k in rows]),
            "core_depth": np.array([k.core_depth_mm for k in rows]),
            "bowl_depth": np.array([k.bowl_depth_mm for k in rows]),
        }


def _gaps(knife: Knife, step: float) -> Floats:
    return np.arange(knife.clear_mm, knife.radius_mm - knife.kerf_mm, step)


def _table(ask: NestAsk, step: float) -> _Table:
    """Every cut of the grid that is possible by itself and in the blank."""
    offs = np.arange(0.0, OFF_MOST_MM + 0.1, OFF_STEP_MM) if ask.offsets else np.array([0.0])
    found: list[tuple[CoreCut, Kerf]] = []
    for knife in ask.knives:
        for g in _gaps(knife, step):
            for c in offs:
                cut = CoreCut(knife, float(g), float(c))
                kerf = kerf_of(cut)
                if not kerf.refused and not _alone(ask, kerf):
                    found.append((cut, kerf))
    if found:
        left = _left_of_bowl(ask, [cut for cut, _ in found], [k for _, k in found])
        keep = (left[0] >= ask.wall_mm) & (left[1] >= ask.bottom_mm)
        found = [pair for pair, good in zip(found, keep, strict=True) if good]
    found.sort(key=lambda pair: -pair[1].entry_mm)
    return _Table([cut for cut, _ in found], [k for _, k in found])


def hold_depth_mm(ask: NestAsk, core_radius_mm: float) -> float:
    """Return what a core's own tenon costs in depth: the flat it needs on a round underside, and its length.

    Parameters
    ----------
    ask : NestAsk
        Tenon's width and length.
    core_radius_mm : float
        Of the core's underside. [mm]

    Returns
    -------
    hold_mm : float
        In mm.

    References
    ----------
    .. [geometry] rise of an arc over half a chord.
    """
    half = min(ask.tenon_mm / 2.0, core_radius_mm)
    return core_radius_mm - math.sqrt(core_radius_mm**2 - half**2) + ask.tenon_length_mm


def _alone(ask: NestAsk, kerf: Kerf) -> tuple[Sentence, ...]:
    """What is wrong with a core by its own size."""
    said = []
    if 2.0 * kerf.core_entry_mm < ask.least_mm:
        text = "A core of {core_mm} is smaller than what is worth having ({least_mm})."
        said.append(say("too-small", text, core_mm=2.0 * kerf.core_entry_mm, least_mm=ask.least_mm))
    room = kerf.core_depth_mm - hold_depth_mm(ask, kerf.core_radius_mm)
    wanted = ask.needs_mm(2.0 * kerf.core_entry_mm)[1] + 10.0
    if room < wanted:
        text = "Its own hold leaves {room_mm} of depth for bowl and bottom; {want_mm} is wanted."
        said.append(say("no-room-for-hold", text, room_mm=max(room, 0.0), want_mm=wanted))
    return tuple(said)


def _left_of_bowl(ask: NestAsk, cuts: list[CoreCut], kerfs: list[Kerf]) -> tuple[Floats, Floats]:
    """Least wall and bottom the big bowl keeps beside each cut."""
    outer = np.array(ask.outer)
    walls, bottoms = [], []
    for cut, kerf in zip(cuts, kerfs, strict=True):
        side = np.array(arc_path(cut, kerf.bowl_radius_mm, face_mm=ask.face_mm, points=24))
        floor = ask.face_mm - kerf.bowl_depth_mm
        upper = side[side[:, 1] > floor + 0.15 * kerf.bowl_depth_mm]
        gap = distances(upper, outer)[0].min(axis=1)
        past = upper[:, 0] > np.interp(upper[:, 1], np.maximum.accumulate(outer[:, 1]), outer[:, 0])
        walls.append(float(np.where(past, -gap, gap).min()))
        bottoms.append(floor - outer[0, 1])
    return np.array(walls), np.array(bottoms)


def wall_between(table: _Table) -> tuple[Floats, Floats]:
    """Return least wall and bottom of core i when j is cut out of it, shape (n, n).

    A point of j's bowl side is a - |P - centre i| from i's core side; on the arc that is least in
    the direction from one centre to the other, or at an end of the arc.
    """
    t = table.columns
    n = len(table.cuts)
    if n == 0:
        return np.zeros((0, 0)), np.zeros((0, 0))
    dc, dg = t["c"][None] - t["c"][:, None], t["g"][None] - t["g"][:, None]
    b, a = t["b"][None], t["a"][:, None]
    start = np.arcsin(np.clip(-t["c"][None] / b, -1.0, 1.0)) + np.zeros((n, 1))
    end = np.arccos(np.clip(t["g"][None] / b, -1.0, 1.0)) + np.zeros((n, 1))
    # angle from straight down, towards the rim: a point is centre + b (sin, -cos)
    far = np.arctan2(dc, -dg)
    best = np.full((n, n), -np.inf)
    for angle in (start, end, np.clip(far, start, end)):
        away = np.hypot(dc + b * np.sin(angle), dg - b * np.cos(angle))
        best = np.maximum(best, away)
    bottom = t["core_depth"][:, None] - t["bowl_depth"][None]
    return a - best, bottom


def search(ask: NestAsk, *, step_mm: float | None = None) -> Iterator[tuple[float, Plan | None]]:
    """Search for the best nest; yield progress from 0 to 1, and the plan at the end.

    Parameters
    ----------
    ask : NestAsk
        Blank, knives and what is wanted.
    step_mm : float, optional
        Step of the pivot's distance. [mm]

    Yields
    ------
    progress, plan : float, Plan or None
        The plan comes with 1.0.

    References
    ----------
    .. [geometry] the longest path through cuts ordered from outer to inner.
    """
    table = _table(ask, step_mm or GAP_STEP_MM)
    yield 0.5, None
    wall, bottom = wall_between(table)
    holds = np.array([hold_depth_mm(ask, k.core_radius_mm) for k in table.kerfs])
    if len(table.cuts):
        needs = np.array([ask.needs_mm(2.0 * k.core_entry_mm) for k in table.kerfs])
        fits = (wall >= needs[:, :1]) & (bottom - holds[:, None] >= needs[:, 1:])
    else:
        fits = np.zeros((0, 0), dtype=bool)
    yield 0.7, None
    worth = np.array([_worth(ask, k) for k in table.kerfs])
    chain = _longest(fits, worth, [k.entry_mm for k in table.kerfs])
    greedy = _greedy(fits)
    yield 0.9, None
    named = (
        ("best", "Best set", chain, say("best", "The set worth most by {value}.", value=VALUES[ask.value])),
        ("largest-first", "Largest first", greedy, say("largest-first", "Each time the largest core that comes out.")),
        ("one", "One core", greedy[:1], say("one", "The largest single core, and no more.")),
    )  # fmt: skip
    nests = [_made(ask, key, label, [table.cuts[i] for i in rows], why) for key, label, rows, why in named]
    yield 1.0, Plan(nests[0], nests[1], nests[2], len(table.cuts))


def best_nest(ask: NestAsk, *, step_mm: float | None = None) -> Plan:
    """Return the best set of cores beside largest-first and one core.

    Parameters
    ----------
    ask : NestAsk
        Blank, knives and what is wanted.
    step_mm : float, optional
        Step of the pivot's distance. [mm]

    Returns
    -------
    plan : Plan
        Nests may be empty where no core comes out.

    References
    ----------
    .. [geometry] see ``search``.
    """
    *_, (_, plan) = search(ask, step_mm=step_mm)
    assert plan is not None
    return plan


def _worth(ask: NestAsk, kerf: Kerf) -> float:
    diameter = 2.0 * kerf.core_entry_mm
    by: dict[str, Callable[[], float]] = {
        "count": lambda: 1.0 + diameter / 1e5,
        "diameter": lambda: diameter,
        "volume": lambda: _rough_cm3(ask, kerf),
        "price": lambda: price(ask, diameter),
    }
    return by[ask.value]()


def price(ask: NestAsk, diameter_mm: float) -> float:
    """Return the house's price of a bowl: by the centimetre, and more for a large one."""
    cm = diameter_mm / 10.0
    return ask.price_per_cm * cm * math.sqrt(cm / 20.0)


def _rough_cm3(ask: NestAsk, kerf: Kerf) -> float:
    """Wood inside a core's rough wall: two caps of spheres, as its kerf leaves them."""
    depth, radius = kerf.core_depth_mm, kerf.core_radius_mm
    wall, bottom = ask.needs_mm(2.0 * kerf.core_entry_mm)
    inner = max(radius - wall, 1.0)
    hollow = max(depth - bottom, 0.0)
    whole = math.pi * depth**2 * (3.0 * radius - depth) / 3.0
    return (
        max(whole - math.pi * min(hollow, inner) ** 2 * (3.0 * inner - min(hollow, inner)) / 3.0, 0.0) / 1e3
    )


def _longest(fits: NDArray[np.bool_], worth: Floats, entry: list[float]) -> list[int]:
    """The chain of greatest worth; cuts come outermost first, so a later one never holds an earlier."""
    n = len(worth)
    if n == 0:
        return []
    best, before = worth.copy(), np.full(n, -1)
    for j in range(n):
        outer = np.nonzero(fits[:j, j])[0]
        if len(outer):
            i = int(outer[best[outer].argmax()])
            best[j], before[j] = worth[j] + best[i], i
    rows, at = [], int(best.argmax())
    while at >= 0:
        rows.append(at)
        at = int(before[at])
    return rows[::-1]


def _greedy(fits: NDArray[np.bool_]) -> list[int]:
    rows: list[int] = [0] if len(fits) else []
    while rows:
        inner = np.nonzero(fits[rows[-1]])[0]
        inner = inner[inner > rows[-1]]
        if not len(inner):
            break
        rows.append(int(inner[0]))
    return rows


def nest_of(ask: NestAsk, cuts: tuple[CoreCut, ...], *, key: str = "own", label: str = "My own") -> Nest:
    """Return a set of cuts of the turner's own, with everything that breaks.

    Parameters
    ----------
    ask : NestAsk
        Blank, knives and what is wanted.
    cuts : tuple of CoreCut
        In any order.
    key, label : str
        What the set is called.

    Returns
    -------
    nest : Nest
        Cores smallest first; each names every reason against it.

    References
    ----------
    .. [geometry] the same closed forms the search uses.
    """
    why = say("own", "Kerfs placed by hand.")
    return _made(ask, key, label, sorted(cuts, key=lambda c: -kerf_of(c).entry_mm), why)


def _made(ask: NestAsk, key: str, label: str, cuts: list[CoreCut], why: Sentence) -> Nest:
    kerfs = [kerf_of(c) for c in cuts]
    cores: list[NestCore] = []
    bowl: tuple[float, float] | None = None
    if cuts and kerfs[0].entry_mm > 0:
        walls, bottoms = _left_of_bowl(ask, cuts[:1], kerfs[:1])
        bowl = (float(walls[0]), float(bottoms[0]))
    for i, (cut, kerf) in enumerate(zip(cuts, kerfs, strict=True)):
        inside = (cut, kerf, *((cuts[i + 1], kerfs[i + 1]) if i + 1 < len(cuts) else (None, None)))
        cores.append(
            _core(ask, inside, _bowl_reasons(ask, bowl) if i == 0 else (), smallest=i == len(cuts) - 1)
        )
    big = 2.0 * max(r for r, _ in ask.outer)
    good = [c for c in cores if not c.refused]
    wood = sum(c.rough_cm3 for c in good) + _bowl_cm3(ask)
    blank = math.pi * (big / 2.0) ** 2 * ask.face_mm / 1000.0
    money = price(ask, big) + sum(price(ask, c.diameter_mm) for c in good)
    value = sum(_worth(ask, c.kerf) for c in good)
    return Nest(key, label, tuple(reversed(cores)), bowl, 100.0 * wood / blank, value, money, why)


def _bowl_cm3(ask: NestAsk) -> float:
    """Wood of the big bowl inside its rough wall."""
    outer = np.array(ask.outer)
    inner = np.stack([np.maximum(outer[:, 0] - ask.wall_mm, 0.0), outer[:, 1] + ask.bottom_mm], axis=1)
    inner = inner[inner[:, 1] <= ask.face_mm]
    hollow = moments(tuple((float(r), float(z)) for r, z in (*inner, (inner[-1, 0], ask.face_mm))))[0]
    return max(moments(ask.outer)[0] - hollow, 0.0) / 1000.0


def _bowl_reasons(ask: NestAsk, left: tuple[float, float] | None) -> tuple[Sentence, ...]:
    if left is None:
        return ()
    said = []
    if left[0] < ask.wall_mm:
        text = "It leaves the big bowl {left_mm} of wall; {want_mm} is wanted."
        said.append(say("wall-thin", text, left_mm=left[0], want_mm=ask.wall_mm))
    if left[1] < ask.bottom_mm:
        text = "It leaves the big bowl {left_mm} of bottom; {want_mm} is wanted."
        said.append(say("bottom-thin", text, left_mm=left[1], want_mm=ask.bottom_mm))
    return tuple(said)


_Pair = tuple[CoreCut, Kerf, CoreCut | None, Kerf | None]


def _core(ask: NestAsk, pair: _Pair, more: tuple[Sentence, ...], *, smallest: bool) -> NestCore:
    cut, kerf, inner_cut, inner = pair
    refused = [*kerf.refused, *(_alone(ask, kerf) if kerf.entry_mm > 0 else ()), *more]
    wall_left: float | None = None
    bottom_left: float | None = None
    hold = hold_depth_mm(ask, kerf.core_radius_mm)
    if inner_cut is not None and inner is not None:
        wall, bottom = wall_between(_Table([cut, inner_cut], [kerf, inner]))
        wall_left, bottom_left = float(wall[0, 1]), float(bottom[0, 1]) - hold
        need_wall, need_bottom = ask.needs_mm(2.0 * kerf.core_entry_mm)
        if wall_left < need_wall:
            text = "The next core inside leaves it {left_mm} of wall; {want_mm} is wanted."
            refused.append(say("core-wall-thin", text, left_mm=wall_left, want_mm=need_wall))
        if bottom_left < need_bottom:
            text = "With its hold the next core inside leaves it {left_mm} of bottom; {want_mm} is wanted."
            refused.append(say("core-bottom-thin", text, left_mm=bottom_left, want_mm=need_bottom))
    return NestCore(
        cut, kerf, 2.0 * kerf.core_entry_mm, kerf.core_depth_mm, wall_left, bottom_left,
        _rough_cm3(ask, kerf), _hold(ask, hold, smallest), _settings(cut, kerf), tuple(refused),
        arc_path(cut, kerf.core_radius_mm, face_mm=ask.face_mm), arc_path(cut, kerf.bowl_radius_mm, face_mm=ask.face_mm),
    )  # fmt: skip


def _hold(ask: NestAsk, depth: float, smallest: bool) -> Sentence:
    first = (
        "Back on the first hold's screw hole in its face"
        if smallest
        else "Rim pressed on a padded disc by the tailstock"
    )
    text = (
        first
        + ": cut a tenon of {tenon_mm} on its round underside; with the flat it takes {depth_mm} of depth."
    )
    return say("core-hold", text, tenon_mm=ask.tenon_mm, depth_mm=depth)


def _settings(cut: CoreCut, kerf: Kerf) -> tuple[Sentence, ...]:
    rows = [
        say("set-knife", "Knife: {name}.", name=cut.knife.name),
        say("set-entry", "Mark a circle {across_mm} across on the face: the kerf's middle starts there.", across_mm=2.0 * kerf.entry_mm),
        say("set-gap", "Pivot {gap_mm} in front of the face.", gap_mm=cut.gap_mm),
        say("set-off", "Pivot {off_mm} beside the axis, on the side it cuts." if cut.off_mm > 0.05 else "Pivot on the axis.",
            **({"off_mm": cut.off_mm} if cut.off_mm > 0.05 else {})),
        say("set-stop", "It frees at {depth_mm} deep, after {swept_mm} along the arc: go gently over the last few.",
            depth_mm=kerf.depth_mm, swept_mm=kerf.swept_mm),
    ]  # fmt: skip
    return tuple(rows)

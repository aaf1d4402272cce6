"""Which grits, in which order, by which hand, and about how long."""

from dataclasses import dataclass
from functools import cache

from kilncore.errors import CoreError, Unknown
from kilncore.said import Caution, Sentence, say
from kilncore.wood.species import read_table

__all__ = ["ENDS", "STARTS", "Ladder", "Rung", "grit_ladder", "median_um"]

# First grit by the surface left from the tool (common practice).
STARTS: dict[str, tuple[str, int]] = {
    "torn": ("torn grain", 80),
    "scraped": ("scraper marks", 120),
    "warped-green": ("turned green, warped", 120),
    "clean": ("a clean cut", 180),
}

# Last grit by what goes on top (common practice): long ladder, short ladder before paste.
ENDS: dict[str, tuple[int, int | None]] = {
    "oil": (320, None),
    "wax": (600, 320),
    "film": (400, 320),
    "utility": (240, None),
}

RATIO = 1.62
RATIO_FLAG = 2.0


@dataclass(frozen=True, slots=True)
class Rung:
    """One grit: how much finer than the last, minutes and quarter sheets as an estimate."""

    grit: int
    median_um: float
    ratio: float | None
    minutes: float
    quarter_sheets: int
    why: Sentence


@dataclass(frozen=True, slots=True)
class Ladder:
    """The grits in order, how to hold them, and what ends the job."""

    school: str
    rungs: tuple[Rung, ...]
    after: Sentence | None
    zones: tuple[Sentence, ...]
    cautions: tuple[Caution, ...]

    @property
    def grits(self) -> tuple[int, ...]:
        """The grit numbers alone."""
        return tuple(r.grit for r in self.rungs)


@cache
def median_um() -> dict[int, float]:
    """Return the median grain size of each P grit, in micrometres."""
    return {int(r["grit"]): float(r["median_um"]) for r in read_table("grits.csv")}


def grit_ladder(
    surface: str,
    *,
    finish_family: str,
    owned: tuple[int, ...],
    school: str = "long",
    area_cm2: float = 0.0,
    closed_form: bool = False,
) -> Ladder:
    """Return the grits to go through from a surface to a finish.

    Parameters
    ----------
    surface : str
        A key of ``STARTS``.
    finish_family : str
        A key of ``ENDS``.
    owned : tuple of int
        Grits on the shelf.
    school : str
        ``long``, or ``short-paste``: stop early and go on with abrasive paste.
    area_cm2 : float
        Surface inside and outside, for the estimate. [cm2]
    closed_form : bool
        Whether fingers cannot go inside while it spins.

    Returns
    -------
    ladder : Ladder
        Each step as large as the ratio rule allows.

    Raises
    ------
    Unknown
        For an unknown surface, finish family or grit.
    CoreError
        If no owned grit is coarse enough to begin with.

    References
    ----------
    .. [fepa-43] grain sizes; ratio and ends [common-practice].
    """
    if surface not in STARTS:
        raise Unknown("surface", surface, list(STARTS))
    if finish_family not in ENDS:
        raise Unknown("finish_family", finish_family, list(ENDS))
    sizes = median_um()
    for grit in owned:
        if grit not in sizes:
            raise Unknown("grits", str(grit), [str(g) for g in sizes])
    long_end, paste_end = ENDS[finish_family]
    paste = school == "short-paste" and paste_end is not None
    end = paste_end if paste and paste_end else long_end
    grits = _climb(STARTS[surface][1], end, tuple(sorted(owned)), sizes)
    rungs = _rungs(grits, sizes, surface, area_cm2)
    after = say("paste", "Then abrasive paste, then polish, in place of the finer grits.") if paste else None
    return Ladder(
        "short-paste" if paste else "long",
        rungs,
        after,
        _zones(closed_form),
        _cautions(rungs, end, closed_form),
    )


def _climb(start: int, end: int, owned: tuple[int, ...], sizes: dict[int, float]) -> list[int]:
    coarse = [g for g in owned if g <= start]
    if not coarse:
        raise CoreError(
            "no-coarse-grit",
            "grits",
            "This surface wants P{start} or coarser to begin with, and none is on the shelf.",
            {"start": str(start)},
        )
    grits = [max(coarse)]
    while grits[-1] < end:
        finer = [g for g in owned if grits[-1] < g <= end]
        if not finer:
            break
        near = [g for g in finer if sizes[grits[-1]] / sizes[g] <= RATIO]
        grits.append(max(near) if near else min(finer))
    return grits


def _rungs(grits: list[int], sizes: dict[int, float], surface: str, area_cm2: float) -> tuple[Rung, ...]:
    rungs = []
    for i, grit in enumerate(grits):
        ratio = sizes[grits[i - 1]] / sizes[grit] if i else None
        # First grit removes the tool's marks, the rest only the scratches before them; assumed.
        minutes = area_cm2 / 1000.0 * ((6.0 if surface == "torn" else 4.0) if i == 0 else 2.2)
        why = (
            say("start", "Starts here because of {surface}.", surface=STARTS[surface][0])
            if ratio is None
            else say("ratio", "Grains {ratio} times finer than the last.", ratio=ratio)
        )
        sheets = max(1, round(area_cm2 / (900.0 if i else 600.0)))
        rungs.append(Rung(grit, sizes[grit], ratio, round(minutes, 1), sheets, why))
    return tuple(rungs)


def _zones(closed_form: bool) -> tuple[Sentence, ...]:
    inside = (
        say("inside-closed", "Inside: a padded stick from the mouth, or leave the tool's surface.")
        if closed_form
        else say("inside", "Inside wall: with the turning, then along the grain with the lathe off.")
    )
    return (
        say("outside", "Outside: power pad or hand, lathe slow; the same grit everywhere before the next."),
        inside,
        say("middle", "The very middle: by hand, lathe off; it is rubbed twice a turn and dishes."),
        say("rim", "Rim and edges: by hand, lightly, to the same last grit as the rest."),
        say("kill-rings", "End each grit with the lathe off, along the grain, until no ring shows."),
    )


def _cautions(rungs: tuple[Rung, ...], end: int, closed_form: bool) -> tuple[Caution, ...]:
    cautions = [Caution("care", say("dust", "Respirator and extraction: fine dust is the worst of it."))]
    for rung in rungs:
        if rung.ratio is not None and rung.ratio > RATIO_FLAG:
            text = "P{grit} is {ratio} times finer than the grit before: scratches will stay."
            cautions.append(Caution("care", say("skip", text, grit=str(rung.grit), ratio=rung.ratio)))
    if rungs[-1].grit < end:
        text = "The shelf ends at P{grit}; P{end} is wanted under this finish."
        cautions.append(Caution("note", say("short", text, grit=str(rungs[-1].grit), end=str(end))))
    if closed_form:
        text = "Never paper round fingers inside a closed form that spins."
        cautions.append(Caution("stop", say("fingers", text)))
    return tuple(cautions)

"""Which blanks to cut from a log: several layouts side by side, none ranked by volume alone."""

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

from shapely.geometry import Polygon

from kilncore.errors import CoreError, Impossible, require_range
from kilncore.logs.blanks import CUTS, Blank, Saw, Spot, blank_at, pith_margin_mm
from kilncore.logs.shape import LogShape
from kilncore.said import Sentence, say

__all__ = ["Layout", "Mark", "Want", "cutting_layouts", "marks_for", "trial_layout"]

BORED_UP_TO_MM = 230.0
# Rip angles tried, and the least bowl worth a section (assumed).
ANGLES = tuple(range(0, 180, 10))
LEAST_MM = 80.0


@dataclass(frozen=True, slots=True)
class Want:
    """So many blanks of a form and width are wanted."""

    form: str
    diameter_mm: float
    count: int = 1
    height_mm: float | None = None

    def __post_init__(self) -> None:
        require_range("diameter_mm", self.diameter_mm, 40.0, 1200.0)
        require_range("count", self.count, 1, 50)


@dataclass(frozen=True, slots=True)
class Layout:
    """A set of blanks. ``yield_pct`` is the blanks' share of the wood under bark."""

    key: str
    label: str
    blanks: tuple[Blank, ...]
    yield_pct: float
    used_mm: float
    left_mm: float
    why: Sentence
    clashes: tuple[tuple[str, str], ...] = ()
    refused: tuple[tuple[str, Sentence], ...] = ()
    unmet: tuple[Sentence, ...] = ()

    @property
    def worth(self) -> float:
        """Sum of its blanks' usefulness."""
        return sum(blank.worth for blank in self.blanks)


Sawn = Callable[[float, float], list[Blank]]


def cutting_layouts(log: LogShape, *, saw: Saw, wants: tuple[Want, ...] = ()) -> list[Layout]:
    """Return the layouts a log allows, the most useful first.

    Parameters
    ----------
    log : LogShape
        The log.
    saw : Saw
        Kerf and trims.
    wants : tuple of Want
        Blanks asked for; a layout that serves them comes first.

    Returns
    -------
    layouts : list of Layout
        One a way of cutting that gives anything; each names what speaks against it.

    References
    ----------
    .. [geometry] the blanks; [assumed] the order: usefulness, not volume.
    """
    found = [_packed(log, saw, key) for key in CUTS if key != "bored-branch" or _thin(log)]
    layouts = sorted((lay for lay in found if lay is not None), key=lambda lay: -lay.worth)
    if wants:
        layouts.insert(0, _wanted(log, saw, wants))
    if not layouts:
        raise Impossible("nothing-comes-out", "length_mm", "No blank worth having comes out of this log.")
    return layouts


def _thin(log: LogShape) -> bool:
    return max(log.small_mm) <= BORED_UP_TO_MM


def _sides(log: LogShape, cut: str, start: float, length: float, angle: float) -> list[Spot]:
    """The spots of one section: both halves, four quarters, one round, or the slabs either side."""
    section = log.smaller_of(start, start + length)
    margin = pith_margin_mm(section)
    if cut in ("end-grain", "bored-branch"):
        return [Spot(cut, start, length, angle)]
    if cut == "slab":
        return [s for turn in (0.0, 180.0) for s in _slabs(log, start, length, (angle + turn) % 360.0)]
    turns = (0.0, 180.0) if cut != "quarter" else (0.0, 90.0, 180.0, 270.0)
    spots = []
    for turn in turns:
        way = (angle + turn) % 360.0
        spots.append(Spot(cut, start, length, way, face_mm=section.pith_t(way) + margin))
    return spots


def _slabs(log: LogShape, start: float, length: float, way: float, thick: float = 45.0) -> list[Spot]:
    section = log.smaller_of(start, start + length)
    face, spots = section.pith_t(way) + pith_margin_mm(section), []
    while face + thick < section.reach(way):
        spots.append(Spot("slab", start, length, way, face_mm=face, height_mm=thick))
        face += thick + 8.0
    return spots


def _sawn(log: LogShape, saw: Saw, spots: Iterable[Spot]) -> list[Blank]:
    blanks = []
    for spot in spots:
        try:
            blanks.append(blank_at(log, spot, saw))
        except CoreError:
            continue  # nothing comes out on that side
    return [b for b in blanks if b.diameter_mm >= min(LEAST_MM, spot_wanted(b))]


def spot_wanted(blank: Blank) -> float:
    """Return the width asked of a blank, endless where none was. [mm]."""
    return blank.spot.wanted_mm or math.inf


def _best_angle(log: LogShape, saw: Saw, cut: str, start: float, length: float) -> list[Blank]:
    if cut in ("end-grain", "bored-branch"):
        return _sawn(log, saw, _sides(log, cut, start, length, 0.0))
    tries = [_sawn(log, saw, _sides(log, cut, start, length, float(a))) for a in ANGLES]
    return max(tries, key=lambda blanks: sum(b.worth for b in blanks))


def _step(log: LogShape, cut: str, kerf: float) -> list[float]:
    """Section lengths worth trying: the wood's own width down to the least worth a section."""
    section = log.smaller_of(log.trim_start_mm, log.length_mm - log.trim_end_mm)
    wide = 2.0 * max(section.a_mm, section.b_mm)
    if cut in ("end-grain", "end-grain-beside", "bored-branch"):
        return [min(log.usable_mm, share * wide) for share in (1.8, 1.3, 2.4, 1.0)]
    even = [(log.usable_mm - (n - 1) * kerf) / n for n in range(1, 13)]
    return [length for length in even if length >= min(LEAST_MM, log.usable_mm)]


def _packed(log: LogShape, saw: Saw, cut: str) -> Layout | None:
    """One way of cutting all along the log, in the number of sections that gives most."""
    best: list[Blank] = []
    turn = _turn(log, saw, cut)
    for length in dict.fromkeys(_step(log, cut, saw.kerf_mm)):
        blanks: list[Blank] = []
        at = log.trim_start_mm
        while at + length <= log.length_mm - log.trim_end_mm + 0.5:
            blanks += _sawn(log, saw, _sides(log, cut, at, length, turn))
            at += length + saw.kerf_mm
        if sum(b.worth for b in blanks) > sum(b.worth for b in best) * 1.02:
            best = blanks
    return _layout(log, cut, CUTS[cut].label, _shortened(log, saw, best)) if best else None


def _turn(log: LogShape, saw: Saw, cut: str) -> float:
    """The rip angle, one for the whole log: it is ripped in one go."""
    start = log.trim_start_mm
    wide = 2.0 * max(log.at(start).a_mm, log.at(start).b_mm)
    blanks = _best_angle(log, saw, cut, start, min(log.usable_mm, wide))
    return blanks[0].spot.angle_deg % 180.0 if blanks else 0.0


def _shortened(log: LogShape, saw: Saw, blanks: list[Blank]) -> list[Blank]:
    """Close up sections longer than their blanks, so that what is left of the log is in one piece."""
    ends: list[Blank] = []
    at = log.trim_start_mm
    for start in sorted({b.spot.start_mm for b in blanks}):
        here = [b for b in blanks if b.spot.start_mm == start]
        side = max(b.height_mm if b.form == "end-grain-vase" else b.diameter_mm for b in here)
        length = min(here[0].spot.length_mm, side + saw.trim_mm)
        ends += _sawn(log, saw, (replace(b.spot, start_mm=at, length_mm=length, shift_mm=None) for b in here))
        at += length + saw.kerf_mm
    return ends


def _wanted(log: LogShape, saw: Saw, wants: tuple[Want, ...]) -> Layout:
    """Serve what is wanted, largest first from the large end; the rest small."""
    open_wants = [w for want in wants for w in [replace(want, count=1)] * want.count]
    open_wants.sort(key=lambda w: -w.diameter_mm)
    blanks: list[Blank] = []
    at, end = log.trim_start_mm, log.length_mm - log.trim_end_mm
    unmet: list[Want] = []
    while open_wants:
        want = open_wants.pop(0)
        made = _section_for(log, saw, want, open_wants, at, end)
        if not made:
            unmet.append(want)
            continue
        blanks += made
        at = made[0].spot.start_mm + made[0].spot.length_mm + saw.kerf_mm
    blanks += _rest(log, saw, at, end)
    missing = tuple(
        say("unmet", "No room for a {form} of {wanted_mm}.", form=want.form.replace("-", " "),
            wanted_mm=want.diameter_mm)
        for want in unmet
    )  # fmt: skip
    layout = _layout(log, "wanted", "What was asked for", blanks)
    return replace(layout, unmet=missing)


_CUT_OF = {
    "side-grain-bowl": "half",
    "natural-edge-bowl": "natural-edge",
    "end-grain-vase": "end-grain-beside",
}


def _section_for(
    log: LogShape, saw: Saw, want: Want, others: list[Want], at: float, end: float
) -> list[Blank]:
    """Blanks of one section that serves a want; wants served beside it are taken from the list."""
    cut = _CUT_OF[want.form]
    if want.form == "end-grain-vase":
        length = (want.height_mm or 1.6 * want.diameter_mm) + saw.trim_mm
    else:
        length = want.diameter_mm + saw.trim_mm
    if at + length > end + 0.5:
        return []

    def spots(angle: float) -> list[Spot]:
        plain = _sides(log, cut, at, length, angle)
        return [replace(s, wanted_mm=want.diameter_mm, height_mm=want.height_mm) for s in plain]

    tries = [_sawn(log, saw, spots(float(a))) for a in ANGLES]
    made = max(tries, key=lambda found: (_serves(found, want), sum(b.worth for b in found)))
    if not _serves(made, want):
        return []
    for blank in made[1:]:
        twin = next((w for w in others if w.form == want.form and _serves([blank], w)), None)
        if twin is not None:
            others.remove(twin)
    return made


def _serves(blanks: list[Blank], want: Want) -> int:
    return sum(b.diameter_mm >= want.diameter_mm - 0.6 for b in blanks)


def _rest(log: LogShape, saw: Saw, at: float, end: float) -> list[Blank]:
    if end - at < LEAST_MM + saw.trim_mm:
        return []
    shorter = replace(log, trim_start_mm=at)
    rest = _packed(shorter, saw, "half")
    return list(rest.blanks) if rest else []


def _layout(log: LogShape, key: str, label: str, blanks: list[Blank], *, keep_ids: bool = False) -> Layout:
    ids = [b.spot.id if keep_ids and b.spot.id else str(i + 1) for i, b in enumerate(blanks)]
    numbered = [replace(b, spot=replace(b.spot, id=i)) for i, b in zip(ids, blanks, strict=True)]
    used = sum(b.volume_cm3 for b in numbered)
    last = max((b.spot.start_mm + b.spot.length_mm for b in numbered), default=log.trim_start_mm)
    sections = len({b.spot.start_mm for b in numbered})
    risky = sum(b.holds_pith for b in numbered)
    words = "{count} blanks from {sections} lengths, the widest {widest_mm}." + (
        " {risky} of them hold the pith." if risky else ""
    )
    return Layout(
        key=key,
        label=label,
        blanks=tuple(numbered),
        yield_pct=round(100.0 * used / log.wood_cm3, 1),
        used_mm=round(last - log.trim_start_mm, 1),
        left_mm=round(max(log.length_mm - log.trim_end_mm - last, 0.0), 1),
        why=say(
            "layout", words, count=str(len(numbered)), sections=str(sections), risky=str(risky),
            widest_mm=max((b.diameter_mm for b in numbered), default=0.0),
        ),
    )  # fmt: skip


def trial_layout(log: LogShape, spots: tuple[Spot, ...], *, saw: Saw) -> Layout:
    """Return a layout of the turner's own: sizes as the wood gives them, clashes named.

    Parameters
    ----------
    log : LogShape
        The log.
    spots : tuple of Spot
        Where the blanks lie, dragged and turned; at most 60.
    saw : Saw
        Kerf and trims.

    Returns
    -------
    layout : Layout
        Blanks that come out, pairs that lie in each other, and spots that give nothing.
    """
    require_range("count", len(spots), 0, 60)
    blanks, refused = [], []
    for spot in spots:
        try:
            blanks.append(blank_at(log, spot, saw))
        except CoreError as error:
            refused.append((spot.id, Sentence(error.code, error.template, error.params)))
    layout = _layout(log, "own", "Your own", blanks, keep_ids=True)
    return replace(layout, clashes=_clashes(layout.blanks), refused=tuple(refused))


def _clashes(blanks: tuple[Blank, ...]) -> tuple[tuple[str, str], ...]:
    shapes = [Polygon(b.end).buffer(0) for b in blanks]
    pairs = []
    for i, one in enumerate(blanks):
        for j in range(i + 1, len(blanks)):
            two = blanks[j]
            apart = (
                one.spot.start_mm + one.spot.length_mm <= two.spot.start_mm + 0.5
                or two.spot.start_mm + two.spot.length_mm <= one.spot.start_mm + 0.5
            )
            if not apart and shapes[i].intersection(shapes[j]).area > 4.0:
                pairs.append((one.spot.id, two.spot.id))
    return tuple(pairs)


@dataclass(frozen=True, slots=True)
class Mark:
    """One thing to mark and saw, in order. tool: chainsaw, bandsaw or drill."""

    tool: str
    text: Sentence


def marks_for(log: LogShape, layout: Layout, *, saw: Saw) -> tuple[Mark, ...]:
    """Return what to mark on the log and in which order to saw it.

    Parameters
    ----------
    log : LogShape
        The log.
    layout : Layout
        The blanks chosen.
    saw : Saw
        Kerf and trims.

    Returns
    -------
    marks : tuple of Mark
        Cross-cuts from the large end, rip lines off the pith, circles with the rim's face.
    """
    marks = [Mark("chainsaw", say("trim", "Cut {trim_mm} off the large end.", trim_mm=log.trim_start_mm))]
    starts = sorted({(b.spot.start_mm, b.spot.length_mm) for b in layout.blanks})
    for start, length in starts:
        text = "Cross-cut at {from_mm} and {to_mm} from the large end (blanks {blanks})."
        ids = ", ".join(b.spot.id for b in layout.blanks if b.spot.start_mm == start)
        marks.append(
            Mark("chainsaw", say("cross-cut", text, from_mm=start, to_mm=start + length, blanks=ids))
        )
    rips: dict[tuple[int, int], list[str]] = {}
    for blank in layout.blanks:
        if blank.spot.cut not in ("end-grain", "bored-branch"):
            rips.setdefault(_rip_of(log, blank), []).append(blank.spot.id)
    for (off, angle), ripped in rips.items():
        text = "Blanks {ids}: rip {off_mm} from the pith, at {angle_deg} from the horizontal mark."
        marks.append(
            Mark(
                "chainsaw", say("rip", text, ids=", ".join(ripped), off_mm=float(off), angle_deg=float(angle))
            )
        )
    for blank in layout.blanks:
        marks += _marks_of(blank, saw)
    return tuple(marks)


def _rip_of(log: LogShape, blank: Blank) -> tuple[int, int]:
    """Distance of its flat face from the pith and direction, whole millimetres and degrees."""
    spot = blank.spot
    pith = log.smaller_of(spot.start_mm, spot.start_mm + spot.length_mm).pith_t(spot.angle_deg)
    return round(spot.face_mm - pith), round(spot.angle_deg)


def _marks_of(blank: Blank, saw: Saw) -> list[Mark]:
    spot = blank.spot
    rim = CUTS[spot.cut].rim
    made = []
    if spot.cut == "bored-branch":
        text = "Blank {id}: bore {bit_mm} right through on the pith, half from either end."
        made.append(Mark("drill", say("bore", text, id=spot.id, bit_mm=saw.bit_mm)))
    if blank.form != "end-grain-vase":
        text = "Blank {id}: circle {diameter_mm} on the sawn face, {height_mm} deep; rim is {rim}."
    else:
        text = "Blank {id}: circle {diameter_mm} on the end, {height_mm} long; rim is {rim}."
    made.append(
        Mark("bandsaw", say("circle", text, id=spot.id, diameter_mm=blank.diameter_mm,
                            height_mm=blank.height_mm, rim=rim))
    )  # fmt: skip
    return made

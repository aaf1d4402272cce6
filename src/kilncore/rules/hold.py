"""How to hold it: every candidate judged, best, possible or no, with sizes and reasons."""

from dataclasses import dataclass, replace

from kilncore.bench import Bench, HoldingPlate, JawSet
from kilncore.rules.strength import (
    glue_order_nm,
    lag_screw_n,
    pull_of_turn_n,
    recess_order_nm,
    specific_gravity_12,
    tenon_order_nm,
    wood_screw_n,
)
from kilncore.said import Caution, Figure, Sentence, say

__all__ = ["FORMS", "ChainLink", "Form", "Hold", "HoldAsk", "hold_chain", "holds_for", "tenon_sizes"]


@dataclass(frozen=True, slots=True)
class Form:
    """A kind of piece: how its grain lies to the axis, which outline family, what rim."""

    key: str
    label: str
    grain: str
    family: str
    even_rim: bool
    closed: bool


FORMS: dict[str, Form] = {
    f.key: f
    for f in (
        Form("side-grain-bowl", "Bowl, side grain", "side-grain", "hemisphere", True, False),
        Form("natural-edge-bowl", "Natural-edge bowl", "side-grain", "hemisphere", False, False),
        Form("end-grain-vase", "Vase, end grain", "end-grain", "vase", True, True),
        Form("hollow-form", "Hollow form, end grain", "end-grain", "vase", True, True),
        Form("platter", "Platter, side grain", "side-grain", "platter", True, False),
        Form("winged-bowl", "Square or winged bowl", "side-grain", "open", False, False),
    )
}


@dataclass(frozen=True, slots=True)
class HoldAsk:
    """What a hold depends on. moment: first, hollow, remount or foot."""

    form: Form
    moment: str
    diameter_mm: float
    height_mm: float
    bottom_mm: float
    green: bool
    punky: bool = False
    cracked: bool = False
    barky: bool = False
    shrink_pct: float = 0.0
    rim_mm: float | None = None
    gb: float = 0.55
    foot_mm: float | None = None

    @property
    def bark_rim(self) -> bool:
        """Whether bark lies where the first hold would seat; a square's uneven rim is sawn flat."""
        return not self.form.even_rim and self.form.key != "winged-bowl"

    @property
    def soft_share(self) -> float:
        """What soft, wet or cracked wood still holds, against sound dry wood (assumed)."""
        return (0.4 if self.punky else 1.0) * (0.6 if self.green else 1.0) * (0.5 if self.cracked else 1.0)


@dataclass(frozen=True, slots=True)
class Hold:
    """One way of holding: verdict is best, possible or no.

    ``why`` speaks for it (against it where the verdict is no); ``but`` says what keeps
    a possible hold from being first.
    """

    key: str
    label: str
    verdict: str
    why: tuple[Sentence, ...]
    sizes: tuple[Figure, ...] = ()
    cautions: tuple[Caution, ...] = ()
    depth_lost_mm: float = 0.0
    rated_rpm: float | None = None
    source: str = "common-practice"
    rank: float = 0.0
    but: Sentence | None = None
    order_nm: float | None = None
    order: int | None = None
    leaves: Sentence | None = None
    checks: tuple[Sentence, ...] = ()


def holds_for(ask: HoldAsk, *, bench: Bench) -> tuple[Hold, ...]:
    """Return every candidate for a moment of the job, best first.

    Parameters
    ----------
    ask : HoldAsk
        Form, sizes, moment and state of the wood.
    bench : Bench
        What the workshop owns.

    Returns
    -------
    holds : tuple of Hold
        The first is marked best unless nothing will do.

    References
    ----------
    .. [common-practice] sizes; the order is ours and no safety factor.
    """
    judged = [judge(ask, bench) for judge in _MOMENTS[ask.moment]]
    usable = sorted((h for h in judged if h.verdict != "no"), key=lambda h: -h.rank)
    refused = [h for h in judged if h.verdict == "no"]
    firm = sorted((h.order_nm for h in usable if h.order_nm is not None), reverse=True)
    checks = _checks(ask, bench)
    marked = [
        replace(
            _mark(h, "best" if i == 0 else "possible"),
            order=firm.index(h.order_nm) + 1 if h.order_nm is not None else None,
            leaves=_LEAVES.get(h.key),
            checks=checks,
        )
        for i, h in enumerate(usable)
    ]
    return (*marked, *refused)


def _checks(ask: HoldAsk, bench: Bench) -> tuple[Sentence, ...]:
    """What to look at before switching on, for this piece."""
    said = [say("turn-by-hand", "Turn it by hand once round: rest, tailstock and corners clear.")]
    if ask.moment in ("first", "hollow") or ask.green:
        said.append(say("tighten", "Tighten again after the first minute; green wood gives."))
    if not ask.form.even_rim:
        said.append(
            say(
                "rim-invisible",
                "The corners and dips of the rim cannot be seen turning: mark the rest's place, hands behind it.",
            )
        )
    if ask.cracked or ask.barky:
        said.append(
            say("loose", "Press and tap: what sounds loose or moves comes off before the lathe turns.")
        )
    if ask.height_mm > 1.2 * ask.diameter_mm:
        steady = next(
            (
                t
                for t in bench.tools_of("steady")
                if t.sizes["low_mm"] <= ask.diameter_mm <= t.sizes["high_mm"]
            ),
            None,
        )
        said.append(
            say(
                "steady",
                "It stands {height_mm} out: {name} behind the cut, set with the lathe off.",
                height_mm=ask.height_mm,
                name=steady.name,
            )
            if steady
            else say(
                "tall-tailstock",
                "It stands {height_mm} out and no steady in the shop fits: tailstock as long as it can stay.",
                height_mm=ask.height_mm,
            )
        )
    else:
        said.append(say("tailstock-up", "Tailstock up wherever the form lets it."))
    said.append(say("speed-down", "Speed dial down, then switch on, standing aside."))
    return tuple(said)


@dataclass(frozen=True, slots=True)
class ChainLink:
    """One hold of a chain: when it holds, what it is, and how it comes to be there.

    ``hold`` is None where nothing in the shop will do at that moment.
    """

    moment: str
    label: str
    hold: Hold | None
    leaves: Sentence


MOMENT_LABELS = {
    "first": "first hold",
    "hollow": "for hollowing",
    "remount": "after drying",
    "foot": "reversed, for the foot",
}


def hold_chain(asks: tuple[HoldAsk, ...], *, bench: Bench) -> tuple[ChainLink, ...]:
    """Return the holds of a piece from raw blank to finished foot, each leaving the next possible.

    Parameters
    ----------
    asks : tuple of HoldAsk
        One for each moment, in the order of the work, with the sizes of that moment.
    bench : Bench
        What the workshop owns.

    Returns
    -------
    chain : tuple of ChainLink
        After drying the same kind of hold is trued and used again, where the shop's
        jaws take it at the dried size.

    References
    ----------
    .. [common-practice] order of holds.
    """
    links: list[ChainLink] = []
    for ask in asks:
        usable = [h for h in holds_for(ask, bench=bench) if h.verdict != "no"]
        before = links[-1].hold if links else None
        chosen = _same_again(usable, before) if ask.moment == "remount" else next(iter(usable), None)
        links.append(ChainLink(ask.moment, MOMENT_LABELS[ask.moment], chosen, _leaves(ask, chosen, before)))
    return tuple(links)


def _same_again(usable: list[Hold], before: Hold | None) -> Hold | None:
    """Return the hold that is on the piece already, else the best."""
    same = [h for h in usable if before is not None and h.key == before.key]
    return next(iter(same or usable), None)


_LEAVES: dict[str, Sentence] = {
    "worm-screw": say("leaves-foot", "Its hole is hollowed away; the foot side is free for the next hold."),
    "faceplate": say("leaves-foot", "Its screw holes are hollowed away; the foot side is free."),
    "between-centres": say("leaves-ends", "Both ends are free: cut the next hold at the tailstock end."),
    "tenon": say("leaves-tenon", "Stays on the foot until the piece is reversed."),
    "recess": say("leaves-recess", "May stay in the base for good."),
    "glue-block": say("leaves-block", "Is turned off with the foot."),
    "collet": say("leaves-spigot", "The spigot stays on the foot until the piece is reversed."),
}


def _leaves(ask: HoldAsk, chosen: Hold | None, before: Hold | None) -> Sentence:
    if chosen is None:
        return say("chain-broken", "Nothing in the shop holds it here: the chain ends.")
    if ask.moment == "foot":
        done = "takes the {before} off." if before and before.key != "recess" else "finishes the base."
        return say(
            "chain-end", "The last hold; it " + done, before=before.label.lower() if before else "hold"
        )
    if ask.moment == "remount" and before is not None and chosen.key == before.key:
        return say("trued", "The same as before, trued after drying; it shrank by {shrink_pct} across the grain.",
                   shrink_pct=ask.shrink_pct)  # fmt: skip
    return _LEAVES[chosen.key]


def _mark(hold: Hold, verdict: str) -> Hold:
    return replace(hold, verdict=verdict, but=None if verdict == "best" else _BUT.get(hold.key))


# What keeps a hold from being the first choice where another will do.
_BUT: dict[str, Sentence] = {
    "worm-screw": say("one-screw", "All the pull hangs on one screw."),
    "faceplate": say("screw-holes", "Slower to mount, and every screw hole must lie in wood you cut away."),
    "between-centres": say(
        "outside-only", "Shapes the outside and cuts the tenon, but nothing can be hollowed."
    ),
    "tenon": say("costs-depth", "It costs its own length in depth."),
    "recess": say("ring-carries", "The ring of wood round it carries all of the pull, and bursts when thin."),
    "collet": say("collet-small", "For small work only; the spigot must be turned to its very size."),
    "glue-block": say("glue-time", "It wants dry flat faces and hours for the glue."),
    "jam-chuck": say("own-block", "A block must be turned to fit this very piece."),
    "expanding-jaws": say("rated-slow", "It grips only the rim, and turns no faster than it is rated for."),
    "reversing-plate": say("rated-slow", "It grips only the rim, and turns no faster than it is rated for."),
}


def _no(key: str, label: str, *why: Sentence) -> Hold:
    return Hold(key, label, "no", why)


def _size(name: str, label: str, value: float, why: Sentence | None = None) -> Figure:
    return Figure(name, label, value=round(value, 1), why=why, source="common-practice", group="hold")


def _worm(ask: HoldAsk, bench: Bench) -> Hold:
    key, label = "worm-screw", "Worm screw"
    if bench.worm is None:
        return _no(key, label, say("not-owned", "There is none in the shop."))
    if ask.form.grain == "end-grain":
        return _no(key, label, say("end-grain", "One screw holds poorly in end grain."))
    if ask.punky:
        return _no(key, label, say("punky", "Soft wood lets a single screw go."))
    room = ask.height_mm - ask.bottom_mm - 4.0
    if room < 15.0:
        text = "Only {room_mm} may be drilled before the finished inside bottom: too little thread."
        return _no(key, label, say("too-shallow", text, room_mm=max(room, 0.0)))
    worm = bench.worm
    depth = min(worm.length_mm, room)
    spacer = max(0.0, worm.length_mm - depth)
    why = [say("flat-face", "One flat face, hollowed away later, so the hole costs nothing.")]
    sizes = [
        _size("pilot_mm", "Pilot drill", worm.pilot_mm),
        _size(
            "hole_depth_mm",
            "Hole depth",
            depth,
            say(
                "above-bottom",
                "It must end above the finished inside bottom, {left_mm} from this face.",
                left_mm=ask.height_mm - ask.bottom_mm,
            ),
        ),
    ]
    if spacer > 0.5:
        sizes.append(_size("spacer_mm", "Plywood spacer", spacer))
    gravity = specific_gravity_12(ask.gb)
    sizes.append(_pulls(lag_screw_n(gravity, diameter_mm=worm.diameter_mm, length_mm=depth), ask))
    rank = 3.0
    if ask.bark_rim:
        rank, why = (
            1.5,
            [say("bark-face", "The bark must come off where it seats; the rim cannot be re-centred.")],
        )
    if ask.diameter_mm > 330.0 or ask.height_mm > 160.0:
        rank -= 2.0
        why.append(say("heavy", "A blank this big pulls hard on one screw; a faceplate is calmer."))
    cautions = (
        Caution("care", say("mark-drill", "Mark the depth on the drill. Seat the blank flat on the jaws.")),
    )
    return Hold(key, label, "possible", tuple(why), tuple(sizes), cautions, rank=rank)


def _pulls(load: float, ask: HoldAsk, label: str = "Pulls straight out at") -> Figure:
    text = (
        "An average of tests in sound dry wood of this weight. Wet, soft or cracked wood holds less, and no one "
        "works near it: the handbook's advice is a fifth."
    )
    return Figure("load_n", label, value=round(load, -1), why=say("screw-load", text), source="wood-handbook", group="hold",
                  inputs={"gravity": round(specific_gravity_12(ask.gb), 3)})  # fmt: skip


def _faceplate(ask: HoldAsk, bench: Bench) -> Hold:
    key, label = "faceplate", "Faceplate"
    fitting = [p for p in bench.plates_of("faceplate") if p.low_mm <= ask.diameter_mm * 0.75]
    if not fitting:
        return _no(key, label, say("no-plate", "No faceplate in the shop is small enough for it."))
    plate = max(fitting, key=lambda p: p.low_mm)
    room = ask.height_mm - ask.bottom_mm - 4.0
    owned = [t for t in bench.tools_of("screws") if t.sizes["length_mm"] - 6.0 <= room]
    screw = max(owned, key=lambda t: t.sizes["length_mm"], default=None)
    end = ask.form.grain == "end-grain"
    length = min(screw.sizes["length_mm"] - 6.0 if screw else 40.0 if end else 32.0, room)
    shank = screw.sizes["diameter_mm"] if screw else 5.0
    if length < 12.0:
        return _no(key, label, say("screws-short", "Screws would come through the finished bottom."))
    screws = 8 if ask.diameter_mm >= 250.0 else 6 if ask.diameter_mm >= 180.0 else 4
    heavy = ask.diameter_mm > 330.0 or ask.punky or ask.height_mm > 160.0
    why = [
        say(
            "spread",
            "{screws} screws share the pull: right for heavy, lopsided or soft blanks.",
            screws=str(screws),
        )
    ]
    rank = 3.5 if heavy else 2.0
    if ask.form.grain == "end-grain":
        rank = 2.0
        why.append(say("long-screws", "In end grain only with long screws."))
    if ask.bark_rim:
        rank -= 0.7
        why.append(say("bark-off", "The bark must be cut flat under the plate."))
    one = wood_screw_n(specific_gravity_12(ask.gb), diameter_mm=shank, length_mm=length, end_grain=end)
    push = pull_of_turn_n(
        one, count=screws, circle_mm=0.75 * plate.low_mm, plate_mm=plate.low_mm, arm_mm=ask.height_mm
    )
    sizes = (
        _size("plate_diameter_mm", f"Plate: {plate.name}", plate.low_mm),
        _size("screw_length_mm", f"{screws} {screw.name if screw else 'wood screws'}, into the wood", length),
        _pulls(one, ask, "One screw pulls out at"),
        Figure("push_n", "First screw gives at a push on the far face of", value=round(push, -1), source="geometry", group="hold",
               why=say("levering", "The plate levers over its edge; the worst way round of {screws} screws on a circle of {circle_mm}.",
                       screws=str(screws), circle_mm=0.75 * plate.low_mm)),
    )  # fmt: skip
    cautions = (
        Caution(
            "care",
            say("wood-screws", "Wood screws; drywall screws snap. All must stay in wood you cut away."),
        ),
    )
    return Hold(key, label, "possible", tuple(why), sizes, cautions, rank=rank)


def _between(ask: HoldAsk, bench: Bench) -> Hold:
    why = [say("axis-open", "The axis can still be chosen, and the tenon is cut at the tailstock end.")]
    rank = 2.4
    if ask.bark_rim:
        rank = 4.0
        why.append(say("balance-rim", "Shift the centre until both bark high points are level."))
    elif ask.form.grain == "end-grain":
        rank = 4.0
        why.append(say("along", "Along the grain a drive and a live centre grip well."))
    cautions = (
        Caution("care", say("tailstock", "Tailstock locked; check it again after the first minute.")),
    )
    return Hold("between-centres", "Between centres", "possible", tuple(why), (), cautions, rank=rank)


def tenon_sizes(ask: HoldAsk, *, jaws: tuple[JawSet, ...]) -> tuple[JawSet, float, float] | None:
    """Return the jaw set, tenon diameter and length that suit best, or None.

    Parameters
    ----------
    ask : HoldAsk
        Sizes and wetness of the piece.
    jaws : tuple of JawSet
        Sets in the shop.

    Returns
    -------
    jaw, diameter_mm, length_mm : JawSet, float, float
        A third to two fifths of the diameter, near the set's round grip. [mm]

    References
    ----------
    .. [common-practice] 3 to 6 mm long on small bowls, 10 on big ones; never bottoming.
    """
    share = 0.36 if ask.form.grain == "side-grain" else 0.55
    wanted = share * ask.diameter_mm
    spare = 1.0 / (1.0 - ask.shrink_pct / 100.0) if ask.green else 1.0
    fitting = [j for j in jaws if j.tenon_low_mm <= wanted * 1.35 and j.tenon_low_mm <= ask.diameter_mm * 0.8]
    if not fitting:
        return None
    jaw = min(fitting, key=lambda j: abs(j.sweet_mm - wanted))
    target = min(max(wanted, jaw.tenon_low_mm + 1.0), jaw.tenon_high_mm - 2.0)
    diameter = min(0.5 * (target + jaw.sweet_mm) * spare, jaw.tenon_high_mm - 1.0)
    length = max(4.0, min(0.036 * ask.diameter_mm, 10.0))
    if ask.height_mm > ask.diameter_mm:
        length = max(length, 0.045 * ask.height_mm)
    if ask.green:
        length += 2.0  # a millimetre or two goes when it is trued after drying
    return jaw, diameter, min(length, jaw.depth_mm - 1.5)


def _tenon(ask: HoldAsk, bench: Bench) -> Hold:
    key, label = "tenon", "Tenon in the chuck"
    found = tenon_sizes(ask, jaws=bench.jaws)
    if found is None:
        return _no(key, label, say("no-jaws", "No jaw set closes on a tenon this piece could carry."))
    jaw, diameter, length = found
    why = [
        say(
            "share",
            "About {share} of the diameter, where {jaw} jaws touch all round.",
            share="a third to two fifths" if ask.form.grain == "side-grain" else "half",
            jaw=jaw.name,
        )
    ]
    if ask.green and ask.shrink_pct > 0:
        why.append(
            say(
                "shrinks",
                "A little large: it shrinks {shrink_pct} across the grain and is trued again when dry.",
                shrink_pct=ask.shrink_pct,
            )
        )
    sizes = (
        _size("tenon_diameter_mm", f"Tenon diameter, {jaw.name} jaws", diameter),
        _size(
            "tenon_length_mm",
            "Tenon length",
            length,
            say("clear", "{jaw_mm} deep jaws: it must not touch their floor.", jaw_mm=jaw.depth_mm),
        ),
    )
    cautions = [
        Caution(
            "care",
            say("shoulder", "Clean square shoulder on the jaw tops, slight dovetail, jaws brushed clean."),
        )
    ]
    if ask.green:
        cautions.append(
            Caution("care", say("retighten", "Green wood gives: tighten again after a few minutes."))
        )
    if ask.punky:
        cautions.append(
            Caution(
                "stop",
                say("punky-tenon", "Soft wood keeps compressing in the jaws: tailstock up throughout."),
            )
        )
    rank = 3.0 + (0.5 if bench.way.second_hold == "tenon" else 0.0)
    firm = tenon_order_nm(diameter, end_grain=ask.form.grain == "end-grain", share=ask.soft_share)
    return Hold(key, label, "possible", tuple(why), sizes, tuple(cautions), length, rank=rank, order_nm=firm)


def _recess(ask: HoldAsk, bench: Bench) -> Hold:
    key, label = "recess", "Recess, jaws opening"
    if ask.form.grain == "end-grain":
        return _no(key, label, say("splits-end", "Opening jaws split an end-grain foot."))
    wanted = 0.32 * ask.diameter_mm
    fitting = [j for j in bench.jaws if j.recess_low_mm <= wanted <= j.recess_high_mm * 1.2]
    if not fitting:
        return _no(key, label, say("no-jaws", "No jaw set opens to about {wanted_mm}.", wanted_mm=wanted))
    if ask.punky or ask.cracked:
        return _no(key, label, say("unsound", "Opening jaws burst a foot that is soft or cracked."))
    jaw = min(fitting, key=lambda j: abs((j.recess_low_mm + j.recess_high_mm) / 2 - wanted))
    diameter = min(max(wanted, jaw.recess_low_mm + 1.0), jaw.recess_high_mm - 2.0)
    around = max(12.0, 0.06 * ask.diameter_mm)
    if ask.foot_mm is not None and (ask.foot_mm - diameter) / 2.0 < 0.6 * around:
        text = "A foot of {foot_mm} leaves {ring_mm} of wood outside a recess of {recess_mm}: it bursts. {want_mm} is wanted."
        ring = max((ask.foot_mm - diameter) / 2.0, 0.0)
        return _no(
            key,
            label,
            say("foot-thin", text, foot_mm=ask.foot_mm, ring_mm=ring, recess_mm=diameter, want_mm=around),
        )
    sizes = (
        _size("recess_diameter_mm", f"Recess diameter, {jaw.name} jaws", diameter),
        _size("recess_depth_mm", "Recess depth", 4.0),
        _size(
            "recess_rim_mm",
            "Wood left outside it, at least",
            around,
            say("thin-bursts", "A thinner ring bursts as the jaws open."),
        ),
    )
    why = [say("saves-depth", "Saves the depth of a tenon and may stay in the base.")]
    rank = 2.2 + (1.5 if bench.way.second_hold == "recess" else 0.0)
    if ask.green:
        rank -= 0.5
        why.append(say("green-recess", "Green wood moves round the jaws: open gently, check often."))
    cautions = (Caution("care", say("gently", "Open slowly, light pressure.")),)
    firm = recess_order_nm(diameter, ring_mm=around, depth_mm=4.0, share=ask.soft_share)
    return Hold(key, label, "possible", tuple(why), sizes, cautions, 4.0, rank=rank, order_nm=firm)


def _glue(ask: HoldAsk, bench: Bench) -> Hold:
    key, label = "glue-block", "Glue block"
    if ask.green:
        return _no(key, label, say("wet", "Glue does not hold on wet wood."))
    if ask.diameter_mm > 300.0:
        return _no(key, label, say("too-big", "Too big and heavy for a glue line."))
    why = (
        say(
            "no-depth",
            "Loses no depth: for shallow pieces, where a tenon would cost about {cost_mm}.",
            cost_mm=12.0,
        ),
    )
    sizes = (_size("block_diameter_mm", "Block, about the foot's size", 0.4 * ask.diameter_mm),)
    cautions = (Caution("care", say("flat", "Both faces flat and sanded; mind heat and a cold shop.")),)
    shallow = ask.height_mm < 55.0
    firm = glue_order_nm(0.4 * ask.diameter_mm, share=ask.soft_share)
    return Hold(key, label, "possible", why, sizes, cautions, rank=3.6 if shallow else 1.2, order_nm=firm)


def _collet(ask: HoldAsk, bench: Bench) -> Hold:
    key, label = "collet", "Collet on a spigot"
    owned = bench.tools_of("collet")
    if not owned:
        return _no(key, label, say("not-owned", "There is none in the shop."))
    fitting = [t for t in owned if 0.3 * ask.diameter_mm <= t.sizes["bore_mm"] <= 0.8 * ask.diameter_mm]
    if not fitting:
        text = "Its bore is too small to carry {diameter_mm}, or as wide as the piece."
        return _no(key, label, say("collet-size", text, diameter_mm=ask.diameter_mm))
    tool = min(fitting, key=lambda t: abs(t.sizes["bore_mm"] - 0.45 * ask.diameter_mm))
    length = min(tool.sizes["depth_mm"] - 2.0, 0.8 * tool.sizes["bore_mm"])
    why = [say("all-round", "Closes all round: hardly marks, and a waste block goes back in true.")]
    if ask.green:
        why.append(say("green-spigot", "Green, the spigot shrinks away from it: tighten before every start."))
    sizes = (
        _size("tenon_diameter_mm", f"Spigot, {tool.name}", tool.sizes["bore_mm"]),
        _size("tenon_length_mm", "Spigot length", length),
    )
    cautions = (
        Caution("care", say("spigot-size", "Turn the spigot to its very size: a collet closes by a hair.")),
    )
    firm = tenon_order_nm(
        tool.sizes["bore_mm"], end_grain=ask.form.grain == "end-grain", share=ask.soft_share
    )
    return Hold(key, label, "possible", tuple(why), sizes, cautions, length, rank=1.8, order_nm=firm)


def _jam(ask: HoldAsk, bench: Bench) -> Hold:
    tall = ask.height_mm > 1.5 * ask.diameter_mm
    why = [say("any-rim", "Fits any rim; the tailstock presses it on.")]
    if not ask.form.even_rim:
        why.append(say("inside-pad", "Bears on the inside, so a wavy rim does not matter."))
    sizes = (Figure("taper_deg", "Taper", value=4.0, source="common-practice", group="hold"),)
    cautions = (
        Caution("care", say("light", "Light cuts; keep the centre mark in the foot until the end.")),
        Caution("note", say("true-block", "True the block first: its wobble is the foot's wobble.")),
    )
    return Hold(
        "jam-chuck",
        "Jam chuck and tailstock",
        "possible",
        tuple(why),
        sizes,
        cautions,
        rank=2.0 if tall else 2.5,
    )


def _plate_hold(ask: HoldAsk, bench: Bench, kind: str, label: str, rank: float) -> Hold:
    owned = bench.plates_of(kind)
    if not owned:
        return _no(kind, label, say("not-owned", "There is none in the shop."))
    if not ask.form.even_rim:
        return _no(kind, label, say("wavy-rim", "A wavy rim gives its buttons nothing even to grip."))
    if ask.form.grain == "end-grain" and ask.height_mm > ask.diameter_mm:
        return _no(kind, label, say("too-tall", "Too tall: it levers out of rim buttons."))
    rim = ask.rim_mm or ask.diameter_mm
    fitting = [p for p in owned if p.low_mm <= rim <= p.high_mm]
    if not fitting:
        spans = ", ".join(f"{p.name}" for p in owned)
        return _no(
            kind,
            label,
            say(
                "range", "A rim of {rim_mm} lies outside what it takes ({plates}).", rim_mm=rim, plates=spans
            ),
        )
    plate = fitting[0]
    return _fits_plate(plate, rim, label, rank)


def _fits_plate(plate: HoldingPlate, rim: float, label: str, rank: float) -> Hold:
    near_limit = plate.kind == "reversing-plate" and rim > 0.9 * plate.high_mm
    rated = 300.0 if near_limit else plate.rated_rpm
    why = [say("round-rim", "The rim is round and even: all of the foot is open to the tool.")]
    if near_limit:
        why.append(
            say("size-limit", "Near the plate's size limit: no faster than {rated_rpm}.", rated_rpm=300.0)
        )
    cautions = (
        Caution(
            "stop",
            say(
                "rated",
                "Rated {rated_rpm} at most. Tailstock up as long as it can stay.",
                rated_rpm=rated or 600.0,
            ),
        ),
    )
    return Hold(
        plate.kind,
        f"{label}: {plate.name}",
        "possible",
        tuple(why),
        (),
        cautions,
        rated_rpm=rated or 600.0,
        rank=rank,
    )


def _expanding(ask: HoldAsk, bench: Bench) -> Hold:
    return _plate_hold(ask, bench, "expanding-jaws", "Expanding jaws", 3.2)


def _reversing(ask: HoldAsk, bench: Bench) -> Hold:
    return _plate_hold(ask, bench, "reversing-plate", "Two-disc reversing plate", 2.8)


_MOMENTS = {
    "first": (_worm, _faceplate, _between),
    "hollow": (_tenon, _recess, _glue, _collet),
    "remount": (_tenon, _recess, _glue, _collet),
    "foot": (_jam, _expanding, _reversing),
}

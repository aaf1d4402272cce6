"""The work card of each stage, computed from the piece, the bench and what was noted."""

from kilncore.errors import CoreError
from kilncore.route.card import Card, CardAsk, Drawing, HoldChoice, NoteField, SchoolChoice
from kilncore.route.facts import SETTLED_MC_PCT, PieceFacts
from kilncore.rules.direction import Directions, cut_directions
from kilncore.rules.finish import Schedule, all_finishes, finish_schedule, finish_system
from kilncore.rules.hold import ChainLink, Hold, HoldAsk, hold_chain, holds_for
from kilncore.rules.sanding import STARTS, grit_ladder
from kilncore.rules.speed import SpeedAsk, speed_band
from kilncore.rules.wall import (
    ROUGH_WALL,
    Inside,
    Strains,
    bowl_inside,
    clean_up_mm,
    rough_diameter_mm,
    strains,
)
from kilncore.said import Caution, Figure, Limit, Sentence, say
from kilncore.solids.curve import Path
from kilncore.solids.measure import measured, wall_of
from kilncore.solids.revolve import Vessel, foot_share, vessel
from kilncore.wood.emc import emc_pct

__all__ = [
    "bore_card",
    "care_note",
    "chosen_finish",
    "coat_card",
    "coat_schedule",
    "dry_card",
    "explain",
    "foot_card",
    "once_card",
    "rough_card",
    "sand_card",
    "sign_card",
    "turn_card",
]

_START_CAUTION = Caution(
    "care",
    say(
        "start",
        "Face shield on, dial down, turn it by hand once, stand out of its line. "
        "The lathe's manual and your training come before this card.",
    ),
)


def _speed(ask: CardAsk, stage: str, swing_mm: float, **more: object) -> Figure:
    facts = ask.facts
    return speed_band(
        SpeedAsk(
            swing_mm=swing_mm * facts.swing_share,
            stage=stage,
            conditions=facts.speed_conditions,
            length_mm=facts.height_mm if facts.form.grain == "end-grain" else None,
            **more,  # type: ignore[arg-type]
        ),
        lathe=ask.bench.lathe,
    )


def _strains(facts: PieceFacts) -> Strains:
    return strains(
        facts.wood, radius_mm=facts.diameter_mm / 2.0, mc_pct=SETTLED_MC_PCT, pith_mm=facts.pith_mm
    )


def _hold_ask(facts: PieceFacts, moment: str, *, green: bool, diameter: float) -> HoldAsk:
    return HoldAsk(
        form=facts.form,
        moment=moment,
        diameter_mm=diameter,
        height_mm=facts.height_mm,
        bottom_mm=_bottom_mm(facts, green),
        green=green,
        punky="punky" in facts.conditions,
        cracked="cracked" in facts.conditions,
        barky="barky" in facts.speed_conditions,
        shrink_pct=_strains(facts).across_pct if green or moment == "remount" else 0.0,
        rim_mm=diameter,
        gb=facts.wood.gb.typical,
        foot_mm=_drawn_foot_mm(facts) if moment == "remount" or facts.way != "twice-turned" else None,
    )


def _drawn_foot_mm(facts: PieceFacts) -> float | None:
    """The flat foot of the form drawn for this piece; None where none was drawn or it is round."""
    if facts.design is None or facts.design.outer[0].r_mm <= 0.0:
        return None
    return 2.0 * facts.design.outer[0].r_mm


def _holds(ask: CardAsk, moment: str, label: str, *, green: bool, diameter: float) -> HoldChoice:
    found = holds_for(_hold_ask(ask.facts, moment, green=green, diameter=diameter), bench=ask.bench)
    return HoldChoice(moment, label, found)


def _chain(ask: CardAsk) -> tuple[ChainLink, ...]:
    """The holds from raw blank to foot, as the way of this piece needs them."""
    facts = ask.facts
    green = facts.way in ("twice-turned", "once-green")
    moments = ["first", "hollow", *(["remount"] if facts.way == "twice-turned" else []), "foot"]
    asks = tuple(
        _hold_ask(
            facts,
            moment,
            green=green and moment in ("first", "hollow"),
            diameter=facts.diameter_mm if moment in ("first", "hollow") else facts.finish_diameter_mm,
        )
        for moment in moments
    )
    return hold_chain(asks, bench=ask.bench)


def _bottom_mm(facts: PieceFacts, green: bool) -> float:
    """Wood left below the hollow, tenon not counted."""
    finished = max(1.6 * facts.finish_wall_mm, 8.0)
    return 1.15 * facts.diameter_mm / 10.0 if green and facts.way == "twice-turned" else finished


def _best(choice: HoldChoice) -> Hold | None:
    return next((h for h in choice.holds if h.verdict == "best"), None)


def _own_drawing(facts: PieceFacts, tenon: float | None, lost: float) -> tuple[Drawing, Vessel]:
    """The form drawn for this very piece on the shape bench."""
    assert facts.design is not None
    outer, inner = facts.design.paths()
    solid, wall = measured(outer, inner, half_mm=facts.design.half_mm), wall_of(outer, inner)
    dimensions = (
        Figure("diameter_mm", "outside", value=2.0 * max(r for r, _ in outer)),
        Figure("wall_mm", "thinnest wall", value=wall.thin[2]),
        Figure("bottom_mm", "bottom", value=wall.bottom_mm),
        Figure("height_mm", "height", value=outer[-1][1]),
    )
    radius, height = facts.diameter_mm / 2.0, facts.height_mm
    drawing = Drawing(outer, inner, radius, height, dimensions, tenon / 2.0 if tenon else None, lost)
    areas = (solid.outside_cm2, solid.inside_cm2)
    return drawing, Vessel(outer, inner, solid.outer_cm3, solid.outer_cm3 - solid.wood_cm3, *areas)


def _directions(ask: CardAsk, outer: Path, inner: Path) -> Directions:
    return cut_directions(outer, inner, grain=ask.facts.form.grain, inside=ask.bench.way.inside)


def _drawing(
    facts: PieceFacts,
    *,
    diameter: float,
    height: float,
    wall: float,
    bottom: float,
    hold: Hold | None,
    rough: bool = False,
) -> tuple[Drawing, Vessel]:
    sizes = {s.name: s.value or 0.0 for s in (hold.sizes if hold else ())}
    tenon = sizes.get("tenon_diameter_mm")
    lost = hold.depth_lost_mm if hold and tenon else 0.0
    body = max(height - lost, height * 0.5)
    if facts.design is not None and not rough:
        return _own_drawing(facts, tenon, lost)
    foot = foot_share(facts.form.family) * diameter
    shape = vessel(
        facts.form.family,
        diameter_mm=diameter,
        height_mm=body,
        wall_mm=wall,
        bottom_mm=bottom,
        foot_diameter_mm=foot,
    )
    dimensions = (
        Figure("diameter_mm", "outside", value=diameter),
        Figure("wall_mm", "wall", value=wall),
        Figure("bottom_mm", "bottom", value=bottom),
        Figure("height_mm", "height", value=body),
    )
    drawing = Drawing(
        shape.outer,
        shape.inner,
        facts.diameter_mm / 2.0,
        facts.height_mm,
        dimensions,
        tenon / 2.0 if tenon else None,
        lost,
    )
    return drawing, shape


def _piece_inputs(facts: PieceFacts) -> tuple[NoteField, ...]:
    return (
        NoteField("diameter_mm", "Blank across", value=facts.diameter_mm, low=30, high=1200, on_piece=True),
        NoteField("height_mm", "Blank deep", value=facts.height_mm, low=15, high=1200, on_piece=True),
        NoteField(
            "finish_diameter_mm",
            "Finished across",
            value=facts.finish_diameter_mm,
            low=25,
            high=1200,
            on_piece=True,
        ),
        NoteField(
            "finish_wall_mm", "Finished wall", value=facts.finish_wall_mm, low=1.5, high=60, on_piece=True
        ),
    )


def _wood_cautions(facts: PieceFacts) -> list[Caution]:
    wood, said = facts.wood, []
    if "toxic" in wood.hazards:
        said.append(
            Caution(
                "stop",
                say(
                    "toxic",
                    "{wood} dust is toxic: respirator, extraction, clean up at once.",
                    wood=wood.common,
                ),
            )
        )
    elif "dust" in wood.hazards:
        said.append(
            Caution(
                "care",
                say("sensitiser", "{wood} dust makes some people allergic: respirator on.", wood=wood.common),
            )
        )
    if wood.is_wild:
        said.append(
            Caution(
                "care",
                say(
                    "wild",
                    "{wood} is known to move and check: wax the end grain the same hour.",
                    wood=wood.common,
                ),
            )
        )
    if wood.has_gaps:
        said.append(
            Caution(
                "note",
                say(
                    "class",
                    "Some figures of {wood} are not in our tables; the range of its class stands in.",
                    wood=wood.common,
                ),
            )
        )
    if "cracked" in facts.conditions:
        said.append(
            Caution(
                "stop",
                say(
                    "cracked",
                    "Cracked: if the crack runs towards the rim, do not spin it. When in doubt, firewood.",
                ),
            )
        )
    if "barky" in facts.speed_conditions:
        said.append(
            Caution(
                "care",
                say("bark", "Check the bark by hand; loose pieces fly. Thin glue along the edge helps."),
            )
        )
    return said


def _warp(facts: PieceFacts, moved: Strains) -> Figure:
    long_mm = facts.finish_diameter_mm * (1 - moved.along_pct / 100)
    across = facts.diameter_mm * (moved.across_pct - moved.along_pct) / 100.0
    rises = (
        "the two ends of the grain stay higher and the sides drop"
        if facts.form.key != "natural-edge-bowl"
        else "the sides rise and the two ends of the grain drop"
    )
    if facts.form.grain == "end-grain":
        rises = "the mouth goes oval by the ring pattern, hardly shorter along the grain"
    known = "" if facts.pith_mm is not None else " Pith distance unknown: the widest case is shown."
    why = say(
        "warp",
        "It shrinks {across_pct} across the grain and {along_pct} along it, so the rim goes oval, "
        "longest along the grain; {rises}, by about {shift_mm}." + known,
        across_pct=moved.across_pct,
        along_pct=moved.along_pct,
        rises=rises,
        shift_mm=moved.sides_shift_mm,
    )
    return Figure(
        "oval_mm",
        "Oval once dry",
        value=across,
        why=why,
        inputs={"rim_mm": long_mm, "dry_mc_pct": SETTLED_MC_PCT},
        source="geometry",
        group="warp",
    )


def _rough_wall(ask: CardAsk, moved: Strains) -> tuple[Figure, Figure, SchoolChoice]:
    facts = ask.facts
    clean = clean_up_mm(facts.finish_diameter_mm, wild=facts.wood.is_wild)
    rough = rough_diameter_mm(facts.finish_diameter_mm, clean_mm=clean, across_pct=moved.across_pct)
    verdicts = ROUGH_WALL.ask(
        first=ask.bench.way.rough_wall,
        finish_mm=facts.finish_diameter_mm,
        finish_wall_mm=facts.finish_wall_mm,
        clean_mm=clean,
        across_pct=moved.across_pct,
        along_pct=moved.along_pct,
        rough_mm=min(rough, facts.diameter_mm),
    )
    limits = tuple(Limit(v.school, v.label, v.value, v.why, v.source, i == 0) for i, v in enumerate(verdicts))
    wall = Figure(
        "wall_mm",
        "Rough wall",
        value=round(verdicts[0].value or 0.0, 1),
        why=verdicts[0].why,
        limits=limits,
        inputs={"clean_up_mm": clean, "finish_wall_mm": facts.finish_wall_mm},
        source=verdicts[0].source,
        group="wall",
        big=True,
    )
    fits = rough <= facts.diameter_mm
    why = (
        say(
            "rough-diameter",
            "{finish_mm} finished, {clean_mm} to clean off each face, {across_pct} shrinkage across the grain.",
            finish_mm=facts.finish_diameter_mm,
            clean_mm=clean,
            across_pct=moved.across_pct,
        )
        if fits
        else say(
            "blank-too-small",
            "{finish_mm} would need {rough_mm} green and the blank has {blank_mm}. About {fits_mm} is in it.",
            finish_mm=facts.finish_diameter_mm,
            rough_mm=rough,
            blank_mm=facts.diameter_mm,
            fits_mm=facts.diameter_mm * (1 - moved.across_pct / 100) - 2 * clean,
        )
    )
    diameter = Figure(
        "rough_diameter_mm",
        "Rough diameter, at least",
        value=round(min(rough, facts.diameter_mm), 1),
        why=why,
        source="geometry",
        group="wall",
        big=True,
    )
    return wall, diameter, SchoolChoice(ROUGH_WALL.question, "wall_mm", verdicts)


def _rough_notes(wall: float, diameter: float, height: float, bottom: float) -> tuple[NoteField, ...]:
    return (
        NoteField(
            "outside_diameter_mm", "Outside diameter", value=round(diameter), low=30, high=1200, required=True
        ),
        NoteField("wall_mm", "Wall", value=round(wall), low=1.5, high=120, required=True),
        NoteField("height_mm", "Height", value=round(height), low=15, high=1200),
        NoteField("bottom_mm", "Bottom", value=round(bottom), low=1.5, high=200),
        NoteField("mass_g", "Weight", low=5, high=60000),
        NoteField("speed_rpm", "Speed used", low=0, high=6000),
        NoteField("minutes_min", "Minutes", low=0, high=3000),
        NoteField("words", "Note", kind="text"),
    )


def rough_card(ask: CardAsk) -> Card:
    """Return the card for roughing a green piece to a thick even wall."""
    facts = ask.facts
    moved = _strains(facts)
    wall, diameter, school = _rough_wall(ask, moved)
    first = _holds(ask, "first", "First hold", green=True, diameter=facts.diameter_mm)
    second = _holds(ask, "hollow", "For hollowing", green=True, diameter=diameter.value or 0.0)
    thick = min(wall.value or 0.0, 0.45 * (diameter.value or 0.0))
    bottom = min(1.2 * thick, 0.6 * facts.height_mm)
    drawing, shape = _drawing(
        facts,
        diameter=diameter.value or 0.0,
        height=facts.height_mm,
        wall=thick,
        bottom=bottom,
        hold=_best(second),
        rough=True,
    )
    cautions = [_START_CAUTION, *_wood_cautions(facts)]
    if diameter.why and diameter.why.code == "blank-too-small":
        cautions.append(Caution("stop", diameter.why))
    bottom_figure = Figure(
        "bottom_mm",
        "Rough bottom",
        value=round(bottom, 1),
        why=say("bottom", "A little thicker than the wall, without the tenon, so that it can be trued."),
        source="common-practice",
        group="wall",
    )
    return Card(
        "rough",
        "Rough-turn",
        say("aim-rough", "An even thick wall that stays sound while it dries, and a hold that survives it."),
        inputs=_piece_inputs(facts),
        figures=(
            _speed(ask, "rough", facts.diameter_mm),
            _speed(ask, "true", facts.diameter_mm),
            wall,
            diameter,
            bottom_figure,
            _warp(facts, moved),
        ),
        holds=(first, second),
        chain=_chain(ask),
        schools=(school,),
        steps=_rough_steps(facts),
        cautions=tuple(cautions),
        drawing=drawing,
        directions=_directions(ask, shape.outer, shape.inner),
        notes=_rough_notes(thick, diameter.value or 0.0, facts.height_mm - 10, bottom),
    )


def _rough_steps(facts: PieceFacts) -> tuple[Sentence, ...]:
    if facts.form.grain == "end-grain":
        return (
            say("tail", "Tailstock up; cut from the large diameter to the small."),
            say("tenon-end", "Cut the tenon at the tailstock end, shoulder square."),
            say("drill-first", "In the chuck: drill to depth first, then open from the middle outwards."),
            say("even", "Even wall all over: thick places check, thin ones go oval first."),
            say("coat-ends", "Weigh it, write the tag on it, wax the end grain before it leaves the lathe."),
        )
    return (
        say("outside", "Tailstock up; outside from foot to rim, with the fibres."),
        say("tenon", "Cut the tenon or recess while the tailstock is still there; leave the centre mark."),
        say("turn-round", "Turn it round, start low again, inside from rim to bottom."),
        say("even", "Even wall all over: thick places check, thin ones go oval first."),
        say("coat-ends", "Weigh it, write the tag on it, wax the end grain before it leaves the lathe."),
    )


def bore_card(ask: CardAsk) -> Card:
    """Return the card for boring the pith out of a branch section."""
    facts = ask.facts
    bore = max(20.0, 0.28 * facts.diameter_mm)
    wall = (facts.diameter_mm - bore) / 2.0
    bit = min(bore, 65.0)
    figures = (
        Figure(
            "bore_mm",
            "Bore",
            value=round(bore),
            why=say(
                "bore",
                "The pith and the first rings go; the wall can then shrink round a hole instead of splitting.",
            ),
            source="assumed",
            group="wall",
            big=True,
        ),
        Figure("wall_mm", "Wall left", value=round(wall, 1), source="geometry", group="wall", big=True),
        speed_band(SpeedAsk(bit, "bore"), lathe=ask.bench.lathe)
        if ask.bench.lathe.at_most(475.0 / (bit / 25.4))
        else _slow_bore(ask, bit),
        _speed(ask, "rough", facts.diameter_mm),
    )
    first = _holds(ask, "first", "First hold", green=True, diameter=facts.diameter_mm)
    return Card(
        "bore",
        "Bore out the pith",
        say("aim-bore", "A hole right through from both ends, a tenon on each end, the bark left on."),
        inputs=_piece_inputs(facts),
        figures=figures,
        holds=(first,),
        steps=(
            say("tenons", "A tenon on both ends, between centres."),
            say("both-ends", "Bore from both ends until they meet; clear the chips often."),
            say("control", "Keep a control piece outside the bag to see what the bag does."),
        ),
        cautions=(_START_CAUTION, *_wood_cautions(facts)),
        notes=_rough_notes(wall, facts.diameter_mm, facts.height_mm, wall),
    )


def _slow_bore(ask: CardAsk, bit: float) -> Figure:
    lathe = ask.bench.lathe
    slowest = min(lathe.steps_rpm) if lathe.steps_rpm else lathe.min_rpm
    return Figure(
        "bore_rpm",
        "Speed, boring",
        value=slowest,
        why=say(
            "bore-smaller",
            "{lathe} turns no slower than {slowest_rpm}: that is fast for a {bit_mm} bit. Bore in steps with smaller ones.",
            lathe=lathe.name,
            slowest_rpm=slowest,
            bit_mm=bit,
        ),
        source="common-practice",
        group="speed",
    )


def dry_card(ask: CardAsk) -> Card:
    """Return the card for the time on the shelf."""
    facts = ask.facts
    way = ask.bench.way
    home = emc_pct(way.home_c, rh_pct=way.home_rh_pct)
    wall = facts.noted("rough", "wall_mm") or facts.noted("turn-green", "final_wall_mm") or 0.0
    thick = wall >= 12.0 or wall == 0.0
    advice = (
        say("bag-first", "Paper bag for the first weeks, end grain waxed; then the open shelf.")
        if thick
        else say("thin-shelf", "Thin and even: an open shelf, out of sun and draught; days, not months.")
    )
    ready = Figure(
        "target_mc_pct",
        "Ready at",
        value=round(home + 1.0, 1),
        why=say(
            "ready",
            "In its home ({home_c}, {home_rh_pct}) wood settles at {home_mc_pct}; within one of that it is ready. "
            "House rule beside it: losing less than {stop_per_week_pct}.",
            home_c=way.home_c,
            home_rh_pct=way.home_rh_pct,
            home_mc_pct=home,
            stop_per_week_pct=way.stop_loss_per_week_pct,
        ),
        source="wood-handbook",
        group="drying",
        big=True,
    )
    return Card(
        "dry",
        "Dry",
        say("aim-dry", "Slowly enough not to check, until its weight stands still."),
        figures=(ready,),
        steps=(advice, say("weigh", "Weigh it today, then when Today asks for it.")),
        cautions=tuple(_wood_cautions(facts)),
        notes=(NoteField("words", "Note", kind="text"),),
    )


def turn_card(ask: CardAsk) -> Card:
    """Return the card for remounting a dried rough-out and turning it to its final shape."""
    facts = ask.facts
    start = facts.noted("rough", "outside_diameter_mm") or facts.diameter_mm
    rough_wall = facts.noted("rough", "wall_mm") or start / 10.0
    moved = _strains(facts)
    long_mm = ask.number("long_mm") or round(start * (1 - moved.along_pct / 100), 0)
    short_mm = ask.number("short_mm") or round(start * (1 - moved.across_pct / 100), 0)
    wall_long = ask.number("wall_long_mm") or round(rough_wall * (1 - moved.across_pct / 100), 0)
    wall_short = ask.number("wall_short_mm") or round(rough_wall * (1 - moved.across_pct / 100), 0)
    clean = clean_up_mm(short_mm, wild=facts.wood.is_wild)
    inside = bowl_inside(
        long_mm, short_mm=short_mm, wall_long_mm=wall_long, wall_short_mm=wall_short, clean_mm=clean
    )
    measured = all(ask.number(n) for n in ("long_mm", "short_mm", "wall_long_mm", "wall_short_mm"))
    wall = min(facts.finish_wall_mm, inside.wall_mm)
    inputs = (
        NoteField("long_mm", "Longest across", value=long_mm, low=20, high=1500, before=True),
        NoteField("short_mm", "Shortest across", value=short_mm, low=20, high=1500, before=True),
        NoteField("wall_long_mm", "Wall at the long ends", value=wall_long, low=1, high=200, before=True),
        NoteField("wall_short_mm", "Wall at the short ends", value=wall_short, low=1, high=200, before=True),
        NoteField(
            "finish_wall_mm", "Finished wall", value=facts.finish_wall_mm, low=1.5, high=60, on_piece=True
        ),
    )
    left = Figure(
        "inside_diameter_mm",
        "Round bowl still inside",
        value=round(inside.diameter_mm, 1),
        why=say(
            "inside",
            "The short side of {short_mm} less {clean_mm} of truing a face. {oval_mm} oval."
            + ("" if measured else " Predicted from the rough sizes: measure and correct the four figures."),
            short_mm=short_mm,
            clean_mm=clean,
            oval_mm=inside.oval_mm,
        ),
        source="geometry",
        group="wall",
        big=True,
    )
    thickest = Figure(
        "most_wall_mm",
        "Wall you can still have",
        value=round(inside.wall_mm, 1),
        why=say("wall-left", "Between the trued outside and the hollow at its widest, trued too."),
        source="geometry",
        group="wall",
    )
    height = facts.noted("rough", "height_mm") or facts.height_mm
    return _finish_turning(
        ask,
        kind="turn",
        title="Remount and finish-turn",
        diameter=inside.diameter_mm,
        height=height - 2 * clean,
        wall=wall,
        extra=(left, thickest),
        inputs=inputs,
        moment="remount",
        swing=long_mm,
        inside=inside,
    )


def _finish_turning(
    ask: CardAsk,
    *,
    kind: str,
    title: str,
    diameter: float,
    height: float,
    wall: float,
    extra: tuple[Figure, ...],
    inputs: tuple[NoteField, ...],
    moment: str,
    swing: float,
    green: bool = False,
    first: HoldChoice | None = None,
    inside: Inside | None = None,
) -> Card:
    facts = ask.facts
    hold = _holds(ask, moment, "In the chuck", green=green, diameter=diameter)
    bottom = min(max(1.6 * wall, 8.0), 0.4 * height)
    drawing, shape = _drawing(
        facts, diameter=diameter, height=height, wall=wall, bottom=bottom, hold=_best(hold)
    )
    body = shape.outer[-1][1]
    if facts.design is not None:
        bottom = shape.inner[0][1]
    depth = Figure(
        "depth_hole_mm",
        "Depth hole, from the rim",
        value=round(body - bottom - 1.0, 1),
        why=say(
            "depth",
            "{body_mm} from rim to foot, less a bottom of {bottom_mm}, stopping {shy_mm} shy. The tenon does not count as wood.",
            body_mm=body,
            bottom_mm=bottom,
            shy_mm=1.0,
        ),
        source="common-practice",
        group="depth",
        big=True,
    )
    wall_figure = Figure(
        "wall_mm",
        "Finished wall",
        value=round(wall, 1),
        why=say(
            "wall",
            "As you asked for."
            if wall >= facts.finish_wall_mm - 0.05
            else "You wanted {wanted_mm}; only {wall_mm} is left in it.",
            wanted_mm=facts.finish_wall_mm,
            wall_mm=wall,
        ),
        source="geometry",
        group="wall",
        big=True,
    )
    choices = (first, hold) if first else (hold,)
    return Card(
        kind,
        title,
        say("aim-turn", "True outside first while it is stiff, then the inside, rim before bottom."),
        inputs=inputs,
        figures=(
            *extra,
            wall_figure,
            depth,
            _speed(ask, "rough", swing),
            _speed(ask, "finish", diameter),
        ),
        holds=choices,
        chain=_chain(ask),
        steps=_inside_steps(ask),
        cautions=(_START_CAUTION, *_wood_cautions(facts)),
        drawing=drawing,
        directions=_directions(ask, shape.outer, shape.inner),
        inside=inside,
        notes=(
            NoteField(
                "final_diameter_mm", "Final diameter", value=round(diameter), low=20, high=1200, required=True
            ),
            NoteField("final_wall_mm", "Final wall", value=round(wall, 1), low=0.8, high=60, required=True),
            NoteField("final_height_mm", "Final height", value=round(body), low=10, high=1200),
            NoteField("bottom_mm", "Bottom left", value=round(bottom), low=1, high=120),
            NoteField("mass_g", "Weight", low=5, high=60000),
            NoteField("speed_rpm", "Speed used", low=0, high=6000),
            NoteField("minutes_min", "Minutes", low=0, high=3000),
            NoteField("words", "Note", kind="text"),
        ),
    )


def _inside_steps(ask: CardAsk) -> tuple[Sentence, ...]:
    if ask.facts.form.grain == "end-grain":
        inside = say("end-inside", "Inside: drill to depth, then from the middle outwards, with the fibres.")
    elif ask.bench.way.inside == "centre-out":
        inside = say(
            "centre-out",
            "Inside, house way: from the centre out. Other school: from the rim down, leaving the middle as ballast.",
        )
    else:
        inside = say(
            "rim-down",
            "Inside, house way: from the rim down in steps, the middle left as ballast. Other school: from the centre out.",
        )
    return (
        say("tenon-true", "True the tenon first, with the rim pressed on a pad by the tailstock."),
        say("outside-first", "Outside true and to shape, foot to rim; sharpen before the last pass."),
        inside,
        say(
            "callipers",
            "Callipers all the way down: an even wall by feel is often twice as thick at the bottom.",
        ),
    )


def once_card(ask: CardAsk) -> Card:
    """Return the card for turning straight to the final wall, green or dry."""
    facts = ask.facts
    green = facts.way == "once-green"
    moved = _strains(facts)
    diameter = (
        facts.finish_diameter_mm if not green else min(facts.diameter_mm - 2.0, facts.finish_diameter_mm)
    )
    first = _holds(ask, "first", "First hold", green=green, diameter=facts.diameter_mm)
    extra = (_warp(facts, moved),) if green else ()
    return _finish_turning(
        ask,
        kind="turn-green" if green else "turn-dry",
        title="Turn to the final wall" + (", green" if green else ""),
        diameter=diameter,
        height=facts.height_mm - 3.0,
        wall=facts.finish_wall_mm,
        extra=extra,
        inputs=_piece_inputs(facts),
        moment="hollow",
        swing=facts.diameter_mm,
        green=green,
        first=first,
    )


def _final(facts: PieceFacts) -> tuple[float, float, float]:
    """Final diameter, height and wall as noted, or as planned."""
    for kind in ("turn", "turn-green", "turn-dry"):
        diameter = facts.noted(kind, "final_diameter_mm")
        if diameter:
            height = facts.noted(kind, "final_height_mm") or facts.height_mm
            return diameter, height, facts.noted(kind, "final_wall_mm") or facts.finish_wall_mm
    return facts.finish_diameter_mm, facts.height_mm - 10.0, facts.finish_wall_mm


def sand_card(ask: CardAsk) -> Card:
    """Return the grit ladder for the surface it has and the finish it gets."""
    facts, way = ask.facts, ask.bench.way
    diameter, height, wall = _final(facts)
    shape = vessel(
        facts.form.family,
        diameter_mm=diameter,
        height_mm=height,
        wall_mm=min(wall, diameter * 0.4),
        bottom_mm=min(1.6 * wall, height * 0.5),
    )
    default = "warped-green" if facts.way == "once-green" else "scraped"
    surface = ask.word("surface", default)
    finish = finish_system(ask.word("finish", way.finish))
    ladder = grit_ladder(
        surface,
        finish_family=finish.family,
        owned=ask.bench.grits,
        school=way.ladder,
        area_cm2=shape.outside_cm2 + shape.inside_cm2,
        closed_form=facts.form.closed,
    )
    area = Figure(
        "area_cm2",
        "Surface to sand",
        value=round(shape.outside_cm2 + shape.inside_cm2),
        why=say(
            "area", "Inside and outside of a shape of these sizes; time and sheets are estimates from it."
        ),
        source="pappus",
        group="sanding",
    )
    return Card(
        "sand",
        "Sand",
        say("aim-sand", "Each grit only takes out the scratches of the one before."),
        inputs=(
            NoteField(
                "surface",
                "Surface now",
                "choice",
                surface,
                choices=tuple((k, v[0]) for k, v in STARTS.items()),
                before=True,
            ),
            _finish_choice(finish.key),
        ),
        figures=(_speed(ask, "sand", diameter), area),
        steps=ladder.zones,
        cautions=(*ladder.cautions, *_wood_cautions(facts)),
        ladder=ladder,
        notes=(
            NoteField("last_grit", "Last grit", value=float(ladder.grits[-1]), low=40, high=2500),
            NoteField("minutes_min", "Minutes", low=0, high=3000),
            NoteField("words", "Note", kind="text"),
        ),
    )


def _finish_choice(key: str) -> NoteField:
    choices = tuple((k, f.label) for k, f in all_finishes().items())
    return NoteField("finish", "Finish", "choice", key, choices=choices, before=True)


def chosen_finish(ask: CardAsk) -> str:
    """Return the finish chosen here, at the sanding, or the house's own."""
    sanded = ask.facts.recorded.get("sand", {}).get("finish")
    default = sanded if isinstance(sanded, str) else ask.bench.way.finish
    return ask.word("finish", default)


def _room(ask: CardAsk) -> tuple[float, float]:
    """Air of the room the coats dry in: as noted, or the house's."""
    way = ask.bench.way
    room, damp = ask.number("room_c"), ask.number("room_rh_pct")
    return (
        way.finish_room_c if room is None else room,
        way.home_rh_pct if damp is None else damp,
    )


def coat_schedule(ask: CardAsk) -> Schedule:
    """Return the coats of the chosen finish in this room, hours after the first."""
    facts = ask.facts
    room, damp = _room(ask)
    return finish_schedule(
        chosen_finish(ask),
        room_c=room,
        rh_pct=damp,
        end_grain=facts.form.grain == "end-grain",
        punky="punky" in facts.conditions,
        for_food=facts.purpose == "food",
    )


def coat_card(ask: CardAsk) -> Card:
    """Return the coats of the chosen finish in this room."""
    key = chosen_finish(ask)
    room, damp = _room(ask)
    schedule = coat_schedule(ask)
    return Card(
        "coat",
        "Finish",
        say("aim-coat", "Thin coats, the same everywhere, edges and bottom too."),
        inputs=(
            _finish_choice(key),
            NoteField("room_c", "Room", value=room, low=-5, high=40, before=True),
            NoteField("room_rh_pct", "Air in the room", value=damp, low=1, high=100, before=True),
        ),
        figures=(
            Figure(
                "interval_hours",
                "Between coats",
                value=round(schedule.interval_hours, 1),
                why=schedule.why,
                source="maker",
                group="finish",
                big=True,
            ),
            Figure(
                "cured_hours",
                "Cured after",
                value=round(schedule.cured_after_hours),
                why=schedule.food,
                source="maker",
                group="finish",
                big=True,
            ),
        ),
        steps=(
            say("dust-off", "Dust off; a wipe of alcohol shows the colour and the scratches left."),
            say("end-grain-drinks", "Where it drinks, give more of the first coat, none of the last."),
        ),
        cautions=schedule.cautions,
        schedule=schedule,
        notes=(NoteField("words", "Note", kind="text"),),
    )


def foot_card(ask: CardAsk) -> Card:
    """Return the card for reversing the piece and finishing its foot."""
    facts = ask.facts
    diameter, _, _ = _final(facts)
    holds = _holds(ask, "foot", "Reversed", green=False, diameter=diameter)
    best = _best(holds)
    speed = _speed(
        ask,
        "foot",
        diameter,
        tailstock=True,
        rated_rpm=best.rated_rpm if best else None,
        rated_name=best.label if best else "",
    )
    return Card(
        "foot",
        "Foot",
        say("aim-foot", "Tenon off, base flat or a hair hollow so that it does not rock."),
        figures=(speed,),
        holds=(holds,),
        steps=(
            say("tail-long", "Tailstock as long as it can stay; only the last nub without it."),
            say("hollow-base", "Base slightly concave: a straight edge shows light in the middle."),
            say("nub", "The nub by saw or chisel, lathe off. Do not part right through in the air."),
            say("bottom-too", "Sand the base and give it the same finish."),
        ),
        cautions=(_START_CAUTION, *(best.cautions if best else ())),
        notes=(
            NoteField(
                "hold_used",
                "Hold used",
                "choice",
                best.key if best else None,
                choices=tuple((h.key, h.label) for h in holds.holds if h.verdict != "no"),
            ),
            NoteField("minutes_min", "Minutes", low=0, high=3000),
            NoteField("words", "Note", kind="text"),
        ),
    )


def sign_card(ask: CardAsk) -> Card:
    """Return the card for signing and handing over, with the care note."""
    facts = ask.facts
    finish = finish_system(chosen_finish(ask))
    diameter, height, _ = _final(facts)
    food = {
        "yes": "Good for food.",
        "cured": "Good for food once the finish has cured.",
        "no": "For show and dry things, not for food.",
    }[finish.food]
    care = say(
        "care",
        "{wood}, {diameter_mm} across and {height_mm} high, finished with {finish}. "
        + food
        + " "
        + finish.care
        + " Wood moves with the air: keep it away from radiators and out of the sun.",
        wood=facts.wood.common,
        diameter_mm=diameter,
        height_mm=height,
        finish=finish.label.lower(),
    )
    return Card(
        "sign",
        "Sign",
        say("aim-sign", "Name, species and year on the base; then it is done."),
        steps=(
            say("sign", "Sign before the base's last coat, so that it stays."),
            care,
        ),
        notes=(
            NoteField("signed_as", "Signed as", "text"),
            NoteField("mass_g", "Final weight", low=5, high=60000),
            NoteField("price", "Price asked", low=0, high=100000),
            NoteField("words", "Where it went", kind="text"),
        ),
    )


def care_note(ask: CardAsk) -> Sentence:
    """Return the note that goes with the finished piece."""
    return next(s for s in sign_card(ask).steps if s.code == "care")


def explain(error: CoreError, *, kind: str, title: str) -> Card:
    """Return a card that says why it cannot be computed, with its inputs left to mend."""
    text = Sentence(error.code, error.template, error.params)
    return Card(kind, title, text, cautions=(Caution("stop", text),))

"""Which stages a piece goes through, in order, each with its work card.

A new stage is one row in ``STAGES`` and its card function; a new way is one row in
``WAYS``.
"""

from collections.abc import Callable
from dataclasses import dataclass

from kilncore.bench import Bench
from kilncore.errors import Impossible, Unknown
from kilncore.route.card import Card, CardAsk, check_notes
from kilncore.route.facts import PieceFacts
from kilncore.route.stages import (
    bore_card,
    coat_card,
    dry_card,
    foot_card,
    once_card,
    rough_card,
    sand_card,
    sign_card,
    turn_card,
)
from kilncore.rules.wall import bowl_inside
from kilncore.said import Sentence, say

__all__ = [
    "STAGES",
    "WAYS",
    "PlannedStage",
    "StageKind",
    "Way",
    "card_for",
    "default_way",
    "plan_route",
    "record_stage",
]


@dataclass(frozen=True, slots=True)
class StageKind:
    """A kind of work. place: bench, drying or coats; ``due`` names it in the day's list."""

    key: str
    title: str
    place: str
    due: str
    card: Callable[[CardAsk], Card]
    weighs: bool = False


STAGES: dict[str, StageKind] = {
    s.key: s
    for s in (
        StageKind("rough", "Rough-turn", "bench", "to rough", rough_card, weighs=True),
        StageKind("bore", "Bore out the pith", "bench", "to bore", bore_card, weighs=True),
        StageKind("turn-green", "Turn green to final wall", "bench", "to turn green", once_card, weighs=True),
        StageKind("turn-dry", "Turn from dry", "bench", "to turn", once_card),
        StageKind("dry", "Dry", "drying", "drying", dry_card),
        StageKind("turn", "Remount and finish-turn", "bench", "to finish-turn", turn_card),
        StageKind("sand", "Sand", "bench", "to sand", sand_card),
        StageKind("coat", "Finish", "coats", "to coat", coat_card),
        StageKind("foot", "Foot", "bench", "foot to turn", foot_card),
        StageKind("sign", "Sign", "bench", "to sign", sign_card),
    )
}


@dataclass(frozen=True, slots=True)
class Way:
    """A way of getting from wood to piece."""

    key: str
    label: str
    stages: tuple[str, ...]
    states: tuple[str, ...]
    why: str


WAYS: dict[str, Way] = {
    w.key: w
    for w in (
        Way(
            "twice-turned",
            "Rough, dry, finish",
            ("rough", "dry", "turn", "sand", "coat", "foot", "sign"),
            ("green", "part-dry"),
            "Rough thick, dry, then turn true: round and stable, months of waiting.",
        ),
        Way(
            "once-green",
            "Once, green",
            ("turn-green", "sand", "foot", "dry", "coat", "sign"),
            ("green",),
            "Straight to a thin even wall; dry in days, and the warp is the charm.",
        ),
        Way(
            "from-dry",
            "From dry wood",
            ("turn-dry", "sand", "coat", "foot", "sign"),
            ("dry", "part-dry"),
            "One visit, no waiting; harder wood and more dust.",
        ),
        Way(
            "bored-branch",
            "Bored branch",
            ("bore", "dry", "turn-dry", "sand", "coat", "foot", "sign"),
            ("green", "part-dry"),
            "The pith bored out, dried in a bag, then turned: whole branches without splits.",
        ),
    )
}


@dataclass(frozen=True, slots=True)
class PlannedStage:
    """A stage of a route: its kind, title and why it is there."""

    kind: str
    title: str
    place: str
    why: Sentence


_WHY: dict[str, str] = {
    "rough": "Green wood cuts easily and a thick even wall dries sound.",
    "bore": "With the pith gone the ring can shrink without splitting.",
    "turn-green": "Thin enough to give way instead of checking.",
    "turn-dry": "Dry wood stays as you leave it.",
    "dry": "It must stop moving before it is made true.",
    "turn": "The oval is trued and brought to its final wall.",
    "sand": "While it still runs true in the chuck.",
    "coat": "Before reversing, so that no finger marks it.",
    "foot": "The hold is no longer needed and comes off.",
    "sign": "Name, wood and year; the care note goes with it.",
}


def default_way(state: str, *, form_key: str) -> str:
    """Return the way most turners take for wood in this state."""
    if state == "dry":
        return "from-dry"
    return "once-green" if form_key == "natural-edge-bowl" else "twice-turned"


def plan_route(facts: PieceFacts, *, bench: Bench) -> tuple[PlannedStage, ...]:
    """Return the ordered stages of a piece.

    Parameters
    ----------
    facts : PieceFacts
        Form, wood, state, sizes and way.
    bench : Bench
        The workshop; the blank must clear its lathe.

    Returns
    -------
    stages : tuple of PlannedStage
        In the order of the work.

    Raises
    ------
    Unknown
        For an unknown way.
    Impossible
        If the way does not suit the wood's state, or the blank does not clear the lathe.

    References
    ----------
    .. [common-practice] orders of work of the four ways.
    """
    if facts.way not in WAYS:
        raise Unknown("way", facts.way, list(WAYS))
    way = WAYS[facts.way]
    if facts.state not in way.states:
        raise Impossible(
            "way-needs-other-wood",
            "way",
            "{way} wants wood that is {states}; this is {state}.",
            {"way": way.label, "states": " or ".join(way.states), "state": facts.state},
        )
    swing = bench.lathe.swing_mm
    if facts.diameter_mm * facts.swing_share > swing:
        raise Impossible(
            "larger-than-swing",
            "diameter_mm",
            "{diameter_mm} across does not clear the bed of {lathe}: it swings {swing_mm}. "
            "Cut the blank to less than that, or choose another lathe.",
            {"diameter_mm": facts.diameter_mm, "lathe": bench.lathe.name, "swing_mm": swing},
        )
    return tuple(
        PlannedStage(key, STAGES[key].title, STAGES[key].place, say(f"why-{key}", _WHY[key]))
        for key in way.stages
    )


def card_for(kind: str, ask: CardAsk) -> Card:
    """Return the work card of a stage.

    Parameters
    ----------
    kind : str
        A key of ``STAGES``.
    ask : CardAsk
        Piece, bench and what is noted so far.

    Returns
    -------
    card : Card
        Figures with their reasons.

    Raises
    ------
    Unknown
        For an unknown stage.
    CoreError
        If a figure cannot be computed; it says which field would mend it.
    """
    if kind not in STAGES:
        raise Unknown("stage", kind, list(STAGES))
    return STAGES[kind].card(ask)


def record_stage(
    kind: str, ask: CardAsk, notes: dict[str, float | str], *, complete: bool
) -> dict[str, float | str]:
    """Return a stage's notes, checked field by field and against each other.

    Parameters
    ----------
    kind : str
        A key of ``STAGES``.
    ask : CardAsk
        Piece and bench.
    notes : dict
        What was noted.
    complete : bool
        Whether the stage is being marked done.

    Returns
    -------
    notes : dict
        Clean notes.

    Raises
    ------
    CoreError
        Naming the field and what would be right.
    """
    card = card_for(kind, CardAsk(ask.facts, ask.bench))
    fields = tuple(f for f in (*card.inputs, *card.notes) if not f.on_piece)
    clean = check_notes(fields, notes, complete=complete)
    _check_walls(clean)
    oval = [clean.get(n) for n in ("long_mm", "short_mm", "wall_long_mm", "wall_short_mm")]
    if all(isinstance(v, float) for v in oval):
        a, b, c, d = (float(v) for v in oval if v is not None)
        bowl_inside(a, short_mm=b, wall_long_mm=c, wall_short_mm=d, clean_mm=0.5)
    return clean


def _check_walls(notes: dict[str, float | str]) -> None:
    for across, wall in (("outside_diameter_mm", "wall_mm"), ("final_diameter_mm", "final_wall_mm")):
        d, w = notes.get(across), notes.get(wall)
        if isinstance(d, float) and isinstance(w, float) and 2 * w >= d:
            raise Impossible(
                "wall-thicker-than-bowl",
                wall,
                "A wall of {wall_mm} does not fit in {diameter_mm}; it must be less than {most_mm}.",
                {"wall_mm": w, "diameter_mm": d, "most_mm": d / 2.0},
            )
    height = notes.get("height_mm", notes.get("final_height_mm"))
    bottom = notes.get("bottom_mm")
    if isinstance(height, float) and isinstance(bottom, float) and bottom >= height:
        raise Impossible(
            "bottom-thicker-than-height",
            "bottom_mm",
            "A bottom of {bottom_mm} does not fit in a height of {height_mm}.",
            {"bottom_mm": bottom, "height_mm": height},
        )

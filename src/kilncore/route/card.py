"""What a work card carries: what to set, what to aim at, why, what to watch, what to note."""

from dataclasses import dataclass, field

from kilncore.bench import Bench
from kilncore.errors import Impossible, OutOfRange, Unknown
from kilncore.route.facts import PieceFacts
from kilncore.rules.direction import Directions
from kilncore.rules.finish import Schedule
from kilncore.rules.hold import ChainLink, Hold
from kilncore.rules.rulebook import Verdict
from kilncore.rules.sanding import Ladder
from kilncore.rules.wall import Inside
from kilncore.said import Caution, Figure, Sentence

__all__ = ["Card", "CardAsk", "Drawing", "HoldChoice", "NoteField", "SchoolChoice", "check_notes"]

Path = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class NoteField:
    """Something to note or to answer at a stage.

    kind: number, choice or text. ``on_piece`` fields change the piece's own facts.
    """

    name: str
    label: str
    kind: str = "number"
    value: float | str | None = None
    low: float | None = None
    high: float | None = None
    choices: tuple[tuple[str, str], ...] = ()
    required: bool = False
    on_piece: bool = False
    before: bool = False

    def __post_init__(self) -> None:
        if isinstance(self.value, int):
            object.__setattr__(self, "value", float(self.value))


@dataclass(frozen=True, slots=True)
class HoldChoice:
    """The candidates for one moment of the job."""

    moment: str
    label: str
    holds: tuple[Hold, ...]


@dataclass(frozen=True, slots=True)
class SchoolChoice:
    """A question with several schools, the house way first."""

    question: str
    name: str
    verdicts: tuple[Verdict, ...]


@dataclass(frozen=True, slots=True)
class Drawing:
    """A half section in mm: paths of (r, z) and what to measure on it."""

    outer: Path
    inner: Path
    blank_radius_mm: float
    blank_height_mm: float
    dimensions: tuple[Figure, ...]
    tenon_radius_mm: float | None = None
    tenon_length_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Card:
    """A work card. ``done_when`` says what marks the stage as finished."""

    kind: str
    title: str
    aim: Sentence
    inputs: tuple[NoteField, ...] = ()
    figures: tuple[Figure, ...] = ()
    holds: tuple[HoldChoice, ...] = ()
    chain: tuple[ChainLink, ...] = ()
    schools: tuple[SchoolChoice, ...] = ()
    steps: tuple[Sentence, ...] = ()
    cautions: tuple[Caution, ...] = ()
    drawing: Drawing | None = None
    directions: Directions | None = None
    inside: Inside | None = None
    ladder: Ladder | None = None
    schedule: Schedule | None = None
    notes: tuple[NoteField, ...] = ()


@dataclass(frozen=True, slots=True)
class CardAsk:
    """Everything a card is computed from."""

    facts: PieceFacts
    bench: Bench
    notes: dict[str, float | str] = field(default_factory=dict)

    def number(self, name: str) -> float | None:
        """A number already noted at this stage, or None."""
        value = self.notes.get(name)
        return float(value) if isinstance(value, int | float) else None

    def word(self, name: str, default: str) -> str:
        """A word already noted at this stage."""
        value = self.notes.get(name)
        return value if isinstance(value, str) and value else default


def check_notes(
    fields: tuple[NoteField, ...], notes: dict[str, float | str], *, complete: bool
) -> dict[str, float | str]:
    """Return the notes checked against their fields.

    Parameters
    ----------
    fields : tuple of NoteField
        What the stage may note.
    notes : dict
        Name to number or word.
    complete : bool
        Whether required fields must be there.

    Returns
    -------
    notes : dict
        The same, without empty words.

    Raises
    ------
    Unknown
        For a field the stage does not have, or a choice it does not offer.
    OutOfRange
        For a number outside the field's range.
    Impossible
        For a word where a number belongs, or a missing required field.
    """
    known = {f.name: f for f in fields}
    clean: dict[str, float | str] = {}
    for name, value in notes.items():
        if name not in known:
            raise Unknown(name, name, list(known))
        if value == "" or value is None:
            continue
        clean[name] = _checked(known[name], value)
    missing = [f for f in fields if complete and f.required and f.name not in clean]
    if missing:
        raise Impossible(
            "missing", missing[0].name, "{label} is still to be noted.", {"label": missing[0].label}
        )
    return clean


def _checked(spec: NoteField, value: float | str) -> float | str:
    if spec.kind == "number":
        if isinstance(value, (str, bool)):
            raise Impossible("not-a-number", spec.name, "{label} wants a number.", {"label": spec.label})
        low = spec.low if spec.low is not None else 0.0
        high = spec.high if spec.high is not None else 1e6
        if not low <= value <= high:
            raise OutOfRange(spec.name, value, low, high)
        return float(value)
    if not isinstance(value, str):
        raise Impossible("not-a-word", spec.name, "{label} wants words.", {"label": spec.label})
    if spec.choices and value not in dict(spec.choices):
        raise Unknown(spec.name, value, [key for key, _ in spec.choices])
    return value[:400]

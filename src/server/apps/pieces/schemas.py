"""Shapes of pieces."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from kilncore.said import Sentence
from server.api.shapes import Input, Length, Line, Tag, When
from server.apps.yard.schemas import SawIn, SpotIn

Key = Annotated[Line, Field(max_length=40)]
Condition = Literal["barky", "cracked", "punky"]


class PieceIn(Input):
    """A new piece; what is left out is chosen sensibly."""

    species: Key = "unknown-hardwood"
    form: Key = "side-grain-bowl"
    state: Key = "green"
    way: Key | None = None
    diameter_mm: Length
    height_mm: Length
    finish_diameter_mm: Length | None = None
    finish_wall_mm: Length = 6.0
    purpose: Key = "food"
    conditions: list[Condition] = Field(default=[], max_length=3)
    pith_mm: Length | None = None
    name: Annotated[Line, Field(max_length=80)] = ""
    tag: Tag | None = None
    log_id: Annotated[int, Field(ge=1, le=2**53)] | None = None


class CutIn(Input):
    """Spots of a log to cut now."""

    log_id: Annotated[int, Field(ge=1, le=2**53)]
    saw: SawIn = SawIn()
    spots: Annotated[list[SpotIn], Field(min_length=1, max_length=60)]


class CutOut(Schema):
    """Tags of the new pieces, in the order of the spots."""

    tags: list[str]


class Kin(Schema):
    """A relative of a piece."""

    tag: str
    name: str
    stage_title: str


class LineageOut(Schema):
    """Log, blank, the pieces it was cut from (nearest first), and the parts cut from it."""

    log_id: int | None
    log_number: int | None
    log_species: str | None
    blank_number: int | None
    blank_cut: str | None
    blank_words: str | None
    ancestors: list[Kin]
    parts: list[Kin]
    same_log: list[Kin]


class PieceChange(Input):
    """What to change of a piece."""

    species: Key | None = None
    way: Key | None = None
    diameter_mm: Length | None = None
    height_mm: Length | None = None
    finish_diameter_mm: Length | None = None
    finish_wall_mm: Length | None = None
    purpose: Key | None = None
    pith_mm: Length | None = None
    name: Annotated[Line, Field(max_length=80)] | None = None
    tag: Tag | None = None


class StageOut(Schema):
    """A stage of a route."""

    kind: str
    title: str
    place: str
    state: str
    why: Sentence
    done_at: datetime | None
    notes: dict[str, Any]


class CoatOut(Schema):
    """A coat that was given."""

    number: int
    what: str
    given_at: datetime


class PieceRow(Schema):
    """A piece in a list."""

    tag: str
    name: str
    species: str
    species_name: str
    form: str
    form_label: str
    family: str
    way: str
    diameter_mm: float
    height_mm: float
    finish_diameter_mm: float
    finished_at: datetime | None
    stage: str
    stage_title: str


class PieceOut(PieceRow):
    """A piece and its route."""

    way_label: str
    state: str
    finish_wall_mm: float
    purpose: str
    conditions: list[str]
    pith_mm: float | None
    log_number: int | None
    begun_at: datetime
    stages: list[StageOut]
    coats: list[CoatOut]


class EventOut(Schema):
    """Something that happened."""

    at: datetime
    verb: str
    words: str
    data: dict[str, Any]


class FormOptions(Schema):
    """What a new piece may be, for the form."""

    class Option(Schema):
        """One choice."""

        key: str
        label: str
        note: str = ""
        states: list[str] = []

    species: list[Option]
    forms: list[Option]
    states: list[Option]
    ways: list[Option]
    purposes: list[Option]
    free_tag: str
    silhouettes: dict[str, list[tuple[float, float]]]


class Suggestion(Schema):
    """What the planner would choose."""

    finish_diameter_mm: float
    way: str
    stages: list[StageOut]


class CoatGiven(Input):
    """When the coat was given; now if left out."""

    at: When | None = None

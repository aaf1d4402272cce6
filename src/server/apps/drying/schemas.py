"""Shapes of drying."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from ninja import Schema
from pydantic import Field

from kilncore.drying.forecast import Curve, Now
from kilncore.said import Sentence
from server.api.shapes import Grams, Input, Line, Tag, When

Id = Annotated[int, Field(ge=1, le=2**53)]


class WeighInNew(Input):
    """A weight: sent again with the same key it is stored once."""

    key: UUID
    tag: Tag
    mass_g: Grams
    typed: Annotated[Line, Field(max_length=40)] = ""
    at: When | None = None


class WeighInCorrection(Input):
    """The right figure for a weight, perhaps of another piece."""

    key: UUID
    mass_g: Grams
    typed: Annotated[Line, Field(max_length=40)] = ""
    tag: Tag | None = None


class MoveIn(Input):
    """Where it lies from now on."""

    place_id: Id
    wrap: Annotated[Line, Field(max_length=20)] = "open-shelf"
    ends_sealed: bool = False
    at: When | None = None


class RefreshIn(Input):
    """Which forecasts to bring up to date: at most so many in one go."""

    tags: Annotated[list[Tag], Field(max_length=500)] = []
    most: Annotated[int, Field(ge=1, le=20)] = 4


class WeighInOut(Schema):
    """A weight as it stands."""

    id: int
    tag: str
    at: datetime
    mass_g: float
    typed: str
    state: str
    question: dict[str, Any]
    corrects_id: int | None


class ExpectedOut(Schema):
    """What a tag should weigh now."""

    tag: str
    name: str
    species_name: str
    low_g: float
    mass_g: float
    high_g: float
    last_g: float | None
    last_at: datetime | None


class FloorOut(Schema):
    """A drying piece on the floor."""

    tag: str
    name: str
    species_name: str
    form: str
    family: str
    diameter_mm: float
    height_mm: float
    started_at: datetime
    place: str
    wrap: str
    ends_sealed: bool
    settles_at_pct: float | None
    target_mc_pct: float
    now: Now | None
    ready: bool
    ready_low: datetime | None
    ready_middle: datetime | None
    ready_high: datetime | None
    settled_low: datetime | None
    settled_middle: datetime | None
    settled_high: datetime | None
    never_pct: float
    weigh_at: datetime | None
    last_g: float | None
    last_at: datetime | None
    weighings: int
    questioned: int
    stale: bool
    warnings: list[Sentence]


class StayOut(Schema):
    """Where it lay."""

    place: str
    wrap: str
    wrap_label: str
    ends_sealed: bool
    started_at: datetime
    air_c: float
    rh_pct: float
    emc_pct: float


class DryingOut(Schema):
    """One piece's drying in full."""

    row: FloorOut
    curve: Curve | None
    stays: list[StayOut]
    weigh_ins: list[WeighInOut]
    dry_mass_g: float | None
    rate_factor: float | None
    loss_rule_pct: float
    loss_measured_pct: float | None


class Refreshed(Schema):
    """How many forecasts were computed and how many still wait."""

    computed: int
    waiting: int

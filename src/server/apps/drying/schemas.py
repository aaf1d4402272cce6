"""Shapes of drying."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from ninja import Schema
from pydantic import Field

from kilncore.drying.forecast import Curve, Now
from kilncore.drying.whatif import WayAhead
from kilncore.said import Sentence
from server.api.shapes import Grams, Input, Length, Line, Tag, When

Id = Annotated[int, Field(ge=1, le=2**53)]
Percent = Annotated[float, Field(gt=-1e4, lt=1e4)]
Celsius = Annotated[float, Field(gt=-1e3, lt=1e3)]


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
    step_at: datetime | None
    step_words: Sentence | None


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


class MeterOut(Schema):
    """What the meter showed."""

    at: datetime
    shown_pct: float
    mc_pct: float


class GoOut(Schema):
    """A go in the microwave oven."""

    id: int
    at: datetime
    power_w: float
    seconds: float
    before_g: float
    after_g: float | None


class TurnedOut(Schema):
    """Turned again while drying."""

    at: datetime
    wall_mm: float
    bottom_mm: float
    before_g: float
    after_g: float


class StepOut(Schema):
    """One thing a chosen way asks for."""

    id: int
    due_at: datetime
    kind: str
    words: Sentence
    way: str
    done_at: datetime | None


class ControlOut(Schema):
    """Its control: weights as shares of the first, by days since its drying began."""

    tag: str
    name: str
    wrap: str
    days: list[float]
    share_pct: list[float]
    own_days: list[float]
    own_share_pct: list[float]


class AirStep(Schema):
    """From when on which air it lay or will lie in."""

    start: datetime
    emc_pct: float


class SizesIn(Input):
    """Sizes as they really were when drying began; what is left out stays."""

    diameter_mm: Length | None = None
    wall_mm: Length | None = None
    height_mm: Length | None = None
    bottom_mm: Length | None = None


class DryingOut(Schema):
    """One piece's drying in full."""

    row: FloorOut
    curve: Curve | None
    stays: list[StayOut]
    air: list[AirStep]
    species: str
    weigh_ins: list[WeighInOut]
    dry_mass_g: float | None
    rate_factor: float | None
    loss_rule_pct: float
    loss_measured_pct: float | None
    loss_met: bool | None
    meter: list[MeterOut]
    goes: list[GoOut]
    turnings: list[TurnedOut]
    steps: list[StepOut]
    control: ControlOut | None
    wall_mm: float
    bottom_mm: float


class Refreshed(Schema):
    """How many forecasts were computed and how many still wait."""

    computed: int
    waiting: int


class MeterIn(Input):
    """What the meter shows: sent again with the same key it is kept once."""

    key: UUID
    shown_pct: Percent
    at: When | None = None
    wood_c: Celsius | None = None
    corrected: bool = False


class GoIn(Input):
    """A go begun."""

    key: UUID
    power_w: Length
    seconds: Length
    before_g: Grams
    at: When | None = None


class GoDoneIn(Input):
    """What it weighed once cold."""

    after_g: Grams


class TurnedIn(Input):
    """Turned again: the new wall and bottom, weighed before and after."""

    wall_mm: Length
    bottom_mm: Length
    before_g: Grams | None = None
    after_g: Grams
    at: When | None = None


class PartIn(Input):
    """One part of a split piece."""

    tag: Tag | None = None
    name: Annotated[Line, Field(max_length=80)] = ""
    diameter_mm: Length
    height_mm: Length
    wall_mm: Length
    bottom_mm: Length
    mass_g: Grams | None = None


class SplitIn(Input):
    """Parts a piece was split into."""

    parts: Annotated[list[PartIn], Field(max_length=8)]
    at: When | None = None


class SplitOut(Schema):
    """Tags of the parts."""

    tags: list[str]


class WaysOut(Schema):
    """Ways of keeping it, side by side."""

    ways: list[WayAhead]
    chosen: str
    target_mc_pct: float
    place: str
    drying: bool


class ChooseIn(Input):
    """The way to take."""

    way: Annotated[Line, Field(max_length=20)]
    place_id: Id | None = None


class PairIn(Input):
    """The piece this one is the control of; none lets go of it."""

    tag: Tag | None = None


class BulkIn(Input):
    """Many pieces moved, or kept another way; what is left out stays."""

    tags: Annotated[list[Tag], Field(min_length=1, max_length=1000)]
    place_id: Id | None = None
    wrap: Annotated[Line, Field(max_length=20)] | None = None
    ends_sealed: bool | None = None
    at: When | None = None


class BulkOut(Schema):
    """How many were moved."""

    moved: int


class StepIn(Input):
    """Done, or left out."""

    skip: bool = False


class TableIn(Input):
    """A table of weights: its text, which column is which, its unit; kept or only looked at."""

    text: Annotated[str, Field(max_length=6_100_000)]
    mapping: dict[Annotated[Line, Field(max_length=20)], Annotated[Line, Field(max_length=80)]] = {}
    unit: Annotated[Line, Field(max_length=4)] = "g"
    keep: bool = False


class WrongCell(Schema):
    """What is wrong with a cell."""

    column: str
    message: str


class TableRow(Schema):
    """What becomes of a row."""

    line: int
    fate: str
    tag: str
    at: datetime | None
    mass_g: float | None
    wrong: list[WrongCell]
    question: str


class TableColumn(Schema):
    """A column that is wanted."""

    key: str
    label: str
    required: bool


class TableOut(Schema):
    """What an import would do, or did."""

    header: list[str]
    columns: list[TableColumn]
    mapping: dict[str, str]
    rows: list[TableRow]
    more: int
    new: int
    known: int
    questioned: int
    wrong: int
    kept: bool


class ScaleOut(Schema):
    """What the scale shows."""

    mass_g: float | None
    state: str
    words: str


class MeterShown(Schema):
    """What the moisture meter shows."""

    shown_pct: float | None
    state: str
    words: str

"""Shapes of the yard."""

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from kilncore.logs.cutting import Mark
from kilncore.logs.identify import Guess, Sign
from kilncore.logs.keeping import Keeping
from kilncore.logs.outline import Balance
from kilncore.logs.resin import ResinPlan
from kilncore.said import Sentence
from kilncore.wood.species import Known
from server.api.shapes import Input, Length, Line

Key = Annotated[Line, Field(max_length=40)]
Angle = Annotated[float, Field(ge=-3600, le=3600)]


class LogFields(Input):
    """What may be known of a log; all but the wood may be unknown."""

    species: Key
    origin: Annotated[Line, Field(max_length=120)] = ""
    felled_on: date | None = None
    length_mm: Length | None = None
    diameter_mm: Length | None = None
    pith_offset_mm: Length | None = None
    cracked: bool = False
    ends_sealed: bool = False
    lies_at: Annotated[Line, Field(max_length=80)] = ""
    note: Line = ""
    tried: dict[Key, Key] = {}
    large_wide_mm: Length | None = None
    large_tall_mm: Length | None = None
    small_wide_mm: Length | None = None
    small_tall_mm: Length | None = None
    bark_mm: Length | None = None
    pith_angle_deg: Angle = 90.0
    pith_small_offset_mm: Length | None = None
    pith_small_angle_deg: Angle | None = None
    rot: bool = False
    insects: bool = False
    nails: bool = False
    sealed_on: date | None = None
    trim_start_mm: Length = 30.0
    trim_end_mm: Length = 30.0


class LogChange(LogFields):
    """What to change of a log; only what is sent is changed."""

    species: Key = ""
    gone_on: date | None = None


class BlankOut(Schema):
    """A blank that was cut, and the pieces it became."""

    number: int
    cut: str
    form: str
    diameter_mm: float
    height_mm: float
    pith_mm: float
    holds_pith: bool
    start_mm: float
    length_mm: float
    end: list[tuple[float, float]]
    cut_at: datetime
    pieces: list[str]


class PhotoOut(Schema):
    """A picture of a log."""

    id: int
    url: str
    width: int
    height: int


class LogOut(LogFields):
    """A log, how far it has gone, and what came of it."""

    id: int
    number: int
    species_name: str
    days_since_felled: int | None
    gone_on: date | None
    keeping: Keeping | None
    left_mm: float | None
    pieces: int
    measured: bool


class LogDetail(LogOut):
    """A log in full."""

    blanks: list[BlankOut]
    photos: list[PhotoOut]
    large_end: "EndOut | None"
    small_end: "EndOut | None"
    plan_wants: list["WantIn"]
    has_plan: bool


class EndOut(Schema):
    """An end as drawn: half width and height under bark, bark, pith from the middle."""

    a_mm: float
    b_mm: float
    bark_mm: float
    pith: tuple[float, float]


class SpeciesOut(Schema):
    """A species with its figures and their spread."""

    key: str
    common: str
    botanical: str
    kind: str
    gb: Known
    green_mc_pct: Known
    shrink_radial_pct: Known
    shrink_tangential_pct: Known
    hazards: list[str]
    traits: list[str]
    source: str
    is_wild: bool


class SignsOut(Schema):
    """What to look for."""

    signs: list[Sign]


class WhichIn(Input):
    """What was seen, by sign."""

    tried: dict[Key, Key] = {}


class SawIn(Input):
    """Kerf, trims and habits."""

    kerf_mm: Length = 8.0
    trim_mm: Length = 10.0
    depth_share: Annotated[float, Field(ge=0, le=5)] = 0.42
    bit_mm: Length = 32.0


class WantIn(Input):
    """So many of a form and width."""

    form: Literal["side-grain-bowl", "natural-edge-bowl", "end-grain-vase"] = "side-grain-bowl"
    diameter_mm: Length
    count: Annotated[int, Field(ge=1, le=50)] = 1
    height_mm: Length | None = None


class SpotIn(Input):
    """Where a blank lies, as the turner put it."""

    id: Annotated[Line, Field(max_length=12)]
    cut: Key
    start_mm: Length
    length_mm: Length
    angle_deg: Angle = 90.0
    face_mm: Length = 0.0
    shift_mm: Length | None = None
    wanted_mm: Length | None = None
    height_mm: Length | None = None
    locked: bool = False


class LayoutsIn(Input):
    """What is wanted, and with which saw."""

    saw: SawIn = SawIn()
    wants: Annotated[list[WantIn], Field(max_length=12)] = []


class TrialIn(Input):
    """A layout of the turner's own."""

    saw: SawIn = SawIn()
    spots: Annotated[list[SpotIn], Field(max_length=60)]
    wants: Annotated[list[WantIn], Field(max_length=12)] = []


class SpotOut(Schema):
    """Where a blank lies."""

    id: str
    cut: str
    start_mm: float
    length_mm: float
    angle_deg: float
    face_mm: float
    shift_mm: float | None
    wanted_mm: float | None
    height_mm: float | None
    locked: bool


class LaidOut(Schema):
    """A blank in a layout."""

    spot: SpotOut
    cut_label: str
    good_for: str
    rim: str
    form: str
    diameter_mm: float
    height_mm: float
    cylinder_mm: float
    pith_mm: float
    holds_pith: bool
    volume_cm3: float
    end: list[tuple[float, float]]
    low_mm: float
    high_mm: float
    rim_low_mm: float | None
    risks: list[Sentence]


class RefusedSpot(Schema):
    """A spot that gives no blank, and why."""

    id: str
    why: Sentence


class LayoutOut(Schema):
    """A layout with its blanks."""

    key: str
    label: str
    blanks: list[LaidOut]
    yield_pct: float
    used_mm: float
    left_mm: float
    why: Sentence
    clashes: list[tuple[str, str]]
    refused: list[RefusedSpot]
    unmet: list[Sentence]


class LayoutsOut(Schema):
    """Layouts side by side, drawn in the log they lie in."""

    layouts: list[LayoutOut]
    saw: SawIn
    start_mm: float
    end_mm: float


class SheetOut(Schema):
    """The cutting sheet: layout, marks in order."""

    layout: LayoutOut
    marks: list[Mark]


class OutlineIn(Input):
    """An outline: corners, a template, or both sizes of one."""

    points: Annotated[list[tuple[Length, Length]], Field(max_length=2000)] = []
    template: Key | None = None
    width_mm: Length = 200.0
    length_mm: Length = 200.0
    thickness_mm: Length = 50.0
    species: Key = "unknown-hardwood"
    mc_pct: Annotated[float, Field(ge=0, le=300)] = 12.0
    plate_mm: Length = 80.0
    own: tuple[Length, Length] | None = None
    title: Annotated[Line, Field(max_length=60)] = "Blank"


class OutlineOut(Schema):
    """The outline and its balance."""

    points: list[tuple[float, float]]
    balance: Balance


class FileIn(Input):
    """A drawing to read an outline from."""

    name: Annotated[Line, Field(max_length=120)]
    text: Annotated[str, Field(max_length=900_000)]


class PointsOut(Schema):
    """Corners read from a file, mm."""

    points: list[tuple[float, float]]


class ResinIn(Input):
    """A void and the resin to fill it."""

    kind: Key = "box"
    length_mm: Length | None = None
    width_mm: Length | None = None
    depth_mm: Length | None = None
    diameter_mm: Length | None = None
    filled_ml: Length | None = None
    loss_pct: Length = 10.0
    ratio_a: Length = 2.0
    ratio_b: Length = 1.0
    by: Key = "weight"
    density_a_kg_m3: Length = 1140.0
    density_b_kg_m3: Length = 1000.0
    layer_mm: Length = 20.0


GuessOut = Guess
ResinOut = ResinPlan

"""Shapes of the lathe side."""

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from kilncore.coring.nest import Nest
from kilncore.said import Caution, Figure, Sentence
from kilncore.solids.depth import DepthRow, ReadingCheck
from kilncore.solids.design import BlankRound
from kilncore.solids.families import Slider
from kilncore.solids.warp import Dried
from server.api.shapes import Input, Length, Line, Tag

Points = list[tuple[float, float]]
Key = Annotated[Line, Field(max_length=40)]
Count = Annotated[int, Field(ge=0, le=10_000)]


class HandleIn(Input):
    """A point the turner holds. [mm]."""

    r_mm: Length
    z_mm: Length
    corner: bool = False


Handles = Annotated[list[HandleIn], Field(max_length=40)]


class DesignIn(Input):
    """A form: handles outside, handles inside or a wall plan, foot."""

    outer: Handles
    inner: Handles = []
    wall: Key = "even"
    wall_mm: Length = 6.0
    bottom_mm: Length = 10.0
    half_mm: Length | None = None
    foot: Literal["none", "tenon", "recess"] = "none"
    foot_mm: Length = 0.0
    foot_length_mm: Length = 0.0


class StockIn(Input):
    """A blank. [mm]."""

    diameter_mm: Length
    height_mm: Length
    orientation: Key = "rim-to-pith"
    pith_mm: Length | None = None
    log_radius_mm: Length | None = None
    bark_mm: Length = 0.0


class ShapeIn(Input):
    """A form to judge: with a piece's wood and blank, or with these."""

    design: DesignIn
    tag: Tag | None = None
    species: Key = "unknown-hardwood"
    mc_pct: Length = 10.0
    stock: StockIn | None = None
    tool_mm: Length = 16.0
    full: bool = True


class MarkOut(Schema):
    """A caution with its place on the section."""

    r_mm: float
    z_mm: float
    caution: Caution


class Largest(Schema):
    """The largest of this form the blank holds."""

    scale: float
    diameter_mm: float
    height_mm: float


class ShapeOut(Schema):
    """A form judged. ``walls_mm`` belongs to the points of ``inner``."""

    outer: Points
    inner: Points
    walls_mm: list[float]
    thin: tuple[float, float, float]
    thick: tuple[float, float, float]
    figures: list[Figure]
    marks: list[MarkOut]
    blank: BlankRound | None
    largest: Largest | None
    swing_mm: float
    readings: list[ReadingCheck]


class FamilyOut(Schema):
    """A family and its sliders."""

    key: str
    label: str
    words: str
    plan: str
    closed: bool
    foot_share: float
    sliders: list[Slider]


class PlanWords(Schema):
    """A wall plan."""

    key: str
    label: str
    why: Sentence


class LatheWords(Schema):
    """What may be chosen on the shape bench."""

    families: list[FamilyOut]
    walls: list[PlanWords]
    orientations: dict[str, str]
    signs: dict[str, str]
    values: dict[str, str]
    felt: dict[str, str]


class FamilyIn(Input):
    """A family's sizes and sliders."""

    family: Key
    width_mm: Length
    height_mm: Length
    foot_mm: Length | None = None
    sliders: Annotated[dict[Annotated[str, Field(max_length=30)], Length], Field(max_length=8)] = {}


class HandlesOut(Schema):
    """Handles of a curve, or of both."""

    outer: list[HandleIn]
    inner: list[HandleIn] = []
    half_mm: float | None = None


class MeasureIn(Input):
    """A height, the diameter outside, and the wall there. [mm]."""

    z_mm: Length
    diameter_mm: Length
    wall_mm: Length


class TraceIn(Input):
    """A traced card: points typed, or an SVG path or DXF drawing; or measures of an existing bowl."""

    kind: Literal["points", "svg", "dxf", "measures"]
    points: Annotated[list[tuple[Length, Length]], Field(max_length=400)] = []
    text: Annotated[str, Field(max_length=1_600_000)] = ""
    measures: Annotated[list[MeasureIn], Field(max_length=60)] = []
    bottom_mm: Length = 10.0
    axis: Literal["left", "right", "middle"] = "left"
    handles: Annotated[int, Field(ge=3, le=20)] = 8


class DepthIn(Input):
    """A form and the step of the depth card."""

    design: DesignIn
    every_mm: Length = 10.0
    set_mm: Length | None = None


class DepthOut(Schema):
    """The depth card."""

    rows: list[DepthRow]
    figures: list[Figure]


class ShapeFileIn(Input):
    """A form to put into a file."""

    design: DesignIn
    kind: Literal["svg", "pdf", "dxf", "stl", "glb"]
    paper: Literal["A4", "Letter"] = "A4"
    title: Annotated[Line, Field(max_length=80)] = ""


class WarpIn(Input):
    """A form, its wood, and how it lay in the log."""

    design: DesignIn
    tag: Tag | None = None
    species: Key = "unknown-hardwood"
    orientation: Key = "rim-to-pith"
    pith_mm: Length = 60.0
    off_mm: Length = 0.0
    mc_pct: Length = 10.0


class WarpOut(Schema):
    """The dried shape, the same with the other side of the log up, and the round bowl left in it."""

    green_mm: float
    dried: Dried
    other: Dried | None
    other_label: str
    label: str
    figures: list[Figure]


class MeshOut(Schema):
    """A mesh green and dried, same triangles; vertices flat as x, y, z in mm."""

    green: list[float]
    dried: list[float]
    triangles: list[int]
    green_pct: float
    dried_pct: float


class FitIn(Input):
    """A shell and what goes into it. [mm]."""

    shell: DesignIn
    piece: DesignIn
    wanted_mm: Length = 0.0


class KerfIn(Input):
    """A kerf placed by hand."""

    knife: Key
    gap_mm: Length
    off_mm: Length = 0.0


class NestIn(Input):
    """What to core. The big bowl is the form given, or a round belly of these sizes."""

    tag: Tag | None = None
    design: DesignIn | None = None
    width_mm: Length | None = None
    height_mm: Length | None = None
    wall_mm: Length | None = None
    bottom_mm: Length | None = None
    least_mm: Length = 100.0
    tenon_mm: Length = 45.0
    value: Key = "diameter"
    price_per_cm: Length = 3.0
    offsets: bool = False
    cuts: Annotated[list[KerfIn], Field(max_length=12)] = []


class NestStart(Schema):
    """What the nest planner starts from."""

    outer: Points
    wall_mm: float
    bottom_mm: float
    knives: list[str]


class NestOut(Schema):
    """A nest placed by hand, judged."""

    nest: Nest
    start: NestStart


class Taken(Schema):
    """Tags of the new pieces, smallest first."""

    tags: list[str]


class ReachIn(Input):
    """A form to be hollowed."""

    design: DesignIn


class DirectionsIn(Input):
    """A form, its grain, and a way inside."""

    design: DesignIn
    grain: Literal["side-grain", "end-grain"] = "side-grain"
    inside: Key = "rim-down"


class SketchIn(Input):
    """A form to keep under a name."""

    name: Annotated[Line, Field(min_length=1, max_length=60)]
    design: DesignIn


class SketchOut(Schema):
    """A form kept."""

    id: int
    name: str
    design: DesignIn
    kept_at: datetime


class DesignOut(Schema):
    """A piece's own form, and what it is judged with."""

    design: DesignIn | None
    species: str
    species_name: str
    mc_pct: float
    grain: str
    form: str
    stock: StockIn
    finish_diameter_mm: float
    finish_wall_mm: float
    callipers: list["CalliperOut"]
    cores: list[str]


class CalliperIn(Input):
    """A wall read at a height. [mm]."""

    z_mm: Length
    wall_mm: Length


class CalliperOut(Schema):
    """A reading kept."""

    id: int
    z_mm: float
    wall_mm: float
    at: datetime


class ChatterIn(Input):
    """It chatters."""

    stage: Key
    sign: Key
    speed_rpm: Length
    overhang_mm: Length | None = None
    bar_mm: Length | None = None
    wall_mm: Length | None = None
    green: bool = False


class SpeedIn(Input):
    """A speed used."""

    tag: Tag | None = None
    stage: Key
    swing_mm: Length
    speed_rpm: Length
    felt: Literal["calm", "hums", "chatters", "sketchy"] = "calm"
    words: Annotated[Line, Field(max_length=200)] = ""


class SpeedOut(Schema):
    """A speed used before."""

    id: int
    tag: str | None
    stage: str
    swing_mm: float
    speed_rpm: float
    felt: str
    words: str
    at: datetime


DesignOut.model_rebuild()

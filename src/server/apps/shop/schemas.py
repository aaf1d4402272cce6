"""Shapes of the shop's answers and input."""

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from kilncore.equipment import Kind
from server.api.shapes import Input, Length, Line

Name = Annotated[Line, Field(min_length=1, max_length=60)]


class Me(Schema):
    """Who is signed in, and whether the demo has a door."""

    signed_in: bool
    name: str = ""
    workshop: str = ""
    is_demo: bool = False
    length: str = "mm"
    mass: str = "g"
    temperature: str = "c"
    theme: str = "light"
    demo_door: bool = False
    has_accounts: bool = False


class SignIn(Input):
    """Name and password."""

    username: Annotated[Line, Field(max_length=150)]
    password: Annotated[str, Field(max_length=200)]


class PreferenceIn(Input):
    """Units and light."""

    length: Literal["mm", "in"] | None = None
    mass: Literal["g", "oz"] | None = None
    temperature: Literal["c", "f"] | None = None
    theme: Literal["light", "dim"] | None = None


class PlaceIn(Input):
    """A place and its air."""

    name: Name
    air_c: Length
    rh_pct: Length
    seasons: dict[Annotated[Line, Field(max_length=10)], tuple[Length, Length]] | None = None
    logger_url: Annotated[Line, Field(max_length=200)] | None = None


class AirSpell(Schema):
    """Steady air from one day to another, and where wood settles in it."""

    start: datetime
    end: datetime
    air_c: float
    rh_pct: float
    emc_pct: float


class ClimateOut(Schema):
    """What is known of a place's air."""

    spells: list[AirSpell]
    readings: int
    first_at: datetime | None
    last_at: datetime | None
    new: int = 0


class AirTableIn(Input):
    """A table of air: its text, which column is which, the unit of its temperatures."""

    text: Annotated[str, Field(max_length=6_100_000)]
    mapping: dict[Annotated[Line, Field(max_length=20)], Annotated[Line, Field(max_length=80)]] = {}
    unit: Annotated[Line, Field(max_length=2)] = "c"
    keep: bool = False


class AirTableRow(Schema):
    """What becomes of a row."""

    class Wrong(Schema):
        """What is wrong with a cell."""

        column: str
        message: str

    line: int
    fate: str
    at: datetime | None
    air_c: float | None
    rh_pct: float | None
    wrong: list[Wrong]


class AirTableOut(Schema):
    """What an import of air would do, or did."""

    class Wanted(Schema):
        """A column that is wanted."""

        key: str
        label: str
        required: bool

    header: list[str]
    columns: list[Wanted]
    mapping: dict[str, str]
    rows: list[AirTableRow]
    more: int
    new: int
    known: int
    wrong: int
    kept: bool


class InstrumentsIn(Input):
    """Where scale and meter are, and what the meter's sheet adds for a wood."""

    scale_url: Annotated[Line, Field(max_length=200)] | None = None
    meter_url: Annotated[Line, Field(max_length=200)] | None = None
    meter_corrections: dict[Annotated[Line, Field(max_length=40)], Length] | None = None


class InstrumentsOut(Schema):
    """Instruments as set up."""

    scale_url: str
    meter_url: str
    meter_corrections: dict[str, float]


class PlaceOut(Schema):
    """A place, its air and where wood settles in it."""

    id: int
    name: str
    air_c: float
    rh_pct: float
    emc_pct: float
    seasons: dict[str, tuple[float, float]]
    logger_url: str
    logged: bool


class LatheIn(Input):
    """A lathe."""

    name: Name
    swing_mm: Length
    min_rpm: Length
    max_rpm: Length
    steps: Annotated[Line, Field(max_length=120)] = ""
    mass_kg: Length | None = None
    power_w: Length | None = None


class LatheOut(Schema):
    """A lathe."""

    id: int
    name: str
    swing_mm: float
    min_rpm: float
    max_rpm: float
    steps: str
    mass_kg: float | None
    power_w: float | None
    is_main: bool


class JawIn(Input):
    """A jaw set: what it closes on, opens into, and how deep it is."""

    name: Name
    tenon_low_mm: Length
    tenon_high_mm: Length
    recess_low_mm: Length
    recess_high_mm: Length
    depth_mm: Length


class PlateIn(Input):
    """A faceplate, expanding jaws or a reversing plate."""

    name: Name
    kind: Literal["faceplate", "expanding-jaws", "reversing-plate"]
    low_mm: Length
    high_mm: Length
    rated_rpm: Length | None = None


class ToolIn(Input):
    """A knife, bar, steady, collet or box of screws; its figures by name."""

    kind: Annotated[Line, Field(max_length=20)]
    name: Name
    sizes: Annotated[dict[Annotated[str, Field(max_length=40)], Length], Field(max_length=12)]


class ToolOut(Schema):
    """A tool."""

    id: int
    kind: str
    name: str
    sizes: dict[str, float]


class JawOut(Schema):
    """A jaw set."""

    id: int
    name: str
    tenon_low_mm: float
    tenon_high_mm: float
    recess_low_mm: float
    recess_high_mm: float
    depth_mm: float


class PlateOut(Schema):
    """A plate."""

    id: int
    name: str
    kind: str
    low_mm: float
    high_mm: float
    rated_rpm: float | None


class WayIn(Input):
    """What to change of the house way."""

    rough_wall: Line | None = None
    second_hold: Line | None = None
    inside: Line | None = None
    handle: Line | None = None
    ladder: Line | None = None
    finish: Line | None = None
    grits: Annotated[Line, Field(max_length=120)] | None = None
    home_c: Length | None = None
    home_rh_pct: Length | None = None
    finish_room_c: Length | None = None
    stop_loss_per_week_pct: Length | None = None
    worm_pilot_mm: Length | None = None
    worm_length_mm: Length | None = None


class WayOut(Schema):
    """The house way."""

    rough_wall: str
    second_hold: str
    inside: str
    handle: str
    ladder: str
    finish: str
    grits: str
    home_c: float
    home_rh_pct: float
    finish_room_c: float
    stop_loss_per_week_pct: float


class Choice(Schema):
    """A key and what it is called."""

    key: str
    label: str
    note: str = ""


class ShopOut(Schema):
    """The whole shop."""

    name: str
    way: WayOut
    lathes: list[LatheOut]
    jaws: list[JawOut]
    plates: list[PlateOut]
    tools: list[ToolOut]
    tool_kinds: list[Kind]
    places: list[PlaceOut]
    worm_pilot_mm: float | None
    worm_length_mm: float | None
    finishes: list[Choice]
    wraps: list[Choice]
    seasons: list[Choice]
    instruments: InstrumentsOut

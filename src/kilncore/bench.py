"""What the workshop owns and how it likes to work: lathes, jaws, plates, house way."""

from dataclasses import dataclass, field

from kilncore.coring.cut import Knife
from kilncore.equipment import Bar, Tool
from kilncore.errors import Impossible, require_range

__all__ = ["Bench", "HoldingPlate", "HouseWay", "JawSet", "Lathe", "WormScrew"]


@dataclass(frozen=True, slots=True)
class Lathe:
    """A lathe: swing over the bed, speed range, fixed steps where it has pulleys."""

    name: str
    swing_mm: float
    min_rpm: float
    max_rpm: float
    steps_rpm: tuple[float, ...] = ()
    mass_kg: float | None = None
    power_w: float | None = None

    def __post_init__(self) -> None:
        require_range("swing_mm", self.swing_mm, 100.0, 1500.0)
        require_range("min_rpm", self.min_rpm, 0.0, 4000.0)
        require_range("max_rpm", self.max_rpm, 200.0, 6000.0)
        if self.min_rpm >= self.max_rpm:
            raise Impossible(
                "speed-range-empty",
                "min_rpm",
                "The slowest speed ({min_rpm}) must lie below the fastest ({max_rpm}).",
                {"min_rpm": self.min_rpm, "max_rpm": self.max_rpm},
            )

    def at_most(self, rpm: float) -> float | None:
        """Return the fastest speed it can run at, not above ``rpm``; None if none is so slow."""
        if self.steps_rpm:
            slow_enough = [s for s in self.steps_rpm if s <= rpm]
            return max(slow_enough) if slow_enough else None
        if rpm < self.min_rpm:
            return None
        return min(self.max_rpm, rpm - rpm % 10.0 if rpm >= self.min_rpm + 10.0 else rpm)


@dataclass(frozen=True, slots=True)
class JawSet:
    """Chuck jaws: what they close on (tenon) and open into (recess), and how deep."""

    name: str
    tenon_low_mm: float
    tenon_high_mm: float
    recess_low_mm: float
    recess_high_mm: float
    depth_mm: float

    @property
    def sweet_mm(self) -> float:
        """Diameter near closed, where the jaws touch all round."""
        return self.tenon_low_mm + 0.3 * (self.tenon_high_mm - self.tenon_low_mm)


@dataclass(frozen=True, slots=True)
class WormScrew:
    """A worm screw held in the chuck."""

    diameter_mm: float = 10.0
    pilot_mm: float = 8.0
    length_mm: float = 35.0


@dataclass(frozen=True, slots=True)
class HoldingPlate:
    """A rim-holding plate: kind is expanding-jaws, reversing-plate or faceplate."""

    name: str
    kind: str
    low_mm: float
    high_mm: float
    rated_rpm: float | None = None


@dataclass(frozen=True, slots=True)
class HouseWay:
    """Where turners disagree, what this workshop does."""

    rough_wall: str = "tenth"  # tenth, computed
    second_hold: str = "tenon"  # tenon, recess
    inside: str = "rim-down"  # rim-down, centre-out
    handle: str = "four"  # four, five times the overhang
    ladder: str = "long"  # long, short-paste
    finish: str = "hard-wax-oil"
    home_c: float = 20.0
    home_rh_pct: float = 50.0
    finish_room_c: float = 18.0
    stop_loss_per_week_pct: float = 0.3


@dataclass(frozen=True, slots=True)
class Bench:
    """Everything a work card needs to know of the workshop."""

    lathe: Lathe
    jaws: tuple[JawSet, ...] = ()
    worm: WormScrew | None = None
    plates: tuple[HoldingPlate, ...] = ()
    grits: tuple[int, ...] = (80, 120, 180, 240, 320, 400, 600)
    way: HouseWay = field(default_factory=HouseWay)
    tools: tuple[Tool, ...] = ()

    def tools_of(self, kind: str) -> tuple[Tool, ...]:
        """The tools of one kind."""
        return tuple(t for t in self.tools if t.kind == kind)

    @property
    def knives(self) -> tuple[Knife, ...]:
        """Coring knives."""
        return tuple(t.knife() for t in self.tools_of("coring-knife"))

    @property
    def bars(self) -> tuple[Bar, ...]:
        """Hollowing bars."""
        return tuple(Bar(t.name, **t.sizes) for t in self.tools_of("bar"))

    def plates_of(self, kind: str) -> tuple[HoldingPlate, ...]:
        """The plates of one kind."""
        return tuple(p for p in self.plates if p.kind == kind)

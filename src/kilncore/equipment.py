"""Kinds of tools a workshop may own beyond lathe, jaws and plates, and what is measured of each."""

from dataclasses import dataclass, field

from kilncore.coring.cut import Knife
from kilncore.errors import Impossible, Unknown, require_range

__all__ = ["KINDS", "Bar", "Kind", "Measure", "Tool"]


@dataclass(frozen=True, slots=True)
class Measure:
    """One figure of a tool: its name ends in its unit."""

    name: str
    label: str
    low: float
    high: float
    usual: float


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of tool."""

    key: str
    label: str
    words: str
    measures: tuple[Measure, ...]


KINDS: dict[str, Kind] = {
    k.key: k
    for k in (
        Kind("coring-knife", "Coring knife", "A curved knife that swings round a post and frees a smaller bowl.", (
            Measure("radius_mm", "Radius, middle of the blade", 30.0, 500.0, 120.0),
            Measure("kerf_mm", "Width it cuts", 2.0, 25.0, 7.0),
            Measure("reach_mm", "Reach along its arc", 20.0, 1500.0, 190.0),
            Measure("clear_mm", "Pivot off the face, at least", 0.0, 200.0, 20.0))),
        Kind("bar", "Hollowing bar", "A bar with a small cutter; a swan neck reaches round the shoulder.", (
            Measure("diameter_mm", "Thickness", 4.0, 50.0, 16.0),
            Measure("length_mm", "Length out of the handle", 50.0, 1500.0, 350.0),
            Measure("handle_mm", "Length of the handle", 50.0, 1500.0, 600.0),
            Measure("hook_mm", "Tip beside the bar's line", 0.0, 120.0, 0.0),
            Measure("neck_mm", "Length of the bent part", 0.0, 200.0, 0.0))),
        Kind("steady", "Steady rest", "Wheels that carry long work behind the cut.", (
            Measure("low_mm", "Smallest it takes", 10.0, 1000.0, 40.0),
            Measure("high_mm", "Largest it takes", 20.0, 1500.0, 220.0))),
        Kind("collet", "Collet", "Closes all round on a turned spigot or a waste block.", (
            Measure("bore_mm", "Closes on", 5.0, 120.0, 38.0),
            Measure("depth_mm", "Depth", 5.0, 120.0, 25.0))),
        Kind("screws", "Wood screws", "For faceplates; thick and tough, never drywall screws.", (
            Measure("diameter_mm", "Shank", 2.0, 12.0, 5.0),
            Measure("length_mm", "Length", 10.0, 150.0, 40.0))),
    )
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Tool:
    """A tool of the shop with its figures by name."""

    kind: str
    name: str
    sizes: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise Unknown("kind", self.kind, list(KINDS))
        measures = KINDS[self.kind].measures
        for name in self.sizes:
            if name not in {m.name for m in measures}:
                raise Unknown(name, name, [m.name for m in measures])
        for m in measures:
            if m.name not in self.sizes:
                raise Impossible("missing", m.name, "{label} is still to be filled in.", {"label": m.label})
            require_range(m.name, self.sizes[m.name], m.low, m.high)
        if self.kind == "steady" and self.sizes["low_mm"] >= self.sizes["high_mm"]:
            raise Impossible("range-empty", "low_mm", "The smallest must lie below the largest.")
        if self.kind == "coring-knife":
            self.knife()

    def knife(self) -> Knife:
        """Return a coring knife as the nest planner takes it."""
        return Knife(self.name, self.name, **self.sizes)


@dataclass(frozen=True, slots=True)
class Bar:
    """A hollowing bar; ``hook_mm`` is nought for a straight one. [mm]."""

    name: str
    diameter_mm: float
    length_mm: float
    handle_mm: float
    hook_mm: float = 0.0
    neck_mm: float = 0.0
